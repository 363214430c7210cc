"""What is judged of a pack."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date

from wattagon.design.parts import BoardPart, ChargerPart
from wattagon.design.paths import Edit
from wattagon.design.tree import Battery, Charging, Design
from wattagon.physics import pack as packs
from wattagon.record import record
from wattagon.study.drive import candidates as try_
from wattagon.study.findings.all import slow_findings
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case, Rule, Verdict, held_under, unknown
from wattagon.study.findings.status import Status
from wattagon.study.pack.checks import TREND_V, due
from wattagon.study.pack.rungs import Rung, part_way
from wattagon.study.pack.schools import NARROW, UNGUARDED
from wattagon.study.pack.study import PackStudy, brick_trouble, study_pack
from wattagon.study.ride.profiles import Profile, profiles
from wattagon.study.studies import Task

CHARGE_TRIP = (1.5, 1.1)  # over regeneration: clear, tight
BALANCE_H = 24.0
OLD_DAYS = 1.0
COOL_C = 5.0


def packed(case: Case) -> PackStudy:
    """The pack of a case with its rides, worked out once."""
    return case.made("pack", lambda: study_pack(case.design, case.stock, case.study, ridden(case)))


def ridden(case: Case) -> tuple[Profile, ...]:
    """The rides of a case, worked out once; a change that is tried on its wires alone keeps those of the design, a few mΩ apart."""

    def make() -> tuple[Profile, ...]:
        base = case.tried_on
        if base is not None and _but_wiring(base.design) == _but_wiring(case.design):
            return ridden(base)
        return profiles(case.design, case.stock)

    return case.made("rides", make)


def _but_wiring(design: Design) -> object:
    return replace(design, variants=tuple(replace(one, wiring=None) for one in design.variants))


def _battery(case: Case) -> Battery:
    return case.design.variant().battery or Battery()


def put(case: Case, label: str, **changes: object) -> Edit:
    """An edit of the battery's section."""
    return Edit(label=label, changes=(("variant.battery", replace(_battery(case), **changes)),))  # type: ignore[arg-type]


# volts


def _rungs(case: Case) -> list[tuple[str, Rung]]:
    return [(rung.code, rung) for rung in packed(case).rungs if rung.code not in ("controller", "motor")]


def rung(case: Case, one: Rung) -> Verdict:
    """One rating of the ladder."""
    say, what = case.say, one.name[0].upper() + one.name[1:]
    if one.status is Status.NOT_CHECKED:
        return unknown(f"{what}: its volts are not known, the pack has {say(one.full_v, 'voltage')}")
    if not one.at_least:
        title = f"{what} ends at {say(one.volts, 'voltage')}, the pack is charged to {say(one.full_v, 'voltage')}"
        return Verdict(status=one.status, title=title, margin=one.margin, candidates=lambda: _chargers(case))
    title = f"{what} {say(one.volts, 'voltage')}, the pack has {say(one.full_v, 'voltage')} when charged"
    return Verdict(
        status=one.status, title=title, margin=one.margin, candidates=lambda: try_.steps(case.design, case.stock, ("series",), -1, most=2)
    )


def _chargers(case: Case) -> tuple[Edit, ...]:
    found, told = packed(case), _battery(case).charging or Charging()
    fits = [c for c in case.stock.all(ChargerPart) if abs(c.volts / found.volts.charged - 1.0) <= 0.005]
    fits.sort(key=lambda c: c.price)
    return tuple(put(case, f"charge with {c.name}", charging=replace(told, charger=c.id)) for c in fits[:3])


