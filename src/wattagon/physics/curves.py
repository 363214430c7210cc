"""Tables over an even grid inside a record of physics: of one design, or of a batch of them, one row each."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.arrays import Num


class Curve:
    """Straight lines between values at 0, step, 2 step ...; the last one goes on beyond the end.

    values: (k,) of one design or (n, k) of n; step: a float or (n,).  A batch is read at arrays whose first axis is that of the designs
    with `axes` more behind it, as `arrays.stack` and `deepen` make the other fields.
    """

    __slots__ = ("axes", "step", "values")

    def __init__(self, step: float | NDArray[np.float64], values: NDArray[np.float64], axes: int = 0) -> None:
        self.step, self.values, self.axes = step, values, axes

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Curve) and np.array_equal(self.step, other.step) and np.array_equal(self.values, other.values)

    def __hash__(self) -> int:
        return hash((self.values.shape, self.values.tobytes()))

    def at(self, x: Num) -> NDArray[np.float64]:
        """Values at x, broadcast over it."""
        low, rise, share = self._cell(x)
        return np.asarray(low + share * rise)

    def with_slope(self, x: Num) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """(values, slopes) at x."""
        low, rise, share = self._cell(x)
        step = self.step if self.values.ndim == 1 else np.reshape(self.step, (-1, *(1,) * max(self.axes, rise.ndim - 1)))
        return np.asarray(low + share * rise), np.asarray(rise / step)

    def _cell(self, x: Num) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
        """(value at the begin of the cell, rise over it, share of it) at x."""
        many = self.values.ndim == 2
        place = np.asarray(x, dtype=float)
        if not many and place.ndim == 0:  # many a design is asked point by point
            where = float(place) / float(self.step)
            cell = int(min(max(where, 0.0), self.values.size - 2))
            begin, end = self.values.item(cell), self.values.item(cell + 1)
            return np.asarray(begin), np.asarray(end - begin), np.asarray(where - cell)
        rows = (len(self.values), *(1,) * max(self.axes, place.ndim - 1)) if many else ()
        if many:
            place = np.broadcast_to(place, np.broadcast_shapes(place.shape, rows)) / np.reshape(self.step, rows)
        else:
            place = place / self.step
        k = np.minimum(np.maximum(place, 0.0), self.values.shape[-1] - 2).astype(np.intp)
        if many:
            row = np.arange(len(self.values)).reshape(rows)
            low, high = self.values[row, k], self.values[row, k + 1]
        else:
            low, high = self.values[k], self.values[k + 1]
        return np.asarray(low), np.asarray(high - low), place - k

    @property
    def end(self) -> Num:
        """Place of the last value, shaped like the other fields of its record."""
        last = np.asarray(self.step) * (self.values.shape[-1] - 1)
        return np.reshape(last, (-1, *(1,) * self.axes)) if self.values.ndim == 2 else float(last)

    def deeper(self) -> Curve:
        """The same, read at arrays with one more axis."""
        return self if self.values.ndim == 1 else Curve(self.step, self.values, self.axes + 1)

    @staticmethod
    def stacked(curves: Sequence[Curve], axes: int) -> Curve:
        """One curve with a row for each; all must have as many values."""
        first = curves[0]
        if all(curve is first for curve in curves):
            return first
        return Curve(np.array([float(curve.step) for curve in curves]), np.stack([curve.values for curve in curves]), axes)
