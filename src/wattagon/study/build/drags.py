"""What else a part asks for, and what of stock could stand for it."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ConnectorPart, ControllerPart, LoopPart, MotorPart, Part, ToothedPart, WheelPart
from wattagon.design.parts.families import toothed
from wattagon.study.build.gathered import Gathered
from wattagon.study.build.row import Row
from wattagon.study.pack.charging import charger_for

NEAR = 0.12  # by which a figure of another part may differ; judged
BORE_NEAR_MM = 0.05


def drags(found: Gathered, row: Row) -> tuple[str, ...]:
    """In words, each naming what is asked for and why."""
    asks = _ASKS.get(row.kind)
    return tuple(asks(found, row)) if asks is not None else ()


def _cells(found: Gathered, _row: Row) -> list[str]:
    said, battery, charged = [], found.drive.resolved.variant.battery, found.pack.charged
    told = battery is not None and battery.charging is not None and battery.charging.charger
    if not told:
        fits = charger_for(charged.volts, charged.amps, found.stock)
        offer = f"stock has {fits.name}" if fits is not None else "stock has none"
        said.append(f"a charger that ends at {found.say(charged.volts, 'voltage')}: {offer}")
    if battery is None or not battery.school:
        said.append("a protection board, or a meter for every group: the school is not told")
    cell = found.drive.resolved.cell_part
    if cell.brick_series * cell.brick_parallel == 1:
        said.append("strips between the cells, a balance lead, and a spot welder")
    elif found.drive.resolved.variant.pack.parallel > cell.brick_parallel or found.drive.resolved.variant.pack.series > cell.brick_series:
        said.append("a lead that joins the packs, and both halves of its connectors")
    return said


def _motor(found: Gathered, _row: Row) -> list[str]:
    motor, variant, said = found.drive.resolved.motor_part, found.drive.resolved.variant, []
    phases = [one for one in found.wiring.pieces if one.branch.code == "phase" and one.kind == "joint" and one.laid.piece.part]
    if phases and not found.wiring.proposed:
        said.append(f"three halves of {found.stock.get(ConnectorPart, phases[0].laid.piece.part).name} on its leads")
    else:
        said.append("three connectors for its phase leads, of the kind that the controller has")
    if variant.stages and motor.shaft_mm is not None:
        stage = variant.stages[0]
        part = next((p for p in toothed(found.stock, stage.profile, "driver") if p.teeth == stage.driver_teeth), None)
        if part is not None and part.bore_mm is not None and abs(part.bore_mm - motor.shaft_mm) > BORE_NEAR_MM:
            way = "a sleeve" if part.bore_mm > motor.shaft_mm else "boring out"
            said.append(f"{way}: its shaft is {motor.shaft_mm:g} mm, the pulley's bore {part.bore_mm:g} mm")
    if motor.family in ("sensored", "hub"):
        said.append("a sensor lead with the controller's plug")
    return said


def _controller(found: Gathered, _row: Row) -> list[str]:
    said = ["a transmitter and receiver, or a lever with its lead"]
    joints = [one for one in found.wiring.pieces if one.kind == "joint" and one.branch.code in ("pack", "controller")]
    if not joints:
        said.append("both halves of the plug to the pack")
    return said


def _driven(found: Gathered, row: Row) -> list[str]:
    part = found.stock.get(ToothedPart, row.part)
    if part.role != "driver" and not found.design.vehicle.kind.floats:
        circle = found.design.vehicle.hub_bolt_circle
        told = f" on {found.say(circle.value, 'length')}" if circle is not None else ""
        return [f"an adapter to the wheel's bolts{told}, where its holes do not fall on them"]
    return []


def _connector(found: Gathered, row: Row) -> list[str]:
    part = found.stock.find(row.part)
    if isinstance(part, ConnectorPart) and "other half" not in row.used:
        return ["both halves: one a side, the socket on the side of the cells"]
    return []


def _fuse(_found: Gathered, _row: Row) -> list[str]:
    return ["its holder, and a spare aboard"]


_ASKS: dict[str, Callable[[Gathered, Row], list[str]]] = {
    "cell": _cells,
    "motor": _motor,
    "controller": _controller,
    "driven": _driven,
    "connector": _connector,
    "fuse": _fuse,
}


class Other(NamedTuple):
    """A part of stock that could stand for another: delivery [days] and price of one."""

    id: str
    name: str
    lead_days: int
    price: float


# figures of a kind that have to be near, and words that have to be the same
_NEAR: dict[type[Part], tuple[tuple[str, ...], tuple[str, ...]]] = {
    MotorPart: (("kv_rpm_per_v", "can_mm"), ("family",)),
    ControllerPart: (("voltage_max_v",), ()),
    CellPart: (("capacity_ah", "continuous_a"), ("chemistry", "brick_series", "brick_parallel")),
    ToothedPart: ((), ("profile", "teeth", "role")),
    LoopPart: (("teeth",), ("profile", "width_mm")),
    WheelPart: (("diameter_m",), ("family",)),
}


def others(stock: Catalogue, part_id: str, most: int = 4) -> list[Other]:
    """Parts of stock that do nearly the same and come sooner, the soonest first; nothing for what stock cannot compare."""
    part = stock.find(part_id)
    if part is None or type(part) not in _NEAR:
        return []
    near, same = _NEAR[type(part)]
    found = []
    for other in stock.all(type(part)):
        if other.id == part.id or other.lead_days >= part.lead_days:
            continue
        if any(getattr(other, name, None) != getattr(part, name, None) for name in same):
            continue
        if all(_close(getattr(other, name, None), getattr(part, name, None)) for name in near):
            found.append(Other(other.id, other.name, other.lead_days, other.price))
    return sorted(found, key=lambda one: (one.lead_days, one.price))[:most]


def _close(a: object, b: object) -> bool:
    if not isinstance(a, (int, float)) or not isinstance(b, (int, float)):
        return a is b
    return abs(a - b) <= NEAR * max(abs(a), abs(b))
