"""What a drive does on the water: at the dock, at full throttle, at any speed; its propeller and the hump before it."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.physics.arrays import Num
from wattagon.physics.envelope import edge
from wattagon.physics.held import holding
from wattagon.physics.water.boat import Boat
from wattagon.physics.water.dock import Factor, Pulled, fit_dock
from wattagon.physics.water.limits import Cavitation, cavitation
from wattagon.physics.water.water import water
from wattagon.study.resolve import Resolved, resolve
from wattagon.study.resolve.boat import DOCK_DEDUCTION


class Prop(NamedTuple):
    """One propeller at work: SI, coefficients without unit."""

    advance: float
    slip: float
    efficiency: float
    rpm: float
    thrust_n: float
    torque_nm: float
    kt: float
    kq: float


def boat_in(resolved: Resolved) -> Boat:
    """The load of a boat.  Raises InputError for a vehicle on wheels."""
    if not isinstance(resolved.load, Boat):
        raise InputError("vehicle.kind", "on wheels", "a boat")
    return resolved.load


def props_at(resolved: Resolved, speed_m_s: Num, thrust_n: Num) -> tuple[NDArray[np.float64], ...]:
    """The figures of `Prop` along speeds and thrusts on the hull, as arrays in its order."""
    boat = boat_in(resolved)
    advance, turning, kt, whole = boat.props(speed_m_s, thrust_n)
    turns, kq = np.asarray(turning), whole - boat.screw.can
    head = float(boat.kg_m3) * turns**2 * float(boat.screw.diameter_m) ** 4
    goes, takes = turns > 0.0, kq > 0.0
    slip = np.where(goes, 1.0 - speed_m_s / np.where(goes, turns * float(boat.screw.pitch_m), 1.0), np.nan)
    efficiency = np.where(takes, advance * kt / np.where(takes, math.tau * kq, 1.0), 0.0)
    return advance, slip, efficiency, 60.0 * turns, kt * head, kq * head * float(boat.screw.diameter_m), kt, kq


def can_w(resolved: Resolved, turns_s: float) -> float:
    """Power that the water around cans takes that turn in it [W], of all propellers' shafts together."""
    boat = boat_in(resolved)
    torque = float(boat.screw.can) * float(boat.kg_m3) * turns_s**2 * float(boat.screw.diameter_m) ** 5
    return float(boat.propellers) * math.tau * turns_s * torque


def prop_at(resolved: Resolved, speed_m_s: float, thrust_n: float) -> Prop:
    """A propeller of a boat that goes at a speed under a thrust on the hull."""
    return Prop(*(float(figure) for figure in props_at(resolved, speed_m_s, thrust_n)))


def dock_factors(design: Design, stock: Catalogue, resolved: Resolved | None = None) -> tuple[Factor, Factor] | None:
    """(factor on thrust, factor on torque) of the active variant's dock test against its outline alone; None with fewer than two rows.

    `resolved` is the design where it is worked out already; with factors of its own it is once more, without.
    Raises InputError for what cannot be believed.
    """
    choice = design.variant().propeller
    rows = [row for row in choice.dock if not row.out] if choice is not None else []
    if choice is None or len(rows) < 2:
        return None
    plain = replace(choice, thrust_factor=None, torque_factor=None)
    if resolved is None or choice != plain:
        variants = tuple(replace(v, propeller=plain) if v is design.variant() else v for v in design.variants)
        resolved = resolve(replace(design, variants=variants), stock)
    boat = replace(boat_in(resolved), deduction=DOCK_DEDUCTION)
    return fit_dock(resolved.train, boat, [Pulled(row.pull, row.volts, row.amps, row.rpm) for row in rows])


def over_hump_m_s(resolved: Resolved, charge: float) -> float:
    """The fastest speed at which thrust falls to the load beyond the one reached from rest; nan where there is none."""
    boat, train, emf = boat_in(resolved), resolved.train, resolved.emf_v(charge)
    top = float(boat.speed_at_shaft(train.free_output_rad_s(emf)))
    speeds = np.linspace(0.0, min(top, float(np.asarray(boat.hull.end))), 301)
    spare = edge(train, boat, speeds, emf, air_c=resolved.air_c).force_n - np.asarray(boat.resistance_n(speeds, 0.0, resolved.headwind_m_s))
    falls = np.flatnonzero((spare[:-1] > 0.0) & (spare[1:] <= 0.0))
    if falls.size < 2:
        return math.nan
    k = int(falls[-1])
    return float(speeds[k] + (speeds[k + 1] - speeds[k]) * spare[k] / (spare[k] - spare[k + 1]))


def loaded_share(resolved: Resolved, top_m_s: float, charge: float) -> float:
    """Turns at full throttle at the top speed, as a share of those without load on the same pack: about 0.85 where all matches.

    At its top speed the thrust is what the boat takes.
    """
    boat = boat_in(resolved)
    thrust = max(float(boat.resistance_n(top_m_s, 0.0, resolved.headwind_m_s)), 0.0)
    turning = float(boat.shaft_speed_rad_s(top_m_s, thrust))
    return turning / float(resolved.train.free_output_rad_s(resolved.emf_v(charge)))


def cavitates(resolved: Resolved, speed_m_s: Num, thrust_n: Num, depth_m: float, area_ratio: float, blades: int) -> Cavitation:
    """Loading of the blades against what they bear without bubbles, at speeds and thrusts on the hull."""
    boat, at = boat_in(resolved), Prop(*props_at(resolved, speed_m_s, thrust_n))  # type: ignore[arg-type]
    return cavitation(
        at.thrust_n,
        at.rpm / 60.0,
        boat.inflow_m_s(speed_m_s),
        diameter_m=float(boat.screw.diameter_m),
        pitch_m=float(boat.screw.pitch_m),
        area_ratio=area_ratio,
        blades=blades,
        depth_m=depth_m,
        medium=water()._replace(kg_m3=float(boat.kg_m3)),
    )


def held_motor_a(resolved: Resolved, speed_m_s: float) -> float:
    """Amps of one motor that hold a speed."""
    held = holding(resolved.train, resolved.load, speed_m_s, headwind_m_s=resolved.headwind_m_s)
    return float(held.current_a) / resolved.train.motor.dc_per_motor_amp
