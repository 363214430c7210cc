"""Contacts: their heat leaves along their two cables, which cool like fins.  Constriction and softening volts after Holm."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from wattagon.physics.wiring.copper import LAY, Cable
from wattagon.physics.wiring.short import COPPER_J_M3K, first_order_a
from wattagon.physics.wiring.warmth import Around, ohm_rise, secant_w_mk
from wattagon.record import record

COPPER_W_MK = 390.0
CONTACT_J_KGK = 380.0
WORN = 2.0  # times new: end of life
SOFT_V = 0.070  # across a worn contact
LORENZ = 2.44e-8
CELLS = 80  # of cable, over five end lengths
FAR = 3.0  # end lengths: from there cable counts as endless


@record(frozen=True, slots=True, kw_only=True)
class Contact:
    """One contact pair on its cable."""

    ohm: float  # of the mated pair
    mass_kg: float
    to_air_w_k: float
    cable: Cable
    to_mirror_m: float = math.inf  # cable to halfway to the next equal contact


@record(frozen=True, slots=True, kw_only=True)
class _Fin:
    rise_k: float  # of the cable far away
    end_m: float
    side_w_k: float  # into one cable


def _fin(contact: Contact, around: Around, amps: float, limit_c: float) -> _Fin | None:
    """What the cables take; None where the cable itself runs away."""
    cable = contact.cable
    away = secant_w_mk(cable, around, limit_c) - amps**2 * ohm_rise(cable)
    if away <= 0.0:
        return None
    end = math.sqrt(COPPER_W_MK * cable.area_m2 / away)
    far = contact.to_mirror_m / end
    side = COPPER_W_MK * cable.area_m2 / end * (math.tanh(far) if far < FAR else 1.0)
    return _Fin(rise_k=amps**2 * cable.ohm_at(around.air_c) / away, end_m=end, side_w_k=side)


def end_length_m(contact: Contact, around: Around, limit_c: float = 90.0) -> float:
    """Over which a cable forgets its end [m], without current in the secant."""
    cable = contact.cable
    return math.sqrt(COPPER_W_MK * cable.area_m2 / secant_w_mk(cable, around, limit_c))


def rise_k(contact: Contact, around: Around, amps: float, limit_c: float = 90.0) -> float:
    """Rise of a contact over the air at a lasting current [K]; inf where nothing settles."""
    fin = _fin(contact, around, amps, limit_c)
    if fin is None:
        return math.inf
    return (amps**2 * contact.ohm + 2.0 * fin.side_w_k * fin.rise_k) / (2.0 * fin.side_w_k + contact.to_air_w_k)


def far_rise_k(contact: Contact, around: Around, amps: float, limit_c: float = 90.0) -> float:
    """Rise of its cable far away [K]."""
    fin = _fin(contact, around, amps, limit_c)
    return fin.rise_k if fin is not None else math.inf


def lasting_a(contact: Contact, around: Around, limit_c: float = 90.0) -> float:
    """Lasting current with the contact at its limit [A]."""
    wanted = limit_c - around.air_c
    if wanted <= 0.0:
        return 0.0
    low, high = 0.0, 1.0
    while rise_k(contact, around, high, limit_c) < wanted and high < 1e5:
        low, high = high, 2.0 * high
    for _ in range(45):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if rise_k(contact, around, middle, limit_c) < wanted else (low, middle)
    return 0.5 * (low + high)


def _warming(contact: Contact, around: Around, amps: float, limit_c: float, cells: int = CELLS) -> Callable[[float], float]:
    """Rise of a contact over time from cold [K]: half the contact and a chain of cable, copper only."""
    cable = contact.cable
    secant, alpha_ohm = secant_w_mk(cable, around, limit_c), ohm_rise(cable)
    end = math.sqrt(COPPER_W_MK * cable.area_m2 / max(secant, 1e-6))
    step = min(5.0 * end, contact.to_mirror_m) / cells
    capacity = np.full(cells + 1, COPPER_J_M3K * cable.area_m2 * LAY * step)
    capacity[0] = 0.5 * contact.mass_kg * CONTACT_J_KGK
    along = COPPER_W_MK * cable.area_m2 / step
    away = np.zeros((cells + 1, cells + 1))
    for k in range(cells):
        g = along if k else 2.0 * along  # the contact stands at the end of its first cell
        away[k, k] += g
        away[k + 1, k + 1] += g
        away[k, k + 1] -= g
        away[k + 1, k] -= g
    rest = np.full(cells + 1, (secant - amps**2 * alpha_ohm) * step)
    rest[0] = 0.5 * contact.to_air_w_k
    away[np.diag_indices(cells + 1)] += rest
    heat = np.full(cells + 1, amps**2 * cable.ohm_at(around.air_c) * step)
    heat[0] = 0.5 * amps**2 * contact.ohm
    root = np.sqrt(capacity)
    rates, ways = np.linalg.eigh(-away / np.outer(root, root))
    slow = np.abs(rates) <= 1e-12
    safe = np.where(slow, 1.0, rates)
    weights = ways[0] / root[0] * (ways.T @ (heat / root))

    def after(seconds: float) -> float:
        grown = np.where(slow, seconds, np.expm1(np.minimum(rates * seconds, 600.0)) / safe)
        return float(weights @ grown)

    return after


def short_by_heat_a(contact: Contact, around: Around, seconds: float, limit_c: float = 90.0, cells: int = CELLS) -> float:
    """Current from cold that brings the contact to its limit in a time [A]; 5 to 15 % on the careful side."""
    wanted = limit_c - around.air_c
    amps = max(lasting_a(contact, around, limit_c), 0.1)
    for _ in range(40):  # the rise goes nearly with the square of the current
        better = amps * math.sqrt(wanted / _warming(contact, around, amps, limit_c, cells)(seconds))
        if abs(better / amps - 1.0) < 1e-5:
            break
        amps = 0.5 * (amps + better) if better > amps else better
    return better


def worn(contact: Contact, share: float = WORN) -> Contact:
    """At the end of its life."""
    return Contact(
        ohm=share * contact.ohm,
        mass_kg=contact.mass_kg,
        to_air_w_k=contact.to_air_w_k,
        cable=contact.cable,
        to_mirror_m=contact.to_mirror_m,
    )


def soft_a(contact: Contact, volts: float = SOFT_V) -> float:
    """Current whose drop softens the spot [A]."""
    return volts / contact.ohm


def short_a(contact: Contact, around: Around, seconds: float, limit_c: float = 90.0, cells: int = CELLS) -> tuple[float, str]:
    """(current for a time from cold, what binds): the contact's heat, its millivolts, or its cable."""
    ways = (
        (short_by_heat_a(contact, around, seconds, limit_c, cells), "contact"),
        (soft_a(contact), "millivolts"),
        (first_order_a(contact.cable, around, seconds, limit_c), "cable"),
    )
    return min(ways)


def time_constant_s(contact: Contact, around: Around, limit_c: float = 90.0, cells: int = CELLS) -> float:
    """Time to 63 % of its end at its lasting current [s]."""
    amps = lasting_a(contact, around, limit_c)
    after = _warming(contact, around, amps, limit_c, cells)
    wanted = (1.0 - math.exp(-1.0)) * after(1e5)
    low, high = 0.0, 4000.0
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if after(middle) < wanted else (low, middle)
    return 0.5 * (low + high)


def constriction_ohm(rho: float, hardness_pa: float, newton: float) -> float:
    """Of a clean contact: (rho/2) sqrt(pi H/F)."""
    return 0.5 * rho * math.sqrt(math.pi * hardness_pa / newton)


def spot_c(bulk_c: float, volts: float) -> float:
    """Hottest spot: T^2 = T_b^2 + V^2/(4 L), kelvin."""
    return math.sqrt((bulk_c + 273.15) ** 2 + volts**2 / (4.0 * LORENZ)) - 273.15
