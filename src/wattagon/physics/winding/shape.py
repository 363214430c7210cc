"""Stator, coils and magnets seen from the front, as points in millimetres: tooth 0 at the top, counted clockwise, y upwards."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.record import record

Point = tuple[float, float]
ARC_POINTS = 7


class Side(NamedTuple):
    """One side of a coil: its outline, its middle, and whether current goes away from the reader there (clockwise coil)."""

    outline: tuple[Point, ...]
    middle: Point
    away: bool


@record(frozen=True, slots=True, kw_only=True)
class Shape:
    """What is drawn [mm]; radii.  A rotor inside has its gap inside the slots' bottom."""

    slots: int
    poles: int
    gap: float
    bottom: float
    tooth: float
    tip: float
    opening: float
    liner: float
    air: float
    cover: float

    @property
    def outwards(self) -> float:
        """+1 where teeth point outwards."""
        return 1.0 if self.gap > self.bottom else -1.0

    @property
    def magnet(self) -> tuple[float, float]:
        """Radii between which magnets stand; their thickness is a typical tenth of a pole's pitch or more."""
        near = self.gap + self.outwards * self.air
        thick = max(0.16 * math.tau * self.gap / self.poles, 0.035 * self.gap)
        return near, near + self.outwards * thick

    @property
    def outer(self) -> float:
        """Radius of all of it."""
        return max(self.bottom * 1.18, *(one * 1.06 for one in self.magnet))

    def angle(self, tooth: float) -> float:
        """Of a tooth's middle [radians, clockwise from the top]."""
        return math.tau * tooth / self.slots

    def at(self, radius: float, angle: float, across: float = 0.0) -> Point:
        """A point on a ray, moved across it clockwise."""
        return (
            radius * math.sin(angle) + across * math.cos(angle),
            radius * math.cos(angle) - across * math.sin(angle),
        )

    def arc(self, radius: float, start: float, end: float, points: int = ARC_POINTS) -> list[Point]:
        return [self.at(radius, start + (end - start) * k / (points - 1)) for k in range(points)]

    def tooth_outline(self, tooth: int) -> list[Point]:
        """Neck and shoe."""
        middle, half = self.angle(tooth), 0.5 * self.tooth
        shoe = math.pi / self.slots - 0.5 * self.opening / self.gap
        under, edge = self.gap - self.outwards * self.tip, self.gap - 0.5 * self.outwards * self.tip
        return [
            self.at(self.bottom, middle, -half),
            self.at(under, middle, -half),
            self.at(edge, middle - shoe),
            *self.arc(self.gap, middle - shoe, middle + shoe),
            self.at(edge, middle + shoe),
            self.at(under, middle, half),
            self.at(self.bottom, middle, half),
        ]

    def coil(self, tooth: int, direction: int, *, whole: bool = False) -> tuple[Side, Side]:
        """Both sides of the coil on a tooth; `whole`: the slot is its own, no other coil beside it.

        Seen from the tip, a clockwise coil goes away from a reader in front of the stator on the side that is later clockwise.
        """
        middle, start = self.angle(tooth), 0.5 * self.tooth + self.liner
        low = self.bottom + self.outwards * 1.5 * self.liner
        high = self.gap - self.outwards * (self.tip + 1.2 * self.liner)
        sides = []
        for sign in (-1.0, 1.0):
            reach = []
            for radius in (low, high):
                half_pitch = radius * math.tan(math.pi / self.slots)
                room = 2.0 * half_pitch - 0.5 * self.tooth - 2.0 * self.liner if whole else half_pitch - 0.4 * self.liner
                reach.append(max(room, start + 0.2))
            outline = (
                self.at(low, middle, sign * start),
                self.at(high, middle, sign * start),
                self.at(high, middle, sign * reach[1]),
                self.at(low, middle, sign * reach[0]),
            )
            centre = self.at(0.5 * (low + high), middle, sign * 0.5 * (start + 0.5 * sum(reach)))
            sides.append(Side(outline, centre, (sign > 0.0) == (direction > 0)))
        return sides[0], sides[1]

    def measure(self, field: str) -> tuple[Point, Point] | None:
        """Where a caliper takes a measure of the stator, by its name in the design; None where it is not taken across the front."""
        first, foot = self.angle(0), self.gap - self.outwards * self.tip
        neck = 0.5 * (self.bottom + self.gap)
        half = 0.5 * self.opening / self.gap
        slot = self.angle(0.5)
        edge = self.at(neck, first, 0.5 * self.tooth)
        return {
            "gap_diameter": (self.at(self.gap, first), self.at(self.gap, first + math.pi)),
            "slot_bottom": (self.at(self.bottom, slot), self.at(self.bottom, slot + math.pi)),
            "tooth": (self.at(neck, first, -0.5 * self.tooth), edge),
            "tip": (self.at(foot, first, 0.5 * self.tooth), self.at(self.gap, first, 0.5 * self.tooth)),
            "opening": (self.at(self.gap, slot - half), self.at(self.gap, slot + half)),
            "liner": (edge, self.at(neck, first, 0.5 * self.tooth + self.liner)),
            "air_gap": (self.at(self.gap, first), self.at(self.magnet[0], first)),
        }.get(field)

    def magnet_outline(self, pole: int, turned: float = 0.0) -> list[Point]:
        """One magnet with the rotor turned clockwise [radians]."""
        middle, half = math.tau * pole / self.poles + turned, self.cover * math.pi / self.poles
        near, far = self.magnet
        return [*self.arc(near, middle - half, middle + half), *self.arc(far, middle + half, middle - half)]

    def opening_at(self, opening: float, radius: float) -> Point:
        """The middle of an opening between tooth k and k + 1."""
        return self.at(radius, self.angle(opening + 0.5))
