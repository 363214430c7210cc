"""What each kind of joint bears: its equation with this design's numbers.  One function a kind; forces N, torques N m, stresses MPa."""

from __future__ import annotations

import math
from collections.abc import Callable

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import MaterialPart
from wattagon.design.tree import Joint
from wattagon.physics.strength import joints, mounts, shafts
from wattagon.study.strength import kinds_more as more
from wattagon.study.strength.element import At, Bears
from wattagon.study.strength.typical import FRICTION, FRICTION_LOCK, MPA, made_of, printed_share, strength_of, told

# bore: (name, C, C0) of bearings as motors and shafts have them [N]; typical
BEARINGS: dict[int, tuple[str, float, float]] = {
    5: ("625", 1140.0, 380.0),
    6: ("626", 2340.0, 950.0),
    8: ("688", 1250.0, 590.0),
    10: ("6900", 2700.0, 1270.0),
    12: ("6901", 2890.0, 1460.0),
    15: ("6002", 5590.0, 2850.0),
}


def shaft(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A shaft under overhung pull, with a flat if there is one, on its yield."""
    assumed: list[str] = []
    material = made_of(stock, joint, "steel-hard", assumed)
    diameter, flat = joint.diameter.value if joint.diameter is not None else at.shaft_m, joint.flat.value if joint.flat is not None else 0.0
    outboard = joint.outboard.value if joint.outboard is not None else 0.0
    held = shafts.straddled(at.pull_n, at.beyond_m, outboard) if outboard > 0.0 else shafts.overhung(at.pull_n, at.beyond_m, at.apart_m)
    bending = abs(held.bending)
    if 0.0 < flat < 0.45 * diameter:
        found = shafts.flat_stress(diameter, flat, bending, at.torque_nm)
    else:
        found = shafts.round_stress(diameter, bending, at.torque_nm)
    shared = ", an outboard bearing shares it" if outboard > 0.0 else ""
    cut = f" with a flat of {1e3 * flat:.1f} mm" if flat > 0.0 else ""
    fatigue = shafts.fatigue_factor(diameter, bending, at.torque_nm, material.strength_mpa * MPA)
    return Bears(
        load=found.mises / MPA,
        capacity=material.yield_mpa,
        unit="MPa",
        wanted=2.0,
        why="metal on its yield",
        spread=material.spread + 0.05,
        source="bending and torsion by von Mises",
        material=material.id,
        working=(
            f"M = {at.pull_n:.0f} N x {1e3 * at.beyond_m:.1f} mm{shared} = {bending:.2f} N m"
            if at.pull_n > 0.0
            else "nothing pulls across it here",
            f"d = {1e3 * diameter:.1f} mm{cut}: bending {found.bending / MPA:.0f} MPa, torsion {found.shear / MPA:.0f} MPa",
            f"sqrt(s^2 + 3 t^2) = {found.mises / MPA:.0f} MPa, {material.name} yields at {material.yield_mpa:.0f} MPa",
            f"fatigue factor {fatigue:.2f} at a notch, 1.5 wanted{'' if fatigue >= 1.5 else ': too little for many hours'}",
        ),
        assumed=tuple(assumed),
    )


def set_screw(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Set screws on the shaft, divided for shock and reversal."""
    assumed: list[str] = []
    size, count = joint.screw or 4, joint.count or 2
    if joint.screw is None:
        assumed.append("screw")
    size = min(max(size, 3), 6) if size not in joints.HOLD_N else size
    flat = joint.flat.value if joint.flat is not None else 0.1 * at.shaft_m
    if joint.flat is None:
        assumed.append("flat")
    seated = min(joint.torque.value / joints.SEAT_NM[size], 1.0) if joint.torque is not None else 1.0
    still = joints.set_screw_nm(size, at.shaft_m, count, joint.second, flat, seated)
    usable = joints.set_screw_usable_nm(size, at.shaft_m, count, joint.second, flat, seated)
    how = "" if count < 2 else ", 60 degrees apart" if joint.second == "60" else f", {joint.second}"
    on = f"on a flat of {1e3 * flat:.1f} mm" if flat > 0.0 else "on a round shaft"
    return Bears(
        load=at.torque_nm,
        capacity=usable,
        unit="N m",
        wanted=1.0,
        why="shock and reversal are taken off already",
        spread=0.35,
        source="cup points, holding power by size",
        working=(
            f"{count} x M{size} {on} of {1e3 * at.shaft_m:.0f} mm{how}: {still:.1f} N m hold still",
            f"over {joints.FLAT_SAFE if flat > 0.0 else joints.ROUND_SAFE:g} for shock and reversal: {usable:.2f} N m to be used",
            f"asked {at.torque_nm:.2f} N m" + ("" if joint.locked else "; without thread lock it is gone within hours"),
        ),
        assumed=tuple(assumed),
    )


def key(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A parallel key by shear and by side pressure."""
    assumed: list[str] = []
    long = told(joint.length, 1.75 * at.shaft_m, "length", assumed)
    material = made_of(stock, joint, "al-6061", assumed)
    hub = "printed" if material.kind == "print" else "aluminium" if material.id.startswith("al-") else "steel"
    found = joints.key_nm(at.shaft_m, long, joints.KEY_PRESS_PA[hub])
    wide, high = joints.key_of(at.shaft_m)
    return Bears(
        load=at.torque_nm,
        capacity=min(found),
        unit="N m",
        wanted=1.5,
        why="metal, reversing",
        spread=0.2,
        source="parallel key, DIN 6885",
        material=material.id,
        working=(
            f"key {1e3 * wide:.0f} mm x {1e3 * high:.0f} mm x {1e3 * long:.0f} mm on {1e3 * at.shaft_m:.0f} mm",
            f"by shear {found.shear:.2f} N m, by pressure on a hub of {hub} {found.pressure:.2f} N m",
        ),
        assumed=tuple(assumed),
    )


def d_bore(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A D-shaped bore by the pressure at its edge."""
    assumed: list[str] = []
    flat, long = told(joint.flat, 0.1 * at.shaft_m, "flat", assumed), told(joint.length, 1.5 * at.shaft_m, "length", assumed)
    material = made_of(stock, joint, "al-6061", assumed)
    strength, wanted, why = strength_of(material, joint, assumed)
    bears = joints.d_bore_nm(at.shaft_m, flat, long, strength * MPA)
    return Bears(
        load=at.torque_nm,
        capacity=bears,
        unit="N m",
        wanted=wanted,
        why=why,
        spread=0.3,
        source="pressure along half a flat",
        material=material.id,
        working=(
            f"flat {1e3 * flat:.1f} mm deep, {1e3 * long:.0f} mm long, edge pressure {strength:.0f} MPa: {bears:.2f} N m",
            "only one half of the flat bears: its edge crushes, play grows",
        ),
        assumed=tuple(assumed),
    )


def clamp(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A split hub or clamp by friction."""
    assumed: list[str] = []
    size, count = joint.screw or 6, joint.count or 2
    if joint.screw is None:
        assumed.append("screw")
    diameter = joint.diameter.value if joint.diameter is not None else at.shaft_m
    each = joints.preload_of_torque_n(size, joint.torque.value) if joint.torque is not None else joints.preload_n(size, joint.grade)
    each = min(each, joints.preload_n(size, joint.grade, 1.0))
    pressed = joints.slit_force_n(each, count)
    mu = FRICTION_LOCK if joint.locked else FRICTION
    holds = joints.clamp_nm(pressed, diameter, mu)
    points = joint.points or 2
    one = "" if points > 1 else "; one point alone: it can swing about it both ways"
    return Bears(
        load=at.torque_nm,
        capacity=holds,
        unit="N m",
        wanted=2.0,
        why="friction, nothing else holds",
        spread=0.35,
        source="one-slit clamp, close fit",
        working=(
            f"{count} x M{size} {joint.grade}, {each:.0f} N each; the slit's ears take 30 %: pressed with {pressed:.0f} N",
            f"4/pi x {mu:g} x {pressed:.0f} N x {1e3 * diameter:.1f} mm = {holds:.1f} N m, asked {at.torque_nm:.1f} N m{one}",
        ),
        assumed=tuple(assumed),
    )


def pin(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A cross pin in double shear."""
    assumed: list[str] = []
    wide = told(joint.diameter, 0.25 * at.shaft_m, "diameter", assumed)
    material = made_of(stock, joint, "steel-c45", assumed)
    shear = 220.0 if material.id == "brass" else 130.0 if material.id.startswith("al-") else 0.6 * material.strength_mpa
    bears = joints.pin_nm(wide, at.shaft_m, shear * MPA)
    return Bears(
        load=at.torque_nm,
        capacity=bears,
        unit="N m",
        wanted=1.5,
        why="a fuse breaks at 1.5 times the peak or more",
        spread=material.spread + 0.1,
        source="double shear",
        material=material.id,
        working=(f"2 (pi d^2/4) x {shear:.0f} MPa x {1e3 * at.shaft_m:.0f} mm/2, d = {1e3 * wide:.1f} mm: {bears:.1f} N m",),
        assumed=tuple(assumed),
    )


def bolts(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A flange held by friction of its bolts on a circle, torque alone."""
    assumed: list[str] = []
    size, count = joint.screw or 5, joint.count or 5
    for name, value in (("screw", joint.screw), ("how many", joint.count)):
        if value is None:
            assumed.append(name)
    radius = told(joint.radius, 0.03, "radius", assumed)
    each = joints.preload_of_torque_n(size, joint.torque.value) if joint.torque is not None else joints.preload_n(size, joint.grade)
    each = min(each, joints.preload_n(size, joint.grade, 1.0))
    asked = math.hypot(at.torque_nm / (count * radius), at.pull_n / count)
    loose = "" if joint.locked else "; without lock they work loose by vibration"
    material = stock.rows(MaterialPart).get(joint.material)
    if material is not None and material.kind == "wood":
        return _in_wood(asked, size, count, joint, material, assumed)
    return Bears(
        load=asked,
        capacity=FRICTION * each,
        unit="N",
        wanted=mounts.SLIP,
        why="friction must not slip",
        spread=0.3,
        source="elastic bolt pattern, friction",
        working=(
            f"{count} x M{size} {joint.grade} at {1e3 * radius:.0f} mm: {at.torque_nm:.1f} N m ask {asked:.0f} N of each",
            f"{FRICTION:g} x {each:.0f} N of preload = {FRICTION * each:.0f} N hold{loose}",
        ),
        assumed=tuple(assumed),
    )


def _in_wood(asked: float, size: int, count: int, joint: Joint, material: MaterialPart, assumed: list[str]) -> Bears:
    """Wood creeps away under preload: what it bears beside the bolt counts, not friction."""
    thick = told(joint.thickness, 0.012, "thickness", assumed)
    presses = mounts.embedding_pa(size / 1e3, material.density_kg_m3)
    bears = presses * size / 1e3 * thick
    return Bears(
        load=asked,
        capacity=bears,
        unit="N",
        wanted=4.0,
        why="wood",
        spread=material.spread,
        source="embedding, EN 1995-1-1",
        material=material.id,
        working=(
            f"{count} x M{size} ask {asked:.0f} N of each; friction does not count on wood, it creeps",
            f"{presses / MPA:.0f} MPa x {size} mm x {1e3 * thick:.0f} mm = {bears:.0f} N ({material.name}); washers of 3 d",
        ),
        assumed=tuple(assumed),
    )


def slots(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Motor screws in slots: the worst of four at 45 degrees, by its vector."""
    assumed: list[str] = []
    size, count = joint.screw or 4, joint.count or 4
    if joint.screw is None:
        assumed.append("screw")
    radius = told(joint.radius, 0.016, "radius", assumed)
    each = joints.preload_of_torque_n(size, joint.torque.value) if joint.torque is not None else joints.preload_n(size, joint.grade)
    each = min(each, joints.preload_n(size, joint.grade, 1.0))
    turns = [math.pi / count + 2.0 * math.pi * k / count for k in range(count)]
    places = [(radius * math.cos(turn), radius * math.sin(turn)) for turn in turns]
    worst = max(mounts.bolt_loads_n(places, (at.pull_n, 0.0), (0.0, 0.0), at.torque_nm))
    loose = "" if joint.locked else "; lock the threads"
    return Bears(
        load=worst,
        capacity=FRICTION * each,
        unit="N",
        wanted=mounts.SLIP,
        why="nothing but friction holds along a slot",
        spread=0.3,
        source="elastic bolt pattern, friction",
        working=(
            f"{count} x M{size} at {1e3 * radius:.1f} mm: {at.pull_n:.0f} N and {at.torque_nm:.2f} N m: {worst:.0f} N on the worst",
            f"{FRICTION:g} x {each:.0f} N of preload = {FRICTION * each:.0f} N{loose}; a jack screw takes the pull instead",
        ),
        assumed=tuple(assumed),
    )


def plate(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """The motor plate bent sideways by the belt's pull."""
    assumed: list[str] = []
    thick = told(joint.thickness, 0.008, "thickness", assumed)
    wide = told(joint.width, 0.05, "width", assumed)
    material = made_of(stock, joint, "al-6061", assumed)
    strength, wanted, why = strength_of(material, joint, assumed)
    lever = at.beyond_m
    share, hollow = printed_share(material, joint, wide, thick)
    found = mounts.plate_pa(at.pull_n * lever, wide, thick) / MPA / share
    return Bears(
        load=found,
        capacity=strength,
        unit="MPa",
        wanted=wanted,
        why=why,
        spread=material.spread + 0.1,
        source="6 M/(b t^2)",
        material=material.id,
        working=(
            f"M = {at.pull_n:.0f} N x {1e3 * lever:.1f} mm beside the plate = {at.pull_n * lever:.2f} N m",
            f"6 M/(b t^2), {1e3 * wide:.0f} mm x {1e3 * thick:.1f} mm: {found:.0f} MPa of {strength:.0f} MPa ({material.name}){hollow}",
        ),
        assumed=tuple(assumed),
    )


def bracket(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A bracket on the frame: bent at its root by pull and reaction."""
    assumed: list[str] = []
    thick, wide = told(joint.thickness, 0.006, "thickness", assumed), told(joint.width, 0.05, "width", assumed)
    lever = told(joint.lever, 0.08, "lever", assumed)
    material = made_of(stock, joint, "al-6061", assumed)
    strength, wanted, why = strength_of(material, joint, assumed)
    moment = at.pull_n * lever + at.torque_nm
    share, hollow = printed_share(material, joint, thick, wide)
    found = mounts.plate_pa(moment, thick, wide) / MPA / share  # bent in its own plane: high way up
    points = joint.points or 2
    one = "" if points > 1 else "; one point alone: it can swing about it both ways"
    return Bears(
        load=found,
        capacity=strength,
        unit="MPa",
        wanted=wanted,
        why=why,
        spread=material.spread + 0.15,
        source="bending at its root",
        material=material.id,
        working=(
            f"M = {at.pull_n:.0f} N x {1e3 * lever:.0f} mm + {at.torque_nm:.1f} N m = {moment:.1f} N m",
            f"6 M/(t b^2), {1e3 * thick:.1f} mm x {1e3 * wide:.0f} mm: {found:.0f} MPa",
            f"{material.name} bears {strength:.0f} MPa{hollow}{one}",
        ),
        assumed=tuple(assumed),
    )


def arms(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Arms of a wheel pulley: torn out of their bolts, or bent."""
    assumed: list[str] = []
    count, size = joint.count or 5, joint.screw or 5
    radius, inner = told(joint.radius, 0.06, "radius", assumed), told(joint.lever, 0.03, "lever", assumed)
    thick, wide = told(joint.thickness, 0.01, "thickness", assumed), told(joint.width, 0.016, "width", assumed)
    edge = told(joint.edge, 2.0 * size / 1e3, "edge", assumed)
    material = made_of(stock, joint, "al-6061", assumed)
    strength, wanted, why = strength_of(material, joint, assumed)
    share = 0.5 if material.kind == "print" else 0.6
    force, hole = mounts.arm_force_n(at.torque_nm, count, radius, share), 1.05e-3 * size
    hollow = printed_share(material, joint, thick, wide)[0]
    bent = mounts.bar_pa(force * max(radius - inner, 1e-3), thick, wide, min(hole, 0.8 * wide)) / MPA / hollow
    tear = mounts.tear_out_n(thick, edge, hole, 0.58 * strength * MPA)
    by_tear, by_bend = (force / tear if tear > 0.0 else math.inf), (bent / strength if strength > 0.0 else math.inf)
    worst = max(by_tear, by_bend)
    return Bears(
        load=worst * strength,
        capacity=strength,
        unit="MPa",
        wanted=wanted,
        why=why,
        spread=material.spread + 0.15,
        source="share of arms, tear-out, bending",
        material=material.id,
        working=(
            f"{at.torque_nm:.1f} N m/({count} x {share:g} x {1e3 * radius:.0f} mm) = {force:.0f} N on an arm",
            f"bent {bent:.1f} MPa; torn out of M{size} at {tear:.0f} N, edge {1e3 * edge:.0f} mm",
            f"{'bolts tear out' if by_tear > by_bend else 'arms bend'} first; {material.name} bears {strength:.0f} MPa there",
        ),
        assumed=tuple(assumed),
    )


def dropout(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """An axle's flats in their slots, with a torque arm if there is one."""
    assumed: list[str] = []
    wide, across = told(joint.diameter, 0.012, "diameter", assumed), told(joint.inner, 0.010, "across its flats", assumed)
    thick = told(joint.thickness, 0.006, "thickness", assumed)
    material = made_of(stock, joint, "steel-s235", assumed)
    limit = 250.0 if material.id.startswith("st") else 120.0 if material.kind == "metal" else material.yield_mpa
    across = min(across, 0.98 * wide)
    found = mounts.dropout_pa(wide, across, thick, at.torque_nm) / MPA
    return Bears(
        load=found,
        capacity=limit,
        unit="MPa",
        wanted=1.5,
        why="else the axle spins and cuts its leads",
        spread=0.2,
        source="6 T/(t (D^2 - s^2))",
        material=material.id,
        working=(
            f"6 x {at.torque_nm:.1f} N m/(t (D^2 - s^2)) = {found:.0f} MPa",
            f"t = {1e3 * thick:.1f} mm, D = {1e3 * wide:.1f} mm, s = {1e3 * across:.1f} mm",
            f"{material.name} bears {limit:.0f} MPa at its edges; nuts do not count",
        ),
        assumed=tuple(assumed),
    )


def torque_arm(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """An arm on the axle's flats: its own slot, thicker than the frame's."""
    assumed: list[str] = []
    lever = told(joint.lever, 0.1, "lever", assumed)
    base = dropout(at, joint, stock)
    return base._replace(
        source="6 T/(t (D^2 - s^2)), held at its end",
        working=(*base.working, f"held by {at.torque_nm / lever:.0f} N at {1e3 * lever:.0f} mm, without play: braking reverses it"),
        assumed=(*base.assumed, *assumed),
    )


def freewheel(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """Pawls: by their maker, else typical of cheap ones."""
    assumed: list[str] = []
    bears = told(joint.bears, 90.0, "what it bears", assumed)
    return Bears(
        load=at.torque_nm,
        capacity=bears,
        unit="N m",
        wanted=1.5,
        why="pawls do not all bear",
        spread=0.4,
        source="its maker" if joint.bears is not None else "typical of a threaded one",
        working=(f"asked {at.torque_nm:.0f} N m, bears {bears:.0f} N m{'' if joint.bears is not None else ' (a cheap one)'}",),
        assumed=tuple(assumed),
    )


def bearing(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """The front bearing: static, and by its life at what lasts."""
    bore = min(BEARINGS, key=lambda size: abs(size - 1e3 * at.shaft_m))
    name, rating, static = BEARINGS[bore]
    outboard = joint.outboard.value if joint.outboard is not None else 0.0
    held = shafts.straddled(at.pull_n, at.beyond_m, outboard) if outboard > 0.0 else shafts.overhung(at.pull_n, at.beyond_m, at.apart_m)
    front = max(abs(held.front), 1e-9)
    behind = " with an outboard bearing" if outboard > 0.0 else f", {1e3 * at.apart_m:.0f} mm between both"
    life = shafts.life_h(rating, at.lasting * front, at.rpm)
    return Bears(
        load=front,
        capacity=static,
        unit="N",
        wanted=2.0,
        why="shocks",
        spread=0.25,
        source="static rating; life by ISO 281",
        working=(
            f"{at.pull_n:.0f} N, {1e3 * at.beyond_m:.1f} mm beyond the front one{behind}: {front:.0f} N",
            f"{name} (typical of {bore} mm): C0 {static:.0f} N, C {rating:.0f} N",
            f"lasts {life:,.0f} h at {at.lasting:.0%} of that and {at.rpm:.0f} rpm; 500 h are wanted of a board, 2000 h of a bike",
        ),
        assumed=("bearing",),
    )


def axle(at: At, joint: Joint, stock: Catalogue) -> Bears:
    """A wheel's axle bent by the laden weight and a bump: `pull_n` at `beyond_m`."""
    assumed: list[str] = []
    material = made_of(stock, joint, "steel-c45", assumed)
    diameter = joint.diameter.value if joint.diameter is not None else at.shaft_m
    moment = at.pull_n * at.beyond_m
    found = shafts.round_stress(diameter, moment, 0.0).bending / MPA
    return Bears(
        load=found,
        capacity=material.yield_mpa,
        unit="MPa",
        wanted=3.0 if material.kind == "metal" else 6.0,
        why="who rides falls if it breaks",
        spread=material.spread + 0.1,
        source="32 M/(pi d^3)",
        material=material.id,
        working=(
            f"{at.pull_n:.0f} N with the bump x {1e3 * at.beyond_m:.0f} mm = {moment:.1f} N m",
            f"32 M/(pi d^3), d = {1e3 * diameter:.1f} mm: {found:.0f} MPa of {material.yield_mpa:.0f} MPa ({material.name})",
        ),
        assumed=tuple(assumed),
    )


BEARS: dict[str, Callable[[At, Joint, Catalogue], Bears]] = {
    "shaft": shaft,
    "set_screw": set_screw,
    "key": key,
    "d_bore": d_bore,
    "clamp": clamp,
    "pin": pin,
    "bolts": bolts,
    "slots": slots,
    "plate": plate,
    "bracket": bracket,
    "arms": arms,
    "spokes": more.spokes,
    "dropout": dropout,
    "torque_arm": torque_arm,
    "freewheel": freewheel,
    "bearing": bearing,
    "axle": axle,
    "coupling": clamp,
    "spline": more.spline,
    "gear": more.gear,
    "weld": more.weld,
    "glue": more.glue,
    "corner": more.corner,
    "tube": more.tube,
    "blade": more.blade,
    "transom": more.transom,
    "pivot": more.pivot,
}
