"""Edges of found drives on one small map: thrust over speed on a nominal pack, goals as flags."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.axes import Axes, paint_grid, round_up, ticks
from wattagon.desk.chart.ink import curve, flag, pen, put_text
from wattagon.desk.chart.painted import painted
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font
from wattagon.exchange.units import shown, unit_of
from wattagon.study.finder.hits import Pull
from wattagon.study.finder.words import drive_words

DASHES: tuple[tuple[float, ...], ...] = ((), (6.0, 3.0), (2.0, 2.5), (9.0, 3.0, 2.0, 3.0))


def paint_pulls(
    painter: QPainter, rect: QRectF, theme: Theme, unit_set: str, pulls: Sequence[tuple[str, Pull]], *, small: bool = False
) -> None:
    """Edges with their names at the line; the goals are those of the first."""
    if not pulls:
        return
    plot = rect.adjusted(38 if small else 46, 8 if small else 20, -8, -20 if small else -34)
    speed = lambda v: np.asarray(shown(1.0, "speed", unit_set) * v)
    force = lambda f: np.asarray(shown(1.0, "force", unit_set) * f)
    used = lambda pull: pull.force_n > 0
    x_high = round_up(max(float(speed(pull.speed_m_s[used(pull)].max(initial=1.0))) for _, pull in pulls), 5)
    tops = [float(force(pull.force_n.max())) for _, pull in pulls] + [float(force(f)) for _, f, _ in pulls[0][1].goals]
    axes = Axes(plot, 0.0, x_high, 0.0, round_up(1.08 * max(tops), 5))
    x_label, y_label = unit_of("speed", unit_set).text, unit_of("force", unit_set).text
    painter.fillRect(plot, theme.panel)
    paint_grid(
        painter,
        axes,
        theme,
        x_ticks=ticks(0.0, axes.x_high, 4 if small else 6),
        y_ticks=ticks(0.0, axes.y_high, 3 if small else 5),
        x_label="" if small else x_label,
        y_label="" if small else y_label,
        size=10 if small else 12,
    )
    painter.setClipRect(plot.adjusted(-5, -5, 5, 5))
    for k, (name, pull) in enumerate(pulls):
        colour = theme.mechanical if name.startswith("now") else theme.electrical
        points = axes.pixels(speed(pull.speed_m_s), force(pull.force_n))
        curve(painter, points, pen(colour, 2.0, DASHES[k % len(DASHES)]))
        if not small:
            # names stand apart along the lines
            at = points[min(4 + 9 * k, len(points) - 1)]
            painter.setPen(colour)
            put_text(painter, at[0] + 4, at[1] - 6, name, font(12, 600))
    for v, f, met in pulls[0][1].goals:
        at, colour = QPointF(axes.x(float(speed(v))), axes.y(float(force(f)))), theme.clear if met else theme.over
        if small:
            painter.setPen(pen(colour, 1.6))
            painter.setBrush(theme.panel)
            painter.drawEllipse(at, 3.0, 3.0)
        else:
            flag(painter, at, colour, met=met, panel=theme.panel)
    painter.setClipping(False)


class PullsMap(QWidget):
    """The edges of the drives that are compared, with that of the present one."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setObjectName("finder-pulls")
        self.setMinimumWidth(240)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Pull over speed of the drives that are compared")
        for signal in (book.changed, session.looks_changed, session.design_changed):
            signal.connect(self.update)

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(drive_words(self._book.points[k].variant, self._session.stock) for k in self._book.marked)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.fillRect(event.rect(), theme.paper)
        book = self._book
        pulls = [(str(n + 1), book.pull(k)) for n, k in enumerate(book.marked)]
        paint_pulls(painter, QRectF(self.rect()), theme, self._session.unit_set, pulls)
        painter.setPen(theme.soft)
        painter.setFont(font(12))
        painter.drawText(
            QRectF(50, 0, self.width() - 58, 18),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            "pull over speed, pack at 50%",
        )
