"""Load against time: what a piece bears, on logarithmic seconds and amps, with the loads of the rides as points under it."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from wattagon.desk.chart.ink import curve, fill, pen, put_right, put_text, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.record import record
from wattagon.study.findings.status import Status

SECONDS = (1.0, 3.0, 10.0, 30.0, 60.0, 120.0, 300.0)
LASTING_S = 1200.0  # where "for long" stands on the axis


@record(frozen=True, slots=True, kw_only=True)
class Load:
    """What is drawn: (seconds, load, what it bears), both for long, and further lines by name."""

    points: tuple[tuple[float, float, float], ...]
    lasting_a: float
    rating_a: float
    status: Status
    now_a: float | None = None
    lines: tuple[tuple[str, tuple[tuple[float, float], ...]], ...] = ()


def _ends(load: Load) -> tuple[float, float]:
    values = [v for _, a, b in load.points for v in (a, b) if v > 0.0 and math.isfinite(v)]
    values += [v for v in (load.lasting_a, load.rating_a) if v > 0.0 and math.isfinite(v)]
    values += [a for _, line in load.lines for _, a in line if a > 0.0 and math.isfinite(a)]
    low, high = min(values, default=1.0), max(values, default=10.0)
    return low / 1.6, max(high * 1.4, low * 4.0)


def _status(load: float, bears: float) -> Status:
    if not bears > 0.0:
        return Status.OVER if bears == 0.0 and load > 0.0 else Status.NOT_CHECKED
    return Status.CLEAR if load <= 0.8 * bears else Status.TIGHT if load <= bears else Status.OVER


def paint_load(p: QPainter, theme: Theme, rect: QRectF, load: Load, *, small: bool, amps: Callable[[float], str] = str) -> None:
    """Draw it into a rectangle; small ones have no words."""
    p.fillRect(rect, theme.panel)
    plot = rect.adjusted(3, 3, -3, -3) if small else rect.adjusted(44, 10, -70, -24)
    low, high = _ends(load)
    x_of = lambda s: plot.left() + plot.width() * math.log(min(max(s, 1.0), LASTING_S)) / math.log(LASTING_S)
    y_of = lambda a: plot.bottom() - plot.height() * math.log(max(a, low) / low) / math.log(high / low)
    if not small:
        _grid(p, theme, plot, low, high, x_of, y_of, amps)
    known = [(s, b) for s, _, b in load.points if b > 0.0 and math.isfinite(b)]
    if load.rating_a > 0.0 and math.isfinite(load.rating_a):
        known.append((LASTING_S, load.rating_a))
    if len(known) > 1:
        line = np.array([(x_of(s), y_of(b)) for s, b in known])
        fill(p, np.vstack([line, [plot.right(), plot.bottom()], [plot.left(), plot.bottom()]]), with_alpha(theme.soft, 0.10))
        curve(p, line, pen(theme.ink, 1.2 if small else 1.8), whole=True)
    for name, steps in load.lines:
        shape = np.array([(x_of(s), y_of(a)) for s, a in steps])
        curve(p, shape, pen(theme.tight, 1.2, (5.0, 3.0)), whole=True)
        if not small and len(steps):
            p.setPen(theme.tight)
            put_text(p, shape[-1][0] - text_width(name, font(11)) - 4, shape[-1][1] - 4, name, font(11))
    size = 1.8 if small else 4.0
    for seconds, amount, bears in (*load.points, (LASTING_S, load.lasting_a, load.rating_a)):
        if amount <= 0.0:
            continue
        status = _status(amount, bears)
        at = QPointF(x_of(seconds), y_of(amount))
        p.setPen(pen(theme.of(status), 1.4))
        p.setBrush(theme.of(status) if status is Status.OVER else theme.panel)
        if status is Status.OVER:
            p.drawRect(QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size))
        else:
            p.drawEllipse(at, size, size)
    if load.now_a is not None and load.now_a > low:
        y = y_of(load.now_a)
        p.setPen(pen(theme.heat, 1.2, (3.0, 2.0)))
        p.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
        if not small:
            p.setPen(theme.heat)
            put_text(p, plot.right() + 4, y + 4, "now", font(12))
    if small:
        p.setPen(pen(theme.of(load.status) if load.status in (Status.OVER, Status.TIGHT) else theme.rule, 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(rect)


def _grid(p: QPainter, theme: Theme, plot: QRectF, low: float, high: float, x_of, y_of, amps) -> None:  # type: ignore[no-untyped-def]
    face = font(12)
    for seconds in (*SECONDS, LASTING_S):
        x = x_of(seconds)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
        words = "for long" if seconds == LASTING_S else f"{seconds:g} s" if seconds < 60.0 else f"{seconds / 60.0:g} min"
        p.setPen(theme.soft)
        if seconds not in (3.0, 30.0, 120.0):
            put_text(p, x - 0.5 * text_width(words, face), plot.bottom() + 16, words, face)
    decade = 10.0 ** math.floor(math.log10(low))
    while decade < high:
        for step in (1.0, 2.0, 5.0):
            tick = decade * step
            if low <= tick <= high:
                p.setPen(pen(theme.rule, 1.0))
                p.drawLine(QPointF(plot.left(), y_of(tick)), QPointF(plot.right(), y_of(tick)))
                p.setPen(theme.soft)
                put_right(p, plot.left() - 4, y_of(tick) + 4, amps(tick), face)
        decade *= 10.0


class LoadCurve(QWidget):
    """The large one."""

    def __init__(self, session: Session, name: str) -> None:
        super().__init__()
        self._session = session
        self.load: Load | None = None
        self.setObjectName(name)
        self.setAccessibleName("Load against time")
        self.setMinimumSize(240, 110)

    def sizeHint(self) -> QSize:
        return QSize(380, 170)

    def show_load(self, load: Load | None) -> None:
        """Another one; None: nothing."""
        self.load = load
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.load is None:
            return ""
        say = self._session.say
        told = [f"{say(s, 'time')}: {say(a, 'current')} of {say(b, 'current')}" for s, a, b in self.load.points if math.isfinite(b)]
        return "; ".join([*told, f"for long {say(self.load.lasting_a, 'current')}"])

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        if self.load is None:
            painter.fillRect(self.rect(), theme.panel)
            return
        paint_load(painter, theme, QRectF(self.rect()), self.load, small=False, amps=lambda a: self._session.say(a, "current"))
