"""The finder before its first search: what would be searched, drawn as a sieve for each place of the drive."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from wattagon.desk.chart.ink import elided, put_text, text_width
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.finder.outset import Outset
from wattagon.study.finder.words import count_words

ROW, NAME, BAR = 27.0, 140.0, 90.0
UNDER, NARROW = 7.0, 560.0  # below such a width reasons stand under their bars, in rows that are so much taller


def height_of(outset: Outset, width: float) -> float:
    """What the drawing needs at a width [px]."""
    reasons = sum(bool(place.why) for place in outset.places) if width < NARROW else 0
    return 30.0 + ROW * len(outset.places) + UNDER * reasons + 34.0


def paint_outset(painter: QPainter, theme: Theme, area: QRectF, outset: Outset) -> None:
    """A bar a place: its frame is what stock has, its fill what is left; and how many drives they make."""
    x, y = area.left() + 14, area.top() + 22
    painter.setPen(theme.ink)
    put_text(painter, x, y, "What a search would look at", font(13, 600))
    bar, narrow = min(BAR, max(area.width() - NAME - 190, 40.0)), area.width() < NARROW
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
        at = x if narrow else frame.right() + 18 + text_width(many, font(13, 600))
        y += UNDER if narrow and place.why else 0.0
        put_text(painter, at, y + (UNDER if narrow else 0.0), elided(place.why, font(12), area.right() - at - 8), font(12))
    y += ROW + 4
    painter.setPen(theme.ink)
    words = f"together {count_words(outset.combinations)} drives"
    more = f"{words}, judged against every goal and rating"
    put_text(painter, x, y, more if text_width(more, font(13, 600)) < area.width() - 24 else words, font(13, 600))
