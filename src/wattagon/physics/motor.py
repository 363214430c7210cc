"""Brushless motor as a DC equivalent; a permanent-magnet brushed motor is the special case without the q-axis factor.

Sources: Krishnan 2010, Hendershot and Miller 2010 (DC equivalent of the sine-fed machine); Steinmetz 1892 (iron loss);
IEC 60028 (copper's temperature coefficient).
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from wattagon.physics.arrays import Num, require
from wattagon.record import record

COPPER_PER_K = 0.00393  # 1/K, resistance rise of annealed copper at 20 C, IEC 60028
Q_AXIS_FACTOR = math.sqrt(3.0) / 2.0  # DC-equivalent amps per q-axis amp: T = 1.5 p lambda i_q = K I, K = sqrt(3) p lambda
MAGNET_PER_K = -0.0011  # 1/K, change of K of neodymium magnets, typical -0.0010 to -0.0012
SIX_STEP_EMF = 3.0 / math.pi  # mean over the 60 degree window of block commutation per peak EMF


@record(frozen=True, slots=True, kw_only=True)
class Motor:
    """Constants of one motor at 20 C, as the label and the workbench give them; floats or broadcastable arrays.

    Two kinds of current must not be mixed: `dc_current_a` is the DC-equivalent I with torque = K I; `motor_current_a` is
    what a sine-fed controller reports, the q-axis amplitude i_q, with I = 0.8660 i_q.  For a brushed motor they are equal.
    Raises InputError for values outside the stated ranges (nan included).
    """

    kv_rpm_per_v: Num  # unloaded speed per volt, DC-equivalent, magnets at 20 C; > 0
    resistance_ohm: Num  # between two terminals at 20 C; > 0
    inductance_h: Num = 0.0  # between two terminals; >= 0
    pole_pairs: Num = 7.0  # 0 for a brushed motor
    no_load_a: Num = 0.0  # hysteresis and dry friction, DC-equivalent; >= 0
    no_load_slope_a_s: Num = 0.0  # eddy currents and grease, A per rad/s; >= 0
    rotor_inertia_kg_m2: Num = 0.0
    magnet_per_k: Num = MAGNET_PER_K  # change of K per kelvin of magnet temperature
    saturation_a: Num = math.inf  # DC-equivalent current at which torque is 16 % under the straight line
    brush_drop_v: Num = 0.0  # both brushes together; 0 for a brushless motor
    brushed: bool = False

    def __post_init__(self) -> None:
        require("kv_rpm_per_v", self.kv_rpm_per_v, self.kv_rpm_per_v > 0, "above 0 rpm/V")
        require("resistance_ohm", self.resistance_ohm, self.resistance_ohm > 0, "above 0 ohm")
        for name in ("inductance_h", "pole_pairs", "no_load_a", "no_load_slope_a_s", "rotor_inertia_kg_m2", "brush_drop_v"):
            value = getattr(self, name)
            require(name, value, value >= 0, "0 or more")
        require("saturation_a", self.saturation_a, self.saturation_a > 0, "above 0 A")

    @property
    def torque_constant_nm_per_a(self) -> Num:
        """K [N m per DC-equivalent A = V s/rad].  Source: lossless balance E I = T w, so K = 60/(2 pi kv).

        >>> round(Motor(kv_rpm_per_v=190, resistance_ohm=0.05).torque_constant_nm_per_a, 5)
        0.05026
        """
        return 60.0 / (math.tau * self.kv_rpm_per_v)

    @property
    def dc_per_motor_amp(self) -> float:
        """DC-equivalent amps per amp that the controller reports: 0.8660 for sine drive, 1 for a brushed motor."""
        return 1.0 if self.brushed else Q_AXIS_FACTOR

    @property
    def figure_of_merit(self) -> Num:
        """K^2/R [N2 m2/W], independent of the winding: the frame's worth."""
        return self.torque_constant_nm_per_a**2 / self.resistance_ohm

    def at(self, *, winding_c: Num = 20.0, magnet_c: Num = 20.0) -> Motor:
        """The same motor warm: R rises with copper, K falls with the magnets (so kv and top speed rise)."""
        weaker = 1.0 + self.magnet_per_k * (magnet_c - 20.0)
        return replace(
            self,
            resistance_ohm=self.resistance_ohm * (1.0 + COPPER_PER_K * (winding_c - 20.0)),
            kv_rpm_per_v=self.kv_rpm_per_v / weaker,
        )

    def loaded_constant(self, dc_current_a: Num) -> Num:
        """K under load [N m/A]: K0 (1 + (I/I_sat)^4)^(-1/4), the same for torque and back-EMF so that energy balances.

        The shape is a convenient monotone one of our own, not a law.
        """
        if isinstance(self.saturation_a, float) and math.isinf(self.saturation_a):
            return self.torque_constant_nm_per_a
        return self.torque_constant_nm_per_a * (1.0 + (np.abs(dc_current_a) / self.saturation_a) ** 4) ** -0.25

    def drag_nm(self, speed_rad_s: Num) -> Num:
        """Iron and bearing drag T_loss = K (a + b w) [N m] at shaft speed w >= 0; good to 10 to 20 %."""
        return self.torque_constant_nm_per_a * (self.no_load_a + self.no_load_slope_a_s * speed_rad_s)

    def shaft_torque_nm(self, dc_current_a: Num, speed_rad_s: Num) -> Num:
        """Torque at the shaft [N m] while turning forwards; negative current brakes; nan in, nan out."""
        return self.loaded_constant(dc_current_a) * dc_current_a - self.drag_nm(speed_rad_s)

    def current_for_torque_a(self, shaft_torque_nm: Num, speed_rad_s: Num) -> Num:
        """DC-equivalent current for a shaft torque [A]; exact without saturation, else by fixed-point Newton steps."""
        electromagnetic = shaft_torque_nm + self.drag_nm(speed_rad_s)
        current = electromagnetic / self.torque_constant_nm_per_a
        if isinstance(self.saturation_a, float) and math.isinf(self.saturation_a):
            return current
        # K(I) I tends to K0 I_sat: more torque than that does not exist, and the current is reported as infinite
        share = np.abs(current) / self.saturation_a
        with np.errstate(divide="ignore", invalid="ignore"):
            # I/(1+x^4)^(1/4) = y has the closed inverse x^4 = y^4/(1-y^4)
            ratio = share**4 / (1.0 - share**4)
            return np.sign(current) * self.saturation_a * np.where(share < 1.0, np.abs(ratio), np.inf) ** 0.25

    def in_phase_volts(self, dc_current_a: Num, speed_rad_s: Num, extra_ohm: Num = 0.0) -> Num:
        """V_q = K w + R I (+ brush drop), the part of the voltage that carries power [V]; extra_ohm is the bridge."""
        return (
            self.loaded_constant(dc_current_a) * speed_rad_s
            + (self.resistance_ohm + extra_ohm) * dc_current_a
            + self.brush_drop_v * np.sign(dc_current_a)
        )

    def reactive_volts(self, dc_current_a: Num, speed_rad_s: Num) -> Num:
        """p w L I: uses up duty, carries no power [V]."""
        return self.pole_pairs * speed_rad_s * self.inductance_h * dc_current_a

    def terminal_volts(self, dc_current_a: Num, speed_rad_s: Num, extra_ohm: Num = 0.0) -> Num:
        """Bridge amplitude V_t = sqrt(V_q^2 + (p w L I)^2), line to line peak [V]."""
        return np.hypot(self.in_phase_volts(dc_current_a, speed_rad_s, extra_ohm), self.reactive_volts(dc_current_a, speed_rad_s))

    def erpm(self, speed_rad_s: Num) -> Num:
        """Electrical speed: pole pairs times shaft rpm; 0 for a brushed motor, which has no such limit."""
        pairs = 0.0 if self.brushed else self.pole_pairs
        return pairs * speed_rad_s * 60.0 / math.tau

    def no_load(self, volts: Num, extra_ohm: Num = 0.0) -> tuple[Num, Num]:
        """(speed [rad/s], DC-equivalent amps) with nothing coupled, at volts across it: V = (K + R b) w + R a of I0 = a + b w."""
        ohm = self.resistance_ohm + extra_ohm
        speed = (volts - self.brush_drop_v - ohm * self.no_load_a) / (self.torque_constant_nm_per_a + ohm * self.no_load_slope_a_s)
        return speed, self.no_load_a + self.no_load_slope_a_s * speed

    def efficiency(self, shaft_torque_nm: Num, speed_rad_s: Num) -> Num:
        """Shaft power per electrical power at the motor's terminals [-], for a driving torque above 0."""
        current = self.current_for_torque_a(shaft_torque_nm, speed_rad_s)
        return shaft_torque_nm * speed_rad_s / (self.in_phase_volts(current, speed_rad_s) * current)


