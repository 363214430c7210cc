"""Rules on what is too strong: brakes that slip, pitch or throw, a release that throws, and a vehicle that tips sideways."""

from __future__ import annotations

import math

import numpy as np

from wattagon.design.kinds import KINDS, Bearing
from wattagon.design.paths import Edit
from wattagon.physics.brakes import brake_force
from wattagon.physics.road import GRAVITY
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.inputs import RAMP_UP_S
from wattagon.study.drive.rules.rests import GRIP, MASS, PULL, RAMP, RIDER
from wattagon.study.findings.rule import Case, Rule, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.resolve import wheels_of

CHARGE = 0.5  # of the pack that is braked into
TIGHT_BELOW = 0.10  # room left to slipping or pitching
BEND_M = 5.0  # radius of a tight bend


def _speeds(case: Case) -> np.ndarray:
    """Speeds from which is braked: up to what the drive reaches."""
    top = max(case.study.states["full"].top_speed_m_s, 2.0)
    return np.linspace(1.0, top, 40)


def _electric_n(case: Case, motor_a: float | None = None) -> tuple[float, float]:
    """(strongest electric brake at the tread [N], speed at which [m/s]), grip and pitching not asked; at a setting if one is given."""
    resolved = case.study.resolved
    speeds = _speeds(case)
    force, _ = brake_force(resolved.train, resolved.load, speeds, resolved.emf_v(CHARGE), caps=False, motor_a=motor_a)
    k = int(np.argmax(force))
    return float(force[k]), float(speeds[k])


def _weaker(case: Case, share: float) -> tuple[Edit, ...]:
    """Braking motor amps brought down to a share of what they are."""
    now = case.design.variant().controller.regen_motor_current_a or 0.0
    return try_.set_amps(case.design, "regen_motor_current_a", now * share)


def brake_grip(case: Case) -> Verdict | None:
    """The electric brake against slip of the driven wheels and against the rear lifting; 10 % of room or it is tight."""
    resolved = case.study.resolved
    if resolved.variant.controller.regen_motor_current_a is None:
        return Verdict(status=Status.NOT_CHECKED, title="Braking amps are not stated")
    if float(resolved.train.reduction.one_way) > 0 or not resolved.variant.controller.regen_motor_current_a:
        return Verdict(status=Status.CLEAR, title="The motor does not brake")
    strongest, speed = _electric_n(case)
    grades = [result.goal.grade or 0.0 for result in case.study.goals]
    caps = resolved.load.brake_caps(-max(grades, default=0.0))
    slip, pitch = float(caps["traction"]), float(caps["pitch_over"])
    least, words = (slip, "wheels slip at") if slip <= pitch else (pitch, "rear lifts at")
    margin = 1.0 - strongest / least
    status = Status.OVER if margin < 0 else Status.TIGHT if margin < TIGHT_BELOW else Status.CLEAR
    title = f"Electric brake {case.say(strongest, 'force')} at {case.say(speed, 'speed')}, {words} {case.say(least, 'force')}"
    edits = lambda: _weaker(case, 0.9 * least / strongest)
    return Verdict(status=status, title=title, margin=margin, candidates=edits)


def bearing(case: Case) -> Bearing:
    """What the rider bears."""
    vehicle = case.design.vehicle
    usual = KINDS[vehicle.kind].bears
    level = vehicle.rider_level.value if vehicle.rider_level is not None else usual.level
    jerk = vehicle.rider_jerk.value if vehicle.rider_jerk is not None else usual.jerk
    # what comes unasked is borne as much less as it is by those that are usual
    return Bearing(usual.words, level, jerk, usual.surprise_level * level / usual.level, usual.surprise_jerk * jerk / usual.jerk)


def _throws(level: float, jerk: float, most: float, most_jerk: float) -> tuple[Status, float]:
    margin = min(1.0 - level / most, 1.0 - jerk / most_jerk)
    return Status.OVER if margin < 0 else Status.TIGHT if margin < TIGHT_BELOW else Status.CLEAR, margin


