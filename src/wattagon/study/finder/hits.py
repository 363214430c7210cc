"""Found combinations judged by the drive study, ranked, and gathered into rows of near-equal ones."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Goal, GoalKind, Variant
from wattagon.record import record
from wattagon.study.drive import results
from wattagon.study.finder.space import NOMINAL, Row, Space, variant_of
from wattagon.study.finder.wishes import HEAT, MORE_IS_BETTER, heat_goal
from wattagon.study.goals import GoalResult, outlook
from wattagon.study.resolve import Memo, Resolved, resolve

CHUNK = 200
# what a user may care for: name, dimension, and whether more is better
OBJECTIVES = {
    "cost": ("money", False),
    "mass": ("mass", False),
    "margin": ("share", True),
    "range": ("distance", True),
    "speed": ("speed", True),
    "grade": ("grade", True),
    "lasting": ("share", True),
    "reused": ("count", True),
}
AXIS_GOALS = (
    Goal(id="axis-speed", kind=GoalKind.TOP_SPEED, speed=1.0, charge=NOMINAL),
    Goal(id="axis-grade", kind=GoalKind.START, grade=0.1, charge=NOMINAL),
)


@record(frozen=True, slots=True, kw_only=True)
class Hit:
    """One combination, judged by the drive study."""

    row: Row
    variant: Variant
    goals: tuple[GoalResult, ...]
    cost: float
    mass_kg: float
    margin: float  # the least margin of the goals that ask for speed, pull or range
    range_m: float  # of the range goal; nan without one
    speed_m_s: float  # top speed on the flat, nominal pack
    grade: float  # steepest standing start, nominal pack
    lasting: float  # share of continuous motor current beyond what the goals' speeds take; nan without such a goal
    heat_s: float  # until too hot on the climb; nan without one
    reused: int  # parts taken from the shelf
    fails: str = ""  # id of the constraint that a near miss misses

    def value(self, objective: str) -> float:
        """As it is shown: SI, shares as ratios."""
        return {
            "cost": self.cost, "mass": self.mass_kg, "margin": self.margin, "range": self.range_m, "speed": self.speed_m_s, "grade": self.grade,
            "lasting": self.lasting, "reused": float(self.reused),
        }[objective]  # fmt: skip

    def rank(self, objective: str) -> float:
        """The lower the better; what is not known ranks last."""
        value = self.value(objective)
        return math.inf if math.isnan(value) else -value if OBJECTIVES[objective][1] else value


def least_margin(goals: Sequence[GoalResult]) -> float:
    """The least margin of the goals that ask for speed, pull or range; inf without one."""
    return min((result.margin for result in goals if result.goal.kind in MORE_IS_BETTER), default=math.inf)


def range_of(goals: Sequence[GoalResult]) -> float:
    """What the first range goal reaches [m]; nan without one."""
    return next((result.reached for result in goals if result.goal.kind is GoalKind.RANGE), math.nan)


def lasting_share(resolved: Resolved, goals: Sequence[Goal]) -> float:
    """Continuous motor current over what it takes to hold the speeds of the goals, less 1; the least of them, nan without one.

    Continuous is the least of the winding's heat at that speed and of what motor and controller are rated for.
    """
    train, road = resolved.train, resolved.road
    assert train.heat is not None
    label = train.motor.dc_per_motor_amp * min(resolved.motor_part.current_continuous_a or math.inf, float(train.controller.motor_current_continuous_a))
    shares = []
    for goal in goals:
        if goal.kind not in (GoalKind.TOP_SPEED, GoalKind.CLIMB):
            continue
        v, grade = goal.speed or 0.0, goal.grade or 0.0 if goal.kind is GoalKind.CLIMB else 0.0
        shaft = train.reduction.ratio * road.shaft_speed_rad_s(v, 0.0)
        need = train.current_for_output_a(road.resistance_n(v, grade, resolved.headwind_m_s) * road.wheel_radius_m, shaft)
        bears = train.heat.continuous_current_a(train.motor, shaft, v, resolved.air_c)
        shares.append(min(float(bears), label) / max(float(need), 1e-9) - 1.0)
    return min(shares, default=math.nan)


def present_hit(resolved: Resolved, goals: tuple[GoalResult, ...], design: Design) -> Hit:
    """A design's own variant as a hit, to stand beside what was found."""
    reach = outlook([resolved], AXIS_GOALS).reached[0]
    return _hit((0,) * 8, resolved, goals, reach, math.nan, design)  # type: ignore[arg-type]


