"""Steady temperature of a silicone cable: films by Churchill and Chu 1975, Churchill and Bernstein 1977, air of the 1976 standard.

Temperatures in C, lengths in m, heat in W per metre of one lead.
"""

from __future__ import annotations

import functools
import math

from wattagon.physics.wiring.copper import ALPHA_PER_K, Cable
from wattagon.record import record

G = 9.80665
SIGMA = 5.670374e-8
EMISSIVITY = 0.90
INSULATION_W_MK = 0.22
WRAP_W_MK = 0.04  # foam or tape
ROUND = {1: math.pi, 2: math.pi + 2.0, 3: math.pi + 3.0, 4: math.pi + 4.0, 7: math.pi + 6.0}  # string round n touching, in diameters
SUN_ABSORBED = 0.9
NO_STEADY_C = 400.0
UNMEASURED = 0.9  # of the computed current, where nothing was measured


@record(frozen=True, slots=True, kw_only=True)
class Around:
    """Where a lead lies: `bundle` counts the leads that touch and are loaded alike."""

    air_c: float = 25.0
    bundle: int = 1
    wind_m_s: float = 0.0
    wrap_m: float = 0.0  # thickness of foam or tape round it
    height_m: float = 0.0  # above the sea
    seen_c: float | None = None  # what it radiates to; empty: the air
    sun_w_m2: float = 0.0


def pressure_pa(height_m: float) -> float:
    """Of the standard atmosphere."""
    return 101325.0 * (1.0 - 2.25577e-5 * height_m) ** 5.25588


def film_w_m2k(size_m: float, surface_c: float, air_c: float, wind_m_s: float = 0.0, height_m: float = 0.0) -> float:
    """Heat film of a level cylinder [W/m2K]: still air, or wind across where that is larger."""
    ts, ta = surface_c + 273.15, air_c + 273.15
    film = 0.5 * (ts + ta)
    density = pressure_pa(height_m) / (287.05 * film)
    mu = 1.458e-6 * film**1.5 / (film + 110.4)
    k = 2.64638e-3 * film**1.5 / (film + 245.4 * 10.0 ** (-12.0 / film))
    nu, prandtl = mu / density, mu * 1006.0 / k
    rayleigh = max(G * abs(ts - ta) / film * size_m**3 / nu**2 * prandtl, 1e-12)
    still = (0.60 + 0.387 * rayleigh ** (1 / 6) / (1.0 + (0.559 / prandtl) ** (9 / 16)) ** (8 / 27)) ** 2
    if wind_m_s > 0.0:
        reynolds = wind_m_s * size_m / nu
        part = 0.62 * math.sqrt(reynolds) * prandtl ** (1 / 3) / (1.0 + (0.4 / prandtl) ** (2 / 3)) ** 0.25
        still = max(still, 0.3 + part * (1.0 + (reynolds / 282000.0) ** 0.625) ** 0.8)
    return still * k / size_m


def insulation_km_w(cable: Cable) -> float:
    """Resistance of the insulation [K m/W]."""
    return math.log(cable.outer_m / cable.strand_m) / (2.0 * math.pi * INSULATION_W_MK)


def _wrap_km_w(cable: Cable, around: Around) -> float:
    return math.log(1.0 + 2.0 * around.wrap_m / cable.outer_m) / (2.0 * math.pi * WRAP_W_MK) if around.wrap_m > 0.0 else 0.0


def leaves_w_m(cable: Cable, around: Around, surface_c: float) -> float:
    """Heat that leaves one lead's surface, less what the sun puts in [W/m]."""
    outer = cable.outer_m + 2.0 * around.wrap_m
    round_m = _round(around.bundle) * outer
    film = film_w_m2k(round_m / math.pi, surface_c, around.air_c, around.wind_m_s, around.height_m)
    seen = around.seen_c if around.seen_c is not None else around.air_c
    shone = EMISSIVITY * SIGMA * ((surface_c + 273.15) ** 4 - (seen + 273.15) ** 4)
    sun = SUN_ABSORBED * around.sun_w_m2 * outer if around.sun_w_m2 > 0.0 else 0.0
    return round_m / around.bundle * (film * (surface_c - around.air_c) + shone) - sun


