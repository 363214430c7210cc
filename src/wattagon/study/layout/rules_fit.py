"""Findings of bores, of what holds the pack, of shafts that would whirl."""

from __future__ import annotations

import math
from collections.abc import Callable

from wattagon.design.parts import ProfilePart, ToothedPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import Edit
from wattagon.design.tree import ReductionKind
from wattagon.physics.vibration import BELOW, allowed_off_m, imbalance_n
from wattagon.study.findings.rule import Case, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.layout.study import LayoutStudy

FITS_MM = 0.05  # with a retaining compound
METAL_MM, SLEEVE_MM, SLEEVE_PRICE = 2.0, 1.0, 12.0  # wall that stays; wall of a sleeve; what turning one costs, typical
GRADE_MM_S = 6.3  # of a pulley, ISO 21940-11


def bore(case: Case, found: LayoutStudy) -> Verdict | None:
    """The first driver's bore on the motor's shaft: fits, bored out, with a sleeve, or another part."""
    stages, motor = found.resolved.variant.stages, found.resolved.motor_part
    first = next((stage for stage in stages if stage.kind in (ReductionKind.BELT, ReductionKind.CHAIN)), None)
    if first is None or not first.profile or stages[0] is not first:
        return None
    part = _part(case, first.profile, first.driver_teeth)
    if part is None or part.bore_mm is None or motor.shaft_mm is None:
        what = "the motor's shaft" if motor.shaft_mm is None else "the pulley's bore"
        return Verdict(status=Status.NOT_CHECKED, title=f"Bore on shaft: {what} is not known")
    hole, shaft = part.bore_mm, motor.shaft_mm
    title = f"Bore {hole:g} mm of the {part.name}, shaft {shaft:g} mm"
    if abs(hole - shaft) < FITS_MM:
        return Verdict(status=Status.CLEAR, title=f"{title}: fits, with retaining compound", margin=0.3)
    others = _others(case, first.profile, first.driver_teeth, shaft)
    if hole > shaft:
        sleeve = 0.5 * (hole - shaft)
        loose = imbalance_n(part.mass_kg, 1e-3 * sleeve, found.stages[0].driver_rpm) if found.stages else math.nan
        grade = 1e3 * allowed_off_m(GRADE_MM_S, max(found.stages[0].driver_rpm, 1.0)) if found.stages else math.nan
        off = f"; loose, it would run {sleeve:.2g} mm off its middle ({case.say(loose, 'force')} at top speed, {grade:.2g} mm is usual)"
        if sleeve < SLEEVE_MM:
            words = f": {sleeve:.2g} mm are too thin for a sleeve, another part{off}"
            return Verdict(status=Status.OVER, title=title + words, margin=shaft / hole - 1.0, candidates=others)
        words = f": a keyed sleeve of {sleeve:g} mm wall, turned for some {SLEEVE_PRICE:.0f} {case.design.brief.currency}{off}"
        return Verdict(status=Status.TIGHT, title=title + words, margin=0.0, candidates=others)
    profile = case.stock.get(ProfilePart, first.profile)
    groove = (profile.tooth_mm or 0.4 * profile.pitch_mm) + (profile.line_mm or 0.0)
    root = 0.5 * profile.pitch_mm * part.teeth / math.pi - groove
    wall = root - 0.5 * shaft
    if wall < METAL_MM:
        words = f": bored out, {max(wall, 0.0):.1f} mm of metal would stay under the teeth, {METAL_MM:g} are wanted"
        return Verdict(status=Status.OVER, title=title + words, margin=wall / METAL_MM - 1.0, candidates=others)
    words = f": bore it out before it is fitted, {wall:.1f} mm of metal stay under the teeth"
    return Verdict(status=Status.CLEAR, title=title + words, margin=wall / METAL_MM - 1.0)


def _part(case: Case, profile: str, teeth: int) -> ToothedPart | None:
    return next((part for part in toothed(case.stock, profile, "driver") if part.teeth == teeth), None)


def _others(case: Case, profile: str, teeth: int, shaft: float) -> Callable[[], tuple[Edit, ...]]:
    """Drivers of the family that fit the shaft as they are, nearest in teeth first."""

    def edits() -> tuple[Edit, ...]:
        fits = [p for p in toothed(case.stock, profile, "driver") if p.bore_mm is not None and abs(p.bore_mm - shaft) < FITS_MM]
        fits.sort(key=lambda part: abs(part.teeth - teeth))
        return tuple(
            Edit(
                label=f"Driver {teeth} to {part.teeth} teeth, bored {part.bore_mm:g} mm",
                changes=(("variant.stages.0.driver_teeth", part.teeth),),
            )
            for part in fits[:2]
            if part.teeth != teeth
        )

    return edits


def held(case: Case, found: LayoutStudy) -> Verdict | None:
    """Whether it is told what holds the pack."""
    pack = next((one for one in found.scene.bodies if one.kind == "pack" and one.index >= 0), None)
    if pack is None:
        return None
    if not pack.told.held:
        words = f"What holds the {pack.name} is not told: a strap, screws or a lid that keep it when the vehicle lies on its side"
        return Verdict(status=Status.NOT_CHECKED, title=words)
    pull = case.say(5.0 * 9.81 * pack.mass_kg, "force")
    return Verdict(status=Status.CLEAR, title=f"The {pack.name} is held by {_HOW[pack.told.held]}: pull on it with {pull}", margin=0.3)


_HOW = {"strap": "a strap", "screws": "screws", "lid": "its lid", "glue": "glue"}


def whirl(case: Case, found: LayoutStudy) -> Verdict | None:
    """Shafts against the speed at which they whirl."""
    worst = max(found.whirls, key=lambda one: one.turns_rpm / one.critical_rpm, default=None)
    if worst is None:
        return None
    share = worst.turns_rpm / worst.critical_rpm
    status = Status.OVER if share > 1.0 else Status.TIGHT if share > BELOW else Status.CLEAR
    title = (
        f"The {worst.shaft} turns at {case.say(worst.turns_rpm, 'rpm')} at top speed, it whirls at {case.say(worst.critical_rpm, 'rpm')}"
    )
    if status is not Status.CLEAR:
        title += ": a thicker shaft, bearings nearer to each other, or a lighter pulley"
    return Verdict(status=status, title=title, margin=1.0 - share / BELOW)
