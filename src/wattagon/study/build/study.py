"""The build of a variant: its parts as bought so far, its steps as done so far, and when it could roll."""

from __future__ import annotations

import datetime
from collections.abc import Mapping, Sequence
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.gate import measure_first
from wattagon.design.tree import Build, Design, GoalKind, PartMark, PartState, StepMark, StepState, Workshop
from wattagon.design.tree.build import rising
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.build.gathered import Gathered, unbuilt
from wattagon.study.build.mass import Weighed, weighed
from wattagon.study.build.plan import plan
from wattagon.study.build.row import Row
from wattagon.study.build.rows import rows
from wattagon.study.build.schedule import Calendar, Job, Means, Shorter, Span, Three, along, calendar, in_order, mean_of, shortens
from wattagon.study.build.step import TOOLS, Does, Step, has
from wattagon.study.commission.state import still_signed
from wattagon.study.resolve import Input

HOURS_A_WEEK = 8.0  # where nobody told; assumed
LATE: Three = (0.0, 2.0, 10.0)  # days until what should have been here comes
LEAD_SPREAD = (0.7, 1.0, 2.0)  # of the days that a seller states; typical
PLACE_SPREAD = (0.8, 1.0, 1.8)
HERE = (PartState.SHELF, PartState.ARRIVED, PartState.FITTED)
LEARNED_MOST = 3.0


@record(frozen=True, slots=True, kw_only=True)
class Base:
    """What follows from the design alone, before anybody bought or did anything."""

    design: Design  # without what was only done
    rows: tuple[Row, ...]
    steps: tuple[Step, ...]
    proved: Mapping[str, bool]  # elements of strength whose proof held
    mass: Weighed
    inputs: Mapping[str, Input]


def base_of(found: Gathered) -> Base:
    """Of gathered studies."""
    made = rows(found)
    return Base(
        design=unbuilt(found.design),
        rows=made,
        steps=plan(found, made),
        proved={one.code: "held" in one.proved for one in found.strength.elements if one.proved},
        mass=weighed(found, made),
        inputs={**found.drive.resolved.inputs, **found.layout.inputs},
    )


@record(frozen=True, slots=True, kw_only=True)
class Part:
    """One row as it stands."""

    row: Row
    mark: PartMark
    state: PartState
    owned: float  # of its count, on the shelf
    price: float  # of one, as paid where that was told
    lead_days: int
    missing: tuple[str, ...]  # to be measured first
    gone: bool = False  # bought for what the design has no more

    @property
    def open(self) -> bool:
        """Whether it may be ordered."""
        return not self.missing

    @property
    def here(self) -> bool:
        return self.state in HERE

    @property
    def bought(self) -> float:
        """Of its count, what is not from the shelf."""
        return max(self.row.count - self.owned, 0.0)

    @property
    def spent(self) -> float:
        return self.bought * self.price if self.state in (PartState.ORDERED, PartState.ARRIVED, PartState.FITTED) else 0.0

    @property
    def to_spend(self) -> float:
        return self.bought * self.price if self.state is PartState.TO_ORDER else 0.0

    def arrives(self, today: datetime.date) -> Three | None:
        """Days until it is here; None where it is.  What is made here needs no delivery."""
        if self.here or self.row.made:
            return None
        if self.state is PartState.ORDERED and self.mark.date:
            since = (today - datetime.date.fromisoformat(self.mark.date)).days
            left = tuple(max(share * self.lead_days - since, 0.0) for share in LEAD_SPREAD)
            return LATE if left[1] <= 0.0 else (left[0], left[1], left[2])
        return tuple(share * self.lead_days for share in LEAD_SPREAD)  # type: ignore[return-value]


@record(frozen=True, slots=True, kw_only=True)
class Task:
    """One step as it stands."""

    step: Step
    mark: StepMark
    hours: Three
    after: tuple[str, ...]
    state: StepState
    span: Span
    begin: float  # days from the first day; nan once it is done
    end: float
    blocked: tuple[str, ...]  # ids of steps and rows, paths of measures, codes of proofs and tools that hold it up
    way: str  # how it is done where its tool is not there, in words; empty: with its tool
    places: tuple[str, ...]  # ids of places of the workshop that could do it
    tool_there: bool | None
    learned: float  # by which earlier failures stretch its time
    own: bool = False

    @property
    def critical(self) -> bool:
        """On the longest chain."""
        return self.state is not StepState.DONE and self.span.slack < 1e-6


