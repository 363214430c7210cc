"""What the head of a column says: which channel, in which unit.  General words of the field; nothing of any one device."""

from __future__ import annotations

import re
from pathlib import Path
from typing import NamedTuple

from wattagon.study.log.channels import CHANNELS

# unit as written (small letters, no blanks) -> (factor, offset) to SI, for the dimensions it may be of
UNITS: dict[str, dict[str, tuple[float, float]]] = {
    "time": {
        "s": (1.0, 0.0),
        "sec": (1.0, 0.0),
        "seconds": (1.0, 0.0),
        "ms": (1e-3, 0.0),
        "millis": (1e-3, 0.0),
        "milliseconds": (1e-3, 0.0),
        "us": (1e-6, 0.0),
        "µs": (1e-6, 0.0),
        "min": (60.0, 0.0),
        "h": (3600.0, 0.0),
        "clock": (1.0, 0.0),
    },
    "speed": {
        "m/s": (1.0, 0.0),
        "mps": (1.0, 0.0),
        "ms": (1.0, 0.0),
        "km/h": (1 / 3.6, 0.0),
        "kmh": (1 / 3.6, 0.0),
        "kph": (1 / 3.6, 0.0),
        "mph": (0.44704, 0.0),
        "mi/h": (0.44704, 0.0),
        "kn": (0.514444444, 0.0),
        "kt": (0.514444444, 0.0),
        "kts": (0.514444444, 0.0),
        "knots": (0.514444444, 0.0),
    },
    "height": {"m": (1.0, 0.0), "km": (1000.0, 0.0), "mi": (1609.344, 0.0), "ft": (0.3048, 0.0), "mm": (1e-3, 0.0), "nm": (1852.0, 0.0)},
    "current": {"a": (1.0, 0.0), "amps": (1.0, 0.0), "ma": (1e-3, 0.0), "amp": (1.0, 0.0)},
    "voltage": {"v": (1.0, 0.0), "volts": (1.0, 0.0), "mv": (1e-3, 0.0), "volt": (1.0, 0.0)},
    "share": {"%": (0.01, 0.0), "percent": (0.01, 0.0), "pct": (0.01, 0.0), "": (1.0, 0.0), "ratio": (1.0, 0.0), "permille": (1e-3, 0.0)},
    "rpm": {"rpm": (1.0, 0.0), "1/min": (1.0, 0.0), "rps": (60.0, 0.0), "hz": (60.0, 0.0), "rad/s": (9.549296586, 0.0), "krpm": (1e3, 0.0)},
    "temperature": {
        "c": (1.0, 0.0),
        "°c": (1.0, 0.0),
        "degc": (1.0, 0.0),
        "f": (5 / 9, -160 / 9),
        "°f": (5 / 9, -160 / 9),
        "degf": (5 / 9, -160 / 9),
        "k": (1.0, -273.15),
    },
    "capacity": {"ah": (1.0, 0.0), "mah": (1e-3, 0.0), "as": (1 / 3600, 0.0), "c": (1 / 3600, 0.0)},
    "energy": {"wh": (1.0, 0.0), "kwh": (1e3, 0.0), "j": (1 / 3600, 0.0), "kj": (1 / 3.6, 0.0), "mwh": (1e-3, 0.0)},
    "power": {"w": (1.0, 0.0), "kw": (1e3, 0.0), "hp": (745.7, 0.0), "mw": (1e-3, 0.0)},
    "acceleration": {"m/s2": (1.0, 0.0), "m/s^2": (1.0, 0.0), "m/s²": (1.0, 0.0), "g": (9.80665, 0.0), "mg": (9.80665e-3, 0.0)},
    "grade": {"%": (0.01, 0.0), "": (1.0, 0.0), "deg": (0.0174533, 0.0), "percent": (0.01, 0.0)},
    "number": {"": (1.0, 0.0), "deg": (1.0, 0.0), "°": (1.0, 0.0)},
    "force": {
        "n": (1.0, 0.0),
        "kg": (9.80665, 0.0),
        "kgf": (9.80665, 0.0),
        "lbf": (4.4482216, 0.0),
        "lb": (4.4482216, 0.0),
        "kn": (1e3, 0.0),
    },
}
USUAL = {dimension: next(iter(known)) for dimension, known in UNITS.items()} | {"share": "", "grade": "", "rpm": "rpm"}
# the first that matches the words of a head is meant; words are small, apart by single blanks
_NAMES: tuple[tuple[str, str], ...] = (
    ("fault", r"\b(fault|error|err|fehler)\b"),
    ("erpm", r"\b(e ?rpm|electrical (speed|rpm|frequency)|erpm|el(ec)? rpm|electric rpm)\b"),
    ("wheel_rpm", r"\b(wheel|rad) (rpm|speed rpm|revs?)\b|\brpm wheel\b"),
    ("motor_rpm", r"\b(motor )?(rpm|revs|drehzahl|turns per minute)\b|\bmotor speed\b"),
    (
        "controller_c",
        r"\b(temp(erature)?|t) (of )?(the )?(controller|fets?|mos(fets?)?|mosfet|bridge|esc|drive|regler)\b|"
        r"\b(controller|fets?|mos(fets?)?|bridge|esc|regler) (temp(erature)?|t)\b",
    ),
    ("motor_c", r"\b(temp(erature)?|t) (of )?(the )?(motor|winding|coil)s?\b|\b(motor|winding|coil)s? (temp(erature)?|t)\b"),
    ("pack_c", r"\b(temp(erature)?|t) (of )?(the )?(pack|batt(ery)?|cells?|akku)\b|\b(pack|batt(ery)?|cells?|akku) (temp(erature)?|t)\b"),
    (
        "motor_a",
        r"\b(motor|phase|iq|q axis) ?(current|amps?|a|i|strom)\b|\b(current|amps|strom|i) (of )?(the )?(motor|phase|"
        r"q)\b|\bi ?q\b|\bi ?mot(or)?\b",
    ),
    (
        "pack_a",
        r"\b(pack|batt?(ery)?|input|in|bus|dc|supply|akku|total) ?(current|amps?|a|i|strom)\b|\b(current|amps|strom|"
        r"i) (of )?(the )?(pack|batt?(ery)?|in(put)?|bus|dc|akku)\b|\bi ?(batt?|b|in)\b",
    ),
    (
        "bus_v",
        r"\b(pack|batt?(ery)?|input|in|bus|dc|supply|akku|total|main) ?(voltage|volts?|v|u|spannung)\b|\b(voltage|"
        r"volts?|spannung|u|v) (of )?(the )?(pack|batt?(ery)?|in(put)?|bus|dc|akku)\b|\b[uv] ?(batt?|b|in|bus)\b",
    ),
    ("pedal_w", r"\b(pedal|rider|human|crank) (power|w|watts?)\b"),
    ("brake", r"\bbrakes?\b|\bbremse\b"),
    ("command", r"\b(throttle|command|cmd|lever|thumb|gas|input position|accelerator|pedal)\b"),
    ("duty", r"\bduty( cycle)?\b|\btastgrad\b|\bmodulation\b"),
    ("wh", r"\b(wh|energy|watt hours?|energie|consumed wh|wh used)\b"),
    ("ah", r"\b(ah|amp hours?|charge (drawn|used)|consumed|mah)\b"),
    ("power", r"\b(power|watts?|leistung)\b"),
    ("latitude", r"\b(lat|latitude|breite)\b"),
    ("longitude", r"\b(lon|lng|long|longitude|laenge)\b"),
    ("elevation", r"\b(elevation|altitude|ele|alt|height|hoehe|höhe)\b"),
    ("distance", r"\b(distance|dist|odo(meter)?|trip|way|strecke)\b"),
    ("speed", r"\b(speed|velocity|vel|geschwindigkeit|gps speed|ground speed|spd|v gps)\b"),
    (
        "ax",
        r"\b(acc(el(eration)?)?( of)?|a|g(fx)?|linear acceleration|lin acc)[ _]?x\b|\bg ?fx\b|\bx( axis)?( acc(el(eration)?)?)?$|\bgfx\b",
    ),
    (
        "ay",
        r"\b(acc(el(eration)?)?( of)?|a|g(fy)?|linear acceleration|lin acc)[ _]?y\b|\bg ?fy\b|\by( axis)?( acc(el(eration)?)?)?$|\bgfy\b",
    ),
    (
        "az",
        r"\b(acc(el(eration)?)?( of)?|a|g(fz)?|linear acceleration|lin acc)[ _]?z\b|\bg ?fz\b|\bz( axis)?( acc(el(eration)?)?)?$|\bgfz\b",
    ),
    ("time", r"\b(time|timestamp|zeit|clock|elapsed|seconds|millis(econds)?|uhrzeit|date|datetime|utc|ms)\b|^t$|^s$"),
    ("pull", r"\b(pull|thrust|scale|zug)\b"),
    ("grade", r"\b(grade|slope|gradient|incline|steigung)\b"),
    # alone, without a word of whose they are
    ("bus_v", r"^(voltage|volts?|spannung|u|v)$"),
    ("pack_a", r"^(current|amps?|strom|i)$"),
    ("motor_c", r"^(temp(erature)?)$"),
)
_PATTERNS = tuple((channel, re.compile(pattern)) for channel, pattern in _NAMES)
_BRACKETS = re.compile(r"[\[(<{]\s*([^\])>}]*?)\s*[\])>}]")
_CAMEL = re.compile(r"(?<=[a-zäöü0-9])(?=[A-ZÄÖÜ][a-zäöü])|(?<=[a-z])(?=[A-Z]{2})")
_AS_UNITS = {unit for known in UNITS.values() for unit in known if unit}


