"""Curves, fills, labels that lie on their line and keep clear of each other, flags and status marks."""

from __future__ import annotations

import bisect
import itertools
import math
from collections.abc import Callable, Hashable, Sequence
from typing import Any, cast

import numpy as np
import shiboken6
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF, QStaticText, QTransform

from wattagon.desk.chart.ground import Ground
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.findings.status import Status


def _corners(rect: QRectF) -> tuple[float, float, float, float]:
    """Left, top, right, bottom."""
    return cast("tuple[float, float, float, float]", rect.getCoords())


def frame(p: QPainter, theme: Theme, rect: QRectF) -> None:
    """The line round a drawing that has the keys."""
    p.setPen(pen(theme.electrical, 1.5))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(rect.adjusted(0.5, 0.5, -1, -1))


def polygon(points: NDArray[np.float64]) -> QPolygonF:
    """A QPolygonF filled through a view of its memory; a list of points takes fifty times as long."""
    made = QPolygonF()
    n = len(points)
    if n == 0:
        return made
    made.resize(n)
    view = shiboken6.VoidPtr(cast(Any, made.data()), n * 16, True)
    np.frombuffer(cast(Any, view), dtype=np.float64).reshape(-1, 2)[:] = points
    return made


_METRICS: dict[int, tuple[QFont, QFontMetricsF]] = {}


def metrics(face: QFont) -> QFontMetricsF:
    """Font metrics, made once for each face of the theme (which hands out one object a face)."""
    found = _METRICS.get(id(face))
    if found is None or found[0] is not face:
        found = _METRICS[id(face)] = (face, QFontMetricsF(face))
    return found[1]


_WIDTHS: dict[tuple[str, int], float] = {}
_ELIDED: dict[tuple[str, int, int], str] = {}


def text_width(text: str, face: QFont) -> float:
    """Width of a line of text in a face of the theme; measured once."""
    key = (text, id(face))
    found = _WIDTHS.get(key)
    if found is None:
        if len(_WIDTHS) > 5000:
            _WIDTHS.clear()
        found = _WIDTHS[key] = metrics(face).horizontalAdvance(text)
    return found


def elided(text: str, face: QFont, width: float) -> str:
    """The text, or as much of it as fits, ending in an ellipsis."""
    if text_width(text, face) <= width:
        return text
    key = (text, id(face), int(width))
    found = _ELIDED.get(key)
    if found is None:
        if len(_ELIDED) > 3000:
            _ELIDED.clear()
        found = _ELIDED[key] = metrics(face).elidedText(text, Qt.TextElideMode.ElideRight, width)
    return found


_PENS: dict[tuple[int, float, tuple[float, ...]], QPen] = {}


def pen(colour: QColor, width: float = 1.5, dash: tuple[float, ...] = ()) -> QPen:
    """A pen for lines, made once for each colour, width and pattern."""
    key = (colour.rgba(), width, dash)
    made = _PENS.get(key)
    if made is None:
        made = QPen(colour, width)
        made.setJoinStyle(Qt.PenJoinStyle.BevelJoin)  # quicker than round ones, and no line here turns sharply
        made.setCapStyle(Qt.PenCapStyle.FlatCap)
        if dash:
            made.setDashPattern(list(dash))
        if len(_PENS) > 2000:  # widths that follow a value come and go
            _PENS.clear()
        _PENS[key] = made
    return made


_TEXTS: dict[tuple[str, int], QStaticText] = {}
_SEEN: set[tuple[str, int]] = set()


_WRAPPED: dict[tuple[str, int, int, int], list[str]] = {}


def wrapped(text: str, face: QFont, width: float) -> list[str]:
    """Lines of a text in a width; remembered, since most findings stay as they were."""
    key = (text, face.pixelSize(), int(face.weight()), int(width))
    lines = _WRAPPED.get(key)
    if lines is None:
        lines, line = [], ""
        for word in text.split():
            wider = f"{line} {word}".strip()
            if line and text_width(wider, face) > width:
                lines.append(line)
                line = word
            else:
                line = wider
        lines.append(line)
        if len(_WRAPPED) > 4000:
            _WRAPPED.clear()
        _WRAPPED[key] = lines
    return lines


