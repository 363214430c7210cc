"""Which inputs make most of a band, and what measuring each would leave: regression of the samples on their draws.

The draws are independent and of unit width, so that the square of a coefficient is that input's share of the variance (first-order
indices of a linear model; Saltelli and others 2008, 1.2.5).  What is not linear is left to nobody: shares add up to less than one.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError, PathError
from wattagon.record import record
from wattagon.study.bands.bands import Band, Bands, band, goals_reached, likely_met
from wattagon.study.bands.edges import EdgeBand, edge_band, edges, speeds_of
from wattagon.study.bands.errors import measured_width
from wattagon.study.bands.flip import Flip, flip_of
from wattagon.study.bands.taking import name_of, taking, target
from wattagon.study.drive.goals import GoalResult
from wattagon.study.drive.study import results
from wattagon.study.studies import Task

LEAST_SHARE = 0.005
SURE = 0.05  # weight of a goal about which there is no doubt, against one that may as well be missed


@record(frozen=True, slots=True, kw_only=True)
class GoalBand:
    """One goal: as it is judged, between what it lies, and how likely it is met."""

    result: GoalResult
    band: Band
    likely: float
    shares: NDArray[np.float64]  # of the variance, an input each
    flip: Flip | None = None  # the one input that would turn the verdict


@record(frozen=True, slots=True, kw_only=True)
class Next:
    """A quantity that somebody could measure.

    `share` of the variance over the goals, doubtful ones first; `leaves`: what measuring leaves of the band of the goal that it moves most.
    """

    path: str
    name: str
    share: float
    goal: str
    leaves: float
    how: str
    minutes: int
    tool: str
    bench: str
    what: str


@record(frozen=True, slots=True, kw_only=True)
class Weighed:
    """Bands of a design's goals, and what to measure next."""

    goals: tuple[GoalBand, ...]
    next: tuple[Next, ...]
    found: Bands
    edge: EdgeBand | None = None


def shares_of(values: NDArray[np.float64], draws: NDArray[np.float64]) -> NDArray[np.float64]:
    """Share of the variance of each input (n,), from values (m,) and draws (m, n); nan where nothing varies or too little is finite."""
    good = np.isfinite(values)
    count = draws.shape[1]
    if good.sum() < max(3 * count, 64) or good.mean() < 0.5:
        return np.full(count, np.nan)
    y, z = values[good], draws[good] - draws[good].mean(axis=0)
    y = y - y.mean()
    total = float(y @ y) / len(y)
    if total <= 1e-18 * (1.0 + float(np.mean(values[good] ** 2))):
        return np.full(count, np.nan)
    slope, *_ = np.linalg.lstsq(z, y, rcond=None)
    # what noise alone would give an input is taken off
    left = y - z @ slope
    noise = float(left @ left) / max(len(y) - count - 1, 1) / len(y)
    return np.asarray(np.maximum(slope**2 * z.var(axis=0) - noise, 0.0) / total)


def run(task: Task) -> Weighed | None:
    """Of a task; None when it was cancelled, or nothing is asked for."""
    if not task.design.brief.goals:
        return None
    speeds, many = speeds_of(task.results["drive"].study), len(task.design.brief.goals)
    both = lambda batch, design: np.hstack([goals_reached(batch, design), edges(batch, speeds)])
    try:
        found = band(task.design, task.stock, both, first=many, cancelled=task.cancelled)
    except (InputError, PathError):
        return None  # the drive says so
    if task.cancelled():
        return None
    goals = replace(found, bands=found.bands[:many], samples=found.samples[:, :many])
    return replace(weigh(task.design, task.stock, goals), edge=edge_band(found.samples[:, many:], speeds))


def weigh(design: Design, stock: Catalogue, found: Bands | None = None) -> Weighed:
    """Of the goals.  Raises InputError, PathError as `resolve`."""
    found = found if found is not None else band(design, stock)
    goals = design.brief.goals
    cases = [""] * len(goals)
    middle = results(design, np.array([one.value for one in found.bands]), cases) if goals else []
    likely = likely_met(design, found.samples)
    made = [
        GoalBand(
            result=result,
            band=found.bands[k],
            likely=likely[k],
            shares=shares_of(found.samples[:, k], found.draws),
            flip=flip_of(design, stock, found, k, result, likely[k]),
        )
        for k, result in enumerate(middle)
    ]
    return Weighed(goals=tuple(made), next=_next(design, made, found), found=found)


def _next(design: Design, goals: Sequence[GoalBand], found: Bands) -> tuple[Next, ...]:
    known = [one for one in goals if np.isfinite(one.shares).all() and one.likely == one.likely]
    if not known:
        return ()
    weights = np.array([4.0 * one.likely * (1.0 - one.likely) + SURE for one in known])
    table = np.array([one.shares for one in known])
    over_all = weights @ table / weights.sum()
    made = []
    for k, wide in enumerate(found.inputs):
        how = taking(wide.path)
        if how is None or over_all[k] < LEAST_SHARE:
            continue
        most = int(np.argmax(weights * table[:, k]))
        share = float(table[most, k])
        after = min(measured_width(wide.path, wide.value) / wide.width, 1.0)
        bench, what = target(wide.path, design.active)
        made.append(
            Next(
                path=wide.path,
                name=name_of(wide.path),
                share=float(over_all[k]),
                goal=known[most].result.goal.id,
                leaves=math.sqrt(max(1.0 - share * (1.0 - after**2), 0.0)),
                how=how.how,
                minutes=how.minutes,
                tool=how.tool,
                bench=bench,
                what=what,
            )
        )
    # what is as well known as a measurement makes it is not measured again
    useful = [one for one in made if one.leaves < 0.999]
    return tuple(sorted(useful, key=lambda one: -one.share))
