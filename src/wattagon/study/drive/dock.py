"""A boat tied to a strong point at full throttle, by what its drive does at rest."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from wattagon.physics.envelope import Edge
from wattagon.physics.powertrain import LIMITS
from wattagon.physics.water.boat import Boat
from wattagon.study.resolve import Resolved
from wattagon.study.resolve.boat import DOCK_DEDUCTION


class Dock(NamedTuple):
    """Tied to a strong point at full throttle: pull of all propellers, amps of one motor, turns of a propeller, what binds."""

    pull_n: float
    motor_a: float
    rpm: float
    limit: str


def docks(resolved: Resolved, reach: Edge, names: Sequence[str]) -> dict[str, Dock]:
    """One for each of the first rows of an edge that begins at rest; none for a vehicle on wheels.

    At rest motors and propellers turn alike whatever the hull takes of the thrust: only the deduction is that of a dock.
    """
    if not isinstance(resolved.load, Boat):
        return {}
    boat, train = replace(resolved.load, deduction=DOCK_DEDUCTION), resolved.train
    pulls = reach.force_n[: len(names), 0] * (1.0 - DOCK_DEDUCTION) / (1.0 - float(resolved.load.deduction))
    turns = np.asarray(boat.shaft_speed_rad_s(0.0, pulls)) * 60.0 / math.tau
    return {
        name: Dock(
            pull_n=float(pulls[k]),
            motor_a=float(reach.dc_current_a[k, 0]) / train.motor.dc_per_motor_amp,
            rpm=float(turns[k]),
            limit=LIMITS[int(reach.limit[k, 0])],
        )
        for k, name in enumerate(names)
    }