class Said(NamedTuple):
    """What a head says; either may be empty."""

    channel: str
    unit: str


def _plain(unit: str) -> str:
    return unit.strip().lower().replace(" ", "").replace("μ", "µ")


def read_head(head: str) -> Said:
    """Channel and unit of a head such as `Speed [km/h]`, `v_in (V)`, `motorTemp_C` or `speed_kmh`."""
    unit, rest = "", head
    bracket = _BRACKETS.search(head)
    if bracket is not None and _plain(bracket.group(1)) in _AS_UNITS:
        unit, rest = _plain(bracket.group(1)), head[: bracket.start()] + " " + head[bracket.end() :]
    words = re.sub(r"[^0-9a-zäöüß%°/²µ]+", " ", _CAMEL.sub(" ", rest.replace("mAh", "mah")).lower()).strip()
    channel = _channel(words)
    if not unit:
        words, unit = _tail_unit(words, channel)
        channel = _channel(words) or channel
    channel = channel or _of_whom(words, unit)
    if channel and unit and unit not in UNITS[CHANNELS[channel].dimension]:
        other = _by_unit(channel, unit)
        channel, unit = (other, unit) if other else (channel, "")
    return Said(channel, unit)


_WHOSE = (
    ("controller", r"\b(controller|fets?|mos(fet)?|bridge|esc)\b"),
    ("motor", r"\b(motor|winding|phase)\b"),
    ("pack", r"\b(pack|batt(ery)?|bus|input|akku)\b"),
)
_OF_WHOM = {
    ("controller", "temperature"): "controller_c",
    ("motor", "temperature"): "motor_c",
    ("pack", "temperature"): "pack_c",
    ("motor", "current"): "motor_a",
    ("pack", "current"): "pack_a",
    ("pack", "voltage"): "bus_v",
    ("motor", "rpm"): "motor_rpm",
}


