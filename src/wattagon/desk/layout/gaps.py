"""How sure a gap is, drawn: a bar under its figures that fades where the measures leave it open, and the same at the end of a dimension."""

from __future__ import annotations

import math
from typing import NamedTuple

from PySide6.QtCore import QModelIndex, QPersistentModelIndex, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QLinearGradient, QPainter
from PySide6.QtWidgets import QStyledItemDelegate, QStyleOptionViewItem

from wattagon.desk.chart.ink import pen
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, with_alpha
from wattagon.study.findings.status import Status
from wattagon.study.layout.found import Found

ROLE = Qt.ItemDataRole.UserRole + 1
SPAN_M = 0.020  # that the whole bar stands for; what has more room fills it
TALL, LOW = 3.0, 0.5  # of the bar, and its distance from the row's foot [px]
SOLID, GONE = 0.80, 0.06


class Bar(NamedTuple):
    """Where a bar is solid, where it has faded, and where its wanted end stands, as shares of its width; nothing below 0."""

    solid: float
    end: float
    wanted: float


def bar_of(gap: Found) -> Bar:
    """Of a gap that is known: solid up to its worst, gone where as much more would be."""
    share = lambda metres: min(max(metres / SPAN_M, 0.0), 1.0)
    return Bar(solid=share(gap.worst), end=share(2.0 * gap.nominal - gap.worst), wanted=share(gap.wanted))


class GapBars(QStyledItemDelegate):
    """Draws the bar of a row's gap under its text."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> None:
        super().paint(painter, option, index)
        gap = index.data(ROLE)
        if not isinstance(gap, Found) or not math.isfinite(gap.nominal):
            return
        theme, cell = THEMES[self._session.theme_name], QRectF(option.rect)
        track = QRectF(cell.left() + 6, cell.bottom() - LOW - TALL, cell.width() - 12, TALL)
        colour, bar = theme.soft if gap.status is Status.CLEAR else theme.of(gap.status), bar_of(gap)
        painter.save()
        painter.fillRect(track, with_alpha(theme.rule, 0.6))
        _fading(painter, QPointF(track.left(), track.center().y()), (1.0, 0.0), track.width() * bar.solid, track.width() * bar.end, colour)
        if gap.wanted > 0.0:
            x = track.left() + track.width() * bar.wanted
            painter.setPen(pen(theme.ink, 1.4))
            painter.drawLine(QPointF(x, track.top() - 2.0), QPointF(x, track.bottom() + 1.5))
        painter.restore()


def _fading(p: QPainter, start: QPointF, along: tuple[float, float], solid: float, end: float, colour: QColor, tall: float = TALL) -> None:
    """A bar from a point in a direction, solid for some way and gone at its end [px]."""
    if end <= 0.0:
        return
    p.save()
    p.translate(start)
    p.rotate(math.degrees(math.atan2(along[1], along[0])))
    fade = QLinearGradient(0.0, 0.0, end, 0.0)
    fade.setColorAt(0.0, with_alpha(colour, SOLID))
    fade.setColorAt(min(max(solid, 0.0) / end, 1.0), with_alpha(colour, SOLID))
    if solid < end:
        fade.setColorAt(1.0, with_alpha(colour, GONE))
    p.fillRect(QRectF(0.0, -0.5 * tall, end, tall), fade)
    p.restore()


def smear(p: QPainter, a: QPointF, b: QPointF, scale: float, gap: Found, colour: QColor) -> None:
    """Along a dimension from a to b: where its far end may be as well, fading either way; to scale [px a metre]."""
    length, by = math.hypot(b.x() - a.x(), b.y() - a.y()), (gap.nominal - gap.likely) * scale
    if not math.isfinite(by) or by < 1.0:
        return
    along = ((b.x() - a.x()) / length, (b.y() - a.y()) / length) if length > 0.0 else (1.0, 0.0)
    for way in (1.0, -1.0):
        _fading(p, b, (way * along[0], way * along[1]), 0.0, by, colour, tall=7.0)
