"""What rides along as boxes: as told, else proposed from the parts; how far its leads go and where its mass sits."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known, Quantity, weakest
from wattagon.design.tree import Body, Layout, Vehicle, VehicleKind
from wattagon.record import record
from wattagon.study.layout.boat import BILGE_M, Berth, hulls_of
from wattagon.study.layout.place import Shaft, tolerance_m
from wattagon.study.resolve import Resolved

PACK_KG_M3, CONTROLLER_KG_M3 = 1900.0, 1500.0  # cells in their wrap with sense leads; a controller with its sink; typical
SMALL: dict[str, tuple[float, float, float, float]] = {  # length, width, height [m], mass [kg] where nobody told; typical
    "receiver": (0.045, 0.025, 0.015, 0.02),
    "port": (0.025, 0.025, 0.030, 0.015),
    "disconnect": (0.060, 0.040, 0.040, 0.08),
    "light": (0.045, 0.050, 0.045, 0.06),
    "brake": (0.080, 0.040, 0.060, 0.25),
    "box": (0.300, 0.180, 0.090, 0.5),
    "thing": (0.100, 0.060, 0.040, 0.1),
}
SHAPES: dict[str, tuple[float, float, float]] = {"pack": (4.0, 2.2, 0.7), "controller": (2.0, 1.3, 0.6)}  # length : width : height
FLAT = (VehicleKind.STREET_BOARD, VehicleKind.ALL_TERRAIN_BOARD)
UNDER = (*FLAT, VehicleKind.SCOOTER)  # carry their pack under the deck
FLAT_PACK = (9.0, 3.6, 1.0)
DECK_M, AIR_M = 0.020, 0.004
PLUG_M, BEND_M, SPARE = 0.035, 0.03, 1.1  # plug and bend; typical. A lead is cut a tenth longer than its way
Box = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]


@record(frozen=True, slots=True, kw_only=True)
class Aboard:
    """One body in its place; lengths in m, ahead, left and up of the driven axle's middle."""

    kind: str
    name: str
    index: int  # among the layout's own; -1 where only proposed
    x: float
    y: float
    z: float
    length: float
    width: float
    height: float
    mass_kg: float
    wide: tuple[float, float, float]  # tolerance of a face ahead, left and up: of place and half the size
    known: Known  # the weakest of place and size
    missing: str  # what of it was not told: "place", "size", "place and size", ""
    told: Body

    @property
    def tolerance(self) -> float:
        """Of a face, the widest."""
        return max(self.wide)

    @property
    def box(self) -> Box:
        """(low, high) ahead, left, up."""
        half = (0.5 * self.length, 0.5 * self.width, 0.5 * self.height)
        at = (self.x, self.y, self.z)
        low, high = tuple(a - h for a, h in zip(at, half, strict=True)), tuple(a + h for a, h in zip(at, half, strict=True))
        return (low[0], high[0]), (low[1], high[1]), (low[2], high[2])


class Lead(NamedTuple):
    """A lead from one body to another: its way with bends and what is cut to spare [m]."""

    begin: str
    end: str
    length_m: float


class Balance(NamedTuple):
    """All that the drive brings, motors and bodies: mass [kg], and where it sits [m] ahead of the driven axle, left and above."""

    mass_kg: float
    x: float
    y: float
    z: float


def axles_m(vehicle: Vehicle) -> tuple[float, float]:
    """(rear, front) axle ahead of the driven one [m]."""
    base = vehicle.wheelbase.value
    return (-base, 0.0) if vehicle.driven_axle == "front" else (0.0, base)


def aboard(vehicle: Vehicle, layout: Layout, resolved: Resolved, tyre_m: float, berth: Berth | None = None) -> tuple[Aboard, ...]:
    """Every body: those that are told, and pack, controllers and receiver where they are not; `tyre_m` is the loaded radius.

    On a boat (`berth`) they stand ahead of the transom and above the keel, not from an axle.
    """
    wanted = [("pack", 1), ("controller", resolved.variant.motor.count), ("receiver", 1)]
    told = list(enumerate(layout.bodies))
    for kind, count in wanted:
        have = sum(one.kind == kind for one in layout.bodies)
        told += [(-1, Body(kind=kind))] * max(count - have, 0)
    seen: dict[str, int] = {}
    many = {kind: sum(one.kind == kind for _, one in told) for kind in {one.kind for _, one in told}}
    made = []
    for index, body in told:
        seen[body.kind] = seen.get(body.kind, 0) + 1
        name = body.name or (f"{body.kind} {seen[body.kind]}" if many[body.kind] > 1 else body.kind)
        made.append(_placed(vehicle, resolved, tyre_m, berth, index, replace(body, name=name), seen[body.kind] - 1, many[body.kind]))
    return tuple(made)


