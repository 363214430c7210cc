"""The star of slots in exact arithmetic: which slots and poles go together, their patterns and factors.

Sources: Bianchi and Dai Pre 2006; Cros and Viarouge 2002.  Teeth are counted from 0; an electrical angle is p times the mechanical one.
"""

from __future__ import annotations

import cmath
import math
from collections import Counter
from collections.abc import Sequence
from itertools import permutations

from wattagon.errors import InputError
from wattagon.record import record

PHASES = "ABC"
USEFUL = 0.85  # fundamental factor under which a balanced winding is of no use; rule of thumb
_BELTS = "AcBaCb"  # six belts of 60 degrees, half open, the first centred on 0
MOST_SLOTS = 120


@record(frozen=True, slots=True)
class Pattern:
    """One coil a tooth: (phase 0 to 2, direction +1 or -1), or None where the tooth is bare.

    Letters: capital is clockwise seen from the tooth's tip, small anticlockwise, `-` unwound.
    """

    poles: int
    coils: tuple[tuple[int, int] | None, ...]

    @property
    def slots(self) -> int:
        return len(self.coils)

    @property
    def layers(self) -> int:
        """Coil sides a slot: 1 where every other tooth is bare."""
        return 1 if None in self.coils else 2

    @property
    def text(self) -> str:
        """One letter a tooth in order."""
        return "".join("-" if one is None else PHASES[one[0]] if one[1] > 0 else PHASES[one[0]].lower() for one in self.coils)

    def teeth(self, phase: int) -> tuple[int, ...]:
        """Teeth of a phase in order round the stator."""
        return tuple(k for k, one in enumerate(self.coils) if one is not None and one[0] == phase)

    def spoke(self, tooth: int) -> int:
        """EMF spoke of a wound tooth in 1/(2 Q) turns, with the half turn of a coil that is turned round."""
        coil = self.coils[tooth]
        assert coil is not None
        return (tooth * self.poles + (self.slots if coil[1] < 0 else 0)) % (2 * self.slots)


def name(slots: int, poles: int) -> str:
    """As the field writes it, such as 12N14P."""
    return f"{slots}N{poles}P"


