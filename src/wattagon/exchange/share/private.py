"""A copy of a design without what is nobody else's business: notes and names, days, pictures, and where rides began and ended.

Days are moved together, so that what followed what is kept.  A log that cannot be made so is left out as a whole, and said.
"""

from __future__ import annotations

import datetime
import hashlib
import io
import re
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from wattagon.design import file
from wattagon.design.file import Document
from wattagon.design.tree import Log
from wattagon.errors import InputError, WattagonError
from wattagon.record import record

KINDS = ("notes", "dates", "ends", "pictures", "logs")
NOTES = frozenset({"note", "tow_note", "seller", "by", "source", "text"})  # what somebody wrote, and who it was
SIGNED = "signed"  # in the place of a name under a stage
FIRST_DAY = datetime.date(2000, 1, 1)
END_M = 250.0  # around the first and the last point of a track
_DAY = re.compile(r"\d{4}-\d\d-\d\d")
_DAY_IN_TABLE = re.compile(rb"\b(19|20)\d\d[-/.]\d\d[-/.]\d\d\b|\b\d\d[./]\d\d[./](19|20)?\d\d\b|\b1[5-9]\d{8}(\d{3})?\b")
_PLACE_IN_TABLE = re.compile(rb"\b(lat|latitude|lon|lng|longitude|breite|laenge)\b", re.IGNORECASE)


@record(frozen=True, slots=True, kw_only=True)
class Shared:
    """The copy, and a sentence for each thing that is not in it or is not as it was."""

    document: Document
    said: tuple[str, ...]


def kept_of(text: str) -> frozenset[str]:
    """What may stay, from words apart by commas.  Raises InputError for a word that is none."""
    asked = [word.strip().lower() for word in text.split(",") if word.strip()]
    for word in asked:
        if word not in KINDS:
            raise InputError("--keep", word, ", ".join(KINDS))
    return frozenset(asked)


def without_private(document: Document, keep: frozenset[str] = frozenset()) -> Shared:
    """A copy with only those kinds of private things that `keep` names."""
    said: list[str] = []
    logs, members = _logs(document, keep, said)
    design = replace(document.design, logs=logs)
    data = file.codec.encode(design)
    if "notes" not in keep:
        history = len(data.pop("history", []) or [])
        data = _without_notes(data)
        said.append("Notes, names of people and of files are left out" + (f", with {history} entries of the history." if history else "."))
    if "pictures" not in keep:
        gone = [name for name in members if name.startswith("pictures/")]
        members = {name: content for name, content in members.items() if name not in gone}
        data = _without_pictures(data)
        if gone:
            said.append(f"{len(gone)} pictures are left out.")
    if "dates" not in keep:
        days = [datetime.date.fromisoformat(day) for day in _days(data) if _is_day(day)]
        if days:
            data = _moved(data, (FIRST_DAY - min(days)).days)
            said.append(f"Days are moved together: the first is {FIRST_DAY.isoformat()}.")
    copy = file.from_data(data, "the copy to share")
    return Shared(document=Document(design=copy, members=file.referred(copy, members)), said=tuple(said))


def _without_notes(data: Any) -> Any:
    if isinstance(data, dict):
        kept = {key: _without_notes(value) for key, value in data.items() if key not in NOTES and key != "extra"}
        return {**kept, "name": SIGNED} if {"stage", "name", "date"} <= set(kept) else kept
    return [_without_notes(item) for item in data] if isinstance(data, list) else data


def _without_pictures(data: Any) -> Any:
    if isinstance(data, dict):
        return {key: _without_pictures(value) for key, value in data.items() if key not in ("pictures", "picture")}
    return [_without_pictures(item) for item in data] if isinstance(data, list) else data


def _is_day(text: str) -> bool:
    try:
        datetime.date.fromisoformat(text)
    except ValueError:
        return False
    return True


def _days(data: Any) -> Iterator[str]:
    if isinstance(data, dict):
        for value in data.values():
            yield from _days(value)
    elif isinstance(data, list):
        for value in data:
            yield from _days(value)
    elif isinstance(data, str) and _DAY.fullmatch(data):
        yield data


def _moved(data: Any, by: int) -> Any:
    if isinstance(data, dict):
        return {key: _moved(value, by) for key, value in data.items()}
    if isinstance(data, list):
        return [_moved(value, by) for value in data]
    if isinstance(data, str) and _DAY.fullmatch(data) and _is_day(data):
        return (datetime.date.fromisoformat(data) + datetime.timedelta(days=by)).isoformat()
    return data


