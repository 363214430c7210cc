"""The stand as three blocks joined by their signals: hand, controller, motor; below them running traces and a strip of readings."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import curve, elided, frame, pen, put_right, put_text, say_instead, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.standins.stand import Stand
from wattagon.study.findings.status import Status

SHOWN_S, ROWS_A_S = 10.0, 50
BLOCK_PX, FOOT_PX, NAME_PX, VALUE_PX = 104.0, 24.0, 92.0, 86.0
STEP = 0.05


def plain_figure(value: float, places: int) -> str:
    """With so many places, and no minus before nothing."""
    text = f"{value:.{places}f}"
    return (text.lstrip("-") if not text.strip("-0.") else text).replace("-", "−")


def signed(value: float) -> str:
    """A share with its sign."""
    text = plain_figure(value, 2)
    return text if text.startswith("−") or not text.strip("0.") else f"+{text}"


class StandPicture(QWidget):
    """Paints a stand and takes its lever."""

    pushed = Signal(float)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.stand: Stand | None = None
        self.problem = "Set up the stand below."
        self.lever_box = QRectF()
        self._held = False
        self.frozen: list[dict[str, float]] = []  # the stretch that is scrubbed
        self.at = 0  # the row of it that is shown
        self._lanes = QRectF()
        self.setObjectName("stand-picture")
        self.setAccessibleName("Test stand: lever, controller, motor")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(520, 260)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_stand(self, stand: Stand | None) -> None:
        """Another stand."""
        if stand is not self.stand:
            self.frozen = []
        self.stand = stand
        self.update()

    def scrub(self, x: float) -> None:
        """Show the readings at a place of the traces; they stand still until they are let go."""
        if not self.frozen and self.stand is not None:
            self.frozen = list(self.stand.rows[-round(SHOWN_S * ROWS_A_S) :])
        if len(self.frozen) < 2:
            self.frozen = []
            return
        end = self.frozen[-1]["time"]
        wanted = end - (self._lanes.right() - x) / max(self._lanes.width(), 1.0) * SHOWN_S
        self.at = min(range(len(self.frozen)), key=lambda k: abs(self.frozen[k]["time"] - wanted))
        self.update()

    def let_go(self) -> None:
        """Live again."""
        self.frozen = []
        self.update()

    def last(self) -> dict[str, float] | None:
        """The readings that were taken last, or those that are scrubbed."""
        if self.frozen:
            return self.frozen[self.at]
        return self.stand.rows[-1] if self.stand is not None and self.stand.rows else None

    def spoken(self) -> str:
        """Its values as text."""
        now = self.last()
        if self.stand is None or now is None:
            return self.problem
        state = "armed" if self.stand.armed else "not armed"
        return (
            f"{state}; lever {now['lever']:+.2f}, command {now['command']:+.2f}; motor {now['motor_a']:.1f} A, "
            f"{now['told_rpm']:.0f} rpm told, {self._warm(now['motor_c'])}; pack {now['pack_v']:.1f} V, {now['pack_a']:.1f} A"
        )

    def _warm(self, celsius: float) -> str:
        """A temperature in the user's units, no finer than such a sensor."""
        return self.session.say(round(celsius), "temperature")

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self.session.theme_name]
        p.fillRect(rect, theme.panel)
        stand = self.stand
        if stand is None:
            say_instead(p, theme, rect, self.problem)
            return
        now = self.last() or stand.true()
        self._blocks(p, theme, rect, stand, now)
        self._traces(
            p, theme, QRectF(rect.left(), rect.top() + BLOCK_PX + 12, rect.width(), rect.height() - BLOCK_PX - FOOT_PX - 14), stand
        )
        self._strip(p, theme, rect, now)
        if self.hasFocus():
            frame(p, theme, rect)

    def _blocks(self, p: QPainter, theme: Theme, rect: QRectF, stand: Stand, now: dict[str, float]) -> None:
        wide = min(0.24 * rect.width(), 230.0)
        top = rect.top() + 10
        places = [rect.left() + 14, rect.center().x() - 0.5 * wide, rect.right() - 14 - wide]
        boxes = [QRectF(x, top, wide, BLOCK_PX - 12) for x in places]
        fills = (theme.soft, theme.electrical, theme.mechanical)
        for box, ink in zip(boxes, fills, strict=True):
            p.setPen(pen(theme.ink, 1.2))
            p.setBrush(with_alpha(ink, 0.12))
            p.drawRoundedRect(box, 5, 5)
        lost = now["signal"] < 0.5
        self._wire(p, theme, boxes[0], boxes[1], "signal lost" if lost else f"lever {signed(now['lever'])}", theme.soft, broken=lost)
        self._wire(p, theme, boxes[1], boxes[2], f"{plain_figure(now['motor_a'], 1)} A", theme.electrical, thick=3)
        self._hand(p, theme, boxes[0], stand)
        self._controller(p, theme, boxes[1], stand, now)
        self._motor(p, theme, boxes[2], stand, now)

    def _wire(
        self, p: QPainter, theme: Theme, a: QRectF, b: QRectF, words: str, ink: QColor, *, thick: int = 1, broken: bool = False
    ) -> None:
        y = a.center().y()
        gap = 0.5 * (b.left() - a.right())
        p.setPen(pen(theme.of(Status.OVER) if broken else ink, 1.6, (4.0, 4.0) if broken else ()))
        for k in range(thick):
            at = y + 5.0 * (k - 0.5 * (thick - 1))
            p.drawLine(QPointF(a.right(), at), QPointF(b.left(), at))
        p.setPen(theme.of(Status.OVER) if broken else theme.ink)
        text = elided(words, font(12), 2 * gap - 8)
        put_text(p, a.right() + gap - 0.5 * text_width(text, font(12)), y - 12, text, font(12))

    def _hand(self, p: QPainter, theme: Theme, box: QRectF, stand: Stand) -> None:
        p.setPen(theme.ink)
        both = stand.throttle.window.both_ways
        put_text(p, box.left() + 10, box.top() + 17, "Transmitter" if both else "Lever", font(13, 600))
        p.setPen(theme.soft)
        said = [] if stand.radio else ["radio off"]
        said += [f"{lead} pulled" for lead in sorted(stand.pulled)]
        if not stand.lanyard:
            said.append("lanyard out")
        put_text(p, box.left() + 10, box.top() + 34, elided(", ".join(said) or "drag the lever", font(12), box.width() - 56), font(12))
        if stand.brake > 0.0:
            put_text(p, box.left() + 10, box.top() + 50, f"brake {stand.brake:.0%}", font(12))
        slot = self.lever_box = QRectF(box.right() - 34, box.top() + 9, 20, box.height() - 18)
        p.setPen(pen(theme.ink, 1.2))
        p.setBrush(theme.paper)
        p.drawRoundedRect(slot, 4, 4)
        y = self._y_of(stand.lever, both)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(slot.left(), self._y_of(0.0, both)), QPointF(slot.right(), self._y_of(0.0, both)))
        p.setPen(pen(theme.mechanical, 2.0))
        p.setBrush(theme.panel)
        p.drawRoundedRect(QRectF(slot.left() - 4, y - 5, slot.width() + 8, 10), 4, 4)

    def _y_of(self, lever: float, both: bool) -> float:
        slot = self.lever_box
        share = 0.5 * (lever + 1.0) if both else max(lever, 0.0)
        return slot.bottom() - 6 - share * (slot.height() - 12)

    def _lever_at(self, y: float) -> float:
        slot = self.lever_box
        share = min(max((slot.bottom() - 6 - y) / max(slot.height() - 12, 1.0), 0.0), 1.0)
        both = self.stand is not None and self.stand.throttle.window.both_ways
        lever = 2.0 * share - 1.0 if both else share
        return 0.0 if abs(lever) < 0.04 else round(lever, 2)

    def _controller(self, p: QPainter, theme: Theme, box: QRectF, stand: Stand, now: dict[str, float]) -> None:
        p.setPen(theme.ink)
        put_text(p, box.left() + 10, box.top() + 17, "Controller", font(13, 600))
        state = "armed" if stand.armed else "not armed" if stand.connected else "not connected"
        p.setPen(theme.tight if stand.armed else theme.soft)
        put_right(p, box.right() - 10, box.top() + 17, state, font(12, 600))
        p.setPen(theme.ink)
        s = stand.settings
        limits = f"{s['motor_a']:g} A motor, {s['pack_a']:g} A pack"
        put_text(p, box.left() + 10, box.top() + 37, elided(limits, font(12), box.width() - 16), font(12))
        mode = "by duty" if s["duty_mode"] > 0.5 else "by amps"
        put_text(p, box.left() + 10, box.top() + 54, f"command {signed(now['command'])}, {mode}", font(12))
        put_text(
            p, box.left() + 10, box.top() + 71, f"duty {now['duty']:.0%}, {now['bus_v']:.1f} V, {self._warm(now['controller_c'])}", font(12)
        )

    def _motor(self, p: QPainter, theme: Theme, box: QRectF, stand: Stand, now: dict[str, float]) -> None:
        p.setPen(theme.ink)
        put_text(p, box.left() + 10, box.top() + 17, "Motor", font(13, 600))
        put_text(p, box.left() + 10, box.top() + 37, f"{now['told_rpm']:.0f} rpm told", font(12))
        put_text(p, box.left() + 10, box.top() + 54, self._warm(now["motor_c"]), font(12))
        put_text(p, box.left() + 10, box.top() + 71, f"sensors {now['hall']:.0f}", font(12))
        middle, r = QPointF(box.right() - 42, box.center().y()), 30.0
        p.setPen(pen(theme.ink, 1.4))
        p.setBrush(theme.paper)
        p.drawEllipse(middle, r, r)
        angle = stand.machine.angle / max(float(stand.machine.motor.pole_pairs), 1.0) if abs(now["rpm"]) > 900 else stand.machine.angle
        p.setPen(pen(theme.mechanical, 4.0))
        p.drawLine(middle, QPointF(middle.x() + (r - 5) * math.sin(angle), middle.y() - (r - 5) * math.cos(angle)))
        if abs(now["rpm"]) > 5.0:
            way = 1.0 if now["rpm"] > 0 else -1.0
            tip = QPointF(middle.x() + way * 9, middle.y() - r - 5)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.mechanical)
            p.drawPolygon(QPolygonF([tip, QPointF(tip.x() - way * 11, tip.y() - 4), QPointF(tip.x() - way * 11, tip.y() + 4)]))

    def _traces(self, p: QPainter, theme: Theme, area: QRectF, stand: Stand) -> None:
        rows = self.frozen or stand.rows[-round(SHOWN_S * ROWS_A_S) :]
        self._lanes = QRectF(area.left() + NAME_PX, area.top(), area.width() - NAME_PX - VALUE_PX, area.height())
        lanes = (
            ("command", "command", theme.mechanical, signed),
            ("motor amps", "motor_a", theme.electrical, lambda v: f"{plain_figure(v, 1)} A"),
            ("pack amps", "pack_a", theme.electrical, lambda v: f"{plain_figure(v, 1)} A"),
            ("rpm, told", "told_rpm", theme.mechanical, lambda v: plain_figure(v, 0)),
        )
        tall = area.height() / len(lanes)
        for k, (words, name, ink, shown) in enumerate(lanes):
            lane = QRectF(area.left() + NAME_PX, area.top() + k * tall + 3, area.width() - NAME_PX - VALUE_PX, tall - 6)
            p.fillRect(lane, theme.paper)
            p.setPen(theme.soft)
            put_text(p, area.left() + 12, lane.center().y() + 4, words, font(12))
            if len(rows) < 2:
                continue
            t = np.array([row["time"] for row in rows])
            v = np.array([row[name] for row in rows])
            low, high = min(float(v.min()), 0.0), max(float(v.max()), 0.0)
            room = max(high - low, {"command": 0.5, "rpm, told": 200.0}.get(words, 1.0))
            low, high = low - 0.08 * room, low + 1.08 * room if high - low < room else high + 0.08 * room
            x = lane.right() - (t[-1] - t) / SHOWN_S * lane.width()
            y = lane.bottom() - (v - low) / (high - low) * lane.height()
            zero = lane.bottom() - (0.0 - low) / (high - low) * lane.height()
            p.setPen(pen(theme.rule, 1.0))
            p.drawLine(QPointF(lane.left(), zero), QPointF(lane.right(), zero))
            p.setClipRect(lane)
            curve(p, np.column_stack([x, y]), pen(ink, 1.6), whole=True)
            p.setClipping(False)
            p.setPen(theme.ink)
            put_text(p, lane.right() + 8, lane.center().y() + 5, shown(float(v[self.at if self.frozen else -1])), font(13, 600))

        if self.frozen and len(rows) > 1:
            x = self._lanes.right() - (rows[-1]["time"] - rows[self.at]["time"]) / SHOWN_S * self._lanes.width()
            p.setPen(pen(theme.heat, 1.4))
            p.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))

    def _strip(self, p: QPainter, theme: Theme, rect: QRectF, now: dict[str, float]) -> None:
        parts = (
            f"pack {now['pack_v']:.2f} V",
            f"plug {self._warm(now['connector_c'])}",
            f"lowest group {now['group_low_v']:.3f} V",
            f"ripple {now['ripple_a']:.2f} A",
            f"electrical {now['erpm']:.0f} rpm",
            f"{now['time']:.1f} s{', scrubbed: Escape goes on' if self.frozen else ''}",
        )
        p.setPen(theme.ink)
        text = elided("     ".join(parts).replace("-", "−"), font(12), rect.width() - 24)
        put_text(p, rect.left() + 12, rect.bottom() - 8, text, font(12))

    # what a hand does

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.stand is not None and self.lever_box.adjusted(-12, -4, 12, 4).contains(event.position()):
            self._held = True
            self.let_go()
            self.pushed.emit(self._lever_at(event.position().y()))
        elif self._lanes.contains(event.position()):
            self.scrub(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self.pushed.emit(self._lever_at(event.position().y()))
        elif self.frozen and event.buttons() & Qt.MouseButton.LeftButton:
            self.scrub(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A lever springs back."""
        if self._held:
            self._held = False
            self.pushed.emit(0.0)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.stand is None:
            super().keyPressEvent(event)
            return
        both = self.stand.throttle.window.both_ways
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = STEP if event.key() == Qt.Key.Key_Up else -STEP
            self.pushed.emit(round(min(max(self.stand.lever + step, -1.0 if both else 0.0), 1.0), 2))
        elif event.key() == Qt.Key.Key_Escape and self.frozen:
            self.let_go()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_0):
            self.pushed.emit(0.0)
        else:
            super().keyPressEvent(event)
