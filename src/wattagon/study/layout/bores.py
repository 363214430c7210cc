"""A pulley's bore on a shaft: whether it fits, is bored out, takes a sleeve or does not do."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.design.parts import ProfilePart, ToothedPart

FITS_MM = 0.05  # with a retaining compound
METAL_MM, SLEEVE_MM = 2.0, 1.0  # of metal that stays under the teeth; wall of a sleeve


class Bored(NamedTuple):
    """What becomes of a bore: fits, bored, thin (too little metal would stay), sleeve, loose (too thin for one); the wall [mm]."""

    way: str
    wall_mm: float

    @property
    def holds(self) -> bool:
        """Whether it can be made to hold."""
        return self.way not in ("thin", "loose")


def bored(part: ToothedPart, family: ProfilePart, shaft_mm: float) -> Bored | None:
    """Of a part on a shaft; None where its bore is not known."""
    if part.bore_mm is None:
        return None
    if abs(part.bore_mm - shaft_mm) < FITS_MM:
        return Bored("fits", math.inf)
    if part.bore_mm > shaft_mm:
        sleeve = 0.5 * (part.bore_mm - shaft_mm)
        return Bored("sleeve" if sleeve >= SLEEVE_MM else "loose", sleeve)
    groove = (family.tooth_mm or 0.4 * family.pitch_mm) + (family.line_mm or 0.0)
    wall = 0.5 * family.pitch_mm * part.teeth / math.pi - groove - 0.5 * shaft_mm
    return Bored("bored" if wall >= METAL_MM else "thin", wall)
