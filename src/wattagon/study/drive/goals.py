"""Goals judged: what each variant reaches, for one design or for many at once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.dimensions import DIMENSIONS
from wattagon.design.goal_kinds import GOALS
from wattagon.design.tree import USUAL, Goal, GoalKind
from wattagon.physics.arrays import Num, deepen, deeper, stack
from wattagon.physics.envelope import SPRINT_POINTS, edge, grade_held, search_ceiling_m_s, time_to_speed, top_speed
from wattagon.physics.held import holding
from wattagon.physics.holding import Hold
from wattagon.physics.load import Load
from wattagon.physics.point import steady_range_m
from wattagon.physics.powertrain import Powertrain
from wattagon.physics.water.boat import Boat
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.resolve import Rating, Resolved
from wattagon.study.resolve.boat import DOCK_DEDUCTION

EDGE_POINTS = SPRINT_POINTS  # along an edge: one of them may be that of a sprint
TIGHT = 0.05  # a goal met by less than this share is tight
LESS = {kind for kind, facts in GOALS.items() if facts.less}
CASED = {kind for kind, facts in GOALS.items() if facts.cased}
CHARGER_EFFICIENCY = 0.88  # of the energy from the wall that reaches the cells; typical
# equivalent full cycles to 80 % of the capacity; middle of what is usual, within a factor of two
CYCLES = {"lipo": 300.0, "nmc_energy": 600.0, "nmc_power": 450.0, "lfp": 3000.0, "lead": 150.0}
HEAT_SPEED_LEAST = 0.5  # m/s: below it a "held" climb is a standstill, and heat is judged at this speed


@record(frozen=True, slots=True, kw_only=True)
class GoalResult:
    """A goal with what the drive reaches, in SI."""

    goal: Goal
    target: float
    reached: float
    dimension: str
    case: str = USUAL  # load case in which that is; empty where the one that was asked for is not there

    @property
    def less_is_better(self) -> bool:
        return self.goal.kind in LESS

    @property
    def margin(self) -> float:
        """Room left as a share of the target; below 0 it is missed."""
        if self.target == 0:
            return 0.0 if self.reached <= 0 else (-1.0 if self.less_is_better else 1.0)
        share = (self.reached - self.target) / self.target
        share = -share if self.less_is_better else share
        return max(-10.0, min(10.0, share)) if share == share else -10.0  # what is not known is not met

    @property
    def met(self) -> bool:
        return self.margin >= 0.0

    @property
    def unit(self) -> str:
        return DIMENSIONS[self.dimension].si


def status_of(result: GoalResult) -> Status:
    """A goal's status as its finding has it."""
    return Status.OVER if not result.met else Status.TIGHT if result.margin < TIGHT else Status.CLEAR


def _key(resolved: Resolved) -> tuple[object, ...]:
    """Designs of equal key can be stacked into one record."""
    train = resolved.train
    lines = len(train.reduction.between_slope)
    return (
        train.motor.brushed,
        train.pack.chemistry,
        resolved.window,
        resolved.load.stacks_with,
        lines,
        bool(np.isinf(train.motor.saturation_a)),
    )


def group(designs: Sequence[Resolved]) -> list[tuple[list[int], Powertrain, Load]]:
    """Designs stacked where they can be: (their positions, train and road with arrays of shape (n, 1))."""
    groups: dict[tuple[object, ...], list[int]] = {}
    for k, resolved in enumerate(designs):
        groups.setdefault(_key(resolved), []).append(k)
    return [
        (members, stack([designs[k].train for k in members], 1), stack([designs[k].load for k in members], 1))
        for members in groups.values()
    ]


@record(frozen=True, slots=True, kw_only=True)
class Outlook:
    """What a batch of designs reaches: goals of shape (n, goals) in SI, and minutes of heat on the hardest climb (n,)."""

    reached: NDArray[np.float64]
    heat_s: NDArray[np.float64]  # seconds until a winding is too hot on the first climb goal; inf: never; nan: no such goal


def column(values: Sequence[float]) -> Num:
    """One number where all are equal, else a column of them, shape (n, 1)."""
    return values[0] if all(value == values[0] for value in values) else np.array(values)[:, np.newaxis]


