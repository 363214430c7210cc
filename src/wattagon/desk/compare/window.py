"""Compare: choose two to four variants or versions, ask what if, see them over each other, work on one."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QCloseEvent, QGuiApplication
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.compare.edges import EdgesPicture
from wattagon.desk.compare.table import CompareTable
from wattagon.desk.fields import heading, refuse, scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.exchange.set_text import set_from_text
from wattagon.study.compare.compare import LEAST, MOST, Compared, compare, design_of, names_of

FEW = "Choose two to four to compare, or type what if."
WORKING = "The drives are being worked out."
WHAT_IF = "what if"


class CompareWindow(QDialog):
    """Follows the session while it is open."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("Compare")
        self.setObjectName("compare-window")
        self.resize(1120, 720)
        self.found: Compared | None = None
        self.chips: dict[str, QPushButton] = {}
        self._row = QHBoxLayout()
        self._row.addWidget(heading("Compare"))
        self.what_if = QLineEdit(objectName="compare-what-if")
        self.what_if.setPlaceholderText("variant.motor.kv_rpm_per_v=150")
        self.what_if.setAccessibleName("What if: values of the first, changed and kept nowhere")
        self.what_if.setToolTip("The first one with values changed, kept nowhere: PATH=VALUE, several apart by ;")
        self.what_if.setMinimumWidth(220)
        self.what_if.setMaximumWidth(380)
        self.what_if.returnPressed.connect(self.refresh)
        self.edges, self.table_view = EdgesPicture(session), CompareTable(session)
        self.says = soft_line()
        body = QHBoxLayout()
        body.addWidget(self.edges, 4)
        body.addWidget(scrolled(self.table_view), 6)
        self._foot = QHBoxLayout()
        self._foot.addWidget(self.says, 1)
        copy = QPushButton("Copy the table", objectName="compare-copy", autoDefault=False)
        copy.clicked.connect(self.copy)
        self.takes: list[QPushButton] = []
        self._foot.addWidget(copy)
        close = QPushButton("Close", autoDefault=False)
        close.clicked.connect(self.close)
        self._foot.addWidget(close)
        layout = QVBoxLayout(self)
        layout.addLayout(self._row)
        layout.addLayout(body, 1)
        layout.addLayout(self._foot)
        self.worker = Worker(self)
        self.worker.arrived.connect(self._arrived)
        self._chip_names: tuple[str, ...] = ()
        session.design_changed.connect(self._changed)
        session.looks_changed.connect(self._relooked)
        self._make_chips()
        self.refresh()

    # what is chosen

    def _make_chips(self) -> None:
        """A button a variant and version; the active one and its neighbours are down at first."""
        design = self._session.design
        names = names_of(design)
        if names == self._chip_names:
            return
        down = {name for name, chip in self.chips.items() if chip.isChecked()} & set(names)
        if len(down) < LEAST:
            first = design.variant().id
            others = [name for name in names if name != first and "@" not in name]
            down = {first, *others[: LEAST if len(others) > 1 else 1]}
        while self._row.count() > 1:
            item = self._row.takeAt(1)
            widget = item.widget() if item is not None else None
            if widget is not None and widget is not self.what_if:
                widget.hide()
                widget.deleteLater()
        self.chips = {}
        for name in names:
            variant = next((one for one in design.variants if one.id == name.partition("@")[0]), None)
            of, _, version = name.partition("@")
            words = f"{of} as ridden, {version[:6]}" if version else f"{name} {variant.name if variant is not None else ''}"
            chip = QPushButton(words.strip(), checkable=True, checked=name in down, autoDefault=False, objectName=f"compare-{name}")
            chip.toggled.connect(partial(self._chosen, name))
            self._row.addWidget(chip)
            self.chips[name] = chip
        label = QLabel("what if")
        label.setProperty("voice", "soft")
        self._row.addWidget(label)
        self._row.addWidget(self.what_if, 1)
        self._row.addStretch(1)
        self._chip_names = names

    def _chosen(self, _name: str, _down: bool) -> None:
        self.refresh()

    @property
    def chosen(self) -> list[str]:
        """Names that are down, the active variant first."""
        active = self._session.design.active
        down = [name for name, chip in self.chips.items() if chip.isChecked()]
        return sorted(down, key=lambda name: name != active)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.worker.stop()
        super().closeEvent(event)

    # the result

    def _changed(self, _paths: object = None) -> None:
        if self.isVisible():
            if self._session.docs:
                self._make_chips()
            self.refresh()

    def _relooked(self) -> None:
        self._show(self.found, self.edges.problem)

    def refresh(self) -> None:
        """Work the chosen ones out again, on a thread."""
        session = self._session
        if not session.docs:
            self.worker.cancel()
            self._show(None, "No vehicle is open.")
            return
        design, text = session.design, self.what_if.text().strip()
        try:
            designs = [(name, design_of(design, name)) for name in self.chosen]
            if text:
                tried = designs[0][1] if designs else design
                for assignment in text.split(";"):
                    tried = set_from_text(tried, assignment.strip())
                designs = [*(designs or [(design.active, design)]), (WHAT_IF, tried)]
        except WattagonError as refusal:
            refuse(self.what_if, True)
            self.says.setText(str(refusal))
            return
        refuse(self.what_if, False)
        if not LEAST <= len(designs) <= MOST:
            self._show(None, FEW)
            return
        self.says.setText(WORKING)
        stock, say = session.stock, session.say

        def work(cancelled: Any) -> object:
            try:
                return compare(designs, stock, say, cancelled)
            except WattagonError as refusal:
                return str(refusal)

        self.worker.start(work)

    def _arrived(self, result: object) -> None:
        if isinstance(result, Compared):
            self._show(result)
        elif isinstance(result, str):
            self._show(None, result)

    def _show(self, found: Compared | None, problem: str = "") -> None:
        self.found = found
        self.edges.show_compared(found, problem)
        self.table_view.show_compared(found, problem)
        self.says.setText("" if found is None else "Bold is the best of a row; what is alike is left out.")
        for button in self.takes:
            self._foot.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.takes = []
        for side in found.sides if found is not None else ():
            if side.code in self.chips and "@" not in side.code and side.code != self._session.design.active:
                button = QPushButton(f"Work on {side.code}", objectName=f"compare-take-{side.code}", autoDefault=False)
                button.clicked.connect(partial(self._take, side.code), Qt.ConnectionType.QueuedConnection)
                self._foot.insertWidget(self._foot.count() - 2, button)
                self.takes.append(button)

    def _take(self, code: str, _checked: bool = False) -> None:
        variant = self._session.design.variant(code)
        self._session.try_apply(Edit(label=f"Work on {variant.id} {variant.name}".rstrip(), changes=(("active", code),)))

    def copy(self) -> None:
        """The table, with tabs between its cells."""
        QGuiApplication.clipboard().setText("\n".join("\t".join(row) for row in self.table_view.table()))
        self.says.setText("The table is on the clipboard.")
