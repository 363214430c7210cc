"""Short time: copper alone, the first order, the ladder of shells, and the filtered current of a profile.  IEC 60949, IEC 60853."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.wiring.copper import ALPHA_PER_K, LAY, RHO20_OHM_M, Cable
from wattagon.physics.wiring.warmth import INSULATION_W_MK, Around, leaves_w_m, ohm_rise, secant_w_mk, surface_c
from wattagon.record import record

COPPER_J_M3K, RUBBER_J_M3K = 3.45e6, 1.5e6
SHELLS = 10
PULSE_SHARE = 2.0  # of the rating: above it the filter reads low, and the ladder is asked


def copper_constant(from_c: float = 20.0, to_c: float = 0.0) -> float:
    """sqrt(I^2 t)/A of copper that keeps all its heat, between two temperatures [A s^0.5/m2]."""
    rise = (1.0 + ALPHA_PER_K * (to_c - 20.0)) / (1.0 + ALPHA_PER_K * (from_c - 20.0))
    return math.sqrt(COPPER_J_M3K / (ALPHA_PER_K * RHO20_OHM_M) * math.log(rise))


def iec_constant() -> float:
    """K of IEC 60949 for copper [A s^0.5/mm2]."""
    return math.sqrt(COPPER_J_M3K / (ALPHA_PER_K * RHO20_OHM_M)) * 1e-6


def copper_only_a(area_m2: float, seconds: float, from_c: float, to_c: float) -> float:
    """Current that heats copper alone so far in a time: on the careful side [A]."""
    return area_m2 * copper_constant(from_c, to_c) / math.sqrt(seconds)


def wormer_share(cable: Cable) -> float:
    """Share of the insulation's heat that counts with the conductor (van Wormer)."""
    u = cable.outer_m / cable.strand_m
    return 1.0 / (2.0 * math.log(u)) - 1.0 / (u * u - 1.0)


def capacity_j_mk(cable: Cable, around: Around, limit_c: float) -> float:
    """Heat capacity of a metre for the first order [J/m K]."""
    x = wormer_share(cable)
    skin = (surface_c(cable, around, limit_c) - around.air_c) / (limit_c - around.air_c)
    return COPPER_J_M3K * cable.area_m2 * LAY + RUBBER_J_M3K * cable.insulation_m2 * (x + (1.0 - x) * skin)


def time_constant_s(cable: Cable, around: Around, limit_c: float = 90.0) -> float:
    """C'/g' of a lead [s]."""
    return capacity_j_mk(cable, around, limit_c) / secant_w_mk(cable, around, limit_c)


def first_order_a(cable: Cable, around: Around, seconds: float, limit_c: float) -> float:
    """Current by the first order from the air's temperature: promises too much for short times [A]."""
    capacity, away = capacity_j_mk(cable, around, limit_c), secant_w_mk(cable, around, limit_c)
    start, rise = cable.ohm_at(around.air_c), limit_c - around.air_c

    def reached(amps: float) -> float:
        rate = (amps**2 * ohm_rise(cable) - away) / capacity
        grown = math.expm1(min(rate * seconds, 500.0)) / rate if abs(rate) > 1e-12 else seconds
        return amps**2 * start / capacity * grown

    return _solve(reached, rise)


def _solve(reached, rise: float) -> float:  # type: ignore[no-untyped-def]
    """The current at which a rise is reached, by bisection."""
    low, high = 0.0, 16.0
    while reached(high) < rise and high < 1e7:
        low, high = high, 4.0 * high
    while high - low > 1e-7 * high:
        middle = 0.5 * (low + high)
        low, high = (middle, high) if reached(middle) < rise else (low, middle)
    return 0.5 * (low + high)


