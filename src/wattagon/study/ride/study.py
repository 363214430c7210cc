"""Rides of a design: the standard runs and courses, and the figures that come of them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Course, Design, Goal, GoalKind
from wattagon.errors import InputError
from wattagon.physics.point import OperatingPoint, operating_point, steady_range_m
from wattagon.physics.ride.course import Leg, cells
from wattagon.physics.ride.names import Col, End, Mode, Stat, Sum
from wattagon.physics.ride.plant import RIDE_LIMITS, Plant
from wattagon.physics.ride.ride import Rider, Run, Start, simulate, steady_cells
from wattagon.record import record
from wattagon.study.drive.cases import gear_at, gears_of, in_gear
from wattagon.study.drive.climbs import steepest
from wattagon.study.resolve import Input, Resolved, resolve
from wattagon.study.ride.inputs import plant_of
from wattagon.study.say import Say

STANDARD = {
    "start": "Full-throttle start",
    "hill": "Start on the goal grade",
    "hold-grade": "Hold the goal grade",
    "full-climb": "Full throttle up the steepest grade",
    "hold-speed": "Hold a speed until empty",
    "stop-go": "Stop and go",
    "stop": "Emergency stop",
}
ON_WATER = {
    "start": "Full throttle from rest",
    "there-and-back": "Out along the current and home",
    "hold-speed": "Hold a pace until the reserve",
    "stop": "Crash stop in reverse",
}
END_WORDS = {
    End.TIME: "time was up",
    End.ARRIVED: "arrived",
    End.EMPTY: "the usable charge was gone",
    End.HOT: "something got too hot",
    End.STALLED: "stopped on the way",
    End.SPEED: "the speed was reached",
    End.STOPPED: "stopped",
    End.SETTLED: "the top speed was reached",
    End.OVERCHARGED: "the pack could take no more of what the motor drove into it",
}
ASKED_WITHIN = {"speed": (0.3, 60.0), "grade": (-0.4, 0.5)}  # m/s and a ratio: what a run may be asked for
HOLD_GRADE_S = 3600.0
FULL_CLIMB_S = 1800.0
STOPS, STOP_LEG_M, STOP_S = 20, 250.0, 6.0
WALK_M_S = 1.4
SLOWEST_M_S = 0.6  # of a boat's paces
BOAT_STEPS = 4.0  # of a ride's: nothing of a boat changes as quickly
BOAT_BRAKE_M_S2 = 0.12  # with which one who comes alongside lets go
USUAL_WAY_M = 2000.0
PARTS = ("winding", "case", "controller", "pack", "resistor")


@record(frozen=True, slots=True, kw_only=True)
class Ask:
    """Which run of which design; `speed` and `grade` stand in for those of the goals where given."""

    run: str  # a key of STANDARD, or the id of a course of the brief
    speed_m_s: float | None = None
    grade: float | None = None
    start_charge: float | None = None
    course: Course | None = None  # one that is not in the brief
    gear: int | None = None  # of the bike's own, kept throughout; else it is shifted
    warm: Run | None = None  # temperatures and charge at the end of another run


def check_asked(what: str, value: float | None, say: Say, *, field: str, typed: str) -> None:
    """Raises InputError for a speed or grade that no run is made with; `field` and `typed` are what its user sees."""
    low, high = ASKED_WITHIN[what]
    if value is not None and not low <= value <= high:
        raise InputError(field, typed, f"{say(low, what)} to {say(high, what)}")


@record(frozen=True, slots=True, kw_only=True)
class Ride:
    """A run with the design it belongs to and its figures in SI."""

    ask: Ask
    name: str
    design: Design
    resolved: Resolved
    run: Run
    legs: tuple[Leg, ...]
    speed_m_s: float  # that was to be held or reached; nan without one
    grade: float
    inputs: Mapping[str, Input]  # that the ride adds to those of the drive study

    @property
    def floats(self) -> bool:
        """Whether it is a boat's."""
        return self.run.plant.swum is not None

    @property
    def time_s(self) -> float:
        return self.run.stat(Stat.TIME)

    @property
    def distance_m(self) -> float:
        return self.run.stat(Stat.DISTANCE)

    @property
    def energy_wh(self) -> float:
        """Out of the cells, what was put back counted against it."""
        return self.run.energy_j(Sum.CHEMICAL) / 3600.0

    @property
    def wh_per_km(self) -> float:
        """Chemical energy for a kilometre [Wh/km]; nan where the vehicle did not get anywhere."""
        return self.energy_wh / (self.distance_m / 1000.0) if self.distance_m > 1.0 else math.nan

    @property
    def terminal_wh_per_km(self) -> float:
        return self.run.energy_j(Sum.TERMINAL) / 3.6 / self.distance_m if self.distance_m > 1.0 else math.nan

    @property
    def usable_wh(self) -> float:
        top, bottom = self.resolved.window
        return float(self.resolved.train.pack.chemical_wh(top, bottom))

    @property
    def range_m(self) -> float:
        """Distance of the usable window ridden like this; twice that with a second pack along."""
        spent = self.energy_wh
        return self.distance_m * self.usable_wh / spent if spent > 0.01 and self.distance_m > 1.0 else math.inf if spent <= 0 else math.nan

    @property
    def climb_capacity_m(self) -> float:
        """Metres of height that a usable charge lifts at the efficiency of this ride; nan on rides that hardly climb."""
        up = self.run.stat(Stat.UP_M)
        return up * self.usable_wh / self.energy_wh if up > 5.0 and self.energy_wh > 0.01 else math.nan

    def heights_m(self) -> NDArray[np.float64]:
        """Height above the start along the trace [m], shape (rows,)."""
        x, grade = self.run.column(Col.DISTANCE), self.run.column(Col.GRADE)
        return np.concatenate([[0.0], np.cumsum(np.diff(x) * grade[:-1] / np.sqrt(1.0 + grade[:-1] ** 2))])

    def streams_m_s(self) -> NDArray[np.float64]:
        """Current of the water along the trace, against the boat positive [m/s], shape (rows,)."""
        return self._along_legs(self.resolved.current_m_s, "current_m_s")

    def winds_m_s(self) -> NDArray[np.float64]:
        """Headwind over ground along the trace [m/s], shape (rows,)."""
        return self._along_legs(self.resolved.headwind_m_s, "wind_m_s")

    def _along_legs(self, day: float, name: str) -> NDArray[np.float64]:
        x = self.run.column(Col.DISTANCE)
        if not self.legs:
            return np.full(x.size, day)
        ends = np.cumsum([leg.length_m for leg in self.legs])[:-1]
        own = np.array([getattr(leg, name) for leg in self.legs])
        return day + own[np.searchsorted(ends, x + 1e-9, side="right")]

    def motor_a(self, dc_a: float) -> float:
        """The controller's amps of one motor for DC-equivalent amps."""
        return dc_a / self.resolved.train.motor.dc_per_motor_amp

    def split_wh(self) -> dict[str, float]:
        """Where the energy went [Wh], by name, without what is next to nothing."""
        named = {
            "pack": (Sum.PACK_HEAT, Sum.RELAXATION),
            "controller": (Sum.BRIDGE, Sum.SWITCHING, Sum.IDLE),
            "copper": (Sum.COPPER, Sum.BRUSH),
            "iron": (Sum.IRON,),
            "reduction": (Sum.MESH,),
            **({"stirred": (Sum.STIRRED,), "hull": (Sum.ROLLING,)} if self.floats else {"rolling": (Sum.ROLLING,)}),
            "air": (Sum.AIR,),
            "climb": (Sum.GRADE,),
            "brakes": (Sum.FRICTION, Sum.RESISTOR),
            "motion": (Sum.KINETIC,),
        }
        return {name: sum(self.run.energy_j(k) for k in which) / 3600.0 for name, which in named.items()}

    def over_at(self) -> dict[str, float]:
        """Seconds until each part met its limit; only those that did."""
        times = {name: self.run.stat(Stat(Stat.WINDING_AT + k)) for k, name in enumerate(PARTS)}
        return {name: t for name, t in times.items() if t >= 0.0}

    def in_gears(self) -> dict[str, float]:
        """Seconds in each of the bike's own gears, of those that were ridden; as near as the rows of the trace tell."""
        gears = self.run.column(Col.GEAR).astype(int)
        return {str(gear): self.time_s * float(np.mean(gears == gear)) for gear in np.unique(gears) if gear}

    def held_by(self) -> list[tuple[str, float]]:
        """(limit, seconds it held the rider back), longest first."""
        found = [(RIDE_LIMITS[k], float(s)) for k, s in enumerate(self.run.held_s) if s >= 0.05]
        return sorted(found, key=lambda item: -item[1])


