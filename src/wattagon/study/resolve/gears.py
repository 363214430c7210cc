"""Through the bike's own gears: the crank drives the ring, its chain the cogs.  The gear in use is one more stage of the reduction."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Gears, ReductionKind, StageChoice, Variant

CHAIN_EFFICIENCY = 0.95  # derailleur; straight chains 0.97
RIDER_NM = 60.0  # at the crank, a strong push


def geared(variant: Variant, gear: int) -> Variant:
    """The variant with the bike's own chain in a gear (1: the largest cog) as its last stage; itself without gears."""
    gears = variant.gears
    if gears is None:
        return variant
    last = StageChoice(
        kind=ReductionKind.CHAIN,
        profile=gears.profile,
        driver_teeth=gears.ring,
        driven_teeth=gears.cogs[gear - 1],
        efficiency=gears.efficiency or Quantity(value=CHAIN_EFFICIENCY, known=Known.ASSUMED),
        drag=Quantity(value=0.0, known=Known.COMPUTED),
        freewheel=gears.hub_freewheel,
        shared=True,
    )
    return replace(variant, stages=(*variant.stages, last))


def development_m(gears: Gears, gear: int, wheel_radius_m: float) -> float:
    """Metres for a turn of the crank: pi D ring/cog."""
    return math.tau * wheel_radius_m * gears.ring / gears.cogs[gear - 1]


def cadence_rpm(gears: Gears, gear: int, wheel_radius_m: float, speed_m_s: float) -> float:
    """Turns of the crank a minute at a speed."""
    return 60.0 * speed_m_s / development_m(gears, gear, wheel_radius_m)


def ridden_gear(gears: Gears, wheel_radius_m: float, speed_m_s: float) -> int:
    """The gear that is shifted into at a speed: the highest that keeps the cadence at or above its window's lower end."""
    fit = [k for k in range(1, len(gears.cogs) + 1) if cadence_rpm(gears, k, wheel_radius_m, speed_m_s) >= gears.cadence_low]
    return max(fit, default=1)
