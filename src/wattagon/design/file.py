"""The `.wattagon` file: a zip with design.json and logs; read within bounds, saved whole, the previous version kept."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Mapping
from dataclasses import field, replace
from pathlib import Path
from typing import Any, NoReturn

from wattagon import files
from wattagon.design import codec
from wattagon.design.boats import NO_WHEELS
from wattagon.design.migrations import migrated
from wattagon.design.tree import Design
from wattagon.errors import FileError, InputError
from wattagon.record import record

MEMBER = "design.json"
LARGEST = 6 * 1024 * 1024  # bytes of design.json: its values then stay below 200 MB
LARGEST_FILE = 40 * 1024 * 1024  # of the whole file with its logs
LARGEST_UNPACKED = 64 * 1024 * 1024
LARGEST_LOG = 36 * 1024 * 1024  # packed
PACKED = (".gz", ".jpg", ".jpeg")  # packing these again gains nothing
MOST_MEMBERS = 2000
_FIXED_TIME = (2020, 1, 1, 0, 0, 0)  # so that equal designs give equal files
_OWN_LOG = re.compile(r"logs/[0-9a-f]{16}\.(csv|gpx)\.gz")
_SAID = 12  # set-aside values that are told one by one


@record(frozen=True, slots=True, kw_only=True)
class Document:
    """A design with the other members of its file, kept as they were."""

    design: Design
    members: dict[str, bytes] = field(default_factory=dict)
    aside: tuple[str, ...] = ()  # what could not be read and was left out, a sentence each


def to_json(design: Design) -> str:
    """Readable JSON text of a design."""
    return json.dumps(_without_wheels(codec.encode(design)), indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def _without_wheels(data: dict[str, Any]) -> dict[str, Any]:
    """A boat's data without measures of wheels that nobody took."""
    vehicle = data["vehicle"]
    if "hull" in vehicle:
        neutral = {name: codec.encode(value) for name, value in NO_WHEELS.items()}
        data["vehicle"] = {name: value for name, value in vehicle.items() if neutral.get(name) != value}
    return data


def _with_wheels(data: dict[str, Any]) -> dict[str, Any]:
    """The same filled up again, for the record that boats and wheels share."""
    vehicle = data.get("vehicle")
    if not isinstance(vehicle, dict) or "hull" not in vehicle:
        return data
    return {**data, "vehicle": {**{name: codec.encode(value) for name, value in NO_WHEELS.items()}, **vehicle}}


def _refuse_constant(text: str) -> NoReturn:
    raise ValueError(f"{text} is not a number")


def _real(text: str) -> float:
    number = float(text)
    if math.isinf(number):
        raise ValueError(f"{text[:20]} is too large for a number")
    return number


def _whole(text: str) -> int:
    if len(text) > 30:
        raise ValueError(f"a number of {len(text)} digits")
    return int(text)


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise ValueError(f"{twice[:40]!r} stands twice in one object")
    return found


def parse_json(text: str, name: str) -> Any:
    """JSON values of a text.  Raises FileError: broken syntax, a key twice, numbers that are none, halves of characters."""
    try:
        data = json.loads(text, parse_constant=_refuse_constant, parse_float=_real, parse_int=_whole, object_pairs_hook=_object)
        if "\\u" in text:
            json.dumps(data, ensure_ascii=False).encode("utf-8")
    except json.JSONDecodeError as error:
        raise FileError(f"{name} is not readable: line {error.lineno}, column {error.colno}: {error.msg}") from None
    except RecursionError:
        raise FileError(f"{name} is not readable: it is nested too deeply") from None
    except UnicodeEncodeError:
        raise FileError(f"{name} is not readable: a text in it has half of a character") from None
    except ValueError as error:
        raise FileError(f"{name} is not readable: {error}") from None
    return data


def from_json(text: str, name: str = "design.json", aside: codec.Aside | None = None) -> Design:
    """A design from JSON text.  Raises FileError with a sentence: where it is broken, or which field is wrong.

    With `aside` what can be left out is left out, with a sentence each.
    """
    return from_data(parse_json(text, name), name, aside)


def from_data(data: Any, name: str, aside: codec.Aside | None = None) -> Design:
    """A design from JSON values, migrated to the present schema version."""
    if not isinstance(data, dict):
        raise FileError(f"{name} holds no design: it should begin with a brace")
    now = _with_wheels(migrated(data, name))
    try:
        return codec.decode(Design, now, aside=aside)
    except InputError as refusal:
        raise FileError(f"{name} is refused: {refusal}") from None
    except RecursionError:
        raise FileError(f"{name} is refused: it is nested too deeply") from None


def read(path: Path) -> Document:
    """Open a `.wattagon` file or a bare design.json.  Raises FileError with a sentence; the file is never changed.

    Values that cannot be read are set aside where the design can do without them; `Document.aside` tells each.
    """
    raw = files.read_bytes(path, LARGEST_FILE, "a design")
    if raw[:2] == b"PK":
        return _read_zip(raw, path.name)
    if len(raw) > LARGEST:
        raise FileError(f"{path.name} is too large for a design ({len(raw) // 1048576} MiB; accepted: up to {LARGEST // 1048576})")
    document = _document(_text(raw, path.name), path.name, {})
    return replace(document, members=_beside(path, document.design))


