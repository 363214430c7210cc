"""The pack of a variant: all that its bench, its findings and `wattagon pack` show."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Battery, Design, GoalKind
from wattagon.physics import pack as packs
from wattagon.physics.bricks import MATCHED_V, Emptied, run_down
from wattagon.physics.ride.names import Stat
from wattagon.physics.wiring.short import equivalent_a
from wattagon.physics.wiring.strip import FREE_W_M2K, WRAPPED_W_M2K, strip_a, strip_c
from wattagon.record import record
from wattagon.study.drive.goals import CYCLES
from wattagon.study.drive.study import DriveStudy
from wattagon.study.pack.charging import Charged, charged
from wattagon.study.pack.checks import Checked, Trend, judge, trend
from wattagon.study.pack.others import KG_PER_L, Other, others
from wattagon.study.pack.rungs import Rung, Volts, rungs_of, volts_of
from wattagon.study.pack.schools import Guarded, guarded
from wattagon.study.resolve import Bricks, Input, Resolved, board_of, bricks_told
from wattagon.study.ride.profiles import WINDOWS_S, Profile, longest_above, strongest_in

CELL_TAU_S = 60.0  # a cell's middle: minutes; taken short, on the careful side
BURST_S = 10.0
CYCLES_A_YEAR = 60.0
YEAR_SHARE = 0.025  # of the capacity at 25 C
COLD_C = 0.0
RISE_K = 30.0
CELL_J_KGK = 1000.0


@record(frozen=True, slots=True, kw_only=True)
class Life:
    """How long it lasts: rough, within a factor of two."""

    cycles: float  # full ones, to 80 % of the capacity
    years: float
    a_year: float  # share of the capacity that a year takes
    per_cell_v: float  # it is charged below full


@record(frozen=True, slots=True, kw_only=True)
class Ridden:
    """What the rides ask of the cells."""

    lasting_a: float  # equivalent current of the worst
    lasting_run: str
    peak_a: float
    peak_run: str
    windows: tuple[tuple[float, float], ...]  # (seconds, largest RMS pack amps over them)
    above_s: float  # longest unbroken time above the lasting rating
    hottest_c: float
    charge_a: float


@record(frozen=True, slots=True, kw_only=True)
class Links:
    """The strips between two groups."""

    amps: float  # that flow at the worst equivalent current
    bears_a: float
    air_c: float
    temperature_c: float
    told: bool


@record(frozen=True, slots=True, kw_only=True)
class PackStudy:
    """All of one variant's pack."""

    design: Design
    resolved: Resolved
    battery: Battery
    bricks: Bricks | None
    emptied: Emptied | None  # of unequal bricks, at the lasting current
    volts: Volts
    rungs: tuple[Rung, ...]
    profiles: tuple[Profile, ...]
    ridden: Ridden | None
    guarded: Guarded | None
    charged: Charged
    checks: tuple[Checked, ...]  # in the order of their days
    trend: Trend | None
    life: Life
    links: Links | None
    others: tuple[Other, ...]
    asked_a: float  # that all controllers together may draw
    sustained_a: float  # whole discharge, 30 K
    cold_share: float  # resistance at freezing over that now
    range_m: float
    inputs: Mapping[str, Input]

    @property
    def energy_wh(self) -> float:
        """Chemical, of the whole charge."""
        return float(self.resolved.train.pack.chemical_wh())

    @property
    def usable_wh(self) -> float:
        """Chemical, inside the window."""
        top, bottom = self.resolved.window
        return float(self.resolved.train.pack.chemical_wh(top, bottom))

    @property
    def litres(self) -> float:
        """Volume of the assembled pack, typical of its chemistry."""
        return self.resolved.pack_kg / KG_PER_L[self.resolved.train.pack.chemistry]

    @property
    def per_kwh(self) -> float:
        """Price of a kilowatt hour of the window."""
        return self.resolved.pack_price / (self.usable_wh / 1000.0)

    @property
    def groups(self) -> int:
        return int(self.resolved.train.pack.series)

    @property
    def outlier(self) -> int | None:
        """The group that the last check marks, from 0; None without."""
        last = self.checks[-1] if self.checks else None
        return last.outlier if last is not None and len(last.check.volts) == self.groups else None

    @property
    def shares(self) -> list[list[float]]:
        """Current of each brick at the asked current; of a pack of one kind its own."""
        if self.bricks is None:
            return [[self.asked_a]]
        return self.bricks.assembly.currents(self.asked_a, [[0.5] * len(row) for row in self.bricks.assembly.rows])


