"""The table of a comparison: only what differs, each difference as a bar, the best of a row bold."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from wattagon.desk.chart.ink import elided, put_text, say_instead, status_mark, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font, with_alpha
from wattagon.study.compare.compare import Compared
from wattagon.study.compare.words import Row, rows

ROW, SECTION, HEAD = 21.0, 26.0, 26.0


def _tall(row: Row) -> float:
    """Names of parts take two lines."""
    return ROW + 14.0 if row.section == "parts" else ROW


class CompareTable(QWidget):
    """Painted rows under the names of the sides."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._found: Compared | None = None
        self.problem = ""
        self.rows: list[Row] = []
        self.setObjectName("compare-table")
        self.setAccessibleName("What differs")
        self.setMinimumWidth(460)

    def show_compared(self, found: Compared | None, problem: str = "") -> None:
        """Another result."""
        self._found, self.problem = found, problem
        self.rows = rows(found, self._session.say) if found is not None else []
        sections = len({row.section for row in self.rows})
        self.setMinimumHeight(int(HEAD + sum(map(_tall, self.rows)) + SECTION * sections + 8))
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{row.name}: {', '.join(row.cells)}" for row in self.rows) or self.problem

    def table(self) -> list[list[str]]:
        """As rows of cells."""
        if self._found is None:
            return []
        return [["", *(f"{one.code} {one.name}".strip() for one in self._found.sides)], *([row.name, *row.cells] for row in self.rows)]

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme, rect = THEMES[self._session.theme_name], QRectF(self.rect())
        painter.fillRect(rect, theme.panel)
        found = self._found
        if found is None:
            say_instead(painter, theme, rect, self.problem)
            return
        name = min(240.0, 0.34 * rect.width())
        each = (rect.width() - name - 12.0) / len(found.sides)
        left = lambda k: name + k * each
        painter.setPen(theme.ink)
        for k, side in enumerate(found.sides):
            put_text(painter, left(k), 18, elided(f"{side.code} {side.name}".strip(), font(13, 600), each - 8), font(13, 600))
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
                lines = wrapped(cell or "–", face, each - 12 - shift)
                if row.section != "parts" or len(lines) < 2:
                    put_text(painter, left(k) + shift, y + 15, elided(cell or "–", face, each - 10 - shift), face)
                    continue
                put_text(painter, left(k), y + 14, lines[0], face)
                put_text(painter, left(k), y + 29, elided(" ".join(lines[1:]), face, each - 10), face)
            y += _tall(row)
