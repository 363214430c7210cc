"""Kinds of vehicle, all facts about each in one row: what is usual for it where nobody measured or stated otherwise."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.design.tree import VehicleKind
from wattagon.record import record


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


class Measures(NamedTuple):
    """Typical measures of the bare vehicle, to be measured over; lengths in m, mass in kg."""

    tyre: float
    rolling_share: float  # loaded radius, of the unloaded one
    wheelbase: float
    clear_width: float
    deck_height: float
    axle_diameter: float
    empty_mass: float
    cm_behind_front: float  # all up
    cm_height: float
    rolling: float  # Crr
    drag_area: float  # m2
    grip: float
    wheel_inertia: float  # kg m2, all wheels
    axle_wheels: int


class FirstDrive(NamedTuple):
    """A plain drive to begin with."""

    motor: str
    stage: str  # belt, chain, or nothing for a motor in the wheel
    profile: str
    driver_teeth: int
    driven_teeth: int
    width_mm: float | None
    controller: str
    motor_a: float
    pack_a: float
    parallel: int


_ON_CHAIN = FirstDrive("outrunner-110x110-70", "chain", "08A", 12, 54, None, "ctrl-75v-150", 140.0, 80.0, 8)
_IN_WHEEL = FirstDrive("hub-245x55-7p6", "", "", 1, 1, None, "ctrl-60v-50", 50.0, 25.0, 4)
_ON_BELT = FirstDrive("outrunner-80x85-130", "belt", "5M", 14, 84, 25.0, "ctrl-60v-50", 50.0, 25.0, 4)
_BOARD = FirstDrive("outrunner-63x74-170", "belt", "5M", 15, 72, 15.0, "ctrl-60v-50", 50.0, 25.0, 4)


@record(frozen=True, slots=True, kw_only=True)
class KindFacts:
    """One row."""

    words: str
    measures: Measures
    wheels: int  # that its measures count together
    bears: Bearing
    wheel_family: str  # of the wheels in stock that fit it
    brake_share: float = 0.0  # friction brakes where nobody measured them, as a share of the weight all up
    leans: bool = False  # into a bend instead of tipping out of it
    pedals: bool = False
    rough: bool = False  # ridden off the road: pulleys want more room to the ground
    distance: float = 15000.0  # m on a charge, to begin with
    money: float = 650.0  # for the drive
    single_motor: bool = False  # begins with one motor, however many wheels its axle has
    goal_speeds: tuple[float, float] = (25.0 / 3.6, 12.0 / 3.6)  # m/s on the flat and up 10 %, to begin with
    first: FirstDrive


KINDS: dict[VehicleKind, KindFacts] = {
    VehicleKind.STREET_BOARD: KindFacts(
        words="street board",
        measures=Measures(0.097, 0.99, 0.76, 0.16, 0.11, 0.008, 3.5, 0.40, 1.00, 0.016, 0.50, 0.70, 0.001, 2),
        wheels=4,
        bears=_TRAINED,
        wheel_family="board",
        leans=True,
        distance=15000.0,
        money=450.0,
        first=_BOARD._replace(driven_teeth=40, motor_a=45.0),
    ),
    VehicleKind.ALL_TERRAIN_BOARD: KindFacts(
        words="all-terrain board",
        measures=Measures(0.200, 0.96, 0.95, 0.18, 0.13, 0.012, 8.0, 0.50, 1.00, 0.025, 0.50, 0.60, 0.010, 2),
        wheels=4,
        bears=_TRAINED,
        wheel_family="board_air",
        leans=True,
        rough=True,
        first=_BOARD,
    ),
    VehicleKind.SCOOTER: KindFacts(
        words="scooter",
        measures=Measures(0.254, 0.97, 0.90, 0.12, 0.14, 0.010, 9.0, 0.50, 1.05, 0.016, 0.55, 0.70, 0.030, 1),
        wheels=2,
        bears=_STANDING,
        wheel_family="scooter",
        brake_share=0.30,
        leans=True,
        distance=20000.0,
        money=500.0,
        first=_ON_BELT,
    ),
    VehicleKind.BIKE: KindFacts(
        words="bike",
        measures=Measures(0.700, 0.98, 1.08, 0.135, 0.30, 0.010, 14.0, 0.62, 1.05, 0.007, 0.50, 0.75, 0.250, 1),
        wheels=2,
        bears=_SEATED,
        wheel_family="bike",
        brake_share=0.40,
        leans=True,
        pedals=True,
        distance=40000.0,
        money=600.0,
        first=_IN_WHEEL,
    ),
    VehicleKind.SUSPENDED_BIKE: KindFacts(
        words="bike with rear suspension",
        measures=Measures(0.700, 0.98, 1.15, 0.142, 0.34, 0.012, 17.0, 0.66, 1.08, 0.010, 0.50, 0.75, 0.280, 1),
        wheels=2,
        bears=_SEATED,
        wheel_family="bike",
        brake_share=0.45,
        leans=True,
        pedals=True,
        distance=40000.0,
        money=700.0,
        first=_IN_WHEEL,
    ),
    VehicleKind.KART: KindFacts(
        words="kart",
        measures=Measures(0.279, 0.97, 1.05, 0.80, 0.06, 0.025, 45.0, 0.63, 0.38, 0.020, 0.60, 0.90, 0.120, 2),
        wheels=4,
        bears=_SEATED,
        wheel_family="kart",
        brake_share=0.45,
        single_motor=True,
        distance=10000.0,
        money=900.0,
        first=_ON_CHAIN,
    ),
    VehicleKind.TWO_WHEEL_DRIVE: KindFacts(
        words="two-wheel drive with castors",
        measures=Measures(0.330, 0.96, 0.60, 0.50, 0.40, 0.012, 30.0, 0.40, 0.65, 0.020, 0.60, 0.70, 0.080, 2),
        wheels=4,
        bears=_WHEELCHAIR,
        wheel_family="board_air",
        brake_share=0.2,
        goal_speeds=(12.0 / 3.6, 5.0 / 3.6),
        distance=12000.0,
        money=700.0,
        first=_ON_BELT._replace(motor_a=38.0),  # who cannot hold the trunk bears less
    ),
    VehicleKind.UTILITY: KindFacts(
        words="utility machine",
        measures=Measures(0.330, 0.96, 1.30, 0.60, 0.25, 0.020, 80.0, 0.75, 0.55, 0.030, 0.90, 0.60, 0.150, 2),
        wheels=4,
        bears=_SEATED,
        wheel_family="utility",
        brake_share=0.35,
        rough=True,
        single_motor=True,
        distance=10000.0,
        money=1000.0,
        first=_ON_CHAIN,
    ),
}
