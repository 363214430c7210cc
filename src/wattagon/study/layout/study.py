"""The layout of a variant: every shaft in its place, every belt and chain as it runs, every gap, what would ring."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CarrierPart
from wattagon.design.parts.families import toothed
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, GoalKind, Layout, Place, StageLayout, Variant
from wattagon.errors import InputError
from wattagon.physics.belt import tone_hz
from wattagon.physics.vibration import BELOW, NEAR, orders, rings_at_rpm
from wattagon.record import record
from wattagon.study.drive.afloat import lying
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.aboard import Balance, Lead, aboard, axles_m, balance, leads
from wattagon.study.layout.aboard_gaps import body_gaps
from wattagon.study.layout.boat import Berth
from wattagon.study.layout.found import Found
from wattagon.study.layout.gaps import Scene, across, all_gaps
from wattagon.study.layout.meshes import Meshed, meshed
from wattagon.study.layout.place import (
    MOUNT_M_N,
    Placed,
    Shaft,
    around_axle_m,
    centre_of,
    lengths_of,
    place,
    stock_of,
    tolerance_m,
)
from wattagon.study.layout.stacks import Stacked, Whirl, stack_gaps, stacked, usual_stacks, whirls
from wattagon.study.layout.stage import Running, Strain, run
from wattagon.study.layout.sweep import lean_gaps
from wattagon.study.resolve import Input, Resolved
from wattagon.study.resolve.boat import propeller_depth_m, propeller_of


class Ring(NamedTuple):
    """Something that would ring: what, at which speed of the motor and of the vehicle [m/s], and whether it is ridden so fast."""

    what: str
    rpm: float
    speed_m_s: float
    ridden: bool


@record(frozen=True, slots=True, kw_only=True)
class LayoutStudy:
    """All that the layout bench, its findings and `wattagon layout` show."""

    design: Design
    resolved: Resolved
    layout: Layout
    placed: Placed
    stages: tuple[Running, ...]
    meshes: tuple[Meshed, ...]
    scene: Scene
    gaps: tuple[Found, ...]
    rings: tuple[Ring, ...]
    stacks: tuple[Stacked, ...]
    whirls: tuple[Whirl, ...]
    leads: tuple[Lead, ...]
    balance: Balance
    inputs: Mapping[str, Input]

    @property
    def shafts(self) -> tuple[Shaft, ...]:
        return self.placed.shafts


def study_layout(design: Design, stock: Catalogue, drive: DriveStudy, *, gaps: bool = True) -> LayoutStudy:
    """Of the active variant.  Of a boat the drawing stands ahead of the transom and above the keel, a loop as seen along its shaft.

    Without `gaps` none is worked out, which is most of its time.
    """
    resolved = drive.resolved
    variant = next(v for v in design.variants if v.id == resolved.variant.id)
    layout, motor = variant.layout or Layout(), resolved.motor_part
    placed, scene = lay_out(design, resolved, stock, _strains(drive, len(variant.stages)))
    stages = scene.stages
    cans = _cans(scene)
    on_axle = placed.shafts[-1].name == "axle"
    stacks = stacked(layout, usual_stacks(layout, stages, scene.wheels_on_axle, scene.tread_wide_m, axle=on_axle))
    turning = tuple(whirls(stacks, scene, _on_shafts(placed.shafts, stages, stock)))
    bends = lean_gaps(scene) if gaps and scene.berth is None else ()
    return LayoutStudy(
        design=design,
        resolved=resolved,
        layout=layout,
        placed=placed,
        stages=stages,
        meshes=scene.meshes,
        scene=scene,
        gaps=(*all_gaps(scene), *body_gaps(scene), *stack_gaps(stacks), *bends) if gaps else (),
        rings=(*_rings(drive, stages), *_whirl_rings(drive, turning)),
        stacks=stacks,
        whirls=turning,
        leads=tuple(leads(scene.bodies, placed.shafts, cans)),
        balance=balance(scene.bodies, cans, motor.mass_kg),
        inputs=_inputs(design, layout, placed),
    )


def lay_out(design: Design, resolved: Resolved, stock: Catalogue, strains: Sequence[Strain]) -> tuple[Placed, Scene]:
    """Every shaft in its place and all that stands around it; `strains` of each stage in order."""
    vehicle = design.vehicle
    variant = next(v for v in design.variants if v.id == resolved.variant.id)
    layout, motor = variant.layout or Layout(), resolved.motor_part
    can = 0.0 if motor.family == "hub" else motor.can_mm / 1e3
    around = around_axle_m(vehicle)
    placed = place(vehicle, variant, stock, can, around)
    if vehicle.hull is not None:
        placed = placed._replace(shafts=(*placed.shafts[:-1], placed.shafts[-1]._replace(name="propeller")))
    stages = tuple(_running(variant, layout, placed, strains, stock))
    berth = _berth(design, resolved, stock) if vehicle.hull is not None else None
    wheel = berth.diameter / 2.0 if berth is not None else float(resolved.road.wheel_radius_m)
    scene = Scene(
        vehicle_kind=vehicle.kind,
        layout=layout,
        shafts=placed.shafts,
        stages=stages,
        can_m=can,
        can_long_m=motor.length_mm / 1e3,
        motors=variant.motor.count,
        tyre_m=wheel,
        tyre_by=0.5 * tolerance_m(vehicle.tyre_diameter),
        axle_m=around,
        axle_by=tolerance_m(vehicle.axle_diameter) if vehicle.axle_diameter is not None else 0.002,
        clear_width=vehicle.clear_width,
        deck_height=vehicle.deck_height,
        tread_wide_m=0.055 if vehicle.axle_wheels == 1 else min(max(vehicle.tyre_diameter.value * 0.28, 0.03), 0.16),
        wheels_on_axle=vehicle.axle_wheels,
        belt_m=max((one.width_m or 1e-3 * (one.made.family.inner_mm or 8.0) for one in stages), default=0.0),
        meshes=tuple(meshed(vehicle, variant.stages, layout, placed.shafts, [one.rpm for one in strains])),
        axles=axles_m(vehicle) if berth is None else (0.0, berth.length),
        bodies=aboard(vehicle, layout, resolved, wheel, berth),
        berth=berth,
    )
    return placed, scene


def _running(variant: Variant, layout: Layout, placed: Placed, strains: Sequence[Strain], stock: Catalogue) -> Iterator[Running]:
    """Every belt and chain in its place."""
    for k, choice in enumerate(variant.stages):
        one = stock_of(choice, stock)
        if one is None:
            continue
        loop, have = placed.loops[k] or 4, lengths_of(one, stock)
        below = max((n for n in have if n < loop), default=None) if have else loop - 2
        above = min((n for n in have if n > loop), default=None) if have else loop + 2
        yield run(
            k,
            one,
            layout.stages[k] if k < len(layout.stages) else StageLayout(),
            loop,
            placed.shafts[k],
            placed.shafts[k + 1],
            strains[k],
            not have or loop in have,
            (below, centre_of(one, below)) if below is not None and below > 0 else None,
            (above, centre_of(one, above)) if above is not None else None,
            centre_of(one, loop),
            layout.mount.value if layout.mount is not None else MOUNT_M_N,
        )


def _berth(design: Design, resolved: Resolved, stock: Catalogue) -> Berth:
    """A boat's hull and what drives it, lying level with the mass that it has."""
    hull, choice = design.vehicle.hull, resolved.variant.propeller
    if hull is None or choice is None:
        raise InputError(f"variants.{resolved.variant.id}.propeller", "missing", "a propeller; a boat needs one")
    lies = lying(design, float(resolved.load.mass_kg))
    _, part = propeller_of(resolved.variant, stock)
    depth = propeller_depth_m(hull, choice)
    tail = choice.place is Place.LONG_TAIL and choice.tail_length is not None
    told = choice.tail_length if tail else hull.propeller_depth
    motor = resolved.motor_part
    return Berth(
        kind=design.vehicle.kind,
        hull=hull,
        choice=choice,
        length=hull.waterline_length.value,
        beam=hull.waterline_beam.value,
        sides_m=lies.depth_m,
        draught=float(lies.floats.level_m),
        diameter=part.diameter_m,
        depth=part.diameter_m if depth is None else depth,
        depth_by=math.nan if depth is None or told is None else tolerance_m(told),
        can_m=motor.can_mm / 1e3,
        can_long_m=motor.length_mm / 1e3,
        carrier=stock.rows(CarrierPart).get(choice.carrier),
    )


