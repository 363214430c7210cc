"""The `.wattagon` file: a zip with design.json and logs; atomic save, the previous version kept, recovery files."""

from __future__ import annotations

import json
import os
from dataclasses import field
from pathlib import Path
from typing import Any

from wattagon.design import codec
from wattagon.design.paths import OVERRIDABLE
from wattagon.design.tree import SCHEMA_VERSION, Design
from wattagon.errors import FileError, InputError
from wattagon.record import record

MEMBER = "design.json"
LARGEST = 64 * 1024 * 1024  # bytes of design.json: beyond that it is not one of ours
_FIXED_TIME = (2020, 1, 1, 0, 0, 0)  # so that equal designs give equal files


@record(frozen=True, slots=True, kw_only=True)
class Document:
    """A design with the other members of its file, kept as they were."""

    design: Design
    members: dict[str, bytes] = field(default_factory=dict)


def to_json(design: Design) -> str:
    """Readable JSON text of a design."""
    return json.dumps(codec.encode(design), indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def from_json(text: str, name: str = "design.json") -> Design:
    """A design from JSON text.  Raises FileError with a sentence: where it is broken, or which field is wrong."""
    try:
        data = json.loads(text)
    except json.JSONDecodeError as error:
        raise FileError(f"{name} is not readable: line {error.lineno}, column {error.colno}: {error.msg}") from None
    except RecursionError:
        raise FileError(f"{name} is not readable: it is nested too deeply") from None
    return from_data(data, name)


def from_data(data: Any, name: str) -> Design:
    """A design from JSON values, migrated to the present schema version."""
    if not isinstance(data, dict):
        raise FileError(f"{name} holds no design: it should begin with a brace")
    version = data.get("schema_version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise FileError(f"{name} has no schema_version, so it is not a Wattagon design")
    if version > SCHEMA_VERSION:
        raise FileError(
            f"{name} was written by a newer Wattagon (schema version {version}; this one reads up to {SCHEMA_VERSION}); "
            "the file was left as it is"
        )
    try:
        design = codec.decode(Design, data)
        _check_overrides(design)
    except InputError as refusal:
        raise FileError(f"{name} is refused: {refusal}") from None
    except RecursionError:
        raise FileError(f"{name} is refused: it is nested too deeply") from None
    return design


def _check_overrides(design: Design) -> None:
    for variant in design.variants:
        for choice in (variant.motor, variant.controller, variant.pack, variant.wheel):
            if choice is None:
                continue
            for key, quantity in choice.overrides.items():
                item = codec.member(OVERRIDABLE[type(choice)], key)
                where = f"variants.{variant.id}.{type(choice).__name__.removesuffix('Choice').lower()}.overrides.{key}"
                if item is None or item.type not in (int, float):
                    raise InputError(where, "not a value of this kind of part", "the name of one of its numbers")
                if item.spec is not None:
                    item.spec.check(where, quantity.value)


def read(path: Path) -> Document:
    """Open a `.wattagon` file or a bare design.json.  Raises FileError with a sentence; the file is never changed."""
    try:
        with path.open("rb") as stream:
            start = stream.read(4)
            stream.seek(0)
            if start[:2] == b"PK":
                return _read_zip(path)
            raw = stream.read(LARGEST + 1)
    except FileNotFoundError:
        raise FileError(f"{path} is not there") from None
    except OSError as error:
        raise FileError(f"{path} cannot be read: {error.strerror or error}") from None
    if len(raw) > LARGEST:
        raise FileError(f"{path.name} is too large for a design ({len(raw) // 1048576} MiB)")
    return Document(design=from_json(_text(raw, path.name), path.name))


def _text(raw: bytes, name: str) -> str:
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileError(f"{name} is not readable as UTF-8 text (byte {error.start})") from None


def _read_zip(path: Path) -> Document:
    import zipfile  # loaded when a zip is met: the demo and a bare design need none
    import zlib

    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
            if MEMBER not in names:
                raise FileError(f"{path.name} is a zip without {MEMBER}, so it holds no design")
            if archive.getinfo(MEMBER).file_size > LARGEST:
                raise FileError(f"{MEMBER} in {path.name} is too large for a design")
            text = _text(archive.read(MEMBER), f"{MEMBER} in {path.name}")
            others = {name: archive.read(name) for name in names if name != MEMBER and not name.endswith("/")}
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, ValueError, OSError) as error:
        raise FileError(f"{path.name} is damaged and cannot be opened ({error})") from None
    return Document(design=from_json(text, f"{MEMBER} in {path.name}"), members=others)


def write(path: Path, document: Document, *, keep_previous: bool = True) -> None:
    """Save atomically: a new file beside the old one, flushed to disk, then renamed over it; one previous version is kept.

    A name that ends in .json gets the bare design.  Raises FileError; the old file is then still there.
    """
    import tempfile
    import zipfile

    folder = path.parent
    text = to_json(document.design)
    temporary = None
    try:
        descriptor, temporary = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=folder)
        with os.fdopen(descriptor, "wb") as stream:
            if path.suffix == ".json":
                stream.write(text.encode("utf-8"))
            else:
                with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
                    archive.writestr(zipfile.ZipInfo(MEMBER, _FIXED_TIME), text, zipfile.ZIP_DEFLATED)
                    for name, raw in document.members.items():
                        archive.writestr(zipfile.ZipInfo(name, _FIXED_TIME), raw, zipfile.ZIP_DEFLATED)
            stream.flush()
            os.fsync(stream.fileno())
        if path.exists():
            os.chmod(temporary, path.stat().st_mode & 0o777)
            if keep_previous:
                _keep_previous(path)
        else:
            mask = os.umask(0)
            os.umask(mask)
            os.chmod(temporary, 0o666 & ~mask)
        os.replace(temporary, path)
        temporary = None
        _sync_folder(folder)
    except OSError as error:
        raise FileError(f"{path} cannot be saved: {error.strerror or error}") from None
    finally:
        if temporary is not None and os.path.exists(temporary):
            os.unlink(temporary)


def previous_of(path: Path) -> Path:
    """Where the previous version of a file is kept."""
    return path.with_name(path.name + ".previous")


def _keep_previous(path: Path) -> None:
    # a hard link first, then a rename: at no instant is there neither file
    spare = previous_of(path).with_name(previous_of(path).name + ".part")
    spare.unlink(missing_ok=True)
    try:
        os.link(path, spare)
    except OSError:  # a file system without hard links
        import shutil

        shutil.copy2(path, spare)
    os.replace(spare, previous_of(path))


def _sync_folder(folder: Path) -> None:
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return  # a folder that cannot be opened cannot be flushed; the file itself was
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
