"""A boat's drive found: the cheapest and the lightest of every motor and of every propeller, judged by the drive study."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, PropellerPart
from wattagon.design.tree import Design, Goal, GoalKind
from wattagon.study.drive.cases import best_reach, over_cases
from wattagon.study.drive.rules.water import OVER_PROPPED
from wattagon.study.drive.study import results
from wattagon.study.drive.water import loaded_share
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import CHUNK, Hit, failing_goals, hit_of, lasting_shares, rank
from wattagon.study.finder.outset import Outset, Sieve
from wattagon.study.finder.search import Found, nothing_yet
from wattagon.study.finder.space import LEVELS, NOMINAL, Row, power_limit_w, rated_cell, rated_controller, rated_motor
from wattagon.study.finder.water_space import MATCH, WaterSpace, make_water_space, water_variant
from wattagon.study.finder.wishes import Wishes
from wattagon.study.resolve import Memo, resolve

LEFT_OUT = (
    "of each motor and of each propeller others than the cheapest and the lightest drive",
    "belts but those next to eight ratios",
    "gears and planetary gears that are not there yet",
    "what meets a goal by less than 0.02 %",
    "strength of blades and bubbles, which the findings of a chosen drive tell",
)
MATCHED = OVER_PROPPED + 0.01  # asked of what is found, so that the study's own figure is surely over its line
SAMPLES = 40_000
HEADS_AT_ONCE = 600
AXIS_GOAL = Goal(id="axis-speed", kind=GoalKind.TOP_SPEED, speed=1.0, charge=NOMINAL)
NO_ROW = -1
MATCH_GOAL = "match"  # id of what is asked beside the goals


class Tables(NamedTuple):
    """The space as the compiled search reads it."""

    motors: NDArray[np.float64]
    controllers: NDArray[np.float64]
    packs: NDArray[np.float64]
    steady_packs: NDArray[np.float64]  # with the steady resistance in the place of that of seconds
    lasting_a: NDArray[np.float64]
    emf: NDArray[np.float64]
    range_emf: NDArray[np.float64]
    counts: NDArray[np.float64]
    gearing: NDArray[np.float64]  # (counts, ways, ratio efficiency drag bears mass price)
    screw_mass: NDArray[np.float64]
    masses: NDArray[np.float64]
    demands: NDArray[np.float64]
    turns: NDArray[np.float64]
    torque: NDArray[np.float64]
    least_turns: NDArray[np.float64]
    least_torque: NDArray[np.float64]
    steady_turns: NDArray[np.float64]
    steady_torque: NDArray[np.float64]


class Prices(NamedTuple):
    """What each piece adds to cost or mass: heads, packs, controllers by count."""

    heads: NDArray[np.float64]
    packs: NDArray[np.float64]
    controllers: NDArray[np.float64]


class WaterRun:
    """One space with its tables; `best` runs the compiled search over it."""

    def __init__(self, space: WaterSpace, stock: Catalogue, cancelled: Callable[[], bool], progress: Callable[[float], None]) -> None:
        self.space, self.stock, self.cancelled, self.progress = space, stock, cancelled, progress
        self.looked = 0
        self.heads = np.array(space.heads, dtype=np.int64).reshape(-1, 4)
        self.tables = _tables(space)
        wishes = space.wishes
        limits = (power_limit_w(space.design.brief.goals), space.most_kg, space.around_c, MATCHED, space.bare_kg, space.budget)
        self.wishes = np.array([wishes.volts, wishes.rpm, wishes.amps, wishes.pull, *limits], dtype=float)

    def prices(self, objective: str) -> Prices:
        """Money (what is owned is free) or mass of every piece."""
        space, heads = self.space, self.heads
        counts = np.array(space.counts, dtype=float)
        cost = objective == "cost"

        def pieces(table: NDArray[np.float64], price: int, mass: int, owned: int) -> NDArray[np.float64]:
            if not cost:
                return np.outer(counts, table[:, mass])
            return np.maximum(counts[:, np.newaxis] - table[:, owned], 0.0) * table[:, price]

        motors = pieces(space.motors, col.M_PRICE, col.M_MASS, col.M_OWNED)
        controllers = pieces(space.controllers, col.C_PRICE, col.C_MASS, col.C_OWNED)
        have = np.array([space.owned.get(part.id, 0) for part in space.propellers], dtype=float)
        each = np.array([part.price if cost else part.mass_kg for part in space.propellers])
        screws = (np.maximum(counts[:, np.newaxis] - have, 0.0) if cost else np.repeat(counts[:, np.newaxis], len(each), 1)) * each
        gearing = self.tables.gearing[:, :, 5 if cost else 4]
        n, m, g, s = heads.T if len(heads) else np.zeros((4, 0), dtype=int)
        return Prices(motors[n, m] + screws[n, s] + gearing[n, g], space.packs[:, col.P_PRICE if cost else col.P_MASS], controllers)

    def best(self, objective: str, keys: NDArray[np.int64], *, skip: int = -1, below: float = math.inf, share: float = 1.0) -> list[Row]:
        """The row of the least worth for each key, nothing at or over `below`; `skip`: a demand that is not asked."""
        from wattagon.study.finder.water_kernel import search_heads

        space = self.space
        if not len(self.heads) or not len(space.packs) or not len(space.controllers):
            return []
        prices = self.prices(objective)
        top = below if objective != "cost" else min(below, space.budget * (1.0 + 1e-12))
        best = np.full(int(keys.max()) + 1, top)
        rows = np.full((len(best), 7), NO_ROW, dtype=np.int64)
        order, by = np.argsort(prices.packs, kind="stable"), np.argsort(prices.controllers, axis=1, kind="stable")
        strongest, high = float(space.controllers[:, col.C_BURST].max()), float(space.emf.max())
        turn = np.argsort(prices.heads, kind="stable")
        for start in range(0, len(turn), HEADS_AT_ONCE):
            if self.cancelled():
                break
            part = turn[start : start + HEADS_AT_ONCE]
            self.looked += int(
                search_heads(
                    self.tables,
                    self.wishes,
                    self.heads[part],
                    np.array(LEVELS),
                    order,
                    prices.packs,
                    by,
                    prices.controllers,
                    prices.heads[part],
                    keys[part],
                    best,
                    rows,
                    skip,
                    strongest,
                    high,
                )
            )
            self.progress(share * min(1.0, (start + HEADS_AT_ONCE) / len(turn)))
        return [tuple(int(x) for x in row) for row in rows if row[0] >= 0]

    def keys(self) -> NDArray[np.int64]:
        """(motor with its count, propeller) of each head."""
        n, m, _, s = self.heads.T
        first = n * len(self.space.motors) + m
        return np.column_stack([first, s + (int(first.max()) + 1 if len(first) else 0)])

    def all_one(self) -> NDArray[np.int64]:
        """One key for all heads."""
        return np.zeros((len(self.heads), 2), dtype=np.int64)

    def shares(self) -> tuple[float, float, dict[str, float]]:
        """(how many meet everything, standard error, how many miss only each demand), from a random sample."""
        from wattagon.study.finder.water_kernel import sample

        space, draw = self.space, np.random.default_rng(1)
        if not space.size:
            return 0.0, 0.0, {}
        picked = self.heads[draw.integers(0, len(self.heads), SAMPLES)]
        controllers, packs = draw.integers(0, len(space.controllers), SAMPLES), draw.integers(0, len(space.packs), SAMPLES)
        levels = np.array(LEVELS)[draw.integers(0, len(LEVELS), SAMPLES)]
        missing, only = np.zeros(SAMPLES, dtype=np.int64), np.zeros(SAMPLES, dtype=np.bool_)
        sample(self.tables, self.wishes, picked, controllers, levels, packs, missing, only)
        place = {tuple(head): k for k, head in enumerate(self.heads.tolist())}
        prices = self.prices("cost")
        cost = (
            prices.heads[[place[tuple(head)] for head in picked.tolist()]]
            + prices.packs[packs]
            + prices.controllers[picked[:, 0], controllers]
        )
        paid = cost <= space.budget * (1.0 + 1e-12)
        fit = int((paid & (missing < 0)).sum())
        alone = {d.goal: int((paid & only & (missing == k)).sum()) for k, d in enumerate(space.demands) if d.kind != MATCH}
        for goal in space.design.brief.goals:
            if goal.kind is GoalKind.BUDGET:
                alone[goal.id] = int((~paid & (missing < 0)).sum())
        scale = space.size / SAMPLES
        return fit * scale, math.sqrt(max(fit, 1)) * scale, {name: many * scale for name, many in alone.items()}


def _best_of_all(controllers: NDArray[np.float64]) -> NDArray[np.float64]:
    """A controller that is the best of all in every column."""
    made: NDArray[np.float64] = controllers.max(axis=0)
    least = [col.C_BRIDGE, col.C_SWITCHING, col.C_IDLE, col.C_MASS, col.C_PRICE]
    made[least] = controllers[:, least].min(axis=0)
    return made


def _tables(space: WaterSpace) -> Tables:
    ways = max((len(g) for g in space.gearings), default=1)
    gearing = np.full((len(space.counts), ways, 6), np.inf)
    for n, gearings in enumerate(space.gearings):
        for g, way in enumerate(gearings):
            gearing[n, g] = (way.ratio, way.efficiency, way.drag_nm, min(way.bears_nm, 1e9), way.mass_kg, way.price)
    steady = space.packs.copy()
    if len(steady):
        steady[:, col.P_OHM] = steady[:, col.P_STEADY]
    place = {charge: k for k, charge in enumerate(space.charges)}
    demands = np.array([(d.kind, d.speed_m_s, place[d.charge], d.way_m) for d in space.demands], dtype=float).reshape(-1, 4)
    made = Tables(
        motors=space.motors,
        controllers=np.vstack([space.controllers, _best_of_all(space.controllers)]) if len(space.controllers) else space.controllers,
        packs=space.packs,
        steady_packs=steady,
        lasting_a=np.minimum(space.lasting_a, 1e9),
        emf=space.emf,
        range_emf=space.range_emf,
        counts=np.array(space.counts, dtype=float),
        gearing=gearing,
        screw_mass=np.array([part.mass_kg for part in space.propellers], dtype=float),
        masses=space.masses,
        demands=demands,
        turns=space.turns,
        torque=space.torque,
        least_turns=space.turns.min(axis=-1),
        least_torque=space.torque.min(axis=-1),
        steady_turns=space.steady_turns,
        steady_torque=space.steady_torque,
    )
    return Tables(*(np.ascontiguousarray(table, dtype=np.float64) for table in made))  # one shape of code for all


def judged_afloat(space: WaterSpace, stock: Catalogue, rows: Sequence[Row], cancelled: Callable[[], bool] = lambda: False) -> list[Hit]:
    """Each row as a variant with its goals by the drive study's own equations, in batches."""
    design, goals, memo = space.design, space.design.brief.goals, dict[Any, Any]()
    made: list[Hit] = []
    kept: Memo = memo
    for start in range(0, len(rows), CHUNK):
        if cancelled():
            break
        part = rows[start : start + CHUNK]
        designs = [replace(design, variants=(v,), active=v.id) for v in (water_variant(space, row) for row in part)]
        batch = [resolve(one, stock, memo=kept) for one in designs]
        reached, heat_s = best_reach(batch, (*goals, AXIS_GOAL))
        lasting = lasting_shares(batch, goals)
        judged = over_cases(designs, batch, goals, reached[:, : len(goals)], heat_s)
        for k, (row, one, resolved) in enumerate(zip(part, designs, batch, strict=True)):
            speed = float(reached[k, len(goals)])
            found = results(one, judged.reached[k], judged.cases[k])
            made.append(hit_of(row, resolved, found, (speed, math.nan), (float(lasting[k]), math.nan), design))
    return made


