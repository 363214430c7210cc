"""What further kinds of joint bear: what a drive is fixed to, gear teeth, splines, spokes, and what hangs on a boat's stern."""

from __future__ import annotations

import math

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Joint
from wattagon.physics.strength import frames, joints
from wattagon.study.strength.element import At, Bears
from wattagon.study.strength.typical import FRICTION, MPA, made_of, strength_of, told

SPOKE_N = 800.0  # tension of a laced spoke, typical
GLUE_MPA = {"metal": 10.0, "moulded": 5.0, "print": 4.0, "wood": 3.0}  # shear of a glued seam by what it holds; typical
HEATED = 0.5  # of hardened aluminium beside a weld
HAND_N = 2500.0  # of a clamp screw turned by hand; typical
SLOT_NUT = 0.5  # of a bolt's preload that a nut in a slot of an extrusion bears; typical
PRESS = {"steel": 100.0, "aluminium": 60.0, "printed": 15.0}  # MPa at the sides of teeth, as of keys


def spline(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Teeth of a spline by the pressure at their sides."""
    assumed: list[str] = []
    wide = joint.diameter.value if joint.diameter is not None else at.shaft_m
    count, long = joint.count or 10, told(joint.length, 1.2 * wide, "length", assumed)
    if joint.count is None:
        assumed.append("teeth")
    material = made_of(stock, joint, "steel-c45", assumed)
    hub = "aluminium" if material.id.startswith("al-") else "steel" if material.kind == "metal" else "printed"
    bears = frames.spline_nm(wide, count, long, PRESS[hub] * MPA)
    return Bears(
        load=at.torque_nm,
        capacity=bears,
        unit="N m",
        wanted=1.5,
        why="metal, reversing",
        spread=0.3,
        source="side pressure, half of the teeth bear",
        material=material.id,
        working=(
            f"{count} teeth on {1e3 * wide:.1f} mm, {1e3 * long:.0f} mm long, {PRESS[hub]:.0f} MPa on {hub}",
            f"{frames.SPLINE_SHARE:g} p h l z d/2 = {bears:.1f} N m, asked {at.torque_nm:.2f} N m",
        ),
        assumed=tuple(assumed),
    )


def gear(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Teeth at their root: `pull_n` at the pitch circle, module as `thickness`, teeth as `count`."""
    assumed: list[str] = []
    module, wide = told(joint.thickness, 0.0015, "module", assumed), told(joint.width, 0.015, "width", assumed)
    teeth = joint.count or 14
    if joint.count is None:
        assumed.append("teeth")
    pull = at.pull_n if at.pull_n > 0.0 else 2.0 * at.torque_nm / (module * teeth)
    material = made_of(stock, joint, "steel-c45", assumed)
    strength, wanted, why = strength_of(material, joint, assumed)
    found = frames.lewis_pa(pull, module, teeth, wide) / MPA
    return Bears(
        load=found,
        capacity=strength,
        unit="MPa",
        wanted=wanted,
        why=why,
        spread=material.spread + 0.15,
        source="Lewis; pitting and heat are not checked",
        material=material.id,
        working=(
            f"{teeth} teeth, module {1e3 * module:.2g} mm, {1e3 * wide:.0f} mm wide: {pull:.0f} N on one tooth",
            f"F/(b m Y), Y = 0.484 - 2.87/z: {found:.0f} MPa of {strength:.0f} MPa ({material.name})",
        ),
        assumed=tuple(assumed),
    )


def spokes(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Laced spokes: torque must not slacken the leading ones."""
    assumed: list[str] = []
    count, flange = joint.count or 36, told(joint.radius, 0.03, "flange", assumed)
    if joint.count is None:
        assumed.append("how many")
    asked = frames.spoke_n(at.torque_nm, count, flange)
    return Bears(
        load=asked,
        capacity=SPOKE_N,
        unit="N",
        wanted=2.0,
        why="a slack spoke works itself to death; the rider's weight slackens them too",
        spread=0.3,
        source="statics of a laced wheel; rim and fatigue are not checked",
        working=(
            f"{at.torque_nm:.1f} N m/({count} x {1e3 * flange:.0f} mm) = {asked:.0f} N off each leading spoke",
            f"their tension {SPOKE_N:.0f} N, typical",
        ),
        assumed=(*assumed, "tension"),
    )


def _root(at: At, joint: Joint, assumed: list[str]) -> tuple[float, str]:
    """Moment at the root of a bracket [N m], in words."""
    lever = told(joint.lever, 0.08, "lever", assumed)
    moment = at.pull_n * lever + at.torque_nm
    return moment, f"M = {at.pull_n:.0f} N x {1e3 * lever:.0f} mm + {at.torque_nm:.1f} N m = {moment:.1f} N m"


def _seam(at: At, joint: Joint, stock: Catalogue, glued: bool) -> Bears:
    assumed: list[str] = []
    long, apart = told(joint.length, 0.05, "length", assumed), told(joint.width, 0.03, "apart", assumed)
    throat = told(joint.thickness, 0.02 if glued else 0.003, "wide" if glued else "throat", assumed)
    moment, words = _root(at, joint, assumed)
    material = made_of(stock, joint, "al-6061" if glued else "steel-s235", assumed)
    if glued:
        bears, how, wanted, why = GLUE_MPA[material.kind], f"glue on {material.name}", 4.0, "glue ages, and peels from an edge"
    else:
        soft = HEATED if material.id in ("al-6061", "al-7075") else 1.0
        bears, wanted, why = frames.weld_pa(soft * material.strength_mpa), 2.0, "a seam that nobody looked through"
        how = f"{material.name} {'welded and so half as strong' if soft < 1.0 else 'welded'}"
    found = frames.seam_pa(moment, at.pull_n, apart, long, throat) / MPA
    return Bears(
        load=found,
        capacity=bears,
        unit="MPa",
        wanted=wanted,
        why=why,
        spread=0.4 if glued else 0.3,
        source="two seams, shear" if glued else "two seams, EN 1993-1-8 simplified",
        material=material.id,
        working=(
            words,
            f"two seams {1e3 * long:.0f} mm x {1e3 * throat:.1f} mm, {1e3 * apart:.0f} mm apart: {found:.1f} MPa",
            f"{how} bears {bears:.0f} MPa in shear",
        ),
        assumed=tuple(assumed),
    )


def weld(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A bracket welded on by two seams; its throat as `thickness`."""
    return _seam(at, joint, stock, glued=False)


def glue(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A bracket glued on by two faces."""
    return _seam(at, joint, stock, glued=True)


def corner(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A corner of extrusions: screws in slot nuts about it."""
    assumed: list[str] = []
    size, count = joint.screw or 5, joint.count or 4
    for name, value in (("screw", joint.screw), ("how many", joint.count)):
        if value is None:
            assumed.append(name)
    radius = told(joint.radius, 0.02, "radius", assumed)
    moment, words = _root(at, joint, assumed)
    most = SLOT_NUT * joints.preload_n(size, joint.grade)
    each = min(joints.preload_of_torque_n(size, joint.torque.value), most) if joint.torque is not None else most
    holds = frames.corner_nm(each, count, radius, FRICTION)
    return Bears(
        load=moment,
        capacity=holds,
        unit="N m",
        wanted=2.0,
        why="friction, nothing else holds",
        spread=0.35,
        source="slip about a corner; slot nuts take half a bolt's preload",
        working=(words, f"{FRICTION:g} x {each:.0f} N x {count} x M{size} x {1e3 * radius:.0f} mm = {holds:.1f} N m"),
        assumed=tuple(assumed),
    )


def tube(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A tube that bears load, with a hole drilled through its wall: hole as `inner`, wall as `thickness`."""
    assumed: list[str] = []
    outer, wall = told(joint.diameter, 0.032, "diameter", assumed), told(joint.thickness, 0.0015, "wall", assumed)
    wall, hole = min(wall, 0.5 * outer), told(joint.inner, 0.006, "hole", assumed)
    moment, words = _root(at, joint, assumed)
    material = made_of(stock, joint, "steel-s235", assumed)
    whole, found = frames.tube_pa(moment, outer, wall) / MPA, frames.tube_pa(moment, outer, wall, hole) / MPA
    return Bears(
        load=found,
        capacity=material.yield_mpa,
        unit="MPa",
        wanted=3.0,
        why="who rides falls if it breaks",
        spread=material.spread + 0.2,
        source="bending of what is left; who rides loads it besides, which is not in this",
        material=material.id,
        working=(
            words,
            f"tube {1e3 * outer:.0f} mm x {1e3 * wall:.1f} mm: {whole:.0f} MPa whole, {found:.0f} MPa with a hole of {1e3 * hole:.0f} mm",
            f"{material.name} yields at {material.yield_mpa:.0f} MPa; at the hole's edge it is three times that, so it cracks there first",
        ),
        assumed=tuple(assumed),
    )


def blade(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A propeller's blade at its root: `pull_n` the push of all, `beyond_m` its radius, hub's radius as `inner`, chord as `width`."""
    assumed: list[str] = []
    radius = at.beyond_m if at.beyond_m > 0.0 else 0.1
    hub, chord = told(joint.inner, 0.2 * radius, "hub", assumed), told(joint.width, 0.4 * radius, "chord", assumed)
    thick, count = told(joint.thickness, 0.08 * radius, "thickness", assumed), joint.count or 3
    material = made_of(stock, joint, "nylon-glass", assumed)
    strength, wanted, why = strength_of(material, joint, assumed)
    found = frames.blade_pa(at.pull_n, at.torque_nm, count, radius, hub, chord, thick) / MPA
    return Bears(
        load=found,
        capacity=strength,
        unit="MPa",
        wanted=max(wanted, 3.0),
        why=f"{why}; it meets driftwood",
        spread=material.spread + 0.2,
        source="bending at the root, load at 0.7 R",
        material=material.id,
        working=(
            f"{at.pull_n:.0f} N and {at.torque_nm:.1f} N m on {count} blades, at {1e3 * frames.HELD_RADIUS * radius:.0f} mm",
            f"root {1e3 * chord:.0f} mm x {1e3 * thick:.1f} mm: {found:.0f} MPa of {strength:.0f} MPa ({material.name})",
        ),
        assumed=tuple(assumed),
    )


def transom(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Clamp screws on a transom: `pull_n` below it at `beyond_m` tips the leg out of them."""
    assumed: list[str] = []
    count, high = joint.count or 2, told(joint.length, 0.15, "height of its jaws", assumed)
    each = joints.preload_of_torque_n(8, joint.torque.value) if joint.torque is not None else HAND_N
    if joint.torque is None:
        assumed.append("tightened with")
    asked = at.pull_n * at.beyond_m / high
    return Bears(
        load=asked,
        capacity=count * each,
        unit="N",
        wanted=2.0,
        why="it shakes, and wood gives; a line to the boat saves it",
        spread=0.4,
        source="tipping about the lower edge, by statics",
        working=(
            f"{at.pull_n:.0f} N at the dock x {1e3 * at.beyond_m:.0f} mm below, jaws {1e3 * high:.0f} mm high: {asked:.0f} N on the screws",
            f"{count} screws press with {each:.0f} N each",
        ),
        assumed=tuple(assumed),
    )


def pivot(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A long tail's pivot: its pin in double shear under the push."""
    assumed: list[str] = []
    wide = told(joint.diameter, 0.012, "diameter", assumed)
    material = made_of(stock, joint, "stainless-soft", assumed)
    bears = 2.0 * math.pi / 4.0 * wide**2 * 0.6 * material.strength_mpa * MPA
    return Bears(
        load=at.pull_n,
        capacity=bears,
        unit="N",
        wanted=3.0,
        why="shocks when it strikes the ground",
        spread=material.spread + 0.1,
        source="double shear",
        material=material.id,
        working=(
            f"pushed with {at.pull_n:.0f} N at the dock; pin {1e3 * wide:.0f} mm of {material.name}",
            f"2 (pi d^2/4) x {0.6 * material.strength_mpa:.0f} MPa = {bears:.0f} N",
        ),
        assumed=tuple(assumed),
    )
