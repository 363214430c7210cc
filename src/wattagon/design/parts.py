"""Kinds of part in the stock catalogue.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field

from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Part:
    """What every part has."""

    id: str
    name: str
    mass_kg: float = field(metadata=spec("mass", "mass", 0.0, 1000.0))
    price: float = field(metadata=spec("price", "money", 0.0, 1e6))
    lead_days: int = field(default=0, metadata={**spec("delivery", "days", 0, 1000), "row_only": True})
    source: str = field(default="shipped", metadata=spec("where the row comes from"))


@record(frozen=True, slots=True, kw_only=True)
class MotorPart(Part):
    """A motor; ratings in the controller's own motor amps."""

    family: str  # outrunner, sensored, submerged, inrunner, hub, brushed
    can_mm: float = field(metadata=spec("can diameter", "number", 10.0, 500.0))
    length_mm: float = field(metadata=spec("can length", "number", 5.0, 500.0))
    shaft_mm: float | None = field(default=None, metadata=spec("shaft", "number", 1.0, 60.0))
    kv_rpm_per_v: float = field(metadata=spec("kv", "kv", 1.0, 20000.0))
    resistance_ohm: float = field(metadata=spec("resistance", "resistance", 1e-4, 20.0, "between two terminals at 20 C"))
    inductance_h: float | None = field(default=None, metadata=spec("inductance", "inductance", 0.0, 0.1))
    pole_pairs: int = field(default=7, metadata=spec("pole pairs", "number", 0, 60))
    no_load_a: float | None = field(default=None, metadata=spec("no-load current", "current", 0.0, 50.0))
    no_load_slope_a_s: float | None = field(default=None, metadata=spec("growth of no-load current", "number", 0.0, 1.0))
    rotor_inertia_kg_m2: float | None = field(default=None, metadata=spec("rotor inertia", "inertia", 0.0, 5.0))
    current_continuous_a: float | None = field(default=None, metadata=spec("continuous motor amps", "current", 0.5, 2000.0))
    current_peak_a: float | None = field(default=None, metadata=spec("peak motor amps", "current", 0.5, 4000.0))
    voltage_max_v: float | None = field(default=None, metadata=spec("highest voltage", "voltage", 1.0, 1000.0))
    rpm_max: float | None = field(default=None, metadata=spec("highest speed", "rpm", 1.0, 200000.0))
    brush_drop_v: float = field(default=0.0, metadata=spec("brush drop", "voltage", 0.0, 5.0))
    winding_j_per_k: float | None = field(default=None, metadata=spec("winding heat capacity", "heat_capacity", 0.1, 1e6))
    case_j_per_k: float | None = field(default=None, metadata=spec("case heat capacity", "heat_capacity", 0.1, 1e6))
    winding_to_case_k_per_w: float | None = field(
        default=None, metadata=spec("winding to case", "thermal_resistance", 1e-4, 100.0)
    )
    fixed_w_per_k: float | None = field(default=None, metadata=spec("water cooling", "number", 0.0, 1000.0))
    limit_c: float | None = field(default=None, metadata=spec("winding limit", "temperature", 40.0, 300.0))
    mount_w_per_k: float | None = field(default=None, metadata=spec("heat into the mount", "number", 0.0, 100.0, "W/K, a plate or heat sink"))
    air_share: float | None = field(default=None, metadata=spec("air that reaches the case", "share", 0.0, 1.0))


@record(frozen=True, slots=True, kw_only=True)
class ControllerPart(Part):
    """A speed controller, one a motor."""

    voltage_max_v: float | None = field(default=None, metadata=spec("highest supply", "voltage", 1.0, 1000.0))
    motor_current_continuous_a: float | None = field(
        default=None, metadata=spec("continuous motor amps", "current", 1.0, 2000.0)
    )
    motor_current_burst_a: float | None = field(default=None, metadata=spec("burst motor amps", "current", 1.0, 4000.0))
    pack_current_max_a: float | None = field(default=None, metadata=spec("highest pack amps", "current", 1.0, 2000.0))
    erpm_max: float | None = field(default=None, metadata=spec("electrical speed", "rpm", 1000.0, 1e6))
    duty_max: float = field(default=0.95, metadata=spec("largest duty", "share", 0.5, 1.0))
    bridge_ohm: float | None = field(default=None, metadata=spec("bridge resistance", "resistance", 0.0, 0.5))
    switching_v_per_v: float | None = field(default=None, metadata=spec("switching loss", "share", 0.0, 0.1))
    idle_w: float | None = field(default=None, metadata=spec("idle power", "power", 0.0, 100.0))
    heat_j_per_k: float | None = field(default=None, metadata=spec("heat capacity", "heat_capacity", 1.0, 1e5))
    to_air_k_per_w: float | None = field(default=None, metadata=spec("controller to air", "thermal_resistance", 0.01, 50.0))
    taper_start_c: float | None = field(default=None, metadata=spec("controller taper starts", "temperature", 40.0, 150.0))
    taper_end_c: float | None = field(default=None, metadata=spec("controller taper ends", "temperature", 40.0, 180.0))
    brushed: bool = False