def failing_afloat(space: WaterSpace, stock: Catalogue, hit: Hit) -> list[str]:
    """Ids of the goals that a hit fails, with the margin that is asked for, and the match of its propeller."""
    ids = failing_goals(space.wishes, hit)
    one = replace(space.design, variants=(hit.variant,), active=hit.variant.id)
    resolved = resolve(one, stock)
    if not hit.speed_m_s > 0.0 or loaded_share(resolved, hit.speed_m_s, NOMINAL) < OVER_PROPPED:
        ids.append(MATCH_GOAL)
    return ids


def cluster_afloat(hit: Hit, stock: Catalogue) -> tuple[object, ...]:
    """What near-equal hits share: frame of the motor, how many, how it is geared, size of the propeller, kind of cell."""
    motor, variant = stock.get(MotorPart, hit.variant.motor.part), hit.variant
    assert variant.propeller is not None
    screw = stock.get(PropellerPart, variant.propeller.part)
    stages = tuple(stage.kind for stage in variant.stages)
    cell = stock.get(CellPart, variant.pack.part).chemistry
    return motor.family, motor.can_mm, motor.length_mm, variant.motor.count, stages, round(screw.diameter_m, 2), cell


def find_afloat(
    design: Design,
    stock: Catalogue,
    wishes: Wishes,
    objectives: Sequence[str],
    limit: int,
    cancelled: Callable[[], bool],
    progress: Callable[[float], None],
    so_far: Callable[[Found], None] | None,
) -> Found:
    """Search motors, reductions, propellers, controllers and packs together for a boat's goals."""
    begin = time.perf_counter()
    space = make_water_space(design, stock, wishes)
    blank = nothing_yet(space.design, wishes, searched=space.size, nothing_of=nothing_of(space), left_out=LEFT_OUT)
    if blank.nothing_of:
        return replace(blank, searched=0, seconds=time.perf_counter() - begin)
    run = WaterRun(space, stock, cancelled, progress)
    known: dict[Row, Hit] = {}

    def good(rows: Sequence[Row]) -> list[Hit]:
        fresh = [row for row in dict.fromkeys(rows) if row not in known]
        known.update((hit.row, hit) for hit in judged_afloat(space, stock, fresh, cancelled))
        return [known[row] for row in dict.fromkeys(rows) if row in known and not failing_afloat(space, stock, known[row])]

    def told(hits: Sequence[Hit], *, done: bool) -> Found:
        best, front = rank(list({hit.row: hit for hit in hits}.values()), objectives)
        groups: dict[tuple[object, ...], list[int]] = {}
        for k, hit in enumerate(best):
            groups.setdefault(cluster_afloat(hit, stock), []).append(k)
        shown = list(groups.values())[:limit]
        keep = sorted({k for group in shown for k in group})
        place = {k: i for i, k in enumerate(keep)}
        return replace(
            blank,
            judged=run.looked,
            seconds=time.perf_counter() - begin,
            hits=tuple(best[k] for k in keep),
            front=sum(k < front for k in keep),
            rows=tuple(tuple(place[k] for k in group) for group in shown),
            cancelled=cancelled(),
            done=done,
        )

    first = good(run.best("cost", run.all_one(), share=0.1))
    if so_far is not None and first:
        so_far(told(first, done=False))
    hits = first + good(run.best("cost", run.keys(), share=0.6))
    if so_far is not None and hits:
        so_far(told(hits, done=False))
    hits += good(run.best("mass", run.keys(), share=0.8))
    cheapest = min((hit.cost for hit in hits), default=math.inf)
    near = _near(run, cheapest)
    many, error, alone = run.shares()
    found = told(hits, done=not cancelled())
    shelf = [hit for hit in hits if hit.cost <= 1e-9]
    return replace(
        found,
        near_misses=tuple(near),
        feasible=max(round(many), len(found.hits)),
        feasible_error=round(error),
        removed_by={name: round(value) for name, value in alone.items()},
        shelf_best=min(shelf, key=lambda hit: hit.mass_kg, default=None),
        seconds=time.perf_counter() - begin,
    )


