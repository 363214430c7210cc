"""Found combinations judged by the drive study, ranked, and gathered into rows of near-equal ones."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, PropellerPart, WheelPart
from wattagon.design.tree import Design, Goal, GoalKind, Variant
from wattagon.physics.envelope import edge, search_ceiling_m_s
from wattagon.record import record
from wattagon.study.drive.cases import best_reach, gear_at, gears_of, in_gear, over_cases
from wattagon.study.drive.goals import GoalResult, assisted_rpm, column, group, holding_torque_nm, lasting_pulls
from wattagon.study.drive.study import results
from wattagon.study.finder import columns as col
from wattagon.study.finder.space import LEVELS, NOMINAL, Row, Space, settings, variant_of
from wattagon.study.finder.wishes import HEAT, MORE_IS_BETTER, Wishes, heat_goal
from wattagon.study.resolve import Memo, Resolved, resolve
from wattagon.study.resolve.gears import crank_most_nm

CHUNK = 500
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
    fails: str = ""  # id of the constraint that a near miss misses; build.… where it cannot be built
    by_m: float = 0.0  # by how much, of what keeps it from being built

    def value(self, objective: str) -> float:
        """As it is shown: SI, shares as ratios."""
        return {
            "cost": self.cost,
            "mass": self.mass_kg,
            "margin": self.margin,
            "range": self.range_m,
            "speed": self.speed_m_s,
            "grade": self.grade,
            "lasting": self.lasting,
            "reused": float(self.reused),
        }[objective]

    def rank(self, objective: str) -> float:
        """The lower the better; what is not known ranks last."""
        value = self.value(objective)
        return math.inf if math.isnan(value) else -value if OBJECTIVES[objective][1] else value


def least_margin(goals: Sequence[GoalResult]) -> float:
    """The least margin of the goals that ask for speed, pull or range; inf without one."""
    return min((result.margin for result in goals if result.goal.kind in MORE_IS_BETTER), default=math.inf)


def range_of(goals: Sequence[GoalResult]) -> float:
    """What the first range goal reaches [m]; nan without one."""
    return next((result.reached for result in goals if result.goal.kind in (GoalKind.RANGE, GoalKind.THERE_AND_BACK)), math.nan)


def lasting_shares(designs: Sequence[Resolved], goals: Sequence[Goal]) -> NDArray[np.float64]:
    """Continuous motor current over what it takes to hold the speeds of the goals, less 1; the least of them, nan without one; (n,).

    Continuous is the least of the winding's heat at that speed and of what motor and controller are rated for; what is needed is taken
    with magnets as warm as they are then.  Through gears the best one counts for each goal.
    """
    spread = [(row, in_gear(one, gear)) for row, one in enumerate(designs) for gear in gears_of(one)]
    rows, designs = np.array([row for row, _ in spread]), [one for _, one in spread]
    held = [goal for goal in goals if goal.kind in (GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.CRUISE)]
    least = np.full(rows.max(initial=-1) + 1, np.nan)
    for members, train, load in group(designs) if held else ():
        motor, heat = train.motor, train.heat
        assert heat is not None
        air_c = column([designs[k].air_c for k in members])
        wind = column([designs[k].headwind_m_s for k in members])
        rated = np.array([[designs[k].motor_part.current_continuous_a or math.inf] for k in members])
        label = motor.dc_per_motor_amp * np.minimum(rated, train.controller.motor_current_continuous_a)
        for goal in held:
            v, grade = goal.speed or 0.0, goal.grade or 0.0 if goal.kind is GoalKind.CLIMB else 0.0
            shaft = train.reduction.ratio * load.shaft_speed_rad_s(v, 0.0)
            warm = motor.at(magnet_c=heat.case_at_limit_c(motor, shaft, v, air_c))
            need = warm.current_for_torque_a(holding_torque_nm(train, load, v, grade, wind), shaft)
            share = np.minimum(heat.continuous_current_a(motor, shaft, v, air_c), label) / np.maximum(need, 1e-9) - 1.0
            at = rows[members]
            best = np.full(len(least), np.nan)
            np.fmax.at(best, at, np.broadcast_to(share, (len(members), 1))[:, 0])
            least[at] = np.fmin(least[at], best[at])
    return least


def present_hit(resolved: Resolved, goals: tuple[GoalResult, ...], design: Design) -> Hit:
    """A design's own variant as a hit, to stand beside what was found."""
    reach = best_reach([resolved], AXIS_GOALS)[0][0]
    lasting = float(lasting_shares([resolved], design.brief.goals)[0])
    return hit_of((0,) * 8, resolved, goals, reach, (lasting, math.nan), design)


