"""A ride as a CSV table, units in the header."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from pathlib import Path

from wattagon import files
from wattagon.exchange.units import unit_of
from wattagon.physics.ride.names import Col
from wattagon.physics.ride.plant import RIDE_LIMITS
from wattagon.study.ride.study import Ride

# heading, column, dimension, whether it is a DC-equivalent motor current shown in the controller's amps
COLUMNS: tuple[tuple[str, Col, str, bool], ...] = (
    ("time", Col.TIME, "time", False),
    ("distance", Col.DISTANCE, "height", False),
    ("speed", Col.SPEED, "speed", False),
    ("grade", Col.GRADE, "grade", False),
    ("command", Col.COMMAND, "count", False),
    ("motor current", Col.DC_A, "current", True),
    ("motor current allowed", Col.CEILING_A, "current", True),
    ("pack current", Col.PACK_A, "current", False),
    ("bus voltage", Col.BUS_V, "voltage", False),
    ("duty", Col.DUTY, "count", False),
    ("tread force", Col.FORCE, "force", False),
    ("charge", Col.CHARGE, "share", False),
    ("winding", Col.WINDING, "temperature", False),
    ("motor case", Col.CASE, "temperature", False),
    ("controller", Col.CONTROLLER, "temperature", False),
    ("pack", Col.PACK_T, "temperature", False),
    ("boost used", Col.BUCKET, "share", False),
    ("gear", Col.GEAR, "count", False),
)


def write_csv(ride: Ride, path: Path, unit_set: str = "metric") -> None:
    """One row for each row of the trace, in the units of a set.  Raises FileError, the older file being there still."""
    heads, makers = [], []
    for name, column, dimension, amps in COLUMNS:
        unit = unit_of(dimension, unit_set)
        heads.append(f"{name} [{unit.text}]" if unit.text else name)
        scale = unit.per_si / (ride.resolved.train.motor.dc_per_motor_amp if amps else 1.0)
        makers.append((int(column), scale, unit.offset))
    row_of: Callable[..., list[str]] = lambda row: [f"{row[k] * scale + offset:.6g}" for k, scale, offset in makers]
    text = io.StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow([*heads, "limit"])
    for row in ride.run.trace:
        limit = int(row[Col.LIMIT])
        writer.writerow([*row_of(row), RIDE_LIMITS[limit] if limit >= 0 else ""])
    files.write_bytes(path, text.getvalue().encode("utf-8"))
