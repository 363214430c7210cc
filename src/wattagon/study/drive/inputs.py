"""What rules of the drive rest on beside what the drive itself does: measures of rider and frame, ramps; each with how it is known."""

from __future__ import annotations

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Vehicle
from wattagon.study.resolve import Input, Resolved, top_gear_m

RAMP_UP_S, RAMP_DOWN_S = 0.4, 0.15  # of the command, for its full travel
# of a hull, what rules ask for and its resistance does not
ASHORE = (
    ("transom_height", "length"),
    ("draught", "length"),
    ("weight_forward", "length"),
    ("propeller_depth", "length"),
    ("tip_gap", "length"),
    ("off_centre", "length"),
)
RIDER_JERK = 8.0  # m/s3 that an expecting rider bears


def inputs_beside(vehicle: Vehicle, resolved: Resolved) -> dict[str, Input]:
    """Inputs by path that rules use and the drive study does not; what nobody stated stands as it is usual, and assumed."""
    choice, base = resolved.variant.controller, f"variants.{resolved.variant.id}.controller"
    found: dict[str, Input] = {}
    if vehicle.hull is not None:
        for name, dimension in ASHORE:
            taken: Quantity | None = getattr(vehicle.hull, name)
            if taken is not None:
                found[f"vehicle.hull.{name}"] = Input(value=taken.value, known=taken.known, dimension=dimension)
        return found
    facts = KINDS[vehicle.kind]

    def measure(name: str, dimension: str, usual: float) -> None:
        given: Quantity | None = getattr(vehicle, name)
        value, known = (given.value, given.known) if given is not None else (usual, Known.ASSUMED)
        found[f"vehicle.{name}"] = Input(value=value, known=known, dimension=dimension)

    def setting(name: str, usual: float, dimension: str) -> None:
        given: float | None = getattr(choice, name)
        value, known = (given, Known.STATED) if given is not None else (usual, Known.ASSUMED)
        found[f"{base}.{name}"] = Input(value=value, known=known, dimension=dimension)

    measure("rider_level", "acceleration", facts.bears.level)
    measure("rider_jerk", "jerk", facts.bears.jerk)
    if vehicle.track is not None:
        measure("track", "length", vehicle.track.value)
    if vehicle.clear_width is not None:
        measure("clear_width", "length", vehicle.clear_width.value)
    if facts.pedals:
        measure("top_gear", "height", top_gear_m(vehicle))
    setting("ramp_up_s", RAMP_UP_S, "time")
    setting("release_current_a", choice.regen_motor_current_a or 0.0, "current")
    return found
