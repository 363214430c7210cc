"""The drives that are compared, side by side: only what differs, the best figure of each line bold."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import elided, put_text, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.desk.work import Worker
from wattagon.record import record
from wattagon.study.drive.words import short_goal
from wattagon.study.finder.apart import apart_words, told_apart
from wattagon.study.finder.hits import OBJECTIVES, differences

NAME, ROW, HEAD, SENTENCE = 104.0, 16.0, 22.0, 34.0
FIGURES = {
    "cost": "cost",
    "mass": "mass",
    "speed": "top speed",
    "grade": "start on",
    "range": "range",
    "margin": "least margin",
    "lasting": "lasting current",
}


@record(frozen=True, slots=True)
class Line:
    """One line of the table: its name, a text for each drive, and which of them is best (-1: none)."""

    name: str
    texts: tuple[str, ...]
    best: int = -1


class Differences(QWidget):
    """A painted table."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setObjectName("finder-differences")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Differences of the drives that are compared")
        self.apart = ""  # whether the first two that are marked can be told apart
        self._asked: tuple[int, ...] = ()
        self.worker = Worker(self)
        self.worker.arrived.connect(self._told)
        session.closing.connect(self.worker.stop)
        for signal in (book.changed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        self._ask()
        self.setAccessibleDescription("; ".join(f"{line.name}: {', '.join(line.texts)}" for line in self.lines()))
        self.update()

    def _ask(self) -> None:
        """Of the first two that are marked, on a thread; nothing is asked again for the same two."""
        pair = tuple(id(self._book.points[k]) for k in self._book.marked[:2])
        if pair == self._asked:
            return
        self._asked, self.apart = pair, ""
        self.worker.cancel()
        if len(pair) < 2:
            return
        first, second = (self._book.points[k].variant for k in self._book.marked[:2])
        design, stock = self._session.design, self._session.stock
        self.worker.start(lambda cancelled: told_apart(design, stock, first, second, cancelled))

    def _told(self, result: object) -> None:
        short = lambda one: short_goal(one.goal, self._session.say)
        self.apart = apart_words(result, ("1", "2"), short) if isinstance(result, tuple) else ""
        self.updateGeometry()
        self.update()

    def lines(self) -> list[Line]:
        """What is shown, in the user's units."""
        hits = [self._book.points[k] for k in self._book.marked]
        if len(hits) < 2:
            return []
        say, made = self._session.say, [Line(name, tuple(row)) for name, row in differences(hits, self._session.stock)]
        for code, name in FIGURES.items():
            values = [hit.value(code) for hit in hits]
            texts = tuple(say(round(v) if code == "cost" else v, OBJECTIVES[code][0]) if math.isfinite(v) else "" for v in values)
            if len(set(texts)) > 1:
                ranks = [hit.rank(code) for hit in hits]
                made.append(Line(name, texts, ranks.index(min(ranks))))
        for k, result in enumerate(hits[0].goals):
            if str(result.goal.kind) in ("climb", "sprint"):
                texts = tuple("never" if math.isinf(h.goals[k].reached) else say(h.goals[k].reached, result.dimension) for h in hits)
                if len(set(texts)) > 1:
                    margins = [h.goals[k].margin for h in hits]
                    made.append(Line(short_goal(result.goal, say), texts, margins.index(max(margins))))
        return made

    def spoken(self) -> str:
        """Its values as text."""
        told = "; ".join(f"{line.name}: {', '.join(line.texts)}" for line in self.lines())
        return f"{told}. {self.apart}" if self.apart else told

    def wanted_height(self) -> int:
        """Room for all lines."""
        return int(HEAD + ROW * max(len(self.lines()), 1) + 4 + (SENTENCE if len(self._book.marked) > 1 else 0))

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.fillRect(event.rect(), theme.panel)
        lines = self.lines()
        n = len(self._book.marked)
        if not lines:
            painter.setPen(theme.soft)
            put_text(painter, 10, 24, "Mark two drives or more: Ctrl and a press, or Space.", font(12))
            return
        width = (self.width() - NAME - 8) / n
        height = min(ROW, (self.height() - HEAD - SENTENCE - 2) / len(lines))
        if self.apart:
            painter.setPen(theme.soft)
            for line_no, words in enumerate(wrapped(self.apart, font(12), self.width() - 20)[:2]):
                put_text(painter, 10, self.height() - SENTENCE + 15 + 15 * line_no, words, font(12))
        painter.setPen(theme.ink)
        for k in range(n):
            put_text(painter, NAME + k * width, 16, str(k + 1), font(12, 600))
        for row, line in enumerate(lines):
            y = HEAD + row * height
            if row % 2 == 0:
                painter.fillRect(QRectF(4, y, self.width() - 8, height), theme.paper)
            painter.setPen(theme.soft)
            put_text(painter, 10, y + height - 4, elided(line.name, font(12), NAME - 14), font(12))
            painter.setPen(theme.ink)
            for k, text in enumerate(line.texts):
                face = font(12, 600 if k == line.best else 400)
                put_text(painter, NAME + k * width, y + height - 4, elided(text, face, width - 8), face)
