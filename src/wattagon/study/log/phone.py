"""A phone on the vehicle: how hard it pushes against the forecast, and which part of this train shakes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.physics.ride.names import Stat
from wattagon.study.drive.study import study_drive
from wattagon.study.layout.orders import train_orders
from wattagon.study.layout.study import study_layout
from wattagon.study.log.data import Floats, LogData
from wattagon.study.log.ridden import as_ridden
from wattagon.study.log.spectrum import Shaking, along, shaking
from wattagon.study.ride.study import Ask, ride

AXES = ("ax", "ay", "az")


def phone_study(design: Design, stock: Catalogue, data: LogData, beside: Sequence[LogData] = ()) -> Shaking:
    """What accelerations tell of a vehicle.  The speed is the log's own, else that of a log which ran along with it.

    Raises InputError without a speed, without accelerations, or with rows that are too slow.
    """
    then, _ = as_ridden(design, data.log)
    drive = study_drive(then, stock)
    layout = study_layout(then, stock, drive, gaps=False)
    found = shaking(data, speed_of(data, beside), lambda v: [(one.words, one.hertz) for one in train_orders(drive, layout, v)])
    pushes = {name: along(data, name) for name in AXES if name in data}
    resting = {name: abs(float(np.nanmedian(data.clean(name)))) for name in pushes}
    upright = max(resting, key=lambda name: resting[name]) if resting and max(resting.values()) > 4.0 else ""
    level = {name: value for name, value in pushes.items() if name != upright} or pushes
    predicted = ride(then, stock, Ask(run="start")).run.stat(Stat.PEAK_ACCEL)
    return replace(found, along_measured=max(level.values(), default=math.nan), along_predicted=float(predicted))


def speed_of(data: LogData, beside: Sequence[LogData]) -> tuple[Floats, Floats]:
    """(time on the clock of the accelerations, speed).  Raises InputError where nothing tells it."""
    if "speed" in data:
        good = np.isfinite(data.clean("speed"))
        return data.time[good], data.clean("speed")[good]
    for other in beside:
        if "speed" in other:
            good = np.isfinite(other.clean("speed"))
            return other.time[good] - data.log.offset, other.clean("speed")[good]
    raise InputError(f"log {data.log.id}", "no speed", "a speed of its own, or a log that ran along with it (beside)")
