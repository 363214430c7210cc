"""Temperatures of a motor under currents that were measured, compiled; the same two nodes as `warmth.heat_step`."""

from __future__ import annotations

from wattagon.physics.ride.jit import jit
from wattagon.physics.ride.warmth import COPPER


@jit
def warmed(current, shaft, speed, dt, motor, heat, air_c, winding_c, case_c, out_winding, out_case):
    """Winding and case [C] before each step of dt [s], written into `out_winding`, `out_case` (n,).

    current (n,): DC-equivalent, of one motor [A]; shaft (n,) [rad/s]; speed (n,) [m/s].  motor: K, a, b, R at 20 C, magnet_per_k, brush
    volts.  heat: J/K of winding and case, K/W between them, case area, film still and moving, share of the air, W/K of the mount, fixed
    W/K (0: none), share of the iron loss in the winding.
    """
    k20, a, b, ohm, per_k, brush = motor[0], motor[1], motor[2], motor[3], motor[4], motor[5]
    for k in range(current.size):
        out_winding[k], out_case[k] = winding_c, case_c
        film = heat[4] + heat[5] * (heat[6] * max(speed[k], 0.0)) ** 0.6
        out = heat[8] if heat[8] > 0.0 else film * heat[3] + heat[7]
        i, w = current[k], shaft[k]
        constant = k20 * (1.0 + per_k * (case_c - 20.0))
        iron = constant * (a + b * w) * w if w > 0.0 else 0.0
        copper = ohm * (1.0 + COPPER * (winding_c - 20.0)) * i * i + brush * abs(i)
        flow = (winding_c - case_c) / heat[2]
        winding_c += (copper + heat[9] * iron - flow) * dt / heat[0]
        case_c += ((1.0 - heat[9]) * iron + flow - out * (case_c - air_c)) * dt / heat[1]
