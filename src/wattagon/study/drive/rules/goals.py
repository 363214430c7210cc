"""Goals of the brief as findings: met or missed, why, and what would mend it."""

from __future__ import annotations

import math

import numpy as np

from wattagon.design.goal_kinds import GOALS
from wattagon.design.paths import Edit
from wattagon.design.tree import Goal, GoalKind
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.goals import CHARGER_EFFICIENCY, TIGHT, GoalResult
from wattagon.study.drive.rules.rests import CHARGE, CUTBACK, GRIP, LOAD, MASS, MOTOR, PULL, ROLLING
from wattagon.study.drive.words import LIMIT_WORDS, goal_name
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.resolve import case_words

STEP_M = 0.17  # of a stair


def goal_met(case: Case, result: GoalResult) -> Verdict:
    """A goal met or missed, by a number; met by under 5 % is tight."""
    goal = result.goal
    name = goal_name(goal, case.say)
    reached = "never" if math.isinf(result.reached) else case.say(result.reached, result.dimension)
    if math.isnan(result.reached):
        return _not_judged(case, result, name)
    if case.design.brief.cases and GOALS[goal.kind].cased:
        reached += f", {case_words(case.design, result.case)}"
    status = Status.OVER if not result.met else Status.TIGHT if result.margin < TIGHT else Status.CLEAR
    charge = {1.0: "full", 0.5: "nominal", 0.1: "low"}.get(goal.charge, f"{goal.charge:.0%}")
    if goal.kind is GoalKind.BUDGET:
        because = "Parts that are not on the shelf, at stock prices; fasteners, printing and delivery not included."
    elif goal.kind is GoalKind.ADDED_MASS:
        because = "Motors, controllers, pack with case, wheels and loops of the reduction; brackets not included."
    elif goal.kind is GoalKind.RANGE:
        because = (
            "Steady pace through the water, 95 to 15 % of charge, less what a current along the way takes; waves not included."
            if case.design.vehicle.kind.floats
            else "Steady pace on the flat, 95 to 15 % of charge; stops and climbs not included."
        )
    elif goal.kind is GoalKind.THERE_AND_BACK:
        because = "Steady pace through the water, 95 to 15 % of charge, against the current one way and with it the other."
    elif goal.kind is GoalKind.CRUISE:
        because = f"What currents and heat allow for good on a {charge} pack, through still water and the wind of the brief."
    elif goal.kind is GoalKind.BOLLARD:
        because = f"Held by a level rope, on a {charge} pack at the limits set; people clear of rope and propeller."
    elif goal.kind is GoalKind.CROSSING:
        because = f"At full throttle on a {charge} pack, the start from rest left out."
    elif goal.kind is GoalKind.CARRY:
        because = _carried_because(case, goal)
    elif goal.kind is GoalKind.PACKED:
        because = "Longest side against longest, then the others; the drive may stick out: measure it packed with its motor on."
    elif goal.kind is GoalKind.CADENCE:
        because = f"Until a fifth of the pull at rest is left, on a {charge} pack: beyond it the rider is alone."
    elif goal.kind is GoalKind.TOOL:
        because = f"What the output shaft gives at that speed on a {charge} pack, at the limits set; for good it may be less."
    elif goal.kind is GoalKind.DAY_COST:
        because = (
            f"Energy from the wall at {case.say(case.study.resolved.energy_price, 'money')} a kWh, charger {CHARGER_EFFICIENCY:.0%}, "
            "and the share of the cells' life that it takes, which is known within a factor of two."
        )
    elif goal.kind in (GoalKind.SPEED_LIMIT, GoalKind.POWER_LIMIT):
        because = "A limit that you stated, held against a full pack. A limit set in the controller may be used instead."
        mode = next((mode for mode in case.design.brief.modes if mode.id == goal.mode), None)
        if mode is not None:
            because = f"A limit that you stated, held against a full pack in the mode {mode.name or mode.id}; others are not held to it."
    else:
        because = f"Reached on a {charge} pack at the limits set, by {_limit_words(case, goal)}."
    edits = lambda: _goal_candidates(case, goal)
    return Verdict(
        status=status,
        title=f"{_cap(name)}: {reached}",
        because=because,
        margin=result.margin,
        candidates=edits,
        rests=GOAL_RESTS[goal.kind],
    )


GOAL_RESTS: dict[GoalKind, tuple[str, ...]] = {
    GoalKind.TOP_SPEED: (*LOAD, *PULL, *CUTBACK),
    GoalKind.CLIMB: (*LOAD, *PULL, *GRIP, *CUTBACK),
    GoalKind.START: (*MASS, *ROLLING, *PULL, *GRIP, *CUTBACK),
    GoalKind.SPRINT: (*LOAD, *PULL, *GRIP, *CUTBACK),
    GoalKind.RANGE: (*LOAD, *PULL, *CHARGE),
    GoalKind.BUDGET: (),
    GoalKind.ADDED_MASS: ("pack.mass",),
    GoalKind.SPEED_LIMIT: (*LOAD, *PULL, *CUTBACK),
    GoalKind.POWER_LIMIT: MOTOR,
    GoalKind.CARRY: ("vehicle.empty_mass", "pack.mass"),
    GoalKind.PACKED: ("vehicle.packed_length", "vehicle.packed_width", "vehicle.packed_height"),
    GoalKind.TOOL: (*PULL, *CUTBACK),
    GoalKind.CADENCE: (*PULL, *CUTBACK),
    GoalKind.DAY_COST: (*LOAD, *PULL, *CHARGE, "cycles"),
    GoalKind.CRUISE: (*LOAD, *PULL, *CUTBACK),
    GoalKind.UPSTREAM: (*LOAD, *PULL, *CUTBACK),
    GoalKind.BOLLARD: (*PULL, *CUTBACK),
    GoalKind.CROSSING: (*LOAD, *PULL, *CUTBACK),
    GoalKind.THERE_AND_BACK: (*LOAD, *PULL, *CHARGE),
}


