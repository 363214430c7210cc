"""From a pulse or a hand to a command: calibration, deadband, expo, slew."""

from __future__ import annotations

import math

import numpy as np

from wattagon.physics.arrays import Num


def pulse_to_stick(pulse_s: Num, low_s: float, centre_s: float, high_s: float) -> Num:
    """Stick position -1 to 1, piecewise linear; 0 for a faulty pulse (under 0.8 low, over 1.1 high, or nan)."""
    pulse = np.asarray(pulse_s, dtype=float)
    up = (pulse - centre_s) / (high_s - centre_s)
    down = (pulse - centre_s) / (centre_s - low_s)
    stick = np.clip(np.where(pulse >= centre_s, up, down), -1.0, 1.0)
    good = (pulse >= 0.8 * low_s) & (pulse <= 1.1 * high_s)
    return np.where(good, stick, 0.0)


def shape(stick: Num, deadband: float, expo: float) -> Num:
    """Command after deadband and expo: sign(x) [(1 - e) y + e y^3], y = max(0, |x| - d)/(1 - d)."""
    y = np.maximum(0.0, np.abs(stick) - deadband) / (1.0 - deadband)
    return np.sign(stick) * ((1.0 - expo) * y + expo * y**3)


def slew_time_s(start: Num, target: Num, rise_s: float, fall_s: float) -> Num:
    """Seconds to go from one command to another with separate times for full travel up and down."""
    step = np.asarray(target, dtype=float) - start
    return np.where(step >= 0, step * rise_s, -step * fall_s)


def lag_time_s(share: float, tau_s: float) -> float:
    """Seconds in which a first-order lag covers `share` (0 to below 1) of a step."""
    return -tau_s * math.log(1.0 - share)
