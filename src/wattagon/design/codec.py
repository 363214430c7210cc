"""Records to JSON values and back: typed, bounded, unknown fields kept, every refusal naming the field's path."""

from __future__ import annotations

import dataclasses
import functools
import sys
import types
import typing
from collections.abc import Mapping
from enum import StrEnum
from typing import Any, TypeVar, cast

from wattagon.design.quantity import Quantity, Spec
from wattagon.errors import InputError
from wattagon.record import record

T = TypeVar("T")
MOST_NAMES = 400  # of an object whose keys are names of its own
Json = Any


@record(frozen=True, slots=True)
class Member:
    """One field of a record as the codec sees it."""

    name: str
    type: Any
    optional: bool
    required: bool
    spec: Spec | None
    default: Any
    part: type | None = None  # of a field with values of a part: the part's record, which names and bounds them
    row_only: bool = False  # of a part: says something of the stock and nothing of the piece that is fitted


def members(cls: Any) -> tuple[Member, ...]:
    """Fields of a record class in order, `extra` left out."""
    found = _MEMBERS.get(cls)
    if found is None:
        found = _MEMBERS[cls] = _members(cls)
    return found


_MEMBERS: dict[type, tuple[Member, ...]] = {}


@functools.cache
def _hint(text: str, module: str) -> Any:
    """What an annotation means where it was written; many fields share one."""
    return eval(text, vars(sys.modules[module]))


TAG = "is"  # key of an object that says which record of a union it is


@record(frozen=True, slots=True)
class Tagged:
    """A union of records: an object says by its tag which it is."""

    kinds: tuple[type, ...]

    def of(self, data: Json, path: str) -> type:
        """The record that an object is of.  Raises InputError naming the tags."""
        tag = data.get(TAG) if isinstance(data, Mapping) else None
        for kind in self.kinds:
            if kind.tag == tag:  # type: ignore[attr-defined]
                return kind
        raise InputError(f"{path}.{TAG}", _shown(tag), ", ".join(kind.tag for kind in self.kinds))  # type: ignore[attr-defined]


def tagged(kinds: tuple[type, ...], where: str) -> Tagged:
    """A union that can be read.  Raises TypeError for one that could not: its members need a `tag`, each its own."""
    tags = [getattr(kind, "tag", None) for kind in kinds]
    if None in tags or len(set(tags)) < len(tags):
        raise TypeError(f"{where} is a union of {', '.join(kind.__name__ for kind in kinds)}; each needs a tag of its own")
    return Tagged(kinds)


def _members(cls: Any) -> tuple[Member, ...]:
    found = []
    for item in dataclasses.fields(cls):
        if item.name == "extra":
            continue
        hint, optional = _hint(cast(str, item.type), cls.__module__), False
        if typing.get_origin(hint) in (typing.Union, types.UnionType):
            parts = [part for part in typing.get_args(hint) if part is not type(None)]
            optional = len(parts) < len(typing.get_args(hint))
            hint = parts[0] if len(parts) == 1 else tagged(tuple(parts), f"{cls.__name__}.{item.name}")
        elif typing.get_origin(hint) is tuple and typing.get_origin(typing.get_args(hint)[0]) in (typing.Union, types.UnionType):
            hint = tuple[tagged(typing.get_args(typing.get_args(hint)[0]), f"{cls.__name__}.{item.name}"), ...]  # type: ignore[misc]
        required = item.default is dataclasses.MISSING and item.default_factory is dataclasses.MISSING
        default = None
        if item.default is not dataclasses.MISSING:
            default = item.default
        elif item.default_factory is not dataclasses.MISSING:
            default = item.default_factory()
        bounds = item.metadata.get("spec")
        if bounds is not None and hint is int:
            bounds = dataclasses.replace(bounds, whole=True)
        found.append(
            Member(
                name=item.name,
                type=hint,
                optional=optional,
                required=required,
                spec=bounds,
                default=default,
                part=item.metadata.get("part"),
                row_only=item.metadata.get("row_only", False),
            )
        )
    return tuple(found)


def member(cls: type, name: str) -> Member | None:
    """The field of that name, or None."""
    return next((item for item in members(cls) if item.name == name), None)


LONGEST_TEXT = 20000  # characters of a name or a note
DEEPEST = 40  # levels of what a newer program left in a file
LARGEST_WHOLE = 10**15
Aside = list[str]  # sentences on what could not be read and was left out


