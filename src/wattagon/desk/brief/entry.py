"""One entry of the history, asked for."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QGridLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.tree import BuildPart, Entry, EntryKind, Incident
from wattagon.design.tree.history import check_day
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
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

    def take(self) -> None:
        """The entry as it was typed; what cannot be read is told and nothing is lost."""
        try:
            self.made = self._typed()
        except WattagonError as refusal:
            self.note.setText(str(refusal))
            return
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
            clears=tuple(ident for ident, box in self.clears.items() if box.isChecked()) or self._entry.clears,
        )

    def _remove(self) -> None:
        self.removed = True
        self.accept()
