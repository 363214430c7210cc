"""Propellers of boats."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.errors import InputError
from wattagon.record import record

MAKES = ("machined", "moulded", "cast", "printed_filled", "printed")


@record(frozen=True, slots=True, kw_only=True)
class PropellerPart(Part):
    """A propeller: its size, outline and how it was made, which sets its roughness."""

    stock: ClassVar[str] = "propellers"
    one: ClassVar[str] = "Propeller"
    many: ClassVar[str] = "Propellers"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("diameter", "diameter_m"), ("pitch", "pitch_m"), ("blades", "blades"))

    diameter_m: float = field(metadata=spec("diameter", "length", 0.03, 1.0))
    pitch_m: float = field(metadata=spec("pitch", "length", 0.01, 1.5))
    blades: int = field(metadata=spec("blades", "number", 2, 5))
    area_ratio: float = field(metadata=spec("blade area ratio", "number", 0.15, 0.8))
    hub_ratio: float = field(default=0.2, metadata=spec("hub over diameter", "number", 0.1, 0.45))
    make: str = "moulded"
    pin_mm: float | None = field(default=None, metadata=spec("shear pin", "number", 1.0, 20.0, "diameter; empty: keyed or screwed"))

    def check(self) -> None:
        if self.make not in MAKES:
            raise InputError("make", self.make, ", ".join(MAKES))
        if not 0.4 <= self.pitch_m / self.diameter_m <= 1.4:
            raise InputError("pitch_m", f"{self.pitch_m:g} m", "0.4 to 1.4 diameters, what the propeller's equations hold for")
