"""The search over the shipped catalogue: the whole space, beside judging combinations one by one in a compiled single-thread loop.

Run: .venv/bin/python benchmarks/finder.py.  Both in one process after the first call; medians of three.
"""

from __future__ import annotations

import statistics
import sys
import time
from pathlib import Path

import numpy as np

from wattagon.design import catalogue, file
from wattagon.study.finder import search
from wattagon.study.finder.kernel import judge_sample
from wattagon.study.finder.space import LEVELS, make_space, road_row

DEMO = Path(catalogue.__file__).resolve().parent.parent / "stock" / "demo"
SAMPLE = 2_000_000


def one_by_one(design, stock) -> float:
    """Combinations a second of a plain loop with the same balances over random combinations."""
    space, goals = make_space(design, stock), list(design.brief.goals)
    rng = np.random.default_rng(2)
    sizes = (len(space.motors), len(space.counts), len(space.controllers), len(LEVELS), len(space.packs), len(space.reductions))
    picks = np.column_stack([rng.integers(0, size, SAMPLE) for size in sizes])
    roads = np.array([road_row(design, stock, count) for count in space.counts])
    table, amps = search.goal_rows(space, goals), search._pack_amps(space)
    start = time.perf_counter()
    judge_sample(
        picks, space.motors, space.controllers, space.packs, space.emf, space.range_emf, space.reductions, roads, np.array(space.counts, dtype=float),
        np.array(LEVELS), amps, table, np.zeros(len(goals), dtype=np.int64),
    )  # fmt: skip
    return SAMPLE / (time.perf_counter() - start)


def main() -> int:
    stock = catalogue.load()
    search.warm_up(stock)
    for name in ("dunlin", "corncrake", "bittern"):
        design = file.read(DEMO / f"{name}.json").design
        times = []
        for _ in range(3):
            begin = time.perf_counter()
            found = search.find_drives(design, stock)
            times.append(time.perf_counter() - begin)
        took = statistics.median(times)
        plain = one_by_one(design, stock)
        print(
            f"{name:10} {found.searched:.3g} combinations in {took:5.2f} s (aim: 2), {found.judged:,} judged one by one; a plain loop does {plain / 1e6:.1f} million a "
            f"second and would take {found.searched / plain / 3600:.1f} h: ratio {found.searched / took / plain:,.0f}"
        )
    return 0


if __name__ == "__main__":
    sys.exit(main())
