"""Random rides over the worked designs with their values shaken, and what must hold of each."""

from __future__ import annotations

import random
from dataclasses import replace

import numpy as np

from tests.physics.worked import DESIGNS
from wattagon.physics.ride.course import Leg, cells, length_m
from wattagon.physics.ride.names import Col, Mode, Stat
from wattagon.physics.ride.plant import Extras, make_plant
from wattagon.physics.ride.ride import Rider, Start, simulate


def random_ride(rng: random.Random):
    """(plant, run) of a shaken design on a random course or command."""
    train, road = DESIGNS[rng.choice(sorted(DESIGNS))]
    shake = lambda x: x * rng.uniform(0.5, 2.0)
    c = train.controller
    train = replace(
        train,
        motor=replace(train.motor, kv_rpm_per_v=shake(train.motor.kv_rpm_per_v), resistance_ohm=shake(train.motor.resistance_ohm)),
        controller=replace(
            c,
            motor_current_a=shake(c.motor_current_a),
            battery_current_a=shake(c.battery_current_a),
            motor_current_continuous_a=shake(c.motor_current_continuous_a),
            duty_soft=rng.choice([1.0, 0.85]),
            regen_motor_current_a=rng.choice([0.0, shake(30.0)]),
            bus_max_v=float(train.pack.full_v) + rng.uniform(0.0, 2.0),
        ),
        reduction=replace(train.reduction, one_way=rng.choice([0.0, 0.0, 1.0]), drag_nm=rng.uniform(0.0, 0.05), drag_back_nm=0.0),
    )
    road = replace(road, mass_kg=shake(road.mass_kg), grip=rng.uniform(0.2, 1.0))
    extras = Extras(
        motor_taper_c=rng.choice([(float("inf"), float("inf")), (60.0, 80.0)]),
        controller_taper_c=(50.0, 60.0),
        friction_brake_n=rng.choice([0.0, 300.0]),
        resistor_ohm=rng.choice([0.0, 0.0, 0.5]),
        pedal_w=rng.choice([0.0, 80.0]),
        box_k_per_w=rng.choice([0.0, 3.0]),
        controller_j_per_k=40.0,
    )
    start = Start(
        charge=rng.uniform(0.02, 1.0),
        winding_c=rng.uniform(0, 90),
        controller_c=rng.uniform(0, 59),
        speed_m_s=rng.choice([0.0, 4.0]),
    )
    plant = make_plant(train, road, extras)
    if rng.random() < 0.4:
        table, rider = (
            np.array([[0.0, rng.uniform(-0.1, 0.2), 1.0, rng.uniform(-5, 5), 9.0, 0.0, 0.0]]),
            Rider(command=rng.uniform(-1.0, 1.0), longest_s=40.0),
        )
    else:
        legs = [
            Leg(
                length_m=rng.uniform(20, 200),
                speed_m_s=rng.uniform(1, 10),
                grade=rng.uniform(-0.1, 0.15),
                stop_s=rng.choice([0.0, 3.0]),
                wind_m_s=rng.uniform(-4, 4),
            )
            for _ in range(5)
        ]
        table, rider = cells(legs), Rider(mode=Mode.FOLLOW, end_m=length_m(legs), longest_s=400.0)
    return plant, simulate(plant, train.pack.chemistry, table, rider, start)


def check_ride(plant, run) -> list[str]:
    """What is wrong with a ride; nothing when all is well."""
    wrong = []
    if not np.isfinite(run.trace).all() or not np.isfinite(run.stats).all():
        wrong.append("a value is not a number")
    if run.balance_error > 1e-3:
        wrong.append(f"balance {run.balance_error:.2e}")
    over = 1.0 + 1e-6
    dc, ceiling = run.column(Col.DC_A), run.column(Col.CEILING_A)
    if (dc > np.maximum(ceiling, 0.0) * over + 1e-9).any():
        wrong.append(f"motor amps {float((dc - ceiling).max()):.3g} over what bucket and tapers allow")
    if run.stat(Stat.PEAK_DC_A) > plant.burst_a * over:
        wrong.append("motor amps over the setting")
    if run.stat(Stat.PEAK_PACK_A) > min(plant.motors * plant.battery_a, plant.pack_a) * over:
        wrong.append("pack amps over the limit")
    overspeed = any(kind == 6 for _, _, kind in run.events)
    if not overspeed:
        if run.stat(Stat.PEAK_BRAKE_A) > max(plant.regen_a, plant.burst_a if plant.resistor_ohm > 0 else 0.0) * over:
            wrong.append("braking amps over the setting")
        if run.stat(Stat.PEAK_CHARGE_A) > plant.motors * plant.regen_battery_a * over + 1e-6:
            wrong.append("charging amps over the setting")
        if run.stat(Stat.HIGHEST_BUS_V) > max(plant.bus_max, run.trace[0, Col.BUS_V]) + 0.02:
            wrong.append("bus over its ceiling")
    driving = dc > 0
    if (run.column(Col.DUTY)[driving] > plant.duty_max * (1.0 + 1e-4)).any():
        wrong.append("duty over its limit")
    if (run.column(Col.SPEED) < 0).any() or (np.diff(run.column(Col.DISTANCE)) < -1e-9).any():
        wrong.append("went backwards")
    return wrong
