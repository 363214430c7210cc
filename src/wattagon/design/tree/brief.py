"""What is wanted, under which conditions, along which courses, with what is already there."""

from __future__ import annotations

from dataclasses import field
from enum import StrEnum

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.cases import MOST_CASES, MOST_MODES, USUAL, LoadCase, Mode
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra, unique
from wattagon.design.tree.ready import ReadyMade
from wattagon.design.tree.workshop import Workshop
from wattagon.errors import InputError
from wattagon.record import record

# a file stays small enough to be read again
MOST_GOALS, MOST_ON_SHELF, MOST_COURSES, MOST_LEGS = 60, 1000, 60, 20000


class GoalKind(StrEnum):
    TOP_SPEED = "top_speed"  # on the flat, through the water
    CLIMB = "climb"  # a speed held on a grade
    START = "start"  # from standstill on a grade
    SPRINT = "sprint"  # 0 to a speed in a time
    RANGE = "range"  # a distance at a pace
    BUDGET = "budget"  # money still to be spent
    ADDED_MASS = "added_mass"  # of the drive
    SPEED_LIMIT = "speed_limit"  # a local limit, stated by the user
    POWER_LIMIT = "power_limit"  # likewise, of power from the pack
    CARRY = "carry"  # heaviest piece that has to be carried
    PACKED = "packed"  # a box that it has to fit in
    TOOL = "tool"  # torque at the output shaft at a speed: a working tool
    CADENCE = "cadence"  # of the pedals, up to which the motor still helps
    DAY_COST = "day_cost"  # what a day out costs: energy, and wear of the cells
    CRUISE = "cruise"  # through the water, held for good
    UPSTREAM = "upstream"  # over ground against a current
    BOLLARD = "bollard"  # pull when tied to a quay
    CROSSING = "crossing"  # a way at full throttle in a time, against a current
    THERE_AND_BACK = "there_and_back"  # how far out at a pace through the water, along a current


@record(frozen=True, slots=True, kw_only=True)
class Conditions:
    """Where and when it is ridden."""

    air_temperature: Quantity = field(default=Quantity(value=20.0), metadata=spec("air temperature", "temperature", -40.0, 60.0))
    altitude: Quantity = field(default=Quantity(value=0.0), metadata=spec("altitude", "height", -500.0, 6000.0))
    headwind: Quantity = field(default=Quantity(value=0.0), metadata=spec("headwind", "speed", -30.0, 30.0))
    current: Quantity = field(
        default=Quantity(value=0.0), metadata=spec("current along the way", "speed", -10.0, 10.0, "of the water, against you is positive")
    )
    pack_temperature: Quantity = field(default=Quantity(value=25.0), metadata=spec("pack temperature", "temperature", -20.0, 60.0))
    start_charge: Quantity = field(default=Quantity(value=0.95), metadata=spec("charge at the start", "share", 0.0, 1.0))
    wet: bool = False
    dusty: bool = False  # matters to a roller on its tyre
    rain_excluded: bool = False  # never ridden in rain: a roller need not hold in the wet
    sun: Quantity = field(default=Quantity(value=0.0), metadata=spec("sun", "irradiance", 0.0, 1400.0, "800 on a clear summer noon"))
    pedal_power: Quantity = field(default=Quantity(value=0.0), metadata=spec("pedalling", "power", 0.0, 1000.0, "60 to 100 W is easy"))
    pedal_cadence: Quantity = field(default=Quantity(value=70.0), metadata=spec("cadence", "rpm", 20.0, 150.0))
    extra: Extra = field(default_factory=no_extra)


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
    current: float | None = field(default=None, metadata=spec("current", "speed", -10.0, 10.0, "of the water, against you is positive"))
    pull: float | None = field(default=None, metadata=spec("pull", "force", 0.1, 1e5, "at the dock"))
    charge: float = field(default=0.5, metadata=spec("state of charge", "share", 0.0, 1.0))
    torque: float | None = field(default=None, metadata=spec("torque", "torque", 0.0, 1e5))
    rpm: float | None = field(default=None, metadata=spec("speed of the tool", "rpm", 0.0, 20000.0))
    length: float | None = field(default=None, metadata=spec("length of the box", "length", 0.01, 20.0))
    width: float | None = field(default=None, metadata=spec("width of the box", "length", 0.01, 20.0))
    height: float | None = field(default=None, metadata=spec("height of the box", "length", 0.01, 20.0))
    steps: int | None = field(default=None, metadata=spec("stairs", "number", 0, 2000, "steps that it is carried up"))
    case: str = ""  # load case that it is judged in; empty: the worst for it
    mode: str = ""  # mode in which a limit holds; empty: in the strongest
    extra: Extra = field(default_factory=no_extra)

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
    GoalKind.CARRY: ("amount",),
    GoalKind.PACKED: ("length", "width", "height"),
    GoalKind.TOOL: ("torque", "rpm"),
    GoalKind.CADENCE: ("rpm",),
    GoalKind.DAY_COST: ("amount", "distance", "speed"),
    GoalKind.CRUISE: ("speed",),
    GoalKind.UPSTREAM: ("speed", "current"),
    GoalKind.BOLLARD: ("pull",),
    GoalKind.CROSSING: ("time", "distance", "current"),
    GoalKind.THERE_AND_BACK: ("distance", "speed", "current"),
}
AMOUNT_DIMENSION = {
    GoalKind.BUDGET: "money",
    GoalKind.ADDED_MASS: "mass",
    GoalKind.POWER_LIMIT: "power",
    GoalKind.CARRY: "mass",
    GoalKind.DAY_COST: "money",
}


