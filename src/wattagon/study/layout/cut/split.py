"""A print that is larger than the bed in pieces that lock into each other, with what their joint bears."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

from shapely import Polygon, affinity, box
from shapely.geometry.polygon import orient

from wattagon.physics.outline import Line, Outline
from wattagon.study.layout.cut.card import polygon
from wattagon.study.layout.cut.sheet import Sheet

TAIL_MM, PITCH_MM, WEDGE, PLAY_MM = 8.0, 30.0, 0.25, 0.10  # of a dovetail: depth, from one to the next, its slope; a side's play; typical
GLUE_MPA = 3.0  # of epoxy on a roughened print, in shear; judged
MOST_PIECES = 6


def split(made: Sheet, bed_x: float, bed_y: float) -> list[Sheet]:
    """The pieces of a part along its longer side, each of which lies on a bed [mm]; itself where it does already.

    Pieces are locked by dovetails in the plane and glued; what the glue bears stands in their notes.
    """
    whole = polygon(made)
    left, low, right, high = whole.bounds
    if lies(right - left, high - low, bed_x, bed_y):
        return [made]
    upright = high - low > right - left
    if upright:
        whole = affinity.rotate(whole, -90.0, origin=(0.0, 0.0))
        left, low, right, high = whole.bounds
    for count in range(2, MOST_PIECES + 1):
        wide = (right - left) / count
        if lies(wide + TAIL_MM, high - low, bed_x, bed_y):
            break
    else:
        note = f"{right - left:.0f} x {high - low:.0f} mm: larger than the printer's bed, in pieces too; have it made."
        return [replace(made, notes=(*made.notes, note))]
    parts: list[Sheet] = []
    for k in range(count):
        strip = _strip(left + k * wide, left + (k + 1) * wide, low, high, first=k == 0, last=k == count - 1)
        piece = whole.intersection(strip)
        solid = max(getattr(piece, "geoms", [piece]), key=lambda one: one.area)
        if upright:
            solid = affinity.rotate(solid, 90.0, origin=(0.0, 0.0))
        solid = orient(solid)
        joint = _glued(whole, left + (k + 1) * wide) if k < count - 1 else _glued(whole, left + k * wide)
        bears = GLUE_MPA * joint * made.thickness_mm
        told = (
            f"Piece {k + 1} of {count}, larger than the bed in one: dovetails with {PLAY_MM:g} mm of play a side, glued on "
            f"{0.01 * joint * made.thickness_mm:.1f} cm2; epoxy there bears about {bears:.0f} N in shear; screws or a plate for more."
        )
        parts.append(
            replace(
                made,
                id=f"{made.id}-{k + 1}of{count}",
                name=f"{made.name}, piece {k + 1} of {count}",
                outer=_ring(solid.exterior.coords),
                holes=tuple(_ring(list(ring.coords)) for ring in solid.interiors),
                marks=(),
                notes=(*made.notes, told),
            )
        )
    return parts


def lies(wide: float, tall: float, bed_x: float, bed_y: float) -> bool:
    """Whether a part lies on a bed either way round."""
    return (wide <= bed_x and tall <= bed_y) or (wide <= bed_y and tall <= bed_x)


def _glued(whole: Polygon, x: float) -> float:
    """How long the joint at a place is across the part, tails along [mm]."""
    _, low, _, high = whole.bounds
    crossed = whole.intersection(box(x - 0.005, low, x + 0.005, high)).area / 0.01
    return float(crossed * (1.0 + 2.0 * TAIL_MM / PITCH_MM))


def _strip(x0: float, x1: float, low: float, high: float, *, first: bool, last: bool) -> Polygon:
    """A piece's own part of the plane: tails stand out to the right, sockets are let in on the left."""
    right = [(x1 + 1.0, low), (x1 + 1.0, high)] if last else _tails(x1, low, high, 0.0)
    left = [(x0 - 1.0, low), (x0 - 1.0, high)] if first else _tails(x0, low, high, PLAY_MM)
    return Polygon([*right, *reversed(left)])


def _tails(x: float, low: float, high: float, play: float) -> list[tuple[float, float]]:
    """A line of dovetails upwards; with play the sockets that take them."""
    points, count = [(x + play, low - 1.0)], max(math.floor((high - low) / PITCH_MM), 1)
    pitch = (high - low) / count
    neck, head = 0.25 * pitch, 0.25 * pitch + WEDGE * TAIL_MM
    for k in range(count):
        middle = low + (k + 0.5) * pitch
        points += [
            (x + play, middle - neck - play),
            (x + TAIL_MM + play, middle - head - play),
            (x + TAIL_MM + play, middle + head + play),
            (x + play, middle + neck + play),
        ]
    return [*points, (x + play, high + 1.0)]


def _ring(coords) -> Outline:  # type: ignore[no-untyped-def]
    points = [(float(x), float(y)) for x, y in coords]
    return tuple(Line(a, b) for a, b in itertools.pairwise(points) if math.dist(a, b) > 1e-9)