def _not_judged(case: Case, result: GoalResult, name: str) -> Verdict:
    """A goal of which nothing is reached: a case or a size is missing, or the vehicle does not stand in its case."""
    goal = result.goal
    if goal.kind is GoalKind.CADENCE:
        return Verdict(status=Status.NOT_CHECKED, title=f"{_cap(name)}: the motor does not drive the crank")
    if goal.kind is GoalKind.PACKED:
        return Verdict(status=Status.NOT_CHECKED, title=f"{_cap(name)}: its packed size is not measured")
    if goal.mode and goal.mode not in [mode.id for mode in case.design.brief.modes]:
        return Verdict(status=Status.OVER, title=f"{_cap(name)}: its mode {goal.mode} is not in the brief", margin=-1.0)
    if not result.case:
        return Verdict(status=Status.OVER, title=f"{_cap(name)}: its load case {goal.case} is not in the brief", margin=-1.0)
    title = f"{_cap(name)}: not reached with {case_words(case.design, result.case)}, in which it does not stand or does not drive"
    return Verdict(status=Status.OVER, title=title, margin=-1.0)


def _carried_because(case: Case, goal: Goal) -> str:
    """What is lifted, and what carrying it up takes."""
    words = "Vehicle and drive without rider and load; in a case without the pack the pack is a piece of its own."
    if goal.steps:
        words += (
            f" {goal.steps} steps of 170 mm lift it {case.say(STEP_M * goal.steps, 'height')}: rest on the way, or have it carried by two."
        )
    return words


def _cap(text: str) -> str:
    return text[:1].upper() + text[1:]


def _limit_words(case: Case, goal: Goal) -> str:
    state = case.study.states["nominal"]
    if goal.kind in (GoalKind.TOP_SPEED, GoalKind.UPSTREAM):
        return LIMIT_WORDS[state.top_speed_limited_by]
    if goal.kind is GoalKind.START:
        return LIMIT_WORDS[state.standstill_limited_by]
    return LIMIT_WORDS[_limit_at(case, goal.speed or 0.0)]


def _limit_at(case: Case, speed: float) -> str:
    from wattagon.physics.powertrain import LIMITS

    state = case.study.states["nominal"]
    k = int(np.searchsorted(state.edge.speed_m_s, speed))
    return LIMITS[int(state.edge.limit[min(k, state.edge.limit.size - 1)])]


def _goal_candidates(case: Case, goal: Goal) -> tuple[Edit, ...]:
    design, stock = case.design, case.stock
    if goal.kind is GoalKind.TOP_SPEED:
        more = try_.steps(design, stock, ("pack_current",), +1, most=4) if "current" in _limit_words(case, goal) else ()
        return (*try_.faster(design, stock), *more)
    if goal.kind in (GoalKind.CLIMB, GoalKind.START):
        extra = try_.more_driven_wheels(design) if _limit_words(case, goal) == "grip" else ()
        more = try_.steps(design, stock, ("pack_current",), +1, most=4)
        return (*try_.stronger(design, stock), *more, *extra)
    if goal.kind is GoalKind.SPRINT:
        return (*try_.stronger(design, stock), *try_.steps(design, stock, ("pack_current",), +1, most=3))
    if goal.kind in (GoalKind.CRUISE, GoalKind.UPSTREAM, GoalKind.BOLLARD, GoalKind.CROSSING):
        return (
            *try_.steps(design, stock, ("propeller_diameter", "propeller_pitch", "series", "pack_current", "motor_current"), +1, most=3),
            *try_.steps(design, stock, ("propeller_pitch", "motor_kv"), -1, most=2),
        )
    if goal.kind in (GoalKind.RANGE, GoalKind.THERE_AND_BACK):
        return try_.steps(design, stock, ("parallel", "series"), +1, most=4)
    if goal.kind in (GoalKind.ADDED_MASS, GoalKind.BUDGET):
        return try_.steps(design, stock, ("parallel", "motor_size", "controller", "motor_count"), -1, most=2)
    if goal.kind is GoalKind.SPEED_LIMIT:
        return (
            *try_.steps(design, stock, ("motor_kv", "driver_teeth*", "series"), -1, most=4),
            *try_.steps(design, stock, ("driven_teeth*",), +1, most=5),
        )
    if goal.kind is GoalKind.CARRY:
        return try_.steps(design, stock, ("parallel", "motor_size", "motor_count"), -1, most=3)
    if goal.kind is GoalKind.TOOL:
        return try_.stronger(design, stock)
    if goal.kind is GoalKind.CADENCE:
        return (*try_.steps(design, stock, ("driver_teeth*", "motor_kv", "series"), +1, most=4), *try_.faster(design, stock))
    if goal.kind in (GoalKind.PACKED, GoalKind.DAY_COST):
        return ()
    return try_.steps(design, stock, ("pack_current", "motor_current"), -1, most=5)


def goals(case: Case) -> list[tuple[str, GoalResult]]:
    """Every goal by its id."""
    return [(result.goal.id, result) for result in case.study.goals]


RULES: tuple[Rule, ...] = (
    Rule(
        code="goal",
        bench="drive",
        link="goal",
        because="What the drive reaches at the limits set.",
        judge=goal_met,
        of=goals,
    ),
)
