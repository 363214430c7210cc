"""Findings, most urgent first: number, limit, why, and cures that were tried, each one click to apply."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PySide6.QtCore import QEvent, QPointF, QRect, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QScrollArea, QSizePolicy, QToolTip, QVBoxLayout, QWidget

from wattagon.desk.bands import flip_words
from wattagon.desk.chart.bars import STEP, Bar, bar_of, paint_bars
from wattagon.desk.chart.ink import assumed_mark, box, metrics, pen, put_right, put_text, status_mark, wrapped
from wattagon.desk.chart.painted import painted
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.record import record
from wattagon.study.drive.words import short_goal
from wattagon.study.findings.finding import Cure, Finding
from wattagon.study.findings.status import Status

WIDTH = 256
PAD, MARK, BARS = 9.0, 20.0, 16.0
GROUPS = ((Status.OVER, "over"), (Status.TIGHT, "tight"), (Status.NOT_CHECKED, "not checked"), (Status.CLEAR, "clear"))
PLACES = {
    "goal": "Goal",
    "pack": "Pack",
    "controller": "Controller",
    "motor": "Motor",
    "reduction": "Reduction",
    "wheel": "Wheel",
    "shaft": "Shaft",
    "propeller": "Propeller",
    "water": "Hull",
}


@record(slots=True)
class _Hit:
    area: QRectF
    what: str  # a group's status, a finding's code, or "cure"
    finding: Finding | None = None
    cure: Cure | None = None


class _Offer(NamedTuple):
    """How a cure stands in its card."""

    cure: Cure
    head: list[str]
    bars: tuple[Bar, ...]
    words: list[str]
    room: float  # that the bars take [px]
    top: float  # below that of the card


class _Measured(NamedTuple):
    """A finding's card before it has its place."""

    key: tuple[object, ...]
    title: list[str]
    reason: list[str]
    offers: list[_Offer]
    height: float
    says: object  # all that its picture depends on


@record(frozen=True, slots=True)
class _Row:
    y: float
    height: float
    says: object  # all that its picture depends on
    paint: Callable[[QPainter, Theme], None]


class _Stands(NamedTuple):
    """A card in its place; most stand there again after a step."""

    card: _Measured
    first: int  # number of its first place
    hits: list[_Hit]
    row: _Row


def _bars(cure: Cure) -> tuple[Bar, ...]:
    """What a cure does to each goal; none where it would be too little to see."""
    bars = tuple(bar_of(goal.before, goal.after) for goal in cure.goals)
    return bars if any(bar.seen for bar in bars) else ()