def decode(cls: type[T], data: Json, path: str = "", aside: Aside | None = None) -> T:
    """A record from JSON values.  Raises InputError with the path of what is wrong; unknown keys go to `extra`.

    With `aside`, what can be left out is left out instead, each with its sentence: items of lists, and fields with a default.
    """
    if cls is Quantity and isinstance(data, (int, float)) and not isinstance(data, bool):
        data = {"value": data}
    if not isinstance(data, Mapping):
        raise InputError(path or "the file", _shown(data), "an object in braces")
    known = members(cls)
    values: dict[str, Any] = {}
    for item in known:
        where = f"{path}.{item.name}" if path else item.name
        if item.name not in data:
            if item.required:
                raise InputError(where, "missing", item.spec.accepted() if item.spec else "a value")
            continue
        try:
            values[item.name] = decode_member(item, data[item.name], where, aside)
        except InputError as refusal:
            if aside is None or item.required:
                raise
            aside.append(f"{refusal}; {_instead(item.default)}")
    names = {item.name for item in known}
    extra = {key: value for key, value in data.items() if key not in names}
    if extra and any(item.name == "extra" for item in dataclasses.fields(cls)):  # type: ignore[arg-type]
        values["extra"] = _bounded(extra, path, aside)
    return _made(cls, values, path, aside)


def _made(cls: type[T], values: dict[str, Any], path: str, aside: Aside | None) -> T:
    while True:
        try:
            return cls(**values)
        except InputError as refusal:
            said = InputError(f"{path}.{refusal.field}" if path else refusal.field, refusal.value, refusal.accepted)
            item = member(cls, refusal.field)
            if aside is None or item is None or item.required or values.pop(refusal.field, None) is None:
                raise said from None
            aside.append(f"{said}; {_instead(item.default)}")


def _bounded(extra: dict[str, Any], path: str, aside: Aside | None) -> dict[str, Any]:
    """Unknown fields that can be written again: JSON of a decent depth."""
    kept = {}
    for key, value in extra.items():
        if _depth(value) <= DEEPEST:
            kept[key] = value
            continue
        refusal = InputError(
            f"{path}.{_shown(key)}" if path else _shown(key), "nested too deeply", f"up to {DEEPEST} levels in an unknown field"
        )
        if aside is None:
            raise refusal
        aside.append(f"{refusal}; left out")
    return kept


def _instead(default: Any) -> str:
    """What stands in the place of a value that was set aside."""
    if isinstance(default, Quantity):
        return f"{default.value:g} taken instead"
    if isinstance(default, (bool, int, float, str)) and default != "":
        return f"{default} taken instead"
    return "left out"


def _depth(value: Json) -> int:
    level, depth = [value], 0
    while level and depth <= DEEPEST:
        level = [child for node in level if isinstance(node, (dict, list)) for child in (node.values() if isinstance(node, dict) else node)]
        depth += 1
    return depth


def decode_member(item: Member, data: Json, path: str, aside: Aside | None = None) -> Any:
    """One field's value, checked against its type and bounds."""
    if data is None:
        if item.optional:
            return None
        raise InputError(path, "null", item.spec.accepted() if item.spec else "a value")
    if item.part is not None:
        return _decode_overrides(item.part, data, path, aside)
    value = _decode_value(item.type, data, path, aside)
    if item.spec is not None:
        if isinstance(value, Quantity):
            item.spec.check(path, value.value)
        elif isinstance(value, (int, float)):
            item.spec.check(path, value)
    return value


def _decode_overrides(part: type, data: Json, path: str, aside: Aside | None) -> dict[str, Quantity]:
    """Values of a part that are known better than its row says: its numbers by name, within their bounds."""
    if not isinstance(data, Mapping):
        raise InputError(path, _shown(data), "an object in braces")
    found: dict[str, Quantity] = {}
    for key, value in data.items():
        where = f"{path}.{key}"
        try:
            item = member(part, key)
            if item is None or key not in overridable(part):
                raise InputError(where, "not a value of this kind of part", ", ".join(overridable(part)))
            quantity = decode(Quantity, value, where, aside)
            if item.spec is not None:
                item.spec.check(where, quantity.value)
        except InputError as refusal:
            if aside is None:
                raise
            aside.append(f"{refusal}; left out")
        else:
            found[key] = quantity
    return found


def overridable(part: type) -> tuple[str, ...]:
    """Names of the numbers of a part's row that can be known better of the piece that is fitted."""
    return tuple(item.name for item in members(part) if item.type in (int, float) and not item.row_only)


