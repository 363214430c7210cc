"""Heat over time: a climb, the same on a hot day, full throttle uphill, boost, the closed box; and the pull of a ride."""

from __future__ import annotations

import math

import numpy as np

from wattagon.design.paths import Edit
from wattagon.design.tree import GoalKind
from wattagon.physics.ride.names import Col, End, Stat
from wattagon.physics.ride.plant import RIDE_INDEX
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.climbs import asked_climb, judge_climb, longest_climb, steepest
from wattagon.study.findings.rule import Case, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.ride.rules.rides import cooler, ride_of
from wattagon.study.ride.study import Ask, Ride, goal_climb

MOVED_M = 2.0  # what has not come further has not moved off
FULL_S, FULL_SHORT_S = 120.0, 30.0  # full throttle uphill that lasts is clear, that does not last so long is over
HOT_DAY_C = 35.0
BOOST_S = 8.0


def _held(case: Case, done: Ride) -> tuple[float, str]:
    """(seconds that a climb was held, what ended it); inf where it goes on."""
    over = done.over_at()
    t, v = done.run.column(Col.TIME), done.run.column(Col.SPEED)
    slow = v < 0.9 * done.speed_m_s
    slowed = float(t[slow][0]) if slow.any() else math.inf
    first = min(over.values(), default=math.inf)
    if first <= slowed and over:
        name = min(over, key=lambda k: over[k])
        return first, {
            "winding": "a winding too hot",
            "case": "the motor case too hot",
            "controller": "the controller cutting back for heat",
            "pack": "the pack too hot",
        }.get(name, name)
    if math.isfinite(slowed):
        held = done.held_by()
        names = {
            "thermal": "the motor's heat taper",
            "boost": "the boost budget empty",
            "controller_heat": "the controller cutting back for heat",
        }
        return slowed, next((names[name] for name, _ in held if name in names), "the drive too weak")
    return (math.inf, "") if done.run.end is End.TIME else (done.time_s, "the pack empty")


def _climb(case: Case, air_c: float | None, lead: str) -> Verdict | None:
    if not any(goal.kind is GoalKind.CLIMB for goal in case.design.brief.goals):
        because = "Needs a climbing goal."
        return Verdict(status=Status.NOT_CHECKED, title=f"{lead}: no climbing goal", because=because)
    done = ride_of(case, Ask(run="hold-grade"), air_c=air_c)
    speed, grade = goal_climb(case.design)
    seconds, why = _held(case, done)
    say = case.say
    where = f"{say(speed, 'speed')} up {say(grade, 'grade')}"
    air = done.resolved.air_c
    because = (
        f"Simulated from cold in {say(air, 'temperature')} air at that speed: winding, case, "
        "controller and pack against their limits, tapers and boost included."
    )
    figure = "never" if math.isinf(seconds) or why == "the pack empty" else say(seconds, "time")
    edits = lambda: cooler(case)
    if figure == "never":
        hottest = done.run.stat(Stat.WINDING)
        title = (
            f"{lead}: {where} held {'for an hour' if math.isinf(seconds) else 'until the pack is empty'}, "
            f"winding {say(hottest, 'temperature')}"
        )
        return Verdict(status=Status.CLEAR, title=title, because=because, margin=1.0, figure=figure)
    if seconds < 1.0:
        return Verdict(
            status=Status.OVER,
            title=f"{lead}: {where} is not held at all",
            because=because,
            margin=-1.0,
            candidates=edits,
            figure="not at all",
        )
    status, margin = judge_climb(seconds, case.design, grade, harm=why.endswith("too hot"))
    asked, whose = asked_climb(case.design, grade)
    because += (
        f" {whose} asks for {say(asked, 'time')} of it."
        if whose
        else f" No course says how long it is: {say(asked, 'time')} are asked for."
    )
    title = f"{lead}: {where} for {figure}, then {why}"
    return Verdict(status=status, title=title, because=because, margin=margin, candidates=edits, figure=figure)


def climb(case: Case) -> Verdict | None:
    """Passes on the flat and cooks uphill: minutes until something is too hot on the goal climb."""
    return _climb(case, None, "Climb")


