"""The edge of what a drive can do: largest thrust at each speed and the limit that binds; top speed, grades, time to a speed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, deepen, deeper
from wattagon.physics.load import Load
from wattagon.physics.powertrain import INDEX, LIMITS, Powertrain, Supply
from wattagon.record import record

_COARSE, _FINE = np.linspace(0.0, 1.0, 32), np.linspace(0.0, 1.0, 12)  # cells of the search for the top speed
_FINE_ON_WATER = np.linspace(0.0, 1.0, 80)  # tables of propellers have corners, so the last cells are smaller, in no more rounds
_STEPS_ON_WATER = np.linspace(0.0, 1.0, 301)  # of a hull, so that no hump is stepped over
SHAFTS, EVERY, SECANTS, FALSE_POSITIONS, CLOSE = 24, 20, 5, 60, 1e-9
_SHAFTS = np.linspace(0.0, 1.0, (SHAFTS - 1) * EVERY + 1)  # of the table of the motors' torque; every 20th brackets


@record(frozen=True, slots=True, kw_only=True)
class Edge:
    """Largest thrust at each speed.  All arrays share one shape; `limit` indexes LIMITS."""

    speed_m_s: NDArray[np.float64]
    force_n: NDArray[np.float64]  # never below 0
    drive_n: NDArray[np.float64]  # the drive's own thrust, a roller's slip included, before grip and wheel lift take their part
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
    hot_magnets: bool = False,
) -> Edge:
    """Largest thrust [N] at speeds of any shape that broadcasts with the train's fields and the pack emf.

    Each limit gives a thrust, the smallest wins and names the state.  A load whose shaft speed depends on thrust (a
    propeller) is solved by bisection on thrust with the same powertrain.  `caps` False leaves out grip and wheel lift;
    `hot_magnets` takes them as warm as they get where heat binds, instead of as cold as at the start.
    """
    supply = train.supply(emf_v, burst=burst)
    current, force, limit = _drive_force(train, load, speed_m_s, supply, air_c=air_c, motor_share=motor_share, hot_magnets=hot_magnets)
    assert limit is not None
    drive_n = force
    for name, cap in (load.thrust_caps(grade) if caps else {}).items():
        limit = np.where(np.asarray(cap) < force, INDEX[name], limit)
        force = np.minimum(force, cap)
    return Edge(
        speed_m_s=np.broadcast_to(np.asarray(speed_m_s, dtype=float), force.shape),
        force_n=np.maximum(force, 0.0),
        drive_n=np.maximum(drive_n, 0.0),
        limit=limit,
        dc_current_a=current,
    )


def largest_force_n(
    train: Powertrain, load: Load, speed_m_s: Num, supply: Supply, *, grade: Num = 0.0, air_c: Num = 25.0
) -> NDArray[np.float64]:
    """Only the thrust of `edge` [N], never below 0, for a supply worked out before."""
    _, force, _ = _drive_force(train, load, speed_m_s, supply, air_c=air_c, names=False)
    for cap in load.thrust_caps(grade).values():
        force = np.minimum(force, cap)
    return np.maximum(force, 0.0)


def _drive_force(
    train: Powertrain,
    load: Load,
    speed_m_s: Num,
    supply: Supply,
    *,
    air_c: Num,
    motor_share: Num = 1.0,
    names: bool = True,
    hot_magnets: bool = False,
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.intp] | None]:
    """(motor current, thrust, limit) of the drive itself, a roller's slip included; ratings of belts and gears hold nothing back."""
    if not load.kinematic:
        return _by_shaft(train, load, speed_m_s, supply, air_c=air_c, motor_share=motor_share)
    shaft = train.reduction.ratio * load.shaft_speed_rad_s(speed_m_s, 0.0)
    current, limit = train.largest_current(shaft, supply, vehicle_m_s=speed_m_s, air_c=air_c, motor_share=motor_share, names=names)
    if hot_magnets and train.heat is not None and limit is not None:
        case = train.heat.case_at_limit_c(train.motor, shaft, speed_m_s, air_c)
        train = replace(train, motor=train.motor.at(magnet_c=np.where(limit == INDEX["thermal"], case, 20.0)))
    per_newton = load.shaft_torque_nm(speed_m_s, 1.0)
    force = np.asarray(train.output_torque_nm(current, shaft) / per_newton)
    slip = train.count * train.reduction.slip_nm / per_newton
    if names:
        limit = np.where(np.asarray(slip) < force, INDEX["roller"], np.asarray(limit))
    return current, np.minimum(force, slip), limit


