"""Pack, controllers, motors and reduction as one powertrain: what it takes and gives at a motor current, and the most it can give."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, require
from wattagon.physics.controller import Controller
from wattagon.physics.motor import Motor
from wattagon.physics.pack import Pack
from wattagon.physics.reduction import Reduction
from wattagon.physics.thermal import MotorHeat
from wattagon.record import record

NEWTON_STEPS = 2  # from a closed form that is already near
NEWTON_STEPS_SOFT = 7  # the soft taper starts further away
LIMITS = (
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
)
INDEX = {name: k for k, name in enumerate(LIMITS)}


@record(frozen=True, slots=True, kw_only=True)
class Supply:
    """The pack at one emf as the controllers see it, for seconds (burst) or steady; independent of speed."""

    emf_v: Num
    pack_ohm: Num
    limit_a: Num  # the largest pack current of all controllers together
    limit_index: Num  # index into LIMITS of what sets it
    burst: bool


@record(frozen=True, slots=True, kw_only=True)
class Powertrain:
    """n identical motors, each with its own controller, on one pack, through one reduction each (or a shared one)."""

    motor: Motor
    count: Num = 1.0
    controller: Controller
    pack: Pack
    reduction: Reduction
    heat: MotorHeat | None = None

    def __post_init__(self) -> None:
        require("count", self.count, self.count >= 1, "1 or more")

    def pack_ohm(self, burst: bool) -> Num:
        """Resistance behind the bus: seconds (burst) or steady."""
        return self.pack.burst_ohm if burst else self.pack.steady_ohm

    def bus(self, dc_current_a: Num, shaft_rad_s: Num, emf_v: Num, pack_ohm: Num, *, diode_v: float = 0.0) -> tuple[Num, Num, Num, Num]:
        """(bus volts, pack amps of all controllers, duty, in-phase volts) at a motor current; nan beyond the pack's power.

        Source: V I_b = n [I V_q + c V |I| + P0]; with P_a = n (I V_q + P0) and E' = E - R n c |I|,
        V = [E' + sqrt(E'^2 - 4 R P_a)]/2.  With `diode_v` above 0 the bridge is off and its diodes carry the current.
        """
        m, c = self.motor, self.controller
        in_phase = m.in_phase_volts(dc_current_a, shaft_rad_s, c.bridge_ohm)
        power = self.count * (dc_current_a * in_phase + diode_v * np.abs(dc_current_a) + c.idle_w)
        switching = 0.0 if diode_v > 0.0 else self.count * c.switching_v_per_v * np.abs(dc_current_a)
        left = emf_v - pack_ohm * switching
        square = left**2 - 4.0 * pack_ohm * power
        with np.errstate(invalid="ignore", divide="ignore"):
            volts = np.where(square >= 0.0, 0.5 * (left + np.sqrt(np.maximum(square, 0.0))), np.nan)
            pack_a = power / volts + switching
            duty = np.hypot(in_phase, m.reactive_volts(dc_current_a, shaft_rad_s)) / volts
        return volts, pack_a, duty, in_phase

    def output_torque_nm(self, dc_current_a: Num, shaft_rad_s: Num) -> Num:
        """Torque of all motors at the output shaft [N m]."""
        return self.count * self.reduction.output_torque_nm(self.motor.shaft_torque_nm(dc_current_a, shaft_rad_s))

    def current_for_output_a(self, output_torque_nm: Num, shaft_rad_s: Num) -> Num:
        """DC-equivalent current of one motor [A] for a torque at the output shaft of all motors together."""
        shaft = self.reduction.shaft_torque_nm(output_torque_nm / self.count)
        return self.motor.current_for_torque_a(shaft, shaft_rad_s)

    def free_output_rad_s(self, emf_v: Num) -> Num:
        """Output speed at which back-EMF alone takes all the duty [rad/s], or at which the electrical-speed taper ends."""
        by_volts = self.controller.duty_max * emf_v / self.motor.torque_constant_nm_per_a
        if not self.motor.brushed:
            pairs = np.maximum(self.motor.pole_pairs, 1.0)
            by_volts = np.minimum(by_volts, self.controller.erpm_end * math.tau / 60.0 / pairs)
        return by_volts / self.reduction.ratio

    def supply(self, emf_v: Num, *, burst: bool = True) -> Supply:
        """What the pack allows at an emf, worked out once for all speeds."""
        c = self.controller
        ohm = self.pack_ohm(burst)
        per = c.battery_current_a if burst else np.minimum(c.battery_current_a, c.battery_current_continuous_a)
        battery = self.count * per
        pack = self.pack.burst_a if burst else self.pack.continuous_a
        # where no current limit is set the pack's own power limit stands in for one
        by_pack = np.minimum(pack, emf_v / np.maximum(2.0 * ohm, 1e-12))
        low = c.cutback_current_a(battery, emf_v, ohm)  # tapers the limit that is set, whatever the pack could give
        best = np.minimum(np.minimum(battery, by_pack), low)
        # an idle cutback gives just the battery limit: the limit that was set has the name
        near = best * (1.0 + 1e-12)
        index = np.where(battery <= near, INDEX["battery_current"], np.where(by_pack <= near, INDEX["pack_current"], INDEX["low_voltage"]))
        return Supply(emf_v=emf_v, pack_ohm=ohm, limit_a=best, limit_index=index, burst=burst)

    def current_at_pack_limit_a(self, pack_limit_a: Num, shaft_rad_s: Num, emf_v: Num, pack_ohm: Num) -> Num:
        """Motor current [A] that draws a given pack current: R I^2 + (K w + c V + V_b) I = V I_b/n - P0, positive root."""
        m, c = self.motor, self.controller
        volts = emf_v - pack_ohm * pack_limit_a
        power = volts * pack_limit_a / self.count - c.idle_w
        ohm = m.resistance_ohm + c.bridge_ohm
        linear = m.torque_constant_nm_per_a * shaft_rad_s + c.switching_v_per_v * volts + m.brush_drop_v
        root = np.sqrt(linear**2 + 4.0 * ohm * np.maximum(power, 0.0))
        return 2.0 * np.maximum(power, 0.0) / np.maximum(linear + root, 1e-12)  # stable for small power

    def current_at_full_duty_a(self, motor_limit_a: Num, shaft_rad_s: Num, emf_v: Num, pack_ohm: Num) -> Num:
        """Motor current [A] at which the bridge runs out of duty, soft taper and reactive voltage included.

        Newton on E - V_t/D - R_p (D P_a/V_t + n c I) = 0.  It starts at the positive root of the quadratic that follows when the
        pack gives n (D + c) I: (R^2 + x^2 - D^2 s^2) I^2 + 2 (a R + D^2 E s) I + a^2 - D^2 E^2 = 0, with a = K w + V_b,
        x = p w L, s = R_p n (D + c); from there two steps reach 1e-8 (see the test against bisection).
        """
        m, c, n = self.motor, self.controller, self.count
        constant, ohm = m.torque_constant_nm_per_a, m.resistance_ohm + c.bridge_ohm
        emf_motor = constant * shaft_rad_s + m.brush_drop_v
        most, switching = c.duty_max, c.switching_v_per_v
        reactive2 = (m.pole_pairs * shaft_rad_s * m.inductance_h) ** 2
        applied = most * emf_v
        sag = most * pack_ohm * n * (most + switching)
        lead = ohm * ohm + reactive2 - sag * sag
        linear = emf_motor * ohm + applied * sag
        room = applied - emf_motor
        rest = np.maximum(room, 0.0) * (applied + emf_motor)
        # the stable form of the positive root; with little sag `lead` is positive, else the root of smaller magnitude is meant
        current = rest / (linear + np.sqrt(np.maximum(linear * linear + lead * rest, 0.0)))
        taper = np.maximum(most - c.duty_soft, 0.0) / motor_limit_a  # duty given up per ampere
        soft = bool(np.any(taper > 0))
        if soft:
            current = np.where(taper > 0, np.minimum(current, motor_limit_a * 1.001), current)
        idle, own = n * c.idle_w, n * switching
        duty: Num = most
        for _ in range(NEWTON_STEPS_SOFT if soft else NEWTON_STEPS):
            if soft:
                duty = most - taper * current
            ohmic = ohm * current
            in_phase = emf_motor + ohmic
            total = np.sqrt(in_phase * in_phase + reactive2 * current * current)
            total = np.maximum(total, 1e-9)
            slope = (in_phase * ohm + reactive2 * current) / total
            share = duty / total
            power = n * current * in_phase + idle
            value = emf_v - total / duty - pack_ohm * (share * power + own * current)
            change = slope / duty + pack_ohm * (share * (n * (in_phase + ohmic) - power * slope / total) + own)
            if soft:
                change = change + taper * total / duty**2 - pack_ohm * taper * power / total
            # at the pack's largest power the slope vanishes: stay, and let the test below see the collapse
            steep = change > 1e-9
            current = np.maximum(current + np.where(steep, value, 0.0) / np.where(steep, change, 1.0), 0.0)
        # a bus under half the emf is the branch beyond the pack's largest power: there the pack limit has bound before
        collapsed = (total / duty < 0.5 * (emf_v - pack_ohm * own * current)) & (room > 0.0)
        return np.where(collapsed, np.inf, np.where(room > 0.0, current, 0.0))

    def largest_current(
        self,
        shaft_rad_s: Num,
        supply: Supply,
        *,
        vehicle_m_s: Num = 0.0,
        air_c: Num = 25.0,
        motor_share: Num = 1.0,
        names: bool = True,
    ) -> tuple[NDArray[np.float64], NDArray[np.intp] | None]:
        """(largest DC-equivalent motor current [A], index into LIMITS of what binds) at a shaft speed.

        motor_share scales the motor-current limit: tapers, or a throttle.  The continuous set adds heat where it is known.
        Without `names` the index is left out, which is quicker.
        """
        m, c = self.motor, self.controller
        setting = c.motor_current_a if supply.burst else np.minimum(c.motor_current_a, c.motor_current_continuous_a)
        ceiling = m.dc_per_motor_amp * setting
        emf, ohm = supply.emf_v, supply.pack_ohm
        if isinstance(m.saturation_a, float) and math.isinf(m.saturation_a):
            by_pack = self.current_at_pack_limit_a(supply.limit_a, shaft_rad_s, emf, ohm)
            by_duty = self.current_at_full_duty_a(ceiling, shaft_rad_s, emf, ohm)
        else:
            by_pack, by_duty = self.by_bisection(ceiling, supply.limit_a, shaft_rad_s, emf, ohm)
        candidates: list[tuple[Num, Num]] = [(ceiling * motor_share, INDEX["motor_current"])]
        taper = c.erpm_share(m.erpm(shaft_rad_s))
        if not isinstance(taper, float):
            candidates.append((ceiling * taper, INDEX["erpm"]))
        candidates += [(by_duty, INDEX["duty"]), (by_pack, supply.limit_index)]
        if not supply.burst and self.heat is not None:
            held = self.heat.continuous_current_a(m, shaft_rad_s, vehicle_m_s, air_c)
            candidates.append((held, INDEX["thermal"]))
        best: Num = candidates[0][0]
        for value, _ in candidates[1:]:
            best = np.minimum(best, value)
        if not names:
            return np.asarray(best), None
        index: Num = np.full(np.shape(best), INDEX["motor_current"])
        for value, which in reversed(candidates):  # the first named wins a tie
            index = np.where(value <= best, which, index)
        return np.asarray(best), np.asarray(index)

    def by_bisection(self, motor_limit_a: Num, pack_limit_a: Num, shaft_rad_s: Num, emf_v: Num, pack_ohm: Num) -> tuple[Num, Num]:
        """(by pack current, by duty) [A] with any motor law, saturation included; the referee of the closed forms."""
        c = self.controller
        taper = np.maximum(c.duty_max - c.duty_soft, 0.0) / motor_limit_a
        shape = np.broadcast_shapes(np.shape(shaft_rad_s), np.shape(emf_v), np.shape(pack_limit_a), np.shape(motor_limit_a))
        # without any limit the current is bounded by the pack into a bare winding
        top = np.broadcast_to(np.asarray(emf_v / (self.motor.resistance_ohm + c.bridge_ohm), dtype=float), shape)
        ends = []
        for by_pack in (True, False):
            low, high = np.zeros(shape), top.copy()
            for _ in range(60):
                middle = 0.5 * (low + high)
                _, pack_a, duty, _ = self.bus(middle, shaft_rad_s, emf_v, pack_ohm)
                good = pack_a <= pack_limit_a if by_pack else duty <= c.duty_max - taper * middle
                low, high = np.where(good, middle, low), np.where(good, high, middle)
            ends.append(low)
        return ends[0], ends[1]
