"""Kinds of boat, all facts about each in one row, and a new design of one: typical values, every one of them marked assumed."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import (
    Brief,
    ControllerChoice,
    Cooling,
    Design,
    Goal,
    GoalKind,
    Hull,
    MotorChoice,
    PackChoice,
    Place,
    PropellerChoice,
    Variant,
    Vehicle,
    VehicleKind,
)

# what a boat has not: nothing reads them, and its file leaves them out
NO_WHEELS: Mapping[str, Any] = {
    "tyre_diameter": Quantity(value=0.2),
    "tyre_rolling_share": Quantity(value=1.0),
    "wheelbase": Quantity(value=1.0),
    "cm_behind_front": Quantity(value=0.5),
    "cm_height": Quantity(value=0.5),
    "rolling": Quantity(value=0.0),
    "grip": Quantity(value=0.5),
    "wheel_inertia": Quantity(value=0.0),
}


class BoatFacts(NamedTuple):
    """One row; lengths in m, masses in kg, areas in m2, speeds in m/s, angles in rad."""

    words: str
    length: float
    beam: float  # of one hull
    empty: float
    crew: float
    load: float
    surface: float  # C_S
    form: float  # k
    waves: float  # k_h
    air: float  # C_D A
    wake: float
    deduction: float
    deadrise: float = 0.0
    forward: float = 0.4  # weight ahead of the transom, as a share of the length
    level: float = 0.42  # where the weight sits when it lies level, likewise
    fullness: float = 0.65  # share of the box of length, beam and draught that the hull fills
    depth: float = 0.36  # of its sides, keel to gunwale
    hulls: int = 1
    planes: bool = False
    place: Place = Place.POD
    motor: str = "submerged-80x92-100"
    propeller: str = "prop-200x110-2-moulded"
    propellers: int = 1
    series: int = 6
    parallel: int = 6
    motor_a: float = 60.0
    pack_a: float = 40.0
    cruise: float = 1.9
    money: float = 700.0  # for the drive
    distance: float = 10000.0


BOATS: dict[VehicleKind, BoatFacts] = {
    VehicleKind.CANOE: BoatFacts(
        "canoe or kayak",
        4.7,
        0.75,
        28.0,
        150.0,
        15.0,
        2.75,
        0.12,
        1.2,
        0.6,
        0.05,
        0.05,
        forward=0.49,
        level=0.5,
        fullness=0.48,
        depth=0.33,
        motor="submerged-63x74-120",
        propeller="prop-165x130-2-moulded",
        motor_a=42.0,
    ),
    VehicleKind.FLAT_BOTTOMED: BoatFacts("flat-bottomed boat", 3.8, 1.1, 70.0, 150.0, 20.0, 3.2, 0.20, 1.0, 0.8, 0.08, 0.08),
    VehicleKind.INFLATABLE: BoatFacts(
        "inflatable", 3.2, 1.0, 60.0, 150.0, 20.0, 3.3, 0.25, 1.1, 0.8, 0.08, 0.08, fullness=0.6, depth=0.42, place=Place.LEG
    ),
    VehicleKind.PLANING_SKIFF: BoatFacts(
        "planing skiff",
        3.2,
        1.3,
        90.0,
        75.0,
        15.0,
        3.2,
        0.15,
        1.0,
        0.6,
        0.05,
        0.05,
        deadrise=0.1745,
        forward=0.33,
        level=0.40,
        fullness=0.50,
        depth=0.50,
        planes=True,
        place=Place.LEG,
        motor="outrunner-110x110-70",
        propeller="prop-190x200-3-cast",
        propellers=2,
        series=12,
        parallel=10,
        motor_a=90.0,
        pack_a=90.0,
        cruise=5.5,
        money=1600.0,
        distance=6000.0,
    ),
    VehicleKind.TWIN_HULL: BoatFacts(
        "twin hull",
        4.5,
        0.4,
        90.0,
        150.0,
        20.0,
        2.65,
        0.10,
        1.0,
        0.8,
        0.03,
        0.04,
        level=0.45,
        fullness=0.55,
        depth=0.55,
        hulls=2,
    ),
}


def _goals(facts: BoatFacts, asked: BoatWishes, *, more: bool) -> tuple[Goal, ...]:
    speed = facts.cruise if asked.speed is None else asked.speed
    distance = facts.distance if asked.distance is None else asked.distance
    current = TYPICAL_CURRENT if asked.current is None else asked.current
    money = facts.money if asked.money is None else asked.money
    made = [Goal(id="cruise", kind=GoalKind.TOP_SPEED if facts.planes else GoalKind.CRUISE, speed=speed)]
    if more and current:
        made.append(Goal(id="upstream", kind=GoalKind.UPSTREAM, speed=UPSTREAM_SHARE * speed, current=current))
    if distance:
        made.append(Goal(id="range", kind=GoalKind.RANGE, distance=distance, speed=0.8 * speed))
    if more and money:
        made.append(Goal(id="budget", kind=GoalKind.BUDGET, amount=money))
    return tuple(made)


def _cooling(place: Place) -> Cooling:
    """A leg keeps its own pump."""
    return Cooling.PUMP if place is Place.LEG else Cooling.PLACED


TYPICAL_CURRENT = 0.4  # m/s, that a boat is asked to go against
UPSTREAM_SHARE = 0.4  # of its pace, over ground against the current


class BoatWishes(NamedTuple):
    """The few things that decide most, in SI; None is what is typical of the kind, and assumed."""

    crew_kg: float | None = None
    load_kg: float | None = None
    speed: float | None = None  # m/s through the water
    current: float | None = None  # m/s, to go against
    distance: float | None = None  # m on a charge
    money: float | None = None


def new_boat(kind: VehicleKind, name: str = "New boat", wishes: BoatWishes | None = None) -> Design:
    """A boat of a kind with typical assumed values, goals, and one plain direct drive.

    Without `wishes` it has two goals; with them a pace, one against a current, a distance and a budget, stated or typical.
    """
    facts, asked = BOATS[kind], wishes or BoatWishes()

    def guess(value: float) -> Quantity:
        return Quantity(value=value)

    def known(stated: float | None, usual: float) -> Quantity:
        return guess(usual) if stated is None else Quantity(value=stated, known=Known.STATED)

    hull = Hull(
        waterline_length=guess(facts.length),
        waterline_beam=guess(facts.beam),
        surface_factor=guess(facts.surface),
        form=guess(facts.form),
        hull_factor=guess(facts.waves),
        deadrise=guess(facts.deadrise),
        weight_forward=guess(facts.forward * facts.length),
    )
    vehicle = Vehicle(
        name=name,
        kind=kind,
        **NO_WHEELS,
        empty_mass=guess(facts.empty),
        rider_mass=known(asked.crew_kg, facts.crew),
        load_mass=known(asked.load_kg, facts.load),
        drag_area=guess(facts.air),
        axle_wheels=max(facts.propellers, 1),
        hull=hull,
    )
    goals = _goals(facts, asked, more=wishes is not None)
    variant = Variant(
        id="A",
        name="First sketch",
        motor=MotorChoice(part=facts.motor, count=facts.propellers, driven_wheels=facts.propellers),
        controller=ControllerChoice(part="ctrl-75v-150", motor_current_a=facts.motor_a, pack_current_a=facts.pack_a),
        pack=PackChoice(part="cell-21-4p0-power", series=facts.series, parallel=facts.parallel),
        propeller=PropellerChoice(part=facts.propeller, count=facts.propellers, place=facts.place, cooling=_cooling(facts.place)),
    )
    return Design(vehicle=vehicle, brief=Brief(goals=goals), variants=(variant,), active="A")
