"""The design tree: vehicle, brief with goals and shelf, and variants of the drive.  Immutable; SI inside."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import field
from enum import StrEnum
from typing import Any

from wattagon.design.parts import CellPart, ControllerPart, MotorPart, WheelPart
from wattagon.design.quantity import Quantity, spec
from wattagon.errors import InputError
from wattagon.record import record

SCHEMA_VERSION = 1
_ID = re.compile(r"^[A-Za-z0-9][A-Za-z0-9_-]{0,39}$")
Extra = Mapping[str, Any]
# a file stays small enough to be read again
MOST_GOALS, MOST_ON_SHELF, MOST_COURSES, MOST_LEGS, MOST_VARIANTS = 60, 1000, 60, 20000, 60


def _no_extra() -> Extra:
    return {}


class VehicleKind(StrEnum):
    STREET_BOARD = "street_board"
    ALL_TERRAIN_BOARD = "all_terrain_board"
    SCOOTER = "scooter"
    BIKE = "bike"
    SUSPENDED_BIKE = "suspended_bike"
    KART = "kart"
    TWO_WHEEL_DRIVE = "two_wheel_drive"
    UTILITY = "utility"


class GoalKind(StrEnum):
    TOP_SPEED = "top_speed"  # on the flat
    CLIMB = "climb"  # a speed held on a grade
    START = "start"  # from standstill on a grade
    SPRINT = "sprint"  # 0 to a speed in a time
    RANGE = "range"  # a distance at a pace
    BUDGET = "budget"  # money still to be spent
    ADDED_MASS = "added_mass"  # of the drive
    SPEED_LIMIT = "speed_limit"  # a local limit, stated by the user
    POWER_LIMIT = "power_limit"  # likewise, of power from the pack


class ReductionKind(StrEnum):
    BELT = "belt"
    CHAIN = "chain"
    GEAR = "gear"
    PLANETARY = "planetary"  # sun in, carrier out, ring held
    FRICTION = "friction"  # roller on the tyre: diameters instead of teeth
    DIRECT = "direct"


def _length(label: str, low: float, high: float, hint: str = "") -> dict[str, Any]:
    return spec(label, "length", low, high, hint)


@record(frozen=True, slots=True, kw_only=True)
class Vehicle:
    """The bare vehicle with its rider: every measure with how it is known."""

    name: str = "New vehicle"
    kind: VehicleKind = VehicleKind.ALL_TERRAIN_BOARD
    tyre_diameter: Quantity = field(metadata=_length("tyre diameter", 0.03, 2.0, "outside, unloaded"))
    tyre_rolling_share: Quantity = field(
        metadata=spec("loaded radius", "share", 0.8, 1.0, "loaded radius as a share of the unloaded one")
    )
    wheelbase: Quantity = field(metadata=_length("wheelbase", 0.2, 5.0, "axle to axle"))
    clear_width: Quantity | None = field(
        default=None, metadata=_length("clear width", 0.01, 3.0, "between the driven wheels, or in the frame")
    )
    track: Quantity | None = field(
        default=None, metadata=_length("track", 0.05, 4.0, "between the middles of the tyres of an axle; of three wheels the pair's")
    )
    deck_height: Quantity | None = field(default=None, metadata=_length("deck to ground", 0.01, 2.0, "loaded"))
    axle_diameter: Quantity | None = field(default=None, metadata=_length("axle diameter", 0.003, 0.1))
    axle_shape: str = "round"
    hub_bolt_circle: Quantity | None = field(default=None, metadata=_length("hub bolt circle", 0.01, 0.5))
    empty_mass: Quantity = field(metadata=spec("vehicle", "mass", 0.5, 2000.0, "without rider, load and drive"))
    rider_mass: Quantity = field(metadata=spec("rider", "mass", 0.0, 500.0))
    load_mass: Quantity = field(metadata=spec("load", "mass", 0.0, 2000.0))
    cm_behind_front: Quantity = field(metadata=_length("weight behind front axle", 0.01, 5.0, "centre of mass, all up"))
    cm_height: Quantity = field(metadata=_length("height of weight", 0.05, 3.0, "centre of mass above ground, all up"))
    rolling: Quantity = field(metadata=spec("rolling resistance", "number", 0.0, 0.3, "Crr, drag as a share of the weight"))
    drag_area: Quantity = field(metadata=spec("drag area", "area", 0.0, 10.0, "CdA"))
    grip: Quantity = field(metadata=spec("grip", "number", 0.05, 2.0, "friction of tyre on ground"))
    wheel_inertia: Quantity = field(metadata=spec("wheel inertia", "inertia", 0.0, 20.0, "all wheels together"))
    brake_force: Quantity | None = field(
        default=None, metadata=spec("hand or foot brakes", "force", 0.0, 20000.0, "what they give at the tread; 0 for none")
    )
    top_gear: Quantity | None = field(
        default=None, metadata=spec("highest gear", "height", 0.5, 15.0, "metres for a turn of the pedals; only with pedals")
    )
    driven_axle: str = "rear"
    axle_wheels: int = field(default=2, metadata=spec("wheels on the driven axle", "number", 1, 4))
    wheels: int | None = field(default=None, metadata=spec("wheels in all", "number", 2, 8, "empty: as is usual for its kind"))
    rider_level: Quantity | None = field(
        default=None, metadata=spec("braking that the rider bears", "acceleration", 0.2, 15.0, "when it is expected; empty: as is usual for its kind")
    )
    rider_jerk: Quantity | None = field(
        default=None, metadata=spec("how quickly it may come", "jerk", 0.2, 100.0, "when it is expected; empty: 8 m/s³")
    )
    extra: Extra = field(default_factory=_no_extra)

    def __post_init__(self) -> None:
        if self.driven_axle not in ("rear", "front", "all"):
            raise InputError("driven_axle", self.driven_axle, "rear, front or all")
        if not self.cm_behind_front.value < self.wheelbase.value:
            raise InputError(
                "cm_behind_front", f"{self.cm_behind_front.value:g} m", f"less than the wheelbase, {self.wheelbase.value:g} m"
            )


@record(frozen=True, slots=True, kw_only=True)
class Conditions:
    """Where and when it is ridden."""

    air_temperature: Quantity = field(
        default=Quantity(value=20.0), metadata=spec("air temperature", "temperature", -40.0, 60.0)
    )
    altitude: Quantity = field(default=Quantity(value=0.0), metadata=spec("altitude", "height", -500.0, 6000.0))
    headwind: Quantity = field(default=Quantity(value=0.0), metadata=spec("headwind", "speed", -30.0, 30.0))
    pack_temperature: Quantity = field(
        default=Quantity(value=25.0), metadata=spec("pack temperature", "temperature", -20.0, 60.0)
    )
    start_charge: Quantity = field(default=Quantity(value=0.95), metadata=spec("charge at the start", "share", 0.0, 1.0))
    wet: bool = False
    dusty: bool = False  # matters to a roller on its tyre
    rain_excluded: bool = False  # never ridden in rain: a roller need not hold in the wet
    sun: Quantity = field(default=Quantity(value=0.0), metadata=spec("sun", "irradiance", 0.0, 1400.0, "800 on a clear summer noon"))
    pedal_power: Quantity = field(default=Quantity(value=0.0), metadata=spec("pedalling", "power", 0.0, 1000.0, "60 to 100 W is easy"))
    pedal_cadence: Quantity = field(default=Quantity(value=70.0), metadata=spec("cadence", "rpm", 20.0, 150.0))
    extra: Extra = field(default_factory=_no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Goal:
    """One goal that can be missed by a number; which fields count depends on its kind (see GOAL_FIELDS)."""

    id: str
    kind: GoalKind
    label: str = ""
    speed: float | None = field(default=None, metadata=spec("speed", "speed", 0.1, 60.0))
    grade: float | None = field(default=None, metadata=spec("grade", "grade", 0.0, 1.0))
    time: float | None = field(default=None, metadata=spec("time", "time", 0.1, 86400.0))
    distance: float | None = field(default=None, metadata=spec("distance", "distance", 1.0, 2e6))
    amount: float | None = field(default=None, metadata=spec("amount", "number", 0.0, 1e7))
    charge: float = field(default=0.5, metadata=spec("state of charge", "share", 0.0, 1.0))
    extra: Extra = field(default_factory=_no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        for name in GOAL_FIELDS[self.kind]:
            if getattr(self, name) is None:
                raise InputError(f"{name} of goal {self.id}", "missing", f"a value; a {self.kind} goal needs it")


# which fields a goal's kind needs, the target first
GOAL_FIELDS: dict[GoalKind, tuple[str, ...]] = {
    GoalKind.TOP_SPEED: ("speed",),
    GoalKind.CLIMB: ("speed", "grade"),
    GoalKind.START: ("grade",),
    GoalKind.SPRINT: ("time", "speed"),
    GoalKind.RANGE: ("distance", "speed"),
    GoalKind.BUDGET: ("amount",),
    GoalKind.ADDED_MASS: ("amount",),
    GoalKind.SPEED_LIMIT: ("speed",),
    GoalKind.POWER_LIMIT: ("amount",),
}
AMOUNT_DIMENSION = {GoalKind.BUDGET: "money", GoalKind.ADDED_MASS: "mass", GoalKind.POWER_LIMIT: "power"}


@record(frozen=True, slots=True, kw_only=True)
class CourseLeg:
    """A stretch of a course."""

    length: float = field(metadata=spec("length", "distance", 1.0, 1e6))
    grade: float = field(default=0.0, metadata=spec("grade", "grade", -0.4, 0.5))
    speed: float = field(default=5.0, metadata=spec("speed", "speed", 0.3, 40.0, "at most; slower where the drive gives no more"))
    surface: float = field(default=1.0, metadata=spec("surface", "number", 0.2, 10.0, "times the vehicle's own rolling resistance"))
    wind: float = field(default=0.0, metadata=spec("wind", "speed", -30.0, 30.0, "headwind added to that of the day"))
    stop: float = field(default=0.0, metadata=spec("stop at the end", "time", 0.0, 86400.0))
    extra: Extra = field(default_factory=_no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Course:
    """A way to ride, leg by leg."""

    id: str
    name: str = ""
    legs: tuple[CourseLeg, ...]
    note: str = ""
    extra: Extra = field(default_factory=_no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        if not 1 <= len(self.legs) <= MOST_LEGS:
            raise InputError(f"legs of course {self.id}", len(self.legs), f"1 to {MOST_LEGS}")


@record(frozen=True, slots=True, kw_only=True)
class ShelfItem:
    """A part already owned: free, and preferred."""

    part: str  # id in the stock catalogue
    count: int = field(default=1, metadata=spec("count", "number", 1, 100000))
    note: str = ""
    extra: Extra = field(default_factory=_no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Brief:
    """What is wanted, under which conditions, with what is already there."""

    goals: tuple[Goal, ...] = ()
    conditions: Conditions = field(default_factory=Conditions)
    shelf: tuple[ShelfItem, ...] = ()
    currency: str = "EUR"
    energy_price: Quantity = field(default=Quantity(value=0.30), metadata=spec("price of a kWh", "money", 0.0, 100.0))
    courses: tuple[Course, ...] = ()
    extra: Extra = field(default_factory=_no_extra)

    def __post_init__(self) -> None:
        _unique("goal", [goal.id for goal in self.goals])
        _unique("course", [course.id for course in self.courses])
        _at_most("goals", len(self.goals), MOST_GOALS)
        _at_most("shelf", len(self.shelf), MOST_ON_SHELF)
        _at_most("courses", len(self.courses), MOST_COURSES)
        _at_most("courses", sum(len(course.legs) for course in self.courses), MOST_LEGS, "legs in all")


@record(frozen=True, slots=True, kw_only=True)
class MotorChoice:
    """Which motor, how many, on how many wheels; `overrides` are values that the user knows better than the stock."""

    part: str
    count: int = field(default=1, metadata=spec("motors", "number", 1, 8))
    driven_wheels: int = field(default=1, metadata=spec("driven wheels", "number", 1, 4))
    overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": MotorPart})
    extra: Extra = field(default_factory=_no_extra)


@record(frozen=True, slots=True, kw_only=True)
class ControllerChoice:
    """Which controller (one a motor) and its settings.  Motor amps are what the controller itself calls motor amps."""

    part: str
    motor_current_a: float = field(metadata=spec("motor amps", "current", 1.0, 2000.0, "limit set in each controller"))
    pack_current_a: float = field(metadata=spec("pack amps", "current", 1.0, 2000.0, "limit set in each controller"))
    regen_motor_current_a: float | None = field(
        default=None, metadata=spec("braking motor amps", "current", 0.0, 2000.0, "of each motor; 0: it does not brake; empty: not known")
    )
    regen_pack_current_a: float | None = field(
        default=None, metadata=spec("braking pack amps", "current", 0.0, 2000.0, "back into the pack, by each controller; empty: not known")
    )
    cutback_start_v: float | None = field(default=None, metadata=spec("cutback starts", "voltage", 0.0, 500.0))
    cutback_end_v: float | None = field(default=None, metadata=spec("cutback ends", "voltage", 0.0, 500.0))
    motor_taper_start_c: float | None = field(
        default=None, metadata=spec("motor taper starts", "temperature", 30.0, 200.0, "needs a sensor in the motor; empty: no taper")
    )
    motor_taper_end_c: float | None = field(default=None, metadata=spec("motor taper ends", "temperature", 30.0, 250.0))
    boost_tau_s: float | None = field(
        default=None, metadata=spec("boost time constant", "time", 0.5, 600.0, "of the budget over the continuous motor amps")
    )
    box_area: float | None = field(
        default=None, metadata=spec("closed box", "area", 0.001, 5.0, "outer walls of a box without air flow; empty: open")
    )
    brake_resistor_ohm: float | None = field(
        default=None, metadata=spec("brake resistor", "resistance", 0.01, 100.0, "across each motor instead of regeneration")
    )
    ramp_up_s: float | None = field(
        default=None, metadata=spec("ramp up", "time", 0.0, 10.0, "of the command for its full travel, driving or braking; empty: 0.4 s")
    )
    ramp_down_s: float | None = field(default=None, metadata=spec("ramp down", "time", 0.0, 10.0, "back to nothing; empty: 0.15 s"))
    release_current_a: float | None = field(
        default=None,
        metadata=spec("braking amps on release", "current", 0.0, 2000.0, "when the lever is let go; 0: it rolls on; empty: not known"),
    )
    brake_resistor_mass: float = field(default=0.3, metadata=spec("brake resistor", "mass", 0.01, 20.0))
    overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": ControllerPart})
    extra: Extra = field(default_factory=_no_extra)

    def __post_init__(self) -> None:
        start, end = self.motor_taper_start_c, self.motor_taper_end_c
        if start is not None and end is not None and not end > start:
            raise InputError("motor_taper_end_c", f"{end:g} C", f"above the start of the taper, {start:g} C")


@record(frozen=True, slots=True, kw_only=True)
class PackChoice:
    """Which cells or ready packs, and how many cells in series and strings in parallel in all."""

    part: str
    series: int = field(metadata=spec("cells in series", "number", 1, 200))
    parallel: int = field(metadata=spec("strings in parallel", "number", 1, 200))
    wiring_ohm: Quantity = field(
        default=Quantity(value=0.006), metadata=spec("leads and links", "resistance", 0.0, 1.0, "from cells to controllers")
    )
    protection_a: float | None = field(default=None, metadata=spec("protection board", "current", 1.0, 2000.0))
    overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": CellPart})
    extra: Extra = field(default_factory=_no_extra)


@record(frozen=True, slots=True, kw_only=True)
class StageChoice:
    """One stage of the reduction, in order from the motor."""

    kind: ReductionKind
    profile: str = ""  # belt or chain family in the stock, such as 5M
    driver_teeth: int = field(default=1, metadata=spec("driver teeth", "number", 1, 400))
    driven_teeth: int = field(default=1, metadata=spec("driven teeth", "number", 1, 400))
    width_mm: float | None = field(default=None, metadata=spec("belt width", "number", 1.0, 200.0))
    roller_diameter: float | None = field(default=None, metadata=spec("roller diameter", "length", 0.01, 0.5))
    press_force: Quantity | None = field(default=None, metadata=spec("pressing force", "force", 1.0, 5000.0, "of the roller on its tyre, at rest"))
    arm_angle: Quantity | None = field(
        default=None,
        metadata=spec("arm angle", "angle", 0.09, 1.5, "at the contact, between the line to the arm's pivot and the wheel's normal; empty: a fixed press"),
    )
    grip_dry: Quantity | None = field(default=None, metadata=spec("roller's grip, dry", "number", 0.05, 1.5))
    grip_dusty: Quantity | None = field(default=None, metadata=spec("roller's grip, dusty", "number", 0.05, 1.5))
    grip_wet: Quantity | None = field(default=None, metadata=spec("roller's grip, wet", "number", 0.05, 1.5))
    efficiency: Quantity | None = field(default=None, metadata=spec("efficiency", "share", 0.3, 1.0))
    drag: Quantity | None = field(default=None, metadata=spec("drag", "torque", 0.0, 10.0))
    freewheel: bool = False
    shared: bool = False  # all motors drive this stage together
    extra: Extra = field(default_factory=_no_extra)


@record(frozen=True, slots=True, kw_only=True)
class WheelChoice:
    """A wheel from stock instead of the one measured on the vehicle."""

    part: str
    overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": WheelPart})
    extra: Extra = field(default_factory=_no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Variant:
    """One way to drive the vehicle."""

    id: str
    name: str = ""
    note: str = ""
    based_on: str = ""
    motor: MotorChoice
    controller: ControllerChoice
    pack: PackChoice
    stages: tuple[StageChoice, ...] = ()
    wheel: WheelChoice | None = None
    extra: Extra = field(default_factory=_no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        if len(self.stages) > 6:
            raise InputError("stages", f"{len(self.stages)} stages", "up to 6")


@record(frozen=True, slots=True, kw_only=True)
class Design:
    """All that a `.wattagon` file holds."""

    schema_version: int = SCHEMA_VERSION
    vehicle: Vehicle
    brief: Brief = field(default_factory=Brief)
    variants: tuple[Variant, ...]
    active: str = ""  # id of the variant that is worked on; the first when empty
    note: str = ""
    extra: Extra = field(default_factory=_no_extra)

    def __post_init__(self) -> None:
        if not self.variants:
            raise InputError("variants", "an empty list", "one variant or more")
        _unique("variant", [variant.id for variant in self.variants])
        _at_most("variants", len(self.variants), MOST_VARIANTS)
        if self.active and self.active not in [variant.id for variant in self.variants]:
            raise InputError("active", self.active, "the id of one of the variants")

    def variant(self, variant_id: str | None = None) -> Variant:
        """A variant by id, or the active one.  Raises InputError for an id that is not there."""
        wanted = variant_id or self.active or self.variants[0].id
        for variant in self.variants:
            if variant.id == wanted:
                return variant
        raise InputError("variant", wanted, ", ".join(variant.id for variant in self.variants))

    def free_variant_id(self) -> str:
        """The next letter that no variant has; after Z V27 and so on."""
        taken = {variant.id for variant in self.variants}
        letters = (chr(65 + k) if k < 26 else f"V{k + 1}" for k in range(len(taken) + 1))
        return next(name for name in letters if name not in taken)


def check_id(text: str) -> None:
    """Raises InputError for an id that could not stand in a path."""
    if not _ID.match(text) or text.isdigit():
        raise InputError("id", repr(text), "letters, digits, - and _, up to 40, not digits alone")


def _at_most(field: str, count: int, most: int, what: str = "items") -> None:
    if count > most:
        raise InputError(field, f"{count} {what}", f"up to {most}")


def _unique(what: str, ids: list[str]) -> None:
    twice = sorted({item for item in ids if ids.count(item) > 1})
    if twice:
        raise InputError(f"id of a {what}", f"{twice[0]} twice", "each id once")
