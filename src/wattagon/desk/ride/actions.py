"""What the menus and the palette offer of rides."""

from __future__ import annotations

from typing import Any

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Ride: press, drag or arrows go along the ride (Shift: further), space plays, Escape gives a run up.\n"
    "Course: press a leg, drag its end for length and grade; arrows choose a leg and step its grade."
)
# the runs by themselves are named here: the study that knows them loads when a ride is asked for
RUNS = (
    ("start", "Full-throttle start"),
    ("hill", "Start on the goal grade"),
    ("hold-grade", "Hold the goal grade"),
    ("full-climb", "Full throttle up the steepest grade"),
    ("hold-speed", "Hold a speed until empty"),
    ("stop-go", "Stop and go"),
    ("stop", "Emergency stop"),
)
RUNS_ON_WATER = (
    ("start", "Full throttle from rest"),
    ("there-and-back", "Out along the current and home"),
    ("hold-speed", "Hold a pace until the reserve"),
    ("stop", "Crash stop in reverse"),
)


def _run(code: str) -> Any:
    return lambda bench: bench.choose(code)


ACTIONS: tuple[BenchAction, ...] = (
    *(BenchAction(words=f"&{k + 1} {words}", run=_run(code), menu="&Ride", on="wheels") for k, (code, words) in enumerate(RUNS)),
    *(BenchAction(words=f"&{k + 1} {words}", run=_run(code), menu="&Ride", on="water") for k, (code, words) in enumerate(RUNS_ON_WATER)),
    BenchAction(words="&Play the ride", run=lambda bench: bench.play_it(), keys="Ctrl+Space", menu="&Ride", line_before=True),
    BenchAction(words="Along by &time or distance", run=lambda bench: bench.time.toggle(), menu="&Ride"),
    BenchAction(words="&Keep this ride under the next", run=lambda bench: bench.book.keep(), menu="&Ride"),
    BenchAction(words="Lay all &variants under it", run=lambda bench: bench.lay_over_all(), menu="&Ride"),
    BenchAction(words="&Only this ride", run=lambda bench: bench.book.drop_kept(), menu="&Ride"),
    BenchAction(words="Save the ride as &CSV …", run=lambda bench: bench.save_csv(), menu="&Ride"),
    BenchAction(words="&Draw courses", run=lambda bench: bench.courses.toggle(), menu="&Ride", line_before=True),
    BenchAction(words="&New course", run=lambda bench: bench.new_course(), menu="&Ride"),
    BenchAction(words="&Bring in a track or table …", run=lambda bench: bench.ask_for_course(), menu="&Ride"),
)


def why_not(design: Design) -> str:
    """It applies to every design."""
    return ""
