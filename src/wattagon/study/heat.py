"""Lines of equal time until a winding is too hot: thrust against speed, from cold, without a ride."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.thermal import warming
from wattagon.study.resolve import Resolved

MINUTES = (2.0, 10.0)
SPEEDS = 20
HALVINGS = 16  # of the current: 1/65,000 of the setting


def lines_until_hot(
    resolved: Resolved, top_m_s: float, minutes: Sequence[float] = MINUTES
) -> list[tuple[float, NDArray[np.float64], NDArray[np.float64]]]:
    """(minutes, speeds [m/s], thrust [N]) for each time; steady current from the day's air, cooled by the speed itself.

    Halving on the current, since the temperature after a time grows with it.  Thrust that the motor current setting does not
    reach is given as that of the setting: the caller draws what lies under the edge.
    """
    train, heat = resolved.train, resolved.train.heat
    assert heat is not None
    speeds = np.linspace(0.0, top_m_s, SPEEDS)
    shaft = np.asarray(train.reduction.ratio * resolved.road.shaft_speed_rad_s(speeds, 0.0), dtype=float)
    seconds = np.asarray(minutes, dtype=float)[:, np.newaxis] * 60.0
    most = train.motor.dc_per_motor_amp * float(train.controller.motor_current_a)
    low, high = np.zeros((len(minutes), SPEEDS)), np.full((len(minutes), SPEEDS), most)
    for _ in range(HALVINGS):
        middle = 0.5 * (low + high)
        state = warming(train.motor, heat, middle, shaft, speeds, air_c=resolved.air_c)
        cool = state.at(seconds)[0] < heat.limit_c
        low, high = np.where(cool, middle, low), np.where(cool, high, middle)
    thrust = np.asarray(train.output_torque_nm(low, shaft)) / resolved.road.wheel_radius_m
    return [(m, speeds, np.maximum(thrust[k], 0.0)) for k, m in enumerate(minutes)]
