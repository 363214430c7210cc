"""The one picture of the pack: cells on the left, the ladder of volts on the right."""

from __future__ import annotations

import math
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Battery
from wattagon.desk.chart.ink import frame, pen, say_instead
from wattagon.desk.chart.painted import painted
from wattagon.desk.pack.cells import Hits, draw_cells
from wattagon.desk.pack.ladder import Ladder, share_at
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES
from wattagon.study.pack.study import PackStudy

STEPS = {
    Qt.Key.Key_Right: "series+",
    Qt.Key.Key_Left: "series-",
    Qt.Key.Key_Up: "parallel+",
    Qt.Key.Key_Down: "parallel-",
}
GRIP_PX = 9.0


class PackPicture(QWidget):
    """Paints what `study_pack` finds."""

    chosen_changed = Signal(int)  # a brick by its place in the design

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: PackStudy | None = None
        self.problem = ""
        self.chosen = 0
        self.ladder = Ladder()
        self.hits: Hits = []
        self._held, self._gesture, self._from = "", -1, QPointF()
        self.setObjectName("pack-picture")
        self.setAccessibleName("Pack and its volts")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(520, 240)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_pack(self, found: PackStudy | None, problem: str = "") -> None:
        """Another result."""
        self.found, self.problem = found, problem
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        say, volts = self.session.say, self.found.volts
        told = [f"{self.found.groups} in series, {int(self.found.resolved.train.pack.parallel)} in parallel"]
        told += [
            f"{name} {say(value, 'voltage')}" for name, value in (("full", volts.full), ("sagging", volts.sag), ("empty", volts.empty))
        ]
        for rung in self.found.rungs:
            at = say(rung.volts, "voltage") if math.isfinite(rung.volts) else "not known"
            told.append(f"{rung.name} {at} {rung.status.value}")
        return "; ".join(told)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self.session.theme_name]
        p.fillRect(rect, theme.panel)
        self.hits = []
        if self.found is None:
            say_instead(p, theme, rect, self.problem)
            return
        split = rect.left() + (0.56 if rect.width() > 780.0 else 0.5) * rect.width()
        cells = QRectF(rect.left(), rect.top(), split - rect.left(), rect.height())
        self.hits = draw_cells(p, theme, cells, self.found, self.session, self.chosen)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(split, rect.top() + 12), QPointF(split, rect.bottom() - 12))
        self.ladder.draw(p, theme, QRectF(split + 4, rect.top(), rect.right() - split - 4, rect.height()), self.found, self.session)
        if self.hasFocus():
            frame(p, theme, rect)

    # what a hand does

    def step(self, what: str) -> None:
        """Series or parallel, one step of their levers."""
        lever = next((lever for lever in self.session.levers if lever.code == what[:-1]), None)
        edit = (lever.up if what.endswith("+") else lever.down) if lever is not None else None
        if edit is None:
            self.session.told.emit(f"No further step of cells in {what[:-1]} here", True)
            return
        self.session.try_apply(edit)

    def move_window(self, end: str, volts: float) -> None:
        """One end of the window to some pack volts."""
        if self.found is None:
            return
        share = round(share_at(self.found, volts), 2)
        top, bottom = self.found.resolved.window
        top, bottom = (max(share, bottom + 0.05), bottom) if end == "top" else (top, min(share, top - 0.05))
        top, bottom = min(max(top, 0.3), 1.0), min(max(bottom, 0.0), 0.7)
        battery = self.session.design.variant().battery or Battery()
        wanted = replace(battery, window_top=round(top, 2), window_bottom=round(bottom, 2))
        label = f"window {bottom:.0%} to {top:.0%}"
        if wanted != battery:
            self.session.try_apply(Edit(label=label, changes=(("variant.battery", wanted),), gesture=self._gesture))

    def _at(self, where: QPointF) -> str:
        for name, grip in self.ladder.handles.items():
            if grip.adjusted(-GRIP_PX, 0, GRIP_PX + 44, 0).contains(where) and self.found is not None:
                return f"window.{name}"
        return next((name for box, name in self.hits if box.contains(where)), "")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        hit = self._at(event.position())
        self._held, self._from = "", event.position()
        if hit.startswith("window."):
            self._held, self._gesture = hit, self.session.gesture()
        elif hit.startswith("brick."):
            self._held = hit
            self.choose(int(hit.partition(".")[2]))
        elif hit:
            self.step(hit)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held.startswith("window."):
            self.move_window(self._held.partition(".")[2], self.ladder.volts_at(event.position().y()))
            return
        hand = self._at(event.position())
        shape = Qt.CursorShape.SizeVerCursor if hand.startswith("window.") else Qt.CursorShape.PointingHandCursor
        self.setCursor(shape if hand else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, ""
        self._gesture = -1
        if held.startswith("brick.") and (event.position() - self._from).manhattanLength() > 24:
            self._drop(int(held.partition(".")[2]), event.position())

    def _drop(self, which: int, where: QPointF) -> None:
        """A brick let go over another goes into its string or group; elsewhere it begins a new one."""
        battery = self.session.design.variant().battery
        if battery is None:
            return
        over = self._at(where)
        places = [brick.place for brick in battery.bricks]
        place = places[int(over.partition(".")[2])] if over.startswith("brick.") else max(places) + 1
        if place == places[which]:
            return
        moved = tuple(replace(b, place=place) if k == which else b for k, b in enumerate(battery.bricks))
        name = battery.bricks[which].name or f"brick {which + 1}"
        self.session.try_apply(Edit(label=f"{name} into {place}", changes=(("variant.battery", replace(battery, bricks=moved)),)))

    def choose(self, brick: int) -> None:
        """A brick in hand."""
        self.chosen = brick
        self.update()
        self.chosen_changed.emit(brick)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = STEPS.get(Qt.Key(event.key()))
        if step is not None and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.step(step)
            return
        moves = {Qt.Key.Key_PageUp: ("top", 0.01), Qt.Key.Key_PageDown: ("top", -0.01), Qt.Key.Key_Home: ("bottom", 0.01)}
        moves[Qt.Key.Key_End] = ("bottom", -0.01)
        move = moves.get(Qt.Key(event.key()))
        if move is None or self.found is None:
            super().keyPressEvent(event)
            return
        end, by = move
        at = self.found.resolved.window[0 if end == "top" else 1]
        self._gesture = -1
        self.move_window(end, float(self.found.resolved.train.pack.emf_v(at + by)))
