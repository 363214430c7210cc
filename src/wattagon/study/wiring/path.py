"""The power path in order: as told, else proposed; where each piece lies and how long it is."""

from __future__ import annotations

import math
from collections.abc import Mapping

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CablePart, ConnectorPart
from wattagon.design.quantity import Known
from wattagon.design.tree import Bank, BoxChoice, Design, Piece, Wiring
from wattagon.design.tree.wiring import BRANCHES
from wattagon.physics.wiring.box import inside_c, plated_c
from wattagon.physics.wiring.copper import Cable
from wattagon.physics.wiring.warmth import Around
from wattagon.record import record
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.resolve.wiring import box_of
from wattagon.study.wiring.bears import cable_for
from wattagon.study.wiring.loads import Branch

STUB_M, BRANCH_M, CHARGE_M, PHASE_M, PACK_M = 0.08, 0.25, 0.4, 0.3, 0.5  # typical, where the layout tells nothing
LIMIT_C, CASED_LIMIT_C = 90.0, 70.0
WRAP_M = 0.003
CASED_RISE_K = 20.0  # of the air in a case of which nothing is told
BANKS_MF = ((12, 0.75), (20, 2.0), (200, 4.0))  # of a controller by cells in series; typical
BANK_ESR_OHM = 0.010
MORE_KEYS = ("key", "switch", "contactor")


@record(frozen=True, slots=True, kw_only=True)
class Laid:
    """A piece with where it lies: `length_m` one way, `told` as the design has it."""

    piece: Piece
    around: Around
    limit_c: float
    length_m: float
    length_known: Known
    beside: Cable
    told: bool


@record(frozen=True, slots=True, kw_only=True)
class Boxed:
    """The closed box: what its air and the controller in it come to at the worst lasting loss."""

    watts: float
    inside_c: float
    controller_c: float  # nan without a plate
    told: bool


def bank_of(wiring: Wiring, series: int) -> tuple[float, float, bool]:
    """(farad of one controller, its series resistance, whether assumed)."""
    bank = wiring.bank or Bank()
    usual = next(mf for most, mf in BANKS_MF if series <= most) * 1e-3
    farad = bank.farad.value if bank.farad is not None else usual
    return farad, bank.esr.value if bank.esr is not None else BANK_ESR_OHM, bank.farad is None


def boxed(choice: BoxChoice | None, watts: float, air_c: float, sun_w_m2: float, sink_k_w: float) -> Boxed | None:
    """A told box with what heats it; None without one.  `sink_k_w` is the controller's case to its plate."""
    if choice is None:
        return None
    box = box_of(choice)
    absorbed = 0.9 if choice.dark else 0.3
    inside = inside_c(box, watts, air_c, sun_w_m2, absorbed)
    if choice.plate is None or watts <= 0.0:
        return Boxed(watts=watts, inside_c=inside, controller_c=math.nan, told=True)
    alone = inside_c(box, 0.0, air_c, sun_w_m2, absorbed)
    case = plated_c(watts, sink_k_w, choice.plate.value, max((inside - alone) / watts, 1e-3), alone)
    left = max(watts - (case - air_c) / (sink_k_w + choice.plate.value), 0.0)  # what the plate does not take heats the air
    return Boxed(watts=watts, inside_c=inside_c(box, left, air_c, sun_w_m2, absorbed), controller_c=case, told=True)


def lengths(layout: LayoutStudy | None, motors: int) -> dict[str, tuple[float, Known]]:
    """Proposed one-way lengths by branch [m]: from the layout where it has pack and controllers, else typical."""
    supply = [lead.length_m for lead in layout.leads if lead.end.startswith("controller")] if layout is not None else []
    phase = [lead.length_m for lead in layout.leads if lead.end.startswith("motor")] if layout is not None else []
    supply = [
        lead.length_m
        for lead in (layout.leads if layout is not None else ())
        if not lead.end.startswith("motor") and "receiver" not in lead.begin
    ] or supply
    known = Known.COMPUTED if supply else Known.ASSUMED
    whole = max(supply, default=PACK_M)
    shared = 0.4 * whole if motors > 1 else whole
    return {
        "brick": (0.15, Known.ASSUMED),
        "pack": (max(shared - STUB_M, 0.05), known),
        "controller": (max(whole - shared, 0.05) if motors > 1 else BRANCH_M, known if motors > 1 else Known.ASSUMED),
        "phase": (max(phase, default=PHASE_M), Known.COMPUTED if phase else Known.ASSUMED),
        "charge": (CHARGE_M, Known.ASSUMED),
        "aux": (0.5, Known.ASSUMED),
        "brake": (0.3, Known.ASSUMED),
    }


def around_of(design: Design, piece: Piece, poles: int, box: Boxed | None) -> tuple[Around, float]:
    """(what a piece lies in, the temperature that it may have)."""
    at = design.brief.conditions
    bundle = piece.bundle if piece.bundle is not None else poles * piece.beside
    air, sun = at.air_temperature.value, at.sun.value
    if piece.laid == "case":
        inside = box.inside_c if box is not None else air + CASED_RISE_K
        return Around(air_c=round(inside, 2), bundle=bundle, height_m=at.altitude.value), CASED_LIMIT_C
    wrap = WRAP_M if piece.laid == "wrapped" else 0.0
    return Around(air_c=air, bundle=bundle, wrap_m=wrap, height_m=at.altitude.value, sun_w_m2=sun), LIMIT_C


def lay(
    design: Design,
    pieces: tuple[Piece, ...],
    stock: Catalogue,
    branches: Mapping[str, Branch],
    usual: Mapping[str, tuple[float, Known]],
    box: Boxed | None,
    told: bool,
) -> tuple[Laid, ...]:
    """Pieces in the order of their branches with what they lie in."""
    order = sorted(range(len(pieces)), key=lambda k: (BRANCHES.index(pieces[k].branch), k))
    made = []
    for k in order:
        piece = pieces[k]
        around, limit = around_of(design, piece, branches[piece.branch].poles, box)
        length, known = usual[piece.branch]
        if piece.kind == "lead" and piece.length is not None:
            length, known = piece.length.value, piece.length.known
        made.append(
            Laid(
                piece=piece,
                around=around,
                limit_c=limit,
                length_m=length if piece.kind == "lead" else 0.0,
                length_known=known,
                beside=_cable_beside(pieces, piece, stock),
                told=told,
            )
        )
    return tuple(made)


def _cable_beside(pieces: tuple[Piece, ...], piece: Piece, stock: Catalogue) -> Cable:
    """The thinnest told lead of its branch, else what its connector usually has."""
    leads = [stock.get(CablePart, one.part) for one in pieces if one.branch == piece.branch and one.kind == "lead" and one.part]
    if leads:
        return min(leads, key=lambda part: part.area_mm2).cable
    if piece.kind in ("joint", "key") and piece.part:
        return cable_for(stock.get(ConnectorPart, piece.part).cable_mm2, stock).cable
    return cable_for(5.0, stock).cable
