"""One row of the parts list as the design decides it, before anybody bought it."""

from __future__ import annotations

from typing import NamedTuple

from wattagon.record import record

# kinds of row in the order in which they are listed, with what a group of them is called
GROUPS: tuple[tuple[str, str], ...] = (
    ("motor", "Motors"),
    ("controller", "Controllers"),
    ("cell", "Pack"),
    ("board", "Pack"),
    ("charger", "Charging"),
    ("pulley", "Reduction"),
    ("driven", "Reduction"),
    ("loop", "Reduction"),
    ("idler", "Reduction"),
    ("wheel", "Wheels and propellers"),
    ("hub", "Wheels and propellers"),
    ("propeller", "Wheels and propellers"),
    ("carrier", "Wheels and propellers"),
    ("plate", "Made here"),
    ("print", "Made here"),
    ("bearing", "Made here"),
    ("wire", "Winding"),
    ("winding", "Winding"),
    ("cable", "Wiring"),
    ("connector", "Wiring"),
    ("fuse", "Wiring"),
    ("contactor", "Wiring"),
    ("resistor", "Wiring"),
    ("lug", "Wiring"),
    ("gland", "Wiring"),
    ("screw", "Fasteners"),
    ("fastener", "Fasteners"),
    ("consumable", "Consumables"),
    ("own", "Your own"),
)
GROUP_OF = dict(GROUPS)
ORDER = {kind: k for k, (kind, _) in enumerate(GROUPS)}
ABOARD_NOT = ("charger", "consumable", "wire", "winding")  # stay at home, or are used up


class At(NamedTuple):
    """Where a row's mass sits [m]: ahead of the driven axle (a boat: of the transom), left of the middle, above the ground (the keel)."""

    x: float
    y: float
    z: float


@record(frozen=True, slots=True, kw_only=True)
class Row:
    """One row.  `price` and `mass_kg` are of one (of a metre where `unit` says so)."""

    id: str
    kind: str
    name: str
    count: float
    used: str  # where
    mass_kg: float
    price: float
    unit: str = ""
    part: str = ""  # in stock
    lead_days: int = 0
    made: bool = False  # in the workshop, not bought
    assumed: bool = False  # price or mass are typical, not a seller's
    at: At | None = None
    drags: tuple[str, ...] = ()  # what else it asks for

    @property
    def group(self) -> str:
        return GROUP_OF[self.kind]

    @property
    def mass_all_kg(self) -> float:
        return self.count * self.mass_kg

    @property
    def aboard(self) -> bool:
        """Whether it rides along."""
        return self.kind not in ABOARD_NOT
