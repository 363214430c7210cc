"""A new design of a kind: typical values, every one of them marked assumed."""

from __future__ import annotations

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Quantity
from wattagon.design.tree import (
    Brief,
    ControllerChoice,
    Design,
    Goal,
    GoalKind,
    MotorChoice,
    PackChoice,
    ReductionKind,
    StageChoice,
    Variant,
    Vehicle,
    VehicleKind,
)


def typical_tyre_m(kind: VehicleKind) -> float:
    """The tyre that a drive of a kind is usually made for [m]."""
    return KINDS[kind].measures.tyre


def new_design(kind: VehicleKind, name: str = "New vehicle") -> Design:
    """A design of a kind with typical assumed values, two goals, and one plain variant to start from."""
    facts, usual, first = KINDS[kind], KINDS[kind].measures, KINDS[kind].first

    def guess(value: float) -> Quantity:
        return Quantity(value=value)

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
        rider_mass=guess(75.0),
        load_mass=guess(0.0),
        cm_behind_front=guess(usual.cm_behind_front),
        cm_height=guess(usual.cm_height),
        rolling=guess(usual.rolling),
        drag_area=guess(usual.drag_area),
        grip=guess(usual.grip),
        wheel_inertia=guess(usual.wheel_inertia),
        axle_wheels=usual.axle_wheels,
    )
    goals = (
        Goal(id="cruise", kind=GoalKind.TOP_SPEED, speed=facts.goal_speeds[0]),
        Goal(id="hill", kind=GoalKind.CLIMB, speed=facts.goal_speeds[1], grade=0.10),
    )
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
    )
    return Design(vehicle=vehicle, brief=Brief(goals=goals), variants=(variant,), active="A")
