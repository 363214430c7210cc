"""What the pull map of a boat shows beside its edge: the hull's resistance, how good the propeller is, and bubbles."""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.parts import PropellerPart
from wattagon.physics.water.boat import Screw
from wattagon.study.drive.water import boat_in, cavitates
from wattagon.study.resolve import Resolved

LEVELS = (0.3, 0.4, 0.5, 0.6, 0.7, 0.8)
ADVANCES = 200
ASKED = 4  # of the points of an edge, every so many


class HullLine(NamedTuple):
    """Thrust that holds each speed [N]: least, likely, most; by measures alone where it was towed, and how far that is trusted [m/s]."""

    low_n: NDArray[np.float64]
    likely_n: NDArray[np.float64]
    high_n: NDArray[np.float64]
    by_measures_n: NDArray[np.float64] | None
    trusted_m_s: float


class Fan(NamedTuple):
    """Where propellers reach an efficiency: between two parabolas of thrust over the square of the speed [N s2/m2]."""

    efficiency: float
    most: float
    least: float


def hull_line(resolved: Resolved, speeds: NDArray[np.float64]) -> HullLine:
    """The load of a boat along speeds with wind and all that drags, and how wide it may be either side."""
    boat, found = boat_in(resolved), resolved.resistance
    assert found is not None
    likely = np.asarray(boat.resistance_n(speeds, 0.0, resolved.headwind_m_s))
    hull = np.interp(speeds, found.speed_m_s, found.force_n)
    wide = np.interp(speeds, found.speed_m_s, found.width) * hull
    other = likely - float(boat.hull_share) * hull
    towed = found.tow is not None
    return HullLine(
        low_n=likely - wide,
        likely_n=likely,
        high_n=likely + wide,
        by_measures_n=np.interp(speeds, found.speed_m_s, found.estimate_n) + other if towed else None,
        trusted_m_s=found.tow.trusted_m_s if found.tow is not None else math.inf,
    )


@functools.lru_cache(maxsize=64)
def _levels(screw: Screw) -> tuple[tuple[float, float, float], ...]:
    """(efficiency, K_T/J^2 at the smaller and the larger advance ratio that give it) of a propeller, and its best."""
    advance = np.linspace(0.0, float(screw.no_thrust), ADVANCES)
    kq = np.asarray(screw.torque.at(advance)) - screw.can
    eta = advance * np.asarray(screw.thrust.at(advance)) / (math.tau * np.where(kq > 0.0, kq, np.inf))
    best = int(np.argmax(eta))
    made = []
    for level in LEVELS:
        if level >= eta[best]:
            break
        low = float(np.interp(level, eta[: best + 1], advance[: best + 1]))
        high = float(np.interp(-level, -eta[best:], advance[best:]))
        made.append((level, low, high))
    made.append((float(eta[best]), float(advance[best]), float(advance[best])))
    push = screw.thrust.at(np.array([ends for _, *ends in made]))
    return tuple((level, float(a) / low**2, float(b) / high**2) for (level, low, high), (a, b) in zip(made, push, strict=True))


def fans(resolved: Resolved) -> list[Fan]:
    """Where the propellers are how good: at one advance ratio thrust goes with the square of the speed.  The last is the best there is."""
    boat = boat_in(resolved)
    flow = float(boat.kg_m3) * ((1.0 - float(boat.wake)) * float(boat.screw.diameter_m)) ** 2
    whole = flow * float(boat.propellers) * (1.0 - float(boat.deduction)) * float(boat.tilt_cos)
    return [Fan(level, whole * most, whole * least) for level, most, least in _levels(boat.screw)]


def bubbling(
    resolved: Resolved, speeds: NDArray[np.float64], force_n: NDArray[np.float64], part: PropellerPart, depth_m: float
) -> NDArray[np.bool_]:
    """Where along edges (..., speeds) the blades are loaded beyond what they bear without bubbles."""
    asked = (..., slice(None, None, ASKED))  # as close as it can be seen
    found = cavitates(resolved, speeds[asked], np.maximum(force_n[asked], 1e-6), depth_m, part.area_ratio, part.blades)
    return np.repeat(np.asarray(found.loading > found.most), ASKED, axis=-1)[..., : speeds.shape[-1]]


def dead_propeller_m2(resolved: Resolved, part: PropellerPart) -> float:
    """Drag area of propellers that stand still: about their blade area, C_D near 1."""
    boat = boat_in(resolved)
    return float(boat.propellers) * part.area_ratio * math.pi / 4.0 * float(boat.screw.diameter_m) ** 2
