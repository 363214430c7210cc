"""A ride that is simulated and recorded as instruments would: noise, zero points that are off, steps of their converters, gaps."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.physics.ride.course import Leg, cells
from wattagon.physics.ride.names import Col, Mode
from wattagon.physics.ride.ride import Rider, Run, Start, simulate
from wattagon.record import record
from wattagon.study.drive.cases import gear_at
from wattagon.study.resolve import Resolved, resolve
from wattagon.study.ride.inputs import plant_of
from wattagon.study.ride.study import BOAT_BRAKE_M_S2

Floats = NDArray[np.float64]
BOAT_STEP_S, STEP_S = 0.04, 0.01
ROWS = 200_000


@record(frozen=True, slots=True, kw_only=True)
class Instruments:
    """Standard deviation of each reading, its zero point, and the step it is read to; SI."""

    step_s: float = 0.1
    noise: Mapping[str, float]
    zero: Mapping[str, float]
    digits: Mapping[str, float]


USUAL = Instruments(
    noise={
        "speed": 0.05,
        "motor_a": 0.4,
        "pack_a": 0.2,
        "bus_v": 0.03,
        "duty": 0.003,
        "erpm": 20.0,
        "motor_c": 0.4,
        "controller_c": 0.3,
    },
    zero={},
    digits={},
)


@record(frozen=True, slots=True, kw_only=True)
class Recorded:
    """What was recorded, shape (n,), and the run behind it."""

    time: Floats
    columns: dict[str, Floats]
    run: Run
    resolved: Resolved


def ridden(
    design: Design,
    stock: Catalogue,
    legs: Sequence[Leg],
    *,
    shift: Mapping[str, float] | None = None,
    charge: float = 0.95,
    wind_m_s: float = 0.0,
    slope: float = 0.0,
    rest_s: float = 0.0,
) -> tuple[Run, Resolved]:
    """A ride along legs of a design whose values are shifted; slope and wind are added to those that the legs have."""
    resolved = gear_at(resolve(design, stock, shift=shift), 0.0)
    plant, _ = plant_of(design, resolved)
    floats = not resolved.load.kinematic
    table = cells(legs, brake_m_s2=BOAT_BRAKE_M_S2, end_stopped=False) if floats else cells(legs)
    table[:, 1] += slope
    table[:, 3] += resolved.headwind_m_s + wind_m_s
    table[:, 7] += resolved.current_m_s
    length = math.fsum(leg.length_m for leg in legs)
    around, air = resolved.air_c, resolved.day_c
    start = Start(
        charge=charge,
        winding_c=around,
        case_c=around,
        controller_c=air,
        pack_c=design.brief.conditions.pack_temperature.value,
        resistor_c=air,
    )
    rider = Rider(mode=Mode.FOLLOW, end_m=length, longest_s=40_000.0, empty_charge=0.02)
    step = BOAT_STEP_S if floats else STEP_S
    run = simulate(plant, resolved.train.pack.chemistry, table, rider, start, step_s=step, rows=ROWS)
    return run, resolved


def recorded(run: Run, resolved: Resolved, rng: np.random.Generator, instruments: Instruments = USUAL, rest_s: float = 0.0) -> Recorded:
    """What instruments write of a run; `rest_s` before it stands still with the volts at rest."""
    trace = run.trace
    end = float(trace[-1, Col.TIME])
    time = np.arange(0.0, end + rest_s, instruments.step_s)
    at = time - rest_s
    of = lambda column: np.interp(at, trace[:, Col.TIME], trace[:, column])
    still = at < 0.0
    stream = resolved.current_m_s
    motor = resolved.train.motor
    pairs = 1.0 if motor.brushed else float(motor.pole_pairs)
    idle = float(resolved.train.count) * float(resolved.train.controller.idle_w) / float(trace[0, Col.BUS_V])
    plain = {
        "speed": np.where(still, 0.0, of(Col.SPEED) - stream),
        "motor_a": np.where(still, 0.0, of(Col.DC_A) / motor.dc_per_motor_amp),
        "pack_a": np.where(still, idle, of(Col.PACK_A)),
        "bus_v": np.where(still, resolved.emf_v(float(trace[0, Col.CHARGE])), of(Col.BUS_V)),
        "duty": np.where(still, 0.0, of(Col.DUTY)),
        "erpm": np.where(still, 0.0, of(Col.MOTOR_RAD_S) * 60.0 / (2.0 * math.pi) * pairs),
        "motor_c": of(Col.WINDING),
        "controller_c": of(Col.CONTROLLER),
        "pack_c": of(Col.PACK_T),
        "command": np.where(still, 0.0, of(Col.COMMAND)),
        "distance": np.maximum(of(Col.DISTANCE), 0.0),
        "grade": of(Col.GRADE),
    }
    made = {}
    for name, values in plain.items():
        read = values + instruments.zero.get(name, 0.0)
        if name in instruments.noise:
            read = read + rng.normal(0.0, instruments.noise[name], time.size)
        digit = instruments.digits.get(name, 0.0)
        made[name] = np.round(read / digit) * digit if digit > 0.0 else read
    for name in ("speed", "erpm"):
        made[name] = np.maximum(made[name], 0.0)
    return Recorded(time=time, columns=made, run=run, resolved=resolved)
