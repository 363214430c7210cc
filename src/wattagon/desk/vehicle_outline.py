"""Outlines of vehicles to scale, from their measures: side view and plan, by kind."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QLinearGradient, QPaintEngine, QPainter, QPainterPath, QPen

from wattagon.design.tree import LoadCase, Vehicle, VehicleKind
from wattagon.desk.chart.ink import pen
from wattagon.desk.theme import Theme, with_alpha
from wattagon.record import record
from wattagon.study.resolve import Stand


@record(frozen=True, slots=True)
class View:
    """Where metres fall on the page: x from the rear axle towards the front, y up from the ground (or across, in plan)."""

    origin: QPointF
    scale: float  # pixels per metre

    def at(self, x: float, y: float) -> QPointF:
        return QPointF(self.origin.x() + x * self.scale, self.origin.y() - y * self.scale)


@record(frozen=True, slots=True)
class Sizes:
    """Measures of the drawing [m]."""

    base: float
    tyre: float
    deck: float
    cm_x: float  # from the rear axle
    cm_y: float
    front_tyre: float
    rear_over: float
    front_over: float
    top: float  # highest thing that is drawn
    own_base: float = 0.0  # wheelbase of the vehicle itself, where a load case has another


def sizes(v: Vehicle, tyre_m: float) -> Sizes:
    """Drawing sizes of a vehicle; what is not measured follows from the kind."""
    base, deck = v.wheelbase.value, v.deck_height.value if v.deck_height is not None else 0.6 * tyre_m
    cm_y = v.cm_height.value
    over = {VehicleKind.STREET_BOARD: 0.16, VehicleKind.ALL_TERRAIN_BOARD: 0.14, VehicleKind.KART: 0.16, VehicleKind.UTILITY: 0.3}
    front = tyre_m * (0.62 if v.kind is VehicleKind.TWO_WHEEL_DRIVE else 1.0)
    ahead = over.get(v.kind, 0.05)
    top = {
        VehicleKind.KART: max(0.75, cm_y * 1.5),
        VehicleKind.BIKE: 1.22,
        VehicleKind.SUSPENDED_BIKE: 1.25,
        VehicleKind.SCOOTER: 1.2,
        VehicleKind.TWO_WHEEL_DRIVE: 1.05,
        VehicleKind.UTILITY: max(1.0, cm_y * 1.3),
    }.get(v.kind, max(0.9, cm_y * 1.16))
    reach = max(tyre_m / 2 + 0.03, ahead)
    return Sizes(base, tyre_m, deck, base - v.cm_behind_front.value, cm_y, front, reach, reach, max(top, cm_y * 1.06, tyre_m))


def loaded(s: Sizes, vehicle: Vehicle, case: LoadCase | None, stand: Stand | None) -> Sizes:
    """The same with what rides along: room for it, and the weight where it sits then."""
    own = vehicle.wheelbase.value
    if case is None:
        return replace(s, own_base=own)
    behind = max([item.behind_front.value + (0.75 if item.towed else 0.15) for item in case.carried], default=0.0) - own
    ahead = -min([item.behind_front.value - 0.15 for item in case.carried], default=0.0)
    top = max([s.top, *(item.height.value + 0.25 for item in case.carried)])
    base = stand.wheelbase_m if stand is not None else own
    changed = replace(s, rear_over=max(s.rear_over, behind), front_over=max(s.front_over, ahead), top=top, base=base, own_base=own)
    return changed if stand is None else replace(changed, cm_x=base - stand.behind_front_m, cm_y=stand.height_m)


def paint_wheel(p: QPainter, view: View, theme: Theme, x: float, diameter: float, *, driven: bool) -> None:
    """A wheel on the ground."""
    centre, r = view.at(x, diameter / 2), diameter / 2 * view.scale
    tyre = max(2.0, r * 0.26)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(with_alpha(theme.ink, 0.82), tyre))
    p.drawEllipse(centre, r - tyre / 2, r - tyre / 2)
    if driven:
        p.setPen(pen(theme.mechanical, 2.4))
        p.drawEllipse(centre, max(r - tyre - 2.0, 2.0), max(r - tyre - 2.0, 2.0))
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(theme.mechanical if driven else theme.ink)
    p.drawEllipse(centre, max(2.0, r * 0.1), max(2.0, r * 0.1))


def _stroke(p: QPainter, view: View, colour: QColor, width: float, *points: tuple[float, float]) -> None:
    line = pen(colour, max(width * view.scale, 1.6))
    line.setCapStyle(Qt.PenCapStyle.RoundCap)
    p.setPen(line)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(_along(view, points))


def _along(view: View, points: Sequence[tuple[float, float]]) -> QPainterPath:
    path = QPainterPath(view.at(*points[0]))
    for point in points[1:]:
        path.lineTo(view.at(*point))
    return path


def _body(
    p: QPainter, view: View, theme: Theme, s: Sizes, limbs: list[tuple[tuple[float, float], ...]], head: tuple[float, float] | None
) -> None:
    """A person as soft limbs that fade out towards the top of the drawing."""
    low, high = view.at(0, 0).y(), view.at(0, s.top).y()
    fade = QLinearGradient(0, low, 0, high)
    fade.setColorAt(0.0, with_alpha(theme.soft, 0.30))
    fade.setColorAt(0.75, with_alpha(theme.soft, 0.26))
    fade.setColorAt(1.0, with_alpha(theme.soft, 0.0 if head is None else 0.2))
    for limb in limbs:
        # only pixels know pens that fade; a drawing or paper would have them black
        ink = QBrush(fade) if p.paintEngine().type() is QPaintEngine.Type.Raster else QBrush(with_alpha(theme.soft, 0.26))
        line = QPen(ink, max(0.105 * view.scale, 3.0))
        line.setCapStyle(Qt.PenCapStyle.RoundCap)
        line.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        p.setPen(line)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(_along(view, limb))
    if head is not None:
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(with_alpha(theme.soft, 0.24))
        p.drawEllipse(view.at(*head), 0.11 * view.scale, 0.125 * view.scale)


def _board(p: QPainter, view: View, theme: Theme, s: Sizes) -> None:
    deck, base, kick = s.deck + 0.02, s.base, 0.045
    hip = max(s.cm_y, deck + 0.5)
    middle = s.cm_x
    _body(
        p,
        view,
        theme,
        s,
        [
            ((middle - 0.26, deck + 0.07), (middle - 0.14, deck + 0.45), (middle, hip)),
            ((middle + 0.28, deck + 0.07), (middle + 0.16, deck + 0.45), (middle, hip)),
            ((middle, hip), (middle + 0.02, s.top + 0.3)),
        ],
        None,
    )
    path = QPainterPath(view.at(-s.rear_over, deck + kick))
    path.cubicTo(view.at(-s.rear_over * 0.4, deck + kick * 0.6), view.at(-0.02, deck), view.at(0.1 * base, deck))
    path.lineTo(view.at(0.9 * base, deck))
    path.cubicTo(
        view.at(base + 0.02, deck), view.at(base + s.front_over * 0.4, deck + kick * 0.6), view.at(base + s.front_over, deck + kick)
    )
    line = pen(theme.ink, max(0.016 * view.scale, 3.0))
    line.setCapStyle(Qt.PenCapStyle.RoundCap)
    p.setPen(line)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)
    for x in (0.0, base):
        _stroke(p, view, theme.ink, 0.022, (x, s.tyre / 2), (x + (0.05 if x == 0 else -0.05), deck))
    p.setPen(pen(theme.soft, 1.4))
    p.setBrush(theme.panel)
    p.drawRoundedRect(QRectF(view.at(0.3 * base, deck - 0.012), view.at(0.72 * base, deck - 0.07)).normalized(), 3, 3)


def _scooter(p: QPainter, view: View, theme: Theme, s: Sizes) -> None:
    deck, base = s.deck, s.base
    _body(
        p,
        view,
        theme,
        s,
        [
            ((s.cm_x - 0.1, deck + 0.06), (s.cm_x - 0.05, deck + 0.5), (s.cm_x, s.cm_y)),
            ((s.cm_x + 0.15, deck + 0.06), (s.cm_x + 0.14, deck + 0.5), (s.cm_x, s.cm_y)),
            ((s.cm_x, s.cm_y), (s.cm_x + 0.06, s.top + 0.3)),
        ],
        None,
    )
    _stroke(p, view, theme.ink, 0.035, (0.0, s.tyre / 2), (0.16, deck), (0.78 * base, deck), (0.93 * base, deck + 0.14))
    _stroke(p, view, theme.ink, 0.03, (base, s.tyre / 2), (0.93 * base, deck + 0.14), (0.84 * base, 1.02))
    _stroke(p, view, theme.ink, 0.025, (0.84 * base - 0.08, 1.03), (0.84 * base + 0.02, 1.02))


def _bike(p: QPainter, view: View, theme: Theme, s: Sizes, *, sprung: bool) -> None:
    base, axle = s.base, s.tyre / 2
    bracket = (0.40 * base, max(0.27, axle * 0.8))
    seat, head = (0.27 * base, axle + 0.46), (0.79 * base, axle + 0.50)
    hip = (seat[0] - 0.01, seat[1] + 0.1)
    _body(
        p,
        view,
        theme,
        s,
        [
            (hip, (0.47 * base, hip[1] - 0.16), (bracket[0] + 0.08, bracket[1] - 0.1)),
            (hip, (0.45 * base, hip[1] - 0.08), (bracket[0] - 0.08, bracket[1] + 0.1)),
            (hip, (0.50 * base, s.top + 0.06)),
            ((0.50 * base, s.top + 0.02), (head[0] - 0.01, head[1] + 0.12)),
        ],
        None,
    )
    _stroke(p, view, theme.ink, 0.028, bracket, head, (head[0] - 0.015, head[1] - 0.08), (seat[0] + 0.02, seat[1] - 0.1), bracket)
    _stroke(p, view, theme.ink, 0.020, (0.0, axle), bracket)
    _stroke(p, view, theme.ink, 0.020, (0.0, axle), (seat[0] + 0.02, seat[1] - 0.1), seat)
    _stroke(p, view, theme.ink, 0.022, head, (base, axle))
    _stroke(p, view, theme.ink, 0.022, head, (head[0] - 0.02, head[1] + 0.12), (head[0] - 0.12, head[1] + 0.13))
    _stroke(p, view, theme.ink, 0.035, (seat[0] - 0.12, seat[1] + 0.01), (seat[0] + 0.13, seat[1]))
    p.setPen(pen(theme.soft, 1.4))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(view.at(*bracket), 0.09 * view.scale, 0.09 * view.scale)
    if sprung:
        a, b = (0.30 * base, axle + 0.2), (0.50 * base, axle + 0.26)
        points = [(a[0] + (b[0] - a[0]) * k / 8, a[1] + (b[1] - a[1]) * k / 8 + (0.02 if k % 2 else -0.02)) for k in range(9)]
        _stroke(p, view, theme.soft, 0.008, *points)
    else:
        _stroke(p, view, theme.soft, 0.014, (-0.18 * base, axle + 0.36), (seat[0] - 0.06, axle + 0.36))
        _stroke(p, view, theme.soft, 0.010, (-0.16 * base, axle + 0.36), (0.0, axle))


def _kart(p: QPainter, view: View, theme: Theme, s: Sizes) -> None:
    base, rail = s.base, max(s.deck, 0.04) + 0.03
    seat = (0.36 * base, rail + 0.06)
    shoulder = (seat[0] - 0.2, seat[1] + 0.42)
    _body(
        p,
        view,
        theme,
        s,
        [(seat, (0.72 * base, rail + 0.26), (0.98 * base, rail + 0.08)), (seat, shoulder), (shoulder, (0.60 * base, rail + 0.30))],
        (shoulder[0] - 0.01, shoulder[1] + 0.18) if s.top > shoulder[1] + 0.3 else None,
    )
    _stroke(p, view, theme.ink, 0.032, (-s.rear_over, rail), (base + s.front_over, rail))
    _stroke(p, view, theme.ink, 0.030, (seat[0] + 0.16, rail + 0.03), (seat[0] - 0.1, rail + 0.04), (seat[0] - 0.26, rail + 0.40))
    _stroke(p, view, theme.ink, 0.020, (0.82 * base, rail), (0.63 * base, rail + 0.3))
    _stroke(p, view, theme.ink, 0.026, (0.60 * base, rail + 0.20), (0.66 * base, rail + 0.39))
    _stroke(p, view, theme.ink, 0.022, (base + s.front_over, rail), (base + s.front_over, rail + 0.14))


def _chair(p: QPainter, view: View, theme: Theme, s: Sizes) -> None:
    base, seat = s.base, max(s.deck, 0.3) + 0.05
    hip = (0.1 * base, seat + 0.1)
    _body(p, view, theme, s, [(hip, (0.85 * base, seat + 0.1), (0.95 * base, 0.16)), (hip, (0.02, s.top + 0.2))], None)
    _stroke(p, view, theme.ink, 0.03, (-0.1, s.top * 0.92), (-0.02, seat), (0.8 * base, seat), (0.98 * base, 0.14), (1.15 * base, 0.14))
    _stroke(p, view, theme.ink, 0.022, (0.0, s.tyre / 2), (0.02, seat))
    _stroke(p, view, theme.ink, 0.022, (base, s.front_tyre / 2), (0.85 * base, seat))


def _utility(p: QPainter, view: View, theme: Theme, s: Sizes) -> None:
    base, bed = s.base, max(s.deck, 0.15)
    p.setPen(pen(theme.soft, 1.4))
    p.setBrush(with_alpha(theme.soft, 0.16))
    p.drawRect(QRectF(view.at(0.0 - 0.12, bed + 0.36), view.at(0.62 * base, bed + 0.05)))
    _stroke(p, view, theme.ink, 0.04, (-s.rear_over, bed), (base + s.front_over, bed))
    for x, d in ((0.0, s.tyre), (base, s.front_tyre)):
        _stroke(p, view, theme.ink, 0.022, (x, d / 2), (x, bed))
    _stroke(
        p,
        view,
        theme.ink,
        0.022,
        (base + s.front_over, bed),
        (base + s.front_over - 0.06, bed + 0.5),
        (base + s.front_over - 0.2, bed + 0.52),
    )


SIDES: dict[VehicleKind, Callable[[QPainter, View, Theme, Sizes], None]] = {
    VehicleKind.STREET_BOARD: _board,
    VehicleKind.ALL_TERRAIN_BOARD: _board,
    VehicleKind.SCOOTER: _scooter,
    VehicleKind.BIKE: lambda p, v, t, s: _bike(p, v, t, s, sprung=False),
    VehicleKind.SUSPENDED_BIKE: lambda p, v, t, s: _bike(p, v, t, s, sprung=True),
    VehicleKind.KART: _kart,
    VehicleKind.TWO_WHEEL_DRIVE: _chair,
    VehicleKind.UTILITY: _utility,
}


def paint_side(p: QPainter, view: View, theme: Theme, vehicle: Vehicle, s: Sizes) -> None:
    """The side view: ground, body, wheels; driven wheels marked."""
    p.setPen(pen(theme.soft, 1.2))
    p.drawLine(view.at(-s.rear_over - 0.25, 0), view.at(s.base + s.front_over + 0.25, 0))
    SIDES[vehicle.kind](p, view, theme, s)
    paint_wheel(p, view, theme, 0.0, s.tyre, driven=vehicle.driven_axle in ("rear", "all"))
    paint_wheel(p, view, theme, s.base, s.front_tyre, driven=vehicle.driven_axle in ("front", "all"))


def paint_plan(
    p: QPainter, view: View, theme: Theme, vehicle: Vehicle, s: Sizes, *, motors: int, driven_wheels: int, track: float, tyre_w: float
) -> None:
    """The plan: x as in the side view, y across; motors drawn beside the driven axle."""
    base, n = s.base, vehicle.axle_wheels
    half = track / 2
    board = vehicle.kind in (VehicleKind.STREET_BOARD, VehicleKind.ALL_TERRAIN_BOARD)
    width = half * (1.15 if board else 0.72) if n > 1 else 0.035
    p.setPen(pen(theme.soft, 1.5))
    p.setBrush(with_alpha(theme.soft, 0.08))
    over = s.front_over if n > 1 else 0.0
    frame = QRectF(view.at(-over * 0.9, width), view.at(base + over * 0.9, -width)).normalized()
    if board:
        p.drawRoundedRect(frame, frame.height() * 0.45, frame.height() * 0.45)
    elif n > 1:
        p.drawRoundedRect(frame, 6, 6)
    else:
        p.drawRoundedRect(QRectF(view.at(0, width), view.at(base, -width)).normalized(), 2, 2)
        _stroke(p, view, theme.soft, 0.02, (0.79 * base, -0.28), (0.82 * base, 0.0), (0.79 * base, 0.28))
    driven_axle = vehicle.driven_axle
    for x, axle, diameter in ((0.0, "rear", s.tyre), (base, "front", s.front_tyre)):
        count = (
            n
            if axle == driven_axle or driven_axle == "all"
            else (n if board or vehicle.kind in (VehicleKind.KART, VehicleKind.UTILITY, VehicleKind.TWO_WHEEL_DRIVE) else 1)
        )
        sides = (half, -half) if count > 1 else (0.0,)
        if count > 1:
            _stroke(p, view, theme.ink, 0.014, (x, half), (x, -half))
        for k, y in enumerate(sides):
            driven = (axle == driven_axle or driven_axle == "all") and k < driven_wheels
            rect = QRectF(view.at(x - diameter / 2, y + tyre_w / 2), view.at(x + diameter / 2, y - tyre_w / 2)).normalized()
            p.setPen(pen(theme.mechanical if driven else theme.ink, 2.2 if driven else 1.4))
            p.setBrush(with_alpha(theme.mechanical, 0.22) if driven else with_alpha(theme.ink, 0.12))
            p.drawRoundedRect(rect, 3, 3)
    ahead = 1.0 if driven_axle != "front" else -1.0
    axle_x = 0.0 if driven_axle != "front" else base
    can, long = 0.065, 0.08
    for k in range(motors):
        y = (half * 0.45 if k % 2 == 0 else -half * 0.45) if n > 1 and motors > 1 else (0.12 if n == 1 else half * 0.3)
        x = axle_x + ahead * (s.tyre / 2 + 0.06 + 0.09 * (k // 2))
        rect = QRectF(view.at(x, y + long / 2), view.at(x + ahead * can, y - long / 2)).normalized()
        p.setPen(pen(theme.electrical, 1.8))
        p.setBrush(with_alpha(theme.electrical, 0.2))
        p.drawRoundedRect(rect, 2, 2)


def fit(s: Sizes, area: QRectF, height_m: float, width_m: float) -> View:
    """A view that shows width_m by height_m inside an area, ground at its foot."""
    scale = min(area.width() / width_m, area.height() / height_m)
    middle = (s.base + s.front_over - s.rear_over) / 2
    return View(QPointF(area.center().x() - middle * scale, area.bottom()), max(scale, 1.0) if math.isfinite(scale) else 100.0)
