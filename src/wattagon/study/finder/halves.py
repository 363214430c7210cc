"""Bounds of the compiled search: what rules an electrical half out, and the ratios it leaves.

Loading this module loads the compiler.  For count, controller, current level and pack (an "electrical half") the goals are:
  money, mass                known but for the reduction: its least is added, so a half over a limit stays over it;
  heat on the climb          a current above which the winding is too hot even without iron loss, so a ceiling for that goal;
  a speed held on a grade    needs F v, F at the least mass: from n motors at most n I (D E - R I), from the pack at most its limit times
                             the volts left under it; a start needs no more than the largest ratio in stock gives;
                             and, with the ratio x of the reduction as the only unknown, an interval of ratios: the motor current
                             I(x) = (F r/(n x e) + drag)/K + a + b x v/r is convex in x, so are K w + R I, w I and the power
                             n (K w I + R I^2 + V_b I), while the volts that power leaves are concave in it: a limit holds on an interval.
                             It is found with the best efficiency, least drag and least mass of all reductions of as many stages, which
                             makes it no narrower than that of any of them (a test holds it against the whole product);
  range                      power from the bus is convex in the ratio as well: an interval again, without drag and switching loss;
  continuous current         likewise a ceiling, that without iron loss;
  a start                    at rest nothing before the reduction depends on its ratio: leverage times one thrust must be the load, with the
                             mass of the combination itself; and grip and lift as shares of the weight;
  range, sprint, heat        over a short stretch of ratios: the least current, iron loss and inertia of one end with the leverage of the
                             other; stretches out of reach are cut off from both ends of the interval;
  a speed limit              the interval in which the limit is passed even with the worst efficiency, most drag and mass: no ratio in it.
A half with a goal out of reach is dropped, and one that could not better what is known.  Of two stages, the least price and mass over
all pairs in a bucket of the ratio that carry a torque stand in a table, and so they do for the second stages after a first one;
pairs that could better what is known are judged.  Reductions are judged with their own values by the same balances as the drive
study: thrust falls and load grows with speed, so a top speed reaches v just when v itself can be held.
"""

from __future__ import annotations

import math

import numpy as np

from wattagon.physics.road import SLOW_PEDALS_M_S
from wattagon.study.finder.columns import (
    BUDGET,
    C_BRIDGE,
    C_DUTY,
    C_IDLE,
    C_PACK,
    C_SWITCHING,
    CLIMB,
    G_CHARGE,
    G_GRADE,
    G_KIND,
    G_SPEED,
    G_TARGET,
    LASTS,
    M_A,
    M_B,
    M_BRUSH,
    M_INERTIA,
    M_K,
    M_LIMIT_C,
    M_OHM,
    MASS,
    P_AH,
    P_BURST,
    P_CUT_END,
    P_CUT_START,
    P_OHM,
    P_STEADY,
    RANGE,
    SPEED_LIMIT,
    SPRINT,
    START,
    STEADY,
    W_AIR,
    W_GRIP,
    W_INERTIA,
    W_LIFT,
    W_MASS,
    W_RADIUS,
    W_RIDER,
    W_RIDER_TOP,
    W_ROLLING,
    W_SLOPE,
    W_WIND,
)
from wattagon.study.finder.intervals import (
    range_interval,
    ratio_interval,
)
from wattagon.study.finder.points import (
    GRAVITY,
    RATIO_HIGH,
    RATIO_LOW,
    edge_current_a,
    excess,
    held_winding_c,
    jit,
    lasting_current_a,
    load_n,
    supply_a,
)

SPRINT_PARTS = 12
FINEST = (0.02, 0.02, 0.002)  # of the logarithm of the ratio, by how many stages
MOST_LOOKS = 1000


