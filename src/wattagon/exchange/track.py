"""Courses from files: GPX tracks with their elevation, and CSV tables of distance, elevation and speed."""

from __future__ import annotations

import csv
import io
import itertools
import math
from pathlib import Path
from typing import Any, NoReturn

import numpy as np
from numpy.typing import NDArray

from wattagon import files
from wattagon.design.tree import Course, CourseLeg
from wattagon.errors import FileError
from wattagon.record import record

LEG_M = 25.0  # tracks are cut into legs of this length, long ones into MOST_LEGS
MOST_LEGS = 4000
SMOOTH_M = 60.0  # over which elevation is averaged: consumer elevation wanders by metres over tens of metres
STEEPEST = 0.35
GAP_M = 500.0
JUMP_M = 300.0  # further from one point to the next than any recording leaves out, where it comes back again
COMES_BACK = 60  # points within which it does
BREAK_M = 5000.0  # so long a gap is no ride: the longest piece between such gaps is taken
EARTH_M = 6371008.8  # mean radius
HIGHEST_M = 9000.0
LONGEST_M = 1.0e6
MOST_POINTS = 100_000
LARGEST = 32 * 1024 * 1024  # bytes
DEEPEST = 40  # elements within elements
Floats = NDArray[np.float64]


@record(frozen=True, slots=True, kw_only=True)
class Track:
    """A course with what had to be done to the file to make one of it."""

    course: Course
    notes: tuple[str, ...]


def read_track(path: Path, *, speed_m_s: float) -> Track:
    """A course from a `.gpx` or `.csv` file; `speed_m_s` is ridden where the file names no speed.

    Raises FileError with the line or element that is wrong; the file is only read.
    """
    suffix = path.suffix.lower()
    if suffix == ".gpx":
        return _gpx(path, speed_m_s)
    if suffix in (".csv", ".txt"):
        return _csv(path, speed_m_s)
    raise FileError(f"{path} is not a course; accepted: .gpx tracks and .csv tables of distance_m, elevation_m, speed_m_s")


def _gpx(path: Path, speed_m_s: float) -> Track:
    import gpxpy  # loaded when a track is read
    from gpxpy.gpx import GPXException

    raw = files.read_bytes(path, LARGEST, "a track")
    look_over(raw, path)
    try:
        parsed = gpxpy.parse(raw)
    except (GPXException, ValueError, OverflowError, RecursionError) as error:
        raise FileError(f"{path} cannot be read as GPX: {str(error)[:160]}") from None
    points: list[Any] = [point for track in parsed.tracks for segment in track.segments for point in segment.points]
    points = points or [point for route in parsed.routes for point in route.points]
    if len(points) < 2:
        raise FileError(f"{path} has {len(points)} track points; accepted: two or more in a track or a route")
    lat, lon = (np.array([getattr(point, name) for point in points], dtype=float) for name in ("latitude", "longitude"))
    height = np.array([math.nan if point.elevation is None else point.elevation for point in points], dtype=float)
    notes: list[str] = []
    kept = fixes(lat, lon, notes)
    if kept.size < 2:
        raise FileError(f"{path} has {kept.size} points on the earth that belong together; accepted: two or more")
    steps = apart(lat[kept[:-1]], lon[kept[:-1]], lat[kept[1:]], lon[kept[1:]])
    distance = np.concatenate([[0.0], np.cumsum(steps)])
    if float(steps.max()) > GAP_M:
        notes.append(f"a gap of {steps.max():.0f} m was bridged by a straight line")
    return _course(path.stem, distance, height[kept], np.full(distance.shape, speed_m_s), notes)


def look_over(raw: bytes, path: Path) -> None:
    """Refuse what would take for ever or all memory, before anything is built of it.  Raises FileError."""
    from xml.parsers import expat

    parser = expat.ParserCreate()
    depth = points = 0

    def refuse(words: str) -> NoReturn:
        raise FileError(f"{path} cannot be read as GPX: {words}")

    def begins(name: str, _values: dict[str, str]) -> None:
        nonlocal depth, points
        depth += 1
        if depth > DEEPEST:
            refuse(f"elements within elements more than {DEEPEST} deep")
        if name.rsplit(":", 1)[-1] in ("trkpt", "rtept"):
            points += 1
            if points > MOST_POINTS:
                refuse(f"more than {MOST_POINTS} points")

    def ends(_name: str) -> None:
        nonlocal depth
        depth -= 1

    parser.StartElementHandler, parser.EndElementHandler = begins, ends
    parser.EntityDeclHandler = lambda *_: refuse("it declares entities")
    try:
        parser.Parse(raw, True)
    except expat.ExpatError as error:
        refuse(str(error))


