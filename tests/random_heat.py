"""Random motors that hold a speed on a grade until they are too hot: the closed form beside the ride."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from tests.random_designs import random_design
from wattagon.design.catalogue import Catalogue
from wattagon.errors import WattagonError
from wattagon.physics.envelope import edge
from wattagon.physics.powertrain import INDEX, Powertrain
from wattagon.physics.ride.names import Mode, Stat
from wattagon.physics.ride.plant import Extras, make_plant
from wattagon.physics.ride.ride import Rider, Start, simulate, steady_cells
from wattagon.physics.road import Road
from wattagon.study.drive.goals import time_until_hot
from wattagon.study.resolve import resolve


def held_only_by_heat(seed: int, stock: Catalogue) -> tuple[Powertrain, Road, float, float] | None:
    """(train, road, air, wind) of a random design of which nothing but heat holds the motor back."""
    try:
        resolved = resolve(random_design(seed, stock), stock)
    except WattagonError:
        return None
    train = resolved.train
    pack = replace(
        train.pack, series=400, cell_ah=1e4, continuous_a=math.inf, burst_a=math.inf, cell_r0_ohm=1e-5, cell_r1_ohm=0.0, wiring_ohm=0.001
    )
    controller = replace(
        train.controller,
        motor_current_a=1e4,
        battery_current_a=1e4,
        motor_current_continuous_a=1e4,
        erpm_start=math.inf,
        erpm_end=math.inf,
        cutback_start_v=0.0,
        cutback_end_v=0.0,
        bus_max_v=1e9,
    )
    reduction = replace(train.reduction, slip_nm=math.inf, slip_back_nm=math.inf)
    road = replace(resolved.load, grip=50.0, cm_height_m=0.01)
    return replace(train, pack=pack, controller=controller, reduction=reduction), road, resolved.air_c, resolved.headwind_m_s


def ridden_until_hot(train: Powertrain, road: Road, air: float, wind: float, speed: float, grade: float, longest_s: float) -> float:
    """Seconds until a winding meets its limit in a ride; -1 where it does not within `longest_s`, nan where the speed was not held."""
    extras = Extras(controller_taper_c=(math.inf, math.inf), pack_limit_c=1e9, air_c=air, controller_j_per_k=1e9)
    plant = make_plant(train, road, extras)._replace(pack_j=1e12)
    start = Start(speed_m_s=speed, charge=1.0, winding_c=air, case_c=air, controller_c=air, pack_c=25.0)
    rider = Rider(mode=Mode.FOLLOW, stop_when_hot=True, longest_s=longest_s)
    run = simulate(plant, train.pack.chemistry, steady_cells(speed, grade, wind), rider, start, rows=2)
    if run.held_s.sum() > 1.0 or run.stat(Stat.SPEED) < 0.97 * speed:
        return math.nan
    return run.stat(Stat.WINDING_AT)


def times_until_hot(stock: Catalogue, count: int) -> Iterator[tuple[int, float, float]]:
    """(seed, closed form, ride) [s] of random holds that last from a minute to an hour."""
    seed = made = 0
    while made < count:
        seed += 1
        found, r = held_only_by_heat(seed, stock), random.Random(seed)
        if found is None:
            continue
        train, road, air, wind = found
        speed = r.uniform(1.0, 10.0)
        for _ in range(12):
            grade = r.uniform(0.0, 0.4)
            told = float(time_until_hot(train, road, np.array([speed]), grade, air, wind)[0])
            if 60.0 <= told <= 3600.0:
                ridden = ridden_until_hot(train, road, air, wind, speed, grade, 7200.0)
                if not math.isnan(ridden):
                    made += 1
                    yield seed, told, ridden
                break


def lasting_pulls(stock: Catalogue, count: int) -> Iterator[tuple[int, bool, bool]]:
    """(seed, cool at 95 %, hot at 105 %) of the pull that is said to last, ridden for five hours."""
    seed = made = 0
    while made < count:
        seed += 1
        found, r = held_only_by_heat(seed, stock), random.Random(seed)
        if found is None:
            continue
        train, road, air, wind = found
        speed = r.uniform(1.0, 8.0)
        lasting = edge(train, road, speed, float(train.pack.emf_v(0.5)), burst=False, air_c=air, hot_magnets=True)
        grades = [float(road.grade_at(float(lasting.drive_n) * share, speed, wind)) for share in (0.95, 1.05)]
        if int(lasting.limit) != INDEX["thermal"] or grades[0] < 0.0 or grades[1] > 1.0:
            continue
        under, over = (ridden_until_hot(train, road, air, wind, speed, grade, 18000.0) for grade in grades)
        if not math.isnan(under + over):
            made += 1
            yield seed, under < 0.0, over > 0.0
