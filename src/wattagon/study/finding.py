"""Findings as data: a number, a limit, why, and what would cure it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import field

from wattagon.design.catalogue import Catalogue
from wattagon.design.paths import Edit
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.drive import DriveStudy
from wattagon.study.status import URGENCY, Status
from wattagon.study.words import Say


@record(frozen=True, slots=True, kw_only=True)
class Cure:
    """A change that was tried: what it is, what it does to the finding and to the goals."""

    edit: Edit
    text: str
    effect: str
    status: Status  # of the finding after it


@record(frozen=True, slots=True, kw_only=True)
class Finding:
    """One thing that was checked.  `candidates` gives changes worth trying, when asked; `cures` those that were tried and help."""

    code: str  # stable; files and tests hold on to it, never to the wording
    status: Status
    link: str  # of the drive: pack, controller, motor, reduction, wheel, goal
    title: str
    because: str
    margin: float | None = None  # room left as a share of the limit; below 0 is over
    assumed: bool = False  # rests on a value that nobody measured or stated
    candidates: Callable[[], tuple[Edit, ...]] | None = field(default=None, compare=False, repr=False)
    cures: tuple[Cure, ...] = ()


@record(frozen=True, slots=True, kw_only=True)
class Case:
    """What a rule looks at."""

    design: Design
    stock: Catalogue
    study: DriveStudy
    say: Say

    def assumed(self, *names: str) -> bool:
        """Whether any input whose path ends in one of the names is assumed."""
        return any(path.endswith(names) for path in self.study.assumptions)


def judge(value: float, limit: float, tight_below: float) -> tuple[Status, float]:
    """(status, margin) of a value that should stay under a limit."""
    margin = 1.0 - value / limit
    status = Status.OVER if margin < -1e-9 else Status.TIGHT if margin < tight_below else Status.CLEAR
    return status, margin


__all__ = ["URGENCY", "Case", "Cure", "Finding", "Status", "judge"]
