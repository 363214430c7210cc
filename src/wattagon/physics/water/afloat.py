"""How a hull lies in the water at rest: draught, trim by where the weight sits, freeboard at both ends.  Every function broadcasts."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wattagon.physics.arrays import Num
from wattagon.physics.water.limits import longitudinal_metacentre_m


class Afloat(NamedTuple):
    """Draught level, at the transom and at the fore end of the waterline [m]; trim, bow up positive [rad]."""

    level_m: Num
    aft_m: Num
    fore_m: Num
    trim_rad: Num


def level_draught_m(volume_m3: Num, length_m: Num, beam_m: Num, fullness: Num, hulls: int = 1) -> Num:
    """T = vol/(C_B L B) of hulls that share the volume; C_B is how much of the box around it a hull fills."""
    return volume_m3 / (hulls * fullness * length_m * beam_m)


def afloat(
    *, volume_m3: Num, length_m: Num, beam_m: Num, draught_m: Num, weight_forward_m: Num, level_forward_m: Num, hulls: int = 1
) -> Afloat:
    """Trim of a hull whose weight sits elsewhere than where it would lie level, both ahead of the transom.

    Source: small angles, the righting lever GM_L trim = x_weight - x_level, turning about the point of level trim.  Sides that flare and
    ends that come out of the water are left out: good to about 3 degrees.
    """
    metacentre = longitudinal_metacentre_m(length_m, hulls * beam_m, volume_m3)
    trim = np.arctan((level_forward_m - weight_forward_m) / metacentre)
    lift = np.tan(trim)
    return Afloat(draught_m, draught_m + level_forward_m * lift, draught_m - (length_m - level_forward_m) * lift, trim)
