"""A new design of a kind: typical values, every one of them marked assumed."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import (
    Brief,
    ControllerChoice,
    Design,
    Goal,
    GoalKind,
    Joint,
    MotorChoice,
    PackChoice,
    ReductionKind,
    StageChoice,
    Strength,
    Variant,
    Vehicle,
    VehicleKind,
)


def typical_tyre_m(kind: VehicleKind) -> float:
    """The tyre that a drive of a kind is usually made for [m]."""
    return KINDS[kind].measures.tyre


class FirstWishes(NamedTuple):
    """The few things that decide most, in SI; None is what is typical of the kind, and assumed."""

    rider_kg: float | None = None
    load_kg: float | None = None
    speed: float | None = None  # m/s on the flat
    grade: float | None = None  # of the steepest hill
    distance: float | None = None  # m on a charge
    money: float | None = None  # for what is not on the shelf
    current: float | None = None  # m/s, that a boat has to go against


TYPICAL_RIDER_KG, TYPICAL_GRADE = 75.0, 0.10


def typical_wishes(kind: VehicleKind) -> FirstWishes:
    """What is typical of a kind."""
    if kind.floats:
        from wattagon.design.boats import BOATS, TYPICAL_CURRENT

        boat = BOATS[kind]
        return FirstWishes(boat.crew, boat.load, boat.cruise, 0.0, boat.distance, boat.money, TYPICAL_CURRENT)
    facts = KINDS[kind]
    return FirstWishes(TYPICAL_RIDER_KG, 0.0, facts.goal_speeds[0], TYPICAL_GRADE, facts.distance, facts.money)


def new_design(kind: VehicleKind, name: str = "New vehicle", wishes: FirstWishes | None = None) -> Design:
    """A design of a kind with typical assumed values, goals, and one plain variant to start from.

    Without `wishes` it has two goals; with them a speed, a hill and a start on it, a distance and a budget, stated or typical.
    """
    if kind.floats:
        from wattagon.design.boats import BoatWishes, new_boat

        if wishes is None:
            return new_boat(kind, name)
        w = wishes
        return new_boat(kind, name, BoatWishes(w.rider_kg, w.load_kg, w.speed, w.current, w.distance, w.money))
    facts, usual, first = KINDS[kind], KINDS[kind].measures, KINDS[kind].first

    def guess(value: float) -> Quantity:
        return Quantity(value=value)

    def known(stated: float | None, usual: float) -> Quantity:
        return guess(usual) if stated is None else Quantity(value=stated, known=Known.STATED)

    asked = wishes or FirstWishes()

    vehicle = Vehicle(
        name=name,
        kind=kind,
        tyre_diameter=guess(usual.tyre),
        tyre_rolling_share=guess(usual.rolling_share),
        wheelbase=guess(usual.wheelbase),
        clear_width=guess(usual.clear_width),
        deck_height=guess(usual.deck_height),
        axle_diameter=guess(usual.axle_diameter),
        empty_mass=guess(usual.empty_mass),
        rider_mass=known(asked.rider_kg, TYPICAL_RIDER_KG),
        load_mass=known(asked.load_kg, 0.0),
        cm_behind_front=guess(usual.cm_behind_front),
        cm_height=guess(usual.cm_height),
        rolling=guess(usual.rolling),
        drag_area=guess(usual.drag_area),
        grip=guess(usual.grip),
        wheel_inertia=guess(usual.wheel_inertia),
        axle_wheels=usual.axle_wheels,
    )
    goals: tuple[Goal, ...] = (
        Goal(id="cruise", kind=GoalKind.TOP_SPEED, speed=facts.goal_speeds[0]),
        Goal(id="hill", kind=GoalKind.CLIMB, speed=facts.goal_speeds[1], grade=0.10),
    )
    if wishes is not None:
        goals = _goals(kind, asked)
    wheels = min(usual.axle_wheels, 2)
    stage = (
        StageChoice(
            kind=ReductionKind(first.stage),
            profile=first.profile,
            driver_teeth=first.driver_teeth,
            driven_teeth=first.driven_teeth,
            width_mm=first.width_mm,
        )
        if first.stage
        else None
    )
    variant = Variant(
        id="A",
        name="First sketch",
        motor=MotorChoice(part=first.motor, count=1 if facts.single_motor else wheels, driven_wheels=wheels),
        controller=ControllerChoice(part=first.controller, motor_current_a=first.motor_a, pack_current_a=first.pack_a),
        pack=PackChoice(part="cell-21-4p0-power", series=12, parallel=first.parallel),
        stages=(stage,) if stage is not None else (),
        strength=Strength(joints=(_torque_arms(),)) if stage is None and not kind.floats else None,
    )
    return Design(vehicle=vehicle, brief=Brief(goals=goals), variants=(variant,), active="A")


def _torque_arms() -> Joint:
    """What holds a hub motor's axle: one arm a side on a 14 mm axle, with the dropouts behind them; without arms it would spin."""
    guess = lambda value: Quantity(value=value, known=Known.ASSUMED)
    return Joint(kind="torque_arm", place="axle", diameter=guess(0.014), inner=guess(0.010), thickness=guess(0.024), lever=guess(0.1))


def _goals(kind: VehicleKind, asked: FirstWishes) -> tuple[Goal, ...]:
    """Goals of first wishes: what is asked for, else what is typical.  Uphill as much slower as is usual for the kind."""
    facts = KINDS[kind]
    speed = facts.goal_speeds[0] if asked.speed is None else asked.speed
    grade = TYPICAL_GRADE if asked.grade is None else asked.grade
    distance = facts.distance if asked.distance is None else asked.distance
    money = facts.money if asked.money is None else asked.money
    flat, up = facts.goal_speeds
    made = [Goal(id="cruise", kind=GoalKind.TOP_SPEED, speed=speed)]
    if grade:
        made.append(Goal(id="hill", kind=GoalKind.CLIMB, speed=speed * up / flat, grade=grade))
        made.append(Goal(id="start", kind=GoalKind.START, grade=grade))
    if distance:
        made.append(Goal(id="range", kind=GoalKind.RANGE, distance=distance, speed=0.75 * speed))
    if money:
        made.append(Goal(id="budget", kind=GoalKind.BUDGET, amount=money))
    return tuple(made)