@record(frozen=True, slots=True, kw_only=True)
class CellPart(Part):
    """A cell, or a ready pack of `brick_series` by `brick_parallel` cells; resistances and currents are per cell."""

    chemistry: str
    capacity_ah: float = field(metadata=spec("capacity of one cell", "capacity", 0.05, 1000.0))
    cell_r0_ohm: float = field(metadata=spec("cell resistance", "resistance", 1e-5, 1.0, "1 s, 25 C"))
    cell_r1_ohm: float | None = field(default=None, metadata=spec("slow cell resistance", "resistance", 0.0, 1.0))
    continuous_a: float | None = field(default=None, metadata=spec("continuous cell amps", "current", 0.05, 5000.0))
    burst_a: float | None = field(default=None, metadata=spec("burst cell amps", "current", 0.05, 10000.0))
    brick_series: int = field(default=1, metadata=spec("cells in series in a brick", "number", 1, 60))
    brick_parallel: int = field(default=1, metadata=spec("strings in a brick", "number", 1, 60))


@record(frozen=True, slots=True, kw_only=True)
class ProfilePart(Part):
    """A belt or chain family: what its pitch carries.  mass_kg and price are per metre (belts: at the narrowest width)."""

    kind: str  # belt or chain
    pitch_mm: float = field(metadata=spec("pitch", "number", 1.0, 100.0))
    tension_n_per_mm: float | None = field(default=None, metadata=spec("working tension per mm", "number", 0.1, 500.0))
    breaking_n: float | None = field(default=None, metadata=spec("breaking load", "force", 10.0, 1e6))
    back_mm: float | None = field(default=None, metadata=spec("back beyond the pitch circle", "number", 0.0, 50.0, "belt back or chain plates"))
    widths_mm: str = ""  # stock widths, separated by blanks
    least_teeth: int = field(default=9, metadata=spec("least teeth", "number", 3, 60))


@record(frozen=True, slots=True, kw_only=True)
class ToothedPart(Part):
    """A pulley or sprocket."""

    profile: str
    teeth: int = field(metadata=spec("teeth", "number", 3, 400))
    role: str  # driver: bored for a shaft; driven: bolts to a wheel or hub; both
    bore_mm: float | None = field(default=None, metadata=spec("bore", "number", 1.0, 200.0))


@record(frozen=True, slots=True, kw_only=True)
class LoopPart(Part):
    """A belt of fixed length, or chain by the link."""

    profile: str
    teeth: int = field(metadata=spec("teeth or links", "number", 1, 5000))
    width_mm: float | None = field(default=None, metadata=spec("width", "number", 1.0, 200.0))


@record(frozen=True, slots=True, kw_only=True)
class WheelPart(Part):
    """A wheel with its tyre."""

    family: str  # board, board_air, scooter, bike, kart, utility
    diameter_m: float = field(metadata=spec("tyre diameter", "length", 0.03, 2.0))
    rolling_share: float = field(metadata=spec("loaded radius", "share", 0.8, 1.0))
    inertia_kg_m2: float = field(metadata=spec("inertia of one wheel", "inertia", 0.0, 5.0))


PART_KINDS: dict[str, type[Part]] = {
    "motors": MotorPart,
    "controllers": ControllerPart,
    "cells": CellPart,
    "profiles": ProfilePart,
    "toothed": ToothedPart,
    "loops": LoopPart,
    "wheels": WheelPart,
}
