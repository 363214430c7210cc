"""The space of a search as tables of numbers: motors, controllers, packs and reductions, each resolved as the drive study does.

Rows come from the very functions that resolve a design, so that what is found and what `solve` says rest on the same numbers.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart
from wattagon.design.tree import (
    ControllerChoice,
    Design,
    Goal,
    GoalKind,
    MotorChoice,
    PackChoice,
    ReductionKind,
    StageChoice,
    Variant,
)
from wattagon.physics.pack import rest_volts
from wattagon.physics.reduction import combine
from wattagon.record import record
from wattagon.study import resolve as _resolve
from wattagon.study.goals import USABLE_WINDOW, speed_queries
from wattagon.study.levers import amp_step
from wattagon.study.resolve import PACK_EXTRA_MASS, resolve, stage_parts

LEVELS = (1.0, 0.75, 0.5)  # of the lowest rating, as motor current settings
MOST_PARALLEL, MOST_SERIES = 12, 30
RANGE_STEPS = 20
# the columns of the tables
MOTOR = (
    "k",
    "ohm",
    "henry",
    "pairs",
    "a",
    "b",
    "brush",
    "dc",
    "peak",
    "volts",
    "rad_s",
    "mass",
    "price",
    "owned",
    "brushed",
    "inertia",
    "hub",
)
CONTROLLER = (
    "volts",
    "burst",
    "pack_a",
    "duty",
    "erpm_start",
    "erpm_end",
    "bridge",
    "switching",
    "idle",
    "mass",
    "price",
    "owned",
    "brushed",
)
PACK = ("full_v", "burst_a", "ah", "ohm_burst", "ohm_steady", "mass", "price", "cut_start", "cut_end", "cell")
REDUCTION = ("ratio", "efficiency", "drag", "capacity", "mass1", "price1", "mass2", "price2", "kind")
SCHOOLS = ("direct", "belt", "chain")


@record(frozen=True, slots=True, kw_only=True)
class Space:
    """Everything that may be combined.  Tables are float64 with one row a part, columns as named above."""

    design: Design
    motors: NDArray[np.float64]
    controllers: NDArray[np.float64]
    packs: NDArray[np.float64]
    emf: NDArray[np.float64]  # (packs, charges): rest volts at the charges that goals ask for, full first
    range_emf: NDArray[np.float64]  # (packs, RANGE_STEPS)
    reductions: NDArray[np.float64]  # sorted by ratio
    counts: tuple[int, ...]
    motor_parts: tuple[MotorPart, ...]
    controller_parts: tuple[ControllerPart, ...]
    pack_choices: tuple[PackChoice, ...]
    stage_choices: tuple[tuple[StageChoice, ...], ...]
    charges: tuple[float, ...]

    @property
    def size(self) -> int:
        """How many combinations there are, current levels included."""
        return (
            len(self.motors) * len(self.counts) * len(self.controllers) * len(LEVELS) * len(self.packs) * len(self.reductions)
        )


def floor_amps(amps: float) -> float:
    """A current setting at or below a rating, in a handy step."""
    step = amp_step(amps)
    return max(step * math.floor(amps / step + 1e-9), 1.0)


def make_space(
    design: Design, stock: Catalogue, *, shelf: str = "prefer", schools: Sequence[str] = SCHOOLS, least_lead_days: int | None = None
) -> Space:  # fmt: skip
    """Tables of all parts that may be used.

    shelf: "prefer" (owned parts are free, others cost), "only" (only what is owned), "ignore" (all at their price).
    Unrated parts are left out: what nobody rated cannot be judged.
    """
    variant = design.variant()
    owned: dict[str, int] = {}
    if shelf != "ignore":
        for item in design.brief.shelf:
            owned[item.part] = owned.get(item.part, 0) + item.count
    read = _resolve._Reader(False)
    late = lambda part: least_lead_days is not None and part.id not in owned and part.lead_days > least_lead_days
    usable = lambda part: (shelf != "only" or owned.get(part.id, 0) > 0) and not late(part)
    axle = design.vehicle.axle_wheels
    counts = tuple(range(1, max(2, axle) + 1))
    motor_parts: list[MotorPart] = []
    motor_rows: list[tuple[float, ...]] = []
    for part in stock.motors():
        if not usable(part) or part.family == "submerged" or part.current_peak_a is None or part.voltage_max_v is None:
            continue
        m = _resolve._motor(read, "x", MotorChoice(part=part.id), part)
        motor_parts.append(part)
        motor_rows.append((
            float(m.torque_constant_nm_per_a), float(m.resistance_ohm), float(m.inductance_h), float(m.pole_pairs), float(m.no_load_a),
            float(m.no_load_slope_a_s), float(m.brush_drop_v),
            m.dc_per_motor_amp, part.current_peak_a, part.voltage_max_v, (part.rpm_max or 1e9) * math.tau / 60.0, part.mass_kg, part.price,
            owned.get(part.id, 0), float(m.brushed), float(m.rotor_inertia_kg_m2), float(part.family == "hub"),
        ))  # fmt: skip
    pack_choices, pack_rows, emf_rows, range_rows, charges = _packs(design, stock, owned, usable)
    controller_parts: list[ControllerPart] = []
    controller_rows: list[tuple[float, ...]] = []
    for box in stock.controllers():
        if not usable(box) or box.voltage_max_v is None or box.motor_current_burst_a is None or box.pack_current_max_a is None:
            continue
        c = _resolve._controller(
            read, "x", ControllerChoice(part=box.id, motor_current_a=10.0, pack_current_a=10.0), box, _any_pack(variant, stock)
        )
        controller_parts.append(box)
        controller_rows.append((
            box.voltage_max_v, box.motor_current_burst_a, box.pack_current_max_a, float(c.duty_max), min(float(c.erpm_start), 1e9), min(float(c.erpm_end), 1e9),
            float(c.bridge_ohm), float(c.switching_v_per_v), float(c.idle_w), box.mass_kg, box.price, owned.get(box.id, 0), float(box.brushed),
        ))  # fmt: skip
    by_price = np.lexsort(([row[5] for row in pack_rows], [row[6] for row in pack_rows]))
    pack_choices, pack_rows, emf_rows, range_rows = (
        [rows[k] for k in by_price] for rows in (pack_choices, pack_rows, emf_rows, range_rows)
    )
    stage_choices, reduction_rows = _reductions(design, stock, owned, usable, schools)
    order = np.argsort([row[0] for row in reduction_rows], kind="stable") if reduction_rows else np.array([], dtype=int)
    table = lambda rows, n: np.array(rows, dtype=float).reshape(-1, n)
    return Space(
        design=design, motors=table(motor_rows, len(MOTOR)), controllers=table(controller_rows, len(CONTROLLER)), packs=table(pack_rows, len(PACK)),
        emf=table(emf_rows, len(charges)), range_emf=table(range_rows, RANGE_STEPS), reductions=table(reduction_rows, len(REDUCTION))[order],
        counts=counts, motor_parts=tuple(motor_parts), controller_parts=tuple(controller_parts), pack_choices=tuple(pack_choices),
        stage_choices=tuple(stage_choices[k] for k in order), charges=charges,
    )  # fmt: skip


def _any_pack(variant: Variant, stock: Catalogue):  # type: ignore[no-untyped-def]
    from wattagon.design.tree import Conditions

    return _resolve._pack(
        _resolve._Reader(False), "x", variant.pack, stock.cell(variant.pack.part), Conditions().pack_temperature
    )


def goal_charges(goals: Sequence[Goal]) -> tuple[float, ...]:
    """Full, then every other charge that goals name."""
    _, speeds, _ = speed_queries(goals)
    named = {float(c) for c in speeds} | {goal.charge for goal in goals if goal.kind in (GoalKind.START, GoalKind.SPRINT)}
    return (1.0, *sorted(named - {1.0}))


def _packs(design, stock, owned, usable):  # type: ignore[no-untyped-def]
    """Every brick count up to MOST_SERIES in series and MOST_PARALLEL strings."""
    charges = goal_charges(design.brief.goals)
    top, bottom = USABLE_WINDOW
    steps = bottom + (top - bottom) * (np.arange(RANGE_STEPS) + 0.5) / RANGE_STEPS
    wiring = design.variant().pack.wiring_ohm
    choices, rows, emf, ranged = [], [], [], []
    read = _resolve._Reader(False)
    for part in stock.cells():
        if not usable(part) or part.burst_a is None or part.continuous_a is None:
            continue
        for parallel in range(part.brick_parallel, MOST_PARALLEL + 1, part.brick_parallel):
            for series in range(part.brick_series, MOST_SERIES + 1, part.brick_series):
                if series < 3:
                    continue
                choice = PackChoice(part=part.id, series=series, parallel=parallel, wiring_ohm=wiring)
                pack = _resolve._pack(read, "x", choice, part, design.brief.conditions.pack_temperature)
                bricks = (series // part.brick_series) * (parallel // part.brick_parallel)
                have = min(bricks, owned.get(part.id, 0))
                extra = PACK_EXTRA_MASS if part.brick_series * part.brick_parallel == 1 else 1.0
                start, end, _ = _resolve.cutback_v(ControllerChoice(part="x", motor_current_a=1.0, pack_current_a=1.0), pack)
                choices.append(choice)
                rows.append((
                    float(pack.full_v), min(float(pack.burst_a), 1e9), float(pack.capacity_ah), float(pack.burst_ohm), float(pack.steady_ohm),
                    bricks * part.mass_kg * extra, (bricks - have) * part.price, start, end, float(_cell_index(stock, part)),
                ))  # fmt: skip
                emf.append([series * float(rest_volts(part.chemistry, c)) for c in charges])
                ranged.append(series * rest_volts(part.chemistry, steps))
    return choices, rows, emf, ranged, charges


def _cell_index(stock: Catalogue, part: CellPart) -> int:
    return list(stock.parts["cells"]).index(part.id)


def _reductions(design, stock, owned, usable, schools):  # type: ignore[no-untyped-def]
    """One stage of every belt width, chain, driver and driven in stock, and none at all."""
    read = _resolve._Reader(False)
    tyre = design.vehicle.tyre_diameter
    choices: list[tuple[StageChoice, ...]] = []
    rows: list[tuple[float, ...]] = []
    if "direct" in schools:
        choices.append(())
        rows.append((1.0, 1.0, 0.0, 1e9, 0.0, 0.0, 0.0, 0.0, 0.0))
    present = {stage.profile: stage for stage in design.variant().stages}
    for profile in stock.parts["profiles"].values():
        kind = ReductionKind.BELT if profile.kind == "belt" else ReductionKind.CHAIN
        if kind.value not in schools:
            continue
        widths = [float(w) for w in profile.widths_mm.split()] if profile.kind == "belt" else [None]
        free = any(stage.freewheel for stage in present.values())
        for width in widths:
            for driver in stock.toothed(profile.id, "driver"):
                for driven in stock.toothed(profile.id, "driven"):
                    if driven.teeth < driver.teeth or not (usable(driver) and usable(driven)):
                        continue
                    stage = StageChoice(
                        kind=kind,
                        profile=profile.id,
                        driver_teeth=driver.teeth,
                        driven_teeth=driven.teeth,
                        width_mm=width,
                        freewheel=free,
                    )
                    stages = _resolve._stages(read, "x", (stage,), tyre)
                    capacity = _resolve._torque_capacity((stage,), stages, stock)
                    red = combine(stages, torque_capacity_nm=capacity)
                    money = []
                    for motors in (1, 2):
                        bill = stage_parts(stage, motors, stock)
                        money += [
                            sum(n * kg for _, _, n, kg, _ in bill),
                            sum((n - min(n, owned.get(i, 0))) * price for i, _, n, _, price in bill),
                        ]
                    choices.append((stage,))
                    rows.append(
                        (
                            float(red.ratio),
                            float(red.efficiency),
                            float(red.drag_nm),
                            min(capacity, 1e9),
                            *money,
                            float(SCHOOLS.index(kind.value)),
                        )
                    )
    return choices, rows


def variant_of(
    space: Space, motor: int, count: int, controller: int, level: int, pack: int, reduction: int, *, name: str = ""
) -> Variant:
    """A combination as a variant of the design it was searched for."""
    m, c, p = space.motors[motor], space.controllers[controller], space.packs[pack]
    motor_a, pack_a = settings(m[8], c[1], c[2], p[1], count, LEVELS[level])
    base = space.design.variant()
    solid = base.motor.count < base.motor.driven_wheels
    wheels = base.motor.driven_wheels if solid else min(count, space.design.vehicle.axle_wheels)
    return replace(
        base, id="found", name=name, note="", based_on=base.id, motor=MotorChoice(part=space.motor_parts[motor].id, count=count, driven_wheels=wheels),
        controller=ControllerChoice(
            part=space.controller_parts[controller].id, motor_current_a=motor_a, pack_current_a=pack_a,
            regen_motor_current_a=base.controller.regen_motor_current_a, regen_pack_current_a=base.controller.regen_pack_current_a,
        ),
        pack=space.pack_choices[pack], stages=space.stage_choices[reduction],
    )  # fmt: skip


def settings(
    peak_a: float, burst_a: float, controller_pack_a: float, pack_burst_a: float, count: int, level: float
) -> tuple[float, float]:
    """(motor amps, pack amps of each controller) of a level: no rating is passed."""
    return floor_amps(level * min(peak_a, burst_a)), floor_amps(min(controller_pack_a, pack_burst_a / count))


def road_row(design: Design, stock: Catalogue, count: int) -> NDArray[np.float64]:
    """(mass without drive, Crr, Crr per speed, rho CdA/2, radius, headwind, grip share, lift share, wheel mass) with a count of motors."""
    base = design.variant()
    solid = base.motor.count < base.motor.driven_wheels
    wheels = base.motor.driven_wheels if solid else min(count, design.vehicle.axle_wheels)
    resolved = resolve(replace(design, variants=tuple(
        replace(v, motor=replace(v.motor, count=count, driven_wheels=wheels)) if v.id == base.id else v for v in design.variants
    )), stock)  # fmt: skip
    road = resolved.road
    caps, weight = road.thrust_caps(0.0), float(road.mass_kg) * 9.80665
    return np.array([
        float(road.mass_kg) - resolved.drive_mass_kg, float(road.rolling), float(road.rolling_per_speed), 0.5 * float(road.air_kg_m3) * float(road.drag_area_m2),
        float(road.wheel_radius_m), resolved.headwind_m_s, min(float(caps["traction"]) / weight, 1e9), float(caps["wheel_lift"]) / weight,
        float(road.wheel_inertia_kg_m2) / float(road.wheel_radius_m) ** 2,
    ])  # fmt: skip
