"""What is judged of the power path: pieces by time, fuses, pre-charge, bus, box, control wires."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.parts import CablePart, ConnectorPart, FusePart, ResistorPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.physics.wiring.fuse import CARRY, OPENS_BY_S, clears_s
from wattagon.study.drive import candidates as try_
from wattagon.study.findings.rule import Case, Verdict, unknown
from wattagon.study.findings.status import Status
from wattagon.study.ride.words import distance_text
from wattagon.study.wiring.case import told_pieces, wired
from wattagon.study.wiring.control import Wrong, looked_over
from wattagon.study.wiring.fusing import FAR_M, NEAR_M
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import DROPS
from wattagon.study.wiring.ways import taken, ways, with_piece, with_wiring

SPUN = (0.8, 0.95)
BUS = (0.85, 0.90)
COUNTED = 1.5  # times: so far a stated resistance may be off the told path
PHASE_SHARE = (0.05, 0.10)
BOX_C = (60.0, 75.0)
NOT_COVERED = "vibration and fretting life, salt and water, emission, insulation tests, arcs in an enclosure, fire"


def pieces(case: Case) -> list[tuple[str, Held]]:
    return [(one.code, one) for one in told_pieces(case)]


def piece(case: Case, one: Held) -> Verdict:
    """A piece against the rides, by time and not by the peak alone."""
    say, what = case.say, f"{one.name[0].upper()}{one.name[1:]}"
    if one.status is Status.NOT_CHECKED:
        return unknown(f"{what}: what it bears is not known, {say(one.rms_a, 'current')} flow for long")
    seconds, load, most = one.binds
    when = "for long" if seconds == 0.0 else f"for {say(seconds, 'time')}"
    part = case.stock.find(one.laid.piece.part) if one.laid.piece.part else None
    label = ""
    if isinstance(part, ConnectorPart) and part.label_a is not None and part.label_a > 1.15 * one.bears.rating_a:
        label = f"; its label of {say(part.label_a, 'current')} is a short-time figure"
    on = f" on “{one.run_name}”" if one.run_name else ""
    title = f"{what}: {say(load, 'current')} {when}{on}, it bears {say(most, 'current')}{label}"
    warm = f", {say(one.temperature_c, 'temperature')}" if math.isfinite(one.temperature_c) else ", no steady state"

    def edits() -> tuple[Edit, ...]:
        better = [way for way in ways(wired(case), one, case.stock, most=30) if way.share < one.worst and way.status is not Status.OVER]
        return tuple(way.edit for way in sorted(better, key=lambda way: (way.status is not Status.CLEAR, way.mass_kg))[:3])

    return Verdict(
        status=one.status,
        title=title + warm if one.kind == "lead" else title,
        margin=1.0 - one.worst,
        candidates=edits,
        rests=(f"wiring.pieces.{one.code}.length",) if one.kind == "lead" else (),
    )


def told(case: Case) -> Verdict:
    """Whether the path is told at all."""
    found = wired(case)
    if found.proposed:
        return unknown("Nobody told how it is wired: the path shown is proposed; take it over and correct it")
    return Verdict(status=Status.CLEAR, title=f"{len(found.pieces)} pieces of the power path are told", margin=0.3)


def drop(case: Case) -> Verdict | None:
    """Drop of the loop, lasting and at the peak."""
    found = wired(case)
    if found.proposed:
        return None
    worst, status, words = -math.inf, Status.CLEAR, ""
    for which, (clear, tight) in DROPS.items():
        share = found.drop(which)
        if share / tight > worst:
            worst = share / tight
            status = Status.CLEAR if share <= clear else Status.TIGHT if share <= tight else Status.OVER
            words = f"{share:.1%} {'for long' if which == 'lasting' else 'at the peak'}, {tight:.0%} at most"
    lost = f"; {distance_text(found.range_lost_m, case.say)} of range" if math.isfinite(found.range_lost_m) else ""
    title = f"Leads and contacts drop {words}: {case.say(found.total_loss_w, 'power')} at the worst lasting currents{lost}"
    return Verdict(status=status, title=title, margin=1.0 - worst)


def fuses(case: Case) -> list[tuple[str, str]]:
    return [(code, code) for code in wired(case).fuses] if told_pieces(case) else []


def fuse(case: Case, code: str) -> Verdict:
    """The five tests."""
    found = wired(case)
    one, held = found.fuses[code], found.piece(code)
    assert held is not None
    worst = max(one.tests, key=lambda test: -math.inf if math.isnan(test.share) else test.share)
    bad = [test for test in one.tests if test.status is one.status]
    title = f"{held.name[0].upper()}{held.name[1:]} {case.say(one.part.rating_a, 'current')}: {'; '.join(t.words for t in bad[:3])}"
    if one.status is Status.CLEAR:
        title = f"{held.name[0].upper()}{held.name[1:]} {case.say(one.part.rating_a, 'current')}: all five tests hold with a tenth to spare"

    def edits() -> tuple[Edit, ...]:
        full = found.pack.volts.full
        fits = [p for p in case.stock.all(FusePart) if p.volts is not None and p.volts >= full and p.id != one.part.id]
        fits.sort(key=lambda p: (abs(math.log(p.rating_a / one.part.rating_a)), p.price))
        alone = [with_piece(found, code, f"{held.name}: {p.name}", part=p.id) for p in fits[:4]]
        return (*alone, *_with_leads(case, code))

    margin = 1.0 - worst.share if math.isfinite(worst.share) else -1.0
    return Verdict(status=one.status, title=title, margin=margin, candidates=edits)


def _with_leads(case: Case, code: str) -> list[Edit]:
    """Where no fuse fits the leads that it protects: the smallest that carries the rides, with thicker leads behind it."""
    found = wired(case)
    behind = [one for one in found.pieces if one.kind == "lead" and one.branch.code in ("pack", "controller")]
    now, full = found.fuses[code], found.pack.volts.charged
    fits = [p for p in case.stock.all(FusePart) if (p.volts or 0.0) >= 1.1 * full and (p.breaks_a or 0.0) >= 1.1 * now.largest_a]
    fits = [
        p
        for p in fits
        if CARRY * p.rating_a >= 1.1 * now.lasting_a and clears_s(p.times, now.smallest_a / p.rating_a, "latest") < OPENS_BY_S
    ]
    if not behind or not fits:
        return []
    fuse = min(fits, key=lambda p: (p.rating_a, p.price))
    thinnest = min(behind, key=lambda one: one.laid.beside.area_m2)
    made = []
    for way in ways(found, thinnest, case.stock, most=10):
        part = way.part
        if not isinstance(part, CablePart) or 1e-6 * part.area_mm2 <= thinnest.laid.beside.area_m2:
            continue
        thin = {one.code for one in behind if one.laid.beside.area_m2 < 1e-6 * part.area_mm2}
        pieces = tuple(
            replace(one, part=part.id, rating=None, ohm=None) if one.id in thin else replace(one, part=fuse.id) if one.id == code else one
            for one in taken(found).pieces
        )
        made.append(with_wiring(found, f"{part.name} behind {fuse.name}", pieces=pieces))
    return made[:5]


def fused(case: Case) -> Verdict | None:
    """Whether there is a fuse, first thing on the pack's plus."""
    pieces = told_pieces(case)
    if not pieces:
        return None
    fuses = [one for one in pieces if one.kind == "fuse" and one.branch.code in ("pack", "brick")]
    if not fuses:
        return Verdict(
            status=Status.OVER,
            title="No fuse in the pack's lead: a short burns until the cells are empty",
            margin=-1.0,
            candidates=lambda: (more_of(case, "fuse"),),
        )
    place = fuses[0].laid.piece.from_cells
    if place is None:
        return unknown("How far the fuse sits from the cells is not told: within 100 to 200 mm, before any connector")
    say = case.say
    status = Status.CLEAR if place.value <= NEAR_M else Status.TIGHT if place.value <= FAR_M else Status.OVER
    at = f"{say(place.value, 'length')} from the cells, {say(NEAR_M, 'length')} at most"
    title = f"The fuse sits {at}: the stub before it cannot be protected"
    return Verdict(status=status, title=title, margin=1.0 - place.value / NEAR_M)


