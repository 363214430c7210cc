"""What the menus and the palette offer of the pack."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Pack: arrows step cells in series and parallel; Page up and down move the upper end of the window, Home and End the lower. "
    "Bricks are dragged onto each other."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Keep a cell check", run=lambda bench: bench.show_target("cell checks"), menu="&View"),
    BenchAction(words="Charging", run=lambda bench: bench.show_target("charging"), menu="&View"),
    BenchAction(words="With or without a protection board", run=lambda bench: bench.show_target("two"), menu="&View"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
