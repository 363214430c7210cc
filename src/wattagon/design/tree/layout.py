"""Where the drive of a variant stands on its vehicle; what is empty is proposed.  x ahead of the driven axle, z above it, y out of the
middle."""

from __future__ import annotations

from dataclasses import field, replace
from enum import StrEnum

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.aboard import Body
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.design.tree.picture import Picture
from wattagon.design.tree.stack import Stack
from wattagon.errors import InputError
from wattagon.record import record

MOST_IDLERS, MOST_OBSTACLES, MOST_JACKSHAFTS, MOST_BODIES, MOST_STACKS = 4, 40, 3, 40, 8


def _place(label: str, hint: str = "") -> dict[str, object]:
    return spec(label, "length", -4.0, 4.0, hint)


@record(frozen=True, slots=True, kw_only=True)
class Spot:
    """Where a shaft stands."""

    x: Quantity = field(metadata=_place("ahead of the driven axle", "behind it below 0"))
    z: Quantity = field(metadata=_place("above the driven axle", "below it below 0"))
    extra: Extra = field(default_factory=no_extra)


class TakeUp(StrEnum):
    """What takes up the length of a loop."""

    SLOTS = "slots"  # the motor or the shaft before it moves along the line of centres
    ECCENTRIC = "eccentric"  # the shaft sits off the middle of what is turned in its seat
    IDLER = "idler"
    NONE = "none"


@record(frozen=True, slots=True, kw_only=True)
class Idler:
    """A wheel that only guides the loop."""

    x: Quantity = field(metadata=_place("ahead of the driven axle"))
    z: Quantity = field(metadata=_place("above the driven axle"))
    diameter: Quantity = field(metadata=spec("diameter", "length", 0.004, 0.5, "outside; of a sprocket its pitch circle"))
    part: str = ""  # of stock; empty: of one's own
    inside: bool = False  # runs inside the loop, else on its back
    sprung: bool = False
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class StageLayout:
    """What of a stage only the drawing tells."""

    loop: int | None = field(
        default=None,
        metadata=spec("length of the loop", "number", 8, 5000, "teeth of a belt, links of a chain; empty: the next that fits"),
    )
    take_up: TakeUp = TakeUp.SLOTS
    slot: Quantity | None = field(
        default=None, metadata=spec("length of the slots", "length", 0.0, 0.3, "travel along the line of centres; empty: as long as needed")
    )
    flange: Quantity | None = field(
        default=None, metadata=spec("flange", "length", 0.0, 0.03, "height over the outside circle; empty: 1.5 mm")
    )
    idlers: tuple[Idler, ...] = ()
    module: Quantity | None = field(
        default=None, metadata=spec("module of the gears", "length", 0.0002, 0.02, "pitch diameter over teeth; empty: 1.5 mm")
    )
    planets: int | None = field(default=None, metadata=spec("planets", "number", 2, 8, "of a planetary set; empty: 3"))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("idlers of a stage", len(self.idlers), MOST_IDLERS)


SHAPES = ("circle", "line", "box")


@record(frozen=True, slots=True, kw_only=True)
class Obstacle:
    """A piece of the vehicle that the drive has to clear, in side view; between two planes across."""

    name: str = "obstacle"
    shape: str = "circle"
    x: float = field(metadata=_place("ahead of the driven axle", "a circle's middle, a line's first end, a box's lower rear corner"))
    z: float = field(metadata=_place("above the driven axle"))
    x2: float = field(default=0.0, metadata=_place("its other end ahead"))
    z2: float = field(default=0.0, metadata=_place("its other end above"))
    radius: float = field(default=0.0, metadata=spec("radius", "length", 0.0, 2.0, "of a circle; half the thickness of a line"))
    right: float = field(default=-1.0, metadata=_place("its right side, from the middle"))
    left: float = field(default=1.0, metadata=_place("its left side, from the middle"))
    tolerance: float = field(default=0.002, metadata=spec("known within", "length", 0.0, 0.2))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.shape not in SHAPES:
            raise InputError("shape", self.shape, ", ".join(SHAPES))
        if not self.right < self.left:
            raise InputError("left", f"{self.left:g} m", f"left of its right side, {self.right:g} m")


@record(frozen=True, slots=True, kw_only=True)
class Layout:
    """The drive on the vehicle."""

    motor: Spot | None = None
    jackshafts: tuple[Spot, ...] = ()  # between the stages, from the motor on
    crank: Spot | None = None  # where the stages drive it
    stages: tuple[StageLayout, ...] = ()
    beside: Quantity | None = field(
        default=None, metadata=_place("first belt from the middle", "plane of the first pulley; of the right one of two")
    )
    tread: Quantity | None = field(
        default=None, metadata=spec("pedal tread", "length", 0.08, 0.4, "between the outsides of both crank arms")
    )
    crank_length: Quantity | None = field(default=None, metadata=spec("crank", "length", 0.08, 0.25, "axis to pedal; empty: 170 mm"))
    plate: Quantity | None = field(default=None, metadata=spec("motor plate", "length", 0.001, 0.05, "its thickness; empty: 8 mm"))
    pulley_gap: Quantity | None = field(
        default=None, metadata=spec("plate to pulley", "length", 0.0, 0.1, "free shaft between plate and pulley; empty: 3 mm")
    )
    behind: bool = False  # of two motors one ahead of the axle and one behind it, instead of side by side
    mount: Quantity | None = field(
        default=None, metadata=spec("give of the mount", "number", 0.0, 1e-4, "m for a newton of pull; empty: a plate of 8 mm, 5e-7")
    )
    pivot: Spot | None = None  # of the swinging arm that carries the driven axle
    travel: Quantity | None = field(
        default=None, metadata=spec("travel of the axle", "length", 0.0, 0.5, "upwards, from where it stands drawn to the stop")
    )
    obstacles: tuple[Obstacle, ...] = ()
    bodies: tuple[Body, ...] = ()
    stacks: tuple[Stack, ...] = ()
    picture: Picture | None = None
    flex: Quantity | None = field(
        default=None, metadata=spec("give of the deck", "length", 0.0, 0.1, "at its middle, with the rider standing on it")
    )
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("obstacles", len(self.obstacles), MOST_OBSTACLES)
        at_most("jackshafts", len(self.jackshafts), MOST_JACKSHAFTS)
        at_most("shafts with what sits on them", len(self.stacks), MOST_STACKS)
        at_most("bodies", len(self.bodies), MOST_BODIES)

    def unplaced(self) -> Layout:
        """Without what belongs to one drive: places, loops, shafts, sizes of its pack and controllers; what the vehicle has stays."""
        sized = lambda body: replace(body, length=None, width=None, height=None, mass=None)
        bodies = tuple(sized(body) if body.kind in ("pack", "controller") else body for body in self.bodies)
        return replace(self, motor=None, jackshafts=(), stages=(), beside=None, stacks=(), bodies=bodies)
