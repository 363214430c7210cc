"""Families of belt and chain.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class ProfilePart(Part):
    """A belt or chain family: what its pitch carries.  mass_kg and price are per metre (belts: at the narrowest width)."""

    stock: ClassVar[str] = "profiles"
    one: ClassVar[str] = "Family of belt or chain"
    many: ClassVar[str] = "Families of belt and chain"
    on_shelf: ClassVar[bool] = False  # a family is not a thing
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("pitch", "pitch_mm"),)

    kind: str  # belt or chain
    pitch_mm: float = field(metadata=spec("pitch", "number", 1.0, 100.0))
    tension_n_per_mm: float | None = field(default=None, metadata=spec("working tension per mm", "number", 0.1, 500.0))
    breaking_n: float | None = field(default=None, metadata=spec("breaking load", "force", 10.0, 1e6))
    back_mm: float | None = field(
        default=None, metadata=spec("back beyond the pitch circle", "number", 0.0, 50.0, "belt back or chain plates")
    )
    line_mm: float | None = field(
        default=None, metadata=spec("pitch line", "number", 0.05, 5.0, "of a belt above the outside circle of its pulleys")
    )
    tooth_mm: float | None = field(default=None, metadata=spec("height of a tooth", "number", 0.2, 20.0))
    thick_mm: float | None = field(default=None, metadata=spec("thickness", "number", 0.5, 40.0, "of a belt in all"))
    belt_kg_m_mm: float | None = field(default=None, metadata=spec("mass by length and width", "number", 1e-5, 1.0, "kg for a m and a mm"))
    stiff_n_per_mm: float | None = field(default=None, metadata=spec("stiffness by width", "number", 100.0, 1e6, "EA of a mm of width"))
    speed_max_m_s: float | None = field(default=None, metadata=spec("highest speed", "speed", 1.0, 200.0))
    good_teeth: int | None = field(default=None, metadata=spec("good teeth", "number", 3, 80, "of a small wheel that runs quickly"))
    roller_mm: float | None = field(default=None, metadata=spec("roller", "number", 1.0, 40.0, "diameter"))
    inner_mm: float | None = field(default=None, metadata=spec("inner width", "number", 1.0, 60.0, "between the plates of a chain"))
    widths_mm: str = ""  # stock widths, separated by blanks
    least_teeth: int = field(default=9, metadata=spec("least teeth", "number", 3, 60))