def kv_from_drill(drill_rpm: Num, line_rms_v: Num) -> Num:
    """kv [rpm/V] from a motor spun open circuit: the peak line-to-line voltage is sqrt(2) times the RMS reading."""
    return drill_rpm / (math.sqrt(2.0) * line_rms_v)


def kv_from_free_run(rpm: Num, applied_v: Num, no_load_a: Num, resistance_ohm: Num) -> Num:
    """kv [rpm/V] from a free run under control: kv = N/(V - I0 R)."""
    return rpm / (applied_v - no_load_a * resistance_ohm)


def no_load_fit(volts: Num, amps: Num, kv_rpm_per_v: float, resistance_ohm: float) -> tuple[float, float]:
    """(a [A], b [A s/rad]) of I0 = a + b w by least squares over two or more free runs of shape (n,)."""
    v, i0 = np.atleast_1d(np.asarray(volts, dtype=float)), np.atleast_1d(np.asarray(amps, dtype=float))
    require("no-load runs", v.size, v.size >= 2, "two or more")
    speed = (v - i0 * resistance_ohm) * kv_rpm_per_v * math.tau / 60.0
    (a, b), *_ = np.linalg.lstsq(np.column_stack([np.ones_like(speed), speed]), i0, rcond=None)
    return float(a), float(b)


def best_efficiency(volts: Num, no_load_a: Num, resistance_ohm: Num) -> tuple[Num, Num]:
    """(current [A], efficiency [-]) of the best point at a fixed voltage and constant no-load current."""
    return np.sqrt(no_load_a * volts / resistance_ohm), (1.0 - np.sqrt(no_load_a * resistance_ohm / volts)) ** 2


def unequal_pair_current_a(constant_nm_per_a: Num, mismatch: Num, speed_rad_s: Num, resistance_ohm: Num) -> Num:
    """Current difference [A] of two motors on one rigid axle at a common duty whose K differ by the share `mismatch`."""
    return constant_nm_per_a * mismatch * speed_rad_s / resistance_ohm


def kv_for_duty(duty: Num, bus_v: Num, speed_rad_s: Num, electromagnetic_nm: Num, figure_of_merit: Num) -> Num:
    """kv [rpm/V] that runs a frame of given K^2/R at `duty`: K = D V/(w + T/M).  Source: V_q = K w + R T/K, R = K^2/M."""
    constant = duty * bus_v / (speed_rad_s + electromagnetic_nm / figure_of_merit)
    return 60.0 / (math.tau * constant)
