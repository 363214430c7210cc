"""What a ride may come to: the same run with every input drawn from how well it is known, and between what the traces then lie."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.errors import InputError
from wattagon.physics.ride.names import Col
from wattagon.record import record
from wattagon.study.bands.bands import ONE_IN_SIX, Band, even_draws
from wattagon.study.bands.errors import wide_inputs
from wattagon.study.resolve import resolve
from wattagon.study.ride.study import Ride, ride

Floats = NDArray[np.float64]
SAMPLES, LEAST = 24, 12
# what is drawn of a ride
COLUMNS = (Col.SPEED, Col.DC_A, Col.PACK_A, Col.BUS_V, Col.WINDING, Col.CASE, Col.CONTROLLER, Col.PACK_T)
BY_TIME, BY_WAY = "time", "way"


@record(frozen=True, slots=True, kw_only=True)
class Around:
    """Ends of each column at the rows of the ride, by time and by the way gone; nan where too few samples come so far."""

    low: Mapping[tuple[str, Col], Floats]
    high: Mapping[tuple[str, Col], Floats]
    energy_wh: Band
    range_m: Band
    hottest_c: Band
    samples: int


def around(made: Ride, stock: Catalogue, samples: int = SAMPLES, cancelled: Callable[[], bool] = lambda: False) -> Around | None:
    """None when it was given up, or too few samples could be ridden."""
    variant = made.resolved.variant.id
    design = made.design if made.design.active == variant else replace(made.design, active=variant)
    inputs = wide_inputs(resolve(design, stock, note=True).inputs)
    others: list[Ride] = []
    for row in even_draws(samples, len(inputs)):
        if cancelled():
            return None
        shift = {one.path: one.at(float(off)) for one, off in zip(inputs, row, strict=False)}
        try:
            others.append(ride(design, stock, made.ask, shift=shift))
        except InputError:
            continue
    if len(others) < LEAST:
        return None
    low: dict[tuple[str, Col], Floats] = {}
    high: dict[tuple[str, Col], Floats] = {}
    for axis, column in ((BY_TIME, Col.TIME), (BY_WAY, Col.DISTANCE)):
        at = made.run.column(column)
        for which in COLUMNS:
            found = np.array([_along(other.run.column(column), other.run.column(which), at) for other in others], dtype=np.float32)
            enough = np.sum(np.isfinite(found), axis=0) >= LEAST
            ends = np.full((2, at.size), np.nan)
            if enough.any():
                ends[:, enough] = np.nanquantile(found[:, enough], (ONE_IN_SIX, 1.0 - ONE_IN_SIX), axis=0)
            low[axis, which], high[axis, which] = ends
    hot = lambda one: float(one.run.column(Col.WINDING).max())
    return Around(
        low=low,
        high=high,
        energy_wh=_band(made.energy_wh, [one.energy_wh for one in others]),
        range_m=_band(made.range_m, [one.range_m for one in others]),
        hottest_c=_band(hot(made), [hot(one) for one in others]),
        samples=len(others),
    )


def _along(x: Floats, y: Floats, at: Floats) -> Floats:
    """y over x at other places; nan beyond where it ended.  Where it stands the last row of a place counts."""
    keep = np.append(np.diff(x) > 0.0, True)
    return np.asarray(np.interp(at, x[keep], y[keep], right=np.nan))


def _band(value: float, found: list[float]) -> Band:
    known = [one for one in found if np.isfinite(one)]
    if len(known) < LEAST:
        return Band(value=value, low=float("nan"), high=float("nan"))
    low, high = (float(end) for end in np.quantile(known, (ONE_IN_SIX, 1.0 - ONE_IN_SIX)))
    return Band(value=value, low=low, high=high)
