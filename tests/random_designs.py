"""Random designs over everything that stock and the tree allow, from a seed; most of them are silly on purpose."""

from __future__ import annotations

import random

from wattagon.design.catalogue import Catalogue
from wattagon.design.goal_kinds import GOALS
from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, ProfilePart, WheelPart
from wattagon.design.quantity import Known, Quantity
from wattagon.design.template import new_design
from wattagon.design.tree import (
    Brief,
    Carried,
    Conditions,
    ControllerChoice,
    Design,
    Gears,
    Goal,
    GoalKind,
    LoadCase,
    MotorChoice,
    PackChoice,
    ReductionKind,
    StageChoice,
    Variant,
    WheelChoice,
)


def random_design(seed: int, stock: Catalogue) -> Design:
    """One design; equal seeds give equal designs."""
    r = random.Random(seed)
    base = new_design(r.choice(list(KINDS)), f"Random {seed}")
    vehicle = base.vehicle

    def q(low: float, high: float) -> Quantity:
        return Quantity(value=r.uniform(low, high), known=r.choice(list(Known)))

    from dataclasses import replace

    wheelbase = r.uniform(0.3, 2.0)
    vehicle = replace(
        vehicle,
        tyre_diameter=q(0.07, 0.8),
        wheelbase=Quantity(value=wheelbase),
        cm_behind_front=q(0.05, 0.95 * wheelbase),
        cm_height=q(0.1, 1.6),
        rolling=q(0.0, 0.12),
        drag_area=q(0.0, 2.0),
        grip=q(0.1, 1.4),
        rider_mass=q(0.0, 150.0),
        empty_mass=q(1.0, 300.0),
        driven_axle=r.choice(["rear", "front", "all"]),
    )
    motor = r.choice(stock.all(MotorPart))
    controllers = [c for c in stock.all(ControllerPart) if c.brushed == (motor.family == "brushed")]
    cell = r.choice(stock.all(CellPart))
    stages = tuple(_stage(r, stock) for _ in range(r.choice([0, 1, 1, 1, 2, 2, 3])))
    amps = 10 ** r.uniform(0.2, 2.7)
    variant = Variant(
        id="A",
        motor=MotorChoice(part=motor.id, count=r.choice([1, 1, 2, 3]), driven_wheels=r.randint(1, vehicle.axle_wheels)),
        controller=ControllerChoice(
            part=r.choice(controllers).id,
            motor_current_a=amps,
            pack_current_a=10 ** r.uniform(0.2, 2.6),
            cutback_start_v=r.choice([None, r.uniform(0, 60)]),
            cutback_end_v=r.choice([None, r.uniform(0, 50)]),
        ),
        pack=PackChoice(
            part=cell.id,
            series=cell.brick_series * r.randint(1, 4 if cell.brick_series > 1 else 24),
            parallel=cell.brick_parallel * r.randint(1, 8),
            protection_a=r.choice([None, r.uniform(5, 200)]),
        ),
        stages=stages,
        wheel=r.choice([None, WheelChoice(part=r.choice(stock.all(WheelPart)).id)]),
    )
    conditions = Conditions(air_temperature=q(-30, 45), headwind=q(-15, 15), pack_temperature=q(-15, 50), altitude=q(0, 4000))
    goals = tuple(_goal(r, kind, k) for k, kind in enumerate(r.sample(ROAD_GOALS, r.randint(0, len(ROAD_GOALS)))))
    heavy = LoadCase(
        id="heavy",
        rider=r.random() < 0.8,
        carried=(Carried(mass=q(1, 80), behind_front=q(-0.4, 2.0), height=q(0.2, 1.4), towed=r.random() < 0.3),),
    )
    if r.random() < 0.2 and len(variant.stages) < 5:
        cogs = tuple(sorted(r.sample(range(9, 52), r.randint(1, 11)), reverse=True))
        variant = replace(variant, gears=Gears(ring=r.randint(24, 54), cogs=cogs, crank_clutch=r.random() < 0.7))
    cases = (heavy,) if r.random() < 0.5 else ()
    brief = Brief(goals=goals, conditions=conditions, cases=cases)
    return Design(vehicle=vehicle, brief=brief, variants=(variant,), active="A")


def _stage(r: random.Random, stock: Catalogue) -> StageChoice:
    kind = r.choice(list(ReductionKind))
    if kind in (ReductionKind.BELT, ReductionKind.CHAIN):
        profiles = [p for p in stock.rows(ProfilePart).values() if p.kind == kind.value]
        return StageChoice(
            kind=kind,
            profile=r.choice(profiles).id,
            driver_teeth=r.randint(8, 40),
            driven_teeth=r.randint(10, 90),
            width_mm=r.choice([None, 9.0, 15.0, 25.0]),
            freewheel=r.random() < 0.2,
            shared=r.random() < 0.3,
        )
    if kind is ReductionKind.FRICTION:
        return StageChoice(kind=kind, roller_diameter=r.uniform(0.02, 0.09))
    return StageChoice(kind=kind, driver_teeth=r.randint(8, 40), driven_teeth=r.randint(10, 90), freewheel=r.random() < 0.2)


ROAD_GOALS = [kind for kind in GoalKind if GOALS[kind].on != "water"]


def _goal(r: random.Random, kind: GoalKind, k: int) -> Goal:
    goal = {
        "speed": r.uniform(0.5, 25),
        "grade": r.uniform(0, 0.4),
        "time": r.uniform(0.5, 20),
        "distance": r.uniform(100, 9e4),
        "amount": r.uniform(0, 3000),
        "charge": r.choice([1.0, 0.5, 0.1, r.random()]),
    }
    sides = {name: r.uniform(0.3, 1.5) for name in ("length", "width", "height")}
    return Goal(
        id=f"g{k}", kind=kind, torque=r.uniform(1, 60), rpm=r.uniform(1, 500), case=r.choice(["", "", "usual", "heavy"]), **goal, **sides
    )
