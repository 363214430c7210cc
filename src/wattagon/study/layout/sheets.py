"""The parts that a design needs cut or printed, and each of them as it is to be made."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Iterator
from dataclasses import replace

from wattagon.errors import InputError
from wattagon.physics.outline import Arc
from wattagon.study.layout.cut.card import with_card
from wattagon.study.layout.cut.offset import compensated, offset
from wattagon.study.layout.cut.plates import guard, hub_adapter, plate, spacer, template
from wattagon.study.layout.cut.sheet import Options, Sheet
from wattagon.study.layout.cut.split import lies, split
from wattagon.study.layout.cut.wheels import coupon, flange, toothed
from wattagon.study.layout.study import LayoutStudy


def sheets(found: LayoutStudy, options: Options | None = None) -> list[Sheet]:
    """All parts of a layout, as they are to be cut; what cannot be made so is left out, its sentence in `refused`."""
    return [made for _, made in _all(found, options or Options()) if isinstance(made, Sheet)]


def refused(found: LayoutStudy, options: Options | None = None) -> list[tuple[str, str]]:
    """(id, why) of parts that cannot be made."""
    return [(code, made) for code, made in _all(found, options or Options()) if isinstance(made, str)]


def sheet(found: LayoutStudy, part: str, options: Options | None = None) -> Sheet:
    """One part, a split one also whole by the id that it would have.  Raises InputError naming those that there are."""
    for whole in (False, True):
        for code, made in _all(found, options or Options(), whole=whole):
            if code == part:
                if isinstance(made, str):
                    raise InputError("part", part, made)
                return made
    raise InputError("part", part, ", ".join(code for code, _ in _all(found, options or Options())) or "none: this drive needs no part cut")


def _of_the_workshop(found: LayoutStudy, options: Options) -> Options:
    """What a fit coupon told of the printer, where nothing else was asked for."""
    printer = found.design.brief.workshop.printer
    if printer is None:
        return options
    loose = 1e3 * printer.loose if options.loose_mm is None and printer.loose is not None else options.loose_mm
    by = 1e3 * printer.holes_by if options.holes_by_mm is None and printer.holes_by is not None else options.holes_by_mm
    return replace(options, loose_mm=loose, holes_by_mm=by)


def _machines(found: LayoutStudy, made: Sheet) -> Sheet:
    """Notes on the field and the cutter that the workshop has."""
    mill, notes = found.design.brief.workshop.mill, list(made.notes)
    if made.made == "mill" and mill is not None:
        points = [point for piece in made.outer for point in (*piece.points(0.1), piece.end)]
        wide = max(x for x, _ in points) - min(x for x, _ in points)
        tall = max(y for _, y in points) - min(y for _, y in points)
        if not lies(wide, tall, 1e3 * mill.field_x, 1e3 * mill.field_y):
            notes.append(f"{wide:.0f} x {tall:.0f} mm: larger than the mill's field.")
        inside = min((piece.radius for hole in made.holes for piece in hole if isinstance(piece, Arc)), default=math.inf)
        if 2.0 * inside < 1e3 * mill.cutter:
            notes.append(f"Its narrowest hole, {2.0 * inside:.1f} mm, is less than the smallest cutter, {1e3 * mill.cutter:.1f} mm.")
    return replace(made, notes=tuple(notes))


def _jobs(found: LayoutStudy, options: Options) -> Iterator[tuple[str, int, Callable[[], Sheet]]]:
    """(id, how many, how it is made) of every part."""
    motors = found.scene.motors
    for one in found.stages:
        many = f"-{one.position + 1}" if len(found.stages) > 1 else ""
        noun = "pulley" if one.made.kind is not None else "sprocket"
        sets = 1 if one.made.choice.shared else motors
        for role in ("driver", "driven"):
            code = f"{noun}{many}-{role}"
            yield code, sets, functools.partial(toothed, found, one, role, code, options)
            if one.made.kind is not None and role == "driver":
                yield f"{code}-flange", 2 * sets, functools.partial(flange, found, one, role, code, options)
        yield f"guard{many}", sets, functools.partial(guard, found, one, f"guard{many}", options)
    if found.stages and found.scene.can_stands:
        yield "motor-plate", motors, functools.partial(plate, found, options)
        yield "spacer", motors, functools.partial(spacer, found, options)
        yield "hub-adapter", motors, functools.partial(hub_adapter, found, options)
        yield "drill-template", 1, functools.partial(template, found, options)
        if any(one.made.kind is not None for one in found.stages):
            yield "fit-coupon", 1, functools.partial(coupon, found, options)


def _all(found: LayoutStudy, options: Options, *, whole: bool = False) -> list[tuple[str, Sheet | str]]:
    options, printer = _of_the_workshop(found, options), found.design.brief.workshop.printer
    materials = printer.materials if printer is not None else ()
    made: list[tuple[str, Sheet | str]] = []
    for code, count, job in _jobs(found, options):
        try:
            one = compensated(with_card(_machines(found, job()), options, materials, count), options)
            bed = (1e3 * printer.bed_x, 1e3 * printer.bed_y) if printer is not None else None
            pieces = split(one, *bed) if bed is not None and one.made == "print" and not whole else [one]
            made += [(piece.id, piece) for piece in pieces]
        except InputError as refusal:
            made.append((code, f"it cannot be made: {refusal}"))
    return made


__all__ = ["Options", "Sheet", "offset", "refused", "sheet", "sheets"]
