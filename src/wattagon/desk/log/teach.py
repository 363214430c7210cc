"""What a log teaches: each value before and after with its error, on an axis as wide as what the design knew; a press chooses it."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from wattagon.design.tree import LogKind
from wattagon.desk.chart.ink import elided, frame, pen, put_right, put_text, straight, text_width, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.fields import heading, scrolled
from wattagon.desk.log.book import LogBook
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.errors import WattagonError
from wattagon.exchange.units import with_error
from wattagon.study.log.model import WORDS

FIRST_WORDS = "Press Learn: what this log tells of the design stands here, with its error."
ROW, LINE, SIDE, WIDTHS = 46.0, 15.0, 10.0, 2.6


class TeachPicture(QWidget):
    """Paints the values; those that are told are chosen by a press or Space."""

    chosen_changed = Signal()

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self.left_out: set[str] = set()  # paths that are told and not to be taken
        self.now = 0
        self.places: list[tuple[QRectF, str]] = []
        self.setObjectName("log-teach")
        self.setAccessibleName("What this log teaches")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.MinimumExpanding)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def told(self) -> list[Any]:
        """Values that are told."""
        return [one for one in self._book.fit.parameters if one.identifiable] if self._book.fit is not None else []

    def chosen(self) -> list[str]:
        """Paths of those that are to be taken."""
        return [one.path for one in self.told() if one.path not in self.left_out]

    def renew(self) -> None:
        """Another fit."""
        self.left_out.clear()
        self.now = 0
        self.updateGeometry()
        self.setMinimumHeight(int(self._height(max(self.width(), 240))))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, int(self._height(300)))

    def _height(self, width: float) -> float:
        fit = self._book.fit
        if fit is None:
            return 120.0
        loose = [one for one in fit.parameters if not one.identifiable]
        lines = sum(1 + len(wrapped(one.why, font(11), width - 2 * SIDE - 8)) for one in loose)
        more = sum(2 + len(wrapped(one.how, font(11), width - 2 * SIDE)) for one in self._book.next_rides)
        return len(self.told()) * ROW + lines * LINE + 26 * (bool(loose) + bool(self._book.next_rides)) + more * LINE + 30

    def spoken(self) -> str:
        """Its values as text."""
        fit, say = self._book.fit, self._session.say
        if fit is None:
            return self._book.fit_problem or FIRST_WORDS
        rows = []
        for one in fit.parameters:
            dimension = one.unknown.row.dimension
            if one.identifiable:
                rows.append(
                    f"{one.unknown.row.words} {say(one.before, dimension)} to {say(one.after, dimension)} ± {say(one.error, dimension)}"
                )
            else:
                rows.append(f"{one.unknown.row.words} not told: {one.why}")
        return "; ".join(rows)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self._session.theme_name]
        p.fillRect(rect, theme.panel)
        self._draw(p, theme, rect)
        if self.hasFocus():
            frame(p, theme, rect)

    def _draw(self, p: QPainter, theme: Theme, rect: QRectF) -> None:
        fit = self._book.fit
        self.places = []
        if fit is None:
            learning = f"Learning ... {self._book.progress:.0%}" if self._book.learning else FIRST_WORDS
            words = self._book.fit_problem or learning
            y = rect.top() + 22
            p.setPen(theme.over if self._book.fit_problem else theme.soft)
            for line in wrapped(words, font(12), rect.width() - 2 * SIDE):
                put_text(p, rect.left() + SIDE, y, line, font(12))
                y += 16
            return
        y = rect.top() + 4
        for k, one in enumerate(self.told()):
            area = QRectF(rect.left(), y, rect.width(), ROW)
            self._row(p, theme, area, one, k == self.now and self.hasFocus())
            self.places.append((area, one.path))
            y += ROW
        loose = [one for one in fit.parameters if not one.identifiable]
        if loose:
            y += 18
            p.setPen(theme.ink)
            put_text(p, rect.left() + SIDE, y, "Not told by this log", font(12, 600))
            y += 4
        for one in loose:
            y += LINE
            p.setPen(theme.ink)
            put_text(p, rect.left() + SIDE, y, one.unknown.row.words, font(11, 600))
            p.setPen(theme.soft)
            for line in wrapped(one.why, font(11), rect.width() - 2 * SIDE - 8):
                y += LINE
                put_text(p, rect.left() + SIDE + 8, y, line, font(11))
        if self._book.next_rides:
            y += 24
            p.setPen(theme.ink)
            put_text(p, rect.left() + SIDE, y, "The most telling next ride", font(12, 600))
            y += 4
        for ride in self._book.next_rides:
            y += LINE
            p.setPen(theme.electrical)
            put_text(
                p,
                rect.left() + SIDE,
                y,
                elided(f"{ride.words}, {ride.minutes:.0f} min", font(11, 600), rect.width() - 2 * SIDE),
                font(11, 600),
            )
            p.setPen(theme.soft)
            told = ", ".join(ride.tells) or ", ".join(ride.narrows)
            y += LINE
            put_text(
                p,
                rect.left() + SIDE,
                y,
                elided(f"{'tells' if ride.tells else 'makes surer'} {told}", font(11), rect.width() - 2 * SIDE),
                font(11),
            )
            for line in wrapped(ride.how, font(11), rect.width() - 2 * SIDE):
                y += LINE
                put_text(p, rect.left() + SIDE, y, line, font(11))

    def _row(self, p: QPainter, theme: Theme, area: QRectF, one: Any, now: bool) -> None:
        say, dimension = self._session.say, one.unknown.row.dimension
        if now:
            p.fillRect(area, with_alpha(theme.chosen, 0.7))
        chosen = one.path not in self.left_out
        box = QRectF(area.left() + SIDE, area.top() + 7, 11, 11)
        p.setPen(pen(theme.ink, 1.2))
        p.setBrush(theme.electrical if chosen else theme.panel)
        p.drawRect(box)
        if chosen:
            p.setPen(pen(theme.panel, 1.8))
            p.drawPolyline(
                [QPointF(box.left() + 2, box.top() + 6), QPointF(box.left() + 5, box.top() + 9), QPointF(box.left() + 9, box.top() + 2)]
            )
        p.setPen(theme.ink)
        value = with_error(one.after, one.error, dimension, self._session.unit_set)
        put_right(p, area.right() - SIDE, area.top() + 17, value, font(12, 600))
        room = area.width() - 2 * SIDE - 22 - text_width(value, font(12, 600))
        put_text(p, area.left() + SIDE + 17, area.top() + 17, elided(one.unknown.row.words, font(12), room), font(12))
        line = QRectF(area.left() + SIDE + 17, area.top() + 22, area.width() - 2 * SIDE - 17, 14)
        off = (one.after - one.before) / one.width
        reach = max(WIDTHS, abs(off) * 1.15 + 0.3)
        x = lambda widths: line.center().x() + widths / reach * line.width() / 2
        for share, alpha in ((2.0, 0.10), (1.0, 0.16)):
            p.fillRect(QRectF(x(-share), line.top() + 2, x(share) - x(-share), 10), with_alpha(theme.mechanical, alpha))
        straight(p, line.left(), line.center().y(), line.right(), line.center().y(), pen(theme.rule, 1.0))
        straight(p, x(0.0), line.top(), x(0.0), line.bottom(), pen(theme.mechanical, 1.6))
        err = one.error / one.width
        straight(p, x(off - err), line.center().y(), x(off + err), line.center().y(), pen(theme.electrical, 3.0))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(theme.electrical)
        p.drawEllipse(QPointF(x(off), line.center().y()), 4.0, 4.0)
        p.setPen(theme.soft)
        before = say(one.before, dimension)
        left = off > 0.0
        if left:
            put_right(p, x(0.0) - 5, line.bottom() + 5, before, font(11))
        else:
            put_text(p, x(0.0) + 5, line.bottom() + 5, before, font(11))

    def toggle(self, path: str) -> None:
        """Take it, or leave it."""
        self.left_out ^= {path}
        self.chosen_changed.emit()
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for k, (area, path) in enumerate(self.places):
            if area.contains(event.position()):
                self.now = k
                self.toggle(path)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        told = self.told()
        key = Qt.Key(event.key())
        if told and key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self.now = min(max(self.now + (1 if key == Qt.Key.Key_Down else -1), 0), len(told) - 1)
            self.update()
        elif told and key == Qt.Key.Key_Space:
            self.toggle(told[min(self.now, len(told) - 1)].path)
        else:
            super().keyPressEvent(event)


class TeachPanel(QWidget):
    """The values with what takes them."""

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self.picture = TeachPicture(session, book)
        self.learn = QPushButton("Learn", objectName="log-learn")
        self.learn.setToolTip("Fit what this log can tell, by robust least squares (Ctrl+Shift+T)")
        self.learn.clicked.connect(book.learn)
        self.take = QPushButton("Take", objectName="log-take")
        self.take.setToolTip("The ticked values enter the design as measured, with this log and their errors; one step to undo")
        self.take.clicked.connect(self.take_it)
        self.says = QLabel(wordWrap=True, objectName="log-fit-says")
        self.says.setFont(font(11))
        self.says.setProperty("voice", "soft")
        head = QHBoxLayout()
        head.addWidget(heading("What it teaches"))
        head.addStretch(1)
        head.addWidget(self.learn)
        head.addWidget(self.take)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 0, 0, 0)
        layout.setSpacing(3)
        layout.addLayout(head)
        layout.addWidget(self.says)
        layout.addWidget(scrolled(self.picture), 1)
        book.learnt.connect(self.renew)
        book.changed.connect(self._enable)
        self.picture.chosen_changed.connect(self._enable)
        session.looks_changed.connect(self.picture.update)
        self.setMinimumWidth(270)
        self._enable()

    def renew(self) -> None:
        """Another fit, or none."""
        self.picture.renew()
        fit = self._book.fit
        words = ""
        if fit is not None:
            words = (
                f"{fit.rank} of {fit.asked} directions told, condition {fit.condition:.0f}; residuals {fit.residual_rms:.2f} of "
                f"their noise, {fit.held_out_rms:.2f} in the stretch held out. Errors leave out how well the instruments are calibrated."
            )
            drift = [one for one in fit.tests if abs(one.with_speed) > 0.3 or abs(one.with_time) > 0.3]
            if drift:
                with_what = "speed" if abs(drift[0].with_speed) > 0.3 else "time"
                words += f" What is left of {WORDS[drift[0].channel][0]} still goes with {with_what}: something else is at work."
        self.says.setText(words)
        self.says.setVisible(bool(words))
        self._enable()

    def _enable(self) -> None:
        log = self._book.log
        self.learn.setEnabled(log is not None and bool(log.member) and log.kind is not LogKind.PHONE and not self._book.learning)
        self.learn.setText("Learning ..." if self._book.learning else "Learn")
        many = len(self.picture.chosen())
        self.take.setEnabled(many > 0)
        self.take.setText(f"Take {many}" if many else "Take")

    def take_it(self) -> None:
        """The ticked values into the design."""
        fit = self._book.fit
        if fit is None:
            return
        try:
            edit = fit.edit(self.picture.chosen())
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return
        if self._session.try_apply(edit):
            self._session.told.emit(edit.label, False)
