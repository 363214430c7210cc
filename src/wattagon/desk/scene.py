"""A picture of a bench that is kept up to date: which vehicle, in which colours and units, and what is done before it is taken."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from wattagon.record import record

Wait = Callable[[Callable[[], bool]], None]  # lets the window live until something has come


@record(frozen=True, slots=True, kw_only=True)
class Scene:
    """One picture; `play(window, bench, wait)` brings the bench to what it shows."""

    name: str
    vehicle: str
    variant: str
    theme: str = "light"
    units: str = "metric"
    play: Callable[[Any, Any, Wait], None]
