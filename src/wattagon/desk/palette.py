"""The command palette: every action with its shortcut, found by typing."""

from __future__ import annotations

from typing import cast

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QAction, QKeyEvent
from PySide6.QtWidgets import QDialog, QHeaderView, QLineEdit, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget


class Palette(QDialog):
    """Lists actions; Return runs the marked one after the palette has closed."""

    def __init__(self, actions: list[QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("All actions")
        self.setObjectName("palette")
        self.resize(520, 420)
        self._actions = [action for action in actions if action.text() and action.isVisible()]
        self.search = QLineEdit(objectName="palette-search", placeholderText="Type what you want to do", clearButtonEnabled=True)
        self.list = QTreeWidget(objectName="palette-list", rootIsDecorated=False, uniformRowHeights=True, headerHidden=True)
        self.list.setColumnCount(2)
        self.list.header().setStretchLastSection(False)
        self.list.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.list.header().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.list.ensurePolished()  # rows take their height from the style
        layout = QVBoxLayout(self)
        layout.addWidget(self.search)
        layout.addWidget(self.list, 1)
        for action in self._actions:
            item = QTreeWidgetItem(self.list, [action.text().replace("&", ""), action.shortcut().toString()])
            item.setDisabled(not action.isEnabled())
            if action.isCheckable() and action.isChecked():
                item.setText(0, f"{item.text(0)}  (on)")
        self.search.textChanged.connect(self._filter)
        self.search.returnPressed.connect(self._run)
        self.search.installEventFilter(self)
        self.list.itemActivated.connect(self._run)
        self.chosen: QAction | None = None
        self._filter("")

    def _filter(self, text: str) -> None:
        words, first = text.lower().split(), None
        for k in range(self.list.topLevelItemCount()):
            item = self.list.topLevelItem(k)
            assert item is not None
            item.setHidden(not all(word in item.text(0).lower() for word in words))
            if first is None and not item.isHidden() and not item.isDisabled():
                first = item
        self.list.setCurrentItem(cast(QTreeWidgetItem, first))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() is QEvent.Type.KeyPress and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.list.event(event)
            return True
        return super().eventFilter(watched, event)

    def _run(self) -> None:
        item = self.list.currentItem()
        if item is not None and not item.isHidden() and not item.isDisabled():
            self.chosen = self._actions[self.list.indexOfTopLevelItem(item)]
            self.accept()
