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

from wattagon.design.quantity import Known, Quantity, Spec
from wattagon.errors import InputError
from wattagon.record import record

T = TypeVar("T")
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


def _members(cls: Any) -> tuple[Member, ...]:
    found = []
    for item in dataclasses.fields(cls):
        if item.name == "extra":
            continue
        hint, optional = _hint(cast(str, item.type), cls.__module__), False
        if typing.get_origin(hint) in (typing.Union, types.UnionType):
            parts = [part for part in typing.get_args(hint) if part is not type(None)]
            optional, hint = len(parts) < len(typing.get_args(hint)), parts[0]
        required = item.default is dataclasses.MISSING and item.default_factory is dataclasses.MISSING
        default = None
        if item.default is not dataclasses.MISSING:
            default = item.default
        elif item.default_factory is not dataclasses.MISSING:
            default = item.default_factory()
        found.append(
            Member(
                name=item.name, type=hint, optional=optional, required=required, spec=item.metadata.get("spec"), default=default
            )
        )  # fmt: skip
    return tuple(found)


def member(cls: type, name: str) -> Member | None:
    """The field of that name, or None."""
    return next((item for item in members(cls) if item.name == name), None)


def decode(cls: type[T], data: Json, path: str = "") -> T:
    """A record from JSON values.  Raises InputError with the path of what is wrong; unknown keys go to `extra`."""
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
        values[item.name] = decode_member(item, data[item.name], where)
    names = {item.name for item in known}
    extra = {key: value for key, value in data.items() if key not in names}
    if extra and any(item.name == "extra" for item in dataclasses.fields(cls)):  # type: ignore[arg-type]
        values["extra"] = extra
    try:
        return cls(**values)
    except InputError as refusal:
        raise InputError(f"{path}.{refusal.field}" if path else refusal.field, refusal.value, refusal.accepted) from None


def decode_member(item: Member, data: Json, path: str) -> Any:
    """One field's value, checked against its type and bounds."""
    if data is None:
        if item.optional:
            return None
        raise InputError(path, "null", item.spec.accepted() if item.spec else "a value")
    value = _decode_value(item.type, data, path)
    if item.spec is not None:
        if isinstance(value, Quantity):
            item.spec.check(path, value.value)
        elif isinstance(value, (int, float)):
            item.spec.check(path, value)
    return value


def _decode_value(kind: Any, data: Json, path: str) -> Any:
    origin = typing.get_origin(kind)
    if origin is tuple:
        if not isinstance(data, (list, tuple)):
            raise InputError(path, _shown(data), "a list in brackets")
        inner = typing.get_args(kind)[0]
        return tuple(_decode_value(inner, value, f"{path}.{k}") for k, value in enumerate(data))
    if origin is not None and issubclass(origin, Mapping):
        if not isinstance(data, Mapping):
            raise InputError(path, _shown(data), "an object in braces")
        inner = typing.get_args(kind)[1]
        return {str(key): _decode_value(inner, value, f"{path}.{key}") for key, value in data.items()}
    if dataclasses.is_dataclass(kind):
        return decode(typing.cast(type, kind), data, path)
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
        if isinstance(data, bool) or not isinstance(data, (int, float)) or data != int(data):
            raise InputError(path, _shown(data), "a whole number")
        return int(data)
    if kind is float:
        if isinstance(data, bool) or not isinstance(data, (int, float)) or data != data or abs(data) == float("inf"):
            raise InputError(path, _shown(data), "a finite number")
        return float(data)
    if kind is str:
        if not isinstance(data, str):
            raise InputError(path, _shown(data), "text in quotes")
        return data
    return data


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
        record: dict[str, Any] = {}
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


def schema_of(cls: type) -> Json:
    """JSON Schema (2020-12) of a record class."""
    definitions: dict[str, Any] = {}
    root = _schema_record(cls, definitions)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **root, "$defs": definitions}


def _schema_record(cls: type, definitions: dict[str, Any]) -> Json:
    properties, required = {}, []
    for item in members(cls):
        entry = _schema_type(item.type, definitions)
        if item.spec is not None:
            entry = {**entry, "title": item.spec.label, **({"description": item.spec.hint} if item.spec.hint else {})}
            bounds = {
                key: bound
                for key, bound in (("minimum", item.spec.low), ("maximum", item.spec.high))
                if abs(bound) != float("inf")
            }
            if item.type is not Quantity:
                entry.update(bounds)
            else:
                entry = {**entry, "x-si-unit-of": item.spec.dimension, **{f"x-{k}": v for k, v in bounds.items()}}
        properties[item.name] = {"anyOf": [entry, {"type": "null"}]} if item.optional else entry
        if item.required:
            required.append(item.name)
    # other keys are allowed: they are kept as they are
    return {"type": "object", "properties": properties, "required": required}


def _schema_type(kind: Any, definitions: dict[str, Any]) -> Json:
    origin = typing.get_origin(kind)
    if origin is tuple:
        return {"type": "array", "items": _schema_type(typing.get_args(kind)[0], definitions)}
    if origin is not None and issubclass(origin, Mapping):
        inner = typing.get_args(kind)[1]
        return {"type": "object", "additionalProperties": _schema_type(inner, definitions)}
    if kind is Quantity:
        if "Quantity" not in definitions:
            definitions["Quantity"] = {
                "anyOf": [
                    {"type": "number"},
                    {
                        "type": "object", "required": ["value"],
                        "properties": {
                            "value": {"type": "number"}, "known": {"enum": [str(k) for k in Known]},
                            "date": {"anyOf": [{"type": "string"}, {"type": "null"}]},
                            "tolerance": {"anyOf": [{"type": "number", "minimum": 0}, {"type": "null"}]},
                            "note": {"type": "string"},
                        },
                    },
                ]
            }  # fmt: skip
        return {"$ref": "#/$defs/Quantity"}
    if dataclasses.is_dataclass(kind):
        name = typing.cast(type, kind).__name__
        if name not in definitions:
            definitions[name] = {}
            definitions[name] = _schema_record(typing.cast(type, kind), definitions)
        return {"$ref": f"#/$defs/{name}"}
    if isinstance(kind, type) and issubclass(kind, StrEnum):
        return {"enum": [str(item) for item in kind]}
    return {bool: {"type": "boolean"}, int: {"type": "integer"}, float: {"type": "number"}, str: {"type": "string"}}.get(
        kind, {}
    )
