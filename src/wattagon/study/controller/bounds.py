"""Whose limit is where: every bound on motor amps and pack amps, driving and braking, in the controller's own amps."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import BoardPart
from wattagon.design.tree import Design, GoalKind
from wattagon.physics import pack as packs
from wattagon.physics.brakes import regen_power_w
from wattagon.study.drive.climbs import steepest
from wattagon.study.drive.study import DriveStudy, climb_goals, needed_along
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.resolve import Resolved
from wattagon.study.say import Say
from wattagon.study.strength.study import StrengthStudy
from wattagon.study.wiring.study import WiringStudy

AXES = ("motor", "motor_brake", "pack", "pack_in")
MOST_A = 5000.0


class Bound(NamedTuple):
    """One limit on one ampere axis; `kind` is most (never above), lasting (above it for seconds only) or least (below it a goal fails)."""

    axis: str
    code: str
    whose: str
    amps: float
    kind: str
    because: str


def _amps_at(gives: Callable[[float], float], wanted: float) -> float:
    """Amps at which something that grows with them reaches a value, by bisection; inf where it never does."""
    low, high = 0.0, MOST_A
    if gives(high) < wanted:
        return math.inf
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if gives(middle) < wanted else (low, middle)
    return high


def amps_for(resolved: Resolved, thrust_n: float, *, speed_m_s: float = 0.0) -> float:
    """Motor amps of one motor that push with a force at a speed, in the controller's own amps; inf where no current does."""
    train, load = resolved.train, resolved.load
    shaft = float(train.reduction.ratio * load.shaft_speed_rad_s(speed_m_s, thrust_n))

    def push(amps: float) -> float:
        torque = train.output_torque_nm(train.motor.dc_per_motor_amp * amps, shaft)
        return float(load.thrust_n(speed_m_s, torque))

    return _amps_at(push, thrust_n)


def shaft_amps(resolved: Resolved, torque_nm: float) -> float:
    """Motor amps of one motor at a torque of its shaft at rest."""
    motor = resolved.train.motor
    return _amps_at(lambda amps: float(motor.shaft_torque_nm(motor.dc_per_motor_amp * amps, 0.0)), torque_nm)


def bounds_of(
    design: Design, stock: Catalogue, drive: DriveStudy, layout: LayoutStudy, strength: StrengthStudy, wiring: WiringStudy | None, say: Say
) -> tuple[Bound, ...]:
    """All of them; what nobody knows is left out."""
    made = [
        *_ratings(drive.resolved),
        *_ground(design, drive.resolved),
        *_heat(design, drive.resolved, say),
        *_held(drive, layout, strength),
        *_asked(design, drive, say),
        *_pack(design, stock, drive.resolved, wiring),
        *_braking(drive.resolved),
    ]
    return tuple(one for one in made if math.isfinite(one.amps) and one.amps > 0.0)


def _ratings(resolved: Resolved) -> Iterator[Bound]:
    motor, part = resolved.motor_part, resolved.controller_part
    rows = (
        ("motor.peak", "motor, for seconds", motor.current_peak_a, "most", "the motor's peak; more only warms and weakens the magnets"),
        ("motor.lasting", "motor, for long", motor.current_continuous_a, "lasting", "the motor's label for long"),
        ("controller.burst", "controller, for seconds", part.motor_current_burst_a, "most", "the controller's burst rating"),
        ("controller.lasting", "controller, for long", part.motor_current_continuous_a, "lasting", "the controller's rating for long"),
    )
    for code, whose, amps, kind, because in rows:
        if amps is not None:
            for axis in ("motor", "motor_brake"):
                yield Bound(axis, code, whose, float(amps), kind, because)


def _ground(design: Design, resolved: Resolved) -> Iterator[Bound]:
    """Where the driven wheels slip or the front lifts, from rest on the flat."""
    if design.vehicle.kind.floats:
        return
    words = {"traction": ("wheels slip", "the driven wheels slip on the flat"), "wheel_lift": ("front lifts", "the front wheel lifts")}
    for name, cap in resolved.load.thrust_caps(0.0).items():
        whose, because = words.get(name, (name, name))
        yield Bound(
            "motor",
            f"ground.{name}",
            whose,
            amps_for(resolved, float(cap)),
            "most",
            because,
        )
    words = {"traction": ("wheels slip", "the braked wheels slip, worst downhill"), "pitch_over": ("rear lifts", "the rear wheel lifts")}
    grade = -steepest(design)
    for name, cap in resolved.load.brake_caps(grade).items():
        whose, because = words.get(name, (name, name))
        amps = brake_amps(resolved, float(cap))
        yield Bound("motor_brake", f"ground.{name}", whose, amps, "most", because)