def _by_shaft(
    train: Powertrain, load: Load, speed_m_s: Num, supply: Supply, *, air_c: Num, motor_share: Num
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.intp] | None]:
    """The same for a load whose shaft speed grows with thrust: what the motors have to spare falls with their speed.

    Found first with the motors' torque from a table, which is the same whatever the boat does, then by secants; where that does not
    hold, as with heat that goes with the way, by the rule of false position.
    """
    top = np.asarray(train.free_output_rad_s(supply.emf_v), dtype=float)
    ratio = train.reduction.ratio
    shape = np.broadcast_shapes(np.shape(speed_m_s), np.shape(supply.limit_a), np.shape(train.motor.kv_rpm_per_v), np.shape(top))

    def drive(turning: NDArray[np.float64], names: bool = False) -> tuple[NDArray[np.float64], NDArray[np.intp] | None, Num]:
        shaft = ratio * turning
        current, limit = train.largest_current(shaft, supply, vehicle_m_s=speed_m_s, air_c=air_c, motor_share=motor_share, names=names)
        return current, limit, train.output_torque_nm(current, shaft)

    def spare(turning: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.asarray(drive(turning)[2] - load.turned(speed_m_s, turning)[0])

    deep, share = deepen(train), deeper(motor_share)
    grid = _SHAFTS * top[..., np.newaxis]
    known, _ = deep.largest_current(deep.reduction.ratio * grid, deepen(supply), air_c=deeper(air_c), motor_share=share, names=False)
    given = np.asarray(deep.output_torque_nm(known, deep.reduction.ratio * grid))
    coarse = slice(None, None, EVERY)
    left = given[..., coarse] - deepen(load).turned(np.asarray(speed_m_s, dtype=float)[..., np.newaxis], grid[..., coarse])[0]
    k = np.clip(np.argmax(np.broadcast_to(left, (*shape, SHAFTS)) < 0.0, axis=-1), 1, SHAFTS - 1)[..., np.newaxis]
    at_low, at_high = (np.take_along_axis(np.broadcast_to(left, (*shape, SHAFTS)), n, axis=-1)[..., 0] for n in (k - 1, k))
    table, step = np.broadcast_to(given, (*shape, given.shape[-1])), np.broadcast_to(top / (SHAFTS - 1), shape)
    cell = step / EVERY

    def roughly(turning: NDArray[np.float64]) -> NDArray[np.float64]:
        place = turning / cell
        n = np.minimum(place.astype(np.intp), table.shape[-1] - 2)
        begin, end = (np.take_along_axis(table, m[..., np.newaxis], axis=-1)[..., 0] for m in (n, n + 1))
        return np.asarray(begin + (place - n) * (end - begin) - load.turned(speed_m_s, turning)[0])

    scale = np.maximum(np.abs(np.broadcast_to(left[..., 0], shape)), 1e-9)
    turning = _false_position(roughly, (k[..., 0] - 1) * step, k[..., 0] * step, at_low, at_high, 1e-6 * top, 1e-6 * scale)
    aside = np.minimum(turning + cell, top)
    slope = np.minimum((roughly(aside) - roughly(aside - cell)) / cell, -1e-30)
    # nothing is left at rest where the motors do not turn the propellers at all
    none = np.broadcast_to(left[..., 0], shape) <= 0.0
    before, was, wrong = turning, spare(turning), none
    turning = np.clip(turning - was / slope, 0.0, top)
    for n in range(SECANTS):
        current, limit, gives = drive(turning, names=True)
        here = np.asarray(gives - load.turned(speed_m_s, turning)[0])
        wrong = (np.abs(here) > CLOSE * scale) & ~none
        if not wrong.any() or n == SECANTS - 1:
            break
        run = turning - before
        far = np.abs(run) > 1e-12 * top
        rise = np.where(far, (here - was) / np.where(far, run, 1.0), slope)
        before, was = turning, here
        turning = np.where(wrong, np.clip(turning - here / np.where(rise < 0.0, rise, slope), 0.0, top), turning)
    if wrong.any():
        # what is left lies between the last two where they stand on either side, as at a corner; the rest keeps its place
        either = wrong & (here * was < 0.0)
        low = np.where(either, np.minimum(before, turning), np.where(wrong, 0.0, turning))
        high = np.where(either, np.maximum(before, turning), np.where(wrong, np.broadcast_to(top, shape), turning))
        at_low, at_high = (np.where(wrong, spare(end), 0.0) for end in (low, high))
        none = np.where(wrong, at_low <= 0.0, none)
        turning = _false_position(spare, low, high, at_low, at_high, CLOSE * top, CLOSE * scale)
        current, limit, _ = drive(turning, names=True)
    turning = np.where(none, 0.0, turning)
    if np.any(none):
        current, limit, _ = drive(turning, names=True)
    return current, np.where(none, 0.0, np.maximum(load.turned(speed_m_s, turning)[1], 0.0)), limit


def _false_position(
    spare: Callable[[NDArray[np.float64]], NDArray[np.float64]],
    low: NDArray[np.float64],
    high: NDArray[np.float64],
    at_low: NDArray[np.float64],
    at_high: NDArray[np.float64],
    near: Num,
    small: Num,
) -> NDArray[np.float64]:
    """Root of what falls from low to high, until the bracket is `near` narrow or what is left is `small`.

    The rule of false position; an end that stays counts for half the next time (Illinois).
    """
    side, none, middle, here = np.zeros(low.shape), at_low <= 0.0, low, at_low
    for _ in range(FALSE_POSITIONS):
        span = at_low - at_high
        middle = np.where(span > 0.0, (low * -at_high + high * at_low) / np.where(span > 0.0, span, 1.0), low)
        here = spare(middle)
        good = here >= 0.0
        at_high = np.where(good, np.where(side > 0.0, 0.5 * at_high, at_high), here)
        at_low = np.where(good, here, np.where(side < 0.0, 0.5 * at_low, at_low))
        low, high, side = np.where(good, middle, low), np.where(good, high, middle), np.where(good, 1.0, -1.0)
        if np.all((high - low <= near) | (np.abs(here) <= small) | none):
            break
    return middle


@record(frozen=True, slots=True, kw_only=True)
class TopSpeed:
    """Where thrust falls to the load, and what binds there; speed 0 when the drive cannot move off."""

    speed_m_s: NDArray[np.float64]
    limit: NDArray[np.intp]


def search_ceiling_m_s(train: Powertrain, load: Load, emf_v: Num) -> Num:
    """A speed [m/s] above which the drive gives no thrust."""
    return load.speed_at_shaft(train.free_output_rad_s(emf_v))


def top_speed(
    train: Powertrain,
    load: Load,
    emf_v: Num,
    *,
    grade: Num = 0.0,
    headwind_m_s: Num = 0.0,
    burst: bool = True,
    air_c: Num = 25.0,
    names: bool = True,
    scan: Edge | None = None,
) -> TopSpeed:
    """First speed, scanning upwards from rest, at which the largest thrust falls to the load; broadcasts over all inputs.

    Rounds of subdivision and a straight line through the last cell, at most 1/41,000 of the range: error under 1e-7 (see the test).
    `scan` is an edge from rest to the drive's own end with the same leading shape, if one is at hand: it saves the first rounds.
    Where gravity or wind pushes past the drive's own reach, the speed at which the drive ends is given.
    """
    shape = np.broadcast_shapes(
        np.shape(emf_v), np.shape(search_ceiling_m_s(train, load, emf_v)), np.shape(load.resistance_n(0.0, grade, headwind_m_s))
    )
    deep_train, deep_load = deepen(train), deepen(load)
    emf, slope, wind = (np.asarray(x, dtype=float)[..., np.newaxis] for x in (emf_v, grade, headwind_m_s))
    air = deeper(air_c)
    supply = deep_train.supply(emf, burst=burst)
    low = np.zeros((*shape, 1))
    high = np.broadcast_to(np.asarray(search_ceiling_m_s(train, load, emf_v), dtype=float), shape)[..., np.newaxis]
    stuck = np.zeros(shape, dtype=bool)
    fine, rounds = (_FINE if load.kinematic else _FINE_ON_WATER), 4
    for round_ in range(rounds if scan is None else rounds - 1):
        if round_ == 0 and scan is not None:
            speeds = np.broadcast_to(scan.speed_m_s, (*shape, scan.speed_m_s.shape[-1]))
            spare = scan.drive_n
            for cap in deep_load.thrust_caps(slope).values():
                spare = np.minimum(spare, cap)
            spare = spare - deep_load.resistance_n(speeds, slope, wind)
        else:
            first = _COARSE if load.rises else _STEPS_ON_WATER
            speeds = low + (high - low) * (first if round_ == 0 else fine)
            spare = np.asarray(_spare(deep_train, deep_load, speeds, supply, slope, wind, air))
        spare = np.broadcast_to(spare, speeds.shape)
        if round_ == 0:
            stuck = spare[..., 0] < 0.0
        down = spare <= 0.0
        down[..., 0], down[..., -1] = False, True
        at = np.argmax(down, axis=-1)[..., np.newaxis]
        low = np.take_along_axis(speeds, at - 1, axis=-1)
        high = np.take_along_axis(speeds, at, axis=-1)
    spare_low, spare_high = (np.take_along_axis(spare, k, axis=-1) for k in (at - 1, at))
    span = spare_low - np.minimum(spare_high, 0.0)
    with np.errstate(invalid="ignore", divide="ignore"):
        root = np.where(span > 0, low + (high - low) * spare_low / span, high)[..., 0]
    found = np.where(stuck, 0.0, root)
    if not names:
        return TopSpeed(speed_m_s=found, limit=np.zeros(shape, dtype=np.intp))
    just_below = edge(train, load, low[..., 0], emf_v, burst=burst, grade=grade, air_c=air_c)
    return TopSpeed(speed_m_s=found, limit=np.broadcast_to(just_below.limit, shape))


def _spare(train: Powertrain, load: Load, speeds: Num, supply: Supply, grade: Num, wind: Num, air_c: Num) -> Num:
    """What a drive has over what a speed takes: thrust [N]; of propellers torque [N m] at the turns that hold it, of the same sign."""
    asked = load.resistance_n(speeds, grade, wind)
    if load.kinematic:
        return largest_force_n(train, load, speeds, supply, grade=grade, air_c=air_c) - asked
    asked = np.maximum(asked, 0.0)
    taken, turning = load.shaft(speeds, asked)
    shaft = train.reduction.ratio * turning
    current, _ = train.largest_current(shaft, supply, vehicle_m_s=speeds, air_c=air_c, names=False)
    return train.output_torque_nm(current, shaft) - taken


SPRINT_POINTS = 120  # from rest to the speed of a sprint, at first
SPRINT_TOLERANCE = 3e-4  # share of the time; four times as many points are taken until half of them give the same
SPRINT_FINEST = 64


def time_to_speed(
    train: Powertrain,
    load: Load,
    emf_v: Num,
    target_m_s: Num,
    *,
    grade: Num = 0.0,
    headwind_m_s: Num = 0.0,
    air_c: Num = 25.0,
    force_n: NDArray[np.float64] | None = None,
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(seconds, metres) from rest to a speed at full command; inf where it is never reached.

    `force_n` is the largest thrust at SPRINT_POINTS even speeds from rest to the target, if it is at hand.
    Source: t = integral of m_eff dv/(F_max - F_load); emf, temperatures and boost frozen, which flatters runs longer than the boost
    time.  Thrust left over is taken as a straight line in each cell, so that the long tail below the top speed is integrated exactly.
    """
    shape = np.broadcast_shapes(np.shape(emf_v), np.shape(target_m_s), np.shape(grade))
    deep_train, deep_load = deepen(train), deepen(load)
    emf, slope = (np.asarray(x, dtype=float)[..., np.newaxis] for x in (emf_v, grade))
    wind, air = deeper(headwind_m_s), deeper(air_c)
    target = np.broadcast_to(np.asarray(target_m_s, dtype=float), shape)[..., np.newaxis]
    rotors = deep_train.count * deep_train.motor.rotor_inertia_kg_m2
    mass = np.asarray(deep_load.moving_mass_kg(rotors, deep_train.reduction.ratio, deep_train.reduction.efficiency, False), dtype=float)

    points, force = SPRINT_POINTS, force_n
    while True:
        speeds = target * np.linspace(0.0, 1.0, points)
        if force is None:
            force = largest_force_n(deep_train, deep_load, speeds, deep_train.supply(emf), grade=slope, air_c=air)
        spare = np.asarray(force - deep_load.resistance_n(speeds, slope, wind), dtype=float)
        reached = np.all(spare > 0, axis=-1)
        left = np.where(reached[..., np.newaxis], spare, 1.0)
        seconds, metres = _integrate(speeds, left)
        coarse = [*range(0, points - 1, 2), points - 1]
        wrong = np.abs(_integrate(speeds[..., coarse], left[..., coarse])[0] - seconds)
        if points > SPRINT_FINEST * SPRINT_POINTS or not np.any(reached & (wrong > SPRINT_TOLERANCE * seconds)):
            break
        points, force = 4 * points, None
    per = np.broadcast_to(mass, (*seconds.shape, 1))[..., 0]
    return np.where(reached, seconds * per, np.inf), np.where(reached, metres * per, np.inf)


def _integrate(speeds: NDArray[np.float64], spare: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """(integral of dv/s, integral of v dv/s) over the last axis, s a straight line in each cell; s above 0."""
    low, high, step = spare[..., :-1], spare[..., 1:], np.diff(speeds, axis=-1)
    change = high / low - 1.0
    near = np.abs(change) < 1e-4
    safe = np.where(near, 1.0, change)
    # ln(1 + x)/x and, for the distance, (1 - ln(1 + x)/x)/x; their series where x is small
    first = np.where(near, 1.0 - change / 2.0 + change**2 / 3.0, np.log1p(safe) / safe)
    second = np.where(near, 0.5 - change / 3.0, (1.0 - np.log1p(safe) / safe) / safe)
    cell = step / low
    return (cell * first).sum(axis=-1), (cell * (speeds[..., :-1] * first + step * second)).sum(axis=-1)


def grade_held(
    train: Powertrain, load: Load, emf_v: Num, speed_m_s: Num, *, burst: bool = True, headwind_m_s: Num = 0.0, air_c: Num = 25.0
) -> Num:
    """Steepest grade [rise/run] held at a speed, grip and lift on that grade included."""
    # grip and lift are left to max_grade, which weighs them on the grade itself
    _, force, _ = _drive_force(train, load, speed_m_s, train.supply(emf_v, burst=burst), air_c=air_c, names=False)
    return load.max_grade(np.maximum(force, 0.0), speed_m_s, headwind_m_s)
