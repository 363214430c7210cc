"""What a number of a working is called, and in what it is measured: by its path in the design or the stock, else by its own name."""

from __future__ import annotations

import functools
import re
from collections.abc import Collection

from wattagon.design import paths
from wattagon.design.catalogue import Catalogue
from wattagon.design.codec import member
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design
from wattagon.record import record

# end of a name: dimension, SI of one.  The longest that fits counts
_ENDS: tuple[tuple[str, str, float], ...] = (
    ("_rpm_per_v", "kv", 1.0),
    ("_wh_per_km", "number", 1.0),
    ("_square_s", "number", 1.0),
    ("_abs_s", "number", 1.0),
    ("_nm_per_a", "torque", 1.0),
    ("_rad_s", "number", 1.0),
    ("_m_s", "speed", 1.0),
    ("_m_s2", "acceleration", 1.0),
    ("_m_s3", "jerk", 1.0),
    ("_kg_m2", "inertia", 1.0),
    ("_kg_m3", "number", 1.0),
    ("_j_per_k", "heat_capacity", 1.0),
    ("_k_per_w", "thermal_resistance", 1.0),
    ("_w_per_k", "number", 1.0),
    ("_v_per_v", "number", 1.0),
    ("_a_s", "number", 1.0),
    ("_nm", "torque", 1.0),
    ("_n", "force", 1.0),
    ("_ohm", "resistance", 1.0),
    ("_a", "current", 1.0),
    ("_v", "voltage", 1.0),
    ("_volts", "voltage", 1.0),
    ("_wh", "energy", 1.0),
    ("_ah", "capacity", 1.0),
    ("_w", "power", 1.0),
    ("_kg", "mass", 1.0),
    ("_mpa", "stress", 1e6),
    ("_pa", "stress", 1.0),
    ("_mm2", "section", 1e-6),
    ("_mm", "length", 1e-3),
    ("_m2", "area", 1.0),
    ("_m", "length", 1.0),
    ("_c", "temperature", 1.0),
    ("_s", "time", 1.0),
    ("_h", "time", 3600.0),
    ("_rpm", "rpm", 1.0),
    ("_hz", "frequency", 1.0),
    ("_l", "number", 1.0),
)
# units of those that have no dimension of their own
_UNITS = {
    "_wh_per_km": "Wh/km",
    "_square_s": "A² s",
    "_abs_s": "A s",
    "_rad_s": "rad/s",
    "_kg_m3": "kg/m³",
    "_w_per_k": "W/K",
    "_v_per_v": "V/V",
    "_a_s": "A s",
    "_nm_per_a": "N m/A",
    "_l": "l",
}
_WHOLE_NAMES = {
    "mass": "mass",
    "time": "time",
    "distance": "distance",
    "wh_per_km": "number",
    "duty": "share",
    "efficiency": "share",
    "grade": "grade",
    "max_grade": "grade",
    "charge": "share",
    "cost": "money",
    "price": "money",
    "erpm": "rpm",
    "air_density": "number",
    "margin": "share",
    "speed_at_shaft": "speed",
    "total": "power",
    "amps": "current",
    "volts": "voltage",
}
_LOSSES = ("pack", "controller", "controller_idle", "controller_switching", "controller_bridge", "motor", "motor_copper", "motor_iron")
# what a name of the code would not tell a maker
_SAID = {
    "current_for_torque_a": "motor current (DC) for that torque",
    "torque_constant_nm_per_a": "K, torque per amp (DC)",
    "kv_rpm_per_v": "kv",
    "in_phase_volts": "back-EMF and drop in the winding",
    "reactive_volts": "volts that the inductance takes",
    "motor_v": "volts of the bridge",
    "bus_v": "volts at the controllers",
    "pack_a": "pack amps",
    "warm_resistance": "cell's resistance at its temperature",
    "burst_ohm": "pack's resistance for seconds",
    "steady_ohm": "pack's resistance for long",
    "moving_kg": "mass that is moved",
    "moving_mass_kg": "mass with what turns",
    "drag_nm": "drag of the rotor",
    "shaft_torque_nm": "torque at the shaft",
    "torque_nm": "torque",
    "speed_rad_s": "turning speed",
    "shaft_speed_rad_s": "turning speed of the shaft",
    "motor_rad_s": "turning speed of the motor",
    "thrust_n": "pull",
    "fails_at_nm": "torque at the wheel at which it gives way",
    "wheel_nm": "torque at the wheel",
    "mises_pa": "bending and torsion together",
    "speed_at_shaft": "speed",
    "stage_ratio": "ratio of the stage",
    "erpm": "electrical speed",
    "resistance_n": "resistance to the way",
    "emf_v": "volts at rest",
    "part": "part of it",
}

FIELDS = ("vehicle.", "brief.", "variants.")  # begin the paths of a design's fields


