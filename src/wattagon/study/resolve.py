"""From a design and the stock to the physics: every number the result rests on, with how it is known."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from typing import Any, TypeAlias, TypeVar, cast

from wattagon.design.catalogue import Catalogue
from wattagon.design.fitted import fitted
from wattagon.design.kinds import PEDALS, WHEELS
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, ProfilePart, WheelPart
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import (
    Conditions,
    ControllerChoice,
    Design,
    MotorChoice,
    PackChoice,
    ReductionKind,
    StageChoice,
    Variant,
    Vehicle,
    WheelChoice,
)
from wattagon.errors import InputError
from wattagon.physics import pack as pack_physics
from wattagon.physics.controller import Controller
from wattagon.physics.motor import Motor
from wattagon.physics.pack import Pack
from wattagon.physics.powertrain import Powertrain
from wattagon.physics.reduction import Stage, belt_capacity_n, combine, roller_grip_n, roller_losses
from wattagon.physics.road import Road, air_density
from wattagon.physics.thermal import MotorHeat, cross_flow_film
from wattagon.record import record

T = TypeVar("T")
# Defaults where neither the part's row nor the user says; typical values, shown as assumed.
STAGE_EFFICIENCY = {"belt": 0.97, "chain": 0.97, "gear": 0.95, "planetary": 0.96, "direct": 1.0}  # a roller's follows from its press
STAGE_DRAG_NM = {"belt": 0.03, "chain": 0.05, "gear": 0.02, "planetary": 0.03, "friction": 0.02, "direct": 0.0}
FRICTION_CREEP = 0.02
# a roller on its tyre, typical: press [N], loss of the press per force, friction by what is ridden on
ROLLER_PRESS_N, ROLLER_LOSS = 150.0, 0.03
ROLLER_GRIP = {"dry": 0.7, "dusty": 0.45, "wet": 0.25}
PACK_EXTRA_MASS = 1.25  # pack that is built from cells, per cells: links, leads, case; 1.15 to 1.35
AIR_SHARE = {"outrunner": 0.5, "sensored": 0.4, "inrunner": 0.4, "hub": 0.8, "brushed": 0.4, "submerged": 0.5}
FILM_STILL = {"outrunner": 12.0, "sensored": 10.0, "inrunner": 8.0, "hub": 10.0, "brushed": 8.0, "submerged": 10.0}
MOUNT_W_PER_K = {"outrunner": 0.5, "sensored": 0.5, "inrunner": 0.4, "hub": 0.2, "brushed": 0.6, "submerged": 0.5}
WET_GRIP = 0.6  # share of dry grip left on a wet road: 0.3-0.5 for 0.6-0.8 dry
# of a chain's breaking load: what it is rated for, and what is asked of it for good and for seconds (five times, and a shock of 1.3)
CHAIN_RATED, CHAIN_LASTING, CHAIN_PEAK = 7.0, 8.0, 6.5
BELT_PEAK = 2.0  # times a belt's working tension, for seconds: tensions of catalogues are for thousands of hours
SERVICE = 1.5  # times the root mean square that a belt sees for good
CHARGE_STATES = {"full": 1.0, "nominal": 0.5, "low": 0.1}


@record(frozen=True, slots=True, kw_only=True)
class Input:
    """One resolved SI value and how it is known."""

    value: float
    known: Known
    dimension: str = "number"


@record(frozen=True, slots=True, kw_only=True)
class Rating:
    """What a belt or chain is rated for, as torque at one motor's shaft [N m] and as its own pull [N]; it holds nothing back."""

    stage: int  # position in the reduction
    kind: str  # belt or chain
    rated_n: float  # working tension of the belt, a seventh of the chain's breaking load
    lasting_n: float  # what it bears for good, service factor or shock in it
    peak_n: float  # for seconds
    per_nm: float  # pull per torque of one motor

    @property
    def rated_nm(self) -> float:
        return self.rated_n / self.per_nm

    @property
    def lasting_nm(self) -> float:
        return self.lasting_n / self.per_nm

    @property
    def peak_nm(self) -> float:
        return self.peak_n / self.per_nm


