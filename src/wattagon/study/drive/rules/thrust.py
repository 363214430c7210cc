"""Rules on how the drive meets the ground: duty, thrust, lift, grip, heat, lost thrust."""

from __future__ import annotations

import math

import numpy as np

from wattagon.design.quantity import Known
from wattagon.design.template import typical_tyre_m
from wattagon.design.tree import GoalKind
from wattagon.physics.brakes import overspeed_current_a, overspeed_rad_s
from wattagon.physics.envelope import edge, grade_held
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.cases import lowest_gear, strongest_at, top_in_any_gear
from wattagon.study.drive.climbs import asked_climb, judge_climb
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.rules.rests import BALANCE, CUTBACK, GRIP, HEAT, LOAD, MASS, PULL, ROLLING, WHEEL
from wattagon.study.drive.study import needed_along
from wattagon.study.drive.words import LIMIT_WORDS
from wattagon.study.findings.rule import Case, Rule, Verdict, held_under
from wattagon.study.findings.status import Status
from wattagon.study.resolve import CHARGE_STATES, WET_GRIP

DUTY_GOAL = 0.80  # at the goal speed on a nominal pack; leaves torque for sag, wind and an emptier pack
DUTY_HIGH = 0.85
DUTY_LOW = 0.50
DOWNHILL = 1.15  # times the goal speed that a rider lets it run downhill
USUAL_TYRE = 1.05  # times the usual tyre of a kind, from where on a tyre counts as larger


def _fastest_goal(case: Case) -> GoalResult | None:
    """The highest speed that is asked for; a boat's cruise where it asks for no top speed."""
    speeds = [r for r in case.study.goals if r.goal.kind is GoalKind.TOP_SPEED]
    cruises = [r for r in case.study.goals if r.goal.kind is GoalKind.CRUISE]
    return max(speeds or cruises, key=lambda r: r.target, default=None)


def only_when_full(case: Case) -> Verdict:
    """A goal speed that a full pack reaches and a low one does not."""
    result = _fastest_goal(case)
    if result is None:
        return Verdict(status=Status.NOT_CHECKED, title="Speed on a low pack: no goal of a speed")
    full, nominal, low = (case.study.states[name].top_speed_m_s for name in ("full", "nominal", "low"))
    if case.study.resolved.gear:
        full, nominal, low = (top_in_any_gear(case.study.resolved, CHARGE_STATES[name]) for name in ("full", "nominal", "low"))
    target = result.target
    fall = max(0.0, 1.0 - low / full) if full > 0 else 0.0
    words = f"{case.say(full, 'speed')} full, {case.say(nominal, 'speed')} nominal, {case.say(low, 'speed')} low"
    status = Status.CLEAR
    if full >= target and nominal < target:
        status = Status.OVER
    elif nominal >= target and low < target:
        status = Status.TIGHT
    elif full < target:
        return Verdict(
            status=Status.OVER,
            margin=full / target - 1.0,
            title=f"{case.say(target, 'speed')} not reached even when full: {words}",
            candidates=lambda: try_.faster(case.design, case.stock),
        )
    title = f"Falls {fall:.0%} from full to low: {words}"
    if status is not Status.CLEAR:
        title = f"{case.say(target, 'speed')} holds only {'on a full pack' if status is Status.OVER else 'until the pack is low'}: {words}"
    edits = lambda: try_.faster(case.design, case.stock)
    return Verdict(status=status, title=title, margin=low / target - 1.0, candidates=edits)


