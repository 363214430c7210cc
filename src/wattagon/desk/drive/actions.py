"""What the menus and the palette offer of the drive."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Map: press or drag to set the moment; arrows move speed and grade (Shift: five steps), 0 goes flat.\n"
    "Levers: arrows left and right choose, up and down step, Return types a value or opens the stock; drag a value to step it."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="F&lows beside the map", run=lambda bench: bench.show_side("flows"), keys="Ctrl+Shift+F", menu="&View"),
    BenchAction(words="&Parts beside the map", run=lambda bench: bench.show_side("parts"), keys="Ctrl+Shift+P", menu="&View"),
    BenchAction(words="Levers", run=lambda bench: bench.levers.setFocus(), keys="Ctrl+L", menu="&Go"),
    BenchAction(words="Map", run=lambda bench: bench.map.setFocus(), keys="Ctrl+M", menu="&Go"),
)


def why_not(design: Design) -> str:
    """It applies to every design."""
    return ""
