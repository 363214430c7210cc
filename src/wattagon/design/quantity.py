"""A value and how it is known; and the specification that a field of the tree carries."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import field
from enum import StrEnum
from typing import Any

from wattagon.design.dimensions import DIMENSIONS
from wattagon.errors import InputError
from wattagon.record import record


class Known(StrEnum):
    """How a value is known, strongest first."""

    MEASURED = "measured"
    FITTED = "fitted"  # from a log or a run; the tolerance is its standard error
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
        unit = DIMENSIONS[self.dimension].si
        unit = f" {unit}" if unit else ""
        if self.whole:
            return f"a whole number, {self.low:g} to {self.high:g}"
        if math.isinf(self.high):
            return f"{self.low:g}{unit} or more" if math.isfinite(self.low) else f"a number{unit}"
        return f"{self.low:g} to {self.high:g}{unit}"


def spec(label: str, dimension: str = "number", low: float = -math.inf, high: float = math.inf, hint: str = "") -> dict[str, Any]:
    """Metadata for a dataclass field.  Raises ValueError for a dimension that is none: it would lose its unit in silence."""
    if dimension not in DIMENSIONS:
        raise ValueError(f"{label!r} is of dimension {dimension!r}, which design/dimensions.py does not have")
    return {"spec": Spec(label=label, dimension=dimension, low=low, high=high, hint=hint)}
