"""The search of boats, compiled: for each motor and for each propeller the cheapest or the lightest drive that meets every demand.

Loading this module loads the compiler.  A row is (count, motor, gearing, propeller, controller, level, pack); rows of the tables are
those of the wheels' search.  Source of the balances: points.py, one model with the drive study.
"""

from __future__ import annotations

import math

from wattagon.study.finder.columns import (
    C_BRIDGE,
    C_BRUSHED,
    C_BURST,
    C_DUTY,
    C_IDLE,
    C_LASTING,
    C_MASS,
    C_PACK,
    C_SWITCHING,
    C_VOLTS,
    M_A,
    M_B,
    M_BRUSH,
    M_BRUSHED,
    M_DC,
    M_K,
    M_MASS,
    M_OHM,
    M_PEAK,
    M_RAD_S,
    M_VOLTS,
    P_AH,
    P_BURST,
    P_CUT_END,
    P_CUT_START,
    P_FULL,
    P_MASS,
    P_OHM,
    P_STEADY,
)
from wattagon.study.finder.points import excess, jit, lasting_current_a, setting_amps, supply_a

HOLD, LAST, LIMIT, WAY, MATCH = range(5)  # kinds of demand, as in water_space
ROOM = 2e-4  # by which a demand is met at least: tables over mass are straight between their values
INF = 1e300
# columns of a demand
D_KIND, D_SPEED, D_CHARGE, D_WAY = range(4)
# wishes: margins on volts, rpm, amps and belts, power limit, most mass of the drive, temperature around the motor, matched share
W_VOLTS, W_RPM, W_AMPS, W_PULL, W_POWER, W_MOST_KG, W_AROUND, W_MATCHED, W_BARE, W_BUDGET = range(10)


@jit
def between(values, low, step, x):
    """A table over an even grid."""
    at = min(max((x - low) / step, 0.0), values.size - 1.000001)
    k = int(at)
    return values[k] + (at - k) * (values[k + 1] - values[k])


@jit
def matched_torque(turns, torque, w):
    """Torque of the steady curve at a propeller's turns; beyond its ends by the square."""
    last = turns.size - 1
    if w >= turns[last]:
        return torque[last] * (w / turns[last]) ** 2
    if w <= turns[0]:
        return torque[0] * (w / turns[0]) ** 2
    low, high = 0, last
    while high - low > 1:
        middle = (low + high) // 2
        if turns[middle] <= w:
            low = middle
        else:
            high = middle
    share = (w - turns[low]) / (turns[high] - turns[low])
    return torque[low] + share * (torque[high] - torque[low])


