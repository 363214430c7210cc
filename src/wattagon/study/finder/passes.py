"""Passes of the compiled search over all motors on all cores: the best of every cluster, a front, near misses, counts."""

from __future__ import annotations

import contextlib
import math
import os
import threading
import time
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart
from wattagon.design.tree import GoalKind
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import OBJECTIVES, Hit, failing, judged_hits
from wattagon.study.finder.space import NOMINAL, Row, Space
from wattagon.study.finder.wishes import HEAT

if TYPE_CHECKING:
    from wattagon.study.finder.exact import Tables

SAMPLE = 300_000  # electrical halves from which counts are told
FRONT_STEPS = 16  # points of a front, about
STEP = {"margin": 0.03, "lasting": 0.05}  # by how much the next point of a front is better at least: added, or a share
STEP_SHARE = 0.03
SOON = 0.4  # s between looks at what has been found so far
FIRST_LOOK = 24  # of the cheapest that are judged at each


def step_back() -> None:
    """Let other threads go first: a window that waits for a search is to stay quick."""
    if hasattr(os, "setpriority"):
        with contextlib.suppress(OSError):  # not every system lets a thread step back by itself
            os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), 10)


class Search:
    """One search: its tables, and the passes of the kernel over them on all cores."""

    def __init__(
        self,
        space: Space,
        stock: Catalogue,
        *,
        cancelled: Callable[[], bool] = lambda: False,
        progress: Callable[[float], None] = lambda _share: None,
        workers: int | None = None,
    ) -> None:
        from wattagon.study.finder.tables import constraints, make_tables

        self.space, self.stock = space, stock
        self.ids, rows = constraints(space, space.design.brief.goals)
        self.tables: Tables = make_tables(space, rows)
        self.cancelled, self._progress, self.workers = cancelled, progress, workers
        self._stop = np.zeros(1, dtype=np.int64)
        self._tally = np.zeros(16, dtype=np.int64)
        # owned motors first, then the cheap ones: the first results are worth seeing
        order = np.lexsort((space.motors[:, col.M_PRICE], -space.motors[:, col.M_OWNED]))
        self._tasks = [(int(m), wheel) for wheel in range(len(space.wheels)) for m in order]

    @property
    def judged(self) -> int:
        return int(self._tally[1])

    def _over_motors(
        self,
        tables: Tables,
        slots: Sequence[NDArray[np.float64]],
        bound: NDArray[np.float64],
        *,
        drop: int = -1,
        by: tuple[int, int] = (0, 1),
        stages: Sequence[int] = (1, 2),
        per_cell: bool = False,
        begin: float = 0.0,
        end: float = 0.0,
        look: Callable[[list[int]], None] | None = None,
    ) -> None:
        """The kernel over all motors and wheels, each with its own slots; the interpreter lock is let go."""
        from wattagon.study.finder.kernel import search_motor

        done = [0]

        def one(k: int, many: int) -> int:
            m, wheel = self._tasks[k]
            if self.cancelled():
                self._stop[0] = 1
                return k
            tally, queue = np.zeros(16, dtype=np.int64), np.zeros(len(tables.ratios), dtype=np.int64)
            search_motor(tables, m, wheel, many, drop, by[0], by[1], per_cell, slots[k], bound, self._stop, queue, tally)
            self._tally += tally
            done[0] += 1
            if end > begin:
                self._progress(begin + (end - begin) * done[0] / (len(stages) * len(self._tasks)))
            return k

        with ThreadPoolExecutor(self.workers, initializer=step_back) as pool:
            # two stages last: what one stage can do leaves little of them to be looked at
            tasks = [pool.submit(one, k, many) for many in stages for k in range(len(self._tasks))]
            if look is not None:
                _watch(tasks, look, self.cancelled)
        for task in tasks:
            task.result()

    def clusters(self, soon: Callable[[Sequence[Row]], None] | None = None) -> list[Row]:
        """The cheapest and the lightest of every motor, wheel, count and cell."""
        from wattagon.study.finder.kernel import SLOT

        n_cells = len(self.stock.rows(CellPart))
        slots = np.full((len(self._tasks), len(self.space.counts), n_cells, 2, SLOT), np.inf)

        def look(done: list[int]) -> None:
            assert soon is not None
            cheap = sorted((float(slot[0]), row) for k in done for slot, row in self._rows(k, slots[k]) if math.isfinite(slot[0]))
            soon([row for _, row in cheap[:FIRST_LOOK]])

        self._over_motors(
            self.tables,
            list(slots),
            np.array([np.inf]),
            by=(0, 2),
            per_cell=True,
            begin=0.0,
            end=0.5,
            look=look if soon is not None else None,
        )
        return sorted({row for k in range(len(self._tasks)) for _, row in self._rows(k, slots[k])})

    def _rows(self, task: int, slots: NDArray[np.float64]) -> list[tuple[NDArray[np.float64], Row]]:
        m, wheel = self._tasks[task]
        flat = slots.reshape(-1, slots.shape[-1])
        return [
            (slot, (m, wheel, self.space.counts[int(slot[6])], int(slot[1]), int(slot[2]), int(slot[3]), int(slot[4]), int(slot[5])))
            for slot in flat[np.isfinite(flat[:, 1])]
        ]

    def best(
        self, tables: Tables, by: int, *, at_most: float = math.inf, below: float = math.inf, drop: int = -1, stages: Sequence[int] = (1, 2)
    ) -> Row | None:
        """The cheapest (by 0) or lightest (by 1) of all that meets the constraints of some tables: up to `at_most`, under `below`."""
        from wattagon.study.finder.kernel import SLOT

        slots = np.full((len(self._tasks), 1, 1, 2, SLOT), np.inf)
        slots[..., 0] = below
        self._over_motors(tables, list(slots), np.array([min(at_most, below)]), drop=drop, by=(by, by + 1), stages=stages)
        made = [(float(slot[0]), row) for k in range(len(self._tasks)) for slot, row in self._rows(k, slots[k])]
        return min(made)[1] if made else None

    def front(self, known: Sequence[Hit], primary: str, other: str) -> list[Hit]:
        """The cheapest (or lightest) at ever better values of another objective, up to where nothing fits."""
        from wattagon.study.finder.tables import with_goals

        pool, made = list(known), []
        by = 0 if primary == "cost" else 1
        if not pool:
            return []
        now = min(pool, key=lambda hit: (hit.rank(primary), hit.rank(other)))
        # the best that is known already tells how far it goes
        stride = (now.rank(other) - min(hit.rank(other) for hit in pool)) / FRONT_STEPS
        for step in range(2 * FRONT_STEPS):
            value = now.value(other)
            if math.isnan(value) or math.isinf(value) or self.cancelled():
                break
            target = next_target(other, value, stride)
            rows = asked_for(self, other, target)
            if rows is None:
                break
            better = [hit for hit in pool if hit.rank(other) <= (-target if OBJECTIVES[other][1] else target)]
            most = min((hit.value(primary) for hit in better), default=math.inf)
            row = self.best(with_goals(self.tables, rows), by, at_most=most)
            if row is not None:
                now = judged_hits(self.space, self.stock, [row])[0]
                made.append(now)
            elif better:
                now = min(better, key=lambda hit: (hit.rank(primary), hit.rank(other)))
            else:
                break
            pool.append(now)
            self._progress(0.5 + 0.25 * (step + 1) / (2 * FRONT_STEPS))
        return made

    def near(self, cheapest: float) -> list[Hit]:
        """For each constraint the cheapest that fails it alone, where that saves money; where nothing fits, at any price."""
        from wattagon.study.finder.space import pack_amps

        made = []
        goals = self.space.design.brief.goals
        for k, name in enumerate(self.ids):
            if self.cancelled():
                break
            power = k < len(goals) and goals[k].kind is GoalKind.POWER_LIMIT
            tables = self.tables._replace(amps=pack_amps(self.space, power_w=math.inf)) if power else self.tables
            row = self.best(tables, 0, below=cheapest, drop=k)
            if row is not None:
                hit = judged_hits(self.space, self.stock, [row], free_power=power)[0]
                misses = [
                    miss for miss in failing(self.space, hit) if miss != HEAT or k >= len(goals) or goals[k].kind is not GoalKind.CLIMB
                ]
                if misses == [name]:
                    made.append(replace(hit, fails=name))
            self._progress(0.75 + 0.2 * (k + 1) / len(self.ids))
        return made

    def shelf_only(self) -> list[Hit]:
        """The lightest that needs nothing bought, if there is one."""
        from wattagon.study.finder.tables import with_goals

        free = np.array([[col.BUDGET, 0.0, 0.0, 0.0, 1e-9]])
        row = self.best(with_goals(self.tables, np.vstack([self.tables.goals, free])), 1)
        return judged_hits(self.space, self.stock, [row]) if row is not None else []

    def count(self):  # type: ignore[no-untyped-def]
        """Shares of the space from a sample, on all cores."""
        from wattagon.study.finder.count import DRAWS, count_halves, pair_order, sample_picks, shares_of

        t = self.tables
        picks = sample_picks(t, SAMPLE)
        draws = np.random.default_rng(2).random((SAMPLE, 2 * DRAWS))
        passed = np.zeros(SAMPLE)
        begins, order = pair_order(t)
        parts = np.array_split(np.arange(SAMPLE), 16)
        removed = np.zeros((len(parts), len(self.ids)))

        def one(k: int) -> None:
            if not self.cancelled():
                ends = slice(int(parts[k][0]), int(parts[k][-1]) + 1)
                count_halves(t, picks[ends], draws[ends], begins, order, passed[ends], removed[k])

        with ThreadPoolExecutor(self.workers, initializer=step_back) as pool:
            list(pool.map(one, range(len(parts))))
        self._progress(1.0)
        return shares_of(t, passed, removed.sum(axis=0))


