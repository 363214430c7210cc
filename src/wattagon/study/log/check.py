"""What does not fit in a log: slips, spikes, a unit for another, one current for another.  Found and told; nothing is mended.

Check sums: pack amps over duty times motor amps 0.9 to 1.1; speed from turns against speed within 3 % once the rolling radius is known.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.study.log.channels import CHANNELS
from wattagon.study.log.data import integral
from wattagon.study.log.expect import Expect
from wattagon.study.say import Say

Floats = NDArray[np.float64]
NEAR, SURE = 0.12, 0.06  # a ratio counts as 1, or as that of two units
RATIOS = (
    (3.6, "km/h where m/s is told", "m/s where km/h is told"),
    (2.23694, "mph where m/s is told", "m/s where mph is told"),
    (1.94384, "knots where m/s is told", "m/s where knots are told"),
    (1.609344, "km/h where mph is told", "mph where km/h is told"),
)
ENOUGH = 100_000


def plausible(columns: Mapping[str, Floats], told: list[str]) -> dict[str, Floats]:
    """Values outside of what their channel can be are none; told."""
    made = {}
    for name, values in columns.items():
        row = CHANNELS[name]
        with np.errstate(invalid="ignore"):
            wild = np.isfinite(values) & ((values < row.low) | (values > row.high))
        count = int(wild.sum())
        if count:
            told.append(
                f"{row.words}: {count} of {values.size} values are outside of {row.low:g} to {row.high:g} {_si(name)} and were left empty"
            )
            values = np.where(wild, np.nan, values)
        made[name] = values
    return made


def _si(channel: str) -> str:
    from wattagon.design.dimensions import DIMENSIONS

    return DIMENSIONS[CHANNELS[channel].dimension].si


def spikes_of(time: Floats, columns: Mapping[str, Floats], told: list[str]) -> dict[str, NDArray[np.bool_]]:
    """Values alone far off both neighbours, faster than their channel can change.  They are drawn, not learnt from."""
    found = {}
    for name, values in columns.items():
        row = CHANNELS[name]
        if row.step <= 0.0 or values.size < 5:
            continue
        before, after, now = values[:-2], values[2:], values[1:-1]
        span = np.maximum(time[2:] - time[:-2], 1e-3)
        with np.errstate(invalid="ignore"):
            off = np.minimum(np.abs(now - before), np.abs(now - after))
            some, moves = _sample(np.abs(values)), _sample(np.abs(np.diff(values)))
            scale = float(np.median(moves)) if moves.size else 0.0
            size = float(np.quantile(some, 0.99)) if some.size else 0.0
            alone = (off > np.maximum(row.step * span, 12.0 * scale)) & (np.abs(after - before) < 0.5 * off) & (off > 0.15 * size)
        if alone.any():
            bad = np.zeros(values.size, dtype=bool)
            bad[1:-1] = alone
            found[name] = bad
            count = int(bad.sum())
            told.append(
                f"{row.words}: {count} {'spike' if count == 1 else 'spikes'}, the first at "
                f"{time[np.flatnonzero(bad)[0]]:.4g} s; shown, not learnt from"
            )
    return found


def _sample(values: Floats) -> Floats:
    """Known values, of a long log some of them: enough for a median."""
    some = values[:: max(values.size // ENOUGH, 1)]
    return some[np.isfinite(some)]


def _median(values: Floats) -> float:
    some = _sample(values)
    return float(np.median(some)) if some.size >= 10 else math.nan


class Oddity(NamedTuple):
    """What does not fit; `doubtful`: nothing is to be learnt before it is cleared up."""

    words: str
    doubtful: bool = True


def mixed_up(time: Floats, columns: Mapping[str, Floats], expect: Expect | None, say: Say) -> list[Oddity]:
    """What contradicts itself or the design: units, currents, turns, volts."""
    told: list[Oddity] = []
    speed = columns.get("speed")
    turns = by_turns(columns, expect)
    with np.errstate(invalid="ignore", divide="ignore"):
        if speed is not None and turns is not None and expect is not None:
            told += _against_turns(speed, turns, expect)
        if speed is not None and "distance" in columns:
            told += _against_distance(time, speed, columns["distance"])
        if speed is not None and expect is not None and turns is None:
            top = float(np.nanquantile(speed, 0.99)) if np.isfinite(speed).any() else 0.0
            if top > expect.most_speed:
                told.append(
                    Oddity(
                        f"speed goes to {say(top, 'speed')}, more than this drive can turn its wheels to "
                        f"({say(expect.most_speed, 'speed')} with a full pack): another unit, or downhill"
                    )
                )
        told += _amps(columns, expect)
        told += _volts(columns, expect, say)
        told += _counters(time, columns)
    return told


def by_turns(columns: Mapping[str, Floats], expect: Expect | None) -> Floats | None:
    """Speed that the turns give [m/s]; None without turns or without a bound between them and the speed."""
    if expect is None or not math.isfinite(expect.per_m):
        return None
    shaft = shaft_of(columns, expect)
    return shaft / expect.per_m if shaft is not None else None


def shaft_of(columns: Mapping[str, Floats], expect: Expect) -> Floats | None:
    """Shaft speed of the motor by what the log has of turns [rad/s]."""
    if "erpm" in columns:
        return np.abs(columns["erpm"]) / expect.pole_pairs * 2.0 * math.pi / 60.0
    if "motor_rpm" in columns:
        return np.abs(columns["motor_rpm"]) * 2.0 * math.pi / 60.0
    return None


def _against_turns(speed: Floats, turns: Floats, expect: Expect) -> list[Oddity]:
    good = np.isfinite(speed) & np.isfinite(turns) & (turns > 0.8)
    ratio = _median(np.where(good, np.abs(speed) / turns, np.nan))
    if not math.isfinite(ratio) or ratio <= 0.0:
        return []
    for factor, over, under in RATIOS:
        for value, words in ((factor, over), (1.0 / factor, under)):
            if abs(ratio / value - 1.0) < SURE:
                return [
                    Oddity(
                        f"speed reads {ratio:.2f} times what the motor's turns give: its numbers look like {words}; "
                        "nothing was changed, map the column with its unit"
                    )
                ]
    for value, words in (
        (expect.pole_pairs, "electrical speed looks like shaft turns"),
        (1.0 / expect.pole_pairs, "motor speed looks electrical"),
    ):
        if expect.pole_pairs > 1.0 and abs(ratio / value - 1.0) < NEAR:
            return [Oddity(f"speed reads {ratio:.2f} times what the motor's turns give, which is the pole pairs: the {words}")]
    if abs(ratio - 1.0) > NEAR:
        return [
            Oddity(
                f"speed reads {ratio:.2f} times what the motor's turns give: no unit explains it; ratio, wheel or pole "
                f"pairs are not what the design says"
            )
        ]
    if abs(ratio - 1.0) > 0.03:
        return [Oddity(f"speed reads {ratio:.3f} times what the motor's turns give: the rolling radius is not quite the design's", False)]
    return []


def _against_distance(time: Floats, speed: Floats, distance: Floats) -> list[Oddity]:
    some = distance[np.isfinite(distance)]
    way = float(some[-1] - some[0]) if some.size > 1 else 0.0
    by_speed = integral(time, np.maximum(speed, 0.0))
    if way < 50.0 or not by_speed > 1.0:
        return []
    ratio = by_speed / way
    for factor, over, under in (*RATIOS, (1000.0, "", "")):
        for value, words in ((factor, over), (1.0 / factor, under)):
            if abs(ratio / value - 1.0) < SURE:
                return [
                    Oddity(
                        f"speed over time gives {ratio:.3g} times the distance of the log: "
                        f"{words or 'its distance is in another unit'}; nothing was changed"
                    )
                ]
    return [Oddity(f"speed over time gives {ratio:.2f} times the distance of the log", False)] if abs(ratio - 1.0) > 0.1 else []


def _amps(columns: Mapping[str, Floats], expect: Expect | None) -> list[Oddity]:
    pack, motor, duty = columns.get("pack_a"), columns.get("motor_a"), columns.get("duty")
    if pack is None or motor is None:
        return []
    told: list[Oddity] = []
    drives = np.isfinite(pack) & np.isfinite(motor) & (np.abs(motor) > 0.15 * np.nanquantile(np.abs(motor), 0.98))
    if drives.sum() < 20:
        return []
    ratio = pack[drives] / motor[drives]
    if float(np.nanstd(ratio)) < 0.03 and abs(float(np.nanmedian(ratio)) - 1.0) < 0.05:
        told.append(
            Oddity(
                "pack amps are as large as motor amps at any duty: one of the two columns is a copy of the other, or they are phase amps"
            )
        )
    elif duty is not None:
        part = drives & np.isfinite(duty) & (np.abs(duty) > 0.1) & (np.abs(duty) < 0.8)
        if part.sum() >= 20:
            each = expect.dc_per_motor_amp if expect is not None else 0.866
            check = float(np.nanmedian(pack[part] / (np.abs(duty[part]) * motor[part] * each)))
            swapped = float(np.nanmedian(motor[part] / (np.abs(duty[part]) * pack[part] * each)))
            count = expect.motors if expect is not None else 1.0
            if 0.8 < swapped < 1.25 and not 0.8 < check < 1.35:
                told.append(Oddity("motor amps are the pack amps times the duty: the two columns look swapped"))
            elif count > 1.0 and 0.85 < check < 1.3:
                told.append(
                    Oddity(
                        f"pack amps are {check:.2f} times duty times motor amps: those of one controller, "
                        f"the pack gives {count:.0f} times that"
                    )
                )
            elif check > 0.0 and not 0.85 < check / count < 1.3:
                told.append(
                    Oddity(
                        f"pack amps are {check / count:.2f} times what duty and motor amps give, 0.9 to 1.1 would do: amps of another "
                        f"convention, or of another count of motors"
                    )
                )
    return told


def _volts(columns: Mapping[str, Floats], expect: Expect | None, say: Say) -> list[Oddity]:
    volts = columns.get("bus_v")
    if volts is None or expect is None or not np.isfinite(volts).any():
        return []
    high, low = float(np.nanquantile(volts, 0.99)), float(np.nanquantile(volts, 0.01))
    if high > 1.06 * expect.full_v:
        return [
            Oddity(
                f"pack volts go to {say(high, 'voltage')}, a full pack of this design has {say(expect.full_v, 'voltage')}: "
                f"another pack, or another unit"
            )
        ]
    if high < 0.8 * expect.empty_v and high > 0.0:
        return [
            Oddity(
                f"pack volts are at most {say(high, 'voltage')}, an empty pack of this design has "
                f"{say(expect.empty_v, 'voltage')}: another pack, or another unit"
            )
        ]
    return [Oddity(f"pack volts fall to {say(low, 'voltage')}", False)] if low < 0.5 * expect.empty_v else []


def _counters(time: Floats, columns: Mapping[str, Floats]) -> list[Oddity]:
    told: list[Oddity] = []
    pack, volts = columns.get("pack_a"), columns.get("bus_v")
    for name, values in (("ah", pack), ("wh", pack * volts if pack is not None and volts is not None else None)):
        if name not in columns or values is None:
            continue
        own = columns[name][np.isfinite(columns[name])]
        counted = float(own[-1] - own[0]) if own.size > 1 else 0.0
        summed = integral(time, values) / 3600.0
        if counted > 0.05 and summed > 0.0 and not 0.93 < summed / counted < 1.07:
            told.append(
                Oddity(
                    f"{CHANNELS[name].words} of the log is {counted:.3g} {_si(name)}, its amps give {summed:.3g} "
                    f"{_si(name)}: {summed / counted:.2f} times as much",
                    False,
                )
            )
    return told
