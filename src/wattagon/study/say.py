"""How a value is put into words: the edges of the program pass the user's units in."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from wattagon.design.dimensions import DIMENSIONS

Say: TypeAlias = Callable[[float, str], str]


def plain(value: float, dimension: str) -> str:
    """SI with three figures, for the terminal and for tests."""
    if dimension == "grade":
        return f"{100 * value:.3g} %"
    return f"{value:.4g} {DIMENSIONS[dimension].si}".strip()
