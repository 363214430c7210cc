"""The JSON Schema of a record, for editors and checkers of design files."""

from __future__ import annotations

import dataclasses
import typing
from enum import StrEnum
from typing import Any

from wattagon.design.boats import NO_WHEELS
from wattagon.design.codec import TAG, Tagged, members, overridable
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Vehicle

Json = Any


def schema_of(cls: type) -> Json:
    """JSON Schema (2020-12) of a record class."""
    definitions: dict[str, Any] = {}
    root = _schema_record(cls, definitions)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **root, "$defs": definitions}


def _schema_record(cls: type, definitions: dict[str, Any]) -> Json:
    properties, required = {}, []
    for item in members(cls):
        entry = _schema_type(item.type, definitions) if item.part is None else _schema_overrides(item.part, definitions)
        if item.spec is not None:
            entry = {**entry, "title": item.spec.label, **({"description": item.spec.hint} if item.spec.hint else {})}
            bounds = {key: bound for key, bound in (("minimum", item.spec.low), ("maximum", item.spec.high)) if abs(bound) != float("inf")}
            if item.type is not Quantity:
                entry.update(bounds)
            else:
                entry = {**entry, "x-si-unit-of": item.spec.dimension, **{f"x-{k}": v for k, v in bounds.items()}}
        properties[item.name] = {"anyOf": [entry, {"type": "null"}]} if item.optional else entry
        if item.required:
            required.append(item.name)
    # other keys are allowed: they are kept as they are
    made: dict[str, Any] = {"type": "object", "properties": properties, "required": required}
    if cls is Vehicle:  # a boat's file leaves out what only wheels have
        wheels = [name for name in required if name in NO_WHEELS]
        made["required"] = [name for name in required if name not in NO_WHEELS]
        made |= {"if": {"not": {"required": ["hull"]}}, "then": {"required": wheels}}
    return made


def _tagged(kind: Any, definitions: dict[str, Any]) -> Json:
    """A record of a union, with the tag that tells it."""
    made = _schema_record(kind, definitions)
    return {**made, "properties": {TAG: {"const": kind.tag}, **made["properties"]}, "required": [TAG, *made["required"]]}


def _schema_overrides(part: type, definitions: dict[str, Any]) -> Json:
    return {
        "type": "object",
        "additionalProperties": False,
        "properties": {name: _schema_type(Quantity, definitions) for name in overridable(part)},
    }


def _schema_type(kind: Any, definitions: dict[str, Any]) -> Json:
    origin = typing.get_origin(kind)
    if origin is tuple:
        return {"type": "array", "items": _schema_type(typing.get_args(kind)[0], definitions)}
    if isinstance(kind, Tagged):
        return {"oneOf": [_tagged(one, definitions) for one in kind.kinds]}
    if kind is Quantity:
        if "Quantity" not in definitions:
            definitions["Quantity"] = {
                "anyOf": [
                    {"type": "number"},
                    {
                        "type": "object",
                        "required": ["value"],
                        "properties": {
                            "value": {"type": "number"},
                            "known": {"enum": [str(k) for k in Known]},
                            "date": {"anyOf": [{"type": "string"}, {"type": "null"}]},
                            "tolerance": {"anyOf": [{"type": "number", "minimum": 0}, {"type": "null"}]},
                            "note": {"type": "string"},
                        },
                    },
                ]
            }
        return {"$ref": "#/$defs/Quantity"}
    if dataclasses.is_dataclass(kind):
        name = typing.cast(type, kind).__name__
        if name not in definitions:
            definitions[name] = {}
            definitions[name] = _schema_record(typing.cast(type, kind), definitions)
        return {"$ref": f"#/$defs/{name}"}
    if isinstance(kind, type) and issubclass(kind, StrEnum):
        return {"enum": [str(item) for item in kind]}
    return {bool: {"type": "boolean"}, int: {"type": "integer"}, float: {"type": "number"}, str: {"type": "string"}}.get(kind, {})
