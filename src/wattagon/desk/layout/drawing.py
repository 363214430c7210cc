"""The drawing of the layout: zoom, pan, drag with snapping to loops of stock, idlers pulled out of a span, a tape, keys for all."""

from __future__ import annotations

import math
from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Layout
from wattagon.desk.chart.ink import Labels, metrics, pen, put_text, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.layout.afloat import paint_boat, paint_boat_plan
from wattagon.desk.layout.bodies import box_in_plan, box_in_side, paint_bodies
from wattagon.desk.layout.page import Page, fitted
from wattagon.desk.layout.plan import paint_plan
from wattagon.desk.layout.side import paint_centres, paint_deck, paint_drive, paint_gaps, paint_obstacles, paint_swept, paint_vehicle
from wattagon.desk.layout.underlay import Underlay
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.errors import WattagonError
from wattagon.physics.path import point_to_segment
from wattagon.study.layout.aboard import with_body
from wattagon.study.layout.edits import idler_of, stepped, told, with_layout, with_shaft, with_stage
from wattagon.study.layout.place import centre_of, nearest_loop
from wattagon.study.layout.stage import length_along
from wattagon.study.layout.study import LayoutStudy, study_layout

SNAP_PX, NEAR_PX = 9.0, 9.0
SIDE_SHARE = 0.56  # of the height, for the side view
STEP_M, FAR_M = 0.0005, 0.005
Held = tuple[str, int, int]  # what, stage or shaft, idler


