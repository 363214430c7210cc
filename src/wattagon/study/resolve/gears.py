"""Through the bike's own gears: the crank drives the ring, its chain the cogs.  The gear in use is one more stage of the reduction."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import HubPart, ProfilePart
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Gears, ReductionKind, StageChoice, Variant
from wattagon.record import record
from wattagon.study.resolve.reader import Reader

CHAIN_EFFICIENCY = 0.95  # derailleur; straight chains 0.97
PITCH_M = 0.0127  # of a bicycle chain
RIDER_NM = 60.0  # at the crank, a strong push
CHAIN_BREAKING_N = 8000.0  # of a new bicycle chain, typical
BIKE_CHAIN_SECONDS = 3.0  # share of its breaking load for seconds, a seventh for good
HUB_NM = 250.0  # hub body, cassette and pawls, typical


@record(frozen=True, slots=True, kw_only=True)
class BikeRatings:
    """What a bike's own chain breaks at [N] and its hub bears [N m], and whether the hub's is only typical."""

    chain_n: float
    hub_nm: float
    hub_name: str  # empty: the bike's own, typical


def bike_ratings(read: Reader, base: str, gears: Gears, stock: Catalogue) -> BikeRatings:
    """Ratings of the bike's own chain and hub.  Raises PathError for parts that stock does not have."""
    chain = stock.get(ProfilePart, gears.profile).breaking_n
    told = read.keep(f"stock.{gears.profile}.breaking_n", chain or CHAIN_BREAKING_N, Known.STATED if chain else Known.ASSUMED, "force")
    hub = stock.get(HubPart, gears.hub) if gears.hub else None
    if hub is None:
        return BikeRatings(chain_n=told, hub_nm=read.keep(f"{base}.gears.hub_nm", HUB_NM, Known.ASSUMED, "torque"), hub_name="")
    return BikeRatings(
        chain_n=told, hub_nm=read.keep(f"stock.{hub.id}.torque_nm", hub.torque_nm, Known.STATED, "torque"), hub_name=hub.name
    )


def crank_most_nm(gears: Gears, bike: BikeRatings) -> float:
    """What a motor may give at the crank for seconds beside a rider [N m]: by the bike's chain, by its hub in the lowest gear."""
    efficiency = gears.efficiency.value if gears.efficiency is not None else CHAIN_EFFICIENCY
    by_chain = bike.chain_n / BIKE_CHAIN_SECONDS * gears.ring * PITCH_M / math.tau
    return min(by_chain, bike.hub_nm * gears.ring / (gears.cogs[0] * efficiency)) - RIDER_NM


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
