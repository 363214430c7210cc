"""Shafts under overhung pull, whole or with a flat, static and in fatigue; bearings that carry them.

SI.  Sources: Shigley (von Mises, Goodman), ISO 281 (life); what is derived says so.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

STEEL_E_PA = 2.05e11
K_SURFACE, K_SIZE, K_LOAD = 0.85, 0.95, 0.90  # ground, below 10 mm, nine in ten survive less; typical
NOTCH_BENDING, NOTCH_TORSION = 1.8, 1.5  # at a flat, groove or dimple; typical
MOST_RM_PA = 1400e6  # beyond which the endurance limit grows no more


class Stress(NamedTuple):
    """Of a section [Pa]."""

    bending: float
    shear: float
    mises: float


def mises_pa(bending_pa: float, shear_pa: float) -> float:
    """sqrt(sigma^2 + 3 tau^2)."""
    return math.sqrt(bending_pa**2 + 3.0 * shear_pa**2)


def round_stress(diameter_m: float, bending_nm: float, torque_nm: float, bore_m: float = 0.0) -> Stress:
    """Of a round shaft: sigma = 32 M/(pi d^3), tau = 16 T/(pi d^3); with a bore d^3 becomes (d^4 - d_i^4)/d."""
    cube = (diameter_m**4 - bore_m**4) / diameter_m
    bending, shear = 32.0 * bending_nm / (math.pi * cube), 16.0 * torque_nm / (math.pi * cube)
    return Stress(bending, shear, mises_pa(bending, shear))


class Flat(NamedTuple):
    """A round section with one flat: area [m2], second moment along the flat [m4], least section modulus [m3]."""

    area: float
    along: float
    modulus: float


def flat_section(diameter_m: float, depth_m: float) -> Flat:
    """Of a shaft with a flat of a depth.  Derived: a circle less its segment."""
    r = 0.5 * diameter_m
    h = r - depth_m
    a = math.acos(h / r)
    cut = a - math.sin(a) * math.cos(a)
    segment = r**2 * cut
    centroid = 2.0 * r * math.sin(a) ** 3 / (3.0 * cut)
    area = math.pi * r**2 - segment
    shift = segment * centroid / area
    along = math.pi * r**4 / 4.0 - r**4 / 4.0 * (cut + 2.0 * math.sin(a) ** 3 * math.cos(a)) - area * shift**2
    across = math.pi * r**4 / 4.0 - r**4 / 4.0 * (cut - 2.0 / 3.0 * math.sin(a) ** 3 * math.cos(a))
    return Flat(area, along, min(along / max(h + shift, r - shift), across / r))


def flat_stress(diameter_m: float, depth_m: float, bending_nm: float, torque_nm: float) -> Stress:
    """With a flat: the least modulus in bending, torsion on the inscribed circle, on the safe side."""
    bending = bending_nm / flat_section(diameter_m, depth_m).modulus
    shear = 16.0 * torque_nm / (math.pi * (diameter_m - depth_m) ** 3)
    return Stress(bending, shear, mises_pa(bending, shear))


def endurance_pa(strength_pa: float) -> float:
    """S_e = k_a k_b k_c 0.5 R_m, R_m no more than 1400 MPa.  Source: Shigley."""
    return K_SURFACE * K_SIZE * K_LOAD * 0.5 * min(strength_pa, MOST_RM_PA)


def fatigue_factor(
    diameter_m: float,
    bending_nm: float,
    torque_nm: float,
    strength_pa: float,
    swing: float = 0.0,
    notch_bending: float = NOTCH_BENDING,
    notch_torsion: float = NOTCH_TORSION,
) -> float:
    """Factor against fatigue: bending alternates fully, torque keeps its mean and swings by a share.  Source: Goodman with von Mises."""
    alternating = math.sqrt(4.0 * (notch_bending * bending_nm) ** 2 + 3.0 * (notch_torsion * swing * torque_nm) ** 2)
    steady = math.sqrt(3.0) * notch_torsion * torque_nm
    inverse = 16.0 / (math.pi * diameter_m**3) * (alternating / endurance_pa(strength_pa) + steady / strength_pa)
    return 1.0 / inverse if inverse > 0.0 else math.inf


class Carried(NamedTuple):
    """Bearing loads [N] and the greatest bending [N m]; what is not there is nan."""

    front: float
    rear: float
    outboard: float
    bending: float


def overhung(force_n: float, beyond_m: float, apart_m: float) -> Carried:
    """A load beyond the front bearing: front F (1 + a/s), rear -F a/s.  Statics."""
    return Carried(force_n * (1.0 + beyond_m / apart_m), -force_n * beyond_m / apart_m, math.nan, force_n * beyond_m)


def straddled(force_n: float, one_m: float, other_m: float) -> Carried:
    """A load between the front and an outboard bearing.  Statics."""
    long = one_m + other_m
    return Carried(force_n * other_m / long, math.nan, force_n * one_m / long, force_n * one_m * other_m / long)


def three_bearings(force_n: float, one_m: float, other_m: float, apart_m: float) -> Carried:
    """The same with the rear bearing kept, three rigid supports in line.  Derived: three moments."""
    long = one_m + other_m
    at_front = -force_n * one_m * other_m * (long + other_m) / (2.0 * long * (apart_m + long))
    outboard = (force_n * one_m + at_front) / long
    rear = at_front / apart_m
    return Carried(force_n - outboard - rear, rear, outboard, outboard * other_m)


def sag_m(force_n: float, beyond_m: float, apart_m: float, diameter_m: float, modulus_pa: float = STEEL_E_PA) -> float:
    """Deflection of an overhung load: F a^2 (a + s)/(3 E I)."""
    second = math.pi * diameter_m**4 / 64.0
    return force_n * beyond_m**2 * (beyond_m + apart_m) / (3.0 * modulus_pa * second)


def slope_rad(force_n: float, beyond_m: float, apart_m: float, diameter_m: float, modulus_pa: float = STEEL_E_PA) -> float:
    """Slope at the front bearing: F a s/(3 E I)."""
    return force_n * beyond_m * apart_m / (3.0 * modulus_pa * math.pi * diameter_m**4 / 64.0)


def life_h(rating_n: float, load_n: float, rpm: float) -> float:
    """L10h = (C/P)^3 1e6/(60 n).  Source: ISO 281."""
    return (rating_n / load_n) ** 3 * 1e6 / (60.0 * rpm) if load_n > 0.0 and rpm > 0.0 else math.inf


def mean_load_n(loads_n: Sequence[float], rpm: Sequence[float], shares: Sequence[float]) -> float:
    """Equivalent of several loads: cube root of their cubes by turns."""
    turns = sum(n * q for n, q in zip(rpm, shares, strict=True))
    return (sum(p**3 * n * q for p, n, q in zip(loads_n, rpm, shares, strict=True)) / turns) ** (1.0 / 3.0)
