"""Other parts of stock for a piece, the next size down and up first: what each would be at."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import BoardPart, CablePart, ConnectorPart, ContactorPart, FusePart, Part
from wattagon.design.paths import Edit
from wattagon.design.tree import Piece, Wiring
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.wiring.path import Laid
from wattagon.study.wiring.pieces import Held, held
from wattagon.study.wiring.study import WiringStudy

KINDS: dict[str, type[Part]] = {
    "lead": CablePart,
    "joint": ConnectorPart,
    "key": ConnectorPart,
    "fuse": FusePart,
    "contactor": ContactorPart,
    "board": BoardPart,
}


@record(frozen=True, slots=True, kw_only=True)
class Way:
    """One other part: what becomes of the piece, and the edit that takes it."""

    part: Part
    held: Held
    share: float
    status: Status
    loss_w: float
    mass_kg: float
    price: float
    edit: Edit


def size_of(part: Part) -> float:
    """By what parts of a kind are put in order."""
    if isinstance(part, CablePart):
        return part.area_mm2
    if isinstance(part, ConnectorPart):
        return part.cable_mm2 + 0.001 / part.contact_mohm
    if isinstance(part, (FusePart, ContactorPart)):
        return part.rating_a
    return part.lasting_a if isinstance(part, BoardPart) else 0.0


def in_order(piece: Piece, stock: Catalogue) -> list[Part]:
    """Parts of stock that may stand in a piece's place, by size."""
    kind = KINDS.get(piece.kind)
    if kind is None:
        return []
    if piece.kind in ("joint", "key"):
        connectors = (part for part in stock.all(ConnectorPart) if part.id == piece.part or _joins(piece, part, stock))
        return sorted(connectors, key=lambda one: (size_of(one), one.price))
    fits = list(stock.all(kind))
    if piece.kind == "lead":
        fits = [one for one in fits if isinstance(one, CablePart) and (one.limit_c > 150.0 or one.id == piece.part)]
    now = stock.find(piece.part) if piece.part else None
    if isinstance(now, ContactorPart):  # what feeds its coil stays
        fits = [one for one in fits if isinstance(one, ContactorPart) and one.coil_v == now.coil_v]
    return sorted(fits, key=lambda one: (size_of(one), one.price))


def _joins(piece: Piece, part: ConnectorPart, stock: Catalogue) -> bool:
    """Whether a connector may stand in a joint's place: on its branch, and bolted only where it is bolted now."""
    now = stock.find(piece.part) if piece.part else None
    bolted = isinstance(now, ConnectorPart) and now.shape == "lug"
    if (part.shape == "lug") != bolted or part.id.startswith("socket") != (piece.branch == "charge"):
        return False
    return part.shape in ("bullet", "lug") or part.poles == 3 if piece.branch == "phase" else part.poles <= 2


def ways(found: WiringStudy, one: Held, stock: Catalogue, most: int = 8, cancelled: Callable[[], bool] = lambda: False) -> list[Way]:
    """The neighbours in stock by size, from two below on; fewer when it is cancelled."""
    options = in_order(one.laid.piece, stock)
    at = next((k for k, part in enumerate(options) if part.id == one.laid.piece.part), 0)
    low = max(at - 2, 0)
    near = [part for part in options[low : low + most + 1] if part.id != one.laid.piece.part]
    return [_way(found, one, part, stock) for part in near if not cancelled()]


def stepped(found: WiringStudy, one: Held, stock: Catalogue, step: int) -> Edit | None:
    """The edit of so many steps through stock; None at its end."""
    options = in_order(one.laid.piece, stock)
    at = next((k for k, part in enumerate(options) if part.id == one.laid.piece.part), None)
    to = (at if at is not None else -1) + step
    if not 0 <= to < len(options):
        return None
    return with_piece(found, one.code, f"{one.name}: {options[to].name}", part=options[to].id)


def _way(found: WiringStudy, one: Held, part: Part, stock: Catalogue) -> Way:
    piece = replace(one.laid.piece, part=part.id, rating=None, ohm=None)
    beside = part.cable if isinstance(part, CablePart) else one.laid.beside
    laid = Laid(
        piece=piece,
        around=one.laid.around,
        limit_c=one.laid.limit_c,
        length_m=one.laid.length_m,
        length_known=one.laid.length_known,
        beside=beside,
        told=one.laid.told,
    )
    other = held(laid, one.branch, stock)
    many = one.copper_m * one.branch.count if isinstance(part, CablePart) else one.branch.count
    return Way(
        part=part,
        held=other,
        share=other.worst,
        status=other.status,
        loss_w=other.loss_w,
        mass_kg=part.mass_kg * many,
        price=part.price * many,
        edit=with_piece(found, one.code, f"{one.name}: {part.name}", part=part.id, rating=None, ohm=None),
    )


def taken(found: WiringStudy) -> Wiring:
    """The path as the design keeps it: a proposal is written down."""
    return found.told


def with_piece(found: WiringStudy, code: str, label: str, **changes: object) -> Edit:
    """An edit of one piece; the proposed path becomes the design's own with it.  Another connector brings its own other half."""
    told = taken(found)
    old = next((one for one in told.pieces if one.id == code), None)
    if old is not None and "part" in changes and old.part and old.mate == old.part:
        changes.setdefault("mate", changes["part"])
    pieces = tuple(replace(one, **changes) if one.id == code else one for one in told.pieces)  # type: ignore[arg-type]
    return Edit(label=label, changes=(("variant.wiring", replace(told, pieces=pieces)),))


def with_wiring(found: WiringStudy, label: str, **changes: object) -> Edit:
    """An edit of the wiring's own fields."""
    return Edit(label=label, changes=(("variant.wiring", replace(taken(found), **changes)),))  # type: ignore[arg-type]


def joints_fit(found: WiringStudy, stock: Catalogue) -> list[tuple[Held, str]]:
    """Joints whose two halves do not mate, with the words why."""
    bad = []
    for one in found.pieces:
        piece = one.laid.piece
        if one.kind not in ("joint", "key") or not piece.mate or not piece.part:
            continue
        a, b = stock.get(ConnectorPart, piece.part), stock.get(ConnectorPart, piece.mate)
        if a.mates != b.mates:
            bad.append((one, f"{a.name} does not go into {b.name}"))
    return bad
