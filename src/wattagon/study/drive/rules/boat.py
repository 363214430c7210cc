"""Rules of a boat beside its propeller's work: how it floats, a motor without its water, shaft, bearing and pin, paddling home."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from wattagon.design.tree import Place, PropellerChoice
from wattagon.physics.held import holding
from wattagon.physics.holding import Hold
from wattagon.physics.water.limits import whirl_turns_s
from wattagon.study.drive.afloat import lying
from wattagon.study.drive.rules.rests import HEAT, MASS, PULL
from wattagon.study.drive.rules.water import HULL, SCREW, held_fast, part_of, running
from wattagon.study.drive.water import boat_in
from wattagon.study.drive.water_lines import dead_propeller_m2
from wattagon.study.findings.rule import Case, Rule, Verdict, unknown
from wattagon.study.findings.status import Status
from wattagon.study.resolve import CHARGE_STATES

FREEBOARD_TIGHT_M, FREEBOARD_OVER_M = 0.20, 0.10  # typical of open boats in sheltered water
TRIM_DEG = 2.0  # typical: from here on it ploughs, or drags its stern
DRY_S = 120.0  # under it nobody notices in time; typical
GAP_TIGHT, GAP_OVER = 0.10, 0.03  # of the diameter, tip to hull; typical
WHIRL_SHARE = 0.6
BEARING_SHARE = 0.25  # of the static rating, steady
PIN_PA = 220e6  # at which brass shears; typical
SHAFT_PA = 205e6  # shear at which a shaft of mild steel twists for good: 0.58 of 355 MPa
PADDLE_W, PADDLE_SHARE = 60.0, 0.5  # that a person gives for an hour, and what of it moves the boat; typical
HOME_M_S = 0.8  # slower than that is hardly going home
NOMINAL = CHARGE_STATES["nominal"]


def _choice(case: Case) -> PropellerChoice:
    choice = case.study.resolved.variant.propeller
    assert choice is not None
    return choice


def freeboard(case: Case) -> Verdict:
    """The lower of both ends above the water, everybody aboard."""
    hull = case.design.vehicle.hull
    assert hull is not None
    if hull.transom_height is None:
        return unknown("Freeboard: the height of its sides is not measured")
    lies = lying(case.design, float(case.study.resolved.load.mass_kg))
    least = min(lies.aft_m, lies.ahead_m)
    status = Status.OVER if least < FREEBOARD_OVER_M else Status.TIGHT if least < FREEBOARD_TIGHT_M else Status.CLEAR
    end = "aft" if lies.aft_m <= lies.ahead_m else "ahead"
    title = f"Freeboard {case.say(round(max(least, 0.0), 3), 'length')} {end} with everybody aboard"
    return Verdict(status=status, title=title, margin=least / FREEBOARD_TIGHT_M - 1.0)


def trim(case: Case) -> Verdict:
    """How far it lies by the stern or by the bow at rest."""
    lies = lying(case.design, float(case.study.resolved.load.mass_kg))
    degrees = math.degrees(float(lies.floats.trim_rad))
    status = Status.TIGHT if abs(degrees) > TRIM_DEG else Status.CLEAR
    where = "by the stern" if degrees > 0 else "by the bow"
    title = f"Lies {abs(degrees):.1f}° {where}" if abs(degrees) >= 0.05 else "Lies level"
    if status is Status.TIGHT:
        title += f": move the load {'forward' if degrees > 0 else 'aft'} on the drawing"
    return Verdict(status=status, title=title, margin=1.0 - abs(degrees) / TRIM_DEG)


def dry(case: Case) -> Verdict | None:
    """What the motor does when its water stays away: lifted out, a leg's pump choked, a loop's pump stopped."""
    resolved = case.study.resolved
    heat = resolved.train.heat
    if heat is None or not float(heat.fixed_w_per_k) > 0.0:
        return None
    top = case.study.states["nominal"].top_speed_m_s
    held = holding(resolved.train, resolved.load, top, headwind_m_s=resolved.headwind_m_s)
    shaft = float(np.asarray(held.shaft_rad_s))
    torque = float(np.asarray(resolved.train.reduction.shaft_torque_nm(held.output_nm / resolved.train.count)))
    hold = Hold(
        motor=resolved.train.motor,
        heat=replace(heat, fixed_w_per_k=0.0, air_share=0.0),
        shaft_nm=torque,
        shaft_rad_s=shaft,
        speed_m_s=0.0,
        ceiling_a=resolved.train.motor.dc_per_motor_amp * float(resolved.train.controller.motor_current_a),
        air_c=resolved.day_c,
    )
    seconds = float(hold.time_to_limit_s())
    limit = case.say(float(heat.limit_c), "temperature")
    if math.isinf(seconds):
        return Verdict(status=Status.CLEAR, title=f"Without its water the motor stays under {limit} at the load of full speed", margin=0.3)
    status = Status.TIGHT if seconds < DRY_S else Status.CLEAR
    title = f"Without its water a winding meets {limit} in {case.say(seconds, 'time')} at the load of full speed"
    if status is Status.TIGHT:
        title += ": watch its sensor, never run it dry"
    return Verdict(status=status, title=title, margin=seconds / DRY_S - 1.0)


def gap(case: Case) -> Verdict:
    """Tip of a blade to the hull."""
    hull, size = case.design.vehicle.hull, part_of(case).diameter_m
    assert hull is not None
    if hull.tip_gap is None:
        return unknown("Gap of the propeller's tip to the hull is not measured")
    share = hull.tip_gap.value / size
    status = Status.OVER if share < GAP_OVER else Status.TIGHT if share < GAP_TIGHT else Status.CLEAR
    title = f"Tips clear the hull by {case.say(hull.tip_gap.value, 'length')}, a tenth of the diameter is {case.say(0.1 * size, 'length')}"
    return Verdict(status=status, title=title, margin=share / GAP_TIGHT - 1.0)


def whirl(case: Case) -> Verdict | None:
    """First whirl of the propeller's shaft between its bearings against its turns, under the push of the dock."""
    choice = _choice(case)
    if choice.place not in (Place.LONG_TAIL, Place.SHAFT):
        return None
    if choice.shaft_diameter is None or choice.shaft_span is None:
        return unknown("Whirl of the shaft: its diameter and the gap between its bearings are not stated")
    push = held_fast(case).thrust_n
    first = float(whirl_turns_s(choice.shaft_diameter.value, choice.shaft_span.value, push)) * 60.0
    turns = running(case).rpm
    margin = 1.0 - turns / (WHIRL_SHARE * first) if first > 0.0 else -1.0
    status = Status.OVER if turns > first else Status.TIGHT if margin < 0.0 else Status.CLEAR
    title = f"Shaft turns {turns:,.0f} rpm at full speed, it whirls at {first:,.0f} rpm: bearings each 0.4 to 0.5 m"
    return Verdict(status=status, title=title, margin=margin)


