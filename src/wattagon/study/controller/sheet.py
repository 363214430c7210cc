"""The settings sheet: every value with its bounds, whose they are, and the reason with the figure that it follows from."""

from __future__ import annotations

import math
from collections.abc import Iterator

from wattagon.physics import pack as packs
from wattagon.physics.controller import boost_time_s
from wattagon.study.controller.schools import School
from wattagon.study.controller.seen import Seen, one_of
from wattagon.study.controller.setting import Setting
from wattagon.study.controller.sheet_machine import machine, modes, ramps
from wattagon.study.drive.study import climb_goals, free_shaft_rad_s, needed_along
from wattagon.study.ride.inputs import BOOST_TAU_S, CONTROLLER_TAPER_C

TRIP = 1.3  # times the motor amps: ripple and overshoot stay under it
TRIP_MOST = 1.3  # times the controller's burst rating
UNDER_LIMIT_K, TAPER_K = 10.0, 20.0


def sheet(seen: Seen) -> tuple[Setting, ...]:
    """All settings of one controller in their order; those that its school lacks say what to do instead."""
    made = [
        *_amps(seen),
        *_cutoffs(seen),
        *_speed(seen),
        *_heat(seen),
        *machine(seen),
        *ramps(seen),
        *modes(seen),
    ]
    return tuple(_lacks(one, seen.school) for one in made)


def _lacks(one: Setting, school: School) -> Setting:
    from dataclasses import replace

    words = school.cannot.get(one.key) or (school.cannot.get("speed") if one.key.endswith("_speed") else None)
    return replace(one, cannot=words) if words else one


def handy(amps: float, step: float = 1.0) -> float:
    """Down to a whole step."""
    return max(step * math.floor(amps / step + 1e-9), step)


def _between(seen: Seen, axis: str) -> tuple[float | None, str, float | None, str]:
    low, high = seen.least(axis), seen.most(axis)
    return (low.amps if low else None, low.whose if low else "", high.amps if high else None, high.whose if high else "")


def _amps(seen: Seen) -> Iterator[Setting]:
    choice, resolved, say = seen.resolved.variant.controller, seen.resolved, seen.say
    amps = lambda value: say(value, "current")
    base = "variant.controller"
    low, low_from, high, high_from = _between(seen, "motor")
    most, lasting = seen.most("motor"), seen.lasting("motor")
    because = f"{most.because}: {amps(most.amps)}" if most is not None else "no rating of motor or controller is known"
    if lasting is not None:
        because += f"; above {amps(lasting.amps)} for a while only, {lasting.because}"
    yield one_of(
        "motor_a",
        "motor amps",
        choice.motor_current_a,
        min(choice.motor_current_a, handy(most.amps)) if most is not None else choice.motor_current_a,
        dimension="current",
        low=low,
        low_from=low_from,
        high=high,
        high_from=high_from,
        because=because,
        path=f"{base}.motor_current_a",
    )
    freewheels = float(resolved.train.reduction.one_way) > 0
    low, low_from, high, high_from = _between(seen, "motor_brake")
    most = seen.most("motor_brake")
    afloat = seen.design.vehicle.kind.floats
    proposed = 0.0 if freewheels or afloat else handy(0.9 * most.amps) if most is not None else None
    because = (
        "a freewheel lets nothing back to the motor: 0"
        if freewheels
        else "water holds a boat back, and its propeller in reverse: 0"
        if afloat
        else f"nine tenths of where the {most.whose}: {amps(most.amps)}"
        if most is not None and most.code.startswith("ground")
        else f"{most.because}: {amps(most.amps)}"
        if most is not None
        else "nothing that bounds it is known"
    )
    yield one_of(
        "motor_brake_a",
        "braking motor amps",
        choice.regen_motor_current_a,
        proposed,
        dimension="current",
        low=0.0,
        low_from="no brake",
        high=0.0 if freewheels else high,
        high_from="freewheel" if freewheels else high_from,
        because=because,
        path=f"{base}.regen_motor_current_a",
    )
    burst = resolved.controller_part.motor_current_burst_a
    setting = choice.motor_current_a
    yield one_of(
        "absolute_a",
        "absolute maximum",
        seen.control.absolute_a,
        handy(TRIP * setting),
        dimension="current",
        low=1.2 * setting,
        low_from="motor amps and their ripple",
        high=TRIP_MOST * burst if burst is not None else None,
        high_from="controller" if burst is not None else "",
        because=f"{TRIP:g} times the motor amps of {amps(setting)}: ripple must not trip it, and it must never be a working limit",
        path="variant.control.absolute_a",
    )
    low, low_from, high, high_from = _between(seen, "pack")
    most, lasting = seen.most("pack"), seen.lasting("pack")
    known = [one.amps for one in (most, lasting) if one is not None]
    proposed = min([choice.pack_current_a, *(handy(value) for value in known)])
    because = f"{(lasting or most).because}: {amps((lasting or most).amps)}" if lasting or most else "no rating is known"  # type: ignore[union-attr]
    yield one_of(
        "pack_a",
        "pack amps",
        choice.pack_current_a,
        proposed,
        dimension="current",
        low=low,
        low_from=low_from,
        high=high,
        high_from=high_from,
        because=because,
        path=f"{base}.pack_current_a",
    )
    low, low_from, high, high_from = _between(seen, "pack_in")
    limits = [one for one in seen.bounds if one.axis == "pack_in"]
    first = min(limits, key=lambda one: one.amps, default=None)
    lasting = min((one for one in limits if one.code != "motor.gives"), key=lambda one: one.amps, default=None)
    # braking lasts seconds: twice what the cells take for hours is usual, what the board trips at is not
    room = [2.0 * one.amps if one.code == "cells.charge" else one.amps for one in limits]
    yield one_of(
        "pack_in_a",
        "braking pack amps",
        choice.regen_pack_current_a,
        0.0 if freewheels or afloat else handy(min(room)) if room else None,
        dimension="current",
        low=0.0,
        low_from="no brake",
        high=0.0 if freewheels else high if high is not None else 3.0 * lasting.amps if lasting is not None else None,
        high_from="freewheel" if freewheels else high_from or ("three times what the cells take for hours" if lasting is not None else ""),
        because="nothing is given back: 0"
        if freewheels or afloat
        else f"{first.because}: {amps(first.amps)}; braking lasts seconds, so twice what the cells take for hours"
        if first is not None
        else "nothing that bounds it is known",
        path=f"{base}.regen_pack_current_a",
    )
    power = seen.control.watts
    volts = resolved.emf_v(0.5)
    yield one_of(
        "watts",
        "power limit",
        power,
        round(volts * choice.pack_current_a, -1),
        dimension="power",
        high=1.02 * float(resolved.train.pack.full_v) * choice.pack_current_a,
        high_from="pack amps at a full pack",
        because=f"{amps(choice.pack_current_a)} at {say(volts, 'voltage')}: no more than the pack amps allow anyway",
        path="variant.control.watts",
    )


