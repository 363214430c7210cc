"""The operating point: every volt, amp, torque and loss at one speed, grade, charge and command, in balance."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, deepen
from wattagon.physics.brakes import DIODE_V, overspeed_current_a
from wattagon.physics.envelope import edge
from wattagon.physics.held import Held, holding
from wattagon.physics.load import Load
from wattagon.physics.powertrain import LIMITS, Powertrain
from wattagon.physics.reduction import ShaftState, Stage, coast, walk
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Losses:
    """Where power turns into heat [W], all motors and controllers together; order follows the drive."""

    pack: float
    controller_idle: float
    controller_switching: float
    controller_bridge: float
    motor_copper: float
    motor_iron: float
    reduction: float
    load: float = 0.0  # of a propeller: shaft power that is no thrust; wheels have none

    @property
    def controller(self) -> float:
        return self.controller_idle + self.controller_switching + self.controller_bridge

    @property
    def motor(self) -> float:
        return self.motor_copper + self.motor_iron

    @property
    def total(self) -> float:
        return self.pack + self.controller + self.motor + self.reduction + self.load


@record(frozen=True, slots=True, kw_only=True)
class OperatingPoint:
    """One instant of the drive.  Powers are in W, positive from the pack to the road."""

    speed_m_s: float
    grade: float
    headwind_m_s: float
    thrust_n: float  # at the tread, from the motors
    load_n: float  # what holds the speed
    held: bool  # True when thrust meets load; False: the drive is at its limit, or a throttle was given
    limit: str  # what bounds the motor current here, "command" when nothing does, "overspeed" where the diodes charge the pack
    burst: bool  # seconds: pack resistance without relaxation, burst limits; else steady and lasting
    pack_ohm: float  # that belongs to it, wiring included
    emf_v: float
    bus_v: float
    pack_a: float
    motor_current_a: float  # of one motor, controller's amps
    dc_current_a: float  # of one motor, DC-equivalent
    duty: float
    motor_v: float  # bridge amplitude, line to line
    motor_rad_s: float
    shaft_nm: float  # of one motor
    erpm: float
    shafts: tuple[ShaftState, ...]
    chemical_w: float
    bus_w: float
    motor_w: float  # at the motors' terminals
    shaft_w: float
    tread_w: float
    rolling_w: float
    air_w: float
    climb_w: float
    rider_w: float  # from the pedals, of what the load asks for
    surplus_w: float  # accelerates when positive; when negative, gravity or a brake has to make up for it
    losses: Losses
    balance_error: float  # unaccounted power as a share of the throughput

    @property
    def efficiency(self) -> float:
        """Tread power per bus power while driving, else nan."""
        return self.tread_w / self.bus_w if self.bus_w > 0 and self.tread_w > 0 else math.nan


def operating_point(
    train: Powertrain,
    load: Load,
    stages: Sequence[Stage],
    *,
    speed_m_s: float,
    emf_v: float,
    grade: float = 0.0,
    headwind_m_s: float = 0.0,
    throttle: float | None = None,
    dc_current_a: float | None = None,
    burst: bool = True,
    air_c: float = 25.0,
) -> OperatingPoint:
    """The point that holds a speed, or the one a throttle of 0 to 1 gives (a share of the motor-current limit).

    With `dc_current_a` the point at that DC-equivalent current of each motor, below 0 braking, whatever the limits say.

    Holding asks for no more than the edge allows; downhill it lets go of the motor rather than brake with it, so what
    gravity gives beyond the drive's own drag is left as negative surplus for a brake to take.  A motor that is driven beyond what the
    pack holds against it charges the pack through the diodes of its bridge, whatever is asked; duty is 0 then.
    """
    motor, red = train.motor, train.reduction
    need = float(load.resistance_n(speed_m_s, grade, headwind_m_s))
    ohm = float(train.pack_ohm(burst))
    shaft = float(red.ratio * load.shaft_speed_rad_s(speed_m_s, 0.0)) if load.kinematic else 0.0
    easily = None
    if throttle is None and dc_current_a is None and not load.kinematic:
        easily = _held(train, load, speed_m_s, need, emf_v, burst, air_c)
    reach = edge(train, load, speed_m_s, emf_v, burst=burst, grade=grade, air_c=air_c) if easily is None else None
    most, limit = (float(reach.force_n), LIMITS[int(reach.limit)]) if reach is not None else (math.inf, "command")
    held = False
    if dc_current_a is not None:
        current, name = dc_current_a, "command"
        shaft = turning_with(train, load, speed_m_s, current, shaft)
    elif throttle is None:
        thrust, held = (need, True) if need <= most else (most, False)
        at = holding(train, load, speed_m_s, thrust_n=thrust) if easily is None else easily
        current, shaft = float(at.current_a), float(at.shaft_rad_s)
        name = "command" if held else limit
        if current < 0.0 or thrust < 0.0:
            current, name = max(current, 0.0), "command"
        # beyond the drive's own speed no current can be driven, and its drag holds back
        current = min(current, float(reach.dc_current_a)) if reach is not None else current
    else:
        share = min(max(throttle, 0.0), 1.0)
        asked = edge(train, load, speed_m_s, emf_v, burst=burst, grade=grade, air_c=air_c, motor_share=share, caps=False)
        current, which = float(asked.dc_current_a), int(asked.limit)
        shaft = turning_with(train, load, speed_m_s, current, shaft)
        wanted = float(load.thrust_n(speed_m_s, train.output_torque_nm(current, shaft)))
        name = LIMITS[which] if throttle >= 1.0 or LIMITS[which] != "motor_current" else "command"
        if wanted > most:  # grip, lift or a roller take their part
            at = holding(train, load, speed_m_s, thrust_n=most)
            current, shaft, name = float(at.current_a), float(at.shaft_rad_s), limit
    forced = (
        0.0
        if red.one_way > 0
        else float(overspeed_current_a(motor, shaft, emf_v, ohm, motors=train.count, bridge_ohm=train.controller.bridge_ohm))
    )
    # a recorded current of that size is the same thing at a temperature or speed of a moment before
    over = forced > 0.0 and current >= -forced * (1.0 if dc_current_a is None else 1.2)
    if over:
        current, name = min(current, -forced), "overspeed"
    shaft_nm, states = _shafts(train, stages, current, shaft)
    # a roller that is driven backwards creeps the other way: the motor's speed follows from the road's
    wheel, turning = shaft / float(red.ratio), states[-1].speed_rad_s
    for _ in range(3):
        if len(states) < 2 or turning <= 0.0 or abs(turning - wheel) <= 1e-12 * wheel:
            break
        shaft *= wheel / turning
        shaft_nm, states = _shafts(train, stages, current, shaft)
        turning = states[-1].speed_rad_s
    count = float(train.count)
    if stages and red.one_way > 0 and states[-1].torque_nm <= float(red.floor_nm) + 1e-12:
        # the freewheel lets the vehicle roll: the motor stands, only idle power is used, and stages behind the freewheel drag
        shaft, shaft_nm, current = 0.0, 0.0, 0.0
        states = coast(stages, wheel, motors=int(count))
    thrust = float(load.thrust_n(speed_m_s, count * states[-1].torque_nm))
    diode_v = 2.0 * DIODE_V if over else 0.0
    volts, pack_a, duty, in_phase = (float(x) for x in train.bus(current, shaft, emf_v, ohm, diode_v=diode_v))
    c = train.controller
    losses = Losses(
        pack=ohm * pack_a**2,
        controller_idle=count * float(c.idle_w),
        controller_switching=0.0 if over else count * float(c.switching_v_per_v) * volts * abs(current),
        controller_bridge=count * (float(c.bridge_ohm) * current**2 + diode_v * abs(current)),
        motor_copper=count * (float(motor.resistance_ohm) * current**2 + float(motor.brush_drop_v) * abs(current)),
        motor_iron=count * float(motor.drag_nm(shaft)) * shaft,
        reduction=count * sum(s.loss_w for s in states),
        load=0.0 if load.kinematic else count * states[-1].torque_nm * states[-1].speed_rad_s - thrust * speed_m_s,
    )
    rolling, air, climb = (float(x) * speed_m_s for x in load.parts_n(speed_m_s, grade, headwind_m_s))
    tread, chemical = thrust * speed_m_s, emf_v * pack_a
    rider = rolling + air + climb - need * speed_m_s if np.any(load.rider_w) else 0.0
    surplus = tread + rider - rolling - air - climb
    unaccounted = chemical + rider - losses.total - rolling - air - climb - surplus
    throughput = max(abs(chemical), abs(tread), losses.total, 1e-9)
    return OperatingPoint(
        speed_m_s=speed_m_s,
        grade=grade,
        headwind_m_s=headwind_m_s,
        thrust_n=thrust,
        load_n=need,
        held=held and abs(thrust - need) <= 1e-6 * max(abs(need), 1.0),
        limit=name,
        burst=burst,
        pack_ohm=ohm,
        emf_v=emf_v,
        bus_v=volts,
        pack_a=pack_a,
        motor_current_a=current / motor.dc_per_motor_amp,
        dc_current_a=current,
        duty=0.0 if over else duty,
        motor_v=volts + diode_v if over else duty * volts,
        motor_rad_s=shaft,
        shaft_nm=shaft_nm,
        erpm=float(motor.erpm(shaft)),
        shafts=tuple(states),
        chemical_w=chemical,
        bus_w=volts * pack_a,
        motor_w=count * current * (in_phase - float(c.bridge_ohm) * current),
        shaft_w=count * shaft_nm * shaft,
        tread_w=tread,
        rolling_w=rolling,
        air_w=air,
        climb_w=climb,
        rider_w=rider,
        surplus_w=surplus,
        losses=losses,
        balance_error=abs(unaccounted) / throughput,
    )


def _held(train: Powertrain, load: Load, speed_m_s: float, need_n: float, emf_v: float, burst: bool, air_c: float) -> Held | None:
    """What holds a load that is not kinematic at a speed; None where the torque that is left at those turns does not."""
    if need_n <= 0.0:
        return None
    at = holding(train, load, speed_m_s, thrust_n=need_n)
    supply = train.supply(emf_v, burst=burst)
    current, _ = train.largest_current(at.shaft_rad_s, supply, vehicle_m_s=speed_m_s, air_c=air_c, names=False)
    return at if train.output_torque_nm(current, at.shaft_rad_s) >= at.output_nm else None


def turning_with(train: Powertrain, load: Load, speed_m_s: float, dc_current_a: float, shaft_rad_s: float) -> float:
    """Motor speed at which a current's torque is the load's [rad/s]; on wheels the speed that they have anyway."""
    if load.kinematic:
        return shaft_rad_s
    low, high = 0.0, 1.0

    def over(thrust: float) -> bool:
        output, turning = load.shaft(speed_m_s, thrust)
        return bool(output > train.output_torque_nm(dc_current_a, train.reduction.ratio * turning))

    while not over(high) and high < 1e9:
        high *= 2.0
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (low, middle) if over(middle) else (middle, high)
    return float(train.reduction.ratio * load.shaft_speed_rad_s(speed_m_s, low))


def _shafts(train: Powertrain, stages: Sequence[Stage], dc_current_a: float, shaft_rad_s: float) -> tuple[float, list[ShaftState]]:
    """(torque of one motor, every shaft) at a motor speed; at standstill its drag holds and does not push."""
    torque = float(train.motor.shaft_torque_nm(dc_current_a, shaft_rad_s))
    if shaft_rad_s <= 0.0 and dc_current_a >= 0.0:
        torque = max(torque, 0.0)
    if stages:
        return torque, walk(stages, shaft_rad_s, torque, motors=int(train.count))
    return torque, [ShaftState(name="motor", speed_rad_s=shaft_rad_s, torque_nm=torque, loss_w=0.0)]


def steady_range_m(
    train: Powertrain,
    load: Load,
    *,
    speed_m_s: Num,
    top: float,
    bottom: float,
    grade: Num = 0.0,
    headwind_m_s: Num = 0.0,
    rider_w: Num = 0.0,
    rider_efficiency: float = 0.97,
    steps: int = 20,
) -> NDArray[np.float64]:
    """Distance [m] at a constant speed between two states of charge; broadcasts.

    Steps through charge because pack current grows as the emf falls; 20 steps are within 0.1 %.  Steady resistance; what the
    drive cannot hold at a state of charge adds no distance.  For a load on wheels.
    """
    force = np.asarray(load.resistance_n(speed_m_s, grade, headwind_m_s), dtype=float)
    force = np.where(force > 0, np.maximum(0.0, force - rider_efficiency * rider_w / speed_m_s), force)
    at = holding(train, load, speed_m_s, thrust_n=force)
    current, shaft = np.asarray(at.current_a)[..., np.newaxis], at.shaft_rad_s
    deep = deepen(train)
    charges = bottom + (top - bottom) * (np.arange(steps) + 0.5) / steps
    emf = deep.pack.emf_v(charges)
    deep_shaft = np.asarray(shaft, dtype=float)[..., np.newaxis]
    volts, pack_a, _, _ = deep.bus(current, deep_shaft, emf, deep.pack_ohm(burst=False))
    allowed, _ = deep.largest_current(deep_shaft, deep.supply(emf), names=False)
    good = (allowed >= current) & np.isfinite(volts) & (pack_a > 0)
    coulombs = (top - bottom) / steps * 3600.0 * np.asarray(deep.pack.capacity_ah)
    speed = np.asarray(speed_m_s, dtype=float)[..., np.newaxis]
    metres = np.where(good, speed * coulombs / np.where(good, pack_a, 1.0), 0.0)
    return metres.sum(axis=-1)