class _List(Following, QWidget):
    """Painted list: over and tight in full, the rest folded to titles until they are asked for."""

    said = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.places: list[_Hit] = []
        self._rows: list[_Row] = []
        self._cards: dict[str, _Measured] = {}
        self._stands: dict[str, _Stands] = {}
        self._open: set[str] = set()  # groups that were unfolded
        self._shut: set[str] = set()  # groups that were folded
        self._told: set[str] = set()  # findings whose reason is shown
        self._focused = -1
        self._bench = ""
        self._other: Sequence[Finding] | None = None
        self._hovered: QRectF | None = None
        self._painted_for: tuple[object, ...] = ()
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # paints its own ground: quicker than letting five parents do it
        self.setObjectName("findings-list")
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Findings")
        for signal in (session.design_changed, session.findings_changed, session.looks_changed):
            signal.connect(self.followed)
        session.schedule.arrived.connect(self._arrived)
        self._behind = True

    def _arrived(self, code: str) -> None:
        if code == "bands":
            self.followed()

    @property
    def findings(self) -> Sequence[Finding]:
        """Of the design, or those of something else that is shown for a while."""
        return self._session.findings if self._other is None else self._other

    def spoken(self) -> str:
        """Its values as text."""
        told = [f"{f.status.value.replace('_', ' ')}: {f.title}{self._flip(f)}" for f in self.findings if f.status is not Status.CLEAR]
        turning = sum(bool(self._flip(f)) for f in self.findings if f.status is Status.CLEAR)
        told = told or ["nothing over, tight or not checked"]
        return "; ".join((*told, f"{turning} of the clear may turn") if turning else told)

    def show_bench(self, code: str) -> None:
        """The bench in view: its findings come first among equals."""
        if code != self._bench:
            self._bench = code
            self.followed()

    def show_other(self, findings: Sequence[Finding] | None) -> None:
        """Show other findings, without cures to apply; None goes back to those of the design."""
        self._other = findings
        self.followed()

    def refresh(self) -> None:
        before = self._rows
        height = int(self._lay_out())
        if height != self.height():
            self.setFixedHeight(height)
        theme = self._session.theme_name
        if self._painted_for != (theme, self.width(), height) or len(before) != len(self._rows):
            self._painted_for = (theme, self.width(), height)
            self.update()
        else:  # after most steps only a few rows say something new
            for was, now in zip(before, self._rows, strict=True):
                if was is not now and (was.says != now.says or was.y != now.y):
                    self.update(0, int(now.y) - 1, self.width(), int(now.height) + 3)
        self.setAccessibleDescription(self.spoken())

    def resizeEvent(self, event: QResizeEvent) -> None:
        if event.size().width() != event.oldSize().width():  # its height is its own doing
            self.followed()

    def unfolded(self, status: Status) -> bool:
        """Whether the findings of a status are shown."""
        # what is not clear is always told; clear ones too while little is urgent
        if status is not Status.CLEAR or sum(f.status is Status.OVER or f.status is Status.TIGHT for f in self.findings) <= 2:
            return status.value not in self._shut
        return status.value in self._open

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.fillRect(event.rect(), THEMES[self._session.theme_name].paper)
        theme, dirty = THEMES[self._session.theme_name], event.region()
        for row in self._rows:
            if dirty.intersects(QRect(0, int(row.y), self.width(), int(row.height) + 1)):
                row.paint(painter, theme)
        if not self.findings:
            painter.setFont(font(13))
            painter.setPen(theme.soft)
            words = self._session.problem or "Nothing to check yet."
            painter.drawText(QRectF(4, 8, self.width() - 8, 120), Qt.TextFlag.TextWordWrap, words)

    def _lay_out(self) -> float:
        """Measure every row, note where it can be clicked, and keep how it is painted; the height of all."""
        self.places, self._rows = [], []
        y, width = 0.0, float(max(self.width(), 180))
        for status, words in GROUPS:
            group = [f for f in self.findings if f.status is status]
            group.sort(key=lambda f: f.bench != self._bench)  # keeps their order otherwise
            if not group:
                continue
            unfolded = self.unfolded(status)
            turning = sum(bool(self._flip(f)) for f in group) if not unfolded else 0
            head = f"{len(group)} {words}" + (f", {turning} may turn" if turning else "")
            y = self._group_head(y, width, status, head, "fold" if unfolded else "show")
            if unfolded:
                for finding in group:
                    y = self._card(y, width, finding)
            y += 4
        return max(y + 4, 140.0)

    def _group_head(self, y: float, width: float, status: Status, words: str, fold: str) -> float:
        area, index = QRectF(0, y, width, 24), len(self.places)

        def paint(p: QPainter, theme: Theme) -> None:
            status_mark(p, QPointF(10, y + 12), status, theme, 5.0)
            p.setPen(theme.ink)
            put_text(p, 22, y + 17, words, font(13, 600))
            p.setPen(theme.soft)
            put_right(p, width - 6, y + 17, fold, font(12))
            self._focus_frame(p, theme, area, index)

        self._rows.append(_Row(y, 24.0, (words, fold), paint))
        self.places.append(_Hit(area, status.value))
        return y + 26

    def _measured(self, f: Finding, width: float) -> _Measured:
        """How a card is laid out; as last time where it says the same."""
        # that it may turn is always said
        why = f"{f.because}{self._margin(f)}{self._flip(f)}" if f.code in self._told or f.status is Status.OVER else self._flip(f).strip()
        offered = f.cures if self._other is None else ()
        key = (width, f.title, why, f.status, f.known, offered, self._session.unit_set)
        known = self._cards.get(f.code)
        if known is not None and known.key == key:
            return known
        urgent = f.status in (Status.OVER, Status.TIGHT)
        face, small = font(13, 600 if urgent else 400), font(12)
        inner = width - PAD - MARK - 10
        title = wrapped(f.title, face, inner - (14 if f.assumed else 0))
        reason = wrapped(why, small, inner) if why else []
        line, thin = metrics(face).height(), metrics(small).height()
        at = 7 + line * len(title) + (thin * len(reason) + 3 if reason else 0)
        offers: list[_Offer] = []
        for cure in offered if urgent else ():
            head = wrapped(cure.text, font(12, 600), inner - 54)
            bars = _bars(cure)
            room = STEP * len(bars) + 7 if bars else 0.0
            words = wrapped(self._words(cure), small, inner - room) if self._words(cure) else []
            offers.append(_Offer(cure, head, bars, words, room, at))
            at += thin * len(head) + max(thin * len(words), BARS if bars else 0.0) + 10
        says = (title, reason, f.status, f.assumed, [(offer.head, offer.bars, offer.words) for offer in offers])
        made = _Measured(key, title, reason, offers, at + 6.0, says)
        self._cards[f.code] = made
        return made

    def _card(self, y: float, width: float, f: Finding) -> float:
        card, index = self._measured(f, width), len(self.places)
        stands = self._stands.get(f.code)
        if stands is not None and stands.card is card and stands.row.y == y and stands.first == index:
            for hit in stands.hits:
                hit.finding = f
            self.places += stands.hits
            self._rows.append(stands.row)
            return y + card.height + 5
        area = QRectF(0, y, width - 1, card.height)
        hits = [_Hit(area, f.code, f)]
        buttons: list[tuple[_Offer, QRectF, int]] = []
        for offer in card.offers:
            button = QRectF(width - 54, y + offer.top + 5, 46, 19)
            buttons.append((offer, button, index + len(hits)))
            hits.append(_Hit(button, "cure", f, offer.cure))
        urgent = f.status in (Status.OVER, Status.TIGHT)

        def paint(p: QPainter, theme: Theme) -> None:
            face, small = font(13, 600 if urgent else 400), font(12)
            line, thin = metrics(face).height(), metrics(small).height()
            box(p, 0, y, width - 1, card.height, theme.panel if urgent else with_alpha(theme.panel, 0.5), theme.rule)
            status_mark(p, QPointF(PAD + 5, y + 7 + line / 2), f.status, theme, 5.0)
            self._lines(p, card.title, face, theme.ink, PAD + MARK, y + 7)
            if f.assumed:
                assumed_mark(p, QPointF(width - 18, y + 19), theme.soft)
            if card.reason:
                self._lines(p, card.reason, small, theme.soft, PAD + MARK, y + 9 + line * len(card.title))
            for offer, button, hit in buttons:
                top = y + offer.top
                p.fillRect(QRectF(PAD + MARK, round(top + 4), width - 10 - PAD - MARK, 1), theme.rule)
                self._lines(p, offer.head, font(12, 600), theme.electrical, PAD + MARK, top + 7)
                under = top + 8 + thin * len(offer.head)
                paint_bars(p, theme, QRectF(PAD + MARK, under, offer.room, BARS), offer.bars)
                self._lines(p, offer.words, small, theme.ink, PAD + MARK + offer.room, under)
                hovered = theme.chosen if self._hovered == button else None
                box(p, button.left(), button.top(), button.width(), button.height(), hovered, theme.electrical)
                p.setPen(theme.electrical)
                put_text(p, button.left() + 8, button.top() + 14, "apply", font(12, 600))
                self._focus_frame(p, theme, button, hit)
            self._focus_frame(p, theme, area, index)

        row = _Row(y, card.height, card.says, paint)
        self._stands[f.code] = _Stands(card, index, hits, row)
        self.places += hits
        self._rows.append(row)
        return y + card.height + 5

    def _words(self, cure: Cure) -> str:
        """What the bars do not say: goals whose verdict changes, and what else the change does."""
        goals = {goal.id: goal for goal in self._session.design.brief.goals} if self._session.docs else {}
        flips = [
            f"{'meets' if change.after >= 0.0 else 'misses'} {short_goal(goals[change.goal], self._session.say)}"
            for change in cure.goals
            if change.flips and change.goal in goals
        ]
        words = "; ".join((*flips, *cure.notes))
        return words or ("" if _bars(cure) else "goals hardly change")

    def _flip(self, f: Finding) -> str:
        return flip_words(self._session, f.code) if self._other is None else ""

    def _margin(self, f: Finding) -> str:
        if f.margin is None or abs(f.margin) > 9.0:
            return ""
        return f" Margin {f.margin:+.0%}.".replace("-", "−")

    def _lines(self, p: QPainter, lines: list[str], face: QFont, colour: QColor, x: float, top: float) -> None:
        m = metrics(face)
        p.setPen(colour)
        for k, text in enumerate(lines):
            put_text(p, x, top + m.ascent() + k * m.height(), text, face)

    def _focus_frame(self, p: QPainter, theme: Theme, area: QRectF, index: int) -> None:
        if self.hasFocus() and self._focused == index:
            p.setPen(pen(theme.electrical, 1.6))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(area.adjusted(1, 1, -1, -1), 5, 5)

    # acting

    def _under(self, at: QPointF) -> _Hit | None:
        return next((hit for hit in reversed(self.places) if hit.area.contains(at)), None)

    def act(self, hit: _Hit) -> None:
        """What a click or Return on a place does."""
        if hit.cure is not None:
            if self._session.try_apply(hit.cure.edit):
                self._session.told.emit(f"Applied: {hit.cure.text}. Ctrl+Z takes it back.", False)
        elif hit.finding is not None:
            self._told ^= {hit.finding.code}
            self.refresh()
        else:
            status = Status(hit.what)
            if self.unfolded(status):
                self._shut.add(status.value)
                self._open.discard(status.value)
            else:
                self._open.add(status.value)
                self._shut.discard(status.value)
            self.refresh()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = self._under(event.position())
        if hit is not None:
            self.act(hit)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        hit = self._under(event.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if hit is not None else Qt.CursorShape.ArrowCursor)
        hovered = hit.area if hit is not None and hit.cure is not None else None
        if hovered != self._hovered:
            self._hovered = hovered
            self._session.set_trial(hit.cure.edit if hit is not None and hit.cure is not None else None)
            self.update()
        if hit is not None and hit.finding is not None:
            tail = " Rests on an assumed value (≈)." if hit.finding.assumed else ""
            words = (
                f"{hit.cure.text}: {hit.cure.effect}" if hit.cure is not None else f"{hit.finding.because}{self._margin(hit.finding)}{tail}"
            )
            QToolTip.showText(event.globalPosition().toPoint(), words, self)

    def leaveEvent(self, event: QEvent) -> None:
        self._hovered = None
        self._session.set_trial(None)
        self.update()

    def focusInEvent(self, event: QFocusEvent) -> None:
        if event.reason() is not Qt.FocusReason.MouseFocusReason:  # keys have to see where they are
            self._focused = max(self._focused, 0)
        self.update()
        super().focusInEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.update()
        super().focusOutEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        n, key = len(self.places), event.key()
        if n and key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self._focused = (self._focused + (1 if key == Qt.Key.Key_Down else -1)) % n
            self._show_focused()
            cure = self.places[self._focused].cure
            self._session.set_trial(cure.edit if cure is not None else None)
            self.update()
        elif n and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and 0 <= self._focused < n:
            self.act(self.places[self._focused])
        else:
            super().keyPressEvent(event)

    def _show_focused(self) -> None:
        area = self.places[self._focused].area
        ground = self.parent()
        scroll = ground.parent() if ground is not None else None
        if isinstance(scroll, QScrollArea):
            scroll.ensureVisible(int(area.center().x()), int(area.center().y()), 0, int(area.height() / 2) + 10)