def sag_on_climb_v(seen: Seen, charge: float) -> tuple[float, str]:
    """Loaded volts on the hardest climb that is asked for at a charge, with what climb; nan without one."""
    climbs, resolved = climb_goals(seen.design), seen.resolved
    if not climbs:
        return math.nan, ""
    found = []
    for speed, grade in climbs:
        amps = float(needed_along(resolved, speed, grade, charge)["pack_a"])
        asked = min(amps, float(resolved.train.count) * float(resolved.train.controller.battery_current_a))
        volts = resolved.emf_v(charge) - float(resolved.train.pack_ohm(True)) * asked
        found.append((volts, f"{seen.say(speed, 'speed')} up {seen.say(grade, 'grade')}"))
    return min(found)


def _cutoffs(seen: Seen) -> Iterator[Setting]:
    choice, train, say = seen.resolved.variant.controller, seen.resolved.train, seen.say
    series, chemistry = float(train.pack.series), train.pack.chemistry
    start, end = packs.CUTBACK_V[chemistry]
    bears = packs.LOADED_CUTOFF_V[chemistry] * series
    bottom = seen.resolved.window[1]
    climb, where = sag_on_climb_v(seen, bottom)
    volts = lambda value: say(value, "voltage")
    top = climb if math.isfinite(climb) else None
    proposed = min(start * series, top) if top is not None and top > end * series + 0.02 * series else start * series
    yield one_of(
        "cut_start_v",
        "cutoff begins",
        choice.cutback_start_v,
        round(proposed, 1),
        dimension="voltage",
        low=bears,
        low_from="cells",
        high=top,
        high_from="climb" if top is not None else "",
        because=f"{series:.0f} cells of {start:g} V"
        + (f"; on {where} at {bottom:.0%} of charge the bus stands at {volts(climb)}" if where else ""),
        path="variant.controller.cutback_start_v",
    )
    begins = choice.cutback_start_v if choice.cutback_start_v is not None else start * series
    yield one_of(
        "cut_end_v",
        "cutoff ends",
        choice.cutback_end_v,
        round(end * series, 1),
        dimension="voltage",
        low=packs.ABSOLUTE_CUTOFF_V[chemistry] * series,
        low_from="cells",
        high=begins - 0.05 * series,
        high_from="where it begins",
        because=f"{series:.0f} cells of {end:g} V; {volts(bears)} is what they bear under load, "
        f"{volts(packs.ABSOLUTE_CUTOFF_V[chemistry] * series)} at all",
        path="variant.controller.cutback_end_v",
    )
    yield one_of(
        "cells",
        "cells in series",
        seen.control.cells,
        series,
        dimension="S",
        low=series,
        low_from="pack",
        high=series,
        high_from="pack",
        because=f"the pack has {series:.0f} in series, {volts(float(train.pack.full_v))} full",
        path="variant.control.cells",
    )


