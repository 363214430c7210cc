"""The one picture of the controller: limits on their ampere axes on the left, the throttle and what it feels like on the right."""

from __future__ import annotations

import math
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Control, Throttle
from wattagon.desk.chart.ink import frame, pen, say_instead
from wattagon.desk.chart.painted import painted
from wattagon.desk.controller.felt import HANDLES, NAMES, Curve, Felt, no_rider
from wattagon.desk.controller.limits import AXES, Limits, first_bound, handy_step
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES
from wattagon.study.controller.feel import Trace
from wattagon.study.controller.study import ControllerStudy
from wattagon.study.controller.throttle import mapped


class ControllerPicture(QWidget):
    """Paints what `study_controller` found, with the settings as they are at this moment."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: ControllerStudy | None = None
        self.problem = ""
        self.chosen = AXES[0][0]
        self.gesture = "start"
        self.old = False  # a newer result is on its way
        self.before: Trace | None = None
        self.limits, self.curve, self.felt = Limits(), Curve(), Felt()
        self._held: tuple[str, object] = ("", None)
        self._number = -1
        self._told = ""
        self.setObjectName("controller-picture")
        self.setAccessibleName("Settings between their bounds, and the throttle")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(520, 260)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_controller(self, found: ControllerStudy | None, problem: str = "", *, old: bool = False) -> None:
        """Another result; the gesture of the one before stays as a ghost."""
        last = self.found
        if found is not None and last is not None and found is not last and found.feel is not None and last.feel is not None:
            same = found.design.vehicle.name == last.design.vehicle.name and found.design.active == last.design.active
            self.before = last.feel.trace(self.gesture) if same else None
        self.found, self.problem, self.old = found, problem, old
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        say, choice = self.session.say, self.session.design.variant().controller
        told = []
        for axis, _, words, name in AXES:
            value, most = getattr(choice, name), first_bound(self.found, axis)
            text = f"{words} {say(value, 'current') if value is not None else 'not stated'}"
            told.append(f"{text}, at most {say(most.amps, 'current')} by {most.whose}" if most is not None else text)
        if self.found.feel is not None:
            for one in self.found.feel.traces:
                told.append(f"{one.name}: {one.worst:.1f} m/s², coming at {one.worst_jerk:.1f} m/s³")
        return "; ".join(told)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme, session = THEMES[self.session.theme_name], self.session
        p.fillRect(rect, theme.panel)
        if self.found is None or not session.docs:
            say_instead(p, theme, rect, self.problem)
            return
        split = rect.left() + 0.6 * rect.width()
        self.limits.draw(
            p, theme, QRectF(rect.left(), rect.top(), split - rect.left() - 4, rect.height()), self.found, session, self.chosen
        )
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(split, rect.top() + 10), QPointF(split, rect.bottom() - 10))
        middle = rect.top() + 0.47 * rect.height()
        right = rect.right() - split - 6
        self.curve.draw(p, theme, QRectF(split + 4, rect.top() + 4, right, middle - rect.top() - 4), mapped(session.design))
        below = QRectF(split + 4, middle + 4, right, rect.bottom() - middle - 6)
        if self.found.feel is None:
            no_rider(p, theme, below)
        else:
            self.felt.draw(p, theme, below, self.found.feel, self.gesture, session, self.before, self.old)
        if self.hasFocus():
            frame(p, theme, rect)

    # what a hand does

    def set_amps(self, axis: str, amps: float, gesture: int = -1) -> None:
        """A setting on an axis; it stops at the first bound and says whose."""
        if self.found is None:
            return
        words, name = next((words, name) for code, _, words, name in AXES if code == axis)
        most, said = first_bound(self.found, axis), ""
        step = handy_step(amps)
        amps = max(step * round(amps / step), 0.0 if "brake" in axis or axis == "pack_in" else step)
        if most is not None and amps > most.amps:
            amps = handy_step(most.amps) * math.floor(most.amps / handy_step(most.amps) + 1e-9)
            said = f"{words} stop at {self.session.say(most.amps, 'current')}, {most.whose}: {most.because}"
        if said and said != self._told:
            self.session.told.emit(said, False)
        self._told = said
        edit = Edit(label=f"{words} {amps:g} A", changes=((f"variant.controller.{name}", float(amps)),), gesture=gesture)
        self.session.try_apply(edit)

    def step(self, by: float) -> None:
        """The setting in hand by steps."""
        name = next(name for code, _, _, name in AXES if code == self.chosen)
        now = getattr(self.session.design.variant().controller, name) or 0.0
        self.set_amps(self.chosen, now + by * handy_step(now))

    def bend(self, handle: int, command: float, gesture: int = -1) -> None:
        """One handle of the curve; both together make its points."""
        design = self.session.design
        shape = mapped(design).shape
        inner = [float(shape.of(shape.dead + share * (1.0 - shape.dead))) for share in HANDLES]
        inner[handle] = round(min(max(command, 0.0), 1.0), 2)
        if handle == 0:
            inner[1] = max(inner)
        else:
            inner[0] = min(inner)
        points = tuple((round(share, 4), round(value, 3)) for share, value in zip(HANDLES, inner, strict=True))
        told = design.variant().control or Control()
        throttle = replace(told.throttle or Throttle(), curve="points", points=points)
        edit = Edit(label="Throttle curve", changes=(("variant.control", replace(told, throttle=throttle)),), gesture=gesture)
        self.session.try_apply(edit)

    def show_gesture(self, code: str) -> None:
        """Another gesture of the hand."""
        self.gesture, self.before = code, None
        self.update()

    def choose(self, axis: str) -> None:
        """Another axis in hand."""
        self.chosen = axis
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton or self.found is None:
            return
        handle, axis, name = self.curve.grips(at), self.limits.grips(at), self.felt.name_at(at)
        self._number = self.session.gesture()
        if name:
            self.show_gesture(name)
        elif handle >= 0:
            self._held = ("curve", handle)
        elif axis:
            self.choose(axis)
            self._held = ("amps", axis)
        elif self.limits.axis_at(at):
            self.choose(self.limits.axis_at(at))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        kind, what = self._held
        if kind == "amps":
            self.set_amps(str(what), self.limits.amps_at(at.x()), self._number)
        elif kind == "curve" and isinstance(what, int):
            self.bend(what, self.curve.command_at(at.y()), self._number)
        else:
            grips = self.limits.grips(at) or self.curve.grips(at) >= 0
            self.setCursor(
                Qt.CursorShape.OpenHandCursor
                if grips
                else Qt.CursorShape.PointingHandCursor
                if self.felt.name_at(at)
                else Qt.CursorShape.ArrowCursor
            )

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._held = ("", None)

    def event(self, event) -> bool:  # type: ignore[no-untyped-def]
        if isinstance(event, QHelpEvent) and self.found is not None:
            one = self.limits.mark_at(QPointF(event.pos()))
            if one is not None:
                QToolTip.showText(event.globalPos(), f"{one.whose} {self.session.say(one.amps, 'current')}: {one.because}", self)
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        codes = [axis for axis, *_ in AXES]
        key, many = event.key(), 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.choose(codes[(codes.index(self.chosen) + (1 if key == Qt.Key.Key_Down else -1)) % len(codes)])
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.step(many if key == Qt.Key.Key_Right else -many)
        elif key == Qt.Key.Key_G:
            names = [name for name, _ in NAMES]
            self.show_gesture(names[(names.index(self.gesture) + 1) % len(names)])
        else:
            super().keyPressEvent(event)
