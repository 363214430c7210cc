"""Which motor drives."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field

from wattagon.design.parts import MotorPart
from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, no_extra
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class MotorChoice:
    """Which motor, how many, on how many wheels; `overrides` are values that the user knows better than the stock."""

    part: str
    count: int = field(default=1, metadata=spec("motors", "number", 1, 8))
    driven_wheels: int = field(default=1, metadata=spec("driven wheels", "number", 1, 4))
    overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": MotorPart})
    extra: Extra = field(default_factory=no_extra)
