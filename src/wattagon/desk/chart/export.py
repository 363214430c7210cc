"""A painted view as a file: SVG for drawings, PNG for screens."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QRect, QRectF, QSize
from PySide6.QtGui import QColor, QImage, QPaintDevice, QPainter

from wattagon import files
from wattagon.errors import FileError

Paint = Callable[[QPainter, QRectF], None]


def write_picture(path: Path, size: QSize, background: QColor, paint: Paint, title: str) -> None:
    """Write what `paint` draws, by the file's ending (.svg or .png).  Raises FileError, the older file being there still."""
    ending = path.suffix.lower()
    if ending not in (".svg", ".png"):
        raise FileError(f"{path.name} should end in .svg or .png")
    rect = QRectF(0, 0, size.width(), size.height())
    raw = QBuffer()
    raw.open(QIODevice.OpenModeFlag.WriteOnly)
    if ending == ".svg":
        from PySide6.QtSvg import QSvgGenerator

        generator = QSvgGenerator(QSvgGenerator.SvgVersion.Svg11)  # the older one knows no clipping
        generator.setOutputDevice(raw)
        generator.setSize(size)
        generator.setViewBox(QRect(0, 0, size.width(), size.height()))
        generator.setTitle(title)
        _paint(generator, rect, background, paint)
    else:
        image = QImage(size * 2, QImage.Format.Format_ARGB32_Premultiplied)
        image.setDevicePixelRatio(2.0)
        image.fill(background)
        _paint(image, rect, background, paint)
        image.save(raw, "PNG")
    files.write_bytes(path, bytes(raw.data().data()))


def _paint(device: QPaintDevice, rect: QRectF, background: QColor, paint: Paint) -> None:
    painter = QPainter(device)
    try:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(rect, background)
        paint(painter, rect)
    finally:
        painter.end()
