"""From a design and the stock to the physics: every number the result rests on, with how it is known."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import field, replace
from typing import Any, TypeAlias, TypeVar, cast

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, WheelPart
from wattagon.design.quantity import Known
from wattagon.design.tree import (
    USUAL,
    WINDOW,
    Design,
    GoalKind,
    Variant,
)
from wattagon.errors import InputError
from wattagon.physics.controller import Controller
from wattagon.physics.load import Load
from wattagon.physics.motor import Motor
from wattagon.physics.pack import Pack
from wattagon.physics.powertrain import Powertrain
from wattagon.physics.reduction import Stage, combine
from wattagon.physics.road import Road
from wattagon.record import record
from wattagon.study.resolve.battery import brick_rows, bricks_told, with_bricks
from wattagon.study.resolve.bill import fitted_parts, mass_and_money
from wattagon.study.resolve.boat import Cans, Resistance, boat_of, in_water, propeller_of, seal_stage
from wattagon.study.resolve.cases import stand_of
from wattagon.study.resolve.controller import as_set, controller_of, held_back
from wattagon.study.resolve.gears import BIKE_CHAIN_SECONDS, BikeRatings, bike_ratings, geared, ridden_gear
from wattagon.study.resolve.load import road_of
from wattagon.study.resolve.motor import heat_of, motor_of
from wattagon.study.resolve.pack import bricks_of, pack_mass_kg, pack_of
from wattagon.study.resolve.reader import Input, Reader
from wattagon.study.resolve.stages import CHAIN_RATED, Rating, stage_ratings, stages_of
from wattagon.study.resolve.wiring import pack_side_ohm, phase_ohm

T = TypeVar("T")


@record(frozen=True, slots=True, kw_only=True)
class Resolved:
    """A variant as physics, with the parts it is made of."""

    variant: Variant
    motor_part: MotorPart
    controller_part: ControllerPart
    cell_part: CellPart
    wheel_part: WheelPart | None
    train: Powertrain
    load: Load
    case: str  # load case that it is of
    stages: tuple[Stage, ...]
    ratings: tuple[Rating, ...]  # of the belts and chains whose rating is known
    pack_kg: float
    drive_mass_kg: float
    bare_kg: float  # the vehicle without rider, load and drive
    pack_price: float
    energy_price: float  # of a kWh
    unheld: Controller  # its settings where no mode holds them back
    cost: float  # of what is not on the shelf
    full_price: float
    air_c: float  # around the motors: of a pod that of the water
    day_c: float  # of the air
    headwind_m_s: float
    current_m_s: float  # of the water along the way; against the boat is positive
    inputs: Mapping[str, Input] = field(default_factory=dict)
    gear: int = 0  # of the bike's own, 1 with the largest cog; 0 where the motor does not drive the crank
    resistance: Resistance | None = None  # of a boat's hull
    bike: BikeRatings | None = None  # of its own chain and hub, where there are gears
    shift: Mapping[str, float] | None = None  # values that it was made with instead of those of the design

    @property
    def road(self) -> Road:
        """The load of a vehicle on wheels, for what has a meaning there alone.  Raises InputError for another."""
        if not isinstance(self.load, Road):
            raise InputError("vehicle.kind", "not on wheels", "a vehicle on wheels")
        return self.load

    @property
    def window(self) -> tuple[float, float]:
        """(top, bottom) of the charge that is used."""
        return window_of(self.variant)

    def emf_v(self, charge: float) -> float:
        """Rest voltage of the pack [V]."""
        return float(self.train.pack.emf_v(charge))


def _as_wired(read: Reader, base: str, variant: Variant, stock: Catalogue, motor: Motor, pack: Pack) -> tuple[Motor, Pack]:
    """Motor and pack with what told bricks and leads make of them.  A board that opens is a fault, not a limiter: it holds nothing back."""
    told = bricks_told(variant, stock)
    if variant.battery is not None and told is not None:
        stated = variant.pack.protection_a
        pack = with_bricks(read, base, pack, variant.battery, told, stated if stated is not None else math.inf)
    strings = len(told.choices) if told is not None and told.assembly.strings else 1
    ohm = pack_side_ohm(variant, stock, strings) if variant.pack.wiring_ohm.known is Known.ASSUMED else None
    if ohm is not None:
        pack = replace(pack, wiring_ohm=read.keep(f"{base}.pack.wiring_ohm", ohm, Known.COMPUTED, "resistance"))
    leads = phase_ohm(variant, stock)
    if leads > 0.0:
        leads = read.keep(f"{base}.wiring.phase_ohm", leads, Known.COMPUTED, "resistance")
        motor = replace(motor, resistance_ohm=float(motor.resistance_ohm) + leads)
    return motor, pack


def window_of(variant: Variant) -> tuple[float, float]:
    """(top, bottom) of the charge that a variant uses."""
    return variant.battery.window if variant.battery is not None else WINDOW


def gear_in_view(design: Design, variant: Variant, stock: Catalogue) -> int:
    """The gear that is looked at: as chosen, else the one ridden at the goal speed."""
    gears = variant.gears
    assert gears is not None
    if gears.in_view is not None:
        return gears.in_view
    goals = [goal.speed for goal in design.brief.goals if goal.kind is GoalKind.TOP_SPEED and goal.speed]
    vehicle = design.vehicle
    diameter, share = vehicle.tyre_diameter.value, vehicle.tyre_rolling_share.value
    if variant.wheel is not None:
        part = fitted_parts(variant, stock)[3]
        assert part is not None
        diameter, share = part.diameter_m, part.rolling_share
    return ridden_gear(gears, diameter * share / 2.0, max(goals, default=5.0))


def _ratings(variant: Variant, stages: tuple[Stage, ...], count: int, stock: Catalogue) -> tuple[Rating, ...]:
    """Ratings of belts and chains; a bike's own chain is rated a seventh of its breaking load, a third for seconds."""
    made = stage_ratings(variant.stages, stages[: len(variant.stages)], count, stock)
    if variant.gears is None:
        return made
    last = len(stages) - 1
    return tuple(
        replace(one, lasting_n=one.rated_n, peak_n=one.rated_n * CHAIN_RATED / BIKE_CHAIN_SECONDS) if one.stage == last else one
        for one in made
    )


