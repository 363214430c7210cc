"""Compare: choose two to four variants or versions, ask what if, see them over each other, work on one."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QCloseEvent, QGuiApplication
from PySide6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QLabel, QLineEdit, QPushButton, QTabWidget, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import Design
from wattagon.desk.compare.edges import EdgesPicture
from wattagon.desk.compare.rides import RidesPicture
from wattagon.desk.compare.schools import SchoolsView
from wattagon.desk.compare.table import CompareTable
from wattagon.desk.fields import heading, refuse, scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.exchange.set_text import set_from_text
from wattagon.study.compare.compare import LEAST, MOST, Compared, compare, design_of, names_of, runs_for

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
        self._others: dict[str, Design] = {}  # that are no variants
        self._row = QHBoxLayout()
        self._row.addWidget(heading("Which"))
        self.what_if = QLineEdit(objectName="compare-what-if")
        self.what_if.setPlaceholderText("variant.motor.kv_rpm_per_v=150")
        self.what_if.setAccessibleName("What if: values of the first, changed and kept nowhere")
        self.what_if.setToolTip("The first one with values changed, kept nowhere: PATH=VALUE, several apart by ;")
        self.what_if.setMinimumWidth(220)
        self.what_if.setMaximumWidth(380)
        self.what_if.returnPressed.connect(self.refresh)
        self.edges, self.table_view = EdgesPicture(session), CompareTable(session)
        self.says = soft_line()
        self.rides, self.schools = RidesPicture(session), SchoolsView(session)
        self.run = QComboBox(objectName="compare-run")
        self.run.setAccessibleName("Ride that all are put through")
        self.run.activated.connect(self._run_chosen)
        drawn = QVBoxLayout()
        drawn.addWidget(self.edges, 5)
        drawn.addWidget(self.rides, 4)
        body = QHBoxLayout()
        body.addLayout(drawn, 4)
        body.addWidget(scrolled(self.table_view), 6)
        beside = QWidget()
        first = QVBoxLayout(beside)
        first.setContentsMargins(0, 6, 0, 0)
        first.addLayout(self._row)
        first.addLayout(body, 1)
        self.tabs = QTabWidget(objectName="compare-tabs")
        self.tabs.addTab(beside, "Side by side")
        self.tabs.addTab(self.schools, "Schools")
        self.tabs.currentChanged.connect(self._turned)
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
        layout.addWidget(self.tabs, 1)
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
        names = (*names_of(design), *self._others)
        if names == self._chip_names:
            return
        down = {name for name, chip in self.chips.items() if chip.isChecked()} & set(names)
        if self._others and not down:
            down = {design.variant().id, *list(self._others)[: MOST - 1]}
        if len(down) < LEAST:
            first = design.variant().id
            others = [name for name in names if name != first and "@" not in name]
            down = {first, *others[: LEAST if len(others) > 1 else 1]}
        while self._row.count() > 1:
            item = self._row.takeAt(1)
            widget = item.widget() if item is not None else None
            if widget is not None and widget not in (self.what_if, self.run):
                widget.hide()
                widget.deleteLater()
        self.chips = {}
        for name in names:
            variant = next((one for one in design.variants if one.id == name.partition("@")[0]), None)
            of, _, version = name.partition("@")
            words = f"{of} as ridden, {version[:6]}" if version else f"{name} {variant.name if variant is not None else ''}"
            words = name if name in self._others else words
            chip = QPushButton(words.strip(), checkable=True, checked=name in down, autoDefault=False, objectName=f"compare-{name}")
            chip.toggled.connect(partial(self._chosen, name))
            self._row.addWidget(chip)
            self.chips[name] = chip
        label = QLabel("what if")
        label.setProperty("voice", "soft")
        self._row.addWidget(label)
        self._row.addWidget(self.what_if, 1)
        ridden = QLabel("ridden")
        ridden.setProperty("voice", "soft")
        self._row.addWidget(ridden)
        self._row.addWidget(self.run)
        self._fill_runs(design)
        self._row.addStretch(1)
        self._chip_names = names

    def _fill_runs(self, design: Design) -> None:
        chosen = self.run.currentData()
        self.run.clear()
        self.run.addItem("not at all", "")
        for code, words in runs_for(design).items():
            self.run.addItem(words, code)
        self.run.setCurrentIndex(max(self.run.findData(chosen), 0))
        self.run.setMaximumWidth(170)

    def _turned(self, _index: int) -> None:
        for button in self.takes:
            button.setVisible(self.tabs.currentWidget() is not self.schools)

    def _run_chosen(self, _index: int) -> None:
        self.refresh()

    def _chosen(self, _name: str, _down: bool) -> None:
        self.refresh()

    def bring(self, others: Sequence[tuple[str, Design]]) -> None:
        """Designs that are no variants, such as drives that were found: down at once, the first variant beside them."""
        self._others = dict(others)
        self._chip_names = ()
        for name in list(self.chips):
            self.chips[name].setChecked(False)
        self._make_chips()

    @property
    def chosen(self) -> list[str]:
        """Names that are down, the active variant first."""
        active = self._session.design.active
        down = [name for name, chip in self.chips.items() if chip.isChecked()]
        return sorted(down, key=lambda name: name != active)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.worker.stop()
        self.schools.worker.stop()
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
            designs = [(name, self._others[name] if name in self._others else design_of(design, name)) for name in self.chosen]
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
        stock, say, run = session.stock, session.say, self.run.currentData() or ""

        def work(cancelled: Any) -> object:
            try:
                return compare(designs, stock, say, cancelled, run=run)
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
        self.rides.show_compared(found)
        self.table_view.show_compared(found, problem)
        self.says.setText("" if found is None else "Bold is the best of a row; what is alike is left out.")
        for button in self.takes:
            self._foot.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.takes = []
        variants = {one.id for one in self._session.design.variants} - {self._session.design.active} if found is not None else set()
        for side in found.sides if found is not None else ():
            if side.code in variants:
                button = QPushButton(f"Work on {side.code}", objectName=f"compare-take-{side.code}", autoDefault=False)
                button.clicked.connect(partial(self._take, side.code), Qt.ConnectionType.QueuedConnection)
                self._foot.insertWidget(self._foot.count() - 2, button)
                button.setVisible(self.tabs.currentWidget() is not self.schools)
                self.takes.append(button)

    def _take(self, code: str, _checked: bool = False) -> None:
        variant = self._session.design.variant(code)
        self._session.try_apply(Edit(label=f"Work on {variant.id} {variant.name}".rstrip(), changes=(("active", code),)))

    def copy(self) -> None:
        """The table, with tabs between its cells."""
        table = self.schools.table_view if self.tabs.currentWidget() is self.schools else self.table_view
        QGuiApplication.clipboard().setText("\n".join("\t".join(row) for row in table.table()))
        self.says.setText("The table is on the clipboard.")
