"""The stock catalogue: parts from the shipped CSV files and from the user's own folder."""

from __future__ import annotations

import csv
import functools
import io
from collections.abc import Callable, Mapping
from dataclasses import field
from pathlib import Path
from types import MappingProxyType
from typing import Any, TypeVar, cast

from wattagon import files
from wattagon.design import codec
from wattagon.design.parts import PART_KINDS, Part
from wattagon.design.tree import check_id
from wattagon.errors import FileError, InputError, PathError
from wattagon.record import record

P = TypeVar("P", bound=Part)
SHIPPED = Path(__file__).resolve().parent.parent / "stock" / "parts"
LARGEST = 8 * 1024 * 1024  # bytes of a table of parts


@record(frozen=True, slots=True, kw_only=True)
class BadRow:
    """A row that was skipped: where, and the sentence why."""

    file: str
    line: int
    reason: str

    def __str__(self) -> str:
        return f"{self.file}, line {self.line}: {self.reason}"


@record(frozen=True, slots=True, kw_only=True)
class Catalogue:
    """All parts by kind and id.  Later files win over earlier ones with the same id."""

    parts: Mapping[type[Part], Mapping[str, Part]]
    bad_rows: tuple[BadRow, ...] = ()
    stamp: tuple[tuple[str, int, int], ...] = field(default=(), compare=False)
    # families sorted once: the levers ask for them at every step
    _index: dict[tuple[str, ...], Any] = field(default_factory=dict, compare=False, repr=False)

    def rows(self, kind: type[P]) -> Mapping[str, P]:
        """Parts of a kind by id, in the order of their tables."""
        return cast("Mapping[str, P]", self.parts[kind])

    def all(self, kind: type[P]) -> list[P]:
        """All parts of a kind."""
        return list(self.rows(kind).values())

    def get(self, kind: type[P], part_id: str) -> P:
        """A part by its id.  Raises PathError with near matches where stock has none."""
        rows = self.rows(kind)
        try:
            return rows[part_id]
        except KeyError:
            import difflib

            near = difflib.get_close_matches(part_id, rows, n=3, cutoff=0.3)
            raise PathError(f"stock has no {kind.stock} called {part_id!r}" + (f"; near: {', '.join(near)}" if near else "")) from None

    def kept(self, key: tuple[str, ...], make: Callable[[], Any]) -> Any:
        """Something that follows from the parts alone, made once."""
        if key not in self._index:
            self._index[key] = make()
        return self._index[key]

    def find(self, part_id: str) -> Part | None:
        """A part of any kind by its id."""
        for rows in self.parts.values():
            if part_id in rows:
                return rows[part_id]
        return None


def own_folder() -> Path:
    """Where the user's own parts are looked for."""
    return files.home_folder("XDG_DATA_HOME", ".local/share") / "wattagon" / "parts"


def load(user_folder: Path | None = None) -> Catalogue:
    """The shipped parts, then those of the user's folder (files named after the kinds, such as motors.csv).

    Bad rows are skipped and reported with file and line; a missing folder is an empty one.
    """
    parts: dict[type[Part], dict[str, Part]] = {kind: {} for kind in PART_KINDS}
    kinds = {kind.stock: kind for kind in PART_KINDS}
    bad: list[BadRow] = []
    stamps = stamp_of(user_folder)
    for name, _, _ in stamps:
        path = Path(name)
        folder, kind = path.parent, kinds[path.stem]
        try:
            text = files.read_bytes(path, LARGEST, "a table of parts").decode("utf-8-sig")
        except (UnicodeDecodeError, FileError) as error:
            bad.append(BadRow(file=path.name, line=0, reason=f"cannot be read as UTF-8 text ({error})"))
        else:
            rows, refused = read_rows(kind, text, path.name, "shipped" if folder == SHIPPED else "own")
            parts[kind].update(rows)
            bad.extend(refused)
    frozen = MappingProxyType({kind: MappingProxyType(rows) for kind, rows in parts.items()})
    return Catalogue(parts=frozen, bad_rows=tuple(bad), stamp=stamps)


def stamp_of(user_folder: Path | None) -> tuple[tuple[str, int, int], ...]:
    """What `load` would note of the files as they are now: a difference means they changed."""
    found = []
    for folder in [SHIPPED] + ([user_folder] if user_folder is not None else []):
        for kind in PART_KINDS:
            path = folder / f"{kind.stock}.csv"
            facts = files.stamp_of(path)  # a folder that may not be looked into is an empty one
            if facts is not None:
                found.append((str(path), facts[2], facts[3]))
    return tuple(found)


def read_rows(cls: type[P], text: str, file: str, source: str) -> tuple[dict[str, P], list[BadRow]]:
    """(parts by id, refused rows) of one CSV text with a header line; lines beginning with # are comments."""
    rows: dict[str, P] = {}
    bad: list[BadRow] = []
    reader = csv.reader(io.StringIO(text))
    plan: list[codec.Member | None] = []
    try:
        for cells in reader:
            if not cells or cells[0].lstrip().startswith("#") or not any(cell.strip() for cell in cells):
                continue
            if not plan:
                plan = _plan(cls, [cell.strip() for cell in cells])
                continue
            try:
                part = _row(cls, plan, cells, source)
            except InputError as refusal:
                bad.append(BadRow(file=file, line=reader.line_num, reason=str(refusal)))
                continue
            rows[part.id] = part
    except csv.Error as error:
        bad.append(BadRow(file=file, line=reader.line_num, reason=f"not readable as CSV ({error})"))
    return rows, bad


def _plan(cls: type[Part], header: list[str]) -> list[codec.Member | None]:
    """What each column fills in, None for one that is not ours; worked out once a file."""
    known = {item.name: item for item in codec.members(cls) if item.name != "source"}
    return [known.get(name) for name in header]


@functools.cache
def _required(cls: type[Part]) -> tuple[str, ...]:
    return tuple(item.name for item in codec.members(cls) if item.required)


def _number(item: codec.Member, text: str) -> float | int:
    try:
        number = float(text)
    except ValueError:
        raise InputError(item.name, repr(text), item.spec.accepted() if item.spec else "a number") from None
    spec = item.spec
    if spec is not None and not spec.low <= number <= spec.high:
        spec.check(item.name, number)  # says why
    if item.type is float:
        return number
    if number != int(number if abs(number) < 1e15 else 0):
        raise InputError(item.name, repr(text), "a whole number")
    return int(number)


def _row(cls: type[P], plan: list[codec.Member | None], cells: list[str], source: str) -> P:
    if len(cells) > len(plan):
        raise InputError("the row", f"{len(cells)} cells long", f"up to {len(plan)}, as many as the header")
    data: dict[str, Any] = {"source": source}
    for item, cell in zip(plan, cells, strict=False):
        text = cell.strip()
        if not text or item is None:
            continue
        kind = item.type
        if kind is float or kind is int:
            data[item.name] = _number(item, text)
        else:
            data[item.name] = text.lower() in ("1", "yes", "true") if kind is bool else text
    for name in _required(cast(Any, cls)):
        if name not in data:
            item = codec.member(cls, name)
            raise InputError(name, "missing", item.spec.accepted() if item is not None and item.spec else "a value")
    part = cls(**data)
    check_id(part.id)
    part.check()
    return part
