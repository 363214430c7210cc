"""The compiled search: every combination of one motor, cut by bounds that cannot lose a hit, the rest judged exactly.

Loading this module loads the compiler.  For motor, count, controller, current level and pack (an "electrical half") the goals are:
  money, mass                known but for the reduction: its least is added, so a half over a limit stays over it;
  range                      not beyond v over the least pack current: least power over all ratios (convex in the ratio), least mass, best
                             efficiency, least lossy controller;
  a speed held on a grade    needs F v, F at the least mass: from n motors at most n I (D E - R I), from the pack at most its limit times
                             the volts left under it; a start needs no more than the largest ratio in stock gives;
                             and, with the ratio x of the reduction as the only unknown, an interval of ratios: the motor current
                             I(x) = (F r/(n x e) + drag)/K + a + b x v/r is convex in x, so are K w + R I, w I and the power
                             n (K w I + R I^2 + V_b I), while the volts that power leaves are concave in it: every limit holds on an interval.
                             It is found with the best efficiency, no drag and the least mass of all reductions, which makes it no
                             narrower than that of any of them (a test holds it against the whole product).
A half with a goal out of reach is dropped, and one that could not better what its cluster has.  Reductions inside the intervals
are judged with their own values, by price and by mass, by the same balances as the drive study: thrust falls and load grows with
speed, so a top speed reaches v just when v itself can be held.
"""

from __future__ import annotations

from wattagon.study.finder.points import (
    GRAVITY,
    RATIO_HIGH,
    RATIO_LOW,
    best_range_m,
    first_at,
    holds,
    jit,
    load_n,
    range_m,
    ratio_interval,
    setting_amps,
    sprint_met,
    supply_a,
)

TOP, CLIMB, START, SPRINT, RANGE, BUDGET, MASS, SPEED_LIMIT = range(8)  # kinds of goal


@jit
def fails_of(mo, co, packs, p, n, ceiling, battery, emf, range_emf, road, mass, cost, all_mass, red, goals, most):
    """(how many goals a combination fails, up to `most` + 1; the last of them)."""
    fails, miss = 0, -1
    pa = packs[p]
    for turn in range(3):  # the quick ones first
        for g in range(goals.shape[0]):
            kind, target = int(goals[g, 0]), goals[g, 4]
            ok = True
            if turn == 0:
                if kind == BUDGET:
                    ok = cost <= target
                elif kind == MASS:
                    ok = mass <= target
            elif turn == 1:
                if kind <= START:
                    ok = holds(
                        mo,
                        co,
                        pa,
                        n,
                        ceiling,
                        battery,
                        emf[p, int(goals[g, 3])],
                        road,
                        all_mass,
                        red,
                        goals[g, 1] if kind != START else 0.0,
                        goals[g, 2],
                    )
                elif kind == SPEED_LIMIT:
                    ok = not holds(mo, co, pa, n, ceiling, battery, emf[p, 0], road, all_mass, red, goals[g, 1], 0.0)
            elif kind == RANGE:
                ok = range_m(mo, co, pa, range_emf[p], n, ceiling, battery, road, all_mass, red, goals[g, 1]) >= target
            elif kind == SPRINT:
                at = emf[p, int(goals[g, 3])]
                limit_a = supply_a(at, pa[3], pa[1], battery, pa[7], pa[8])
                ok = sprint_met(mo, co, pa, n, ceiling, limit_a, at, road, all_mass, red, goals[g, 1], target)
            if not ok:
                fails, miss = fails + 1, g
                if fails > most:
                    return fails, miss
    return fails, miss


