"""A small free-body sketch of an element, by its real proportions: what holds, what pulls, where."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from wattagon.desk.chart.ink import pen, put_text, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.working import in_units
from wattagon.physics.strength.frames import HELD_RADIUS
from wattagon.study.strength.element import At, Element

LEVERED = ("bracket", "weld", "glue", "corner", "tube")  # bent at their root by what pulls at a lever
ROOTED = (*LEVERED, "axle", "plate", "blade", "transom")


class Sketch(QWidget):
    """Of the element in hand."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.element: Element | None = None
        self.setObjectName("strength-sketch")
        self.setAccessibleName("Free-body sketch")
        self.setMinimumSize(150, 110)

    def sizeHint(self) -> QSize:
        return QSize(190, 130)

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(in_units(line, self._session.unit_set) for line in self.element.bears.working) if self.element is not None else ""

    @painted
    def paintEvent(self, event: QPaintEvent, p: QPainter) -> None:
        theme, one = THEMES[self._session.theme_name], self.element
        p.fillRect(self.rect(), theme.panel)
        if one is None or one.at is None:
            return
        room = QRectF(self.rect()).adjusted(14, 12, -14, -14)
        bent = one.at.pull_n > 0.0 or one.kind in ROOTED
        if bent and (one.kind in ROOTED or one.kind in ("shaft", "bearing")):
            self._beam(p, theme, room, one, one.at)
        else:
            self._round(p, theme, room, one, one.at)

    def _arrow(self, p: QPainter, theme: Theme, a: QPointF, b: QPointF) -> None:
        p.setPen(pen(theme.over, 2.0))
        p.setBrush(theme.over)
        p.drawLine(a, b)
        angle = math.atan2(b.y() - a.y(), b.x() - a.x())
        tip = [b - QPointF(8 * math.cos(angle + turn), 8 * math.sin(angle + turn)) for turn in (-0.4, 0.4)]
        p.drawPolygon(QPolygonF([b, *tip]))

    def _beam(self, p: QPainter, theme: Theme, room: QRectF, one: Element, at: At) -> None:
        """A shaft on its bearings, a plate at its root: the pull beyond, its distance."""
        rooted = one.kind in ROOTED
        apart = 0.0 if rooted else at.apart_m
        told = one.joint.lever if one.joint is not None else None
        beyond = told.value if told is not None and one.kind in LEVERED else 0.08 if one.kind in LEVERED else max(at.beyond_m, 0.005)
        if one.kind == "blade" and one.joint is not None and one.joint.inner is not None:
            beyond = max(HELD_RADIUS * at.beyond_m - one.joint.inner.value, 0.005)
        outboard = one.joint.outboard.value if one.joint is not None and one.joint.outboard is not None else 0.0
        scale = 0.86 * room.width() / max(apart + beyond + outboard, 1e-3)
        y, x0 = room.center().y() + 6, room.left() + 8
        root = x0 + apart * scale
        p.setPen(pen(theme.ink, max(min(at.shaft_m * scale, 14.0), 3.0) if not rooted else 6.0))
        p.drawLine(QPointF(x0, y), QPointF(root + (beyond + outboard) * scale, y))
        p.setPen(pen(theme.ink, 1.4))
        p.setBrush(with_alpha(theme.ink, 0.25))
        if rooted:
            p.drawRect(QRectF(x0 - 8, y - 26, 8, 52))
        for x in [] if rooted else [x0, root, *([root + (beyond + outboard) * scale] if outboard else [])]:
            p.drawPolygon(QPolygonF([QPointF(x, y + 6), QPointF(x - 8, y + 22), QPointF(x + 8, y + 22)]))
        load = QPointF(root + beyond * scale, y)
        self._arrow(p, theme, load - QPointF(0, 44), load - QPointF(0, 6))
        words = self._session.say(at.pull_n, "force")
        p.setPen(theme.over)
        put_text(p, min(load.x() - text_width(words, font(12, 600)) - 6, room.right()), y - 34, words, font(12, 600))
        self._dimension(p, theme, QPointF(root, y + 34), load + QPointF(0, 34), self._session.say(round(beyond, 5), "length"))
        if one.kind in (*LEVERED, "blade") and at.torque_nm > 0.0:
            p.setPen(theme.soft)
            put_text(p, room.left(), room.top() + 8, f"and {self._session.say(at.torque_nm, 'torque')}", font(12))

    def _dimension(self, p: QPainter, theme: Theme, a: QPointF, b: QPointF, words: str) -> None:
        p.setPen(pen(theme.soft, 1.0))
        p.drawLine(a, b)
        for end in (a, b):
            p.drawLine(end + QPointF(0, -4), end + QPointF(0, 4))
        p.setPen(theme.ink)
        put_text(p, 0.5 * (a.x() + b.x()) - 0.5 * text_width(words, font(12)), a.y() + 14, words, font(12))

    def _round(self, p: QPainter, theme: Theme, room: QRectF, one: Element, at: At) -> None:
        """A shaft from its end, or a circle of bolts, with the torque around it."""
        joint, middle = one.joint, room.center()
        ring = joint.radius.value if joint is not None and joint.radius is not None else 0.0
        r = 0.30 * min(room.width(), room.height())
        p.setPen(pen(theme.ink, 1.4))
        p.setBrush(with_alpha(theme.ink, 0.12))
        if one.kind in ("bolts", "slots", "arms", "spokes"):
            p.drawEllipse(middle, r * 1.25, r * 1.25)
            p.setBrush(theme.panel)
            p.drawEllipse(middle, 0.4 * r, 0.4 * r)
            count = (joint.count if joint is not None else None) or {"slots": 4}.get(one.kind, 5)
            p.setBrush(theme.ink)
            for k in range(count):
                turn = 2.0 * math.pi * (k + 0.5) / count
                p.drawEllipse(middle + QPointF(r * math.cos(turn), r * math.sin(turn)), 3.5, 3.5)
            if ring > 0.0:
                self._dimension(p, theme, QPointF(middle.x(), room.bottom() - 2), QPointF(middle.x() + r, room.bottom() - 2), "")
                p.setPen(theme.ink)
                put_text(p, room.left() - 6, room.bottom() + 6, self._session.say(round(ring, 5), "length"), font(12))
        else:
            flat = joint.flat.value / at.shaft_m if joint is not None and joint.flat is not None and at.shaft_m > 0.0 else 0.0
            path = QPainterPath()
            path.addEllipse(middle, r, r)
            if one.kind in ("set_screw", "d_bore", "dropout", "torque_arm"):
                cut = max(flat, 0.1 if one.kind != "set_screw" else flat) * 2.0 * r
                away = QPainterPath()
                away.addRect(QRectF(middle.x() - r, middle.y() - r - 1, 2 * r, cut + 1))
                if one.kind in ("dropout", "torque_arm"):
                    away.addRect(QRectF(middle.x() - r, middle.y() + r - cut, 2 * r, cut + 1))
                path = path.subtracted(away)
            p.drawPath(path)
            p.setBrush(with_alpha(theme.mechanical, 0.35))
            if one.kind == "set_screw":
                for k in range(min((joint.count if joint is not None else None) or 2, 2)):
                    p.drawRect(QRectF(middle.x() - 4 + 12 * k - 6 * (k > 0), middle.y() - 1.9 * r, 8, 0.9 * r))
            elif one.kind == "key":
                p.drawRect(QRectF(middle.x() - 0.2 * r, middle.y() - 1.2 * r, 0.4 * r, 0.45 * r))
            elif one.kind in ("spline", "gear"):
                count = (joint.count if joint is not None else None) or 14
                for k in range(min(count, 40)):
                    turn = 2.0 * math.pi * k / min(count, 40)
                    way = QPointF(math.cos(turn), math.sin(turn))
                    p.drawLine(middle + way * 0.98 * r, middle + way * 1.14 * r)
            elif one.kind in ("pin", "pivot"):
                p.drawRect(QRectF(middle.x() - 1.3 * r, middle.y() - 0.15 * r, 2.6 * r, 0.3 * r))
            elif one.kind in ("clamp", "coupling"):
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawArc(QRectF(middle.x() - 1.3 * r, middle.y() - 1.3 * r, 2.6 * r, 2.6 * r), 12 * 16, 336 * 16)
            p.setPen(theme.ink)
            told = joint.diameter if joint is not None and one.kind in ("shaft", "coupling", "clamp", "spline") else None
            teeth = f"{joint.count} teeth" if joint is not None and one.kind == "gear" and joint.count else ""
            words = teeth or self._session.say(round(told.value if told is not None else at.shaft_m, 5), "length")
            put_text(p, room.left() - 6, room.bottom() + 6, words, font(12))
        p.setPen(pen(theme.over, 2.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        big = 1.6 * r
        p.drawArc(QRectF(middle.x() - big, middle.y() - big, 2 * big, 2 * big), 20 * 16, 130 * 16)
        end = middle + QPointF(big * math.cos(math.radians(150)), -big * math.sin(math.radians(150)))
        self._arrow(p, theme, end + QPointF(4, -5), end + QPointF(-2, 5))
        words = self._session.say(at.torque_nm, "torque")
        p.setPen(theme.over)
        put_text(p, room.right() + 8 - text_width(words, font(12, 600)), room.bottom() + 6, words, font(12, 600))
