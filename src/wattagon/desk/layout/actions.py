"""What the menus and the palette offer of the layout."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Layout: drag motor, shafts and idlers, pull an idler out of a span; the wheel zooms, the ground pans, double click or 0 fits.\n"
    "Arrows move the shaft in hand (Shift: further), N the next shaft, page keys its teeth (Shift: the driven ones), I an idler, "
    "Delete takes it out, T the tape. B takes the next thing that rides along in hand: arrows move it ahead and up, with Ctrl ahead and "
    "across; W shows the whole vehicle."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Whole drive in view", run=lambda bench: bench.drawing.show_whole(False), menu="&View"),
    BenchAction(words="Place the drive anew", run=lambda bench: bench.propose(), menu="&Edit"),
    BenchAction(words="Whole vehicle in view", run=lambda bench: bench.drawing.show_whole(True), menu="&View"),
    BenchAction(words="What rides along", run=lambda bench: bench.show_side("aboard"), menu="&View"),
    BenchAction(words="What sits on the shafts", run=lambda bench: bench.show_side("shafts"), menu="&View"),
    BenchAction(words="Tape measure", run=lambda bench: bench.drawing.tape(True), menu="&View"),
    BenchAction(words="Cutting sheets", run=lambda bench: bench.show_side("sheets"), menu="&View"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