def outlook(designs: Sequence[Resolved], goals: Sequence[Goal], *, known: NDArray[np.float64] | None = None) -> Outlook:
    """Judge the goals of a brief for many designs at once; the same equations as for one.

    `known` holds what is reached where that was worked out before, nan elsewhere, shape (n, goals).
    """
    reached = np.full((len(designs), len(goals)), np.nan) if known is None else known.copy()
    heat = np.full(len(designs), np.nan)
    wanted, charges, grades = speed_queries(goals)
    for members, train, load in group(designs):
        rows = np.array(members)
        batch = [designs[k] for k in members]
        air, wind = column([one.air_c for one in batch]), column([one.headwind_m_s for one in batch])
        if wanted and known is None:
            # designs that differ in nothing the emf rests on still are as many rows
            emf = np.broadcast_to(train.pack.emf_v(charges), (len(members), len(wanted)))
            found = top_speed(train, load, emf, grade=grades, headwind_m_s=wind, air_c=air, names=False).speed_m_s
            reached[rows[:, np.newaxis], np.array(wanted)] = from_top_speed(goals, wanted, found)
        _others(train, load, goals, reached, rows, air, wind, batch)
        for k, goal in enumerate(goals):
            if goal.kind is GoalKind.BUDGET:
                reached[rows, k] = [design.cost for design in batch]
            elif goal.kind is GoalKind.ADDED_MASS:
                reached[rows, k] = [design.drive_mass_kg for design in batch]
            elif goal.kind is GoalKind.DAY_COST:
                reached[rows, k] = [
                    day_cost(design, goal.distance or 0.0, float(metres)) for design, metres in zip(batch, reached[rows, k], strict=True)
                ]
        climbs = [k for k, goal in enumerate(goals) if goal.kind is GoalKind.CLIMB]
        if climbs:
            goal, at = goals[climbs[0]], climbs[0]
            speed = np.clip(reached[rows, at], HEAT_SPEED_LEAST, goal.speed)[:, np.newaxis]
            heat[rows] = time_until_hot(train, load, speed, goal.grade or 0.0, air, wind)[:, 0]
    return Outlook(reached=reached, heat_s=heat)


AT_FULL_THROTTLE = (GoalKind.TOP_SPEED, GoalKind.CLIMB, GoalKind.SPEED_LIMIT, GoalKind.UPSTREAM, GoalKind.CROSSING)


def from_top_speed(goals: Sequence[Goal], wanted: Sequence[int], speeds: NDArray[np.float64]) -> NDArray[np.float64]:
    """What the goals of `speed_queries` reach, from their top speeds [m/s] in the last axis: over ground, or the time for a way [s].

    Of a crossing the start from rest is left out: seconds, where the way takes minutes.
    """
    made = np.array(speeds, dtype=float)
    for column, k in enumerate(wanted):
        goal = goals[k]
        if goal.kind in (GoalKind.UPSTREAM, GoalKind.CROSSING):
            over_ground = made[..., column] - (goal.current or 0.0)
            if goal.kind is GoalKind.CROSSING:
                goes = over_ground > 0.0
                over_ground = np.where(goes, (goal.distance or 0.0) / np.where(goes, over_ground, 1.0), np.inf)
            made[..., column] = over_ground
    return made


def speed_queries(goals: Sequence[Goal]) -> tuple[list[int], NDArray[np.float64], NDArray[np.float64]]:
    """(positions, states of charge, grades) of the goals that ask for a top speed on some grade."""
    wanted = [k for k, goal in enumerate(goals) if goal.kind in AT_FULL_THROTTLE]
    # a limit is judged where the drive is fastest
    charges = [1.0 if goals[k].kind is GoalKind.SPEED_LIMIT else goals[k].charge for k in wanted]
    grades = [goals[k].grade or 0.0 if goals[k].kind is GoalKind.CLIMB else 0.0 for k in wanted]
    return wanted, np.array(charges), np.array(grades)


