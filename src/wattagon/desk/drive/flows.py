"""What flows against speed at the moment's grade: duty, motor amps, pack amps and pack power, needed and at most."""

from __future__ import annotations

import functools
import math

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.axes import Axes, paint_grid, round_step, round_up, ticks
from wattagon.desk.chart.ground import Ground
from wattagon.desk.chart.ink import Labels, curve, fill, pen, put_right, put_text, straight
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import shown, unit_of
from wattagon.record import record

LEFT, RIGHT, BOTTOM, TITLE, GAP = 44.0, 10.0, 30.0, 18.0, 8.0


@record(frozen=True, slots=True)
class Strip:
    """One small chart: needed and largest value at each speed, and the limit that was set, in SI."""

    title: str
    dimension: str
    needed: NDArray[np.float64]
    most: NDArray[np.float64]
    now: float
    limit: float  # inf where there is none


class Flows(QWidget):
    """Four strips over one speed axis; a press or drag sets the speed of the moment."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.axes: Axes | None = None
        self._ground = Ground()
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName("flows")
        self.setMinimumWidth(210)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setAccessibleName("Duty, amps and power against speed")
        for signal in (session.design_changed, session.moment_changed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        self.update()

    def strips(self) -> list[Strip]:
        """What is drawn, from the study."""
        session = self._session
        study, state, point, needed = session.study, session.state, session.point, session.needed
        if study is None or state is None or point is None or not needed:
            return []
        c = study.resolved.train.controller
        count = float(study.resolved.train.count)
        each = ", each" if count > 1 else ""
        return [
            Strip("Duty", "share", needed["duty"], state.duty, point.duty, float(c.duty_max)),
            Strip(
                f"Motor amps{each}", "current", needed["motor_a"], state.motor_current_a, point.motor_current_a, float(c.motor_current_a)
            ),
            Strip(
                "Pack amps, in all",
                "current",
                needed["pack_a"],
                state.pack_a,
                point.pack_a,
                min(count * float(c.battery_current_a), float(study.resolved.train.pack.burst_a)),
            ),
            Strip("Pack power", "power", needed["pack_w"], state.pack_w, point.bus_w, np.inf),
        ]

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{strip.title} {self._session.say(float(strip.now), strip.dimension)}" for strip in self.strips())

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, painter: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme, strips, session = THEMES[self._session.theme_name], self.strips(), self._session
        self.axes = None
        if not strips:
            return
        state = session.state
        assert state is not None
        per = unit_of("speed", session.unit_set).per_si
        # every third point is plenty at this size
        x_most, x_needed = state.edge.speed_m_s[::3] * per, session.needed["speed_m_s"][::3] * per
        x_high = round_up(float(x_needed[-1]), 8)
        height = (rect.height() - BOTTOM - 4) / len(strips)
        for k, strip in enumerate(strips):
            plot = QRectF(rect.left() + LEFT, rect.top() + 4 + k * height + TITLE, rect.width() - LEFT - RIGHT, height - TITLE - GAP)
            axes = Axes(plot, 0.0, x_high, 0.0, self._high(strip))
            last = k == len(strips) - 1
            around = QRectF(
                math.floor(rect.left()),
                math.floor(plot.top() - TITLE),
                math.ceil(rect.width()),
                math.ceil(height + (BOTTOM if last else 0)),
            )
            key = (strip.title, axes.key, last, theme.name, session.unit_set)
            self._ground.paint(painter, around, key, functools.partial(self._frame, theme=theme, axes=axes, strip=strip, last=last))
            self._strip(painter, theme, axes, strip, x_most, x_needed)
            self.axes = axes

    def _high(self, strip: Strip) -> float:
        """The upper end of a strip's scale, in shown units; needed values far beyond what the drive can are not worth the height."""
        if strip.dimension == "share":
            return 105.0
        high, needed = (float(np.fmax.reduce(values, initial=0.0)) for values in (strip.most, strip.needed))  # the largest, gaps left out
        high = max(min(needed, 1.35 * high), high, strip.limit if strip.limit < 2.2 * high else 0.0)
        return round_up(max(high * 1.04 * unit_of(strip.dimension, self._session.unit_set).per_si, 1e-6), 8)

    def _frame(self, painter: QPainter, *, theme: Theme, axes: Axes, strip: Strip, last: bool) -> None:
        """Grid, numbers and title: what stays while values move."""
        plot, step = axes.rect, round_step(axes.y_high, 2)
        painter.fillRect(plot, theme.panel)
        paint_grid(
            painter,
            axes,
            theme,
            x_ticks=ticks(0, axes.x_high, 4),
            y_ticks=[k * step for k in range(int(axes.y_high / step + 1e-9) + 1)],
            x_label=unit_of("speed", self._session.unit_set).text if last else "",
            size=11,
            x_numbers=last,
        )
        painter.setPen(theme.ink)
        put_text(painter, plot.left() - LEFT + 6, plot.top() - 5, strip.title, font(12, 600))

    def _strip(
        self, painter: QPainter, theme: Theme, axes: Axes, strip: Strip, x_most: NDArray[np.float64], x_needed: NDArray[np.float64]
    ) -> None:
        session, plot = self._session, axes.rect
        per = unit_of(strip.dimension, session.unit_set).per_si
        painter.setPen(theme.electrical)
        put_right(painter, plot.right(), plot.top() - 5, session.say(strip.now, strip.dimension), font(12))
        painter.setClipRect(plot)
        if strip.limit * per <= axes.y_high:
            y = axes.y(strip.limit * per)
            straight(painter, plot.left(), y, plot.right(), y, pen(theme.tight, 1.0, (5.0, 3.0)))
        most, needed = axes.pixels(x_most, strip.most[::3] * per), axes.pixels(x_needed, strip.needed[::3] * per)
        floor = np.array([[most[-1, 0], plot.bottom()], [most[0, 0], plot.bottom()]])
        fill(painter, np.vstack([most, floor]), with_alpha(theme.electrical, 0.10))
        curve(painter, most, pen(theme.ink, 1.0))
        curve(painter, needed, pen(theme.electrical, 2.0))
        x = axes.x(session.moment.speed_m_s * unit_of("speed", session.unit_set).per_si)
        straight(painter, x, plot.top(), x, plot.bottom(), pen(theme.ink, 1.0, (3.0, 3.0)))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.ink)
        painter.drawEllipse(QPointF(x, axes.y(strip.now * per)), 4.0, 4.0)
        if strip.title == "Duty":  # one strip explains the lines of all
            labels = Labels(painter, theme, plot.adjusted(1, -1, -1, 1))
            for points, words, colour, shares in (
                (needed, "to hold the speed", theme.electrical, (0.45, 0.3, 0.6, 0.2)),
                (most, "at most", theme.ink, (0.3, 0.2, 0.5, 0.7)),
            ):
                kept = points[(points[:, 1] > plot.top()) & (points[:, 1] < plot.bottom())]
                if len(kept) > 1:
                    labels.on_line(kept, words, colour, font(11), shares=shares)
        painter.setClipping(False)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._go(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._go(event)

    def _go(self, event: QMouseEvent) -> None:
        if self.axes is not None:
            shown_speed = self.axes.value_x(event.position().x())
            unit = unit_of("speed", self._session.unit_set)
            self._session.set_moment(speed_m_s=max(0.0, (shown_speed - shown(0.0, "speed", self._session.unit_set)) / unit.per_si))