def put_text(painter: QPainter, x: float, baseline: float, text: str, face: QFont) -> None:
    """A line of text with its left end and baseline at a point, in the painter's pen.

    A text that comes back is laid out once and kept, twice as quick as drawing it anew; one that changes with every frame, such
    as a value, is drawn plainly.
    """
    key = (text, id(face))
    made = _TEXTS.get(key)
    if made is None:
        if key not in _SEEN:
            if len(_SEEN) > 3000:
                _SEEN.clear()
            _SEEN.add(key)
            painter.setFont(face)
            painter.drawText(QPointF(x, baseline), text)
            return
        made = QStaticText(text)
        made.setTextFormat(Qt.TextFormat.PlainText)
        made.prepare(QTransform(), face)
        if len(_TEXTS) > 3000:
            _TEXTS.clear()
        _TEXTS[key] = made
    painter.setFont(face)
    painter.drawStaticText(QPointF(x, baseline - metrics(face).ascent()), made)


def put_right(painter: QPainter, right: float, baseline: float, text: str, face: QFont) -> None:
    """The same with its right end at a point."""
    put_text(painter, right - text_width(text, face), baseline, text, face)


def say_instead(painter: QPainter, theme: Theme, rect: QRectF, words: str) -> None:
    """What is wrong or to come, in the middle of an empty picture."""
    painter.setFont(font(14))
    painter.setPen(theme.soft)
    painter.drawText(rect.adjusted(40, 0, -40, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)


def box(painter: QPainter, x: float, y: float, width: float, height: float, ground: QColor | None, edge: QColor) -> None:
    """A plain box on whole pixels; an antialiased round one takes ten times as long."""
    left, top, w, h = round(x), round(y), round(width), round(height)
    if ground is not None:
        painter.fillRect(left, top, w, h, ground)
    for part in ((left, top, w, 1), (left, top + h - 1, w, 1), (left, top, 1, h), (left + w - 1, top, 1, h)):
        painter.fillRect(*part, edge)


def straight(painter: QPainter, x0: float, y0: float, x1: float, y1: float, with_pen: QPen) -> None:
    """A line along an axis: sharp without antialiasing, and many times quicker."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setPen(with_pen)
    painter.drawLine(QPointF(x0, y0), QPointF(x1, y1))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)


def thinned(points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Fewer points for the same picture: every fifth, and all where the line bends by over a third of a pixel.

    A wide antialiased line costs with its points: 160 take three times as long as 30.
    """
    if len(points) < 40:
        return points
    bend = np.abs(points[2:] - 2.0 * points[1:-1] + points[:-2]).max(axis=1)
    keep = np.zeros(len(points), dtype=bool)
    keep[::5] = True
    keep[-1] = True
    keep[1:-1] |= bend > 0.35
    return points[keep]


def curve(painter: QPainter, points: NDArray[np.float64], with_pen: QPen, *, whole: bool = False) -> None:
    """A line through points (n, 2) in pixels; gaps where a point is not finite, unless it is known to be `whole`.

    A pen of width 1 is drawn six times as quickly as a wider one, so a line of about two is drawn as two of one.
    """
    width = with_pen.widthF()
    double = 1.5 < width < 2.3
    # dashes are measured in widths
    painter.setPen(pen(with_pen.color(), 1.0, tuple(width * dash for dash in with_pen.dashPattern())) if double else with_pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    finite = None if whole else np.isfinite(points).all(axis=1)
    if finite is None or finite.all():
        line = polygon(thinned(points))
        painter.drawPolyline(line)
        if double:
            line.translate(0.0, 0.8 * (width - 1.0))
            painter.drawPolyline(line)
        return
    edges = np.flatnonzero(np.diff(np.concatenate([[0], finite.view(np.int8), [0]])))
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        if end - start > 1:
            painter.drawPolyline(polygon(points[start:end]))


def fill(painter: QPainter, points: NDArray[np.float64], colour: QColor) -> None:
    """A filled outline without a border; not antialiased, since a line is drawn along its edge."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    painter.drawPolygon(polygon(thinned(points)))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)


_STAMPS = Ground(300)


class Labels:
    """Places texts so that none covers another: each offers places, the first free one is taken."""

    def __init__(self, painter: QPainter, theme: Theme, bounds: QRectF) -> None:
        self.painter, self.theme = painter, theme
        self._bounds = _corners(bounds)
        self._taken: list[tuple[float, float, float, float]] = []  # left, top, right, bottom: plain numbers are quicker

    def reserve(self, rect: QRectF) -> None:
        """Keep a place clear."""
        self._taken.append(_corners(rect))

    def _take(self, x0: float, y0: float, x1: float, y1: float) -> bool:
        """Take a place if nothing is there yet."""
        b = self._bounds
        if x0 < b[0] or y0 < b[1] or x1 > b[2] or y1 > b[3]:
            return False
        for a in self._taken:
            if x0 < a[2] and a[0] < x1 and y0 < a[3] and a[1] < y1:
                return False
        self._taken.append((x0, y0, x1, y1))
        return True

    def _halo(self, x: float, y: float, width: float, height: float, alpha: float) -> None:
        p = self.painter
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.fillRect(QRectF(x, y, width, height), with_alpha(self.theme.panel, alpha))
        p.setRenderHint(QPainter.RenderHint.Antialiasing, True)

    def _turned(self, x: float, y: float, degrees: int, text: str, face: QFont, colour: QColor) -> None:
        """A turned text about its middle; on a screen from a picture, since turned glyphs are slow to draw and angles are few."""
        width, height = text_width(text, face), metrics(face).height()

        def draw(p: QPainter) -> None:
            p.rotate(degrees)
            p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            p.fillRect(QRectF(-width / 2 - 2, -height / 2 + 1, width + 4, height - 2), with_alpha(self.theme.panel, 0.75))
            p.setRenderHint(QPainter.RenderHint.Antialiasing, True)
            p.setFont(face)
            p.setPen(colour)
            p.drawText(QPointF(-width / 2, metrics(face).ascent() - height / 2), text)

        half = math.ceil(math.hypot(width, height) / 2) + 3
        key = (text, id(face), colour.rgba(), degrees, self.theme.name)
        _stamp(self.painter, QPointF(x, y), QRectF(-half, -half, 2 * half, 2 * half), key, draw)

    def text(
        self,
        places: Sequence[QPointF],
        text: str,
        colour: QColor,
        face: QFont,
        *,
        second: str = "",
        second_colour: QColor | None = None,
        halo: bool = True,
    ) -> bool:
        """One or two lines of text with their top left at the first place that is free; False when none is."""
        m = metrics(face)
        small = font(face.pixelSize() - 1)
        width = max(text_width(text, face), text_width(second, small) if second else 0.0)
        height = m.height() + (metrics(small).height() if second else 0.0)
        for place in places:
            x, y = place.x(), place.y()
            if not self._take(x - 2, y - 1, x + width + 2, y + height + 1):
                continue
            if halo:
                self._halo(x - 2, y, width + 4, height, 0.82)
            self.painter.setPen(colour)
            put_text(self.painter, x, y + m.ascent(), text, face)
            if second:
                self.painter.setPen(second_colour or self.theme.ink)
                put_text(self.painter, x, y + m.height() + metrics(small).ascent(), second, small)
            return True
        return False

    def on_line(
        self,
        points: NDArray[np.float64],
        text: str,
        colour: QColor,
        face: QFont,
        *,
        shares: Sequence[float] = (0.5, 0.35, 0.65, 0.2, 0.8),
        above: bool = True,
    ) -> bool:
        """A text along a line of points in pixels, just above (or below) it, at the first share of its length that is free.

        Left out when the line is shorter than the text.
        """
        m = metrics(face)
        width, height = text_width(text, face), m.height()
        line = thinned(points).tolist()  # a few plain numbers: quicker than arrays of this size
        along = [0.0]
        for (x0, y0), (x1, y1) in itertools.pairwise(line):
            along.append(along[-1] + math.hypot(x1 - x0, y1 - y0))
        length = along[-1]
        if length < width + 10:
            return False

        def at(distance: float) -> tuple[float, float]:
            k = min(max(bisect.bisect_right(along, distance), 1), len(along) - 1)
            share = (distance - along[k - 1]) / max(along[k] - along[k - 1], 1e-9)
            (x0, y0), (x1, y1) = line[k - 1], line[k]
            return x0 + (x1 - x0) * share, y0 + (y1 - y0) * share

        off, reach = height / 2 + 2.5, width / 2
        places: dict[float, tuple[tuple[float, float], float]] = {}
        for up in (-1.0, 1.0) if above else (1.0, -1.0):
            for share in shares:
                middle = share * length
                if middle < 0.98 * reach or middle > length - 0.98 * reach:
                    continue
                if share not in places:  # most labels find their place at once: the rest is not worked out
                    (x0, y0), (x1, y1) = at(max(middle - reach, 0.0)), at(min(middle + reach, length))
                    turn = math.atan2(y1 - y0, x1 - x0)
                    places[share] = at(middle), turn + math.pi if abs(turn) > math.pi / 2 else turn
                (cx, cy), turn = places[share]
                sine, cosine = math.sin(turn), math.cos(turn)
                mx, my = cx - up * sine * off, cy + up * cosine * off
                half_w = (abs(width * cosine) + abs(height * sine)) / 2
                half_h = (abs(width * sine) + abs(height * cosine)) / 2
                slack = 3.0 if abs(turn) > 0.14 else 0.0
                if not self._take(mx - half_w + slack, my - half_h + slack, mx + half_w - slack, my + half_h - slack):
                    continue
                p = self.painter
                p.setPen(colour)
                if abs(turn) < 0.035:  # level enough to be read level
                    self._halo(mx - width / 2 - 2, my - height / 2 + 1, width + 4, height - 2, 0.75)
                    put_text(p, mx - width / 2, my + m.ascent() - height / 2, text, face)
                    return True
                self._turned(mx, my, 3 * round(math.degrees(turn) / 3.0), text, face, colour)
                return True
        return False


def flag(painter: QPainter, at: QPointF, colour: QColor, *, met: bool, panel: QColor) -> None:
    """A goal's flag: a pole from a ring, the cloth whole when met and swallow-tailed when missed."""

    def draw(p: QPainter) -> None:
        p.setPen(QPen(colour, 2.0))
        p.setBrush(QBrush(panel))
        p.drawLine(QPointF(0, -4), QPointF(0, -26))
        p.drawEllipse(QPointF(0, 0), 4.0, 4.0)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QBrush(colour))
        if met:
            cloth = [QPointF(1, -26), QPointF(16, -20.5), QPointF(1, -15)]
        else:
            cloth = [QPointF(1, -26), QPointF(17, -26), QPointF(11, -20.5), QPointF(17, -15), QPointF(1, -15)]
        p.drawPolygon(QPolygonF(cloth))

    _stamp(painter, at, QRectF(-8, -30, 30, 40), ("flag", colour.rgba(), panel.rgba(), met), draw)


def _stamp(painter: QPainter, at: QPointF, area: QRectF, key: Hashable, draw: Callable[[QPainter], None]) -> None:
    x, y = round(at.x()), round(at.y())
    painter.translate(x, y)
    _STAMPS.paint(painter, area, key, draw)
    painter.translate(-x, -y)


def status_mark(painter: QPainter, centre: QPointF, status: Status, theme: Theme, size: float = 5.5) -> None:
    """Over: a solid wedge; tight: a bar; clear: an open ring; not checked: a dotted ring.  Never by colour alone."""
    colour, s = theme.of(status), size

    def draw(p: QPainter) -> None:
        if status is Status.OVER:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(colour)
            p.drawPolygon(QPolygonF([QPointF(-s, -s * 0.8), QPointF(s, -s * 0.8), QPointF(0, s)]))
        elif status is Status.TIGHT:
            p.fillRect(QRectF(-s, -s * 0.35, 2 * s, s * 0.7), colour)
        else:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(pen(colour, 1.8, () if status is Status.CLEAR else (1.2, 1.2)))
            p.drawEllipse(QPointF(0, 0), s * 0.75, s * 0.75)

    _stamp(painter, centre, QRectF(-9, -9, 18, 18), ("mark", status, colour.rgba(), size), draw)


def assumed_mark(painter: QPainter, at: QPointF, colour: QColor) -> None:
    """A small tilde: this rests on a value that nobody measured."""
    painter.setPen(colour)
    put_text(painter, at.x(), at.y(), "≈", font(12))
