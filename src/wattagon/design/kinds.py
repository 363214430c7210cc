"""What is usual for each kind of vehicle: how many wheels, whether it leans, what its rider bears."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.design.tree import VehicleKind

# wheels that its measures count together
WHEELS = {
    VehicleKind.STREET_BOARD: 4, VehicleKind.ALL_TERRAIN_BOARD: 4, VehicleKind.SCOOTER: 2, VehicleKind.BIKE: 2,
    VehicleKind.SUSPENDED_BIKE: 2, VehicleKind.KART: 4, VehicleKind.TWO_WHEEL_DRIVE: 4, VehicleKind.UTILITY: 4,
}  # fmt: skip
# those that lean into a bend instead of tipping out of it
LEANS = (
    VehicleKind.STREET_BOARD, VehicleKind.ALL_TERRAIN_BOARD, VehicleKind.SCOOTER, VehicleKind.BIKE, VehicleKind.SUSPENDED_BIKE,
)  # fmt: skip
PEDALS = (VehicleKind.BIKE, VehicleKind.SUSPENDED_BIKE)


class Bearing(NamedTuple):
    """What a rider bears of being held back: level [m/s2] and how quickly it may come [m/s3], expected and by surprise; typical."""

    words: str
    level: float
    jerk: float
    surprise_level: float
    surprise_jerk: float


_TRAINED = Bearing("trained board rider", 3.5, 8.0, 1.2, 3.0)
_STANDING = Bearing("rider who stands and holds on", 2.5, 8.0, 1.2, 3.0)
_SEATED = Bearing("rider who sits and holds bars", 5.0, 8.0, 2.5, 3.0)
_WHEELCHAIR = Bearing("seated person without hold of the trunk", 1.5, 8.0, 1.5, 3.0)
BEARS = {
    VehicleKind.STREET_BOARD: _TRAINED, VehicleKind.ALL_TERRAIN_BOARD: _TRAINED, VehicleKind.SCOOTER: _STANDING, VehicleKind.BIKE: _SEATED,
    VehicleKind.SUSPENDED_BIKE: _SEATED, VehicleKind.KART: _SEATED, VehicleKind.TWO_WHEEL_DRIVE: _WHEELCHAIR, VehicleKind.UTILITY: _SEATED,
}  # fmt: skip
