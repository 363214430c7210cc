"""What the program remembers between runs: one record, all defaults in one place."""

from __future__ import annotations

import json
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

from wattagon import files
from wattagon.errors import FileError
from wattagon.record import record

LARGEST = 256 * 1024  # bytes
MOST_RECENT, MOST_OPEN = 8, 30


@record(frozen=True, slots=True)
class Settings:
    """Defaults of everything that can be set."""

    units: str = "metric"
    theme: str = "light"
    recent: tuple[str, ...] = ()
    place: str = ""  # of the window, as it says it itself
    open: tuple[str, ...] = ()  # files of the last run
    bench: str = ""
    practised: tuple[str, ...] = ()  # faults of the stand that this person has found
    sheet_columns: tuple[str, ...] = ()  # heads of key, value and unit in a sheet that was read back


def config_folder() -> Path:
    return files.home_folder("XDG_CONFIG_HOME", ".config") / "wattagon"


def state_folder() -> Path:
    return files.home_folder("XDG_STATE_HOME", ".local/state") / "wattagon"


class SettingsFile:
    """Settings in a small JSON file; a broken one counts as absent."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.trouble = ""  # why they could not be read or kept
        self.values = self._read()

    def _read(self) -> Settings:
        if files.stamp_of(self.path) is None and not _hidden(self.path):
            return Settings()
        try:
            data = json.loads(files.read_bytes(self.path, LARGEST, "settings"))
        except FileError as error:
            self.trouble = f"settings are not used: {error}"
            return Settings()
        except (ValueError, RecursionError):
            data = None
        if not isinstance(data, dict):
            self.trouble = f"settings are not used: {self.path} is damaged"
            return Settings()
        return Settings(
            units=_one_of(data.get("units"), ("metric", "imperial", "nautical")),
            theme=_one_of(data.get("theme"), ("light", "dark")),
            recent=_names(data.get("recent"))[:MOST_RECENT],
            place=_ascii(data.get("place")),
            open=_names(data.get("open"))[:MOST_OPEN],
            bench=_ascii(data.get("bench")),
            practised=_names(data.get("practised"))[:MOST_OPEN],
            sheet_columns=_names(data.get("sheet_columns"))[:3],
        )

    def change(self, **values: Any) -> None:
        """Set values and write them; a folder that cannot be written only loses the memory."""
        self.values = replace(self.values, **values)
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            files.write_bytes(self.path, json.dumps(asdict(self.values)).encode("ascii"))
        except (FileError, OSError, ValueError) as error:
            self.trouble = f"settings are not kept: {error}"


def _one_of(value: Any, accepted: tuple[str, ...]) -> str:
    return value if isinstance(value, str) and value in accepted else accepted[0]


def _names(value: Any) -> tuple[str, ...]:
    """File names that can be shown."""
    items = value if isinstance(value, list) else []
    return tuple(item for item in items if isinstance(item, str) and item.isprintable() and len(item) < 4096)


def _ascii(value: Any) -> str:
    return value if isinstance(value, str) and value.isascii() and len(value) < 4096 else ""


def _hidden(path: Path) -> bool:
    """Whether a file cannot be looked for at all, which is another thing than that it is not there."""
    try:
        path.stat()
    except FileNotFoundError:
        return False
    except (OSError, ValueError):
        return True
    return False
