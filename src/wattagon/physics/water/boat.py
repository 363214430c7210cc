"""A boat with its propellers as what a powertrain drives.  Fulfils physics.load.Load.

The working point of a propeller follows from thrust and inflow alone: s = sqrt(K_T)/(sqrt(K_T) + J) = sqrt(T)/(sqrt(T) + V_A D sqrt(rho))
rises from 0 (no thrust) to 1 (at rest), so a table of J over s gives it at once; likewise over torque with K_Q and D^3.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num, require
from wattagon.physics.curves import Curve
from wattagon.physics.load import Ridden, Swum
from wattagon.physics.water.propeller import OpenWater
from wattagon.record import record

POINTS = 400  # of each table
FINE = 20_001
REFINED = 2
SPEEDS = 301  # of the table of resistance


@record(frozen=True, slots=True, kw_only=True)
class Screw:
    """A propeller's coefficients as tables: over the advance ratio, and the advance ratio over its share of thrust and of torque."""

    diameter_m: Num
    thrust: Curve  # K_T over J
    torque: Curve  # K_Q over J
    by_thrust: Curve  # J over s of thrust
    by_torque: Curve  # J over s of torque
    no_thrust: Num  # J without thrust
    pitch_m: Num = 0.1
    can: Num = 0.0  # share of `torque` that the water around a turning can takes: it too goes with the square of the turns


def scaled(screw: Screw, thrust: float, torque: float) -> Screw:
    """A propeller with factors on thrust and torque; what a can takes stays, so there must be none.

    With K a times as large the same J stands at sqrt(a) times the s/(1 - s), so its tables are read again instead of made.
    """
    shares = np.linspace(0.0, 1.0, POINTS)

    def inverse(table: Curve, factor: float) -> Curve:
        return Curve(table.step, table.at(shares / (shares + np.sqrt(factor) * (1.0 - shares))))

    return replace(
        screw,
        thrust=Curve(screw.thrust.step, thrust * screw.thrust.values),
        torque=Curve(screw.torque.step, torque * screw.torque.values),
        by_thrust=inverse(screw.by_thrust, thrust),
        by_torque=inverse(screw.by_torque, torque),
    )


def screw_of(diameter_m: float, pitch_m: float, open_water: OpenWater, can: float = 0.0) -> Screw:
    """Tables of a propeller from its open-water coefficients; `can` is what turns with it in the water, as a K_Q of the same shaft."""
    open_water = open_water._replace(torque=open_water.torque + can) if can > 0.0 else open_water
    last, shares = open_water.no_thrust, np.linspace(0.0, 1.0, POINTS)
    fine = np.linspace(0.0, last, FINE)
    top = _no_torque(open_water)

    def inverse(end: float, which: int) -> NDArray[np.float64]:
        tried = np.linspace(0.0, end, FINE)
        root = np.sqrt(np.maximum(open_water.at(tried)[which], 0.0))
        share = root / np.maximum(root + tried, 1e-12)
        share[0] = 1.0
        return np.interp(shares, share[::-1], tried[::-1])

    grid = np.linspace(0.0, top, POINTS)
    thrust, torque = open_water.at(grid)
    return Screw(
        diameter_m=diameter_m,
        pitch_m=pitch_m,
        thrust=Curve(top / (POINTS - 1), np.asarray(thrust)),
        torque=Curve(top / (POINTS - 1), np.asarray(torque)),
        by_thrust=Curve(1.0 / (POINTS - 1), inverse(last, 0)),
        by_torque=Curve(1.0 / (POINTS - 1), inverse(top, 1)),
        no_thrust=float(fine[-1]),
        can=can,
    )


def _no_torque(open_water: OpenWater) -> float:
    """Advance ratio at which the water turns it by itself; the end of the table where it does not get there."""
    tried = np.linspace(0.0, 1.5 * float(open_water.advance[-1]), FINE)
    under = open_water.at(tried)[1] <= 0.0
    return float(tried[int(np.argmax(under))]) if under.any() else float(tried[-1])


