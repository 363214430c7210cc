"""Fuses: clearing times, what one must carry, protect, break and clear.  Curves in the manner of ISO 8820; a sheet replaces them."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from wattagon.physics.wiring.short import Ladder
from wattagon.record import record

STEPS_A = (20, 25, 30, 35, 40, 50, 60, 70, 80, 100, 125, 150, 175, 200, 225, 250, 300, 350, 400, 450, 500)
CARRY, PER_K, COOL_C = 0.75, 0.0025, 25.0
PEAK_SHARE = 0.5  # of the earliest clearing time
OPENS_BY_S = 2.0
FROM = 1.35  # times its rating: from there it must open before its cable is damaged
CURRENTS = 40
HOT_SHARE, COLD_SHARE = 0.6, 2.0  # of the cells' resistance, for the largest and the smallest short


@record(frozen=True, slots=True, kw_only=True)
class Curve:
    """Earliest and latest seconds to clear by multiples of the rating; log-log between points, I^2 t constant above the last."""

    multiples: tuple[float, ...]
    earliest: tuple[float, ...]
    latest: tuple[float, ...]  # inf: never


SLOW = Curve(multiples=(1.0, 1.35, 2.0, 3.5, 6.0), earliest=(14400.0, 120.0, 1.0, 0.3, 0.1), latest=(math.inf, 1800.0, 15.0, 5.0, 1.0))
FAST = Curve(multiples=(1.1, 1.35, 2.0, 3.5, 6.0), earliest=(360000.0, 0.75, 0.15, 0.08, 0.03), latest=(math.inf, 600.0, 5.0, 0.5, 0.1))


def clears_s(curve: Curve, multiple: float, which: str) -> float:
    """Seconds to clear at a multiple of the rating, `which` of earliest and latest; inf where it never does."""
    times = curve.earliest if which == "earliest" else curve.latest
    steps = curve.multiples
    if multiple < steps[0]:
        return math.inf
    if multiple >= steps[-1]:
        return times[-1] * (steps[-1] / multiple) ** 2
    k = next(k for k in range(len(steps) - 1) if multiple < steps[k + 1])
    if math.isinf(times[k]):
        return math.inf
    share = math.log(multiple / steps[k]) / math.log(steps[k + 1] / steps[k])
    return math.exp(math.log(times[k]) + share * math.log(times[k + 1] / times[k]))


def warm_share(air_c: float) -> float:
    """k_T of a fuse in warm air."""
    return max(1.0 - PER_K * (air_c - COOL_C), 0.2)


def carries(curve: Curve, rating_a: float, windowed_a: float, peaks: Sequence[tuple[float, float]], air_c: float) -> tuple[float, float]:
    """(lasting current over what it carries, worst peak's seconds over half its earliest clearing) - both want 1 or less.

    peaks: (amps, seconds) of unbroken stretches.
    """
    k = warm_share(air_c)
    worst = 0.0
    for amps, seconds in peaks:
        earliest = clears_s(curve, amps / (k * rating_a), "earliest")
        worst = max(worst, seconds / (PEAK_SHARE * earliest) if math.isfinite(earliest) else 0.0)
    return windowed_a / (CARRY * k * rating_a), worst


def rating_for_a(curve: Curve, windowed_a: float, peaks: Sequence[tuple[float, float]], air_c: float) -> float:
    """The smallest stock step that carries a load; inf where none does."""
    for step in STEPS_A:
        lasting, peak = carries(curve, step, windowed_a, peaks, air_c)
        if lasting <= 1.0 and peak <= 1.0:
            return float(step)
    return math.inf


def short_currents_a(full_v: float, empty_v: float, cells_ohm: float, wiring_ohm: float) -> tuple[float, float]:
    """(largest, smallest) current of a dead short [A]: hot and full cells, cold, aged and empty ones."""
    return full_v / (HOT_SHARE * cells_ohm + wiring_ohm), empty_v / (COLD_SHARE * cells_ohm + wiring_ohm)


def protects(curve: Curve, rating_a: float, lead: Ladder, before_a: float, damage_c: float, largest_a: float) -> tuple[float, float]:
    """(least cable time over latest clearing time, the current where that is); it protects where the ratio is 1 or more."""
    low = FROM * rating_a
    if largest_a <= low:
        return math.inf, low
    worst, at = math.inf, low
    for amps in np.geomspace(low, largest_a, CURRENTS).tolist():
        latest = clears_s(curve, amps / rating_a, "latest")
        ratio = lead.time_to_s(amps, damage_c, before_a) / latest if math.isfinite(latest) else 0.0
        if ratio < worst:
            worst, at = ratio, amps
    return worst, at
