"""The steps from waking a controller to its failures on purpose: how, what is accepted for this design, judged from readings."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from wattagon.errors import InputError
from wattagon.standins.probe import FORWARD, made_ready, order_of
from wattagon.standins.stand import NEUTRAL_S, Stand, no_load

CAUTION = "Wheels off the ground, belt or propeller off, motor bolted down; nobody in the plane of what turns; a stop in reach."
OVER = "Local rules and licensed practice come first; what passes here does not make a vehicle safe."


class Result(NamedTuple):
    """What a step read: passed, what it says, and a value between its ends where there is one."""

    passed: bool
    words: str
    value: float = math.nan
    low: float = -math.inf
    high: float = math.inf
    unit: str = ""


class Step(NamedTuple):
    """One step; `do` plays it on a stand and judges it."""

    code: str
    name: str
    how: str
    accept: str
    do: Callable[[Stand], Result]


def idle(stand: Stand) -> Result:
    """B1."""
    made_ready(stand)
    amps = stand.mean(("pack_a",), 4.0)["pack_a"]
    wanted = float(stand.resolved.train.controller.idle_w) / stand.machine.emf
    most = max(0.2, 1.5 * wanted)
    return Result(amps < most, f"{amps:.3f} A at rest, {wanted:.3f} A by forecast", amps, 0.0, most, "A")


def low_settings(stand: Stand) -> Result:
    """B2: written, off and on again, read back."""
    stand.connect()
    stand.armed = False
    stand.write_low()
    kept = dict(stand.settings)
    stand.connected = False
    stand.connect()
    same = stand.settings == kept
    amps = stand.settings["motor_a"]
    return Result(same, f"motor amps {amps:g} A, pack amps {stand.settings['pack_a']:g} A read back after off and on", amps, unit="A")


def detection(stand: Stand) -> Result:
    """B3: three runs."""
    stand.armed = False
    stand.lever = 0.0
    stand.run(0.2)
    runs = []
    for _ in range(3):
        stand.machine.omega = stand.machine.current = 0.0
        runs.append(stand.detect())
    wanted = stand.forecast()
    ohm, flux = [sum(x) / 3 for x in ([r.resistance_ohm for r in runs], [r.flux_v_s for r in runs])]
    spread = max(max(abs(r.resistance_ohm / ohm - 1.0), abs(r.flux_v_s / flux - 1.0)) for r in runs)
    off_r, off_f = ohm / wanted["resistance_ohm"] - 1.0, flux / wanted["flux_v_s"] - 1.0
    passed = spread < 0.05 and abs(off_r) < 0.15 and abs(off_f) < 0.10
    words = f"resistance {1e3 * ohm:.1f} mΩ ({off_r:+.0%}), flux {1e3 * flux:.2f} mV s ({off_f:+.0%}), runs within {spread:.1%}"
    return Result(passed, words, off_f, -0.10, 0.10, "share")


def sensors(stand: Stand) -> Result:
    """B4: turned by hand."""
    stand.armed = False
    codes = stand.hand_turn()
    order = order_of(codes)
    shown = " ".join(map(str, codes))
    bits = all(bin(a ^ b).count("1") == 1 for a, b in zip(codes, [*codes[1:], codes[0]], strict=True))
    passed = order == 1.0 and bits
    why = "" if passed else f"; sound ones come as {' '.join(map(str, FORWARD))}"
    return Result(passed, f"codes {shown}{why}", float(len(set(codes))), 6.0, 6.0, "codes")


def direction(stand: Stand) -> Result:
    """B5: a small command."""
    made_ready(stand)
    stand.write("duty_mode", 1.0)
    stand.push(0.15)
    stand.run(1.5)
    rpm = stand.mean(("rpm",), 0.3)["rpm"]
    stand.push(0.0)
    stand.run(1.0)
    words = f"{rpm:.0f} rpm at a small forward command"
    return Result(rpm > 5.0, words if rpm > 5.0 else f"{words}: swap any two phase leads, or invert, never both", rpm, 5.0, unit="rpm")


def unloaded(stand: Stand) -> Result:
    """B6: four steps of duty."""
    made_ready(stand)
    stand.write("duty_mode", 1.0)
    worst, told = 0.0, []
    passed = True
    for share in (0.25, 0.5, 0.75, 1.0):
        stand.push(share)
        stand.run(3.0)
        now = stand.mean(("rpm", "told_rpm", "motor_a", "duty", "ripple_a"), 0.5)
        rpm, amps = no_load(stand, abs(now["duty"]))
        off_v, off_a = abs(now["told_rpm"]) / rpm - 1.0, now["motor_a"] / amps - 1.0
        smooth = now["ripple_a"] < 0.15 * max(abs(now["motor_a"]), 0.3)
        passed = passed and abs(off_v) < 0.05 and abs(off_a) < 0.30 and smooth
        worst = max(worst, abs(off_v), key=abs)
        told.append(
            f"{share:.0%}: {now['told_rpm']:.0f} rpm ({off_v:+.0%}), {now['motor_a']:.2f} A ({off_a:+.0%}){'' if smooth else ', trembling'}"
        )
    stand.push(0.0)
    stand.run(1.5)
    return Result(passed, "; ".join(told), worst, -0.05, 0.05, "share")


def controls(stand: Stand) -> Result:
    """B7: forward, brake, rest."""
    made_ready(stand)
    seen = []
    for share in (0.0, 0.5, 0.0):
        stand.push(share)
        stand.run(0.8)
        seen.append(stand.read()["command"])
    stand.hold_brake(0.6)
    stand.run(0.8)
    brake = stand.read()["command"]
    stand.hold_brake(0.0)
    stand.run(0.6)
    passed = abs(seen[0]) < 0.03 and seen[1] > 0.1 and brake < -0.1
    return Result(passed, f"rest {seen[0]:+.2f}, forward {seen[1]:+.2f}, brake {brake:+.2f}", seen[1], 0.1, 1.0, "share")


def not_at_zero(stand: Stand) -> Result:
    """C1: powered up with the lever pushed."""
    stand.armed = False
    stand.connect()
    stand.push(0.5)
    stand.run(0.6)
    try:
        stand.arm()
        refused = False
    except InputError:
        refused = True
    stand.run(0.5)
    still = abs(stand.machine.omega) < 0.1
    stand.push(0.0)
    stand.run(NEUTRAL_S + 0.1)
    return Result(refused and still, "no movement; it waits for the lever at rest" if refused and still else "it went at once")


def _running(stand: Stand, share: float = 0.5) -> None:
    made_ready(stand)
    stand.push(share)
    stand.run(1.5)


def _gone(stand: Stand, most_s: float) -> float:
    """Seconds until the command is nothing; inf where it is not in time."""
    for k in range(round(2.0 * most_s / 0.01)):
        if abs(stand.command) < 1e-3:
            return 0.01 * k
        stand.run(0.01)
    return math.inf


def radio_off(stand: Stand) -> Result:
    """C2."""
    _running(stand)
    stand.radio = False
    took = _gone(stand, 0.5)
    stand.radio = True
    stand.run(0.4)
    waits = abs(stand.command) < 1e-3
    stand.push(0.0)
    stand.run(NEUTRAL_S + 0.2)
    stand.push(0.5)
    stand.run(0.8)
    back = stand.command > 0.1
    stand.push(0.0)
    stand.run(0.5)
    what = "" if stand.throttle.kind == "pulse" else "no radio here, its lead instead: "
    words = f"{what}nothing after {took:.2f} s, {'waits for rest' if waits else 'drives on at once'} when it is back"
    return Result(took <= 0.5 and waits and back, words, took, 0.0, 0.5, "s")


def lead_pulled(stand: Stand) -> Result:
    """C3: whole, then each wire alone, at full command."""
    times = []
    for lead in ("throttle", "signal", "supply", "ground"):
        _running(stand, 1.0)
        stand.pull(lead)
        times.append((lead, _gone(stand, 0.3)))
        stand.plug(lead)
        stand.push(0.0)
        stand.run(NEUTRAL_S + 0.2)
    worst = max(took for _, took in times)
    return Result(worst <= 0.2, ", ".join(f"{lead} {took:.2f} s" for lead, took in times), worst, 0.0, 0.2, "s")


def sensors_pulled(stand: Stand) -> Result:
    """C4: while it runs."""
    _running(stand)
    before = stand.machine.omega
    stand.pull("sensors")
    stand.sensored = False
    stand.run(0.6)
    after = stand.machine.omega
    stand.plug("sensors")
    stand.sensored = True
    stand.push(0.0)
    stand.run(0.8)
    share = after / before if before else 0.0
    return Result(share >= 0.8 or abs(after) < 1.0, f"runs on at {share:.0%} without sensors", share, 0.8, unit="share")


def lanyard(stand: Stand) -> Result:
    """C5: at full command."""
    _running(stand, 1.0)
    stand.pull_lanyard()
    stand.run(0.01)
    took = _gone(stand, 0.3)
    opened = stand.machine.open
    stand.pull_lanyard(False)
    stand.push(0.0)
    stand.run(NEUTRAL_S + 0.2)
    return Result(took <= 0.2, f"nothing after {took + 0.01:.2f} s{', the contactor opened' if opened else ''}", took, 0.0, 0.2, "s")


def brake_wins(stand: Stand) -> Result:
    """C6."""
    _running(stand)
    stand.hold_brake(0.8)
    stand.run(1.0)
    command = stand.command
    stand.hold_brake(0.0)
    stand.push(0.0)
    stand.run(0.8)
    return Result(command < 0.0, f"command {command:+.2f} with throttle held", command, high=0.0, unit="share")


def low_volts(stand: Stand) -> Result:
    """C7: the cutoff set around the present volts; the pull fades, it is not cut."""
    kept = dict(stand.settings)
    motor = stand.resolved.train.motor
    stand.machine.load_nm = 0.15 * stand.full["motor_a"] * motor.dc_per_motor_amp * float(motor.torque_constant_nm_per_a)
    stand.settings = {**stand.full, "duty_mode": 0.0, "cut_start_v": kept["cut_start_v"], "cut_end_v": kept["cut_end_v"]}
    _running(stand, 0.6)
    stand.run(2.0)
    free = stand.mean(("pack_a",), 0.3)["pack_a"]
    shares = []
    emf = stand.machine.emf
    for k in range(6):
        top = emf + 0.02 * emf * (k - 2) / 2.0
        stand.settings = {**stand.settings, "cut_start_v": top + 0.02 * emf, "cut_end_v": top}
        stand.run(0.8)
        shares.append(stand.mean(("pack_a",), 0.2)["pack_a"] / max(free, 1e-6))
    stand.machine.load_nm = 0.0
    stand.push(0.0)
    stand.run(1.0)
    stand.settings = kept
    fades = any(0.1 < share < 0.9 for share in shares)
    return Result(
        fades and shares[-1] < 0.2,
        f"pack amps go down through {', '.join(f'{share:.0%}' for share in shares)} of what they were",
        shares[-1],
        high=0.2,
        unit="share",
    )


def full_pack(stand: Stand) -> Result:
    """C8: braking into a full pack."""
    kept = stand.machine.charge
    stand.machine.charge = 0.995
    _running(stand, 1.0)
    stand.push(0.0)
    stand.hold_brake(1.0)
    most, cell = 0.0, 0.0
    for _ in range(40):
        stand.run(0.05)
        now = stand.true()
        most = max(most, now["bus_v"])
        cell = max(cell, -now["pack_a"])
    stand.hold_brake(0.0)
    stand.run(0.5)
    limit = float(stand.resolved.train.pack.full_v)
    stand.machine.charge = kept
    return Result(most <= 1.002 * limit, f"at most {most:.1f} V of {limit:.1f} V, {cell:.1f} A back", most, high=limit, unit="V")


STEPS: tuple[Step, ...] = (
    Step("B1", "Idle draw", "arm, no command", "under 0.2 A; nothing warm", idle),
    Step("B2", "A fifth of the limits", "write them low, off and on, read back", "the same values", low_settings),
    Step(
        "B3",
        "Detection",
        "the controller's routine, three runs",
        "runs within 5 %, resistance within 15 %, flux within 10 % of the forecast",
        detection,
    ),
    Step("B4", "Sensors", "turn the rotor by hand, log the codes", "six legal codes, one bit at a time, in order", sensors),
    Step("B5", "Direction", "a small command, look from the drive side", "forwards", direction),
    Step("B6", "No load", "25, 50, 75, 100 % of duty", "speed within 5 %, amps within 30 % of the forecast, smooth", unloaded),
    Step("B7", "Sense of the levers", "forward, brake, rest", "as labelled, rest within 3 %", controls),
    Step("C1", "On with the lever pushed", "power up with the command not at zero", "no movement; arms only at rest", not_at_zero),
    Step("C2", "Radio off", "at half command", "nothing within 0.5 s, and rest is seen before it drives again", radio_off),
    Step("C3", "Throttle lead pulled", "at full command, then each wire alone", "nothing within 0.2 s", lead_pulled),
    Step("C4", "Sensor plug pulled", "while it runs", "stops, or runs on smoothly", sensors_pulled),
    Step("C5", "Lanyard", "pulled at full command", "nothing within 0.2 s", lanyard),
    Step("C6", "Brake with throttle held", "both at once", "the brake wins", brake_wins),
    Step("C7", "Low volts", "the cutoff set around the present volts", "the pull fades, it is not cut", low_volts),
    Step("C8", "Full pack and brake", "wheels off the ground", "never above the full pack's volts", full_pack),
)