@record(frozen=True, slots=True, kw_only=True)
class CourseLeg:
    """A stretch of a course."""

    length: float = field(metadata=spec("length", "distance", 1.0, 1e6))
    grade: float = field(default=0.0, metadata=spec("grade", "grade", -0.4, 0.5))
    speed: float = field(default=5.0, metadata=spec("speed", "speed", 0.3, 40.0, "at most; slower where the drive gives no more"))
    surface: float = field(default=1.0, metadata=spec("surface", "number", 0.2, 10.0, "times the vehicle's own rolling resistance"))
    wind: float = field(default=0.0, metadata=spec("wind", "speed", -30.0, 30.0, "headwind added to that of the day"))
    current: float = field(default=0.0, metadata=spec("current", "speed", -10.0, 10.0, "of the water, added to that of the day"))
    stop: float = field(default=0.0, metadata=spec("stop at the end", "time", 0.0, 86400.0))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Course:
    """A way to ride, leg by leg."""

    id: str
    name: str = ""
    legs: tuple[CourseLeg, ...]
    note: str = ""
    extra: Extra = field(default_factory=no_extra)

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
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Brief:
    """What is wanted, under which conditions, with what is already there."""

    goals: tuple[Goal, ...] = ()
    conditions: Conditions = field(default_factory=Conditions)
    shelf: tuple[ShelfItem, ...] = ()
    currency: str = "EUR"
    energy_price: Quantity = field(default=Quantity(value=0.30), metadata=spec("price of a kWh", "money", 0.0, 100.0))
    courses: tuple[Course, ...] = ()
    cases: tuple[LoadCase, ...] = ()
    case: str = ""  # the case in view; empty: the usual one
    modes: tuple[Mode, ...] = ()
    workshop: Workshop = field(default_factory=Workshop)
    mode: str = ""  # the mode in view; empty: all that the settings allow
    ready: ReadyMade | None = None  # what could be bought instead
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        unique("goal", [goal.id for goal in self.goals])
        unique("course", [course.id for course in self.courses])
        unique("load case", [case.id for case in self.cases])
        unique("mode", [mode.id for mode in self.modes])
        at_most("cases", len(self.cases), MOST_CASES)
        at_most("modes", len(self.modes), MOST_MODES)
        if self.case and self.case not in (USUAL, *(case.id for case in self.cases)):
            raise InputError("case", self.case, ", ".join((USUAL, *(case.id for case in self.cases))))
        if self.mode and self.mode not in [mode.id for mode in self.modes]:
            raise InputError("mode", self.mode, ", ".join(mode.id for mode in self.modes) or "none: the brief has no modes")
        at_most("goals", len(self.goals), MOST_GOALS)
        at_most("shelf", len(self.shelf), MOST_ON_SHELF)
        at_most("courses", len(self.courses), MOST_COURSES)
        at_most("courses", sum(len(course.legs) for course in self.courses), MOST_LEGS, "legs in all")

    def load_case(self, case_id: str | None = None) -> LoadCase | None:
        """A load case by id, or the one in view; None for the usual one.  Raises InputError for an id that is not there."""
        wanted = self.case if case_id is None else case_id
        if wanted in ("", USUAL):
            return None
        for case in self.cases:
            if case.id == wanted:
                return case
        raise InputError("case", wanted, ", ".join((USUAL, *(case.id for case in self.cases))))

    def mode_in_view(self) -> Mode | None:
        """The mode in view; None where nothing but the settings holds the drive back."""
        return next((mode for mode in self.modes if mode.id == self.mode), None)
