"""Painters that always end, and views that say what they show.

A painter that is left open when something goes wrong takes the whole window with it.  A view with `spoken` hands its values to a
screen reader as its description whenever it is painted anew.
"""

from __future__ import annotations

import functools
from collections.abc import Callable
from typing import Any

from PySide6.QtGui import QAccessible, QPainter, QPaintEvent

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
        if QAccessible.isActive():
            tell(self)

    return paint_event


def tell(view: Any) -> None:
    """Give a view's values as text to whoever reads the screen aloud."""
    spoken = getattr(view, "spoken", None)
    if spoken is not None and (words := str(spoken())) != view.accessibleDescription():
        view.setAccessibleDescription(words)
