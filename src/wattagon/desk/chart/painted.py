"""Painters that always end: one that is left open when something goes wrong takes the whole window with it."""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import Any

from PySide6.QtGui import QPainter, QPaintEvent

PaintEvent = Callable[[Any, QPaintEvent], None]


def painted(draw: Callable[[Any, QPaintEvent, QPainter], None]) -> PaintEvent:
    """A paintEvent from a method that is handed the painter of its widget, smoothing on."""

    @functools.wraps(draw)
    def paint_event(self: Any, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        try:
            draw(self, event, painter)
        finally:
            painter.end()

    return paint_event
