"""Rules that need a ride: heat on the climb and on a hot day, boost, courses, braking, the closed box.

Each verdict has its figure in a few words, so that a cure can say "6 min to never".
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Course, Design, GoalKind
from wattagon.physics.ride.names import Col, End, Stat
from wattagon.physics.ride.plant import RIDE_INDEX
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.climbs import asked_climb, judge_climb, longest_climb, steepest
from wattagon.study.drive.goals import USABLE_WINDOW
from wattagon.study.drive.rules.rests import CHARGE, CONTROLLER_HEAT, CUTBACK, GRIP, HEAT, LOAD, MASS, PULL, RAMP, RIDER
from wattagon.study.drive.rules.rider import bearing
from wattagon.study.drive.words import Say
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.ride.study import Ask, Ride, goal_climb, ride
from wattagon.study.ride.words import distance_text

MOVED_M = 2.0  # what has not come further has not moved off
FULL_S, FULL_SHORT_S = 120.0, 30.0  # full throttle uphill that lasts is clear, that does not last so long is over
HOT_DAY_C = 35.0
WEAK_M_S2, GOOD_M_S2 = (
    1.5,
    2.5,
)  # mean deceleration of a stop: under the first over, under the second tight; a city bike does 3 to 4
FADED_SHARE = 0.75  # of the braking distance with room in the pack
BOOST_S = 8.0


def ride_of(case: Case, ask: Ask, *, air_c: float | None = None) -> Ride:
    """A ride of the case's design, made when first asked for; on another day if an air temperature is given.  Its inputs join the bag."""

    def make() -> Ride:
        done = ride(case.design if air_c is None else _on_a_day(case.design, air_c), case.stock, ask)
        case.note(done.inputs)
        return done

    return case.made(("ride", ask, air_c), make)


def _on_a_day(design: Design, air_c: float) -> Design:
    conditions = replace(design.brief.conditions, air_temperature=Quantity(value=air_c, known=Known.STATED))
    return replace(design, brief=replace(design.brief, conditions=conditions))


def _cooler(case: Case) -> tuple[Edit, ...]:
    return (
        *try_.steps(case.design, case.stock, ("driver_teeth*",), -1),
        *try_.steps(case.design, case.stock, ("driven_teeth*",), +1, most=4),
        *try_.steps(case.design, case.stock, ("motor_size",), +1, most=2),
        *try_.steps(case.design, case.stock, ("controller", "motor_count"), +1, most=1),
        *try_.steps(case.design, case.stock, ("motor_current",), -1, most=3),
    )


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
    edits = lambda: _cooler(case)
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
        *_cooler(case),
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


