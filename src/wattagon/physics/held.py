"""The current that a thrust takes at a speed: the one place where a load and a powertrain are put together for it."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.physics.arrays import Num
from wattagon.physics.load import Load
from wattagon.physics.powertrain import Powertrain


class Held(NamedTuple):
    """A thrust at a speed, through the reduction to one motor; every member broadcasts."""

    thrust_n: Num
    output_nm: Num  # at the output shaft, all motors together
    shaft_rad_s: Num  # of the motors
    current_a: Num  # DC-equivalent of each motor, whatever the limits say; below 0 where it brakes


def holding(
    train: Powertrain, load: Load, speed_m_s: Num, *, grade: Num = 0.0, headwind_m_s: Num = 0.0, thrust_n: Num | None = None
) -> Held:
    """What holds a speed on a grade, or a stated thrust [N] at that speed, on wheels as on water."""
    thrust = load.resistance_n(speed_m_s, grade, headwind_m_s) if thrust_n is None else thrust_n
    output, turning = load.shaft(speed_m_s, thrust)
    shaft = train.reduction.ratio * turning
    return Held(thrust, output, shaft, train.current_for_output_a(output, shaft))
