"""The whole drive as the ride loop takes it: plain numbers in SI, from a powertrain, a road and what only a ride asks for."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.errors import InputError
from wattagon.physics.load import Load, Swum
from wattagon.physics.pack import RESISTANCE_TEMPERATURE_K
from wattagon.physics.powertrain import LIMITS, Powertrain
from wattagon.record import record

# what can hold a ride back: the limits of the edge, then those of time and of braking
RIDE_LIMITS = (
    *LIMITS,
    "boost",
    "controller_heat",
    "motor_regen",
    "battery_regen",
    "bus_overvoltage",
    "brake_grip",
    "pitch_over",
    "resistor",
    "overspeed",
)
RIDE_INDEX = {name: k for k, name in enumerate(RIDE_LIMITS)}
NEVER = 1e9  # stands for "no such limit" where the loop would rather not meet infinity
LIGHT_ROTOR = 1e-5  # kg m2; behind a freewheel a rotor spins on its own and needs some inertia
SUN_SHARE = 0.7 * 0.25 / 10.0  # K per W/m2: absorbed share, lit share of the surface, film of 10 W/m2K (sol-air temperature)


@record(frozen=True, slots=True, kw_only=True)
class Shifting:
    """The bike's own gears behind the crank, and how they are shifted."""

    factors: tuple[float, ...]  # ratio of each gear per that of the one the reduction is in, the lowest gear first
    gear: int  # the one the reduction is in, from 0
    crank_ratio: float  # turns of the crank per turn of the wheel, in it
    low_rpm: float = 60.0  # cadence under which it is shifted down
    up_rpm: float = 0.0  # a rider's own cadence to shift up at; 0: as soon as the next gear holds the lower one
    pause_s: float = 0.4  # without torque


@record(frozen=True, slots=True, kw_only=True)
class Extras:
    """What a ride needs beyond the edge of the drive.  Temperatures in C; a value of inf switches a limit off."""

    boost_tau_s: float = 20.0  # of the boost bucket; only where burst and continuous motor amps differ
    motor_taper_c: tuple[float, float] = (math.inf, math.inf)  # start, end; inf: no sensor in the motor
    controller_taper_c: tuple[float, float] = (80.0, 100.0)
    controller_j_per_k: float = 200.0
    controller_k_per_w: float = 1.0  # to the air around it
    box_k_per_w: float = 0.0  # from the air in a closed box to the air outside, heat of all controllers; 0: open
    pack_kg: float = 3.0
    pack_j_per_kg_k: float = 1000.0
    pack_w_per_k: float = 0.8
    pack_limit_c: float = 60.0
    resistor_ohm: float = 0.0  # across each motor when braking, instead of regeneration; 0: none
    resistor_j_per_k: float = 100.0
    resistor_w_per_k: float = 1.0
    resistor_limit_c: float = 250.0
    friction_brake_n: float = 0.0  # the most that hand, foot or disc brakes give at the tread
    rise_s: float = 0.4  # of the command, for its full travel
    fall_s: float = 0.15
    pedal_w: float = 0.0  # that reaches the road
    pedal_top_m_s: float = 12.0  # where the highest gear is spun out
    air_c: float = 25.0
    around_c: float | None = None  # the motors, where that is not the air
    sun_w_m2: float = 0.0
    shifting: Shifting | None = None


