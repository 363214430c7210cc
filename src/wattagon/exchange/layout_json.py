"""The layout as JSON: mm, degrees, N, N m."""

from __future__ import annotations

import math
from typing import Any

from wattagon.design.tree import ReductionKind
from wattagon.study.bands.errors import wide
from wattagon.study.layout.boat import Berth
from wattagon.study.layout.meshes import Meshed
from wattagon.study.layout.stage import Running
from wattagon.study.layout.study import LayoutStudy
from wattagon.study.resolve import Input


def layout_data(found: LayoutStudy) -> dict[str, Any]:
    """What `layout --json` prints; what does not apply is null."""
    return {
        "variant": found.resolved.variant.id,
        "shafts": [
            {"name": s.name, "x_mm": 1e3 * s.x, "z_mm": 1e3 * s.z, "proposed": s.proposed, "tolerance_mm": 1e3 * s.tolerance}
            for s in found.shafts
        ],
        "stages": _in_order(found),
        "gaps": [
            {
                "between": gap.between,
                "mm": _mm(gap.nominal),
                "worst_mm": _mm(gap.worst),
                "likely_mm": _mm(gap.likely),
                "wanted_mm": _mm(gap.wanted),
                "status": gap.status.value,
                "swept": gap.swept or None,
                "because": gap.because or None,
            }
            for gap in found.gaps
        ],
        "bodies": [
            {
                "kind": one.kind,
                "name": one.name,
                "x_mm": 1e3 * one.x,
                "y_mm": 1e3 * one.y,
                "z_mm": 1e3 * one.z,
                "size_mm": [1e3 * one.length, 1e3 * one.width, 1e3 * one.height],
                "mass_kg": one.mass_kg,
                "proposed": one.missing or None,
                "tolerance_mm": 1e3 * one.tolerance,
            }
            for one in found.scene.bodies
        ],
        "shaft_stacks": [
            {
                "shaft": one.stack.shaft,
                "proposed": one.own < 0,
                "items": [{"kind": p.kind, "name": p.name, "from_mm": 1e3 * p.begin, "to_mm": 1e3 * p.end} for p in one.pieces],
            }
            for one in found.stacks
        ],
        "leads": [{"from": one.begin, "to": one.end, "length_mm": 1e3 * one.length_m} for one in found.leads],
        "balance": {
            "mass_kg": found.balance.mass_kg,
            "x_mm": 1e3 * found.balance.x,
            "y_mm": 1e3 * found.balance.y,
            "z_mm": 1e3 * found.balance.z,
        },
        "boat": _boat(found.scene.berth) if found.scene.berth is not None else None,
        "rings": [{"what": r.what, "rpm": r.rpm, "speed_m_s": r.speed_m_s, "ridden": r.ridden} for r in found.rings],
        "inputs": {path: _input(path, item) for path, item in found.inputs.items()},
    }


def _in_order(found: LayoutStudy) -> list[dict[str, Any]]:
    """Stages from the motor on, those with a loop and those without."""
    made = {one.position: _stage(one) for one in found.stages} | {one.position: _meshed(one) for one in found.meshes}
    return [made[k] for k in sorted(made)]


def _input(path: str, item: Input) -> dict[str, Any]:
    found = wide(path, item)
    return {"value": item.value, "unit": "m", "known": item.known.value, "width": found.width if found is not None else 0.0}


