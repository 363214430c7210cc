"""Searching: the kernel over all motors on all cores, then the best of every cluster judged by the drive study itself."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Goal, GoalKind, Variant
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.drive import results, study_drive
from wattagon.study.finder.space import LEVELS, SCHOOLS, Space, make_space, road_row, variant_of
from wattagon.study.goals import GoalResult, outlook
from wattagon.study.resolve import Memo, resolve

SAMPLE = 400_000  # random combinations from which the shares of the space are told
OBJECTIVES = ("cost", "mass", "margin", "range")
KINDS = {
    GoalKind.TOP_SPEED: 0, GoalKind.CLIMB: 1, GoalKind.START: 2, GoalKind.SPRINT: 3, GoalKind.RANGE: 4, GoalKind.BUDGET: 5, GoalKind.ADDED_MASS: 6,
    GoalKind.SPEED_LIMIT: 7,
}  # fmt: skip
MOST_GOALS = 12
LEFT_OUT = (
    "two stages",
    "rollers and planetary gears",
    "other wheels",
    "power limits",
    "heat on the climb",
)  # told with every result
CHUNK = 400


@record(frozen=True, slots=True, kw_only=True)
class Hit:
    """One combination, judged by the drive study."""

    variant: Variant
    goals: tuple[GoalResult, ...]
    cost: float
    mass_kg: float
    margin: float  # the least margin of the goals that ask for speed, pull or range
    range_m: float  # of the range goal; nan without one
    fails: str = ""  # id of the goal that a near miss misses

    def value(self, objective: str) -> float:
        """The lower the better."""
        return {"cost": self.cost, "mass": self.mass_kg, "margin": -self.margin, "range": -self.range_m}[objective]


@record(frozen=True, slots=True, kw_only=True)
class Found:
    """What a search came to."""

    searched: int  # combinations, all of them
    judged: int  # of them not ruled out by a bound, one by one
    feasible: int  # about, from a sample: so many meet every goal and rating
    seconds: float
    hits: tuple[Hit, ...]  # the cheapest and the lightest of each motor, count and cell, non-dominated first
    front: int  # how many of them are non-dominated in the objectives
    near_misses: tuple[Hit, ...]  # for each goal the cheapest that fails it alone, if cheaper than every hit
    removed_by: dict[str, int]  # goal: about how many fail it alone, from the same sample
    cancelled: bool = False
    left_out: tuple[str, ...] = LEFT_OUT
    nothing_of: tuple[str, ...] = ()  # kinds of part of which there is none to choose from


def find_drives(
    design: Design, stock: Catalogue, *, objectives: Sequence[str] = ("cost", "mass", "margin"), limit: int = 40, shelf: str = "prefer",
    schools: Sequence[str] = SCHOOLS, least_lead_days: int | None = None, cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] = lambda _share: None, workers: int | None = None,
) -> Found:  # fmt: skip
    """Search every combination of stock for the brief of a design.  Raises InputError for goals that cannot be searched.

    One stage or none, motors up to the wheels of the axle, all cells and bricks, three current levels under the lowest rating.
    Cancelling ends it within a fraction of a second with what was found so far.
    """
    begin = time.perf_counter()
    for objective in objectives:
        if objective not in OBJECTIVES:
            raise InputError("objective", objective, ", ".join(OBJECTIVES))
    goals = list(design.brief.goals)
    if len(goals) > MOST_GOALS:
        raise InputError("goals", len(goals), f"up to {MOST_GOALS} for a search")
    if shelf == "ignore":
        design = replace(design, brief=replace(design.brief, shelf=()))
    space = make_space(design, stock, shelf=shelf, schools=schools, least_lead_days=least_lead_days)
    searched = space.size
    kinds = {"motors": space.motors, "controllers": space.controllers, "cells or packs": space.packs, "pulleys or sprockets": space.reductions}
    nothing = tuple(name for name, rows in kinds.items() if not len(rows))
    if nothing:
        seconds = time.perf_counter() - begin
        return Found(
            searched=0, judged=0, feasible=0, seconds=seconds, hits=(), front=0, near_misses=(), removed_by={}, nothing_of=nothing
        )  # fmt: skip
    raw = run_kernel(space, stock, goals, cancelled=cancelled, progress=progress, workers=workers)
    hits = _judge(space, stock, raw.clusters, cancelled)
    hits = [hit for hit in hits if all(result.met for result in hit.goals)]
    if shelf == "only":
        hits = [hit for hit in hits if hit.cost <= 1e-9]
    hits, front = _rank(hits, objectives)
    hits = [_studied(hit, design, stock) for hit in hits[:limit]]
    near = _judge(space, stock, [row for row in raw.near if row is not None], cancelled)
    missed = []
    for hit in near:
        failing = [result.goal.id for result in hit.goals if not result.met]
        if len(failing) == 1:
            missed.append(replace(hit, fails=failing[0]))
    return Found(
        searched=searched, judged=int(raw.tally[1]), feasible=round(raw.passed / SAMPLE * searched), seconds=time.perf_counter() - begin, hits=tuple(hits), front=min(front, limit),
        near_misses=tuple(missed), removed_by={goal.id: round(float(raw.removed[k]) / SAMPLE * searched) for k, goal in enumerate(goals) if goal.kind in KINDS}, cancelled=cancelled(),
    )  # fmt: skip


Row = tuple[int, int, int, int, int, int]  # motor, count, controller, level, pack, reduction


@record(frozen=True, slots=True, kw_only=True)
class Raw:
    """What the kernel found, as indices into the space."""

    clusters: list[Row]
    near: list[Row | None]
    passed: int  # of SAMPLE random combinations
    removed: NDArray[np.int64]  # likewise, by goal: how many fail it alone
    tally: NDArray[np.int64]  # halves looked into, combinations judged


def goal_rows(space: Space, goals: Sequence[Goal]) -> NDArray[np.float64]:
    """Goals as the kernel takes them: kind, speed, grade, charge index, target."""
    rows = []
    for goal in goals:
        kind = KINDS.get(goal.kind, 99)
        charge = 1.0 if goal.kind is GoalKind.SPEED_LIMIT else goal.charge
        at = space.charges.index(charge) if charge in space.charges else 0
        target = goal.time if goal.kind is GoalKind.SPRINT else goal.distance if goal.kind is GoalKind.RANGE else goal.amount
        rows.append((float(kind), goal.speed or 0.0, goal.grade or 0.0, float(at), target or 0.0))
    return np.array(rows, dtype=float).reshape(-1, 5)


def run_kernel(
    space: Space, stock: Catalogue, goals: Sequence[Goal], *, cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] = lambda _share: None, workers: int | None = None,
) -> Raw:  # fmt: skip
    """The kernel over all motors; motors are dealt out to threads, the interpreter lock is let go."""
    from wattagon.study.finder.kernel import judge_sample, search_motor

    n_motors, n_cells = len(space.motors), len(stock.parts["cells"])
    roads = np.array([road_row(space.design, stock, count) for count in space.counts])
    counts = np.array(space.counts, dtype=float)
    table, pack_amps, reds = goal_rows(space, goals), _pack_amps(space), space.reductions
    columns = [(4, 5) if count == 1 else (6, 7) for count in space.counts]
    least = np.array([[reds[:, mass].min(), reds[:, price].min()] for mass, price in columns])
    staged = reds[reds[:, 8] > 0]
    best_red = np.array([reds[:, 1].max(), reds[:, 2].min(), staged[:, 1].max() if len(staged) else 1.0])
    ratios, means = np.ascontiguousarray(reds[:, 0]), space.range_emf.mean(axis=1)
    hits = np.full((n_motors, len(space.counts), n_cells, 2, 6), np.inf)
    near = np.full((len(goals), 8), np.inf)
    tally = np.zeros((n_motors, 2), dtype=np.int64)
    stop = np.zeros(1, dtype=np.int64)
    levels = np.array(LEVELS)
    kindest = space.controllers.min(axis=0)
    done = [0]
    tasks = [(m, -1) for m in range(n_motors)]
    nears = [(m, drop) for drop in range(len(goals)) if table[drop, 0] < 90 for m in range(n_motors)]

    def one(task: tuple[int, int]) -> None:
        m, drop = task
        if cancelled():
            stop[0] = 1
            return
        search_motor(
            m, drop, space.motors, space.controllers, space.packs, space.emf, space.range_emf, reds, ratios, np.zeros(len(reds), dtype=np.int64), roads, counts, levels,
            pack_amps, table, least, best_red, means, kindest, np.zeros(len(space.packs)), stop,
            hits[m], near, tally[m],
        )  # fmt: skip
        done[0] += 1
        progress(done[0] / (len(tasks) + len(nears)))

    with ThreadPoolExecutor(workers) as pool:
        list(pool.map(one, tasks))
        # giving up a goal is worth telling where it saves money; where nothing fits, at any price
        near[:, 0] = hits[:, :, :, 0, 0].min(initial=np.inf)
        cheapest = float(near[0, 0]) if len(near) else math.inf
        list(pool.map(one, nears))
    rng = np.random.default_rng(1)  # the same sample every time
    sizes = (n_motors, len(counts), len(space.controllers), len(levels), len(space.packs), len(reds))
    picks = np.column_stack([rng.integers(0, size, SAMPLE) for size in sizes])
    removed = np.zeros(len(goals), dtype=np.int64)
    passed, _ = judge_sample(
        picks, space.motors, space.controllers, space.packs, space.emf, space.range_emf, reds, roads, counts, levels, pack_amps, table, removed
    )  # fmt: skip
    clusters: set[Row] = set()
    for m, ci, cell, best in zip(*np.nonzero(np.isfinite(hits[..., 0])), strict=True):
        _, c, level, p, r, _ = hits[m, ci, cell, best]
        clusters.add((int(m), space.counts[ci], int(c), int(level), int(p), int(r)))
    misses: list[Row | None] = []
    for g in range(len(goals)):
        row = near[g]
        misses.append(
            (int(row[7]), int(row[1]), int(row[2]), int(row[3]), int(row[4]), int(row[5])) if row[0] < cheapest else None
        )
    return Raw(clusters=sorted(clusters), near=misses, passed=int(passed), removed=removed, tally=tally.sum(axis=0))


def warm_up(stock: Catalogue) -> None:
    """Load the compiled search, or compile it where no cache of it is: a second, or about 15 s once on a machine."""
    from wattagon.design.template import new_design
    from wattagon.design.tree import VehicleKind

    design = new_design(VehicleKind.KART)
    space = make_space(design, stock)
    few = replace(
        space, motors=space.motors[:1], controllers=space.controllers[:1], packs=space.packs[:1], emf=space.emf[:1], range_emf=space.range_emf[:1],
        reductions=space.reductions[:2],
    )  # fmt: skip
    run_kernel(few, stock, design.brief.goals, workers=1)


def _pack_amps(space: Space) -> NDArray[np.float64]:
    """Pack current settings (controllers, packs, counts): `floor_amps` over arrays."""
    made = np.minimum(
        space.controllers[:, 2][:, np.newaxis, np.newaxis],
        space.packs[:, 1][np.newaxis, :, np.newaxis] / np.array(space.counts),
    )
    step = np.select([made < 20, made < 40, made < 150, made < 300], [1.0, 2.0, 5.0, 10.0], 20.0)
    return np.maximum(step * np.floor(made / step + 1e-9), 1.0)


def least_margin(goals: Sequence[GoalResult]) -> float:
    """The least margin of the goals that ask for speed, pull or range; inf without one."""
    asked = (GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.START, GoalKind.SPRINT, GoalKind.RANGE)
    return min((result.margin for result in goals if result.goal.kind in asked), default=math.inf)


def range_of(goals: Sequence[GoalResult]) -> float:
    """What the first range goal reaches [m]; nan without one."""
    return next((result.reached for result in goals if result.goal.kind is GoalKind.RANGE), math.nan)


def _judge(space: Space, stock: Catalogue, rows: Sequence[Row], cancelled: Callable[[], bool]) -> list[Hit]:
    """Each row as a variant with its goals by the drive study's own equations, in batches."""
    goals = space.design.brief.goals
    made: list[Hit] = []
    for start in range(0, len(rows), CHUNK):
        if cancelled():
            break
        memo: Memo = {}
        variants = [variant_of(space, *row) for row in rows[start : start + CHUNK]]
        designs = [replace(space.design, variants=(variant,), active=variant.id) for variant in variants]
        batch = [resolve(design, stock, memo=memo) for design in designs]
        reached = outlook(batch, goals).reached
        for variant, design, resolved, values in zip(variants, designs, batch, reached, strict=True):
            judged = results(design, values)
            made.append(Hit(
                variant=variant, goals=judged, cost=resolved.cost, mass_kg=resolved.drive_mass_kg, margin=least_margin(judged),
                range_m=range_of(judged),
            ))  # fmt: skip
    return made


def _studied(hit: Hit, design: Design, stock: Catalogue) -> Hit:
    """The hit with the figures that `solve` prints, to the last digit."""
    study = study_drive(replace(design, variants=(hit.variant,), active=hit.variant.id), stock)
    return replace(hit, goals=study.goals)


def _rank(hits: Sequence[Hit], objectives: Sequence[str]) -> tuple[list[Hit], int]:
    """(hits with the non-dominated first, each part by the first objective; how many are non-dominated)."""
    if not hits:
        return [], 0
    values = np.array([[hit.value(objective) for objective in objectives] for hit in hits])
    values = np.where(np.isnan(values), 0.0, values)
    order = np.lexsort(values.T[::-1])
    front: list[int] = []
    kept = np.empty((0, values.shape[1]))
    for k in order:
        if not len(kept) or not np.any(np.all(kept <= values[k] + 1e-12, axis=1)):
            front.append(int(k))
            kept = np.vstack([kept, values[k]])
    chosen = set(front)
    rest = [int(k) for k in order if int(k) not in chosen]
    return [hits[k] for k in (*front, *rest)], len(front)
