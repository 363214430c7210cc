"""The load path of a design: every element from rotor to ground, and back from the motor's reaction to the frame."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import replace
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Joint, Place, Strength, VehicleKind
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.place import PLATE_M, PULLEY_GAP_M
from wattagon.study.layout.stage import Running
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.resolve.boat import propeller_depth_m, propeller_of
from wattagon.study.strength.element import At
from wattagon.study.strength.loads import GRAVITY, peak_nm

FACE_M = 0.004  # of the front bearing behind a motor's face; typical
JACK_M, JACK_BEYOND_M = 0.012, 0.025  # a jackshaft, and how far its wheels stand beyond its bearings; typical
TUBE_M = 0.032  # of a frame that a bracket is clamped to; typical
SHARED_MOUNT = (VehicleKind.STREET_BOARD, VehicleKind.ALL_TERRAIN_BOARD)  # the plate sits on the wheel's own axle
BUMP: dict[VehicleKind, float] = {
    VehicleKind.STREET_BOARD: 2.5,
    VehicleKind.ALL_TERRAIN_BOARD: 3.0,
    VehicleKind.SCOOTER: 2.5,
    VehicleKind.BIKE: 2.5,
    VehicleKind.SUSPENDED_BIKE: 2.5,
    VehicleKind.KART: 3.0,
    VehicleKind.TWO_WHEEL_DRIVE: 2.0,
    VehicleKind.UTILITY: 2.5,
}


class Spot(NamedTuple):
    """An element before it is judged: where it is, what it meets, what is typical of it."""

    code: str
    name: str
    side: str
    place: str
    joint: Joint
    at: At
    to_wheel: float  # torque at the wheel over that at the element; nan where torque does not load it


def spots(design: Design, drive: DriveStudy, layout: LayoutStudy, told: Strength, stock: Catalogue) -> Iterator[Spot]:
    """In the order of the path, drive side first; joints that are told take the place of the typical ones of their kind and place."""
    if layout.scene.berth is not None:
        yield from _afloat(design, drive, layout, stock)
        return
    resolved = drive.resolved
    ratio = float(resolved.train.reduction.torque_ratio)
    share = math.prod(float(stage.efficiency) for stage in resolved.stages)
    peak = peak_nm(drive)
    wheel = peak * ratio * share
    scene, runs = layout.scene, layout.stages
    if not scene.can_stands:
        yield Spot("dropout", "axle in its dropouts", "mount", "axle", Joint(kind="dropout", place="axle"), At(wheel, shaft_m=0.012), 1.0)
    else:
        yield from _at_the_motor(layout, peak, ratio * share)
        yield from _between(layout, runs, wheel)
        yield from _geared(layout, drive, peak)
        yield from _at_the_wheel(design, layout, wheel)
        yield from _mount(design, layout, peak, wheel, ratio * share)
    yield from _axle(design, drive, told)


def _motor_at(layout: LayoutStudy, peak: float) -> At:
    """What the motor's shaft meets: the first loop's pull, in the middle of its wheel."""
    run = layout.stages[0] if layout.stages else None
    plate = layout.layout.plate.value if layout.layout.plate is not None else PLATE_M
    free = layout.layout.pulley_gap.value if layout.layout.pulley_gap is not None else PULLEY_GAP_M
    wide = _face_m(run)
    shaft = 1e-3 * (layout.resolved.motor_part.shaft_mm or 8.0)
    pull = run.peak_n if run is not None and math.isfinite(run.peak_n) else 0.0
    rpm = run.driver_rpm if run is not None else 3000.0
    apart = 0.7 * 1e-3 * layout.resolved.motor_part.length_mm
    return At(peak, pull, FACE_M + plate + free + 0.5 * wide, apart, shaft, max(rpm, 1.0))


def _face_m(run: Running | None) -> float:
    if run is None:
        return 0.015
    return run.width_m + 0.0015 if run.width_m is not None else 1e-3 * (run.made.family.inner_mm or 6.0)


def _at_the_motor(layout: LayoutStudy, peak: float, to_wheel: float) -> Iterator[Spot]:
    at = _motor_at(layout, peak)
    shaft = Joint(kind="shaft")
    yield Spot("motor.shaft", "motor shaft, overhung", "drive", "motor", shaft, at, to_wheel)
    yield Spot("motor.bearing", "motor's front bearing", "drive", "motor", Joint(kind="bearing"), at, to_wheel)
    kind = "key" if at.shaft_m >= 0.012 else "set_screw"
    yield Spot("motor.hub", "wheel on the motor's shaft", "drive", "motor", Joint(kind=kind), at, to_wheel)


def _between(layout: LayoutStudy, runs: tuple[Running, ...], wheel: float) -> Iterator[Spot]:
    for before, after in itertools.pairwise(runs):
        torque = after.torque_nm
        stack = next((one.stack for one in layout.stacks if one.stack.shaft.startswith("jackshaft")), None)
        diameter = stack.diameter.value if stack is not None and stack.diameter is not None else JACK_M
        beyond = stack.beyond.value if stack is not None and stack.beyond is not None and stack.beyond.value > 0.0 else JACK_BEYOND_M
        apart = stack.bearings.value if stack is not None and stack.bearings is not None else 0.05
        out = before.peak_n if math.isfinite(before.peak_n) else 0.0
        pull = math.hypot(out, after.peak_n if math.isfinite(after.peak_n) else 0.0)
        at = At(torque, pull, beyond, apart, diameter, max(after.driver_rpm, 1.0))
        many = f" {after.position}" if len(runs) > 2 else ""
        to_wheel = wheel / torque if torque > 0.0 else math.nan
        code = f"jackshaft{many.strip()}"
        yield Spot(f"{code}.shaft", f"jackshaft{many}", "drive", "jackshaft", Joint(kind="shaft", material="steel-c45"), at, to_wheel)
        yield Spot(f"{code}.hub", f"wheels on the jackshaft{many}", "drive", "jackshaft", Joint(kind="key"), at, to_wheel)


def _geared(layout: LayoutStudy, drive: DriveStudy, peak: float) -> Iterator[Spot]:
    """Teeth of gear pairs and of planetary sets: the smaller wheel's, of a set those of its sun against every planet."""
    stages, torques = drive.resolved.stages, [peak]
    for stage in stages:
        torques.append(torques[-1] * float(stage.ratio) * float(stage.efficiency))
    for mesh in layout.meshes:
        if not math.isfinite(mesh.module_m):
            continue
        choice, torque = mesh.choice, torques[mesh.position]
        shared = drive.resolved.variant.motor.count if drive.resolved.variant.stages[mesh.position].shared else 1
        pull = 2.0 * torque * shared / (mesh.module_m * max(choice.driver_teeth, 1))
        pull /= 0.8 * mesh.planet_count if mesh.planet_count > 1 else 1.0  # planets share unevenly; judged
        least = min(choice.driver_teeth, choice.driven_teeth) if mesh.planets is None else choice.driver_teeth
        joint = Joint(kind="gear", place="stage", count=min(max(least, 1), 60), thickness=_typical(mesh.module_m))
        to_wheel = torques[-1] / torque if torque > 0.0 else math.nan
        yield Spot(f"stage.{mesh.position}", "gear teeth", "drive", "stage", joint, At(torque, pull), to_wheel)