def study_pack(
    design: Design, stock: Catalogue, drive: DriveStudy, profiles: Sequence[Profile] = (), last: PackStudy | None = None
) -> PackStudy:
    """Of the active variant; `profiles` are its rides, without them nothing is said of what they ask.

    `last` lends what takes long, for a drawing that follows a hand: charging, other chemistries, rides.
    """
    if last is not None:
        return _following(design, stock, drive, last)
    resolved = drive.resolved
    pack, battery = resolved.train.pack, resolved.variant.battery or Battery()
    bricks = bricks_told(resolved.variant, stock)
    asked = float(resolved.train.count) * float(resolved.train.controller.battery_current_a)
    lowest = min((one.lowest_v for one in profiles), default=math.nan)
    highest = max((one.highest_v for one in profiles), default=math.nan)
    volts = volts_of(resolved, lowest, highest)
    board = board_of(resolved.variant, stock)
    range_m = _range(drive)
    cell = resolved.cell_part
    each_kg = cell.mass_kg / (cell.brick_series * cell.brick_parallel)
    cell_dc = float(pack.cell_r0_ohm + pack.cell_r1_ohm)
    checks = tuple(found for check in sorted(battery.checks, key=lambda c: c.date) if (found := judge(check, pack.chemistry)) is not None)
    ridden = _ridden(resolved, profiles) if profiles else None
    lasting = ridden.lasting_a if ridden is not None else min(asked, float(pack.continuous_a))
    return PackStudy(
        design=design,
        resolved=resolved,
        battery=battery,
        bricks=bricks,
        emptied=_emptied(bricks, pack, lasting, resolved.window[1]),
        volts=volts,
        rungs=rungs_of(resolved, stock, volts),
        profiles=tuple(profiles),
        ridden=ridden,
        guarded=guarded(resolved, board, profiles, checks[-1].spread_charge if checks else 0.03) if board is not None else None,
        charged=charged(resolved, stock, range_m),
        checks=checks,
        trend=trend(battery.checks),
        life=_life(resolved, battery),
        links=_links(resolved, battery, lasting),
        others=others(resolved, stock, asked),
        asked_a=asked,
        sustained_a=float(pack.parallel) * packs.sustained_current_a(RISE_K, each_kg, float(pack.cell_ah), cell_dc, CELL_J_KGK),
        cold_share=float(packs.warm_resistance(1.0, COLD_C) / packs.warm_resistance(1.0, pack.temperature_c)),
        range_m=range_m,
        inputs=resolved.inputs,
    )


def _following(design: Design, stock: Catalogue, drive: DriveStudy, last: PackStudy) -> PackStudy:
    """What can be told at once of another design; the rest is of the last one."""
    resolved = drive.resolved
    battery = resolved.variant.battery or Battery()
    volts = volts_of(resolved, last.volts.worst, last.volts.highest)
    judged = (judge(check, resolved.train.pack.chemistry) for check in sorted(battery.checks, key=lambda c: c.date))
    return replace(
        last,
        design=design,
        resolved=resolved,
        battery=battery,
        bricks=bricks_told(resolved.variant, stock),
        volts=volts,
        rungs=rungs_of(resolved, stock, volts),
        checks=tuple(found for found in judged if found is not None),
        trend=trend(battery.checks),
        life=_life(resolved, battery),
        asked_a=float(resolved.train.count) * float(resolved.train.controller.battery_current_a),
        inputs=resolved.inputs,
    )


def _range(drive: DriveStudy) -> float:
    """Range of the first goal that has one [m]; nan without."""
    for result in drive.goals:
        if result.goal.kind is GoalKind.RANGE:
            return float(result.reached)
    return math.nan