def brake_throws(case: Case) -> Verdict | None:
    """The electric brake at its strongest against what a rider who expects it bears, in level and in how quickly it comes."""
    variant, resolved = case.study.resolved.variant, case.study.resolved
    bears = bearing(case)
    because = (
        f"A {bears.words} bears about {bears.level:g} m/s² that come at {bears.jerk:g} m/s³ or "
        "slower, when it is expected; fit people more, others less."
    )
    if float(resolved.train.reduction.one_way) > 0 or not variant.controller.regen_motor_current_a:
        return None  # nothing brakes, or `brake_grip` says that it is not stated
    force, speed = _electric_n(case)
    load = sum(float(x) for x in resolved.load.parts_n(speed, 0.0, max(resolved.headwind_m_s, 0.0)))
    level = (force + load) / float(resolved.load.mass_kg)
    ramp = variant.controller.ramp_up_s if variant.controller.ramp_up_s is not None else RAMP_UP_S
    jerk = force / float(resolved.load.mass_kg) / max(ramp, 1e-3)
    status, margin = _throws(level, jerk, bears.level, bears.jerk)
    title = (
        f"Braking with the motor: {level:.1f} m/s² at {case.say(speed, 'speed')}, coming at "
        f"{jerk:.0f} m/s³; borne {bears.level:.1f} and {bears.jerk:.0f}"
    )
    edits = lambda: _milder(case, level, jerk, bears.level, bears.jerk, ramp, "ramp_up_s", "Ramp up")
    return Verdict(status=status, title=title, because=because, margin=margin, candidates=edits)


def _milder(case: Case, level: float, jerk: float, most: float, most_jerk: float, ramp: float, name: str, label: str) -> tuple[Edit, ...]:
    slower = math.ceil(ramp * max(jerk / most_jerk, 1.0) * 20.0 + 1.0) / 20.0
    ramps = (
        (Edit(label=f"{label} {ramp:g} to {slower:g} s", changes=((f"variant.controller.{name}", slower),)),)
        if jerk > 0.9 * most_jerk
        else ()
    )
    weaker = _weaker(case, 0.85 * most / level) if level > 0.9 * most else ()
    both = tuple(Edit(label=f"{a.label}, {b.label.lower()}", changes=(*a.changes, *b.changes)) for a in weaker for b in ramps)
    return (*both, *ramps, *weaker)


def release_throws(case: Case) -> Verdict | None:
    """Letting go of the lever, with the motor's braking and drag: what comes unasked is borne least."""
    variant, resolved = case.study.resolved.variant, case.study.resolved
    choice = variant.controller
    bears = bearing(case)
    because = (
        f"Letting go comes unasked: a {bears.words} then bears about {bears.surprise_level:.1f} m/s² that come at "
        f"{bears.surprise_jerk:.0f} m/s³. A freewheel rolls on."
    )
    if float(resolved.train.reduction.one_way) > 0:
        return Verdict(status=Status.CLEAR, title="Letting go: the freewheel rolls on", because=because)
    stated = choice.release_current_a is not None
    amps = choice.release_current_a if choice.release_current_a is not None else choice.regen_motor_current_a
    if amps is None:
        return Verdict(
            status=Status.NOT_CHECKED, because=because, title="Letting go of the lever: whether the motor brakes then is not stated"
        )
    if amps > 0:
        force, speed = _electric_n(case, float(amps))
    else:  # only what the rotors and the reduction drag
        speed = max(case.study.states["nominal"].top_speed_m_s, 1.0)
        shaft = float(resolved.train.reduction.ratio * resolved.load.shaft_speed_rad_s(speed, 0.0))
        force = max(-float(resolved.load.thrust_n(speed, resolved.train.output_torque_nm(0.0, shaft))), 0.0)
    level = force / float(resolved.load.mass_kg)
    ramp = choice.ramp_up_s if choice.ramp_up_s is not None else RAMP_UP_S
    jerk = level / max(ramp, 1e-3)
    status, margin = _throws(level, jerk, bears.surprise_level, bears.surprise_jerk)
    if status is Status.OVER and not stated:
        status = Status.TIGHT  # it may well roll on: that is for the user to say
    needed = level / bears.surprise_jerk
    how = "" if stated else ", if letting go brakes with all braking amps"
    title = f"Letting go at {case.say(speed, 'speed')}: {level:.1f} m/s², coming at {jerk:.1f} m/s³{how}; a ramp of {needed:.1f} s would do"

    def edits() -> tuple[Edit, ...]:
        slower = math.ceil(needed * 20.0 + 1.0) / 20.0
        ramps = Edit(label=f"Ramp up {ramp:g} to {slower:g} s", changes=(("variant.controller.ramp_up_s", slower),))
        share = 0.9 * min(bears.surprise_level / level, bears.surprise_jerk / jerk) if level > 0 else 1.0
        less = float(math.floor(amps * share))
        made = (
            [Edit(label="It rolls on when the lever is let go", changes=(("variant.controller.release_current_a", 0.0),))]
            if amps > 0
            else []
        )
        if less >= 1.0:
            made.append(Edit(label=f"Braking amps on release {less:g} A", changes=(("variant.controller.release_current_a", less),)))
        return (*made, ramps) if level <= bears.surprise_level else tuple(made)

    return Verdict(status=status, title=title, because=because, margin=margin, candidates=edits)


