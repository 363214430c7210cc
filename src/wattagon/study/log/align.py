"""Two logs of one ride on one clock: how far one lies against the other, by their speeds."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wattagon.errors import InputError
from wattagon.study.log.data import Floats, LogData

GRID_S = 0.25
LEAST_S = 20.0
BORROWED = ("elevation", "latitude", "longitude", "speed")


def _even_speed(data: LogData) -> Floats:
    if "speed" not in data:
        for name in ("erpm", "motor_rpm", "wheel_rpm"):
            if name in data:
                values = np.abs(data.clean(name))
                break
        else:
            raise InputError(f"log {data.log.id}", "no speed", "a log with a speed or turns, to be laid against another")
    else:
        values = data.clean("speed")
    good = np.isfinite(values)
    if good.sum() < 3:
        raise InputError(f"log {data.log.id}", "no speed", "a log with a speed, to be laid against another")
    grid = np.arange(0.0, data.seconds, GRID_S)
    return np.interp(grid, data.time[good] - data.time[0], values[good])


def offset_of(first: LogData, second: LogData) -> tuple[float, float]:
    """(seconds to add to the clock of the second so that it runs with the first, how well their speeds then agree: 0 to 1).

    By the largest correlation of the two speeds over all offsets, refined by a parabola; scale does not matter, so turns will do.
    Raises InputError for logs of less than 20 s, or without a speed.
    """
    a, b = _even_speed(first), _even_speed(second)
    if min(a.size, b.size) * GRID_S < LEAST_S:
        raise InputError("log", f"{min(a.size, b.size) * GRID_S:.0f} s long", f"{LEAST_S:.0f} s or more, to be laid against another")
    n = 1 << math.ceil(math.log2(a.size + b.size))
    moments = lambda x, y: np.fft.irfft(np.fft.rfft(x, n) * np.conj(np.fft.rfft(y, n)), n)
    ones_a, ones_b = np.ones(a.size), np.ones(b.size)
    count = np.round(moments(ones_a, ones_b))
    with np.errstate(invalid="ignore", divide="ignore"):
        mean_a, mean_b = moments(a, ones_b) / count, moments(ones_a, b) / count
        cov = moments(a, b) / count - mean_a * mean_b
        var_a = moments(a * a, ones_b) / count - mean_a**2
        var_b = moments(ones_a, b * b) / count - mean_b**2
        score = cov / np.sqrt(np.maximum(var_a * var_b, 1e-12))
    least = max(LEAST_S / GRID_S, 0.3 * min(a.size, b.size))
    score = np.where(count >= least, score, -2.0)
    best = int(np.argmax(score))
    left, right = float(score[best - 1]), float(score[(best + 1) % n])
    top = float(score[best])
    bend = left - 2.0 * top + right
    fine = 0.5 * (left - right) / bend if bend < 0.0 and left > -2.0 and right > -2.0 else 0.0
    lag = best + fine
    return (lag - n if best > n // 2 else lag) * GRID_S, max(top, 0.0)


def with_tracks(data: LogData, tracks: Sequence[LogData]) -> LogData:
    """A log with heights, places and, where it has none, the speed of tracks that ran along with it."""
    columns = dict(data.columns)
    told = list(data.told)
    for track in tracks:
        for name in BORROWED:
            if name in columns or name not in track:
                continue
            values = track.clean(name)
            good = np.isfinite(values)
            if good.sum() < 2:
                continue
            clock = track.time[good] + track.log.offset
            at = np.interp(data.time, clock, values[good], left=math.nan, right=math.nan)
            if np.isfinite(at).any():
                columns[name] = at
                told.append(f"{name} is that of log {track.log.id}, laid {track.log.offset:+.1f} s against this one")
    return replace(data, columns=columns, told=tuple(told))
