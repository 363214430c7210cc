"""Enamelled wire on the reel."""

from __future__ import annotations

import math
from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.physics.winding.coil import COPPER_KG_M3
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class WirePart(Part):
    """A reel of round copper; its mass is that of the wire on it."""

    stock: ClassVar[str] = "wires"
    one: ClassVar[str] = "Winding wire"
    many: ClassVar[str] = "Winding wires"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("bare", "bare_mm"), ("over all", "over_mm"), ("class", "limit_c"))

    bare_mm: float = field(metadata=spec("bare diameter", "number", 0.05, 5.0, "mm"))
    over_mm: float = field(metadata=spec("diameter over the enamel", "number", 0.06, 5.5, "mm"))
    limit_c: float = field(default=180.0, metadata=spec("enamel's class", "temperature", 105.0, 240.0, "20 C less for a long life"))

    @property
    def length_m(self) -> float:
        """Wire on the reel, enamel left out."""
        return self.mass_kg / (math.pi / 4.0 * (1e-3 * self.bare_mm) ** 2 * COPPER_KG_M3)
