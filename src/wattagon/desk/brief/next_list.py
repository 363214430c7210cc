"""Measure this next: quantities by the share that they have in the doubt about the goals; a click goes to the measure."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QToolTip, QWidget

from wattagon.desk.bands import weighed
from wattagon.desk.chart.ink import elided, frame, put_right, put_text, say_instead, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font, with_alpha
from wattagon.study.bands.weigh import Next
from wattagon.study.drive.words import goal_name

ROW, HEAD, MOST = 66.0, 26.0, 12
WAITING = "What makes the goals doubtful is being worked out."
NOTHING = "No measurement would make the goals surer than they are."


class NextList(Following, QWidget):
    """Painted rows: name and bar, how with minutes and tool, what it leaves."""

    asked = Signal(str, str)  # bench, what of it

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.at = 0
        self.setObjectName("measure-next")
        self.setAccessibleName("Measure this next")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumWidth(250)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        session.schedule.arrived.connect(self._arrived)
        self.refresh()

    def _arrived(self, code: str) -> None:
        if code == "bands":
            self.followed()

    @property
    def rows(self) -> tuple[Next, ...]:
        """What there is, the one that makes most first."""
        found = weighed(self._session)
        return found.next[:MOST] if found is not None else ()

    def refresh(self) -> None:
        self.at = min(self.at, max(len(self.rows) - 1, 0))
        self.setMinimumHeight(int(HEAD + ROW * max(len(self.rows), 2)))
        self.update()

    def spoken(self) -> str:
        """As text."""
        if not self._session.docs or weighed(self._session) is None:
            return WAITING
        told = [f"{one.name}, {one.share:.0%} of the doubt: {one.how} {one.minutes} min, {one.tool}" for one in self.rows]
        return "; ".join(told) or NOTHING

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme, rect, rows = THEMES[self._session.theme_name], QRectF(self.rect()), self.rows
        painter.fillRect(rect, theme.panel)
        if not rows:
            say_instead(painter, theme, rect, self.spoken())
            return
        painter.setPen(theme.soft)
        put_text(painter, 8, 17, elided("share of what makes the goals doubtful", font(12), rect.width() - 16), font(12))
        for k, one in enumerate(rows):
            top = HEAD + k * ROW
            if k == self.at and self.hasFocus():
                painter.fillRect(QRectF(2, top - 2, rect.width() - 4, ROW - 2), theme.chosen)
            painter.setPen(theme.ink)
            put_text(painter, 8, top + 13, elided(one.name, font(13, 600), rect.width() - 70), font(13, 600))
            put_right(painter, rect.right() - 8, top + 13, f"{one.share:.0%}", font(13, 600))
            track = QRectF(8, top + 18, rect.width() - 16, 5)
            painter.fillRect(track, with_alpha(theme.soft, 0.18))
            painter.fillRect(QRectF(track.left(), track.top(), max(track.width() * one.share, 1.5), 5), theme.ink)
            painter.setPen(theme.soft)
            lines = wrapped(f"{one.minutes} min, {one.tool}: {one.how}", font(12), rect.width() - 16)
            if len(lines) > 2:
                lines = [lines[0], elided(" ".join(lines[1:]), font(12), rect.width() - 16)]
            for n, line in enumerate(lines):
                put_text(painter, 8, top + 38 + 15 * n, line, font(12))
        if self.hasFocus():
            frame(painter, theme, rect)

    def _row_at(self, y: float) -> int:
        return min(max(int((y - HEAD) // ROW), 0), max(len(self.rows) - 1, 0))

    def open(self, at: int) -> None:
        """To where it is entered."""
        if 0 <= at < len(self.rows):
            self.at = at
            self.update()
            self.asked.emit(self.rows[at].bench, self.rows[at].what)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.open(self._row_at(event.position().y()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.at = min(max(self.at + (1 if event.key() == Qt.Key.Key_Down else -1), 0), max(len(self.rows) - 1, 0))
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.open(self.at)
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and self.rows:
            one = self.rows[self._row_at(event.pos().y())]  # type: ignore[attr-defined]
            goal = next((goal for goal in self._session.design.brief.goals if goal.id == one.goal), None)
            of = goal_name(goal, self._session.say) if goal is not None else one.goal
            QToolTip.showText(event.globalPos(), f"{one.how}\nMeasured, it leaves {one.leaves:.0%} of the band of: {of}")  # type: ignore[attr-defined]
            return True
        return super().event(event)
