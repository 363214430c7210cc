"""The propeller in the parts panel: which one, where it works, what is known better of it, and its dock test."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QVBoxLayout

from wattagon.design.parts import PropellerPart
from wattagon.design.paths import Edit
from wattagon.design.tree import Cooling, DockRow, OpenWaterRow, Place, PropellerChoice
from wattagon.desk.fields import ChoiceField
from wattagon.desk.picker import pick
from wattagon.desk.rows_field import RowsField
from wattagon.desk.session import Session

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
SHAFT = (("shaft_diameter", "Shaft"), ("shaft_span", "Between its bearings"), ("thrust_rating", "Thrust bearing, C0"))
COOLINGS = {Cooling.PLACED: "as placed", Cooling.PUMP: "the leg's own pump", Cooling.LOOP: "closed loop, own pump"}
TAIL = (("tail_length", "Length of the tail"), ("pivot_height", "Pivot above water"))
DOCK_WORDS = "Level rope to a strong point, steps of throttle,\nwater three diameters deep.\nPeople clear of rope and propeller."
DOCK = (("pull", "pull", "force"), ("volts", "pack", "voltage"), ("amps", "pack", "current"), ("rpm", "rpm", "rpm"))

OPEN_WATER_WORDS = "Its own coefficients, four rows or more;\nwithout them its shape gives them."
OPEN_WATER = (("advance", "J", "number"), ("thrust", "K_T", "number"), ("torque", "K_Q", "number"))


def propeller_section(panel: PartsPanel, layout: QVBoxLayout, session: Session, choice: PropellerChoice) -> None:
    """Fill the form; it follows values by itself."""
    form = panel.section(layout, "propeller", "Propeller")
    rows = session.stock.rows(PropellerPart)
    part = session.stock.get(PropellerPart, choice.part) if choice.part in rows else None
    panel.pick_row(form, part.name if part else choice.part, "propeller")
    place = ChoiceField(session, "variant.propeller.place", "Where it works", list(PLACES.items()))
    place.setMinimumWidth(58)
    form.addRow(panel.soft("Where"), place)
    panel.fields(form, "variant.propeller", SHAPE, part)
    panel.fields(form, "variant.propeller", WORKING + (TAIL if choice.place is Place.LONG_TAIL else ()) + SHAFT)
    cooling = ChoiceField(session, "variant.propeller.cooling", "Cooling of the motor", list(COOLINGS.items()))
    cooling.setMinimumWidth(58)
    form.addRow(panel.soft("Motor cooled"), cooling)
    if choice.cooling is not Cooling.PLACED:
        pump = (("pump_w", "Its pump"),) if choice.cooling is Cooling.LOOP else ()
        panel.fields(form, "variant.propeller", (("cooling_w_per_k", "Heat into water, W/K"), *pump))
    form = panel.section(layout, "dock", "Dock test")
    form.addRow(panel.soft(DOCK_WORDS))
    form.addRow(RowsField(session, "variant.propeller.dock", DockRow, DOCK, "Dock test"))
    form = panel.section(layout, "open-water", "Open water")
    form.addRow(panel.soft(OPEN_WATER_WORDS))
    form.addRow(RowsField(session, "variant.propeller.open_water", OpenWaterRow, OPEN_WATER, "Open water"))


def pick_propeller(session: Session, panel: PartsPanel) -> None:
    """Another propeller from stock; what was measured of the old one goes with it."""
    choice = session.design.variant().propeller
    part = pick(session, PropellerPart, choice.part if choice is not None else "", panel)
    if part is None or (choice is not None and part.id == choice.part):
        return
    fresh = choice.other(part.id) if choice is not None else PropellerChoice(part=part.id)
    session.try_apply(Edit(label=part.name, changes=(("variant.propeller", fresh),)))