@record(frozen=True, slots=True, kw_only=True)
class Said:
    """A number's name, dimension, SI of one of its own unit, a unit where it has no dimension, and how it is known."""

    name: str
    dimension: str = "number"
    si: float = 1.0
    unit: str = ""
    known: Known | None = None  # None: it is worked out


def said(source: str, design: Design, stock: Catalogue, fields: Collection[str]) -> Said:
    """Of a term by where it comes from; `fields` are the paths of the design."""
    if source.startswith("stock."):
        return _of_stock(source, stock)
    if source not in fields:
        return named(source)
    there = paths.place(design, source)
    spec = there.spec
    dimension = spec.dimension if spec is not None else named(source).dimension
    known = there.value.known if isinstance(there.value, Quantity) else Known.STATED
    return Said(name=_whose(source, spec.label if spec is not None else _spoken(source)), dimension=dimension, known=known)


def _whose(path: str, label: str) -> str:
    """A stage's or a joint's field with its number, since there may be several."""
    parts = path.split(".")
    for k, part in enumerate(parts[:-1]):
        if part.isdigit():
            return f"{label} ({_one_of(parts[k - 1])} {int(part) + 1})"
    return label


def _one_of(many: str) -> str:
    one = f"{many[:-3]}y" if many.endswith("ies") else many.removesuffix("s")
    return one.replace("_", " ")


def _of_stock(source: str, stock: Catalogue) -> Said:
    _, part_id, *rest = source.split(".")
    # ids of parts may have points themselves
    while rest and stock.find(part_id) is None:
        part_id, rest = f"{part_id}.{rest[0]}", rest[1:]
    part, name = stock.find(part_id), rest[0] if rest else ""
    item = member(type(part), name) if part is not None else None
    guess = named(name)
    spec = item.spec if item is not None else None
    name = f"{spec.label if spec is not None else guess.name}, {part.name if part is not None else part_id}"
    if spec is not None and spec.dimension != "number":
        return Said(name=name, dimension=spec.dimension, known=Known.STATED)
    return Said(name=name, dimension=guess.dimension, si=guess.si, unit=guess.unit, known=Known.STATED)


@functools.lru_cache(maxsize=2048)
def named(source: str) -> Said:
    """Of a number that the code worked out, by its name: what it ends with is its unit."""
    last = source.rsplit(".", 1)[-1]
    name = _spoken(source)
    if source.startswith("ride sum."):
        return Said(name=f"energy, {last.replace('_', ' ')}", dimension="energy", si=1.0 / 3600.0)
    if (source.startswith("Losses.") and last in _LOSSES) or last == "total":
        return Said(name=f"loss: {name}" if last != "total" else "all losses", dimension="power")
    if last in _WHOLE_NAMES:
        return Said(name=name, dimension=_WHOLE_NAMES[last], unit=_UNITS.get(f"_{last}", ""))
    for end, dimension, si in sorted(_ENDS, key=lambda row: -len(row[0])):
        if last.endswith(end):
            return Said(name=name, dimension="number" if end in _UNITS else dimension, si=si, unit=_UNITS.get(end, ""))
    return Said(name=name)


def _spoken(source: str) -> str:
    """A name of the code as words, without its unit; one of words as it is."""
    if " " in source:
        return source
    last = source.rsplit(".", 1)[-1]
    if last in _SAID:
        return _SAID[last]
    for end, *_ in sorted(_ENDS, key=lambda row: -len(row[0])):
        if last.endswith(end) and len(last) > len(end):
            last = last[: -len(end)]
            break
    return re.sub(r"_+", " ", last).strip()


# kinds of part by where they are chosen
_CHOSEN = {
    "motors": ("drive", "motor"),
    "controllers": ("drive", "controller"),
    "cells": ("drive", "pack"),
    "wheels": ("drive", "wheel"),
    "propellers": ("drive", "propeller"),
    "materials": ("strength", ""),
    "boards": ("pack", ""),
    "chargers": ("pack", ""),
}
_TOOTHED = ("profiles", "toothed", "loops", "hubs", "idlers", "carriers")


def field_of(source: str, stock: Catalogue, active: str) -> tuple[str, str] | None:
    """(bench, what of it) where a given number is entered or its part is chosen; None for what has no field."""
    from wattagon.study.bands.taking import target

    if not source.startswith("stock."):
        parts = source.split(".")
        for bench in ("strength", "layout", "wiring", "winding", "commissioning"):
            if bench in parts[:3]:
                return ("commission" if bench == "commissioning" else bench), ""
        return target(source, active) if source.startswith(FIELDS) else None
    name = source.removeprefix("stock.").rsplit(".", 1)[0]
    part = stock.find(name)
    if part is None:
        return None
    kind = type(part).stock
    return ("drive", "reduction") if kind in _TOOTHED else _CHOSEN.get(kind, ("wiring", ""))
