"""What the menus and the palette offer of the controller."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Controller: up and down choose an ampere axis, left and right move its setting (Shift ten at a time); it stops at the first bound and "
    "says whose. The curve's two handles are dragged; G shows another gesture of the hand."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Save the settings sheet …", run=lambda bench: bench.ask_save(), menu="&File"),
    BenchAction(words="Compare with a sheet that was read back …", run=lambda bench: bench.ask_compare(), menu="&File"),
    BenchAction(words="Throttle: readings, curve, ramps", run=lambda bench: bench.show_target("throttle"), menu="&View"),
    BenchAction(words="Test stand: rehearse on it", run=lambda bench: bench.show_target("test"), menu="&View"),
    BenchAction(words="What it does when something fails", run=lambda bench: bench.show_target("when"), menu="&View"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
