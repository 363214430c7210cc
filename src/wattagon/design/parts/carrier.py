"""What carries a propeller: legs with their bevel gear, tubes with their shaft, long tails."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.errors import InputError
from wattagon.record import record

CARRIERS = ("leg", "tube", "tail")


@record(frozen=True, slots=True, kw_only=True)
class CarrierPart(Part):
    """A leg of a converted outboard, a tube with its shaft, or a long tail."""

    stock: ClassVar[str] = "carriers"
    one: ClassVar[str] = "Leg or shaft kit"
    many: ClassVar[str] = "Legs and shaft kits"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (
        ("kind", "kind"),
        ("length", "length_m"),
        ("shaft", "shaft_m"),
        ("between bearings", "span_m"),
        ("gear", "driver_teeth"),
        ("to", "driven_teeth"),
        ("gear bears", "gear_nm"),
    )

    kind: str
    length_m: float = field(metadata=spec("length", "length", 0.1, 6.0, "of a leg from clamp to propeller, else of the shaft"))
    shaft_m: float = field(metadata=spec("shaft", "length", 0.003, 0.1, "the propeller's, its diameter"))
    span_m: float = field(metadata=spec("between bearings", "length", 0.02, 6.0, "the longest gap"))
    thrust_n: float | None = field(default=None, metadata=spec("thrust bearing", "force", 10.0, 1e6, "static rating C0"))
    seal_nm: float | None = field(default=None, metadata=spec("drag of the seals", "torque", 0.0, 5.0))
    driver_teeth: int = field(default=0, metadata=spec("driver teeth", "number", 0, 200, "of its bevel gear; 0 without one"))
    driven_teeth: int = field(default=0, metadata=spec("driven teeth", "number", 0, 200))
    efficiency: float | None = field(default=None, metadata=spec("efficiency of the gear", "share", 0.5, 1.0))
    gear_nm: float | None = field(default=None, metadata=spec("torque that the gear bears", "torque", 0.5, 1e4, "at the propeller"))
    made_for: float = field(default=0.0, metadata=spec("made for a transom of", "angle", 0.0, 0.6, "how far it leans aft"))
    pump: bool = False  # a water pump of its own, turned by its shaft

    def check(self) -> None:
        if self.kind not in CARRIERS:
            raise InputError("kind", self.kind, ", ".join(CARRIERS))
        if (self.driver_teeth > 0) != (self.driven_teeth > 0):
            raise InputError("driven_teeth", self.driven_teeth, "teeth of both wheels of the gear, or of none")
