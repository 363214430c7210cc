"""The strength of a variant: every element with its factor, what gives way first, what a proof test needs and what proofs have said."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import MaterialPart
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Joint, Proof, Strength
from wattagon.design.tree.strength import PLACES
from wattagon.physics.strength.prints import ROOM_C, proof_nm, warm_share
from wattagon.record import record
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.study import LayoutStudy, study_layout
from wattagon.study.resolve import Input
from wattagon.study.strength.element import At, Bears, Element
from wattagon.study.strength.kinds import BEARS
from wattagon.study.strength.loads import Asked, Load, Met, loads
from wattagon.study.strength.path import Spot, spots
from wattagon.study.strength.typical import WARM_C


@record(frozen=True, slots=True, kw_only=True)
class StrengthStudy:
    """All that the strength bench, its findings and `wattagon strength` show."""

    design: Design
    told: Strength
    loads: tuple[Load, ...]
    elements: tuple[Element, ...]
    layout: LayoutStudy
    inputs: Mapping[str, Input]

    @property
    def first(self) -> Element | None:
        """What gives way first as torque grows; bearings wear instead."""
        return min(
            (one for one in self.elements if math.isfinite(one.fails_at_nm) and one.kind != "bearing"),
            key=lambda one: one.fails_at_nm,
            default=None,
        )

    @property
    def where(self) -> str:
        """Where torques of the path are counted, in words."""
        return "at the wheel" if self.layout.scene.berth is None else "at the propeller"

    def load(self, case: str) -> Load | None:
        """One of the cases."""
        return next((one for one in self.loads if one.case == case), None)

    def element(self, code: str) -> Element | None:
        """One of the elements."""
        return next((one for one in self.elements if one.code == code), None)


def study_strength(
    design: Design,
    stock: Catalogue,
    drive: DriveStudy,
    layout: LayoutStudy | None = None,
    run: Asked | None = None,
    met: Met | None = None,
) -> StrengthStudy:
    """Of the active variant.  `run` is a timed run in the place of the design's own.

    `met` is what a ride met: a case of its own, and prints beside the motor are as hot as its case was, where nobody told.
    """
    layout = layout if layout is not None else study_layout(design, stock, drive, gaps=False)
    told = design.variant().strength or Strength()
    cases = loads(design, drive, layout, told, run, met)
    elements = [_element(spot, told, stock, cases[0].wheel_nm, met) for spot in spots(design, drive, layout, told, stock)]
    elements += _loops(layout, cases[0].wheel_nm)
    elements += _thrust(drive, layout, cases[0].wheel_nm)
    extra = [joint for k, joint in enumerate(told.joints) if not any(one.own == k for one in elements)]
    elements += _more(extra, told, stock, layout, cases[0].wheel_nm)
    proved = [_proved(one, told.proofs, stock) for one in elements]
    order = {"drive": 0, "mount": 1}
    proved.sort(key=lambda one: (order[one.side], PLACES.index(one.place)))
    return StrengthStudy(
        design=design, told=told, loads=cases, elements=tuple(proved), layout=layout, inputs=_inputs(design, drive, layout, told)
    )


def _element(spot: Spot, told: Strength, stock: Catalogue, wheel: float, met: Met | None) -> Element:
    own, joint = _own(spot, told)
    if met is not None and joint.temperature is None and spot.place in ("motor", "mount"):
        joint = replace(joint, temperature=Quantity(value=met.case_c, known=Known.ASSUMED))
    return Element(
        code=spot.code,
        name=_named(spot, joint),
        kind=joint.kind,
        side=spot.side,
        place=spot.place,
        joint=joint,
        own=own,
        torque_share=1.0 / spot.to_wheel if math.isfinite(spot.to_wheel) and spot.to_wheel > 0.0 else math.nan,
        bears=BEARS[joint.kind](spot.at, joint, stock),
        wheel_nm=wheel,
        at=spot.at,
    )


# kinds that stand for each other: one is told, the other's typical one goes
INSTEAD = (
    {"set_screw", "key", "d_bore", "clamp", "pin", "coupling", "spline"},
    {"bolts", "spokes"},
    {"clamp", "bracket", "weld", "glue", "corner", "tube"},
    {"dropout", "torque_arm"},
)


def _own(spot: Spot, told: Strength) -> tuple[int, Joint]:
    """(index, joint) of the design's own that stands for an element; -1 and the typical one without."""
    for k, joint in enumerate(told.joints):
        alike = joint.kind == spot.joint.kind or any({joint.kind, spot.joint.kind} <= group for group in INSTEAD)
        if joint.place == spot.place and alike:
            return k, _filled(joint, spot.joint)
    return -1, spot.joint