def duty_at_goal(case: Case) -> Verdict | None:
    """Duty at the goal speed on a nominal pack: about 80 % is right; over 85 or under 50 % tight; out of duty over.

    A motor on the crank is judged at the cadence instead.
    """
    if case.study.resolved.gear:
        return None
    result = _fastest_goal(case)
    if result is None:
        return Verdict(status=Status.NOT_CHECKED, title="Duty: no top-speed goal to judge it at")
    most = float(case.study.resolved.train.controller.duty_max)
    nominal = case.study.states["nominal"]
    if nominal.top_speed_m_s < result.target:
        limit = nominal.top_speed_limited_by
        title = f"Cannot hold {case.say(result.target, 'speed')} on a nominal pack: out of {LIMIT_WORDS[limit]}"
        short = try_.faster if limit == "duty" else try_.stronger
        return Verdict(
            status=Status.OVER,
            title=title,
            margin=nominal.top_speed_m_s / result.target - 1.0,
            candidates=lambda: short(case.design, case.stock),
        )
    duty = float(needed_along(case.study.resolved, result.target, 0.0, 0.5)["duty"])
    if duty < DUTY_LOW:
        title = f"Duty only {duty:.0%} at {case.say(result.target, 'speed')}: geared for more speed than the goal"
        lacking = _short_of_pull(case)
        if not lacking:
            return Verdict(status=Status.CLEAR, title=f"{title}; pull, heat and starts have room", margin=0.0)
        title += f", and {lacking}"
        return Verdict(
            status=Status.TIGHT, title=title, margin=duty / DUTY_GOAL - 1.0, candidates=lambda: try_.stronger(case.design, case.stock)
        )
    status = Status.CLEAR if duty <= DUTY_HIGH else Status.TIGHT
    title = f"Duty {duty:.0%} at {case.say(result.target, 'speed')}, aim at {DUTY_GOAL:.0%}"
    edits = lambda: try_.faster(case.design, case.stock)
    return Verdict(status=status, title=title, margin=1.0 - duty / most, candidates=edits)


def _short_of_pull(case: Case) -> str:
    """What more reduction would help, in words; nothing where pull, heat and starts are clear."""
    rules = ((thrust_on_grade, "pull uphill is short"), (start_on_hill, "starts are short"), (heat_on_climb, "it gets hot uphill"))
    return next((words for rule, words in rules if (found := rule(case)) is not None and found.status in (Status.TIGHT, Status.OVER)), "")


def thrust_on_grade(case: Case) -> Verdict:
    """Thrust to spare at the speed and grade of the steepest climbing goal; under 10 % is tight."""
    climbs = [r.goal for r in case.study.goals if r.goal.kind is GoalKind.CLIMB]
    if not climbs:
        return Verdict(status=Status.NOT_CHECKED, title="Thrust uphill: no climbing goal")
    goal = max(climbs, key=lambda g: g.grade or 0.0)
    speed, grade = goal.speed or 0.0, goal.grade or 0.0
    resolved = strongest_at(case.study.resolved, speed, CHARGE_STATES["nominal"])
    nominal = case.study.states["nominal"].edge
    have = float(np.interp(speed, nominal.speed_m_s, nominal.drive_n, right=0.0))
    if resolved is not case.study.resolved:
        have = float(edge(resolved.train, resolved.load, speed, resolved.emf_v(0.5), air_c=resolved.air_c).drive_n)
    have = min(have, *(float(cap) for cap in resolved.load.thrust_caps(grade).values()))
    need = float(resolved.load.resistance_n(speed, grade, resolved.headwind_m_s))
    status = Status.OVER if have < need else Status.TIGHT if have < 1.1 * need else Status.CLEAR
    title = (
        f"{case.say(have, 'force')} of thrust at {case.say(speed, 'speed')} up {case.say(grade, 'grade')}, {case.say(need, 'force')} needed"
    )
    edits = lambda: try_.stronger(case.design, case.stock)
    return Verdict(status=status, title=title, margin=have / need - 1.0, candidates=edits)


