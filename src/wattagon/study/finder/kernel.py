"""The compiled search: every combination of one motor, cut by bounds that cannot lose a hit, the rest judged exactly.

Loading this module loads the compiler.  For motor, count, controller, current level and pack (an "electrical half") the goals are:
  money, mass                known but for the reduction: its least is added, so a half over a limit stays over it;
  range                      at least F d leaves the cells, F at the least mass and no loss at all;
  a speed held on a grade    needs F v, F at the least mass, from n motors at their current limit and from the pack at its own;
                             and, with the ratio x of the reduction as the only unknown, an interval of ratios: the motor current
                             I(x) = (F r/(n x e) + drag)/K + a + b x v/r is convex in x, so are K w + R I, w I and the power
                             n (K w I + R I^2 + V_b I), while the volts that power leaves are concave in it: every limit holds on an interval.
                             It is found with the best efficiency, no drag and the least mass of all reductions, which makes it no
                             narrower than that of any of them (a test holds it against the whole product).
A half with two goals out of reach is dropped, and one that could not better what its cluster has.  Reductions inside the intervals
are judged with their own values, by price and by mass, by the same balances as the drive study: thrust falls and load grows with
speed, so a top speed reaches v just when v itself can be held.
"""

from __future__ import annotations

import math

import numba

jit = numba.njit(nogil=True, cache=True, error_model="numpy")
GRAVITY = 9.80665
RPM = 9.549296585513721
TOP, CLIMB, START, SPRINT, RANGE, BUDGET, MASS, SPEED_LIMIT = 0, 1, 2, 3, 4, 5, 6, 7
GOAL_KIND, GOAL_SPEED, GOAL_GRADE, GOAL_CHARGE, GOAL_TARGET = 0, 1, 2, 3, 4
RATIO_LOW, RATIO_HIGH = 0.2, 60.0
HALVINGS = 14
GOLDEN = 0.6180339887498949
SPRINT_POINTS = 160


@jit
def load_n(road, mass, v, grade):
    """Thrust that holds a speed."""
    cos = 1.0 / math.sqrt(1.0 + grade * grade)
    weight = mass * GRAVITY
    air = v + road[5]
    return (road[1] + road[2] * v) * weight * cos + road[3] * air * abs(air) + weight * grade * cos


@jit
def supply_a(emf, ohm, pack_limit, battery, start, end):
    """What the pack gives at most: limits of controllers and cells, and the low-voltage cutback as a fixed point."""
    most = emf / max(2.0 * ohm, 1e-12)
    base = min(battery, most)
    low = base * (emf - end) / max(start - end + base * ohm, 1e-12)
    return min(min(battery, min(pack_limit, most)), min(max(low, 0.0), base))


@jit
def excess(k, ohm, reactive_h, a, b, brush, n, bridge, switching, idle, duty, ceiling, erpm_start, erpm_end, pairs, emf, pack_ohm, limit_a, force, radius, v, ratio, eff, drag):
    """How far a point is beyond what the drive can hold: the largest of needed over allowed less 1; at or below 0 it is held."""
    w = ratio * v / radius
    current = (force * radius / (n * ratio * eff) + drag) / k + a + b * w if w > 0.0 else (force * radius / (n * ratio * eff) + drag) / k
    allowed = ceiling
    rpm = pairs * w * RPM
    if rpm > erpm_start:
        allowed = ceiling * max((erpm_end - rpm) / max(erpm_end - erpm_start, 1e-9), 0.0)
    worst = current / max(allowed, 1e-9) - 1.0
    in_phase = k * w + (ohm + bridge) * current + brush
    power = n * (current * in_phase + idle)
    left = emf - pack_ohm * n * switching * current
    square = left * left - 4.0 * pack_ohm * power
    if square < 0.0:
        return max(worst, 1.0 + power * 4.0 * pack_ohm / (left * left))
    volts = 0.5 * (left + math.sqrt(square))
    pack_a = power / volts + n * switching * current
    worst = max(worst, pack_a / max(limit_a, 1e-9) - 1.0)
    reactive = reactive_h * w * current
    return max(worst, math.sqrt(in_phase * in_phase + reactive * reactive) / (duty * volts) - 1.0)


