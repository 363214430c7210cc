"""Motor heat: winding and case as two nodes, cooled by the air that passes.  Sources: Incropera 2007, Zukauskas 1972."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, require
from wattagon.physics.motor import COPPER_PER_K, Motor


def cross_flow_film(diameter_m: Num) -> Num:
    """h1 of h = h0 + h1 v^0.6 [W/m2K per (m/s)^0.6] for a cylinder in cross flow, air at 25 C, 1e3 < Re < 2e5.

    Source: h1 = 0.26 Pr^0.37 (k/d)(d/nu)^0.6.
    """
    return 0.26 * 0.707**0.37 * (0.0261 / diameter_m) * (diameter_m / 1.56e-5) ** 0.6


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorHeat:
    """Heat capacities and paths of one motor; typical values are good to 40 % of the rise until fitted to a warm-up."""

    winding_j_per_k: Num
    case_j_per_k: Num
    winding_to_case_k_per_w: Num
    case_area_m2: Num
    film_still: Num = 12.0  # h0, W/m2K
    film_moving: Num = 13.0  # h1, W/m2K per (m/s)^0.6
    air_share: Num = 0.6  # share of the vehicle's speed that reaches the case
    mount_w_per_k: Num = 0.5
    iron_in_winding: Num = 0.5  # share of iron loss that heats the winding node
    limit_c: Num = 120.0
    case_limit_c: Num = math.inf
    fixed_w_per_k: Num = 0.0  # a water jacket or immersed case instead of air, when above 0

    def __post_init__(self) -> None:
        for name in ("winding_j_per_k", "case_j_per_k", "winding_to_case_k_per_w", "case_area_m2", "limit_c"):
            value = getattr(self, name)
            require(name, value, value > 0, "above 0")

    def case_w_per_k(self, speed_m_s: Num) -> Num:
        """Conductance from case to air [W/K] at a vehicle speed."""
        film = self.film_still + self.film_moving * (self.air_share * np.maximum(speed_m_s, 0.0)) ** 0.6
        return np.where(np.asarray(self.fixed_w_per_k) > 0, self.fixed_w_per_k, film * self.case_area_m2 + self.mount_w_per_k)

    def continuous_current_a(self, motor: Motor, shaft_rad_s: Num, speed_m_s: Num, air_c: Num = 25.0) -> Num:
        """DC-equivalent current [A] that settles at the winding limit, or at the case limit if that comes first.

        Source: P_cu = [T - T_air - P_fe (x R_wc + 1/G)]/(R_wc + 1/G), I = sqrt(P_cu/R(T)), R at the limit's temperature.
        0 where iron loss alone overheats it.  `motor` is at 20 C.
        """
        iron = motor.drag_nm(shaft_rad_s) * shaft_rad_s
        to_air = 1.0 / self.case_w_per_k(speed_m_s)
        path = self.winding_to_case_k_per_w + to_air
        copper = (self.limit_c - air_c - iron * (self.iron_in_winding * self.winding_to_case_k_per_w + to_air)) / path
        hot = motor.resistance_ohm * (1.0 + COPPER_PER_K * (self.limit_c - 20.0))
        current = np.sqrt(np.maximum(copper, 0.0) / hot)
        if isinstance(self.case_limit_c, float) and math.isinf(self.case_limit_c):
            return current
        total = (self.case_limit_c - air_c) / to_air  # all heat leaves through the case
        copper_case = np.maximum(total - iron, 0.0)
        # winding temperature at that state is linear in the copper loss, and so is R: one equation for I^2
        r20 = motor.resistance_ohm
        base = self.case_limit_c + iron * self.iron_in_winding * self.winding_to_case_k_per_w
        winding = base + copper_case * self.winding_to_case_k_per_w
        by_case = np.sqrt(copper_case / (r20 * (1.0 + COPPER_PER_K * (winding - 20.0))))
        return np.minimum(current, by_case)

    def runaway_current_a(self, motor: Motor, speed_m_s: Num) -> Num:
        """DC-equivalent current [A] from which there is no steady temperature at all: 0.00393 R20 I^2 (R_wc + 1/G) = 1."""
        path = self.winding_to_case_k_per_w + 1.0 / self.case_w_per_k(speed_m_s)
        return np.sqrt(1.0 / (COPPER_PER_K * motor.resistance_ohm * path))


@dataclass(frozen=True, slots=True, kw_only=True)
class Warming:
    """Two exponentials from a start to a steady state at constant current, speed and air; the R(T) feedback is exact."""

    rates: NDArray[np.float64]  # eigenvalues [1/s], slow (or growing) one first
    steady_c: tuple[float, float]  # winding, case; without meaning when rates[0] >= 0
    _amplitude: NDArray[np.float64]  # (2 rates, 2 nodes), K

    def at(self, time_s: Num) -> tuple[Num, Num]:
        """(winding, case) [C] after time_s; inf where a runaway has left the range of numbers."""
        t = np.asarray(time_s, dtype=float)
        with np.errstate(over="ignore", invalid="ignore"):
            grow = [np.exp(rate * t) for rate in self.rates]
            w, c = (
                self.steady_c[k] + self._amplitude[0, k] * grow[0] + self._amplitude[1, k] * grow[1] for k in (0, 1)
            )
        return np.where(np.isnan(w), np.inf, w), np.where(np.isnan(c), np.inf, c)

    def time_to_s(self, limit_c: float) -> float:
        """Seconds until the winding first reaches limit_c; inf if it never does, 0 if it is there already."""
        if self.at(0.0)[0] >= limit_c:
            return 0.0
        slow = abs(float(self.rates[0]))
        horizon = min(20.0 / slow if slow > 0 else 1e6, 1e6)
        times = np.concatenate([[0.0], np.geomspace(0.05, max(horizon, 1.0), 400)])
        over = np.asarray(self.at(times)[0]) >= limit_c
        if not over.any():
            return math.inf
        first = int(np.argmax(over))
        low, high = float(times[first - 1]), float(times[first])
        for _ in range(60):
            middle = 0.5 * (low + high)
            low, high = (low, middle) if self.at(middle)[0] >= limit_c else (middle, high)
        return high


def warming(
    motor: Motor, heat: MotorHeat, dc_current_a: float, shaft_rad_s: float, speed_m_s: float, *,
    air_c: float = 25.0, winding_c: float | None = None, case_c: float | None = None,
) -> Warming:
    """How one motor warms at constant current, from the air's temperature unless a start is given [C]."""
    iron = float(motor.drag_nm(shaft_rad_s) * shaft_rad_s)
    g = float(heat.case_w_per_k(speed_m_s))
    r_wc, c_w, c_c = (float(x) for x in (heat.winding_to_case_k_per_w, heat.winding_j_per_k, heat.case_j_per_k))
    r20, square = float(motor.resistance_ohm), dc_current_a**2
    brush = float(motor.brush_drop_v) * abs(dc_current_a)
    r_air = r20 * (1.0 + COPPER_PER_K * (air_c - 20.0))
    m = np.array([
        [(-1.0 / r_wc + COPPER_PER_K * r20 * square) / c_w, 1.0 / (r_wc * c_w)],
        [1.0 / (r_wc * c_c), -(1.0 / r_wc + g) / c_c],
    ])
    x_fe = float(heat.iron_in_winding)
    q = np.array([(r_air * square + x_fe * iron + brush) / c_w, (1.0 - x_fe) * iron / c_c])
    steady = -np.linalg.solve(m, q)
    start = np.array([winding_c if winding_c is not None else air_c, case_c if case_c is not None else air_c]) - air_c
    half, det = 0.5 * float(np.trace(m)), float(np.linalg.det(m))
    root = math.sqrt(max(half * half - det, 0.0))
    l1, l2 = half + root, half - root
    away = start - steady
    # projectors on the two eigenvectors
    first = (m - l2 * np.eye(2)) @ away / (l1 - l2)
    second = -(m - l1 * np.eye(2)) @ away / (l1 - l2)
    return Warming(
        rates=np.array([l1, l2]), steady_c=(float(steady[0] + air_c), float(steady[1] + air_c)),
        _amplitude=np.array([first, second]),
    )
