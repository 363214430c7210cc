"""A route without dynamics: energy by steps of a given speed profile.  The ride loop does more; this is its referee.

Source: Guzzella and Sciarretta 2013, quasi-static method.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from wattagon.physics.brakes import brake_force
from wattagon.physics.envelope import edge
from wattagon.physics.powertrain import Powertrain
from wattagon.physics.ride.course import Leg
from wattagon.physics.road import Road
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class RouteEnergy:
    """What a route takes."""

    time_s: float
    terminal_wh: float
    chemical_wh: float
    regenerated_wh: float  # into the terminals
    friction_wh: float  # what the electric brake could not take
    infeasible: int  # steps on which the drive cannot follow
    end_charge: float


def quasi_static(
    train: Powertrain, road: Road, legs: Sequence[Leg], *, charge: float, change_m_s2: float = 0.5, step_s: float = 0.05
) -> RouteEnergy:
    """Energy of legs from rest; speed changes at the beginning of each leg at a steady rate, distance counted inside it.

    Forces at the mid-step speed, continuous set; no rider power.  Error against a full transient under 1 %.
    """
    red, motor = train.reduction, train.motor
    radius = float(road.wheel_radius_m)
    v = t = terminal = chemical = regained = friction = 0.0
    infeasible = 0
    ohm = float(train.pack_ohm(False))
    for leg in legs:
        x = 0.0
        while x < leg.length_m - 1e-9:
            goal = leg.speed_m_s
            after = min(v + change_m_s2 * step_s, goal) if goal >= v else max(v - change_m_s2 * step_s, goal)
            mid = 0.5 * (v + after)
            dt = step_s
            if x + mid * dt > leg.length_m:
                dt = (leg.length_m - x) / mid
            accel = (after - v) / step_s
            bare = float(road.mass_kg) + float(road.wheel_inertia_kg_m2) / radius**2
            force = bare * accel + float(sum(road.parts_n(mid, leg.grade, leg.wind_m_s)))
            emf = float(train.pack.emf_v(charge))
            shaft = float(red.ratio) * mid / radius
            if force < 0.0:
                most, _ = brake_force(train, road, mid, emf, grade=leg.grade)
                if -force > float(most):
                    friction += (-force - float(most)) * mid * dt
                    force = -float(most)
            elif force > float(edge(train, road, mid, emf, grade=leg.grade).force_n):
                infeasible += 1
            torque = (
                float(red.shaft_torque_nm(force * radius / train.count))
                + float(motor.rotor_inertia_kg_m2) * float(red.ratio) / radius * accel
            )
            current = float(motor.current_for_torque_a(torque, shaft))
            if float(red.one_way) > 0 and force <= 0.0:
                current, shaft = 0.0, 0.0
            volts, pack_a, _, _ = (float(y) for y in train.bus(current, shaft, emf, ohm))
            terminal += volts * pack_a * dt
            chemical += emf * pack_a * dt
            regained += max(-volts * pack_a, 0.0) * dt
            charge -= pack_a * dt / (3600.0 * float(train.pack.capacity_ah))
            x += mid * dt
            v, t = v + accel * dt, t + dt
    hour = 3600.0
    assert math.isfinite(chemical)
    return RouteEnergy(
        time_s=t,
        terminal_wh=terminal / hour,
        chemical_wh=chemical / hour,
        regenerated_wh=regained / hour,
        friction_wh=friction / hour,
        infeasible=infeasible,
        end_charge=charge,
    )