def _ridden(resolved: Resolved, profiles: Sequence[Profile]) -> Ridden:
    lasting, of, peak, peak_of = 0.0, "", 0.0, ""
    rating, above, hottest, into = float(resolved.train.pack.continuous_a), 0.0, -math.inf, 0.0
    windows = dict.fromkeys(WINDOWS_S, 0.0)
    for one in profiles:
        out = np.abs(one.pack_a)
        amps, _ = equivalent_a(one.seconds, out, CELL_TAU_S)
        if amps > lasting:
            lasting, of = amps, one.name
        if one.peak_a > peak:
            peak, peak_of = one.peak_a, one.name
        for window in windows:
            windows[window] = max(windows[window], strongest_in(one.seconds, out, window))
        if math.isfinite(rating):
            above = max(above, longest_above(one.seconds, out, rating * 1.001))
        hottest = max(hottest, one.ride.run.stat(Stat.PACK_T))
        into = max(into, one.charge_a)
    return Ridden(
        lasting_a=lasting,
        lasting_run=of,
        peak_a=peak,
        peak_run=peak_of,
        windows=tuple(windows.items()),
        above_s=above,
        hottest_c=hottest,
        charge_a=into if into > 0.05 else 0.0,
    )


def _emptied(bricks: Bricks | None, pack: packs.Pack, amps: float, bottom: float) -> Emptied | None:
    if bricks is None or bricks.trouble:
        return None
    full = tuple(tuple(replace(brick, charge=1.0) for brick in row) for row in bricks.assembly.rows)
    if not math.isfinite(amps) or amps <= 0.0:
        amps = float(pack.capacity_ah)
    return run_down(replace(bricks.assembly, rows=full), amps, packs.LOADED_CUTOFF_V[pack.chemistry], bottom)


def _life(resolved: Resolved, battery: Battery) -> Life:
    pack, (top, _) = resolved.train.pack, resolved.window
    chemistry = pack.chemistry
    below = packs.CHARGE_LIMIT_V[chemistry] - min(float(packs.rest_volts(chemistry, top)), packs.CHARGE_LIMIT_V[chemistry])
    own = packs.CHARGE_LIMIT_V[chemistry] - float(packs.rest_volts(chemistry, 1.0))  # a full cell rests under its limit anyway
    below = max(below - own, 0.0)
    cycles = CYCLES[chemistry] * 2.0 ** (below / 0.1)
    a_year = battery.cycles_a_year if battery.cycles_a_year is not None else CYCLES_A_YEAR
    year = 0.2 * a_year / cycles + YEAR_SHARE
    return Life(cycles=cycles, years=0.2 / year, a_year=year, per_cell_v=below)


def _links(resolved: Resolved, battery: Battery, amps: float) -> Links | None:
    """Strips between groups: in series they carry the whole group's current, shared by those side by side."""
    told = battery.links
    if told is None or not math.isfinite(amps):
        return None
    beside = (told.beside if told.beside is not None else int(resolved.train.pack.parallel)) * told.layers
    film = WRAPPED_W_M2K if told.wrapped else FREE_W_M2K
    each = amps / beside
    air = float(resolved.train.pack.temperature_c)
    return Links(
        amps=amps,
        bears_a=beside * strip_a(told.metal, told.width, told.thickness, air_c=air, film=film),
        air_c=air,
        temperature_c=strip_c(told.metal, told.width, told.thickness, each, air, film),
        told=True,
    )


def brick_trouble(found: PackStudy) -> str:
    """What is wrong with joining the bricks as they rest; empty where nothing is."""
    bricks = found.bricks
    if bricks is None or bricks.trouble:
        return bricks.trouble if bricks is not None else ""
    apart = bricks.assembly.unlike_v()
    if apart > MATCHED_V:
        flows = f"{bricks.assembly.joining_a():.0f} A flow when joined"
        return f"they rest {1e3 * apart:.0f} mV a cell apart, {1e3 * MATCHED_V:.0f} mV at most; {flows}"
    return ""
