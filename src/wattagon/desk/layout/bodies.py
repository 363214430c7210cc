"""What rides along, as boxes on both views: solid where it is told, dotted where it is only proposed."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from wattagon.desk.chart.ink import pen, put_text, text_width
from wattagon.desk.layout.page import Page
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.layout.aboard import Aboard
from wattagon.study.layout.study import LayoutStudy

LEAST_PX = 26.0


def box_in_side(page: Page, one: Aboard) -> QRectF:
    """Where a body lies in side view."""
    (x0, x1), _, (z0, z1) = one.box
    return QRectF(page.side(x0, z1), page.side(x1, z0)).normalized()


def box_in_plan(page: Page, one: Aboard) -> QRectF:
    """Where a body lies in plan."""
    (x0, x1), (y0, y1), _ = one.box
    return QRectF(page.plan(x0, y1), page.plan(x1, y0)).normalized()


def paint_bodies(p: QPainter, page: Page, theme: Theme, found: LayoutStudy, chosen: int, *, plan: bool, whole: bool) -> None:
    """All of them in one view, boxes that hold others first."""
    order = sorted(range(len(found.scene.bodies)), key=lambda k: (found.scene.bodies[k].kind != "box", k))
    for k in order:
        one = found.scene.bodies[k]
        if one.missing and not whole and k != chosen:  # a proposal does not crowd the drive
            continue
        rect = box_in_plan(page, one) if plan else box_in_side(page, one)
        ink = theme.electrical if one.kind in ("pack", "controller", "receiver", "port", "disconnect", "light") else theme.ink
        style = (2.0, 2.0) if one.missing else ()
        p.setPen(pen(ink, 2.4 if k == chosen else 1.3, style))
        p.setBrush(with_alpha(ink, 0.06 if one.missing or one.kind == "box" else 0.14))
        p.drawRoundedRect(rect, 3.0, 3.0)
        _plug_side(p, rect, one, plan)
        if rect.width() < LEAST_PX:
            continue
        p.setPen(theme.soft if one.missing else theme.ink)
        face = font(12, 600 if k == chosen else 400)
        fits = text_width(one.name, face) + 6 < rect.width() and rect.height() > 15
        if fits:
            put_text(p, rect.left() + 4, min(rect.top() + 14, rect.bottom() - 3), one.name, face)
        elif k == chosen:
            put_text(p, rect.left(), rect.top() - 4, one.name, face)
    if not plan and whole:
        _paint_balance(p, page, theme, found)


def _plug_side(p: QPainter, rect: QRectF, one: Aboard, plan: bool) -> None:
    """Short ticks where its leads leave."""
    side, middle = one.told.plugs, rect.center()
    ends = {"front": QPointF(rect.right(), middle.y()), "rear": QPointF(rect.left(), middle.y())}
    ends |= (
        {"left": QPointF(middle.x(), rect.top()), "right": QPointF(middle.x(), rect.bottom())}
        if plan
        else {"top": QPointF(middle.x(), rect.top()), "bottom": QPointF(middle.x(), rect.bottom())}
    )
    at = ends.get(side)
    if at is None:
        return
    out = (at - middle) / (math.hypot(at.x() - middle.x(), at.y() - middle.y()) or 1.0)
    across = QPointF(-out.y(), out.x())
    for k in (-1.0, 1.0):
        p.drawLine(at + across * 3.0 * k, at + across * 3.0 * k + out * 9.0)


def _paint_balance(p: QPainter, page: Page, theme: Theme, found: LayoutStudy) -> None:
    """Where the mass of drive and bodies sits: a quartered disc."""
    at, r = page.side(found.balance.x, found.balance.z), 5.5
    p.setPen(pen(theme.ink, 1.0))
    p.setBrush(theme.panel)
    p.drawEllipse(at, r, r)
    p.setBrush(theme.ink)
    disc = QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r)
    for begin in (0, 180):
        p.drawPie(disc, begin * 16, 90 * 16)
