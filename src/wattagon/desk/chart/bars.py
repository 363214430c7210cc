"""Small bars, one a goal in the goals' order: what a change does to each.  Levers and cures draw them alike."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from wattagon.desk.theme import Theme, with_alpha
from wattagon.record import record

FULL = 0.25  # of a goal's target: the change of margin that fills a bar
HARDLY = 0.08
STEP, LEAST = 6.0, 3.2  # px from bar to bar, as wished and at least


@record(frozen=True, slots=True)
class Bar:
    """The effect on one goal: better (above 0) or worse, as a share of full height, and whether it flips."""

    share: float
    flips: bool
    met: bool

    @property
    def seen(self) -> bool:
        """Whether there is anything to be drawn at the height of a line."""
        return self.flips or abs(self.share) >= HARDLY


def bar_of(before: float, after: float) -> Bar:
    """From the margins of a goal before and after a change."""
    return Bar(max(-1.0, min(1.0, (after - before) / FULL)), (before >= 0.0) != (after >= 0.0), after >= 0.0)


def paint_bars(painter: QPainter, theme: Theme, area: QRectF, bars: Sequence[Bar], *, stale: bool = False) -> None:
    """Up is better, down is worse; a goal that flips is a bar of full height in the colour of its new verdict."""
    n = len(bars)
    if not n or area.width() < LEAST * n:
        return
    step, middle = min(STEP, area.width() / n), area.center().y()
    painter.fillRect(QRectF(area.left(), middle - 0.5, step * n, 1.0), theme.rule)
    for k, bar in enumerate(bars):
        tall = bar.share * area.height() / 2
        colour = theme.soft
        if bar.flips:
            colour = theme.clear if bar.met else theme.over
            tall = (1.0 if bar.met else -1.0) * area.height() / 2
        if abs(tall) < 0.6:
            continue
        x, w = area.left() + k * step, max(step - 1.6, 1.6)
        painter.fillRect(QRectF(x, middle - max(tall, 0.0), w, abs(tall)), with_alpha(colour, 0.45 if stale else 1.0))
