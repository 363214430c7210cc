"""What can be read on a widget, and which number of it is pointed at.

The widget is painted once more, into a drawing whose texts keep their words: labels and pictures alike, without one of them having to
tell where it wrote what.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from PySide6.QtCore import QBuffer, QIODevice, QPoint, QPointF, QRect, QXmlStreamReader
from PySide6.QtGui import QFont, QFontMetricsF, QPainter, QTransform
from PySide6.QtWidgets import QWidget

NEAR = 22.0  # px around the pointer
NUMBER = re.compile(r"[-\N{MINUS SIGN}]?(?:\d{1,3}(?:,\d{3})+|\d+(?:\.\d+)?)")


class Written(NamedTuple):
    """A text where it stands: left end and baseline [px], and its font."""

    left: float
    base: float
    text: str
    font: QFont

    @property
    def width(self) -> float:
        return QFontMetricsF(self.font).horizontalAdvance(self.text)


class Read(NamedTuple):
    """A number as it is written: its digits, what follows it in that text, and the whole text."""

    digits: str
    after: str
    text: str


def written_on(widget: QWidget) -> list[Written]:
    """Every text on a widget, those of its children with it."""
    from PySide6.QtSvg import QSvgGenerator

    raw = QBuffer()
    raw.open(QIODevice.OpenModeFlag.WriteOnly)
    drawing = QSvgGenerator(QSvgGenerator.SvgVersion.Svg11)
    drawing.setOutputDevice(raw)
    drawing.setSize(widget.size())
    drawing.setViewBox(QRect(QPoint(), widget.size()))
    # one pixel of the widget is one of the drawing
    drawing.setResolution(widget.logicalDpiX())
    painter = QPainter(drawing)
    try:
        widget.render(painter, QPoint(), widget.rect(), QWidget.RenderFlag.DrawChildren)
    finally:
        painter.end()
    return _texts(raw)


def _texts(raw: QBuffer) -> list[Written]:
    found: list[Written] = []
    reader = QXmlStreamReader(bytes(raw.data().data()).decode())
    moved = [QTransform()]
    while not reader.atEnd():
        token = reader.readNext()
        if token == QXmlStreamReader.TokenType.StartElement:
            given = reader.attributes()
            moved.append(_transform(str(given.value("transform"))) * moved[-1])
            if reader.name() == "text":
                at = moved[-1].map(QPointF(float(given.value("x") or 0.0), float(given.value("y") or 0.0)))
                font = QFont(str(given.value("font-family")))
                font.setPixelSize(max(int(float(str(given.value("font-size")).removesuffix("px") or 12.0) * moved[-1].m11()), 1))
                text = reader.readElementText().strip()
                moved.pop()
                if text:
                    found.append(Written(at.x(), at.y(), text, font))
        elif token == QXmlStreamReader.TokenType.EndElement:
            moved.pop()
    return found


def _transform(text: str) -> QTransform:
    inside = re.fullmatch(r"matrix\(([^)]*)\)", text.strip())
    if inside is None:
        return QTransform()
    return QTransform(*(float(word) for word in inside.group(1).split(",")))


def numbers_of(written: Written) -> list[tuple[float, float, Read]]:
    """(left, right, number) of each number in a text."""
    metrics, made = QFontMetricsF(written.font), []
    for one in NUMBER.finditer(written.text):
        left = written.left + metrics.horizontalAdvance(written.text[: one.start()])
        right = left + metrics.horizontalAdvance(one.group())
        made.append(
            (
                left,
                right,
                Read(one.group().replace("\N{MINUS SIGN}", "-").replace(",", ""), written.text[one.end() :].strip(), written.text),
            )
        )
    return made


def number_at(widget: QWidget, at: QPoint) -> Read | None:
    """The number that is pointed at: the nearest one of the widget, if it is near."""
    best: tuple[float, Read] | None = None
    for written in written_on(widget):
        high = float(written.font.pixelSize())
        up_and_down = max(written.base - high - at.y(), at.y() - written.base - 0.3 * high, 0.0)
        for left, right, number in numbers_of(written):
            away = up_and_down + max(left - at.x(), at.x() - right, 0.0)
            if away <= NEAR and (best is None or away < best[0]):
                best = away, number
    return best[1] if best is not None else None
