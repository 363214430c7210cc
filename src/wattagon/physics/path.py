"""The path of a belt or chain around any number of wheels: tangent spans, wraps, length, and whether the loop is real.

Wheels come in the order of the loop, walked counter-clockwise; side 1 is inside it, -1 on its back.  Unit of length is that of the input.
Source: derived; tangents of two circles by the turned difference of their radii.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

TURN = 2.0 * math.pi
MOST_WRAP = math.radians(300.0)  # an idler that does not touch shows up as nearly a whole turn
Point = tuple[float, float]


class Round(NamedTuple):
    """A wheel that the loop runs around: its middle, the radius of the pitch line, and 1 inside the loop or -1 on its back."""

    x: float
    y: float
    radius: float
    side: int = 1


class Span(NamedTuple):
    """A free stretch from one wheel to the next."""

    begin: Point
    end: Point
    length: float
    direction: float  # [rad]


class Loop(NamedTuple):
    """A loop: spans (the k-th leaves wheel k), wraps [rad], its length, and why it is not real; empty where it is."""

    spans: tuple[Span, ...]
    wraps: tuple[float, ...]
    length: float
    fault: str = ""

    @property
    def real(self) -> bool:
        """Whether a loop can lie so."""
        return not self.fault


def loop_around(rounds: Sequence[Round]) -> Loop:
    """The loop around two wheels or more.  Where it cannot be, `fault` says why and the rest is as far as it goes."""
    count, spans = len(rounds), []
    for k, one in enumerate(rounds):
        other = rounds[(k + 1) % count]
        span = tangent(one, other)
        if span is None:
            return Loop((), (), math.nan, f"wheels {k + 1} and {(k + 1) % count + 1} stand too close for a span between them")
        spans.append(span)
    wraps = tuple((one.side * (spans[k].direction - spans[k - 1].direction)) % TURN for k, one in enumerate(rounds))
    length = sum(span.length for span in spans) + sum(one.radius * wrap for one, wrap in zip(rounds, wraps, strict=True))
    return Loop(tuple(spans), wraps, length, _fault(rounds, spans, wraps))


def tangent(one: Round, other: Round) -> Span | None:
    """The span from one wheel to another; None where they stand too close."""
    dx, dy = other.x - one.x, other.y - one.y
    apart, off = math.hypot(dx, dy), other.side * other.radius - one.side * one.radius
    if apart <= abs(off):
        return None
    length = math.sqrt(apart * apart - off * off)
    direction = math.atan2(dy, dx) - math.atan2(off, length)
    nx, ny = -math.sin(direction), math.cos(direction)
    begin = one.x - one.side * one.radius * nx, one.y - one.side * one.radius * ny
    end = other.x - other.side * other.radius * nx, other.y - other.side * other.radius * ny
    return Span(begin, end, length, direction)


def _fault(rounds: Sequence[Round], spans: Sequence[Span], wraps: Sequence[float]) -> str:
    for k, wrap in enumerate(wraps):
        if wrap > MOST_WRAP:
            return f"wheel {k + 1} does not touch the loop"
    turned = sum(one.side * wrap for one, wrap in zip(rounds, wraps, strict=True))
    if abs(turned - TURN) > 1e-6:
        return "it does not close once around"
    count = len(rounds)
    for k, span in enumerate(spans):
        for n, one in enumerate(rounds):
            if n not in (k, (k + 1) % count) and point_to_segment((one.x, one.y), span.begin, span.end) < one.radius * (1.0 - 1e-9):
                return f"the span from wheel {k + 1} cuts wheel {n + 1}"
        for n in range(k + 1, count):
            if _cross(span, spans[n]):
                return f"the spans from wheels {k + 1} and {n + 1} cross"
    return ""


def _cross(a: Span, b: Span) -> bool:
    def side(p: Point, q: Point, r: Point) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return (
        side(a.begin, a.end, b.begin) * side(a.begin, a.end, b.end) < 0.0
        and side(b.begin, b.end, a.begin) * side(b.begin, b.end, a.end) < 0.0
    )


def point_to_segment(p: Point, a: Point, b: Point) -> float:
    """Distance of a point to a segment."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    square = dx * dx + dy * dy
    share = 0.0 if square == 0.0 else min(max(((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / square, 0.0), 1.0)
    return math.hypot(p[0] - a[0] - share * dx, p[1] - a[1] - share * dy)


def segments_apart(a: Point, b: Point, c: Point, d: Point) -> float:
    """Distance of two segments; 0 where they cross."""
    if _cross(Span(a, b, 0.0, 0.0), Span(c, d, 0.0, 0.0)):
        return 0.0
    return min(point_to_segment(a, c, d), point_to_segment(b, c, d), point_to_segment(c, a, b), point_to_segment(d, a, b))


def drawn(rounds: Sequence[Round], loop: Loop, step: float = math.radians(4.0)) -> list[Point]:
    """Points along a loop, arcs in steps [rad]; closed, the first is not repeated."""
    made: list[Point] = []
    for k, (one, wrap) in enumerate(zip(rounds, loop.wraps, strict=True)):
        arrives = loop.spans[k - 1].direction
        count = max(math.ceil(wrap / step), 1)
        for n in range(count + 1):
            turned = arrives + one.side * wrap * n / count
            made.append((one.x + one.side * one.radius * math.sin(turned), one.y - one.side * one.radius * math.cos(turned)))
    return made


class TakenUp(NamedTuple):
    """Where a take-up comes to: how far it went along its way, and the loop then."""

    travel: float
    loop: Loop


def take_up(moved: Callable[[float], Sequence[Round]], wanted: float, low: float, high: float, near: float = 1e-10) -> TakenUp | None:
    """The least travel between two ends at which the loop is real and as long as wanted; None where there is none.

    `moved` gives the wheels at a travel.  Length need not grow evenly over the whole way, so the ends of a change of sign are looked for
    in steps first.
    """
    steps = 96
    before: tuple[float, float] | None = None
    for n in range(steps + 1):
        at = low + (high - low) * n / steps
        loop = loop_around(moved(at))
        if not loop.real:
            before = None
            continue
        off = loop.length - wanted
        if abs(off) <= near:
            return TakenUp(at, loop)
        if before is not None and off * before[1] < 0.0:
            return _halved(moved, wanted, before, (at, off), near)
        before = at, off
    return None


def _halved(
    moved: Callable[[float], Sequence[Round]], wanted: float, one: tuple[float, float], other: tuple[float, float], near: float
) -> TakenUp | None:
    (low, at_low), (high, _) = one, other
    loop = loop_around(moved(low))
    for _ in range(80):
        middle = 0.5 * (low + high)
        loop = loop_around(moved(middle))
        off = loop.length - wanted
        if abs(off) <= near or high - low <= 1e-15:
            return TakenUp(middle, loop) if loop.real else None
        low, high = (middle, high) if off * at_low > 0.0 else (low, middle)
    return TakenUp(0.5 * (low + high), loop) if loop.real else None
