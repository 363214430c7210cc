"""The finder before its first search: what would be searched, drawn as a sieve for each place of the drive."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from wattagon.desk.chart.ink import elided, put_text, text_width
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.finder.outset import Outset
from wattagon.study.finder.words import count_words

ROW, NAME, BAR = 27.0, 148.0, 120.0


def height_of(outset: Outset) -> float:
    """What the drawing needs [px]."""
    return 30.0 + ROW * len(outset.places) + 34.0


def paint_outset(painter: QPainter, theme: Theme, area: QRectF, outset: Outset) -> None:
    """A bar a place: its frame is what stock has, its fill what is left; and how many drives they make."""
    x, y = area.left() + 14, area.top() + 22
    painter.setPen(theme.ink)
    put_text(painter, x, y, "What a search would look at", font(13, 600))
    bar = min(BAR, max(area.width() - NAME - 190, 40.0))
    for place in outset.places:
        y += ROW
        painter.setPen(theme.ink)
        put_text(painter, x, y, place.name, font(13))
        frame = QRectF(x + NAME, y - 12, bar, 13)
        painter.fillRect(frame, with_alpha(theme.rule, 0.6))
        share = place.left / place.stock if place.stock else 0.0
        painter.fillRect(QRectF(frame.left(), frame.top(), frame.width() * share, frame.height()), with_alpha(theme.electrical, 0.75))
        many = f"{place.left:,}" if place.left == place.stock else f"{place.left:,} of {place.stock:,}"
        painter.setPen(theme.over if place.left == 0 else theme.ink)
        put_text(painter, frame.right() + 10, y, many, font(13, 600))
        painter.setPen(theme.soft)
        at = frame.right() + 18 + text_width(many, font(13, 600))
        put_text(painter, at, y, elided(place.why, font(12), area.right() - at - 8), font(12))
    y += ROW + 4
    painter.setPen(theme.ink)
    words = f"together {count_words(outset.combinations)} drives, judged against every goal and rating"
    put_text(painter, x, y, elided(words, font(13, 600), area.width() - 24), font(13, 600))
