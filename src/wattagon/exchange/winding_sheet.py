"""The winding on paper at 1:1: stator, pattern, a ring to mark the teeth, order, joints, sensors; as SVG and PDF."""

from __future__ import annotations

import math
from html import escape
from typing import NamedTuple

from fpdf import FPDF

from wattagon.exchange.paper import latin, sheet_of, words
from wattagon.physics.winding.shape import Point, Shape
from wattagon.study.winding.drawn import shape_of
from wattagon.study.winding.guide import MEGGER, before_and_after
from wattagon.study.winding.study import WindingStudy

INKS = ("#5b4a94", "#8a5f12", "#1e7470")  # of phases A, B, C, as on the bench
RING_MM, EDGE_MM = 9.0, 4.0  # of the template; round the drawing


class Stroke(NamedTuple):
    """A line through points [mm, y up], closed and filled or not."""

    points: tuple[Point, ...]
    ink: str
    fill: str = ""
    closed: bool = True
    width: float = 0.2


class Label(NamedTuple):
    at: Point
    text: str
    size: float  # mm
    ink: str = "#26282b"


def drawing(found: WindingStudy) -> tuple[list[Stroke], list[Label], float]:
    """(strokes, labels, radius [mm]) of the stator with its coils and the ring round it."""
    shape, layout = shape_of(found.base.iron), found.layout
    strokes: list[Stroke] = []
    labels: list[Label] = []
    for tooth in range(shape.slots):
        strokes.append(Stroke(tuple(shape.tooth_outline(tooth)), "#26282b", "#ece7da"))
    strokes.append(Stroke(tuple(shape.arc(shape.bottom, 0.0, math.tau, 121)), "#26282b", closed=False))
    if layout is not None:
        for tooth, coil in enumerate(layout.pattern.coils):
            if coil is None:
                continue
            ink = INKS[coil[0]]
            for side in shape.coil(tooth, coil[1], whole=layout.pattern.layers == 1):
                strokes.append(Stroke(side.outline, ink))
                strokes += _current(side.middle, side.away, ink, 0.16 * shape.tooth)
    inner = shape.outer + 2.0
    outer = inner + RING_MM
    for radius in (inner, outer):
        strokes.append(Stroke(tuple(shape.arc(radius, 0.0, math.tau, 181)), "#26282b", closed=False))
    _ring(found, shape, inner, outer, strokes, labels)
    return strokes, labels, outer + EDGE_MM


def _ring(found: WindingStudy, shape: Shape, inner: float, outer: float, strokes: list[Stroke], labels: list[Label]) -> None:
    """Ticks at teeth, letters, and sensors at their openings."""
    text = found.layout.pattern.text if found.layout is not None else "?" * shape.slots
    for tooth in range(shape.slots):
        at = shape.angle(tooth)
        strokes.append(Stroke((shape.at(inner, at), shape.at(inner + 2.0, at)), "#26282b", closed=False, width=0.3))
        ink = INKS["ABC".index(text[tooth].upper())] if text[tooth].upper() in "ABC" else "#777777"
        labels.append(Label(shape.at(0.5 * (inner + outer) + 0.6, at), f"{tooth + 1}{text[tooth]}", 3.0, ink))
    if found.halls is not None:
        for k, place in enumerate(found.halls.places):
            a, b = shape.opening_at(place, inner), shape.opening_at(place, outer)
            strokes.append(Stroke((a, b), "#26282b", closed=False, width=0.5))
            labels.append(Label(shape.opening_at(place, outer + 2.2), f"H{k + 1}", 2.6))


def _current(middle: Point, away: bool, ink: str, size: float) -> list[Stroke]:
    """A cross where current goes away from the reader, a point where it comes."""
    x, y = middle
    size = max(size, 0.35)
    if away:
        return [
            Stroke(((x - size, y - size), (x + size, y + size)), ink, closed=False, width=0.3),
            Stroke(((x - size, y + size), (x + size, y - size)), ink, closed=False, width=0.3),
        ]
    dot = tuple((x + 0.6 * size * math.cos(a), y + 0.6 * size * math.sin(a)) for a in (k * math.tau / 10 for k in range(10)))
    return [Stroke(dot, ink, ink)]


def title(found: WindingStudy) -> str:
    """What it is, in a line."""
    layout, coils = found.layout, found.coils
    pattern = layout.pattern.text if layout is not None else "no balanced pattern"
    made = f"{coils.turns:g} turns, {coils.strands:g} x {1e3 * coils.wire_m:.3g} mm, {coils.connection.value}"
    return f"{found.design.vehicle.name}: {found.base.iron.name} {pattern}, {made}"


