"""Outlines of hulls to scale from their measures: side view and plan by kind, what carries the propeller."""

from __future__ import annotations

import math
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath

from wattagon.design.boats import BOATS
from wattagon.design.hull_shapes import SHAPES, sides
from wattagon.design.tree import Place, PropellerChoice, Vehicle, VehicleKind
from wattagon.desk.chart.ink import pen
from wattagon.desk.theme import Theme, with_alpha
from wattagon.study.layout.boat import TAIL_HEAD_M, Works


class Float(NamedTuple):
    """Where metres fall on the page: x ahead of the transom, y up from the surface; the hull turns about a point by its trim."""

    origin: QPointF
    scale: float
    draught: float = 0.0  # level
    about: float = 0.0
    trim: float = 0.0  # bow up [rad]

    def at(self, x: float, y: float) -> QPointF:
        """A point of the world."""
        return QPointF(self.origin.x() + x * self.scale, self.origin.y() - y * self.scale)

    def hull(self, x: float, z: float) -> QPointF:
        """A point of the hull, z above its bottom."""
        lift = (x - self.about) * math.tan(self.trim)
        return self.at(x, z - self.draught + lift)


def _smooth(points: list[QPointF]) -> QPainterPath:
    """A soft line through points."""
    path = QPainterPath(points[0])
    for k in range(len(points) - 1):
        a, b = points[k], points[k + 1]
        before, after = points[max(k - 1, 0)], points[min(k + 2, len(points) - 1)]
        path.cubicTo(a + (b - before) / 6.0, b - (after - a) / 6.0, b)
    return path


def _profile(view: Float, kind: VehicleKind, length: float, depth: float, lean: float) -> QPainterPath:
    """An outline; with its transom leaning aft by an angle from its foot up."""
    shape = SHAPES[kind]
    (foot, low), *bottom = shape.bottom
    (_, high), *gunwale = shape.gunwale
    aft = foot * length - math.tan(lean) * (high - low) * depth if lean else shape.gunwale[0][0] * length
    path = _smooth([view.hull(x * length, z * depth) for x, z in ((foot, low), *bottom)])
    top = _smooth([*(view.hull(x * length, z * depth) for x, z in reversed(gunwale)), view.hull(aft, high * depth)])
    path.connectPath(top)
    path.closeSubpath()
    return path


def paint_water(p: QPainter, theme: Theme, area: QRectF, surface: float) -> None:
    """Water below its surface, a little wavy."""
    p.fillRect(QRectF(area.left(), surface, area.width(), area.bottom() - surface), with_alpha(theme.soft, 0.11))
    path, x, up = QPainterPath(QPointF(area.left(), surface)), area.left(), True
    while x < area.right():
        path.quadTo(QPointF(x + 9.0, surface + (-1.4 if up else 1.4)), QPointF(min(x + 18.0, area.right()), surface))
        x, up = x + 18.0, not up
    p.setPen(pen(theme.soft, 1.3))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)


def paint_hull(p: QPainter, view: Float, theme: Theme, vehicle: Vehicle, length: float, depth: float) -> None:
    """The hull from the side."""
    angle = vehicle.hull.transom_angle if vehicle.hull is not None else None
    path = _profile(view, vehicle.kind, length, depth, angle.value if angle is not None else 0.0)
    p.setPen(pen(theme.ink, 2.0))
    p.setBrush(with_alpha(theme.panel, 0.75))
    p.drawPath(path)
    if vehicle.kind is VehicleKind.INFLATABLE:
        p.setPen(pen(theme.soft, 1.0))
        p.drawPath(
            _smooth([view.hull(x * length, 0.52 * depth + rise) for x, rise in ((-0.03, 0.0), (0.6, 0.0), (0.95, 0.16), (1.07, 0.4))])
        )
    if vehicle.kind is VehicleKind.TWIN_HULL:
        p.setPen(pen(theme.ink, 4.0))
        p.drawLine(view.hull(0.18 * length, 1.05 * depth), view.hull(0.78 * length, 1.05 * depth))


def paint_crew(p: QPainter, view: Float, theme: Theme, x: float, floor: float, many: bool, alpha: float = 0.30) -> None:
    """People who sit, as soft limbs, about a place."""
    line = pen(with_alpha(theme.soft, alpha), max(0.10 * view.scale, 3.0))
    line.setCapStyle(Qt.PenCapStyle.RoundCap)
    line.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    for at in (x - 0.45, x + 0.55) if many else (x,):
        p.setPen(line)
        p.setBrush(Qt.BrushStyle.NoBrush)
        hip = floor + 0.22
        limbs = [
            view.hull(at + 0.55, floor + 0.08),
            view.hull(at + 0.36, floor + 0.36),
            view.hull(at, hip),
            view.hull(at + 0.05, hip + 0.44),
        ]
        path = QPainterPath(limbs[0])
        for point in limbs[1:]:
            path.lineTo(point)
        p.drawPath(path)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(with_alpha(theme.soft, alpha))
        p.drawEllipse(view.hull(at + 0.06, hip + 0.59), 0.09 * view.scale, 0.105 * view.scale)