def apart(lat1: Floats, lon1: Floats, lat2: Floats, lon2: Floats) -> Floats:
    """Great-circle distances [m] between points in degrees; the date line is no border.  Source: haversine formula."""
    a, b, c, d = (np.radians(v) for v in (lat1, lon1, lat2, lon2))
    half = np.sin((c - a) / 2) ** 2 + np.cos(a) * np.cos(c) * np.sin((d - b) / 2) ** 2
    return 2.0 * EARTH_M * np.arcsin(np.sqrt(np.minimum(half, 1.0)))


def fixes(lat: Floats, lon: Floats, notes: list[str]) -> NDArray[np.intp]:
    """Indices of the points that belong to one ride; what was set aside is noted."""
    valid = np.isfinite(lat) & np.isfinite(lon) & (np.abs(lat) <= 90.0) & (np.abs(lon) <= 180.0)
    _note(notes, int((~valid).sum()), "without a place on the earth", "set aside")
    poles = valid & (np.abs(lat) > 89.5)
    nowhere = valid & (np.abs(lat) < 1e-4) & (np.abs(lon) < 1e-4)
    if nowhere.sum() > valid.sum() / 2:
        nowhere[:] = False  # a ride that really is there
    _note(notes, int(poles.sum()), "at a pole", "set aside")
    _note(notes, int(nowhere.sum()), "at 0, 0, where a receiver without a fix says it is", "set aside")
    kept = np.flatnonzero(valid & ~poles & ~nowhere)
    kept = _without_jumps(lat, lon, kept, notes)
    return _longest_piece(lat, lon, kept, notes)


def _note(notes: list[str], count: int, what: str, done: str) -> None:
    if count:
        notes.append(f"{count} {'point' if count == 1 else 'points'} {what} {'was' if count == 1 else 'were'} {done}")


def _without_jumps(lat: Floats, lon: Floats, kept: NDArray[np.intp], notes: list[str]) -> NDArray[np.intp]:
    """Points that are far from the one before while a later one is near it again."""
    good: list[int] = []
    k, aside = 0, 0
    if kept.size < 3:
        return kept
    steps = apart(lat[kept[:-1]], lon[kept[:-1]], lat[kept[1:]], lon[kept[1:]])
    reach = max(JUMP_M, 20.0 * float(np.median(steps)))  # a route of coarse points has long steps all along
    far = np.append(np.flatnonzero(steps > reach) + 1, kept.size)
    next_far = 0
    while k < kept.size:
        while far[next_far] < k:
            next_far += 1
        if k == 0 or far[next_far] != k:
            end = int(far[next_far]) if far[next_far] != k else k + 1
            good.extend(range(k, end))  # up to the next jump all is well
            k = end
            continue
        last = good[-1]
        later = np.arange(k, min(k + COMES_BACK, kept.size))
        back = apart(lat[kept[last]], lon[kept[last]], lat[kept[later]], lon[kept[later]])
        near = np.flatnonzero(back <= reach)
        if near.size:
            aside += int(near[0])
            k += int(near[0])
        good.append(k)
        k += 1
    _note(notes, aside, "far off its neighbours", "set aside")
    return kept[np.array(good, dtype=np.intp)]


def _longest_piece(lat: Floats, lon: Floats, kept: NDArray[np.intp], notes: list[str]) -> NDArray[np.intp]:
    if kept.size < 2:
        return kept
    steps = apart(lat[kept[:-1]], lon[kept[:-1]], lat[kept[1:]], lon[kept[1:]])
    cuts = np.flatnonzero(steps > BREAK_M) + 1
    if not cuts.size:
        return kept
    ends = [0, *cuts.tolist(), kept.size]
    length = [float(steps[a : b - 1].sum()) for a, b in itertools.pairwise(ends)]
    best = int(np.argmax(length))
    chosen = kept[ends[best] : ends[best + 1]]
    notes.append(
        f"a gap of {steps.max() / 1000:.0f} km is no ride: the longest piece was taken, {kept.size - chosen.size} points were set aside"
    )
    return chosen


_COLUMNS = {
    "distance": ("distance_m", "distance", "x_m"),
    "height": ("elevation_m", "elevation", "ele", "height_m"),
    "speed": ("speed_m_s", "speed"),
}


