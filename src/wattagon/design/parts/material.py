"""What parts are made of."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.errors import InputError
from wattagon.record import record

CLASSES = ("metal", "print", "wood", "moulded")


@record(frozen=True, slots=True, kw_only=True)
class MaterialPart(Part):
    """A material: mass and price of a kilogram stand for nothing but themselves."""

    stock: ClassVar[str] = "materials"
    one: ClassVar[str] = "Material"
    many: ClassVar[str] = "Materials"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("kind", "kind"), ("yields", "yield_mpa"), ("breaks", "strength_mpa"))
    on_shelf: ClassVar[bool] = False

    kind: str  # one of CLASSES
    yield_mpa: float = field(metadata=spec("yields or breaks along its layers", "number", 0.1, 4000.0, "MPa"))
    strength_mpa: float = field(metadata=spec("tensile strength", "number", 0.1, 4000.0, "MPa"))
    across_mpa: float | None = field(default=None, metadata=spec("across its layers", "number", 0.1, 4000.0, "MPa"))
    modulus_gpa: float = field(metadata=spec("modulus", "number", 0.001, 1000.0, "GPa"))
    density_kg_m3: float = field(metadata=spec("density", "number", 50.0, 25000.0, "kg/m3"))
    soft_c: float | None = field(default=None, metadata=spec("soft at", "temperature", 30.0, 400.0, "of prints"))
    sustained: float = field(default=1.0, metadata=spec("share that lasts under load for hours", "share", 0.01, 1.0))
    spread: float = field(default=0.1, metadata=spec("spread", "share", 0.0, 0.9, "how far one piece may be off"))

    def check(self) -> None:
        if self.kind not in CLASSES:
            raise InputError("kind", self.kind, ", ".join(CLASSES))
