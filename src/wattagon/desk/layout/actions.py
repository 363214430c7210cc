"""What the menus and the palette offer of the layout."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Layout: drag motor, shafts and idlers, pull an idler out of a span; the wheel zooms, the ground pans, double click or 0 fits.\n"
    "Arrows move the shaft in hand (Shift: further), N the next shaft, page keys its teeth (Shift: the driven ones), I an idler, "
    "Delete takes it out, T the tape."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Whole drive in view", run=lambda bench: bench.drawing.fit(), menu="&View", on="wheels"),
    BenchAction(words="Place the drive anew", run=lambda bench: bench.propose(), menu="&Edit", on="wheels"),
    BenchAction(words="Tape measure", run=lambda bench: bench.drawing.tape(True), menu="&View", on="wheels"),
    BenchAction(words="Cutting sheets", run=lambda bench: bench.show_side("sheets"), menu="&View", on="wheels"),
)


def why_not(design: Design) -> str:
    """Boats stand in their brief."""
    return "A boat's shaft and propeller are drawn in its brief." if design.vehicle.kind.floats else ""
