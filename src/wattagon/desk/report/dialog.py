"""Which sections, where to, and how far it has come."""

from __future__ import annotations

import datetime
from pathlib import Path
from typing import Any

from PySide6.QtWidgets import QCheckBox, QDialog, QFileDialog, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from wattagon.desk.fields import heading, soft_line
from wattagon.desk.report.gather import Gatherer, sections_of
from wattagon.desk.report.write import check_ending, write
from wattagon.errors import WattagonError
from wattagon.exchange.report.model import Report

KINDS = "Page with its pictures inside (*.html);;Paper (*.pdf);;Text for a post (*.md)"


class ReportDialog(QDialog):
    """Ticks and a button; the window goes through its benches while it is made."""

    def __init__(self, window: Any, parent: QWidget | None = None) -> None:
        super().__init__(parent or window)
        self._window = window
        self.setWindowTitle("Report")
        self.setObjectName("report-dialog")
        self.setModal(True)  # what is gathered bench by bench is of one design
        self.boxes: dict[str, QCheckBox] = {}
        grid = QGridLayout()
        for k, entry in enumerate(sections_of(window.session.design)):
            box = QCheckBox(entry.name, checked=True, objectName=f"report-{entry.code}")
            self.boxes[entry.code] = box
            grid.addWidget(box, k // 3, k % 3)
        self.says = soft_line("Goals, assumptions and what is not checked always stand in it.")
        self.save = QPushButton("Save as …", objectName="report-save", default=True)
        self.save.clicked.connect(self.ask)
        leave = QPushButton("Close", autoDefault=False)
        leave.clicked.connect(self.reject)
        row = QHBoxLayout()
        row.addWidget(self.says, 1)
        row.addWidget(self.save)
        row.addWidget(leave)
        layout = QVBoxLayout(self)
        layout.addWidget(heading(f"Report of {window.session.design.vehicle.name}"))
        layout.addLayout(grid)
        layout.addLayout(row)
        self._path = Path()
        self._gatherer: Gatherer | None = None

    @property
    def codes(self) -> list[str]:
        """What is ticked."""
        return [code for code, box in self.boxes.items() if box.isChecked()]

    def ask(self) -> None:
        """Where to; then begin."""
        name, _ = QFileDialog.getSaveFileName(self, "Save the report", f"{self._window.session.design.vehicle.name.lower()}.html", KINDS)
        if name:
            self.make(Path(name))

    def make(self, path: Path) -> None:
        """Gather and write."""
        try:
            check_ending(path)
        except WattagonError as refusal:
            self.says.setText(str(refusal))
            return
        self._path = path
        self.save.setEnabled(False)
        entries = tuple(entry for entry in sections_of(self._window.session.design) if entry.code in self.codes)
        self._gatherer = Gatherer(self._window, entries, datetime.date.today())
        self._gatherer.moved.connect(self._moved)
        self._gatherer.done.connect(self._done)
        self._gatherer.start()

    @property
    def busy(self) -> bool:
        """Whether it is being made."""
        return self._gatherer is not None

    def _moved(self, name: str) -> None:
        self.says.setText(f"{name} …")

    def _done(self, report: object) -> None:
        assert isinstance(report, Report) and self._gatherer is not None
        pictures, self._gatherer = self._gatherer.pictures, None
        self.save.setEnabled(True)
        try:
            write(report, pictures, self._path)
        except WattagonError as refusal:
            self.says.setText(str(refusal))
            return
        self.says.setText(f"Written: {self._path}")

    def reject(self) -> None:
        if self._gatherer is not None:
            self._gatherer.give_up()
            self._gatherer = None
        super().reject()
