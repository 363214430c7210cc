"""Motor heat: winding and case as two nodes, cooled by the air that passes.  Sources: Incropera 2007, Zukauskas 1972."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, require
from wattagon.physics.motor import COPPER_PER_K, Motor
from wattagon.record import record


def cross_flow_film(diameter_m: Num) -> Num:
    """h1 of h = h0 + h1 v^0.6 [W/m2K per (m/s)^0.6] for a cylinder in cross flow, air at 25 C, 1e3 < Re < 2e5.

    Source: h1 = 0.26 Pr^0.37 (k/d)(d/nu)^0.6.
    """
    return 0.26 * 0.707**0.37 * (0.0261 / diameter_m) * (diameter_m / 1.56e-5) ** 0.6


@record(frozen=True, slots=True, kw_only=True)
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

        Source: P_cu = [T - T_air - P_fe (x R_wc + 1/G)]/(R_wc + 1/G), and R I^2 + V_b I = P_cu with R at the limit's temperature
        (the brush drop of a brushed motor heats its rotor too).  0 where iron loss alone overheats it.  `motor` is at 20 C.
        """
        iron = motor.drag_nm(shaft_rad_s) * shaft_rad_s
        to_air = 1.0 / self.case_w_per_k(speed_m_s)
        path = self.winding_to_case_k_per_w + to_air
        copper = (self.limit_c - air_c - iron * (self.iron_in_winding * self.winding_to_case_k_per_w + to_air)) / path
        hot = motor.resistance_ohm * (1.0 + COPPER_PER_K * (self.limit_c - 20.0))
        current = _current_at_heat_a(np.maximum(copper, 0.0), hot, motor.brush_drop_v)
        if isinstance(self.case_limit_c, float) and math.isinf(self.case_limit_c):
            return current
        total = (self.case_limit_c - air_c) / to_air  # all heat leaves through the case
        copper_case = np.maximum(total - iron, 0.0)
        # winding temperature at that state is linear in the copper loss, and so is R: one equation for I^2
        r20 = motor.resistance_ohm
        base = self.case_limit_c + iron * self.iron_in_winding * self.winding_to_case_k_per_w
        winding = base + copper_case * self.winding_to_case_k_per_w
        by_case = _current_at_heat_a(copper_case, r20 * (1.0 + COPPER_PER_K * (winding - 20.0)), motor.brush_drop_v)
        return np.minimum(current, by_case)

    def case_at_limit_c(self, motor: Motor, shaft_rad_s: Num, speed_m_s: Num, air_c: Num = 25.0) -> Num:
        """Temperature of case and magnets [C] while the continuous current flows and the winding stands at its limit.

        Source: what flows from winding to case, plus the case's own share of iron loss, leaves it to the air.
        """
        iron = motor.drag_nm(shaft_rad_s) * shaft_rad_s
        out = self.case_w_per_k(speed_m_s)
        flow = 1.0 / self.winding_to_case_k_per_w
        # G (T_c - T_air) = (T_limit - T_c)/R_wc + (1 - x) P_fe
        return (out * air_c + flow * self.limit_c + (1.0 - self.iron_in_winding) * iron) / (out + flow)

    def runaway_current_a(self, motor: Motor, speed_m_s: Num) -> Num:
        """DC-equivalent current [A] from which there is no steady temperature at all: 0.00393 R20 I^2 (R_wc + 1/G) = 1."""
        path = self.winding_to_case_k_per_w + 1.0 / self.case_w_per_k(speed_m_s)
        return np.sqrt(1.0 / (COPPER_PER_K * motor.resistance_ohm * path))


def _current_at_heat_a(copper_w: Num, ohm: Num, brush_v: Num) -> Num:
    """Current [A] whose copper and brush loss is a power: the positive root of R I^2 + V_b I = P."""
    if isinstance(brush_v, (int, float)) and brush_v == 0.0:
        return np.sqrt(copper_w / ohm)
    return 2.0 * copper_w / np.maximum(brush_v + np.sqrt(brush_v**2 + 4.0 * ohm * copper_w), 1e-12)


