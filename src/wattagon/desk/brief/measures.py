"""The measuring list: every value of the vehicle and its conditions, in the order in which one would take them."""

from __future__ import annotations

from wattagon.design.kinds import KINDS
from wattagon.design.paths import place
from wattagon.design.quantity import Known, Quantity, Spec
from wattagon.design.tree import VehicleKind
from wattagon.desk.brief.measure import Groups, Measure
from wattagon.desk.brief.water_measures import WATER_GROUPS, WATER_MORE, asked_of
from wattagon.desk.session import Session
from wattagon.study.resolve import TOP_GEAR_M

NO_PEDALS = tuple(kind for kind, facts in KINDS.items() if not facts.pedals)
LEANS = tuple(kind for kind, facts in KINDS.items() if facts.leans)


GROUPS: Groups = (
    (
        "Wheels and axle",
        (
            Measure("vehicle.tyre_diameter", "tyre", "Across the tyre, unloaded; mark the floor over ten turns for the best figure."),
            Measure("vehicle.tyre_rolling_share", "loaded", "Axle height with everybody aboard, over half the diameter."),
            Measure("vehicle.axle_diameter", "axle", "Callipers, where the pulley or sprocket will sit."),
            Measure("vehicle.hub_bolt_circle", "bolts", "Centre to centre of opposite bolts in the hub."),
            Measure("vehicle.clear_width", "clear", "Between the driven wheels, or in the frame, at axle height."),
            Measure("vehicle.track", "track", "Middle of tyre to middle of tyre of one axle; with three wheels, of the pair.", LEANS),
            Measure("vehicle.wheel_inertia", "inertia", "All wheels together; from their mass and radius if nothing better."),
        ),
    ),
    (
        "Frame",
        (
            Measure("vehicle.wheelbase", "wheelbase", "Axle to axle."),
            Measure("vehicle.deck_height", "deck", "Underside to ground, loaded."),
        ),
    ),
    (
        "Weight",
        (
            Measure("vehicle.rider_mass", "rider", "With clothes, helmet and boots."),
            Measure("vehicle.empty_mass", "vehicle", "Without rider, load and drive."),
            Measure("vehicle.load_mass", "load", "What is usually carried."),
            Measure("vehicle.cm_behind_front", "behind", "Rear axle on a scale, riding posture: share on the rear times the wheelbase."),
            Measure("vehicle.cm_height", "height", "Tilt it and weigh again, or hip height when standing."),
        ),
    ),
    (
        "Rolling, air, grip",
        (
            Measure("vehicle.rolling", "rolls", "Coast down on the flat, both ways."),
            Measure("vehicle.drag_area", "drag", "Coast down from speed, both ways."),
            Measure("vehicle.grip", "grip", "Pull sideways with a spring scale, wheels blocked, over the weight."),
            Measure("vehicle.brake_force", "brakes", "Brakes on, pull with a spring scale until it moves; 0 without hand or foot brakes."),
        ),
    ),
    (
        "Rider",
        (
            Measure(
                "vehicle.rider_level",
                "rider bears",
                "Braking that is expected and borne: try it, gently, with the brakes there are.",
                (),
                lambda d: KINDS[d.vehicle.kind].bears.level,
            ),
            Measure(
                "vehicle.rider_jerk",
                "onset",
                "How quickly that braking may come; 8 m/s³ is as fast as most can lean.",
                (),
                lambda d: KINDS[d.vehicle.kind].bears.jerk,
            ),
            Measure(
                "vehicle.top_gear",
                "top gear",
                "Highest gear: roll one turn of the pedals and measure the way.",
                NO_PEDALS,
                lambda _: TOP_GEAR_M,
            ),
        ),
    ),
    (
        "Where it is used",
        (
            Measure("brief.conditions.air_temperature", "air", "A warm day of the season."),
            Measure("brief.conditions.headwind", "wind", "Against you is positive."),
            Measure("brief.conditions.altitude", "altitude", "From a map."),
            Measure("brief.conditions.pack_temperature", "pack", "A cold pack sags more."),
        ),
    ),
)
# asked for by load cases and goals of carrying; in the list, not on the drawing
MORE: Groups = (
    (
        "Where pieces sit",
        (
            Measure("vehicle.rider_behind_front", "rider behind", "Rider alone on two scales; needed for cases without the rider."),
            Measure("vehicle.rider_height", "rider height", "Seated: the navel; standing: a little above the hip."),
            Measure("vehicle.load_behind_front", "load behind", "Middle of the usual load, behind the front axle."),
            Measure("vehicle.load_height", "load height", "Middle of the usual load, above ground."),
            Measure("vehicle.pack_behind_front", "pack behind", "Middle of the pack, behind the front axle."),
            Measure("vehicle.pack_height", "pack height", "Middle of the pack, above ground."),
        ),
    ),
    (
        "Packed",
        (
            Measure("vehicle.packed_length", "packed length", "Folded or taken apart, with the motor on."),
            Measure("vehicle.packed_width", "packed width", "The widest place, handlebars turned."),
            Measure("vehicle.packed_height", "packed height", "As it lies in the boot or the train."),
        ),
    ),
)
ALL: tuple[Measure, ...] = tuple(measure for _, group in GROUPS for measure in group)
ROAD = {measure.path: measure for _, group in (*GROUPS, *MORE) for measure in group}
WATER = {measure.path: measure for _, group in (*WATER_GROUPS, *WATER_MORE) for measure in group}


def groups_for(kind: VehicleKind) -> Groups:
    """The whole list of a kind of vehicle, titles first."""
    return (*WATER_GROUPS, *WATER_MORE) if kind.floats else (*GROUPS, *MORE)


def measure_of(kind: VehicleKind, path: str) -> Measure:
    """The line of a value in the list of a kind of vehicle."""
    return (WATER if kind.floats else ROAD)[path]


def measures_for(kind: VehicleKind) -> tuple[Measure, ...]:
    """Those that matter for a kind of vehicle."""
    if kind.floats:
        return asked_of(kind)
    return tuple(measure for measure in ALL if kind not in measure.not_for)


def value_of(session: Session, path: str) -> tuple[Quantity | None, Spec]:
    """(value or None, specification) of a measure."""
    target = place(session.design, path)
    return target.value, target.spec or Spec(label=path)


def shown(session: Session, path: str) -> str:
    """The value in the user's units, what is usual where nobody says, or that it is missing."""
    quantity, spec = value_of(session, path)
    if quantity is not None:
        return session.say(quantity.value, spec.dimension)
    usual = measure_of(session.design.vehicle.kind, path).usual
    return "not known" if usual is None else session.say(usual(session.design), spec.dimension)


def is_assumed(session: Session, path: str) -> bool:
    """Whether nobody measured or stated it."""
    quantity, _ = value_of(session, path)
    return quantity is None or quantity.known is Known.ASSUMED