def partway(case: Case) -> Verdict | None:
    """A pack that is charged part-way so that a rating bears it."""
    found = packed(case)
    over = [
        one
        for one in found.rungs
        if one.at_least
        and one.code not in ("motor", "board")
        and math.isfinite(one.volts)
        and found.volts.full > one.bounds[1] * one.volts * 1.0001
    ]
    if not over:
        return None
    worst = over[0]
    half, say = part_way(found.resolved, worst.volts, worst.bounds[1]), case.say
    if found.volts.charged < found.volts.full * 0.999:
        wrong = half.wrong_v > worst.volts
        title = (
            f"Charged part-way to {say(found.volts.charged, 'voltage')} for the {worst.name}: one wrong charge puts "
            f"{say(half.wrong_v, 'voltage')} on {say(worst.volts, 'voltage')}"
        )
        return Verdict(
            status=Status.OVER if found.volts.charged > worst.volts else Status.TIGHT, title=title, margin=-0.01 if wrong else 0.0
        )
    title = (
        f"{say(half.volts, 'voltage')} is what the {worst.name} bears: {half.cell_v:.2f} V a cell, {half.charge:.0%} charged, "
        f"{half.energy_share:.0%} of the energy; the full pack has {say(half.wrong_v, 'voltage')}"
    )
    return Verdict(
        status=Status.OVER,
        title=title,
        margin=worst.bounds[1] - found.volts.full / worst.volts,
        candidates=lambda: try_.steps(case.design, case.stock, ("series",), -1, most=6),
    )


# bricks


def bricks(case: Case) -> Verdict | None:
    """Whether told bricks can stand together."""
    found = packed(case)
    if found.bricks is None:
        return None
    trouble = brick_trouble(found)
    if trouble:
        hint = " Charge them to like volts before they are joined" if "rest" in trouble else ""
        return Verdict(status=Status.OVER, title=f"Bricks: {trouble}.{hint}".rstrip("."), margin=-1.0)
    return Verdict(status=Status.CLEAR, title=f"{len(found.bricks.flat)} bricks stand together", margin=0.3)


def share(case: Case) -> Verdict | None:
    """What the brick that gets most of the current makes of its rating."""
    found = packed(case)
    if found.bricks is None or found.bricks.trouble:
        return None
    worst, name, amps, rated = -math.inf, "", 0.0, 0.0
    for row, choices, parts in zip(found.shares, found.bricks.choices, found.bricks.parts, strict=True):
        for k, (current, choice, part) in enumerate(zip(row, choices, parts, strict=True)):
            if part.continuous_a is None:
                continue
            rating = part.continuous_a * choice.parallel
            if current / rating > worst:
                worst, amps, rated, name = current / rating, current, rating, choice.name or f"brick {k + 1} of {choice.place}"
    if not math.isfinite(worst):
        return unknown("Bricks: their lasting amps are not known")
    status, margin = held_under(amps, rated, 0.1)
    title = f"{name} takes {case.say(amps, 'current')} of {case.say(found.asked_a, 'current')}, rated {case.say(rated, 'current')} lasting"
    return Verdict(
        status=status,
        title=title[0].upper() + title[1:],
        margin=margin,
        candidates=lambda: try_.set_amps(
            case.design, "pack_current_a", float(found.resolved.train.pack.continuous_a) / float(found.resolved.train.count)
        ),
    )


def weakest(case: Case) -> Verdict | None:
    """The brick that ends a ride before the others are empty."""
    found = packed(case)
    if found.bricks is None or found.emptied is None or len(found.bricks.flat) < 2:
        return None
    bottom = found.resolved.window[1]
    left = max(float(max(found.emptied.left)) - bottom, 0.0)
    i, j = found.emptied.ended_by
    choice = found.bricks.choices[i][j]
    name = choice.name or f"brick {j + 1} of {choice.place}"
    status = Status.CLEAR if left < 0.05 else Status.TIGHT
    title = f"{name} is empty first; {left:.0%} stays in the fullest then"
    return Verdict(status=status, title=title[0].upper() + title[1:], margin=0.05 - left)


# currents


