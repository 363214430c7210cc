"""Units at the edge: how a value is shown in the user's set, and what a typed text with any unit means in SI."""

from __future__ import annotations

import functools
import math
import re
from typing import Any

from wattagon.design.dimensions import DIMENSIONS, SETS, Unit
from wattagon.errors import InputError

__all__ = [
    "SETS",
    "Unit",
    "difference",
    "full",
    "number_text",
    "parse",
    "per_distance",
    "quoted",
    "say",
    "shown",
    "significant",
    "unit_of",
    "warm",
    "whole",
    "with_error",
]

# what may be typed: a plain number, then units with whole powers; nothing of it is ever evaluated
_FRACTION = re.compile(r"\s*([-\N{MINUS SIGN}])?\s*(?:(\d{1,6})[ -])?\s*(\d{1,4})/(\d{1,4})(?![\d/.,])(.*)$", re.DOTALL)
_NUMBER = re.compile(r"^([+-]?(?:[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)(?:[eE][+-]?[0-9]{1,3})?)\s*(.*)$", re.ASCII | re.DOTALL)
_UNIT = re.compile(r"^([^\W\d_]{1,24}|[°µΩ\"']{1,2}[^\W\d_]{0,12})(?:\s*(?:\^|\*\*)\s*(-?[1-3])|([²³1-3]))?$")
_BETWEEN = re.compile(r"\s*(/|·|(?<!\*)\*(?!\*)|(?<=\S)\s+(?=[^\s/·*^-]))\s*")
LONGEST = 60  # characters
_MOST_FACTORS = 5


def unit_of(dimension: str, unit_set: str = "metric") -> Unit:
    """The unit of a dimension in a set.  Raises KeyError for a dimension that is none."""
    return DIMENSIONS[dimension].unit(unit_set)


def shown(value: float, dimension: str, unit_set: str = "metric") -> float:
    """A value in SI as a number in the set's unit."""
    unit = unit_of(dimension, unit_set)
    return value * unit.per_si + unit.offset


def significant(number: float, figures: int = 3) -> str:
    """A number in `figures` significant digits without an exponent; whole numbers keep all theirs."""
    if number == 0 or not math.isfinite(number):
        return "0" if number == 0 else ("∞" if number > 0 else "-∞") if math.isinf(number) else "-"
    places = max(0, figures - 1 - math.floor(math.log10(abs(number)) + 1e-12))
    text = f"{number:.{places}f}"
    if places and "." in text:
        text = text.rstrip("0").rstrip(".")
    return text.replace("-", "−", 1) if text.startswith("-") else text


def number_text(value: float, dimension: str, unit_set: str = "metric") -> str:
    """Only the number, in the set's unit and usual figures; money has no tenth of a cent from one on."""
    if dimension == "money" and math.isfinite(value) and abs(value) < 1000.0:
        cents = round(value, 2 if abs(value) >= 1.0 else 3)
        return significant(cents) if cents == round(cents) or abs(cents) < 1.0 else f"{cents:.2f}".replace("-", "\N{MINUS SIGN}", 1)
    return significant(shown(value, dimension, unit_set), unit_of(dimension, unit_set).figures)


NOTHING = 1e-14  # SI, below anything that is said here


@functools.lru_cache(maxsize=4096)  # limits and goals are said again in every frame
def say(value: float, dimension: str, unit_set: str = "metric", currency: str = "EUR") -> str:
    """Number and unit, such as `25.4 km/h`; long times in minutes, large powers in kW, resistances from 1 Ω on in Ω."""
    if abs(value) < NOTHING:
        value = 0.0  # what differences leave of nothing
    if dimension == "time" and math.isfinite(value) and abs(value) >= 120.0:
        return f"{significant(value / 60.0, 2)} min" if value < 36000 else f"{significant(value / 3600.0, 3)} h"
    if dimension == "power" and abs(value) >= 10000.0:
        return f"{significant(value / 1000.0, 3)} kW"
    if dimension == "resistance" and math.isfinite(value) and abs(value) >= 1.0:
        return f"{significant(value, 3)} Ω"
    unit = unit_of(dimension, unit_set)
    text = unit.text if dimension != "money" else currency
    number = number_text(value, dimension, unit_set)
    return number if not text else f"{number}{text}" if dimension in ("S", "P") else f"{number} {text}"


def with_error(value: float, error: float, dimension: str, unit_set: str = "metric") -> str:
    """`0.0353 ± 0.0004 m²`: the error to two figures at most, the value to as many places."""
    unit = unit_of(dimension, unit_set)
    by = abs(error * unit.per_si)
    if not math.isfinite(by) or by == 0.0:
        return say(value, dimension, unit_set)
    first = math.floor(math.log10(by))
    places = max(0, -first + (1 if by / 10.0**first < 3.0 else 0))
    number = f"{shown(value, dimension, unit_set):.{places}f}".replace("-", "\N{MINUS SIGN}", 1)
    return f"{number} ± {by:.{places}f} {unit.text}".strip()


