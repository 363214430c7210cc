"""What each kind of piece bears: for long, for seconds, and how warm it gets; a row of the table for each kind."""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import BoardPart, CablePart, ConnectorPart, ContactorPart, FusePart
from wattagon.design.tree import Piece
from wattagon.physics.wiring import contact as contacts
from wattagon.physics.wiring import fuse as fuses
from wattagon.physics.wiring import short
from wattagon.physics.wiring.copper import Cable
from wattagon.physics.wiring.warmth import Around, ampacity_a, copper_c
from wattagon.study.resolve import piece_ohm

TAUS = {"fuse": 10.0, "key": 90.0, "switch": 30.0, "contactor": 120.0, "board": 90.0, "converter": 30.0, "resistor": 30.0, "meter": 60.0}
CELLS = 32  # of a contact's cable: within 1 % of the finer chain
SHORT_TIMES = 2.0  # times its lasting figure for ten seconds, of what nobody rated
LUMP_RISE_K = 45.0  # of a piece at its lasting rating, where nothing else tells
FUSE_RISE_K = 60.0


class Bears(NamedTuple):
    """What a piece bears; inf and nan where it is not known."""

    rating_a: float
    tau_s: float
    limit_c: float
    ohm: float  # over both poles at 20 C, of a phase piece of one lead


@functools.lru_cache(maxsize=4096)
def _ampacity(cable: Cable, around: Around, limit_c: float) -> tuple[float, float]:
    if limit_c <= around.air_c + 0.5:
        return 0.0, 60.0
    return ampacity_a(cable, around, limit_c), short.time_constant_s(cable, around, limit_c)


@functools.lru_cache(maxsize=1024)
def _ladder(cable: Cable, around: Around, limit_c: float) -> short.Ladder:
    return short.ladder(cable, around, limit_c)


@functools.lru_cache(maxsize=4096)
def _lead_short(cable: Cable, around: Around, limit_c: float, seconds: float, before_a: float) -> float:
    return _ladder(cable, around, limit_c).bears_a(seconds, limit_c, before_a)


@functools.lru_cache(maxsize=4096)
def _contact_lasting(one: contacts.Contact, around: Around, limit_c: float) -> tuple[float, float]:
    if limit_c <= around.air_c + 0.5:
        return 0.0, 60.0
    lasting = min(contacts.lasting_a(one, around, limit_c), _ampacity(one.cable, around, limit_c)[0])
    return lasting, contacts.time_constant_s(one, around, limit_c, CELLS)


@functools.lru_cache(maxsize=4096)
def _contact_short(one: contacts.Contact, around: Around, limit_c: float, seconds: float) -> float:
    return contacts.short_a(one, around, seconds, limit_c, CELLS)[0]


@functools.lru_cache(maxsize=4096)
def lead_c(cable: Cable, around: Around, amps: float) -> float:
    """Steady temperature of a lead's copper [C]."""
    return copper_c(cable, around, amps)


def cable_for(mm2: float, stock: Catalogue) -> CablePart:
    """The cable of stock whose copper is nearest to an area, the cheapest of like ones."""
    return min(stock.all(CablePart), key=lambda part: (abs(math.log(part.area_mm2 / mm2)), part.price))


def contact_of(part: ConnectorPart, piece: Piece, cable: Cable) -> contacts.Contact:
    """A worn contact on the cable beside it, as it is judged."""
    ohm = piece.ohm.value if piece.ohm is not None else 1e-3 * part.contact_mohm
    new = contacts.Contact(ohm=round(ohm, 9), mass_kg=1e-3 * part.contact_g, to_air_w_k=1e-3 * part.to_air_mw_k / part.poles, cable=cable)
    return contacts.worn(new)


