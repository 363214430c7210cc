"""A part as SVG at 1:1: mm, real arcs, layers as groups."""

from __future__ import annotations

import math
from xml.sax.saxutils import escape

from wattagon.exchange.cut import CUT, DIMENSION, ENGRAVE
from wattagon.physics.outline import Arc, Outline
from wattagon.study.layout.sheets import Sheet

ROOM = 10.0


def bounds(outlines: tuple[Outline, ...]) -> tuple[float, float, float, float]:
    """(left, low, right, high) [mm]."""
    points = [point for outline in outlines for piece in outline for point in (*piece.points(0.05), piece.end)]
    xs, ys = [x for x, _ in points], [y for _, y in points]
    return min(xs), min(ys), max(xs), max(ys)


def svg(sheet: Sheet) -> str:
    """The file as text."""
    left, low, right, high = bounds((*sheet.cut, *sheet.marks))
    words = [sheet.name, f"{sheet.thickness_mm:g} mm thick", *(f"{name} {mm:.2f} mm" for name, mm in sheet.figures)]
    left, right, high = left - ROOM, right + ROOM, high + ROOM
    low = low - ROOM - 5.0 * len(words)
    text = [
        f'<text x="{left + 3:.3f}" y="{-low - 5.0 * (len(words) - k) + 2:.3f}" font-size="3.5">{escape(line)}</text>'
        for k, line in enumerate(words)
    ]
    return "\n".join(
        [
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{right - left:.3f}mm" height="{high - low:.3f}mm" '
            f'viewBox="{left:.3f} {-high:.3f} {right - left:.3f} {high - low:.3f}">',
            f"<title>{escape(sheet.name)}</title>",
            f'<g id="{CUT}" fill="none" stroke="#000" stroke-width="0.1">',
            *(f'<path d="{path_data(outline)}"/>' for outline in sheet.cut),
            "</g>",
            f'<g id="{ENGRAVE}" fill="none" stroke="#00f" stroke-width="0.1">',
            *(f'<path d="{path_data(outline, closed=False)}"/>' for outline in sheet.marks),
            "</g>",
            f'<g id="{DIMENSION}" font-family="sans-serif" fill="#555">',
            *text,
            "</g>",
            "</svg>",
            "",
        ]
    )


def path_data(outline: Outline, *, closed: bool = True) -> str:
    """An outline as path data; y grows downwards there, so arcs turn the other way."""
    x, y = outline[0].begin
    made = [f"M{x:.6f} {-y:.6f}"]
    for piece in outline:
        if not isinstance(piece, Arc):
            made.append(f"L{piece.end[0]:.6f} {-piece.end[1]:.6f}")
            continue
        turn = piece.last - piece.first
        parts = 2 if abs(turn) > math.pi else 1  # a whole turn in one arc is none
        for k in range(parts):
            half = Arc(piece.middle, piece.radius, piece.first, piece.first + turn * (k + 1) / parts)
            made.append(f"A{piece.radius:.6f} {piece.radius:.6f} 0 0 {0 if turn > 0 else 1} {half.end[0]:.6f} {-half.end[1]:.6f}")
    return " ".join([*made, "Z"] if closed else made)
