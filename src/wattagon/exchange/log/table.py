"""A text table of any separator, decimal mark and head as columns of numbers; what could not be read is counted and told."""

from __future__ import annotations

import io
import re
from collections import Counter
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wattagon.errors import FileError
from wattagon.record import record

Floats = NDArray[np.float64]
MOST_ROWS, MOST_COLUMNS, CHUNK = 4_000_000, 200, 131_072
LOOKED_AT = 60  # lines from which the layout is found
SMALL = 4_000_000  # bytes up to which every line is looked at by itself
_NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
_CLOCK = re.compile(r"^(\d{4}-\d{2}-\d{2}[T ])?\d{1,2}:\d{2}(:\d{2}([.,]\d+)?)?(Z|[+-]\d{2}:?\d{2})?$")
_LEADING = re.compile(r"^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?)")
NONE = ("", "nan", "na", "n/a", "null", "none", "-", "--")
Progress = Callable[[float], None]


class Cancelled(Exception):
    """Given up by whoever asked."""


@record(frozen=True, slots=True, kw_only=True)
class Table:
    """Heads and columns (n,), nan where a cell holds no number; clock times are seconds."""

    heads: tuple[str, ...]
    units: tuple[str, ...]  # of a line of units below the heads; empty strings without one
    columns: tuple[Floats, ...]
    clocks: frozenset[int]  # columns that held times of day or dates
    told: tuple[str, ...]
    headless: bool = False


def as_utf8(raw: bytes, name: str) -> tuple[bytes, list[str]]:
    """(the same as UTF-8, notes) of a file.  Raises FileError for what is no text."""
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return raw.decode("utf-16").encode("utf-8"), []
        except (UnicodeDecodeError, UnicodeEncodeError):
            raise FileError(f"{name} is not readable as text") from None
    if b"\x00" in raw:
        raise FileError(f"{name} is no table of text: it holds bytes that no text has")
    raw = raw.removeprefix(b"\xef\xbb\xbf")
    try:
        raw.decode("utf-8")
    except UnicodeDecodeError:
        return raw.decode("latin-1").encode("utf-8"), ["letters that are not UTF-8 were read as Latin-1"]
    return raw, []


class _Layout:
    """Separator, decimal mark, heads and where the numbers begin, from the first lines."""

    def __init__(self, text: str, name: str) -> None:
        lines = text.split("\n")
        self.lines = [(k, line) for k, line in enumerate(lines) if line.strip() and not line.lstrip().startswith(("#", "//"))][:LOOKED_AT]
        if len(self.lines) < 2:
            raise FileError(f"{name} has {len(self.lines)} lines of data; accepted: a line of heads and two rows or more")
        self.apart = self._separator()
        cells = [self.split(line) for _, line in self.lines]
        widths = Counter(len(row) for row in cells[1:] if len(row) > 0)
        self.width = min(widths.most_common(1)[0][0], MOST_COLUMNS)
        first = next((k for k, row in enumerate(cells) if self._is_data(row)), None)
        if first is None:
            raise FileError(f"{name} has no row of numbers in its first {len(self.lines)} lines; accepted: columns of numbers below heads")
        heads = [row for row in cells[:first] if len(row) >= min(self.width, 2) and abs(len(row) - self.width) <= 1]
        self.units = [""] * self.width
        if heads and len(heads) >= 2 and self._are_units(heads[-1]):
            self.units = (heads.pop() + [""] * self.width)[: self.width]
        self.headless = not heads
        given = heads[-1] if heads else []
        self.heads = [(given[k].strip() if k < len(given) and given[k].strip() else f"column {k + 1}") for k in range(self.width)]
        seen: Counter[str] = Counter()
        for k, head in enumerate(self.heads):  # a head that stands twice is told apart
            seen[head] += 1
            if seen[head] > 1:
                self.heads[k] = f"{head} ({seen[head]})"
        self.first_line = self.lines[first][0]
        data = [cell for row in cells[first:] for cell in row]
        commas = sum(bool(re.fullmatch(r"[+-]?\d+,\d+", cell)) for cell in data)
        points = sum(bool(re.fullmatch(r"[+-]?\d+\.\d+", cell)) for cell in data)
        self.decimal = "," if self.apart != "," and commas > points else "."

    def _separator(self) -> str:
        best, most = ",", 0.0
        texts = [line for _, line in self.lines]
        for apart in (";", "\t", ",", "|", " "):
            counts = [len(line.split()) - 1 if apart == " " else line.count(apart) for line in texts]
            usual, many = Counter(counts).most_common(1)[0]
            if usual == 0:
                continue
            score = many / len(counts) * (1.0 + 0.05 * min(usual, 10)) * (0.6 if apart == " " else 1.0)
            if score > most + 1e-9:
                best, most = apart, score
        return best

    def split(self, line: str) -> list[str]:
        """Cells of a line."""
        if self.apart == " ":
            return line.split()
        import csv

        try:
            return [cell.strip() for cell in next(csv.reader([line], delimiter=self.apart))]
        except (csv.Error, StopIteration):
            return [cell.strip() for cell in line.split(self.apart)]

    @staticmethod
    def _is_data(row: list[str]) -> bool:
        told = [cell for cell in row if cell.lower() not in NONE]
        numbers = sum(bool(_NUMBER.match(cell) or _CLOCK.match(cell)) for cell in told)
        return numbers >= 1 and numbers >= 0.5 * len(told)

    @staticmethod
    def _are_units(row: list[str]) -> bool:
        from wattagon.exchange.log.heads import UNITS

        known = {unit for units in UNITS.values() for unit in units if unit}
        told = [cell.strip("[]()").lower().replace(" ", "") for cell in row if cell.strip("[]() ")]
        return bool(told) and sum(cell in known for cell in told) >= 0.6 * len(told)


