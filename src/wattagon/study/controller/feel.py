"""What the rider feels in time when the lever is pushed, let go, braked: pull, g, jerk, belt, front wheel.

Command by ramps and curve, current mode: command times motor amps, under the edge that pack, duty and rating leave.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.kinds import KINDS, Bearing
from wattagon.design.tree import Design
from wattagon.physics.brakes import brake_force
from wattagon.physics.envelope import edge
from wattagon.physics.road import GRAVITY
from wattagon.physics.throttle import Ramps, Shape, slew
from wattagon.record import record
from wattagon.study.controller.throttle import Mapped
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.resolve import Resolved

STEP_S, LONG_S, AT_S, POINTS = 0.002, 2.4, 0.3, 80
COARSE_S = 0.005  # of the search for a gentle ramp
CHARGE = 0.8
JERK_OVER_S = 0.05  # a body is as quick as that


# level that people bear, and how quickly it may come; typical
RIDERS = (
    ("standing, unprepared", 1.2, 3.0),
    ("child or passenger", 1.5, 3.0),
    ("standing, braced", 2.5, 8.0),
    ("trained on a board", 3.5, 8.0),
    ("seated with bars", 5.0, 8.0),
)


class Trace(NamedTuple):
    """One gesture of the hand in time, arrays (n,)."""

    code: str
    name: str
    seconds: NDArray[np.float64]
    lever: NDArray[np.float64]
    command: NDArray[np.float64]
    pull_n: NDArray[np.float64]  # of the drive at the tread, braking below 0
    level: NDArray[np.float64]  # m/s2
    judged: NDArray[np.float64]  # what of it is held against what is borne: of letting go the drive's own braking
    jerk: NDArray[np.float64]  # of that, m/s3
    speed_m_s: NDArray[np.float64]
    borne: float
    borne_jerk: float

    @property
    def worst(self) -> float:
        """Largest level, either way [m/s2]."""
        return float(np.max(np.abs(self.judged)))

    @property
    def worst_jerk(self) -> float:
        return float(np.max(np.abs(self.jerk)))


@record(frozen=True, slots=True, kw_only=True)
class Feel:
    """All gestures, what bounds them, and what is gentle."""

    bears: Bearing
    pace_m_s: float
    traces: tuple[Trace, ...]
    jump_n: float  # pull at the tread at which the belt jumps, inf without a belt
    lift_n: float
    slip_n: float
    gentle_rise_s: float  # shortest ramp up that a rider who expects it bears
    gentle_release_s: float  # and of letting go, which comes unasked
    mass_kg: float

    @property
    def ends(self) -> tuple[tuple[str, float], ...]:
        """What ends a start beside the rider, with the level at which [m/s2], the least first."""
        known = (("front lifts", self.lift_n), ("belt jumps", self.jump_n), ("wheels slip", self.slip_n))
        return tuple(sorted(((words, n / self.mass_kg) for words, n in known if math.isfinite(n)), key=lambda row: row[1]))

    def trace(self, code: str) -> Trace:
        """One gesture."""
        return next(one for one in self.traces if one.code == code)


def thrown(trace: Trace) -> list[str]:
    """Riders that a gesture is too strong for, or comes too quickly."""
    return [words for words, level, jerk in RIDERS if trace.worst > level or trace.worst_jerk > jerk]


class Machine(NamedTuple):
    """The vehicle as the gestures need it: forces at the tread in even steps of speed [N]."""

    step_m_s: float
    most_n: list[float]  # at full command in current mode, before pack and duty cut it
    edge_n: list[float]
    drag_n: list[float]  # of motor and reduction without current
    brake_n: list[float]  # at full braking command, drag included
    release_n: list[float]  # when the lever is let go, drag included
    rest_n: list[float]
    mass_kg: float

    def at(self, table: list[float], speed_m_s: float) -> float:
        """A table at a speed."""
        place = speed_m_s / self.step_m_s
        k = min(int(place), len(table) - 2)
        return table[k] + (place - k) * (table[k + 1] - table[k])

    def force_n(self, command: float, let: float, v: float) -> float:
        """Pull of the drive at a command; `let` is how far the release brake is in."""
        drag = self.at(self.drag_n, v)
        if command > 0.0:
            return min(command * (self.at(self.most_n, v) + drag) - drag, self.at(self.edge_n, v))
        if v <= 0.0:
            return 0.0
        if command < 0.0:
            return -drag + command * max(self.at(self.brake_n, v) - drag, 0.0)
        return -drag - let * max(self.at(self.release_n, v) - drag, 0.0)


def bearing_of(design: Design) -> Bearing:
    """What the rider bears, as measured or as is usual for the kind of vehicle."""
    vehicle = design.vehicle
    usual = KINDS[vehicle.kind].bears
    level = vehicle.rider_level.value if vehicle.rider_level is not None else usual.level
    jerk = vehicle.rider_jerk.value if vehicle.rider_jerk is not None else usual.jerk
    return Bearing(usual.words, level, jerk, usual.surprise_level * level / usual.level, usual.surprise_jerk * jerk / usual.jerk)


def machine_of(drive: DriveStudy) -> Machine:
    """Tables of one drive on the flat."""
    resolved = drive.resolved
    train, load = resolved.train, resolved.load
    top = max(drive.states["full"].top_speed_m_s, 2.0)
    speeds = np.linspace(0.0, 1.3 * top, POINTS)
    emf = resolved.emf_v(CHARGE)
    dc = train.motor.dc_per_motor_amp * float(train.controller.motor_current_a)
    shaft = train.reduction.ratio * load.shaft_speed_rad_s(speeds, 0.0)
    most = np.asarray(load.thrust_n(speeds, train.output_torque_nm(dc, shaft)))
    reach = np.asarray(edge(train, load, speeds, emf, air_c=resolved.air_c, caps=False).force_n)
    reach = np.minimum(reach, np.asarray(load.thrust_caps(0.0).get("traction", np.inf)))  # what slips pulls no more; what lifts does
    held = lambda amps: np.asarray(brake_force(train, load, np.maximum(speeds, 0.05), emf, caps=False, motor_a=amps)[0])
    drag = np.maximum(-np.asarray(load.thrust_n(speeds, train.output_torque_nm(0.0, shaft))), 0.0)
    choice = resolved.variant.controller
    # where nobody said what letting go does, it may brake with all it has
    back, amps = held(None), choice.release_current_a if choice.release_current_a is not None else choice.regen_motor_current_a
    let = held(float(amps)) if amps else drag
    if float(train.reduction.one_way) > 0:
        back = drag = let = 0.0 * speeds
    rest = np.asarray(sum(np.asarray(x) for x in load.parts_n(speeds, 0.0, 0.0)))
    rotors = train.count * train.motor.rotor_inertia_kg_m2
    mass = float(load.moving_mass_kg(rotors, train.reduction.ratio, train.reduction.efficiency, False))
    row = lambda values: np.broadcast_to(values, speeds.shape).tolist()
    return Machine(
        float(speeds[1]), row(np.maximum(most, 0.0)), row(reach), row(drag), row(np.maximum(back, 0.0)), row(let), row(rest), mass
    )


def gesture(
    machine: Machine,
    lever: NDArray[np.float64],
    shape: Shape,
    brake_shape: Shape,
    ramps: Ramps,
    from_m_s: float,
    delay_s: float,
    step_s: float = STEP_S,
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """(command, pull, level, speed), each (n,), of a lever in time; the lever comes late by the delay."""
    steps, late = len(lever), round(delay_s / step_s)
    wish = np.where(lever >= 0.0, shape.of(lever), brake_shape.of(lever))
    wish = np.concatenate([np.full(late, wish[0]), wish[: steps - late]])
    command, pull, level, speed = (np.empty(steps) for _ in range(4))
    now, v, let, driven = float(wish[0]), from_m_s, 0.0, False
    for k, target in enumerate(wish.tolist()):
        now = slew(now, target, step_s, ramps)
        driven = driven or now > 0.0
        released = driven and target == 0.0 and now == 0.0
        let = min(let + step_s / max(ramps.brake_s, step_s), 1.0) if released else 0.0
        force = machine.force_n(now, let, v)
        a = (force - (machine.at(machine.rest_n, v) if v > 1e-6 or force > 0.0 else 0.0)) / machine.mass_kg
        a = a if v > 0.0 or a > 0.0 else 0.0
        v = max(v + a * step_s, 0.0)
        command[k], pull[k], level[k], speed[k] = now, force, a, v
    return command, pull, level, speed


def jerk_of(level: NDArray[np.float64], step_s: float = STEP_S) -> NDArray[np.float64]:
    """Change of level over what a body feels as one [m/s3]."""
    wide = max(round(JERK_OVER_S / step_s), 1)
    padded = np.concatenate([np.full(wide, level[0]), level])
    return (padded[wide:] - padded[:-wide]) / JERK_OVER_S


def trace_of(
    code: str,
    machine: Machine,
    found: Mapped,
    bears: Bearing,
    pace: float,
    ramps: Ramps | None = None,
    *,
    held: float | None = None,
    step_s: float = STEP_S,
) -> Trace:
    """One gesture: full lever from rest, letting go at a pace, full brake at a pace."""
    name, before, after, from_m_s = {
        "start": ("full lever from rest", 0.0, 1.0, 0.0),
        "release": ("let go", held if held is not None else _holds(machine, found, pace) if code == "release" else 0.0, 0.0, pace),
        "brake": ("full brake", 0.0, -1.0, pace),
    }[code]
    borne = (bears.surprise_level, bears.surprise_jerk) if code == "release" else (bears.level, bears.jerk)
    seconds = np.asarray(np.arange(round(LONG_S / step_s)) * step_s, dtype=np.float64)
    lever = np.where(seconds < AT_S, before, after)
    made = gesture(machine, lever, found.shape, found.brake_shape, ramps or found.ramps, from_m_s, found.delay_s, step_s)
    command, pull, level, speed = made
    judged = np.minimum(pull, 0.0) / machine.mass_kg if code == "release" else level - level[0]
    return Trace(code, name, seconds, lever, command, pull, level, judged, jerk_of(judged, step_s), speed, *borne)


def _pace(drive: DriveStudy) -> float:
    """A usual speed: the goal's, at most nine tenths of what it reaches [m/s]."""
    top = drive.states["nominal"].top_speed_m_s
    goals = [goal.target for goal in drive.goals if goal.dimension == "speed"]
    return min(0.7 * max(goals, default=0.8 * top), 0.9 * top)