@jit
def duty_current(k, ohm, reactive_h, brush, n, switching, idle, duty, emf, pack_ohm, w):
    """Current at full duty: two Newton steps from the closed root, as powertrain.current_at_full_duty_a."""
    emf_motor = k * w + brush
    applied = duty * emf
    room = applied - emf_motor
    if room <= 0.0:
        return 0.0
    reactive2 = (reactive_h * w) ** 2
    sag = duty * pack_ohm * n * (duty + switching)
    linear = emf_motor * ohm + applied * sag
    rest = room * (applied + emf_motor)
    current = rest / (linear + math.sqrt(max(linear * linear + (ohm * ohm + reactive2 - sag * sag) * rest, 0.0)))
    for _ in range(2):
        in_phase = emf_motor + ohm * current
        total = max(math.sqrt(in_phase * in_phase + reactive2 * current * current), 1e-9)
        slope = (in_phase * ohm + reactive2 * current) / total
        share = duty / total
        power = n * current * in_phase + n * idle
        value = emf - total / duty - pack_ohm * (share * power + n * switching * current)
        change = slope / duty + pack_ohm * (share * (n * (in_phase + ohm * current) - power * slope / total) + n * switching)
        if change > 1e-9:
            current = max(current + value / change, 0.0)
    if total / duty < 0.5 * (emf - pack_ohm * n * switching * current):
        return 1e30
    return current


@jit
def most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, v):
    """Largest thrust at a speed on the level: the edge of the drive study."""
    w = red[0] * v / road[4]
    ohm = mo[1] + co[6]
    current = ceiling
    rpm = mo[3] * (1.0 - mo[14]) * w * RPM
    if rpm > co[4]:
        current = ceiling * max((co[5] - rpm) / max(co[5] - co[4], 1e-9), 0.0)
    current = min(current, duty_current(mo[0], ohm, mo[3] * mo[2], mo[6], n, co[7], co[8], co[3], emf, pa[3], w))
    volts = emf - pa[3] * limit_a
    room = max(volts * limit_a / n - co[8], 0.0)
    linear = mo[0] * w + co[7] * volts + mo[6]
    current = min(current, 2.0 * room / max(linear + math.sqrt(linear * linear + 4.0 * ohm * room), 1e-12))
    loss = mo[0] * (mo[4] + mo[5] * w)  # no-load current turns up at standstill as well: as the edge has it
    force = n * red[0] * red[1] * max(mo[0] * current - loss - red[2], 0.0) / road[4]
    force = min(force, n * red[0] * red[1] * red[3] / road[4])
    return min(force, min(road[6], road[7]) * mass * GRAVITY)


@jit
def sprint_met(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, v, target):
    """Whether 0 to v takes no longer than the target: bounds from both sides first, then the study's own trapezoids."""
    moving = mass + road[8] + red[1] * n * mo[15] * (red[0] / road[4]) ** 2
    first = most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, 0.0) - load_n(road, mass, 0.0, 0.0)
    last = most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, v) - load_n(road, mass, v, 0.0)
    if last <= 0.0 or first <= 0.0 or moving * v / first > target:
        return False
    if moving * v / last <= target:
        return True
    for parts in (8, 32):  # thrust left over falls with speed: each cell lies between its two ends
        wide, low, high, left = v / parts, 0.0, 0.0, first
        for i in range(1, parts + 1):
            right = last
            if i < parts:
                right = most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, i * wide) - load_n(road, mass, i * wide, 0.0)
            if right <= 0.0:
                return False
            low, high, left = low + moving * wide / left, high + moving * wide / right, right
        if low > target * 1.0001:
            return False
        if high <= target * 0.9999:
            return True
    step = v / (SPRINT_POINTS - 1)
    total = 0.5 * (moving / first + moving / last)
    for i in range(1, SPRINT_POINTS - 1):
        spare = most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, i * step) - load_n(road, mass, i * step, 0.0)
        if spare <= 0.0:
            return False
        total += moving / spare
        if total * step > target:
            return False
    return total * step <= target


@jit
def range_m(mo, co, pa, emf_steps, n, ceiling, battery, road, mass, red, v):
    """Steady range: as point.steady_range_m, 20 steps of charge."""
    force = load_n(road, mass, v, 0.0)
    if force < 0.0:
        return 1e9
    w = red[0] * v / road[4]
    current = (force * road[4] / (n * red[0] * red[1]) + red[2]) / mo[0] + mo[4] + mo[5] * w
    in_phase = mo[0] * w + (mo[1] + co[6]) * current + mo[6]
    power = n * (current * in_phase + co[8])
    total = 0.0
    for i in range(emf_steps.size):
        emf = emf_steps[i]
        left = emf - pa[4] * n * co[7] * current
        square = left * left - 4.0 * pa[4] * power
        if square < 0.0:
            continue
        limit_a = supply_a(emf, pa[3], pa[1], battery, pa[7], pa[8])
        beyond = excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, red[0], red[1], red[2])
        if beyond > 0.0:
            continue
        pack_a = power / (0.5 * (left + math.sqrt(square))) + n * co[7] * current
        if pack_a > 0.0:
            total += v / pack_a
    return total * 0.8 / emf_steps.size * 3600.0 * pa[2]