def more_of(case: Case, kind: str) -> Edit:
    """A piece of the proposed path that is missing in the told one."""
    from wattagon.study.wiring.path import lengths
    from wattagon.study.wiring.propose import propose

    found = wired(case)
    usual = lengths(None, found.branches["controller"].count)
    path = propose(case.design, case.stock, found.resolved, found.pack, found.branches, usual)
    wanted = next(one for one in path.pieces if one.kind == kind)
    names = {one.id for one in found.told.pieces}
    fresh = replace(wanted, id=wanted.id if wanted.id not in names else f"{wanted.id}-2", reach="yes" if kind == "key" else wanted.reach)
    return with_wiring(found, f"a {fresh.name}", pieces=(fresh, *found.told.pieces))


def precharge(case: Case) -> Verdict | None:
    """How the capacitors are filled."""
    if not told_pieces(case):
        return None
    found = wired(case)
    one, say = found.precharge, case.say
    bank = f"{say(one.farad, 'capacitance')}{' (usual)' if one.assumed else ''} at {say(found.pack.volts.charged, 'voltage')}"

    def edits() -> tuple[Edit, ...]:
        fits = [p for p in case.stock.all(ResistorPart) if p.use == "pre-charge" and 25.0 * p.watts * 0.5 >= one.joule]
        fits = [p for p in fits if 0.2 <= 3.0 * p.ohm * one.farad <= 1.5] or fits
        return tuple(
            with_wiring(found, f"pre-charge through {p.name}", precharge=p.id, precharge_by="hand")
            for p in sorted(fits, key=lambda p: p.price)[:3]
        )

    if one.part is None:
        if math.isfinite(one.touch_share):
            title = f"First touch charges {one.touch_share:.0%} of {bank}; {say(one.spark_a, 'current')} at most when it closes"
            return Verdict(status=one.status, title=title, margin=one.touch_share - 0.9, candidates=edits)
        title = f"No pre-charge: {one.bank_j:.1f} J of {bank} spark at every closing, about {say(one.spark_a, 'current')}"
        return Verdict(status=one.status, title=title, margin=-1.0 if one.needed else 0.1, candidates=edits)
    title = f"Pre-charge {say(one.part.ohm, 'resistance')}: 95 % in {say(one.seconds, 'time')}, {one.joule:.1f} J in the resistor"
    if one.settles_share < 0.95:
        title += f"; with what stands on the bus it stops at {one.settles_share:.0%}: open, do not close"
    if not one.volts_ok:
        title += f"; it bears {say(one.part.volts or 0.0, 'voltage')}"
    return Verdict(status=one.status, title=title, margin=1.0 - one.energy_share, candidates=edits)