def _speed(seen: Seen) -> Iterator[Setting]:
    resolved, train, say = seen.resolved, seen.resolved.train, seen.say
    part, motor = resolved.controller_part, train.motor
    free = free_shaft_rad_s(seen.drive) * 60.0 / math.tau
    yield one_of(
        "duty",
        "largest duty",
        float(train.controller.duty_max),
        0.95,
        dimension="share",
        low=0.8,
        low_from="speed is lost under it",
        high=0.95,
        high_from="the bridge's own supply",
        because="above it the upper switches lose their supply and amps are read too late",
        path="variant.controller.overrides.duty_max",
    )
    yield one_of(
        "duty_soft",
        "duty taper begins",
        seen.control.duty_soft,
        round(0.92 * float(train.controller.duty_max), 2),
        dimension="share",
        low=0.5,
        low_from="pull is lost early",
        high=float(train.controller.duty_max),
        high_from="largest duty",
        because="a soft end: pull fades over the last of the speed, and does not stop as at a wall",
        path="variant.control.duty_soft",
    )
    if not motor.brushed:
        erpm = free * float(motor.pole_pairs)
        rating = part.erpm_max
        yield one_of(
            "erpm",
            "electrical speed",
            None if math.isinf(float(train.controller.erpm_end)) else float(resolved.unheld.erpm_end),
            rating if rating is not None else math.ceil(1.1 * erpm / 1000.0) * 1000.0,
            dimension="rpm",
            low=erpm,
            low_from="full pack, wheel in the air",
            high=rating,
            high_from="controller" if rating is not None else "",
            because=f"{say(free, 'rpm')} of the motor with nothing to push, times {float(motor.pole_pairs):g} pole pairs",
            path="variant.controller.overrides.erpm_max",
        )


def _heat(seen: Seen) -> Iterator[Setting]:
    choice, resolved, say = seen.resolved.variant.controller, seen.resolved, seen.say
    heat, part = resolved.train.heat, resolved.controller_part
    limit = float(heat.limit_c) if heat is not None else 120.0
    has = seen.control.motor_sensor == "yes" or choice.motor_taper_start_c is not None
    degrees = lambda value: say(value, "temperature")
    lasting = seen.lasting("motor")
    because = f"the winding's limit of {degrees(limit)} less {UNDER_LIMIT_K:g} K, since it is hotter than its sensor"
    if not has:
        because += "; no sensor is told: the boost budget alone guards it"
    base = "variant.controller"
    end = limit - UNDER_LIMIT_K
    yield one_of(
        "motor_taper_c",
        "motor taper begins",
        choice.motor_taper_start_c,
        end - TAPER_K,
        dimension="temperature",
        low=60.0,
        low_from="a hot day",
        high=limit - 5.0,
        high_from="winding",
        because=because,
        path=f"{base}.motor_taper_start_c",
    )
    yield one_of(
        "motor_taper_end_c",
        "motor taper ends",
        choice.motor_taper_end_c,
        end,
        dimension="temperature",
        low=(choice.motor_taper_start_c or end - TAPER_K) + 5.0,
        low_from="where it begins",
        high=limit,
        high_from="winding",
        because=because,
        path=f"{base}.motor_taper_end_c",
    )
    told = lambda name: choice.overrides[name].value if name in choice.overrides else getattr(part, name)
    for key, name, field, value in (
        ("controller_taper_c", "controller taper begins", "taper_start_c", CONTROLLER_TAPER_C[0]),
        ("controller_taper_end_c", "controller taper ends", "taper_end_c", CONTROLLER_TAPER_C[1]),
    ):
        yield one_of(
            key,
            name,
            told(field),
            value,
            dimension="temperature",
            low=60.0,
            low_from="a hot day",
            high=110.0,
            high_from="solder, capacitors",
            because="usual of its transistors; capacitors beside them age twice as fast for each 10 K",
            path=f"{base}.overrides.{field}",
        )
    tau = choice.boost_tau_s if choice.boost_tau_s is not None else BOOST_TAU_S
    if lasting is not None:
        share = choice.motor_current_a / lasting.amps
        seconds = float(boost_time_s(share, tau))
        yield one_of(
            "boost_s",
            "boost lasts",
            seen.control.boost_s,
            round(seconds, 1) if math.isfinite(seconds) else 600.0,
            dimension="time",
            high=1.1 * seconds if math.isfinite(seconds) else None,
            high_from=lasting.whose,
            because=f"{share:.0%} of {say(lasting.amps, 'current')} ({lasting.because}), budget with a time constant of {say(tau, 'time')}",
            path="variant.control.boost_s",
        )
