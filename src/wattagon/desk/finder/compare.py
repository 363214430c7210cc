"""The chosen drive beside the present one: what each reaches, goal by goal."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import elided, put_text, status_mark
from wattagon.desk.chart.painted import painted
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font
from wattagon.record import record
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.words import short_goal
from wattagon.study.findings.status import Status

HEIGHT = 66


@record(frozen=True, slots=True)
class Cell:
    """One figure: its name, what was found and what is now, and whether each meets the goal."""

    name: str
    found: str
    now: str
    found_met: bool
    now_met: bool


class Compare(QWidget):
    """Painted cells, money and mass first."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setObjectName("finder-compare")
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Found against now")
        for signal in (book.changed, session.design_changed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self, _paths: object = None) -> None:
        self.setAccessibleDescription("; ".join(f"{cell.name} {cell.found}, now {cell.now}" for cell in self.cells()))
        self.update()

    def cells(self) -> list[Cell]:
        """What is shown, in the user's units."""
        book, study, say = self._book, self._session.study, self._session.say
        hit = book.hit
        if hit is None or study is None:
            return []
        now = {result.goal.id: result for result in study.goals}

        def words(result: GoalResult | None) -> str:
            if result is None:
                return ""
            return "never" if math.isinf(result.reached) else say(result.reached, result.dimension)

        def kept(goals: Sequence[GoalResult], kind: str) -> bool:
            return all(result.met for result in goals if str(result.goal.kind) == kind)

        made = [
            Cell(
                "cost",
                say(round(hit.cost), "money"),
                say(round(study.resolved.cost), "money"),
                kept(hit.goals, "budget"),
                kept(study.goals, "budget"),
            ),
            Cell(
                "mass",
                say(hit.mass_kg, "mass"),
                say(study.resolved.drive_mass_kg, "mass"),
                kept(hit.goals, "added_mass"),
                kept(study.goals, "added_mass"),
            ),
        ]
        for result in hit.goals:
            if str(result.goal.kind) in ("budget", "added_mass"):
                continue
            other = now.get(result.goal.id)
            made.append(Cell(short_goal(result.goal, say), words(result), words(other), result.met, other is None or other.met))
        return made

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{cell.name}: {cell.found}, now {cell.now}" for cell in self.cells())

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme, cells = THEMES[self._session.theme_name], self.cells()
        if cells:
            width = self.width() / len(cells)
            for k, cell in enumerate(cells):
                self._cell(painter, theme, QRectF(k * width, 0, width - 4, self.height()), cell)

    def _cell(self, painter: QPainter, theme: Theme, area: QRectF, cell: Cell) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.fillRect(area, theme.panel)
        x, room = area.left() + 8, area.width() - 12
        painter.setPen(theme.soft)
        put_text(painter, x, area.top() + 17, elided(cell.name, font(12), room), font(12))
        painter.setPen(theme.ink if cell.found_met else theme.over)
        put_text(painter, x, area.top() + 37, elided(cell.found, font(14, 600), room), font(14, 600))
        painter.setPen(theme.soft if cell.now_met else theme.over)
        mark = 0.0
        if not cell.now_met:
            status_mark(painter, QPointF(x + 4, area.top() + 52), Status.OVER, theme, 4.0)
            mark = 12.0
        put_text(painter, x + mark, area.top() + 56, elided(f"now {cell.now}", font(12), room - mark), font(12))
