"""A million rows by twelve columns beside plain NumPy, and the fit of an hour at ten rows a second with six unknowns.

Run: .venv/bin/python benchmarks/logs.py.  Ratios in one process; the table is made once in a folder of its own.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tests.logs import ROUND, SIX, STOCK, demo, ride_log

from wattagon.exchange.log.read import bring, packed
from wattagon.exchange.log.table import read_table
from wattagon.study.log.compare import compare, explanations
from wattagon.study.log.data import thinned
from wattagon.study.log.expect import expected
from wattagon.study.log.fit import fit
from wattagon.study.log.replay import replay

ROWS, ROUNDS = 1_000_000, 5
HEADS = "time s,speed km/h,motor A,pack A,pack V,duty %,erpm,motor C,controller C,pack C,ah,wh"


def table(path: Path) -> None:
    """A ride without end."""
    t = np.arange(ROWS) * 0.1
    wave = np.sin(0.01 * t)
    columns = [t, 20 + 8 * wave, 20 + 10 * wave, 12 + 8 * wave, 38 - wave, 50 + 20 * wave, 20000 + 8000 * wave]
    columns += [60 + 10 * wave, 40 + 5 * wave, 30 + wave, t / 3600 * 12, t / 3600 * 450]
    with path.open("w") as stream:
        stream.write(HEADS + "\n")
        np.savetxt(stream, np.column_stack(columns), fmt="%.3f", delimiter=",")


def took(work, rounds: int = ROUNDS) -> float:  # type: ignore[no-untyped-def]
    """Seconds of a piece of work: the middle of some rounds."""
    found = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "ride.csv"
        table(path)
        raw = path.read_bytes()
        expect = expected(demo(), STOCK)
        plain = took(lambda: np.loadtxt(path, delimiter=",", skiprows=1), 3)
        reads = took(lambda: read_table(raw, "ride.csv"), 3)
        all_of_it = took(lambda: bring(raw, "ride.csv", expect), 3)
        data = bring(raw, "ride.csv", expect).data
        print(f"{ROWS} rows, {len(raw) / 1e6:.0f} MB: numpy.loadtxt {plain:.2f} s, table {reads:.2f} s ({reads / plain:.2f}),")
        print(f"  with columns, clock and all that is looked for {all_of_it:.2f} s ({all_of_it / plain:.2f}),")
        print(f"  packed {took(lambda: packed(raw), 1):.2f} s")
        print(f"  thinned for 1200 pixels {1e3 * took(lambda: thinned(data.time, data.column('speed'), 1200)):.1f} ms")
    design = demo()
    hour = ride_log(design, ROUND * 19, {"vehicle.rolling": 0.036}, begun=1.0)
    fit(design, STOCK, [hour], only=SIX)
    six = took(lambda: fit(design, STOCK, [hour], only=SIX), 3)
    print(f"fit of {hour.seconds / 60:.0f} min, {hour.samples} rows: six unknowns {six:.2f} s,")
    print(f"  all that it may teach {took(lambda: fit(design, STOCK, [hour]), 3):.2f} s")
    bare, band = took(lambda: replay(design, STOCK, hour, samples=0)), took(lambda: replay(design, STOCK, hour), 3)
    print(f"ridden again {bare:.3f} s, with its band {band:.2f} s,")
    made = compare(replay(design, STOCK, hour, samples=0))
    print(f"  explanations {took(lambda: explanations(design, STOCK, made)):.2f} s")


if __name__ == "__main__":
    main()
