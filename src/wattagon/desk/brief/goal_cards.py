"""Goals as cards: what is wanted in figures that can be missed, what the drive reaches, and by how much."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.goal_kinds import GOALS
from wattagon.design.paths import Edit
from wattagon.design.tree import GOAL_FIELDS, USUAL, Goal, GoalKind
from wattagon.desk.bands import LEAST_DOUBT, band_words, goal_band
from wattagon.desk.chart.ink import status_mark
from wattagon.desk.chart.painted import painted
from wattagon.desk.fields import ChoiceField, ElidedLabel, ValueField, heading
from wattagon.desk.following import Following
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font, with_alpha
from wattagon.study.drive.goals import GoalResult, status_of
from wattagon.study.drive.words import shortfall

FIELD_WORDS = {
    "speed": "speed",
    "grade": "grade",
    "time": "within",
    "distance": "distance",
    "amount": "at most",
    "torque": "torque",
    "rpm": "speed of the tool",
    "length": "length",
    "width": "width",
    "height": "height",
    "current": "current against you",
    "pull": "pull",
}
SAID_IN_ORDER = ("distance", "torque", "rpm", "pull", "speed", "grade", "current", "time", "length", "width", "height", "amount")
COLUMNS_W, TALL = 122, 760
CARD_H, ROW_H, HEIGHT = 122, 27, 162


def extra_rows(session: Session, goal: Goal) -> int:
    """Rows of a card beyond two figures: a third figure, the load case, the mode."""
    facts, brief = GOALS[goal.kind], session.design.brief
    figures = len(GOAL_FIELDS[goal.kind])
    rows = max(figures + (facts.charged and figures == 1), 1)
    rows += bool(facts.cased and brief.cases) or bool(goal.kind is GoalKind.CARRY and any(not case.pack for case in brief.cases))
    return int(max(rows + bool(facts.limit and brief.modes) - 2, 0))


class GoalCard(Following, QFrame):
    """One goal with its figures, editable."""

    def __init__(self, session: Session, goal: Goal, rows: int = 0, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._id = session, goal.id
        facts = GOALS[goal.kind]
        self.setObjectName(f"goal-{goal.id}")
        self.setFixedHeight(CARD_H + ROW_H * rows)
        self.setMinimumWidth(112)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(7, 4, 5, 14)
        layout.setSpacing(3)
        top = QHBoxLayout()
        top.setContentsMargins(14, 0, 0, 0)
        top.setSpacing(0)
        title = ElidedLabel(facts.title)
        title.setToolTip(facts.words)
        title.setFont(font(12, 600))
        remove = QToolButton(text="×", objectName=f"remove-{goal.id}", autoRaise=True)
        remove.setFixedWidth(18)
        remove.setToolTip("Remove this goal")
        remove.setAccessibleName(f"Remove goal {facts.words}")
        remove.clicked.connect(self._remove)
        top.addWidget(title, 1)
        top.addWidget(remove)
        layout.addLayout(top)
        # the order in which one would say it
        names = sorted(GOAL_FIELDS[goal.kind], key=SAID_IN_ORDER.index)
        for name in names:
            field = ValueField(session, f"brief.goals.{goal.id}.{name}", f"{facts.words}: {FIELD_WORDS[name]}")
            self._row(layout, facts.joints.get(name, "max"), field)
        if facts.charged and len(names) == 1:
            charge = ChoiceField(
                session, f"brief.goals.{goal.id}.charge", "Judged with a pack that is", [(1.0, "full"), (0.5, "nominal"), (0.1, "low")]
            )
            charge.setToolTip("State of the pack with which this goal is judged")
            self._row(layout, "pack", charge)
        brief = session.design.brief
        if (facts.cased and brief.cases) or (goal.kind is GoalKind.CARRY and any(not case.pack for case in brief.cases)):
            whole = "whole" if goal.kind is GoalKind.CARRY else "worst"
            there = [case for case in brief.cases if case.pack or goal.kind is GoalKind.CARRY]
            cases: list[tuple[object, str]] = [("", whole), *((case.id, case.name or case.id) for case in there)]
            if facts.cased:
                cases.insert(1, (USUAL, "usual"))
            self._row(layout, "in", ChoiceField(session, f"brief.goals.{goal.id}.case", "Load case that it is judged in", cases))
        if facts.limit and brief.modes:
            modes: list[tuple[object, str]] = [("", "every"), *((mode.id, mode.name or mode.id) for mode in brief.modes)]
            self._row(layout, "in", ChoiceField(session, f"brief.goals.{goal.id}.mode", "Mode in which it holds", modes))
        layout.addStretch(1)
        self.likely = ElidedLabel(objectName=f"likely-{goal.id}")
        self.likely.setProperty("voice", "soft")
        self.likely.setFont(font(12))
        layout.addWidget(self.likely)
        self.reached = ElidedLabel(objectName=f"reached-{goal.id}")
        layout.addWidget(self.reached)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        session.schedule.arrived.connect(self._arrived)
        self.refresh()

    def _arrived(self, code: str) -> None:
        if code == "bands":
            self.followed()

    def _row(self, layout: QVBoxLayout, word: str, field: QWidget) -> None:
        row = QHBoxLayout()
        row.setSpacing(5)
        joint = QLabel(word)
        joint.setProperty("voice", "soft")
        joint.setFont(font(12))
        joint.setFixedWidth(28)
        joint.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        field.setMinimumWidth(40)
        field.setFont(font(12))
        row.addWidget(joint)
        row.addWidget(field, 1)
        layout.addLayout(row)

    def _result(self) -> GoalResult | None:
        study = self._session.study
        return next((r for r in study.goals if r.goal.id == self._id), None) if study is not None else None

    def refresh(self) -> None:
        result = self._result()
        if result is None:
            self.reached.setText("not solved yet")
        else:
            self.reached.setText(shortfall(result, self._session.say))
            theme = THEMES[self._session.theme_name]
            self.reached.setStyleSheet(f"color: {theme.of(status_of(result)).name()};")
            self.reached.setFont(font(12))
            wide = goal_band(self._session, self._id)
            self.setToolTip(band_words(self._session, wide) if wide is not None else "")
            doubtful = wide is not None and LEAST_DOUBT < wide.likely < 1.0 - LEAST_DOUBT
            self.likely.setText(f"met: {wide.likely:.0%} likely" if wide is not None and doubtful else "")
        self.update()

    def _remove(self) -> None:
        goals = tuple(goal for goal in self._session.design.brief.goals if goal.id != self._id)
        self._session.try_apply(Edit(label="Remove a goal", changes=(("brief.goals", goals),)))

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme, result = THEMES[self._session.theme_name], self._result()
        area = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.fillRect(area, theme.panel)
        painter.setPen(theme.rule)
        painter.drawRect(area)
        if result is not None:
            colour = theme.of(status_of(result))
            status_mark(painter, QPointF(13, 16), status_of(result), theme)
            # how far: the target is the notch, what is reached is the bar
            track = QRectF(8, self.height() - 11, self.width() - 16, 4)
            painter.fillRect(track, with_alpha(theme.soft, 0.18))
            along = lambda value: min(max(value / result.target if result.target else 0.0, 0.0), 2.0) / 2.0
            share = along(result.reached)
            wide = goal_band(self._session, self._id)
            if wide is not None:
                left, right = (track.left() + track.width() * along(one) for one in (wide.band.low, wide.band.high))
                painter.fillRect(QRectF(left, track.top() - 2, max(right - left, 1.0), 8), with_alpha(colour, 0.30))
            painter.fillRect(QRectF(track.left(), track.top(), track.width() * share, track.height()), colour)
            painter.fillRect(QRectF(track.center().x() - 1, track.top() - 3, 2, 10), theme.ink)


class GoalCards(Following, QWidget):
    """All goals of the brief, and a button for one more."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._shown: tuple[object, ...] = ()
        self.setObjectName("goal-cards")
        head = QHBoxLayout()
        title = heading("Goals")
        note = QLabel("each can be missed by a number; the notch is the goal")
        note.setProperty("voice", "soft")
        note.setMinimumWidth(20)
        self.add = QPushButton("Add a goal", objectName="add-goal")
        menu = QMenu(self.add)
        self.kinds = {kind: menu.addAction(facts.words) for kind, facts in GOALS.items()}
        for kind, action in self.kinds.items():
            action.triggered.connect(lambda _on=False, kind=kind: self.add_goal(kind))
        menu.aboutToShow.connect(self._offer)
        self.add.setMenu(menu)
        head.addWidget(title)
        head.addWidget(note, 1)
        head.addWidget(self.add)
        self._area = QScrollArea(widgetResizable=True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(head)
        layout.addWidget(self._area, 1)
        session.design_changed.connect(self.followed)
        self.refresh()

    def resizeEvent(self, event: object) -> None:
        self.refresh()

    def refresh(self) -> None:
        if not self._session.docs:
            return
        goals = self._session.design.brief.goals
        columns = max(1, self.width() // COLUMNS_W)
        brief = self._session.design.brief
        rows = tuple((case.id, case.name, case.pack) for case in brief.cases), tuple((mode.id, mode.name) for mode in brief.modes)
        shown = (self._session.doc.key, columns, self.window().height() >= TALL, tuple((goal.id, goal.kind) for goal in goals), rows)
        if shown == self._shown:
            return
        self._shown = shown
        more = max((extra_rows(self._session, goal) for goal in goals), default=0)
        self.setFixedHeight(HEIGHT + (ROW_H * more if self.window().height() >= TALL else 0))  # cards scroll where the window is low
        body = QWidget()
        grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, 4, 0)
        grid.setSpacing(6)
        for k, goal in enumerate(goals):
            grid.addWidget(GoalCard(self._session, goal, more), k // columns, k % columns)
        if not goals:
            empty = QLabel(
                (
                    "No goals yet. Add the speed you want and the hill or the current you must go up: the map and "
                    "the levers then tell how near you are."
                ),
                wordWrap=True,
            )
            empty.setProperty("voice", "soft")
            grid.addWidget(empty, 0, 0)
        for column in range(columns):
            grid.setColumnStretch(column, 1)
        grid.setRowStretch(len(goals) // columns + 1, 1)
        swap_contents(self._area, body)

    def _offer(self) -> None:
        """Only what has a meaning for the vehicle."""
        here = "water" if self._session.design.vehicle.kind.floats else "wheels"
        for kind, action in self.kinds.items():
            action.setVisible(GOALS[kind].on in ("", here))

    def add_goal(self, kind: GoalKind) -> None:
        """One more goal of a kind, with plain figures to change."""
        goals = self._session.design.brief.goals
        taken = {goal.id for goal in goals}
        k = 1
        while f"{kind.value.replace('_', '-')}-{k}" in taken:
            k += 1
        plain: dict[str, Any] = dict(GOALS[kind].fresh)
        fresh = Goal(id=f"{kind.value.replace('_', '-')}-{k}", kind=kind, **plain)
        self._session.try_apply(Edit(label=f"Add goal: {GOALS[kind].words.lower()}", changes=(("brief.goals", (*goals, fresh)),)))

    def focus_goal(self, goal_id: str) -> None:
        """Ready to type the figures of one goal."""
        card = self.findChild(GoalCard, f"goal-{goal_id}")
        if card is not None:
            self._area.ensureWidgetVisible(card)
            field = card.findChild(ValueField)
            if field is not None:
                field.setFocus(Qt.FocusReason.ShortcutFocusReason)
                field.selectAll()
