"""What the menus and the palette offer of the strength."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Strength: arrows choose an element of the load path; below stand its working, how it is made, other ways to make it, and the mass "
    "that proves it."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(
        words="Weakest element", run=lambda bench: bench.path.choose(bench.found.first.code) if bench.found else None, menu="&View"
    ),
    BenchAction(words="Proof of the element in hand", run=lambda bench: bench.tabs.setCurrentIndex(2), menu="&View"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
