"""Shaking over speed: which order of the train it follows, and so which part it is.

Accelerations are cut into stretches of two seconds; the spectrum of each is read at the orders of the train at the speed of that
stretch.  What follows an order stands out there at every speed; what rings stands at one frequency.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np

from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.log.data import Floats, LogData

STRETCH_S, LEAST_STRETCHES = 2.0, 6
AROUND = 0.06  # of an order's frequency
STANDS_OUT = 3.0  # times its surroundings
SLOW_M_S = 0.8


@record(frozen=True, slots=True, kw_only=True)
class Shake:
    """How an order of the train shakes."""

    words: str
    prominence: float  # times its surroundings, median over the stretches
    amplitude: float  # m/s2
    at_m_s: float  # speed at which it shakes most
    hertz: float  # there


@record(frozen=True, slots=True, kw_only=True)
class Shaking:
    """What accelerations tell."""

    speeds: Floats  # (k,) of the stretches
    hertz: Floats  # (f,)
    power: Floats  # (k, f) (m/s2)^2 per Hz
    shakes: tuple[Shake, ...]  # the strongest first
    along_measured: float  # strongest push along the way [m/s2]; nan without a forecast
    along_predicted: float
    told: tuple[str, ...]


def shaking(data: LogData, speed: tuple[Floats, Floats], orders: Callable[[float], Sequence[tuple[str, float]]]) -> Shaking:
    """Spectra of a log of accelerations.  `speed` (time, m/s) on the same clock; `orders` gives (words, hertz) at a speed.

    Raises InputError without accelerations, or too short a log.
    """
    axes = [data.clean(name) for name in ("ax", "ay", "az") if name in data]
    if not axes:
        raise InputError(f"log {data.log.id}", "no acceleration", "ax, ay or az")
    step = data.step_s
    if not step <= 0.05:
        raise InputError(f"log {data.log.id}", f"a row every {step:.3g} s", "20 rows a second or more: slower ones do not show what turns")
    grid = np.arange(0.0, data.seconds, step)
    size = max(int(STRETCH_S / step), 16)
    count = grid.size // size
    if count < LEAST_STRETCHES:
        raise InputError(f"log {data.log.id}", f"{data.seconds:.3g} s", f"{LEAST_STRETCHES * STRETCH_S:.0f} s or more")
    window = np.hanning(size)
    power = np.zeros((count, size // 2 + 1))
    for values in axes:
        good = np.isfinite(values)
        even = np.interp(grid, data.time[good] - data.time[0], values[good])[: count * size].reshape(count, size)
        even = even - even.mean(axis=1, keepdims=True)
        power += 2.0 * np.abs(np.fft.rfft(even * window, axis=1)) ** 2 * step / np.sum(window**2)
    hertz: Floats = np.asarray(np.fft.rfftfreq(size, step), dtype=float)
    middle = (np.arange(count) + 0.5) * size * step
    speeds = np.interp(middle, speed[0], speed[1], left=0.0, right=0.0)
    found: dict[str, list[tuple[float, float, float, float]]] = {}
    for k in np.flatnonzero(speeds > SLOW_M_S):
        for words, f in orders(float(speeds[k])):
            if not 1.5 / STRETCH_S < f < 0.45 / step:
                continue
            near = np.abs(hertz - f) <= max(AROUND * f, 1.0 / STRETCH_S)
            beside = (np.abs(hertz - f) <= 4.0 * max(AROUND * f, 1.0 / STRETCH_S)) & ~near & (hertz > 0.0)
            if not near.any() or not beside.any():
                continue
            # of noise the mean is 1/ln 2 times the median
            peak, base = float(power[k][near].mean()), float(np.median(power[k][beside])) / math.log(2.0)
            amplitude = math.sqrt(2.0 * float(np.sum(power[k][near])) * float(hertz[1]))
            found.setdefault(words, []).append((peak / max(base, 1e-12), amplitude, float(speeds[k]), f))
    shakes = []
    for words, rows in found.items():
        most = max(rows, key=lambda row: row[1])
        shakes.append(
            Shake(
                words=words,
                prominence=float(np.median([row[0] for row in rows])),
                amplitude=most[1],
                at_m_s=most[2],
                hertz=most[3],
            )
        )
    shakes.sort(key=lambda one: -one.prominence)
    told = []
    clear = [one for one in shakes if one.prominence >= STANDS_OUT]
    if clear:
        told.append(
            f"{clear[0].words} stands out {clear[0].prominence:.0f} times over its surroundings, most at {clear[0].at_m_s * 3.6:.0f} km/h"
        )
    elif shakes:
        told.append("no order of the train stands out: road, or something that rings at one frequency")
    return Shaking(
        speeds=speeds,
        hertz=hertz,
        power=power,
        shakes=tuple(shakes),
        along_measured=math.nan,
        along_predicted=math.nan,
        told=tuple(told),
    )


def along(data: LogData, channel: str, width_s: float = 0.5) -> float:
    """Strongest push along an axis [m/s2], the mean of half a second, what it reads at rest taken off."""
    values = data.clean(channel)
    good = np.isfinite(values)
    width = max(int(width_s / data.step_s), 1)
    mean = np.convolve(values[good] - np.median(values[good]), np.full(width, 1.0 / width), mode="valid")
    return float(np.max(np.abs(mean))) if mean.size else math.nan
