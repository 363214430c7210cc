"""A live stand: transmitter or lever, receiver, controller with its settings, motor; commands, readings, detection, failures.

Time goes on when it is told to (`run`), so a test is as quick as the machine and a window as slow as the clock.
"""

from __future__ import annotations

import math
import random
from typing import NamedTuple

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Lever
from wattagon.errors import InputError
from wattagon.physics.motor import COPPER_PER_K, Q_AXIS_FACTOR
from wattagon.physics.throttle import Ramps, slew
from wattagon.standins.faults import FAULTS
from wattagon.standins.machine import CONTACT_OHM, STEP_S, Machine
from wattagon.study.controller.throttle import mapped
from wattagon.study.drive.study import DriveStudy, study_drive

NEUTRAL_S = 0.5
LOW_SHARE = 0.2  # of the limits, for first tries
FULL_CHARGE = 0.97
FADE_FROM = 0.93  # of charge: regeneration fades out from here on
SETTLE_S = 0.4
DETECT_V = 0.05


class Noise(NamedTuple):
    """Noise of one reading as real meters have it: standard deviation and unit."""

    sigma: float
    share: float
    unit: str


READINGS: dict[str, Noise] = {
    "time": Noise(0.0, 0.0, "s"),
    "pack_v": Noise(0.03, 0.0, "V"),
    "bus_v": Noise(0.03, 0.0, "V"),
    "pack_a": Noise(0.03, 0.002, "A"),
    "motor_a": Noise(0.05, 0.003, "A"),
    "ripple_a": Noise(0.02, 0.02, "A"),
    "duty": Noise(0.001, 0.0, "share"),
    "erpm": Noise(3.0, 0.0005, "rpm"),
    "rpm": Noise(1.0, 0.0005, "rpm"),
    "told_rpm": Noise(1.0, 0.0005, "rpm"),
    "command": Noise(0.0, 0.0, "share"),
    "lever": Noise(0.0005, 0.0, "share"),
    "raw": Noise(0.0, 0.0005, "V"),  # us of a pulse
    "hall": Noise(0.0, 0.0, "code"),
    "motor_c": Noise(0.3, 0.0, "C"),
    "controller_c": Noise(0.3, 0.0, "C"),
    "connector_c": Noise(0.3, 0.0, "C"),
    "group_low_v": Noise(0.003, 0.0, "V"),
    "signal": Noise(0.0, 0.0, "ok"),
    "armed": Noise(0.0, 0.0, "ok"),
}
LIMITS: dict[str, tuple[str, float, float]] = {  # key: unit, least, most
    "motor_a": ("A", 1.0, 2000.0),
    "motor_brake_a": ("A", 0.0, 2000.0),
    "pack_a": ("A", 1.0, 2000.0),
    "pack_in_a": ("A", 0.0, 2000.0),
    "cut_start_v": ("V", 0.0, 500.0),
    "cut_end_v": ("V", 0.0, 500.0),
    "duty": ("share", 0.1, 1.0),
    "poles": ("number", 2.0, 200.0),
    "reversed": ("number", 0.0, 1.0),
    "rise_s": ("s", 0.0, 10.0),
    "fall_s": ("s", 0.0, 10.0),
    "loss_s": ("s", 0.01, 10.0),
    "duty_mode": ("number", 0.0, 1.0),  # 1: the lever asks for duty, not for amps
}
OF_THE_LEVER = frozenset({"throttle", "signal", "supply", "ground"})
LEADS = ("throttle", "signal", "supply", "ground", "sensors")


class Detected(NamedTuple):
    """What detection found; resistance and inductance line to line, flux linkage [V s] peak of a phase."""

    resistance_ohm: float
    inductance_h: float
    flux_v_s: float
    codes: tuple[int, ...]