def _stage(one: Running) -> dict[str, Any]:
    choice, loop, jump, slots = one.made.choice, one.path.loop, one.jump, one.slots
    belt = one.made.kind is not None
    return {
        "kind": choice.kind.value,
        "profile": one.made.family.id,
        "pitch_mm": one.made.family.pitch_mm,
        "teeth": [choice.driver_teeth, choice.driven_teeth],
        "loop": one.loop,
        "in_stock": one.in_stock,
        "centre_mm": 1e3 * one.centre_m,
        "fitting_centre_mm": _mm(one.fitting_m),
        "length_mm": 1e3 * one.length_m,
        "off_mm": _mm(one.off_m),
        "path_length_mm": _mm(one.length_m + one.off_m),
        "real": loop.real,
        "fault": loop.fault or None,
        "wrap_deg": [math.degrees(wrap) for wrap in loop.wraps],
        "teeth_in_mesh": one.in_mesh,
        "span_mm": _mm(one.span_m),
        "tension_n": _or_none(one.installed_n),
        "pull_n": _or_none(one.pull_n),
        "tone_hz": _or_none(one.tone_hz),
        "force_n": _or_none(one.push_n),
        "deflection_mm": _mm(one.push_m) if belt else None,
        "shaft_load_n": [_or_none(one.rest_n), _or_none(one.peak_n)],
        "jump_nm": jump.jump_nm if jump is not None else None,
        "jump_warm_nm": _or_none(one.warm_nm),
        "loose_nm": jump.loose_nm if jump is not None else None,
        "shear_nm": jump.shear_nm if jump is not None else None,
        "width_mm": choice.width_mm,
        "belt_speed_m_s": one.speed_m_s,
        "slot_mm": [_mm(slots.shortest), _mm(slots.nominal), _mm(slots.longest)] if slots is not None else None,
        "path": [
            {
                "kind": wheel.what,
                "x_mm": 1e3 * wheel.round.x,
                "y_mm": 1e3 * wheel.round.y,
                "radius_mm": 1e3 * wheel.round.radius,
                "wrap_deg": math.degrees(wrap) if math.isfinite(wrap) else None,
                "side": wheel.round.side,
            }
            for wheel, wrap in zip(one.path.wheels, loop.wraps or [math.nan] * len(one.path.wheels), strict=True)
        ],
    }


def _boat(berth: Berth) -> dict[str, Any]:
    """Where a boat's drive stands: ahead of the transom, left of the middle, above the keel."""
    return {
        "place": berth.choice.place.value,
        "propeller_mm": [1e3 * value for value in berth.propeller],
        "motor_mm": [1e3 * value for value in berth.motor],
        "diameter_mm": 1e3 * berth.diameter,
        "depth_mm": 1e3 * berth.depth if math.isfinite(berth.depth_by) else None,
        "draught_mm": 1e3 * berth.draught,
        "tilt_deg": math.degrees(berth.works.tilt),
    }


NO_LOOP = (
    *("profile", "pitch_mm", "loop", "in_stock", "length_mm", "off_mm", "path_length_mm", "real", "fault", "teeth_in_mesh", "span_mm"),
    *("tension_n", "pull_n", "tone_hz", "force_n", "deflection_mm", "jump_nm", "jump_warm_nm", "loose_nm", "shear_nm", "width_mm"),
    *("belt_speed_m_s", "slot_mm"),
)


def _meshed(one: Meshed) -> dict[str, Any]:
    """A stage without a loop: what belongs to loops is null."""
    choice, set_of = one.choice, one.planets
    roller = choice.kind is ReductionKind.FRICTION
    return {
        "kind": choice.kind.value,
        "teeth": None if roller else [choice.driver_teeth, choice.driven_teeth],
        "centre_mm": 1e3 * one.centre_m,
        "fitting_centre_mm": 1e3 * one.fitting_m,
        **dict.fromkeys(NO_LOOP),
        "wrap_deg": [],
        "shaft_load_n": [None, None],
        "path": [],
        "off_mm": 1e3 * one.off_m,
        "module_mm": _mm(one.module_m),
        "contact_ratio": _or_none(one.contact),
        "planets": {"count": one.planet_count, "teeth": _or_none(set_of.teeth), "fault": set_of.fault or None} if set_of else None,
        "planet_rpm": _or_none(one.planet_rpm),
        "press_n": _or_none(one.press_n),
        "grip_n": [_or_none(value) for value in one.grip_n] if roller else None,
    }


def _mm(metres: float) -> float | None:
    return 1e3 * metres if math.isfinite(metres) else None


def _or_none(value: float) -> float | None:
    return value if math.isfinite(value) else None