def lasting(case: Case) -> Verdict | None:
    """Equivalent current of the worst ride against what the cells bear for long."""
    found = packed(case)
    if found.ridden is None:
        return None
    rating, say = float(found.resolved.train.pack.continuous_a), case.say
    if not math.isfinite(rating):
        return unknown(f"Cells: {say(found.ridden.lasting_a, 'current')} lasting on the worst ride, their rating is not known")
    status, margin = held_under(found.ridden.lasting_a, rating, 0.2)
    if status is Status.OVER and margin > -0.02:
        status = Status.TIGHT
    title = f"Cells: {say(found.ridden.lasting_a, 'current')} lasting on “{found.ridden.lasting_run}”, they bear {say(rating, 'current')}"
    return Verdict(
        status=status, title=title, margin=margin, candidates=lambda: try_.steps(case.design, case.stock, ("parallel",), +1, most=4)
    )


def burst(case: Case) -> Verdict | None:
    """How long rides stay above the lasting rating: the burst figure is for ten seconds."""
    found = packed(case)
    pack = found.resolved.train.pack
    if found.ridden is None or not math.isfinite(float(pack.burst_a)):
        return None
    peak, most, say = found.ridden.peak_a, float(pack.burst_a), case.say
    status, margin = held_under(peak, most, 0.0)
    if found.ridden.above_s > 10.0 and status is Status.CLEAR:
        status = Status.TIGHT
    held = f", above the lasting figure for {say(found.ridden.above_s, 'time')} at a time" if found.ridden.above_s > 0.0 else ""
    title = f"Peak {say(peak, 'current')} on “{found.ridden.peak_run}”, cells {say(most, 'current')} for ten seconds{held}"
    return Verdict(status=status, title=title, margin=margin)


def cold(case: Case) -> Verdict | None:
    """Charging in the cold, and what it does to the sag."""
    found = packed(case)
    air, say = case.design.brief.conditions.air_temperature.value, case.say
    coldest = found.charged.coldest_c
    if air >= coldest + COOL_C:
        return None
    title = f"{say(air, 'temperature')} outside: never charged below {say(coldest, 'temperature')}; bring the pack in first"
    return Verdict(status=Status.OVER if air < coldest else Status.TIGHT, title=title, margin=(air - coldest) / 20.0)


def links(case: Case) -> Verdict | None:
    """Strips between cells at the worst lasting current."""
    found = packed(case)
    one, say = found.links, case.say
    if one is None:
        return None
    status, margin = held_under(one.amps, one.bears_a, 0.2)
    told = found.battery.links
    metal = told.metal if told is not None else ""
    title = f"Cell links of {metal} bear {say(one.bears_a, 'current')}, {say(one.amps, 'current')} flow for long"

    def edits() -> tuple[Edit, ...]:
        assert told is not None
        more = replace(told, layers=min(told.layers + 1, 10))
        return (
            put(case, f"{more.layers} layers of strip", links=more),
            put(case, "copper strip 8 x 0.2 mm", links=replace(told, metal="copper", width=0.008, thickness=0.0002)),
        )

    return Verdict(status=status, title=title, margin=margin, candidates=edits)


# the two schools


def school(case: Case) -> Verdict:
    """Which of the two schools is followed."""
    battery = _battery(case)
    if battery.school == "board":
        if not battery.board:
            return unknown("A protection board is wanted, which one is not told")
        return Verdict(status=Status.CLEAR, title="A protection board watches the cells", margin=0.3)
    if battery.school == "none":
        return unknown(f"No protection board: nothing guards against {UNGUARDED}")
    return unknown("Nobody told whether a protection board watches the cells or the careful school without one is followed")


def board_fits(case: Case) -> Verdict | None:
    """Cells in series and chemistry of the board."""
    found = packed(case)
    if found.guarded is None:
        return None
    if found.guarded.fits:
        return Verdict(status=Status.OVER, title=f"Board: {found.guarded.fits}", margin=-1.0, candidates=lambda: _boards(case))
    return Verdict(status=Status.CLEAR, title=f"Board watches {found.guarded.board.cells} cells", margin=0.3)