def _hit(row: Row, resolved: Resolved, goals: tuple[GoalResult, ...], axes: Sequence[float], heat_s: float, design: Design) -> Hit:
    shelf = {item.part for item in design.brief.shelf}
    variant = resolved.variant
    used = {variant.motor.part, variant.controller.part, variant.pack.part, *([variant.wheel.part] if variant.wheel else [])}
    return Hit(
        row=row, variant=variant, goals=goals, cost=resolved.cost, mass_kg=resolved.drive_mass_kg, margin=least_margin(goals), range_m=range_of(goals),
        speed_m_s=float(axes[0]), grade=float(axes[1]), lasting=lasting_share(resolved, design.brief.goals), heat_s=heat_s, reused=len(used & shelf),
    )  # fmt: skip


def judge(
    space: Space, stock: Catalogue, rows: Sequence[Row], cancelled: Callable[[], bool] = lambda: False, *, free_power: bool = False
) -> list[Hit]:
    """Each row as a variant with its goals by the drive study's own equations, in batches."""
    design, goals = space.design, space.design.brief.goals
    made: list[Hit] = []
    for start in range(0, len(rows), CHUNK):
        if cancelled():
            break
        memo: Memo = {}
        part = rows[start : start + CHUNK]
        designs = [replace(design, variants=(v,), active=v.id) for v in (variant_of(space, row, free_power=free_power) for row in part)]
        batch = [resolve(one, stock, memo=memo) for one in designs]
        found = outlook(batch, (*goals, *AXIS_GOALS))
        for row, one, resolved, values, heat in zip(part, designs, batch, found.reached, found.heat_s, strict=True):
            made.append(_hit(row, resolved, results(one, values[: len(goals)]), values[len(goals) :], float(heat), design))
    return made


def failing(space: Space, hit: Hit) -> list[str]:
    """Ids of the constraints that a hit fails: goals with the margin that is asked for, and heat on the climb."""
    ids = [
        result.goal.id for result in hit.goals
        if result.margin < (space.wishes.goals if result.goal.kind in MORE_IS_BETTER else 0.0) - 1e-12
    ]  # fmt: skip
    if heat_goal(space.design.brief.goals, space.wishes) is not None and hit.heat_s <= space.wishes.climb_time * (1.0 - 1e-4):
        ids.append(HEAT)
    return ids


def rank(hits: Sequence[Hit], objectives: Sequence[str]) -> tuple[list[Hit], int]:
    """(hits with the non-dominated first, each part by the first objective; how many are non-dominated)."""
    if not hits:
        return [], 0
    values = np.array([[hit.rank(objective) for objective in objectives] for hit in hits])
    order = np.lexsort(values.T[::-1])
    front: list[int] = []
    kept = np.empty((0, values.shape[1]))
    for k in order:
        if not len(kept) or not np.any(np.all(kept <= values[k] + 1e-12, axis=1)):
            front.append(int(k))
            kept = np.vstack([kept, values[k]])
    chosen = set(front)
    rest = [int(k) for k in order if int(k) not in chosen]
    return [hits[k] for k in (*front, *rest)], len(front)


def cluster_of(hit: Hit, stock: Catalogue) -> tuple[object, ...]:
    """What near-equal hits share: kind and frame of the motor, how many, how it is geared, and the kind of cell."""
    motor = stock.motor(hit.variant.motor.part)
    school = tuple(stage.kind for stage in hit.variant.stages)
    return (motor.family, motor.can_mm, motor.length_mm, hit.variant.motor.count, school, stock.cell(hit.variant.pack.part).chemistry)


def clusters(hits: Sequence[Hit], stock: Catalogue) -> list[list[int]]:
    """Positions of hits by cluster, both in the order in which the hits come."""
    made: dict[tuple[object, ...], list[int]] = {}
    for k, hit in enumerate(hits):
        made.setdefault(cluster_of(hit, stock), []).append(k)
    return list(made.values())
