"""Roller chain: sprockets, length in links, sag, ripple, load, durability, suspension and tensioner arm.  SI throughout.

Sources: ISO 606 and ANSI B29.1 (sizes), Shigley's Mechanical Engineering Design (durability); what is derived stands with it.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

from wattagon.physics.belt import two_pulleys
from wattagon.physics.path import Loop, Round, loop_around

GRAVITY = 9.80665
HORSEPOWER_W, INCH_M = 745.7, 0.0254
ROAD_SHOCK, ROUGH_SHOCK, SAFE_PEAK, SAFE_LASTING = 1.3, 1.5, 5.0, 8.0
LEAST_WRAP = math.radians(120.0)  # on the small sprocket
SAG = (0.01, 0.02)  # of the slack span, wanted


def sprocket_diameter_m(pitch_m: float, teeth: int) -> float:
    """The circle through the pins: d = p/sin(pi/z)."""
    return pitch_m / math.sin(math.pi / teeth)


class Links(NamedTuple):
    """A chain around two sprockets: links, span [m], wraps of the small and the large one [rad]."""

    links: float
    span: float
    wrap_small: float
    wrap_large: float


def links_around(pitch_m: float, one: int, other: int, centre_m: float) -> Links:
    """X = 2 C cos(phi)/p + (z1 theta1 + z2 theta2)/(2 pi): within 0.002 links of the taut polygon.  Derived."""
    small, large = sorted((one, other))
    found = two_pulleys(sprocket_diameter_m(pitch_m, small), sprocket_diameter_m(pitch_m, large), centre_m)
    links = 2.0 * found.span / pitch_m + (small * found.wrap_small + large * found.wrap_large) / (2.0 * math.pi)
    return Links(links, found.span, found.wrap_small, found.wrap_large)


def customary_links(pitch_m: float, one: int, other: int, centre_m: float) -> float:
    """The customary form, exact at 1:1.  Source: ISO 606."""
    return 2.0 * centre_m / pitch_m + 0.5 * (one + other) + ((other - one) / (2.0 * math.pi)) ** 2 * pitch_m / centre_m


def customary_centre_m(pitch_m: float, one: int, other: int, links: float) -> float:
    """Its inverse.  Source: ISO 606, Machinery's Handbook."""
    left = 2.0 * links - one - other
    return pitch_m / 8.0 * (left + math.sqrt(max(left**2 - 8.0 / math.pi**2 * (other - one) ** 2, 0.0)))


@functools.lru_cache(maxsize=4096)  # a drag asks for the same few loops again and again
def centre_of_links_m(pitch_m: float, one: int, other: int, links: float) -> float:
    """Centre distance of a chain; nan where it is too short.  By halving on the links, which grow with it."""
    low = 0.5 * abs(sprocket_diameter_m(pitch_m, other) - sprocket_diameter_m(pitch_m, one)) * (1.0 + 1e-9) + 1e-9
    high = links * pitch_m
    if links_around(pitch_m, one, other, low).links > links:
        return math.nan
    for _ in range(70):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if links_around(pitch_m, one, other, middle).links < links else (low, middle)
    return 0.5 * (low + high)


def even(links: float) -> int:
    """The next even count of whole links."""
    return 2 * math.ceil(0.5 * links - 1e-9)


def sag_m(free_m: float, span_m: float) -> float:
    """How far a span hangs with an extra length: s = sqrt(3 t e/8)."""
    return math.sqrt(max(3.0 * span_m * free_m / 8.0, 0.0))


def hanging_n(kg_m: float, span_m: float, sag: float) -> float:
    """Tension of a level run that hangs: q g t^2/(8 s)."""
    return kg_m * GRAVITY * span_m**2 / (8.0 * sag)


def ripple(teeth: int) -> float:
    """Swing of the chain's speed, peak to peak over mean.  Source: Shigley."""
    turn = math.pi / teeth
    return turn * (1.0 / math.sin(turn) - 1.0 / math.tan(turn))


