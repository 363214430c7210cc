"""A motor and its heat."""

from __future__ import annotations

import math

from wattagon.design.parts import MotorPart
from wattagon.design.quantity import Known
from wattagon.design.tree import (
    MotorChoice,
)
from wattagon.physics.motor import Motor
from wattagon.physics.thermal import MotorHeat, cross_flow_film
from wattagon.study.resolve.reader import Reader

AIR_SHARE = {"outrunner": 0.5, "sensored": 0.4, "inrunner": 0.4, "hub": 0.8, "brushed": 0.4, "submerged": 0.5}
FILM_STILL = {"outrunner": 12.0, "sensored": 10.0, "inrunner": 8.0, "hub": 10.0, "brushed": 8.0, "submerged": 10.0}
MOUNT_W_PER_K = {"outrunner": 0.5, "sensored": 0.5, "inrunner": 0.4, "hub": 0.2, "brushed": 0.6, "submerged": 0.5}


def motor_of(read: Reader, base: str, choice: MotorChoice, part: MotorPart) -> Motor:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.motor", choice, part, name, default, dimension)

    resistance = need("resistance_ohm", part.resistance_ohm, "resistance")
    return Motor(
        kv_rpm_per_v=need("kv_rpm_per_v", part.kv_rpm_per_v, "kv"),
        resistance_ohm=resistance,
        # L/R of about 0.7 ms is typical of small outrunners
        inductance_h=need("inductance_h", 0.7e-3 * resistance, "inductance"),
        pole_pairs=need("pole_pairs", part.pole_pairs),
        no_load_a=need("no_load_a", 0.02 * (part.current_continuous_a or 40.0), "current"),
        no_load_slope_a_s=need("no_load_slope_a_s", 0.001),
        rotor_inertia_kg_m2=need("rotor_inertia_kg_m2", 0.07 * part.mass_kg * (part.can_mm / 1e3) ** 2, "inertia"),
        brush_drop_v=need("brush_drop_v", 0.0, "voltage"),
        brushed=part.family == "brushed",
    )


def heat_of(read: Reader, base: str, choice: MotorChoice, part: MotorPart) -> MotorHeat:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.motor", choice, part, name, default, dimension)

    d, length = part.can_mm / 1e3, part.length_mm / 1e3
    film, mount, share = (table.get(part.family, table["outrunner"]) for table in (FILM_STILL, MOUNT_W_PER_K, AIR_SHARE))
    mount, share = need("mount_w_per_k", mount), need("air_share", share, "share")
    film = read.keep(f"{base}.motor.film_still", film, Known.ASSUMED)
    return MotorHeat(
        winding_j_per_k=need("winding_j_per_k", 150.0 * part.mass_kg, "heat_capacity"),
        case_j_per_k=need("case_j_per_k", 350.0 * part.mass_kg, "heat_capacity"),
        winding_to_case_k_per_w=need("winding_to_case_k_per_w", 0.45 / part.mass_kg, "thermal_resistance"),
        case_area_m2=math.pi * d * length + math.pi * d * d / 2.0,
        film_still=film,
        film_moving=cross_flow_film(d),
        air_share=share,
        mount_w_per_k=mount,
        limit_c=need("limit_c", 120.0, "temperature"),
        fixed_w_per_k=need("fixed_w_per_k", 0.0),
    )