def _course(case: Case, course: Course) -> Verdict:
    done = ride_of(case, Ask(run=course.id))
    bottom = USABLE_WINDOW[1]
    say = case.say
    used = case.design.brief.conditions.start_charge.value - done.run.stat(Stat.CHARGE)
    room = case.design.brief.conditions.start_charge.value - bottom
    margin = 1.0 - used / room if room > 0 else -1.0
    name = course.name or course.id
    because = (
        "Ridden with its climbs, wind and stops from "
        f"{case.design.brief.conditions.start_charge.value:.0%}; {bottom:.0%} stays in the pack."
    )
    edits = lambda: (
        *try_.steps(case.design, case.stock, ("parallel",), +1),
        *try_.steps(case.design, case.stock, ("series",), +1, most=2),
    )
    if done.run.end is End.OVERCHARGED:
        title = f"{name}: downhill the motor drives more into the pack than it takes, after {say(done.distance_m, 'distance')}"
        return Verdict(
            status=Status.OVER,
            title=title,
            because=because,
            margin=-1.0,
            candidates=lambda: try_.faster(case.design, case.stock),
            figure=say(done.distance_m, "distance"),
        )
    cut = float(done.run.held_s[RIDE_INDEX["low_voltage"]]) > 1.0
    if done.run.end in (End.STALLED, End.EMPTY) or done.distance_m < sum(leg.length for leg in course.legs) - 5.0:
        went = "the pack empty" if done.run.end is End.EMPTY else "it stops on the way"
        title = f"{name}: {went} after {say(done.distance_m, 'distance')}"
        hot_s, where = _in_taper(done, say)
        if hot_s > TAPER_TOLD_S:
            title += f", {say(hot_s, 'time')} of it cut back for heat, {where}"
        more = (*edits(), *_cooler(case)) if done.run.end is End.STALLED else edits()
        return Verdict(
            status=Status.OVER,
            title=title,
            because=because,
            margin=min(margin, -0.01),
            candidates=lambda: more,
            figure=say(done.distance_m, "distance"),
        )
    if cut:
        title = f"{name}: the low-voltage cutback holds it back on the way home"
        return Verdict(status=Status.OVER, title=title, because=because, margin=-0.01, candidates=edits, figure="cut back")
    goals = [goal for goal in case.design.brief.goals if goal.kind is GoalKind.RANGE and goal.distance]
    figure = say(done.range_m, "distance")
    title = f"{name}: takes {used:.0%} of the charge, {figure} on a usable charge like this"
    status = Status.OVER if margin < 0 else Status.TIGHT if margin < 0.15 else Status.CLEAR
    hot_s, where = _in_taper(done, say)
    if hot_s > TAPER_TOLD_S:
        title = f"{name}: {say(hot_s, 'time')} cut back for heat, {where}; takes {used:.0%} of the charge"
        if status is Status.CLEAR:
            status, margin = Status.TIGHT, min(margin, 0.0)
        more_edits = edits
        edits = lambda: (*_cooler(case), *more_edits())
    if goals and done.range_m < (goals[0].distance or 0.0) and status is Status.CLEAR:
        status = Status.TIGHT
        margin = done.range_m / (goals[0].distance or 1.0) - 1.0
        title = (
            f"{name}: ridden like this a charge reaches {figure}, the goal's "
            f"{say(goals[0].distance or 0.0, 'distance')} is for a steady pace"
        )
    return Verdict(status=status, title=title, because=because, margin=margin, candidates=edits, figure=figure)


TAPER_TOLD_S = 5.0  # in all, from where on a course says that it was cut back for heat


def _in_taper(done: Ride, say: Say) -> tuple[float, str]:
    """(seconds that heat held a course back, on which climb)."""
    names = [RIDE_INDEX[name] for name in ("thermal", "controller_heat")]
    seconds = sum(float(done.run.held_s[k]) for k in names)
    x, grade = done.run.column(Col.DISTANCE), done.run.column(Col.GRADE)
    at = np.flatnonzero(np.isin(done.run.column(Col.LIMIT), names))
    if not at.size:
        return seconds, "for moments"
    steep = begin = int(at[np.argmax(grade[at])])
    if grade[steep] <= 0.0:
        return seconds, f"first after {distance_text(float(x[at[0]]), say)}"
    while begin > 0 and grade[begin - 1] >= 0.5 * grade[steep]:
        begin -= 1
    return seconds, f"on the climb of {say(float(grade[steep]), 'grade')} that begins at {distance_text(float(x[begin]), say)}"


