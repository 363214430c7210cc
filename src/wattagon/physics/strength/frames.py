"""What a drive is fixed to, and what turns at its end: seams, corner joints, drilled tubes, splines, gear teeth, blades, spokes.

SI.  Sources: EN 1993-1-8 (welds), Lewis (teeth); the rest is statics.  What is typical or judged says so.
"""

from __future__ import annotations

import math

SPLINE_SHARE = 0.5  # of its teeth that bear: they never all touch; judged
LEWIS_Y, LEWIS_LESS = 0.484, 2.87  # form factor of 20 degree teeth, Y = 0.484 - 2.87/z
HELD_RADIUS = 0.7  # of a propeller's radius at which its load is taken to act


def weld_pa(strength_pa: float, matching: float = 0.9) -> float:
    """Shear that a seam bears: R_m/(sqrt(3) beta), without a safety factor.  Source: EN 1993-1-8, simplified."""
    return strength_pa / (math.sqrt(3.0) * matching)


def seam_pa(moment_nm: float, force_n: float, apart_m: float, long_m: float, throat_m: float) -> float:
    """Shear in one of two parallel seams: their couple M/b and half of the force, over a l.  Statics."""
    return (moment_nm / apart_m + 0.5 * force_n) / (throat_m * long_m)


def corner_nm(preload_n: float, count: int, radius_m: float, friction: float = 0.15) -> float:
    """Moment at which screws on a radius about a corner slip: mu F n r.  Statics."""
    return friction * preload_n * count * radius_m


def tube_pa(moment_nm: float, outer_m: float, wall_m: float, hole_m: float = 0.0) -> float:
    """Bending of a tube with a hole through the wall that is stretched; what is left counts, no notch.  Derived.

    The hole takes d t (r - t/2)^2 off the second moment, r to the outside.  Raises ValueError for a wall of half the tube or more.
    """
    if not 0.0 < wall_m <= 0.5 * outer_m:
        raise ValueError(f"wall {wall_m} of a tube of {outer_m}")
    inner = outer_m - 2.0 * wall_m
    second = math.pi / 64.0 * (outer_m**4 - inner**4)
    left = second - min(hole_m, 0.8 * outer_m) * wall_m * (0.5 * (outer_m - wall_m)) ** 2
    return moment_nm * 0.5 * outer_m / max(left, 0.05 * second)


def spline_nm(diameter_m: float, count: int, long_m: float, pressure_pa: float, share: float = SPLINE_SHARE) -> float:
    """Side pressure on the teeth of a spline: k p h l z d/2, h 0.8 of the module d/z.  Derived; share judged."""
    return share * pressure_pa * (0.8 * diameter_m / count) * long_m * count * 0.5 * diameter_m


def lewis_pa(force_n: float, module_m: float, teeth: int, wide_m: float) -> float:
    """Bending at the root of a tooth that bears all: F/(b m Y).  Source: Lewis."""
    return force_n / (wide_m * module_m * max(LEWIS_Y - LEWIS_LESS / max(teeth, 7), 0.05))


def blade_pa(push_n: float, torque_nm: float, blades: int, radius_m: float, hub_m: float, chord_m: float, thick_m: float) -> float:
    """Bending at a blade's root: its share of push and torque at 0.7 R, across a root like an ellipse, pi c t^2/32.  Statics."""
    lever = max(HELD_RADIUS * radius_m - hub_m, 0.05 * radius_m)
    flap, edge = push_n / blades * lever, torque_nm / (blades * HELD_RADIUS * radius_m) * lever
    return flap / (math.pi * chord_m * thick_m**2 / 32.0) + edge / (math.pi * thick_m * chord_m**2 / 32.0)


def spoke_n(torque_nm: float, count: int, flange_m: float) -> float:
    """By which torque slackens each leading spoke of a laced wheel, and stretches each trailing one: T/(n r).  Statics."""
    return torque_nm / (count * flange_m)
