"""A pack of bricks of one's own: what they make together, and what that does to the drive's pack."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from wattagon.design.catalogue import Catalogue
from wattagon.design.fitted import fitted
from wattagon.design.parts import BoardPart, CellPart
from wattagon.design.quantity import Known
from wattagon.design.tree import Battery, BrickChoice, Variant
from wattagon.errors import PathError
from wattagon.physics.bricks import Assembly, Brick
from wattagon.physics.pack import Pack, charge_at
from wattagon.record import record
from wattagon.study.resolve.reader import Reader

BUILT_EXTRA = 1.25  # links, leads, case of a block of cells


@record(frozen=True, slots=True, kw_only=True)
class Bricks:
    """The bricks of a battery in rows, with the part that each is of and what is not sound about them."""

    assembly: Assembly
    choices: tuple[tuple[BrickChoice, ...], ...]
    parts: tuple[tuple[CellPart, ...], ...]
    trouble: str = ""  # why the drive cannot count with them

    @property
    def flat(self) -> list[tuple[BrickChoice, CellPart, Brick]]:
        """Every brick with its part and what it is to the equations."""
        rows = zip(self.choices, self.parts, self.assembly.rows, strict=True)
        return [item for row in rows for item in zip(*row, strict=True)]

    def lasting_a(self, what: str = "continuous_a") -> float:
        """Pack amps at which the first brick has its rating [A]; inf where none is rated."""
        unit = self.assembly.currents(1.0, [[0.5] * len(row) for row in self.assembly.rows])
        least = math.inf
        for row, shares in zip(zip(self.choices, self.parts, strict=True), unit, strict=True):
            for choice, part, share in zip(*row, shares, strict=True):
                rating = getattr(part, what)
                if rating is not None and share > 0.0:
                    least = min(least, rating * choice.parallel / share)
        return least


def bricks_told(variant: Variant, stock: Catalogue) -> Bricks | None:
    """The bricks that a variant's battery is told to be of; None where none is.  Raises PathError for an unknown part."""
    battery = variant.battery
    if battery is None or not battery.bricks:
        return None
    own = stock.get(CellPart, variant.pack.part)
    places = sorted({one.place for one in battery.bricks})
    choices = tuple(tuple(one for one in battery.bricks if one.place == place) for place in places)
    parts = tuple(tuple(_part(one, own, variant, stock) for one in row) for row in choices)
    rows = tuple(tuple(_brick(c, p) for c, p in zip(row, of, strict=True)) for row, of in zip(choices, parts, strict=True))
    assembly = Assembly(rows=rows, strings=battery.joined == "strings")
    return Bricks(assembly=assembly, choices=choices, parts=parts, trouble=_trouble(assembly, variant))


def _part(one: BrickChoice, own: CellPart, variant: Variant, stock: Catalogue) -> CellPart:
    return stock.get(CellPart, one.part) if one.part and one.part != own.id else fitted(own, variant.pack)


def _brick(one: BrickChoice, part: CellPart) -> Brick:
    capacity = one.capacity.value if one.capacity is not None else part.capacity_ah * one.parallel
    ohm = one.resistance.value if one.resistance is not None else part.cell_r0_ohm * one.series / one.parallel
    charge = float(charge_at(part.chemistry, one.rest.value / one.series)) if one.rest is not None else 1.0
    return Brick(
        chemistry=part.chemistry,
        series=one.series,
        capacity_ah=capacity,
        ohm=ohm + (one.lead.value if one.lead is not None else 0.0),
        charge=charge,
    )


def _trouble(assembly: Assembly, variant: Variant) -> str:
    rows, wanted = assembly.rows, variant.pack.series
    if len({brick.chemistry for row in rows for brick in row}) > 1:
        return "bricks of different chemistry"
    if assembly.strings:
        counts = {sum(brick.series for brick in row) for row in rows}
        if len(counts) > 1:
            return f"strings of {' and '.join(map(str, sorted(counts)))} cells in series stand in parallel"
    elif any(len({brick.series for brick in row}) > 1 for row in rows):
        return "bricks of different cells in series stand in parallel"
    if assembly.series != wanted:
        return f"the bricks make {assembly.series} in series, the drive counts {wanted}"
    return ""


def with_bricks(read: Reader, base: str, pack: Pack, battery: Battery, told: Bricks, board_a: float) -> Pack:
    """The drive's pack as its bricks make it, where they can be counted with."""
    if told.trouble:
        return pack
    known = Known.MEASURED if all(one.resistance and one.capacity for one in battery.bricks) else Known.STATED
    strings = float(pack.parallel)
    r0 = read.keep(f"{base}.battery.resistance", told.assembly.ohm, known, "resistance") * strings / float(pack.series)
    capacity = read.keep(f"{base}.battery.capacity", told.assembly.capacity_ah, known, "capacity") / strings
    slow = float(pack.cell_r1_ohm) / float(pack.cell_r0_ohm)
    return replace(
        pack,
        cell_ah=capacity,
        cell_r0_ohm=r0,
        cell_r1_ohm=slow * r0,
        continuous_a=min(told.lasting_a(), board_a),
        burst_a=min(told.lasting_a("burst_a"), board_a),
    )


def brick_rows(variant: Variant, stock: Catalogue) -> list[tuple[str, str, int, float, float]] | None:
    """(part id, name, count, mass each, price each) of a battery of bricks; None where none is told."""
    told = bricks_told(variant, stock)
    if told is None or told.trouble:
        return None
    made: list[tuple[str, str, int, float, float]] = []
    for choice, part, _ in told.flat:
        ready = part.brick_series * part.brick_parallel
        count = max(round(choice.series * choice.parallel / ready), 1)
        made.append((part.id, part.name, count, part.mass_kg * (1.0 if ready > 1 else BUILT_EXTRA), part.price))
    return made


def as_found(variant: Variant) -> Variant:
    """A variant as a search counts it: what was told of bricks, board and wiring holds for no other drive; window and school stay."""
    if variant.battery is None and variant.wiring is None:
        return variant
    battery = variant.battery
    kept = (
        Battery(school=battery.school, window_top=battery.window_top, window_bottom=battery.window_bottom) if battery is not None else None
    )
    return replace(variant, battery=kept, wiring=None)


def board_of(variant: Variant, stock: Catalogue) -> BoardPart | None:
    """The protection board as it is fitted; None without one, or for a school without.  Raises PathError for an unknown one."""
    battery = variant.battery
    if battery is None or not battery.board or battery.school == "none":
        return None
    part = stock.get(BoardPart, battery.board)
    return fitted_board(part, battery)


def fitted_board(part: BoardPart, battery: Battery) -> BoardPart:
    """A board with what its maker knows better of it."""
    better: dict[str, Any] = {name: q.value for name, q in battery.board_overrides.items() if hasattr(part, name)}
    return replace(part, **better)


def board_amps(variant: Variant, stock: Catalogue) -> float:
    """What the board lets through for long [A]: as stated for the pack, else of the part; inf without one."""
    if variant.pack.protection_a is not None:
        return variant.pack.protection_a
    try:
        board = board_of(variant, stock)
    except PathError:
        return math.inf
    return board.lasting_a if board is not None else math.inf
