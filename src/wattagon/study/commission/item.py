"""One step of commissioning as this design has it: what is done, what is read, between what it has to lie."""

from __future__ import annotations

import math
from typing import NamedTuple

from wattagon.record import record

STAGES: tuple[tuple[str, str, str], ...] = (
    ("A", "Before first connection", "Lithium packs: clear ground that does not burn, one pole exposed at a time, tools taped, rings off."),
    (
        "B",
        "First power, nothing coupled",
        "Wheels off the ground, belt or propeller off, the motor bolted down yet free to spin.",
    ),
    ("C", "Failures on purpose", "Still off the ground; nobody in the plane of what turns; a stop in reach, tried before it is needed."),
    ("D", "Coupled, then moving", "Helmet and gloves, closed area, somebody near. Nobody else rides before the hand-over is signed."),
)
AFLOAT = "Lifejacket and lanyard on, a second boat near; tied at the dock first, then within swimming distance."
OVER = (
    "Local rules and licensed practice come first: mains chargers stay closed, house wiring is for a licensed electrician. "
    "What passes here does not make a vehicle safe or legal."
)
RULES = (
    "Rings and loose sleeves off; eyes protected for first spins and for any propeller or open belt; nobody in the plane of what turns.",
    "A pack that is swollen, hissing, hot without load, crushed or below 2.0 V a cell is finished: outdoors, away from buildings, then the "
    "recycler. Never charge unattended, below 0 C, or in a closed locker.",
    "Above 60 V, in the wet above half of that, treat as dangerous to touch: covers, fused meter leads, one hand.",
    "A stop that removes drive is in reach in every test.",
)


class Read(NamedTuple):
    """One figure to be read, SI: between `low` and `high`, with what the core expects and where the range comes from.

    `many` figures of the same kind are typed in one line and kept under `name 1`, `name 2`, ...
    """

    name: str
    words: str
    dimension: str
    low: float = -math.inf
    high: float = math.inf
    expects: float = math.nan
    comes: str = ""
    many: int = 1
    unit: str = ""  # where the dimension has none
    wanted: bool = True  # the step is not done without it

    @property
    def names(self) -> tuple[str, ...]:
        """Under which its figures are kept."""
        return (self.name,) if self.many == 1 else tuple(f"{self.name} {k + 1}" for k in range(self.many))


@record(frozen=True, slots=True, kw_only=True)
class Item:
    """One step."""

    id: str
    stage: str
    title: str
    how: str
    accept: str
    caution: str = ""
    why_not: str = ""  # why it does not apply to this design; empty: it does
    reads: tuple[Read, ...] = ()
    looked: bool = False  # somebody has to say that it held
    rests_on: tuple[str, ...] = ()  # parts of the build that reopen it when they change
    symptom: str = ""  # of Trouble, when it fails
    rehearse: bool = False  # on the test stand first

    @property
    def applies(self) -> bool:
        return not self.why_not
