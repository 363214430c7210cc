"""One line of a measuring list."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from wattagon.design.tree import Design, VehicleKind
from wattagon.record import record


@record(frozen=True, slots=True)
class Measure:
    """One value: where it is in the design and how to take it."""

    path: str
    short: str  # on the drawing, before the value
    how: str
    not_for: tuple[VehicleKind, ...] = ()
    usual: Callable[[Design], float] | None = None  # what is taken where nobody says anything; without it there is then nothing


Groups: TypeAlias = tuple[tuple[str, tuple[Measure, ...]], ...]
