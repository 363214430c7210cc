"""What of a controller's settings only its maker knows: school, tapers, what was entered in it, and the throttle."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.errors import InputError
from wattagon.record import record

SCHOOLS = ("", "vehicle", "model", "scooter", "brushed")  # empty: as the part is
SENSORS = ("", "none", "hall", "encoder")
STARTS = ("", "sensors", "pushed", "open loop")
LIMITED = ("", "soft", "hard")
GUARDS = ("", "hold", "code", "switch", "none")
INPUTS = ("", "pulse", "hall", "pot", "pedal")
CURVES = ("linear", "expo", "power", "points")
REVERSE = ("", "none", "at rest", "always")
CRUISE = ("", "none", "held")
YES_NO = ("", "yes", "no")
FIT = ("", "known", "unknown")
OUTCOMES = ("", "stops", "drives", "brakes")
FAILURES = ("lost", "pulled", "short", "full", "brownout")
MOST_POINTS, MOST_ORDER = 12, 12


def _known(name: str, value: str, accepted: tuple[str, ...]) -> None:
    if value not in accepted:
        raise InputError(name, value, ", ".join(word or "empty" for word in accepted))


@record(frozen=True, slots=True, kw_only=True)
class Lever:
    """One lever as it was read: microseconds of a pulse, volts of a lever or a potentiometer."""

    kind: str = ""
    low: float | None = field(default=None, metadata=spec("lowest reading", "number", 0.0, 5000.0, "µs of a pulse, else V"))
    centre: float | None = field(default=None, metadata=spec("reading at rest", "number", 0.0, 5000.0, "µs of a pulse, else V"))
    high: float | None = field(default=None, metadata=spec("highest reading", "number", 0.0, 5000.0, "µs of a pulse, else V"))
    drift: float | None = field(default=None, metadata=spec("drift at rest", "number", 0.0, 500.0, "largest seen, either way"))
    ohms: float | None = field(default=None, metadata=spec("potentiometer", "resistance", 10.0, 1e6, "end to end"))
    fault_low: float | None = field(default=None, metadata=spec("fault below", "number", 0.0, 5000.0))
    fault_high: float | None = field(default=None, metadata=spec("fault above", "number", 0.0, 5000.0))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        _known("kind of lever", self.kind, INPUTS)
        ends = [value for value in (self.low, self.centre, self.high) if value is not None]
        if ends != sorted(ends) or (len(ends) > 1 and ends[0] == ends[-1]):
            raise InputError("readings of the lever", ", ".join(f"{v:g}" for v in ends), "lowest, at rest and highest in rising order")


@record(frozen=True, slots=True, kw_only=True)
class Throttle:
    """From the hand to the command."""

    lever: Lever = field(default_factory=Lever)
    brake: Lever | None = None  # a second lever that brakes
    gives: Lever | None = None  # what a converter between lever and controller hands on; empty: there is none
    dead: float | None = field(default=None, metadata=spec("dead band", "share", 0.0, 0.4, "of half the travel; empty: 5 %"))
    curve: str = "linear"
    bend: float | None = field(default=None, metadata=spec("bend", "number", 0.0, 5.0, "expo 0 to 1, or the power; empty: straight"))
    points: tuple[tuple[float, float], ...] = ()  # lever and command, 0 to 1, between the ends
    brake_bend: float | None = field(default=None, metadata=spec("bend of the brake", "number", 0.0, 5.0, "as that of the drive"))
    rise_s: float | None = field(default=None, metadata=spec("ramp of the brake", "time", 0.0, 10.0, "empty: as driving"))
    release_s: float | None = field(default=None, metadata=spec("ramp of the release", "time", 0.0, 10.0, "empty: as down"))
    reverse: str = ""
    cruise: str = ""
    loss_s: float | None = field(default=None, metadata=spec("signal lost after", "time", 0.01, 10.0, "empty: 0.25 s"))
    delay_s: float | None = field(default=None, metadata=spec("delay", "time", 0.0, 1.0, "frame and radio; empty: 0.03 s of a radio"))
    found: Mapping[str, str] = field(default_factory=dict)  # what was seen in a test, by failure
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        for name, value, accepted in (
            ("curve", self.curve, CURVES),
            ("reverse", self.reverse, REVERSE),
            ("cruise", self.cruise, CRUISE),
        ):
            _known(name, value, accepted)
        at_most("points of the curve", len(self.points), MOST_POINTS)
        last = (-1.0, -1.0)
        for point in self.points:
            if not (0.0 <= point[0] <= 1.0 and 0.0 <= point[1] <= 1.0 and point[0] > last[0] and point[1] >= last[1]):
                raise InputError(
                    "points of the curve", f"{point[0]:g} {point[1]:g}", "0 to 1, each further on than the one before, never falling"
                )
            last = point
        for failure, outcome in self.found.items():
            _known("failure", failure, FAILURES)
            _known(f"what {failure} did", outcome, OUTCOMES)


@record(frozen=True, slots=True, kw_only=True)
class Control:
    """Of one variant, the same in each of its controllers; currents, cutback and ramps are the controller's own."""

    school: str = ""
    absolute_a: float | None = field(default=None, metadata=spec("absolute maximum", "current", 1.0, 5000.0, "trips at once; each motor"))
    duty_soft: float | None = field(default=None, metadata=spec("duty taper starts", "share", 0.3, 1.0, "empty: a hard end"))
    watts: float | None = field(default=None, metadata=spec("power limit", "power", 10.0, 1e6, "from the pack, of each controller"))
    boost_s: float | None = field(default=None, metadata=spec("boost lasts", "time", 0.5, 600.0, "as set; empty: by the budget"))
    sensor: str = ""
    motor_sensor: str = ""  # whether a temperature sensor is in the motor
    order: str = ""  # codes of the sensors over one turn, as read
    start: str = ""
    reversed: tuple[int, ...] = ()  # motors by number that turn the other way
    idle_min: float | None = field(default=None, metadata=spec("off after", "number", 0.0, 600.0, "minutes at rest; 0: never"))
    cells: float | None = field(default=None, metadata=spec("cells as set", "number", 1, 200))
    poles: float | None = field(default=None, metadata=spec("poles as set", "number", 2, 200))
    ratio: float | None = field(default=None, metadata=spec("ratio as set", "number", 0.05, 200.0))
    wheel: Quantity | None = field(default=None, metadata=spec("wheel as set", "length", 0.02, 3.0, "its diameter"))
    limited: str = ""  # how a speed limit is kept
    street: str = ""  # id of the mode that it wakes in
    walk: str = ""  # id of the mode for walking beside it
    full_by: str = ""  # the deliberate act that gives all
    firmware: str = ""  # whether it is known to fit
    model_brake: str = ""  # of a model controller: yes: it brakes when let go
    throttle: Throttle | None = None
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        for name, value, accepted in (
            ("school", self.school, SCHOOLS),
            ("sensors", self.sensor, SENSORS),
            ("sensor in the motor", self.motor_sensor, YES_NO),
            ("start", self.start, STARTS),
            ("speed limit", self.limited, LIMITED),
            ("full mode by", self.full_by, GUARDS),
            ("firmware", self.firmware, FIT),
            ("brake when let go", self.model_brake, YES_NO),
        ):
            _known(name, value, accepted)
        if not all(1 <= motor <= 8 for motor in self.reversed):
            raise InputError("motors that turn the other way", ", ".join(map(str, self.reversed)), "1 to 8")
        if any(mark not in "123456" for mark in self.order) or len(self.order) > MOST_ORDER:
            raise InputError("order of the sensors", self.order, "the codes 1 to 6 as they came, such as 546231")
