"""Which ride would teach most of what is still loose: candidates are simulated, and what each would tell is worked out beforehand."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.quantity import Known
from wattagon.design.tree import Design, Log, LogKind
from wattagon.errors import InputError
from wattagon.physics.ride.course import Leg, cells
from wattagon.physics.ride.names import Col, Mode
from wattagon.physics.ride.ride import Rider, Start, simulate
from wattagon.record import record
from wattagon.study.drive.cases import gear_at
from wattagon.study.drive.study import study_drive
from wattagon.study.log.data import LogData
from wattagon.study.log.fit import Fit, expected_widths
from wattagon.study.resolve import resolve
from wattagon.study.ride.inputs import plant_of
from wattagon.study.ride.study import BOAT_BRAKE_M_S2

CHANNELS = ("speed", "motor_a", "pack_a", "bus_v", "duty", "erpm", "motor_c", "grade")
TOLD, NARROWER = 0.5, 0.6  # widths; doublings
COAST = ((14.0, 0.7), (45.0, 0.0))  # seconds and command of a coast-down


@record(frozen=True, slots=True, kw_only=True)
class NextRide:
    """One ride that is proposed."""

    words: str
    how: str
    minutes: float
    tells: tuple[str, ...]  # what it would tell that is loose now
    narrows: tuple[str, ...]  # and what it would only make surer
    gain: float  # how much narrower the loose ones get, in doublings


def _candidates(top: float, floats: bool) -> list[tuple[str, str, list[Leg], float]]:
    """(words, how, legs, charge at the start) of each ride; speeds are shares of the top speed."""
    leg = lambda metres, share, grade=0.0, stop=0.0: Leg(length_m=metres, speed_m_s=max(share * top, 0.6), grade=grade, stop_s=stop)
    if floats:
        steps = [leg(250.0, share) for share in (0.35, 0.5, 0.65, 0.8, 0.95)]
        return [
            (
                "Speed steps",
                "five steady speeds, a minute and more each, then back the same way: wind and stream go out",
                [*steps, *steps[::-1]],
                0.95,
            ),
            ("A long slow run", "one steady pace until the pack is nearly empty", [leg(6000.0, 0.6)], 0.95),
        ]
    steps = [leg(180.0, share) for share in (0.25, 0.4, 0.55, 0.7, 0.85)]
    pulls = [leg(60.0, 0.6, 0.0, 6.0) for _ in range(8)]
    hill = [leg(60.0, 0.3), leg(400.0, 0.4, 0.07, 20.0), leg(400.0, 0.3, -0.07, 10.0)] * 2
    return [
        (
            "Speed steps up and down the same road",
            "five steady speeds, half a minute each, then back the same way: slope and wind go out",
            [*steps, *steps[::-1]],
            0.95,
        ),
        ("Hard starts with pauses", "eight starts to half speed with six seconds of rest between them", pulls, 0.95),
        ("A hill, then a rest", "up a hill of 7 % for some minutes, wait at the top, down again, twice", hill, 0.95),
        ("Slow and fast on the flat", "two long steady stretches, one slow, one fast", [leg(300.0, 0.3), leg(600.0, 0.9)] * 2, 0.95),
        (
            "From full to nearly empty",
            "one long ride at an even pace, resting a quarter of an hour before and after",
            [leg(9000.0, 0.6)],
            0.98,
        ),
    ]


def next_rides(design: Design, stock: Catalogue, made: Fit, cancelled: Callable[[], bool] = lambda: False) -> list[NextRide]:
    """Rides that would tell what `made` could not, the most telling for its minutes first; none where nothing is loose."""
    now = {one.unknown.at: one.error / one.width if one.identifiable else 1.0 for one in made.parameters}
    loose = [one for one in made.parameters if not one.identifiable and one.unknown.known not in (Known.MEASURED, Known.FITTED)]
    if not loose:
        return []
    found = []
    top = float(max(state.top_speed_m_s for state in study_drive(design, stock, made.resolved.variant.id).states.values()))
    for words, how, legs, charge in _candidates(min(top, 14.0), design.vehicle.kind.floats):
        if cancelled():
            break
        try:
            data = _ridden(design, stock, legs, charge, made.resolved.variant.id)
            widths = expected_widths(design, stock, data)
        except InputError:
            continue
        gain = 0.0
        tells: list[str] = []
        narrows: list[tuple[float, str]] = []
        for one in loose:
            other = widths.get(one.unknown.at)
            if other is None or not other > 0.0:
                continue
            both = 1.0 / math.sqrt(1.0 / now[one.unknown.at] ** 2 + 1.0 / other**2)
            better = math.log2(now[one.unknown.at] / both)
            gain += better
            if other > TOLD and better > NARROWER:
                narrows.append((-better, one.unknown.row.words))
            if other <= TOLD:
                tells.append(one.unknown.row.words)
        if tells or narrows:
            found.append(
                NextRide(
                    words=words,
                    how=how,
                    minutes=data.seconds / 60.0,
                    tells=tuple(dict.fromkeys(tells)),
                    narrows=tuple(name for _, name in sorted(narrows)[:3]),
                    gain=gain,
                )
            )
    return sorted(found, key=lambda one: -one.gain / (3.0 + one.minutes) ** 0.5)


def _ridden(design: Design, stock: Catalogue, legs: Sequence[Leg], charge: float, variant: str) -> LogData:
    """What a log of such a ride would hold, without noise."""
    resolved = gear_at(resolve(design, stock, variant), 0.0)
    plant, _ = plant_of(design, resolved)
    floats = not resolved.load.kinematic
    air = resolved.air_c
    start = Start(charge=charge, winding_c=air, case_c=air, controller_c=resolved.day_c)
    rider = Rider(mode=Mode.FOLLOW, end_m=math.fsum(leg.length_m for leg in legs), longest_s=5400.0, empty_charge=0.05)
    if legs:
        table = cells(legs, brake_m_s2=BOAT_BRAKE_M_S2, end_stopped=False) if floats else cells(legs)
    else:
        once = [command for seconds, command in COAST for _ in range(int(seconds))]
        table = cells([Leg(length_m=1e5, speed_m_s=10.0)], end_stopped=False)
        rider = Rider(mode=Mode.PLAYED, longest_s=4.0 * len(once), script=(np.array(once * 4, dtype=float), 1.0))
    table[:, 3] += resolved.headwind_m_s
    run = simulate(plant, resolved.train.pack.chemistry, table, rider, start, step_s=0.04 if floats else 0.02, rows=60_000)
    t = run.column(Col.TIME)
    step = max(0.2, float(t[-1]) / 6000.0)
    time = np.arange(0.0, float(t[-1]), step)
    of = lambda column: np.interp(time, t, run.column(column))
    pairs = max(float(resolved.train.motor.pole_pairs), 1.0)
    columns = {
        "speed": np.maximum(of(Col.SPEED) - resolved.current_m_s, 0.0),
        "motor_a": of(Col.DC_A) / float(resolved.train.motor.dc_per_motor_amp),
        "pack_a": of(Col.PACK_A),
        "bus_v": of(Col.BUS_V),
        "duty": of(Col.DUTY),
        "erpm": of(Col.MOTOR_RAD_S) * 60.0 / (2.0 * math.pi) * pairs,
        "motor_c": of(Col.WINDING),
        "grade": of(Col.GRADE),
    }
    return LogData(log=Log(id="next", kind=LogKind.TELEMETRY, variant=variant), time=time, columns=columns)
