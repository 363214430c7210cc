"""Findings of bores, of what holds the pack, of shafts that would whirl."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from wattagon.design.parts import ProfilePart, ToothedPart
from wattagon.design.parts.families import toothed
from wattagon.design.paths import Edit
from wattagon.design.tree import ReductionKind
from wattagon.physics.gears import LEAST_CONTACT, UNDERCUT
from wattagon.physics.vibration import BELOW, allowed_off_m, imbalance_n
from wattagon.study.findings.rule import Case, Verdict
from wattagon.study.findings.status import Status
from wattagon.study.layout.bores import FITS_MM, METAL_MM, bored
from wattagon.study.layout.edits import told, with_layout, with_shaft, with_stage
from wattagon.study.layout.found import measured
from wattagon.study.layout.meshes import Meshed
from wattagon.study.layout.study import LayoutStudy

SLEEVE_PRICE = 12.0  # what turning one costs; typical
GRADE_MM_S = 6.3  # of a pulley, ISO 21940-11


def bore(case: Case, found: LayoutStudy) -> Verdict | None:
    """The first driver's bore on the motor's shaft: fits, bored out, with a sleeve, or another part."""
    stages, motor = found.resolved.variant.stages, found.resolved.motor_part
    first = next((stage for stage in stages if stage.kind in (ReductionKind.BELT, ReductionKind.CHAIN)), None)
    if first is None or not first.profile or stages[0] is not first:
        return None
    part = _part(case, first.profile, first.driver_teeth)
    shaft = motor.shaft_mm
    found_bore = bored(part, case.stock.get(ProfilePart, first.profile), shaft) if part is not None and shaft is not None else None
    if part is None or shaft is None or found_bore is None:
        what = "the motor's shaft" if shaft is None else "the pulley's bore"
        return Verdict(status=Status.NOT_CHECKED, title=f"Bore on shaft: {what} is not known")
    title, wall = f"Bore {part.bore_mm:g} mm of the {part.name}, shaft {shaft:g} mm", found_bore.wall_mm
    others = _others(case, first.profile, first.driver_teeth, shaft)
    if found_bore.way == "fits":
        return Verdict(status=Status.CLEAR, title=f"{title}: fits, with retaining compound", margin=0.3)
    if found_bore.way in ("sleeve", "loose"):
        rpm = found.stages[0].driver_rpm if found.stages else 0.0
        force, grade = imbalance_n(part.mass_kg, 1e-3 * wall, rpm), 1e3 * allowed_off_m(GRADE_MM_S, max(rpm, 1.0))
        off = f"; loose, it would run {wall:.2g} mm off its middle ({case.say(force, 'force')} at top speed, {grade:.2g} mm is usual)"
        if found_bore.way == "loose":
            words = f": {wall:.2g} mm are too thin for a sleeve, another part{off}"
            return Verdict(status=Status.OVER, title=title + words, margin=-0.1, candidates=others)
        words = f": a keyed sleeve of {wall:g} mm wall, turned for some {SLEEVE_PRICE:.0f} {case.design.brief.currency}{off}"
        return Verdict(status=Status.TIGHT, title=title + words, margin=0.0, candidates=others)
    if found_bore.way == "thin":
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


DENSE_KG_M3, FILLED_KG_M3 = 2900.0, 2600.0  # of cells without anything around them; of a pack that leaves no room to spare; judged


def pack_size(case: Case, found: LayoutStudy) -> Verdict | None:
    """The size that is told for the pack against the cells that it holds now."""
    pack = next((one for one in found.scene.bodies if one.kind == "pack" and one.index >= 0), None)
    if pack is None or "size" in pack.missing:
        return None
    volume = pack.length * pack.width * pack.height
    packs = sum(one.kind == "pack" for one in found.scene.bodies)
    dense = found.resolved.pack_kg / packs / volume
    need = case.say(found.resolved.pack_kg / packs, "mass")
    sides = " × ".join(case.say(side, "length") for side in (pack.length, pack.width, pack.height))
    title = f"{need} of cells in a {pack.name} of {sides}: {dense / 1000.0:.1f} kg/l"
    if dense > DENSE_KG_M3:
        title += ", cells alone have 2.9: measure it anew for the cells that it holds now"
    elif dense > FILLED_KG_M3:
        title += ", hardly room for leads"
    status = Status.OVER if dense > DENSE_KG_M3 else Status.TIGHT if dense > FILLED_KG_M3 else Status.CLEAR
    return Verdict(status=status, title=title, margin=1.0 - dense / FILLED_KG_M3)


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


def sprung(case: Case, found: LayoutStudy) -> Verdict | None:
    """A sprung idler gives way when its run is pulled the other way: it and an electric brake do not go together."""
    layout, brakes = found.layout, float(found.resolved.train.controller.regen_motor_current_a) > 0.0
    at = [run for run in found.stages if any(idler.sprung for idler in told(layout, run.position).idlers)]
    if not at:
        return None
    freewheel = any(found.resolved.variant.stages[k].freewheel for k in range(at[0].position, len(found.resolved.variant.stages)))
    name = "belt" if at[0].made.kind is not None else "chain"
    if not brakes or freewheel:
        return Verdict(status=Status.CLEAR, title=f"A sprung idler holds the slack run of the {name}: nothing pulls that run", margin=0.3)
    title = f"The {name}'s sprung idler gives way when the motor brakes: fix it, or let the motor not brake"
    off = Edit(label="The motor does not brake", changes=(("variant.controller.regen_motor_current_a", 0.0),))
    fixed = tuple(replace(idler, sprung=False) for idler in told(layout, at[0].position).idlers)
    held = with_stage(layout, at[0].position, replace(told(layout, at[0].position), idlers=fixed))
    edits = (with_layout(case.design, held, "Idler fixed"), off)
    return Verdict(status=Status.OVER, title=title, margin=-1.0, candidates=lambda: edits)


NEAR_SHARE, FAR_SHARE = -0.02, 0.25  # of a module: teeth jam, and what still meshes well


def gears(case: Case, found: LayoutStudy, one: Meshed) -> Verdict | None:
    """A gear pair in its place, a planetary set by its counts."""
    many = f" {one.position + 1}" if len(found.meshes) + len(found.stages) > 1 else ""
    say = case.say
    if one.planets is not None:
        if not one.planets.fits:
            return Verdict(status=Status.OVER, title=f"Planetary set{many} cannot be put together: {one.planets.fault}", margin=-1.0)
        turns = say(abs(one.planet_rpm) * 1.0, "rpm")
        title = f"Planetary set{many}: {one.planet_count} planets of {one.planets.teeth:.0f} teeth fit, turning at {turns} on their pins"
        return Verdict(status=Status.CLEAR, title=title, margin=0.3)
    if one.choice.kind is not ReductionKind.GEAR:
        return None
    small = min(one.choice.driver_teeth, one.choice.driven_teeth)
    where = f"{say(one.centre_m, 'length')} apart, {say(one.fitting_m, 'length')} fit module {1e3 * one.module_m:g}"
    if not one.module_told:
        return Verdict(status=Status.NOT_CHECKED, title=f"Gears{many}: their module is not told, {1e3 * one.module_m:g} mm is taken")
    off = one.off_m / one.module_m
    if off < NEAR_SHARE or not math.isfinite(one.contact):
        return Verdict(status=Status.OVER, title=f"Gears{many} jam: {where}", margin=-1.0, candidates=_to_centre(case, found, one))
    if one.contact < LEAST_CONTACT:
        title = f"Gears{many} hardly mesh, {one.contact:.2f} teeth carry where {LEAST_CONTACT:g} are wanted: {where}"
        return Verdict(status=Status.OVER, title=title, margin=one.contact / LEAST_CONTACT - 1.0, candidates=_to_centre(case, found, one))
    status = Status.TIGHT if off > FAR_SHARE or small < UNDERCUT else Status.CLEAR
    words = f"; {small} teeth are cut under at the root unless they are shifted" if small < UNDERCUT else ""
    title = f"Gears{many}: {one.contact:.2f} teeth carry, {where}{words}"
    margin = one.contact / LEAST_CONTACT - 1.0
    return Verdict(status=status, title=title, margin=margin, candidates=_to_centre(case, found, one))


def _to_centre(case: Case, found: LayoutStudy, one: Meshed) -> Callable[[], tuple[Edit, ...]]:
    """The driver moved along the line of centres to where it meshes."""

    def edits() -> tuple[Edit, ...]:
        driver, driven = found.shafts[one.position], found.shafts[one.position + 1]
        if one.centre_m <= 0.0 or abs(one.off_m) < 1e-6:
            return ()
        share = one.fitting_m / one.centre_m
        x, z = driven.x + share * (driver.x - driven.x), driven.z + share * (driver.z - driven.z)
        label = f"The {driver.name} where the gears mesh, {case.say(one.fitting_m, 'length')} apart"
        return (with_layout(case.design, with_shaft(found.layout, found.shafts, one.position, x, z), label),)

    return edits


def roller_place(case: Case, found: LayoutStudy, one: Meshed) -> Verdict | None:
    """Whether the roller touches the tyre where it stands, and what it holds there."""
    if one.choice.kind is not ReductionKind.FRICTION:
        return None
    say = case.say
    dry, dusty, wet = (say(value, "force") if math.isfinite(value) else "all" for value in one.grip_n)
    holds = f"pressed with {say(one.press_n, 'force')} it holds {dry} dry, {dusty} dusty, {wet} wet"
    if one.off_m > TOUCHES_M:
        return Verdict(
            status=Status.OVER,
            title=f"The roller does not reach the tyre by {measured(case, one.off_m)}; {holds}",
            margin=-1.0,
            candidates=_to_centre(case, found, one),
        )
    if one.off_m < -PRESSED_IN_M:
        title = f"The roller stands {measured(case, -one.off_m)} inside the tyre; {holds}"
        return Verdict(status=Status.TIGHT, title=title, margin=0.0, candidates=_to_centre(case, found, one))
    return Verdict(status=Status.CLEAR, title=f"The roller lies on the tyre; {holds}", margin=0.3)


TOUCHES_M, PRESSED_IN_M = 0.001, 0.006  # of a tyre: where it still touches, how far one presses; judged
