"""Belts of fixed length and chain by the link.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class LoopPart(Part):
    """A belt of fixed length, or chain by the link."""

    stock: ClassVar[str] = "loops"
    one: ClassVar[str] = "Belt or chain"
    many: ClassVar[str] = "Belts and chains"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("family", "profile"), ("teeth or links", "teeth"))

    profile: str
    teeth: int = field(metadata=spec("teeth or links", "number", 1, 5000))
    width_mm: float | None = field(default=None, metadata=spec("width", "number", 1.0, 200.0))
