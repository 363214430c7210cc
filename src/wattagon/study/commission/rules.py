"""Rules on commissioning: a step that failed, steps that have to be done again, a hand-over that no longer holds."""

from __future__ import annotations

from wattagon.record import record
from wattagon.study.commission.grounds import Grounds, grounds_of
from wattagon.study.commission.judge import Verdict as Came
from wattagon.study.commission.study import CommissionStudy, study_commission
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.layout.study import LayoutStudy, study_layout
from wattagon.study.pack.study import study_pack
from wattagon.study.studies import Task
from wattagon.study.wiring.study import study_wiring


def laid(case: Case) -> LayoutStudy:
    """The layout of a case without its gaps."""
    return case.made("layout without gaps", lambda: study_layout(case.design, case.stock, case.study, gaps=False))


def grounds(case: Case) -> Grounds:
    """Of a case, worked out once; wiring without its rides, of which no range depends."""

    def make() -> Grounds:
        layout = laid(case)
        pack = study_pack(case.design, case.stock, case.study, ())
        return grounds_of(case.design, case.stock, case.study, layout, study_wiring(case.design, case.stock, case.study, pack, layout, ()))

    return case.made("grounds", make)


def commissioned(case: Case) -> CommissionStudy:
    """The commissioning of a case, worked out once."""
    return case.made("commission", lambda: study_commission(grounds(case), case.design))


def failed(case: Case) -> Verdict | None:
    """The way on stops at a failed step."""
    one = commissioned(case).stopped
    if one is None:
        return None
    said = f": {'; '.join(one.judged.said)}" if one.judged.said else ""
    return Verdict(status=Status.OVER, title=f"{one.item.id} {one.item.title} failed{said}", margin=-1.0)


def again(case: Case) -> Verdict | None:
    """Steps that were done before something they rest on changed."""
    found = [one for one in commissioned(case).applying if one.reopened and one.judged.verdict is not Came.OPEN]
    if not found:
        return None
    names = ", ".join(one.item.id for one in found[:6])
    more = f" and {len(found) - 6} more" if len(found) > 6 else ""
    why = f"{found[0].reopened[0]}.".capitalize()
    return Verdict(status=Status.TIGHT, title=f"To be done again: {names}{more}", because=why, margin=0.0)


def begun(case: Case) -> Verdict | None:
    """A build that was signed for is not told to be untried; one that is not signed is not checked."""
    found = commissioned(case)
    told = found.grounds.told
    if not told.seen and not told.signed:
        return None
    if found.ready:
        left = sum(not one.passed for one in found.applying)
        return Verdict(status=Status.NOT_CHECKED, title=f"{left} of {len(found.applying)} steps of commissioning are open")
    if found.handed is None:
        return Verdict(status=Status.NOT_CHECKED, title="All steps held; the hand-over is not signed")
    return Verdict(status=Status.CLEAR, title=f"Handed over by {found.handed.name} on {found.handed.date}")


RULES: tuple[Rule, ...] = (
    Rule(
        code="commission.failed",
        bench="commission",
        link="commission",
        because="A step that fails stops the way on: what comes after it rests on it.",
        judge=failed,
    ),
    Rule(
        code="commission.again",
        bench="commission",
        link="commission",
        because="A step is done again when something that it rests on has changed.",
        judge=again,
    ),
    Rule(
        code="commission.open",
        bench="commission",
        link="commission",
        because="Nobody else rides before every step has held and the hand-over is signed.",
        judge=begun,
    ),
)


@record(frozen=True, slots=True, kw_only=True)
class CommissionFound:
    """What the worker brings."""

    study: CommissionStudy
    layout: LayoutStudy
    findings: list[Finding]


def run(task: Task) -> CommissionFound | None:
    """Of a task; None when it was cancelled."""
    followed = task.results["drive"]
    case = Case(task.design, task.stock, followed.study, task.say)
    found = commissioned(case)
    findings = slow_findings(case, followed.findings, RULES, task.cancelled)
    return None if task.cancelled() else CommissionFound(study=found, layout=laid(case), findings=findings)
