"""What answers the motor: bolts in a pattern, slots, plates, dropouts; arms and edges of wheels.

SI.  Sources: Shigley (bolt patterns), EN 1995-1-1 (wood); what is derived says so.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

Point = tuple[float, float]
SLIP = 1.5  # wanted against slip of a friction joint


class Reaction(NamedTuple):
    """What both strands do to a motor's pulley: force [N], moment about the motor and about the wheel's axis [N m]."""

    x: float
    y: float
    about_motor: float
    about_wheel: float


def reaction(motor: Point, motor_m: float, wheel: Point, wheel_m: float, tight_n: float, slack_n: float) -> Reaction:
    """By the strands themselves: the tight one leaves below a motor pulley that turns the wheel forwards.  Derived; statics."""
    dx, dy = wheel[0] - motor[0], wheel[1] - motor[1]
    apart = math.hypot(dx, dy)
    ux, uy = dx / apart, dy / apart
    lean = math.asin((wheel_m - motor_m) / apart)
    x = y = about = 0.0
    for side, pull in ((1.0, tight_n), (-1.0, slack_n)):
        # a strand's direction from motor to wheel, turned out by the lean; it touches the pulley square to that
        px, py = ux * math.cos(lean) + side * uy * math.sin(lean), uy * math.cos(lean) - side * ux * math.sin(lean)
        tx, ty = side * py * motor_m, -side * px * motor_m
        x, y = x + pull * px, y + pull * py
        about += tx * pull * py - ty * pull * px
    rx, ry = motor[0] - wheel[0], motor[1] - wheel[1]
    return Reaction(x, y, about, about + rx * y - ry * x)


def bolt_loads_n(bolts: Sequence[Point], load: Point, at: Point, moment_nm: float = 0.0) -> list[float]:
    """In-plane load of each bolt [N] by the elastic method: its shares of the force and of the moment about the centroid.

    Source: Shigley.
    """
    return [math.hypot(x, y) for x, y in bolt_vectors_n(bolts, load, at, moment_nm)]


def bolt_vectors_n(
    bolts: Sequence[Point], load: Point, at: Point, moment_nm: float = 0.0, areas: Sequence[float] | None = None
) -> list[Point]:
    """The same as vectors, bolts weighted by their areas: their sum is the load, their moment the load's."""
    weights = list(areas) if areas is not None else [1.0] * len(bolts)
    total = sum(weights)
    cx = sum(w * x for w, (x, _) in zip(weights, bolts, strict=True)) / total
    cy = sum(w * y for w, (_, y) in zip(weights, bolts, strict=True)) / total
    moment = moment_nm + (at[0] - cx) * load[1] - (at[1] - cy) * load[0]
    polar = sum(w * ((x - cx) ** 2 + (y - cy) ** 2) for w, (x, y) in zip(weights, bolts, strict=True))
    made = []
    for w, (x, y) in zip(weights, bolts, strict=True):
        turn = moment * w / polar if polar > 0.0 else 0.0
        made.append((load[0] * w / total - turn * (y - cy), load[1] * w / total + turn * (x - cx)))
    return made


def overturning_n(edges_m: Sequence[float], moment_nm: float) -> list[float]:
    """Tension of bolts so far from the edge about which a rigid plate tips: N_i = M y_i/sum y^2."""
    square = sum(y * y for y in edges_m)
    return [moment_nm * y / square for y in edges_m]


def slot_factor(count: int, preload_n: float, radius_m: float, pull_n: float, torque_nm: float, friction: float = 0.15) -> float:
    """Friction of screws in slots over what each is asked, its shares of pull and reaction square to each other.

    That is a mean over a circle of screws; the one whose shares lie in line is asked more: `bolt_loads_n` of the real pattern.
    """
    asked = math.hypot(pull_n / count, torque_nm / (count * radius_m))
    return friction * preload_n / asked if asked > 0.0 else math.inf


def dropout_pa(diameter_m: float, flats_m: float, plate_m: float, torque_nm: float, *, yielded: bool = False) -> float:
    """Edge pressure of an axle's flats in a slot: 6 T/(t (D^2 - s^2)); fully yielded 4 instead of 6.  Derived."""
    return (4.0 if yielded else 6.0) * torque_nm / (plate_m * (diameter_m**2 - flats_m**2))


def arm_force_n(torque_nm: float, count: int, radius_m: float, share: float) -> float:
    """Force at each arm of a wheel pulley: T/(n share r)."""
    return torque_nm / (count * share * radius_m)


class Pair(NamedTuple):
    """Two bolts that hold an arm [N]: the outer, and the inner the other way."""

    outer: float
    inner: float


def bolt_pair_n(force_n: float, at_m: float, inner_m: float, outer_m: float) -> Pair:
    """An arm loaded at a radius, held by bolts at two: several times its force on each.  Statics."""
    return Pair(force_n * (at_m - inner_m) / (outer_m - inner_m), force_n * (at_m - outer_m) / (outer_m - inner_m))


def tear_out_n(thick_m: float, edge_m: float, hole_m: float, shear_pa: float) -> float:
    """2 t (e - d/2) tau."""
    return 2.0 * thick_m * max(edge_m - 0.5 * hole_m, 0.0) * shear_pa


def net_section_n(wide_m: float, hole_m: float, thick_m: float, strength_pa: float) -> float:
    """(w - d) t sigma."""
    return max(wide_m - hole_m, 0.0) * thick_m * strength_pa


def bearing_pa(force_n: float, hole_m: float, thick_m: float) -> float:
    """F/(d t)."""
    return force_n / (hole_m * thick_m)


def bar_pa(moment_nm: float, thick_m: float, high_m: float, hole_m: float = 0.0) -> float:
    """Bending of a bar with a hole on its middle line: 6 M h/(t (h^3 - d^3))."""
    return 6.0 * moment_nm * high_m / (thick_m * (high_m**3 - hole_m**3))


def plate_pa(moment_nm: float, wide_m: float, thick_m: float) -> float:
    """Bending of a plate: 6 M/(b t^2)."""
    return 6.0 * moment_nm / (wide_m * thick_m**2)


def embedding_pa(bolt_m: float, density_kg_m3: float) -> float:
    """What wood bears under a bolt: 0.11 (1 - 0.01 d) rho MPa, d in mm.  Source: EN 1995-1-1."""
    return 0.11e6 * (1.0 - 0.01 * bolt_m * 1e3) * density_kg_m3
