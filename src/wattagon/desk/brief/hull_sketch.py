"""The boat afloat at its laden waterline with its measures on it: from the side, its stern enlarged, from above.

The load is dragged along the hull, the propeller up and down; trim and freeboard follow.
"""

from __future__ import annotations

import math
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QMouseEvent, QPainter
from PySide6.QtWidgets import QWidget

from wattagon.design.boats import BOATS
from wattagon.design.hull_shapes import SHAPES
from wattagon.design.parts import MotorPart, PropellerPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Hull, Place, Variant
from wattagon.desk.brief.drawing import Drawing
from wattagon.desk.chart.ink import box, pen, put_right, put_text
from wattagon.desk.hull_outline import Float, paint_carrier, paint_crew, paint_hull, paint_plan, paint_water
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.study.drive.afloat import MOVES, Lying, lying, weight_moved
from wattagon.study.layout.boat import Works, works
from wattagon.study.resolve.boat import WET, propeller_depth_m

TWO_KG = 110.0  # from here on the crew is drawn as two
CAN_M = (0.08, 0.10)  # of a motor that stock does not have

NARROW = 480.0  # pixels; names of measures would cover each other


class HullSketch(Drawing):
    """Paints a boat; `chosen` tells the path of a measure that was clicked."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, "hull-sketch", parent)
        self.load_area, self.crew_area, self.propeller_area = QRectF(), QRectF(), QRectF()
        self._side = self._stern = Float(QPointF(), 1.0)
        self._drag: tuple[str, int, float] | None = None  # what is held, gesture, how far the pointer is off its middle [m]

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        session, theme = self.session, THEMES[self.session.theme_name]
        box(p, rect.left(), rect.top(), rect.width(), rect.height(), theme.panel, theme.rule)
        self.hits, self.area = [], rect
        hull = session.design.vehicle.hull if session.docs else None
        if hull is None:
            return
        mass = float(session.study.resolved.load.mass_kg) if session.study is not None else session.design.vehicle.empty_mass.value
        lies = lying(session.design, mass)
        length, variant = hull.waterline_length.value, session.design.variant()
        upper = rect.height() * 0.46
        self._from_side(p, theme, QRectF(rect.left() + 2, rect.top() + 2, rect.width() - 4, upper), hull, lies, length)
        lower = QRectF(rect.left() + 2, rect.top() + upper + 6, rect.width() - 4, rect.height() - upper - 10)
        split = 0.47 * lower.width()
        self._from_near(p, theme, QRectF(lower.left(), lower.top(), split, lower.height()), hull, variant, lies)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(rect.left() + 10, lower.top()), QPointF(rect.right() - 10, lower.top()))
        p.drawLine(QPointF(lower.left() + split, lower.top() + 8), QPointF(lower.left() + split, lower.bottom() - 6))
        area = QRectF(lower.left() + split, lower.top(), lower.width() - split, lower.height())
        self._from_above(p, theme, area, hull, variant, length)

    def trim_words(self, *, short: bool = False) -> str:
        """How it lies, in the user's units; in short with the lower freeboard alone."""
        session = self.session
        if not session.docs or session.design.vehicle.hull is None or session.study is None:
            return ""
        lies = lying(session.design, float(session.study.resolved.load.mass_kg))
        degrees = math.degrees(float(lies.floats.trim_rad))
        trim = "level" if abs(degrees) < 0.05 else f"{abs(degrees):.1f}° {'by the stern' if degrees > 0 else 'by the bow'}"
        say = session.say
        mark = "≈ " if lies.assumed else ""
        if short:
            return f"{mark}{trim}; freeboard {say(round(min(lies.aft_m, lies.ahead_m), 3), 'length')}"
        return f"{mark}{trim}; freeboard {say(round(lies.aft_m, 3), 'length')} aft, {say(round(lies.ahead_m, 3), 'length')} ahead"

    def spoken(self) -> str:
        """Its values as text."""
        return f"{self.trim_words()}; {super().spoken()}"

    # the three views

    def _from_side(self, p: QPainter, theme: Theme, area: QRectF, hull: Hull, lies: Lying, length: float) -> None:
        vehicle = self.session.design.vehicle
        reach = SHAPES[vehicle.kind].reach
        scale = min((area.width() - 96) / (length * (reach + 0.02) + 0.5), area.height() / 2.2)
        left = area.center().x() - 24 - (reach * length - 0.35) * scale / 2
        surface = area.top() + 0.66 * area.height()
        level = BOATS[vehicle.kind].level * length
        view = self._side = Float(QPointF(left, surface), scale, float(lies.floats.level_m), level, float(lies.floats.trim_rad))
        p.save()
        p.setClipRect(area)
        self._crew(p, theme, view, lies, vehicle.rider_mass.value)
        paint_hull(p, view, theme, vehicle, length, lies.depth_m)
        self._load(p, theme, view, lies)
        choice = self.session.design.variant().propeller
        if choice is not None:
            depth = propeller_depth_m(hull, choice)
            size, can = self._sizes(self.session.design.variant())
            at = works(choice, size if depth is None else depth, length)
            paint_carrier(p, view, theme, choice, at, lies.depth_m, size, can)
        paint_water(p, theme, area, surface)
        p.restore()
        self._weight(p, theme, view, lies)
        self.across(p, theme, view.at(0, 0).x(), view.at(length, 0).x(), area.bottom() - 12, "vehicle.hull.waterline_length")
        self.across(p, theme, view.at(0, 0).x(), view.at(lies.weight_m, 0).x(), area.bottom() - 32, "vehicle.hull.weight_forward")
        bow = view.hull(reach * length, lies.depth_m).x()
        x = min(bow - 6, area.right() - 100)
        self.dimension(p, theme, x, surface, view.at(0, -view.draught).y())
        narrow = area.width() < NARROW
        where = QPointF(area.right() - 10, area.top() + 46) if narrow else QPointF(x + 8, surface + 5)
        self.chip(p, theme, where, "vehicle.hull.draught", with_name=True, right=narrow)
        self._conditions(p, theme, area)
        p.setPen(theme.ink)
        put_right(p, area.right() - 10, area.bottom() - 28 if narrow else area.top() + 60, self.trim_words(short=narrow), font(12, 600))

    def _conditions(self, p: QPainter, theme: Theme, area: QRectF) -> None:
        x = area.left() + 10
        for path in ("vehicle.rider_mass", "vehicle.empty_mass", "vehicle.load_mass", "vehicle.drag_area"):
            x = self.chip(p, theme, QPointF(x, area.top() + 6), path, with_name=True).right() + 12
        x = area.left() + 10
        for path in (
            "vehicle.hull.water_temperature",
            "brief.conditions.current",
            "brief.conditions.headwind",
            "brief.conditions.air_temperature",
        ):
            x = self.chip(p, theme, QPointF(x, area.top() + 25), path, with_name=True).right() + 12

    def _crew(self, p: QPainter, theme: Theme, view: Float, lies: Lying, mass: float) -> None:
        """Everybody aboard, moved along the hull by hand like the load."""
        held = self._drag is not None and self._drag[0] == "crew"
        paint_crew(p, view, theme, lies.crew_m, 0.06, mass > TWO_KG, 0.55 if held else 0.30)
        middle, half = view.hull(lies.crew_m + 0.15, 0.45), (0.75 if mass > TWO_KG else 0.40) * view.scale
        self.crew_area = QRectF(middle.x() - half, middle.y() - 0.42 * view.scale, 2 * half, 0.84 * view.scale) if mass > 0.0 else QRectF()

    def _load(self, p: QPainter, theme: Theme, view: Float, lies: Lying) -> None:
        """The usual load as a box that the hand moves along the hull."""
        mass = self.session.design.vehicle.load_mass.value
        side = max(14.0, 0.10 * view.scale * max(mass, 1.0) ** (1.0 / 3.0))
        foot = view.hull(lies.load_m, 0.10)
        self.load_area = QRectF(foot.x() - side / 2, foot.y() - side, side, side)
        p.setPen(pen(theme.mechanical, 1.8))
        p.setBrush(with_alpha(theme.mechanical, 0.5 if self._drag and self._drag[0] == "load" else 0.28))
        p.drawRoundedRect(self.load_area, 3, 3)
        y = self.load_area.top() - 7
        for sign in (-1, 1):  # arrows: it moves
            tip = QPointF(foot.x() + sign * (side / 2 + 9), y + 7 + side / 2)
            p.drawLine(tip - QPointF(sign * 5, 3.5), tip)
            p.drawLine(tip - QPointF(sign * 5, -3.5), tip)

    def _weight(self, p: QPainter, theme: Theme, view: Float, lies: Lying) -> None:
        at = view.hull(lies.weight_m, 0.62 * lies.depth_m)
        p.setPen(pen(theme.ink, 1.2, (3.0, 3.0)))
        p.drawLine(at, QPointF(at.x(), self._side.at(0, -view.draught - 0.25).y()))
        p.setPen(pen(theme.ink, 1.6))
        p.setBrush(theme.panel)
        p.drawEllipse(at, 6.0, 6.0)
        p.drawLine(at - QPointF(6, 0), at + QPointF(6, 0))
        p.drawLine(at - QPointF(0, 6), at + QPointF(0, 6))

    def _sizes(self, variant: Variant) -> tuple[float, tuple[float, float]]:
        """(propeller's diameter, (motor's can diameter, length)) of a variant [m]."""
        stock, resolved = self.session.stock, self.session.study.resolved if self.session.study is not None else None
        choice, diameter = variant.propeller, 0.2
        if resolved is not None and choice is not None and choice.part in stock.rows(PropellerPart):
            diameter = float(resolved.load.screw.diameter_m)  # type: ignore[attr-defined]
        part = stock.rows(MotorPart).get(variant.motor.part)
        if part is not None:
            return diameter, (1e-3 * part.can_mm, 1e-3 * part.length_mm)
        return diameter, CAN_M

    def _from_near(self, p: QPainter, theme: Theme, area: QRectF, hull: Hull, variant: Variant, lies: Lying) -> None:
        """The stern, enlarged: transom, propeller, its depth and what it clears."""
        choice = variant.propeller
        p.setPen(theme.soft)
        put_text(p, area.left() + 10, area.top() + 17, "stern", font(12))
        if choice is None:
            return
        size, can = self._sizes(variant)
        known = propeller_depth_m(hull, choice)
        depth = size if known is None else known
        at = works(choice, depth, hull.waterline_length.value)
        back = max(0.55, -at.x + 0.35)
        ahead, below = 0.75 if choice.place in (Place.LONG_TAIL, Place.SHAFT) else 0.42, depth + size / 2 + 0.10
        above = max(lies.aft_m + 0.12, 0.3)
        scale = min((area.width() - 8) / (back + ahead), (area.height() - 16) / (above + below))
        left_over = area.height() - 16 - (above + below) * scale
        down = area.top() + 10 + above * scale + 0.4 * max(left_over, 0.0)
        origin = QPointF(area.left() + 4 + (area.width() - 8) * back / (back + ahead), down)
        view = self._stern = self._side._replace(origin=origin, scale=scale)
        p.save()
        p.setClipRect(area.adjusted(1, 1, -1, -1))
        paint_hull(p, view, theme, self.session.design.vehicle, hull.waterline_length.value, lies.depth_m)
        paint_carrier(p, view, theme, choice, at, lies.depth_m, size, can)
        paint_water(p, theme, area.adjusted(1, 0, -1, -1), origin.y())
        p.restore()
        self._near_measures(p, theme, area, view, at, size, can[1], lies)

    def _near_measures(self, p: QPainter, theme: Theme, area: QRectF, view: Float, at: Works, size: float, can: float, lies: Lying) -> None:
        hub, surface = view.at(at.x, at.y), view.at(0, 0).y()
        radius = size / 2 * view.scale
        self.propeller_area = QRectF(hub.x() - 14, hub.y() - radius - 4, 28, 2 * radius + 8)
        x, near = max(area.left() + 12, hub.x() - 24), hub.x() - area.left() < 120
        self.upright(p, theme, x, surface, hub.y(), "vehicle.hull.propeller_depth", left=not near, share=1.0 if near else 0.55, below=near)
        for sign in (-1, 1):
            tip = QPointF(hub.x(), hub.y() + sign * (radius + 9))
            p.setPen(pen(theme.mechanical, 1.6))
            p.drawLine(tip - QPointF(3.5, sign * 5), tip)
            p.drawLine(tip - QPointF(-3.5, sign * 5), tip)
        narrow, choice = area.width() < 0.5 * NARROW, self.session.design.variant().propeller
        if not narrow:  # the ribbon has it too
            p.setPen(theme.mechanical)
            words = f"Ø {self.session.say(size, 'length')}"
            # beside the can or under the tail, clear of what stands at the foot
            x = hub.x() + (can * view.scale if choice is not None and choice.place in WET else 4.0) + 12
            put_text(p, x, hub.y() + (11 if choice is not None and choice.place is Place.LONG_TAIL else 5), words, font(12, 600))
        right = view.hull(0.30, 0.0).x()
        self.upright(
            p,
            theme,
            min(right, area.right() - 112),
            view.hull(0.30, 0).y(),
            view.hull(0.30, lies.depth_m).y(),
            "vehicle.hull.transom_height",
            share=0.80,
        )
        self.chip(p, theme, QPointF(area.left() + 52, area.top() + 5), "vehicle.hull.transom_angle", with_name=True)
        y = area.bottom() - 19
        crowded = narrow and choice is not None and choice.place is not Place.LONG_TAIL  # its carrier fills the lower half
        gap_at = area.top() + 24 if crowded else y
        self.chip(p, theme, QPointF(area.left() + 8, gap_at), "vehicle.hull.tip_gap", with_name=True)
        at_top = area.top() + 5 if crowded else y - 19 if narrow else y
        self.chip(p, theme, QPointF(area.right() - 8, at_top), "vehicle.hull.transom_area", with_name=True, right=True)
        if BOATS[self.session.design.vehicle.kind].planes:
            self.chip(p, theme, QPointF(area.right() - 8, y - 19), "vehicle.hull.deadrise", with_name=True, right=True)

    def _from_above(self, p: QPainter, theme: Theme, area: QRectF, hull: Hull, variant: Variant, length: float) -> None:
        vehicle = self.session.design.vehicle
        p.setPen(theme.soft)
        put_text(p, area.left() + 10, area.top() + 17, "from above", font(12))
        beam = hull.waterline_beam.value
        gap = 0.38 * length if BOATS[vehicle.kind].hulls > 1 else 0.0
        reach = SHAPES[vehicle.kind].reach
        scale = min((area.width() - 70) / (length * reach + 0.3), (area.height() - 74) / (beam + gap))
        view = Float(QPointF(area.left() + 48, area.top() + 8 + (area.height() - 50) / 2), scale)
        paint_plan(p, view, theme, vehicle, length, beam, gap)
        choice = variant.propeller
        count = choice.count if choice is not None else 1
        off, apart = hull.off_centre.value, min(0.5 * beam, 0.4) if gap == 0.0 else gap
        for k in range(count):
            y = off + (k - (count - 1) / 2.0) * apart
            place = view.at(-0.10, y)
            p.setPen(pen(theme.mechanical, 2.4))
            p.drawLine(place - QPointF(0, 6), place + QPointF(0, 6))
            p.setPen(pen(theme.electrical, 1.6))
            p.setBrush(with_alpha(theme.electrical, 0.25))
            p.drawRoundedRect(QRectF(place.x() + 2, place.y() - 3.5, 10, 7), 2, 2)
        middle = gap / 2
        self.dimension(p, theme, view.at(0.42 * length, 0).x(), view.at(0, middle - beam / 2).y(), view.at(0, middle + beam / 2).y())
        self.chip(
            p,
            theme,
            QPointF(view.at(0.42 * length, 0).x() + 7, view.at(0, middle + 0.18 * beam).y() - 8),
            "vehicle.hull.waterline_beam",
            with_name=True,
        )
        y = area.bottom() - 19
        self.chip(p, theme, QPointF(area.left() + 8, y), "vehicle.hull.off_centre", with_name=True)
        up = 38 if area.width() < 0.55 * NARROW else 0
        self.chip(p, theme, QPointF(area.right() - 8, y - up), "vehicle.hull.appendage_area", with_name=True, right=True)
        self.chip(p, theme, QPointF(area.left() + 8, y - 19), "vehicle.hull.transom_width", with_name=True)

    # what a hand does

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at, hull = event.position(), self.session.design.vehicle.hull if self.session.docs else None
        if hull is not None and event.button() is Qt.MouseButton.LeftButton and self._under(at) is None:
            if self.load_area.adjusted(-8, -8, 8, 8).contains(at):
                self._drag = ("load", self.session.gesture(), (at.x() - self.load_area.center().x()) / self._side.scale)
                return
            if self.crew_area.contains(at):
                self._drag = ("crew", self.session.gesture(), (at.x() - self.crew_area.center().x()) / self._side.scale + 0.15)
                return
            if self.propeller_area.contains(at) and self._depth_is_measured():
                self._drag = ("propeller", self.session.gesture(), (at.y() - self.propeller_area.center().y()) / self._stern.scale)
                return
        super().mousePressEvent(event)

    def _depth_is_measured(self) -> bool:
        """Whether the depth is a measure of its own; of a long tail with its geometry it follows."""
        choice = self.session.design.variant().propeller
        if choice is None:
            return False
        return choice.place is not Place.LONG_TAIL or None in (choice.tail_length, choice.tilt, choice.pivot_height)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            super().mouseMoveEvent(event)
            if self.load_area.contains(event.position()) or self.crew_area.contains(event.position()):
                self.setCursor(Qt.CursorShape.SizeHorCursor)
            elif self.propeller_area.contains(event.position()):
                self.setCursor(Qt.CursorShape.SizeVerCursor)
            return
        what, gesture, off = self._drag
        if what in MOVES:
            self.move_weight(what, (event.position().x() - self._side.origin.x()) / self._side.scale - off, gesture)
        else:
            self.move_propeller((event.position().y() - self._stern.origin.y()) / self._stern.scale - off, gesture)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = None
        self.update()

    def move_weight(self, what: str, to_m: float, gesture: int = -1) -> None:
        """Load or crew to a place ahead of the transom, in steps of a centimetre."""
        session, hull = self.session, self.session.design.vehicle.hull
        if hull is None or session.study is None:
            return
        to_m = min(max(round(to_m, 2), 0.0), hull.waterline_length.value)
        session.try_apply(weight_moved(session.design, float(session.study.resolved.load.mass_kg), what, to_m, gesture))

    def move_propeller(self, depth_m: float, gesture: int = -1) -> None:
        """The propeller deeper or higher, in steps of half a centimetre."""
        hull = self.session.design.vehicle.hull
        if hull is None:
            return
        depth_m = min(max(round(depth_m * 200.0) / 200.0, 0.0), 1.5)
        before = hull.propeller_depth
        known = Known.STATED if before is None or before.known is Known.ASSUMED else before.known
        made = Quantity(value=depth_m, known=known) if before is None else replace(before, value=depth_m, known=Known.STATED, date=None)
        words = self.session.say(depth_m, "length")
        self.session.try_apply(Edit(label=f"Propeller {words} deep", changes=(("vehicle.hull.propeller_depth", made),), gesture=gesture))
