"""Findings as data: a number, a limit, why, and what would cure it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import field

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known
from wattagon.record import record
from wattagon.study.findings.status import Status


@record(frozen=True, slots=True, kw_only=True)
class GoalChange:
    """What a change does to one goal: its margin before and after, and both values in SI."""

    goal: str  # id
    before: float
    after: float
    reached: float
    now: float
    dimension: str

    @property
    def flips(self) -> bool:
        """Whether a met goal is missed or a missed one met."""
        return (self.before >= 0.0) != (self.after >= 0.0)


@record(frozen=True, slots=True, kw_only=True)
class Cure:
    """A change that was tried: what it is, what it does to the finding and to the goals."""

    edit: Edit
    text: str
    effect: str  # in words, for the terminal
    status: Status  # of the finding after it
    goals: tuple[GoalChange, ...] = ()
    notes: tuple[str, ...] = ()  # what bars on the goals cannot tell: the figure of the finding, what it makes tight


@record(frozen=True, slots=True, kw_only=True)
class Finding:
    """One thing that was checked.  `candidates` gives changes worth trying, when asked; `cures` those that were tried and help."""

    code: str  # stable; files and tests hold on to it, never to the wording
    status: Status
    bench: str  # where it is seen to
    link: str  # of the drive: pack, controller, motor, reduction, wheel, goal
    title: str
    because: str
    margin: float | None = None  # room left as a share of the limit; below 0 is over
    known: Known = Known.MEASURED  # the weakest of the inputs that it rests on
    rests: tuple[str, ...] = ()  # their names: ends of paths
    figure: str = ""  # its number in a few words, where a cure says "from 6 min to never"
    suspect: str = ""  # why the part that it is about cannot be relied on, whatever the figures say
    instead_of: str = ""  # code of the estimate that it takes the place of
    candidates: Callable[[], tuple[Edit, ...]] | None = field(default=None, compare=False, repr=False)
    cures: tuple[Cure, ...] = ()

    @property
    def assumed(self) -> bool:
        """Whether it rests on a value that nobody measured or stated."""
        return self.known is Known.ASSUMED