def _others(
    train: Powertrain,
    load: Load,
    goals: Sequence[Goal],
    reached: NDArray[np.float64],
    rows: NDArray[np.intp],
    air: Num,
    wind: Num,
    batch: Sequence[Resolved],
) -> None:
    for k, goal in enumerate(goals):
        if not np.isnan(reached[rows[0], k]):
            continue
        emf = train.pack.emf_v(goal.charge)
        if goal.kind is GoalKind.START:
            found = grade_held(train, load, emf, 0.0, headwind_m_s=wind, air_c=air)
        elif goal.kind is GoalKind.SPRINT:
            found = time_to_speed(train, load, emf, goal.speed or 1.0, headwind_m_s=wind, air_c=air)[0]
        elif goal.kind is GoalKind.CADENCE:
            found = assisted_rpm(train, load, emf, column([one.stages[-1].ratio if one.gear else np.nan for one in batch]), air)
        elif goal.kind is GoalKind.TOOL:
            shaft = (goal.rpm or 0.0) * math.tau / 60.0
            speed = np.broadcast_to(np.asarray(shaft / load.shaft_speed_rad_s(1.0, 0.0), dtype=float), (len(rows), 1))
            found = load.shaft_torque_nm(speed, edge(train, load, speed, emf, air_c=air).drive_n)
        elif goal.kind in (GoalKind.RANGE, GoalKind.DAY_COST):  # of the latter the distance, for now
            top, bottom = batch[0].window
            found = steady_range_m(train, load, speed_m_s=goal.speed or 1.0, top=top, bottom=bottom, headwind_m_s=wind)
            along = column([one.current_m_s for one in batch])
            found = found * np.maximum(1.0 - np.asarray(along) / (goal.speed or 1.0), 0.0)  # over ground
        elif goal.kind is GoalKind.THERE_AND_BACK:
            top, bottom = batch[0].window
            pace, stream = goal.speed or 1.0, goal.current or 0.0
            found = steady_range_m(train, load, speed_m_s=pace, top=top, bottom=bottom, headwind_m_s=wind)
            # through the water the way is longer by the time that the current takes: D/(V - u) + D/(V + u) at V
            found = found * max(pace**2 - stream**2, 0.0) / (2.0 * pace**2)
        elif goal.kind is GoalKind.CRUISE:
            found = top_speed(train, load, emf, headwind_m_s=wind, air_c=air, burst=False, names=False).speed_m_s
        elif goal.kind is GoalKind.BOLLARD:
            tied = replace(load, deduction=DOCK_DEDUCTION) if isinstance(load, Boat) else load
            found = edge(train, tied, np.zeros((len(rows), 1)), emf, air_c=air).force_n
        elif goal.kind is GoalKind.POWER_LIMIT:
            found = peak_bus_power_w(train, load)
        else:
            continue
        flat = np.broadcast_to(np.asarray(found, dtype=float).reshape(np.shape(found)), (len(rows), 1))
        reached[rows, k] = flat[:, 0]


ASSIST_SHARE = 0.2  # of the pull at rest that is still to be there for the motor to help
ASSIST_POINTS = 400


def assisted_rpm(train: Powertrain, load: Load, emf_v: Num, last_ratio: Num, air_c: Num) -> NDArray[np.float64]:
    """Cadence [rpm] up to which the motor gives a fifth of its pull at rest, shape (n, 1); nan where it does not drive the crank."""
    ceiling = np.asarray(search_ceiling_m_s(train, load, emf_v), dtype=float)
    emf = np.asarray(emf_v, dtype=float)
    share = np.linspace(0.0, 1.0, ASSIST_POINTS)
    deep, deep_load = deepen(train), deepen(load)
    speeds = ceiling[..., np.newaxis] * share
    pull = np.broadcast_to(edge(deep, deep_load, speeds, emf[..., np.newaxis], air_c=deeper(air_c)).drive_n, speeds.shape)
    enough = pull >= ASSIST_SHARE * pull[..., :1]
    at = speeds.shape[-1] - 1 - np.argmax(enough[..., ::-1], axis=-1)
    speed = np.take_along_axis(speeds, at[..., np.newaxis], axis=-1)[..., 0]
    return np.asarray(load.shaft_speed_rad_s(speed, 0.0) * last_ratio * 60.0 / math.tau)


def day_cost(design: Resolved, distance_m: float, range_m: float) -> float:
    """What a day's distance costs: energy from the wall, and the share of the cells' life that it takes; inf where a pace is not held.

    Wear: one equivalent full cycle uses up the price of the pack over the cycles of its chemistry.
    """
    if not range_m > 0.0:
        return np.inf
    pack = design.train.pack
    top, bottom = design.window
    full = distance_m / range_m * (top - bottom)  # equivalent full cycles
    joules = full * 3600.0 * float(pack.capacity_ah) * float(np.mean(pack.emf_v(np.linspace(bottom, top, 9))))
    return joules / 3.6e6 / CHARGER_EFFICIENCY * design.energy_price + full * design.pack_price / CYCLES[pack.chemistry]


