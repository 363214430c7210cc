"""Synchronous belts: geometry of two pulleys, forces, tension, what shears or jumps, travel of the slots.  SI throughout.

Sources: ISO 5294 (pulleys), ISO 5295 (rating), ISO 5296 (belts); what is derived or judged stands with it.
"""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

from wattagon.physics.arrays import require
from wattagon.record import record

REFERENCE_WIDTH_M = 0.0254  # of the working tensions
FULL_MESH = 6  # teeth from which on a pulley carries all
SHEAR_TEETH = 12  # more than that share nothing more
INSTALLED = 9.0 / 14.0  # of the pull, so that the tight strand has eight times the slack one
LEAST_INSTALLED = 0.5
CLIMB, RISE_PER_K = 0.4, 0.004  # free length that a tooth needs to climb, as a share; rubber softens with the temperature
WEAR = 0.001  # of its length
SERVICE, PEAK = 1.5, 2.0  # sustained load counts for more; seconds may be twice what lasts
# tolerance of the length up to a length [m]; ISO 5296
LENGTHS = ((0.254, 0.40e-3), (0.381, 0.46e-3), (0.508, 0.51e-3), (0.762, 0.61e-3), (1.016, 0.66e-3), (1.270, 0.76e-3), (1.524, 0.81e-3))


@record(frozen=True, slots=True, kw_only=True)
class BeltKind:
    """A family of belts; by width means for each metre of it."""

    pitch_m: float
    line_m: float  # a: the pitch line above the outside circle of a pulley
    tooth_m: float  # height of a tooth
    thick_m: float  # in all
    mass_kg_m2: float  # of a metre, by width
    tension_n_m: float  # working tension by width, at the reference width
    stiff_n_m: float  # EA, by width
    tooth_n_m: float | None = None  # that a tooth in mesh bears by width; None: a sixth of the working tension

    def __post_init__(self) -> None:
        for name in ("pitch_m", "line_m", "tooth_m", "thick_m", "mass_kg_m2", "tension_n_m", "stiff_n_m"):
            value = getattr(self, name)
            require(name, value, value > 0, "above 0")

    @property
    def shear_n_m(self) -> float:
        """What a tooth in mesh bears, by width [N/m]."""
        return self.tension_n_m / 6.0 if self.tooth_n_m is None else self.tooth_n_m

    def pitch_diameter_m(self, teeth: int) -> float:
        """d = p z/pi."""
        return self.pitch_m * teeth / math.pi

    def outside_diameter_m(self, teeth: int) -> float:
        """Of the pulley: smaller than the pitch diameter."""
        return self.pitch_diameter_m(teeth) - 2.0 * self.line_m

    def back_m(self) -> float:
        """From the pitch line to the back."""
        return self.thick_m - self.tooth_m - self.line_m

    def idler_radius_m(self, radius_m: float, *, inside: bool) -> float:
        """Radius of the pitch line on a flat idler."""
        return radius_m + (self.tooth_m + self.line_m if inside else self.back_m())

    def least_idler_m(self, good_teeth: int, *, inside: bool) -> float:
        """Least diameter of a flat idler; typical: 40 teeth inside, 1.3 times the pitch diameter of a good pulley on the back."""
        return 40.0 * self.pitch_m / math.pi if inside else 1.3 * self.pitch_diameter_m(good_teeth)


class TwoPulleys(NamedTuple):
    """A belt around two pulleys: lean of its spans [rad], a span, the belt's length [m], wraps of the small and the large one [rad]."""

    lean: float
    span: float
    length: float
    wrap_small: float
    wrap_large: float


def two_pulleys(one_m: float, other_m: float, centre_m: float) -> TwoPulleys:
    """Exact, from pitch diameters and centre distance.  Raises InputError where the pulleys are too close."""
    apart = abs(other_m - one_m)
    require("centre_m", centre_m, centre_m > 0.5 * apart, f"above {0.5 * apart:g} m, half of the difference in diameter")
    lean = math.asin(apart / (2.0 * centre_m))
    span = centre_m * math.cos(lean)
    length = 2.0 * span + 0.5 * math.pi * (one_m + other_m) + lean * apart
    return TwoPulleys(lean, span, length, math.pi - 2.0 * lean, math.pi + 2.0 * lean)


