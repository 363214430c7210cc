"""Readings that tell faults apart, taken in one order with what a workshop has: hand, detection, no load, a hand brake, a minute."""

from __future__ import annotations

import itertools
import math

from wattagon.errors import InputError
from wattagon.standins.stand import NEUTRAL_S, READINGS, Stand

# which way sound codes follow one another when the rotor is turned forwards
FORWARD = (1, 3, 2, 6, 4, 5)
LOAD_SHARE, LOADED_S = 0.25, 20.0


def order_of(codes: tuple[int, ...] | list[int]) -> float:
    """1 where the codes come as on a sound motor, -1 backwards, 0 where they are no such ring."""
    legal = [code for code in codes if code in FORWARD]
    if len(set(legal)) < 6 or len(legal) != len(codes):
        return 0.0
    steps = [(FORWARD.index(b) - FORWARD.index(a)) % 6 for a, b in itertools.pairwise(legal)]
    return 1.0 if all(step == 1 for step in steps) else -1.0 if all(step == 5 for step in steps) else 0.0


def made_ready(stand: Stand) -> None:
    """Connected, the lever at rest for long enough, armed."""
    stand.connect()
    stand.push(0.0)
    stand.hold_brake(0.0)
    stand.run(NEUTRAL_S + 0.1)
    for _ in range(20):
        try:
            stand.arm()
            return
        except InputError:
            stand.run(0.3)  # a receiver that loses its signal comes back
    stand.arm()


def probe(stand: Stand) -> dict[str, tuple[float, float]]:
    """(value, noise) of every deciding reading."""
    stand.connect()
    found: dict[str, tuple[float, float]] = {}
    codes = stand.hand_turn()
    found["sensor_order"] = (order_of(codes), 0.0)
    found["sensor_codes"] = (float(len({code for code in codes if code in FORWARD})), 0.0)
    stand.run(NEUTRAL_S + 0.1)
    fluxes = []
    try:
        fluxes = [stand.detect().flux_v_s for _ in range(3)]
        found["detect_turns"] = (1.0, 0.0)
    except InputError:
        found["detect_turns"] = (0.0, 0.0)
    if fluxes:
        mean = sum(fluxes) / len(fluxes)
        found["flux"] = (mean, 0.003 * mean)
    made_ready(stand)
    stand.write("duty_mode", 1.0)
    stand.push(0.5)
    stand.run(2.5)
    command = stand.read()["command"]
    found["command"] = (command, READINGS["lever"].sigma)
    turning = stand.mean(("rpm", "told_rpm", "duty", "bus_v", "motor_a", "ripple_a"), 0.6)
    found["turns"] = (turning["rpm"], 2.0)
    found["no_load_a"] = (turning["motor_a"], READINGS["motor_a"].sigma)
    found["ripple"] = (turning["ripple_a"], READINGS["ripple_a"].sigma)
    kv = float(stand.resolved.train.motor.kv_rpm_per_v)
    wanted = kv * abs(turning["duty"]) * turning["bus_v"]
    found["told_speed"] = (turning["told_rpm"] / wanted if wanted > 1.0 else 0.0, 0.01)
    gone, many = 0.0, 80
    for _ in range(many):
        stand.run(0.1)
        gone += stand.true()["signal"] < 0.5
    found["lost"] = (gone / many, 0.005)
    _loaded(stand, found)
    return found


def _loaded(stand: Stand, found: dict[str, tuple[float, float]]) -> None:
    """With a hand brake on the shaft for most of a minute."""
    motor = stand.resolved.train.motor
    amps = LOAD_SHARE * stand.full["motor_a"] * motor.dc_per_motor_amp
    stand.push(0.0)
    stand.run(0.5)
    stand.machine.load_nm = float(motor.torque_constant_nm_per_a) * amps
    made_ready(stand)
    stand.push(0.95)
    stand.run(LOADED_S)
    series = float(stand.resolved.train.pack.series)
    names = ("pack_v", "bus_v", "pack_a", "group_low_v", "connector_c")
    loaded = stand.mean(names, 0.6)
    volts, share = READINGS["pack_v"].sigma, 1.0 / math.sqrt(60.0)
    found["contact"] = (loaded["pack_v"] - loaded["bus_v"], 2.0 * volts * share)
    found["group_low"] = (loaded["pack_v"] / series - loaded["group_low_v"], READINGS["group_low_v"].sigma)
    found["connector_c"] = (loaded["connector_c"], READINGS["connector_c"].sigma)
    stand.push(0.0)
    stand.machine.load_nm = 0.0
    stand.run(1.0)