@record(frozen=True, slots=True, kw_only=True)
class Resolved:
    """A variant as physics, with the parts it is made of."""

    variant: Variant
    motor_part: MotorPart
    controller_part: ControllerPart
    cell_part: CellPart
    wheel_part: WheelPart | None
    train: Powertrain
    road: Road
    stages: tuple[Stage, ...]
    ratings: tuple[Rating, ...]  # of the belts and chains whose rating is known
    pack_kg: float
    drive_mass_kg: float
    cost: float  # of what is not on the shelf
    full_price: float
    air_c: float
    headwind_m_s: float
    inputs: Mapping[str, Input] = field(default_factory=dict)

    def emf_v(self, charge: float) -> float:
        """Rest voltage of the pack [V]."""
        return float(self.train.pack.emf_v(charge))


class _Reader:
    """Takes values from the tree, the overrides and the stock, and notes each one under its path."""

    def __init__(self, note: bool) -> None:
        self.inputs: dict[str, Input] | None = {} if note else None

    def keep(self, path: str, value: float, known: Known, dimension: str = "number") -> float:
        if self.inputs is not None:
            self.inputs[path] = Input(value=float(value), known=known, dimension=dimension)
        return float(value)

    def quantity(self, path: str, quantity: Quantity, dimension: str) -> float:
        return self.keep(path, quantity.value, quantity.known, dimension) if self.inputs is not None else quantity.value

    def part(
        self, where: str, choice: Any, part: Any, name: str, default: float | None, dimension: str = "number"
    ) -> float | None:
        """An override, else the part's row, else a default marked assumed; None where even that is unknown."""
        override = choice.overrides.get(name) if choice is not None else None
        if override is not None:
            return self.quantity(f"{where}.{name}", override, dimension)
        value = getattr(part, name)
        if value is not None:
            if self.inputs is not None:
                self.keep(f"stock.{part.id}.{name}", value, Known.STATED, dimension)
            return float(value)
        if default is not None and self.inputs is not None:
            self.keep(f"{where}.{name}", default, Known.ASSUMED, dimension)
        return default

    def need(self, where: str, choice: Any, part: Any, name: str, default: float, dimension: str = "number") -> float:
        value = self.part(where, choice, part, name, default, dimension)
        assert value is not None
        return value


Memo: TypeAlias = "dict[tuple[Any, ...], tuple[Any, ...]]"


