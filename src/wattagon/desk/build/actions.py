"""What the menus and the palette offer of parts and steps."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Parts and steps: arrows choose a step, Space ticks it, a double click too; the wheel scrolls. On a part Return opens its states. "
    "A part whose measure is missing says so: measure it, or give a reason that stays."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Save the parts list or the steps …", run=lambda bench: bench.ask_save(), menu="&File"),
    BenchAction(words="Steps: the calendar", run=lambda bench: bench.show_target("steps"), menu="&View"),
    BenchAction(words="Parts: what has come, what it costs", run=lambda bench: bench.show_target("parts"), menu="&View"),
    BenchAction(words="Water and dirt, place by place", run=lambda bench: bench.show_target("wet"), menu="&View"),
    BenchAction(words="A step of your own …", run=lambda bench: bench.step_tab.ask_own(), menu="&Edit"),
    BenchAction(words="Split the chosen step …", run=lambda bench: bench.step_tab.ask_split(), menu="&Edit"),
    BenchAction(words="The chosen step failed …", run=lambda bench: bench.step_tab.ask_rework(), menu="&Edit"),
    BenchAction(words="All steps that were left out again", run=lambda bench: bench.step_tab.all_back(), menu="&Edit"),
    BenchAction(words="A part of your own …", run=lambda bench: bench.parts_tab.ask_own(), menu="&Edit"),
    BenchAction(words="It is converted: an engine is taken out", run=lambda bench: bench.takes_out("engine"), menu="&Edit"),
    BenchAction(words="It is converted: an old drive is taken out", run=lambda bench: bench.takes_out("drive"), menu="&Edit"),
    BenchAction(words="Nothing is taken out first", run=lambda bench: bench.takes_out("nothing"), menu="&Edit"),
    BenchAction(
        words="The balance was measured without the drive: add it", run=lambda bench: bench.take_balance(), menu="&Edit", on="wheels"
    ),
)


def why_not(design: Design) -> str:
    """For every vehicle."""
    return ""