class Stand:
    """One controller and its motor.  Methods raise InputError with a sentence and change nothing then."""

    def __init__(
        self,
        design: Design,
        stock: Catalogue,
        *,
        fault: str = "",
        seed: int = 1,
        charge: float = 0.8,
        coupled: bool = False,
        drive: DriveStudy | None = None,
    ) -> None:
        if fault and fault not in FAULTS:
            raise InputError("--fault", fault, ", ".join(FAULTS))
        self.drive = drive if drive is not None else study_drive(design, stock)
        self.design = design
        self.resolved = self.drive.resolved
        self.fault = fault
        self.machine = Machine(self.resolved, charge, coupled=coupled, fault=fault)
        self.throttle = mapped(design)
        self._random = random.Random(seed)
        self._noise = np.random.default_rng(seed)
        controller = self.resolved.unheld  # whatever mode is in view
        pairs = max(float(self.resolved.train.motor.pole_pairs), 1.0)
        self.settings: dict[str, float] = {
            "motor_a": float(controller.motor_current_a),
            "motor_brake_a": float(controller.regen_motor_current_a),
            "pack_a": float(controller.battery_current_a),
            "pack_in_a": float(controller.regen_battery_current_a),
            "cut_start_v": float(controller.cutback_start_v),
            "cut_end_v": float(controller.cutback_end_v),
            "duty": float(controller.duty_max),
            "poles": 2.0 * pairs if fault != "wrong_poles" else 2.0 * (pairs + 3.0),
            "reversed": 0.0,
            "rise_s": self.throttle.ramps.rise_s,
            "fall_s": self.throttle.ramps.fall_s,
            "loss_s": self.throttle.lost_s,
            "duty_mode": 0.0,
        }
        self.full = dict(self.settings)
        self.connected = self.armed = False
        self.lever = self.brake = self.command = 0.0
        self.radio = True
        self.pulled: set[str] = set()
        self._cut = False  # whether a lead of the lever is off
        self._wish: tuple[float, float, float] = (math.nan, math.nan, 0.0)  # lever, brake, and the command that they ask for
        self.lanyard = True
        self.sensored = True
        self._neutral_s = 0.0
        self._quiet_s = 0.0
        self._lost = False
        self._drop_s = 0.0
        self.detected: Detected | None = None
        self.rows: list[dict[str, float]] = []
        self.keep = False
        self._since_row = 0.0

    # hand, radio, leads

    def connect(self) -> None:
        """Speak with the controller."""
        self.connected = True

    def _need(self) -> None:
        if not self.connected:
            raise InputError("connect", "not done", "connect first")

    def push(self, share: float) -> None:
        """The lever, -1 to 1.  Raises InputError."""
        self._need()
        if not (isinstance(share, (int, float)) and -1.0 <= share <= 1.0):
            raise InputError("drive", share, "-1 to 1")
        self.lever = float(share)

    def hold_brake(self, share: float) -> None:
        """The brake lever, 0 to 1.  Raises InputError."""
        self._need()
        if not 0.0 <= share <= 1.0:
            raise InputError("brake", share, "0 to 1")
        self.brake = float(share)

    def pull(self, lead: str) -> None:
        """Pull a lead off.  Raises InputError."""
        if lead not in LEADS:
            raise InputError("pull", lead, ", ".join(LEADS))
        self.pulled.add(lead)
        self._cut = bool(self.pulled & OF_THE_LEVER)

    def plug(self, lead: str) -> None:
        """And put it back."""
        if lead not in LEADS:
            raise InputError("plug", lead, ", ".join(LEADS))
        self.pulled.discard(lead)
        self._cut = bool(self.pulled & OF_THE_LEVER)

    def pull_lanyard(self, out: bool = True) -> None:
        """Pull the stop's lanyard, or put it back."""
        self.lanyard = not out
        self.machine.open = out and bool(self._has_contactor())
        if out:
            self.armed = False

    def _has_contactor(self) -> bool:
        wiring = self.resolved.variant.wiring
        return wiring is not None and any(piece.kind == "contactor" for piece in wiring.pieces)

    def arm(self) -> None:
        """Let it drive: only with the command at rest for half a second, all leads on, the lanyard in.  Raises InputError."""
        self._need()
        if not self.lanyard:
            raise InputError("arm", "lanyard pulled", "the lanyard in")
        if self._fails():
            raise InputError("arm", "no signal", "a lever that reads within its window")
        if abs(self._asked()) > 1e-9:
            raise InputError("arm", f"lever at {self.lever:g}", "the lever at rest for half a second")
        if self._neutral_s < NEUTRAL_S:
            raise InputError("arm", f"at rest for {self._neutral_s:.2g} s", "half a second at rest first")
        self.armed = True

    def write(self, key: str, value: float) -> None:
        """One setting.  Raises InputError for one that there is not or out of range."""
        self._need()
        if key not in LIMITS:
            raise InputError("setting", key, ", ".join(LIMITS))
        unit, low, high = LIMITS[key]
        if not (math.isfinite(value) and low <= value <= high):
            raise InputError(key, f"{value:g} {unit}", f"{low:g} to {high:g} {unit}")
        after = {**self.settings, key: float(value)}
        if after["cut_end_v"] > after["cut_start_v"]:
            raise InputError(key, f"{value:g} V", "a cutoff that ends at or below where it begins")
        self.settings = after

    def write_low(self) -> None:
        """A fifth of the limits, for the first tries."""
        for key in ("motor_a", "pack_a", "motor_brake_a", "pack_in_a"):
            least = LIMITS[key][1]
            self.write(key, max(LOW_SHARE * self.full[key], least))

    def write_full(self) -> None:
        """The limits of the sheet again."""
        for key in ("motor_a", "pack_a", "motor_brake_a", "pack_in_a"):
            self.write(key, max(self.full[key], LIMITS[key][1]))

    # in time

    def run(self, seconds: float) -> None:
        """Let time go on."""
        for _ in range(max(round(seconds / STEP_S), 0)):
            self._tick()

    def _fails(self) -> bool:
        return self._cut or not self.radio

    def _asked(self) -> float:
        """Command by curve and dead band, before the ramps; worked out anew when a lever moves."""
        if self._wish[:2] != (self.lever, self.brake):
            self._wish = (self.lever, self.brake, self._shaped())
        return self._wish[2]

    def _shaped(self) -> float:
        travel = -self.lever if self.fault == "throttle_reversed" else self.lever
        shape = self.throttle.shape if travel >= 0.0 else self.throttle.brake_shape
        wish = float(shape.of(travel))
        return -float(self.throttle.brake_shape.of(self.brake)) if self.brake > self.throttle.shape.dead else wish

    def _signal(self) -> bool:
        """Whether a reading comes in; a receiver that loses it is gone for a while now and then."""
        if self.fault == "signal_lost":
            if self._drop_s > 0.0:
                self._drop_s -= STEP_S
                return False
            if self._random.random() < STEP_S / 1.5:
                self._drop_s = 0.4 + 0.2 * self._random.random()
        return not self._fails()

    def _tick(self) -> None:
        m, s = self.machine, self.settings
        here = self._signal()
        self._quiet_s = 0.0 if here else self._quiet_s + STEP_S
        at_once = self._cut
        if self._quiet_s >= s["loss_s"] or (at_once and self._quiet_s > 0.05):
            self._lost = True
        asked = self._asked() if here else self.command
        if here and abs(asked) < 1e-9:
            self._neutral_s += STEP_S
            if self._neutral_s >= NEUTRAL_S:
                self._lost = False
        else:
            self._neutral_s = 0.0
        ramps = Ramps(s["rise_s"], s["fall_s"], s["rise_s"], s["fall_s"])
        if not self.armed or self._lost:
            self.command = 0.0 if not self.armed else slew(self.command, 0.0, STEP_S, Ramps(0.01, 0.05, 0.01, 0.05))
        else:
            self.command = slew(self.command, asked, STEP_S, ramps)
        if not self.armed or (self.command == 0.0 and abs(m.omega) < 1e-9):
            m.step(0.0, off=True)
        elif self.command == 0.0:
            m.step(m.constant * m.omega, off=True)
        else:
            m.step(self._volts(self.command))
        self._since_row += STEP_S
        if self.keep and self._since_row >= 0.02 - 1e-9:
            self._since_row = 0.0
            self.rows.append(self.read())

    def _way(self) -> float:
        """Which way a forward command turns it."""
        swapped = self.fault == "phases_swapped"
        return -1.0 if swapped != (self.settings["reversed"] > 0.5) else 1.0

    def _volts(self, command: float) -> float:
        """On the winding for a command in current mode, with every limit."""
        m, s = self.machine, self.settings
        way = self._way()
        factor = 1.0 if m.motor.brushed else Q_AXIS_FACTOR
        if command > 0.0:
            wish = command * factor * s["motor_a"] * way
            if s["duty_mode"] > 0.5:
                gap = command * s["duty"] * m.slow_v * way - m.constant * m.omega
                wish = min(max(gap / m.ohm, -abs(wish)), abs(wish))
            if self.fault in ("sensors_swapped", "sensor_dead") and self.sensored and abs(m.omega) < 60.0:
                wish *= 0.35 + 0.65 * (self._random.random() < 0.5)  # torque comes and goes
        else:
            fades = min(max((FULL_CHARGE - m.charge) / (FULL_CHARGE - FADE_FROM), 0.0), 1.0)
            wish = command * factor * s["motor_brake_a"] * math.copysign(1.0, m.omega if abs(m.omega) > 1e-6 else way) * fades
            if abs(m.omega) < 1.0:
                wish = 0.0
        volts = self._for(wish)
        # the pack's amps, cut back by its volts
        start, end = s["cut_start_v"], s["cut_end_v"]
        most = s["pack_a"]
        if start > end:
            settled = most * (m.emf - end) / (start - end + most * (m.pack_ohm + CONTACT_OHM))
            most = min(most, max(settled, 0.0))
        elif m.slow_v < end:
            most = 0.0
        power = volts * self._after(volts)
        bus = max(m.slow_v, 1.0)
        if power > most * bus or power < -s["pack_in_a"] * bus:
            target = most * bus if power > 0.0 else -s["pack_in_a"] * bus
            volts = self._for_power(target, volts, drives=power > 0.0)
        return volts

    def _for(self, amps: float) -> float:
        """Volts that bring the winding to a current within a step."""
        m = self.machine
        decay = math.exp(-STEP_S * m.ohm / m.henry)
        settled = (amps - m.current * decay) / max(1.0 - decay, 1e-9)
        duty = self.settings["duty"] * m.slow_v
        return min(max(m.ohm * settled + m.constant * m.omega, -duty), duty)

    def _after(self, volts: float) -> float:
        """Current at the end of a step with some volts."""
        m = self.machine
        decay = math.exp(-STEP_S * m.ohm / m.henry)
        settled = (volts - m.constant * m.omega) / m.ohm
        return settled + (m.current - settled) * decay

    def _for_power(self, watts: float, volts: float, *, drives: bool) -> float:
        """Volts at which the winding takes (or gives) a power, between coasting and the volts that were wanted."""
        coast = self._for(0.0)
        low, high = 0.0, 1.0
        for _ in range(30):
            middle = 0.5 * (low + high)
            v = coast + middle * (volts - coast)
            over = v * self._after(v) > watts if drives else v * self._after(v) < watts
            low, high = (low, middle) if over else (middle, high)
        return coast + low * (volts - coast)

    # readings

    def true(self) -> dict[str, float]:
        """All readings without noise."""
        m = self.machine
        pairs = max(float(m.motor.pole_pairs), 1.0)
        factor = 1.0 if m.motor.brushed else Q_AXIS_FACTOR
        erpm = m.omega * pairs * 60.0 / math.tau
        rest = math.hypot(m.shake, 0.01 * abs(m.current))
        return {
            "time": m.seconds,
            "pack_v": m.volts + m.contact_v,
            "bus_v": m.volts,
            "pack_a": m.pack_a,
            "motor_a": abs(m.current) / factor * math.copysign(1.0, m.current * self._way()) if m.current else 0.0,
            "ripple_a": rest,
            "duty": m.duty,
            "erpm": erpm,
            "rpm": m.omega * 60.0 / math.tau,
            "told_rpm": erpm / (0.5 * self.settings["poles"]),
            "command": self.command,
            "lever": self.lever,
            "raw": self.throttle.window.reading(self.lever),
            "hall": float(m.hall()),
            "motor_c": m.winding_c,
            "controller_c": m.controller_c,
            "connector_c": m.connector_c,
            "group_low_v": m.group_low_v(),
            "signal": 0.0 if self._lost or self._fails() or self._drop_s > 0.0 else 1.0,
            "armed": float(self.armed),
        }

    def unit(self, name: str) -> str:
        """Unit of a reading."""
        return "us" if name == "raw" and self.throttle.kind == "pulse" else READINGS[name].unit

    def read(self) -> dict[str, float]:
        """All readings as meters show them."""
        made = {}
        for name, value in self.true().items():
            noise = READINGS[name]
            made[name] = value + float(self._noise.standard_normal()) * (noise.sigma + noise.share * abs(value))
        return made

    def lever_seen(self) -> Lever:
        """The lever as its readings were recorded.  Raises InputError where it was not at rest and at every end."""
        both, pushed = self.throttle.window.both_ways, [row["lever"] for row in self.rows]
        rest = [row["raw"] for row in self.rows if abs(row["lever"]) < 0.02]
        if not rest or max(pushed) < 0.9 or (both and min(pushed) > -0.9):
            raise InputError("readings", "not at every end", "the lever pushed to its ends and let go, then taken")
        places, raw = (0 if self.throttle.kind == "pulse" else 2), [row["raw"] for row in self.rows]
        middle = round(sum(rest) / len(rest), places)
        low = round(min(raw), places) if both else middle
        return Lever(kind=self.throttle.kind, low=low, centre=middle, high=round(max(raw), places))

    def mean(self, names: tuple[str, ...], seconds: float = 0.5) -> dict[str, float]:
        """Means of some readings while time goes on."""
        count = max(round(seconds / 0.01), 1)
        total = dict.fromkeys(names, 0.0)
        for _ in range(count):
            self.run(0.01)
            now = self.read()
            for name in names:
                total[name] += now[name] / count
        return total

    def hand_turn(self, steps: int = 96) -> list[int]:
        """Turn the rotor by hand over one electrical turn: the codes as they came, each once in a row.  Raises InputError."""
        self._need()
        if self.armed:
            raise InputError("hand", "armed", "a stand that is not armed: hands off what can start")
        codes: list[int] = []
        for k in range(steps):
            self.machine.angle = (k + 0.5) / steps * math.tau
            code = self.machine.hall()
            if not codes or codes[-1] != code:
                codes.append(code)
        return codes[:-1] if len(codes) > 1 and codes[0] == codes[-1] else codes

    # detection

    def detect(self) -> Detected:
        """Resistance, inductance, flux and the sensors' codes.  Raises InputError where it may not or cannot."""
        self._need()
        if self.armed:
            raise InputError("detect", "armed", "a stand that is not armed")
        m = self.machine
        if abs(m.omega) > 1.0:
            raise InputError("detect", "turning", "a rotor that stands still")
        if m.emf < self.settings["cut_start_v"]:
            raise InputError("detect", f"pack at {m.emf:.1f} V", f"a pack above {self.settings['cut_start_v']:.1f} V")
        if m.coupled and m.load_nm > 0.0:
            raise InputError("detect", "loaded", "a rotor that is free to turn")
        ohm, henry = self._ohms(), self._henries()
        flux = self._flux(ohm)
        self.detected = Detected(ohm, henry, flux, tuple(self.hand_turn()))
        return self.detected

    def _meter(self, value: float, sigma: float) -> float:
        """A mean of a thousand readings."""
        loose = 0.09 * float(self._noise.standard_normal()) if self.fault == "loose_motor" else 0.0
        return value * (1.0 + loose) + float(self._noise.standard_normal()) * sigma / math.sqrt(1000.0)

    def _ohms(self) -> float:
        """By two currents through a rotor that stands: the slope of volts over amps, leads and contacts in it, bridge not."""
        m = self.machine
        most = min(0.3 * self.full["motor_a"], 60.0)
        points = []
        for share in (0.5, 1.0):
            amps = share * most
            volts = m.ohm * amps
            points.append((self._meter(amps, 0.05), self._meter(volts, 0.003)))
        (a, u), (b, v) = points
        return (v - u) / (b - a) - float(m.controller.bridge_ohm)

    def _henries(self) -> float:
        """By the rise of a pulse much shorter than the winding's time constant."""
        m = self.machine
        pulse = 0.05 * m.henry / m.ohm
        volts = 0.2 * m.volts
        rise = volts / m.ohm * -math.expm1(-pulse * m.ohm / m.henry)
        return self._meter(volts, 0.01) * pulse / self._meter(rise, 0.02) * (1.0 - 0.025)

    def _flux(self, ohm: float) -> float:
        """By spinning it up on a small duty: volts less the drop over electrical speed; refused where it does not follow."""
        m = self.machine
        kept = (m.omega, m.current)
        volts = max(0.35 * m.emf, 2.0)
        for _ in range(round(2.5 / STEP_S)):
            m.step(volts)
        pairs = max(float(m.motor.pole_pairs), 1.0)
        speed = abs(m.omega) * pairs
        if speed < 10.0:
            m.omega, m.current = kept
            raise InputError("detect", "rotor does not turn", "a wheel that is free: amps flow and nothing moves")
        back = self._meter(volts, 0.01) - (ohm + float(m.controller.bridge_ohm)) * self._meter(m.current, 0.05)
        flux = back / self._meter(speed, 0.5) / math.sqrt(3.0)
        for _ in range(round(20.0 / STEP_S)):
            m.step(0.0, off=True)
            if m.omega == 0.0:
                break
        m.omega, m.current = 0.0, 0.0
        return flux

    # what the core forecasts

    def forecast(self) -> dict[str, float]:
        """Of the design as it is, without a fault: what readings should be."""
        motor = self.resolved.train.motor
        pairs = max(float(motor.pole_pairs), 1.0)
        return {
            "resistance_ohm": float(motor.resistance_ohm) * (1.0 + COPPER_PER_K * (self.machine.air_c - 20.0)),
            "inductance_h": max(float(motor.inductance_h), 5e-6),
            "flux_v_s": float(motor.torque_constant_nm_per_a) / (math.sqrt(3.0) * pairs),
        }


def no_load(stand: Stand, duty: float) -> tuple[float, float]:
    """(rpm, amps of the motor) that the core forecasts at a duty with nothing coupled."""
    train = stand.resolved.train
    omega, amps = train.motor.no_load(duty * stand.machine.emf, train.controller.bridge_ohm)
    return float(omega) * 60.0 / math.tau, float(amps) / train.motor.dc_per_motor_amp