def hot_day(case: Case) -> Verdict | None:
    """The same climb at 35 C, unless the brief is as hot already."""
    if case.study.resolved.air_c >= HOT_DAY_C - 1.0:
        return None
    return _climb(case, HOT_DAY_C, "Hot day")


def full_throttle(case: Case) -> Verdict | None:
    """The setting itself: full command up the steepest grade of goals and courses, until something is too hot or cut back for heat."""
    grade, say = steepest(case.design), case.say
    if grade <= 0.0:
        because = "Needs a climbing goal, or a course that climbs."
        return Verdict(status=Status.NOT_CHECKED, title="Full throttle uphill: nothing steep in the brief", because=because)
    done = ride_of(case, Ask(run="full-climb", grade=grade))
    run = done.run
    hot = run.first_over_s()
    t, limit = run.column(Col.TIME), run.column(Col.LIMIT)
    cut = np.isin(limit, [RIDE_INDEX["thermal"], RIDE_INDEX["controller_heat"]])
    tapered = float(t[cut][0]) if cut.any() else math.inf
    because = (
        f"Held at full command from cold in {say(done.resolved.air_c, 'temperature')} air, boost and "
        "tapers included: a hand that does not let go asks for it. "
        "Less motor amps are less heat."
    )
    climb = longest_climb(case.design, grade)
    asked = climb.seconds if climb is not None else FULL_S
    if climb is not None:
        because += f" {climb.course} climbs for {say(climb.seconds, 'time')}."
    amps = float(case.study.resolved.train.controller.motor_current_a)
    edits = lambda: (
        *(edit for share in (0.9, 0.8, 0.65) for edit in try_.set_amps(case.design, "motor_current_a", amps * share)),
        *cooler(case),
    )
    where = f"Full throttle up {say(grade, 'grade')}"
    if run.end is End.STALLED and done.distance_m < MOVED_M:
        return Verdict(status=Status.NOT_CHECKED, title=f"{where}: it does not move off", because=because, figure="stalls")
    if run.end is End.STALLED and math.isinf(min(hot, tapered)):  # warm windings and magnets pull less
        figure = say(done.time_s, "time")
        status = Status.CLEAR if climb is not None and done.time_s >= climb.seconds else Status.TIGHT
        title = f"{where}: it stands after {figure}, warmer and weaker than when it set off"
        return Verdict(status=status, title=title, because=because, margin=done.time_s / asked - 1.0, candidates=edits, figure=figure)
    if math.isinf(hot) and math.isinf(tapered):
        title = (
            f"{where}: {'until the pack is empty' if run.end is End.EMPTY else 'for half an hour'}, "
            f"winding {say(run.stat(Stat.WINDING), 'temperature')}"
        )
        return Verdict(status=Status.CLEAR, title=title, because=because, margin=1.0, figure="never")
    seconds = min(hot, tapered)
    figure = say(seconds, "time")
    if tapered < hot:
        title = f"{where}: cut back for heat after {figure}{', until it stands' if run.end is End.STALLED else ''}"
        status = Status.CLEAR if tapered >= asked else Status.TIGHT
    else:
        title = f"{where}: too hot after {figure}"
        status = Status.CLEAR if hot >= asked else Status.TIGHT if hot >= min(FULL_SHORT_S, asked) else Status.OVER
    return Verdict(status=status, title=title, because=because, margin=seconds / asked - 1.0, candidates=edits, figure=figure)


