"""What of a pack only its maker knows: its bricks, its school, its window, how it is charged, and the checks of its cells."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field

from wattagon.design.parts import BoardPart
from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.history import check_day
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_BRICKS, MOST_CHECKS, MOST_CELLS, MOST_LOADS = 48, 1000, 200, 60
JOINED = ("strings", "groups")  # bricks of one number in series, numbers in parallel; or the other way round
SCHOOLS = ("", "board", "none")  # empty: nobody told
METALS = ("nickel", "plated steel", "copper")


@record(frozen=True, slots=True, kw_only=True)
class BrickChoice:
    """One ready pack or block of cells of one's own in a pack of several."""

    name: str = ""
    part: str = ""  # of stock; empty: the pack's own cell
    place: int = field(default=1, metadata=spec("string or group", "number", 1, 24))
    series: int = field(default=1, metadata=spec("cells in series", "S", 1, 200))
    parallel: int = field(default=1, metadata=spec("strings in it", "P", 1, 200))
    capacity: Quantity | None = field(
        default=None, metadata=spec("capacity", "capacity", 0.05, 5000.0, "of the whole brick; empty: its label")
    )
    resistance: Quantity | None = field(
        default=None, metadata=spec("resistance", "resistance", 1e-5, 10.0, "of the whole brick; empty: by its label")
    )
    rest: Quantity | None = field(default=None, metadata=spec("rests at", "voltage", 0.5, 500.0, "when it is joined; empty: full"))
    lead: Quantity | None = field(default=None, metadata=spec("its own leads and fuse", "resistance", 0.0, 1.0))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class CellCheck:
    """Volts of every group of cells, read at rest on a day."""

    date: str
    volts: tuple[float, ...] = ()
    temperature: float | None = field(default=None, metadata=spec("of the pack", "temperature", -40.0, 80.0))
    full: bool = False  # at the top of charge, where iron cells can be told apart
    note: str = ""
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_day(self.date, "date of a cell check")
        at_most("cell volts", len(self.volts), MOST_CELLS)
        for k, volts in enumerate(self.volts):
            if not 0.0 <= volts <= 5.0:
                raise InputError(f"volts of group {k + 1}", f"{volts:g} V", "0 to 5 V")


@record(frozen=True, slots=True, kw_only=True)
class LoadRow:
    """Volts under a load, for the resistance."""

    amps: float = field(metadata=spec("amps", "current", 0.0, 5000.0))
    volts: float = field(metadata=spec("volts", "voltage", 0.1, 1000.0))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Charging:
    """How it is charged."""

    charger: str = ""  # of stock
    volts: Quantity | None = field(default=None, metadata=spec("charged to", "voltage", 1.0, 1000.0, "of the whole pack; empty: full"))
    amps: Quantity | None = field(default=None, metadata=spec("with", "current", 0.05, 500.0, "empty: what the charger gives"))
    together: bool = True  # bricks as one pack; else each by itself with the charger
    by_balance_leads: bool = False  # and not through the main leads
    lead_a: Quantity | None = field(default=None, metadata=spec("balance leads bear", "current", 0.1, 30.0, "empty: 3 A, as is usual"))
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Links:
    """What joins the cells."""

    metal: str = "nickel"
    width: float = field(default=0.008, metadata=spec("width", "length", 0.001, 0.1))
    thickness: float = field(default=0.00015, metadata=spec("thickness", "length", 0.00005, 0.01))
    layers: int = field(default=1, metadata=spec("layers", "number", 1, 10))
    beside: int | None = field(
        default=None, metadata=spec("strips side by side", "number", 1, 200, "between two groups; empty: one a cell")
    )
    wrapped: bool = True
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.metal not in METALS:
            raise InputError("metal", self.metal, ", ".join(METALS))


@record(frozen=True, slots=True, kw_only=True)
class Battery:
    """Of one variant."""

    joined: str = "strings"
    bricks: tuple[BrickChoice, ...] = ()
    school: str = ""
    board: str = ""  # of stock
    board_overrides: Mapping[str, Quantity] = field(default_factory=dict, metadata={"part": BoardPart})
    window_top: float | None = field(default=None, metadata=spec("charged to", "share", 0.3, 1.0, "empty: 95 %"))
    window_bottom: float | None = field(default=None, metadata=spec("used down to", "share", 0.0, 0.7, "empty: 15 %"))
    charging: Charging | None = None
    links: Links | None = None
    loads: tuple[LoadRow, ...] = ()  # by which its resistance was measured
    checks: tuple[CellCheck, ...] = ()
    check_days: int | None = field(default=None, metadata=spec("check the cells every", "days", 1, 3660))
    cycles_a_year: float | None = field(default=None, metadata=spec("full charges a year", "number", 0.0, 2000.0, "empty: 60"))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        for name, value, known in (("joined", self.joined, JOINED), ("school", self.school, SCHOOLS)):
            if value not in known:
                raise InputError(name, value, ", ".join(word or "empty" for word in known))
        at_most("bricks", len(self.bricks), MOST_BRICKS)
        at_most("cell checks", len(self.checks), MOST_CHECKS)
        at_most("loads", len(self.loads), MOST_LOADS)
        top, bottom = self.window
        if top - bottom < 0.05:
            raise InputError("window_top", f"{top:.0%} with {bottom:.0%} below", "5 % or more above the lower end")

    @property
    def window(self) -> tuple[float, float]:
        """(top, bottom) of the charge that is used."""
        top = WINDOW[0] if self.window_top is None else self.window_top
        return top, WINDOW[1] if self.window_bottom is None else self.window_bottom


WINDOW = (0.95, 0.15)  # of charge; the usual conservative one
