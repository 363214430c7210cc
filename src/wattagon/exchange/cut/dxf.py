"""A part as DXF: closed outlines with real arcs, circles as circles, layers, units mm."""

from __future__ import annotations

import io
import math
from typing import Any

import ezdxf

from wattagon.exchange.cut import CUT, DIMENSION, ENGRAVE
from wattagon.physics.outline import Arc, Line, Outline
from wattagon.study.layout.sheets import Sheet

MILLIMETRES = 4


def dxf(sheet: Sheet) -> bytes:
    """The file."""
    document = ezdxf.new("R2010", setup=False)
    document.units = MILLIMETRES
    document.header["$MEASUREMENT"] = 1
    for name, colour in ((CUT, 7), (ENGRAVE, 5), (DIMENSION, 8)):
        document.layers.add(name, color=colour)
    space = document.modelspace()
    for outline in sheet.cut:
        _add(space, outline, CUT)
    for outline in sheet.marks:
        _add(space, outline, ENGRAVE, closed=False)
    low = min(point[1] for outline in sheet.cut for piece in outline for point in piece.points(0.1))
    words = [sheet.name, f"{sheet.thickness_mm:g} mm thick", *(f"{name} {mm:.2f} mm" for name, mm in sheet.figures)]
    for k, text in enumerate(words):
        space.add_text(text, height=3.0, dxfattribs={"layer": DIMENSION, "insert": (0.0, low - 8.0 - 5.0 * k)})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")


def _add(space: Any, outline: Outline, layer: str, *, closed: bool = True) -> None:
    first = outline[0]
    if len(outline) == 1 and isinstance(first, Arc) and abs(abs(first.last - first.first) - 2.0 * math.pi) < 1e-9:
        space.add_circle(first.middle, first.radius, dxfattribs={"layer": layer})
        return
    if len(outline) == 1 and isinstance(first, Line):
        space.add_line(first.begin, first.end, dxfattribs={"layer": layer})
        return
    # bulge: the tangent of a quarter of the angle, above 0 counter-clockwise
    points = [(*piece.begin, 0.0, 0.0, math.tan(0.25 * (piece.last - piece.first)) if isinstance(piece, Arc) else 0.0) for piece in outline]
    space.add_lwpolyline(points, format="xyseb", close=closed, dxfattribs={"layer": layer})