def bears(piece: Piece, stock: Catalogue, around: Around, limit_c: float, beside: Cable, length_m: float) -> Bears:
    """Of one piece; `beside` is the cable that it sits on.  Raises PathError for a part that stock does not have."""
    ohm = piece_ohm(piece, stock, length_m)
    told = piece.rating.value if piece.rating is not None else None
    if piece.kind == "lead":
        if not piece.part:
            return Bears(math.nan, 60.0, limit_c, ohm)
        part = stock.get(CablePart, piece.part)
        limit = min(limit_c, part.limit_c)
        rating, tau = _ampacity(part.cable, around, limit)
        return Bears(rating * piece.beside, tau, limit, ohm)
    if piece.kind in ("joint", "key") and piece.part:
        connector = stock.get(ConnectorPart, piece.part)
        limit = min(limit_c, connector.limit_c)
        one = contact_of(connector, piece, beside)
        rating, tau = _contact_lasting(one, around, limit)
        return Bears((told if told is not None else rating) * piece.beside, tau, limit, ohm)
    if piece.kind == "fuse" and piece.part:
        fuse = stock.get(FusePart, piece.part)
        return Bears(fuses.CARRY * fuses.warm_share(around.air_c) * fuse.rating_a, TAUS["fuse"], limit_c, ohm)
    if piece.kind == "contactor" and piece.part:
        return Bears(stock.get(ContactorPart, piece.part).rating_a, TAUS["contactor"], limit_c, ohm)
    if piece.kind == "board" and piece.part:
        return Bears(stock.get(BoardPart, piece.part).lasting_a, TAUS["board"], limit_c, ohm)
    return Bears(told if told is not None else math.nan, TAUS.get(piece.kind, 60.0), limit_c, ohm)


def bears_for(piece: Piece, stock: Catalogue, around: Around, found: Bears, beside: Cable, seconds: float, before_a: float) -> float:
    """Current that it bears for a time after a long one before [A]; nan where nothing is known."""
    before = round(before_a / max(piece.beside, 1), 1)
    if piece.kind == "lead" and piece.part:
        cable = stock.get(CablePart, piece.part).cable
        if found.limit_c <= around.air_c + 0.5:
            return 0.0
        return piece.beside * _lead_short(cable, around, found.limit_c, seconds, before)
    if piece.kind in ("joint", "key") and piece.part and piece.rating is None:
        if found.limit_c <= around.air_c + 0.5:
            return 0.0
        connector = stock.get(ConnectorPart, piece.part)
        one = contact_of(connector, piece, beside)
        cold = piece.beside * _contact_short(one, around, found.limit_c, seconds)
        return max(_after(cold, found.rating_a, before_a), found.rating_a)
    if piece.kind == "fuse" and piece.part:
        part = stock.get(FusePart, piece.part)
        return max(_fuse_for(part, around.air_c, seconds), found.rating_a)
    if not math.isfinite(found.rating_a):
        return math.nan
    share = -math.expm1(-seconds / found.tau_s)
    by_heat = found.rating_a / math.sqrt(share)
    most = SHORT_TIMES * found.rating_a
    if piece.kind == "contactor" and piece.part:
        told = stock.get(ContactorPart, piece.part).short_a
        most = told if told is not None else most
    return max(min(_after(by_heat, found.rating_a, before_a), most), found.rating_a)


def _after(cold_a: float, rating_a: float, before_a: float) -> float:
    """A short-time current after a preload: the room that is left in squares."""
    if rating_a <= 0.0:
        return 0.0
    left = max(1.0 - (before_a / rating_a) ** 2, 0.0)
    return math.sqrt(rating_a**2 + left * max(cold_a**2 - rating_a**2, 0.0))


@functools.lru_cache(maxsize=1024)
def _fuse_for(part: FusePart, air_c: float, seconds: float) -> float:
    """Current whose earliest clearing time is twice a duration."""
    curve, rating = part.times, fuses.warm_share(air_c) * part.rating_a
    low, high = curve.multiples[0], 60.0
    if fuses.PEAK_SHARE * fuses.clears_s(curve, low, "earliest") < seconds:
        return rating * low * 0.999
    for _ in range(40):
        middle = math.sqrt(low * high)
        low, high = (middle, high) if fuses.PEAK_SHARE * fuses.clears_s(curve, middle, "earliest") >= seconds else (low, middle)
    return rating * low


def temperature_of(piece: Piece, stock: Catalogue, around: Around, found: Bears, beside: Cable, amps: float) -> float:
    """How warm it gets at a lasting current [C]; inf where nothing settles, nan where it is not known."""
    each = round(amps / max(piece.beside, 1), 2)
    if piece.kind == "lead" and piece.part:
        return lead_c(stock.get(CablePart, piece.part).cable, around, each)
    if piece.kind in ("joint", "key") and piece.part:
        one = contact_of(stock.get(ConnectorPart, piece.part), piece, beside)
        if found.limit_c <= around.air_c + 0.5:
            return math.inf
        return around.air_c + contacts.rise_k(one, around, each, found.limit_c)
    if not math.isfinite(found.rating_a) or found.rating_a <= 0.0:
        return math.nan
    rise = FUSE_RISE_K if piece.kind == "fuse" else LUMP_RISE_K
    return around.air_c + rise * (amps / found.rating_a) ** 2
