"""The ride loop beside plain Python, and batches of designs on one core and on all.

Run: .venv/bin/python benchmarks/ride.py.  Ratios in one process: plain Python runs the same source without the compiler.
"""

from __future__ import annotations

import math
import os
import statistics
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np

from wattagon.design import catalogue, file
from wattagon.physics.ride import follower, limits, loop, warmth
from wattagon.physics.ride.names import Mode, Stat, Sum
from wattagon.physics.ride.plant import Plant
from wattagon.physics.ride.ride import Rider, Run, Start, simulate
from wattagon.study.resolve import resolve
from wattagon.study.ride.inputs import plant_of

DEMO = Path(catalogue.__file__).resolve().parent.parent / "stock" / "demo" / "dunlin.json"
HOUR, STEP, SHORT = 3600.0, 0.01, 20.0
ROUNDS, BATCH = 9, 16


def ground() -> np.ndarray:
    """One hour at changing speed over rolling ground."""
    legs = [[0.0, 0.02, 1.0, 0.0, 36.0, 0.0, 0.0]]
    for k in range(1, 400):
        legs.append([k * 60.0, 0.04 * math.sin(k), 1.0, math.cos(k), (5.0 + 2.0 * math.sin(0.7 * k)) ** 2, 0.0, 0.0])
    return np.array(legs)


def run(plant: Plant, seconds: float) -> Run:
    """Ride it for a while."""
    rider = Rider(mode=Mode.FOLLOW, longest_s=seconds)
    return simulate(plant, "nmc_power", ground(), rider, Start(), step_s=STEP)


def plain_ns(plant: Plant) -> float:
    """Nanoseconds a step of the same source without the compiler: the pieces are swapped for their Python."""
    rooms = (follower, limits, warmth, loop)
    inner = {name: piece for room in rooms[:3] for name, piece in vars(room).items() if hasattr(piece, "py_func")}
    kept = [(room, name, vars(room)[name]) for room in rooms for name in inner if name in vars(room)]
    compiled = loop.ride_loop
    try:
        for room, name, _ in kept:
            setattr(room, name, inner[name].py_func)
        # a record that is read by attribute in Python too
        loop.ride_loop = lambda p, *rest: compiled.py_func(plant, *rest)
        start = time.perf_counter()
        run(plant, SHORT)
        return 1e9 * (time.perf_counter() - start) / (SHORT / STEP)
    finally:
        loop.ride_loop = compiled
        for room, name, piece in kept:
            setattr(room, name, piece)


def main() -> int:
    """Print what was measured."""
    design, stock = file.read(DEMO).design, catalogue.load()
    plant, _ = plant_of(design, resolve(design, stock))
    begin = time.perf_counter()
    run(plant, 1.0)
    print(f"first call           {time.perf_counter() - begin:8.2f} s (with its cache on disk, or compiling)")
    times, steps = [], HOUR / STEP
    for _ in range(ROUNDS):
        start = time.perf_counter()
        done = run(plant, HOUR)
        times.append(time.perf_counter() - start)
    compiled = 1e9 * statistics.median(times) / steps
    told = f"{done.stat(Stat.DISTANCE):.2f} m, {done.energy_j(Sum.CHEMICAL) / 3600:.4f} Wh, {done.stat(Stat.WINDING):.3f} C"
    print(f"compiled Python      {compiled:8.0f} ns a step, one hour in {1e3 * statistics.median(times):.0f} ms; {told}")
    plain = plain_ns(plant)
    print(f"plain Python         {plain:8.0f} ns a step; ratio {plain / compiled:.0f}")
    for workers in (1, os.cpu_count() or 1):
        with ThreadPoolExecutor(workers) as pool:
            start = time.perf_counter()
            list(pool.map(lambda _k: run(plant, HOUR), range(BATCH)))
            took = time.perf_counter() - start
        each = 1e9 * took / BATCH / steps
        print(f"{BATCH} designs, {workers} core{'s' if workers > 1 else ' '}  {took:8.2f} s, {each:.0f} ns a step and design")
    return 0


if __name__ == "__main__":
    sys.exit(main())