def brake_amps(resolved: Resolved, force_n: float, speed_m_s: float = 1.0) -> float:
    """Braking motor amps of each motor that hold back with a force at walking pace, drag included."""
    train, load = resolved.train, resolved.load
    if float(train.reduction.one_way) > 0:
        return math.inf
    shaft = float(train.reduction.ratio * load.shaft_speed_rad_s(speed_m_s, 0.0))

    def back(amps: float) -> float:
        torque = train.motor.shaft_torque_nm(-train.motor.dc_per_motor_amp * amps, shaft)
        return float(load.thrust_n(speed_m_s, -float(train.count) * train.reduction.output_torque_nm(torque)))

    return _amps_at(back, force_n)


def _heat(design: Design, resolved: Resolved, say: Say) -> Iterator[Bound]:
    """What the motor bears for as long as the steepest climb that is asked for lasts, at its speed."""
    heat, motor = resolved.train.heat, resolved.train.motor
    climbs = climb_goals(design)
    if heat is None or not climbs:
        return
    speed, grade = max(climbs, key=lambda one: one[1])
    shaft = float(resolved.train.reduction.ratio * resolved.load.shaft_speed_rad_s(speed, 0.0))
    amps = float(heat.continuous_current_a(motor, shaft, speed, resolved.air_c)) / motor.dc_per_motor_amp
    because = f"settles at the winding's limit at {say(speed, 'speed')} up {say(grade, 'grade')}, {say(resolved.air_c, 'temperature')}"
    yield Bound("motor", "heat.climb", "climb's heat", amps, "lasting", because)


def _held(drive: DriveStudy, layout: LayoutStudy, strength: StrengthStudy) -> Iterator[Bound]:
    """The weakest of the load path at the factor that is wanted of it, and a belt that jumps."""
    resolved, peak = drive.resolved, strength.loads[0].wheel_nm
    now = float(resolved.train.controller.motor_current_a)
    able = [one for one in strength.elements if math.isfinite(one.fails_at_nm) and one.kind != "bearing" and one.bears.wanted > 0.0]
    weakest = min(able, key=lambda one: one.factor / one.bears.wanted, default=None)
    if weakest is not None and peak > 0.0:
        amps = now * weakest.factor / weakest.bears.wanted
        because = f"a factor of {weakest.factor:.1f} at {now:g} A, {weakest.bears.wanted:g} is wanted"
        # losses help the drive and load the way back: the same amps bring more to the wheel when they brake
        share = math.prod(float(stage.efficiency) for stage in resolved.stages)
        for axis, most in (("motor", amps), ("motor_brake", amps * share**2)):
            yield Bound(axis, f"strength.{weakest.code}", weakest.name, most, "most", because)
    for run in layout.stages:
        if run.jump is None or run.position != 0:
            continue
        amps = shaft_amps(resolved, min(run.warm_nm, run.jump.shear_nm))
        because = "the belt jumps at this torque when it is warm" if run.warm_nm < run.jump.shear_nm else "the belt shears its teeth"
        for axis in ("motor", "motor_brake"):
            yield Bound(axis, "layout.jump", "belt", amps, "most", because)


def _asked(design: Design, drive: DriveStudy, say: Say) -> Iterator[Bound]:
    """Least amps that starts, climbs and speeds ask for."""
    resolved = drive.resolved
    for goal in design.brief.goals:
        if goal.kind is GoalKind.START and not design.vehicle.kind.floats and goal.grade:
            force = float(resolved.load.resistance_n(0.0, goal.grade, 0.0))
            amps = amps_for(resolved, force)
            because = f"to start on {say(goal.grade, 'grade')}"
            yield Bound("motor", "goal.start", "goal: start", amps, "least", because)
        if goal.kind in (GoalKind.CLIMB, GoalKind.TOP_SPEED, GoalKind.CRUISE) and goal.speed:
            need = needed_along(resolved, goal.speed, goal.grade or 0.0, 0.5)
            where = f" up {say(goal.grade, 'grade')}" if goal.grade else ""
            because = f"to hold {say(goal.speed, 'speed')}{where}"
            for axis, key in (("motor", "motor_a"), ("pack", "pack_a")):
                amps = float(need[key]) / (1.0 if axis == "motor" else float(resolved.train.count))
                whose = "goal: climb" if goal.grade else "goal: speed"
                yield Bound(axis, f"goal.{goal.kind.value}", whose, amps, "least", because)


