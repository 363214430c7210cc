"""What a log should have read, from what else it read: each channel from the others through the equations of the drive.

Motion: speed from motor current, over stretches with their own beginning.  Duty from turns and current.  Pack amps from duty's power.
Volts from pack amps.  Winding temperature from current.  Turns from speed.  Of a boat, motor current from turns and speed.
An input's own noise is small against its range in all of them, so that plain least squares is nearly without bias.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import replace
from typing import Any

import numpy as np

from wattagon.physics.pack import rest_curve, warm_resistance
from wattagon.record import record
from wattagon.study.log.data import Floats
from wattagon.study.log.replay import filled
from wattagon.study.log.ridden import SLOPE, WIND_M_S, Seen
from wattagon.study.resolve import Resolved

MOVING_M_S, STRETCH_S, SHORT_S = 0.6, 20.0, 3.0
HAND_M_S2, AROUND_S, BRAKES_A = 0.25, 0.8, 1.0  # slower than the drive explains: a foot or a hand brakes
CLUSTER_S = 20.0
PUSHED_M_S2, STEADY_M_S2 = 0.05, 0.4
COUPLED = 0.06  # a share of the speed within which a motor counts as turning with its wheels
MAGNETS_C = 20.0
# name, width: of one log, not of the design
NUISANCES: tuple[tuple[str, float], ...] = (
    ("charge", 0.02),
    ("slope", SLOPE),
    ("wind", WIND_M_S),
    ("pack_zero", 0.15),
    ("motor_zero", 0.3),
    ("warm", 1.0),
    ("case", 3.0),
)
NAMES = ("motion", "turns", "duty", "pack_a", "bus_v", "motor_c", "torque")
WORDS = {
    "motion": ("speed", "speed"),
    "turns": ("speed by turns", "speed"),
    "duty": ("volts at the motor", "voltage"),
    "pack_a": ("pack amps", "current"),
    "bus_v": ("pack volts", "voltage"),
    "motor_c": ("winding temperature", "temperature"),
    "torque": ("motor amps", "current"),
}
NOISE = {"motion": 0.05, "turns": 0.05, "duty": 0.15, "pack_a": 0.5, "bus_v": 0.05, "motor_c": 1.0, "torque": 0.8}
LEAST = {"motion": 0.01, "turns": 0.005, "duty": 0.03, "pack_a": 0.05, "bus_v": 0.01, "motor_c": 0.1, "torque": 0.05}


@record(frozen=True, slots=True, kw_only=True)
class Prepared:
    """A log ready to be learnt from: shape (n,) on its even clock."""

    seen: Seen
    resolved: Resolved  # before anything is learnt
    speed: Floats
    accel: Floats
    shaft: Floats
    dc_a: Floats | None
    pack_a: Floats | None
    bus_v: Floats | None
    duty: Floats | None
    motor_c: Floats | None
    pack_c: Floats | None
    turning: Floats | None  # measured turns
    pedal_w: Floats | None
    charge: float
    charge_width: float
    wind_width: float
    moving: np.ndarray  # bool: where motion is learnt from
    stretch: np.ndarray  # int: stretch of each sample, -1 outside
    use: np.ndarray  # bool: inside of what is learnt from
    held: np.ndarray  # bool: of the held-out stretch
    cluster: np.ndarray  # int
    channels: tuple[str, ...]
    coupled: np.ndarray  # bool: where the motor turns with the wheels
    pack_heat: tuple[float, float] = (3000.0, 1.0)  # J/K and W/K of the pack


def prepare(
    ridden: Seen,
    resolved: Resolved,
    charge: float,
    charge_width: float,
    held_share: float = 0.2,
    pack_heat: tuple[float, float] = (3000.0, 1.0),
) -> Prepared:
    """A log with what can be compared in it."""
    n, step = ridden.time.size, ridden.step_s
    columns = ridden.columns
    floats = not resolved.load.kinematic
    speed = filled(ridden.speed)
    accel = np.gradient(speed, step)
    per_m = math.nan if floats else float(resolved.train.reduction.ratio) * float(resolved.load.shaft_speed_rad_s(1.0, 0.0))
    turning = ridden.shaft if ridden.has("speed") else None
    shaft = filled(ridden.shaft) if ridden.shaft is not None else speed * per_m
    get = columns.get
    dc, duty, pack_a, bus_v = ridden.dc_a, get("duty"), get("pack_a"), get("bus_v")
    coasting = ridden.data.log.kind.value == "coast"
    if dc is None and coasting:
        dc = np.zeros(n)
    moves = ridden.shaft is not None or ridden.has("speed")
    if dc is None and moves and pack_a is not None and bus_v is not None:
        dc = _from_pack(resolved, pack_a, bus_v, shaft)
    channels = []
    there = ridden.there & np.isfinite(ridden.raw_speed)
    if dc is not None:
        channels.append("motion")
    if turning is not None and not floats:
        channels.append("turns")
    measured = ridden.dc_a is not None
    if measured and duty is not None and bus_v is not None and ridden.shaft is not None:
        channels.append("duty")
    if measured and pack_a is not None and bus_v is not None:
        channels.append("pack_a")
    if pack_a is not None and bus_v is not None:
        channels.append("bus_v")
    if get("motor_c") is not None and dc is not None:
        channels.append("motor_c")
    if floats and measured and ridden.shaft is not None:
        channels.append("torque")
    use = np.zeros(n, dtype=bool)
    learn = ridden.data.log.learn
    if learn:
        for one in learn:
            use |= (ridden.time >= one.begin) & (ridden.time <= one.end)
    else:
        use[:] = True
    held = np.zeros(n, dtype=bool)
    inside = np.flatnonzero(use)
    if held_share > 0.0 and inside.size > 200:
        held[inside[int((1.0 - held_share) * inside.size) :]] = True
        use &= ~held
    made = Prepared(
        seen=ridden,
        resolved=resolved,
        speed=speed,
        accel=accel,
        shaft=shaft,
        dc_a=dc,
        pack_a=pack_a,
        bus_v=bus_v,
        duty=duty,
        motor_c=get("motor_c"),
        pack_c=get("pack_c"),
        turning=turning,
        pedal_w=get("pedal_w"),
        charge=charge,
        charge_width=charge_width,
        wind_width=_wind_width(ridden),
        moving=np.zeros(n, dtype=bool),
        stretch=np.full(n, -1),
        use=use,
        held=held,
        cluster=(ridden.time / CLUSTER_S).astype(int),
        channels=tuple(channels),
        coupled=_coupled(resolved, speed, shaft, dc, ridden.shaft is not None),
        pack_heat=pack_heat,
    )
    moving = _moving(made, there) if dc is not None else made.moving
    return replace(made, moving=moving, stretch=_stretches(moving, held, step))


def _coupled(resolved: Resolved, speed: Floats, shaft: Floats, dc: Floats | None, measured: bool) -> np.ndarray:
    """Behind a freewheel a motor stands or runs up while it rolls: where it turns with the wheels, by its turns or else its current."""
    red = resolved.train.reduction
    if float(red.one_way) <= 0.0 or not resolved.load.kinematic:
        return np.ones(speed.size, dtype=bool)
    if dc is None:
        return np.zeros(speed.size, dtype=bool)
    driven = filled(dc) > BRAKES_A
    if measured:  # while it runs up it carries amps and no wheel
        turned = shaft / (float(red.ratio) * float(resolved.load.shaft_speed_rad_s(1.0, 0.0)))
        driven &= np.abs(turned - speed) < COUPLED * speed + 0.1
    return driven


def _wind_width(ridden: Seen) -> float:
    told = ridden.data.log.headwind
    return told.tolerance if told is not None and told.tolerance is not None else WIND_M_S


def _from_pack(resolved: Resolved, pack_a: Floats, bus_v: Floats, shaft: Floats) -> Floats:
    """Motor current that the pack's power makes at a shaft speed [A], driving or braking: the root of R I^2 + (K w + c V) I = P."""
    train = resolved.train
    n, motor, control = float(train.count), train.motor, train.controller
    ohm = float(motor.resistance_ohm) + float(control.bridge_ohm)
    power = bus_v * pack_a / n - float(control.idle_w)
    linear = float(motor.torque_constant_nm_per_a) * shaft + float(motor.brush_drop_v)
    linear = linear + float(control.switching_v_per_v) * bus_v * np.sign(power)
    inner = np.maximum(linear**2 + 4.0 * ohm * power, 0.0)
    return 2.0 * power / np.maximum(linear + np.sqrt(inner), 1e-6)