def pull(case: Case) -> Verdict | None:
    """Belts and chains for good: the root mean square of the worst ride against what they bear with the service factor."""
    resolved = case.study.resolved
    if not resolved.ratings:
        return None
    asks = [(course.name or course.id, Ask(run=course.id)) for course in case.design.brief.courses]
    if any(goal.kind is GoalKind.CLIMB for goal in case.design.brief.goals):
        asks.append(("the goal climb", Ask(run="hold-grade")))
    if not asks:
        return None
    constant, worst, whose = float(resolved.train.motor.torque_constant_nm_per_a), 0.0, ""
    for name, ask in asks:
        stat = ride_of(case, ask).run.stat
        torque = constant * math.sqrt(stat(Stat.DC_SQUARE_S) / max(stat(Stat.TIME), 1e-6))
        if torque > worst:
            worst, whose = torque, name
    rating = max(resolved.ratings, key=lambda r: worst / r.lasting_nm)
    share, say = worst / rating.lasting_nm, case.say
    status = Status.OVER if share > 1.0 else Status.TIGHT if share > 0.95 else Status.CLEAR
    figure = f"{share:.0%}"
    title = (
        f"{rating.kind.capitalize()} on {whose}: {say(worst * rating.per_nm, 'force')} in the mean, "
        f"bears {say(rating.lasting_n, 'force')} for good"
    )
    edits = lambda: (*try_.wider_belts(case.design, case.stock), *try_.steps(case.design, case.stock, ("driver_teeth*",), +1, most=3))
    return Verdict(status=status, title=title, margin=1.0 - share, candidates=edits, figure=figure)


def boost(case: Case) -> Verdict | None:
    """How long the burst current lasts at a start that a goal asks for, where the setting is over the controller's continuous rating."""
    train = case.study.resolved.train
    setting, lasting = float(train.controller.motor_current_a), float(train.controller.motor_current_continuous_a)
    starts = [goal.grade or 0.0 for goal in case.design.brief.goals if goal.kind is GoalKind.START]
    if not setting > lasting or not starts:
        return None
    done = ride_of(case, Ask(run="hill", grade=max(starts)))
    t, ceiling = done.run.column(Col.TIME), done.run.column(Col.CEILING_A)
    cut = ceiling < 0.97 * ceiling[0]
    held = RIDE_INDEX["boost"]
    seconds = float(t[cut][0]) if cut.any() else math.inf
    because = (
        f"Motor amps set to {case.say(setting, 'current')}, the controller lasts at "
        f"{case.say(lasting, 'current')}; what is over it is a budget that fills like a junction "
        "warms."
    )
    edits = lambda: (
        *try_.set_amps(case.design, "motor_current_a", lasting),
        *try_.steps(case.design, case.stock, ("controller",), +1, most=2),
    )
    if math.isinf(seconds) or done.run.held_s[held] < 0.05:
        title = f"Boost: the start on {case.say(done.grade, 'grade')} is over before the budget is"
        return Verdict(status=Status.CLEAR, title=title, because=because, figure="enough")
    stalled = done.run.end is End.STALLED
    figure = case.say(seconds, "time")
    status = Status.OVER if stalled else Status.TIGHT
    title = f"Boost empty after {figure} on {case.say(done.grade, 'grade')}" + (
        ": the start stalls" if stalled else f", then {case.say(lasting, 'current')}"
    )
    return Verdict(
        status=status,
        title=title,
        because=because,
        margin=seconds / BOOST_S - 1.0 if not stalled else -1.0,
        candidates=edits,
        figure=figure,
    )


def sealed_box(case: Case) -> Verdict | None:
    """A controller in a closed box, on the goal climb of a hot day."""
    wiring = case.design.variant().wiring
    if wiring is not None and wiring.box is not None:
        return None  # told with its faces: the wiring's own rule has it
    if case.design.variant().controller.box_area is None:
        return None
    done = ride_of(case, Ask(run="hold-grade"), air_c=max(HOT_DAY_C, case.study.resolved.air_c))
    top, limit = done.run.stat(Stat.CONTROLLER), done.run.plant.controller_taper_start
    say = case.say
    margin = (limit - top) / max(limit - done.resolved.air_c, 1.0)
    status = Status.OVER if top >= limit else Status.TIGHT if margin < 0.2 else Status.CLEAR
    title = (
        f"Closed box: controller up to {say(top, 'temperature')} of {say(limit, 'temperature')} on "
        f"the climb at {say(done.resolved.air_c, 'temperature')}"
    )
    area = case.design.variant().controller.box_area or 0.0
    edits = (
        Edit(label="Open the box to the air", changes=(("variant.controller.box_area", None),)),
        Edit(label="A box of twice the walls", changes=(("variant.controller.box_area", 2.0 * area),)),
    )
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: edits, figure=say(top, "temperature"))
