"""A log into the design, as one step with its entry in the history."""

from __future__ import annotations

import datetime
import math
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.paths import Edit
from wattagon.design.tree import Design, Entry, EntryKind, Log, LogKind, Reading, TimedRun
from wattagon.errors import InputError
from wattagon.study.history.study import fresh_id, version_of
from wattagon.study.log.data import LogData, distance_m, energy_wh
from wattagon.study.log.ridden import state_of

KINDS = {
    LogKind.TELEMETRY: EntryKind.RIDE,
    LogKind.TRACK: EntryKind.RIDE,
    LogKind.TIMED: EntryKind.TIMED_RUN,
    LogKind.METER: EntryKind.MEASURE,
    LogKind.PHONE: EntryKind.RIDE,
    LogKind.COAST: EntryKind.RIDE,
    LogKind.CHARGER: EntryKind.MEASURE,
}


def log_id(design: Design) -> str:
    """An id that no log has or had."""
    taken = {one.id for one in design.logs} | {entry.log for entry in design.history}
    return next(name for name in (f"l{k}" for k in range(1, len(taken) + 2)) if name not in taken)


def find_log(design: Design, text: str | None) -> Log:
    """A log by its id or its number, the last without either.  Raises InputError with those that there are."""
    if not design.logs:
        raise InputError("log", text or "the last", "nothing: this design has no logs yet; wattagon log add FILE LOG brings one in")
    if text is None:
        return design.logs[-1]
    typed = str(text).strip()
    for one in design.logs:
        if one.id == typed:
            return one
    if typed.isdigit() and 1 <= int(typed) <= len(design.logs):
        return design.logs[int(typed) - 1]
    raise InputError("log", typed, f"1 to {len(design.logs)}, or {', '.join(one.id for one in design.logs)}")


def added(design: Design, log: Log, data: LogData | None, today: datetime.date) -> Edit:
    """The log at the end of the logs, and an entry of the history.  Raises InputError for a file that is there already."""
    twin = next((one for one in design.logs if log.hash and one.hash == log.hash), None)
    if twin is not None:
        raise InputError("log", log.source, f"a file that is not there yet: it is log {twin.id}")
    variant = design.variant(log.variant or None)
    made = replace(
        log,
        id=log_id(design),
        date=log.date or today.isoformat(),
        variant=variant.id,
        version=version_of(variant),
        state=log.state or state_of(variant),
    )
    entry = Entry(
        id=fresh_id(design.history),
        date=made.date,
        kind=KINDS[made.kind],
        text=f"Log {made.id}: {made.source or made.kind.value}{f', {made.note}' if made.note else ''}"[:400],
        variant=variant.id,
        version=made.version,
        readings=tuple(readings(made, data)),
        log=made.id,
    )
    return Edit(
        label=f"Log {made.source or made.kind.value}", changes=(("logs", (*design.logs, made)), ("history", (*design.history, entry)))
    )


def readings(log: Log, data: LogData | None) -> list[Reading]:
    """What an entry of the history tells of a log."""
    made: list[Reading] = []

    def put(name: str, value: float, dimension: str) -> None:
        if math.isfinite(value):
            made.append(Reading(name=name, value=float(f"{value:.6g}"), dimension=dimension))

    for run in log.runs:
        put(f"{run.start * 3.6:.3g} to {run.end * 3.6:.3g} km/h{f' {run.way}' if run.way else ''}", run.seconds, "time")
    if log.energy_wh is not None:
        put("from the wall", log.energy_wh, "energy")
    if data is not None:
        put("time", data.seconds, "time")
        metres, watt_hours = distance_m(data), energy_wh(data)
        put("distance", metres, "distance")
        put("energy", watt_hours, "energy")
        for channel, name, dimension in (("speed", "top speed", "speed"), ("motor_c", "hottest winding", "temperature")):
            if channel in data and np.isfinite(data.clean(channel)).any():
                put(name, float(np.nanquantile(data.clean(channel), 0.999)), dimension)
    return made


def changed(design: Design, log: Log, label: str) -> Edit:
    """A log in the place of the one of its id."""
    return Edit(label=label, changes=(("logs", tuple(log if one.id == log.id else one for one in design.logs)),))


def dropped(design: Design, log: Log) -> Edit:
    """Without a log; its entry of the history stays."""
    return Edit(label=f"Log {log.id} taken out", changes=(("logs", tuple(one for one in design.logs if one.id != log.id)),))


def timed_log(runs: Sequence[TimedRun], source: str) -> Log:
    """A log of hand-timed runs."""
    return Log(id="new", kind=LogKind.TIMED, source=source[:120], runs=tuple(runs))


def charged(design: Design, log: Log) -> tuple[float, int]:
    """(energy that logs took out of the pack since the charge before this one [Wh], how many they were), by the history's readings."""
    mine = [one for one in design.logs if one.variant == log.variant]
    at = next((k for k, one in enumerate(mine) if one.id == log.id), len(mine))
    since = max((k for k in range(at) if mine[k].kind is LogKind.CHARGER), default=-1)
    ids = {one.id for one in mine[since + 1 : at]}
    found = [one.value for entry in design.history if entry.log in ids for one in entry.readings if one.name == "energy"]
    return sum(found), len(found)


def charge_words(design: Design, log: Log, say: Callable[[float, str], str]) -> str:
    """`520 Wh from the wall; 2 logs since the last charge took 430 Wh: 83 %`."""
    assert log.energy_wh is not None
    taken, many = charged(design, log)
    words = f"{say(log.energy_wh, 'energy')} from the wall"
    if not many or taken <= 0.0:
        return f"{words}; no log since the charge before tells what was taken"
    share = taken / log.energy_wh
    usual = "" if 0.75 <= share <= 0.95 else "; charger and pack usually give 75 to 95 % back: some ride was not logged, or a meter is off"
    return f"{words}; {many} {'log' if many == 1 else 'logs'} since the charge before took {say(taken, 'energy')}: {share:.0%}{usual}"