def _holds(machine: Machine, found: Mapped, pace: float) -> float:
    """Travel of the lever that holds a pace."""
    travel = np.linspace(0.0, 1.0, 401)
    forces = np.array([machine.force_n(command, 0.0, pace) for command in found.shape.of(travel).tolist()])
    return float(travel[int(np.argmin(np.abs(forces - machine.at(machine.rest_n, pace))))])


def feel(design: Design, drive: DriveStudy, layout: LayoutStudy, found: Mapped) -> Feel:
    """Of a vehicle on wheels."""
    resolved, bears, machine, pace = drive.resolved, bearing_of(design), machine_of(drive), _pace(drive)
    caps = resolved.load.thrust_caps(0.0)
    return Feel(
        bears=bears,
        pace_m_s=pace,
        traces=tuple(trace_of(code, machine, found, bears, pace) for code in ("start", "release", "brake")),
        jump_n=_jump_n(resolved, layout),
        lift_n=float(caps.get("wheel_lift", math.inf)),
        slip_n=float(caps.get("traction", math.inf)),
        gentle_rise_s=gentle("start", machine, found, bears, pace),
        gentle_release_s=gentle("release", machine, found, bears, pace),
        mass_kg=machine.mass_kg,
    )


def _jump_n(resolved: Resolved, layout: LayoutStudy) -> float:
    """Pull at the tread at which the first belt jumps, warm [N]."""
    run = next((one for one in layout.stages if one.position == 0 and one.jump is not None), None)
    if run is None:
        return math.inf
    torque = resolved.train.reduction.output_torque_nm(run.warm_nm) * float(resolved.train.count)
    return float(resolved.load.thrust_n(0.0, torque))


def gentle(code: str, machine: Machine, found: Mapped, bears: Bearing, pace: float) -> float:
    """Shortest ramp [s] whose jerk is borne; inf where no ramp helps, since the level itself is too much, or 3 s do not do."""

    held = _holds(machine, found, pace) if code == "release" else 0.0

    def comes(seconds: float) -> Trace:
        r = found.ramps
        ramps = r._replace(rise_s=seconds) if code == "start" else r._replace(fall_s=seconds, brake_s=seconds)
        return trace_of(code, machine, found, bears, pace, ramps, held=held, step_s=COARSE_S)

    slowest = comes(3.0)
    if slowest.worst_jerk > slowest.borne_jerk or comes(0.5).worst > slowest.borne:
        return math.inf
    low, high = 0.0, 3.0
    for _ in range(8):
        middle = 0.5 * (low + high)
        low, high = (low, middle) if comes(middle).worst_jerk <= slowest.borne_jerk else (middle, high)
    return high


def in_g(level: float) -> float:
    """A level in g."""
    return level / GRAVITY
