"""One combination judged, compiled: its reduction put together, its goals by the balances of the drive study.

Loading this module loads the compiler.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.study.finder.columns import (
    BUDGET,
    CLIMB,
    G_CHARGE,
    G_GRADE,
    G_KIND,
    G_SPEED,
    G_TARGET,
    LASTS,
    M_LIMIT_C,
    MASS,
    P_BURST,
    P_CUT_END,
    P_CUT_START,
    P_OHM,
    POWER_LIMIT,
    R_CAPACITY,
    R_DRAG,
    R_DRIVEN,
    R_DRIVER,
    R_EFF,
    R_LASTING,
    R_LOOP,
    R_LOOPS,
    R_RATIO,
    RANGE,
    SPEED_LIMIT,
    SPRINT,
    START,
    STEADY,
    W_MASS,
    W_RADIUS,
)
from wattagon.study.finder.points import (
    held_torque_nm,
    held_winding_c,
    holds,
    hot_current_a,
    jit,
    lasting_current_a,
    load_n,
    most_power_w,
    range_m,
    sprint_met,
    supply_a,
)


class Tables(NamedTuple):
    """The space as the compiled search takes it; shapes as in Space and Stages."""

    motors: NDArray[np.float64]
    controllers: NDArray[np.float64]
    packs: NDArray[np.float64]
    emf: NDArray[np.float64]
    range_emf: NDArray[np.float64]
    means: NDArray[np.float64]  # (packs,) of range_emf
    roads: NDArray[np.float64]
    counts: NDArray[np.float64]
    levels: NDArray[np.float64]
    amps: NDArray[np.float64]  # (controllers, packs, counts)
    goals: NDArray[np.float64]
    order: NDArray[np.int64]  # goals in the order in which they are judged, the quick ones first
    room: NDArray[np.float64]  # what margins leave of ratings: volts, amps, rpm, pull
    air_c: float
    stages: NDArray[np.float64]
    ratios: NDArray[np.float64]  # (stages,)
    prices: NDArray[np.float64]
    masses: NDArray[np.float64]
    second_prices: NDArray[np.float64]
    second_masses: NDArray[np.float64]
    sets: NDArray[np.float64]
    fits: NDArray[np.bool_]
    chosen: NDArray[np.bool_]
    owned: NDArray[np.float64]
    part_price: NDArray[np.float64]
    direct: bool
    two: bool
    need: bool
    # of reductions of no, one and two stages: best and worst efficiency, least and most drag, most and least ratio
    kinds: NDArray[np.float64]
    least: NDArray[np.float64]  # (kinds, counts, 2): least price and mass
    worst_mass: NDArray[np.float64]  # (kinds,)
    floors: NDArray[np.float64]  # capacities of the classes of the bounds below [N m], rising
    seconds: NDArray[np.float64]  # (counts, price or mass, classes, levels, stages): least over 2^level stages that carry a class
    pairs: NDArray[np.float64]  # (counts, price or mass, classes, levels, buckets of the ratio): likewise of two stages
    group_begin: NDArray[np.int64]  # (groups + 1,): where stages of one ratio begin
    group_least: NDArray[np.float64]  # (counts, price or mass, groups)
    group_order: NDArray[np.int64]  # likewise: groups by their least
    least_after: NDArray[np.float64]  # (counts, price or mass): least of a second stage


@jit
def reduce_with(t, ci, first, second, red):
    """(price, mass) of a reduction, its row written to `red`; first -1 is none at all, second -1 only one stage."""
    if first < 0:
        red[R_RATIO], red[R_EFF], red[R_DRAG], red[R_CAPACITY], red[R_LASTING] = 1.0, 1.0, 0.0, 1e9, 1e9
        return 0.0, 0.0
    a = t.stages[first]
    if second < 0:
        red[R_RATIO], red[R_EFF], red[R_DRAG], red[R_CAPACITY], red[R_LASTING] = (
            a[R_RATIO],
            a[R_EFF],
            a[R_DRAG],
            a[R_CAPACITY],
            a[R_LASTING],
        )
        return t.prices[ci, first], t.masses[ci, first]
    b = t.stages[second]
    gain, share = a[R_RATIO] * a[R_EFF], t.counts[ci] / t.sets[ci]
    red[R_RATIO], red[R_EFF] = a[R_RATIO] * b[R_RATIO], a[R_EFF] * b[R_EFF]
    red[R_DRAG] = a[R_DRAG] + b[R_DRAG] / share / gain
    red[R_CAPACITY] = min(a[R_CAPACITY], b[R_CAPACITY] / (gain * share))
    red[R_LASTING] = min(a[R_LASTING], b[R_LASTING] / (gain * share))
    price = t.prices[ci, first] + t.second_prices[ci, second]
    n, m = t.counts[ci], t.sets[ci]
    for i in range(3):  # a part on the shelf that both stages need is there only once
        k, same, per_a, per_b = a[R_DRIVER], b[R_DRIVER], 1.0, 1.0
        if i == 1:
            k, same = a[R_DRIVEN], b[R_DRIVEN]
        elif i == 2:
            k, same, per_a, per_b = a[R_LOOP], b[R_LOOP], a[R_LOOPS], b[R_LOOPS]
        if k >= 0.0 and k == same and t.owned[int(k)] > 0.0:
            have = t.owned[int(k)]
            twice = min(n * per_a, have) + min(m * per_b, have) - min(n * per_a + m * per_b, have)
            price += twice * t.part_price[int(k)]
    return price, t.masses[ci, first] + t.second_masses[ci, second]


@jit
def bears(t, n, road, mass, red, drop):
    """Whether belts and chains bear what the goals of holding a speed ask of them for good."""
    for g in range(t.goals.shape[0]):
        kind = int(t.goals[g, G_KIND])
        if kind <= CLIMB and g != drop:
            torque = held_torque_nm(n, road, road[W_MASS] + mass, red, t.goals[g, G_SPEED], t.goals[g, G_GRADE])
            if torque > red[R_LASTING] * t.room[3]:
                return False
    return True


@jit
def wheel_torque_nm(t, n, road, all_up, drop):
    """The most torque at the wheel, for one motor, that a goal of holding a speed asks for good at a mass."""
    most = 0.0
    for g in range(t.goals.shape[0]):
        if int(t.goals[g, G_KIND]) <= CLIMB and g != drop:
            most = max(most, load_n(road, all_up, t.goals[g, G_SPEED], t.goals[g, G_GRADE]) * road[W_RADIUS] / n)
    return most


@jit
def meets(t, g, mo, co, p, n, ceiling, battery, road, mass, cost, red, drop):
    """Whether a combination meets one goal; heat is not asked for on a dropped climb."""
    pa, all_mass, full = t.packs[p], road[W_MASS] + mass, t.emf[p, 0]
    kind = int(t.goals[g, G_KIND])
    target, v, grade = t.goals[g, G_TARGET], t.goals[g, G_SPEED], t.goals[g, G_GRADE]
    at = t.emf[p, int(t.goals[g, G_CHARGE])]
    if kind == BUDGET:
        return cost <= target
    if kind == MASS:
        return mass <= target
    if kind <= START:
        return holds(mo, co, pa, n, ceiling, battery, at, road, all_mass, red, v if kind != START else 0.0, grade)
    if kind == SPEED_LIMIT:
        return not holds(mo, co, pa, n, ceiling, battery, full, road, all_mass, red, v, 0.0)
    if kind == LASTS:
        if drop >= 0 and int(t.goals[drop, G_KIND]) == CLIMB:
            return True
        torque = held_torque_nm(n, road, all_mass, red, v, grade)
        return held_winding_c(mo, torque, ceiling, red[R_RATIO] * v / road[W_RADIUS], v, t.air_c, target) < mo[M_LIMIT_C]
    if kind == STEADY:
        current = hot_current_a(mo, n, road, all_mass, red, v, grade, t.air_c)
        return current * (1.0 + target) <= lasting_current_a(mo, co, red[R_RATIO] * v / road[W_RADIUS], v, t.air_c)
    if kind == RANGE:
        return range_m(mo, co, pa, t.range_emf[p], n, ceiling, battery, road, all_mass, red, v, target) >= target
    if kind == SPRINT:
        limit_a = supply_a(at, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
        return sprint_met(mo, co, pa, n, ceiling, limit_a, at, road, all_mass, red, v, target)
    if kind == POWER_LIMIT:
        limit_a = supply_a(full, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
        # the emf times the most amps is more than any point takes
        return full * limit_a <= target or most_power_w(mo, co, pa, n, ceiling, limit_a, full, road, all_mass, red) <= target
    return True


@jit
def fails_of(t, mo, co, p, n, ceiling, battery, road, mass, cost, red, drop, most):
    """(how many goals a combination fails, up to `most` + 1; the last of them).  Goal `drop` is left out, and heat on a dropped climb."""
    fails, miss = 0, -1
    for i in range(t.order.size):
        g = t.order[i]
        if g != drop and not meets(t, g, mo, co, p, n, ceiling, battery, road, mass, cost, red, drop):
            fails, miss = fails + 1, g
            if fails > most:
                return fails, miss
    return fails, miss
