"""Pre-charge, the spark without one, contactor coils, arcs.  Circuit theory; shares of energy are workshop figures."""

from __future__ import annotations

import math

REACHED = 0.95
PULSE_J_PER_W = 25.0  # five times its rating for five seconds
TOUCH_V = 5.0
MAIN_S = 0.1  # below it the sheet's pulse curve
ARC_V, ARC_V_PER_MM = 20.0, 1.5


def ohm_for(seconds: float, farad: float, reached: float = REACHED) -> float:
    """Resistor that brings a bank so far in a time [ohm]."""
    return seconds / (farad * math.log(1.0 / (1.0 - reached)))


def seconds_for(ohm: float, farad: float, reached: float = REACHED) -> float:
    """Time to a share of the pack's volts [s]."""
    return ohm * farad * math.log(1.0 / (1.0 - reached))


def heat_j(volts: float, farad: float, reached: float = REACHED) -> float:
    """Heat in the resistor, whatever its ohms [J]."""
    return 0.5 * farad * volts**2 * (1.0 - (1.0 - reached) ** 2)


def bank_j(volts: float, farad: float) -> float:
    """Energy of a bank [J]."""
    return 0.5 * farad * volts**2


def settles_v(volts: float, ohm: float, standing_w: float = 0.0, wakes_v: float = 20.0, bleeder_ohm: float = math.inf) -> float:
    """Where the bank ends behind a resistor with loads on it [V]; a converter that wakes between its two roots only.

    Source: V R_l/(R + R_l); [V + sqrt(V^2 - 4 R P)]/2.
    """
    open_v = volts * bleeder_ohm / (ohm + bleeder_ohm) if math.isfinite(bleeder_ohm) else volts
    source_ohm = ohm * bleeder_ohm / (ohm + bleeder_ohm) if math.isfinite(bleeder_ohm) else ohm
    if standing_w <= 0.0:
        return open_v
    square = open_v**2 - 4.0 * source_ohm * standing_w
    if square < 0.0:
        return min(wakes_v, open_v)
    high, low = 0.5 * (open_v + math.sqrt(square)), 0.5 * (open_v - math.sqrt(square))
    return high if low <= wakes_v <= high else min(wakes_v, open_v)


def inrush(volts: float, ohm: float, henry: float, farad: float) -> tuple[float, float, float]:
    """(peak current [A], its time [s], highest volts of the bank) of closing on an empty bank."""
    a, w0 = ohm / (2.0 * henry), 1.0 / math.sqrt(henry * farad)
    if a < w0:
        wd = math.sqrt(w0 * w0 - a * a)
        t = math.atan(wd / a) / wd if a > 0.0 else 0.5 * math.pi / wd
        return volts / (wd * henry) * math.exp(-a * t) * math.sin(wd * t), t, volts * (1.0 + math.exp(-a * math.pi / wd))
    s = math.sqrt(max(a * a - w0 * w0, 1e-12))
    t = math.atanh(min(s / a, 1.0 - 1e-15)) / s
    # exp(-a t) sinh(s t), written so that neither overflows
    return volts / (s * henry) * 0.5 * (math.exp((s - a) * t) - math.exp(-(s + a) * t)), t, volts


def first_touch(volts: float, ohm: float, travel_s: float, farad: float, loop_ohm: float) -> tuple[float, float]:
    """(charged share, bound of the rest's inrush [A]) of a plug whose first touch goes through a resistor."""
    left = math.exp(-travel_s / (ohm * farad))
    return 1.0 - left, left * volts / loop_ohm


def bleeds_s(ohm: float, farad: float, from_v: float, to_v: float = TOUCH_V) -> float:
    """Until a bank is down [s]."""
    return ohm * farad * math.log(from_v / to_v) if from_v > to_v else 0.0


def release_s(henry: float, ohm: float, held_a: float, drops_a: float, clamp_v: float) -> float:
    """Release time of a coil through its diode, and clamp [s]."""
    return henry / ohm * math.log((held_a + clamp_v / ohm) / (drops_a + clamp_v / ohm))


def hold_w(volts: float, ohm: float, duty: float = 1.0) -> float:
    """What a coil takes [W]; with an economiser it goes with the square of its duty."""
    return (duty * volts) ** 2 / ohm


def arc_gap_mm(volts: float) -> float:
    """Gap that an arc still bridges at heavy current [mm], low confidence."""
    return max(volts - ARC_V, 0.0) / ARC_V_PER_MM


def arc_j(amps: float, henry: float, volts: float, arc_v: float) -> float:
    """Heat of breaking a current [J]; the arc's volts must exceed the source's."""
    return 0.5 * henry * amps**2 * arc_v / (arc_v - volts) if arc_v > volts else math.inf
