"""A step of the ride loop on the water, compiled: which current, which turns of the propellers, which push.

The shaft turns so that motor and propeller agree; what its own inertia holds is next to nothing against that of the boat and left out.
Reverse is a typical share of what the propeller does ahead at the dock, whatever the speed: known within a third.
"""

from __future__ import annotations

import math

from wattagon.physics.ride.follower import need_of_follower, need_of_pace, shaft_for, told_at
from wattagon.physics.ride.jit import jit
from wattagon.physics.ride.limits import NONE, drive_limit
from wattagon.physics.ride.names import Mode, Now

TURN = 2.0 * math.pi
REVERSE_THRUST, REVERSE_TORQUE = 0.6, 0.9  # of K_T and K_Q at rest ahead; typical of blades made for ahead
MOST = 60  # of a search for turns
CLOSE = 1e-9  # of the fastest turns


@jit
def table_at(values, step, x):
    """A table over an even grid from 0, straight between its values and on beyond its end."""
    at = x / step
    k = min(max(int(at), 0), values.size - 2)
    return values[k] + (at - k) * (values[k + 1] - values[k])


@jit
def worked(p, sea, turns_s, inflow):
    """(torque, thrust) of one propeller at its turns; one that the water turns by itself gives what it drags."""
    end = (sea.torque.size - 1) * sea.advance_step
    advance = min(inflow / max(turns_s * sea.diameter, 1e-9), end)
    head = sea.kg_m3 * turns_s * turns_s * sea.diameter**4
    torque = table_at(sea.torque, sea.advance_step, advance) * head * sea.diameter
    return torque, table_at(sea.thrust, sea.advance_step, advance) * head


@jit
def pushed(p, sea, thrust_n, inflow):
    """Turns a second at which one propeller gives a thrust; by halving."""
    low, high = 0.0, 1.0
    while worked(p, sea, high, inflow)[1] < thrust_n and high < 1e5:
        low, high = high, 2.0 * high
    for _ in range(MOST):
        middle = 0.5 * (low + high)
        if worked(p, sea, middle, inflow)[1] < thrust_n:
            low = middle
        else:
            high = middle
        if high - low < 1e-10 * high:
            break
    return 0.5 * (low + high)


@jit
def given(p, lines, shaft_nm):
    """Torque behind the reduction of all motors together."""
    out = 1e300
    for k in range(lines.shape[0]):
        out = min(out, lines[k, 0] * (shaft_nm - lines[k, 1]))
    return p.motors * out


@jit
def allowed_at(p, lines, now, wanted, full, ceiling, ceiling_name, allowed, shaft, emf):
    """(current, which limit cut it) at a motor speed."""
    loss_nm = now[Now.K] * (p.drag_a + p.drag_b * shaft) if shaft > 0.0 else 0.0
    if wanted <= 0.0:
        return 0.0, NONE
    return drive_limit(p, lines, now, wanted, full, ceiling, ceiling_name, allowed, shaft, loss_nm, emf, 1e9)


@jit
def settled(p, lines, sea, now, wanted, full, ceiling, ceiling_name, allowed, emf, inflow, back):
    """(motor speed, current, limit) at which motors and propellers agree; `back`: in reverse, whatever the speed through the water."""
    k_now = now[Now.K]
    end = (sea.torque.size - 1) * sea.advance_step
    idle = 0.0 if back else TURN * p.ratio * inflow / (sea.diameter * end)  # turned by the water alone
    high = max(1.02 * emf / k_now, idle * 1.001 + 1.0)
    low, side = idle, 0
    off_low = off_high = 0.0
    middle, current, limit = low, 0.0, NONE
    for attempt in range(MOST):
        if attempt == 0:
            middle = low
        elif attempt == 1:
            middle = high
        else:
            middle = (low * off_high - high * off_low) / (off_high - off_low)
        current, limit = allowed_at(p, lines, now, wanted, full, ceiling, ceiling_name, allowed, middle, emf)
        loss_nm = k_now * (p.drag_a + p.drag_b * middle) if middle > 0.0 else 0.0
        turns = middle / p.ratio / TURN
        if back:
            load = REVERSE_TORQUE * sea.torque[0] * sea.kg_m3 * turns * turns * sea.diameter**5
        else:
            load, _ = worked(p, sea, turns, inflow)
        off = given(p, lines, k_now * current - loss_nm) - sea.screws * load
        if attempt == 0:
            off_low = off
            if off <= 0.0:  # less than its own drag: the water turns it, or it stands
                return middle, current, limit
            continue
        if attempt == 1:
            off_high = off
            if off >= 0.0:
                return middle, current, limit
            continue
        if off > 0.0:
            low, off_low = middle, off
            if side == 1:
                off_high *= 0.5
            side = 1
        else:
            high, off_high = middle, off
            if side == -1:
                off_low *= 0.5
            side = -1
        if high - low < CLOSE * (1.0 + high) or abs(off) < 1e-9 * (1.0 + sea.screws * load):
            break
    return middle, current, limit