def overshoot(case: Case) -> Verdict | None:
    """What the bus jumps to when the bridge stops drawing."""
    if not told_pieces(case):
        return None
    found = wired(case)
    bus, say = found.bus, case.say
    if math.isnan(bus.rating_v):
        return unknown("The bus's rating is not known: neither controller nor capacitors tell their volts")
    share = bus.cut_v / bus.rating_v
    status = Status.CLEAR if share <= BUS[0] else Status.TIGHT if share <= BUS[1] else Status.OVER
    title = (
        f"{say(bus.cut_a, 'current')} cut at once lift the bus to {say(bus.cut_v, 'voltage')} over {1e6 * bus.henry:.2g} µH of leads, "
        f"{say(bus.rating_v, 'voltage')} is the lowest rating"
    )
    more = (
        f"; {1e3 * bus.farad_wanted:.1f} mF at the controller's tabs would hold it"
        if status is not Status.CLEAR and math.isfinite(bus.farad_wanted)
        else ""
    )
    return Verdict(
        status=status,
        title=title + more,
        margin=BUS[1] - share,
        candidates=lambda: (
            *((with_wiring(found, "plus and minus side by side", apart=None),) if found.told.apart is not None else ()),
            *try_.steps(case.design, case.stock, ("series",), -1, most=2),
        ),
    )


