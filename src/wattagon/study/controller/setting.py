"""One line of the settings sheet."""

from __future__ import annotations

import math

from wattagon.design.quantity import Known
from wattagon.record import record
from wattagon.study.findings.status import Status

SAME = 0.005  # of a value: so near it counts as the same
Value = float | str | bool | None


@record(frozen=True, slots=True, kw_only=True)
class Setting:
    """A value with its bounds, whose they are, and the reason with the figure that it follows from.

    `value` is what the design has, or what is proposed where it has none; `path` is where it is entered, empty where it follows.
    """

    key: str
    name: str
    value: Value
    dimension: str = "number"
    low: float | None = None
    high: float | None = None
    low_from: str = ""
    high_from: str = ""
    because: str = ""
    proposed: Value = None
    told: bool = False
    known: Known = Known.COMPUTED
    path: str = ""
    group: str = "current"
    options: tuple[tuple[str, str], ...] = ()  # of a choice: value and words
    cannot: str = ""  # why this school does not have it, and what to do instead

    @property
    def overridden(self) -> bool:
        """Whether somebody chose another value than the one that is worked out."""
        if not self.told or self.proposed is None:
            return False
        if isinstance(self.value, (int, float)) and isinstance(self.proposed, (int, float)):
            return not same(float(self.value), float(self.proposed))
        return self.value != self.proposed

    @property
    def status(self) -> Status:
        """Against its bounds; unknown where it has no value, or cannot be set and nobody told what it is."""
        if self.cannot and not self.told:
            return Status.NOT_CHECKED
        if not isinstance(self.value, (int, float)) or isinstance(self.value, bool):
            return Status.NOT_CHECKED if self.value in (None, "") else Status.CLEAR
        if math.isnan(self.value):
            return Status.NOT_CHECKED
        room = SAME * abs(self.value)
        high = self.high is not None and self.value > self.high + room
        low = self.low is not None and self.value < self.low - room
        return Status.OVER if high or low else Status.CLEAR


def same(a: float, b: float) -> bool:
    """Whether two values are one setting."""
    return math.isclose(a, b, rel_tol=SAME, abs_tol=1e-9)
