"""Currents by branch of the path: what all rides put through a piece, in time."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.ride.names import Col
from wattagon.physics.wiring.brake import braked
from wattagon.physics.wiring.short import equivalent_a
from wattagon.record import record
from wattagon.study.pack.study import PackStudy
from wattagon.study.resolve import Resolved
from wattagon.study.ride.profiles import WINDOWS_S, Profile, longest_above, strongest_in

HOUR_S = 3600.0
NEAR_PEAK = 0.95


class Current(NamedTuple):
    """One run's current through a branch, shape (n,)."""

    run: str
    name: str
    seconds: NDArray[np.float64]
    amps: NDArray[np.float64]


@record(frozen=True, slots=True, kw_only=True)
class Branch:
    """A branch of the path: how many of it there are, and what goes through each."""

    code: str
    name: str
    count: int
    poles: int  # leads of it
    currents: tuple[Current, ...]
    _kept: dict[float, tuple[float, str, str]] = field(default_factory=dict, compare=False, repr=False)
    _spans: dict[float, float] = field(default_factory=dict, compare=False, repr=False)

    def equivalent(self, tau_s: float) -> tuple[float, str, str]:
        """(worst equivalent current [A], its run, the run's name) for a piece of a time constant, told to a hundredth of it."""
        tau = float(f"{tau_s:.3g}")
        if tau not in self._kept:
            found = [(equivalent_a(one.seconds, one.amps, tau)[0], one.run, one.name) for one in self.currents]
            self._kept[tau] = max(found, default=(0.0, "", ""))
        return self._kept[tau]

    @property
    def peak(self) -> tuple[float, float]:
        """(largest current [A], seconds that it stays near it)."""
        best = max(self.currents, key=lambda one: float(np.max(one.amps, initial=0.0)), default=None)
        if best is None or best.amps.size == 0:
            return 0.0, 0.0
        amps = float(np.max(best.amps))
        return amps, longest_above(best.seconds, best.amps, NEAR_PEAK * amps) if amps > 0.0 else 0.0

    def window(self, seconds: float) -> float:
        """Largest RMS current over any window of a length [A]."""
        if seconds not in self._spans:
            self._spans[seconds] = max((strongest_in(one.seconds, one.amps, seconds) for one in self.currents), default=0.0)
        return self._spans[seconds]

    @property
    def windows(self) -> tuple[tuple[float, float], ...]:
        return tuple((seconds, self.window(seconds)) for seconds in WINDOWS_S)

    def mean_square(self, run: str) -> float:
        """Mean of the square over one run [A^2]; nan where it was not ridden."""
        for one in self.currents:
            total = float(np.sum(one.seconds))
            if one.run == run and total > 0.0:
                return float(np.sum(one.seconds * one.amps**2)) / total
        return math.nan


NAMES = {
    "brick": "each brick",
    "pack": "pack",
    "controller": "each controller",
    "phase": "phase leads",
    "charge": "charging",
    "aux": "beside the drive",
    "brake": "brake resistor",
}


def branches(resolved: Resolved, pack: PackStudy, profiles: Sequence[Profile], aux_w: float, resistor_ohm: float) -> dict[str, Branch]:
    """Every branch of a drive; without rides the settings stand for an hour of their amps."""
    motors = round(float(resolved.train.count))
    strings, share = _strings(pack)
    volts = pack.volts.nominal
    out = [Current(p.run, p.name, p.seconds, np.abs(p.pack_a)) for p in profiles]
    phase = [Current(p.run, p.name, p.seconds, p.phase_a) for p in profiles]
    if not profiles:
        hour = np.array([HOUR_S])
        out = [Current("", "as it is set", hour, np.array([pack.volts.sag_a]))]
        dc = float(resolved.train.controller.motor_current_a) * resolved.train.motor.dc_per_motor_amp
        phase = [Current("", "as it is set", hour, np.array([dc * math.sqrt(2.0 / 3.0)]))]
    part = lambda times: tuple(Current(c.run, c.name, c.seconds, times * c.amps) for c in out)
    constant = lambda amps, name: (Current("", name, np.array([HOUR_S]), np.array([amps])),)
    made = {
        "brick": (strings, 2, part(share)),
        "pack": (1, 2, part(1.0)),
        "controller": (motors, 2, part(1.0 / motors)),
        "phase": (motors, 2 if resolved.train.motor.brushed else 3, tuple(phase)),
        "charge": (1, 2, constant(pack.charged.amps, "charging")),
        "aux": (1, 2, constant(aux_w / volts if volts > 0.0 else 0.0, "always")),
        "brake": (motors, 2, _stops(resolved, profiles, resistor_ohm)),
    }
    return {code: Branch(code=code, name=NAMES[code], count=n, poles=poles, currents=c) for code, (n, poles, c) in made.items()}


def _strings(pack: PackStudy) -> tuple[int, float]:
    """(how many bricks stand in parallel, largest share that one takes)."""
    bricks = pack.bricks
    if bricks is None or bricks.trouble:
        return 1, 1.0
    rows = bricks.assembly.currents(1.0, [[0.5] * len(row) for row in bricks.assembly.rows])
    most = max(max(row) for row in rows)
    return (len(rows) if bricks.assembly.strings else max(len(row) for row in rows)), most


def _stops(resolved: Resolved, profiles: Sequence[Profile], resistor_ohm: float) -> tuple[Current, ...]:
    """What a resistor across the motor would carry while each ride brakes: at its speed, as long as it brakes."""
    if resistor_ohm <= 0.0:
        return ()
    motor, made = resolved.train.motor, []
    k = 60.0 / (math.tau * float(motor.kv_rpm_per_v))
    for p in profiles:
        run = p.ride.run
        speed, dc = np.abs(run.column(Col.MOTOR_RAD_S)), run.column(Col.DC_A)
        amps = np.array(
            [
                braked(k, w, float(motor.resistance_ohm), resistor_ohm, float(motor.pole_pairs), float(motor.inductance_h)).amps
                if i < -0.5
                else 0.0
                for w, i in zip(speed.tolist(), dc.tolist(), strict=True)
            ]
        )
        made.append(Current(p.run, p.name, p.seconds, amps[1:]))
    return tuple(made)
