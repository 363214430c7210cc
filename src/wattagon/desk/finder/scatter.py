"""The found drives on two axes: non-dominated ones solid, near-equal ones as dots, near misses and the present variant marked."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import cast

from PySide6.QtCore import QEvent, QPointF, QRectF, QSignalBlocker, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF, QResizeEvent, QStandardItemModel
from PySide6.QtWidgets import QComboBox, QSizePolicy, QWidget

from wattagon.design.tree import Goal, GoalKind
from wattagon.desk.chart.axes import Axes, paint_grid, round_step, ticks
from wattagon.desk.chart.ink import Labels, pen, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.finder.book import AXES, FinderBook
from wattagon.desk.finder.card import HoverCard
from wattagon.desk.finder.outset import height_of, paint_outset
from wattagon.desk.finder.sure import SureHits, paint_band
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import shown, unit_of
from wattagon.study.drive.words import brief_goal
from wattagon.study.finder.hits import Hit, present_hit
from wattagon.study.finder.words import constraint_name, count_words, drive_words

LEFT, RIGHT, TOP, BOTTOM = 54.0, 16.0, 34.0, 46.0
GRAB = 11.0


class _Progress(QWidget):
    """How much of the space has been searched, as a line over the picture."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.fillRect(self.rect(), theme.rule)
        painter.fillRect(QRectF(0, 0, self.width() * self._book.share, self.height()), theme.electrical)


