"""Autosave: unsaved work in files of its own, found again after a crash."""

from __future__ import annotations

import json
import os
from pathlib import Path

from wattagon.design import file
from wattagon.errors import FileError
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Recovered:
    """Work that an earlier run left behind."""

    path: Path  # of the recovery file
    original: Path | None  # where it belonged, None when it was never saved
    name: str


class Recovery:
    """Recovery files of this process in a folder; one per document."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def _file(self, key: str) -> Path:
        return self.folder / f"{os.getpid()}-{key}.wattagon"

    def keep(self, key: str, document: file.Document, original: Path | None) -> None:
        """Write a document's present state.  Raises FileError."""
        self.folder.mkdir(parents=True, exist_ok=True)
        path = self._file(key)
        file.write(path, document, keep_previous=False)
        facts = {"original": str(original) if original else None, "name": document.design.vehicle.name, "pid": os.getpid()}
        spare = path.with_suffix(".part")
        spare.write_text(json.dumps(facts), encoding="utf-8")
        os.replace(spare, path.with_suffix(".json"))

    def drop(self, key: str) -> None:
        """Forget a document that was saved or closed on purpose."""
        self._file(key).unlink(missing_ok=True)
        self._file(key).with_suffix(".json").unlink(missing_ok=True)

    def left_behind(self) -> list[Recovered]:
        """Files of processes that are no more; broken ones are left out and left alone."""
        found = []
        for path in sorted(self.folder.glob("*.wattagon")) if self.folder.is_dir() else []:
            pid = path.name.split("-", 1)[0]
            if not pid.isdigit() or _alive(int(pid)):
                continue
            try:
                name = file.read(path).design.vehicle.name
            except FileError:
                continue
            original = None
            try:
                facts = json.loads(path.with_suffix(".json").read_text(encoding="utf-8"))
                original = Path(facts["original"]) if facts.get("original") else None
            except (OSError, ValueError, KeyError, AttributeError):
                original = None  # the sidecar is a convenience: without it the work opens as never saved
            found.append(Recovered(path=path, original=original, name=name))
        return found

    def forget(self, item: Recovered) -> None:
        """Remove what was left behind, once it is open again or not wanted."""
        item.path.unlink(missing_ok=True)
        item.path.with_suffix(".json").unlink(missing_ok=True)


def _alive(pid: int) -> bool:
    if pid == os.getpid():
        return True
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
