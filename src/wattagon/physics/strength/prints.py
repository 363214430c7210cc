"""Printed parts: what is left of their strength when warm or loaded for long, what walls and infill make; proof masses, timed runs.

SI, temperatures in C.  Typical values, judged.
"""

from __future__ import annotations

import math
from typing import NamedTuple

GRAVITY = 9.80665
ROOM_C = 23.0
CORE = 0.5  # of its infill that counts


def warm_share(soft_c: float, temperature_c: float) -> float:
    """What is left of a plastic's strength: (t0 - t)/(t0 - 23), 0 to 1.  A safe straight line."""
    return min(max((soft_c - temperature_c) / (soft_c - ROOM_C), 0.0), 1.0)


def allowable_pa(
    strength_pa: float, factor: float, soft_c: float, temperature_c: float = ROOM_C, sustained: float = 1.0, wet: float = 1.0
) -> float:
    """strength x temperature x duration x moisture / factor."""
    return strength_pa * warm_share(soft_c, temperature_c) * sustained * wet / factor


class Section(NamedTuple):
    """A printed bar: area [m2], modulus [m3], the modulus it would have solid [m3]."""

    area: float
    modulus: float
    solid: float


def printed_section(wide_m: float, high_m: float, walls_m: float, skins_m: float, infill: float) -> Section:
    """Solid rim, core counted at half of its infill: Z = (b h^3 - (1 - k) b_i h_i^3)/(6 h).  Derived."""
    inner_w, inner_h = max(wide_m - 2.0 * walls_m, 0.0), max(high_m - 2.0 * skins_m, 0.0)
    empty = 1.0 - CORE * infill
    area = wide_m * high_m - empty * inner_w * inner_h
    modulus = (wide_m * high_m**3 - empty * inner_w * inner_h**3) / (6.0 * high_m)
    return Section(area, modulus, wide_m * high_m**2 / 6.0)


def proof_kg(torque_nm: float, factor: float, lever_m: float, arm_kg: float = 0.0, arm_at_m: float = 0.0, warm: float = 1.0) -> float:
    """Mass to hang on a level arm: (T SF/(k_T g) - m_arm x_arm)/L; `warm` is what is left of a part's strength where it works."""
    return max((torque_nm * factor / (warm * GRAVITY) - arm_kg * arm_at_m) / lever_m, 0.0) if warm > 0.0 else math.inf


def proof_nm(mass_kg: float, lever_m: float, arm_kg: float = 0.0, arm_at_m: float = 0.0) -> float:
    """Its inverse: the torque that a hung mass makes [N m]."""
    return GRAVITY * (mass_kg * lever_m + arm_kg * arm_at_m)


class TimedRun(NamedTuple):
    """Torque at the wheel by a timed run [N m]: its mean, and the peak of constant pull up to a speed and constant power beyond."""

    mean: float
    peak: float


def timed_run(effective_kg: float, speed_m_s: float, time_s: float, wheel_m: float, load_n: float = 0.0, beyond: float = 1.0) -> TimedRun:
    """T = r (m v/t + F); the peak is (x + 1/x)/2 of it, x = end speed over the corner's, at least 1.  Derived."""
    mean = wheel_m * (effective_kg * speed_m_s / time_s + load_n)
    x = max(beyond, 1.0)
    # the load's share does not grow: only what accelerates does
    return TimedRun(mean, wheel_m * (effective_kg * speed_m_s / time_s * 0.5 * (x + 1.0 / x) + load_n))


def jam_nm(torque_nm: float, rad_s: float, inertia_kg_m2: float, stiffness_nm_rad: float) -> float:
    """A rotor that runs into the wind-up of what is behind it: T + w sqrt(J k)."""
    return torque_nm + rad_s * math.sqrt(max(inertia_kg_m2 * stiffness_nm_rad, 0.0))
