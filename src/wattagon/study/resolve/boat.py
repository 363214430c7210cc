"""A boat from its design: hull by measures or by what was towed, propellers by their outline, what a dock test made of them."""

from __future__ import annotations

import functools
import math
from dataclasses import replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.boats import BOATS
from wattagon.design.catalogue import Catalogue
from wattagon.design.fitted import fitted
from wattagon.design.parts import MotorPart, PropellerPart
from wattagon.design.quantity import Known
from wattagon.design.tree import Cooling, Design, Hull, Place, PropellerChoice, Variant
from wattagon.errors import InputError
from wattagon.physics.curves import Curve
from wattagon.physics.reduction import Stage
from wattagon.physics.road import air_density
from wattagon.physics.thermal import MotorHeat
from wattagon.physics.water.boat import SPEEDS, Boat, Screw, scaled, screw_of
from wattagon.physics.water.hull import floating_n
from wattagon.physics.water.limits import long_tail, wet_rotor_w
from wattagon.physics.water.planing import blend, planing, volume_froude
from wattagon.physics.water.propeller import ROUGHNESS, Blades, blade_drag, open_water, open_water_of
from wattagon.physics.water.tow import Tow, fit_tow, other_load
from wattagon.physics.water.water import Water, water
from wattagon.study.resolve.reader import Reader

FASTEST_M_S = 18.0  # where the table of resistance ends
# wake and deduction by where a propeller works, drag area of what carries it [m2]; typical
INFLOW = {
    Place.POD: (0.03, 0.04),
    Place.LEG: (0.03, 0.04),
    Place.RUDDER: (0.08, 0.05),
    Place.SKEG: (0.15, 0.12),
    Place.LONG_TAIL: (0.03, 0.02),
    Place.SHAFT: (0.08, 0.08),
}
CARRIER_M2 = {Place.POD: 0.003, Place.LEG: 0.006, Place.RUDDER: 0.001, Place.SKEG: 0.0015, Place.LONG_TAIL: 0.002, Place.SHAFT: 0.001}
DOCK_DEDUCTION = 0.03
SEAL_NM = {Place.POD: 0.03, Place.LEG: 0.03, Place.RUDDER: 0.03, Place.SKEG: 0.05, Place.LONG_TAIL: 0.03, Place.SHAFT: 0.05}
# about two real cases in three lie within: of waves by slenderness, of friction, in the blend, planing, towed
# friction: wetted surface 8 %, form 8 %, slime 10 %
WAVE_BAND, TUB_BAND, SKIN_BAND, BLEND_BAND, PLANING_BAND, TOW_BAND = 0.30, 0.45, 0.15, 0.25, 0.15, 0.10
WORKING_TURNS_S, WORKING_M_S = 15.0, 1.5  # at which the drag of blades is fixed where nothing else is known


class Resistance(NamedTuple):
    """Through still water over speeds [m/s]: by measures, as it is taken, and how wide it may be either side (a share of it)."""

    speed_m_s: NDArray[np.float64]
    estimate_n: NDArray[np.float64]
    force_n: NDArray[np.float64]
    width: NDArray[np.float64]
    tow: Tow | None


def water_of(read: Reader, hull: Hull) -> Water:
    """The water that it floats in."""
    celsius = read.quantity("vehicle.hull.water_temperature", hull.water_temperature, "temperature")
    found = water(salt=hull.salt, celsius=celsius)
    read.keep("vehicle.hull.water_density", float(found.kg_m3), Known.COMPUTED, "number")
    return found


