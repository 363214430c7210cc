"""The motor's winding: its iron as measured, what is wound on it now, what shall be, how far that has come, and what was read."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.history import check_day
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.design.tree.motor_choice import MotorChoice
from wattagon.errors import InputError
from wattagon.physics.winding.coil import Connection
from wattagon.record import record

MOST_SLOTS, MOST_TESTS, MOST_CODES = 120, 60, 400
SOUND, PHASES = ("", "yes", "no"), ("A", "B", "C", "")
COATS = ("", "thin", "thick")


def _length(label: str, low: float, high: float, hint: str = "") -> dict[str, object]:
    return spec(label, "length", low, high, hint)


@record(frozen=True, slots=True, kw_only=True)
class Stator:
    """The iron and the rotor round it, as counted and measured; what is empty is typical of the motor's size."""

    slots: int | None = field(default=None, metadata=spec("slots", "count", 3, MOST_SLOTS, "teeth, counted"))
    poles: int | None = field(default=None, metadata=spec("magnets", "count", 2, 160, "poles, counted; empty: as the motor's pole pairs"))
    gap_diameter: Quantity | None = field(default=None, metadata=_length("diameter at the air gap", 0.005, 0.6, "over the teeth's tips"))
    stack: Quantity | None = field(default=None, metadata=_length("stack", 0.002, 0.3, "height of the laminations"))
    tooth: Quantity | None = field(default=None, metadata=_length("tooth width", 0.0005, 0.08, "of its neck"))
    tip: Quantity | None = field(default=None, metadata=_length("tip height", 0.0, 0.02, "of the tooth's shoe"))
    opening: Quantity | None = field(default=None, metadata=_length("gap between tips", 0.0002, 0.05, "what wire has to pass"))
    slot_bottom: Quantity | None = field(default=None, metadata=_length("diameter at the slots' bottom", 0.003, 0.6))
    slot_area: Quantity | None = field(
        default=None, metadata=spec("slot area", "section", 1e-7, 5e-3, "left after the liner; empty: by outline")
    )
    pins: int | None = field(default=None, metadata=spec("pins that fill a slot", "count", 1, 5000, "straight wires pushed in until full"))
    pin_diameter: Quantity | None = field(default=None, metadata=_length("diameter of the pins", 0.0001, 0.01))
    liner: Quantity | None = field(default=None, metadata=_length("liner or coating", 0.0, 0.003, "on the slot's walls"))
    magnet_cover: Quantity | None = field(default=None, metadata=spec("magnets cover", "share", 0.3, 1.0, "of their pole"))
    lamination: Quantity | None = field(default=None, metadata=_length("lamination", 0.00005, 0.005, "thickness of one sheet"))
    air_gap: Quantity | None = field(default=None, metadata=_length("air gap", 0.00005, 0.01, "by feeler, from tip to magnet"))
    lead: Quantity | None = field(default=None, metadata=_length("leads of a phase", 0.0, 5.0, "in winding wire, both ends together"))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Wound:
    """One winding; what is empty is worked out or typical."""

    turns: int | None = field(default=None, metadata=spec("turns a tooth", "count", 1, 500, "passes of the whole bundle"))
    strands: int | None = field(default=None, metadata=spec("strands in hand", "count", 1, 200))
    wire: Quantity | None = field(default=None, metadata=_length("wire", 0.00005, 0.005, "bare diameter of a strand"))
    connection: Connection | None = None
    paths: int | None = field(default=None, metadata=spec("parallel paths", "count", 1, 40, "1: all coils of a phase in series"))
    layers: int | None = field(default=None, metadata=spec("coil sides a slot", "count", 1, 2, "1: every other tooth is wound"))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class MotorRead:
    """What a meter and a drill told of a motor on the bench."""

    ab: Quantity | None = field(default=None, metadata=spec("A to B", "resistance", 0.0, 1e4))
    bc: Quantity | None = field(default=None, metadata=spec("B to C", "resistance", 0.0, 1e4))
    ca: Quantity | None = field(default=None, metadata=spec("C to A", "resistance", 0.0, 1e4))
    copper: Quantity | None = field(default=None, metadata=spec("copper at", "temperature", -20.0, 120.0, "when it was read; empty: 20 C"))
    rpm: Quantity | None = field(default=None, metadata=spec("spun at", "rpm", 10.0, 60000.0))
    v_ab: Quantity | None = field(default=None, metadata=spec("volts A to B", "voltage", 0.0, 1000.0, "AC, rms, leads open"))
    v_bc: Quantity | None = field(default=None, metadata=spec("volts B to C", "voltage", 0.0, 1000.0))
    v_ca: Quantity | None = field(default=None, metadata=spec("volts C to A", "voltage", 0.0, 1000.0))
    hz: Quantity | None = field(default=None, metadata=spec("frequency", "frequency", 0.1, 5000.0, "of those volts"))
    free_v: Quantity | None = field(default=None, metadata=spec("volts, running free", "voltage", 0.5, 1000.0, "at full duty"))
    free_a: Quantity | None = field(default=None, metadata=spec("amps, running free", "current", 0.0, 500.0))
    free_rpm: Quantity | None = field(default=None, metadata=spec("speed, running free", "rpm", 10.0, 100000.0))
    date: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.date:
            check_day(self.date, "date of the readings")