def _pack(design: Design, stock: Catalogue, resolved: Resolved, wiring: WiringStudy | None) -> Iterator[Bound]:
    """Pack amps of one controller: what gives the amps, and what carries them, shared by all controllers."""
    train, part, cell = resolved.train, resolved.controller_part, resolved.cell_part
    count, strings = float(train.count), float(train.pack.parallel)
    if part.pack_current_max_a is not None:
        amps = float(part.pack_current_max_a)
        yield Bound("pack", "controller.pack", "controller", amps, "most", "the controller's rating")
    each = "" if count == 1.0 else f", shared by {count:.0f} controllers"
    if cell.burst_a is not None:
        words = f"cells for ten seconds{each}"
        yield Bound("pack", "cells.burst", "cells, for seconds", cell.burst_a * strings / count, "most", words)
    if cell.continuous_a is not None:
        amps = cell.continuous_a * strings / count
        yield Bound("pack", "cells.lasting", "cells, for long", amps, "lasting", f"cells for long{each}")
    rate = packs.CHARGE_C.get(train.pack.chemistry, 0.5) * float(train.pack.capacity_ah) / count
    yield Bound(
        "pack_in",
        "cells.charge",
        "cells, charging",
        rate,
        "lasting",
        f"usual charge of the chemistry{each}",
    )
    battery = resolved.variant.battery
    board = stock.find(battery.board) if battery is not None and battery.board else None
    if isinstance(board, BoardPart):
        if board.first_a is not None:
            amps, after = 0.8 * board.first_a / count, f" after {board.first_s:g} s" if board.first_s is not None else ""
            because = f"four fifths of the first trip, {board.first_a:g} A{after}{each}"
            yield Bound("pack", "board.trip", "board", amps, "most", because)
        yield Bound("pack", "board.lasting", "board, for long", board.lasting_a / count, "lasting", f"board{each}")
        if board.charge_a is not None:
            amps = board.charge_a / 1.1 / count
            because = f"under the charge trip of {board.charge_a:g} A{each}"
            yield Bound("pack_in", "board.charge", "board", amps, "most", because)
    if wiring is None or wiring.proposed:
        return
    for kind, name in (("fuse", "fuse"), ("joint", "connector"), ("lead", "cable"), ("contactor", "contactor")):
        rows = [one for one in wiring.pieces if one.kind == kind and one.branch.code in ("pack", "controller")]
        shares = [(one.bears.rating_a / (count if one.branch.code == "pack" else 1.0), one) for one in rows if one.bears.rating_a > 0.0]
        if shares:
            amps, one = min(shares, key=lambda row: row[0])
            because = f"{one.name} bears {one.bears.rating_a:.0f} A for long"
            yield Bound("pack", f"wiring.{kind}", name, amps, "lasting", because)


def _braking(resolved: Resolved) -> Iterator[Bound]:
    """Pack amps that braking can give at all: at top speed on the braking amps that are set."""
    train, amps = resolved.train, float(resolved.train.controller.regen_motor_current_a)
    if amps <= 0.0 or float(train.reduction.one_way) > 0:
        return
    emf = resolved.emf_v(0.5)
    shaft = np.linspace(1.0, emf / float(train.motor.torque_constant_nm_per_a), 40)
    power = np.asarray(regen_power_w(train.motor, train.motor.dc_per_motor_amp * amps, shaft, float(train.controller.bridge_ohm)))
    most = float(np.max(power)) / emf
    yield Bound(
        "pack_in",
        "motor.gives",
        "motor at speed",
        most,
        "lasting",
        f"all that {amps:g} braking motor amps give, from no-load speed",
    )
