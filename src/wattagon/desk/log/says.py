"""What a log says: the sentence, and energy, peaks and temperatures as bars about their prediction with its band."""

from __future__ import annotations

import math
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QLabel, QSizePolicy, QVBoxLayout, QWidget

from wattagon.desk.chart.ink import elided, pen, put_right, put_text, say_instead, straight
from wattagon.desk.chart.painted import painted
from wattagon.desk.fields import scrolled
from wattagon.desk.log.book import LogBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.study.log.compare import statement

LINE, NARROW = 22.0, 520.0
FIRST_WORDS = "Measured and predicted stand here side by side."


class FiguresPicture(QWidget):
    """Paints each figure: measured against predicted in per cent, the band behind it."""

    narrow = False

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self.setObjectName("log-figures")
        self.setAccessibleName("Measured and predicted side by side")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.MinimumExpanding)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        book.changed.connect(self.renew)
        session.looks_changed.connect(self.update)

    def renew(self) -> None:
        made = self._book.comparison
        self.setMinimumHeight(int((len(made.figures) if made is not None else 1) * LINE + 24))
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        made, say = self._book.comparison, self._session.say
        if made is None:
            return FIRST_WORDS
        return "; ".join(
            f"{f.words}: {say(f.measured, f.dimension)} measured, {say(f.predicted, f.dimension)} predicted" for f in made.figures
        )

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme, made = THEMES[self._session.theme_name], self._book.comparison
        p.fillRect(rect, theme.panel)
        if made is None:
            say_instead(p, theme, rect, FIRST_WORDS if not self._book.running else "Working ...")
            return
        self.narrow = rect.width() < NARROW
        left, wide = rect.left(), max(rect.width(), 300.0)
        first = max(0.37 * wide, 190.0 if self.narrow else 0.0)
        columns = (left + 8, left + first, left + first + max(0.12 * wide, 68.0), left + first + max(0.12 * wide, 68.0) + 0.03 * wide)
        right = rect.right() - (64 if self.narrow else 150)
        reach = self._reach(made)
        middle = (columns[3] + right) / 2
        x = lambda share: middle + max(min(share / reach, 1.0), -1.0) * (right - columns[3]) / 2
        p.setPen(theme.soft)
        put_right(p, columns[1], rect.top() + 14, "measured", font(11))
        put_right(p, columns[2], rect.top() + 14, "predicted", font(11))
        straight(p, middle, rect.top() + 18, middle, rect.top() + 18 + LINE * len(made.figures), pen(theme.rule, 1.2))
        y = rect.top() + 18
        for one in made.figures:
            self._figure(p, theme, one, columns, x, y, right, rect.right() - 8)
            y += LINE

    def _reach(self, made: Any) -> float:
        shares = [abs(one.off) for one in made.figures if math.isfinite(one.off)]
        for one in made.figures:
            if math.isfinite(one.low) and one.predicted:
                shares += [abs(one.low / one.predicted - 1.0), abs(one.high / one.predicted - 1.0)]
        return max(min(max(shares, default=0.1) * 1.1, 1.0), 0.05)

    def _figure(self, p: QPainter, theme: Theme, one: Any, columns: Any, x: Any, y: float, right: float, edge: float) -> None:
        say, base = self._session.say, y + 15
        p.setPen(theme.ink)
        put_text(p, columns[0], base, elided(one.words, font(12), columns[1] - columns[0] - 70), font(12))
        put_right(p, columns[1], base, say(one.measured, one.dimension), font(12, 600))
        p.setPen(theme.soft)
        put_right(p, columns[2], base, say(one.predicted, one.dimension), font(12))
        celsius = one.dimension == "temperature"
        off = one.off if not celsius else (one.measured - one.predicted) / max(abs(one.predicted), 20.0)
        if math.isfinite(one.low) and one.predicted:
            low, high = sorted((one.low / one.predicted - 1.0, one.high / one.predicted - 1.0))
            p.fillRect(QRectF(x(low), y + 4, x(high) - x(low), LINE - 8), with_alpha(theme.mechanical, 0.20))
        colour = theme.clear if one.inside else theme.tight if one.inside is False else theme.electrical
        straight(p, x(0.0), y + LINE / 2, x(off), y + LINE / 2, pen(colour, 4.0))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(colour)
        if one.inside is False:  # a shape of its own, never by colour alone
            p.drawPolygon([QPointF(x(off), y + LINE / 2 - 6), QPointF(x(off) + 6, y + LINE / 2 + 5), QPointF(x(off) - 6, y + LINE / 2 + 5)])
        else:
            p.drawEllipse(QPointF(x(off), y + LINE / 2), 4.5, 4.5)
        p.setPen(theme.ink)
        word = f"{one.measured - one.predicted:+.1f} K" if celsius else f"{off:+.1%}"
        inside = {True: "in the band", False: "outside the band", None: ""}[one.inside]
        put_right(p, edge, base, word.replace("-", "−") if self.narrow else f"{word.replace('-', '−')} {inside}", font(12))


class SaysTab(QWidget):
    """The sentence over the figures, and what was told while the log was read."""

    title = "What it says"

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self.statement = QLabel(wordWrap=True, objectName="log-statement")
        self.statement.setFont(font(13, 600))
        self.told = QLabel(wordWrap=True, objectName="log-told")
        self.told.setFont(font(12))
        self.told.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.figures = FiguresPicture(session, book)
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(6, 4, 6, 4)
        column.setSpacing(4)
        column.addWidget(self.statement)
        column.addWidget(self.figures)
        column.addWidget(self.told)
        column.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(inner))
        book.changed.connect(self.renew)
        session.looks_changed.connect(self.renew)

    def renew(self) -> None:
        """Another log, or another prediction."""
        made, data = self._book.comparison, self._book.data
        words = statement(made, self._book.explains, self._session.say) if made is not None else ""
        doubts = set(data.doubts) if data is not None else set()
        if doubts:
            words = f"its columns contradict each other, nothing is learnt before they agree: {data.doubts[0]}"
        self.statement.setText(f"{words[:1].upper()}{words[1:]}." if words else "")
        lines = [f"<b>{one}</b>" if one in doubts else one for one in (data.told if data is not None else ())]
        lines += list(made.replay.told) if made is not None else []
        self.told.setText("<br>".join(f"{'▲ ' if line.startswith('<b>') else ''}{line}" for line in lines))
