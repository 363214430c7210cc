"""A comparison as rows of words: only what differs, and the goals."""

from __future__ import annotations

import math

from wattagon.record import record
from wattagon.study.compare.compare import Compared, Line
from wattagon.study.drive.words import goal_name
from wattagon.study.findings.status import Status
from wattagon.study.ride.study import END_WORDS
from wattagon.study.say import Say


@record(frozen=True, slots=True, kw_only=True)
class Row:
    """One row: its section, name, a cell of each side, a bar of each side from 0 to 1 (nan: none), and which is best (-1: none)."""

    section: str
    name: str
    cells: tuple[str, ...]
    bars: tuple[float, ...] = ()
    best: int = -1
    statuses: tuple[Status | None, ...] = ()


def rows(found: Compared, say: Say) -> list[Row]:
    """In the order in which one asks: what it is, what it does, goals, findings, what else differs."""
    made = [Row(section="parts", name=line.name, cells=line.texts) for line in found.parts]
    made += [_row("figures", line, say) for line in found.figures if len(set(map(_key, line.values))) > 1]
    for goal in found.goals:
        cells = tuple(
            ""
            if one is None
            else f"{'never' if math.isinf(one.reached) else say(one.reached, one.dimension)}{'' if one.met else ' missed'}"
            for one in goal.results
        )
        margins = [one.margin if one is not None else math.nan for one in goal.results]
        known = [margin for margin in margins if margin == margin]
        best = margins.index(max(known)) if known and len(set(known)) > 1 else -1
        statuses = tuple(None if one is None else Status.CLEAR if one.met else Status.OVER for one in goal.results)
        bars = tuple(min(max(0.5 + margin, 0.0), 1.0) if margin == margin else math.nan for margin in margins)
        made.append(Row(section="goals", name=goal_name(goal.goal, say), cells=cells, bars=bars, best=best, statuses=statuses))
    if found.ridden:
        ends = tuple("not put through it" if one.ride is None else END_WORDS[one.ride.run.end] for one in found.sides)
        made.append(Row(section=found.run, name="how it ended", cells=ends))
    made += [_row(found.run, line, say) for line in found.ridden]
    for line in found.findings:
        titles = [one.title for one in line.found if one is not None and one.status in (Status.OVER, Status.TIGHT)]
        statuses = tuple(one.status if one is not None else None for one in line.found)
        cells = tuple("" if one is None else str(one).replace("_", " ") for one in statuses)
        made.append(Row(section="findings", name=titles[0], cells=cells, statuses=statuses))
    made += [_row("what differs", line, say) for line in found.inputs]
    return made


def _key(value: float) -> object:
    return "none" if value != value else round(value, 9)


def _row(section: str, line: Line, say: Say) -> Row:
    cells = tuple("" if value != value else "never" if math.isinf(value) else say(value, line.dimension) for value in line.values)
    most = max((abs(value) for value in line.values if math.isfinite(value)), default=0.0)
    bars = tuple(abs(value) / most if math.isfinite(value) and most > 0.0 else math.nan for value in line.values)
    return Row(section=section, name=line.name, cells=cells, bars=bars, best=line.best)
