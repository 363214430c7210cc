"""Where a picture lies under the drawing, and how wrong what is traced on it may be.

Two points fix scale, turn and place.  A camera at a distance D shows what lies d nearer by d/D too large, measured from the middle
between both points; the points themselves are known within a tolerance that grows with the distance from them.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.design.tree import Obstacle, Picture
from wattagon.errors import InputError

NARROW_M = 0.02  # two points nearer to each other scale nothing


class Lies(NamedTuple):
    """From pixels to metres: x = a column + b row + ahead, the other b column - a row + other (rows grow downwards)."""

    a: float
    b: float
    ahead: float
    other: float

    @property
    def m_per_px(self) -> float:
        """Its scale."""
        return math.hypot(self.a, self.b)

    def metres(self, column: float, row: float) -> tuple[float, float]:
        """A point of the picture on the vehicle."""
        return self.a * column + self.b * row + self.ahead, self.b * column - self.a * row + self.other

    def pixels(self, ahead: float, other: float) -> tuple[float, float]:
        """A place of the vehicle on the picture."""
        x, z, square = ahead - self.ahead, other - self.other, self.a**2 + self.b**2
        return (self.a * x + self.b * z) / square, (self.b * x - self.a * z) / square


def lies(picture: Picture) -> Lies | None:
    """Where a picture lies; None until two points are pinned.  Raises InputError where both are one."""
    if len(picture.pins) < 2:
        return None
    one, two = picture.pins
    dc, dr, dx, dz = two.column - one.column, two.row - one.row, two.ahead - one.ahead, two.other - one.other
    square = dc * dc + dr * dr
    if math.hypot(dx, dz) < NARROW_M or square < 100.0:
        raise InputError("pins", f"{1e3 * math.hypot(dx, dz):.0f} mm, {math.sqrt(square):.0f} px apart", "two points that lie well apart")
    # with rows downwards: dx = a dc + b dr, dz = b dc - a dr
    a, b = (dx * dc - dz * dr) / square, (dx * dr + dz * dc) / square
    return Lies(a, b, one.ahead - a * one.column - b * one.row, one.other - b * one.column + a * one.row)


def wrong_m(picture: Picture, ahead: float, other: float) -> float:
    """How far off a traced place may be [m]: of the pins by how far it lies outside them, and of perspective."""
    one, two = picture.pins
    middle = (0.5 * (one.ahead + two.ahead), 0.5 * (one.other + two.other))
    apart = math.hypot(two.ahead - one.ahead, two.other - one.other)
    away = math.hypot(ahead - middle[0], other - middle[1])
    return picture.pinned_within * max(1.0, 2.0 * away / apart) + away * picture.depth / picture.distance


def traced(picture: Picture, begin: tuple[float, float], end: tuple[float, float], name: str = "traced edge") -> Obstacle:
    """An edge of a side view that was traced, as a piece of the frame that is known so well."""
    wide = max(wrong_m(picture, *begin), wrong_m(picture, *end))
    (x, z), (x2, z2) = ((round(a, 4), round(b, 4)) for a, b in (begin, end))
    return Obstacle(name=name, shape="line", x=x, z=z, x2=x2, z2=z2, radius=0.0, tolerance=min(round(wide, 4), 0.2))
