"""Runs by the stopwatch beside the same runs of the simulator.  Source: handbook of the drive, mean torque of a standing start."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Log
from wattagon.physics.infer import mean_wheel_torque_nm
from wattagon.physics.ride.names import Col, Mode
from wattagon.physics.ride.ride import Rider, Start, simulate, steady_cells
from wattagon.record import record
from wattagon.study.drive.cases import gear_at
from wattagon.study.log.ridden import as_ridden
from wattagon.study.resolve import resolve
from wattagon.study.ride.inputs import plant_of
from wattagon.study.ride.study import Ask, ride, time_to

REACTION_S = 0.2  # of a stopwatch: in 3 s that is 7 %


@record(frozen=True, slots=True, kw_only=True)
class Timed:
    """One kind of run: the mean of its times, both ways weighing the same."""

    start: float  # m/s
    end: float
    measured: float  # s
    spread: float
    count: int
    predicted: float
    error: float  # of the mean, with the hand's
    torque_nm: float  # mean at the wheels that the time means; nan of a run that slows down, and of a boat


def stopwatch(design: Design, stock: Catalogue, log: Log) -> list[Timed]:
    """Each kind of run of a log, measured and predicted."""
    then, _ = as_ridden(design, log)
    resolved = gear_at(resolve(then, stock), 0.0)
    found: list[Timed] = []
    for start, end in dict.fromkeys((run.start, run.end) for run in log.runs):
        runs = [run for run in log.runs if (run.start, run.end) == (start, end)]
        ways = [[run.seconds for run in runs if run.way == way] for way in dict.fromkeys(run.way for run in runs)]
        measured = float(np.mean([np.mean(way) for way in ways]))
        seconds = [run.seconds for run in runs]
        predicted = _predicted(then, stock, start, end)
        torque = math.nan
        if end > start and resolved.load.kinematic:
            load, red = resolved.load, resolved.train.reduction
            rotor = float(resolved.train.count) * float(resolved.train.motor.rotor_inertia_kg_m2)
            mass = float(load.moving_mass_kg(rotor, float(red.ratio), float(red.efficiency), False))
            mean_load = float(np.mean(load.resistance_n(np.linspace(start, end, 20), 0.0, resolved.headwind_m_s)))
            radius = float(load.wheel_radius_m)  # type: ignore[attr-defined]
            torque = float(mean_wheel_torque_nm(mass, radius, end - start, measured, mean_load))
        found.append(
            Timed(
                start=start,
                end=end,
                measured=measured,
                spread=float(max(seconds) - min(seconds)),
                count=len(seconds),
                predicted=predicted,
                error=math.hypot(REACTION_S, float(np.std(seconds))) / math.sqrt(len(seconds)),
                torque_nm=torque,
            )
        )
    return found


def _predicted(design: Design, stock: Catalogue, start: float, end: float) -> float:
    """Seconds of the simulator: at full command, or let roll where it slows down; inf where it never comes to it."""
    if start == 0.0 and end > 0.0:
        return time_to(ride(design, stock, Ask(run="start", speed_m_s=end)), end)
    resolved = gear_at(resolve(design, stock), start)
    plant, _ = plant_of(design, resolved)
    begin = Start(speed_m_s=start, charge=design.brief.conditions.start_charge.value)
    rising = end > start
    rider = Rider(
        mode=Mode.COMMAND, command=1.0 if rising else 0.0, longest_s=600.0, until_settled=False, end_speed_m_s=end if rising else 0.0
    )
    run = simulate(replace_release(plant, rising), resolved.train.pack.chemistry, steady_cells(1.0), rider, begin)
    t, v = run.column(Col.TIME), run.column(Col.SPEED)
    past = np.flatnonzero(v >= end if rising else v <= end)
    return float(t[past[0]]) if past.size else math.inf


def replace_release(plant, rising: bool):  # type: ignore[no-untyped-def]
    """A hand that is at once where it is told: the clock starts on the motion."""
    return plant if rising else plant._replace(rise_s=1e-6, fall_s=1e-6)


__all__ = ["Timed", "replace", "stopwatch"]
