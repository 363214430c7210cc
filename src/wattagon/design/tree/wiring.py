"""What of a drive's wiring only its maker knows: its pieces in order, control leads pin by pin, colours, and the box."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_PIECES, MOST_WIRES = 80, 120
# branches, in the order of the path
BRANCHES = ("brick", "pack", "controller", "phase", "charge", "aux", "brake")
KINDS = (
    *("lead", "joint", "fuse", "key", "switch", "contactor", "board"),
    *("converter", "resistor", "meter"),
)
LAID = ("free", "case", "wrapped")
EDGES = ("", "none", "plastic", "metal", "carbon")
HALVES = ("", "socket", "plug")
SPARKS = ("", "none", "resistor", "touch", "controller")
COIL = ("", "none", "diode", "diode and clamp")
YES_NO = ("", "yes", "no")


@record(frozen=True, slots=True, kw_only=True)
class Piece:
    """One piece of the power path; what is empty is proposed or not known.  Which fields count depends on its kind."""

    id: str
    kind: str
    branch: str = "pack"
    part: str = ""  # of stock
    name: str = ""
    length: Quantity | None = field(default=None, metadata=spec("one way", "length", 0.005, 20.0, "of the route; empty: by the layout"))
    beside: int = field(default=1, metadata=spec("leads side by side", "number", 1, 8, "in parallel, of each pole"))
    bundle: int | None = field(default=None, metadata=spec("loaded leads that touch", "number", 1, 12, "empty: 2 of a pair, 3 of phases"))
    laid: str = "free"
    edge: str = ""  # the worst edge it passes
    edge_gap: Quantity | None = field(default=None, metadata=spec("to that edge", "length", 0.0, 1.0))
    bend: Quantity | None = field(default=None, metadata=spec("tightest bend", "length", 0.001, 2.0, "inner radius"))
    moves: bool = False
    held: str = ""  # strain relief: yes or no, empty: not known
    pack_side: str = ""  # half on the side of the cells
    mate: str = ""  # of stock: the other half, where it is another part
    solders: str = ""  # who joins it
    ohm: Quantity | None = field(default=None, metadata=spec("measured", "resistance", 1e-6, 1.0, "of one contact pair, or of one lead"))
    from_cells: Quantity | None = field(default=None, metadata=spec("from the cells", "length", 0.0, 10.0, "of a fuse, along its lead"))
    reach: str = ""  # of a disconnect in the riding position: yes, no, empty: not known
    spark: str = ""  # what keeps the spark away when this closes
    coil: str = ""  # what takes a coil's current
    rating: Quantity | None = field(default=None, metadata=spec("rating", "current", 0.1, 5000.0, "of what stock does not have"))
    volts: Quantity | None = field(default=None, metadata=spec("volts", "voltage", 1.0, 2000.0, "direct; of what stock does not have"))
    watts: Quantity | None = field(default=None, metadata=spec("draws", "power", 0.0, 5000.0, "of a converter or meter"))
    colour: str = ""
    colour_found: str = ""
    solder: bool = False  # its lead ends in solder, not in a crimp
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        for name, value, known in (
            ("kind", self.kind, KINDS),
            ("branch", self.branch, BRANCHES),
            ("laid", self.laid, LAID),
            ("edge", self.edge, EDGES),
            ("pack_side", self.pack_side, HALVES),
            ("spark", self.spark, SPARKS),
            ("coil", self.coil, COIL),
            ("held", self.held, YES_NO),
            ("reach", self.reach, YES_NO),
        ):
            if value not in known:
                raise InputError(name, value, ", ".join(word or "empty" for word in known))


@record(frozen=True, slots=True, kw_only=True)
class Wire:
    """One control wire, pin to pin."""

    signal: str
    start: str  # device: a plain name such as receiver
    start_pin: str = ""
    end: str = ""
    end_pin: str = ""
    found: str = ""  # colour that was found
    wanted: str = ""  # colour that is laid
    cut: bool = False  # recorded before it was cut
    note: str = ""
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class BoxChoice:
    """The closed box that controllers and leads are in."""

    length: Quantity = field(metadata=spec("long", "length", 0.02, 5.0))
    width: Quantity = field(metadata=spec("wide", "length", 0.02, 5.0))
    height: Quantity = field(metadata=spec("high", "length", 0.01, 5.0))
    wall: Quantity | None = field(default=None, metadata=spec("wall", "length", 0.0002, 0.05, "empty: 2 mm"))
    metal: bool = False
    plate: Quantity | None = field(
        default=None, metadata=spec("controller's plate to air", "thermal_resistance", 0.01, 50.0, "through the wall; empty: none")
    )
    dark: bool = True
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Bank:
    """Capacitors at the controller's input."""

    farad: Quantity | None = field(default=None, metadata=spec("capacity", "capacitance", 1e-6, 1.0, "of each controller; empty: usual"))
    esr: Quantity | None = field(default=None, metadata=spec("series resistance", "resistance", 0.0, 1.0))
    volts: Quantity | None = field(default=None, metadata=spec("volts", "voltage", 5.0, 1000.0, "on the cans; empty: not known"))
    ripple: Quantity | None = field(default=None, metadata=spec("ripple rating", "current", 0.1, 2000.0, "of the whole bank"))
    standing: Quantity | None = field(
        default=None, metadata=spec("standing load", "power", 0.0, 1000.0, "that is on before the main path closes")
    )
    bleeder: Quantity | None = field(default=None, metadata=spec("bleeder", "resistance", 10.0, 1e6))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Wiring:
    """Of one variant."""

    pieces: tuple[Piece, ...] = ()
    wires: tuple[Wire, ...] = ()
    bank: Bank | None = None
    box: BoxChoice | None = None
    precharge: str = ""  # resistor of stock; empty: none told
    precharge_time: Quantity | None = field(default=None, metadata=spec("pre-charged in", "time", 0.01, 60.0))
    precharge_by: str = ""  # hand, controller or timer; empty: none
    brake: str = ""  # brake resistor of stock
    interlock: str = ""  # of the brake resistor: yes, no, empty: not known
    apart: Quantity | None = field(
        default=None, metadata=spec("plus and minus apart", "length", 0.0, 2.0, "of the pack's leads; empty: side by side")
    )
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("pieces", len(self.pieces), MOST_PIECES)
        at_most("control wires", len(self.wires), MOST_WIRES)
        seen: set[str] = set()
        for piece in self.pieces:
            if piece.id in seen:
                raise InputError("id of a piece", f"{piece.id} twice", "each id once")
            seen.add(piece.id)
        for name, value, known in (
            ("interlock", self.interlock, YES_NO),
            ("precharge_by", self.precharge_by, ("", "hand", "controller", "timer")),
        ):
            if value not in known:
                raise InputError(name, value, ", ".join(word or "empty" for word in known))