def read_table(raw: bytes, name: str, progress: Progress = lambda share: None, cancelled: Callable[[], bool] = lambda: False) -> Table:
    """All of a table.  Raises FileError with a sentence; Cancelled once `cancelled` says so.

    The C reader of pandas takes it in chunks; columns that hold other things than numbers are gone through once more.
    """
    import warnings

    import pandas as pd

    raw, told = as_utf8(raw, name)
    if b"\r" in raw[:4096] and b"\n" not in raw[:4096]:
        raw = raw.replace(b"\r", b"\n")
    layout = _Layout(raw[: 256 * 1024].decode("utf-8", "ignore"), name)
    size = len(raw)
    body = raw if layout.first_line == 0 else _after(raw, layout.first_line)
    lines = body.count(b"\n") + (not body.endswith(b"\n"))
    if lines > MOST_ROWS:
        raise FileError(f"{name} has {lines} rows; accepted: up to {MOST_ROWS}")
    names = list(range(layout.width))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            reader = pd.read_csv(
                io.BytesIO(body),
                sep=r"\s+" if layout.apart == " " else layout.apart,
                header=None,
                names=names,
                usecols=names,
                index_col=False,
                decimal=layout.decimal,
                comment="#" if b"#" in body else None,
                on_bad_lines="skip",
                skipinitialspace=True,
                chunksize=CHUNK,
                low_memory=False,
                na_values=list(NONE),
                quoting=0 if b'"' in body else 3,
            )
            parts: list[Any] = []
            rows = 0
            for part in reader:
                if cancelled():
                    raise Cancelled
                parts.append(part)
                rows += len(part)
                progress(min(rows / max(lines, 1), 1.0))
    except (pd.errors.ParserError, pd.errors.EmptyDataError, ValueError, OverflowError) as error:
        raise FileError(f"{name} cannot be read as a table: {str(error).splitlines()[0][:160]}") from None
    frame = pd.concat(parts, ignore_index=True, copy=False) if len(parts) > 1 else parts[0] if parts else None
    if frame is None or len(frame) < 2:
        raise FileError(f"{name} has {0 if frame is None else len(frame)} rows of data; accepted: two or more")
    if size < SMALL:
        told += _odd_lines(body, layout, len(frame))
    columns, clocks = [], set()
    for k in names:
        values, clock, bad = _numbers(frame[k], layout.decimal)
        columns.append(values)
        if clock:
            clocks.add(k)
        if bad:
            told.append(f"{layout.heads[k]}: {bad} {'cell is' if bad == 1 else 'cells are'} no number and left empty")
    return Table(
        heads=tuple(layout.heads),
        units=tuple(layout.units),
        columns=tuple(columns),
        clocks=frozenset(clocks),
        told=tuple(told),
        headless=layout.headless,
    )


