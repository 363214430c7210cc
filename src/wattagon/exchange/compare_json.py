"""A comparison as JSON."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wattagon.design.codec import encode
from wattagon.design.dimensions import DIMENSIONS
from wattagon.design.tree import ReadyMade, Variant
from wattagon.study.compare.compare import Compared, Line
from wattagon.study.compare.schools import Schooled


def compare_data(found: Compared) -> dict[str, Any]:
    """What `compare --json` prints: SI, a value of each side in the order of `sides`."""
    return {
        "sides": [{"code": one.code, "name": one.name} for one in found.sides],
        "parts": [{"code": line.code, "parts": list(line.texts)} for line in found.parts],
        "figures": [_line(line) for line in found.figures],
        "differs": [_line(line) for line in found.inputs],
        "goals": [
            {
                "code": line.goal.id,
                "target": next(one.target for one in line.results if one is not None),
                "unit": next(one.unit for one in line.results if one is not None),
                "reached": [one.reached if one is not None else None for one in line.results],
                "margin": [one.margin if one is not None else None for one in line.results],
                "met": [one.met if one is not None else None for one in line.results],
            }
            for line in found.goals
        ],
        "findings": [
            {
                "code": line.code,
                "statuses": [str(one.status) if one is not None else "none" for one in line.found],
                "titles": [one.title if one is not None else "" for one in line.found],
            }
            for line in found.findings
        ],
        **({"ride": {"run": found.run, "figures": [_line(line) for line in found.ridden]}} if found.run else {}),
    }


def schools_data(found: Sequence[Schooled], ready: ReadyMade | None) -> dict[str, Any]:
    """What `compare --schools --json` prints; a school without a drive has `why_not`."""
    return {"schools": [_school(one) for one in found], "ready_made": encode(ready) if ready is not None else None}


def _school(one: Schooled) -> dict[str, Any]:
    if one.side is None:
        return {"code": one.school.code, "name": one.school.name, "why_not": one.why_not}
    state = one.side.study.states["nominal"]
    return {
        "code": one.school.code,
        "name": one.school.name,
        "drive": _drive(one.side.design.variant()),
        "misses": one.misses or None,
        "cost": one.money,
        "mass_kg": one.mass_kg,
        "top_speed_m_s": state.top_speed_m_s,
        "max_grade": state.max_grade,
        "added_at_m": {"forward_m": one.forward_m, "up_m": one.height_m},
        "on_driven_axle_kg": one.unsprung_kg,
        "work_h": list(one.hours),
        "tools": list(one.tools),
        "tools_not_there": list(one.lacking),
        "in_1000_km": {"care_h": one.care_h, "cost": one.wear},
        "wet": one.school.wet,
        "goals": [
            {"code": result.goal.id, "reached": result.reached, "unit": result.unit, "met": result.met} for result in one.side.study.goals
        ],
    }


def _drive(variant: Variant) -> dict[str, Any]:
    return {
        "motor": variant.motor.part,
        "count": variant.motor.count,
        "stages": [[stage.driver_teeth, stage.driven_teeth] for stage in variant.stages],
        "series": variant.pack.series,
        "parallel": variant.pack.parallel,
        "cell": variant.pack.part,
        "controller": variant.controller.part,
        "wheel": variant.wheel.part if variant.wheel is not None else None,
    }


def _line(line: Line) -> dict[str, Any]:
    best = {"best": line.best} if line.best >= 0 else {}
    return {"code": line.code, "name": line.name, "unit": DIMENSIONS[line.dimension].si, "values": list(line.values), **best}
