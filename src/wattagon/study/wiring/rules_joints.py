"""What is judged of joints, leads and switches: both halves, edges, bends, reach, coils, volts."""

from __future__ import annotations

import math

from wattagon.design.parts import CablePart, ConnectorPart, ContactorPart
from wattagon.design.paths import Edit
from wattagon.physics.wiring.copper import POOR_SHARE
from wattagon.physics.wiring.precharge import arc_gap_mm
from wattagon.study.findings.rule import Case, Verdict, unknown
from wattagon.study.findings.status import Status
from wattagon.study.wiring.case import told_pieces, wired
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.rules_path import more_of
from wattagon.study.wiring.ways import joints_fit, ways, with_piece

TOUCH_V = 60.0  # above it covers are wanted
EDGE_M = 0.005
BEND = {False: 4.0, True: 8.0}  # outer diameters: laid, moving
TAKES = 2.0  # times its usual copper: thicker leads do not go in


def disconnect(case: Case) -> Verdict | None:
    """A disconnect in reach of the rider."""
    pieces = told_pieces(case)
    if not pieces:
        return None
    opens = [one for one in pieces if one.kind in ("key", "switch", "contactor") and one.branch.code in ("pack", "brick")]
    if not opens:
        return Verdict(
            status=Status.OVER,
            title="Nothing in the path opens it: a loop key, plug or contactor in reach of the rider is missing",
            margin=-1.0,
            candidates=lambda: (more_of(case, "key"),),
        )
    said = [one.laid.piece.reach for one in opens]
    found = wired(case)
    if "yes" in said:
        name = opens[said.index("yes")].name
        return Verdict(status=Status.CLEAR, title=f"The {name} is in reach while riding", margin=0.3)
    if "no" in said and "" not in said:
        one = opens[0]
        return Verdict(
            status=Status.OVER,
            title=f"The {one.name} is out of reach while riding: with gloves, without looking",
            margin=-1.0,
            candidates=lambda: (with_piece(found, one.code, f"{one.name} in reach", reach="yes"),),
        )
    return unknown(f"Whether the {opens[0].name} is in reach while riding is not told")


def contactors(case: Case) -> list[tuple[str, Held]]:
    return [(one.code, one) for one in told_pieces(case) if one.kind == "contactor"]


def contactor(case: Case, one: Held) -> Verdict:
    """A contactor's coil, its volts, and which way it breaks."""
    found = wired(case)
    coil, part = one.laid.piece.coil, case.stock.find(one.laid.piece.part)
    if coil == "none":
        return Verdict(
            status=Status.OVER,
            title=f"The coil of the {one.name} has no diode: its volts kill what switches it",
            margin=-1.0,
            candidates=lambda: (with_piece(found, one.code, "diode and clamp across the coil", coil="diode and clamp"),),
        )
    if not coil:
        return unknown(f"What takes the current of the coil of the {one.name} is not told")
    if isinstance(part, ContactorPart) and part.one_way and found.bus.regen_w > 0.0:
        title = f"The {one.name} breaks full current one way only, braking turns it round: open it at rest"
        return Verdict(status=Status.TIGHT, title=title, margin=0.0)
    if coil == "diode":
        title = f"A bare diode makes the {one.name} open slowly, its contacts burn: add a clamp of one to two times the coil's volts"
        return Verdict(
            status=Status.TIGHT,
            title=title,
            margin=0.0,
            candidates=lambda: (with_piece(found, one.code, "diode and clamp across the coil", coil="diode and clamp"),),
        )
    return Verdict(status=Status.CLEAR, title=f"The coil of the {one.name} has diode and clamp", margin=0.3)


def switches(case: Case) -> list[tuple[str, Held]]:
    return [(one.code, one) for one in told_pieces(case) if one.kind == "switch"]


def switch(case: Case, one: Held) -> Verdict:
    """A switch without direct volts of its own."""
    volts, full = one.laid.piece.volts, wired(case).pack.volts.full
    if volts is None:
        gap = arc_gap_mm(full)
        return unknown(
            f"The {one.name}: its direct volts are not known; an arc bridges about {gap:.0f} mm, a rating for mains says nothing"
        )
    status = Status.CLEAR if volts.value >= full else Status.OVER
    title = f"The {one.name} bears {case.say(volts.value, 'voltage')} direct, {case.say(full, 'voltage')} full"
    return Verdict(status=status, title=title, margin=volts.value / full - 1.0)


def mates(case: Case) -> Verdict | None:
    """Both halves of every joint."""
    if not told_pieces(case):
        return None
    found = wired(case)
    bad = joints_fit(found, case.stock)
    if not bad:
        open_ends = [one for one in found.pieces if one.kind == "joint" and not one.laid.piece.mate and one.branch.code != "charge"]
        if open_ends:
            return unknown(f"{len(open_ends)} joints: the other half was not told, so whether they mate is not known")
        return Verdict(status=Status.CLEAR, title="Both halves of every joint mate", margin=0.3)
    one, words = bad[0]
    half = one.laid.piece

    def edits() -> tuple[Edit, ...]:
        return (
            with_piece(found, one.code, "solder the half that fits onto the other side", mate=half.part),
            with_piece(found, one.code, "the other half on both sides", part=half.mate),
        )

    return Verdict(
        status=Status.OVER,
        title=f"{one.name[0].upper()}{one.name[1:]}: {words}; solder {half.solders or 'a new half'} or an adaptor",
        margin=-1.0,
        candidates=edits,
    )


