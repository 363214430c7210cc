"""Pictures of an entry: made small enough to travel in the file, shown as they are."""

from __future__ import annotations

import hashlib
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, Qt
from PySide6.QtGui import QImage, QImageReader

from wattagon import files
from wattagon.errors import FileError

LARGEST_READ = 40 * 1024 * 1024  # bytes of a picture that is brought in
LONGEST_PX, QUALITY = 1600, 82  # of what is kept
LARGEST_KEPT = 900 * 1024  # bytes


def kept_picture(path: Path) -> tuple[str, bytes]:
    """(name of the member, its bytes) of a picture, scaled down.  Raises FileError for what is none."""
    raw = files.read_bytes(path, LARGEST_READ, "a picture")
    buffer = QBuffer()
    buffer.setData(QByteArray(raw))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    size = reader.size()
    if size.isValid() and max(size.width(), size.height()) > LONGEST_PX:
        reader.setScaledSize(size.scaled(LONGEST_PX, LONGEST_PX, Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    if image.isNull():
        raise FileError(f"{path.name} is no picture that can be read ({reader.errorString()})")
    for quality in (QUALITY, 60, 40):
        made = _jpeg(image, quality)
        if len(made) <= LARGEST_KEPT:
            return f"pictures/{hashlib.sha256(made).hexdigest()[:16]}.jpg", made
    raise FileError(f"{path.name} stays larger than {LARGEST_KEPT // 1024} KiB however small it is made")


def _jpeg(image: QImage, quality: int) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.convertToFormat(QImage.Format.Format_RGB32).save(buffer, "JPG", quality)
    return bytes(buffer.data().data())
