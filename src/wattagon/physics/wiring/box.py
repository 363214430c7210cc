"""A closed box: what air inside it comes to.  Usual simplifications of laminar free convection, 1 atm, +-20 %."""

from __future__ import annotations

from wattagon.physics.wiring.warmth import EMISSIVITY, SIGMA
from wattagon.record import record

INSIDE_W_M2K = 8.0
WALLS, LID, FLOOR = 1.42, 1.32, 0.59
PLASTIC_W_MK, METAL_W_MK = 0.2, 150.0


@record(frozen=True, slots=True, kw_only=True)
class Box:
    """Outside sizes and wall."""

    length_m: float
    width_m: float
    height_m: float
    wall_m: float = 0.002
    wall_w_mk: float = PLASTIC_W_MK

    @property
    def lid_m2(self) -> float:
        return self.length_m * self.width_m

    @property
    def area_m2(self) -> float:
        return 2.0 * self.lid_m2 + 2.0 * (self.length_m + self.width_m) * self.height_m


def leaves_w(box: Box, skin_c: float, air_c: float, wind_m_s: float = 0.0) -> float:
    """Heat that leaves the skin [W]."""
    over = max(skin_c - air_c, 0.0)
    edge = 0.5 * (box.length_m + box.width_m)
    wind = 5.7 + 3.8 * min(wind_m_s, 5.0) if wind_m_s > 0.0 else 0.0
    walls = 2.0 * (box.length_m + box.width_m) * box.height_m
    films = ((walls, WALLS, box.height_m), (box.lid_m2, LID, edge), (box.lid_m2, FLOOR, edge))
    total = 0.0
    for area, factor, size in films:
        total += area * max(factor * (over / size) ** 0.25, wind) * (skin_c - air_c)
    return total + box.area_m2 * EMISSIVITY * SIGMA * ((skin_c + 273.15) ** 4 - (air_c + 273.15) ** 4)


def skin_c(box: Box, watts: float, air_c: float, sun_w_m2: float = 0.0, absorbed: float = 0.9, wind_m_s: float = 0.0) -> float:
    """Temperature of the skin [C]."""
    wanted = watts + absorbed * sun_w_m2 * box.lid_m2
    low, high = air_c, air_c + 400.0
    for _ in range(50):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if leaves_w(box, middle, air_c, wind_m_s) < wanted else (low, middle)
    return 0.5 * (low + high)


def inside_c(box: Box, watts: float, air_c: float, sun_w_m2: float = 0.0, absorbed: float = 0.9, wind_m_s: float = 0.0) -> float:
    """Temperature of the air inside [C]."""
    through = watts * (1.0 / INSIDE_W_M2K + box.wall_m / box.wall_w_mk) / box.area_m2
    return skin_c(box, watts, air_c, sun_w_m2, absorbed, wind_m_s) + through


def watts_for(box: Box, inside_limit_c: float, air_c: float, sun_w_m2: float = 0.0, wind_m_s: float = 0.0) -> float:
    """Heat inside that brings the air to a temperature [W]; 0 where the sun alone does."""
    low, high = 0.0, 1e5
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if inside_c(box, middle, air_c, sun_w_m2, wind_m_s=wind_m_s) < inside_limit_c else (low, middle)
    return 0.5 * (low + high)


def plated_c(watts: float, to_plate_k_w: float, plate_k_w: float, box_k_w: float, air_c: float) -> float:
    """Case of a controller that is bolted to a plate outside [C]."""
    return air_c + watts / (1.0 / (to_plate_k_w + plate_k_w) + 1.0 / box_k_w)
