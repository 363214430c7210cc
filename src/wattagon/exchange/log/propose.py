"""Which column is what: proposed from heads, units and ranges, remembered by layout, told by the user; never taken in silence."""

from __future__ import annotations

import hashlib
import math
import re
from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.design.tree import LogColumn
from wattagon.errors import InputError
from wattagon.exchange.log.heads import UNITS, read_head, to_si, units_of
from wattagon.exchange.log.table import Table
from wattagon.record import record
from wattagon.study.log.channels import CHANNELS
from wattagon.study.log.expect import Expect

Floats = NDArray[np.float64]
MOST_LEVER = 1.6  # from where a share is taken as per cent
PER_CENT = ("duty", "command", "brake")
DAY_S = 86400.0


@record(frozen=True, slots=True, kw_only=True)
class Proposed:
    """One column with how it is known: head, units, range, remembered or told; and what is worth saying of it."""

    column: LogColumn
    how: str
    said: str = ""


def header_of(heads: Sequence[str]) -> str:
    """What marks tables of one layout."""
    return hashlib.sha256("\n".join(heads).encode()).hexdigest()[:12]


def propose(
    table: Table, expect: Expect | None, known: Sequence[LogColumn] = (), told: Mapping[str, tuple[str, str]] | None = None
) -> list[Proposed]:
    """What each column is.  `known` are columns of an earlier log of one layout, `told` (channel, unit) by head.

    Raises InputError for a head or a unit that is none.
    """
    told = dict(told or {})
    for head in told:
        if head not in table.heads:
            raise InputError("--map", head, f"one of the heads: {', '.join(table.heads)[:300]}")
    remembered = {one.head: one for one in known}
    made: list[Proposed] = []
    taken = {channel for channel, _ in told.values() if channel}
    for k, head in enumerate(table.heads):
        values = table.columns[k]
        if head in told:
            channel, unit = told[head]
            made.append(_checked(head, channel, unit, k in table.clocks))
            continue
        if head in remembered:
            one = remembered[head]
            if one.channel not in taken:
                taken.add(one.channel) if one.channel else None
                made.append(Proposed(column=one, how="remembered" if one.channel else "unused"))
                continue
        channel, unit = ("time", "clock") if k in table.clocks else read_head(head)
        below = table.units[k].strip("[]() ").lower().replace(" ", "")
        if below and (not channel or below in UNITS[CHANNELS[channel].dimension]):
            both = read_head(f"{head} [{below}]")
            channel, unit = both.channel or channel, both.unit or below
            if channel and unit not in UNITS[CHANNELS[channel].dimension]:
                unit = ""
        if not channel and table.headless:
            channel = _by_range(values, expect, taken)
        if not channel or channel in taken or not np.isfinite(values).any():
            made.append(Proposed(column=LogColumn(head=head, channel=""), how="unused"))
            continue
        taken.add(channel)
        how = "range" if table.headless else "head"
        said = ""
        if k not in table.clocks and not unit:
            unit, said = _unit_by_range(channel, values, expect)
            how = "range" if said else how
        made.append(Proposed(column=LogColumn(head=head, channel=channel, unit=unit), how=how, said=said))
    return _one_clock(table, _speed_unit(table, made, expect))


def _checked(head: str, channel: str, unit: str, clock: bool) -> Proposed:
    if channel in ("", "none", "unused"):
        return Proposed(column=LogColumn(head=head, channel=""), how="told")
    if channel not in CHANNELS:
        raise InputError("--map", channel, f"none or {', '.join(CHANNELS)}")
    if clock and channel == "time":
        unit = "clock"
    plain = unit.lower().replace(" ", "")
    if plain and plain not in UNITS[CHANNELS[channel].dimension]:
        raise InputError("--map", f"{channel} in {unit}", ", ".join(units_of(channel)) or "no unit")
    return Proposed(column=LogColumn(head=head, channel=channel, unit=plain), how="told")


def told_by(texts: Sequence[str], heads: Sequence[str]) -> dict[str, tuple[str, str]]:
    """(channel, unit) by head, from `CHANNEL=HEAD` or `HEAD=CHANNEL`, the unit behind the channel as `speed:km/h`.

    Raises InputError with what is accepted.
    """
    found: dict[str, tuple[str, str]] = {}
    for text in texts:
        left, equals, right = text.partition("=")
        if not equals:
            raise InputError("--map", text, "CHANNEL=HEAD, such as speed:km/h=Geschw or none=spare")
        for head, what in ((right, left), (left, right)):
            channel, _, unit = re.sub(r"[@]", ":", what.strip()).partition(":")
            head = next((name for name in heads if name == head.strip()), "") or next(
                (name for name in heads if name.casefold() == head.strip().casefold()), ""
            )
            if head and (channel.strip() in CHANNELS or channel.strip() in ("none", "unused", "")):
                found[head] = (channel.strip(), unit.strip())
                break
        else:
            raise InputError("--map", text, f"a channel ({', '.join(CHANNELS)} or none) and one of the heads: {', '.join(heads)[:300]}")
    return found


