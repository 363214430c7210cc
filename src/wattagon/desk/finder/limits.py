"""What may be used and how much room is to be left: the constraints of a search beside the goals, each where it can be changed."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.kinds import KINDS
from wattagon.design.parts import Part, PropellerPart, ToothedPart, WheelPart
from wattagon.desk.fields import refuse
from wattagon.desk.finder.book import FinderBook
from wattagon.desk.picker import pick
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import WattagonError
from wattagon.exchange import units
from wattagon.exchange.dates import days_until
from wattagon.study.finder.wishes import SCHOOLS, USABLE_KINDS, Wishes, check_wishes

SHELF = (("prefer", "Shelf is free"), ("use", "Shelf must be used"), ("only", "Nothing is bought"), ("ignore", "All at their price"))
SCHOOL_WORDS = {"direct": "hub", "belt": "belt", "chain": "chain", "two": "two", "middle": "crank"}
SCHOOL_TIPS = {
    "direct": "Hub motors and direct drive",
    "two": "Two stages over a jackshaft",
    "middle": "A motor on the crank, through the bike's own gears",
}
# field of Wishes: label, dimension, what an empty field means
FIELDS = {
    "climb_time": ("Climb lasts", "time", "usual"),
    "ground_gap": ("Pulley to ground", "length", "usual"),
    "least_driver": ("Driver teeth from", "teeth", "stock"),
    "most_driven": ("Driven teeth to", "teeth", "stock"),
    "goals": ("Goals beaten by", "share", ""),
    "volts": ("Room on volts", "share", ""),
    "amps": ("Room on amps", "share", ""),
    "rpm": ("Room on rpm", "share", ""),
    "pull": ("Room on belt, chain", "share", ""),
}

ON_WHEELS = ("climb_time", "ground_gap", "least_driver", "most_driven")


class Limits(QWidget):
    """Fields of the wishes; they count from the next search."""

    def __init__(self, session: Session, book: FinderBook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._book = session, book
        self.setObjectName("finder-limits")
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(2, 2, 8, 2)
        column.setSpacing(5)
        self.shelf = QComboBox(objectName="finder-shelf")
        self.shelf.setAccessibleName("What is owned")
        for code, words in SHELF:
            self.shelf.addItem(words, code)
        self.shelf.activated.connect(lambda index: self._ask(shelf=str(self.shelf.itemData(index))))
        column.addWidget(self.shelf)
        column.addLayout(self._schools())
        self.wheels = QPushButton("Other wheels too", checkable=True, objectName="finder-wheels")
        self.wheels.setToolTip("Try the other wheels of the family as well: takes as many times as long")
        self.wheels.clicked.connect(lambda on: self._ask(wheels=on))
        column.addWidget(self.wheels)
        column.addLayout(self._fields())
        column.addWidget(self._parts())
        column.addStretch(1)
        area = QScrollArea(widgetResizable=True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        ground = QWidget()
        area.setViewport(ground)
        area.setWidget(inner)
        ground.setAutoFillBackground(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(area)
        book.changed.connect(self.show_wishes)
        session.looks_changed.connect(self.show_wishes)
        self.show_wishes()

    def _schools(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(3)
        self.schools: dict[str, QPushButton] = {}
        for code in SCHOOLS:
            button = QPushButton(SCHOOL_WORDS[code], checkable=True, objectName=f"finder-school-{code}")
            button.setProperty("size", "small")
            button.setFont(font(12))
            button.setToolTip(SCHOOL_TIPS.get(code, f"{code.capitalize()} drives"))
            button.setAccessibleName(SCHOOL_TIPS.get(code, f"{code.capitalize()} drives"))
            button.clicked.connect(self._schools_chosen)
            self.schools[code] = button
            row.addWidget(button)
        return row

    def _fields(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(4)
        grid.setVerticalSpacing(3)
        self.fields: dict[str, QLineEdit] = {}
        self.labels: dict[str, QLabel] = {}
        rows: list[tuple[str, str, str]] = [
            ("within", "Arrives by", "any day"),
            *((name, label, empty) for name, (label, _, empty) in FIELDS.items()),
        ]
        for k, (name, label, empty) in enumerate(rows):
            words = QLabel(label)
            words.setFont(font(12))
            field = QLineEdit(objectName=f"finder-{name}")
            field.setAccessibleName(label)
            field.setPlaceholderText(empty)
            field.setFixedWidth(80)
            field.editingFinished.connect(lambda name=name: self._typed(name))
            self.labels[name] = words
            grid.addWidget(words, k, 0)
            grid.addWidget(field, k, 1)
            self.fields[name] = field
        self.fields["within"].setToolTip("A date such as 2027-03-01, or days such as 14; what is on the shelf is there already")
        self.fields["climb_time"].setToolTip(
            "How long the first climb lasts before the winding is too hot; 0 for never mind; usual is as "
            "long as the courses climb, else 10 min"
        )
        self.fields["ground_gap"].setToolTip("From the driven pulley down to the ground; usual is 10 mm, 25 mm on rough ground")
        grid.setColumnStretch(0, 1)
        return grid

    def _parts(self) -> QWidget:
        box = QWidget()
        column = QVBoxLayout(box)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(3)
        self.kept = QLabel(wordWrap=True)
        self.kept.setFont(font(12))
        column.addWidget(self.kept)
        row = QHBoxLayout()
        row.setSpacing(3)
        self.adders: dict[str, QPushButton] = {}
        for name, words in (("use", "must use"), ("without", "leave out")):
            button = QPushButton(f"+ {words}", objectName=f"finder-{name}")
            button.setProperty("size", "small")
            button.clicked.connect(lambda _=False, name=name: self._pick(name))
            self.adders[name] = button
            row.addWidget(button)
        self.forget = QPushButton("forget", objectName="finder-forget")
        self.forget.setProperty("size", "small")
        self.forget.setToolTip("No part must be used, none is left out")
        self.forget.clicked.connect(lambda: self._ask(use=(), without=()))
        row.addWidget(self.forget)
        column.addLayout(row)
        return box

    # asking

    def _ask(self, **changes: Any) -> bool:
        wishes = replace(self._book.wishes, **changes)
        try:
            check_wishes(wishes, self._session.stock)
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            self.show_wishes()
            return False
        self._book.ask(wishes)
        return True

    def _schools_chosen(self) -> None:
        self._ask(schools=tuple(code for code, button in self.schools.items() if button.isChecked() and not button.isHidden()))

    def _typed(self, name: str) -> None:
        field = self.fields[name]
        if not field.isModified():
            return
        try:
            changes = (
                {"within_days": days_until(field.text(), "Arrives by") if field.text().strip() else None}
                if name == "within"
                else {name: self._read(name, field.text())}
            )
            check_wishes(replace(self._book.wishes, **changes), self._session.stock)
        except WattagonError as refusal:
            refuse(field, True)
            self._session.told.emit(str(refusal), True)
            return
        field.setModified(False)
        refuse(field, False)
        self._ask(**changes)
        self.show_wishes()

    def _read(self, name: str, text: str) -> float | int | None:
        label, dimension, _ = FIELDS[name]
        default = getattr(Wishes(), name)
        if not text.strip():
            return default
        if dimension == "teeth":
            return units.whole(text, "teeth", label)
        if dimension == "time" and not text.strip()[-1].isalpha():
            text = f"{text} min"  # a bare number is minutes, as the field shows them
        return units.parse(text, dimension, self._session.unit_set, field=label)

    def _pick(self, name: str) -> None:
        """Which kind of part first, then the part itself."""
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        other = (WheelPart, ToothedPart) if self._session.design.vehicle.kind.floats else (PropellerPart,)
        for kind in (kind for kind in USABLE_KINDS if kind not in other):
            menu.addAction(kind.one, partial(self.add, name, kind))
        menu.popup(self.adders[name].mapToGlobal(self.adders[name].rect().bottomLeft()))

    def add(self, name: str, kind: type[Part]) -> None:
        """One more part that must be used, or is left out."""
        part = pick(self._session, kind, "", self)
        if part is not None:
            self._ask(**{name: tuple(dict.fromkeys((*getattr(self._book.wishes, name), part.id)))})

    # showing

    def show_wishes(self) -> None:
        """All fields as the wishes are."""
        wishes, say = self._book.wishes, self._session.say
        with QSignalBlocker(self.shelf):
            self.shelf.setCurrentIndex([code for code, _ in SHELF].index(wishes.shelf))
        for code, button in self.schools.items():
            button.setChecked(code in wishes.schools)
        self._show_kind()
        self.wheels.setChecked(wishes.wheels)
        for name, field in self.fields.items():
            if field.hasFocus() and field.isModified():
                continue
            if name == "within":
                days = wishes.within_days
                text = "" if days is None else (datetime.date.today() + datetime.timedelta(days=days)).isoformat()
            else:
                value, dimension = getattr(wishes, name), FIELDS[name][1]
                text = "" if value is None else str(value) if dimension == "teeth" else say(float(value), dimension)
            field.setText(text)
            field.setCursorPosition(0)
            refuse(field, False)
        self.kept.setText(self._kept_words())
        self.kept.setVisible(bool(wishes.use or wishes.without))
        self.forget.setVisible(bool(wishes.use or wishes.without))

    def _show_kind(self) -> None:
        """Only what has a meaning for the vehicle: a boat has no teeth near the ground, and no climb."""
        kind = self._session.design.vehicle.kind
        for code, button in self.schools.items():
            button.setVisible(not kind.floats and (code != "middle" or KINDS[kind].pedals))
        self.wheels.setVisible(not kind.floats)
        for name in ON_WHEELS:
            self.fields[name].setVisible(not kind.floats)
            self.labels[name].setVisible(not kind.floats)

    def _kept_words(self) -> str:
        names: Callable[[tuple[str, ...]], str] = lambda ids: ", ".join(self._name(part_id) for part_id in ids)
        wishes, told = self._book.wishes, []
        if wishes.use:
            told.append(f"Must use: {names(wishes.use)}.")
        if wishes.without:
            told.append(f"Without: {names(wishes.without)}.")
        return " ".join(told)

    def _name(self, part_id: str) -> str:
        part = self._session.stock.find(part_id)
        return part.name if part is not None else part_id
