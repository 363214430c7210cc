"""A vehicle on wheels: rolling, air, grade, rotating parts, grip with weight transfer, wheel lift.

Sources: Gillespie 1992, Wong 2008 (road load); Cossalter 2006 (wheel lift); ISO 2533:1975 (atmosphere).
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from wattagon.errors import InputError
from wattagon.physics.arrays import Num, require
from wattagon.physics.load import Ridden
from wattagon.record import record

GRAVITY = 9.80665  # m/s2, standard
AXLES = ("rear", "front", "all")
SLOW_PEDALS_M_S = 1.5  # under it legs give a force, not a power


def air_density(altitude_m: Num = 0.0, air_c: Num = 15.0) -> Num:
    """Density of dry air [kg/m3] from altitude and the actual temperature, after ISO 2533."""
    pressure = 101325.0 * (1.0 - 2.25577e-5 * altitude_m) ** 5.25588
    return pressure / (287.05 * (air_c + 273.15))


@record(frozen=True, slots=True, kw_only=True)
class Road:
    """Land load of one vehicle.  Angles come from grade = rise per run by atan.  Fulfils physics.load.Load.

    The force of gravity along the slope is inside the contact force X, so it is not added to weight transfer again.
    A trailer of mass t on a hitch at height g pulls with t/(m + t) of X, so the height that counts is (m h + t g)/(m + t) and the wheels
    bear m/(m + t) of the weight: exact for X = (m + t)(acceleration + g sin).
    X leaves out rolling resistance, which is conservative for front lift.  A standing rider is not rigid: left out.
    """

    mass_kg: Num
    rolling: Num  # Crr [-]
    rolling_per_speed: Num = 0.0  # growth of Crr per m/s
    drag_area_m2: Num = 0.5  # CdA
    air_kg_m3: Num = 1.225
    wheel_radius_m: Num = 0.1  # loaded
    wheel_inertia_kg_m2: Num = 0.0  # all wheels together
    wheelbase_m: Num = 1.0
    cm_behind_front_m: Num = 0.5
    cm_height_m: Num = 0.5
    grip: Num = 0.7  # mu
    axle: str = "rear"
    driven_share: Num = 1.0  # share of the driven axle's load on driven wheels
    bearing_share: Num = 1.0  # of the weight that its own wheels bear; less with a trailer, whose pull raises cm_height_m
    rider_w: Num = 0.0  # from the pedals, as it reaches the road; what they give is taken off the load, as far as there is one
    rider_top_m_s: Num = 0.0  # where the highest gear is spun out

    def __post_init__(self) -> None:
        for name in ("mass_kg", "wheel_radius_m", "wheelbase_m", "cm_height_m", "grip", "air_kg_m3"):
            value = getattr(self, name)
            require(name, value, value > 0, "above 0")
        for name in ("rolling", "drag_area_m2", "wheel_inertia_kg_m2", "rider_w", "rider_top_m_s"):
            value = getattr(self, name)
            require(name, value, value >= 0, "0 or more")
        inside = (self.cm_behind_front_m > 0) & (self.cm_behind_front_m < self.wheelbase_m)
        require("cm_behind_front_m", self.cm_behind_front_m, inside, "between the axles")
        require("axle", self.axle, self.axle in AXLES, "rear, front or all")
        require("bearing_share", self.bearing_share, (self.bearing_share > 0) & (self.bearing_share <= 1), "above 0, up to 1")
        require("driven_share", self.driven_share, (self.driven_share > 0) & (self.driven_share <= 1), "above 0, up to 1")

    @property
    def kinematic(self) -> bool:
        return True

    @property
    def rises(self) -> bool:
        return True

    def shaft_speed_rad_s(self, speed_m_s: Num, thrust_n: Num) -> Num:
        return speed_m_s / self.wheel_radius_m

    def shaft(self, speed_m_s: Num, thrust_n: Num) -> tuple[Num, Num]:
        return self.shaft_torque_nm(speed_m_s, thrust_n), self.shaft_speed_rad_s(speed_m_s, thrust_n)

    def turned(self, speed_m_s: Num, shaft_rad_s: Num) -> tuple[Num, Num]:
        raise InputError("load", "a vehicle on wheels", "one whose shaft may turn faster than it goes")

    def speed_at_shaft(self, shaft_rad_s: Num) -> Num:
        return shaft_rad_s * self.wheel_radius_m

    def shaft_torque_nm(self, speed_m_s: Num, thrust_n: Num) -> Num:
        return thrust_n * self.wheel_radius_m

    def thrust_n(self, speed_m_s: Num, shaft_torque_nm: Num) -> Num:
        return shaft_torque_nm / self.wheel_radius_m

    @property
    def stacks_with(self) -> tuple[object, ...]:
        return ("road", self.axle)

    def unloaded(self, share: Num) -> Road:
        return replace(self, rolling=self.rolling * share, drag_area_m2=self.drag_area_m2 * share)

    def on_surface(self, factor: Num) -> Road:
        return replace(self, rolling=self.rolling * factor)

    def ridden(self) -> Ridden:
        caps, brakes = self.thrust_caps(0.0), self.brake_caps(0.0)
        mass, radius = float(self.mass_kg), float(self.wheel_radius_m)
        weight = mass * GRAVITY
        return Ridden(
            mass=mass,
            rolling=float(self.rolling),
            rolling_per_speed=float(self.rolling_per_speed),
            air_force=0.5 * float(self.air_kg_m3) * float(self.drag_area_m2),
            radius=radius,
            wheel_mass=float(self.wheel_inertia_kg_m2) / radius**2,
            grip_share=float(caps["traction"]) / weight,
            lift_share=float(caps["wheel_lift"]) / weight,
            brake_grip_share=float(brakes["traction"]) / weight,
            grip=float(self.grip) * float(self.bearing_share),
            pitch_share=float(brakes["pitch_over"]) / weight,
        )

    def parts_n(self, speed_m_s: Num, grade: Num = 0.0, headwind_m_s: Num = 0.0) -> tuple[Num, Num, Num]:
        """(rolling, air, grade) force [N].  A tailwind faster than the vehicle pushes."""
        slope = np.arctan(grade)
        weight = self.mass_kg * GRAVITY
        airspeed = speed_m_s + headwind_m_s
        rolling = (self.rolling + self.rolling_per_speed * speed_m_s) * weight * np.cos(slope)
        air = 0.5 * self.air_kg_m3 * self.drag_area_m2 * airspeed * np.abs(airspeed)
        return rolling, air, weight * np.sin(slope)

    def pedals_n(self, speed_m_s: Num) -> Num:
        """What the rider can push with [N]: power over speed, under a walking pace as at it, nothing beyond the highest gear."""
        if isinstance(self.rider_w, (int, float)) and self.rider_w == 0.0:
            return 0.0
        return np.where(speed_m_s < self.rider_top_m_s, self.rider_w / np.maximum(speed_m_s, SLOW_PEDALS_M_S), 0.0)

    def resistance_n(self, speed_m_s: Num, grade: Num = 0.0, headwind_m_s: Num = 0.0) -> Num:
        """What the drive has to give to hold a speed [N]: the load less what the rider gives of it."""
        rolling, air, climb = self.parts_n(speed_m_s, grade, headwind_m_s)
        load = rolling + air + climb
        push = self.pedals_n(speed_m_s)
        if isinstance(push, float):
            return load
        return load - np.minimum(push, np.maximum(load, 0.0))

    def _cap_per_weight(self) -> dict[str, Num]:
        """Caps of thrust as a share of the weight's part normal to the road [-]."""
        a, length, height = self.cm_behind_front_m, self.wheelbase_m, self.cm_height_m
        b = length - a
        mu_s = self.grip * self.driven_share
        if self.axle == "all":
            slip = mu_s + 0.0 * a
        elif self.axle == "front":
            slip = mu_s * (b / length) / (1.0 + mu_s * height / length)
        else:
            rest = 1.0 - mu_s * height / length
            # at or below zero the front lifts before the wheel can slip
            slip = np.where(rest > 0, mu_s * (a / length) / np.where(rest > 0, rest, 1.0), np.inf)
        caps: dict[str, Num] = {"traction": slip * self.bearing_share, "wheel_lift": b / height * self.bearing_share}
        return caps

    def thrust_caps(self, grade: Num = 0.0) -> dict[str, Num]:
        normal = self.mass_kg * GRAVITY * np.cos(np.arctan(grade))
        return {name: share * normal for name, share in self._cap_per_weight().items()}

    def brake_caps(self, grade: Num = 0.0) -> dict[str, Num]:
        """Limits of braking force on the driven wheels [N]: slip, and the rear wheel leaving the ground."""
        normal = self.bearing_share * self.mass_kg * GRAVITY * np.cos(np.arctan(grade))
        a, length, height = self.cm_behind_front_m, self.wheelbase_m, self.cm_height_m
        mu_s = self.grip * self.driven_share
        if self.axle == "all":
            slip = mu_s
        elif self.axle == "front":
            rest = 1.0 - mu_s * height / length
            slip = np.where(rest > 0, mu_s * ((length - a) / length) / np.where(rest > 0, rest, 1.0), np.inf)
        else:
            slip = mu_s * (a / length) / (1.0 + mu_s * height / length)
        return {"traction": slip * normal, "pitch_over": a / height * normal}

    def axle_loads_n(self, contact_force_n: Num, grade: Num = 0.0) -> tuple[Num, Num]:
        """(front, rear) axle load [N] at a longitudinal contact force, forwards positive."""
        normal = self.bearing_share * self.mass_kg * GRAVITY * np.cos(np.arctan(grade))
        shift = contact_force_n * self.cm_height_m / self.wheelbase_m
        back = self.cm_behind_front_m / self.wheelbase_m
        return normal * (1.0 - back) - shift, normal * back + shift

    def max_grade(self, thrust_n: Num, speed_m_s: Num, headwind_m_s: Num = 0.0) -> Num:
        """Steepest grade [rise/run] held at a speed with up to `thrust_n`; negative if even level road is too much.

        Closed form: thrust = W (c cos + sin) + A gives sin(theta + phi) = (F - A)/(W sqrt(1 + c^2)), tan phi = c; a cap
        k W cos gives cos(theta + psi) = A/(W sqrt((k - c)^2 + 1)), tan psi = 1/(k - c).
        """
        weight = self.mass_kg * GRAVITY
        crr = self.rolling + self.rolling_per_speed * speed_m_s
        air = self.parts_n(speed_m_s, 0.0, headwind_m_s)[1] - self.pedals_n(speed_m_s)
        angle = self._angle(thrust_n, air, crr)
        for share in self._cap_per_weight().values():
            room = np.where(np.isfinite(share), share, 1e6) - crr
            tilt = np.arctan2(1.0, room)
            held = np.arccos(np.clip(air / (weight * np.sqrt(room**2 + 1.0)), -1.0, 1.0)) - tilt
            angle = np.minimum(angle, held)
        return np.tan(np.minimum(angle, 1.5))

    def _angle(self, thrust_n: Num, air_n: Num, crr: Num) -> Num:
        ratio = (thrust_n - air_n) / (self.mass_kg * GRAVITY * np.sqrt(1.0 + crr**2))
        return np.arcsin(np.clip(ratio, -1.0, 1.0)) - np.arctan(crr)

    def grade_at(self, thrust_n: Num, speed_m_s: Num, headwind_m_s: Num = 0.0) -> Num:
        """Grade [rise/run] on which `thrust_n` just holds the speed, grip and lift not asked: the inverse of `resistance_n`."""
        crr = self.rolling + self.rolling_per_speed * speed_m_s
        air = self.parts_n(speed_m_s, 0.0, headwind_m_s)[1] - self.pedals_n(speed_m_s)
        return np.tan(np.minimum(self._angle(thrust_n, air, crr), 1.5))

    def moving_mass_kg(self, rotor_kg_m2: Num, ratio: Num, efficiency: Num, braking: bool = False) -> Num:
        turned = rotor_kg_m2 * (ratio / self.wheel_radius_m) ** 2
        through = 1.0 / efficiency if braking else efficiency
        return self.mass_kg + self.wheel_inertia_kg_m2 / self.wheel_radius_m**2 + through * turned
