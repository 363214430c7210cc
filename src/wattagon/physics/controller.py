"""Speed controller: power balance of the bridge, limits and tapers.  Sources: Erickson and Maksimovic 2001, Mohan 2003."""

from __future__ import annotations

import math

import numpy as np

from wattagon.physics.arrays import Num, require
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Controller:
    """One controller for one motor: what it loses and what it is set to allow.  Current limits are the settings.

    `motor_current_a` is in the controller's own amps (q-axis amplitude for sine drive); `battery_current_a` is what one
    controller may draw from the pack.  Raises InputError for values out of range.
    """

    motor_current_a: Num  # burst setting, controller's amps; > 0
    motor_current_continuous_a: Num = math.inf
    battery_current_a: Num = math.inf
    battery_current_continuous_a: Num = math.inf
    regen_motor_current_a: Num = 0.0
    regen_battery_current_a: Num = 0.0
    duty_max: Num = 0.95
    duty_soft: Num = 1.0  # start of the soft duty taper; at or above duty_max: no taper
    erpm_start: Num = math.inf
    erpm_end: Num = math.inf
    cutback_start_v: Num = 0.0  # loaded bus volts where the battery current begins to be cut
    cutback_end_v: Num = 0.0  # and where it is 0; equal to the start: no cutback
    bus_max_v: Num = math.inf
    bridge_ohm: Num = 0.002  # 2 R_ds(on)
    switching_v_per_v: Num = 0.0  # c_sw: loss = c_sw V_bus |I|, I DC-equivalent
    idle_w: Num = 0.0

    def __post_init__(self) -> None:
        require("motor_current_a", self.motor_current_a, self.motor_current_a > 0, "above 0 A")
        for name in ("battery_current_a", "motor_current_continuous_a", "battery_current_continuous_a"):
            value = getattr(self, name)
            require(name, value, value > 0, "above 0 A")
        require("duty_max", self.duty_max, (self.duty_max > 0) & (self.duty_max <= 1), "above 0, up to 1")
        for name in ("bridge_ohm", "switching_v_per_v", "idle_w", "regen_motor_current_a", "regen_battery_current_a"):
            value = getattr(self, name)
            require(name, value, value >= 0, "0 or more")
        require("cutback_end_v", self.cutback_end_v, self.cutback_end_v <= self.cutback_start_v, "at or below cutback_start_v")
        require("erpm_start", self.erpm_start, self.erpm_start <= self.erpm_end, "at or below erpm_end")

    def erpm_share(self, erpm: Num) -> Num:
        """Share of the motor current left by the electrical-speed taper, 1 below its start, 0 from its end on."""
        if isinstance(self.erpm_end, float) and math.isinf(self.erpm_end):
            return 1.0
        known = np.isfinite(self.erpm_end)  # a stack of designs may mix rated and unrated controllers
        end, start = np.where(known, self.erpm_end, 1.0), np.where(known, self.erpm_start, 0.0)
        return np.where(known, np.clip((end - erpm) / np.maximum(end - start, 1e-9), 0.0, 1.0), 1.0)

    def cutback_current_a(self, limit_a: Num, emf_v: Num, pack_ohm: Num) -> Num:
        """Battery current [A] at which the low-voltage cutback settles, for a limit of the same meaning.

        The cutback acts on the loaded bus, which depends on the current: a fixed point, in closed form
        I = I_lim (E - V_end)/(V_start - V_end + I_lim R), between 0 and I_lim.
        """
        width = self.cutback_start_v - self.cutback_end_v
        finite = np.minimum(limit_a, 1e9)
        settled = finite * (emf_v - self.cutback_end_v) / np.maximum(width + finite * pack_ohm, 1e-12)
        return np.clip(settled, 0.0, limit_a)


def switching_coefficient(switch_time_s: Num, frequency_hz: Num) -> Num:
    """c_sw [V per V and DC-equivalent A] of three sine legs, t_on + t_off in all: (3/pi)(2/sqrt 3)... = 1.103 t f."""
    return 3.0 / math.pi * 2.0 / math.sqrt(3.0) * switch_time_s * frequency_hz


def temperature_share(temperature_c: Num, start_c: Num, end_c: Num) -> Num:
    """Share of the motor current left by a temperature taper, 1 to 0 from start to end."""
    return np.clip((end_c - temperature_c) / (end_c - start_c), 0.0, 1.0)


def boost_time_s(burst_over_continuous: Num, tau_s: Num, filled: Num = 0.0) -> Num:
    """Seconds of burst current until the boost bucket is full, from a filling of 0 to 1; inf at or under continuous.

    Source: dB/dt = (k^2 - B)/tau.  A stand-in for junction heating, as good as tau is.
    """
    k2 = np.asarray(burst_over_continuous, dtype=float) ** 2
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(k2 > 1.0, tau_s * np.log((k2 - filled) / (k2 - 1.0)), np.inf)