def resolve(
    design: Design, stock: Catalogue, variant_id: str | None = None, *, note: bool = False, memo: Memo | None = None
) -> Resolved:
    """The physics of one variant; with `note`, also every input by its path.

    A batch of near-equal designs may share a `memo`: what follows from the same unchanged piece of the tree is made once.

    Raises PathError for a part that stock does not have, InputError for values that contradict each other.
    """
    variant = design.variant(variant_id)
    read = _Reader(note)
    vehicle, conditions = design.vehicle, design.brief.conditions
    base = f"variants.{variant.id}"
    motor_part, controller_part, cell_part, wheel_part = fitted_parts(variant, stock)
    air_c = read.quantity("brief.conditions.air_temperature", conditions.air_temperature, "temperature")

    def once(make: Callable[..., T], *pieces: Any) -> T:
        if memo is None or note:
            return make(read, *pieces)
        key = (make, *(id(piece) for piece in pieces))
        if key not in memo:
            memo[key] = (make(read, *pieces), pieces)  # the pieces are kept, so their ids stay theirs
        return cast(T, memo[key][0])

    motor = once(_motor, base, variant.motor, motor_part)
    heat = once(_heat, base, variant.motor, motor_part)
    pack = once(_pack, base, variant.pack, cell_part, conditions.pack_temperature)
    controller = once(_controller, base, variant.controller, controller_part, pack)
    stages = once(_stages, base, variant.stages, variant.wheel, wheel_part, vehicle, conditions)
    count = variant.motor.count
    reduction = combine(stages, motors=count)
    read.keep(f"{base}.motor.count", count, Known.STATED)
    read.keep(f"{base}.motor.driven_wheels", variant.motor.driven_wheels, Known.STATED)
    read.keep("vehicle.axle_wheels", vehicle.axle_wheels, Known.STATED)
    train = Powertrain(
        motor=motor, count=float(count), controller=controller, pack=pack, reduction=reduction, heat=heat
    )  # fmt: skip
    pack_kg = pack_mass_kg(variant.pack, cell_part)
    built = cell_part.brick_series * cell_part.brick_parallel == 1
    read.keep(f"{base}.pack.mass", pack_kg, Known.ASSUMED if built else Known.STATED, "mass")
    drive_kg, cost, full_price = _mass_and_money(design, variant, stock)
    road = _road(read, design, variant.wheel, wheel_part, variant, drive_kg)
    headwind = read.quantity("brief.conditions.headwind", conditions.headwind, "speed")
    return Resolved(
        variant=variant,
        motor_part=motor_part,
        controller_part=controller_part,
        cell_part=cell_part,
        wheel_part=wheel_part,
        train=train,
        road=road,
        stages=stages,
        ratings=stage_ratings(variant.stages, stages, count, stock),
        pack_kg=pack_kg,
        drive_mass_kg=drive_kg,
        cost=cost,
        full_price=full_price,
        air_c=air_c,
        headwind_m_s=headwind,
        inputs=read.inputs or {},
    )


def fitted_parts(variant: Variant, stock: Catalogue) -> tuple[MotorPart, ControllerPart, CellPart, WheelPart | None]:
    """Motor, controller, cell and wheel with what is known better of them.  Raises PathError for a part that stock does not have."""
    motor, controller, pack, wheel = variant.motor, variant.controller, variant.pack, variant.wheel
    return (
        fitted(stock.motor(motor.part), motor), fitted(stock.controller(controller.part), controller), fitted(stock.cell(pack.part), pack),
        fitted(stock.wheel(wheel.part), wheel) if wheel is not None else None,
    )  # fmt: skip


def _motor(read: _Reader, base: str, choice: MotorChoice, part: MotorPart) -> Motor:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.motor", choice, part, name, default, dimension)

    resistance = need("resistance_ohm", part.resistance_ohm, "resistance")
    return Motor(
        kv_rpm_per_v=need("kv_rpm_per_v", part.kv_rpm_per_v, "kv"),
        resistance_ohm=resistance,
        # L/R of about 0.7 ms is typical of small outrunners
        inductance_h=need("inductance_h", 0.7e-3 * resistance, "inductance"),
        pole_pairs=need("pole_pairs", part.pole_pairs),
        no_load_a=need("no_load_a", 0.02 * (part.current_continuous_a or 40.0), "current"),
        no_load_slope_a_s=need("no_load_slope_a_s", 0.001),
        rotor_inertia_kg_m2=need("rotor_inertia_kg_m2", 0.07 * part.mass_kg * (part.can_mm / 1e3) ** 2, "inertia"),
        brush_drop_v=need("brush_drop_v", 0.0, "voltage"),
        brushed=part.family == "brushed",
    )