PEAK_POINTS, PEAK_ROUNDS = 60, 4  # of the search for the highest power: first over all speeds, then around the best, ever closer


def peak_bus_power_w(train: Powertrain, load: Load) -> NDArray[np.float64]:
    """The most the controllers take from a full pack at any speed [W], shape (n, 1).

    A full pack gives most: its volts are highest, and what sets the amps does not fall with them.  The maximum is looked for around the
    best of the first points, to within 1e-4 of the speed, since it is often a corner between two limits.
    """
    emf = np.asarray(train.pack.emf_v(1.0), dtype=float)
    ceiling = np.asarray(search_ceiling_m_s(train, load, emf), dtype=float)
    shape = np.broadcast_shapes(ceiling.shape, emf.shape, (1, 1))
    deep, deep_load = deepen(train), deepen(load)
    deep_emf = np.broadcast_to(emf, shape)[..., np.newaxis]
    low, high = np.zeros((*shape, 1)), np.broadcast_to(ceiling, shape)[..., np.newaxis]
    best = np.zeros(shape)
    for round_ in range(PEAK_ROUNDS):
        share = np.linspace(0.0, 1.0, PEAK_POINTS if round_ == 0 else PEAK_POINTS // 3)
        speeds = low + (high - low) * share
        reach = edge(deep, deep_load, speeds, deep_emf)
        shaft = deep.reduction.ratio * deep_load.shaft_speed_rad_s(speeds, 0.0)
        volts, amps, _, _ = deep.bus(reach.dc_current_a, shaft, deep_emf, deep.pack_ohm(True))
        power = np.nan_to_num(volts * amps)
        at = np.argmax(power, axis=-1)[..., np.newaxis]
        best = np.maximum(best, np.take_along_axis(power, at, axis=-1)[..., 0])
        last = share.size - 1
        low, high = (np.take_along_axis(speeds, np.clip(at + step, 0, last), axis=-1) for step in (-1, 1))
    return best


def holding_torque_nm(train: Powertrain, load: Load, speed_m_s: NDArray[np.float64] | float, grade: float, wind: Num) -> Num:
    """Torque at one motor's shaft that holds a speed on a grade [N m]."""
    return train.reduction.shaft_torque_nm(holding(train, load, speed_m_s, grade=grade, headwind_m_s=wind).output_nm / train.count)


def lasting_pulls(resolved: Resolved, goals: Sequence[Goal]) -> list[tuple[float, Rating, Goal]]:
    """(share of what a belt or chain bears for good, its rating, goal) of each goal that asks for a speed to be held."""
    found = []
    for goal in goals:
        if goal.kind in (GoalKind.TOP_SPEED, GoalKind.CLIMB):
            grade = goal.grade or 0.0 if goal.kind is GoalKind.CLIMB else 0.0
            torque = float(holding_torque_nm(resolved.train, resolved.load, goal.speed or 0.0, grade, resolved.headwind_m_s))
            found += [(torque / rating.lasting_nm, rating, goal) for rating in resolved.ratings]
    return found


def time_until_hot(
    train: Powertrain, load: Load, speed_m_s: NDArray[np.float64] | float, grade: float, air_c: Num, wind: Num
) -> NDArray[np.float64]:
    """Seconds from cold until a winding meets its limit while holding a speed on a grade; inf where it never does.

    The current grows as the magnets warm, up to the motor amps that are set.
    """
    assert train.heat is not None
    shaft = train.reduction.ratio * load.shaft_speed_rad_s(speed_m_s, 0.0)
    ceiling = train.motor.dc_per_motor_amp * train.controller.motor_current_a
    hold = Hold(
        motor=train.motor,
        heat=train.heat,
        shaft_nm=holding_torque_nm(train, load, speed_m_s, grade, wind),
        shaft_rad_s=shaft,
        speed_m_s=speed_m_s,
        ceiling_a=ceiling,
        air_c=air_c,
    )
    return hold.time_to_limit_s()
