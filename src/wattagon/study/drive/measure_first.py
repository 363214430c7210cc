"""Which measures of the vehicle to take first: those that are assumed and move the goals most."""

from __future__ import annotations

from wattagon.design.paths import Edit, get
from wattagon.design.quantity import Known, Quantity
from wattagon.record import record
from wattagon.study.drive.follow import Followed
from wattagon.study.drive.levers import preview
from wattagon.study.studies import Task

SHARE = 0.1  # by which an assumed measure is moved
LEAST = 0.004  # of a goal's margin, under which a measure hardly matters


@record(frozen=True, slots=True, kw_only=True)
class Weight:
    """One assumed measure: by how much a tenth more or less of it moves the goals' margins, all added, and which one most."""

    path: str
    moves: float
    goal: str  # id


def measure_first(task: Task) -> tuple[Weight, ...]:
    """Assumed measures, the one that moves the goals most first; those that hardly move any are left out."""
    followed: Followed = task.results["drive"]
    vehicle, goals = task.design.vehicle, followed.study.goals
    asked: list[tuple[str, Edit]] = []
    for path in (*BOTH, *(HULL if vehicle.kind.floats else WHEELS)):
        value = get(task.design, f"vehicle.{path}")
        if isinstance(value, Quantity) and value.known is Known.ASSUMED and value.value:
            moved = Quantity(value=value.value * (1.0 - SHARE), known=Known.ASSUMED)
            asked.append((path, Edit(label=path, changes=((f"vehicle.{path}", moved),))))
    found = []
    for (name, _), after in zip(asked, preview(task.design, task.stock, [edit for _, edit in asked]), strict=True):
        if after.refused or len(after.goals) != len(goals):
            continue
        changes = [(abs(b.margin - a.margin), a.goal.id) for a, b in zip(goals, after.beside(goals), strict=True)]
        moves = sum(change for change, _ in changes)
        if moves > LEAST:
            found.append(Weight(path=f"vehicle.{name}", moves=moves, goal=max(changes)[1]))
    return tuple(sorted(found, key=lambda weight: -weight.moves))


BOTH = ("empty_mass", "rider_mass", "load_mass", "drag_area")
WHEELS = ("tyre_diameter", "tyre_rolling_share", "wheelbase", "cm_behind_front", "cm_height", "rolling", "grip", "wheel_inertia")
HULL = (
    "hull.waterline_length",
    "hull.waterline_beam",
    "hull.surface_factor",
    "hull.form",
    "hull.hull_factor",
    "hull.transom_area",
    "hull.weight_forward",
    "hull.appendage_area",
    "hull.transom_angle",
)