def _filled(joint: Joint, usual: Joint) -> Joint:
    """A told joint with what the path knows where it tells nothing: radius of bolts, thickness of a plate."""
    same = joint.kind == usual.kind
    names = ("radius", "thickness", "width", "inner", "diameter", "count") if same else ("radius", "thickness", "width")
    fill = {name: getattr(usual, name) for name in names if getattr(joint, name) is None}
    return replace(joint, material=joint.material or usual.material if joint.kind == usual.kind else joint.material, **fill)


WORDS = {
    "set_screw": "set screws",
    "d_bore": "D-shaped bore",
    "key": "key",
    "clamp": "clamp",
    "pin": "pin",
    "coupling": "coupling",
    "spline": "spline",
    "shaft": "shaft",
    "bearing": "bearing",
    "gear": "gear teeth",
    "bolts": "bolts on a circle",
    "arms": "arms of a wheel pulley",
    "spokes": "laced spokes",
    "freewheel": "freewheel",
    "slots": "screws in slots",
    "plate": "plate",
    "bracket": "bracket on the frame",
    "weld": "welded bracket",
    "glue": "glued bracket",
    "corner": "corner of the frame",
    "tube": "drilled tube",
    "dropout": "axle in its dropouts",
    "torque_arm": "torque arm",
    "axle": "axle",
    "blade": "blades at their root",
    "transom": "clamp on the transom",
    "pivot": "pivot of the tail",
}


def _named(spot: Spot, joint: Joint) -> str:
    if joint.name:
        return joint.name
    if joint.kind == spot.joint.kind and joint.kind not in ("set_screw", "key"):
        return spot.name
    where = {"motor": " on the motor's shaft", "jackshaft": " on the jackshaft", "wheel": " at the wheel"}.get(spot.place, "")
    return f"{WORDS[joint.kind]}{where}"


def _loops(layout: LayoutStudy, wheel: float) -> list[Element]:
    """Belts and chains, gears and rollers, from the layout."""
    made = []
    for run in layout.stages:
        many = f" {run.position + 1}" if len(layout.stages) > 1 else ""
        to_wheel = wheel / run.torque_nm if run.torque_nm > 0.0 else math.nan
        if run.jump is not None:
            ways = (("jumps when warm", run.warm_nm), ("shears its teeth", run.jump.shear_nm))
            by, nm = min(ways, key=lambda one: one[1])
            bears = Bears(
                load=run.torque_nm,
                capacity=nm,
                unit="N m",
                wanted=2.0,
                why="a jump in traffic is a fall",
                spread=0.5 if by.startswith("jump") else 0.25,
                source="the layout: teeth in mesh, tension, give of the mount",
                working=(
                    f"{run.made.family.id}, {run.in_mesh} teeth in mesh, set to {run.installed_n:.0f} N",
                    f"jumps at {run.warm_nm:.1f} N m warm, shears at {run.jump.shear_nm:.1f} N m; asked {run.torque_nm:.2f} N m",
                ),
            )
            kind, name = "belt", f"belt{many}, {run.in_mesh} in mesh: {by}"
        else:
            breaking = run.made.family.breaking_n
            bears = Bears(
                load=run.pull_n,
                capacity=breaking if breaking is not None else math.nan,
                unit="N",
                wanted=6.5,
                why="a 6.5th of its breaking load in seconds",
                spread=0.1,
                source="ISO 606",
                working=(
                    f"pulled with {run.pull_n:.0f} N, breaks at {breaking:.0f} N"
                    if breaking is not None
                    else "its breaking load is not known",
                ),
            )
            kind, name = "chain", f"chain{many}"
        made.append(
            Element(
                code=f"stage.{run.position}",
                name=name,
                kind=kind,
                side="drive",
                place="stage",
                joint=None,
                own=-1,
                torque_share=1.0 / to_wheel if math.isfinite(to_wheel) else math.nan,
                bears=bears,
                wheel_nm=wheel,
            )
        )
    for mesh in layout.meshes:
        if not math.isfinite(mesh.grip_n[2]):
            continue
        grip, words = mesh.grip_n[2] * 0.5 * layout.scene.tyre_m, "wet, it slips; rubber wears"
        made.append(
            Element(
                code=f"stage.{mesh.position}",
                name="roller on the tyre",
                kind="roller",
                side="drive",
                place="stage",
                joint=None,
                own=-1,
                torque_share=1.0,
                bears=Bears(wheel, grip, "N m", 1.0, words, 0.3, "the layout: pressed on, wet", (f"{mesh.grip_n[2]:.0f} N wet", words)),
                wheel_nm=wheel,
            )
        )
    return made