def _placed(
    vehicle: Vehicle, resolved: Resolved, tyre_m: float, berth: Berth | None, index: int, body: Body, nth: int, many: int
) -> Aboard:
    length, width, height, mass = _usual_size(vehicle, resolved, body.kind)
    size = (_of(body.length, length), _of(body.width, width), _of(body.height, height))
    if berth is not None:
        at = _place_afloat(berth, body.kind, size, nth, many)
    else:
        at = _usual_place(vehicle, resolved, tyre_m, body.kind, size, nth, many)
    x, y, z = (_of(told, usual) for told, usual in zip((body.x, body.y, body.z), at, strict=True))
    places, sizes = (body.x, body.z), (body.length, body.width, body.height)
    lacks = [word for word, of in (("place", places), ("size", sizes)) if any(one is None for one in of)]
    all_told = [one for one in (*places, body.y, *sizes) if one is not None]
    pairs = zip((body.x, body.y, body.z), sizes, size, strict=True)
    wide = [
        (tolerance_m(spot) if spot is not None else 0.01) + (0.5 * tolerance_m(side) if side is not None else 0.025 * usual)
        for spot, side, usual in pairs
    ]
    return Aboard(
        kind=body.kind,
        name=body.name,
        index=index,
        x=x,
        y=y,
        z=z,
        length=size[0],
        width=size[1],
        height=size[2],
        mass_kg=_of(body.mass, mass),
        wide=(wide[0], wide[1], wide[2]),
        known=Known.ASSUMED if lacks else weakest(one.known for one in all_told),
        missing=" and ".join(lacks),
        told=body,
    )


def _of(told: Quantity | None, usual: float) -> float:
    return told.value if told is not None else usual


def _usual_size(vehicle: Vehicle, resolved: Resolved, kind: str) -> tuple[float, float, float, float]:
    """(length, width, height [m], mass [kg]) from the part's mass where there is one."""
    if kind not in SHAPES:
        return SMALL[kind]
    mass = resolved.pack_kg if kind == "pack" else resolved.controller_part.mass_kg
    shape = FLAT_PACK if kind == "pack" and vehicle.kind in UNDER else SHAPES[kind]
    volume = mass / (PACK_KG_M3 if kind == "pack" else CONTROLLER_KG_M3)
    unit = (volume / math.prod(shape)) ** (1.0 / 3.0)
    length, width, height = (round(unit * side, 3) for side in shape)
    return length, width, height, mass


def _place_afloat(berth: Berth, kind: str, size: tuple[float, float, float], nth: int, many: int) -> tuple[float, float, float]:
    """In a hull: the pack a third ahead, controllers behind it, all over the bilge; of two hulls between them."""
    start = 0.34 * berth.length
    x = {"pack": start, "controller": start - 0.45, "receiver": start - 0.6}.get(kind, start + 0.4 + 0.2 * nth)
    low = max(berth.floor_m(x - 0.5 * size[0]), berth.floor_m(x + 0.5 * size[0])) + 1.5 * BILGE_M
    floor = berth.sides_m if hulls_of(berth) > 1 else low
    aside = (nth - 0.5 * (many - 1)) * (size[1] + 0.03) if kind == "controller" else 0.0
    return x, aside, floor + 0.5 * size[2]


def _usual_place(
    vehicle: Vehicle, resolved: Resolved, tyre_m: float, kind: str, size: tuple[float, float, float], nth: int, many: int
) -> tuple[float, float, float]:
    """Where it commonly goes; the pack where the brief says that it sits."""
    x, y, z = _common_place(vehicle, resolved, tyre_m, kind, size, nth, many)
    if kind == "pack" and vehicle.pack_behind_front is not None:
        x = axles_m(vehicle)[1] - vehicle.pack_behind_front.value
    if kind == "pack" and vehicle.pack_height is not None:
        z = vehicle.pack_height.value - tyre_m
    return x, y, z


