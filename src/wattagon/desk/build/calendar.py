"""The calendar of a build: what can be done now above, then a strip of days on which every step stands where it falls."""

from __future__ import annotations

import datetime
import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QToolTip

from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import elided, pen, put_right, put_text, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.build.schedule import Shorter
from wattagon.study.build.step import Does
from wattagon.study.build.study import BuildStudy, Part, Task

ROW_LOW, ROW_HIGH, HEAD, AXIS, LEFT, RIGHT = 14.5, 22.0, 48.0, 22.0, 14.0, 26.0
SPREAD = 22.0  # height of the finish's spread
BELOW = SPREAD + 12.0  # of the strip, where no step stands
MOST_CHIPS = 6
DOES_WORDS = {Does.HAND: "by hand", Does.PRINTER: "printer", Does.WAIT: "waits", Does.PLACE: "at a place"}


class CalendarPicture(FoundPicture):
    """Paints a build; a step is chosen by a click or the arrows, done by Space."""

    found: BuildStudy | None = None

    chosen_changed = Signal(str)
    tick_asked = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, "build-calendar", "Calendar of the build", 240)
        self.old = False
        self.chosen = ""
        self.first_row = 0
        self._box = QRectF()
        self.shorter: tuple[Shorter, ...] = ()  # what would bring the end nearer
        self._rows: list[tuple[QRectF, str]] = []
        self._chips: list[tuple[QRectF, str]] = []
        self.setMouseTracking(True)

    # what is shown

    def show_build(self, found: BuildStudy | None, problem: str = "", *, old: bool = False) -> None:
        """Another result."""
        self.found, self.problem, self.old = found, problem, old
        if found is not None and self.chosen not in {task.step.id for task in found.tasks}:
            ready = found.can_begin
            self.chosen = ready[0].step.id if ready else found.tasks[0].step.id if found.tasks else ""
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        found = self.found
        now = ", ".join(task.step.title for task in found.can_begin) or "nothing"
        steps = "; ".join(f"{task.step.title} {task.state.value}" for task in found.tasks)
        return f"today: {now}; could roll on {found.finish(0.5)}, between {found.finish(0.1)} and {found.finish(0.9)}; {steps}"

    @property
    def shown(self) -> list[Task]:
        """Steps that are not done, in the order of the calendar."""
        if self.found is None:
            return []
        left = [task for task in self.found.tasks if not math.isnan(task.begin)]
        return sorted(left, key=lambda task: (task.begin, task.end))

    @property
    def coming(self) -> list[tuple[Part, float]]:
        """Ordered parts that are on their way, with days until they come."""
        if self.found is None:
            return []
        found = []
        for part in self.found.parts:
            days = part.arrives(self.found.today)
            if days is not None and part.mark.date and days[2] > 0.0:
                found.append((part, days[1]))
        return sorted(found, key=lambda one: one[1])

    # drawing

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: BuildStudy) -> None:
        self._now(p, theme, rect, found)
        plot = rect.adjusted(LEFT, HEAD + AXIS, -RIGHT, -6.0)
        last = max(found.calendar.day(0.98), found.calendar.finish, *(days for _, days in self.coming), 3.0) * 1.02
        across = lambda days: plot.left() + plot.width() * days / last
        self._axis(p, theme, plot, found, last, across)
        self._box = self._sooner(p, theme, plot)
        self._steps(p, theme, plot, found, across)
        self._finish(p, theme, plot, found, across)

    def _now(self, p: QPainter, theme: Theme, rect: QRectF, found: BuildStudy) -> None:
        """What can be done with what is here."""
        self._chips = []
        p.setPen(theme.soft)
        ready = found.can_begin
        words = "Today, with what is here:" if ready else "Nothing can be done today: all waits for something."
        put_text(p, rect.left() + LEFT, rect.top() + 19, words, font(12, 600))
        x, y, face = rect.left() + LEFT + text_width(words, font(12, 600)) + 10, rect.top() + 6.0, font(12)
        for k, task in enumerate(ready):
            title = f"{task.step.title}  {task.hours[1]:.1f} h"
            wide = min(text_width(title, face) + 18, 300.0)
            if x + wide > rect.right() - 60:
                if y > rect.top() + 10:
                    p.setPen(theme.soft)
                    put_text(p, x, y + 14, f"+{len(ready) - k}", face)
                    break
                x, y = rect.left() + LEFT, y + 22.0
            box = QRectF(x, y, wide, 19.0)
            self._chips.append((box, task.step.id))
            p.setPen(pen(theme.ink if task.critical else theme.rule, 1.2))
            p.setBrush(theme.chosen if task.step.id == self.chosen else theme.panel)
            p.drawRoundedRect(box, 9.0, 9.0)
            p.setPen(theme.ink)
            put_text(p, x + 9, y + 13.5, elided(title, face, wide - 16), face)
            x += wide + 6

    def _axis(self, p: QPainter, theme: Theme, plot: QRectF, found: BuildStudy, last: float, across) -> None:  # type: ignore[no-untyped-def]
        """Days: Mondays named, weekends shaded, today as a line."""
        face = font(11)
        base = found.begins
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(plot.left(), plot.top()), QPointF(plot.right(), plot.top()))
        spoken = -1e9
        for day in range(math.ceil(last) + 1):
            when = base + datetime.timedelta(days=day)
            x = across(day)
            if when.weekday() >= 5 and last < 90:
                wide = min(across(day + 1), plot.right()) - x
                p.fillRect(QRectF(x, plot.top(), max(wide, 0.0), plot.height()), with_alpha(theme.rule, 0.28))
            if when.weekday() == 0 or day == 0:
                words = f"{when.day} {when:%b}"
                if x - spoken > text_width(words, face) + 16 and x < plot.right() - 20:
                    p.setPen(pen(theme.rule, 1.0))
                    p.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
                    p.setPen(theme.soft)
                    put_text(p, x + 3, plot.top() - 5, words, face)
                    spoken = x
        now = across((found.today - base).days)
        p.setPen(pen(theme.ink, 1.6))
        p.drawLine(QPointF(now, plot.top() - 14), QPointF(now, plot.bottom()))

    def _steps(self, p: QPainter, theme: Theme, plot: QRectF, found: BuildStudy, across) -> None:  # type: ignore[no-untyped-def]
        tasks, coming = self.shown, self.coming
        self._rows = []
        rows: list[Task | tuple[Part, float]] = [*coming, *tasks]
        if not rows:
            p.setPen(theme.ink)
            put_text(p, plot.left() + 20, plot.top() + 40, "Every step is done.", font(15, 600))
            return
        tall = min(max((plot.height() - BELOW) / len(rows), ROW_LOW), ROW_HIGH)
        fits = max(int((plot.height() - BELOW) / tall), 1)
        self.first_row = min(max(self.first_row, 0), max(len(rows) - fits, 0))
        places: dict[str, QRectF] = {}
        y = plot.top() + 6.0
        for one in rows[self.first_row : self.first_row + fits]:
            if isinstance(one, tuple):
                self._delivery(p, theme, plot, y, tall, one, across)
            else:
                places[one.step.id] = self._bar(p, theme, plot, y, tall, one, across)
            y += tall
        if len(rows) > fits:
            p.setPen(theme.soft)
            put_text(p, plot.left() + 5, plot.bottom() - 4, f"{self.first_row + 1} to {self.first_row + fits} of {len(rows)}", font(11))
        self._waits(p, theme, places)

    def _bar(self, p: QPainter, theme: Theme, plot: QRectF, y: float, tall: float, task: Task, across) -> QRectF:  # type: ignore[no-untyped-def]
        x0, x1 = across(task.begin), max(across(task.end), across(task.begin) + 3.0)
        row = QRectF(plot.left() - LEFT, y, plot.width() + LEFT + RIGHT, tall)
        self._rows.append((row, task.step.id))
        if task.step.id == self.chosen:
            p.fillRect(row.adjusted(0.0, 0.0, min(self._ends(plot, y, tall) - row.right(), 0.0), 0.0), theme.chosen)
        bar = QRectF(x0, y + 3.0, x1 - x0, tall - 6.0)
        ink = theme.ink if task.critical else theme.soft
        if task.step.does is Does.WAIT:
            p.setPen(pen(ink, 1.2, (2.0, 2.0)))
            p.setBrush(Qt.BrushStyle.NoBrush)
        elif task.step.does is Does.PRINTER:
            p.setPen(pen(ink, 1.2))
            p.setBrush(with_alpha(ink, 0.22))
        else:
            p.setPen(pen(ink, 1.2))
            p.setBrush(ink if task.critical else with_alpha(theme.soft, 0.55))
        p.drawRect(bar)
        face = font(12, 600 if task.step.id == self.chosen else 400)
        name = task.step.title if task.state.value == "open" else f"{task.step.title} (begun)"
        p.setPen(theme.ink if not task.blocked or task.critical else theme.soft)
        wide = text_width(name, face)
        base = y + 0.5 * tall + 4.5
        ends = self._ends(plot, y, tall)
        if x1 + 7 + wide < ends or x0 - plot.left() < 80:
            put_text(p, x1 + 7, base, elided(name, face, ends - x1 - 8), face)
        else:
            put_right(p, x0 - 6, base, elided(name, face, x0 - plot.left() - 4), face)
        return bar

    def _delivery(self, p: QPainter, theme: Theme, plot: QRectF, y: float, tall: float, one: tuple[Part, float], across) -> None:  # type: ignore[no-untyped-def]
        part, days = one
        x, middle = across(days), y + 0.5 * tall
        p.setPen(pen(theme.electrical, 1.2, (1.0, 3.0)))
        p.drawLine(QPointF(plot.left(), middle), QPointF(x - 5, middle))
        p.setPen(pen(theme.electrical, 1.2))
        p.setBrush(theme.panel)
        p.drawPolygon(QPolygonF([QPointF(x - 5, middle), QPointF(x, middle - 5), QPointF(x + 5, middle), QPointF(x, middle + 5)]))
        p.setPen(theme.electrical)
        put_text(p, x + 9, middle + 4.5, elided(f"{part.row.name} comes", font(12), self._ends(plot, y, tall) - x - 12), font(12))

    def _waits(self, p: QPainter, theme: Theme, places: dict[str, QRectF]) -> None:
        """Of the chosen step: what it waits for, and what waits for it."""
        if self.found is None or self.chosen not in places:
            return
        task, bar = self.found.task(self.chosen), places[self.chosen]
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(pen(theme.ink, 1.1))
        for name in task.after:
            if name in places:
                self._link(p, places[name], bar)
        p.setPen(pen(theme.soft, 1.1, (3.0, 2.0)))
        for other in self.found.tasks:
            if self.chosen in other.after and other.step.id in places:
                self._link(p, bar, places[other.step.id])

    def _link(self, p: QPainter, one: QRectF, other: QRectF) -> None:
        x = max(min(one.right(), other.left()), one.left()) - 0.5
        p.drawLine(QPointF(x, one.center().y()), QPointF(x, other.center().y()))
        p.drawLine(QPointF(x, other.center().y()), QPointF(other.left(), other.center().y()))

    def _finish(self, p: QPainter, theme: Theme, plot: QRectF, found: BuildStudy, across) -> None:  # type: ignore[no-untyped-def]
        """The end as a small spread, on the ground of the strip."""
        if not found.calendar.draws.size or not self.shown:
            return
        low, mid, high = (found.calendar.day(share) for share in (0.1, 0.5, 0.9))
        ground, tall = plot.bottom(), SPREAD
        counts, edges = np.histogram(found.calendar.draws, bins=24)
        shape = QPolygonF([QPointF(across(float(edges[0])), ground)])
        for k, count in enumerate(counts):
            shape.append(QPointF(across(0.5 * float(edges[k] + edges[k + 1])), ground - tall * float(count) / float(counts.max())))
        shape.append(QPointF(across(float(edges[-1])), ground))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(with_alpha(theme.ink, 0.22))
        p.drawPolygon(shape)
        p.setPen(pen(theme.ink, 1.4))
        p.drawLine(QPointF(across(low), ground), QPointF(across(high), ground))
        p.drawLine(QPointF(across(mid), ground - tall), QPointF(across(mid), ground))
        say = lambda day: f"{day.day} {day:%b}"
        words = f"could roll {say(found.finish(0.5))}; eight of ten between {say(found.finish(0.1))} and {say(found.finish(0.9))}"
        face = font(12, 600)
        p.setPen(theme.ink)
        wide = text_width(words, face)
        x = min(across(low) - 8, plot.right())
        back = QRectF(x - wide - 6, ground - 17, wide + 8, 17)
        p.fillRect(back, QColor(theme.panel))
        put_right(p, x, ground - 4, words, face)

    def _ends(self, plot: QRectF, y: float, tall: float) -> float:
        """How far to the right words of a row may go: as far as the box of what is sooner."""
        meets = self._box.isValid() and y < self._box.bottom() and y + tall > self._box.top()
        return self._box.left() - 4 if meets else plot.right() + RIGHT - 4

    def _sooner(self, p: QPainter, theme: Theme, plot: QRectF) -> QRectF:
        """What brings the end nearest, where the strip is empty: above its end."""
        best = [one for one in self.shorter if one.days >= 0.5][:3]
        if not best or not self.shown:
            return QRectF()
        face = font(12)
        lines = [f"{one.words}: {one.days:.0f} day{'s' if round(one.days) != 1 else ''} sooner" for one in best]
        wide = min(max(text_width(line, face) for line in lines), 0.46 * plot.width())
        back = QRectF(plot.right() - wide - 12, plot.top() + 5, wide + 20, 17.0 * len(lines) + 22)
        p.fillRect(back, theme.panel)
        p.setPen(pen(theme.rule, 1.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(back)
        p.setPen(theme.ink)
        put_text(p, back.left() + 8, back.top() + 14, "Sooner by", font(12, 600))
        p.setPen(theme.soft)
        for k, line in enumerate(lines):
            put_text(p, back.left() + 8, back.top() + 31 + 17 * k, elided(line, face, wide), face)
        return back

    # what a hand does

    def choose(self, code: str) -> None:
        """Another step in hand."""
        if code and code != self.chosen:
            self.chosen = code
            self.update()
            self.chosen_changed.emit(code)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        for box, code in (*self._chips, *self._rows):
            if box.contains(at):
                self.choose(code)
                return

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.mousePressEvent(event)
        if self.chosen:
            self.tick_asked.emit(self.chosen)

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.first_row += -1 if event.angleDelta().y() > 0 else 1
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        codes = [task.step.id for task in self.shown]
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and codes:
            at = codes.index(self.chosen) if self.chosen in codes else 0
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            at = min(max(at + step, 0), len(codes) - 1)
            self.choose(codes[at])
            lines = at + len(self.coming)
            visible = max(len(self._rows) - 1, 1)
            if lines < self.first_row or lines > self.first_row + visible:
                self.first_row = max(lines - visible // 2, 0)
        elif event.key() == Qt.Key.Key_Space and self.chosen:
            self.tick_asked.emit(self.chosen)
        else:
            super().keyPressEvent(event)

    def event(self, event) -> bool:  # type: ignore[no-untyped-def]
        if isinstance(event, QHelpEvent) and self.found is not None:
            at = QPointF(event.pos())
            code = next((code for box, code in (*self._chips, *self._rows) if box.contains(at)), "")
            if code:
                task = self.found.task(code)
                low, likely, high = task.hours
                unit = (
                    "days"
                    if task.way and task.way in {place.name or place.id for place in self.found.design.brief.workshop.places}
                    else "h"
                )
                slack = f"{task.span.slack:.1f} h to spare" if not task.critical else "on the longest chain"
                QToolTip.showText(
                    event.globalPos(),
                    f"{task.step.title}: {likely:.1f} {unit} ({low:.1f} to {high:.1f}), {DOES_WORDS[task.step.does]}, {slack}",
                    self,
                )
                return True
        return super().event(event)