@jit
def out_of_reach(t, mo, co, pa, p, ci, road, n, cost, mass, kind, drop):
    """Whether price, mass, power or ground already rule out a motor, controller and pack with any reduction of a kind."""
    all_up = road[W_MASS] + mass + t.least[kind, ci, 1]
    share = min(road[W_GRIP], road[W_LIFT])
    for g in range(t.goals.shape[0]):
        if g == drop:
            continue
        row = t.goals[g]
        of, target, v, grade = int(row[G_KIND]), row[G_TARGET], row[G_SPEED], row[G_GRADE]
        if of == BUDGET:
            if cost + t.least[kind, ci, 0] > target:
                return True
        elif of == MASS:
            if mass + t.least[kind, ci, 1] > target:
                return True
        elif of == RANGE:
            force = load_n(road, all_up, v, 0.0) / t.kinds[kind, 0]  # all losses left out but those of the stages
            if force > 0.0 and 3600.0 * pa[P_AH] * t.means[p] / force < target:
                return True
        elif of <= START:
            if of != START and load_n(road, all_up, v, grade) * v > t.emf[p, 0] * min(pa[P_BURST], n * co[C_PACK]):
                return True
            held = v if of != START else 0.0
            grip = share * all_up * GRAVITY / math.sqrt(1.0 + grade * grade)
            if share < road[W_ROLLING] + road[W_SLOPE] * held + grade - 1e-9 and load_n(road, all_up, held, grade) > grip:
                return True  # grip or lift: a share of the weight that is less than what weight asks for, so more mass only makes it worse
    return False


@jit
def most_current(t, mo, co, g, ceiling, cool, drop):
    """The most motor current that a goal of holding a speed leaves; below 0 where the goal is no such goal or not looked at."""
    row = t.goals[g]
    of = int(row[G_KIND])
    if g == drop:
        return -1.0
    if of <= START:
        return ceiling
    if of == LASTS and (drop < 0 or int(t.goals[drop, G_KIND]) != CLIMB):
        return min(ceiling, cool[g])
    if of == STEADY:
        return min(ceiling, lasting_current_a(mo, co, 0.0, row[G_SPEED], t.air_c) / (1.0 + row[G_TARGET]))
    return -1.0