def hit_of(
    row: Row, resolved: Resolved, goals: tuple[GoalResult, ...], axes: Sequence[float], heat: tuple[float, float], design: Design
) -> Hit:
    """A judged combination; `axes` are its top speed and steepest start, `heat` its lasting share and seconds on the climb."""
    shelf = {item.part for item in design.brief.shelf}
    variant = resolved.variant
    if resolved.gear:  # the gear in use is a stage of its resolved form only
        variant = replace(variant, stages=variant.stages[:-1])
    used = {variant.motor.part, variant.controller.part, variant.pack.part, *([variant.wheel.part] if variant.wheel else [])}
    used |= {variant.propeller.part} if variant.propeller is not None else set()
    return Hit(
        row=row,
        variant=variant,
        goals=goals,
        cost=resolved.cost,
        mass_kg=resolved.drive_mass_kg,
        margin=least_margin(goals),
        range_m=range_of(goals),
        speed_m_s=float(axes[0]),
        grade=float(axes[1]),
        lasting=heat[0],
        heat_s=heat[1],
        reused=len(used & shelf),
    )


def judged_hits(
    space: Space, stock: Catalogue, rows: Sequence[Row], cancelled: Callable[[], bool] = lambda: False, *, free_power: bool = False
) -> list[Hit]:
    """Each row as a variant with its goals by the drive study's own equations, in batches."""
    design, goals = space.design, space.design.brief.goals
    made: list[Hit] = []
    memo: Memo = {}
    for start in range(0, len(rows), CHUNK):
        if cancelled():
            break
        part = rows[start : start + CHUNK]
        designs = [replace(design, variants=(v,), active=v.id) for v in (variant_of(space, row, free_power=free_power) for row in part)]
        batch = [resolve(one, stock, memo=memo) for one in designs]
        reached, heat_s = best_reach(batch, (*goals, *AXIS_GOALS))
        lasting = lasting_shares(batch, goals)
        judged = over_cases(designs, batch, goals, reached[:, : len(goals)], heat_s)
        for k, (row, one, resolved) in enumerate(zip(part, designs, batch, strict=True)):
            heat = float(lasting[k]), float(judged.heat_s[k])
            made.append(
                hit_of(row, resolved, results(one, judged.reached[k], judged.cases[k]), reached[k, len(goals) :].tolist(), heat, design)
            )
    return made


def failing(space: Space, hit: Hit) -> list[str]:
    """Ids of the constraints that a hit fails: goals with the margin that is asked for, and heat on the climb."""
    ids = failing_goals(space.wishes, hit)
    if heat_goal(space.design, space.wishes) is not None and hit.heat_s <= space.wishes.climb_s(space.design) * (1.0 - 1e-4):
        ids.append(HEAT)
    return ids


def failing_goals(wishes: Wishes, hit: Hit) -> list[str]:
    """Ids of the goals that a hit fails, with the margin that is asked for."""
    return [result.goal.id for result in hit.goals if result.margin < (wishes.goals if result.goal.kind in MORE_IS_BETTER else 0.0) - 1e-12]


def passes_ratings(space: Space, stock: Catalogue, row: Row) -> bool:
    """Whether kinds fit together, a pulley that must be used is in, and no rating is passed, with the margins that are asked for."""
    motor, wheel, count, controller, level, pack, first, second = row[:8]
    m, c, p, st, wishes = space.motors[motor], space.controllers[controller], space.packs[pack], space.stages, space.wishes
    through = len(row) > 8
    if c[col.C_BRUSHED] != m[col.M_BRUSHED] or (first < 0) != bool(m[col.M_HUB] > 0.0) or (through and (first < 0 or count > 1)):
        return False
    full = p[col.P_FULL]
    if (
        full > (1.0 - wishes.volts) * min(c[col.C_VOLTS], m[col.M_VOLTS])
        or c[col.C_DUTY] * full / m[col.M_K] > (1.0 - wishes.rpm) * m[col.M_RAD_S]
    ):
        return False
    if first < 0:
        return st.direct
    clear = through or st.fits[wheel, second if second >= 0 else first]  # at the crank the wheel's clearance does not matter
    if not clear or (st.need and not (st.chosen[first] or (second >= 0 and st.chosen[second]))):
        return False
    motor_a, _ = settings(wishes, m, c, p, count, LEVELS[level])
    torque, a = m[col.M_K] * m[col.M_DC] * motor_a / (1.0 - wishes.pull), st.table[first]
    share = count / st.sets[space.counts.index(count)]
    carried = second < 0 or torque * a[col.R_RATIO] * a[col.R_EFF] * share <= st.table[second, col.R_CAPACITY]
    if torque > a[col.R_CAPACITY] or not carried:
        return False
    return bears_all(space, resolve(replace(space.design, variants=(one := variant_of(space, row),), active=one.id), stock))


