"""How a boat of a design lies in the water: draught, trim, freeboard, and what moving its load makes of them."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

from wattagon.design.boats import BOATS
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Vehicle
from wattagon.errors import InputError
from wattagon.physics.water.afloat import Afloat, afloat, level_draught_m

WATER_KG_M3 = 1000.0  # near enough for how deep it lies


class Lying(NamedTuple):
    """Where weight, load and crew sit ahead of the transom, sides [m], how it floats, freeboard aft and ahead; what is only typical."""

    weight_m: float
    load_m: float
    crew_m: float
    depth_m: float
    floats: Afloat
    aft_m: float
    ahead_m: float
    assumed: bool  # where the weight sits or how high its sides are is not known


def laden_draught_m(vehicle: Vehicle) -> float:
    """How deep a boat floats level with crew, load and its own mass, without a drive.  Raises InputError for a vehicle on wheels."""
    hull = vehicle.hull
    if hull is None:
        raise InputError("vehicle.kind", "on wheels", "a boat")
    facts = BOATS[vehicle.kind]
    volume = (vehicle.empty_mass.value + vehicle.rider_mass.value + vehicle.load_mass.value) / WATER_KG_M3
    return float(level_draught_m(volume, hull.waterline_length.value, hull.waterline_beam.value, facts.fullness, facts.hulls))


def lying(design: Design, mass_kg: float) -> Lying:
    """A boat at rest under its usual load.  Raises InputError for a vehicle on wheels."""
    hull, vehicle = design.vehicle.hull, design.vehicle
    if hull is None:
        raise InputError("vehicle.kind", "on wheels", "a boat")
    facts = BOATS[vehicle.kind]
    length, beam, volume = hull.waterline_length.value, hull.waterline_beam.value, mass_kg / WATER_KG_M3
    weight = hull.weight_forward.value if hull.weight_forward is not None else facts.forward * length
    draught = hull.draught.value if hull.draught is not None else float(level_draught_m(volume, length, beam, facts.fullness, facts.hulls))
    depth = hull.transom_height.value if hull.transom_height is not None else facts.depth
    found = afloat(
        volume_m3=volume,
        length_m=length,
        beam_m=beam,
        draught_m=draught,
        weight_forward_m=weight,
        level_forward_m=facts.level * length,
        hulls=facts.hulls,
    )
    known = (hull.weight_forward, hull.transom_height, hull.draught)
    return Lying(
        weight_m=weight,
        load_m=hull.load_forward.value if hull.load_forward is not None else weight,
        crew_m=hull.crew_forward.value if hull.crew_forward is not None else weight,
        depth_m=depth,
        floats=found,
        aft_m=depth - float(found.aft_m),
        ahead_m=depth - float(found.fore_m),
        assumed=any(one is None or one.known is Known.ASSUMED for one in known),
    )


MOVES = {"load": ("load_mass", "load_forward", "Load moved"), "crew": ("rider_mass", "crew_forward", "Crew moved")}


def weight_moved(design: Design, mass_kg: float, what: str, to_m: float, gesture: int) -> Edit:
    """Load or crew moved to a place ahead of the transom: the weight of all moves along by its share of the mass."""
    hull, lies = design.vehicle.hull, lying(design, mass_kg)
    assert hull is not None
    mass, place, label = MOVES[what]
    was = lies.load_m if what == "load" else lies.crew_m
    weight = lies.weight_m + getattr(design.vehicle, mass).value / mass_kg * (to_m - was)
    before = hull.weight_forward
    known = Known.ASSUMED if before is None or before.known is Known.ASSUMED else Known.COMPUTED
    changes: tuple[tuple[str, object], ...] = (
        (f"vehicle.hull.{place}", _moved(getattr(hull, place), to_m, Known.STATED)),
        ("vehicle.hull.weight_forward", _moved(before, weight, known)),
    )
    # the other stays where it was taken to be, whatever the weight of all does
    for other, (_, stays, _) in MOVES.items():
        if other != what and getattr(hull, stays) is None:
            changes = (*changes, (f"vehicle.hull.{stays}", _moved(None, lies.load_m if other == "load" else lies.crew_m, Known.ASSUMED)))
    return Edit(label=label, changes=changes, gesture=gesture)


def _moved(before: Quantity | None, value: float, known: Known) -> Quantity:
    rounded = round(value, 3)
    return Quantity(value=rounded, known=known) if before is None else replace(before, value=rounded, known=known, date=None)