def stop(case: Case) -> Verdict | None:
    """The stop from the goal speed: distance, and how hard; one that grip or a lifting rear wheel hold back is too strong."""
    c = case.design.variant().controller
    done = ride_of(case, Ask(run="stop", start_charge=0.5))
    if not done.speed_m_s > 1.0:
        return None
    hand, one_way = done.run.plant.friction_n, done.run.plant.one_way > 0
    unknown = c.regen_motor_current_a is None and c.brake_resistor_ohm is None and not one_way
    say = case.say
    if unknown and hand <= 0:
        because = "Neither braking amps of the controllers nor brakes of hand or foot are stated."
        return Verdict(status=Status.NOT_CHECKED, title=f"Stop from {say(done.speed_m_s, 'speed')}: braking is not stated", because=because)
    metres = done.distance_m
    mean = done.speed_m_s**2 / (2.0 * metres) if metres > 0 else math.inf
    motor = not one_way and not unknown and (bool(c.regen_motor_current_a) or c.brake_resistor_ohm is not None)
    with_ = (
        "hand brakes and motor"
        if hand > 0 and motor
        else "hand brakes alone"
        if hand > 0
        else "the motor alone"
        if motor
        else "nothing but rolling and air"
    )
    # who bears less must not be stopped harder
    good = min(GOOD_M_S2, bearing(case).level)
    weak = good * WEAK_M_S2 / GOOD_M_S2
    status = Status.OVER if mean < weak else Status.TIGHT if mean < good else Status.CLEAR
    margin = mean / weak - 1.0
    figure = say(round(metres, 1), "height")
    because = (
        f"By {with_}, {mean:.1f} m/s² in the mean, on a half-full pack; the rider's own reaction is "
        "not in it. Local rules may ask for brakes that do not need the motor."
    )
    if one_way:
        because += " The freewheel keeps the motor out of it."
    elif unknown:
        because += " Braking amps are not stated: the motor is left out."
    if hand <= 0 and motor:
        because += " An electric brake is let go near standstill and gives nothing if the drive fails."
    title = f"Stops from {say(done.speed_m_s, 'speed')} in {figure}, by {with_}"
    too_strong = max(("brake_grip", "pitch_over"), key=lambda name: float(done.run.held_s[RIDE_INDEX[name]]))
    edits: tuple[Edit, ...] = ()
    if float(done.run.held_s[RIDE_INDEX[too_strong]]) > 0.1:
        words = "the wheels slip" if too_strong == "brake_grip" else "the rear lifts"
        status, margin = Status.OVER, -1.0
        title += f": too strong, {words}"
        edits = try_.set_amps(case.design, "regen_motor_current_a", 0.7 * (c.regen_motor_current_a or 0.0))
    elif not one_way:
        made = []
        for name, label, now in (
            ("regen_motor_current_a", "Braking motor amps", c.regen_motor_current_a or 0.0),
            ("regen_pack_current_a", "Braking pack amps", c.regen_pack_current_a or 0.0),
        ):
            for times in (1.5, 2.0):
                to = round(max(now, 8.0) * times)
                made.append(Edit(label=f"{label} {now:g} to {to:g} A", changes=((f"variant.controller.{name}", float(to)),)))
        edits = tuple(made)
    rests = ("vehicle.brake_force",) if hand > 0 else ()
    return Verdict(status=status, title=title, because=because, margin=margin, candidates=lambda: edits, figure=figure, rests=rests)


def full_pack(case: Case) -> Verdict | None:
    """Braking at the charge it is ridden from, against a half-full pack: a full one takes nothing back."""
    plant = ride_of(case, Ask(run="stop", start_charge=0.5)).run.plant
    if plant.one_way > 0 or plant.regen_a <= 0 or plant.resistor_ohm > 0:
        return None
    charge = case.design.brief.conditions.start_charge.value
    half, begun, full = (ride_of(case, Ask(run="stop", start_charge=at)).distance_m for at in (0.5, charge, 1.0))
    say = case.say
    share = half / begun if begun > 0 else 1.0
    metres = [say(round(x, 1), "height") for x in (half, begun, full)]
    because = (
        "The bus may not rise over the volts of a full pack, so braking current fades as the pack "
        f"fills: {metres[2]} at 100 %. Leave room in the pack before a descent, or brake by hand."
    )
    status = Status.CLEAR if share > FADED_SHARE else Status.TIGHT if plant.friction_n > 0 else Status.OVER
    title = f"Braking at {charge:.0%} charge: stops in {metres[1]}, {metres[0]} half full"
    to = Quantity(value=0.9, known=Known.STATED)
    edits = (Edit(label="Charge to 90 % only", changes=(("brief.conditions.start_charge", to),)),) if charge > 0.9 else ()
    return Verdict(
        status=status, title=title, because=because, margin=share / FADED_SHARE - 1.0, candidates=lambda: edits, figure=metres[1]
    )


