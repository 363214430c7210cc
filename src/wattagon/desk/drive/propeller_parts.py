"""The propeller in the parts panel: which one, where it works, what is known better of it, and its dock test."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from PySide6.QtWidgets import QFormLayout, QLineEdit, QPushButton, QVBoxLayout

from wattagon.design.carried import with_carrier
from wattagon.design.fitted import fitted
from wattagon.design.parts import CarrierPart, PropellerPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Cooling, DockRow, OpenWaterRow, Place, PropellerChoice
from wattagon.desk.fields import ChoiceField
from wattagon.desk.picker import pick
from wattagon.desk.rows_field import RowsField
from wattagon.desk.session import Session
from wattagon.errors import InputError
from wattagon.exchange import units
from wattagon.exchange.propeller_size import ACCEPTED, propeller_size
from wattagon.study.resolve.boat import MADE_FOR, WET

if TYPE_CHECKING:
    from wattagon.desk.drive.parts_panel import PartsPanel

PLACES = {
    Place.POD: "pod under the hull",
    Place.LEG: "leg at the transom",
    Place.LONG_TAIL: "long tail",
    Place.SHAFT: "shaft through the hull",
    Place.SKEG: "behind a thick skeg",
    Place.RUDDER: "behind a kayak's rudder",
}
SHAPE = (("diameter_m", "Diameter"), ("pitch_m", "Pitch"), ("area_ratio", "Blade area ratio"), ("hub_ratio", "Hub over diameter"))
WORKING = (
    ("wake", "Wake"),
    ("deduction", "Thrust lost on the hull"),
    ("seal", "Drag of the seals"),
    ("tilt", "Shaft to the way"),
    ("thrust_factor", "Thrust by dock test"),
    ("torque_factor", "Torque by dock test"),
)
CLAMPED = (("made_for", "Made for a transom of"), ("wedge", "Wedge under its clamp"))
CANS = {False: "sealed in its pod", True: "turns in the water"}
SHAFT = (("shaft_diameter", "Shaft"), ("shaft_span", "Between its bearings"), ("thrust_rating", "Thrust bearing, C0"))
COOLINGS = {Cooling.PLACED: "as placed", Cooling.PUMP: "the leg's own pump", Cooling.LOOP: "closed loop, own pump"}
TAIL = (("tail_length", "Length of the tail"), ("pivot_height", "Pivot above water"))
DOCK_WORDS = "Level rope to a strong point, steps of throttle,\nwater three diameters deep.\nPeople clear of rope and propeller."
DOCK = (("pull", "pull", "force"), ("volts", "pack", "voltage"), ("amps", "pack", "current"), ("rpm", "rpm", "rpm"))

OPEN_WATER_WORDS = "Its own coefficients, four rows or more;\nwithout them its shape gives them."
OPEN_WATER = (("advance", "J", "number"), ("thrust", "K_T", "number"), ("torque", "K_Q", "number"))


class SizeField(QLineEdit):
    """Diameter and pitch in one line, as they stand on the hub: both are typed together."""

    def __init__(self, session: Session, part: PropellerPart | None) -> None:
        super().__init__()
        self._session, self._part = session, part
        self.setObjectName("propeller-size")
        self.setAccessibleName("Size, diameter by pitch")
        self.setToolTip(f"As it stands on the hub: {ACCEPTED}")
        self.setMinimumWidth(58)
        self.editingFinished.connect(self._typed)
        session.design_changed.connect(self.show_value)
        session.looks_changed.connect(self.show_value)
        self.show_value()

    def show_value(self) -> None:
        """The size that the design has, in the user's unit."""
        choice = self._session.design.variant().propeller if self._session.docs else None
        if choice is None or self._part is None or self.isModified():
            return
        now = fitted(self._part, choice)
        size = now.diameter_m, now.pitch_m
        self.setText(f"{units.number_text(size[0], 'length', self._session.unit_set)} × {self._session.say(size[1], 'length')}")

    def _typed(self) -> None:
        if not self.isModified():
            return
        try:
            size = propeller_size(self.text(), "Size")
        except InputError as refusal:
            self._session.told.emit(str(refusal), True)
            return
        made = tuple(
            (f"variant.propeller.overrides.{name}", Quantity(value=value, known=Known.STATED))
            for name, value in zip(("diameter_m", "pitch_m"), size, strict=True)
        )
        self.setModified(False)
        self._session.try_apply(Edit(label=f"Propeller {self.text().strip()}", changes=made))
        self.show_value()


