"""What stands beside the stator: the star of slots, the codes of the sensors over a turn, and how the ends are joined."""

from __future__ import annotations

import itertools
import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QPainter

from wattagon.desk.chart.ink import elided, pen, put_right, put_text, text_width
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.desk.winding.inks import ink_of
from wattagon.physics.winding import star
from wattagon.physics.winding.coil import Connection
from wattagon.physics.winding.halls import codes
from wattagon.study.winding.study import WindingStudy

SMALL, LEAST_ROW = 12, 13.0


def centred(p: QPainter, ink: QColor, at: QPointF, text: str, face: QFont) -> None:
    """Text with its middle at a point."""
    p.setPen(ink)
    put_text(p, at.x() - 0.5 * text_width(text, face), at.y() + 0.36 * face.pixelSize(), text, face)


def paint_star(p: QPainter, theme: Theme, area: QRectF, found: WindingStudy, pointed: int) -> None:
    """A spoke a coil, in electrical degrees; turned coils dashed; the arrow is what the coils of A make together."""
    layout = found.layout
    assert layout is not None
    p.setPen(theme.ink)
    put_text(p, area.left(), area.top() + 11, f"Star of slots: factor {layout.factor:.3f}", font(SMALL, 600))
    radius = 0.5 * min(area.width() - 36.0, area.height() - 44.0)
    centre = QPointF(area.left() + 0.5 * area.width(), area.top() + 20.0 + 0.5 * (area.height() - 22.0))
    pattern = layout.pattern
    p.setPen(pen(theme.rule, 1.0))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(centre, radius, radius)
    spokes: dict[int, list[int]] = {}
    for tooth, coil in enumerate(pattern.coils):
        if coil is not None:
            spokes.setdefault(tooth * (pattern.poles // 2) % pattern.slots, []).append(tooth)
    for place, teeth in spokes.items():
        angle = math.tau * place / pattern.slots
        coil = pattern.coils[teeth[0]]
        assert coil is not None
        ink, turned = ink_of(theme, coil[0]), coil[1] < 0
        hand = pointed in teeth
        way = QPointF(math.sin(angle), -math.cos(angle))
        p.setPen(pen(ink, 3.0 if hand else 1.8, (2.5, 2.0) if turned else ()))
        p.drawLine(centre, centre + way * (radius - 2.0))
        p.setPen(pen(ink, 1.6))
        p.setBrush(theme.panel if turned else ink)
        p.drawEllipse(centre + way * (radius - 2.0), 3.4, 3.4)
        names = ",".join(str(tooth + 1) for tooth in teeth[:2]) + ("…" if len(teeth) > 2 else "")
        centred(p, theme.ink if hand else theme.soft, centre + way * (radius + 10.0), names, font(10))
    axis = math.radians(star.axis_deg(pattern))
    tip = centre + QPointF(math.sin(axis), -math.cos(axis)) * (radius * layout.factor)
    p.setPen(pen(theme.ink, 2.0))
    p.drawLine(centre, tip)
    beside = centre + QPointF(math.sin(axis - 0.22), -math.cos(axis - 0.22)) * (radius * 0.72)
    centred(p, theme.ink, beside, "A", font(11, 600))
    p.setPen(pen(theme.ink, 2.0))
    for off in (2.6, -2.6):
        p.drawLine(tip, tip + QPointF(math.sin(axis + off), -math.cos(axis + off)) * 6.0)


def paint_codes(p: QPainter, theme: Theme, area: QRectF, found: WindingStudy, turned_deg: float) -> None:
    """Three sensors over one electrical turn, and where the rotor stands."""
    halls, layout = found.halls, found.layout
    if halls is None or layout is None:
        return
    p.setPen(theme.ink)
    code = codes(layout.pattern, halls.places, [turned_deg % 360.0])[0]
    head = f"Hall codes: {code}" + (f", {halls.worst_deg:.0f}° off" if halls.worst_deg > 0.5 else "")
    put_text(p, area.left(), area.top() + 12, head, font(SMALL, 600))
    left, wide, row = area.left() + 20.0, area.width() - 26.0, 18.0
    x = lambda degrees: left + wide * degrees / 360.0
    told = codes(layout.pattern, halls.places, [degrees + 0.01 for degrees in range(360)])
    for k in range(3):
        base = area.top() + 34.0 + row * k
        p.setPen(theme.soft)
        put_text(p, area.left(), base, f"H{k + 1}", font(10))
        p.setPen(pen(theme.ink, 1.5))
        bits = [one[k] for one in told]
        edges = [0, *(at for at in range(1, 360) if bits[at] != bits[at - 1]), 360]
        for start, end in itertools.pairwise(edges):
            y = base - (10.0 if bits[start] == "1" else 0.0)
            p.drawLine(QPointF(x(start), y), QPointF(x(end), y))
            if end < 360:
                p.drawLine(QPointF(x(end), base), QPointF(x(end), base - 10.0))
    p.setPen(pen(theme.over, 1.4))
    now = x(turned_deg % 360.0)
    p.drawLine(QPointF(now, area.top() + 20), QPointF(now, area.top() + 36.0 + row * 2))
    p.setPen(theme.soft)
    put_text(p, area.left(), area.top() + 92, "left, right turn the rotor, one electrical turn", font(10))


def paint_joints(p: QPainter, theme: Theme, area: QRectF, found: WindingStudy) -> None:
    """A phase a row: its lead, its coils in the order they are wound, and what its end is joined to; parallel paths beside each other."""
    guide = found.guide
    assert guide is not None
    paths = max(job.path for job in guide.jobs) + 1
    row = min((area.height() - 2.0) / 3.0, 22.0 * paths)
    if row < LEAST_ROW * paths:
        return
    wye = found.coils.connection is Connection.WYE
    face, small = font(SMALL, 600), font(min(11, int(row / paths) - 3))
    left, right = area.left() + 50.0, area.right() - (76.0 if wye else 64.0)
    middles = []
    for phase in range(3):
        ink, middle = ink_of(theme, phase), area.top() + row * (phase + 0.5)
        middles.append(middle)
        p.setPen(ink)
        put_text(p, area.left(), middle + 4.5, f"lead {'ABC'[phase]}", face)
        ys = [middle + row / paths * (path - 0.5 * (paths - 1)) * 0.9 for path in range(paths)]
        p.setPen(pen(ink, 1.6))
        for x in (left, right):
            p.drawLine(QPointF(x, ys[0]), QPointF(x, ys[-1]))
        p.drawLine(QPointF(left - 6.0, middle), QPointF(left, middle))
        p.drawLine(QPointF(right, middle), QPointF(right + 10.0, middle))
        for path, y in enumerate(ys):
            teeth = [job for job in guide.jobs if (job.phase, job.path) == (phase, path)]
            p.setPen(pen(ink, 1.6))
            p.drawLine(QPointF(left, y), QPointF(right, y))
            half = 0.42 * row / paths
            box = QRectF(left + 8.0, y - half, right - left - 16.0, 2.0 * half)
            p.setPen(pen(ink, 1.2))
            p.setBrush(theme.panel)
            p.drawRect(box)
            done = sum(job.tooth in guide.done for job in teeth)
            p.fillRect(QRectF(box.left(), box.top(), box.width() * done / len(teeth), box.height()), with_alpha(ink, 0.28))
            words = elided("  ".join(f"{job.letter}{job.tooth + 1}" for job in teeth), small, box.width() - 6.0)
            centred(p, theme.ink, box.center(), words, small)
        if not wye:
            p.setPen(ink_of(theme, (phase + 1) % 3))
            put_right(p, area.right(), middle + 4.5, f"lead {'ABC'[(phase + 1) % 3]}", face)
    if wye:
        p.setPen(pen(theme.ink, 2.0))
        p.drawLine(QPointF(right + 10.0, middles[0]), QPointF(right + 10.0, middles[-1]))
        p.setPen(theme.ink)
        put_text(p, right + 17.0, middles[1] + 4.5, "star point", font(11, 600))
