"""The goals of a search: how much of the space each alone removes, and what giving it up would save."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import elided, put_right, put_text
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.study.finder.words import count_words
from wattagon.study.words import goal_name

WIDTH = 212
ROW = 62.0


class Strangle(QWidget):
    """Painted rows, one a goal, the one that removes most first."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setObjectName("finder-goals")
        self.setFixedWidth(WIDTH)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("What each goal removes")
        book.changed.connect(self._refresh)
        session.looks_changed.connect(self._refresh)

    def _refresh(self) -> None:
        self.setAccessibleDescription("; ".join(f"{name}: {words}" for name, words, _, _ in self.rows()))
        self.update()

    def rows(self) -> list[tuple[str, str, float, str]]:
        """(goal, how many it removes, share of the fullest bar, what giving it up brings)."""
        session, found = self._session, self._book.found
        if not session.docs:
            return []
        made = []
        near = {hit.fails: hit for hit in found.near_misses} if found is not None else {}
        most = max([*(found.removed_by.values() if found is not None else ()), 1])
        for goal in session.design.brief.goals:
            name = goal_name(goal, session.say)
            if found is None or goal.id not in found.removed_by:
                made.append((name, "" if found is None else "not part of a search", 0.0, ""))
                continue
            count = found.removed_by[goal.id]
            share = math.log1p(count) / math.log1p(most)
            words = f"alone removes about {count_words(count)}" if count else "none of the sample by it alone"
            hit = near.get(goal.id)
            saving = ""
            if hit is not None:
                missed = next(r for r in hit.goals if r.goal.id == goal.id)
                least = min((h.cost for h in found.hits), default=math.nan)
                price = (
                    f"saves {session.say(least - hit.cost, 'money')}"
                    if math.isfinite(least)
                    else f"from {session.say(hit.cost, 'money')}"
                )
                saving = f"{session.say(missed.reached, missed.dimension)} {price}"
            made.append((name, words, share if count else 0.0, saving))
        return sorted(made, key=lambda row: -row[2])

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = THEMES[self._session.theme_name]
        painter.setOpacity(0.55 if self._book.stale or self._book.running else 1.0)
        self._paint(painter, theme)
        painter.end()

    def _paint(self, painter: QPainter, theme: Theme) -> None:
        right, y = self.width() - 12.0, 14.0
        painter.setPen(theme.ink)
        put_text(painter, 4, y, "Goals", font(13, 600))
        y += 10
        rows = self.rows()
        height = min(ROW, (self.height() - y) / max(len(rows), 1))
        for name, words, share, saving in rows:
            painter.setPen(theme.ink)
            put_text(painter, 4, y + 15, elided(name, font(12, 600), right - 4), font(12, 600))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.fillRect(QRectF(4, y + 21, right - 4, 4), theme.rule)
            painter.fillRect(QRectF(4, y + 21, (right - 4) * share, 4), with_alpha(theme.over, 0.75))
            painter.setPen(theme.soft)
            put_text(painter, 4, y + 38, elided(words, font(11), right - 4), font(11))
            if saving and height > 52:
                painter.setPen(theme.mechanical)
                put_text(painter, 4, y + 52, elided(f"giving in: {saving}", font(11), right - 4), font(11))
            y += height
        if not rows:
            painter.setPen(theme.soft)
            put_right(painter, right, y + 20, "no goals in the brief", font(12))
