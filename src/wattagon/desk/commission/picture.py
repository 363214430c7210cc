"""Commissioning drawn: the way of steps in its four stages, and the step in hand large, forecast and reading on one scale."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF

from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import elided, pen, put_right, put_text, text_width, wrapped
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font, with_alpha
from wattagon.exchange.commission_pdf import between, said
from wattagon.study.commission.item import AFLOAT, Read
from wattagon.study.commission.judge import Verdict, values, within
from wattagon.study.commission.study import CommissionStudy, Done

ROW, NAMES, DOT = 31.0, 196.0, 7.5
MOST_SCALES = 8


class CommissionPicture(FoundPicture):
    """Paints what was read; a step is chosen by a click or the arrows."""

    found: CommissionStudy | None = None

    chosen_changed = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, "commission-picture", "Steps of commissioning", 250)
        self.chosen = ""
        self._spots: list[tuple[QRectF, str]] = []

    def show_commission(self, found: CommissionStudy | None, problem: str = "") -> None:
        """Another result; of another design the step in hand is the first that is open."""
        before = self.found
        self.found, self.problem = found, problem
        if found is not None:
            other = before is None or before.design.vehicle.name != found.design.vehicle.name or before.design.active != found.design.active
            codes = {one.item.id for one in found.applying}
            if other or self.chosen not in codes:
                first = found.stopped or found.next
                self.chosen = first.item.id if first is not None else found.applying[-1].item.id
        self.update()

    @property
    def step(self) -> Done | None:
        """The one in hand."""
        return self.found.step(self.chosen) if self.found is not None and self.chosen else None

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        one = self.step
        reads = "; ".join(f"{read.words} {between(read, self.session.unit_set)}" for read in one.item.reads) if one is not None else ""
        chain = ", ".join(f"{one.item.id} {one.verdict.value}" for one in self.found.applying)
        return f"{one.item.id} {one.item.title}: {one.item.accept}; {reads}. {chain}" if one is not None else chain

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: CommissionStudy) -> None:
        top = self._way(p, theme, rect, found)
        if self.step is not None:
            self._large(p, theme, QRectF(rect.left() + 14, top + 6, rect.width() - 28, rect.bottom() - top - 10), self.step)

    def _way(self, p: QPainter, theme: Theme, rect: QRectF, found: CommissionStudy) -> float:
        """Four stages, each a line of dots; the way stops at a failed one.  The height at which it ends."""
        self._spots = []
        y, face = rect.top() + 8, font(12)
        stopped = False
        most = max(sum(one.item.applies for one in stage.steps) for stage in found.stages)
        signs = 170.0 if any(stage.signed is not None for stage in found.stages) else 0.0
        pitch = min((rect.width() - NAMES - 28 - signs) / max(most, 1), 62.0)
        for stage in found.stages:
            steps = [one for one in stage.steps if one.item.applies]
            middle = y + 0.5 * ROW
            p.setPen(theme.ink)
            put_text(p, rect.left() + 14, middle + 4.5, elided(f"{stage.code}  {stage.name}", font(12, 600), NAMES - 8), font(12, 600))
            sign = f"{'again: ' if stage.stale else ''}{stage.signed.name}, {stage.signed.date}" if stage.signed is not None else ""
            for k, one in enumerate(steps):
                x = rect.left() + 14 + NAMES + (k + 0.5) * pitch
                if k:
                    p.setPen(pen(theme.rule if stopped else theme.soft, 1.2, (2.0, 3.0) if stopped else ()))
                    p.drawLine(QPointF(x - pitch + DOT + 2, middle - 3), QPointF(x - DOT - 2, middle - 3))
                self._dot(p, theme, QPointF(x, middle - 3), one, stopped)
                p.setPen(theme.ink if one.item.id == self.chosen else theme.soft)
                code = one.item.id
                small = font(10, 600 if code == self.chosen else 400)
                put_text(p, x - 0.5 * text_width(code, small), middle + 14, code, small)
                self._spots.append((QRectF(x - 0.5 * pitch, y, pitch, ROW), code))
                stopped = stopped or one.verdict is Verdict.FAILED
            if sign:
                p.setPen(theme.tight if stage.stale else theme.soft)
                put_right(p, rect.right() - 14, middle + 4.5, elided(sign, face, 170.0), face)
            y += ROW
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(rect.left() + 10, y + 5), QPointF(rect.right() - 10, y + 5))
        return y + 6

    def _dot(self, p: QPainter, theme: Theme, at: QPointF, one: Done, stopped: bool) -> None:
        """Held: a filled disc; failed: a wedge; to be done again: a half disc; open: a ring."""
        if one.item.id == self.chosen:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.chosen)
            p.drawEllipse(at, DOT + 4, DOT + 4)
        if one.verdict is Verdict.FAILED:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.over)
            p.drawPolygon(QPolygonF([at + QPointF(-DOT, DOT - 2), at + QPointF(0, -DOT), at + QPointF(DOT, DOT - 2)]))
        elif one.passed:
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.tight if one.verdict is Verdict.TIGHT else theme.clear)
            p.drawEllipse(at, DOT - 1, DOT - 1)
        elif one.reopened:
            p.setPen(pen(theme.tight, 1.6))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(at, DOT - 1, DOT - 1)
            p.setBrush(theme.tight)
            p.drawPie(QRectF(at.x() - DOT + 1, at.y() - DOT + 1, 2 * DOT - 2, 2 * DOT - 2), 90 * 16, 180 * 16)
        else:
            p.setPen(pen(theme.rule if stopped else theme.soft, 1.6))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(at, DOT - 1, DOT - 1)

    def _large(self, p: QPainter, theme: Theme, area: QRectF, one: Done) -> None:
        """Caution first, then how, then each figure on its scale."""
        found = self.found
        assert found is not None
        stage = next(stage for stage in found.stages if stage.code == one.item.stage)
        y = area.top() + 18
        p.setPen(theme.ink)
        put_text(p, area.left(), y, f"{one.item.id}  {one.item.title}", font(17, 600))
        word = {Verdict.HELD: "held", Verdict.TIGHT: "held", Verdict.FAILED: "failed: the way stops here", Verdict.OPEN: "open"}[
            one.verdict
        ]
        if one.reopened and one.judged.verdict is not Verdict.FAILED:
            word = f"again: {one.reopened[0]}"
        elif not found.may(one.item.id):
            word = f"waits: {found.stopped.item.id} failed" if found.stopped is not None else word
        p.setPen(theme.over if one.verdict is Verdict.FAILED else theme.tight if one.reopened else theme.soft)
        put_right(p, area.right(), y, elided(word, font(13, 600), 0.5 * area.width()), font(13, 600))
        usual = AFLOAT if one.item.stage == "D" and found.grounds.floats else stage.caution
        both = one.item.caution and one.item.stage != "D"  # on the ground a step's own says it all
        caution = f"Caution: {one.item.caution} {usual}" if both else f"Caution: {one.item.caution or usual}"
        y += 6
        p.setPen(theme.tight)
        for line in wrapped(caution, font(12, 600), area.width())[:2]:
            y += 16
            put_text(p, area.left(), y, line, font(12, 600))
        p.setPen(theme.ink)
        for line in wrapped(f"{one.item.how} Accepted: {one.item.accept}.", font(13), area.width())[:3]:
            y += 18
            put_text(p, area.left(), y, line, font(13))
        y += 12
        reads = one.item.reads[:MOST_SCALES]
        for text in one.judged.said[:2]:
            y += 15
            p.setPen(theme.over if one.judged.verdict is Verdict.FAILED else theme.soft)
            put_text(p, area.left(), y, elided(text, font(12, 600), area.width()), font(12, 600))
            y += 3
        if reads:
            columns = 2 if len(reads) > 4 else 1
            rows = math.ceil(len(reads) / columns)
            tall = min(max((area.bottom() - y - 4) / rows, 16.0), 40.0)
            wide = area.width() / columns
            for k, read in enumerate(reads):
                box = QRectF(area.left() + (k // rows) * wide, y + (k % rows) * tall, wide - (18 if columns > 1 else 0), tall)
                if box.bottom() <= area.bottom() + 2:
                    self._scale(p, theme, box, read, one)

    def _scale(self, p: QPainter, theme: Theme, box: QRectF, read: Read, one: Done) -> None:
        """The accepted range as a band, the forecast as a tick in it, what was read as a mark."""
        face, units = font(12), self.session.unit_set
        found = values(read, one.seen)
        named = min(0.36 * box.width(), 260.0) if box.width() > 500 else 0.47 * box.width()
        p.setPen(theme.ink)
        middle = box.center().y()
        put_text(p, box.left(), middle + 4, elided(read.words, face, named - 8), face)
        line = QRectF(box.left() + named, middle - 4, box.width() - named - (158 if box.width() > 500 else 112), 8)
        shown = [value for value in (read.low, read.high, read.expects, *found) if math.isfinite(value)]
        if not shown or line.width() < 30:
            return
        low, high = min(shown), max(shown)
        if math.isfinite(read.low) and not math.isfinite(read.high):
            high = max(high, 2.0 * abs(read.low), *(1.2 * value for value in found)) if read.low else high + 1.0
        room = 0.25 * (high - low) or 0.2 * max(abs(high), 1e-9)
        low, high = (low - room if low != 0.0 else low), high + room
        x = lambda value: line.left() + line.width() * (min(max(value, low), high) - low) / (high - low)
        p.setPen(pen(theme.rule, 1.0))
        p.drawLine(QPointF(line.left(), middle), QPointF(line.right(), middle))
        a = x(read.low) if math.isfinite(read.low) else line.left()
        b = x(read.high) if math.isfinite(read.high) else line.right()
        p.setPen(pen(theme.clear, 1.0))
        p.setBrush(with_alpha(theme.clear, 0.22))
        p.drawRect(QRectF(a, line.top(), max(b - a, 2.0), line.height()))
        if math.isfinite(read.expects):
            p.setPen(pen(theme.ink, 1.4))
            p.drawLine(QPointF(x(read.expects), line.top() - 2), QPointF(x(read.expects), line.bottom() + 2))
        for value in found:
            good = within(read, value)
            p.setPen(pen(theme.ink if good else theme.over, 1.4))
            p.setBrush(theme.panel if good else theme.over)
            p.drawEllipse(QPointF(x(value), middle), 4.5, 4.5)
        if found:
            p.setPen(theme.ink if all(within(read, value) for value in found) else theme.over)
            words = said(read, found[0], units) if len(found) == 1 else f"{said(read, min(found), units)} … {said(read, max(found), units)}"
        else:
            p.setPen(theme.soft)
            words = between(read, units).replace(" to ", " … ")
        put_right(p, box.right(), middle + 4, elided(words, face, 152.0 if box.width() > 500 else 106.0), face)

    def choose(self, code: str) -> None:
        """Another step in hand."""
        self.chosen = code
        self.update()
        self.chosen_changed.emit(code)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        code = next((code for box, code in self._spots if box.contains(event.position())), "")
        if code:
            self.choose(code)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        codes = [code for _, code in self._spots]
        ways = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}
        if event.key() in ways and self.chosen in codes:
            self.choose(codes[min(max(codes.index(self.chosen) + ways[Qt.Key(event.key())], 0), len(codes) - 1)])
        else:
            super().keyPressEvent(event)
