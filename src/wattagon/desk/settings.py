"""What the program remembers between runs: one record, all defaults in one place."""

from __future__ import annotations

import json
import os
from dataclasses import asdict, fields, replace
from pathlib import Path
from typing import Any

from wattagon.record import record


@record(frozen=True, slots=True)
class Settings:
    """Defaults of everything that can be set."""

    units: str = "metric"
    theme: str = "light"
    recent: tuple[str, ...] = ()


def config_folder() -> Path:
    return Path(os.environ.get("XDG_CONFIG_HOME") or Path.home() / ".config") / "wattagon"


def state_folder() -> Path:
    return Path(os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state") / "wattagon"


class SettingsFile:
    """Settings in a small JSON file; a broken one counts as absent."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.values = self._read()

    def _read(self) -> Settings:
        try:
            data = json.loads(self.path.read_text(encoding="utf-8"))
        except (OSError, ValueError):
            return Settings()
        known = {item.name for item in fields(Settings)}
        kept: dict[str, Any] = {key: value for key, value in data.items() if key in known} if isinstance(data, dict) else {}
        if "recent" in kept:
            kept["recent"] = tuple(str(item) for item in kept["recent"] if isinstance(item, str))
        made = replace(Settings(), **kept)
        units_known, theme_known = made.units in ("metric", "imperial", "nautical"), made.theme in ("light", "dark")
        return replace(made, units=made.units if units_known else "metric", theme=made.theme if theme_known else "light")

    def change(self, **values: Any) -> None:
        """Set values and write them; a folder that cannot be written only loses the memory."""
        self.values = replace(self.values, **values)
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            spare = self.path.with_suffix(".part")
            spare.write_text(json.dumps(asdict(self.values)), encoding="utf-8")
            os.replace(spare, self.path)
        except OSError as error:
            import logging

            logging.getLogger(__name__).warning("settings not kept: %s", error)