def spun(case: Case) -> Verdict | None:
    """What the spinning motor alone brings the bus to."""
    found = wired(case)
    bus = found.bus
    if math.isnan(bus.rating_v) or bus.spun_v <= 0.0:
        return None
    share = bus.spun_v / bus.rating_v
    status = Status.CLEAR if share <= SPUN[0] else Status.TIGHT if share <= SPUN[1] else Status.OVER
    say = case.say
    title = f"At its fastest the motor alone gives {say(bus.spun_v, 'voltage')}, {say(bus.rating_v, 'voltage')} is the bus's lowest rating"
    return Verdict(status=status, title=title, margin=SPUN[1] - share)


def opened(case: Case) -> Verdict | None:
    """A pack that opens while braking, by its board or a pulled key."""
    found = wired(case)
    bus = found.bus
    if not math.isfinite(bus.opens_s) or bus.regen_w < 5.0 or not told_pieces(case):
        return None
    say = case.say
    title = (
        f"If the pack opens while braking with {say(bus.regen_w, 'power')}, the bus reaches {say(bus.rating_v, 'voltage')} in "
        f"{1e3 * bus.opens_s:.1f} ms: only the controller's own fast cut acts in time"
    )
    return Verdict(status=Status.TIGHT if bus.opens_s < 0.02 else Status.CLEAR, title=title, margin=0.0)


def ripple(case: Case) -> Verdict | None:
    """Ripple of the capacitors at half throttle."""
    if not told_pieces(case):
        return None
    bus, say = wired(case).bus, case.say
    if math.isnan(bus.ripple_rated_a):
        return unknown(f"Capacitors: {say(bus.ripple_a, 'current')} of ripple at half throttle, what they bear is not told")
    share = bus.ripple_a / (0.8 * bus.ripple_rated_a)
    status = Status.CLEAR if share <= 1.0 else Status.TIGHT if share <= 1.25 else Status.OVER
    title = f"Capacitors: {say(bus.ripple_a, 'current')} of ripple at half throttle, they bear {say(bus.ripple_rated_a, 'current')}"
    return Verdict(status=status, title=title, margin=1.0 - share)


def counted(case: Case) -> Verdict | None:
    """What the drive counts with for leads and links, against the path that is told."""
    found = wired(case)
    stated = case.design.variant().pack.wiring_ohm
    if found.proposed or stated.known is Known.ASSUMED or not any(one.kind == "lead" for one in found.pieces):
        return None  # an assumed value gives way to the told path by itself
    share = found.loop_ohm / stated.value if stated.value > 0.0 else math.inf
    if 1.0 / COUNTED <= share <= COUNTED:
        return None
    say = case.say
    title = (
        f"The drive counts with {say(stated.value, 'resistance')} of leads and links, the told path has {say(found.loop_ohm, 'resistance')}"
    )
    edit = Edit(
        label="leads and links as they are told",
        changes=(("variant.pack.wiring_ohm", Quantity(value=round(found.loop_ohm, 6), known=Known.COMPUTED)),),
    )
    return Verdict(status=Status.TIGHT, title=title, margin=0.0, candidates=lambda: (edit,))


