"""Rules on how the drive meets its goals and the ground: goals, duty, thrust, lift, grip, heat, lost thrust."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from wattagon.design.paths import Edit
from wattagon.design.tree import Goal, GoalKind
from wattagon.study import candidates as try_
from wattagon.study.drive import needed_along
from wattagon.study.finding import Case, Finding, Status, judge
from wattagon.study.goals import TIGHT, GoalResult
from wattagon.study.words import LIMIT_WORDS, goal_name

Rule = Callable[[Case], Finding]
DUTY_GOAL = 0.80  # at the goal speed on a nominal pack; leaves torque for sag, wind and an emptier pack
DUTY_HIGH = 0.85
DUTY_LOW = 0.50
LASTING_CLIMB_S = 600.0  # a climb that can be held for this long is clear of heat


def goal_finding(case: Case, result: GoalResult) -> Finding:
    """A goal met or missed, by a number; met by under 5 % is tight."""
    goal = result.goal
    name = goal_name(goal, case.say)
    reached = "never" if math.isinf(result.reached) else case.say(result.reached, result.dimension)
    status = Status.OVER if not result.met else Status.TIGHT if result.margin < TIGHT else Status.CLEAR
    charge = {1.0: "full", 0.5: "nominal", 0.1: "low"}.get(goal.charge, f"{goal.charge:.0%}")
    if goal.kind is GoalKind.BUDGET:
        because = "Parts that are not on the shelf, at stock prices; fasteners, printing and delivery not included."
    elif goal.kind is GoalKind.ADDED_MASS:
        because = "Motors, controllers, pack with case, wheels and loops of the reduction; brackets not included."
    elif goal.kind is GoalKind.RANGE:
        because = "Steady pace on the flat, 95 to 15 % of charge; stops and climbs not included."
    elif goal.kind in (GoalKind.SPEED_LIMIT, GoalKind.POWER_LIMIT):
        because = "A limit that you stated, held against a full pack. A limit set in the controller may be used instead."
    else:
        because = f"Reached on a {charge} pack at the limits set, by {_limit_words(case, goal)}."
    edits = lambda: _goal_candidates(case, goal)
    return Finding(
        code=f"goal.{goal.id}", status=status, link="goal", title=f"{_cap(name)}: {reached}", because=because,
        margin=result.margin, assumed=case.assumed("rolling", "drag_area", "cm_height", "cm_behind_front", "grip"), candidates=edits,
    )  # fmt: skip


def _cap(text: str) -> str:
    return text[:1].upper() + text[1:]


def _limit_words(case: Case, goal: Goal) -> str:
    state = case.study.states["nominal"]
    if goal.kind is GoalKind.TOP_SPEED:
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
    if goal.kind is GoalKind.RANGE:
        return try_.steps(design, stock, ("parallel", "series"), +1, most=4)
    if goal.kind in (GoalKind.ADDED_MASS, GoalKind.BUDGET):
        return try_.steps(design, stock, ("parallel", "motor_size", "controller", "motor_count"), -1, most=2)
    if goal.kind is GoalKind.SPEED_LIMIT:
        return (
            *try_.steps(design, stock, ("motor_kv", "driver_teeth*", "series"), -1, most=4),
            *try_.steps(design, stock, ("driven_teeth*",), +1, most=5),
        )
    return try_.steps(design, stock, ("pack_current", "motor_current"), -1, most=5)


def _fastest_goal(case: Case) -> GoalResult | None:
    speeds = [r for r in case.study.goals if r.goal.kind is GoalKind.TOP_SPEED]
    return max(speeds, key=lambda r: r.target, default=None)


def only_when_full(case: Case) -> Finding:
    """A goal speed that a full pack reaches and a low one does not."""
    code, because = "drive.only_when_full", "A pack at 10 % is what brings you home."
    result = _fastest_goal(case)
    if result is None:
        return Finding(code=code, status=Status.NOT_CHECKED, link="pack", title="Speed on a low pack: no top-speed goal", because=because)
    full, nominal, low = (case.study.states[name].top_speed_m_s for name in ("full", "nominal", "low"))
    target = result.target
    fall = max(0.0, 1.0 - low / full) if full > 0 else 0.0
    words = f"{case.say(full, 'speed')} full, {case.say(nominal, 'speed')} nominal, {case.say(low, 'speed')} low"
    status = Status.CLEAR
    if full >= target and nominal < target:
        status = Status.OVER
    elif nominal >= target and low < target:
        status = Status.TIGHT
    elif full < target:
        return Finding(
            code=code, status=Status.OVER, link="pack", margin=full / target - 1.0, because=because,
            title=f"{case.say(target, 'speed')} not reached even when full: {words}", candidates=lambda: try_.faster(case.design, case.stock),
        )  # fmt: skip
    title = f"Falls {fall:.0%} from full to low: {words}"
    if status is not Status.CLEAR:
        title = f"{case.say(target, 'speed')} holds only {'on a full pack' if status is Status.OVER else 'until the pack is low'}: {words}"
    edits = lambda: try_.faster(case.design, case.stock)
    return Finding(
        code=code, status=status, link="pack", title=title, because=because, margin=low / target - 1.0, candidates=edits
    )  # fmt: skip


def duty_at_goal(case: Case) -> Finding:
    """Duty at the goal speed on a nominal pack: about 80 % is right; over 85 or under 50 % tight; out of duty over."""
    code, because = "drive.duty_at_goal", "About 80 % leaves torque for sag, headwind and an emptier pack."
    result = _fastest_goal(case)
    if result is None:
        return Finding(
            code=code, status=Status.NOT_CHECKED, link="reduction", title="Duty: no top-speed goal to judge it at", because=because
        )
    most = float(case.study.resolved.train.controller.duty_max)
    nominal = case.study.states["nominal"]
    if nominal.top_speed_m_s < result.target:
        limit = nominal.top_speed_limited_by
        title = f"Cannot hold {case.say(result.target, 'speed')} on a nominal pack: out of {LIMIT_WORDS[limit]}"
        short = try_.faster if limit == "duty" else try_.stronger
        return Finding(
            code=code, status=Status.OVER, link="reduction", title=title, because=because,
            margin=nominal.top_speed_m_s / result.target - 1.0, candidates=lambda: short(case.design, case.stock),
        )  # fmt: skip
    duty = float(needed_along(case.study.resolved, result.target, 0.0, 0.5)["duty"])
    if duty < DUTY_LOW:
        title = f"Duty only {duty:.0%} at {case.say(result.target, 'speed')}: geared for more speed than the goal, pull given away"
        return Finding(
            code=code, status=Status.TIGHT, link="reduction", title=title, because=because, margin=duty / DUTY_GOAL - 1.0,
            candidates=lambda: try_.stronger(case.design, case.stock),
        )  # fmt: skip
    status = Status.CLEAR if duty <= DUTY_HIGH else Status.TIGHT
    title = f"Duty {duty:.0%} at {case.say(result.target, 'speed')}, aim at {DUTY_GOAL:.0%}"
    edits = lambda: try_.faster(case.design, case.stock)
    return Finding(
        code=code, status=status, link="reduction", title=title, because=because, margin=1.0 - duty / most, candidates=edits
    )  # fmt: skip


def thrust_on_grade(case: Case) -> Finding:
    """Thrust to spare at the speed and grade of the steepest climbing goal; under 10 % is tight."""
    code, because = (
        "drive.thrust_on_grade",
        "What the drive gives on a nominal pack against weight, rolling and air at that speed.",
    )
    climbs = [r.goal for r in case.study.goals if r.goal.kind is GoalKind.CLIMB]
    if not climbs:
        return Finding(
            code=code, status=Status.NOT_CHECKED, link="reduction", title="Thrust uphill: no climbing goal", because=because
        )
    goal = max(climbs, key=lambda g: g.grade or 0.0)
    resolved, speed, grade = case.study.resolved, goal.speed or 0.0, goal.grade or 0.0
    nominal = case.study.states["nominal"].edge
    have = float(np.interp(speed, nominal.speed_m_s, nominal.drive_n, right=0.0))
    have = min(have, *(float(cap) for cap in resolved.road.thrust_caps(grade).values()))
    need = float(resolved.road.resistance_n(speed, grade, resolved.headwind_m_s))
    status = Status.OVER if have < need else Status.TIGHT if have < 1.1 * need else Status.CLEAR
    title = f"{case.say(have, 'force')} of thrust at {case.say(speed, 'speed')} up {case.say(grade, 'grade')}, {case.say(need, 'force')} needed"
    edits = lambda: try_.stronger(case.design, case.stock)
    return Finding(
        code=code, status=status, link="reduction", title=title, because=because, margin=have / need - 1.0,
        assumed=case.assumed("rolling"), candidates=edits,
    )  # fmt: skip


def _cap_rule(case: Case, code: str, cap_name: str, because: str, words: str) -> Finding:
    """Peak thrust of the motors at standstill against grip or lift: 20 % of room or it is tight; beyond it, over."""
    resolved = case.study.resolved
    thrust, cap = float(case.study.states["full"].edge.drive_n[0]), float(resolved.road.thrust_caps(0.0)[cap_name])
    assumed = case.assumed("cm_height", "cm_behind_front", "grip")
    if math.isinf(cap):
        return Finding(code=code, status=Status.CLEAR, link="wheel", title=f"{words}: lifts before it slips", because=because)
    status, margin = judge(thrust, cap, 0.20)
    title = f"Full pull {case.say(thrust, 'force')}, {words} {case.say(cap, 'force')}"
    now = float(resolved.train.controller.motor_current_a)
    wheels = try_.more_driven_wheels(case.design) if cap_name == "traction" else ()
    edits = lambda: (*try_.set_amps(case.design, "motor_current_a", now * 0.8 * cap / thrust), *wheels)
    return Finding(
        code=code, status=status, link="wheel", title=title, because=because, margin=margin, assumed=assumed, candidates=edits
    )  # fmt: skip


def wheel_lift(case: Case) -> Finding:
    """Full pull against the pull that lifts the front axle: F = m g b/h."""
    vehicle = case.design.vehicle
    because = (
        f"Weight {case.say(vehicle.cm_height.value, 'length')} high and "
        f"{case.say(vehicle.cm_behind_front.value, 'length')} behind the front axle; leaning forward helps, a start uphill does not."
    )
    return _cap_rule(case, "wheel.lift", "wheel_lift", because, "front lifts at")


def grip(case: Case) -> Finding:
    """Full pull against the grip of the driven wheels with weight transfer."""
    because = f"Friction {case.design.vehicle.grip.value:g} on the driven wheels; wet ground halves it."
    return _cap_rule(case, "wheel.grip", "traction", because, "wheels slip at")


def drivetrain(case: Case) -> Finding:
    """Motor torque at full motor amps against what the weakest belt or chain carries."""
    code, because = "reduction.pull", "Working tension of the belt by its width, or breaking load of the chain over 7."
    train = case.study.resolved.train
    capacity = float(train.reduction.torque_capacity_nm)
    if not case.study.resolved.stages:
        return Finding(code=code, status=Status.CLEAR, link="reduction", title="No belt or chain to overload", because=because)
    if math.isinf(capacity):
        return Finding(
            code=code, status=Status.NOT_CHECKED, link="reduction", because=because, title="Belt width or chain rating unknown"
        )  # fmt: skip
    current = float(train.motor.dc_per_motor_amp * train.controller.motor_current_a)
    torque = float(train.motor.torque_constant_nm_per_a) * current
    status, margin = judge(torque, capacity, 0.10)
    title = (
        f"Motor torque {case.say(torque, 'torque')} at full motor amps, weakest stage carries {case.say(capacity, 'torque')}"
    )
    now = float(train.controller.motor_current_a)
    edits = lambda: (
        *try_.wider_belts(case.design, case.stock),
        *try_.set_amps(case.design, "motor_current_a", now * 0.9 * capacity / torque),
        *try_.steps(case.design, case.stock, ("driver_teeth*",), +1, most=4),
    )
    return Finding(code=code, status=status, link="reduction", title=title, because=because, margin=margin, candidates=edits)


def heat_on_climb(case: Case) -> Finding:
    """Minutes until a winding is too hot on the first climbing goal, from cold; under 10 minutes is tight, under 2 over."""
    code = "motor.heat_on_climb"
    because = (
        "From cold, winding to its limit, in the air of the brief; mean winding temperature, the hot spot is 10 to 15 K hotter."
    )
    climbs = [r for r in case.study.goals if r.goal.kind is GoalKind.CLIMB]
    if not climbs or math.isnan(case.study.heat_s):
        return Finding(
            code=code, status=Status.NOT_CHECKED, link="motor", title="Heat uphill: no climbing goal", because=because
        )
    grade, seconds = climbs[0].goal.grade or 0.0, case.study.heat_s
    if math.isinf(seconds):
        title = f"Motor can hold {case.say(grade, 'grade')} up all day"
        return Finding(
            code=code, status=Status.CLEAR, link="motor", title=title, because=because, assumed=case.assumed("air_share")
        )  # fmt: skip
    status = Status.OVER if seconds < 120.0 else Status.TIGHT if seconds < LASTING_CLIMB_S else Status.CLEAR
    title = f"Motor too hot after {case.say(seconds, 'time')} up {case.say(grade, 'grade')}"
    edits = lambda: (
        *try_.steps(case.design, case.stock, ("motor_size",), +1, most=2),
        *try_.steps(case.design, case.stock, ("driver_teeth*",), -1, most=3),
        *try_.steps(case.design, case.stock, ("driven_teeth*",), +1, most=4),
        *try_.steps(case.design, case.stock, ("motor_count",), +1, most=1),
    )
    return Finding(
        code=code, status=status, link="motor", title=title, because=because, margin=seconds / LASTING_CLIMB_S - 1.0,
        assumed=case.assumed("air_share"), candidates=edits,
    )  # fmt: skip


def thrust_lost(case: Case) -> Finding:
    """Thrust lost by a wheel larger than the measured one, or by using one motor of a pair on the shelf."""
    code, because = (
        "drive.thrust_lost",
        "Twice the wheel, half the thrust; one motor of a pair, half the thrust and four times its heat.",
    )
    resolved, vehicle = case.study.resolved, case.design.vehicle
    variant = resolved.variant
    told, share = [], 1.0
    own = vehicle.tyre_diameter.value * vehicle.tyre_rolling_share.value / 2.0
    radius = float(resolved.road.wheel_radius_m)
    if radius > own * 1.005:
        told.append(f"wheel {case.say(2 * radius, 'length')} instead of {case.say(2 * own, 'length')} rolling")
        share *= own / radius
    owned = sum(item.count for item in case.design.brief.shelf if item.part == variant.motor.part)
    if owned > variant.motor.count:
        told.append(f"{variant.motor.count} of {owned} motors on the shelf used")
        share *= variant.motor.count / owned
    if not told:
        return Finding(
            code=code, status=Status.CLEAR, link="wheel", title="No thrust given away by wheel or spare motor", because=because
        )
    title = f"{1.0 - share:.0%} of thrust given away: {', '.join(told)}"
    edits = lambda: (
        *(try_.steps(case.design, case.stock, ("motor_count",), +1, most=1) if owned > variant.motor.count else ()),
        *(try_.steps(case.design, case.stock, ("wheel",), -1, most=2) if radius > own * 1.005 else ()),
    )
    return Finding(
        code=code, status=Status.TIGHT, link="wheel", title=title, because=because, margin=share - 1.0, candidates=edits
    )  # fmt: skip


def start_on_hill(case: Case) -> Finding:
    """Whether the drive moves off on the steepest grade of any goal; less than 10 % to spare is tight."""
    code, because = (
        "drive.start_on_hill",
        "Pull at standstill on a low pack against weight and rolling; starts need some to spare.",
    )
    grades = [r.goal.grade for r in case.study.goals if r.goal.grade]
    if not grades:
        return Finding(code=code, status=Status.NOT_CHECKED, link="motor", title="Start on a hill: no grade in the goals", because=because)
    grade, held = max(grades), case.study.states["low"].max_grade
    status = Status.OVER if held < grade else Status.TIGHT if held < 1.1 * grade else Status.CLEAR
    title = f"Moves off on up to {case.say(held, 'grade')}, steepest goal {case.say(grade, 'grade')}"
    edits = lambda: try_.stronger(case.design, case.stock)
    return Finding(
        code=code, status=status, link="motor", title=title, because=because, margin=held / grade - 1.0, candidates=edits
    )  # fmt: skip


RULES: tuple[Rule, ...] = (
    only_when_full, duty_at_goal, thrust_on_grade, start_on_hill, wheel_lift, grip, drivetrain, heat_on_climb, thrust_lost,
)  # fmt: skip
