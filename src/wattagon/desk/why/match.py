"""Which of the numbers that were worked out is the one that was read: by its value to the digits that are shown, and by its unit."""

from __future__ import annotations

import math

from wattagon.desk.why.read import Read
from wattagon.exchange.units import number_text, unit_of
from wattagon.exchange.why.answers import Numbers
from wattagon.study.why.words import Said
from wattagon.traced import GIVEN, Traced, TracedInt

MOST = 8
# dimensions that `say` shows in another unit where they are large or long: unit, worth of one in that of the dimension
OTHERWISE = {"time": (("min", 60.0), ("h", 3600.0), ("s", 1.0)), "power": (("kW", 1000.0),), "resistance": (("Ω", 1.0),)}


def matches(numbers: Numbers, read: Read, unit_set: str, currency: str, heads: tuple[str, ...] = ()) -> list[str]:
    """Names of numbers that are shown so, the likeliest first: results before what led to them, those of `heads` before others."""
    try:
        value = float(read.digits)
    except ValueError:
        return []
    places = len(read.digits.partition(".")[2])
    # what is shown may be cut to fewer digits than it has: half of the last one
    step = 0.5 * 10.0**-places * (10.0 ** _zeros(read.digits) if places == 0 else 1.0)
    found: list[tuple[tuple[float, ...], str]] = []
    seen: set[tuple[float, str]] = set()
    for rank, kept in enumerate((numbers.results, numbers.named)):
        for name, node in kept.items():
            said = numbers.said(name)
            for shown, unit in _shown(float(node), said, unit_set, currency):
                if not math.isfinite(shown) or abs(abs(shown) - abs(value)) > step * 1.0001 or not _unit_fits(read.after, unit, said):
                    continue
                exact = number_text(float(node) * said.si, said.dimension, unit_set).lstrip("\N{MINUS SIGN}-") == read.digits.lstrip("-")
                with_unit = bool(unit) and read.after.startswith(unit)
                opens = isinstance(node, (Traced, TracedInt)) and node.op != GIVEN
                key = (float(node), said.dimension)
                if rank and key in seen:
                    break
                seen.add(key)
                far = 0 if any(name.startswith(head) for head in heads if head) or (not heads and rank == 0) else 1
                found.append(((not with_unit, not exact, rank, far, not opens, abs(abs(shown) - abs(value))), name))
                break
    found.sort()
    return [name for _, name in found[:MOST]]


def _zeros(digits: str) -> int:
    """Zeros at the end of a whole number that may be rounding: 1250 is known to its tens."""
    bare = digits.lstrip("-")
    return len(bare) - len(bare.rstrip("0")) if len(bare.rstrip("0")) >= 2 else 0


def _shown(value: float, said: Said, unit_set: str, currency: str) -> list[tuple[float, str]]:
    """(number, unit) as it may stand on a screen."""
    si = value * said.si
    unit = unit_of(said.dimension, unit_set)
    text = said.unit or (currency if said.dimension == "money" else unit.text)
    made = [(si * unit.per_si + unit.offset, text)]
    made += [(si / worth, other) for other, worth in OTHERWISE.get(said.dimension, ())]
    if said.dimension == "length":
        made += [(si, "m")]
    if said.dimension in ("share", "number") and not said.unit:
        made += [(si * 100.0, "%"), (si, "")]
    return made


def _unit_fits(after: str, unit: str, said: Said) -> bool:
    """Whether what follows the number may be its unit: the unit itself, or none that could be told."""
    if unit and after.startswith(unit):
        rest = after[len(unit) :]
        return not rest[:1].isalpha()
    word = after.split(" ", 1)[0].rstrip(",;:.)")
    return not word or word not in UNITS


UNITS = frozenset(
    [
        "km/h",
        "mph",
        "kn",
        "mm",
        "m",
        "km",
        "in",
        "ft",
        "mi",
        "NM",
        "kg",
        "lb",
        "N",
        "lbf",
        "N·m",
        "lbf·ft",
        "MPa",
        "ksi",
        "A",
        "V",
        "mΩ",
        "Ω",
        "µH",
        "W",
        "kW",
        "Wh",
        "Ah",
        "%",
        "°C",
        "°F",
        "rpm",
        "rpm/V",
        "s",
        "min",
        "h",
        "days",
        "mm²",
        "EUR",
        "m²",
        "S",
        "P",
    ]
)
