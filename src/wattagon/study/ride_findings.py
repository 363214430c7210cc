"""Findings that need rides, with cures found by riding again with the change."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from wattagon.design.paths import apply
from wattagon.errors import InputError, PathError
from wattagon.study.drive import study_drive
from wattagon.study.finding import URGENCY, Case, Cure, Finding, Status
from wattagon.study.findings import effect, made_worse, throws_over
from wattagon.study.rules_ride import Judged, RideCase, judge_all, judge_one

MOST_TRIED = 9
MOST_OFFERED = 2
WORTH = 0.15  # gain of margin from which a change that is not enough alone is still offered


def ride_findings(case: Case, all_findings: list[Finding], cancelled: Callable[[], bool] = lambda: False) -> list[Finding]:
    """All ride findings of a study with their cures; `all_findings` are the drive's, which a cure may not put over."""
    rides = RideCase(case)
    was = {f.code: f for f in all_findings}
    found = []
    for judged in judge_all(rides, cancelled):
        if cancelled():
            break
        found.append(_with_cures(judged, case, was, cancelled))
    return sorted(found, key=lambda f: (URGENCY[f.status], f.margin if f.margin is not None else 0.0))


def _with_cures(judged: Judged, case: Case, was: dict[str, Finding], cancelled: Callable[[], bool]) -> Finding:
    finding, figure = judged
    if finding.status not in (Status.OVER, Status.TIGHT) or finding.candidates is None:
        return finding
    missed = {result.goal.id for result in case.study.goals if not result.met}
    tried: list[tuple[tuple[float, ...], Cure]] = []
    for order, edit in enumerate(finding.candidates()[:MOST_TRIED]):
        if cancelled():
            return finding
        try:
            changed = apply(case.design, edit)
            other = Case(design=changed, stock=case.stock, study=study_drive(changed, case.stock), say=case.say)
            worse = made_worse(other, was)
            if worse is None or throws_over(case.study.goals, other.study.goals):
                continue
            after = judge_one(RideCase(other), finding.code)
        except (InputError, PathError):
            continue
        status = after[0].status if after is not None else Status.CLEAR
        reached = after[1] if after is not None else "not asked any more"
        gain = ((after[0].margin if after is not None else 1.0) or 0.0) - (finding.margin or 0.0)
        better = URGENCY[status] > URGENCY[finding.status]
        if status is Status.NOT_CHECKED or (not better and gain < WORTH):
            continue
        newly = sum(1 for result in other.study.goals if not result.met and result.goal.id not in missed)
        words = "; ".join((f"{figure} to {reached}", effect(case.study.goals, other.study.goals, case.say), *worse))
        words = words if better else f"helps, not enough alone: {words}"
        cure = Cure(edit=edit, text=edit.label, effect=words, status=status)
        tried.append(((not better, newly, -URGENCY[status], other.study.resolved.cost, order), cure))
    tried.sort(key=lambda item: item[0])
    offered: list[Cure] = []
    for _, cure in tried:
        paths = {path for path, _ in cure.edit.changes}
        if all(paths != {path for path, _ in kept.edit.changes} for kept in offered):
            offered.append(cure)
        if len(offered) == MOST_OFFERED:
            break
    return replace(finding, cures=tuple(offered))


def merged(drive: Sequence[Finding], rides: Sequence[Finding]) -> list[Finding]:
    """Both kinds of findings, most urgent first; what a ride found out takes the place of the closed form of the same question."""
    asked = {"motor.heat_on_climb"} if any(f.code == "ride.climb" for f in rides) else set()
    both = [f for f in (*drive, *rides) if f.code not in asked]
    return sorted(both, key=lambda f: (URGENCY[f.status], f.margin if f.margin is not None else 0.0))
