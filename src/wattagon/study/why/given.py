"""A design and a stock whose numbers know the field that they stand in."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, TypeVar

from wattagon.design.catalogue import Catalogue
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Design
from wattagon.traced import GIVEN, Traced, TracedInt

T = TypeVar("T")


def given(design: Design, stock: Catalogue) -> tuple[Design, Catalogue]:
    """Both with traced numbers: a field by its path in the design, a part's as `stock.PART.NAME`."""
    parts = {
        kind: MappingProxyType({name: with_paths(part, f"stock.{name}") for name, part in rows.items()})
        for kind, rows in stock.parts.items()
    }
    return with_paths(design, ""), Catalogue(parts=MappingProxyType(parts), bad_rows=stock.bad_rows)


def with_paths(value: T, path: str) -> T:
    """A copy whose numbers are traced, each under its path below `path`."""
    made: T = _copied(value, path)
    return made


def _copied(value: Any, path: str) -> Any:
    if type(value) is float:
        return Traced(value, GIVEN, (), path)
    if type(value) is int:
        return TracedInt(value, GIVEN, (), path)
    if isinstance(value, Quantity):
        return _changed(value, {"value": Traced(value.value, GIVEN, (), path)})
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        names = [item.name for item in dataclasses.fields(value)]
        return _changed(value, {name: _copied(getattr(value, name), _under(path, name)) for name in names})
    if type(value) is tuple:
        return tuple(_copied(item, _under(path, getattr(item, "id", None) or str(k))) for k, item in enumerate(value))
    if isinstance(value, Mapping):
        return type(value)({key: _copied(item, _under(path, str(key))) for key, item in value.items()}) if type(value) is dict else value
    return value


def _under(path: str, name: str) -> str:
    return path if name == "overrides" else f"{path}.{name}" if path else name


def _changed(record: Any, changes: Mapping[str, Any]) -> Any:
    """With no check: the values are those of a record that was checked when it was made."""
    copy = object.__new__(type(record))
    for item in dataclasses.fields(record):
        object.__setattr__(copy, item.name, changes.get(item.name, getattr(record, item.name)))
    return copy
