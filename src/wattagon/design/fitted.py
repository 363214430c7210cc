"""The part that is really fitted: its row in the stock with what is known better of this one."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, TypeVar

from wattagon.design import codec
from wattagon.design.parts import Part
from wattagon.design.tree import ControllerChoice, MotorChoice, PackChoice, PropellerChoice, WheelChoice

P = TypeVar("P", bound=Part)


def fitted(part: P, choice: MotorChoice | ControllerChoice | PackChoice | PropellerChoice | WheelChoice) -> P:
    """The part's row with the overrides of a choice of it, in the row's own units."""
    if not choice.overrides:
        return part
    better: dict[str, Any] = {}
    for name, quantity in choice.overrides.items():
        item = codec.member(type(part), name)
        if item is not None:
            better[name] = int(quantity.value) if item.type is int else quantity.value
    return replace(part, **better)
