"""What a search is asked for beside the goals: shelf, schools, delivery, teeth, clearance, heat and margins."""

from __future__ import annotations

import difflib
from dataclasses import field, fields, replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, Part, PropellerPart, ToothedPart, WheelPart
from wattagon.design.quantity import spec
from wattagon.design.tree import Design, Goal, GoalKind, Vehicle
from wattagon.errors import InputError, PathError
from wattagon.record import record
from wattagon.study.drive.climbs import goal_climb_s

SHELF = ("prefer", "use", "only", "ignore")
SCHOOLS = ("direct", "belt", "chain", "two", "middle")  # the last through the bike's own gears
USABLE_KINDS: tuple[type[Part], ...] = (MotorPart, ControllerPart, CellPart, ToothedPart, WheelPart, PropellerPart)
MORE_IS_BETTER = (
    *(GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.START, GoalKind.SPRINT, GoalKind.RANGE),
    *(GoalKind.CRUISE, GoalKind.UPSTREAM, GoalKind.BOLLARD, GoalKind.CROSSING, GoalKind.THERE_AND_BACK),  # of boats
)
HEAT = "heat"  # id of the constraint that a climb lasts
# what a driven pulley should clear the ground by; rough ground needs more
GAP_M, GAP_ROUGH_M = 0.010, 0.025


@record(frozen=True, slots=True, kw_only=True)
class Wishes:
    """Constraints of a search.  Margins are shares kept free of a rating, or by which a goal is to be beaten."""

    # prefer: owned parts are free; use: of each kind on the shelf nothing else is bought; only: nothing is bought; ignore: all at its price
    shelf: str = "prefer"
    use: tuple[str, ...] = ()  # part ids: of each kind of part named here, one of the named
    without: tuple[str, ...] = ()
    schools: tuple[str, ...] = SCHOOLS
    within_days: int | None = field(default=None, metadata=spec("delivery", "number", 0, 3650))
    wheels: bool = False  # other wheels of the same family as well
    least_driver: int | None = field(default=None, metadata=spec("least driver teeth", "number", 1, 400))
    most_driven: int | None = field(default=None, metadata=spec("most driven teeth", "number", 1, 400))
    ground_gap: float | None = field(default=None, metadata=spec("pulley above ground", "length", 0.0, 1.0))
    # 0: heat is not asked for; None: as long as the courses of the brief have it, else ten minutes
    climb_time: float | None = field(default=None, metadata=spec("climb lasts", "time", 0.0, 36000.0))
    goals: float = field(default=0.0, metadata=spec("margin on goals", "share", 0.0, 1.0))
    volts: float = field(default=0.0, metadata=spec("margin on volts", "share", 0.0, 0.9))
    amps: float = field(default=0.0, metadata=spec("margin on amps", "share", 0.0, 0.9))
    rpm: float = field(default=0.0, metadata=spec("margin on motor speed", "share", 0.0, 0.9))
    pull: float = field(default=0.0, metadata=spec("margin on belt and chain", "share", 0.0, 0.9))

    def climb_s(self, design: Design) -> float:
        """How long the first climb has to last."""
        return goal_climb_s(design) if self.climb_time is None else self.climb_time

    def gap_m(self, vehicle: Vehicle) -> float:
        """Clearance of a driven pulley to the ground that is asked for."""
        if self.ground_gap is not None:
            return self.ground_gap
        return GAP_ROUGH_M if KINDS[vehicle.kind].rough else GAP_M


def check_wishes(wishes: Wishes, stock: Catalogue) -> None:
    """Raises InputError for a word or a number that is none, PathError for a part that stock does not have."""
    if wishes.shelf not in SHELF:
        raise InputError("shelf", wishes.shelf, ", ".join(SHELF))
    for school in wishes.schools:
        if school not in SCHOOLS:
            raise InputError("school", school, ", ".join(SCHOOLS))
    if not wishes.schools:
        raise InputError("schools", "none", f"at least one of {', '.join(SCHOOLS)}")
    for item in fields(wishes):
        bound, value = item.metadata.get("spec"), getattr(wishes, item.name)
        if bound is not None and value is not None and not bound.low <= value <= bound.high:
            raise InputError(bound.label, f"{value:g}", f"{bound.low:g} to {bound.high:g}")
    known = {part_id for kind in USABLE_KINDS for part_id in stock.rows(kind)}
    for part_id in (*wishes.use, *wishes.without):
        if part_id not in known:
            near = difflib.get_close_matches(part_id, known, n=3, cutoff=0.3)
            raise PathError(f"stock has no part called {part_id!r}" + (f"; near: {', '.join(near)}" if near else ""))
    both = sorted(set(wishes.use) & set(wishes.without))
    if both:
        raise InputError("parts", both[0], "a part to be used or to be left out, not both")


def beaten_by(goal: Goal, share: float) -> Goal:
    """The goal that is met by whoever beats this one by a share; money, mass and limits stay as they are."""
    if goal.kind not in MORE_IS_BETTER or share == 0.0:
        return goal
    if goal.kind is GoalKind.START:
        return replace(goal, grade=(goal.grade or 0.0) * (1.0 + share))
    if goal.kind is GoalKind.BOLLARD:
        return replace(goal, pull=(goal.pull or 0.0) * (1.0 + share))
    if goal.kind in (GoalKind.SPRINT, GoalKind.CROSSING):
        return replace(goal, time=(goal.time or 0.0) * (1.0 - share))
    if goal.kind in (GoalKind.RANGE, GoalKind.THERE_AND_BACK):
        return replace(goal, distance=(goal.distance or 0.0) * (1.0 + share))
    return replace(goal, speed=(goal.speed or 0.0) * (1.0 + share))


def heat_goal(design: Design, wishes: Wishes) -> Goal | None:
    """The climb that has to last: the first, as the drive study has it; None where heat is not asked for."""
    climbs = [goal for goal in design.brief.goals if goal.kind is GoalKind.CLIMB]
    return climbs[0] if climbs and wishes.climb_s(design) > 0.0 else None
