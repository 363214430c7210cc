"""Torques that a drive meets: full motor amps, braking, a jam, the tyre's grip, and what a timed run says."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, NamedTuple

from wattagon.design.tree import Design, Strength
from wattagon.physics.belt import wind_up_nm_rad
from wattagon.physics.strength.prints import jam_nm, timed_run
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.study import LayoutStudy

if TYPE_CHECKING:
    from wattagon.study.ride.study import Ride

JAM = 2.0  # times the peak, where inertia or wind-up is not known; judged
GRAVITY = 9.80665


class Load(NamedTuple):
    """One case: its torque at the wheel of one drive (of a boat at the propeller), at its motor [N m], and where it comes from."""

    case: str
    wheel_nm: float
    motor_nm: float
    source: str


class Asked(NamedTuple):
    """A timed run that is told: how long to which speed."""

    time_s: float
    speed_m_s: float


class Met(NamedTuple):
    """What a ride met: its name, the most that one motor drew (DC-equivalent), its case at the hottest."""

    name: str
    dc_a: float
    case_c: float


def met_on(ride: Ride) -> Met:
    """Of a ride."""
    from wattagon.physics.ride.names import Col

    trace = ride.run.trace
    return Met(ride.name, float(abs(trace[:, Col.DC_A]).max()), float(trace[:, Col.CASE].max()))


def loads(
    design: Design, drive: DriveStudy, layout: LayoutStudy, told: Strength, run: Asked | None = None, met: Met | None = None
) -> tuple[Load, ...]:
    """All cases of one drive, the peak first.  `run` takes the place of the run that the design tells of; `met` is a ride's."""
    resolved, train = drive.resolved, drive.resolved.train
    controller = train.controller
    ratio, share = float(train.reduction.torque_ratio), math.prod(float(stage.efficiency) for stage in resolved.stages)
    shared = resolved.variant.motor.count if any(stage.shared for stage in resolved.variant.stages) else 1
    to_wheel = ratio * share * shared
    peak = peak_nm(drive)
    made = [Load("drive", peak * to_wheel, peak, "full motor amps at standstill")]
    brakes = float(controller.regen_motor_current_a)
    freewheels = any(stage.freewheel for stage in resolved.variant.stages)
    if brakes > 0.0 and not freewheels:
        back = peak_nm(drive, brakes)
        made.append(
            Load("regen", back * ratio / max(share, 0.5) * shared, back, "full braking amps; losses make the wheel's torque larger")
        )
    made.append(_jam(drive, layout, peak, to_wheel))
    grip = _grip_nm(design, drive)
    if math.isfinite(grip):
        made.append(Load("grip", grip, grip / to_wheel if to_wheel > 0.0 else math.nan, "the tyre slips: no more gets through"))
    if met is not None:
        most = max(float(train.motor.shaft_torque_nm(met.dc_a, 0.0)), 0.0)
        made.append(Load("ride", most * to_wheel, most, f"the largest of the ride in view: {met.name}"))
    asked = run or _told(told)
    if asked is not None and layout.scene.berth is None:
        wheel = float(resolved.road.wheel_radius_m)
        mass = float(resolved.load.mass_kg) + float(resolved.road.wheel_inertia_kg_m2) / wheel**2
        drag = max(float(resolved.load.resistance_n(0.5 * asked.speed_m_s, 0.0, resolved.headwind_m_s)), 0.0)
        corner = _corner_m_s(drive, asked.speed_m_s)
        found = timed_run(mass, asked.speed_m_s, asked.time_s, wheel, drag, asked.speed_m_s / corner)
        many = resolved.variant.motor.count // shared
        words = f"{asked.speed_m_s * 3.6:.0f} km/h in {asked.time_s:g} s"
        over = found.peak / many > 1.05 * peak * to_wheel
        used = "more than full amps give: weigh and time it again" if over else "full amps give more, which is used"
        made.append(Load("run_mean", found.mean / many, found.mean / many / to_wheel, f"mean of a timed run, {words}"))
        made.append(
            Load(
                "run_peak",
                found.peak / many,
                found.peak / many / to_wheel,
                f"peak of a timed run, {words}, corner at {corner * 3.6:.0f} km/h; {used}",
            )
        )
    return tuple(made)


def peak_nm(drive: DriveStudy, amps: float | None = None) -> float:
    """Torque of one motor at full amps, or at `amps`; 0 where its losses eat them."""
    train = drive.resolved.train
    amps = amps if amps is not None else float(train.controller.motor_current_a)
    return max(float(train.motor.shaft_torque_nm(train.motor.dc_per_motor_amp * amps, 0.0)), 0.0)


def _told(told: Strength) -> Asked | None:
    if told.run_time is None or told.run_speed is None:
        return None
    return Asked(told.run_time.value, told.run_speed.value)


def _corner_m_s(drive: DriveStudy, speed: float) -> float:
    """Where constant pull ends: the pack's amps bind; at most the speed that was reached."""
    resolved = drive.resolved
    power = float(resolved.train.controller.battery_current_a) * resolved.emf_v(0.5) * resolved.variant.motor.count
    force = (
        peak_nm(drive) * float(resolved.train.reduction.torque_ratio) * resolved.variant.motor.count / float(resolved.road.wheel_radius_m)
    )
    return min(max(0.85 * power / force if force > 0.0 else speed, 0.2 * speed), speed)


def _jam(drive: DriveStudy, layout: LayoutStudy, peak: float, to_wheel: float) -> Load:
    """The rotor runs on into what stands: by its inertia and the first belt's wind-up, else twice the peak."""
    part, what = drive.resolved.motor_part, "a propeller" if layout.scene.berth is not None else "a wheel"
    run = layout.stages[0] if layout.stages else None
    if run is not None and run.made.kind is not None and run.width_m is not None and part.rotor_inertia_kg_m2:
        stiff = wind_up_nm_rad(run.made.kind, run.width_m, run.made.choice.driver_teeth, run.length_m)
        torque = jam_nm(peak, run.driver_rpm * math.pi / 30.0, part.rotor_inertia_kg_m2, stiff)
        if run.jump is not None and min(run.jump.jump_nm, run.jump.shear_nm) < torque:
            most, how = (run.jump.jump_nm, "jumps") if run.jump.jump_nm < run.jump.shear_nm else (run.jump.shear_nm, "shears its teeth")
            return Load("jam", most * to_wheel, most, f"{what} that stops dead: the belt {how} first")
        return Load("jam", torque * to_wheel, torque, f"{what} that stops dead: rotor's inertia into the belt's wind-up")
    return Load("jam", JAM * peak * to_wheel, JAM * peak, f"{what} that stops dead: {JAM:g} times the peak, assumed")


def _grip_nm(design: Design, drive: DriveStudy) -> float:
    """Wheel torque of one drive at which the tyre slips, at rest on the flat."""
    resolved, vehicle = drive.resolved, design.vehicle
    if vehicle.kind.floats:
        return math.nan
    mass, base = float(resolved.load.mass_kg), vehicle.wheelbase.value
    behind = min(max(vehicle.cm_behind_front.value / base, 0.05), 0.95)
    on = 1.0 if vehicle.driven_axle == "all" else behind if vehicle.driven_axle == "rear" else 1.0 - behind
    drives = max(resolved.variant.motor.count, 1) if not any(stage.shared for stage in resolved.variant.stages) else 1
    return vehicle.grip.value * mass * GRAVITY * on * float(resolved.road.wheel_radius_m) / drives