@jit
def swim(p, lines, sea, now, cells, cell, script, driver, y, first, t, x, v, dt, waiting, emf, ceiling, ceiling_name, allowed):
    """One step of a boat: (acceleration, push on the hull, current, limit, motor speed, power into the propellers, drag, air, paddles,
    what a quay holds, command of the hand, speed aimed at)."""
    mode, k_now = int(driver.mode), now[Now.K]
    follows, plays = mode == Mode.FOLLOW or mode == Mode.PACE, mode == Mode.PLAYED
    bare = p.mass + p.wheel_mass
    stream = cells[cell, 7]
    inflow = sea.inflow * max(v, 0.0)
    f_hull = table_at(sea.hull, sea.hull_step, v)
    air = v - stream + cells[cell, 3]
    f_air = p.air_force * air * abs(air)
    f_paddle = p.pedal_w / max(v, 0.5) if p.pedal_w > 0.0 and mode != Mode.STOP else 0.0
    f_other = f_paddle - f_hull - f_air
    if waiting:  # alongside
        accel = -v / dt
        return accel, 0.0, 0.0, NONE, 0.0, 0.0, f_hull, f_air, 0.0, -f_hull - f_air - bare * accel, 0.0, 0.0
    back, target, wish, turning = mode == Mode.STOP, driver.command, 0.0, 0.0
    if follows:
        if mode == Mode.PACE:
            want, target, _ = need_of_pace(script, driver.script_s, t, v)
        else:
            want, target = need_of_follower(p, cells, cell, x, v, v, False, driver.accel_m_s2)
        need = bare * want - f_other
        if need > 0.0:
            turns = pushed(p, sea, need / (sea.screws * sea.push), inflow)
            turning = TURN * p.ratio * turns
            torque, _ = worked(p, sea, turns, inflow)
            loss_nm = k_now * (p.drag_a + p.drag_b * turning)
            wish = (shaft_for(lines, sea.screws * torque / p.motors) + loss_nm) / k_now
        asked = min(wish / p.burst_a, 1.0)
    elif plays:
        target = asked = max(told_at(script, driver.script_s, t), 0.0)
    else:
        asked = 1.0 if back else max(driver.command, 0.0)
    hand = asked if (first and follows) or mode == Mode.PACE or plays else y
    reach = dt / p.rise_s if asked > hand else dt / p.fall_s
    hand = min(asked, hand + reach) if asked > hand else max(asked, hand - reach)
    wanted = hand * (p.burst_a if follows else ceiling)
    full = not follows and hand >= 1.0
    shaft, current, limit = turning, 0.0, NONE
    solved = False
    if follows and hand == asked and wish > 0.0:
        wanted = wish
        current, limit = allowed_at(p, lines, now, wanted, False, ceiling, ceiling_name, allowed, turning, emf)
        solved = current >= wish * (1.0 - 1e-9)
        if solved:
            limit = NONE
    if not solved:
        shaft, current, limit = settled(p, lines, sea, now, wanted, full, ceiling, ceiling_name, allowed, emf, inflow, back)
    turns = shaft / p.ratio / TURN
    if back:
        thrust = -REVERSE_THRUST * sea.thrust[0] * sea.kg_m3 * turns * turns * sea.diameter**4
    else:
        _, thrust = worked(p, sea, turns, inflow)
    push = sea.screws * sea.push * thrust
    loss_nm = k_now * (p.drag_a + p.drag_b * shaft) if shaft > 0.0 else 0.0
    into = given(p, lines, k_now * current - loss_nm) * shaft / p.ratio
    accel = (push + f_other) / bare
    if back and v + accel * dt < 0.0:
        accel = -v / dt
        push = bare * accel - f_other
    return accel, push, current, limit, shaft, into, f_hull, f_air, f_paddle, 0.0, hand, target
