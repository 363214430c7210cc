"""The side view: vehicle softly, wheels of the drive with their loops as they run, the can, gaps as dimensions, what meets hatched."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF

from wattagon.design.tree import ReductionKind
from wattagon.desk.chart.ink import Labels, pen, put_text
from wattagon.desk.layout.gaps import smear
from wattagon.desk.layout.page import Page
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.desk.vehicle_outline import View, paint_side, sizes
from wattagon.physics.path import drawn
from wattagon.study.findings.status import URGENCY, Status
from wattagon.study.layout.edits import told
from wattagon.study.layout.found import Found
from wattagon.study.layout.gaps import CRANK_M, FLAT, across, corners, crank_at, deck_under_m, truck_path
from wattagon.study.layout.stage import Running, Wheel, draw
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.layout.swing import axle_at

TEETH_FROM = 26.0  # pixels of radius from which teeth are drawn
AWAY = ((8, -18), (8, 6), (-96, -18), (-96, 6), (14, -38), (14, 26), (-110, -40), (20, 48), (-120, 40))  # of a gap's words [px]
SHOWN, SHOWN_WHOLE = 5, 1  # clear gaps that are shown beside those that want attention


def paint_vehicle(p: QPainter, page: Page, theme: Theme, found: LayoutStudy) -> None:
    """The vehicle behind it, and the ground."""
    vehicle, scene = found.design.vehicle, found.scene
    tyre = 2.0 * scene.tyre_m
    base = vehicle.wheelbase.value if vehicle.driven_axle == "front" else 0.0
    p.save()
    p.setOpacity(0.18)
    paint_side(p, View(page.side(-base, -scene.tyre_m), page.scale), theme, vehicle, sizes(vehicle, tyre))
    p.restore()


def paint_drive(p: QPainter, page: Page, theme: Theme, found: LayoutStudy, selected: int) -> None:
    """Wheel, loops, can."""
    scene = found.scene
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(pen(with_alpha(theme.ink, 0.75), 1.6))
    p.drawEllipse(page.side(0, 0), scene.tyre_m * page.scale, scene.tyre_m * page.scale)
    p.setPen(pen(theme.soft, 1.2))
    p.drawEllipse(page.side(0, 0), scene.axle_m * page.scale, scene.axle_m * page.scale)
    motor = found.shafts[0]
    if scene.can_m > 0.0 and motor.name == "motor":
        p.setPen(pen(theme.electrical, 2.4 if selected == 0 else 1.8))
        p.setBrush(with_alpha(theme.electrical, 0.18))
        radius = 0.5 * scene.can_m * page.scale
        p.drawEllipse(page.side(motor.x, motor.z), radius, radius)
    where = crank_at(scene)
    if where is not None:
        long = scene.layout.crank_length.value if scene.layout.crank_length is not None else CRANK_M
        p.setPen(pen(with_alpha(theme.soft, 0.7), 1.0, (4.0, 3.0)))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(page.side(*where), long * page.scale, long * page.scale)
    for one in found.stages:
        paint_stage(p, page, theme, one)
    for mesh in found.meshes:
        for disc in mesh.discs:
            p.setPen(pen(theme.mechanical, 1.4, (6.0, 2.0, 1.0, 2.0) if mesh.choice.kind is not ReductionKind.FRICTION else ()))
            p.setBrush(with_alpha(theme.mechanical, 0.10))
            p.drawEllipse(page.side(disc.x, disc.z), disc.radius * page.scale, disc.radius * page.scale)
    for shaft in found.shafts:
        at = page.side(shaft.x, shaft.z)
        p.setPen(pen(theme.ink, 1.2, (2.0, 2.0) if shaft.proposed else ()))
        p.setBrush(theme.panel)
        p.drawEllipse(at, 4.0, 4.0)
    if 0 <= selected < len(found.shafts) - 1:
        at = page.side(found.shafts[selected].x, found.shafts[selected].z)
        p.setPen(pen(theme.electrical, 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawEllipse(at, 8.0, 8.0)


def paint_stage(p: QPainter, page: Page, theme: Theme, one: Running) -> None:
    """Its wheels and its loop; a loop that cannot be is dashed and red."""
    for wheel in one.path.wheels:
        _paint_wheel(p, page, theme, one, wheel)
    if not one.path.loop.wraps:
        return
    points = [page.side(x, z) for x, z in drawn([wheel.round for wheel in one.path.wheels], one.path.loop)]
    thick = 1e3 * (one.made.kind.thick_m if one.made.kind is not None else 1e-3 * (one.made.family.roller_mm or 4.0))
    width = max(2.0, 1e-3 * thick * page.scale * 0.8)
    real = one.path.loop.real
    line = pen(with_alpha(theme.mechanical if real else theme.over, 0.85), min(width, 9.0), () if real else (2.0, 2.0))
    p.setPen(line)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPolygon(QPolygonF(points))


def _paint_wheel(p: QPainter, page: Page, theme: Theme, one: Running, wheel: Wheel) -> None:
    at, radius = page.side(wheel.round.x, wheel.round.y), wheel.round.radius * page.scale
    p.setPen(pen(theme.mechanical, 1.4))
    p.setBrush(with_alpha(theme.mechanical, 0.10))
    if wheel.what == "idler":
        p.drawEllipse(at, wheel.outside * page.scale, wheel.outside * page.scale)
        return
    p.drawEllipse(at, radius, radius)
    if radius < TEETH_FROM or wheel.teeth > 200:
        return
    depth = 0.45 * one.made.pitch_m * page.scale
    p.setPen(pen(with_alpha(theme.mechanical, 0.7), 1.0))
    turns = np.arange(wheel.teeth) * (2.0 * math.pi / wheel.teeth)
    x, y = np.cos(turns), -np.sin(turns)
    ends = [(at.x() + r * x, at.y() + r * y) for r in (radius - depth, radius)]
    (x0, y0), (x1, y1) = ends
    p.drawLines([QLineF(*line) for line in zip(x0.tolist(), y0.tolist(), x1.tolist(), y1.tolist(), strict=True)])


def paint_obstacles(p: QPainter, page: Page, theme: Theme, found: LayoutStudy) -> None:
    """Pieces of the frame that the drive has to clear."""
    p.setPen(pen(theme.ink, 1.4))
    p.setBrush(with_alpha(theme.ink, 0.14))
    for one in found.layout.obstacles:
        if one.shape == "circle":
            p.drawEllipse(page.side(one.x, one.z), one.radius * page.scale, one.radius * page.scale)
        elif one.shape == "box":
            p.drawPolygon(QPolygonF([page.side(*corner) for corner in corners(one)]))
        else:
            p.save()
            p.setPen(pen(with_alpha(theme.ink, 0.5), max(2.0 * one.radius * page.scale, 2.0)))
            p.drawLine(page.side(one.x, one.z), page.side(one.x2, one.z2))
            p.restore()
        p.save()
        p.setPen(theme.soft)
        put_text(p, page.side(one.x, one.z).x() + 4, page.side(one.x, one.z).y() - 4, one.name, font(12))
        p.restore()


def paint_deck(p: QPainter, page: Page, theme: Theme, found: LayoutStudy) -> None:
    """The underside of a board's deck."""
    scene = found.scene
    if scene.deck_height is None or scene.vehicle_kind not in FLAT:
        return
    under, far = deck_under_m(scene), found.shafts[0].x + 2.5 * scene.can_m
    p.setPen(pen(theme.ink, 1.4, (6.0, 3.0)))
    p.drawLine(page.side(-scene.tyre_m, under), page.side(far, under))


