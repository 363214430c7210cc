"""Outlines of hulls by kind: profile and plan as shares of length, depth and beam; drawn so, and asked where a thing has to fit inside."""

from __future__ import annotations

import itertools
from typing import NamedTuple

from wattagon.design.tree import VehicleKind

Points = tuple[tuple[float, float], ...]


class Shape(NamedTuple):
    """A profile: bottom and gunwale from the transom to the bow as (share of the length, share of the depth); how far the bow reaches."""

    bottom: Points
    gunwale: Points
    reach: float = 1.08


SHAPES: dict[VehicleKind, Shape] = {
    VehicleKind.CANOE: Shape(
        ((-0.03, 0.55), (0.03, 0.10), (0.25, 0.0), (0.75, 0.0), (0.97, 0.10), (1.03, 0.55)),
        ((-0.05, 1.35), (0.10, 1.08), (0.50, 1.0), (0.90, 1.08), (1.05, 1.35)),
        1.05,
    ),
    VehicleKind.FLAT_BOTTOMED: Shape(
        ((0.0, 0.12), (0.18, 0.0), (0.72, 0.0), (0.90, 0.10), (1.02, 0.42)), ((-0.01, 1.0), (0.5, 0.96), (1.08, 1.12)), 1.08
    ),
    VehicleKind.INFLATABLE: Shape(
        ((0.0, 0.0), (0.30, 0.0), (0.75, 0.03), (0.95, 0.22), (1.08, 0.75)), ((-0.06, 0.92), (0.6, 0.95), (1.0, 1.15), (1.10, 1.30)), 1.10
    ),
    VehicleKind.PLANING_SKIFF: Shape(
        ((0.0, 0.0), (0.45, 0.0), (0.75, 0.06), (0.95, 0.32), (1.12, 0.85)), ((-0.01, 1.0), (0.5, 1.02), (1.15, 1.22)), 1.15
    ),
    VehicleKind.TWIN_HULL: Shape(
        ((-0.01, 0.30), (0.06, 0.05), (0.30, 0.0), (0.75, 0.0), (0.94, 0.12), (1.01, 0.40)), ((-0.02, 0.9), (0.5, 0.88), (1.04, 1.05)), 1.04
    ),
}

# half the beam from the transom to the bow, as (share of the length, share of half the beam): stern, bow
STERNS: dict[VehicleKind, float] = {VehicleKind.CANOE: 0.08, VehicleKind.TWIN_HULL: 0.55}
BOWS: dict[VehicleKind, float] = {VehicleKind.FLAT_BOTTOMED: 0.55}


def sides(kind: VehicleKind) -> Points:
    """The plan of one hull, its left half."""
    stern = STERNS.get(kind, 0.86)
    aft = 0.94 if stern > 0.5 else 0.62
    return ((0.0, stern), (0.15, aft), (0.42, 1.0), (0.75, 0.84), (SHAPES[kind].reach, BOWS.get(kind, 0.04)))


def along(points: Points, at: float) -> float:
    """An outline's height at a share of the length, straight between its points."""
    if at <= points[0][0]:
        return points[0][1]
    for (x0, y0), (x1, y1) in itertools.pairwise(points):
        if at <= x1:
            return y0 + (y1 - y0) * (at - x0) / (x1 - x0)
    return points[-1][1]
