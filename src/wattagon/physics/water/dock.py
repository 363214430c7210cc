"""A dock test: what a propeller really pulls and takes at rest, as factors on its forecast.

Source: pull and torque at rest go with the square of the turns, T = K_T rho n^2 D^4, Q = K_Q rho n^2 D^5; torque by the motor's current.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wattagon.errors import InputError
from wattagon.physics.powertrain import Powertrain
from wattagon.physics.water.boat import Boat

BELIEVED = (0.6, 1.5)  # factors outside were measured wrong


class Pulled(NamedTuple):
    """One step of throttle, steady: pull of all propellers [N], bus volts, pack amps of all controllers, turns of a propeller [rpm]."""

    pull_n: float
    volts: float
    pack_a: float
    rpm: float


class Factor(NamedTuple):
    """Measured over forecast, with its standard error, and how far single steps lie from it (a share)."""

    value: float
    error: float
    scatter: float


def motor_current_a(train: Powertrain, volts: float, pack_a: float, shaft_rad_s: float) -> float:
    """DC-equivalent current of one motor from what its controller takes: I (K w + R I + V_b) + c V I + P0 = V I_b/n."""
    m, c = train.motor, train.controller
    power = volts * pack_a / float(train.count) - float(c.idle_w)
    ohm = float(m.resistance_ohm) + float(c.bridge_ohm)
    linear = float(m.torque_constant_nm_per_a) * shaft_rad_s + float(m.brush_drop_v) + float(c.switching_v_per_v) * volts
    return 2.0 * max(power, 0.0) / (linear + math.sqrt(linear**2 + 4.0 * ohm * max(power, 0.0))) if linear > 0.0 else 0.0


def fit_dock(train: Powertrain, boat: Boat, rows: Sequence[Pulled]) -> tuple[Factor, Factor]:
    """(factor on thrust, factor on torque) of the steps of a dock test; the boat has the deduction of a dock.

    Raises InputError for fewer than two steps, for values that are not above 0, and for factors that nobody should believe.
    """
    if len(rows) < 2:
        raise InputError("dock test", f"{len(rows)} rows", "two rows or more of pull, volts, amps and rpm")
    if any(not all(math.isfinite(value) and value > 0.0 for value in row) for row in rows):
        raise InputError("dock test", "a row that is not above 0", "pull, volts, amps and rpm above 0")
    thrust, torque = [], []
    for row in rows:
        output = row.rpm * math.tau / 60.0
        shaft = output * float(train.reduction.ratio)
        taken, given = (float(value) for value in boat.turned(0.0, output))
        current = motor_current_a(train, row.volts, row.pack_a, shaft)
        thrust.append(row.pull_n / given)
        torque.append(float(train.output_torque_nm(current, shaft)) / taken)
    found = []
    for name, ratios in (("pull", thrust), ("torque", torque)):
        mean, spread = float(np.mean(ratios)), float(np.std(ratios, ddof=1))
        if not BELIEVED[0] <= mean <= BELIEVED[1]:
            raise InputError(f"dock test, {name}", f"{mean:.2f} times the forecast", "0.6 to 1.5 times it: something was measured wrong")
        found.append(Factor(mean, spread / math.sqrt(len(ratios)), spread / mean))
    return found[0], found[1]