def propeller_section(panel: PartsPanel, layout: QVBoxLayout, session: Session, choice: PropellerChoice) -> None:
    """Fill the form; it follows values by itself."""
    form = panel.section(layout, "propeller", "Propeller")
    rows = session.stock.rows(PropellerPart)
    part = session.stock.get(PropellerPart, choice.part) if choice.part in rows else None
    panel.pick_row(form, part.name if part else choice.part, "propeller")
    form.addRow(panel.soft("Size"), SizeField(session, part))
    panel.fields(form, "variant.propeller", SHAPE, part)
    _choice(panel, form, session, ("place", "Where"), "Where it works", PLACES)
    if choice.place in WET:
        _choice(panel, form, session, ("flooded", "Motor's can"), "Motor's can", CANS)
    panel.fields(form, "variant.propeller", WORKING + (TAIL if choice.place is Place.LONG_TAIL else ()))
    _choice(panel, form, session, ("cooling", "Motor cooled"), "Cooling of the motor", COOLINGS)
    if choice.cooling is not Cooling.PLACED:
        pump = (("pump_w", "Its pump"),) if choice.cooling is Cooling.LOOP else ()
        panel.fields(form, "variant.propeller", (("cooling_w_per_k", "Heat into water, W/K"), *pump))
    form = panel.section(layout, "shaft", "Leg, tube and shaft")
    carriers = session.stock.rows(CarrierPart)
    name = carriers[choice.carrier].name if choice.carrier in carriers else choice.carrier or "of your own making"
    panel.pick_row(form, name, "carrier")
    panel.fields(form, "variant.propeller", SHAFT + (CLAMPED if choice.place in MADE_FOR else ()))
    if choice.carrier:
        own = QPushButton("Of my own making", objectName="own-carrier")
        own.setProperty("flat", True)
        own.setToolTip("Neither weighed nor paid for; its measures stay")
        own.clicked.connect(
            lambda: session.try_apply(Edit(label="Leg or shaft of one's own making", changes=(("variant.propeller.carrier", ""),)))
        )
        form.addRow(own)
    form = panel.section(layout, "dock", "Dock test")
    form.addRow(panel.soft(DOCK_WORDS))
    form.addRow(RowsField(session, "variant.propeller.dock", DockRow, DOCK, "Dock test"))
    form = panel.section(layout, "open-water", "Open water")
    form.addRow(panel.soft(OPEN_WATER_WORDS))
    form.addRow(RowsField(session, "variant.propeller.open_water", OpenWaterRow, OPEN_WATER, "Open water"))


def _choice(panel: PartsPanel, form: QFormLayout, session: Session, named: tuple[str, str], label: str, words: Mapping[Any, str]) -> None:
    name, short = named
    field = ChoiceField(session, f"variant.propeller.{name}", label, list(words.items()))
    field.setMinimumWidth(58)
    form.addRow(panel.soft(short), field)


def pick_carrier(session: Session, panel: PartsPanel) -> None:
    """A leg or a shaft kit from stock: its shaft, bearings, seals and gear become those of the design."""
    choice = session.design.variant().propeller
    if choice is None:
        return
    part = pick(session, CarrierPart, choice.carrier, panel)
    if isinstance(part, CarrierPart):
        session.try_apply(with_carrier(session.design.variant(), part))


def pick_propeller(session: Session, panel: PartsPanel) -> None:
    """Another propeller from stock; what was measured of the old one goes with it."""
    choice = session.design.variant().propeller
    part = pick(session, PropellerPart, choice.part if choice is not None else "", panel)
    if part is None or (choice is not None and part.id == choice.part):
        return
    fresh = choice.other(part.id) if choice is not None else PropellerChoice(part=part.id)
    session.try_apply(Edit(label=part.name, changes=(("variant.propeller", fresh),)))
