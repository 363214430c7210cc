"""Which single input, within what is known of it, would turn a goal's verdict: over, but a rolling resistance of 0.022 would clear it."""

from __future__ import annotations

import math

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.bands.bands import Bands, goals_reached
from wattagon.study.bands.errors import MOST_WIDTHS, Wide
from wattagon.study.bands.taking import name_of, taking
from wattagon.study.drive.goals import GoalResult
from wattagon.study.resolve import resolve

TRIED, ROUNDS, NEAR = 3, 6, 1e-4


@record(frozen=True, slots=True, kw_only=True)
class Flip:
    """One input at the value with which the verdict turns [SI], and how many of its widths that is off."""

    path: str
    name: str
    value: float
    dimension: str
    widths: float


def flip_of(design: Design, stock: Catalogue, found: Bands, k: int, result: GoalResult, likely: float) -> Flip | None:
    """Of goal k; None where its verdict is sure, or no one input turns it.

    The slope of the samples says which input and how far, the drive's own figures then say exactly where.
    """
    if not 0.0 < likely < 1.0 or not math.isfinite(result.reached) or not math.isfinite(result.target):
        return None
    values = found.samples[:, k]
    good = np.isfinite(values)
    if good.sum() < max(3 * found.draws.shape[1], 64):
        return None
    z = found.draws[good] - found.draws[good].mean(axis=0)
    slope, *_ = np.linalg.lstsq(z, values[good] - values[good].mean(), rcond=None)
    gap = result.target - result.reached
    asked = [
        (abs(gap / slope[j]), j)
        for j, wide in enumerate(found.inputs)
        if slope[j] and taking(wide.path) is not None and abs(gap / slope[j]) <= 1.5 * MOST_WIDTHS
    ]
    for _, j in sorted(asked)[:TRIED]:
        off = _where(design, stock, found.inputs[j], k, result.target, gap / float(slope[j]), result.reached)
        if off is not None:
            wide = found.inputs[j]
            item = resolve(design, stock, note=True).inputs[wide.path]
            return Flip(path=wide.path, name=name_of(wide.path), value=wide.at(off), dimension=item.dimension, widths=off)
    return None


def _where(design: Design, stock: Catalogue, wide: Wide, k: int, target: float, guess: float, now: float) -> float | None:
    """Widths off at which goal k is just reached, by secants; None where that is too far or never."""
    before, at = (0.0, now - target), guess
    for _ in range(ROUNDS):
        try:
            reached = float(goals_reached([resolve(design, stock, shift={wide.path: wide.at(at)})], design)[0, k])
        except InputError:
            return None
        left = reached - target
        if not math.isfinite(left):
            return None
        if abs(left) <= NEAR * abs(target):
            return at if abs(at) <= MOST_WIDTHS else None
        if left == before[1]:
            return None
        before, at = (at, left), at - left * (at - before[0]) / (left - before[1])
        if abs(at) > 3.0 * MOST_WIDTHS:
            return None
    return None