def runs_of(design: Design) -> Mapping[str, str]:
    """The runs by themselves that a vehicle has, with their words."""
    return ON_WATER if design.vehicle.kind.floats else STANDARD


def goal_speed(design: Design) -> float:
    """The pace of the range goal, else that of another goal, else 20 km/h, of a boat 1.5 m/s."""
    for kind in (GoalKind.RANGE, GoalKind.THERE_AND_BACK, GoalKind.CRUISE, GoalKind.TOP_SPEED):
        for goal in design.brief.goals:
            if goal.kind is kind and goal.speed:
                return goal.speed
    return 1.5 if design.vehicle.kind.floats else 20.0 / 3.6


def stop_speed(design: Design) -> float:
    """The fastest that a goal wants, else 20 km/h, of a boat its pace."""
    floats = design.vehicle.kind.floats
    kinds = (GoalKind.TOP_SPEED, GoalKind.CRUISE)
    wanted = [goal.speed or 0.0 for goal in design.brief.goals if goal.kind in kinds]
    return max(wanted, default=goal_speed(design) if floats else 20.0 / 3.6)


def goal_with_way(design: Design) -> Goal | None:
    """The first goal that goes out and home, else across."""
    for kind in (GoalKind.THERE_AND_BACK, GoalKind.CROSSING):
        for goal in design.brief.goals:
            if goal.kind is kind:
                return goal
    return None


