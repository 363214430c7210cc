"""Cures: changes that are tried before they are offered, and what a step would break."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from wattagon.design.paths import Edit, apply
from wattagon.errors import InputError, PathError
from wattagon.record import record
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.rules import RULES
from wattagon.study.drive.study import study_drive
from wattagon.study.drive.words import goal_name
from wattagon.study.findings.finding import Cure, Finding, GoalChange
from wattagon.study.findings.rule import Case, Rule
from wattagon.study.findings.status import URGENCY, Status
from wattagon.study.say import Say

FAR = 0.5  # share of a goal by which a cure may not miss it
SEEN = 0.005  # share from which a change of a goal is told


@record(frozen=True, slots=True, kw_only=True)
class Budget:
    """How much is tried for one finding, and what is worth telling."""

    tried: int = 14  # candidates
    offered: int = 2
    worth: float = 0.10  # gain of margin from which a change that does not cure is still offered


QUICK = Budget()
RIDDEN = Budget(tried=9, worth=0.15)  # each candidate is a ride


def with_cures(
    finding: Finding,
    case: Case,
    all_findings: Sequence[Finding],
    again: Callable[[Case, str], Finding | None],
    *,
    budget: Budget = QUICK,
    rules: Sequence[Rule] = (),
    cancelled: Callable[[], bool] = lambda: False,
) -> Finding:
    """The finding with up to two of its candidates that, tried, leave it better: cures first, then what costs the goals least.

    `all_findings` are the drive's of the same case: a change that puts any other rating over its limit is no cure, nor one that throws a
    goal over that was met, or nearly; what it makes tight is told with it.  `rules` are judged beside those of the drive where that is
    quick; their findings are then among `all_findings`.  `again` judges one finding of a changed design by its code.
    """
    if finding.status not in (Status.OVER, Status.TIGHT) or finding.candidates is None:
        return finding
    before, was = case.study.goals, {f.code: f for f in all_findings}
    candidates = finding.candidates()
    missed = {result.goal.id for result in before if not result.met}
    tried: list[tuple[tuple[float, ...], Cure]] = []
    for order, edit in enumerate(candidates[:: max(1, math.ceil(len(candidates) / budget.tried))]):
        if cancelled():
            return finding
        try:
            changed = apply(case.design, edit)
            other = Case(changed, case.stock, study_drive(changed, case.stock), case.say, tried_on=case)
            goals = other.study.goals
            worse = None if throws_over(before, goals) else made_worse(other, was, rules)
            if worse is None:
                continue
            after = again(other, finding.code)
        except (InputError, PathError):
            continue
        status = after.status if after is not None else Status.CLEAR
        margin = (after.margin or 0.0) if after is not None else 1.0
        gain = margin - (finding.margin or 0.0)
        better = URGENCY[status] > URGENCY[finding.status]
        if status is Status.NOT_CHECKED or (not better and gain < budget.worth):
            continue
        newly = sum(1 for result in goals if not result.met and result.goal.id not in missed)
        cured = sum(1 for result in goals if result.met and result.goal.id in missed)
        figure = f"{finding.figure} to {after.figure if after is not None else 'not asked any more'}" if finding.figure else ""
        notes = (*((figure,) if figure else ()), *worse)
        words = "; ".join((*((figure,) if figure else ()), effect(before, goals, case.say), *worse))
        cure = Cure(
            edit=edit,
            text=edit.label,
            effect=words if better else f"helps, not enough alone; {words}",
            status=status,
            goals=goal_changes(before, goals),
            notes=notes if better else ("helps, not enough alone", *notes),
        )
        rank = (not better, newly - cured, -URGENCY[status], len(worse), other.study.resolved.cost if better else -gain, order)
        tried.append((rank, cure))
    tried.sort(key=lambda item: item[0])
    offered: list[Cure] = []
    for _, cure in tried:
        if not any(_touches_same(cure, kept) for kept in offered):
            offered.append(cure)
        if len(offered) == budget.offered:
            break
    return replace(finding, cures=tuple(offered))


def throws_over(before: Sequence[GoalResult], after: Sequence[GoalResult]) -> bool:
    """Whether a change misses a goal by far that was met, or makes a missed one much worse: nobody would buy that."""
    return any(not new.met and new.margin < min(old.margin, 0.0) - FAR for old, new in zip(before, after, strict=True))


def ratings(case: Case) -> list[Finding]:
    """What the drive's rules find, goals left out."""
    return [finding for rule in RULES if rule.link != "goal" for finding in rule.findings(case)]