def chain_pull_n(torque_nm: float, pitch_m: float, teeth: int, kg_m: float, speed_m_s: float) -> float:
    """The worst pull: on the smallest radius that the polygon has, and what turns the corner."""
    radius = 0.5 * sprocket_diameter_m(pitch_m, teeth)
    return torque_nm / (radius * math.cos(math.pi / teeth)) + kg_m * speed_m_s**2


class Lasts(NamedTuple):
    """Power that plates and rollers bear for 15,000 hours [W]."""

    plates_w: float
    rollers_w: float


def lasting_power(pitch_m: float, teeth: int, rpm: float, *, roller_factor: float = 17.0, light: bool = False) -> Lasts:
    """ANSI-style rating; `light` is the light chain of half an inch.  Exceeding it costs life, not strength.  Source: Shigley."""
    pitch = pitch_m / INCH_M
    plates = (0.0022 if light else 0.004) * teeth**1.08 * rpm**0.9 * pitch ** (3.0 - 0.07 * pitch)
    rollers = 1000.0 * roller_factor * teeth**1.5 * pitch**0.8 / rpm**1.5
    return Lasts(plates * HORSEPOWER_W, rollers * HORSEPOWER_W)


def growth_m(
    pitch_m: float, one: int, other: int, pivot: tuple[float, float], arm_m: float, front: tuple[float, float], angles: Sequence[float]
) -> tuple[list[float], float]:
    """(loop lengths [m], largest less smallest) over angles of a swinging arm [rad]; zero growth with the sprocket on the pivot."""
    lengths = []
    for angle in angles:
        x, y = pivot[0] + arm_m * math.cos(angle), pivot[1] + arm_m * math.sin(angle)
        lengths.append(pitch_m * links_around(pitch_m, one, other, math.hypot(x - front[0], y - front[1])).links)
    return lengths, max(lengths) - min(lengths)


def links_of(loop: Loop, teeth: Sequence[int], pitch_m: float) -> float:
    """Links of a loop over sprockets: spans over the pitch, and teeth by their wraps."""
    wrapped = sum(z * wrap for z, wrap in zip(teeth, loop.wraps, strict=True)) / (2.0 * math.pi)
    return sum(span.length for span in loop.spans) / pitch_m + wrapped


class Sprung(NamedTuple):
    """A tensioner arm at rest: its angle [rad], the loop, the slack tension that its spring gives [N], take-up by angle [m/rad]."""

    angle: float
    loop: Loop
    slack_n: float
    slope: float


def sprung_arm(
    fixed: tuple[Round, Round],
    teeth: tuple[int, int, int],
    pitch_m: float,
    pivot: tuple[float, float],
    arm_m: float,
    links: int,
    spring_nm: float,
    low: float,
    high: float,
    side: int = -1,
) -> Sprung | None:
    """The arm's angle at which the loop has its links; None where it does not reach them with one sign of take-up.

    Slack tension by virtual work: M/|dL/dangle|.
    """
    radius = 0.5 * sprocket_diameter_m(pitch_m, teeth[2])

    def off(angle: float) -> tuple[float, Loop]:
        idler = Round(pivot[0] + arm_m * math.cos(angle), pivot[1] + arm_m * math.sin(angle), radius, side)
        loop = loop_around((*fixed, idler))
        return (links_of(loop, teeth, pitch_m) - links if loop.real else math.nan), loop

    found = _root(lambda angle: off(angle)[0], low, high)
    if found is None:
        return None
    step = 1e-6
    slope = (off(found + step)[1].length - off(found - step)[1].length) / (2.0 * step)
    return Sprung(found, off(found)[1], spring_nm / abs(slope) if slope else math.inf, slope)


def _root(of: Callable[[float], float], low: float, high: float) -> float | None:
    steps, before = 180, None
    for n in range(steps + 1):
        at = low + (high - low) * n / steps
        value = of(at)
        if math.isnan(value):
            before = None
            continue
        if before is not None and value * before[1] <= 0.0:
            (a, at_a), b = before, at
            for _ in range(60):
                middle = 0.5 * (a + b)
                a, b = (middle, b) if of(middle) * at_a > 0.0 else (a, middle)
            return 0.5 * (a + b)
        before = at, value
    return None
