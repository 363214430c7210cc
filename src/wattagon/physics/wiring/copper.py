"""Copper: resistivity, gauges, what a cable really holds, drop, skin effect, range lost.  IEC 60028, ASTM B258, IEC 60228."""

from __future__ import annotations

import cmath
import math

from wattagon.record import record

RHO20_OHM_M = 1.0 / 58.0e6  # annealed, 20 C
ALPHA_PER_K = 0.00393
ZERO_OHM_C = -234.45  # where the line of resistance meets nought
LAY = 1.04  # twist and tin: 1.02 to 1.06
MU0 = 4e-7 * math.pi
BUNDLE_FILL = 0.74
COPPER_KG_M3 = 8900.0
INSULATION_KG_M3 = 1200.0  # silicone rubber
POOR_SHARE = 1.25  # of the table's resistance: above it a cable is undersized or not copper


@record(frozen=True, slots=True, kw_only=True)
class Cable:
    """One lead: copper area, outside diameter, ohms per metre of cable at 20 C."""

    area_m2: float
    outer_m: float
    ohm_m: float

    @property
    def strand_m(self) -> float:
        """Diameter of the bundle of strands [m]."""
        return math.sqrt(4.0 * self.area_m2 / (BUNDLE_FILL * math.pi))

    @property
    def insulation_m2(self) -> float:
        return 0.25 * math.pi * (self.outer_m**2 - self.strand_m**2)

    def ohm_at(self, temperature_c: float) -> float:
        """Ohms per metre at a temperature."""
        return self.ohm_m * (1.0 + ALPHA_PER_K * (temperature_c - 20.0))

    @property
    def kg_m(self) -> float:
        """Mass of a metre [kg]."""
        return COPPER_KG_M3 * self.area_m2 * LAY + INSULATION_KG_M3 * self.insulation_m2


def rho_ohm_m(temperature_c: float) -> float:
    """Resistivity of copper [ohm m], -50 to 250 C (IEC 60028)."""
    return RHO20_OHM_M * (1.0 + ALPHA_PER_K * (temperature_c - 20.0))


def temperature_of(ohm: float, ohm_then: float, then_c: float) -> float:
    """Temperature of a copper resistance [C] from what it measured at another."""
    return ohm / ohm_then * (then_c - ZERO_OHM_C) + ZERO_OHM_C


def gauge_diameter_m(gauge: float) -> float:
    """Solid diameter of a gauge number (ASTM B258); 0, -1, -2 are 1/0, 2/0, 3/0."""
    return 0.127e-3 * 92.0 ** ((36.0 - gauge) / 39.0)


def gauge_area_m2(gauge: float) -> float:
    return 0.25 * math.pi * gauge_diameter_m(gauge) ** 2


def gauge_of(area_m2: float) -> float:
    """Gauge number of an area; when choosing, round it down."""
    return 36.0 - 39.0 * math.log(math.sqrt(4.0 * area_m2 / math.pi) / 0.127e-3) / math.log(92.0)


def ohm_of_area(area_m2: float, lay: float = LAY) -> float:
    """Ohms per metre of cable at 20 C."""
    return RHO20_OHM_M * lay / area_m2


def area_of_ohm(ohm_m: float, lay: float = LAY) -> float:
    """Copper that is really there [m2], from ohms per metre: a size under IEC 60228 is a name."""
    return RHO20_OHM_M * lay / ohm_m


def area_for_drop_m2(amps: float, volts: float, poles: int, route_m: float, temperature_c: float, lay: float = LAY) -> float:
    """Copper area for a wanted drop over a route [m2]."""
    return amps * rho_ohm_m(temperature_c) * lay * poles * route_m / volts


def range_lost(loss_w: float, speed_m_s: float, wh_per_km: float) -> float:
    """Share of the range that a mean loss takes."""
    return loss_w / (loss_w + 3.6 * speed_m_s * wh_per_km)


def _bessel(order: int, z: complex) -> complex:
    """Modified Bessel function of the first kind by its series; enough terms for |z| up to 20."""
    term = (0.5 * z) ** order / math.factorial(order)
    total = term
    for k in range(1, 80):
        term *= 0.25 * z * z / (k * (k + order))
        total += term
        if abs(term) < 1e-15 * abs(total):
            break
    return total


def skin_factor(bundle_m: float, hertz: float, fill: float = BUNDLE_FILL, temperature_c: float = 20.0) -> float:
    """Resistance at a frequency over that at rest; bare strands act as one bar of the bundle's diameter."""
    if hertz <= 0.0:
        return 1.0
    delta = math.sqrt(rho_ohm_m(temperature_c) / fill / (math.pi * hertz * MU0))
    z = cmath.rect(math.sqrt(2.0), 0.25 * math.pi) * 0.5 * bundle_m / delta
    return float((z * _bessel(0, z) / (2.0 * _bessel(1, z))).real)
