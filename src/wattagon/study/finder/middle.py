"""Middle drives: a motor on the crank, through the bike's own gears; each goal in the gear that is best for it.

What the reductions to the crank come to stands in one list by ratio: every single stage, and of pairs the cheapest and the lightest in
each narrow step of the ratio and class of capacity.  All motors, controllers, packs and current levels are combined with it.

Loading this module does not load the compiler; searching does.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import TYPE_CHECKING, NamedTuple, TypeAlias

import numpy as np
from numpy.typing import NDArray

from wattagon.design.parts import CellPart, ProfilePart
from wattagon.design.tree import Gears, Goal, GoalKind
from wattagon.study.drive.words import goal_name
from wattagon.study.finder import columns as col
from wattagon.study.finder.passes import Search, step_back
from wattagon.study.finder.space import NOMINAL, THROUGH, Row
from wattagon.study.resolve import Reader, resolve, ridden_gear
from wattagon.study.resolve.gears import CHAIN_EFFICIENCY, PITCH_M, RIDER_NM, bike_ratings, crank_most_nm
from wattagon.study.resolve.stages import stage_pull_n
from wattagon.study.say import Say

if TYPE_CHECKING:
    from wattagon.study.finder.exact import Tables

QUICK_FIRST = (
    col.BUDGET,
    col.MASS,
    col.START,
    col.SPEED_LIMIT,
    col.CLIMB,
    col.TOP,
    col.STEADY,
    col.LASTS,
    col.RANGE,
    col.SPRINT,
    col.POWER_LIMIT,
)
STEP = 0.02  # of the logarithm of the ratio: of pairs within it the cheapest and the lightest are looked at
LEAST_RATIO, MOST_RATIO = 2.0, 120.0  # from motor to crank


Why: TypeAlias = Callable[[Say], str]


class Crank(NamedTuple):
    """The bike's own gears as the compiled search takes them."""

    ratios: NDArray[np.float64]  # (gears,): turns of the crank per turn of the wheel, the lowest gear first
    efficiency: float
    order: NDArray[np.int64]  # goals, what is quick to tell and often fails first
    ridden: NDArray[np.int64]  # (goals,): the gear at the speed of each goal
    most_nm: float  # of the motor at the crank, by chain and hub
    # of all reductions to the crank; drag at the motor [N m]
    most_drag: float
    least_drag: float
    best_efficiency: float
    least_efficiency: float
    cadence: float  # that must be assisted [rpm]
    charge: int  # at which it is asked for


class Reductions(NamedTuple):
    """Reductions to the crank for one motor, by ratio; shapes (n,)."""

    first: NDArray[np.int64]
    second: NDArray[np.int64]
    cell: NDArray[np.int64]  # narrow step of the ratio
    ratio: NDArray[np.float64]
    efficiency: NDArray[np.float64]
    drag: NDArray[np.float64]
    capacity: NDArray[np.float64]  # torque at the motor for seconds, and for good
    lasting: NDArray[np.float64]
    price: NDArray[np.float64]
    mass: NDArray[np.float64]


def crank_of(run: Search, gears: Gears, made: Reductions) -> Crank:
    """The gears of a search; `design`"""
    space, kinds = run.space, run.tables.goals[:, col.G_KIND].astype(int).tolist()
    bike = bike_ratings(Reader(False), "x", gears, run.stock)
    efficiency = gears.efficiency.value if gears.efficiency is not None else CHAIN_EFFICIENCY
    ratios = np.array(gears.cogs, dtype=float) / gears.ring
    radius = float(space.roads[0, 0, col.W_RADIUS])
    speeds = [goal.speed or 0.0 for goal in space.design.brief.goals]
    heat = [goal.speed or 0.0 for goal in space.design.brief.goals if goal.kind is GoalKind.CLIMB][:1]
    return Crank(
        ratios=ratios,
        efficiency=efficiency,
        order=np.array(sorted(range(len(kinds)), key=lambda k: QUICK_FIRST.index(kinds[k])), dtype=np.int64),
        ridden=np.array([ridden_gear(gears, radius, v) - 1 for v in (*speeds, *heat)], dtype=np.int64),
        most_nm=crank_most_nm(gears, bike),
        most_drag=float(made.drag.max()),
        least_drag=float(made.drag.min()),
        best_efficiency=float(made.efficiency.max()),
        least_efficiency=float(made.efficiency.min()),
        cadence=space.cadence,
        charge=space.charges.index(NOMINAL),
    )


