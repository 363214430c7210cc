"""A log ridden again by the simulator: at the measured speed or by the measured command, with the band of the prediction."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.physics.ride.names import Col, Mode
from wattagon.physics.ride.ride import Rider, Run, Start, simulate
from wattagon.record import record
from wattagon.study.bands.bands import ONE_IN_SIX, even_draws
from wattagon.study.bands.errors import wide_inputs
from wattagon.study.drive.cases import gear_at
from wattagon.study.log.data import Floats, LogData
from wattagon.study.log.ridden import WIND_M_S, Seen, as_ridden, seen, start_charge
from wattagon.study.resolve import Resolved, resolve
from wattagon.study.ride.inputs import plant_of
from wattagon.study.ride.study import BOAT_STEPS, Ask, Ride

STEP_S = 0.02
CELL_M = 10.0
MOST_CELLS = 20_000
SAMPLES = 32
ROWS = 40_000
WAYS = ("speed", "command")
# what a channel of a log is in the trace
COLUMN = {
    "speed": Col.SPEED,
    "motor_a": Col.DC_A,
    "pack_a": Col.PACK_A,
    "bus_v": Col.BUS_V,
    "duty": Col.DUTY,
    "motor_c": Col.WINDING,
    "controller_c": Col.CONTROLLER,
    "pack_c": Col.PACK_T,
    "command": Col.COMMAND,
}


@record(frozen=True, slots=True, kw_only=True)
class Replay:
    """A log with what was predicted of it, on one even clock, shape (n,)."""

    seen: Seen
    design: Design  # in the state and under the conditions of the log
    resolved: Resolved
    ride: Ride
    way: str  # speed or command
    predicted: Mapping[str, Floats]
    low: Mapping[str, Floats]  # of the band; empty without one
    high: Mapping[str, Floats]
    energies_wh: Floats  # of the samples of the band
    told: tuple[str, ...]

    @property
    def data(self) -> LogData:
        return self.seen.data


def replay(
    design: Design,
    stock: Catalogue,
    data: LogData,
    *,
    way: str = "speed",
    samples: int = SAMPLES,
    of: Design | None = None,
    cancelled: Callable[[], bool] = lambda: False,
) -> Replay:
    """Ride a log again.  `samples` 0: without a band.  `of`: the design that the ride is told to belong to.

    Raises InputError for a log without speed, or without a command where that is asked for.  Loads the compiler.
    """
    if way not in WAYS:
        raise InputError("way", way, ", ".join(WAYS))
    then, said = as_ridden(design, data.log)
    plain = resolve(then, stock, note=True)
    first = gear_at(plain, 0.0)
    ridden = seen(data, then, first)
    if way == "command" and not ridden.has("command"):
        data.column("command")
    charge, spread, source = start_charge(ridden, first, then)
    run = _run(then, first, ridden, charge, way)
    told = [*([said] if said else []), *ridden.told, f"charge at the start {charge:.0%}, from {source}"]
    if ridden.grades_from == "nothing" and not then.vehicle.kind.floats:
        told.append("no heights, grades or course: taken as level")
    predicted = _columns(run, ridden, first)
    lows: dict[str, Floats] = {}
    highs: dict[str, Floats] = {}
    energies = np.zeros(0)
    if samples:
        lows, highs, energies = _band(then, stock, plain, ridden, charge, spread, way, samples, cancelled)
    ride = Ride(
        ask=Ask(run=f"log-{data.log.id}"),
        name=data.log.source or data.log.id,
        design=of or design,
        resolved=first,
        run=run,
        legs=(),
        speed_m_s=math.nan,
        grade=0.0,
        inputs=dict(plain.inputs),
    )
    return Replay(
        seen=ridden,
        design=then,
        resolved=first,
        ride=ride,
        way=way,
        predicted=predicted,
        low=lows,
        high=highs,
        energies_wh=energies,
        told=tuple(told),
    )


def filled(values: Floats) -> Floats:
    """Without nan: straight between what is known."""
    good = np.isfinite(values)
    return np.interp(np.arange(values.size), np.flatnonzero(good), values[good]) if good.any() else np.zeros(values.size)


def _run(design: Design, resolved: Resolved, ridden: Seen, charge: float, way: str, wind_off: float = 0.0) -> Run:
    plant, _ = plant_of(design, resolved)
    stream = resolved.current_m_s
    speed = filled(ridden.speed) + (stream + ridden.stream if design.vehicle.kind.floats else 0.0)
    table = _cells(ridden, resolved.headwind_m_s + wind_off, stream)
    air = resolved.day_c
    first = lambda channel, other: _first(ridden.columns.get(channel), other)
    winding = first("motor_c", resolved.air_c)
    start = Start(
        speed_m_s=float(speed[0]),
        charge=charge,
        winding_c=winding,
        case_c=winding,
        controller_c=first("controller_c", air),
        pack_c=first("pack_c", design.brief.conditions.pack_temperature.value),
        resistor_c=air,
    )
    values = speed if way == "speed" else filled(np.clip(ridden.columns["command"], -1.0, 1.0))
    rider = Rider(
        mode=Mode.PACE if way == "speed" else Mode.PLAYED,
        longest_s=float(ridden.time[-1]) + ridden.step_s,
        script=(values, ridden.step_s),
    )
    step = STEP_S * (BOAT_STEPS if design.vehicle.kind.floats else 1.0) if not design.vehicle.kind.floats else 0.04
    return simulate(plant, resolved.train.pack.chemistry, table, rider, start, step_s=step, rows=ROWS)


def _first(values: Floats | None, other: float) -> float:
    if values is None:
        return other
    some = values[np.isfinite(values)]
    return float(np.median(some[:10])) if some.size else other


def _cells(ridden: Seen, wind: float, stream: float) -> Floats:
    """Cells of the loop along the way of a log; grade by place."""
    total = max(float(ridden.distance[-1]), CELL_M)
    count = min(max(int(total / CELL_M), 1), MOST_CELLS)
    edges = np.linspace(0.0, total, count + 1)[:-1]
    moved = np.concatenate([[True], np.diff(ridden.distance) > 1e-9])
    middle = edges + 0.5 * total / count
    at = lambda values: np.interp(middle, ridden.distance[moved], values[moved])
    made = np.zeros((count, 8))
    made[:, 0], made[:, 1], made[:, 2], made[:, 3], made[:, 7] = (
        edges,
        at(ridden.grade),
        at(ridden.surface),
        wind + at(ridden.wind),
        stream + at(ridden.stream),
    )
    return made


def _columns(run: Run, ridden: Seen, resolved: Resolved) -> dict[str, Floats]:
    t, dc = run.column(Col.TIME), float(resolved.train.motor.dc_per_motor_amp)
    made = {}
    for channel, column in COLUMN.items():
        values = np.interp(ridden.time, t, run.column(column))
        made[channel] = values / dc if channel == "motor_a" else values
    return made


def _band(
    design: Design,
    stock: Catalogue,
    plain: Resolved,
    ridden: Seen,
    charge: float,
    spread: float,
    way: str,
    samples: int,
    cancelled: Callable[[], bool],
) -> tuple[dict[str, Floats], dict[str, Floats], Floats]:
    inputs = wide_inputs(plain.inputs)
    log = ridden.data.log
    told_wind = log.headwind.tolerance if log.headwind is not None and log.headwind.tolerance is not None else WIND_M_S
    inputs = [one._replace(width=told_wind) if one.path == "brief.conditions.headwind" else one for one in inputs]
    z = even_draws(samples, len(inputs) + 1)
    found: list[dict[str, Floats]] = []
    energies = []
    for row in z:
        if cancelled():
            break
        shift = {one.path: one.at(float(off)) for one, off in zip(inputs, row, strict=False)}
        try:
            other = gear_at(resolve(design, stock, shift=shift), 0.0)
        except InputError:
            continue
        begun = min(max(charge + spread * float(row[-1]), 0.03), 1.0)
        made = _columns(_run(design, other, ridden, begun, way), ridden, other)
        energies.append(float(np.sum(made["bus_v"] * made["pack_a"])) * ridden.step_s / 3600.0)
        found.append(made)
    if len(found) < 8:
        return {}, {}, np.zeros(0)
    lows, highs = {}, {}
    for channel in COLUMN:
        both = np.quantile(np.array([one[channel] for one in found], dtype=np.float32), (ONE_IN_SIX, 1.0 - ONE_IN_SIX), axis=0)
        lows[channel], highs[channel] = both[0].astype(float), both[1].astype(float)
    return lows, highs, np.array(energies)


def replay_shifted(made: Replay, design: Design, stock: Catalogue, shift: Mapping[str, float]) -> Replay:
    """The same log ridden with some inputs shifted, without a band.  Raises InputError for values that contradict each other."""
    other = gear_at(resolve(made.design, stock, shift=shift), 0.0)
    charge = float(made.ride.run.trace[0, Col.CHARGE])
    run = _run(made.design, other, made.seen, charge, made.way)
    return replace(made, resolved=other, predicted=_columns(run, made.seen, other), low={}, high={}, energies_wh=np.zeros(0))
