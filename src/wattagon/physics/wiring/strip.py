"""Cell links as strips: resistance, steady temperature, and their amps for a rise."""

from __future__ import annotations

import math
from typing import NamedTuple

RISE_K = 20.0  # over the cells' air
FREE_W_M2K, WRAPPED_W_M2K = 10.0, 5.0
WELD_OHM = 0.2e-3


class Metal(NamedTuple):
    """Resistivity at 20 C [ohm m] and its rise [1/K]."""

    rho_ohm_m: float
    alpha_per_k: float


METALS = {"nickel": Metal(7.0e-8, 0.006), "plated steel": Metal(1.6e-7, 0.005), "copper": Metal(1.72e-8, 0.0039)}


def strip_ohm(metal: str, length_m: float, width_m: float, thick_m: float) -> float:
    """At 20 C [ohm]."""
    return METALS[metal].rho_ohm_m * length_m / (width_m * thick_m)


def strip_c(metal: str, width_m: float, thick_m: float, amps: float, air_c: float = 25.0, film: float = FREE_W_M2K) -> float:
    """Steady temperature [C]; inf where it runs away."""
    of = METALS[metal]
    each = amps**2 * of.rho_ohm_m / (width_m * thick_m)
    away = film * 2.0 * (width_m + thick_m) - each * of.alpha_per_k
    return air_c + each * (1.0 + of.alpha_per_k * (air_c - 20.0)) / away if away > 0.0 else math.inf


def strip_a(metal: str, width_m: float, thick_m: float, rise_k: float = RISE_K, air_c: float = 25.0, film: float = FREE_W_M2K) -> float:
    """Amps for a rise over the air."""
    of = METALS[metal]
    per = of.rho_ohm_m / (width_m * thick_m) * (1.0 + of.alpha_per_k * (air_c + rise_k - 20.0))
    return math.sqrt(film * 2.0 * (width_m + thick_m) * rise_k / per)
