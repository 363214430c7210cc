"""Files that are broken in as many ways as one can think of, from a seed."""

from __future__ import annotations

import copy
import json
import random
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from wattagon.design import file
from wattagon.errors import FileError

DEMO = Path(file.__file__).resolve().parent.parent / "stock" / "demo"


def _spots(node: Any, path: tuple = ()) -> Iterator[tuple]:
    """Paths to every value under a JSON tree."""
    items = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, value in items:
        yield (*path, key)
        yield from _spots(value, (*path, key))


def _at(node: Any, path: tuple) -> Any:
    for key in path:
        node = node[key]
    return node


def broken_data(r: random.Random, good: dict) -> dict:
    """The design with one value made impossible."""
    is_number = lambda value: isinstance(value, (int, float)) and not isinstance(value, bool)
    numbers = [p for p in _spots(good) if is_number(_at(good, p)) and p[-1] not in ("amount", "tolerance")]
    groups = [p for p in _spots(good) if isinstance(_at(good, p), (dict, list)) and _at(good, p)]
    data, way = copy.deepcopy(good), r.randrange(6)
    if way == 0:
        path = r.choice(numbers)
        _at(data, path[:-1])[path[-1]] = r.choice(["twelve", [1], {"a": 1}, -1e12, 1e12, True])
    elif way == 1:
        path = r.choice(groups)
        _at(data, path[:-1])[path[-1]] = r.choice(["text", True, [[7]]])
    elif way == 2:
        del data[r.choice(["vehicle", "variants", "schema_version"])]
    elif way == 3:
        data["schema_version"] = r.choice([0, -1, 99, "1", None, 1.5, True])
    elif way == 4:
        data["variants"] = r.choice([[], data["variants"] * 2, [{}], [None]])
    else:
        key = r.choice(["wheelbase", "cm_height", "rolling", "tyre_diameter", "kind"])
        data["vehicle"][key] = r.choice([{}, {"value": None}, {"value": "x"}, {"value": -5.0}, {"value": 1, "known": "guessed"}, 1e9])
    return data


def malformed_files(folder: Path, count: int, seed: int = 1) -> Iterator[Path]:
    """Write `count` broken files of every sort."""
    r = random.Random(seed)
    texts = [path.read_text(encoding="utf-8") for path in sorted(DEMO.glob("*.json"))]
    for k in range(count):
        text, sort = r.choice(texts), k % 6
        path = folder / f"broken{k}.wattagon"
        if sort == 0:  # cut off
            path.write_text(text[: r.randrange(0, len(text) - 5)], encoding="utf-8")
        elif sort in (1, 2, 3):  # readable, but impossible
            path.write_text(json.dumps(broken_data(r, json.loads(text))), encoding="utf-8")
        elif sort == 4:  # noise, or nothing
            path.write_bytes(r.choice([b"", b"\xff\xfe\x00", b"[1, 2]", b"null", b"{" * 20000, b"[" * 60000, r.randbytes(400)]))
        else:  # a zip that is cut, scrambled, or holds something else
            with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
                archive.writestr(r.choice(["design.json", "other.json"]), text)
            raw = bytearray(path.read_bytes())
            if r.random() < 0.5:
                raw = raw[: r.randrange(4, len(raw) - 30)]
            else:
                at = r.randrange(40, len(raw) - 40)
                raw[at : at + 30] = r.randbytes(30)
            path.write_bytes(raw)
        yield path


def refused_well(path: Path) -> str:
    """Empty when the file is refused with one sentence, or opens with one on each value that was set aside; else what went wrong."""
    before = path.read_bytes()
    try:
        document = file.read(path)
        said = document.aside
        if file.from_json(file.to_json(document.design)) != document.design:
            return "what was opened cannot be saved"
    except FileError as refusal:
        said = (str(refusal),)
    if path.read_bytes() != before:
        return "the file was changed"
    bad = [words for words in said if not words or "\n" in words or len(words) > 400]
    if bad:
        return f"no good sentence: {bad[0][:200]!r}"
    return "" if said else f"opened without a word: {before[:60]!r}"
