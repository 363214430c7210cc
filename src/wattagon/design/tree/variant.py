"""One way to drive the vehicle: motor, controller, pack, reduction, wheel."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field, replace
from enum import StrEnum

from wattagon.design.parts import CellPart, ControllerPart, PropellerPart, WheelPart
from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.battery import Battery
from wattagon.design.tree.build import Build, OwnPart
from wattagon.design.tree.commissioning import Commissioning
from wattagon.design.tree.control import Control
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra, unique
from wattagon.design.tree.inquiry import Inquiry
from wattagon.design.tree.layout import Layout
from wattagon.design.tree.measured_load import MeasuredLoad
from wattagon.design.tree.motor_choice import MotorChoice
from wattagon.design.tree.strength import Strength
from wattagon.design.tree.wet import Wet
from wattagon.design.tree.winding import Winding
from wattagon.design.tree.wiring import Wiring
from wattagon.errors import InputError
from wattagon.record import record

MOST_STAGES, MOST_COGS, MOST_OWN_PARTS = 6, 14, 200


class ReductionKind(StrEnum):
    BELT = "belt"
    CHAIN = "chain"
    GEAR = "gear"
    PLANETARY = "planetary"  # sun in, carrier out, ring held
    FRICTION = "friction"  # roller on the tyre: diameters instead of teeth
    DIRECT = "direct"


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
    extra: Extra = field(default_factory=no_extra)

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
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class StageChoice:
    """One stage of the reduction, in order from the motor."""

    kind: ReductionKind
    profile: str = ""  # belt or chain family in the stock, such as 5M
    driver_teeth: int = field(default=1, metadata=spec("driver teeth", "number", 1, 400))
    driven_teeth: int = field(default=1, metadata=spec("driven teeth", "number", 1, 400))
    width_mm: float | None = field(default=None, metadata=spec("belt width", "number", 1.0, 200.0))
    roller_diameter: float | None = field(default=None, metadata=spec("roller diameter", "length", 0.01, 0.5))
    press_force: Quantity | None = field(
        default=None, metadata=spec("pressing force", "force", 1.0, 5000.0, "of the roller on its tyre, at rest")
    )
    arm_angle: Quantity | None = field(
        default=None,
        metadata=spec(
            "arm angle",
            "angle",
            0.09,
            1.5,
            "at the contact, between the line to the arm's pivot and the wheel's normal; empty: a fixed press",
        ),
    )
    grip_dry: Quantity | None = field(default=None, metadata=spec("roller's grip, dry", "number", 0.05, 1.5))
    grip_dusty: Quantity | None = field(default=None, metadata=spec("roller's grip, dusty", "number", 0.05, 1.5))
    grip_wet: Quantity | None = field(default=None, metadata=spec("roller's grip, wet", "number", 0.05, 1.5))
    efficiency: Quantity | None = field(default=None, metadata=spec("efficiency", "share", 0.3, 1.0))
    drag: Quantity | None = field(default=None, metadata=spec("drag", "torque", 0.0, 10.0))
    freewheel: bool = False
    shared: bool = False  # all motors drive this stage together
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class WheelChoice:
    """A wheel from stock instead of the one measured on the vehicle."""

    part: str
    overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": WheelPart})
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Gears:
    """The bike's own chain behind the crank, where the motor drives the crank: a ring and the cogs of the cassette, the largest first."""

    ring: int = field(default=38, metadata=spec("teeth of the ring", "number", 8, 80))
    cogs: tuple[int, ...] = (42, 34, 28, 24, 20, 17, 14, 11)
    profile: str = "cycle"  # family of the chain in stock
    efficiency: Quantity | None = field(default=None, metadata=spec("efficiency of the bike's chain", "share", 0.5, 1.0))
    cadence_low: float = field(default=60.0, metadata=spec("cadence to shift down at", "rpm", 20.0, 120.0))
    cadence_high: float = field(default=90.0, metadata=spec("cadence to be assisted", "rpm", 30.0, 160.0))
    shift_up: float | None = field(
        default=None, metadata=spec("cadence to shift up at", "rpm", 30.0, 160.0, "empty: as soon as the next gear keeps the lower one")
    )
    shift_pause: float | None = field(default=None, metadata=spec("pause for a shift", "time", 0.0, 3.0, "without torque; empty: 0.4 s"))
    crank_clutch: bool = True  # the cranks have a freewheel of their own: the motor does not turn them
    hub_freewheel: bool = True
    hub: str = ""  # from stock; empty: the bike's own, typical
    in_view: int | None = field(default=None, metadata=spec("gear in view", "number", 1, 14, "empty: the one ridden at the goal speed"))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if not 1 <= len(self.cogs) <= MOST_COGS:
            raise InputError("cogs", f"{len(self.cogs)} cogs", f"1 to {MOST_COGS}")
        for teeth in self.cogs:
            if not 8 <= teeth <= 60:
                raise InputError("cogs", teeth, "8 to 60 teeth each")
        if list(self.cogs) != sorted(self.cogs, reverse=True):
            raise InputError("cogs", ", ".join(map(str, self.cogs)), "the largest first")
        if self.in_view is not None and self.in_view > len(self.cogs):
            raise InputError("in_view", self.in_view, f"1 to {len(self.cogs)}, the gears that there are")


