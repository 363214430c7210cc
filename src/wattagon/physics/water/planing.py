"""Planing hulls after Savitsky 1964, and the blend between floating and planing.

The method is for prismatic hulls: beam and deadrise constant aft, chines wetted.  Whisker spray, porpoising and air are not in it.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from wattagon.physics.arrays import Num
from wattagon.physics.road import GRAVITY
from wattagon.physics.water.hull import friction_coefficient
from wattagon.physics.water.water import Water

LEAST_TRIM, MOST_TRIM = 0.2, 20.0  # degrees within which an equilibrium is looked for
BLEND_BEGIN, BLEND_WIDTH = 1.2, 1.0  # of the volume Froude number
ALLOWANCE = 0.0004  # of friction
PORPOISING_DEG = 6.0
HALVINGS = 50
NEWTON = 9  # steps: from any start the last changes nothing
WIDEST = 60.0  # ratio of length to beam that is looked at


class Planing(NamedTuple):
    """A planing hull at one speed; trim in degrees, lengths in m, forces in N."""

    trim_deg: Num
    wetted_ratio: Num  # mean wetted length over beam
    lift0: Num  # C_L0
    pressure_at: Num  # C_p
    bottom_m_s: Num  # V_1
    friction_n: Num
    drag_n: Num
    moment_nm: Num  # positive is bow down


def flat_lift(load: Num, deadrise_deg: Num) -> Num:
    """C_L0 of a flat plate from the lift C_L of one with deadrise: C_L = C_L0 - 0.0065 beta C_L0^0.6."""
    value = np.asarray(load, dtype=float) + 0.0
    for _ in range(60):
        value = load + 0.0065 * deadrise_deg * np.power(value, 0.6)
    return value


def wetted_ratio(lift0: Num, trim_deg: Num, speed_coefficient: Num) -> Num:
    """Lambda from C_L0 = tau^1.1 (0.0120 lambda^0.5 + 0.0055 lambda^2.5/C_v^2), which rises with lambda."""
    wanted = lift0 / np.power(trim_deg, 1.1)
    steep = 0.0055 / speed_coefficient**2
    # Newton on logarithms, where both terms are straight lines; it begins above the root
    ratio = np.minimum((wanted / 0.0120) ** 2, (wanted / steep) ** 0.4)
    for _ in range(NEWTON):
        short, long = 0.0120 * np.sqrt(ratio), steep * ratio**2.5
        both = short + long
        ratio = ratio * (wanted / both) ** (both / (0.5 * short + 2.5 * long))
    return np.minimum(ratio, WIDEST)


def planing_at(
    speed_m_s: Num,
    trim_deg: Num,
    *,
    mass_kg: Num,
    beam_m: Num,
    deadrise_deg: Num,
    lcg_m: Num,
    vcg_m: Num,
    medium: Water,
    shaft_deg: Num = 0.0,
    thrust_below_m: Num = 0.0,
    lift0: Num | None = None,
) -> Planing:
    """A planing hull held at a trim: steps 1 to 7 of Savitsky, the moment left over beside; `lift0` where it is known already."""
    speed, trim = np.maximum(speed_m_s, 1e-3), np.asarray(trim_deg, dtype=float)
    weight, dynamic = mass_kg * GRAVITY, 0.5 * medium.kg_m3 * speed**2
    coefficient = speed / np.sqrt(GRAVITY * beam_m)
    if lift0 is None:
        lift0 = flat_lift(weight / (dynamic * beam_m**2), deadrise_deg)
    ratio = wetted_ratio(lift0, trim, coefficient)
    at = 0.75 - 1.0 / (5.21 * coefficient**2 / ratio**2 + 2.39)
    tau, eps, beta = np.radians(trim), np.radians(shaft_deg), np.radians(deadrise_deg)
    pushed = 0.0120 * np.sqrt(ratio) * np.power(trim, 1.1)
    pushed = pushed - 0.0065 * deadrise_deg * np.power(pushed, 0.6)
    bottom = speed * np.sqrt(np.maximum(1.0 - pushed / (ratio * np.cos(tau)), 0.0))
    line = friction_coefficient(bottom * ratio * beam_m / medium.m2_s) + ALLOWANCE
    skin = 0.5 * medium.kg_m3 * bottom**2 * ratio * beam_m**2 / np.cos(beta) * line
    arm, skin_arm = lcg_m - at * ratio * beam_m, vcg_m - beam_m / 4.0 * np.tan(beta)
    moment = weight * ((1.0 - np.sin(tau) * np.sin(tau + eps)) * arm / np.cos(tau) - thrust_below_m * np.sin(tau))
    moment = moment + skin * (skin_arm - thrust_below_m)
    drag = weight * np.tan(tau) + skin / np.cos(tau)
    return Planing(trim, ratio, lift0, at, bottom, skin, drag, moment)


def planing(
    speed_m_s: Num,
    *,
    mass_kg: Num,
    beam_m: Num,
    deadrise_deg: Num,
    lcg_m: Num,
    vcg_m: Num,
    medium: Water,
    shaft_deg: Num = 0.0,
    thrust_below_m: Num = 0.0,
) -> Planing:
    """A planing hull at the trim at which its moments balance, by bisection: a bow-down moment has the root at a lower trim.

    Where none balances within LEAST_TRIM and MOST_TRIM the nearer end is taken, its moment left as it is.
    """
    hull: dict[str, Any] = {
        "mass_kg": mass_kg,
        "beam_m": beam_m,
        "deadrise_deg": deadrise_deg,
        "lcg_m": lcg_m,
        "vcg_m": vcg_m,
        "medium": medium,
        "shaft_deg": shaft_deg,
        "thrust_below_m": thrust_below_m,
    }
    dynamic = 0.5 * medium.kg_m3 * np.maximum(speed_m_s, 1e-3) ** 2
    hull["lift0"] = flat_lift(mass_kg * GRAVITY / (dynamic * beam_m**2), deadrise_deg)
    low = np.full_like(np.asarray(speed_m_s, dtype=float) + 0.0 * np.asarray(lcg_m, dtype=float), LEAST_TRIM)
    high = np.full_like(low, MOST_TRIM)
    for _ in range(HALVINGS):
        middle = 0.5 * (low + high)
        down = planing_at(speed_m_s, middle, **hull).moment_nm > 0.0
        low, high = np.where(down, low, middle), np.where(down, middle, high)
    return planing_at(speed_m_s, 0.5 * (low + high), **hull)


def volume_froude(speed_m_s: Num, volume_m3: Num) -> Num:
    """F_v = V/sqrt(g vol^(1/3))."""
    return speed_m_s / np.sqrt(GRAVITY * np.cbrt(volume_m3))


def blend(speed_m_s: Num, volume_m3: Num) -> Num:
    """Share of planing: 0 under a volume Froude number of 1.2, 1 over 2.2, a smooth step between; a construction, not physics."""
    s = np.clip((volume_froude(speed_m_s, volume_m3) - BLEND_BEGIN) / BLEND_WIDTH, 0.0, 1.0)
    return s * s * (3.0 - 2.0 * s)