def _thrust(drive: DriveStudy, layout: LayoutStudy, wheel: float) -> list[Element]:
    """A boat's thrust bearing under the pull of the dock: not loaded by torque."""
    berth = layout.scene.berth
    if berth is None or berth.choice.thrust_rating is None:
        return []
    push, rating = drive.docks["full"].pull_n / max(berth.choice.count, 1), berth.choice.thrust_rating.value
    bears = Bears(
        load=push,
        capacity=rating,
        unit="N",
        wanted=2.0,
        why="shocks",
        spread=0.2,
        source="static rating of the bearing",
        working=(f"pushed with {push:.0f} N at the dock, C0 {rating:.0f} N",),
    )
    name = "thrust bearing"
    return [
        Element(
            code="propeller.thrust",
            name=name,
            kind="bearing",
            side="drive",
            place="axle",
            joint=None,
            own=-1,
            torque_share=math.nan,
            bears=bears,
            wheel_nm=wheel,
        )
    ]


def _more(extra: list[Joint], told: Strength, stock: Catalogue, layout: LayoutStudy, wheel: float) -> list[Element]:
    """Joints that stand for nothing on the path: at their place's own torque."""
    made = []
    for joint in extra:
        at_motor = joint.place == "motor" and layout.stages
        torque = layout.stages[0].torque_nm if at_motor else wheel
        at = At(torque, shaft_m=joint.diameter.value if joint.diameter is not None else 0.012)
        own = next(k for k, one in enumerate(told.joints) if one is joint)
        made.append(
            Element(
                code=f"own.{own}",
                name=joint.name or WORDS[joint.kind],
                kind=joint.kind,
                side="mount" if joint.place == "mount" else "drive",
                place=joint.place,
                joint=joint,
                own=own,
                torque_share=torque / wheel if wheel > 0.0 else 1.0,
                bears=BEARS[joint.kind](at, joint, stock),
                wheel_nm=wheel,
            )
        )
    return made


