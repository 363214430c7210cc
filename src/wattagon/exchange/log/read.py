"""A log from a file: a table of any layout or a track, with what was found wrong in it."""

from __future__ import annotations

import gzip
import hashlib
import math
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np

from wattagon import files
from wattagon.design.tree import Design, Log, LogColumn, LogKind
from wattagon.design.tree.logs import FOLDER
from wattagon.errors import FileError, InputError
from wattagon.exchange.log.clock import set_clock
from wattagon.exchange.log.heads import to_si
from wattagon.exchange.log.propose import Proposed, header_of, propose, told_by
from wattagon.exchange.log.table import Progress, Table, read_table
from wattagon.exchange.units import say as say_metric
from wattagon.record import record
from wattagon.study.log.channels import CHANNELS
from wattagon.study.log.check import mixed_up, plausible, spikes_of
from wattagon.study.log.data import Floats, LogData
from wattagon.study.log.expect import Expect
from wattagon.study.say import Say

LARGEST = 256 * 1024 * 1024  # bytes of a log, unpacked
LEVEL = 1  # of packing: a million rows take a second
METER_ROWS = 80


@record(frozen=True, slots=True, kw_only=True)
class Brought:
    """A file as it was read: its table, what its columns are taken as, and the log that comes of it."""

    raw: bytes
    table: Table | None  # None of a track
    proposed: tuple[Proposed, ...]
    data: LogData


def _silent(share: float) -> None:
    pass


def bring(
    raw: bytes,
    name: str,
    expect: Expect | None = None,
    *,
    known: Sequence[LogColumn] = (),
    maps: Sequence[str] = (),
    kind: LogKind | None = None,
    say: Say = say_metric,
    progress: Progress = _silent,
    cancelled: Callable[[], bool] = lambda: False,
    table: Table | None = None,
) -> Brought:
    """Read a log.  `maps` are told as `CHANNEL=HEAD`; a `table` that was read before is taken as it is.

    Raises FileError and InputError with a sentence, Cancelled once `cancelled` says so.
    """
    if not raw[:4096].strip() and not raw.strip():
        raise FileError(f"{name} is empty; accepted: a table with heads, or a GPX track")
    marked = hashlib.sha256(raw).hexdigest()
    if raw[:4096].lstrip()[:1] == b"<":
        from wattagon.exchange.log.gpx import read_gpx

        data = read_gpx(raw, name)
        log = replace(data.log, source=name, hash=marked, member=f"{FOLDER}{marked[:16]}.gpx.gz")
        return Brought(raw=raw, table=None, proposed=(), data=replace(data, log=log))
    table = table if table is not None else read_table(raw, name, progress, cancelled)
    header = header_of(table.heads)
    proposed = propose(table, expect, known, told_by(maps, table.heads))
    log = Log(
        id="new",
        kind=kind or _kind(table, proposed),
        source=name[-120:],
        hash=marked,
        member=f"{FOLDER}{marked[:16]}.csv.gz",
        columns=tuple(one.column for one in proposed),
        header=header,
    )
    data = data_of(log, table, expect, say, [one.said for one in proposed if one.said])
    return Brought(raw=raw, table=table, proposed=tuple(proposed), data=data)


def _kind(table: Table, proposed: Sequence[Proposed]) -> LogKind:
    have = {one.column.channel for one in proposed}
    if have & {"ax", "ay", "az"} and not have & {"bus_v", "motor_a", "pack_a"}:
        return LogKind.PHONE
    if not have & {"bus_v", "motor_a", "pack_a", "erpm", "motor_rpm", "duty"} and have & {"latitude", "speed", "elevation"}:
        return LogKind.TRACK
    if len(table.columns[0]) <= METER_ROWS and "speed" not in have:
        return LogKind.METER
    return LogKind.TELEMETRY


