"""A sheet that was read back from the real thing, line by line against the one here."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QInputDialog, QLabel, QPushButton, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.controller.tab import Tab
from wattagon.desk.fields import ElidedLabel, scrolled, soft_line
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.desk.work import Worker
from wattagon.errors import FileError
from wattagon.study.controller.compare import Difference, compare
from wattagon.study.controller.setting import Value
from wattagon.study.controller.study import ControllerStudy

NOTHING = "Read the settings back from the controller into a JSON or CSV sheet (name, value, unit), and compare it here."


class CompareTab(Tab):
    """Differences, judged by what they would do; each can be taken into the design."""

    title = "Read back"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.path: Path | None = None
        self.theirs: dict[str, Value] = {}
        heads = session.person.values.sheet_columns if session.person is not None else ()
        self.columns: dict[str, str] = dict(zip(("key", "value", "unit"), heads, strict=False))
        self.differences: tuple[Difference, ...] = ()
        self._worker = Worker(self)
        self._worker.arrived.connect(self._show)
        session.closing.connect(self._worker.stop)
        self.open = QPushButton("Open a sheet …", objectName="open-sheet")
        self.open.clicked.connect(lambda: self.ask())
        self.words = soft_line(NOTHING, 12)
        self.page = scrolled()
        head = QHBoxLayout()
        head.setContentsMargins(8, 2, 8, 0)
        head.addWidget(self.open)
        head.addWidget(self.words, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        layout.addLayout(head)
        layout.addWidget(self.page, 1)

    @property
    def busy(self) -> bool:
        """Whether differences are being judged."""
        return self._worker.running

    def ask(self) -> None:
        """Which file."""
        name, _ = QFileDialog.getOpenFileName(self, "A sheet that was read back", "", "Sheets (*.json *.csv *.txt)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """A sheet; where its columns are not known they are asked for once."""
        from wattagon.exchange.settings_json import read_sheet

        if self.found is None:
            self.session.told.emit("The sheet here is still being worked out", True)
            return
        try:
            theirs, other = read_sheet(path, self.found, self.session.unit_set, self.columns)
        except FileError as refusal:
            if "say which of them" in str(refusal) and self._columns(path):
                self.read(path)
            else:
                self.session.told.emit(str(refusal), True)
            return
        self.path, self.theirs = path, theirs
        note = f"; not compared: {', '.join(other[:6])}" if other else ""
        self.words.setText(f"{path.name}: {len(theirs)} lines{note}")
        self._judge()

    def _columns(self, path: Path) -> bool:
        """Ask under which heads key and value stand; whether it was told."""
        first = path.read_text(errors="replace").splitlines()[0]
        heads = [head.strip() for head in first.replace(";", ",").replace("\t", ",").split(",")]
        told: dict[str, str] = {}
        for what, words in (("key", "Under which head are the names?"), ("value", "Under which head are the values?")):
            head, fine = QInputDialog.getItem(self, "Columns of the sheet", words, heads, 0, False)
            if not fine:
                return False
            told[what] = head
        units_at = [head for head in heads if head not in told.values()]
        if units_at:
            head, fine = QInputDialog.getItem(
                self, "Columns of the sheet", "Under which head are the units?", ["none", *units_at], 0, False
            )
            if fine and head != "none":
                told["unit"] = head
        if told == self.columns:
            return False
        self.columns = told
        if self.session.person is not None:
            self.session.person.change(sheet_columns=tuple(told.values()))
        return True

    def show_controller(self, found: ControllerStudy | None) -> None:
        changed = found is not self.found
        super().show_controller(found)
        if changed and self.theirs and found is not None:
            self._judge()

    def _judge(self) -> None:
        found, stock, say, theirs = self.found, self.session.stock, self.session.say, dict(self.theirs)
        assert found is not None
        self._worker.start(lambda cancelled: compare(found, theirs, stock, say))

    def _show(self, result: object) -> None:
        assert isinstance(result, tuple)
        self.differences = result
        theme = THEMES[self.session.theme_name]
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(8, 2, 8, 4)
        grid.setColumnStretch(3, 1)
        for row, one in enumerate(self.differences):
            told = [self._said(one, value) for value in (one.ours, one.theirs)]
            effect = ElidedLabel(one.words)
            effect.setToolTip(one.words)
            effect.setFont(font(12))
            effect.setStyleSheet(f"color: {theme.of(one.status).name()}")
            for column, widget in enumerate((QLabel(one.name), QLabel(f"{told[0]} here"), QLabel(f"{told[1]} there"), effect)):
                grid.addWidget(widget, row, column)
            if one.edit is not None:
                take = QPushButton("take it", flat=True, objectName=f"take-{one.key}")
                take.setAccessibleName(f"take {one.name} as found")
                take.clicked.connect(partial(self._take, one.edit))
                grid.addWidget(take, row, 4)
        if not self.differences and self.theirs:
            grid.addWidget(QLabel("No difference: the controller has what is written here."), 0, 0)
        grid.setRowStretch(max(len(self.differences), 1), 1)
        swap_contents(self.page, page)

    def _said(self, one: Difference, value: Value) -> str:
        if isinstance(value, (int, float)) and not isinstance(value, bool):
            return self.session.say(float(value), one.dimension)
        return str(value or "nothing")

    def _take(self, edit: Edit, _on: bool = False) -> None:
        self.session.try_apply(edit)