class Place(StrEnum):
    """Where a propeller works."""

    POD = "pod"
    LEG = "leg"
    RUDDER = "rudder"  # behind a kayak's
    SKEG = "skeg"  # behind a thick one
    LONG_TAIL = "long_tail"
    SHAFT = "shaft"  # through the hull


class Cooling(StrEnum):
    """What takes the heat of a boat's motor."""

    PLACED = "placed"  # by its place: water around a pod, air around the others
    PUMP = "pump"  # the leg's own, turned by its shaft
    LOOP = "loop"  # a closed one with an electric pump and an exchanger


@record(frozen=True, slots=True, kw_only=True)
class DockRow:
    """One steady step of throttle at the dock."""

    pull: float = field(metadata=spec("pull", "force", 0.1, 1e5, "of all propellers"))
    volts: float = field(metadata=spec("volts", "voltage", 1.0, 1000.0, "of the pack under load"))
    amps: float = field(metadata=spec("pack amps", "current", 0.01, 5000.0, "of all controllers"))
    rpm: float = field(metadata=spec("turns of the propeller", "rpm", 10.0, 20000.0))
    out: bool = False  # left out of the fit
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class OpenWaterRow:
    """One point of a propeller's own coefficients in open water."""

    advance: float = field(metadata=spec("J", "number", 0.0, 3.0, "inflow over turns a second and diameter"))
    thrust: float = field(metadata=spec("K_T", "number", -1.0, 2.0, "thrust over density, turns squared, diameter to the fourth"))
    torque: float = field(metadata=spec("K_Q", "number", -0.1, 0.5, "torque over density, turns squared, diameter to the fifth"))
    out: bool = False  # left out of the table
    extra: Extra = field(default_factory=no_extra)


MOST_DOCK_ROWS = 200


