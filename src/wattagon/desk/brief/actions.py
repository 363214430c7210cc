"""What the brief offers beside its own fields."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = "Brief: press a measure on the drawing or in the list, type it with any unit, say how it is known. Goals add below."
ACTIONS: tuple[BenchAction, ...] = ()


def why_not(design: Design) -> str:
    """It applies to every design."""
    return ""
