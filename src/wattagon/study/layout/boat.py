"""A boat's drive in its hull: where propeller, motor and what carries them stand, and the gaps around them.

x ahead of the transom, y to the left, z above the keel; the boat lies level.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from wattagon.design.boats import BOATS
from wattagon.design.hull_shapes import SHAPES, along, sides
from wattagon.design.parts import CarrierPart
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Hull, Place, PropellerChoice, VehicleKind
from wattagon.physics.clearance import gap
from wattagon.record import record
from wattagon.study.layout.found import Found, judged, unknown
from wattagon.study.layout.place import tolerance_m

TAIL_HEAD_M = 0.42  # of a long tail's motor ahead of its pivot; typical
POD_BEHIND_M, INSIDE_M, FLOOR_M = 0.10, 0.75, 0.12  # a pod aft of the transom; a motor inside: ahead of it, above the keel; typical
TIP_SHARE, DRY_M, CREW_M, SIT_M = 0.10, 0.10, 0.15, 0.45  # of the diameter; motor over water; to whom sits near it, half of who sits
BILGE_M, SIDE_M = 0.03, 0.02  # under a pack; to a hull's side; judged
SKIN_M = 0.005  # of a hull; typical


class Works(NamedTuple):
    """Where the propeller's middle is, x ahead of the transom and y above the surface [m], and its shaft's fall [rad]."""

    x: float
    y: float
    tilt: float


def works(choice: PropellerChoice, depth_m: float, length: float) -> Works:
    """Where a propeller works under its hull, by the place that it has."""
    tilt = choice.tilt.value if choice.tilt is not None else 0.0
    if choice.place is Place.LONG_TAIL:
        pivot = choice.pivot_height.value if choice.pivot_height is not None else 0.15
        fall = max(depth_m + pivot, 0.05)
        reach = fall / math.tan(tilt) if tilt > 0.02 else 1.4
        return Works(-reach, -depth_m, tilt)
    ahead = {Place.POD: -POD_BEHIND_M, Place.LEG: -0.22, Place.RUDDER: -0.14, Place.SKEG: 0.10, Place.SHAFT: 0.12}[choice.place]
    return Works(ahead, -depth_m, tilt)


@record(frozen=True, slots=True, kw_only=True)
class Berth:
    """Hull, propeller and motor in their places; lengths in m."""

    kind: VehicleKind
    hull: Hull
    choice: PropellerChoice
    length: float
    beam: float  # of one hull
    sides_m: float  # keel to gunwale aft
    draught: float
    diameter: float
    depth: float  # of the propeller's middle
    depth_by: float  # its tolerance; nan where the depth is not known
    can_m: float
    can_long_m: float
    carrier: CarrierPart | None

    @property
    def works(self) -> Works:
        """Of its propeller."""
        return works(self.choice, self.depth, self.length)

    @property
    def propeller(self) -> tuple[float, float, float]:
        """Its middle."""
        return self.works.x, self.hull.off_centre.value, self.draught + self.works.y

    @property
    def upright(self) -> bool:
        """Whether the motor stands on end, on a leg."""
        return self.choice.place is Place.LEG

    @property
    def motor(self) -> tuple[float, float, float]:
        """The motor's middle."""
        x, y, z = self.propeller
        place = self.choice.place
        if place is Place.LONG_TAIL:
            pivot = self.choice.pivot_height.value if self.choice.pivot_height is not None else 0.15
            return TAIL_HEAD_M, y, self.draught + pivot + TAIL_HEAD_M * math.tan(self.works.tilt)
        if place is Place.LEG:
            return x, y, self.sides_m + 0.5 * self.can_long_m
        if place is Place.SHAFT:
            return INSIDE_M + 0.5 * self.can_long_m, y, FLOOR_M
        return x + 0.5 * self.can_long_m + 0.01, y, z

    def motor_box(self) -> tuple[tuple[float, float], tuple[float, float], tuple[float, float]]:
        """What the can takes, ahead, left and up."""
        x, y, z = self.motor
        along_x, up = (self.can_m, self.can_long_m) if self.upright else (self.can_long_m, self.can_m)
        return (x - 0.5 * along_x, x + 0.5 * along_x), (y - 0.5 * self.can_m, y + 0.5 * self.can_m), (z - 0.5 * up, z + 0.5 * up)

    def floor_m(self, x: float) -> float:
        """Height of the bottom above the keel."""
        return self.sides_m * along(SHAPES[self.kind].bottom, x / self.length) + SKIN_M

    def gunwale_m(self, x: float) -> float:
        """Height of the sides above the keel."""
        return self.sides_m * along(SHAPES[self.kind].gunwale, x / self.length)

    def half_beam_m(self, x: float) -> float:
        """Half the inside beam of one hull."""
        return 0.5 * self.beam * along(sides(self.kind), x / self.length) - SKIN_M