def bears_all(space: Space, resolved: Resolved) -> bool:
    """Whether belts and chains bear for good what goals ask in the gear that is ridden at their speeds, and a motor on the crank helps up
    to the cadence that is asked for; judged as the drive study does.
    """
    if resolved.gear:
        last, emf = resolved.stages[-1].ratio, resolved.emf_v(NOMINAL)
        if float(assisted_rpm(resolved.train, resolved.load, emf, last, resolved.air_c)) < space.cadence:
            return False
        train, gears, bike = resolved.train, resolved.variant.gears, resolved.bike
        assert gears is not None and bike is not None
        torque = float(train.motor.torque_constant_nm_per_a * train.motor.dc_per_motor_amp * train.controller.motor_current_a)
        to_crank = math.prod(stage.ratio * stage.efficiency for stage in resolved.stages[:-1])
        if torque * to_crank > crank_most_nm(gears, bike):
            return False
    pulls = (lasting_pulls(gear_at(resolved, goal.speed or 0.0), [goal]) for goal in space.design.brief.goals)
    return all(share <= 1.0 - space.wishes.pull + 1e-12 for found in pulls for share, _, _ in found)


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
    motor = stock.get(MotorPart, hit.variant.motor.part)
    school = (hit.variant.gears is not None, *(stage.kind for stage in hit.variant.stages))
    return (
        motor.family,
        motor.can_mm,
        motor.length_mm,
        hit.variant.motor.count,
        school,
        stock.get(CellPart, hit.variant.pack.part).chemistry,
    )


def clusters(hits: Sequence[Hit], stock: Catalogue) -> list[list[int]]:
    """Positions of hits by cluster, both in the order in which the hits come."""
    made: dict[tuple[object, ...], list[int]] = {}
    for k, hit in enumerate(hits):
        made.setdefault(cluster_of(hit, stock), []).append(k)
    return list(made.values())


@record(frozen=True, slots=True, kw_only=True)
class Pull:
    """The edge of a hit on a nominal pack, and its climb and cruise goals as points on it."""

    speed_m_s: NDArray[np.float64]
    force_n: NDArray[np.float64]
    goals: tuple[tuple[float, float, bool], ...]  # speed, thrust that it takes, met


def pull_of(hit: Hit, design: Design, stock: Catalogue, points: int = 60) -> Pull:
    """What a hit pulls over its speeds, in the best gear of each, as the drive study has it."""
    resolved = resolve(replace(design, variants=(hit.variant,), active=hit.variant.id), stock)
    emf = float(resolved.train.pack.emf_v(NOMINAL))
    every = [in_gear(resolved, gear).train for gear in gears_of(resolved)]
    top = max(float(search_ceiling_m_s(train, resolved.load, emf)) for train in every)
    speeds = top * np.linspace(0.0, 1.0, points)
    force = np.max([edge(train, resolved.load, speeds, emf, air_c=resolved.air_c).force_n for train in every], axis=0)
    flags = []
    for result in hit.goals:
        goal = result.goal
        if goal.kind in (GoalKind.CRUISE, GoalKind.UPSTREAM, GoalKind.CROSSING):
            over_ground = (goal.distance or 0.0) / (goal.time or 1.0) if goal.kind is GoalKind.CROSSING else goal.speed or 0.0
            speed = over_ground + (goal.current or 0.0)
            flags.append((speed, float(resolved.load.resistance_n(speed, 0.0, resolved.headwind_m_s)), result.met))
        elif goal.kind is GoalKind.BOLLARD:
            flags.append((0.0, goal.pull or 0.0, result.met))
        elif goal.kind in (GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.START):
            speed = 0.0 if goal.kind is GoalKind.START else goal.speed or 0.0
            grade = 0.0 if goal.kind is GoalKind.TOP_SPEED else goal.grade or 0.0
            flags.append((speed, float(resolved.load.resistance_n(speed, grade, resolved.headwind_m_s)), result.met))
    return Pull(speed_m_s=speeds, force_n=np.asarray(force), goals=tuple(flags))


def differences(hits: Sequence[Hit], stock: Catalogue) -> list[tuple[str, list[str]]]:
    """(place, what each hit has there) of the places in which they differ."""
    places: list[tuple[str, list[str]]] = [
        ("motor", [f"{h.variant.motor.count} x {stock.get(MotorPart, h.variant.motor.part).name}" for h in hits]),
        ("reduction", [stages_words(h.variant) for h in hits]),
        ("propeller", [screw_words(h.variant, stock) for h in hits]),
        ("pack", [f"{h.variant.pack.series}S{h.variant.pack.parallel}P {stock.get(CellPart, h.variant.pack.part).name}" for h in hits]),
        ("controller", [stock.get(ControllerPart, h.variant.controller.part).name for h in hits]),
        ("motor amps", [f"{h.variant.controller.motor_current_a:g} A" for h in hits]),
        ("pack amps", [f"{h.variant.controller.pack_current_a:g} A" for h in hits]),
        ("wheel", [stock.get(WheelPart, h.variant.wheel.part).name if h.variant.wheel else "as measured" for h in hits]),
    ]
    return [(name, row) for name, row in places if len(set(row)) > 1]


def screw_words(variant: Variant, stock: Catalogue) -> str:
    """Its propeller by name; empty on wheels."""
    return stock.get(PropellerPart, variant.propeller.part).name if variant.propeller is not None else ""


def stages_words(variant: Variant) -> str:
    """The reduction in a few words: family, teeth and width of each stage."""
    stages = [
        f"{stage.profile} {stage.driver_teeth}:{stage.driven_teeth}" + (f" {stage.width_mm:g} mm" if stage.width_mm else "")
        for stage in variant.stages
    ]
    words = ", ".join(stages) or "direct"
    return f"{words}, then the bike's gears" if variant.gears is not None else words