@jit
def search_motor(
    m,
    drop,
    motors,
    controllers,
    packs,
    emf,
    range_emf,
    reductions,
    ratios,
    queue,
    roads,
    counts,
    levels,
    setting,
    goals,
    least,
    best_red,
    means,
    kindest,
    reach,
    stop,
    hits,
    near,
    tally,
):
    """The cheapest and the lightest combination of one motor in every cluster of count and cell.  Written for it:

    hits (count, cell, 2, 6): of each cluster the cheapest and the lightest: value, controller, level, pack, reduction, other
    value.  With `drop` at 0 or more that goal is left out, and only near[drop] is written: the cheapest that fails that goal alone.
    tally: halves looked into, combinations judged.
    packs come by price, reductions by ratio; queue is room for their indices.  best_red: best efficiency and least drag of any,
    best efficiency of those with a stage.  A half that cannot be better than
    what its cluster has is passed over: price and mass of a combination are at least those of its half with the least reduction.
    setting (controllers, packs, counts): pack amps of each controller; least (counts, 2): mass and price of the least reduction.
    """
    mo = motors[m]
    n_goals, n_reductions = goals.shape[0], reductions.shape[0]
    lows, highs = [0.0] * 16, [0.0] * 16
    for ci in range(counts.size):
        n, road = counts[ci], roads[ci]
        mass_at, price_at = (4, 5) if n < 1.5 else (6, 7)
        for p in range(
            packs.shape[0]
        ):  # range with the least lossy controller and the best ratio: no half with this pack does better
            reach[p] = 1e12
            if packs[p, 0] > mo[9]:
                continue
            light = road[0] + n * mo[11] + packs[p, 5] + least[ci, 0]
            for g in range(n_goals):
                if int(goals[g, 0]) == RANGE:
                    reach[p] = best_range_m(
                        mo, kindest, packs[p], means[p], n, road, light, goals[g, 1], best_red[0], RATIO_LOW, RATIO_HIGH
                    )
        for c in range(controllers.shape[0]):
            co = controllers[c]
            if stop[0] != 0:
                return
            if co[12] != mo[14]:
                continue
            cost1 = (n - min(n, mo[13])) * mo[12] + (n - min(n, co[11])) * co[10]
            mass1 = n * (mo[11] + co[9])
            for p in range(packs.shape[0]):
                pa = packs[p]
                if pa[0] > co[0] or pa[0] > mo[9] or co[3] * pa[0] / mo[0] > mo[10]:
                    continue
                cost, mass, cell = cost1 + pa[6], mass1 + pa[5], int(pa[9])
                all_up = road[0] + mass + least[ci, 0]
                failed = 0
                for g in range(n_goals):
                    kind, target = int(goals[g, 0]), goals[g, 4]
                    bad = False
                    if g == drop:
                        continue
                    if kind == BUDGET:
                        bad = cost + least[ci, 1] > target
                    elif kind == MASS:
                        bad = mass + least[ci, 0] > target
                    elif kind == RANGE:
                        bad = reach[p] < target
                    elif kind <= CLIMB:
                        bad = load_n(road, all_up, goals[g, 1], goals[g, 2]) * goals[g, 1] > emf[p, 0] * min(pa[1], n * co[2])
                    if (
                        kind <= START
                        and goals[g, 1] + road[5] >= 0.0
                        and min(road[6], road[7]) < road[1] + road[2] * goals[g, 1] + goals[g, 2] - 1e-9
                    ):
                        bad = True  # grip or lift: a share of the weight, so no mass helps, nor air that holds back
                    if bad:
                        failed = 1
                        break
                if failed > 0:
                    continue
                cheaper, lighter = cost + least[ci, 1] < hits[ci, cell, 0, 0], mass + least[ci, 0] < hits[ci, cell, 1, 0]
                if drop >= 0:
                    cheaper, lighter = cost + least[ci, 1] < near[drop, 0], False
                if not (cheaper or lighter):
                    continue
                battery = n * setting[c, p, ci]
                for level in range(levels.size):
                    ceiling = mo[7] * setting_amps(levels[level] * min(mo[8], co[1]))
                    short = False
                    ohm = mo[1] + co[6]
                    for g in range(n_goals):
                        kind = int(goals[g, 0])
                        if kind > START or g == drop:
                            continue
                        at, force = (
                            emf[p, int(goals[g, 3])],
                            load_n(road, all_up, goals[g, 1] if kind != START else 0.0, goals[g, 2]),
                        )
                        if force * road[4] > n * ratios[n_reductions - 1] * mo[0] * ceiling:
                            short = True  # not even with the largest ratio there is
                            break
                        if kind != START:
                            # the shaft gets at most I (D E - R I) of a motor, and the bus what the pack's limit leaves after its sag
                            push = min(ceiling, 0.5 * co[3] * at / ohm)
                            drawn = supply_a(at, pa[3], pa[1], battery, pa[7], pa[8])
                            power = min(n * push * (co[3] * at - ohm * push), drawn * (at - pa[3] * drawn))
                            if force * goals[g, 1] > power:
                                short = True
                                break
                    if short:
                        continue
                    tally[0] += 1
                    bads = 0
                    for g in range(n_goals):
                        kind = int(goals[g, 0])
                        lows[g], highs[g] = RATIO_LOW, RATIO_HIGH
                        if kind <= START and g != drop:
                            lows[g], highs[g] = ratio_interval(
                                mo,
                                co,
                                pa,
                                n,
                                ceiling,
                                battery,
                                emf[p, int(goals[g, 3])],
                                road,
                                all_up,
                                goals[g, 1] if kind != START else 0.0,
                                goals[g, 2],
                                best_red[0],
                                best_red[1],
                            )
                            if lows[g] > highs[g]:
                                bads = 1
                                break
                    if bads > 0:
                        continue
                    low, high = RATIO_LOW, RATIO_HIGH
                    for g in range(n_goals):
                        if g != drop:
                            low, high = max(low, lows[g] * 0.9999), min(high, highs[g] * 1.0001)
                    torque = mo[0] * ceiling
                    for g in range(n_goals):  # with the interval known, range and sprint have closer bounds
                        kind, target, v = int(goals[g, 0]), goals[g, 4], goals[g, 1]
                        if g == drop or low > high:
                            continue
                        bad = False
                        if kind == RANGE:
                            bad = (
                                best_range_m(
                                    mo,
                                    co,
                                    pa,
                                    means[p],
                                    n,
                                    road,
                                    all_up,
                                    v,
                                    best_red[2] if low > 1.001 else best_red[0],
                                    low,
                                    high,
                                )
                                < target
                            )
                        elif kind == SPRINT and road[5] >= 0.0:  # without a wind that pushes
                            at = emf[p, int(goals[g, 3])]
                            limit_a = supply_a(at, pa[3], pa[1], battery, pa[7], pa[8])
                            push = min(n * high * torque / road[4], min(road[6], road[7]) * all_up * GRAVITY)
                            bad = all_up * v / max(push, 1e-9) > target or 0.5 * all_up * v * v / (at * limit_a) > target
                        if bad:
                            bads = 1
                    if bads > 0:
                        continue
                    for by in range(2):
                        if (by == 0 and not cheaper) or (by == 1 and not lighter):
                            continue
                        best_value = near[drop, 0] if drop >= 0 else hits[ci, cell, by, 0]
                        column, base = (price_at, cost) if by == 0 else (mass_at, mass)
                        found = 0
                        for r in range(first_at(ratios, low), n_reductions):
                            if ratios[r] > high:
                                break
                            if (
                                (reductions[r, 8] == 0.0) == (mo[16] > 0.0)
                                and torque <= reductions[r, 3]
                                and base + reductions[r, column] < best_value
                            ):
                                queue[found], found = r, found + 1
                        for turn in range(found):
                            if turn < 12:  # the least of what is left first; after a dozen in the order of ratios
                                at = turn
                                for k in range(turn + 1, found):
                                    if reductions[queue[k], column] < reductions[queue[at], column]:
                                        at = k
                                queue[turn], queue[at] = queue[at], queue[turn]
                            r = queue[turn]
                            red = reductions[r]
                            total_cost, total_mass = cost + red[price_at], mass + red[mass_at]
                            value = total_cost if by == 0 else total_mass
                            if value >= (near[drop, 0] if drop >= 0 else hits[ci, cell, by, 0]):
                                continue
                            tally[1] += 1
                            fails, miss = fails_of(
                                mo, co, packs, p, n, ceiling, battery, emf, range_emf, road, total_mass, total_cost, road[0] + total_mass, red,
                                goals, 1 if drop >= 0 else 0,
                            )  # fmt: skip
                            if drop >= 0:
                                if fails == 1 and miss == drop and total_cost < near[drop, 0]:
                                    miss_row = near[drop]
                                    miss_row[0], miss_row[1], miss_row[2], miss_row[3] = total_cost, n, float(c), float(level)
                                    miss_row[4], miss_row[5], miss_row[6], miss_row[7] = float(p), float(r), total_mass, float(m)
                                continue
                            if fails > 0:
                                continue
                            slot = hits[ci, cell]
                            slot[by, 0], slot[by, 1], slot[by, 2] = value, float(c), float(level)
                            slot[by, 3], slot[by, 4], slot[by, 5] = float(p), float(r), total_mass if by == 0 else total_cost
                            if turn < 12:
                                break


