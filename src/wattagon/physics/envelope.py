"""The edge of what a drive can do: largest thrust at each speed and the limit that binds; top speed, grades, time to a speed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, deepen
from wattagon.physics.load import Load
from wattagon.physics.powertrain import INDEX, LIMITS, Powertrain


@dataclass(frozen=True, slots=True, kw_only=True)
class Edge:
    """Largest thrust at each speed.  All arrays share one shape; `limit` indexes LIMITS."""

    speed_m_s: NDArray[np.float64]
    force_n: NDArray[np.float64]  # never below 0
    limit: NDArray[np.intp]
    dc_current_a: NDArray[np.float64]  # of one motor, at the edge before grip and lift take their part

    def limit_names(self) -> list[str]:
        """Names of the binding limits along the last axis of a one-dimensional edge."""
        return [LIMITS[k] for k in self.limit]


def edge(
    train: Powertrain,
    load: Load,
    speed_m_s: Num,
    emf_v: Num,
    *,
    burst: bool = True,
    grade: Num = 0.0,
    air_c: Num = 25.0,
    motor_share: Num = 1.0,
    caps: bool = True,
) -> Edge:
    """Largest thrust [N] at speeds of any shape that broadcasts with the train's fields and the pack emf.

    Each limit gives a thrust, the smallest wins and names the state.  A load whose shaft speed depends on thrust (a
    propeller) is solved by bisection on thrust with the same powertrain.  `caps` False leaves out grip and wheel lift.
    """
    load_caps = load.thrust_caps(grade) if caps else {}
    if not load.kinematic:
        return _edge_by_thrust(train, load, speed_m_s, emf_v, burst=burst, air_c=air_c, motor_share=motor_share, caps=load_caps)
    shaft = train.reduction.ratio * load.shaft_speed_rad_s(speed_m_s, 0.0)
    current, limit = train.largest_current(
        shaft, emf_v, burst=burst, vehicle_m_s=speed_m_s, air_c=air_c, motor_share=motor_share
    )
    per_newton = load.shaft_torque_nm(speed_m_s, 1.0)
    force = train.output_torque_nm(current, shaft) / per_newton
    red = train.reduction
    capacity = train.count * red.torque_ratio * red.efficiency * red.torque_capacity_nm / per_newton
    force, limit = _capped(force, limit, {"drivetrain": capacity, **load_caps})
    return Edge(
        speed_m_s=np.broadcast_to(np.asarray(speed_m_s, dtype=float), force.shape),
        force_n=np.maximum(force, 0.0),
        limit=limit,
        dc_current_a=current,
    )


def _capped(force: Num, limit: NDArray[np.intp], caps: dict[str, Num]) -> tuple[NDArray[np.float64], NDArray[np.intp]]:
    force = np.asarray(force, dtype=float)
    for name, cap in caps.items():
        tighter = np.asarray(cap) < force
        limit = np.where(tighter, INDEX[name], limit)
        force = np.where(tighter, cap, force)
    return force, limit


def _edge_by_thrust(
    train: Powertrain,
    load: Load,
    speed_m_s: Num,
    emf_v: Num,
    *,
    burst: bool,
    air_c: Num,
    motor_share: Num,
    caps: dict[str, Num],
) -> Edge:
    shape = np.broadcast_shapes(np.shape(speed_m_s), np.shape(emf_v), np.shape(train.motor.kv_rpm_per_v))
    low = np.zeros(shape)
    # no thrust needs more torque than the motors have at standstill
    still, _ = train.largest_current(0.0, emf_v, burst=burst, air_c=air_c, motor_share=motor_share)
    most = train.output_torque_nm(still, 0.0)
    high = np.full(shape, 1.0)
    for _ in range(60):
        high = np.where(load.shaft_torque_nm(speed_m_s, high) < most, 2.0 * high, high)
    for _ in range(50):
        middle = 0.5 * (low + high)
        shaft = train.reduction.ratio * load.shaft_speed_rad_s(speed_m_s, middle)
        current, limit = train.largest_current(
            shaft, emf_v, burst=burst, vehicle_m_s=speed_m_s, air_c=air_c, motor_share=motor_share
        )
        good = train.output_torque_nm(current, shaft) >= load.shaft_torque_nm(speed_m_s, middle)
        low, high = np.where(good, middle, low), np.where(good, high, middle)
    force, limit = _capped(low, limit, caps)
    return Edge(
        speed_m_s=np.broadcast_to(np.asarray(speed_m_s, dtype=float), force.shape),
        force_n=force,
        limit=limit,
        dc_current_a=current,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class TopSpeed:
    """Where thrust falls to the load, and what binds there; speed 0 when the drive cannot move off."""

    speed_m_s: NDArray[np.float64]
    limit: NDArray[np.intp]


def search_ceiling_m_s(train: Powertrain, load: Load, emf_v: Num) -> Num:
    """A speed [m/s] above which the drive gives no thrust."""
    if load.kinematic:
        per_speed = load.shaft_speed_rad_s(1.0, 0.0)
        return train.free_output_rad_s(emf_v) / per_speed
    return 60.0 + 0.0 * np.asarray(emf_v, dtype=float)


def top_speed(
    train: Powertrain,
    load: Load,
    emf_v: Num,
    *,
    grade: Num = 0.0,
    headwind_m_s: Num = 0.0,
    burst: bool = True,
    air_c: Num = 25.0,
    coarse: int = 48,
) -> TopSpeed:
    """First speed, scanning upwards from rest, at which the largest thrust falls to the load; broadcasts over all inputs.

    Two rounds of subdivision and a straight line through the last cell: relative error under 1e-8 (see the test).
    Where gravity or wind pushes past the drive's own reach, the speed at which the drive ends is given.
    """
    shape = np.broadcast_shapes(
        np.shape(emf_v), np.shape(grade), np.shape(headwind_m_s), np.shape(search_ceiling_m_s(train, load, emf_v))
    )
    deep_train, deep_load = deepen(train), deepen(load)
    emf, slope, wind = (np.asarray(x, dtype=float)[..., np.newaxis] for x in (emf_v, grade, headwind_m_s))
    low = np.zeros(shape + (1,))
    high = np.broadcast_to(np.asarray(search_ceiling_m_s(train, load, emf_v), dtype=float), shape)[..., np.newaxis]
    for round_ in range(3):
        share = np.linspace(0.0, 1.0, coarse if round_ == 0 else 25)
        speeds = low + (high - low) * share
        reach = edge(deep_train, deep_load, speeds, emf, burst=burst, grade=slope, air_c=air_c)
        spare = reach.force_n - deep_load.resistance_n(speeds, slope, wind)
        if round_ == 0:
            stuck = spare[..., :1] < 0.0
        spare[..., -1] = np.where(spare[..., -1] > 0, 0.0, spare[..., -1])
        down = spare <= 0.0
        down[..., 0] = False
        at = np.argmax(down, axis=-1)[..., np.newaxis]
        low = np.take_along_axis(speeds, at - 1, axis=-1)
        high = np.take_along_axis(speeds, at, axis=-1)
    spare_low = np.take_along_axis(spare, at - 1, axis=-1)
    spare_high = np.take_along_axis(spare, at, axis=-1)
    span = spare_low - spare_high
    with np.errstate(invalid="ignore", divide="ignore"):
        root = np.where(span > 0, low + (high - low) * spare_low / span, high)
    limit = np.take_along_axis(np.broadcast_to(reach.limit, spare.shape), at - 1, axis=-1)
    return TopSpeed(speed_m_s=np.where(stuck, 0.0, root)[..., 0], limit=limit[..., 0])


def time_to_speed(
    train: Powertrain,
    load: Load,
    emf_v: Num,
    target_m_s: Num,
    *,
    grade: Num = 0.0,
    headwind_m_s: Num = 0.0,
    air_c: Num = 25.0,
    points: int = 161,
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(seconds, metres) from rest to a speed at full command; inf where it is never reached.

    Source: t = integral of m_eff dv/(F_max - F_load), trapezoidal over `points`; emf, temperatures and boost frozen, which flatters
    runs longer than the boost time.
    """
    shape = np.broadcast_shapes(np.shape(emf_v), np.shape(target_m_s), np.shape(grade))
    deep_train, deep_load = deepen(train), deepen(load)
    emf, slope = (np.asarray(x, dtype=float)[..., np.newaxis] for x in (emf_v, grade))
    share = np.linspace(0.0, 1.0, points)
    speeds = np.broadcast_to(np.asarray(target_m_s, dtype=float), shape)[..., np.newaxis] * share
    reach = edge(deep_train, deep_load, speeds, emf, grade=slope, air_c=air_c)
    spare = reach.force_n - deep_load.resistance_n(speeds, slope, headwind_m_s)
    rotors = deep_train.count * deep_train.motor.rotor_inertia_kg_m2
    mass = deep_load.moving_mass_kg(rotors, deep_train.reduction.ratio, deep_train.reduction.efficiency, False)
    with np.errstate(divide="ignore", invalid="ignore"):
        per_speed = np.where(spare > 0, mass / spare, np.inf)
    reached = np.all(spare > 0, axis=-1)
    safe = np.where(reached[..., np.newaxis], per_speed, 0.0)
    seconds = np.where(reached, np.trapezoid(safe, speeds, axis=-1), np.inf)
    metres = np.where(reached, np.trapezoid(safe * speeds, speeds, axis=-1), np.inf)
    return seconds, metres


def grade_held(
    train: Powertrain, load: Load, emf_v: Num, speed_m_s: Num, *, burst: bool = True, headwind_m_s: Num = 0.0, air_c: Num = 25.0
) -> Num:
    """Steepest grade [rise/run] held at a speed, grip and lift on that grade included."""
    # grip and lift are left to max_grade, which weighs them on the grade itself
    free = edge(train, load, speed_m_s, emf_v, burst=burst, air_c=air_c, caps=False)
    return load.max_grade(free.force_n, speed_m_s, headwind_m_s)
