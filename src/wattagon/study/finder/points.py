"""Single points of the search, compiled: what a speed takes, whether it is held, and the bounds that cut the space.

Loading this module loads the compiler.  Rows of the tables are `mo`, `co`, `pa` and `red` with the columns of space.MOTOR,
CONTROLLER, PACK and REDUCTION; the balances are those of powertrain.py, road.py and point.py.
"""

from __future__ import annotations

import math

import numba

jit = numba.njit(nogil=True, cache=True, error_model="numpy")
GRAVITY = 9.80665
RPM = 9.549296585513721
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
def excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, ratio, eff, drag):
    """How far a point is beyond what the drive can hold: the largest of needed over allowed less 1; at or below 0 it is held."""
    k, a, b, brush, pack_ohm = mo[0], mo[4], mo[5], mo[6], pa[3]
    bridge, switching, idle, duty, erpm_start, erpm_end = co[6], co[7], co[8], co[3], co[4], co[5]
    ohm, reactive_h, pairs = mo[1], mo[3] * mo[2], mo[3] * (1.0 - mo[14])
    w = ratio * v / radius
    current = (
        (force * radius / (n * ratio * eff) + drag) / k + a + b * w
        if w > 0.0
        else (force * radius / (n * ratio * eff) + drag) / k
    )
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
                right = most_force(mo, co, pa, n, ceiling, limit_a, emf, road, mass, red, i * wide) - load_n(
                    road, mass, i * wide, 0.0
                )
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
        beyond = excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, red[0], red[1], red[2])
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
    return excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, red[0], red[1], red[2] + mo[0] * loss_a) <= 0.0


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
    f1 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, math.exp(x1), eff, drag)
    f2 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, math.exp(x2), eff, drag)
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
            f1 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, math.exp(x1), eff, drag)
        else:
            a, x1, f1 = x1, x2, f2
            x2 = a + GOLDEN * (b - a)
            f2 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, math.exp(x2), eff, drag)
    if best > 1e-4:  # the valley itself is out of reach; a hair is left to rounding
        return 1.0, 0.0
    l_in, l_out, h_in, h_out = at, low, at, high
    for _ in range(HALVINGS):
        x1 = 0.5 * (l_in + l_out)
        if excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, math.exp(x1), eff, drag) <= 0.0:
            l_in = x1
        else:
            l_out = x1
        x2 = 0.5 * (h_in + h_out)
        if excess(mo, co, pa, n, ceiling, emf, limit_a, force, road[4], v, math.exp(x2), eff, drag) <= 0.0:
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