@record(frozen=True, slots=True, kw_only=True)
class Warming:
    """Two exponentials from a start to a steady state at constant current, speed and air; the R(T) feedback is exact.

    All members share one shape; rates are 1/s, the slow (or growing) one first; steady values mean nothing where it is >= 0.
    """

    rates: tuple[NDArray[np.float64], NDArray[np.float64]]
    steady_c: tuple[NDArray[np.float64], NDArray[np.float64]]  # winding, case
    amplitude_k: tuple[tuple[NDArray[np.float64], NDArray[np.float64]], tuple[NDArray[np.float64], NDArray[np.float64]]]

    def at(self, time_s: Num) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """(winding, case) [C] after time_s; inf where a runaway has left the range of numbers."""
        with np.errstate(over="ignore", invalid="ignore"):
            first, second = (np.exp(rate * time_s) for rate in self.rates)
            both = [self.steady_c[k] + self.amplitude_k[0][k] * first + self.amplitude_k[1][k] * second for k in (0, 1)]
        return np.where(np.isnan(both[0]), np.inf, both[0]), np.where(np.isnan(both[1]), np.inf, both[1])

    def time_to_s(self, limit_c: Num) -> NDArray[np.float64]:
        """Seconds until the winding FIRST reaches limit_c; inf if it never does, 0 if it is there already.

        From a warm start the winding can overshoot and return, so times are scanned (geometric grid to 20 slow time constants,
        refined twice) and not solved for.
        """
        settled = (self.rates[0] < 0.0) & (self.steady_c[0] < limit_c) & (self.amplitude_k[0][0] <= 0.0) & (self.amplitude_k[1][0] <= 0.0)
        if np.all(settled):  # it only rises, and settles below: the usual case of a batch without a hot one
            return np.full(np.shape(settled), np.inf)
        deep = Warming(
            rates=(self.rates[0][..., np.newaxis], self.rates[1][..., np.newaxis]),
            steady_c=(self.steady_c[0][..., np.newaxis], self.steady_c[1][..., np.newaxis]),
            amplitude_k=tuple(tuple(x[..., np.newaxis] for x in row) for row in self.amplitude_k),  # type: ignore[arg-type]
        )
        limit = np.asarray(limit_c, dtype=float)[..., np.newaxis]
        horizon = np.clip(20.0 / np.maximum(np.abs(deep.rates[0]), 1e-9), 1.0, 1e6)
        low = np.zeros_like(horizon)
        times = np.concatenate([low, horizon ** np.linspace(-1.0, 1.0, 120)], axis=-1)
        beyond = np.empty(())
        for round_ in range(3):
            over = deep.at(times)[0] >= limit
            if round_ == 0:
                beyond = np.where(over[..., 0], 0.0, np.where(over.any(axis=-1), np.nan, np.inf))
            at = np.maximum(np.argmax(over, axis=-1), 1)[..., np.newaxis]
            low, high = np.take_along_axis(times, at - 1, axis=-1), np.take_along_axis(times, at, axis=-1)
            times = low + (high - low) * np.linspace(0.0, 1.0, 25)
        return np.where(np.isnan(beyond), high[..., 0], beyond)


def warming(
    motor: Motor,
    heat: MotorHeat,
    dc_current_a: Num,
    shaft_rad_s: Num,
    speed_m_s: Num,
    *,
    air_c: Num = 25.0,
    winding_c: Num | None = None,
    case_c: Num | None = None,
) -> Warming:
    """How one motor warms at constant current, from the air's temperature unless a start is given [C]; broadcasts."""
    iron = motor.drag_nm(shaft_rad_s) * shaft_rad_s
    g = heat.case_w_per_k(speed_m_s)
    square = np.asarray(dc_current_a, dtype=float) ** 2
    feedback = COPPER_PER_K * motor.resistance_ohm * square
    out = 1.0 / heat.winding_to_case_k_per_w
    a = (feedback - out) / heat.winding_j_per_k
    b = out / heat.winding_j_per_k + 0.0 * a
    c = out / heat.case_j_per_k + 0.0 * a
    d = -(out + g) / heat.case_j_per_k
    r_air = motor.resistance_ohm * (1.0 + COPPER_PER_K * (air_c - 20.0))
    brush = motor.brush_drop_v * np.abs(dc_current_a)
    q1 = (r_air * square + heat.iron_in_winding * iron + brush) / heat.winding_j_per_k
    q2 = (1.0 - heat.iron_in_winding) * iron / heat.case_j_per_k
    det = a * d - b * c
    det = np.where(np.abs(det) < 1e-18, 1e-18, det)  # exactly at runaway there is no steady state to name
    steady = ((b * q2 - d * q1) / det, (c * q1 - a * q2) / det)
    half = 0.5 * (a + d)
    root = np.sqrt(np.maximum(half * half - det, 0.0))
    l1, l2 = half + root, half - root
    away = tuple((air_c if start is None else start) - air_c - steady[k] for k, start in enumerate((winding_c, case_c)))
    span = np.maximum(l1 - l2, 1e-18)
    first = (((a - l2) * away[0] + b * away[1]) / span, (c * away[0] + (d - l2) * away[1]) / span)
    return Warming(
        rates=(np.asarray(l1), np.asarray(l2)),
        steady_c=(np.asarray(steady[0] + air_c), np.asarray(steady[1] + air_c)),
        amplitude_k=(first, (away[0] - first[0], away[1] - first[1])),
    )


def settles(first_c: float, second_c: float, third_c: float) -> float:
    """Where three equally spaced readings [C] lead; inf where they do not flatten.

    Source: T = T1 + D (1 - exp(-t/tau)) through three points, so D = (T2 - T1)^2 / (2 T2 - T1 - T3).
    Readings that fall or stay are settled at the third.
    """
    rise, bend = second_c - first_c, 2.0 * second_c - first_c - third_c
    if rise <= 0.0:
        return third_c
    if bend <= 1e-9 * max(abs(rise), 1.0):
        return math.inf
    return first_c + rise * rise / bend
