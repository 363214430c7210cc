"""A boat in the layout: stern, propeller, what carries it and the motor to scale, from the side and above; loops as along the shaft."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF

from wattagon.desk.chart.ink import pen, put_text
from wattagon.desk.hull_outline import Float, paint_carrier, paint_hull, paint_plan, paint_water
from wattagon.desk.layout.page import Page
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.physics.path import drawn
from wattagon.study.layout.boat import Berth
from wattagon.study.layout.study import LayoutStudy


def paint_boat(p: QPainter, page: Page, theme: Theme, found: LayoutStudy, area: QRectF) -> None:
    """From the side: hull, water, carrier with motor and propeller."""
    berth = _berth(found)
    surface = page.side(0.0, berth.draught)
    view = Float(QPointF(page.side(0.0, 0.0).x(), surface.y()), page.scale, berth.draught)
    paint_hull(p, view, theme, found.design.vehicle, berth.length, berth.sides_m)
    can = (berth.can_m, berth.can_long_m)
    paint_carrier(p, view, theme, berth.choice, berth.works, berth.sides_m, berth.diameter, can)
    paint_water(p, theme, area, surface.y())
    if found.stages or found.meshes:
        _along_the_shaft(p, theme, found, area)


def _berth(found: LayoutStudy) -> Berth:
    assert found.scene.berth is not None
    return found.scene.berth


def _along_the_shaft(p: QPainter, theme: Theme, found: LayoutStudy, area: QRectF) -> None:
    """The reduction before the shaft as seen along it, in the upper left corner."""
    box = QRectF(area.left() + 8, area.top() + 40, 0.34 * area.width(), 0.52 * area.height())
    p.fillRect(box, with_alpha(theme.panel, 0.94))
    p.setPen(pen(theme.rule, 1.0))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(box)
    circles = [(wheel.round.x, wheel.round.y, wheel.outside) for run in found.stages for wheel in run.path.wheels]
    circles += [(disc.x, disc.z, disc.radius) for mesh in found.meshes for disc in mesh.discs]
    motor = found.shafts[0]
    circles.append((motor.x, motor.z, 0.5 * found.scene.can_m))
    low_x, high_x = min(x - r for x, _, r in circles), max(x + r for x, _, r in circles)
    low_z, high_z = min(z - r for _, z, r in circles), max(z + r for _, z, r in circles)
    scale = min(0.86 * box.width() / (high_x - low_x), 0.72 * box.height() / (high_z - low_z))
    middle = QPointF(box.center().x(), box.center().y() + 8)
    at = lambda x, z: middle + QPointF((x - 0.5 * (low_x + high_x)) * scale, -(z - 0.5 * (low_z + high_z)) * scale)
    p.setPen(pen(theme.electrical, 1.4))
    p.setBrush(with_alpha(theme.electrical, 0.15))
    p.drawEllipse(at(motor.x, motor.z), 0.5 * found.scene.can_m * scale, 0.5 * found.scene.can_m * scale)
    p.setPen(pen(theme.mechanical, 1.4))
    p.setBrush(with_alpha(theme.mechanical, 0.10))
    for x, z, radius in circles[:-1]:
        p.drawEllipse(at(x, z), radius * scale, radius * scale)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(pen(theme.mechanical, 2.4))
    for run in found.stages:
        if run.path.loop.wraps:
            p.drawPolygon(QPolygonF([at(x, z) for x, z in drawn([wheel.round for wheel in run.path.wheels], run.path.loop)]))
    p.setPen(theme.soft)
    put_text(p, box.left() + 6, box.top() + 15, "along the shaft", font(12))


def paint_boat_plan(p: QPainter, page: Page, theme: Theme, found: LayoutStudy, area: QRectF) -> None:
    """From above: hull, motor, propeller."""
    berth = _berth(found)
    p.setPen(theme.soft)
    put_text(p, area.left() + 10, area.top() + 16, "from above", font(12))
    view = Float(page.plan(0.0, 0.0), page.scale)
    track = found.design.vehicle.track.value if found.design.vehicle.track is not None else 1.1 * berth.beam
    paint_plan(p, view, theme, found.design.vehicle, berth.length, berth.beam, track)
    (x0, x1), (y0, y1), _ = berth.motor_box()
    p.setPen(pen(theme.electrical, 1.6))
    p.setBrush(with_alpha(theme.electrical, 0.22))
    p.drawRoundedRect(QRectF(page.plan(x0, y1), page.plan(x1, y0)).normalized(), 3.0, 3.0)
    x, y, _ = berth.propeller
    p.setPen(pen(theme.mechanical, 1.8))
    p.setBrush(with_alpha(theme.mechanical, 0.4))
    p.drawEllipse(page.plan(x, y), max(0.05 * berth.diameter * page.scale, 2.0), 0.5 * berth.diameter * page.scale)
