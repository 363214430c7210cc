"""Which causes a design can have at all."""

from __future__ import annotations

from wattagon.design.tree import Design, ReductionKind
from wattagon.study.drive.study import DriveStudy
from wattagon.study.trouble.causes import Cause


def applies(cause: Cause, design: Design, drive: DriveStudy) -> bool:
    """Whether it has what the cause is about."""
    floats, variant = design.vehicle.kind.floats, drive.resolved.variant
    if cause.on and (cause.on == "water") != floats:
        return False
    control = variant.control
    sensor = control.sensor if control is not None else ""
    lever = control.throttle.lever.kind if control is not None and control.throttle is not None else ""
    loops = any(stage.kind in (ReductionKind.BELT, ReductionKind.CHAIN) for stage in variant.stages)
    joints = variant.strength.joints if variant.strength is not None else ()
    has = {
        "": True,
        "loop": loops,
        "pair": variant.motor.count > 1,
        "hall": sensor == "hall" or (not sensor and drive.resolved.motor_part.family in ("sensored", "hub")),
        "radio": lever in ("", "pulse"),
        "printed": (bool(joints) and any(joint.walls is not None or joint.across or joint.material.startswith("print") for joint in joints))
        or design.brief.workshop.printer is not None
        or not design.brief.workshop.stated,
        "bike": variant.gears is not None,
    }
    kinds = {stage.kind for stage in variant.stages}
    if cause.code == "roller_slips":
        return ReductionKind.FRICTION in kinds
    if cause.code == "mesh_noise":
        return bool(kinds & {ReductionKind.GEAR, ReductionKind.PLANETARY, ReductionKind.CHAIN})
    if cause.code in ("grub_slips", "key_missing"):
        return bool(variant.stages) or floats
    if cause.code == "freewheel_slips":
        return any(stage.freewheel for stage in variant.stages) or variant.gears is not None
    if cause.code == "round_axle":
        return not variant.stages
    if cause.code == "unequal_bricks":
        cell, battery = drive.resolved.cell_part, variant.battery
        return cell.brick_series * cell.brick_parallel > 1 or (battery is not None and len(battery.bricks) > 1)
    if cause.code == "board_opens":
        battery = variant.battery
        return battery is None or battery.school != "none"
    return has[cause.needs]