def _cap_rule(case: Case, cap_name: str, because: str, words: str) -> Verdict:
    """Peak thrust of the motors at standstill against grip or lift: 20 % of room or it is tight; beyond it, over."""
    resolved = case.study.resolved
    # before grip and lift take their part, and a wet roller with it; through gears in the lowest
    low = lowest_gear(resolved).train.reduction.torque_ratio / resolved.train.reduction.torque_ratio
    thrust, cap = float(case.study.states["full"].edge.drive_n[0]) * float(low), float(resolved.load.thrust_caps(0.0)[cap_name])
    if math.isinf(cap):
        return Verdict(status=Status.CLEAR, title=f"{words}: lifts before it slips", because=because)
    status, margin = held_under(thrust, cap, 0.20)
    title = f"Full pull {case.say(thrust, 'force')}, {words} {case.say(cap, 'force')}"
    now = float(resolved.train.controller.motor_current_a)
    wheels = try_.more_driven_wheels(case.design) if cap_name == "traction" else ()
    edits = lambda: (*try_.set_amps(case.design, "motor_current_a", now * 0.8 * cap / thrust), *wheels)
    return Verdict(status=status, title=title, because=because, margin=margin, candidates=edits)


def wheel_lift(case: Case) -> Verdict:
    """Full pull against the pull that lifts the front axle: F = m g b/h."""
    road = case.study.resolved.road
    because = (
        f"Weight {case.say(float(road.cm_height_m), 'length')} high and "
        f"{case.say(float(road.cm_behind_front_m), 'length')} behind the front axle; leaning forward helps, a start uphill does not."
    )
    return _cap_rule(case, "wheel_lift", because, "front lifts at")


def grip(case: Case) -> Verdict:
    """Full pull against the grip of the driven wheels with weight transfer."""
    because = (
        f"Friction {case.design.vehicle.grip.value:g} on the driven wheels, "
        f"{'wet as the brief has it' if case.design.brief.conditions.wet else f'dry; wet ground leaves {WET_GRIP:.0%} of it'}."
    )
    return _cap_rule(case, "traction", because, "wheels slip at")


def heat_on_climb(case: Case) -> Verdict:
    """Minutes until a winding is too hot on the first climbing goal, from cold, against how long the climb lasts."""
    climbs = [r for r in case.study.goals if r.goal.kind is GoalKind.CLIMB]
    because = "From cold, winding to its limit, in the air of the brief; mean winding temperature, the hot spot is 10 to 15 K hotter."
    if not climbs or math.isnan(case.study.heat_s):
        return Verdict(status=Status.NOT_CHECKED, title="Heat uphill: no climbing goal", because=because)
    grade, seconds = climbs[0].goal.grade or 0.0, case.study.heat_s
    if math.isinf(seconds):
        title = f"Motor can hold {case.say(grade, 'grade')} up all day"
        return Verdict(status=Status.CLEAR, title=title, because=because)
    tapers = case.study.resolved.variant.controller.motor_taper_start_c is not None
    status, margin = judge_climb(seconds, case.design, grade, harm=not tapers)
    asked, whose = asked_climb(case.design, grade)
    because += (
        f" {whose} asks for {case.say(asked, 'time')} of it."
        if whose
        else f" No course says how long it is: {case.say(asked, 'time')} are asked for."
    )
    title = f"Motor too hot after {case.say(seconds, 'time')} up {case.say(grade, 'grade')}"
    edits = lambda: (
        *try_.steps(case.design, case.stock, ("motor_size",), +1, most=2),
        *try_.steps(case.design, case.stock, ("driver_teeth*",), -1, most=3),
        *try_.steps(case.design, case.stock, ("driven_teeth*",), +1, most=4),
        *try_.steps(case.design, case.stock, ("motor_count",), +1, most=1),
    )
    return Verdict(status=status, title=title, because=because, margin=margin, candidates=edits)


