"""Cell checks: spread, outlier, trend, charge told from rest volts, and when the next is due."""

from __future__ import annotations

import datetime
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.paths import Edit
from wattagon.design.tree import Battery, BuildPart, CellCheck, Design, Entry, EntryKind
from wattagon.errors import InputError
from wattagon.physics import pack as packs
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.history.study import fresh_id, version_of

GOOD_V, FAIR_V, SOON_V = 0.010, 0.030, 0.050
# the same as charge, by the slope of nickel and cobalt cells in the middle: for iron cells away from the top
SLOPE_V = 0.8
FLAT = ("lfp",)
LOW_CHARGE = 0.10
DUE_DAYS = {"board": 90, "none": 30, "": 60}
TREND_V = 0.001  # a month: from there an outlier is on its way
OUTLIER = 3.0  # times the usual distance from the middle, and at least GOOD_V


@record(frozen=True, slots=True, kw_only=True)
class Checked:
    """What one check says."""

    check: CellCheck
    lowest: int  # group, from 0
    highest: int
    spread_v: float
    spread_charge: float
    charge: float  # of the middle cell, from its rest volts
    lowest_charge: float
    outlier: int | None
    status: Status
    verdict: str


def judge(check: CellCheck, chemistry: str) -> Checked | None:
    """One check by the bounds of its chemistry; None where no volts were read."""
    volts = np.asarray(check.volts, dtype=float)
    if volts.size == 0:
        return None
    low, high = int(np.argmin(volts)), int(np.argmax(volts))
    spread, middle = float(volts[high] - volts[low]), float(np.median(volts))
    charge, least, most = (float(packs.charge_at(chemistry, v)) for v in (middle, volts[low], volts[high]))
    outlier = _outlier(volts)
    status, words = _verdict(chemistry, check.full, spread, most - least)
    limit, dead, floor = packs.CHARGE_LIMIT_V[chemistry], packs.DEAD_V, packs.ABSOLUTE_CUTOFF_V[chemistry]
    if chemistry != "lead" and volts[low] < dead:
        status, words = Status.OVER, f"group {low + 1} is under {dead:g} V: finished, outdoors with it, then to the recycler"
    elif volts[high] > limit + 0.02:
        status, words = Status.OVER, f"group {high + 1} is over its charge limit of {limit:.2f} V"
    elif volts[low] < floor:
        status, words = Status.OVER, f"group {low + 1} is under {floor:g} V, below what these cells bear"
    elif least < LOW_CHARGE:
        nearly = f"group {low + 1} at {volts[low]:.3f} V is nearly empty, {least:.0%} left"
        even = ", however even the cells are" if spread <= GOOD_V else f"; {words}"
        status, words = max(status, Status.TIGHT, key=_rank), f"{nearly}{even}: charge it"
    elif chemistry in FLAT and not check.full and 0.1 < charge < 0.9:
        words += "; iron cells tell more at the top of charge"
    return Checked(
        check=check,
        lowest=low,
        highest=high,
        spread_v=spread,
        spread_charge=most - least,
        charge=charge,
        lowest_charge=least,
        outlier=outlier,
        status=status,
        verdict=words,
    )


def _rank(status: Status) -> int:
    return {Status.CLEAR: 0, Status.NOT_CHECKED: 1, Status.TIGHT: 2, Status.OVER: 3}[status]


def _verdict(chemistry: str, full: bool, spread: float, charge: float) -> tuple[Status, str]:
    """By millivolts; of iron cells away from the top by the charge that they stand for."""
    said = f"{1e3 * spread:.0f} mV apart"
    worth = spread
    if chemistry in FLAT and not full:
        worth = charge * SLOPE_V
        said += f", which is {charge:.0%} of charge here"
    if worth <= GOOD_V:
        return Status.CLEAR, f"{said}: good"
    if worth <= FAIR_V:
        return Status.CLEAR, f"{said}: acceptable"
    if worth <= SOON_V:
        return Status.TIGHT, f"{said}: balance soon"
    return Status.OVER, f"{said}: stop, find the cause"