@record(frozen=True, slots=True, kw_only=True)
class PropellerChoice:
    """Which propellers, where they work, and what a dock test made of their coefficients."""

    part: str
    count: int = field(default=1, metadata=spec("propellers", "number", 1, 4))
    place: Place = Place.POD
    carrier: str = ""  # leg or shaft kit from stock; empty: of one's own making
    flooded: bool = False  # the motor's can turns in the water; else it is sealed in its pod
    cooling: Cooling = Cooling.PLACED
    cooling_w_per_k: Quantity | None = field(
        default=None, metadata=spec("heat into the water", "number", 0.5, 1000.0, "W/K of one motor; empty: as is usual")
    )
    pump_w: Quantity | None = field(default=None, metadata=spec("power of the pump", "power", 0.0, 500.0, "of a closed loop, each"))
    tilt: Quantity | None = field(
        default=None, metadata=spec("shaft to the way", "angle", 0.0, 0.7, "of a long tail or a shaft; empty: level")
    )
    made_for: Quantity | None = field(
        default=None,
        metadata=spec("made for a transom of", "angle", 0.0, 0.6, "how far it leans aft; empty: a leg for 12 degrees, a pod for upright"),
    )
    wedge: Quantity | None = field(
        default=None, metadata=spec("wedge under the clamp", "angle", -0.5, 0.5, "above 0 it takes away what the transom leans too far aft")
    )
    tail_length: Quantity | None = field(
        default=None, metadata=spec("length of the tail", "length", 0.2, 6.0, "of a long tail, from its pivot to the propeller")
    )
    pivot_height: Quantity | None = field(
        default=None, metadata=spec("height of the pivot", "length", 0.0, 3.0, "of a long tail, above the water")
    )
    shaft_diameter: Quantity | None = field(default=None, metadata=spec("shaft", "length", 0.003, 0.1, "its diameter, solid steel"))
    shaft_span: Quantity | None = field(
        default=None, metadata=spec("between bearings", "length", 0.02, 6.0, "of the propeller's shaft, the longest gap")
    )
    thrust_rating: Quantity | None = field(
        default=None, metadata=spec("thrust bearing", "force", 10.0, 1e6, "static rating C0 of the bearing that takes the thrust")
    )
    seal: Quantity | None = field(default=None, metadata=spec("drag of the seals", "torque", 0.0, 5.0, "at the propeller's shaft"))
    wake: Quantity | None = field(
        default=None, metadata=spec("wake", "share", 0.0, 0.49, "how much slower the water arrives; empty: by its place")
    )
    deduction: Quantity | None = field(
        default=None, metadata=spec("thrust lost on the hull", "share", 0.0, 0.49, "by suction; empty: by its place")
    )
    thrust_factor: Quantity | None = field(default=None, metadata=spec("thrust by the dock test", "number", 0.6, 1.5, "over the forecast"))
    torque_factor: Quantity | None = field(default=None, metadata=spec("torque by the dock test", "number", 0.6, 1.5, "over the forecast"))
    dock: tuple[DockRow, ...] = ()
    open_water: tuple[OpenWaterRow, ...] = ()  # of the user's own; empty: by blade elements
    overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": PropellerPart})
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if len(self.dock) > MOST_DOCK_ROWS:
            raise InputError("dock", f"{len(self.dock)} rows", f"up to {MOST_DOCK_ROWS}")
        if len(self.open_water) > MOST_DOCK_ROWS:
            raise InputError("open_water", f"{len(self.open_water)} rows", f"up to {MOST_DOCK_ROWS}")

    def other(self, part: str) -> PropellerChoice:
        """Another propeller in the same place; what callipers, a dock test or a table told of the old one does not hold for it."""
        if part == self.part:
            return self
        return replace(self, part=part, overrides={}, thrust_factor=None, torque_factor=None, dock=(), open_water=())


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
    gears: Gears | None = None  # behind the stages, where they drive the crank
    wheel: WheelChoice | None = None
    propeller: PropellerChoice | None = None
    layout: Layout | None = None  # where it stands on the vehicle; empty: proposed
    strength: Strength | None = None  # how it is held together; empty: typical
    battery: Battery | None = None  # bricks, school, window, charging, checks; empty: typical
    wiring: Wiring | None = None  # what carries its current; empty: proposed
    control: Control | None = None  # what else is set in its controllers, and the throttle; empty: as is usual
    own_parts: tuple[OwnPart, ...] = ()  # rows of the maker's own: they weigh and cost
    build: Build | None = None  # parts bought, steps done
    commissioning: Commissioning | None = None  # what was read, who signed
    wet: Wet | None = None  # what keeps water and dirt out
    winding: Winding | None = None  # the motor's coils: as they are, as they shall be
    inquiry: Inquiry | None = None  # a trouble that is being looked into
    measured_load: MeasuredLoad | None = None  # of a log, that pack and wiring are held against in place of simulated rides
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        at_most("own parts", len(self.own_parts), MOST_OWN_PARTS)
        unique("own part", [part.id for part in self.own_parts])
        if len(self.stages) > MOST_STAGES:
            raise InputError("stages", f"{len(self.stages)} stages", f"up to {MOST_STAGES}")
