"""What lies under the lanes of a ride: the ground it climbs, the water that runs with it or against it, the gears it is in."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPolygonF

from wattagon.desk.chart.axes import Axes
from wattagon.desk.chart.ink import curve, fill, pen, put_right, put_text, text_width
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.physics.ride.names import Col
from wattagon.study.drive.words import Say
from wattagon.study.ride.study import Ride

STILL_M_S = 0.02
STREAM_PX = 26.0  # between two arrows of the water


def paint_profile(painter: QPainter, theme: Theme, axes: Axes, ride: Ride, along: NDArray[np.float64], row: int | None, say: Say) -> None:
    """Ground behind the speed: its height to its own scale, the vehicle where the moment is."""
    up = ride.heights_m()
    span = float(np.ptp(up))
    if span < 0.3:
        return
    share = (up - up.min()) / span * 0.62 + 0.06
    points = axes.pixels(along, axes.y_low + share * (axes.y_high - axes.y_low))
    floor = np.array([[points[-1, 0], axes.rect.bottom()], [points[0, 0], axes.rect.bottom()]])
    fill(painter, np.vstack([points, floor]), with_alpha(theme.mechanical, 0.16))
    curve(painter, points, pen(with_alpha(theme.mechanical, 0.75), 1.0), whole=True)
    painter.setPen(theme.mechanical)
    height = say(float(round(span)) if span >= 10.0 else span, "height")
    put_right(painter, axes.rect.right() - 6, axes.rect.bottom() - 5, f"ground, {height} from lowest to highest", font(11))
    if row is not None and row < len(points):
        x, y = float(points[row, 0]), float(points[row, 1])
        painter.setPen(pen(theme.ink, 1.4))
        painter.setBrush(theme.panel)
        painter.drawRoundedRect(QRectF(x - 8, y - 9, 16, 5), 2, 2)
        for dx in (-5, 5):
            painter.drawEllipse(QPointF(x + dx, y - 3), 2.4, 2.4)


def paint_stream(painter: QPainter, theme: Theme, axes: Axes, ride: Ride, along: NDArray[np.float64], row: int | None, say: Say) -> None:
    """Water behind the speed: arrows as it runs, against the boat or with it, and what it and the wind are; the boat at the moment."""
    stream, wind = ride.streams_m_s(), ride.winds_m_s()
    base = axes.rect.bottom() - 13.0
    pixels = axes.pixels(along, np.zeros(along.size))[:, 0]
    painter.fillRect(QRectF(axes.rect.left(), base - 9, axes.rect.width(), 18), with_alpha(theme.soft, 0.10))
    changes = np.flatnonzero((np.diff(stream) != 0.0) | (np.diff(wind) != 0.0)) + 1
    for start, end in itertools.pairwise(np.concatenate([[0], changes, [stream.size - 1]])):
        left, right, runs = float(pixels[start]), float(pixels[end]), float(stream[start])
        words = _stream_words(runs, float(wind[start]), say)
        face = font(11)
        used = text_width(words, face)
        if right - left > used + 12:
            painter.setPen(theme.soft)
            put_text(painter, left + 6, base + 4, words, face)
        if abs(runs) < STILL_M_S:
            continue
        sign = -1.0 if runs > 0.0 else 1.0
        painter.setPen(pen(theme.soft, 1.5))
        x = left + used + 26
        while x < right - 8:
            painter.drawPolyline(QPolygonF([QPointF(x - sign * 4, base - 4), QPointF(x, base), QPointF(x - sign * 4, base + 4)]))
            x += STREAM_PX
    if row is not None and row < pixels.size:
        at = float(pixels[row])
        painter.setPen(pen(theme.ink, 1.4))
        painter.setBrush(theme.panel)
        hull = [(-9, -4), (8, -4), (4, 3), (-7, 3)]
        painter.drawPolygon(QPolygonF([QPointF(at + dx, base - 6 + dy) for dx, dy in hull]))


def _stream_words(stream_m_s: float, wind_m_s: float, say: Say) -> str:
    if abs(stream_m_s) < STILL_M_S:
        words = "still water"
    else:
        words = f"current {say(abs(stream_m_s), 'speed')} {'against' if stream_m_s > 0.0 else 'with'} you"
    if abs(wind_m_s) >= 0.05:
        words += f", wind {say(abs(wind_m_s), 'speed')} {'ahead' if wind_m_s > 0.0 else 'astern'}"
    return words


def paint_gears(painter: QPainter, theme: Theme, rect: QRectF, ride: Ride, x: NDArray[np.float64]) -> None:
    """Which of the bike's own gears it is in: steps that rise with the gear, a number for each stretch with room for one."""
    painter.setPen(theme.ink)
    put_right(painter, rect.left() - 6, rect.center().y() + 4, "gear", font(12, 600))
    gear = ride.run.column(Col.GEAR).astype(int)
    most = len(ride.run.plant.factors)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(gear)) + 1, [gear.size - 1]])
    face = font(11, 600)
    for start, end in itertools.pairwise(starts):
        left, right, now = float(x[start]), float(x[end]), int(gear[start])
        height = (rect.height() - 3) * now / most
        painter.fillRect(QRectF(left, rect.bottom() - 1 - height, max(right - left, 0.8), height), with_alpha(theme.mechanical, 0.30))
        if right - left > text_width(str(now), face) + 6:
            painter.setPen(theme.ink)
            put_text(painter, (left + right - text_width(str(now), face)) / 2, rect.bottom() - 5, str(now), face)
