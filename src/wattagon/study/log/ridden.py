"""The conditions a log was ridden under: speed without its noise, grades by honest smoothing, wind, mass, charge, air."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np

from wattagon.design import codec
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Design, Log, Variant
from wattagon.physics.pack import charge_at
from wattagon.record import record
from wattagon.study.log.check import by_turns, shaft_of
from wattagon.study.log.data import Floats, LogData
from wattagon.study.log.expect import Expect, expect_of
from wattagon.study.resolve import Resolved
from wattagon.study.ride.study import find_course, legs_of

GRID_S = 0.1
SMOOTH_S = (0.3, 0.5, 0.8, 1.2, 2.0, 3.0)
CALM_M_S2 = 0.03  # noise of an acceleration that a smoothing may leave
HEIGHT_M = 60.0  # over which heights are averaged, twice: receivers wander by metres over tens of metres
STEEPEST = 0.30
REST_A = 0.6  # amps under which the volts are those of rest
WIND_M_S, SLOPE = 1.0, 0.002  # how well a wind and a slope that nobody measured are known
# of a variant: what somebody knows of its parts, not which parts they are
KNOWN_ONLY = (
    "overrides",
    "wiring_ohm",
    "efficiency",
    "drag",
    "resistance",
    "capacity",
    "loads",
    "checks",
    "thrust_factor",
    "torque_factor",
)


@record(frozen=True, slots=True, kw_only=True)
class Seen:
    """A log on an even clock: shape (n,), nan where nothing was measured."""

    data: LogData
    step_s: float
    time: Floats
    speed: Floats  # without its noise
    raw_speed: Floats
    columns: dict[str, Floats]  # all channels
    distance: Floats
    grade: Floats
    grades_from: str  # heights, grades, course or nothing
    surface: Floats  # times the vehicle's own rolling resistance
    wind: Floats  # added to the headwind of the day
    stream: Floats  # of the water, added to that of the day
    shaft: Floats | None  # of the motor, by its turns [rad/s]
    dc_a: Floats | None  # of one motor, DC-equivalent
    there: np.ndarray  # bool: inside of the data, not in a gap
    told: tuple[str, ...]

    def has(self, channel: str) -> bool:
        return channel in self.columns


def same_build(a: Variant, b: Variant) -> bool:
    """Whether two states of a variant are of the same parts and settings, whatever is known of them by now."""
    return _parts(a) == _parts(b)


def _parts(variant: Variant) -> object:
    def bare(value: object) -> object:
        if isinstance(value, dict):
            return {key: bare(item) for key, item in value.items() if key not in KNOWN_ONLY}
        return [bare(item) for item in value] if isinstance(value, list) else value

    data = codec.encode(variant)
    skip = ("name", "note", "based_on", "build", "commissioning", "inquiry", "layout", "strength", "wet", "own_parts", "measured_load")
    return bare({key: value for key, value in data.items() if key not in skip})


def state_of(variant: Variant) -> Variant:
    """A variant as a log keeps it: what it drives with, without what was only told or done."""
    return replace(variant, layout=None, strength=None, build=None, commissioning=None, inquiry=None, wet=None, measured_load=None, note="")


def as_ridden(design: Design, log: Log) -> tuple[Design, str]:
    """(the design in the state and under the conditions of a log, what is worth saying of it)."""
    said = ""
    variant = next((one for one in design.variants if one.id == log.variant), design.variant())
    if log.state is not None and not same_build(log.state, variant):
        kept = replace(log.state, layout=variant.layout, strength=variant.strength, own_parts=variant.own_parts)
        design = replace(design, variants=tuple(kept if one.id == kept.id else one for one in design.variants))
        said = "the build has changed since: it is predicted as it was ridden"
    if design.active != variant.id:
        design = replace(design, active=variant.id)
    conditions = design.brief.conditions
    changes: dict[str, Any] = {}
    if log.air is not None:
        changes["air_temperature"] = log.air
    if log.headwind is not None:
        changes["headwind"] = log.headwind
    if changes:
        design = replace(design, brief=replace(design.brief, conditions=replace(conditions, **changes)))
    if log.aboard is not None:
        aboard = Quantity(value=log.aboard, known=Known.MEASURED, tolerance=0.5)
        none = Quantity(value=0.0, known=Known.MEASURED)
        design = replace(design, vehicle=replace(design.vehicle, rider_mass=aboard, load_mass=none))
    if design.brief.case or design.brief.mode:
        design = replace(design, brief=replace(design.brief, case="", mode=""))
    return design, said


def seen(data: LogData, design: Design, resolved: Resolved, step_s: float | None = None, *, rides: bool = True) -> Seen:
    """A log on an even clock of 0.1 s, or coarser where it is.  Raises InputError without a speed and without turns, unless it need not
    ride (`rides`): of a meter on the bench only the pack is learnt."""
    step = step_s or max(GRID_S, min(data.step_s, 2.0))
    n = max(int(data.seconds / step + 1e-6) + 1, 2)
    time: Floats = np.arange(n, dtype=float) * step
    told: list[str] = []
    columns = {name: even_column(data, name, time, step) for name in data.columns}
    there = np.ones(n, dtype=bool)
    for begin, end in data.gaps():
        there &= ~((time > begin - data.time[0] + 1e-9) & (time < end - data.time[0] - 1e-9))
    expect = expect_of(resolved)
    shaft = shaft_of(columns, expect)
    turned = by_turns(columns, expect)
    if "speed" in columns:
        raw = np.maximum(columns["speed"], 0.0)
    elif turned is not None:
        raw = turned
        told.append("speed is that of the motor's turns: a wrong radius is not seen in it")
    elif not rides and "bus_v" in columns and "pack_a" in columns:
        raw = np.zeros(n)
        told.append("no speed and no turns: only the pack is learnt from it")
    else:
        data.column("speed")  # refuses in a sentence
        raise AssertionError
    raw = np.where(there, raw, np.nan)
    speed = smoothed(raw, step)
    filled = np.interp(time, time[np.isfinite(speed)], speed[np.isfinite(speed)]) if np.isfinite(speed).any() else np.zeros(n)
    distance = np.concatenate([[0.0], np.cumsum(0.5 * (filled[1:] + filled[:-1]) * step)])
    grade, source = _grades(design, columns, distance)
    surface, wind, stream = np.ones(n), np.zeros(n), np.zeros(n)
    if data.log.course:
        legs = legs_of(find_course(design, data.log.course))
        on = np.minimum(np.searchsorted(np.cumsum([leg.length_m for leg in legs]), distance, side="right"), len(legs) - 1)
        of = lambda name: np.array([getattr(leg, name) for leg in legs])[on]
        surface, wind, stream = of("rolling_factor"), of("wind_m_s"), of("current_m_s")
        if source == "nothing":
            grade, source = of("grade"), "course"
    motor = columns.get("motor_a")
    return Seen(
        data=data,
        step_s=step,
        time=time,
        speed=speed,
        raw_speed=raw,
        columns=columns,
        distance=distance,
        grade=grade,
        grades_from=source,
        surface=surface,
        wind=wind,
        stream=stream,
        shaft=shaft,
        dc_a=None if motor is None else motor * expect.dc_per_motor_amp,
        there=there,
        told=tuple(told),
    )


def even_column(data: LogData, name: str, grid: Floats, step: float) -> Floats:
    """A channel on an even clock, without its spikes; nan in gaps."""
    return _even(data.time - data.time[0], data.clean(name), grid, step)


def _even(t: Floats, values: Floats, grid: Floats, step: float) -> Floats:
    """Values on an even clock: the mean of what falls into a step, else straight between neighbours that are near."""
    good = np.isfinite(values)
    if not good.any():
        return np.full(grid.size, math.nan)
    t, values = t[good], values[good]
    usual = float(np.median(np.diff(t))) if t.size > 1 else step
    if usual < 0.7 * step:
        at = np.clip(np.round(t / step).astype(np.intp), 0, grid.size - 1)
        count = np.bincount(at, minlength=grid.size)
        with np.errstate(invalid="ignore"):
            mean = np.bincount(at, values, minlength=grid.size) / count
        mean[count == 0] = np.nan
        t, values = grid[count > 0], mean[count > 0]
    made = np.interp(grid, t, values)
    after = np.searchsorted(t, grid)
    near = t[np.minimum(after, t.size - 1)] - t[np.maximum(after - 1, 0)]
    made[near > max(6.0 * usual, 6.0 * step, 1.0)] = np.nan
    made[(grid < t[0] - step) | (grid > t[-1] + step)] = np.nan
    return made


def smoothed(speed: Floats, step: float) -> Floats:
    """A speed without its noise: a Gaussian mean as wide as its noise asks for, not wider."""
    good = np.isfinite(speed)
    if good.sum() < 8:
        return speed
    second = np.diff(speed[good], 2)
    noise = float(np.median(np.abs(second))) / 0.6745 / math.sqrt(6.0)
    width = SMOOTH_S[-1]
    for one in SMOOTH_S:
        # variance of the derivative of a Gaussian mean of white noise
        if noise * math.sqrt(step / (4.0 * math.sqrt(math.pi) * one**3)) < CALM_M_S2:
            width = one
            break
    reach = max(int(4.0 * width / step), 1)
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) * step / width) ** 2)
    mass = np.convolve(good.astype(float), kernel, mode="same")
    made = np.convolve(np.where(good, speed, 0.0), kernel, mode="same")
    if kernel.size > speed.size:
        return speed
    with np.errstate(invalid="ignore", divide="ignore"):
        made = made / mass
    made[~good] = np.nan
    return np.maximum(made, 0.0)


def _grades(design: Design, columns: dict[str, Floats], distance: Floats) -> tuple[Floats, str]:
    """(grade at each moment, where it comes from)."""
    if design.vehicle.kind.floats:
        return np.zeros(distance.size), "nothing"
    if "grade" in columns and np.isfinite(columns["grade"]).mean() > 0.5:
        known = np.isfinite(columns["grade"])
        return np.interp(distance, distance[known], columns["grade"][known]), "grades"
    if "elevation" in columns and np.isfinite(columns["elevation"]).sum() > 20 and distance[-1] > 2.0 * HEIGHT_M:
        return _from_heights(columns["elevation"], distance), "heights"
    return np.zeros(distance.size), "nothing"


def _from_heights(height: Floats, distance: Floats) -> Floats:
    fine = np.linspace(0.0, distance[-1], max(int(distance[-1] / 5.0), 4) + 1)
    known = np.isfinite(height)
    order = np.concatenate([[True], np.diff(distance[known]) > 1e-6])
    at = np.interp(fine, distance[known][order], height[known][order])
    width = max(int(HEIGHT_M / (fine[1] - fine[0])) | 1, 1)
    for _ in range(2):
        padded = np.concatenate([2 * at[0] - at[width // 2 : 0 : -1], at, 2 * at[-1] - at[-2 : -width // 2 - 1 : -1]])
        if padded.size < width:
            break
        at = np.convolve(padded, np.full(width, 1.0 / width), mode="valid")[: fine.size]
    slope = np.gradient(at, fine[: at.size]) if at.size > 2 else np.zeros(at.size)
    sine = np.clip(slope, -STEEPEST, STEEPEST)
    return np.interp(distance, fine[: at.size], sine / np.sqrt(1.0 - sine**2))


def start_charge(ridden: Seen, resolved: Resolved, design: Design) -> tuple[float, float, str]:
    """(charge at the start, its width, where it comes from): told, else by the volts at rest before the ride, else as the brief has it."""
    told = ridden.data.log.start_charge
    if told is not None:
        return told.value, told.tolerance if told.tolerance is not None else 0.02, "told"
    volts, amps = ridden.columns.get("bus_v"), ridden.columns.get("pack_a")
    if volts is not None and amps is not None:
        first = np.flatnonzero(np.isfinite(volts) & np.isfinite(amps))[: max(int(20.0 / ridden.step_s), 3)]
        rest = first[np.abs(amps[first]) < REST_A]
        if rest.size >= 2:
            pack = resolved.train.pack
            cell = float(np.median(volts[rest])) / float(pack.series)
            return float(charge_at(pack.chemistry, cell)), 0.03, "volts at rest"
    return design.brief.conditions.start_charge.value, 0.10, "the brief"


def expect_for(resolved: Resolved) -> Expect:
    """What a resolved variant leads one to expect."""
    return expect_of(resolved)
