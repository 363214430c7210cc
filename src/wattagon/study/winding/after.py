"""The rewound motor held against its forecast: what differs, the likely cause, and the test that decides."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from wattagon.design.tree import CoreTest, MotorRead
from wattagon.physics.winding.coil import Connection, leg_factor, turns_there
from wattagon.physics.winding.emf import Leads, leads_of
from wattagon.physics.winding.star import PHASES, Pattern
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.winding.identify import SPREAD, Told, told_by
from wattagon.study.winding.option import Option

PAIR_SIGMA, OHM_SIGMA, KV_SIGMA = 0.008, 0.07, 0.03  # between pairs; of the forecasts of resistance and kv
MEGOHM = 10.0
FREE_MORE, FREE_LESS = 1.6, 0.5  # no-load current over its forecast: friction and iron are good to this
TOLD, LEAST = 3, 0.05


class Cause(NamedTuple):
    """One thing that may be wrong, how likely, and what decides."""

    code: str
    words: str
    test: str
    share: float


@record(frozen=True, slots=True, kw_only=True)
class Check:
    """One thing that was read, against what it should be."""

    code: str
    name: str
    status: Status
    words: str


@record(frozen=True, slots=True, kw_only=True)
class After:
    """All of it."""

    told: Told
    checks: tuple[Check, ...]
    causes: tuple[Cause, ...]  # the likeliest first; empty where nothing differs
    turns: float  # really there by kv; nan without
    free_forecast_a: float

    @property
    def sound(self) -> bool:
        return bool(self.checks) and all(one.status is Status.CLEAR for one in self.checks)


class _Kind(NamedTuple):
    code: str
    words: str
    test: str
    prior: float
    leads: Leads
    ohm: float  # of the forecast, all pairs
    kv: float


def after(found: Pattern, option: Option, read: MotorRead, free_forecast: float) -> After:
    """Of a motor that was wound to a plan.  `free_forecast` is the no-load current at the speed that was read, in amps of the supply."""
    told = told_by(read)
    checks = tuple(_checks(found, option, told, read, free_forecast))
    wrong = any(one.status in (Status.OVER, Status.TIGHT) for one in checks)
    causes = _causes(found, option, told, read, free_forecast) if wrong else ()
    turns = float(turns_there(option.coils.turns, option.kv, told.kv)) if told.kv == told.kv else math.nan
    return After(told=told, checks=checks, causes=causes, turns=turns, free_forecast_a=free_forecast)


def _judged(value: float, good: float, bad: float) -> Status:
    return Status.CLEAR if abs(value) <= good else Status.TIGHT if abs(value) <= bad else Status.OVER


def _checks(found: Pattern, option: Option, told: Told, read: MotorRead, free_forecast: float) -> Iterator[Check]:
    coils = option.coils
    short = leads_of(found, {found.teeth(0)[0]: 1.0 - 1.0 / coils.turns}, connection=coils.connection, parallel=coils.paths)
    apart = lambda shares: f"{100.0 * (max(shares) - min(shares)):.1f} %"
    if told.ohm_spread == told.ohm_spread:
        yield Check(
            code="pairs",
            name="pairs alike",
            status=_judged(told.ohm_spread, SPREAD, 2.0 * SPREAD),
            words=f"resistances differ by {100 * told.ohm_spread:.1f} %, 2 % accepted; one turn would be {apart(short.ohms)}",
        )
    if told.ohm == told.ohm:
        off = told.ohm / option.ohm - 1.0
        yield Check(
            code="ohm",
            name="resistance",
            status=_judged(off, 0.10, 0.20),
            words=f"{1e3 * told.ohm:.4g} mΩ, forecast {1e3 * option.ohm:.4g} ({100 * off:+.1f} %)",
        )
    if told.volt_spread == told.volt_spread:
        yield Check(
            code="volts",
            name="volts alike",
            status=_judged(told.volt_spread, SPREAD, 2.0 * SPREAD),
            words=f"line voltages differ by {100 * told.volt_spread:.1f} %, 2 % accepted; one turn would be {apart(short.volts)}",
        )
    if told.kv == told.kv:
        off = told.kv / option.kv - 1.0
        turns = float(turns_there(option.coils.turns, option.kv, told.kv))
        yield Check(
            code="kv",
            name="kv",
            status=_judged(off, 0.03, 0.06),
            words=f"{told.kv:.4g} rpm/V, forecast {option.kv:.4g} ({100 * off:+.1f} %): as {turns:.2f} turns would",
        )
    if read.free_a is not None and free_forecast > 0.0:
        ratio = read.free_a.value / free_forecast
        status = Status.CLEAR if FREE_LESS <= ratio <= FREE_MORE else Status.OVER if ratio > 2.0 * FREE_MORE else Status.TIGHT
        yield Check(
            code="free",
            name="no-load current",
            status=status,
            words=f"{read.free_a.value:.3g} A, forecast {free_forecast:.3g} A",
        )


def _kinds(found: Pattern, option: Option) -> Iterator[_Kind]:
    """All that may be wrong, each with what a meter would see."""
    coils = option.coils
    see = lambda **more: leads_of(found, connection=coils.connection, parallel=coils.paths, **more)
    plain, one = see(), 1.0 / coils.turns
    count = "count the passes of each coil of that phase; the weighed wire tells too"
    for phase in range(3):
        name, teeth = PHASES[phase], found.teeth(phase)
        for code, words, share, prior in (
            ("turn_missing", f"a turn is missing in a coil of {name}", 1.0 - one, 1.0),
            ("turn_more", f"a turn too many in a coil of {name}", 1.0 + one, 1.0),
        ):
            yield _Kind(code, words, count, prior, see(turns={teeth[0]: share}), 1.0, 1.0)
        for tooth in teeth[:2]:
            yield _Kind(
                "coil_reversed",
                f"a coil of {name} is wound the wrong way round",
                "a small current through the phase and a compass at each tooth: north and south as the pattern's letters",
                0.8,
                see(turns={tooth: -1.0}),
                1.0,
                1.0,
            )
        yield _Kind(
            "phase_reversed",
            f"start and end of {name} are swapped",
            f"open the joint and swap the two ends of {name}: the three line voltages become equal",
            1.2,
            see(reversed_phases=(phase,)),
            1.0,
            1.0,
        )
        yield _Kind(
            "shorted",
            f"turns of {name} touch through their enamel",
            "insulation of the phase against the core and the others; spun with open leads the motor drags and that coil warms",
            0.5,
            see(turns={teeth[0]: 1e-3}),
            1.0,
            1.0,
        )
        yield (
            _Kind(
                "strand",
                f"a strand of {name} is not soldered, or broken",
                "tin the ends again and measure once more: enamel left on a strand is the usual reason",
                1.0,
                see(copper=tuple((coils.strands - 1) / coils.strands if k == phase else 1.0 for k in range(3))),
                1.0,
                1.0,
            )
            if coils.strands > 1
            else _nothing(plain)
        )
    other = Connection.DELTA if coils.connection is Connection.WYE else Connection.WYE
    ohm = leg_factor(other) / leg_factor(coils.connection)
    kv = math.sqrt(3.0) if other is Connection.DELTA else 1.0 / math.sqrt(3.0)
    yield _Kind(
        "termination",
        f"it is joined in {other.value}, not in {coils.connection.value}",
        "three ends in one joint are a wye; two ends at each lead are a delta",
        1.5,
        plain,
        ohm,
        kv,
    )
    for more in (-1, 1):
        if coils.turns + more >= 1:
            share = (coils.turns + more) / coils.turns
            yield _Kind(
                "all_turns",
                f"every coil has {coils.turns + more:g} turns",
                "count one coil: a pass begun at the tip and ended at the root is half a turn",
                0.8,
                plain,
                share,
                1.0 / share,
            )
    yield _Kind("forecast", "nothing is wrong with it: the forecast was off", "measure the wire and the mean turn", 1.0, plain, 1.0, 1.0)


def _nothing(plain: Leads) -> _Kind:
    return _Kind("", "", "", 0.0, plain, 1.0, 1.0)


def _causes(found: Pattern, option: Option, told: Told, read: MotorRead, free_forecast: float) -> tuple[Cause, ...]:
    scored: dict[tuple[str, str], tuple[float, _Kind]] = {}
    for kind in _kinds(found, option):
        if kind.prior <= 0.0:
            continue
        score = math.log(kind.prior) + _fits(kind, option, told)
        if read.free_a is not None and free_forecast > 0.0 and read.free_a.value / free_forecast > FREE_MORE:
            score += 1.0 if kind.code in ("shorted", "coil_reversed", "phase_reversed") else 0.0
        key = (kind.code, kind.words)
        if key not in scored or score > scored[key][0]:
            scored[key] = (score, kind)
    top = max(score for score, _ in scored.values())
    whole = sum(math.exp(score - top) for score, _ in scored.values())
    ranked = sorted(scored.values(), key=lambda one: -one[0])
    made = [Cause(kind.code, kind.words, kind.test, math.exp(score - top) / whole) for score, kind in ranked]
    return tuple(one for one in made[:TOLD] if one.share >= LEAST)


def _fits(kind: _Kind, option: Option, told: Told) -> float:
    """Log likelihood of what was read: pairs against each other, then all of them against the forecast."""
    total = 0.0
    for read, seen, level, sigma in (
        (told.ohms, kind.leads.ohms, option.ohm * kind.ohm, OHM_SIGMA),
        (told.volts, kind.leads.volts, math.nan, KV_SIGMA),
    ):
        there = [k for k in range(3) if read[k] == read[k]]
        if not there:
            continue
        logs = [math.log(max(read[k], 1e-12) / max(float(seen[k]), 1e-3)) for k in there]
        mean = sum(logs) / len(logs)
        # a heavy tail: a bad reading does not rule a cause out
        total -= sum(0.5 * min(((one - mean) / PAIR_SIGMA) ** 2, 60.0) for one in logs)
        if level == level:
            total -= 0.5 * min(((mean - math.log(level)) / sigma) ** 2, 60.0)
    if told.kv == told.kv:
        volts = [float(one) for one, read in zip(kind.leads.volts, told.volts, strict=True) if read == read] or [1.0]
        expected = option.kv * kind.kv / (sum(volts) / len(volts))
        total -= 0.5 * min((math.log(told.kv / expected) / KV_SIGMA) ** 2, 60.0)
    return total


def core_status(test: CoreTest) -> Status:
    """Of one insulation test: 10 megohm and more."""
    return Status.CLEAR if test.megohm >= MEGOHM else Status.OVER
