"""What the finder offers beside its own buttons."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = "Finder: press or arrows choose a drive, Return takes it as a variant, Escape stops a search."
ACTIONS: tuple[BenchAction, ...] = (
    BenchAction(words="Which kv would fit best, rewound?", run=lambda bench: bench.ask_kv(), menu="&Edit"),
    BenchAction(words="Compare the marked drives with the variant …", run=lambda bench: bench.compare_marked(), menu="&Edit"),
)


def why_not(design: Design) -> str:
    """It applies to every design."""
    return ""