def _outlier(volts: np.ndarray) -> int | None:
    """The group that stands away from the others, if one does."""
    if volts.size < 3:
        return None
    away = np.abs(volts - np.median(volts))
    far = int(np.argmax(away))
    usual = float(np.median(np.delete(away, far)))
    return far if away[far] >= max(GOOD_V, OUTLIER * usual) else None


@record(frozen=True, slots=True, kw_only=True)
class Trend:
    """How the spread, and each group against the middle, goes over the checks."""

    spread_v_month: float
    group: int  # that goes away from the middle the fastest
    group_v_month: float
    checks: int


def trend(checks: Sequence[CellCheck]) -> Trend | None:
    """By straight lines over the days of checks with as many groups as the last; None under three, or all of a day."""
    known = sorted((c for c in checks if c.volts), key=lambda c: c.date)
    if not known:
        return None
    known = [c for c in known if len(c.volts) == len(known[-1].volts)]
    days = np.array([datetime.date.fromisoformat(c.date).toordinal() for c in known], dtype=float)
    if len(known) < 3 or days[-1] - days[0] < 1.0:
        return None
    volts = np.array([c.volts for c in known])
    away = volts - np.median(volts, axis=1, keepdims=True)
    x = (days - days.mean()) / 30.44
    slope = lambda y: float(np.sum(x * (y - y.mean())) / np.sum(x * x))
    groups = [slope(away[:, k]) for k in range(away.shape[1])]
    far = max(range(len(groups)), key=lambda k: abs(groups[k]))
    return Trend(spread_v_month=slope(volts.max(axis=1) - volts.min(axis=1)), group=far, group_v_month=groups[far], checks=len(known))


def due(checks: Sequence[CellCheck], school: str, every_days: int | None) -> tuple[int, datetime.date | None]:
    """(days between checks, day of the next); None where none was ever made."""
    days = every_days if every_days is not None else DUE_DAYS[school]
    dates = [datetime.date.fromisoformat(c.date) for c in checks if c.volts]
    return days, max(dates) + datetime.timedelta(days=days) if dates else None


def read_volts(text: str) -> tuple[float, ...]:
    """Volts out of typed or pasted text, in order: with or without unit, mV by their size, group numbers before a colon left out.

    A comma between digits is a decimal one, elsewhere it separates.  Raises InputError for what is no number, or out of 0 to 5 V.
    """
    made: list[float] = []
    for raw in text.replace(";", " ").split():
        piece = raw.rpartition(":")[2].rpartition("=")[2].strip(",")
        if not piece or piece.lower() in ("v", "mv"):
            continue
        bare = piece.lower().removesuffix("v").removesuffix("m")
        parts = [bare.replace(",", ".")] if bare.count(",") == 1 and "." not in bare else bare.split(",")
        for part in parts:
            try:
                value = float(part)
            except ValueError:
                raise InputError("cell volts", repr(raw), "volts such as 3.842, one for each group") from None
            volts = value / 1000.0 if value > 100.0 else value
            if not 0.0 <= volts <= 5.0:  # refuses nan too
                raise InputError("cell volts", f"{value:g}", "0 to 5 V for each group")
            made.append(volts)
    return tuple(made)


def recorded(design: Design, check: CellCheck) -> Edit:
    """The edit that keeps a check with its pack, in the order of days, and writes it into the history."""
    variant = design.variant()
    battery = variant.battery or Battery()
    kept = tuple(sorted((*battery.checks, check), key=lambda one: one.date))
    low, high = min(check.volts), max(check.volts)
    text = f"Cell check: {len(check.volts)} groups, {low:.3f} to {high:.3f} V, {1e3 * (high - low):.0f} mV apart"
    entry = Entry(
        id=fresh_id(design.history),
        date=check.date,
        kind=EntryKind.CELL_CHECK,
        text=text,
        variant=variant.id,
        version=version_of(variant),
        on=(BuildPart.PACK,),
    )
    changes = (("variant.battery", replace(battery, checks=kept)), ("history", (*design.history, entry)))
    return Edit(label=f"cell check of {check.date}", changes=changes)
