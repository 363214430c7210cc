"""What the pull map of a boat has beside its edge: how good the propeller is, the hull with its band, what was towed, bubbles."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple, TypeAlias

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter

from wattagon.desk.chart.axes import Axes
from wattagon.desk.chart.ink import curve, fill, pen, put_right, put_text, thinned
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.physics.envelope import Edge
from wattagon.study.drive.study import DriveStudy
from wattagon.study.drive.water_lines import Fan, fans, hull_line

Line: TypeAlias = Callable[[NDArray[np.float64], NDArray[np.float64]], NDArray[np.float64]]  # (speeds, forces) to pixels
NEAR_PX = 18.0  # between two figures on the right
SHADED = 2  # of the fans, the best ones; a fill is dear to draw
POINTS = 39  # of each line: enough for a hump, and few to draw


class Afloat(NamedTuple):
    """Lines of a boat's pull map in pixels, all over the same speeds: shape (speeds, 2)."""

    fans: list[Fan]
    whole: NDArray[np.float64]  # of each fan's upper side (fans, speeds, 2), then as far as the edge reaches, then its lower side
    upper: NDArray[np.float64]
    lower: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    hull: NDArray[np.float64]
    by_measures: NDArray[np.float64] | None
    inside: int  # points up to which what was towed is trusted


def lines_afloat(study: DriveStudy, top_m_s: float, edge: Edge, to_page: Line) -> Afloat:
    """All lines worked out in one go; `to_page` takes speeds and forces to pixels."""
    speeds = np.linspace(0.0, top_m_s, POINTS)
    most = np.interp(speeds, edge.speed_m_s, edge.force_n, right=0.0)
    found, rise, hull = fans(study.resolved), speeds**2, hull_line(study.resolved, speeds)
    count = len(found)
    whole = np.multiply.outer([fan.most for fan in found], rise)
    lower = np.minimum(np.multiply.outer([fan.least for fan in found], rise), most)
    single = [hull.low_n, hull.high_n, hull.likely_n, *([hull.by_measures_n] if hull.by_measures_n is not None else [])]
    forces = np.concatenate([whole, np.minimum(whole, most), lower, np.stack(single)])
    pages = to_page(np.broadcast_to(speeds, forces.shape).ravel(), forces.ravel()).reshape(*forces.shape, 2)
    low, high, likely, *dotted = pages[3 * count :]
    return Afloat(
        fans=found,
        whole=pages[:count],
        upper=pages[count : 2 * count],
        lower=pages[2 * count : 3 * count],
        low=low,
        high=high,
        hull=likely,
        by_measures=dotted[0] if dotted else None,
        inside=int(np.searchsorted(speeds, hull.trusted_m_s, side="right")),
    )


def paint_fans(painter: QPainter, axes: Axes, theme: Theme, lines: Afloat) -> None:
    """Under the edge, the deeper the better the propeller works; its best is a line of its own, figures at the right and above."""
    ends: list[tuple[float, float, str]] = []
    for k, fan in enumerate(lines.fans):
        best = k == len(lines.fans) - 1
        if not best and k >= len(lines.fans) - 1 - SHADED:
            fill(painter, np.vstack([lines.upper[k], lines.lower[k][::-1]]), with_alpha(theme.mechanical, 0.10))
        line = lines.whole[k]
        curve(painter, line, pen(with_alpha(theme.mechanical, 0.85 if best else 0.30), 1.0), whole=True)
        words = f"{fan.efficiency:.0%}"
        if line[-1, 1] >= axes.rect.top():
            ends.append((axes.rect.right(), float(line[-1, 1]), words))
        else:
            ends.append((float(np.interp(axes.rect.top(), line[::-1, 1], line[::-1, 0])), axes.rect.top(), words))
    painter.setClipping(False)
    painter.setPen(theme.mechanical)
    used: list[tuple[float, float]] = []
    for x, y, words in reversed(ends):
        if any(abs(x - a) < 34.0 and abs(y - b) < NEAR_PX for a, b in used):
            continue
        used.append((x, y))
        if y > axes.rect.top():
            put_text(painter, x + 4, y + 4, words, font(12))
        elif x < axes.rect.right() - 12:
            put_text(painter, x - 10, y - 8, words, font(12))
    left = min((x for x, y in used if y <= axes.rect.top()), default=axes.rect.right())
    if left - axes.rect.left() > 90.0:
        put_right(painter, left - 16, axes.rect.top() - 8, "propeller", font(12))
    painter.setClipping(True)


def paint_hull(painter: QPainter, theme: Theme, study: DriveStudy, lines: Afloat, to_page: Line) -> list[tuple[str, NDArray[np.float64]]]:
    """The hull with its band, by measures alone dashed, and what was towed; (name, line) of those that want words."""
    hull = study.design.vehicle.hull
    assert hull is not None
    fill(painter, np.vstack([lines.low, lines.high[::-1]]), with_alpha(theme.mechanical, 0.22))
    made = []
    if lines.by_measures is not None:
        curve(painter, lines.by_measures, pen(theme.mechanical, 1.0, (2.0, 3.0)), whole=True)
        made.append(("by measures alone", lines.by_measures))
    curve(painter, lines.hull[: lines.inside], pen(theme.mechanical, 2.0), whole=True)
    if lines.inside < len(lines.hull):
        curve(painter, lines.hull[max(lines.inside - 1, 0) :], pen(theme.mechanical, 2.0, (5.0, 3.0)), whole=True)
    made.insert(0, ("hull" if abs(study.resolved.headwind_m_s) < 0.05 else "hull and wind", lines.hull))
    if hull.tow:
        towed = to_page(np.array([row.speed for row in hull.tow]), np.array([row.pull for row in hull.tow]))
        painter.setPen(pen(theme.mechanical, 1.6))
        for row, (x, y) in zip(hull.tow, towed, strict=True):
            painter.setBrush(Qt.BrushStyle.NoBrush if row.out else theme.panel)
            painter.drawEllipse(QPointF(x, y), 4.0, 4.0)
    return made


def paint_bubbles(painter: QPainter, theme: Theme, over: NDArray[np.bool_], points: NDArray[np.float64]) -> NDArray[np.float64] | None:
    """Where the blades bubble along the edge; the stretch, or None where they do not."""
    if not over.any():
        return None
    first, last = np.flatnonzero(over)[[0, -1]]
    stretch = points[first : last + 1]
    if len(stretch) > 1:
        curve(painter, thinned(stretch), pen(theme.tight, 6.0, (0.4, 1.4)), whole=True)
    return stretch