def made_worse(case: Case, was: Mapping[str, Finding], rules: Sequence[Rule] = ()) -> list[str] | None:
    """What a change makes tight that was clear, in words; None where it puts a rating over that was not."""
    told = []
    for now in (*ratings(case), *(finding for rule in rules for finding in rule.findings(case))):
        old = was.get(now.code)
        if now.status not in (Status.OVER, Status.TIGHT) or (old is not None and URGENCY[old.status] <= URGENCY[now.status]):
            continue
        if now.status is Status.OVER:
            return None
        told.append(f"then tight: {now.title}")
    return told


def newly_over(
    case: Case, edits: Sequence[Edit], before: Sequence[Finding], *, cancelled: Callable[[], bool] = lambda: False
) -> list[Finding | None]:
    """For each edit the first rating, not a goal, that it would newly put over its limit; what a step would break."""
    over = {finding.code for finding in before if finding.status is Status.OVER}
    found: list[Finding | None] = []
    for edit in edits:
        if cancelled():
            break
        try:
            changed = apply(case.design, edit)
            found.append(breaks_rating(Case(changed, case.stock, study_drive(changed, case.stock), case.say), over))
        except (InputError, PathError):
            found.append(None)
    return found


def breaks_rating(case: Case, over: set[str]) -> Finding | None:
    """The first rating of a changed design that is over and was not before; electrical ratings first."""
    judged = (finding for rule in reversed(RULES) if rule.link != "goal" for finding in rule.findings(case))
    return next((f for f in judged if f.status is Status.OVER and f.code not in over), None)


def _touches_same(a: Cure, b: Cure) -> bool:
    return {path for path, _ in a.edit.changes} == {path for path, _ in b.edit.changes}


def goal_changes(before: Sequence[GoalResult], after: Sequence[GoalResult]) -> tuple[GoalChange, ...]:
    """What a change does to every goal, in the order of the brief."""
    return tuple(
        GoalChange(goal=a.goal.id, before=a.margin, after=b.margin, reached=a.reached, now=b.reached, dimension=b.dimension)
        for a, b in zip(before, after, strict=True)
    )


def effect(before: Sequence[GoalResult], after: Sequence[GoalResult], say: Say) -> str:
    """What a change does to the goals, the largest changes first, flips always named."""
    parts: list[tuple[float, str]] = []
    for old, new in zip(before, after, strict=True):
        if old.reached == new.reached:
            continue
        change = (new.reached - old.reached) / abs(old.reached) if old.reached and math.isfinite(old.reached) else math.inf
        name = goal_name(old.goal, say)
        flip = "" if old.met == new.met else " (now met)" if new.met else " (now missed)"
        if abs(change) < SEEN and not flip:
            continue
        reached = "never" if math.isinf(new.reached) else say(new.reached, new.dimension)
        parts.append((-10.0 if flip else -min(abs(change), 9.0), f"{name}: {reached}{flip}"))
    parts.sort(key=lambda item: item[0])
    return "; ".join(text for _, text in parts[:3]) or "no goal changes"


def drive_again(case: Case, code: str) -> Finding | None:
    """One of the drive's findings by its code."""
    rule = next((rule for rule in RULES if rule.gives(code)), None)
    return rule.again(case, code) if rule is not None else None
