"""Terms of the file of words, filled with a design's own numbers."""

from __future__ import annotations

import math
import string
import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources

from wattagon.errors import FileError
from wattagon.physics.road import Road
from wattagon.physics.water.boat import Boat
from wattagon.record import record
from wattagon.study.drive.study import DriveStudy
from wattagon.study.say import Say

NOT_TOLD = "nothing that is known yet"


@record(frozen=True, slots=True, kw_only=True)
class Term:
    """One term: what it is, and a sentence with {names} of this design's numbers."""

    name: str
    says: str
    here: str
    also: tuple[str, ...] = ()
    on: str = ""

    def fits(self, *, floats: bool) -> bool:
        """Whether it has a meaning for a vehicle."""
        return self.on in ("", "water" if floats else "wheels")


@cache
def terms() -> tuple[Term, ...]:
    """All of them, by name.  Raises FileError for a file that is broken."""
    text = resources.files("wattagon.stock").joinpath("words", "terms.toml").read_text(encoding="utf-8")
    try:
        found = tomllib.loads(text)
    except tomllib.TOMLDecodeError as problem:
        raise FileError(f"terms.toml: {problem}") from None
    made = [
        Term(name=name, says=one["says"], here=one["here"], also=tuple(one.get("also", ())), on=one.get("on", ""))
        for name, one in found.items()
    ]
    return tuple(sorted(made, key=lambda term: term.name.lower()))


def names_in(sentence: str) -> tuple[str, ...]:
    """{names} of a sentence."""
    return tuple(name for _, name, _, _ in string.Formatter().parse(sentence) if name)


def find(text: str) -> Term | None:
    """The term that is called so, or spelled so elsewhere."""
    wanted = " ".join(text.lower().split())
    return next((one for one in terms() if wanted in (one.name.lower(), *(word.lower() for word in one.also))), None)


def explain(term: Term, values: Mapping[str, str]) -> str:
    """Two sentences: what it is, and how it stands here; without its number the second says where it stands instead."""
    missing = [name for name in names_in(term.here) if name not in values]
    if missing:
        return f"{term.says} Of this design there is {NOT_TOLD}."
    return f"{term.says} {term.here.format_map(values)}"


def values_of(study: DriveStudy, say: Say) -> dict[str, str]:
    """This design's numbers by the names that sentences use, in the user's units; what is not known is left out."""
    resolved = study.resolved
    train, variant = resolved.train, resolved.variant
    motor, pack = train.motor, train.pack
    nominal, full, low = (study.states[name] for name in ("nominal", "full", "low"))
    current = variant.controller.pack_current_a
    made: dict[str, tuple[float, str]] = {
        "kv": (float(motor.kv_rpm_per_v), "kv"),
        "torque_constant": (float(motor.torque_constant_nm_per_a), "torque"),
        "top_duty": (nominal.top_speed_duty, "share"),
        "motor_amps": (_value(variant.controller.motor_current_a), "current"),
        "pack_amps": (_value(current), "current"),
        "sag": (float(pack.burst_ohm) * _value(current) * float(train.count), "voltage"),
        "pack_ohm": (float(pack.burst_ohm), "resistance"),
        "capacity": (float(pack.capacity_ah), "capacity"),
        "energy": (float(pack.chemical_wh()), "energy"),
        "volts_full": (full.open_circuit_v, "voltage"),
        "volts_nominal": (nominal.open_circuit_v, "voltage"),
        "volts_low": (low.open_circuit_v, "voltage"),
        "standstill": (nominal.standstill_force_n, "force"),
        "wheel_torque": (nominal.wheel_torque_nm, "torque"),
        "max_grade": (nominal.max_grade, "grade"),
        "drag_area": (float(getattr(resolved.load, "drag_area_m2", math.nan)), "area"),
        "headwind": (resolved.headwind_m_s, "speed"),
        "no_load": (float(motor.no_load(nominal.open_circuit_v)[1]), "current"),
        "window_top": (resolved.window[0], "share"),
        "window_bottom": (resolved.window[1], "share"),
        "power": (nominal.power_at_top_w, "power"),
        "price": (resolved.full_price, "money"),
        "regen_amps": (_value(variant.controller.regen_motor_current_a), "current"),
        "limit_c": (float(train.heat.limit_c) if train.heat is not None else math.nan, "temperature"),
    }
    for path in ("cutback_start", "cutback_end"):
        item = next((one for key, one in resolved.inputs.items() if key.endswith(f".{path}_v")), None)
        made[path] = (item.value if item is not None else math.nan, "voltage")
    load = resolved.load
    if isinstance(load, Road):
        made["roll_force"] = (float(load.rolling) * float(load.mass_kg) * 9.80665, "force")
    if isinstance(load, Boat):
        made["wake"] = (float(load.wake), "share")
        made["dock"] = (study.docks["nominal"].pull_n, "force")
    told = {name: say(value, dimension) for name, (value, dimension) in made.items() if math.isfinite(value)}
    told |= {
        "erpm": f"{float(motor.erpm(motor.no_load(nominal.open_circuit_v)[0])):.0f} rpm",
        "pole_pairs": f"{float(motor.pole_pairs):g}",
        "series": f"{float(pack.series):g} in series",
        "parallel": f"{float(pack.parallel):g} in parallel",
        "ratio": f"{float(train.reduction.ratio):.3g}",
        "stages": f"{len(variant.stages)} {'stage' if len(variant.stages) == 1 else 'stages'}",
        "chemistry": str(pack.chemistry).replace("_", " "),
        "goals": f"{len(study.goals)}",
        "met": f"{sum(one.met for one in study.goals)}",
        "assumed": f"{len(study.assumptions)}",
        "inputs": f"{len(resolved.inputs)}",
    }
    if variant.stages:
        told["driver_teeth"] = f"{variant.stages[0].driver_teeth}"
    if isinstance(load, Road):
        told |= {"rolling": f"{float(load.rolling):.3g}", "grip": f"{float(load.grip):.2g}"}
    return told


def _value(value: object) -> float:
    """Of a figure that may be a quantity, a number or missing."""
    told = getattr(value, "value", value)
    return float(told) if isinstance(told, (int, float)) else math.nan
