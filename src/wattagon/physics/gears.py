"""Involute gear pairs and planetary sets as far as fit goes: centre, contact ratio, undercut, assembly, planets on their pins.

SI.  Sources: Willis; ISO 21771 for the contact ratio of an unshifted spur pair of 20 degrees.
"""

from __future__ import annotations

import math
from typing import NamedTuple

PRESSURE_RAD = math.radians(20.0)
LEAST_CONTACT = 1.2  # judged
UNDERCUT = 17  # teeth of an unshifted wheel of 20 degrees; fewer are cut under at the root


def pair_centre_m(module_m: float, one: int, other: int) -> float:
    """Centre distance of an external pair without shift: m (z1 + z2)/2."""
    return 0.5 * module_m * (one + other)


def contact_ratio(module_m: float, one: int, other: int, centre_m: float) -> float:
    """How many teeth carry on average at a centre distance; 0 where the tips do not reach each other.

    Line of action between both tip circles over the base pitch, at the working pressure angle.
    """
    bases = [0.5 * module_m * z * math.cos(PRESSURE_RAD) for z in (one, other)]
    tips = [0.5 * module_m * (z + 2.0) for z in (one, other)]
    share = sum(bases) / centre_m if centre_m > 0.0 else 2.0
    if share >= 1.0:
        return math.nan  # nearer than the base circles allow
    line = sum(math.sqrt(max(tip**2 - base**2, 0.0)) for tip, base in zip(tips, bases, strict=True))
    length = line - centre_m * math.sqrt(1.0 - share**2)
    return max(length, 0.0) / (math.pi * module_m * math.cos(PRESSURE_RAD))


class Planets(NamedTuple):
    """A planetary set: teeth of a planet (nan where sun and ring leave a half), and what keeps it from being put together."""

    teeth: float
    fault: str

    @property
    def fits(self) -> bool:
        """Whether it can be put together."""
        return not self.fault


def planets(sun: int, ring: int, count: int) -> Planets:
    """z_r = z_s + 2 z_p; (z_s + z_r)/N whole; (z_s + z_p) sin(pi/N) > z_p + 2."""
    if ring <= sun:
        return Planets(math.nan, f"a ring of {ring} teeth is not larger than its sun of {sun}")
    if (ring - sun) % 2:
        return Planets(math.nan, f"{ring} less {sun} teeth leave no whole planet: sun and ring must both be even or both odd")
    teeth = (ring - sun) // 2
    if (sun + ring) % count:
        return Planets(teeth, f"{count} planets do not stand evenly: {sun} and {ring} teeth together are not divided by {count}")
    if count > 1 and not (sun + teeth) * math.sin(math.pi / count) > teeth + 2:
        return Planets(teeth, f"{count} planets of {teeth} teeth meet each other")
    return Planets(teeth, "")


def planet_rad_s(sun: int, ring: int, sun_rad_s: float) -> float:
    """Speed of a planet on its pin with the ring held: -(w_s - w_c) z_s/z_p."""
    carrier = sun_rad_s / (1.0 + ring / sun)
    return -(sun_rad_s - carrier) * sun / (0.5 * (ring - sun))
