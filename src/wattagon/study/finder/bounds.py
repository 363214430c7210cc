"""Least price and mass of second stages and of pairs of stages, by what they carry and by ratio: bounds of the search, compiled.

Loading this module loads the compiler.  Stages fall into classes by capacity: a bound of class k holds for every reduction that carries
floors[k] or more.  Sparse tables give the least over any stretch: row `level` holds the least over 2^level entries from each on.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from wattagon.study.finder.columns import R_CAPACITY, R_EFF, R_RATIO
from wattagon.study.finder.points import RATIO_HIGH, RATIO_LOW, first_at, jit
from wattagon.study.finder.stages import Stages

CLASSES, BUCKETS = 16, 256


@jit
def bucket_of(ratio):
    """Bucket of a ratio on a logarithmic scale."""
    return min(max(int(math.log(ratio / RATIO_LOW) / math.log(RATIO_HIGH / RATIO_LOW) * BUCKETS), 0), BUCKETS - 1)


@jit
def class_of(floors, torque):
    """The highest class of capacity not above a torque."""
    return max(first_at(floors, torque * (1.0 + 1e-12)) - 1, 0)


@jit
def least_over(table, begin, end):
    """Least value of a sparse table (levels, n) over [begin, end)."""
    if begin >= end:
        return math.inf
    level = int(math.log2(end - begin) + 1e-9)
    return min(table[level, begin], table[level, end - (1 << level)])


def sparse(first: NDArray[np.float64]) -> NDArray[np.float64]:
    """Sparse tables of minima (..., levels, n) over the last axis of (..., n)."""
    n = first.shape[-1]
    made = [first]
    for level in range(1, max(n, 1).bit_length()):
        last, half = made[-1], 1 << (level - 1)
        later = np.full_like(last, np.inf)
        later[..., : n - half] = last[..., half:]
        made.append(np.minimum(last, later))
    return np.ascontiguousarray(np.stack(made, axis=-2))


@jit
def _pairs(stages, log_floor, log_step, worth, after, share, least):
    """Least worth of every pair by class and bucket, written to `least` (worths, classes, buckets)."""
    n = stages.shape[0]
    log_x, log_cap = np.log(stages[:, R_RATIO]), np.log(stages[:, R_CAPACITY])
    width = math.log(RATIO_HIGH / RATIO_LOW) / BUCKETS
    for f in range(n):
        gain = math.log(stages[f, R_RATIO] * stages[f, R_EFF] * share)
        for s in range(n):
            carried = min(log_cap[f], log_cap[s] - gain)
            # rounding may only put a pair into a higher class, which loses nothing
            k = min(max(int((carried - log_floor) / log_step + 1.0 + 1e-9), 0), CLASSES - 1)
            b = min(max(int((log_x[f] + log_x[s] - math.log(RATIO_LOW)) / width), 0), BUCKETS - 1)
            for by in range(2):
                value = worth[by, f] + after[by, s]
                if value < least[by, k, b]:
                    least[by, k, b] = value


def capacity_floors(stages: Stages) -> NDArray[np.float64]:
    """Floors of the classes: 0, then even steps of the logarithm over what single stages carry."""
    carried = stages.table[:, R_CAPACITY]
    if not len(carried):
        return np.zeros(CLASSES)
    low, high = float(carried.min()), max(float(carried.max()), float(carried.min()) * 1.01)
    return np.concatenate([[0.0], low * (high / low) ** (np.arange(CLASSES - 1) / (CLASSES - 2))])


def stage_bounds(stages: Stages, floors: NDArray[np.float64]) -> NDArray[np.float64]:
    """Least price and mass of second stages: (counts, price or mass, classes, levels, stages)."""
    worth = np.stack([stages.second_prices, stages.second_masses], axis=1)
    carried = stages.table[:, R_CAPACITY] >= floors[:, np.newaxis] * (1.0 - 1e-9)
    return sparse(np.where(carried, worth[:, :, np.newaxis, :], np.inf))


def pair_bounds(stages: Stages, floors: NDArray[np.float64], counts: NDArray[np.float64]) -> NDArray[np.float64]:
    """Least price and mass of pairs: (counts, price or mass, classes, levels, buckets)."""
    least = np.full((len(counts), 2, CLASSES, BUCKETS), np.inf)
    if stages.two and len(stages.table):
        step = math.log(floors[2] / floors[1])
        for ci, count in enumerate(counts):
            worth = np.stack([stages.prices[ci], stages.masses[ci]])
            after = np.stack([stages.second_prices[ci], stages.second_masses[ci]])
            _pairs(stages.table, math.log(floors[1]), step, worth, after, float(count / stages.sets[ci]), least[ci])
    # what carries more serves the lower classes too
    least = np.minimum.accumulate(least[:, :, ::-1], axis=2)[:, :, ::-1]
    return sparse(least)
