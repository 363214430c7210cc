"""What the terminal prints as JSON: SI, with the keys that are promised."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

from wattagon.design.dimensions import DIMENSIONS
from wattagon.design.quantity import Known
from wattagon.study.bands.errors import wide
from wattagon.study.say import plain

if TYPE_CHECKING:
    from collections.abc import Sequence

    from wattagon.design.tree import Design
    from wattagon.study.drive.study import DriveStudy
    from wattagon.study.findings.finding import Finding
    from wattagon.study.resolve import Input, Resolved
    from wattagon.study.ride.study import Ride


def input_data(path: str, item: Input) -> dict[str, Any]:
    """One input: its value in SI, that unit, how it is known, and how wide it may be."""
    found = wide(path, item)
    return {
        "value": item.value,
        "unit": DIMENSIONS[item.dimension].si,
        "known": str(item.known),
        "width": found.width if found is not None else 0.0,
    }


def solve_data(study: DriveStudy, *, envelope: bool = False) -> dict[str, Any]:
    """What `solve --json` prints."""
    from wattagon.exchange.units import say
    from wattagon.physics.road import Road
    from wattagon.study.drive.words import goal_name

    train, motor = study.resolved.train, study.resolved.train.motor
    constant = float(motor.torque_constant_nm_per_a)
    states = {
        name: {
            "open_circuit_v": state.open_circuit_v,
            "no_load_speed_m_s": state.no_load_speed_m_s,
            "top_speed_m_s": state.top_speed_m_s,
            "top_speed_limited_by": state.top_speed_limited_by,
            "top_speed_duty": state.top_speed_duty,
            "standstill_force_n": state.standstill_force_n,
            "standstill_limited_by": state.standstill_limited_by,
            "wheel_torque_nm": state.wheel_torque_nm,
            "max_grade": state.max_grade,
            "power_at_top_w": state.power_at_top_w,
        }
        for name, state in study.states.items()
    }
    data: dict[str, Any] = {
        "vehicle": study.design.vehicle.name,
        "variant": study.resolved.variant.id,
        "motor": {
            "count": int(train.count),
            "kv_rpm_per_v": float(motor.kv_rpm_per_v),
            "kt_dc_nm_per_a": constant,
            "kt_q_nm_per_a": constant * motor.dc_per_motor_amp,
            "resistance_ohm": float(motor.resistance_ohm),
        },
        "ratio": float(train.reduction.ratio),
        **({"wheel_radius_m": float(study.resolved.road.wheel_radius_m)} if isinstance(study.resolved.load, Road) else {}),
        "mass_kg": float(study.resolved.load.mass_kg),
        "states": states,
        "goals": [
            {
                "code": result.goal.id,
                "label": goal_name(result.goal, say),
                "case": result.case or None,
                "mode": result.goal.mode or None,
                "target": result.target,
                "reached": result.reached,
                "unit": result.unit or study.design.brief.currency,
                "met": result.met,
                "margin": result.margin,
            }
            for result in study.goals
        ],
        "time_to_too_hot_s": study.heat_s,
        "known": str(study.known),
        "inputs": {path: input_data(path, item) for path, item in study.resolved.inputs.items()},
    }
    if study.resolved.resistance is not None:
        _add_water(data, study)
    if envelope:
        data["envelope"] = {
            name: {
                "speed_m_s": state.edge.speed_m_s.tolist(),
                "force_n": state.edge.force_n.tolist(),
                "limit": state.edge.limit_names(),
            }
            for name, state in study.states.items()
        }
    return data


RESISTANCE_ROWS = 61


def _add_water(data: dict[str, Any], study: DriveStudy) -> None:
    """What `solve --json` prints of a boat beside: its propellers at the top speed, the dock, the hump, the resistance with its band."""
    import numpy as np

    from wattagon.physics.water.boat import Boat
    from wattagon.study.drive.water import over_hump_m_s, prop_at

    resolved, found = study.resolved, study.resolved.resistance
    assert found is not None and isinstance(resolved.load, Boat)
    for name, state in study.states.items():
        held = study.docks[name]
        beyond, top = over_hump_m_s(resolved, state.charge), state.top_speed_m_s
        load = float(resolved.load.resistance_n(top, 0.0, resolved.headwind_m_s))
        data["states"][name] |= {
            "bollard_n": held.pull_n,
            "bollard_motor_a": held.motor_a,
            "bollard_rpm": held.rpm,
            "over_hump_speed_m_s": beyond,
            "prop": prop_at(resolved, top, load)._asdict(),
        }
    top = 1.3 * max(state.top_speed_m_s for state in study.states.values())
    rows = []
    for speed in np.linspace(0.0, max(top, 1.0), RESISTANCE_ROWS).tolist():
        force = float(resolved.load.resistance_n(speed, 0.0, resolved.headwind_m_s))
        wide = float(np.interp(speed, found.speed_m_s, found.width) * np.interp(speed, found.speed_m_s, found.force_n))
        rows.append({"speed_m_s": speed, "force_n": force, "band": [force - wide, force + wide]})
    data["resistance"] = rows


def prop_data(resolved: Resolved, speed_m_s: float, thrust_n: float) -> dict[str, Any]:
    """What `point --json` prints of a boat's propeller."""
    from wattagon.study.drive.water import prop_at

    return dict(prop_at(resolved, speed_m_s, thrust_n)._asdict())


