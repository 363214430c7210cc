"""The stock catalogue: parts from the shipped CSV files and from the user's own folder."""

from __future__ import annotations

import csv
import functools
import io
from collections.abc import Callable, Iterable, Mapping
from dataclasses import field
from pathlib import Path
from types import MappingProxyType
from typing import Any, TypeVar, cast

from wattagon import files
from wattagon.design import codec
from wattagon.design.parts import (
    PART_KINDS,
    CellPart,
    ControllerPart,
    LoopPart,
    MotorPart,
    Part,
    ProfilePart,
    ToothedPart,
    WheelPart,
)
from wattagon.design.tree import check_id
from wattagon.errors import FileError, InputError, PathError
from wattagon.physics.pack import CHEMISTRIES
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

    parts: Mapping[str, Mapping[str, Part]]
    bad_rows: tuple[BadRow, ...] = ()
    stamp: tuple[tuple[str, int, int], ...] = field(default=(), compare=False)
    # families sorted once: the levers ask for them at every step
    _index: dict[tuple[str, str, str], list[Any]] = field(default_factory=dict, compare=False, repr=False)

    def _get(self, kind: str, part_id: str) -> Part:
        try:
            return self.parts[kind][part_id]
        except KeyError:
            import difflib

            near = difflib.get_close_matches(part_id, self.parts[kind], n=3, cutoff=0.3)
            raise PathError(
                f"stock has no {kind} called {part_id!r}" + (f"; near: {', '.join(near)}" if near else "")
            ) from None

    def motor(self, part_id: str) -> MotorPart:
        return cast(MotorPart, self._get("motors", part_id))

    def controller(self, part_id: str) -> ControllerPart:
        return cast(ControllerPart, self._get("controllers", part_id))

    def cell(self, part_id: str) -> CellPart:
        return cast(CellPart, self._get("cells", part_id))

    def wheel(self, part_id: str) -> WheelPart:
        return cast(WheelPart, self._get("wheels", part_id))

    def profile(self, part_id: str) -> ProfilePart:
        return cast(ProfilePart, self._get("profiles", part_id))

    def motors(self) -> list[MotorPart]:
        return cast("list[MotorPart]", list(self.parts["motors"].values()))

    def controllers(self) -> list[ControllerPart]:
        return cast("list[ControllerPart]", list(self.parts["controllers"].values()))

    def cells(self) -> list[CellPart]:
        return cast("list[CellPart]", list(self.parts["cells"].values()))

    def wheels(self) -> list[WheelPart]:
        return cast("list[WheelPart]", list(self.parts["wheels"].values()))

    def toothed(self, profile: str, role: str) -> list[ToothedPart]:
        """Pulleys or sprockets of a family for a role (driver or driven), by teeth."""
        every = cast("Iterable[ToothedPart]", self.parts["toothed"].values())
        fits = lambda p: p.profile == profile and p.role in (role, "both")
        return cast(
            "list[ToothedPart]", self.kept(("toothed", profile, role), lambda: sorted(filter(fits, every), key=lambda p: p.teeth))
        )  # fmt: skip

    def loops(self, profile: str) -> list[LoopPart]:
        """Belts or chain of a family, by length."""
        every = cast("Iterable[LoopPart]", self.parts["loops"].values())
        make = lambda: sorted((p for p in every if p.profile == profile), key=lambda p: p.teeth)
        return cast("list[LoopPart]", self.kept(("loops", profile, ""), make))

    def kept(self, key: tuple[str, str, str], make: Callable[[], Any]) -> Any:
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
    parts: dict[str, dict[str, Part]] = {kind: {} for kind in PART_KINDS}
    bad: list[BadRow] = []
    stamps = stamp_of(user_folder)
    for name, _, _ in stamps:
        path = Path(name)
        folder, kind = path.parent, path.stem
        try:
            text = files.read_bytes(path, LARGEST, "a table of parts").decode("utf-8-sig")
        except (UnicodeDecodeError, FileError) as error:
            bad.append(BadRow(file=path.name, line=0, reason=f"cannot be read as UTF-8 text ({error})"))
        else:
            rows, refused = read_rows(PART_KINDS[kind], text, path.name, "shipped" if folder == SHIPPED else "own")
            parts[kind].update(rows)
            bad.extend(refused)
    frozen = MappingProxyType({kind: MappingProxyType(rows) for kind, rows in parts.items()})
    return Catalogue(parts=frozen, bad_rows=tuple(bad), stamp=stamps)


def stamp_of(user_folder: Path | None) -> tuple[tuple[str, int, int], ...]:
    """What `load` would note of the files as they are now: a difference means they changed."""
    found = []
    for folder in [SHIPPED] + ([user_folder] if user_folder is not None else []):
        for kind in PART_KINDS:
            path = folder / f"{kind}.csv"
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
    if isinstance(part, CellPart) and part.chemistry not in CHEMISTRIES:
        raise InputError("chemistry", part.chemistry, ", ".join(CHEMISTRIES))
    return part
