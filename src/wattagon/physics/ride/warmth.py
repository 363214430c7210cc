"""Temperatures of a step of the ride loop, compiled: heat that builds up, resistances that follow, limits that are met."""

from __future__ import annotations

import math

from wattagon.physics.ride.jit import jit
from wattagon.physics.ride.limits import NONE
from wattagon.physics.ride.names import Heat, Now

COPPER = 0.00393


@jit
def heat_step(p, temps, joules, h, v):
    """Temperatures after h seconds in which `joules` (of one motor, one controller, the pack) arose."""
    winding, case, controller, pack = temps[0], temps[1], temps[2], temps[3]
    film = p.film_still + p.film_moving * (p.air_share * v) ** 0.6
    out = p.fixed_w_per_k if p.fixed_w_per_k > 0.0 else film * p.case_area + p.mount_w_per_k
    flow = (winding - case) * p.winding_w_per_k
    around = p.air_c + p.sun_k + p.box_k_per_w * p.motors * joules[2] / h
    temps[0] = winding + (joules[0] - flow * h) / p.winding_j
    temps[1] = case + (joules[1] + (flow - out * (case - p.around_c)) * h) / p.case_j
    temps[2] = controller + (joules[2] - (controller - around) * p.controller_w_per_k * h) / p.controller_j
    temps[3] = pack + (joules[3] - p.pack_w_per_k * (pack - p.air_c - p.sun_k) * h) / p.pack_j
    if p.resistor_ohm > 0.0:
        temps[4] += (joules[4] - p.resistor_w_per_k * (temps[4] - p.air_c) * h) / p.resistor_j
    joules[:] = 0.0


@jit
def warm(p, temps, now):
    """What the temperatures decide: constants of motor and pack, and the shares that the tapers leave."""
    now[Now.K] = p.constant * (1.0 + p.magnet_per_k * (temps[1] - 20.0))
    now[Now.OHM] = p.ohm * (1.0 + COPPER * (temps[0] - 20.0)) + p.bridge_ohm
    factor = math.exp(p.pack_b * (1.0 / (temps[3] + 273.15) - 1.0 / 298.15))
    now[Now.R0] = p.cells_r0 * factor + p.wiring_ohm
    now[Now.R1] = p.cells_r1 * factor
    share = 1.0
    if p.motor_taper_end < 1e8:
        share = min(max((p.motor_taper_end - temps[0]) / (p.motor_taper_end - p.motor_taper_start), 0.0), 1.0)
    now[Now.MOTOR_SHARE] = share
    share = 1.0
    if p.controller_taper_end < 1e8:
        share = min(max((p.controller_taper_end - temps[2]) / (p.controller_taper_end - p.controller_taper_start), 0.0), 1.0)
    now[Now.CONTROLLER_SHARE] = share


@jit
def hottest(p, temps, hot, hot_at, t, fresh):
    """Keep the highest temperatures and when each first met its limit; the index of a part that just did, or -1."""
    found = NONE
    for k in range(5):
        if temps[k] > hot[k]:
            hot[k] = temps[k]
            limit = p.winding_limit
            if k == Heat.CASE:
                limit = p.case_limit
            elif k == Heat.CONTROLLER:
                limit = p.controller_taper_start
            elif k == Heat.PACK:
                limit = p.pack_limit
            elif k == Heat.RESISTOR:
                limit = p.resistor_limit
            if temps[k] >= limit and hot_at[k] < 0.0:
                hot_at[k] = t
                if not fresh:
                    found = k
    return found
