"""A resistor across the motor as a brake, and a chopper on the bus.  Circuit theory of the sine machine."""

from __future__ import annotations

import math
from typing import NamedTuple

RESISTOR_J_KGK = {"nickel-chrome": 460.0, "steel": 490.0, "aluminium": 900.0, "ceramic": 850.0}
STRIP_OHM_M, STRIP_KG_M3 = 1.10e-6, 8400.0
DIODES_V = 1.6


class Braked(NamedTuple):
    """What a resistor across the motor does at a speed."""

    amps: float  # DC-equivalent
    torque_nm: float
    resistor_w: float
    winding_w: float


def braked(k: float, speed_rad_s: float, ohm: float, resistor_ohm: float, pole_pairs: float = 0.0, henry: float = 0.0) -> Braked:
    """Across the motor, resistances line to line; with the inductance it pulls less, and above R/(p L) less again as speed grows."""
    total = ohm + resistor_ohm
    reactance = pole_pairs * speed_rad_s * henry
    amps = k * speed_rad_s / math.hypot(total, reactance)
    torque = k * k * speed_rad_s * total / (total**2 + reactance**2)
    return Braked(amps, torque, amps**2 * resistor_ohm, amps**2 * ohm)


class Stop(NamedTuple):
    """One stop by the resistor alone."""

    seconds: float
    metres: float
    resistor_j: float
    winding_j: float


def stop(
    mass_kg: float,
    from_m_s: float,
    to_m_s: float,
    k: float,
    ratio: float,
    radius_m: float,
    ohm: float,
    resistor_ohm: float,
    pole_pairs: float = 0.0,
    henry: float = 0.0,
    motors: int = 1,
) -> Stop:
    """Nothing else braking: v0 e^(-t/tau), with the reactance's part; `motors` have a resistor each."""
    total = ohm + resistor_ohm
    tau = mass_kg * total * (radius_m / (k * ratio)) ** 2 / motors
    slow = 1.0 / (total / (pole_pairs * henry) * radius_m / ratio) ** 2 if pole_pairs * henry > 0.0 else 0.0
    seconds = tau * (math.log(from_m_s / to_m_s) + slow * (from_m_s**2 - to_m_s**2) / 2.0)
    metres = tau * (from_m_s - to_m_s + slow * (from_m_s**3 - to_m_s**3) / 3.0)
    energy = 0.5 * mass_kg * (from_m_s**2 - to_m_s**2)
    return Stop(seconds, metres, energy * resistor_ohm / total, energy * ohm / total)


def pulse_k(joule: float, mass_kg: float, heat_j_kgk: float) -> float:
    """Rise of a resistor in one stop [K]."""
    return joule / (mass_kg * heat_j_kgk)


def repeated_c(rise_k: float, every_s: float, mass_kg: float, heat_j_kgk: float, to_air_k_w: float, air_c: float) -> float:
    """Highest temperature of endless stops [C]."""
    return air_c + rise_k / -math.expm1(-every_s / (mass_kg * heat_j_kgk * to_air_k_w))


def chopper_ohm(on_v: float, most_w: float) -> float:
    """Most ohms of a chopper's resistor that takes all that regeneration gives."""
    return on_v**2 / most_w


def strip_m(ohm: float, width_m: float, thick_m: float) -> float:
    """Length of a resistance strip [m]."""
    return ohm * width_m * thick_m / STRIP_OHM_M


def strip_kg(length_m: float, width_m: float, thick_m: float) -> float:
    return STRIP_KG_M3 * length_m * width_m * thick_m