@jit
def holds(mo, co, pa, n, ceiling, battery, emf, road, mass, red, v, grade):
    """Whether a speed on a grade is held: every limit of the edge."""
    force = load_n(road, mass, v, grade)
    cos = 1.0 / math.sqrt(1.0 + grade * grade)
    if force > min(road[6], road[7]) * mass * GRAVITY * cos or force > n * red[0] * red[1] * red[3] / road[4]:
        return False
    limit_a = supply_a(emf, pa[3], pa[1], battery, pa[7], pa[8])
    loss_a = mo[4] if v <= 0.0 else 0.0  # the study counts the standing no-load current at rest too
    return excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, red[0], red[1], red[2] + mo[0] * loss_a) <= 0.0


@jit
def ratio_interval(mo, co, pa, n, ceiling, battery, emf, road, mass, v, grade, eff, drag):
    """(least, largest) ratio at which a point may be held with the best of reductions; (1, 0) where none does."""
    force = load_n(road, mass, v, grade)
    if force <= 0.0:
        return RATIO_LOW, RATIO_HIGH
    limit_a = supply_a(emf, pa[3], pa[1], battery, pa[7], pa[8])
    low, high = math.log(RATIO_LOW), math.log(RATIO_HIGH)
    a, b = low, high
    best, at = 1e30, low
    x1, x2 = b - GOLDEN * (b - a), a + GOLDEN * (b - a)
    f1 = excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, math.exp(x1), eff, drag)
    f2 = excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, math.exp(x2), eff, drag)
    for _ in range(26):  # convex in the ratio, so it has one valley: golden section until a point is held
        if f1 < best:
            best, at = f1, x1
        if f2 < best:
            best, at = f2, x2
        if best <= 0.0:
            break
        if f1 < f2:
            b, x2, f2 = x2, x1, f1
            x1 = b - GOLDEN * (b - a)
            f1 = excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, math.exp(x1), eff, drag)
        else:
            a, x1, f1 = x1, x2, f2
            x2 = a + GOLDEN * (b - a)
            f2 = excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, math.exp(x2), eff, drag)
    if best > 1e-4:  # the valley itself is out of reach; a hair is left to rounding
        return 1.0, 0.0
    l_in, l_out, h_in, h_out = at, low, at, high
    for _ in range(HALVINGS):
        x1 = 0.5 * (l_in + l_out)
        if excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, math.exp(x1), eff, drag) <= 0.0:
            l_in = x1
        else:
            l_out = x1
        x2 = 0.5 * (h_in + h_out)
        if excess(mo[0], mo[1], mo[3] * mo[2], mo[4], mo[5], mo[6], n, co[6], co[7], co[8], co[3], ceiling, co[4], co[5], mo[3] * (1.0 - mo[14]), emf, pa[3], limit_a, force, road[4], v, math.exp(x2), eff, drag) <= 0.0:
            h_in = x2
        else:
            h_out = x2
    return math.exp(l_out), math.exp(h_out)


@jit
def setting_amps(amps):
    """A current setting in the handy steps of the levers, at or below a rating."""
    step = 1.0 if amps < 20.0 else 2.0 if amps < 40.0 else 5.0 if amps < 150.0 else 10.0 if amps < 300.0 else 20.0
    return max(step * math.floor(amps / step + 1e-9), 1.0)


@jit
def best_range_m(mo, co, pa, emf_mean, n, road, mass, v, eff, low, high):
    """A range that no reduction with a ratio in the interval can beat: pack amps are at least power over emf, so the steps of charge add up to
    at most the mean emf over that power.

    Pack amps at a given emf grow with the power n (I V_q + P0), which is convex in the ratio: least at the foot of its valley.
    """
    force = load_n(road, mass, v, 0.0)
    if force <= 0.0:
        return 1e12
    a, b = math.log(low), math.log(high)
    least = 1e30
    for _ in range(10):
        x1, x2 = b - GOLDEN * (b - a), a + GOLDEN * (b - a)
        p1, p2 = 0.0, 0.0
        for k in range(2):
            ratio = math.exp(x1 if k == 0 else x2)
            w = ratio * v / road[4]
            current = force * road[4] / (n * ratio * eff * mo[0]) + mo[4] + mo[5] * w
            power = n * (current * (mo[0] * w + (mo[1] + co[6]) * current + mo[6]) + co[8])
            if k == 0:
                p1 = power
            else:
                p2 = power
        least = min(least, min(p1, p2))
        if p1 < p2:
            b = x2
        else:
            a = x1
    # ten cuts leave 1 % of the interval: the foot is lower by less than this
    return v * 0.8 * 3600.0 * pa[2] * emf_mean / (least * 0.99)


