"""A leg or a shaft kit from stock put into a variant: what it tells becomes the design's own, to be corrected by measuring."""

from __future__ import annotations

from dataclasses import replace

from wattagon.design.parts import CarrierPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Cooling, Place, ReductionKind, StageChoice, Variant
from wattagon.errors import InputError

PLACES = {"leg": Place.LEG, "tube": Place.SHAFT, "tail": Place.LONG_TAIL}


def with_carrier(variant: Variant, part: CarrierPart) -> Edit:
    """The edit that takes a carrier; a leg brings its gear as the last stage in the place of the one before.

    Raises InputError for a variant without a propeller.
    """
    choice = variant.propeller
    if choice is None:
        raise InputError(f"variants.{variant.id}.propeller", "missing", "a propeller; a boat needs one")
    place = PLACES[part.kind]
    stated = lambda value: Quantity(value=value, known=Known.STATED) if value is not None else None
    fresh = replace(
        choice,
        carrier=part.id,
        place=place,
        flooded=choice.flooded and place in (Place.POD, Place.RUDDER, Place.SKEG),
        cooling=Cooling.PUMP if part.pump else Cooling.PLACED if choice.cooling is Cooling.PUMP else choice.cooling,
        shaft_diameter=stated(part.shaft_m),
        shaft_span=stated(part.span_m),
        thrust_rating=stated(part.thrust_n),
        seal=stated(part.seal_nm),
        tail_length=stated(part.length_m) if place is Place.LONG_TAIL else choice.tail_length,
        made_for=stated(part.made_for) if place is Place.LEG else None,
    )
    stages = variant.stages
    if choice.place is Place.LEG and stages and stages[-1].kind is ReductionKind.GEAR:
        stages = stages[:-1]  # that of the leg before
    if part.driver_teeth:
        gear = StageChoice(
            kind=ReductionKind.GEAR, driver_teeth=part.driver_teeth, driven_teeth=part.driven_teeth, efficiency=stated(part.efficiency)
        )
        stages = (*stages, gear)
    return Edit(label=part.name, changes=(("variant.propeller", fresh), ("variant.stages", stages)))
