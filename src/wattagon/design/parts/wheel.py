"""Wheels with their tyres.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class WheelPart(Part):
    """A wheel with its tyre."""

    stock: ClassVar[str] = "wheels"
    one: ClassVar[str] = "Wheel"
    many: ClassVar[str] = "Wheels"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("diameter", "diameter_m"), ("inertia", "inertia_kg_m2"))

    family: str  # board, board_air, scooter, bike, kart, utility
    diameter_m: float = field(metadata=spec("tyre diameter", "length", 0.03, 2.0))
    rolling_share: float = field(metadata=spec("loaded radius", "share", 0.8, 1.0))
    inertia_kg_m2: float = field(metadata=spec("inertia of one wheel", "inertia", 0.0, 5.0))