def _decode_value(kind: Any, data: Json, path: str, aside: Aside | None = None) -> Any:
    if isinstance(kind, Tagged):
        one = kind.of(data, path)
        return decode(one, {key: value for key, value in data.items() if key != TAG}, path, aside)
    if typing.get_origin(kind) is tuple:
        return _decode_list(typing.get_args(kind)[0], data, path, aside)
    if typing.get_origin(kind) is Mapping:
        return _decode_names(typing.get_args(kind)[1], data, path, aside)
    if dataclasses.is_dataclass(kind):
        return decode(typing.cast(type, kind), data, path, aside)
    if isinstance(kind, type) and issubclass(kind, StrEnum):
        try:
            return kind(data)
        except ValueError:
            raise InputError(path, _shown(data), ", ".join(kind)) from None
    if kind is bool:
        if not isinstance(data, bool):
            raise InputError(path, _shown(data), "true or false")
        return data
    if kind is int:
        if isinstance(data, bool) or not isinstance(data, (int, float)) or not abs(data) <= LARGEST_WHOLE or data != int(data):
            raise InputError(path, _shown(data), "a whole number")
        return int(data)
    if kind is float:
        if isinstance(data, bool) or not isinstance(data, (int, float)) or not abs(data) <= sys.float_info.max:
            raise InputError(path, _shown(data), "a finite number")
        return float(data)
    if kind is str:
        if not isinstance(data, str):
            raise InputError(path, _shown(data), "text in quotes")
        if len(data) > LONGEST_TEXT:
            raise InputError(path, f"{len(data)} characters long", f"up to {LONGEST_TEXT} characters")
        if not data.isascii() and any("\ud800" <= c <= "\udfff" for c in data):
            raise InputError(path, _shown(data), "text without halves of characters")
        return data
    return data


def _decode_names(kind: Any, data: Json, path: str, aside: Aside | None) -> dict[str, Any]:
    """Values by names of their own."""
    if not isinstance(data, Mapping):
        raise InputError(path, _shown(data), "an object in braces")
    if len(data) > MOST_NAMES:
        raise InputError(path, f"{len(data)} values", f"up to {MOST_NAMES}")
    return {_decode_value(str, key, path): _decode_value(kind, value, f"{path}.{key}", aside) for key, value in data.items()}


def _decode_list(kind: Any, data: Json, path: str, aside: Aside | None) -> tuple[Any, ...]:
    if not isinstance(data, (list, tuple)):
        raise InputError(path, _shown(data), "a list in brackets")
    if aside is None:
        return tuple(_decode_value(kind, value, f"{path}.{k}") for k, value in enumerate(data))
    found: list[Any] = []
    refused: list[InputError] = []
    ids: set[str] = set()
    for k, value in enumerate(data):
        try:
            item = _decode_value(kind, value, f"{path}.{k}", aside)
            ident = getattr(item, "id", None)
            if ident is not None and ident in ids:
                raise InputError(f"{path}.{k}.id", f"{ident}, which another one has", "each id once")
        except InputError as refusal:
            refused.append(refusal)
            continue
        found.append(item)
        if ident is not None:
            ids.add(ident)
    if refused and not found:
        raise refused[0]  # nothing is left of it
    aside.extend(f"{refusal}; left out" for refusal in refused)
    return tuple(found)


def gated(item: Member, new: Any, old: Any, path: str) -> Any:
    """A value that is about to be entered, checked as a file's would be; what is already in the design is not looked at again.

    Raises InputError with the path of what could not be read from a file again.
    """
    if new is old:
        return new
    if isinstance(new, tuple) and typing.get_origin(item.type) is tuple:
        inner = typing.get_args(item.type)[0]
        one = dataclasses.replace(item, type=inner, optional=False, spec=None)
        before = old if isinstance(old, tuple) else ()
        known = {id(value) for value in before}
        return tuple(
            value if id(value) in known else gated(one, value, before[k] if k < len(before) else None, f"{path}.{k}")
            for k, value in enumerate(new)
        )
    kinds = item.type.kinds if isinstance(item.type, Tagged) else (item.type,) if isinstance(item.type, type) else ()
    if dataclasses.is_dataclass(new) and isinstance(new, kinds) and not isinstance(new, Quantity):
        same = old if type(old) is type(new) else None
        changed = {}
        for field in members(type(new)):
            value = getattr(new, field.name)
            checked = gated(field, value, getattr(same, field.name, None), f"{path}.{field.name}")
            if checked is not value:
                changed[field.name] = checked
        return dataclasses.replace(new, **changed) if changed else new  # type: ignore[type-var]
    return decode_member(item, encode(new), path)


def encode(value: Any) -> Json:
    """JSON values of a record; fields at their default are left out, `extra` is merged back in."""
    if isinstance(value, Quantity):
        out: dict[str, Any] = {"value": value.value, "known": str(value.known)}
        if value.date is not None:
            out["date"] = value.date
        if value.tolerance is not None:
            out["tolerance"] = value.tolerance
        if value.note:
            out["note"] = value.note
        return {**out, **value.extra}
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        record: dict[str, Any] = {TAG: value.tag} if hasattr(value, "tag") else {}
        for item in members(type(value)):
            inner = getattr(value, item.name)
            if item.required or inner != item.default or item.name == "schema_version":
                record[item.name] = encode(inner)
        return {**record, **getattr(value, "extra", {})}
    if isinstance(value, StrEnum):
        return str(value)
    if isinstance(value, (tuple, list)):
        return [encode(item) for item in value]
    if isinstance(value, Mapping):
        return {key: encode(item) for key, item in value.items()}
    return value


def _shown(data: Json) -> str:
    text = repr(data)
    return text if len(text) <= 60 else text[:57] + "..."
