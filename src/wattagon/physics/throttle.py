"""From the hand to the command: reading, window, dead band, curve, ramps.  Conventions of our own, in the order of a controller.

Ramp after shape: a step to y arrives after |y| times the ramp of the full travel.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num

FAULT_LOW, FAULT_HIGH = 0.8, 1.1  # times the lowest and highest pulse
LOST_S = 0.25


class Window(NamedTuple):
    """Readings of a lever: a pulse in µs rests at its centre, a voltage rests at its lowest."""

    low: float
    centre: float
    high: float
    fault_low: float
    fault_high: float

    @property
    def both_ways(self) -> bool:
        """Whether it can be pushed either way from rest."""
        return self.low < self.centre < self.high

    def fault(self, reading: Num) -> NDArray[np.bool_]:
        """Whether a reading is none that the lever can give, which means no torque; nan is a lost signal."""
        r = np.asarray(reading, dtype=float)
        return ~((r >= self.fault_low) & (r <= self.fault_high))

    def travel(self, reading: Num) -> NDArray[np.float64]:
        """Reading to -1 to 1, piecewise straight about rest; 0 to 1 for one that is pushed one way only."""
        r = np.asarray(reading, dtype=float)
        up = (r - self.centre) / max(self.high - self.centre, 1e-9)
        down = (r - self.centre) / max(self.centre - self.low, 1e-9) if self.both_ways else 0.0 * r
        return np.where(self.fault(r), 0.0, np.clip(np.where(r >= self.centre, up, down), -1.0, 1.0))

    def reading(self, travel: float) -> float:
        """The reading that gives a travel."""
        if travel >= 0.0:
            return self.centre + travel * (self.high - self.centre)
        return self.centre + travel * (self.centre - self.low)


def pulse_window(low: float, centre: float, high: float) -> Window:
    """A transmitter's pulse with the usual fault band [µs]."""
    return Window(low, centre, high, FAULT_LOW * low, FAULT_HIGH * high)


class Shape(NamedTuple):
    """Dead band and curve; `bend` is the expo's share of the cube, or the power."""

    dead: float = 0.05
    curve: str = "linear"
    bend: float = 0.0
    points: tuple[tuple[float, float], ...] = ()

    def of(self, travel: Num) -> NDArray[np.float64]:
        """Command of a travel, same sign, 0 to 1 in size; never falls as the lever is pushed."""
        x = np.asarray(travel, dtype=float)
        y = np.clip((np.abs(x) - self.dead) / (1.0 - self.dead), 0.0, 1.0)
        if self.curve == "expo":
            y = (1.0 - self.bend) * y + self.bend * y**3
        elif self.curve == "power":
            y = y ** max(self.bend, 0.05)
        elif self.curve == "points" and self.points:
            ends = [(0.0, 0.0), *self.points, (1.0, 1.0)]
            y = np.interp(y, [at for at, _ in ends], [to for _, to in ends])
        return np.copysign(np.clip(y, 0.0, 1.0), x)


class Ramps(NamedTuple):
    """Seconds for the full travel: driving up, driving back, braking up, braking back."""

    rise_s: float
    fall_s: float
    brake_s: float
    release_s: float


def slewed(target: NDArray[np.float64], step_s: float, ramps: Ramps, start: float = 0.0) -> NDArray[np.float64]:
    """Command (n,) that follows a wished one by its ramps, from `start`; through zero it goes by both in turn."""
    made = np.empty(len(target))
    now = start
    for k, wish in enumerate(target.tolist()):
        now = slew(now, wish, step_s, ramps)
        made[k] = now
    return made


def slew(now: float, wish: float, step_s: float, ramps: Ramps) -> float:
    """One step of the ramps."""
    left = step_s
    while left > 0.0 and now != wish:
        away = now == 0.0 or (now > 0.0) == (wish > now)
        driving = now > 0.0 or (now == 0.0 and wish > 0.0)
        seconds = (ramps.rise_s if driving else ramps.brake_s) if away else (ramps.fall_s if driving else ramps.release_s)
        to = wish if away or (wish != 0.0 and (wish > 0.0) == driving) else 0.0
        need = abs(to - now) * seconds
        if need <= left:
            now, left = to, left - need
        else:
            return now + math.copysign(left / seconds, to - now)
    return now


def lag_time_s(share: float, tau_s: float) -> float:
    """Seconds in which a first-order lag covers `share` (0 to below 1) of a step."""
    return -tau_s * math.log(1.0 - share)