class Plant(NamedTuple):
    """All numbers of the loop: first what is no plain number, from FIRST_NUMBER on plain ones.

    Currents of the motor are DC-equivalent, per motor; the pack's are of all controllers.
    """

    lines: tuple[tuple[float, float], ...]  # of the reduction: output torque per shaft torque, shaft torque at 0
    factors: tuple[float, ...]  # of the bike's gears on the ratio, the lowest first, 1 for the one that this plant is in
    swum: Swum | None  # of a boat

    # motor at 20 C
    constant: float
    ohm: float
    henry: float
    pairs: float
    drag_a: float
    drag_b: float
    inertia: float
    magnet_per_k: float
    brush_v: float
    motors: float
    # its heat
    winding_j: float
    case_j: float
    winding_w_per_k: float
    case_area: float
    film_still: float
    film_moving: float
    air_share: float
    mount_w_per_k: float
    iron_share: float
    fixed_w_per_k: float
    winding_limit: float
    case_limit: float
    # controller
    burst_a: float
    continuous_a: float
    boost_tau: float
    battery_a: float
    duty_max: float
    duty_soft: float
    erpm_start: float
    erpm_end: float
    cutback_start: float
    cutback_end: float
    bus_max: float
    bridge_ohm: float
    switching: float
    idle_w: float
    regen_a: float
    regen_battery_a: float
    motor_taper_start: float
    motor_taper_end: float
    controller_taper_start: float
    controller_taper_end: float
    controller_j: float
    controller_w_per_k: float
    box_k_per_w: float
    # brake resistor
    resistor_ohm: float
    resistor_j: float
    resistor_w_per_k: float
    resistor_limit: float
    # pack; resistances of the cells at 25 C
    series: float
    coulombs: float
    cells_r0: float
    cells_r1: float
    wiring_ohm: float
    tau1: float
    pack_a: float
    pack_b: float
    pack_j: float
    pack_w_per_k: float
    pack_limit: float
    # reduction; the lines of its torque are beside
    ratio: float
    one_way: float
    floor_nm: float
    slip_nm: float
    slip_back_nm: float
    # gears
    gear: float  # where in `factors` it is
    crank_ratio: float  # turns of the crank per turn of the wheel
    shift_low: float  # cadences [rpm]
    shift_up: float
    shift_pause: float
    # road
    mass: float
    rolling: float
    rolling_per_speed: float
    air_force: float  # half rho CdA
    radius: float
    wheel_mass: float  # rotating wheels as mass at the tread
    grip_share: float  # caps as a share of the normal force
    lift_share: float
    brake_grip_share: float
    grip: float
    pitch_share: float
    friction_n: float
    # rider
    rise_s: float
    fall_s: float
    pedal_w: float
    pedal_top: float
    # surroundings
    air_c: float
    around_c: float  # the motors
    sun_k: float
    afloat: float  # 1 of a boat


FIRST_NUMBER = Plant._fields.index("constant")


def _finite(value: float) -> float:
    return float(min(value, NEVER))


