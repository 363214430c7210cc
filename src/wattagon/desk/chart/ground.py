"""What stays while values move, kept as a picture; drawn anew into vector files."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPixmap
from PySide6.QtWidgets import QWidget


class Ground:
    """Pictures by what they show, up to a number of them."""

    def __init__(self, most: int = 24) -> None:
        self._most = most
        self._kept: dict[Hashable, QPixmap] = {}

    def paint(self, painter: QPainter, area: QRectF, key: Hashable, draw: Callable[[QPainter], None]) -> None:
        """Draw what `draw` would, from its picture when there is one; `area` must hold all of it, on whole pixels."""
        device = painter.device()
        if not isinstance(device, (QWidget, QPixmap)):
            painter.save()
            draw(painter)
            painter.restore()
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
            if len(self._kept) >= self._most:
                self._kept.clear()
            self._kept[full] = picture
        painter.drawPixmap(QPointF(area.left(), area.top()), picture)
