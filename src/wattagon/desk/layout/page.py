"""Where metres of the drawing fall on the page: side view above, plan below, sharing the driven axle."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF

from wattagon.study.layout.boat import Berth
from wattagon.study.layout.gaps import across
from wattagon.study.layout.study import LayoutStudy

LEAST, MOST = 60.0, 40000.0  # pixels for a metre


class Page(NamedTuple):
    """x ahead of the driven axle, z above it, y to the left."""

    axle_x: float  # [px]
    axle_y: float  # of the axle in side view
    plan_y: float  # of the middle of the vehicle in plan
    scale: float

    def side(self, x: float, z: float) -> QPointF:
        """A point of the side view."""
        return QPointF(self.axle_x + x * self.scale, self.axle_y - z * self.scale)

    def plan(self, x: float, y: float) -> QPointF:
        """A point of the plan."""
        return QPointF(self.axle_x + x * self.scale, self.plan_y - y * self.scale)

    def metres(self, at: QPointF) -> tuple[float, float]:
        """(x, z) under a point of the side view."""
        return (at.x() - self.axle_x) / self.scale, (self.axle_y - at.y()) / self.scale

    def zoomed(self, at: QPointF, factor: float) -> Page:
        """The same with what is under a point held there."""
        scale = min(max(self.scale * factor, LEAST), MOST)
        share = scale / self.scale
        return self._replace(scale=scale, axle_x=at.x() - (at.x() - self.axle_x) * share, axle_y=at.y() - (at.y() - self.axle_y) * share)


def fitted(found: LayoutStudy, side: QRectF, plan: QRectF, *, whole: bool = False) -> Page:
    """A page that shows the drive and its wheel, or the whole vehicle with what rides along."""
    scene = found.scene
    if scene.berth is not None:
        return _afloat(found, scene.berth, side, plan, whole=whole)
    xs, low, high = [-scene.tyre_m, scene.tyre_m], -scene.tyre_m, 0.5 * scene.tyre_m
    for shaft in found.shafts:
        reach = 0.5 * scene.can_m if shaft.name == "motor" else 0.05
        xs += [shaft.x - reach, shaft.x + reach]
        high = max(high, shaft.z + reach)
        low = min(low, shaft.z - reach)
    if whole:
        for axle in scene.axles:
            xs += [axle - scene.tyre_m, axle + scene.tyre_m]
        for one in scene.bodies:
            (x0, x1), _, (z0, z1) = one.box
            xs, high, low = [*xs, x0, x1], max(high, z1), min(low, z0)
    wide, tall = max(xs) - min(xs), high - low
    clear = scene.clear_width.value if scene.clear_width is not None else 0.2
    several = scene.wheels_on_axle > 1
    belts, can = across(scene)
    ends = [*belts, *can]
    low_y, high_y = (
        (-0.53 * clear - 0.015, 0.53 * clear + 0.015)
        if several and scene.motors > 1
        else (min(*ends, 0.0 if not several else 9.0), max(ends))
    )
    if scene.motors == 1 or not several:  # only the side that it is on
        low_y, high_y = low_y - 0.04, high_y + 0.05
    if whole:
        low_y = min([low_y, *(one.box[1][0] for one in scene.bodies)])
        high_y = max([high_y, *(one.box[1][1] for one in scene.bodies)])
        if several:
            low_y, high_y = min(low_y, -0.5 * clear - scene.tread_wide_m), max(high_y, 0.5 * clear + scene.tread_wide_m)
    scale = min(side.width() / (1.25 * wide), side.height() / (1.22 * tall), plan.height() / (high_y - low_y))
    scale = min(max(scale, LEAST), MOST)
    middle = 0.5 * (max(xs) + min(xs))
    axle_x = side.center().x() - middle * scale
    axle_y = side.center().y() + 0.5 * (high + low) * scale
    return Page(axle_x, axle_y, plan.center().y() + 0.5 * (low_y + high_y) * scale, scale)


def _afloat(found: LayoutStudy, berth: Berth, side: QRectF, plan: QRectF, *, whole: bool) -> Page:
    """Of a boat: its stern with the propeller, or the whole hull; the transom's foot is the origin."""
    x, _, z = berth.propeller
    motor = berth.motor_box()
    low, high = min(z - 0.7 * berth.diameter, 0.0), max(motor[2][1], berth.sides_m) + 0.05
    first, last = min(x - 0.15, -0.15), max(motor[0][1], 0.0) + 0.35
    if whole:
        last = 1.1 * berth.length
        high = max(high, berth.sides_m + 0.25)
    wide, tall = last - first, high - low
    half = 0.56 * berth.beam * (1.0 if whole else 0.55)
    scale = min(max(min(side.width() / wide, side.height() / tall, plan.height() / (2.0 * half)), LEAST / 3.0), MOST)
    axle_x = side.center().x() - 0.5 * (first + last) * scale
    return Page(axle_x, side.center().y() + 0.5 * (high + low) * scale, plan.center().y(), scale)
