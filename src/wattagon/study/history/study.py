"""What follows from a history: how far the build has come, what is suspect, and what is due."""

from __future__ import annotations

import datetime
import hashlib
import json
import math
from collections.abc import Sequence
from dataclasses import replace

from wattagon.design import codec
from wattagon.design.tree import BuildPart, Design, Entry, EntryKind, Incident, Variant
from wattagon.record import record
from wattagon.study.history.facts import SERVICED_BY, STRESSED, USUAL_SERVICE, Service

SOON_DAYS = 14
# of a variant, what is only told or done: it makes no other version
UNVERSIONED = ("id", "name", "note", "based_on", "build", "commissioning", "inquiry", "measured_load")


def version_of(variant: Variant) -> str:
    """The state of a variant in eight letters: equal for equal parts and settings, whatever its name and note."""
    data = codec.encode(variant)
    told = {key: value for key, value in data.items() if key not in UNVERSIONED}
    return hashlib.sha256(json.dumps(told, sort_keys=True).encode()).hexdigest()[:8]


def in_order(entries: Sequence[Entry]) -> list[Entry]:
    """By day, those of one day as they were entered."""
    return sorted(entries, key=lambda entry: entry.date)


@record(frozen=True, slots=True, kw_only=True)
class Use:
    """How far a build has come."""

    hours: float
    distance: float  # m


def use_of(entries: Sequence[Entry]) -> Use:
    """The most that any entry tells."""
    return Use(
        hours=max((entry.hours for entry in entries if entry.hours is not None), default=0.0),
        distance=max((entry.distance for entry in entries if entry.distance is not None), default=0.0),
    )


@record(frozen=True, slots=True, kw_only=True)
class Suspect:
    """A part that an incident stressed and that nothing has cleared yet."""

    part: BuildPart
    entry: Entry  # the incident
    test: str  # what clears it

    @property
    def incident(self) -> Incident:
        assert self.entry.incident is not None
        return self.entry.incident


def suspects(entries: Sequence[Entry]) -> list[Suspect]:
    """Parts that are suspect now, the latest incident first.

    A part is cleared by a later test that names the incident and is on the part, or by being replaced; an incident after that makes it
    suspect again.  An incident on parts that the user named stresses those beside the usual ones.
    """
    found = []
    ordered = in_order(entries)
    for at, incident in enumerate(ordered):
        if incident.kind is not EntryKind.INCIDENT or incident.incident is None:
            continue
        tests = {stress.part: stress.test for stress in STRESSED[incident.incident]}
        for part in incident.on:
            tests.setdefault(part, "looked at closely, then tried gently")
        for part, test in tests.items():
            if not any(_clears(later, incident, part) for later in ordered[at + 1 :]):
                found.append(Suspect(part=part, entry=incident, test=test))
    return found[::-1]


def _clears(later: Entry, incident: Entry, part: BuildPart) -> bool:
    return part in later.replaced or (incident.id in later.clears and (part in later.on or not later.on))


@record(frozen=True, slots=True, kw_only=True)
class Due:
    """One thing to be done: by a day, at hours of use or at a distance; nan where a bound is not set."""

    text: str
    how: str  # the test that is asked for; empty where the text says it all
    on: tuple[BuildPart, ...]
    day: str  # ISO; empty without one
    hours: float
    distance: float
    usual: bool  # from the usual list: nobody asked for it
    since: str  # day of what it follows; empty where it was never done
    overdue: bool
    soon: bool


def due(design: Design, today: datetime.date) -> list[Due]:
    """All that is due some day, the overdue first.

    An entry that asks for it again is followed by the next of its kind on the same parts.  The usual list counts from the first entry,
    for a build that has one.
    """
    entries = in_order(design.history)
    use = use_of(entries)
    made: list[Due] = []
    for suspect in suspects(entries):
        words = f"Test the {suspect.part} after the {suspect.incident}"
        found = _due(words, (suspect.part,), suspect.entry.date, today, use, suspect.entry.date, None, None)
        made.append(replace(found, how=suspect.test))
    asked: set[BuildPart] = set()
    for at, entry in enumerate(entries):
        if entry.again_days is None and entry.again_hours is None and entry.again_distance is None:
            continue
        asked.update(entry.on)
        if any(later.kind is entry.kind and set(later.on) == set(entry.on) for later in entries[at + 1 :]):
            continue
        day = _later(entry.date, entry.again_days)
        so_far = use_of(entries[: at + 1])
        hours = so_far.hours + entry.again_hours if entry.again_hours is not None else None
        metres = so_far.distance + entry.again_distance if entry.again_distance is not None else None
        made.append(_due(entry.text or entry.kind.value, entry.on, day, today, use, entry.date, hours, metres))
    if entries:
        made += [_usual(service, entries, use, today) for service in USUAL_SERVICE if service.on not in asked]
    return sorted(made, key=lambda one: (not one.overdue, not one.soon, one.day or "9999", one.text))


def _usual(service: Service, entries: list[Entry], use: Use, today: datetime.date) -> Due:
    done = [entry for entry in entries if entry.kind in SERVICED_BY and service.on in entry.on]
    last = done[-1] if done else None
    since = last.date if last is not None else entries[0].date
    begun = use_of(entries[: entries.index(last) + 1] if last is not None else ())
    hours = begun.hours + service.hours if service.hours is not None else None
    metres = begun.distance + service.metres if service.metres is not None else None
    found = _due(service.text, (service.on,), _later(since, service.days), today, use, last.date if last else "", hours, metres)
    return replace(found, usual=True)


def _later(day: str, days: int | None) -> str:
    return (datetime.date.fromisoformat(day) + datetime.timedelta(days=days)).isoformat() if days is not None else ""


def _due(
    text: str, on: tuple[BuildPart, ...], day: str, today: datetime.date, use: Use, since: str, hours: float | None, metres: float | None
) -> Due:
    over = (day != "" and day <= today.isoformat()) or (hours is not None and use.hours >= hours)
    over = over or (metres is not None and use.distance >= metres)
    near = day != "" and day <= (today + datetime.timedelta(days=SOON_DAYS)).isoformat()
    near = near or (hours is not None and use.hours >= 0.9 * hours) or (metres is not None and use.distance >= 0.9 * metres)
    return Due(
        text=text,
        how="",
        on=on,
        day=day,
        hours=math.nan if hours is None else hours,
        distance=math.nan if metres is None else metres,
        usual=False,
        since=since,
        overdue=over,
        soon=near and not over,
    )


def fresh_id(entries: Sequence[Entry]) -> str:
    """An id that no entry has."""
    taken = {entry.id for entry in entries}
    return next(name for name in (f"e{k}" for k in range(1, len(taken) + 2)) if name not in taken)


def search(entries: Sequence[Entry], words: str) -> list[Entry]:
    """Entries that have every word somewhere, in their order."""
    wanted = words.casefold().split()
    return [entry for entry in in_order(entries) if all(word in _text_of(entry) for word in wanted)]


def _text_of(entry: Entry) -> str:
    parts = (entry.date, entry.kind, entry.text, entry.variant, entry.incident or "", *entry.on, *(r.name for r in entry.readings))
    return " ".join(parts).replace("_", " ").casefold()
