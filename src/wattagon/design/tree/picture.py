"""A picture under the drawing, scaled by two points whose places were measured."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import spec
from wattagon.design.tree.ids import Extra, no_extra
from wattagon.errors import InputError
from wattagon.record import record

VIEWS = ("side", "above")


def _place(label: str) -> dict[str, object]:
    return spec(label, "length", -6.0, 6.0)


@record(frozen=True, slots=True, kw_only=True)
class Pinned:
    """A point of a picture [px from its upper left] and where that is: ahead, and up or to the left."""

    column: float = field(metadata=spec("column", "number", -1e5, 1e5))
    row: float = field(metadata=spec("row", "number", -1e5, 1e5))
    ahead: float = field(metadata=_place("ahead"))
    other: float = field(metadata=_place("up, or to the left"))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Picture:
    """A photograph by its file, from the side or above."""

    file: str
    view: str = "side"
    pins: tuple[Pinned, ...] = ()  # two scale it
    distance: float = field(default=2.0, metadata=spec("camera's distance", "length", 0.1, 100.0))
    depth: float = field(
        default=0.10, metadata=spec("nearer or further", "length", 0.0, 3.0, "how far what is traced may lie from the plane of both points")
    )
    pinned_within: float = field(default=0.001, metadata=spec("points known within", "length", 0.0, 0.2))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.view not in VIEWS:
            raise InputError("view", self.view, ", ".join(VIEWS))
        if len(self.pins) > 2:
            raise InputError("pins", len(self.pins), "two points at most")
