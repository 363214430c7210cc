"""One gap as it was found: nominal, at worst, likely, wanted, and whether that is enough."""

from __future__ import annotations

import math

from wattagon.physics.clearance import Gap
from wattagon.record import record
from wattagon.study.findings.rule import Case
from wattagon.study.findings.status import Status

Ends = tuple[float, float, float, float]


@record(frozen=True, slots=True, kw_only=True)
class Found:
    """One gap [m]; `worst` is nan where it is not checked, `because` says then what is missing."""

    code: str
    between: str
    nominal: float
    worst: float
    likely: float
    wanted: float
    status: Status
    swept: str = ""  # over what it is the least
    because: str = ""
    at: tuple[float, float, float, float] | None = None  # where to draw it in side view: from, to [m]

    @property
    def margin(self) -> float:
        return self.worst / self.wanted - 1.0 if self.wanted > 0.0 else self.worst


def judged(code: str, between: str, found: Gap, wanted: float, *, swept: str = "", at: Ends | None = None) -> Found:
    """Clear only if the worst case keeps what is wanted; over where the things meet."""
    status = Status.OVER if found.nominal < 0.0 else Status.CLEAR if found.worst >= wanted else Status.TIGHT
    likely = found.nominal - found.likely_by
    return Found(
        code=code,
        between=between,
        nominal=found.nominal,
        worst=found.worst,
        likely=likely,
        wanted=wanted,
        status=status,
        swept=swept,
        at=at,
    )


def unknown(code: str, between: str, because: str) -> Found:
    """Not checked, and why."""
    nan = math.nan
    return Found(code=code, between=between, nominal=nan, worst=nan, likely=nan, wanted=0.0, status=Status.NOT_CHECKED, because=because)


def measured(case: Case, metres: float) -> str:
    """A distance no finer than a calliper reads it: tenths, and hundredths of a millimetre under one."""
    return case.say(round(metres, 4 if abs(metres) >= 1e-3 else 5), "length")
