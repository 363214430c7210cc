"""Autosave: unsaved work in files of its own, found again after a crash.

Each run has a name of its own, drawn at random, and holds a lock as long as it lives: a lock that can be had belonged to a run that ended.
"""

from __future__ import annotations

import fcntl
import json
import os
import secrets
import threading
from contextlib import suppress
from pathlib import Path
from typing import Any

from wattagon import files
from wattagon.design import file
from wattagon.errors import FileError
from wattagon.record import record

LARGEST = 64 * 1024  # bytes of the facts beside a document
LONGEST_NAME = 60


@record(frozen=True, slots=True, kw_only=True)
class Recovered:
    """Work that an earlier run left behind."""

    path: Path  # of the recovery file
    original: Path | None  # where it belonged, None when it was never saved
    name: str
    stamp: files.Stamp | None = None  # of the original when that run read or wrote it


class Recovery:
    """Recovery files of this run in a folder; one per document.  May be used from a thread that writes."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.run = secrets.token_hex(6)
        self.trouble = ""  # why nothing can be kept
        self._lock = -1
        self._claimed: dict[str, int] = {}  # locks of ended runs whose work is on offer here
        self._guard = threading.Lock()
        self._turn: dict[str, int] = {}

    def _file(self, key: str) -> Path:
        return self.folder / f"{self.run}-{key}.wattagon"

    def begin(self) -> None:
        """Make the folder and take this run's lock.  Raises FileError."""
        if self._lock >= 0:
            return
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            self._lock = os.open(self.folder / f"{self.run}.lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        except (OSError, ValueError) as error:
            raise FileError(f"unsaved work cannot be kept in {self.folder}: {getattr(error, 'strerror', None) or error}") from None
        with suppress(OSError):  # a file system without locks
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)

    def turn(self, key: str) -> int:
        """The document's present turn, to be given to `keep`: what was dropped since is not written again."""
        return self._turn.get(key, 0)

    def keep(
        self, key: str, document: file.Document, original: Path | None, stamp: files.Stamp | None = None, turn: int | None = None
    ) -> None:
        """Write a document's present state.  Raises FileError."""
        with self._guard:
            if turn is not None and turn != self.turn(key):
                return
            self.begin()
            path = self._file(key)
            file.write(path, document, keep_previous=False, sure=False)
            facts = {"original": str(original) if original else None, "name": document.design.vehicle.name, "stamp": stamp}
            files.write_bytes(path.with_suffix(".json"), json.dumps(facts).encode("ascii"))

    def drop(self, key: str) -> None:
        """Forget a document that was saved or closed on purpose."""
        with self._guard:
            self._turn[key] = self.turn(key) + 1
            _remove(self._file(key))

    def end(self) -> None:
        """Give the locks back: what is in the folder is offered at the next start."""
        with self._guard:
            for handle in (self._lock, *self._claimed.values()):
                if handle >= 0:
                    os.close(handle)
            self._lock, self._claimed = -1, {}
            if not self._has_work(self.run):
                with suppress(OSError):
                    (self.folder / f"{self.run}.lock").unlink(missing_ok=True)

    def left_behind(self) -> list[Recovered]:
        """Work of runs that are no more, which is then nobody else's to offer; broken files are left out and left alone."""
        try:
            self.begin()
            names = sorted(item.name for item in self.folder.iterdir())
        except (FileError, OSError) as error:
            self.trouble = str(error)
            return []
        self._clean(names)
        found = []
        for run in sorted({name.split("-", 1)[0] for name in names if name.endswith(".wattagon") and "-" in name}):
            if run != self.run and self._claim(run):
                found += [
                    item for name in names if name.startswith(f"{run}-") and name.endswith(".wattagon") and (item := self._recovered(name))
                ]
        return found

    def _clean(self, names: list[str]) -> None:
        """Locks of runs that left nothing, and what they had half written."""
        files.sweep(self.folder)
        busy = {name.split("-", 1)[0] for name in names if name.endswith(".wattagon")}
        for name in names:
            run, ending = name.rsplit(".", 1) if "." in name else (name, "")
            if ending == "lock" and run != self.run and run not in busy and self._claim(run):
                self._let_go(run)

    def _claim(self, run: str) -> bool:
        if run in self._claimed:
            return True
        try:
            handle = os.open(self.folder / f"{run}.lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NONBLOCK, 0o600)
        except OSError:
            return False
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return False
        self._claimed[run] = handle
        return True

    def _let_go(self, run: str) -> None:
        handle = self._claimed.pop(run, -1)
        if handle >= 0:
            with suppress(OSError):
                (self.folder / f"{run}.lock").unlink(missing_ok=True)
            os.close(handle)

    def _recovered(self, name: str) -> Recovered | None:
        path = self.folder / name
        facts = _facts(path.with_suffix(".json"))
        vehicle = facts.get("name")
        if not isinstance(vehicle, str):  # without its facts the work opens as never saved
            try:
                vehicle = file.read(path).design.vehicle.name
            except FileError:
                return None
        original, stamp = facts.get("original"), facts.get("stamp")
        known = isinstance(stamp, list) and len(stamp) == 4 and all(type(part) is int for part in stamp)
        return Recovered(
            path=path,
            original=Path(original) if isinstance(original, str) and original and "\0" not in original else None,
            name="".join(c for c in vehicle if c.isprintable())[:LONGEST_NAME] or "a vehicle without a name",
            stamp=tuple(stamp) if known else None,  # type: ignore[arg-type]
        )

    def forget(self, item: Recovered) -> None:
        """Remove what was left behind, once it is open again or not wanted."""
        _remove(item.path)
        run = item.path.name.split("-", 1)[0]
        if not self._has_work(run):
            self._let_go(run)

    def _has_work(self, run: str) -> bool:
        with suppress(OSError):
            return any(name.startswith(f"{run}-") and name.endswith(".wattagon") for name in os.listdir(self.folder))
        return False


def _remove(path: Path) -> None:
    with suppress(OSError):
        path.unlink(missing_ok=True)
        path.with_suffix(".json").unlink(missing_ok=True)


def _facts(path: Path) -> dict[str, Any]:
    try:
        facts = json.loads(files.read_bytes(path, LARGEST))
    except (FileError, ValueError, RecursionError):
        return {}
    return facts if isinstance(facts, dict) else {}


class OpenFiles:
    """Which files this window has open, by locks that others can see; told only, nobody is kept out."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._held: dict[str, int] = {}

    def _lock(self, path: Path) -> Path:
        import hashlib

        return self.folder / f"{hashlib.sha1(os.fsencode(os.path.realpath(path))).hexdigest()[:20]}.open"

    def take(self, path: Path) -> bool:
        """Mark a file as open here; False when another window has it."""
        lock = self._lock(path)
        if lock.name in self._held:
            return True
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            handle = os.open(lock, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NONBLOCK, 0o600)
        except OSError:
            return True  # nothing can be known; the file's own stamp is looked at before it is saved
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return False
        self._held[lock.name] = handle
        return True

    def leave(self, path: Path) -> None:
        """The file is no longer open here."""
        lock = self._lock(path)
        handle = self._held.pop(lock.name, -1)
        if handle >= 0:
            with suppress(OSError):
                lock.unlink(missing_ok=True)
            os.close(handle)

    def end(self) -> None:
        """Leave every file."""
        for name in list(self._held):
            handle = self._held.pop(name)
            with suppress(OSError):
                (self.folder / name).unlink(missing_ok=True)
            os.close(handle)
