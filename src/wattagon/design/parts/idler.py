"""Idlers: smooth ones for a belt's back, toothed ones for its inside, sprockets for chain."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class IdlerPart(Part):
    """An idler with its bearings."""

    stock: ClassVar[str] = "idlers"
    one: ClassVar[str] = "Idler"
    many: ClassVar[str] = "Idlers"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("diameter", "diameter_mm"), ("width", "width_mm"), ("bore", "bore_mm"))

    profile: str = ""  # family of a toothed one; empty: smooth
    diameter_mm: float = field(metadata=spec("diameter", "number", 4.0, 500.0, "outside; of a sprocket its pitch circle"))
    width_mm: float = field(metadata=spec("face", "number", 1.0, 200.0))
    bore_mm: float = field(metadata=spec("bore", "number", 2.0, 60.0))
    rpm_max: float | None = field(default=None, metadata=spec("highest speed", "rpm", 1.0, 100000.0, "of its bearings"))
