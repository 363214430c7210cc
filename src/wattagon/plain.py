"""Words for terminals that know no more than ASCII, or that were handed text in another code."""

from __future__ import annotations

import codecs
import sys
from io import TextIOWrapper

PLAIN = {
    "\N{MINUS SIGN}": "-",
    "·": "*",
    "°": "",
    "µ": "u",
    "Ω": "ohm",
    "²": "2",
    "³": "3",
    "×": "x",
    "≈": "~",
    "∞": "inf",
    "…": "...",
    "±": "+-",
    "€": "EUR",
    "→": "->",
}


def _spell(error: UnicodeError) -> tuple[str, int]:
    if not isinstance(error, UnicodeEncodeError):
        raise error
    return "".join(PLAIN.get(c, "?") for c in error.object[error.start : error.end]), error.end


def any_terminal() -> None:
    """Make printing never fail for a sign that the terminal does not have."""
    codecs.register_error("wattagon", _spell)
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):
            stream.reconfigure(errors="wattagon")


def unicode_terminal() -> bool:
    """Whether any sign can be printed."""
    return codecs.lookup(sys.stdout.encoding or "ascii").name == "utf-8"
