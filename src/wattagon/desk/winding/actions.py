"""What the menus and the palette offer of the winding."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = (
    "Winding: Space ticks the coil in hand, Backspace takes the last back, up and down count its turns, left and right turn the rotor; "
    "drag the magnets. Capital letters are wound clockwise seen from the tip, small ones anticlockwise."
)
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Save the pattern sheet …", run=lambda bench: bench.ask_save(), menu="&File"),
    BenchAction(words="Which kv fits best?", run=lambda bench: bench.best_kv(), menu="&Edit"),
    BenchAction(words="Decide on the winding in hand", run=lambda bench: bench.options.take(), menu="&Edit"),
    BenchAction(words="Rewound motor into the drive", run=lambda bench: bench.options.into_drive(), menu="&Edit"),
    BenchAction(words="No rewind", run=lambda bench: bench.options.drop_plan(), menu="&Edit"),
)


def why_not(design: Design) -> str:
    """For every motor; a brushed one says so itself, since only the stock tells which are."""
    return ""
