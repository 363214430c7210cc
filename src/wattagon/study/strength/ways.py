"""Other ways to make an element: by size, count, form and material, each with what it would bear."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any, NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import MaterialPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Joint, Strength
from wattagon.design.tree.strength import PLACES
from wattagon.study.drive.study import DriveStudy
from wattagon.study.strength.element import Element
from wattagon.study.strength.loads import Met
from wattagon.study.strength.study import StrengthStudy, study_strength


class Other(NamedTuple):
    """Another way to make an element: in words, the wheel torque at which it would give way [N m], its factor, the edit."""

    words: str
    fails_at_nm: float
    factor: float
    edit: Edit


def others(found: StrengthStudy, one: Element, stock: Catalogue, drive: DriveStudy, met: Met | None = None) -> list[Other]:
    """Other ways to make an element, each with what it would bear; a second point first, then by what they bear, worse ones left out."""
    if one.joint is None:
        return []
    made = []
    for words, joint in _variations(one.joint, stock):
        edit = with_joint(found.design, one, joint, words)
        design = replace(found.design, variants=tuple(_edited(v, edit, found.design) for v in found.design.variants))
        fresh = study_strength(design, stock, drive, found.layout, met=met)
        after = fresh.element(one.code)
        if after is None or not math.isfinite(after.factor):
            continue
        swings = one.joint.points == 1 and joint.points == 2  # held where it could turn: no factor tells that
        if swings or not math.isfinite(one.factor) or after.factor > 1.02 * one.factor:
            made.append(Other(words, after.fails_at_nm, after.factor, edit))
    return sorted(made, key=lambda other: (other.words != TWO_POINTS, -other.factor))[:6]


def _edited(variant, edit: Edit, design: Design):  # type: ignore[no-untyped-def]
    return replace(variant, strength=edit.changes[0][1]) if variant.id == design.variant().id else variant


def with_joint(design: Design, one: Element, joint: Joint, label: str) -> Edit:
    """The edit that tells how an element is made."""
    told = design.variant().strength or Strength()
    kept = list(told.joints)
    joint = replace(joint, place=one.place if one.place in PLACES else joint.place)
    if one.own >= 0:
        kept[one.own] = joint
    else:
        kept.append(joint)
    return Edit(label=f"{one.name}: {label}", changes=(("variant.strength", replace(told, joints=tuple(kept))),))


def _stated(value: float) -> Quantity:
    return Quantity(value=value, known=Known.STATED)


TWO_POINTS = "held at two points"
# metals that nobody makes a shaft or a pin of that must last, or a plate
NO_BARS = ("al-5754", "al-6061", "al-7075", "steel-s235", "brass")
NO_SHEETS = ("steel-c45", "steel-hard", "steel-soft", "stainless-hard", "brass")
# by kind: field, what is usual of it, in words
STEPS: dict[str, tuple[tuple[str, float, str], ...]] = {
    "weld": (("length", 0.05, "seams {:.0f} mm long"), ("thickness", 0.003, "a throat of {:.1f} mm")),
    "glue": (("length", 0.05, "faces {:.0f} mm long"),),
    "spline": (("length", 0.02, "{:.0f} mm long"),),
    "transom": (("length", 0.15, "jaws {:.0f} mm high"),),
    "gear": (("width", 0.015, "{:.0f} mm wide"),),
    "blade": (("thickness", 0.008, "{:.1f} mm thick at the root"),),
    "tube": (("thickness", 0.0015, "a wall of {:.1f} mm"),),
    "corner": (("radius", 0.02, "screws {:.0f} mm from the corner"),),
}


def _variations(joint: Joint, stock: Catalogue) -> list[tuple[str, Joint]]:
    """Steps by size, count, form and material."""
    made: list[tuple[str, Joint]] = []
    sizes = (3, 4, 5, 6, 8, 10, 12)
    if joint.kind in ("set_screw", "clamp", "bolts", "slots", "arms", "spokes", "coupling"):
        now = joint.screw or {"set_screw": 4, "clamp": 6, "slots": 4}.get(joint.kind, 5)
        bigger = [size for size in sizes if size > now and (joint.kind != "set_screw" or size <= 6)][:2]
        made += [(f"M{size} instead of M{now}", replace(joint, screw=size)) for size in bigger]
        count = joint.count or {"set_screw": 2, "clamp": 2, "slots": 4}.get(joint.kind, 5)
        made.append((f"{count + 1} instead of {count}", replace(joint, count=count + 1)))
    if joint.kind in ("clamp", "bolts", "slots", "spokes"):
        made.append(("grade 12.9", replace(joint, grade="12.9")))
    if joint.kind == "set_screw":
        made.append(("on a flat of 1 mm", replace(joint, flat=_stated(0.001))))
        made += [
            (words, Joint(kind=kind, locked=True)) for kind, words in (("key", "a key"), ("clamp", "a clamp hub"), ("pin", "a cross pin"))
        ]
    if joint.kind in ("key", "d_bore"):
        long = joint.length.value if joint.length is not None else 0.014
        made += [(f"{1e3 * (long + more):.0f} mm long", replace(joint, length=_stated(long + more))) for more in (0.006, 0.012)]
        made.append(("in a hub of steel", replace(joint, material="steel-c45")))
        made.append(("a clamp hub", Joint(kind="clamp", locked=True)))
    if joint.kind in ("shaft", "bearing"):
        made.append(("an outboard bearing 20 mm beyond", replace(joint, outboard=_stated(0.02))))
    if joint.kind in ("shaft", "axle", "pin"):
        now_d = joint.diameter.value if joint.diameter is not None else None
        if now_d is not None:
            made.append((f"{1e3 * now_d + 2:.0f} mm thick", replace(joint, diameter=_stated(now_d + 0.002))))
    if joint.kind in ("plate", "bracket", "arms", "dropout", "torque_arm"):
        thick = joint.thickness.value if joint.thickness is not None else {"plate": 0.008, "arms": 0.01}.get(joint.kind, 0.006)
        made += [(f"{1e3 * (thick + more):.0f} mm thick", replace(joint, thickness=_stated(thick + more))) for more in (0.002, 0.004)]
    if joint.kind in ("dropout", "torque_arm"):
        now_t = joint.thickness.value if joint.thickness is not None else 0.006
        for more, words in ((0.010, "torque arm 10 mm, one side"), (0.020, "torque arms 10 mm, both sides")):
            made.append((words, replace(joint, kind="torque_arm", thickness=_stated(now_t + more))))
    if joint.kind in ("plate", "bracket", "arms", "shaft", "axle", "dropout", "torque_arm", "pin", "pivot"):
        round_bar = joint.kind in ("shaft", "axle", "pin", "pivot")
        for material in stock.all(MaterialPart):
            fits = material.id not in (NO_BARS if round_bar else NO_SHEETS)
            if material.id != joint.material and material.kind == "metal" and fits:
                made.append((material.name, replace(joint, material=material.id, across=False)))
    if joint.kind == "freewheel":
        made.append(("one rated for 200 N m", replace(joint, bears=_stated(200.0))))
    for name, usual, form in STEPS.get(joint.kind, ()):
        told = getattr(joint, name)
        was = told.value if told is not None else usual
        for more in (1.5, 2.0):
            changed: dict[str, Any] = {name: _stated(was * more)}
            made.append((form.format(1e3 * was * more), replace(joint, **changed)))
    if joint.kind == "tube":
        made.append(("no hole", replace(joint, inner=_stated(0.0))))
    if joint.kind == "glue":
        made.append(("welded, of steel", replace(joint, kind="weld", thickness=None, material="steel-s235")))
    if joint.points == 1:
        made.append((TWO_POINTS, replace(joint, points=2)))
    return made
