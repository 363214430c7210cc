"""A course as legs, and as the cells of the ride loop: grade, surface, wind, and the speed that a driver would be at."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.errors import InputError
from wattagon.record import record

CELL_COLUMNS = ("start_m", "grade", "rolling_factor", "wind_m_s", "speed2", "speed2_per_m", "stop_s", "current_m_s")
STOPPED_M_S = 0.05


@record(frozen=True, slots=True, kw_only=True)
class Leg:
    """A stretch of one kind; the speed is what the rider would ride, `stop_s` how long they stand at its end (0: no stop)."""

    length_m: float
    grade: float = 0.0
    speed_m_s: float
    rolling_factor: float = 1.0  # of the surface, on the vehicle's own rolling resistance
    wind_m_s: float = 0.0  # added to the headwind of the day
    current_m_s: float = 0.0  # of the water against the boat, added to that of the day
    stop_s: float = 0.0

    def __post_init__(self) -> None:
        for name, low, high, words in (
            ("length_m", 0.1, 1e6, "0.1 m to 1000 km"),
            ("grade", -0.5, 0.6, "-50 % to 60 %"),
            ("speed_m_s", 0.2, 60.0, "0.2 to 60 m/s"),
            ("rolling_factor", 0.1, 20.0, "0.1 to 20"),
            ("wind_m_s", -30.0, 30.0, "-30 to 30 m/s"),
            ("current_m_s", -10.0, 10.0, "-10 to 10 m/s"),
            ("stop_s", 0.0, 86400.0, "0 to a day"),
        ):
            value = getattr(self, name)
            if not low <= value <= high:
                raise InputError(name, value, words)


def cells(legs: Sequence[Leg], *, brake_m_s2: float = 1.0, end_stopped: bool = True) -> NDArray[np.float64]:
    """Cells of the loop, shape (n, 8), columns CELL_COLUMNS.

    Before a slower leg or a stop the wanted speed falls as v^2 = v_end^2 + 2 a d, worked out backwards from the end, so that a
    driver who follows it arrives in time.  Speeding up is left to what the drive can do.
    """
    if not legs:
        raise InputError("course", "empty", "one leg or more")
    after = 0.0 if end_stopped else legs[-1].speed_m_s ** 2
    made: list[tuple[float, ...]] = []
    ends = np.cumsum([leg.length_m for leg in legs])
    for k in range(len(legs) - 1, -1, -1):
        leg, end = legs[k], float(ends[k])
        start = end - leg.length_m
        leave2 = min(0.0 if leg.stop_s > 0 else after, leg.speed_m_s**2)
        ramp = min((leg.speed_m_s**2 - leave2) / (2.0 * brake_m_s2), leg.length_m)
        slope = -2.0 * brake_m_s2
        facts = (leg.grade, leg.rolling_factor, leg.wind_m_s)
        enter2 = leave2 - slope * ramp
        if ramp > 1e-6:
            made.append((end - ramp, *facts, enter2, slope, leg.stop_s, leg.current_m_s))
        if leg.length_m - ramp > 1e-6:
            made.append((start, *facts, leg.speed_m_s**2, 0.0, leg.stop_s if ramp <= 1e-6 else 0.0, leg.current_m_s))
            enter2 = leg.speed_m_s**2
        after = enter2
    made.reverse()
    return np.array(made, dtype=float)


def length_m(legs: Sequence[Leg]) -> float:
    """Length of a course [m]."""
    return math.fsum(leg.length_m for leg in legs)


def climb_m(legs: Sequence[Leg]) -> tuple[float, float]:
    """(metres up, metres down) of a course; along the slope, sin(atan G)."""
    rises = [leg.length_m * math.sin(math.atan(leg.grade)) for leg in legs]
    return math.fsum(x for x in rises if x > 0), -math.fsum(x for x in rises if x < 0)
