"""Four ampere axes with every bound as a mark, whose it is, and the setting between them with a handle."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPolygonF

from wattagon.desk.chart.ink import elided, pen, put_text, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.controller.bounds import Bound
from wattagon.study.controller.study import ControllerStudy
from wattagon.study.findings.status import Status

AXES = (
    ("motor", "motor_a", "Motor amps", "motor_current_a"),
    ("motor_brake", "motor_brake_a", "Braking motor amps", "regen_motor_current_a"),
    ("pack", "pack_a", "Pack amps", "pack_current_a"),
    ("pack_in", "pack_in_a", "Braking pack amps", "regen_pack_current_a"),
)
LINE_PX, GRIP_PX = 13.0, 10.0
LEFT_PX, RIGHT_PX, FOOT_PX = 14.0, 16.0, 20.0
TICKS = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0, 2000.0)


def handy_step(amps: float) -> float:
    """A step of a setting."""
    return 0.5 if amps < 10.0 else 1.0 if amps < 100.0 else 5.0


def first_bound(found: ControllerStudy, axis: str) -> Bound | None:
    """The lowest that must not be passed."""
    return next((one for one in found.on(axis) if one.kind == "most"), None)


class Limits:
    """Its scale and handles, as they were drawn last."""

    def __init__(self) -> None:
        self.area = QRectF()
        self.low, self.high = 5.0, 200.0
        self.rows: dict[str, QRectF] = {}
        self.handles: dict[str, QPointF] = {}
        self.marks: list[tuple[QRectF, Bound]] = []

    def x_of(self, amps: float) -> float:
        """Where some amps are, on a logarithmic scale."""
        share = math.log(max(amps, self.low) / self.low) / math.log(self.high / self.low)
        return self.area.left() + min(max(share, 0.0), 1.0) * self.area.width()

    def amps_at(self, x: float) -> float:
        """And back."""
        share = (x - self.area.left()) / max(self.area.width(), 1.0)
        return self.low * math.exp(min(max(share, 0.0), 1.0) * math.log(self.high / self.low))

    def draw(self, p: QPainter, theme: Theme, area: QRectF, found: ControllerStudy, session: Session, chosen: str) -> None:
        """Draw into an area; values of settings are the design's at this moment."""
        choice = session.design.variant().controller
        self.area = area.adjusted(LEFT_PX, 8, -RIGHT_PX, -FOOT_PX)
        known = [one.amps for one in found.bounds] + [getattr(choice, name) or 0.0 for *_, name in AXES]
        known = [amps for amps in known if amps > 0.0]
        self.low = max(min([*known, 20.0]) / 1.3, 1.0)
        self.high = max([*known, 40.0]) * 1.25
        self.rows, self.handles, self.marks = {}, {}, []
        tall = self.area.height() / len(AXES)
        self._grid(p, theme)
        each = session.design.variant().motor.count
        for k, (axis, _key, words, name) in enumerate(AXES):
            row = QRectF(area.left(), self.area.top() + k * tall, area.width(), tall)
            self.rows[axis] = row
            words = f"{words}, each of {each}" if each > 1 else words
            if ("brake" in axis or axis == "pack_in") and float(found.drive.resolved.train.reduction.one_way) > 0:
                self._nothing(p, theme, row, f"{words}: a freewheel lets nothing through", chosen == axis)
                continue
            if getattr(choice, name) is None:
                words = f"{words}: not stated"
            self._row(p, theme, row, found, axis, words, getattr(choice, name), session, chosen == axis)

    def _grid(self, p: QPainter, theme: Theme) -> None:
        p.setPen(pen(with_alpha(theme.rule, 0.7), 1.0))
        shown = [tick for tick in TICKS if self.low <= tick <= self.high]
        for tick in shown:
            x = self.x_of(tick)
            p.drawLine(QPointF(x, self.area.top()), QPointF(x, self.area.bottom()))
        p.setPen(theme.soft)
        for tick in shown:
            text = f"{tick:g} A"
            put_text(p, self.x_of(tick) - 0.5 * text_width(text, font(12)), self.area.bottom() + 15, text, font(12))

    def _row(
        self,
        p: QPainter,
        theme: Theme,
        row: QRectF,
        found: ControllerStudy,
        axis: str,
        words: str,
        value: float | None,
        session: Session,
        chosen: bool,
    ) -> None:
        y = row.top() + 0.62 * row.height()
        bounds = found.on(axis)
        most = first_bound(found, axis)
        least = max((one.amps for one in bounds if one.kind == "least"), default=0.0)
        lasting = min((one.amps for one in bounds if one.kind == "lasting"), default=math.inf)
        if chosen:
            p.fillRect(row.adjusted(2, 1, -2, -1), with_alpha(theme.electrical, 0.07))
        left, right = self.x_of(max(least, self.low)), self.x_of(most.amps if most is not None else self.high)
        ink = theme.electrical if axis.startswith("pack") else theme.mechanical
        if right > left:
            p.fillRect(QRectF(left, y - 5, right - left, 10), with_alpha(ink, 0.22))
            hold = min(self.x_of(lasting), right) if math.isfinite(lasting) else right
            if hold > left:
                p.fillRect(QRectF(left, y - 5, hold - left, 10), with_alpha(ink, 0.42))
        p.setPen(pen(theme.rule, 1.2))
        p.drawLine(QPointF(self.area.left(), y), QPointF(self.area.right(), y))
        p.setPen(theme.ink)
        put_text(p, row.left() + 8, row.top() + 13, words, font(12, 600))
        self._labels(p, theme, row, y, bounds, session, row.left() + 14 + text_width(words, font(12, 600)))
        self._handle(p, theme, y, axis, value, most, session, ink)

    def _nothing(self, p: QPainter, theme: Theme, row: QRectF, words: str, chosen: bool) -> None:
        """An axis on which nothing can be set."""
        if chosen:
            p.fillRect(row.adjusted(2, 1, -2, -1), with_alpha(theme.electrical, 0.07))
        p.setPen(theme.soft)
        put_text(p, row.left() + 8, row.top() + 13, words, font(12))

    def _labels(self, p: QPainter, theme: Theme, row: QRectF, y: float, bounds: tuple[Bound, ...], session: Session, begin: float) -> None:
        """Marks with whose they are: what must not be passed above the line, what is for long or asked for below it."""
        taken: list[QRectF] = [QRectF(row.left(), row.top(), begin - row.left(), 15)]
        order = {"most": 0, "lasting": 1, "least": 2}
        for one in sorted(bounds, key=lambda b: (order[b.kind], b.amps)):
            x, above = self.x_of(one.amps), one.kind == "most"
            p.setPen(pen(theme.ink if above else theme.soft, 1.6 if above else 1.0, () if above else (2.0, 2.0)))
            if one.kind == "least":
                p.setBrush(theme.soft)
                p.setPen(Qt.PenStyle.NoPen)
                p.drawPolygon(QPolygonF([QPointF(x, y + 1), QPointF(x - 4, y + 8), QPointF(x + 4, y + 8)]))
            else:
                p.drawLine(QPointF(x, y - (10 if above else 0)), QPointF(x, y + (0 if above else 10)))
            self.marks.append((QRectF(x - 5, y - 12, 10, 24), one))
            text = elided(f"{one.whose} {session.say(one.amps, 'current')}", font(11), 190.0)
            wide = text_width(text, font(11))
            place = self._place(x, y, wide, above, row, taken)
            if place is None:
                continue  # no room: its mark tells when it is pointed at
            taken.append(place)
            p.setPen(theme.ink if above else theme.soft)
            put_text(p, place.left(), place.bottom() - 3, text, font(11))
            self.marks.append((place, one))

    def _place(self, x: float, y: float, wide: float, above: bool, row: QRectF, taken: list[QRectF]) -> QRectF | None:
        """A free place for a label near its mark, within the row."""
        for level in range(4):
            top = y - 11 - LINE_PX * (level + 1) if above else y + 9 + LINE_PX * level
            if top < row.top() - 1 or top + LINE_PX > row.bottom() + 2:
                return None
            for left in (x - 4, x - 0.5 * wide, x - wide + 4):
                box = QRectF(min(max(left, row.left() + 6), row.right() - wide - 4), top, wide, LINE_PX)
                if not any(box.adjusted(-5, 1, 5, -1).intersects(other) for other in taken):
                    return box
        return None

    def _handle(
        self, p: QPainter, theme: Theme, y: float, axis: str, value: float | None, most: Bound | None, session: Session, ink: QColor
    ) -> None:
        if value is None:
            self.handles[axis] = QPointF(self.x_of(self.low), y)
            return
        over = most is not None and value > 1.005 * most.amps
        x = self.x_of(value)
        self.handles[axis] = QPointF(x, y)
        p.setPen(pen(theme.of(Status.OVER) if over else ink, 2.0))
        p.setBrush(theme.panel)
        p.drawLine(QPointF(x, y - 13), QPointF(x, y + 13))
        p.drawEllipse(QPointF(x, y), 6.5, 6.5)
        text = session.say(value, "current")
        face = font(13, 600)
        wide = text_width(text, face) + 8
        # on its left, where the first bound is not hidden
        box = QRectF(x - 10 - wide if x - 10 - wide > self.area.left() - 8 else x + 10, y - 9, wide, 18)
        p.fillRect(box, with_alpha(theme.panel, 0.88))
        p.setPen(theme.of(Status.OVER) if over else theme.ink)
        put_text(p, box.left() + 4, y + 5, text, face)

    def axis_at(self, at: QPointF) -> str:
        """The row under a point."""
        return next((axis for axis, row in self.rows.items() if row.contains(at)), "")

    def mark_at(self, at: QPointF) -> Bound | None:
        """The bound under a point."""
        return next((one for box, one in reversed(self.marks) if box.contains(at)), None)

    def grips(self, at: QPointF) -> str:
        """The handle under a point."""
        near = [(abs(at.x() - knob.x()), axis) for axis, knob in self.handles.items() if abs(at.y() - knob.y()) < 16.0]
        return min(near)[1] if near and min(near)[0] <= GRIP_PX + 4.0 else ""