def winding_svg(found: WindingStudy) -> str:
    """The drawing at 1:1."""
    strokes, labels, radius = drawing(found)
    wide, foot = 2.0 * radius, 12.0
    place = lambda point: f"{point[0] + radius:.3f},{radius - point[1]:.3f}"
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{wide + foot:.3f}mm" '
        f'viewBox="0 0 {wide:.3f} {wide + foot:.3f}">',
        f"<title>{escape(title(found))}</title>",
        f'<rect width="{wide:.3f}" height="{wide + foot:.3f}" fill="#ffffff"/>',
    ]
    for one in strokes:
        kind = "polygon" if one.closed else "polyline"
        points = " ".join(place(point) for point in one.points)
        lines.append(f'<{kind} points="{points}" fill="{one.fill or "none"}" stroke="{one.ink}" stroke-width="{one.width}"/>')
    for label in labels:
        x, y = place(label.at).split(",")
        lines.append(
            f'<text x="{x}" y="{float(y) + 0.35 * label.size:.3f}" font-size="{label.size}" text-anchor="middle" '
            f'font-family="sans-serif" fill="{label.ink}">{escape(label.text)}</text>'
        )
    bar = wide + 6.0
    lines.append(f'<line x1="4" y1="{bar}" x2="54" y2="{bar}" stroke="#26282b" stroke-width="0.4"/>')
    lines.append(f'<text x="56" y="{bar + 1:.2f}" font-size="2.8" font-family="sans-serif">50 mm</text>')
    lines.append(f'<text x="4" y="{bar + 4.5:.2f}" font-size="2.4" font-family="sans-serif">{escape(title(found))}</text>')
    return "\n".join([*lines, "</svg>", ""])


def winding_pdf(found: WindingStudy) -> bytes:
    """The drawing at 1:1 on as many pages as it takes, then order, joints, sensors and the work with its cautions."""
    page = sheet_of("Winding")
    words(page, title(found), 13, bold=True)
    words(page, "Print at 100 % and measure the bar. The ring is cut out and laid round the stator: it marks the teeth.", 9)
    _draw(page, found)
    page.add_page()
    words(page, "Order of the coils", 13, bold=True)
    plan = found.guide
    if plan is None:
        words(page, "No winding is decided on yet: the pattern alone is drawn.", 10)
    else:
        words(page, f"Each strand of a path {plan.piece_m:.2f} m, {plan.pieces} of them; start and end marked at once.", 10)
        for phase in range(3):
            jobs = [job for job in plan.jobs if job.phase == phase]
            parts = []
            for job in jobs:
                way = "cw" if job.direction > 0 else "ccw"
                lead = " START" if job.starts else ""
                end = " END" if job.ends else ""
                parts.append(f"{lead} tooth {job.tooth + 1} {way}{end}".strip())
            page.ln(2)
            words(page, f"Phase {'ABC'[phase]} ({plan.turns} turns a tooth): {', '.join(parts)}", 10)
        page.ln(3)
        words(page, "Joints", 12, bold=True)
        for joint in plan.joints:
            words(page, f"{joint.name}: {' + '.join(joint.ends)}", 10)
    if found.halls is not None:
        page.ln(3)
        words(page, "Sensors", 12, bold=True)
        slots = found.base.iron.slots
        seats = [(int(place) + 1, int(place + 1) % slots + 1) for place in found.halls.places]
        between = ", ".join(f"H{k + 1} between teeth {a} and {b}" for k, (a, b) in enumerate(seats))
        words(page, f"{between}; codes in order: {' '.join(code for code, _ in found.halls.ring)}", 10)
    page.ln(3)
    words(page, "The work", 12, bold=True)
    for what, how in before_and_after(flooded=found.wet):
        words(page, f"[  ] {what}: {how}", 9)
    page.ln(2)
    words(page, f"Caution: {MEGGER} Local rules and licensed practice come first.", 9, bold=True)
    return bytes(page.output())


def _draw(page: FPDF, found: WindingStudy) -> None:
    """Stator and ring at 1:1; where the paper is too small the drawing goes over pages with a common cross."""
    strokes, labels, radius = drawing(found)
    left, top, wide, tall = 12.0, 32.0, page.w - 24.0, page.h - 32.0 - 26.0
    across, down = max(1, math.ceil(2.0 * radius / wide)), max(1, math.ceil(2.0 * radius / tall))
    for row in range(down):
        for column in range(across):
            if row or column:
                page.add_page()
            x0 = left + (0.5 * (wide - 2.0 * radius) if across == 1 else 0.0) + radius - column * wide
            y0 = top + radius - row * tall
            with page.local_context(), page.rect_clip(left, top, wide, tall):
                for one in strokes:
                    page.set_draw_color(one.ink)
                    page.set_line_width(one.width)
                    points = [(x0 + x, y0 - y) for x, y in one.points]
                    if one.fill:
                        page.set_fill_color(one.fill)
                    if one.closed:
                        page.polygon(points, style="DF" if one.fill else "D")
                    else:
                        page.polyline(points)
                for label in labels:
                    page.set_font("Helvetica", size=label.size / 0.3528)
                    page.set_text_color(label.ink)
                    text = latin(label.text)
                    page.text(x0 + label.at[0] - 0.5 * page.get_string_width(text), y0 - label.at[1] + 0.35 * label.size, text)
            page.set_text_color(0)
            page.set_draw_color(0)
            page.set_line_width(0.3)
            bar = page.h - 20.0
            page.line(left, bar, left + 50.0, bar)
            page.set_font("Helvetica", size=9)
            page.text(left + 52.0, bar + 1.0, f"50 mm; page {row * across + column + 1} of {across * down}")
