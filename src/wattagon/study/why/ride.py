"""Numbers of a ride: what its steps add up to stands for itself, and what is made of that has its equation."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from enum import IntEnum
from typing import Any

from wattagon.physics.ride.names import Col, Stat, Sum
from wattagon.study.resolve import Resolved
from wattagon.study.ride.study import Ride
from wattagon.traced import STEPS, Traced

SUMMED, STOOD, AT = "ride sum", "ride", "ride moment"  # begin the names of sums, of other figures, and of what was there at a moment


def with_workings(ride: Ride, resolved: Resolved) -> Ride:
    """A ride of plain numbers with its figures and moments as numbers that can be asked, over the traced drive; inside `taken_down`."""
    moments: Any = _Moments(ride.run.trace)
    run = replace(ride.run, stats=_named(ride.run.stats, Stat, STOOD), sums_j=_named(ride.run.sums_j, Sum, SUMMED), trace=moments)
    return replace(ride, run=run, resolved=resolved)


def _named(values: Any, names: type[IntEnum], head: str) -> Any:
    return [Traced(float(values[one]), STEPS, (), f"{head}.{one.name.lower()}") for one in names]


class _Moments:
    """Rows of a trace, each number by the name of its column."""

    def __init__(self, trace: Any) -> None:
        self._trace = trace
        self.shape = trace.shape

    def __len__(self) -> int:
        return len(self._trace)

    def __iter__(self) -> Iterator[Any]:
        return iter(self._trace)

    def __getitem__(self, key: Any) -> Any:
        if isinstance(key, int):
            return [Traced(float(self._trace[key, one]), STEPS, (), f"{AT}.{one.name.lower()}") for one in Col]
        if isinstance(key, tuple) and all(isinstance(one, int) for one in key):
            return Traced(float(self._trace[key]), STEPS, (), f"{AT}.{Col(key[1]).name.lower()}")
        return self._trace[key]
