"""Readings of a test from a CSV table: columns by their heads, a unit in a head or in a cell."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import fields
from pathlib import Path
from typing import Any, TypeVar

from wattagon import files
from wattagon.errors import FileError, InputError
from wattagon.exchange import units

Row = TypeVar("Row")
LARGEST, MOST = 1024 * 1024, 200
ALSO = {"advance": ("j",), "thrust": ("kt", "k_t"), "torque": ("kq", "k_q", "10kq"), "volts": ("v",), "amps": ("a", "current")}
_HEAD = re.compile(r"(?P<name>[^\[(,]*[^\[(,\s])\s*(?:[\[(,]\s*(?P<unit>[^\])]*)[\])]?)?")


def read_readings(path: Path, kind: type[Row], unit_set: str = "metric") -> tuple[Row, ...]:
    """Rows of a test from a file: under heads with their names (`speed [kn]`), or in their order without; numbers in the user's units.

    A head `10KQ` is ten times the torque coefficient, as such tables are often given.  Raises FileError with the row that is wrong.
    """
    try:
        text = files.read_bytes(path, LARGEST, "a table").decode("utf-8-sig")
        first = next((line for line in text.splitlines() if line.strip() and not line.startswith("#")), "")
        apart = ";" if ";" in first else "\t" if "\t" in text else ","
        lines = [(n, [cell.strip() for cell in row]) for n, row in enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=apart), 1)]
    except (UnicodeDecodeError, csv.Error) as error:
        raise FileError(f"{path} cannot be read as CSV: {error}") from None
    lines = [(n, row) for n, row in lines if any(row) and not row[0].startswith("#")]
    asked = {item.name: item.metadata["spec"] for item in fields(kind) if "spec" in item.metadata}  # type: ignore[arg-type]
    places = {name: (k, "", 1.0) for k, name in enumerate(asked)}
    if lines and next(cell for cell in lines[0][1] if cell)[0] not in "0123456789+-.":
        places, lines = _heads(path, lines[0][1], asked), lines[1:]
    if not lines or len(lines) > MOST:
        raise FileError(f"{path} has {len(lines)} readings; accepted: 1 to {MOST}")
    made = []
    for n, row in lines:
        values: dict[str, Any] = {}
        for name, (k, unit, share) in places.items():
            cell = row[k] if k < len(row) else ""
            try:
                bare = cell.replace(",", ".") if apart != "," else cell
                words = f"{bare} {unit}" if unit and bare[-1:].isdigit() else bare
                values[name] = share * units.parse(words, asked[name].dimension, unit_set, field=asked[name].label)
                asked[name].check(asked[name].label, values[name])
            except InputError as refusal:
                raise FileError(f"{path}, row {n}: {refusal}") from None
        made.append(kind(**values))
    return tuple(made)


def _heads(path: Path, heads: list[str], asked: dict[str, Any]) -> dict[str, tuple[int, str, float]]:
    """(column, unit in its head, factor) of each value; other columns are passed over."""
    places: dict[str, tuple[int, str, float]] = {}
    for k, head in enumerate(heads):
        match = _HEAD.fullmatch(head)
        if match is None:
            continue
        said, unit = match["name"].lower(), (match["unit"] or "").strip()
        for name, spec in asked.items():
            if name not in places and said in (name, spec.label.lower(), *ALSO.get(name, ())):
                places[name] = (k, unit, 0.1 if said.startswith("10") else 1.0)
                break
    lacking = [spec.label for name, spec in asked.items() if name not in places]
    if lacking:
        raise FileError(
            f"{path} has the columns {', '.join(heads)[:120]}; missing: {', '.join(lacking)}; "
            f"accepted heads: {', '.join('/'.join((name, *ALSO.get(name, ()))) for name in asked)}"
        )
    return places
