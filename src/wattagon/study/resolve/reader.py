"""Taking values from the tree, the overrides and the stock; each one is noted under its path with how it is known."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from wattagon.design.quantity import Known, Quantity
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Input:
    """One resolved SI value and how it is known."""

    value: float
    known: Known
    dimension: str = "number"
    tolerance: float | None = None  # how wide it is, where somebody told


class Reader:
    """Takes values from the tree, the overrides and the stock, and notes each one under its path."""

    def __init__(self, note: bool, shift: Mapping[str, float] | None = None) -> None:
        self.inputs: dict[str, Input] | None = {} if note else None
        self.shift = shift  # values taken instead of those of the tree and the stock, by their path
        self.plain = not note and shift is None  # nothing but the value is wanted

    def keep(self, path: str, value: float, known: Known, dimension: str = "number", tolerance: float | None = None) -> float:
        if self.shift is not None:
            value = self.shift.get(path, value)
        if self.inputs is not None:
            self.inputs[path] = Input(value=float(value), known=known, dimension=dimension, tolerance=tolerance)
        return float(value)

    def quantity(self, path: str, quantity: Quantity, dimension: str) -> float:
        return quantity.value if self.plain else self.keep(path, quantity.value, quantity.known, dimension, quantity.tolerance)

    def part(self, where: str, choice: Any, part: Any, name: str, default: float | None, dimension: str = "number") -> float | None:
        """An override, else the part's row, else a default marked assumed; None where even that is unknown."""
        override = choice.overrides.get(name) if choice is not None else None
        if override is not None:
            return self.quantity(f"{where}.{name}", override, dimension)
        value = getattr(part, name)
        if value is not None:
            return float(value) if self.plain else self.keep(f"stock.{part.id}.{name}", value, Known.STATED, dimension)
        if default is not None and not self.plain:
            return self.keep(f"{where}.{name}", default, Known.ASSUMED, dimension)
        return default

    def need(self, where: str, choice: Any, part: Any, name: str, default: float, dimension: str = "number") -> float:
        value = self.part(where, choice, part, name, default, dimension)
        assert value is not None
        return value
