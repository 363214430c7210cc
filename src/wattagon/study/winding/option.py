"""One way to wind the motor, with all that follows from it; and the list of those that give a kv."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import WirePart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import MotorChoice
from wattagon.errors import InputError
from wattagon.physics.winding import star
from wattagon.physics.winding.coil import (
    COPPER_J_KG_K,
    HEXAGONAL,
    THICK,
    THIN,
    Coils,
    Connection,
    constant_per_root_watt,
    copper_kg,
    cut_m,
    fill,
    inductance_after,
    kv_after,
    kv_factor,
    ohm_after,
    overall_mm,
    packed,
    strands_that_fit,
)
from wattagon.record import record
from wattagon.study.winding.iron import Base, most_strand_m

FEW, FILL_FEW, FILL_MANY, FILL_HAND, FILL_MOST = 3, 0.45, 0.36, 0.36, 0.50  # reached by hand: few thick wires, many thin ones; above it not
STIFF_M = 1.25e-3  # wire that a hand still pulls tight round a tooth; judged
PASSES = 0.9  # of the gap between tips that a wire may fill
NEAR, TURNS_ROUND = 0.12, 1  # how far kv may be off; turns beside the nearest
LEAST_L_H = 10e-6  # below it controllers may refuse; typical
MOST_OPTIONS = 12
DELTA_WORTH, DELTA_TURNS = 0.05, 4  # when delta is worth its ring current


class ByHand(NamedTuple):
    """Whether a hand can wind it, and what stands against it."""

    good: bool
    says: tuple[str, ...]


@record(frozen=True, slots=True, kw_only=True)
class Option:
    """One winding and the motor that it makes; figures at 20 C between two leads."""

    coils: Coils
    kv: float
    off: float  # of the wanted kv, as a share
    ohm: float
    henry: float
    root_watt: float  # motor constant [N m/sqrt(W)]
    fill: float
    copper_kg: float
    wire_m: float
    reels: int
    reel: WirePart | None
    by_hand: ByHand
    overrides: Mapping[str, float]

    @property
    def name(self) -> str:
        coils = self.coils
        ways = f", {coils.paths} parallel paths" if coils.paths > 1 else ""
        single = ", every other tooth" if coils.layers == 1 else ""
        return f"{coils.turns:g} turns, {coils.strands:g} x {1e3 * coils.wire_m:g} mm, {coils.connection.value}{ways}{single}"

    def edit(self, motor: MotorChoice, label: str = "") -> Edit:
        """The motor with this winding, in the drive."""
        overrides = {**motor.overrides, **{name: Quantity(value=value, known=Known.COMPUTED) for name, value in self.overrides.items()}}
        return Edit(label=label or f"Rewound: {self.name}", changes=(("variant.motor", replace(motor, overrides=overrides)),))


def option(base: Base, coils: Coils, stock: Catalogue, wanted: float | None = None, coat: float = THIN) -> Option:
    """What a winding makes of a motor.  Raises InputError for one that cannot be wound on this iron."""
    check(base, coils, coat)
    iron = base.iron
    kv, ohm = float(kv_after(base.motor.kv_rpm_per_v, base.coils, coils)), float(ohm_after(base.motor.resistance_ohm, base.coils, coils))
    henry = float(inductance_after(base.motor.inductance_h, base.coils, coils))
    mass, reel = copper_kg(iron.wound, coils), wire_of(stock, coils.wire_m, coat)
    metres = cut_m(iron.wound, coils)
    return Option(
        coils=coils,
        kv=kv,
        off=kv / wanted - 1.0 if wanted else 0.0,
        ohm=ohm,
        henry=henry,
        root_watt=float(constant_per_root_watt(kv, ohm)),
        fill=fill(iron.wound, coils),
        copper_kg=mass,
        wire_m=metres,
        reels=math.ceil(metres / reel.length_m - 1e-9) if reel is not None else 0,
        reel=reel,
        by_hand=by_hand(base, coils, coat),
        overrides=overrides(base, kv, ohm, henry, mass),
    )


def overrides(base: Base, kv: float, ohm: float, henry: float, mass: float) -> dict[str, float]:
    """Values of the part that a rewind moves: no-load power, amp-turns and lasting heat stay what they are."""
    part, motor = base.part, base.motor
    current, turns = math.sqrt(float(motor.resistance_ohm) / ohm), kv / float(motor.kv_rpm_per_v)
    made = {
        "kv_rpm_per_v": kv,
        "resistance_ohm": ohm,
        "inductance_h": henry,
        "no_load_a": float(motor.no_load_a) * turns,
        "no_load_slope_a_s": float(motor.no_load_slope_a_s) * turns,
    }
    if part.current_continuous_a is not None:
        made["current_continuous_a"] = part.current_continuous_a * current
    if part.current_peak_a is not None:
        made["current_peak_a"] = part.current_peak_a * turns
    if part.winding_j_per_k is not None:
        old = copper_kg(base.iron.wound, base.coils)
        made["winding_j_per_k"] = max(part.winding_j_per_k + COPPER_J_KG_K * (mass - old), 0.3 * part.winding_j_per_k)
    return made


def check(base: Base, coils: Coils, coat: float = THIN) -> None:
    """Raises InputError for a winding that is impossible on this iron."""
    iron = base.iron
    why = star.refusal(iron.slots, iron.poles, coils.layers)
    if why:
        raise InputError("slots and poles", iron.name, why)
    if not coils.turns >= 1 or coils.turns != int(coils.turns):
        raise InputError("turns", f"{coils.turns:g}", "a whole number, 1 or more")
    if not coils.strands >= 1 or coils.strands != int(coils.strands):
        raise InputError("strands", f"{coils.strands:g}", "a whole number, 1 or more")
    allowed = star.paths_allowed(star.pattern(iron.slots, iron.poles, coils.layers))
    if coils.paths not in allowed:
        raise InputError("paths", coils.paths, f"{', '.join(map(str, allowed))} on {iron.name}: each path has to hold the same spokes")
    over = float(overall_mm(1e3 * coils.wire_m, coat))
    if over > 1e3 * iron.opening_m:
        raise InputError(
            "wire", f"{1e3 * coils.wire_m:g} mm", f"wire that passes the {1e3 * iron.opening_m:.2g} mm between the teeth's tips"
        )
    share = packed(iron.wound, coils, coat)
    if share > HEXAGONAL:
        most = math.floor(coils.strands * coils.turns * HEXAGONAL / share)
        raise InputError(
            "turns and strands",
            f"{coils.turns:g} x {coils.strands:g} of {1e3 * coils.wire_m:g} mm",
            f"up to {most} wires a coil in {1e6 * iron.wound.slot_m2:.3g} mm² of slot, enamel in it",
        )


def by_hand(base: Base, coils: Coils, coat: float = THIN) -> ByHand:
    """Fill, stiffness and the way in."""
    iron, says = base.iron, []
    share = fill(iron.wound, coils)
    most = FILL_FEW if coils.strands <= FEW else FILL_HAND
    good = share <= FILL_MOST
    if share > FILL_MOST:
        says.append(f"fill {share:.2f}: above {FILL_MOST:.2f} not by hand")
    elif share > most:
        says.append(f"fill {share:.2f}: more than {most:.2f} asks for patience with {'few' if coils.strands <= FEW else 'many'} wires")
    if coils.wire_m > STIFF_M:
        good = False
        says.append(f"{1e3 * coils.wire_m:g} mm is stiff: it springs off the tooth")
    over = float(overall_mm(1e3 * coils.wire_m, coat)) * 1e-3
    if over > PASSES * iron.opening_m:
        good = False
        says.append(f"{1e3 * over:.2f} mm over its enamel scrapes through {1e3 * iron.opening_m:.2f} mm")
    elif coils.strands > 1 and bundle_m(over, coils.strands) > iron.opening_m:
        says.append("the bundle goes in a few strands at a time")
    return ByHand(good, tuple(says))


def bundle_m(over_m: float, strands: float) -> float:
    """Diameter of a twisted bundle [m]: circles at a packing of 0.75, judged."""
    return over_m * math.sqrt(strands / 0.75) if strands > 1 else over_m


def wire_of(stock: Catalogue, wire_m: float, coat: float = THIN) -> WirePart | None:
    """The reel of stock with a wire of that size, in the coat that is asked for where there is one."""
    fit = [one for one in stock.all(WirePart) if abs(one.bare_mm - 1e3 * wire_m) < 0.006]
    return min(fit, key=lambda one: (abs(one.over_mm - float(overall_mm(one.bare_mm, coat))), one.price), default=None)


def best_wire(base: Base, stock: Catalogue, turns: int, layers: int, hz: float, coat: float = THIN) -> tuple[float, int] | None:
    """(bare diameter [m], strands) with the most copper that a hand gets in; the fewest strands of those that nearly do."""
    iron, most = base.iron, most_strand_m(hz)
    found = []
    for size in sorted({one.bare_mm * 1e-3 for one in stock.all(WirePart)}):
        over = float(overall_mm(1e3 * size, coat)) * 1e-3
        if size > most + 1e-9 or size > STIFF_M or over > PASSES * iron.opening_m:
            continue
        for reach, fewest, mosts in ((FILL_FEW, 1, FEW), (FILL_MANY, FEW + 1, 60)):
            strands = min(strands_that_fit(iron.wound, turns, size, reach, layers), mosts)
            if strands < fewest:
                continue
            coils = Coils(turns=turns, strands=strands, wire_m=size, layers=layers)
            if packed(iron.wound, coils, coat) <= 0.80:  # judged: by hand, square or worse
                found.append((coils.area_m2, strands, size))
    if not found:
        return None
    top = max(area for area, _, _ in found)
    _, strands, size = min((one for one in found if one[0] >= 0.93 * top), key=lambda one: (one[1], -one[0]))
    return size, strands


def options(
    base: Base, stock: Catalogue, wanted: float, hz: float, coat: float = THIN, most: int = MOST_OPTIONS, near: float = NEAR
) -> tuple[Option, ...]:
    """Whole turns in wye and delta, for each number of parallel paths, the nearest kv first; ties to wye, then to fewer paths."""
    made, seen = [], set()
    for coils in target_table(base, wanted, near=near):
        wire = best_wire(base, stock, round(coils.turns), coils.layers, hz, coat)
        if wire is None:
            continue
        full = replace(coils, wire_m=wire[0], strands=wire[1])
        if full in seen:
            continue
        seen.add(full)
        try:
            made.append(option(base, full, stock, wanted, coat))
        except InputError:
            continue
        if len(made) >= most:
            break
    return tuple(made)


def target_table(base: Base, wanted: float, *, near: float = NEAR, series_only: bool = False) -> tuple[Coils, ...]:
    """Turns, connection and paths by nearness of kv; strands and wire are those of now.  Source: kv2 = kv1 (N1/N2)(a2/a1) c."""
    iron, now = base.iron, base.coils
    if star.refusal(iron.slots, iron.poles, now.layers):
        return ()
    allowed: Sequence[int] = (1,) if series_only else star.paths_allowed(star.pattern(iron.slots, iron.poles, now.layers))
    kv, found = float(base.motor.kv_rpm_per_v), []
    for connection in Connection:
        for paths in allowed:
            exact = now.turns * kv / wanted * kv_factor(now.connection, connection) * paths / now.paths
            for turns in range(max(1, math.floor(exact) - TURNS_ROUND), math.ceil(exact) + TURNS_ROUND + 1):
                coils = replace(now, turns=turns, connection=connection, paths=paths)
                off = math.log(float(kv_after(kv, now, coils)) / wanted)
                if abs(off) <= near:
                    found.append((round(abs(off), 9), connection is Connection.DELTA, paths, coils))
    return tuple(one[-1] for one in sorted(found, key=lambda one: one[:3]))


def advised(found: Sequence[Option]) -> Option | None:
    """Which of them to take: one that a hand can wind, in wye unless delta is nearer by much or turns would be under four."""
    good = [one for one in found if one.by_hand.good] or list(found)
    wye = [one for one in good if one.coils.connection is Connection.WYE and one.coils.turns >= DELTA_TURNS and abs(one.off) <= DELTA_WORTH]
    near = min(wye, key=lambda one: (abs(one.off) > 0.02, -one.root_watt, abs(one.off)), default=None)
    return near if near is not None else min(good, key=lambda one: abs(one.off), default=None)


def prefers(one: Option, best: Option | None) -> str:
    """Why another is advised instead of this one; empty where nothing stands against it."""
    if best is None or best.coils == one.coils:
        return ""
    if one.coils.connection is Connection.DELTA and best.coils.connection is Connection.WYE:
        return f"{best.name} is advised: {100 * best.off:+.1f} % is near enough, and a wye has no ring current"
    return ""


COAT_OF = {"": THIN, "thin": THIN, "thick": THICK}