@jit
def first_at(ratios, x):
    """Index of the first ratio at or over x."""
    low, high = 0, ratios.size
    while low < high:
        middle = (low + high) // 2
        if ratios[middle] < x:
            low = middle + 1
        else:
            high = middle
    return low


@jit
def fails_of(mo, co, packs, p, n, ceiling, battery, emf, range_emf, road, mass, cost, all_mass, red, goals, skip, most):
    """(how many goals a combination fails, up to `most` + 1; the last of them); `skip` is known to fail and is not counted."""
    fails, miss = 0, -1
    pa = packs[p]
    for turn in range(3):  # the quick ones first
        for g in range(goals.shape[0]):
            if g == skip:
                continue
            kind, target = int(goals[g, 0]), goals[g, 4]
            ok = True
            if turn == 0:
                if kind == BUDGET:
                    ok = cost <= target
                elif kind == MASS:
                    ok = mass <= target
            elif turn == 1:
                if kind <= START:
                    ok = holds(mo, co, pa, n, ceiling, battery, emf[p, int(goals[g, 3])], road, all_mass, red, goals[g, 1] if kind != START else 0.0, goals[g, 2])
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
def search_motor(m, drop, motors, controllers, packs, emf, range_emf, reductions, ratios, queue, roads, counts, levels, setting, goals, least, best_red, means, kindest, reach, stop, hits, near, tally):
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
        for p in range(packs.shape[0]):  # range with the least lossy controller and the best ratio: no half with this pack does better
            reach[p] = 1e12
            if packs[p, 0] > mo[9]:
                continue
            light = road[0] + n * mo[11] + packs[p, 5] + least[ci, 0]
            for g in range(n_goals):
                if int(goals[g, 0]) == RANGE:
                    reach[p] = best_range_m(mo, kindest, packs[p], means[p], n, road, light, goals[g, 1], best_red[0], RATIO_LOW, RATIO_HIGH)
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
                    if kind <= START and min(road[6], road[7]) < road[1] + road[2] * goals[g, 1] + goals[g, 2] - 1e-9:
                        bad = True  # grip or lift: a share of the weight, so no mass helps
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
                    tally[0] += 1
                    bads = 0
                    for g in range(n_goals):
                        kind = int(goals[g, 0])
                        lows[g], highs[g] = RATIO_LOW, RATIO_HIGH
                        if kind <= START and g != drop:
                            lows[g], highs[g] = ratio_interval(mo, co, pa, n, ceiling, battery, emf[p, int(goals[g, 3])], road, all_up, goals[g, 1] if kind != START else 0.0, goals[g, 2], best_red[0], best_red[1])
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
                            bad = best_range_m(mo, co, pa, means[p], n, road, all_up, v, best_red[2] if low > 1.001 else best_red[0], low, high) < target
                        elif kind == SPRINT:
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
                            if (reductions[r, 8] == 0.0) == (mo[16] > 0.0) and torque <= reductions[r, 3] and base + reductions[r, column] < best_value:
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
                            fails, _ = fails_of(mo, co, packs, p, n, ceiling, battery, emf, range_emf, road, total_mass, total_cost, road[0] + total_mass, red, goals, drop, 0)
                            if fails > 0:
                                continue
                            if drop >= 0:
                                fails, _ = fails_of(mo, co, packs, p, n, ceiling, battery, emf, range_emf, road, total_mass, total_cost, road[0] + total_mass, red, goals, -1, 0)
                                if fails > 0 and total_cost < near[drop, 0]:
                                    near[drop, 0], near[drop, 1], near[drop, 2], near[drop, 3] = total_cost, n, float(c), float(level)
                                    near[drop, 4], near[drop, 5], near[drop, 6], near[drop, 7] = float(p), float(r), total_mass, float(m)
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
        fails, miss = fails_of(mo, co, packs, p, n, ceiling, n * setting[c, p, ci], emf, range_emf, road, mass, cost, road[0] + mass, red, goals, -1, 1)
        if fails == 0:
            passed += 1
        elif fails == 1:
            removed[miss] += 1
    return passed, rated
