"""`PATH=VALUE` texts, as typed in a terminal, applied to a design."""

from __future__ import annotations

import re
from dataclasses import MISSING, fields, is_dataclass
from typing import Any, get_args, get_origin

from wattagon.design import codec
from wattagon.design.paths import Place, place, put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, DockRow, OpenWaterRow, ReductionKind, ShelfItem, StageChoice, TowRow, WheelChoice
from wattagon.errors import FileError, InputError, PathError
from wattagon.exchange import units

NOTHING = ("none", "null", "")
STAGE_WORDS = 'a stage such as "belt 5M 15:72 15 mm", "chain 08A 12:54", "gear 12:48", "friction 40 mm" or "direct"'


def set_from_text(design: Design, assignment: str) -> Design:
    """A design with one `PATH=VALUE` applied, units accepted.

    `LIST.+=ITEM` adds to a list, `LIST.ITEM=none` takes out.  An item is a part of the stock, a stage in words, or JSON.
    Raises PathError or InputError with a sentence.
    """
    path, equals, text = assignment.partition("=")
    if not equals or not path.strip():
        raise InputError("--set", units.quoted(assignment), 'PATH=VALUE, such as vehicle.tyre_diameter="215 mm"')
    path, text = path.strip(), text.strip().strip("'\"")
    design = _opened(design, path.removesuffix(".+"))
    if path.endswith(".+"):
        return _added(design, path.removesuffix(".+"), text)
    if path.endswith(".propeller.size"):
        from wattagon.exchange.propeller_size import propeller_size

        base = path.removesuffix(".size")
        for name, value in zip(("diameter_m", "pitch_m"), propeller_size(text, path), strict=True):
            design = put(design, f"{base}.overrides.{name}", Quantity(value=value, known=Known.STATED))
        return design
    target = place(design, path)
    if text.lower() in NOTHING and not target.optional:
        shorter = _without(design, path)
        if shorter is not None:
            return shorter
    return put(design, path, _value(target, text, path))


def _opened(design: Design, path: str) -> Design:
    """The design with the sections on the way to a path, such as variant.control, where nobody has told any of them yet."""
    names = path.split(".")
    for k in range(1, len(names)):
        head = ".".join(names[:k])
        try:
            target = place(design, head)
        except PathError:
            return design
        kind: Any = target.type
        section = kind is not Quantity and is_dataclass(kind)
        if target.value is not None or not section or codec.member(kind, names[k]) is None:
            continue
        if any(item.default is MISSING and item.default_factory is MISSING for item in fields(kind)):
            return design  # something of it has to be told first
        design = put(design, head, kind())
    return design


def _added(design: Design, path: str, text: str) -> Design:
    target = place(design, path)
    if get_origin(target.type) is not tuple:
        raise InputError(f"{path}.+", units.quoted(text), "a path to a list, such as brief.shelf.+ or variant.stages.+")
    return put(design, path, (*target.value, _record(get_args(target.type)[0], text, f"{path}.+")))


def _without(design: Design, path: str) -> Design | None:
    """The design without an item of a list; None when the path leads to none."""
    parent = path.rpartition(".")[0]
    try:
        items = place(design, parent).value if parent else None
    except PathError:
        return None
    if not isinstance(items, tuple):
        return None
    gone = place(design, path).value
    return put(design, parent, tuple(item for item in items if item is not gone))


def _record(kind: Any, text: str, path: str) -> Any:
    """An item of a list, or a choice of a part, from words or JSON."""
    if text.startswith("{"):
        from wattagon.design.file import parse_json

        try:
            data = parse_json(text, path)
        except FileError as refusal:
            raise InputError(path, units.quoted(text), f"JSON; {refusal}") from None
        return codec.decode(kind, data, path)
    if kind in (ShelfItem, WheelChoice):
        part, _, count = text.partition(" x ")
        return kind(part=part.strip(), **({"count": units.whole(count, "count", path)} if count and kind is ShelfItem else {}))
    if kind is StageChoice:
        return _stage(text, path)
    if kind in READINGS:
        return _reading(kind, text, path)
    raise InputError(path, units.quoted(text), "an object of JSON in braces")


READINGS = (TowRow, DockRow, OpenWaterRow)
_READING = re.compile(r"[-+]?(?:\d[\d.]*|\.\d+)(?:[eE][-+]?\d+)?(?:\s*[^\d\s;,.+-][^\s;,]*)?")


def _reading(kind: Any, text: str, path: str) -> Any:
    """One row of a test: its values in their order, each with its unit or in SI."""
    asked = [(item.name, item.metadata["spec"]) for item in fields(kind) if "spec" in item.metadata]
    found = _READING.findall(text)
    rest = _READING.sub("", text).strip(" ;,\t")
    if len(found) != len(asked) or rest:
        raise InputError(path, units.quoted(text), ", ".join(spec.label for _, spec in asked) + ", such as " + EXAMPLES[kind])
    values = {}
    for (name, spec), part in zip(asked, found, strict=True):
        values[name] = units.parse(part, spec.dimension, field=f"{path}, {spec.label}")
        spec.check(f"{path}, {spec.label}", values[name])
    return kind(**values)


EXAMPLES = {TowRow: '"1.2 m/s 3 kgf"', DockRow: '"80 N 24.6 V 12 A 900 rpm"', OpenWaterRow: '"0.2 0.25 0.032"'}


_STAGE = re.compile(
    r"(?P<kind>[a-z]+)(?:\s+(?P<profile>[0-9A-Za-z]*[A-Za-z][0-9A-Za-z-]*))?(?:\s+(?P<driver>\d{1,3}):(?P<driven>\d{1,3}))?(?:\s+(?P<size>[\d.,]+\s*[a-z]*))?"
)


def _stage(text: str, path: str) -> StageChoice:
    match = _STAGE.fullmatch(text)
    if match is None or match["kind"] not in list(ReductionKind):
        raise InputError(path, units.quoted(text), STAGE_WORDS)
    kind = ReductionKind(match["kind"])
    made: dict[str, Any] = {"kind": kind, "profile": match["profile"] or ""}
    if match["driver"]:
        made.update(driver_teeth=int(match["driver"]), driven_teeth=int(match["driven"]))
    if match["size"]:
        size = units.parse(match["size"] if match["size"][-1].isalpha() else f"{match['size']} mm", "length", field=path)
        made.update({"roller_diameter": size} if kind is ReductionKind.FRICTION else {"width_mm": size * 1000.0})
    return codec.decode(StageChoice, codec.encode(StageChoice(**made)), path)


def _value(target: Place, text: str, path: str) -> Any:
    if target.optional and text.lower() in NOTHING:
        return None
    dimension = target.spec.dimension if target.spec is not None else "number"
    if target.type in (float, Quantity):
        return units.parse(text, dimension, field=path)
    if target.type is int:
        return units.whole(text, field=path)
    if target.type is bool:
        if text.lower() not in ("true", "false", "yes", "no", "1", "0"):
            raise InputError(path, units.quoted(text), "true or false")
        return text.lower() in ("true", "yes", "1")
    if isinstance(target.type, type) and issubclass(target.type, str):
        return text
    if text.startswith("{") or target.type in (WheelChoice, StageChoice):
        return _record(target.type, text, path)
    raise InputError(path, units.quoted(text), "a path to a single value, not to a group of values")
