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
from wattagon.study.finder import columns as col
from wattagon.study.finder import passes, search
from wattagon.study.finder.exact import fails_of, reduce_with
from wattagon.study.finder.points import jit, setting_amps
from wattagon.study.finder.space import make_space
from wattagon.study.finder.wishes import Wishes

DEMO = Path(catalogue.__file__).resolve().parent.parent / "stock" / "demo"
SAMPLE = 2_000_000
AIM_S = {"one stage": 2.0, "two stages too": 4.0}


@jit
def judge_all(t, picks):
    """How many of the combinations (motor, count, controller, level, pack, first, second) meet every goal and rating."""
    fit, red = 0, np.zeros(9)
    for i in range(picks.shape[0]):
        m, ci, c, level, p, first, second = picks[i]
        mo, co, pa, n, road = t.motors[m], t.controllers[c], t.packs[p], t.counts[ci], t.roads[0, ci]
        full = pa[col.P_FULL]
        if co[col.C_BRUSHED] != mo[col.M_BRUSHED] or mo[col.M_HUB] > 0.0 or full > min(co[col.C_VOLTS], mo[col.M_VOLTS]):
            continue
        ceiling = mo[col.M_DC] * setting_amps(t.levels[level] * min(mo[col.M_PEAK], co[col.C_BURST]))
        price, kg = reduce_with(t, ci, first, second, red)
        if mo[col.M_K] * ceiling > red[col.R_CAPACITY]:
            continue
        cost = n * (mo[col.M_PRICE] + co[col.C_PRICE]) + pa[col.P_PRICE] + price
        mass = n * (mo[col.M_MASS] + co[col.C_MASS]) + pa[col.P_MASS] + kg
        fails, _ = fails_of(t, mo, co, p, n, ceiling, n * t.amps[c, p, ci], road, mass, cost, red, -1, 0)
        fit += fails == 0
    return fit


def one_by_one(design, stock) -> float:
    """Combinations a second of a plain loop with the same balances over random combinations, half of them with two stages."""
    space = make_space(design, stock)
    t = passes.Search(space, stock).tables
    rng = np.random.default_rng(2)
    stages = len(space.stages.choices)
    sizes = (len(space.motors), len(space.counts), len(space.controllers), 3, len(space.packs), stages, 2 * stages)
    picks = np.column_stack([rng.integers(0, size, SAMPLE) for size in sizes])
    picks[picks[:, 6] >= stages, 6] = -1
    judge_all(t, picks[:10])
    start = time.perf_counter()
    judge_all(t, picks)
    return SAMPLE / (time.perf_counter() - start)


def main() -> int:
    stock = catalogue.load()
    search.warm_up(stock)
    for name in ("dunlin", "corncrake", "bittern"):
        design = file.read(DEMO / f"{name}.json").design
        plain = one_by_one(design, stock)
        for words, wishes in (("one stage", Wishes(schools=("direct", "belt", "chain"))), ("two stages too", Wishes())):
            times, first = [], []
            for _ in range(3):
                begin = time.perf_counter()
                looks: list[float] = []
                found = search.find_drives(
                    design, stock, wishes=wishes, so_far=lambda _, b=begin, to=looks: to.append(time.perf_counter() - b)
                )
                times.append(time.perf_counter() - begin)
                first.append(looks[0] if looks else times[-1])
            took = statistics.median(times)
            print(
                f"{name:10} {words:15} {found.searched:.3g} combinations in {took:5.2f} s (aim: {AIM_S[words]:g}), first "
                f"results after {statistics.median(first):.2f} s (aim: 1), {found.judged:,} judged one by one; a plain loop does "
                f"{plain / 1e6:.1f} million a second: ratio {found.searched / took / plain:,.0f}"
            )
    return 0


if __name__ == "__main__":
    sys.exit(main())
