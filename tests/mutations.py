"""Files of every kind that the program reads, damaged at random from a seed, and whether each is met with a sentence."""

from __future__ import annotations

import io
import json
import math
import random
import re
import time
import zipfile
from collections.abc import Callable
from pathlib import Path

from tests.design.malformed import DEMO
from wattagon.design import catalogue, file
from wattagon.design.paths import put
from wattagon.design.template import new_design
from wattagon.design.tree import VehicleKind
from wattagon.desk.recovery import Recovery
from wattagon.desk.settings import SettingsFile
from wattagon.errors import FileError, InputError
from wattagon.exchange.track import read_track

HANGS_S = 20.0  # far above what any file takes
NUMBERS = (
    b"1e999",
    b"-1e999",
    b"NaN",
    b"Infinity",
    b"9" * 60,
    b"-1",
    b"0",
    b"1e-300",
    b"1e17",
    b'"x"',
    b"[]",
    b"{}",
    b"null",
    b"true",
    b"\xc2\xb2",
)
PIECES = (
    b"\x00",
    b"\xff\xfe",
    b"\n",
    b'"',
    b"{",
    b"}",
    b"[" * 300,
    b"]",
    b",,",
    b"<",
    b">",
    b"&bad;",
    b"\\ud800",
    b'"a": 1, "a": 2',
    b"PK\x03\x04",
    b"\r",
    b";",
    b"=cmd()",
    b"../../x",
    b"\xed\xa0\x80",
)


def mutated(r: random.Random, raw: bytes) -> bytes:
    """The content with one to five accidents."""
    data = bytearray(raw)
    for _ in range(r.choice((1, 1, 2, 5))):
        at = r.randrange(len(data) + 1)
        way = r.randrange(8)
        if way == 0 and data:
            data[at % len(data)] = r.randrange(256)
        elif way == 1:
            data = data[:at]
        elif way == 2:
            data[at:at] = r.choice(PIECES)
        elif way == 3:
            end = min(at + r.randrange(1, 200), len(data))
            data[at:at] = data[at:end]
        elif way == 4:
            del data[at : at + r.randrange(1, 60)]
        else:
            spots = [match.span() for match in re.finditer(rb"-?\d+(?:\.\d+)?", bytes(data))]
            if spots:
                begin, end = r.choice(spots)
                data[begin:end] = r.choice(NUMBERS)
    return bytes(data)


def _gpx() -> bytes:
    points = "".join(
        f'<trkpt lat="{54 + k * 1e-4}" lon="9.1"><ele>{5 + math.sin(k)}</ele><time>2026-05-09T10:{k % 60:02d}:00Z</time></trkpt>'
        for k in range(80)
    )
    return f'<?xml version="1.0"?><gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>{points}</trkseg></trk></gpx>'.encode()


def _zip(text: bytes) -> bytes:
    raw = io.BytesIO()
    with zipfile.ZipFile(raw, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("design.json", text)
        archive.writestr("logs/a.csv", "t,v\n0,1\n")
    return raw.getvalue()


class Mutations:
    """Writes and reads damaged files in a folder."""

    def __init__(self, folder: Path, seed: int) -> None:
        self.folder, self.random = folder, random.Random(seed)
        designs = [path.read_bytes() for path in sorted(DEMO.glob("*.json"))]
        tables = {path.name: path.read_bytes() for path in sorted(catalogue.SHIPPED.glob("*.csv"))}
        course = b"distance_m,elevation_m,speed_m_s\n" + b"".join(f"{k * 20},{k % 9},{4 + k % 3}\n".encode() for k in range(60))
        self.kinds: dict[str, tuple[Callable[[], tuple[str, bytes]], Callable[[Path], list[str]]]] = {
            "design": (lambda: ("d.json", self.random.choice(designs)), self.read_design),
            "zip": (lambda: ("d.wattagon", _zip(self.random.choice(designs))), self.read_design),
            "gpx": (lambda: ("t.gpx", _gpx()), self.read_course),
            "table": (lambda: ("t.csv", course), self.read_course),
            "parts": (lambda: self.random.choice(list(tables.items())), self.read_parts),
            "settings": (
                lambda: ("settings.json", json.dumps({"units": "imperial", "theme": "dark", "recent": ["/a", "/b"]}).encode()),
                self.read_settings,
            ),
            "recovery": (
                lambda: (
                    "0123456789ab-doc1.json",
                    json.dumps({"original": "/x/y.wattagon", "name": "Dunlin", "stamp": [1, 2, 3, 4]}).encode(),
                ),
                self.read_recovery,
            ),
        }

    def read_design(self, path: Path) -> list[str]:
        document = file.read(path)
        if file.from_json(file.to_json(document.design)) != document.design:
            raise AssertionError("what was opened does not come back")
        return list(document.aside)

    def read_course(self, path: Path) -> list[str]:
        track = read_track(path, speed_m_s=5.0)
        put(new_design(VehicleKind.BIKE), "brief.courses", (track.course,))
        return list(track.notes)

    def read_parts(self, path: Path) -> list[str]:
        return [str(row) for row in catalogue.load(path.parent).bad_rows]

    def read_settings(self, path: Path) -> list[str]:
        return [SettingsFile(path).trouble]

    def read_recovery(self, path: Path) -> list[str]:
        file.write(path.with_suffix(".wattagon"), file.Document(design=new_design(VehicleKind.KART)))
        start = Recovery(path.parent)
        found = start.left_behind()
        if len(found) != 1:
            raise AssertionError(f"{len(found)} works were offered")
        start.end()
        return []

    def one(self, k: int) -> str:
        """Empty when a damaged file is met with a sentence, or opened, in time; else what went wrong."""
        name = list(self.kinds)[k % len(self.kinds)]
        make, read = self.kinds[name]
        file_name, good = make()
        path = self.folder / name / file_name
        path.parent.mkdir(exist_ok=True)
        raw = mutated(self.random, good)
        path.write_bytes(raw)
        start = time.process_time()
        try:
            said = read(path)
        except (FileError, InputError) as refusal:
            said = [str(refusal)]
        except Exception as error:  # noqa: BLE001 - whatever it is, it is the fault that is looked for
            return f"{name}: {type(error).__name__}: {error!s:.200} from {raw[:80]!r}"
        finally:
            took = time.process_time() - start
            same = path.read_bytes() == raw
            path.unlink()
        if not same:
            return f"{name}: the file was changed"
        if took > HANGS_S:
            return f"{name}: took {took:.1f} s"
        bad = [words for words in said if "\n" in words.strip() or len(words) > 600]
        return f"{name}: no good sentence: {bad[0][:200]!r}" if bad else ""