def thrust_lost(case: Case) -> Verdict:
    """Thrust lost by a wheel larger than the measured one, or than a drive of this kind is made for, or by leaving a motor on the shelf."""
    resolved, vehicle = case.study.resolved, case.design.vehicle
    variant = resolved.variant
    told, share = [], 1.0
    own = vehicle.tyre_diameter.value * vehicle.tyre_rolling_share.value / 2.0
    radius = float(resolved.road.wheel_radius_m)
    usual = typical_tyre_m(vehicle.kind)
    if radius > own * 1.005:
        told.append(f"wheel {case.say(2 * radius, 'length')} instead of {case.say(2 * own, 'length')} rolling")
        share *= own / radius
    elif variant.wheel is None and vehicle.tyre_diameter.known is not Known.ASSUMED and vehicle.tyre_diameter.value > USUAL_TYRE * usual:
        told.append(f"tyre {case.say(vehicle.tyre_diameter.value, 'length')} where {case.say(usual, 'length')} is usual")
        share *= usual / vehicle.tyre_diameter.value
    owned = sum(item.count for item in case.design.brief.shelf if item.part == variant.motor.part)
    if owned > variant.motor.count:
        told.append(f"{variant.motor.count} of {owned} motors on the shelf used")
        share *= variant.motor.count / owned
    if not told:
        return Verdict(status=Status.CLEAR, title="No thrust given away by wheel or spare motor")
    title = f"{1.0 - share:.0%} of thrust given away: {', '.join(told)}"
    edits = lambda: (
        *(try_.steps(case.design, case.stock, ("motor_count",), +1, most=1) if owned > variant.motor.count else ()),
        *(try_.steps(case.design, case.stock, ("wheel",), -1, most=2) if radius > own * 1.005 else ()),
        *try_.steps(case.design, case.stock, ("driver_teeth*",), -1, most=3),
        *try_.steps(case.design, case.stock, ("driven_teeth*",), +1, most=4),
    )
    return Verdict(status=Status.TIGHT, title=title, margin=share - 1.0, candidates=edits)


def start_on_hill(case: Case) -> Verdict:
    """Whether the drive moves off on the steepest grade of any goal; less than 10 % to spare is tight."""
    grades = [r.goal.grade for r in case.study.goals if r.goal.grade]
    if not grades:
        return Verdict(status=Status.NOT_CHECKED, title="Start on a hill: no grade in the goals")
    grade, held = max(grades), case.study.states["low"].max_grade
    low = lowest_gear(case.study.resolved)
    if low is not case.study.resolved:
        held = float(grade_held(low.train, low.load, low.emf_v(0.1), 0.0, headwind_m_s=low.headwind_m_s, air_c=low.air_c))
    status = Status.OVER if held < grade else Status.TIGHT if held < 1.1 * grade else Status.CLEAR
    title = f"Moves off on up to {case.say(held, 'grade')}, steepest goal {case.say(grade, 'grade')}"
    edits = lambda: try_.stronger(case.design, case.stock)
    return Verdict(status=status, title=title, margin=held / grade - 1.0, candidates=edits)


def overspeed(case: Case) -> Verdict | None:
    """The fastest descent of the brief against the speed from which the motor charges the pack whatever is asked."""
    resolved = case.study.resolved
    train = resolved.train
    if float(train.reduction.one_way) > 0:
        return None
    charges = {"low": 0.1, "full": 1.0}
    per_speed = float(train.reduction.ratio * resolved.load.shaft_speed_rad_s(1.0, 0.0))
    from_m_s = {name: float(overspeed_rad_s(train.motor, resolved.emf_v(charge))) / per_speed for name, charge in charges.items()}
    legs = [leg for course in case.design.brief.courses for leg in course.legs if leg.grade < 0.0]
    asked = max((leg.speed for leg in legs), default=0.0)
    steep = max((result.goal.grade or 0.0 for result in case.study.goals), default=0.0)
    # who goes up comes down: as fast as the goals, a little more where the slope drives
    goal = max((r.target for r in case.study.goals if r.goal.kind is GoalKind.TOP_SPEED), default=0.0)
    rolls = min(DOWNHILL * goal, _coasts_to(case, steep)) if steep > 0.0 else 0.0
    fastest, whose = (asked, "a course asks for") if asked >= rolls else (rolls, "the goals' hill leads to")
    if fastest <= 0.0:
        return Verdict(
            status=Status.NOT_CHECKED, title=f"Motor outruns a low pack from {case.say(from_m_s['low'], 'speed')}; no descent in the brief"
        )
    margin = 1.0 - fastest / from_m_s["low"]
    if margin >= 0.0:
        title = f"Motor outruns a low pack from {case.say(from_m_s['low'], 'speed')}, {whose} {case.say(fastest, 'speed')} downhill"
        return Verdict(status=Status.CLEAR, title=title, margin=margin)
    amps = float(
        overspeed_current_a(
            train.motor,
            fastest * per_speed,
            resolved.emf_v(0.1),
            float(train.pack_ohm(True)),
            motors=train.count,
            bridge_ohm=train.controller.bridge_ohm,
        )
    )
    status = Status.OVER if asked > from_m_s["low"] or fastest > from_m_s["full"] else Status.TIGHT
    title = (
        f"Downhill at {case.say(fastest, 'speed')} the motor outruns a low pack (from "
        f"{case.say(from_m_s['low'], 'speed')}) and charges it with "
        f"{case.say(amps * float(train.count), 'current')}"
    )
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: try_.faster(case.design, case.stock))


