"""A trouble that is being looked into: its symptom, and what tests answered so far."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import spec
from wattagon.design.tree.build import check_row
from wattagon.design.tree.history import check_day
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.record import record

MOST_ANSWERS = 60


@record(frozen=True, slots=True, kw_only=True)
class Answer:
    """What one test gave."""

    test: str
    answer: str
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_row(self.test)
        check_row(self.answer)


@record(frozen=True, slots=True, kw_only=True)
class Inquiry:
    """The one that is open."""

    symptom: str = ""
    step: str = ""  # of commissioning, that failed
    speed: float | None = field(default=None, metadata=spec("shows at", "speed", 0.0, 100.0))
    answers: tuple[Answer, ...] = ()
    begun: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("answers", len(self.answers), MOST_ANSWERS)
        if self.begun:
            check_day(self.begun, "begun")
