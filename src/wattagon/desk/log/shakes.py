"""What shakes: the spectrum over speed, with the orders of this train as lines; what follows a line is that part."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QImage, QPainter

from wattagon.desk.chart.axes import Axes, paint_grid, ticks
from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import Labels, elided, pen, put_text, straight, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font
from wattagon.exchange.units import shown, unit_of
from wattagon.study.log.spectrum import STANDS_OUT, Shaking

LIST = 250.0
FASTEST = 40  # stretches of speed


class ShakePicture(FoundPicture):
    """Paints a log of accelerations."""

    found: Shaking | None = None

    def __init__(self, session: Session) -> None:
        super().__init__(session, "log-shakes", "What shakes over speed", 200)

    def show_shaking(self, found: Shaking | None, problem: str) -> None:
        """Another log."""
        self.found, self.problem = found, problem
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        return "; ".join(f"{one.words} {one.prominence:.1f} times its surroundings" for one in self.found.shakes)

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: Any) -> None:
        plot = rect.adjusted(52, 26, -LIST - 14, -34)
        moving = found.speeds > 0.3
        if not moving.any():
            return
        unit_set = self.session.unit_set
        high_v = float(found.speeds.max()) * 1.03
        top = float(found.hertz[-1])
        for one in found.shakes:
            top = min(top, max(float(found.hertz[-1]) * 0.25, 0.0)) if one.hertz < 0.2 * found.hertz[-1] else float(found.hertz[-1])
            if top == found.hertz[-1]:
                break
        axes = Axes(plot, 0.0, shown(high_v, "speed", unit_set), 0.0, top)
        p.drawImage(plot, self._image(theme, found, high_v, top))
        paint_grid(p, axes, theme, x_ticks=ticks(0.0, axes.x_high, 8), y_ticks=ticks(0.0, top, 5), size=11)
        p.setPen(theme.ink)
        put_text(p, plot.left(), plot.top() - 8, "Shaking over speed", font(12, 600))
        p.setPen(theme.soft)
        put_text(p, plot.left() + 8 + text_width("Shaking over speed", font(12, 600)), plot.top() - 8, "Hz, darker is stronger", font(12))
        put_text(p, plot.right() - 30, plot.bottom() + 28, unit_of("speed", unit_set).text, font(11))
        labels = Labels(p, theme, plot)
        for one in found.shakes:
            per = one.hertz / max(one.at_m_s, 1e-6)
            end = min(high_v, top / max(per, 1e-9))
            clear = one.prominence >= STANDS_OUT
            colour = theme.over if clear else theme.soft
            a, b = QPointF(axes.x(0.0), axes.y(0.0)), QPointF(axes.x(shown(end, "speed", unit_set)), axes.y(per * end))
            straight(p, a.x(), a.y(), b.x(), b.y(), pen(colour, 1.6 if clear else 0.8, () if clear else (4.0, 3.0)))
            line = np.array([[a.x(), a.y()], [b.x(), b.y()]])
            labels.on_line(line, one.words, colour, font(11, 600 if clear else 400), shares=(0.85, 0.7, 0.55, 0.4))
        self._list(p, theme, QRectF(rect.right() - LIST, rect.top() + 18, LIST - 8, rect.height() - 26), found)

    def _image(self, theme: Theme, found: Any, high_v: float, top: float) -> QImage:
        """Mean power by speed and frequency, as a picture of as many dots."""
        rows = int(np.searchsorted(found.hertz, top))
        at = np.minimum((found.speeds / high_v * FASTEST).astype(int), FASTEST - 1)
        mean = np.zeros((FASTEST, max(rows, 2)))
        for k in range(FASTEST):
            some = at == k
            if some.any():
                mean[k] = found.power[some, : mean.shape[1]].mean(axis=0)
        full = mean > 0.0
        level = np.zeros_like(mean)
        if full.any():
            logs = np.log10(mean[full])
            low, high = np.quantile(logs, (0.3, 0.999))
            level[full] = np.clip((logs - low) / max(high - low, 1e-6), 0.0, 1.0) ** 1.5
        ground, ink = theme.panel, theme.heat
        mix = lambda a, b: (a + (b - a) * level).astype(np.uint32)
        packed = (
            (0xFF << 24) | (mix(ground.red(), ink.red()) << 16) | (mix(ground.green(), ink.green()) << 8) | mix(ground.blue(), ink.blue())
        )
        picture = np.ascontiguousarray(packed.T[::-1].astype(np.uint32))
        return QImage(picture.tobytes(), picture.shape[1], picture.shape[0], picture.shape[1] * 4, QImage.Format.Format_RGB32).copy()

    def _list(self, p: QPainter, theme: Theme, area: QRectF, found: Any) -> None:
        say = self.session.say
        y = area.top()
        p.setPen(theme.ink)
        if math.isfinite(found.along_measured):
            put_text(p, area.left(), y, "Strongest push", font(12, 600))
            words = f"{say(found.along_measured, 'acceleration')}, full command gives {say(found.along_predicted, 'acceleration')}"
            put_text(p, area.left(), y + 16, elided(words, font(12), area.width()), font(12))
            y += 42
        put_text(p, area.left(), y, "Over its surroundings", font(12, 600))
        most = max((one.prominence for one in found.shakes), default=1.0)
        for one in found.shakes[: int((area.bottom() - y) // 32)]:
            y += 16
            colour: QColor = theme.over if one.prominence >= STANDS_OUT else theme.soft
            p.setPen(colour)
            put_text(p, area.left(), y, elided(f"{one.words}, {one.prominence:.1f} times", font(12), area.width()), font(12))
            y += 7
            straight(p, area.left(), y, area.left() + one.prominence / most * area.width(), y, pen(colour, 4.0))
            y += 5
