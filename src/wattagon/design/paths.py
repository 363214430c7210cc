"""Paths into the design, such as vehicle.tyre_diameter or variant.pack.series; and edits made of them."""

from __future__ import annotations

import difflib
import sys
from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Any

from wattagon.design import codec, gate
from wattagon.design.quantity import Known, Quantity, Spec
from wattagon.design.tree import AMOUNT_DIMENSION, Design, Goal
from wattagon.errors import InputError, PathError
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Edit:
    """A named, reversible change: values by path.  Edits of one drag share a gesture and become one undo step."""

    label: str
    changes: tuple[tuple[str, Any], ...]
    gesture: int = -1


@record(frozen=True, slots=True, kw_only=True)
class Place:
    """What a path leads to: its type and specification, and the present value (None where nothing is set)."""

    path: str
    type: Any
    optional: bool
    spec: Spec | None
    value: Any


def _segments(design: Design, path: str) -> list[str]:
    parts = path.strip().split(".")
    if parts and parts[0] == "variant":
        parts = ["variants", design.variant().id, *parts[1:]]
    return [name for name in parts if name != "overrides"]  # a part's value is reached with the word or without it


def _part_of(node: Any) -> type | None:
    """The record whose numbers a choice of a part may override."""
    item = codec.member(type(node), "overrides") if codec.dataclasses.is_dataclass(node) else None
    return item.part if item is not None else None


def place(design: Design, path: str) -> Place:
    """Resolve a path.  Raises PathError with near matches when it leads nowhere."""
    node: Any = design
    found: Place | None = None
    for name in _segments(design, path):
        found = _step(node, name, path)
        if found is None:
            raise PathError(_nowhere(design, path))
        node = found.value
    if found is None:
        raise PathError(_nowhere(design, path))
    return found


def _step(node: Any, name: str, path: str) -> Place | None:
    if isinstance(node, tuple):
        index = _index(node, name)
        return None if index is None else Place(path=path, type=type(node[index]), optional=False, spec=None, value=node[index])
    if isinstance(node, Mapping):
        return None
    item = codec.member(type(node), name) if codec.dataclasses.is_dataclass(node) else None
    if item is not None and name != "overrides":
        spec = item.spec
        if isinstance(node, Goal) and name == "amount" and spec is not None:
            spec = replace(spec, dimension=AMOUNT_DIMENSION.get(node.kind, "number"))
        return Place(path=path, type=item.type, optional=item.optional, spec=spec, value=getattr(node, name))
    part_cls = _part_of(node)
    part_item = codec.member(part_cls, name) if part_cls else None
    if part_cls is not None and part_item is not None and name in codec.overridable(part_cls):
        return Place(path=path, type=Quantity, optional=True, spec=part_item.spec, value=node.overrides.get(name))
    return None


def _index(items: tuple[Any, ...], name: str) -> int | None:
    for k, item in enumerate(items):
        if name == (getattr(item, "id", None) or getattr(item, "part", None)):
            return k
    if name.isascii() and name.isdigit() and len(name) < 7 and int(name) < len(items):
        return int(name)
    return None


def get(design: Design, path: str) -> Any:
    """The value at a path."""
    return place(design, path).value


def put(design: Design, path: str, value: Any) -> Design:
    """A design with one value changed; a plain number for a Quantity keeps its note and is taken as stated by the user.

    Raises PathError for a path that leads nowhere, InputError for a value outside its bounds; the design is untouched.
    """
    after = _put(design, path, value)
    gate.hold(design, after)
    return after


def _put(design: Design, path: str, value: Any) -> Design:
    target = place(design, path)
    if target.type is Quantity and isinstance(value, (int, float)) and not isinstance(value, bool):
        if not abs(value) <= sys.float_info.max:
            raise InputError(path, f"{value!r:.40}", target.spec.accepted() if target.spec else "a finite number")
        value = Quantity(value=float(value), known=Known.STATED)
    item = codec.Member(name=path, type=target.type, optional=target.optional, required=True, spec=target.spec, default=None)
    value = codec.gated(item, value, target.value, path)
    return _rebuilt(design, _segments(design, path), value, path)


def _rebuilt(node: Any, names: list[str], value: Any, path: str) -> Any:
    if not names:
        return value
    name, rest = names[0], names[1:]
    if isinstance(node, tuple):
        index = _index(node, name)
        assert index is not None
        return (*node[:index], _rebuilt(node[index], rest, value, path), *node[index + 1 :])
    try:
        if codec.member(type(node), name) is not None:
            return replace(node, **{name: _rebuilt(getattr(node, name), rest, value, path)})
        overrides = {key: kept for key, kept in node.overrides.items() if key != name}
        if value is not None:
            overrides[name] = value
        return replace(node, overrides=overrides)
    except InputError as refusal:
        raise InputError(refusal.field, refusal.value, refusal.accepted) from None


def apply(design: Design, edit: Edit) -> Design:
    """The design after an edit; raises and leaves everything as it was when any part of it is refused."""
    before = design
    for path, value in edit.changes:
        design = _put(design, path, value)
    gate.hold(before, design)
    return design


def every_path(design: Design) -> Iterator[str]:
    """All paths that lead to a single value, for near matches and completion; the active variant as `variant`."""
    active = design.variant().id

    def walk(node: Any, prefix: str) -> Iterator[str]:
        if isinstance(node, tuple):
            for k, item in enumerate(node):
                if not codec.dataclasses.is_dataclass(item):
                    yield prefix  # a list of words is one value
                    return
                yield from walk(item, f"{prefix}.{getattr(item, 'id', k)}")
            return
        for item in codec.members(type(node)):
            if item.name == "overrides":
                assert item.part is not None
                for name in codec.overridable(item.part):
                    if codec.member(type(node), name) is None:
                        yield f"{prefix}.{name}"
                continue
            inner = getattr(node, item.name)
            where = f"{prefix}.{item.name}" if prefix else item.name
            if isinstance(inner, tuple) or (codec.dataclasses.is_dataclass(inner) and not isinstance(inner, Quantity)):
                yield from walk(inner, where)
            else:
                yield where

    for path in walk(design, ""):
        yield path.replace(f"variants.{active}.", "variant.", 1) if path.startswith(f"variants.{active}.") else path


def _nowhere(design: Design, path: str) -> str:
    paths = list(every_path(design))
    near = difflib.get_close_matches(path, paths, n=3, cutoff=0.5) if "." in path else []
    if not near:
        tail = path.rsplit(".", 1)[-1]
        # the active variant last, so that its paths win
        ends = {p.rsplit(".", 1)[-1]: p for p in sorted(paths, key=lambda p: p.startswith("variant."))}
        near = [ends[name] for name in difflib.get_close_matches(tail, ends, n=3, cutoff=0.5)]
    return f"{path} leads nowhere in this design" + (f"; near: {', '.join(near)}" if near else "")
