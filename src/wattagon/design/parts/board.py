"""Protection boards, and chargers."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.errors import InputError
from wattagon.record import record

PORTS = ("common", "separate")
FITS = ("any lithium", "iron", "cobalt or nickel")


@record(frozen=True, slots=True, kw_only=True)
class BoardPart(Part):
    """A protection board: what it trips at and after how long, how it balances."""

    stock: ClassVar[str] = "boards"
    one: ClassVar[str] = "Protection board"
    many: ClassVar[str] = "Protection boards"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (
        ("cells", "cells"),
        ("lasting", "lasting_a"),
        ("charge", "charge_a"),
        ("port", "port"),
    )

    fits: str  # one of FITS
    series_low: int = field(metadata=spec("cells in series, least", "number", 1, 200))
    series_high: int = field(metadata=spec("cells in series, most", "number", 1, 200))
    lasting_a: float = field(metadata=spec("lasting", "current", 1.0, 1000.0))
    first_a: float | None = field(default=None, metadata=spec("first trip", "current", 1.0, 4000.0))
    first_s: float | None = field(default=None, metadata=spec("first trip's delay", "time", 0.001, 120.0))
    second_a: float | None = field(default=None, metadata=spec("second trip", "current", 1.0, 8000.0))
    second_s: float | None = field(default=None, metadata=spec("second trip's delay", "time", 0.0001, 10.0))
    short_a: float | None = field(default=None, metadata=spec("short trip", "current", 1.0, 20000.0))
    charge_a: float | None = field(default=None, metadata=spec("charge trip", "current", 0.5, 1000.0))
    balance_ma: float | None = field(default=None, metadata=spec("balances with", "number", 1.0, 5000.0, "mA"))
    on_mohm: float = field(default=1.0, metadata=spec("its resistance", "number", 0.05, 50.0, "milliohm"))
    port: str = "common"

    @property
    def cells(self) -> str:
        """How many in series it watches."""
        return f"{self.series_low} to {self.series_high}" if self.series_low != self.series_high else str(self.series_low)

    def check(self) -> None:
        for name, value, known in (("port", self.port, PORTS), ("fits", self.fits, FITS)):
            if value not in known:
                raise InputError(name, value, ", ".join(known))
        if self.series_high < self.series_low:
            raise InputError("series_high", self.series_high, f"{self.series_low} or more")


@record(frozen=True, slots=True, kw_only=True)
class ChargerPart(Part):
    """A charger: volts it ends at, amps, what it makes of the mains."""

    stock: ClassVar[str] = "chargers"
    one: ClassVar[str] = "Charger"
    many: ClassVar[str] = "Chargers"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("volts", "volts"), ("amps", "amps"), ("efficiency", "efficiency"))

    volts: float = field(metadata=spec("ends at", "voltage", 3.0, 500.0))
    volts_low: float | None = field(default=None, metadata=spec("can be set down to", "voltage", 1.0, 500.0))
    amps: float = field(metadata=spec("amps", "current", 0.1, 200.0))
    efficiency: float = field(default=0.88, metadata=spec("efficiency", "share", 0.4, 1.0))
    balances: bool = False  # over the balance leads
    most_w: float | None = field(default=None, metadata=spec("power", "power", 5.0, 20000.0))


RESISTORS = ("brake", "pre-charge")


@record(frozen=True, slots=True, kw_only=True)
class ResistorPart(Part):
    """Resistors for brakes and pre-charge."""

    stock: ClassVar[str] = "resistors"
    one: ClassVar[str] = "Resistor"
    many: ClassVar[str] = "Resistors"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (("for", "use"), ("resistance", "ohm"), ("power", "watts"))

    use: str  # one of RESISTORS
    ohm: float = field(metadata=spec("resistance", "resistance", 0.005, 10000.0))
    watts: float = field(metadata=spec("power", "power", 0.1, 20000.0))
    heat_j_kgk: float = field(default=460.0, metadata=spec("heat capacity", "number", 100.0, 2000.0, "J/kg K"))
    to_air_k_w: float = field(default=2.0, metadata=spec("to air", "thermal_resistance", 0.01, 200.0))
    limit_c: float = field(default=200.0, metadata=spec("bears", "temperature", 60.0, 600.0))
    volts: float | None = field(default=None, metadata=spec("working volts", "voltage", 5.0, 2000.0))

    def check(self) -> None:
        if self.use not in RESISTORS:
            raise InputError("use", self.use, ", ".join(RESISTORS))