def _moving(p: Prepared, there: np.ndarray) -> np.ndarray:
    """Where motion follows from the drive alone: it rolls, nothing brakes by hand, no wheel is let go."""
    step = p.seen.step_s
    assert p.dc_a is not None
    good = there & (p.speed > MOVING_M_S) & np.isfinite(p.dc_a)
    brake = p.seen.columns.get("brake")
    by_hand = np.zeros(good.size, dtype=bool)
    if brake is not None:
        by_hand |= np.nan_to_num(brake) > 0.05
    # while the motor brakes a hand or a foot often does too, and nothing tells how much
    by_hand |= np.nan_to_num(p.dc_a) < -max(BRAKES_A, 0.03 * float(np.nanmax(np.abs(p.dc_a))))
    forces = motion_forces(p, p.resolved, {})
    with np.errstate(invalid="ignore"):
        by_hand |= p.accel < forces - HAND_M_S2 - 0.15 * np.abs(forces)
        # let roll where the slope pushes: whether a hand holds it back lightly cannot be known
        by_hand |= (p.dc_a < BRAKES_A) & (forces > -PUSHED_M_S2)
    reach = max(int(AROUND_S / step), 1)
    wide = np.convolve(by_hand.astype(float), np.ones(2 * reach + 1), mode="same") > 0.5 if by_hand.size > 2 * reach + 1 else by_hand
    return good & ~wide