def _heat(read: _Reader, base: str, choice: MotorChoice, part: MotorPart) -> MotorHeat:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.motor", choice, part, name, default, dimension)

    d, length = part.can_mm / 1e3, part.length_mm / 1e3
    film, mount, share = (table.get(part.family, table["outrunner"]) for table in (FILM_STILL, MOUNT_W_PER_K, AIR_SHARE))
    mount, share = need("mount_w_per_k", mount), need("air_share", share, "share")
    read.keep(f"{base}.motor.film_still", film, Known.ASSUMED)
    return MotorHeat(
        winding_j_per_k=need("winding_j_per_k", 150.0 * part.mass_kg, "heat_capacity"),
        case_j_per_k=need("case_j_per_k", 350.0 * part.mass_kg, "heat_capacity"),
        winding_to_case_k_per_w=need("winding_to_case_k_per_w", 0.45 / part.mass_kg, "thermal_resistance"),
        case_area_m2=math.pi * d * length + math.pi * d * d / 2.0,
        film_still=film,
        film_moving=cross_flow_film(d),
        air_share=share,
        mount_w_per_k=mount,
        limit_c=need("limit_c", 120.0, "temperature"),
        fixed_w_per_k=need("fixed_w_per_k", 0.0),
    )


def _pack(read: _Reader, base: str, choice: PackChoice, part: CellPart, temperature: Quantity) -> Pack:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.pack", choice, part, name, default, dimension)

    if choice.series % part.brick_series or choice.parallel % part.brick_parallel:
        raise InputError(
            f"{base}.pack",
            f"{choice.series}S{choice.parallel}P",
            f"multiples of {part.brick_series}S{part.brick_parallel}P, which {part.name} comes in",
        )
    continuous = read.part(f"{base}.pack", choice, part, "continuous_a", None, "current")
    burst = read.part(f"{base}.pack", choice, part, "burst_a", None, "current")
    board = choice.protection_a if choice.protection_a is not None else math.inf
    series = read.keep(f"{base}.pack.series", choice.series, Known.STATED)
    parallel = read.keep(f"{base}.pack.parallel", choice.parallel, Known.STATED)
    r0 = need("cell_r0_ohm", part.cell_r0_ohm, "resistance")
    return Pack(
        chemistry=part.chemistry,
        series=series,
        parallel=parallel,
        cell_ah=need("capacity_ah", part.capacity_ah, "capacity"),
        cell_r0_ohm=r0,
        cell_r1_ohm=need("cell_r1_ohm", 0.45 * r0, "resistance"),
        wiring_ohm=read.quantity(f"{base}.pack.wiring_ohm", choice.wiring_ohm, "resistance"),
        temperature_c=read.quantity("brief.conditions.pack_temperature", temperature, "temperature"),
        # an unknown rating limits nothing here; a finding says that it was not checked
        continuous_a=min(continuous * parallel if continuous is not None else math.inf, board),
        burst_a=min(burst * parallel if burst is not None else math.inf, board),
    )


def cutback_v(choice: ControllerChoice, pack: Pack) -> tuple[float, float, bool]:
    """(start, end, assumed) of the low-voltage cutback [V]: as set, else by the chemistry's usual volts per cell."""
    start, end = pack_physics.CUTBACK_V[pack.chemistry]
    assumed = choice.cutback_start_v is None or choice.cutback_end_v is None
    begin = choice.cutback_start_v if choice.cutback_start_v is not None else float(start * pack.series)
    finish = choice.cutback_end_v if choice.cutback_end_v is not None else float(end * pack.series)
    return begin, min(finish, begin), assumed


