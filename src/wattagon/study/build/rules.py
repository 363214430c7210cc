"""Rules on a build: bought before it was measured, money, tools that are not there, what is late, what the design has no more."""

from __future__ import annotations

import datetime

from wattagon.design.gate import unreasoned
from wattagon.design.paths import Edit
from wattagon.design.tree import PartState, StepState
from wattagon.record import record
from wattagon.study.build.gathered import gather, gathered
from wattagon.study.build.mark import change_step
from wattagon.study.build.schedule import Shorter
from wattagon.study.build.step import TOOLS
from wattagon.study.build.study import Base, BuildStudy, Part, Task, base_of, study_build
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict, held_under, unknown
from wattagon.study.findings.status import Status
from wattagon.study.studies import Task as Asked

LATE_DAYS = 3


def today() -> datetime.date:
    """The day on which it is asked."""
    return datetime.date.today()


def built(case: Case) -> BuildStudy:
    """The build of a case, worked out once."""

    def make() -> BuildStudy:
        return study_build(based(case), case.design, today(), case.stock)

    return case.made("build", make)


def based(case: Case) -> Base:
    """What follows from the design of a case alone, worked out once; a change of marks keeps that of the design it is tried on."""

    def make() -> Base:
        return base_of(gathered(case))

    return case.made("build base", make)


def early(case: Case) -> list[tuple[str, Part]]:
    """Rows that were bought though what they must fit was not measured."""
    bought = (PartState.ORDERED, PartState.ARRIVED)
    return [(part.row.id, part) for part in built(case).parts if part.state in bought and (part.missing or part.mark.reason)]


def bought_early(case: Case, part: Part) -> Verdict | None:
    """With a reason it is tight, without one over."""
    missing = ", ".join(path.rsplit(".", 1)[-1].replace("_", " ") for path in part.missing)
    bare = any(mark.id == part.row.id for variant, mark, _ in unreasoned(case.design) if variant.id == case.design.variant().id)
    if not part.missing:
        return None
    if bare:
        return Verdict(status=Status.OVER, title=f"{part.row.name} was bought; not measured: {missing}", margin=-1.0)
    return Verdict(status=Status.TIGHT, title=f"{part.row.name} was bought before {missing} was measured: {part.mark.reason}", margin=0.0)


def money(case: Case) -> Verdict | None:
    """Everything, down to screws, second tries among it."""
    found = built(case)
    if found.budget is None:
        return None
    whole = found.spent + found.to_spend
    status, margin = held_under(whole, max(found.budget, 1e-9), 0.05)
    say = lambda value: case.say(value, "money")
    title = f"{say(found.spent)} spent and {say(found.to_spend)} to spend, {say(found.budget)} is the budget"
    return Verdict(status=status, title=title, margin=margin, figure=say(whole))


def untooled(case: Case) -> list[tuple[str, Task]]:
    """Open steps whose tool the workshop does not have, one a tool."""
    found: dict[str, Task] = {}
    for task in built(case).tasks:
        if task.state is not StepState.DONE and task.tool_there is False:
            found.setdefault(task.step.tool, task)
    return list(found.items())


def tool_there(case: Case, task: Task) -> Verdict:
    """Another way, or a place, has to be chosen."""
    tool = TOOLS[task.step.tool]
    alike = [one for one in built(case).tasks if one.step.tool == task.step.tool and one.state is not StepState.DONE]
    if all(one.mark.way for one in alike):
        ways = ", ".join(dict.fromkeys(one.way for one in alike if one.way))
        return Verdict(status=Status.CLEAR, title=f"No {tool.words} here; done another way: {ways}")
    waiting = [one for one in alike if not one.mark.way]
    other = f" Another way: {tool.other}." if tool.other else ""
    place = f" Could be done by: {', '.join(task.places)}." if task.places else ""

    def ways_out() -> tuple[Edit, ...]:
        choices = [*task.places, *(["other"] if tool.other else [])]
        return tuple(change_step(case.design, waiting[0], way=choice) for choice in choices)

    return Verdict(
        status=Status.TIGHT,
        title=f"No {tool.words} in the workshop: {waiting[0].step.title}",
        because=f"The workshop of the brief has none.{other}{place}",
        margin=0.0,
        candidates=ways_out if len(waiting) == 1 else None,
    )


def workshop_told(case: Case) -> Verdict | None:
    """Tools are not checked against a workshop of which nobody told."""
    if case.design.brief.workshop.stated:
        return None
    return unknown("Whether the tools of all steps are there: the workshop is not told")


def late(case: Case) -> Verdict | None:
    """Ordered, and past its day by more than a few."""
    found = built(case)
    days = [
        (part, (found.today - datetime.date.fromisoformat(part.mark.date)).days - part.lead_days)
        for part in found.parts
        if part.state is PartState.ORDERED and part.mark.date and not part.row.made
    ]
    over = sorted(((left, part) for part, left in days if left > LATE_DAYS), key=lambda one: -one[0])
    if not over:
        return Verdict(status=Status.CLEAR, title="Nothing that was ordered is late") if days else None
    left, part = over[0]
    return Verdict(
        status=Status.TIGHT, title=f"{part.row.name} is {left} days late{f', {len(over) - 1} more' if over[1:] else ''}", margin=0.0
    )


def no_more(case: Case) -> Verdict | None:
    """Bought for what the design has no more."""
    gone = [part for part in built(case).parts if part.gone]
    if not gone:
        return None
    names = ", ".join(part.row.name for part in gone[:3])
    return Verdict(status=Status.TIGHT, title=f"Bought, and no more in the design: {names}", margin=0.0)


RULES: tuple[Rule, ...] = (
    Rule(
        code="build.early",
        bench="build",
        link="parts",
        because="What is bought before it is measured may not fit; a reason that was given stays with it.",
        judge=bought_early,
        of=early,
    ),
    Rule(
        code="build.money",
        bench="build",
        link="goal",
        because="The budget of the brief, against everything down to screws; what is on the shelf costs nothing.",
        judge=money,
    ),
    Rule(code="build.tool", bench="build", link="parts", because="The workshop of the brief has none.", judge=tool_there, of=untooled),
    Rule(code="build.workshop", bench="build", link="parts", because="Steps name the tool that they need.", judge=workshop_told),
    Rule(code="build.late", bench="build", link="parts", because="By the day of the order and the seller's days.", judge=late),
    Rule(code="build.gone", bench="build", link="parts", because="The money is spent; it may serve another variant.", judge=no_more),
)


@record(frozen=True, slots=True, kw_only=True)
class BuildFound:
    """What the worker brings: the build, what shortens it, and findings."""

    study: BuildStudy
    shorter: tuple[Shorter, ...]
    findings: list[Finding]


def run(task: Asked) -> BuildFound | None:
    """Of a task; None when it was cancelled."""
    followed = task.results["drive"]
    case = Case(task.design, task.stock, followed.study, task.say)
    case.made("gathered", lambda: gather(task.design, task.stock, task.say, followed.study))
    found = built(case)
    findings = slow_findings(case, followed.findings, RULES, task.cancelled)
    return None if task.cancelled() else BuildFound(study=found, shorter=found.shorter(), findings=findings)
