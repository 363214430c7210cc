"""When a build could roll: the longest chain along the graph, and a calendar with one pair of hands, printers, waits and deliveries.

Along the graph alone each step takes its mean, (a + 4 m + b) / 6, and nothing but the steps before it holds it up (critical path
method).  The calendar does with the hours that there are: whoever builds does one step at a time, a printer one print at a time, glue
and paint wait for nobody, a part comes when it comes.  Spread: every time is drawn from the beta distribution of its three points
whose mean that is (PERT, shape 4), and the whole calendar is run again for each draw.
"""

from __future__ import annotations

import heapq
import math
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.errors import InputError
from wattagon.study.build.step import Does

Floats = NDArray[np.float64]
Three = tuple[float, float, float]
DRAWS, SEED = 600, 20
DAY_PRINT_H = 10.0  # of a printer that is not left alone at night
DAYS_A_WEEK, HOURS_A_DAY = 7.0, 24.0
NO_WAIT: Three = (0.0, 0.0, 0.0)


class Job(NamedTuple):
    """One open step: hours of whoever does it (at a place that does it: days), what it waits for, days until its parts are here."""

    id: str
    hours: Three
    after: tuple[str, ...] = ()
    does: Does = Does.HAND
    ready_days: tuple[Three, ...] = ()  # deliveries that it waits for
    not_before: float = 0.0  # days from the beginning


class Means(NamedTuple):
    """What there is: hours a week, printers, whether they run at night."""

    hours_a_week: float
    printers: int = 1
    nights: bool = True


def mean_of(three: Three) -> float:
    """(a + 4 m + b) / 6."""
    return (three[0] + 4.0 * three[1] + three[2]) / 6.0


def variance_of(three: Three) -> float:
    """Of the beta distribution with shape 4 between a and b: (mean - a) (b - mean) / 7."""
    mean = mean_of(three)
    return (mean - three[0]) * (three[2] - mean) / 7.0


def in_order(after: Mapping[str, Sequence[str]]) -> list[str]:
    """Steps so that each comes after all that it waits for; as they are given where that is free.

    Names that are not there are left out.  Raises InputError naming a ring of steps that wait for one another.
    """
    left = {name: {one for one in before if one in after} for name, before in after.items()}
    followers: dict[str, list[str]] = {name: [] for name in after}
    for name, before in left.items():
        for one in before:
            followers[one].append(name)
    place = {name: k for k, name in enumerate(after)}
    heap = [place[name] for name, before in left.items() if not before]
    heapq.heapify(heap)
    names, made = list(after), []
    while heap:
        name = names[heapq.heappop(heap)]
        made.append(name)
        for other in followers[name]:
            left[other].discard(name)
            if not left[other]:
                heapq.heappush(heap, place[other])
    if len(made) < len(after):
        ring = _ring({name: left[name] for name in after if name not in set(made)})
        raise InputError("steps", " -> ".join(ring), "steps that do not wait for one another in a ring")
    return made


def _ring(left: Mapping[str, set[str]]) -> list[str]:
    seen: list[str] = []
    name = next(iter(left))
    while name not in seen:
        seen.append(name)
        name = sorted(left[name])[0]
    return [*seen[seen.index(name) :], name][::-1]


class Span(NamedTuple):
    """Of one step along the graph [h]: earliest start, latest start, and the difference."""

    earliest: float
    latest: float
    slack: float


def along(after: Mapping[str, Sequence[str]], hours: Mapping[str, float]) -> dict[str, Span]:
    """Every step by id; its hours are its mean, 0 for one that is done.  Raises InputError for a ring."""
    order = in_order(after)
    begin: dict[str, float] = {}
    for name in order:
        begin[name] = max((begin[one] + hours[one] for one in after[name] if one in begin), default=0.0)
    end = max((begin[name] + hours[name] for name in order), default=0.0)
    latest = {name: end - hours[name] for name in order}
    for name in reversed(order):
        for one in after[name]:
            if one in latest:
                latest[one] = min(latest[one], latest[name] - hours[one])
    return {name: Span(begin[name], latest[name], max(latest[name] - begin[name], 0.0)) for name in order}


class Dated(NamedTuple):
    """One step on the calendar [days from the beginning], at mean times."""

    begin: float
    end: float


class Calendar(NamedTuple):
    """All open steps, when all is done at mean times, and the days of it in all draws, sorted."""

    dated: Mapping[str, Dated]
    finish: float
    draws: Floats

    def day(self, share: float) -> float:
        """Days from the beginning until which it is done in a share of all draws."""
        return float(np.quantile(self.draws, share)) if self.draws.size else 0.0


def days_of(job: Job, hours: Floats | float, means: Means) -> Floats | float:
    """How long a step takes on the calendar [days]."""
    if job.does is Does.HAND:
        return hours * DAYS_A_WEEK / max(means.hours_a_week, 1e-6)
    if job.does is Does.PRINTER:
        return hours / (HOURS_A_DAY if means.nights else DAY_PRINT_H)
    return hours if job.does is Does.PLACE else hours / HOURS_A_DAY


def calendar(jobs: Sequence[Job], means: Means, draws: int = DRAWS, seed: int = SEED) -> Calendar:
    """The calendar of all open steps; `draws` of 0 leaves the spread out.  Raises InputError for a ring."""
    after = {job.id: job.after for job in jobs}
    by_id = {job.id: job for job in jobs}
    urgent = along(after, {job.id: mean_of(job.hours) for job in jobs})
    dated = _at_means([by_id[name] for name in in_order(after)], means, {name: span.latest for name, span in urgent.items()})
    finish = max((one.end for one in dated.values()), default=0.0)
    if not draws or not jobs:
        return Calendar(dated, finish, np.array([finish]) if jobs else np.zeros(0))
    order = sorted(dated, key=lambda name: (dated[name].begin, dated[name].end))
    return Calendar(dated, finish, np.sort(_drawn([by_id[name] for name in order], means, draws, seed)))