def _cans(scene: Scene) -> list[tuple[float, float, float]]:
    """The middle of each motor, ahead, left and up."""
    motor = scene.shafts[0]
    if scene.berth is not None:
        return [scene.berth.motor] * scene.motors
    if not scene.can_stands:
        return [(0.0, 0.0, 0.0)] * scene.motors  # in the wheel
    low, high = across(scene)[1]
    middle, flip = 0.5 * (low + high), -1.0 if scene.layout.behind else 1.0
    return [(motor.x if k % 2 == 0 else flip * motor.x, middle if k % 2 == 0 else -middle, motor.z) for k in range(scene.motors)]


def _strains(drive: DriveStudy, count: int) -> list[Strain]:
    """What each stage's driver is asked: torque at full motor amps, turns at the top speed of a nominal pack."""
    resolved = drive.resolved
    train, top = resolved.train, drive.states["nominal"].top_speed_m_s
    motor = train.motor
    torque = float(motor.shaft_torque_nm(motor.dc_per_motor_amp * train.controller.motor_current_a, 0.0))
    turns = float(train.reduction.ratio * resolved.load.shaft_speed_rad_s(top, 0.0))
    made = []
    for k in range(count):
        stage = resolved.stages[k]
        shared = resolved.variant.motor.count if resolved.variant.stages[k].shared else 1
        made.append(Strain(torque * shared, torque * shared, turns * 30.0 / math.pi))
        torque, turns = torque * float(stage.ratio) * float(stage.efficiency), turns / float(stage.ratio)
    return made