def resistor(case: Case) -> Verdict | None:
    """A brake resistor: the speed under which it gives less than half, and its heat."""
    if case.design.variant().controller.brake_resistor_ohm is None:
        return None
    done = ride_of(case, Ask(run="stop", start_charge=0.5))
    v, force = done.run.column(Col.SPEED), -done.run.column(Col.FORCE)
    begun = int(np.argmax(force))  # the brake's own way in is not weakness
    weak = v[begun:][force[begun:] < 0.5 * float(force.max())]
    under = float(weak.max()) if weak.size else 0.0
    say = case.say
    status = Status.CLEAR if done.run.plant.friction_n > 0 else Status.TIGHT
    title = (
        f"Resistor brake gives less than half under {say(under, 'speed')}, nothing at rest; "
        f"{say(done.run.stat(Stat.RESISTOR_T), 'temperature')} after one stop"
    )
    return Verdict(status=status, title=title, figure=say(under, "speed"))


def sealed_box(case: Case) -> Verdict | None:
    """A controller in a closed box, on the goal climb of a hot day."""
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


def courses(case: Case) -> list[tuple[str, Course]]:
    """Every course of the brief by its id."""
    return [(course.id, course) for course in case.design.brief.courses]


RULES: tuple[Rule, ...] = (
    Rule(
        code="ride.climb",
        bench="ride",
        link="motor",
        because="Simulated from cold: winding, case, controller and pack against their limits, tapers and boost included.",
        judge=climb,
        rests=(*LOAD, *PULL, *HEAT, *CONTROLLER_HEAT, *CUTBACK, "controller.boost_tau_s"),
        instead_of="motor.heat_on_climb",
    ),
    Rule(
        code="ride.hot_day",
        bench="ride",
        link="motor",
        because=f"The same climb in air of {HOT_DAY_C:g} C.",
        judge=hot_day,
        rests=(*LOAD, *PULL, *HEAT, *CONTROLLER_HEAT, *CUTBACK, "controller.boost_tau_s"),
    ),
    Rule(
        code="ride.full_throttle",
        bench="ride",
        link="motor",
        because="Held at full command from cold: a hand that does not let go asks for it.",
        judge=full_throttle,
        rests=(*LOAD, *PULL, *HEAT, *CONTROLLER_HEAT, *CUTBACK, "controller.boost_tau_s"),
    ),
    Rule(
        code="ride.boost",
        bench="ride",
        link="controller",
        because="What is over the controller's lasting amps is a budget that fills like a junction warms.",
        judge=boost,
        rests=(*MASS, *PULL, "controller.boost_tau_s"),
    ),
    Rule(
        code="ride.pull",
        bench="ride",
        link="reduction",
        because="Root mean square of the pull over the ride; a belt bears its working tension over a service "
        "factor of 1.5 for good, a chain "
        "an eighth of its breaking load.",
        judge=pull,
        rests=(*LOAD, *PULL),
    ),
    Rule(
        code="ride.stop",
        bench="ride",
        link="controller",
        because="Mean deceleration of a stop on a half-full pack; the rider's own reaction is not in it.",
        judge=stop,
        rests=(*LOAD, *PULL, *GRIP, *RIDER, *RAMP),
    ),
    Rule(
        code="ride.full_pack",
        bench="ride",
        link="pack",
        because="The bus may not rise over the volts of a full pack, so braking current fades as the pack fills.",
        judge=full_pack,
        rests=(*MASS, "cell_r0_ohm"),
    ),
    Rule(
        code="ride.resistor",
        bench="ride",
        link="controller",
        because="Its force goes with speed. It gets hot enough to burn: mount it clear of skin, deck and cables.",
        judge=resistor,
        rests=(*MASS, *PULL),
    ),
    Rule(
        code="ride.box",
        bench="ride",
        link="controller",
        because="Air inside the box by the films on both sides of its wall; a controller bolted to a metal wall does better than that.",
        judge=sealed_box,
        rests=(*LOAD, *PULL, *CONTROLLER_HEAT, *HEAT),
    ),
    Rule(
        code="ride.course",
        bench="ride",
        link="pack",
        because="Ridden with its climbs, wind and stops.",
        judge=_course,
        rests=(*LOAD, *PULL, *CUTBACK, *CHARGE),
        of=courses,
    ),
)