@functools.lru_cache(maxsize=4096)  # a drag asks for the same few loops again and again
def centre_for(one_m: float, other_m: float, length_m: float) -> float:
    """Centre distance of a belt's length [m]; nan where it is shorter than the large pulley's circle.

    Newton on the exact length, whose slope is 2 cos(lean).
    """
    large, apart = max(one_m, other_m), abs(other_m - one_m)
    if length_m <= math.pi * large:
        return math.nan
    low, high = 0.5 * apart, length_m
    sum_b = 2.0 * length_m - math.pi * (one_m + other_m)
    centre = 0.125 * (sum_b + math.sqrt(max(sum_b**2 - 8.0 * apart**2, 0.0)))
    for _ in range(60):
        if not low < centre < high:
            centre = 0.5 * (low + high)
        found = two_pulleys(one_m, other_m, centre)
        off = found.length - length_m
        low, high = (low, centre) if off > 0.0 else (centre, high)
        if abs(off) < 1e-13:
            break
        centre -= off / (2.0 * math.cos(found.lean))
    return centre


def teeth_in_mesh(teeth: int, wrap_rad: float) -> int:
    """Whole teeth in mesh."""
    return math.floor(teeth * wrap_rad / (2.0 * math.pi) + 1e-9)


def mesh_factor(in_mesh: int) -> float:
    """k_z: 1 from six teeth on, a fifth less for each one missing.  Source: ISO 5295."""
    return max(1.0 if in_mesh >= FULL_MESH else 1.0 - 0.2 * (FULL_MESH - in_mesh), 0.0)


class Strands(NamedTuple):
    """Tension of the tight and of the slack strand [N], and whether the slack one is loose."""

    tight_n: float
    slack_n: float
    loose: bool


def strands(installed_n: float, pull_n: float, tight_m: float, slack_m: float) -> Strands:
    """Of fixed centres: the total stretch stays, so lengths share the load; what is loose stays at 0.  Derived."""
    slack = installed_n - pull_n * tight_m / (tight_m + slack_m)
    return Strands(max(slack, 0.0) + pull_n, max(slack, 0.0), slack <= 0.0)


def shaft_load_n(one_n: float, other_n: float, wrap_rad: float) -> float:
    """What two strands press on the shaft of a pulley."""
    return math.sqrt(max(one_n**2 + other_n**2 - 2.0 * one_n * other_n * math.cos(wrap_rad), 0.0))


def installation_n(pull_n: float) -> float:
    """Tension of a strand at rest for a peak pull."""
    return INSTALLED * pull_n


def capacity_n(kind: BeltKind, width_m: float, in_mesh: int, speed_m_s: float = 0.0) -> float:
    """Pull that lasts: F = k_z T_a b_ref (b/b_ref)^1.14 - m' b v^2.  Source: ISO 5295's law of width."""
    grips = mesh_factor(in_mesh) * kind.tension_n_m * REFERENCE_WIDTH_M * (width_m / REFERENCE_WIDTH_M) ** 1.14
    return grips - kind.mass_kg_m2 * width_m * speed_m_s**2


def shear_n(kind: BeltKind, width_m: float, in_mesh: int) -> float:
    """Pull at which teeth shear."""
    return kind.shear_n_m * width_m * min(in_mesh, SHEAR_TEETH)


def narrowest_m(
    kind: BeltKind, widths_m: tuple[float, ...], lasting_n: float, peak_n: float, in_mesh: int, speed_m_s: float
) -> float | None:
    """Narrowest width of stock that bears the sustained pull times the service factor, and twice of it for seconds; None without one."""
    for width in sorted(widths_m):
        bears = capacity_n(kind, width, in_mesh, speed_m_s)
        if SERVICE * lasting_n <= bears and peak_n <= PEAK * bears:
            return width
    return None