def _beside(path: Path, design: Design) -> dict[str, bytes]:
    """Logs of a bare design, from the folder beside it; one that is not there is missed when it is asked for."""
    found = {}
    for log in design.logs:
        place = path.parent / log.member
        if log.member and place.is_file():
            found[log.member] = files.read_bytes(place, LARGEST_LOG, "a log")
    return found


def _document(text: str, name: str, members: dict[str, bytes]) -> Document:
    aside: codec.Aside = []
    design = from_json(text, name, aside)
    if len(aside) > _SAID:
        aside = [*aside[:_SAID], f"and {len(aside) - _SAID} more"]
    return Document(design=design, members=members, aside=tuple(aside))


def _text(raw: bytes, name: str) -> str:
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FileError(f"{name} is not readable as UTF-8 text (byte {error.start})") from None


def _read_zip(raw: bytes, name: str) -> Document:
    import io  # loaded when a zip is met: the demo and a bare design need none
    import zipfile
    import zlib

    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            entries = [entry for entry in archive.infolist() if not entry.is_dir()]
            names = [entry.filename for entry in entries]
            if MEMBER not in names:
                raise FileError(f"{name} is a zip without {MEMBER}, so it holds no design")
            if len(set(names)) != len(names):
                raise FileError(f"{name} holds a member twice")
            if len(names) > MOST_MEMBERS:
                raise FileError(f"{name} holds {len(names)} members; accepted: up to {MOST_MEMBERS}")
            strange = next((entry for entry in entries if entry.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)), None)
            if strange is not None:  # other ways of packing unpack without a bound
                raise FileError(f"{strange.filename!r} in {name} is packed in a way that is not read; accepted: stored or deflated")
            if archive.getinfo(MEMBER).file_size > LARGEST:
                raise FileError(f"{MEMBER} in {name} is too large for a design; accepted: up to {LARGEST // 1048576} MiB")
            if sum(entry.file_size for entry in entries) > LARGEST_UNPACKED:
                raise FileError(f"{name} unpacks to more than {LARGEST_UNPACKED // 1048576} MiB, so it is no design of ours")
            text = _text(archive.read(MEMBER), f"{MEMBER} in {name}")
            others = {entry.filename: archive.read(entry) for entry in entries if entry.filename != MEMBER}
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, ValueError, OSError, OverflowError) as error:
        raise FileError(f"{name} is damaged and cannot be opened ({error})") from None
    return _document(text, f"{MEMBER} in {name}", others)


def referred(design: Design, members: Mapping[str, bytes]) -> dict[str, bytes]:
    """Members without packed logs of ours that the design does not name any more: one that was taken out, or whose taking in was undone."""
    named = {log.member for log in design.logs}
    return {name: content for name, content in members.items() if name in named or not _OWN_LOG.fullmatch(name)}


def check_room(members: Mapping[str, bytes]) -> None:
    """Raises FileError for logs and pictures that no file would be opened with again."""
    packed = sum(len(content) for name, content in members.items() if name.endswith(PACKED))
    largest = LARGEST_FILE - LARGEST
    if packed > largest:
        raise FileError(
            f"logs and pictures are {packed / 1048576:.0f} MiB together, packed; accepted: up to {largest // 1048576} MiB: "
            "take another log out"
        )


def write(path: Path, document: Document, *, keep_previous: bool = True, sure: bool = True) -> None:
    """Save atomically: a new file beside the old one, flushed to disk, then renamed over it; one previous version is kept.

    A name that ends in .json gets the bare design.  With `sure`, what was written is read back before it takes the old one's place.
    Raises FileError; the old file is then still there.
    """
    text = to_json(document.design)
    if sure:
        document = replace(document, members=referred(document.design, document.members))
        check_room(document.members)
        _read_back(path, text, document.design)
    with files.replacing(path, previous_of(path) if keep_previous else None) as stream:
        raw = text.encode("utf-8", "strict" if sure else "replace")
        if path.suffix == ".json":
            stream.write(raw)
            _write_beside(path, document)
            return
        import zipfile

        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(zipfile.ZipInfo(MEMBER, _FIXED_TIME), raw, zipfile.ZIP_DEFLATED)
            for name, content in document.members.items():
                way = zipfile.ZIP_STORED if name.endswith(PACKED) else zipfile.ZIP_DEFLATED
                archive.writestr(zipfile.ZipInfo(name, _FIXED_TIME), content, way)


def _write_beside(path: Path, document: Document) -> None:
    for log in document.design.logs:
        content, place = document.members.get(log.member), path.parent / log.member
        if content is not None and not place.is_file():
            try:
                place.parent.mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise FileError(f"{place.parent} cannot be made: {error.strerror or error}") from None
            files.write_bytes(place, content)


def _read_back(path: Path, text: str, design: Design) -> None:
    try:
        if len(text.encode("utf-8")) > LARGEST:
            raise FileError(f"it is larger than {LARGEST // 1048576} MiB")
        if from_json(text, "the design") != design:
            raise FileError("a value does not come back as it is")
    except (FileError, UnicodeEncodeError) as refusal:
        raise FileError(f"{path.name} was not saved, since it could not be opened again: {refusal}") from None


def previous_of(path: Path) -> Path:
    """Where the previous version of a file is kept."""
    return files.beside(path, ".previous")
