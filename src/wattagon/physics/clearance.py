"""Gaps with the tolerance of the measures they rest on: circles, spans, ground, trucks that turn, cases under decks, cranks.

SI throughout; x ahead, y to the left or out, z up.  Derived; wanted gaps are judged.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

ASSUMED = 0.05  # of a measure that nobody took
INDEPENDENT = 4  # measures from which on the root of the squares may be told beside the worst case
Vector = tuple[float, float, float]


class Gap(NamedTuple):
    """A gap, and how far the measures may take it either way: all at their worst, and as independent ones."""

    nominal: float
    worst_by: float
    likely_by: float

    @property
    def worst(self) -> float:
        """With every measure at its worst end."""
        return self.nominal - self.worst_by


def gap(nominal: float, tolerances: Iterable[float]) -> Gap:
    """A gap from its nominal value and the tolerances of what it rests on."""
    wide = [abs(t) for t in tolerances]
    worst = sum(wide)
    return Gap(nominal, worst, math.sqrt(sum(t * t for t in wide)) if len(wide) >= INDEPENDENT else worst)


def pulley_over_ground(tyre_m: float, low_m: float, beside_m: float, lean_rad: float = 0.0, sink_m: float = 0.0) -> float:
    """What is left under a pulley whose outer face stands outside the edge that the tyre rolls on."""
    return (tyre_m - low_m) * math.cos(lean_rad) - beside_m * math.sin(lean_rad) - sink_m


def touches_at_rad(tyre_m: float, low_m: float, beside_m: float) -> float:
    """Lean at which it touches; a right angle where it stands inside."""
    return math.atan2(tyre_m - low_m, beside_m) if beside_m > 0.0 else 0.5 * math.pi


def steer_rad(axis_rad: float, lean_rad: float) -> tuple[float, float]:
    """(steering angle, turn of the hanger about its axis) of a truck whose axis stands so far above level: tan d = tan b sin l."""
    steer = math.atan(math.tan(axis_rad) * math.sin(lean_rad))
    return steer, math.atan(math.tan(lean_rad) / math.cos(axis_rad))


def turned(points: NDArray[np.float64], axis_rad: float, pivot: Vector, turn_rad: float) -> NDArray[np.float64]:
    """Points (n, 3) of a hanger turned about its axis (cos b, 0, sin b) through a pivot, by Rodrigues' formula."""
    a, b, c, s = math.cos(axis_rad), math.sin(axis_rad), math.cos(turn_rad), math.sin(turn_rad)
    rest = 1.0 - c
    turns = np.array([[c + a * a * rest, -b * s, a * b * rest], [b * s, c, -a * s], [a * b * rest, a * s, c + b * b * rest]])
    at = np.asarray(pivot, dtype=float)
    return np.asarray((np.asarray(points, dtype=float) - at) @ turns.T + at)


def under_deck(ends: NDArray[np.float64], radius_m: float, axis_rad: float, pivot: Vector, deck_m: float, lean_rad: float) -> float:
    """Least gap of a can, by the ends of its axis (n, 3), to the plane of a deck at a height when a truck leans either way."""
    least = math.inf
    for sign in (-1.0, 1.0):
        _, turn = steer_rad(axis_rad, sign * lean_rad)
        least = min(least, float(np.min(deck_m - turned(ends, axis_rad, pivot, -turn)[:, 2])) - radius_m)
    return least


def break_over_rad(base_m: float, wheel_m: float, points: Sequence[tuple[float, float]], steps: int = 400) -> tuple[float, float]:
    """(break-over angle over a sharp edge, where [m]): the least sum of the tangent angles to both wheels along an underside.

    `points` is the underside as (x behind the front axle, height); straight lines between them.
    """
    xs = np.linspace(points[0][0], points[-1][0], steps)
    hs = np.interp(xs, [x for x, _ in points], [h for _, h in points])
    total = np.zeros(steps)
    for away in (xs, base_m - xs):
        distance = np.hypot(away, hs - wheel_m)
        total += np.arcsin(np.minimum(wheel_m / distance, 1.0)) + np.arctan2(hs - wheel_m, away)
    k = int(np.argmin(total))
    return float(total[k]), float(xs[k])


def crest_rise_m(crest_m: float, base_m: float) -> float:
    """Rise of a round crest between the wheels."""
    return crest_m - math.sqrt(max(crest_m**2 - 0.25 * base_m**2, 0.0))


def inside_crank_m(tread_m: float, arm_m: float, out_m: float) -> float:
    """Gap between the crank's arm and a part that reaches so far out from the middle of the frame."""
    return 0.5 * tread_m - arm_m - abs(out_m)


def pedal_lean_rad(axis_m: float, crank_m: float, drop_m: float, pedal_m: float) -> float:
    """Lean at which a pedal meets the ground."""
    return math.atan2(axis_m - crank_m - drop_m, pedal_m)


def side_by_side_m(between_m: float, stacks_m: Iterable[float], wanted_m: float) -> float:
    """What is left of the width between two wheels."""
    return between_m - sum(stacks_m) - wanted_m


def circles_apart(one: tuple[float, float], one_m: float, other: tuple[float, float], other_m: float) -> float:
    """Gap of two circles; below 0 they overlap."""
    return math.hypot(other[0] - one[0], other[1] - one[1]) - one_m - other_m
