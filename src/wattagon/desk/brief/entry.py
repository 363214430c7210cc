"""One entry of the history, asked for."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSize
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.tree import BuildPart, Entry, EntryKind, Incident
from wattagon.design.tree.history import MOST_PICTURES, check_day
from wattagon.desk.brief.pictures import kept_picture
from wattagon.desk.session import Session
from wattagon.errors import InputError, WattagonError
from wattagon.exchange import units
from wattagon.study.history.facts import CAUTION, STRESSED, TESTS
from wattagon.study.history.study import suspects

REPLACES = (EntryKind.REPAIR, EntryKind.CHANGE)


class EntryDialog(QDialog):
    """Date, words, parts, use so far, and what belongs to its kind; `made` is the entry once it was taken."""

    def __init__(self, session: Session, entry: Entry, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._entry = session, entry
        self.made: Entry | None = None
        self.removed = False
        self.setWindowTitle(f"{entry.kind.value.replace('_', ' ').capitalize()} of {session.design.vehicle.name}")
        self.setObjectName("entry")
        self.setMinimumWidth(440)
        form = QFormLayout()
        self.date = QLineEdit(entry.date, objectName="entry-date")
        self.text = QLineEdit(entry.text, objectName="entry-text")
        self.text.setPlaceholderText("what happened, in a few words")
        form.addRow("Day", self.date)
        form.addRow("Words", self.text)
        self.incident = QComboBox(objectName="entry-incident")
        if entry.kind is EntryKind.INCIDENT:
            for kind in Incident:
                self.incident.addItem(kind.value, kind)
            self.incident.setCurrentIndex(self.incident.findData(entry.incident))
            self.incident.currentIndexChanged.connect(self._stressed)
            form.addRow("What", self.incident)
        self.parts = {part: QCheckBox(part.value, objectName=f"on-{part.value}") for part in BuildPart}
        grid = QGridLayout()
        for k, (part, box) in enumerate(self.parts.items()):
            box.setChecked(part in (entry.replaced or entry.on))
            grid.addWidget(box, k // 4, k % 4)
        form.addRow("Replaced" if entry.kind in REPLACES else "On", grid)
        self.hours = QLineEdit("" if entry.hours is None else f"{entry.hours:g}", objectName="entry-hours")
        self.hours.setPlaceholderText("hours of use so far")
        self.distance = QLineEdit("" if entry.distance is None else session.say(entry.distance, "distance"), objectName="entry-distance")
        self.distance.setPlaceholderText("distance so far, such as 350 km")
        form.addRow("Use", self.hours)
        form.addRow("", self.distance)
        self.again = QLineEdit("" if entry.again_days is None else f"{entry.again_days}", objectName="entry-again")
        self.again.setPlaceholderText("days until it is to be done again")
        self.again_distance = QLineEdit(
            "" if entry.again_distance is None else session.say(entry.again_distance, "distance"), objectName="entry-again-distance"
        )
        self.again_distance.setPlaceholderText("or a distance, such as 300 km")
        form.addRow("Again after", self.again)
        form.addRow("", self.again_distance)
        self.clears: dict[str, QCheckBox] = {}
        if entry.kind in TESTS:
            for suspect in suspects(session.design.history):
                if suspect.entry.id not in self.clears:
                    words = f"the {suspect.incident} of {suspect.entry.date}"
                    box = QCheckBox(words, objectName=f"clears-{suspect.entry.id}")
                    box.setChecked(suspect.entry.id in entry.clears)
                    self.clears[suspect.entry.id] = box
                    form.addRow("Passed, clears" if len(self.clears) == 1 else "", box)
        self.pictures = list(entry.pictures)
        self._added: dict[str, bytes] = {}
        self._strip = QHBoxLayout()
        self._strip.setSpacing(4)
        bring = QPushButton("Bring in", objectName="add-picture")
        bring.clicked.connect(self._choose_picture)
        self._strip.addWidget(bring)
        self._strip.addStretch(1)
        form.addRow("Pictures", self._strip)
        for name in self.pictures:
            self._show(name, session.doc.members.get(name, b""))
        self.note = QLabel(wordWrap=True, objectName="entry-note")
        self.note.setProperty("voice", "soft")
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        buttons.accepted.connect(self.take)
        buttons.rejected.connect(self.reject)
        if any(one.id == entry.id for one in session.design.history):
            remove = QPushButton("Take it out", objectName="remove-entry")
            remove.clicked.connect(self._remove)
            buttons.addButton(remove, QDialogButtonBox.ButtonRole.DestructiveRole)
        layout = QVBoxLayout(self)
        layout.addLayout(form)
        layout.addWidget(self.note)
        layout.addWidget(buttons)
        self.text.setFocus()
        self._stressed()

    def _stressed(self) -> None:
        """What an incident makes suspect, and the caution that belongs to it."""
        kind = self.incident.currentData()
        if kind is None:
            return
        stress = STRESSED[kind]
        words = f"Makes suspect: {', '.join(one.part for one in stress)}, until a test clears each or it is replaced."
        caution = CAUTION.get(kind)
        self.note.setText(f"{words} {caution}" if caution else words)

    def _choose_picture(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A picture for this entry", "", "Pictures (*.png *.jpg *.jpeg *.bmp *.webp)")
        if name:
            self.add_picture(Path(name))

    def add_picture(self, path: Path) -> None:
        """Keep a picture with the entry; a refusal is told."""
        try:
            if len(self.pictures) >= MOST_PICTURES:
                raise InputError("pictures", len(self.pictures) + 1, f"up to {MOST_PICTURES} in an entry")
            name, made = kept_picture(path)
        except WattagonError as refusal:
            self.note.setText(str(refusal))
            return
        if name not in self.pictures:
            self.pictures.append(name)
            self._added[name] = made
            self._show(name, made)

    def _show(self, name: str, raw: bytes) -> None:
        """A small view of a picture; a click leaves it out."""
        button = QToolButton(objectName=name, autoRaise=True)
        pixmap = QPixmap()
        if pixmap.loadFromData(raw):
            button.setIcon(pixmap)
            button.setIconSize(QSize(64, 48))
        else:
            button.setText("missing")
        button.setToolTip("Click to leave this picture out")
        button.setAccessibleName("Picture, click to leave it out")
        button.clicked.connect(lambda _on=False: self._leave_out(name, button))
        self._strip.insertWidget(self._strip.count() - 2, button)

    def _leave_out(self, name: str, button: QToolButton) -> None:
        self.pictures.remove(name)
        self._added.pop(name, None)
        button.setVisible(False)

    def take(self) -> None:
        """The entry as it was typed; what cannot be read is told and nothing is lost."""
        try:
            self.made = self._typed()
        except WattagonError as refusal:
            self.note.setText(str(refusal))
            return
        self._session.doc.members = {**self._session.doc.members, **self._added}
        self.accept()

    def _typed(self) -> Entry:
        on = tuple(part for part, box in self.parts.items() if box.isChecked())
        replaces = self._entry.kind in REPLACES
        number = lambda field, name, dimension: (
            units.parse(field.text(), dimension, self._session.unit_set, field=name) if field.text().strip() else None
        )
        check_day(self.date.text().strip(), "Day")
        again = self.again.text().strip()
        return replace(
            self._entry,
            date=self.date.text().strip(),
            text=self.text.text().strip(),
            incident=self.incident.currentData() if self._entry.kind is EntryKind.INCIDENT else self._entry.incident,
            on=() if replaces else on,
            replaced=on if replaces else self._entry.replaced,
            hours=number(self.hours, "Hours of use", "number"),
            distance=number(self.distance, "Distance so far", "distance"),
            again_days=units.whole(again, "count", "Again after days") if again else None,
            again_distance=number(self.again_distance, "Again after", "distance"),
            pictures=tuple(self.pictures),
            clears=tuple(ident for ident, box in self.clears.items() if box.isChecked()) or self._entry.clears,
        )

    def _remove(self) -> None:
        self.removed = True
        self.accept()