@jit
def judge_sample(picks, motors, controllers, packs, emf, range_emf, reductions, roads, counts, levels, setting, goals, removed):
    """Of combinations given by their indices (n, 6): how many pass every goal and rating; `removed` counts those that fail one goal alone."""
    passed = rated = 0
    for i in range(picks.shape[0]):
        m, ci, c, level, p, r = picks[i, 0], picks[i, 1], picks[i, 2], picks[i, 3], picks[i, 4], picks[i, 5]
        mo, co, pa, red, n, road = motors[m], controllers[c], packs[p], reductions[r], counts[ci], roads[ci]
        if co[12] != mo[14] or pa[0] > co[0] or pa[0] > mo[9] or co[3] * pa[0] / mo[0] > mo[10]:
            continue
        ceiling = mo[7] * setting_amps(levels[level] * min(mo[8], co[1]))
        if mo[0] * ceiling > red[3] or (red[8] == 0.0) != (mo[16] > 0.0):  # a hub motor is its own wheel, others need a stage
            continue
        rated += 1
        cost = (n - min(n, mo[13])) * mo[12] + (n - min(n, co[11])) * co[10] + pa[6] + (red[5] if n < 1.5 else red[7])
        mass = n * (mo[11] + co[9]) + pa[5] + (red[4] if n < 1.5 else red[6])
        fails, miss = fails_of(
            mo, co, packs, p, n, ceiling, n * setting[c, p, ci], emf, range_emf, road, mass, cost, road[0] + mass, red, goals, 1
        )  # fmt: skip
        if fails == 0:
            passed += 1
        elif fails == 1:
            removed[miss] += 1
    return passed, rated
