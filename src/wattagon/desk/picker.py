"""Pick a part from stock: search as you type, what counts for the kind in columns, owned parts first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wattagon.design import codec
from wattagon.design.parts import CellPart, Part
from wattagon.design.paths import Edit
from wattagon.desk.passing import ask
from wattagon.desk.session import Session
from wattagon.exchange import units


class PartPicker(QDialog):
    """Modal list of one kind; `chosen` is the part's id after it was accepted."""

    def __init__(
        self,
        session: Session,
        kind: type[Part],
        current: str = "",
        *,
        keep: Callable[[Any], bool] | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._session, self._kind = session, kind
        self.chosen = ""
        self.setWindowTitle(f"{kind.many} in stock")
        self.resize(1000, 560)
        self.search = QLineEdit(objectName="part-search", placeholderText="Type to search: 63x74, sealed, iron …", clearButtonEnabled=True)
        self.list = QTreeWidget(objectName="part-list", rootIsDecorated=False, alternatingRowColors=True, uniformRowHeights=True)
        self.list.setSortingEnabled(True)
        self.list.ensurePolished()  # rows take their height from the style
        self.list.setHeaderLabels(["Part", *(heading for heading, _ in kind.columns), "mass", "price", "delivery", "on the shelf"])
        note = QLabel("A blank is a rating that the seller does not state: it will be reported as not checked.")
        note.setProperty("voice", "soft")
        take, cancel = QPushButton("Take it", default=True, objectName="take"), QPushButton("Cancel")
        take.clicked.connect(self._take)
        cancel.clicked.connect(self.reject)
        self.search.textChanged.connect(self._filter)
        self.search.returnPressed.connect(self._take)
        self.search.installEventFilter(self)
        self.list.itemActivated.connect(self._take)
        row = QHBoxLayout()
        row.addWidget(note, 1)
        row.addWidget(cancel)
        row.addWidget(take)
        layout = QVBoxLayout(self)
        layout.addWidget(self.search)
        layout.addWidget(self.list, 1)
        layout.addLayout(row)
        self._fill(current, keep)

    def _fill(self, current: str, keep: Callable[[Any], bool] | None) -> None:
        owned = {item.part: item.count for item in self._session.design.brief.shelf}
        columns = [(name, _dimension(self._kind, name)) for _, name in self._kind.columns]
        for part in self._session.stock.all(self._kind):
            if keep is not None and not keep(part):
                continue
            item = _Row(self.list)
            self._put(item, 0, part.name, part.name)
            for k, (name, dimension) in enumerate(columns, 1):
                value = getattr(part, name)
                text = "" if value is None else value if isinstance(value, str) else self._session.say(value, dimension)
                self._put(item, k, text, value if value is not None else -1.0)
            at = len(columns) + 1
            self._put(item, at, self._session.say(part.mass_kg, "mass"), part.mass_kg)
            self._put(item, at + 1, self._session.say(part.price, "money"), part.price)
            self._put(item, at + 2, units.say(float(part.lead_days), "days"), float(part.lead_days))
            count = owned.get(part.id, 0)
            self._put(item, at + 3, str(count) if count else "", float(count))
            item.setData(0, Qt.ItemDataRole.UserRole + 1, part.id)
            if part.id == current:
                self.list.setCurrentItem(item)
        self.list.sortByColumn(0, Qt.SortOrder.AscendingOrder)
        for k in range(self.list.columnCount()):
            self.list.resizeColumnToContents(k)
        if (chosen := self.list.currentItem()) is not None:
            self.list.scrollToItem(chosen)

    def _put(self, item: QTreeWidgetItem, column: int, text: str, key: float | str) -> None:
        item.setText(column, text)
        item.setData(column, Qt.ItemDataRole.UserRole, key)
        if column:
            item.setTextAlignment(column, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)

    def _filter(self, text: str) -> None:
        words = text.lower().split()
        first: QTreeWidgetItem | None = None
        for k in range(self.list.topLevelItemCount()):
            item = self.list.topLevelItem(k)
            assert item is not None
            line = " ".join(item.text(c) for c in range(item.columnCount())).lower()
            item.setHidden(not all(word in line for word in words))
            if first is None and not item.isHidden():
                first = item
        now = self.list.currentItem()
        if first is not None and (now is None or now.isHidden()):
            self.list.setCurrentItem(first)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() is QEvent.Type.KeyPress and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.list.setFocus()
            return True
        return super().eventFilter(watched, event)

    def _take(self) -> None:
        item = self.list.currentItem()
        if item is not None and not item.isHidden():
            self.chosen = item.data(0, Qt.ItemDataRole.UserRole + 1)
            self.accept()


def _dimension(kind: type[Part], name: str) -> str:
    item = codec.member(kind, name)
    return item.spec.dimension if item is not None and item.spec is not None else ""


class _Row(QTreeWidgetItem):
    """Sorts numbers as numbers."""

    def __lt__(self, other: QTreeWidgetItem) -> bool:
        column = self.treeWidget().sortColumn()
        a, b = self.data(column, Qt.ItemDataRole.UserRole), other.data(column, Qt.ItemDataRole.UserRole)
        if isinstance(a, str) or isinstance(b, str):
            return str(a) < str(b)
        return (a or 0.0) < (b or 0.0)


def pick(session: Session, kind: type[Part], current: str, parent: QWidget, keep: Callable[[Any], bool] | None = None) -> Part | None:
    """Ask for a part; None when nothing was chosen."""
    dialog = PartPicker(session, kind, current, keep=keep, parent=parent)
    if ask(dialog) != QDialog.DialogCode.Accepted:
        return None
    return session.stock.rows(kind).get(dialog.chosen)


def pick_cell(session: Session, parent: QWidget) -> None:
    """Another cell or ready pack for the pack in front, in whole bricks of it near what there is."""
    choice = session.design.variant().pack
    part = pick(session, CellPart, choice.part, parent)
    if not isinstance(part, CellPart) or part.id == choice.part:
        return
    s, p = part.brick_series, part.brick_parallel
    changed = replace(
        choice,
        part=part.id,
        series=max(1, round(choice.series / s)) * s,
        parallel=max(1, round(choice.parallel / p)) * p,
        overrides={},
    )
    session.try_apply(Edit(label=f"Pack of {part.name}", changes=(("variant.pack", changed),)))
