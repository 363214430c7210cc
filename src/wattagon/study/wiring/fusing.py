"""The five tests of a fuse, each with its number."""

from __future__ import annotations

import math
from collections.abc import Sequence

from wattagon.design.parts import CablePart, FusePart
from wattagon.physics import pack as packs
from wattagon.physics.wiring import fuse as fuses
from wattagon.physics.wiring.short import Ladder, ladder
from wattagon.physics.wiring.warmth import Around
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.pack.study import PackStudy
from wattagon.study.resolve import Resolved
from wattagon.study.ride.profiles import WINDOWS_S
from wattagon.study.wiring.loads import Branch

DAMAGE_C, SOLDERED_C = 200.0, 160.0
ROOM = 0.10
NEAR_M, FAR_M = 0.2, 0.5  # of the cells


@record(frozen=True, slots=True, kw_only=True)
class Test:
    """One of the five: `share` is what is used of what there is, 1 just holds."""

    code: str
    words: str
    share: float

    @property
    def status(self) -> Status:
        if math.isnan(self.share):
            return Status.NOT_CHECKED
        return Status.CLEAR if self.share <= 1.0 / (1.0 + ROOM) else Status.TIGHT if self.share <= 1.0 + 1e-9 else Status.OVER


@record(frozen=True, slots=True, kw_only=True)
class Fused:
    """A fuse with its tests and the currents that they are about."""

    part: FusePart
    tests: tuple[Test, ...]
    largest_a: float
    smallest_a: float
    lasting_a: float

    @property
    def status(self) -> Status:
        """Of the worst test."""
        order = (Status.OVER, Status.TIGHT, Status.NOT_CHECKED, Status.CLEAR)
        return min((test.status for test in self.tests), key=order.index)


def peaks_of(branch: Branch) -> list[tuple[float, float]]:
    """(amps, seconds) of the strongest stretches of every length."""
    return [(amps, seconds) for seconds, amps in branch.windows if amps > 0.0 and seconds <= max(WINDOWS_S)]


def fused(
    part: FusePart,
    branch: Branch,
    resolved: Resolved,
    pack: PackStudy,
    wiring_ohm: float,
    leads: Sequence[CablePart],
    air_c: float,
    soldered: bool,
    full_v: float,
) -> Fused:
    """The five tests of a fuse; `leads` are the cables that it is to protect, `wiring_ohm` all leads, contacts and the fuse."""
    train = resolved.train
    cells_ohm = float(train.pack.burst_ohm) - float(train.pack.wiring_ohm)
    warm = float(packs.warm_resistance(1.0, train.pack.temperature_c))
    cells_ohm /= warm  # the one-second value at 25 C
    largest, smallest = fuses.short_currents_a(pack.volts.full, pack.volts.empty, cells_ohm, wiring_ohm)
    lasting, _, run = branch.equivalent(10.0)
    carry, peak = fuses.carries(part.times, part.rating_a, lasting, peaks_of(branch), air_c)
    say = lambda amps: f"{amps:.0f} A"
    seconds = lambda s: f"{s:.2g} s" if s < 1.0 else f"{s:.1f} s" if s < 100.0 else f"{s / 60.0:.0f} min"
    k = fuses.warm_share(air_c)
    tests = [
        Test(
            code="carry",
            words=f"carries {fuses.CARRY * k * part.rating_a:.0f} A for long, {lasting:.0f} A flow{f' on “{run}”' if run else ''}"
            + (f"; its peaks take {peak:.0%} of half its earliest time" if peak > 0.0 else ""),
            share=max(carry, peak),
        )
    ]
    thinnest = min(leads, key=lambda one: one.area_mm2, default=None)
    if thinnest is None:
        tests.append(Test(code="protect", words="no lead behind it is told", share=math.nan))
    else:
        damage = min(SOLDERED_C if soldered else DAMAGE_C, thinnest.limit_c + 20.0)
        lead = ladder(thinnest.cable, Around(air_c=air_c, bundle=branch.poles), damage)
        before = min(lasting, 0.95 * float(_steady_limit(lead, damage)))
        ratio, at = fuses.protects(part.times, part.rating_a, lead, before, damage, largest)
        words = (
            f"{thinnest.name}: at {say(at)} the lead "
            + (f"lasts {ratio:.3g} times as long as the fuse" if ratio >= 0.1 else "is burnt long before the fuse opens")
            if math.isfinite(ratio)
            else "no short is so large"
        )
        tests.append(Test(code="protect", words=words, share=1.0 / ratio if ratio > 0.0 else math.inf))
    tests.append(
        Test(
            code="volts",
            words=f"{part.volts:g} V direct, {full_v:.1f} V at most" if part.volts is not None else "its direct volts are not known",
            share=full_v / part.volts if part.volts is not None else math.nan,
        )
    )
    tests.append(
        Test(
            code="break",
            words=f"breaks {part.breaks_a:.0f} A, the largest short gives {largest:.0f} A"
            if part.breaks_a is not None
            else "what it breaks is not known",
            share=largest / part.breaks_a if part.breaks_a is not None else math.nan,
        )
    )
    latest = fuses.clears_s(part.times, smallest / part.rating_a, "latest")
    cleared = "never cleared" if math.isinf(latest) else f"cleared in {seconds(latest)}"
    tests.append(
        Test(
            code="clear",
            words=f"the smallest short, {smallest:.0f} A from cold empty cells, is {cleared}, {fuses.OPENS_BY_S:g} s at most",
            share=latest / fuses.OPENS_BY_S,
        )
    )
    return Fused(part=part, tests=tuple(tests), largest_a=largest, smallest_a=smallest, lasting_a=lasting)


def _steady_limit(lead: Ladder, limit_c: float) -> float:
    """Current at which a ladder settles at its limit [A]."""
    low, high = 0.0, 4000.0
    for _ in range(40):
        middle = 0.5 * (low + high)
        rise = float(lead.steady(middle)[0])
        low, high = (middle, high) if rise < limit_c - lead.air_c else (low, middle)
    return low
