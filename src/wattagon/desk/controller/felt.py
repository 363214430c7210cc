"""The throttle drawn: lever to command with two handles, and what the rider feels of it in time."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from wattagon.desk.chart.axes import Axes, paint_grid, round_up, ticks
from wattagon.desk.chart.ink import curve, elided, fill, pen, put_right, put_text, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.controller.feel import Feel, Trace, in_g
from wattagon.study.controller.throttle import KIND_WORDS, Mapped
from wattagon.study.findings.status import Status

HANDLES = (1.0 / 3.0, 2.0 / 3.0)
NAMES = (("start", "full lever"), ("release", "let go"), ("brake", "full brake"))


class Curve:
    """Lever to command, as it was drawn last."""

    def __init__(self) -> None:
        self.axes: Axes | None = None
        self.handles: list[QPointF] = []

    def draw(self, p: QPainter, theme: Theme, area: QRectF, found: Mapped) -> None:
        """Draw into an area."""
        w = found.window
        plot = area.adjusted(40, 20, -14, -32)
        low, high = w.fault_low - 0.04 * (w.high - w.low), w.fault_high + 0.04 * (w.high - w.low)
        if not w.both_ways:
            low = 0.0
        bottom = -1.0 if w.both_ways else 0.0
        axes = self.axes = Axes(plot, low, high, bottom, 1.0)
        p.fillRect(plot, theme.panel)
        marks = ticks(low, high, 5)
        paint_grid(p, axes, theme, x_ticks=marks, y_ticks=ticks(bottom, 1.0, 4), x_label=found.unit, size=11)
        fault = with_alpha(theme.of(Status.OVER), 0.13)
        for a, b in ((low, w.fault_low), (w.fault_high, high)):
            if b > a:
                p.fillRect(QRectF(axes.x(a), plot.top(), axes.x(b) - axes.x(a), plot.height()), fault)
        rest = w.centre
        half = found.shape.dead * (w.high - rest)
        back = found.shape.dead * (rest - w.low)
        p.fillRect(
            QRectF(axes.x(rest - back), plot.top(), axes.x(rest + half) - axes.x(rest - back), plot.height()), with_alpha(theme.soft, 0.18)
        )
        readings = np.linspace(low, high, 161)
        line = found.commands(readings)
        good = ~w.fault(readings)
        curve(p, axes.pixels(readings[good], line[good]), pen(theme.mechanical, 2.0), whole=True)
        self.handles = []
        for share in HANDLES:
            travel = found.shape.dead + share * (1.0 - found.shape.dead)
            at = axes.point(w.reading(travel), found.command(w.reading(travel)))
            self.handles.append(at)
            p.setPen(pen(theme.mechanical, 2.0))
            p.setBrush(theme.panel)
            p.drawEllipse(at, 5.5, 5.5)
        p.setPen(theme.soft)
        words = f"Lever to command: {KIND_WORDS[found.kind]}{'' if found.seen else ' ≈'}"
        put_text(p, area.left() + 8, area.top() + 13, elided(words, font(12, 600), area.width() - 12), font(12, 600))

    def grips(self, at: QPointF) -> int:
        """The handle under a point; -1 where there is none."""
        return next((k for k, knob in enumerate(self.handles) if (knob - at).manhattanLength() < 16.0), -1)

    def command_at(self, y: float) -> float:
        """Command at a height, 0 to 1."""
        return min(max(self.axes.value_y(y), 0.0), 1.0) if self.axes is not None else 0.0


class Felt:
    """Level in time of one gesture, with what is borne; the one before the last change stays as a ghost."""

    def __init__(self) -> None:
        self.names: list[tuple[QRectF, str]] = []

    def draw(
        self, p: QPainter, theme: Theme, area: QRectF, feel: Feel, code: str, session: Session, before: Trace | None, old: bool
    ) -> None:
        """Draw into an area; `old` where a newer one is on its way."""
        one = feel.trace(code)
        self.names = []
        x = area.left() + 8
        for name, words in NAMES:
            face = font(12, 600 if name == code else 400)
            wide = text_width(words, face)
            box = QRectF(x - 4, area.top(), wide + 8, 18)
            self.names.append((box, name))
            p.setPen(theme.ink if name == code else theme.electrical)
            put_text(p, x, area.top() + 13, words, face)
            if name == code:
                p.fillRect(QRectF(x, area.top() + 16, wide, 2), theme.ink)
            x += wide + 16
        values = one.judged if code != "start" else one.level
        plot = area.adjusted(40, 40, -14, -32)
        most = max(float(np.abs(values).max()), 0.6 * one.borne, 0.5)
        ends = feel.ends if code == "start" else ()
        near = [level for _, level in ends if level < 1.8 * most]
        most = max([most, *(1.05 * level for level in near[:1])])
        sign = 1.0 if code == "start" else -1.0
        axes = Axes(plot, 0.0, float(one.seconds[-1]), 0.0, round_up(1.1 * most, 4))
        p.fillRect(plot, theme.panel)
        paint_grid(p, axes, theme, x_ticks=ticks(0.0, axes.x_high, 5), y_ticks=ticks(0.0, axes.y_high, 3), x_label="s", size=11)
        p.setPen(theme.soft)
        put_text(p, plot.left() + 5, plot.top() + 11, "m/s²", font(11))
        self._jerk(p, theme, axes, one)
        marks = [(f"borne {one.borne:.1f}", one.borne, pen(theme.tight, 1.4, (5.0, 3.0)))]
        marks += [(words, level, pen(theme.soft, 1.2, (2.0, 3.0))) for words, level in ends]
        self._marks(p, axes, [mark for mark in marks if mark[1] < axes.y_high])
        if before is not None and before.code == code:
            old_values = before.judged if code != "start" else before.level
            curve(
                p, axes.pixels(before.seconds[::4], sign * old_values[::4]), pen(with_alpha(theme.soft, 0.8), 1.2, (3.0, 3.0)), whole=True
            )
        over = one.worst > one.borne or one.worst_jerk > one.borne_jerk
        ink = theme.of(Status.OVER) if over else theme.mechanical
        p.setClipRect(plot.adjusted(-1, -1, 1, 1))
        curve(p, axes.pixels(one.seconds[::4], sign * values[::4]), pen(with_alpha(ink, 0.5 if old else 1.0), 2.0), whole=True)
        p.setClipping(False)
        gentle = feel.gentle_release_s if code == "release" else feel.gentle_rise_s
        words = f"{one.worst:.1f} of {one.borne:.1f} m/s² ({in_g(one.worst):.2f} g), {one.worst_jerk:.1f} of {one.borne_jerk:.0f} m/s³"
        if code != "brake" and math.isfinite(gentle):
            words += f", gentle from {gentle:.2g} s"
        p.setPen(theme.of(Status.OVER) if over else theme.ink)
        put_text(p, area.left() + 8, area.top() + 33, elided(words, font(12), area.width() - 14), font(12))

    def _marks(self, p: QPainter, axes: Axes, marks: list[tuple[str, float, QPen]]) -> None:
        """Levels across the plot, their names over them on the right; names of near ones stand side by side."""
        line, right = math.inf, axes.rect.right() - 2
        for words, level, ink in sorted(marks, key=lambda mark: -mark[1]):
            y = axes.y(level)
            p.setPen(ink)
            p.drawLine(QPointF(axes.rect.left(), y), QPointF(axes.rect.right(), y))
            if math.isinf(line) or y - line > 13.0:
                line, right = y, axes.rect.right() - 2
            put_right(p, right, line - 3, words, font(11))
            right -= text_width(words, font(11)) + 10

    def _jerk(self, p: QPainter, theme: Theme, axes: Axes, one: Trace) -> None:
        """How quickly it comes, as a fill whose full height is what is borne."""
        plot = axes.rect
        share = np.minimum(np.abs(one.jerk[::4]) / max(one.borne_jerk, 1e-9), 1.0)
        x = axes.pixels(one.seconds[::4], np.zeros(len(share)))[:, 0]
        top = plot.bottom() - share * plot.height()
        shape = np.vstack([[plot.left(), plot.bottom()], np.column_stack([x, top]), [plot.right(), plot.bottom()]])
        over = one.worst_jerk > one.borne_jerk
        fill(p, shape, with_alpha(theme.of(Status.OVER) if over else theme.heat, 0.22))
        p.setPen(theme.soft)
        put_right(p, plot.right() - 4, plot.bottom() - 5, f"fill: jerk, {one.borne_jerk:.0f} m/s³ to the top", font(11))

    def name_at(self, at: QPointF) -> str:
        """The gesture whose name is under a point."""
        return next((name for box, name in self.names if box.contains(at)), "")


def no_rider(p: QPainter, theme: Theme, area: QRectF) -> None:
    """A boat throws nobody by its lever."""
    p.setPen(theme.soft)
    p.setFont(font(12))
    p.drawText(
        area.adjusted(12, 12, -12, -12),
        Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap,
        "What a rider feels is worked out for vehicles on wheels.",
    )
