"""What happened to a build: dated entries, incidents among them, and what is to be done again."""

from __future__ import annotations

import datetime
from dataclasses import field
from enum import StrEnum

from wattagon.design.dimensions import DIMENSIONS
from wattagon.design.quantity import spec
from wattagon.design.tree.ids import Extra, at_most, check_id, no_extra
from wattagon.errors import InputError
from wattagon.record import record

MOST_ENTRIES, MOST_READINGS, MOST_PICTURES = 5000, 60, 8


class EntryKind(StrEnum):
    NOTE = "note"
    MEASURE = "measure"
    ORDER = "order"
    ARRIVAL = "arrival"
    PROOF = "proof"  # a load was hung, what it held
    TIMED_RUN = "timed_run"
    CELL_CHECK = "cell_check"
    COMMISSIONING = "commissioning"
    RIDE = "ride"
    INCIDENT = "incident"
    REPAIR = "repair"
    CHANGE = "change"  # of a part, the wiring or the firmware
    SERVICE = "service"


class Incident(StrEnum):
    SHORT = "short"
    JAM = "jam"
    DROP = "drop"
    DUNKING = "dunking"
    OVERHEATING = "overheating"
    CRASH = "crash"


class BuildPart(StrEnum):
    """What an entry is about."""

    PACK = "pack"
    WIRING = "wiring"
    CONTROLLER = "controller"
    MOTOR = "motor"
    REDUCTION = "reduction"
    WHEEL = "wheel"
    BRAKES = "brakes"
    FRAME = "frame"


@record(frozen=True, slots=True, kw_only=True)
class Reading:
    """One figure that was read."""

    name: str = ""
    value: float = 0.0  # SI
    dimension: str = "number"

    def __post_init__(self) -> None:
        if self.dimension not in DIMENSIONS:
            raise InputError("dimension", self.dimension, ", ".join(DIMENSIONS))


@record(frozen=True, slots=True, kw_only=True)
class Entry:
    """One dated entry."""

    id: str
    date: str  # ISO day
    kind: EntryKind = EntryKind.NOTE
    text: str = ""
    variant: str = ""  # id of the variant it was, with `version` the state of it
    version: str = ""
    on: tuple[BuildPart, ...] = ()
    hours: float | None = field(default=None, metadata=spec("hours of use so far", "number", 0.0, 1e6))
    distance: float | None = field(default=None, metadata=spec("distance so far", "distance", 0.0, 1e9))
    readings: tuple[Reading, ...] = ()
    pictures: tuple[str, ...] = ()  # names of members of the file
    log: str = ""  # id of the log that it tells of
    incident: Incident | None = None
    clears: tuple[str, ...] = ()  # ids of incidents whose suspicion the test of this entry takes off what it is `on`
    replaced: tuple[BuildPart, ...] = ()
    again_days: int | None = field(default=None, metadata=spec("again after days", "number", 1, 3660))
    again_hours: float | None = field(default=None, metadata=spec("again after hours", "number", 0.1, 1e5))
    again_distance: float | None = field(default=None, metadata=spec("again after", "distance", 1.0, 1e8))
    extra: Extra = field(default_factory=no_extra)

    def __post_init__(self) -> None:
        check_id(self.id)
        check_day(self.date, f"date of entry {self.id}")
        at_most(f"readings of entry {self.id}", len(self.readings), MOST_READINGS)
        at_most(f"pictures of entry {self.id}", len(self.pictures), MOST_PICTURES)
        if self.kind is EntryKind.INCIDENT and self.incident is None:
            raise InputError(f"incident of entry {self.id}", "missing", ", ".join(Incident))


def check_day(text: str, name: str) -> datetime.date:
    """A day from its ISO text.  Raises InputError for anything else."""
    try:
        return datetime.date.fromisoformat(text)
    except ValueError:
        raise InputError(name, repr(text), "a day such as 2026-05-09") from None