def paint_swept(p: QPainter, page: Page, theme: Theme, found: LayoutStudy, area: QRectF, code: str, far: float) -> None:
    """What moves where a sweep has brought it: the can of a turning truck, the wheel of an arm with its loop, a leaning vehicle."""
    scene = found.scene
    p.setPen(pen(theme.electrical, 1.4, (3.0, 3.0)))
    p.setBrush(Qt.BrushStyle.NoBrush)
    if code == "truck":
        radius = 0.5 * scene.can_m * page.scale
        for _, x, z in truck_path(scene, (far,)):
            p.drawEllipse(page.side(x, z), radius, radius)
    elif code == "travel":
        x, z = axle_at(scene.layout, far)
        p.drawEllipse(page.side(x, z), scene.tyre_m * page.scale, scene.tyre_m * page.scale)
        assert scene.layout.pivot is not None
        p.drawLine(page.side(scene.layout.pivot.x.value, scene.layout.pivot.z.value), page.side(x, z))
        for one in found.stages:
            if found.shafts[one.position + 1].name == "axle":
                idlers, driven = told(scene.layout, one.position).idlers, found.shafts[-1]._replace(x=x, z=z)
                moved = draw(one.made, found.shafts[one.position], driven, idlers)
                if moved.loop.wraps:
                    p.drawPolygon(QPolygonF([page.side(*at) for at in drawn([wheel.round for wheel in moved.wheels], moved.loop)]))
    else:
        _paint_leaning(p, theme, found, area, far)


