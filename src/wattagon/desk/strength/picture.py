"""The load path on one logarithmic axis of torque at the wheel: a bar an element, as long as what it bears, with its band."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QLinearGradient, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import elided, frame, pen, put_right, put_text, say_instead, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.exchange.units import shown
from wattagon.study.findings.status import Status
from wattagon.study.strength.element import Element
from wattagon.study.strength.proof import PROOF
from wattagon.study.strength.study import StrengthStudy

NAMES_PX, ROW_PX, HEAD_PX, TOP_PX, FOOT_PX = 208.0, 21.0, 18.0, 42.0, 24.0
ROW_LEAST_PX = 16.0  # below it names touch; the path scrolls instead
SHORT_PX = 46.0  # of the second axis, with its words
GROUPS = (("drive", "rotor to ground"), ("mount", "reaction to the frame"))
CASES = {"drive": "drive", "regen": "braking", "jam": "jam", "grip": "tyre slips", "run_peak": "timed run", "ride": "ride"}


class LoadPath(QWidget):
    """Paints what `study_strength` finds; a bar is chosen by mouse or keys."""

    chosen_changed = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: StrengthStudy | None = None
        self.problem = ""
        self.chosen = ""
        self._rows: list[tuple[QRectF, str]] = []
        self._values: list[tuple[QPointF, str, bool]] = []  # torques beside their bars, the one in hand marked
        self.setObjectName("load-path")
        self.setAccessibleName("Load path")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(420, 200)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    # what it shows

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        say = self.session.say
        told = [f"{CASES[case.case]} {say(case.wheel_nm, 'torque')}" for case in self.found.loads if case.case in CASES]
        for one in self.found.elements:
            at = f"gives way at {say(one.fails_at_nm, 'torque')}" if math.isfinite(one.fails_at_nm) else f"factor {one.factor:.2f}"
            told.append(f"{one.name} {at}")
        return "; ".join(told)

    def show(self, found: StrengthStudy | None, problem: str = "") -> None:  # type: ignore[override]
        """Another result; what was chosen stays if it is there, else the weakest is."""
        self.found, self.problem = found, problem
        codes = [one.code for one in found.elements] if found is not None else []
        if self.chosen not in codes:
            first = found.first if found is not None else None
            self.chosen = first.code if first is not None else codes[0] if codes else ""
        self.setMinimumHeight(self._least())
        self.update()

    def _least(self) -> int:
        """Height at which no name touches another."""
        if self.found is None:
            return 200
        still = sum(not math.isfinite(one.fails_at_nm) for one in self.found.elements)
        rows = ROW_LEAST_PX * (len(self.found.elements) - still)
        return math.ceil(TOP_PX + HEAD_PX * len(GROUPS) + rows + FOOT_PX + (SHORT_PX + ROW_PX * still if still else 0.0) + 4.0)

    def row_of(self, code: str) -> QRectF:
        """Where an element was painted last; empty if it was not."""
        return next((row for row, name in self._rows if name == code), QRectF())

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self.session.theme_name]
        p.fillRect(rect, theme.panel)
        self._rows, self._values = [], []
        if self.found is None:
            say_instead(p, theme, rect, self.problem)
            return
        still = [one for one in self.found.elements if not math.isfinite(one.fails_at_nm)]
        foot = FOOT_PX + (SHORT_PX + ROW_PX * len(still) if still else 0.0)
        area = QRectF(rect.left() + NAMES_PX, rect.top() + TOP_PX, rect.width() - NAMES_PX - 64.0, rect.height() - TOP_PX - foot)
        low, high = self._ends()
        at = lambda torque: area.left() + area.width() * math.log(max(torque, low) / low) / math.log(high / low)
        self._axis(p, theme, area, low, high, at)
        y = area.top() + 2.0
        turned = [one for one in self.found.elements if math.isfinite(one.fails_at_nm)]
        row = min(ROW_PX, (area.height() - HEAD_PX * len(GROUPS)) / max(len(turned), 1))
        for side, words in GROUPS:
            group = [one for one in turned if one.side == side]
            if not group:
                continue
            p.setPen(theme.soft)
            put_text(p, rect.left() + 12, y + 13, words, font(12))
            y += HEAD_PX
            for one in group:
                self._bar(p, theme, QRectF(rect.left(), y, rect.width(), row), one, at)
                y += row
        self._lines(p, theme, area, low, high, at)
        for place, words, hand in self._values:  # over the lines, on ground of their own
            p.fillRect(QRectF(place.x() - 2, place.y() - 11, text_width(words, font(12)) + 4, 14), theme.panel)
            p.setPen(theme.ink if hand else theme.soft)
            put_text(p, place.x(), place.y(), words, font(12))
        if still:
            self._still(
                p, theme, QRectF(rect.left(), area.bottom() + FOOT_PX, rect.width(), rect.bottom() - area.bottom() - FOOT_PX), area, still
            )
        if self.hasFocus():
            frame(p, theme, rect)

    def _ends(self) -> tuple[float, float]:
        assert self.found is not None
        values = [one.fails_at_nm for one in self.found.elements if math.isfinite(one.fails_at_nm) and one.fails_at_nm > 0.0]
        told = [case.wheel_nm for case in self.found.loads if case.case in CASES]
        values += [torque for torque in told if torque > 0.0]
        low, high = min(values, default=1.0), max(values, default=10.0)
        return 10.0 ** math.floor(math.log10(0.6 * low)), max(1.6 * high, 20.0 * low)

    def _axis(self, p: QPainter, theme: Theme, area: QRectF, low: float, high: float, at) -> None:  # type: ignore[no-untyped-def]
        face, per = font(12), shown(1.0, "torque", self.session.unit_set)  # ticks are round in the user's unit
        decade = 10.0 ** math.floor(math.log10(low * per))
        while decade < high * per:
            for step in (1.0, 2.0, 5.0):
                tick = decade * step
                if low <= tick / per <= high:
                    x, words = at(tick / per), f"{tick:g}"
                    p.setPen(pen(theme.rule, 1.0))
                    p.drawLine(QPointF(x, area.top() - 4), QPointF(x, area.bottom()))
                    p.setPen(theme.soft)
                    put_text(p, x - 0.5 * text_width(words, face), area.bottom() + 15, words, face)
            decade *= 10.0
        unit = self.session.say(1.0, "torque").split(" ", 1)[-1]
        put_right(p, area.left() - 22, area.bottom() + 15, f"{unit} {self.where}", face)

    @property
    def where(self) -> str:
        """Where the axis counts."""
        return self.found.where if self.found is not None else "at the wheel"

    def _bar(self, p: QPainter, theme: Theme, row: QRectF, one: Element, at) -> None:  # type: ignore[no-untyped-def]
        hand = one.code == self.chosen
        self._rows.append((row, one.code))
        if hand:
            p.fillRect(row.adjusted(2, 1, -2, -1), with_alpha(theme.electrical, 0.08))
        colour = self._colour(theme, one.status)
        face = font(12, 600 if hand or one.status is Status.OVER else 400)
        p.setPen(theme.ink)
        put_text(p, row.left() + 22, row.center().y() + 4.5, elided(one.name, face, NAMES_PX - 30), face)
        left, (low, high) = at(0.0), one.band
        begin, middle, end = at(max(low, 1e-9)), at(one.fails_at_nm), at(high)
        tall = min(11.0, row.height() - 6.0)
        bar = QRectF(left, row.center().y() - 0.5 * tall, max(end - left, 1.0), tall)
        fade = QLinearGradient(left, 0.0, end, 0.0)
        solid = min(max((begin - left) / max(end - left, 1.0), 0.0), 1.0)
        fade.setColorAt(0.0, with_alpha(colour, 0.85))
        fade.setColorAt(solid, with_alpha(colour, 0.85))
        fade.setColorAt(1.0, with_alpha(colour, 0.08))
        p.fillRect(bar, fade)
        p.setPen(pen(theme.ink, 1.6))
        p.drawLine(QPointF(middle, bar.top() - 2), QPointF(middle, bar.bottom() + 2))
        words = self.session.say(one.fails_at_nm, "torque").split(" ")[0]
        left_of = min(end + 5, row.right() - 6 - text_width(words, font(12)))
        self._values.append((QPointF(left_of, row.center().y() + 4.5), words, hand))
        if one.proved:  # a small weight
            x = left + 4
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.panel)
            p.drawRect(QRectF(x, bar.top() + 3, 6, 5))

    @staticmethod
    def _colour(theme: Theme, status: Status) -> QColor:
        return theme.of(status) if status in (Status.OVER, Status.TIGHT) else theme.soft

    def _lines(self, p: QPainter, theme: Theme, area: QRectF, low: float, high: float, at) -> None:  # type: ignore[no-untyped-def]
        """Drive, braking, jam, slip, timed run, and the proof: each a line with its name on top, none over another."""
        assert self.found is not None
        lines: list[tuple[float, str, QColor, tuple[float, ...]]] = []
        inks: dict[str, tuple[QColor, tuple[float, ...]]] = {
            "drive": (theme.ink, ()),
            "regen": (theme.electrical, (6.0, 3.0)),
            "jam": (theme.over, (2.0, 2.0)),
        }
        for case in self.found.loads:
            if case.case in CASES and math.isfinite(case.wheel_nm) and low <= case.wheel_nm <= high:
                ink, style = inks.get(case.case, (theme.mechanical, (4.0, 3.0)))
                lines.append((case.wheel_nm, CASES[case.case], ink, style))
        lines.append((PROOF * self.found.loads[0].wheel_nm, "proof", theme.soft, (1.0, 3.0)))
        taken: list[tuple[float, float]] = []
        for torque, words, ink, style in sorted(lines, key=lambda line: line[0]):
            x, wide = at(torque), text_width(words, font(12, 600))
            p.setPen(pen(ink, 1.6, style))
            p.drawLine(QPointF(x, area.top() - 2), QPointF(x, area.bottom()))
            left = x + 4
            level = next((k for k in range(3) if not any(k == t[1] and left < t[0] + 4 for t in taken)), 2)
            taken.append((left + wide, level))
            p.setPen(ink)
            put_text(p, left, area.top() - 30 + 12 * level, words, font(12, 600))

    def _still(self, p: QPainter, theme: Theme, room: QRectF, area: QRectF, still: list[Element]) -> None:
        """What torque does not load: how often it bears its own load, on a short axis of its own."""
        low, high = 0.5, 20.0
        wide = 0.55 * area.width()
        at = lambda factor: area.left() + wide * math.log(min(max(factor, low), high) / low) / math.log(high / low)
        p.setPen(theme.soft)
        put_text(p, room.left() + 12, room.top() + 13, "not loaded by torque", font(12))
        y = room.top() + HEAD_PX
        for factor in (0.5, 1, 2, 5, 10, 20):
            p.setPen(pen(theme.rule, 1.0))
            p.drawLine(QPointF(at(factor), y), QPointF(at(factor), y + ROW_PX * len(still)))
            words = f"{factor:g}"
            p.setPen(theme.soft)
            put_text(p, at(factor) - 0.5 * text_width(words, font(11)), y + ROW_PX * len(still) + 12, words, font(11))
        put_text(p, at(high) + 14, y + ROW_PX * len(still) + 12, "times its own load", font(11))
        for one in still:
            row = QRectF(room.left(), y, room.width(), ROW_PX)
            self._rows.append((row, one.code))
            hand = one.code == self.chosen
            if hand:
                p.fillRect(row.adjusted(2, 1, -2, -1), with_alpha(theme.electrical, 0.08))
            p.setPen(theme.ink)
            face = font(12, 600 if hand else 400)
            put_text(p, row.left() + 22, row.center().y() + 4.5, elided(one.name, face, NAMES_PX - 30), face)
            factor = one.factor if math.isfinite(one.factor) else low
            p.fillRect(
                QRectF(at(low), row.center().y() - 5.5, at(factor) - at(low), 11.0), with_alpha(self._colour(theme, one.status), 0.85)
            )
            p.setPen(pen(theme.ink, 1.6))
            x = at(one.bears.wanted)
            p.drawLine(QPointF(x, row.top() + 3), QPointF(x, row.bottom() - 3))
            words = f"{one.factor:.1f}, {one.bears.wanted:g} wanted" if math.isfinite(one.factor) else "not checked"
            p.setPen(theme.soft)
            put_text(p, max(at(factor), x) + 6, row.center().y() + 4.5, words, font(12))
            y += ROW_PX
        p.setPen(pen(theme.ink, 1.4))
        p.drawLine(QPointF(at(1.0), room.top() + HEAD_PX), QPointF(at(1.0), y))

    # what a hand does

    def choose(self, code: str) -> None:
        """An element by its code."""
        if self.found is not None and self.found.element(code) is not None:
            self.chosen = code
            self.update()
            self.chosen_changed.emit(code)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for row, code in self._rows:
            if row.contains(event.position()):
                self.choose(code)
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Home: -99, Qt.Key.Key_End: 99}.get(Qt.Key(event.key()))
        codes = [code for _, code in self._rows]
        if step is None or not codes:
            super().keyPressEvent(event)
            return
        at = codes.index(self.chosen) if self.chosen in codes else 0
        self.choose(codes[min(max(at + step, 0), len(codes) - 1)])
