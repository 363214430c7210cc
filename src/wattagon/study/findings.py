"""All rules over one design, most urgent first; and cures, each tried before it is offered."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.paths import Edit, apply
from wattagon.design.tree import Design
from wattagon.errors import InputError, PathError
from wattagon.study import rules_drive, rules_fit, rules_ratings, rules_reduction, rules_rider
from wattagon.study.drive import DriveStudy, study_drive
from wattagon.study.finding import URGENCY, Case, Cure, Finding, Status
from wattagon.study.goals import GoalResult
from wattagon.study.words import Say, goal_name

RULES = (*rules_drive.RULES, *rules_reduction.RULES, *rules_rider.RULES, *rules_fit.RULES, *rules_ratings.RULES)
MOST_TRIED = 14  # candidates tried for one finding
MOST_OFFERED = 2
WORTH_TRYING = 0.10  # gain of margin from which a change that does not cure is still offered
FAR = 0.5  # share of a goal by which a cure may not miss it


def plain(value: float, dimension: str) -> str:
    """SI with three figures, for the terminal and for tests."""
    from wattagon.design.quantity import SI_UNITS

    if dimension == "grade":
        return f"{100 * value:.3g} %"
    return f"{value:.4g} {SI_UNITS.get(dimension, '')}".strip()


def find(design: Design, stock: Catalogue, study: DriveStudy, say: Say = plain) -> list[Finding]:
    """Every finding of a study, most urgent first; cures are left to `with_cures`."""
    case = Case(design=design, stock=stock, study=study, say=say)
    found = [rules_drive.goal_finding(case, result) for result in study.goals]
    found += [finding for rule in RULES if (finding := rule(case)) is not None]
    return sorted(found, key=lambda f: (URGENCY[f.status], f.margin if f.margin is not None else 0.0))


def _same(case: Case, code: str) -> Finding | None:
    """One finding of another design, by its code; None where it is not asked any more."""
    for result in case.study.goals:
        if code == f"goal.{result.goal.id}":
            return rules_drive.goal_finding(case, result)
    for rule in RULES:
        found = rule(case)
        if found is not None and found.code == code:
            return found
    return None


def with_cures(
    finding: Finding, study: DriveStudy, stock: Catalogue, all_findings: Sequence[Finding], say: Say = plain, *,
    cancelled: Callable[[], bool] = lambda: False,
) -> Finding:  # fmt: skip
    """The finding with up to two of its candidates that, tried, leave it better: cures first, then what costs the goals least.

    `all_findings` are those of the same study: a change that puts any other rating over its limit is no cure, nor one that throws a goal
    over that was met, or nearly; what it makes tight is told with it.
    """
    if finding.status not in (Status.OVER, Status.TIGHT) or finding.candidates is None:
        return finding
    design, before = study.design, study.goals
    was = {f.code: f for f in all_findings}
    candidates = finding.candidates()
    missed = {result.goal.id for result in before if not result.met}
    tried: list[tuple[tuple[float, ...], Cure]] = []
    for order, edit in enumerate(candidates[:: max(1, math.ceil(len(candidates) / MOST_TRIED))]):
        if cancelled():
            return finding
        try:
            changed = apply(design, edit)
            case = Case(design=changed, stock=stock, study=study_drive(changed, stock), say=say)
        except (InputError, PathError):
            continue
        after = _same(case, finding.code)
        status = after.status if after is not None else Status.CLEAR
        margin = (after.margin or 0.0) if after is not None else 1.0
        if status is Status.NOT_CHECKED or throws_over(before, case.study.goals):
            continue
        worse = made_worse(case, was)
        if worse is None:
            continue
        gain = margin - (finding.margin or 0.0)
        if URGENCY[status] <= URGENCY[finding.status] and gain < WORTH_TRYING:
            continue
        newly = sum(1 for result in case.study.goals if not result.met and result.goal.id not in missed)
        cured = sum(1 for result in case.study.goals if result.met and result.goal.id in missed)
        cost = case.study.resolved.cost
        text = "; ".join((effect(before, case.study.goals, say), *worse))
        helps = URGENCY[status] <= URGENCY[finding.status]
        if helps:
            text = f"helps, not enough alone; {text}"
        cure = Cure(edit=edit, text=edit.label, effect=text, status=status)
        tried.append(((helps, newly - cured, -URGENCY[status], len(worse), -gain if helps else cost, order), cure))
    tried.sort(key=lambda item: item[0])
    offered: list[Cure] = []
    for _, cure in tried:
        if not any(_touches_same(cure, other) for other in offered):
            offered.append(cure)
        if len(offered) == MOST_OFFERED:
            break
    return replace(finding, cures=tuple(offered))


def throws_over(before: Sequence[GoalResult], after: Sequence[GoalResult]) -> bool:
    """Whether a change misses a goal by far that was met, or makes a missed one much worse: nobody would buy that."""
    return any(not new.met and new.margin < min(old.margin, 0.0) - FAR for old, new in zip(before, after, strict=True))


def made_worse(case: Case, was: Mapping[str, Finding]) -> list[str] | None:
    """What a change makes tight that was clear, in words; None where it puts a rating over that was not."""
    told = []
    for rule in RULES:
        now = rule(case)
        if now is None or now.status not in (Status.OVER, Status.TIGHT):
            continue
        old = was.get(now.code)
        if old is not None and URGENCY[old.status] <= URGENCY[now.status]:
            continue
        if now.status is Status.OVER:
            return None
        told.append(f"then tight: {now.title}")
    return told


def newly_over(
    design: Design, stock: Catalogue, edits: Sequence[Edit], before: Sequence[Finding], say: Say = plain, *,
    cancelled: Callable[[], bool] = lambda: False,
) -> list[Finding | None]:  # fmt: skip
    """For each edit the first rating, not a goal, that it would newly put over its limit; what a step would break."""
    over = {finding.code for finding in before if finding.status is Status.OVER}
    found: list[Finding | None] = []
    for edit in edits:
        if cancelled():
            break
        try:
            changed = apply(design, edit)
            case = Case(design=changed, stock=stock, study=study_drive(changed, stock), say=say)
        except (InputError, PathError):
            found.append(None)
            continue
        found.append(breaks_rating(case, over))
    return found


def breaks_rating(case: Case, over: set[str]) -> Finding | None:
    """The first rating of a changed design that is over and was not before."""
    judged = (rule(case) for rule in reversed(RULES))
    return next((f for f in judged if f is not None and f.status is Status.OVER and f.code not in over), None)


def _touches_same(a: Cure, b: Cure) -> bool:
    return {path for path, _ in a.edit.changes} == {path for path, _ in b.edit.changes}


def effect(before: Sequence[GoalResult], after: Sequence[GoalResult], say: Say) -> str:
    """What a change does to the goals, the largest changes first, flips always named."""
    parts: list[tuple[float, str]] = []
    for old, new in zip(before, after, strict=True):
        if old.reached == new.reached:
            continue
        change = (new.reached - old.reached) / abs(old.reached) if old.reached and math.isfinite(old.reached) else math.inf
        name = goal_name(old.goal, say)
        flip = "" if old.met == new.met else " (now met)" if new.met else " (now missed)"
        if abs(change) < 0.005 and not flip:
            continue
        reached = "never" if math.isinf(new.reached) else say(new.reached, new.dimension)
        parts.append((-10.0 if flip else -min(abs(change), 9.0), f"{name}: {reached}{flip}"))
    parts.sort(key=lambda item: item[0])
    return "; ".join(text for _, text in parts[:3]) or "no goal changes"


def check(
    design: Design, stock: Catalogue, say: Say = plain, variant_id: str | None = None, *, rides: bool = False
) -> list[Finding]:  # fmt: skip
    """Findings with cures for one variant: what `wattagon check` prints; with `rides` those that need a simulation too."""
    if variant_id is not None and variant_id != design.variant().id:
        design = replace(design, active=design.variant(variant_id).id)
    study = study_drive(design, stock)
    found = find(design, stock, study, say)
    cured = [with_cures(finding, study, stock, found, say) for finding in found]
    if rides:
        from wattagon.study.ride_findings import merged, ride_findings  # loads the compiler

        return merged(cured, ride_findings(Case(design=design, stock=stock, study=study, say=say), found))
    return cured
