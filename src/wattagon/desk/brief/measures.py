"""The measuring list: every value of the vehicle and its conditions, in the order in which one would take them."""

from __future__ import annotations

from wattagon.design.paths import place
from wattagon.design.quantity import Known, Quantity, Spec
from wattagon.desk.session import Session
from wattagon.record import record


@record(frozen=True, slots=True)
class Measure:
    """One value: where it is in the design and how to take it."""

    path: str
    short: str  # on the drawing, before the value
    how: str


GROUPS: tuple[tuple[str, tuple[Measure, ...]], ...] = (
    ("Wheels and axle", (
        Measure("vehicle.tyre_diameter", "tyre", "Across the tyre, unloaded; mark the floor over ten turns for the best figure."),
        Measure("vehicle.tyre_rolling_share", "loaded", "Axle height with everybody aboard, over half the diameter."),
        Measure("vehicle.axle_diameter", "axle", "Callipers, where the pulley or sprocket will sit."),
        Measure("vehicle.hub_bolt_circle", "bolts", "Centre to centre of opposite bolts in the hub."),
        Measure("vehicle.clear_width", "clear", "Between the driven wheels, or in the frame, at axle height."),
        Measure("vehicle.wheel_inertia", "inertia", "All wheels together; from their mass and radius if nothing better."),
    )),
    ("Frame", (
        Measure("vehicle.wheelbase", "wheelbase", "Axle to axle."),
        Measure("vehicle.deck_height", "deck", "Underside to ground, loaded."),
    )),
    ("Weight", (
        Measure("vehicle.rider_mass", "rider", "With clothes, helmet and boots."),
        Measure("vehicle.empty_mass", "vehicle", "Without rider, load and drive."),
        Measure("vehicle.load_mass", "load", "What is usually carried."),
        Measure("vehicle.cm_behind_front", "behind", "Rear axle on a scale, riding posture: share on the rear times the wheelbase."),
        Measure("vehicle.cm_height", "height", "Tilt it and weigh again, or hip height when standing."),
    )),
    ("Rolling, air, grip", (
        Measure("vehicle.rolling", "rolls", "Coast down on the flat, both ways."),
        Measure("vehicle.drag_area", "drag", "Coast down from speed, both ways."),
        Measure("vehicle.grip", "grip", "Pull sideways with a spring scale, wheels blocked, over the weight."),
        Measure("vehicle.brake_force", "brakes", "Brakes on, pull with a spring scale until it moves; 0 without hand or foot brakes."),
    )),
    ("Where it is used", (
        Measure("brief.conditions.air_temperature", "air", "A warm day of the season."),
        Measure("brief.conditions.headwind", "wind", "Against you is positive."),
        Measure("brief.conditions.altitude", "altitude", "From a map."),
        Measure("brief.conditions.pack_temperature", "pack", "A cold pack sags more."),
    )),
)  # fmt: skip
ALL: tuple[Measure, ...] = tuple(measure for _, group in GROUPS for measure in group)


def value_of(session: Session, path: str) -> tuple[Quantity | None, Spec]:
    """(value or None, specification) of a measure."""
    target = place(session.design, path)
    return target.value, target.spec or Spec(label=path)


def shown(session: Session, path: str) -> str:
    """The value in the user's units, or that it is missing."""
    quantity, spec = value_of(session, path)
    return "not known" if quantity is None else session.say(quantity.value, spec.dimension)


def is_assumed(session: Session, path: str) -> bool:
    """Whether nobody measured or stated it."""
    quantity, _ = value_of(session, path)
    return quantity is None or quantity.known is Known.ASSUMED
