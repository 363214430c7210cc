"""A space made ready for the compiled search: goals as rows, current settings, and the bounds of its reductions.

Loading this module loads the compiler.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.design.tree import Goal, GoalKind
from wattagon.study.finder import columns as col
from wattagon.study.finder.bounds import capacity_floors, pair_bounds, stage_bounds
from wattagon.study.finder.exact import Tables
from wattagon.study.finder.space import LEVELS, Space, pack_amps, power_limit_w
from wattagon.study.finder.stages import Stages
from wattagon.study.finder.wishes import HEAT, beaten_by, heat_goal

KINDS = {
    GoalKind.TOP_SPEED: col.TOP,
    GoalKind.CLIMB: col.CLIMB,
    GoalKind.START: col.START,
    GoalKind.SPRINT: col.SPRINT,
    GoalKind.RANGE: col.RANGE,
    GoalKind.BUDGET: col.BUDGET,
    GoalKind.ADDED_MASS: col.MASS,
    GoalKind.SPEED_LIMIT: col.SPEED_LIMIT,
    GoalKind.POWER_LIMIT: col.POWER_LIMIT,
}


def goal_row(space: Space, goal: Goal) -> list[float]:
    """A goal as the kernel takes it: columns of GOAL."""
    charge = 1.0 if goal.kind is GoalKind.SPEED_LIMIT else goal.charge
    at = space.charges.index(charge) if charge in space.charges else 0
    target = goal.time if goal.kind is GoalKind.SPRINT else goal.distance if goal.kind is GoalKind.RANGE else goal.amount
    return [float(KINDS[goal.kind]), goal.speed or 0.0, goal.grade or 0.0, float(at), target or 0.0]


def constraints(space: Space, goals: Sequence[Goal]) -> tuple[list[str], NDArray[np.float64]]:
    """(ids, rows) of all that a search holds against a combination: the goals with their margin, and heat on the climb."""
    wishes = space.wishes
    ids = [goal.id for goal in goals]
    rows = [goal_row(space, beaten_by(goal, wishes.goals)) for goal in goals]
    climb = heat_goal(space.design, wishes)
    if climb is not None:
        row = goal_row(space, climb)
        ids.append(HEAT)
        rows.append([float(col.LASTS), *row[1:4], wishes.climb_s(space.design)])
    return ids, np.array(rows, dtype=float).reshape(-1, len(col.GOAL))


# money and mass, then what fails often and is quick to tell, then what takes long
QUICK_FIRST = (
    col.BUDGET,
    col.MASS,
    col.START,
    col.LASTS,
    col.STEADY,
    col.TOP,
    col.CLIMB,
    col.SPEED_LIMIT,
    col.RANGE,
    col.SPRINT,
    col.POWER_LIMIT,
)


def order_of(rows: NDArray[np.float64]) -> NDArray[np.int64]:
    """The order in which rows of GOAL are judged."""
    turn = [QUICK_FIRST.index(int(kind)) for kind in rows[:, col.G_KIND]]
    return np.argsort(np.array(turn, dtype=np.int64), kind="stable").astype(np.int64)


def with_goals(tables: Tables, rows: NDArray[np.float64]) -> Tables:
    """The same tables with other constraints."""
    return tables._replace(goals=rows, order=order_of(rows))


def ratio_groups(stages: Stages) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """(where stages of one ratio and efficiency begin, (groups + 1,); their least price and mass, (counts, 2, groups))."""
    key, worth = stages.table[:, [col.R_RATIO, col.R_EFF]], np.stack([stages.prices, stages.masses], axis=1)
    first = np.flatnonzero(np.any(key[1:] != key[:-1], axis=1)) + 1 if len(key) else np.array([], dtype=np.int64)
    begin = np.concatenate([[0], first, [len(key)]]) if len(key) else np.zeros(1, dtype=np.int64)
    least = np.minimum.reduceat(worth, begin[:-1], axis=2) if len(key) else np.zeros((*worth.shape[:2], 0))
    return begin.astype(np.int64), least


def make_tables(space: Space, rows: NDArray[np.float64]) -> Tables:
    """Tables of a space with its constraints as rows of GOAL."""
    st, wishes, counts = space.stages, space.wishes, np.array(space.counts, dtype=float)
    floors = capacity_floors(st)
    reach = st.table[:, col.R_RATIO] if len(st.table) else np.ones(1)
    eff = st.table[:, col.R_EFF] if len(st.table) else np.ones(1)
    drag = st.table[:, col.R_DRAG] if len(st.table) else np.zeros(1)
    st_count = float(counts.max())  # motors that may share a second stage
    kinds = np.array(
        [
            [1.0, 1.0, 0.0, 0.0, 1.0, 1.0],
            [eff.max(), eff.min(), drag.min(), drag.max(), reach.max(), reach.min()],
            [
                eff.max() ** 2,
                eff.min() ** 2,
                drag.min() * (1.0 + 1.0 / (st_count * reach.max() * eff.max())),
                drag.max() * (1.0 + 1.0 / eff.min()),
                reach.max() ** 2,
                reach.min() ** 2,
            ],
        ]
    )
    none = math.inf if not len(st.table) else 0.0
    low = lambda table: table.min(axis=1, initial=math.inf)
    one, two = np.stack([low(st.prices), low(st.masses)], axis=1), np.stack([low(st.second_prices), low(st.second_masses)], axis=1)
    high = [float(table.max(initial=0.0)) for table in (st.masses, st.second_masses)]
    begin, least = ratio_groups(st)
    return Tables(
        motors=space.motors,
        controllers=space.controllers,
        packs=space.packs,
        emf=space.emf,
        range_emf=space.range_emf,
        means=space.range_emf.mean(axis=1),
        roads=space.roads,
        counts=counts,
        levels=np.array(LEVELS),
        amps=pack_amps(space, power_w=power_limit_w(space.design.brief.goals)),
        goals=rows,
        order=order_of(rows),
        room=1.0 - np.array([wishes.volts, wishes.amps, wishes.rpm, wishes.pull]),
        air_c=space.design.brief.conditions.air_temperature.value,
        stages=st.table,
        ratios=np.ascontiguousarray(st.table[:, col.R_RATIO]),
        prices=np.ascontiguousarray(st.prices),  # of one memory order: another would be compiled anew, for a minute
        masses=np.ascontiguousarray(st.masses),
        second_prices=np.ascontiguousarray(st.second_prices),
        second_masses=np.ascontiguousarray(st.second_masses),
        sets=st.sets,
        fits=np.ascontiguousarray(st.fits),
        chosen=st.chosen,
        owned=st.owned,
        part_price=st.price,
        direct=st.direct,
        two=st.two,
        need=st.need,
        kinds=kinds,
        least=np.stack([np.zeros_like(one), one, one + two + none]),
        worst_mass=np.array([0.0, high[0], sum(high)]),
        floors=floors,
        seconds=stage_bounds(st, floors),
        pairs=pair_bounds(st, floors, counts),
        group_begin=begin,
        group_least=least,
        group_order=np.argsort(least, axis=2, kind="stable"),
        least_after=two,
    )