def _after(raw: bytes, lines: int) -> bytes:
    at = 0
    for _ in range(lines):
        at = raw.find(b"\n", at) + 1
    return raw[at:]


def _odd_lines(body: bytes, layout: _Layout, rows: int) -> list[str]:
    """What is told of lines that have more cells than others, and of those that were passed over."""
    apart = b" " if layout.apart == " " else layout.apart.encode()
    lines = [line for line in body.split(b"\n") if line.strip() and not line.lstrip().startswith(b"#")]
    told = []
    if apart != b" " and b'"' not in body:
        usual = layout.width - 1
        wide = sum(line.count(apart) > usual and bool(line.split(apart, usual + 1)[-1].strip()) for line in lines)
        short = sum(line.count(apart) < usual for line in lines)
        if wide:
            told.append(
                f"{wide} {'line has' if wide == 1 else 'lines have'} more cells than there are columns: the cells beyond were left out"
            )
        if short:
            told.append(f"{short} {'line is' if short == 1 else 'lines are'} short of cells: what is missing was left empty")
    if len(lines) > rows:
        told.append(f"{len(lines) - rows} {'line' if len(lines) - rows == 1 else 'lines'} could not be read and were left out")
    return told


def _numbers(column: Any, decimal: str) -> tuple[Floats, bool, int]:
    """(values, whether they were times of day, cells that are no number) of a column."""
    import pandas as pd

    if pd.api.types.is_bool_dtype(column):
        return column.to_numpy(dtype=float), False, 0
    if pd.api.types.is_numeric_dtype(column):
        return column.to_numpy(dtype=float), False, 0
    texts = column.astype("string").str.strip()
    filled = texts.notna() & ~texts.str.lower().isin(NONE)
    some = texts[filled]
    if not len(some):
        return np.full(len(column), np.nan), False, 0
    look = some.iloc[:: max(len(some) // 200, 1)]
    if float(look.str.fullmatch(_CLOCK.pattern).mean()) > 0.5:
        values = _clock(texts)
        return values, True, int(filled.sum() - np.isfinite(values[filled.to_numpy()]).sum())
    lower = look.str.lower()
    if lower.isin(("true", "false", "on", "off", "yes", "no")).mean() > 0.9:
        low = texts.str.lower()
        values = np.where(
            low.isin(("true", "on", "yes")).fillna(False), 1.0, np.where(low.isin(("false", "off", "no")).fillna(False), 0.0, np.nan)
        )
        return values, False, int(filled.sum() - np.isfinite(values).sum())
    dotted = texts.str.replace(",", ".", regex=False) if decimal == "," else texts
    values = np.array(pd.to_numeric(dotted, errors="coerce").to_numpy(dtype=float, na_value=np.nan))
    left = filled.to_numpy() & ~np.isfinite(values)
    if left.any():  # a number with its unit in the cell
        found = texts[left].str.extract(_LEADING.pattern, expand=False).str.replace(",", ".", regex=False)
        units = texts[left].str.replace(_LEADING.pattern, "", regex=True).str.strip()
        usual = units.mode()
        if len(usual) and usual.iloc[0] and float((units == usual.iloc[0]).sum()) > 0.5 * filled.sum():
            values[left] = pd.to_numeric(found, errors="coerce").to_numpy(dtype=float, na_value=np.nan)
    values[~np.isfinite(values)] = np.nan
    return values, False, int(filled.sum() - np.isfinite(values[filled.to_numpy()]).sum())


def _clock(texts: Any) -> Floats:
    """Times of day or dates as seconds [s] (of the day, or since 1970)."""
    import pandas as pd

    if texts.dropna().iloc[:50].str.contains("-", regex=False).mean() > 0.5:
        stamps = pd.to_datetime(texts.str.replace(",", ".", regex=False), errors="coerce", format="ISO8601", utc=True)
        made = np.array(stamps.astype("datetime64[us, UTC]").astype("int64").to_numpy(dtype=float)) / 1e6
        made[stamps.isna().to_numpy()] = np.nan
        return made
    padded = texts.str.replace(",", ".", regex=False)
    short = padded.str.fullmatch(r"\d{1,2}:\d{2}").fillna(False)
    padded = padded.where(~short, padded + ":00")
    spans = pd.to_timedelta(padded, errors="coerce")
    return np.array(spans.dt.total_seconds().to_numpy(dtype=float, na_value=np.nan))
