"""The tow test of a boat: its readings, the law fitted through them beside the estimate by measures, and how to take them."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QVBoxLayout, QWidget

from wattagon.design.tree import TowRow
from wattagon.desk.chart.axes import Axes, paint_grid, round_up, ticks
from wattagon.desk.chart.ink import Labels, curve, pen
from wattagon.desk.chart.painted import painted
from wattagon.desk.fields import ValueField
from wattagon.desk.following import Following
from wattagon.desk.rows_field import RowsField
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font, with_alpha
from wattagon.exchange.units import unit_of

COLUMNS = (("speed", "speed", "speed"), ("pull", "pull", "force"))
HOW = (
    "Full load and trim, drive lifted. Calm and deep; line 2 to 3 lengths, off to the side of the wake, from another boat or along a bank. "
    "Scale zeroed hanging; each speed 20 s, both ways where there is current. Lifejackets on; nobody stands in the bight."
)
SHORT = "Laden, drive lifted, calm and deep. Steady pulls of 20 s from another boat or a bank, scale near the bow. Lifejackets on."
POINTS = 60


class TowChart(QWidget):
    """Pull against speed: readings, fit, estimate by measures."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setObjectName("tow-chart")
        self.setMinimumHeight(84)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Tow test: pull against speed")
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        if self.isVisible():
            self.update()

    def words(self) -> str:
        """The law that was fitted, and how far the readings lie off it."""
        study = self._session.study
        found = study.resolved.resistance if study is not None else None
        if found is None:
            return ""
        if found.tow is None:
            return "two readings override the estimate"
        tow = found.tow
        through = "a curve through the readings" if tow.by_curve else f"speed to the power of {tow.exponent:.2f}"
        trusted = self._session.say(tow.trusted_m_s, "speed")
        return f"{through}, readings within {tow.worst:.0%} of the law; trusted up to {trusted}"

    def spoken(self) -> str:
        """Its values as text."""
        return self.words()

    @painted
    def paintEvent(self, event: QPaintEvent, p: QPainter) -> None:
        session, theme = self._session, THEMES[self._session.theme_name]
        p.fillRect(event.rect(), theme.paper)
        hull, study = session.design.vehicle.hull if session.docs else None, session.study
        found = study.resolved.resistance if study is not None else None
        if hull is None or found is None:
            return
        speed, force = unit_of("speed", session.unit_set), unit_of("force", session.unit_set)
        fastest = 1.25 * max([row.speed for row in hull.tow], default=2.2)
        speeds = np.linspace(0.0, fastest, POINTS)
        fitted = np.interp(speeds, found.speed_m_s, found.force_n)
        estimate = np.interp(speeds, found.speed_m_s, found.estimate_n)
        most = max(float(fitted.max()), *[row.pull for row in hull.tow], 1.0)
        plot = QRectF(self.rect()).adjusted(38, 8, -8, -36)
        axes = Axes(plot, 0.0, round_up(fastest * speed.per_si, 6), 0.0, round_up(most * force.per_si, 4))
        p.fillRect(plot, theme.panel)
        x_ticks, y_ticks = ticks(0, axes.x_high, 4), ticks(0, axes.y_high, 3)
        paint_grid(p, axes, theme, x_ticks=x_ticks, y_ticks=y_ticks, x_label=speed.text, y_label="", size=11)
        p.setClipRect(plot)
        at = lambda values: axes.pixels(speeds * speed.per_si, values * force.per_si)
        if found.tow is not None:
            curve(p, at(estimate), pen(with_alpha(theme.mechanical, 0.8), 1.2, (2.0, 3.0)), whole=True)
        line = at(fitted)
        curve(p, line, pen(theme.mechanical, 2.0), whole=True)
        p.setPen(pen(theme.ink, 1.6))
        for row in hull.tow:
            p.setBrush(Qt.BrushStyle.NoBrush if row.out else theme.panel)
            x, y = axes.pixels(np.array([row.speed * speed.per_si]), np.array([row.pull * force.per_si]))[0]
            if row.out:
                p.drawLine(QPointF(x - 4, y - 4), QPointF(x + 4, y + 4))
            p.drawEllipse(QPointF(x, y), 4.0, 4.0)
        labels = Labels(p, theme, plot.adjusted(1, 1, -1, -1))
        if found.tow is not None:
            labels.on_line(at(estimate), "by measures", theme.mechanical, font(11), shares=(0.5, 0.65, 0.35, 0.8), above=False)
            labels.on_line(line, "fit", theme.mechanical, font(11, 600), shares=(0.7, 0.85, 0.5))
        else:
            labels.on_line(line, "by measures", theme.mechanical, font(11, 600), shares=(0.6, 0.75, 0.45))


class TowPanel(Following, QWidget):
    """Readings above, what follows from them below."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("tow-panel")
        self.setMinimumWidth(270)
        how = QLabel(SHORT, wordWrap=True)
        how.setToolTip(HOW)
        how.setProperty("voice", "soft")
        how.setFont(font(12))
        self.rows = RowsField(session, "vehicle.hull.tow", TowRow, COLUMNS, "Tow test")
        self.note = ValueField(session, "vehicle.hull.tow_note", "Sea state and how it was towed", fallback="sea state, drive lifted")
        self.chart = TowChart(session)
        self.fit = QLabel(wordWrap=True, objectName="tow-fit")
        self.fit.setFont(font(12, 600))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(2, 4, 2, 0)
        layout.setSpacing(5)
        under = QHBoxLayout()
        under.setSpacing(4)
        under.addWidget(self.note, 1)
        under.addWidget(self.rows.bring)
        layout.addWidget(how)
        layout.addWidget(self.rows)
        layout.addLayout(under)
        layout.addWidget(self.fit)
        layout.addWidget(self.chart, 1)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        self.refresh()

    def refresh(self) -> None:
        words = self.chart.words()
        self.fit.setText(words[:1].upper() + words[1:])
        self.chart.update()
