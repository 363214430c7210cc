"""Intervals of the ratio on which a point may be held or a range reached, compiled.

Loading this module loads the compiler.
"""

from __future__ import annotations

import math

from wattagon.study.finder.columns import (
    C_BRIDGE,
    C_IDLE,
    M_A,
    M_B,
    M_BRUSH,
    M_K,
    M_OHM,
    P_AH,
    P_BURST,
    P_CUT_END,
    P_CUT_START,
    P_OHM,
    W_RADIUS,
)
from wattagon.study.finder.points import (
    excess,
    jit,
    load_n,
    supply_a,
)

HALVINGS = 14
GOLDEN = 0.6180339887498949


@jit
def ratio_interval(mo, co, pa, n, ceiling, battery, emf, road, mass, v, grade, eff, drag, low, high, inner):
    """(least, largest) ratio of an interval at which a point is held with a reduction of an efficiency and a drag; (1, 0) where none is.

    The ends lie outside by the last halving, or inside where `inner`.
    """
    force = load_n(road, mass, v, grade)
    if force <= 0.0:
        return low, high
    if v <= 0.0:
        drag += mo[M_K] * mo[M_A]  # as `holds` has it at rest
    limit_a = supply_a(emf, pa[P_OHM], pa[P_BURST], battery, pa[P_CUT_START], pa[P_CUT_END])
    low, high = math.log(low), math.log(high)
    radius = road[W_RADIUS]
    a, b = low, high
    best, at = 1e30, low
    x1, x2 = b - GOLDEN * (b - a), a + GOLDEN * (b - a)
    f1 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(x1), eff, drag)
    f2 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(x2), eff, drag)
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
            f1 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(x1), eff, drag)
        else:
            a, x1, f1 = x1, x2, f2
            x2 = a + GOLDEN * (b - a)
            f2 = excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(x2), eff, drag)
    if best > (0.0 if inner else 1e-4):  # the valley itself is out of reach; a hair is left to rounding
        return 1.0, 0.0
    l_in, l_out, h_in, h_out = at, low, at, high
    if excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(low), eff, drag) <= 0.0:
        l_in = low
    if excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(high), eff, drag) <= 0.0:
        h_in = high
    for _ in range(HALVINGS):
        x1, x2 = 0.5 * (l_in + l_out), 0.5 * (h_in + h_out)
        if l_in > l_out:
            if excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(x1), eff, drag) <= 0.0:
                l_in = x1
            else:
                l_out = x1
        if h_in < h_out:
            if excess(mo, co, pa, n, ceiling, emf, limit_a, force, radius, v, math.exp(x2), eff, drag) <= 0.0:
                h_in = x2
            else:
                h_out = x2
    if inner:
        return math.exp(l_in), math.exp(h_in)
    return math.exp(l_out), math.exp(h_out)


@jit
def cruise_power(mo, co, n, force, radius, v, ratio, eff):
    """Power of all motors from the bus at a steady pace, without switching loss and drag of the reduction: convex in the ratio."""
    w = ratio * v / radius
    current = force * radius / (n * ratio * eff * mo[M_K]) + mo[M_A] + mo[M_B] * w
    return n * (current * (mo[M_K] * w + (mo[M_OHM] + co[C_BRIDGE]) * current + mo[M_BRUSH]) + co[C_IDLE])


@jit
def range_interval(mo, co, pa, emf_mean, n, road, mass, v, eff, target, low, high):
    """(least, largest) ratio with which a range may be reached, (1, 0) where none does; ends lie outside.

    Pack amps are at least power over emf, so the steps of charge add up to at most the mean emf over the power.
    """
    force = load_n(road, mass, v, 0.0)
    if force <= 0.0:
        return low, high
    radius = road[W_RADIUS]
    most = v * 3600.0 * pa[P_AH] * emf_mean / target
    low, high = math.log(low), math.log(high)
    a, b = low, high
    at, best = low, 1e30
    for _ in range(24):
        x1, x2 = b - GOLDEN * (b - a), a + GOLDEN * (b - a)
        p1 = cruise_power(mo, co, n, force, radius, v, math.exp(x1), eff)
        p2 = cruise_power(mo, co, n, force, radius, v, math.exp(x2), eff)
        if p1 < p2:
            b = x2
            if p1 < best:
                at, best = x1, p1
        else:
            a = x1
            if p2 < best:
                at, best = x2, p2
        if best <= most:
            break
    if best > most * 1.0001:
        return 1.0, 0.0
    l_in, l_out, h_in, h_out = at, low, at, high
    for _ in range(HALVINGS):
        x1, x2 = 0.5 * (l_in + l_out), 0.5 * (h_in + h_out)
        if cruise_power(mo, co, n, force, radius, v, math.exp(x1), eff) <= most:
            l_in = x1
        else:
            l_out = x1
        if cruise_power(mo, co, n, force, radius, v, math.exp(x2), eff) <= most:
            h_in = x2
        else:
            h_out = x2
    return math.exp(l_out), math.exp(h_out)
