"""Single points of the search, compiled: what a speed takes, whether it is held, and the bounds that cut the space.

Loading this module loads the compiler.  Rows of the tables are `mo`, `co`, `pa`, `red` and `road` with the columns of columns.py; the
balances are those of powertrain.py, road.py, point.py and thermal.py.
"""

from __future__ import annotations

import math
from pathlib import Path

import numba
import numpy as np

from wattagon.compiled import drop_stale
from wattagon.physics.envelope import SPRINT_FINEST, SPRINT_POINTS, SPRINT_TOLERANCE
from wattagon.physics.holding import HOTTEST_K, STRETCHES_S
from wattagon.physics.motor import COPPER_PER_K, MAGNET_PER_K
from wattagon.physics.road import SLOW_PEDALS_M_S
from wattagon.study.finder.columns import (
    C_BRIDGE,
    C_DUTY,
    C_ERPM_END,
    C_ERPM_START,
    C_IDLE,
    C_LASTING,
    C_SWITCHING,
    M_A,
    M_AIR,
    M_AREA,
    M_B,
    M_BRUSH,
    M_BRUSHED,
    M_CASE,
    M_DC,
    M_FIXED,
    M_HENRY,
    M_INERTIA,
    M_K,
    M_LASTING,
    M_LIMIT_C,
    M_MOUNT,
    M_MOVING,
    M_OHM,
    M_PAIRS,
    M_PATH,
    M_STILL,
    M_WINDING,
    P_AH,
    P_BURST,
    P_CUT_END,
    P_CUT_START,
    P_OHM,
    P_STEADY,
    R_DRAG,
    R_EFF,
    R_RATIO,
    W_AIR,
    W_GRIP,
    W_INERTIA,
    W_LIFT,
    W_RADIUS,
    W_RIDER,
    W_RIDER_TOP,
    W_ROLLING,
    W_SLOPE,
    W_WIND,
)

drop_stale(Path(__file__).parent)
jit = numba.njit(nogil=True, cache=True, error_model="numpy")
GRAVITY = 9.80665
RPM = 9.549296585513721
RATIO_LOW, RATIO_HIGH = 0.2, 60.0
STRETCHES = np.array(STRETCHES_S)


@jit
def load_n(road, mass, v, grade):
    """Thrust that holds a speed."""
    cos = 1.0 / math.sqrt(1.0 + grade * grade)
    weight = mass * GRAVITY
    air = v + road[W_WIND]
    load = (road[W_ROLLING] + road[W_SLOPE] * v) * weight * cos + road[W_AIR] * air * abs(air) + weight * grade * cos
    if v < road[W_RIDER_TOP]:
        return load - min(road[W_RIDER] / max(v, SLOW_PEDALS_M_S), max(load, 0.0))
    return load


@jit
def supply_a(emf, ohm, pack_limit, battery, start, end):
    """What the pack gives at most: limits of controllers and cells, and the low-voltage cutback as a fixed point."""
    most = emf / max(2.0 * ohm, 1e-12)
    low = battery * (emf - end) / max(start - end + battery * ohm, 1e-12)
    return min(min(battery, min(pack_limit, most)), max(low, 0.0))


@jit
def excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, ratio, eff, drag):
    """How far a point is beyond what the drive can hold: the largest of needed over allowed less 1; at or below 0 it is held."""
    k, a, b, brush, pack_ohm = mo[M_K], mo[M_A], mo[M_B], mo[M_BRUSH], pa[P_OHM]
    bridge, switching, idle, duty, erpm_start, erpm_end = (
        co[C_BRIDGE],
        co[C_SWITCHING],
        co[C_IDLE],
        co[C_DUTY],
        co[C_ERPM_START],
        co[C_ERPM_END],
    )
    ohm, reactive_h, pairs = mo[M_OHM], mo[M_PAIRS] * mo[M_HENRY], mo[M_PAIRS] * (1.0 - mo[M_BRUSHED])
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
def edge_current_a(mo, co, pa, n, ceiling, limit_a, emf, w):
    """Largest motor current at a shaft speed: motor limit, electrical speed, duty, pack."""
    ohm = mo[M_OHM] + co[C_BRIDGE]
    current = ceiling
    rpm = mo[M_PAIRS] * (1.0 - mo[M_BRUSHED]) * w * RPM
    if rpm > co[C_ERPM_START]:
        current = ceiling * max((co[C_ERPM_END] - rpm) / max(co[C_ERPM_END] - co[C_ERPM_START], 1e-9), 0.0)
    current = min(
        current,
        duty_current(mo[M_K], ohm, mo[M_PAIRS] * mo[M_HENRY], mo[M_BRUSH], n, co[C_SWITCHING], co[C_IDLE], co[C_DUTY], emf, pa[P_OHM], w),
    )
    volts = emf - pa[P_OHM] * limit_a
    room = max(volts * limit_a / n - co[C_IDLE], 0.0)
    linear = mo[M_K] * w + co[C_SWITCHING] * volts + mo[M_BRUSH]
    return min(current, 2.0 * room / max(linear + math.sqrt(linear * linear + 4.0 * ohm * room), 1e-12))


