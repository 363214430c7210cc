"""The plan: wheels, belts, plates and cans across the vehicle; what meets is hatched."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter

from wattagon.desk.chart.ink import pen, put_right, put_text, text_width
from wattagon.desk.layout.page import Page
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.desk.vehicle_outline import View, sizes
from wattagon.desk.vehicle_outline import paint_plan as outline
from wattagon.study.findings.status import Status
from wattagon.study.layout.gaps import across
from wattagon.study.layout.place import PLATE_M
from wattagon.study.layout.study import LayoutStudy


def paint_plan(p: QPainter, page: Page, theme: Theme, found: LayoutStudy, session: Session, area: QRectF, *, whole: bool) -> None:
    """Everything across; behind it the vehicle where all of it is in view."""
    scene, say = found.scene, session.say
    if whole:
        _paint_vehicle(p, page, theme, found)
    p.setPen(theme.soft)
    put_text(p, area.left() + 10, area.top() + 16, "from above", font(12))
    tread = scene.tread_wide_m
    clear = scene.clear_width.value if scene.clear_width is not None else 0.16
    several = scene.wheels_on_axle > 1
    p.setPen(pen(theme.ink, 2.0))
    half = 0.5 * clear + tread if several else 0.10
    p.drawLine(page.plan(0, half), page.plan(0, -half))
    for middle in (0.5 * (clear + tread), -0.5 * (clear + tread)) if several else (0.0,):
        _rect(p, page, theme.ink, 0.10, -scene.tyre_m, scene.tyre_m, middle - 0.5 * tread, middle + 0.5 * tread, radius=4.0)
    if not scene.can_stands:
        return
    belts, can = across(scene)
    ends: list[tuple[float, float, float]] = []
    for k in range(min(scene.motors, 2)):
        side = 1.0 if k == 0 else -1.0
        flip = -1.0 if found.layout.behind and k == 1 else 1.0
        y0, y1 = (side * belts[1], side * belts[0]) if several else belts
        for one in found.stages:
            driver, driven = found.shafts[one.position], found.shafts[one.position + 1]
            x0, x1 = sorted((flip * driver.x, flip * driven.x))
            r0, r1 = 0.5 * one.made.driver_m, 0.5 * one.made.driven_m
            aside = 0.0 if one.position == len(found.stages) - 1 else -0.02 * side  # an earlier stage runs further in
            _rect(p, page, theme.mechanical, 0.22, x0 - r0, x1 + r1, y0 + aside, y1 + aside)
        for mesh in found.meshes:
            for disc in mesh.discs[:2]:
                x0, x1 = sorted((flip * (disc.x - disc.radius), flip * (disc.x + disc.radius)))
                _rect(p, page, theme.mechanical, 0.18, x0, x1, y0, y1, radius=2.0)
        motor = found.shafts[0]
        x, plate = flip * motor.x, found.layout.plate.value if found.layout.plate is not None else PLATE_M
        _rect(p, page, theme.ink, 0.35, x - 0.55 * scene.can_m, x + 0.55 * scene.can_m, side * can[1], side * (can[1] + plate))
        _rect(p, page, theme.electrical, 0.20, x - 0.5 * scene.can_m, x + 0.5 * scene.can_m, side * can[1], side * can[0], radius=3.0)
        ends.append((x, side * can[0], flip))
    if len(ends) == 2 and several and ends[0][2] == ends[1][2] and ends[0][1] < ends[1][1]:
        x = ends[0][0]
        area_of = QRectF(page.plan(x - 0.5 * scene.can_m, ends[1][1]), page.plan(x + 0.5 * scene.can_m, ends[0][1])).normalized()
        p.setPen(pen(theme.over, 1.6))
        p.setBrush(with_alpha(theme.over, 0.18))
        p.drawRect(area_of)
        p.setBrush(Qt.BrushStyle.BDiagPattern)
        p.drawRect(area_of)
    gap = next((one for one in found.gaps if one.code == "cans.between"), None)
    if gap is not None:
        words = gap.because if gap.status is Status.NOT_CHECKED else _told(gap.nominal, gap.between, say)
        face = font(13, 600)
        wide = text_width(words, face)
        p.fillRect(QRectF(area.right() - 14 - wide, area.top() + 2, wide + 8, 19), with_alpha(theme.panel, 0.85))
        p.setPen(theme.of(gap.status))
        put_right(p, area.right() - 10, area.top() + 16, words, face)
    if several and scene.clear_width is not None:
        x = page.plan(-scene.tyre_m, 0).x() - 14
        top, low = page.plan(0, 0.5 * clear).y(), page.plan(0, -0.5 * clear).y()
        p.setPen(pen(theme.soft, 1.0))
        p.drawLine(QPointF(x, top), QPointF(x, low))
        for y in (top, low):
            p.drawLine(QPointF(x - 4, y + 2), QPointF(x + 4, y - 2))
        p.setPen(theme.ink)
        words, face = say(clear, "length"), font(13, 600)
        put_right(p, max(x - 6, area.left() + 6 + text_width(words, face)), 0.5 * (top + low) + 4, words, face)


def _paint_vehicle(p: QPainter, page: Page, theme: Theme, found: LayoutStudy) -> None:
    scene, vehicle = found.scene, found.design.vehicle
    clear = scene.clear_width.value if scene.clear_width is not None else 0.2
    p.save()
    p.setOpacity(0.3)
    view = View(page.plan(scene.axles[0], 0.0), page.scale)
    track, tread = clear + scene.tread_wide_m, scene.tread_wide_m
    outline(p, view, theme, vehicle, sizes(vehicle, 2.0 * scene.tyre_m), motors=0, driven_wheels=0, track=track, tyre_w=tread)
    p.restore()


def _told(nominal: float, between: str, say) -> str:  # type: ignore[no-untyped-def]
    if nominal < 0.0:
        return f"{between}: too long by {say(round(-nominal, 4), 'length')}"
    return f"{between}: {say(round(nominal, 4), 'length')} left"


def _rect(p: QPainter, page: Page, colour, alpha: float, x0: float, x1: float, y0: float, y1: float, radius: float = 0.0) -> None:  # type: ignore[no-untyped-def]
    p.setPen(pen(colour, 1.4))
    p.setBrush(with_alpha(colour, alpha))
    p.drawRoundedRect(QRectF(page.plan(x0, y0), page.plan(x1, y1)).normalized(), radius, radius)
