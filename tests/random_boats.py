"""Random boats, and what is wrong with what the drive study makes of one."""

from __future__ import annotations

import math
import random
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from wattagon.design.boats import BOATS, new_boat
from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, PropellerPart
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import (
    Cooling,
    Design,
    Goal,
    GoalKind,
    MotorChoice,
    PackChoice,
    Place,
    PropellerChoice,
    ReductionKind,
    StageChoice,
    TowRow,
)
from wattagon.physics.envelope import edge
from wattagon.study.drive.study import study_drive
from wattagon.study.drive.water import boat_in

RESIDUAL = 1e-6  # of the thrust


def random_boat(seed: int, stock: Catalogue) -> Design:
    """A boat that can be built, not one that is sensible."""
    r = random.Random(seed)
    design = new_boat(r.choice(list(BOATS)))
    hull, vehicle, base = design.vehicle.hull, design.vehicle, design.variant()
    assert hull is not None
    some = lambda low, high: Quantity(value=r.uniform(low, high), known=r.choice(list(Known)))
    length = hull.waterline_length.value * r.uniform(0.7, 1.4)
    tow = tuple(TowRow(speed=v, pull=r.uniform(0.9, 1.1) * 9.0 * v**2.1, out=r.random() < 0.2) for v in (1.0, 1.4, 1.9, 2.3))
    hull = replace(
        hull,
        waterline_length=Quantity(value=length),
        waterline_beam=Quantity(value=hull.waterline_beam.value * r.uniform(0.8, 1.2)),
        surface_factor=some(2.55, 3.5),
        form=some(0.05, 0.3),
        hull_factor=some(0.7, 1.5),
        transom_area=some(0.0, 0.06),
        weight_forward=Quantity(value=r.uniform(0.28, 0.5) * length),
        propeller_depth=some(0.1, 0.6) if r.random() < 0.7 else None,
        salt=r.random() < 0.5,
        water_temperature=some(1.0, 28.0),
        tow=tow if r.random() < 0.3 else (),
    )
    vehicle = replace(vehicle, hull=hull, load_mass=some(0.0, 80.0), rider_mass=some(50.0, 220.0), drag_area=some(0.2, 1.2))
    count = r.choice((1, 1, 1, 2, 3))
    stages = ()
    if r.random() < 0.4:
        teeth = r.randint(14, 20)
        stages = (StageChoice(kind=ReductionKind.GEAR, driver_teeth=teeth, driven_teeth=round(teeth * r.uniform(1.0, 3.5))),)
    motors = [part for part in stock.all(MotorPart) if part.family not in ("hub", "brushed")]
    controllers = [part for part in stock.all(ControllerPart) if not part.brushed]
    cells = [part for part in stock.all(CellPart) if part.brick_series == 1]
    place = r.choice(list(Place))
    variant = replace(
        base,
        motor=MotorChoice(part=r.choice(motors).id, count=count, driven_wheels=count),
        controller=replace(
            base.controller, part=r.choice(controllers).id, motor_current_a=r.uniform(10.0, 200.0), pack_current_a=r.uniform(8.0, 150.0)
        ),
        pack=PackChoice(
            part=r.choice(cells).id,
            series=r.randint(3, 20),
            parallel=r.randint(1, 10),
        ),
        stages=stages,
        propeller=PropellerChoice(
            part=r.choice(stock.all(PropellerPart)).id,
            count=count,
            place=place,
            cooling=r.choice(list(Cooling)),
            tilt=some(0.0, 0.4) if place in (Place.LONG_TAIL, Place.SHAFT) else None,
        ),
    )
    goals = (
        Goal(id="cruise", kind=GoalKind.CRUISE, speed=r.uniform(0.5, 4.0)),
        Goal(id="top", kind=GoalKind.TOP_SPEED, speed=r.uniform(0.5, 9.0), charge=r.random()),
        Goal(id="up", kind=GoalKind.UPSTREAM, speed=r.uniform(0.2, 2.0), current=r.uniform(-1.0, 1.5)),
        Goal(id="pull", kind=GoalKind.BOLLARD, pull=r.uniform(20.0, 600.0), charge=r.random()),
        Goal(id="across", kind=GoalKind.CROSSING, time=r.uniform(60, 900), distance=r.uniform(100, 2000), current=r.uniform(-0.5, 1.0)),
        Goal(
            id="home", kind=GoalKind.THERE_AND_BACK, distance=r.uniform(500, 9000), speed=r.uniform(0.5, 3.0), current=r.uniform(0.0, 1.0)
        ),
    )
    conditions = replace(design.brief.conditions, headwind=some(-6.0, 8.0), current=some(-1.0, 1.0))
    brief = replace(design.brief, goals=tuple(r.sample(goals, r.randint(0, len(goals)))), conditions=conditions)
    return replace(design, vehicle=vehicle, brief=brief, variants=(variant,))


def faults_afloat(design: Design, stock: Catalogue) -> Iterator[str]:
    """What is not a number, and each equilibrium that is none."""
    study = study_drive(design, stock)
    resolved = study.resolved
    boat = boat_in(resolved)
    for result in study.goals:
        if math.isnan(result.reached):
            yield f"{result.goal.id} is not a number"
    for name, state in study.states.items():
        along = state.edge
        if not (np.isfinite(along.force_n).all() and np.isfinite(along.dc_current_a).all() and (along.force_n >= 0.0).all()):
            yield f"{name}: the edge has gaps"
        top = state.top_speed_m_s
        if not math.isfinite(top):
            yield f"{name}: top speed {top}"
            continue
        load = float(np.asarray(boat.resistance_n(top, 0.0, resolved.headwind_m_s)))
        if top <= 1e-9 or load <= 1e-9 or top >= 0.9999 * float(along.speed_m_s[-1]):
            continue  # it does not move off, or the wind pushes it beyond what the drive gives
        thrust = float(np.asarray(edge(resolved.train, boat, top, resolved.emf_v(state.charge), air_c=resolved.air_c).force_n))
        if abs(thrust - load) > RESIDUAL * max(thrust, 1e-6):
            yield f"{name}: {thrust:.9g} N against {load:.9g} N at {top:.9g} m/s"