def data_of(log: Log, table: Table, expect: Expect | None, say: Say = say_metric, said: Sequence[str] = ()) -> LogData:
    """A table as its columns are told.  Raises InputError where no column tells the time or nothing else is there."""
    places = {one.channel: (table.heads.index(one.head), one.unit) for one in log.columns if one.channel and one.head in table.heads}
    if "time" not in places:
        raise InputError("time", f"none of the columns {', '.join(table.heads)[:200]}", "a column of times: map it, such as time:ms=HEAD")
    if len(places) < 2:
        raise InputError(
            "columns", f"{', '.join(table.heads)[:200]}", f"one or more beside the time that is told: {', '.join(list(CHANNELS)[1:])}"
        )
    told = [*table.told, *said]
    at, unit = places["time"]
    clock = set_clock(table.columns[at] * to_si("time", unit)[0], unit == "clock")
    told += clock.told
    if clock.time.size < 2 or not clock.time[-1] > 0.0:
        raise InputError("time", f"{clock.time.size} rows with a time that goes on", "two or more")
    columns: dict[str, Floats] = {}
    for channel, (k, unit) in places.items():
        if channel != "time":
            factor, offset = to_si(channel, unit)
            columns[channel] = table.columns[k][clock.kept] * factor + offset
    columns = plausible(columns, told)
    empty = [name for name, values in columns.items() if not np.isfinite(values).any()]
    for name in empty:
        told.append(f"{CHANNELS[name].words}: no value")
        del columns[name]
    if not columns:
        raise InputError(
            "columns", "no column with a plausible value beside the time", "a log with values in the units that its heads tell"
        )
    spikes = spikes_of(clock.time, columns, told)
    clean = {name: np.where(spikes[name], math.nan, values) if name in spikes else values for name, values in columns.items()}
    odd = mixed_up(clock.time, clean, expect, say)
    told += [one.words for one in odd]
    doubts = tuple(one.words for one in odd if one.doubtful)
    return LogData(log=log, time=clock.time, columns=columns, told=tuple(told), doubts=doubts, spikes=spikes)


def packed(raw: bytes) -> bytes:
    """A file as it is kept in the design's: gzip, equal for equal files."""
    return gzip.compress(raw, LEVEL, mtime=0)


def unpacked(member: bytes, name: str) -> bytes:
    """The file again.  Raises FileError for a damaged one, or one that is larger than any log."""
    try:
        opened = zlib.decompressobj(31)
        raw = opened.decompress(member, LARGEST)
    except zlib.error as error:
        raise FileError(f"the log {name} is damaged ({error})") from None
    if opened.unconsumed_tail or not opened.eof:
        raise FileError(f"the log {name} is damaged, or unpacks to more than {LARGEST // 1048576} MiB")
    return raw


def read_file(path: Path) -> bytes:
    """Bytes of a log.  Raises FileError; a packed one is unpacked."""
    raw = files.read_bytes(path, LARGEST, "a log")
    return unpacked(raw, path.name) if raw[:2] == b"\x1f\x8b" else raw


def again(log: Log, members: Mapping[str, bytes], expect: Expect | None, say: Say = say_metric, *, checked: bool = True) -> LogData:
    """The data of a log that a design's file holds.  Raises FileError where it is missing or is another file than the one brought in."""
    member = members.get(log.member)
    if member is None:
        raise FileError(f"the table of log {log.id} ({log.source}) is not in the file: bring it in again")
    raw = unpacked(member, log.source or log.id)
    if checked and log.hash and hashlib.sha256(raw).hexdigest() != log.hash:
        raise FileError(f"the table of log {log.id} is not the one that was brought in ({log.source}): its checksum differs")
    if raw[:4096].lstrip()[:1] == b"<":
        from wattagon.exchange.log.gpx import read_gpx

        return replace(read_gpx(raw, log.source), log=log)
    return data_of(log, read_table(raw, log.source or log.id), expect, say)


def known_columns(design: Design, heads: Sequence[str]) -> tuple[LogColumn, ...]:
    """Columns of the last log of this layout in a design."""
    header = header_of(heads)
    return next((log.columns for log in reversed(design.logs) if log.header == header), ())