def goal_way(design: Design) -> tuple[float, float]:
    """(distance out [m], current [m/s]) of the first goal that goes out and home or across; else of the range goal, half of it."""
    goal = goal_with_way(design)
    if goal is not None:
        return goal.distance or USUAL_WAY_M, goal.current or 0.0
    ranges = [goal.distance for goal in design.brief.goals if goal.kind is GoalKind.RANGE and goal.distance]
    return (0.5 * ranges[0] if ranges else USUAL_WAY_M), design.brief.conditions.current.value


def goal_climb(design: Design) -> tuple[float, float]:
    """(speed, grade) of the first climbing goal, else 10 km/h up 10 %."""
    for goal in design.brief.goals:
        if goal.kind is GoalKind.CLIMB and goal.speed and goal.grade is not None:
            return goal.speed, goal.grade
    return 10.0 / 3.6, 0.10


def goal_start(design: Design) -> float:
    """The steepest grade that a goal wants started on."""
    grades = [goal.grade or 0.0 for goal in design.brief.goals if goal.kind is GoalKind.START]
    return max(grades, default=goal_climb(design)[1])


def legs_of(course: Course) -> tuple[Leg, ...]:
    """A course of the brief as the ride takes it."""
    return tuple(
        Leg(
            length_m=leg.length,
            grade=leg.grade,
            speed_m_s=leg.speed,
            rolling_factor=leg.surface,
            wind_m_s=leg.wind,
            current_m_s=leg.current,
            stop_s=leg.stop,
        )
        for leg in course.legs
    )


def find_course(design: Design, name: str) -> Course:
    """A course of the brief by its id or name.  Raises InputError with what there is."""
    for course in design.brief.courses:
        if name in (course.id, course.name):
            return course
    have = [*runs_of(design), *(course.id for course in design.brief.courses)]
    raise InputError("run", name, ", ".join(have))


