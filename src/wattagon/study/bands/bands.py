"""A band around each result, by one batch through the same physics: one in six lies below it and one in six above.

Each input is drawn once for a sample wherever it is used, so what rests on the same input stays together.  The draws are a Latin
hypercube through the normal distribution (McKay, Beckman, Conover 1979): the same every time, and as even as several times as many
random ones.
"""

from __future__ import annotations

import functools
from collections.abc import Callable, Sequence
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design, Goal
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.bands.errors import Wide, wide_inputs
from wattagon.study.drive.cases import best_reach, over_cases, unheld
from wattagon.study.drive.study import results
from wattagon.study.resolve import Resolved, resolve

SAMPLES = 1024
LOTS = 8  # of samples at most
ROUGH = 0.15  # of the width, that an end may differ between two halves of the samples
ONE_IN_SIX = 1.0 / 6.0
# from a batch of resolved designs and the design itself to results (n, m) in SI
Result = Callable[[Sequence[Resolved], Design], NDArray[np.float64]]


@record(frozen=True, slots=True, kw_only=True)
class Band:
    """One result: as it is worked out, and between what it lies five times of six on either side."""

    value: float
    low: float
    high: float


@record(frozen=True, slots=True, kw_only=True)
class Bands:
    """Bands of several results, from the same samples."""

    bands: tuple[Band, ...]
    samples: NDArray[np.float64]  # (n, m), SI
    draws: NDArray[np.float64]  # (n, inputs), of unit width
    refused: int  # samples whose inputs contradict each other; they are left out
    inputs: tuple[Wide, ...]


def goals_reached(batch: Sequence[Resolved], design: Design) -> NDArray[np.float64]:
    """What the goals of a design reach, each in the load case that counts (n, goals)."""
    goals: Sequence[Goal] = design.brief.goals
    full = [unheld(one) for one in batch]
    return over_cases([design] * len(full), full, goals, *best_reach(full, goals)).reached


@functools.lru_cache(maxsize=8)
def even_draws(count: int, inputs: int, lot: int = 0) -> NDArray[np.float64]:
    """Standard normal draws (count, inputs), the same every time: each input takes each of `count` equally likely values once.

    Another `lot` pairs the values otherwise.
    """
    normal, rng = NormalDist(), np.random.default_rng(11 + lot)
    values = np.array([normal.inv_cdf((k + 0.5) / count) for k in range(count)])
    return np.column_stack([rng.permutation(values) for _ in range(max(inputs, 1))])


def band(
    design: Design,
    stock: Catalogue,
    result: Result = goals_reached,
    *,
    samples: int = SAMPLES,
    draws: NDArray[np.float64] | None = None,
    first: int | None = None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Bands:
    """The band of each result of a design.  `draws` (n, inputs) stand in for the even ones.  Raises InputError, PathError as `resolve`.

    A sample whose inputs contradict each other is left out and counted.  Where an end is still rough, as of a drive that may not move
    at all, as many samples again are drawn, up to LOTS times; only the `first` results are looked at for that, or all.
    """
    plain = resolve(design, stock, note=True)
    inputs = wide_inputs(plain.inputs)
    middle = result([plain], design)[0]
    found, kept, refused = np.empty((0, len(middle))), np.empty((0, max(len(inputs), 1))), 0
    for lot in range(LOTS if draws is None else 1):
        z = even_draws(samples, len(inputs), lot) if draws is None else draws
        more, rows, out = _drawn(design, stock, result, inputs, z, cancelled)
        found, kept, refused = np.vstack([found, more]), np.vstack([kept, rows]), refused + out
        if cancelled() or not _rough(found[:, :first]):
            break
    if not len(found):
        found, kept = np.full((1, len(middle)), np.nan), np.zeros((1, len(inputs)))
    return Bands(
        bands=tuple(_band(float(value), found[:, k]) for k, value in enumerate(middle)),
        samples=found,
        draws=kept,
        refused=refused,
        inputs=tuple(inputs),
    )


def _drawn(
    design: Design, stock: Catalogue, result: Result, inputs: Sequence[Wide], z: NDArray[np.float64], cancelled: Callable[[], bool]
) -> tuple[NDArray[np.float64], NDArray[np.float64], int]:
    """(results (n, m), their draws (n, inputs), how many were refused) of some draws."""
    batch: list[Resolved] = []
    kept: list[NDArray[np.float64]] = []
    refused = 0
    for row in z:
        if cancelled():
            break
        shift = {one.path: one.at(float(off)) for one, off in zip(inputs, row, strict=False)}
        try:
            batch.append(resolve(design, stock, shift=shift))
            kept.append(row)
        except InputError:
            refused += 1
    width = z.shape[1]
    if not batch:
        return np.empty((0, len(result([resolve(design, stock)], design)[0]))), np.empty((0, width)), refused
    return result(batch, design), np.array(kept), refused


def _rough(found: NDArray[np.float64]) -> bool:
    """Whether the ends of some result are so far apart in both halves of its samples that neither is to be trusted."""
    for values in found.T:
        if len(values) < 64 or not np.isfinite(values).all():
            continue
        halves = [np.quantile(half, (ONE_IN_SIX, 1.0 - ONE_IN_SIX)) for half in (values[::2], values[1::2])]
        width = np.quantile(values, 1.0 - ONE_IN_SIX) - np.quantile(values, ONE_IN_SIX)
        if np.abs(halves[0] - halves[1]).max() > ROUGH * width > 1e-9 * abs(float(values.mean())):
            return True
    return False


def _band(value: float, found: NDArray[np.float64]) -> Band:
    known = np.sort(found[~np.isnan(found)])
    if not known.size:
        return Band(value=value, low=np.nan, high=np.nan)
    low, high = (float(known[min(int(share * known.size), known.size - 1)]) for share in (ONE_IN_SIX, 1.0 - ONE_IN_SIX))
    if np.isfinite(known).all():
        low, high = (float(x) for x in np.quantile(known, (ONE_IN_SIX, 1.0 - ONE_IN_SIX)))
    return Band(value=value, low=low, high=high)


def likely_met(design: Design, samples: NDArray[np.float64]) -> list[float]:
    """Share of the samples (n, goals) that meet each goal; nan without any."""
    cases = [""] * len(design.brief.goals)
    judged = [[one.met for one in results(design, row, cases)] for row in samples]
    return [float(np.mean([met[k] for met in judged])) if judged else float("nan") for k in range(len(cases))]


def goal_bands(design: Design, stock: Catalogue) -> dict[str, tuple[Band, float]]:
    """(band, share of the samples that meet it) of each goal by its id."""
    found = band(design, stock)
    likely = likely_met(design, found.samples)
    return {goal.id: (found.bands[k], likely[k]) for k, goal in enumerate(design.brief.goals)}
