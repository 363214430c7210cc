"""A propeller in open water by blade elements and momentum; five constants, no series coefficients.

Sources: Prandtl's tip loss after Glauert 1935; section slope, camber and induced drag are constants of our own, tuned to published
series of three to five blades.  Pitch ratio 0.4 to 1.4, area ratio 0.2 to 0.8, forward rotation; ducts, reverse and blades that pierce
the surface are not in it.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, require
from wattagon.physics.water.hull import friction_coefficient
from wattagon.physics.water.water import Water
from wattagon.record import record

PANELS, ADVANCES = 40, 61
MOST_ADVANCE = 1.5  # times the pitch ratio
CAMBER, SLOPE, INDUCED = 0.51, 0.85, 0.10
THICKEST = 0.25  # of the chord
LEAST_BLADE_REYNOLDS = 5e4
HALVINGS = 44
ROUGHNESS = {"machined": 1.0, "moulded": 1.1, "cast": 1.15, "printed_filled": 1.2, "printed": 1.5}


@record(frozen=True, slots=True, kw_only=True)
class Blades:
    """Shape of a propeller: diameter and pitch [m], blades, expanded area of the blades outside the hub over the disc, hub ratio."""

    diameter_m: float
    pitch_m: float
    blades: int = 3
    area_ratio: float = 0.40
    hub_ratio: float = 0.2

    def __post_init__(self) -> None:
        require("diameter_m", self.diameter_m, 0.02 <= self.diameter_m <= 2.0, "0.02 to 2 m")
        require("pitch_m", self.pitch_m, 0.2 <= self.pitch_m / self.diameter_m <= 2.0, "0.2 to 2 diameters")
        require("blades", self.blades, 2 <= self.blades <= 7, "2 to 7")
        require("area_ratio", self.area_ratio, 0.1 <= self.area_ratio <= 1.0, "0.1 to 1")
        require("hub_ratio", self.hub_ratio, 0.05 <= self.hub_ratio <= 0.5, "0.05 to 0.5")

    @property
    def pitch_ratio(self) -> float:
        return self.pitch_m / self.diameter_m


def _outline(x: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray((0.6 + 0.7 * x) * np.sqrt(np.maximum(1.0 - x**4, 0.0)))


@functools.lru_cache(maxsize=256)
def outline_factor(hub_ratio: float) -> float:
    """kappa_0, with which the chord over diameter, times blades over area ratio, comes to pi/2 from the hub to the tip."""
    # x = sin u takes the root out of the tip
    u = np.linspace(math.asin(hub_ratio), math.pi / 2.0, 4001)
    values = _outline(np.sin(u)) * np.cos(u)
    return math.pi / 2.0 / float(np.sum(0.5 * (values[1:] + values[:-1]) * np.diff(u)))


def chord_ratio(shape: Blades, x: Num) -> NDArray[np.float64]:
    """c/D at stations x = r/R."""
    return shape.area_ratio / shape.blades * outline_factor(shape.hub_ratio) * _outline(np.asarray(x, dtype=float))


def thickness_ratio(shape: Blades, x: Num) -> NDArray[np.float64]:
    """t/D at stations x; typical of flat-faced sections."""
    return np.asarray(0.003 + (0.062 - 0.005 * shape.blades) * (1.0 - np.asarray(x, dtype=float)))


def blade_drag(shape: Blades, turns_s: float, inflow_m_s: float, medium: Water, roughness: float) -> tuple[float, float]:
    """(Reynolds number at 0.7 of the radius, section drag C_d0): twice the friction line, times the roughness."""
    chord = float(chord_ratio(shape, 0.7)) * shape.diameter_m
    reynolds = chord * math.hypot(inflow_m_s, 0.7 * math.pi * turns_s * shape.diameter_m) / float(medium.m2_s)
    return reynolds, 2.0 * roughness * float(friction_coefficient(reynolds, LEAST_BLADE_REYNOLDS))


class Sections(NamedTuple):
    """What the blade elements do at advance ratios; shapes (advances, stations)."""

    phi: NDArray[np.float64]
    lift: NDArray[np.float64]  # C_L
    speed: NDArray[np.float64]  # W/(n D)
    loading: NDArray[np.float64]  # X
    normal: NDArray[np.float64]  # C_n
    tangent: NDArray[np.float64]  # C_t


def sections(shape: Blades, drag: float, advance: NDArray[np.float64], x: NDArray[np.float64]) -> Sections:
    """Angle of the water at each station, by bisection of a form that stays finite at rest."""
    blades, pitch = shape.blades, shape.pitch_ratio
    chord = chord_ratio(shape, x)
    thick = np.minimum(thickness_ratio(shape, x) / chord, THICKEST)
    theta = np.arctan(pitch / (math.pi * x))
    slope = 2.0 * math.pi / (1.0 + SLOPE * shape.area_ratio)
    solid = blades * chord / (math.pi * x)  # Z c/(2 pi r) with r = x D/2
    ahead = np.asarray(advance, dtype=float)[:, np.newaxis]

    def forces(phi):  # type: ignore[no-untyped-def]
        lift = slope * (theta - phi + CAMBER * thick)
        resist = drag * (1.0 + 2.0 * thick) + INDUCED * lift**2
        normal, tangent = lift * np.cos(phi) - resist * np.sin(phi), lift * np.sin(phi) + resist * np.cos(phi)
        loss = 2.0 / math.pi * np.arccos(np.exp(-blades * (1.0 - x) / (2.0 * x * np.sin(phi))))
        return lift, normal, tangent, solid / (4.0 * np.maximum(loss, 1e-9) * np.sin(phi))

    low = np.full(np.broadcast_shapes(ahead.shape, x.shape), 1e-4)
    high = np.full_like(low, math.pi / 2.0 - 1e-3)
    for _ in range(HALVINGS):
        phi = 0.5 * (low + high)
        _, normal, tangent, loading = forces(phi)
        under = np.sin(phi) - loading * normal < ahead / (math.pi * x) * (np.cos(phi) + loading * tangent)
        low, high = np.where(under, phi, low), np.where(under, high, phi)
    phi = 0.5 * (low + high)
    lift, normal, tangent, loading = forces(phi)
    return Sections(phi, lift, math.pi * x / (np.cos(phi) + loading * tangent), loading, normal, tangent)


class OpenWater(NamedTuple):
    """Thrust and torque coefficients over advance ratios from 0; shapes (n,)."""

    advance: NDArray[np.float64]
    thrust: NDArray[np.float64]  # K_T
    torque: NDArray[np.float64]  # K_Q

    def at(self, advance: Num) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """(K_T, K_Q) at advance ratios: straight lines between the points and beyond their ends."""
        x = np.asarray(advance, dtype=float)
        k = np.clip(np.searchsorted(self.advance, x) - 1, 0, self.advance.size - 2)
        share = (x - self.advance[k]) / (self.advance[k + 1] - self.advance[k])
        return tuple(row[k] + share * (row[k + 1] - row[k]) for row in (self.thrust, self.torque))  # type: ignore[return-value]

    def scaled(self, thrust: float, torque: float) -> OpenWater:
        """The same with factors on thrust and torque, as a dock test gives them."""
        return OpenWater(self.advance, thrust * self.thrust, torque * self.torque)

    @property
    def no_thrust(self) -> float:
        """Advance ratio at which it gives no thrust."""
        k = int(np.argmax(self.thrust <= 0.0)) or self.advance.size - 1
        a, b = self.thrust[k - 1], self.thrust[k]
        return float(self.advance[k - 1] + (self.advance[k] - self.advance[k - 1]) * a / (a - b))

    def efficiency(self, advance: Num) -> NDArray[np.float64]:
        """eta_0 = J K_T/(2 pi K_Q)."""
        thrust, torque = self.at(advance)
        return np.asarray(np.asarray(advance) * thrust / (2.0 * math.pi * torque))

    def best(self) -> tuple[float, float]:
        """(advance ratio, efficiency) where it is most efficient."""
        tried = np.linspace(0.0, self.no_thrust, 2001)[1:-1]
        found = self.efficiency(tried)
        k = int(np.argmax(found))
        return float(tried[k]), float(found[k])


LEAST_ROWS, LATEST_BEGIN, FURTHEST_END = 4, 0.2, 0.35  # of a table: rows, first advance ratio, K_T that is left at its end


def open_water_of(rows: Sequence[tuple[float, float, float]]) -> OpenWater:
    """Coefficients from a table of (J, K_T, K_Q) in any order: straight between its points, to rest and to no thrust by its ends.

    Raises InputError where rows are too few, do not begin near rest or end near no thrust, or a propeller cannot be so.
    """
    table = np.array(sorted(rows), dtype=float).reshape(-1, 3)
    advance, thrust, torque = table.T
    require("open_water", f"{len(table)} rows", len(table) >= LEAST_ROWS, f"{LEAST_ROWS} rows or more")
    twice = advance[1:][np.diff(advance) < 1e-6]
    require("open_water", f"J {twice[0]:g} twice" if twice.size else "", twice.size == 0, "each advance ratio once")
    require("open_water", f"the first row at J {advance[0]:g}", advance[0] <= LATEST_BEGIN, f"a first row at J {LATEST_BEGIN:g} or below")
    rising = np.flatnonzero(np.diff(thrust) >= 0.0)
    require("open_water", f"K_T rises at J {advance[1:][rising[0]]:g}" if rising.size else "", rising.size == 0, "K_T that falls with J")
    require("open_water", f"K_T {thrust[0]:g} at the first row", thrust[0] > 0.0, "above 0")
    ends = bool(thrust[-1] <= FURTHEST_END * thrust[0])
    require("open_water", f"K_T {thrust[-1]:g} at the last row", ends, f"at most {FURTHEST_END:.0%} of the first: rows to near no thrust")
    no = np.flatnonzero((torque <= 0.0) & (thrust > 0.0))
    require(
        "open_water", f"K_Q {torque[no[0]]:g} at J {advance[no[0]]:g}" if no.size else "", no.size == 0, "above 0 while there is thrust"
    )
    if thrust[-1] > 0.0:
        step = thrust[-1] * (advance[-1] - advance[-2]) / (thrust[-2] - thrust[-1])
        left = torque[-1] + step * (torque[-1] - torque[-2]) / (advance[-1] - advance[-2])
        require("open_water", f"K_Q {left:.3g} where K_T ends", left > 0.0, "K_Q that lasts until K_T ends")
        table = np.vstack([table, [advance[-1] + step, 0.0, left]])
    if advance[0] > 0.0:
        table = np.vstack([table[0] - (table[1] - table[0]) * advance[0] / (advance[1] - advance[0]), table])
    return OpenWater(table[:, 0], table[:, 1], table[:, 2])


def open_water(shape: Blades, drag: float = 0.0100) -> OpenWater:
    """K_T and K_Q of a propeller whose section drag is C_d0, from rest to 1.5 times its pitch ratio."""
    width = (1.0 - shape.hub_ratio) / PANELS
    x: NDArray[np.float64] = shape.hub_ratio + width * (np.arange(PANELS, dtype=np.float64) + 0.5)
    advance: NDArray[np.float64] = np.linspace(0.0, MOST_ADVANCE * shape.pitch_ratio, ADVANCES)
    found = sections(shape, drag, advance, x)
    part = found.speed**2 * shape.blades * chord_ratio(shape, x) * width
    return OpenWater(advance, (0.25 * part * found.normal).sum(axis=1), (0.125 * part * found.tangent * x).sum(axis=1))


def thrust_n(coefficient: Num, turns_s: Num, diameter_m: Num, kg_m3: Num) -> Num:
    """T = K_T rho n^2 D^4."""
    return coefficient * kg_m3 * turns_s**2 * diameter_m**4


def torque_nm(coefficient: Num, turns_s: Num, diameter_m: Num, kg_m3: Num) -> Num:
    """Q = K_Q rho n^2 D^5."""
    return coefficient * kg_m3 * turns_s**2 * diameter_m**5


def slip(speed_m_s: Num, turns_s: Num, pitch_m: Num) -> Num:
    """Apparent slip 1 - V/(n P)."""
    return 1.0 - speed_m_s / (turns_s * pitch_m)


def ideal_bollard_n(shaft_w: Num, diameter_m: Num, kg_m3: Num) -> Num:
    """The most thrust at rest that a disc gives for a power: (2 rho A P^2)^(1/3)."""
    return np.cbrt(2.0 * kg_m3 * math.pi / 4.0 * diameter_m**2 * shaft_w**2)


def disc_loading(thrust: Num, inflow_m_s: Num, diameter_m: Num, kg_m3: Num) -> Num:
    """C = T/(1/2 rho A V_A^2)."""
    return thrust / (0.5 * kg_m3 * math.pi / 4.0 * diameter_m**2 * inflow_m_s**2)


def ideal_efficiency(loading: Num) -> Num:
    """2/(1 + sqrt(1 + C)): of a disc without losses."""
    return 2.0 / (1.0 + np.sqrt(1.0 + loading))
