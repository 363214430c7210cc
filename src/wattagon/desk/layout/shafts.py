"""What sits on each shaft, drawn to scale from the side of the shaft, and the widths of the one in hand."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QFormLayout, QHBoxLayout, QMenu, QPushButton, QScrollArea, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import STACK_KINDS, OnShaft, Stack
from wattagon.desk.chart.ink import pen, put_text, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.fields import ValueField, soft_line
from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha
from wattagon.study.findings.status import URGENCY, Status
from wattagon.study.layout.edits import with_layout
from wattagon.study.layout.stacks import USUAL_M, Stacked

ROW_PX = 78
# half the height of each kind in the picture, of the room of a row
TALL = {"mount": 0.75, "bearing": 0.4, "spacer": 0.28, "pulley": 0.62, "sprocket": 0.66, "cog": 0.5, "hub": 0.45, "wheel": 0.95}
TALL |= {"disc": 0.8, "washer": 0.42, "nut": 0.36}
MEASURES = (
    ("length", "free end"),
    ("thread", "thread"),
    ("between", "between dropouts"),
    ("diameter", "diameter"),
    ("bearings", "between bearings"),
    ("beyond", "beyond bearing"),
)


class ShaftsPicture(QWidget):
    """Each shaft a row, its things from the inside out."""

    chosen = Signal(int)

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing, self.hand = session, drawing, 0
        self.setObjectName("shafts-picture")
        self.setAccessibleName("What sits on each shaft")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def stacks(self) -> tuple[Stacked, ...]:
        """Of the drawing."""
        return self._drawing.found.stacks if self._drawing.found is not None else ()

    def spoken(self) -> str:
        """Its values as text."""
        say = self._session.say
        rows = [
            f"{one.stack.shaft}: " + ", ".join(f"{p.name} {say(p.end - p.begin, 'length')}" for p in one.pieces) for one in self.stacks()
        ]
        return "; ".join(rows)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.fillRect(self.rect(), theme.panel)
        longest = max([max(one.long_m, self._end(one)) for one in self.stacks()], default=0.0)
        if longest <= 0.0:
            return
        scale = (self.width() - 34) / (1.02 * longest)
        for k, one in enumerate(self.stacks()):
            self._row(painter, theme, QRectF(0, k * ROW_PX, self.width(), ROW_PX), one, scale, k == self.hand)
        if self.hasFocus():
            painter.setPen(pen(theme.electrical, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -1, -1))

    @staticmethod
    def _end(one: Stacked) -> float:
        return one.stack.length.value if one.stack.length is not None else 0.0

    def _row(self, p: QPainter, theme: Theme, row: QRectF, one: Stacked, scale: float, hand: bool) -> None:
        left, middle, high = row.left() + 14, row.top() + 44, 26.0
        if hand:
            p.fillRect(QRectF(row.left(), row.top() + 2, 3, row.height() - 4), theme.electrical)
        own = "" if one.own >= 0 else ", proposed"
        worst = min(
            (g for g in (self._drawing.found.gaps if self._drawing.found else ()) if g.code.startswith(f"stack.{_code(one)}.")),
            key=lambda g: URGENCY[g.status],
            default=None,
        )
        say = self._session.say
        told = f"{say(one.long_m, 'length')} in all"
        if one.stack.length is not None:
            left_over = one.stack.length.value - one.long_m
            told += f" on {say(one.stack.length.value, 'length')}: " + (
                f"{say(left_over, 'length')} left" if left_over >= 0 else f"{say(-left_over, 'length')} short"
            )
        p.setPen(theme.ink)
        put_text(p, left, row.top() + 14, f"{one.stack.shaft}{own}", font(12, 600 if hand else 400))
        p.setPen(theme.of(worst.status) if worst is not None and worst.status in (Status.OVER, Status.TIGHT) else theme.soft)
        put_text(p, row.right() - 8 - text_width(told, font(12)), row.top() + 14, told, font(12))
        end = self._end(one) or one.long_m
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(with_alpha(theme.ink, 0.55))
        p.drawRect(QRectF(left, middle - 3, end * scale, 6))
        if one.stack.thread is not None and one.stack.length is not None:
            begin = left + (one.stack.length.value - one.stack.thread.value) * scale
            p.setPen(pen(theme.panel, 1.0))
            x = begin
            while x < left + end * scale:
                p.drawLine(QPointF(x, middle + 3), QPointF(x + 2, middle - 3))
                x += 3.0
        for k, piece in enumerate(one.pieces):
            half = high * TALL.get(piece.kind, 0.5)
            rect = QRectF(left + piece.begin * scale, middle - half, max((piece.end - piece.begin) * scale, 1.5), 2 * half)
            ink = theme.mechanical if piece.kind in ("pulley", "sprocket", "cog") else theme.ink
            over = piece.end > end + 1e-9 and one.stack.length is not None
            p.setPen(pen(theme.over if over else ink, 1.2, (2.0, 2.0) if piece.assumed else ()))
            p.setBrush(with_alpha(theme.over if over else ink, 0.20))
            p.drawRect(rect)
            p.setPen(theme.soft)
            for words in (piece.name, str(k + 1)):
                if text_width(words, font(11)) + 2 < rect.width():
                    put_text(p, rect.center().x() - 0.5 * text_width(words, font(11)), middle + high + 9, words, font(11))
                    break

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.take(int(event.position().y() // ROW_PX))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.take(self.hand + step)

    def take(self, hand: int) -> None:
        """A row in hand."""
        if 0 <= hand < len(self.stacks()):
            self.hand = hand
            self.update()
            self.chosen.emit(hand)


def _code(one: Stacked) -> str:
    return one.stack.shaft.replace(" ", "_")


class ShaftsPanel(QWidget):
    """The picture and the fields of the shaft in hand."""

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing = session, drawing
        self.setObjectName("layout-shafts")
        self.picture = ShaftsPicture(session, drawing)
        self.picture.chosen.connect(lambda _hand: self.refresh())
        self.take_button = QPushButton("Take as drawn", objectName="take-stack")
        self.take_button.setToolTip("Writes the proposed things and widths down, to be corrected by measuring")
        self.take_button.clicked.connect(self.take)
        self.add_button = QToolButton(text="Add", objectName="add-on-shaft", popupMode=QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.add_button)
        for kind in STACK_KINDS:
            menu.addAction(kind.capitalize()).triggered.connect(partial(self.add, kind))
        self.add_button.setMenu(menu)
        self.forget_button = QPushButton("Propose anew", objectName="forget-stack")
        self.forget_button.clicked.connect(self.forget)
        self.form = QScrollArea(objectName="stack-form", widgetResizable=True)
        self.form.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._shown: tuple[object, ...] | None = None
        row = QHBoxLayout()
        for button in (self.add_button, self.take_button, self.forget_button):
            row.addWidget(button)
        row.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 6, 6, 4)
        column.setSpacing(4)
        column.addWidget(self.picture)
        column.addLayout(row)
        column.addWidget(self.form, 1)

    def _in_hand(self) -> Stacked | None:
        stacks = self.picture.stacks()
        return stacks[min(self.picture.hand, len(stacks) - 1)] if stacks else None

    def refresh(self) -> None:
        """Of the drawing as it is."""
        one = self._in_hand()
        self.picture.setFixedHeight(max(len(self.picture.stacks()), 1) * ROW_PX + 4)
        self.picture.update()
        self.add_button.setEnabled(one is not None and one.own >= 0)
        self.forget_button.setEnabled(one is not None and one.own >= 0)
        self.take_button.setEnabled(one is not None and one.own < 0)
        shown = (one.own, tuple(item.kind for item in one.stack.items), one.stack.shaft) if one is not None else ()
        if shown != self._shown:
            self._shown = shown
            self._build(one)

    def _build(self, one: Stacked | None) -> None:
        page = QWidget()
        form = QFormLayout(page)
        form.setContentsMargins(0, 4, 4, 4)
        form.setVerticalSpacing(3)
        if one is None or one.own < 0:
            words = "Take it as it is drawn, then measure: thread runs out first." if one is not None else "No shaft."
            form.addRow(soft_line(words, 12))
            swap_contents(self.form, page)
            return
        base = f"variant.layout.stacks.{one.own}"
        for name, words in MEASURES:
            form.addRow(words, ValueField(self._session, f"{base}.{name}", words))
        for k, item in enumerate(one.stack.items):
            usual = self._session.say(USUAL_M.get(item.kind, 0.01), "length")
            line = QHBoxLayout()
            line.addWidget(ValueField(self._session, f"{base}.items.{k}.width", item.name or item.kind, fallback=usual), 1)
            for text, tip, act in (("−", "Take it off", partial(self.drop, k)), ("↑", "One further in", partial(self.shift, k))):
                button = QToolButton(text=text, objectName=f"{'drop' if text == '−' else 'in'}-{k}")
                button.setToolTip(tip)
                button.clicked.connect(act)
                line.addWidget(button)
            form.addRow(f"{k + 1} {item.name or item.kind}", line)
        swap_contents(self.form, page)

    def _put(self, one: Stacked, stack: Stack | None, label: str) -> None:
        layout = self._drawing.layout_now()
        kept = list(layout.stacks)
        if stack is None:
            kept.pop(one.own)
        elif one.own >= 0:
            kept[one.own] = stack
        else:
            kept.append(stack)
        self._session.try_apply(with_layout(self._session.design, replace(layout, stacks=tuple(kept)), label))

    def take(self) -> None:
        """The proposal of the shaft in hand, written down."""
        one = self._in_hand()
        if one is not None and one.own < 0:
            items = tuple(
                replace(item, width=item.width or Quantity(value=USUAL_M.get(item.kind, 0.01), known=Known.ASSUMED))
                for item in one.stack.items
            )
            self._put(one, replace(one.stack, items=items), f"{one.stack.shaft.capitalize()} as drawn")

    def add(self, kind: str, _on: bool = False) -> None:
        """One more on the outside."""
        one = self._in_hand()
        if one is not None:
            width = Quantity(value=USUAL_M.get(kind, 0.01), known=Known.ASSUMED)
            items = (*one.stack.items, OnShaft(kind=kind, width=width))
            self._put(one, replace(one.stack, items=items), f"{kind.capitalize()} on the {one.stack.shaft}")

    def drop(self, k: int, _on: bool = False) -> None:
        """One thing taken off."""
        one = self._in_hand()
        if one is not None:
            items = one.stack.items[:k] + one.stack.items[k + 1 :]
            self._put(one, replace(one.stack, items=items), f"{one.stack.items[k].kind.capitalize()} off the {one.stack.shaft}")

    def shift(self, k: int, _on: bool = False) -> None:
        """One thing a place further in."""
        one = self._in_hand()
        if one is not None and k > 0:
            items = list(one.stack.items)
            items[k - 1], items[k] = items[k], items[k - 1]
            self._put(one, replace(one.stack, items=tuple(items)), f"{items[k - 1].kind.capitalize()} further in")

    def forget(self) -> None:
        """Forget what was told of it: proposed again."""
        one = self._in_hand()
        if one is not None and one.own >= 0:
            self._put(one, None, f"{one.stack.shaft.capitalize()} proposed anew")
