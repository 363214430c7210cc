"""Lines of a working in the user's units: the core writes them in N, N m, mm, MPa and C."""

from __future__ import annotations

import re

from wattagon.exchange.units import say

# as the core writes it: dimension, SI of one
WRITTEN: dict[str, tuple[str, float]] = {
    "N m": ("torque", 1.0),
    "MPa": ("stress", 1e6),
    "mm": ("length", 1e-3),
    "N": ("force", 1.0),
    "C": ("temperature", 1.0),
}
_VALUE = re.compile(r"(?<![\w.])(-?\d+(?:\.\d+)?) (N m|MPa|mm|N|C)(?![\w.])")


def in_units(line: str, unit_set: str) -> str:
    """A line with each of its values in a set of units; a metric one stays as it is but for the signs of units."""

    def one(found: re.Match[str]) -> str:
        number, unit = found.groups()
        dimension, si = WRITTEN[unit]
        if unit_set == "metric":
            return f"{number} {METRIC.get(unit, unit)}"
        return say(float(number) * si, dimension, unit_set)

    return _VALUE.sub(one, line)


METRIC = {"N m": "N·m", "C": "°C"}