def _paint_leaning(p: QPainter, theme: Theme, found: LayoutStudy, area: QRectF, lean: float) -> None:
    """From behind, in the lower left corner: the tyre upright, the ground turned up to it."""
    scene = found.scene
    half = 0.5 * scene.tread_wide_m
    outs = [half, *(abs(y) for lies in across(scene) for y in lies if scene.stages), *(max(map(abs, b.box[1])) for b in scene.bodies)]
    scale = min(0.30 * area.width() / max(outs), 0.42 * area.height() / (2.0 * scene.tyre_m))
    box = QRectF(area.left() + 10, area.bottom() - 0.55 * area.height() - 8, 0.40 * area.width(), 0.55 * area.height())
    p.fillRect(box, with_alpha(theme.panel, 0.92))
    p.setPen(pen(theme.rule, 1.0))
    p.drawRect(box)
    p.save()
    p.setClipRect(box)
    middle, low = box.left() + 0.35 * box.width(), box.bottom() - 0.26 * box.height()
    at = lambda y, z: QPointF(middle + y * scale, low - (z + scene.tyre_m) * scale)
    p.setPen(pen(theme.ink, 1.4))
    p.setBrush(with_alpha(theme.ink, 0.12))
    p.drawRoundedRect(QRectF(at(-half, scene.tyre_m), at(half, -scene.tyre_m)), 4.0, 4.0)
    rects = []
    if scene.stages:
        belts, can = across(scene)
        last = found.stages[-1]
        low_r = 0.5 * last.made.outside_m(last.made.driven_m)
        rects = [(theme.mechanical, belts, (-low_r, low_r))]
        if scene.can_m > 0.0:
            z = found.shafts[0].z
            rects.append((theme.electrical, can, (z - 0.5 * scene.can_m, z + 0.5 * scene.can_m)))
    rects += [(theme.electrical, one.box[1], one.box[2]) for one in scene.bodies if not one.missing]
    for colour, (y0, y1), (z0, z1) in rects:
        p.setPen(pen(colour, 1.2))
        p.setBrush(with_alpha(colour, 0.18))
        p.drawRect(QRectF(at(y0, z1), at(y1, z0)).normalized())
    edge, reach = at(half, -scene.tyre_m), box.width()
    p.setPen(pen(theme.ink, 1.8))
    p.drawLine(edge, edge + QPointF(reach * math.cos(lean), -reach * math.sin(lean)))
    p.drawLine(edge, edge - QPointF(reach * math.cos(lean), -reach * math.sin(lean)))
    p.setPen(theme.soft)
    put_text(p, box.left() + 6, box.top() + 15, f"from behind, leaning {math.degrees(lean):.0f}°", font(12))
    p.restore()


def shown_gaps(found: LayoutStudy, *, whole: bool = False) -> list[Found]:
    """Gaps that have a place in side view: all that want attention, and the narrowest of the others; of the whole vehicle fewer."""
    near = lambda one: one.status is not Status.CLEAR or (one.nominal < 4.0 * one.wanted and (whole or not one.code.startswith("body.")))
    placed = [one for one in found.gaps if one.at is not None and near(one)]
    placed.sort(key=lambda one: (URGENCY[one.status], one.margin))
    urgent = sum(one.status is not Status.CLEAR for one in placed)
    return placed[: urgent + (SHOWN_WHOLE if whole else SHOWN)]


