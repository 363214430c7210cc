"""Every goal in one row: met or missed, by how much, and what the step that is pointed at would make of it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from wattagon.desk.chart.ink import elided, pen, put_text, status_mark
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font, with_alpha
from wattagon.study.drive.goals import status_of
from wattagon.study.drive.levers import Preview
from wattagon.study.drive.words import brief_goal, goal_name, reached_words, shortfall
from wattagon.study.findings.status import Status


class GoalStrip(QWidget):
    """Paints the goals of the brief as columns; `pointed` shows a step's effect on each; a click asks for the brief."""

    asked = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._pointed: Preview | None = None
        self._focused = 0
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName("goal-strip")
        self.setFixedHeight(50)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Goals")
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        self._pointed = None
        self.update()

    def point(self, preview: Preview | None) -> None:
        """Show what a step would do, or nothing."""
        if preview is not self._pointed:
            self._pointed = preview
            self.update()

    def words(self) -> list[tuple[str, str]]:
        """(goal, figures) of each column, as painted."""
        study, say = self._session.study, self._session.say
        if study is None:
            return []
        after = self._pointed.beside(study.goals) if self._pointed is not None else ()
        made = []
        for k, result in enumerate(study.goals):
            text = reached_words(result, say)
            if after and abs(after[k].reached - result.reached) > 1e-9 * max(abs(result.reached), 1.0):
                text += f" → {reached_words(after[k], say)}"
            made.append((brief_goal(result.goal, say), text))
        return made

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{name}: {text}" for name, text in self.words())

    def columns(self) -> list[QRectF]:
        study = self._session.study
        n = len(study.goals) if study is not None else 0
        width = (self.width() - 4) / max(n, 1)
        return [QRectF(2 + k * width, 2, width - 6, self.height() - 4) for k in range(n)]

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        theme, study = THEMES[self._session.theme_name], self._session.study
        if study is None or not study.goals:
            painter.setFont(font(13))
            painter.setPen(theme.soft)
            words = "No goals yet: state some on the brief, and every lever tells what it does to them." if study is not None else ""
            painter.drawText(self.rect().adjusted(4, 0, -4, 0), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, words)
            return
        after = self._pointed.beside(study.goals) if self._pointed is not None else ()
        for k, (area, (name, text)) in enumerate(zip(self.columns(), self.words(), strict=True)):
            now = study.goals[k]
            then = after[k] if after else now
            status = status_of(then)
            flips = bool(after) and then.met != now.met
            if flips:
                painter.fillRect(area.adjusted(-2, 0, 2, 0), with_alpha(theme.of(status), 0.14))
            painter.fillRect(QRectF(area.left(), area.top() + 1, area.width(), 2), theme.of(status))
            status_mark(painter, QPointF(area.left() + 7, area.top() + 15), status, theme, 5.0)
            face = font(12)
            painter.setPen(theme.soft)
            put_text(painter, area.left() + 18, area.top() + 19, elided(name, face, area.width() - 18), face)
            face = font(13, 600)
            painter.setPen(theme.of(status) if status is Status.OVER else theme.ink)
            put_text(painter, area.left() + 1, area.top() + 38, elided(text, face, area.width()), face)
            if self.hasFocus() and k == self._focused:
                painter.setPen(pen(theme.electrical, 1.5))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(area.adjusted(-1, 0, 1, 0))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        study = self._session.study
        for k, area in enumerate(self.columns()):
            if study is not None and area.contains(event.position()):
                result = study.goals[k]
                words = f"{goal_name(result.goal, self._session.say)}: {shortfall(result, self._session.say)}"
                QToolTip.showText(event.globalPosition().toPoint(), f"{words}. Click to change it.", self)
                return

    def mousePressEvent(self, event: QMouseEvent) -> None:
        study = self._session.study
        for k, area in enumerate(self.columns()):
            if study is not None and area.contains(event.position()):
                self.asked.emit(study.goals[k].goal.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        n = len(self.columns())
        if n and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._focused = (self._focused + (1 if event.key() == Qt.Key.Key_Right else -1)) % n
            self.update()
        elif n and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._session.study is not None:
            self.asked.emit(self._session.study.goals[min(self._focused, n - 1)].goal.id)
        else:
            super().keyPressEvent(event)
