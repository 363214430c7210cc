"""The part of a chart that stays while values move, kept as a picture; drawn anew into vector files."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPixmap
from PySide6.QtWidgets import QWidget

MOST = 24  # pictures kept for one view


class Ground:
    """Pictures of one view by what they show."""

    def __init__(self) -> None:
        self._kept: dict[Hashable, QPixmap] = {}

    def paint(self, painter: QPainter, area: QRectF, key: Hashable, draw: Callable[[QPainter], None]) -> None:
        """Draw what `draw` would, from its picture when there is one; `area` must hold all of it, on whole pixels."""
        device = painter.device()
        if not isinstance(device, (QWidget, QPixmap)):
            draw(painter)
            return
        ratio = device.devicePixelRatioF()
        full = (key, ratio, area.getRect())
        picture = self._kept.get(full)
        if picture is None:
            picture = QPixmap(math.ceil(area.width() * ratio), math.ceil(area.height() * ratio))
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            inner = QPainter(picture)
            inner.setRenderHint(QPainter.RenderHint.Antialiasing)
            inner.translate(-area.left(), -area.top())
            draw(inner)
            inner.end()
            if len(self._kept) >= MOST:
                self._kept.clear()
            self._kept[full] = picture
        painter.drawPixmap(QPointF(area.left(), area.top()), picture)
