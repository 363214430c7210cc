"""The compiled part of the search for middle drives: every combination of one motor with the reductions to the crank.

Loading this module loads the compiler.
"""

from __future__ import annotations

import math

import numpy as np

from wattagon.study.finder.columns import BUDGET as OF_BUDGET
from wattagon.study.finder.columns import (
    C_BRUSHED,
    C_BURST,
    C_DUTY,
    C_MASS,
    C_OWNED,
    C_PRICE,
    C_VOLTS,
    CLIMB,
    G_CHARGE,
    G_GRADE,
    G_KIND,
    G_SPEED,
    G_TARGET,
    M_A,
    M_B,
    M_BRUSHED,
    M_DC,
    M_K,
    M_MASS,
    M_OWNED,
    M_PEAK,
    M_PRICE,
    M_RAD_S,
    M_VOLTS,
    P_AH,
    P_BURST,
    P_CELL,
    P_CUT_END,
    P_CUT_START,
    P_FULL,
    P_MASS,
    P_OHM,
    P_PRICE,
    POWER_LIMIT,
    R_COLUMNS,
    R_DRAG,
    R_EFF,
    R_LASTING,
    R_RATIO,
    RANGE,
    SPEED_LIMIT,
    START,
    W_GRIP,
    W_LIFT,
    W_MASS,
    W_RADIUS,
    W_WHEEL_MASS,
    W_WHEEL_PRICE,
)
from wattagon.study.finder.columns import MASS as OF_MASS
from wattagon.study.finder.exact import meets, reduce_with
from wattagon.study.finder.halves import start_pulls, starts
from wattagon.study.finder.intervals import ratio_interval
from wattagon.study.finder.kernel import keep
from wattagon.study.finder.points import (
    GRAVITY,
    RATIO_HIGH,
    RATIO_LOW,
    edge_current_a,
    first_at,
    held_torque_nm,
    jit,
    load_n,
    setting_amps,
    supply_a,
)

ASSIST_SHARE = 0.2  # of the pull at rest that is still to be there at the cadence: as in the drive study
PER_RPM = math.tau / 60.0