def tone_hz(kind: BeltKind, width_m: float, tension_n: float, span_m: float) -> float:
    """Tone of a span that is plucked: f = sqrt(T/m_b)/(2 t)."""
    return math.sqrt(max(tension_n, 0.0) / (kind.mass_kg_m2 * width_m)) / (2.0 * span_m)


def tension_of_tone_n(kind: BeltKind, width_m: float, hertz: float, span_m: float) -> float:
    """The tension that belongs to a tone."""
    return 4.0 * kind.mass_kg_m2 * width_m * span_m**2 * hertz**2


def push_n(kind: BeltKind, width_m: float, tension_n: float, span_m: float, length_m: float, deflection_m: float) -> float:
    """Force at the middle of a span that moves it by a deflection, both strands stretched."""
    half = math.sqrt(0.25 * span_m**2 + deflection_m**2)
    longer = 2.0 * half - span_m
    return 2.0 * (tension_n + kind.stiff_n_m * width_m * longer / length_m) * deflection_m / half


class Jump(NamedTuple):
    """Torque on the small pulley at which the slack strand is loose, the belt jumps, its teeth shear [N m]."""

    loose_nm: float
    jump_nm: float
    shear_nm: float


def jump(
    kind: BeltKind,
    width_m: float,
    teeth: int,
    in_mesh: int,
    length_m: float,
    installed_n: float,
    mount_m_n: float,
    temperature_c: float = 20.0,
) -> Jump:
    """An estimate within a half: the belt rises by a tooth once the slack strand is loose and stretch gives the free length.

    `mount_m_n` is how far the centre distance gives for each newton.  Derived; kappa is judged, to be fitted to a jump that was seen.
    """
    radius = 0.5 * kind.pitch_diameter_m(teeth)
    soft = 1.0 - RISE_PER_K * (temperature_c - 20.0)
    free = CLIMB * soft * kind.tooth_m * 2.0 * math.pi * in_mesh / teeth
    stretch = length_m / (kind.stiff_n_m * width_m) + 4.0 * mount_m_n
    loose = 2.0 * soft * installed_n
    return Jump(loose * radius, (loose + 2.0 * free / stretch) * radius, 3.0 * shear_n(kind, width_m, in_mesh) * radius)


def wind_up_nm_rad(kind: BeltKind, width_m: float, teeth: int, length_m: float) -> float:
    """Stiffness at the shaft of a pulley [N m/rad], an upper bound."""
    return 4.0 * kind.stiff_n_m * width_m * (0.5 * kind.pitch_diameter_m(teeth)) ** 2 / length_m


def length_tolerance_m(length_m: float) -> float:
    """Tolerance of a belt's length either way.  Source: ISO 5296."""
    return next((wide for most, wide in LENGTHS if length_m <= most + 1e-9), LENGTHS[-1][1])


class Travel(NamedTuple):
    """Centre distances of a slot [m]: to lift the belt over a flange, nominal, stretched and worn."""

    shortest: float
    nominal: float
    longest: float


def slot_travel(
    kind: BeltKind,
    width_m: float,
    one: int,
    other: int,
    length_m: float,
    installed_n: float,
    flange_m: float = 0.0,
    flanged: int | None = None,
) -> Travel:
    """How far a take-up has to go for a belt.  `flanged` names which teeth count has the flange of a height over the outside circle."""
    small, large = (kind.pitch_diameter_m(z) for z in (one, other))
    wide = length_tolerance_m(length_m)
    over = 2.0 * (flange_m + kind.tooth_m) if flange_m > 0.0 else 0.0
    lifted = (small + over, large) if flanged in (None, one) else (small, large + over)
    longest = (length_m + wide) * (1.0 + installed_n / (kind.stiff_n_m * width_m) + WEAR)
    return Travel(centre_for(*lifted, length_m - wide), centre_for(small, large, length_m), centre_for(small, large, longest))


def most_teeth(kind: BeltKind, tyre_m: float, gap_m: float) -> int:
    """The largest driven pulley whose belt stays a gap above the ground, from the loaded radius of the tyre."""
    return math.floor(2.0 * math.pi / kind.pitch_m * (tyre_m - gap_m - kind.back_m()))
