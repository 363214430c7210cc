"""A settings sheet as JSON, CSV, page and label; and sheets of others read in."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from wattagon import files
from wattagon.design.dimensions import DIMENSIONS
from wattagon.errors import FileError, InputError
from wattagon.exchange import units
from wattagon.exchange.finite import finite
from wattagon.exchange.json_data import input_data
from wattagon.study.controller.compare import Difference
from wattagon.study.controller.setting import Setting, Value
from wattagon.study.controller.study import ControllerStudy

LARGEST = 1024 * 1024
HEADS = ("key", "name", "value", "unit", "low", "high", "low_from", "high_from", "because", "known", "overridden")


def settings_data(found: ControllerStudy, differences: Sequence[Difference] | None = None) -> dict[str, Any]:
    """What `settings --format json` prints, and with a comparison the differences; SI."""
    feel = found.feel
    data: dict[str, Any] = {
        "variant": found.drive.resolved.variant.id,
        "school": found.school.code,
        "unguarded": list(found.school.unguarded),
        "settings": [_line(one) for one in found.settings],
        "bounds": [
            {"axis": one.axis, "code": one.code, "whose": one.whose, "amps": one.amps, "kind": one.kind, "because": one.because}
            for one in found.bounds
        ],
        "throttle": {
            "kind": found.throttle.kind,
            "unit": found.throttle.unit,
            "low": found.throttle.window.low,
            "rest": found.throttle.window.centre,
            "high": found.throttle.window.high,
            "fault_low": found.throttle.window.fault_low,
            "fault_high": found.throttle.window.fault_high,
            "dead_share": found.throttle.shape.dead,
            "curve": found.throttle.shape.curve,
            "problems": list(found.throttle.problems),
        },
        "feel": [
            {
                "gesture": one.code,
                "level_m_s2": one.worst,
                "jerk_m_s3": one.worst_jerk,
                "borne_m_s2": one.borne,
                "borne_jerk_m_s3": one.borne_jerk,
            }
            for one in (feel.traces if feel is not None else ())
        ],
        "fail_safe": [
            {"failure": one.code, "outcome": one.outcome or None, "because": one.words, "test": one.test, "seen": one.seen}
            for one in found.failures
        ],
        "inputs": {path: input_data(path, item) for path, item in found.inputs.items()},
    }
    if differences is not None:
        data["differences"] = [
            {
                "key": one.key,
                "name": one.name,
                "ours": one.ours,
                "theirs": one.theirs,
                "unit": DIMENSIONS[one.dimension].si,
                "status": one.status.value,
                "effect": one.words,
            }
            for one in differences
        ]
    return data


def _line(one: Setting) -> dict[str, Any]:
    return {
        "key": one.key,
        "name": one.name,
        "value": one.value,
        "unit": DIMENSIONS[one.dimension].si,
        "low": one.low,
        "high": one.high,
        "low_from": one.low_from,
        "high_from": one.high_from,
        "because": one.because,
        "known": str(one.known),
        "overridden": one.overridden,
        "proposed": one.proposed,
        "status": one.status.value,
        "cannot": one.cannot or None,
    }


def settings_json(found: ControllerStudy, differences: Sequence[Difference] | None = None) -> str:
    """The same as text, what is not known as null."""
    return json.dumps(finite(settings_data(found, differences)), indent=2, allow_nan=False) + "\n"


def settings_csv(found: ControllerStudy) -> str:
    """One line a setting, in SI units that stand beside the values."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(HEADS)
    for one in found.settings:
        row = _line(one)
        writer.writerow(["" if row[head] is None else row[head] for head in HEADS])
    return out.getvalue()


def label_text(found: ControllerStudy, unit_set: str = "metric") -> str:
    """A few short lines for a label on the controller."""
    say = lambda one: units.say(float(one.value), one.dimension, unit_set)
    rows = [f"{found.design.vehicle.name} {found.drive.resolved.variant.id}"]
    for keys, words in (
        (("motor_a", "motor_brake_a"), "motor"),
        (("pack_a", "pack_in_a"), "pack"),
        (("cut_start_v", "cut_end_v"), "cutoff"),
        (("motor_taper_c", "motor_taper_end_c"), "motor taper"),
    ):
        told = [found.setting(key) for key in keys]
        shown = [say(one) for one in told if one is not None and not one.cannot and isinstance(one.value, (int, float))]
        if shown:
            rows.append(f"{words} {' / '.join(shown)}")
    poles, ratio = found.setting("poles"), found.setting("ratio")
    rows.append(", ".join(f"{one.name} {one.value:g}" for one in (poles, ratio) if one is not None and isinstance(one.value, (int, float))))
    return "\n".join(row for row in rows if row) + "\n"


