"""Currents of all runs of a vehicle in time: what pack and wiring are held against."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Control, Design
from wattagon.errors import InputError
from wattagon.physics.ride.names import Col, Stat
from wattagon.record import record
from wattagon.study.drive.cases import strongest
from wattagon.study.ride.study import Ask, Ride, ride, runs_of

TURNS_RAD_S = 2.0  # below it a motor counts as held still: one lead may carry the crest
WINDOWS_S = (1.0, 3.0, 10.0, 30.0, 60.0, 120.0, 300.0)


@record(frozen=True, slots=True, kw_only=True)
class Profile:
    """One run in segments of constant current, shape (n,): seconds, pack amps (below 0 into it), amps that heat one phase lead."""

    run: str
    name: str
    ride: Ride
    seconds: NDArray[np.float64]
    pack_a: NDArray[np.float64]
    phase_a: NDArray[np.float64]

    @property
    def peak_a(self) -> float:
        """Most out of the pack [A]."""
        return max(self.ride.run.stat(Stat.PEAK_PACK_A), float(np.max(self.pack_a, initial=0.0)))

    @property
    def charge_a(self) -> float:
        """Most into the pack [A]."""
        return max(self.ride.run.stat(Stat.PEAK_CHARGE_A), float(-np.min(self.pack_a, initial=0.0)))

    @property
    def lowest_v(self) -> float:
        return self.ride.run.stat(Stat.LOWEST_BUS_V)

    @property
    def highest_v(self) -> float:
        return self.ride.run.stat(Stat.HIGHEST_BUS_V)

    def mean_square(self, amps: NDArray[np.float64]) -> float:
        """Mean of the square of a current over the run [A^2]."""
        total = float(np.sum(self.seconds))
        return float(np.sum(self.seconds * amps**2)) / total if total > 0.0 else 0.0


def profile(done: Ride) -> Profile:
    """The currents of a ride."""
    run = done.run
    times = run.column(Col.TIME)
    if times.size < 2:
        empty = np.zeros(0)
        return Profile(run=done.ask.run, name=done.name, ride=done, seconds=empty, pack_a=empty, phase_a=empty)
    dc, pack = np.abs(run.column(Col.DC_A)), run.column(Col.PACK_A)
    still = np.abs(run.column(Col.MOTOR_RAD_S)) < TURNS_RAD_S
    if done.resolved.train.motor.brushed:
        phase = dc
    else:
        amplitude = dc * 2.0 / math.sqrt(3.0)
        phase = np.where(still, amplitude, amplitude / math.sqrt(2.0))
    # the mean square of its two ends stands for a segment; its sign is that of the mean
    between = lambda a: np.sqrt((a[1:] ** 2 + a[:-1] ** 2) / 2.0)
    sign = np.where(pack[1:] + pack[:-1] < 0.0, -1.0, 1.0)
    return Profile(run=done.ask.run, name=done.name, ride=done, seconds=np.diff(times), pack_a=sign * between(pack), phase_a=between(phase))


def strongest_in(seconds: NDArray[np.float64], amps: NDArray[np.float64], window_s: float) -> float:
    """Largest RMS current over any window of a length [A]; of a shorter run that of the whole run over the window."""
    if seconds.size == 0:
        return 0.0
    ends = np.concatenate([[0.0], np.cumsum(seconds)])
    heat = np.concatenate([[0.0], np.cumsum(seconds * amps**2)])
    starts = np.concatenate([ends[:-1], np.maximum(ends[1:] - window_s, 0.0)])
    taken = np.interp(starts + window_s, ends, heat) - np.interp(starts, ends, heat)
    return math.sqrt(max(float(np.max(taken)), 0.0) / window_s)


def longest_above(seconds: NDArray[np.float64], amps: NDArray[np.float64], level: float) -> float:
    """Longest unbroken time at or above a level [s]."""
    longest = current = 0.0
    for span, above in zip(seconds.tolist(), (amps >= level).tolist(), strict=True):
        current = current + span if above else 0.0
        longest = max(longest, current)
    return longest


KEPT = 4  # designs: the one in front, and those that cures of it are tried on
_LAST: list[tuple[object, tuple[Profile, ...]]] = []


def profiles(design: Design, stock: Catalogue, cancelled: Callable[[], bool] = lambda: False) -> tuple[Profile, ...]:
    """All runs and courses of the active variant in its strongest mode, or the log that it is loaded by in their place; those of the
    last designs asked for are at hand.

    A run that a vehicle cannot make is left out.  Loads the compiler.
    """
    design = strongest(design)
    key = _ridden(design)
    for entry in tuple(_LAST):
        if entry[0] == key:
            _LAST[:] = [entry, *(other for other in _LAST if other is not entry)]
            return entry[1]
    load = design.variant().measured_load
    if load is not None:
        from wattagon.study.ride.measured import measured_profile

        found = (measured_profile(design, stock, load),)
        _LAST[:] = [(key, found), *_LAST[: KEPT - 1]]
        return found
    made: list[Profile] = []
    for run in (*runs_of(design), *(course.id for course in design.brief.courses)):
        if cancelled():
            return tuple(made)
        try:
            made.append(profile(ride(design, stock, Ask(run=run))))
        except InputError:
            continue
    _LAST[:] = [(key, tuple(made)), *_LAST[: KEPT - 1]]
    return tuple(made)


def _ridden(design: Design) -> object:
    """What of a design a ride depends on, to be compared."""
    one = design.variant()
    battery = replace(one.battery, checks=(), charging=None, links=None, check_days=None) if one.battery is not None else None
    # of what else is set in a controller only this changes a ride
    control = Control(duty_soft=one.control.duty_soft, watts=one.control.watts) if one.control is not None else Control()
    bare = replace(one, name="", note="", layout=None, strength=None, battery=battery, control=control)
    return design.vehicle, design.brief, bare
