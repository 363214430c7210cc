"""What a propeller, its shaft and its boat bear: cavitation, blades, whirl, long tails, bearings, heel, trim, foam.

Sources: Burrill and Emerson's line as a common fit, Keller 1966 (cavitation); beam theory (blades, whirl); hydrostatics (heel, trim).
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from wattagon.physics.arrays import Num
from wattagon.physics.road import GRAVITY
from wattagon.physics.water.water import ATMOSPHERE_PA, Water

STEEL_PA, STEEL_KG_M3 = 2.0e11, 7850.0
TIP_NOTE_M_S, TIP_WARN_M_S = 25.0, 35.0
MERIT = (0.55, 0.68)  # of real open propellers at rest


class Cavitation(NamedTuple):
    """Cavitation number and thrust loading at 0.7 of the radius, the most loading, least area ratio after Keller, tip speed [m/s]."""

    sigma: Num
    loading: Num
    most: Num
    least_area: Num
    tip_m_s: Num


def cavitation(
    thrust_n: Num,
    turns_s: Num,
    inflow_m_s: Num,
    *,
    diameter_m: Num,
    pitch_m: Num,
    area_ratio: Num,
    blades: Num,
    depth_m: Num,
    medium: Water,
    allowance: Num = 0.0,
) -> Cavitation:
    """Loading against Burrill's line, 0.28 (sigma - 0.03)^0.57; allowance: Keller's k, 0.2 single, 0.1 twin, 0 light fast craft."""
    pressure = ATMOSPHERE_PA + medium.kg_m3 * GRAVITY * depth_m - medium.vapour_pa
    square = inflow_m_s**2 + (0.7 * math.pi * turns_s * diameter_m) ** 2
    head = 0.5 * medium.kg_m3 * square
    sigma = pressure / head
    projected = area_ratio * math.pi / 4.0 * diameter_m**2 * (1.067 - 0.229 * pitch_m / diameter_m)
    return Cavitation(
        sigma=sigma,
        loading=thrust_n / (head * projected),
        most=0.28 * np.maximum(sigma - 0.03, 0.0) ** 0.57,
        least_area=(1.3 + 0.3 * blades) * thrust_n / (pressure * diameter_m**2) + allowance,
        tip_m_s=np.sqrt(inflow_m_s**2 + (math.pi * turns_s * diameter_m) ** 2),
    )


class Root(NamedTuple):
    """Load at a section of a blade: bending moment [N m], tension of the flat face, compression of the back, centrifugal tension [Pa]."""

    moment_nm: Num
    tension_pa: Num
    compression_pa: Num
    centrifugal_pa: Num


def blade_root(
    thrust_n: Num,
    torque_nm: Num,
    turns_s: Num,
    *,
    diameter_m: Num,
    pitch_m: Num,
    blades: Num,
    at: Num,
    chord_m: Num,
    thickness_m: Num,
    blade_kg: Num,
) -> Root:
    """Bending about the chord line of a section at x = `at`: flat face, parabolic back, the blade's mass at half of the radius."""
    radius, here = diameter_m / 2.0, at * diameter_m / 2.0
    angle = np.arctan(pitch_m / (math.pi * at * diameter_m))
    flap = thrust_n / blades * (0.70 * radius - here) * np.cos(angle)
    edge = torque_nm / (blades * 0.66 * radius) * (0.66 * radius - here) * np.sin(angle)
    moment = flap + edge
    square = chord_m * thickness_m**2
    pull = blade_kg * 0.5 * radius * (2.0 * math.pi * turns_s) ** 2 / (2.0 / 3.0 * chord_m * thickness_m)
    return Root(moment, moment / (8.0 / 70.0 * square), moment / (8.0 / 105.0 * square), pull)


def whirl_turns_s(diameter_m: Num, span_m: Num, push_n: Num = 0.0, modulus_pa: Num = STEEL_PA, kg_m3: Num = STEEL_KG_M3) -> Num:
    """First whirl of a solid round shaft between simple bearings [1/s]; a push along it lowers it."""
    free = math.pi / 8.0 * diameter_m / span_m**2 * np.sqrt(modulus_pa / kg_m3)
    buckles = math.pi**2 * modulus_pa * math.pi * diameter_m**4 / 64.0 / span_m**2
    return free * np.sqrt(np.maximum(1.0 - push_n / buckles, 0.0))


class Tail(NamedTuple):
    """A long tail: depth of its propeller, how far behind the pivot [m], thrust forwards and upwards [N]."""

    depth_m: Num
    reach_m: Num
    forward_n: Num
    lift_n: Num


def long_tail(length_m: Num, angle_rad: Num, pivot_m: Num, thrust_n: Num) -> Tail:
    """Where the propeller of a shaft comes to that falls by an angle from a pivot above the water, and what its thrust splits into."""
    return Tail(
        depth_m=length_m * np.sin(angle_rad) - pivot_m,
        reach_m=length_m * np.cos(angle_rad),
        forward_n=thrust_n * np.cos(angle_rad),
        lift_n=thrust_n * np.sin(angle_rad),
    )


def heel_rad(torque_nm: Num, mass_kg: Num, metacentre_m: Num) -> Num:
    """Heel from the torque of the propeller's shaft: asin(Q/(m g GM))."""
    return np.arcsin(np.clip(torque_nm / (mass_kg * GRAVITY * metacentre_m), -1.0, 1.0))


def longitudinal_metacentre_m(length_m: Num, beam_m: Num, volume_m3: Num) -> Num:
    """GM_L = 0.55 B L^3/(12 vol), of usual waterlines; beam of all hulls together."""
    return 0.55 * beam_m * length_m**3 / (12.0 * volume_m3)


def trim_rad(thrust_n: Num, below_m: Num, mass_kg: Num, length_m: Num, beam_m: Num, kg_m3: Num) -> Num:
    """Bow up from a thrust line below the centre of mass: atan(T z/(m g GM_L)), GM_L = 0.55 B L^3/(12 vol)."""
    return np.arctan(thrust_n * below_m / (mass_kg * GRAVITY * longitudinal_metacentre_m(length_m, beam_m, mass_kg / kg_m3)))


def bearing_hours(rating_n: Num, load_n: Num, rpm: Num) -> Num:
    """Life of a ball bearing: 10^6 (C/P)^3/(60 rpm) hours."""
    return 1e6 * (rating_n / load_n) ** 3 / (60.0 * rpm)


def wet_rotor_w(radius_m: Num, length_m: Num, rad_s: Num, kg_m3: Num, friction: Num = 0.008) -> Num:
    """Power that a can takes that turns in water: pi c_f rho w^3 r^4 l; its face is left out."""
    return math.pi * friction * kg_m3 * rad_s**3 * radius_m**4 * length_m


def foam_m3(parts: list[tuple[float, float]], water_kg_m3: float, foam_kg_m3: float = 30.0) -> float:
    """Foam that keeps a swamped boat up, from (mass, density) of what it is made of: 1.3 times what sinks less what floats."""
    down = sum(mass * (1.0 - water_kg_m3 / density) for mass, density in parts)
    return max(1.3 * down / (water_kg_m3 - foam_kg_m3), 0.0)
