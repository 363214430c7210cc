"""Shifting the bike's own gears on a ride, compiled: when, into which, and what that does to the reduction.

A gear is a factor on the last stage's ratio, so only slopes, ratio and slip of the reduction change with it, not its drags.
Rule: the highest gear that holds the cadence in its window, or the rider's own point to shift up at.
"""

from __future__ import annotations

import math

from wattagon.physics.ride.jit import jit
from wattagon.physics.ride.limits import DUTY, ERPM, RPM

SPARE = 1.10  # of the window's lower end: what the next gear must turn for a shift up, so that the pause does not shift back
OUT_OF_BREATH = 0.5  # of the lower end: into what is shifted up where the motor runs out of volts before
AFTER_UP = 0.92  # of the cadence after a shift up: under which it is shifted down
BETWEEN_S = 1.2  # between a shift and the next one up
ROLLING_M_S = 0.3  # a chain is not shifted standing


@jit
def kept_speed(p, v, mass, rest_n):
    """Speed left after a shift without torque [m/s], half of the ramp up included; rest_n: force beside the drive's."""
    return max(v + min(rest_n, 0.0) / mass * (p.shift_pause + 0.5 * p.rise_s), 0.0)


@jit
def gear_wanted(p, lines, factors, gear, v, limit, mass, rest_n, shaft_most_nm, down_rpm, since_s):
    """Index of the gear to be in.

    rest_n: force on the vehicle beside the drive's; shaft_most_nm: what a motor could give now; down_rpm: cadence to shift down at;
    since_s: since the last shift.  Up is shifted only where it stays: the next gear must be able to hold the speed, and what the pause
    costs of it on a climb is reckoned with.
    """
    if v < ROLLING_M_S:
        return gear
    rpm = v / p.radius * p.crank_ratio * RPM
    if rpm < down_rpm:
        to = gear
        while to > 0 and rpm * factors[to] / factors[gear] < down_rpm:
            to -= 1
        return to
    if gear + 1 == factors.shape[0] or since_s < BETWEEN_S:
        return gear
    step = factors[gear + 1] / factors[gear]
    after = rpm * step * kept_speed(p, v, mass, rest_n) / v
    breathless = limit in (DUTY, ERPM) and after >= OUT_OF_BREATH * p.shift_low
    if (rpm >= p.shift_up and after >= SPARE * p.shift_low) or breathless:
        drive = math.inf
        for k in range(lines.shape[0]):
            drive = min(drive, p.motors * lines[k, 0] * step / p.radius * (shaft_most_nm - lines[k, 1]))
        if max(drive, 0.0) + rest_n >= 0.0 or rest_n >= 0.0:
            return gear + 1
    return gear


@jit
def engage(p, lines, factors, old, gear):
    """Write the ratio, slopes and slip of another gear."""
    change = factors[gear] / factors[old]
    for k in range(lines.shape[0]):
        lines[k, 0] *= change
    p.ratio *= change
    p.crank_ratio *= change
    p.floor_nm *= change
    p.slip_nm *= change
    p.slip_back_nm *= change


@jit
def caught(p, bare_mass, v, shaft, coupled, before_m):
    """(speed, shaft speed, coupled, energy lost [J]) once a new gear is in; before_m: turns per metre of the old one.

    A rotor slower than the wheel asks for stays behind its freewheel.  Any other shares its momentum with the vehicle, and what the
    difference of speeds held is lost in the chain.
    """
    per_m = p.ratio / p.radius
    if coupled:
        shaft = before_m * v
    if p.one_way > 0.0 and shaft < per_m * v:
        return v, shaft, False, 0.0
    rotor = p.motors * p.inertia
    given = 0.5 * bare_mass * v * v + 0.5 * rotor * shaft * shaft
    speed = (bare_mass * v + rotor * per_m * shaft) / (bare_mass + rotor * per_m * per_m)
    return speed, per_m * speed, True, given - 0.5 * bare_mass * speed * speed - 0.5 * rotor * (per_m * speed) ** 2