def _stretches(moving: np.ndarray, held: np.ndarray, step: float) -> np.ndarray:
    """Number of the stretch of each sample: unbroken, of one side, at most STRETCH_S long; -1 outside."""
    made = np.full(moving.size, -1)
    most, least = max(int(STRETCH_S / step), 2), max(int(SHORT_S / step), 3)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], moving.astype(int), [0]])))
    number = 0
    for begin, end in zip(edges[::2], edges[1::2], strict=True):
        parts = max(math.ceil((end - begin) / most), 1)
        cuts = np.linspace(begin, end, parts + 1).astype(int)
        for a, b in itertools.pairwise(cuts):
            if b - a < least or held[a] != held[b - 1]:
                continue
            made[a:b] = number
            number += 1
    return made


def motion_forces(p: Prepared, resolved: Resolved, off: dict[str, float], warm: tuple[Floats, Floats] | None = None) -> Floats:
    """Acceleration that the drive and the road give at each moment [m/s2]; `warm` are the temperatures where they are known already."""
    train, load, ridden = resolved.train, resolved.load, p.seen
    assert p.dc_a is not None
    current = filled(p.dc_a) - off.get("motor_zero", 0.0)
    winding, case = warm if warm is not None else temperatures(p, resolved, off)
    motor = train.motor.at(winding_c=winding, magnet_c=case)
    count = float(train.count)
    red = train.reduction
    wind = resolved.headwind_m_s + ridden.wind + off.get("wind", 0.0)
    if load.kinematic:
        shaft = p.speed * float(red.ratio) * float(load.shaft_speed_rad_s(1.0, 0.0))
        torque = motor.shaft_torque_nm(current, shaft)
        radius = float(load.wheel_radius_m)  # type: ignore[attr-defined]
        push: Any = count * np.asarray(red.output_torque_nm(torque)) / radius
        push = np.where(p.coupled, push, count * float(red.floor_nm) / radius)
        rolling, air, climb = load.parts_n(p.speed, ridden.grade + off.get("slope", 0.0), wind)
        resist: Any = rolling * ridden.surface + air + climb
        rotor = count * float(train.motor.rotor_inertia_kg_m2)
        mass = float(load.moving_mass_kg(rotor, float(red.ratio), float(red.efficiency), False))
        if p.pedal_w is not None:
            push = push + 0.97 * filled(p.pedal_w) / np.maximum(p.speed, 1.5)
        return np.asarray((push - resist) / mass)
    through = p.speed + resolved.current_m_s + ridden.stream
    _, thrust = load.turned(through, p.shaft / float(red.ratio))
    resist = load.resistance_n(through, 0.0, wind - resolved.current_m_s - ridden.stream)
    return np.asarray((thrust - resist) / float(load.moving_mass_kg(0.0, 1.0, 1.0, False)))


