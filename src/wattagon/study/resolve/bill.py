"""What a variant is made of, weighs and costs."""

from __future__ import annotations

import math
from collections.abc import Mapping

from wattagon.design.catalogue import Catalogue
from wattagon.design.fitted import fitted
from wattagon.design.parts import (
    BoardPart,
    CablePart,
    CarrierPart,
    CellPart,
    ConnectorPart,
    ContactorPart,
    ControllerPart,
    FusePart,
    HubPart,
    MotorPart,
    Part,
    PropellerPart,
    WheelPart,
)
from wattagon.design.parts.families import loops, toothed
from wattagon.design.tree import (
    Design,
    StageChoice,
    Variant,
)
from wattagon.study.resolve.battery import brick_rows
from wattagon.study.resolve.pack import bricks_of, pack_mass_kg


def fitted_parts(variant: Variant, stock: Catalogue) -> tuple[MotorPart, ControllerPart, CellPart, WheelPart | None]:
    """Motor, controller, cell and wheel with what is known better of them.  Raises PathError for a part that stock does not have."""
    motor, controller, pack, wheel = variant.motor, variant.controller, variant.pack, variant.wheel
    return (
        fitted(stock.get(MotorPart, motor.part), motor),
        fitted(stock.get(ControllerPart, controller.part), controller),
        fitted(stock.get(CellPart, pack.part), pack),
        fitted(stock.get(WheelPart, wheel.part), wheel) if wheel is not None else None,
    )


def bill_of_parts(variant: Variant, stock: Catalogue) -> list[tuple[str, str, int, float, float]]:
    """(part id, name, count, mass kg each, price each) of what a variant is made of; belts by the nearest of typical length."""
    motors = variant.motor.count
    motor, controller, cell, wheel = fitted_parts(variant, stock)
    bricks = bricks_of(variant.pack, cell)
    rows = [
        (motor.id, motor.name, motors, motor.mass_kg, motor.price),
        (controller.id, controller.name, motors, controller.mass_kg, controller.price),
        *(brick_rows(variant, stock) or [(cell.id, cell.name, bricks, pack_mass_kg(variant.pack, cell) / bricks, cell.price)]),
    ]
    for stage in variant.stages:
        rows += stage_parts(stage, motors, stock)
    if wheel is not None:
        rows.append((wheel.id, wheel.name, variant.motor.driven_wheels, wheel.mass_kg, wheel.price))
    if variant.propeller is not None:
        screw = fitted(stock.get(PropellerPart, variant.propeller.part), variant.propeller)
        rows.append((screw.id, screw.name, variant.propeller.count, screw.mass_kg, screw.price))
        if variant.propeller.carrier:
            carrier = stock.get(CarrierPart, variant.propeller.carrier)
            rows.append((carrier.id, carrier.name, variant.propeller.count, carrier.mass_kg, carrier.price))
    if variant.gears is not None and variant.gears.hub:
        hub = stock.get(HubPart, variant.gears.hub)
        rows.append((hub.id, hub.name, 1, 0.0, hub.price))  # it stands in for one that the bike's mass has in it
    return rows + beside_rows(variant, stock)


def beside_rows(variant: Variant, stock: Catalogue) -> list[tuple[str, str, int, float, float]]:
    """What stays whichever motor, pack and reduction are chosen: wiring that is told, rows of the maker's own."""
    return wiring_rows(variant, stock) + [(part.id, part.name, part.count, part.mass, part.price) for part in variant.own_parts]


def kept_beside(variant: Variant, stock: Catalogue, owned: Mapping[str, int]) -> tuple[float, float]:
    """(mass [kg], money still to be spent) of that."""
    left, mass, money = dict(owned), 0.0, 0.0
    for part, _, count, kg, price in beside_rows(variant, stock):
        mine = min(count, left.get(part, 0))
        left[part] = left.get(part, 0) - mine
        mass, money = mass + count * kg, money + (count - mine) * price
    return mass, money


def wiring_rows(variant: Variant, stock: Catalogue) -> list[tuple[str, str, int, float, float]]:
    """What its maker told of its wiring and its board, a lead as one row; what is only proposed weighs and costs nothing yet."""
    rows: list[tuple[str, str, int, float, float]] = []
    if variant.battery is not None and variant.battery.board:
        board = stock.get(BoardPart, variant.battery.board)
        rows.append((board.id, board.name, 1, board.mass_kg, board.price))
    for piece in variant.wiring.pieces if variant.wiring is not None else ():
        kind = WIRED.get(piece.kind)
        if kind is None or not piece.part:
            continue
        part, count = stock.get(kind, piece.part), variant.motor.count if piece.branch in EACH else 1
        if piece.kind == "lead":
            poles = 3 if piece.branch == "phase" else 2
            metres = (piece.length.value if piece.length is not None else LEAD_M) * poles * piece.beside
            rows.append((part.id, part.name, count, part.mass_kg * metres, part.price * metres))
        else:
            rows.append((part.id, part.name, count, part.mass_kg, part.price))
    return rows


LEAD_M = 0.3  # one way, where nobody measured; typical
EACH = ("controller", "phase", "brake")  # branches that there are one a motor of
WIRED: dict[str, type[Part]] = {"lead": CablePart, "joint": ConnectorPart, "fuse": FusePart, "contactor": ContactorPart}


def stage_parts(stage: StageChoice, motors: int, stock: Catalogue) -> list[tuple[str, str, int, float, float]]:
    """The rows of a bill that one stage of the reduction brings."""
    rows: list[tuple[str, str, int, float, float]] = []
    sets = 1 if stage.shared else motors
    for role, teeth in (("driver", stage.driver_teeth), ("driven", stage.driven_teeth)):
        part = next((p for p in toothed(stock, stage.profile, role) if p.teeth == teeth), None) if stage.profile else None
        if part is not None:
            rows.append((part.id, part.name, sets, part.mass_kg, part.price))
    fit = [p for p in loops(stock, stage.profile) if stage.width_mm is None or p.width_mm in (None, stage.width_mm)]
    if fit and stage.profile:
        # a loop of twice the mean span that such wheels usually get: the layout decides the true length
        links = stage.driver_teeth / 2 + stage.driven_teeth / 2 + 0.9 * stage.driven_teeth
        if fit[0].width_mm is None:
            rows.append((fit[0].id, fit[0].name, math.ceil(links) * sets, fit[0].mass_kg, fit[0].price))
        else:
            loop = min(fit, key=lambda p: abs(p.teeth - links))
            rows.append((loop.id, loop.name, sets, loop.mass_kg, loop.price))
    return rows


def mass_and_money(design: Design, variant: Variant, stock: Catalogue) -> tuple[float, float, float]:
    shelf: dict[str, int] = {}
    for item in design.brief.shelf:
        shelf[item.part] = shelf.get(item.part, 0) + item.count
    mass = cost = full = 0.0
    for part_id, _, count, kg, price in bill_of_parts(variant, stock):
        mass += count * kg
        full += count * price
        owned = min(count, shelf.get(part_id, 0))
        shelf[part_id] = shelf.get(part_id, 0) - int(owned)
        cost += (count - owned) * price
    return mass, cost, full
