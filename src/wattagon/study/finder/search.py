"""What is searched for and what a search came to: every drive of a stock for a brief, or only the cheapest."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import field, replace
from typing import TYPE_CHECKING

import numpy as np

from wattagon.design.catalogue import Catalogue
from wattagon.design.tree import Design
from wattagon.errors import InputError
from wattagon.record import record
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import OBJECTIVES, Hit, bears_all, clusters, failing, judged_hits, rank
from wattagon.study.finder.space import Row, Space, make_space
from wattagon.study.finder.wishes import Wishes, check_wishes
from wattagon.study.resolve import Resolved, resolve
from wattagon.study.say import Say

if TYPE_CHECKING:
    pass
from wattagon.study.finder.passes import Search

MOST_GOALS = 12
DEFAULT = ("cost", "mass", "margin")
LEFT_OUT = (  # told with every result
    "rollers, gears and planetary gears",
    "three stages",
    "twin packs",
    "of middle drives others than the cheapest and the lightest of each motor and cell",
    "load cases but the heaviest, except to judge",
)


@record(frozen=True, slots=True, kw_only=True)
class Found:
    """What a search came to."""

    searched: int  # combinations, all of them
    judged: int  # of them not ruled out by a bound, one by one
    feasible: int  # about, from a sample: so many meet every goal and rating
    feasible_error: int  # standard error of that
    seconds: float
    hits: tuple[Hit, ...]  # non-dominated first
    front: int  # how many of them are non-dominated in the objectives
    rows: tuple[tuple[int, ...], ...]  # positions of near-equal hits, the best first
    shelf_best: Hit | None = None  # the lightest that needs nothing bought; None where the shelf alone does not do
    near_misses: tuple[Hit, ...]  # for each constraint the cheapest that fails it alone, if cheaper than every hit
    removed_by: dict[str, int]  # constraint: about how many fail it alone, from the same sample
    cancelled: bool = False
    done: bool = True  # False while it still goes on
    left_out: tuple[str, ...] = LEFT_OUT
    # why no drive through the bike's own gears is among the hits; None where some are, or none was asked for
    no_middle: Callable[[Say], str] | None = field(default=None, compare=False)
    nothing_of: tuple[str, ...] = ()  # kinds of part of which there is none to choose from
    design: Design | None = None  # what was searched for
    wishes: Wishes = Wishes()


def nothing_yet(
    design: Design, wishes: Wishes, *, searched: int = 0, nothing_of: tuple[str, ...] = (), left_out: tuple[str, ...] = LEFT_OUT
) -> Found:
    """Of a search that has found nothing so far."""
    return Found(
        searched=searched,
        judged=0,
        feasible=0,
        feasible_error=0,
        seconds=0.0,
        hits=(),
        front=0,
        rows=(),
        near_misses=(),
        removed_by={},
        left_out=left_out,
        nothing_of=nothing_of,
        design=design,
        wishes=wishes,
    )


def find_drives(
    design: Design,
    stock: Catalogue,
    *,
    wishes: Wishes | None = None,
    objectives: Sequence[str] = DEFAULT,
    limit: int = 40,
    cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] = lambda _share: None,
    so_far: Callable[[Found], None] | None = None,
    workers: int | None = None,
    space: Space | None = None,
) -> Found:
    """Search every combination of stock for the brief of a design.  Raises InputError or PathError for what cannot be searched.

    No, one or two stages, motors up to the wheels of the axle, all cells and bricks, three current levels under the lowest rating.
    `space` is that of just this design and wishes, if it was made before.
    The first two objectives are the axes of the front; `limit` rows of near-equal hits are kept.  `so_far` is called from this thread
    with what has been found.  Cancelling ends it within a fraction of a second with what was found so far.
    """
    begin = time.perf_counter()
    wishes = wishes or Wishes()
    for objective in objectives:
        if objective not in OBJECTIVES:
            raise InputError("objective", objective, ", ".join(OBJECTIVES))
    check_wishes(wishes, stock)
    if len(design.brief.goals) > MOST_GOALS:
        raise InputError("goals", len(design.brief.goals), f"up to {MOST_GOALS} for a search")
    design = without_shelf(design, wishes)
    if design.vehicle.kind.floats:
        from wattagon.study.finder.water_search import find_afloat

        return find_afloat(design, stock, wishes, objectives, limit, cancelled, progress, so_far)
    if space is None:
        space = make_space(design, stock, wishes)
    blank = nothing_yet(space.design, space.wishes, nothing_of=nothing_of(space))
    if blank.nothing_of:
        return replace(blank, seconds=time.perf_counter() - begin)
    run = Search(space, stock, cancelled=cancelled, progress=progress, workers=workers)

    known: dict[Row, Hit] = {}  # what was shown while it ran is not judged again

    def good(rows: Sequence[Row]) -> list[Hit]:
        fresh = judged_hits(space, stock, [row for row in rows if row not in known], cancelled)
        known.update((hit.row, hit) for hit in fresh)
        made = [known[row] for row in rows if row in known and not failing(space, known[row])]
        return [hit for hit in made if hit.cost <= 1e-9] if wishes.shelf == "only" else made

    def told(hits: Sequence[Hit], *, done: bool) -> Found:
        best, front = rank(list({hit.row: hit for hit in hits}.values()), objectives)
        groups = clusters(best, stock)[:limit]
        keep = sorted({k for group in groups for k in group})
        place = {k: i for i, k in enumerate(keep)}
        return replace(
            blank,
            searched=space.size,
            judged=run.judged,
            seconds=time.perf_counter() - begin,
            hits=tuple(best[k] for k in keep),
            front=sum(k < front for k in keep),
            rows=tuple(tuple(place[k] for k in group) for group in groups),
            cancelled=cancelled(),
            done=done,
        )

    early: list[Hit] = []

    def soon(rows: Sequence[Row]) -> None:
        if so_far is not None and rows:
            early.extend(good(rows))
            so_far(told(early, done=False))

    if so_far is not None:  # the cheapest of one stage is found at once
        row = run.best(run.tables, 0, stages=(1,)) if space.stages.wheel else None
        soon([row] if row is not None else [])
    hits = good(run.clusters(soon)) if space.stages.wheel else []
    through, no_middle = through_gears(run, good)
    hits += through
    if so_far is not None and hits:
        so_far(told(hits, done=False))
    for first, second in axes_of(objectives) if space.stages.wheel else ():
        hits += [hit for hit in run.front(hits, first, second) if not failing(space, hit)]
    near = run.near(min((hit.cost for hit in hits), default=math.inf)) if space.stages.wheel else []
    shelf = run.shelf_only() if space.stages.wheel else [hit for hit in hits if hit.cost <= 1e-9]
    shares = run.count() if space.stages.wheel else None
    hits, kept_from = list({hit.row: hit for hit in (*hits, *shelf)}.values()), dict[str, Hit]()
    sound = set[Row]()  # those that can be built; only what is shown is asked, what falls out makes room for the next
    for _ in range(ROUNDS):
        fresh = [hit for hit in told(hits, done=True).hits if hit.row not in sound]
        if not fresh or cancelled():
            break
        built, kept = built_first(run, good, fresh, cancelled)
        for hit in kept:
            old = kept_from.get(hit.fails)
            kept_from[hit.fails] = hit if old is None or hit.cost < old.cost else old
        sound.update(hit.row for hit in built)
        asked = {hit.row for hit in fresh}
        hits = [*(hit for hit in hits if hit.row not in asked), *built]
    hits = [hit for hit in hits if hit.row in sound]  # what nobody asked is not offered
    shelf = [hit for hit in shelf if hit.row in sound]
    found = told(hits, done=True)
    least = min((hit.cost for hit in hits), default=math.inf)
    return replace(
        found,
        shelf_best=shelf[0] if shelf else None,
        near_misses=(*near, *(hit for hit in kept_from.values() if hit.cost < least)),
        feasible=round(shares.feasible) if shares is not None else len(hits),
        feasible_error=round(shares.error) if shares is not None else 0,
        seconds=time.perf_counter() - begin,
        removed_by={name: round(float(shares.removed[k])) for k, name in enumerate(run.ids)} if shares is not None else {},
        judged=run.judged,
        no_middle=no_middle,
    )


LIKE, TRIED, ROUNDS = 0.15, 6, 3  # how far another ratio may be off, how many are tried; how often what falls out makes room


def built_first(
    run: Search, good: Callable[[Sequence[Row]], list[Hit]], hits: Sequence[Hit], cancelled: Callable[[], bool]
) -> tuple[list[Hit], list[Hit]]:
    """(hits that can be built; for each thing that keeps others from it the cheapest of those).

    In the place of one that its own pulleys keep from it stands the nearest in ratio that meets everything and can be built.
    """
    from wattagon.study.layout.buildable import hindrance

    space, seen = run.space, set[Row]()
    built: list[Hit] = []
    kept_from: dict[str, Hit] = {}

    def kept(hit: Hit) -> str:
        one = replace(space.design, variants=(hit.variant,), active=hit.variant.id)
        found = hindrance(one, resolve(one, run.stock), run.stock)
        if found is None:
            return ""
        old = kept_from.get(found.code)
        if old is None or hit.cost < old.cost:
            kept_from[found.code] = replace(hit, fails=found.code, by_m=found.by_m)
        return found.code

    for hit in hits:
        if cancelled() or hit.row in seen:
            continue
        seen.add(hit.row)
        code = kept(hit)
        if not code:
            built.append(hit)
        elif code != "build.cans" and hit.variant.gears is None and len(hit.row) == 8 and hit.row[6] >= 0:
            for other in good([row for row in _near_ratio(space, hit.row) if row not in seen]):
                seen.add(other.row)
                one = replace(space.design, variants=(other.variant,), active=other.variant.id)
                if _bears(space, resolve(one, run.stock)) and not kept(other):
                    built.append(other)
                    break
    return built, list(kept_from.values())


def _bears(space: Space, resolved: Resolved) -> bool:
    """Whether its belts and chains bear full motor amps for seconds, and for good what goals ask."""
    motor, room = resolved.train.motor, 1.0 - space.wishes.pull
    torque = float(motor.torque_constant_nm_per_a * motor.dc_per_motor_amp * resolved.train.controller.motor_current_a)
    return all(torque <= room * rating.peak_nm for rating in resolved.ratings) and bears_all(space, resolved)


def _near_ratio(space: Space, row: Row) -> list[Row]:
    """The same with other first stages, the nearest in ratio first."""
    ratios = space.stages.table[:, col.R_RATIO]
    off = np.abs(ratios / ratios[row[6]] - 1.0)
    near = [int(k) for k in np.argsort(off, kind="stable") if off[k] <= LIKE and k != row[6]]
    fits = [k for k in near if space.stages.fits[row[1], row[7] if row[7] >= 0 else k]]
    return [(*row[:6], k, row[7]) for k in fits[:TRIED]]


def through_gears(
    run: Search, good: Callable[[Sequence[Row]], list[Hit]], *, below: float = math.inf, lightest: bool = True
) -> tuple[list[Hit], Callable[[Say], str] | None]:
    """(the middle drives that meet everything, the cheapest and the lightest of every motor and cell; why there is none)."""
    from wattagon.study.finder.middle import middle_rows

    gears = run.space.gears
    if gears is None:
        return [], None
    rows, why = middle_rows(run, gears, below=below, lightest=lightest)
    hits, made = good(rows), []
    for hit in hits:
        one = replace(run.space.design, variants=(hit.variant,), active=hit.variant.id)
        if bears_all(run.space, resolve(one, run.stock)):
            made.append(hit)
    return made, why or (None if made else _found_wanting)


def _found_wanting(_say: Say) -> str:
    return "what meets the goals helps up to too low a cadence, or its belts and chains do not last"


def find_cheapest(
    design: Design,
    stock: Catalogue,
    *,
    wishes: Wishes | None = None,
    counts: tuple[int, ...] = (1, 2),
    cancelled: Callable[[], bool] = lambda: False,
    progress: Callable[[float], None] = lambda _share: None,
) -> Found:
    """Only the cheapest that meets everything, or where nothing does the near misses: a fifth of the work of `find_drives`.

    `counts`: of stages at the wheel; what one stage can do leaves little of two to be looked at.
    """
    begin = time.perf_counter()
    wishes = wishes or Wishes()
    if design.vehicle.kind.floats:
        from wattagon.study.finder.water_search import cheapest_afloat

        return cheapest_afloat(without_shelf(design, wishes), stock, wishes, cancelled, progress)
    space = make_space(design, stock, wishes)
    blank = nothing_yet(space.design, space.wishes, searched=space.size, nothing_of=nothing_of(space))
    if blank.nothing_of:
        return blank
    run = Search(space, stock, cancelled=cancelled, progress=progress)
    most = math.inf
    rows = []
    for k, count in enumerate(counts if space.stages.wheel else ()):
        row = run.best(run.tables, 0, below=most, stages=(count,))
        if row is not None:
            rows.append(row)
            most = judged_hits(space, stock, [row])[0].cost
        progress(0.8 * (k + 1) / len(counts))
    good = lambda rows: [hit for hit in judged_hits(space, stock, rows, cancelled) if not failing(space, hit)]
    hits = good(rows)
    # only what is cheaper still is worth looking for through the gears
    through, no_middle = through_gears(run, good, below=min((hit.cost for hit in hits), default=math.inf), lightest=False)
    hits = [*hits, *through]
    near = () if hits or not space.stages.wheel else tuple(run.near(math.inf))
    return replace(
        blank,
        judged=run.judged,
        hits=tuple(sorted(hits, key=lambda hit: hit.cost)[:1]),
        front=min(len(hits), 1),
        rows=((0,),) if hits else (),
        near_misses=near,
        seconds=time.perf_counter() - begin,
        cancelled=cancelled(),
        no_middle=no_middle,
    )


def without_shelf(design: Design, wishes: Wishes) -> Design:
    """The design as it is searched for: with an empty shelf where what is owned does not matter."""
    return design if wishes.shelf != "ignore" else replace(design, brief=replace(design.brief, shelf=()))


def nothing_of(space: Space) -> tuple[str, ...]:
    """Kinds of part of which there is none to choose from."""
    stages = len(space.stages.choices)
    hubs = bool((space.motors[:, col.M_HUB] > 0.0).any()) and space.stages.direct
    kinds = {
        "motors": len(space.motors),
        "controllers": len(space.controllers),
        "cells or packs": len(space.packs),
        "pulleys or sprockets": stages or hubs,
    }
    return tuple(name for name, many in kinds.items() if not many)


def axes_of(objectives: Sequence[str]) -> list[tuple[str, str]]:
    """(money or mass, other) of the fronts to be traced for the first two objectives."""
    pair = [name for name in objectives[:2] if name != "reused"]
    if set(pair) == {"cost", "mass"}:
        return [("cost", "mass")]
    first = "mass" if "mass" in pair and "cost" not in pair else "cost"
    return [(first, name) for name in pair if name != first]


def warm_up(stock: Catalogue) -> None:
    """Load the compiled search, or compile it where no cache of it is: a second, or about half a minute once on a machine."""
    from wattagon.design.template import new_design
    from wattagon.design.tree import Gears, VehicleKind

    design = new_design(VehicleKind.KART)
    space = make_space(design, stock, Wishes(schools=("belt", "two"), least_driver=24, most_driven=40))
    few = replace(
        space,
        motors=space.motors[:1],
        motor_parts=space.motor_parts[:1],
        controllers=space.controllers[:1],
        packs=space.packs[:1],
        pack_choices=space.pack_choices[:1],
        emf=space.emf[:1],
        range_emf=space.range_emf[:1],
    )
    run = Search(few, stock, workers=1)
    run.clusters()
    run.near(math.inf)
    run.count()
    # a middle drive of no goals: nothing is ruled out before its code is needed
    plain = replace(design, brief=replace(design.brief, goals=()))
    through_gears(Search(replace(few, design=plain, gears=Gears(), cadence=20.0), stock, workers=1), lambda _rows: [])