def _logs(document: Document, keep: frozenset[str], said: list[str]) -> tuple[tuple[Log, ...], dict[str, bytes]]:
    """Logs and members as they may go out."""
    members = dict(document.members)
    kept: list[Log] = []
    for log in document.design.logs:
        if not log.member:
            kept.append(log)
            continue
        content = members.pop(log.member, None)
        if "logs" not in keep or content is None:
            said.append(f"Log {log.id}: its file is left out.")
            continue
        try:
            made, packed = _one(log, content, keep, said)
        except WattagonError as refusal:
            said.append(f"Log {log.id}: its file is left out: {refusal}")
            continue
        kept.append(made)
        members[made.member] = packed
    return tuple(kept), members


def _one(log: Log, content: bytes, keep: frozenset[str], said: list[str]) -> tuple[Log, bytes]:
    from wattagon.exchange.log.read import packed, unpacked

    raw = unpacked(content, log.member)
    if log.member.endswith(".gpx.gz"):
        cut, begin_s = _track(raw, keep)
        if cut == raw:
            return log, content
        if "ends" not in keep:
            said.append(f"Log {log.id}: {END_M:g} m around its first and last point are cut off, and the names in it are left out.")
        digest = hashlib.sha256(cut).hexdigest()
        later = [one for one in log.learn if one.end > begin_s + 1.0]
        learn = tuple(replace(one, begin=max(one.begin - begin_s, 0.0), end=one.end - begin_s) for one in later)
        return replace(log, member=f"logs/{digest[:16]}.gpx.gz", hash=digest, offset=log.offset + begin_s, learn=learn), packed(cut)
    if "dates" not in keep and _DAY_IN_TABLE.search(raw):
        raise InputError("its table", "with days or a clock since 1970", "seconds from its beginning, or days kept")
    if "ends" not in keep and _PLACE_IN_TABLE.search(raw.split(b"\n", 40)[0] if raw else b""):
        raise InputError("its table", "with places", "a table without them, or the ends of tracks kept")
    return log, content


def _track(raw: bytes, keep: frozenset[str]) -> tuple[bytes, float]:
    """(a track as it may go out, seconds that its beginning lost).  Raises InputError for one that lies within its ends."""
    import gpxpy
    import gpxpy.gpx

    try:
        gpx = gpxpy.parse(io.StringIO(raw.decode("utf-8")))
    except (gpxpy.gpx.GPXException, UnicodeDecodeError, ValueError) as problem:
        raise InputError("its track", str(problem)[:80], "GPX") from None
    points = [point for track in gpx.tracks for segment in track.segments for point in segment.points]
    begin_s = 0.0
    if "ends" not in keep and points:
        first, last = points[0], points[-1]
        near = lambda point, end: (point.distance_2d(end) or 0.0) < END_M
        low = next((k for k, point in enumerate(points) if not near(point, first)), len(points))
        high = next((k for k in range(len(points) - 1, -1, -1) if not near(points[k], last)), -1)
        if high - low < 2:
            raise InputError("its track", f"all of it within {END_M:g} m of its ends", "one that goes further")
        inside = {id(point) for point in points[low : high + 1]}
        for track in gpx.tracks:
            for segment in track.segments:
                segment.points = [point for point in segment.points if id(point) in inside]
        began, begins = first.time, points[low].time
        if began is not None and begins is not None:
            begin_s = (begins - began).total_seconds()
        gpx.waypoints, gpx.routes = [], []
    if "notes" not in keep:
        gpx.name = gpx.description = None
        gpx.author_name = gpx.author_email = gpx.author_link = gpx.creator = gpx.keywords = None
        for track in gpx.tracks:
            track.name = track.description = track.comment = track.source = None
    if "dates" not in keep:
        times = [point.time for track in gpx.tracks for segment in track.segments for point in segment.points if point.time is not None]
        if times:
            start = datetime.datetime.combine(FIRST_DAY, datetime.time(), tzinfo=times[0].tzinfo)
            by = start - times[0]
            gpx.time = None
            for track in gpx.tracks:
                for segment in track.segments:
                    for point in segment.points:
                        point.time = point.time + by if point.time is not None else None
    return gpx.to_xml().encode("utf-8"), begin_s