def _at_the_wheel(design: Design, layout: LayoutStudy, wheel: float) -> Iterator[Spot]:
    resolved, vehicle = layout.resolved, design.vehicle
    circle = vehicle.hub_bolt_circle
    at = At(wheel, shaft_m=vehicle.axle_diameter.value if vehicle.axle_diameter is not None else 0.012)
    if vehicle.axle_wheels > 1 and vehicle.kind is VehicleKind.KART:
        yield Spot("wheel.hub", "driven wheel on the axle", "drive", "wheel", Joint(kind="key", material="steel-s235"), at, 1.0)
        return
    if any(stage.freewheel for stage in resolved.variant.stages):
        yield Spot("wheel.freewheel", "freewheel", "drive", "wheel", Joint(kind="freewheel", place="wheel"), at, 1.0)
    yield Spot("wheel.bolts", "hub bolts", "drive", "wheel", Joint(kind="bolts", place="wheel", radius=_half(circle)), at, 1.0)


def _half(circle: Quantity | None) -> Quantity | None:
    return replace(circle, value=0.5 * circle.value) if circle is not None else None


def _mount(design: Design, layout: LayoutStudy, peak: float, wheel: float, to_wheel: float) -> Iterator[Spot]:
    motor, at = layout.resolved.motor_part, _motor_at(layout, peak)
    radius = 0.5e-3 * (motor.bolts_mm or 0.5 * motor.can_mm)
    size = 4 if motor.can_mm < 100.0 else 5
    screws = Joint(kind="slots", place="mount", screw=size, radius=_typical(radius))
    yield Spot("mount.screws", f"motor screws M{size}", "mount", "mount", screws, at, to_wheel)
    plate = layout.layout.plate
    joint = Joint(kind="plate", place="mount", thickness=plate, width=_typical(1e-3 * motor.can_mm))
    beside = at._replace(beyond_m=at.beyond_m - FACE_M - 0.5 * (plate.value if plate is not None else PLATE_M))
    yield Spot("mount.plate", "motor plate, bent sideways", "mount", "mount", joint, beside, to_wheel)
    if design.vehicle.kind in SHARED_MOUNT or design.vehicle.kind is VehicleKind.TWO_WHEEL_DRIVE:
        axle = design.vehicle.axle_diameter
        on = At(wheel, at.pull_n, 0.0, shaft_m=axle.value if axle is not None else 0.012)
        yield Spot("mount.clamp", "clamp on the axle", "mount", "mount", Joint(kind="clamp", place="mount"), on, 1.0)
    else:
        held = At(peak, at.pull_n, 0.0, shaft_m=TUBE_M)
        yield Spot("mount.bracket", "bracket on the frame", "mount", "mount", Joint(kind="bracket", place="mount"), held, to_wheel)


