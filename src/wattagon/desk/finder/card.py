"""What stands beside the pointer over a found drive: the drive in words, its figures and a small edge."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from wattagon.desk.chart.ink import box, metrics, put_text
from wattagon.desk.chart.painted import painted
from wattagon.desk.finder.book import AXES, FinderBook
from wattagon.desk.finder.pulls import paint_pulls
from wattagon.desk.finder.sure import SureHits
from wattagon.desk.findings_panel import wrapped
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.study.finder.words import drive_words, missed_words

WIDTH, EDGE = 268, 104


class HoverCard(QWidget):
    """Floats over the scatter and lets the mouse through."""

    def __init__(self, session: Session, book: FinderBook, sure: SureHits, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._book, self._sure, self._k = session, book, sure, -1
        self.setObjectName("finder-card")
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()

    def show_for(self, k: int, at: QPointF) -> None:
        """Beside a point, on the side where there is room."""
        self._k = k
        lines = self.lines()
        self.resize(WIDTH, int(14 + sum(len(text) for text, _ in lines) * metrics(font(12)).height() + EDGE))
        owner = self.parentWidget()
        assert owner is not None
        x = at.x() + 16 if at.x() + 16 + WIDTH < owner.width() else at.x() - 16 - WIDTH
        y = min(max(at.y() - self.height() / 2, 2), owner.height() - self.height() - 2)
        self.move(int(max(x, 2)), int(max(y, 2)))
        self.show()
        self.raise_()
        self.update()

    def lines(self) -> list[tuple[list[str], bool]]:
        """(lines of a paragraph, whether it is bold)."""
        if not 0 <= self._k < len(self._book.points):
            return []
        hit, say = self._book.points[self._k], self._session.say
        told = [(wrapped(drive_words(hit.variant, self._session.stock), font(12, 600), WIDTH - 20), True)]
        figures = (
            f"{say(round(hit.cost), 'money')}, {say(hit.mass_kg, 'mass')}, {say(hit.speed_m_s, 'speed')}, least margin {hit.margin:.0%}"
        )
        if hit.fails and self._book.found is not None:
            name, missed = missed_words(self._session.design, self._book.found, hit, say)
            figures = f"{say(round(hit.cost), 'money')}, without {name}: {missed}"
        elif len(self._book.row_of(self._k)) > 1:
            figures += f"; {len(self._book.row_of(self._k)) - 1} near it"
        told.append((wrapped(figures, font(12), WIDTH - 20), False))
        between = [
            f"{AXES[axis][0].lower()} {say(one.low, AXES[axis][1])} to {say(one.high, AXES[axis][1])}"
            for axis in self._book.axes
            if (one := self._sure.bands(hit.row).get(axis)) is not None and one.low < one.high
        ]
        if between:
            told.append((wrapped(f"Four times of six: {', '.join(between)}", font(12), WIDTH - 20), False))
        return told

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        if not 0 <= self._k < len(self._book.points):
            return
        theme = THEMES[self._session.theme_name]
        painter.fillRect(event.rect(), theme.paper)
        box(painter, 0, 0, self.width() - 1, self.height() - 1, theme.paper, theme.soft)
        y = 6.0
        for paragraph, bold in self.lines():
            face = font(12, 600 if bold else 400)
            painter.setPen(theme.ink if bold else theme.soft)
            for text in paragraph:
                put_text(painter, 10, y + metrics(face).ascent(), text, face)
                y += metrics(face).height()
        paint_pulls(
            painter,
            QRectF(2, y, self.width() - 6, self.height() - y - 2),
            theme,
            self._session.unit_set,
            [("", self._book.pull(self._k))],
            small=True,
        )
