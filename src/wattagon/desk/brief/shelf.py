"""Parts already owned: they are free in the cost, and preferred."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSignalBlocker, Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QMenu,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.parts import PART_KINDS, MotorPart, Part
from wattagon.design.paths import Edit
from wattagon.design.tree import ShelfItem
from wattagon.desk.following import Following
from wattagon.desk.picker import pick
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import InputError, WattagonError
from wattagon.exchange import units


class Shelf(Following, QWidget):
    """The list of owned parts with their numbers."""

    what_asked = Signal(str)  # a motor by its id

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("shelf")
        self.setMinimumWidth(270)
        title = QLabel("Owned parts are free and preferred")
        title.setProperty("voice", "soft")
        title.setFont(font(12))
        add, remove = QPushButton("Add", objectName="add-shelf"), QPushButton("Remove", objectName="remove-shelf")
        menu = QMenu(add)
        for kind in PART_KINDS:
            if kind.on_shelf:
                menu.addAction(kind.one).triggered.connect(lambda _on=False, kind=kind: self.add(kind))
        add.setMenu(menu)
        remove.clicked.connect(self.remove_chosen)
        self.what = QPushButton("What is it?", objectName="shelf-what")
        self.what.setToolTip("Of a motor: counted, measured, spun and rewound on the winding bench")
        self.what.setEnabled(False)
        self.what.clicked.connect(self.ask_what)
        head = QHBoxLayout()
        head.addWidget(title, 1)
        head.addWidget(self.what)
        head.addWidget(add)
        head.addWidget(remove)
        self.tree = QTreeWidget(objectName="shelf-list", rootIsDecorated=False, uniformRowHeights=True)
        self.tree.setHeaderLabels(["Part", "number"])
        self.tree.header().setStretchLastSection(False)
        self.tree.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.tree.header().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.tree.setAccessibleName("Parts on the shelf")
        self.tree.itemChanged.connect(self._renumbered)
        self.tree.currentItemChanged.connect(self._current_changed)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(head)
        layout.addWidget(self.tree, 1)
        self._sum = QLabel()
        self._sum.setProperty("voice", "soft")
        self._sum.setFont(font(12))
        self._sum.setWordWrap(True)
        layout.addWidget(self._sum)
        session.design_changed.connect(self.followed)
        session.looks_changed.connect(self.followed)
        self.refresh()

    def refresh(self) -> None:
        if not self._session.docs:
            return
        with QSignalBlocker(self.tree):
            self.tree.clear()
            for item in self._session.design.brief.shelf:
                part = self._session.stock.find(item.part)
                row = QTreeWidgetItem(self.tree, [part.name if part else f"{item.part} (not in stock)", str(item.count)])
                row.setToolTip(0, item.note or (part.name if part else ""))
                row.setTextAlignment(1, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                row.setFlags(row.flags() | Qt.ItemFlag.ItemIsEditable)
        study = self._session.study
        if study is not None:
            say = self._session.say
            full, cost = study.resolved.full_price, study.resolved.cost
            words = f"This variant: parts for {say(full, 'money')}, {say(cost, 'money')} of them still to buy."
            self._sum.setText(words)
        else:
            self._sum.setText("")

    def add(self, kind: type[Part]) -> None:
        """One more owned part, picked from stock."""
        part = pick(self._session, kind, "", self)
        if part is None:
            return
        shelf = self._session.design.brief.shelf
        if any(item.part == part.id for item in shelf):
            shelf = tuple(replace(item, count=item.count + 1) if item.part == part.id else item for item in shelf)
        else:
            shelf = (*shelf, ShelfItem(part=part.id))
        self._session.try_apply(Edit(label=f"On the shelf: {part.name}", changes=(("brief.shelf", shelf),)))

    def _chosen_motor(self) -> str:
        row, shelf = self.tree.currentIndex().row(), self._session.design.brief.shelf if self._session.docs else ()
        part = self._session.stock.find(shelf[row].part) if 0 <= row < len(shelf) else None
        return part.id if isinstance(part, MotorPart) else ""

    def _current_changed(self, *_rows: object) -> None:
        self.what.setEnabled(bool(self._chosen_motor()))

    def ask_what(self) -> None:
        """What the chosen motor is."""
        if part := self._chosen_motor():
            self.what_asked.emit(part)

    def remove_chosen(self) -> None:
        row = self.tree.currentIndex().row()
        shelf = self._session.design.brief.shelf
        if 0 <= row < len(shelf):
            kept = (*shelf[:row], *shelf[row + 1 :])
            self._session.try_apply(Edit(label="Off the shelf", changes=(("brief.shelf", kept),)))

    def _renumbered(self, item: QTreeWidgetItem, column: int) -> None:
        # taken in the next turn: the list is made anew by it, and the item is still in use here
        row, text = self.tree.indexOfTopLevelItem(item), item.text(1) if column == 1 else ""
        QTimer.singleShot(0, self, lambda: self.renumber(row, text))

    def renumber(self, row: int, text: str) -> None:
        """Another number of an owned part, as it was typed; a refusal is told and the list shows what is so."""
        shelf = self._session.design.brief.shelf if self._session.docs else ()
        if not text or not 0 <= row < len(shelf):
            self.refresh()
            return
        try:
            count = units.whole(text, "count", "number on the shelf")
            if count < 1:
                raise InputError("number on the shelf", units.quoted(text), "1, 2, 3 …")
            changed = replace(shelf[row], count=count)
            self._session.apply(Edit(label=f"{count} on the shelf", changes=(("brief.shelf", (*shelf[:row], changed, *shelf[row + 1 :])),)))
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            self.refresh()
