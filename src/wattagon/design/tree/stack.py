"""What sits on a shaft side by side, from its middle or its motor outwards, with widths."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_ON_SHAFT = 24
STACK_KINDS = ("mount", "bearing", "spacer", "pulley", "sprocket", "cog", "hub", "wheel", "disc", "washer", "nut")


def _length(label: str, high: float, hint: str = "") -> dict[str, object]:
    return spec(label, "length", 0.0, high, hint)


@record(frozen=True, slots=True, kw_only=True)
class OnShaft:
    """One thing on a shaft."""

    kind: str = "spacer"
    name: str = ""
    width: Quantity | None = field(default=None, metadata=_length("width", 0.6, "along the shaft; empty: as is usual for its kind"))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.kind not in STACK_KINDS:
            raise InputError("kind", self.kind, ", ".join(STACK_KINDS))


@record(frozen=True, slots=True, kw_only=True)
class Stack:
    """One side of a shaft: what sits on it in order, outwards; lengths that are empty are not checked against."""

    shaft: str = "axle"  # axle, motor, jackshaft, jackshaft 1, ...
    items: tuple[OnShaft, ...] = ()
    length: Quantity | None = field(
        default=None, metadata=_length("length", 2.0, "free shaft from where the first thing begins to its end")
    )
    thread: Quantity | None = field(default=None, metadata=_length("thread", 0.5, "how far the thread reaches in from the end"))
    between: Quantity | None = field(
        default=None, metadata=_length("between the dropouts", 2.0, "what all but washers and nuts have to fill, where a frame says so")
    )
    diameter: Quantity | None = field(default=None, metadata=spec("diameter", "length", 0.001, 0.2))
    bearings: Quantity | None = field(default=None, metadata=_length("between the bearings", 3.0, "middle to middle"))
    beyond: Quantity | None = field(
        default=None,
        metadata=_length("beyond the bearing", 1.0, "bearing's middle to the pulley's; 0 between the bearings"),
    )
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("things on a shaft", len(self.items), MOST_ON_SHAFT)
