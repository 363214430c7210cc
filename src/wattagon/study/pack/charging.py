"""Charging: how long, how much from the wall, what it costs, and what limits the amps."""

from __future__ import annotations

import math

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import ChargerPart
from wattagon.design.tree import Charging
from wattagon.physics import pack as packs
from wattagon.record import record
from wattagon.study.resolve import Resolved, board_of, bricks_told

USUAL_EFFICIENCY = 0.88
END_SHARE = 0.05  # of the capacity an hour: where the taper ends
STEPS = 400  # of a whole charge
TAIL = 1.5  # a real tail is so much longer than the two-resistance one
BALANCE_LEAD_A = 3.0
PLUG_SHARE = 0.8


@record(frozen=True, slots=True, kw_only=True)
class Limit:
    """One bound of the charging amps."""

    name: str
    amps: float


@record(frozen=True, slots=True, kw_only=True)
class Charged:
    """One charge from the bottom of the window."""

    charger: ChargerPart | None
    volts: float
    amps: float
    limits: tuple[Limit, ...]  # the least first
    bulk_s: float
    taper_s: float
    to_80_s: float
    full_s: float
    storage_s: float  # from the bottom up to storage; 0 where it rests above
    wall_wh: float
    cost: float
    cost_per_100km: float  # nan without a range
    turns: int  # how often the charger is plugged in where bricks are charged apart
    coldest_c: float
    reaches: float  # charge at the end

    @property
    def least(self) -> Limit:
        return self.limits[0]


def charger_for(volts: float, amps: float, stock: Catalogue) -> ChargerPart | None:
    """The cheapest of stock that ends at the pack's volts; within the amps that it bears if one is."""
    fits = [
        c
        for c in stock.all(ChargerPart)
        if abs(c.volts / volts - 1.0) <= 0.005 or (c.volts_low is not None and c.volts_low <= volts <= c.volts)
    ]
    fits = [c for c in fits if not c.balances] or fits
    under = [c for c in fits if c.amps <= amps * 1.001]
    return max(under, key=lambda c: (c.amps, -c.price)) if under else min(fits, key=lambda c: c.amps, default=None)


def charged(resolved: Resolved, stock: Catalogue, range_m: float = math.nan) -> Charged:
    """By the told charger, or by one of stock that fits; from the lower end of the window to where it is charged to."""
    variant, pack = resolved.variant, resolved.train.pack
    told = (variant.battery.charging if variant.battery is not None else None) or Charging()
    bricks = bricks_told(variant, stock)
    apart = not told.together and bricks is not None and not bricks.trouble
    series, capacity = float(pack.series), float(pack.capacity_ah)
    turns = 1
    if apart and bricks is not None:
        turns = len(bricks.flat)
        series = float(bricks.flat[0][2].series)
        capacity = max(brick.capacity_ah for _, _, brick in bricks.flat)
    limit_v = packs.CHARGE_LIMIT_V[pack.chemistry]
    wanted_v = told.volts.value * (series / float(pack.series)) if told.volts is not None else series * limit_v
    cells_a = packs.CHARGE_C[pack.chemistry] * capacity
    charger = stock.get(ChargerPart, told.charger) if told.charger else charger_for(wanted_v, cells_a, stock)
    limits = [Limit(name="cells", amps=cells_a)]
    if charger is not None:
        power = charger.most_w / wanted_v if charger.most_w is not None else math.inf
        limits.append(Limit(name="charger", amps=min(charger.amps, power)))
        if told.by_balance_leads:
            lead = told.lead_a.value if told.lead_a is not None else BALANCE_LEAD_A
            limits.append(Limit(name="balance leads", amps=lead))
    board = board_of(variant, stock)
    if board is not None and board.charge_a is not None and not apart:
        limits.append(Limit(name="board", amps=board.charge_a))
    amps = told.amps.value if told.amps is not None else min(one.amps for one in limits)
    ends_v = wanted_v
    if charger is not None:
        low = charger.volts_low if charger.volts_low is not None else charger.volts
        ends_v = min(max(wanted_v, low), charger.volts)
    block = packs.Pack(
        chemistry=pack.chemistry,
        series=series,
        parallel=1.0,
        cell_ah=capacity,
        cell_r0_ohm=float(pack.cell_r0_ohm) / float(pack.parallel),
        cell_r1_ohm=float(pack.cell_r1_ohm) / float(pack.parallel),
        temperature_c=pack.temperature_c,
    )
    top, bottom = resolved.window
    stop = END_SHARE * capacity
    per_cell = ends_v / series
    done = packs.charge_run(block, bottom, amps, per_cell, min(stop, 0.5 * amps), step_s=3600.0 * capacity / amps / STEPS)
    taper = TAIL * done.constant_voltage_s
    efficiency = charger.efficiency if charger is not None else USUAL_EFFICIENCY
    wall = turns * done.energy_in_wh / efficiency
    share = (done.end_charge - bottom) or 1.0
    cost = wall / 1000.0 * resolved.energy_price
    per_100 = cost / (range_m / 1e5) * ((top - bottom) / share) if range_m > 0.0 and math.isfinite(range_m) else math.nan
    return Charged(
        charger=charger,
        volts=ends_v,
        amps=amps,
        limits=tuple(sorted(limits, key=lambda one: one.amps)),
        bulk_s=turns * done.constant_current_s,
        taper_s=turns * taper,
        to_80_s=turns * _until(block, bottom, 0.80, amps, per_cell),
        full_s=turns * (done.constant_current_s + taper),
        storage_s=turns * _until(block, bottom, float(packs.charge_at(pack.chemistry, packs.STORAGE_V[pack.chemistry])), amps, per_cell),
        wall_wh=wall,
        cost=cost,
        cost_per_100km=per_100,
        turns=turns,
        coldest_c=packs.COLDEST_CHARGE_C[pack.chemistry],
        reaches=done.end_charge,
    )


def _until(block: packs.Pack, start: float, goal: float, amps: float, limit_v: float) -> float:
    """Seconds from one charge to another by the same charge [s]; inf where it never comes there."""
    if goal <= start:
        return 0.0
    ohm, limit, coulombs = float(block.steady_ohm), float(block.series) * limit_v, 3600.0 * float(block.capacity_ah)
    charge, seconds, step = start, 0.0, coulombs / amps / STEPS
    while charge < goal:
        current = min(amps, (limit - float(block.emf_v(charge))) / ohm)
        if current <= 1e-3 * amps or seconds > 4e5:
            return math.inf
        charge += current * step / coulombs
        seconds += step
    return seconds
