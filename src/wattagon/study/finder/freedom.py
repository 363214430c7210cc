"""How much freedom a found drive leaves: which other stock parts in each place keep every goal, one place changed at a time."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart, WheelPart
from wattagon.design.tree import Design
from wattagon.record import record
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import Hit, failing, judged_hits, passes_ratings
from wattagon.study.finder.space import Row, Space, make_space
from wattagon.study.finder.wishes import Wishes


@record(frozen=True, slots=True, kw_only=True)
class Step:
    """One part or number in a place: whether every goal and rating is kept with it."""

    label: str
    keeps: bool
    present: bool
    fails: tuple[str, ...] = ()  # ids of the constraints that fail; "ratings" for a rating


@record(frozen=True, slots=True, kw_only=True)
class Offer:
    """One part of the drive with what stock offers for it, in order."""

    name: str
    steps: tuple[Step, ...]

    @property
    def others(self) -> int:
        """How many other steps keep everything."""
        return sum(step.keeps and not step.present for step in self.steps)


RATINGS = "ratings"


def freedom_of(
    design: Design, stock: Catalogue, wishes: Wishes, hit: Hit, cancelled: Callable[[], bool] = lambda: False
) -> tuple[Offer, ...]:
    """Every place of a hit of a search for a design with these wishes; empty where it was cancelled."""
    if design.vehicle.kind.floats:
        from wattagon.study.finder.water_freedom import offers_afloat

        offers, judged = offers_afloat(design, stock, wishes, hit, cancelled)
    else:
        space = make_space(design, stock, wishes)
        offers = _offers(space, hit.row, stock)
        wanted = [row for _, steps in offers for _, row in steps if passes_ratings(space, stock, row)]
        judged = {one.row: tuple(failing(space, one)) for one in judged_hits(space, stock, list(dict.fromkeys(wanted)), cancelled)}
    if cancelled():
        return ()
    places = []
    for name, steps in offers:
        made = []
        for label, row in steps:
            fails = judged.get(row, (RATINGS,))
            made.append(Step(label=label, keeps=not fails, present=row == hit.row, fails=fails))
        places.append(Offer(name=name, steps=tuple(made)))
    return tuple(places)


def _offers(space: Space, row: Row, stock: Catalogue) -> list[tuple[str, list[tuple[str, Row]]]]:
    """(place, its steps as (label, row)) in the order of the drive; a place with nothing to choose is left out."""
    motor, wheel, count, controller, level, pack, first, second = row[:8]
    put: Callable[..., Row] = lambda **new: (
        new.get("motor", motor),
        new.get("wheel", wheel),
        new.get("count", count),
        new.get("controller", controller),
        level,
        new.get("pack", pack),
        new.get("first", first),
        new.get("second", second),
        *row[8:],
    )
    made: list[tuple[str, list[tuple[str, Row]]]] = []
    parts, choices = space.motor_parts, space.pack_choices
    size = lambda k: (parts[k].can_mm ** 2 * parts[k].length_mm, parts[k].kv_rpm_per_v)
    family = [k for k, part in enumerate(parts) if part.family == parts[motor].family]
    made.append(("Motor", [(parts[k].name, put(motor=k)) for k in sorted(family, key=size)]))
    made.append(("Motors", [(f"{n}", put(count=n)) for n in space.counts]))
    for place, index, name in ((6, first, "first" if second >= 0 else ""), (7, second, "second")):
        if index >= 0:
            made += _teeth(space, index, name, partial(_with_stage, row, place))
    now = choices[pack]
    at = {(choice.part, choice.series, choice.parallel): k for k, choice in enumerate(choices)}
    series = sorted(s for part, s, p in at if part == now.part and p == now.parallel)
    parallel = sorted(p for part, s, p in at if part == now.part and s == now.series)
    made.append(("In series", [(f"{s}S", put(pack=at[now.part, s, now.parallel])) for s in series]))
    made.append(("In parallel", [(f"{p}P", put(pack=at[now.part, now.series, p])) for p in parallel]))
    cells = sorted(
        {part for part, s, p in at if (s, p) == (now.series, now.parallel)}, key=lambda part: stock.get(CellPart, part).capacity_ah
    )
    made.append(("Cell", [(stock.get(CellPart, part).name, put(pack=at[part, now.series, now.parallel])) for part in cells]))
    strength = lambda k: (space.controllers[k, col.C_VOLTS], space.controllers[k, col.C_BURST])
    boxes = sorted(range(len(space.controller_parts)), key=strength)
    made.append(("Controller", [(space.controller_parts[k].name, put(controller=k)) for k in boxes]))
    wheels = [(stock.get(WheelPart, w.part).name if w is not None else "as measured", put(wheel=k)) for k, w in enumerate(space.wheels)]
    made.append(("Wheel", wheels))
    return [(name, steps) for name, steps in made if len(steps) > 1]


def _with_stage(row: Row, place: int, k: int) -> Row:
    return (*row[:place], k, *row[place + 1 :])


def _teeth(space: Space, index: int, which: str, put: Callable[[int], Row]) -> list[tuple[str, list[tuple[str, Row]]]]:
    """Driver, driven and width of one stage."""
    now, every = space.stages.choices[index], list(enumerate(space.stages.choices))
    same = lambda *names: [k for k, choice in every if all(getattr(choice, name) == getattr(now, name) for name in names)]

    def steps(over: str, fixed: Sequence[str], unit: str) -> list[tuple[str, Row]]:
        found = sorted(same("profile", *fixed), key=lambda k: getattr(space.stages.choices[k], over))
        return [(f"{getattr(space.stages.choices[k], over):g}{unit}", put(k)) for k in found]

    noun = {"belt": "pulley", "chain": "sprocket"}[now.kind.value]
    name = (lambda role: f"{which.capitalize()} {now.kind.value}, {role}") if which else (lambda role: f"{role.capitalize()} {noun}")
    made = [
        (name("driver"), steps("driver_teeth", ("driven_teeth", "width_mm"), " teeth")),
        (name("driven"), steps("driven_teeth", ("driver_teeth", "width_mm"), " teeth")),
    ]
    if now.width_mm is not None:
        made.append((f"{which} belt width".strip().capitalize(), steps("width_mm", ("driver_teeth", "driven_teeth"), " mm")))
    return made
