"""What a powertrain drives: the one interface that a vehicle on wheels or a hull with a propeller fills in."""

from __future__ import annotations

from typing import NamedTuple, Protocol, Self, runtime_checkable

from wattagon.physics.arrays import Num


class Swum(NamedTuple):
    """Hull and propellers of a boat as the ride loop takes them: tables over even grids from 0, plain numbers."""

    hull_step: float  # [m/s]
    hull: tuple[float, ...]  # all that the water holds back [N]
    advance_step: float
    thrust: tuple[float, ...]  # K_T over the advance ratio, to where the water turns the propeller by itself
    torque: tuple[float, ...]  # K_Q
    diameter: float  # [m]
    screws: float
    kg_m3: float
    inflow: float  # of the boat's speed
    push: float  # of the thrust that reaches the hull


class Ridden(NamedTuple):
    """A load as the ride loop takes it: plain numbers; caps as a share of the force normal to the ground.

    A load whose shaft turns faster for more thrust is ridden by its tables (`swum`), or else at one advance per turn.
    """

    mass: float  # [kg]
    rolling: float  # drag as a share of the weight [-]
    rolling_per_speed: float  # [s/m]
    air_force: float  # force per square of the speed through air or water [N s2/m2]
    radius: float  # metres along per radian of the output shaft
    wheel_mass: float  # what turns with the output shaft, as mass that moves along [kg]
    grip_share: float
    lift_share: float
    brake_grip_share: float
    grip: float
    pitch_share: float
    swum: Swum | None = None


@runtime_checkable
class Load(Protocol):
    """Thrust in N at a speed in m/s, and what that means at the output shaft.  Every method broadcasts over arrays.

    A wheel turns with the road whatever the thrust (`kinematic` is True); a propeller must turn faster for more thrust.
    """

    @property
    def mass_kg(self) -> Num:
        """All that moves along [kg]."""

    @property
    def rider_w(self) -> Num:
        """What a rider adds [W], as it reaches the load; 0 without one."""

    @property
    def rider_top_m_s(self) -> Num:
        """Speed from which on a rider adds nothing [m/s]."""

    @property
    def stacks_with(self) -> tuple[object, ...]:
        """What must be equal for loads to be stacked into one with arrays."""

    @property
    def kinematic(self) -> bool:
        """True when shaft speed follows from vehicle speed alone."""

    @property
    def rises(self) -> bool:
        """Whether its resistance never falls with speed, so that a drive comes to rest with it at one speed only."""

    def shaft_speed_rad_s(self, speed_m_s: Num, thrust_n: Num) -> Num:
        """Output-shaft speed [rad/s]."""

    def turned(self, speed_m_s: Num, shaft_rad_s: Num) -> tuple[Num, Num]:
        """(torque taken [N m], thrust given [N]) at a speed and an output-shaft speed; of loads that are not kinematic."""

    def shaft(self, speed_m_s: Num, thrust_n: Num) -> tuple[Num, Num]:
        """(torque of all motors together [N m], speed [rad/s]) of the output shaft, worked out together."""

    def speed_at_shaft(self, shaft_rad_s: Num) -> Num:
        """Speed at which an output shaft that turns so fast gives no thrust any more [m/s]."""

    def shaft_torque_nm(self, speed_m_s: Num, thrust_n: Num) -> Num:
        """Output-shaft torque of all motors together [N m]."""

    def thrust_n(self, speed_m_s: Num, shaft_torque_nm: Num) -> Num:
        """Thrust of an output-shaft torque of all motors together [N]: the inverse of `shaft_torque_nm`."""

    def parts_n(self, speed_m_s: Num, grade: Num = 0.0, headwind_m_s: Num = 0.0) -> tuple[Num, Num, Num]:
        """(rolling or water, air, gravity) that thrust works against [N]."""

    def unloaded(self, share: Num) -> Self:
        """The same load with a share of its own drag: at 0 nothing but gravity holds it back."""

    def on_surface(self, factor: Num) -> Self:
        """The same load where rolling resistance is so many times its own; on water the same."""

    def grade_at(self, thrust_n: Num, speed_m_s: Num, headwind_m_s: Num = 0.0) -> Num:
        """Grade [rise/run] on which a thrust just holds the speed, caps not asked; nan if it has no meaning."""

    def brake_caps(self, grade: Num) -> dict[str, Num]:
        """Limits of braking thrust that are not the drive's [N]."""

    def ridden(self) -> Ridden:
        """As the ride loop takes it."""

    def resistance_n(self, speed_m_s: Num, grade: Num, headwind_m_s: Num) -> Num:
        """Thrust that holds the speed [N]."""

    def thrust_caps(self, grade: Num) -> dict[str, Num]:
        """Limits of thrust that are not the drive's [N], by their name in the envelope."""

    def max_grade(self, thrust_n: Num, speed_m_s: Num, headwind_m_s: Num) -> Num:
        """Steepest rise per run at which `thrust_n`, or less where a cap binds, holds the speed; nan if it has no meaning."""

    def moving_mass_kg(self, rotor_kg_m2: Num, ratio: Num, efficiency: Num, braking: bool) -> Num:
        """Mass that thrust accelerates [kg], rotating parts included; rotor_kg_m2 is of all motors together."""
