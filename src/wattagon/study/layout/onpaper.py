"""The side view at 1:1, to be laid beside the vehicle: outlines in mm."""

from __future__ import annotations

from wattagon.physics.outline import Line, Outline, circle
from wattagon.physics.path import drawn
from wattagon.study.layout.cut.sheet import Sheet
from wattagon.study.layout.gaps import corners
from wattagon.study.layout.study import LayoutStudy


def full_scale(found: LayoutStudy) -> Sheet:
    """Wheel, wheels of the drive, loops, can, idlers and pieces of the frame as one sheet of paper."""
    scene, motor = found.scene, found.shafts[0]
    mm = lambda x, z: (1e3 * x, 1e3 * z)
    marks: list[Outline] = [circle(0.0, 0.0, 1e3 * scene.axle_m)]
    if scene.can_stands:
        marks.append(circle(*mm(motor.x, motor.z), 500.0 * scene.can_m))
    for run in found.stages:
        marks += [circle(*mm(wheel.round.x, wheel.round.y), 1e3 * wheel.outside) for wheel in run.path.wheels]
        if run.path.loop.wraps:
            points = [mm(*at) for at in drawn([wheel.round for wheel in run.path.wheels], run.path.loop)]
            marks.append(tuple(Line(a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)))
    for mesh in found.meshes:
        marks += [circle(*mm(disc.x, disc.z), 1e3 * disc.radius) for disc in mesh.discs]
    for one in scene.layout.obstacles:
        if one.shape == "circle":
            marks.append(circle(*mm(one.x, one.z), 1e3 * one.radius))
        else:
            ends = corners(one) if one.shape == "box" else [(one.x, one.z), (one.x2, one.z2)]
            points = [mm(*at) for at in ends]
            pairs = zip(points, [*points[1:], points[0]], strict=True) if one.shape == "box" else [(points[0], points[1])]
            marks.append(tuple(Line(a, b) for a, b in pairs))
    for x, z in (mm(shaft.x, shaft.z) for shaft in found.shafts):  # a cross at each shaft
        marks += [(Line((x - 4.0, z), (x + 4.0, z)),), (Line((x, z - 4.0), (x, z + 4.0)),)]
    return Sheet(
        id="side-view",
        name=f"{found.design.vehicle.name} {found.resolved.variant.id}, side view",
        made="paper",
        thickness_mm=0.0,
        outer=circle(0.0, 0.0, 1e3 * scene.tyre_m),
        holes=(),
        marks=tuple(marks),
        figures=tuple((f"{one.made.family.id} between the middles", 1e3 * one.centre_m) for one in found.stages),
    )
