"""The schools of drive for one brief: the cheapest of each that the finder has, with what it asks of its maker, beside a ready-made one.

Care and wear are typical figures of workshops, not of this design: minutes and intervals below, marked as assumed wherever they show.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import NamedTuple

from wattagon.design.catalogue import Catalogue
from wattagon.design.kinds import KINDS
from wattagon.design.tree import Design, ReductionKind, Variant
from wattagon.errors import InputError, WattagonError
from wattagon.record import record
from wattagon.study.build.gathered import gather, unbuilt
from wattagon.study.build.step import TOOLS, Does, has
from wattagon.study.build.study import base_of
from wattagon.study.compare.compare import Side
from wattagon.study.drive.study import study_drive
from wattagon.study.finder.hits import Hit
from wattagon.study.finder.search import Found, find_cheapest
from wattagon.study.finder.wishes import Wishes
from wattagon.study.finder.words import missed_words
from wattagon.study.findings.all import find
from wattagon.study.say import Say


class School(NamedTuple):
    """One way to drive: what the finder is asked for, its care [min each so many km], what wears [km], and what is hard in the wet."""

    code: str
    name: str
    schools: tuple[str, ...]
    counts: tuple[int, ...]
    care_min: float
    care_km: float
    wear_km: float
    wet: str


# care and wear are typical and assumed
SCHOOLS: tuple[School, ...] = (
    School("direct", "hub", ("direct",), (1,), 10.0, 1000.0, math.inf, "water at its cable and sensors; nothing to slip or to oil"),
    School("belt", "one belt", ("belt",), (1,), 10.0, 300.0, 6000.0, "grit cuts it and a stone lifts it off: a guard and a kick plate"),
    School("two", "two stages", ("belt", "chain", "two"), (2,), 20.0, 300.0, 5000.0, "as its stages, and a jackshaft's bearings"),
    School("chain", "chain", ("chain",), (1,), 15.0, 150.0, 3000.0, "oil washes out: oiled after each wet ride, dirty it loses 4 % more"),
    School("middle", "middle drive", ("middle",), (), 15.0, 200.0, 2000.0, "the bike's own chain and cogs wear faster by the motor's pull"),
)
NOTHING = "nothing in stock meets the goals this way"
ROLLER = School("roller", "roller", (), (), 5.0, 200.0, 3000.0, "grip falls to a third: it slips where a dry one holds")


@record(frozen=True, slots=True, kw_only=True)
class Schooled:
    """One school: its drive with what it asks, or why there is none."""

    school: School
    side: Side | None = None
    why_not: str = ""
    misses: str = ""  # the goal that the nearest one misses, where none meets all
    money: float = math.nan
    mass_kg: float = math.nan
    forward_m: float = math.nan  # of what is added, ahead of the driven axle
    height_m: float = math.nan
    unsprung_kg: float = math.nan  # of what is added, on the driven axle
    hours: tuple[float, float, float] = (math.nan, math.nan, math.nan)
    tools: tuple[str, ...] = ()  # that are needed
    lacking: tuple[str, ...] = ()  # of them, those that the workshop does not have
    care_h: float = math.nan  # in 1000 km
    wear: float = math.nan  # money in 1000 km


def schools(
    design: Design,
    stock: Catalogue,
    say: Say,
    *,
    cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] = lambda _share: None,
) -> tuple[Schooled, ...]:
    """One after the other; those that the finder does not search say so.  Empty when it was given up.

    Raises InputError for a boat, whose propeller turns with its motor or through one belt.
    """
    if design.vehicle.kind.floats:
        raise InputError("vehicle.kind", design.vehicle.kind.value, "a vehicle on wheels; of a boat compare variants")
    made: list[Schooled] = []
    for k, school in enumerate(SCHOOLS):
        if cancelled():
            return ()
        made.append(_searched(design, stock, say, school, cancelled))
        progress((k + 1) / (len(SCHOOLS) + 1))
    made.append(_roller(design, stock, say))
    progress(1.0)
    return tuple(made)


def _searched(design: Design, stock: Catalogue, say: Say, school: School, cancelled: Callable[[], bool]) -> Schooled:
    if school.code == "middle" and not KINDS[design.vehicle.kind].pedals:
        return Schooled(school=school, why_not="only a vehicle with pedals has gears to go through")
    wishes = Wishes(schools=school.schools)
    try:
        found = find_cheapest(design, stock, wishes=wishes, counts=school.counts or (1, 2), cancelled=cancelled)
    except WattagonError as refusal:
        return Schooled(school=school, why_not=str(refusal))
    hit = found.hits[0] if found.hits else _nearest(found)
    if hit is None:
        if found.no_middle is not None and school.code == "middle":
            return Schooled(school=school, why_not=found.no_middle(say))
        none = f"there are no {' and no '.join(found.nothing_of)} in stock" if found.nothing_of else NOTHING
        return Schooled(school=school, why_not=none)
    misses = "" if found.hits else ": ".join(missed_words(design, found, hit, say))
    return judged(design, stock, say, school, hit.variant, misses)


def _nearest(found: Found) -> Hit | None:
    return min(found.near_misses, key=lambda hit: hit.cost, default=None)


def _roller(design: Design, stock: Catalogue, say: Say) -> Schooled:
    """The finder does not search rollers: the design's own variant with one, if it has one."""
    own = next((one for one in design.variants if any(stage.kind is ReductionKind.FRICTION for stage in one.stages)), None)
    if own is None:
        return Schooled(school=ROLLER, why_not="the finder does not search rollers: set one in a variant of your own, and it stands here")
    try:
        return judged(design, stock, say, ROLLER, own, "")
    except WattagonError as refusal:
        return Schooled(school=ROLLER, why_not=str(refusal))


def judged(design: Design, stock: Catalogue, say: Say, school: School, variant: Variant, misses: str) -> Schooled:
    """A variant with what it costs, weighs, and asks of its maker.  Raises as the studies do."""
    tried = replace(design, variants=(replace(variant, id=variant.id or "A"),), active=variant.id or "A")
    tried = unbuilt(tried)
    drive = study_drive(tried, stock)
    gathered = gather(tried, stock, say, drive)
    base = base_of(gathered)
    hands = [step for step in base.steps if step.does is not Does.WAIT and step.does is not Does.PRINTER]
    tools = tuple(dict.fromkeys(step.tool for step in base.steps if step.tool and step.tool in TOOLS))
    on_axle = [row for row in base.rows if row.kind in ("driven", "hub", "wheel") or (row.kind == "motor" and not variant.stages)]
    worn = sum(row.price * row.count for row in base.rows if row.kind in ("loop", "driven", "pulley"))
    added = base.mass.added
    return Schooled(
        school=school,
        side=Side(code=school.code, name=school.name, design=tried, study=drive, findings=tuple(find(tried, stock, drive, say))),
        misses=misses,
        money=drive.resolved.cost,
        mass_kg=drive.resolved.drive_mass_kg,
        forward_m=added.x if added is not None else math.nan,
        height_m=added.z if added is not None else math.nan,
        unsprung_kg=sum(row.mass_all_kg for row in on_axle),
        hours=tuple(sum(step.hours[k] for step in hands) for k in range(3)),  # type: ignore[arg-type]
        tools=tuple(TOOLS[tool].words for tool in tools),
        lacking=tuple(TOOLS[tool].words for tool in tools if has(design.brief.workshop, tool) is False),
        care_h=school.care_min / 60.0 * 1000.0 / school.care_km,
        wear=worn * 1000.0 / school.wear_km,
    )