def _boards(case: Case) -> tuple[Edit, ...]:
    series, iron = case.design.variant().pack.series, packed(case).resolved.train.pack.chemistry == "lfp"
    fits = [
        b
        for b in case.stock.all(BoardPart)
        if b.series_low <= series <= b.series_high and (b.fits == "any lithium" or (b.fits == "iron") == iron) and b.first_a is not None
    ]
    return tuple(put(case, f"{b.name}", board=b.id, school="board") for b in sorted(fits, key=lambda b: b.lasting_a)[:4])


def board_lasting(case: Case) -> Verdict | None:
    """Equivalent current against 0.8 of its rating."""
    found = packed(case)
    one = found.guarded
    if one is None or not math.isfinite(one.share):
        return None
    status = Status.CLEAR if one.share <= 0.8 else Status.TIGHT if one.share <= 1.0 else Status.OVER
    title = f"Board {case.say(one.board.lasting_a, 'current')}, {case.say(one.lasting_a, 'current')} for long on “{one.run}”"
    return Verdict(status=status, title=title, margin=1.0 - one.share, candidates=lambda: _boards(case))


def board_trips(case: Case) -> Verdict | None:
    """Peaks by their time against the board's trips."""
    found = packed(case)
    one = found.guarded
    if one is None or found.ridden is None:
        return None
    known = [trip for trip in one.trips if math.isfinite(trip.amps)]
    if not known:
        return unknown("Board: at what amps and after how long it trips is not known")
    worst = max(known, key=lambda trip: trip.stretch_s / trip.delay_s)
    say = case.say
    title = (
        f"Board's {worst.name} {say(worst.amps, 'current')} after {say(worst.delay_s, 'time')}: "
        f"{say(worst.stretch_s, 'time')} at a time above 80 % of it"
    )
    return Verdict(
        status=worst.status,
        title=f"{title} on “{worst.run}”" if worst.run else title,
        margin=1.0 - worst.stretch_s / worst.delay_s,
        candidates=lambda: (
            *try_.set_amps(case.design, "pack_current_a", 0.79 * worst.amps / float(found.resolved.train.count)),
            *_boards(case),
        ),
    )


def board_regen(case: Case) -> Verdict | None:
    """Regeneration is charge: trip amps of the charge side, and the way it takes."""
    found = packed(case)
    one = found.guarded
    if one is None or one.regen_a <= 0.0:
        return None
    say = case.say
    if math.isnan(one.regen_share):
        return unknown(f"Board: its charge trip is not known, braking puts {say(one.regen_a, 'current')} into the pack")
    clear, tight = CHARGE_TRIP
    status = Status.CLEAR if one.regen_share >= clear else Status.TIGHT if one.regen_share >= tight else Status.OVER
    trip = one.board.charge_a or 0.0
    path = (
        "through its separate port braking goes past the charge switch"
        if one.board.port == "separate"
        else "when it opens, the bus is the capacitors alone"
    )
    title = f"Board's charge trip {say(trip, 'current')}, braking puts {say(one.regen_a, 'current')} in; {path}"
    return Verdict(
        status=max(status, Status.TIGHT, key=lambda s: (s is Status.OVER, s is Status.TIGHT)),
        title=title,
        margin=one.regen_share / tight - 1.0,
        candidates=lambda: (
            *try_.set_amps(case.design, "regen_pack_current_a", trip / clear / float(found.resolved.train.count)),
            *_boards(case),
        ),
    )


def board_balance(case: Case) -> Verdict | None:
    """How long the board takes to bleed off a spread."""
    one = packed(case).guarded
    if one is None:
        return None
    if math.isnan(one.balance_h):
        return unknown("Board: its balance current is not known")
    hours = case.say(3600.0 * one.balance_h, "time")
    status = Status.CLEAR if one.balance_h <= BALANCE_H else Status.TIGHT
    return Verdict(
        status=status,
        title=f"Board evens out the spread in {hours} near full, at {one.board.balance_ma:g} mA",
        margin=1.0 - one.balance_h / BALANCE_H,
    )


