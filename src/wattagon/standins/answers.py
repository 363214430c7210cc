"""What the tests of trouble answer on a stand: its readings beside those of a sound stand of the same design."""

from __future__ import annotations

import statistics
from collections.abc import Callable
from typing import NamedTuple

from wattagon.errors import InputError
from wattagon.standins.probe import FORWARD, made_ready, probe
from wattagon.standins.stand import Stand

# bounds on a reading against the sound stand's, above its noise; judged
FLUX_LOW, FLUX_173, OHMS_LOW, AMPS_HIGH, TREMBLE_A, SPEED_OFF = 0.95, 0.70, 0.93, 1.6, 0.06, 0.10
CONTACT_V, JUMPS_SHARE, GROUP_V, WARM_K, LOST_SHARE = 0.06, 0.08, 0.05, 1.5, 0.01
LOAD_SHARE, WINDOWS = 0.25, 24


class Seen(NamedTuple):
    """Readings of a stand, and of its detections."""

    readings: dict[str, float]
    ohms: tuple[float, ...]
    fluxes: tuple[float, ...]


def seen_on(stand: Stand) -> Seen:
    """Every reading that a test asks for, taken once."""
    stand.connect()
    ohms, fluxes = [], []
    for _ in range(3):
        try:
            found = stand.detect()
        except InputError:
            break
        ohms.append(found.resistance_ohm)
        fluxes.append(found.flux_v_s)
    stand.armed = False
    readings = {name: value for name, (value, _) in probe(stand).items()}
    readings["jumps"] = _jumpiness(stand)
    return Seen(readings, tuple(ohms), tuple(fluxes))


def _jumpiness(stand: Stand) -> float:
    """How far the drop between pack and controller jumps under a steady load [V], one sigma of tenths of a second."""
    motor = stand.resolved.train.motor
    stand.machine.load_nm = float(motor.torque_constant_nm_per_a) * LOAD_SHARE * stand.full["motor_a"] * motor.dc_per_motor_amp
    made_ready(stand)
    stand.push(0.95)
    stand.run(2.0)
    drops = []
    for _ in range(WINDOWS):
        now = stand.mean(("pack_v", "bus_v"), 0.1)
        drops.append(now["pack_v"] - now["bus_v"])
    stand.push(0.0)
    stand.machine.load_nm = 0.0
    stand.run(1.0)
    return statistics.pstdev(drops)


def _codes(seen: Seen, _sound: Seen) -> str:
    if seen.readings["sensor_codes"] < len(FORWARD):
        return "missing"
    return "in_order" if seen.readings["sensor_order"] == 1.0 else "other_order"


def _detect(seen: Seen, sound: Seen) -> str:
    if len(seen.fluxes) < 3:
        return "refused"
    mean = lambda values: sum(values) / len(values)
    flux, ohm = mean(seen.fluxes), mean(seen.ohms)
    if max(abs(value / flux - 1.0) for value in seen.fluxes) > 0.05:
        return "scatters"
    share = flux / mean(sound.fluxes)
    if share < FLUX_173 or share > 1.0 / FLUX_173:
        return "flux_173"
    if ohm / mean(sound.ohms) < OHMS_LOW:
        return "ohms_low"
    return "flux_low" if share < FLUX_LOW else "agrees"


def _command(seen: Seen, sound: Seen) -> str:
    if seen.readings["lost"] > LOST_SHARE:
        return "gaps"
    return "reversed" if seen.readings["command"] * sound.readings["command"] < 0.0 else "rises"


def _direction(seen: Seen, sound: Seen) -> str:
    turns, wanted = seen.readings["turns"], sound.readings["turns"]
    if abs(turns) < 0.1 * abs(wanted):
        return "nothing"
    return "forwards" if turns > 0.0 else "backwards"


def _no_load(seen: Seen, sound: Seen) -> str:
    if abs(seen.readings["no_load_a"]) > AMPS_HIGH * abs(sound.readings["no_load_a"]):
        return "amps_high"
    return "trembles" if seen.readings["ripple"] - sound.readings["ripple"] > TREMBLE_A else "forecast"


def _speed(seen: Seen, sound: Seen) -> str:
    a, b = abs(seen.readings["told_speed"]), abs(sound.readings["told_speed"])
    return "off" if b and abs(a / b - 1.0) > SPEED_OFF else "agrees"


def _volts(seen: Seen, sound: Seen) -> str:
    drop = seen.readings["contact"] - sound.readings["contact"]
    if drop > CONTACT_V:
        return "jumps" if seen.readings["jumps"] - sound.readings["jumps"] > JUMPS_SHARE * drop else "steady"
    return "both_sag" if seen.readings["group_low"] - sound.readings["group_low"] > GROUP_V else "alike"


def _groups(seen: Seen, sound: Seen) -> str:
    return "one_low" if seen.readings["group_low"] - sound.readings["group_low"] > GROUP_V else "alike"


def _joints(seen: Seen, sound: Seen) -> str:
    return "one_joint" if seen.readings["connector_c"] - sound.readings["connector_c"] > WARM_K else "cool"


# by code of the test of trouble
ANSWERS: dict[str, Callable[[Seen, Seen], str]] = {
    "hand_codes": _codes,
    "detect": _detect,
    "watch_command": _command,
    "small_command": _direction,
    "no_load_run": _no_load,
    "count_speed": _speed,
    "volts_both_ends": _volts,
    "group_volts": _groups,
    "feel_joints": _joints,
}


def answer_of(test: str, seen: Seen, sound: Seen) -> str:
    """What a test answers.  Raises InputError for one that the stand cannot do."""
    if test not in ANSWERS:
        raise InputError("test", test, ", ".join(ANSWERS))
    return ANSWERS[test](seen, sound)


__all__ = ["ANSWERS", "Seen", "answer_of", "seen_on"]
