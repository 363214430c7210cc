"""What a resistor across the motors pulls as speed grows: torque at each motor, and what of it reaches the ground."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from wattagon.desk.chart.axes import Axes, paint_grid, round_up, ticks
from wattagon.desk.chart.ink import Labels, curve, pen, put_right
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.exchange.units import unit_of
from wattagon.study.wiring.bus import ResistorBrake


class BrakeCurve(QWidget):
    """Shown where a brake resistor is told; the worst stop begins at the point."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.brake: ResistorBrake | None = None
        self.setObjectName("brake-curve")
        self.setAccessibleName("Torque of the resistor brake over speed")
        self.setMinimumSize(220, 130)

    def show_brake(self, brake: ResistorBrake | None) -> None:
        """Another one; None: hidden."""
        self.brake = brake
        self.setVisible(brake is not None)
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.brake is None:
            return ""
        one, say = self.brake, self._session.say
        rows = zip(one.speeds_m_s, one.torque_nm, one.force_n, strict=True)
        told = list(rows)[::8]
        return "; ".join(f"{say(v, 'speed')}: {say(t, 'torque')} a motor, {say(f, 'force')} at the ground" for v, t, f in told)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme, session, one = THEMES[self._session.theme_name], self._session, self.brake
        painter.fillRect(self.rect(), theme.panel)
        if one is None:
            return
        speed, torque = unit_of("speed", session.unit_set), unit_of("torque", session.unit_set)
        x, y = np.array(one.speeds_m_s) * speed.per_si, np.array(one.torque_nm) * torque.per_si
        plot = QRectF(self.rect()).adjusted(40, 22, -14, -34)
        axes = Axes(plot, 0.0, max(float(x[-1]), 1e-3), 0.0, round_up(max(float(y.max()), 1e-3) * 1.12, 4))
        x_ticks, y_ticks = ticks(0, axes.x_high, 5), ticks(0, axes.y_high, 4)
        paint_grid(painter, axes, theme, x_ticks=x_ticks, y_ticks=y_ticks, x_label=speed.text, size=11)
        painter.setPen(theme.soft)
        put_right(painter, plot.right(), plot.top() - 8, f"{torque.text} at each motor", font(11))
        line = axes.pixels(x, y)
        curve(painter, line, pen(theme.mechanical, 2.0), whole=True)
        painter.setPen(pen(theme.mechanical, 1.6))
        painter.setBrush(theme.panel)
        painter.drawEllipse(QPointF(*line[-1]), 4.0, 4.0)
        labels = Labels(painter, theme, plot.adjusted(1, 1, -1, -1))
        words = f"{session.say(one.force_n[-1], 'force')} at the ground"
        labels.on_line(line, words, theme.mechanical, font(12, 600), shares=(0.75, 0.6, 0.5, 0.4, 0.9))