def _watch(tasks: Sequence[Future[int]], look: Callable[[list[int]], None], cancelled: Callable[[], bool]) -> None:
    """Tell what has been finished every so often, until all is."""
    told: set[int] = set()
    while not cancelled():
        time.sleep(SOON if told else SOON / 8)
        fresh = [k for k, task in enumerate(tasks) if task.done() and k not in told]
        told.update(fresh)
        if fresh and len(told) < len(tasks):
            look(sorted({tasks[k].result() for k in fresh}))
        if len(told) == len(tasks):
            break


def next_target(objective: str, value: float, stride: float) -> float:
    """The next value of an objective that is worth a point of its own: a stride further, or a share where that is more."""
    more = OBJECTIVES[objective][1]
    step = max(STEP.get(objective, STEP_SHARE * abs(value)), stride if math.isfinite(stride) else 0.0)
    return value + step if more else value - step


def asked_for(run: Search, objective: str, target: float) -> NDArray[np.float64] | None:
    """The constraints of a search with an objective's value as one more; None where it cannot be asked for."""
    from wattagon.study.finder.tables import constraints

    space, goals = run.space, run.space.design.brief.goals
    nominal = float(space.charges.index(NOMINAL))
    more: list[list[float]] = []
    if objective == "margin":
        if target >= 1.0 or not math.isfinite(target):
            return None
        wishes = replace(space.wishes, goals=max(target, space.wishes.goals))
        return constraints(replace(space, wishes=wishes), goals)[1]
    if objective == "speed":
        more = [[col.TOP, target, 0.0, nominal, 0.0]]
    elif objective == "grade":
        more = [[col.START, 0.0, target, nominal, 0.0]]
    elif objective == "mass":
        more = [[col.MASS, 0.0, 0.0, 0.0, target]]
    elif objective == "cost":
        more = [[col.BUDGET, 0.0, 0.0, 0.0, target]]
    elif objective == "range":
        more = [[col.RANGE, goal.speed or 0.0, 0.0, 0.0, target] for goal in goals if goal.kind is GoalKind.RANGE][:1]
    elif objective == "lasting":
        asked = [goal for goal in goals if goal.kind in (GoalKind.TOP_SPEED, GoalKind.CLIMB)]
        more = [[col.STEADY, g.speed or 0.0, (g.grade or 0.0) if g.kind is GoalKind.CLIMB else 0.0, nominal, target] for g in asked]
    return np.vstack([run.tables.goals, np.array(more, dtype=float)]) if more else None
