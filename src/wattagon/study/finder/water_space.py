"""The space of a boat's search as tables: motors, reductions, propellers, controllers and packs, and what each goal takes of a propeller.

What a goal takes at a speed is the propeller's turns and torque at it, worked out over the masses that a drive may make of the boat.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.fitted import fitted
from wattagon.design.parts import CarrierPart, ControllerPart, MotorPart, Part, PropellerPart
from wattagon.design.parts.families import toothed
from wattagon.design.tree import (
    ControllerChoice,
    Design,
    GoalKind,
    MotorChoice,
    PackChoice,
    Place,
    ReductionKind,
    StageChoice,
    Variant,
)
from wattagon.errors import InputError
from wattagon.physics.water.boat import Boat, Screw
from wattagon.record import record
from wattagon.study.finder import columns as col
from wattagon.study.finder.space import LEVELS, Row, Table, owned_parts, part_tables, power_limit_w, settings, usable_parts
from wattagon.study.finder.wishes import Wishes, beaten_by
from wattagon.study.resolve import CHARGE_STATES, as_found, resolve
from wattagon.study.resolve.bill import bill_of_parts, kept_beside
from wattagon.study.resolve.boat import DOCK_DEDUCTION, WET, propeller_depth_m, resistance_of, screw_fitted, water_of
from wattagon.study.resolve.reader import Reader

# kinds of demand: held for seconds, held for good, not held (a limit), a way on a charge, a match of propeller and motor
HOLD, LAST, LIMIT, WAY, MATCH = range(5)
MASSES = 24  # of the tables over mass
TURNS = 48  # of the steady curve of a propeller
BELT_RATIOS = (1.25, 1.5, 1.75, 2.0, 2.5, 3.0, 3.5, 4.0)
BELT_WIDTHS = (15.0, 25.0)
BELT = "5M"
NOMINAL = CHARGE_STATES["nominal"]
SEARCHED = frozenset(
    (
        *(GoalKind.CRUISE, GoalKind.TOP_SPEED, GoalKind.UPSTREAM, GoalKind.CROSSING, GoalKind.BOLLARD, GoalKind.RANGE),
        *(GoalKind.THERE_AND_BACK, GoalKind.BUDGET, GoalKind.ADDED_MASS, GoalKind.SPEED_LIMIT, GoalKind.POWER_LIMIT),
    )
)


class Demand(NamedTuple):
    """What a goal asks of a drive: its kind, the speed through the water, the charge, and the way on a charge [m] where it is one."""

    goal: str
    kind: int
    speed_m_s: float
    charge: float
    way_m: float = 0.0
    pull_n: float = 0.0  # of a dock


class Gearing(NamedTuple):
    """One way between motor and propeller: stages, ratio, efficiency, drag and what a belt bears at the motor [N m], mass, price."""

    stages: tuple[StageChoice, ...]
    ratio: float
    efficiency: float
    drag_nm: float
    bears_nm: float
    mass_kg: float
    price: float


@record(frozen=True, slots=True, kw_only=True)
class WaterSpace:
    """All that may be combined.  `turns` and `torque` are (demands, counts, propellers, masses): of one propeller [rad/s], of all [N m]."""

    design: Design
    wishes: Wishes
    counts: tuple[int, ...]
    motor_parts: tuple[MotorPart, ...]
    motors: Table
    gearings: tuple[tuple[Gearing, ...], ...]  # by count
    propellers: tuple[PropellerPart, ...]
    controller_parts: tuple[ControllerPart, ...]
    controllers: Table
    pack_choices: tuple[PackChoice, ...]
    packs: Table
    lasting_a: NDArray[np.float64]  # of each pack
    emf: Table  # (packs, charges)
    range_emf: Table
    charges: tuple[float, ...]
    demands: tuple[Demand, ...]
    turns: NDArray[np.float64]
    torque: NDArray[np.float64]
    steady_turns: NDArray[np.float64]  # (counts, propellers, masses, TURNS)
    steady_torque: NDArray[np.float64]
    masses: NDArray[np.float64]
    bare_kg: float
    budget: float
    most_kg: float
    owned: dict[str, int]
    around_c: float

    @property
    def size(self) -> int:
        """How many combinations there are, current levels included."""
        ways = sum(len(gearings) for gearings in self.gearings)
        return len(self.motors) * ways * len(self.propellers) * len(self.controllers) * len(LEVELS) * len(self.packs)

    @property
    def heads(self) -> list[tuple[int, int, int, int]]:
        """(count, motor, gearing, propeller), all of them."""
        return [
            (n, m, g, s)
            for n in range(len(self.counts))
            for m in range(len(self.motors))
            for g in range(len(self.gearings[n]))
            for s in range(len(self.propellers))
        ]


def demands_of(design: Design, wishes: Wishes) -> tuple[Demand, ...]:
    """What the goals ask, each beaten by the margin that is wished for; a match of propeller and motor is always asked."""
    made: list[Demand] = []
    stream = design.brief.conditions.current.value
    for goal in design.brief.goals:
        asked = beaten_by(goal, wishes.goals)
        speed = asked.speed or 0.0
        current = asked.current or 0.0
        if goal.kind is GoalKind.TOP_SPEED:
            made.append(Demand(goal.id, HOLD, speed, goal.charge))
        elif goal.kind is GoalKind.CRUISE:
            made.append(Demand(goal.id, LAST, speed, goal.charge))
        elif goal.kind is GoalKind.UPSTREAM:
            made.append(Demand(goal.id, HOLD, speed + current, goal.charge))
        elif goal.kind is GoalKind.CROSSING:
            made.append(Demand(goal.id, HOLD, (asked.distance or 0.0) / (asked.time or 1.0) + current, goal.charge))
        elif goal.kind is GoalKind.BOLLARD:
            made.append(Demand(goal.id, HOLD, 0.0, goal.charge, pull_n=asked.pull or 0.0))
        elif goal.kind is GoalKind.SPEED_LIMIT:
            made.append(Demand(goal.id, LIMIT, speed, 1.0))
        elif goal.kind is GoalKind.RANGE:
            over_ground = max(1.0 - stream / speed, 1e-9)
            made.append(Demand(goal.id, WAY, speed, 1.0, (asked.distance or 0.0) / over_ground))
        elif goal.kind is GoalKind.THERE_AND_BACK:
            share = max(speed**2 - current**2, 1e-9) / (2.0 * speed**2)
            made.append(Demand(goal.id, WAY, speed, 1.0, (asked.distance or 0.0) / share))
    made.append(Demand("match", MATCH, 0.0, NOMINAL))
    # what is worked out quickly first
    return tuple(sorted(made, key=lambda demand: (demand.kind != MATCH, demand.kind == WAY)))


def as_searched(design: Design) -> Design:
    """Only with the goals that a search of boats can ask for, and with cans sealed in: what the water takes of them is not searched."""
    goals = tuple(goal for goal in design.brief.goals if goal.kind in SEARCHED and not goal.mode)
    own = design.variant()
    base = as_found(own)
    if base.propeller is not None and base.propeller.flooded:
        base = replace(base, propeller=replace(base.propeller, flooded=False))
    if base is not own:
        design = replace(design, variants=tuple(base if v.id == base.id else v for v in design.variants))
    return replace(design, brief=replace(design.brief, goals=goals, mode=""))


def make_water_space(design: Design, stock: Catalogue, wishes: Wishes) -> WaterSpace:
    """Tables of all parts that may be used.  Raises InputError for a design that is no boat or lacks a propeller."""
    if design.vehicle.hull is None or design.variant().propeller is None:
        raise InputError("vehicle.kind", "on wheels", "a boat with a propeller")
    design = as_searched(design)
    base = design.variant()
    assert base.propeller is not None
    owned = owned_parts(design, wishes)
    usable = usable_parts(wishes, owned)
    named = lambda kind: {part_id for part_id in wishes.use if part_id in stock.rows(kind)}
    wanted: Callable[[Part, type[Part]], bool] = lambda part, kind: usable(part) and (not named(kind) or part.id in named(kind))
    wet = base.propeller.place in WET
    fits: Callable[[Part], bool] = lambda part: (
        isinstance(part, MotorPart) and (part.family == "submerged") == wet and part.family != "hub" and wanted(part, MotorPart)
    )
    demands = demands_of(design, wishes)
    charges = (1.0, *sorted({d.charge for d in demands} - {1.0}))
    tables = part_tables(design, stock, owned, fits, wanted, charges)
    counts = tuple(sorted({1, 2, base.propeller.count}))[: 2 if base.propeller.count <= 2 else 3]
    screws = _propellers(design, stock, wishes, lambda part: wanted(part, PropellerPart))
    bare = sum(quantity.value for quantity in (design.vehicle.empty_mass, design.vehicle.rider_mass, design.vehicle.load_mass))
    heaviest = max(counts) * 12.0 + (float(tables.packs[:, col.P_MASS].max()) if len(tables.packs) else 1.0)
    masses = np.linspace(bare, bare + heaviest, MASSES)
    turns, torque, steady_turns, steady_torque = _worked(design, stock, demands, counts, screws, masses)
    present = resolve(design, stock)
    motors = tables.motors.copy()
    if len(motors):
        heat = present.train.heat
        assert heat is not None
        own = motors[:, col.M_FIXED]
        if not wet:
            own = np.full(len(motors), float(heat.fixed_w_per_k))
        motors[:, col.M_FIXED] = own
    goals = design.brief.goals
    amounts = lambda kind: [goal.amount or 0.0 for goal in goals if goal.kind is kind]
    return WaterSpace(
        design=design,
        wishes=wishes,
        counts=counts,
        motor_parts=tables.motor_parts,
        motors=motors,
        gearings=tuple(_gearings(design, stock, count, wishes) for count in counts),
        propellers=screws,
        controller_parts=tables.controller_parts,
        controllers=tables.controllers,
        pack_choices=tables.pack_choices,
        packs=tables.packs,
        lasting_a=tables.lasting_a,
        emf=tables.emf,
        range_emf=tables.range_emf,
        charges=charges,
        demands=demands,
        turns=turns,
        torque=torque,
        steady_turns=steady_turns,
        steady_torque=steady_torque,
        masses=masses,
        bare_kg=bare,
        budget=min(amounts(GoalKind.BUDGET), default=math.inf),
        most_kg=min(amounts(GoalKind.ADDED_MASS), default=math.inf),
        owned=owned,
        around_c=present.air_c,
    )


def _propellers(design: Design, stock: Catalogue, wishes: Wishes, wanted: Callable[[Part], bool]) -> tuple[PropellerPart, ...]:
    """Those of stock that stay under water and clear the hull where the drive is."""
    hull, choice = design.vehicle.hull, design.variant().propeller
    assert hull is not None and choice is not None
    depth, made = propeller_depth_m(hull, choice), []
    now = stock.get(PropellerPart, choice.part) if choice.part in stock.rows(PropellerPart) else None
    for part in stock.all(PropellerPart):
        deep = depth is None or part.diameter_m <= depth
        room = hull.tip_gap.value + now.diameter_m / 2.0 if hull.tip_gap is not None and now is not None else math.inf
        if deep and part.diameter_m / 2.0 < room and wanted(part):
            made.append(part)
    return tuple(made)


def _gearings(design: Design, stock: Catalogue, count: int, wishes: Wishes) -> tuple[Gearing, ...]:
    """Direct, the stages that are there, and one belt where the motor is above water; a leg keeps its own gear."""
    base = design.variant()
    assert base.propeller is not None
    ways: list[tuple[StageChoice, ...]] = [base.stages]
    if base.propeller.place is not Place.LEG and base.stages:
        ways.append(())
    if base.propeller.place in (Place.LONG_TAIL, Place.SHAFT) and "belt" in wishes.schools:
        ways += [(stage,) for stage in _belts(stock)]
    made = []
    # a leg or a shaft kit stays, one for each propeller
    carrier = stock.get(CarrierPart, base.propeller.carrier) if base.propeller.carrier else None
    bought = max(count - owned_parts(design, wishes).get(carrier.id, 0), 0) if carrier is not None else 0
    kept_kg, kept_price = (count * carrier.mass_kg, bought * carrier.price) if carrier is not None else (0.0, 0.0)
    for k, stages in enumerate(ways):
        if stages in ways[:k]:
            continue
        variant = with_count(replace(base, stages=stages), count)
        resolved = resolve(replace(design, variants=(variant,), active=variant.id), stock)
        slope, drag = (float(value) for value in resolved.train.reduction.lines()[0])
        ratio = float(resolved.train.reduction.ratio)
        beside_kg, beside_price = kept_beside(variant, stock, owned_parts(design, wishes))
        known = len(bill_of_parts(replace(variant, stages=()), stock))
        rows = bill_of_parts(variant, stock)[3 : 3 + len(bill_of_parts(variant, stock)) - known]
        made.append(
            Gearing(
                stages=stages,
                ratio=ratio,
                efficiency=slope / ratio,
                drag_nm=drag,
                bears_nm=min((float(rating.rated_nm) for rating in resolved.ratings), default=math.inf),
                mass_kg=kept_kg + beside_kg + sum(many * kg for _, _, many, kg, _ in rows),
                price=kept_price + beside_price + sum(many * price for _, _, many, _, price in rows),
            )
        )
    return tuple(made)


def _belts(stock: Catalogue) -> list[StageChoice]:
    """For each ratio the pair of stock pulleys next to it, in two widths; the larger pair of two like ones runs longer."""
    drivers, driven = (sorted({part.teeth for part in toothed(stock, BELT, role)}) for role in ("driver", "driven"))
    made = []
    for ratio in BELT_RATIOS:
        pairs = [(abs(b / a / ratio - 1.0), -a, a, b) for a in drivers for b in driven if a >= 14]
        if not pairs:
            continue
        _, _, a, b = min(pairs)
        made += [
            StageChoice(kind=ReductionKind.BELT, profile=BELT, driver_teeth=a, driven_teeth=b, width_mm=width) for width in BELT_WIDTHS
        ]
    return made


def with_count(variant: Variant, count: int) -> Variant:
    """A variant with so many drives, a motor and a propeller each."""
    assert variant.propeller is not None
    return replace(
        variant,
        motor=replace(variant.motor, count=count, driven_wheels=count),
        propeller=replace(variant.propeller, count=count),
    )


def _boat_for(design: Design, stock: Catalogue, count: int) -> Boat:
    variant = with_count(design.variant(), count)
    load = resolve(replace(design, variants=(variant,), active=variant.id), stock).load
    assert isinstance(load, Boat)
    return load


def _screw_for(design: Design, part: PropellerPart) -> Screw:
    choice, hull = design.variant().propeller, design.vehicle.hull
    assert choice is not None and hull is not None
    read, fresh = Reader(False), choice.other(part.id)
    return screw_fitted(read, "x", fresh, fitted(part, fresh), water_of(read, hull))


def _worked(
    design: Design,
    stock: Catalogue,
    demands: Sequence[Demand],
    counts: Sequence[int],
    screws: Sequence[PropellerPart],
    masses: NDArray[np.float64],
) -> tuple[NDArray[np.float64], ...]:
    """Turns and torque of each demand, and the steady curve, by count, propeller and mass."""
    hull = design.vehicle.hull
    assert hull is not None
    read = Reader(False)
    medium = water_of(read, hull)
    curves = [resistance_of(read, design, float(mass), medium) for mass in masses]
    wind = design.brief.conditions.headwind.value
    shape = (len(counts), len(screws), len(masses))
    turns, torque = np.zeros((2, len(demands), *shape))
    steady_turns, steady_torque = np.zeros((2, *shape, TURNS))
    fastest = float(curves[0].speed_m_s[-1])
    along = fastest * np.linspace(0.0, 1.0, TURNS + 1)[1:] ** 2
    loads = np.stack([np.interp(along, curve.speed_m_s, curve.force_n) for curve in curves])
    for n, count in enumerate(counts):
        laden = _boat_for(design, stock, count)
        for s, part in enumerate(screws):
            boat = replace(laden, screw=_screw_for(design, part))
            bare = replace(boat, hull_share=0.0)  # what holds it back beside its hull
            for d, demand in enumerate(demands):
                if demand.kind == MATCH:
                    continue
                at, pushed = demand.speed_m_s, boat
                if demand.pull_n > 0.0:
                    pushed, thrust = replace(boat, deduction=DOCK_DEDUCTION), np.full(len(masses), demand.pull_n)
                else:
                    hulls = np.array([np.interp(at, curve.speed_m_s, curve.force_n) for curve in curves])
                    thrust = np.maximum(hulls + float(bare.resistance_n(at, 0.0, wind)), 0.0)
                turns[d, n, s] = pushed.shaft_speed_rad_s(at, thrust)
                torque[d, n, s] = pushed.shaft_torque_nm(at, thrust)
            load = np.maximum(loads + np.asarray(bare.resistance_n(along, 0.0, wind)), 0.0)
            steady_turns[n, s] = boat.shaft_speed_rad_s(along, load)
            steady_torque[n, s] = boat.shaft_torque_nm(along, load)
    return turns, torque, steady_turns, steady_torque


def amps_of(space: WaterSpace, row: Row) -> tuple[float, float]:
    """(motor amps, pack amps) settings of a row."""
    n, motor, _, _, controller, level, pack = row
    power = power_limit_w(space.design.brief.goals)
    return settings(
        space.wishes, space.motors[motor], space.controllers[controller], space.packs[pack], space.counts[n], LEVELS[level], power
    )


def water_variant(space: WaterSpace, row: Row) -> Variant:
    """A combination as a variant of the design it was searched for."""
    n, motor, gearing, screw, controller, _, pack = row
    motor_a, pack_a = amps_of(space, row)
    base, count = space.design.variant(), space.counts[n]
    assert base.propeller is not None
    return replace(
        base,
        id="found",
        name="",
        note="",
        based_on=base.id,
        motor=MotorChoice(part=space.motor_parts[motor].id, count=count, driven_wheels=count),
        controller=ControllerChoice(part=space.controller_parts[controller].id, motor_current_a=motor_a, pack_current_a=pack_a),
        pack=space.pack_choices[pack],
        stages=space.gearings[n][gearing].stages,
        propeller=replace(base.propeller.other(space.propellers[screw].id), count=count),
    )
