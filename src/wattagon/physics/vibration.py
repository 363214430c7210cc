"""What would ring: shafts with what sits on them, imbalance, belt spans against the orders of the drive.  SI throughout.

Sources: Shigley (shafts, Dunkerley), ISO 21940-11 (grades of balance); typical shares are judged.
"""

from __future__ import annotations

import math
from typing import NamedTuple

STEEL_PA, STEEL_KG_M3 = 2.05e11, 7850.0
SOFT = 0.6  # what bearings and printed mounts leave of a stiffness
BELOW = 0.7  # of the critical speed
NEAR = 0.15  # of a resonance


def second_moment_m4(diameter_m: float) -> float:
    """Of a round shaft."""
    return math.pi * diameter_m**4 / 64.0


def overhung_n_m(diameter_m: float, beyond_m: float, apart_m: float, modulus_pa: float = STEEL_PA) -> float:
    """Stiffness of a shaft at its overhung end: 3 E I/(a^2 (a + s))."""
    return 3.0 * modulus_pa * second_moment_m4(diameter_m) / (beyond_m**2 * (beyond_m + apart_m))


def between_n_m(diameter_m: float, one_m: float, other_m: float, modulus_pa: float = STEEL_PA) -> float:
    """Stiffness between two supports: 3 E I (a + b)/(a^2 b^2)."""
    return 3.0 * modulus_pa * second_moment_m4(diameter_m) * (one_m + other_m) / (one_m**2 * other_m**2)


def critical_rpm(stiffness_n_m: float, mass_kg: float) -> float:
    """Of a mass on a light shaft."""
    return 30.0 / math.pi * math.sqrt(stiffness_n_m / mass_kg)


def bare_rpm(diameter_m: float, span_m: float, modulus_pa: float = STEEL_PA, kg_m3: float = STEEL_KG_M3) -> float:
    """First whirl of a bare shaft on two supports: w = (pi/l)^2 sqrt(E d^2/(16 rho))."""
    return 30.0 / math.pi * (math.pi / span_m) ** 2 * math.sqrt(modulus_pa * diameter_m**2 / (16.0 * kg_m3))


def together_rpm(*alone: float) -> float:
    """Of several masses by Dunkerley: 1/n^2 = sum 1/n_i^2; low, on the safe side."""
    return 1.0 / math.sqrt(sum(1.0 / n**2 for n in alone))


def imbalance_n(mass_kg: float, off_m: float, rpm: float) -> float:
    """Force that turns with the part: m e w^2."""
    return mass_kg * off_m * (rpm * math.pi / 30.0) ** 2


def allowed_off_m(grade_mm_s: float, rpm: float) -> float:
    """How far off its middle a grade of balance leaves a part: G/w."""
    return grade_mm_s / 1000.0 / (rpm * math.pi / 30.0)


class Orders(NamedTuple):
    """How often things repeat in a belt drive [Hz]."""

    motor: float
    wheel: float
    belt: float
    mesh: float


def orders(rpm: float, driver: int, driven: int, belt_teeth: float) -> Orders:
    """At a speed of the motor."""
    turn = rpm / 60.0
    return Orders(turn, turn * driver / driven, turn * driver / belt_teeth, turn * driver)


def rings_at_rpm(span_hz: float, order: float) -> float:
    """Motor speed at which something that comes so often in a turn meets the tone of a span."""
    return 60.0 * span_hz / order
