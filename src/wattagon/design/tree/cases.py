"""Who and what rides along: load cases, and named modes of the drive by place."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_CASES, MOST_CARRIED, MOST_MODES = 12, 12, 8
USUAL = "usual"  # the vehicle as it was measured: its rider, its usual load
WORST = ""  # of a goal: judged in whichever case is the worst for it


@record(frozen=True, slots=True, kw_only=True)
class Carried:
    """Something that rides along, or is pulled on wheels of its own; places are from the front axle and from the ground."""

    name: str = ""
    mass: Quantity = field(metadata=spec("mass carried", "mass", 0.0, 3000.0))
    behind_front: Quantity = field(
        metadata=spec("where its weight sits", "length", -3.0, 8.0, "behind the front axle, ahead of it below 0; of a trailer its hitch")
    )
    height: Quantity = field(metadata=spec("how high its weight sits", "length", 0.0, 4.0, "above ground; of a trailer its hitch"))
    towed: bool = False  # on wheels of its own: only a share of its weight rests on the hitch
    hitch_share: Quantity = field(
        default=Quantity(value=0.08), metadata=spec("weight on the hitch", "share", 0.0, 1.0, "5 to 10 % of a balanced trailer")
    )
    rolling: Quantity | None = field(
        default=None, metadata=spec("its own rolling resistance", "number", 0.0, 0.3, "of a trailer; empty: as the vehicle's")
    )
    drag_area: Quantity | None = field(default=None, metadata=spec("drag area that it adds", "area", 0.0, 10.0, "empty: none"))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class LoadCase:
    """One way in which the vehicle is loaded, beside the usual one."""

    id: str
    name: str = ""
    rider: bool = True
    load: bool = True  # the usual load of the vehicle
    pack: bool = True  # without it nothing drives: the vehicle as it is carried or pushed
    wheelbase: Quantity | None = field(
        default=None,
        metadata=spec("wheelbase in this case", "length", 0.2, 8.0, "where a front wheel of another piece takes over; empty: as it is"),
    )
    carried: tuple[Carried, ...] = ()
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        if self.id == USUAL:
            raise InputError("id", self.id, "another name: the usual case is the vehicle itself")
        at_most(f"carried in case {self.id}", len(self.carried), MOST_CARRIED)


@record(frozen=True, slots=True, kw_only=True)
class Mode:
    """How strong the drive may be at a place, such as on a public way or on private ground; what holds there is for the user to state."""

    id: str
    name: str = ""
    note: str = ""
    top_speed: float | None = field(default=None, metadata=spec("speed in this mode", "speed", 0.3, 60.0, "as set in the controller"))
    motor_current_a: float | None = field(default=None, metadata=spec("motor amps in this mode", "current", 1.0, 2000.0))
    pack_current_a: float | None = field(default=None, metadata=spec("pack amps in this mode", "current", 1.0, 2000.0))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
