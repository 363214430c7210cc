"""Schools as rows of words beside a ready-made vehicle: what each is, does, costs and asks of its maker."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import GoalKind, ReadyMade
from wattagon.study.compare.schools import Schooled
from wattagon.study.compare.words import Row
from wattagon.study.drive.study import StateResult
from wattagon.study.drive.words import goal_name
from wattagon.study.finder.words import drive_words
from wattagon.study.findings.status import Status
from wattagon.study.say import Say

ASSUMED = "Care and wear are typical and assumed. A ready-made vehicle's figures are as they were stated, and nothing here checks them."


def heads(found: Sequence[Schooled], ready: ReadyMade | None) -> list[str]:
    """Names over the columns."""
    return [one.school.name for one in found] + ([ready.name] if ready is not None else [])


def school_rows(found: Sequence[Schooled], ready: ReadyMade | None, stock: Catalogue, say: Say) -> list[Row]:
    """Best of a row marked where there is a better; a school without a drive has only its reason."""

    def texts(section: str, name: str, of: Callable[[Schooled], str], told: str = "") -> Row:
        cells = [of(one) for one in found] + ([told] if ready is not None else [])
        return Row(section=section, name=name, cells=tuple(cells))

    def figures(
        name: str, dimension: str, of: Callable[[Schooled], float], told: float | None, better: int, section: str = "figures"
    ) -> Row:
        values = [of(one) if one.side is not None else math.nan for one in found]
        values += [math.nan if told is None else told] if ready is not None else []
        known = [value for value in values if math.isfinite(value)]
        most = max(map(abs, known), default=0.0)
        best = values.index(max(known) if better > 0 else min(known)) if better and len(set(known)) > 1 else -1
        bars = tuple(abs(value) / most if math.isfinite(value) and most > 0.0 else math.nan for value in values)
        cells = tuple("" if not math.isfinite(value) else say(value, dimension) for value in values)
        return Row(section=section, name=name, cells=cells, bars=bars, best=best)

    made = [texts("parts", "drive", lambda one: _drive(one, stock), "as it is bought")]
    if any(one.misses for one in found):
        made.append(texts("parts", "misses", lambda one: one.misses or ("nothing" if one.side else ""), "not checked"))
    told = ready or ReadyMade()
    made += [
        figures("still to buy", "money", lambda one: one.money, told.price, -1),
        figures("top speed, half full", "speed", lambda one: _state(one).top_speed_m_s, told.top_speed, 1),
        figures("starts on", "grade", lambda one: _state(one).max_grade, told.grade, 1),
        figures("range", "distance", _range, told.range, 1),
        figures("all up, rider with it", "mass", _all_up, None, -1),
        figures("the vehicle alone", "mass", _alone, told.mass, -1),
        figures("mass of the drive", "mass", lambda one: one.mass_kg, None, -1),
        figures("of it on the driven axle", "mass", lambda one: one.unsprung_kg, told.unsprung, -1),
        figures("its middle, ahead of the driven axle", "length", lambda one: round(one.forward_m, 3), None, 0),
        figures("its middle, above the ground", "length", lambda one: round(one.height_m, 3), None, -1),
        figures("hands at work until it rolls", "time", lambda one: 3600.0 * one.hours[1], told.hours, -1, "work"),
        figures("at most", "time", lambda one: 3600.0 * one.hours[2], None, -1, "work"),
        figures("care in 1000 km", "time", lambda one: 3600.0 * one.care_h, None, -1, "work"),
        figures("wear in 1000 km", "money", lambda one: one.wear, told.upkeep, -1, "work"),
        texts("work", "tools", lambda one: ", ".join(one.tools), told.tools),
        texts("work", "of them not there", lambda one: ", ".join(one.lacking) or ("none" if one.side else ""), ""),
        texts("wet", "hard in the wet", lambda one: one.school.wet if one.side else "", told.wet),
    ]
    for k, goal in enumerate(next((one.side.study.goals for one in found if one.side), ())):
        if goal.goal.kind in (GoalKind.BUDGET, GoalKind.ADDED_MASS):
            continue
        results = [one.side.study.goals[k] if one.side else None for one in found] + ([None] if ready is not None else [])
        cells = tuple("" if one is None else say(one.reached, one.dimension) if math.isfinite(one.reached) else "never" for one in results)
        statuses = tuple(None if one is None else Status.CLEAR if one.met else Status.OVER for one in results)
        made.append(Row(section="goals", name=goal_name(goal.goal, say), cells=cells, statuses=statuses))
    return [row for row in made if any(row.cells)]


def _drive(one: Schooled, stock: Catalogue) -> str:
    return drive_words(one.side.design.variant(), stock) if one.side is not None else one.why_not


def _state(one: Schooled) -> StateResult:
    assert one.side is not None
    return one.side.study.states["nominal"]


def _all_up(one: Schooled) -> float:
    assert one.side is not None
    return float(one.side.study.resolved.load.mass_kg)


def _range(one: Schooled) -> float:
    assert one.side is not None
    return next((result.reached for result in one.side.study.goals if result.goal.kind is GoalKind.RANGE), math.nan)


def _alone(one: Schooled) -> float:
    """Without rider and load, to be held against a ready-made one."""
    assert one.side is not None
    return one.side.study.resolved.bare_kg + one.mass_kg
