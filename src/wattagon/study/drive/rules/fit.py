"""Rules on what is known to fit or not before anything is drawn: motors side by side, cadence."""

from __future__ import annotations

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known
from wattagon.design.tree import GoalKind
from wattagon.study.drive import candidates as try_
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.resolve import development_m, top_gear_m

BETWEEN_MM = 10.0  # a plate and a gap for each motor
SPARE_MM = 10.0  # room beside the motors under which it is tight
HELPING_RPM = 100.0  # cadence up to which a rider still helps


def side_by_side(case: Case) -> Verdict | None:
    """Motors in line between the wheels: their length and a plate each against the clear width."""
    motor, count = case.study.resolved.motor_part, case.study.resolved.variant.motor.count
    width = case.design.vehicle.clear_width
    if motor.family in ("hub", "submerged"):
        return None
    need = count * (motor.length_mm + BETWEEN_MM)
    what = f"{count} motor{'s' if count > 1 else ''} of {motor.length_mm:g} mm with plates: {case.say(need / 1e3, 'length')} in line"
    if width is None or width.known is Known.ASSUMED:
        return Verdict(status=Status.NOT_CHECKED, title=f"{what}; the clear width is not measured")
    have = width.value * 1e3
    margin = 1.0 - need / have
    status = Status.OVER if margin < 0 else Status.TIGHT if have - need < SPARE_MM else Status.CLEAR
    edits = lambda: (
        *try_.steps(case.design, case.stock, ("motor_size",), -1, most=3),
        *try_.steps(case.design, case.stock, ("motor_count",), -1, most=1),
    )
    return Verdict(status=status, title=f"{what}, clear width {case.say(width.value, 'length')}", margin=margin, candidates=edits)


def cadence(case: Case) -> Verdict | None:
    """Whether the rider can still pedal along at the goal speed in the highest gear."""
    vehicle = case.design.vehicle
    if not KINDS[vehicle.kind].pedals:
        return None
    goals = [goal.speed for goal in case.design.brief.goals if goal.kind is GoalKind.TOP_SPEED and goal.speed]
    if not goals:
        return Verdict(status=Status.NOT_CHECKED, title="Pedalling along: no top-speed goal")
    gears = case.study.resolved.variant.gears
    speed = max(goals)
    radius = float(case.study.resolved.road.wheel_radius_m)
    gear = development_m(gears, len(gears.cogs), radius) if gears is not None else top_gear_m(vehicle)
    turns = 60.0 * speed / gear
    margin = 1.0 - turns / HELPING_RPM
    title = (
        f"Pedalling along at {case.say(speed, 'speed')}: {turns:.0f} turns a minute in the highest gear, {case.say(gear, 'height')} a turn"
    )
    status = Status.CLEAR if margin >= 0 else Status.TIGHT
    return Verdict(status=status, title=title, margin=margin)


RULES: tuple[Rule, ...] = (
    Rule(
        code="motor.side_by_side",
        on="wheels",
        bench="drive",
        link="motor",
        because=(
            "Motors in line on one axle, each with a plate and a gap of 10 mm; they may also stand one behind the other: the layout tells."
        ),
        judge=side_by_side,
        rests=("vehicle.clear_width",),
    ),
    Rule(
        code="rider.cadence",
        on="wheels",
        bench="drive",
        link="wheel",
        because="Sixty to ninety turns a minute are comfortable, up to a hundred still help.",
        judge=cadence,
        rests=("vehicle.top_gear",),
    ),
)