def _refined(advance: NDArray[np.float64], coefficient: Curve, root: Num, slow: Num) -> NDArray[np.float64]:
    """The advance ratio by Newton on K(J) slow^2 = root^2 J^2, so that thrust and torque of one table agree."""
    force, flow = np.square(root), np.square(slow)
    for _ in range(REFINED):
        value, slope = coefficient.with_slope(advance)
        rate = slope * flow - 2.0 * force * advance
        step = (value * flow - force * advance**2) / np.where(rate < 0.0, rate, 1.0)
        advance = np.maximum(advance - np.where(rate < 0.0, step, 0.0), 0.0)
    return advance


@record(frozen=True, slots=True, kw_only=True)
class Boat:
    """Hull, propellers, air and current of one boat; forces along the way [N].

    `hull` is the resistance through still water [N] over speed.  A current along the way is not in it: speeds are through the water.
    """

    mass_kg: Num
    hull: Curve
    screw: Screw
    propellers: Num = 1.0
    kg_m3: Num = 999.1
    wake: Num = 0.03  # w: share by which the water that a propeller meets is slower than the boat
    deduction: Num = 0.04  # t: share of the thrust that suction on the hull takes
    tilt_cos: Num = 1.0  # of the angle between shaft and way
    appendage_m2: Num = 0.0  # C_D A in the water
    drag_area_m2: Num = 0.6  # C_D A in the air
    air_kg_m3: Num = 1.225
    added_share: Num = 0.1  # water that is accelerated along with the hull, as a share of the mass; typical
    hull_share: Num = 1.0  # of `hull`, in what is asked of a boat without its own drag
    rider_w: Num = 0.0  # from paddles
    rider_top_m_s: Num = 0.0

    def __post_init__(self) -> None:
        for name in ("mass_kg", "propellers", "kg_m3", "tilt_cos"):
            value = getattr(self, name)
            require(name, value, value > 0, "above 0")
        for name in ("wake", "deduction"):
            value = getattr(self, name)
            require(name, value, (value >= 0) & (value < 0.5), "0 up to 0.5")

    @property
    def kinematic(self) -> bool:
        return False

    @property
    def stacks_with(self) -> tuple[object, ...]:
        return ("boat", self.hull.values.shape[-1])

    @property
    def rises(self) -> bool:
        return bool(np.all(self.hull.values[..., 1:] >= self.hull.values[..., :-1]))

    # the propellers

    def inflow_m_s(self, speed_m_s: Num) -> Num:
        """Speed of the water that the propellers meet."""
        return np.maximum(speed_m_s, 0.0) * (1.0 - self.wake)

    def own_thrust_n(self, thrust_n: Num) -> Num:
        """Thrust of one propeller for what pushes the hull."""
        return thrust_n / (self.propellers * (1.0 - self.deduction) * self.tilt_cos)

    def advance(self, speed_m_s: Num, thrust_n: Num) -> NDArray[np.float64]:
        """Advance ratio at which the propellers give a thrust; without any, that at which they give none."""
        root = np.sqrt(np.maximum(self.own_thrust_n(thrust_n), 0.0))
        slow = self.inflow_m_s(speed_m_s) * self.screw.diameter_m * np.sqrt(self.kg_m3)
        total = root + slow
        share = np.where(total > 0.0, root / np.where(total > 0.0, total, 1.0), 1.0)
        return _refined(self.screw.by_thrust.at(share), self.screw.thrust, root, slow)

    def turns_s(self, speed_m_s: Num, advance: Num, force: Num, coefficient: Num, power: int) -> Num:
        """Turns a second at an advance ratio: by the inflow where it is fast, else by the force (thrust: power 4, torque: 5)."""
        inflow, diameter = self.inflow_m_s(speed_m_s), self.screw.diameter_m
        fast = np.asarray(advance) > 0.5 * self.screw.no_thrust
        by_inflow = inflow / (np.where(fast, advance, 1.0) * diameter)
        held = np.maximum(force, 0.0) / (self.kg_m3 * diameter**power * np.where(fast, 1.0, np.maximum(coefficient, 1e-9)))
        return np.where(fast, by_inflow, np.sqrt(held))

    def props(self, speed_m_s: Num, thrust_n: Num) -> tuple[NDArray[np.float64], Num, NDArray[np.float64], NDArray[np.float64]]:
        """(advance ratio, turns a second, K_T, K_Q of the whole shaft) of propellers that give a thrust together."""
        advance = self.advance(speed_m_s, thrust_n)
        push = self.screw.thrust.at(advance)
        return advance, self.turns_s(speed_m_s, advance, self.own_thrust_n(thrust_n), push, 4), push, self.screw.torque.at(advance)

    def shaft(self, speed_m_s: Num, thrust_n: Num) -> tuple[Num, Num]:
        _, turns, _, takes = self.props(speed_m_s, thrust_n)
        return self.propellers * takes * self.kg_m3 * turns**2 * self.screw.diameter_m**5, 2.0 * math.pi * turns

    def shaft_speed_rad_s(self, speed_m_s: Num, thrust_n: Num) -> Num:
        return self.shaft(speed_m_s, thrust_n)[1]

    def shaft_torque_nm(self, speed_m_s: Num, thrust_n: Num) -> Num:
        return self.shaft(speed_m_s, thrust_n)[0]

    def by_torque(self, speed_m_s: Num, shaft_torque_nm: Num) -> tuple[NDArray[np.float64], Num]:
        """(advance ratio, turns a second) of propellers that take a torque together."""
        own = np.maximum(shaft_torque_nm / self.propellers, 0.0)
        root = np.sqrt(own)
        slow = self.inflow_m_s(speed_m_s) * np.sqrt(self.kg_m3 * self.screw.diameter_m**3)
        total = root + slow
        share = np.where(total > 0.0, root / np.where(total > 0.0, total, 1.0), 1.0)
        advance = _refined(self.screw.by_torque.at(share), self.screw.torque, root, slow)
        return advance, self.turns_s(speed_m_s, advance, own, self.screw.torque.at(advance), 5)

    def thrust_n(self, speed_m_s: Num, shaft_torque_nm: Num) -> Num:
        advance, turns = self.by_torque(speed_m_s, shaft_torque_nm)
        own = self.screw.thrust.at(advance) * self.kg_m3 * turns**2 * self.screw.diameter_m**4
        return own * self.propellers * (1.0 - self.deduction) * self.tilt_cos

    def turned(self, speed_m_s: Num, shaft_rad_s: Num) -> tuple[Num, Num]:
        turns_s = shaft_rad_s / (2.0 * math.pi)
        diameter, inflow = self.screw.diameter_m, self.inflow_m_s(speed_m_s)
        advance = inflow / np.maximum(turns_s * diameter, 1e-9)
        inside = np.minimum(advance, self.screw.torque.end)
        head = self.propellers * self.kg_m3 * turns_s**2 * diameter**4
        push = self.screw.thrust.at(inside) * head * (1.0 - self.deduction) * self.tilt_cos
        return self.screw.torque.at(inside) * head * diameter, push

    def speed_at_shaft(self, shaft_rad_s: Num) -> Num:
        """Speed at which propellers that turn so fast give no thrust any more."""
        return shaft_rad_s / (2.0 * math.pi) * self.screw.no_thrust * self.screw.diameter_m / (1.0 - self.wake)

    # what holds the boat back

    def parts_n(self, speed_m_s: Num, grade: Num = 0.0, headwind_m_s: Num = 0.0) -> tuple[Num, Num, Num]:
        speed = np.asarray(speed_m_s, dtype=float)
        through = speed + headwind_m_s
        water = self.hull_share * self.hull.at(np.abs(speed)) + 0.5 * self.kg_m3 * self.appendage_m2 * speed**2
        air = 0.5 * self.air_kg_m3 * self.drag_area_m2 * through * np.abs(through)
        none = 0.0 * np.asarray(grade, dtype=float) * air
        return water + none, air + none, none

    def resistance_n(self, speed_m_s: Num, grade: Num = 0.0, headwind_m_s: Num = 0.0) -> Num:
        water, air, _ = self.parts_n(speed_m_s, grade, headwind_m_s)
        load = water + air
        if np.any(np.asarray(self.rider_w) > 0.0):
            paddled = np.where(np.asarray(speed_m_s) < self.rider_top_m_s, self.rider_w / np.maximum(speed_m_s, 0.5), 0.0)
            load = load - np.minimum(paddled, np.maximum(load, 0.0))
        return load

    def unloaded(self, share: Num) -> Boat:
        return replace(
            self,
            hull_share=self.hull_share * share,
            appendage_m2=self.appendage_m2 * share,
            drag_area_m2=self.drag_area_m2 * share,
            rider_w=0.0,
        )

    def on_surface(self, factor: Num) -> Boat:
        return self

    def grade_at(self, thrust_n: Num, speed_m_s: Num, headwind_m_s: Num = 0.0) -> Num:
        return np.nan * np.asarray(thrust_n, dtype=float)

    def max_grade(self, thrust_n: Num, speed_m_s: Num, headwind_m_s: Num = 0.0) -> Num:
        return np.nan * np.asarray(thrust_n, dtype=float)

    def thrust_caps(self, grade: Num) -> dict[str, Num]:
        return {}

    def brake_caps(self, grade: Num) -> dict[str, Num]:
        return {}

    def moving_mass_kg(self, rotor_kg_m2: Num, ratio: Num, efficiency: Num, braking: bool = False) -> Num:
        """Hull and the water that goes along with it; rotors and propellers turn freely of the way, so they do not count."""
        return self.mass_kg * (1.0 + self.added_share) + 0.0 * np.asarray(rotor_kg_m2, dtype=float)

    def ridden(self) -> Ridden:
        """Its tables.  The advance per turn beside them is that of a middling speed: nothing follows from it but a scale."""
        speeds: NDArray[np.float64] = np.linspace(0.0, float(np.asarray(self.hull.end)), SPEEDS)
        hull, _, _ = self.parts_n(speeds)
        middling = 0.25 * float(speeds[-1])
        turning = float(np.asarray(self.shaft_speed_rad_s(middling, float(np.asarray(self.resistance_n(middling))))))
        grid = np.linspace(0.0, float(np.asarray(self.screw.torque.end)), self.screw.torque.values.shape[-1])
        swum = Swum(
            hull_step=float(speeds[1]),
            hull=tuple(np.asarray(hull).tolist()),
            advance_step=float(grid[1]),
            thrust=tuple(np.asarray(self.screw.thrust.at(grid)).tolist()),
            torque=tuple(np.asarray(self.screw.torque.at(grid)).tolist()),
            diameter=float(self.screw.diameter_m),
            screws=float(self.propellers),
            kg_m3=float(self.kg_m3),
            inflow=1.0 - float(self.wake),
            push=(1.0 - float(self.deduction)) * float(self.tilt_cos),
        )
        return Ridden(
            mass=float(self.mass_kg),
            rolling=0.0,
            rolling_per_speed=0.0,
            air_force=0.5 * float(self.air_kg_m3) * float(self.drag_area_m2),
            radius=middling / turning,
            wheel_mass=float(self.added_share * self.mass_kg),
            grip_share=1e9,
            lift_share=1e9,
            brake_grip_share=1e9,
            grip=1e9,
            pitch_share=1e9,
            swum=swum,
        )