@record(frozen=True, slots=True, kw_only=True)
class Ladder:
    """Conductor and shells of a lead, linear in the rise over the air for a constant current.

    capacity: (n,) J/m K; away: (n, n) W/m K, symmetric; the conductor is first.
    """

    air_c: float
    start_ohm: float  # ohm/m at the air's temperature
    rise_ohm: float  # ohm/m K
    capacity: NDArray[np.float64]
    away: NDArray[np.float64]

    def steady(self, amps: float) -> NDArray[np.float64]:
        """Rises for ever at a current [K], shape (n,); inf where none settles."""
        matrix = self.away.copy()
        matrix[0, 0] -= amps**2 * self.rise_ohm
        if np.linalg.eigvalsh(matrix)[0] <= 0.0:
            return np.full(len(self.capacity), np.inf)
        heat = np.zeros(len(self.capacity))
        heat[0] = amps**2 * self.start_ohm
        return np.asarray(np.linalg.solve(matrix, heat))

    def after(self, rise: NDArray[np.float64], amps: float, seconds: float) -> NDArray[np.float64]:
        """Rises after a constant current [K], exact: one matrix exponential."""
        return self._warming(rise, amps)(seconds)

    def _warming(self, rise: NDArray[np.float64], amps: float) -> Callable[[float], NDArray[np.float64]]:
        """Rises over the time of a constant current."""
        root = np.sqrt(self.capacity)
        matrix = -self.away / np.outer(root, root)
        matrix[0, 0] += amps**2 * self.rise_ohm / self.capacity[0]
        rates, ways = np.linalg.eigh(matrix)
        forced = ways.T[:, 0] * (amps**2 * self.start_ohm / root[0])
        begun = ways.T @ (root * rise)
        slow = np.abs(rates) <= 1e-12
        safe = np.where(slow, 1.0, rates)

        def after(seconds: float) -> NDArray[np.float64]:
            step = np.minimum(rates * seconds, 600.0)
            grown = np.where(slow, seconds, np.expm1(step) / safe)
            return np.asarray(ways @ (np.exp(step) * begun + forced * grown) / root)

        return after

    def bears_a(self, seconds: float, limit_c: float, before_a: float = 0.0) -> float:
        """Current that brings the copper to a temperature in a time, after a long one before [A]; 0 where that is too hot already."""
        begun = self.steady(before_a) if before_a > 0.0 else np.zeros(len(self.capacity))
        wanted = limit_c - self.air_c
        if not math.isfinite(float(begun[0])) or begun[0] >= wanted:
            return 0.0
        return _solve(lambda amps: float(self.after(begun, amps, seconds)[0]), wanted)

    def time_to_s(self, amps: float, limit_c: float, before_a: float = 0.0) -> float:
        """Seconds until the copper has a temperature [s]; inf where it never has."""
        begun = self.steady(before_a) if before_a > 0.0 else np.zeros(len(self.capacity))
        wanted = limit_c - self.air_c
        if begun[0] >= wanted:
            return 0.0
        high, after = 1e-3, self._warming(begun, amps)
        while float(after(high)[0]) < wanted:
            high *= 2.0
            if high > 1e5:
                return math.inf
        low = 0.5 * high if high > 1e-3 else 0.0
        for _ in range(45):
            middle = 0.5 * (low + high)
            low, high = (middle, high) if float(after(middle)[0]) < wanted else (low, middle)
        return 0.5 * (low + high)

    def peak_c(self, seconds: Sequence[float], amps: Sequence[float], before_a: float = 0.0) -> float:
        """Highest temperature of the copper at the ends of the segments of a profile [C]."""
        rise = self.steady(before_a) if before_a > 0.0 else np.zeros(len(self.capacity))
        highest = float(rise[0])
        for long, current in zip(seconds, amps, strict=True):
            rise = self.after(rise, current, long)
            highest = max(highest, float(rise[0]))
        return self.air_c + highest


def ladder(cable: Cable, around: Around, limit_c: float = 90.0, shells: int = SHELLS) -> Ladder:
    """The ladder of a lead; what leaves its skin is frozen at the limit."""
    edges = np.linspace(0.5 * cable.strand_m, 0.5 * cable.outer_m, shells + 1)
    middles = 0.5 * (edges[1:] + edges[:-1])
    radii = np.concatenate([[edges[0]], middles, [edges[-1]]])
    across = 2.0 * math.pi * INSULATION_W_MK / np.log(radii[1:] / radii[:-1])
    skin = surface_c(cable, around, limit_c)
    leaves = leaves_w_m(cable, around, skin) / (skin - around.air_c)
    last = 1.0 / (1.0 / across[-1] + 1.0 / leaves)
    away = np.zeros((shells + 1, shells + 1))
    for k, g in enumerate(across[:-1]):
        away[k, k] += g
        away[k + 1, k + 1] += g
        away[k, k + 1] -= g
        away[k + 1, k] -= g
    away[-1, -1] += last
    capacity = np.concatenate([[COPPER_J_M3K * cable.area_m2 * LAY], RUBBER_J_M3K * math.pi * (edges[1:] ** 2 - edges[:-1] ** 2)])
    return Ladder(air_c=around.air_c, start_ohm=cable.ohm_at(around.air_c), rise_ohm=ohm_rise(cable), capacity=capacity, away=away)


def equivalent_a(seconds: NDArray[np.float64], amps: NDArray[np.float64], tau_s: float, begun_a: float = 0.0) -> tuple[float, int]:
    """(equivalent current [A], segment at whose end it is) of a profile for a piece of a time constant.

    seconds, amps: (n,) segments of constant current; the filter y' = (I^2 - y)/tau is exact in each.
    """
    squares = np.asarray(amps, dtype=float) ** 2
    if squares.size == 0:
        return begun_a, 0
    keep = np.exp(-np.asarray(seconds, dtype=float) / max(tau_s, 1e-9))
    y, highest, at = begun_a**2, begun_a**2, 0
    for k, (square, a) in enumerate(zip(squares.tolist(), keep.tolist(), strict=True)):
        y = square + (y - square) * a
        if y > highest:
            highest, at = y, k
    return math.sqrt(highest), at


def endless_a(first_a: float, first_s: float, second_a: float, second_s: float, tau_s: float) -> float:
    """Filtered peak of two levels for ever [A]."""
    a, b = math.exp(-first_s / tau_s), math.exp(-second_s / tau_s)
    return math.sqrt((first_a**2 * (1.0 - a) + second_a**2 * a * (1.0 - b)) / (1.0 - a * b))


def hold_s(amps: float, before_a: float, rating_a: float, tau_s: float) -> float:
    """Seconds to the rating from a long current before; inf where it stays under it."""
    if amps <= rating_a:
        return math.inf
    return tau_s * math.log((amps**2 - before_a**2) / (amps**2 - rating_a**2)) if before_a < rating_a else 0.0
