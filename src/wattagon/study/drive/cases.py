"""Goals over load cases: each judged in the case that it names, else in the worst for it; how the vehicle stands in every case."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.goal_kinds import GOALS
from wattagon.design.tree import USUAL, Design, Goal, GoalKind
from wattagon.physics.envelope import edge, top_speed
from wattagon.physics.reduction import combine
from wattagon.study.drive.goals import CASED, LESS, outlook
from wattagon.study.resolve import Reader, Resolved, driven_cases
from wattagon.study.resolve.cases import Stand, stand_of
from wattagon.study.resolve.controller import held_back
from wattagon.study.resolve.gears import ridden_gear
from wattagon.study.resolve.load import road_of


def in_case(design: Design, case_id: str) -> Design:
    """The design with another load case in view."""
    return replace(design, brief=replace(design.brief, case="" if case_id == USUAL else case_id))


def stands(design: Design, resolved: Resolved, case_id: str) -> Stand:
    """How the vehicle stands in a case, with the drive of a resolved variant."""
    return stand_of(Reader(False, resolved.shift), design, resolved.drive_mass_kg, resolved.pack_kg, design.brief.load_case(case_id))


def with_case(resolved: Resolved, design: Design, case_id: str) -> Resolved | None:
    """The same drive under another load case; None where the vehicle tips as it stands."""
    stand = stands(design, resolved, case_id)
    if not stand.stands:
        return None
    variant = resolved.variant
    load = road_of(Reader(False, resolved.shift), design, variant.wheel, resolved.wheel_part, variant, resolved.drive_mass_kg, stand)
    return replace(resolved, load=load, case=case_id)


def unheld(resolved: Resolved) -> Resolved:
    """The drive with all that its settings allow; itself where no mode holds it back."""
    if resolved.train.controller is resolved.unheld:
        return resolved
    return replace(resolved, train=replace(resolved.train, controller=resolved.unheld))


def in_mode(resolved: Resolved, design: Design, mode_id: str) -> Resolved | None:
    """The drive in a mode of the brief; None where that is not there."""
    mode = next((mode for mode in design.brief.modes if mode.id == mode_id), None)
    if mode is None:
        return None
    train = resolved.train
    return replace(resolved, train=replace(train, controller=held_back(resolved.unheld, mode, train.motor, train.reduction, resolved.load)))


def of_the_whole(design: Design, resolved: Resolved, goal: Goal) -> float:
    """What a goal reaches that asks for a size or a mass of the vehicle itself; nan where that was not measured."""
    vehicle = design.vehicle
    if goal.kind is GoalKind.CARRY:
        case = next((case for case in design.brief.cases if case.id == goal.case), None)
        whole = resolved.bare_kg + resolved.drive_mass_kg
        return max(whole - resolved.pack_kg, resolved.pack_kg) if case is not None and not case.pack else whole
    sizes = (vehicle.packed_length, vehicle.packed_width, vehicle.packed_height)
    room = sorted((goal.length or 0.0, goal.width or 0.0, goal.height or 0.0))
    known = [size.value for size in sizes if size is not None]
    if len(known) < len(sizes):
        return math.nan
    worst = max(size / side for size, side in zip(sorted(known), room, strict=True))
    return worst * (goal.length or 0.0)  # as if the longest side alone told


def strongest(design: Design) -> Design:
    """The design with no mode in view: what is judged is the strongest that can be reached."""
    return replace(design, brief=replace(design.brief, mode="")) if design.brief.mode else design


def in_gear(resolved: Resolved, gear: int) -> Resolved:
    """The same drive in another of the bike's gears."""
    gears = resolved.variant.gears
    if gears is None or gear == resolved.gear:
        return resolved
    stages = (*resolved.stages[:-1], replace(resolved.stages[-1], ratio=gears.cogs[gear - 1] / gears.ring))
    reduction = combine(stages, motors=resolved.variant.motor.count)
    choice = replace(resolved.variant.stages[-1], driven_teeth=gears.cogs[gear - 1])
    variant = replace(resolved.variant, stages=(*resolved.variant.stages[:-1], choice))
    return replace(resolved, variant=variant, stages=stages, train=replace(resolved.train, reduction=reduction), gear=gear)


