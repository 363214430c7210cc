"""The stator as measured, with typical proportions where it is not, and what is wound on it now."""

from __future__ import annotations

import math
from dataclasses import replace

from wattagon.design.parts import MotorPart
from wattagon.design.paths import put
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, MotorChoice, Stator, Winding, Wound
from wattagon.errors import InputError
from wattagon.physics.motor import Motor
from wattagon.physics.winding import star
from wattagon.physics.winding.coil import COPPER_OHM_M, Coils, Connection, Slots, coils_a_phase, kv_of_field, leg_factor, mean_turn_m
from wattagon.record import record
from wattagon.study.resolve.reader import Input, Reader

# typical proportions of outrunners and hubs by the can; judged, each one may be measured instead
GAP_OF_CAN, STACK_OF_CAN, TOOTH_OF_PITCH, BOTTOM_OF_GAP, TIP_OF_GAP, OPENING_OF_PITCH = 0.82, 0.5, 0.42, 0.45, 0.03, 0.2
INNER_GAP_OF_CAN, INNER_BOTTOM_OF_CAN = 0.52, 0.82  # of a motor whose rotor turns inside
LINER_M, LEAD_M, COVER, LAMINATION_M, AIR_GAP_M = 0.3e-3, 0.15, 0.85, 0.35e-3, 0.5e-3
FLUX_DENSITY_T, FILLED, PINNED = 0.85, 0.36, 0.80  # fundamental in the gap; a factory's fill; what straight pins leave free in a slot
MOST_HZ_STRAND = ((300.0, 1.0e-3), (800.0, 0.7e-3), (math.inf, 0.5e-3))  # largest strand by electrical frequency
USUAL_SLOTS = {2: 6, 3: 9, 4: 12, 5: 12, 6: 9, 7: 12, 8: 18, 10: 24, 11: 24, 12: 27, 13: 24, 14: 24, 15: 27, 16: 36, 20: 36, 21: 36}


@record(frozen=True, slots=True, kw_only=True)
class Iron:
    """All of it [m]; what nobody measured is noted as assumed in the inputs."""

    slots: int
    poles: int
    rotor_inside: bool
    gap_m: float  # diameter
    bottom_m: float  # diameter
    tip_m: float
    opening_m: float
    cover: float
    lamination_m: float
    air_gap_m: float
    area_by: str  # how the slot's area is known: told, pins, outline, typical fill
    wound: Slots

    @property
    def pairs(self) -> int:
        return self.poles // 2

    @property
    def name(self) -> str:
        return star.name(self.slots, self.poles)


def subject(design: Design) -> Design:
    """The design with the motor whose winding is looked at, as it was before any rewind."""
    winding = design.variant().winding
    if winding is None:
        return design
    if winding.was is not None:
        return put(design, "variant.motor", winding.was)
    if winding.part and winding.part != design.variant().motor.part:
        return put(design, "variant.motor", replace(design.variant().motor, part=winding.part, overrides={}))
    return design


def choice_of(design: Design) -> MotorChoice:
    """The motor that is looked at."""
    return subject(design).variant().motor


def usual_slots(pairs: int) -> int:
    """Slots that such a rotor usually turns round: of the tables, else those with the best factor and no side pull."""
    if pairs in USUAL_SLOTS:
        return USUAL_SLOTS[pairs]
    found = [slots for slots, _ in star.alternatives(2 * pairs, 60) if not star.side_pull(slots, 2 * pairs)]
    return found[0] if found else 3 * max(1, round(2 * pairs / 3.5))


