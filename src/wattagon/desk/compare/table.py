"""The table of a comparison: only what differs, each difference as a bar, the best of a row bold."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from wattagon.desk.chart.ink import elided, put_text, say_instead, status_mark, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font, with_alpha
from wattagon.study.compare.compare import Compared
from wattagon.study.compare.words import Row, rows

ROW, SECTION, HEAD, LINE, MOST_LINES = 21.0, 26.0, 26.0, 15.0, 7
LEAST_NAME, MOST_NAME = 0.34, 240.0


class CompareTable(QWidget):
    """Painted rows under the names of the sides."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.heads: list[str] = []
        self.problem = ""
        self.rows: list[Row] = []
        self.setObjectName("compare-table")
        self.setAccessibleName("What differs")
        self.setMinimumWidth(460)

    def show_compared(self, found: Compared | None, problem: str = "") -> None:
        """Another result."""
        if found is None:
            self.show_rows([], [], problem)
        else:
            self.show_rows([f"{one.code} {one.name}".strip() for one in found.sides], rows(found, self._session.say))

    def show_rows(self, heads: list[str], told: list[Row], problem: str = "") -> None:
        """Rows of words under their heads; without any the reason why."""
        self.heads, self.rows, self.problem = heads, told, problem
        self._fit()
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()
        super().resizeEvent(event)

    def _fit(self) -> None:
        sections = len({row.section for row in self.rows})
        self.setMinimumHeight(int(HEAD + sum(map(self._tall, self.rows)) + SECTION * sections + 8))

    @property
    def _widths(self) -> tuple[float, float]:
        """(of the names, of each side) [px]."""
        name = min(MOST_NAME, LEAST_NAME * self.width())
        return name, (self.width() - name - 12.0) / max(len(self.heads), 1)

    def _lines(self, row: Row, k: int) -> list[str]:
        """A cell of a row of words; figures have one line."""
        cell, (_, each) = row.cells[k] or "–", self._widths
        face = font(12, 600 if k == row.best else 400)
        if row.bars or row.statuses:
            return [elided(cell, face, each - 10)]
        lines = wrapped(cell, face, each - 12)
        return lines if len(lines) <= MOST_LINES else [*lines[: MOST_LINES - 1], elided(" ".join(lines[MOST_LINES - 1 :]), face, each - 12)]

    def _tall(self, row: Row) -> float:
        return ROW + LINE * (max((len(self._lines(row, k)) for k in range(len(row.cells))), default=1) - 1)

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{row.name}: {', '.join(row.cells)}" for row in self.rows) or self.problem

    def table(self) -> list[list[str]]:
        """As rows of cells."""
        return [["", *self.heads], *([row.name, *row.cells] for row in self.rows)] if self.rows else []

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme, rect = THEMES[self._session.theme_name], QRectF(self.rect())
        painter.fillRect(rect, theme.panel)
        if not self.rows:
            say_instead(painter, theme, rect, self.problem)
            return
        name, each = self._widths
        left = lambda k: name + k * each
        painter.setPen(theme.ink)
        for k, head in enumerate(self.heads):
            put_text(painter, left(k), 18, elided(head, font(13, 600), each - 8), font(13, 600))
        y, section = HEAD, ""
        for row in self.rows:
            if row.section != section:
                section = row.section
                painter.setPen(theme.soft)
                put_text(painter, 8, y + 17, section, font(12, 600))
                painter.fillRect(QRectF(8, y + 22, rect.width() - 16, 1), theme.rule)
                y += SECTION
            painter.setPen(theme.ink)
            put_text(painter, 8, y + 15, elided(row.name, font(12), name - 14), font(12))
            for k, cell in enumerate(row.cells):
                bar = row.bars[k] if k < len(row.bars) else float("nan")
                if bar == bar:
                    painter.fillRect(QRectF(left(k), y + 18, (each - 14) * bar, 2.5), with_alpha(theme.ink, 0.45))
                shift = 0.0
                status = row.statuses[k] if k < len(row.statuses) else None
                if status is not None:
                    status_mark(painter, QPointF(left(k) + 5, y + 11), status, theme)
                    shift = 16.0
                face = font(12, 600 if k == row.best else 400)
                painter.setPen(theme.ink if cell else theme.soft)
                if shift:
                    put_text(painter, left(k) + shift, y + 15, elided(cell or "–", face, each - 10 - shift), face)
                    continue
                for n, line in enumerate(self._lines(row, k)):
                    put_text(painter, left(k), y + 15 + LINE * n, line, face)
            y += self._tall(row)