def tips_sideways(case: Case) -> Verdict | None:
    """Half the track over the height of the weight against grip; of three wheels the pair's share of it."""
    vehicle = case.design.vehicle
    if KINDS[vehicle.kind].leans:
        return None
    if vehicle.track is None:
        return Verdict(status=Status.NOT_CHECKED, title="Tipping sideways: the track is not measured")
    road = case.study.resolved.road
    share = float(vehicle.track.value) / 2.0 / float(road.cm_height_m)
    if wheels_of(vehicle) == 3:
        behind = float(road.cm_behind_front_m) / float(road.wheelbase_m)
        single_behind = (vehicle.axle_wheels == 1) == (vehicle.driven_axle != "front")
        share *= 1.0 - behind if single_behind else behind
    grip = float(vehicle.grip.value)
    tips = math.sqrt(share * GRAVITY * BEND_M)
    fastest = max(
        [result.target for result in case.study.goals if result.dimension == "speed"], default=case.study.states["nominal"].top_speed_m_s
    )
    margin = share / grip - 1.0
    status = Status.CLEAR if margin >= 0.1 else Status.TIGHT if margin >= 0 or tips >= fastest else Status.OVER
    words = "slides before it tips" if margin >= 0 else "tips before it slides"
    title = (
        f"Sideways it {words}: tips at {share:.2f} g, grip {grip:g}; in a bend of {case.say(BEND_M, 'height')} at {case.say(tips, 'speed')}"
    )
    return Verdict(status=status, title=title, margin=margin)


RULES: tuple[Rule, ...] = (
    Rule(
        code="brake.grip",
        on="wheels",
        bench="drive",
        link="controller",
        because="A brake that locks its wheels steers no more; one that lifts the rear throws over the front. Worst on a descent.",
        judge=brake_grip,
        rests=(*MASS, *PULL, *GRIP),
    ),
    Rule(
        code="rider.brake",
        on="wheels",
        bench="drive",
        link="controller",
        because="What a rider bears of being held back who expects it, in level and in how quickly it comes.",
        judge=brake_throws,
        rests=(*RIDER, *RAMP, *MASS, *PULL),
    ),
    Rule(
        code="rider.release",
        on="wheels",
        bench="drive",
        link="controller",
        because="What a rider bears of being held back that comes unasked.",
        judge=release_throws,
        rests=(*RIDER, *RAMP, *MASS, *PULL, "controller.release_current_a"),
    ),
    Rule(
        code="vehicle.tips_sideways",
        on="wheels",
        bench="brief",
        link="wheel",
        because=(
            "It tips sideways at half its track over the height of its weight, in g; below the grip it "
            "tips before it slides. A raised seat raises the weight."
        ),
        judge=tips_sideways,
        rests=("vehicle.track", *GRIP),
    ),
)
