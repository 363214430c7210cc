"""What told wiring resists: between cells and controllers, and between controllers and motors."""

from __future__ import annotations

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import BoardPart, CablePart, ConnectorPart, ContactorPart, FusePart
from wattagon.design.tree import BoxChoice, Piece, Variant
from wattagon.physics.wiring.box import METAL_W_MK, PLASTIC_W_MK, Box

LUMP_OHM = {"key": 0.4e-3, "switch": 1.0e-3, "meter": 0.3e-3}  # what stock does not have; typical


def piece_ohm(piece: Piece, stock: Catalogue, length_m: float | None = None) -> float:
    """Resistance of one piece at 20 C over both poles (of a phase piece: of one lead) [ohm].

    A lead without a length resists nothing here.  Raises PathError for a part that stock does not have.
    """
    poles = 1 if piece.branch == "phase" else 2
    told = piece.ohm.value if piece.ohm is not None else None
    if piece.kind == "lead":
        length = piece.length.value if piece.length is not None else length_m or 0.0
        each = told if told is not None else (stock.get(CablePart, piece.part).cable.ohm_m * length if piece.part else 0.0)
        return poles * each / piece.beside
    if piece.kind == "joint":
        contact = told if told is not None else 1e-3 * stock.get(ConnectorPart, piece.part).contact_mohm if piece.part else 0.0
        return poles * contact / piece.beside
    if told is not None:
        return told
    if not piece.part:
        return LUMP_OHM.get(piece.kind, 0.0)
    if piece.kind == "fuse":
        return 1e-3 * stock.get(FusePart, piece.part).cold_mohm
    if piece.kind == "contactor":
        return 1e-3 * stock.get(ContactorPart, piece.part).contact_mohm
    if piece.kind == "key":
        return 2e-3 * stock.get(ConnectorPart, piece.part).contact_mohm
    if piece.kind == "board":
        return 1e-3 * stock.get(BoardPart, piece.part).on_mohm
    return 0.0


def box_of(choice: BoxChoice) -> Box:
    """A told box as the equations take it."""
    return Box(
        length_m=choice.length.value,
        width_m=choice.width.value,
        height_m=choice.height.value,
        wall_m=choice.wall.value if choice.wall is not None else 0.002,
        wall_w_mk=METAL_W_MK if choice.metal else PLASTIC_W_MK,
    )


def pack_side_ohm(variant: Variant, stock: Catalogue, strings: int) -> float | None:
    """From cells to controllers as the drive's pack counts it: in series with all controllers together [ohm]; None without told leads.

    What each of n controllers has alone counts an n-th; bricks' own leads by the strings.
    """
    wiring = variant.wiring
    if wiring is None or not any(p.kind == "lead" and p.branch in ("pack", "controller") and p.length is not None for p in wiring.pieces):
        return None
    shares = {"pack": 1.0, "controller": 1.0 / max(variant.motor.count, 1), "brick": 1.0 / max(strings, 1)}
    return sum(shares[p.branch] * piece_ohm(p, stock) for p in wiring.pieces if p.branch in shares)


def phase_ohm(variant: Variant, stock: Catalogue) -> float:
    """What told phase leads and their joints add to the resistance of a motor, lead to lead [ohm]: twice that of one."""
    wiring = variant.wiring
    if wiring is None:
        return 0.0
    return 2.0 * sum(piece_ohm(p, stock) for p in wiring.pieces if p.branch == "phase")
