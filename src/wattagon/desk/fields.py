"""Fields that show and edit one value of the design: any unit typed, the user's unit shown, refusals said beside them."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, QSize, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QComboBox, QFrame, QLabel, QLineEdit, QScrollArea, QSplitter, QWidget

from wattagon.design.paths import Edit, place
from wattagon.design.quantity import Known, Quantity
from wattagon.desk.chart.painted import painted
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import PathError, WattagonError
from wattagon.exchange import units


def refuse(field: QWidget, refused: bool) -> None:
    """Mark a field as refused, or take the mark away."""
    field.setProperty("refused", refused)
    field.style().polish(field)


LEAST_PX = 36


class ElidedLabel(QLabel):
    """A line that ends in an ellipsis where the room ends; `shorter` wordings are tried first."""

    shorter: tuple[str, ...] = ()

    def minimumSizeHint(self) -> QSize:
        return QSize(16, super().minimumSizeHint().height())

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        painter.setPen(self.palette().color(self.foregroundRole()))
        if self.width() < LEAST_PX:
            return  # a letter and dots tell nothing
        metrics, words = self.fontMetrics(), (self.text(), *self.shorter)
        fits = next((text for text in words if metrics.horizontalAdvance(text) <= self.width()), words[-1])
        text = metrics.elidedText(fits, Qt.TextElideMode.ElideRight, self.width())
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, text)


def heading(words: str) -> QLabel:
    """What a bench, or a part of one, is called."""
    label = QLabel(words)
    label.setFont(font(14, 600))
    return label


def soft_line(words: str = "", size: int | None = None) -> ElidedLabel:
    """A quiet line that may be cut short."""
    label = ElidedLabel(words)
    label.setProperty("voice", "soft")
    if size is not None:
        label.setFont(font(size))
    return label


def lines_of_text(name: str) -> QLabel:
    """Small lines that wrap and may be copied."""
    label = QLabel(wordWrap=True, objectName=name)
    label.setFont(font(12))
    label.setAlignment(Qt.AlignmentFlag.AlignTop)
    label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return label


def scrolled(widget: QWidget | None = None) -> QScrollArea:
    """An area without a frame that scrolls upright only."""
    area = QScrollArea(widgetResizable=True, frameShape=QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    if widget is not None:
        area.setWidget(widget)
    return area


def beside(left: QWidget, right: QWidget, *, stretch: tuple[int, int], widths: tuple[int, int]) -> QSplitter:
    """A drawing and what stands beside it, with a grip between them; widths in px."""
    split = QSplitter(Qt.Orientation.Horizontal, childrenCollapsible=False, handleWidth=8)
    for k, widget in enumerate((left, right)):
        split.addWidget(widget)
        split.setStretchFactor(k, stretch[k])
    split.setSizes(list(widths))
    return split


class ValueField(Following, QLineEdit):
    """One number (or text) of the design by its path.  Return or leaving it applies; Escape takes the typing back.

    An assumed value is shown with a leading mark; typing over it makes it stated by the user.
    """

    _absent = False  # the design in front has no such value

    def __init__(self, session: Session, path: str, label: str, *, fallback: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.path, self._label = session, path, label
        self.setObjectName(path)
        self.setAccessibleName(label)
        self.setPlaceholderText(fallback)
        self.editingFinished.connect(self.commit)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        self.show_value()

    def refresh(self) -> None:
        if not (self.hasFocus() and self.isModified()):
            self.show_value()

    def show_value(self) -> None:
        """Back to what the design holds."""
        if not self._session.docs:
            return
        try:
            target = place(self._session.design, self.path)
        except PathError:
            self._absent = True
            self.setEnabled(False)
            return
        if self._absent:
            self._absent = False
            self.setEnabled(True)
        value, dimension = target.value, target.spec.dimension if target.spec else "number"
        with QSignalBlocker(self):
            if value is None:
                text = ""
            elif isinstance(value, Quantity):
                text = self._session.say(value.value, dimension)
                text = f"≈ {text}" if value.known is Known.ASSUMED else text
            elif isinstance(value, (int, float)) and not isinstance(value, bool):
                text = self._session.say(float(value), dimension)
            else:
                text = str(value)
            self.setText(text)
            self.setCursorPosition(0)
        self.setModified(False)
        refuse(self, False)
        hint = target.spec.hint if target.spec else ""
        known = ""
        if isinstance(value, Quantity):
            full = units.full(value.value, dimension, self._session.unit_set, self._session.design.brief.currency)
            known = f"{value.known}, {full}" + (f", measured {value.date}" if value.date else "")
        self.setToolTip(". ".join(part for part in (self._label, hint, known) if part))

    def commit(self) -> None:
        """Apply what was typed; a refusal is told and the typing stays."""
        if not self.isModified() or not self._session.docs:
            return
        text = self.text().replace("≈", "").strip()
        try:
            target = place(self._session.design, self.path)
            if isinstance(target.type, type) and issubclass(target.type, str):
                value: object = text
            elif not text and target.optional:
                value = None
            else:
                dimension = target.spec.dimension if target.spec else "number"
                if target.type is int:
                    value = units.whole(text, dimension, self._label)
                else:
                    value = units.parse(text, dimension, self._session.unit_set, field=self._label)
                if isinstance(target.value, Quantity) and target.type is Quantity:
                    known = Known.STATED if target.value.known is Known.ASSUMED else target.value.known
                    value = Quantity(
                        value=float(value),
                        known=known,
                        date=target.value.date,
                        tolerance=target.value.tolerance,
                        note=target.value.note,
                        extra=target.value.extra,
                    )
            shown = units.quoted(text)[1:-1] if text else "none"
            self._session.apply(Edit(label=f"{self._label} {shown}", changes=((self.path, value),)))
        except WattagonError as refusal:
            refuse(self, True)
            self._session.told.emit(str(refusal), True)
            return
        self.setModified(False)
        self.show_value()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.show_value()
            self.selectAll()
            return
        super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        if event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason, Qt.FocusReason.ShortcutFocusReason):
            self.selectAll()


class ChoiceField(Following, QComboBox):
    """One choice of the design by its path: (value, words) pairs."""

    _absent = False  # the design in front has no such value

    def __init__(self, session: Session, path: str, label: str, choices: list[tuple[object, str]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.path, self._label = session, path, label
        self.setObjectName(path)
        self.setAccessibleName(label)
        for value, words in choices:
            self.addItem(words, value)
        self.activated.connect(self._chosen)
        session.design_changed.connect(self.followed)
        self.show_value()

    def refresh(self) -> None:
        self.show_value()

    def show_value(self) -> None:
        """Back to what the design holds."""
        if not self._session.docs:
            return
        try:
            value = place(self._session.design, self.path).value
        except PathError:
            self._absent = True
            self.setEnabled(False)
            return
        if self._absent:
            self._absent = False
            self.setEnabled(True)
        with QSignalBlocker(self):
            for k in range(self.count()):
                if self.itemData(k) == value:
                    self.setCurrentIndex(k)

    def _chosen(self, index: int) -> None:
        if not self._session.try_apply(Edit(label=f"{self._label}: {self.itemText(index)}", changes=((self.path, self.itemData(index)),))):
            self.show_value()
