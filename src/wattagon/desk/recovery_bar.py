"""The bar that offers unsaved work of earlier runs."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
)

from wattagon.desk.passing import ask
from wattagon.desk.recovery import Recovered

NAMED = 3


class RecoveryBar(QFrame):
    """One line for any number of vehicles; it goes when everything was opened or given up."""

    wanted = Signal(list)  # of Recovered
    unwanted = Signal(list)

    def __init__(self, found: list[Recovered]) -> None:
        super().__init__(objectName="recovery-bar")
        self.items = list(found)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 4, 14, 2)
        self._words = QLabel()
        self._words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        row.addWidget(self._words, 1)
        many = len(found) > 1
        for words, code in (
            ("Open them" if many else "Open it", "open-recovered"),
            ("Choose …", "choose-recovered"),
            ("Discard them" if many else "Discard it", "discard-recovered"),
        ):
            if code == "choose-recovered" and not many:
                continue
            button = QPushButton(words, objectName=code)
            button.clicked.connect(lambda _on=False, code=code: self._act(code))
            row.addWidget(button)
        self._say()

    def _say(self) -> None:
        names = [item.name for item in self.items]
        listed = ", ".join(names[:NAMED]) + (f" and {len(names) - NAMED} more" if len(names) > NAMED else "")
        whose = "a run" if len(names) == 1 else "runs"
        self._words.setText(f"Unsaved work on {listed} was found from {whose} that did not end well.")
        self._words.setToolTip("\n".join(names[:40]))

    def _act(self, code: str) -> None:
        if code == "choose-recovered":
            dialog = ChooseRecovered(self.items, self.window())
            if ask(dialog) and (chosen := dialog.chosen()):
                self._done(chosen)
                self.wanted.emit(chosen)
            return
        signal = self.wanted if code == "open-recovered" else self.unwanted
        items = list(self.items)
        self._done(items)
        signal.emit(items)

    def _done(self, items: list[Recovered]) -> None:
        self.items = [item for item in self.items if item not in items]
        if self.items:
            self._say()
        else:
            self.hide()
            self.deleteLater()


class ChooseRecovered(QDialog):
    """Which of them to open; the others stay on offer."""

    def __init__(self, items: list[Recovered], parent: object) -> None:
        super().__init__(parent)  # type: ignore[arg-type]
        self.setWindowTitle("Unsaved work")
        self._items = items
        self.list = QListWidget()
        for item in items:
            where = f"  ({item.original.name})" if item.original is not None else "  (never saved)"
            row = QListWidgetItem(item.name + where, self.list)
            row.setFlags(Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
            row.setCheckState(Qt.CheckState.Unchecked)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Open | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout = QVBoxLayout(self)
        layout.addWidget(QLabel("Tick what to open; the rest stays where it is."))
        layout.addWidget(self.list)
        layout.addWidget(buttons)
        self.resize(420, 360)

    def chosen(self) -> list[Recovered]:
        """What is ticked."""
        return [item for k, item in enumerate(self._items) if self.list.item(k).checkState() == Qt.CheckState.Checked]
