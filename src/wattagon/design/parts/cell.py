"""Cells and ready packs.  Blank cells are None: a rating that nobody states is unknown, not unlimited."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.errors import InputError
from wattagon.physics.pack import CHEMISTRIES
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class CellPart(Part):
    """A cell, or a ready pack of `brick_series` by `brick_parallel` cells; resistances and currents are per cell."""

    stock: ClassVar[str] = "cells"
    one: ClassVar[str] = "Cell or ready pack"
    many: ClassVar[str] = "Cells and ready packs"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (
        ("chemistry", "chemistry"),
        ("capacity", "capacity_ah"),
        ("resistance", "cell_r0_ohm"),
        ("lasting", "continuous_a"),
        ("burst", "burst_a"),
        ("brick", "brick"),
    )

    chemistry: str
    capacity_ah: float = field(metadata=spec("capacity of one cell", "capacity", 0.05, 1000.0))
    cell_r0_ohm: float = field(metadata=spec("cell resistance", "resistance", 1e-5, 1.0, "1 s, 25 C"))
    cell_r1_ohm: float | None = field(default=None, metadata=spec("slow cell resistance", "resistance", 0.0, 1.0))
    continuous_a: float | None = field(default=None, metadata=spec("continuous cell amps", "current", 0.05, 5000.0))
    burst_a: float | None = field(default=None, metadata=spec("burst cell amps", "current", 0.05, 10000.0))
    brick_series: int = field(default=1, metadata=spec("cells in series in a brick", "number", 1, 60))
    brick_parallel: int = field(default=1, metadata=spec("strings in a brick", "number", 1, 60))

    @property
    def brick(self) -> str:
        """What it comes as."""
        return f"{self.brick_series}S{self.brick_parallel}P" if self.brick_series * self.brick_parallel > 1 else "cell"

    def check(self) -> None:
        """Raises InputError for a chemistry that has no curve."""
        if self.chemistry not in CHEMISTRIES:
            raise InputError("chemistry", self.chemistry, ", ".join(CHEMISTRIES))