@record(frozen=True, slots=True, kw_only=True)
class BuildStudy:
    """All that the bench, its findings, `wattagon parts` and `wattagon steps` show."""

    design: Design
    base: Base
    today: datetime.date
    begins: datetime.date
    parts: tuple[Part, ...]
    tasks: tuple[Task, ...]  # in an order in which they can be done
    calendar: Calendar
    means: Means
    means_assumed: bool
    jobs: tuple[Job, ...]  # that are open
    lost_hours: float
    lost_cost: float
    budget: float | None  # that the brief has

    @property
    def spent(self) -> float:
        return sum(part.spent for part in self.parts) + self.lost_cost

    @property
    def to_spend(self) -> float:
        return sum(part.to_spend for part in self.parts)

    @property
    def can_begin(self) -> tuple[Task, ...]:
        """What can be done today with what is here, the most urgent first."""
        ready = [task for task in self.tasks if not task.blocked and task.state is not StepState.DONE]
        return tuple(sorted(ready, key=lambda task: (task.span.slack, -mean_of(task.hours))))

    def shorter(self) -> tuple[Shorter, ...]:
        """What brings the end nearest; runs the calendar a dozen times."""
        return tuple(shortens(self.jobs, self.means, {task.step.id: task.step.title for task in self.tasks}))

    def finish(self, share: float) -> datetime.date:
        """The day by which it is done in a share of all draws."""
        return self.begins + datetime.timedelta(days=round(self.calendar.day(share)))

    def day(self, days: float) -> datetime.date:
        """The day of a number of days from the beginning."""
        return self.begins + datetime.timedelta(days=int(days))

    def part(self, row: str) -> Part:
        """A row by its id.  Raises InputError naming some that there are."""
        for part in self.parts:
            if part.row.id == row:
                return part
        raise InputError("row", row, ", ".join(part.row.id for part in self.parts[:8]) + ", ...")

    def task(self, code: str) -> Task:
        """A step by its id.  Raises InputError naming some that there are."""
        for task in self.tasks:
            if task.step.id == code:
                return task
        raise InputError("step", code, ", ".join(task.step.id for task in self.tasks[:8]) + ", ...")


def study_build(
    base: Base, design: Design, today: datetime.date, stock: Catalogue | None = None, *, draws: int | None = None
) -> BuildStudy:
    """The marks of a design over what follows from it; quick enough to follow a hand.

    Raises InputError for steps of the maker's own that wait for one another in a ring.
    """
    build = design.variant().build or Build()
    parts = parts_of(base, design, stock)
    wanted = {path for part in parts if part.state is PartState.TO_ORDER for path in part.missing}
    settled = frozenset(step.id for step in base.steps if step.measures and not wanted & set(step.measures))
    steps, own = with_own(base.steps, build, settled)
    workshop = design.brief.workshop
    means = Means(
        hours_a_week=workshop.hours_a_week if workshop.hours_a_week is not None else HOURS_A_WEEK,
        printers=build.printers if build.printers is not None else 1,
        nights=build.nights,
    )
    begins = max(today, datetime.date.fromisoformat(build.begins)) if build.begins else today
    learned = learned_of(base, build)
    marks = {step.id: build.step(step.id) for step in steps}
    hours = {step.id: hours_of(step, marks[step.id], workshop, learned.get(step.family, 1.0)) for step in steps}
    signed = still_signed(design)
    states = {step.id: _state(step, marks[step.id], base, signed) for step in steps}
    done = {name for name, state in states.items() if state is StepState.DONE}
    after = {step.id: tuple(dict.fromkeys((*step.after, *marks[step.id].after))) for step in steps}
    in_order(after)  # a ring is told before anything is made of it
    spans = along(after, {name: 0.0 if name in done else mean_of(hours[name]) for name in after})
    by_row = {part.row.id: part for part in parts}
    jobs = [
        _job(step, marks[step.id], hours[step.id], after[step.id], by_row, today, begins, workshop) for step in steps if step.id not in done
    ]
    cal = calendar(jobs, means) if draws is None else calendar(jobs, means, draws)
    goal = next((one.amount for one in design.brief.goals if one.kind is GoalKind.BUDGET), None)
    tasks, by_id = [], {step.id: step for step in steps}
    for name in in_order(after):
        step, mark = by_id[name], marks[name]
        dated = cal.dated.get(name)
        place = next((one for one in workshop.places if one.id == mark.way), None)
        tool = TOOLS.get(step.tool)
        tasks.append(
            Task(
                step=step,
                mark=mark,
                hours=hours[name],
                after=after[name],
                state=states[name],
                span=spans[name],
                begin=dated.begin if dated is not None else float("nan"),
                end=dated.end if dated is not None else float("nan"),
                blocked=() if name in done else _blocked(step, mark, after[name], done, by_row, base, design, today, begins),
                way=(place.name or place.id) if place is not None else tool.other if tool is not None and mark.way == "other" else "",
                places=tuple(one.id for one in workshop.places if tool is not None and any(ask in one.does.lower() for ask in tool.asks)),
                tool_there=has(workshop, step.tool),
                learned=learned.get(step.family, 1.0),
                own=name in own,
            )
        )
    return BuildStudy(
        design=design,
        base=base,
        today=today,
        begins=begins,
        parts=parts,
        tasks=tuple(tasks),
        calendar=cal,
        means=means,
        means_assumed=workshop.hours_a_week is None,
        jobs=tuple(jobs),
        lost_hours=sum(one.hours for one in build.reworks),
        lost_cost=sum(one.cost for one in build.reworks),
        budget=goal,
    )