class FindingsPanel(QWidget):
    """Head with the counts, and the list."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._other_note = session, ""
        self.setObjectName("findings")
        self.setFixedWidth(WIDTH)
        self.list = _List(session)
        self.area = QScrollArea(widgetResizable=True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        ground = QWidget()  # of our own: asking for the area's would have the binding set up every class it knows
        self.area.setViewport(ground)
        self.area.setWidget(self.list)
        ground.setAutoFillBackground(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(2, 4, 6, 2)
        layout.setSpacing(2)
        from PySide6.QtWidgets import QLabel

        self.head = QLabel("Findings")
        self.head.setFont(font(14, 600))
        layout.addWidget(self.head)
        layout.addWidget(self.area, 1)
        self._note = QLabel(wordWrap=True)
        self._note.setFont(font(12))
        self._note.setProperty("voice", "soft")
        layout.addWidget(self._note)
        session.design_changed.connect(self._count)
        self._count()

    def hasHeightForWidth(self) -> bool:
        return False  # the note wraps, and would have the whole window take its preferred height

    def show_bench(self, code: str) -> None:
        """The bench in view."""
        self.list.show_bench(code)

    def show_other(self, findings: Sequence[Finding] | None, head: str = "Findings", note: str = "") -> None:
        """Findings of something else than the design, with what they are of and what is not among them; None ends it."""
        self.head.setText(head)
        self._other_note = note if findings is not None else ""
        self.list.show_other(findings)
        self._count()

    def _count(self) -> None:
        if self._other_note:
            self._note.setText(self._other_note)
            return
        study = self._session.study
        if study is None:
            self._note.setText("")
            return
        n = len(study.assumptions)
        told = study.resolved.variant.wiring is not None
        wiring = "" if told else " Wiring is not told, so it is not checked."
        self._note.setText(f"{n} of {len(study.resolved.inputs)} inputs assumed.{wiring}")
