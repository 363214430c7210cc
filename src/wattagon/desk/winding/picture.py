"""The stator from the front, coils in three inks and in winding order; beside it the star of slots and the Hall codes over a turn."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF

from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import assumed_mark, elided, pen, put_text, text_width, wrapped
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.desk.winding.beside import centred, paint_codes, paint_joints, paint_star
from wattagon.desk.winding.inks import ink_of, wire_words
from wattagon.physics.winding import star
from wattagon.physics.winding.halls import codes
from wattagon.physics.winding.shape import Point, Shape
from wattagon.study.winding.drawn import shape_of
from wattagon.study.winding.study import WindingStudy

STAR_PX, STRIP_PX, STEP_DEG = 210.0, 104.0, 15.0  # electrical, of one key
SMALL = 12


class WindingPicture(FoundPicture):
    """Paints what `study_winding` finds; Space ticks a coil, left and right turn the rotor."""

    found: WindingStudy | None = None

    tick_asked = Signal()
    untick_asked = Signal()
    turn_asked = Signal(int)
    tooth_chosen = Signal(int)

    def __init__(self, session: Session) -> None:
        super().__init__(session, "winding-picture", "Stator and its coils", 250)
        self.turned_deg = 30.0  # electrical, of the rotor
        self.tooth = -1  # pointed at
        self.stale = False
        self.faded = False
        self.measure = ""
        self._centre, self._scale = QPointF(), 1.0
        self._dragged: float | None = None

    def show_winding(self, found: WindingStudy | None, problem: str = "", *, stale: bool = False) -> None:
        """Another result."""
        self.found, self.problem, self.stale = found, problem, stale
        if found is not None and self.tooth >= found.base.iron.slots:
            self.tooth = -1
        self.update()

    def show_measure(self, field: str) -> None:
        """A measure of the stator that is being typed is drawn where it is taken; empty: none."""
        self.measure = field
        self.update()

    # what it shows

    def spoken(self) -> str:
        found = self.found
        if found is None:
            return self.problem
        layout, iron = found.layout, found.base.iron
        told = [iron.name, layout.pattern.text if layout is not None else f"no balanced pattern: {found.why_not}"]
        if layout is not None:
            told.append(f"factor {layout.factor:.4f}")
        if found.guide is not None:
            told.append(f"{len(found.guide.done)} of {len(found.guide.jobs)} coils wound")
            told.append(found.guide.says())
        if found.halls is not None:
            told.append(f"code {self.code()}")
        return "; ".join(told)

    def code(self) -> str:
        """What the sensors tell at the rotor's angle."""
        found = self.found
        if found is None or found.halls is None or found.layout is None:
            return ""
        return codes(found.layout.pattern, found.halls.places, [self.turned_deg % 360.0])[0]

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: WindingStudy) -> None:
        side = min(rect.height() - 8.0, rect.width() - STAR_PX - 190.0)
        self._stator(p, theme, QRectF(rect.left() + 6, rect.top() + 4, side, rect.height() - 8), found)
        corner = QRectF(rect.left() + side + 14, rect.top() + 6, STAR_PX, rect.height() - STRIP_PX - 10)
        if found.layout is not None:
            paint_star(p, theme, corner, found, self.tooth)
            strip = QRectF(corner.left(), corner.bottom() + 2, STAR_PX, STRIP_PX)
            paint_codes(p, theme, strip, found, self.turned_deg)
        words = QRectF(corner.right() + 14, rect.top() + 8, rect.right() - corner.right() - 24, rect.height() - 16)
        self._words(p, theme, words, found)

    # the stator

    def _stator(self, p: QPainter, theme: Theme, area: QRectF, found: WindingStudy) -> None:
        shape = shape_of(found.base.iron)
        scale = 0.5 * min(area.width(), area.height()) / (shape.outer + 0.09 * shape.outer)
        self._centre, self._scale = area.center(), scale
        at = lambda point: QPointF(area.center().x() + scale * point[0], area.center().y() - scale * point[1])
        poly = lambda points: QPolygonF([at(point) for point in points])
        turned = math.radians(self.turned_deg) / (shape.poles / 2.0)
        for pole in range(shape.poles):
            north = pole % 2 == 0
            p.setPen(pen(theme.soft, 0.8))
            p.setBrush(with_alpha(theme.ink, 0.30) if north else with_alpha(theme.ink, 0.07))
            p.drawPolygon(poly(shape.magnet_outline(pole, turned)))
        p.setPen(pen(theme.soft, 1.0))
        p.setBrush(theme.chosen)
        inner = shape.bottom * scale
        for tooth in range(shape.slots):
            p.setBrush(with_alpha(theme.ink, 0.16) if tooth == self.tooth else theme.chosen)
            p.drawPolygon(poly(shape.tooth_outline(tooth)))
        if shape.outwards > 0.0:
            p.setBrush(theme.chosen)
            p.drawEllipse(area.center(), inner, inner)
            p.setBrush(theme.panel)
            p.drawEllipse(area.center(), 0.42 * inner, 0.42 * inner)
        else:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(area.center(), inner, inner)
            p.drawEllipse(area.center(), 1.15 * inner, 1.15 * inner)
        if found.layout is not None:
            self._coils(p, theme, shape, at, poly, found)
        self._sensors(p, theme, shape, at, found)
        self._measured(p, theme, shape, at)

    def _measured(self, p: QPainter, theme: Theme, shape: Shape, at) -> None:  # type: ignore[no-untyped-def]
        """The measure in hand as a line with ends."""
        ends = shape.measure(self.measure)
        if ends is None:
            return
        a, b = at(ends[0]), at(ends[1])
        way = b - a
        long = math.hypot(way.x(), way.y()) or 1.0
        across = QPointF(-way.y(), way.x()) * (6.0 / long)
        for ink, wide in ((theme.panel, 5.0), (theme.over, 2.2)):
            p.setPen(pen(ink, wide))
            p.drawLine(a, b)
            for end in (a, b):
                p.drawLine(end - across, end + across)

    def _coils(self, p: QPainter, theme: Theme, shape: Shape, at, poly, found: WindingStudy) -> None:  # type: ignore[no-untyped-def]
        layout, guide = found.layout, found.guide
        assert layout is not None
        whole = layout.pattern.layers == 1
        hand = guide.job.tooth if guide is not None and guide.job is not None else -1
        order = {job.tooth: job for job in guide.jobs} if guide is not None else {}
        face = font(max(9, min(13, round(self._scale * shape.tooth * 0.8))), 600)
        for tooth, coil in enumerate(layout.pattern.coils):
            if coil is None:
                continue
            ink = ink_of(theme, coil[0])
            done = guide is None or tooth in guide.done
            strong = tooth == hand
            p.setPen(pen(ink, 2.4 if strong else 1.0, () if done or strong else (2.0, 2.0)))
            shade = 0.62 if guide is not None and done else 0.28 if done else 0.0
            if strong and guide is not None and guide.turns:
                shade = 0.12 + 0.4 * guide.turns_on / guide.turns
            p.setBrush(with_alpha(ink, shade) if shade else Qt.BrushStyle.NoBrush)
            sides = shape.coil(tooth, coil[1], whole=whole)
            for side in sides:
                p.drawPolygon(poly(side.outline))
            if done or strong:
                for side in sides:
                    self._current(p, theme, at(side.middle), side.away, ink)
            letter = ("ABC" if coil[1] > 0 else "abc")[coil[0]]
            middle = at(shape.at(0.5 * (shape.bottom + shape.gap), shape.angle(tooth)))
            centred(p, theme.ink, middle, letter, face)
            outside = shape.outer * 1.045 if shape.outwards > 0.0 else shape.bottom * 1.075
            small = font(10, 600 if strong else 400)
            text = f"{tooth + 1}" if not order else f"{tooth + 1}·{order[tooth].number}"
            centred(p, theme.ink if strong else theme.soft, at(shape.at(outside, shape.angle(tooth))), text, small)
            if order and shape.outwards > 0.0 and (order[tooth].starts or order[tooth].ends):
                # on the yoke, where leads come in and go out
                end = "in" if order[tooth].starts else "out"
                lead = order[tooth].lead(end, layout.paths[-1] if found.coils.paths > 1 else 1)
                centred(p, ink, at(shape.at((0.84 if end == "in" else 0.62) * shape.bottom, shape.angle(tooth))), lead, font(10, 600))

    def _current(self, p: QPainter, theme: Theme, at: QPointF, away: bool, ink) -> None:  # type: ignore[no-untyped-def]
        """A cross: away from the reader; a point: towards him."""
        size = 2.6
        p.setPen(pen(theme.panel, 1.3))
        p.setBrush(ink)
        p.drawEllipse(at, size + 1.8, size + 1.8)
        p.setPen(pen(theme.panel, 1.3))
        if away:
            p.drawLine(at + QPointF(-size + 0.6, -size + 0.6), at + QPointF(size - 0.6, size - 0.6))
            p.drawLine(at + QPointF(-size + 0.6, size - 0.6), at + QPointF(size - 0.6, -size + 0.6))
        else:
            p.setBrush(theme.panel)
            p.drawEllipse(at, 0.9, 0.9)

    def _sensors(self, p: QPainter, theme: Theme, shape: Shape, at, found: WindingStudy) -> None:  # type: ignore[no-untyped-def]
        if found.halls is None:
            return
        told, code = found.halls.told, self.code()
        for k, place in enumerate(found.halls.places):
            spot = at(shape.opening_at(place, shape.gap - shape.outwards * 0.35 * shape.tip))
            on = k < len(code) and code[k] == "1"
            p.setPen(pen(theme.ink if told else theme.soft, 1.4))
            p.setBrush((theme.ink if told else theme.soft) if on else theme.panel)
            p.drawRect(QRectF(spot.x() - 4.5, spot.y() - 4.5, 9.0, 9.0))
            words = at(shape.opening_at(place, shape.gap - shape.outwards * (shape.tip + 0.10 * shape.gap)))
            face = font(10, 600)
            width = text_width(f"H{k + 1}", face)
            p.fillRect(QRectF(words.x() - 0.5 * width - 1, words.y() - 6, width + 2, 12), with_alpha(theme.panel, 0.85))
            centred(p, theme.ink, words, f"H{k + 1}", face)

    # words

    def _words(self, p: QPainter, theme: Theme, area: QRectF, found: WindingStudy) -> None:
        """The winding in hand, or what there is: large what to do next, under it the figures."""
        guide, layout, iron = found.guide, found.layout, found.base.iron
        y = area.top() + 14
        name = f"{iron.name}  {found.base.part.name}"
        p.setPen(theme.ink)
        first, *more = wrapped(name, font(14, 600), area.width())[:2]
        put_text(p, area.left(), y, first, font(14, 600))
        for line in more:
            y += 17
            put_text(p, area.left(), y, elided(line, font(14, 600), area.width()), font(14, 600))
        if layout is None:
            p.setPen(theme.over)
            for line in wrapped(f"No three equal phases: this asks for {found.why_not}.", font(13, 600), area.width()):
                y += 18
                put_text(p, area.left(), y, line, font(13, 600))
            return
        y += 20
        p.setPen(theme.soft)
        put_text(p, area.left(), y, elided(layout.pattern.text, font(13), area.width()), font(13))
        y += 10
        if guide is not None and (guide.done or guide.turns_on or not guide.finished):
            y = self._next(p, theme, area, y, found)
        self._figures(p, theme, area, y, found)

    def _next(self, p: QPainter, theme: Theme, area: QRectF, y: float, found: WindingStudy) -> float:
        guide = found.guide
        assert guide is not None
        bar = QRectF(area.left(), y + 4, area.width(), 7)
        p.setPen(pen(theme.rule, 1.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(bar)
        per = bar.width() / len(guide.jobs)
        for k, job in enumerate(guide.jobs):
            if job.tooth in guide.done:
                p.fillRect(QRectF(bar.left() + k * per, bar.top(), per - 1, bar.height()), ink_of(theme, job.phase))
        y = bar.bottom() + 4
        p.setPen(theme.ink)
        for line in wrapped(guide.says(), font(14, 600), area.width())[:5]:
            y += 18
            put_text(p, area.left(), y, line, font(14, 600))
        if guide.job is not None:
            y += 17
            p.setPen(theme.soft)
            turns = f"turn {guide.turns_on} of {guide.turns} told with up and down; Space: this coil is wound"
            for line in wrapped(turns, font(SMALL), area.width())[:2]:
                put_text(p, area.left(), y, line, font(SMALL))
                y += 15
            y -= 15
        return y + 6

    def _figures(self, p: QPainter, theme: Theme, area: QRectF, y: float, found: WindingStudy) -> None:
        base, say, face = found.base, self.session.say, font(13)
        gives = lambda kv, ohm: f"{say(kv, 'kv')}, {say(ohm, 'resistance')}"
        made = lambda one: f"{one.turns:g} turns, {one.strands:g} × {wire_words(self.session, one.wire_m)}, {one.connection.value}"
        now = gives(float(base.motor.kv_rpm_per_v), float(base.motor.resistance_ohm))
        assumed = found.told.now.turns is None
        rows = [("now", now, False), ("", made(base.coils), assumed)]
        layout, iron = found.layout, base.iron
        if found.chosen is not None:
            one = found.chosen
            fill = f"fill {one.fill:.2f}"
            rows += [("plan", gives(one.kv, one.ohm), False), ("", f"{made(one.coils)}, {fill}", iron.area_by == "typical fill")]
        elif layout is not None:
            pull = ", a force turns with the rotor" if star.side_pull(iron.slots, iron.poles) else ""
            lasting = found.ways[0].effect
            rows += [
                ("iron", f"{star.cogging_steps(iron.slots, iron.poles)} cogging steps a turn{pull}", False),
                ("", f"up to {layout.paths[-1]} parallel paths, third harmonic {layout.third:.2f}", False),
                ("top", f"{say(found.hz, 'frequency')} electrical at the top speed", False),
                ("lasts", f"{say(lasting.lasting_a, 'current')}, {say(lasting.lasting_nm, 'torque')}", False),
            ]
        for head, text, typical in rows:
            if y + 17 > area.bottom() - 2:
                return
            p.setPen(theme.soft)
            put_text(p, area.left(), y + 17, head, font(SMALL))
            shown = ""
            for shown in wrapped(text, face, area.width() - 50)[:2]:
                y += 17
                if y > area.bottom() - 2:
                    return
                p.setPen(theme.soft if typical else theme.ink)
                put_text(p, area.left() + 38, y, shown, face)
            if typical:
                assumed_mark(p, QPointF(area.left() + 38 + text_width(shown, face) + 8, y - 4), theme.soft)
        if found.guide is not None:
            paint_joints(p, theme, QRectF(area.left(), y + 8, area.width(), area.bottom() - y - 8), found)

    # what a hand does

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key == Qt.Key.Key_Space:
            self.tick_asked.emit()
        elif key == Qt.Key.Key_Backspace:
            self.untick_asked.emit()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Plus):
            self.turn_asked.emit(1)
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Minus):
            self.turn_asked.emit(-1)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.turn_rotor(STEP_DEG if key == Qt.Key.Key_Right else -STEP_DEG)
        else:
            super().keyPressEvent(event)

    def turn_rotor(self, degrees: float) -> None:
        """By electrical degrees."""
        self.turned_deg = (self.turned_deg + degrees) % 360.0
        self.update()

    def _polar(self, at: QPointF) -> Point:
        """(radius [mm], angle [radians, clockwise from the top])."""
        x, y = at.x() - self._centre.x(), self._centre.y() - at.y()
        return math.hypot(x, y) / max(self._scale, 1e-9), math.atan2(x, y) % math.tau

    def tooth_at(self, at: QPointF) -> int:
        """The tooth under a point; -1 where there is none."""
        found = self.found
        if found is None:
            return -1
        shape = shape_of(found.base.iron)
        radius, angle = self._polar(at)
        low, high = sorted((shape.bottom, shape.gap))
        return round(angle / math.tau * shape.slots) % shape.slots if low <= radius <= high else -1

    def spot_of(self, tooth: int) -> QPointF:
        """Where a tooth was painted last."""
        assert self.found is not None
        shape = shape_of(self.found.base.iron)
        x, y = shape.at(0.5 * (shape.bottom + shape.gap), shape.angle(tooth))
        return QPointF(self._centre.x() + self._scale * x, self._centre.y() - self._scale * y)

    def magnet_spot(self, clockwise_deg: float) -> QPointF:
        """A place on the ring of magnets, from the top."""
        assert self.found is not None
        shape = shape_of(self.found.base.iron)
        x, y = shape.at(0.5 * sum(shape.magnet), math.radians(clockwise_deg))
        return QPointF(self._centre.x() + self._scale * x, self._centre.y() - self._scale * y)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tooth = self.tooth_at(event.position())
        radius, angle = self._polar(event.position())
        self._dragged = None
        if tooth >= 0:
            self.tooth = -1 if tooth == self.tooth else tooth
            self.tooth_chosen.emit(self.tooth)
            self.update()
        elif self.found is not None:
            shape = shape_of(self.found.base.iron)
            near, far = sorted(shape.magnet)
            if 0.97 * near <= radius <= 1.1 * far:
                self._dragged = angle

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragged is None or self.found is None:
            return
        _, angle = self._polar(event.position())
        step = (angle - self._dragged + math.pi) % math.tau - math.pi
        self._dragged = angle
        self.turn_rotor(math.degrees(step) * self.found.base.iron.pairs)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._dragged = None
