"""Outlines of teeth: grooves of curvilinear pulleys, sprockets for roller chain, windows between spokes; mm.

The pulley groove is an arc form of our own for full-arc belts, not a certified one.  Sprockets: ANSI B29.1, Machinery's Handbook.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.errors import InputError
from wattagon.physics.outline import Arc, Line, Outline, Piece

LEAST_LAND_MM = 0.3


class GrooveKind(NamedTuple):
    """Depth, radius of the bottom and of the tip fillet of a family [mm]; typical."""

    depth: float
    bottom: float
    tip: float


GROOVES = {"3M": GrooveKind(1.25, 0.88, 0.26), "5M": GrooveKind(2.10, 1.50, 0.40), "8M": GrooveKind(3.50, 2.60, 0.70)}


class Groove(NamedTuple):
    """One groove centred on +y [mm]: outside radius, half width, middle of the bottom, of the fillet, half angle of its mouth, land."""

    outside: float
    half: float
    bottom_y: float
    fillet_x: float
    fillet_y: float
    mouth: float
    land: float
    straight: bool


def groove(kind: GrooveKind, pitch_mm: float, line_mm: float, teeth: int, clearance_mm: float = 0.0) -> Groove:
    """Raises InputError where no land is left between two grooves."""
    outside = pitch_mm * teeth / (2.0 * math.pi) - line_mm
    half = kind.bottom + clearance_mm
    bottom_y = outside - kind.depth - clearance_mm + half
    inner = outside - kind.tip
    x, square = half + kind.tip, inner**2 - (half + kind.tip) ** 2
    y = math.sqrt(max(square, 0.0))
    straight = y >= bottom_y
    if not straight:  # the fillet touches the bottom arc itself
        y = (inner**2 - (half + kind.tip) ** 2 + bottom_y**2) / (2.0 * bottom_y)
        x = math.sqrt(max(inner**2 - y * y, 0.0))
    mouth = math.atan2(x, y)
    land = outside * (2.0 * math.pi / teeth - 2.0 * mouth)
    if land <= LEAST_LAND_MM:
        raise InputError("teeth", teeth, f"more: {land:.2f} mm of land would be left between grooves, {LEAST_LAND_MM} mm are needed")
    return Groove(outside, half, bottom_y, x, y, mouth, land, straight)


def pulley(kind: GrooveKind, pitch_mm: float, line_mm: float, teeth: int, clearance_mm: float = 0.0) -> Outline:
    """The toothed outline, counter-clockwise from the first groove at +y."""
    g, tip = groove(kind, pitch_mm, line_mm, teeth, clearance_mm), kind.tip
    away = math.atan2(g.fillet_y, g.fillet_x)  # from the origin to the right fillet's middle
    if g.straight:
        inwards, low = math.pi, 0.0
    else:
        inwards = math.atan2(g.bottom_y - g.fillet_y, -g.fillet_x)
        low = math.atan2(g.fillet_y - g.bottom_y, g.fillet_x)
    if inwards < away:
        inwards += 2.0 * math.pi
    right = Arc((g.fillet_x, g.fillet_y), tip, away, inwards)
    bottom = Arc((0.0, g.bottom_y), g.half, low, -math.pi - low)
    left = Arc((-g.fillet_x, g.fillet_y), tip, math.pi - inwards, math.pi - away)
    one: list[Piece] = [right]
    if g.straight and g.fillet_y > g.bottom_y + 1e-12:
        one += [Line(right.end, bottom.begin), bottom, Line(bottom.end, left.begin)]
    else:
        one.append(bottom)
    one.append(left)
    one.append(Arc((0.0, 0.0), g.outside, math.pi - away, away + 2.0 * math.pi / teeth))
    turn = 2.0 * math.pi / teeth
    return tuple(piece.turned(k * turn) for k in range(teeth) for piece in one)


class Sprocket(NamedTuple):
    """The pieces of a tooth gap [mm, rad]; names as in the standard."""

    pitch_diameter: float
    seat_y: float  # r_a
    R: float
    E: float
    F: float
    yz: float
    M: float
    T: float
    W: float
    V: float
    A: float
    B: float
    outside: float  # tip diameter
    pointed: float
    least_outside: float
    most_outside: float
    bottom: float  # diameter at the roots
    caliper: float


def sprocket_form(pitch_mm: float, roller_mm: float, teeth: int, clearance_mm: float = 0.0) -> Sprocket:
    """Raises InputError for fewer than six teeth."""
    if teeth < 6:
        raise InputError("teeth", teeth, "6 teeth or more")
    roller, z = roller_mm + clearance_mm, teeth
    pitch_d = pitch_mm / math.sin(math.pi / z)
    seat = 1.005 * roller + 0.0762
    a, b, g = math.radians(35.0 + 60.0 / z), math.radians(18.0 - 56.0 / z), math.radians(17.0 - 64.0 / z)
    turn = math.pi / z
    f = roller * (0.8 * math.cos(b) + 1.4 * math.cos(g) - 1.3025) - 0.0381
    cot = 1.0 / math.tan(turn)
    high = math.sqrt(max(f**2 - (1.4 * roller - 0.5 * pitch_mm) ** 2, 0.0))
    odd = math.cos(0.5 * turn) if z % 2 else 1.0
    return Sprocket(
        pitch_diameter=pitch_d,
        seat_y=0.5 * (pitch_d + seat - roller),
        R=0.5 * seat,
        E=1.3025 * roller + 0.0381,
        F=f,
        yz=roller * (1.4 * math.sin(g) - 0.8 * math.sin(b)),
        M=0.8 * roller * math.cos(a),
        T=0.8 * roller * math.sin(a),
        W=1.4 * roller * math.cos(turn),
        V=1.4 * roller * math.sin(turn),
        A=a,
        B=b,
        outside=pitch_mm * (0.6 + cot),
        pointed=pitch_mm * cot + (seat - roller) * math.cos(turn) + 2.0 * high,
        least_outside=pitch_d + pitch_mm * (1.0 - 1.6 / z) - roller,
        most_outside=pitch_d + 1.25 * pitch_mm - roller,
        bottom=pitch_d - roller,
        caliper=pitch_d * odd - roller,
    )


def sprocket(pitch_mm: float, roller_mm: float, teeth: int, clearance_mm: float = 0.0) -> Outline:
    """The toothed outline, counter-clockwise from the first gap at +y.  Raises InputError where its tip comes to a point."""
    s = sprocket_form(pitch_mm, roller_mm, teeth, clearance_mm)
    outside = min(s.outside, s.pointed - 0.2)
    tip = 0.5 * outside
    seat: tuple[float, float] = (0.0, s.seat_y)
    work = (seat[0] + s.M, seat[1] + s.T)
    top = (seat[0] - s.W, seat[1] - s.V)
    at_y = math.pi + s.A - s.B
    seating = Arc(seat, s.R, 1.5 * math.pi, math.pi + s.A)
    working = Arc(work, s.E, math.pi + s.A, at_y)
    y = working.end
    along = (math.sin(at_y), -math.cos(at_y))
    z = (y[0] + s.yz * along[0], y[1] + s.yz * along[1])
    first = math.atan2(z[1] - top[1], z[0] - top[0])
    away = math.hypot(*top)
    # where the topping arc meets the tip circle
    cosine = (tip**2 - away**2 - s.F**2) / (2.0 * away * s.F)
    if not -1.0 <= cosine <= 1.0:
        raise InputError("teeth", teeth, "a sprocket whose teeth reach their tip circle")
    bearing = math.atan2(top[1], top[0])
    last = next(angle for angle in sorted(_after(bearing + sign * math.acos(cosine), first) for sign in (-1.0, 1.0)))
    topping = Arc(top, s.F, first, last)
    half: list[Piece] = [seating, working, Line(y, z), topping]
    right = [_mirrored(piece) for piece in reversed(half)]
    end = topping.end
    tip_at = math.atan2(end[1], end[0])
    turn = 2.0 * math.pi / teeth
    land = Arc((0.0, 0.0), tip, tip_at, math.pi - tip_at + turn)
    if land.last <= land.first:
        raise InputError("teeth", teeth, "a sprocket whose teeth do not come to a point")
    one = [*right, *half, land]
    return tuple(piece.turned(k * turn) for k in range(teeth) for piece in one)


def _after(angle: float, least: float) -> float:
    while angle < least - 1e-12:
        angle += 2.0 * math.pi
    return angle


def _mirrored(piece: Piece) -> Piece:
    """On the other side of the y axis, walked the other way: so that the walk goes on."""
    if isinstance(piece, Line):
        return Line((-piece.end[0], piece.end[1]), (-piece.begin[0], piece.begin[1]))
    return Arc((-piece.middle[0], piece.middle[1]), piece.radius, math.pi - piece.last, math.pi - piece.first)


def spoke_window(inner_mm: float, outer_mm: float, spokes: int, width_mm: float, corner_mm: float) -> Outline:
    """The window after the spoke on +x, as a hole.  Raises InputError where corners and spokes leave none."""
    turn, half = 2.0 * math.pi / spokes, 0.5 * width_mm
    out_r, in_r = outer_mm - corner_mm, inner_mm + corner_mm
    if out_r <= in_r or half + corner_mm >= in_r:
        raise InputError("width_mm", width_mm, "spokes and corners that leave a window")
    out_a, in_a = math.asin((half + corner_mm) / out_r), math.asin((half + corner_mm) / in_r)
    if max(out_a, in_a) >= 0.5 * turn:
        raise InputError("spokes", spokes, "so few or so narrow spokes that windows are left")

    def at(radius: float, angle: float) -> tuple[float, float]:
        return radius * math.cos(angle), radius * math.sin(angle)

    pieces: Outline = (
        Arc(at(in_r, in_a), corner_mm, math.pi + in_a, 1.5 * math.pi),
        Line((in_r * math.cos(in_a), half), (out_r * math.cos(out_a), half)),
        Arc(at(out_r, out_a), corner_mm, -0.5 * math.pi, out_a),
        Arc((0.0, 0.0), outer_mm, out_a, turn - out_a),
        Arc(at(out_r, turn - out_a), corner_mm, turn - out_a, turn + 0.5 * math.pi),
        Line(
            _turned((out_r * math.cos(out_a), -half), turn),
            _turned((in_r * math.cos(in_a), -half), turn),
        ),
        Arc(at(in_r, turn - in_a), corner_mm, turn + 0.5 * math.pi, turn + math.pi - in_a),
        Arc((0.0, 0.0), inner_mm, turn - in_a, in_a),
    )
    return tuple(_backwards(piece) for piece in reversed(pieces))


def _turned(point: tuple[float, float], angle: float) -> tuple[float, float]:
    return (
        point[0] * math.cos(angle) - point[1] * math.sin(angle),
        point[0] * math.sin(angle) + point[1] * math.cos(angle),
    )


def _backwards(piece: Piece) -> Piece:
    return Line(piece.end, piece.begin) if isinstance(piece, Line) else Arc(piece.middle, piece.radius, piece.last, piece.first)
