"""Pulleys and sprockets.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class ToothedPart(Part):
    """A pulley or sprocket."""

    stock: ClassVar[str] = "toothed"
    one: ClassVar[str] = "Pulley or sprocket"
    many: ClassVar[str] = "Pulleys and sprockets"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("family", "profile"), ("teeth", "teeth"), ("for", "role"))

    profile: str
    teeth: int = field(metadata=spec("teeth", "number", 3, 400))
    role: str  # driver: bored for a shaft; driven: bolts to a wheel or hub; both
    bore_mm: float | None = field(default=None, metadata=spec("bore", "number", 1.0, 200.0))
