"""What the menus and the palette offer of the wiring."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = "Wiring: left and right choose a piece of the path, up and down step its part through stock; other parts stand beside."
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Control wires and colours", run=lambda bench: bench.show_target("control"), menu="&View"),
    BenchAction(words="Fuse tests", run=lambda bench: bench.show_target("fuse"), menu="&View"),
    BenchAction(words="Pre-charge, bus and box", run=lambda bench: bench.show_target("pre-charge"), menu="&View"),
    BenchAction(words="Save the schematic…", run=lambda bench: bench.ask_save("all"), menu="&File"),
    BenchAction(words="Save the cut list…", run=lambda bench: bench.ask_save("cut"), menu="&File"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
