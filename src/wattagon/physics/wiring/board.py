"""Protection boards, and a bus whose pack has gone: trips, what regeneration lifts the bus to, bleeding off a spread."""

from __future__ import annotations

import math

DIODE_V = 0.8
IDLE_V = 1.6  # two diodes of an idle bridge
TRIP_SHARE = 0.8  # of the trip's amps: above it every stretch must be shorter than its delay


def lifted_s(full_v: float, to_v: float, farad: float, watts: float) -> float:
    """Until a bank alone is lifted by constant power [s]."""
    return farad * (to_v**2 - full_v**2) / (2.0 * watts)


def lifted_by_amps_s(full_v: float, to_v: float, farad: float, amps: float) -> float:
    """The same by a constant current."""
    return farad * (to_v - full_v) / amps


def dumped_v(bus_v: float, henry: float, dc_amps: float, farad: float) -> float:
    """Bus after the winding's field has gone into the bank [V]."""
    return math.sqrt(bus_v**2 + henry * dc_amps**2 / farad)


def idle_bridge_v(k: float, speed_rad_s: float) -> float:
    """What a spinning motor's diodes bring the bus to [V], as a mere rectifier; below 0 they do not conduct."""
    return k * speed_rad_s - IDLE_V


def diode_w(amps: float) -> float:
    """Heat of discharging past a charge switch that is off [W]."""
    return DIODE_V * amps


def bleed_h(spread: float, capacity_ah: float, balance_a: float) -> float:
    """Hours until a spread of charge is bled off near full."""
    return spread * capacity_ah / balance_a


def board_w(ohm: float, amps: float) -> float:
    return ohm * amps**2