@jit
def way_m(mo, co, pa, emf_steps, n, ceiling, battery, w, torque, v, ratio, eff, drag):
    """Steady way on a charge at a speed: as point.steady_range_m."""
    turning = ratio * w
    current = (torque / (n * ratio * eff) + drag) / mo[M_K] + mo[M_A] + mo[M_B] * turning
    in_phase = mo[M_K] * turning + (mo[M_OHM] + co[C_BRIDGE]) * current + mo[M_BRUSH]
    power = n * (current * in_phase + co[C_IDLE])
    scale = 3600.0 / emf_steps.size * pa[P_AH]
    total = 0.0
    for i in range(emf_steps.size):
        emf = emf_steps[i]
        left = emf - pa[P_STEADY] * n * co[C_SWITCHING] * current
        square = left * left - 4.0 * pa[P_STEADY] * power
        if square < 0.0:
            continue
        limit_a = supply_a(emf, pa[P_STEADY], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
        if excess(mo, co, pa, n, ceiling, emf, limit_a, torque, 1.0, w, ratio, eff, drag) > 0.0:
            continue
        pack_a = power / (0.5 * (left + math.sqrt(square))) + n * co[C_SWITCHING] * current
        total += v / pack_a
    return total * scale


@jit
def missed(space, wishes, row, skip):
    """The first demand that a row misses, -1 where it meets all; ratings are 1000, mass 1001.  `skip`: a demand that is not asked.

    The last controller is the best of all in one: what it misses each of them misses.  Limits and the match are not asked of it.
    """
    n_at, m, g, s, c, level, k = row
    mo, co, pa = space.motors[m], space.controllers[c], space.packs[k]
    n = space.counts[n_at]
    ideal = c == space.controllers.shape[0] - 1
    if co[C_BRUSHED] != mo[M_BRUSHED] and not ideal:
        return 1000
    full = pa[P_FULL]
    if full > (1.0 - wishes[W_VOLTS]) * min(co[C_VOLTS], mo[M_VOLTS]) or (
        not ideal and co[C_DUTY] * full / mo[M_K] > (1.0 - wishes[W_RPM]) * mo[M_RAD_S]
    ):
        return 1000
    room = 1.0 - wishes[W_AMPS]
    motor_a = setting_amps(level * room * min(mo[M_PEAK], co[C_BURST]))
    battery_a = setting_amps(min(min(room * co[C_PACK], room * pa[P_BURST] / n), wishes[W_POWER] / (n * full)))
    ratio, eff, drag, bears = space.gearing[n_at, g, 0], space.gearing[n_at, g, 1], space.gearing[n_at, g, 2], space.gearing[n_at, g, 3]
    ceiling = mo[M_DC] * motor_a
    if mo[M_K] * ceiling > (1.0 - wishes[W_PULL]) * bears and not ideal:
        return 1000
    drive = n * (mo[M_MASS] + co[C_MASS] + space.screw_mass[s]) + pa[P_MASS] + space.gearing[n_at, g, 4]
    if drive > wishes[W_MOST_KG]:
        return 1001
    mass, low = wishes[W_BARE] + drive, space.masses[0]
    step = space.masses[1] - space.masses[0]
    battery = n * battery_a
    for d in range(space.demands.shape[0]):
        if d == skip:
            continue
        kind, v = int(space.demands[d, D_KIND]), space.demands[d, D_SPEED]
        if ideal and kind in (LIMIT, MATCH):
            continue
        emf = space.emf[k, int(space.demands[d, D_CHARGE])]
        limit_a = supply_a(emf, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
        if kind == MATCH:
            free = co[C_DUTY] * emf / mo[M_K] / ratio
            w = wishes[W_MATCHED] * free
            torque = matched_torque(
                space.steady_turns[n_at, s, space.masses.size // 2], space.steady_torque[n_at, s, space.masses.size // 2], w
            )
            if excess(mo, co, pa, n, ceiling, emf, limit_a, torque, 1.0, w, ratio, eff, drag) > -ROOM:
                return d
            continue
        w = between(space.turns[d, n_at, s], low, step, mass)
        torque = between(space.torque[d, n_at, s], low, step, mass)
        if kind == WAY:
            if way_m(mo, co, pa, space.range_emf[k], n, ceiling, battery, w, torque, v, ratio, eff, drag) < space.demands[d, D_WAY] * (
                1.0 + ROOM
            ):
                return d
            continue
        most, supply, row_pack = ceiling, limit_a, pa
        if kind == LAST:
            most = min(min(ceiling, mo[M_DC] * co[C_LASTING]), lasting_current_a(mo, co, ratio * w, v, wishes[W_AROUND]))
            supply = supply_a(emf, pa[P_STEADY], space.lasting_a[k], battery, pa[P_CUT_START], pa[P_CUT_END])
            row_pack = space.steady_packs[k]
        beyond = excess(mo, co, row_pack, n, most, emf, supply, torque, 1.0, w, ratio, eff, drag)
        if kind == LIMIT:
            if beyond <= ROOM:
                return d
        elif beyond > -ROOM:
            return d
    return -1


@jit
def hopeless(space, wishes, n_at, m, g, s, skip, strongest, high_emf):
    """Whether no controller and no pack of the table could make a head meet its demands: motor amps and volts alone, at the least mass."""
    mo, n = space.motors[m], space.counts[n_at]
    ratio, eff, drag = space.gearing[n_at, g, 0], space.gearing[n_at, g, 1], space.gearing[n_at, g, 2]
    ceiling = mo[M_DC] * min(mo[M_PEAK], strongest)
    for d in range(space.demands.shape[0]):
        kind = int(space.demands[d, D_KIND])
        if d == skip or kind in (LIMIT, MATCH):
            continue
        w, torque = ratio * space.least_turns[d, n_at, s], space.least_torque[d, n_at, s]
        current = (torque / (n * ratio * eff) + drag) / mo[M_K] + mo[M_A] + mo[M_B] * w
        if current > ceiling:
            return True
        if mo[M_K] * w + mo[M_OHM] * current > min(high_emf, mo[M_VOLTS]):
            return True
    return False


@jit
def search_heads(
    space, wishes, heads, levels, order, worth, ctrl_order, ctrl_worth, head_worth, keys, best, rows, skip, strongest, high_emf
):
    """Write for each key the row of the least worth that meets every demand; how many rows were looked at.

    heads (h, 4), keys (h, 2): a head serves two keys.  order: packs by worth, ctrl_order (counts, c): controllers by worth.
    best (keys,): least worth so far, inf at first.  rows (keys, 7).
    """
    looked, ideal = 0, space.controllers.shape[0] - 1
    for h in range(heads.shape[0]):
        n_at, m, g, s = heads[h, 0], heads[h, 1], heads[h, 2], heads[h, 3]
        a, b = keys[h, 0], keys[h, 1]
        if hopeless(space, wishes, n_at, m, g, s, skip, strongest, high_emf):
            continue
        cheapest = ctrl_worth[n_at, ctrl_order[n_at, 0]]
        for p in range(order.size):
            k = order[p]
            so_far = max(best[a], best[b])
            if head_worth[h] + worth[k] + cheapest >= so_far:
                break
            # first whether the pack does at all with the best of every controller
            if missed(space, wishes, (n_at, m, g, s, ideal, 1.0, k), skip) >= 0:
                continue
            done = False
            for q in range(ctrl_order.shape[1]):
                c = ctrl_order[n_at, q]
                total = head_worth[h] + worth[k] + ctrl_worth[n_at, c]
                if total >= so_far:
                    break
                for level in range(levels.size):
                    looked += 1
                    if missed(space, wishes, (n_at, m, g, s, c, levels[level], k), skip) < 0:
                        for key in (a, b):
                            if total < best[key]:
                                best[key] = total
                                rows[key, 0], rows[key, 1], rows[key, 2], rows[key, 3] = n_at, m, g, s
                                rows[key, 4], rows[key, 5], rows[key, 6] = c, level, k
                        done = True
                        break
                if done:
                    break
    return looked


@jit
def sample(space, wishes, heads, controllers, levels, packs, missing, alone):
    """Of random rows which demand each misses first, and whether that is the only one; -1 where it meets all."""
    for i in range(heads.shape[0]):
        row = (heads[i, 0], heads[i, 1], heads[i, 2], heads[i, 3], controllers[i], levels[i], packs[i])
        missing[i] = missed(space, wishes, row, -1)
        alone[i] = 0 <= missing[i] < space.demands.shape[0] and missed(space, wishes, row, missing[i]) < 0