def _controller(read: _Reader, base: str, choice: ControllerChoice, part: ControllerPart, pack: Pack) -> Controller:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.controller", choice, part, name, default, dimension)

    begin, finish, assumed = cutback_v(choice, pack)
    known = Known.ASSUMED if assumed else Known.STATED
    read.keep(f"{base}.controller.cutback_start_v", begin, known, "voltage")
    read.keep(f"{base}.controller.cutback_end_v", finish, known, "voltage")
    continuous = read.part(f"{base}.controller", choice, part, "motor_current_continuous_a", None, "current")
    erpm = read.part(f"{base}.controller", choice, part, "erpm_max", None, "rpm")
    return Controller(
        motor_current_a=read.keep(f"{base}.controller.motor_current_a", choice.motor_current_a, Known.STATED, "current"),
        motor_current_continuous_a=continuous if continuous is not None else math.inf,
        battery_current_a=read.keep(f"{base}.controller.pack_current_a", choice.pack_current_a, Known.STATED, "current"),
        # what is not stated brakes nothing here; a finding says that it was not checked
        regen_motor_current_a=choice.regen_motor_current_a or 0.0,
        regen_battery_current_a=choice.regen_pack_current_a or 0.0,
        duty_max=need("duty_max", 0.95, "share"),
        erpm_start=0.95 * erpm if erpm is not None else math.inf,
        erpm_end=erpm if erpm is not None else math.inf,
        cutback_start_v=begin,
        cutback_end_v=finish,
        bus_max_v=float(pack.full_v),
        bridge_ohm=need("bridge_ohm", 0.003, "resistance"),
        switching_v_per_v=need("switching_v_per_v", 0.002, "share"),
        idle_w=need("idle_w", 2.0, "power"),
    )


def wheels_of(vehicle: Vehicle) -> int:
    """How many wheels a vehicle has, as stated or as is usual for its kind."""
    return vehicle.wheels if vehicle.wheels is not None else WHEELS[vehicle.kind]


def fitted_wheel(read: _Reader, vehicle: Vehicle, choice: WheelChoice | None, part: WheelPart | None, base: str) -> tuple[float, float]:
    """(diameter unloaded [m], share of it that is left under load) of the driven wheel: from stock, else as measured."""
    if part is not None and choice is not None:
        diameter = read.need(f"{base}.wheel", choice, part, "diameter_m", part.diameter_m, "length")
        return diameter, read.need(f"{base}.wheel", choice, part, "rolling_share", part.rolling_share, "share")
    diameter = read.quantity("vehicle.tyre_diameter", vehicle.tyre_diameter, "length")
    return diameter, read.quantity("vehicle.tyre_rolling_share", vehicle.tyre_rolling_share, "share")


def stage_ratio(choice: StageChoice, loaded_diameter_m: float) -> float:
    """Input turns per output turn of one stage; a roller runs on the tyre as it is under load."""
    if choice.kind is ReductionKind.DIRECT:
        return 1.0
    if choice.kind is ReductionKind.FRICTION:
        return loaded_diameter_m / roller_diameter_m(choice)
    if choice.kind is ReductionKind.PLANETARY:
        return 1.0 + choice.driven_teeth / choice.driver_teeth
    return choice.driven_teeth / choice.driver_teeth


def roller_diameter_m(choice: StageChoice) -> float:
    """Diameter of a friction roller [m].  Raises InputError where nobody stated it."""
    if choice.roller_diameter is None:
        raise InputError("roller_diameter", "missing", "the roller's diameter; a friction stage needs it")
    return choice.roller_diameter


def _stages(
    read: _Reader, base: str, choices: tuple[StageChoice, ...], wheel: WheelChoice | None, part: WheelPart | None, vehicle: Vehicle,
    conditions: Conditions,
) -> tuple[Stage, ...]:  # fmt: skip
    diameter, share = fitted_wheel(read, vehicle, wheel, part, base) if choices else (1.0, 1.0)
    return tuple(_stage(read, f"{base}.stages.{k}", choice, diameter * share, ground(conditions)) for k, choice in enumerate(choices))


def ground(conditions: Conditions) -> str:
    """What a roller's tyre is like where it is ridden: wet, dusty or dry."""
    return "wet" if conditions.wet else "dusty" if conditions.dusty else "dry"


