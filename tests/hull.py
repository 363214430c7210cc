"""A load that is no road: a hull with a propeller, as plain as can be, for tests of what does not care."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from wattagon.physics.load import Ridden


@dataclass(frozen=True)
class Hull:
    """T = k w^2 beyond the slip that the speed takes, Q = q w^2, drag d v^2; shaft turns faster for more thrust."""

    k: float = 0.004
    q: float = 0.0001
    drag: float = 12.0
    mass_kg: float = 130.0
    rider_w: float = 0.0
    rider_top_m_s: float = 0.0

    @property
    def kinematic(self):
        return False

    @property
    def stacks_with(self):
        return ("hull",)

    @property
    def rises(self):
        return True

    def shaft_speed_rad_s(self, speed_m_s, thrust_n):
        return np.sqrt(np.maximum(thrust_n, 0.0) / self.k) + 8.0 * speed_m_s

    def shaft(self, speed_m_s, thrust_n):
        return self.shaft_torque_nm(speed_m_s, thrust_n), self.shaft_speed_rad_s(speed_m_s, thrust_n)

    def turned(self, speed_m_s, shaft_rad_s):
        slipping = np.maximum(shaft_rad_s - 8.0 * speed_m_s, 0.0) ** 2
        return self.q * slipping, self.k * slipping

    def speed_at_shaft(self, shaft_rad_s):
        return shaft_rad_s / 8.0

    def shaft_torque_nm(self, speed_m_s, thrust_n):
        return self.q / self.k * thrust_n + 0.0 * speed_m_s

    def thrust_n(self, speed_m_s, shaft_torque_nm):
        return self.k / self.q * shaft_torque_nm + 0.0 * speed_m_s

    def parts_n(self, speed_m_s, grade=0.0, headwind_m_s=0.0):
        return self.drag * np.asarray(speed_m_s) ** 2 + 0.0 * np.asarray(grade), 0.0 * np.asarray(speed_m_s), 0.0 * np.asarray(grade)

    def resistance_n(self, speed_m_s, grade=0.0, headwind_m_s=0.0):
        return sum(self.parts_n(speed_m_s, grade, headwind_m_s))

    def unloaded(self, share):
        return replace(self, drag=self.drag * share)

    def on_surface(self, factor):
        return self

    def thrust_caps(self, grade):
        return {}

    def brake_caps(self, grade):
        return {}

    def max_grade(self, thrust_n, speed_m_s, headwind_m_s=0.0):
        return np.nan * np.asarray(thrust_n)

    def grade_at(self, thrust_n, speed_m_s, headwind_m_s=0.0):
        return np.nan * np.asarray(thrust_n)

    def moving_mass_kg(self, rotor_kg_m2, ratio, efficiency, braking=False):
        return self.mass_kg + 0.0 * rotor_kg_m2

    def ridden(self):
        """At the advance of 2 m/s."""
        speed = 2.0
        turns = float(self.shaft_speed_rad_s(speed, self.drag * speed**2))
        return Ridden(self.mass_kg, 0.0, 0.0, self.drag, speed / turns, 0.0, 1e9, 1e9, 1e9, 1e9, 1e9)