def takes(case: Case) -> Verdict | None:
    """Leads that are too thick for their connector."""
    found = wired(case)
    for one in told_pieces(case):
        if one.kind not in ("joint", "key") or not one.laid.piece.part:
            continue
        part, mm2 = case.stock.get(ConnectorPart, one.laid.piece.part), 1e6 * one.laid.beside.area_m2
        if mm2 > TAKES * part.cable_mm2:
            title = f"{one.name[0].upper()}{one.name[1:]}: {part.name} is made for {part.cable_mm2:.3g} mm², its lead has {mm2:.3g} mm²"
            return Verdict(
                status=Status.TIGHT,
                title=title,
                margin=0.0,
                candidates=lambda one=one, kg=part.mass_kg: tuple(  # type: ignore[misc]
                    way.edit for way in ways(found, one, case.stock) if way.part.mass_kg > kg
                )[:3],
            )
    return None


def live_half(case: Case) -> Verdict | None:
    """Sockets on the side that stays live."""
    pieces = [one for one in told_pieces(case) if one.kind in ("joint", "key") and one.branch.code in ("pack", "brick", "charge")]
    bare = [one for one in pieces if one.laid.piece.pack_side == "plug"]
    if not bare:
        return None
    one, found = bare[0], wired(case)
    title = f"{one.name[0].upper()}{one.name[1:]}: bare pins on the pack's side short on anything; sockets on the live half"
    return Verdict(
        status=Status.OVER,
        title=title,
        margin=-1.0,
        candidates=lambda: (with_piece(found, one.code, "socket on the pack's side", pack_side="socket"),),
    )


def touch(case: Case) -> Verdict | None:
    """Above 60 V every live part is covered."""
    full = case.study.resolved.train.pack.full_v
    if float(full) <= TOUCH_V:
        return None
    cover = "dangerous to touch, every live part covered; local rules and licensed practice come first"
    title = f"{case.say(float(full), 'voltage')} full: {cover}"
    return Verdict(status=Status.NOT_CHECKED, title=title)


def chafes(case: Case) -> Verdict | None:
    """Edges that leads pass."""
    leads = [one for one in told_pieces(case) if one.kind == "lead"]
    if not leads:
        return None
    sharp = [one for one in leads if one.laid.piece.edge in ("metal", "carbon")]
    for one in sharp:
        gap = one.laid.piece.edge_gap
        if gap is None or gap.value < EDGE_M:
            at = "touches" if gap is None or gap.value == 0.0 else f"passes {case.say(gap.value, 'length')} from"
            found = wired(case)
            what = "cuts, and conducts" if one.laid.piece.edge == "carbon" else "cuts"
            title = f"The {one.name} {at} an edge of {one.laid.piece.edge}, which {what}: 5 mm away, or a grommet"
            return Verdict(
                status=Status.OVER,
                title=title,
                margin=-1.0,
                candidates=lambda one=one, found=found: (  # type: ignore[misc]
                    with_piece(found, one.code, "grommet at the edge", edge="plastic"),
                ),
            )
    if any(not one.laid.piece.edge for one in leads):
        return unknown("Which edges the leads pass is not told: metal and carbon edges cut them")
    return Verdict(status=Status.CLEAR, title="Leads keep off sharp edges", margin=0.3)


def bends(case: Case) -> Verdict | None:
    """Tightest bends against 4 outside diameters laid, 8 moving."""
    found, worst, words = wired(case), math.inf, ""
    for one in told_pieces(case):
        told_bend = one.laid.piece.bend
        if one.kind != "lead" or told_bend is None or not one.laid.piece.part:
            continue
        outer = case.stock.get(CablePart, one.laid.piece.part).cable.outer_m
        wanted = BEND[one.laid.piece.moves] * outer
        if told_bend.value / wanted < worst:
            worst = told_bend.value / wanted
            words = (
                f"{one.name[0].upper()}{one.name[1:]}: bent to {case.say(told_bend.value, 'length')}, {case.say(wanted, 'length')} at least"
            )
    if not words or found.proposed:
        return None
    return Verdict(status=Status.CLEAR if worst >= 1.0 else Status.OVER if worst < 0.5 else Status.TIGHT, title=words, margin=worst - 1.0)


def relief(case: Case) -> Verdict | None:
    """Joints that are held against pull and vibration."""
    pieces = [one for one in told_pieces(case) if one.kind == "joint" or (one.kind == "lead" and one.laid.piece.moves)]
    loose = [one for one in pieces if one.laid.piece.held == "no"]
    if loose:
        found, one = wired(case), loose[0]
        return Verdict(
            status=Status.TIGHT,
            title=f"The {one.name} is not held: a catch, sleeve or tie within 50 mm of it; a phase that comes off ends the controller",
            margin=0.0,
            candidates=lambda: (with_piece(found, one.code, f"{one.name} tied", held="yes"),),
        )
    if pieces and any(not one.laid.piece.held for one in pieces):
        return unknown("Whether joints are held against pull is not told")
    return None


def measured(case: Case) -> Verdict | None:
    """A lead that was measured against its table."""
    for one in told_pieces(case):
        told_ohm = one.laid.piece.ohm
        if one.kind != "lead" or told_ohm is None or not one.laid.piece.part or one.laid.length_m <= 0.0:
            continue
        usual = case.stock.get(CablePart, one.laid.piece.part).cable.ohm_m * one.laid.length_m
        if told_ohm.value > POOR_SHARE * usual:
            title = f"The {one.name} measures {told_ohm.value / usual:.2f} times its table: undersized, or not copper; not for this"
            return Verdict(status=Status.OVER, title=title, margin=POOR_SHARE - told_ohm.value / usual)
    return None