def _stage(read: _Reader, where: str, choice: StageChoice, loaded_diameter_m: float, on: str = "dry") -> Stage:
    kind = choice.kind.value
    slip = slip_back = math.inf
    if choice.kind is ReductionKind.FRICTION:
        radius, (press, arm) = roller_diameter_m(choice) / 2.0, roller_press(choice, read, where)
        efficiency, drag = roller_losses(ROLLER_LOSS, press, radius, arm)
        drag += STAGE_DRAG_NM[kind]
        grip = roller_grip(choice, on, read, where)
        slip, slip_back = (float(roller_grip_n(grip, press, arm, braking=back)) * loaded_diameter_m / 2.0 for back in (False, True))
    else:
        efficiency, drag = STAGE_EFFICIENCY[kind], STAGE_DRAG_NM[kind]
    if choice.efficiency is not None:
        efficiency = read.quantity(f"{where}.efficiency", choice.efficiency, "share")
    else:
        efficiency = read.keep(f"{where}.efficiency", efficiency, Known.ASSUMED, "share")
    if choice.drag is not None:
        drag = read.quantity(f"{where}.drag", choice.drag, "torque")
    else:
        drag = read.keep(f"{where}.drag", drag, Known.ASSUMED, "torque")
    if choice.kind not in (ReductionKind.DIRECT, ReductionKind.FRICTION):
        read.keep(f"{where}.driver_teeth", choice.driver_teeth, Known.STATED)
        read.keep(f"{where}.driven_teeth", choice.driven_teeth, Known.STATED)
    return Stage(
        kind="gear" if choice.kind is ReductionKind.PLANETARY else kind,
        ratio=stage_ratio(choice, loaded_diameter_m),
        efficiency=efficiency,
        drag_nm=drag,
        creep=FRICTION_CREEP if choice.kind is ReductionKind.FRICTION else 0.0,
        one_way=choice.freewheel,
        shared=choice.shared,
        slip_nm=slip,
        slip_back_nm=slip_back,
    )


def roller_press(choice: StageChoice, read: _Reader | None = None, where: str = "") -> tuple[float, float]:
    """(pressing force at rest [N], angle of the arm that pulls itself in [rad], inf for a fixed press) of a friction roller."""
    read = read or _Reader(False)
    if choice.press_force is not None:
        press = read.quantity(f"{where}.press_force", choice.press_force, "force")
    else:
        press = read.keep(f"{where}.press_force", ROLLER_PRESS_N, Known.ASSUMED, "force")
    arm = read.quantity(f"{where}.arm_angle", choice.arm_angle, "angle") if choice.arm_angle is not None else math.inf
    return press, arm


def roller_grip(choice: StageChoice, on: str, read: _Reader | None = None, where: str = "") -> float:
    """Friction of a roller on its tyre: dry, dusty or wet."""
    read, given = read or _Reader(False), getattr(choice, f"grip_{on}")
    if given is not None:
        return read.quantity(f"{where}.grip_{on}", given, "number")
    return read.keep(f"{where}.grip_{on}", ROLLER_GRIP[on], Known.ASSUMED)


def stage_ratings(choices: Sequence[StageChoice], stages: Sequence[Stage], motors: int, stock: Catalogue) -> tuple[Rating, ...]:
    """Ratings of the belts and chains whose width or breaking load is known; a shared stage carries the torque of all motors."""
    found, carried = [], 1.0  # carried: stage input torque per motor torque
    for k, (choice, stage) in enumerate(zip(choices, stages, strict=True)):
        if choice.profile:
            profile = stock.profile(choice.profile)
            radius = profile.pitch_mm / 1e3 * choice.driver_teeth / math.tau
            pull = stage_pull_n(profile, choice.width_mm)
            if pull is not None:
                per_nm = carried * (motors if choice.shared else 1) / radius
                found.append(Rating(stage=k, kind=profile.kind, rated_n=pull[0], lasting_n=pull[1], peak_n=pull[2], per_nm=per_nm))
        carried *= stage.ratio * stage.efficiency
    return tuple(found)


