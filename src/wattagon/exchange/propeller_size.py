"""The size of a propeller as people write it: diameter x pitch, in inches or millimetres."""

from __future__ import annotations

import re

from wattagon.errors import InputError
from wattagon.exchange import units

INCHES_UP_TO = 40.0  # without a unit smaller numbers are inches: that is how they are sold
ACCEPTED = "diameter x pitch, such as 8x6 (inches), 8 x 6 in, or 200x150 mm"
_LENGTH = r"\s*(?P<{0}>\d+(?:[.,]\d+)?)\s*(?P<{0}u>[a-z\"'″]*)\s*"
_SIZE = re.compile(_LENGTH.format("d") + "[x×*]" + _LENGTH.format("p"), re.IGNORECASE)


def propeller_size(text: str, field: str = "the size") -> tuple[float, float]:
    """(diameter, pitch) [m] of a text such as `8x6`, `7.5 x 6.5 in` or `200x150 mm`.  Raises InputError with what is accepted."""
    match = _SIZE.fullmatch(text) if len(text) <= 60 else None
    if match is None:
        raise InputError(field, units.quoted(text), ACCEPTED)
    unit = match["pu"] or match["du"]
    diameter, pitch = (float(match[name].replace(",", ".")) for name in ("d", "p"))
    if not unit:
        unit = "in" if diameter < INCHES_UP_TO else "mm"
    try:
        return tuple(  # type: ignore[return-value]
            units.parse(f"{value:g} {'in' if one in ('″', chr(34), chr(39) * 2) else one}", "length", field=field)
            for value, one in ((diameter, match["du"] or unit), (pitch, match["pu"] or unit))
        )
    except InputError:
        raise InputError(field, units.quoted(text), ACCEPTED) from None
