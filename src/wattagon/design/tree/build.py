"""How far the building of a variant has come: parts bought, steps done, work that had to be done again."""

from __future__ import annotations

import math
import re
from dataclasses import field
from enum import StrEnum

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.history import check_day
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra, unique
from wattagon.errors import InputError
from wattagon.record import record

MOST_MARKS, MOST_STEPS, MOST_OWN, MOST_REWORKS, MOST_AFTER = 600, 400, 200, 400, 30
TAKES_OUT = ("", "nothing", "engine", "drive")
_ROW = re.compile(r"^[A-Za-z0-9][A-Za-z0-9_-]{0,89}$")


class PartState(StrEnum):
    """How far one row of the parts list has come, in order."""

    TO_ORDER = "to_order"
    SHELF = "shelf"
    ORDERED = "ordered"
    ARRIVED = "arrived"
    FITTED = "fitted"


class StepState(StrEnum):
    OPEN = "open"
    BEGUN = "begun"
    DONE = "done"


def check_row(text: str) -> None:
    """Raises InputError for an id of a row or a step that could not stand in a path."""
    if not _ROW.match(text) or text.isdigit():
        raise InputError("id", repr(text), "letters, digits, - and _, up to 90, not digits alone")


def _hours(label: str, hint: str = "") -> dict[str, object]:
    return spec(label, "number", 0.0, 2000.0, hint)


@record(frozen=True, slots=True, kw_only=True)
class PartMark:
    """What a maker did about one row of the parts list."""

    id: str  # of the row
    state: PartState | None = None  # empty: on the shelf where the shelf has it, else to order
    reason: str = ""  # why it was ordered before what it must fit is measured
    price: float | None = field(default=None, metadata=spec("paid for one", "money", 0.0, 1e6, "empty: as in stock"))
    lead_days: int | None = field(default=None, metadata=spec("delivery", "days", 0, 1000, "empty: as in stock"))
    seller: str = ""  # a note of the maker's own
    date: str = ""  # ISO day of the state
    note: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_row(self.id)
        if self.date:
            check_day(self.date, f"date of {self.id}")


@record(frozen=True, slots=True, kw_only=True)
class OwnPart:
    """A row of the maker's own: it weighs and costs in the drive like any other."""

    id: str
    name: str = ""
    count: int = field(default=1, metadata=spec("count", "number", 1, 100000))
    price: float = field(default=0.0, metadata=spec("price of one", "money", 0.0, 1e6))
    mass: float = field(default=0.0, metadata=spec("mass of one", "mass", 0.0, 1000.0))
    lead_days: int = field(default=0, metadata=spec("delivery", "days", 0, 1000))
    ahead: Quantity | None = field(
        default=None, metadata=spec("ahead of the driven axle", "length", -6.0, 6.0, "of the transom of a boat; empty: not known")
    )
    height: Quantity | None = field(default=None, metadata=spec("above the ground", "length", -1.0, 4.0, "of a boat above the keel"))
    side: Quantity | None = field(default=None, metadata=spec("to the left of the middle", "length", -3.0, 3.0))
    used: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)


@record(frozen=True, slots=True, kw_only=True)
class StepMark:
    """What a maker did about one step, or changed of it; times are hours."""

    id: str
    state: StepState = StepState.OPEN
    low: float | None = field(default=None, metadata=_hours("at least", "hours"))
    likely: float | None = field(default=None, metadata=_hours("most likely", "hours"))
    high: float | None = field(default=None, metadata=_hours("at most", "hours"))
    spent: float | None = field(default=None, metadata=_hours("took", "hours"))
    date: str = ""  # ISO day on which it was done
    by: str = ""
    way: str = ""  # how, where its own tool is not there: other, or the id of a place of the workshop
    not_before: str = ""  # ISO day
    after: tuple[str, ...] = ()  # steps that it waits for beside its own
    gone: bool = False  # left out
    note: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_row(self.id)
        at_most(f"steps before {self.id}", len(self.after), MOST_AFTER)
        for name, day in (("date", self.date), ("not before", self.not_before)):
            if day:
                check_day(day, f"{name} of {self.id}")
        rising(self.id, (self.low, self.likely, self.high))


@record(frozen=True, slots=True, kw_only=True)
class OwnStep:
    """A step of the maker's own, or a piece of one that was split."""

    id: str
    title: str = ""
    low: float = field(default=0.5, metadata=_hours("at least", "hours"))
    likely: float = field(default=1.0, metadata=_hours("most likely", "hours"))
    high: float = field(default=2.0, metadata=_hours("at most", "hours"))
    after: tuple[str, ...] = ()
    before: tuple[str, ...] = ()  # steps that wait for it
    of: str = ""  # the step that it was split from: it takes its place together with the others
    waits: bool = False  # nobody has to stand beside it: glue, paint
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_row(self.id)
        at_most(f"steps before {self.id}", len(self.after), MOST_AFTER)
        at_most(f"steps after {self.id}", len(self.before), MOST_AFTER)
        rising(self.id, (self.low, self.likely, self.high))


@record(frozen=True, slots=True, kw_only=True)
class Rework:
    """A failure, or a second try: what it took."""

    step: str
    date: str
    text: str = ""
    hours: float = field(default=0.0, metadata=_hours("took"))
    cost: float = field(default=0.0, metadata=spec("cost", "money", 0.0, 1e6))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_row(self.step)
        check_day(self.date, f"date of the rework of {self.step}")


@record(frozen=True, slots=True, kw_only=True)
class Build:
    """Of one variant."""

    parts: tuple[PartMark, ...] = ()
    steps: tuple[StepMark, ...] = ()
    own_steps: tuple[OwnStep, ...] = ()
    reworks: tuple[Rework, ...] = ()
    begins: str = ""  # ISO day before which nothing is done; empty: today
    printers: int | None = field(default=None, metadata=spec("printers", "number", 0, 20, "empty: as the workshop has"))
    nights: bool = True  # prints run on while nobody looks
    takes_out: str = ""  # what a conversion has to take out first; empty: not told
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.takes_out not in TAKES_OUT:
            raise InputError("takes_out", self.takes_out, ", ".join(word or "empty" for word in TAKES_OUT))
        if self.begins:
            check_day(self.begins, "begins")
        at_most("marked parts", len(self.parts), MOST_MARKS)
        at_most("marked steps", len(self.steps), MOST_STEPS)
        at_most("own steps", len(self.own_steps), MOST_OWN)
        at_most("reworks", len(self.reworks), MOST_REWORKS)
        unique("marked part", [mark.id for mark in self.parts])
        unique("marked step", [mark.id for mark in self.steps])
        unique("step", [step.id for step in self.own_steps])

    def part(self, row: str) -> PartMark:
        """The mark of a row; an empty one where there is none."""
        return next((mark for mark in self.parts if mark.id == row), PartMark(id=row))

    def step(self, code: str) -> StepMark:
        """The mark of a step; an empty one where there is none."""
        return next((mark for mark in self.steps if mark.id == code), StepMark(id=code))


def rising(name: str, hours: tuple[float | None, float | None, float | None]) -> None:
    """Raises InputError for three times of which a later is the smaller."""
    told = [value for value in hours if value is not None and math.isfinite(value)]
    if told != sorted(told):
        raise InputError(f"hours of {name}", ", ".join(f"{value:g}" for value in told), "at least, most likely, at most in rising order")
