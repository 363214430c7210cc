"""One step of the work as the design asks for it, and the tools that steps need."""

from __future__ import annotations

from enum import StrEnum
from typing import NamedTuple

from wattagon.design.tree import Workshop
from wattagon.record import record


class Does(StrEnum):
    """Who is busy during a step."""

    HAND = "hand"  # somebody, the whole time
    PRINTER = "printer"  # a printer, hours of which nobody looks
    WAIT = "wait"  # nobody: glue, paint, cells at rest
    PLACE = "place"  # a place that does it for money


class Tool(NamedTuple):
    """A tool of the workshop: what it is called, another way without it, how much longer that takes."""

    words: str
    other: str  # empty: there is none
    longer: float
    asks: tuple[str, ...]  # words that a place which does it has in what it does


TOOLS: dict[str, Tool] = {
    "printer": Tool("printer", "", 1.0, ("print",)),
    "mill": Tool("mill", "saw and file to the template at 1:1, drilled through it", 4.0, ("mill", "cnc", "laser", "water jet", "plate")),
    "steel": Tool("mill for steel", "a bought blank, drilled and filed to the template", 3.0, ("laser", "steel", "mill")),
    "lathe": Tool("lathe", "a bought adapter or a turned part from a place", 1.0, ("lathe", "turn")),
    "drill_press": Tool("drill press", "a hand drill with a guide block, undersize first", 1.6, ("drill",)),
    "welder": Tool("welder", "", 1.0, ("weld",)),
    "crimper": Tool("crimper", "soldered ends, held so that they do not bend where the solder stops", 1.5, ("crimp",)),
    "spot_welder": Tool("spot welder", "", 1.0, ("spot", "weld cells", "pack")),
    "soldering": Tool("soldering iron", "", 1.0, ("solder",)),
    "press": Tool("vice or press", "threaded rod with two washers", 1.3, ()),
}
HAVE_ALWAYS = ("press",)  # a vice is not asked for


def has(workshop: Workshop, tool: str) -> bool | None:
    """Whether it is there; None where nobody told of the workshop."""
    if not tool or tool in HAVE_ALWAYS:
        return True
    if not workshop.stated:
        return None
    if tool == "printer":
        return workshop.printer is not None
    if tool == "mill":
        return workshop.mill is not None
    if tool == "steel":
        return workshop.mill is not None and workshop.mill.metal
    if tool == "lathe":
        return workshop.lathe is not None
    return bool(getattr(workshop, tool))


@record(frozen=True, slots=True, kw_only=True)
class Step:
    """One step; hours are at least, most likely, at most."""

    id: str
    title: str
    phase: str
    hours: tuple[float, float, float]
    after: tuple[str, ...] = ()
    does: Does = Does.HAND
    tool: str = ""
    parts: tuple[str, ...] = ()  # rows that must be here
    measures: tuple[str, ...] = ()  # paths that must be measured
    proofs: tuple[str, ...] = ()  # elements of strength that must have held
    commission: tuple[str, ...] = ()  # steps of commissioning that are done in it
    how: str = ""
    caution: str = ""
    bench: str = ""  # that shows it
    family: str = ""  # whose reworks teach its time

    @property
    def mean(self) -> float:
        """(a + 4 m + b) / 6 [h]."""
        low, likely, high = self.hours
        return (low + 4.0 * likely + high) / 6.0


PHASES: tuple[tuple[str, str], ...] = (
    ("out", "Take out"),
    ("measure", "Measure"),
    ("print", "Print"),
    ("cut", "Cut and drill"),
    ("wind", "Wind"),
    ("mount", "Mount"),
    ("pack", "Pack"),
    ("wire", "Wire"),
    ("set", "Set"),
    ("proof", "Prove"),
    ("commission", "Commission"),
    ("own", "Your own"),
)
