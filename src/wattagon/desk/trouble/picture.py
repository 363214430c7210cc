"""Trouble drawn: the symptom in the middle, causes around it, as near as they are likely, each with what speaks for or against it."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter
from PySide6.QtWidgets import QToolTip

from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import elided, pen, put_right, put_text, text_width, wrapped
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.study.trouble.engine import Ranked
from wattagon.study.trouble.study import TroubleStudy
from wattagon.study.trouble.symptoms import WHEN, Symptom

MOST, COLUMNS = 8, 3
CORE_W, CORE_H = 148.0, 58.0
ORDERS_H = 46.0


class TroublePicture(FoundPicture):
    """Paints causes; one is chosen by a click or the arrows."""

    found: TroubleStudy | None = None

    chosen_changed = Signal(str)
    asked = Signal(str)  # a symptom

    def __init__(self, session: Session) -> None:
        super().__init__(session, "trouble-picture", "Causes around the symptom", 240)
        self.chosen = ""
        self.able: tuple[Symptom, ...] = ()  # to choose from while none is
        self._spots: list[tuple[QRectF, str]] = []

    def show_trouble(self, found: TroubleStudy | None, problem: str = "", able: tuple[Symptom, ...] = ()) -> None:
        """Another result, or the symptoms to choose from."""
        self.able = able
        answered = lambda study: (study.symptom.code, study.answered) if study is not None else None
        asked = answered(found) != answered(self.found)
        self.found, self.problem = found, problem
        codes = [one.cause.code for one in found.causes] if found is not None else []
        if self.chosen not in codes or asked:
            self.chosen = codes[0] if codes else ""
        self.update()

    @property
    def cause(self) -> Ranked | None:
        """The chosen one."""
        return next((one for one in self.found.causes if one.cause.code == self.chosen), None) if self.found is not None else None

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return " ".join([self.problem, "; ".join(one.words for one in self.able)]).strip()
        told = [
            f"{one.cause.name} {one.weight:.0%}: {'; '.join(said.words for said in one.evidence[:2])}" for one in self.found.causes[:MOST]
        ]
        return f"{self.found.symptom.words}: {'. '.join(told)}"

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: TroubleStudy) -> None:
        self._spots = []
        area = rect.adjusted(12, 10, -12, -10 - (ORDERS_H if found.orders else 0.0))
        core = QRectF(area.center().x() - 0.5 * CORE_W, area.center().y() - 0.5 * CORE_H, CORE_W, CORE_H)
        shown = found.causes[:MOST]
        sides = (shown[0::2], shown[1::2])
        for side, causes in enumerate(sides):
            tall = area.height() / max(len(sides[0]), 1)
            for k, one in enumerate(causes):
                # the likelier the nearer to the middle of its side, too
                self._cause(p, theme, area, core, side, area.top() + (k + 0.5) * tall, tall, one)
        p.setPen(pen(theme.ink, 1.6))
        p.setBrush(theme.chosen)
        p.drawRoundedRect(core, 12, 12)
        p.setPen(theme.ink)
        lines = wrapped(found.symptom.words, font(13, 600), CORE_W - 14)[:3]
        for k, line in enumerate(lines):
            x = core.center().x() - 0.5 * text_width(line, font(13, 600))
            put_text(p, x, core.center().y() + 5 + 16 * (k - 0.5 * (len(lines) - 1)), line, font(13, 600))
        left = len(found.causes) - len(shown)
        if left > 0:
            p.setPen(theme.soft)
            rest = sum(one.weight for one in found.causes[MOST:])
            words = f"{left} more, {rest:.0%} together"
            put_text(p, core.center().x() - 0.5 * text_width(words, font(11)), core.bottom() + 16, words, font(11))
        if found.orders:
            self._orders(p, theme, QRectF(rect.left() + 14, area.bottom() + 8, rect.width() - 28, ORDERS_H))

    def draw_nothing(self, p: QPainter, theme: Theme, rect: QRectF) -> None:
        self._spots = []
        if self.able:
            self._symptoms(p, theme, rect.adjusted(18, 8, -12, -8))
        else:
            super().draw_nothing(p, theme, rect)

    def _symptoms(self, p: QPainter, theme: Theme, area: QRectF) -> None:
        """What can be seen, by when it shows, in columns of about one length."""
        groups = [[one for one in self.able if one.when == when] for when in WHEN]
        longest = -(-(len(self.able) + 2 * len(WHEN)) // COLUMNS)
        columns: list[list[Symptom | str]] = [[]]
        for when, group in zip(WHEN, groups, strict=True):
            if group and len(columns) < COLUMNS and len(columns[-1]) + 0.5 * len(group) > longest:
                columns.append([])
            columns[-1] += [*([""] if columns[-1] and group else []), *([when] if group else []), *group]
        high = min((area.height() - 24) / max(map(len, columns)), 19.0)
        p.setPen(theme.soft)
        put_text(p, area.left(), area.top() + 12, self.problem, font(12))
        wide = area.width() / len(columns)
        for k, column in enumerate(columns):
            for n, one in enumerate(column):
                x, y = area.left() + k * wide, area.top() + 24 + n * high
                if isinstance(one, str):
                    p.setPen(theme.soft)
                    put_text(p, x, y + 0.72 * high, one, font(12, 600))
                    continue
                self._spots.append((QRectF(x, y, wide - 14, high), one.code))
                p.setPen(theme.electrical)
                put_text(p, x, y + 0.72 * high, elided(one.words, font(12), wide - 16), font(12))

    def _cause(self, p: QPainter, theme: Theme, area: QRectF, core: QRectF, side: int, y: float, tall: float, one: Ranked) -> None:
        """A disc on its side: near when it is likely, far when not; its words outside of it."""
        sign = -1.0 if side == 0 else 1.0
        edge = core.left() if side == 0 else core.right()
        reach = 0.5 * area.width() - 0.5 * CORE_W - 26
        away = 22.0 + (1.0 - one.weight) ** 1.5 * 0.27 * reach
        x = edge + sign * away
        r = 4.0 + 9.0 * one.weight**0.5
        near = one.cause.code == self.chosen
        inside = QPointF(edge, min(max(y, core.top() + 10), core.bottom() - 10))
        p.setPen(pen(theme.ink if near else theme.rule, 1.2 + 2.2 * one.weight))
        p.drawLine(inside, QPointF(x, y))
        found = self.found is not None and self.found.found is one
        p.setPen(pen(theme.ink, 1.4))
        p.setBrush(theme.heat if found else with_alpha(theme.ink, 0.15 + 0.7 * one.weight))
        p.drawEllipse(QPointF(x, y), r, r)
        outer = area.left() if side == 0 else area.right()
        wide = abs(outer - x) - r - 10
        box = QRectF(min(outer, x), y - 0.5 * tall, abs(outer - x) + r, tall)
        self._spots.append((box, one.cause.code))
        name = f"{one.weight:.0%}  {one.cause.name}"
        face = font(13, 600 if near or one.weight > 0.3 else 400)
        lines = [(name, face, theme.ink)]
        room = min(int((tall - 20) // 15), 3)
        for said in one.evidence[:2]:
            mark, colour = ("+", theme.ink) if said.factor > 1.0 else ("−", theme.soft)
            for line in wrapped(f"{mark} {said.words}", font(11), wide)[:2]:
                if len(lines) <= room:
                    lines.append((line, font(11), colour))
        if not one.evidence and room > 0:
            lines.append(("nothing of this design speaks", font(11), theme.soft))
        top = y - 7.5 * (len(lines) - 1) + 4
        for k, (text, ink, colour) in enumerate(lines):
            p.setPen(colour)
            words = elided(text, ink, wide)
            if side == 0:
                put_right(p, x - r - 8, top + 15 * k, words, ink)
            else:
                put_text(p, x + r + 8, top + 15 * k, words, ink)

    def _orders(self, p: QPainter, theme: Theme, area: QRectF) -> None:
        """Orders of the train along one axis of hertz, logarithmic: what to count for."""
        assert self.found is not None
        orders = self.found.orders
        low, high = math.log10(orders[0].hertz) - 0.1, math.log10(orders[-1].hertz) + 0.1
        across = lambda hz: area.left() + area.width() * (math.log10(hz) - low) / max(high - low, 1e-6)
        line = area.bottom() - 18
        p.setPen(pen(theme.rule, 1.2))
        p.drawLine(QPointF(area.left(), line), QPointF(area.right(), line))
        ends = [-1e9, -1e9]
        for one in orders:
            x = across(one.hertz)
            words = f"{one.words} {one.hertz:.3g} Hz"
            wide = text_width(words, font(11))
            left = min(max(x - 0.5 * wide, area.left()), area.right() - wide)
            row = 0 if left > ends[0] + 6 else 1
            mine = one.cause == self.chosen
            p.setPen(pen(theme.ink if mine else theme.soft, 2.2 if mine else 1.2))
            p.drawLine(QPointF(x, line - 5), QPointF(x, line + 5))
            if left > ends[row] + 6:
                ends[row] = left + wide
                put_text(p, left, line - 9 if row == 0 else line + 14, words, font(11))

    def where(self, code: str) -> QPointF | None:
        """The middle of a cause or symptom that is drawn."""
        return next((box.center() for box, one in self._spots if one == code), None)

    def choose(self, code: str) -> None:
        """Another cause in hand."""
        self.chosen = code
        self.update()
        self.chosen_changed.emit(code)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        code = next((code for box, code in self._spots if box.contains(event.position())), "")
        if code and self.found is None:
            self.asked.emit(code)
        elif code:
            self.choose(code)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        codes = [one.cause.code for one in self.found.causes[:MOST]] if self.found is not None else []
        ways = {Qt.Key.Key_Down: 2, Qt.Key.Key_Up: -2, Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}
        if event.key() in ways and self.chosen in codes:
            at = codes.index(self.chosen) + ways[Qt.Key(event.key())]
            if 0 <= at < len(codes):
                self.choose(codes[at])
        else:
            super().keyPressEvent(event)

    def event(self, event) -> bool:  # type: ignore[no-untyped-def]
        if isinstance(event, QHelpEvent) and self.found is not None:
            code = next((code for box, code in self._spots if box.contains(QPointF(event.pos()))), "")
            one = next((one for one in self.found.causes if one.cause.code == code), None)
            if one is not None:
                said = "\n".join(f"{'for' if each.factor > 1.0 else 'against'}: {each.words}" for each in one.evidence)
                QToolTip.showText(event.globalPos(), f"{one.cause.name} {one.weight:.0%}\n{said}\ncure: {one.cause.cure}", self)
                return True
        return super().event(event)
