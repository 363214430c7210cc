"""The found drives on two axes: non-dominated ones solid, the present variant marked; hover tells, a press chooses."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from wattagon.desk.chart.axes import Axes, paint_grid, round_step, ticks
from wattagon.desk.chart.ink import Labels, pen
from wattagon.desk.finder.book import AXES, FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import shown, unit_of
from wattagon.study.finder.search import Hit, least_margin, range_of
from wattagon.study.finder.words import count_words, drive_words

LEFT, RIGHT, TOP, BOTTOM = 58.0, 16.0, 24.0, 34.0
GRAB = 11.0


def value_of(hit: Hit, axis: str) -> float:
    """A hit's value on an axis, in SI."""
    return {"cost": hit.cost, "mass": hit.mass_kg, "margin": hit.margin, "range": hit.range_m}[axis]


class Scatter(QWidget):
    """Paints the finds of a book."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self._places: list[QPointF] = []
        self._hover = -1
        self.setObjectName("finder-scatter")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(300, 220)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Found drives")
        for signal in (book.changed, book.moved_on, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        found = self._book.found
        if found is not None and 0 <= self._book.chosen < len(found.hits):
            self.setAccessibleDescription(drive_words(found.hits[self._book.chosen].variant, self._session.stock))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        self.paint_on(painter, QRectF(self.rect()))
        painter.end()

    def paint_on(self, painter: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme, book = THEMES[self._session.theme_name], self._book
        plot = rect.adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        painter.fillRect(plot, theme.panel)
        self._places = []
        found = book.found
        if book.running:
            self._say(painter, theme, plot, f"Searching ... {book.share:.0%} of the space")
            bar = QRectF(plot.center().x() - 120, plot.center().y() + 26, 240, 6)
            painter.fillRect(bar, theme.rule)
            painter.fillRect(QRectF(bar.left(), bar.top(), bar.width() * book.share, bar.height()), theme.electrical)
            if found is None:
                return
        if found is None:
            self._say(
                painter,
                theme,
                plot,
                book.problem
                or "Search all motors, teeth, cells and controllers of the stock\nfor drives that meet every goal of the brief.",
            )
            return
        if not found.hits:
            if not book.running:
                nearest = (
                    "The nearest misses stand on the left: each gives up one goal."
                    if found.near_misses
                    else "No drive fails only one goal: ease two of them."
                )
                self._say(
                    painter, theme, plot, f"None of {count_words(found.searched)} combinations meets every goal.\n{nearest}"
                )
            return
        painter.setOpacity(0.45 if book.stale or book.running else 1.0)
        axes = self._axes(plot)
        x_name, y_name = book.axes
        paint_grid(
            painter, axes, theme, x_ticks=ticks(axes.x_low, axes.x_high, 7), y_ticks=ticks(axes.y_low, axes.y_high, 6),
            x_label=self._label(x_name), y_label="", size=12,
        )  # fmt: skip
        painter.setPen(theme.soft)
        painter.setFont(font(12))
        painter.drawText(QPointF(rect.left() + 8, plot.top() - 8), self._label(y_name))
        labels = Labels(painter, theme, plot.adjusted(2, 2, -2, -2))
        for k, hit in enumerate(found.hits):
            at = self._at(axes, hit)
            self._places.append(at)
            best = k < found.front
            painter.setPen(pen(theme.electrical if best else theme.soft, 1.4))
            painter.setBrush(with_alpha(theme.electrical, 0.75) if best else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 4.5 if best else 3.0, 4.5 if best else 3.0)
        self._present(painter, theme, axes, labels)
        if 0 <= book.chosen < len(self._places):
            at = self._places[book.chosen]
            painter.setPen(pen(theme.ink, 2.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 8.5, 8.5)
        painter.setOpacity(1.0)
        if self.hasFocus():
            painter.setPen(pen(theme.electrical, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(plot.adjusted(-1, -1, 1, 1))

    def _say(self, painter: QPainter, theme: Theme, plot: QRectF, words: str) -> None:
        painter.setFont(font(14))
        painter.setPen(theme.soft)
        painter.drawText(plot.adjusted(20, 0, -20, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)

    def _label(self, axis: str) -> str:
        words, dimension = AXES[axis]
        unit = self._session.design.brief.currency if dimension == "money" else unit_of(dimension, self._session.unit_set).text
        return f"{words}, {unit}"

    def _values(self, axis: str) -> list[float]:
        found = self._book.found
        assert found is not None
        dimension = AXES[axis][1]
        made = [value_of(hit, axis) for hit in found.hits]
        now = self.present(axis)
        return [shown(v, dimension, self._session.unit_set) for v in (*made, now) if math.isfinite(v)]

    def present(self, axis: str) -> float:
        """The present variant's value, nan where it has none."""
        study = self._session.study
        if study is None:
            return math.nan
        goals, resolved = study.goals, study.resolved
        values = {"cost": resolved.cost, "mass": resolved.drive_mass_kg, "margin": least_margin(goals), "range": range_of(goals)}
        return values[axis]

    def _axes(self, plot: QRectF) -> Axes:
        ends = []
        for axis in self._book.axes:
            values = self._values(axis) or [0.0, 1.0]
            low, high = min(values), max(values)
            reach = max(high - low, 0.05 * abs(high), 1e-6)
            step = round_step(reach * 1.16, 6)
            ends.append((math.floor((low - 0.08 * reach) / step) * step, math.ceil((high + 0.08 * reach) / step) * step))
        return Axes(plot, ends[0][0], ends[0][1], ends[1][0], ends[1][1])

    def _at(self, axes: Axes, hit: Hit) -> QPointF:
        x, y = (shown(value_of(hit, axis), AXES[axis][1], self._session.unit_set) for axis in self._book.axes)
        return axes.point(x if math.isfinite(x) else axes.x_low, y if math.isfinite(y) else axes.y_low)

    def _present(self, painter: QPainter, theme: Theme, axes: Axes, labels: Labels) -> None:
        x, y = (shown(self.present(axis), AXES[axis][1], self._session.unit_set) for axis in self._book.axes)
        if not (math.isfinite(x) and math.isfinite(y)):
            return
        at = axes.point(x, y)
        painter.setPen(pen(theme.mechanical, 2.0))
        for dx, dy in ((6, 6), (6, -6)):
            painter.drawLine(QPointF(at.x() - dx, at.y() - dy), QPointF(at.x() + dx, at.y() + dy))
        study = self._session.study
        missed = sum(not r.met for r in study.goals) if study is not None else 0
        words = f"now: {self._session.design.variant().id}" + (f", misses {missed}" if missed else "")
        labels.text(
            [QPointF(at.x() + 9, at.y() - 18), QPointF(at.x() - 70, at.y() - 18), QPointF(at.x() + 9, at.y() + 6)],
            words,
            theme.mechanical,
            font(12, 600),
        )

    # choosing

    def _nearest(self, at: QPointF) -> int:
        best, found = GRAB, -1
        for k, place in enumerate(self._places):
            away = math.hypot(place.x() - at.x(), place.y() - at.y())
            if away < best:
                best, found = away, k
        return found

    def mousePressEvent(self, event: QMouseEvent) -> None:
        k = self._nearest(event.position())
        if k >= 0:
            self._book.choose(k)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        k = self._nearest(event.position())
        if k == self._hover:
            return
        self._hover = k
        self.setCursor(Qt.CursorShape.PointingHandCursor if k >= 0 else Qt.CursorShape.ArrowCursor)
        if k >= 0 and self._book.found is not None:
            hit, say = self._book.found.hits[k], self._session.say
            QToolTip.showText(
                event.globalPosition().toPoint(),
                f"{drive_words(hit.variant, self._session.stock)}\n{say(hit.cost, 'money')}, {say(hit.mass_kg, 'mass')}, least margin {hit.margin:.0%}",
                self,
            )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, found = Qt.Key(event.key()), self._book.found
        if found is None or not found.hits:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Down):
            self._book.choose(min(self._book.chosen + 1, len(found.hits) - 1))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Up):
            self._book.choose(max(self._book.chosen - 1, 0))
        else:
            super().keyPressEvent(event)
