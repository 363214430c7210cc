"""What a driver who follows a course asks of a step, compiled, and what a shaft has to give for it."""

from __future__ import annotations

import math

from wattagon.physics.ride.jit import jit

LAG_S = 0.6  # of a driver who follows a speed
FEED_M_S = 0.4  # from where a driver brakes with the ramp, not only after it
PACE_S = 0.2  # within which a measured speed is kept to
STANDS_M_S, HELD_M_S2 = 0.05, 1.2


@jit
def need_of_follower(p, cells, cell, x, v, vh, waiting, accel_most):
    """(acceleration wanted [m/s2], speed aimed at) of a driver who keeps to the speed of a cell."""
    if waiting:
        return -min(v / 0.3, 1.2), 0.0
    target = math.sqrt(max(cells[cell, 4] + cells[cell, 5] * (x - cells[cell, 0]), 0.0))
    lead = 0.5 * cells[cell, 5] if cells[cell, 5] < 0.0 and vh > target - FEED_M_S else 0.0
    return min((target - vh) / LAG_S + lead, accel_most), target


@jit
def shaft_for(lines, output_nm):
    """Shaft torque of one motor for a torque at the output: the inverse of the lines of the reduction."""
    most = -1e300
    for k in range(lines.shape[0]):
        most = max(most, output_nm / lines[k, 0] + lines[k, 1])
    return most


@jit
def wish_for(p, lines, k_now, need, want, loss_nm, shaft, vh, coupled):
    """(motor current, force from all brakes) that a force at the tread and an acceleration take."""
    per_m = p.ratio / p.radius
    spin_nm = p.inertia * per_m * want
    wish = brake_n = 0.0
    if need >= 0.0:
        wish = (shaft_for(lines, need * p.radius / p.motors) + spin_nm + loss_nm) / k_now
        if not coupled and need > 0.0:  # a motor behind a freewheel has to catch up first
            wish = max(wish, (lines[0, 1] + loss_nm + p.inertia * per_m * vh / 0.15) / k_now)
    else:
        brake_n = -need
        if p.one_way == 0.0:
            wish = (shaft_for(lines, need * p.radius / p.motors) + spin_nm + loss_nm) / k_now
    return wish, brake_n


@jit
def told_at(script, step_s, t):
    """A script over time, straight between its values, its last one after its end."""
    at = t / step_s
    k = min(int(at), script.size - 2)
    return script[k] + min(at - k, 1.0) * (script[k + 1] - script[k])


@jit
def need_of_pace(script, step_s, t, vh):
    """(acceleration wanted [m/s2], speed aimed at, whether it stands there) of one who keeps to measured speeds."""
    target = told_at(script, step_s, t + PACE_S)
    if target < STANDS_M_S and vh < 0.3:
        return -min(vh / 0.3, HELD_M_S2), target, True
    return (target - vh) / PACE_S, target, False
