"""What is to be cut, crimped and drilled: leads by length and colour, lugs, shrink, glands."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CablePart, ConnectorPart
from wattagon.study.wiring.study import WiringStudy

SHRINK_M, SPARE_M = 0.03, 0.02
POLES = {"phase": ("phase 1", "phase 2", "phase 3")}
USUAL = {"plus": "red", "minus": "black"}
GLANDS = ((6.5, 12.0, "3 to 6.5"), (8.0, 16.0, "4 to 8"), (10.0, 20.0, "6 to 10"), (13.0, 25.0, "9 to 13"), (18.0, 32.0, "13 to 18"))
# crimp pull by copper area [mm2: careful N]; two sources, the careful one
PULL_N = ((0.52, 58), (0.82, 89), (1.31, 133), (2.08, 222), (3.31, 311), (5.26, 356), (8.37, 400), (13.3, 445), (21.15, 623), (33.63, 801))


class Cut(NamedTuple):
    """One lead to be cut, as often as `pieces`; lengths in metres."""

    name: str
    pole: str
    pieces: int
    length_m: float
    cable: str
    area_mm2: float
    colour: str
    ends: str
    shrink_m: float
    pull_n: float  # that a sample of its crimp bears at least


class Gland(NamedTuple):
    """One hole: for which lead, the gland's thread [mm], its insert and the drill [mm]."""

    name: str
    pieces: int
    outer_mm: float
    thread_mm: float
    insert: str
    drill_mm: float


def cut_list(found: WiringStudy, stock: Catalogue) -> list[Cut]:
    """Every lead of every branch, a row a pole."""
    made = []
    for one in found.pieces:
        piece = one.laid.piece
        if one.kind != "lead" or not piece.part:
            continue
        part = stock.get(CablePart, piece.part)
        poles = POLES.get(piece.branch, ("plus", "minus")) if one.branch.poles != 2 else ("plus", "minus")
        for pole in poles:
            colour = piece.colour if piece.colour and piece.branch == "phase" else _colour(piece.colour, pole)
            made.append(
                Cut(
                    name=one.name,
                    pole=pole,
                    pieces=one.branch.count * piece.beside,
                    length_m=math.ceil((one.laid.length_m + SPARE_M) * 200.0) / 200.0,
                    cable=part.name,
                    area_mm2=part.area_mm2,
                    colour=colour,
                    ends=_ends(found, one.branch.code, stock, soldered=piece.solder),
                    shrink_m=2.0 * SHRINK_M,
                    pull_n=float(max((n for mm2, n in PULL_N if mm2 <= part.area_mm2 * 1.05), default=PULL_N[0][1])),
                )
            )
    return made


def _colour(told: str, pole: str) -> str:
    """Of `red/black` the half of its pole; else as is usual."""
    if "/" in told:
        plus, _, minus = told.partition("/")
        return (plus if pole == "plus" else minus).strip()
    return told or USUAL.get(pole, "not told")


def _ends(found: WiringStudy, branch: str, stock: Catalogue, *, soldered: bool) -> str:
    joints = [
        stock.get(ConnectorPart, p.laid.piece.part).name
        for p in found.pieces
        if p.kind == "joint" and p.branch.code == branch and p.laid.piece.part
    ]
    kind = "soldered" if soldered else "crimped"
    return f"{joints[0]}, {kind}" if joints else f"lug, {kind}"


def glands(found: WiringStudy, stock: Catalogue) -> list[Gland]:
    """One gland for each lead that goes into the box: pieces laid in the case."""
    made = []
    for one in found.pieces:
        piece = one.laid.piece
        if one.kind != "lead" or piece.laid != "case" or not piece.part:
            continue
        outer = stock.get(CablePart, piece.part).outer_mm
        fits = next(((thread, insert) for most, thread, insert in GLANDS if outer <= most), None)
        if fits is None:
            continue
        count = one.branch.poles * one.branch.count * piece.beside
        made.append(Gland(one.name, count, outer, fits[0], fits[1], fits[0] + 0.3))
    return made