def reductions_of(tables: Tables) -> Reductions:
    """Every single stage, and of pairs what is worth looking at: to a crank mostly two are needed."""
    st, price, mass = tables.stages, tables.prices[0], tables.masses[0]
    n = len(st)
    first: NDArray[np.int64] = np.arange(n)
    second: NDArray[np.int64] = np.full(n, -1)
    if n:
        a, b = np.divmod(np.arange(n * n), n)
        ratio = st[a, col.R_RATIO] * st[b, col.R_RATIO]
        inside = (ratio >= LEAST_RATIO) & (ratio <= MOST_RATIO) & (tables.chosen[a] | tables.chosen[b] | (not tables.need))
        a, b, ratio = a[inside], b[inside], ratio[inside]
        gain = st[a, col.R_RATIO] * st[a, col.R_EFF]
        bears = np.minimum(st[a, col.R_CAPACITY], st[b, col.R_CAPACITY] / gain)
        cell = np.floor(np.log(ratio) / STEP).astype(np.int64) * 1000 + np.searchsorted(tables.floors, bears)
        for worth in (price[a] + tables.second_prices[0, b], mass[a] + tables.second_masses[0, b]):
            order = np.lexsort((worth, cell))
            keep = order[np.concatenate([[True], np.diff(cell[order]) != 0])] if len(order) else order
            first, second = np.concatenate([first, a[keep]]), np.concatenate([second, b[keep]])
    pairs = np.unique(np.column_stack([first, second]), axis=0).reshape(-1, 2)
    first, second = pairs[:, 0], pairs[:, 1]
    behind = second >= 0
    at = np.where(behind, second, 0)
    own, then = st[first], st[at] if n else st
    gain = own[:, col.R_RATIO] * own[:, col.R_EFF]
    whole = own[:, col.R_RATIO] * np.where(behind, then[:, col.R_RATIO], 1.0)
    made = Reductions(
        cell=np.floor(np.log(whole) / STEP).astype(np.int64),
        first=first.astype(np.int64),
        second=second.astype(np.int64),
        ratio=whole,
        efficiency=own[:, col.R_EFF] * np.where(behind, then[:, col.R_EFF], 1.0),
        drag=own[:, col.R_DRAG] + np.where(behind, then[:, col.R_DRAG] / gain, 0.0),
        capacity=np.minimum(own[:, col.R_CAPACITY], np.where(behind, then[:, col.R_CAPACITY] / gain, np.inf)),
        lasting=np.minimum(own[:, col.R_LASTING], np.where(behind, then[:, col.R_LASTING] / gain, np.inf)),
        price=price[first] + np.where(behind, tables.second_prices[0, at], 0.0),
        mass=mass[first] + np.where(behind, tables.second_masses[0, at], 0.0),
    )
    fit = (behind | tables.chosen[first] | (not tables.need)) & (made.ratio >= LEAST_RATIO) & (made.ratio <= MOST_RATIO)
    order = np.flatnonzero(fit)[np.argsort(made.ratio[fit], kind="stable")]
    return Reductions._make(part[order] for part in made)


def chain_asks(run: Search, crank: Crank, gears: Gears) -> tuple[float, float, Goal] | None:
    """(pull on the bike's own chain [N], what it bears for good, goal) of the worst goal of holding a speed that is more than it bears.

    Whatever drives the crank: the pull is set by the load, the wheel and the cog that is ridden.
    """
    rated = stage_pull_n(run.stock.get(ProfilePart, gears.profile), None)
    if rated is None:
        return None
    bears, space, worst = rated[0] * (1.0 - run.space.wishes.pull), run.space, None
    road = replace(resolve(space.design, run.stock).road, mass_kg=float(space.roads[0, 0, col.W_MASS]))  # the lightest drive is none
    for goal, gear in zip(space.design.brief.goals, crank.ridden.tolist(), strict=False):
        if goal.kind not in (GoalKind.TOP_SPEED, GoalKind.CLIMB):
            continue
        grade = goal.grade or 0.0 if goal.kind is GoalKind.CLIMB else 0.0
        force = float(road.resistance_n(goal.speed or 0.0, grade, space.design.brief.conditions.headwind.value))
        cog_m = gears.cogs[gear] * PITCH_M / math.tau
        pull = force * float(space.roads[0, 0, col.W_RADIUS]) / (crank.efficiency * cog_m)
        if pull > bears and (worst is None or pull > worst[0]):
            worst = pull, bears, goal
    return worst


def middle_rows(run: Search, gears: Gears, *, below: float = math.inf, lightest: bool = True) -> tuple[list[Row], Why | None]:
    """(the cheapest and the lightest middle drive of every motor and cell, as rows with THROUGH behind; why there is none).

    below: a cost that they must stay under; without `lightest` only the cheapest of all is looked for.
    """
    from wattagon.study.finder.kernel import SLOT
    from wattagon.study.finder.middle_kernel import search_middle

    space, tables = run.space, run.tables
    made = reductions_of(tables)
    if not len(made.first):
        return [], lambda _say: "nothing to choose from between motor and crank"
    crank = crank_of(run, gears, made)
    if crank.most_nm <= 0.0:
        return [], lambda say: f"chain and hub of the bike bear no more than legs, {say(RIDER_NM, 'torque')} at the crank"
    asks = chain_asks(run, crank, gears)
    if asks is not None:
        pull, bears, goal = asks
        return (
            [],
            lambda say: (
                f"{goal_name(goal, say)} pulls the bike's chain with {say(pull, 'force')} in the gear that is ridden, it bears "
                f"{say(bears, 'force')} for good; with a higher cadence to shift down at it runs on a larger cog"
            ),
        )
    cells = len(run.stock.rows(CellPart))
    tasks = [(m, wheel) for wheel in range(len(space.wheels)) for m in range(len(space.motors)) if not space.motors[m, col.M_HUB]]
    slots = np.full((len(tasks), cells, 2, SLOT), np.inf)
    if not lightest:
        slots[:, :, 1, 0] = -np.inf
    stop, bound = np.zeros(1, dtype=np.int64), np.array([below])

    def one(k: int) -> None:
        if run.cancelled():
            stop[0] = 1
        search_middle(tables, *tasks[k], crank, made, slots[k], stop, bound, not lightest)

    with ThreadPoolExecutor(run.workers, initializer=step_back) as pool:
        list(pool.map(one, range(len(tasks))))
    rows: set[Row] = set()
    for (m, wheel), found in zip(tasks, slots, strict=True):
        for slot in found.reshape(-1, SLOT):
            if np.isfinite(slot[1]):
                rows.add((m, wheel, 1, *(int(slot[k]) for k in range(1, 6)), THROUGH))
    return sorted(rows), None if rows else lambda _say: "no motor, controller, pack and reduction meets every goal in some gear"
