"""The versions of a variant as a strip: what was changed at each, and how its figures went, predicted and measured."""

from __future__ import annotations

import math
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QShowEvent
from PySide6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from wattagon.desk.chart.ink import elided, pen, put_text, say_instead, straight, text_width, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.fields import scrolled
from wattagon.desk.log.book import LogBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font
from wattagon.study.log.versions import FIGURES

FIRST_WORDS = "Versions are worked out from the logs of this variant."
HEAD, ROW, LABELS = 62.0, 40.0, 150.0


class VersionsPicture(QWidget):
    """Columns are versions, rows figures; a line goes from one version to the next."""

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self.setObjectName("log-versions")
        self.setAccessibleName("Versions")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(int(HEAD + ROW * len(FIGURES) + 14))
        book.versions_changed.connect(self.update)
        session.looks_changed.connect(self.update)

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{one.date or 'now'} {', '.join(one.changes)}" for one in self._book.versions) or FIRST_WORDS

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme, versions = THEMES[self._session.theme_name], self._book.versions
        p.fillRect(rect, theme.panel)
        if not versions:
            say_instead(p, theme, rect, FIRST_WORDS)
            return
        shown = versions[-8:]
        width = (rect.width() - LABELS - 10) / len(shown)
        left = rect.left() + LABELS
        for k, one in enumerate(shown):
            self._head(p, theme, QRectF(left + k * width, rect.top() + 4, width - 6, HEAD - 6), one)
        for r, (name, words, dimension, _) in enumerate(FIGURES):
            area = QRectF(left, rect.top() + HEAD + r * ROW, width * len(shown), ROW)
            straight(p, rect.left() + 8, area.top(), rect.right() - 8, area.top(), pen(theme.rule, 1.0))
            p.setPen(theme.ink)
            put_text(p, rect.left() + 8, area.top() + 24, words, font(12))
            self._figure(p, theme, area, shown, width, name, dimension)

    def _head(self, p: QPainter, theme: Theme, area: QRectF, one: Any) -> None:
        p.setPen(theme.ink)
        words = f"{one.date or 'now'}{f', log {one.logs[0][1:]}' if len(one.logs) == 1 else f', {len(one.logs)} logs' if one.logs else ''}"
        put_text(p, area.left(), area.top() + 12, elided(words, font(12, 600), area.width()), font(12, 600))
        p.setPen(theme.soft)
        text = "; ".join(one.changes) or one.note or "as first ridden"
        for k, line in enumerate(wrapped(text, font(11), area.width())[:3]):
            put_text(p, area.left(), area.top() + 26 + 13 * k, elided(line, font(11), area.width()), font(11))

    def _figure(self, p: QPainter, theme: Theme, area: QRectF, shown: Any, width: float, name: str, dimension: str) -> None:
        say = self._session.say
        values = [v for one in shown for v in (one.predicted[name], one.measured[name]) if math.isfinite(v)]
        if not values:
            p.setPen(theme.soft)
            put_text(p, area.left(), area.top() + 24, "not known", font(11))
            return
        low, high = min(values), max(values)
        span = max(high - low, 1e-9, 0.04 * abs(high))
        y = lambda value: area.bottom() - 8 - (value - low) / span * (area.height() - 22)
        before: dict[str, QPointF] = {}
        told: list[tuple[float, list[str]]] = []
        for k, one in enumerate(shown):
            for kind, of, colour in (("predicted", one.predicted, theme.electrical), ("measured", one.measured, theme.ink)):
                value = of[name]
                if not math.isfinite(value):
                    continue
                at = QPointF(area.left() + k * width + 10, y(value))
                if kind in before:
                    straight(
                        p, before[kind].x(), before[kind].y(), at.x(), at.y(), pen(colour, 1.2, () if kind == "measured" else (4.0, 3.0))
                    )
                before[kind] = at
                p.setPen(pen(colour, 1.6))
                p.setBrush(colour if kind == "measured" else theme.panel)
                p.drawEllipse(at, 4.0, 4.0)
            both = []
            if math.isfinite(one.measured[name]):
                both.append(f"{say(one.measured[name], dimension)} measured")
            if math.isfinite(one.predicted[name]):
                both.append(f"{say(one.predicted[name], dimension)}{' predicted' if both else ''}")
            told.append((area.left() + k * width + 22, both))
        for x, both in told:  # over the lines, on a ground of their own
            for j, words in enumerate(both):
                text = elided(words, font(11), width - 30)
                p.fillRect(QRectF(x - 3, area.top() + 6 + 14 * j, text_width(text, font(11)) + 6, 14), theme.panel)
                p.setPen(theme.ink)
                put_text(p, x, area.top() + 17 + 14 * j, text, font(11))


class VersionsTab(QWidget):
    """The strip, worked out when it is first seen and after edits."""

    title = "Versions"

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self._of: object = None
        self.picture = VersionsPicture(session, book)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(self.picture))
        book.changed.connect(self._follow)

    def _follow(self) -> None:
        if self.isVisible() and self._session.docs and self._of is not self._session.design and not self._book.running:
            self._of = self._session.design
            self._book.tell_versions()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._follow()
