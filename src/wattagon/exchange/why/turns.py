"""Which findings may turn within what is known, and which one field alone would turn each: from the derivatives of their margins,
and then by the studies themselves with that field as it would be."""

from __future__ import annotations

from dataclasses import replace

from wattagon.design.catalogue import Catalogue
from wattagon.design.dimensions import DIMENSIONS
from wattagon.design.paths import get, put
from wattagon.design.quantity import Quantity
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.exchange.units import say as said_in
from wattagon.exchange.why.answers import Numbers, gather
from wattagon.study.bands.errors import MOST_WIDTHS
from wattagon.study.bands.taking import name_of, taking
from wattagon.study.bands.turn import Turn
from wattagon.study.drive.cases import strongest
from wattagon.study.drive.study import study_drive
from wattagon.study.findings.all import judged
from wattagon.study.findings.rule import Case
from wattagon.study.say import Say

HEAD, TAIL = "check.", ".margin"
ROUNDS, NEAR = 6, 1e-3


def turns(design: Design, stock: Catalogue, say: Say = said_in) -> list[Turn]:
    """Of all findings but those on goals, of which `bands` tells.  Raises InputError and PathError as the studies do."""
    found = gather(design, stock, ("check",), say)
    codes = [name[len(HEAD) : -len(TAIL)] for name in found.results if name.startswith(HEAD) and name.endswith(TAIL)]
    made = (_turn(found, code, say) for code in codes if not code.startswith("goal."))
    return [one for one in made if one is not None]


def _turn(found: Numbers, code: str, say: Say) -> Turn | None:
    name = f"{HEAD}{code}{TAIL}"
    turned = found.turned(name)
    if turned is None:
        return None
    (path, value), spread = turned, found.spread(name)
    exact = _settable(found, path)
    if exact:
        settled = _settled(found, code, path, value, spread.value, say)
        if settled is None:
            return None
        value = settled
    said = found.said(path)
    known = said.dimension != "number" and not said.unit
    return Turn(
        code=code,
        margin=spread.value,
        low=spread.low,
        high=spread.high,
        path=path,
        name=name_of(path) if taking(path) is not None else said.name,
        value=value * said.si if known else value,
        dimension=said.dimension if known else "",
        unit=DIMENSIONS[said.dimension].si if known else said.unit,
        exact=exact,
    )


def _settable(found: Numbers, path: str) -> bool:
    return path in found.fields and isinstance(get(found.design, path), Quantity)


def _settled(found: Numbers, code: str, path: str, guess: float, now: float, say: Say) -> float | None:
    """Where the finding really turns, by the studies themselves, from where the straight line has it; None where that is too far off."""
    told, wide = get(found.design, path), found.wide(path)
    assert isinstance(told, Quantity) and wide is not None
    before, at = (told.value, now), guess
    for _ in range(ROUNDS):
        try:
            design = strongest(put(found.design, path, replace(told, value=at)))
            one = judged(Case(design, found.stock, study_drive(design, found.stock), say), code)
        except InputError:
            return None
        if one is None or one.margin is None:
            return None
        if abs(one.margin) <= NEAR:
            return at
        if one.margin == before[1]:
            return None
        before, at = (at, one.margin), at - one.margin * (at - before[0]) / (one.margin - before[1])
        if abs(at - told.value) > MOST_WIDTHS * wide.width:
            return None
    return None
