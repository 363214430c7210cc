"""The bare vehicle with its rider."""

from __future__ import annotations

from dataclasses import field
from enum import StrEnum
from typing import Any

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.hull import Hull
from wattagon.design.tree.ids import Extra, no_extra
from wattagon.errors import InputError
from wattagon.record import record


class VehicleKind(StrEnum):
    STREET_BOARD = "street_board"
    ALL_TERRAIN_BOARD = "all_terrain_board"
    SCOOTER = "scooter"
    BIKE = "bike"
    SUSPENDED_BIKE = "suspended_bike"
    KART = "kart"
    TWO_WHEEL_DRIVE = "two_wheel_drive"
    UTILITY = "utility"
    CANOE = "canoe"
    FLAT_BOTTOMED = "flat_bottomed"
    INFLATABLE = "inflatable"
    PLANING_SKIFF = "planing_skiff"
    TWIN_HULL = "twin_hull"

    @property
    def floats(self) -> bool:
        """Whether it is a boat."""
        return self in (
            VehicleKind.CANOE,
            VehicleKind.FLAT_BOTTOMED,
            VehicleKind.INFLATABLE,
            VehicleKind.PLANING_SKIFF,
            VehicleKind.TWIN_HULL,
        )


def _length(label: str, low: float, high: float, hint: str = "") -> dict[str, Any]:
    return spec(label, "length", low, high, hint)


@record(frozen=True, slots=True, kw_only=True)
class Vehicle:
    """The bare vehicle with its rider: every measure with how it is known."""

    name: str = "New vehicle"
    kind: VehicleKind = VehicleKind.ALL_TERRAIN_BOARD
    tyre_diameter: Quantity = field(metadata=_length("tyre diameter", 0.03, 2.0, "outside, unloaded"))
    tyre_rolling_share: Quantity = field(metadata=spec("loaded radius", "share", 0.8, 1.0, "loaded radius as a share of the unloaded one"))
    wheelbase: Quantity = field(metadata=_length("wheelbase", 0.2, 5.0, "axle to axle"))
    clear_width: Quantity | None = field(
        default=None, metadata=_length("clear width", 0.01, 3.0, "between the driven wheels, or in the frame")
    )
    track: Quantity | None = field(
        default=None, metadata=_length("track", 0.05, 4.0, "between the middles of the tyres of an axle; of three wheels the pair's")
    )
    deck_height: Quantity | None = field(default=None, metadata=_length("deck to ground", 0.01, 2.0, "loaded"))
    axle_diameter: Quantity | None = field(default=None, metadata=_length("axle diameter", 0.003, 0.1))
    axle_shape: str = "round"
    hub_bolt_circle: Quantity | None = field(default=None, metadata=_length("hub bolt circle", 0.01, 0.5))
    empty_mass: Quantity = field(metadata=spec("vehicle", "mass", 0.5, 2000.0, "without rider, load and drive"))
    rider_mass: Quantity = field(metadata=spec("rider", "mass", 0.0, 500.0))
    load_mass: Quantity = field(metadata=spec("load", "mass", 0.0, 2000.0))
    cm_behind_front: Quantity = field(metadata=_length("weight behind front axle", 0.01, 5.0, "centre of mass, all up"))
    cm_height: Quantity = field(metadata=_length("height of weight", 0.05, 3.0, "centre of mass above ground, all up"))
    rider_behind_front: Quantity | None = field(
        default=None, metadata=_length("rider behind front axle", -2.0, 6.0, "where the rider's weight sits; for cases without the rider")
    )
    rider_height: Quantity | None = field(default=None, metadata=_length("height of rider's weight", 0.05, 3.0))
    load_behind_front: Quantity | None = field(
        default=None, metadata=_length("load behind front axle", -2.0, 6.0, "where the usual load sits; for cases without it")
    )
    load_height: Quantity | None = field(default=None, metadata=_length("height of load", 0.0, 3.0))
    pack_behind_front: Quantity | None = field(
        default=None, metadata=_length("pack behind front axle", -2.0, 6.0, "where the pack sits; for carrying without it")
    )
    pack_height: Quantity | None = field(default=None, metadata=_length("height of pack", 0.0, 3.0))
    packed_length: Quantity | None = field(default=None, metadata=_length("packed length", 0.05, 20.0, "folded, for the boot or the train"))
    packed_width: Quantity | None = field(default=None, metadata=_length("packed width", 0.02, 10.0))
    packed_height: Quantity | None = field(default=None, metadata=_length("packed height", 0.02, 10.0))
    rolling: Quantity = field(metadata=spec("rolling resistance", "number", 0.0, 0.3, "Crr, drag as a share of the weight"))
    drag_area: Quantity = field(metadata=spec("drag area", "area", 0.0, 10.0, "CdA"))
    grip: Quantity = field(metadata=spec("grip", "number", 0.05, 2.0, "friction of tyre on ground"))
    wheel_inertia: Quantity = field(metadata=spec("wheel inertia", "inertia", 0.0, 20.0, "all wheels together"))
    brake_force: Quantity | None = field(
        default=None, metadata=spec("hand or foot brakes", "force", 0.0, 20000.0, "what they give at the tread; 0 for none")
    )
    top_gear: Quantity | None = field(
        default=None, metadata=spec("highest gear", "height", 0.5, 15.0, "metres for a turn of the pedals; only with pedals")
    )
    driven_axle: str = "rear"
    axle_wheels: int = field(default=2, metadata=spec("wheels on the driven axle", "number", 1, 4))
    wheels: int | None = field(default=None, metadata=spec("wheels in all", "number", 2, 8, "empty: as is usual for its kind"))
    rider_level: Quantity | None = field(
        default=None,
        metadata=spec("braking that the rider bears", "acceleration", 0.2, 15.0, "when it is expected; empty: as is usual for its kind"),
    )
    rider_jerk: Quantity | None = field(
        default=None, metadata=spec("how quickly it may come", "jerk", 0.2, 100.0, "when it is expected; empty: 8 m/s³")
    )
    hull: Hull | None = None  # of a boat; its wheels are not read then
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        if self.kind.floats != (self.hull is not None):
            raise InputError("hull", "missing" if self.hull is None else "there", "a hull for a boat, none for a vehicle on wheels")
        if self.driven_axle not in ("rear", "front", "all"):
            raise InputError("driven_axle", self.driven_axle, "rear, front or all")
        if not self.cm_behind_front.value < self.wheelbase.value:
            raise InputError("cm_behind_front", f"{self.cm_behind_front.value:g} m", f"less than the wheelbase, {self.wheelbase.value:g} m")