def resistance_of(read: Reader, design: Design, mass_kg: float, medium: Water) -> Resistance:
    """Of the hull alone: what the measures tell, and the tow test in its place where there are two rows or more."""
    hull, facts = design.vehicle.hull, BOATS[design.vehicle.kind]
    assert hull is not None
    one = lambda name, dimension: read.quantity(f"vehicle.hull.{name}", getattr(hull, name), dimension)
    length, beam = one("waterline_length", "length"), one("waterline_beam", "length")
    speeds = np.linspace(0.0, FASTEST_M_S, SPEEDS)
    moving = np.maximum(speeds, 1e-6)
    skin, waves, transom = floating_n(
        moving,
        mass_kg=mass_kg,
        length_m=length,
        surface_factor=one("surface_factor", "number"),
        form=one("form", "number"),
        hull_factor=one("hull_factor", "number"),
        medium=medium,
        hulls=facts.hulls,
        interference=one("interference", "number") if facts.hulls > 1 else 1.0,
        transom_m2=one("transom_area", "area"),
        transom_width_m=one("transom_width", "length"),
    )
    floats = np.asarray(skin + waves + transom)
    tub = length / np.cbrt(mass_kg / facts.hulls / float(medium.kg_m3)) < 7.0
    spread = np.hypot(SKIN_BAND * np.asarray(skin), (TUB_BAND if tub else WAVE_BAND) * np.asarray(waves))
    width = np.where(floats > 0.0, spread / np.maximum(floats, 1e-9), SKIN_BAND)
    total = floats
    if facts.planes:
        if hull.weight_forward is None:
            raise InputError(
                "vehicle.hull.weight_forward", "missing", "where the weight sits ahead of the transom; a planing hull needs it"
            )
        volume = mass_kg / float(medium.kg_m3)
        share = blend(speeds, volume)
        planes = planing(
            np.maximum(speeds, 0.5),
            mass_kg=mass_kg,
            beam_m=beam,
            deadrise_deg=math.degrees(one("deadrise", "angle")),
            lcg_m=read.quantity("vehicle.hull.weight_forward", hull.weight_forward, "length"),
            vcg_m=one("weight_height", "length"),
            medium=medium,
        )
        total = (1.0 - share) * floats + share * np.asarray(planes.drag_n)
        froude = volume_froude(speeds, volume)
        width = np.where(froude < 1.2, width, np.where(froude < 2.2, BLEND_BAND, PLANING_BAND))
    rows = [row for row in hull.tow if not row.out]
    # a floating hull's is in its factors; nothing is left to them where it planes or was towed
    wide = TOW_BAND if len(rows) >= 2 else PLANING_BAND if facts.planes else 0.0
    model = read.keep("vehicle.hull.resistance_model", 1.0, Known.COMPUTED, "number", wide) if wide else 1.0
    if len(rows) < 2:
        return Resistance(speeds, total, model * total, width, None)
    tow = fit_tow([row.speed for row in rows], [row.pull for row in rows])
    towed = read.quantity("vehicle.hull.tow_mass", hull.tow_mass, "mass") if hull.tow_mass is not None else mass_kg
    read.keep("vehicle.hull.tow", tow.exponent, Known.MEASURED, "number")
    pull = np.asarray(other_load(tow.pull(speeds), mass_kg, towed))
    # beyond what was towed it grows as the estimate does: a law knows nothing of a hump
    end = tow.trusted_m_s
    at_end = max(float(np.interp(end, speeds, total)), 1e-9)
    pull = np.where(speeds > end, float(np.interp(end, speeds, pull)) * total / at_end, pull)
    return Resistance(speeds, total, model * pull, np.where(speeds > end, width, TOW_BAND), tow)


@functools.lru_cache(maxsize=128)
def _screw(shape: Blades, drag: float, factors: tuple[float, float], can: float = 0.0) -> Screw:
    """Worked out once for a shape: the levers and cures ask for the same ones again and again."""
    return screw_of(shape.diameter_m, shape.pitch_m, open_water(shape, drag).scaled(*factors), can)


@functools.lru_cache(maxsize=32)
def _own_screw(shape: Blades, rows: tuple[tuple[float, float, float], ...], factors: tuple[float, float], can: float = 0.0) -> Screw | None:
    """A propeller by its own table; None where that cannot be taken, which a finding says."""
    try:
        own = open_water_of(rows)
    except InputError:
        return None
    return screw_of(shape.diameter_m, shape.pitch_m, own.scaled(*factors), can)


def open_water_rows(choice: PropellerChoice) -> tuple[tuple[float, float, float], ...]:
    """(J, K_T, K_Q) of the rows that count."""
    return tuple((row.advance, row.thrust, row.torque) for row in choice.open_water if not row.out)


# what the equations of a propeller leave open on K_T and K_Q: pitch and outline measured, only the stamped size; a dock test halves it
MODEL_THRUST, MODEL_TORQUE, MODEL_STAMPED = 0.10, 0.12, 0.20
CAN_FRICTION = 0.008  # c_f of a can that turns in water, 0.005 to 0.010; typical


def can_kq(read: Reader, base: str, choice: PropellerChoice, part: PropellerPart, cans: Cans) -> float:
    """What the water around turning cans takes, as a K_Q of the propeller's shaft; 0 where they are sealed in.

    Source: pi c_f rho w^3 r^4 l of a can without its face; like the propeller's torque it goes with the square of the turns.
    """
    if not choice.flooded or choice.place not in WET:
        return 0.0
    friction = read.keep(f"{base}.propeller.can_friction", CAN_FRICTION, Known.ASSUMED, "number")
    radius, length = cans.motor.can_mm / 2000.0, cans.motor.length_mm / 1000.0
    at_one_turn = math.tau * cans.ratio
    torque = float(wet_rotor_w(radius, length, at_one_turn, 1.0, friction)) / at_one_turn  # per density
    return torque * cans.ratio * cans.motors / choice.count / part.diameter_m**5


class Cans(NamedTuple):
    """Motors that may turn in the water: which, how many, turns of theirs for one of the propeller's shaft."""

    motor: MotorPart
    motors: int
    ratio: float


