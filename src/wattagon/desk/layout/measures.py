"""Measures of a layout that stand in no other place: plate, free shaft, deck's give, cranks, swinging arm; typed with any unit."""

from __future__ import annotations

from dataclasses import fields, replace
from functools import partial
from typing import Any, NamedTuple

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QWidget

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known, Quantity, Spec
from wattagon.design.tree import Layout, Spot, VehicleKind
from wattagon.desk.fields import refuse
from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.exchange.units import parse
from wattagon.study.layout.edits import with_layout
from wattagon.study.layout.gaps import FLAT
from wattagon.study.layout.place import PLATE_M, PULLEY_GAP_M, usual_crank


class Asked(NamedTuple):
    """One measure: its path in the layout, words, and on which vehicles it is asked for."""

    path: str
    words: str
    on: str  # drive, deck, pedals, arm


ASKED = (
    Asked("plate", "motor plate", "drive"),
    Asked("pulley_gap", "plate to pulley", "drive"),
    Asked("beside", "belt from middle", "single"),
    Asked("flex", "give of the deck", "deck"),
    Asked("tread", "pedal tread", "pedals"),
    Asked("crank_length", "crank", "pedals"),
    Asked("crank.x", "crank axis ahead", "pedals"),
    Asked("crank.z", "crank axis up", "pedals"),
    Asked("pivot.x", "pivot ahead", "arm"),
    Asked("pivot.z", "pivot up", "arm"),
    Asked("travel", "travel of the axle", "arm"),
)


class LayoutMeasures(QWidget):
    """Their fields in two columns; those that this vehicle does not have are hidden."""

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing = session, drawing
        self.fields: dict[str, tuple[QLabel, QLineEdit]] = {}
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setSpacing(4)
        for column in (1, 3):
            self._grid.setColumnStretch(column, 1)
        for asked in ASKED:
            label, field = QLabel(asked.words), QLineEdit(objectName=f"layout-{asked.path}")
            label.setProperty("voice", "soft")
            label.setBuddy(field)
            field.setAccessibleName(asked.words)
            field.setMinimumWidth(54)
            field.editingFinished.connect(partial(self._commit, asked))
            self.fields[asked.path] = label, field

    def _wanted(self) -> list[Asked]:
        if not self._session.docs:
            return []
        vehicle = self._session.design.vehicle
        if vehicle.kind.floats:
            return []
        have = {"drive"}
        have |= {"deck"} if vehicle.kind in FLAT else set()
        have |= {"pedals"} if KINDS[vehicle.kind].pedals else set()
        have |= {"single"} if vehicle.axle_wheels == 1 else set()
        have |= {"arm"} if vehicle.kind is VehicleKind.SUSPENDED_BIKE or self._drawing.layout_now().pivot is not None else set()
        return [asked for asked in ASKED if asked.on in have]

    def refresh(self) -> None:
        """Values of the design in front."""
        wanted = self._wanted()
        for label, field in self.fields.values():
            self._grid.removeWidget(label)
            self._grid.removeWidget(field)
            label.hide()
            field.hide()
        for k, asked in enumerate(wanted):
            label, field = self.fields[asked.path]
            self._grid.addWidget(label, k // 2, 2 * (k % 2))
            self._grid.addWidget(field, k // 2, 2 * (k % 2) + 1)
            label.show()
            field.show()
            if not (field.hasFocus() and field.isModified()):
                self._show(asked, field)

    def _show(self, asked: Asked, field: QLineEdit) -> None:
        value = self._value(asked)
        usual = {"plate": PLATE_M, "pulley_gap": PULLEY_GAP_M, "crank_length": 0.170}
        if asked.path in ("crank.x", "crank.z") and self._session.docs:
            usual[asked.path] = usual_crank(self._session.design.vehicle)[0 if asked.path == "crank.x" else 1]
        field.setText(self._session.say(value.value, "length") if value is not None else "")
        field.setPlaceholderText(self._session.say(round(usual[asked.path], 4), "length") if asked.path in usual else "not told")
        field.setModified(False)
        refuse(field, False)

    def _value(self, asked: Asked) -> Quantity | None:
        first, _, last = asked.path.partition(".")
        held = getattr(self._drawing.layout_now(), first)
        found: Quantity | None = getattr(held, last) if last and held is not None else None if last else held
        return found

    def _commit(self, asked: Asked) -> None:
        _, field = self.fields[asked.path]
        if not field.isModified() or not self._session.docs:
            return
        field.setModified(False)
        text, layout = field.text().strip(), self._drawing.layout_now()
        try:
            first, _, last = asked.path.partition(".")
            value = None
            if text:
                metres = parse(text, "length", self._session.unit_set, field=asked.words)
                of: Spec = next(item for item in fields(Spot if last else Layout) if item.name == (last or first)).metadata["spec"]
                of.check(asked.words, metres)
                value = Quantity(value=metres, known=Known.MEASURED, tolerance=0.001)
            told: Any = self._spot(layout, first, last, value) if last else value
            label = f"{asked.words[0].upper()}{asked.words[1:]} {text or 'not told'}"
            self._session.apply(with_layout(self._session.design, replace(layout, **{first: told}), label))
        except WattagonError as refusal:
            refuse(field, True)
            self._session.told.emit(str(refusal), True)

    @staticmethod
    def _spot(layout: Layout, first: str, last: str, value: Quantity | None) -> Spot | None:
        """A place with one of its coordinates told; without one it is no place."""
        if value is None:
            return None
        old: Spot = getattr(layout, first) or Spot(x=Quantity(value=0.0), z=Quantity(value=0.0))
        changed: dict[str, Any] = {last: value}
        return replace(old, **changed)