def point_data(point: Any) -> dict[str, Any]:
    """What `point --json` prints."""
    names = (
        "speed_m_s",
        "grade",
        "headwind_m_s",
        "thrust_n",
        "load_n",
        "held",
        "limit",
        "emf_v",
        "bus_v",
        "pack_a",
        "motor_current_a",
        "dc_current_a",
        "duty",
        "motor_v",
        "motor_rad_s",
        "shaft_nm",
        "erpm",
        "chemical_w",
        "bus_w",
        "motor_w",
        "shaft_w",
        "tread_w",
        "rolling_w",
        "air_w",
        "climb_w",
        "surplus_w",
        "efficiency",
        "balance_error",
        "burst",
        "pack_ohm",
        "rider_w",
    )
    data = {name: getattr(point, name) for name in names}
    loss = point.losses
    data["losses_w"] = {
        "pack": loss.pack,
        "controller_idle": loss.controller_idle,
        "controller_switching": loss.controller_switching,
        "controller_bridge": loss.controller_bridge,
        "motor_copper": loss.motor_copper,
        "motor_iron": loss.motor_iron,
        "reduction": loss.reduction,
        "propeller": loss.load,
        "total": loss.total,
    }
    data["shafts"] = [
        {"name": s.name, "speed_rad_s": s.speed_rad_s, "rpm": s.speed_rad_s * 60 / math.tau, "torque_nm": s.torque_nm, "loss_w": s.loss_w}
        for s in point.shafts
    ]
    return data


def find_data(found: Any) -> dict[str, Any]:
    """What `find --json` prints."""

    def hit_data(hit: Any) -> dict[str, Any]:
        variant = hit.variant
        data = {
            "motor": variant.motor.part,
            "count": variant.motor.count,
            "stages": [[s.driver_teeth, s.driven_teeth] for s in variant.stages],
            "profiles": [s.profile for s in variant.stages],
            "widths_mm": [s.width_mm for s in variant.stages],
            "series": variant.pack.series,
            "parallel": variant.pack.parallel,
            "cell": variant.pack.part,
            "controller": variant.controller.part,
            "motor_current_a": variant.controller.motor_current_a,
            "pack_current_a": variant.controller.pack_current_a,
            "cost": hit.cost,
            "through_gears": variant.gears is not None,
            "wheel": variant.wheel.part if variant.wheel else None,
            "propeller": variant.propeller.part if variant.propeller else None,
            "mass_kg": hit.mass_kg,
            "margin": hit.margin,
            "range_m": hit.range_m,
            "top_speed_m_s": hit.speed_m_s,
            "grade": hit.grade,
            "lasting": hit.lasting,
            "seconds_until_hot": hit.heat_s,
            "goals": [{"code": g.goal.id, "target": g.target, "reached": g.reached, "met": g.met, "margin": g.margin} for g in hit.goals],
        }
        return {**data, "fails": hit.fails} if hit.fails else data

    best = found.front
    return {
        "searched": found.searched,
        "judged": found.judged,
        "feasible": found.feasible,
        "feasible_error": found.feasible_error,
        "counts": "estimated from a sample",
        "seconds": found.seconds,
        "non_dominated": best,
        "hits": [
            {**hit_data(found.hits[row[0]]), "non_dominated": row[0] < best, "variations": [hit_data(found.hits[k]) for k in row[1:]]}
            for row in found.rows
        ],
        "near_misses": [hit_data(hit) for hit in found.near_misses],
        "removed_by": found.removed_by,
        "left_out": list(found.left_out),
        "no_middle": found.no_middle(plain) if found.no_middle is not None else None,
    }


