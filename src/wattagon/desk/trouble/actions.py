"""What the menus and the palette offer of trouble."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Trouble: choose what is seen; arrows go through the causes, the likelier the nearer. Answer the test, take an answer back. "
    "A found cause goes into the history with its cure."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Trouble: vibration or noise at one speed", run=lambda bench: bench.show_target("vibration"), menu="&View"),
    BenchAction(words="The chosen cause was it …", run=lambda bench: bench.ask_close(), menu="&Edit"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
