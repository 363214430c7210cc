"""What the finder offers beside its own buttons."""

from __future__ import annotations

from wattagon.design.tree import Design
from wattagon.desk.bench import BenchAction

HELP = "Finder: press or arrows choose a drive, Return takes it as a variant, Escape stops a search."
ACTIONS: tuple[BenchAction, ...] = ()


def why_not(design: Design) -> str:
    """Why it does not apply to a design, in a sentence."""
    return "Propellers are not searched yet: step diameter, pitch and kv on the Drive." if design.vehicle.kind.floats else ""