def _state(step: Step, mark: StepMark, base: Base, signed: frozenset[str]) -> StepState:
    """As marked; a proof that held and a stage of commissioning that was signed are done without a mark."""
    if step.proofs and all(base.proved.get(code, False) for code in step.proofs):
        return StepState.DONE
    if step.commission and set(step.commission) <= signed:
        return StepState.DONE
    return mark.state


def parts_of(base: Base, design: Design, stock: Catalogue | None) -> tuple[Part, ...]:
    """Rows with their marks; what was bought for a design that is no more stands at the end."""
    variant = design.variant()
    build = variant.build or Build()
    shelf: dict[str, float] = {}
    for item in design.brief.shelf:
        shelf[item.part] = shelf.get(item.part, 0.0) + item.count
    made = []
    for row in base.rows:
        mark = build.part(row.id)
        owned = min(row.count, shelf.get(row.part, 0.0)) if row.part and row.kind != "own" else 0.0
        shelf[row.part] = shelf.get(row.part, 0.0) - owned
        state = mark.state or (PartState.SHELF if row.count > 0 and owned >= row.count else PartState.TO_ORDER)
        if state is PartState.SHELF:
            owned = row.count
        missing = measure_first(design, variant, row.id) if state in (PartState.TO_ORDER, PartState.ORDERED) else ()
        made.append(
            Part(
                row=row,
                mark=mark,
                state=state,
                owned=owned,
                price=row.price if mark.price is None else mark.price,
                lead_days=row.lead_days if mark.lead_days is None else mark.lead_days,
                missing=missing,
            )
        )
    known = {row.id for row in base.rows}
    for mark in build.parts:
        if mark.id in known or mark.state not in (PartState.ORDERED, PartState.ARRIVED, PartState.FITTED):
            continue
        part = stock.find(mark.id.split("-", 1)[-1]) if stock is not None else None
        name, price = (part.name, part.price) if part is not None else (mark.id, 0.0)
        row = Row(id=mark.id, kind="own", name=name, count=1, used="no more in the design", mass_kg=0.0, price=price)
        made.append(Part(row=row, mark=mark, state=mark.state, owned=0.0, price=mark.price or price, lead_days=0, missing=(), gone=True))
    return tuple(made)


def with_own(steps: Sequence[Step], build: Build, settled: frozenset[str] = frozenset()) -> tuple[tuple[Step, ...], frozenset[str]]:
    """Steps with the maker's own among them, those that were split in their pieces, those left out and those that are settled away."""
    gone = {mark.id for mark in build.steps if mark.gone} | settled
    pieces: dict[str, list[str]] = {}
    for one in build.own_steps:
        if one.of:
            pieces.setdefault(one.of, []).append(one.id)
    waits: dict[str, list[str]] = {}
    for one in build.own_steps:
        for name in one.before:
            waits.setdefault(name, []).append(one.id)
    before = {step.id: step.after for step in steps}

    def through(names: Sequence[str], seen: frozenset[str] = frozenset()) -> tuple[str, ...]:
        """What is waited for, past steps that were left out."""
        made: list[str] = []
        for name in names:
            if name in seen:
                continue
            made += through(before.get(name, ()), seen | {name}) if name in gone else [name]
        return tuple(dict.fromkeys(made))

    found: list[Step] = []
    for step in steps:
        if step.id in gone:
            continue
        after = (*through(step.after), *waits.get(step.id, ()), *pieces.get(step.id, ()))
        found.append(replace(step, after=tuple(dict.fromkeys(after))))
    by_id = {step.id: step for step in steps}
    for one in build.own_steps:
        if one.id in gone:
            continue
        whole = by_id.get(one.of)
        made = Step(
            id=one.id,
            title=one.title or one.id,
            phase=whole.phase if whole is not None else "own",
            hours=(one.low, one.likely, one.high),
            after=through((*one.after, *(whole.after if whole is not None else ()))),
            does=Does.WAIT if one.waits else whole.does if whole is not None else Does.HAND,
            tool=whole.tool if whole is not None else "",
            parts=whole.parts if whole is not None else (),
            caution=whole.caution if whole is not None else "",
            bench=whole.bench if whole is not None else "",
        )
        found.append(made)
    return tuple(found), frozenset(one.id for one in build.own_steps)