def lowest_gear(resolved: Resolved) -> Resolved:
    """The drive where it pulls most: in the bike's lowest gear, or as it is."""
    return in_gear(resolved, 1)


def gear_at(resolved: Resolved, speed_m_s: float) -> Resolved:
    """The drive in the gear that is ridden at a speed, or as it is."""
    gears = resolved.variant.gears
    return resolved if gears is None else in_gear(resolved, ridden_gear(gears, float(resolved.road.wheel_radius_m), speed_m_s))


def strongest_at(resolved: Resolved, speed_m_s: float, charge: float) -> Resolved:
    """The drive in the gear that pulls most at a speed, the highest of like ones; or as it is."""
    if resolved.variant.gears is None:
        return resolved
    every = [in_gear(resolved, gear) for gear in gears_of(resolved)]
    pulls = [float(edge(one.train, one.load, speed_m_s, one.emf_v(charge), air_c=one.air_c).drive_n) for one in every]
    return every[max(k for k, pull in enumerate(pulls) if pull >= 0.995 * max(pulls))]


def top_in_any_gear(resolved: Resolved, charge: float) -> float:
    """Top speed on the flat in the best gear [m/s]."""
    every = [in_gear(resolved, gear) for gear in gears_of(resolved)]
    wind = resolved.headwind_m_s
    found = [top_speed(one.train, one.load, one.emf_v(charge), headwind_m_s=wind, air_c=one.air_c, names=False) for one in every]
    return max(float(top.speed_m_s) for top in found)


