"""Commissioning of a design: its steps in order with ranges, what was read, what stops the way on, who signed."""

from __future__ import annotations

from dataclasses import replace

from wattagon.design.tree import Design, Seen, Signature
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.commission.grounds import Grounds
from wattagon.study.commission.item import STAGES, Item
from wattagon.study.commission.items import before_connection, first_power
from wattagon.study.commission.items_moving import failures, moving
from wattagon.study.commission.judge import Judged, Verdict, judge
from wattagon.study.commission.state import marks, reopened, still_signed

AGAIN_EACH_SEASON = ("A1", "A8", "D1", "D2", "D3", "C1", "C5")
SEASON_DAYS, SEASON_HOURS = 182, 50.0  # each half a year or 50 h; typical
HANDED = "handed"


@record(frozen=True, slots=True, kw_only=True)
class Done:
    """One step with what was read of it."""

    item: Item
    seen: Seen
    judged: Judged
    reopened: tuple[str, ...]  # why it has to be done again

    @property
    def verdict(self) -> Verdict:
        """Open again where something that it rests on has changed."""
        return Verdict.OPEN if self.reopened and self.judged.verdict is not Verdict.FAILED else self.judged.verdict

    @property
    def passed(self) -> bool:
        return self.verdict in (Verdict.HELD, Verdict.TIGHT)


@record(frozen=True, slots=True, kw_only=True)
class Stage:
    """One of the four, with the name under it."""

    code: str
    name: str
    caution: str
    steps: tuple[Done, ...]
    signed: Signature | None
    stale: bool  # signed before something that it rests on changed

    @property
    def passed(self) -> bool:
        """All that applies held."""
        return all(one.passed for one in self.steps if one.item.applies)


@record(frozen=True, slots=True, kw_only=True)
class CommissionStudy:
    """All that the bench, its findings and `wattagon commission` show."""

    design: Design
    grounds: Grounds
    stages: tuple[Stage, ...]
    handed: Signature | None

    @property
    def steps(self) -> tuple[Done, ...]:
        return tuple(one for stage in self.stages for one in stage.steps)

    @property
    def applying(self) -> tuple[Done, ...]:
        return tuple(one for one in self.steps if one.item.applies)

    @property
    def stopped(self) -> Done | None:
        """The first failed step: it stops the way on."""
        return next((one for one in self.applying if one.verdict is Verdict.FAILED), None)

    @property
    def next(self) -> Done | None:
        """The step in hand: the first that is not passed."""
        return next((one for one in self.applying if not one.passed), None)

    def may(self, code: str) -> bool:
        """Whether the way leads to a step: nothing before it failed."""
        for one in self.applying:
            if one.item.id == code:
                return True
            if one.verdict is Verdict.FAILED:
                return False
        return True

    @property
    def ready(self) -> tuple[str, ...]:
        """What is missing for the hand-over, in sentences; nothing: it can be signed."""
        said = [f"{one.item.id} {one.item.title.lower()}: {_why(one)}" for one in self.applying if not one.passed]
        said += [f"stage {stage.code} is not signed" for stage in self.stages if stage.signed is None or stage.stale]
        return tuple(said)

    def step(self, code: str) -> Done:
        """A step by its id.  Raises InputError naming those that there are."""
        for one in self.steps:
            if one.item.id.casefold() == code.casefold():
                return one
        raise InputError("step", code, ", ".join(one.item.id for one in self.steps))


def _why(one: Done) -> str:
    if one.judged.verdict is Verdict.FAILED:
        return "failed"
    return f"again, {one.reopened[0]}" if one.reopened else "not done"


def study_commission(grounds: Grounds, design: Design) -> CommissionStudy:
    """What was read over the ranges of `grounds`; quick enough to follow typing.  `design` may be newer in what was only read."""
    grounds = replace(grounds, design=design)
    told, now, holding = grounds.told, marks(design.variant()), still_signed(design)
    made = [item for make in (before_connection, first_power, failures, moving) for item in make(grounds)]
    stages = []
    for code, name, caution in STAGES:
        steps = []
        for item in made:
            if item.stage != code:
                continue
            seen = told.of(item.id)
            steps.append(Done(item=item, seen=seen, judged=judge(item, seen), reopened=reopened(design, item.rests_on, seen, now)))
        signed = next((one for one in reversed(told.signed) if one.stage == code), None)
        stale = signed is not None and code not in holding
        stages.append(Stage(code=code, name=name, caution=caution, steps=tuple(steps), signed=signed, stale=stale))
    handed = next((one for one in reversed(told.signed) if one.stage == HANDED), None)
    return CommissionStudy(design=design, grounds=grounds, stages=tuple(stages), handed=handed)