def bearing(case: Case) -> Verdict:
    """Thrust at full throttle tied up against the static rating of what takes it."""
    choice = _choice(case)
    push = held_fast(case).thrust_n
    if choice.thrust_rating is None:
        return unknown(f"No thrust bearing stated: motor bearings held by a clip are not made for {case.say(push, 'force')}")
    bears = BEARING_SHARE * choice.thrust_rating.value
    margin = 1.0 - push / bears
    status = Status.OVER if push > choice.thrust_rating.value else Status.TIGHT if margin < 0.0 else Status.CLEAR
    title = f"Thrust of {case.say(push, 'force')} on a bearing that bears {case.say(bears, 'force')} for good"
    return Verdict(status=status, title=title, margin=margin)


def pin(case: Case) -> Verdict | None:
    """The shear pin against the propeller's peak torque and what the shaft bears: weaker shears under way, stronger protects nothing."""
    part, choice = part_of(case), _choice(case)
    if part.pin_mm is None:
        return None
    if choice.shaft_diameter is None:
        return unknown("Shear pin: the diameter of the shaft that it goes through is not stated")
    shears = PIN_PA * 2.0 * math.pi * (part.pin_mm / 1000.0) ** 2 / 4.0 * choice.shaft_diameter.value / 2.0
    peak = held_fast(case).torque_nm
    twists = SHAFT_PA * math.pi * choice.shaft_diameter.value**3 / 16.0
    margin = min(shears / peak - 1.0, twists / shears - 1.0)
    status = Status.OVER if shears < peak else Status.TIGHT if shears < 1.3 * peak or shears > twists else Status.CLEAR
    title = f"A brass pin of {part.pin_mm:g} mm shears at {case.say(shears, 'torque')}, the peak is {case.say(peak, 'torque')}"
    if shears > twists:
        title += f": so strong that the shaft twists first, at {case.say(twists, 'torque')}"
    return Verdict(status=status, title=title, margin=margin)