def read_sheet(
    path: Path,
    found: ControllerStudy,
    unit_set: str = "metric",
    columns: Mapping[str, str] | None = None,
    names: Mapping[str, str] | None = None,
) -> tuple[dict[str, Value], list[str]]:
    """(values by key in SI, lines that nobody could place) of a sheet in JSON or CSV.

    `columns` says under which heads key, value and unit stand, `names` which of its names is which key.  A line is known by key,
    by the name that the sheet here gives it, or by `names`; a value without a unit is in the user's.  Raises FileError with the
    line that is wrong.
    """
    text = files.read_bytes(path, LARGEST, "a sheet").decode("utf-8-sig", errors="replace")
    rows = _json_rows(path, text) if text.lstrip().startswith(("{", "[")) else _csv_rows(path, text, columns or {})
    lines = {one.key: one for one in found.settings}
    by_name = {one.name.lower(): one.key for one in found.settings} | {key.lower(): key for key in lines}
    by_name |= {theirs.lower(): key for theirs, key in (names or {}).items() if key in lines}
    values: dict[str, Value] = {}
    other: list[str] = []
    for n, name, value, unit in rows:
        key = by_name.get(name.strip().lower())
        if key is None:
            other.append(name)
            continue
        values[key] = _value(path, n, lines[key], value, unit, unit_set)
    return values, other


def _value(path: Path, n: int, one: Setting, value: object, unit: str, unit_set: str) -> Value:
    if one.options or one.key in ("order", "reversed"):
        text = str(value if value is not None else "").strip()
        return {shown.lower(): code for code, shown in one.options}.get(text.lower(), text)
    if value is None or (isinstance(value, str) and not value.strip()):
        return None
    try:
        if unit == DIMENSIONS[one.dimension].si:  # as it is written here
            unit, unit_set = "", ""
        if isinstance(value, (int, float)) and not isinstance(value, bool) and not unit:
            return float(value)
        words = f"{value} {unit}".strip() if unit and str(value)[-1:].isdigit() else str(value)
        return units.parse(words, one.dimension, unit_set or None, field=one.name)
    except InputError as refusal:
        raise FileError(f"{path}, line {n}: {refusal}") from None


def _json_rows(path: Path, text: str) -> list[tuple[int, str, object, str]]:
    try:
        data = json.loads(text)
    except json.JSONDecodeError as error:
        raise FileError(f"{path} cannot be read as JSON: line {error.lineno}: {error.msg}") from None
    except RecursionError:
        raise FileError(f"{path} cannot be read as JSON: nested too deep") from None
    rows = data.get("settings", data) if isinstance(data, dict) else data
    if isinstance(rows, dict):
        return [(n, str(key), value, "") for n, (key, value) in enumerate(rows.items(), 1) if not isinstance(value, (dict, list))]
    made = []
    for n, row in enumerate(rows, 1):
        if not isinstance(row, dict) or not ("key" in row or "name" in row) or "value" not in row:
            raise FileError(f"{path}, entry {n}: accepted are settings with key (or name), value and unit")
        value = row["value"]
        if isinstance(value, (dict, list)):
            raise FileError(f"{path}, entry {n}: the value is a structure; accepted is a number or a word")
        made.append((n, str(row.get("key") or row["name"]), value, str(row.get("unit") or "")))
    return made


def _csv_rows(path: Path, text: str, columns: Mapping[str, str]) -> list[tuple[int, str, object, str]]:
    first = next((line for line in text.splitlines() if line.strip()), "")
    apart = ";" if first.count(";") > first.count(",") else "\t" if "\t" in first else ","
    try:
        table = [(n, [cell.strip() for cell in row]) for n, row in enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=apart), 1)]
    except csv.Error as error:
        raise FileError(f"{path} cannot be read as CSV: {error}") from None
    table = [(n, row) for n, row in table if any(row)]
    if not table:
        raise FileError(f"{path} is empty; accepted: a heading with key (or name) and value, then a line a setting")
    heads = [head.lower() for head in table[0][1]]
    place: dict[str, int] = {}
    for what, usual in (("key", ("key", "name", "setting")), ("value", ("value",)), ("unit", ("unit", "units"))):
        wanted = (columns[what].lower(),) if what in columns else usual
        found = next((heads.index(head) for head in wanted if head in heads), None)
        if found is not None:
            place[what] = found
    lacking = [what for what in ("key", "value") if what not in place]
    if lacking:
        raise FileError(f"{path} has the columns {', '.join(table[0][1])[:120]}; say which of them is {' and which is '.join(lacking)}")
    cell = lambda row, what: row[place[what]] if what in place and place[what] < len(row) else ""
    made: list[tuple[int, str, object, str]] = []
    for n, row in table[1:]:
        value = cell(row, "value")
        made.append((n, cell(row, "key"), value.replace(",", ".") if apart != "," else value, cell(row, "unit")))
    return made
