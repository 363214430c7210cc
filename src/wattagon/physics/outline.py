"""Outlines of straight lines and arcs, as they are cut: walked counter-clockwise, holes clockwise; mm as the trade has it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple, TypeAlias

Point = tuple[float, float]
CHORD_MM = 0.01  # most that a polyline may be off an arc


class Line(NamedTuple):
    """A straight piece."""

    begin: Point
    end: Point

    @property
    def length(self) -> float:
        return math.dist(self.begin, self.end)

    def turned(self, angle: float) -> Line:
        """About the origin [rad]."""
        return Line(turned(self.begin, angle), turned(self.end, angle))

    def moved(self, x: float, y: float) -> Line:
        """Shifted."""
        return Line((self.begin[0] + x, self.begin[1] + y), (self.end[0] + x, self.end[1] + y))

    def points(self, chord_mm: float = CHORD_MM) -> list[Point]:
        """Without its end."""
        return [self.begin]

    @property
    def moment(self) -> float:
        """Half of the integral of x dy - y dx along it: its part of the area."""
        return 0.5 * (self.begin[0] * self.end[1] - self.end[0] * self.begin[1])


class Arc(NamedTuple):
    """An arc about a middle from one angle to another [rad]; counter-clockwise where the second is the larger."""

    middle: Point
    radius: float
    first: float
    last: float

    def _at(self, angle: float) -> Point:
        return self.middle[0] + self.radius * math.cos(angle), self.middle[1] + self.radius * math.sin(angle)

    @property
    def begin(self) -> Point:
        return self._at(self.first)

    @property
    def end(self) -> Point:
        return self._at(self.last)

    @property
    def length(self) -> float:
        return self.radius * abs(self.last - self.first)

    def turned(self, angle: float) -> Arc:
        """About the origin [rad]."""
        return Arc(turned(self.middle, angle), self.radius, self.first + angle, self.last + angle)

    def moved(self, x: float, y: float) -> Arc:
        """Shifted."""
        return Arc((self.middle[0] + x, self.middle[1] + y), self.radius, self.first, self.last)

    def points(self, chord_mm: float = CHORD_MM) -> list[Point]:
        """Points so close that no chord is further off; without its end."""
        step = 2.0 * math.acos(max(1.0 - chord_mm / self.radius, 0.0)) if chord_mm < self.radius else 1.0
        count = max(math.ceil(abs(self.last - self.first) / max(step, 1e-4)), 1)
        return [self._at(self.first + (self.last - self.first) * k / count) for k in range(count)]

    @property
    def moment(self) -> float:
        """Half of the integral of x dy - y dx along it: its part of the area."""
        x, y = self.middle
        swung = x * (math.sin(self.last) - math.sin(self.first)) - y * (math.cos(self.last) - math.cos(self.first))
        return 0.5 * (self.radius**2 * (self.last - self.first) + self.radius * swung)


Piece: TypeAlias = Line | Arc
Outline: TypeAlias = tuple[Piece, ...]


def turned(point: Point, angle: float) -> Point:
    """About the origin [rad]."""
    cos, sin = math.cos(angle), math.sin(angle)
    return point[0] * cos - point[1] * sin, point[0] * sin + point[1] * cos


def area(outline: Iterable[Piece]) -> float:
    """Exact, above 0 where it is walked counter-clockwise."""
    return sum(piece.moment for piece in outline)


def gaps(outline: Sequence[Piece]) -> float:
    """The largest distance between the end of a piece and the begin of the next: 0 of a closed outline."""
    return max(math.dist(piece.end, outline[(k + 1) % len(outline)].begin) for k, piece in enumerate(outline))


def circle(x: float, y: float, radius: float, *, hole: bool = False) -> Outline:
    """A whole circle; a hole is walked clockwise."""
    turn = -2.0 * math.pi if hole else 2.0 * math.pi
    return (Arc((x, y), radius, 0.0, turn),)


def slot(x: float, y: float, length: float, width: float, angle: float = 0.0) -> Outline:
    """A hole with round ends, `length` between the middles of its ends; walked clockwise."""
    half, radius = 0.5 * length, 0.5 * width
    pieces: Outline = (
        Line((-half, radius), (half, radius)),
        Arc((half, 0.0), radius, 0.5 * math.pi, -0.5 * math.pi),
        Line((half, -radius), (-half, -radius)),
        Arc((-half, 0.0), radius, -0.5 * math.pi, -1.5 * math.pi),
    )
    return moved((piece.turned(angle) for piece in pieces), x, y)


def moved(outline: Iterable[Piece], x: float, y: float) -> Outline:
    """Shifted."""
    return tuple(piece.moved(x, y) for piece in outline)


def bolt_circle(count: int, radius: float, first: float = 0.0) -> list[Point]:
    """Middles of holes on a circle; the first at an angle [rad]."""
    return [
        (radius * math.cos(first + 2.0 * math.pi * k / count), radius * math.sin(first + 2.0 * math.pi * k / count)) for k in range(count)
    ]


def polyline(outline: Iterable[Piece], chord_mm: float = CHORD_MM) -> list[Point]:
    """Points of a closed outline; the first is not repeated."""
    return [point for piece in outline for point in piece.points(chord_mm)]


def rounded(corners: Sequence[Point], radius: float) -> Outline:
    """A polygon, walked counter-clockwise, with its corners rounded as far as its edges allow."""
    count, pieces = len(corners), []
    cuts = []
    for k, here in enumerate(corners):
        before, after = corners[k - 1], corners[(k + 1) % count]
        a, b = math.dist(here, before), math.dist(here, after)
        u = ((before[0] - here[0]) / a, (before[1] - here[1]) / a)
        v = ((after[0] - here[0]) / b, (after[1] - here[1]) / b)
        between = math.acos(min(max(u[0] * v[0] + u[1] * v[1], -1.0), 1.0))
        reach = min(radius / max(math.tan(0.5 * between), 1e-9), 0.499 * a, 0.499 * b)
        real = reach * math.tan(0.5 * between)
        start, stop = (here[0] + reach * u[0], here[1] + reach * u[1]), (here[0] + reach * v[0], here[1] + reach * v[1])
        left = (v[0] * -u[1] - v[1] * -u[0]) < 0.0  # the walk turns left here
        cuts.append((start, stop, real, left))
    for k, (start, stop, real, left) in enumerate(cuts):
        pieces.append(_corner(corners[k], start, stop, real, left))
        pieces.append(Line(stop, cuts[(k + 1) % count][0]))
    return tuple(piece for piece in pieces if piece.length > 1e-9)


def _corner(here: Point, start: Point, stop: Point, radius: float, left: bool) -> Piece:
    if radius < 1e-6:
        return Line(start, stop)
    mx, my = 0.5 * (start[0] + stop[0]), 0.5 * (start[1] + stop[1])
    half = 0.5 * math.dist(start, stop)
    away = math.dist(here, (mx, my))
    scale = math.sqrt(max(radius**2 - half**2, 0.0)) / away if away else 0.0
    middle = mx + (mx - here[0]) * scale, my + (my - here[1]) * scale
    first = math.atan2(start[1] - middle[1], start[0] - middle[0])
    last = math.atan2(stop[1] - middle[1], stop[0] - middle[0])
    while left and last < first:
        last += 2.0 * math.pi
    while not left and last > first:
        last -= 2.0 * math.pi
    return Arc(middle, radius, first, last)