def _rings(drive: DriveStudy, stages: Sequence[Running]) -> list[Ring]:
    """Tones of belt spans against what comes once or twice in a turn of the motor, and once in a turn of the wheel."""
    resolved, found = drive.resolved, []
    held = (GoalKind.CRUISE, GoalKind.TOP_SPEED, GoalKind.RANGE)
    ridden = sorted({one.goal.speed or 0.0 for one in drive.goals if one.goal.kind in held})
    per_rpm = float(resolved.load.speed_at_shaft(math.pi / 30.0 / float(resolved.train.reduction.ratio)))
    for one in stages:
        kind, width = one.made.kind, one.width_m
        if kind is None or width is None or not math.isfinite(one.span_m):
            continue
        ahead = math.prod(float(stage.ratio) for stage in resolved.stages[: one.position])
        each = orders(60.0, one.made.choice.driver_teeth, one.made.choice.driven_teeth, one.loop)
        hertz = tone_hz(kind, width, one.installed_n, one.span_m)
        many = f" {one.position + 1}" if len(stages) > 1 else ""
        for what, order in (("motor", each.motor), ("motor twice", 2.0 * each.motor), ("wheel", each.wheel)):
            rpm = rings_at_rpm(hertz, order) * ahead
            speed = rpm * per_rpm
            hit = any(abs(speed / at - 1.0) < NEAR for at in ridden if at > 0.0)
            found.append(Ring(f"belt span{many} with the {what}", rpm, speed, hit))
    return found


def _on_shafts(shafts: Sequence[Shaft], stages: Iterable[Running], stock: Catalogue) -> dict[str, float]:
    """Pulleys and sprockets of stock on each shaft [kg], by its name."""
    found: dict[str, float] = {}
    for one in stages:
        choice, at = one.made.choice, one.position
        for role, teeth, name in (("driver", choice.driver_teeth, shafts[at].name), ("driven", choice.driven_teeth, shafts[at + 1].name)):
            part = next((p for p in toothed(stock, one.made.family.id, role) if p.teeth == teeth), None)
            found[name] = found.get(name, 0.0) + (part.mass_kg if part is not None else 0.0)
    return found


def _whirl_rings(drive: DriveStudy, turning: Iterable[Whirl]) -> Iterator[Ring]:
    """Where a shaft whirls, in speed of motor and vehicle."""
    top = drive.states["nominal"].top_speed_m_s
    per_rpm = float(drive.resolved.load.speed_at_shaft(math.pi / 30.0 / float(drive.resolved.train.reduction.ratio)))
    for one in turning:
        share = one.critical_rpm / max(one.turns_rpm, 1e-9)
        speed = top * share
        yield Ring(f"{one.shaft} whirls", speed / per_rpm if per_rpm > 0.0 else math.nan, speed, share < 1.0 / BELOW)


def _inputs(design: Design, layout: Layout, placed: Placed) -> dict[str, Input]:
    """What the layout rests on beside the drive, by path."""
    found: dict[str, Input] = {}

    def keep(path: str, quantity: Quantity | None) -> None:
        if quantity is not None:
            found[path] = Input(value=quantity.value, known=quantity.known, dimension="length", tolerance=quantity.tolerance)

    vehicle, base = design.vehicle, f"variants.{design.variant().id}.layout"
    for name in ("tyre_diameter", "clear_width", "deck_height", "axle_diameter"):
        keep(f"vehicle.{name}", getattr(vehicle, name))
    if layout.motor is not None:
        keep(f"{base}.motor.x", layout.motor.x)
        keep(f"{base}.motor.z", layout.motor.z)
    for k, spot in enumerate(layout.jackshafts):
        keep(f"{base}.jackshafts.{k}.x", spot.x)
        keep(f"{base}.jackshafts.{k}.z", spot.z)
    for k, stage in enumerate(layout.stages):
        for n, idler in enumerate(stage.idlers):
            for name in ("x", "z", "diameter"):
                keep(f"{base}.stages.{k}.idlers.{n}.{name}", getattr(idler, name))
    for shaft in placed.shafts:
        if shaft.proposed:
            for name, value in (("x", shaft.x), ("z", shaft.z)):
                found[f"{base}.{shaft.name.replace(' ', '.')}.{name}"] = Input(value=value, known=Known.COMPUTED, dimension="length")
    return found
