"""A verdict on what was read: each figure between its bounds, and what figures of one step must be to one another."""

from __future__ import annotations

import math
from collections.abc import Callable
from enum import StrEnum
from typing import NamedTuple

from wattagon.design.tree import Seen
from wattagon.physics.thermal import settles
from wattagon.study.commission.item import Item, Read
from wattagon.study.commission.items import PAIR_SHARE, RUNS_SHARE, SPREAD_V, STOP_SPREAD_V
from wattagon.study.commission.items_moving import ALIKE, WARM

PLAIN_METER = 0.05


class Verdict(StrEnum):
    OPEN = "open"
    HELD = "held"
    TIGHT = "tight"  # held, with something to be told
    FAILED = "failed"


class Judged(NamedTuple):
    """What came of a step, and why in a sentence each."""

    verdict: Verdict
    said: tuple[str, ...] = ()


def values(read: Read, seen: Seen) -> list[float]:
    """What was read of it so far."""
    found = [seen.value(name) for name in read.names]
    return [value for value in found if value is not None]


def within(read: Read, value: float) -> bool:
    """Between its bounds, both inclusive."""
    return read.low - 1e-9 * abs(read.low) <= value <= read.high + 1e-9 * abs(read.high)


def judge(item: Item, seen: Seen) -> Judged:
    """Failed as soon as one figure is out; held when all that is wanted is there and in."""
    said, failed, tight, missing = [], seen.verdict == "failed", False, item.looked and not seen.verdict
    if failed:
        said.append(seen.note or "did not hold")
    for read in item.reads:
        found = values(read, seen)
        missing = missing or (read.wanted and len(found) < read.many)
        out = [value for value in found if not within(read, value)]
        if out:
            failed = True
            said.append(f"{read.words}: {len(out)} of {len(found)} outside" if read.many > 1 else f"{read.words}: outside")
    together = _TOGETHER.get(item.id)
    if together is not None:
        for verdict, words in together(item, seen):
            failed, tight = failed or verdict is Verdict.FAILED, tight or verdict is Verdict.TIGHT
            said.append(words)
    if failed:
        return Judged(Verdict.FAILED, tuple(said))
    if missing or not (item.reads or item.looked):
        return Judged(Verdict.OPEN, tuple(said))
    return Judged(Verdict.TIGHT if tight else Verdict.HELD, tuple(said))


Said = list[tuple[Verdict, str]]


def _cells(item: Item, seen: Seen) -> Said:
    found = values(item.reads[0], seen)
    if len(found) < 2:
        return []
    spread = max(found) - min(found)
    worst = found.index(min(found)) + 1
    words = f"spread {1e3 * spread:.0f} mV, lowest is group {worst}"
    if spread > STOP_SPREAD_V + 1e-9:
        return [(Verdict.FAILED, f"{words}: stop above 50 mV")]
    return [(Verdict.TIGHT, f"{words}: 20 mV is usual")] if spread > SPREAD_V + 1e-9 else [(Verdict.HELD, words)]


def _pairs(item: Item, seen: Seen) -> Said:
    found = values(next(read for read in item.reads if read.name == "pair"), seen)
    if len(found) < 3:
        return []
    mean = sum(found) / 3.0
    off = max(abs(value / mean - 1.0) for value in found) if mean > 0.0 else math.inf
    words = f"pairs within {off:.1%} of their mean"
    if off > PLAIN_METER:
        return [(Verdict.FAILED, f"{words}: one winding differs")]
    return [(Verdict.TIGHT, f"{words}: fine for a plain meter")] if off > PAIR_SHARE else [(Verdict.HELD, words)]


def _runs(item: Item, seen: Seen) -> Said:
    said: Said = []
    for read in item.reads:
        found = values(read, seen)
        if len(found) < 2:
            continue
        mean = sum(found) / len(found)
        off = max(abs(value / mean - 1.0) for value in found) if mean > 0.0 else math.inf
        verdict = Verdict.FAILED if off > RUNS_SHARE else Verdict.HELD
        said.append((verdict, f"{read.words}: within {off:.1%} of one another"))
    return said


def _sides(item: Item, seen: Seen) -> Said:
    found = values(item.reads[0], seen) if item.reads else []
    if len(found) < 2 or min(found) <= 0.0:
        return []
    off = 1.0 - min(found) / max(found)
    return [(Verdict.FAILED if off > ALIKE else Verdict.HELD, f"sides differ by {off:.0%}")]


def _warms(item: Item, seen: Seen) -> Said:
    """Three equally spaced readings of the motor tell where it settles; over what makes one slow down it fails before it gets there."""
    prefix = "all " if item.id == "D8" else ""
    found = [seen.value(f"{prefix}{name}") for name in ("motor 2 min", "motor 6 min", "motor")]
    if any(value is None for value in found):
        return []
    first, second, third = (float(value) for value in found if value is not None)
    final = settles(first, second, third)
    _, _, _, slow, stop = WARM[0]
    if math.isinf(final):
        return [(Verdict.TIGHT, "motor still rises without an end in sight: it does not settle")]
    words = f"motor settles at about {final:.0f} °C"
    if final > stop:
        return [(Verdict.FAILED, f"{words}, stop above {stop:.0f}")]
    return [(Verdict.TIGHT, f"{words}, slow down above {slow:.0f}")] if final > slow else [(Verdict.HELD, words)]


_TOGETHER: dict[str, Callable[[Item, Seen], Said]] = {
    "A1": _cells,
    "A6": _pairs,
    "B3": _runs,
    "D3": _sides,
    "D6": _warms,
    "D8": _warms,
}
