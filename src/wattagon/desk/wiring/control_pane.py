"""Control wires pin by pin, and how to find out which lead is which."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
)

from wattagon.design.tree import Wire
from wattagon.desk.fields import lines_of_text, scrolled
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.desk.wiring.pane import Pane
from wattagon.study.wiring.control import FIND_OUT, looked_over, usual_wires
from wattagon.study.wiring.pieces import Held
from wattagon.study.wiring.study import WiringStudy

CUT_FIRST = "Record before cutting: the colour that you find beside the one that you lay."
HEADS = ("signal", "from", "pin", "to", "pin", "colour found", "colour laid", "cut")
FIELDS = ("signal", "start", "start_pin", "end", "end_pin", "found", "wanted", "cut")


class ControlPane(Pane):
    """Control wires pin by pin, colours found and laid, and what is wrong with them."""

    title = "Control wires"
    of_piece = False

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.table = QTableWidget(0, len(HEADS), objectName="control-wires")
        self.table.setAccessibleName("Control wires")
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.verticalHeader().setVisible(False)
        self.table.verticalHeader().setDefaultSectionSize(22)
        self.table.setFont(font(12))
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.itemChanged.connect(self._changed)
        self.words = lines_of_text("control-words")
        self.usual = QPushButton("Begin with the usual ones", objectName="usual-wires")
        self.usual.clicked.connect(self.begin)
        self.add = QPushButton("Add a wire", objectName="add-wire", flat=True)
        self.add.clicked.connect(lambda: self._put((*self._wires(), Wire(signal="signal", start="from")), "a control wire"))
        self.away = QPushButton("Take it out", objectName="remove-wire", flat=True)
        self.away.clicked.connect(self.remove)
        self.find_out = QCheckBox("which lead is which", objectName="find-out")
        self.find_out.setToolTip("Without a manual: what to measure")
        self.find_out.toggled.connect(lambda _on: self.show_path(self.found, self.one))
        row = QHBoxLayout()
        for widget in (self.usual, self.add, self.away, self.find_out):
            row.addWidget(widget)
        row.addStretch(1)
        left = QVBoxLayout()
        left.setSpacing(2)
        left.addWidget(self.table, 1)
        left.addLayout(row)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addLayout(left, 5)
        layout.addWidget(scrolled(self.words), 3)

    def _wires(self) -> tuple[Wire, ...]:
        wiring = self.session.design.variant().wiring if self.session.docs else None
        return wiring.wires if wiring is not None else ()

    def show_path(self, found: WiringStudy | None, one: Held | None) -> None:
        super().show_path(found, one)
        wires = self._wires()
        self.usual.setVisible(not wires)
        with QSignalBlocker(self.table):
            if self.find_out.isChecked():
                self._show_find_out()
            else:
                self._show_wires(wires)
        self.words.setText("<br>".join(self._says(wires)))

    def _show_wires(self, wires: tuple[Wire, ...]) -> None:
        self.table.setColumnCount(len(HEADS))
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.setRowCount(len(wires))
        for row, wire in enumerate(wires):
            for column, name in enumerate(FIELDS):
                value = getattr(wire, name)
                item = QTableWidgetItem("" if isinstance(value, bool) else value)
                if name == "cut":
                    item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsUserCheckable)
                    item.setCheckState(Qt.CheckState.Checked if value else Qt.CheckState.Unchecked)
                self.table.setItem(row, column, item)

    def _show_find_out(self) -> None:
        self.table.setColumnCount(3)
        self.table.setHorizontalHeaderLabels(["lead", "what to measure", "it is that, if"])
        self.table.setRowCount(len(FIND_OUT))
        for row, one in enumerate(FIND_OUT):
            for column, text in enumerate(one):
                item = QTableWidgetItem(text)
                item.setFlags(Qt.ItemFlag.ItemIsEnabled)
                item.setToolTip(text)
                self.table.setItem(row, column, item)

    def _says(self, wires: tuple[Wire, ...]) -> list[str]:
        theme = THEMES[self.session.theme_name]
        ink = {"over": theme.over.name(), "tight": theme.tight.name(), "clear": theme.clear.name()}
        mark = {"over": "◆", "tight": "▬", "clear": "○"}
        lines = [f"<b>{CUT_FIRST}</b>"]
        for one in looked_over(wires):
            lines.append(f'<span style="color:{ink.get(one.weight, theme.soft.name())}">{mark.get(one.weight, "?")}</span> {one.words}')
        if not wires:
            lines.append("Nobody told how throttle, sensors and enable chain are wired.")
        if self.find_out.isChecked():
            lines.append("Caution: one hand, insulated probes, wheel off the ground; the pack's volts are on some of these leads.")
        return lines

    def _put(self, wires: tuple[Wire, ...], label: str) -> None:
        self.put(label, wires=wires)

    def begin(self) -> None:
        """The usual wires of such a drive, their colours open."""
        if self.session.study is not None:
            self._put(usual_wires(self.session.design, self.session.study.resolved), "usual control wires")

    def remove(self) -> None:
        """The row in hand."""
        row = self.table.currentRow()
        wires = self._wires()
        if 0 <= row < len(wires) and not self.find_out.isChecked():
            self._put((*wires[:row], *wires[row + 1 :]), f"{wires[row].signal} taken out")

    def _changed(self, item: QTableWidgetItem) -> None:
        wires, row, name = self._wires(), item.row(), FIELDS[item.column()]
        if self.find_out.isChecked() or row >= len(wires):
            return
        value: object = item.checkState() == Qt.CheckState.Checked if name == "cut" else item.text().strip()
        wire = wires[row]
        changed = replace(wire, **{name: value})  # type: ignore[arg-type]
        self._put((*wires[:row], changed, *wires[row + 1 :]), f"{wire.signal}: {name.replace('_', ' ')}")
