"""Bricks joined into a pack: how they share a current, what flows when they are joined, and which of them ends it.

Kirchhoff's laws; strings are bricks in series, strings in parallel share by resistance and charge.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.pack import rest_volts
from wattagon.record import record

STEPS = 240
MATCHED_V = 0.05  # per cell in series, before joining


@record(frozen=True, slots=True, kw_only=True)
class Brick:
    """One ready pack or block of cells: what it holds, resists and rests at."""

    chemistry: str
    series: int
    capacity_ah: float
    ohm: float  # with its own leads and fuse
    charge: float = 1.0

    @property
    def emf_v(self) -> float:
        return self.series * float(rest_volts(self.chemistry, self.charge))


def share(emf_v: Sequence[float], ohm: Sequence[float], amps: float) -> tuple[list[float], float]:
    """(current of each in parallel [A], common volts): V = (sum E/R - I)/sum 1/R, I_k = (E_k - V)/R_k."""
    conductance = sum(1.0 / r for r in ohm)
    volts = (sum(e / r for e, r in zip(emf_v, ohm, strict=True)) - amps) / conductance
    return [(e - volts) / r for e, r in zip(emf_v, ohm, strict=True)], volts


@record(frozen=True, slots=True, kw_only=True)
class Assembly:
    """Bricks in two steps: `rows` of them, in series and the rows in parallel ("strings"), or parallel and the rows in series."""

    rows: tuple[tuple[Brick, ...], ...]
    strings: bool

    @property
    def series(self) -> int:
        """Cells in series, of the first string; of groups the sum of their first bricks."""
        return sum(brick.series for brick in self.rows[0]) if self.strings else sum(row[0].series for row in self.rows)

    @property
    def ohm(self) -> float:
        """At its terminals."""
        if self.strings:
            return 1.0 / sum(1.0 / sum(brick.ohm for brick in row) for row in self.rows)
        return sum(1.0 / sum(1.0 / brick.ohm for brick in row) for row in self.rows)

    @property
    def capacity_ah(self) -> float:
        """What it holds when the smallest of a series ends it, all equally full."""
        if self.strings:
            return sum(min(brick.capacity_ah for brick in row) for row in self.rows)
        return min(sum(brick.capacity_ah for brick in row) for row in self.rows)

    def currents(self, amps: float, charges: Sequence[Sequence[float]] | None = None) -> list[list[float]]:
        """Current of every brick at a pack current [A], at the bricks' own charges or at some."""
        of = charges if charges is not None else [[brick.charge for brick in row] for row in self.rows]
        emf = [
            [b.series * float(rest_volts(b.chemistry, s)) for b, s in zip(row, at, strict=True)]
            for row, at in zip(self.rows, of, strict=True)
        ]
        if self.strings:
            each, _ = share([sum(row) for row in emf], [sum(b.ohm for b in row) for row in self.rows], amps)
            return [[one] * len(row) for one, row in zip(each, self.rows, strict=True)]
        return [share(e, [b.ohm for b in row], amps)[0] for e, row in zip(emf, self.rows, strict=True)]

    def joining_a(self) -> float:
        """Largest current through a brick when they are joined as they rest [A]."""
        return max((abs(one) for row in self.currents(0.0) for one in row), default=0.0)

    def unlike_v(self) -> float:
        """Largest difference of rest volts between what is put in parallel, per cell in series [V]."""
        worst = 0.0
        for group in (
            [[self._string(row) for row in self.rows]] if self.strings else [[(b.emf_v, b.series) for b in row] for row in self.rows]
        ):
            volts = [v / max(n, 1) for v, n in group]
            worst = max(worst, max(volts) - min(volts))
        return worst

    @staticmethod
    def _string(row: tuple[Brick, ...]) -> tuple[float, int]:
        return sum(b.emf_v for b in row), sum(b.series for b in row)


@record(frozen=True, slots=True, kw_only=True)
class Emptied:
    """A discharge at a steady current until the first cell meets its cutoff."""

    capacity_ah: float
    energy_wh: float  # at the terminals
    ended_by: tuple[int, int]  # row and place of the brick
    most_a: NDArray[np.float64]  # largest current of each brick, in order of rows
    left: NDArray[np.float64]  # charge that is left in each


def run_down(pack: Assembly, amps: float, cutoff_v: float, bottom: float = 0.0, steps: int = STEPS) -> Emptied:
    """From the bricks' own charges; `cutoff_v` a cell under load, `bottom` the charge under which no brick should go."""
    charges = [[brick.charge for brick in row] for row in pack.rows]
    flat = [(i, j) for i, row in enumerate(pack.rows) for j in range(len(row))]
    most = np.zeros(len(flat))
    total = max(pack.capacity_ah, 1e-9)
    hours = 1.3 * total / max(amps, 1e-9) / steps
    taken, energy, ended = 0.0, 0.0, flat[0]
    for _ in range(steps * 2):
        currents = pack.currents(amps, charges)
        volts, worst, at = 0.0, math.inf, None
        for k, (i, j) in enumerate(flat):
            brick, current, charge = pack.rows[i][j], currents[i][j], charges[i][j]
            most[k] = max(most[k], abs(current))
            cell = float(rest_volts(brick.chemistry, charge)) - current * brick.ohm / brick.series
            over = min(cell - cutoff_v, (charge - bottom) if charge <= bottom else math.inf)
            if over < worst:
                worst, at = over, (i, j)
        if worst <= 0.0 and at is not None:
            ended = at
            break
        if pack.strings:
            row = 0
            volts = sum(
                b.series * float(rest_volts(b.chemistry, s)) - c * b.ohm
                for b, s, c in zip(pack.rows[row], charges[row], currents[row], strict=True)
            )
        else:
            volts = sum(
                row[0].series * float(rest_volts(row[0].chemistry, charges[i][0])) - currents[i][0] * row[0].ohm
                for i, row in enumerate(pack.rows)
            )
        taken += amps * hours
        energy += volts * amps * hours
        for i, j in flat:
            charges[i][j] = min(max(charges[i][j] - currents[i][j] * hours / pack.rows[i][j].capacity_ah, 0.0), 1.0)
    left = np.array([charges[i][j] for i, j in flat])
    return Emptied(capacity_ah=taken, energy_wh=energy, ended_by=ended, most_a=most, left=left)
