"""The vehicle on wheels drawn to scale with its measures on it: side view and plan."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QWidget

from wattagon.design.tree import LoadCase
from wattagon.desk.brief.drawing import Drawing
from wattagon.desk.brief.measures import ROAD
from wattagon.desk.chart.ink import box, pen, put_text, text_width
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.desk.vehicle_outline import Sizes, View, fit, loaded, paint_plan, paint_side, sizes
from wattagon.study.drive.cases import stands
from wattagon.study.resolve import Stand


class Sketch(Drawing):
    """Paints a vehicle on wheels."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, "sketch", parent)

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self.session.theme_name]
        box(p, rect.left(), rect.top(), rect.width(), rect.height(), theme.panel, theme.rule)
        self.hits, self.area = [], rect
        if not self.session.docs:
            return
        session = self.session
        vehicle = session.design.vehicle
        tyre = (
            2.0 * float(session.study.resolved.road.wheel_radius_m) / vehicle.tyre_rolling_share.value
            if session.study
            else vehicle.tyre_diameter.value
        )
        case = session.design.brief.load_case()
        stand = stands(session.design, session.study.resolved, case.id) if case is not None and session.study is not None else None
        s = loaded(sizes(vehicle, tyre), vehicle, case, stand)
        length = s.base + s.rear_over + s.front_over
        plan_h = rect.height() * (0.25 if vehicle.axle_wheels > 1 else 0.22)
        side = QRectF(rect.left() + 104, rect.top() + 40, rect.width() - 226, rect.height() - plan_h - 92)
        view = fit(s, side, s.top, length)
        p.save()
        p.setClipRect(rect.adjusted(2, 2, -2, -2))
        paint_side(p, view, theme, vehicle, s)
        p.restore()
        self._conditions(p, theme, rect)
        if case is not None:
            self._carried(p, theme, view, case, s)
        self._side_measures(p, theme, view, s, rect, stand)
        plan = QRectF(rect.left() + 104, rect.bottom() - plan_h - 4, rect.width() - 256, plan_h - 6)
        self._plan(p, theme, plan, s, rect)

    # side view

    def _carried(self, p: QPainter, theme: Theme, view: View, case: LoadCase, s: Sizes) -> None:
        """What rides along in the case in view: weights where they sit, a trailer's on its hitch."""
        say = self.session.say
        for item in case.carried:
            at = view.at(s.own_base - item.behind_front.value, item.height.value)
            side = max(8.0, 3.2 * item.mass.value ** (1.0 / 3.0))
            p.setPen(pen(theme.mechanical, 1.6))
            p.setBrush(with_alpha(theme.mechanical, 0.22))
            if item.towed:
                end = at + QPointF(-0.55 * view.scale, 0)
                p.drawLine(at, end)
                p.drawRect(QRectF(end.x() - 2 * side, end.y() - side, 2 * side, 1.4 * side))
                ground = view.at(0, 0).y()
                p.drawEllipse(QPointF(end.x() - side, ground - 0.12 * view.scale), 0.12 * view.scale, 0.12 * view.scale)
            else:
                p.drawRoundedRect(QRectF(at.x() - side, at.y() - side, 2 * side, 2 * side), 4, 4)
            words = f"{item.name} {say(item.mass.value, 'mass')}".strip()
            p.setPen(theme.mechanical)
            put_text(p, at.x() - side, at.y() - side - 5, words, font(12, 600))

    def _conditions(self, p: QPainter, theme: Theme, rect: QRectF) -> None:
        x = rect.left() + 12
        for path in ("brief.conditions.air_temperature", "brief.conditions.altitude", "brief.conditions.pack_temperature"):
            x = self.chip(p, theme, QPointF(x, rect.top() + 8), path, with_name=True).right() + 14
        end, x = x, rect.left() + 12
        for path in ("vehicle.rider_level", "vehicle.rider_jerk", "vehicle.top_gear"):
            if self.session.design.vehicle.kind not in ROAD[path].not_for:
                x = self.chip(p, theme, QPointF(x, rect.top() + 26), path, with_name=True).right() + 14
        area = self.chip(p, theme, QPointF(rect.right() - 12, rect.top() + 8), "brief.conditions.headwind", with_name=True, right=True)
        y = area.center().y()
        if area.left() - 36 < end:
            return
        p.setPen(pen(theme.soft, 1.4))
        p.drawLine(QPointF(area.left() - 8, y), QPointF(area.left() - 34, y))
        p.drawLine(QPointF(area.left() - 34, y), QPointF(area.left() - 29, y - 4))
        p.drawLine(QPointF(area.left() - 34, y), QPointF(area.left() - 29, y + 4))

    def _side_measures(self, p: QPainter, theme: Theme, view: View, s: Sizes, rect: QRectF, stand: Stand | None) -> None:
        ground = view.at(0, 0).y()
        rear, front = view.at(0, 0).x(), view.at(s.base, 0).x()
        cm = view.at(s.cm_x, s.cm_y)
        # below the ground: wheelbase, and where the weight sits
        if stand is None:
            self.across(p, theme, cm.x(), front, ground + 18, "vehicle.cm_behind_front")
        else:  # where all of the case in view together sits is worked out, not measured
            say = self.session.say
            p.setPen(theme.mechanical)
            words = f"{say(stand.moving_kg, 'mass')} in all"
            where = f", {say(round(stand.behind_front_m, 3), 'length')} behind, {say(round(stand.height_m, 3), 'length')} high"
            if text_width(words + where, font(12, 600)) < rect.width() - 320:
                words += where
            put_text(p, max(rear - 40, rect.left() + 104), ground + 22, words, font(12, 600))
        self.across(p, theme, rear, front, ground + 38, "vehicle.wheelbase")
        # left: tyre and what happens at its foot
        edge = view.at(-s.tyre / 2, 0).x()
        self.upright(p, theme, min(edge - 14, rear - 20), ground, view.at(0, s.tyre).y(), "vehicle.tyre_diameter", left=True)
        x = max(min(edge - 30, rear - 40), rect.left() + 96)
        for k, path in enumerate(("vehicle.grip", "vehicle.rolling")):
            self.chip(p, theme, QPointF(x, ground + 8 + 17 * k), path, with_name=True, right=True)
        # the weight
        p.setPen(pen(theme.ink, 1.2, (3.0, 3.0)))
        p.drawLine(QPointF(cm.x(), ground + 14), cm)
        p.setPen(pen(theme.ink, 1.6))
        p.setBrush(theme.panel)
        p.drawEllipse(cm, 6.0, 6.0)
        p.drawLine(QPointF(cm.x() - 6, cm.y()), QPointF(cm.x() + 6, cm.y()))
        p.drawLine(QPointF(cm.x(), cm.y() - 6), QPointF(cm.x(), cm.y() + 6))
        lean = cm.x() < (rear + front) / 2 + 30
        x = cm.x() + (14 if lean else -14)
        y = max(cm.y() - 22, rect.top() + 46)
        # right: height of the weight, deck, air
        edge = view.at(s.base + s.front_over, 0).x()
        right = max(edge + 12, front + 24)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(cm.x() + 8, cm.y()), QPointF(right + 4, cm.y()))
        case = self.session.design.brief.load_case()
        aboard = ["vehicle.rider_mass"] * (case is None or case.rider) + ["vehicle.load_mass"] * (case is None or case.load)
        for k, path in enumerate((*aboard, "vehicle.empty_mass")):
            self.chip(p, theme, QPointF(x, y + 17 * k), path, with_name=True, right=not lean)
        if stand is None:
            self.upright(p, theme, right, ground, cm.y(), "vehicle.cm_height", share=0.62)
        deck_x = view.at(0.2 * s.base, 0).x()
        if view.at(0, s.deck).y() < ground - 14:
            self.upright(p, theme, deck_x, ground, view.at(0, s.deck).y(), "vehicle.deck_height", share=0.5)
        # a low weight leaves no room between its height and the ground
        y = ground - (ground - cm.y()) * 0.30 if ground - cm.y() > 100.0 else cm.y() - 18.0
        area = self.chip(p, theme, QPointF(right + 26, y - 8), "vehicle.drag_area", with_name=True)
        p.setPen(pen(theme.soft, 1.2))
        for dy in (-5, 0, 5):
            start = QPointF(area.left() - 6, area.center().y() + dy)
            p.drawLine(start, start - QPointF(12, 0))
        self.chip(p, theme, QPointF(right + 8, ground - 20), "vehicle.tyre_rolling_share", with_name=True)
        self.chip(p, theme, QPointF(right + 8, ground + 2), "vehicle.brake_force", with_name=True)

    # plan

    def _plan(self, p: QPainter, theme: Theme, area: QRectF, s: Sizes, rect: QRectF) -> None:
        session = self.session
        vehicle, variant = session.design.vehicle, session.design.variant()
        several = vehicle.axle_wheels > 1
        clear = vehicle.clear_width.value if vehicle.clear_width is not None else (0.2 if several else 0.12)
        tyre_w = min(max(s.tyre * 0.28, 0.03), 0.16)
        track = vehicle.track.value if vehicle.track is not None else clear + tyre_w
        across = track + tyre_w + 0.04 if several else 0.62
        view = fit(s, area, across, s.base + s.rear_over + s.front_over)
        view = View(QPointF(view.origin.x(), area.center().y() + 6), view.scale)
        paint_plan(
            p, view, theme, vehicle, s, motors=variant.motor.count, driven_wheels=variant.motor.driven_wheels, track=track, tyre_w=tyre_w
        )
        p.setFont(font(12))
        p.setPen(theme.soft)
        p.drawText(QPointF(rect.left() + 12, area.top() + 14), "from above")
        axle_x = 0.0 if vehicle.driven_axle != "front" else s.base
        if several:
            x = view.at(axle_x - s.tyre / 2, 0).x() - 14
            top, bottom = view.at(0, clear / 2).y(), view.at(0, -clear / 2).y()
            self.upright(p, theme, x, bottom, top, "vehicle.clear_width", left=True)
        else:
            self.chip(
                p,
                theme,
                QPointF(view.at(axle_x - s.tyre / 2, 0).x() - 12, view.at(0, 0).y() - 9),
                "vehicle.clear_width",
                with_name=True,
                right=True,
            )
        paths = ["vehicle.axle_diameter", "vehicle.hub_bolt_circle", "vehicle.wheel_inertia"]
        if vehicle.kind not in ROAD["vehicle.track"].not_for and several:
            paths.insert(0, "vehicle.track")
            self.dimension(
                p,
                theme,
                view.at((s.base if axle_x == 0.0 else 0.0) - s.tyre / 2, 0).x() - 10,
                view.at(0, -track / 2).y(),
                view.at(0, track / 2).y(),
            )
        right = view.at(s.base + s.front_over, 0).x() + 14
        y = view.at(0, 0).y() - 9 * len(paths)
        for k, path in enumerate(paths):
            self.chip(p, theme, QPointF(right, y + 18 * k), path, with_name=True)
