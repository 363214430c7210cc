"""A driven axle on a swinging arm: how its loop grows over the travel, and where the tyre comes."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from wattagon.design.tree import Layout
from wattagon.physics.belt import two_pulleys
from wattagon.physics.chain import links_around, sag_m
from wattagon.study.layout.place import Shaft
from wattagon.study.layout.stage import Running

STEPS = 24
BELT_SHARE = 0.001  # of the centre distance that a belt tolerates


class Swing(NamedTuple):
    """What the travel makes of the last loop: growth [m], share of the centre distance, sag of the slack run at the shortest [m]."""

    growth_m: float
    centre_share: float
    sag_m: float
    least_m: float  # centre distance
    most_m: float


def axles(layout: Layout) -> Iterator[tuple[float, float]]:
    """Places of the driven axle over its travel, from where it is drawn upwards; only that one without an arm."""
    if layout.pivot is None or layout.travel is None:
        yield 0.0, 0.0
        return
    for k in range(STEPS + 1):
        yield axle_at(layout, layout.travel.value * k / STEPS)


def axle_at(layout: Layout, rise: float) -> tuple[float, float]:
    """Where the driven axle is when it has risen so far from where it is drawn [m]."""
    if layout.pivot is None:
        return 0.0, 0.0
    px, pz = layout.pivot.x.value, layout.pivot.z.value
    arm = math.hypot(px, pz)
    if arm < 1e-6:
        return 0.0, 0.0
    up = min(rise - pz, 0.95 * arm)  # above the pivot
    return px - math.copysign(math.sqrt(arm * arm - up * up), px), pz + up


def swing(layout: Layout, driver: Shaft, run: Running) -> Swing | None:
    """Of the stage that ends at the axle; None without an arm."""
    if layout.pivot is None or layout.travel is None:
        return None
    apart = [math.hypot(x - driver.x, z - driver.z) for x, z in axles(layout)]
    choice, pitch = run.made.choice, run.made.pitch_m
    if run.made.kind is None:
        lengths = [pitch * links_around(pitch, choice.driver_teeth, choice.driven_teeth, centre).links for centre in apart]
    else:
        lengths = [two_pulleys(run.made.driver_m, run.made.driven_m, centre).length for centre in apart]
    growth = max(lengths) - min(lengths)
    return Swing(growth, (max(apart) - min(apart)) / max(min(apart), 1e-9), sag_m(growth, run.span_m), min(apart), max(apart))