def ride(
    design: Design,
    stock: Catalogue,
    ask: Ask,
    *,
    variant_id: str | None = None,
    step_s: float = 0.01,
    shift: Mapping[str, float] | None = None,
) -> Ride:
    """Simulate one run of one variant.  Raises InputError; lets go of the interpreter lock while it runs.

    `shift` are values in the place of inputs, by their path, as `resolve` takes them.
    """
    floats = design.vehicle.kind.floats
    if floats and ask.grade:
        raise InputError("grade", f"{ask.grade:.1%}", "none: water is level")
    resolved = _in_first_gear(resolve(design, stock, variant_id, shift=shift), design, ask)
    plant, inputs = plant_of(design, resolved, shifts=ask.gear is None)
    conditions = design.brief.conditions
    wind = resolved.headwind_m_s
    charge = ask.start_charge if ask.start_charge is not None else conditions.start_charge.value
    around, air = resolved.air_c, resolved.day_c
    start = Start(
        charge=charge, winding_c=around, case_c=around, controller_c=air, pack_c=conditions.pack_temperature.value, resistor_c=air
    )
    if ask.warm is not None:
        last = ask.warm
        start = Start(
            charge=last.stat(Stat.CHARGE),
            winding_c=last.stat(Stat.LAST_WINDING),
            case_c=last.stat(Stat.LAST_CASE),
            controller_c=last.stat(Stat.LAST_CONTROLLER),
            pack_c=last.stat(Stat.LAST_PACK_T),
            resistor_c=last.stat(Stat.LAST_RESISTOR_T),
            bucket=last.stat(Stat.BUCKET),
            relaxed_v=last.stat(Stat.RELAXED_V),
        )
    chemistry, bottom = resolved.train.pack.chemistry, resolved.window[1]
    speed, grade = math.nan, 0.0
    legs: tuple[Leg, ...] = ()
    name = runs_of(design).get(ask.run, "")
    current = resolved.current_m_s
    step_s = step_s * BOAT_STEPS if floats else step_s

    def held(speed_m_s: float, on: float, rider: Rider) -> Run:
        begin = replace(start, speed_m_s=speed_m_s)
        return simulate(plant, chemistry, steady_cells(speed_m_s, on, wind, 1.0, current), rider, begin, step_s=step_s)

    if ask.run == "start":
        speed = ask.speed_m_s or 0.0
        rider = Rider(longest_s=120.0, end_speed_m_s=speed)
        run = simulate(plant, chemistry, steady_cells(1.0, ask.grade or 0.0, wind, 1.0, current), rider, start, step_s=step_s)
    elif ask.run == "there-and-back" and floats:
        speed = ask.speed_m_s or goal_speed(design)
        way, stream = goal_way(design)
        out = Leg(length_m=way, speed_m_s=speed, current_m_s=stream - current)
        home = Leg(length_m=way, speed_m_s=speed, current_m_s=-stream - current, wind_m_s=-2.0 * wind)
        legs = (out, home)
        run = _along(plant, chemistry, legs, wind, current, start, step_s)
    elif floats and ask.run in STANDARD and ask.run not in ON_WATER:
        raise InputError("run", ask.run, ", ".join((*ON_WATER, *(course.id for course in design.brief.courses))))
    elif ask.run == "hill":
        grade = ask.grade if ask.grade is not None else goal_start(design)
        run = simulate(plant, chemistry, steady_cells(1.0, grade, wind), Rider(longest_s=30.0), start, step_s=step_s)
    elif ask.run == "full-climb":
        grade = ask.grade if ask.grade is not None else steepest(design) or goal_climb(design)[1]
        rider = Rider(longest_s=FULL_CLIMB_S, stop_when_hot=True, empty_charge=bottom, until_settled=False)
        run = simulate(plant, chemistry, steady_cells(1.0, grade, wind), rider, start, step_s=step_s)
    elif ask.run == "hold-grade":
        speed, grade = goal_climb(design)
        speed, grade = ask.speed_m_s or speed, grade if ask.grade is None else ask.grade
        rider = Rider(mode=Mode.FOLLOW, stop_when_hot=True, longest_s=HOLD_GRADE_S, empty_charge=bottom)
        run = held(speed, grade, rider)
    elif ask.run == "hold-speed":
        speed, grade = ask.speed_m_s or goal_speed(design), ask.grade or 0.0
        run = held(speed, grade, Rider(mode=Mode.FOLLOW, empty_charge=bottom))
    elif ask.run == "stop-go":
        speed = ask.speed_m_s or goal_speed(design)
        legs = tuple(Leg(length_m=STOP_LEG_M, speed_m_s=speed, stop_s=STOP_S, grade=ask.grade or 0.0) for _ in range(STOPS))
        run = _along(plant, chemistry, legs, wind, current, start, step_s)
    elif ask.run == "stop":
        speed = ask.speed_m_s or stop_speed(design)
        grade = ask.grade or 0.0
        run = held(speed, grade, Rider(mode=Mode.STOP, longest_s=120.0))
    else:
        course = ask.course or find_course(design, ask.run)
        legs, name = legs_of(course), course.name or course.id
        run = _along(plant, chemistry, legs, wind, current, start, step_s)
    name = f"{name}, gear {resolved.gear} throughout" if ask.gear is not None else name
    return Ride(ask=ask, name=name, design=design, resolved=resolved, run=run, legs=legs, speed_m_s=speed, grade=grade, inputs=inputs)


def _in_first_gear(resolved: Resolved, design: Design, ask: Ask) -> Resolved:
    """The drive in the gear that a run begins in, where there are gears.  Raises InputError for one that is asked for and not there."""
    have = gears_of(resolved)
    if ask.gear is not None:
        if ask.gear not in have or not resolved.gear:
            raise InputError("gear", ask.gear, f"1 to {len(have)}" if resolved.gear else "nothing: this variant has no gears")
        return in_gear(resolved, ask.gear)
    begins = {"hold-grade": goal_climb(design)[0], "hold-speed": goal_speed(design), "stop": stop_speed(design)}
    return gear_at(resolved, (ask.speed_m_s or begins[ask.run]) if ask.run in begins else 0.0)


