"""Courses from files: GPX tracks with their elevation, and CSV tables of distance, elevation and speed."""

from __future__ import annotations

import csv
import math
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wattagon.design.tree import Course, CourseLeg
from wattagon.errors import FileError
from wattagon.record import record

LEG_M = 25.0  # tracks are cut into legs of this length
SMOOTH_M = 60.0  # over which elevation is averaged: consumer elevation wanders by metres over tens of metres
STEEPEST = 0.35
GAP_M = 500.0
EARTH_M = 6371008.8  # mean radius


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

    try:
        with path.open(encoding="utf-8") as stream:
            parsed = gpxpy.parse(stream)
    except (GPXException, UnicodeDecodeError, ValueError, OSError) as error:
        raise FileError(f"{path} cannot be read as GPX: {error}") from None
    points = [point for track in parsed.tracks for segment in track.segments for point in segment.points]
    points = points or [point for route in parsed.routes for point in route.points]
    if len(points) < 2:
        raise FileError(f"{path} has {len(points)} track points; accepted: two or more in a track or a route")
    lat = np.radians([point.latitude for point in points])
    lon = np.radians([point.longitude for point in points])
    half = np.sin(np.diff(lat) / 2) ** 2 + np.cos(lat[:-1]) * np.cos(lat[1:]) * np.sin(np.diff(lon) / 2) ** 2
    steps = 2.0 * EARTH_M * np.arcsin(np.sqrt(half))
    distance = np.concatenate([[0.0], np.cumsum(steps)])
    height = np.array([math.nan if point.elevation is None else point.elevation for point in points], dtype=float)
    notes = []
    if float(steps.max()) > GAP_M:
        notes.append(f"a gap of {steps.max():.0f} m was bridged by a straight line")
    return _course(path.stem, distance, height, np.full(distance.shape, speed_m_s), notes)


_COLUMNS = {
    "distance": ("distance_m", "distance", "x_m"),
    "height": ("elevation_m", "elevation", "ele", "height_m"),
    "speed": ("speed_m_s", "speed"),
}


def _csv(path: Path, speed_m_s: float) -> Track:
    try:
        with path.open(encoding="utf-8-sig", newline="") as stream:
            rows = [row for row in csv.reader(stream) if row and not row[0].lstrip().startswith("#")]
    except (UnicodeDecodeError, csv.Error, OSError) as error:
        raise FileError(f"{path} cannot be read as CSV: {error}") from None
    if len(rows) < 3:
        raise FileError(f"{path} has {max(len(rows) - 1, 0)} rows; accepted: a header line and two rows or more")
    header = [cell.strip().lower() for cell in rows[0]]
    found = {name: next((header.index(n) for n in names if n in header), -1) for name, names in _COLUMNS.items()}
    if found["distance"] < 0:
        raise FileError(
            f"{path} has the columns {', '.join(header)}; accepted: distance_m, and if known elevation_m and speed_m_s"
        )

    def column(name: str, default: float) -> NDArray[np.float64]:
        at = found[name]
        if at < 0:
            return np.full(len(rows) - 1, default)
        values = []
        for line, row in enumerate(rows[1:], 2):
            text = row[at].strip() if at < len(row) else ""
            try:
                values.append(float(text) if text else math.nan)
            except ValueError:
                raise FileError(f"{path}, row {line}: {header[at]} is {text!r}; accepted: a number in SI") from None
        return np.array(values, dtype=float)

    distance, height, speed = column("distance", math.nan), column("height", 0.0), column("speed", speed_m_s)
    if not np.all(np.isfinite(distance)) or np.any(np.diff(distance) < 0):
        bad = int(np.flatnonzero(~np.isfinite(distance) | np.concatenate([[False], np.diff(distance) < 0]))[0]) + 2
        raise FileError(f"{path}, row {bad}: distance_m must be a number and never fall")
    speed = np.where(np.isfinite(speed) & (speed > 0.3), speed, speed_m_s)
    return _course(path.stem, distance - distance[0], height, speed, [])


def _course(
    name: str, distance: NDArray[np.float64], height: NDArray[np.float64], speed: NDArray[np.float64], notes: list[str]
) -> Track:
    """Legs of equal length from points, elevation smoothed; what was wrong with it is told."""
    total = float(distance[-1])
    if total < 10.0:
        raise FileError(f"{name} is {total:.1f} m long; accepted: 10 m or more")
    known = np.isfinite(height)
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
    count = max(round(total / LEG_M), 1)
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
    ident = "".join(c if c.isalnum() or c in "-_" else "-" for c in name).strip("-")[:40] or "track"
    ident = ident if not ident.isdigit() else f"track-{ident}"
    note = "; ".join(notes)
    return Track(course=Course(id=ident, name=name, legs=tuple(legs), note=note), notes=tuple(notes))