def _at_means(jobs: Sequence[Job], means: Means, urgency: Mapping[str, float]) -> dict[str, Dated]:
    """Whoever is free takes of what can be begun first the step that is latest; nothing is begun before its parts are here."""
    hands, printers = 0.0, [0.0] * max(means.printers, 1)
    by_id = {job.id: job for job in jobs}
    waits = {job.id: sum(one in by_id for one in set(job.after)) for job in jobs}
    followers: dict[str, list[str]] = {name: [] for name in by_id}
    for job in jobs:
        for one in set(job.after):
            if one in by_id:
                followers[one].append(job.id)
    at = {job.id: max([job.not_before, *(mean_of(one) for one in job.ready_days)]) for job in jobs}
    ready = [name for name, count in waits.items() if not count]
    done: dict[str, Dated] = {}
    while ready:
        free = {Does.HAND: hands, Does.PRINTER: min(printers)}
        name = min(ready, key=lambda one: (max(at[one], free.get(by_id[one].does, 0.0)), urgency[one], one))
        ready.remove(name)
        job = by_id[name]
        begin = max(at[name], free.get(job.does, 0.0))
        end = begin + float(days_of(job, mean_of(job.hours), means))
        done[name] = Dated(begin, end)
        if job.does is Does.HAND:
            hands = end
        elif job.does is Does.PRINTER:
            printers[printers.index(min(printers))] = end
        for other in followers[name]:
            at[other] = max(at[other], end)
            waits[other] -= 1
            if not waits[other]:
                ready.append(other)
    return done


def drawn(three: Three, count: int, dice: np.random.Generator) -> Floats:
    """Draws of the beta distribution of three points, shape (count,)."""
    low, likely, high = three
    if not high > low:
        return np.full(count, likely)
    a = 1.0 + 4.0 * (likely - low) / (high - low)
    return low + (high - low) * dice.beta(a, 6.0 - a, count)


def _drawn(jobs: Sequence[Job], means: Means, count: int, seed: int) -> Floats:
    """Days until all is done in each draw; steps are taken in the order of the calendar at mean times."""
    dice = np.random.default_rng(seed)
    hands = np.zeros(count)
    printers = np.zeros((max(means.printers, 1), count))
    ends: dict[str, Floats] = {}
    deliveries: dict[Three, Floats] = {}
    finish = np.zeros(count)
    rows = np.arange(count)
    for job in jobs:
        begin = np.full(count, job.not_before)
        for one in job.ready_days:
            if one not in deliveries:
                deliveries[one] = drawn(one, count, dice)
            begin = np.maximum(begin, deliveries[one])
        for name in job.after:
            if name in ends:
                begin = np.maximum(begin, ends[name])
        takes = days_of(job, drawn(job.hours, count, dice), means)
        if job.does is Does.HAND:
            begin = np.maximum(begin, hands)
            end = hands = begin + takes
        elif job.does is Does.PRINTER:
            which = np.argmin(printers, axis=0)
            end = np.maximum(begin, printers[which, rows]) + takes
            printers[which, rows] = end
        else:
            end = begin + takes
        ends[job.id] = end
        finish = np.maximum(finish, end)
    return finish


class Shorter(NamedTuple):
    """One thing that would bring the end nearer: in words, and by how many days."""

    words: str
    days: float


def shortens(jobs: Sequence[Job], means: Means, titles: Mapping[str, str], most: int = 5) -> list[Shorter]:
    """What brings the end nearest, at mean times: more hours, a second printer, nights, a delivery, a step."""
    base = calendar(jobs, means, 0).finish
    found: list[Shorter] = []

    def tried(words: str, changed: Sequence[Job], other: Means) -> None:
        days = base - calendar(changed, other, 0).finish
        if days > 0.05:
            found.append(Shorter(words, days))

    tried("two hours a week more", jobs, means._replace(hours_a_week=means.hours_a_week + 2.0))
    if any(job.does is Does.PRINTER for job in jobs):
        tried("a second printer", jobs, means._replace(printers=means.printers + 1))
        if not means.nights:
            tried("printing at night", jobs, means._replace(nights=True))
    slowest = {three for job in jobs for three in job.ready_days}
    for three in sorted(slowest, key=lambda one: -one[1])[:3]:
        half = tuple(0.5 * value for value in three)
        quick = [job._replace(ready_days=tuple(half if one == three else one for one in job.ready_days)) for job in jobs]  # type: ignore[misc]
        tried(f"the delivery of {three[1]:.0f} days in half the time", quick, means)
    longest = sorted((job for job in jobs if job.does is Does.HAND), key=lambda job: -mean_of(job.hours))[:4]
    for chosen in longest:
        half_hours = (0.5 * chosen.hours[0], 0.5 * chosen.hours[1], 0.5 * chosen.hours[2])
        shorter = [job._replace(hours=half_hours) if job.id == chosen.id else job for job in jobs]
        tried(f"help with: {titles.get(chosen.id, chosen.id)}", shorter, means)
    return sorted(found, key=lambda one: -one.days)[:most] if math.isfinite(base) else []
