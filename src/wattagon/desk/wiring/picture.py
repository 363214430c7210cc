"""The power path drawn: as long as the leads are, as thick as the copper is, coloured by its temperature; each piece with its square."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import elided, frame, pen, put_text, say_instead, text_width
from wattagon.desk.chart.loadcurve import Load, paint_load
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.physics.ride.names import Col
from wattagon.study.findings.status import Status
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import WiringStudy

LINES = (("brick", "pack", "controller"), ("phase",), ("charge", "aux", "brake"))
SQUARE, BLOCK, LEAST, MOST = 46.0, 58.0, 50.0, 190.0
HOT_K = 65.0  # over the air, where the colour of heat is full


class PathPicture(QWidget):
    """Paints what `study_wiring` finds; a piece is chosen by mouse or keys."""

    chosen_changed = Signal(str)
    stepped = Signal(int)  # through stock, of the piece in hand

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: WiringStudy | None = None
        self.problem = ""
        self.chosen = ""
        self.stale = False
        self._boxes: list[tuple[QRectF, str]] = []
        self.arrows: list[tuple[QRectF, int]] = []
        self.setObjectName("path-picture")
        self.setAccessibleName("Power path")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(520, 250)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def show_path(self, found: WiringStudy | None, problem: str = "", stale: bool = False) -> None:
        """Another result; what was chosen stays if it is there, else the worst is."""
        self.found, self.problem, self.stale = found, problem, stale
        codes = [one.code for one in found.pieces] if found is not None else []
        if self.chosen not in codes:
            main = [one for one in found.pieces if one.branch.code in (*LINES[0], *LINES[1])] if found is not None else []
            worst = max(main, key=lambda one: one.worst if math.isfinite(one.worst) else 0.0, default=None)
            self.chosen = worst.code if worst is not None else next(iter(codes), "")
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        say = self.session.say
        told = []
        for one in self.found.pieces:
            bears = say(one.bears.rating_a, "current") if math.isfinite(one.bears.rating_a) else "not known"
            told.append(f"{one.name} {say(one.rms_a, 'current')} of {bears} {one.status.value}")
        return "; ".join(told)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self.session.theme_name]
        p.fillRect(rect, theme.panel)
        self._boxes, self.arrows = [], []
        if self.found is None:
            say_instead(p, theme, rect, self.problem)
            return
        lines = [[one for one in self.found.pieces if one.branch.code in codes] for codes in LINES]
        told = [(k, pieces) for k, pieces in enumerate(lines) if pieces]
        tall = (rect.height() - 12) / max(len(told), 1)
        for n, (k, pieces) in enumerate(told):
            self._line(p, theme, QRectF(rect.left() + 10, rect.top() + 6 + n * tall, rect.width() - 20, tall), pieces, k)
        if self.stale:
            p.setPen(theme.soft)
            words = "being worked out again"
            put_text(p, rect.right() - 12 - text_width(words, font(12)), rect.top() + 16, words, font(12))
        if self.hasFocus():
            frame(p, theme, rect)

    def _line(self, p: QPainter, theme: Theme, area: QRectF, pieces: list[Held], kind: int) -> None:
        """One line of the path between its two blocks."""
        assert self.found is not None
        begin, end = {0: ("cells", "controller"), 1: ("controller", "motor"), 2: ("", "")}[kind]
        motors = self.found.branches["controller"].count
        room = area.width() - (2 * BLOCK + 8 if kind < 2 else 96.0) - 8.0 * len(pieces)
        wanted = [min(max(90.0 + 160.0 * one.laid.length_m, LEAST), MOST) if one.kind == "lead" else 72.0 for one in pieces]
        shrink = min(room / max(sum(wanted), 1.0), 1.6)
        widths = [w * shrink for w in wanted]
        y = area.top() + min(0.5 * area.height() + 6.0, 60.0)
        x = area.left()
        if kind < 2:
            many = f" × {motors}" if motors > 1 and begin == "controller" else ""
            self._block(p, theme, QRectF(x, y - 19, BLOCK, 38), f"{begin}{many}", begin)
            x += BLOCK + 4
        else:
            p.setPen(theme.soft)
            put_text(p, x, y + 4, "beside it", font(12))
            x += 92.0
        last = ""
        for one, wide in zip(pieces, widths, strict=True):
            if one.branch.code != last and last:
                self._fork(p, theme, x, y, one.branch.count)
            last = one.branch.code
            self._piece(p, theme, QRectF(x, area.top(), wide, area.height()), y, one)
            x += wide + 8.0
        if kind < 2:
            many = f" × {motors}" if motors > 1 else ""
            self._block(p, theme, QRectF(x, y - 19, BLOCK, 38), f"{end}{many}", end)

    def _block(self, p: QPainter, theme: Theme, box: QRectF, words: str, what: str) -> None:
        ink = theme.mechanical if what == "motor" else theme.electrical
        p.setPen(pen(theme.ink, 1.0))
        p.setBrush(with_alpha(ink, 0.16))
        p.drawRoundedRect(box, 4, 4)
        p.setPen(theme.ink)
        face = font(11)
        head, _, tail = words.partition(" ")
        lines = [head, tail] if tail and text_width(words, face) > box.width() - 4 else [words]
        for k, line in enumerate(lines):
            put_text(
                p, box.center().x() - 0.5 * text_width(line, face), box.center().y() + 4 + 13 * (k - 0.5 * (len(lines) - 1)), line, face
            )

    def _fork(self, p: QPainter, theme: Theme, x: float, y: float, count: int) -> None:
        """Where the path branches."""
        if count < 2:
            return
        p.setPen(pen(theme.ink, 1.4))
        for k in range(min(count, 4)):
            p.drawLine(QPointF(x - 8, y), QPointF(x, y + 7.0 * (k - 0.5 * (min(count, 4) - 1))))
        p.setPen(theme.soft)
        put_text(p, x - 12, y - 16, f"× {count}", font(12, 600))

    def _piece(self, p: QPainter, theme: Theme, column: QRectF, y: float, one: Held) -> None:
        hand = one.code == self.chosen
        self._boxes.append((QRectF(column.left() - 3, column.top(), column.width() + 6, column.height()), one.code))
        if hand:
            p.fillRect(column.adjusted(-3, 2, 3, -2), with_alpha(theme.electrical, 0.08))
        ink = self._warm(theme, one)
        count = min(one.branch.count, 4) if one.branch.code in ("controller", "brick", "phase") else 1
        thick = min(3.0 + 1.9 * math.sqrt(1e6 * one.laid.beside.area_m2 * one.laid.piece.beside), 13.0) / (1.0 if count == 1 else 1.5)
        for k in range(count):
            at = y + (thick + 3.0) * (k - 0.5 * (count - 1))
            self._symbol(p, theme, column, at, one, ink, thick)
        self._words(p, theme, column, y, one, hand)
        if hand:
            self._steps(p, theme, column, y, one)
        square = min(SQUARE, column.width())
        top = y + 15.0 + 5.0 * (count - 1)
        size = min(square, column.bottom() - top - 4.0)
        if size > 18.0:
            box = QRectF(column.center().x() - 0.5 * size, top, size, size)
            paint_load(p, theme, box, load_of(one, self._now(one)), small=True)

    def _symbol(self, p: QPainter, theme: Theme, column: QRectF, y: float, one: Held, ink: QColor, thick: float) -> None:
        left, right, middle = column.left(), column.right(), column.center().x()
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(ink)
        if one.kind == "lead":
            p.drawRect(QRectF(left, y - 0.5 * thick, right - left, thick))
            return
        p.drawRect(QRectF(left, y - 2.0, right - left, 4.0))
        p.setPen(pen(theme.ink, 1.3))
        p.setBrush(theme.panel)
        if one.kind == "fuse":
            p.drawRoundedRect(QRectF(middle - 16, y - 6, 32, 12), 6, 6)
            p.setPen(pen(ink, 1.6))
            p.drawLine(QPointF(middle - 14, y), QPointF(middle + 14, y))
        elif one.kind == "joint":
            p.drawRect(QRectF(middle - 11, y - 6, 10, 12))
            p.setBrush(ink)
            p.drawRect(QRectF(middle + 1, y - 4, 10, 8))
        elif one.kind in ("key", "switch", "contactor"):
            p.fillRect(QRectF(middle - 11, y - 3, 22, 6), theme.panel)
            p.drawLine(QPointF(middle - 11, y), QPointF(middle + 9, y - 10))
            p.drawEllipse(QPointF(middle - 11, y), 2.4, 2.4)
            p.drawEllipse(QPointF(middle + 11, y), 2.4, 2.4)
            if one.kind == "contactor":
                p.drawRect(QRectF(middle - 7, y + 5, 14, 7))
        else:
            p.drawRoundedRect(QRectF(middle - 18, y - 9, 36, 18), 3, 3)

    def _words(self, p: QPainter, theme: Theme, column: QRectF, y: float, one: Held, hand: bool) -> None:
        say = self.session.say
        ink = theme.of(one.status) if one.status in (Status.OVER, Status.TIGHT) else theme.ink
        face = font(12, 600 if hand or one.status is Status.OVER else 400)
        told: list[tuple[str, ...]] = [(one.name,)]  # each line, and what is said instead where there is no room for it
        if one.kind == "lead":
            mark = "" if one.laid.told and one.laid.length_known.value == "measured" else "≈ "
            length, area = f"{mark}{say(one.laid.length_m, 'length')}", f"{1e6 * one.laid.beside.area_m2:.2g} mm²"
            told.append((f"{length}, {area}", area))
        elif math.isfinite(one.bears.rating_a):
            told.append((f"bears {say(one.bears.rating_a, 'current')}", say(one.bears.rating_a, "current")))
        told.append((f"{one.worst:.0%}" if math.isfinite(one.worst) else "not known",))
        p.setPen(ink)
        for k, ways in enumerate(told):
            shape = face if k in (0, len(told) - 1) else font(12)
            text = next((words for words in ways if text_width(words, shape) <= column.width() + 4), ways[-1])
            short = elided(text, shape, column.width() + 4)
            put_text(p, column.center().x() - 0.5 * text_width(short, shape), y - 46 + 14 * k, short, shape)

    def _steps(self, p: QPainter, theme: Theme, column: QRectF, y: float, one: Held) -> None:
        """Two small arrows beside the piece in hand: the next part of stock up and down."""
        for sign, at in ((1, y - 9.0), (-1, y + 9.0)):
            box = QRectF(column.right() - 15.0, at - 7.0, 14.0, 14.0)
            self.arrows.append((box.adjusted(-3, -2, 3, 2), sign))
            tip = QPointF(box.center().x(), box.center().y() - 4.0 * sign)
            low = box.center().y() + 4.0 * sign
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(theme.electrical)
            p.drawPolygon(QPolygonF([tip, QPointF(box.center().x() - 5.0, low), QPointF(box.center().x() + 5.0, low)]))

    # the moment

    def share_now(self, one: Held) -> float | None:
        """How warm it is at the moment of a ride, as a share of its warmest: the filtered square of the current until then."""
        ridden = self.session.moment.ridden
        if ridden is None or not one.rms_a > 0.0 or one.branch.code not in ("pack", "brick", "controller", "phase"):
            return None
        run = ridden.ride.run
        times, row = run.column(Col.TIME), ridden.row
        amps = run.column(Col.DC_A) if one.branch.code == "phase" else run.column(Col.PACK_A)
        scale = math.sqrt(2.0 / 3.0) if one.branch.code == "phase" else 1.0 / one.branch.count
        tau = max(one.bears.tau_s, 1.0)
        left = np.exp(-(times[row] - times[: row + 1]) / tau)
        level = float(np.sum((scale * amps[:row]) ** 2 * np.diff(left)))
        return min(level / one.rms_a**2, 1.5)

    def _now(self, one: Held) -> float | None:
        """Current at the moment."""
        point = self.session.point
        if point is None or self.found is None:
            return None
        code = one.branch.code
        if code == "phase":
            per = self.found.resolved.train.motor.dc_per_motor_amp
            return abs(point.motor_current_a) * per * math.sqrt(2.0 / 3.0)
        return abs(point.pack_a) / one.branch.count if code in ("pack", "brick", "controller") else None

    def _warm(self, theme: Theme, one: Held) -> QColor:
        """From copper-dark to the colour of heat."""
        if not math.isfinite(one.temperature_c):
            return theme.over if math.isinf(one.temperature_c) else theme.soft
        share = self.share_now(one)
        rise = (one.temperature_c - one.laid.around.air_c) * (share if share is not None else 1.0)
        part = min(max(rise / HOT_K, 0.0), 1.0)
        cool, hot = theme.soft, theme.heat
        mix = lambda a, b: round(a + (b - a) * part)
        return QColor(mix(cool.red(), hot.red()), mix(cool.green(), hot.green()), mix(cool.blue(), hot.blue()))

    # what a hand does

    def choose(self, code: str) -> None:
        """A piece by its id."""
        if self.found is not None and self.found.piece(code) is not None:
            self.chosen = code
            self.update()
            self.chosen_changed.emit(code)

    def box_of(self, code: str) -> QRectF:
        """Where a piece was painted last; empty if it was not."""
        return next((box for box, name in self._boxes if name == code), QRectF())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        for box, sign in self.arrows:
            if box.contains(event.position()):
                self.stepped.emit(sign)
                return
        for box, code in self._boxes:
            if box.contains(event.position()):
                self.choose(code)
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Home: -99, Qt.Key.Key_End: 99}.get(key)
        size = {Qt.Key.Key_Up: 1, Qt.Key.Key_Plus: 1, Qt.Key.Key_Down: -1, Qt.Key.Key_Minus: -1}.get(key)
        codes = [code for _, code in self._boxes]
        if size is not None and codes:
            self.stepped.emit(size)
        elif step is not None and codes:
            at = codes.index(self.chosen) if self.chosen in codes else 0
            self.choose(codes[min(max(at + step, 0), len(codes) - 1)])
        else:
            super().keyPressEvent(event)


def load_of(one: Held, now: float | None = None) -> Load:
    """A piece's curve with the rides' loads."""
    return Load(points=one.points, lasting_a=one.rms_a, rating_a=one.bears.rating_a, status=one.status, now_a=now)