def stage_pull_n(profile: ProfilePart, width_mm: float | None) -> tuple[float, float, float] | None:
    """(rated, for good, for seconds: pull [N]) of a belt of a width, or of a chain; None where it is not rated.

    A belt bears its working tension over the service factor for good, and twice the tension for seconds; a chain an eighth of its
    breaking load, and a sixth and a half.
    """
    if profile.kind == "belt":
        if profile.tension_n_per_mm is None or width_mm is None:
            return None
        working = float(belt_capacity_n(profile.tension_n_per_mm, width_mm))
        return working, working / SERVICE, BELT_PEAK * working
    if profile.breaking_n is None:
        return None
    return profile.breaking_n / CHAIN_RATED, profile.breaking_n / CHAIN_LASTING, profile.breaking_n / CHAIN_PEAK


def _road(
    read: _Reader, design: Design, choice: WheelChoice | None, part: WheelPart | None, variant: Variant, drive_kg: float
) -> Road:
    vehicle, conditions = design.vehicle, design.brief.conditions
    diameter, share = fitted_wheel(read, vehicle, choice, part, f"variants.{variant.id}")
    inertia = read.quantity("vehicle.wheel_inertia", vehicle.wheel_inertia, "inertia")
    if part is not None and choice is not None:  # the wheels that it brings stand in for as many of the vehicle's own
        one = read.need(f"variants.{variant.id}.wheel", choice, part, "inertia_kg_m2", part.inertia_kg_m2, "inertia")
        wheels = wheels_of(vehicle)
        inertia += min(variant.motor.driven_wheels, wheels) * (one - inertia / wheels)
    mass = sum(
        read.quantity(f"vehicle.{name}", getattr(vehicle, name), "mass") for name in ("empty_mass", "rider_mass", "load_mass")
    )
    read.keep(f"variants.{variant.id}.drive_mass", drive_kg, Known.COMPUTED, "mass")
    driven = variant.motor.driven_wheels
    if driven > vehicle.axle_wheels and vehicle.driven_axle != "all":
        raise InputError(
            f"variants.{variant.id}.motor.driven_wheels", driven, f"up to {vehicle.axle_wheels}, the wheels on the driven axle"
        )
    rider_w, rider_top = pedals(read, vehicle, conditions)
    altitude = read.quantity("brief.conditions.altitude", conditions.altitude, "height")
    return Road(
        mass_kg=mass + drive_kg,
        rolling=read.quantity("vehicle.rolling", vehicle.rolling, "number"),
        drag_area_m2=read.quantity("vehicle.drag_area", vehicle.drag_area, "area"),
        air_kg_m3=float(air_density(altitude, conditions.air_temperature.value)),
        wheel_radius_m=diameter * share / 2.0,
        wheel_inertia_kg_m2=inertia,
        wheelbase_m=read.quantity("vehicle.wheelbase", vehicle.wheelbase, "length"),
        cm_behind_front_m=read.quantity("vehicle.cm_behind_front", vehicle.cm_behind_front, "length"),
        cm_height_m=read.quantity("vehicle.cm_height", vehicle.cm_height, "length"),
        grip=read.quantity("vehicle.grip", vehicle.grip, "number") * (WET_GRIP if conditions.wet else 1.0),
        axle=vehicle.driven_axle,
        driven_share=min(1.0, driven / vehicle.axle_wheels),
        rider_w=rider_w,
        rider_top_m_s=rider_top,
    )


PEDAL_EFFICIENCY = 0.97  # of the pedals' power that reaches the road
TOP_GEAR_M = 6.5  # metres for a turn of the pedals


def pedals(read: _Reader, vehicle: Vehicle, conditions: Conditions) -> tuple[float, float]:
    """(power that reaches the road [W], speed at which the highest gear is spun out [m/s]); 0 without pedals or without pedalling."""
    if vehicle.kind not in PEDALS or conditions.pedal_power.value <= 0.0:
        return 0.0, 0.0
    power = read.quantity("brief.conditions.pedal_power", conditions.pedal_power, "power")
    return power * PEDAL_EFFICIENCY, top_gear_m(vehicle, read) * conditions.pedal_cadence.value / 60.0