def _round(count: int) -> float:
    """Diameters of a stretched string round so many; between and beyond the table by its last step."""
    if count in ROUND:
        return ROUND[count]
    return math.pi + (count if count < 7 else 6.0 + 2.0 * math.sqrt(count - 7))


def surface_c(cable: Cable, around: Around, copper_c: float) -> float:
    """Temperature of the skin where the copper has one."""
    resistance = insulation_km_w(cable) + _wrap_km_w(cable, around)
    low, high = min(around.air_c, copper_c) - 1.0, max(copper_c, around.air_c) + 60.0
    for _ in range(50):
        middle = 0.5 * (low + high)
        if (copper_c - middle) / resistance > leaves_w_m(cable, around, middle):
            low = middle
        else:
            high = middle
    return 0.5 * (low + high)


def ampacity_a(cable: Cable, around: Around, copper_c: float = 90.0) -> float:
    """Steady current at which the copper has a temperature [A]; 0 where the surroundings are as hot."""
    heat = leaves_w_m(cable, around, surface_c(cable, around, copper_c))
    return math.sqrt(heat / cable.ohm_at(copper_c)) if heat > 0.0 else 0.0


def copper_c(cable: Cable, around: Around, amps: float) -> float:
    """Steady temperature of the copper [C]; inf where there is none under 400 C."""
    resistance = insulation_km_w(cable) + _wrap_km_w(cable, around)
    low, high = around.air_c - 1.0, NO_STEADY_C
    for _ in range(50):  # over the skin's temperature: what leaves there tells the copper's
        middle = 0.5 * (low + high)
        heat = leaves_w_m(cable, around, middle)
        if heat < amps**2 * cable.ohm_at(max(middle + heat * resistance, -50.0)):
            low = middle
        else:
            high = middle
    skin = 0.5 * (low + high)
    copper = skin + leaves_w_m(cable, around, skin) * resistance
    return copper if copper < NO_STEADY_C - 1.0 else math.inf


def cased_c(cable: Cable, around: Around, amps: float, length_m: float, box_k_w: float, other_w: float) -> tuple[float, float]:
    """(copper, inside air) [C] of leads in a closed case whose air they heat; inf where there is no steady state.

    `length_m` counts all their copper in the case; `around.air_c` is outside.
    """
    low, high = around.air_c, NO_STEADY_C
    for _ in range(40):
        inside = 0.5 * (low + high)
        copper = copper_c(cable, _moved(around, inside), amps)
        heat = length_m * amps**2 * cable.ohm_at(copper) if math.isfinite(copper) else math.inf
        if around.air_c + box_k_w * (other_w + heat) > inside:
            low = inside
        else:
            high = inside
    return (copper_c(cable, _moved(around, high), amps), high) if high < NO_STEADY_C - 1.0 else (math.inf, math.inf)


def cased_ampacity_a(
    cable: Cable, around: Around, length_m: float, box_k_w: float, other_w: float, copper_limit_c: float = 90.0
) -> tuple[float, float]:
    """(current, inside air) at which copper in a closed case has a temperature; 0 A where the rest alone is too hot."""
    low, high = around.air_c, copper_limit_c
    for _ in range(50):
        inside = 0.5 * (low + high)
        amps = ampacity_a(cable, _moved(around, inside), copper_limit_c)
        if around.air_c + box_k_w * (other_w + length_m * amps**2 * cable.ohm_at(copper_limit_c)) > inside:
            low = inside
        else:
            high = inside
    return ampacity_a(cable, _moved(around, high), copper_limit_c), high


def _moved(around: Around, air_c: float) -> Around:
    return Around(air_c=air_c, bundle=around.bundle, wrap_m=around.wrap_m, height_m=around.height_m)


@functools.lru_cache(maxsize=8192)  # asked for at every step of a search in current
def secant_w_mk(cable: Cable, around: Around, limit_c: float) -> float:
    """Heat over rise at the limit [W/m K], the g' of first-order models."""
    return leaves_w_m(cable, around, surface_c(cable, around, limit_c)) / (limit_c - around.air_c)


def ohm_rise(cable: Cable) -> float:
    """r20 alpha [ohm/m K]."""
    return cable.ohm_m * ALPHA_PER_K