class LayoutDrawing(QWidget):
    """Paints what `study_layout` finds; every hand on it is an edit."""

    picked = Signal(str)  # code of a gap that was clicked

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.found: LayoutStudy | None = None
        self.problem = ""
        self.page: Page | None = None
        self.selected = 0  # shaft
        self.body = -1  # in hand, of what rides along; -1 for none
        self.whole = False  # fitted to the whole vehicle
        self.chosen = ""  # gap
        self.swept: tuple[str, float] | None = None  # what moves, and how far
        self.swept_words = ""
        self.taping = False
        self.underlay = Underlay(self)
        self.tape_ends: tuple[QPointF, QPointF] | None = None
        self._held: Held | None = None
        self._off = QPointF()
        self._gesture = -1
        self._pan: QPointF | None = None
        self.said = ""
        self.own_view = False  # zoomed or panned by hand
        self._for: tuple[object, ...] = ()
        self.setObjectName("layout-drawing")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(320, 300)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Drive to scale")

    # what it shows

    def refresh(self) -> None:
        """Work out the layout of the design; a boat or a refusal leaves a sentence."""
        session = self.session
        self.found, self.problem = None, ""
        if not session.docs or session.study is None:
            self.problem = session.problem or "No vehicle is open."
        else:
            try:
                self.found = study_layout(session.design, session.stock, session.study)
            except WattagonError as refusal:
                self.problem = str(refusal)
        key = (session.doc.key if session.docs else None, session.design.active if session.docs else None)
        if key != self._for:
            self._for, self.own_view, self.selected, self.body = key, False, 0, -1
        if not self.own_view:
            self.fit()
        self.update()

    def fit(self) -> None:
        """All of the drive in view."""
        self.own_view = False
        if self.found is not None:
            side, plan = self.areas(QRectF(self.rect()))
            self.page = self._fitted(side, plan)
        self.update()

    def _fitted(self, side: QRectF, plan: QRectF) -> Page:
        assert self.found is not None
        return fitted(self.found, side.adjusted(30, 30, -30, -24), plan.adjusted(30, 22, -30, -10), whole=self.whole)

    def show_whole(self, whole: bool) -> None:
        """The whole vehicle with what rides along in view, or the drive."""
        self.whole = whole
        self.fit()

    def layout_now(self) -> Layout:
        """Of the variant in front."""
        return (self.session.design.variant().layout or Layout()) if self.session.docs else Layout()

    def take_body(self, which: int) -> None:
        """One of what rides along in hand; -1 for none."""
        self.body = which
        self.update()

    def areas(self, rect: QRectF | None = None) -> tuple[QRectF, QRectF]:
        """(side view, plan) of a rectangle, or of the drawing."""
        rect = QRectF(self.rect()) if rect is None else rect
        high = rect.height() * SIDE_SHARE
        return (
            QRectF(rect.left(), rect.top(), rect.width(), high),
            QRectF(rect.left(), rect.top() + high, rect.width(), rect.height() - high),
        )

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        say = self.session.say
        stages = [f"loop of {one.loop}, {say(one.centre_m, 'length')} between the middles" for one in self.found.stages]
        gaps = [f"{one.between} {say(one.nominal, 'length')}" for one in self.found.gaps if math.isfinite(one.nominal)]
        return "; ".join(stages + gaps)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self.session.theme_name]
        p.fillRect(rect, theme.panel)
        found = self.found
        if found is None:
            p.setFont(font(14))
            p.setPen(theme.soft)
            p.drawText(rect.adjusted(40, 0, -40, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.problem)
            return
        side, plan = self.areas(rect)
        page = self.page if self.page is not None and rect.size() == QRectF(self.rect()).size() else None
        if page is None:
            page = self._fitted(side, plan)
        p.save()
        p.setClipRect(side)
        self.underlay.paint(p, page, side, plan=False)
        afloat = found.scene.berth is not None
        if afloat:
            paint_boat(p, page, theme, found, side)
        else:
            paint_vehicle(p, page, theme, found)
        paint_obstacles(p, page, theme, found)
        paint_bodies(p, page, theme, found, self.body, plan=False, whole=self.whole)
        if not afloat:
            paint_drive(p, page, theme, found, self.selected)
            paint_deck(p, page, theme, found)
        if self.swept is not None:
            paint_swept(p, page, theme, found, side, *self.swept)
        labels = Labels(p, theme, side.adjusted(4, 4, -4, -4))
        if not afloat:
            paint_centres(p, page, theme, found, self.session, labels)
        paint_gaps(p, page, theme, found, self.session, labels, self.chosen, whole=self.whole)
        self._scale_bar(p, theme, side, page)
        self._paint_tape(p, theme, page)
        p.restore()
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(rect.left() + 8, plan.top()), QPointF(rect.right() - 8, plan.top()))
        p.save()
        p.setClipRect(plan)
        self.underlay.paint(p, page, plan, plan=True)
        if afloat:
            paint_boat_plan(p, page, theme, found, plan)
        else:
            paint_plan(p, page, theme, found, self.session, plan, whole=self.whole)
        paint_bodies(p, page, theme, found, self.body, plan=True, whole=self.whole)
        p.restore()
        if words := self.underlay.words or self.said or self.swept_words:
            p.setPen(theme.ink)
            face = font(13, 600)
            room = QRectF(rect.left() + 12, side.top() + 6, rect.width() - 24, 3.2 * metrics(face).height())
            p.setFont(face)
            taken = p.boundingRect(room, Qt.TextFlag.TextWordWrap, words)
            p.fillRect(taken.adjusted(-3, -1, 3, 1), with_alpha(theme.panel, 0.85))
            p.drawText(room, Qt.TextFlag.TextWordWrap, words)
        p.setPen(pen(theme.electrical if self.hasFocus() else theme.rule, 1.5 if self.hasFocus() else 1.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(rect.adjusted(0.5, 0.5, -1, -1))

    def _scale_bar(self, p: QPainter, theme: Theme, side: QRectF, page: Page) -> None:
        imperial = self.session.unit_set == "imperial"
        steps = (0.0254, 0.0508, 0.127, 0.254, 0.508) if imperial else (0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5)
        long = next((step for step in steps if step * page.scale > 60.0), steps[-1])
        x, y = side.right() - 16 - long * page.scale, side.bottom() - 14
        p.setPen(pen(theme.soft, 1.4))
        p.drawLine(QPointF(x, y), QPointF(x + long * page.scale, y))
        for end in (x, x + long * page.scale):
            p.drawLine(QPointF(end, y - 4), QPointF(end, y + 4))
        words = self.session.say(long, "length")
        put_text(p, x + 0.5 * (long * page.scale - text_width(words, font(12))), y - 6, words, font(12))

    def _paint_tape(self, p: QPainter, theme: Theme, page: Page) -> None:
        if self.tape_ends is None:
            return
        a, b = self.tape_ends
        p.setPen(pen(theme.electrical, 1.6))
        p.drawLine(a, b)
        long = math.hypot(b.x() - a.x(), b.y() - a.y()) / page.scale
        words = self.session.say(round(long, 5), "length")
        p.fillRect(QRectF(b.x() + 8, b.y() - 16, text_width(words, font(13, 600)) + 6, 18), theme.panel)
        p.setPen(theme.electrical)
        put_text(p, b.x() + 11, b.y() - 3, words, font(13, 600))

    # what a hand takes

    def under(self, at: QPointF) -> Held | None:
        """What lies under a point: an idler, a shaft with its can or wheel, a span."""
        found, page = self.found, self.page
        if found is None or page is None:
            return None
        if at.y() > self.areas(QRectF(self.rect()))[1].top():
            return self._body_under(at, plan=True)
        if found.scene.berth is not None:
            return self._body_under(at, plan=False)
        x, z = page.metres(at)
        near = NEAR_PX / page.scale
        for one in found.stages:
            for k, idler in enumerate(told(found.layout, one.position).idlers):
                if math.hypot(idler.x.value - x, idler.z.value - z) < 0.5 * idler.diameter.value + near:
                    return ("idler", one.position, k)
        for k, shaft in enumerate(found.shafts[:-1]):
            reach = [near]
            if k == 0 and found.scene.can_m > 0.0:
                reach.append(0.5 * found.scene.can_m)
            reach += [0.5 * one.made.driver_m for one in found.stages if one.position == k]
            if math.hypot(shaft.x - x, shaft.z - z) < max(reach):
                return ("shaft", k, 0)
        for one in found.stages:
            for n, span in enumerate(one.path.loop.spans):
                if point_to_segment((x, z), span.begin, span.end) < near:
                    return ("span", one.position, n)
        return self._body_under(at, plan=False)

    def _body_under(self, at: QPointF, *, plan: bool) -> Held | None:
        """The smallest of what rides along under a point of either view."""
        assert self.found is not None and self.page is not None
        boxes = [(box_in_plan if plan else box_in_side)(self.page, one) for one in self.found.scene.bodies]
        hit = [(box.width() * box.height(), k) for k, box in enumerate(boxes) if box.adjusted(-2, -2, 2, 2).contains(at)]
        return ("body", min(hit)[1], int(plan)) if hit else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() is not Qt.MouseButton.LeftButton or self.found is None or self.page is None:
            return
        if self.underlay.wants:
            self.underlay.take(at)
            return
        if self.taping:
            self.tape_ends = (at, at)
            self.update()
            return
        held = self.under(at)
        if held is None:
            self._pan = at
            return
        self._gesture = self.session.gesture()
        x, z = self.page.metres(at)
        if held[0] == "span":
            held = ("idler", held[1], self._pull_out(held[1], x, z))
        self._held = held
        if held[0] == "body":
            one = self.found.scene.bodies[held[1]]
            self.take_body(held[1])
            plan_y = (self.page.plan_y - at.y()) / self.page.scale
            self._off = QPointF(one.x - x, one.y - plan_y if held[2] else one.z - z)
            self.picked.emit("body")
        elif held[0] == "shaft":
            self.selected, self.body = held[1], -1
            shaft = self.found.shafts[held[1]]
            self._off = QPointF(shaft.x - x, shaft.z - z)
        else:
            self._off = QPointF(0, 0)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self.tape_ends is not None and self.taping and event.buttons() & Qt.MouseButton.LeftButton:
            self.tape_ends = (self.tape_ends[0], at)
            self.update()
        elif self._held is not None and self.page is not None:
            x, z = self.page.metres(at)
            if self._held[0] == "body":
                across = (self.page.plan_y - at.y()) / self.page.scale if self._held[2] else z
                self.move_body(x + self._off.x(), across + self._off.y(), plan=bool(self._held[2]), gesture=self._gesture)
            elif self._held[0] == "shaft":
                self.move_shaft(self._held[1], x + self._off.x(), z + self._off.y(), snap=SNAP_PX / self.page.scale, gesture=self._gesture)
            else:
                self.move_idler(self._held[1], self._held[2], x, z, gesture=self._gesture)
        elif self._pan is not None and self.page is not None:
            away = at - self._pan
            self.page = self.page._replace(axle_x=self.page.axle_x + away.x(), axle_y=self.page.axle_y + away.y())
            self._pan, self.own_view = at, True
            self.update()
        else:
            held = self.under(at)
            shape = (
                Qt.CursorShape.CrossCursor
                if self.taping or self.underlay.wants
                else Qt.CursorShape.SizeAllCursor
                if held is not None
                else Qt.CursorShape.ArrowCursor
            )
            self.setCursor(shape)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._held, self._pan = None, None
        self.said = ""
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.under(event.position()) is None:
            self.fit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.page is not None:
            self.zoom(event.position(), 1.0015 ** event.angleDelta().y())
        event.accept()

    def zoom(self, at: QPointF, factor: float) -> None:
        """Nearer or further, what is under a point held there."""
        if self.page is not None:
            self.page, self.own_view = self.page.zoomed(at, factor), True
            self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if not self.own_view:
            self.fit()

    # edits

    def move_shaft(self, index: int, x: float, z: float, *, snap: float = 0.0, gesture: int = -1) -> None:
        """A shaft to a place; within `snap` of where a loop of stock lies it goes there, and that loop is taken."""
        found = self.found
        if found is None:
            return
        one = next((run for run in found.stages if run.position == index), None)
        layout, driven = found.layout, found.shafts[index + 1]
        self.said = ""
        if one is not None:
            apart = math.hypot(x - driven.x, z - driven.z)
            stage = told(layout, index)
            if apart > 1e-4 and not stage.idlers:
                loop = nearest_loop(one.made, self.session.stock, apart)
                lies = centre_of(one.made, loop)
                what = "teeth" if one.made.kind is not None else "links"
                say = self.session.say
                if abs(lies - apart) <= snap:
                    x, z = driven.x + (x - driven.x) * lies / apart, driven.z + (z - driven.z) * lies / apart
                    self.said = (
                        f"{loop} {what}, {say(round(loop * one.made.pitch_m, 4), 'length')}: lies at {say(round(lies, 4), 'length')}"
                    )
                else:
                    here = say(round(apart, 4), "length")
                    self.said = f"{loop} {what} would lie at {say(round(lies, 4), 'length')}, here it is {here}"
                layout = with_stage(layout, index, replace(stage, loop=loop))
        moved = with_shaft(layout, found.shafts, index, x, z)
        self.session.try_apply(with_layout(self.session.design, moved, f"{found.shafts[index].name.capitalize()} moved", gesture))

    def move_body(self, x: float, other: float, *, plan: bool, gesture: int = -1) -> None:
        """What is in hand to a place, to the millimetre: ahead and up, in plan ahead and left."""
        found, which = self.found, self.body
        if found is None or not 0 <= which < len(found.scene.bodies):
            return
        one = found.scene.bodies[which]
        kept = (one.told.x, one.told.y if plan else one.told.z)
        changes = {
            name: Quantity(value=round(value, 3), known=Known.STATED, tolerance=old.tolerance if old is not None else None)
            for name, value, old in zip(("x", "y" if plan else "z"), (x, other), kept, strict=True)
        }
        layout = with_body(found.layout, found.scene.bodies, which, **changes)
        if self.session.try_apply(with_layout(self.session.design, layout, f"{one.name[0].upper()}{one.name[1:]} moved", gesture)):
            have = self.found.scene.bodies if self.found is not None else ()  # a proposal that is taken up stands elsewhere in the list
            self.body = next((k for k, now in enumerate(have) if (now.kind, now.name) == (one.kind, one.name)), -1)
            least = [gap for gap in self.found.gaps if gap.code.startswith(f"body.{one.name}.")] if self.found is not None else []
            near = min((gap for gap in least if math.isfinite(gap.worst)), key=lambda gap: gap.margin, default=None)
            self.said = f"{near.between}: {self.session.say(round(near.nominal, 4), 'length')}" if near is not None else ""

    def move_idler(self, position: int, index: int, x: float, z: float, *, gesture: int = -1) -> None:
        """An idler to a place; the loop of stock that comes nearest is taken."""
        found = self.found
        if found is None:
            return
        stage = told(found.layout, position)
        idlers = list(stage.idlers)
        idlers[index] = replace(idlers[index], x=_stated(x), z=_stated(z))
        layout = with_stage(found.layout, position, replace(stage, idlers=tuple(idlers)))
        self.session.try_apply(with_layout(self.session.design, layout, "Idler moved", gesture))
        self._take_nearest(position, gesture)

    def _take_nearest(self, position: int, gesture: int) -> None:
        """With idlers: the loop of stock nearest to the path."""
        from wattagon.study.layout.place import lengths_of

        found = self.found
        one = next((run for run in found.stages if run.position == position), None) if found is not None else None
        if found is None or one is None or not one.path.loop.real:
            return
        length = length_along(one.made, one.path)
        have = lengths_of(one.made, self.session.stock)
        wanted = length / one.made.pitch_m
        loop = min(have, key=lambda n: abs(n - wanted)) if have else 2 * round(0.5 * wanted)
        off = length - loop * one.made.pitch_m
        what = "teeth" if one.made.kind is not None else "links"
        say = self.session.say
        fits = "lies" if abs(off) < 5e-4 else f"{say(round(abs(off), 4), 'length')} {'too short' if off > 0 else 'too long'}"
        self.said = f"{loop} {what}: {fits}"
        if loop != one.loop:
            layout = with_stage(found.layout, position, replace(told(found.layout, position), loop=loop))
            self.session.try_apply(with_layout(self.session.design, layout, "Idler moved", gesture))

    def _pull_out(self, position: int, x: float, z: float) -> int:
        """A new idler where a span was taken hold of; its number."""
        assert self.found is not None
        stage = told(self.found.layout, position)
        self.add_idler(position, x, z, gesture=self._gesture)
        return len(stage.idlers)

    def add_idler(self, position: int, x: float, z: float, *, gesture: int = -1) -> None:
        """An idler of the least good size at a place."""
        found = self.found
        one = next((run for run in found.stages if run.position == position), None) if found is not None else None
        if found is None or one is None:
            return
        idler = replace(idler_of(self.session.stock, one), x=_stated(x), z=_stated(z))
        stage = told(found.layout, position)
        layout = with_stage(found.layout, position, replace(stage, idlers=(*stage.idlers, idler), loop=one.loop))
        self.session.try_apply(with_layout(self.session.design, layout, "Idler", gesture))

    def remove_idlers(self) -> None:
        """All idlers of the stage that the selected shaft drives."""
        found = self.found
        if found is None:
            return
        stage = told(found.layout, self.selected)
        if stage.idlers:
            layout = with_stage(found.layout, self.selected, replace(stage, idlers=(), loop=None))
            self.session.try_apply(with_layout(self.session.design, layout, "No idler"))

    # keys

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, found = event.key(), self.found
        far = FAR_M if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else STEP_M
        ways: dict[int, tuple[float, float]] = {
            Qt.Key.Key_Left: (-far, 0.0),
            Qt.Key.Key_Right: (far, 0.0),
            Qt.Key.Key_Up: (0.0, far),
            Qt.Key.Key_Down: (0.0, -far),
        }
        if found is None:
            super().keyPressEvent(event)
        elif key in ways and 0 <= self.body < len(found.scene.bodies):
            one, (dx, dz) = found.scene.bodies[self.body], ways[key]
            step = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            plan = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            by = [1e-3 * step * math.copysign(1.0, value) if value else 0.0 for value in (dx, dz)]
            self.move_body(one.x + by[0], (one.y if plan else one.z) + by[1], plan=plan)
        elif key == Qt.Key.Key_B:
            self.take_body((self.body + 2) % (len(found.scene.bodies) + 1) - 1)
            self.picked.emit("body")
        elif key == Qt.Key.Key_W:
            self.show_whole(not self.whole)
        elif key == Qt.Key.Key_0:
            self.fit()
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(QPointF(self.rect().center()), 1.25)
        elif key == Qt.Key.Key_Minus:
            self.zoom(QPointF(self.rect().center()), 0.8)
        elif key == Qt.Key.Key_T:
            self.tape(not self.taping)
        elif key == Qt.Key.Key_Escape and self.underlay.wants:
            self.underlay.stop()
        elif key == Qt.Key.Key_Escape and (self.taping or self.tape_ends is not None or self.body >= 0):
            self.tape(False)
            self.take_body(-1)
        elif not found.scene.can_stands:
            super().keyPressEvent(event)
        elif key in ways:
            shaft = found.shafts[self.selected]
            self.move_shaft(self.selected, shaft.x + ways[key][0], shaft.z + ways[key][1], snap=0.4 * far)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            role = "driven" if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else "driver"
            self.step_teeth(role, 1 if key == Qt.Key.Key_PageUp else -1)
        elif key == Qt.Key.Key_N:
            self.body = -1
            self.selected = (self.selected + 1) % max(len(found.shafts) - 1, 1)
            self.update()
        elif key == Qt.Key.Key_I:
            self.idler_by_key()
        elif key == Qt.Key.Key_Delete:
            self.remove_idlers()
        else:
            super().keyPressEvent(event)

    def idler_by_key(self) -> None:
        found = self.found
        one = next((run for run in found.stages if run.position == self.selected), None) if found is not None else None
        if found is None or one is None:
            return
        from wattagon.study.layout.edits import idler_for

        edit = idler_for(found, self.session.stock, one)
        if edit is not None:
            self.session.try_apply(edit)
        else:
            self.session.told.emit("No loop of stock lies with one more idler there; pull one out of a span by hand.", True)

    def step_teeth(self, role: str, by: int) -> None:
        """More or fewer teeth on the wheel of the selected shaft's stage, a step of stock."""
        edit = stepped(self.session.design, self.session.stock, self.selected, role, by)
        if edit is not None:
            self.session.try_apply(edit)

    def tape(self, on: bool) -> None:
        """The tape measure in hand, or put away."""
        self.taping, self.tape_ends = on, None
        self.setCursor(Qt.CursorShape.CrossCursor if on else Qt.CursorShape.ArrowCursor)
        self.update()


def _stated(value: float) -> Quantity:
    return Quantity(value=round(value, 4), known=Known.STATED)
