"""The bus at the controller: ripple of its capacitors, long leads, what a cut current does.  Kolar and Round 2006; circuit theory."""

from __future__ import annotations

import math

from wattagon.physics.wiring.copper import MU0

WORST_RIPPLE = 0.46  # of the motor current's amplitude, near half throttle
CAP_LOAD = 0.8  # of its ripple rating, for hours
RISE_K = 5.0  # of a capacitor at its rated ripple


def sine_ripple_a(amplitude_a: float, modulation: float, cos_phi: float = 1.0) -> float:
    """Ripple current of the bank [A RMS] of a sine bridge; modulation = phase amplitude over half the bus."""
    m = modulation
    inside = 2.0 * m * (math.sqrt(3.0) / (4.0 * math.pi) + cos_phi**2 * (math.sqrt(3.0) / math.pi - 9.0 * m / 16.0))
    return amplitude_a / math.sqrt(2.0) * math.sqrt(max(inside, 0.0))


def block_ripple_a(amps: float, duty: float) -> float:
    """Of block commutation: I sqrt(D (1 - D))."""
    return amps * math.sqrt(max(duty * (1.0 - duty), 0.0))


def pack_share(hertz: float, farad: float, bank_ohm: float, lead_henry: float, lead_ohm: float, bank_henry: float = 0.0) -> float:
    """Share of the ripple that goes through the pack."""
    w = 2.0 * math.pi * hertz
    bank = complex(bank_ohm, w * bank_henry - 1.0 / (w * farad))
    return abs(bank / (bank + complex(lead_ohm, w * lead_henry)))


def resonance_hz(henry: float, farad: float) -> float:
    return 1.0 / (2.0 * math.pi * math.sqrt(henry * farad))


def pair_henry_m(spacing_m: float, conductor_m: float) -> float:
    """Inductance of go and return per metre of route, uniform current: the upper value."""
    return MU0 / math.pi * (math.log(2.0 * spacing_m / conductor_m) + 0.25)


def pair_skin_henry_m(spacing_m: float, conductor_m: float) -> float:
    """The same with the current on the skin."""
    return MU0 / math.pi * math.acosh(spacing_m / conductor_m)


def cut_peak_v(emf_v: float, amps: float, source_ohm: float, henry: float, farad: float, esr_ohm: float) -> float:
    """Highest bus volts after the bridge stops drawing a current [V]: x'' + (R/L) x' + x/(LC) = 0, bus = E + x + ESR C x'."""
    r = source_ohm + esr_ohm
    x0, v0 = -amps * source_ohm, amps / farad
    a, w2 = r / (2.0 * henry), 1.0 / (henry * farad)
    if a * a < w2:
        wd = math.sqrt(w2 - a * a)
        b = (v0 + a * x0) / wd

        def at(t: float) -> float:
            e, c, s = math.exp(-a * t), math.cos(wd * t), math.sin(wd * t)
            x = e * (x0 * c + b * s)
            slope = e * ((b * wd - a * x0) * c - (x0 * wd + a * b) * s)
            return emf_v + x + esr_ohm * farad * slope

        span = math.pi / wd
    else:
        s = math.sqrt(max(a * a - w2, 1e-12))
        l1, l2 = -a + s, -a - s
        c1 = (v0 - l2 * x0) / (l1 - l2)
        c2 = x0 - c1

        def at(t: float) -> float:
            one, two = c1 * math.exp(l1 * t), c2 * math.exp(l2 * t)
            return emf_v + one + two + esr_ohm * farad * (l1 * one + l2 * two)

        span = 6.0 / max(-l1, 1e-9)
    steps = [span * k / 200.0 for k in range(201)]
    best = max(range(len(steps)), key=lambda k: at(steps[k]))
    low, high = steps[max(best - 1, 0)], steps[min(best + 1, 200)]
    for _ in range(40):
        third = (high - low) / 3.0
        if at(low + third) < at(high - third):
            low += third
        else:
            high -= third
    return at(0.5 * (low + high))


def cut_bound_v(emf_v: float, amps: float, henry: float, farad: float, esr_ohm: float) -> float:
    """Bound without damping: E + I [sqrt(L/C) + ESR]."""
    return emf_v + amps * (math.sqrt(henry / farad) + esr_ohm)


def farad_for(henry: float, amps: float, allowed_v: float) -> float:
    """Capacity that keeps the overshoot in an allowance after its ESR: L (I/dV)^2."""
    return henry * (amps / allowed_v) ** 2


def life_h(rated_h: float, rated_c: float, air_c: float, ripple_share: float) -> float:
    """Life of an electrolytic [h]: doubles for 10 K."""
    return float(rated_h * 2.0 ** ((rated_c - air_c - RISE_K * ripple_share**2) / 10.0))


def capacitors_for(ripple_a: float, each_a: float, load: float = CAP_LOAD) -> int:
    """How many carry a ripple for hours."""
    return math.ceil(ripple_a / (load * each_a))


def lead_rms_a(amplitude_a: float) -> float:
    """RMS of one phase lead, from the amplitude that a controller calls motor amps."""
    return amplitude_a / math.sqrt(2.0)
