"""A bundle to share, and the papers for the workshop: what stays private by ticks, made by the program itself in the background."""

from __future__ import annotations

import sys
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from PySide6.QtCore import QProcess
from PySide6.QtWidgets import QCheckBox, QDialog, QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from wattagon.design import file
from wattagon.desk.fields import heading, lines_of_text, soft_line
from wattagon.exchange.share.bundle import stem_of

PRIVATE = (
    ("notes", "notes, names of people and of files, the history"),
    ("dates", "days as they were (else all are moved together, the first to 2000-01-01)"),
    ("ends", "where tracks begin and end (else 250 m around both are cut off)"),
    ("pictures", "photos"),
    ("logs", "files of logs"),
)
BUNDLE, SET = "bundle", "workshop"
SAYS = {
    BUNDLE: "Design, report, papers for the workshop and settings in one zip. Without a tick nothing private goes with it:",
    SET: "Cutting sheets at 1:1, cut list and drawing of the wiring, settings and commissioning as one PDF. Print it at 100 %.",
}
KINDS = {BUNDLE: "Bundle (*.zip)", SET: "Paper (*.pdf)"}


class HandOnDialog(QDialog):
    """Ticks and a button; the window stays free while it is made."""

    def __init__(self, window: Any, kind: str, parent: QWidget | None = None) -> None:
        super().__init__(parent or window)
        self._window, self.kind = window, kind
        title = "Bundle to share" if kind == BUNDLE else "Workshop set"
        self.setWindowTitle(title)
        self.setObjectName("hand-on-dialog")
        self.setMinimumWidth(560)
        self.boxes: dict[str, QCheckBox] = {}
        layout = QVBoxLayout(self)
        layout.addWidget(heading(f"{title}: {window.session.design.vehicle.name}"))
        told = lines_of_text("hand-on-what")
        told.setText(SAYS[kind])
        layout.addWidget(told)
        for code, words in PRIVATE if kind == BUNDLE else ():
            self.boxes[code] = QCheckBox(words, objectName=f"keep-{code}")
            layout.addWidget(self.boxes[code])
        self.letter = QCheckBox("cutting sheets on Letter instead of A4", objectName="hand-on-letter")
        layout.addWidget(self.letter)
        self.says = lines_of_text("hand-on-says")
        layout.addWidget(self.says)
        self.save = QPushButton("Save as …", objectName="hand-on-save", default=True)
        self.save.clicked.connect(self.ask)
        leave = QPushButton("Close", autoDefault=False)
        leave.clicked.connect(self.reject)
        row = QHBoxLayout()
        row.addWidget(soft_line(""), 1)
        row.addWidget(self.save)
        row.addWidget(leave)
        layout.addLayout(row)
        self._folder: TemporaryDirectory[str] | None = None
        self._out = Path()
        self.process = QProcess(self)
        self.process.finished.connect(self._done)

    @property
    def busy(self) -> bool:
        """Whether it is being made."""
        return self.process.state() != QProcess.ProcessState.NotRunning

    def ask(self) -> None:
        """Where to; then begin."""
        name = self._window.session.design.vehicle.name.lower()
        start = f"{name}.zip" if self.kind == BUNDLE else f"{name}-workshop.pdf"
        chosen, _ = QFileDialog.getSaveFileName(self, self.windowTitle(), start, KINDS[self.kind])
        if chosen:
            self.make(Path(chosen))

    def make(self, path: Path) -> None:
        """From a copy of what is open now, saved or not; wrong endings are put right."""
        ending = ".zip" if self.kind == BUNDLE else ".pdf"
        self._out = path if path.suffix.lower() == ending else path.with_name(path.name + ending)
        session = self._window.session
        document = file.Document(design=session.design, members=session.doc.members)
        self._folder = TemporaryDirectory()
        copy = Path(self._folder.name) / f"{stem_of(document)}.wattagon"
        file.write(copy, document, keep_previous=False)
        more = ["--workshop"] if self.kind == SET else ["--keep", ",".join(code for code, box in self.boxes.items() if box.isChecked())]
        more += ["--units", session.unit_set, "--paper", "Letter" if self.letter.isChecked() else "A4"]
        self.says.setText("It is being made; the window stays free.")
        self.save.setEnabled(False)
        self.process.start(sys.executable, ["-m", "wattagon.cli", "report", str(copy), "-o", str(self._out), *more])

    def _done(self, code: int, _status: object) -> None:
        read = (self.process.readAllStandardOutput(), self.process.readAllStandardError())
        out, err = (bytes(one.data()).decode("utf-8", "replace").strip() for one in read)
        self.save.setEnabled(True)
        if code == 0:
            self.says.setText(f"Written: {self._out}\n" + "\n".join(line.strip() for line in out.splitlines()[1:]))
        else:
            self.says.setText(err.splitlines()[-1].removeprefix("wattagon: ") if err else "It could not be made.")
        self._leave()

    def _leave(self) -> None:
        if self._folder is not None:
            self._folder.cleanup()
            self._folder = None

    def reject(self) -> None:
        if self.busy:
            self.process.kill()
            self.process.waitForFinished(3000)
        self._leave()
        super().reject()
