"""Whether a drive can be built at all: a loop of stock that lies, cans that fit, a bore that holds, wheels off the ground.

Only what was measured is judged, and nothing that another place for the motor would mend; what is not known does not speak against
a drive.
"""

from __future__ import annotations

from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import ProfilePart
from wattagon.design.parts.families import toothed
from wattagon.design.tree import Design, ReductionKind
from wattagon.study.findings.status import Status
from wattagon.study.layout.bores import bored
from wattagon.study.layout.gaps import all_gaps
from wattagon.study.layout.stage import Strain
from wattagon.study.layout.study import lay_out
from wattagon.study.resolve import Resolved

FIT_M = 0.0015
UNSTRAINED = Strain(1.0, 1.0, 1000.0)
NAMES = {
    "build.loop": "a loop that stock has",
    "build.cans": "motors that fit between the wheels",
    "build.bore": "a pulley that holds on the shaft",
    "build.ground": "a pulley off the ground",
    "build.mesh": "gears that mesh",
}


class Hindrance(NamedTuple):
    """What keeps a drive from being built, and by how much [m]."""

    code: str
    by_m: float


def hindrance(design: Design, resolved: Resolved, stock: Catalogue) -> Hindrance | None:
    """The first thing that keeps the active variant from being built; None where nothing that is known does."""
    variant = resolved.variant
    _, scene = lay_out(design, resolved, stock, [UNSTRAINED] * len(variant.stages))
    for run in scene.stages:
        if not run.path.loop.real or not run.in_stock or abs(run.off_m) > FIT_M:
            return Hindrance("build.loop", abs(run.off_m))
    for mesh in scene.meshes:
        if mesh.planets is not None and not mesh.planets.fits:
            return Hindrance("build.mesh", 0.0)
    first = next((stage for stage in variant.stages if stage.kind is not ReductionKind.DIRECT), None)
    shaft = resolved.motor_part.shaft_mm
    if first is not None and first.profile and shaft is not None:
        part = next((part for part in toothed(stock, first.profile, "driver") if part.teeth == first.driver_teeth), None)
        made = bored(part, stock.get(ProfilePart, first.profile), shaft) if part is not None else None
        if made is not None and not made.holds:
            return Hindrance("build.bore", 1e-3 * made.wall_mm)
    over = {gap.code: gap.nominal for gap in all_gaps(scene) if gap.status is Status.OVER}
    for code, name in (("cans.between", "build.cans"), ("wheel.ground", "build.ground")):
        if code in over:
            return Hindrance(name, -over[code])
    return None
