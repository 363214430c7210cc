"""A plot's frame: from values to pixels, ticks in round numbers, grid and tick labels."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QLineF, QPointF, QRectF
from PySide6.QtGui import QPainter

from wattagon.desk.chart.ink import pen, put_right, put_text, text_width
from wattagon.desk.theme import Theme, font
from wattagon.record import record


def round_step(span: float, most: int) -> float:
    """A step of 1, 2, 2.5 or 5 times a power of ten that gives at most `most` steps."""
    if not span > 0:
        return 1.0
    raw = span / max(most, 1)
    power = 10.0 ** math.floor(math.log10(raw))
    return next(m * power for m in (1.0, 2.0, 2.5, 5.0, 10.0) if m * power >= raw * (1 - 1e-9))


def round_up(high: float, most: int) -> float:
    """An end of an axis at or above a value, on half a round step: it stays put while values move a little."""
    step = round_step(high, most) / 2.0
    return math.ceil(high / step - 1e-9) * step


def ticks(low: float, high: float, most: int) -> list[float]:
    """Round values from low to high."""
    step = round_step(high - low, most)
    first = math.ceil(low / step - 1e-9)
    return [k * step for k in range(first, math.floor(high / step + 1e-9) + 1)]


def tick_text(value: float, step: float) -> str:
    """A tick's number with no more places than its step needs."""
    places = max(0, -math.floor(math.log10(step) + 1e-9)) if step > 0 else 0
    if abs(step - round(step, places)) > 1e-9 * step:
        places += 1
    return f"{value:.{places}f}".replace("-", "−")


@record(frozen=True, slots=True)
class Axes:
    """The plot rectangle and the values at its edges."""

    rect: QRectF
    x_low: float
    x_high: float
    y_low: float
    y_high: float

    @property
    def key(self) -> tuple[object, ...]:
        """What tells these axes from others."""
        return (self.rect.getRect(), self.x_low, self.x_high, self.y_low, self.y_high)

    def x(self, value: float) -> float:
        return self.rect.left() + (value - self.x_low) / (self.x_high - self.x_low) * self.rect.width()

    def y(self, value: float) -> float:
        return self.rect.bottom() - (value - self.y_low) / (self.y_high - self.y_low) * self.rect.height()

    def point(self, x: float, y: float) -> QPointF:
        return QPointF(self.x(x), self.y(y))

    def value_x(self, pixel: float) -> float:
        return self.x_low + (pixel - self.rect.left()) / self.rect.width() * (self.x_high - self.x_low)

    def value_y(self, pixel: float) -> float:
        return self.y_low + (self.rect.bottom() - pixel) / self.rect.height() * (self.y_high - self.y_low)

    def pixels(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
        """Points (n, 2) in pixels, held near the plot so that far values cost nothing to clip."""
        out = np.empty((len(x), 2))
        r = self.rect
        out[:, 0] = r.left() + (np.asarray(x) - self.x_low) * (r.width() / (self.x_high - self.x_low))
        out[:, 1] = r.bottom() - (np.asarray(y) - self.y_low) * (r.height() / (self.y_high - self.y_low))
        np.clip(out[:, 1], r.top() - 4000.0, r.bottom() + 4000.0, out=out[:, 1])
        return out


def paint_grid(
    painter: QPainter,
    axes: Axes,
    theme: Theme,
    *,
    x_ticks: list[float],
    y_ticks: list[float],
    x_label: str = "",
    y_label: str = "",
    size: int = 11,
    x_numbers: bool = True,
) -> None:
    """Hairline grid with numbers left and below, axis units at the ends."""
    r = axes.rect
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setPen(pen(theme.rule, 1.0))
    painter.drawLines(
        [QLineF(x, r.top(), x, r.bottom()) for x in (round(axes.x(value)) for value in x_ticks)]
        + [QLineF(r.left(), y, r.right(), y) for y in (round(axes.y(value)) for value in y_ticks)]
    )
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
    face = font(size)
    painter.setPen(theme.soft)
    x_step = x_ticks[1] - x_ticks[0] if len(x_ticks) > 1 else 1.0
    y_step = y_ticks[1] - y_ticks[0] if len(y_ticks) > 1 else 1.0
    if x_numbers:
        for value in x_ticks:
            text = tick_text(value, x_step)
            put_text(painter, axes.x(value) - text_width(text, face) / 2, r.bottom() + 15, text, face)
    for value in y_ticks:
        put_right(painter, r.left() - 6, axes.y(value) + 4, tick_text(value, y_step), face)
    if x_label:
        put_right(painter, r.right(), r.bottom() + 28, x_label, face)
    if y_label:
        put_right(painter, r.left() - 6, r.top() - 8, y_label, face)
