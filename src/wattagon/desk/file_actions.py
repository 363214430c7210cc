"""Opening, saving, closing and recovering vehicles, as the window offers it."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import (
    QFileDialog,
    QMainWindow,
    QMenu,
    QMessageBox,
    QVBoxLayout,
)

from wattagon.design import file
from wattagon.desk.document import OpenVehicle
from wattagon.desk.passing import ask
from wattagon.desk.recovery import Recovered, Recovery
from wattagon.desk.session import Session
from wattagon.desk.settings import SettingsFile
from wattagon.errors import ChangedError, WattagonError

FILTER = "Wattagon designs (*.wattagon design.json *.json)"
DEMO = Path(__file__).resolve().parent.parent / "stock" / "demo"

FLEET = ("dunlin", "corncrake", "bittern", "garganey")  # in the order of the work list


class FileActions(QMainWindow):
    """The part of the main window that deals with files."""

    session: Session
    _settings: SettingsFile
    recovery: Recovery | None
    _recent: QMenu
    _bars: QVBoxLayout

    def show_bench(self, code: str) -> None:
        """Bring a bench to the front; the window does it."""
        raise AssertionError("the window brings benches to the front")

    def _list_recent(self) -> None:
        """As the menu opens: at any other time one of its own actions may be under way."""
        self._recent.clear()
        for name in self._settings.values.recent:
            self._recent.addAction(name).triggered.connect(lambda _on=False, name=name: self.open_path(Path(name)))

    def _remember(self, path: Path) -> None:
        name = str(path.resolve())
        recent = (name, *(item for item in self._settings.values.recent if item != name))[:8]
        self._settings.change(recent=recent)
        self._recent.setEnabled(True)

    def _welcomed(self, code: str) -> None:
        {"new": self.new_vehicle, "open": self.open_file, "demo": self.open_demo}[code]()

    def new_vehicle(self) -> None:
        """Ask for a kind and a few wishes, and open it: a found drive on the drive bench, a plain one on the brief."""
        from wattagon.desk.new_vehicle import NewVehicle

        dialog = NewVehicle(self.session, self)
        if not ask(dialog) or dialog.design is None:
            return
        self.session.add(file.Document(design=dialog.design), None)
        if dialog.found is None:
            self.show_bench("brief")
            return
        self.show_bench("drive")
        self.session.told.emit(dialog.found.reasons, bool(dialog.found.gives_up))

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
        return self.save_to(None)

    def save_as(self) -> bool:
        """Save under a name that is asked for; whether it was saved."""

        name = f"{self.session.design.vehicle.name.lower().replace(' ', '-')}.wattagon"
        path, _ = QFileDialog.getSaveFileName(self, "Save this vehicle", name, FILTER)
        if not path:
            return False
        target = Path(path)
        return self.save_to(target if target.suffix in (".wattagon", ".json") else target.with_name(target.name + ".wattagon"))

    def save_to(self, path: Path | None) -> bool:
        try:
            self.session.save(path)
        except ChangedError as changed:
            return self._over_or_beside(changed)
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        assert self.session.doc.path is not None
        self._remember(self.session.doc.path)
        return True

    def _over_or_beside(self, changed: ChangedError) -> bool:
        """Someone else wrote the file meanwhile: which of the two is to stay."""
        box = QMessageBox(QMessageBox.Icon.Warning, "Changed by someone else", f"{changed}.", parent=self)
        box.setInformativeText("Saving over it keeps their version as the previous one.")
        over = box.addButton("Save over it", QMessageBox.ButtonRole.DestructiveRole)
        beside = box.addButton("Save under another name …", QMessageBox.ButtonRole.AcceptRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.setDefaultButton(beside)
        ask(box)
        if box.clickedButton() is beside:
            return self.save_as()
        if box.clickedButton() is not over:
            self.session.told.emit(str(changed), True)
            return False
        try:
            self.session.save(over=True)
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            return False
        return True

    def close_vehicle(self) -> None:
        """Close the active vehicle, asking about unsaved work."""
        if self._may_lose([self.session.doc]):
            self.session.close_doc(self.session.docs.index(self.session.doc))

    def _may_lose(self, docs: list[OpenVehicle]) -> bool:
        unsaved = [doc for doc in docs if doc.unsaved]
        if not unsaved:
            return True

        names = ", ".join(doc.design.vehicle.name for doc in unsaved)
        box = QMessageBox(QMessageBox.Icon.Question, "Unsaved changes", f"{names}: save the changes?", parent=self)
        buttons = QMessageBox.StandardButton
        box.setStandardButtons(buttons.Save | buttons.Discard | buttons.Cancel)
        answer = ask(box)
        if answer == buttons.Cancel:
            return False
        if answer == buttons.Save:
            for doc in unsaved:
                self.session.activate(self.session.docs.index(doc))
                if not self.save():
                    return False
        return True

    def offer(self, found: list[Recovered]) -> None:
        """Work of earlier runs that did not end well, in one bar however much there is: open it or not, without blocking anything."""
        if found:
            from wattagon.desk.recovery_bar import RecoveryBar

            bar = RecoveryBar(found)
            bar.wanted.connect(self._reopen)
            bar.unwanted.connect(self._give_up)
            self._bars.addWidget(bar)

    def _reopen(self, items: list[Recovered]) -> None:
        """Open work that was left behind; what cannot be opened stays where it is."""
        for item in items:
            try:
                document = file.read(item.path)
                self.session.add(document, item.original, recovered=True, stamp=item.stamp)
            except WattagonError as refusal:
                self.session.told.emit(str(refusal), True)
                continue
            self.session.autosave()  # under this run's name, before the old one goes
            if self.session.doc.kept is not None:
                self._give_up([item])

    def _give_up(self, items: list[Recovered]) -> None:
        if self.recovery is not None:
            for item in items:
                self.recovery.forget(item)
