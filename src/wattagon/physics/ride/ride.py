"""Rides: what is asked, the run, and what came of it."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattagon.physics.pack import rest_curve
from wattagon.physics.ride.names import Begin, Col, Driver, End, Mode, Now, Room, Sea, Stat, Sum, What
from wattagon.physics.ride.plant import FIRST_NUMBER, RIDE_LIMITS, Plant
from wattagon.record import record

PACKED = np.dtype(
    [(name, np.float64) for name in Plant._fields[FIRST_NUMBER:]]
)  # compiled code reads its fields by name, through one pointer
UNSOUND = 1e-3  # share of the energy that may be missing
STEP_S = 0.01  # halving it changes no figure by 0.2 % (see the test)
ROWS = 3000  # of a trace at most
EVENTS = 400
LONGEST_S = 86400.0
INPUTS = (Sum.CHEMICAL, Sum.RIDER)
# where the energy goes, in the order of the drive
LOSSES = (
    Sum.PACK_HEAT,
    Sum.IDLE,
    Sum.SWITCHING,
    Sum.BRIDGE,
    Sum.COPPER,
    Sum.BRUSH,
    Sum.IRON,
    Sum.RESISTOR,
    Sum.MESH,
    Sum.STIRRED,
    Sum.ROLLING,
    Sum.AIR,
    Sum.GRADE,
    Sum.FRICTION,
    Sum.KINETIC,
    Sum.RELAXATION,
)


@record(frozen=True, slots=True, kw_only=True)
class Start:
    """The state at the beginning: temperatures in C, pack relaxed, boost bucket empty unless told."""

    speed_m_s: float = 0.0
    charge: float = 0.95
    winding_c: float = 25.0
    case_c: float = 25.0
    controller_c: float = 25.0
    pack_c: float = 25.0
    resistor_c: float = 25.0
    bucket: float = 0.0
    relaxed_v: float = 0.0


@record(frozen=True, slots=True, kw_only=True)
class Rider:
    """What is asked for, and when the run ends."""

    mode: Mode = Mode.COMMAND
    command: float = 1.0
    end_m: float = math.inf
    accel_m_s2: float = 1.5  # a rider who follows a speed asks for no more
    longest_s: float = LONGEST_S
    stop_when_hot: bool = False
    empty_charge: float = 0.0
    end_speed_m_s: float = 0.0  # 0: none
    until_settled: bool = True  # at a fixed command: ends once the speed does not change any more
    script: tuple[NDArray[np.float64], float] | None = None  # speeds or commands over time [(n,), seconds between], n >= 2


@record(frozen=True, slots=True, kw_only=True)
class Run:
    """One ride.  `trace` has a row every `row_s`, columns names.Col; currents there are DC-equivalent, per motor."""

    plant: Plant
    end: End
    trace: NDArray[np.float64]
    sums_j: NDArray[np.float64]
    stats: NDArray[np.float64]
    held_s: NDArray[np.float64]  # by RIDE_LIMITS: for how long each held the rider back
    events: tuple[tuple[float, float, int], ...]  # time, place, What

    def stat(self, which: Stat) -> float:
        return float(self.stats[which])

    def energy_j(self, which: Sum) -> float:
        return float(self.sums_j[which])

    def column(self, which: Col) -> NDArray[np.float64]:
        return self.trace[:, which]

    @property
    def balance_error(self) -> float:
        """Energy in less energy accounted for, as a share of what was moved."""
        given = sum(self.energy_j(k) for k in INPUTS)
        spent = sum(self.energy_j(k) for k in LOSSES)
        moved = max(sum(abs(self.energy_j(k)) for k in LOSSES), 1e-9)
        return abs(given - spent) / moved

    @property
    def sound(self) -> bool:
        """Whether the balance is as near to closed as a result must be to be believed."""
        return self.balance_error <= UNSOUND

    def first_over_s(self) -> float:
        """Seconds until any part met its temperature limit; inf if none did."""
        times = [self.stat(k) for k in (Stat.WINDING_AT, Stat.CASE_AT, Stat.CONTROLLER_AT, Stat.PACK_AT, Stat.RESISTOR_AT)]
        return min((t for t in times if t >= 0.0), default=math.inf)


def simulate(
    plant: Plant,
    chemistry: str,
    cells: NDArray[np.float64],
    rider: Rider,
    start: Start,
    *,
    step_s: float = STEP_S,
    rows: int = ROWS,
) -> Run:
    """Run one ride through the compiled loop; the first call in a process loads the compiler (0.5 s, 4 s without its cache).

    cells: (n, 8) as course.cells makes them.  `rows` (an even number) bounds the trace: when it is full every second row is
    dropped.  The interpreter lock is let go while it runs.
    """
    from wattagon.physics.ride.loop import ride_loop

    curve = rest_curve(chemistry)
    packed, lines = np.array([tuple(plant)[FIRST_NUMBER:]], dtype=PACKED)[0], np.array(plant.lines, dtype=float)
    factors = np.array(plant.factors, dtype=float)
    temps = (start.winding_c, start.case_c, start.controller_c, start.pack_c, start.resistor_c)
    begin = Begin(float(start.speed_m_s), float(start.charge), float(start.bucket), float(start.relaxed_v))
    parts = len(temps)
    room = Room(np.array(temps, dtype=float), np.zeros(parts), np.array(temps, dtype=float), np.full(parts, -1.0), np.zeros(len(Now)))
    driver = Driver(
        mode=float(rider.mode),
        command=float(rider.command),
        end_m=float(min(rider.end_m, 1e18)),
        accel_m_s2=float(rider.accel_m_s2),
        longest_s=float(rider.longest_s),
        step_s=float(step_s),
        stride=1.0,
        stop_when_hot=float(rider.stop_when_hot),
        end_charge=float(rider.empty_charge),
        end_speed=float(rider.end_speed_m_s),
        until_settled=float(rider.until_settled),
        script_s=1.0 if rider.script is None else float(rider.script[1]),
    )
    script = np.zeros(2) if rider.script is None else np.ascontiguousarray(rider.script[0], dtype=float)
    trace = np.zeros((rows, len(Col)))
    sums, stats, held, events = np.zeros(len(Sum)), np.zeros(len(Stat)), np.zeros(len(RIDE_LIMITS)), np.zeros((EVENTS, 3))
    reason, used, told = ride_loop(
        packed, lines, factors, sea_of(plant), curve, cells, script, driver, begin, room, trace, sums, stats, held, events
    )
    return Run(
        plant=plant,
        end=End(int(reason)),
        trace=trace[:used],
        sums_j=sums,
        stats=stats,
        held_s=held,
        events=tuple((float(t), float(x), int(kind)) for t, x, kind in events[:told]),
    )


def sea_of(plant: Plant) -> Sea:
    """Hull and propellers of a boat as arrays; of a vehicle on wheels a stand-in that nothing reads."""
    swum = plant.swum
    if swum is None:
        none = np.zeros(2)
        return Sea(none, none, none, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0)
    tables = swum._asdict() | {name: np.array(getattr(swum, name), dtype=float) for name in ("hull", "thrust", "torque")}
    return Sea(**tables)


def warm_up() -> None:
    """Load the compiled loop, or compile it where no cache of it is: 0.5 s, or about 15 s once on a machine."""
    one = dict.fromkeys(Plant._fields[FIRST_NUMBER:], 1.0)
    values = {**one, "ohm": 0.05, "series": 10.0, "mass": 80.0, "burst_a": 10.0, "gear": 0.0, "afloat": 0.0}
    plant = Plant(lines=((1.0, 0.0), (1.0, 0.0)), factors=(1.0,), swum=None, **values)
    simulate(plant, "lipo", steady_cells(1.0), Rider(longest_s=STEP_S), Start(), rows=2)


def event_words(kind: int) -> tuple[str, str]:
    """(stable name, name of the limit or part) of an event."""
    if kind >= What.LIMIT_ENDS:
        return "limit_ends", RIDE_LIMITS[kind - What.LIMIT_ENDS]
    if kind >= What.LIMIT_BEGINS:
        return "limit_begins", RIDE_LIMITS[kind - What.LIMIT_BEGINS]
    return What(kind).name.lower(), ""


def steady_cells(
    speed_m_s: float, grade: float = 0.0, wind_m_s: float = 0.0, rolling_factor: float = 1.0, current_m_s: float = 0.0
) -> NDArray[np.float64]:
    """A road, or water, without end at one speed."""
    return np.array([[0.0, grade, rolling_factor, wind_m_s, speed_m_s**2, 0.0, 0.0, current_m_s]])


def compare(runs: Sequence[Run]) -> NDArray[np.float64]:
    """Stats of several runs, shape (n, Stat)."""
    return np.array([run.stats for run in runs])
