"""What the maker can make: machines, hours, and places that do jobs for money."""

from __future__ import annotations

from dataclasses import field
from enum import StrEnum

from wattagon.design.quantity import spec
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra
from wattagon.record import record

MOST_PLACES = 20


class PrintMaterial(StrEnum):
    PLA = "pla"
    PETG = "petg"
    ABS = "abs"
    ASA = "asa"
    NYLON = "nylon"
    CARBON_NYLON = "carbon_nylon"
    TPU = "tpu"


@record(frozen=True, slots=True, kw_only=True)
class Printer:
    """A printer for plastic parts."""

    bed_x: float = field(default=0.22, metadata=spec("bed, across", "length", 0.05, 2.0))
    bed_y: float = field(default=0.22, metadata=spec("bed, deep", "length", 0.05, 2.0))
    height: float = field(default=0.25, metadata=spec("height", "length", 0.05, 2.0))
    materials: tuple[PrintMaterial, ...] = (PrintMaterial.PLA, PrintMaterial.PETG)
    loose: float | None = field(
        default=None, metadata=spec("clearance of tooth flanks", "length", 0.0, 0.0006, "as a fit coupon told; empty: 0.1 mm")
    )
    holes_by: float | None = field(
        default=None, metadata=spec("bores come out small by", "length", -0.001, 0.002, "as a fit coupon told; empty: 0.2 mm")
    )
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Mill:
    """A mill or router for sheet and plate."""

    field_x: float = field(default=0.30, metadata=spec("field, across", "length", 0.02, 4.0))
    field_y: float = field(default=0.20, metadata=spec("field, deep", "length", 0.02, 4.0))
    cutter: float = field(default=0.003, metadata=spec("smallest cutter", "length", 0.0002, 0.05))
    metal: bool = True  # aluminium and steel, not wood and plastic alone
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Lathe:
    """A lathe."""

    swing: float = field(default=0.18, metadata=spec("largest diameter", "length", 0.01, 2.0))
    between: float = field(default=0.30, metadata=spec("between centres", "length", 0.02, 5.0))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class JobPlace:
    """A place that does jobs for money."""

    id: str
    name: str = ""
    does: str = ""  # in a few words, such as "lasers steel to 6 mm"
    days: int | None = field(default=None, metadata=spec("takes", "number", 0, 365, "days"))
    price: float | None = field(default=None, metadata=spec("a small job costs", "money", 0.0, 1e6))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)


@record(frozen=True, slots=True, kw_only=True)
class Workshop:
    """Machines that are there; what is empty is not.  `stated` tells an empty workshop from one that nobody told of."""

    stated: bool = False
    printer: Printer | None = None
    mill: Mill | None = None
    lathe: Lathe | None = None
    drill_press: bool = False
    welder: bool = False
    crimper: bool = False
    spot_welder: bool = False
    soldering: bool = False
    hours_a_week: float | None = field(default=None, metadata=spec("hours a week", "number", 0.0, 168.0))
    places: tuple[JobPlace, ...] = ()
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("places", len(self.places), MOST_PLACES)