def _proved(one: Element, proofs: tuple[Proof, ...], stock: Catalogue) -> Element:
    """What proofs make of an element, in their order: held is a floor, moved the load at which it slips, broke its strength."""
    for proof in (proof for proof in proofs if proof.element == one.code):
        share = _left_of(one, proof, stock)
        wheel = share * proof_nm(proof.mass, proof.lever, proof.arm_mass, 0.5 * proof.lever)
        warm = f" at {proof.temperature:.0f} C" if proof.temperature is not None else ""
        words = f"{proof.result} at {proof.mass:g} kg on {1e3 * proof.lever:.0f} mm{warm}{f', {proof.date}' if proof.date else ''}"
        fails, held = one.fails_at_nm, proof.result == "held"
        one = replace(one, proved=words)
        if held:
            one = replace(one, floor_nm=max(wheel, one.floor_nm) if math.isfinite(one.floor_nm) else wheel)
        if not math.isfinite(fails) or fails <= 0.0 or (held and wheel <= fails):
            continue
        cold = f", {share:.0%} of it where it works" if share < 0.995 else ""
        said = f"calculated {fails:.0f} N m at the wheel, {'held' if held else 'proved'} {wheel:.0f} N m{cold}"
        bears = one.bears._replace(capacity=one.bears.capacity * wheel / fails, working=(*one.bears.working, said))
        one = replace(one, bears=bears if held else bears._replace(spread=0.1))
    return one


def _left_of(one: Element, proof: Proof, stock: Catalogue) -> float:
    """What counts of a test of a print where it works: it is weaker there than at the test's temperature."""
    joint = one.joint
    material = stock.rows(MaterialPart).get(joint.material) if joint is not None else None
    if joint is None or material is None or material.soft_c is None:
        return 1.0
    works = joint.temperature.value if joint.temperature is not None else WARM_C
    tested = proof.temperature if proof.temperature is not None else ROOM_C
    return min(warm_share(material.soft_c, works) / max(warm_share(material.soft_c, tested), 1e-3), 1.0)


# endings of paths: what torque comes from, what shafts and mounts meet besides, what loads an axle, what a blade is
TORQUE = ("kv_rpm_per_v", "controller.motor_current_a", "driver_teeth", "driven_teeth", ".efficiency", "motor.count")
BESIDE = ("layout.plate", "layout.pulley_gap", "layout.motor.x", "layout.motor.z")
WEIGHT = ("rider_mass", "load_mass", "empty_mass", "cm_behind_front", "wheelbase", "axle_diameter", "strength.bump")
BLADE = (".diameter_m", "area_ratio", "hub_ratio", "propeller.thrust_model", "propeller.torque_model")


def rests_on(found: StrengthStudy, one: Element) -> list[str]:
    """Paths of the inputs that an element's factor rests on."""
    ends: tuple[str, ...] = WEIGHT if one.kind == "axle" else TORQUE
    if one.kind in ("shaft", "bearing", "plate", "bracket", "slots"):
        ends += BESIDE
    if one.kind in ("blade", "transom", "pivot") or one.code == "propeller.thrust":
        ends += BLADE
    own = f"variants.{found.design.variant().id}.strength.joints.{one.own}."
    return [path for path in found.inputs if path.endswith(ends) or (one.own >= 0 and path.startswith(own))]


def _inputs(design: Design, drive: DriveStudy, layout: LayoutStudy, told: Strength) -> dict[str, Input]:
    """What the strength rests on, by path: the drive's and the layout's own, and what was told of joints."""
    found = {path: item for path, item in drive.resolved.inputs.items() if path.endswith((*TORQUE, *WEIGHT, *BLADE))}
    found |= layout.inputs
    base = f"variants.{design.variant().id}.strength"
    dims = {"torque": "torque", "temperature": "temperature", "bears": "torque"}
    for k, joint in enumerate(told.joints):
        for name in (
            "torque",
            "flat",
            "diameter",
            "inner",
            "length",
            "width",
            "thickness",
            "radius",
            "edge",
            "lever",
            "temperature",
            "outboard",
            "bears",
            "offset",
        ):
            value: Quantity | None = getattr(joint, name)
            if value is not None:
                path = f"{base}.joints.{k}.{name}"
                found[path] = Input(value=value.value, known=value.known, dimension=dims.get(name, "length"), tolerance=value.tolerance)
    for name, dimension in (("bump", "number"), ("run_time", "time"), ("run_speed", "speed")):
        held: Quantity | None = getattr(told, name)
        if held is not None:
            found[f"{base}.{name}"] = Input(value=held.value, known=held.known, dimension=dimension, tolerance=held.tolerance)
    return found
