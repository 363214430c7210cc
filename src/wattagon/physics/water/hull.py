"""Resistance of hulls that float: friction, waves, transom, appendages, air.  Every function broadcasts.

Sources: ITTC 1957 friction line; a curve of our own through the thin-ship integral for waves; Holtrop 1984 for the transom.
"""

from __future__ import annotations

import numpy as np

from wattagon.physics.arrays import Num
from wattagon.physics.road import GRAVITY
from wattagon.physics.water.water import Water

LEAST_REYNOLDS = 1e5
WALL_FROUDE = 0.40  # where the wave is as long as the boat


def friction_coefficient(reynolds: Num, least: float = LEAST_REYNOLDS) -> Num:
    """Turbulent skin friction, ITTC 1957: 0.075/(log10 Re - 2)^2, Re held at `least` and above."""
    return 0.075 / (np.log10(np.maximum(reynolds, least)) - 2.0) ** 2


def wetted_surface_m2(coefficient: Num, volume_m3: Num, length_m: Num) -> Num:
    """S = C_S sqrt(vol L)."""
    return coefficient * np.sqrt(volume_m3 * length_m)


def slenderness(length_m: Num, volume_m3: Num) -> Num:
    """M = L/vol^(1/3)."""
    return length_m / np.cbrt(volume_m3)


def length_froude(speed_m_s: Num, length_m: Num) -> Num:
    """Fn = V/sqrt(g L)."""
    return speed_m_s / np.sqrt(GRAVITY * length_m)


def wave_factor(froude: Num, slender: Num, hull_factor: Num = 1.0) -> Num:
    """Wave resistance as a share of the weight: k_h 0.052 (6.3/M)^2.3/(1 + (0.44/Fn)^7)."""
    speed = np.maximum(froude, 1e-6)
    return hull_factor * 0.052 * (6.3 / slender) ** 2.3 / (1.0 + (0.44 / speed) ** 7)


def wall_speed_m_s(length_m: Num) -> Num:
    """Speed at which the wave is as long as the boat: 0.40 sqrt(g L)."""
    return WALL_FROUDE * np.sqrt(GRAVITY * length_m)


def friction_n(speed_m_s: Num, length_m: Num, surface_m2: Num, form: Num, medium: Water) -> Num:
    """R_F = 1/2 rho V^2 S C_F (1 + k)."""
    line = friction_coefficient(speed_m_s * length_m / medium.m2_s)
    return 0.5 * medium.kg_m3 * speed_m_s**2 * surface_m2 * line * (1.0 + form)


def transom_n(speed_m_s: Num, area_m2: Num, width_m: Num, medium: Water) -> Num:
    """Drag of a transom in the water, which runs dry as speed grows; area 0 is none."""
    area = np.asarray(area_m2, dtype=float)
    depth = np.sqrt(2.0 * GRAVITY * np.maximum(area, 1e-12) / (1.8 * width_m))
    share = np.maximum(0.2 * (1.0 - 0.2 * speed_m_s / depth), 0.0)
    return 0.5 * medium.kg_m3 * speed_m_s**2 * area * share


def floating_n(
    speed_m_s: Num,
    *,
    mass_kg: Num,
    length_m: Num,
    surface_factor: Num,
    form: Num,
    hull_factor: Num,
    medium: Water,
    hulls: int = 1,
    interference: Num = 1.0,
    transom_m2: Num = 0.0,
    transom_width_m: Num = 1.0,
) -> tuple[Num, Num, Num]:
    """(friction, waves, transom) [N] of one hull or of two like ones that share the mass; waves times the interference of the two."""
    own = mass_kg / hulls
    volume = own / medium.kg_m3
    surface = wetted_surface_m2(surface_factor, volume, length_m)
    skin = hulls * friction_n(speed_m_s, length_m, surface, form, medium)
    froude = length_froude(speed_m_s, length_m)
    waves = mass_kg * GRAVITY * wave_factor(froude, slenderness(length_m, volume), hull_factor) * interference
    return skin, waves, hulls * transom_n(speed_m_s, transom_m2, transom_width_m, medium)


def air_n(speed_m_s: Num, headwind_m_s: Num, drag_area_m2: Num, air_kg_m3: Num = 1.225) -> Num:
    """1/2 rho (C_D A) U |U| with U the speed through the air; a wind from behind pushes."""
    through = speed_m_s + headwind_m_s
    return 0.5 * air_kg_m3 * drag_area_m2 * through * np.abs(through)
