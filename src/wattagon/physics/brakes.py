"""Braking with the motor: regeneration and its limits, short circuit, resistor, overspeed."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num
from wattagon.physics.load import Load
from wattagon.physics.motor import Motor
from wattagon.physics.powertrain import Powertrain

BRAKE_LIMITS = ("motor_regen", "battery_regen", "bus_overvoltage", "traction", "pitch_over", "roller", "freewheel")
DIODE_V = 0.8  # of one body diode; two are in the way of the current


def regen_power_w(motor: Motor, dc_current_a: Num, shaft_rad_s: Num, bridge_ohm: Num = 0.0) -> Num:
    """Power to the bus [W] at a braking current's magnitude, switching and idle left out; negative where braking costs power."""
    i = np.abs(dc_current_a)
    return motor.torque_constant_nm_per_a * shaft_rad_s * i - (motor.resistance_ohm + bridge_ohm) * i**2


def regen_turns_rad_s(motor: Motor, dc_current_a: Num, bridge_ohm: Num = 0.0) -> Num:
    """Shaft speed [rad/s] below which braking at that current takes power from the pack: w = R |I|/K."""
    return (motor.resistance_ohm + bridge_ohm) * np.abs(dc_current_a) / motor.torque_constant_nm_per_a


def most_recovered_w(motor: Motor, shaft_rad_s: Num, bridge_ohm: Num = 0.0) -> tuple[Num, Num]:
    """(power [W], current magnitude [A]) of the largest recovery at a speed: (K w)^2/(4 R) at K w/(2 R)."""
    emf = motor.torque_constant_nm_per_a * shaft_rad_s
    ohm = motor.resistance_ohm + bridge_ohm
    return emf**2 / (4.0 * ohm), emf / (2.0 * ohm)


def _current_at_bus_power(train: Powertrain, power_w: Num, shaft_rad_s: Num, volts: Num) -> Num:
    """Braking current magnitude [A] of one motor that sends a power per motor to the bus; inf where it can never be reached.

    Smaller root of R x^2 - (K w - c V) x + (P + P0) = 0.
    """
    m, c = train.motor, train.controller
    ohm = m.resistance_ohm + c.bridge_ohm
    linear = m.torque_constant_nm_per_a * shaft_rad_s - c.switching_v_per_v * volts - m.brush_drop_v
    square = linear**2 - 4.0 * ohm * (power_w + c.idle_w)
    with np.errstate(invalid="ignore", divide="ignore"):
        root = 2.0 * (power_w + c.idle_w) / (linear + np.sqrt(np.maximum(square, 0.0)))
    return np.where((square > 0) & (linear > 0), root, np.inf)


def brake_force(
    train: Powertrain, load: Load, speed_m_s: Num, emf_v: Num, *, grade: Num = 0.0, caps: bool = True, motor_a: float | None = None
) -> tuple[NDArray[np.float64], list[str] | str]:
    """(largest electric braking force at the tread [N], limit that binds) on the burst set; friction brakes not included.

    `caps` False leaves out grip and the rear wheel lifting; `motor_a` stands in for the braking motor amps that are set.
    """
    c, red = train.controller, train.reduction
    shaft = red.ratio * load.shaft_speed_rad_s(speed_m_s, 0.0)
    ohm = train.pack_ohm(burst=True)
    by_motor = train.motor.dc_per_motor_amp * (c.regen_motor_current_a if motor_a is None else motor_a) + 0.0 * shaft
    pack_in = train.count * c.regen_battery_current_a
    volts = emf_v + ohm * pack_in
    by_battery = _current_at_bus_power(train, volts * c.regen_battery_current_a, shaft, volts)
    room = np.maximum(c.bus_max_v - emf_v, 0.0)
    to_ceiling = np.minimum(room / np.maximum(ohm, 1e-12), 1e6)
    by_bus = _current_at_bus_power(train, np.minimum(c.bus_max_v, 1e4) * to_ceiling / train.count, shaft, np.minimum(c.bus_max_v, 1e4))
    limits = {"motor_regen": by_motor, "battery_regen": by_battery, "bus_overvoltage": by_bus}
    forces: dict[str, Num] = {}
    for name, current in limits.items():
        finite = np.minimum(current, 1e6)
        torque = red.output_torque_nm(train.motor.shaft_torque_nm(-finite, shaft))
        forces[name] = load.thrust_n(speed_m_s, -train.count * torque)
    forces.update(load.brake_caps(grade) if caps else {})
    forces["roller"] = load.thrust_n(speed_m_s, train.count * red.slip_back_nm)
    forces["freewheel"] = np.where(red.one_way > 0, 0.0, np.inf)
    names = [name for name in BRAKE_LIMITS if name in forces]
    table = np.stack(np.broadcast_arrays(*[np.asarray(forces[name], dtype=float) for name in names]))
    which = np.argmin(table, axis=0)
    best = np.min(table, axis=0)
    if which.ndim == 0:
        return best, names[int(which)]
    return best, [names[k] for k in which.ravel()]