def narrow(case: Case) -> Verdict | None:
    """Without a board: the window, and the cutoff in the controller."""
    battery = _battery(case)
    if battery.school != "none":
        return None
    found = packed(case)
    top, bottom = found.resolved.window
    lower = packs.LOADED_CUTOFF_V[found.resolved.train.pack.chemistry] * found.groups
    narrow_top, narrow_bottom = NARROW
    bad = []
    if top > narrow_top + 1e-9:
        bad.append(f"charged to {top:.0%}, {narrow_top:.0%} leaves room for a cell that is ahead")
    if bottom < narrow_bottom - 1e-9:
        bad.append(f"used down to {bottom:.0%}, {narrow_bottom:.0%} leaves room for a cell that is behind")
    if found.volts.cut_end < lower - 1e-6:
        bad.append(f"the cutback ends at {case.say(found.volts.cut_end, 'voltage')}, cells bear {case.say(lower, 'voltage')}")
    if not bad:
        return Verdict(status=Status.CLEAR, title=f"No board: window {bottom:.0%} to {top:.0%}, cutoff in the controller", margin=0.1)
    status = Status.OVER if "cutback" in bad[-1] else Status.TIGHT
    return Verdict(
        status=status,
        title=f"No board: {'; '.join(bad)}",
        margin=-0.1,
        candidates=lambda: (put(case, "a narrow window", window_top=0.9, window_bottom=0.15),),
    )


def settings_inside(case: Case) -> Verdict | None:
    """The controller set inside the board on the low side."""
    found = packed(case)
    one = found.guarded
    if one is None:
        return None
    lower = packs.LOADED_CUTOFF_V[found.resolved.train.pack.chemistry] * found.groups
    if found.volts.cut_end >= lower - 1e-6:
        return None
    title = f"The cutback ends at {case.say(found.volts.cut_end, 'voltage')}: the board opens first, drive and brake go in one instant"
    return Verdict(status=Status.OVER, title=title, margin=found.volts.cut_end / lower - 1.0)


# charging and checks


def charge_amps(case: Case) -> Verdict | None:
    """Amps of the charge against the least of what it goes through."""
    battery = _battery(case)
    if battery.charging is None:
        return unknown("How it is charged is not told")
    one, say = packed(case).charged, case.say
    if one.charger is None:
        return unknown(f"No charger of stock ends at {say(one.volts, 'voltage')}; none is told")
    least = one.least
    status, margin = held_under(one.amps, least.amps, 0.0)
    title = f"Charged with {say(one.amps, 'current')}, {least.name} {say(least.amps, 'current')}; {say(one.full_s, 'time')} to full"
    if one.turns > 1:
        title += f", {one.turns} bricks one after the other"
    charging = battery.charging
    return Verdict(
        status=status,
        title=title,
        margin=margin,
        candidates=lambda: (
            put(case, f"charge with {say(least.amps, 'current')}", charging=replace(charging, amps=None)),
            *_chargers(case),
        ),
    )


def cells(case: Case) -> Verdict:
    """The last cell check."""
    found = packed(case)
    if not found.checks:
        return unknown("The cells were never checked: type the volts of every group, at rest")
    last = found.checks[-1]
    title = f"Cells on {last.check.date}: {last.verdict}"
    if len(last.check.volts) != found.groups:
        return unknown(f"{title}; {len(last.check.volts)} groups were read, the pack has {found.groups}")
    if last.outlier is not None:
        title += f"; group {last.outlier + 1} stands away from the others"
    return Verdict(status=last.status, title=title, margin=0.03 - last.spread_v)


def drifting(case: Case) -> Verdict | None:
    """A group that goes away from the others from check to check."""
    one = packed(case).trend
    if one is None:
        return None
    fast = abs(one.group_v_month)
    status = Status.CLEAR if fast < TREND_V else Status.TIGHT
    drift = f"{1e3 * one.group_v_month:+.1f}".replace("-", "−")
    title = f"Group {one.group + 1} moves {drift} mV a month against the others, over {one.checks} checks"
    return Verdict(status=status, title=title, margin=(TREND_V - fast) / TREND_V)


