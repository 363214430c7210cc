"""Opening, saving, closing and recovering vehicles, as the window offers it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import (
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QMessageBox,
    QPushButton,
    QVBoxLayout,
)

from wattagon.design import file
from wattagon.desk.document import Doc
from wattagon.desk.recovery import Recovered, Recovery
from wattagon.desk.session import Session
from wattagon.desk.settings import SettingsFile
from wattagon.errors import WattagonError

FILTER = "Wattagon designs (*.wattagon design.json *.json)"
DEMO = Path(__file__).resolve().parent.parent / "stock" / "demo"

FLEET = ("dunlin", "corncrake", "bittern")  # in the order of the work list


class FileActions(QMainWindow):
    """The part of the main window that deals with files."""

    session: Session
    _settings: SettingsFile
    _recovery: Recovery | None
    _recent: QMenu
    _bars: QVBoxLayout

    def show_bench(self, code: str) -> None:
        """Bring a bench to the front; the window does it."""
        raise AssertionError("the window brings benches to the front")

    def _list_recent(self) -> None:
        self._recent.clear()
        for name in self._settings.values.recent:
            self._recent.addAction(name).triggered.connect(lambda _on=False, name=name: self.open_path(Path(name)))
        self._recent.setEnabled(bool(self._settings.values.recent))

    def _remember(self, path: Path) -> None:
        name = str(path.resolve())
        recent = (name, *(item for item in self._settings.values.recent if item != name))[:8]
        self._settings.change(recent=recent)
        self._list_recent()

    def _welcomed(self, code: str) -> None:
        {"new": self.new_vehicle, "open": self.open_file, "demo": self.open_demo}[code]()

    def new_vehicle(self) -> None:
        """Ask for a kind and a name, and open it."""
        from wattagon.desk.new_vehicle import NewVehicle

        dialog = NewVehicle(self.session, self)
        if dialog.exec() and dialog.design is not None:
            self.session.add(file.Document(design=dialog.design), None)
            self.show_bench("brief")

    def open_file(self) -> None:
        """Ask for files and open them."""

        names, _ = QFileDialog.getOpenFileNames(self, "Open vehicles", "", FILTER)
        for name in names:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> bool:
        """Open one file; a refusal is told."""
        try:
            self.session.open(path)
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        self._remember(path)
        return True

    def open_demo(self) -> None:
        """The demo fleet as unsaved vehicles: saving asks for a name."""
        self.add_demo(*FLEET)
        self.session.activate(0)

    def add_demo(self, *names: str) -> None:
        """Some of the demo fleet, behind what is open."""
        open_names = {doc.design.vehicle.name for doc in self.session.docs}
        for name in names:
            document = file.read(DEMO / f"{name}.json")
            if document.design.vehicle.name not in open_names:
                self.session.add(document, None, front=False)
        self.session.documents_changed.emit()

    def open_previous(self) -> None:
        """The version before the last save, as a vehicle of its own."""
        path = self.session.doc.path
        if path is None or not file.previous_of(path).exists():
            self.session.told.emit("There is no previous version: this vehicle was not saved twice.", True)
            return
        try:
            self.session.add(file.read(file.previous_of(path)), None)
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)

    def save(self) -> bool:
        """Save, asking for a name the first time; whether it was saved."""
        if self.session.doc.path is None:
            return self.save_as()
        return self._save_to(None)

    def save_as(self) -> bool:
        """Save under a name that is asked for; whether it was saved."""

        name = f"{self.session.design.vehicle.name.lower().replace(' ', '-')}.wattagon"
        path, _ = QFileDialog.getSaveFileName(self, "Save this vehicle", name, FILTER)
        if not path:
            return False
        target = Path(path)
        return self._save_to(target if target.suffix in (".wattagon", ".json") else target.with_name(target.name + ".wattagon"))

    def _save_to(self, path: Path | None) -> bool:
        try:
            self.session.save(path)
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        assert self.session.doc.path is not None
        self._remember(self.session.doc.path)
        return True

    def close_vehicle(self) -> None:
        """Close the active vehicle, asking about unsaved work."""
        if self._may_lose([self.session.doc]):
            self.session.close_doc(self.session.docs.index(self.session.doc))

    def _may_lose(self, docs: list[Doc]) -> bool:
        unsaved = [doc for doc in docs if doc.unsaved]
        if not unsaved:
            return True

        names = ", ".join(doc.design.vehicle.name for doc in unsaved)
        box = QMessageBox(QMessageBox.Icon.Question, "Unsaved changes", f"{names}: save the changes?", parent=self)
        buttons = QMessageBox.StandardButton
        box.setStandardButtons(buttons.Save | buttons.Discard | buttons.Cancel)
        answer = box.exec()
        if answer == buttons.Cancel:
            return False
        if answer == buttons.Save:
            for doc in unsaved:
                self.session.activate(self.session.docs.index(doc))
                if not self.save():
                    return False
        return True

    def offer(self, found: list[Recovered]) -> None:
        """Work of an earlier run that did not end well: open it or not, without blocking anything."""
        for item in found:
            bar = QFrame(objectName="recovery-bar")
            row = QHBoxLayout(bar)
            row.setContentsMargins(14, 4, 14, 2)
            row.addWidget(QLabel(f"Unsaved work on {item.name} was found from a run that did not end well."), 1)
            for words, code in (("Open it", "open-recovered"), ("Discard it", "discard-recovered")):
                button = QPushButton(words, objectName=code)
                button.clicked.connect(lambda _on=False, item=item, bar=bar, code=code: self._recovered(item, bar, code))
                row.addWidget(button)
            self._bars.addWidget(bar)

    def _recovered(self, item: Recovered, bar: QFrame, code: str) -> None:
        if code == "open-recovered":
            try:
                self.session.add(file.read(item.path), item.original, recovered=True)
                self.session.autosave()  # under this run's name, before the old one goes
            except WattagonError as refusal:
                self.session.told.emit(str(refusal), True)
                return
        if self._recovery is not None:
            self._recovery.forget(item)
        bar.deleteLater()