def _along(plant: Plant, chemistry: str, legs: Sequence[Leg], wind: float, current: float, start: Start, step_s: float) -> Run:
    floats = plant.swum is not None
    table = cells(legs, brake_m_s2=BOAT_BRAKE_M_S2, end_stopped=False) if floats else cells(legs)
    table[:, 3] += wind
    table[:, 7] += current
    length = math.fsum(leg.length_m for leg in legs)
    pace = sum(leg.length_m / max(leg.speed_m_s - max(leg.current_m_s + current, 0.0), 0.1) + leg.stop_s for leg in legs)
    rider = Rider(mode=Mode.FOLLOW, end_m=length, longest_s=min(10.0 * pace + 600.0, 86400.0), empty_charge=0.02)
    return simulate(plant, chemistry, table, rider, start, step_s=step_s)


def ride_all(design: Design, stock: Catalogue, ask: Ask, variant_ids: Sequence[str]) -> list[Ride]:
    """The same run of several variants at once, on all cores: the loop lets go of the interpreter lock.  Raises InputError."""
    from concurrent.futures import ThreadPoolExecutor

    with ThreadPoolExecutor() as pool:
        return list(pool.map(lambda variant_id: ride(design, stock, ask, variant_id=variant_id), variant_ids))


def best_range(resolved: Resolved, *, rider_w: float = 0.0) -> tuple[float, float]:
    """(speed [m/s], range [m]) of the steady pace on the flat that goes furthest on the usable window, from walking pace up.

    Idle power makes the very slow paces worse again; closed form of `steady_range_m`, no ride.
    """
    top, bottom = resolved.window
    floats = not resolved.load.kinematic
    speeds = np.linspace(SLOWEST_M_S, 8.0, 94) if floats else np.linspace(WALK_M_S, 20.0, 94)
    metres = steady_range_m(
        resolved.train,
        resolved.load,
        speed_m_s=speeds,
        top=top,
        bottom=bottom,
        headwind_m_s=resolved.headwind_m_s,
        rider_w=rider_w,
    )
    if floats:  # over ground
        metres = metres * np.maximum(1.0 - resolved.current_m_s / speeds, 0.0)
    k = int(np.argmax(metres))
    return float(speeds[k]), float(metres[k])


def time_to(ride_: Ride, speed_m_s: float) -> float:
    """Seconds until a speed was first reached, inf if it never was; between rows by a straight line."""
    t, v = ride_.run.column(Col.TIME), ride_.run.column(Col.SPEED)
    over = np.flatnonzero(v >= speed_m_s)
    if not over.size:
        return math.inf if ride_.run.stat(Stat.PEAK_SPEED) < speed_m_s else ride_.time_s
    k = int(over[0])
    if k == 0:
        return float(t[0])
    return float(np.interp(speed_m_s, v[k - 1 : k + 1], t[k - 1 : k + 1]))


def resolved_at(ride_: Ride, row: int) -> Resolved:
    """The drive in the gear that it was in at a row of a ride."""
    gear = int(ride_.run.trace[row, Col.GEAR])
    return in_gear(ride_.resolved, gear) if gear else ride_.resolved


def point_of(ride_: Ride, row: int) -> OperatingPoint:
    """The operating point of one row of a ride, with the temperatures and the pack as they were then."""
    at, resolved = ride_.run.trace[row], resolved_at(ride_, row)
    train, load, wind, stream = resolved.train, resolved.load, resolved.headwind_m_s, resolved.current_m_s
    train = replace(
        train,
        motor=train.motor.at(winding_c=float(at[Col.WINDING]), magnet_c=float(at[Col.CASE])),
        pack=replace(train.pack, temperature_c=float(at[Col.PACK_T])),
    )
    left = float(at[Col.DISTANCE])
    for leg in ride_.legs:
        left -= leg.length_m
        if left < 0:
            load, wind = load.on_surface(leg.rolling_factor), wind + leg.wind_m_s
            stream += leg.current_m_s
            break
    return operating_point(
        train,
        load,
        resolved.stages,
        speed_m_s=float(at[Col.SPEED]),
        emf_v=resolved.emf_v(float(at[Col.CHARGE])) - float(at[Col.RELAXED_V]),
        grade=float(at[Col.GRADE]),
        headwind_m_s=wind - stream if ride_.floats else wind,
        dc_current_a=float(at[Col.DC_A]),
        air_c=resolved.air_c,
    )


def costs(ride_: Ride) -> tuple[float, float]:
    """(price of the energy of a usable charge, price for 100 km) in the brief's currency; charger of 0.88 efficiency."""
    per_wh = ride_.design.brief.energy_price.value / 1000.0 / 0.88
    return ride_.usable_wh * per_wh, ride_.wh_per_km * 100.0 * per_wh
