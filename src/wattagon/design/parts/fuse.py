"""Fuses with their time curves, and contactors."""

from __future__ import annotations

import itertools
import math
from dataclasses import field
from typing import ClassVar

from wattagon.design.parts.part import Part
from wattagon.design.quantity import spec
from wattagon.errors import InputError
from wattagon.physics.wiring.fuse import FAST, SLOW, Curve
from wattagon.record import record

SHAPES = ("bolted strip", "blade", "cartridge", "slow cartridge")


@record(frozen=True, slots=True, kw_only=True)
class FusePart(Part):
    """A fuse; its curve as `multiple:earliest-latest` in seconds, blank: usual for its shape."""

    stock: ClassVar[str] = "fuses"
    one: ClassVar[str] = "Fuse"
    many: ClassVar[str] = "Fuses"
    columns: ClassVar[tuple[tuple[str, str], ...]] = (
        ("shape", "shape"),
        ("rating", "rating_a"),
        ("volts", "volts"),
        ("breaks", "breaks_a"),
    )

    shape: str  # one of SHAPES
    rating_a: float = field(metadata=spec("rating", "current", 0.1, 2000.0))
    volts: float | None = field(default=None, metadata=spec("direct volts", "voltage", 5.0, 2000.0))
    breaks_a: float | None = field(default=None, metadata=spec("breaks", "current", 10.0, 200000.0))
    cold_mohm: float = field(default=0.5, metadata=spec("its resistance", "number", 0.01, 500.0, "milliohm"))
    curve: str = ""

    def check(self) -> None:
        if self.shape not in SHAPES:
            raise InputError("shape", self.shape, ", ".join(SHAPES))
        self.times  # noqa: B018  refuses a curve that cannot be read

    @property
    def times(self) -> Curve:
        """Its clearing times.  Raises InputError for a curve that cannot be read."""
        if not self.curve.strip():
            return SLOW if self.shape in ("bolted strip", "slow cartridge") else FAST
        rows = []
        for piece in self.curve.split():
            multiple, _, times = piece.partition(":")
            first, _, last = times.partition("-")
            try:
                rows.append((float(multiple), float(first), math.inf if last == "never" else float(last)))
            except ValueError:
                raise InputError("curve", repr(piece), "multiple:earliest-latest, such as 2:1-15 or 1:14400-never") from None
        rising = all(a[0] < b[0] for a, b in itertools.pairwise(rows))
        if len(rows) < 2 or not rising or any(not 0.0 < first <= last for _, first, last in rows):
            raise InputError("curve", self.curve, "two or more points with rising multiples, earliest not after latest")
        multiples, earliest, latest = zip(*rows, strict=True)
        return Curve(multiples=multiples, earliest=earliest, latest=latest)