def best_reach(batch: Sequence[Resolved], goals: Sequence[Goal]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(reached, seconds until hot) of a batch, in the gear that is best for each goal where there are gears; limits in the worst.

    A run through the gears is not shifted: a sprint counts in its best single gear.
    """
    spread = [(row, in_gear(one, gear)) for row, one in enumerate(batch) for gear in gears_of(one)]
    found = outlook([one for _, one in spread], goals)
    if len(spread) == len(batch):
        return found.reached, found.heat_s
    reached = np.full((len(batch), len(goals)), np.nan)
    heat = np.full(len(batch), np.nan)
    rows = np.array([row for row, _ in spread])
    for row in range(len(batch)):
        mine = found.reached[rows == row]
        for k, goal in enumerate(goals):
            least = goal.kind in LESS and not GOALS[goal.kind].limit
            known = mine[~np.isnan(mine[:, k]), k]
            if known.size:
                reached[row, k] = known.min() if least else known.max()
        hot = found.heat_s[rows == row]
        if not np.isnan(hot).all():
            heat[row] = np.nanmax(np.where(np.isinf(hot), np.inf, hot))
    return reached, heat


def gears_of(resolved: Resolved) -> tuple[int, ...]:
    """The gears that a drive has; one of them, whichever it is in, without."""
    gears = resolved.variant.gears
    return tuple(range(1, len(gears.cogs) + 1)) if gears is not None else (resolved.gear,)


class Judged(NamedTuple):
    """What a batch of designs reaches in the case that counts for each goal."""

    reached: NDArray[np.float64]  # (n, goals), SI
    heat_s: NDArray[np.float64]  # (n,)
    cases: list[list[str]]  # ids of the cases in which that is, as `reached`


def over_cases(
    designs: Sequence[Design],
    batch: Sequence[Resolved],
    goals: Sequence[Goal],
    reached: NDArray[np.float64],
    heat_s: NDArray[np.float64],
) -> Judged:
    """`reached` and `heat_s` are those of the case in view; the other cases are judged here, and for each goal that is taken
    which counts.

    All designs have the brief's cases in common.  A case that tips as it stands has a finding of its own: it counts only for goals
    that name it, and reaches nothing; nor does one that is not there.
    """
    reached = _beside_the_load(designs, batch, goals, reached)
    names = driven_cases(designs[0])
    asked = [k for k, goal in enumerate(goals) if goal.kind in CASED and not (goal.mode and GOALS[goal.kind].limit)]
    cases = [[one.case] * len(goals) for one in batch]
    if len(names) == 1 and {goals[k].case for k in asked} <= {"", USUAL}:
        return Judged(reached, heat_s, cases)
    by_case, heats = _in_each(designs, batch, [goals[k] for k in asked], reached[:, asked], heat_s, names)
    known = {USUAL, *(case.id for case in designs[0].brief.cases)}
    reached = reached.copy()
    rows = np.arange(len(batch))
    for at, k in enumerate(asked):
        goal, values = goals[k], by_case[:, :, at]
        if goal.case:
            reached[:, k] = values[names.index(goal.case)] if goal.case in names else np.nan
            taken = [goal.case if goal.case in known else ""] * len(batch)
        else:
            sign = 1.0 if goal.kind in LESS else -1.0
            worst = np.argmax(np.where(np.isnan(values), -np.inf, sign * values), axis=0)
            reached[:, k] = values[worst, rows]
            taken = [names[int(which)] for which in worst]
        for row, case in enumerate(taken):
            cases[row][k] = case
    climb = next((goal for goal in goals if goal.kind is GoalKind.CLIMB), None)
    if climb is not None and climb.case in names:
        return Judged(reached, heats[names.index(climb.case)], cases)
    soonest = np.min(np.where(np.isnan(heats), np.inf, heats), axis=0)
    return Judged(reached, np.where(np.isnan(heats).all(axis=0), np.nan, soonest), cases)


def _beside_the_load(
    designs: Sequence[Design], batch: Sequence[Resolved], goals: Sequence[Goal], reached: NDArray[np.float64]
) -> NDArray[np.float64]:
    """`reached` with the goals that ask for the vehicle itself, and with limits in the mode in which they hold."""
    whole = [k for k, goal in enumerate(goals) if goal.kind in (GoalKind.CARRY, GoalKind.PACKED)]
    held = [k for k, goal in enumerate(goals) if goal.mode and GOALS[goal.kind].limit]
    if not (whole or held):
        return reached
    reached = reached.copy()
    for k in whole:
        reached[:, k] = [of_the_whole(design, one, goals[k]) for design, one in zip(designs, batch, strict=True)]
    for k in held:
        modes = [in_mode(one, design, goals[k].mode) for one, design in zip(batch, designs, strict=True)]
        there = [one for one in modes if one is not None]
        reached[:, k] = best_reach(there, [goals[k]])[0][:, 0] if len(there) == len(batch) else np.nan
    return reached


def _in_each(
    designs: Sequence[Design],
    batch: Sequence[Resolved],
    goals: Sequence[Goal],
    reached: NDArray[np.float64],
    heat_s: NDArray[np.float64],
    names: Sequence[str],
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """What each design reaches in each case (cases, n, goals) and seconds until hot (cases, n); nan where the vehicle does not stand."""
    every = np.full((len(names), *reached.shape), np.nan)
    heats = np.full((len(names), len(batch)), np.nan)
    places: list[tuple[int, int]] = []
    others: list[Resolved] = []
    for row, one in enumerate(batch):
        for which, name in enumerate(names):
            if name == one.case:
                every[which, row], heats[which, row] = reached[row], heat_s[row]
                continue
            other = with_case(one, designs[row], name)
            if other is not None:
                places.append((which, row))
                others.append(other)
    if others:
        reached_there, heat_there = best_reach(others, goals)
        for (which, row), values, heat in zip(places, reached_there, heat_there, strict=True):
            every[which, row], heats[which, row] = values, heat
    return every, heats
