"""A pack of cells or bricks, its mass and its cutback."""

from __future__ import annotations

import math

from wattagon.design.parts import CellPart
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import (
    ControllerChoice,
    PackChoice,
)
from wattagon.errors import InputError
from wattagon.physics import pack as pack_physics
from wattagon.physics.pack import Pack
from wattagon.study.resolve.reader import Reader

PACK_EXTRA_MASS = 1.25  # pack that is built from cells, per cells: links, leads, case; 1.15 to 1.35
CHARGE_STATES = {"full": 1.0, "nominal": 0.5, "low": 0.1}


def pack_of(read: Reader, base: str, choice: PackChoice, part: CellPart, temperature: Quantity) -> Pack:
    def need(name: str, default: float, dimension: str = "number") -> float:
        return read.need(f"{base}.pack", choice, part, name, default, dimension)

    if choice.series % part.brick_series or choice.parallel % part.brick_parallel:
        raise InputError(
            f"{base}.pack",
            f"{choice.series}S{choice.parallel}P",
            f"multiples of {part.brick_series}S{part.brick_parallel}P, which {part.name} comes in",
        )
    continuous = read.part(f"{base}.pack", choice, part, "continuous_a", None, "current")
    burst = read.part(f"{base}.pack", choice, part, "burst_a", None, "current")
    board = choice.protection_a if choice.protection_a is not None else math.inf
    series = read.keep(f"{base}.pack.series", choice.series, Known.STATED)
    parallel = read.keep(f"{base}.pack.parallel", choice.parallel, Known.STATED)
    r0 = need("cell_r0_ohm", part.cell_r0_ohm, "resistance")
    return Pack(
        chemistry=part.chemistry,
        series=series,
        parallel=parallel,
        cell_ah=need("capacity_ah", part.capacity_ah, "capacity"),
        cell_r0_ohm=r0,
        cell_r1_ohm=need("cell_r1_ohm", 0.45 * r0, "resistance"),
        wiring_ohm=read.quantity(f"{base}.pack.wiring_ohm", choice.wiring_ohm, "resistance"),
        temperature_c=read.quantity("brief.conditions.pack_temperature", temperature, "temperature"),
        # an unknown rating limits nothing here; a finding says that it was not checked
        continuous_a=min(continuous * parallel if continuous is not None else math.inf, board),
        burst_a=min(burst * parallel if burst is not None else math.inf, board),
    )


def cutback_v(choice: ControllerChoice, pack: Pack) -> tuple[float, float, bool]:
    """(start, end, assumed) of the low-voltage cutback [V]: as set, else by the chemistry's usual volts per cell."""
    start, end = pack_physics.CUTBACK_V[pack.chemistry]
    assumed = choice.cutback_start_v is None or choice.cutback_end_v is None
    begin = choice.cutback_start_v if choice.cutback_start_v is not None else float(start * pack.series)
    finish = choice.cutback_end_v if choice.cutback_end_v is not None else float(end * pack.series)
    return begin, min(finish, begin), assumed


def bricks_of(choice: PackChoice, cell: CellPart) -> int:
    """How many cells, or ready bricks of cells, a pack is made of."""
    return (choice.series // cell.brick_series) * (choice.parallel // cell.brick_parallel)


def pack_mass_kg(choice: PackChoice, cell: CellPart) -> float:
    """Mass of the pack [kg]: bricks as they are sold, cells with what holds and joins them."""
    return bricks_of(choice, cell) * cell.mass_kg * (PACK_EXTRA_MASS if cell.brick_series * cell.brick_parallel == 1 else 1.0)
