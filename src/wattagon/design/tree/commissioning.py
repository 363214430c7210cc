"""What was read while a build was brought to life, who signed it, and of which state of the build it is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field

from wattagon.design.quantity import spec
from wattagon.design.tree.build import check_row
from wattagon.design.tree.history import check_day
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_SEEN, MOST_VALUES, MOST_SIGNED = 200, 220, 200
VERDICTS = ("", "held", "failed")
_BOUND = 1e11


@record(frozen=True, slots=True, kw_only=True)
class Value:
    """One figure that was read, SI."""

    name: str
    value: float = field(metadata=spec("read", "number", -_BOUND, _BOUND))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Seen:
    """What one step of commissioning gave."""

    id: str  # of the step, such as A1
    values: tuple[Value, ...] = ()
    verdict: str = ""  # of a step that is looked at, not read
    date: str = ""
    by: str = ""
    note: str = ""
    state: Mapping[str, str] = field(default_factory=dict)  # marks of the build's parts as they were then
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_row(self.id)
        if self.verdict not in VERDICTS:
            raise InputError(f"verdict of {self.id}", self.verdict, "held, failed or empty")
        if self.date:
            check_day(self.date, f"date of {self.id}")
        at_most(f"readings of {self.id}", len(self.values), MOST_VALUES)
        names = [one.name for one in self.values]
        if len(set(names)) < len(names):
            raise InputError(f"readings of {self.id}", "a name twice", "each name once")

    def value(self, name: str) -> float | None:
        """A reading by its name."""
        return next((one.value for one in self.values if one.name == name), None)


@record(frozen=True, slots=True, kw_only=True)
class Signature:
    """A name under a stage: before power, first power, failures, on the ground, handed over."""

    stage: str
    name: str
    date: str
    state: Mapping[str, str] = field(default_factory=dict)
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_row(self.stage)
        check_day(self.date, f"date under {self.stage}")
        if not self.name.strip():
            raise InputError("name", "nothing", "who signs")


@record(frozen=True, slots=True, kw_only=True)
class Commissioning:
    """Of one variant."""

    seen: tuple[Seen, ...] = ()
    signed: tuple[Signature, ...] = ()
    firmware: str = ""  # of the controllers, in the maker's own words
    lanyard: str = ""  # whether a stop that removes drive is there: yes, no
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.lanyard not in ("", "yes", "no"):
            raise InputError("lanyard", self.lanyard, "yes, no or empty")
        at_most("commissioned steps", len(self.seen), MOST_SEEN)
        at_most("signatures", len(self.signed), MOST_SIGNED)
        ids = [one.id for one in self.seen]
        if len(set(ids)) < len(ids):
            raise InputError("commissioned steps", "one twice", "each once")

    def of(self, step: str) -> Seen:
        """What a step gave; an empty one where it was not done."""
        return next((one for one in self.seen if one.id == step), Seen(id=step))
