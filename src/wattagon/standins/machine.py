"""The motor, its controller's bridge and the pack on a stand, in steps of a millisecond, from the core's own equations.

The winding is solved exactly within a step (its time constant may be shorter); speed, heat and charge step by step.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from wattagon.physics.controller import Controller
from wattagon.physics.motor import COPPER_PER_K, Motor
from wattagon.physics.powertrain import Powertrain
from wattagon.study.resolve import Resolved

STEP_S = 0.001
LEAST_INERTIA = 2e-5  # kg m2, of a rotor that nobody states
LEAST_HENRY = 5e-6
RIM_SHARE, MOST_PARTS = 0.35, 20
QUICKEST = 0.3  # of K^2/(R J) times a step, beyond which the speed would swing from step to step
CONTACT_OHM = 0.0006  # of a good plug
CONTACT_J_PER_K, CONTACT_K_PER_W = 6.0, 14.0
WEAK_GROUP = 9.0  # times the resistance of a good group
GROUP_SPREAD_V = 0.004


class Machine:
    """One motor of a drive, alone on a stand or coupled to a wheel in the air."""

    def __init__(self, resolved: Resolved, charge: float = 0.8, *, coupled: bool = False, fault: str = "") -> None:
        train = resolved.train
        self.resolved, self.coupled, self.fault = resolved, coupled, fault
        motor = train.motor
        kv, ohm = float(motor.kv_rpm_per_v), float(motor.resistance_ohm)
        drag = 1.0
        if fault == "weak_magnets":
            kv *= 1.12
        elif fault == "delta":
            kv, ohm = kv * math.sqrt(3.0), ohm / 3.0
        elif fault == "shorted_turn":
            ohm, drag = 0.88 * ohm, 4.0
        self.motor: Motor = replace(
            motor,
            kv_rpm_per_v=kv,
            resistance_ohm=ohm,
            no_load_a=float(motor.no_load_a) * drag,
            no_load_slope_a_s=float(motor.no_load_slope_a_s) * drag,
        )
        self.train: Powertrain = replace(train, motor=self.motor)
        self.controller: Controller = train.controller
        self.henry = max(float(motor.inductance_h), LEAST_HENRY)
        ratio = float(train.reduction.ratio)
        part = resolved.motor_part
        usual = RIM_SHARE * part.mass_kg * (0.0005 * part.can_mm) ** 2  # where nobody states it: a rim of a share of its mass
        self.inertia = max(float(motor.rotor_inertia_kg_m2) or usual, LEAST_INERTIA)
        if coupled and not resolved.variant.propeller:
            self.inertia += float(resolved.road.wheel_inertia_kg_m2) / max(float(train.count), 1.0) / ratio**2
        self.charge = charge
        self.air_c = resolved.air_c
        self.winding_c = self.case_c = self.controller_c = self.connector_c = self.air_c
        self.current = self.omega = self.angle = 0.0  # DC-equivalent A, rad/s of the shaft, electrical rad
        self.volts = self.pack_a = self.duty = self.contact_v = 0.0
        self.load_nm = 0.0  # of a hand brake or a load at the shaft
        self.open = False  # the pack is off
        self.seconds = 0.0
        self.shake = 0.0
        self._chance = np.random.default_rng(7)
        # plain numbers for the loop
        self.constant = float(self.motor.torque_constant_nm_per_a)  # K [N m/A]
        self._ohm20, self._bridge = float(self.motor.resistance_ohm), float(self.controller.bridge_ohm)
        self._drag = (self.constant * float(self.motor.no_load_a), self.constant * float(self.motor.no_load_slope_a_s))
        self._more_nm = self._reduction_nm()
        self._pairs = float(max(self.motor.pole_pairs, 1.0))
        self._duty, self._idle = float(self.controller.duty_max), float(self.controller.idle_w)
        self._switching, self._ah = float(self.controller.switching_v_per_v), float(train.pack.capacity_ah)
        self._pack_ohm = float(train.pack_ohm(True)) + (0.02 if fault == "weak_group" else 0.0)
        self._emf, self._emf_steps, self._heat_steps = 0.0, 0, 0
        self._contact = {"loose_connector": 0.045, "hot_connector": 0.012}.get(fault, CONTACT_OHM)
        self._warm_j = self._iron_j = self._bridge_j = self._plug_j = 0.0
        self.volts = self.slow_v = self.emf  # the second as a controller averages it
        # a motor with much torque for its inertia follows within less than a step: it is taken in shorter ones
        self._parts = max(math.ceil(self.constant**2 / (self._ohm20 * self.inertia) * STEP_S / QUICKEST), 1)
        self._parts = min(self._parts, MOST_PARTS)

    # what follows

    @property
    def ohm(self) -> float:
        """Of winding and bridge, line to line, as warm as it is."""
        return self._ohm20 * (1.0 + COPPER_PER_K * (self.winding_c - 20.0)) + self._bridge

    @property
    def emf(self) -> float:
        """Rest volts of the pack, looked up anew every tenth of a second."""
        if self._emf_steps <= 0:
            self._emf, self._emf_steps = float(self.train.pack.emf_v(self.charge)), 100
        return self._emf

    @property
    def pack_ohm(self) -> float:
        """Of cells, links and leads."""
        return self._pack_ohm

    @property
    def contact_ohm(self) -> float:
        """Of the plug between pack and controller."""
        return self._contact

    def _reduction_nm(self) -> float:
        """Drag of a coupled reduction, at the motor's shaft."""
        if not self.coupled:
            return 0.0
        reduction = self.train.reduction
        return max(-float(reduction.output_torque_nm(0.0)), 0.0) / max(float(reduction.ratio), 1e-9)

    def drag_nm(self) -> float:
        """What opposes the shaft: iron, bearings, reduction, load; against the way it turns."""
        a, b = self._drag
        return a + b * abs(self.omega) + self._more_nm + self.load_nm

    @property
    def blocked(self) -> bool:
        """Whether nothing can turn."""
        return self.fault == "blocked"

    def most_volts(self) -> float:
        """What the bridge can put on the winding."""
        return self._duty * max(self.slow_v, 0.0)

    def step(self, volts: float, *, off: bool = False) -> None:
        """One step with a voltage on the winding, or with the bridge off; negative drives backwards."""
        k, r = self.constant, self.ohm
        back = k * self.omega
        if off or self.open:
            self.current = 0.0
            applied = back
        else:
            most = self.most_volts()
            applied = min(max(volts, -most), most)
            seconds = STEP_S / self._parts
            decay = math.exp(-seconds * r / self.henry)
            for _ in range(self._parts - 1):
                settled = (applied - k * self.omega) / r
                self.current = settled + (self.current - settled) * decay
                self._turn(k * self.current, seconds)
            settled = (applied - k * self.omega) / r
            self.current = settled + (self.current - settled) * decay
        mean = self.current
        if self.fault == "loose_motor" and abs(self.omega) > 1.0:
            self.shake = 0.25 * abs(self.current) * float(self._chance.standard_normal())
        else:
            self.shake = 0.0
        self._turn(k * mean, STEP_S if off or self.open else STEP_S / self._parts)
        self._electric(applied, mean)
        self._heat(mean)
        self.seconds += STEP_S

    def _turn(self, torque: float, seconds: float) -> None:
        if self.blocked:
            self.omega = 0.0
            return
        drag = self.drag_nm()
        if self.omega == 0.0 and abs(torque) <= drag:
            return
        way = math.copysign(1.0, self.omega if self.omega else torque)
        after = self.omega + (torque - way * drag) / self.inertia * seconds
        self.omega = 0.0 if self.omega and after * self.omega < 0.0 and abs(torque) <= drag else after
        self.angle = (self.angle + self.omega * self._pairs * seconds) % math.tau

    def _electric(self, applied: float, amps: float) -> None:
        if self.open:
            self.volts, self.pack_a, self.duty, self.contact_v = max(self.volts * 0.98, 0.0), 0.0, 0.0, 0.0
            return
        self._emf_steps -= 1
        power = amps * applied + self._idle
        ohm = self._pack_ohm + self.contact_ohm
        switching = self._switching * abs(amps)
        left = self.emf - ohm * switching
        square = left**2 - 4.0 * ohm * power
        self.volts = 0.5 * (left + math.sqrt(max(square, 0.0)))
        self.pack_a = power / max(self.volts, 1.0) + switching
        self.duty = applied / max(self.volts, 1.0)
        self.contact_v = self.pack_a * (ohm - self._pack_ohm)
        self.slow_v += 0.08 * (self.volts - self.slow_v)
        self.charge -= self.pack_a * STEP_S / 3600.0 / self._ah
        self.charge = min(max(self.charge, 0.0), 1.0)

    def _heat(self, amps: float) -> None:
        """Every tenth of a second: heat is slow."""
        self._warm_j += self._ohm20 * (1.0 + COPPER_PER_K * (self.winding_c - 20.0)) * amps**2 * STEP_S
        self._iron_j += (self._drag[0] + self._drag[1] * abs(self.omega)) * abs(self.omega) * STEP_S
        self._bridge_j += (self._bridge * amps**2 + self._idle) * STEP_S
        self._plug_j += self.contact_v * self.pack_a * STEP_S
        self._heat_steps += 1
        if self._heat_steps < 100:
            return
        self._heat_steps = 0
        if self.fault == "loose_connector":  # it jumps ten times a second
            self._contact = 0.03 * float(1.0 + 0.8 * self._chance.random())
        step, heat = 100.0 * STEP_S, self.train.heat
        if heat is not None:
            over = (self.winding_c - self.case_c) / float(heat.winding_to_case_k_per_w) * step
            share = float(heat.iron_in_winding)
            still = float(heat.film_still) * float(heat.case_area_m2) + float(heat.mount_w_per_k)
            self.winding_c += (self._warm_j + share * self._iron_j - over) / float(heat.winding_j_per_k)
            gone = still * (self.case_c - self.air_c) * step
            self.case_c += ((1.0 - share) * self._iron_j + over - gone) / float(heat.case_j_per_k)
        self.controller_c += (self._bridge_j - (self.controller_c - self.air_c) * step) / 200.0
        self.connector_c += (self._plug_j - (self.connector_c - self.air_c) / CONTACT_K_PER_W * step) / CONTACT_J_PER_K
        self._warm_j = self._iron_j = self._bridge_j = self._plug_j = 0.0

    # sensors

    def hall(self) -> int:
        """Code of the three sensors, 1 to 6 on a sound motor."""
        angle = self.angle
        bits = [math.sin(angle - k * math.tau / 3.0) >= 0.0 for k in range(3)]
        if self.fault == "sensors_swapped":
            bits[0], bits[1] = bits[1], bits[0]
        if self.fault == "sensor_dead":
            bits[2] = True
        return bits[0] + 2 * bits[1] + 4 * bits[2]

    def group_low_v(self) -> float:
        """Volts of the lowest group of cells."""
        series = float(self.train.pack.series)
        mean = (self.emf - self.pack_a * float(self.train.pack_ohm(True))) / series - GROUP_SPREAD_V
        if self.fault == "weak_group":
            own = float(self.train.pack.burst_ohm) / series
            return mean - (WEAK_GROUP - 1.0) * own * self.pack_a - 0.03
        return mean
