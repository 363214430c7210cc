"""How much freedom the chosen drive leaves: each part's steps of stock as ticks, filled where everything is kept."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from wattagon.desk.chart.ink import elided, pen, put_right, put_text
from wattagon.desk.chart.painted import painted
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font
from wattagon.study.finder.freedom import RATINGS, Offer, Step
from wattagon.study.finder.words import constraint_name

NAME, TOLD, ROW = 132.0, 92.0, 18.0


class FreedomView(QWidget):
    """Painted rows, one a place of the drive, in two columns where there is room."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.ticks: list[tuple[QRectF, Offer, Step]] = []
        self.setObjectName("finder-freedom")
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Freedom of the chosen drive")
        for signal in (book.changed, book.detailed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        self.setAccessibleDescription("; ".join(f"{place.name}: {place.others} others keep every goal" for place in self.places()))
        self.update()

    def places(self) -> tuple[Offer, ...]:
        """What is shown."""
        detail, hit = self._book.detail, self._book.hit
        return detail.freedom if detail is not None and hit is not None and detail.row == hit.row else ()

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{place.name}: {', '.join(self.words(step) for step in place.steps)}" for place in self.places())

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.fillRect(event.rect(), theme.panel)
        self.ticks = []
        places = self.places()
        if not places:
            painter.setPen(theme.soft)
            put_text(
                painter, 10, 24, "Working out which other stock parts keep every goal ..." if self._book.hit is not None else "", font(12)
            )
        columns = 2 if len(places) > 6 and self.width() > 640 else 1
        rows = (len(places) + columns - 1) // columns
        height = min(ROW, (self.height() - 8) / max(rows, 1))
        width = self.width() / columns
        for k, place in enumerate(places):
            self._row(painter, theme, place, QRectF(k // rows * width, 5 + k % rows * height, width, height))

    def _row(self, painter: QPainter, theme: Theme, place: Offer, area: QRectF) -> None:
        middle = area.center().y()
        painter.setPen(theme.ink)
        put_text(painter, area.left() + 10, middle + 4, elided(place.name, font(12, 600), NAME - 14), font(12, 600))
        left, right = area.left() + NAME, area.right() - TOLD
        step = min((right - left) / max(len(place.steps), 1), 14.0)
        painter.setPen(pen(theme.rule, 1.0))
        painter.drawLine(QPointF(left, middle), QPointF(left + step * len(place.steps), middle))
        for k, one in enumerate(place.steps):
            x = left + (k + 0.5) * step
            half = min(0.38 * step, 4.5)
            spot = QRectF(x - half, middle - 5, 2 * half, 10)
            self.ticks.append((QRectF(x - step / 2, area.top(), step, area.height()), place, one))
            if one.present:
                painter.setPen(pen(theme.ink, 1.8))
                painter.setBrush(theme.electrical)
                painter.drawRect(spot.adjusted(-1, -2, 1, 2))
            elif one.keeps:
                painter.fillRect(spot, theme.electrical)
            else:
                painter.fillRect(QRectF(x - 1, middle - 2.5, 2, 5), theme.soft)
        words = f"{place.others} other{'s' if place.others != 1 else ''}" if place.others else "only this"
        painter.setPen(theme.ink if place.others else theme.tight)
        put_right(painter, area.right() - 12, middle + 4, words, font(12, 400 if place.others else 600))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        under = next(((place, step) for area, place, step in self.ticks if area.contains(event.position())), None)
        if under is None:
            QToolTip.hideText()
            return
        QToolTip.showText(event.globalPosition().toPoint(), f"{under[0].name}: {self.words(under[1])}", self)

    def words(self, step: Step) -> str:
        """A step with what it fails."""
        if step.present:
            return f"{step.label}, as it is"
        if step.keeps:
            return f"{step.label} keeps every goal and rating"
        found, design = self._book.found, self._session.design
        climb = found.wishes.climb_s(design) if found is not None else 0.0
        names = ["a rating" if name == RATINGS else constraint_name(design, climb, name, self._session.say) for name in step.fails]
        return f"{step.label} fails {', '.join(names)}"
