"""Contactors with their coils."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class ContactorPart(Part):
    """A contactor: it carries, it does not switch."""

    stock: ClassVar[str] = "contactors"
    one: ClassVar[str] = "Contactor"
    many: ClassVar[str] = "Contactors"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("lasting", "rating_a"), ("volts", "volts"), ("coil", "coil_v"))

    rating_a: float = field(metadata=spec("lasting", "current", 1.0, 2000.0))
    short_a: float | None = field(default=None, metadata=spec("for ten seconds", "current", 1.0, 10000.0))
    volts: float | None = field(default=None, metadata=spec("direct volts", "voltage", 5.0, 2000.0))
    coil_v: float = field(metadata=spec("coil", "voltage", 3.0, 120.0))
    coil_ohm: float = field(metadata=spec("coil's resistance", "resistance", 1.0, 5000.0))
    hold_duty: float = field(default=1.0, metadata=spec("held with", "share", 0.1, 1.0, "of its volts, by an economiser"))
    contact_mohm: float = field(default=0.3, metadata=spec("contact resistance", "number", 0.01, 20.0, "milliohm"))
    one_way: bool = False  # breaks full current one way only
    breaks: int = field(default=50, metadata=spec("times it may break its rating", "number", 1, 100000))
