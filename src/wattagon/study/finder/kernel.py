"""The compiled search: every combination of one motor on one wheel, cut by the bounds of halves.py, the rest judged exactly.

Loading this module loads the compiler.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.study.finder.bounds import (
    bucket_of,
    class_of,
    least_over,
)
from wattagon.study.finder.columns import (
    BUDGET,
    C_BRUSHED,
    C_BURST,
    C_DUTY,
    C_MASS,
    C_OWNED,
    C_PRICE,
    C_VOLTS,
    G_KIND,
    G_SPEED,
    G_TARGET,
    LASTS,
    M_BRUSHED,
    M_DC,
    M_HUB,
    M_K,
    M_MASS,
    M_OWNED,
    M_PEAK,
    M_PRICE,
    M_RAD_S,
    M_VOLTS,
    MASS,
    P_CELL,
    P_FULL,
    P_MASS,
    P_PRICE,
    POWER_LIMIT,
    R_CAPACITY,
    R_COLUMNS,
    R_DRAG,
    R_EFF,
    R_LASTING,
    R_RATIO,
    SPEED_LIMIT,
    W_MASS,
    W_WHEEL_MASS,
    W_WHEEL_PRICE,
)
from wattagon.study.finder.exact import (
    bears,
    fails_of,
    reduce_with,
    wheel_torque_nm,
)
from wattagon.study.finder.halves import (
    narrow,
    out_of_reach,
    rough,
    span,
    start_pulls,
    starts,
)
from wattagon.study.finder.points import (
    cool_current_a,
    first_at,
    jit,
    setting_amps,
)

# of a slot: value, controller, level, pack, first, second, count index, other value
SLOT = 8
WEAK, OTHER, KEPT = 0, 1, 2  # what came of a combination
FIRST_TRIES = 12  # the least of what is left is tried first so often; then in the order of ratios


class Half(NamedTuple):
    """An electrical half: which motor, controller, current level and pack, with what follows before any stage is chosen."""

    mo: NDArray[np.float64]  # rows of the tables
    co: NDArray[np.float64]
    c: int  # positions in them: controller, level, pack, wheel, count
    level: int
    p: int
    wi: int
    ci: int
    ceiling: float  # DC-equivalent current of one motor [A]
    battery: float  # pack current of all [A]
    cost: float
    mass: float


class Reach(NamedTuple):
    """What the goals leave of a half: ratios, money and mass, pull at starts, torque at the wheel for good."""

    ends: NDArray[np.float64]  # least and largest ratio, and a gap between them
    caps: NDArray[np.float64]
    pulls: NDArray[np.float64]
    wheel_nm: float


class Aim(NamedTuple):
    """What is looked for: the cheapest (by 0) or lightest (by 1), a goal that is not looked at, and what is known already."""

    by: int
    drop: int
    slot: NDArray[np.float64]
    bound: NDArray[np.float64]


class Work(NamedTuple):
    """Room to work in."""

    red: NDArray[np.float64]
    queue: NDArray[np.int64]
    tally: NDArray[np.int64]
    weak: NDArray[np.float64]  # by the first second stage of a ratio: turn, leverage, drag, mass of the least weak that failed


@jit
def keep(slot, value, c, level, p, first, second, ci, other):
    """Write a combination into its slot."""
    slot[0], slot[1], slot[2], slot[3] = value, float(c), float(level), float(p)
    slot[4], slot[5], slot[6], slot[7] = float(first), float(second), float(ci), other


@jit
def try_one(t, half, first, second, aim, work):
    """Judge one combination: KEPT, OTHER, or WEAK where one of its ratio with no more efficiency, no less drag and mass fails too."""
    mo, co, c, level, p, wi, ci, ceiling, battery, cost, mass = (
        half.mo,
        half.co,
        half.c,
        half.level,
        half.p,
        half.wi,
        half.ci,
        half.ceiling,
        half.battery,
        half.cost,
        half.mass,
    )
    by, drop, slot, bound = aim.by, aim.drop, aim.slot, aim.bound
    red, tally = work.red, work.tally
    price, kg = reduce_with(t, ci, first, second, red)
    total, heavy = cost + price, mass + kg
    value = total if by == 0 else heavy
    if value >= slot[0] or value > bound[0] or mo[M_K] * ceiling > red[R_CAPACITY] * t.room[3]:
        return OTHER
    tally[1] += 1
    if not bears(t, t.counts[ci], t.roads[wi, ci], heavy, red, drop):
        return OTHER
    fails, which = fails_of(t, mo, co, p, t.counts[ci], ceiling, battery, t.roads[wi, ci], heavy, total, red, drop, 0)
    if fails > 0:
        kind = int(t.goals[which, G_KIND])
        return OTHER if kind in (BUDGET, SPEED_LIMIT, POWER_LIMIT) else WEAK
    keep(slot, value, c, level, p, first, second, ci, heavy if by == 0 else total)
    return KEPT


@jit
def try_one_stage(t, half, reach, aim, work):
    """The best single stage of a half."""
    mo, wi, ci, ceiling, cost, mass = half.mo, half.wi, half.ci, half.ceiling, half.cost, half.mass
    ends, caps, pulls, wheel_nm = reach.ends, reach.caps, reach.pulls, reach.wheel_nm
    by, slot, bound = aim.by, aim.slot, aim.bound
    queue = work.queue
    worth, base = (t.prices[ci], cost) if by == 0 else (t.masses[ci], mass)
    torque, found, all_mass = mo[M_K] * ceiling / t.room[3], 0, t.roads[wi, ci, W_MASS] + mass
    for r in range(first_at(t.ratios, ends[0]), t.ratios.size):
        x = t.ratios[r]
        if x > ends[1]:
            break
        value = base + worth[r]
        if value >= slot[0] or value > bound[0] or torque > t.stages[r, R_CAPACITY] or (ends[2] < x < ends[3]):
            continue
        if cost + t.prices[ci, r] > caps[0] or mass + t.masses[ci, r] > caps[1]:
            continue
        if wheel_nm / (x * t.stages[r, R_EFF]) + t.stages[r, R_DRAG] > t.stages[r, R_LASTING] * t.room[3] * (1.0 + 1e-9):
            continue
        if t.fits[wi, r] and (t.chosen[r] or not t.need) and starts(pulls, all_mass + t.masses[ci, r], x * t.stages[r, R_EFF]):
            queue[found], found = r, found + 1
    for turn in range(found):
        if turn < FIRST_TRIES:
            at = turn
            for k in range(turn + 1, found):
                if worth[queue[k]] < worth[queue[at]]:
                    at = k
            queue[turn], queue[at] = queue[at], queue[turn]
        kept = try_one(t, half, queue[turn], -1, aim, work)
        if kept == KEPT and turn < FIRST_TRIES:
            break


@jit
def try_two_stages(t, half, reach, aim, work):
    """The best pair of stages of a half: by their least worth in tables first, then one by one."""
    mo, wi, ci, ceiling, cost, mass = half.mo, half.wi, half.ci, half.ceiling, half.cost, half.mass
    ends, caps, pulls, wheel_nm = reach.ends, reach.caps, reach.pulls, reach.wheel_nm
    by, slot, bound = aim.by, aim.slot, aim.bound
    queue, tally, weak = work.queue, work.tally, work.weak
    torque, share, bare = mo[M_K] * ceiling / t.room[3], t.counts[ci] / t.sets[ci], t.roads[wi, ci, W_MASS]
    first, last, k = bucket_of(ends[0] * (1.0 - 1e-9)), bucket_of(ends[1] * (1.0 + 1e-9)) + 1, class_of(t.floors, torque)
    base, least = cost if by == 0 else mass, least_over(t.pairs[ci, by, k], first, last)
    if base + least >= slot[0] or base + least > bound[0]:
        return
    if cost + least_over(t.pairs[ci, 0, k], first, last) > caps[0] or mass + least_over(t.pairs[ci, 1, k], first, last) > caps[1]:
        return
    for k in range(t.group_begin.size - 1):
        g = t.group_order[ci, by, k]
        if base + t.group_least[ci, by, g] + t.least_after[ci, by] >= min(slot[0], bound[0] * (1.0 + 1e-12) + 1e-9):
            break
        # all first stages of one ratio at once
        f = t.group_begin[g]
        ratio = t.stages[f, R_RATIO]
        onward = torque * ratio * t.stages[f, R_EFF] * share
        begin = first_at(t.ratios, ends[0] / ratio * (1.0 - 1e-12))
        end = first_at(t.ratios, ends[1] / ratio * (1.0 + 1e-12))
        if begin >= end or (ends[2] < ratio * t.ratios[begin] and ratio * t.ratios[end - 1] < ends[3]):
            continue
        carries = class_of(t.floors, onward)
        after, after_kg = least_over(t.seconds[ci, 0, carries], begin, end), least_over(t.seconds[ci, 1, carries], begin, end)
        lowest, lightest = cost + t.group_least[ci, 0, g] + after, mass + t.group_least[ci, 1, g] + after_kg
        value = lowest if by == 0 else lightest
        if value >= slot[0] or value > bound[0] or lowest > caps[0] or lightest > caps[1]:
            continue
        found = 0
        for s in range(begin, end):  # second stages that any of these may take
            total = cost + t.group_least[ci, 0, g] + t.second_prices[ci, s]
            heavy = mass + t.group_least[ci, 1, g] + t.second_masses[ci, s]
            value, x = total if by == 0 else heavy, ratio * t.ratios[s]
            if value >= slot[0] or value > bound[0] or total > caps[0] or heavy > caps[1] or onward > t.stages[s, R_CAPACITY]:
                continue
            # what the wheel asks for good arrives at a second stage whatever the first one is
            if wheel_nm * share / (t.ratios[s] * t.stages[s, R_EFF]) > t.stages[s, R_LASTING] * t.room[3] * (1.0 + 1e-9):
                continue
            if t.fits[wi, s] and not ends[2] < x < ends[3] and starts(pulls, bare + heavy, x * t.stages[f, R_EFF] * t.stages[s, R_EFF]):
                queue[found], found = s, found + 1
        tally[3] += 1
        turn = float(tally[3])
        for f in range(t.group_begin[g], t.group_begin[g + 1]):
            price, kg = cost + t.prices[ci, f], mass + t.masses[ci, f]
            value = price + after if by == 0 else kg + after_kg
            if (
                torque > t.stages[f, R_CAPACITY]
                or value >= slot[0]
                or value > bound[0]
                or price + after > caps[0]
                or kg + after_kg > caps[1]
            ):
                continue
            key, gain = -1, ratio * t.stages[f, R_EFF] * share
            for i in range(found):
                s = queue[i]
                if i == 0 or t.ratios[s] != t.ratios[queue[i - 1]]:
                    key = s
                total, heavy = price + t.second_prices[ci, s], kg + t.second_masses[ci, s]
                value = total if by == 0 else heavy
                leverage = ratio * t.ratios[s] * t.stages[f, R_EFF] * t.stages[s, R_EFF]
                if value >= slot[0] or value > bound[0] or total > caps[0] or heavy > caps[1] or not starts(pulls, bare + heavy, leverage):
                    continue
                if wheel_nm / leverage > t.stages[f, R_LASTING] * t.room[3] * (1.0 + 1e-9):
                    continue
                if not (t.chosen[f] or t.chosen[s] or not t.need):
                    continue
                drag, failed = t.stages[f, R_DRAG] + t.stages[s, R_DRAG] / gain, weak[key]
                if failed[0] == turn and leverage <= failed[1] and drag >= failed[2] and heavy >= failed[3]:
                    continue  # what failed was better in everything that was too weak
                if try_one(t, half, f, s, aim, work) == WEAK:
                    failed[0], failed[1], failed[2], failed[3] = turn, leverage, drag, heavy


@jit
def search_motor(t, m, wi, stages, drop, by_low, by_high, per_cell, slots, bound, stop, queue, tally):
    """The cheapest (by 0) and the lightest (by 1) combination of one motor on one wheel, with up to one stage or with two (`stages`).

    slots (counts, cells, 2, SLOT): one for each count and cell, or slots[0, 0] for all where not `per_cell`; a value in a slot is to be
    bettered.  bound: a value that another thread knows; what is above it need not be found.  drop: a goal that is not looked at, or -1.
    queue: room for indices of stages.  tally: halves looked into, combinations judged.
    """
    mo = t.motors[m]
    red, ends, pulls = np.zeros(R_COLUMNS), np.zeros(4), np.zeros((t.goals.shape[0], 4))
    cool, caps = np.full(t.goals.shape[0], 1e12), np.full(2, 1e300)  # caps: money and mass
    for g in range(t.goals.shape[0]):
        row = t.goals[g]
        if g != drop and int(row[G_KIND]) == BUDGET:
            caps[0] = min(caps[0], row[G_TARGET])
        if g != drop and int(row[G_KIND]) == MASS:
            caps[1] = min(caps[1], row[G_TARGET])
        if int(row[G_KIND]) == LASTS:
            cool[g] = cool_current_a(mo, row[G_SPEED], t.air_c, row[G_TARGET], mo[M_DC] * mo[M_PEAK])
    work = Work(red, queue, tally, np.zeros((t.ratios.size, 4)))
    hub = mo[M_HUB] > 0.0
    kind = 2 if stages == 2 else 0 if hub else 1
    if (hub and (kind == 2 or not t.direct)) or (not hub and t.ratios.size == 0) or (kind == 2 and not t.two):
        return
    for ci in range(t.counts.size):
        n, road = t.counts[ci], t.roads[wi, ci]
        cheapest, lightest = t.least[kind, ci, 0], t.least[kind, ci, 1]
        for c in range(t.controllers.shape[0]):
            co = t.controllers[c]
            if stop[0] != 0:
                return
            if co[C_BRUSHED] != mo[M_BRUSHED]:
                continue
            cost1 = (n - min(n, mo[M_OWNED])) * mo[M_PRICE] + (n - min(n, co[C_OWNED])) * co[C_PRICE] + road[W_WHEEL_PRICE]
            mass1 = n * (mo[M_MASS] + co[C_MASS]) + road[W_WHEEL_MASS]
            for p in range(t.packs.shape[0]):
                pa = t.packs[p]
                full = pa[P_FULL]
                cost, mass, cell = cost1 + pa[P_PRICE], mass1 + pa[P_MASS], int(pa[P_CELL]) if per_cell else 0
                if cost + cheapest > caps[0] or (
                    not per_cell and by_high == 1 and (cost + cheapest > bound[0] or cost + cheapest >= slots[0, 0, 0, 0])
                ):
                    break  # packs come by price
                if (
                    mass + lightest > caps[1]
                    or full > t.room[0] * min(co[C_VOLTS], mo[M_VOLTS])
                    or co[C_DUTY] * full / mo[M_K] > t.room[2] * mo[M_RAD_S]
                ):
                    continue
                at = slots[ci if per_cell else 0, cell]
                cheaper = by_low == 0 and cost + cheapest < at[0, 0] and cost + cheapest <= bound[0]
                lighter = by_high == 2 and mass + lightest < at[1, 0] and (by_low == 0 or mass + lightest <= bound[0])
                if not (cheaper or lighter) or out_of_reach(t, mo, co, pa, p, ci, road, n, cost, mass, kind, drop):
                    continue
                battery = n * t.amps[c, p, ci]
                for level in range(t.levels.size):
                    ceiling = mo[M_DC] * setting_amps(t.levels[level] * t.room[1] * min(mo[M_PEAK], co[C_BURST]))
                    all_up = road[W_MASS] + mass + lightest
                    if not rough(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, cool, ends):
                        break  # less current is weaker still
                    # what is known may have got better since the last level
                    first_by = cheaper and cost + cheapest < at[0, 0]
                    second_by = lighter and mass + lightest < at[1, 0]
                    k = class_of(t.floors, mo[M_K] * ceiling / t.room[3])
                    if kind == 2:  # before more is worked out: whether a pair that carries the torque would better what is known
                        first, last = bucket_of(ends[0]), bucket_of(ends[1]) + 1
                        pair = cost + least_over(t.pairs[ci, 0, k], first, last), mass + least_over(t.pairs[ci, 1, k], first, last)
                        fits = pair[0] <= caps[0] and pair[1] <= caps[1]
                        first_by, second_by = first_by and fits and pair[0] < at[0, 0], second_by and fits and pair[1] < at[1, 0]
                        all_up = road[W_MASS] + pair[1]
                    if not (first_by or second_by):
                        continue
                    tally[0] += 1
                    span(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, cool, ends)
                    if ends[0] > ends[1]:
                        if kind < 2:
                            break  # likewise
                        continue
                    if kind == 2:
                        first, last = bucket_of(ends[0] * (1.0 - 1e-9)), bucket_of(ends[1] * (1.0 + 1e-9)) + 1
                        pair = cost + least_over(t.pairs[ci, 0, k], first, last), mass + least_over(t.pairs[ci, 1, k], first, last)
                        better = (first_by and pair[0] < at[0, 0]) or (second_by and pair[1] < at[1, 0])
                        if not better or pair[0] > caps[0] or pair[1] > caps[1]:
                            continue
                        all_up = road[W_MASS] + pair[1]
                    narrow(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, ends)
                    if ends[0] > ends[1]:
                        continue
                    start_pulls(t, mo, co, pa, p, road, n, ceiling, battery, drop, pulls)
                    wheel_nm = wheel_torque_nm(t, n, road, all_up, drop)
                    tally[2] += 1
                    half, reach = Half(mo, co, c, level, p, wi, ci, ceiling, battery, cost, mass), Reach(ends, caps, pulls, wheel_nm)
                    for by in range(by_low, by_high):
                        if (by == 0 and not first_by) or (by == 1 and not second_by):
                            continue
                        aim = Aim(by, drop, at[by], bound)
                        if kind == 0:
                            try_one(t, half, -1, -1, aim, work)
                        elif kind == 1:
                            try_one_stage(t, half, reach, aim, work)
                        else:
                            try_two_stages(t, half, reach, aim, work)
                    if not per_cell and slots[0, 0, by_low, 0] < bound[0]:
                        bound[0] = slots[0, 0, by_low, 0]