def paint_gaps(
    p: QPainter, page: Page, theme: Theme, found: LayoutStudy, session: Session, labels: Labels, chosen: str, *, whole: bool
) -> None:
    """Each gap as a dimension that names it; where things meet they are hatched."""
    for one in shown_gaps(found, whole=whole):
        assert one.at is not None
        a, b = page.side(one.at[0], one.at[1]), page.side(one.at[2], one.at[3])
        colour = theme.of(one.status)
        meets = one.nominal < 0.0
        if meets:
            _hatch(p, theme, (a + b) * 0.5, max(0.75 * math.hypot(b.x() - a.x(), b.y() - a.y()), 9.0))
        smear(p, a, b, page.scale, one, colour)
        p.setPen(pen(colour, 2.2 if one.code == chosen else 1.4))
        p.drawLine(a, b)
        length = math.hypot(b.x() - a.x(), b.y() - a.y()) or 1.0
        nx, ny = -(b.y() - a.y()) / length, (b.x() - a.x()) / length
        for end in (a, b):
            p.drawLine(end - QPointF(nx, ny) * 4.0, end + QPointF(nx, ny) * 4.0)
        told = session.say(round(abs(one.nominal), 4), "length")
        told = f"meets by {told}" if meets else told
        middle = (a + b) * 0.5
        places = [middle + QPointF(*away) for away in AWAY]
        bold = one.status is not Status.CLEAR or one.code == chosen
        face, ink = (font(13, 600), colour) if bold else (font(12), theme.ink)
        labels.text(places, told, ink, face, second=one.between if bold else "", second_colour=theme.soft)


def _hatch(p: QPainter, theme: Theme, middle: QPointF, radius: float) -> None:
    p.save()
    p.setPen(pen(theme.over, 1.6))
    p.setBrush(with_alpha(theme.over, 0.14))
    p.drawEllipse(middle, radius, radius)
    p.setBrush(Qt.BrushStyle.BDiagPattern)
    p.drawEllipse(middle, radius, radius)
    p.restore()


def paint_centres(p: QPainter, page: Page, theme: Theme, found: LayoutStudy, session: Session, labels: Labels) -> None:
    """Centre distance and loop of each stage along its line of centres."""
    for one in found.stages:
        driver, driven = found.shafts[one.position], found.shafts[one.position + 1]
        a, b = page.side(driver.x, driver.z), page.side(driven.x, driven.z)
        p.setPen(pen(theme.soft, 1.0, (8.0, 3.0, 2.0, 3.0)))
        p.drawLine(a, b)
        what = "teeth" if one.made.kind is not None else "links"
        words = f"{session.say(round(one.centre_m, 4), 'length')}, {one.loop} {what}"
        middle = (a + b) * 0.5
        by = session.say(round(abs(one.off_m), 4), "length")
        second = "" if abs(one.off_m) < 5e-4 else f"{by} {'too short' if one.off_m > 0 else 'too long'}"
        places = [middle + QPointF(*away) for away in ((-50, -20), (-50, 8), (-50, -44), (-50, 34), (20, -60))]
        wrong = bool(second) or not one.in_stock
        labels.text(places, words, theme.over if wrong else theme.mechanical, font(13, 600), second=second, second_colour=theme.over)
    for mesh in found.meshes:
        driver, driven = found.shafts[mesh.position], found.shafts[mesh.position + 1]
        middle = (page.side(driver.x, driver.z) + page.side(driven.x, driven.z)) * 0.5
        off = session.say(round(abs(mesh.off_m), 5), "length")
        second = "" if abs(mesh.off_m) < 1e-4 else f"{off} {'too far' if mesh.off_m > 0 else 'too near'}"
        words = session.say(round(mesh.centre_m, 5), "length") if mesh.centre_m > 0.0 else f"{mesh.planet_count} planets"
        places = [middle + QPointF(*away) for away in ((-50, -20), (-50, 8), (-50, -44), (-50, 34))]
        labels.text(places, words, theme.mechanical, font(13, 600), second=second, second_colour=theme.over)


def frame_of(found: LayoutStudy, page: Page) -> QRectF:
    """Where the drive lies in side view."""
    scene = found.scene
    return QRectF(page.side(-scene.tyre_m, scene.tyre_m), page.side(scene.tyre_m, -scene.tyre_m))