def cheapest_afloat(
    design: Design, stock: Catalogue, wishes: Wishes, cancelled: Callable[[], bool], progress: Callable[[float], None]
) -> Found:
    """Only the cheapest that meets everything, or where nothing does the near misses."""
    begin = time.perf_counter()
    space = make_water_space(design, stock, wishes)
    run = WaterRun(space, stock, cancelled, progress)
    blank = nothing_yet(space.design, wishes, searched=space.size, nothing_of=nothing_of(space), left_out=LEFT_OUT)
    if blank.nothing_of:
        return blank
    hits: list[Hit] = []
    for keys in (run.all_one(), run.keys()):  # the next ones only where the study refuses the very cheapest
        rows = run.best("cost", keys, share=0.6)
        hits = [hit for hit in judged_afloat(space, stock, rows, cancelled) if not failing_afloat(space, stock, hit)]
        if hits or not rows:
            break
    return replace(
        blank,
        judged=run.looked,
        hits=tuple(sorted(hits, key=lambda hit: hit.cost)[:1]),
        front=min(len(hits), 1),
        rows=((0,),) if hits else (),
        near_misses=() if hits else tuple(_near(run, math.inf)),
        seconds=time.perf_counter() - begin,
        cancelled=cancelled(),
    )


def _near(run: WaterRun, below: float) -> list[Hit]:
    """For each goal the cheapest drive that misses it alone, if it is cheaper than all that meets everything."""
    made: list[Hit] = []
    for d, demand in enumerate(run.space.demands):
        if demand.kind == MATCH or run.cancelled():
            continue
        for hit in judged_afloat(run.space, run.stock, run.best("cost", run.all_one(), skip=d, below=below)):
            if failing_afloat(run.space, run.stock, hit) == [demand.goal] and hit.row not in [other.row for other in made]:
                made.append(replace(hit, fails=demand.goal))
    return made


