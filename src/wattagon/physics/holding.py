"""A motor that holds a torque while it warms: as its magnets weaken it takes more current, which warms it more.

`thermal.warming` answers for a steady current.  Here the current follows from the torque: over short stretches of time the magnets
are taken as they are in the middle, and each stretch is solved exactly as there.  The search for drives does the same in compiled
code, on the same stretches.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num
from wattagon.physics.motor import COPPER_PER_K, Motor
from wattagon.physics.thermal import MotorHeat
from wattagon.record import record

# ends of the stretches [s]: each half as long again as the last; a motor that is cool after ten hours stays so
STRETCHES_S = (10.0, 25.0, *(47.5 * 1.5**k for k in range(17)))
LONGEST_S = STRETCHES_S[-1]


@record(frozen=True, slots=True, kw_only=True)
class Hold:
    """What is held: a torque at the shaft of one motor, at a speed; all members broadcast.  Temperatures in C."""

    motor: Motor  # at 20 C
    heat: MotorHeat
    shaft_nm: Num  # what the shaft gives, drag of the rotor not in it; below 0 it brakes
    shaft_rad_s: Num
    speed_m_s: Num  # of the vehicle, for the air
    ceiling_a: Num = math.inf  # DC-equivalent current of one motor that is not passed: from there on torque falls
    air_c: Num = 25.0

    def _given(self) -> tuple[Num, Num, Num]:
        """(torque constant at 20 C, current for the rotor's own drag, conductance to the air)."""
        m = self.motor
        return m.torque_constant_nm_per_a, m.no_load_a + m.no_load_slope_a_s * self.shaft_rad_s, self.heat.case_w_per_k(self.speed_m_s)

    def current_a(self, magnet_c: Num) -> Num:
        """DC-equivalent current of one motor [A] that gives the torque with magnets at a temperature."""
        constant, idle, _ = self._given()
        weak = constant * (1.0 + self.motor.magnet_per_k * (magnet_c - 20.0))
        return np.clip(self.shaft_nm / weak + idle, -self.ceiling_a, self.ceiling_a)

    def lasts(self) -> NDArray[np.bool_]:
        """Whether the winding surely stays below its limit for good, from cold.

        With the winding at its limit and the case where the winding's heat leaves it, the winding takes in less than it gives: then no
        temperature beyond can be reached from below, since each temperature only adds to what warms the other.
        """
        m, heat = self.motor, self.heat
        constant, idle, _ = self._given()
        case = heat.case_at_limit_c(m, self.shaft_rad_s, self.speed_m_s, self.air_c)
        current = self.current_a(case)
        hot = m.resistance_ohm * (1.0 + COPPER_PER_K * (heat.limit_c - 20.0))
        taken = hot * current**2 + m.brush_drop_v * np.abs(current) + heat.iron_in_winding * constant * idle * self.shaft_rad_s
        return np.asarray((taken < (heat.limit_c - case) / heat.winding_to_case_k_per_w) & (case < heat.limit_c))

    def time_to_limit_s(self, *, winding_c: Num | None = None, case_c: Num | None = None) -> NDArray[np.float64]:
        """Seconds until the winding first meets its limit, from the air's temperature unless a start is given; inf if it never does."""
        cold = winding_c is None and case_c is None
        if cold:
            never = self.lasts()
            if np.all(never):
                return np.full(np.shape(never), np.inf)
        limit = self.heat.limit_c
        found: Num = np.nan
        for stretch in self._stretches(winding_c, case_c):
            if stretch.begin_s == 0.0:
                found = np.where(stretch.first_c >= limit, 0.0, np.full(np.shape(stretch.end_c[0]), np.nan))
            passed = np.isnan(found) & (stretch.end_c[0] >= limit)
            if np.any(passed):
                found = np.where(passed, stretch.begin_s + stretch.until_s(limit), found)
            if np.all(~np.isnan(found) | (never if cold else False)):
                break
        return np.where(np.isnan(found), np.inf, found)

    def at(
        self, time_s: float, *, winding_c: Num | None = None, case_c: Num | None = None
    ) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """(winding, case) [C] after a time, at most LONGEST_S; a runaway is held at 1e4."""
        gone: Num = False  # in a stretch before: what follows has no meaning any more
        for stretch in self._stretches(winding_c, case_c):
            if stretch.begin_s + stretch.length_s >= time_s:
                break
            gone = gone | (stretch.end_c[0] >= HOTTEST_K)
        winding, case = stretch.at(time_s - stretch.begin_s)
        return np.where(gone, HOTTEST_K + self.air_c, winding), np.where(gone, HOTTEST_K + self.air_c, case)

    def _stretches(self, winding_c: Num | None, case_c: Num | None):  # type: ignore[no-untyped-def]
        m, heat = self.motor, self.heat
        constant, idle, g = self._given()
        out = 1.0 / heat.winding_to_case_k_per_w
        b, c, d = out / heat.winding_j_per_k, out / heat.case_j_per_k, -(out + g) / heat.case_j_per_k
        r_air = m.resistance_ohm * (1.0 + COPPER_PER_K * (self.air_c - 20.0))
        winding: Num = 0.0 if winding_c is None else winding_c - self.air_c
        case: Num = 0.0 if case_c is None else case_c - self.air_c
        begin, middle = 0.0, case  # of the case, in the middle of the stretch
        for number, end in enumerate(STRETCHES_S):
            weak = np.maximum(1.0 + m.magnet_per_k * (middle + self.air_c - 20.0), LEAST_MAGNET)
            current = np.clip(self.shaft_nm / (constant * weak) + idle, -self.ceiling_a, self.ceiling_a)
            square = current * current
            iron = constant * weak * idle * self.shaft_rad_s
            a = (COPPER_PER_K * m.resistance_ohm * square - out) / heat.winding_j_per_k
            q1 = (r_air * square + heat.iron_in_winding * iron + m.brush_drop_v * np.abs(current)) / heat.winding_j_per_k
            q2 = (1.0 - heat.iron_in_winding) * iron / heat.case_j_per_k
            stretch = _Stretch(
                a=a, b=b, c=c, d=d, q1=q1, q2=q2, winding=winding, case=case, begin_s=begin, length_s=end - begin, air_c=self.air_c
            )
            yield stretch
            following = STRETCHES_S[number + 1] - end if number + 1 < len(STRETCHES_S) else 0.0
            winding, case = stretch.end_c[0] - self.air_c, stretch.end_c[1] - self.air_c
            middle = stretch.at(end - begin + 0.5 * following)[1] - self.air_c  # the magnets go on for a while as they do
            begin = end


LEAST_MAGNET = 0.02  # of magnets that are as good as gone: a sum that must not turn round
HOTTEST_K = 1e4  # above the air: further on a runaway is not followed


class _Stretch:
    """One stretch of time: two exponentials about a steady state."""

    def __init__(
        self, *, a: Num, b: Num, c: Num, d: Num, q1: Num, q2: Num, winding: Num, case: Num, begin_s: float, length_s: float, air_c: Num
    ) -> None:
        det = a * d - b * c
        det = np.where(np.abs(det) < 1e-18, 1e-18, det)
        half = 0.5 * (a + d)
        root = np.sqrt(np.maximum(half * half - det, 0.0))
        self._slow, self._fast = half + root, half - root
        self._steady = (b * q2 - d * q1) / det, (c * q1 - a * q2) / det
        away = winding - self._steady[0], case - self._steady[1]
        span = np.maximum(2.0 * root, 1e-18)
        self._first = ((a - self._fast) * away[0] + b * away[1]) / span, (c * away[0] + (d - self._fast) * away[1]) / span
        self._second = away[0] - self._first[0], away[1] - self._first[1]
        self.begin_s, self.length_s, self._air_c = begin_s, length_s, air_c
        self.first_c = winding + air_c
        self.end_c = self.at(length_s)

    def at(self, seconds: Num) -> tuple[Num, Num]:
        """(winding, case) [C] some time after its beginning."""
        first, second = np.exp(np.minimum(self._slow * seconds, 60.0)), np.exp(self._fast * seconds)
        winding = self._steady[0] + self._first[0] * first + self._second[0] * second
        case = self._steady[1] + self._first[1] * first + self._second[1] * second
        return np.minimum(winding, HOTTEST_K) + self._air_c, np.minimum(case, HOTTEST_K) + self._air_c

    def until_s(self, limit_c: Num) -> Num:
        """Seconds from its beginning to a limit that the winding passes on the way; by halving, to a thousandth of its length."""
        low: Num = 0.0 * self._slow
        high: Num = low + self.length_s
        for _ in range(14):
            middle = 0.5 * (low + high)
            over = self.at(middle)[0] >= limit_c
            low, high = np.where(over, low, middle), np.where(over, middle, high)
        return high
