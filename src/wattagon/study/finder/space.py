"""The space of a search as tables of numbers: motors, controllers, packs, reductions and wheels, resolved as the drive study does.

Rows come from the very functions that resolve a design, so that what is found and what `solve` says rest on the same numbers.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any, NamedTuple, TypeAlias, cast

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.kinds import KINDS
from wattagon.design.parts import CellPart, ControllerPart, MotorPart, Part, ToothedPart, WheelPart
from wattagon.design.tree import (
    USUAL,
    ControllerChoice,
    Design,
    Gears,
    Goal,
    GoalKind,
    MotorChoice,
    PackChoice,
    StageChoice,
    Variant,
    WheelChoice,
)
from wattagon.errors import InputError
from wattagon.physics.pack import CUTBACK_V, rest_volts
from wattagon.record import record
from wattagon.study.drive.goals import speed_queries
from wattagon.study.drive.levers import amp_step
from wattagon.study.finder import columns as col
from wattagon.study.finder.stages import Stages, make_stages
from wattagon.study.finder.wishes import Wishes
from wattagon.study.resolve import (
    Reader,
    as_found,
    carried_kg,
    controller_of,
    driven_cases,
    heat_of,
    motor_of,
    pack_mass_kg,
    pack_of,
    resolve,
    window_of,
)
from wattagon.study.resolve.bill import kept_beside

LEVELS = (1.0, 0.75, 0.5)  # of the lowest rating, as motor current settings
MOST_PARALLEL, LEAST_SERIES, MOST_SERIES = 12, 3, 30
RANGE_STEPS = 20
NOMINAL = 0.5  # charge at which the axes of speed and grade are judged
# motor, wheel, count, controller, level, pack, first and second stage; THROUGH behind them where it goes through the bike's own gears
Row: TypeAlias = "tuple[int, ...]"
THROUGH = 1
Table: TypeAlias = "NDArray[np.float64]"


@record(frozen=True, slots=True, kw_only=True)
class Space:
    """Everything that may be combined.  Tables are float64 with one row a part, columns as in columns.py."""

    design: Design
    wishes: Wishes
    motors: Table
    controllers: Table
    packs: Table  # by price
    emf: Table  # (packs, charges): rest volts at the charges that goals ask for, full first
    range_emf: Table  # (packs, RANGE_STEPS)
    stages: Stages
    roads: Table  # (wheels, counts, columns of ROAD)
    counts: tuple[int, ...]
    motor_parts: tuple[MotorPart, ...]
    controller_parts: tuple[ControllerPart, ...]
    pack_choices: tuple[PackChoice, ...]
    wheels: tuple[WheelChoice | None, ...]  # None: as measured on the vehicle
    charges: tuple[float, ...]
    gears: Gears | None  # that a middle drive goes through; None where none is searched for
    cadence: float  # that must still be assisted [rpm]: where the rider shifts down, or what a goal asks for

    @property
    def size(self) -> int:
        """How many combinations there are, current levels included."""
        halves = len(self.motors) * len(self.wheels) * len(self.counts) * len(self.controllers) * len(LEVELS) * len(self.packs)
        through = halves // len(self.counts) * (self.stages.ways - self.stages.direct) if self.gears is not None else 0
        return (halves * self.stages.ways if self.stages.wheel else 0) + through


def floor_amps(amps: float) -> float:
    """A current setting at or below a rating, in a handy step."""
    step = amp_step(amps)
    return max(step * math.floor(amps / step + 1e-9), 1.0)


SEARCHED = frozenset(
    (
        GoalKind.TOP_SPEED,
        GoalKind.CLIMB,
        GoalKind.START,
        GoalKind.SPRINT,
        GoalKind.RANGE,
        GoalKind.BUDGET,
        GoalKind.ADDED_MASS,
        GoalKind.SPEED_LIMIT,
        GoalKind.POWER_LIMIT,
    )
)


def as_searched(design: Design) -> Design:
    """The design as it is searched for: the goals that a search can ask for, with all that settings allow, in one load case.

    That is the heaviest that counts for climbs and starts; what is found is judged in every case that counts for a goal, and a limit
    that holds in a mode is for the controller to keep.
    """
    brief = design.brief
    goals = tuple(goal for goal in brief.goals if goal.kind in SEARCHED and not goal.mode)
    steep = [goal.case for goal in goals if goal.kind in (GoalKind.CLIMB, GoalKind.START)]
    counted = [case for case in driven_cases(design) if case in steep or "" in steep] or [USUAL]
    heaviest = max(counted, key=lambda case: carried_kg(design, case))
    case = "" if heaviest == USUAL else heaviest
    variant = design.variant()
    plain = as_found(replace(variant, gears=None))  # what is found goes through gears by its own row
    if plain != variant:
        design = replace(design, variants=tuple(plain if one is variant else one for one in design.variants))
    if goals == brief.goals and not brief.mode and brief.case == case:
        return design
    return replace(design, brief=replace(brief, goals=goals, mode="", case=case))


def make_space(design: Design, stock: Catalogue, wishes: Wishes | None = None) -> Space:
    """Tables of all parts that may be used.

    Unrated parts are left out: what nobody rated cannot be judged.
    """
    wishes = wishes or Wishes()
    if design.vehicle.kind.floats:
        raise InputError("find", design.vehicle.kind.value, "a vehicle on wheels; boats have a space of their own")
    gears = middle_gears(design) if "middle" in wishes.schools else None
    if set(wishes.schools) <= {"middle", "two"} and gears is None:
        raise InputError("school", "middle", "direct, belt or chain: only a vehicle with pedals has gears to go through")
    cadences = [goal.rpm or 0.0 for goal in design.brief.goals if goal.kind is GoalKind.CADENCE]
    design = as_searched(design)
    owned = owned_parts(design, wishes)
    usable = usable_parts(wishes, owned)
    must = (*wishes.use, *(owned if wishes.shelf == "use" else ()))
    named = lambda kind: {part_id for part_id in must if part_id in stock.rows(kind) and part_id not in wishes.without}
    wanted = lambda part, kind: usable(part) and (not named(kind) or part.id in named(kind))
    counts = tuple(range(1, max(2, design.vehicle.axle_wheels) + 1))
    motor_parts, motors = _motors(stock, owned, lambda part: on_wheels(part) and wanted(part, MotorPart))
    controller_parts, controllers = _controllers(design, stock, owned, lambda part: wanted(part, ControllerPart))
    charges = goal_charges(design.brief.goals)
    pack_choices, packs, emf, range_emf, _ = _packs(design, stock, owned, lambda part: wanted(part, CellPart), charges)
    wheels = _wheels(design, stock, wishes, usable, named(WheelPart))
    solid = design.variant().motor.count < design.variant().motor.driven_wheels
    stages = make_stages(
        design,
        stock,
        wishes,
        owned,
        usable,
        named(ToothedPart),
        counts=counts,
        together=tuple(n > (1 if solid else design.vehicle.axle_wheels) for n in counts),
        radii=_radii(design, stock, wheels),
    )
    roads = np.array([[_road_row(design, stock, count, wheel, owned) for count in counts] for wheel in wheels])
    return Space(
        design=design,
        wishes=wishes,
        motors=motors,
        controllers=controllers,
        packs=packs,
        emf=emf,
        range_emf=range_emf,
        stages=stages,
        roads=roads.reshape(len(wheels), len(counts), len(col.ROAD)),
        counts=counts,
        motor_parts=motor_parts,
        controller_parts=controller_parts,
        pack_choices=pack_choices,
        wheels=wheels,
        charges=charges,
        gears=gears,
        cadence=max([gears.cadence_low, *cadences]) if gears is not None else 0.0,
    )


def middle_gears(design: Design) -> Gears | None:
    """The gears that a middle drive goes through: those of the variant, else of another one, else usual ones; None without pedals."""
    if not KINDS[design.vehicle.kind].pedals:
        return None
    every = (design.variant().gears, *(variant.gears for variant in design.variants))
    return next((gears for gears in every if gears is not None), Gears())


def owned_parts(design: Design, wishes: Wishes) -> dict[str, int]:
    """How many of each part are on the shelf; none where the shelf does not matter."""
    owned: dict[str, int] = {}
    if wishes.shelf != "ignore":
        for item in design.brief.shelf:
            owned[item.part] = owned.get(item.part, 0) + item.count
    return owned


def usable_parts(wishes: Wishes, owned: dict[str, int]) -> Callable[[Part], bool]:
    """Whether a part may be in what is found: not left out, there in time, and owned where nothing is bought."""

    def usable(part: Part) -> bool:
        have = owned.get(part.id, 0) > 0
        late = wishes.within_days is not None and not have and part.lead_days > wishes.within_days
        return part.id not in wishes.without and not late and (have or wishes.shelf != "only")

    return usable


def _table(rows: Sequence[Sequence[float]], columns: int) -> Table:
    return np.array(rows, dtype=float).reshape(-1, columns)


def rated_motor(part: MotorPart) -> bool:
    """Whether a motor can be judged: what nobody rated cannot."""
    return part.current_peak_a is not None and part.voltage_max_v is not None


def on_wheels(part: Part) -> bool:
    """Whether a motor drives wheels: those that must stay under water are for hulls."""
    return not (isinstance(part, MotorPart) and part.family == "submerged")


def rated_controller(part: ControllerPart) -> bool:
    """Whether a controller can be judged."""
    return part.voltage_max_v is not None and part.motor_current_burst_a is not None and part.pack_current_max_a is not None


def rated_cell(part: CellPart) -> bool:
    """Whether a cell or pack can be judged."""
    return part.burst_a is not None and part.continuous_a is not None


def _motors(stock: Catalogue, owned: dict[str, int], wanted: Callable[[Part], bool]) -> tuple[tuple[MotorPart, ...], Table]:
    read = Reader(False)
    parts, rows = [], []
    for part in stock.all(MotorPart):
        if not wanted(part) or not rated_motor(part):
            continue
        choice = MotorChoice(part=part.id)
        m, heat = motor_of(read, "x", choice, part), heat_of(read, "x", choice, part)
        values = (
            m.torque_constant_nm_per_a,
            m.resistance_ohm,
            m.inductance_h,
            m.pole_pairs,
            m.no_load_a,
            m.no_load_slope_a_s,
            m.brush_drop_v,
            m.dc_per_motor_amp,
            part.current_peak_a,
            part.voltage_max_v,
            (part.rpm_max or 1e9) * math.tau / 60.0,
            part.mass_kg,
            part.price,
            owned.get(part.id, 0),
            m.brushed,
            m.rotor_inertia_kg_m2,
            part.family == "hub",
            part.current_continuous_a or 1e9,
            heat.winding_j_per_k,
            heat.case_j_per_k,
            heat.winding_to_case_k_per_w,
            heat.case_area_m2,
            heat.film_still,
            heat.film_moving,
            heat.air_share,
            heat.mount_w_per_k,
            heat.limit_c,
            heat.fixed_w_per_k,
        )
        parts.append(part)
        rows.append([float(cast(float, value)) for value in values])
    return tuple(parts), _table(rows, len(col.MOTOR))


def _controllers(
    design: Design, stock: Catalogue, owned: dict[str, int], wanted: Callable[[Part], bool]
) -> tuple[tuple[ControllerPart, ...], Table]:
    read, choice = Reader(False), design.variant().pack
    pack = pack_of(read, "x", choice, stock.get(CellPart, choice.part), design.brief.conditions.pack_temperature)
    parts, rows = [], []
    for part in stock.all(ControllerPart):
        if not wanted(part) or not rated_controller(part):
            continue
        c = controller_of(read, "x", ControllerChoice(part=part.id, motor_current_a=10.0, pack_current_a=10.0), part, pack)
        values = (
            part.voltage_max_v,
            part.motor_current_burst_a,
            part.pack_current_max_a,
            c.duty_max,
            c.erpm_start,
            c.erpm_end,
            c.bridge_ohm,
            c.switching_v_per_v,
            c.idle_w,
            part.mass_kg,
            part.price,
            owned.get(part.id, 0),
            part.brushed,
            part.motor_current_continuous_a or 1e9,
        )
        parts.append(part)
        rows.append([min(float(cast(float, value)), 1e9) for value in values])
    return tuple(parts), _table(rows, len(col.CONTROLLER))


def goal_charges(goals: Sequence[Goal]) -> tuple[float, ...]:
    """Full, then every other charge that goals and axes name."""
    _, speeds, _ = speed_queries(goals)
    named = {float(c) for c in speeds} | {goal.charge for goal in goals if goal.kind in (GoalKind.START, GoalKind.SPRINT)}
    return (1.0, *sorted((named | {NOMINAL}) - {1.0}))


def _packs(
    design: Design, stock: Catalogue, owned: dict[str, int], wanted: Callable[[Part], bool], charges: tuple[float, ...]
) -> tuple[tuple[PackChoice, ...], Table, Table, Table, NDArray[np.float64]]:
    """Every brick count up to MOST_SERIES in series and MOST_PARALLEL strings, by price; lasting amps last."""
    top, bottom = window_of(design.variant())
    steps = bottom + (top - bottom) * (np.arange(RANGE_STEPS) + 0.5) / RANGE_STEPS
    wiring, read = design.variant().pack.wiring_ohm, Reader(False)
    places = {part_id: k for k, part_id in enumerate(stock.rows(CellPart))}
    every: list[PackChoice] = []
    made: list[tuple[Table, ...]] = []
    for part in stock.all(CellPart):
        if not wanted(part) or not rated_cell(part):
            continue
        bs, bp = part.brick_series, part.brick_parallel
        pairs = [(s, p) for p in range(bp, MOST_PARALLEL + 1, bp) for s in range(bs, MOST_SERIES + 1, bs) if s >= LEAST_SERIES]
        if not pairs:
            continue
        choices = [PackChoice(part=part.id, series=s, parallel=p, wiring_ohm=wiring) for s, p in pairs]
        brick = replace(choices[0], series=bs, parallel=bp)
        one = pack_of(read, "x", brick, part, design.brief.conditions.pack_temperature)
        series, parallel = np.array(pairs, dtype=float).T
        strings = parallel / bp
        pack = replace(one, series=series, parallel=parallel, continuous_a=one.continuous_a * strings, burst_a=one.burst_a * strings)
        start, end = (series * volts for volts in CUTBACK_V[part.chemistry])  # as resolve.cutback_v where nothing is set
        bricks = series / bs * strings
        extra = pack_mass_kg(brick, part) / part.mass_kg
        values = (
            pack.full_v,
            np.minimum(pack.burst_a, 1e9),
            pack.capacity_ah * (top - bottom),
            pack.burst_ohm,
            pack.steady_ohm,
            bricks * part.mass_kg * extra,
            np.maximum(bricks - owned.get(part.id, 0), 0.0) * part.price,
            start,
            end,
            float(places[part.id]),
        )
        rows = np.column_stack([np.broadcast_to(np.asarray(value, dtype=float), series.shape) for value in values])
        rest = lambda charge, part=part: rest_volts(part.chemistry, np.asarray(charge))
        every += choices
        made.append(
            (
                rows,
                np.outer(series, rest(charges)),
                np.outer(series, rest(steps)),
                np.broadcast_to(pack.continuous_a, series.shape)[:, np.newaxis],
            )
        )
    if not made:
        return (), _table([], len(col.PACK)), _table([], len(charges)), _table([], RANGE_STEPS), np.zeros(0)
    table, emf, ranged, lasting = (np.vstack([item[k] for item in made]) for k in range(4))
    order = np.lexsort((table[:, col.P_MASS], table[:, col.P_PRICE]))
    return tuple(every[k] for k in order), table[order], emf[order], ranged[order], lasting[order, 0]


class PartTables(NamedTuple):
    """Motors, controllers and packs of a search as tables, with the parts that they are of."""

    motor_parts: tuple[MotorPart, ...]
    motors: Table
    controller_parts: tuple[ControllerPart, ...]
    controllers: Table
    pack_choices: tuple[PackChoice, ...]
    packs: Table
    emf: Table
    range_emf: Table
    lasting_a: NDArray[np.float64]


def part_tables(
    design: Design,
    stock: Catalogue,
    owned: dict[str, int],
    fits: Callable[[Part], bool],
    wanted: Callable[[Part, type[Part]], bool],
    charges: tuple[float, ...],
) -> PartTables:
    """Tables of the motors that fit, and of all controllers and packs that are wanted."""
    motor_parts, motors = _motors(stock, owned, fits)
    controller_parts, controllers = _controllers(design, stock, owned, lambda part: wanted(part, ControllerPart))
    packs = _packs(design, stock, owned, lambda part: wanted(part, CellPart), charges)
    return PartTables(motor_parts, motors, controller_parts, controllers, *packs)


def _wheels(
    design: Design, stock: Catalogue, wishes: Wishes, usable: Callable[[Part], bool], named: set[str]
) -> tuple[WheelChoice | None, ...]:
    """The present wheel, then the others of its family where they are allowed."""
    present = design.variant().wheel
    if not wishes.wheels and not named:
        return (present,)
    family = stock.get(WheelPart, present.part).family if present is not None else KINDS[design.vehicle.kind].wheel_family
    others = [WheelChoice(part=part.id) for part in stock.all(WheelPart) if part.family == family and usable(part)]
    if named:
        return tuple(WheelChoice(part=part_id) for part_id in sorted(named))
    return (present, *(wheel for wheel in others if present is None or wheel.part != present.part))


def _with(design: Design, count: int, wheel: WheelChoice | None) -> Design:
    """The design with its active variant on a wheel, driven by a number of motors."""
    base = design.variant()
    changed = replace(base, motor=replace(base.motor, count=count, driven_wheels=driven_wheels(design, count)), wheel=wheel)
    return replace(design, variants=tuple(changed if v.id == base.id else v for v in design.variants))


def driven_wheels(design: Design, count: int) -> int:
    """Wheels that a number of motors drives: all of a solid axle, else one each as far as there are wheels."""
    motor = design.variant().motor
    return motor.driven_wheels if motor.count < motor.driven_wheels else min(count, design.vehicle.axle_wheels)


def _radii(design: Design, stock: Catalogue, wheels: Sequence[WheelChoice | None]) -> tuple[float, ...]:
    return tuple(float(resolve(_with(design, design.variant().motor.count, wheel), stock).road.wheel_radius_m) for wheel in wheels)


def _road_row(design: Design, stock: Catalogue, count: int, wheel: WheelChoice | None, owned: dict[str, int]) -> list[float]:
    """A row of ROAD: mass is without the drive."""
    resolved = resolve(_with(design, count, wheel), stock)
    road = resolved.road
    caps, weight = road.thrust_caps(0.0), float(road.mass_kg) * 9.80665
    mass, price = kept_beside(resolved.variant, stock, owned)
    if wheel is not None:
        part, wheels = stock.get(WheelPart, wheel.part), driven_wheels(design, count)
        mass, price = mass + wheels * part.mass_kg, price + max(wheels - owned.get(part.id, 0), 0) * part.price
    return [
        float(road.mass_kg) - resolved.drive_mass_kg,
        float(road.rolling),
        float(road.rolling_per_speed),
        0.5 * float(road.air_kg_m3) * float(road.drag_area_m2),
        float(road.wheel_radius_m),
        resolved.headwind_m_s,
        min(float(caps["traction"]) / weight, 1e9),
        float(caps["wheel_lift"]) / weight,
        float(road.wheel_inertia_kg_m2) / float(road.wheel_radius_m) ** 2,
        mass,
        price,
        float(road.rider_w),
        float(road.rider_top_m_s),
    ]


def power_limit_w(goals: Sequence[Goal]) -> float:
    """The lowest limit of pack power that was stated [W]; inf without one."""
    return min((float(goal.amount or 0.0) for goal in goals if goal.kind is GoalKind.POWER_LIMIT), default=math.inf)


@functools.cache
def _same_motors(part: str, count: int, driven: int) -> MotorChoice:
    """The same object for the same motors, so what follows from them alone is worked out once in a batch."""
    return MotorChoice(part=part, count=count, driven_wheels=driven)


def variant_of(space: Space, row: Row, *, free_power: bool = False, name: str = "") -> Variant:
    """A combination as a variant of the design it was searched for; `free_power` sets amps without regard to a power limit."""
    motor, wheel, count, controller, level, pack, first, second = row[:8]
    m, c, p = space.motors[motor], space.controllers[controller], space.packs[pack]
    power = math.inf if free_power else power_limit_w(space.design.brief.goals)
    motor_a, pack_a = settings(space.wishes, m, c, p, count, LEVELS[level], power)
    base = space.design.variant()
    stages: tuple[StageChoice, ...] = ()
    brakes = base.controller.regen_motor_current_a
    if first >= 0:
        stages = space.stages.choice(first, second, space.counts.index(count))
    return replace(
        base,
        id="found",
        name=name,
        note="",
        based_on=base.id,
        motor=_same_motors(space.motor_parts[motor].id, count, driven_wheels(space.design, count)),
        controller=ControllerChoice(
            part=space.controller_parts[controller].id,
            motor_current_a=motor_a,
            pack_current_a=pack_a,
            regen_motor_current_a=None if brakes is None else min(brakes, floor_amps(min(m[col.M_PEAK], c[col.C_BURST]))),
            regen_pack_current_a=base.controller.regen_pack_current_a,
        ),
        pack=space.pack_choices[pack],
        stages=stages,
        layout=base.layout.unplaced() if base.layout is not None else None,
        wheel=space.wheels[wheel],
        gears=space.gears if len(row) > 8 else None,
    )


def settings(
    wishes: Wishes, motor: Any, controller: Any, pack: Any, count: int, level: float, power_w: float = math.inf
) -> tuple[float, float]:
    """(motor amps, pack amps of each controller) of a level: no rating is passed, nor a power limit at full charge."""
    room = 1.0 - wishes.amps
    motor_a = floor_amps(level * room * min(motor[col.M_PEAK], controller[col.C_BURST]))
    pack_a = min(room * controller[col.C_PACK], room * pack[col.P_BURST] / count, power_w / (count * pack[col.P_FULL]))
    return motor_a, floor_amps(pack_a)


def pack_amps(space: Space, *, power_w: float) -> Table:
    """Pack current settings (controllers, packs, counts): `settings` over arrays."""
    room, counts = 1.0 - space.wishes.amps, np.array(space.counts, dtype=float)
    made = np.minimum(
        room * space.controllers[:, col.C_PACK][:, np.newaxis, np.newaxis],
        room * space.packs[:, col.P_BURST][np.newaxis, :, np.newaxis] / counts,
    )
    made = np.minimum(made, power_w / (counts * space.packs[:, col.P_FULL][:, np.newaxis])[np.newaxis])
    step = np.select([made < 20, made < 40, made < 150, made < 300], [1.0, 2.0, 5.0, 10.0], 20.0)
    return np.maximum(step * np.floor(made / step + 1e-9), 1.0)
