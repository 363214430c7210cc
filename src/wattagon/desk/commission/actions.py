"""What the menus and the palette offer of commissioning."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Commission: arrows go along the way of steps. Type what was read, with any unit; several figures in one line are apart by blanks. "
    "Held, tight, failed and again have shapes of their own: disc, amber disc, wedge, half disc."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Save the commissioning sheet …", run=lambda bench: bench.ask_save(), menu="&File"),
    BenchAction(words="Save the hand-over page …", run=lambda bench: bench.ask_save(".handover.pdf"), menu="&File"),
    BenchAction(words="Firmware of the controllers …", run=lambda bench: bench.ask_firmware(), menu="&Edit"),
    BenchAction(words="Rehearse on the test stand", run=lambda bench: bench.asked.emit("controller", "test"), menu="&View"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