@record(frozen=True, slots=True, kw_only=True)
class CoreTest:
    """One phase against the core, by an insulation tester."""

    phase: str
    when: str  # before, after, cured
    megohm: float = field(metadata=spec("insulation", "number", 0.0, 1e6, "megohm"))
    volts: float = field(default=500.0, metadata=spec("tester's volts", "voltage", 10.0, 1000.0))
    date: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.phase not in PHASES:
            raise InputError("phase", self.phase, "A, B, C or empty for the bare core")
        if self.when not in ("before", "after", "cured"):
            raise InputError("when", self.when, "before, after or cured")
        if self.date:
            check_day(self.date, "date of the insulation test")


@record(frozen=True, slots=True, kw_only=True)
class HallPlan:
    """Where sensors sit and what they told."""

    spacing: int | None = field(
        default=None, metadata=spec("electrical spacing", "count", 60, 120, "120, or 60 with the middle one inverted")
    )
    openings: tuple[int, ...] = ()  # of H1, H2, H3; empty: the nearest exact ones
    offsets: tuple[float, ...] = ()  # mechanical degrees of each from the middle of its opening
    learns: str = ""  # whether the controller learns table and angle
    codes: str = ""  # as they came, turned by hand
    seat: str = ""  # tape or ground: how the sensors are let in
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("openings", len(self.openings), 3)
        at_most("offsets", len(self.offsets), 3)
        at_most("codes", len(self.codes), MOST_CODES, "letters")
        if self.spacing not in (None, 60, 120):
            raise InputError("spacing", self.spacing, "60 or 120 degrees")
        if any(isinstance(one, bool) or not 0 <= one < MOST_SLOTS for one in self.openings):
            raise InputError("openings", ", ".join(map(str, self.openings)), f"0 to {MOST_SLOTS - 1}, the opening after tooth 0 is 0")
        if any(not abs(one) <= 60.0 for one in self.offsets):
            raise InputError("offsets", ", ".join(map(str, self.offsets)), "-60 to 60 degrees")
        for name, value, known in (("learns", self.learns, SOUND), ("seat", self.seat, ("", "tape", "ground"))):
            if value not in known:
                raise InputError(name, value, ", ".join(word or "empty" for word in known))


@record(frozen=True, slots=True, kw_only=True)
class Winding:
    """Of one variant's motor, or of a motor on the shelf."""

    part: str = ""  # a motor of the shelf or the stock that is looked at instead of the variant's own
    stator: Stator = field(default_factory=Stator)
    now: Wound = field(default_factory=Wound)
    kv: Quantity | None = field(default=None, metadata=spec("wanted kv", "kv", 1.0, 20000.0))
    plan: Wound | None = None  # the winding that was decided on
    was: MotorChoice | None = None  # the motor before the plan was taken into the drive
    coat: str = ""  # of the wire
    cover: Quantity | None = field(default=None, metadata=_length("resin over the tips", 0.0, 0.005, "what stands in the air gap"))
    done: tuple[int, ...] = ()  # teeth that are wound, in the order of the work
    turns_on: int = field(default=0, metadata=spec("turns on the coil in hand", "count", 0, 500))
    tests: tuple[CoreTest, ...] = ()
    halls: HallPlan = field(default_factory=HallPlan)
    before: MotorRead = field(default_factory=MotorRead)
    after: MotorRead = field(default_factory=MotorRead)
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("wound teeth", len(self.done), MOST_SLOTS)
        at_most("insulation tests", len(self.tests), MOST_TESTS)
        if len(set(self.done)) < len(self.done) or any(isinstance(one, bool) or not 0 <= one < MOST_SLOTS for one in self.done):
            raise InputError("done", ", ".join(map(str, self.done)), "each tooth once, counted from 0")
        if self.coat not in COATS:
            raise InputError("coat", self.coat, "thin, thick or empty")
