"""What stays while values move, kept as a picture; drawn anew into vector files."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPixmap
from PySide6.QtWidgets import QWidget

MOST_PIXELS = 3_000_000  # in one view, of four bytes each


class Ground:
    """Pictures by what they show, up to a number of them."""

    def __init__(self, most: int = 24) -> None:
        self._most = most
        self._kept: dict[Hashable, QPixmap] = {}
        self._pixels = 0

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
            try:
                inner.setRenderHint(QPainter.RenderHint.Antialiasing)
                inner.translate(-area.left(), -area.top())
                draw(inner)
            finally:
                inner.end()
            self._make_room(picture)
            self._kept[full] = picture
        painter.drawPixmap(QPointF(area.left(), area.top()), picture)

    def _make_room(self, picture: QPixmap) -> None:
        size = picture.width() * picture.height()
        while self._kept and (len(self._kept) >= self._most or self._pixels + size > MOST_PIXELS):
            oldest = self._kept.pop(next(iter(self._kept)))
            self._pixels -= oldest.width() * oldest.height()
        self._pixels += size
