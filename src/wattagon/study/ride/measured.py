"""A log's currents as a ride: what pack and wiring take in place of simulated ones."""

from __future__ import annotations

import math

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, MeasuredLoad
from wattagon.physics.ride.names import Col, End, Stat, Sum
from wattagon.physics.ride.plant import RIDE_LIMITS
from wattagon.physics.ride.ride import Run
from wattagon.study.resolve import resolve
from wattagon.study.ride.inputs import plant_of
from wattagon.study.ride.profiles import Profile
from wattagon.study.ride.study import Ask, Ride

RUN = "measured"


def measured_profile(design: Design, stock: Catalogue, load: MeasuredLoad) -> Profile:
    """The currents of a log as a profile; losses of the controllers follow from them by the same equations as in a ride."""
    resolved = resolve(design, stock)
    plant, inputs = plant_of(design, resolved, shifts=False)
    seconds, pack, dc, speed, volts = (np.array(x, dtype=float) for x in (load.seconds, load.pack_a, load.dc_a, load.speed, load.volts))
    n = seconds.size
    ends = np.concatenate([[0.0], np.cumsum(seconds)])
    metres = np.concatenate([[0.0], np.cumsum(speed * seconds)])
    drawn = np.concatenate([[0.0], np.cumsum(pack * seconds)])
    charge = design.brief.conditions.start_charge.value
    trace = np.zeros((n + 1, len(Col)))
    last = lambda values: np.append(values, values[-1])
    train = resolved.train
    per_m = 0.0 if not resolved.load.kinematic else float(train.reduction.ratio) * float(resolved.load.shaft_speed_rad_s(1.0, 0.0))
    trace[:, Col.TIME], trace[:, Col.DISTANCE], trace[:, Col.SPEED] = ends, metres, last(speed)
    trace[:, Col.DC_A], trace[:, Col.PACK_A], trace[:, Col.BUS_V] = last(dc), last(pack), last(volts)
    trace[:, Col.MOTOR_RAD_S] = last(speed) * per_m
    trace[:, Col.CHARGE] = charge - drawn / (3600.0 * float(train.pack.capacity_ah))
    trace[:, Col.LIMIT] = -1.0
    air = design.brief.conditions.pack_temperature.value
    trace[:, Col.PACK_T] = air
    sums, stats = np.zeros(len(Sum)), np.zeros(len(Stat))
    count, control = float(train.count), train.controller
    each = float(np.sum(seconds * dc**2)) * count
    sums[Sum.BRIDGE] = each * float(control.bridge_ohm)
    sums[Sum.COPPER] = each * float(train.motor.resistance_ohm)
    sums[Sum.SWITCHING] = count * float(control.switching_v_per_v) * float(np.sum(seconds * volts * np.abs(dc)))
    sums[Sum.IDLE] = count * float(control.idle_w) * float(ends[-1])
    sums[Sum.TERMINAL] = float(np.sum(seconds * volts * pack))
    sums[Sum.PACK_HEAT] = float(np.sum(seconds * pack**2)) * float(train.pack.steady_ohm)
    sums[Sum.CHEMICAL] = sums[Sum.TERMINAL] + sums[Sum.PACK_HEAT]
    stats[Stat.TIME], stats[Stat.DISTANCE] = ends[-1], metres[-1]
    stats[Stat.PEAK_PACK_A], stats[Stat.PEAK_CHARGE_A] = load.peak_a, load.charge_a
    stats[Stat.LOWEST_BUS_V], stats[Stat.HIGHEST_BUS_V] = load.lowest_v, load.highest_v
    stats[Stat.PEAK_DC_A], stats[Stat.PACK_T] = float(np.max(dc, initial=0.0)), air
    stats[Stat.PEAK_SPEED] = float(np.max(speed, initial=0.0))
    run = Run(plant=plant, end=End.TIME, trace=trace, sums_j=sums, stats=stats, held_s=np.zeros(len(RIDE_LIMITS)), events=())
    name = f"Log {load.log}, as it was measured"
    ride = Ride(
        ask=Ask(run=RUN), name=name, design=design, resolved=resolved, run=run, legs=(), speed_m_s=math.nan, grade=0.0, inputs=inputs
    )
    still = np.abs(speed * per_m) < 2.0
    amplitude = np.abs(dc) * (1.0 if train.motor.brushed else 2.0 / math.sqrt(3.0))
    phase = np.abs(dc) if train.motor.brushed else np.where(still, amplitude, amplitude / math.sqrt(2.0))
    return Profile(run=RUN, name=name, ride=ride, seconds=seconds, pack_a=pack, phase_a=phase)
