"""How many combinations fit, and how many each constraint alone removes: told from a sample, compiled.

Loading this module loads the compiler.  Electrical halves are drawn evenly.  For each, reductions are drawn only from ratios that at
most one constraint excludes (all others fail two or more, or none at all would be met), and weighted by how many there are: an
unbiased estimate of both counts, the same every time.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from wattagon.record import record
from wattagon.study.finder.columns import (
    C_BRUSHED,
    C_BURST,
    C_DUTY,
    C_MASS,
    C_OWNED,
    C_PRICE,
    C_VOLTS,
    G_CHARGE,
    G_GRADE,
    G_KIND,
    G_SPEED,
    M_BRUSHED,
    M_DC,
    M_HUB,
    M_K,
    M_MASS,
    M_OWNED,
    M_PEAK,
    M_PRICE,
    M_RAD_S,
    M_VOLTS,
    P_FULL,
    P_MASS,
    P_PRICE,
    R_CAPACITY,
    R_COLUMNS,
    R_RATIO,
    START,
    W_MASS,
    W_WHEEL_MASS,
    W_WHEEL_PRICE,
)
from wattagon.study.finder.exact import Tables, bears, fails_of, reduce_with
from wattagon.study.finder.intervals import ratio_interval
from wattagon.study.finder.points import first_at, jit, setting_amps

FINE = 4096  # buckets of the ratio of two stages
DRAWS = 2  # reductions of each kind for a half


@jit
def _fine_of(log_ratio, low, width):
    return min(max(int((log_ratio - low) / width), 0), FINE - 1)


@jit
def order_pairs(stages, begins, order):
    """All pairs by bucket of their ratio: order[begins[b]:begins[b + 1]] are those of bucket b, as first times n plus second."""
    n = stages.shape[0]
    log_x = np.log(stages[:, R_RATIO])
    low, width = 2.0 * log_x[0], max(2.0 * (log_x[n - 1] - log_x[0]) / FINE, 1e-12)
    for f in range(n):
        for s in range(n):
            begins[_fine_of(log_x[f] + log_x[s], low, width) + 1] += 1
    for b in range(FINE):
        begins[b + 1] += begins[b]
    place = begins[:FINE].copy()
    for f in range(n):
        for s in range(n):
            b = _fine_of(log_x[f] + log_x[s], low, width)
            order[place[b]] = f * n + s
            place[b] += 1


@jit
def _hull(t, mo, co, pa, p, road, n, ceiling, battery, all_up, kind):
    """(least, largest) ratio of those that at most one goal excludes: the second narrowest ends."""
    l1 = l2 = t.kinds[kind, 5]
    h1 = h2 = t.kinds[kind, 4]
    empty = 0
    for g in range(t.goals.shape[0]):
        row = t.goals[g]
        of = int(row[G_KIND])
        if of > START:
            continue
        low, high = ratio_interval(
            mo,
            co,
            pa,
            n,
            ceiling,
            battery,
            t.emf[p, int(row[G_CHARGE])],
            road,
            all_up,
            row[G_SPEED] if of != START else 0.0,
            row[G_GRADE],
            t.kinds[kind, 0],
            t.kinds[kind, 2],
            t.kinds[kind, 5],
            t.kinds[kind, 4],
            False,
        )
        if low > high:
            empty += 1
            if empty > 1:
                return 1.0, 0.0
            continue
        low, high = low * 0.9999, high * 1.0001
        if low > l1:
            l1, l2 = low, l1
        elif low > l2:
            l2 = low
        if high < h1:
            h1, h2 = high, h1
        elif high < h2:
            h2 = high
    if empty == 1:  # that goal fails with every ratio: no other may
        return l1, h1
    return l2, h2


@jit
def count_halves(t, picks, draws, begins, order, passed, removed):
    """Adds what each half (motor, wheel, count, controller, level, pack) stands for to passed[i] and removed[:]."""
    red = np.zeros(R_COLUMNS)
    n_stages = t.ratios.size
    low_fine = 2.0 * math.log(t.ratios[0]) if n_stages > 0 else 0.0
    width = max((2.0 * math.log(t.ratios[n_stages - 1]) - low_fine) / FINE, 1e-12) if n_stages > 0 else 1.0
    for i in range(picks.shape[0]):
        m, wi, ci, c, level, p = picks[i, 0], picks[i, 1], picks[i, 2], picks[i, 3], picks[i, 4], picks[i, 5]
        mo, co, pa, n, road = t.motors[m], t.controllers[c], t.packs[p], t.counts[ci], t.roads[wi, ci]
        full = pa[P_FULL]
        if (
            co[C_BRUSHED] != mo[M_BRUSHED]
            or full > t.room[0] * min(co[C_VOLTS], mo[M_VOLTS])
            or co[C_DUTY] * full / mo[M_K] > t.room[2] * mo[M_RAD_S]
        ):
            continue
        ceiling = mo[M_DC] * setting_amps(t.levels[level] * t.room[1] * min(mo[M_PEAK], co[C_BURST]))
        battery = n * t.amps[c, p, ci]
        cost = (n - min(n, mo[M_OWNED])) * mo[M_PRICE] + (n - min(n, co[C_OWNED])) * co[C_PRICE] + pa[P_PRICE] + road[W_WHEEL_PRICE]
        mass = n * (mo[M_MASS] + co[C_MASS]) + pa[P_MASS] + road[W_WHEEL_MASS]
        for kind in range(3):
            if (
                (kind == 0) != (mo[M_HUB] > 0.0)
                or (kind == 0 and not t.direct)
                or (kind == 2 and not t.two)
                or (kind > 0 and n_stages == 0)
            ):
                continue
            low, high = _hull(t, mo, co, pa, p, road, n, ceiling, battery, road[W_MASS] + mass + t.least[kind, ci, 1], kind)
            if low > high:
                continue
            first, last = 0, 1
            if kind == 1:
                first, last = first_at(t.ratios, low), first_at(t.ratios, high * (1.0 + 1e-12))
            elif kind == 2:
                first = begins[_fine_of(math.log(low) - 1e-9, low_fine, width)]
                last = begins[_fine_of(math.log(high) + 1e-9, low_fine, width) + 1]
            room = last - first
            tries = DRAWS if kind > 0 else 1
            for k in range(tries if room > 0 else 0):
                at = first + min(int(draws[i, kind * DRAWS + k - DRAWS] * room), room - 1) if kind > 0 else 0
                f, s = -1, -1
                if kind == 1:
                    f = at
                elif kind == 2:
                    f, s = order[at] // n_stages, order[at] % n_stages
                end = s if s >= 0 else f
                if kind > 0 and not (t.fits[wi, end] and (not t.need or t.chosen[f] or (s >= 0 and t.chosen[s]))):
                    continue
                price, kg = reduce_with(t, ci, f, s, red)
                if mo[M_K] * ceiling > red[R_CAPACITY] * t.room[3]:
                    continue
                fails, miss = fails_of(t, mo, co, p, n, ceiling, battery, road, mass + kg, cost + price, red, -1, 1)
                if fails > 1 or not bears(t, n, road, mass + kg, red, miss):
                    continue
                if fails == 0:
                    passed[i] += float(room) / tries
                elif fails == 1:
                    removed[miss] += float(room) / tries


@record(frozen=True, slots=True, kw_only=True)
class Shares:
    """What a sample tells of the whole: counts of combinations."""

    feasible: float
    error: float  # standard error of `feasible`
    removed: NDArray[np.float64]  # by constraint: how many fail it alone


def sample_picks(t: Tables, size: int) -> NDArray[np.int64]:
    """Electrical halves drawn evenly: the same every time."""
    rng = np.random.default_rng(1)
    sizes = (len(t.motors), t.roads.shape[0], len(t.counts), len(t.controllers), len(t.levels), len(t.packs))
    return np.column_stack([rng.integers(0, k, size) for k in sizes])


def pair_order(t: Tables) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """(begins, order) of all pairs by ratio; empty where two stages are not allowed."""
    n = len(t.ratios) if t.two else 0
    begins, order = np.zeros(FINE + 1, dtype=np.int64), np.empty(n * n, dtype=np.int32)
    if n:
        order_pairs(t.stages, begins, order)
    return begins, order


def shares_of(t: Tables, passed: NDArray[np.float64], removed: NDArray[np.float64]) -> Shares:
    """From the weights of a sample to counts over all halves."""
    halves = len(t.motors) * t.roads.shape[0] * len(t.counts) * len(t.controllers) * len(t.levels) * len(t.packs)
    size = max(len(passed), 1)
    spread = float(passed.std()) / math.sqrt(size)
    return Shares(feasible=float(passed.mean()) * halves, error=spread * halves, removed=removed * halves / size)
