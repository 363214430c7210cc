"""Everything in a train that turns or meshes, at a speed of the vehicle."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from wattagon.physics.vibration import orders
from wattagon.study.drive.study import DriveStudy
from wattagon.study.layout.study import LayoutStudy


class Order(NamedTuple):
    """One order of the train: what repeats, how often a second, and the cause that it belongs to."""

    words: str
    hertz: float
    cause: str


def motor_rpm(drive: DriveStudy, speed_m_s: float) -> float:
    """Of the motor at a speed of the vehicle."""
    resolved = drive.resolved
    per_rpm = float(resolved.load.speed_at_shaft(math.pi / 30.0 / float(resolved.train.reduction.ratio)))
    return speed_m_s / per_rpm if per_rpm > 0.0 else math.nan


def train_orders(drive: DriveStudy, layout: LayoutStudy, speed_m_s: float) -> tuple[Order, ...]:
    """At a speed of the vehicle, the slowest first."""
    rpm = motor_rpm(drive, speed_m_s)
    if not math.isfinite(rpm) or rpm <= 0.0:
        return ()
    return tuple(sorted(_all(drive, layout, rpm), key=lambda one: one.hertz))


def _all(drive: DriveStudy, layout: LayoutStudy, rpm: float) -> Iterator[Order]:
    resolved = drive.resolved
    motor = resolved.train.motor
    yield Order("motor, once a turn", rpm / 60.0, "motor_rings")
    if not motor.brushed:
        yield Order("motor, once a pole pair", float(motor.pole_pairs) * rpm / 60.0, "motor_rings")
    turn = rpm
    many = len(layout.stages) > 1
    for one in layout.stages:
        choice = one.made.choice
        each = orders(turn, choice.driver_teeth, choice.driven_teeth, one.loop)
        name = f"stage {one.position + 1}" if many else "belt" if one.made.kind is not None else "chain"
        yield Order(f"{name}, once round", each.belt, "span_rings" if one.made.kind is not None else "mesh_noise")
        yield Order(f"{name}, each tooth", each.mesh, "mesh_noise" if one.made.kind is None else "span_rings")
        turn = turn * choice.driver_teeth / choice.driven_teeth
        if one.position < len(layout.stages) - 1:
            yield Order(f"jackshaft {one.position + 1}, once a turn", turn / 60.0, "bent_shaft")
    end = rpm / float(resolved.train.reduction.ratio) / 60.0
    last = "propeller" if layout.scene.berth is not None else "wheel"
    yield Order(f"{last}, once a turn", end, "unbalance")
    propeller = resolved.variant.propeller
    if propeller is not None:
        yield Order(f"{last}, twice a turn: coupling", 2.0 * end, "bent_shaft")