def paddle(case: Case) -> Verdict:
    """Speed of one who paddles it home, the dead propeller in the water or lifted."""
    resolved = case.study.resolved
    boat = boat_in(resolved)
    speeds = np.linspace(0.05, 4.0, 400)
    drag = np.asarray(boat.resistance_n(speeds, 0.0, resolved.headwind_m_s))
    dead = 0.5 * float(boat.kg_m3) * dead_propeller_m2(resolved, part_of(case)) * speeds**2
    power = PADDLE_SHARE * PADDLE_W * (2.0 if case.design.vehicle.rider_mass.value > 110.0 else 1.0)

    def at(force: np.ndarray) -> float:
        over = np.flatnonzero(force * speeds > power)
        return float(speeds[over[0]]) if over.size else float(speeds[-1])

    down, lifted = at(drag + dead), at(drag)
    over_ground = down - resolved.current_m_s
    status = Status.OVER if over_ground <= 0.0 else Status.TIGHT if over_ground < HOME_M_S else Status.CLEAR
    say = case.say
    title = f"Paddled home at {say(down, 'speed')} with the dead propeller down, {say(lifted, 'speed')} with it lifted"
    if status is Status.OVER:
        title += f": not against a current of {say(resolved.current_m_s, 'speed')}"
    return Verdict(status=status, title=title, margin=over_ground / HOME_M_S - 1.0)


def _rule(code: str, link: str, because: str, judge, rests: tuple[str, ...]) -> Rule:  # type: ignore[no-untyped-def]
    return Rule(code=code, bench="drive", link=link, because=because, judge=judge, rests=rests, on="water")


AFLOAT = (*MASS, "waterline_length", "waterline_beam", "draught", "transom_height", "weight_forward")
RULES: tuple[Rule, ...] = (
    _rule(
        "boat.freeboard",
        "water",
        "Typical of open boats in sheltered water; waves and a person who moves ask for more. Lifejackets on.",
        freeboard,
        AFLOAT,
    ),
    _rule("boat.trim", "water", "Where the weight sits against where it lies level, which is typical of its kind.", trim, AFLOAT),
    _rule(
        "motor.dry",
        "motor",
        "Heat into still air alone, from cold: lifted out, weed in the inlet, a pump that stopped.",
        dry,
        (*PULL, *HEAT, *SCREW),
    ),
    _rule(
        "prop.gap",
        "propeller",
        "Typical: closer than a tenth of the diameter it drums on the hull.",
        gap,
        ("tip_gap", "propeller.diameter_m"),
    ),
    _rule("shaft.whirl", "shaft", "Simple bearings, solid steel, below 0.6 of the first whirl under its push.", whirl, (*PULL, *SCREW)),
    _rule("shaft.thrust", "shaft", "A quarter of the static rating for steady load, light series.", bearing, (*PULL, *SCREW)),
    _rule("shaft.pin", "shaft", "Two sections of brass at 220 MPa; it is the fuse of blades and gear.", pin, (*PULL, *SCREW)),
    _rule(
        "boat.paddle",
        "water",
        f"A person gives {PADDLE_W:g} W for an hour, half of it moves the boat; typical. Carry a paddle.",
        paddle,
        HULL,
    ),
)