@jit
def rough(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, cool, ends):
    """Ratios between which the motor has pull and revolutions for every goal, losses left out; False where it is too weak with any."""
    ohm, eff = mo[M_OHM] + co[C_BRIDGE], t.kinds[kind, 0]
    low, high = t.kinds[kind, 5], t.kinds[kind, 4]
    for g in range(t.goals.shape[0]):
        most = most_current(t, mo, co, g, ceiling, cool, drop)
        if most < 0.0:
            continue
        row = t.goals[g]
        start = int(row[G_KIND]) == START
        v, at = 0.0 if start else row[G_SPEED], t.emf[p, int(row[G_CHARGE])]
        force = load_n(road, all_up, v, row[G_GRADE])
        low = max(low, force * road[W_RADIUS] / (n * eff * mo[M_K] * max(most, 1e-9)))
        if not start:
            high = min(high, co[C_DUTY] * at * road[W_RADIUS] / (mo[M_K] * v))
            # the shaft gets at most I (D E - R I) of a motor, and the bus what the pack's limit leaves after its sag
            push = min(most, 0.5 * co[C_DUTY] * at / ohm)
            drawn = supply_a(at, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
            power = min(n * push * (co[C_DUTY] * at - ohm * push), drawn * (at - pa[P_OHM] * drawn))
            if force * v > power * eff:
                return False
        if low > high:
            return False
    ends[0], ends[1] = low * (1.0 - 1e-9), high * (1.0 + 1e-9)
    return True


@jit
def span(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, cool, ends):
    """Ratios with which every goal may be met by reductions of a kind: narrows ends[0], ends[1]; none of them from ends[2] to ends[3]."""
    low, high = ends[0], ends[1]
    eff, drag = t.kinds[kind, 0], t.kinds[kind, 2]
    ends[2], ends[3] = 1.0, 0.0
    for turn in range(2):  # range and heat first: they leave the least
        for g in range(t.goals.shape[0]):
            row = t.goals[g]
            of, v, grade = int(row[G_KIND]), row[G_SPEED], row[G_GRADE]
            if g == drop or (turn == 0) != (of in (RANGE, LASTS, STEADY)):
                continue
            most = most_current(t, mo, co, g, ceiling, cool, drop)
            if of == RANGE:
                low, high = range_interval(mo, co, pa, t.means[p], n, road, all_up, v, eff, row[G_TARGET], low, high)
            elif most >= 0.0:
                at = t.emf[p, int(row[G_CHARGE])]
                low, high = ratio_interval(
                    mo, co, pa, n, most, battery, at, road, all_up, v if of != START else 0.0, grade, eff, drag, low, high, False
                )
                low, high = low * 0.9999, high * 1.0001
            elif of == SPEED_LIMIT and load_n(road, all_up, v, 0.0) <= min(road[W_GRIP], road[W_LIFT]) * all_up * GRAVITY:
                heavy = all_up + t.worst_mass[kind]
                ends[2], ends[3] = ratio_interval(
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
                    t.kinds[kind, 1],
                    t.kinds[kind, 3],
                    RATIO_LOW,
                    RATIO_HIGH,
                    True,
                )
            if low > high:
                ends[0], ends[1] = 1.0, 0.0
                return
    ends[0], ends[1] = low, high


@jit
def stretch_out(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, x1, x2):
    """Whether no ratio from x1 to x2 meets range, sprint and heat, with the best reduction of a kind.

    Current falls with the ratio as leverage grows, and grows with it as losses do: the first is taken at x2, the second at x1.
    """
    eff, drag, radius = t.kinds[kind, 0], t.kinds[kind, 2], road[W_RADIUS]
    ohm = mo[M_OHM] + co[C_BRIDGE]
    for turn in range(2):  # the quick ones first
        for g in range(t.goals.shape[0]):
            row = t.goals[g]
            of, v, target = int(row[G_KIND]), row[G_SPEED], row[G_TARGET]
            if g == drop or (turn == 0) != (of in (LASTS, STEADY)):
                continue
            if of == LASTS and (drop < 0 or int(t.goals[drop, G_KIND]) != CLIMB):
                # it gets the hotter the more torque is held and the faster the shaft turns
                torque = load_n(road, all_up, v, row[G_GRADE]) * radius / (n * x2 * eff) + drag
                if torque > 0.0 and held_winding_c(mo, torque, ceiling, x1 * v / radius, v, t.air_c, target) >= mo[M_LIMIT_C] + 1e-6:
                    return True
            elif of == STEADY:
                w = x1 * v / radius
                leverage = load_n(road, all_up, v, row[G_GRADE]) * radius / (n * x2 * eff)
                current = (leverage + drag) / mo[M_K] + mo[M_A] + mo[M_B] * w
                if current * (1.0 + target) > lasting_current_a(mo, co, w, v, t.air_c) * (1.0 + 1e-9):
                    return True
            elif of == RANGE:
                force = load_n(road, all_up, v, 0.0)
                if force <= 0.0:
                    continue
                w = x1 * v / radius
                current = (force * radius / (n * x2 * eff) + drag) / mo[M_K] + mo[M_A] + mo[M_B] * w
                power = n * (current * (mo[M_K] * w + ohm * current + mo[M_BRUSH]) + co[C_IDLE])
                total = 0.0
                for i in range(t.range_emf.shape[1]):
                    left = t.range_emf[p, i] - pa[P_STEADY] * n * co[C_SWITCHING] * current
                    square = left * left - 4.0 * pa[P_STEADY] * power
                    if square >= 0.0:
                        total += v / (power / (0.5 * (left + math.sqrt(square))) + n * co[C_SWITCHING] * current)
                if total / t.range_emf.shape[1] * 3600.0 * pa[P_AH] < target * (1.0 - 1e-9):
                    return True
            elif of == SPRINT:
                at = t.emf[p, int(row[G_CHARGE])]
                limit_a = supply_a(at, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
                heavy = all_up + t.worst_mass[kind]
                # times the mass that it does not depend on; grip and rolling are shares of the weight, air is shared by most mass
                inertia = 1.0 + (road[W_INERTIA] + eff * n * mo[M_INERTIA] * (x1 / radius) ** 2) / heavy
                wide, took = v / SPRINT_PARTS, 0.0
                for i in range(SPRINT_PARTS):  # thrust left over falls with speed: each part is run through no faster than at its begin
                    u = i * wide
                    w = x1 * u / radius
                    current = edge_current_a(mo, co, pa, n, ceiling, limit_a, at, w)
                    force = n * x2 * eff * max(mo[M_K] * (current - mo[M_A] - mo[M_B] * w) - drag, 0.0) / radius
                    air = road[W_AIR] * (u + road[W_WIND]) * abs(u + road[W_WIND])
                    pull = min(force / all_up, min(road[W_GRIP], road[W_LIFT]) * GRAVITY) - (road[W_ROLLING] + road[W_SLOPE] * u) * GRAVITY
                    gain = pull - min(air / heavy, air / all_up)
                    if u < road[W_RIDER_TOP]:
                        gain += road[W_RIDER] / max(u, SLOW_PEDALS_M_S) / all_up
                    if gain <= 0.0:
                        return True
                    took += inertia * wide / gain
                if took > target * (1.0 + 1e-9):
                    return True
    return False


@jit
def narrow(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, ends):
    """Cut off from both ends what range, sprint and heat rule out: the outermost short stretches that may be in reach are looked for."""
    for side in range(2):
        begins, widths, top = np.empty(64), np.empty(64), 1
        begins[0], widths[0] = math.log(ends[0]), math.log(ends[1]) - math.log(ends[0])
        found, looks = False, 0
        while top > 0:
            top, looks = top - 1, looks + 1
            if looks > MOST_LOOKS:  # on the verge everywhere: what is left is judged one by one
                found = True
                break
            a, width = begins[top], widths[top]
            if stretch_out(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind, drop, math.exp(a), math.exp(a + width)):
                continue
            if width < FINEST[kind]:
                found = True
                if side == 0:
                    ends[0] = max(ends[0], math.exp(a) * (1.0 - 1e-12))
                else:
                    ends[1] = min(ends[1], math.exp(a + width) * (1.0 + 1e-12))
                break
            half = 0.5 * width
            # the outer half is looked into first
            begins[top], widths[top] = (a + half, half) if side == 0 else (a, half)
            begins[top + 1], widths[top + 1] = (a, half) if side == 0 else (a + half, half)
            top += 2
        if not found:
            ends[0], ends[1] = 1.0, 0.0
            return


@jit
def start_pulls(t, mo, co, pa, p, road, n, ceiling, battery, drop, pulls):
    """For each start: the thrust at rest with a ratio of 1 and no loss, its load per kg and without mass, what grip and lift allow per kg.

    At rest nothing of the motor's side depends on the ratio, so a reduction starts only where ratio times efficiency times that thrust
    is the load or more.
    """
    for g in range(t.goals.shape[0]):
        pulls[g, 0] = -1.0
        if int(t.goals[g, G_KIND]) != START or g == drop:
            continue
        at, grade = t.emf[p, int(t.goals[g, G_CHARGE])], t.goals[g, G_GRADE]
        limit_a = supply_a(at, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
        low, high = 0.0, n * mo[M_K] * ceiling / road[W_RADIUS]
        for _ in range(32):
            middle = 0.5 * (low + high)
            if excess(mo, co, pa, n, ceiling, at, limit_a, middle, road[W_RADIUS], 0.0, 1.0, 1.0, mo[M_K] * mo[M_A]) <= 0.0:
                low = middle
            else:
                high = middle
        pulls[g, 0] = high
        cos = 1.0 / math.sqrt(1.0 + grade * grade)
        pulls[g, 1] = (road[W_ROLLING] + grade) * cos * GRAVITY
        pulls[g, 2] = road[W_AIR] * road[W_WIND] * abs(road[W_WIND])
        if road[W_RIDER_TOP] > 0.0:
            pulls[g, 2] -= road[W_RIDER] / SLOW_PEDALS_M_S
        pulls[g, 3] = min(road[W_GRIP], road[W_LIFT]) * GRAVITY / math.sqrt(1.0 + grade * grade)


@jit
def starts(pulls, mass, leverage):
    """Whether a leverage (ratio times efficiency) may do for every start with a mass."""
    for g in range(pulls.shape[0]):
        load = pulls[g, 1] * mass + pulls[g, 2]
        if pulls[g, 0] >= 0.0 and load > min(pulls[g, 0] * leverage, pulls[g, 3] * mass) * (1.0 + 1e-9):
            return False
    return True
