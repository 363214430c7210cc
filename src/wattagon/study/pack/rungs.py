"""The volts ladder: what a pack does, and every rating that it meets."""

from __future__ import annotations

import math

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import ChargerPart, ConnectorPart, ContactorPart, FusePart, ResistorPart
from wattagon.design.tree import Variant
from wattagon.physics import pack as packs
from wattagon.record import record
from wattagon.study.findings.status import Status
from wattagon.study.resolve import Resolved, board_of

SOLID = (0.85, 0.90)  # of transistors and capacitors: clear, tight
SWITCHED = (0.95, 1.0)  # of fuses, contacts and switches: their direct volts
CHARGER_OFF = 0.005  # of the full pack


@record(frozen=True, slots=True, kw_only=True)
class Rung:
    """One rating on the ladder; `volts` is nan where nobody told it."""

    name: str
    code: str
    volts: float
    full_v: float
    bounds: tuple[float, float] = SOLID
    at_least: bool = True  # else it should be met, as by a charger

    @property
    def margin(self) -> float:
        """Room over what it should bear as a share of the rating; below 0 is over."""
        if not self.at_least:
            return CHARGER_OFF - abs(self.volts / self.full_v - 1.0)
        return self.bounds[1] - self.full_v / self.volts

    @property
    def status(self) -> Status:
        if not math.isfinite(self.volts):
            return Status.NOT_CHECKED
        if not self.at_least:
            off = self.volts / self.full_v - 1.0
            return Status.CLEAR if abs(off) <= CHARGER_OFF else Status.TIGHT if off < 0.0 else Status.OVER
        share = self.full_v / self.volts
        return Status.CLEAR if share <= self.bounds[0] + 1e-9 else Status.TIGHT if share <= self.bounds[1] + 1e-9 else Status.OVER


@record(frozen=True, slots=True, kw_only=True)
class Volts:
    """What the pack does [V]."""

    full: float
    charged: float  # to where it is charged
    nominal: float
    storage: float
    cut_start: float
    cut_end: float
    empty: float
    sag: float
    sag_a: float
    worst: float  # lowest of all rides; nan before they were ridden
    highest: float  # of all rides


def volts_of(resolved: Resolved, lowest: float, highest: float) -> Volts:
    """The column of a pack; `sag` is the bus at charge 0.5 and the largest pack current that the settings allow."""
    pack, controller = resolved.train.pack, resolved.train.controller
    series, chemistry = float(pack.series), pack.chemistry
    emf, ohm = float(pack.emf_v(0.5)), float(pack.steady_ohm)
    most = float(resolved.train.count) * float(controller.battery_current_a)
    start, end = float(controller.cutback_start_v), float(controller.cutback_end_v)
    amps = min(most, max(most * (emf - end) / (start - end + most * ohm), 0.0)) if start > end else most
    battery = resolved.variant.battery
    told = battery.charging.volts if battery is not None and battery.charging is not None else None
    full = float(pack.full_v)
    return Volts(
        full=full,
        charged=told.value if told is not None else full,
        nominal=emf,
        storage=series * packs.STORAGE_V[chemistry],
        cut_start=start,
        cut_end=end,
        empty=series * packs.ABSOLUTE_CUTOFF_V[chemistry],
        sag=emf - ohm * amps,
        sag_a=amps,
        worst=lowest,
        highest=highest,
    )


def rungs_of(resolved: Resolved, stock: Catalogue, volts: Volts) -> tuple[Rung, ...]:
    """Every rating that the full pack meets, of parts and of the pieces that are told; the lowest first, unknown ones last."""
    variant, full = resolved.variant, volts.charged
    made = [_rung("controller", "controller", resolved.controller_part.voltage_max_v, full)]
    if resolved.motor_part.voltage_max_v is not None:
        made.append(_rung("motor's label", "motor", resolved.motor_part.voltage_max_v, full, SWITCHED))
    wiring = variant.wiring
    if wiring is not None and wiring.bank is not None:
        told = wiring.bank.volts
        made.append(_rung("capacitors", "capacitors", told.value if told is not None else None, full))
    board = board_of(variant, stock)
    if board is not None:
        limit = board.series_high * packs.CHARGE_LIMIT_V[resolved.train.pack.chemistry]
        made.append(_rung(f"board, {board.series_high} cells", "board", limit, full, (1.0, 1.0)))
    battery = variant.battery
    if battery is not None and battery.charging is not None and battery.charging.charger and battery.charging.together:
        made.append(_charger(stock.get(ChargerPart, battery.charging.charger), volts))
    made += _pieces(variant, stock, full)
    return tuple(sorted(made, key=lambda rung: rung.volts if math.isfinite(rung.volts) else math.inf))


def _charger(part: ChargerPart, volts: Volts) -> Rung:
    low = part.volts_low if part.volts_low is not None else part.volts
    ends = min(max(volts.charged, low), part.volts)
    return Rung(name="charger", code="charger", volts=ends, full_v=volts.charged, at_least=False)


def _rung(name: str, code: str, volts: float | None, full: float, bounds: tuple[float, float] = SOLID) -> Rung:
    return Rung(name=name, code=code, volts=volts if volts is not None else math.nan, full_v=full, bounds=bounds)


def _pieces(variant: Variant, stock: Catalogue, full: float) -> list[Rung]:
    """Ratings of the told pieces; like ones once, by the lowest."""
    found: dict[str, Rung] = {}
    kinds = {"joint": ConnectorPart, "key": ConnectorPart, "fuse": FusePart, "contactor": ContactorPart}
    for piece in variant.wiring.pieces if variant.wiring is not None else ():
        if (piece.kind in ("lead", "board") or piece.branch in ("aux", "phase")) and piece.kind not in ("converter", "meter"):
            continue
        rating = piece.volts.value if piece.volts is not None else None
        part = stock.find(piece.part) if piece.part else None
        if rating is None and isinstance(part, (ConnectorPart, FusePart, ContactorPart, ResistorPart)):
            if isinstance(part, ConnectorPart) and part.shape == "lug":
                continue
            rating = part.volts
        elif piece.kind not in kinds and piece.kind not in ("converter", "meter", "switch"):
            continue
        name = {"joint": "connector", "key": "loop key", "converter": "converter"}.get(piece.kind, piece.kind)
        bounds = SOLID if piece.kind in ("converter", "meter") else SWITCHED
        rung = _rung(name, f"{piece.kind}.{piece.id}", rating, full, bounds)
        known = found.get(name)
        worse = known is None or (math.isfinite(known.volts) and not rung.volts >= known.volts)
        if worse:
            found[name] = rung
    return list(found.values())


@record(frozen=True, slots=True, kw_only=True)
class PartWay:
    """What charging only so far gives, under a rating that a full pack would break."""

    rating_v: float
    volts: float
    cell_v: float
    charge: float
    energy_share: float  # of the window's energy
    wrong_v: float  # what one wrong charge would put there


def part_way(resolved: Resolved, rating_v: float, share: float = SOLID[1]) -> PartWay:
    """Charging to what a rating bears."""
    pack = resolved.train.pack
    series, volts = float(pack.series), share * rating_v
    charge = float(packs.charge_at(pack.chemistry, volts / series))
    top, bottom = resolved.window
    whole = float(pack.chemical_wh(top, bottom))
    left = float(pack.chemical_wh(min(charge, top), bottom)) if charge > bottom else 0.0
    return PartWay(
        rating_v=rating_v,
        volts=volts,
        cell_v=volts / series,
        charge=charge,
        energy_share=left / whole if whole > 0.0 else 0.0,
        wrong_v=float(pack.full_v),
    )