def boat_gaps(berth: Berth) -> Iterator[Found]:
    """In the order in which one would look: the tip, the leg or tail, the motor."""
    hull, choice, size = berth.hull, berth.choice, berth.diameter
    x, _, z = berth.propeller
    tip = z + 0.5 * size
    if hull.tip_gap is None:
        yield unknown("tip.hull", "tip to hull", "the gap of the tip to the hull is not measured")
    else:
        at = (x, tip, x, tip + hull.tip_gap.value)
        yield judged("tip.hull", "tip to hull", gap(hull.tip_gap.value, (tolerance_m(hull.tip_gap),)), TIP_SHARE * size, at=at)
    if math.isnan(berth.depth_by):
        yield unknown("tip.surface", "tip to surface", "the depth of the propeller is not measured")
    else:
        found = gap(berth.depth - 0.5 * size, (berth.depth_by, tolerance_m(hull.draught) if hull.draught is not None else 0.01))
        yield judged("tip.surface", "tip to surface", found, 0.5 * size, at=(x, tip, x, berth.draught))
    low = berth.motor_box()[2][0]
    at = (berth.motor[0], low, berth.motor[0], berth.draught)
    if choice.place in (Place.LEG, Place.LONG_TAIL):
        by = _tolerance(choice.pivot_height if choice.place is Place.LONG_TAIL else hull.transom_height)
        if math.isnan(by):
            what = "the height of the pivot" if choice.place is Place.LONG_TAIL else "the height of the transom"
            yield unknown("motor.water", "motor to water", f"{what} is not measured")
        else:
            yield judged("motor.water", "motor to water", gap(low - berth.draught, (by,)), DRY_M, at=at)
    if choice.place is Place.LONG_TAIL:
        yield from _tail(berth)
    if choice.place is Place.LEG and berth.carrier is not None:
        yield from _leg(berth, berth.carrier)
    if choice.place is Place.SHAFT:
        found = gap(low - berth.floor_m(berth.motor[0]), (0.02,))
        yield judged("motor.floor", "motor to the bottom", found, SIDE_M, at=(at[0], low, at[0], berth.floor_m(at[0])))


def _tolerance(measure: Quantity | None) -> float:
    return math.nan if measure is None else tolerance_m(measure)


def _tail(berth: Berth) -> Iterator[Found]:
    """A long tail's pivot over the transom, and its motor to who sits nearest."""
    hull, pivot = berth.hull, berth.choice.pivot_height
    if hull.transom_height is None or pivot is None:
        yield unknown("pivot.transom", "pivot to transom", "transom and pivot are not both measured")
    else:
        found = gap(berth.draught + pivot.value - hull.transom_height.value, (tolerance_m(pivot), tolerance_m(hull.transom_height)))
        at = (0.0, hull.transom_height.value, 0.0, berth.draught + pivot.value)
        yield judged("pivot.transom", "pivot over the transom", found, 0.0, at=at)
    if hull.crew_forward is not None:
        near, head = hull.crew_forward.value - SIT_M, berth.motor_box()[0][1]
        z = berth.motor[2]
        found = gap(near - head, (tolerance_m(hull.crew_forward), 0.02))
        yield judged("motor.crew", "motor to who sits aft", found, CREW_M, at=(head, z, near, z))


def _leg(berth: Berth, leg: CarrierPart) -> Iterator[Found]:
    """How deep the leg's own length brings the propeller, from a clamp on the transom."""
    height = berth.hull.transom_height
    if height is None:
        yield unknown("leg.depth", "tip to surface by the leg's length", "the height of the transom is not measured")
        return
    depth = leg.length_m - (height.value - berth.draught)
    x, top = berth.propeller[0], berth.draught - depth + 0.5 * berth.diameter
    found = gap(depth - 0.5 * berth.diameter, (tolerance_m(height), 0.01))
    words = f"leg of {1e3 * leg.length_m:.0f} mm on a transom of {1e3 * height.value:.0f} mm"
    at = (x, top, x, berth.draught)
    yield judged("leg.depth", "tip to surface by the leg's length", found, 0.5 * berth.diameter, swept=words, at=at)


def hulls_of(berth: Berth) -> int:
    """How many hulls carry it."""
    return BOATS[berth.kind].hulls