def refusal(slots: int, poles: int, layers: int = 2) -> str:
    """Why no three-phase winding of tooth coils is balanced there; empty where one is."""
    if slots < 3 or slots > MOST_SLOTS:
        return f"3 to {MOST_SLOTS} slots"
    if poles < 2 or poles % 2:
        return "an even number of poles"
    if slots % 3:
        return "slots that divide by 3"
    pairs = poles // 2
    if (slots // math.gcd(slots, pairs)) % 3:
        return "slots and poles whose phases lie 120 degrees apart"
    if layers == 1:
        if slots % 6:
            return "slots that divide by 6, for every other tooth"
        half = slots // 2
        if (half // math.gcd(half, pairs)) % 3:
            return "slots and poles whose every other tooth makes three phases"
    return ""


def pattern(slots: int, poles: int, layers: int = 2) -> Pattern:
    """The winding by six belts of 60 degrees.  Raises InputError where none is balanced.

    >>> pattern(12, 10).text
    'AabBCcaABbcC'
    """
    why = refusal(slots, poles, layers)
    if why:
        raise InputError("slots and poles", name(slots, poles), why)
    pairs = poles // 2
    coils: list[tuple[int, int] | None] = []
    for tooth in range(slots):
        if layers == 1 and tooth % 2:
            coils.append(None)
            continue
        # floor(6 (theta + 1/12)) with theta = (tooth p mod Q)/Q, in whole numbers: spokes fall on belt borders
        belt = _BELTS[((12 * (tooth * pairs % slots) + slots) // (2 * slots)) % 6]
        coils.append((PHASES.index(belt.upper()), 1 if belt.isupper() else -1))
    return Pattern(poles, tuple(coils))


def read(text: str, poles: int) -> Pattern:
    """A pattern from its letters.  Raises InputError for other letters than A a B b C c -."""
    letters = text.strip().replace(" ", "")
    if not letters or any(letter not in "AaBbCc-" for letter in letters):
        raise InputError("pattern", text[:80], "a letter a tooth: A a B b C c, or - for a bare one")
    return Pattern(poles, tuple(None if c == "-" else (PHASES.index(c.upper()), 1 if c.isupper() else -1) for c in letters))


def balanced(found: Pattern) -> bool:
    """Whether the three phases are alike and 120 degrees apart, by the whole numbers of their spokes."""
    sums = [Counter(found.spoke(tooth) for tooth in found.teeth(phase)) for phase in range(3)]
    third, whole = 2 * found.slots // 3, 2 * found.slots
    turned = lambda spokes, by: Counter({(spoke + by) % whole: count for spoke, count in spokes.items()})
    if not sums[0] or 2 * found.slots % 3:
        return False
    return any(all(turned(sums[0], sign * k * third) == sums[k] for k in (1, 2)) for sign in (1, -1))


def pitch_factor(slots: int, poles: int, nu: int = 1) -> float:
    """|sin(nu pi p/Q)| of a coil round one tooth."""
    return abs(math.sin(nu * math.pi * (poles // 2) / slots))


def distribution_factor(found: Pattern, nu: int = 1, phase: int = 0) -> float:
    """How far the coils of a phase add up, 0 to 1."""
    teeth = found.teeth(phase)
    if not teeth:
        return 0.0
    # only odd harmonics: then a coil that is turned round is a spoke half a turn on
    whole = 2 * found.slots
    return abs(sum(cmath.exp(2j * math.pi * (nu * found.spoke(tooth) % whole) / whole) for tooth in teeth)) / len(teeth)


def factor(found: Pattern, nu: int = 1, phase: int = 0) -> float:
    """Winding factor of an odd harmonic of the electrical fundamental.

    >>> round(factor(pattern(12, 14)), 5)
    0.93301
    """
    return pitch_factor(found.slots, found.poles, nu) * distribution_factor(found, nu, phase)


def factor_by_sides(found: Pattern, nu: int = 1, phase: int = 0) -> float:
    """The same from the two sides of each coil, half a slot before and behind its tooth: a cross-check."""
    teeth, pairs = found.teeth(phase), found.poles // 2
    total = 0.0 + 0.0j
    for tooth in teeth:
        coil = found.coils[tooth]
        assert coil is not None
        side = lambda at: cmath.exp(2j * math.pi * nu * pairs * at / found.slots)
        total += coil[1] * (side(tooth + 0.5) - side(tooth - 0.5))
    return abs(total) / (2.0 * len(teeth)) if teeth else 0.0


def canonical(text: str) -> str:
    """The smallest of all spellings of one winding: start tooth, names of phases, all coils turned round, read from the other face."""
    letters, best = text.replace(" ", ""), ""
    for order in permutations(PHASES):
        names = str.maketrans("ABCabc", "".join(order) + "".join(order).lower())
        renamed = letters.translate(names)
        for one in (renamed, renamed.swapcase()):
            for way in (one, one[::-1]):
                double = way + way
                least = min(double[k : k + len(way)] for k in range(len(way)))
                best = least if not best else min(best, least)
    return best


def side_pull(slots: int, poles: int) -> bool:
    """Whether a rotating radial force is left: gcd(Q, 2p) = 1."""
    return math.gcd(slots, poles) == 1


def cogging_steps(slots: int, poles: int) -> int:
    """Cogging positions a turn, lcm(Q, 2p): more of them are smaller; it tells no amplitude."""
    return math.lcm(slots, poles)


def most_paths(found: Pattern) -> int:
    """The most equal parallel paths of a phase: each has to hold the same set of spokes."""
    return math.gcd(*(count for phase in range(3) for count in Counter(found.spoke(tooth) for tooth in found.teeth(phase)).values()))


def paths_allowed(found: Pattern) -> tuple[int, ...]:
    """Numbers of parallel paths that a phase can have."""
    most = most_paths(found)
    return tuple(k for k in range(1, most + 1) if most % k == 0)


def paths(found: Pattern, phase: int, count: int) -> tuple[tuple[int, ...], ...]:
    """Teeth of each parallel path of a phase, neighbours together where that can be.  Raises InputError for a count that is not allowed."""
    if count not in paths_allowed(found):
        raise InputError("paths", count, ", ".join(map(str, paths_allowed(found))))
    by_spoke: dict[int, list[int]] = {}
    for tooth in found.teeth(phase):
        by_spoke.setdefault(found.spoke(tooth), []).append(tooth)
    made: list[list[int]] = [[] for _ in range(count)]
    for teeth in by_spoke.values():
        each = len(teeth) // count
        for k in range(count):
            made[k] += teeth[k * each : (k + 1) * each]
    return tuple(tuple(sorted(path)) for path in made)


def axis_deg(found: Pattern, phase: int = 0) -> float:
    """Electrical angle of a phase's axis [degrees]: the sum of its spokes."""
    whole = 2 * found.slots
    total = sum(cmath.exp(2j * math.pi * found.spoke(tooth) / whole) for tooth in found.teeth(phase))
    return math.degrees(cmath.phase(total))


def winding_order(found: Pattern, count: int = 1) -> tuple[tuple[int, int, int, int], ...]:
    """(phase, path, tooth, direction) of every coil in the order in which they are wound: a phase in one go, path after path."""
    made = []
    for phase in range(3):
        for k, teeth in enumerate(paths(found, phase, count)):
            for tooth in _shortest_round(teeth, found.slots):
                coil = found.coils[tooth]
                assert coil is not None
                made.append((phase, k, tooth, coil[1]))
    return tuple(made)


def _shortest_round(teeth: Sequence[int], slots: int) -> tuple[int, ...]:
    """Teeth in the order round the stator that begins after the widest gap, so that crossovers are short."""
    if len(teeth) < 2:
        return tuple(teeth)
    gaps = [((teeth[k] - teeth[k - 1]) % slots, k) for k in range(len(teeth))]
    first = max(gaps)[1]
    return (*teeth[first:], *teeth[:first])


def alternatives(poles: int, most_slots: int = 48) -> tuple[tuple[int, float], ...]:
    """(slots, factor) that suit a rotor with so many poles, the best factor first."""
    found = []
    for slots in range(3, most_slots + 1, 3):
        if not refusal(slots, poles) and not 2 * slots < poles:
            value = factor(pattern(slots, poles))
            if value >= USEFUL:
                found.append((slots, value))
    return tuple(sorted(found, key=lambda one: (-round(one[1], 6), one[0])))
