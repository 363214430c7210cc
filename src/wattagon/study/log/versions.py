"""Versions: the state of a variant at each ride, what was changed since the one before, and what that did, predicted and measured."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from wattagon.design import codec
from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Log, Variant
from wattagon.errors import InputError, PathError
from wattagon.record import record
from wattagon.study.drive.study import study_drive
from wattagon.study.history.study import version_of
from wattagon.study.log.data import LogData, distance_m, energy_wh
from wattagon.study.log.replay import replay
from wattagon.study.log.ridden import state_of

MOST_CHANGES = 6
# figure, words, dimension, whether more is better
FIGURES: tuple[tuple[str, str, str, bool], ...] = (
    ("top_speed", "top speed", "speed", True),
    ("wh_per_km", "Wh for a kilometre", "energy", False),
    ("hot_s", "time until hot", "time", True),
    ("mass", "mass of the drive", "mass", False),
    ("cost", "cost", "money", False),
)


@record(frozen=True, slots=True, kw_only=True)
class Version:
    """One state of a variant with the rides that were made in it; figures by name, nan where unknown."""

    version: str
    date: str  # of its first ride; empty for the present one that was not ridden yet
    logs: tuple[str, ...]
    changes: tuple[str, ...]  # since the one before
    predicted: dict[str, float]
    measured: dict[str, float]
    note: str = ""


def versions_of(
    design: Design, stock: Catalogue, load: Callable[[Log], LogData | None], cancelled: Callable[[], bool] = lambda: False
) -> tuple[Version, ...]:
    """The versions of the active variant in the order of their rides, the present state last.  `load` gives a log's data, or None."""
    variant = design.variant()
    mine = sorted(
        (log for log in design.logs if (log.variant or variant.id) == variant.id and log.state is not None), key=lambda log: log.date
    )
    groups: list[tuple[str, Variant, list[Log]]] = []
    for log in mine:
        assert log.state is not None
        code = log.version or version_of(log.state)
        if groups and groups[-1][0] == code:
            groups[-1][2].append(log)
        else:
            groups.append((code, log.state, [log]))
    now = version_of(variant)
    if not groups or groups[-1][0] != now:
        groups.append((now, state_of(variant), []))
    made: list[Version] = []
    before: Variant | None = None
    last: LogData | None = None  # the ride that all are held against
    for code, state, logs in groups:
        if cancelled():
            break
        then = replace(
            design,
            active=variant.id,
            variants=tuple(
                replace(state, layout=variant.layout, strength=variant.strength, own_parts=state.own_parts) if one.id == variant.id else one
                for one in design.variants
            ),
        )
        rides = [data for log in logs if log.member and (data := load(log)) is not None]
        last = next((one for one in rides if "speed" in one or "erpm" in one), last)
        made.append(
            Version(
                version=code,
                date=logs[0].date if logs else "",
                logs=tuple(log.id for log in logs),
                changes=changes_between(before, state) if before is not None else (),
                predicted=predicted_of(then, stock, last),
                measured=measured_of(rides),
                note=logs[0].note if logs else "as it is now, not ridden yet",
            )
        )
        before = state
    return tuple(made)


def along_ride(design: Design, stock: Catalogue, data: LogData) -> float:
    """Energy for a kilometre that a design takes along a ride that was measured [Wh/km]; nan where it cannot follow it."""
    try:
        made = replay(design, stock, replace(data, log=replace(data.log, state=None)), samples=0)
    except (InputError, PathError):
        return math.nan
    metres = float(made.seen.distance[-1])
    joules = float(np.sum(made.predicted["bus_v"] * made.predicted["pack_a"])) * made.seen.step_s
    return joules / 3.6 / metres if metres > 100.0 else math.nan


def predicted_of(design: Design, stock: Catalogue, ride: LogData | None) -> dict[str, float]:
    """What a state is predicted to do: its top speed on a full pack, energy for a kilometre along a ride that was measured, and so on."""
    none = dict.fromkeys((name for name, *_ in FIGURES), math.nan)
    try:
        found = study_drive(design, stock)
    except (InputError, PathError):
        return none
    resolved = found.resolved
    full = found.states.get("full")
    none.update(
        top_speed=float(full.top_speed_m_s) if full is not None else math.nan,
        hot_s=float(found.heat_s),
        mass=float(resolved.drive_mass_kg),
        cost=float(resolved.full_price),
    )
    none["wh_per_km"] = along_ride(design, stock, ride) if ride is not None else math.nan
    return none


def measured_of(rides: list[LogData]) -> dict[str, float]:
    """What the rides of a state did."""
    made = dict.fromkeys((name for name, *_ in FIGURES), math.nan)
    tops = [float(np.nanquantile(one.clean("speed"), 0.999)) for one in rides if "speed" in one]
    if tops:
        made["top_speed"] = max(tops)
    metres = [distance_m(one) for one in rides if math.isfinite(energy_wh(one)) and math.isfinite(distance_m(one))]
    energy = [energy_wh(one) for one in rides if math.isfinite(energy_wh(one)) and math.isfinite(distance_m(one))]
    if sum(metres) > 100.0:
        made["wh_per_km"] = sum(energy) / (sum(metres) / 1000.0)
    return made


def changes_between(before: Variant, after: Variant) -> tuple[str, ...]:
    """What is another now, in words: `stages 1 driver teeth 15 to 14`."""
    told: list[str] = []
    _differ(_plain(before), _plain(after), (), told)
    more = len(told) - MOST_CHANGES
    return (*told[:MOST_CHANGES], f"and {more} more") if more > 0 else tuple(told)


def _plain(variant: Variant) -> dict[str, Any]:
    skip = ("id", "name", "note", "based_on", "layout", "strength", "build", "commissioning", "inquiry", "wet", "measured_load")
    return {key: value for key, value in codec.encode(variant).items() if key not in skip}


def _differ(a: Any, b: Any, path: tuple[str, ...], told: list[str]) -> None:
    if a == b:
        return
    if isinstance(a, dict) and isinstance(b, dict) and "value" not in a and "value" not in b:
        for key in dict.fromkeys((*a, *b)):
            _differ(a.get(key), b.get(key), path if key == "overrides" else (*path, key), told)
        return
    if isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
        for k, (x, y) in enumerate(zip(a, b, strict=True)):
            _differ(x, y, (*path, str(k + 1)), told)
        return
    words = " ".join(path).replace("_", " ")
    one, other = _short(a), _short(b)
    if one != other:
        told.append(f"{words} {one} to {other}")
    elif isinstance(a, dict) and isinstance(b, dict):
        told.append(f"{words} {one}, now {b.get('known', 'known')}")


def _short(value: Any) -> str:
    if isinstance(value, dict):
        if "value" in value:
            return f"{value['value']:.5g}"
        return str(value.get("part") or value.get("id") or f"{len(value)} values")
    if isinstance(value, list):
        return f"{len(value)} {'row' if len(value) == 1 else 'rows'}"
    if isinstance(value, float):
        return f"{value:.5g}"
    return "none" if value is None else str(value)
