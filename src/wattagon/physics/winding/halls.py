"""Hall sensors in slot openings: where, in which order, which codes, and what a wrong list of codes tells.

An opening k lies between tooth k and tooth k + 1, counted from 0.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from wattagon.errors import InputError
from wattagon.physics.winding.star import Pattern, axis_deg
from wattagon.record import record

SIX = (60.0, 5.0)  # degrees between two edges, and how far one may be off
CODES = {
    120: ("101", "100", "110", "010", "011", "001"),
    60: ("100", "110", "111", "011", "001", "000"),
}
NEVER = {120: ("000", "111"), 60: ("010", "101")}


def steps(slots: int, poles: int, electrical: int = 120) -> tuple[int, ...]:
    """Whole numbers of slots that are exactly so many electrical degrees; whole numbers, since borders matter."""
    if slots * electrical % 360:
        return ()
    return tuple(m for m in range(1, slots) if m * (poles // 2) % slots == slots * electrical // 360)


def openings(slots: int, poles: int, electrical: int = 120) -> tuple[int, int, int] | None:
    """Openings of H1, H2, H3, as near together as exact ones can be; None where there are none."""
    signed = [m if 2 * m <= slots else m - slots for m in steps(slots, poles, electrical)]
    if not signed:
        return None
    step = min(signed, key=lambda m: (abs(m), -m))
    return 0, step % slots, 2 * step % slots


def spacings_deg(poles: int, electrical: float = 120.0, count: int = 3) -> tuple[float, ...]:
    """Mechanical degrees between neighbours, (electrical + 360 k)/p, the smallest first."""
    return tuple((electrical + 360.0 * k) / (poles // 2) for k in range(count))


def opening_deg(found: Pattern, opening: float) -> float:
    """Electrical degrees from the zero crossing of phase A's EMF to the edge of a sensor in an opening, -90 to 90."""
    at = 360.0 * (found.poles // 2) * (opening + 0.5) / found.slots
    angle = (at + 90.0 - axis_deg(found)) % 180.0
    return angle - 180.0 if angle > 90.0 + 1e-9 else angle


def errors_deg(found: Pattern, where: Sequence[float], electrical: int = 120) -> tuple[float, ...]:
    """How far H2 and H3 are off the place that H1 asks for [electrical degrees, -180 to 180], either way round."""
    at = [360.0 * (found.poles // 2) * one / found.slots for one in where]
    ways = []
    for sign in (1, -1):
        off = [(at[k] - at[0] - sign * k * electrical + 180.0) % 360.0 - 180.0 for k in range(len(at))]
        ways.append(tuple(off))
    # the way round in which fewest are wrong: one sensor a slot off is one wrong sensor, not two
    return min(ways, key=lambda off: (sum(abs(one) > SIX[1] for one in off), max(abs(one) for one in off)))


def codes(found: Pattern, where: Sequence[float], angles_deg: Sequence[float]) -> tuple[str, ...]:
    """The code at electrical angles of the rotor, sensors in openings (fractions of a slot allowed).

    At angle 0 the middle of a north pole stands before tooth 0; 1 is a north pole before the sensor.
    """
    at = _places_deg(found, where)
    return tuple("".join("1" if (angle - place + 90.0) % 360.0 < 180.0 else "0" for place in at) for angle in angles_deg)


def _places_deg(found: Pattern, where: Sequence[float]) -> list[float]:
    """Electrical degrees of openings from tooth 0."""
    return [360.0 * (found.poles // 2) * (one + 0.5) / found.slots for one in where]


def ring(found: Pattern, where: Sequence[float]) -> tuple[tuple[str, float], ...]:
    """(code, electrical degrees that it lasts) over one electrical turn, in order."""
    at = sorted({round((place + edge) % 360.0, 6) for place in _places_deg(found, where) for edge in (90.0, 270.0)})
    made = []
    for k, start in enumerate(at):
        width = (at[(k + 1) % len(at)] - start) % 360.0 or 360.0
        made.append((codes(found, where, [start + 0.5 * width])[0], width))
    return tuple(made)


@record(frozen=True, slots=True, kw_only=True)
class CodeVerdict:
    """What six codes tell."""

    good: bool
    says: str
    spacing: int = 120
    backwards: bool = False


def parse_codes(text: str) -> tuple[str, ...]:
    """Codes as typed, apart by blanks or commas.  Raises InputError for what is no code."""
    found = tuple(text.replace(",", " ").replace(";", " ").split())
    for one in found:
        if len(one) != 3 or set(one) - {"0", "1"}:
            raise InputError("codes", one[:20], "three figures of 0 and 1 each, such as 101 100 110 010 011 001")
    return found


def judge(read: Sequence[str], spacing: int = 120) -> CodeVerdict:
    """Six codes in the order in which they came, of sensors so many electrical degrees apart."""
    seen = _turns(read)
    if not seen:
        return CodeVerdict(good=False, says="no codes yet", spacing=spacing)
    for place in range(3):
        if len({one[place] for one in seen}) == 1 and len(seen) > 1:
            return CodeVerdict(
                good=False, says=f"sensor {place + 1} stays at {seen[0][place]}: dead, without supply or pull-up", spacing=spacing
            )
    other = 60 if spacing == 120 else 120
    if _is_ring(seen, other):
        inverted = "the middle sensor turned round, or not inverted"
        return CodeVerdict(good=False, says=f"these are codes of {other} degrees: {inverted}", spacing=spacing)
    bad = [one for one in seen if one in NEVER[spacing]]
    if bad:
        return CodeVerdict(good=False, says=f"{bad[0]} never comes at {spacing} degrees: a sensor is reversed or dead", spacing=spacing)
    for a, b in zip(seen, (*seen[1:], seen[0]), strict=True):
        if sum(x != y for x, y in zip(a, b, strict=True)) != 1:
            return CodeVerdict(
                good=False, says=f"from {a} to {b} more than one sensor changes: misplaced, or a code was missed", spacing=spacing
            )
    if len(seen) < 6:
        return CodeVerdict(good=False, says=f"{len(seen)} of 6 codes: one is missing", spacing=spacing)
    forward = _is_ring(seen, spacing, both=False)
    if not forward and not _is_ring(seen, spacing):
        return CodeVerdict(good=False, says="right codes in a wrong order: misplaced", spacing=spacing)
    words = "in order" if forward else "in order, backwards: the motor was turned the other way, or two sensors are swapped"
    return CodeVerdict(good=True, says=words, spacing=spacing, backwards=not forward)


def _turns(read: Sequence[str]) -> tuple[str, ...]:
    """One turn of what was read: repeats next to each other are one, and whole repeats of the turn are dropped."""
    seen = [one for k, one in enumerate(read) if k == 0 or one != read[k - 1]]
    if len(seen) > 1 and seen[0] == seen[-1]:
        seen.pop()
    if len(seen) > 6 and len(seen) % 6 == 0 and all(seen[k] == seen[k % 6] for k in range(len(seen))):
        seen = seen[:6]
    return tuple(seen)


def _is_ring(seen: Sequence[str], spacing: int, *, both: bool = True) -> bool:
    wanted = CODES[spacing]
    if len(seen) != 6 or set(seen) != set(wanted):
        return False
    ways = (wanted, wanted[::-1]) if both else (wanted,)
    return any(tuple(seen) == (*way[k:], *way[:k]) for way in ways for k in range(6))


def uneven(lengths_deg: Sequence[float]) -> tuple[int, float] | None:
    """(index, degrees) of the step that is farthest from 60, where that is beyond 5; None where all are within."""
    if not lengths_deg:
        return None
    k = max(range(len(lengths_deg)), key=lambda i: abs(lengths_deg[i] - SIX[0]))
    off = lengths_deg[k] - SIX[0]
    return (k, off) if abs(off) > SIX[1] and math.isfinite(off) else None


SMEAR_DEPTH_M, SMEAR_FLUX_T, SMEAR_OHM_M = 0.2e-3, 1.0, 5e-7  # of a ground seat, its field, steel of laminations; judged


def smeared_w(electrical_hz: float, width_m: float, stack_m: float, count: int = 3) -> float:
    """Loss [W] where grinding smeared laminations together, within a factor of three: a solid strip as wide as the seat.

    Source: classical eddy loss (pi B f w)^2/(6 rho) a volume, field across the strip.
    """
    volume = count * width_m * SMEAR_DEPTH_M * stack_m
    return (math.pi * SMEAR_FLUX_T * electrical_hz * width_m) ** 2 / (6.0 * SMEAR_OHM_M) * volume