def full(value: float, dimension: str, unit_set: str = "metric", currency: str = "EUR") -> str:
    """The value to more digits than anyone measures, for hovering and copying."""
    unit = unit_of(dimension, unit_set)
    text = unit.text if dimension != "money" else currency
    return f"{significant(shown(value, dimension, unit_set), 7)} {text}".strip()


def per_distance(value_per_km: float, unit_set: str = "metric") -> tuple[float, str]:
    """(value, unit) of something per kilometre, in the set's unit of distance."""
    unit = unit_of("distance", unit_set)
    return value_per_km / (1000.0 * unit.per_si), unit.text


def difference(value: float, dimension: str, unit_set: str = "metric") -> str:
    """A change with its sign, without offset (a difference of temperatures has none)."""
    unit = unit_of(dimension, unit_set)
    number = significant(abs(value) * unit.per_si, 2)
    return f"{'+' if value >= 0 else '−'}{number}"


@functools.cache
def _registry() -> Any:
    import pint

    registry: Any = pint.UnitRegistry(autoconvert_offset_to_baseunit=True)
    registry.define("cell = []")
    return registry


def parse(text: str, dimension: str, unit_set: str | None = None, field: str = "the value") -> float:
    """SI value of a text such as `25 mph`, `8 in`, `14 %` or `12`; a bare number is in the set's unit (SI without a set).

    Raises InputError naming the field, the text and what is accepted, at once whatever was typed.  The value is finite.
    """
    default = unit_of(dimension, unit_set) if unit_set else None
    accepted = f"a number, or a number with a unit such as {default.text}" if default and default.text else _accepted(dimension)
    refusal = InputError(field, quoted(text), accepted)
    text = _fraction(text) if "/" in text and len(text) <= LONGEST else text
    match = _NUMBER.match(text.strip().replace("\N{MINUS SIGN}", "-")) if len(text) <= LONGEST else None
    if match is None:
        raise refusal
    number, unit = float(match.group(1).replace(",", ".")), match.group(2).strip()
    if not unit:
        value = (number - default.offset) / default.per_si if default else number
    elif not DIMENSIONS[dimension].library:
        value = number * DIMENSIONS[dimension].marks.get(unit.lower(), math.nan)
    else:
        value = _in_si(number, unit, dimension)
    if not math.isfinite(value):
        raise refusal
    return value


def _fraction(text: str) -> str:
    """`5 1/4 in` and `3/8"` as decimals; anything else as it is."""
    found = _FRACTION.match(text)
    if found is None or int(found.group(4)) == 0:
        return text
    minus, full, above, below, unit = found.groups()
    return f"{'-' if minus else ''}{int(full or 0) + int(above) / int(below)!r} {unit}"


def whole(text: str, dimension: str = "number", field: str = "the value") -> int:
    """A whole number as it was typed.  Raises InputError for anything else."""
    try:
        value = parse(text, dimension, field=field)
    except InputError:
        value = 0.5
    if value != int(value) or abs(value) > 1e15:
        raise InputError(field, quoted(text), "a whole number")
    return int(value)


def quoted(text: str) -> str:
    """What was typed, as it can stand in a sentence."""
    shown = repr(text)
    return shown if len(shown) <= 42 else f"{shown[:36]}…{shown[0]}"


def _in_si(number: float, unit: str, dimension: str) -> float:
    """A number with a unit; nan for a unit that is none or of something else."""
    kind = DIMENSIONS[dimension]
    name = kind.aliases.get(unit.lower()) or _spelled(unit)
    if not name:
        return math.nan
    import pint

    try:
        return float(_registry().Quantity(number, name).to(kind.library).magnitude)
    except (pint.errors.PintError, AttributeError, TypeError, ValueError, AssertionError, ArithmeticError):
        return math.nan


def _spelled(unit: str) -> str:
    """A typed unit as the units library reads it, built from its checked pieces; empty for what is no unit."""
    pieces = _BETWEEN.split(unit)
    if len(pieces) > 2 * _MOST_FACTORS - 1:
        return ""
    spelled = ""
    for k in range(0, len(pieces), 2):
        match = _UNIT.match(pieces[k])
        if match is None:
            return ""
        power = int(match.group(2) or {"²": "2", "³": "3"}.get(match.group(3), match.group(3)) or 1)
        over = k > 0 and pieces[k - 1] == "/"
        spelled += ("*" if spelled else "") + f"{match.group(1)}**({-power if over else power})"
    return spelled


def _accepted(dimension: str) -> str:
    if not DIMENSIONS[dimension].library:
        marks = list(DIMENSIONS[dimension].marks)
        return "a number" + (f", or a number with {marks[0]}" if marks else "")
    return f"a number, or a number with a unit of {dimension.replace('_', ' ')} such as {unit_of(dimension).text}"


def warm() -> None:
    """Load the units library ahead of the first typed unit."""
    _registry()
