"""A vehicle that can be bought as it is, by the figures that its seller states: what a build is weighed against."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import spec
from wattagon.design.tree.ids import Extra, no_extra
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class ReadyMade:
    """All of it as somebody states it; what is not told is not compared."""

    name: str = "ready-made"
    price: float | None = field(default=None, metadata=spec("price", "money", 0.0, 1e6))
    mass: float | None = field(default=None, metadata=spec("mass", "mass", 0.1, 5000.0, "of the whole vehicle, ready to go"))
    unsprung: float | None = field(default=None, metadata=spec("mass on the driven axle", "mass", 0.0, 500.0))
    top_speed: float | None = field(default=None, metadata=spec("top speed", "speed", 0.1, 60.0))
    grade: float | None = field(default=None, metadata=spec("starts on", "grade", 0.0, 1.0))
    range: float | None = field(default=None, metadata=spec("range", "distance", 100.0, 2e6))
    energy: float | None = field(default=None, metadata=spec("energy of its pack", "energy", 1.0, 1e6))
    upkeep: float | None = field(default=None, metadata=spec("upkeep in 1000 km", "money", 0.0, 1e5))
    hours: float | None = field(default=None, metadata=spec("hours until it rolls", "time", 0.0, 3.6e6))
    tools: str = ""
    wet: str = ""  # what is hard in the wet
    note: str = ""
    extra: Extra = field(default_factory=no_extra)
