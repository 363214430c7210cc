"""What a run tells about the drive: wheel torque from a stopwatch, coast-down, pack resistance.

Sources: White and Korst 1972 (coast-down), Gillespie 1992.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import ArrayLike

from wattagon.physics.arrays import Num, require
from wattagon.physics.powertrain import Powertrain
from wattagon.physics.road import GRAVITY, Road


def mean_wheel_torque_nm(moving_mass_kg: Num, radius_m: Num, speed_m_s: Num, time_s: Num, load_n: Num) -> Num:
    """Mean torque at the wheels [N m] of a standing start: (m_eff v/t + mean load) r.  0.2 s in 3 s is 7 %."""
    return (moving_mass_kg * speed_m_s / time_s + load_n) * radius_m


def peak_over_mean_linear(end_over_free: Num) -> Num:
    """Peak over mean thrust where it falls in a line to zero and the run ended at a share x of that speed: -ln(1 - x)/x."""
    return -np.log(1.0 - end_over_free) / end_over_free


def peak_over_mean_power(end_over_corner: Num) -> Num:
    """The same for constant thrust to a corner, then constant power, ended at k times the corner: (k + 1/k)/2."""
    return (end_over_corner + 1.0 / end_over_corner) / 2.0


def coast_down_m_s(road: Road, moving_mass_kg: float, from_m_s: float, time_s: Num) -> Num:
    """Speed [m/s] on the level in still air after a time without drive, never below 0.

    v = sqrt(A/B) tan(atan(v0 sqrt(B/A)) - t sqrt(A B)/m_eff), A = Crr m g, B = rho CdA/2.
    """
    a = float(road.rolling) * float(road.mass_kg) * GRAVITY
    b = 0.5 * float(road.air_kg_m3) * float(road.drag_area_m2)
    angle = math.atan(from_m_s * math.sqrt(b / a)) - np.asarray(time_s) * math.sqrt(a * b) / moving_mass_kg
    return math.sqrt(a / b) * np.tan(np.maximum(angle, 0.0))


def coast_down_stop_s(road: Road, moving_mass_kg: float, from_m_s: float) -> float:
    """Seconds until it stands [s]."""
    a = float(road.rolling) * float(road.mass_kg) * GRAVITY
    b = 0.5 * float(road.air_kg_m3) * float(road.drag_area_m2)
    return math.atan(from_m_s * math.sqrt(b / a)) * moving_mass_kg / math.sqrt(a * b)


def motor_drag_n(train: Powertrain, road: Road, speed_m_s: Num) -> tuple[Num, Num]:
    """(force at the tread of connected motors that are let go [N], the same as extra Crr [-])."""
    shaft = train.reduction.ratio * road.shaft_speed_rad_s(speed_m_s, 0.0)
    force = -train.count * train.reduction.output_torque_nm(-train.motor.drag_nm(shaft)) / road.wheel_radius_m
    return force, force / (road.mass_kg * GRAVITY)


def pack_fit(current_a: ArrayLike, volts: ArrayLike) -> tuple[float, float]:
    """(emf [V], resistance [ohm]) by least squares over load steps of one pack, shape (n,), n >= 2."""
    i, v = np.asarray(current_a, dtype=float), np.asarray(volts, dtype=float)
    require("load steps", i.size, i.size >= 2, "two or more")
    slope, emf = np.polyfit(i, v, 1)
    return float(emf), float(-slope)
