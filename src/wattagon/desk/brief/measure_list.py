"""The measuring list with its editor: value, how it is known, day and tolerance."""

from __future__ import annotations

import datetime

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import VehicleKind
from wattagon.desk.brief.measures import groups_for, is_assumed, measure_of, shown, value_of
from wattagon.desk.fields import refuse
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.errors import WattagonError
from wattagon.exchange import units

PATH = Qt.ItemDataRole.UserRole
WORDS = {Known.MEASURED: "measured", Known.FITTED: "fitted", Known.STATED: "stated", Known.COMPUTED: "computed", Known.ASSUMED: "assumed"}


class MeasureList(Following, QWidget):
    """All measures with how each is known; the chosen one is edited below the list."""

    chosen = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.path = ""
        self.setObjectName("measure-list")
        self.setMinimumWidth(290)
        self.tree = _List(objectName="measures", rootIsDecorated=False, uniformRowHeights=True)
        self.tree.setHeaderLabels(["measure", "value", "known"])
        self.tree.setIndentation(8)
        self.tree.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.tree.header().setStretchLastSection(False)
        self.tree.header().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.tree.header().setSectionResizeMode(2, QHeaderView.ResizeMode.ResizeToContents)
        self.tree.setAccessibleName("Measuring list")
        self.items: dict[str, QTreeWidgetItem] = {}
        self._floats: bool | None = None
        self.tree.currentItemChanged.connect(self._moved)
        self.tree.entered.connect(self.focus_value)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        layout.addWidget(self.tree, 1)
        layout.addWidget(self._editor())
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        self.refresh()

    def _fill(self, kind: VehicleKind) -> None:
        """Another list: of a boat, or of a vehicle on wheels."""
        self._floats = kind.floats
        with QSignalBlocker(self.tree):
            self.tree.clear()
            self.items = {}
            for title, group in groups_for(kind):
                head = QTreeWidgetItem(self.tree, [title])
                head.setFirstColumnSpanned(True)
                head.setFlags(Qt.ItemFlag.ItemIsEnabled)
                head.setFont(0, font(12, 600))
                for measure in group:
                    item = QTreeWidgetItem(head)
                    item.setData(0, PATH, measure.path)
                    item.setTextAlignment(1, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                    self.items[measure.path] = item
            self.tree.expandAll()
            self.path = next(iter(self.items))
            self.tree.setCurrentItem(self.items[self.path])

    def _editor(self) -> QWidget:
        box = QFrame(objectName="measure-editor")
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self._title, self._how = QLabel(), QLabel(wordWrap=True)
        self._title.setFont(font(13, 600))
        self._how.setProperty("voice", "soft")
        self._how.setFont(font(12))
        self._how.setMinimumHeight(32)
        self._how.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.value = QLineEdit(objectName="measure-value")
        self.known = QComboBox(objectName="measure-known")
        for known in (Known.MEASURED, Known.FITTED, Known.STATED, Known.ASSUMED):
            self.known.addItem(WORDS[known], known)
        self.date = QLineEdit(objectName="measure-date", placeholderText="day, 2026-05-09")
        self.tolerance = QLineEdit(objectName="measure-tolerance", placeholderText="tolerance")
        self.note = QLineEdit(objectName="measure-note", placeholderText="note")
        today = QPushButton("Measured today", objectName="measured-today")
        today.setToolTip("Take the value as measured today")
        today.clicked.connect(self._today)
        for field in (self.value, self.date, self.tolerance, self.note):
            field.editingFinished.connect(self._commit)
        self.known.activated.connect(self._known_chosen)
        grid.addWidget(self._title, 0, 0, 1, 2)
        grid.addWidget(self._how, 1, 0, 1, 2)
        grid.addWidget(self.value, 2, 0)
        grid.addWidget(self.known, 2, 1)
        grid.addWidget(self.tolerance, 3, 0)
        grid.addWidget(self.date, 3, 1)
        row = QHBoxLayout()
        row.addWidget(self.note, 1)
        row.addWidget(today)
        grid.addLayout(row, 4, 0, 1, 2)
        return box

    # showing

    def select(self, path: str) -> None:
        """Choose a measure."""
        item = self.items.get(path)
        if item is not None:
            self.tree.setCurrentItem(item)

    def focus_value(self) -> None:
        """Ready to type the chosen measure's value."""
        self.value.setFocus(Qt.FocusReason.ShortcutFocusReason)
        self.value.selectAll()

    def _moved(self, item: QTreeWidgetItem | None) -> None:
        path = item.data(0, PATH) if item is not None else None
        if path:
            self.path = path
            self.refresh()
            self.chosen.emit(path)

    def refresh(self) -> None:
        if not self._session.docs:
            return
        theme, kind = THEMES[self._session.theme_name], self._session.design.vehicle.kind
        if self._floats is not kind.floats:
            self._fill(kind)
            self.chosen.emit(self.path)
        for path, item in self.items.items():
            measure = measure_of(kind, path)
            item.setHidden(kind in measure.not_for)
            quantity, spec = value_of(self._session, path)
            assumed = is_assumed(self._session, path)
            item.setText(0, spec.label)
            item.setText(1, shown(self._session, path))
            item.setText(
                2,
                ("≈ as usual" if measure.usual else "missing")
                if quantity is None
                else f"≈ {WORDS[quantity.known]}"
                if assumed
                else WORDS[quantity.known],
            )
            for column in (1, 2):
                item.setForeground(column, theme.soft if assumed else theme.ink)
                item.setFont(column, font(13, 400 if assumed else 600) if column == 1 else font(12))
            item.setForeground(0, theme.ink)
        if self.path:
            self._show()

    def _show(self) -> None:
        quantity, spec = value_of(self._session, self.path)
        self._title.setText(spec.label.capitalize() + (f", {spec.hint}" if spec.hint else ""))
        self._how.setText(measure_of(self._session.design.vehicle.kind, self.path).how)
        dimension, unit_set = spec.dimension, self._session.unit_set
        texts = {
            self.value: shown(self._session, self.path) if quantity is not None else "",
            self.date: (quantity.date or "") if quantity else "",
            self.tolerance: f"± {units.say(quantity.tolerance, _span(dimension), unit_set)}"
            if quantity and quantity.tolerance is not None
            else "",
            self.note: quantity.note if quantity else "",
        }
        for field, text in texts.items():
            if field.hasFocus() and field.isModified():
                continue
            with QSignalBlocker(field):
                field.setText(text)
                field.setCursorPosition(0)
            field.setModified(False)
            refuse(field, False)
        self.value.setAccessibleName(spec.label)
        self.value.setToolTip(f"Accepted: {spec.accepted()}; any unit can be typed")
        with QSignalBlocker(self.known):
            known = quantity.known if quantity is not None else Known.ASSUMED
            self.known.setCurrentIndex(max(0, self.known.findData(known)))

    # editing

    def _commit(self) -> None:
        if any(field.isModified() for field in (self.value, self.date, self.tolerance, self.note)):
            self._apply(None, None)

    def _known_chosen(self) -> None:
        self._apply(Known(self.known.currentData()), None)

    def _today(self) -> None:
        self._apply(Known.MEASURED, datetime.date.today().isoformat())

    def _apply(self, known: Known | None, day: str | None) -> None:
        if not self._session.docs:
            return
        quantity, spec = value_of(self._session, self.path)
        field = self.value
        try:
            text = self.value.text().strip()
            if not text and quantity is not None and self._optional():
                self._session.apply(Edit(label=f"{spec.label.capitalize()} not known", changes=((self.path, None),)))
                return
            value = (
                quantity.value
                if quantity is not None and not self.value.isModified()
                else units.parse(text, spec.dimension, self._session.unit_set, field=spec.label)
            )
            spec.check(spec.label, value)
            if known is None:
                was = quantity.known if quantity is not None else Known.ASSUMED
                typed = self.value.isModified() and was is Known.ASSUMED
                known = Known.STATED if typed else was
            field = self.date
            date = day or self.date.text().strip() or None
            if date is not None:
                date = self._day(date)
            if known is not Known.MEASURED:
                date = None
            field = self.tolerance
            span = self.tolerance.text().replace("±", "").strip()
            tolerance = units.parse(span, _span(spec.dimension), self._session.unit_set, field="tolerance") if span else None
            if quantity is not None and not self.tolerance.isModified():
                tolerance = quantity.tolerance
            extra = quantity.extra if quantity is not None else {}
            made = Quantity(value=value, known=known, date=date, tolerance=tolerance, note=self.note.text().strip(), extra=extra)
            for each in (self.value, self.date, self.tolerance, self.note):
                each.setModified(False)
            said = self._session.say(value, spec.dimension)
            self._session.apply(Edit(label=f"{spec.label.capitalize()} {said}, {WORDS[known]}", changes=((self.path, made),)))
        except WattagonError as refusal:
            refuse(field, True)
            field.setModified(True)
            self._session.told.emit(str(refusal), True)
            return
        self._show()

    def _optional(self) -> bool:
        from wattagon.design.paths import place

        return place(self._session.design, self.path).optional

    def _day(self, text: str) -> str:
        from wattagon.errors import InputError

        try:
            return datetime.date.fromisoformat(text).isoformat()
        except ValueError:
            raise InputError("day of the measurement", repr(text), "year-month-day, such as 2026-05-09") from None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            for field in (self.value, self.date, self.tolerance, self.note):
                field.setModified(False)
            self._show()
            self.tree.setFocus()
            return
        super().keyPressEvent(event)


class _List(QTreeWidget):
    entered = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_F2):
            self.entered.emit()
            return
        super().keyPressEvent(event)


def _span(dimension: str) -> str:
    """The dimension of a difference: a span of temperature has no zero point."""
    return "number" if dimension == "temperature" else dimension
