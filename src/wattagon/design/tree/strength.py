"""What of a drive's strength only its maker knows: how wheels sit on shafts, how the motor is held, and what was proved by a mass."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_JOINTS, MOST_PROOFS = 24, 200
KINDS = (
    *("set_screw", "key", "d_bore", "clamp", "pin", "arms", "bolts", "spokes", "freewheel", "bearing", "shaft"),
    *("plate", "slots", "bracket", "torque_arm", "dropout", "axle", "coupling"),
    *("spline", "gear", "weld", "glue", "corner", "tube", "blade", "transom", "pivot"),
)
PLACES = ("motor", "stage", "jackshaft", "wheel", "axle", "mount")
GRADES = ("8.8", "10.9", "12.9", "A2-70")
SECONDS = ("in line", "60", "opposite")
RESULTS = ("held", "moved", "broke")
WAYS = ("drive", "regen")


def _length(label: str, high: float = 1.0, hint: str = "") -> dict[str, object]:
    return spec(label, "length", 0.0, high, hint)


@record(frozen=True, slots=True, kw_only=True)
class Joint:
    """One element of the load path as it is made; what is empty is typical.  Which fields count depends on its kind."""

    kind: str
    place: str = "motor"  # the shaft it is on, or the mount
    name: str = ""
    screw: int | None = field(default=None, metadata=spec("screw", "number", 3, 12, "M3 to M12"))
    count: int | None = field(default=None, metadata=spec("how many", "number", 1, 60))
    grade: str = "8.8"
    second: str = "60"  # how two set screws stand to each other
    torque: Quantity | None = field(default=None, metadata=spec("tightened with", "torque", 0.0, 500.0, "empty: as is usual"))
    flat: Quantity | None = field(default=None, metadata=_length("depth of the flat", 0.02, "0: a round shaft"))
    locked: bool = False  # threads with lock, or safety wire
    diameter: Quantity | None = field(default=None, metadata=_length("diameter", 0.5))
    inner: Quantity | None = field(default=None, metadata=_length("across its flats", 0.5, "of an axle in dropouts"))
    length: Quantity | None = field(default=None, metadata=_length("length", 2.0, "along the shaft; of an arm its reach"))
    width: Quantity | None = field(default=None, metadata=_length("width", 1.0))
    thickness: Quantity | None = field(default=None, metadata=_length("thickness", 0.2))
    radius: Quantity | None = field(default=None, metadata=_length("radius", 1.0, "of the bolts, or where an arm is loaded"))
    edge: Quantity | None = field(default=None, metadata=_length("hole to edge", 0.2, "from its middle"))
    lever: Quantity | None = field(default=None, metadata=_length("lever", 2.0, "from where it holds to where it is loaded"))
    material: str = ""  # of stock
    across: bool = False  # loaded across its layers
    temperature: Quantity | None = field(default=None, metadata=spec("temperature at work", "temperature", -40.0, 200.0))
    points: int | None = field(default=None, metadata=spec("points that hold", "number", 1, 8))
    outboard: Quantity | None = field(default=None, metadata=_length("outboard bearing", 0.5, "beyond the pulley; empty: none"))
    bears: Quantity | None = field(default=None, metadata=spec("bears by its maker", "torque", 0.0, 1e5, "at its own shaft"))
    offset: Quantity | None = field(default=None, metadata=_length("shafts off line", 0.05, "of a coupling, sideways; empty: not known"))
    walls: int | None = field(default=None, metadata=spec("walls", "number", 1, 100, "of a print, lines of 0.45 mm; empty: solid"))
    fill: float | None = field(default=None, metadata=spec("infill", "share", 0.0, 1.0, "of a print inside its walls"))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        for name, value, known in (
            ("kind", self.kind, KINDS),
            ("place", self.place, PLACES),
            ("grade", self.grade, GRADES),
            ("second", self.second, SECONDS),
        ):
            if value not in known:
                raise InputError(name, value, ", ".join(known))


@record(frozen=True, slots=True, kw_only=True)
class Proof:
    """A mass that was hung, and what came of it."""

    element: str  # its code
    mass: float = field(metadata=spec("mass", "mass", 0.0, 1000.0))
    lever: float = field(metadata=spec("lever", "length", 0.01, 5.0, "level, from the shaft's middle to the mass"))
    arm_mass: float = field(default=0.0, metadata=spec("the arm's own mass", "mass", 0.0, 50.0))
    temperature: float | None = field(default=None, metadata=spec("of the part", "temperature", -40.0, 200.0, "empty: cold"))
    way: str = "drive"
    result: str = "held"
    date: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.result not in RESULTS:
            raise InputError("result", self.result, ", ".join(RESULTS))
        if self.way not in WAYS:
            raise InputError("way", self.way, ", ".join(WAYS))


@record(frozen=True, slots=True, kw_only=True)
class Strength:
    """Of one variant."""

    joints: tuple[Joint, ...] = ()
    proofs: tuple[Proof, ...] = ()
    fuse: str = ""  # code of what is wanted to give way first
    bump: Quantity | None = field(default=None, metadata=spec("bump", "number", 1.0, 10.0, "times its weight; empty: as is usual"))
    run_time: Quantity | None = field(default=None, metadata=spec("time of a full start", "time", 0.2, 120.0))
    run_speed: Quantity | None = field(default=None, metadata=spec("speed it reached", "speed", 0.3, 60.0))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("joints", len(self.joints), MOST_JOINTS)
        at_most("proof tests", len(self.proofs), MOST_PROOFS)