def ride_data(ride_: Ride, design: Design) -> dict[str, object]:
    """What `wattagon ride --json` prints: SI."""
    from wattagon.physics.ride.course import climb_m
    from wattagon.physics.ride.names import Stat, Sum
    from wattagon.physics.ride.ride import event_words
    from wattagon.study.ride.study import best_range, costs

    run, stat = ride_.run, ride_.run.stat
    time = max(stat(Stat.TIME), 1e-9)
    hot = run.first_over_s()
    charge_cost, cost_100 = costs(ride_)
    up, down = climb_m(ride_.legs) if ride_.legs else (stat(Stat.UP_M), 0.0)
    furthest = best_range(ride_.resolved) if ride_.ask.run == "hold-speed" else (math.nan, math.nan)
    return {
        "longest_range_speed_m_s": furthest[0],
        "longest_range_m": furthest[1],
        "vehicle": design.vehicle.name,
        "variant": ride_.resolved.variant.id,
        "run": ride_.ask.run,
        "name": ride_.name,
        "ended": str(run.end.name).lower(),
        "time_s": stat(Stat.TIME),
        "distance_m": stat(Stat.DISTANCE),
        "energy_wh": ride_.energy_wh,
        "wh_per_km": ride_.wh_per_km,
        "terminal_wh_per_km": ride_.terminal_wh_per_km,
        "range_m": ride_.range_m,
        "range_with_second_pack_m": 2.0 * ride_.range_m,
        "charge_end": stat(Stat.CHARGE),
        "peak": {
            "motor_a": ride_.motor_a(stat(Stat.PEAK_DC_A)),
            "brake_motor_a": ride_.motor_a(stat(Stat.PEAK_BRAKE_A)),
            "pack_a": stat(Stat.PEAK_PACK_A),
            "charge_a": stat(Stat.PEAK_CHARGE_A),
            "power_w": stat(Stat.PEAK_W),
            "speed_m_s": stat(Stat.PEAK_SPEED),
            "bus_v_low": stat(Stat.LOWEST_BUS_V),
            "bus_v_high": stat(Stat.HIGHEST_BUS_V),
        },
        "mean": {
            "motor_a": ride_.motor_a(stat(Stat.DC_ABS_S) / time),
            "motor_rms_a": ride_.motor_a(math.sqrt(stat(Stat.DC_SQUARE_S) / time)),
            "pack_a": stat(Stat.PACK_S) / time,
            "pack_rms_a": math.sqrt(stat(Stat.PACK_SQUARE_S) / time),
            "power_w": run.energy_j(Sum.TERMINAL) / time,
            "speed_m_s": stat(Stat.DISTANCE) / time,
        },
        "temperatures": {
            "winding_max_c": stat(Stat.WINDING),
            "case_max_c": stat(Stat.CASE),
            "controller_max_c": stat(Stat.CONTROLLER),
            "pack_max_c": stat(Stat.PACK_T),
            "resistor_max_c": stat(Stat.RESISTOR_T) if ride_.run.plant.resistor_ohm > 0 else None,
        },
        "gears": {"shifts": int(stat(Stat.SHIFTS)), "in_gear_s": ride_.in_gears()} if ride_.resolved.gear else None,
        "time_to_limit_s": hot,
        "too_hot": ride_.over_at(),
        "limited_by": dict(ride_.held_by()),
        "energy_split_wh": ride_.split_wh(),
        "regenerated_wh": run.energy_j(Sum.REGENERATED) / 3600.0,
        "rider_wh": run.energy_j(Sum.RIDER) / 3600.0,
        "climbed_m": stat(Stat.UP_M),
        "course_up_m": up,
        "course_down_m": down,
        "climb_capacity_m": ride_.climb_capacity_m,
        "cost_of_charge": charge_cost,
        "cost_per_100_km": cost_100,
        "events": [{"t_s": t, "x_m": x, "what": " ".join(w for w in event_words(kind) if w)} for t, x, kind in run.events],
        "energy_balance_error": run.balance_error,
        "assumed": sorted(path for path, item in ride_.inputs.items() if item.known is Known.ASSUMED),
    }


def check_data(found: Sequence[Finding]) -> list[dict[str, Any]]:
    """What `check --json` prints."""
    return [
        {
            "code": f.code,
            "status": str(f.status),
            "margin": f.margin,
            "title": f.title,
            "because": f.because,
            "assumed": f.assumed,
            "suspect": f.suspect or None,
            "cures": [{"text": cure.text, "effect": cure.effect} for cure in f.cures],
        }
        for f in found
    ]