def iron_of(read: Reader, base: str, told: Winding, part: MotorPart, motor: Motor) -> Iron:
    """Raises InputError where there is no rotor to wind for."""
    stator = told.stator
    where = f"{base}.winding.stator"

    def length(name: str, default: float) -> float:
        value: Quantity | None = getattr(stator, name)
        if value is not None:
            return read.quantity(f"{where}.{name}", value, "length")
        return read.keep(f"{where}.{name}", default, Known.ASSUMED, "length")

    def count(name: str, told_count: int | None, default: int, known: Known = Known.ASSUMED) -> int:
        value, how = (told_count, Known.MEASURED) if told_count is not None else (default, known)
        return round(read.keep(f"{where}.{name}", float(value), how, "count"))

    pairs = round(float(motor.pole_pairs))
    if motor.brushed or (pairs < 1 and stator.poles is None):
        raise InputError("motor", part.name, "a brushless motor: the coils of a brushed one turn on its commutator")
    poles = count("poles", stator.poles, 2 * pairs, Known.STATED)
    slots = count("slots", stator.slots, usual_slots(max(poles // 2, 1)))
    can, inside = part.can_mm / 1e3, part.family == "inrunner"
    gap = length("gap_diameter", can * (INNER_GAP_OF_CAN if inside else GAP_OF_CAN))
    bottom = length("slot_bottom", can * INNER_BOTTOM_OF_CAN if inside else gap * BOTTOM_OF_GAP)
    if inside == (bottom < gap):
        side = "above" if inside else "under"
        raise InputError(f"{where}.slot_bottom", f"{1e3 * bottom:g} mm", f"{side} the diameter at the air gap, {1e3 * gap:g} mm")
    pitch = math.pi * gap / slots
    tooth, tip = length("tooth", TOOTH_OF_PITCH * pitch), length("tip", TIP_OF_GAP * gap)
    stack = length("stack", STACK_OF_CAN * part.length_mm / 1e3)
    opening = length("opening", OPENING_OF_PITCH * pitch)
    liner, lead = length("liner", LINER_M), length("lead", LEAD_M)
    outline = outline_area_m2(slots, gap, bottom, tooth, tip, liner)
    build = max(0.5 * (math.pi * 0.5 * (gap + bottom) / slots - tooth) - liner, 0.3e-3)
    area, by = _area(read, where, stator, outline)
    return Iron(
        slots=slots,
        poles=poles,
        rotor_inside=inside,
        gap_m=gap,
        bottom_m=bottom,
        tip_m=tip,
        opening_m=opening,
        cover=_share(read, where, stator),
        lamination_m=length("lamination", LAMINATION_M),
        air_gap_m=length("air_gap", AIR_GAP_M),
        area_by=by,
        wound=Slots(slots=slots, stack_m=stack, tooth_m=tooth, slot_m2=area, build_m=build, liner_m=liner, lead_m=lead),
    )


def _share(read: Reader, where: str, stator: Stator) -> float:
    if stator.magnet_cover is not None:
        return read.quantity(f"{where}.magnet_cover", stator.magnet_cover, "share")
    return read.keep(f"{where}.magnet_cover", COVER, Known.ASSUMED, "share")


def _area(read: Reader, where: str, stator: Stator, outline: float) -> tuple[float, str]:
    """(slot area [m2], by what): told, by pins, by an outline of which something was measured, or nan until what is in it tells."""
    if stator.slot_area is not None:
        return read.quantity(f"{where}.slot_area", stator.slot_area, "section"), "told"
    if stator.pins is not None and stator.pin_diameter is not None:
        area = stator.pins * math.pi / 4.0 * stator.pin_diameter.value**2 / PINNED
        return read.keep(f"{where}.slot_area", area, Known.COMPUTED, "section"), "pins"
    if stator.tooth is not None and stator.gap_diameter is not None and stator.slot_bottom is not None:
        if not outline > 0.0:
            raise InputError(f"{where}.tooth", f"{1e3 * stator.tooth.value:g} mm", "teeth that leave slots between them")
        return read.keep(f"{where}.slot_area", outline, Known.COMPUTED, "section"), "outline"
    return math.nan, "typical fill"


def outline_area_m2(slots: int, gap: float, bottom: float, tooth: float, tip: float, liner: float) -> float:
    """Area of one slot between two teeth under their shoes, less the liner on its walls [m2]."""
    inner, outer = sorted((bottom, gap + (2.0 * tip if bottom > gap else -2.0 * tip)))
    depth = 0.5 * (outer - inner)
    whole = math.pi / 4.0 * (outer**2 - inner**2) / slots - tooth * depth
    return whole - liner * (2.0 * depth + math.pi * bottom / slots - tooth)


@record(frozen=True, slots=True, kw_only=True)
class Base:
    """The motor as it is: what is wound on it, and its figures."""

    iron: Iron
    coils: Coils
    motor: Motor
    part: MotorPart
    inputs: dict[str, Input]
    by_measures_ohm: float  # what its measures would give between two leads


def most_strand_m(hz: float) -> float:
    """Largest strand that skin and proximity allow at an electrical frequency [m]; typical."""
    return next(size for most, size in MOST_HZ_STRAND if hz <= most)


def base_of(read: Reader, base: str, told: Winding, part: MotorPart, motor: Motor, hz: float) -> Base:
    """What is wound now: as told, else turns by a typical field, copper by the resistance, wire by the frequency."""
    iron = iron_of(read, base, told, part, motor)
    where, now = f"{base}.winding.now", told.now

    def count(name: str, value: int | None, default: float) -> int:
        how = Known.MEASURED if value is not None else Known.ASSUMED
        return max(1, round(read.keep(f"{where}.{name}", float(value if value is not None else default), how, "count")))

    connection = now.connection or Connection.WYE
    layers = count("layers", now.layers, 2)
    paths = count("paths", now.paths, 1)
    useful = star.refusal(iron.slots, iron.poles, layers) == ""
    factor = star.factor(star.pattern(iron.slots, iron.poles, layers)) if useful else 0.9
    one = kv_of_field(
        coils_a_phase(iron.wound, layers) / paths, factor, FLUX_DENSITY_T, iron.gap_m, iron.wound.stack_m, connection
    )  # kv with one turn a tooth
    turns = count("turns", now.turns, max(1.0, float(one) / float(motor.kv_rpm_per_v)))
    wire, strands = _wire(read, where, now, iron, motor, turns, paths, layers, connection, hz)
    coils = Coils(turns=turns, strands=strands, wire_m=wire, connection=connection, paths=paths, layers=layers)
    if not math.isfinite(iron.wound.slot_m2):
        area = layers * turns * coils.area_m2 / FILLED
        read.keep(f"{base}.winding.stator.slot_area", area, Known.ASSUMED, "section")
        iron = replace(iron, wound=replace(iron.wound, slot_m2=area))
    from wattagon.physics.winding.coil import line_ohm

    inputs = read.inputs or {}
    return Base(iron=iron, coils=coils, motor=motor, part=part, inputs=inputs, by_measures_ohm=float(line_ohm(iron.wound, coils)))


def _wire(
    read: Reader,
    where: str,
    now: Wound,
    iron: Iron,
    motor: Motor,
    turns: int,
    paths: int,
    layers: int,
    connection: Connection,
    hz: float,
) -> tuple[float, int]:
    """(bare diameter [m], strands) as told, else what gives the resistance by the mean turn."""
    phase = float(motor.resistance_ohm) / leg_factor(connection)
    length = mean_turn_m(iron.wound) * turns * coils_a_phase(iron.wound, layers) / paths + iron.wound.lead_m
    area = COPPER_OHM_M * length / phase / paths
    strands, wire = now.strands, now.wire
    if wire is None:
        many = strands or max(1, math.ceil(area / (math.pi / 4.0 * most_strand_m(hz) ** 2) - 1e-9))
        size = math.sqrt(4.0 * area / (math.pi * many))
        wire_m = read.keep(f"{where}.wire", size, Known.ASSUMED, "length")
    else:
        wire_m = read.quantity(f"{where}.wire", wire, "length")
        many = strands or max(1, round(area / (math.pi / 4.0 * wire_m**2)))
    how = Known.MEASURED if strands is not None else Known.ASSUMED
    return wire_m, max(1, round(read.keep(f"{where}.strands", float(many), how, "count")))
