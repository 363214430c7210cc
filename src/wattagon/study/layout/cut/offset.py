"""Outlines as the cutter and the shrinking print want them."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.errors import InputError
from wattagon.physics.outline import Arc, Line, Outline, Piece
from wattagon.study.layout.cut.sheet import Options, Sheet


def compensated(made: Sheet, options: Options) -> Sheet:
    """Outlines moved away from the material by half of the kerf, and grown by what the print shrinks."""
    if not options.kerf_mm and not options.shrink:
        return made
    grown = 1.0 + options.shrink

    def adapted(outline: Outline) -> Outline:
        scaled = tuple(_scaled(piece, grown) for piece in outline)
        return offset(scaled, 0.5 * options.kerf_mm) if options.kerf_mm else scaled

    return replace(made, outer=adapted(made.outer), holes=tuple(adapted(hole) for hole in made.holes))


def _scaled(piece: Piece, by: float) -> Piece:
    if isinstance(piece, Line):
        return Line((piece.begin[0] * by, piece.begin[1] * by), (piece.end[0] * by, piece.end[1] * by))
    return Arc((piece.middle[0] * by, piece.middle[1] * by), piece.radius * by, piece.first, piece.last)


def offset(outline: Outline, by: float) -> Outline:
    """Moved to the right of its walk: away from the material, outside and in holes alike; arcs stay arcs.

    Convex corners get an arc about them.  Raises InputError where an arc is too small for it.
    """
    shifted: list[Piece] = []
    for piece in outline:
        if isinstance(piece, Line):
            long = piece.length or 1.0
            nx, ny = (piece.end[1] - piece.begin[1]) / long * by, -(piece.end[0] - piece.begin[0]) / long * by
            shifted.append(piece.moved(nx, ny))
        else:
            radius = piece.radius + (by if piece.last > piece.first else -by)
            if radius <= 0.0:
                raise InputError("kerf", f"{2.0 * by:g} mm", f"less than {2.0 * piece.radius:.2f} mm, twice the smallest inside radius")
            shifted.append(Arc(piece.middle, radius, piece.first, piece.last))
    made: list[Piece] = []
    for k, piece in enumerate(shifted):
        made.append(piece)
        following = shifted[(k + 1) % len(shifted)]
        if math.dist(piece.end, following.begin) > 1e-7:
            corner = outline[k].end
            first = math.atan2(piece.end[1] - corner[1], piece.end[0] - corner[0])
            last = math.atan2(following.begin[1] - corner[1], following.begin[0] - corner[0])
            while last < first:
                last += 2.0 * math.pi
            made.append(Arc(corner, abs(by), first, last))
    return tuple(made)