def _csv(path: Path, speed_m_s: float) -> Track:
    try:
        text = files.read_bytes(path, LARGEST, "a table").decode("utf-8-sig")
        rows = [row for row in csv.reader(io.StringIO(text, newline="")) if row and not row[0].lstrip().startswith("#")]
    except (UnicodeDecodeError, csv.Error) as error:
        raise FileError(f"{path} cannot be read as CSV: {error}") from None
    if len(rows) > MOST_POINTS:
        raise FileError(f"{path} has {len(rows)} rows; accepted: up to {MOST_POINTS}")
    if len(rows) < 3:
        raise FileError(f"{path} has {max(len(rows) - 1, 0)} rows; accepted: a header line and two rows or more")
    header = [cell.strip().lower() for cell in rows[0]]
    found = {name: next((header.index(n) for n in names if n in header), -1) for name, names in _COLUMNS.items()}
    if found["distance"] < 0:
        raise FileError(f"{path} has the columns {', '.join(header)[:120]}; accepted: distance_m, and if known elevation_m and speed_m_s")

    def column(name: str, default: float) -> Floats:
        at = found[name]
        if at < 0:
            return np.full(len(rows) - 1, default)
        values = []
        for line, row in enumerate(rows[1:], 2):
            text = row[at].strip() if at < len(row) else ""
            try:
                values.append(float(text) if text else math.nan)
            except ValueError:
                raise FileError(f"{path}, row {line}: {header[at]} is {text[:30]!r}; accepted: a number in SI") from None
        return np.array(values, dtype=float)

    distance, height, speed = column("distance", math.nan), column("height", 0.0), column("speed", speed_m_s)
    if not np.all(np.isfinite(distance)) or np.any(np.diff(distance) < 0):
        bad = int(np.flatnonzero(~np.isfinite(distance) | np.concatenate([[False], np.diff(distance) < 0]))[0]) + 2
        raise FileError(f"{path}, row {bad}: distance_m must be a number and never fall")
    speed = np.where(np.isfinite(speed) & (speed > 0.3), speed, speed_m_s)
    return _course(path.stem, distance - distance[0], height, speed, [])


def _course(name: str, distance: Floats, height: Floats, speed: Floats, notes: list[str]) -> Track:
    """Legs of equal length from points, elevation smoothed; what was wrong with it is told."""
    name = "".join(c if c.isprintable() else " " for c in name)[:80]
    total = float(distance[-1])
    if not 10.0 <= total <= LONGEST_M:
        raise FileError(f"{name} is {total:.4g} m long; accepted: 10 m to {LONGEST_M / 1000:.0f} km")
    known = np.isfinite(height)
    wild = known & (np.abs(np.where(known, height, 0.0)) > HIGHEST_M)
    _note(notes, int(wild.sum()), f"more than {HIGHEST_M:.0f} m high or deep", "taken as without elevation")
    known &= ~wild
    if not known.any():
        notes.append("no elevation in the file: ridden as flat")
        height = np.zeros_like(distance)
    elif not known.all():
        notes.append(f"{int((~known).sum())} points without elevation were filled from their neighbours")
        height = np.interp(distance, distance[known], height[known])
    fine = np.linspace(0.0, total, max(int(total / 5.0), 4) + 1)
    keep = np.concatenate([[True], np.diff(distance) > 1e-6])
    raw = np.interp(fine, distance[keep], height[keep])
    # a running mean over SMOOTH_M, twice: a spike of one point is spread, a hill stays
    width = max(int(SMOOTH_M / (fine[1] - fine[0])) | 1, 1)
    smooth = raw
    for _ in range(2):
        padded = np.concatenate([np.full(width // 2, smooth[0]), smooth, np.full(width // 2, smooth[-1])])
        smooth = np.convolve(padded, np.full(width, 1.0 / width), mode="valid")
    worst = float(np.abs(smooth - raw).max())
    if worst > 8.0:
        notes.append(f"elevation jumps by up to {worst:.0f} m against its surroundings: smoothed over {SMOOTH_M:.0f} m")
    count = min(max(round(total / LEG_M), 1), MOST_LEGS)
    marks = np.linspace(0.0, total, count + 1)
    at = np.interp(marks, fine, smooth)
    run = np.diff(marks)
    grades = np.diff(at) / np.sqrt(np.maximum(run**2 - np.diff(at) ** 2, 1e-6))
    steep = int((np.abs(grades) > STEEPEST).sum())
    if steep:
        notes.append(f"{steep} legs steeper than {STEEPEST:.0%} were held to that")
    grades = np.clip(grades, -STEEPEST, STEEPEST)
    speeds = np.interp((marks[:-1] + marks[1:]) / 2, distance[keep], speed[keep])
    legs: list[CourseLeg] = []
    for length, grade, pace in zip(run, grades, speeds, strict=True):
        leg = CourseLeg(length=float(length), grade=round(float(grade), 4), speed=round(float(min(max(pace, 0.3), 40.0)), 3))
        if legs and abs(legs[-1].grade - leg.grade) < 5e-4 and legs[-1].speed == leg.speed:
            leg = CourseLeg(length=legs[-1].length + leg.length, grade=legs[-1].grade, speed=leg.speed)
            legs.pop()
        legs.append(leg)
    ident = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "-" for c in name).strip("-_")[:40] or "track"
    ident = ident if not ident.isdigit() else f"track-{ident}"
    note = "; ".join(notes)
    return Track(course=Course(id=ident, name=name, legs=tuple(legs), note=note), notes=tuple(notes))