@jit
def window(t, mo, co, pa, p, road, n, ceiling, battery, all_up, crank, ends):
    """Ratios to the crank between which every goal may be met in some gear, losses left out; False where none is."""
    low, high = 0.0, 1e9
    shortest, longest = crank.ratios[0], crank.ratios[crank.ratios.size - 1]
    for g in range(t.goals.shape[0]):
        of = int(t.goals[g, G_KIND])
        if of > START:
            continue
        start = of == START
        v, at = 0.0 if start else t.goals[g, G_SPEED], t.emf[p, int(t.goals[g, G_CHARGE])]
        force = load_n(road, all_up, v, t.goals[g, G_GRADE])
        low = max(low, force * road[W_RADIUS] / (n * mo[M_K] * max(ceiling, 1e-9)) / shortest)
        if not start:
            high = min(high, co[C_DUTY] * at * road[W_RADIUS] / (mo[M_K] * v) / longest)
            drawn = supply_a(at, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
            if force * v > drawn * (at - pa[P_OHM] * drawn):
                return False
    # chain and hub bear so much at the crank, and the motor has to turn as fast as the crank is pedalled
    high = min(high, crank.most_nm / (mo[M_K] * ceiling * crank.least_efficiency))
    high = min(high, co[C_DUTY] * t.emf[p, crank.charge] / (mo[M_K] * crank.cadence * PER_RPM))
    ends[0], ends[1] = low * (1.0 - 1e-9), high * (1.0 + 1e-9)
    return low <= high


@jit
def too_fast(t, mo, co, pa, p, road, n, ceiling, battery, heavy, crank, ends):
    """Ratios from ends[2] to ends[3] pass a speed limit in the highest gear even with the worst reduction."""
    ends[2], ends[3] = 1.0, 0.0
    top = crank.ratios[crank.ratios.size - 1]
    for g in range(t.goals.shape[0]):
        v = t.goals[g, G_SPEED]
        if int(t.goals[g, G_KIND]) != SPEED_LIMIT or load_n(road, heavy, v, 0.0) > min(road[W_GRIP], road[W_LIFT]) * heavy * GRAVITY:
            continue
        low, high = ratio_interval(
            mo,
            co,
            pa,
            n,
            ceiling,
            battery,
            t.emf[p, 0],
            road,
            heavy,
            v,
            0.0,
            crank.least_efficiency * crank.efficiency,
            crank.most_drag,
            RATIO_LOW,
            RATIO_HIGH,
            True,
        )
        if high - low > ends[3] - ends[2]:
            ends[2], ends[3] = low / top, high / top


@jit
def spans_of(t, mo, co, pa, p, road, n, ceiling, battery, all_up, crank, spans):
    """Ratios from motor to wheel, gears and all, with which each goal of holding a speed may be met by the best reduction; False where
    one has none.
    """
    for g in range(t.goals.shape[0]):
        spans[g, 0], spans[g, 1] = 0.0, 1e9
        if int(t.goals[g, G_KIND]) > CLIMB:
            continue
        at = t.emf[p, int(t.goals[g, G_CHARGE])]
        v, grade, best = t.goals[g, G_SPEED], t.goals[g, G_GRADE], crank.best_efficiency * crank.efficiency
        low, high = ratio_interval(
            mo, co, pa, n, ceiling, battery, at, road, all_up, v, grade, best, crank.least_drag, RATIO_LOW, RATIO_HIGH, False
        )
        if low > high:
            return False
        spans[g, 0], spans[g, 1] = low * 0.9999, high * 1.0001
    return True


@jit
def in_some_gear(spans, ratio, crank):
    """Whether each goal's span holds a ratio in some gear."""
    for g in range(spans.shape[0]):
        some = False
        for gear in range(crank.ratios.size):
            if spans[g, 0] <= ratio * crank.ratios[gear] <= spans[g, 1]:
                some = True
                break
        if not some:
            return False
    return True


@jit
def too_far(t, pa, p, road, all_up):
    """Whether the charge does not go as far as a range goal asks, all losses left out."""
    for g in range(t.goals.shape[0]):
        if int(t.goals[g, G_KIND]) == RANGE:
            force = load_n(road, all_up, t.goals[g, G_SPEED], 0.0)
            if force > 0.0 and 3600.0 * pa[P_AH] * t.means[p] / force < t.goals[g, G_TARGET]:
                return True
    return False


@jit
def helps(t, mo, co, pa, p, n, ceiling, battery, red, crank):
    """Whether a fifth of the pull at rest is left at the cadence."""
    at = t.emf[p, crank.charge]
    limit_a = supply_a(at, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
    w = red[R_RATIO] * crank.cadence * PER_RPM
    still = mo[M_K] * (edge_current_a(mo, co, pa, n, ceiling, limit_a, at, 0.0) - mo[M_A]) - red[R_DRAG]
    turning = mo[M_K] * (edge_current_a(mo, co, pa, n, ceiling, limit_a, at, w) - mo[M_A] - mo[M_B] * w) - red[R_DRAG]
    return turning >= ASSIST_SHARE * still


@jit
def through(red, crank, gear, geared):
    """Write the reduction with a gear behind it."""
    for k in range(red.size):
        geared[k] = red[k]
    geared[R_RATIO] = red[R_RATIO] * crank.ratios[gear]
    geared[R_EFF] = red[R_EFF] * crank.efficiency


@jit
def met(t, mo, co, p, n, ceiling, battery, road, mass, cost, red, crank, geared):
    """Whether every goal is met in some gear, limits in all, and belts and chains bear in the gear that is ridden at each speed."""
    last = crank.ratios.size - 1
    for i in range(crank.order.size):
        g = crank.order[i]
        kind = int(t.goals[g, G_KIND])
        if kind in (OF_BUDGET, OF_MASS):
            continue  # known before a reduction is put together
        if kind <= CLIMB:
            through(red, crank, crank.ridden[g], geared)
            torque = held_torque_nm(n, road, road[W_MASS] + mass, geared, t.goals[g, G_SPEED], t.goals[g, G_GRADE])
            if torque > red[R_LASTING] * t.room[3]:
                return False
        limit, found = kind in (SPEED_LIMIT, POWER_LIMIT), False
        for turn in range(1 if kind == START else last + 1):
            # no gear starts better than the lowest, and a limit is passed in the highest first
            through(red, crank, 0 if kind == START else last - turn, geared)
            found = meets(t, g, mo, co, p, n, ceiling, battery, road, mass, cost, geared, -1)
            if found != limit:
                break
        if not found:
            return False
    return True


@jit
def worth_a_look(t, made, at, road, n, cost, mass, most_cost, most_mass, torque, light, crank, ends, queue):
    """How many reductions are written to `queue`: of each narrow step of the ratio the cheapest and the lightest that carry the torque
    for seconds and what the lightest drive asks for good in the gears that are ridden, and would better what is known.
    """
    most = 0.0
    for g in range(t.goals.shape[0]):
        if int(t.goals[g, G_KIND]) <= CLIMB:
            force = load_n(road, road[W_MASS] + mass + light, t.goals[g, G_SPEED], t.goals[g, G_GRADE])
            most = max(most, force * road[W_RADIUS] / (n * crank.ratios[crank.ridden[g]] * crank.efficiency))
    found = 0
    cell = cheapest = lightest = -1
    for k in range(first_at(made.ratio, ends[0]), made.ratio.size + 1):
        over = k == made.ratio.size or made.ratio[k] > ends[1]
        if over or made.cell[k] != cell:
            if cheapest >= 0:
                queue[found], found = cheapest, found + 1
                if lightest != cheapest:
                    queue[found], found = lightest, found + 1
            if over:
                break
            cell, cheapest, lightest = made.cell[k], -1, -1
        total, whole = cost + made.price[k], mass + made.mass[k]
        if total > most_cost or whole > most_mass or (total >= at[0, 0] and whole >= at[1, 0]):
            continue
        gain = made.ratio[k] * made.efficiency[k]
        if torque > made.capacity[k] * t.room[3] or torque * gain > crank.most_nm:
            continue
        if most / gain + made.drag[k] > made.lasting[k] * t.room[3] * (1.0 + 1e-9):
            continue
        if cheapest < 0 or made.price[k] < made.price[cheapest]:
            cheapest = k
        if lightest < 0 or made.mass[k] < made.mass[lightest]:
            lightest = k
    return found


@jit
def search_middle(t, m, wi, crank, made, slots, stop, bound, one):
    """The cheapest and the lightest middle drive of one motor on one wheel for every cell; slots (cells, 2, SLOT).

    bound: a cost to stay under; with `one` only the cheapest of all is wanted, so it falls with every find, of any thread.
    """
    mo, n, road = t.motors[m], 1.0, t.roads[wi, 0]
    red, geared, ends, pulls = np.zeros(R_COLUMNS), np.zeros(R_COLUMNS), np.zeros(4), np.zeros((t.goals.shape[0], 4))
    spans = np.zeros((t.goals.shape[0], 2))
    cheap, light, heaviest = np.min(made.price), np.min(made.mass), np.max(made.mass)
    lowest, queue = crank.ratios[0] * crank.efficiency, np.zeros(made.ratio.size + 2, dtype=np.int64)
    most_cost, most_mass = 1e300, 1e300
    for g in range(t.goals.shape[0]):
        if int(t.goals[g, G_KIND]) == OF_BUDGET:
            most_cost = min(most_cost, t.goals[g, G_TARGET])
        if int(t.goals[g, G_KIND]) == OF_MASS:
            most_mass = min(most_mass, t.goals[g, G_TARGET])
    for c in range(t.controllers.shape[0]):
        co = t.controllers[c]
        if stop[0] != 0:
            return
        if co[C_BRUSHED] != mo[M_BRUSHED]:
            continue
        bought = (n - min(n, mo[M_OWNED])) * mo[M_PRICE] + (n - min(n, co[C_OWNED])) * co[C_PRICE] + road[W_WHEEL_PRICE]
        heavy = n * (mo[M_MASS] + co[C_MASS]) + road[W_WHEEL_MASS]
        for p in range(t.packs.shape[0]):
            pa = t.packs[p]
            cost, mass, full = bought + pa[P_PRICE], heavy + pa[P_MASS], pa[P_FULL]
            if cost + cheap > most_cost or cost + cheap >= bound[0]:
                break  # packs come by price
            if (
                mass + light > most_mass
                or full > t.room[0] * min(co[C_VOLTS], mo[M_VOLTS])
                or co[C_DUTY] * full / mo[M_K] > t.room[2] * mo[M_RAD_S]
            ):
                continue
            at = slots[int(pa[P_CELL])]
            if (cost + cheap >= at[0, 0] and mass + light >= at[1, 0]) or too_far(t, pa, p, road, road[W_MASS] + mass + light):
                continue
            battery = n * t.amps[c, p, 0]
            for level in range(t.levels.size):
                ceiling = mo[M_DC] * setting_amps(t.levels[level] * t.room[1] * min(mo[M_PEAK], co[C_BURST]))
                if not window(t, mo, co, pa, p, road, n, ceiling, battery, road[W_MASS] + mass + light, crank, ends):
                    continue
                torque = mo[M_K] * ceiling
                found = worth_a_look(t, made, at, road, n, cost, mass, most_cost, most_mass, torque, light, crank, ends, queue)
                if found == 0:
                    continue
                if not spans_of(t, mo, co, pa, p, road, n, ceiling, battery, road[W_MASS] + mass + light, crank, spans):
                    continue
                too_fast(t, mo, co, pa, p, road, n, ceiling, battery, road[W_MASS] + mass + heaviest, crank, ends)
                start_pulls(t, mo, co, pa, p, road, n, ceiling, battery, -1, pulls)
                for i in range(found):
                    k = queue[i]
                    total, whole = cost + made.price[k], mass + made.mass[k]
                    if total >= bound[0]:
                        continue
                    if ends[2] < made.ratio[k] < ends[3] or (total >= at[0, 0] and whole >= at[1, 0]):
                        continue
                    if not in_some_gear(spans, made.ratio[k], crank):
                        continue
                    if not starts(pulls, road[W_MASS] + whole, made.ratio[k] * made.efficiency[k] * lowest):
                        continue
                    first, second = made.first[k], made.second[k]
                    reduce_with(t, 0, first, second, red)
                    if not helps(t, mo, co, pa, p, n, ceiling, battery, red, crank):
                        continue
                    if met(t, mo, co, p, n, ceiling, battery, road, whole, total, red, crank, geared):
                        if total < at[0, 0]:
                            keep(at[0], total, c, level, p, first, second, 0, whole)
                            if one:
                                bound[0] = min(bound[0], total)
                        if whole < at[1, 0]:
                            keep(at[1], whole, c, level, p, first, second, 0, total)
