"""What the finder offers beside its own buttons."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = "Finder: press or arrows choose a drive, Return takes it as a variant, Escape stops a search."
ACTIONS: tuple[BenchAction, ...] = ()


def why_not(design: Design) -> str:
    """It applies to every design."""
    return ""
