"""What rides along beside the drive train: pack, controllers, boxes and the small things, each a box on the drawing."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, no_extra
from wattagon.errors import InputError
from wattagon.record import record

BODIES = ("pack", "controller", "receiver", "box", "port", "disconnect", "light", "brake", "thing")
SIDES = ("front", "rear", "left", "right", "top", "bottom")
HELD = ("strap", "screws", "lid", "glue")


def _place(label: str, hint: str = "") -> dict[str, object]:
    return spec(label, "length", -6.0, 6.0, hint)


def _size(label: str, hint: str = "") -> dict[str, object]:
    return spec(label, "length", 0.002, 3.0, hint)


@record(frozen=True, slots=True, kw_only=True)
class Body:
    """A box, by its middle and its size; what is empty is proposed, from the part where there is one."""

    kind: str = "thing"
    name: str = ""
    x: Quantity | None = field(default=None, metadata=_place("ahead of the driven axle", "its middle"))
    y: Quantity | None = field(default=None, metadata=_place("left of the middle", "its middle; right of it below 0"))
    z: Quantity | None = field(default=None, metadata=_place("above the driven axle", "its middle"))
    length: Quantity | None = field(default=None, metadata=_size("length", "along the vehicle"))
    width: Quantity | None = field(default=None, metadata=_size("width", "across"))
    height: Quantity | None = field(default=None, metadata=_size("height"))
    mass: Quantity | None = field(default=None, metadata=spec("mass", "mass", 0.0, 500.0))
    plugs: str = ""  # the side on which its leads leave
    plug_room: Quantity | None = field(
        default=None, metadata=spec("room for plugs", "length", 0.0, 0.5, "plug and bend before that side; empty: 35 mm")
    )
    out: str = ""  # the side on which it comes out
    held: str = ""  # by what
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        for name, value, known in (
            ("kind", self.kind, BODIES),
            ("plugs", self.plugs, ("", *SIDES)),
            ("out", self.out, ("", *SIDES)),
            ("held", self.held, ("", *HELD)),
        ):
            if value not in known:
                raise InputError(name, value, ", ".join(one for one in known if one))
