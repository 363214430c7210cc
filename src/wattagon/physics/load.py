"""What a powertrain drives: the one interface that a vehicle on wheels or a hull with a propeller fills in."""

from __future__ import annotations

from typing import Protocol, runtime_checkable

from wattagon.physics.arrays import Num


@runtime_checkable
class Load(Protocol):
    """Thrust in N at a speed in m/s, and what that means at the output shaft.  Every method broadcasts over arrays.

    A wheel turns with the road whatever the thrust (`kinematic` is True); a propeller must turn faster for more thrust.
    """

    @property
    def kinematic(self) -> bool:
        """True when shaft speed follows from vehicle speed alone."""

    def shaft_speed_rad_s(self, speed_m_s: Num, thrust_n: Num) -> Num:
        """Output-shaft speed [rad/s]."""

    def shaft_torque_nm(self, speed_m_s: Num, thrust_n: Num) -> Num:
        """Output-shaft torque of all motors together [N m]."""

    def resistance_n(self, speed_m_s: Num, grade: Num, headwind_m_s: Num) -> Num:
        """Thrust that holds the speed [N]."""

    def thrust_caps(self, grade: Num) -> dict[str, Num]:
        """Limits of thrust that are not the drive's [N], by their name in the envelope."""

    def max_grade(self, thrust_n: Num, speed_m_s: Num, headwind_m_s: Num) -> Num:
        """Steepest rise per run at which `thrust_n`, or less where a cap binds, holds the speed; nan if it has no meaning."""

    def moving_mass_kg(self, rotor_kg_m2: Num, ratio: Num, efficiency: Num, braking: bool) -> Num:
        """Mass that thrust accelerates [kg], rotating parts included; rotor_kg_m2 is of all motors together."""