def _coasts_to(case: Case, grade: float) -> float:
    """Speed that a descent leads to without brakes [m/s]; the motors' own drag left out."""
    road = case.study.resolved.load
    speeds = np.linspace(0.5, 40.0, 200)
    load = sum(np.asarray(part) for part in road.parts_n(speeds, -grade, 0.0))
    faster = speeds[np.asarray(load) < 0.0]
    return float(faster[-1]) if faster.size else 0.0


RULES: tuple[Rule, ...] = (
    Rule(
        code="drive.only_when_full",
        bench="drive",
        link="pack",
        because="A pack at 10 % is what brings you home.",
        judge=only_when_full,
        rests=(*LOAD, *PULL, *CUTBACK),
    ),
    Rule(
        code="drive.duty_at_goal",
        on="wheels",
        bench="drive",
        link="reduction",
        because="About 80 % leaves torque for sag, headwind and an emptier pack.",
        judge=duty_at_goal,
        rests=(*LOAD, *PULL),
    ),
    Rule(
        code="drive.thrust_on_grade",
        on="wheels",
        bench="drive",
        link="reduction",
        because="What the drive gives on a nominal pack against weight, rolling and air at that speed.",
        judge=thrust_on_grade,
        rests=(*LOAD, *PULL, *GRIP),
    ),
    Rule(
        code="drive.start_on_hill",
        on="wheels",
        bench="drive",
        link="motor",
        because="Pull at standstill on a low pack against weight and rolling; starts need some to spare.",
        judge=start_on_hill,
        rests=(*MASS, *ROLLING, *PULL, *GRIP),
    ),
    Rule(
        code="wheel.lift",
        on="wheels",
        bench="drive",
        link="wheel",
        because="The front lifts where the pull times its height outweighs the vehicle: F = m g b / h.",
        judge=wheel_lift,
        rests=(*MASS, *PULL, *BALANCE),
    ),
    Rule(
        code="wheel.grip",
        on="wheels",
        bench="drive",
        link="wheel",
        because="Friction on the driven wheels, with the weight that moves onto them.",
        judge=grip,
        rests=(*MASS, *PULL, *GRIP),
    ),
    Rule(
        code="motor.heat_on_climb",
        on="wheels",
        bench="drive",
        link="motor",
        because="From cold, winding to its limit, in the air of the brief.",
        judge=heat_on_climb,
        rests=(*LOAD, *PULL, *HEAT),
    ),
    Rule(
        code="drive.thrust_lost",
        on="wheels",
        bench="drive",
        link="wheel",
        because=(
            "Twice the wheel, half the thrust: a drive for smaller wheels wants more reduction. One "
            "motor of a pair, half the thrust, four times its heat."
        ),
        judge=thrust_lost,
        rests=WHEEL,
    ),
    Rule(
        code="drive.overspeed",
        on="wheels",
        bench="drive",
        link="motor",
        because=(
            "Driven faster than its pack's volts allow, a motor charges it through the diodes of the "
            "bridge; no setting stops that, and a full pack takes no more."
        ),
        judge=overspeed,
        rests=(*LOAD, *PULL),
    ),
)
