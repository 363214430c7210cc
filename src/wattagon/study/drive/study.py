"""The drive of a design: its edge at full, nominal and low pack, goals, and the operating point of a moment."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.goal_kinds import target_of
from wattagon.design.quantity import Known, weakest
from wattagon.design.tree import Design, GoalKind, Hull
from wattagon.physics.envelope import Edge, edge, search_ceiling_m_s, time_to_speed, top_speed
from wattagon.physics.held import holding
from wattagon.physics.holding import LONGEST_S, Hold
from wattagon.physics.point import OperatingPoint, operating_point
from wattagon.physics.powertrain import LIMITS
from wattagon.record import record
from wattagon.study.drive.cases import best_reach, gears_of, in_gear, over_cases, unheld
from wattagon.study.drive.dock import Dock, docks
from wattagon.study.drive.goals import EDGE_POINTS, GoalResult, from_top_speed, outlook, speed_queries
from wattagon.study.drive.water_lines import bubbling
from wattagon.study.resolve import CHARGE_STATES, Rating, Resolved, resolve
from wattagon.study.resolve.boat import propeller_depth_m, propeller_of

STATE_NAMES = tuple(CHARGE_STATES)


@record(frozen=True, slots=True, kw_only=True)
class StateResult:
    """The drive at one state of charge, level and with the wind of the brief."""

    name: str
    charge: float
    open_circuit_v: float
    no_load_speed_m_s: float
    top_speed_m_s: float
    top_speed_limited_by: str
    top_speed_duty: float
    power_at_top_w: float  # from the pack's terminals
    standstill_force_n: float
    standstill_limited_by: str
    wheel_torque_nm: float  # at standstill, all driven wheels together
    max_grade: float  # at standstill
    edge: Edge
    grade_held: NDArray[np.float64]  # steepest grade at each speed of the edge
    motor_current_a: NDArray[np.float64]  # along the edge, controller's amps of one motor
    pack_a: NDArray[np.float64]
    duty: NDArray[np.float64]
    pack_w: NDArray[np.float64]


@record(frozen=True, slots=True, kw_only=True)
class DriveStudy:
    """All that the drive bench, the findings and `solve` show."""

    design: Design
    resolved: Resolved
    states: Mapping[str, StateResult]
    lasting: Edge  # nominal pack, continuous limits and heat
    goals: tuple[GoalResult, ...]
    branches: tuple[tuple[int, NDArray[np.float64], NDArray[np.float64]], ...]  # nominal edge in each other gear: gear, speeds, thrust
    docks: Mapping[str, Dock]  # of a boat, by state of charge
    bubbles: Mapping[str, NDArray[np.bool_]]  # of a boat, by state of charge: where along its edge the blades bubble
    heat_s: float  # seconds until too hot on the first climb goal; nan without one
    known: Known  # the weakest of what it rests on
    assumptions: tuple[str, ...]  # paths of the inputs that nobody measured or stated


def study_drive(design: Design, stock: Catalogue, variant_id: str | None = None) -> DriveStudy:
    """The whole study of one variant.  Raises InputError or PathError with a sentence."""
    resolved = resolve(design, stock, variant_id, note=True)
    train, load, wind = resolved.train, resolved.load, resolved.headwind_m_s
    goals = design.brief.goals
    wanted, goal_charges, goal_grades = speed_queries(goals)
    sprints = [k for k, goal in enumerate(goals) if goal.kind is GoalKind.SPRINT]
    starts = [k for k, goal in enumerate(goals) if goal.kind is GoalKind.START]
    asked = {*goal_charges.tolist(), *(goals[k].charge for k in starts)}
    # one edge for all: full, nominal, low, then any other charge that a goal names, then one from rest to each sprint's speed
    charges = [*CHARGE_STATES.values(), *sorted(asked - set(CHARGE_STATES.values()))]
    emf = np.asarray(train.pack.emf_v(np.array([*charges, *(goals[k].charge for k in sprints)])), dtype=float)
    ceiling = np.array(np.broadcast_to(np.asarray(search_ceiling_m_s(train, load, emf), dtype=float), emf.shape))
    ceiling[len(charges) :] = [goals[k].speed for k in sprints]
    speeds = ceiling[:, np.newaxis] * np.linspace(0.0, 1.0, EDGE_POINTS)
    reach = edge(train, load, speeds, emf[:, np.newaxis], air_c=resolved.air_c)
    v_top, v_free, v_goals = _top_speeds(resolved, reach, emf, [charges.index(c) for c in goal_charges], goal_grades)
    grades = np.asarray(load.max_grade(reach.drive_n, speeds, wind))
    known = np.full((1, len(goals)), np.nan)
    known[0, wanted] = from_top_speed(goals, wanted, v_goals)
    for k in starts:
        known[0, k] = grades[charges.index(goals[k].charge), 0]
    held = docks(resolved, reach, STATE_NAMES)
    for k, goal in enumerate(goals):
        state = next((name for name, charge in CHARGE_STATES.items() if charge == goal.charge), "")
        if goal.kind is GoalKind.BOLLARD and state in held:
            known[0, k] = held[state].pull_n
    for row, k in enumerate(sprints, len(charges)):
        known[0, k] = time_to_speed(
            train,
            load,
            float(emf[row]),
            goals[k].speed or 1.0,
            headwind_m_s=wind,
            air_c=resolved.air_c,
            force_n=reach.force_n[row],
        )[0]
    emf, count = emf[: len(CHARGE_STATES)], len(CHARGE_STATES)
    # what flows along the edge where grip or lift take their part: the current that gives just that thrust
    current, volts, pack_a, duty = _flows(resolved, speeds[:count], reach.force_n[:count], reach.dc_current_a[:count], emf)
    # at the top speed thrust is just the load
    top_load = np.maximum(np.asarray(load.resistance_n(v_top, 0.0, wind)), 0.0)[:, np.newaxis]
    most = np.array([np.interp(v_top[k], speeds[k], reach.dc_current_a[k]) for k in range(count)])[:, np.newaxis]
    # pushed by the wind beyond what it can reach by itself, the motor gives what its edge leaves
    most = np.where((v_top[:, np.newaxis] > 0) & (top_load > 0), np.inf, most)
    _, top_v, top_a, top_duty = _flows(resolved, v_top[:, np.newaxis], top_load, most, emf)
    top_limits = [_limit_at_top(resolved, reach, k, float(v_top[k]), float(emf[k])) for k in range(count)]
    states = {}
    for k, (name, charge) in enumerate(CHARGE_STATES.items()):
        states[name] = StateResult(
            name=name,
            charge=charge,
            open_circuit_v=float(emf[k]),
            no_load_speed_m_s=float(v_free[k]),
            top_speed_m_s=float(v_top[k]),
            top_speed_limited_by=top_limits[k],
            top_speed_duty=float(top_duty[k, 0]),
            power_at_top_w=float(top_v[k, 0] * top_a[k, 0]),
            standstill_force_n=float(reach.force_n[k, 0]),
            standstill_limited_by=LIMITS[int(reach.limit[k, 0])],
            wheel_torque_nm=float(load.shaft_torque_nm(0.0, reach.force_n[k, 0])),
            max_grade=float(grades[k, 0]),
            edge=Edge(
                speed_m_s=speeds[k],
                force_n=reach.force_n[k],
                drive_n=reach.drive_n[k],
                limit=reach.limit[k],
                dc_current_a=current[k],
            ),
            grade_held=grades[k],
            motor_current_a=current[k] / train.motor.dc_per_motor_amp,
            pack_a=pack_a[k],
            duty=duty[k],
            pack_w=volts[k] * pack_a[k],
        )
    lasting = edge(train, load, speeds[1], emf[1], burst=False, air_c=resolved.air_c, hot_magnets=True)
    # goals are judged in the strongest mode, limits in that which they name, each in the load case that counts for it
    full = unheld(resolved)
    if full is resolved and not resolved.gear:
        found = outlook([full], goals, known=known)
        reached, heat_s = found.reached, found.heat_s
    else:
        reached, heat_s = best_reach([full], goals)
    judged = over_cases([design], [full], goals, reached, heat_s)
    return DriveStudy(
        design=design,
        resolved=resolved,
        states=states,
        lasting=lasting,
        goals=results(design, judged.reached[0], judged.cases[0]),
        branches=_branches(resolved),
        docks=held,
        bubbles=_bubbles(resolved, design.vehicle.hull, stock, speeds[:count], reach.force_n[:count]),
        heat_s=float(judged.heat_s[0]),
        known=weakest(item.known for item in resolved.inputs.values()),
        assumptions=tuple(path for path, item in resolved.inputs.items() if item.known is Known.ASSUMED),
    )


def _bubbles(
    resolved: Resolved, hull: Hull | None, stock: Catalogue, speeds: NDArray[np.float64], force_n: NDArray[np.float64]
) -> dict[str, NDArray[np.bool_]]:
    """Of a boat, by state of charge; none of a vehicle on wheels."""
    if hull is None:
        return {}
    choice, part = propeller_of(resolved.variant, stock)
    depth = propeller_depth_m(hull, choice)
    return dict(zip(STATE_NAMES, bubbling(resolved, speeds, force_n, part, part.diameter_m if depth is None else depth), strict=True))


BRANCH_POINTS = 60


def _branches(resolved: Resolved) -> tuple[tuple[int, NDArray[np.float64], NDArray[np.float64]], ...]:
    """The nominal edge in each gear that is not in view."""
    made = []
    for gear in gears_of(resolved):
        if gear == resolved.gear:
            continue
        other = in_gear(resolved, gear)
        emf = resolved.emf_v(CHARGE_STATES["nominal"])
        speeds = float(search_ceiling_m_s(other.train, other.load, emf)) * np.linspace(0.0, 1.0, BRANCH_POINTS)
        made.append((gear, speeds, np.asarray(edge(other.train, other.load, speeds, emf, air_c=other.air_c).force_n)))
    return tuple(made)


def _limit_at_top(resolved: Resolved, reach: Edge, row: int, v_top: float, emf: float) -> str:
    """What binds at the top speed: what binds around it, asked exactly only where that changes."""
    at = int(np.clip(np.searchsorted(reach.speed_m_s[row], v_top), 1, reach.speed_m_s.shape[1] - 1))
    below, above = int(reach.limit[row, at - 1]), int(reach.limit[row, at])
    if below == above:
        return LIMITS[below]
    return LIMITS[int(edge(resolved.train, resolved.load, v_top * (1.0 - 1e-9), emf, air_c=resolved.air_c).limit)]


def _top_speeds(
    resolved: Resolved, reach: Edge, emf: NDArray[np.float64], rows: list[int], grades: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """(top speed, no-load speed) at the charge states and the speeds that goals ask for, in one search."""
    n = len(CHARGE_STATES)
    row = np.array([*range(n), *range(n), *rows], dtype=int)
    on_road = np.ones(row.size)
    on_road[n : 2 * n] = 0.0  # with nothing to push: the no-load speed
    load = resolved.load.unloaded(on_road)
    scan = replace(reach, speed_m_s=reach.speed_m_s[row], drive_n=reach.drive_n[row])
    found = top_speed(
        resolved.train,
        load,
        emf[row],
        grade=np.concatenate([np.zeros(2 * n), grades]),
        headwind_m_s=resolved.headwind_m_s,
        air_c=resolved.air_c,
        names=False,
        scan=scan,
    ).speed_m_s
    return found[:n], found[n : 2 * n], found[2 * n :]


def _flows(
    resolved: Resolved,
    speeds: NDArray[np.float64],
    force_n: NDArray[np.float64],
    most_a: NDArray[np.float64],
    emf: NDArray[np.float64],
) -> tuple[NDArray[np.float64], ...]:
    """(DC-equivalent motor current, bus volts, pack amps, duty) that give a thrust, rows by pack emf."""
    train, load = resolved.train, resolved.load
    at = holding(train, load, speeds, thrust_n=force_n)
    current = np.clip(at.current_a, 0.0, most_a)
    volts, pack_a, duty, _ = train.bus(current, at.shaft_rad_s, emf[:, np.newaxis], train.pack_ohm(True))
    return current, np.asarray(volts), np.asarray(pack_a), np.asarray(duty)


def results(design: Design, reached: NDArray[np.float64], cases: Sequence[str]) -> tuple[GoalResult, ...]:
    """Goal results from reached values, and the load cases in which they are, in the order of the brief."""
    made = []
    for goal, value, case in zip(design.brief.goals, reached, cases, strict=True):
        target, dimension = target_of(goal)
        made.append(GoalResult(goal=goal, target=target, reached=float(value), dimension=dimension, case=case))
    return tuple(made)


def point_at(
    resolved: Resolved,
    *,
    speed_m_s: float,
    grade: float = 0.0,
    charge: float = 0.5,
    headwind_m_s: float | None = None,
    throttle: float | None = None,
    burst: bool = True,
) -> OperatingPoint:
    """The operating point of a moment."""
    return operating_point(
        resolved.train,
        resolved.load,
        resolved.stages,
        speed_m_s=speed_m_s,
        emf_v=resolved.emf_v(charge),
        grade=grade,
        headwind_m_s=resolved.headwind_m_s if headwind_m_s is None else headwind_m_s,
        throttle=throttle,
        burst=burst,
        air_c=resolved.air_c,
    )


def rated_pull(resolved: Resolved) -> tuple[float, Rating] | None:
    """(tread force at which the weakest belt or chain is at its rating [N], that rating); nothing in the drive stops there."""
    if not resolved.ratings:
        return None
    weakest_one = min(resolved.ratings, key=lambda rating: rating.rated_nm)
    train = resolved.train
    out = float(train.count) * float(train.reduction.output_torque_nm(weakest_one.rated_nm))
    return float(resolved.load.thrust_n(0.0, out)), weakest_one


def winding_outlook(resolved: Resolved, point: OperatingPoint) -> tuple[float, float]:
    """(settled winding temperature [C], seconds from cold until its limit) if a moment lasts; the other of the two is nan or inf."""
    train, heat = resolved.train, resolved.train.heat
    assert heat is not None
    hold = Hold(
        motor=train.motor,
        heat=heat,
        shaft_nm=point.shaft_nm,
        shaft_rad_s=point.motor_rad_s,
        speed_m_s=point.speed_m_s,
        ceiling_a=max(abs(point.dc_current_a), train.motor.dc_per_motor_amp * float(train.controller.motor_current_a)),
        air_c=resolved.air_c,
    )
    seconds = float(hold.time_to_limit_s())
    return (float(hold.at(LONGEST_S)[0]), seconds) if seconds == float("inf") else (float("nan"), seconds)


def needed_along(resolved: Resolved, speeds: NDArray[np.float64] | float, grade: float, charge: float) -> dict[str, NDArray[np.float64]]:
    """What holding each speed on a grade takes: motor amps, pack amps, pack watts, duty; whether the drive can is not asked."""
    train, load = resolved.train, resolved.load
    at = holding(train, load, speeds, grade=grade, headwind_m_s=resolved.headwind_m_s)
    current = np.maximum(np.asarray(at.current_a), 0.0)
    volts, pack_a, duty, _ = train.bus(current, at.shaft_rad_s, resolved.emf_v(charge), train.pack_ohm(True))
    return {
        "motor_a": current / train.motor.dc_per_motor_amp,
        "pack_a": np.asarray(pack_a),
        "pack_w": np.asarray(volts * pack_a),
        "duty": np.asarray(duty),
    }


def free_shaft_rad_s(study: DriveStudy) -> float:
    """Motor speed with nothing to push on a full pack [rad/s]: a wheel in the air, a propeller out of the water."""
    speed = study.states["full"].no_load_speed_m_s
    return float(study.resolved.train.reduction.ratio * study.resolved.load.shaft_speed_rad_s(speed, 0.0))


def climb_goals(design: Design) -> list[tuple[float, float]]:
    """(speed, grade) of the climbing goals."""
    return [(goal.speed or 0.0, goal.grade or 0.0) for goal in design.brief.goals if goal.kind is GoalKind.CLIMB]
