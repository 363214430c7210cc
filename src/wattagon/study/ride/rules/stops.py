"""Stops: how short, with a full pack, and on a brake resistor."""

from __future__ import annotations

import math

import numpy as np

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.physics.ride.names import Col, Stat
from wattagon.physics.ride.plant import RIDE_INDEX
from wattagon.study.drive import candidates as try_
from wattagon.study.drive.rules.rider import bearing
from wattagon.study.findings.rule import Case, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.ride.rules.rides import ride_of
from wattagon.study.ride.study import Ask

WEAK_M_S2, GOOD_M_S2 = (
    1.5,
    2.5,
)  # mean deceleration of a stop: under the first over, under the second tight; a city bike does 3 to 4
FADED_SHARE = 0.75  # of the braking distance with room in the pack


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