def paint_carrier(
    p: QPainter, view: Float, theme: Theme, choice: PropellerChoice, at: Works, depth: float, diameter: float, can: tuple[float, float]
) -> None:
    """Strut, leg or tail with motor and propeller, at the stern."""
    hub, transom = view.at(at.x, at.y), view.hull(0.0, depth)
    radius, (can_d, can_l) = diameter / 2.0 * view.scale, can
    body = pen(theme.ink, max(0.03 * view.scale, 2.0))
    body.setCapStyle(Qt.PenCapStyle.RoundCap)
    p.setPen(body)
    p.setBrush(Qt.BrushStyle.NoBrush)
    if choice.place is Place.LONG_TAIL:
        pivot_y = choice.pivot_height.value if choice.pivot_height is not None else 0.15
        pivot = view.at(0.0, pivot_y)
        head = view.at(TAIL_HEAD_M, pivot_y + TAIL_HEAD_M * math.tan(at.tilt))
        p.drawLine(head, hub)
        p.setPen(pen(theme.ink, 1.6))
        p.setBrush(theme.panel)
        p.drawEllipse(pivot, 4.0, 4.0)
        motor = QRectF(head.x() - can_l * view.scale / 2, head.y() - can_d * view.scale / 2, can_l * view.scale, can_d * view.scale)
    elif choice.place in (Place.POD, Place.LEG, Place.RUDDER):
        knee = view.at(at.x + (0.03 if choice.place is Place.POD else 0.0), 0.0)
        p.drawLine(QPointF(knee.x(), min(transom.y(), view.at(0, 0.12).y())), QPointF(knee.x(), hub.y()))
        p.drawLine(QPointF(knee.x(), transom.y() + 3), QPointF(view.hull(0.02, depth).x(), transom.y() + 3))
        above = choice.place is Place.LEG
        middle = QPointF(knee.x(), transom.y() - can_l * view.scale / 2) if above else hub + QPointF(can_l * view.scale / 2 + 2, 0)
        wide, high = (can_d, can_l) if above else (can_l, can_d)
        motor = QRectF(middle.x() - wide * view.scale / 2, middle.y() - high * view.scale / 2, wide * view.scale, high * view.scale)
    else:
        inside = view.hull(0.75, 0.12)
        p.drawLine(inside, hub)
        motor = QRectF(inside.x(), inside.y() - can_d * view.scale / 2, can_l * view.scale, can_d * view.scale)
    p.setPen(pen(theme.electrical, 1.8))
    p.setBrush(with_alpha(theme.electrical, 0.25))
    p.drawRoundedRect(motor, 3, 3)
    p.setPen(pen(theme.mechanical, 1.8))
    p.setBrush(with_alpha(theme.mechanical, 0.45))
    p.save()
    p.translate(hub)
    p.rotate(math.degrees(-at.tilt if choice.place is Place.LONG_TAIL else at.tilt))
    p.drawEllipse(QPointF(0, -radius / 2), max(0.10 * radius, 2.0), radius / 2)
    p.drawEllipse(QPointF(0, radius / 2), max(0.10 * radius, 2.0), radius / 2)
    p.restore()


def paint_plan(p: QPainter, view: Float, theme: Theme, vehicle: Vehicle, length: float, beam: float, gap: float) -> None:
    """The hull from above: x as in the side view, y across."""
    p.setPen(pen(theme.ink, 1.6))
    p.setBrush(with_alpha(theme.soft, 0.10))
    reach = SHAPES[vehicle.kind].reach
    both = BOATS[vehicle.kind].hulls > 1
    for middle in (gap / 2, -gap / 2) if both else (0.0,):
        half = beam / 2
        outline = sides(vehicle.kind)
        port = _smooth([view.at(x * length, middle + y * half) for x, y in outline])
        port.connectPath(_smooth([view.at(x * length, middle - y * half) for x, y in reversed(outline)]))
        port.closeSubpath()
        p.drawPath(port)
    if both:
        p.setPen(pen(theme.soft, 3.0))
        for x in (0.25, 0.7):
            p.drawLine(view.at(x * length, gap / 2), view.at(x * length, -gap / 2))
    p.setPen(pen(theme.rule, 1.0, (8.0, 3.0, 2.0, 3.0)))
    p.drawLine(view.at(-0.2, 0), view.at((reach + 0.04) * length, 0))
