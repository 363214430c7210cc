"""One element of the load path: what it is asked, what it bears, and the wheel torque at which it gives way."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.design.tree import Joint
from wattagon.record import record
from wattagon.study.findings.status import Status


class Bears(NamedTuple):
    """What an element comes to: load at the drive's peak, usable capacity, their unit, the factor that is wanted and why.

    `spread` is how far the capacity may be off; `working` are the lines of the equation with this design's numbers.
    """

    load: float
    capacity: float
    unit: str
    wanted: float
    why: str
    spread: float
    source: str
    working: tuple[str, ...]
    material: str = ""
    rests_on: tuple[str, ...] = ()
    assumed: tuple[str, ...] = ()  # what nobody told


class At(NamedTuple):
    """What an element meets at the drive's peak: torque on its own shaft [N m], pull across it [N] and where that acts [m], turns."""

    torque_nm: float
    pull_n: float = 0.0
    beyond_m: float = 0.0  # the pull's distance from the nearest support
    apart_m: float = 0.05  # between the bearings behind it
    shaft_m: float = 0.008
    rpm: float = 3000.0
    lasting: float = 0.4  # of the peak, for hours; typical


@record(frozen=True, slots=True, kw_only=True)
class Element:
    """In its place on the path."""

    code: str
    name: str
    kind: str
    side: str  # drive, mount
    place: str
    joint: Joint | None  # as it was judged; None where nothing of it can be told
    own: int  # of the design's own joints; -1 where it is typical
    torque_share: float  # torque at the element over that at the wheel; nan where torque does not load it
    bears: Bears
    wheel_nm: float  # at the drive's peak
    at: At | None = None  # what it meets, for a sketch
    proved: str = ""  # what a proof test said
    floor_nm: float = math.nan  # of the wheel torque, by a mass that was held

    @property
    def factor(self) -> float:
        """Capacity over load."""
        if not math.isfinite(self.bears.capacity):
            return math.nan
        return self.bears.capacity / self.bears.load if self.bears.load > 0.0 else math.inf

    @property
    def fails_at_nm(self) -> float:
        """Torque at the wheel at which it gives way; nan where torque does not load it."""
        loaded = self.wheel_nm > 0.0 and math.isfinite(self.torque_share) and math.isfinite(self.factor)
        return self.wheel_nm * self.factor if loaded else math.nan

    @property
    def band(self) -> tuple[float, float]:
        """Between what that torque lies; a mass that was held is the least."""
        low = self.fails_at_nm * (1.0 - self.bears.spread)
        return (max(low, self.floor_nm) if math.isfinite(self.floor_nm) else low), self.fails_at_nm * (1.0 + self.bears.spread)

    @property
    def status(self) -> Status:
        """Over below a factor of 1, clear from what is wanted up."""
        factor = self.factor
        if math.isnan(factor):
            return Status.NOT_CHECKED
        return Status.OVER if factor < 1.0 else Status.CLEAR if factor >= self.bears.wanted - 1e-12 else Status.TIGHT
