"""The clock of a log: resets, jumps, duplicates and gaps, told one by one; rows stay in the order in which they were written."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattagon.record import record
from wattagon.study.log.data import gaps_of

Floats = NDArray[np.float64]
DAY_S = 86400.0
AFTER_RESET_S = 5.0  # laid between the two parts, since nobody knows how long it was
JUMP_STEPS = 200.0


@record(frozen=True, slots=True, kw_only=True)
class Clock:
    """Seconds from the first row, never falling, for the rows that are kept."""

    time: Floats
    kept: NDArray[np.intp]
    told: tuple[str, ...]


def many(count: int, one: str, more: str) -> str:
    """`1 row`, `3 rows`."""
    return f"{count} {one if count == 1 else more}"


def set_clock(raw: Floats, of_day: bool) -> Clock:
    """A clock from a column of seconds (`of_day`: it begins again at midnight)."""
    told: list[str] = []
    kept = np.flatnonzero(np.isfinite(raw))
    if kept.size < raw.size:
        told.append(
            f"{many(raw.size - kept.size, 'row has', 'rows have')} no time and {'was' if raw.size - kept.size == 1 else 'were'} left out"
        )
    t = raw[kept]
    if t.size < 2:
        return Clock(time=t - (t[0] if t.size else 0.0), kept=kept, told=tuple(told))
    if of_day:
        nights = np.cumsum(np.concatenate([[0.0], (np.diff(t) < -0.5 * DAY_S).astype(float)]))
        if nights[-1] and float(np.max(np.abs(raw[kept]))) <= DAY_S:
            t = t + nights * DAY_S
            told.append(f"the clock passes midnight {many(int(nights[-1]), 'time', 'times')}")
    steps = np.diff(t)
    rising = steps[steps > 0.0]
    usual = float(np.median(rising)) if rising.size else 1.0
    falls = np.flatnonzero(steps < 0.0)
    if falls.size:
        shift = np.zeros(t.size)
        resets: list[int] = []
        back: list[int] = []
        for k in falls.tolist():
            fell = float(-steps[k])
            # back by a few steps it was out of order; back to near its beginning it began again
            (resets if fell > max(50.0 * usual, 2.0) else back).append(int(k))
        for k in resets:
            shift[k + 1 :] += t[k] + shift[k] - (t[k + 1] + shift[k + 1]) + AFTER_RESET_S
        t = t + shift
        if resets:
            told.append(
                f"the clock begins again {many(len(resets), 'time', 'times')} (first after row "
                f"{int(kept[resets[0]]) + 1}): the parts are laid "
                f"behind one another, {AFTER_RESET_S:g} s apart, though nobody knows how long it was"
            )
        if back:
            told.append(
                f"the clock falls back {many(len(back), 'time', 'times')} by up to {max(-steps[k] for k in back):.3g} "
                f"s: those rows are put in order"
            )
            order = np.argsort(t, kind="stable")
            t, kept = t[order], kept[order]
    same = np.concatenate([[False], np.diff(t) == 0.0])
    if same.any():
        share = float(same.mean())
        if share < 0.5:
            told.append(f"{many(int(same.sum()), 'row has', 'rows have')} the time of the one before: the first of each is taken")
            t, kept = t[~same], kept[~same]
        else:  # a clock of whole seconds under faster rows
            told.append("its clock is coarser than its rows: rows of one time are spread evenly")
            starts = np.flatnonzero(~same)
            many_in = np.diff(np.append(starts, t.size))
            inside = np.arange(t.size) - np.repeat(starts, many_in)
            ends = np.append(t[starts[1:]], t[starts[-1]] + (np.median(np.diff(t[starts])) if starts.size > 1 else 1.0))
            spans = np.minimum(ends - t[starts], 2.0 * (np.median(ends - t[starts]) if starts.size else 1.0))
            t = t + inside / np.repeat(many_in, many_in) * np.repeat(spans, many_in)
    gaps = gaps_of(t)
    if gaps:
        longest = max(end - begin for begin, end in gaps)
        jumps = [(begin, end) for begin, end in gaps if end - begin > max(JUMP_STEPS * usual, 120.0)]
        told.append(f"{many(len(gaps), 'gap', 'gaps')} without data, the longest of {longest:.4g} s; nothing is filled in")
        if jumps:
            begin, end = max(jumps, key=lambda one: one[1] - one[0])
            told.append(f"at {begin - t[0]:.4g} s the clock jumps on by {end - begin:.4g} s: a pause, or a clock that was set")
    return Clock(time=t - t[0], kept=kept, told=tuple(told))
