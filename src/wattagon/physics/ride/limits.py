"""What the limits allow in a step of the ride loop, compiled: driving, braking, and what reaches the tread."""

from __future__ import annotations

import math

from wattagon.physics.ride.follower import shaft_for
from wattagon.physics.ride.jit import jit
from wattagon.physics.ride.names import Now
from wattagon.physics.ride.plant import RIDE_INDEX

RPM = 9.549296585513721  # per rad/s
FADE_M_S = 0.5  # under this an electric brake is let go
NUDGE = 0.005  # a wish cut by less is not called limited
NONE = -1
(
    MOTOR,
    ERPM,
    DUTY,
    BATTERY,
    PACK,
    LOW,
    THERMAL,
    ROLLER,
    TRACTION,
    LIFT,
    BOOST,
    CONTROLLER,
    REGEN,
    REGEN_PACK,
    BUS_HIGH,
    BRAKE_GRIP,
    PITCH,
    RESISTOR,
    OVERSPEED,
) = (
    RIDE_INDEX[name]
    for name in (
        "motor_current",
        "erpm",
        "duty",
        "battery_current",
        "pack_current",
        "low_voltage",
        "thermal",
        "roller",
        "traction",
        "wheel_lift",
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
)


@jit
def duty_current(p, k_now, ohm, shaft, emf, pack_ohm):
    """Motor current at which the bridge runs out of duty; the Newton steps of powertrain.current_at_full_duty_a."""
    n = p.motors
    emf_motor = k_now * shaft + p.brush_v
    reactive = p.pairs * shaft * p.henry
    reactive2 = reactive * reactive
    applied = p.duty_max * emf
    room = applied - emf_motor
    if room <= 0.0:
        return 0.0
    sag = p.duty_max * pack_ohm * n * (p.duty_max + p.switching)
    lead = ohm * ohm + reactive2 - sag * sag
    linear = emf_motor * ohm + applied * sag
    rest = room * (applied + emf_motor)
    current = rest / (linear + math.sqrt(max(linear * linear + lead * rest, 0.0)))
    taper = max(p.duty_max - p.duty_soft, 0.0) / p.burst_a
    steps = 2
    if taper > 0.0:
        current = min(current, p.burst_a * 1.001)
        steps = 7
    idle, own = n * p.idle_w, n * p.switching
    for _ in range(steps):
        duty = p.duty_max - taper * current
        in_phase = emf_motor + ohm * current
        total = max(math.sqrt(in_phase * in_phase + reactive2 * current * current), 1e-9)
        slope = (in_phase * ohm + reactive2 * current) / total
        share = duty / total
        power = n * current * in_phase + idle
        value = emf - total / duty - pack_ohm * (share * power + own * current)
        change = slope / duty + pack_ohm * (share * (n * (in_phase + ohm * current) - power * slope / total) + own)
        change += taper * total / (duty * duty) - pack_ohm * taper * power / total
        if change > 1e-9:
            current = max(current + value / change, 0.0)
    return current


@jit
def ceiling_of(p, now, bucket):
    """(motor current that boost and temperatures allow, name of what would bind there, allowance before temperatures)."""
    allowed, which = p.burst_a, MOTOR
    if p.continuous_a < p.burst_a and bucket > 0.98:
        allowed += min((bucket - 0.98) / 0.02, 1.0) * (p.continuous_a - p.burst_a)
        which = BOOST
    motor, controller = now[Now.MOTOR_SHARE], now[Now.CONTROLLER_SHARE]
    if motor < 1.0 and motor <= controller:
        which = THERMAL
    elif controller < 1.0:
        which = CONTROLLER
    return allowed * motor * controller, which, allowed


@jit
def drive_limit(p, lines, now, current, full, ceiling, ceiling_name, allowed, shaft, loss_nm, emf, normal):
    """(current that every limit of driving allows, which of them cut it or -1); `full`: the rider asks for all there is."""
    n, k_now, ohm, r0 = p.motors, now[Now.K], now[Now.OHM], now[Now.R0]
    limit = NONE
    if full or current > ceiling:
        current, limit = min(current, ceiling), ceiling_name
    rpm = p.pairs * shaft * RPM
    if rpm > p.erpm_start:
        cap = allowed * max((p.erpm_end - rpm) / max(p.erpm_end - p.erpm_start, 1e-9), 0.0)
        if cap < current:
            current, limit = cap, ERPM
    force, which = p.grip_share * normal, TRACTION
    if p.lift_share * normal < force:
        force, which = p.lift_share * normal, LIFT
    if p.slip_nm * n < force * p.radius:
        force, which = p.slip_nm * n / p.radius, ROLLER
    cap = (shaft_for(lines, force * p.radius / n) + loss_nm) / k_now
    if cap < current:
        current, limit = cap, which
    # what the pack may give: the low-voltage cutback acts on the loaded bus and is solved for as a fixed point
    most = emf / max(2.0 * r0, 1e-12)
    battery = n * p.battery_a
    supply, which = battery, BATTERY
    if min(p.pack_a, most) < supply:
        supply, which = min(p.pack_a, most), PACK
    low = battery * (emf - p.cutback_end) / max(p.cutback_start - p.cutback_end + battery * r0, 1e-12)
    low = min(max(low, 0.0), battery)
    if low < supply * (1.0 - 1e-12):
        supply, which = low, LOW
    own = n * p.switching
    in_phase = k_now * shaft + ohm * current + p.brush_v
    power = n * (current * in_phase + p.idle_w)
    left = emf - r0 * own * current
    square = left * left - 4.0 * r0 * power
    volts = 0.5 * (left + math.sqrt(max(square, 0.0)))
    if square < 0.0 or power / volts + own * current > supply:
        volts = emf - r0 * supply
        room = max(volts * supply / n - p.idle_w, 0.0)
        linear = k_now * shaft + p.switching * volts + p.brush_v
        current = 2.0 * room / max(linear + math.sqrt(linear * linear + 4.0 * ohm * room), 1e-12)
        limit = which
        in_phase = k_now * shaft + ohm * current + p.brush_v
    reactive = p.pairs * shaft * p.henry * current
    duty = p.duty_max
    if p.duty_soft < p.duty_max:
        duty -= (p.duty_max - p.duty_soft) * current / p.burst_a
    if in_phase * in_phase + reactive * reactive > duty * duty * volts * volts:
        cap = duty_current(p, k_now, ohm, shaft, emf, r0)
        if cap < current:
            current, limit = cap, DUTY
    return current, limit


@jit
def bus_power_current(ohm, linear, power):
    """Braking current that sends a power to the bus: smaller root of R x^2 - linear x + power = 0; huge where it never does."""
    square = linear * linear - 4.0 * ohm * power
    if square <= 0.0 or linear <= 0.0:
        return 1e9
    return 2.0 * power / (linear + math.sqrt(square))


@jit
def brake_limit(p, lines, now, size, shaft, loss_nm, emf, normal, vh, room_a):
    """(size of the braking current that every limit allows, which of them cut it or -1); room_a: what a pack that fills up still takes."""
    if p.one_way > 0.0:
        return 0.0, NONE
    n, k_now, ohm, r0 = p.motors, now[Now.K], now[Now.OHM], now[Now.R0]
    fade = min(vh / FADE_M_S, 1.0)
    limit = NONE
    if p.resistor_ohm > 0.0:
        cap = fade * k_now * shaft / (ohm - p.bridge_ohm + p.resistor_ohm)
        if size > cap:
            size, limit = cap, RESISTOR
    else:
        cap = fade * p.regen_a * min(now[Now.MOTOR_SHARE], now[Now.CONTROLLER_SHARE])
        if size > cap:
            size, limit = cap, REGEN
        volts = emf + r0 * n * p.regen_battery_a
        cap = bus_power_current(ohm, k_now * shaft - p.switching * volts - p.brush_v, volts * p.regen_battery_a + p.idle_w)
        if size > cap:
            size, limit = cap, REGEN_PACK
        inward = min(max(p.bus_max - emf, 0.0) / max(r0, 1e-12), room_a) / n
        top = min(p.bus_max, emf + r0 * n * inward)
        cap = bus_power_current(ohm, k_now * shaft - p.switching * top - p.brush_v, top * inward + p.idle_w)
        if size > cap:
            size, limit = cap, BUS_HIGH
    force, which = p.brake_grip_share * normal, BRAKE_GRIP
    if p.pitch_share * normal < force:
        force, which = p.pitch_share * normal, PITCH
    if p.slip_back_nm * n < force * p.radius:
        force, which = p.slip_back_nm * n / p.radius, ROLLER
    cap = max(-(shaft_for(lines, -force * p.radius / n) + loss_nm) / k_now, 0.0)
    if size > cap:
        size, limit = cap, which
    return size, limit


@jit
def tread(p, lines, shaft_nm, f_other, v):
    """(acceleration, drive force at the tread, still coupled), rotors included.

    The reduction gives the least of its lines, and each line a force that falls with the acceleration: so the acceleration is the
    least that any of them gives.
    """
    bare = p.mass + p.wheel_mass
    spin = p.inertia * p.ratio / p.radius
    accel = 1e300
    for k in range(lines.shape[0]):
        slope = p.motors * lines[k, 0] / p.radius
        accel = min(accel, (slope * (shaft_nm - lines[k, 1]) + f_other) / (bare + slope * spin))
    stands = v <= 0.0 and accel <= 0.0
    if stands:
        accel = 0.0
    force = 1e300
    for k in range(lines.shape[0]):
        force = min(force, p.motors * lines[k, 0] / p.radius * (shaft_nm - spin * accel - lines[k, 1]))
    if p.one_way > 0.0:
        floor = p.motors * p.floor_nm / p.radius
        if force <= floor and (not stands or f_other + floor > 0.0):
            return (f_other + floor) / bare, floor, False
    if stands:
        return 0.0, max(force, 0.0), True  # friction holds
    return accel, force, True


@jit
def tell(events, told, t, x, kind):
    """One more event, while there is room."""
    if told < events.shape[0]:
        events[told, 0], events[told, 1], events[told, 2] = t, x, kind
        told += 1
    return told
