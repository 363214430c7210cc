"""Numbers of the drive that a search finds: how what was found hangs together there, by the same physics asked for one point.

A search leaves no equation behind.  Where it ended the physics is asked once more, in plain numbers; what comes out is taken only
where it is the number that the study has, to the last digits.  The rest stays as it is: worked out by steps.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from wattagon.design.tree import Goal, GoalKind
from wattagon.errors import WattagonError
from wattagon.physics.point import OperatingPoint
from wattagon.study.drive.cases import unheld
from wattagon.study.drive.dock import Dock
from wattagon.study.drive.goals import AT_FULL_THROTTLE, GoalResult
from wattagon.study.drive.study import DriveStudy, StateResult, point_at
from wattagon.study.resolve import Resolved
from wattagon.study.resolve.boat import DOCK_DEDUCTION
from wattagon.traced import GIVEN, STEPS, Traced, TracedInt, as_float

CLOSE = 1e-6  # of a value: what a search leaves open
BALANCE = "Found where the most that the drive gives is just what the speed takes. There:"


def with_workings(study: DriveStudy) -> DriveStudy:
    """The study with traced numbers where a search had dropped them; runs inside `taken_down`."""
    states = {name: _state(study.resolved, state) for name, state in study.states.items()}
    full = unheld(study.resolved)
    docks = {name: _dock(study.resolved, held, states[name]) for name, held in study.docks.items()}
    pulls = {states[name].charge: held.pull_n for name, held in docks.items()}
    goals = tuple(_goal(full, one, states, pulls) for one in study.goals)
    return _with(study, states=states, goals=goals, docks=docks)


def _dock(resolved: Resolved, held: Dock, state: StateResult) -> Dock:
    """Of a boat: the pull at rest with the deduction of a dock, and the turns and amps that go with it."""
    force: Any = state.standstill_force_n
    pull = taken(held.pull_n, force * (1.0 - DOCK_DEDUCTION) / (1.0 - resolved.load.deduction), "bollard_n")  # type: ignore[attr-defined]
    rest = _asked(resolved, 0.0, state.charge)
    return held._replace(
        pull_n=pull,
        motor_a=taken(held.motor_a, _numbers(rest, "motor_current_a"), "bollard_motor_a"),
        rpm=taken(held.rpm, rest.shafts[-1].speed_rad_s * 60.0 / math.tau if rest is not None else math.nan, "bollard_rpm"),
    )


def _state(resolved: Resolved, state: StateResult) -> StateResult:
    emf = resolved.emf_v(state.charge)
    rest = _asked(resolved, 0.0, state.charge)
    changes: dict[str, Any] = {"open_circuit_v": taken(state.open_circuit_v, emf, "open_circuit_v")}
    force = taken(state.standstill_force_n, _numbers(rest, "thrust_n"), "standstill_force_n")
    changes["standstill_force_n"] = force
    if resolved.load.kinematic:
        changes["wheel_torque_nm"] = taken(state.wheel_torque_nm, resolved.load.shaft_torque_nm(0.0, force), "wheel_torque_nm")
        grade = resolved.load.max_grade(force, 0.0, resolved.headwind_m_s)
        changes["max_grade"] = taken(state.max_grade, grade, "max_grade")
    speed, top = top_speed(resolved, state.top_speed_m_s, state.charge, 0.0)
    changes["top_speed_m_s"] = speed
    if top is not None:
        changes["top_speed_duty"] = taken(state.top_speed_duty, top.duty, "top_speed_duty")
        changes["power_at_top_w"] = taken(state.power_at_top_w, top.bus_w, "power_at_top_w")
    return _with(state, **changes)


def top_speed(resolved: Resolved, value: float, charge: float, grade: float) -> tuple[float, OperatingPoint | None]:
    """(a speed that a search found, with how it hangs together with the point there; that point), None where there is none."""
    if not (math.isfinite(value) and value > 0.0):
        return value, None
    # the point is asked at a number of its own, so that what follows does not lead back to itself
    found = Traced(float(value), STEPS, (), "speed that the search found")
    at = _asked(resolved, found, charge, grade, throttle=None)
    if at is None:
        return value, None
    train, load = resolved.train, resolved.load
    if load.kinematic:
        motor, current = train.motor, at.dc_current_a
        reactive = motor.reactive_volts(current, at.motor_rad_s)
        # what is left of the bridge's volts for the back-EMF, as turns, through the reduction to the ground
        square = at.motor_v**2 - reactive**2
        in_phase = Traced(math.sqrt(square), "sqrt", (square,))
        lost = (motor.resistance_ohm + train.controller.bridge_ohm) * current + motor.brush_drop_v
        turns = (in_phase - lost) / motor.loaded_constant(current)
        speed = load.speed_at_shaft(turns / train.reduction.ratio)
    else:
        lost = at.losses.controller + at.losses.motor + at.losses.reduction + at.losses.load
        speed = (at.bus_w - lost) / at.thrust_n
    return taken(value, speed, "top_speed_m_s", BALANCE), at


def _goal(resolved: Resolved, result: GoalResult, states: Any, pulls: Mapping[float, float]) -> GoalResult:
    goal, value = result.goal, result.reached
    target = _target(goal, result.target)
    if not math.isfinite(value):
        return _with(result, target=target)
    state = next((one for one in states.values() if one.charge == goal.charge), None)
    made: Any = value
    train, load = resolved.train, resolved.load
    if goal.kind in AT_FULL_THROTTLE and goal.kind is not GoalKind.CROSSING:
        charge = 1.0 if goal.kind is GoalKind.SPEED_LIMIT else goal.charge
        grade = goal.grade or 0.0 if goal.kind is GoalKind.CLIMB else 0.0
        along = (goal.current or 0.0) if goal.kind is GoalKind.UPSTREAM else 0.0
        speed, _ = top_speed(resolved, value + float(along), charge, grade)
        made = speed - along if along else speed
    elif goal.kind is GoalKind.START and state is not None:
        made = state.max_grade
    elif goal.kind is GoalKind.BOLLARD:
        made = pulls.get(goal.charge, value)
    elif goal.kind is GoalKind.SPRINT:
        rotors = train.count * train.motor.rotor_inertia_kg_m2
        mass = load.moving_mass_kg(rotors, train.reduction.ratio, train.reduction.efficiency, False)
        speed = goal.speed or 1.0
        mean = Traced(float(mass) * float(speed) / value, STEPS, (), "mean force left over, over the speeds")
        made = mass * speed / mean
    elif goal.kind is GoalKind.RANGE:
        top, bottom = resolved.window
        speed = goal.speed or 1.0
        charge = as_float(train.pack.capacity_ah) * 3600.0 * (top - bottom)
        mean = Traced(float(charge) * float(speed) / value, STEPS, (), "mean pack amps from full to empty")
        made = speed * charge / mean
    elif goal.kind is GoalKind.BUDGET:
        made = resolved.cost
    elif goal.kind is GoalKind.ADDED_MASS:
        made = resolved.drive_mass_kg
    return _with(result, target=target, reached=taken(value, made, "reached"))


def _target(goal: Goal, target: float) -> Any:
    """The field that asks for it."""
    for item in dataclasses.fields(goal):
        value = getattr(goal, item.name)
        if isinstance(value, (Traced, TracedInt)) and value.op == GIVEN and float(value) == float(target):
            return value
    return target


def _asked(resolved: Resolved, speed: float, charge: float, grade: float = 0.0, throttle: float | None = 1.0) -> OperatingPoint | None:
    try:
        return point_at(resolved, speed_m_s=speed, charge=charge, grade=grade, throttle=throttle)
    except WattagonError:
        return None


def _numbers(point: OperatingPoint | None, name: str) -> Any:
    return getattr(point, name) if point is not None else math.nan


def taken(value: float, made: Any, name: str, says: str = "") -> Any:
    """`made` in the place of a number that it is; the number itself where it is not, or has no trace."""
    if isinstance(made, TracedInt):
        made = as_float(made)
    if not isinstance(made, Traced) or not math.isfinite(value) or abs(float(made) - value) > CLOSE * abs(value):
        return value
    kept = Traced(float(made), made.op, made.args, made.name if made.op == GIVEN else name)
    kept.says = says or made.says
    return kept


def _with(record: Any, **changes: Any) -> Any:
    # the same numbers as before: no check is asked again
    return replace(record, **changes)
