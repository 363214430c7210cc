"""Reading and writing files so that nothing hangs, nothing is half written and nothing old is lost."""

from __future__ import annotations

import os
import stat
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import BinaryIO

from wattagon.errors import FileError

LONGEST_NAME = 255  # bytes, of one name on the usual file systems
FRESH_S = 5.0  # a part file that is younger may belong to a save that goes on
Stamp = tuple[int, int, int, int]  # device, inode, time and size: another one means that someone else wrote the file


def _what_else(mode: int) -> str:
    kinds: tuple[tuple[Callable[[int], bool], str], ...] = (
        (stat.S_ISDIR, "a folder"),
        (stat.S_ISFIFO, "a pipe"),
        (stat.S_ISSOCK, "a socket"),
        (stat.S_ISCHR, "a device"),
        (stat.S_ISBLK, "a device"),
    )
    return next((words for of_kind, words in kinds if of_kind(mode)), "no ordinary file")


def _shown(path: Path) -> str:
    """A path as it can stand in a sentence: printable and not endless."""
    text = str(path).encode("utf-8", "replace").decode("utf-8")
    text = "".join(c if c.isprintable() else "\N{REPLACEMENT CHARACTER}" for c in text)
    return text if len(text) <= 160 else f"{text[:60]} … {text[-80:]}"


def read_bytes(path: Path, largest: int, what: str = "this") -> bytes:
    """The whole of an ordinary file of at most `largest` bytes.  Raises FileError; pipes and devices are never waited for."""
    shown = _shown(path)
    try:
        # without O_NONBLOCK opening a pipe that nobody writes to would wait for ever
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except FileNotFoundError:
        raise FileError(f"{shown} is not there") from None
    except ValueError:
        raise FileError(f"{shown} cannot be a file's name") from None
    except OSError as error:
        raise FileError(f"{shown} cannot be read: {error.strerror or error}") from None
    try:
        facts = os.fstat(handle)
        if not stat.S_ISREG(facts.st_mode):
            raise FileError(f"{shown} is {_what_else(facts.st_mode)}; accepted: an ordinary file")
        if facts.st_size > largest:
            raise FileError(
                f"{shown} is too large for {what}: {facts.st_size / 1048576:.0f} MiB; accepted: up to {largest / 1048576:.0f} MiB"
            )
        with os.fdopen(os.dup(handle), "rb") as stream:
            raw = stream.read(largest + 1)
    except OSError as error:
        raise FileError(f"{shown} cannot be read: {error.strerror or error}") from None
    finally:
        os.close(handle)
    if len(raw) > largest:
        raise FileError(f"{shown} is too large for {what}; accepted: up to {largest / 1048576:.0f} MiB")
    return raw


def stamp_of(path: Path) -> Stamp | None:
    """What tells one state of a file from another; None where there is none."""
    try:
        facts = os.stat(path)
    except (OSError, ValueError):
        return None
    return facts.st_dev, facts.st_ino, facts.st_mtime_ns, facts.st_size


def beside(path: Path, ending: str) -> Path:
    """A name next to a file's own with an ending added; shortened where it would be too long for the file system."""
    name = path.name + ending
    if len(os.fsencode(name)) <= LONGEST_NAME:
        return path.with_name(name)
    import hashlib

    raw = os.fsencode(path.name)
    mark = hashlib.sha1(raw).hexdigest()[:8]
    return path.with_name(os.fsdecode(raw[:120]).encode("utf-8", "ignore").decode("utf-8") + "-" + mark + ending)


@contextmanager
def replacing(path: Path, keep: Path | None = None) -> Iterator[BinaryIO]:
    """A stream whose content takes the place of a file once it is whole and on the disk; `keep` then has the version before.

    Links are followed and stay links; a file that nobody may write stays as it is.  Raises FileError, the old file being there still.
    """
    import fcntl
    import tempfile

    shown = _shown(path)
    temporary = ""
    try:
        target = Path(os.path.realpath(path))
        mode = _mode_of(target)
        if mode is not None and not mode & 0o222:
            raise FileError(f"{shown} is read-only and was left as it is; save under another name")
        prefix = _prefix(target)
        sweep(target.parent, prefix)
        descriptor, temporary = tempfile.mkstemp(prefix=prefix, suffix=".part", dir=target.parent)
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)  # until it is closed: nobody sweeps it away
        with os.fdopen(descriptor, "wb") as stream:
            yield stream
            stream.flush()
            os.fsync(stream.fileno())
            if mode is not None:
                os.chmod(temporary, mode & 0o777)
                if keep is not None:
                    _link_or_copy(target, keep)
            else:
                mask = os.umask(0)
                os.umask(mask)
                os.chmod(temporary, 0o666 & ~mask)
            os.replace(temporary, target)
        temporary = ""
        _sync_folder(target.parent)
    except ValueError as error:
        raise FileError(f"{shown} cannot be saved: {error}") from None
    except OSError as error:
        raise FileError(f"{shown} cannot be saved: {error.strerror or error}") from None
    finally:
        if temporary:
            _drop(Path(temporary))


def write_bytes(path: Path, raw: bytes) -> None:
    """Write a whole file in the place of what was there.  Raises FileError, the old file being there still."""
    with replacing(path) as stream:
        stream.write(raw)


def _mode_of(target: Path) -> int | None:
    try:
        mode = os.stat(target).st_mode
    except FileNotFoundError:
        return None
    if not stat.S_ISREG(mode):
        raise FileError(f"{_shown(target)} is {_what_else(mode)} and cannot be written over")
    return mode


def _prefix(target: Path) -> str:
    import hashlib

    return f".{hashlib.sha1(os.fsencode(target.name)).hexdigest()[:12]}-"


def sweep(folder: Path, prefix: str = ".") -> None:
    """Remove what a killed run left half written in a folder; what is being written is locked and stays."""
    import fcntl

    for left in folder.glob(f"{prefix}*.part"):
        try:
            if time.time() - left.stat().st_mtime < FRESH_S:
                continue
            handle = os.open(left, os.O_RDONLY | os.O_NONBLOCK)
        except OSError:
            continue
        try:
            with suppress(OSError):  # in use
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
                left.unlink(missing_ok=True)
        finally:
            os.close(handle)


def _drop(path: Path) -> None:
    with suppress(OSError):  # else swept away by the next save
        path.unlink(missing_ok=True)


def _link_or_copy(path: Path, keep: Path) -> None:
    # a hard link first, then a rename: at no instant is there neither file
    spare = beside(keep, ".part")
    spare.unlink(missing_ok=True)
    try:
        os.link(path, spare)
    except OSError:  # a file system without hard links
        import shutil

        shutil.copy2(path, spare)
    os.replace(spare, keep)


def _sync_folder(folder: Path) -> None:
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return  # a folder that cannot be opened cannot be flushed; the file itself was
    try:
        with suppress(OSError):  # some network file systems flush no folders
            os.fsync(handle)
    finally:
        os.close(handle)


def home_folder(variable: str, else_under_home: str) -> Path:
    """A base folder as the environment names it, else where it usually is; the current folder where there is no home at all."""
    named = os.environ.get(variable)
    if named:
        return Path(named)
    try:
        return Path.home() / else_under_home
    except RuntimeError:
        return Path(else_under_home)