def phases(case: Case) -> Verdict | None:
    """Long phase leads beside the motor's own resistance."""
    found = wired(case)
    ohm = 2.0 * sum(one.bears.ohm for one in told_pieces(case) if one.branch.code == "phase")
    motor = float(found.resolved.train.motor.resistance_ohm) - ohm  # told leads stand in the drive's motor already
    if ohm <= 0.0 or motor <= 0.0:
        return None
    share = ohm / motor
    status = Status.CLEAR if share <= PHASE_SHARE[0] else Status.TIGHT if share <= PHASE_SHARE[1] else Status.OVER
    status = Status.TIGHT if status is Status.OVER and share < 0.3 else status
    title = (
        f"Phase leads and joints add {share:.1%} to the motor's resistance, under {PHASE_SHARE[1]:.0%} is usual; detection reads them too"
    )
    return Verdict(status=status, title=title, margin=PHASE_SHARE[1] - share)


def brake(case: Case) -> Verdict | None:
    """A resistor brake: its heat, its interlock, and that it holds nothing at rest."""
    found = wired(case)
    one, say = found.brake, case.say
    if one is None:
        return None
    held = max(one.force_n)
    title = (
        f"Resistor brake: {say(held, 'force')} at most, {say(one.repeated_c, 'temperature')} with a stop from "
        f"{say(one.from_m_s, 'speed')} every 30 s, nothing at rest"
    )
    if not one.interlock:
        return unknown(f"{title}; whether an interlock keeps bridge and resistor apart is not told")
    if one.interlock == "no":
        title = f"{title}; no interlock: bridge and resistor on at once short it; enable off, 10 ms, then the brake, and back in that order"
    return Verdict(
        status=one.status,
        title=title,
        margin=-1.0 if one.interlock == "no" else 1.0 - one.repeated_c / one.part.limit_c,
        candidates=lambda: (
            (with_wiring(found, "auxiliary contact in series with enable", interlock="yes"),) if one.interlock == "no" else ()
        ),
    )


def box(case: Case) -> Verdict | None:
    """The air of a closed box, by its faces."""
    one, say = wired(case).box, case.say
    if one is None:
        return None
    warm = one.controller_c if math.isfinite(one.controller_c) else one.inside_c
    status = Status.CLEAR if warm <= BOX_C[0] else Status.TIGHT if warm <= BOX_C[1] else Status.OVER
    plate = f", the controller on its plate {say(one.controller_c, 'temperature')}" if math.isfinite(one.controller_c) else ""
    title = f"Closed box: {say(one.watts, 'power')} bring its air to {say(one.inside_c, 'temperature')}{plate}"
    return Verdict(status=status, title=title, margin=1.0 - warm / BOX_C[1])


def controls(case: Case) -> list[tuple[str, Wrong]]:
    wiring = case.design.variant().wiring
    return [(one.code, one) for one in looked_over(wiring.wires if wiring is not None else ())]


def control(case: Case, one: Wrong) -> Verdict:
    """Control wires, pin by pin."""
    status = Status(one.weight)

    def edits() -> tuple[Edit, ...]:
        wiring = case.design.variant().wiring
        if one.code != "two_feed" or wiring is None:
            return ()
        first = next(w.start for w in wiring.wires if "5" in w.signal and "sensor" not in w.signal)
        kept = tuple(w for w in wiring.wires if not ("5" in w.signal and "sensor" not in w.signal and w.start != first))
        return (Edit(label=f"5 V from {first} only", changes=(("variant.wiring", replace(wiring, wires=kept)),)),)

    margin = {Status.OVER: -1.0, Status.TIGHT: 0.0, Status.CLEAR: 0.3}.get(status)
    return Verdict(status=status, title=one.words, margin=margin, candidates=edits)


def untold_control(case: Case) -> Verdict | None:
    """Control wiring that nobody told."""
    wiring = case.design.variant().wiring
    if wiring is not None and wiring.wires:
        return None
    return unknown("Control wires are not told: who feeds 5 V, grounds, colours, the enable chain")


def not_covered(case: Case) -> Verdict:
    """What no rule here looks at."""
    return Verdict(status=Status.NOT_CHECKED, title=f"Not covered here: {NOT_COVERED}")