Memo: TypeAlias = "dict[tuple[Any, ...], tuple[Any, ...]]"


def resolve(
    design: Design,
    stock: Catalogue,
    variant_id: str | None = None,
    *,
    note: bool = False,
    memo: Memo | None = None,
    shift: Mapping[str, float] | None = None,
) -> Resolved:
    """The physics of one variant; with `note`, also every input by its path.

    `shift` gives values to be taken instead of those of the tree and the stock, by the paths under which inputs are noted.
    A batch of near-equal designs may share a `memo`: what follows from the same unchanged piece of the tree is made once.

    Raises PathError for a part that stock does not have, InputError for values that contradict each other.
    """
    plain = design.variant(variant_id)
    gear = gear_in_view(design, plain, stock) if plain.gears is not None else 0
    variant = geared(plain, gear) if gear else plain
    read = Reader(note, shift)
    vehicle, conditions = design.vehicle, design.brief.conditions
    base = f"variants.{variant.id}"
    motor_part, controller_part, cell_part, wheel_part = fitted_parts(variant, stock)
    air_c = read.quantity("brief.conditions.air_temperature", conditions.air_temperature, "temperature")

    def once(make: Callable[..., T], *pieces: Any) -> T:
        if memo is None or note or shift is not None:
            return make(read, *pieces)
        key = (make, *(piece if isinstance(piece, str) else id(piece) for piece in pieces))
        if key not in memo:
            memo[key] = (make(read, *pieces), pieces)  # the pieces are kept, so their ids stay theirs
        return cast(T, memo[key][0])

    motor = once(motor_of, base, variant.motor, motor_part)
    heat = once(heat_of, base, variant.motor, motor_part)
    pack = once(pack_of, base, variant.pack, cell_part, conditions.pack_temperature)
    if variant.battery is not None or variant.wiring is not None:
        motor, pack = _as_wired(read, base, variant, stock, motor, pack)
    stages = once(stages_of, base, variant.stages, variant.wheel, wheel_part, vehicle, conditions)
    around_c, pump_w = air_c, 0.0
    if vehicle.kind.floats:
        propeller_of(variant, stock)
        stages = (*stages, seal_stage(read, variant))
        heat, around_c, pump_w = in_water(read, design, variant, heat, air_c)
    count = variant.motor.count
    reduction = combine(stages, motors=count)
    controller = once(controller_of, base, variant.controller, controller_part, pack)
    if variant.control is not None:
        controller = as_set(read, base, controller, variant.control, pack)
    if pump_w > 0.0:
        controller = replace(controller, idle_w=controller.idle_w + pump_w)
    read.keep(f"{base}.motor.count", count, Known.STATED)
    read.keep(f"{base}.motor.driven_wheels", variant.motor.driven_wheels, Known.STATED)
    read.keep("vehicle.axle_wheels", vehicle.axle_wheels, Known.STATED)
    train = Powertrain(motor=motor, count=float(count), controller=controller, pack=pack, reduction=reduction, heat=heat)
    pack_kg = pack_mass_kg(variant.pack, cell_part)
    own_bricks = brick_rows(variant, stock)
    if own_bricks is not None:
        pack_kg = sum(count * kg for _, _, count, kg, _ in own_bricks)
    built = cell_part.brick_series * cell_part.brick_parallel == 1
    drive_kg, cost, full_price = mass_and_money(design, plain, stock)
    told_kg = pack_kg
    pack_kg = read.keep(f"{base}.pack.mass", pack_kg, Known.ASSUMED if built else Known.STATED, "mass")
    drive_kg += pack_kg - told_kg
    case = design.brief.load_case() if not vehicle.kind.floats else None
    if case is not None and not (case.pack and stand_of(Reader(False, shift), design, drive_kg, pack_kg, case).stands):
        case = None  # what does not stand, or has no pack, does not drive: a finding says so, and the usual load is shown
    load: Load
    resistance = None
    if vehicle.kind.floats:
        cans = Cans(motor_part, count, float(reduction.ratio))
        load, resistance = boat_of(read, design, stock, variant, drive_kg, cans)
    else:
        stand = stand_of(read, design, drive_kg, pack_kg, case)
        load = road_of(read, design, variant.wheel, wheel_part, variant, drive_kg, stand)
    mode = design.brief.mode_in_view()
    if mode is not None:
        train = replace(train, controller=held_back(controller, mode, motor, reduction, load))
    headwind = read.quantity("brief.conditions.headwind", conditions.headwind, "speed")
    current = read.quantity("brief.conditions.current", conditions.current, "speed") if vehicle.kind.floats else 0.0
    return Resolved(
        variant=variant,
        motor_part=motor_part,
        controller_part=controller_part,
        cell_part=cell_part,
        wheel_part=wheel_part,
        train=train,
        load=load,
        case=USUAL if case is None else case.id,
        shift=shift,
        gear=gear,
        resistance=resistance,
        bike=bike_ratings(read, base, plain.gears, stock) if plain.gears is not None else None,
        stages=stages,
        ratings=_ratings(variant, stages, count, stock),
        pack_kg=pack_kg,
        bare_kg=vehicle.empty_mass.value,
        pack_price=sum(count * price for _, _, count, _, price in own_bricks)
        if own_bricks is not None
        else bricks_of(variant.pack, cell_part) * cell_part.price,
        energy_price=design.brief.energy_price.value,
        unheld=controller,
        drive_mass_kg=drive_kg,
        cost=cost,
        full_price=full_price,
        air_c=around_c,
        day_c=air_c,
        headwind_m_s=headwind,
        current_m_s=current,
        inputs=read.inputs or {},
    )