@jit
def most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, v):
    """Largest thrust at a speed on the level: the edge of the drive study."""
    w = red[R_RATIO] * v / road[W_RADIUS]
    current = edge_current_a(mo, co, pa, n, ceiling, limit_a, emf, w)
    loss = mo[M_K] * (mo[M_A] + mo[M_B] * w)  # no-load current turns up at standstill as well: as the edge has it
    force = n * red[R_RATIO] * red[R_EFF] * max(mo[M_K] * current - loss - red[R_DRAG], 0.0) / road[W_RADIUS]
    return min(force, min(road[W_GRIP], road[W_LIFT]) * mass * GRAVITY)


@jit
def sprint_met(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, v, target):
    """Whether 0 to v takes no longer than the target: bounds from both sides first, then the study's own trapezoids."""
    moving = mass + road[W_INERTIA] + red[R_EFF] * n * mo[M_INERTIA] * (red[R_RATIO] / road[W_RADIUS]) ** 2
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
    points = SPRINT_POINTS
    while True:  # the study's own sums: thrust left over is a straight line in each cell
        step, total, coarse = v / (points - 1), 0.0, 0.0
        left = before = first
        for i in range(1, points):
            right = last
            if i < points - 1:
                right = most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, i * step) - load_n(road, mass, i * step, 0.0)
            if right <= 0.0:
                return False
            total += cell_s(left, right, step)
            if i % 2 == 0 or i == points - 1:  # with half the points
                coarse += cell_s(before, right, step * (2.0 if i % 2 == 0 else 1.0))
                before = right
            left = right
        if points > SPRINT_FINEST * SPRINT_POINTS or abs(coarse - total) <= SPRINT_TOLERANCE * total:
            return moving * total <= target
        points *= 4


@jit
def cell_s(left, right, step):
    """Integral of dv/s over a cell in which s goes from left to right in a straight line."""
    change = right / left - 1.0
    if abs(change) < 1e-4:
        return step / left * (1.0 - change / 2.0 + change * change / 3.0)
    return step / left * math.log1p(change) / change


@jit
def range_m(mo, co, pa, emf_steps, n, ceiling, battery, road, mass, red, v, enough):
    """Steady range: as point.steady_range_m, 20 steps of charge.  Where even without limits it is not `enough`, that bound is given."""
    force = load_n(road, mass, v, 0.0)
    if force < 0.0:
        return 1e9
    w = red[R_RATIO] * v / road[W_RADIUS]
    current = (force * road[W_RADIUS] / (n * red[R_RATIO] * red[R_EFF]) + red[R_DRAG]) / mo[M_K] + mo[M_A] + mo[M_B] * w
    in_phase = mo[M_K] * w + (mo[M_OHM] + co[C_BRIDGE]) * current + mo[M_BRUSH]
    power = n * (current * in_phase + co[C_IDLE])
    scale = 3600.0 / emf_steps.size * pa[P_AH]
    total = 0.0
    for limited in range(2):
        total = 0.0
        for i in range(emf_steps.size):
            emf = emf_steps[i]
            left = emf - pa[P_STEADY] * n * co[C_SWITCHING] * current
            square = left * left - 4.0 * pa[P_STEADY] * power
            if square < 0.0:
                continue
            if limited == 1:
                limit_a = supply_a(emf, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
                if excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[W_RADIUS], v, red[R_RATIO], red[R_EFF], red[R_DRAG]) > 0.0:
                    continue
            pack_a = power / (0.5 * (left + math.sqrt(square))) + n * co[C_SWITCHING] * current
            if pack_a > 0.0:
                total += v / pack_a
        if total * scale < enough:
            break
    return total * scale


