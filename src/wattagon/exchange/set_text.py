"""`PATH=VALUE` texts, as typed in a terminal, applied to a design."""

from __future__ import annotations

from typing import Any

from wattagon.design.paths import Place, place, put
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.exchange import units


def set_from_text(design: Design, assignment: str) -> Design:
    """A design with one `PATH=VALUE` applied, units accepted.  Raises PathError or InputError with a sentence."""
    path, equals, text = assignment.partition("=")
    if not equals or not path.strip():
        raise InputError("--set", units.quoted(assignment), 'PATH=VALUE, such as vehicle.tyre_diameter="215 mm"')
    path, text = path.strip(), text.strip().strip("'\"")
    target = place(design, path)
    return put(design, path, _value(target, text, path))


def _value(target: Place, text: str, path: str) -> Any:
    if target.optional and text.lower() in ("none", "null", ""):
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
    raise InputError(path, units.quoted(text), "a path to a single value, not to a group of values")
