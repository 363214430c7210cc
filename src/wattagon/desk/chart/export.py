"""A painted view as a file: SVG for drawings, PNG for screens."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QRect, QRectF, QSize
from PySide6.QtGui import QColor, QImage, QPainter

from wattagon.errors import FileError

Paint = Callable[[QPainter, QRectF], None]


def write_picture(path: Path, size: QSize, background: QColor, paint: Paint, title: str) -> None:
    """Write what `paint` draws, by the file's ending (.svg or .png).  Raises FileError."""
    rect = QRectF(0, 0, size.width(), size.height())
    if path.suffix.lower() == ".svg":
        from PySide6.QtSvg import QSvgGenerator

        generator = QSvgGenerator()
        generator.setFileName(str(path))
        generator.setSize(size)
        generator.setViewBox(QRect(0, 0, size.width(), size.height()))
        generator.setTitle(title)
        painter = QPainter()
        if not painter.begin(generator):
            raise FileError(f"{path} cannot be written")
        painter.fillRect(rect, background)
        paint(painter, rect)
        painter.end()
        return
    if path.suffix.lower() != ".png":
        raise FileError(f"{path.name} should end in .svg or .png")
    image = QImage(size * 2, QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(2.0)
    image.fill(background)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    paint(painter, rect)
    painter.end()
    if not image.save(str(path)):
        raise FileError(f"{path} cannot be written")