def learned_of(base: Base, build: Build) -> dict[str, float]:
    """By family of step, how much longer it took so far than was thought: all that was spent, second tries too, over the forecasts."""
    made: dict[str, float] = {}
    for family in {step.family for step in base.steps if step.family}:
        steps = {step.id: step for step in base.steps if step.family == family}
        told = [mark for mark in build.steps if mark.id in steps and mark.state is StepState.DONE]
        again = [one for one in build.reworks if one.step in steps]
        planned = sum(steps[mark.id].mean for mark in told) + sum(
            steps[one.step].mean for one in again if one.step not in {mark.id for mark in told}
        )
        spent = sum(mark.spent if mark.spent is not None else steps[mark.id].mean for mark in told) + sum(one.hours for one in again)
        spent += sum(steps[name].mean for name in {one.step for one in again} - {mark.id for mark in told})
        if planned > 0.0:
            made[family] = min(max(spent / planned, 1.0 / LEARNED_MOST), LEARNED_MOST)
    return made


def hours_of(step: Step, mark: StepMark, workshop: Workshop, learned: float) -> Three:
    """Its three times [h], at a place that does it [days]: the maker's own, else the rule's, longer by another way and past failures."""
    place = next((one for one in workshop.places if one.id == mark.way), None)
    if place is not None:
        days = float(place.days if place.days is not None else 7)
        return PLACE_SPREAD[0] * days, PLACE_SPREAD[1] * days, PLACE_SPREAD[2] * days
    longer = learned
    tool = TOOLS.get(step.tool)
    if tool is not None and mark.way == "other":
        longer *= tool.longer
    usual = [value * longer for value in step.hours]
    told = (mark.low, mark.likely, mark.high)
    likely = told[1] if told[1] is not None else usual[1]
    low = told[0] if told[0] is not None else min(usual[0], likely)
    high = told[2] if told[2] is not None else max(usual[2], likely)
    rising(step.id, (low, likely, high))
    return low, likely, high


def does_of(step: Step, mark: StepMark, workshop: Workshop) -> Does:
    """Who is busy."""
    return Does.PLACE if any(one.id == mark.way for one in workshop.places) else step.does


def _job(
    step: Step,
    mark: StepMark,
    hours: Three,
    after: tuple[str, ...],
    parts: Mapping[str, Part],
    today: datetime.date,
    begins: datetime.date,
    workshop: Workshop,
) -> Job:
    waits = [parts[row].arrives(today) for row in step.parts if row in parts]
    not_before = (datetime.date.fromisoformat(mark.not_before) - begins).days if mark.not_before else 0
    return Job(
        id=step.id,
        hours=hours,
        after=after,
        does=does_of(step, mark, workshop),
        ready_days=tuple(dict.fromkeys(one for one in waits if one is not None and one[2] > 0.0)),
        not_before=max(float(not_before), 0.0),
    )


def _blocked(
    step: Step,
    mark: StepMark,
    after: tuple[str, ...],
    done: set[str],
    parts: Mapping[str, Part],
    base: Base,
    design: Design,
    today: datetime.date,
    begins: datetime.date,
) -> tuple[str, ...]:
    held = [name for name in after if name not in done]
    held += [row for row in step.parts if row in parts and not parts[row].here and not parts[row].row.made]
    tool = has(design.brief.workshop, step.tool)
    if tool is False and not mark.way:
        held.append(f"tool:{step.tool}")
    if begins > today or (mark.not_before and datetime.date.fromisoformat(mark.not_before) > today):
        held.append(f"day:{max(mark.not_before, begins.isoformat())}")
    return tuple(held)