@jit
def holds(mo, co, pa, n, ceiling, battery, emf, road, mass, red, v, grade):
    """Whether a speed on a grade is held: every limit of the edge."""
    force = load_n(road, mass, v, grade)
    cos = 1.0 / math.sqrt(1.0 + grade * grade)
    if force > min(road[W_GRIP], road[W_LIFT]) * mass * GRAVITY * cos:
        return False
    limit_a = supply_a(emf, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
    loss_a = mo[M_A] if v <= 0.0 else 0.0  # the study counts the standing no-load current at rest too
    return (
        excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[W_RADIUS], v, red[R_RATIO], red[R_EFF], red[R_DRAG] + mo[M_K] * loss_a)
        <= 0.0
    )


@jit
def setting_amps(amps):
    """A current setting in the handy steps of the levers, at or below a rating."""
    step = 1.0 if amps < 20.0 else 2.0 if amps < 40.0 else 5.0 if amps < 150.0 else 10.0 if amps < 300.0 else 20.0
    return max(step * math.floor(amps / step + 1e-9), 1.0)


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
def case_w_per_k(mo, v):
    """Conductance from a motor's case to the air."""
    if mo[M_FIXED] > 0.0:
        return mo[M_FIXED]
    return (mo[M_STILL] + mo[M_MOVING] * (mo[M_AIR] * max(v, 0.0)) ** 0.6) * mo[M_AREA] + mo[M_MOUNT]


@jit
def two_exponentials(a, b, c, d, q1, q2, winding, case, seconds):
    """(winding, case) above the air after a time of a stretch, as holding._Stretch."""
    det = a * d - b * c
    if abs(det) < 1e-18:
        det = 1e-18
    steady_w, steady_c = (b * q2 - d * q1) / det, (c * q1 - a * q2) / det
    half = 0.5 * (a + d)
    root = math.sqrt(max(half * half - det, 0.0))
    slow, fast = half + root, half - root
    away_w, away_c = winding - steady_w, case - steady_c
    span = max(2.0 * root, 1e-18)
    first_w, first_c = ((a - fast) * away_w + b * away_c) / span, (c * away_w + (d - fast) * away_c) / span
    first, second = math.exp(min(slow * seconds, 60.0)), math.exp(fast * seconds)
    return (
        min(steady_w + first_w * first + (away_w - first_w) * second, HOTTEST_K),
        min(steady_c + first_c * first + (away_c - first_c) * second, HOTTEST_K),
    )


@jit
def winding_c(mo, current, v, air_c, seconds):
    """Winding temperature after a time at constant current, from the air's temperature; as thermal.warming without iron loss."""
    out, square = 1.0 / mo[M_PATH], current * current
    a = (COPPER_PER_K * mo[M_OHM] * square - out) / mo[M_WINDING]
    b, c = out / mo[M_WINDING], out / mo[M_CASE]
    d = -(out + case_w_per_k(mo, v)) / mo[M_CASE]
    copper = mo[M_OHM] * (1.0 + COPPER_PER_K * (air_c - 20.0)) * square
    q1 = (copper + mo[M_BRUSH] * abs(current)) / mo[M_WINDING]
    return air_c + two_exponentials(a, b, c, d, q1, 0.0, 0.0, 0.0, seconds)[0]


@jit
def held_winding_c(mo, shaft_nm, ceiling, w, v, air_c, seconds):
    """Winding temperature after a time of holding a torque, magnets and current following: as holding.Hold, on its stretches."""
    idle, out = mo[M_A] + mo[M_B] * w, 1.0 / mo[M_PATH]
    b, c, d = out / mo[M_WINDING], out / mo[M_CASE], -(out + case_w_per_k(mo, v)) / mo[M_CASE]
    r_air = mo[M_OHM] * (1.0 + COPPER_PER_K * (air_c - 20.0))
    winding = case = middle = begin = 0.0
    for k in range(STRETCHES.size):
        end = STRETCHES[k]
        weak = 1.0 + MAGNET_PER_K * (middle + air_c - 20.0)
        current = max(min(shaft_nm / (mo[M_K] * weak) + idle, ceiling), -ceiling)
        square, iron = current * current, mo[M_K] * weak * idle * w
        a = (COPPER_PER_K * mo[M_OHM] * square - out) / mo[M_WINDING]
        q1 = (r_air * square + 0.5 * iron + mo[M_BRUSH] * abs(current)) / mo[M_WINDING]
        q2 = 0.5 * iron / mo[M_CASE]
        if seconds <= end or k == STRETCHES.size - 1:
            return air_c + two_exponentials(a, b, c, d, q1, q2, winding, case, seconds - begin)[0]
        ahead = 0.5 * (STRETCHES[k + 1] - end)
        _, middle = two_exponentials(a, b, c, d, q1, q2, winding, case, end - begin + ahead)
        winding, case = two_exponentials(a, b, c, d, q1, q2, winding, case, end - begin)
        begin = end
    return air_c


