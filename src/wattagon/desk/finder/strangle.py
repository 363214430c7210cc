"""The goals of a search: how much of the space each alone removes, and what giving it up would save."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.design.tree import GoalKind
from wattagon.desk.chart.ink import elided, put_right, put_text
from wattagon.desk.chart.painted import painted
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.study.finder.hits import Hit
from wattagon.study.finder.wishes import HEAT, heat_goal
from wattagon.study.finder.words import constraint_name, count_words
from wattagon.study.layout.buildable import NAMES

ROW, TALL = 43.0, 56.0  # a goal, and one with what giving in to it saves


class Strangle(QWidget):
    """Painted rows, one a goal, the one that removes most first."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setObjectName("finder-goals")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("What each goal removes")
        book.changed.connect(self._refresh)
        session.looks_changed.connect(self._refresh)

    def _refresh(self) -> None:
        self.setAccessibleDescription("; ".join(f"{name}: {words}" for name, words, _, _ in self.rows()))
        self.update()

    def rows(self) -> list[tuple[str, str, float, str]]:
        """(goal, how many it removes or before a search what is reached now, share of the fullest bar, what giving it up brings)."""
        session, found = self._session, self._book.found
        if not session.docs:
            return []
        made = []
        near = {hit.fails: hit for hit in found.near_misses} if found is not None else {}
        removed = found.removed_by if found is not None else {}
        most = max([*removed.values(), 1])
        wishes = found.wishes if found is not None else self._book.wishes
        ids = [goal.id for goal in session.design.brief.goals]
        if heat_goal(session.design, wishes) is not None:
            ids.append(HEAT)
        now = {result.goal.id: result for result in session.study.goals} if found is None and session.study is not None else {}
        for name in ids:
            title = constraint_name(session.design, wishes.climb_s(session.design), name, session.say)
            if found is None or not found.done or name not in removed:
                words = "" if found is None or not found.done else "not part of the search"
                if name in now:
                    reached = session.say(now[name].reached, now[name].dimension)
                    words = f"{session.design.variant().id} now: {reached}"
                made.append((title, words, 0.0, ""))
                continue
            count = removed[name]
            share = math.log1p(count) / math.log1p(most)
            words = f"alone removes about {count_words(count)}" if count else "none of the sample by it alone"
            made.append((title, words, share if count else 0.0, self._saving(near.get(name))))
        for name in near.keys() & NAMES.keys():  # no goals: such drives cannot be built
            made.append((NAMES[name], "keeps cheaper ones from being built", 0.0, self._saving(near[name])))
        return sorted(made, key=lambda row: -row[2])

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(
            ": ".join(filter(None, (name, words, saving and f"giving in: {saving}"))) for name, words, _, saving in self.rows()
        )

    def _saving(self, hit: Hit | None) -> str:
        """What giving in to one goal reaches and saves."""
        found, say = self._book.found, self._session.say
        if hit is None or found is None:
            return ""
        least = min((h.cost for h in found.hits), default=math.nan)
        price = f"saves {say(least - hit.cost, 'money')}" if math.isfinite(least) else f"for {say(round(hit.cost), 'money')}"
        if hit.fails == HEAT:
            return f"{say(hit.heat_s, 'time')} {price}"
        if hit.fails in NAMES:
            return price
        missed = next(result for result in hit.goals if result.goal.id == hit.fails)
        if missed.goal.kind is GoalKind.BUDGET:
            return f"{say(round(hit.cost), 'money')} would do"
        return f"{say(missed.reached, missed.dimension)} {price}"

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.setOpacity(0.55 if self._book.stale or self._book.running else 1.0)
        self._paint(painter, theme)

    def _paint(self, painter: QPainter, theme: Theme) -> None:
        right, y = self.width() - 12.0, 2.0
        rows = self.rows()
        height = [TALL if saving else ROW for _, _, _, saving in rows]
        if y + sum(height) > self.height():  # what giving in saves then stands in the tip of its triangle alone
            height = [ROW] * len(rows)
        squeeze = min(1.0, (self.height() - y) / max(sum(height), 1.0))
        for (name, words, share, saving), room in zip(rows, height, strict=True):
            painter.setPen(theme.ink)
            put_text(painter, 4, y + 13, elided(name, font(12, 600), right - 4), font(12, 600))
            painter.setPen(Qt.PenStyle.NoPen)
            bars = self._book.found is not None
            if bars:
                painter.fillRect(QRectF(4, y + 18, right - 4, 4), theme.rule)
            painter.fillRect(QRectF(4, y + 18, (right - 4) * share, 4), with_alpha(theme.soft, 0.75))
            painter.setPen(theme.soft)
            if squeeze > 0.8:
                put_text(painter, 4, y + (34 if bars else 28), elided(words, font(11), right - 4), font(11))
            if saving and room > ROW:
                painter.setPen(theme.mechanical)
                put_text(painter, 4, y + 47, elided(f"giving in: {saving}", font(11), right - 4), font(11))
            y += room * squeeze
        if not rows:
            painter.setPen(theme.soft)
            put_right(painter, right, y + 20, "no goals in the brief", font(12))
