"""The ribbon: the drive across the top, as wide as the power that flows there now; losses leave as heat where they arise."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from wattagon.design.tree import USUAL
from wattagon.desk.chart.ink import box, elided, pen, put_right, put_text, straight, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.links import Link, links_of
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.physics.point import OperatingPoint
from wattagon.study.drive.study import DriveStudy, winding_outlook
from wattagon.study.resolve import case_words

WINDING_C, CONTROLLER_C, PACK_C = 8, 10, 11  # columns of a ride's trace (physics.ride.names.Col, which start-up does without)

BAND_TOP, BAND_MOST, HEAT_LINE = 60.0, 40.0, 114.0


class Ribbon(QWidget):
    """Paints the present operating point; a click on a link asks for its bench."""

    asked = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.places: list[tuple[QRectF, Link]] = []
        self._focused = 0
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName("ribbon")
        self.setFixedHeight(150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Power through the drive at this moment")
        for signal in (session.design_changed, session.moment_changed, session.looks_changed):
            signal.connect(self._refresh)

    def _refresh(self) -> None:
        if self.hasFocus():
            self._describe()
        self.update()

    def _describe(self) -> None:
        self.setAccessibleDescription("; ".join(f"{link.name} {link.values}" for link in self.links()))

    def focusInEvent(self, event: QFocusEvent) -> None:
        self._describe()
        super().focusInEvent(event)

    def links(self) -> list[Link]:
        """Links from the pack to the road or the water with their present values, in the user's units."""
        return links_of(self._session)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        self.paint_on(painter, QRectF(self.rect()).adjusted(10, 4, -10, -2))

    def spoken(self) -> str:
        """Its values as text."""
        point = self._session.point
        links = self.links()
        if point is None or not links:
            return self._session.problem
        heats = self.heat_words(point, len(links))
        told = [
            f"{link.name} {link.what}: {link.values}" + (f", heat {heat[0]}" if heat[0] else "")
            for link, heat in zip(links, heats, strict=False)
        ]
        return "; ".join(told)

    def paint_on(self, painter: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self._session.theme_name]
        box(painter, rect.left(), rect.top(), rect.width(), rect.height(), theme.panel, theme.rule)
        links, point = self.links(), self._session.point
        self.places = []
        if not links or point is None:
            painter.setFont(font(14))
            painter.setPen(theme.soft)
            words = self._session.problem or "Open a vehicle to see its power flow."
            painter.drawText(rect.adjusted(20, 0, -20, 0), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            return
        stations = self._stations(rect, len(links))
        self._bands(painter, theme, rect, stations, links, point)
        self._words(painter, theme, rect, stations, links)
        self._moment_line(painter, theme, rect, point)

    def _stations(self, rect: QRectF, n: int) -> list[float]:
        first, last = rect.left() + 16, rect.right() - 150
        return [first + (last - first) * k / (n - 1) for k in range(n)]

    def _words(self, painter: QPainter, theme: Theme, rect: QRectF, stations: list[float], links: list[Link]) -> None:
        for k, link in enumerate(links):
            right = stations[k + 1] - 8 if k + 1 < len(stations) else rect.right() - 8
            area = QRectF(stations[k], rect.top() + 4, right - stations[k], 42)
            self.places.append((QRectF(stations[k] - 6, rect.top(), right - stations[k] + 6, 116), link))
            if self.hasFocus() and k == self._focused:
                painter.setPen(pen(theme.electrical, 1.5))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(area.adjusted(-5, -1, 2, 0), 4, 4)
            painter.setPen(theme.ink)
            put_text(painter, area.left(), area.top() + 15, link.name, font(13, 600))
            used = text_width(link.name, font(13, 600)) + 6
            painter.setPen(theme.soft)
            room = area.width() - used
            if room > 24:
                put_text(painter, area.left() + used, area.top() + 15, elided(link.what, font(12), room), font(12))
            painter.setPen(theme.electrical if link.electrical else theme.mechanical)
            text = elided(link.values, font(13), area.width() + 4)
            put_text(painter, area.left(), area.top() + 34, text, font(13))

    def _bands(
        self, painter: QPainter, theme: Theme, rect: QRectF, stations: list[float], links: list[Link], point: OperatingPoint
    ) -> None:
        loss, count = point.losses, int(self._session.study.resolved.train.count) if self._session.study else 1
        # power that enters each stretch, and the heat that leaves at its beginning
        powers = [point.chemical_w, point.chemical_w - loss.pack, point.chemical_w - loss.pack - loss.controller]
        heats = [loss.pack, loss.controller, loss.motor]
        now = powers[-1] - loss.motor
        for shaft in point.shafts[1:]:
            powers.append(now)
            heats.append(shaft.loss_w * count)
            now -= shaft.loss_w * count
        # the wheels hand everything on, without stages the motor's shaft is theirs; a propeller stirs the water
        powers.append(now)
        heats.append(loss.load)
        on_road = abs(point.rolling_w) + abs(point.air_w) + abs(point.climb_w) + abs(point.surplus_w)
        most = max([abs(p) for p in powers] + [on_road, 1.0])
        scale = BAND_MOST / most
        top = rect.top() + BAND_TOP - 4
        painter.setPen(Qt.PenStyle.NoPen)
        words = self.heat_words(point, len(heats))
        for k, power in enumerate(powers):
            x0 = stations[k]
            x1 = stations[k + 1] if k + 1 < len(stations) else stations[k]
            colour = theme.electrical if links[min(k, len(links) - 1)].electrical else theme.mechanical
            entering, leaving = max(power, 0.0) * scale, max(power - heats[k], 0.0) * scale
            if x1 > x0 and entering > 0.05:
                self._stretch(painter, with_alpha(colour, 0.72), x0, x1, top, max(entering, 1.2), max(leaving, 1.0))
            elif x1 > x0 and power < -0.4:
                self._backwards(painter, colour, x0, x1, top, max(-power * scale, 2.0))
            if heats[k] > 0.4:
                stirred, line = k == len(powers) - 1, rect.top() + HEAT_LINE
                room = (stations[k + 1] if k + 1 < len(stations) else x0 + 400.0) - x0 - 26
                under = max(leaving, -power * scale if power < -0.4 else 0.0)  # of the band that it leaves, whichever way that runs
                self._heat(painter, theme, QPointF(x0 + 16, top + under), max(heats[k] * scale, 1.2), words[k], room, line, stirred=stirred)
            straight(painter, x0, top - 5, x0, top + BAND_MOST + 7, pen(theme.soft, 1.0))
            painter.setPen(Qt.PenStyle.NoPen)
        self._road(painter, theme, rect, stations[-1], top, scale, point)

    def _stretch(self, painter: QPainter, colour: QColor, x0: float, x1: float, top: float, entering: float, leaving: float) -> None:
        knee = min(x0 + 46, x1)
        path = QPainterPath(QPointF(x0, top))
        path.lineTo(x1, top)
        path.lineTo(x1, top + leaving)
        path.lineTo(knee, top + leaving)
        path.cubicTo(x0 + 26, top + leaving, x0 + 22, top + entering, x0, top + entering)
        path.closeSubpath()
        painter.fillPath(path, colour)

    def _backwards(self, painter: QPainter, colour: QColor, x0: float, x1: float, top: float, width: float) -> None:
        """Power on its way back from the road: lighter, with arrow heads against the usual direction."""
        painter.fillRect(QRectF(x0, top, x1 - x0, width), with_alpha(colour, 0.35))
        painter.setPen(pen(colour, 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        middle, half = top + width / 2, max(width / 2, 4.0)
        for share in (0.56, 0.7, 0.84):  # clear of the words on heat
            x = x0 + (x1 - x0) * share
            painter.drawPolyline([QPointF(x + half, middle - half), QPointF(x, middle), QPointF(x + half, middle + half)])
        painter.setPen(Qt.PenStyle.NoPen)

    def _heat(
        self, painter: QPainter, theme: Theme, at: QPointF, width: float, words: tuple[str, str], room: float, line: float, *, stirred: bool
    ) -> None:
        """Heat that leaves a band at its lower edge, and its figures on the line that they all share, clear of every band.

        What a propeller stirs into the water leaves likewise, as flow that is lost and no heat.
        """
        x, y, colour = at.x(), at.y(), theme.mechanical if stirred else theme.heat
        stroke = min(width, 14.0)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(with_alpha(colour, 0.45 if stirred else 0.85), stroke))
        path = QPainterPath(QPointF(x - 8, y + stroke / 2))
        path.cubicTo(x, y + stroke / 2, x + 4, y + stroke / 2 + 3, x + 4, max(line - 6, y + stroke / 2 + 4))
        painter.drawPath(path)
        painter.setPen(colour)
        face, room = font(12), room - stroke / 2
        text = words[0] if text_width(words[0], face) <= room else words[1]
        put_text(painter, x + 4 + stroke / 2 + 5, line, elided(text, face, room), face)
        painter.setPen(Qt.PenStyle.NoPen)

    def heat_words(self, point: OperatingPoint, n: int) -> list[tuple[str, str]]:
        """(words, the same in fewer where there is little room) of the heat at each link."""
        session, study = self._session, self._session.study
        loss = point.losses
        words = [session.say(loss.pack, "power"), session.say(loss.controller, "power"), session.say(loss.motor, "power")]
        short: dict[int, str] = {}
        ridden = session.moment.ridden
        if ridden is not None:  # as warm as it was there
            at = ridden.ride.run.trace[ridden.row]
            for k, column in enumerate((PACK_C, CONTROLLER_C, WINDING_C)):
                words[k] += f", {session.say(float(at[column]), 'temperature')}"
        elif study is not None and study.resolved.train.heat is not None:
            settles, seconds = winding_outlook(study.resolved, point)
            if math.isinf(seconds):
                short[2] = f"{words[2]}, {session.say(settles, 'temperature')}"
                words[2] += f", settles at {session.say(settles, 'temperature')}"
            else:
                limit = float(study.resolved.train.heat.limit_c)
                short[2] = f"{words[2]}, hot in {session.say(seconds, 'time')}"
                words[2] += f", {session.say(limit, 'temperature')} in {session.say(seconds, 'time')}"
        count = int(study.resolved.train.count) if study else 1
        words += [session.say(shaft.loss_w * count, "power") for shaft in point.shafts[1:]]
        if loss.load > 0.0:
            words += [f"{session.say(loss.load, 'power')} stirs the water"]
            short[len(words) - 1] = session.say(loss.load, "power")
        return [(text, short.get(k, text)) for k, text in enumerate(words + [""] * (n - len(words)))]

    def _road(self, painter: QPainter, theme: Theme, rect: QRectF, x: float, top: float, scale: float, point: OperatingPoint) -> None:
        say = self._session.say
        floats = self._session.design.vehicle.kind.floats
        parts = [("climb", point.climb_w), ("hull" if floats else "roll", point.rolling_w), ("air", point.air_w)]
        if abs(point.surplus_w) > 0.5:
            parts.append(("speeds up", point.surplus_w) if point.surplus_w > 0 else ("slows", point.surplus_w))
        shown = [(name, power) for name, power in parts if abs(power) > 0.4]
        if not shown:
            shown = [("stands still", 0.0)]
        # power that gravity, wind or slowing down brings in comes from the right and is drawn lighter
        gap = max(15.0, (BAND_MOST + 22) / max(len(shown), 1))
        y_from = top
        end = rect.right() - 114
        y_to = top - 8
        for name, power in shown:
            width = max(abs(power) * scale, 1.2)
            middle = y_to + max(width, 12.0) / 2
            colour = with_alpha(theme.mechanical, 0.78 if power > 0 else 0.35)
            path = QPainterPath(QPointF(x, y_from))
            path.cubicTo(x + 26, y_from, end - 26, middle - width / 2, end, middle - width / 2)
            path.lineTo(end, middle + width / 2)
            path.cubicTo(end - 26, middle + width / 2, x + 26, y_from + width, x, y_from + width)
            path.closeSubpath()
            painter.fillPath(path, colour)
            painter.setPen(theme.ink)
            words = {"climb": "descent", "air": "tailwind"}.get(name, name) if power < 0 else name
            put_text(painter, end + 5, middle + 4, f"{words} {say(abs(power), 'power')}" if power else name, font(12))
            painter.setPen(Qt.PenStyle.NoPen)
            if power > 0:
                y_from += width
            y_to += max(gap, width + 3)

    def _moment_line(self, painter: QPainter, theme: Theme, rect: QRectF, point: OperatingPoint) -> None:
        session = self._session
        y = rect.bottom() - 18
        straight(painter, rect.left() + 12, y - 3, rect.right() - 12, y - 3, pen(theme.rule, 1.0))
        painter.setPen(theme.soft)
        put_text(painter, rect.left() + 16, y + 11, "Moment", font(12, 600))
        painter.setPen(theme.ink)
        slope = (
            "through the water"
            if session.design.vehicle.kind.floats
            else "on the flat"
            if abs(point.grade) < 5e-4
            else f"on {session.say(abs(point.grade), 'grade')} {'up' if point.grade > 0 else 'down'}"
        )
        air = session.say(session.study.resolved.day_c, "temperature") if session.study else ""
        mass = session.say(float(session.study.resolved.load.mass_kg), "mass") if session.study else ""
        words = (
            f"{session.say(point.speed_m_s, 'speed')} {slope}, pack at {session.moment.charge:.0%}, {air} "
            f"air, {session.design.vehicle.name} with {mass} all up{in_view_words(session.study)}"
        )
        put_text(painter, rect.left() + 74, y + 11, words, font(12))
        note, colour = "drag on the map to move it", theme.soft
        if session.moment.ridden is not None:
            at = session.moment.ridden.ride.run.trace[session.moment.ridden.row]
            note = f"{session.moment.ridden.ride.name}, after {session.say(float(at[0]), 'time')}"
            read = session.moment.ridden.measured
            shown = [
                f"{name} {session.say(read[channel], dimension)}"
                for channel, name, dimension in (("bus_v", "", "voltage"), ("pack_a", "pack", "current"), ("motor_a", "motor", "current"))
                if channel in read
            ]
            if shown:
                note, colour = f"measured: {', '.join(shown).strip()}; {note}", theme.ink
        if session.moment.ridden is None and not point.held and point.thrust_n < point.load_n - 0.5:
            short = session.say(point.load_n - point.thrust_n, "force")
            note, colour = f"not held: {short} short", theme.over
        painter.setPen(colour)
        put_right(painter, rect.right() - 16, y + 11, note, font(12))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for area, link in self.places:
            if area.contains(event.position()):
                self.asked.emit(link.code)
                return

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        for area, link in self.places:
            if area.contains(event.position()):
                QToolTip.showText(event.globalPosition().toPoint(), link.tip, self)
                self.setCursor(Qt.CursorShape.PointingHandCursor)
                return
        self.unsetCursor()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        n = len(self.links())
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and n:
            self._focused = (self._focused + (1 if event.key() == Qt.Key.Key_Right else -1)) % n
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and n:
            self.asked.emit(self.links()[min(self._focused, n - 1)].code)
        else:
            super().keyPressEvent(event)


def in_view_words(study: DriveStudy | None) -> str:
    """Load case and mode in view, where it is not the usual one with all that the settings allow."""
    if study is None:
        return ""
    mode = study.design.brief.mode_in_view()
    words = [case_words(study.design, study.resolved.case)] if study.resolved.case != USUAL else []
    words += [f"mode {mode.name or mode.id}"] if mode is not None else []
    return "".join(f", {word}" for word in words)