def temperatures(p: Prepared, resolved: Resolved, off: dict[str, float]) -> tuple[Floats, Floats]:
    """(winding, case) [C] over the log by its currents and the motor's two heat nodes."""
    from wattagon.physics.ride.warmed import warmed

    motor, heat = resolved.train.motor, resolved.train.heat
    n = p.speed.size
    winding, case = np.empty(n), np.empty(n)
    current = filled(p.dc_a) - off.get("motor_zero", 0.0) if p.dc_a is not None else np.zeros(n)
    begun = resolved.air_c
    if p.motor_c is not None and np.isfinite(p.motor_c).any():
        begun = float(np.median(p.motor_c[np.isfinite(p.motor_c)][:3])) + off.get("warm", 0.0)
    assert heat is not None
    m = np.array(
        [
            float(x)
            for x in (
                motor.torque_constant_nm_per_a,
                motor.no_load_a,
                motor.no_load_slope_a_s,
                motor.resistance_ohm,
                motor.magnet_per_k,
                motor.brush_drop_v,
            )
        ]
    )
    h = np.array(
        [
            float(x)
            for x in (
                heat.winding_j_per_k,
                heat.case_j_per_k,
                heat.winding_to_case_k_per_w,
                heat.case_area_m2,
                heat.film_still,
                heat.film_moving,
                heat.air_share,
                heat.mount_w_per_k,
                heat.fixed_w_per_k,
                heat.iron_in_winding,
            )
        ]
    )
    warmed(np.abs(current), p.shaft, p.speed, p.seen.step_s, m, h, resolved.air_c, begun, begun + off.get("case", 0.0), winding, case)
    return winding, case


def residuals(p: Prepared, resolved: Resolved, off: dict[str, float]) -> dict[str, Floats]:
    """Measured less worked out, by channel (n,), nan where nothing is compared.  `off` are the log's own slips, in SI."""
    made: dict[str, Floats] = {}
    step = p.seen.step_s
    train, motor_at = resolved.train, None
    count, control = float(train.count), train.controller
    current = None if p.dc_a is None else p.dc_a - off.get("motor_zero", 0.0)
    zero = off.get("pack_zero", 0.0)
    winding, case = temperatures(p, resolved, off) if current is not None else (np.zeros(0), np.zeros(0))
    if current is not None:
        motor_at = train.motor.at(winding_c=winding, magnet_c=case)
    for channel in p.channels:
        if channel == "motion":
            made[channel] = _motion(p, motion_forces(p, resolved, off, (winding, case)), step)
        elif channel == "turns":
            assert p.turning is not None
            radius = float(resolved.load.wheel_radius_m)  # type: ignore[attr-defined]
            by_turns = p.turning / float(train.reduction.ratio) * radius
            steady = p.coupled & (np.abs(p.accel) < STEADY_M_S2)
            made[channel] = np.where((p.speed > MOVING_M_S) & steady, p.seen.raw_speed - by_turns, np.nan)
        elif channel == "duty":
            assert motor_at is not None and current is not None and p.duty is not None and p.bus_v is not None
            volts = motor_at.terminal_volts(current, p.shaft, float(control.bridge_ohm))
            drives = (np.abs(p.duty) > 0.04) & (p.shaft > 5.0) & (np.abs(p.duty) < 0.985 * float(control.duty_max))
            made[channel] = np.where(drives, np.abs(p.duty) * p.bus_v - np.abs(volts), np.nan)
        elif channel == "pack_a":
            assert motor_at is not None and p.pack_a is not None and p.bus_v is not None and current is not None
            in_phase = motor_at.in_phase_volts(current, p.shaft, float(control.bridge_ohm))
            each = (in_phase * current + float(control.idle_w)) / p.bus_v + float(control.switching_v_per_v) * np.abs(current)
            made[channel] = p.pack_a - zero - count * each
        elif channel == "bus_v":
            made[channel] = _volts(p, resolved, off)
        elif channel == "motor_c":
            assert p.motor_c is not None
            made[channel] = p.motor_c - winding
        elif channel == "torque":
            through = p.speed + resolved.current_m_s + p.seen.stream
            taken, _ = resolved.load.turned(through, p.shaft / float(train.reduction.ratio))
            need = train.reduction.shaft_torque_nm(taken / count)
            assert motor_at is not None and current is not None
            made[channel] = np.where(p.shaft > 5.0, current - motor_at.current_for_torque_a(need, p.shaft), np.nan)
    return made


