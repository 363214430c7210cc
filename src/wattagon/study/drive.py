"""The drive of a design: its edge at full, nominal and low pack, goals, and the operating point of a moment."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.quantity import Known, weakest
from wattagon.design.tree import Design, GoalKind
from wattagon.physics.envelope import Edge, edge, search_ceiling_m_s, top_speed
from wattagon.physics.point import OperatingPoint, operating_point
from wattagon.physics.powertrain import LIMITS
from wattagon.study.goals import GoalResult, outlook, target_of
from wattagon.study.resolve import CHARGE_STATES, Resolved, resolve

EDGE_POINTS = 160
STATE_NAMES = tuple(CHARGE_STATES)


@dataclass(frozen=True, slots=True, kw_only=True)
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


@dataclass(frozen=True, slots=True, kw_only=True)
class DriveStudy:
    """All that the drive bench, the findings and `solve` show."""

    design: Design
    resolved: Resolved
    states: Mapping[str, StateResult]
    lasting: Edge  # nominal pack, continuous limits and heat
    goals: tuple[GoalResult, ...]
    heat_s: float  # seconds until too hot on the first climb goal; nan without one
    known: Known  # the weakest of what it rests on

    @property
    def assumptions(self) -> list[str]:
        """Paths of the inputs that nobody measured or stated."""
        return [path for path, item in self.resolved.inputs.items() if item.known is Known.ASSUMED]


def study_drive(design: Design, stock: Catalogue, variant_id: str | None = None) -> DriveStudy:
    """The whole study of one variant.  Raises InputError or PathError with a sentence."""
    resolved = resolve(design, stock, variant_id, note=True)
    train, road, wind = resolved.train, resolved.road, resolved.headwind_m_s
    charges = np.array(list(CHARGE_STATES.values()))
    emf = np.asarray(train.pack.emf_v(charges), dtype=float)
    free = top_speed(train, replace(road, rolling=0.0, drag_area_m2=0.0), emf, air_c=resolved.air_c)
    top = top_speed(train, road, emf, headwind_m_s=wind, air_c=resolved.air_c)
    ceiling = np.broadcast_to(np.asarray(search_ceiling_m_s(train, road, emf), dtype=float), emf.shape)
    speeds = ceiling[:, np.newaxis] * np.linspace(0.0, 1.0, EDGE_POINTS)
    deep_emf = emf[:, np.newaxis]
    reach = edge(train, road, speeds, deep_emf, air_c=resolved.air_c)
    bare = edge(train, road, speeds, deep_emf, air_c=resolved.air_c, caps=False)
    grades = road.max_grade(bare.force_n, speeds, wind)
    # what flows along the edge where grip or lift take their part: the current that gives just that thrust
    shaft = train.reduction.ratio * road.shaft_speed_rad_s(speeds, 0.0)
    wanted = train.current_for_output_a(reach.force_n * road.wheel_radius_m, shaft)
    current = np.clip(wanted, 0.0, reach.dc_current_a)
    volts, pack_a, duty, _ = train.bus(current, shaft, deep_emf, train.pack_ohm(True))
    states = {}
    for k, (name, charge) in enumerate(CHARGE_STATES.items()):
        v_top = float(top.speed_m_s[k])
        at_top = operating_point(
            train, road, resolved.stages, speed_m_s=max(v_top * (1 - 1e-9), 0.0), emf_v=float(emf[k]), headwind_m_s=wind,
            air_c=resolved.air_c,
        )  # fmt: skip
        # the limit on the thrust that is missing at the top, or at standstill when it cannot move off
        limit = LIMITS[int(top.limit[k])] if v_top > 0 else LIMITS[int(reach.limit[k, 0])]
        states[name] = StateResult(
            name=name,
            charge=charge,
            open_circuit_v=float(emf[k]),
            no_load_speed_m_s=float(free.speed_m_s[k]),
            top_speed_m_s=v_top,
            top_speed_limited_by=limit,
            top_speed_duty=at_top.duty,
            power_at_top_w=at_top.bus_w,
            standstill_force_n=float(reach.force_n[k, 0]),
            standstill_limited_by=LIMITS[int(reach.limit[k, 0])],
            wheel_torque_nm=float(reach.force_n[k, 0]) * float(road.wheel_radius_m),
            max_grade=float(grades[k, 0]),
            edge=Edge(
                speed_m_s=speeds[k], force_n=reach.force_n[k], limit=reach.limit[k], dc_current_a=current[k]
            ),
            grade_held=grades[k],
            motor_current_a=current[k] / train.motor.dc_per_motor_amp,
            pack_a=pack_a[k],
            duty=duty[k],
            pack_w=volts[k] * pack_a[k],
        )  # fmt: skip
    lasting = edge(train, road, speeds[1], emf[1], burst=False, air_c=resolved.air_c)
    goals, heat_s = judge(design, resolved)
    return DriveStudy(
        design=design,
        resolved=resolved,
        states=states,
        lasting=lasting,
        goals=goals,
        heat_s=heat_s,
        known=weakest(item.known for item in resolved.inputs.values()),
    )


def judge(design: Design, resolved: Resolved) -> tuple[tuple[GoalResult, ...], float]:
    """(goal results, seconds until too hot on the first climb) of one variant."""
    found = outlook([resolved], design.brief.goals)
    return results(design, found.reached[0]), float(found.heat_s[0])


def results(design: Design, reached: NDArray[np.float64]) -> tuple[GoalResult, ...]:
    """Goal results from reached values in the order of the brief."""
    made = []
    for goal, value in zip(design.brief.goals, reached, strict=True):
        target, dimension = target_of(goal)
        made.append(GoalResult(goal=goal, target=target, reached=float(value), dimension=dimension))
    return tuple(made)


def point_at(
    resolved: Resolved, *, speed_m_s: float, grade: float = 0.0, charge: float = 0.5, headwind_m_s: float | None = None,
    throttle: float | None = None, burst: bool = True,
) -> OperatingPoint:  # fmt: skip
    """The operating point of a moment."""
    return operating_point(
        resolved.train, resolved.road, resolved.stages, speed_m_s=speed_m_s, emf_v=resolved.emf_v(charge), grade=grade,
        headwind_m_s=resolved.headwind_m_s if headwind_m_s is None else headwind_m_s, throttle=throttle, burst=burst,
        air_c=resolved.air_c,
    )  # fmt: skip


def needed_along(
    resolved: Resolved, speeds: NDArray[np.float64], grade: float, charge: float
) -> dict[str, NDArray[np.float64]]:
    """What holding each speed on a grade takes: motor amps, pack amps, pack watts, duty; nan where the drive cannot."""
    train, road = resolved.train, resolved.road
    emf = resolved.emf_v(charge)
    force = np.asarray(road.resistance_n(speeds, grade, resolved.headwind_m_s), dtype=float)
    reach = edge(train, road, speeds, emf, grade=grade, air_c=resolved.air_c)
    shaft = train.reduction.ratio * road.shaft_speed_rad_s(speeds, 0.0)
    current = np.maximum(np.asarray(train.current_for_output_a(force * road.wheel_radius_m, shaft)), 0.0)
    volts, pack_a, duty, _ = train.bus(current, shaft, emf, train.pack_ohm(True))
    held = force <= reach.force_n * (1 + 1e-9)
    return {
        "motor_a": np.where(held, current / train.motor.dc_per_motor_amp, math.nan),
        "pack_a": np.where(held, pack_a, math.nan),
        "pack_w": np.where(held, volts * pack_a, math.nan),
        "duty": np.where(held, duty, math.nan),
    }


def climb_goals(design: Design) -> list[tuple[float, float]]:
    """(speed, grade) of the climbing goals."""
    return [(goal.speed or 0.0, goal.grade or 0.0) for goal in design.brief.goals if goal.kind is GoalKind.CLIMB]