def screw_fitted(read: Reader, base: str, choice: PropellerChoice, part: PropellerPart, medium: Water, cans: Cans | None = None) -> Screw:
    """A propeller at work, with the factors of a dock test where there was one, and with cans that turn in the water."""
    value = lambda name, dimension: read.need(f"{base}.propeller", choice, part, name, getattr(part, name), dimension)
    shape = Blades(
        diameter_m=value("diameter_m", "length"),
        pitch_m=value("pitch_m", "length"),
        blades=part.blades,
        area_ratio=value("area_ratio", "number"),
        hub_ratio=value("hub_ratio", "number"),
    )
    _, drag = blade_drag(shape, WORKING_TURNS_S, WORKING_M_S, medium, ROUGHNESS[part.make])
    if read.shift is not None:  # a sample of a band: a few values that are worked out once instead of one for each
        drag = round(drag, 4)
    read.keep(f"{base}.propeller.cd0", drag, Known.COMPUTED, "number")
    factors = []
    for name in ("thrust_factor", "torque_factor"):
        given = getattr(choice, name)
        factors.append(1.0 if given is None else read.quantity(f"{base}.propeller.{name}", given, "number"))
    rows, can = open_water_rows(choice), can_kq(read, base, choice, part, cans) if cans is not None else 0.0
    known = {"diameter_m", "pitch_m"} <= choice.overrides.keys()
    halved = 0.5 if choice.thrust_factor is not None or rows else 1.0
    model = []
    for name, measured in (("thrust_model", MODEL_THRUST), ("torque_model", MODEL_TORQUE)):
        wide = halved * (measured if known else MODEL_STAMPED)
        model.append(read.keep(f"{base}.propeller.{name}", 1.0, Known.COMPUTED, "number", wide))
    if can > 0.0:
        factors, model = [a * b for a, b in zip(factors, model, strict=True)], [1.0, 1.0]
    own = _own_screw(shape, rows, (factors[0], factors[1]), can) if rows else None
    if own is not None:
        read.keep(f"{base}.propeller.open_water", float(len(rows)), Known.MEASURED, "number")
    found = own if own is not None else _screw(shape, drag, (factors[0], factors[1]), can)
    return found if model == [1.0, 1.0] else scaled(found, model[0], model[1])


def propeller_of(variant: Variant, stock: Catalogue) -> tuple[PropellerChoice, PropellerPart]:
    """A variant's propeller with what is known better of it.  Raises InputError without one."""
    if variant.propeller is None:
        raise InputError(f"variants.{variant.id}.propeller", "missing", "a propeller; a boat needs one")
    return variant.propeller, fitted(stock.get(PropellerPart, variant.propeller.part), variant.propeller)


def propeller_depth_m(hull: Hull, choice: PropellerChoice) -> float | None:
    """The middle of the propeller under the surface [m]: of a long tail by its geometry where that is known, else as measured."""
    length, tilt, pivot = choice.tail_length, choice.tilt, choice.pivot_height
    if choice.place is Place.LONG_TAIL and length is not None and tilt is not None and pivot is not None:
        return float(long_tail(length.value, tilt.value, pivot.value, 0.0).depth_m)
    return hull.propeller_depth.value if hull.propeller_depth is not None else None


POD_W_PER_M2K = 300.0  # from the can of a motor not made for water into the water around its pod; typical
PUMPED_W_PER_K = 15.0  # of a jacket with water pumped through it; typical
LOOP_PUMP_W = 8.0
WET = (Place.POD, Place.RUDDER, Place.SKEG)  # where water is around the motor


def in_water(read: Reader, design: Design, variant: Variant, heat: MotorHeat, air_c: float) -> tuple[MotorHeat, float, float]:
    """(heat of a boat's motor, temperature around it [C], power of its cooling pump [W])."""
    choice, hull, base = variant.propeller, design.vehicle.hull, f"variants.{variant.id}"
    assert choice is not None and hull is not None
    water_c = hull.water_temperature.value

    def into_water(usual: float) -> float:
        if choice.cooling_w_per_k is not None:
            return read.quantity(f"{base}.propeller.cooling_w_per_k", choice.cooling_w_per_k, "number")
        return read.keep(f"{base}.propeller.cooling_w_per_k", usual, Known.ASSUMED, "number")

    if choice.cooling is not Cooling.PLACED:
        pump = 0.0
        if choice.cooling is Cooling.LOOP:
            path = f"{base}.propeller.pump_w"
            given = choice.pump_w
            pump = read.quantity(path, given, "power") if given is not None else read.keep(path, LOOP_PUMP_W, Known.ASSUMED, "power")
        return replace(heat, fixed_w_per_k=into_water(PUMPED_W_PER_K)), water_c, pump
    if choice.place in WET:
        own = float(heat.fixed_w_per_k)
        return (heat if own > 0.0 else replace(heat, fixed_w_per_k=into_water(POD_W_PER_M2K * float(heat.case_area_m2)))), water_c, 0.0
    return replace(heat, fixed_w_per_k=0.0), air_c, 0.0


