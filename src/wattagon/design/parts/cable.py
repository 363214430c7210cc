"""Cables: copper that is really there, outside diameter, resistance; mass and price of a metre."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.physics.wiring.copper import Cable
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class CablePart(Part):
    """A single lead by the metre."""

    stock: ClassVar[str] = "cables"
    one: ClassVar[str] = "Cable"
    many: ClassVar[str] = "Cables"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("copper", "area_mm2"), ("outside", "outer_mm"), ("resistance", "ohm_km"))

    area_mm2: float = field(metadata=spec("copper", "number", 0.05, 300.0, "mm2 that is really there"))
    outer_mm: float = field(metadata=spec("outside diameter", "number", 0.5, 60.0, "mm"))
    ohm_km: float = field(metadata=spec("resistance", "number", 0.02, 400.0, "ohm of a kilometre at 20 C"))
    limit_c: float = field(default=180.0, metadata=spec("its insulation bears", "temperature", 60.0, 260.0))

    @property
    def cable(self) -> Cable:
        """As the equations take it."""
        return Cable(area_m2=1e-6 * self.area_mm2, outer_m=1e-3 * self.outer_mm, ohm_m=1e-3 * self.ohm_km)