def nothing_of(space: WaterSpace) -> tuple[str, ...]:
    """Kinds of part of which there is none to choose from."""
    kinds = {
        "motors": len(space.motors),
        "propellers": len(space.propellers),
        "controllers": len(space.controllers),
        "cells or packs": len(space.packs),
    }
    return tuple(name for name, many in kinds.items() if not many)


def outset_afloat(design: Design, stock: Catalogue, wishes: Wishes) -> Outset:
    """What a search of a boat would look at, place by place."""
    space = make_water_space(design, stock, wishes)
    count = lambda kind, rated: sum(rated(part) for part in stock.all(kind))

    def why(have: int, rated: int, left: int, extra: str = "") -> str:
        words = (extra, f"{rated - left} by limits" if rated > left else "", f"{have - rated} without ratings" if have > rated else "")
        return "; ".join(filter(None, words))

    places = []
    for name, kind, rated, left, extra in (
        ("Motors", MotorPart, rated_motor, len(space.motors), ""),
        ("Propellers", PropellerPart, lambda _part: True, len(space.propellers), ""),
        ("Controllers", ControllerPart, rated_controller, len(space.controllers), ""),
        ("Cells and packs", CellPart, rated_cell, len(set(space.packs[:, col.P_CELL])), f"in {len(space.packs):,} packs"),
    ):
        have, good = len(stock.all(kind)), count(kind, rated)
        places.append(Sieve(name=name, stock=have, left=left, why=why(have, good, left, extra)))
    ways = max((len(g) for g in space.gearings), default=0)
    choice = design.variant().propeller
    sealed = "; cans sealed in" if choice is not None and choice.flooded else ""
    why_so = ("direct" if ways == 1 else "direct or a belt from stock") + sealed
    places.append(Sieve(name="Reductions", stock=ways, left=ways, why=why_so))
    per = len(space.counts) * len(LEVELS)
    counts = " or ".join(str(n) for n in space.counts)
    places.append(Sieve(name="Number and amps", stock=per, left=per, why=f"{counts} drives, each at {len(LEVELS)} current settings"))
    return Outset(places=tuple(places), combinations=space.size)


def warm_up(stock: Catalogue) -> None:
    """Load the compiled search of boats, or compile it where no cache of it is."""
    from wattagon.design.boats import new_boat
    from wattagon.design.tree import VehicleKind

    space = make_water_space(new_boat(VehicleKind.CANOE), stock, Wishes())
    few = replace(
        space,
        motors=space.motors[:1],
        propellers=space.propellers[:1],
        turns=space.turns[:, :, :1],
        torque=space.torque[:, :, :1],
        steady_turns=space.steady_turns[:, :1],
        steady_torque=space.steady_torque[:, :1],
        counts=space.counts[:1],
        gearings=space.gearings[:1],
    )
    run = WaterRun(few, stock, lambda: False, lambda _share: None)
    run.best("cost", run.all_one())
    run.shares()