def _of_whom(words: str, unit: str) -> str:
    """The channel of a part that is named with a unit only: `controller_c`, `pack [V]`."""
    whose = next((name for name, pattern in _WHOSE if re.search(pattern, words)), "")
    return next((_OF_WHOM[whose, kind] for kind, known in UNITS.items() if unit and unit in known and (whose, kind) in _OF_WHOM), "")


def _channel(words: str) -> str:
    for channel, pattern in _PATTERNS:
        if pattern.search(words):
            return channel
    return ""


def _tail_unit(words: str, channel: str) -> tuple[str, str]:
    """(words, unit) with a unit at the end taken off; `m s` is what is left of m/s."""
    for tail, unit in ((" km h", "km/h"), (" m s2", "m/s2"), (" m s", "m/s"), (" rad s", "rad/s"), (" mi h", "mph")):
        if words.endswith(tail):
            return words[: -len(tail)].strip(), unit
    parts = words.split()
    if len(parts) > 1 and _plain(parts[-1]) in _AS_UNITS:
        unit = _plain(parts[-1])
        left = " ".join(parts[:-1])
        known = channel or _channel(left)
        if not known or unit in UNITS[CHANNELS[known].dimension] or _by_unit(known, unit):
            return left, unit
    if channel == "time" and re.search(r"\b(ms|millis(econds)?)\b", words):
        return words, "ms"
    if channel == "time" and re.search(r"\b(s|seconds)\b", words):
        return words, "s"
    if channel == "ah" and re.search(r"\bm ?ah\b", words):
        return words, "mah"
    if channel in ("ax", "ay", "az") and re.match(r"g( force| ?f[xyz])?\b", words):
        return words, "g"
    return words, ""


def _by_unit(channel: str, unit: str) -> str:
    """Another channel of the same thing where the unit tells it: `motor speed [rpm]`, `pack [V]`."""
    swaps = {
        ("speed", "rpm"): "motor_rpm",
        ("motor_rpm", "speed"): "speed",
        ("wheel_rpm", "speed"): "speed",
        ("ah", "energy"): "wh",
        ("wh", "capacity"): "ah",
        ("pull", "acceleration"): "",
    }
    for dimension, known in UNITS.items():
        if unit in known and (channel, dimension) in swaps:
            return swaps[(channel, dimension)]
    return ""


def to_si(channel: str, unit: str) -> tuple[float, float]:
    """(factor, offset) of a unit of a channel; that of SI for none.  KeyError for a unit that is none of it."""
    return UNITS[CHANNELS[channel].dimension][unit or USUAL[CHANNELS[channel].dimension]]


def units_of(channel: str) -> tuple[str, ...]:
    """Units that a channel may be written in."""
    return tuple(unit for unit in UNITS[CHANNELS[channel].dimension] if unit)


BEGIN = 4096  # bytes that are looked at


def recorded(path: Path) -> bool:
    """Whether a table looks like one that was recorded on a ride: a time beside volts, amps or turns in its heads."""
    try:
        with path.open("rb") as stream:
            text = stream.read(BEGIN).decode("utf-8", "replace")
    except OSError:
        return False
    for line in text.splitlines()[:6]:
        found = {read_head(cell).channel for cell in re.split(r"[;,\t|]", line)}
        if "time" in found and found & {"bus_v", "pack_a", "motor_a", "erpm", "motor_rpm", "duty", "ax", "az"}:
            return True
    return False
