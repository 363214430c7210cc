"""A new design of a kind: typical values, every one of them marked assumed."""

from __future__ import annotations

from wattagon.design.quantity import Quantity
from wattagon.design.tree import (
    Brief,
    ControllerChoice,
    Design,
    Goal,
    GoalKind,
    MotorChoice,
    PackChoice,
    ReductionKind,
    StageChoice,
    Variant,
    Vehicle,
    VehicleKind,
)

# tyre diameter m, loaded radius share, wheelbase, clear width, deck height, axle, empty kg, weight behind front axle, its height,
# Crr, CdA, grip, wheel inertia, wheels on the driven axle: typical values to be measured over
_TYPICAL: dict[VehicleKind, tuple[float, ...]] = {
    VehicleKind.STREET_BOARD: (0.097, 0.99, 0.76, 0.16, 0.11, 0.008, 3.5, 0.40, 1.00, 0.016, 0.50, 0.70, 0.001, 2),
    VehicleKind.ALL_TERRAIN_BOARD: (0.200, 0.96, 0.95, 0.18, 0.13, 0.012, 8.0, 0.50, 1.00, 0.025, 0.50, 0.60, 0.010, 2),
    VehicleKind.SCOOTER: (0.254, 0.97, 0.90, 0.12, 0.14, 0.010, 9.0, 0.50, 1.05, 0.016, 0.55, 0.70, 0.030, 1),
    VehicleKind.BIKE: (0.700, 0.98, 1.08, 0.135, 0.30, 0.010, 14.0, 0.62, 1.05, 0.007, 0.50, 0.75, 0.250, 1),
    VehicleKind.SUSPENDED_BIKE: (0.700, 0.98, 1.15, 0.142, 0.34, 0.012, 17.0, 0.66, 1.08, 0.010, 0.50, 0.75, 0.280, 1),
    VehicleKind.KART: (0.279, 0.97, 1.05, 0.80, 0.06, 0.025, 45.0, 0.63, 0.38, 0.020, 0.60, 0.90, 0.120, 2),
    VehicleKind.TWO_WHEEL_DRIVE: (0.330, 0.96, 0.60, 0.50, 0.40, 0.012, 30.0, 0.40, 0.65, 0.020, 0.60, 0.70, 0.080, 2),
    VehicleKind.UTILITY: (0.330, 0.96, 1.30, 0.60, 0.25, 0.020, 80.0, 0.75, 0.55, 0.030, 0.90, 0.60, 0.150, 2),
}
_KMH = 1.0 / 3.6


def typical_tyre_m(kind: VehicleKind) -> float:
    """The tyre that a drive of a kind is usually made for [m]."""
    return _TYPICAL[kind][0]


def new_design(kind: VehicleKind, name: str = "New vehicle") -> Design:
    """A design of a kind with typical assumed values, two goals, and one plain variant to start from."""
    (tyre, share, base, clear, deck, axle, empty, behind, high, crr, cda, grip, inertia, wheels) = _TYPICAL[kind]

    def guess(value: float) -> Quantity:
        return Quantity(value=value)

    vehicle = Vehicle(
        name=name,
        kind=kind,
        tyre_diameter=guess(tyre),
        tyre_rolling_share=guess(share),
        wheelbase=guess(base),
        clear_width=guess(clear),
        deck_height=guess(deck),
        axle_diameter=guess(axle),
        empty_mass=guess(empty),
        rider_mass=guess(75.0),
        load_mass=guess(0.0),
        cm_behind_front=guess(behind),
        cm_height=guess(high),
        rolling=guess(crr),
        drag_area=guess(cda),
        grip=guess(grip),
        wheel_inertia=guess(inertia),
        axle_wheels=int(wheels),
    )
    heavy = kind in (VehicleKind.KART, VehicleKind.UTILITY)
    fast, up = (12, 5) if kind is VehicleKind.TWO_WHEEL_DRIVE else (25, 12)
    goals = (
        Goal(id="cruise", kind=GoalKind.TOP_SPEED, speed=fast * _KMH),
        Goal(id="hill", kind=GoalKind.CLIMB, speed=up * _KMH, grade=0.10),
    )
    if heavy:
        motor, stage = (
            "outrunner-110x110-70",
            StageChoice(kind=ReductionKind.CHAIN, profile="08A", driver_teeth=12, driven_teeth=54),
        )
    elif kind in (VehicleKind.BIKE, VehicleKind.SUSPENDED_BIKE):
        motor, stage = "hub-245x55-7p6", None
    elif kind in (VehicleKind.SCOOTER, VehicleKind.TWO_WHEEL_DRIVE):
        motor = "outrunner-80x85-130"
        stage = StageChoice(kind=ReductionKind.BELT, profile="5M", driver_teeth=14, driven_teeth=84, width_mm=25.0)
    else:
        motor = "outrunner-63x74-170"
        driven = 40 if kind is VehicleKind.STREET_BOARD else 72
        stage = StageChoice(kind=ReductionKind.BELT, profile="5M", driver_teeth=15, driven_teeth=driven, width_mm=15.0)
    two = wheels == 2 and not heavy
    variant = Variant(
        id="A",
        name="First sketch",
        motor=MotorChoice(part=motor, count=2 if two else 1, driven_wheels=2 if wheels == 2 else 1),
        controller=ControllerChoice(
            part="ctrl-75v-150" if heavy else "ctrl-60v-50", motor_current_a=140.0 if heavy else 45.0 if kind is VehicleKind.STREET_BOARD else 50.0,
            pack_current_a=80.0 if heavy else 25.0,
        ),
        pack=PackChoice(part="cell-21-4p0-power", series=12, parallel=8 if heavy else 4),
        stages=(stage,) if stage is not None else (),
    )  # fmt: skip
    return Design(vehicle=vehicle, brief=Brief(goals=goals), variants=(variant,), active="A")
