"""Bands of the drive's numbers that a search finds or where a limit switches: by sampling, as those of the goals."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Goal, GoalKind
from wattagon.study.bands.bands import Band, band
from wattagon.study.resolve import CHARGE_STATES

# of a charge state, as a goal that asks for it; what it asks for does not matter
_OF_STATE: dict[str, tuple[GoalKind, dict[str, float]]] = {
    "top_speed_m_s": (GoalKind.TOP_SPEED, {"speed": 1.0}),
    "max_grade": (GoalKind.START, {"grade": 0.1}),
    "bollard_n": (GoalKind.BOLLARD, {"pull": 1.0}),
}


def goal_of(design: Design, name: str) -> Goal | None:
    """The goal whose reach a number is; None for one that cannot be sampled so."""
    parts = name.split(".")
    if parts[0] == "goals" and parts[-1] == "reached":
        wanted = ".".join(parts[1:-1])
        return next((goal for goal in design.brief.goals if goal.id == wanted), None)
    if parts[0] == "states" and len(parts) == 3 and parts[1] in CHARGE_STATES and parts[2] in _OF_STATE:
        kind, asks = _OF_STATE[parts[2]]
        return Goal(id="asked", kind=kind, charge=CHARGE_STATES[parts[1]], **asks)  # type: ignore[arg-type]
    return None


def sampled(design: Design, stock: Catalogue, name: str, cancelled: Callable[[], bool] = lambda: False) -> Band | None:
    """The band of a number by sampling; None for one that is not sampled, or was given up.  Raises as `band`."""
    goal = goal_of(design, name)
    if goal is None:
        return None
    asked = replace(design, brief=replace(design.brief, goals=(goal,)))
    found = band(asked, stock, cancelled=cancelled)
    return None if cancelled() or found.bands[0].low != found.bands[0].low else found.bands[0]
