"""What was recorded or timed of a build: where each log is kept, what its columns are, and under which conditions it was taken."""

from __future__ import annotations

from dataclasses import field
from enum import StrEnum

from wattagon.design.quantity import Quantity, spec
from wattagon.design.tree.history import check_day
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra, unique
from wattagon.design.tree.variant import Variant
from wattagon.errors import InputError
from wattagon.record import record

MOST_LOGS, MOST_COLUMNS, MOST_RUNS, MOST_STRETCHES = 200, 200, 60, 24
FOLDER = "logs/"


class LogKind(StrEnum):
    TELEMETRY = "telemetry"
    TRACK = "track"
    TIMED = "timed"  # by hand: from one speed to another in so many seconds
    METER = "meter"  # readings of a meter over time
    PHONE = "phone"  # accelerations of something that lies on the vehicle
    COAST = "coast"  # let roll without drive
    CHARGER = "charger"  # energy in from the wall


@record(frozen=True, slots=True, kw_only=True)
class LogColumn:
    """What a column of a table holds."""

    head: str
    channel: str  # empty: not used
    unit: str = ""  # as its numbers are written; empty for that of SI


@record(frozen=True, slots=True, kw_only=True)
class TimedRun:
    """One run by the stopwatch.  `way`: up, down or empty; the average of both takes slope and wind out."""

    start: float = field(default=0.0, metadata=spec("from", "speed", 0.0, 60.0))
    end: float = field(metadata=spec("to", "speed", 0.0, 60.0))
    seconds: float = field(metadata=spec("in", "time", 0.1, 36000.0))
    way: str = ""

    def __post_init__(self) -> None:
        if self.way not in ("", "up", "down"):
            raise InputError("way", self.way, "up, down or empty")
        if self.start == self.end:
            raise InputError("to", self.end, "another speed than the one it began with")


@record(frozen=True, slots=True, kw_only=True)
class LogStretch:
    """A part of a log [s from its beginning]."""

    begin: float = field(metadata=spec("from", "time", 0.0, 1e7))
    end: float = field(metadata=spec("to", "time", 0.0, 1e7))

    def __post_init__(self) -> None:
        if not self.end > self.begin:
            raise InputError("to", self.end, f"later than {self.begin:g} s, where the stretch begins")


@record(frozen=True, slots=True, kw_only=True)
class Log:
    """One log.  Its file stays as it was, packed, a member of the design's file."""

    id: str
    kind: LogKind = LogKind.TELEMETRY
    source: str = ""  # name of the file it came from
    hash: str = ""  # SHA-256 of that file
    member: str = ""  # of the design's file; empty for what was typed
    date: str = ""  # ISO day of the ride
    note: str = ""
    columns: tuple[LogColumn, ...] = ()
    header: str = ""  # marks tables of one layout: what was told of one is proposed for the next
    runs: tuple[TimedRun, ...] = ()
    energy_wh: float | None = field(default=None, metadata=spec("from the wall", "energy", 0.0, 1e6))
    variant: str = ""
    version: str = ""
    state: Variant | None = None  # of the variant, as it was ridden
    beside: str = ""  # id of the log that a track or a phone ran along with
    offset: float = field(default=0.0, metadata=spec("offset", "time", -1e6, 1e6))  # added to this one's clock
    aboard: float | None = field(default=None, metadata=spec("rider and load", "mass", 0.0, 2000.0))
    start_charge: Quantity | None = field(default=None, metadata=spec("charge at the start", "share", 0.0, 1.0))
    air: Quantity | None = field(default=None, metadata=spec("air", "temperature", -40.0, 60.0))
    headwind: Quantity | None = field(default=None, metadata=spec("headwind", "speed", -30.0, 30.0))
    course: str = ""  # of the brief: its grades are taken where the log has no heights
    learn: tuple[LogStretch, ...] = ()  # what is learnt from; empty: all of it but the end
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        if self.date:
            check_day(self.date, f"date of log {self.id}")
        at_most(f"columns of log {self.id}", len(self.columns), MOST_COLUMNS)
        at_most(f"runs of log {self.id}", len(self.runs), MOST_RUNS)
        at_most(f"stretches of log {self.id}", len(self.learn), MOST_STRETCHES)
        used = [one.channel for one in self.columns if one.channel]
        if len(set(used)) < len(used):
            twice = next(name for name in used if used.count(name) > 1)
            raise InputError(f"columns of log {self.id}", f"{twice} twice", "each channel once")
        if self.member and (not self.member.startswith(FOLDER) or ".." in self.member or "\\" in self.member):
            raise InputError(f"member of log {self.id}", self.member, f"a name below {FOLDER}")


def check_logs(logs: tuple[Log, ...]) -> None:
    """Raises InputError for what logs of one design cannot be."""
    unique("log", [one.id for one in logs])
    at_most("logs", len(logs), MOST_LOGS)
