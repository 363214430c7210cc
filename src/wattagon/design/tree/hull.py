"""A boat's hull with its measures, and what was towed."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.ids import Extra, at_most, no_extra
from wattagon.record import record

MOST_ROWS = 200


@record(frozen=True, slots=True, kw_only=True)
class TowRow:
    """One steady pull."""

    speed: float = field(metadata=spec("speed through the water", "speed", 0.1, 30.0))
    pull: float = field(metadata=spec("pull", "force", 0.1, 1e5))
    out: bool = False  # left out of the fit
    extra: Extra = field(default_factory=no_extra)


@record(frozen=True, slots=True, kw_only=True)
class Hull:
    """Measures of a hull afloat, laden; where nothing was towed its resistance follows from them."""

    waterline_length: Quantity = field(metadata=spec("waterline length", "length", 0.5, 20.0, "afloat, laden"))
    waterline_beam: Quantity = field(metadata=spec("waterline beam", "length", 0.2, 8.0, "of one hull; where it planes its chine beam"))
    surface_factor: Quantity = field(metadata=spec("wetted surface factor", "number", 2.4, 4.5, "C_S of S = C_S sqrt(volume x length)"))
    form: Quantity = field(metadata=spec("form factor", "number", 0.0, 1.0, "what friction grows by for the shape"))
    hull_factor: Quantity = field(metadata=spec("wave factor", "number", 0.3, 3.0, "of the wave resistance curve"))
    draught: Quantity | None = field(default=None, metadata=spec("draught", "length", 0.01, 3.0, "laden"))
    interference: Quantity = field(
        default=Quantity(value=1.15), metadata=spec("interference of two hulls", "number", 0.5, 3.0, "on their waves; twin hulls only")
    )
    transom_area: Quantity = field(default=Quantity(value=0.0), metadata=spec("wetted transom", "area", 0.0, 3.0, "at rest, laden"))
    transom_width: Quantity = field(default=Quantity(value=1.0), metadata=spec("width of the transom", "length", 0.05, 6.0))
    transom_height: Quantity | None = field(default=None, metadata=spec("transom height", "length", 0.05, 2.0, "keel to clamp"))
    transom_angle: Quantity | None = field(
        default=None, metadata=spec("angle of the transom", "angle", -0.2, 0.6, "how far its top leans aft of upright")
    )
    deadrise: Quantity = field(default=Quantity(value=0.1745), metadata=spec("deadrise", "angle", 0.0, 0.7, "of the bottom aft"))
    weight_forward: Quantity | None = field(
        default=None, metadata=spec("weight ahead of the transom", "length", 0.05, 15.0, "centre of mass, all up")
    )
    load_forward: Quantity | None = field(
        default=None, metadata=spec("load ahead of the transom", "length", -1.0, 15.0, "middle of the usual load")
    )
    crew_forward: Quantity | None = field(
        default=None, metadata=spec("crew ahead of the transom", "length", -1.0, 15.0, "middle of all who sit aboard")
    )
    weight_height: Quantity = field(default=Quantity(value=0.0), metadata=spec("height of weight", "length", -1.0, 5.0, "above the keel"))
    appendage_area: Quantity | None = field(
        default=None, metadata=spec("drag area of legs and fins", "area", 0.0, 1.0, "C_D A in the water; empty: by where the propeller is")
    )
    propeller_depth: Quantity | None = field(
        default=None, metadata=spec("depth of the propeller", "length", 0.0, 3.0, "its middle under the surface")
    )
    tip_gap: Quantity | None = field(default=None, metadata=spec("gap of the tip to the hull", "length", 0.0, 2.0))
    off_centre: Quantity = field(default=Quantity(value=0.0), metadata=spec("drive off the centre line", "length", -3.0, 3.0))
    salt: bool = False
    water_temperature: Quantity = field(default=Quantity(value=15.0), metadata=spec("water temperature", "temperature", -2.0, 35.0))
    tow: tuple[TowRow, ...] = ()
    tow_mass: Quantity | None = field(default=None, metadata=spec("mass as towed", "mass", 5.0, 20000.0, "empty: as it is now"))
    tow_note: str = ""  # sea state, drive lifted or not
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        at_most("rows of the tow test", len(self.tow), MOST_ROWS)
