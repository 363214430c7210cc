"""What moves, swept by hand: a truck that turns, an arm over its travel, a vehicle that leans; each place with the gaps there."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import NamedTuple

from wattagon.physics.clearance import circles_apart, gap, pulley_over_ground, under_deck
from wattagon.study.layout.aboard_gaps import NEAR_M
from wattagon.study.layout.found import Found, judged
from wattagon.study.layout.gaps import (
    AXIS_RAD,
    FLAT,
    GROUND_M,
    LEAN_RAD,
    Scene,
    across,
    crank_at,
    deck_under_m,
    to_obstacle,
    truck_ends,
    truck_path,
)
from wattagon.study.layout.swing import axle_at

LEAN_MOST_RAD, STEPS = math.radians(45.0), 45
PEDAL_OUT_M, PEDAL = 0.107, "pedal to ground"  # outer end of a pedal from its arm; typical


class Here(NamedTuple):
    """A gap at one place of a sweep [m]."""

    between: str
    nominal: float


class Sweep(NamedTuple):
    """A way that something moves: what, how far [rad or m], and the gaps on it."""

    code: str  # truck, travel, lean
    words: str
    dimension: str  # angle or length
    most: float
    at: Callable[[float], list[Here]]

    def least(self) -> tuple[float, Here] | None:
        """Where on the way which gap is least."""
        places = [self.most * k / STEPS for k in range(STEPS + 1)]
        found = [(place, here) for place in places for here in self.at(place)]
        return min(found, key=lambda one: one[1].nominal, default=None)


def sweeps(scene: Scene) -> list[Sweep]:
    """All that this vehicle has."""
    made = []
    if scene.vehicle_kind in FLAT and scene.can_stands:
        made.append(Sweep("truck", "truck", "angle", LEAN_RAD, lambda lean: _truck(scene, lean)))
    if scene.layout.pivot is not None and scene.layout.travel is not None and scene.can_m > 0.0:
        made.append(Sweep("travel", "travel", "length", scene.layout.travel.value, lambda rise: _travel(scene, rise)))
    if scene.wheels_on_axle == 1 and scene.berth is None:
        made.append(Sweep("lean", "lean", "angle", LEAN_MOST_RAD, lambda lean: leaning(scene, lean)))
    return made


def _truck(scene: Scene, lean: float) -> list[Here]:
    """The can to the deck where it stands under it, else to the pieces of the deck's end that are drawn."""
    path, radius = truck_path(scene, (lean,)), 0.5 * scene.can_m
    pieces = [one for one in scene.layout.obstacles if one.z > 0.0]
    made = [Here(f"can to {one.name}", min(to_obstacle(x, z, one) for _, x, z in path) - radius) for one in pieces]
    if scene.deck_height is not None and (scene.shafts[0].x > 0.0 or scene.layout.behind):
        ends = truck_ends(scene)
        made.append(Here("can to deck", under_deck(ends, 0.5 * scene.can_m, AXIS_RAD, (0.0, 0.0, 0.0), deck_under_m(scene), lean)))
    return made


def _travel(scene: Scene, rise: float) -> list[Here]:
    x, z = axle_at(scene.layout, rise)
    motor = scene.shafts[0]
    return [Here("can to tyre", circles_apart((motor.x, motor.z), 0.5 * scene.can_m, (x, z), 1.01 * scene.tyre_m))]


def leaning(scene: Scene, lean: float) -> list[Here]:
    """Of a vehicle on one track: lowest pulley, can, bodies and the lower pedal over the ground."""
    tyre = 0.5 * scene.tread_wide_m
    found = []
    if scene.stages and scene.shafts[-1].name == "axle":
        low = 0.5 * scene.stages[-1].made.outside_m(scene.stages[-1].made.driven_m)
        out = max(across(scene)[0][1] - tyre, 0.0)
        name = "pulley" if scene.stages[-1].made.kind is not None else "sprocket"
        found.append(Here(f"{name} to ground", pulley_over_ground(scene.tyre_m, low, out, lean)))
    if scene.can_stands:
        low, out = 0.5 * scene.can_m - scene.shafts[0].z, max(abs(y) for y in across(scene)[1])
        found.append(Here("can to ground", pulley_over_ground(scene.tyre_m, low, max(out - tyre, 0.0), lean)))
    for one in scene.bodies:
        if not one.missing:
            (_, (y0, y1), (z0, _)) = one.box
            out = max(abs(y0), abs(y1)) - tyre
            found.append(Here(f"{one.name} to ground", pulley_over_ground(scene.tyre_m, -z0, max(out, 0.0), lean)))
    where = crank_at(scene)
    if where is not None and scene.layout.tread is not None:
        long = scene.layout.crank_length.value if scene.layout.crank_length is not None else 0.170
        out = 0.5 * scene.layout.tread.value + PEDAL_OUT_M
        found.append(Here(PEDAL, pulley_over_ground(scene.tyre_m, long - where[1], out, lean)))
    return found


BEND_RAD = math.radians(20.0)  # of a vehicle on one track in a bend; judged


def lean_gaps(scene: Scene) -> Iterator[Found]:
    """What comes near the ground in a bend beside the pulley, which has a line of its own."""
    if scene.wheels_on_axle != 1:
        return
    for here in leaning(scene, BEND_RAD):
        what = here.between.removesuffix(" to ground")
        if here.nominal > NEAR_M or what in ("pulley", "sprocket") or here.between == PEDAL:  # the bike's own
            continue
        touches = next((k for k in range(STEPS + 1) if _height(scene, k / STEPS * LEAN_MOST_RAD, here.between) <= 0.0), None)
        words = f"leaning {math.degrees(BEND_RAD):.0f}°"
        words += f", touches at {touches / STEPS * math.degrees(LEAN_MOST_RAD):.0f}°" if touches is not None else ""
        by = next((max(one.wide[1:]) for one in scene.bodies if one.name == what), 0.002)
        yield judged(f"lean.{what}", f"{here.between} in a bend", gap(here.nominal, (scene.tyre_by, by)), GROUND_M, swept=words)


def _height(scene: Scene, lean: float, between: str) -> float:
    return next((here.nominal for here in leaning(scene, lean) if here.between == between), math.inf)
