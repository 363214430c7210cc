"""Runs by the stopwatch as they are told: `0 to 20 km/h in 7 s, three times, up and down`."""

from __future__ import annotations

import re

from wattagon.design.tree import TimedRun
from wattagon.errors import InputError
from wattagon.exchange.units import parse, quoted

_SPEEDS = re.compile(
    r"^\s*(?:from\s+)?(?P<start>\d+(?:[.,]\d+)?)\s*(?P<unit0>[a-z/]*)\s*(?:to|-|–|→)\s*(?P<end>\d+(?:[.,]\d+)?)\s*"
    r"(?P<unit>km/h|kmh|kph|mph|m/s|kn|kt)?\s*(?:in|:|=)\s*(?P<rest>.*)$",
    re.IGNORECASE,
)
_SECOND = re.compile(r"\s*(?:(?:[;/]|,\s|and\b)\s*)?(\d+(?:[.,]\d+)?)\s*(?:seconds|sec|s)?\b(?!\s*(?:x|×|times))", re.IGNORECASE)
_COUNTS = {"once": 1, "twice": 2, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "eight": 8, "ten": 10}
MOST = 12
ACCEPTED = "such as '0 to 20 km/h in 7 s, three times, up and down' or '0 to 20 km/h in 7.1, 6.9, 7.4 s'"


def looks_timed(text: str) -> bool:
    """Whether a text may be a timed run rather than the name of a file."""
    return bool(re.search(r"\bin\b", text)) and bool(re.search(r"\d\s*(km/h|kmh|kph|mph|m/s|kn|kt)?\s*(to|-|–)\s*\d", text))


def read_timed(text: str, unit_set: str = "metric") -> tuple[TimedRun, ...]:
    """The runs of a line, or of several apart by line ends.  Raises InputError with what is accepted."""
    made: list[TimedRun] = []
    for line in text.splitlines() or [text]:
        if line.strip():
            made += _line(line, unit_set)
    if not made:
        raise InputError("run", quoted(text), ACCEPTED)
    return tuple(made)


def _line(line: str, unit_set: str) -> list[TimedRun]:
    found = _SPEEDS.match(line)
    if found is None:
        raise InputError("run", quoted(line), ACCEPTED)
    unit = found["unit"] or found["unit0"] or ""
    speed = lambda number: parse(f"{number} {unit}".strip(), "speed", unit_set, field="run")
    start, end = speed(found["start"]), speed(found["end"])
    rest, seconds = found["rest"], []
    while (one := _SECOND.match(rest)) is not None:
        seconds.append(parse(one.group(1), "number", field="run"))
        rest = rest[one.end() :]
    if not seconds:
        raise InputError("run", quoted(line), ACCEPTED)
    rest = rest.lower()
    count = next((n for word, n in _COUNTS.items() if re.search(rf"\b{word}\b", rest)), 0)
    digits = re.search(r"\b(\d{1,2})\s*(?:x|×|times)", rest)
    count = int(digits.group(1)) if digits else count
    ways = [way for way in ("up", "down") if re.search(rf"\b{way}\b", rest)] or [""]
    if len(seconds) == 1:
        seconds = seconds * max(count, 1)
        ways_of = [way for way in ways for _ in seconds]
        seconds = seconds * len(ways)
    else:
        if count and count != len(seconds):
            raise InputError("run", quoted(line), f"{count} times, or no count: {len(seconds)} were told")
        ways_of = [ways[k % len(ways)] for k in range(len(seconds))]
    if not 1 <= len(seconds) <= MOST:
        raise InputError("run", quoted(line), f"1 to {MOST} times")
    made = []
    for s, way in zip(seconds, ways_of, strict=True):
        if not 0.1 <= s <= 36000.0:
            raise InputError("run", f"{s:g} s", "0.1 s to 10 h")
        made.append(TimedRun(start=start, end=end, seconds=s, way=way))
    return made
