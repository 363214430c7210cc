"""The measuring list of a boat, in the order in which one would take it: ashore, afloat, under way."""

from __future__ import annotations

from wattagon.design.boats import BOATS
from wattagon.design.tree import VehicleKind
from wattagon.desk.brief.measure import Groups, Measure
from wattagon.study.resolve.boat import usual_appendages_m2

FLOATS_ONLY = tuple(kind for kind, facts in BOATS.items() if not facts.planes)
ONE_HULL = tuple(kind for kind, facts in BOATS.items() if facts.hulls == 1)

WATER_GROUPS: Groups = (
    (
        "Hull afloat, laden",
        (
            Measure("vehicle.hull.waterline_length", "waterline", "Afloat and laden, not on the trailer: weighted strings, tape between."),
            Measure("vehicle.hull.waterline_beam", "beam", "Where the water meets the widest sides; of one hull. Planing: chine to chine."),
            Measure("vehicle.hull.draught", "draught", "Dip a stick beside the keel amidships with everybody aboard."),
            Measure("vehicle.hull.transom_height", "transom", "Keel to the edge where the clamp sits; afloat it tells the freeboard."),
            Measure("vehicle.hull.transom_angle", "transom leans", "Plumb line at its top edge, afloat: gap at the foot over height."),
            Measure("vehicle.hull.transom_width", "transom width", "Across the transom at the waterline."),
            Measure("vehicle.hull.transom_area", "wet transom", "Depth of the transom in the water times its width; 0 if it runs clear."),
            Measure("vehicle.hull.deadrise", "deadrise", "Angle of the bottom to level, aft: a level and a protractor.", FLOATS_ONLY),
        ),
    ),
    (
        "Weight",
        (
            Measure("vehicle.rider_mass", "crew", "Everybody aboard, with clothes and lifejackets."),
            Measure("vehicle.empty_mass", "boat", "Bare hull with thwarts and oars, without drive."),
            Measure("vehicle.load_mass", "load", "What is usually carried; its place is dragged on the drawing."),
            Measure("vehicle.hull.weight_forward", "weight", "All up, ahead of the transom: stern and bow on scales, or sum the pieces."),
            Measure("vehicle.hull.load_forward", "load at", "Middle of the load, ahead of the transom."),
            Measure("vehicle.hull.crew_forward", "crew at", "Middle of all who sit aboard, ahead of the transom; dragged too."),
            Measure("vehicle.hull.weight_height", "height", "Of all the weight above the keel; people seated sit at 0.4 m.", FLOATS_ONLY),
        ),
    ),
    (
        "Drag",
        (
            Measure("vehicle.drag_area", "air drag", "One seated paddler 0.35 m², two in an open boat 0.8 m²."),
            Measure(
                "vehicle.hull.appendage_area",
                "legs, fins",
                "Pod with strut 0.003 m², leg 0.006 m², rudder 0.001 m².",
                (),
                lambda design: usual_appendages_m2(design.variant().propeller),
            ),
            Measure("vehicle.hull.surface_factor", "wetted factor", "A tow test overrides it; 2.65 slender, 3.2 flat and beamy."),
            Measure("vehicle.hull.form", "form", "A tow test overrides it; 0.1 slender, 0.2 a skiff."),
            Measure("vehicle.hull.hull_factor", "wave factor", "A tow test overrides it; 1.0 to 1.2."),
            Measure("vehicle.hull.interference", "interference", "Of the two hulls' waves; 1.15 for a clear gap.", ONE_HULL),
        ),
    ),
    (
        "Propeller under the hull",
        (
            Measure("vehicle.hull.propeller_depth", "depth", "Middle of the propeller under the surface, everybody aboard."),
            Measure("vehicle.hull.tip_gap", "gap", "Tip of a blade to the nearest hull or fin."),
            Measure("vehicle.hull.off_centre", "off centre", "Drive beside the centre line; 0 on it."),
        ),
    ),
    (
        "Where it is used",
        (
            Measure("vehicle.hull.water_temperature", "water", "A thermometer on a string, in the season."),
            Measure("brief.conditions.current", "current", "Drift with a float: against you is positive."),
            Measure("brief.conditions.headwind", "wind", "Against you is positive."),
            Measure("brief.conditions.air_temperature", "air", "A warm day of the season."),
            Measure("brief.conditions.pack_temperature", "pack", "A cold pack sags more."),
        ),
    ),
)
# asked for by goals of carrying; in the list, not on the drawing
WATER_MORE: Groups = (
    (
        "Towed",
        (Measure("vehicle.hull.tow_mass", "towed mass", "All up when it was towed; empty where it is as now."),),
    ),
    (
        "Packed",
        (
            Measure("vehicle.packed_length", "packed length", "As it lies on the trailer or in the boot, with its drive."),
            Measure("vehicle.packed_width", "packed width", "The widest place."),
            Measure("vehicle.packed_height", "packed height", "As it lies in the boot or on the roof."),
        ),
    ),
)


def asked_of(kind: VehicleKind) -> tuple[Measure, ...]:
    """Those that matter for a kind of boat."""
    return tuple(measure for _, group in WATER_GROUPS for measure in group if kind not in measure.not_for)
