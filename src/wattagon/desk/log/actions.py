"""What the menus and the palette offer of logs."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Log: drop a table or a track on the window. Press, drag or arrows ride along it; Shift and drag chooses what is learnt from, "
    "wheel or + and − zoom, 0 shows all, Alt and drag moves a track in time."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="&Bring in a log …", run=lambda bench: bench.ask_for_log(), keys="Ctrl+Shift+L", menu="&Log"),
    BenchAction(words="Runs by the &stopwatch …", run=lambda bench: bench.ask_for_runs(), menu="&Log"),
    BenchAction(words="A &charge from the wall …", run=lambda bench: bench.ask_for_charge(), menu="&Log"),
    BenchAction(words="&Learn from this log", run=lambda bench: bench.book.learn(), keys="Ctrl+Shift+T", menu="&Log", line_before=True),
    BenchAction(words="&Take what is ticked", run=lambda bench: bench.teach.take_it(), menu="&Log"),
    BenchAction(words="Learn from &all of it", run=lambda bench: bench.learn_from_all(), menu="&Log"),
    BenchAction(words="Load &pack and wiring by this log", run=lambda bench: bench.load_by_log(True), menu="&Log", line_before=True),
    BenchAction(words="Load them by simulated &rides", run=lambda bench: bench.load_by_log(False), menu="&Log"),
    BenchAction(words="&Versions", run=lambda bench: bench.tabs.setCurrentWidget(bench.versions), menu="&Log"),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
