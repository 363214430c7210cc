"""The ladder of volts: the column of what the pack does between the rungs of every rating that it meets; its window has two handles."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPolygonF

from wattagon.desk.chart.ink import elided, pen, put_right, put_text, status_mark, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.physics.pack import charge_at
from wattagon.study.findings.status import Status
from wattagon.study.pack.study import PackStudy

WIDE, LEFT = 44.0, 158.0  # of the column, and where it begins
LINE_PX = 15.0
SHARE_PX = 50.0  # left of the column, for the shares at its handles
FAR = 1.45  # times the full pack: ratings above stand in a line at the top


class Ladder:
    """Its scale and handles, as they were drawn last."""

    def __init__(self) -> None:
        self.area = QRectF()
        self.low = self.high = 1.0
        self.handles: dict[str, QRectF] = {}

    def y_of(self, volts: float) -> float:
        """Where some volts are."""
        return self.area.bottom() - self.area.height() * (volts - self.low) / (self.high - self.low)

    def volts_at(self, y: float) -> float:
        """And back."""
        return self.low + (self.area.bottom() - y) / max(self.area.height(), 1.0) * (self.high - self.low)

    def draw(self, p: QPainter, theme: Theme, area: QRectF, found: PackStudy, session: Session) -> None:
        """Draw into an area."""
        volts, say = found.volts, session.say
        near = [rung for rung in found.rungs if math.isfinite(rung.volts) and rung.volts <= FAR * volts.full]
        far = [rung for rung in found.rungs if math.isfinite(rung.volts) and rung.volts > FAR * volts.full]
        blank = [rung for rung in found.rungs if not math.isfinite(rung.volts)]
        self.area = area.adjusted(0, 40, 0, -22)
        tops = [volts.full, *(rung.volts for rung in near)]
        self.low = 0.94 * min(volts.empty, volts.cut_end, volts.sag)
        self.high = max(tops) + 0.06 * (max(tops) - self.low)
        x = area.left() + min(LEFT, 0.43 * area.width())
        self._column(p, theme, x, found)
        words = [
            (volts.full, f"full {say(volts.full, 'voltage')}", theme.ink),
            (volts.nominal, f"half {say(volts.nominal, 'voltage')}", theme.soft),
            (volts.storage, f"storage {say(volts.storage, 'voltage')}", theme.soft),
            (volts.cut_start, f"cut back {say(volts.cut_start, 'voltage')}", theme.ink),
            (volts.cut_end, f"to nothing {say(volts.cut_end, 'voltage')}", theme.soft),
            (volts.empty, f"empty {say(volts.empty, 'voltage')}", theme.ink),
        ]
        if volts.charged < 0.999 * volts.full:
            words.append((volts.charged, f"charged to {say(volts.charged, 'voltage')}", theme.ink))
        beside: list[tuple[float, float]] = []  # where words of the column end, and their line
        for y, (_, text, ink) in self._apart([(self.y_of(v), (v, text, ink)) for v, text, ink in words]):
            p.setPen(ink)
            put_text(p, x + WIDE + 8, y + 4, text, font(12))
            beside.append((x + WIDE + 8 + text_width(text, font(12)), y + 4))
        self._sagging(p, theme, x, area, found, session)
        begin = x + WIDE + 104
        marks = [(self.y_of(rung.volts), rung) for rung in near]
        for y, rung in self._apart(marks):
            at = self.y_of(rung.volts)
            ink = theme.of(rung.status) if rung.status in (Status.OVER, Status.TIGHT) else theme.ink
            p.setPen(pen(ink, 1.8 if rung.status is Status.OVER else 1.2))
            p.drawLine(QPointF(x - 4, at), QPointF(begin - 4, at)) if rung.status is Status.OVER else None
            p.drawLine(QPointF(begin - 4, at), QPointF(begin + 6, y))
            p.drawLine(QPointF(begin + 6, y), QPointF(area.right() - 6, y))
            text = elided(f"{rung.name} {say(rung.volts, 'voltage')}", font(12), area.right() - x - WIDE - 30)
            left = area.right() - 6 - text_width(text, font(12))
            line = y - 4
            while any(left - 18 < end and abs(line - other) < LINE_PX - 2 for end, other in beside):
                line -= 1.0  # over the words of the column
            beside.append((area.right(), line))
            status_mark(p, QPointF(left - 10, line - 4), rung.status, theme, 4.5)
            p.setPen(ink)
            put_text(p, left, line, text, font(12))
        self._above(p, theme, area, begin, [f"{rung.name} {say(rung.volts, 'voltage')}" for rung in far], [rung.name for rung in blank])

    def _above(self, p: QPainter, theme: Theme, area: QRectF, begin: float, far: list[str], blank: list[str]) -> None:
        """What is far above, and what nobody told."""
        p.setPen(theme.soft)
        wide = area.right() - area.left() - 16
        if far:
            put_text(p, area.left() + 8, area.top() + 14, elided(f"far above: {', '.join(far)}", font(12), wide), font(12))
        if blank:
            put_text(p, area.left() + 8, area.top() + 29, elided(f"volts not known: {', '.join(blank)}", font(12), wide), font(12))

    def _column(self, p: QPainter, theme: Theme, x: float, found: PackStudy) -> None:
        volts, pack = found.volts, found.resolved.train.pack
        top, bottom = found.resolved.window
        upper, lower = float(pack.emf_v(top)), float(pack.emf_v(bottom))
        box = lambda a, b: QRectF(x, self.y_of(b), WIDE, self.y_of(a) - self.y_of(b))
        p.setPen(pen(theme.ink, 1.0))
        p.setBrush(with_alpha(theme.electrical, 0.16))
        p.drawRect(box(volts.empty, volts.full))
        p.fillRect(box(lower, upper), with_alpha(theme.electrical, 0.75))
        p.setPen(pen(theme.panel, 1.6, (4.0, 3.0)))
        for mark in (volts.cut_start, volts.nominal):
            if lower < mark < upper:
                p.drawLine(QPointF(x + 2, self.y_of(mark)), QPointF(x + WIDE - 2, self.y_of(mark)))
        self.handles = {}
        for name, at, share in (("top", upper, top), ("bottom", lower, bottom)):
            y = self.y_of(at)
            p.setPen(pen(theme.electrical, 1.2))
            p.setBrush(theme.electrical)
            p.drawPolygon(QPolygonF([QPointF(x - 2, y), QPointF(x - 14, y - 7), QPointF(x - 14, y + 7)]))
            self.handles[name] = QRectF(x - 60, y - 10, 62, 20)
            p.setPen(theme.electrical)
            put_right(p, x - 18, y + 4, f"{share:.0%}", font(12, 600))

    def _sagging(self, p: QPainter, theme: Theme, x: float, area: QRectF, found: PackStudy, session: Session) -> None:
        """The bus at the moment, and at the worst of the rides."""
        point, volts, say = session.point, found.volts, session.say
        lines = []
        if point is not None and self.low < point.bus_v < self.high:
            lines.append((point.bus_v, f"now {say(point.bus_v, 'voltage')}", theme.heat))
        if math.isfinite(volts.worst) and self.low < volts.worst:
            lines.append((volts.worst, f"worst ride {say(volts.worst, 'voltage')}", theme.ink))
        for y, (at, text, ink) in self._apart([(self.y_of(v), (v, text, ink)) for v, text, ink in lines]):
            true, left = self.y_of(at), x - SHARE_PX
            p.setPen(pen(ink, 1.6, (5.0, 3.0)))
            p.drawLine(QPointF(x - 4, true), QPointF(x + WIDE, true))
            p.setPen(ink)
            put_right(p, left, y + 4, text, font(12))

    @staticmethod
    def _apart(marks: Sequence[tuple[float, Any]]) -> list[tuple[float, Any]]:
        """Marks in order from below, none nearer than a line to another."""
        made: list[tuple[float, Any]] = []
        for y, item in sorted(marks, key=lambda mark: -mark[0]):
            while any(abs(y - other) < LINE_PX for other, _ in made):
                y -= 1.0
            made.append((y, item))
        return made


def share_at(found: PackStudy, volts: float) -> float:
    """Charge at rest that belongs to pack volts."""
    pack = found.resolved.train.pack
    return float(charge_at(pack.chemistry, volts / float(pack.series)))