def seal_stage(read: Reader, variant: Variant) -> Stage:
    """Seals and bearings of a propeller's shaft as one more stage, straight through."""
    choice = variant.propeller
    assert choice is not None
    path = f"variants.{variant.id}.propeller.seal"
    drag = (
        read.quantity(path, choice.seal, "torque")
        if choice.seal is not None
        else read.keep(path, SEAL_NM[choice.place], Known.ASSUMED, "torque")
    )
    return Stage(kind="direct", ratio=1.0, efficiency=1.0, drag_nm=drag, shared=variant.motor.count > choice.count)


def usual_appendages_m2(choice: PropellerChoice | None) -> float:
    """Drag area of what carries propellers, by where they work; typical."""
    return 0.0 if choice is None else CARRIER_M2[choice.place] * choice.count


MADE_FOR = {Place.LEG: math.radians(12.0), Place.POD: 0.0}  # lean of the transom that a clamp is made for; typical
MADE_FOR_WORDS = {Place.LEG: "a leg for 12°", Place.POD: "a pod for an upright one"}


def off_level(read: Reader, hull: Hull, choice: PropellerChoice, base: str) -> float | None:
    """How far a clamped drive's shaft points up of level [rad]: what its transom leans too far, less the wedge.

    None where it is not clamped to a transom or that was not measured.
    """
    if choice.place not in MADE_FOR or hull.transom_angle is None:
        return None
    lean = read.quantity("vehicle.hull.transom_angle", hull.transom_angle, "angle")
    path = f"{base}.propeller.made_for"
    if choice.made_for is not None:
        fits = read.quantity(path, choice.made_for, "angle")
    else:
        fits = read.keep(path, MADE_FOR[choice.place], Known.ASSUMED, "angle")
    return lean - fits - (read.quantity(f"{base}.propeller.wedge", choice.wedge, "angle") if choice.wedge is not None else 0.0)


def boat_of(read: Reader, design: Design, stock: Catalogue, variant: Variant, drive_kg: float, cans: Cans) -> tuple[Boat, Resistance]:
    """(the boat under its usual load, resistance of its hull)."""
    vehicle, hull, conditions = design.vehicle, design.vehicle.hull, design.brief.conditions
    assert hull is not None
    facts, base = BOATS[vehicle.kind], f"variants.{variant.id}"
    choice, part = propeller_of(variant, stock)
    read.keep(f"{base}.drive_mass", drive_kg, Known.COMPUTED, "mass")
    names = ("empty_mass", "rider_mass", "load_mass")
    mass = sum(read.quantity(f"vehicle.{name}", getattr(vehicle, name), "mass") for name in names) + drive_kg
    medium = water_of(read, hull)
    found = resistance_of(read, design, mass, medium)
    typical = INFLOW[choice.place] if choice.place not in (Place.POD, Place.LEG) else (facts.wake, facts.deduction)

    def own(name: str, usual: float) -> float:
        given = getattr(choice, name)
        path = f"{base}.propeller.{name}"
        return read.quantity(path, given, "share") if given is not None else read.keep(path, usual, Known.ASSUMED, "share")

    if hull.appendage_area is not None:
        appendages = read.quantity("vehicle.hull.appendage_area", hull.appendage_area, "area")
    else:
        appendages = read.keep("vehicle.hull.appendage_area", usual_appendages_m2(choice), Known.ASSUMED, "area")
    tilt = off_level(read, hull, choice, base) or 0.0
    if choice.tilt is not None:
        tilt = read.quantity(f"{base}.propeller.tilt", choice.tilt, "angle")
    altitude = read.quantity("brief.conditions.altitude", conditions.altitude, "height")
    paddled = read.quantity("brief.conditions.pedal_power", conditions.pedal_power, "power") if conditions.pedal_power.value > 0.0 else 0.0
    boat = Boat(
        mass_kg=mass,
        hull=Curve(FASTEST_M_S / (SPEEDS - 1), found.force_n),
        screw=screw_fitted(read, base, choice, part, medium, cans),
        propellers=float(choice.count),
        kg_m3=float(medium.kg_m3),
        wake=own("wake", typical[0]),
        deduction=own("deduction", typical[1]),
        tilt_cos=math.cos(tilt),
        appendage_m2=appendages,
        drag_area_m2=read.quantity("vehicle.drag_area", vehicle.drag_area, "area"),
        air_kg_m3=float(air_density(altitude, conditions.air_temperature.value)),
        rider_w=0.5 * paddled,  # of a paddler's power about half arrives
        rider_top_m_s=FASTEST_M_S,
    )
    return boat, found
