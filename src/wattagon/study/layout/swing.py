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
    px, pz = layout.pivot.x.value, layout.pivot.z.value
    arm, drawn = math.hypot(px, pz), math.atan2(-pz, -px)
    if arm < 1e-6:
        yield 0.0, 0.0
        return
    rise = min(layout.travel.value, 0.95 * arm)
    # up means against the hands of a clock with the axle behind its pivot, with them ahead of it
    sign = -1.0 if px > 0.0 else 1.0
    for k in range(STEPS + 1):
        angle = drawn + sign * math.asin(min(rise * k / STEPS / arm, 1.0))
        yield px + arm * math.cos(angle), pz + arm * math.sin(angle)


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
