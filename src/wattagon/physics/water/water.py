"""Water as a boat meets it: density, viscosity, pressure."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.physics.arrays import Num

FRESH_KG_M3, SEA_KG_M3 = 999.1, 1026.0  # at 15 C
FRESH_M2_S, SEA_M2_S = 1.139e-6, 1.188e-6
VAPOUR_PA = 1705.0  # at 15 C
ATMOSPHERE_PA = 101325.0
KNOT_M_S = 0.514444


class Water(NamedTuple):
    """Density [kg/m3], kinematic viscosity [m2/s], pressure of its vapour [Pa]."""

    kg_m3: Num
    m2_s: Num
    vapour_pa: Num


def _viscosity(celsius: Num) -> Num:
    """Dynamic viscosity of fresh water relative to that at 15 C.  Source: the usual fit about 20 C, within half a per cent."""
    over = celsius - 20.0
    return 10.0 ** ((-1.1709 * over - 0.001827 * over**2) / (celsius + 89.93) - (1.1709 * 5.0 - 0.001827 * 25.0) / 104.93)


def _density(celsius: Num) -> Num:
    """Density of fresh water relative to that at 15 C.  Source: parabola about the maximum at 4 C, within 1e-4 up to 30 C."""
    return (1.0 - 7.1e-6 * (celsius - 4.0) ** 2) / (1.0 - 7.1e-6 * 121.0)


def water(*, salt: bool = False, celsius: Num = 15.0) -> Water:
    """Fresh or sea water at a temperature: values of the ITTC at 15 C, carried to others by density and viscosity of water."""
    dense, thick = _density(celsius), _viscosity(celsius)
    kg, m2 = (SEA_KG_M3, SEA_M2_S) if salt else (FRESH_KG_M3, FRESH_M2_S)
    vapour = VAPOUR_PA * 10.0 ** (7.5 * celsius / (celsius + 237.3) - 7.5 * 15.0 / (15.0 + 237.3))  # Magnus
    return Water(kg * dense, m2 * thick / dense, vapour)