def make_plant(train: Powertrain, load: Load, extras: Extras) -> Plant:
    """The numbers of one design.  Scalars only; raises InputError for a motor law that the loop does not have."""
    m, c, pack, red, heat = train.motor, train.controller, train.pack, train.reduction, train.heat
    if heat is None:
        raise InputError("heat", "unknown", "a motor whose heat capacities are known; a ride follows its temperature")
    if not math.isinf(float(m.saturation_a)):
        raise InputError("saturation_a", m.saturation_a, "no saturation; a ride takes torque as proportional to current")
    ridden = load.ridden()
    shifting = extras.shifting or Shifting(factors=(1.0,), gear=0, crank_ratio=1.0)
    dc = m.dc_per_motor_amp
    return Plant(
        lines=tuple((float(slope), float(offset)) for slope, offset in red.lines()),
        factors=shifting.factors,
        swum=ridden.swum,
        constant=float(m.torque_constant_nm_per_a),
        ohm=float(m.resistance_ohm),
        henry=float(m.inductance_h),
        pairs=0.0 if m.brushed else float(m.pole_pairs),
        drag_a=float(m.no_load_a),
        drag_b=float(m.no_load_slope_a_s),
        # of a boat what the rotors hold is left out
        inertia=0.0 if ridden.swum is not None else max(float(m.rotor_inertia_kg_m2), LIGHT_ROTOR if red.one_way else 0.0),
        magnet_per_k=float(m.magnet_per_k),
        brush_v=float(m.brush_drop_v),
        motors=float(train.count),
        winding_j=float(heat.winding_j_per_k),
        case_j=float(heat.case_j_per_k),
        winding_w_per_k=1.0 / float(heat.winding_to_case_k_per_w),
        case_area=float(heat.case_area_m2),
        film_still=float(heat.film_still),
        film_moving=float(heat.film_moving),
        air_share=float(heat.air_share),
        mount_w_per_k=float(heat.mount_w_per_k),
        iron_share=float(heat.iron_in_winding),
        fixed_w_per_k=float(heat.fixed_w_per_k),
        winding_limit=_finite(float(heat.limit_c)),
        case_limit=_finite(float(heat.case_limit_c)),
        burst_a=dc * float(c.motor_current_a),
        continuous_a=dc * _finite(float(c.motor_current_continuous_a)),
        boost_tau=extras.boost_tau_s,
        battery_a=_finite(float(c.battery_current_a)),
        duty_max=float(c.duty_max),
        duty_soft=float(c.duty_soft),
        erpm_start=_finite(float(c.erpm_start)),
        erpm_end=_finite(float(c.erpm_end)),
        cutback_start=float(c.cutback_start_v),
        cutback_end=float(c.cutback_end_v),
        bus_max=_finite(float(c.bus_max_v)),
        bridge_ohm=float(c.bridge_ohm),
        switching=float(c.switching_v_per_v),
        idle_w=float(c.idle_w),
        regen_a=dc * float(c.regen_motor_current_a),
        regen_battery_a=float(c.regen_battery_current_a),
        motor_taper_start=_finite(extras.motor_taper_c[0]),
        motor_taper_end=_finite(extras.motor_taper_c[1]),
        controller_taper_start=_finite(extras.controller_taper_c[0]),
        controller_taper_end=_finite(extras.controller_taper_c[1]),
        controller_j=extras.controller_j_per_k,
        controller_w_per_k=1.0 / extras.controller_k_per_w,
        box_k_per_w=extras.box_k_per_w,
        resistor_ohm=extras.resistor_ohm,
        resistor_j=extras.resistor_j_per_k,
        resistor_w_per_k=extras.resistor_w_per_k,
        resistor_limit=_finite(extras.resistor_limit_c),
        series=float(pack.series),
        coulombs=3600.0 * float(pack.capacity_ah),
        cells_r0=float(pack.series / pack.parallel * pack.cell_r0_ohm),
        cells_r1=float(pack.series / pack.parallel * pack.cell_r1_ohm),
        wiring_ohm=float(pack.wiring_ohm),
        tau1=float(pack.cell_tau1_s),
        pack_a=_finite(float(pack.burst_a)),
        pack_b=RESISTANCE_TEMPERATURE_K,
        pack_j=extras.pack_kg * extras.pack_j_per_kg_k,
        pack_w_per_k=extras.pack_w_per_k,
        pack_limit=_finite(extras.pack_limit_c),
        ratio=float(red.ratio),
        one_way=float(red.one_way),
        floor_nm=float(red.floor_nm),
        slip_nm=_finite(float(red.slip_nm)),
        slip_back_nm=_finite(float(red.slip_back_nm)),
        gear=float(shifting.gear),
        crank_ratio=shifting.crank_ratio,
        shift_low=shifting.low_rpm,
        shift_up=shifting.up_rpm,
        shift_pause=shifting.pause_s,
        mass=ridden.mass,
        rolling=ridden.rolling,
        rolling_per_speed=ridden.rolling_per_speed,
        air_force=ridden.air_force,
        radius=ridden.radius,
        wheel_mass=ridden.wheel_mass,
        grip_share=_finite(ridden.grip_share),
        lift_share=ridden.lift_share,
        brake_grip_share=_finite(ridden.brake_grip_share),
        grip=ridden.grip,
        pitch_share=ridden.pitch_share,
        friction_n=extras.friction_brake_n,
        rise_s=max(extras.rise_s, 1e-6),
        fall_s=max(extras.fall_s, 1e-6),
        pedal_w=extras.pedal_w,
        pedal_top=extras.pedal_top_m_s,
        air_c=extras.air_c,
        around_c=extras.air_c if extras.around_c is None else extras.around_c,
        sun_k=extras.sun_w_m2 * SUN_SHARE,
        afloat=0.0 if ridden.swum is None else 1.0,
    )
