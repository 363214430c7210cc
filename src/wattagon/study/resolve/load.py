"""What the drive has to move: wheels on a road."""

from __future__ import annotations

from wattagon.design.kinds import KINDS
from wattagon.design.parts import WheelPart
from wattagon.design.quantity import Known
from wattagon.design.tree import (
    Conditions,
    Design,
    Variant,
    Vehicle,
    WheelChoice,
)
from wattagon.errors import InputError
from wattagon.physics.road import Road, air_density
from wattagon.study.resolve.cases import Stand
from wattagon.study.resolve.reader import Reader

WET_GRIP = 0.6  # share of dry grip left on a wet road: 0.3-0.5 for 0.6-0.8 dry


def wheels_of(vehicle: Vehicle) -> int:
    """How many wheels a vehicle has, as stated or as is usual for its kind."""
    return vehicle.wheels if vehicle.wheels is not None else KINDS[vehicle.kind].wheels


def fitted_wheel(read: Reader, vehicle: Vehicle, choice: WheelChoice | None, part: WheelPart | None, base: str) -> tuple[float, float]:
    """(diameter unloaded [m], share of it that is left under load) of the driven wheel: from stock, else as measured."""
    if part is not None and choice is not None:
        diameter = read.need(f"{base}.wheel", choice, part, "diameter_m", part.diameter_m, "length")
        return diameter, read.need(f"{base}.wheel", choice, part, "rolling_share", part.rolling_share, "share")
    diameter = read.quantity("vehicle.tyre_diameter", vehicle.tyre_diameter, "length")
    return diameter, read.quantity("vehicle.tyre_rolling_share", vehicle.tyre_rolling_share, "share")


def road_of(
    read: Reader, design: Design, choice: WheelChoice | None, part: WheelPart | None, variant: Variant, drive_kg: float, stand: Stand
) -> Road:
    """The vehicle on its wheels, as it stands in a load case."""
    vehicle, conditions = design.vehicle, design.brief.conditions
    diameter, share = fitted_wheel(read, vehicle, choice, part, f"variants.{variant.id}")
    inertia = read.quantity("vehicle.wheel_inertia", vehicle.wheel_inertia, "inertia")
    if part is not None and choice is not None:  # the wheels that it brings stand in for as many of the vehicle's own
        one = read.need(f"variants.{variant.id}.wheel", choice, part, "inertia_kg_m2", part.inertia_kg_m2, "inertia")
        wheels = wheels_of(vehicle)
        inertia += min(variant.motor.driven_wheels, wheels) * (one - inertia / wheels)
    read.keep(f"variants.{variant.id}.drive_mass", drive_kg, Known.COMPUTED, "mass")
    driven = variant.motor.driven_wheels
    if driven > vehicle.axle_wheels and vehicle.driven_axle != "all":
        raise InputError(
            f"variants.{variant.id}.motor.driven_wheels", driven, f"up to {vehicle.axle_wheels}, the wheels on the driven axle"
        )
    rider_w, rider_top = pedals(read, vehicle, conditions)
    altitude = read.quantity("brief.conditions.altitude", conditions.altitude, "height")
    return Road(
        mass_kg=stand.moving_kg,
        rolling=stand.rolling,
        drag_area_m2=stand.drag_area_m2,
        air_kg_m3=float(air_density(altitude, conditions.air_temperature.value)),
        wheel_radius_m=diameter * share / 2.0,
        wheel_inertia_kg_m2=inertia,
        wheelbase_m=stand.wheelbase_m,
        cm_behind_front_m=stand.behind_front_m,
        cm_height_m=stand.pull_height_m,
        bearing_share=stand.mass_kg / stand.moving_kg,
        grip=read.quantity("vehicle.grip", vehicle.grip, "number") * (WET_GRIP if conditions.wet else 1.0),
        axle=vehicle.driven_axle,
        driven_share=min(1.0, driven / vehicle.axle_wheels),
        rider_w=rider_w,
        rider_top_m_s=rider_top,
    )


PEDAL_EFFICIENCY = 0.97  # of the pedals' power that reaches the road
TOP_GEAR_M = 6.5  # metres for a turn of the pedals


def pedals(read: Reader, vehicle: Vehicle, conditions: Conditions) -> tuple[float, float]:
    """(power that reaches the road [W], speed at which the highest gear is spun out [m/s]); 0 without pedals or without pedalling."""
    if not KINDS[vehicle.kind].pedals or conditions.pedal_power.value <= 0.0:
        return 0.0, 0.0
    power = read.quantity("brief.conditions.pedal_power", conditions.pedal_power, "power")
    return power * PEDAL_EFFICIENCY, top_gear_m(vehicle, read) * conditions.pedal_cadence.value / 60.0


def top_gear_m(vehicle: Vehicle, read: Reader | None = None) -> float:
    """Metres for a turn of the pedals in the highest gear."""
    read = read or Reader(False)
    if vehicle.top_gear is not None:
        return read.quantity("vehicle.top_gear", vehicle.top_gear, "height")
    return read.keep("vehicle.top_gear", TOP_GEAR_M, Known.ASSUMED, "height")
