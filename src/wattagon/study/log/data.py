"""What a log holds, in SI over its own clock."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from wattagon.design.tree import Log
from wattagon.errors import InputError
from wattagon.record import record

Floats = NDArray[np.float64]
GAP_STEPS, GAP_S = 6.0, 1.0  # times the usual step, and at least: without data in between


@record(frozen=True, slots=True, kw_only=True)
class LogData:
    """Columns by channel, shape (n,), nan where there is no value.  `time` never falls; `told` says what was found wrong."""

    log: Log
    time: Floats
    columns: Mapping[str, Floats]
    told: tuple[str, ...] = ()
    doubts: tuple[str, ...] = ()  # those of `told` before which nothing is learnt
    spikes: Mapping[str, NDArray[np.bool_]] | None = None  # values that are far off their neighbours: drawn, not learnt from

    def __contains__(self, channel: str) -> bool:
        return channel in self.columns

    def column(self, channel: str) -> Floats:
        """Values of a channel.  Raises InputError where the log has none."""
        found = self.columns.get(channel)
        if found is None:
            raise InputError(f"log {self.log.id}", f"no {channel}", ", ".join(self.columns) or "no column")
        return found

    def clean(self, channel: str) -> Floats:
        """The same without its spikes (nan there)."""
        values = self.column(channel)
        bad = (self.spikes or {}).get(channel)
        return values if bad is None else np.where(bad, math.nan, values)

    @property
    def samples(self) -> int:
        return int(self.time.size)

    @property
    def seconds(self) -> float:
        """From the first to the last row [s]."""
        return float(self.time[-1] - self.time[0]) if self.time.size else 0.0

    @property
    def step_s(self) -> float:
        """The usual time between rows [s]."""
        steps = np.diff(self.time)
        steps = steps[steps > 0.0]
        return float(np.median(steps)) if steps.size else math.nan

    def gaps(self) -> list[tuple[float, float]]:
        """(from, to) without data [s]."""
        return gaps_of(self.time)


def gaps_of(time: Floats) -> list[tuple[float, float]]:
    """(from, to) where a clock skips [s]."""
    steps = np.diff(time)
    some = steps[steps > 0.0]
    if not some.size:
        return []
    wide = np.flatnonzero(steps > max(GAP_STEPS * float(np.median(some)), GAP_S))
    return [(float(time[k]), float(time[k + 1])) for k in wide]


def integral(time: Floats, values: Floats) -> float:
    """Of values over time by the trapezoid, gaps left out; nan without values."""
    steps = np.diff(time)
    middle = 0.5 * (values[1:] + values[:-1])
    some = steps[steps > 0.0]
    most = max(GAP_STEPS * float(np.median(some)), GAP_S) if some.size else math.inf
    good = np.isfinite(middle) & (steps <= most)
    return float(np.sum(middle[good] * steps[good])) if good.any() else math.nan


def distance_m(data: LogData) -> float:
    """How far it went [m], by its own distance, else by its speed; nan where it tells neither."""
    if "distance" in data:
        own = data.clean("distance")
        own = own[np.isfinite(own)]
        if own.size:
            return float(own[-1] - own[0])
    if "speed" in data:
        return integral(data.time, np.maximum(data.clean("speed"), 0.0))
    return math.nan


def energy_wh(data: LogData) -> float:
    """Through the pack's terminals [Wh]: volts times amps, else its own counter; nan where it tells neither."""
    if "bus_v" in data and "pack_a" in data:
        return integral(data.time, data.clean("bus_v") * data.clean("pack_a")) / 3600.0
    if "wh" in data:
        own = data.clean("wh")
        own = own[np.isfinite(own)]
        return float(own[-1] - own[0]) if own.size else math.nan
    return math.nan


def thinned(time: Floats, values: Floats, columns: int) -> tuple[Floats, Floats]:
    """(time, values) for drawing: the least and the most of each of `columns` spans in their order, so that no peak is lost."""
    n = time.size
    if columns < 1 or n <= 4 * columns:
        return time, values
    edges = np.linspace(0, n, columns + 1).astype(np.intp)
    starts, safe = edges[:-1], np.where(np.isfinite(values), values, np.nan)
    low = np.minimum.reduceat(np.where(np.isnan(safe), np.inf, safe), starts)
    high = np.maximum.reduceat(np.where(np.isnan(safe), -np.inf, safe), starts)
    bad = ~np.isfinite(low) | ~np.isfinite(high)
    low[bad] = high[bad] = np.nan
    first, last = values[starts], values[np.minimum(edges[1:], n) - 1]
    made_t, made_v = np.empty(4 * columns), np.empty(4 * columns)
    width = np.diff(np.append(time[starts], time[-1]))
    for k, (share, part) in enumerate(((0.0, first), (0.33, low), (0.67, high), (0.99, last))):
        made_t[k::4], made_v[k::4] = time[starts] + share * width, part
    return made_t, made_v
