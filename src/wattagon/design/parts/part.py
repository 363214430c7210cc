"""What every kind of part has."""

from __future__ import annotations

from dataclasses import field
from typing import ClassVar

from wattagon.design.quantity import spec
from wattagon.record import record


@record(frozen=True, slots=True, kw_only=True)
class Part:
    """What every part has."""

    stock: ClassVar[str]  # its table: the name of the CSV file
    one: ClassVar[str]  # what one is called
    many: ClassVar[str]
    columns: ClassVar[tuple[tuple[str, str], ...]] = ()  # what a list shows: heading, name of the value
    on_shelf: ClassVar[bool] = True  # can be owned

    id: str
    name: str
    mass_kg: float = field(metadata=spec("mass", "mass", 0.0, 1000.0))
    price: float = field(metadata=spec("price", "money", 0.0, 1e6))
    lead_days: int = field(default=0, metadata={**spec("delivery", "days", 0, 1000), "row_only": True})
    source: str = field(default="shipped", metadata=spec("where the row comes from"))

    def check(self) -> None:
        """Raises InputError for what no single field could tell."""
