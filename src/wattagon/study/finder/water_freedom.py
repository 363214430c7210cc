"""What stock offers in each place of a found boat's drive, one place changed at a time."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeAlias

from wattagon.design.catalogue import Catalogue
from wattagon.design.parts import CellPart
from wattagon.design.tree import Design
from wattagon.study.finder import columns as col
from wattagon.study.finder.hits import Hit, stages_words
from wattagon.study.finder.space import LEVELS, Row
from wattagon.study.finder.water_search import WaterRun, failing_afloat, judged_afloat
from wattagon.study.finder.water_space import WaterSpace, make_water_space, water_variant
from wattagon.study.finder.wishes import Wishes

Offers: TypeAlias = "list[tuple[str, list[tuple[str, Row]]]]"
RATINGS = 1000  # what the compiled search says of a rating that is passed


def offers_afloat(
    design: Design, stock: Catalogue, wishes: Wishes, hit: Hit, cancelled: Callable[[], bool]
) -> tuple[Offers, dict[Row, tuple[str, ...]]]:
    """(place, its steps as (label, row)) in the order of the drive, and what each row fails; rows that pass a rating are not judged."""
    from wattagon.study.finder.water_kernel import missed

    space = make_water_space(design, stock, wishes)
    run = WaterRun(space, stock, cancelled, lambda _share: None)
    offers = _offers(space, hit.row, stock)
    rows = list(dict.fromkeys(row for _, steps in offers for _, row in steps))
    rated = lambda row: int(missed(run.tables, run.wishes, (*row[:5], LEVELS[row[5]], row[6]), -1)) != RATINGS
    judged = judged_afloat(space, stock, [row for row in rows if rated(row)], cancelled)
    return offers, {one.row: tuple(failing_afloat(space, stock, one)) for one in judged}


def _offers(space: WaterSpace, row: Row, stock: Catalogue) -> Offers:
    n, motor, gearing, screw, controller, level, pack = row

    def put(**new: int) -> Row:
        now = {"n": n, "motor": motor, "gearing": gearing, "screw": screw, "controller": controller, "level": level, "pack": pack}
        return tuple((now | new).values())

    parts, screws, choices = space.motor_parts, space.propellers, space.pack_choices
    size = lambda k: (parts[k].can_mm ** 2 * parts[k].length_mm, parts[k].kv_rpm_per_v)
    bulk = lambda k: (screws[k].diameter_m, screws[k].pitch_m, screws[k].blades)
    family = [k for k, part in enumerate(parts) if part.family == parts[motor].family]
    made: Offers = [
        ("Motor", [(parts[k].name, put(motor=k)) for k in sorted(family, key=size)]),
        ("Drives", [(f"{count}", put(n=k)) for k, count in enumerate(space.counts)]),
        ("Propeller", [(screws[k].name, put(screw=k)) for k in sorted(range(len(screws)), key=bulk)]),
    ]
    ways = range(len(space.gearings[n]))
    made.append(("Reduction", [(stages_words(water_variant(space, put(gearing=g))), put(gearing=g)) for g in ways]))
    now = choices[pack]
    at = {(choice.part, choice.series, choice.parallel): k for k, choice in enumerate(choices)}
    series = sorted(s for part, s, p in at if part == now.part and p == now.parallel)
    parallel = sorted(p for part, s, p in at if part == now.part and s == now.series)
    made.append(("In series", [(f"{s}S", put(pack=at[now.part, s, now.parallel])) for s in series]))
    made.append(("In parallel", [(f"{p}P", put(pack=at[now.part, now.series, p])) for p in parallel]))
    same = {part for part, s, p in at if (s, p) == (now.series, now.parallel)}
    cells = sorted(same, key=lambda part: stock.get(CellPart, part).capacity_ah)
    made.append(("Cell", [(stock.get(CellPart, part).name, put(pack=at[part, now.series, now.parallel])) for part in cells]))
    strength = lambda k: (space.controllers[k, col.C_VOLTS], space.controllers[k, col.C_BURST])
    boxes = sorted(range(len(space.controller_parts)), key=strength)
    made.append(("Controller", [(space.controller_parts[k].name, put(controller=k)) for k in boxes]))
    return [(name, steps) for name, steps in made if len(steps) > 1]
