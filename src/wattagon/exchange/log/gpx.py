"""A recorded track as a log: places, heights and times, and the speed that follows."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np

from wattagon.design.tree import Log, LogKind
from wattagon.errors import FileError
from wattagon.exchange.log.clock import set_clock
from wattagon.exchange.track import apart, fixes, look_over
from wattagon.study.log.data import LogData

SMOOTH_S = 4.0  # over which places are taken for a speed: receivers wander by metres


def read_gpx(raw: bytes, name: str) -> LogData:
    """A log of a GPX file.  Raises FileError for a track without times, or with fewer than three points."""
    import gpxpy
    from gpxpy.gpx import GPXException

    look_over(raw, Path(name))
    try:
        parsed = gpxpy.parse(raw)
    except (GPXException, ValueError, OverflowError, RecursionError) as error:
        raise FileError(f"{name} cannot be read as GPX: {str(error)[:160]}") from None
    points: list[Any] = [point for track in parsed.tracks for segment in track.segments for point in segment.points]
    if len(points) < 3:
        raise FileError(f"{name} has {len(points)} track points; accepted: three or more with times")
    lat, lon = (np.array([getattr(point, what) for point in points], dtype=float) for what in ("latitude", "longitude"))
    height = np.array([math.nan if point.elevation is None else point.elevation for point in points], dtype=float)
    times = np.array([math.nan if point.time is None else point.time.timestamp() for point in points], dtype=float)
    told: list[str] = []
    kept = fixes(lat, lon, told)
    if np.isfinite(times[kept]).sum() < 3:
        raise FileError(f"{name} has no times: a course can be made of it in the Ride, but it is no log")
    clock = set_clock(times[kept], False)
    rows = kept[clock.kept]
    steps = apart(lat[rows[:-1]], lon[rows[:-1]], lat[rows[1:]], lon[rows[1:]])
    distance = np.concatenate([[0.0], np.cumsum(steps)])
    half = 0.5 * SMOOTH_S
    begin, end = np.maximum(clock.time - half, clock.time[0]), np.minimum(clock.time + half, clock.time[-1])
    way = np.interp(end, clock.time, distance) - np.interp(begin, clock.time, distance)
    speed = way / np.maximum(end - begin, 1e-3)
    told += clock.told
    told.append(f"speed follows from the places over {SMOOTH_S:g} s")
    columns = {"latitude": lat[rows], "longitude": lon[rows], "distance": distance, "speed": speed}
    if np.isfinite(height[rows]).sum() > 2:
        columns["elevation"] = height[rows]
    return LogData(log=Log(id="new", kind=LogKind.TRACK), time=clock.time, columns=columns, told=tuple(told))