def _motion(p: Prepared, accel: Floats, step: float) -> Floats:
    """Measured speed less that which follows, over each stretch from its own mean."""
    gone = np.concatenate([[0.0], np.cumsum(0.5 * (accel[1:] + accel[:-1]) * step)])
    off = p.seen.raw_speed - gone
    inside = (p.stretch >= 0) & np.isfinite(off)
    which = p.stretch[inside]
    if not which.size:
        return np.full(off.size, np.nan)
    mean = np.bincount(which, off[inside]) / np.maximum(np.bincount(which), 1)
    made = np.full(off.size, np.nan)
    made[inside] = off[inside] - mean[which]
    return made


def _volts(p: Prepared, resolved: Resolved, off: dict[str, float]) -> Floats:
    from scipy.signal import lfilter

    pack, step = resolved.train.pack, p.seen.step_s
    assert p.pack_a is not None and p.bus_v is not None
    amps = filled(p.pack_a) - off.get("pack_zero", 0.0)
    drawn = np.concatenate([[0.0], np.cumsum(0.5 * (amps[1:] + amps[:-1]) * step)]) / 3600.0
    charge = p.charge + off.get("charge", 0.0) - drawn / float(pack.capacity_ah)
    curve = rest_curve(pack.chemistry)
    rest = float(pack.series) * np.interp(charge, np.linspace(0.0, 1.0, curve.size), curve)
    share = float(pack.series) / float(pack.parallel)
    keep = math.exp(-step / float(pack.cell_tau1_s))
    slow = lfilter([0.0, 1.0 - keep], [1.0, -keep], amps)
    cold_r0, cold_r1 = share * float(pack.cell_r0_ohm), share * float(pack.cell_r1_ohm)
    warm: Any = filled(p.pack_c) if p.pack_c is not None else np.full(amps.size, float(pack.temperature_c))
    r0 = warm_resistance(cold_r0, warm) + float(pack.wiring_ohm)
    if p.pack_c is None:  # its own heat warms it, which makes it better
        joules, out = p.pack_heat
        stays = math.exp(-step * out / joules)
        for _ in range(2):
            watts = r0 * amps**2 + warm_resistance(cold_r1, warm) * slow**2
            warm = resolved.day_c + (float(pack.temperature_c) - resolved.day_c) * stays ** np.arange(amps.size)
            warm = warm + lfilter([0.0, (1.0 - stays) / out], [1.0, -stays], watts)
            r0 = warm_resistance(cold_r0, warm) + float(pack.wiring_ohm)
    return p.bus_v - (rest - r0 * amps - warm_resistance(cold_r1, warm) * slow)


def widths(p: Prepared) -> dict[str, float]:
    """How well each slip of the log itself is known, SI."""
    made = dict(NUISANCES)
    made["charge"], made["wind"] = p.charge_width, p.wind_width
    if p.seen.grades_from in ("course", "grades"):
        made["slope"] = 0.001
    if p.resolved.load.kinematic is False:
        made.pop("slope")
    if p.pack_a is None:
        made.pop("pack_zero")
    if p.dc_a is None:
        made.pop("motor_zero")
    if "bus_v" not in p.channels:
        made.pop("charge")
    if "motor_c" not in p.channels:
        made.pop("warm")
        made.pop("case")
    if "motion" not in p.channels:
        made.pop("wind")
        made.pop("slope", None)
    return made
