"""Curves, fills, labels that lie on their line and keep clear of each other, flags and status marks."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from wattagon.desk.chart.axes import polygon
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.finding import Status

_METRICS: dict[tuple[int, int], QFontMetricsF] = {}


def metrics(face: QFont) -> QFontMetricsF:
    """Font metrics, made once for each face."""
    key = (face.pixelSize(), int(face.weight()))
    if key not in _METRICS:
        _METRICS[key] = QFontMetricsF(face)
    return _METRICS[key]


def pen(colour: QColor, width: float = 1.5, dash: Sequence[float] | None = None) -> QPen:
    """A round-jointed pen."""
    made = QPen(colour, width)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    if dash:
        made.setDashPattern(list(dash))
    return made


def curve(painter: QPainter, points: NDArray[np.float64], with_pen: QPen) -> None:
    """A line through points (n, 2) in pixels; gaps where a point is not finite."""
    painter.setPen(with_pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    finite = np.isfinite(points).all(axis=1)
    if finite.all():
        painter.drawPolyline(polygon(points))
        return
    edges = np.flatnonzero(np.diff(np.concatenate([[0], finite.view(np.int8), [0]])))
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        if end - start > 1:
            painter.drawPolyline(polygon(points[start:end]))


def fill(painter: QPainter, points: NDArray[np.float64], colour: QColor) -> None:
    """A filled outline without a border."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(colour))
    painter.drawPolygon(polygon(points))


class Labels:
    """Places texts so that none covers another: each offers places, the first free one is taken."""

    def __init__(self, painter: QPainter, theme: Theme, bounds: QRectF) -> None:
        self.painter, self.theme, self.bounds = painter, theme, bounds
        self.taken: list[QRectF] = []

    def reserve(self, rect: QRectF) -> None:
        """Keep a place clear."""
        self.taken.append(rect)

    def free(self, rect: QRectF) -> bool:
        return self.bounds.contains(rect) and not any(rect.intersects(other) for other in self.taken)

    def text(
        self, places: Sequence[QPointF], text: str, colour: QColor, face: QFont, *, second: str = "", second_colour: QColor | None = None,
        halo: bool = True,
    ) -> bool:  # fmt: skip
        """One or two lines of text with their top left at the first place that is free; False when none is."""
        m = metrics(face)
        small = font(face.pixelSize() - 1)
        width = max(m.horizontalAdvance(text), metrics(small).horizontalAdvance(second) if second else 0.0)
        height = m.height() + (metrics(small).height() if second else 0.0)
        for place in places:
            rect = QRectF(place.x(), place.y(), width, height)
            if not self.free(rect.adjusted(-2, -1, 2, 1)):
                continue
            self.taken.append(rect.adjusted(-2, -1, 2, 1))
            if halo:
                self.painter.fillRect(rect.adjusted(-2, 0, 2, 0), with_alpha(self.theme.panel, 0.82))
            self.painter.setFont(face)
            self.painter.setPen(colour)
            self.painter.drawText(QPointF(rect.left(), rect.top() + m.ascent()), text)
            if second:
                self.painter.setFont(small)
                self.painter.setPen(second_colour or self.theme.ink)
                self.painter.drawText(QPointF(rect.left(), rect.top() + m.height() + metrics(small).ascent()), second)
            return True
        return False

    def on_line(
        self, points: NDArray[np.float64], text: str, colour: QColor, face: QFont, *, shares: Sequence[float] = (0.5, 0.35, 0.65, 0.2, 0.8),
        above: bool = True,
    ) -> bool:  # fmt: skip
        """A text along a line of points in pixels, just above (or below) it, at the first share of its length that is free.

        Left out when the line is shorter than the text.
        """
        steps = np.hypot(*np.diff(points, axis=0).T)
        along = np.concatenate([[0.0], np.cumsum(steps)])
        m = metrics(face)
        width, height = m.horizontalAdvance(text), m.height()
        if along[-1] < width + 10:
            return False
        for side in (above, not above):
            for share in shares:
                middle = share * along[-1]
                ends = np.clip([middle - width / 2, middle + width / 2], 0.0, along[-1])
                if ends[1] - ends[0] < width * 0.98:
                    continue
                (x0, x1), (y0, y1) = (np.interp(ends, along, points[:, k]) for k in (0, 1))
                angle = math.degrees(math.atan2(y1 - y0, x1 - x0))
                if abs(angle) > 90:
                    angle += 180
                cx, cy = np.interp(middle, along, points[:, 0]), np.interp(middle, along, points[:, 1])
                turn = math.radians(angle)
                off = height / 2 + 2.5
                up = -1.0 if side else 1.0
                mx, my = cx - up * math.sin(turn) * off, cy + up * math.cos(turn) * off
                half_w = (abs(width * math.cos(turn)) + abs(height * math.sin(turn))) / 2
                half_h = (abs(width * math.sin(turn)) + abs(height * math.cos(turn))) / 2
                rect = QRectF(mx - half_w, my - half_h, 2 * half_w, 2 * half_h)
                tight = rect.adjusted(3, 3, -3, -3) if abs(angle) > 8 else rect
                if not self.free(tight):
                    continue
                self.taken.append(tight)
                p = self.painter
                p.save()
                p.translate(mx, my)
                p.rotate(angle)
                p.fillRect(QRectF(-width / 2 - 2, -height / 2 + 1, width + 4, height - 2), with_alpha(self.theme.panel, 0.75))
                p.setFont(face)
                p.setPen(colour)
                p.drawText(QPointF(-width / 2, m.ascent() - height / 2), text)
                p.restore()
                return True
        return False


def flag(painter: QPainter, at: QPointF, colour: QColor, *, met: bool, panel: QColor) -> None:
    """A goal's flag: a pole from a ring, the cloth whole when met and swallow-tailed when missed."""
    top = at.y() - 26
    painter.setPen(QPen(colour, 2.0))
    painter.setBrush(QBrush(panel))
    painter.drawLine(QPointF(at.x(), at.y() - 4), QPointF(at.x(), top))
    painter.drawEllipse(at, 4.0, 4.0)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(colour))
    x = at.x() + 1
    if met:
        cloth = [QPointF(x, top), QPointF(x + 15, top + 5.5), QPointF(x, top + 11)]
    else:
        cloth = [QPointF(x, top), QPointF(x + 16, top), QPointF(x + 10, top + 5.5), QPointF(x + 16, top + 11), QPointF(x, top + 11)]
    painter.drawPolygon(QPolygonF(cloth))


def status_mark(painter: QPainter, centre: QPointF, status: Status, theme: Theme, size: float = 5.5) -> None:
    """Over: a solid wedge; tight: a bar; clear: an open ring; not checked: a dotted ring.  Never by colour alone."""
    colour, x, y, s = theme.of(status), centre.x(), centre.y(), size
    if status is Status.OVER:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        painter.drawPolygon(QPolygonF([QPointF(x - s, y - s * 0.8), QPointF(x + s, y - s * 0.8), QPointF(x, y + s)]))
    elif status is Status.TIGHT:
        painter.fillRect(QRectF(x - s, y - s * 0.35, 2 * s, s * 0.7), colour)
    else:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(colour, 1.8, None if status is Status.CLEAR else (1.2, 1.2)))
        painter.drawEllipse(centre, s * 0.75, s * 0.75)


def assumed_mark(painter: QPainter, at: QPointF, colour: QColor) -> None:
    """A small tilde: this rests on a value that nobody measured."""
    painter.setFont(font(12))
    painter.setPen(colour)
    painter.drawText(at, "≈")
