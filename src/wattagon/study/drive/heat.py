"""Lines of equal time until a winding is too hot: thrust against speed, from cold, without a ride."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.holding import Hold
from wattagon.study.resolve import Resolved

MINUTES = (2.0, 10.0)
SPEEDS = 20
LEVELS = 14  # of the pull that are tried at once, twice: first over all of it, then between two of them


def lines_until_hot(
    resolved: Resolved, top_m_s: float, minutes: Sequence[float] = MINUTES
) -> list[tuple[float, NDArray[np.float64], NDArray[np.float64]]]:
    """(minutes, speeds [m/s], thrust [N]) for each time; a steady pull from the day's air, cooled by the speed itself.

    The winding's temperature after a time grows nearly in a line with the square of the torque: it is worked out at some levels of that,
    then at as many between the two that enclose the limit.  Pull that the motor current setting does not reach is given as that of the
    setting: the caller draws what lies under the edge.
    """
    train, heat = resolved.train, resolved.train.heat
    assert heat is not None
    speeds = np.linspace(0.0, top_m_s, SPEEDS)
    shaft = np.asarray(train.reduction.ratio * resolved.load.shaft_speed_rad_s(speeds, 0.0), dtype=float)
    most_a = train.motor.dc_per_motor_amp * float(train.controller.motor_current_a)
    most = np.maximum(np.asarray(train.motor.shaft_torque_nm(most_a, shaft)), 1e-3) ** 2
    hold = Hold(motor=train.motor, heat=heat, shaft_nm=0.0, shaft_rad_s=shaft, speed_m_s=speeds, air_c=resolved.air_c)
    share = np.linspace(0.0, 1.0, LEVELS)[:, np.newaxis]
    lines = []
    for minute in minutes:
        low, high = np.zeros(SPEEDS), most
        square = most
        for _ in range(2):
            squares = low + (high - low) * share
            left = heat.limit_c - replace(hold, shaft_nm=np.sqrt(squares)).at(minute * 60.0)[0]
            # the first level that is too hot, and the one before it
            at = np.clip(np.argmax(left < 0.0, axis=0), 1, LEVELS - 1)
            cool = np.all(left >= 0.0, axis=0)
            take = lambda table, k: np.take_along_axis(table, k[np.newaxis], axis=0)[0]
            low, high, below, above = take(squares, at - 1), take(squares, at), take(left, at - 1), take(left, at)
            between = low + (high - low) * np.clip(below / np.maximum(below - above, 1e-9), 0.0, 1.0)
            square = np.where(cool, most, between)
        thrust = resolved.load.thrust_n(speeds, train.count * train.reduction.output_torque_nm(np.sqrt(square)))
        lines.append((minute, speeds, np.maximum(np.asarray(thrust), 0.0)))
    return lines