def top_gear_m(vehicle: Vehicle, read: _Reader | None = None) -> float:
    """Metres for a turn of the pedals in the highest gear."""
    read = read or _Reader(False)
    if vehicle.top_gear is not None:
        return read.quantity("vehicle.top_gear", vehicle.top_gear, "height")
    return read.keep("vehicle.top_gear", TOP_GEAR_M, Known.ASSUMED, "height")


def bricks_of(choice: PackChoice, cell: CellPart) -> int:
    """How many cells, or ready bricks of cells, a pack is made of."""
    return (choice.series // cell.brick_series) * (choice.parallel // cell.brick_parallel)


def pack_mass_kg(choice: PackChoice, cell: CellPart) -> float:
    """Mass of the pack [kg]: bricks as they are sold, cells with what holds and joins them."""
    return bricks_of(choice, cell) * cell.mass_kg * (PACK_EXTRA_MASS if cell.brick_series * cell.brick_parallel == 1 else 1.0)


def bill_of_parts(variant: Variant, stock: Catalogue) -> list[tuple[str, str, int, float, float]]:
    """(part id, name, count, mass kg each, price each) of what a variant is made of; belts by the nearest of typical length."""
    motors = variant.motor.count
    motor, controller, cell, wheel = fitted_parts(variant, stock)
    bricks = bricks_of(variant.pack, cell)
    rows = [
        (motor.id, motor.name, motors, motor.mass_kg, motor.price),
        (controller.id, controller.name, motors, controller.mass_kg, controller.price),
        (cell.id, cell.name, bricks, pack_mass_kg(variant.pack, cell) / bricks, cell.price),
    ]
    for stage in variant.stages:
        rows += stage_parts(stage, motors, stock)
    if wheel is not None:
        rows.append((wheel.id, wheel.name, variant.motor.driven_wheels, wheel.mass_kg, wheel.price))
    return rows


def stage_parts(stage: StageChoice, motors: int, stock: Catalogue) -> list[tuple[str, str, int, float, float]]:
    """The rows of a bill that one stage of the reduction brings."""
    rows: list[tuple[str, str, int, float, float]] = []
    sets = 1 if stage.shared else motors
    for role, teeth in (("driver", stage.driver_teeth), ("driven", stage.driven_teeth)):
        part = next((p for p in stock.toothed(stage.profile, role) if p.teeth == teeth), None) if stage.profile else None
        if part is not None:
            rows.append((part.id, part.name, sets, part.mass_kg, part.price))
    loops = [p for p in stock.loops(stage.profile) if stage.width_mm is None or p.width_mm in (None, stage.width_mm)]
    if loops and stage.profile:
        # a loop of twice the mean span that such wheels usually get: the layout decides the true length
        links = stage.driver_teeth / 2 + stage.driven_teeth / 2 + 0.9 * stage.driven_teeth
        if loops[0].width_mm is None:
            rows.append((loops[0].id, loops[0].name, math.ceil(links) * sets, loops[0].mass_kg, loops[0].price))
        else:
            loop = min(loops, key=lambda p: abs(p.teeth - links))
            rows.append((loop.id, loop.name, sets, loop.mass_kg, loop.price))
    return rows


def _mass_and_money(design: Design, variant: Variant, stock: Catalogue) -> tuple[float, float, float]:
    shelf: dict[str, int] = {}
    for item in design.brief.shelf:
        shelf[item.part] = shelf.get(item.part, 0) + item.count
    mass = cost = full = 0.0
    for part_id, _, count, kg, price in bill_of_parts(variant, stock):
        mass += count * kg
        full += count * price
        owned = min(count, shelf.get(part_id, 0))
        shelf[part_id] = shelf.get(part_id, 0) - int(owned)
        cost += (count - owned) * price
    return mass, cost, full