class Scatter(QWidget):
    """Paints the finds of a book; its two axes are picked where they are drawn."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.places: dict[int, QPointF] = {}
        self._hover = -1
        self._present: tuple[object, Hit | None] = (None, None)
        self.setObjectName("finder-scatter")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(260, 200)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Found drives")
        self.sure = SureHits(session, book)
        self.card = HoverCard(session, book, self.sure, self)
        self.sure.changed.connect(self.update)
        self.axes: list[QComboBox] = []
        for k, words in enumerate(("across", "up")):
            box = QComboBox(self, objectName=f"finder-{words}")
            box.setAccessibleName(f"Axis {words}")
            for code, (name, _) in AXES.items():
                box.addItem(name, code)
            box.setCurrentIndex(k)
            box.activated.connect(self._axes_chosen)
            self.axes.append(box)
        self.progress = _Progress(session, book, self)
        for signal in (book.changed, book.prepared, session.looks_changed, session.design_changed):
            signal.connect(self._refresh)
        book.moved_on.connect(self._moved_on)

    def resizeEvent(self, event: QResizeEvent) -> None:
        across, up = self.axes
        across.adjustSize()
        up.adjustSize()
        across.move(self.width() - across.width() - int(RIGHT), self.height() - across.height() - 2)
        up.move(4, 2)
        self.progress.setGeometry(int(LEFT), int(TOP) - 5, int(self.width() - LEFT - RIGHT), 4)

    def _moved_on(self) -> None:
        """Only the bar, or the words where there is nothing else: the whole picture would cost a search its window's ease."""
        if self._book.points:
            self.progress.update()
        else:
            self.update()

    def _axes_chosen(self) -> None:
        x, y = (str(box.currentData()) for box in self.axes)
        known = self._book.found is not None
        self._book.set_axes(x, y)
        if known:  # its front is another one
            self._book.search()

    def _refresh(self, _paths: object = None) -> None:
        hit = self._book.hit
        self.setAccessibleDescription(drive_words(hit.variant, self._session.stock) if hit is not None else "")
        for box, axis in zip(self.axes, self._book.axes, strict=True):
            with QSignalBlocker(box):
                box.setCurrentIndex(list(AXES).index(axis))
                for k, code in enumerate(AXES):
                    cast(QStandardItemModel, box.model()).item(k).setEnabled(code in self._book.axes_there())
        if not self._book.points:
            self._hover = -1
            self.card.hide()
        self.progress.setVisible(self._book.running)
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        book, say = self._book, self._session.say
        if book.hit is not None:
            return f"{drive_words(book.hit.variant, self._session.stock)}: {say(book.hit.cost, 'money')}, {say(book.hit.mass_kg, 'mass')}"
        if book.found is None and book.outset is not None:
            places = [f"{place.name} {place.left} of {place.stock}" for place in book.outset.places]
            return "; ".join((*places, f"{count_words(book.outset.combinations)} drives"))
        return self._empty_words()

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        self.paint_on(painter, QRectF(self.rect()))
        if self.hasFocus():
            painter.setPen(pen(THEMES[self._session.theme_name].electrical, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(LEFT - 1, TOP - 1, 1 - RIGHT, 1 - BOTTOM))

    # what is drawn

    def paint_on(self, painter: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme, book = THEMES[self._session.theme_name], self._book
        plot = rect.adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
        painter.fillRect(plot, theme.panel)
        self.places = {}
        before = book.found is None and not book.running and not book.problem and book.outset is not None
        for box in self.axes:
            box.setVisible(bool(book.points) or before)
        if before:
            self._before(painter, theme, rect, plot)
            return
        if not book.points:
            self._say(painter, theme, plot, self._empty_words())
            return
        assert book.found is not None
        painter.setOpacity(0.45 if book.stale else 1.0)
        axes = self._axes(plot)
        paint_grid(painter, axes, theme, x_ticks=ticks(axes.x_low, axes.x_high, 7), y_ticks=ticks(axes.y_low, axes.y_high, 7), size=12)
        self._units(painter, theme, rect, plot)
        labels = Labels(painter, theme, plot.adjusted(2, 2, -2, -2))
        if not book.found.hits and not book.running:
            banner = plot.adjusted(10, 8, -10, 8 - plot.height() + 22)
            labels.reserve(banner)
            painter.setPen(theme.ink)
            painter.setFont(font(13, 600))
            one = len(book.found.near_misses) == 1
            words = f"None of {count_words(book.found.searched)} meets everything. {'The' if one else 'Each'} triangle gives up just one."
            painter.drawText(banner, Qt.AlignmentFlag.AlignCenter, words)
        self._bands(painter, theme, axes)
        self._hits(painter, theme, axes)
        for at in self.places.values():  # no name covers a find
            labels.reserve(QRectF(at.x() - 5, at.y() - 5, 10, 10))
        self._near(painter, theme, axes, labels)
        self._now(painter, theme, axes, labels)
        self._chosen(painter, theme, labels)
        painter.setOpacity(1.0)

    def _before(self, painter: QPainter, theme: Theme, rect: QRectF, plot: QRectF) -> None:
        """Before the first search: what would be looked at, and where the present variant stands on the axes."""
        outset = self._book.outset
        assert outset is not None
        paint_outset(painter, theme, plot, outset)
        plot = plot.adjusted(0, height_of(outset, plot.width()) + 12, 0, 0)
        if plot.height() < 80:
            return
        axes = self._axes(plot)
        paint_grid(painter, axes, theme, x_ticks=ticks(axes.x_low, axes.x_high, 7), y_ticks=ticks(axes.y_low, axes.y_high, 5), size=12)
        self._units(painter, theme, rect, plot)
        labels = Labels(painter, theme, plot.adjusted(2, 2, -2, -2))
        self._goal_lines(painter, theme, axes, labels)
        self._now(painter, theme, axes, labels)

    def _goal_on(self, axis: str) -> Goal | None:
        """The goal that limits an axis, if one does."""
        kind = {"cost": GoalKind.BUDGET, "mass": GoalKind.ADDED_MASS}.get(axis)
        return next((goal for goal in self._session.design.brief.goals if goal.kind is kind and goal.amount), None)

    def _goal_lines(self, painter: QPainter, theme: Theme, axes: Axes, labels: Labels) -> None:
        """Budget and mass that a goal asks for, where they are an axis."""
        for k, axis in enumerate(self._book.axes):
            goal = self._goal_on(axis)
            if goal is None:
                continue
            value = shown(goal.amount or 0.0, AXES[axis][1], self._session.unit_set)
            a, b = (
                (axes.point(value, axes.y_low), axes.point(value, axes.y_high))
                if k == 0
                else (axes.point(axes.x_low, value), axes.point(axes.x_high, value))
            )
            if not axes.rect.adjusted(-1, -1, 1, 1).contains(a):
                continue
            painter.setPen(pen(with_alpha(theme.clear, 0.8), 1.2, (4, 3)))
            painter.drawLine(a, b)
            words = brief_goal(goal, self._session.say)
            left = QPointF(-6 - text_width(words, font(12)), 6)
            spots = [b + QPointF(5, 6), b + left] if k == 0 else [a + QPointF(6, -18), a + QPointF(6, 2)]
            labels.text(spots, words, theme.clear, font(12))

    def _units(self, painter: QPainter, theme: Theme, rect: QRectF, plot: QRectF) -> None:
        painter.setPen(theme.soft)
        painter.setFont(font(12))
        painter.drawText(QPointF(rect.left() + self.axes[1].width() + 10, rect.top() + 20), self._unit(self._book.axes[1]))
        across = QRectF(plot.left(), plot.bottom() + 20, plot.width() - self.axes[0].width() - 8, 20)
        painter.drawText(across, Qt.AlignmentFlag.AlignRight, self._unit(self._book.axes[0]))

    def _empty_words(self) -> str:
        book = self._book
        if book.problem:
            return book.problem
        if book.running:
            return f"Searching ... {book.share:.0%} of the space"
        if book.found is None:
            what = "propellers" if self._session.docs and self._session.design.vehicle.kind.floats else "teeth"
            return f"Search all motors, {what}, cells and controllers of the stock\nfor drives that meet every goal of the brief."
        if book.found.nothing_of:
            return f"Nothing to combine: no {' and no '.join(book.found.nothing_of)} may be used.\nThe limits on the left say what may."
        return f"None of {count_words(book.found.searched)} combinations meets every goal,\nand none fails only one: ease two of them."

    def _say(self, painter: QPainter, theme: Theme, plot: QRectF, words: str) -> None:
        painter.setFont(font(14))
        painter.setPen(theme.soft)
        painter.drawText(plot.adjusted(20, 0, -20, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)

    def _unit(self, axis: str) -> str:
        dimension = AXES[axis][1]
        words = self._session.design.brief.currency if dimension == "money" else unit_of(dimension, self._session.unit_set).text
        if axis in ("speed", "grade"):
            words += ", pack at 50%"
        return words

    def _hits(self, painter: QPainter, theme: Theme, axes: Axes) -> None:
        """Solid: not dominated; hollow: the best of a row; dots: near-equal to the chosen."""
        book = self._book
        assert book.found is not None
        found, near_equal = book.found, set(book.row_of(book.chosen))
        firsts, seen = {row[0] for row in found.rows}, set(self._seen())
        self._front_line(painter, theme, axes, found.hits[: found.front])
        for k, hit in enumerate(found.hits):
            front = k < found.front
            if k not in seen:
                continue
            at = self._at(axes, hit)
            if at is None:
                continue
            self.places[k] = at
            same = k in near_equal
            size = 5.0 if front else 3.4 if k in firsts else 2.6
            painter.setPen(pen(theme.electrical if front or same else theme.soft, 1.4))
            painter.setBrush(with_alpha(theme.electrical, 0.8) if front else theme.panel)
            painter.drawEllipse(at, size, size)

    def _seen(self) -> list[int]:
        """Which of the points are drawn: the front, the best of each row, those near the chosen, near misses."""
        book = self._book
        assert book.found is not None
        wanted = {*range(book.found.front), *(row[0] for row in book.found.rows), *book.row_of(book.chosen), *book.marked}
        return sorted(k for k in wanted if k >= 0) + [k for k in range(len(book.found.hits), len(book.points)) if k not in wanted]

    def _bands(self, painter: QPainter, theme: Theme, axes: Axes) -> None:
        """Of the chosen and the marked: between what their figures lie four times of six."""
        book, units = self._book, self._session.unit_set
        for k in dict.fromkeys((book.chosen, *book.marked)):
            hit = book.points[k] if 0 <= k < len(book.points) else None
            at = self._at(axes, hit) if hit is not None else None
            if hit is None or at is None:
                continue
            bands = self.sure.bands(hit.row)
            for across, axis in zip((True, False), book.axes, strict=True):
                one = bands.get(axis)
                if one is None or one.low != one.low:
                    continue
                low, high = (shown(value, AXES[axis][1], units) for value in (one.low, one.high))
                points = [axes.point(value, axes.y_low) if across else axes.point(axes.x_low, value) for value in (low, high)]
                ends = (points[0].x(), points[1].x()) if across else (points[0].y(), points[1].y())
                paint_band(painter, at, ends, theme.electrical, axes.rect, across=across)

    def _front_line(self, painter: QPainter, theme: Theme, axes: Axes, front: Sequence[Hit]) -> None:
        """A step line along the front: beyond it stock has nothing."""
        spots = sorted((at.x(), at.y()) for at in (self._at(axes, hit) for hit in front) if at is not None)
        if len(spots) < 2:
            return
        line = [QPointF(*spots[0])]
        for (_, y0), (x1, y1) in pairwise(spots):
            line += [QPointF(x1, y0), QPointF(x1, y1)]
        painter.setPen(pen(with_alpha(theme.electrical, 0.4), 1.2))
        painter.drawPolyline(QPolygonF(line))

    def _near(self, painter: QPainter, theme: Theme, axes: Axes, labels: Labels) -> None:
        """Near misses: triangles, each with what it gives up."""
        found = self._book.found
        assert found is not None
        for k, hit in enumerate(found.near_misses, len(found.hits)):
            at = self._at(axes, hit)
            if at is None:
                continue
            self.places[k] = at
            painter.setPen(pen(theme.over, 1.5))
            painter.setBrush(theme.panel)
            painter.drawPolygon(QPolygonF([at + QPointF(0, -5.5), at + QPointF(5.5, 4.5), at + QPointF(-5.5, 4.5)]))
        for k, hit in enumerate(found.near_misses, len(found.hits)):
            if k in self.places and (not found.hits or k in (self._book.chosen, self._hover)):
                name = constraint_name(self._session.design, found.wishes.climb_s(self._session.design), hit.fails, self._session.say)
                self._label(labels, self.places[k], f"without: {name}", theme.over)

    def _label(self, labels: Labels, at: QPointF, words: str, colour: object) -> None:
        width = 6.4 * len(words)
        places = [
            QPointF(at.x() + 10, at.y() - 9),
            QPointF(at.x() - width - 10, at.y() - 9),
            QPointF(at.x() - width / 2, at.y() + 8),
            QPointF(at.x() - width / 2, at.y() - 24),
        ]
        labels.text(places, words, colour, font(12, 600))  # type: ignore[arg-type]

    def _now(self, painter: QPainter, theme: Theme, axes: Axes, labels: Labels) -> None:
        """The present variant as a cross, and what the shelf alone does as a square."""
        found, hit = self._book.found, self.present()
        if found is not None and found.shelf_best is not None:
            at = self._at(axes, found.shelf_best)
            if at is not None:
                painter.setPen(pen(theme.mechanical, 1.8))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(QRectF(at.x() - 8, at.y() - 8, 16, 16))
                self._label(labels, at, "shelf alone", theme.mechanical)
        at = self._at(axes, hit) if hit is not None else None
        if hit is None or at is None:
            return
        painter.setPen(pen(theme.mechanical, 2.0))
        for dx, dy in ((6, 6), (6, -6)):
            painter.drawLine(QPointF(at.x() - dx, at.y() - dy), QPointF(at.x() + dx, at.y() + dy))
        missed = sum(not result.met for result in hit.goals)
        words = f"now: {self._session.design.variant().id}" + (f", misses {missed}" if missed else "")
        self._label(labels, at, words, theme.mechanical)

    def _chosen(self, painter: QPainter, theme: Theme, labels: Labels) -> None:
        book = self._book
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for n, k in enumerate(book.marked):
            if k in self.places:
                at = self.places[k]
                painter.setPen(pen(theme.ink, 1.4))
                painter.drawEllipse(at, 9.0, 9.0)
                labels.text([at + QPointF(10, -18), at + QPointF(-20, -18), at + QPointF(10, 6)], str(n + 1), theme.ink, font(12, 600))
        if book.chosen in self.places:
            painter.setPen(pen(theme.ink, 2.0))
            painter.drawEllipse(self.places[book.chosen], 8.5, 8.5)

    def present(self) -> Hit | None:
        """The present variant as a hit, worked out once for each study."""
        study = self._session.study
        if self._present[0] is not study:
            self._present = (study, present_hit(study.resolved, study.goals, study.design) if study is not None else None)
        return self._present[1]

    def _axes(self, plot: QRectF) -> Axes:
        now, found, ends = self.present(), self._book.found, []
        extra = [hit for hit in (now, found.shelf_best if found is not None else None) if hit is not None]
        shown_hits = [self._book.points[k] for k in self._seen()] if found is not None else []
        for axis in self._book.axes:
            dimension = AXES[axis][1]
            made = [
                shown(hit.value(axis), dimension, self._session.unit_set) for hit in (*shown_hits, *extra) if math.isfinite(hit.value(axis))
            ]
            low, high = min(made, default=0.0), max(made, default=1.0)
            if found is None:  # the present variant alone: with room for what is cheaper and lighter
                goal = self._goal_on(axis)
                asked = shown(goal.amount or 0.0, dimension, self._session.unit_set) if goal is not None else 0.0
                low, high = min(0.0, low), max(1.2 * high, 1.05 * asked) or 1.0
            reach = max(high - low, 0.05 * abs(high), 1e-6)
            step = round_step(reach * 1.16, 6)
            least = low - 0.08 * reach if low < 0 else max(low - 0.08 * reach, 0.0)
            ends.append((math.floor(least / step) * step, math.ceil((high + 0.08 * reach) / step) * step))
        return Axes(plot, ends[0][0], ends[0][1], ends[1][0], ends[1][1])

    def _at(self, axes: Axes, hit: Hit) -> QPointF | None:
        x, y = (shown(hit.value(axis), AXES[axis][1], self._session.unit_set) for axis in self._book.axes)
        return axes.point(x, y) if math.isfinite(x) and math.isfinite(y) else None

    # choosing

    def nearest(self, at: QPointF) -> int:
        best, found = GRAB, -1
        for k, place in self.places.items():
            away = math.hypot(place.x() - at.x(), place.y() - at.y())
            if away < best:
                best, found = away, k
        return found

    def mousePressEvent(self, event: QMouseEvent) -> None:
        k = self.nearest(event.position())
        if k < 0:
            return
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._book.mark(k)
        else:
            self._book.choose(k)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        k = self.nearest(event.position())
        if k == self._hover:
            return
        self._hover = k
        self.setCursor(Qt.CursorShape.PointingHandCursor if k >= 0 else Qt.CursorShape.ArrowCursor)
        if k >= 0:
            self.card.show_for(k, self.places[k])
        else:
            self.card.hide()
        self.update()

    def leaveEvent(self, event: QEvent) -> None:
        self._hover = -1
        self.card.hide()
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, order = Qt.Key(event.key()), sorted(self.places)
        if not order:
            super().keyPressEvent(event)
            return
        at = order.index(self._book.chosen) if self._book.chosen in order else 0
        if key in (Qt.Key.Key_Right, Qt.Key.Key_Down):
            self._book.choose(order[min(at + 1, len(order) - 1)])
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Up):
            self._book.choose(order[max(at - 1, 0)])
        elif key == Qt.Key.Key_Space:
            self._book.mark(self._book.chosen)
        else:
            super().keyPressEvent(event)
