"""Connectors: contact resistance of a mated pair, what it mates with, its volts and cycles."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.errors import InputError
from wattagon.record import record

SHAPES = ("bullet", "pins", "blade", "lug")


@record(frozen=True, slots=True, kw_only=True)
class ConnectorPart(Part):
    """Both halves of a joint; figures of one contact pair, new."""

    stock: ClassVar[str] = "connectors"
    one: ClassVar[str] = "Connector"
    many: ClassVar[str] = "Connectors"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (
        ("shape", "shape"),
        ("contact", "contact_mohm"),
        ("volts", "volts"),
        ("cycles", "cycles"),
    )

    shape: str  # one of SHAPES
    mates: str  # what it goes into: halves with the same word fit
    contact_mohm: float = field(metadata=spec("contact resistance", "number", 0.001, 20.0, "milliohm of a mated pair, new"))
    contact_g: float = field(metadata=spec("mass of a contact", "number", 0.05, 300.0, "g"))
    to_air_mw_k: float = field(metadata=spec("body to air", "number", 0.1, 500.0, "mW/K"))
    cable_mm2: float = field(metadata=spec("usual cable", "number", 0.1, 120.0, "mm2 of copper"))
    volts: float | None = field(default=None, metadata=spec("volts", "voltage", 5.0, 2000.0))
    cycles: int | None = field(default=None, metadata=spec("mating cycles", "number", 1, 100000))
    label_a: float | None = field(default=None, metadata=spec("amps on its label", "current", 1.0, 1000.0))
    poles: int = field(default=1, metadata=spec("contacts in a body", "number", 1, 6))
    touch_ohm: float | None = field(default=None, metadata=spec("first-touch resistor", "resistance", 0.5, 200.0, "against the spark"))
    limit_c: float = field(default=90.0, metadata=spec("its body bears", "temperature", 50.0, 200.0))

    def check(self) -> None:
        if self.shape not in SHAPES:
            raise InputError("shape", self.shape, ", ".join(SHAPES))
