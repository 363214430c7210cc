"""Options as rows: how far kv is off, fill, what lasts, each drawn; and the ways to get there beside one another."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

from wattagon.desk.chart.bars import STEP, Bar, bar_of, paint_bars
from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import elided, pen, put_right, put_text
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.desk.winding.inks import wire_words
from wattagon.study.winding.effect import Effect
from wattagon.study.winding.option import FILL_FEW, FILL_MOST, NEAR, Option
from wattagon.study.winding.study import WindingStudy

ROW, HEAD, NAME_PX, WAY = 19.0, 18.0, 200.0, 34.0
FIRST_LINES = (
    "Type the kv that you want, or ask which fits best.",
    "What the motor is: count and measure under Stator and What it is.",
    "What nobody measured is typical of its size, and marked.",
    "A reduction or another joint alone is held against a rewind.",
)


def bars_of(found: WindingStudy, effect: Effect) -> tuple[Bar, ...]:
    """What a way does to each goal, as levers show it."""
    return tuple(bar_of(was.margin, now.margin) for was, now in zip(found.ways[0].effect.goals, effect.goals, strict=False))


class OptionRows(FoundPicture):
    """Paints the options; one is chosen by mouse or keys, Return winds it."""

    found: WindingStudy | None = None
    chosen_changed = Signal(int)
    wind_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session, "winding-options", "Options", 60)
        self.setMinimumWidth(380)
        self.at = 0

    def show_options(self, found: WindingStudy | None, problem: str = "") -> None:
        """Another result; the plan is in hand where there is one, else what is advised."""
        before = self.option
        self.found, self.problem = found, problem
        offers = found.offers if found is not None else ()
        wanted = found.chosen if found is not None and found.chosen is not None else None
        same = lambda one: next((k for k, (offer, _) in enumerate(offers) if one is not None and offer.coils == one.coils), -1)
        at = same(before)
        if at < 0:
            at = same(wanted)
        if at < 0 and found is not None:
            at = same(found.advised)
        self.at = max(at, 0)
        self.setMinimumHeight(int(HEAD + ROW * max(len(offers), 2) + 6))
        self.update()

    @property
    def option(self) -> Option | None:
        """The one in hand."""
        return self.found.offers[self.at][0] if self.found is not None and self.at < len(self.found.offers) else None

    def spoken(self) -> str:
        if self.found is None:
            return self.problem
        if not self.found.offers:
            return " ".join(self._none(self.found))
        return "; ".join(f"{one.name} {self.session.say(one.kv, 'kv')}" for one, _ in self.found.offers)

    def _none(self, found: WindingStudy) -> tuple[str, ...]:
        if found.told.kv is None:
            return FIRST_LINES
        return (f"No whole turns of wire that a hand gets in give {self.session.say(found.wanted_kv, 'kv')} within 12 %.",)

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: WindingStudy) -> None:
        if not found.offers:
            for k, line in enumerate(self._none(found)):
                face = font(13, 600 if k == 0 else 400)
                p.setPen(theme.ink if k == 0 else theme.soft)
                put_text(p, rect.left() + 8, rect.top() + 24 + 20 * k, elided(line, face, rect.width() - 16), face)
            return
        axis, fill, lasts, goals = self._columns(rect)
        face, small = font(12), font(11)
        p.setPen(theme.soft)
        put_text(p, rect.left() + 8, rect.top() + 12, "turns and wire", small)
        against = f"kv against {self.session.say(found.wanted_kv, 'kv')}"
        heads = (axis, against), (fill, "fill"), (lasts, "torque that lasts"), (goals, "goals")
        for column, words in heads:
            put_text(p, column.left(), rect.top() + 12, elided(words, small, column.width()), small)
        strongest = max((effect.lasting_nm for _, effect in found.offers if math.isfinite(effect.lasting_nm)), default=1.0)
        for k, (one, effect) in enumerate(found.offers):
            y = rect.top() + HEAD + k * ROW
            row = QRectF(rect.left() + 2, y, rect.width() - 4, ROW)
            planned = found.chosen is not None and one.coils == found.chosen.coils
            if k == self.at:
                p.fillRect(row, theme.chosen)
            p.setPen(theme.ink if one.by_hand.good else theme.soft)
            bold, room = font(12, 600 if planned else 400), axis.left() - rect.left() - 14
            put_text(p, rect.left() + 8, y + 13.5, elided(self._name(one, planned), bold, room), bold)
            self._off(p, theme, QRectF(axis.left(), y, axis.width(), ROW), one)
            self._fill(p, theme, QRectF(fill.left(), y + 5, fill.width(), ROW - 10), one)
            paint_bars(p, theme, QRectF(goals.left(), y + 2, goals.width(), ROW - 4), bars_of(found, effect))
            if math.isfinite(effect.lasting_nm):
                share = max(effect.lasting_nm, 0.0) / strongest
                p.fillRect(QRectF(lasts.left(), y + 6, max((lasts.width() - 62) * share, 1.0), ROW - 12), with_alpha(theme.mechanical, 0.7))
                p.setPen(theme.ink)
                put_right(p, lasts.right(), y + 13.5, self.session.say(effect.lasting_nm, "torque"), face)

    def _columns(self, rect: QRectF) -> tuple[QRectF, QRectF, QRectF, QRectF]:
        name = min(NAME_PX, 0.42 * rect.width())
        many = len(self.found.ways[0].effect.goals) if self.found is not None else 0
        goals = min(max(many * STEP, 32.0), 0.12 * rect.width())
        left, room = rect.left() + name, rect.width() - name - goals - 20.0
        return (
            QRectF(left, 0, 0.38 * room, 1),
            QRectF(left + 0.41 * room, 0, 0.21 * room, 1),
            QRectF(left + 0.65 * room, 0, 0.35 * room, 1),
            QRectF(left + room + 10.0, 0, goals, 1),
        )

    def _name(self, one: Option, planned: bool) -> str:
        coils = one.coils
        ways = f", {coils.paths} paths" if coils.paths > 1 else ""
        wire = wire_words(self.session, coils.wire_m)
        return f"{'✓ ' if planned else ''}{coils.turns:g} {coils.connection.value}, {coils.strands:g} × {wire}{ways}"

    def _off(self, p: QPainter, theme: Theme, area: QRectF, one: Option) -> None:
        """A dot on an axis of what kv may be off."""
        middle = area.center()
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(area.left() + 4, middle.y()), QPointF(area.right() - 52, middle.y()))
        zero = area.left() + 4 + 0.5 * (area.width() - 56)
        p.drawLine(QPointF(zero, area.top() + 4), QPointF(zero, area.bottom() - 4))
        x = zero + 0.5 * (area.width() - 56) * max(-1.0, min(1.0, one.off / NEAR))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(theme.electrical)
        p.drawEllipse(QPointF(x, middle.y()), 3.6, 3.6)
        p.setPen(theme.ink)
        put_right(p, area.right() - 2, area.top() + 13.5, f"{100 * one.off:+.1f} %", font(12))

    def _fill(self, p: QPainter, theme: Theme, area: QRectF, one: Option) -> None:
        """Copper in the slot, against what hands reach."""
        wide = area.width() - 34
        p.setPen(pen(theme.rule, 1.0))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(QRectF(area.left(), area.top(), wide, area.height()))
        share = min(one.fill / 0.6, 1.0)
        colour = theme.over if one.fill > FILL_MOST else theme.tight if one.fill > FILL_FEW else theme.electrical
        p.fillRect(QRectF(area.left(), area.top(), wide * share, area.height()), with_alpha(colour, 0.65))
        x = area.left() + wide * FILL_MOST / 0.6
        p.setPen(pen(theme.ink, 1.0))
        p.drawLine(QPointF(x, area.top() - 2), QPointF(x, area.bottom() + 2))
        p.setPen(theme.ink if one.by_hand.good else theme.over)
        put_right(p, area.right(), area.bottom() + 0.5, f"{one.fill:.2f}", font(11))

    def choose(self, at: int) -> None:
        """Another one in hand."""
        many = len(self.found.offers) if self.found is not None else 0
        if many:
            self.at = min(max(at, 0), many - 1)
            self.chosen_changed.emit(self.at)
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.choose(int((event.position().y() - HEAD) // ROW))

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.wind_asked.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.choose(self.at + (1 if event.key() == Qt.Key.Key_Down else -1))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.wind_asked.emit()
        else:
            super().keyPressEvent(event)


class WayBars(FoundPicture):
    """As it is, another joint alone, a rewind, another reduction: heat in the copper as bars, goals met, what lasts."""

    found: WindingStudy | None = None

    def __init__(self, session: Session) -> None:
        super().__init__(session, "winding-ways", "Ways to get there", 60)
        self.setMinimumWidth(250)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def show_ways(self, found: WindingStudy | None, problem: str = "") -> None:
        """Another result."""
        self.found, self.problem = found, problem
        self.setMinimumHeight(int(20 + WAY * (len(found.ways) if found is not None else 1)))
        self.update()

    def spoken(self) -> str:
        if self.found is None:
            return self.problem
        return "; ".join(f"{way.name}: {self._told(way.effect)}" for way in self.found.ways)

    def _told(self, one: Effect) -> str:
        if one.refused:
            return one.refused
        say = self.session.say
        return f"{one.met} of {len(one.goals)} goals, copper {say(one.copper_w, 'power')}, lasts {say(one.lasting_a, 'current')}"

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: WindingStudy) -> None:
        say, face, small = self.session.say, font(12), font(11)
        goal = next((one for one in found.subject.brief.goals if one.id == found.moment.name), None)
        where = f"at {say(found.moment.speed_m_s, 'speed')}" + (f", {say(found.moment.grade, 'grade')} up" if found.moment.grade else "")
        p.setPen(theme.soft)
        head = f"lost in one motor's copper {where}" if goal is not None else f"lost in one motor's copper at {found.moment.name}"
        put_text(p, rect.left() + 8, rect.top() + 12, elided(head, small, rect.width() - 16), small)
        most = max((way.effect.copper_w for way in found.ways if math.isfinite(way.effect.copper_w)), default=1.0) or 1.0
        tall = min(max((rect.height() - 20) / max(len(found.ways), 1), WAY), 44.0)
        for k, way in enumerate(found.ways):
            y = rect.top() + 18 + k * tall
            one = way.effect
            p.setPen(theme.ink)
            put_text(p, rect.left() + 8, y + 12, elided(way.name, font(12, 600), rect.width() - 16), font(12, 600))
            if one.refused:
                p.setPen(theme.over)
                put_text(p, rect.left() + 8, y + 27, elided(one.refused, small, rect.width() - 16), small)
                continue
            bars = bars_of(found, one)
            room = STEP * len(bars) + 8.0 if k else 0.0
            paint_bars(p, theme, QRectF(rect.right() - 92.0 - room, y + 15.0, room, 15.0), bars if k else ())
            wide = rect.width() - 176 - STEP * len(bars)
            p.fillRect(QRectF(rect.left() + 8, y + 18, max(wide * one.copper_w / most, 1.5), 9), with_alpha(theme.heat, 0.75))
            p.setPen(theme.ink)
            words = say(one.copper_w, "power")
            put_text(p, rect.left() + 14 + wide * one.copper_w / most, y + 27, words, face)
            all_met = one.met == len(one.goals)
            p.setPen(theme.clear if all_met else theme.over)
            told = f"{one.met} of {len(one.goals)} goals"
            put_right(p, rect.right() - 8, y + 27, told, font(12, 600))
