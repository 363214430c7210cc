"""A value and how it is known; and the specification that a field of the tree carries."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import field
from enum import StrEnum
from typing import Any

from wattagon.errors import InputError
from wattagon.record import record


class Known(StrEnum):
    """How a value is known, strongest first."""

    MEASURED = "measured"
    COMPUTED = "computed"
    STATED = "stated"  # by a seller, on a label
    ASSUMED = "assumed"

    @property
    def rank(self) -> int:
        return _RANK[self]


_RANK = {known: k for k, known in enumerate(Known)}


def weakest(known: Iterable[Known]) -> Known:
    """The least of what a result rests on; measured when it rests on nothing."""
    return max(known, key=lambda k: _RANK[k], default=Known.MEASURED)


@record(frozen=True, slots=True, kw_only=True)
class Quantity:
    """A number in SI with how it is known, when it was measured and its tolerance in the same unit."""

    value: float
    known: Known = Known.ASSUMED
    date: str | None = None  # ISO day of the measurement
    tolerance: float | None = None
    note: str = ""
    extra: Mapping[str, Any] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if isinstance(self.value, bool) or not isinstance(self.value, (int, float)) or not math.isfinite(self.value):
            raise InputError("value", self.value, "a finite number")
        if self.tolerance is not None and not self.tolerance >= 0:
            raise InputError("tolerance", self.tolerance, "0 or more")


@record(frozen=True, slots=True, kw_only=True)
class Spec:
    """What a field accepts and how it is called: bounds in SI, both inclusive."""

    label: str
    dimension: str = "number"  # names a row of the unit sets
    low: float = -math.inf
    high: float = math.inf
    hint: str = ""
    whole: bool = False  # counts: no fractions

    def check(self, path: str, value: float) -> None:
        """Raises InputError naming the field, the value and the bounds."""
        if not self.low <= value <= self.high or (self.whole and value != int(value)):  # refuses nan too
            raise InputError(path, f"{value:g}", self.accepted())

    def accepted(self) -> str:
        unit = SI_UNITS.get(self.dimension, "")
        unit = f" {unit}" if unit else ""
        if self.whole:
            return f"a whole number, {self.low:g} to {self.high:g}"
        if math.isinf(self.high):
            return f"{self.low:g}{unit} or more" if math.isfinite(self.low) else f"a number{unit}"
        return f"{self.low:g} to {self.high:g}{unit}"


SI_UNITS = {
    "length": "m", "mass": "kg", "speed": "m/s", "time": "s", "temperature": "C", "current": "A", "voltage": "V",
    "resistance": "ohm", "inductance": "H", "area": "m2", "inertia": "kg m2", "torque": "N m", "power": "W", "energy": "Wh",
    "kv": "rpm/V", "capacity": "Ah", "force": "N", "grade": "rise per run", "share": "(share)", "distance": "m", "rpm": "rpm",
    "money": "", "number": "", "irradiance": "W/m2", "height": "m", "heat_capacity": "J/K", "thermal_resistance": "K/W", "days": "days", "angle": "rad", "acceleration": "m/s2", "jerk": "m/s3",
}  # fmt: skip


def spec(
    label: str, dimension: str = "number", low: float = -math.inf, high: float = math.inf, hint: str = ""
) -> dict[str, Any]:
    """Metadata for a dataclass field."""
    return {"spec": Spec(label=label, dimension=dimension, low=low, high=high, hint=hint)}
