"""What a search would look at, place by place of the drive, and what the limits take away: before anything is searched."""

from __future__ import annotations

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, ControllerPart, MotorPart
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.finder import columns as col
from wattagon.study.finder.space import LEVELS, Space, make_space, on_wheels, rated_cell, rated_controller, rated_motor
from wattagon.study.finder.wishes import Wishes


@record(frozen=True, slots=True, kw_only=True)
class Sieve:
    """One place of the drive: how many there are in stock, how many are left, and why the others are not."""

    name: str
    stock: int
    left: int
    why: str  # what was left out, or what stands in the place


@record(frozen=True, slots=True, kw_only=True)
class Outset:
    """All places, and how many drives they make."""

    places: tuple[Sieve, ...]
    combinations: int


def outset(design: Design, stock: Catalogue, wishes: Wishes, space: Space | None = None) -> Outset:
    """Counts of a search that has not begun; `space` if it was made before.  Raises InputError or PathError."""
    space = space or make_space(design, stock, wishes)
    motors = sum(on_wheels(part) and rated_motor(part) for part in stock.all(MotorPart))
    kinds = [
        (
            "Motors",
            len(stock.all(MotorPart)),
            motors,
            len(space.motors),
        ),
        ("Controllers", len(stock.all(ControllerPart)), sum(map(rated_controller, stock.all(ControllerPart))), len(space.controllers)),
        ("Cells and packs", len(stock.all(CellPart)), sum(map(rated_cell, stock.all(CellPart))), len(set(space.packs[:, col.P_CELL]))),
    ]
    places = [Sieve(name=name, stock=have, left=left, why=_why(have, rated, left)) for name, have, rated, left in kinds]
    places[2] = Sieve(
        name="Cells and packs",
        stock=places[2].stock,
        left=places[2].left,
        why="; ".join(filter(None, (f"in {len(space.packs):,} packs", places[2].why))),
    )
    stages, fits = len(space.stages.choices), int(space.stages.fits.any(axis=0).sum()) if len(space.stages.choices) else 0
    low = stages - fits
    ways = [words for words, on in (("none", space.stages.direct), ("one", fits > 0), ("two", space.stages.two and fits > 0)) if on]
    places.append(
        Sieve(
            name="Pulleys and sprockets",
            stock=stages,
            left=fits,
            why="; ".join(
                filter(
                    None,
                    (
                        " or ".join((", ".join(ways[:-1]), ways[-1])) if len(ways) > 1 else "".join(ways),
                        f"{low:,} near ground" if low else "",
                    ),
                )
            ),
        )
    )
    counts = " or ".join(str(count) for count in space.counts)
    per_drive = len(space.counts) * len(LEVELS)
    places.append(
        Sieve(name="Number and amps", stock=per_drive, left=per_drive, why=f"{counts} motors, each at {len(LEVELS)} current settings")
    )
    if len(space.wheels) > 1:
        places.append(Sieve(name="Wheels", stock=len(space.wheels), left=len(space.wheels), why="of the vehicle's family"))
    return Outset(places=tuple(places), combinations=space.size)


def _why(have: int, rated: int, left: int) -> str:
    bare, limited = have - rated, rated - left
    return "; ".join(filter(None, (f"{limited} by limits" if limited > 0 else "", f"{bare} without ratings" if bare else "")))