def _finite(values: Floats) -> Floats:
    return values[np.isfinite(values)]


def _unit_by_range(channel: str, values: Floats, expect: Expect | None) -> tuple[str, str]:
    """(unit, what to say of it) of a column whose head names none."""
    some = _finite(values)
    if not some.size:
        return "", ""
    high = float(np.quantile(np.abs(some), 0.995))
    if channel == "time":
        return _time_unit(some)
    if channel in PER_CENT:
        return ("%", f"{channel}: taken as per cent, since it goes to {high:.3g}") if high > MOST_LEVER else ("", "")
    if channel == "speed":
        top = expect.most_speed if expect is not None else 30.0
        if high > top:
            return "km/h", f"speed: taken as km/h, since {high:.3g} m/s is more than this drive could ever reach; its head names no unit"
        return "m/s", "speed: taken as m/s, its head names no unit"
    if channel == "bus_v" and expect is not None and high > 20.0 * expect.full_v:
        return "mv", "pack volts: taken as mV by their size"
    if channel in ("motor_a", "pack_a") and high > 2000.0:
        return "ma", f"{CHANNELS[channel].words}: taken as mA by their size"
    if channel in ("ax", "ay", "az"):
        return ("g", "accelerations: taken as g by their size") if high < 4.0 else ("m/s2", "")
    if channel == "ah" and high > 400.0:
        return "mah", "charge drawn: taken as mAh by its size"
    if channel == "distance":
        return "m", "distance: taken as m, its head names no unit"
    return "", ""


def _time_unit(some: Floats) -> tuple[str, str]:
    steps = np.diff(some)
    steps = steps[steps > 0.0]
    step = float(np.median(steps)) if steps.size else 1.0
    first = abs(float(some[0]))
    if first > 1e14:
        return "us", "time: taken as µs since 1970 by its size"
    if first > 1e11:
        return "ms", "time: taken as ms since 1970 by its size"
    if first > 1e8 and step < 1e4:
        return "s", ""
    if step >= 4.0 and bool(np.all(some == np.round(some))):
        return "ms", f"time: taken as ms, since its steps are {step:.4g}; its head names no unit"
    return "s", "time: taken as s, its head names no unit"


def _by_range(values: Floats, expect: Expect | None, taken: set[str]) -> str:
    """What a column without a head may be, from its range alone."""
    some = _finite(values)
    if some.size < 2:
        return ""
    steps = np.diff(some)
    if "time" not in taken and float(np.mean(steps > 0.0)) > 0.95:
        return "time"
    low, high = float(np.quantile(some, 0.02)), float(np.quantile(some, 0.98))
    if (
        expect is not None
        and "bus_v" not in taken
        and 0.7 * expect.empty_v < low
        and high < 1.03 * expect.full_v
        and high - low < 0.5 * high
    ):
        return "bus_v"
    if "duty" not in taken and low >= -1.0 and 0.05 < high <= 1.0:
        return "duty"
    return ""


def _speed_unit(table: Table, made: list[Proposed], expect: Expect | None) -> list[Proposed]:
    """Where the head of the speed names no unit and motor turns are there, they tell it."""
    at = next((k for k, one in enumerate(made) if one.column.channel == "speed" and one.how == "range"), None)
    turns = next((k for k, one in enumerate(made) if one.column.channel in ("erpm", "motor_rpm")), None)
    if at is None or turns is None or expect is None or not math.isfinite(expect.per_m):
        return made
    factor, offset = to_si(made[turns].column.channel, made[turns].column.unit)
    rpm = np.abs(table.columns[turns] * factor + offset)
    pairs = expect.pole_pairs if made[turns].column.channel == "erpm" else 1.0
    by_turns = rpm / pairs * 2.0 * math.pi / 60.0 / expect.per_m
    speed = np.abs(table.columns[at])
    good = np.isfinite(speed) & np.isfinite(by_turns) & (by_turns > 1.0)
    if good.sum() < 10:
        return made
    ratio = float(np.median(speed[good] / by_turns[good]))
    for unit in ("m/s", "km/h", "mph", "kn"):
        if abs(ratio * UNITS["speed"][unit][0] - 1.0) < 0.12:
            said = f"speed: taken as {unit}, since then it agrees with the motor's turns; its head names no unit"
            made[at] = Proposed(column=LogColumn(head=made[at].column.head, channel="speed", unit=unit), how="range", said=said)
            break
    return made


def _one_clock(table: Table, made: list[Proposed]) -> list[Proposed]:
    """Of several columns that could be the time, the one that goes on steadily."""
    times = [k for k in range(len(made)) if made[k].column.channel == "time"]
    others = [k for k in table.clocks if k not in times and made[k].column.channel == "" and made[k].how == "unused"]
    if not times and others:
        made[others[0]] = Proposed(column=LogColumn(head=table.heads[others[0]], channel="time", unit="clock"), how="head")
    return made
