"""A small table of readings, each row typed or pasted with its units; a row can be left out without losing it."""

from __future__ import annotations

from dataclasses import fields, replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QFileDialog, QHeaderView, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from wattagon.design.paths import Edit, get
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.errors import PathError, WattagonError
from wattagon.exchange import units
from wattagon.exchange.readings_csv import read_readings


class _Table(QTableWidget):
    removed = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Delete:
            self.removed.emit()
            return
        super().keyPressEvent(event)


Columns = tuple[tuple[str, str, str], ...]  # field, heading, dimension
ROW_PX, MOST_SHOWN, LEAST_SHOWN = 22, 5, 2


class RowsField(Following, QWidget):
    """Rows of a test by the path of their tuple in the design; the last, empty row takes the next reading.

    The first column's box says whether the row counts.  Return applies a cell; a row is taken once
    all its cells are filled, Delete removes one.
    """

    def __init__(self, session: Session, path: str, kind: type, columns: Columns, label: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._path, self._kind, self._columns, self._label = session, path, kind, columns, label
        self.setObjectName(f"rows-{path}")
        self.table = _Table(0, len(columns), objectName=f"table-{path}")
        self.table.removed.connect(self.remove)
        self.table.setToolTip("Type or paste a reading into the empty row, any unit will do. Delete removes the row that is chosen.")
        self.table.setAccessibleName(label)
        self.table.verticalHeader().setVisible(False)
        self.table.verticalHeader().setDefaultSectionSize(ROW_PX)
        self.table.verticalHeader().setMinimumSectionSize(ROW_PX)
        self.table.horizontalHeader().setFixedHeight(ROW_PX + 4)
        self.table.setFont(font(12))
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.horizontalHeader().setMinimumSectionSize(30)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.itemChanged.connect(self._changed)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addWidget(self.table)
        self.bring = QPushButton("from CSV…", objectName=f"csv-{path}")
        self.bring.setFlat(True)
        self.bring.setFont(font(12))
        self.bring.setToolTip("Adds the rows of a table; heads may name a unit: speed [kn]")
        self.bring.clicked.connect(self.ask)
        layout.addWidget(self.bring, alignment=Qt.AlignmentFlag.AlignLeft)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        self.refresh()

    def rows(self) -> tuple[Any, ...]:
        """As the design holds them."""
        try:
            return tuple(get(self._session.design, self._path)) if self._session.docs else ()
        except PathError:
            return ()

    def refresh(self) -> None:
        """Show what the design holds; an unfinished row stays."""
        rows, theme = self.rows(), THEMES[self._session.theme_name]
        with QSignalBlocker(self.table):
            begun = self._texts(self.table.rowCount() - 1) if self.table.rowCount() else []
            if self.table.rowCount() != len(rows) + 1:
                begun = []
            self.table.setRowCount(len(rows) + 1)
            heads = [
                f"{heading}, {units.unit_of(dimension, self._session.unit_set).text}" if dimension not in ("rpm", "number") else heading
                for _, heading, dimension in self._columns
            ]
            self.table.setHorizontalHeaderLabels(heads)
            for k, row in enumerate(rows):
                for j, (name, _, dimension) in enumerate(self._columns):
                    text = units.number_text(getattr(row, name), dimension, self._session.unit_set)
                    item = QTableWidgetItem(text)
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                    item.setForeground(theme.soft if row.out else theme.ink)
                    if j == 0:
                        item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                        item.setCheckState(Qt.CheckState.Unchecked if row.out else Qt.CheckState.Checked)
                        item.setToolTip("Unticked: kept, but left out of the fit")
                    self.table.setItem(k, j, item)
            for j in range(len(self._columns)):
                self.table.setItem(len(rows), j, QTableWidgetItem(begun[j] if begun else ""))
        shown = min(len(rows) + 1, MOST_SHOWN)
        self.table.setMaximumHeight(ROW_PX + 4 + shown * ROW_PX + 4)
        self.table.setMinimumHeight(ROW_PX + 4 + min(shown, LEAST_SHOWN) * ROW_PX + 4)  # in a low window

    def _texts(self, row: int) -> list[str]:
        made = []
        for j in range(len(self._columns)):
            item = self.table.item(row, j)
            made.append(item.text().strip() if item is not None else "")
        return made

    def _changed(self, item: QTableWidgetItem) -> None:
        rows, k = list(self.rows()), item.row()
        if k > len(rows):
            return
        try:
            if k == len(rows):
                texts = self._texts(k)
                if not all(texts):
                    return  # the rest is still to be typed
                fresh = {name: self._value(texts[j], j) for j, (name, _, _) in enumerate(self._columns)}
                rows.append(self._kind(**fresh))
                label = f"{self._label}: row {k + 1}"
            else:
                j = item.column()
                name = self._columns[j][0]
                out = j == 0 and item.checkState() is Qt.CheckState.Unchecked
                if j == 0 and out != rows[k].out:
                    rows[k], label = replace(rows[k], out=out), f"{self._label}: row {k + 1} {'left out' if out else 'counts'}"
                else:
                    rows[k], label = (
                        replace(rows[k], **{name: self._value(item.text(), j)}),
                        f"{self._label}: row {k + 1} {item.text().strip()}",
                    )
            self._session.apply(Edit(label=label, changes=((self._path, tuple(rows)),)))
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
        self.refresh()

    def _value(self, text: str, j: int) -> float:
        name, heading, dimension = self._columns[j]
        value = units.parse(text, dimension, self._session.unit_set, field=f"{self._label}, {heading}")
        next(item for item in fields(self._kind) if item.name == name).metadata["spec"].check(f"{self._label}, {heading}", value)
        return value

    def remove(self) -> None:
        """The chosen row goes; undo brings it back."""
        rows, k = list(self.rows()), self.table.currentRow()
        if 0 <= k < len(rows):
            del rows[k]
            self._session.try_apply(Edit(label=f"{self._label}: row {k + 1} removed", changes=((self._path, tuple(rows)),)))

    def ask(self) -> None:
        """Bring in rows from a file that is chosen."""
        name, _ = QFileDialog.getOpenFileName(self, self._label, "", "Tables (*.csv *.txt)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Rows of a table behind those that there are."""
        try:
            fresh: tuple[Any, ...] = read_readings(path, self._kind, self._session.unit_set)
            self._session.apply(
                Edit(label=f"{self._label}: {len(fresh)} rows of {path.name}", changes=((self._path, (*self.rows(), *fresh)),))
            )
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
