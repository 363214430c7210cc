"""What the drive adds to the vehicle: its mass, where that sits, and what it does to the axles."""

from __future__ import annotations

from collections.abc import Sequence

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.build.gathered import Gathered
from wattagon.study.build.row import At, Row
from wattagon.study.layout.aboard import axles_m


@record(frozen=True, slots=True, kw_only=True)
class Weighed:
    """Before the drive was on it, and after; places ahead of the driven axle (a boat: of the transom) [m], up from the ground (the keel).

    `after` is what the brief states, all up; `before` is that without the rows that the layout places.
    """

    added_kg: float
    placed_kg: float  # of it, whose place is known
    added: At | None  # where that sits
    all_up_kg: float
    before: At
    after: At
    front_before: float  # share of the weight on the front axle; nan for a boat
    front_after: float
    front_kg: float
    rear_kg: float
    side_m: float  # of what is added, left of the middle


def weighed(found: Gathered, rows: Sequence[Row]) -> Weighed:
    """Of the usual load."""
    vehicle = found.design.vehicle
    aboard = [row for row in rows if row.aboard]
    added = sum(row.mass_all_kg for row in aboard)
    placed = [(row.mass_all_kg, row.at) for row in aboard if row.at is not None]
    mass = sum(kg for kg, _ in placed)
    at = At(*(sum(kg * spot[k] for kg, spot in placed) / mass for k in range(3))) if mass > 0.0 else None
    if vehicle.kind.floats:
        hull = vehicle.hull
        assert hull is not None
        forward = hull.weight_forward.value if hull.weight_forward is not None else 0.5 * hull.waterline_length.value
        after = At(forward, 0.0, hull.weight_height.value)
    else:
        _, front = axles_m(vehicle)
        after = At(front - vehicle.cm_behind_front.value, 0.0, vehicle.cm_height.value)
    all_up = _all_up(found)
    bare = all_up - mass
    before = after
    if at is not None and bare > 0.0:
        before = At(*((all_up * after[k] - mass * at[k]) / bare for k in range(3)))
    shares = (float("nan"), float("nan"))
    if not vehicle.kind.floats:
        base, (rear, _) = vehicle.wheelbase.value, axles_m(vehicle)
        shares = ((before.x - rear) / base, (after.x - rear) / base)
    return Weighed(
        added_kg=added,
        placed_kg=mass,
        added=at,
        all_up_kg=all_up,
        before=before,
        after=after,
        front_before=shares[0],
        front_after=shares[1],
        front_kg=shares[1] * all_up,
        rear_kg=(1.0 - shares[1]) * all_up,
        side_m=at.y if at is not None else 0.0,
    )


def _all_up(found: Gathered) -> float:
    load = found.drive.resolved.load
    return float(load.mass_kg)


def take_balance(design: Design, found: Weighed, before: At) -> Edit:
    """Where the weight sits with this drive, into the brief as computed, for one who measured it `before` the drive was on."""
    assert found.added is not None and not design.vehicle.kind.floats
    bare = found.all_up_kg - found.placed_kg
    x, z = ((bare * before[k] + found.placed_kg * found.added[k]) / found.all_up_kg for k in (0, 2))
    _, front = axles_m(design.vehicle)
    note = "worked out from the parts list"
    return Edit(
        label="Balance with the drive",
        changes=(
            ("vehicle.cm_behind_front", Quantity(value=round(front - x, 4), known=Known.COMPUTED, note=note)),
            ("vehicle.cm_height", Quantity(value=round(z, 4), known=Known.COMPUTED, note=note)),
        ),
    )