def _axle(design: Design, drive: DriveStudy, told: Strength) -> Iterator[Spot]:
    """The driven wheels' axle under the laden weight and a bump: not loaded by torque."""
    vehicle = design.vehicle
    mass, base = float(drive.resolved.load.mass_kg), vehicle.wheelbase.value
    behind = min(max(vehicle.cm_behind_front.value / base, 0.05), 0.95)
    on = behind if vehicle.driven_axle != "front" else 1.0 - behind
    bump = told.bump.value if told.bump is not None else BUMP[vehicle.kind]
    force = mass * GRAVITY * on * bump / vehicle.axle_wheels
    board = vehicle.kind is VehicleKind.STREET_BOARD
    # from dropout to bearing, from hanger to the wheel's middle; typical
    lever = 0.015 if vehicle.axle_wheels == 1 else 0.025 if board else 0.045
    diameter = vehicle.axle_diameter.value if vehicle.axle_diameter is not None else 0.012
    at = At(0.0, force if vehicle.axle_wheels > 1 else 0.5 * force, lever, shaft_m=diameter)
    yield Spot(
        "axle.bump",
        f"axle, {bump:g} times its weight",
        "drive",
        "axle",
        Joint(kind="axle", place="axle", material="steel-hard" if board else ""),
        at,
        math.nan,
    )


def _afloat(design: Design, drive: DriveStudy, layout: LayoutStudy, stock: Catalogue) -> Iterator[Spot]:
    """Of a boat: coupling, propeller's shaft, pin, blades, and what holds it to the hull; torque is that at the propeller."""
    berth, resolved = layout.scene.berth, drive.resolved
    assert berth is not None
    peak = peak_nm(drive)
    ratio = float(resolved.train.reduction.torque_ratio) * math.prod(float(stage.efficiency) for stage in resolved.stages)
    torque = peak * ratio
    choice = berth.choice
    shaft = choice.shaft_diameter.value if choice.shaft_diameter is not None else 1e-3 * (resolved.motor_part.shaft_mm or 10.0)
    screw = propeller_of(resolved.variant, stock)[1]
    push = drive.docks["full"].pull_n / max(choice.count, 1)
    at = At(torque, shaft_m=shaft)
    if choice.place in (Place.SHAFT, Place.LONG_TAIL, Place.LEG):
        joint = Joint(kind="coupling", screw=5)
        yield Spot("coupling", "coupling on the motor's shaft", "drive", "motor", joint, at._replace(torque_nm=peak), ratio)
    joint = Joint(kind="shaft", place="wheel", material="steel-c45")
    yield Spot("propeller.shaft", "propeller's shaft", "drive", "wheel", joint, at, 1.0)
    if screw.pin_mm is not None:
        joint = Joint(kind="pin", place="wheel", material="brass", diameter=_typical(1e-3 * screw.pin_mm))
        yield Spot("propeller.pin", "shear pin", "drive", "wheel", joint, at, 1.0)
    else:
        yield Spot("propeller.pin", "propeller on its shaft", "drive", "wheel", Joint(kind="key", place="wheel", material="brass"), at, 1.0)
    chord = screw.area_ratio * math.pi * screw.diameter_m / (2.0 * screw.blades * (1.0 - screw.hub_ratio))
    joint = Joint(
        kind="blade",
        place="wheel",
        count=screw.blades,
        inner=_typical(0.5 * screw.hub_ratio * screw.diameter_m),
        width=_typical(ROOT_CHORD * chord),
        thickness=_typical(ROOT_THICK * screw.diameter_m),
        material=BLADES[screw.make],
        across=screw.make == "printed",
    )
    yield Spot("propeller.blade", "blades at their root", "drive", "wheel", joint, At(torque, push, 0.5 * screw.diameter_m), 1.0)
    if choice.place is Place.LONG_TAIL:
        yield Spot("tail.pivot", "pivot of the tail", "mount", "mount", Joint(kind="pivot", place="mount"), At(0.0, push), math.nan)
    elif choice.place in (Place.LEG, Place.POD):
        below = propeller_depth_m(design.vehicle.hull, choice) if design.vehicle.hull is not None else None
        high = design.vehicle.hull.transom_height if design.vehicle.hull is not None else None
        lever = 0.5 * (high.value if high is not None else 0.4) + (below if below is not None else 0.25)
        held = At(0.0, push, lever)
        yield Spot("mount.transom", "clamp on the transom", "mount", "mount", Joint(kind="transom", place="mount"), held, math.nan)


# of a blade at its root: chord over its mean, thickness over the propeller's diameter; typical
ROOT_CHORD, ROOT_THICK = 0.8, 0.045
BLADES = {
    "machined": "al-6061",
    "cast": "al-5754",
    "moulded": "nylon-glass",
    "printed_filled": "print-nylon",
    "printed": "print-petg",
}


def _typical(value: float) -> Quantity:
    return Quantity(value=value, known=Known.ASSUMED)
