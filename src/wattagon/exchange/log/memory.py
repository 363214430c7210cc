"""Columns by the layout of their table, kept for the person: what was told once is proposed again."""

from __future__ import annotations

import json
from pathlib import Path

from wattagon import files
from wattagon.design.tree import LogColumn
from wattagon.errors import FileError
from wattagon.study.log.channels import CHANNELS

LARGEST, MOST = 1024 * 1024, 200


def place() -> Path:
    """Where they are kept."""
    return files.home_folder("XDG_DATA_HOME", ".local/share") / "wattagon" / "log-columns.json"


def remembered(header: str) -> tuple[LogColumn, ...]:
    """Columns of a layout; none where it is new or the file cannot be read."""
    rows = _all().get(header, [])
    made = []
    for row in rows if isinstance(rows, list) else []:
        if isinstance(row, dict) and isinstance(row.get("head"), str) and row.get("channel", "") in ("", *CHANNELS):
            made.append(LogColumn(head=row["head"], channel=row.get("channel", ""), unit=str(row.get("unit", ""))))
    return tuple(made)


def remember(header: str, columns: tuple[LogColumn, ...]) -> None:
    """Keep the columns of a layout, the newest at the end.  Raises FileError."""
    known = {key: value for key, value in _all().items() if key != header}
    known[header] = [{"head": one.head, "channel": one.channel, "unit": one.unit} for one in columns]
    kept = dict(list(known.items())[-MOST:])
    target = place()
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError(f"{target.parent} cannot be made: {error.strerror or error}") from None
    files.write_bytes(target, json.dumps(kept, indent=1, ensure_ascii=False).encode())


def _all() -> dict[str, object]:
    try:
        found = json.loads(files.read_bytes(place(), LARGEST, "columns of logs"))
    except (FileError, ValueError):
        return {}
    return found if isinstance(found, dict) else {}
