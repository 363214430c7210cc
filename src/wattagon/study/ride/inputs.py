"""What a ride needs beyond the drive study: heat of controller and pack, tapers, brakes, pedals; each with how it is known."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known
from wattagon.design.tree import Design
from wattagon.physics.ride.plant import Extras, Plant, Shifting, make_plant
from wattagon.physics.wiring.box import inside_c
from wattagon.study.drive.inputs import RAMP_DOWN_S, RAMP_UP_S
from wattagon.study.resolve import Input, Resolved
from wattagon.study.resolve.wiring import box_of

BOOST_TAU_S = 20.0
CONTROLLER_TAPER_C = (80.0, 100.0)
CONTROLLER_J_PER_KG_K = 800.0  # board, aluminium and potting together
AMPS_TIMES_K_PER_W = 50.0  # resistance to the air falls as controllers grow: 1 K/W at 50 A continuous
BOX_FILMS_M2K_PER_W = 1.0 / 8.0 + 0.003 / 0.2 + 1.0 / 15.0  # air inside, 3 mm of plastic, air outside
PACK_FILM_W_PER_M2K = 6.0  # wrapped pack on a deck
PACK_KG_PER_M3 = 1900.0
PACK_J_PER_KG_K = 1000.0
PACK_LIMIT_C = 60.0
RESISTOR_J_PER_KG_K = 500.0
RESISTOR_W_PER_K_KG = 5.0
BOX_W = 20.0  # at which the rise of a told box is taken; it grows a little slower than the watts
SHIFT_PAUSE_S = 0.4  # without torque


def extras_of(design: Design, resolved: Resolved) -> tuple[Extras, dict[str, Input]]:
    """(what the ride adds, its inputs by path) of a resolved variant."""
    inputs: dict[str, Input] = {}
    vehicle, conditions, choice = design.vehicle, design.brief.conditions, resolved.variant.controller
    part, base = resolved.controller_part, f"variants.{resolved.variant.id}"

    def keep(path: str, value: float, known: Known, dimension: str = "number") -> float:
        inputs[path] = Input(value=value, known=known, dimension=dimension)
        return value

    def row(name: str, given: float | None, default: float, dimension: str) -> float:
        if given is not None:
            return keep(f"stock.{part.id}.{name}", given, Known.STATED, dimension)
        return keep(f"{base}.controller.{name}", default, Known.ASSUMED, dimension)

    def setting(name: str, default: float, dimension: str, assumed: bool = True) -> float:
        given = getattr(choice, name)
        if given is not None:
            return keep(f"{base}.controller.{name}", float(given), Known.STATED, dimension)
        return keep(f"{base}.controller.{name}", default, Known.ASSUMED, dimension) if assumed else default

    pack_kg = resolved.pack_kg
    area = 6.0 * (pack_kg / PACK_KG_PER_M3) ** (2.0 / 3.0)
    start = setting("motor_taper_start_c", math.inf, "temperature", assumed=False)
    end = setting("motor_taper_end_c", start + 20.0 if math.isfinite(start) else math.inf, "temperature", assumed=math.isfinite(start))
    weight = float(resolved.load.mass_kg) * 9.80665
    brakes = 0.0 if vehicle.kind.floats else KINDS[vehicle.kind].brake_share * weight
    if vehicle.kind.floats:
        pass  # water holds a boat back, and its propeller in reverse
    elif vehicle.brake_force is not None:
        brakes = keep("vehicle.brake_force", vehicle.brake_force.value, vehicle.brake_force.known, "force")
    else:
        keep("vehicle.brake_force", brakes, Known.ASSUMED, "force")
    amps = min(float(resolved.train.controller.motor_current_continuous_a), 400.0)
    taper_start = row("taper_start_c", part.taper_start_c, CONTROLLER_TAPER_C[0], "temperature")
    extras = Extras(
        boost_tau_s=setting("boost_tau_s", BOOST_TAU_S, "time"),
        motor_taper_c=(start, max(end, start)),
        controller_taper_c=(
            taper_start,
            max(row("taper_end_c", part.taper_end_c, CONTROLLER_TAPER_C[1], "temperature"), taper_start + 1.0),
        ),
        controller_j_per_k=row("heat_j_per_k", part.heat_j_per_k, max(CONTROLLER_J_PER_KG_K * part.mass_kg, 20.0), "heat_capacity"),
        controller_k_per_w=row("to_air_k_per_w", part.to_air_k_per_w, AMPS_TIMES_K_PER_W / amps, "thermal_resistance"),
        box_k_per_w=_box_k_per_w(design, resolved, setting),
        pack_kg=pack_kg,
        pack_j_per_kg_k=keep(f"{base}.pack.heat_j_per_kg_k", PACK_J_PER_KG_K, Known.ASSUMED),
        pack_w_per_k=keep(f"{base}.pack.to_air_w_per_k", PACK_FILM_W_PER_M2K * area, Known.ASSUMED),
        pack_limit_c=PACK_LIMIT_C,
        resistor_ohm=setting("brake_resistor_ohm", 0.0, "resistance", assumed=False),
        resistor_j_per_k=RESISTOR_J_PER_KG_K * choice.brake_resistor_mass,
        resistor_w_per_k=RESISTOR_W_PER_K_KG * choice.brake_resistor_mass,
        friction_brake_n=brakes,
        rise_s=setting("ramp_up_s", RAMP_UP_S, "time"),
        fall_s=setting("ramp_down_s", RAMP_DOWN_S, "time"),
        pedal_w=float(resolved.load.rider_w),
        pedal_top_m_s=float(resolved.load.rider_top_m_s),
        air_c=resolved.day_c,
        around_c=resolved.air_c,
        sun_w_m2=conditions.sun.value,
    )
    return extras, inputs


def _box_k_per_w(design: Design, resolved: Resolved, setting: Callable[[str, float, str], float]) -> float:
    """Rise of the air in a closed box for a watt [K/W]: by the faces of one that the wiring tells, else by the films on its area."""
    wiring = resolved.variant.wiring
    if wiring is not None and wiring.box is not None:
        box, air = box_of(wiring.box), resolved.day_c
        return (inside_c(box, BOX_W, air) - air) / BOX_W
    return BOX_FILMS_M2K_PER_W / setting("box_area", 1.0, "area") if resolved.variant.controller.box_area is not None else 0.0


def shifting_of(resolved: Resolved, inputs: dict[str, Input]) -> Shifting | None:
    """How the bike's own gears are shifted, from the gear that a resolved variant is in; None without.  Writes what it rests on."""
    gears = resolved.variant.gears
    if gears is None:
        return None
    base = f"variants.{resolved.variant.id}.gears"
    pause = SHIFT_PAUSE_S if gears.shift_pause is None else gears.shift_pause
    inputs[f"{base}.shift_pause"] = Input(value=pause, known=Known.ASSUMED if gears.shift_pause is None else Known.STATED, dimension="time")
    inputs[f"{base}.cadence_low"] = Input(value=gears.cadence_low, known=Known.STATED, dimension="rpm")
    now = gears.cogs[resolved.gear - 1]
    return Shifting(
        factors=tuple(cog / now for cog in gears.cogs),
        gear=resolved.gear - 1,
        crank_ratio=now / gears.ring,
        low_rpm=gears.cadence_low,
        up_rpm=gears.shift_up or 0.0,
        pause_s=pause,
    )


def plant_of(design: Design, resolved: Resolved, *, shifts: bool = True) -> tuple[Plant, dict[str, Input]]:
    """(numbers of the ride loop, inputs that the ride adds); without `shifts` it stays in its gear."""
    extras, inputs = extras_of(design, resolved)
    if shifts:
        extras = replace(extras, shifting=shifting_of(resolved, inputs))
    return make_plant(resolved.train, resolved.load, extras), inputs
