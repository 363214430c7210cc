"""A tow test turned into a resistance: a power law, or a monotone curve through the points.

Source: least squares on the logarithms; monotone cubic of Fritsch and Carlson 1980, slopes after Fritsch and Butland 1984.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattagon.errors import InputError
from wattagon.physics.arrays import Num
from wattagon.record import record

ROUGH = 0.06  # worst residual of the law from where on the curve is taken
MANY = 4  # points from which on the curve is taken
TRUST = 1.1  # times the fastest tow
USUAL = (1.5, 6.0)  # exponents that hulls have


@record(frozen=True, slots=True, kw_only=True)
class Tow:
    """R = a V^n through the points, and the curve where there are many of them or the law does not fit; speeds rise."""

    speed_m_s: tuple[float, ...]
    pull_n: tuple[float, ...]
    factor: float  # a
    exponent: float  # n
    worst: float  # residual of the law, as a share of the pull
    scatter: float  # standard deviation of the residuals, as a share
    by_curve: bool

    @property
    def trusted_m_s(self) -> float:
        """Speed up to which it may be relied on."""
        return TRUST * self.speed_m_s[-1]

    @property
    def usual(self) -> bool:
        """Whether the exponent is one that hulls have; otherwise the test should be repeated."""
        return USUAL[0] <= self.exponent <= USUAL[1]

    def law_n(self, speed_m_s: Num) -> Num:
        """The power law."""
        return self.factor * np.maximum(speed_m_s, 0.0) ** self.exponent

    def pull(self, speed_m_s: Num) -> NDArray[np.float64]:
        """Resistance [N]: V squared below the first point of the curve, the power law of the last two beyond the last."""
        speed = np.asarray(speed_m_s, dtype=float)
        if not self.by_curve:
            return np.asarray(self.law_n(speed))
        x, y = np.array(self.speed_m_s), np.array(self.pull_n)
        slopes = monotone_slopes(x, y)
        inside = hermite(x, y, slopes, np.clip(speed, x[0], x[-1]))
        power = max(float(np.log(y[-1] / y[-2]) / np.log(x[-1] / x[-2])), 1.0)
        beyond = y[-1] * (np.maximum(speed, x[-1]) / x[-1]) ** power
        return np.asarray(np.where(speed < x[0], y[0] * (np.maximum(speed, 0.0) / x[0]) ** 2, np.where(speed > x[-1], beyond, inside)))


def monotone_slopes(x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
    """Slopes at the points with which a cubic through them rises everywhere.

    Inside the weighted harmonic mean of both chords (Fritsch and Butland 1984), at the first point that of V^2 through it, at the last
    the parabola through the last three; both ends held within what keeps the cubic monotone.
    """
    width, chord = np.diff(x), np.diff(y) / np.diff(x)
    slopes = np.zeros_like(y)
    for k in range(1, x.size - 1):
        if chord[k - 1] * chord[k] > 0.0:
            a, b = 2.0 * width[k] + width[k - 1], width[k] + 2.0 * width[k - 1]
            slopes[k] = (a + b) / (a / chord[k - 1] + b / chord[k])
    slopes[0] = 2.0 * y[0] / x[0]
    last, before = width[-1], width[-2] if x.size > 2 else width[-1]
    slopes[-1] = ((2.0 * last + before) * chord[-1] - last * (chord[-2] if x.size > 2 else chord[-1])) / (last + before)
    for end, secant in ((0, chord[0]), (-1, chord[-1])):
        slopes[end] = min(max(slopes[end], 0.0), 3.0 * max(secant, 0.0))
    return slopes


def hermite(x: NDArray[np.float64], y: NDArray[np.float64], slopes: NDArray[np.float64], at: NDArray[np.float64]) -> NDArray[np.float64]:
    """The cubic through points with slopes, at places within them."""
    k = np.clip(np.searchsorted(x, at) - 1, 0, x.size - 2)
    width = x[k + 1] - x[k]
    s = (at - x[k]) / width
    return np.asarray(
        (1.0 + 2.0 * s) * (1.0 - s) ** 2 * y[k]
        + s * (1.0 - s) ** 2 * width * slopes[k]
        + s * s * (3.0 - 2.0 * s) * y[k + 1]
        + s * s * (s - 1.0) * width * slopes[k + 1]
    )


def fit_tow(speed_m_s: NDArray[np.float64] | list[float], pull_n: NDArray[np.float64] | list[float]) -> Tow:
    """The law and the curve of two rows or more.  Raises InputError for fewer, for rows that are not above 0, and for one speed twice."""
    x, y = np.asarray(speed_m_s, dtype=float), np.asarray(pull_n, dtype=float)
    if x.size != y.size or x.size < 2:
        raise InputError("tow test", f"{min(x.size, y.size)} rows", "two rows or more of speed and pull")
    if not (np.all(x > 0.0) and np.all(y > 0.0)):
        raise InputError("tow test", "a row that is not above 0", "speeds and pulls above 0")
    order = np.argsort(x)
    x, y = x[order], y[order]
    if np.any(np.diff(x) <= 0.0):
        raise InputError("tow test", "one speed twice", "each speed once; take the mean of its pulls")
    exponent, log_factor = np.polyfit(np.log(x), np.log(y), 1)
    factor = float(np.exp(log_factor))
    off = factor * x**exponent / y - 1.0
    worst, spare = float(np.abs(off).max()), max(x.size - 2, 1)
    return Tow(
        speed_m_s=tuple(x.tolist()),
        pull_n=tuple(y.tolist()),
        factor=factor,
        exponent=float(exponent),
        worst=worst,
        scatter=float(np.sqrt((off**2).sum() / spare)),
        by_curve=x.size >= MANY or (worst > ROUGH and x.size > 2),
    )


def other_load(pull_n: Num, mass_kg: Num, towed_kg: Num, exponent: Num = 0.8) -> Num:
    """Resistance at another mass: times (m2/m1)^0.8; trusted up to 15 % of change."""
    return pull_n * (mass_kg / towed_kg) ** exponent
