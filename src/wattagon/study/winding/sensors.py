"""Hall sensors of this stator: openings, their codes, how far they are off, and what the read codes tell."""

from __future__ import annotations

from wattagon.design.tree import HallPlan
from wattagon.errors import InputError
from wattagon.physics.winding import halls
from wattagon.physics.winding.coil import Connection
from wattagon.physics.winding.star import Pattern
from wattagon.record import record

SEAT_M = 4.2e-3  # of a sensor in its flat case
TOLERANCE_DEG = 5.0  # electrical, in all
SHIFT_DEG = 30.0  # from a coil's own EMF to that between two leads in wye


@record(frozen=True, slots=True, kw_only=True)
class Sensors:
    """All of it; angles electrical unless a name says otherwise."""

    spacing: int
    places: tuple[float, ...]  # openings with their offsets, in slots
    openings: tuple[int, ...]
    told: bool  # chosen by the maker
    exact: tuple[tuple[int, int, int] | None, tuple[int, int, int] | None]  # the nearest exact ones at 120 and 60
    neighbour_deg: float  # mechanical, between H1 and H2 as they sit
    spacings_deg: tuple[float, ...]  # mechanical angles that are right
    errors_deg: tuple[float, ...]  # of H1, H2, H3 against H1
    aligned_deg: float  # from what a fixed controller wants
    ring: tuple[tuple[str, float], ...]  # codes and how long each lasts
    fixed: tuple[int, ...]  # openings of H1 that suit a controller that does not learn
    verdict: halls.CodeVerdict | None  # of the codes that were read
    smeared_w: float  # where the seats are ground

    @property
    def worst_deg(self) -> float:
        return max((abs(one) for one in self.errors_deg), default=0.0)


def seats(openings: tuple[int, ...]) -> str:
    """Openings as a hand finds them: an opening is named by the tooth before it, counted from 1."""
    return "after teeth " + "-".join(str(one + 1) for one in openings)


def sensors(found: Pattern, told: HallPlan, connection: Connection, hz: float, stack_m: float) -> Sensors | None:
    """None where no openings are exact and none are told."""
    spacing = told.spacing or 120
    exact = halls.openings(found.slots, found.poles, 120), halls.openings(found.slots, found.poles, 60)
    where = told.openings if len(told.openings) == 3 else exact[0 if spacing == 120 else 1]
    if where is None:
        return None
    if any(one >= found.slots for one in where):
        raise InputError("variant.winding.halls.openings", ", ".join(map(str, where)), f"0 to {found.slots - 1}")
    pitch = 360.0 / found.slots
    offsets = told.offsets if len(told.offsets) == 3 else (0.0, 0.0, 0.0)
    places = tuple(one + off / pitch for one, off in zip(where, offsets, strict=True))
    wanted = SHIFT_DEG if connection is Connection.WYE else 0.0
    aligned = [abs(abs(halls.opening_deg(found, k)) - wanted) for k in range(found.slots)]
    least = min(aligned)
    read = halls.parse_codes(told.codes) if told.codes.strip() else ()
    step = (places[1] - places[0]) * pitch % 360.0
    return Sensors(
        spacing=spacing,
        places=places,
        openings=where,
        told=len(told.openings) == 3,
        exact=exact,
        neighbour_deg=min(step, 360.0 - step),
        spacings_deg=halls.spacings_deg(found.poles, spacing),
        errors_deg=halls.errors_deg(found, places, spacing),
        aligned_deg=abs(abs(halls.opening_deg(found, places[0])) - wanted),
        ring=halls.ring(found, places),
        fixed=tuple(k for k, off in enumerate(aligned) if off < least + 0.01),
        verdict=halls.judge(read, spacing) if read else None,
        smeared_w=halls.smeared_w(hz, SEAT_M, stack_m) if told.seat == "ground" else 0.0,
    )
