"""All rules over one design, most urgent first; and cures, each tried before it is offered."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.paths import apply
from wattagon.design.tree import Design
from wattagon.errors import InputError, PathError
from wattagon.study import rules_drive, rules_ratings
from wattagon.study.drive import DriveStudy, study_drive
from wattagon.study.finding import URGENCY, Case, Cure, Finding, Say, Status
from wattagon.study.goals import GoalResult

MOST_TRIED = 14  # candidates tried for one finding
MOST_OFFERED = 2
WORTH_TRYING = 0.10  # gain of margin from which a change that does not cure is still offered


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
    found += [rule(case) for rule in (*rules_drive.RULES, *rules_ratings.RULES)]
    return sorted(found, key=lambda f: (URGENCY[f.status], f.margin if f.margin is not None else 0.0))


def _same(case: Case, code: str) -> Finding:
    """One finding of another design, by its code."""
    for result in case.study.goals:
        if code == f"goal.{result.goal.id}":
            return rules_drive.goal_finding(case, result)
    for rule in (*rules_drive.RULES, *rules_ratings.RULES):
        found = rule(case)
        if found.code == code:
            return found
    raise KeyError(code)


def with_cures(
    design: Design, stock: Catalogue, finding: Finding, before: Sequence[GoalResult], say: Say = plain, *,
    cancelled: Callable[[], bool] = lambda: False,
) -> Finding:  # fmt: skip
    """The finding with up to two of its candidates that, tried, leave it better: cures first, then what costs the goals least."""
    if finding.status not in (Status.OVER, Status.TIGHT) or finding.candidates is None:
        return finding
    candidates = finding.candidates()
    missed = {result.goal.id for result in before if not result.met}
    tried: list[tuple[tuple[float, ...], Cure]] = []
    for order, edit in enumerate(candidates[:: max(1, math.ceil(len(candidates) / MOST_TRIED))]):
        if cancelled():
            return finding
        try:
            changed = apply(design, edit)
            study = study_drive(changed, stock)
        except (InputError, PathError):
            continue
        after = _same(Case(design=changed, stock=stock, study=study, say=say), finding.code)
        if after.status is Status.NOT_CHECKED:
            continue
        gain = (after.margin or 0.0) - (finding.margin or 0.0)
        if URGENCY[after.status] <= URGENCY[finding.status] and gain < WORTH_TRYING:
            continue
        newly = sum(1 for result in study.goals if not result.met and result.goal.id not in missed)
        cured = sum(1 for result in study.goals if result.met and result.goal.id in missed)
        cost = study.resolved.cost
        text = effect(design, before, study.goals, say)
        helps = URGENCY[after.status] <= URGENCY[finding.status]
        if helps:
            text = f"helps, not enough alone; {text}"
        cure = Cure(edit=edit, text=edit.label, effect=text, status=after.status)
        tried.append(((helps, newly - cured, -URGENCY[after.status], -gain if helps else cost, order), cure))
    tried.sort(key=lambda item: item[0])
    offered: list[Cure] = []
    for _, cure in tried:
        if not any(_touches_same(cure, other) for other in offered):
            offered.append(cure)
        if len(offered) == MOST_OFFERED:
            break
    return replace(finding, cures=tuple(offered))


def _touches_same(a: Cure, b: Cure) -> bool:
    return {path for path, _ in a.edit.changes} == {path for path, _ in b.edit.changes}


def effect(design: Design, before: Sequence[GoalResult], after: Sequence[GoalResult], say: Say) -> str:
    """What a change does to the goals, the largest changes first, flips always named."""
    parts: list[tuple[float, str]] = []
    for old, new in zip(before, after, strict=True):
        if old.reached == new.reached:
            continue
        change = (new.reached - old.reached) / abs(old.reached) if old.reached and math.isfinite(old.reached) else math.inf
        name = rules_drive.goal_name(old.goal, say)
        flip = "" if old.met == new.met else " (now met)" if new.met else " (now missed)"
        if abs(change) < 0.005 and not flip:
            continue
        reached = "never" if math.isinf(new.reached) else say(new.reached, new.dimension)
        parts.append((-10.0 if flip else -min(abs(change), 9.0), f"{name}: {reached}{flip}"))
    parts.sort(key=lambda item: item[0])
    return "; ".join(text for _, text in parts[:3]) or "no goal changes"


def check(design: Design, stock: Catalogue, say: Say = plain, variant_id: str | None = None) -> list[Finding]:
    """Findings with cures for one variant: what `wattagon check` prints."""
    if variant_id is not None and variant_id != design.variant().id:
        design = replace(design, active=design.variant(variant_id).id)
    study = study_drive(design, stock)
    return [with_cures(design, stock, finding, study.goals, say) for finding in find(design, stock, study, say)]
