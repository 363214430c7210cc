"""A log's amps as a load: pack and wiring are then sized by what was measured."""

from __future__ import annotations

import heapq

import numpy as np
from numpy.typing import NDArray

from wattagon.design.paths import Edit
from wattagon.design.tree import Design, MeasuredLoad
from wattagon.design.tree.measured_load import MOST_SEGMENTS
from wattagon.errors import InputError
from wattagon.study.log.data import Floats, LogData
from wattagon.study.log.expect import Expect
from wattagon.study.log.replay import filled
from wattagon.study.log.ridden import GRID_S, even_column

FINE = 40_000  # segments to begin with


def merged(squares: Floats, most: int) -> NDArray[np.intp]:
    """Edges of at most `most` runs of equal steps in which a mean square hardly changes: neighbours are joined where it costs least.

    squares (n,): what is to be kept per step.  The cost of a join is how much the sum of the squares of its deviations grows (Ward 1963).
    """
    n = squares.size
    left, right = np.arange(-1, n - 1), np.arange(1, n + 1)
    count, mean = np.ones(n), squares.astype(float).copy()
    alive, version = np.ones(n, dtype=bool), np.zeros(n, dtype=int)
    cost = lambda a, b: count[a] * count[b] / (count[a] + count[b]) * (mean[a] - mean[b]) ** 2
    heap = [(cost(k, k + 1), k, k + 1, 0, 0) for k in range(n - 1)]
    heapq.heapify(heap)
    left_over = n
    while left_over > most and heap:
        _, a, b, va, vb = heapq.heappop(heap)
        if not (alive[a] and alive[b]) or version[a] != va or version[b] != vb:
            continue
        mean[a] = (count[a] * mean[a] + count[b] * mean[b]) / (count[a] + count[b])
        count[a] += count[b]
        alive[b] = False
        version[a] += 1
        right[a] = right[b]
        if right[b] < n:
            left[right[b]] = a
        left_over -= 1
        for one, other in ((left[a], a), (a, right[a])):
            if 0 <= one < n and 0 <= other < n:
                heapq.heappush(heap, (cost(one, other), one, other, version[one], version[other]))
    starts = np.flatnonzero(alive)
    return np.append(starts, n)


def load_of(data: LogData, expect: Expect, most: int = MOST_SEGMENTS // 2) -> MeasuredLoad:
    """The currents of a log in segments that keep their heat.  Raises InputError for a log without pack amps."""
    pack = data.clean("pack_a") if "pack_a" in data else data.column("pack_a")
    if not np.isfinite(pack).any():
        raise InputError(f"log {data.log.id}", "no pack amps", "a log with pack amps")
    step = max(GRID_S, data.seconds / FINE)
    grid = np.arange(0.0, data.seconds, step)
    even = lambda name, other: filled(even_column(data, name, grid, step)) if name in data else np.full(grid.size, other)
    amps, volts, speed = even("pack_a", 0.0), even("bus_v", expect.full_v), np.maximum(even("speed", 0.0), 0.0)
    motor = even("motor_a", 0.0) * expect.dc_per_motor_amp
    if "motor_a" not in data:  # at full duty at least what its share of the pack is
        motor = amps / max(expect.motors, 1.0)
    scale = lambda x: float(np.mean(x**2)) or 1.0
    signed = np.sign(amps) * amps**2 / scale(amps) + motor**2 / scale(motor)
    edges = merged(signed, most)
    starts, lengths = edges[:-1], np.diff(edges)
    mean = lambda x: np.add.reduceat(x, starts) / lengths
    root = lambda x: np.where(mean(x) < 0.0, -1.0, 1.0) * np.sqrt(mean(x**2))
    told = lambda x: tuple(float(f"{v:.5g}") for v in x)
    raw = pack[np.isfinite(pack)]
    real_volts = data.clean("bus_v")[np.isfinite(data.clean("bus_v"))] if "bus_v" in data else np.array([expect.full_v])
    return MeasuredLoad(
        log=data.log.id,
        seconds=told(lengths * step),
        pack_a=told(root(amps)),
        dc_a=told(root(motor)),
        speed=told(mean(speed)),
        volts=told(mean(volts)),
        peak_a=float(f"{max(float(np.max(raw)), 0.0):.5g}"),
        charge_a=float(f"{max(-float(np.min(raw)), 0.0):.5g}"),
        lowest_v=float(f"{float(np.min(real_volts)):.5g}"),
        highest_v=float(f"{float(np.max(real_volts)):.5g}"),
    )


def loaded_by(design: Design, data: LogData | None, expect: Expect | None = None) -> Edit:
    """Hold pack and wiring of the log's variant against its amps; without a log against simulated rides again."""
    if data is None or expect is None:
        return Edit(label="Pack and wiring by simulated rides", changes=(("variant.measured_load", None),))
    variant = data.log.variant or design.variant().id
    return Edit(label=f"Pack and wiring by log {data.log.id}", changes=((f"variants.{variant}.measured_load", load_of(data, expect)),))