def _common_place(
    vehicle: Vehicle, resolved: Resolved, tyre_m: float, kind: str, size: tuple[float, float, float], nth: int, many: int
) -> tuple[float, float, float]:
    """Where it commonly goes on a vehicle of this kind: pack in the middle, controllers behind it, small things behind those."""
    rear, front = axles_m(vehicle)
    base, middle = front - rear, 0.5 * (rear + front)
    deck = vehicle.deck_height.value if vehicle.deck_height is not None else 1.1 * tyre_m
    pack = _usual_size(vehicle, resolved, "pack")
    box = _usual_size(vehicle, resolved, "controller")
    level = deck - tyre_m
    if KINDS[vehicle.kind].pedals:  # on the rack, its controller under it
        top = tyre_m + 0.055
        places = {
            "pack": (rear + 0.02, 0.0, top + 0.5 * size[2] + 0.01),
            "controller": (rear + 0.24, 0.0, top - 0.06 - 0.05 * nth),
            "receiver": (rear + 0.34, 0.0, top + 0.02),
        }
        return places.get(kind, (middle, 0.0, top + 0.2))
    under = vehicle.kind in UNDER
    z = level - DECK_M - AIR_M - 0.5 * size[2] if under else level + 0.5 * size[2] + AIR_M
    start = middle if under else rear + 0.42 * base
    behind = start - 0.5 * pack[0]
    aside = (nth - 0.5 * (many - 1)) * (size[1] + 0.012)
    places = {
        "pack": (start, 0.0, z),
        "controller": (behind - 0.04 - 0.5 * size[0], aside, z),
        "receiver": (behind - 0.08 - box[0] - 0.5 * size[0], 0.0, z),
    }
    return places.get(kind, (start + 0.5 * pack[0] + 0.06 + 0.5 * size[0] + nth * (size[0] + 0.02), 0.0, z))


def leads(bodies: Sequence[Aboard], shafts: Sequence[Shaft], cans: Sequence[tuple[float, float, float]]) -> Iterator[Lead]:
    """Supply leads from the pack to each controller, phase leads from each controller to its motor, signal leads from the receiver;
    along the vehicle, across it and up, with a bend at either end."""
    of = lambda kind: [one for one in bodies if one.kind == kind]
    packs, boxes, receivers = of("pack"), of("controller"), of("receiver")
    for k, box in enumerate(boxes):
        if packs:
            yield Lead(packs[0].name, box.name, _way(_face(packs[0], box), _face(box, packs[0])))
        if cans and shafts:
            can = cans[min(k, len(cans) - 1)]
            yield Lead(box.name, f"motor {k + 1}" if len(boxes) > 1 else "motor", _way(_toward(box, can), can))
        if receivers:
            yield Lead(receivers[0].name, box.name, _way(_face(receivers[0], box), _face(box, receivers[0])))


def _face(one: Aboard, to: Aboard) -> tuple[float, float, float]:
    return _toward(one, (to.x, to.y, to.z))


def _toward(one: Aboard, to: tuple[float, float, float]) -> tuple[float, float, float]:
    """Where its leads leave: the side of its plugs, else the point of it that is nearest."""
    (x0, x1), (y0, y1), (z0, z1) = one.box
    sides = {
        "front": (x1, one.y, one.z),
        "rear": (x0, one.y, one.z),
        "left": (one.x, y1, one.z),
        "right": (one.x, y0, one.z),
        "top": (one.x, one.y, z1),
        "bottom": (one.x, one.y, z0),
    }
    if one.told.plugs:
        return sides[one.told.plugs]
    return min(max(to[0], x0), x1), min(max(to[1], y0), y1), min(max(to[2], z0), z1)


def _way(a: tuple[float, float, float], b: tuple[float, float, float]) -> float:
    return SPARE * (sum(abs(p - q) for p, q in zip(a, b, strict=True)) + 2.0 * BEND_M)


def balance(bodies: Sequence[Aboard], motors: Sequence[tuple[float, float, float]], motor_kg: float) -> Balance:
    """Of motors and bodies."""
    parts = [(one.mass_kg, (one.x, one.y, one.z)) for one in bodies] + [(motor_kg, at) for at in motors]
    total = sum(mass for mass, _ in parts)
    if total <= 0.0:
        return Balance(0.0, 0.0, 0.0, 0.0)
    x, y, z = (sum(mass * at[k] for mass, at in parts) / total for k in range(3))
    return Balance(total, x, y, z)


def _assumed(value: float) -> Quantity:
    return Quantity(value=round(value, 4), known=Known.ASSUMED)


def taken(one: Aboard) -> Body:
    """A body as the layout keeps it: what was only proposed is written down as assumed."""
    told, names = one.told, ("x", "y", "z", "length", "width", "height")
    fill: dict[str, Any] = {name: _assumed(getattr(one, name)) for name in names if getattr(told, name) is None}
    return replace(told, name=told.name if one.index >= 0 or told.name != one.kind else "", **fill)


def with_body(layout: Layout, bodies: Sequence[Aboard], which: int, **changes: Any) -> Layout:
    """A layout with one of its bodies changed; one that was only proposed is taken up first, with those of its kind before it."""
    one, kept = bodies[which], list(layout.bodies)
    if one.index >= 0:
        kept[one.index] = replace(taken(one), **changes)
        return replace(layout, bodies=tuple(kept))
    for k, other in enumerate(bodies[: which + 1]):
        if other.kind == one.kind and other.index < 0:
            kept.append(replace(taken(other), name=other.name, **(changes if k == which else {})))
    return replace(layout, bodies=tuple(kept))
