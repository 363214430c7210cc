"""Measured over predicted: each channel with its error and how much of it lies in the band, energy and peaks side by side, and what
of the design would explain the difference."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.physics.ride.names import Stat
from wattagon.record import record
from wattagon.study.bands.bands import ONE_IN_SIX
from wattagon.study.log.channels import CHANNELS
from wattagon.study.log.data import Floats
from wattagon.study.log.replay import COLUMN, Replay, replay_shifted
from wattagon.study.log.unknowns import Unknown, unknowns_of
from wattagon.study.resolve import Resolved
from wattagon.study.say import Say

EXPLAINS = 3.0  # widths within which an input may be off
BETTER, SAME = 0.75, 0.05  # of the residual power that an explanation may leave; a difference that is none
SHORTEST_M = 200.0
WHO = ("rolling", "drag_area", "stages.0.efficiency", "rider_mass", "hull_factor", "thrust_model", "thrust_factor", "torque_model")


@record(frozen=True, slots=True, kw_only=True)
class Compared:
    """One channel over the log."""

    name: str
    rms_error: float  # SI
    bias: float  # measured less predicted
    inside_band: float  # share of the time; nan without a band


@record(frozen=True, slots=True, kw_only=True)
class Figure:
    """One figure measured and predicted, SI, with the band of the prediction."""

    name: str
    words: str
    dimension: str
    measured: float
    predicted: float
    low: float
    high: float

    @property
    def off(self) -> float:
        """Measured over predicted, less 1; nan where nothing was predicted."""
        return self.measured / self.predicted - 1.0 if self.predicted else math.nan

    @property
    def inside(self) -> bool | None:
        """Whether it lies in the band; None without one."""
        return None if math.isnan(self.low) else self.low <= self.measured <= self.high


@record(frozen=True, slots=True, kw_only=True)
class Comparison:
    """A log against its prediction."""

    replay: Replay
    channels: tuple[Compared, ...]
    figures: tuple[Figure, ...]

    def figure(self, name: str) -> Figure | None:
        return next((one for one in self.figures if one.name == name), None)


def measured_of(made: Replay, channel: str) -> Floats | None:
    """A channel of the log on the clock of the replay; that of the speed without its noise where it was ridden by it."""
    if channel == "speed":
        return made.seen.raw_speed
    return made.seen.columns.get(channel)


def residual_of(made: Replay, channel: str) -> Floats | None:
    """Measured less predicted."""
    values = measured_of(made, channel)
    if values is None or channel not in made.predicted:
        return None
    # a bridge that brakes reads as duty of the other side in some logs: only the size is held against it
    if channel == "duty":
        values = np.abs(values)
    return np.where(made.seen.there, values - made.predicted[channel], math.nan)


def compare(made: Replay) -> Comparison:
    """All channels and figures of a replayed log."""
    channels = []
    for channel in COLUMN:
        off = residual_of(made, channel)
        if off is None or not np.isfinite(off).any() or channel == made.way:  # what it was ridden by
            continue
        good = np.isfinite(off)
        inside = math.nan
        if channel in made.low:
            values = measured_of(made, channel)
            assert values is not None
            inside = float(np.mean((values[good] >= made.low[channel][good]) & (values[good] <= made.high[channel][good])))
        channels.append(
            Compared(name=channel, rms_error=float(np.sqrt(np.mean(off[good] ** 2))), bias=float(np.mean(off[good])), inside_band=inside)
        )
    return Comparison(replay=made, channels=tuple(channels), figures=tuple(_figures(made)))


def _where_both(made: Replay) -> np.ndarray:
    """Where energy can be held against energy: inside of the data, with volts and amps."""
    volts, amps = made.seen.columns.get("bus_v"), made.seen.columns.get("pack_a")
    if volts is None or amps is None:
        return np.zeros(made.seen.time.size, dtype=bool)
    return np.asarray(made.seen.there & np.isfinite(volts) & np.isfinite(amps))


def _figures(made: Replay) -> list[Figure]:
    seen, got = made.seen, made.predicted
    figures: list[Figure] = []

    def add(
        name: str, words: str, dimension: str, measured: float, predicted: float, low: float = math.nan, high: float = math.nan
    ) -> None:
        if math.isfinite(measured) and math.isfinite(predicted):
            figures.append(Figure(name=name, words=words, dimension=dimension, measured=measured, predicted=predicted, low=low, high=high))

    both = _where_both(made)
    way = float(seen.distance[-1])
    if both.any():
        step = seen.step_s / 3600.0
        measured = float(np.sum((seen.columns["bus_v"] * seen.columns["pack_a"])[both])) * step
        predicted = float(np.sum((got["bus_v"] * got["pack_a"])[both])) * step
        whole = float(np.sum(got["bus_v"] * got["pack_a"])) * step
        share = predicted / whole if whole else 1.0
        low, high = _band_of(made.energies_wh * share)
        add("energy", "energy", "energy", measured, predicted, low, high)
        if way > SHORTEST_M:
            km = way / 1000.0
            add("wh_per_km", "energy for a kilometre", "energy", measured / km, predicted / km, low / km, high / km)
            usable = float(made.resolved.train.pack.chemical_wh(*_window(made)))
            if measured > 0.0 and predicted > 0.0:
                ranges = (usable / (measured / way), usable / (predicted / way))
                add("range", "range at this pace", "distance", *ranges, usable / (high / way), usable / (low / way))
    for channel, what in (("motor_a", "most motor amps"), ("pack_a", "most pack amps"), ("motor_c", "hottest winding")):
        _peak(made, channel, what, add, np.nanmax)
    _peak(made, "controller_c", "hottest controller", add, np.nanmax)
    _peak(made, "bus_v", "lowest pack volts", add, np.nanmin)
    if made.way == "command":
        _peak(made, "speed", "top speed", add, np.nanmax)
        add("distance", "distance", "distance", way, made.ride.run.stat(Stat.DISTANCE))
    return figures


def _window(made: Replay) -> tuple[float, float]:
    return made.resolved.window


def _band_of(values: Floats) -> tuple[float, float]:
    if values.size < 8:
        return math.nan, math.nan
    low, high = np.quantile(values, (ONE_IN_SIX, 1.0 - ONE_IN_SIX))
    return float(low), float(high)


def _peak(made: Replay, channel: str, what: str, add, most) -> None:  # type: ignore[no-untyped-def]
    values = measured_of(made, channel)
    if values is None or not np.isfinite(values).any():
        return
    # of the mean of half a second: one reading is no peak
    width = max(int(0.5 / made.seen.step_s), 1)
    of = lambda x: float(most(_mean(x, width)))
    low = of(made.low[channel]) if channel in made.low else math.nan
    high = of(made.high[channel]) if channel in made.high else math.nan
    add(f"peak_{channel}", what, CHANNELS[channel].dimension, of(values), of(made.predicted[channel]), low, high)


def _mean(values: Floats, width: int) -> Floats:
    if width < 2 or values.size <= width:
        return values
    return np.convolve(values, np.full(width, 1.0 / width), mode="valid")


@record(frozen=True, slots=True, kw_only=True)
class Explains:
    """Whether one input being off would explain a difference of energy."""

    unknown: Unknown
    widths: float  # how far off it would have to be
    left: float  # of the residual power; below 1 it fits better over the ride
    would: bool


def explanations(design: Design, stock: Catalogue, made: Comparison) -> list[Explains]:
    """What of the design would explain that a ride took more or less than predicted; each input alone, best first."""
    energy = made.figure("energy")
    if energy is None or abs(energy.off) < SAME:
        return []
    base = made.replay
    both = _where_both(base)
    measured = base.seen.columns["bus_v"] * base.seen.columns["pack_a"]
    power = lambda one: one.predicted["bus_v"] * one.predicted["pack_a"]
    width = max(int(5.0 / base.seen.step_s), 1)
    rms = lambda x: float(np.sqrt(np.nanmean(_mean(np.where(both, x, 0.0), width) ** 2)))
    before = rms(measured - power(base))
    found = []
    for unknown in unknowns_of(_noted(base)):
        if unknown.row.end not in WHO:
            continue
        try:
            other = replay_shifted(base, design, stock, {unknown.at: unknown.wide.at(1.0)})
        except InputError:
            continue
        moved = float(np.sum((power(other) - power(base))[both])) * base.seen.step_s / 3600.0
        if abs(moved) < 0.003 * abs(energy.predicted):
            continue
        need = (energy.measured - energy.predicted) / moved
        left = rms(measured - power(base) - need * (power(other) - power(base))) / max(before, 1e-9)
        found.append(Explains(unknown=unknown, widths=need, left=left, would=abs(need) <= EXPLAINS and left <= BETTER))
    best = min((one.left for one in found if one.would), default=math.inf)
    found = [replace(one, would=one.would and one.left <= 1.4 * best + 0.05) for one in found]
    return sorted(found, key=lambda one: (not one.would, one.left))


def _noted(made: Replay) -> Resolved:
    return replace(made.resolved, inputs=made.ride.inputs)


def statement(made: Comparison, found: Sequence[Explains], say: Say) -> str:
    """`uses 11 % more than predicted; rolling resistance would explain it, air drag would not`."""
    energy = made.figure("energy")
    if energy is None:
        return "no energy to compare: the log has no pack amps with volts"
    inside = {None: "", True: ", inside of the band of the prediction", False: ", outside of the band of the prediction"}[energy.inside]
    if abs(energy.off) < SAME:
        return f"uses what was predicted within {max(abs(energy.off), 0.005):.1%}{inside}"
    words = f"uses {abs(energy.off):.0%} {'more' if energy.off > 0.0 else 'less'} than predicted{inside}"
    would = [one.unknown.row.words for one in found if one.would]
    not_ = [one.unknown.row.words for one in found if not one.would]
    if would:
        words += f"; {would[0]} would explain it"
        words += f", {would[1]} nearly as well" if len(would) > 1 else ""
        words += f", {' or '.join(not_[:2])} would not" if not_ else ""
    elif not_:
        words += (
            f"; neither {' nor '.join(not_[:3])} alone would explain it" if len(not_) > 1 else f"; {not_[0]} alone would not explain it"
        )
    return words
