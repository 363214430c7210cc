"""The history as a table."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from pathlib import Path

from wattagon import files
from wattagon.design.tree import Entry
from wattagon.exchange.units import say

HEAD = (
    *("date", "kind", "text", "on", "variant", "version", "hours", "distance [km]"),
    *("incident", "clears", "replaced", "readings", "pictures"),
)


def history_text(entries: Sequence[Entry]) -> str:
    """CSV text, a row an entry."""
    text = io.StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(HEAD)
    for entry in entries:
        readings = "; ".join(f"{reading.name} {say(reading.value, reading.dimension)}".strip() for reading in entry.readings)
        writer.writerow(
            (
                entry.date,
                entry.kind.value,
                _plain(entry.text),
                " ".join(entry.on),
                entry.variant,
                entry.version,
                "" if entry.hours is None else f"{entry.hours:g}",
                "" if entry.distance is None else f"{entry.distance / 1e3:g}",
                entry.incident or "",
                " ".join(entry.clears),
                " ".join(entry.replaced),
                _plain(readings),
                " ".join(entry.pictures),
            )
        )
    return text.getvalue()


def _plain(text: str) -> str:
    """Free words that a table program does not take for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def write_history(entries: Sequence[Entry], path: Path) -> None:
    """Raises FileError, the older file being there still."""
    files.write_bytes(path, history_text(entries).encode("utf-8"))