@jit
def cool_current_a(mo, v, air_c, seconds, most):
    """A current above which no ratio keeps the winding below its limit for a time: that without iron loss."""
    if winding_c(mo, most, v, air_c, seconds) < mo[M_LIMIT_C]:
        return most
    low, high = 0.0, most
    for _ in range(24):
        middle = 0.5 * (low + high)
        if winding_c(mo, middle, v, air_c, seconds) < mo[M_LIMIT_C]:
            low = middle
        else:
            high = middle
    return high


@jit
def lasting_current_a(mo, co, w, v, air_c):
    """What a motor and its controller bear for good: as thermal.continuous_current_a, and both labels."""
    iron = mo[M_K] * (mo[M_A] + mo[M_B] * w) * w
    to_air = 1.0 / case_w_per_k(mo, v)
    copper = max((mo[M_LIMIT_C] - air_c - iron * (0.5 * mo[M_PATH] + to_air)) / (mo[M_PATH] + to_air), 0.0)
    hot = mo[M_OHM] * (1.0 + COPPER_PER_K * (mo[M_LIMIT_C] - 20.0))
    by_heat = 2.0 * copper / max(mo[M_BRUSH] + math.sqrt(mo[M_BRUSH] * mo[M_BRUSH] + 4.0 * hot * copper), 1e-12)
    return min(by_heat, mo[M_DC] * min(mo[M_LASTING], co[C_LASTING]))


@jit
def held_torque_nm(n, road, mass, red, v, grade):
    """Torque at one motor's shaft that holds a speed on a grade, by the lines of its reduction."""
    force = load_n(road, mass, v, grade)
    out = force * road[W_RADIUS] / n
    return out / (red[R_RATIO] * red[R_EFF]) + red[R_DRAG] if out >= 0.0 else out * red[R_EFF] / red[R_RATIO] + red[R_DRAG]


@jit
def hot_current_a(mo, n, road, mass, red, v, grade, air_c):
    """The same with magnets as warm as they are while the winding stands at its limit."""
    w = red[R_RATIO] * v / road[W_RADIUS]
    out, flow = case_w_per_k(mo, v), 1.0 / mo[M_PATH]
    iron = mo[M_K] * (mo[M_A] + mo[M_B] * w) * w
    case = (out * air_c + flow * mo[M_LIMIT_C] + 0.5 * iron) / (out + flow)
    weak = 1.0 + MAGNET_PER_K * (case - 20.0)
    return held_torque_nm(n, road, mass, red, v, grade) / (mo[M_K] * weak) + mo[M_A] + mo[M_B] * w


PEAK_ROUNDS = 4


@jit
def most_power_w(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red):
    """The most the controllers take from a full pack at any speed: as goals.peak_bus_power_w, ever closer around the best."""
    top = co[C_DUTY] * emf / mo[M_K]
    if mo[M_BRUSHED] < 0.5:
        top = min(top, co[C_ERPM_END] / RPM / max(mo[M_PAIRS], 1.0))
    ohm, most = mo[M_OHM] + co[C_BRIDGE], 0.0
    low, high = 0.0, top
    for turn in range(PEAK_ROUNDS):
        points, best, at = 60 if turn == 0 else 20, -1.0, 0
        for i in range(points):
            w = low + (high - low) * i / (points - 1)
            current = edge_current_a(mo, co, pa, n, ceiling, limit_a, emf, w)
            in_phase = mo[M_K] * w + ohm * current + mo[M_BRUSH]
            left = emf - pa[P_OHM] * n * co[C_SWITCHING] * current
            power = n * (current * in_phase + co[C_IDLE])
            volts = 0.5 * (left + math.sqrt(max(left * left - 4.0 * pa[P_OHM] * power, 0.0)))
            total = power + n * co[C_SWITCHING] * current * volts
            if total > best:
                best, at = total, i
        most = max(most, best)
        step = (high - low) / (points - 1)
        low, high = max(low + (at - 1) * step, 0.0), min(low + (at + 1) * step, top)
    return most