def stopping(
    train: Powertrain, load: Load, emf_v: float, from_m_s: float, to_m_s: float = 0.5, *, points: int = 400
) -> tuple[float, float]:
    """(seconds, metres) of electric braking alone on the level; ends at a small speed, where firmware lets go."""
    speeds = np.linspace(to_m_s, from_m_s, points)
    force, _ = brake_force(train, load, speeds, emf_v)
    rotors = train.count * train.motor.rotor_inertia_kg_m2
    mass = load.moving_mass_kg(rotors, train.reduction.ratio, train.reduction.efficiency, True)
    slowing = (force + sum(load.parts_n(speeds))) / mass
    return float(np.trapezoid(1.0 / slowing, speeds)), float(np.trapezoid(speeds / slowing, speeds))


def overspeed_rad_s(motor: Motor, emf_v: Num) -> Num:
    """Shaft speed [rad/s] from which the motor charges the pack through the diodes, whatever is asked."""
    return (emf_v + 2.0 * DIODE_V + motor.brush_drop_v) / motor.torque_constant_nm_per_a


def short_circuit_torque_nm(motor: Motor, shaft_rad_s: Num, bridge_ohm: Num = 0.0) -> Num:
    """Braking torque at zero duty [N m]: K^2 w R/(R^2 + (p w L)^2); all heat stays in windings and switches."""
    ohm = motor.resistance_ohm + bridge_ohm
    reactance = motor.pole_pairs * shaft_rad_s * motor.inductance_h
    return motor.torque_constant_nm_per_a**2 * shaft_rad_s * ohm / (ohm**2 + reactance**2)


def short_circuit_peak(motor: Motor, bridge_ohm: Num = 0.0) -> tuple[Num, Num]:
    """(speed [rad/s], torque [N m]) of the strongest short-circuit brake: p w L = R, K^2/(2 p L)."""
    ohm = motor.resistance_ohm + bridge_ohm
    per_speed = motor.pole_pairs * motor.inductance_h
    return ohm / per_speed, motor.torque_constant_nm_per_a**2 / (2.0 * per_speed)


def resistor_brake(motor: Motor, shaft_rad_s: Num, resistor_ohm: Num) -> tuple[Num, Num]:
    """(torque [N m], power in the resistor [W]) across a rectifier: no torque at rest.

    I = K w/(R + R_b); R is left out of nothing: the motor's own share heats the winding.
    """
    current = motor.torque_constant_nm_per_a * shaft_rad_s / (motor.resistance_ohm + resistor_ohm)
    return motor.torque_constant_nm_per_a * current, current**2 * resistor_ohm


def overspeed_current_a(
    motor: Motor, shaft_rad_s: Num, emf_v: Num, pack_ohm: Num, *, motors: Num = 1.0, diode_v: Num = DIODE_V, bridge_ohm: Num = 0.0
) -> Num:
    """Uncontrolled current of one motor [A] once back-EMF exceeds the pack: (K w - E - 2 V_f)/(R + n R_p), or 0.

    Software cannot stop it; ideal rectifier, 10 % error.  Brushes add their drop.
    """
    drive = motor.torque_constant_nm_per_a * shaft_rad_s - emf_v - 2.0 * diode_v - motor.brush_drop_v
    return np.maximum(drive, 0.0) / (motor.resistance_ohm + bridge_ohm + motors * pack_ohm)