def check_due(case: Case, today: date | None = None) -> Verdict | None:
    """Whether the next check has come; every design's clock is that of the machine."""
    battery = _battery(case)
    days, next_day = due(battery.checks, battery.school, battery.check_days)
    if next_day is None:
        return None
    left = (next_day - (today or date.today())).days
    if left < 0:
        return Verdict(status=Status.TIGHT, title=f"Cell check was due on {next_day}, every {days} days", margin=0.0)
    return Verdict(status=Status.CLEAR, title=f"Next cell check on {next_day}, every {days} days", margin=0.3)


def _rule(code: str, because: str, judge, of=None, rests=("pack.part", "pack.series", "pack.parallel")) -> Rule:  # type: ignore[no-untyped-def]
    return Rule(code=code, bench="pack", link="pack", because=because, judge=judge, of=of, rests=rests)


RULES: tuple[Rule, ...] = (
    _rule(
        "pack.rung",
        "Every rating by the full pack: transistors and capacitors to 85 %, switched parts to their direct volts.",
        rung,
        _rungs,
    ),
    _rule("pack.part_way", "A rating that only a part-charged pack keeps is broken by one wrong charge.", partway),
    _rule("pack.bricks", "In parallel: the same chemistry and cells in series, within 50 mV a cell before they are joined.", bricks),
    _rule("pack.share", "Bricks in parallel share by resistance and charge, not by their number.", share),
    _rule("pack.weakest", "The smallest of a series ends the ride.", weakest),
    _rule("pack.lasting", "The heat of a ride counts with a cell's own minute, not with the ride's mean.", lasting),
    _rule("pack.burst", "Burst figures are for ten seconds, from a cool cell.", burst),
    _rule("pack.cold", "A cold lithium cell that is charged plates metal.", cold),
    _rule("pack.links", "In series, links carry the whole group's current; 20 K over the cells' air.", links),
    _rule("pack.school", "Two schools: a board, or a narrow window with checks.", school, rests=()),
    _rule("pack.board_fits", "A board counts the cells that it was made for.", board_fits),
    _rule("pack.board_lasting", "Windowed current with the board's own 90 s; 80 % of its rating is clear.", board_lasting),
    _rule("pack.board_trips", "Any stretch above 80 % of a trip must be shorter than its delay.", board_trips),
    _rule("pack.board_regen", "Regeneration is charge to a board; its charge level is the lower one.", board_regen),
    _rule("pack.board_balance", "Balancers of 30 to 200 mA work only near full.", board_balance),
    _rule("pack.narrow", "Without a board the window and the controller's cutoffs are all that guards the cells.", narrow),
    _rule("pack.inside", "The controller's cutoffs come before the board's.", settings_inside),
    _rule("pack.charge_amps", "The least of cells, charger, board and leads.", charge_amps),
    _rule("pack.cells", "At rest, mid-window: 10 mV good, 30 acceptable, 50 balance soon, above: find the cause.", cells, rests=()),
    _rule("pack.drifting", "A group that drifts leaks, or has lost capacity.", drifting, rests=()),
    _rule("pack.check_due", "Checks are worth as much as they are regular.", check_due, rests=()),
)


@record(frozen=True, slots=True, kw_only=True)
class PackFound:
    """What the study gives: the pack with its rides, and the findings."""

    study: PackStudy
    findings: list[Finding]


def run(task: Task) -> PackFound | None:
    """The pack of a task with its findings and their cures."""
    followed = task.results["drive"]
    case = Case(task.design, task.stock, followed.study, task.say)
    found = slow_findings(case, followed.findings, RULES, task.cancelled, together=True)
    return PackFound(study=packed(case), findings=found)
