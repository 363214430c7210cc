"""The parts that a design needs cut or printed: pulleys, sprockets, motor plate, drill template, spacer, fit coupon; outlines in mm."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable
from dataclasses import replace

from wattagon.errors import InputError
from wattagon.physics.outline import Arc, Line, Outline, Piece, area, bolt_circle, circle, moved, slot
from wattagon.physics.path import Round, loop_around
from wattagon.physics.teeth import GROOVES, pulley, spoke_window, sprocket
from wattagon.record import record
from wattagon.study.layout.stage import Running
from wattagon.study.layout.study import LayoutStudy

PRINT_LOOSE_MM, MILL_LOOSE_MM = 0.10, 0.03  # clearance a flank; typical
SMALL_BY_MM = 0.2  # by which printed holes come out small
BELT_ROOM_MM = 1.5  # beside a belt on its pulley
SCREW_MM = {3: 3.4, 4: 4.5, 5: 5.5, 6: 6.6}  # clearance holes
WALL_MM = 3.0
DENSITY = {"print": 1.25e-6, "mill": 2.7e-6, "steel": 7.85e-6, "paper": 0.0}  # kg/mm3


@record(frozen=True, slots=True, kw_only=True)
class Options:
    """How it is made."""

    kerf_mm: float = 0.0  # of the cutter: outlines move away from the material by half of it
    thickness_mm: float | None = None
    loose_mm: float | None = None  # of tooth flanks; None: as is usual for how it is made
    holes_by_mm: float | None = None  # added to the diameter of bores; None: as is usual
    shrink: float = 0.0  # of the print, made up for


@record(frozen=True, slots=True, kw_only=True)
class Sheet:
    """One part flat: its outline, holes, what is engraved, what it rests on."""

    id: str
    name: str
    made: str  # print, mill, steel, paper
    thickness_mm: float
    outer: Outline
    holes: tuple[Outline, ...]
    marks: tuple[Outline, ...] = ()  # engraved
    notes: tuple[str, ...] = ()
    figures: tuple[tuple[str, float], ...] = ()  # dimension and its mm, as they stand on the sheet

    @property
    def cut(self) -> tuple[Outline, ...]:
        """All that is cut, the outside first."""
        return (self.outer, *self.holes)

    @property
    def area_mm2(self) -> float:
        return sum(area(outline) for outline in self.cut)

    @property
    def mass_kg(self) -> float:
        return self.area_mm2 * self.thickness_mm * DENSITY[self.made]


def sheets(found: LayoutStudy, options: Options | None = None) -> list[Sheet]:
    """All parts of a layout, as they are to be cut; what cannot be made so is left out, its sentence in `refused`."""
    return [made for _, made in _all(found, options or Options()) if isinstance(made, Sheet)]


def refused(found: LayoutStudy, options: Options | None = None) -> list[tuple[str, str]]:
    """(id, why) of parts that cannot be made."""
    return [(code, made) for code, made in _all(found, options or Options()) if isinstance(made, str)]


def sheet(found: LayoutStudy, part: str, options: Options | None = None) -> Sheet:
    """One part.  Raises InputError naming those that there are."""
    for code, made in _all(found, options or Options()):
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
    """Notes on the bed and the cutter that the workshop has."""
    shop, notes = found.design.brief.workshop, list(made.notes)
    points = [point for piece in made.outer for point in (*piece.points(0.1), piece.end)]
    wide = max(x for x, _ in points) - min(x for x, _ in points)
    tall = max(y for _, y in points) - min(y for _, y in points)
    if made.made == "print" and shop.printer is not None and not _lies(wide, tall, 1e3 * shop.printer.bed_x, 1e3 * shop.printer.bed_y):
        notes.append(f"{wide:.0f} x {tall:.0f} mm: larger than the printer's bed; split it, or have it made.")
    if made.made == "mill" and shop.mill is not None:
        if not _lies(wide, tall, 1e3 * shop.mill.field_x, 1e3 * shop.mill.field_y):
            notes.append(f"{wide:.0f} x {tall:.0f} mm: larger than the mill's field.")
        inside = min((piece.radius for hole in made.holes for piece in hole if isinstance(piece, Arc)), default=math.inf)
        if 2.0 * inside < 1e3 * shop.mill.cutter:
            notes.append(f"Its narrowest hole, {2.0 * inside:.1f} mm, is less than the smallest cutter, {1e3 * shop.mill.cutter:.1f} mm.")
    return replace(made, notes=tuple(notes))


def _lies(wide: float, tall: float, bed_x: float, bed_y: float) -> bool:
    return (wide <= bed_x and tall <= bed_y) or (wide <= bed_y and tall <= bed_x)


def _all(found: LayoutStudy, options: Options) -> list[tuple[str, Sheet | str]]:
    options = _of_the_workshop(found, options)
    jobs: list[tuple[str, Callable[[], Sheet]]] = []
    for one in found.stages:
        many = f"-{one.position + 1}" if len(found.stages) > 1 else ""
        noun = "pulley" if one.made.kind is not None else "sprocket"
        for role in ("driver", "driven"):
            code = f"{noun}{many}-{role}"
            jobs.append((code, functools.partial(_toothed, found, one, role, code, options)))
    if found.stages and found.scene.can_m > 0.0:
        jobs.append(("motor-plate", lambda: _plate(found, options)))
        jobs.append(("spacer", lambda: _spacer(found, options)))
        jobs.append(("drill-template", lambda: _template(found, options)))
        if any(one.made.kind is not None for one in found.stages):
            jobs.append(("fit-coupon", lambda: _coupon(found, options)))
    made: list[tuple[str, Sheet | str]] = []
    for code, job in jobs:
        try:
            made.append((code, _compensated(_machines(found, job()), options)))
        except InputError as refusal:
            made.append((code, f"it cannot be made: {refusal}"))
    return made


def _loose(options: Options, how: str) -> float:
    return options.loose_mm if options.loose_mm is not None else PRINT_LOOSE_MM if how == "print" else MILL_LOOSE_MM


def _bore(options: Options, how: str, diameter: float) -> float:
    by = options.holes_by_mm if options.holes_by_mm is not None else SMALL_BY_MM if how == "print" else 0.0
    return diameter + by


def _toothed(found: LayoutStudy, one: Running, role: str, code: str, options: Options) -> Sheet:
    choice, family = one.made.choice, one.made.family
    teeth = choice.driver_teeth if role == "driver" else choice.driven_teeth
    how = "print" if one.made.kind is not None else "steel"
    if one.made.kind is not None:
        kind = GROOVES.get(family.id)
        if kind is None:
            raise InputError("profile", family.id, f"a family whose tooth outline is known: {', '.join(GROOVES)}; buy this pulley")
        outer = pulley(kind, family.pitch_mm, 1e3 * one.made.kind.line_m, teeth, _loose(options, how))
        thick = options.thickness_mm or (choice.width_mm or 9.0) + BELT_ROOM_MM
        root = family.pitch_mm * teeth / (2.0 * math.pi) - 1e3 * one.made.kind.line_m - kind.depth - _loose(options, how)
        outside = 2.0 * (family.pitch_mm * teeth / (2.0 * math.pi) - 1e3 * one.made.kind.line_m)
        notes = [
            "The outside diameter sets the pitch: print the coupon first, wrap the belt, correct.",
            "Layers lie in the plane of the teeth; flanges on at least one pulley, 1 to 1.5 mm over the outside.",
        ]
    else:
        if family.roller_mm is None:
            raise InputError("profile", family.id, "a chain whose roller is known")
        outer = sprocket(family.pitch_mm, family.roller_mm, teeth, options.loose_mm or 0.0)
        inner = family.inner_mm or 5.0
        thick = options.thickness_mm or round((0.93 if family.pitch_mm <= 12.7 else 0.95) * inner, 2)
        pitch_d = family.pitch_mm / math.sin(math.pi / teeth)
        root = 0.5 * (pitch_d - family.roller_mm)
        outside = pitch_d
        notes = ["Laser or water jet in steel; printed ones are jigs and idlers. Chamfer the tips by about an eighth of the pitch."]
    holes: list[Outline] = []
    figures = [("outside" if one.made.kind is not None else "pitch circle", outside)]
    if role == "driver":
        shaft = found.resolved.motor_part.shaft_mm if one.position == 0 else 12.0
        if shaft is None:
            raise InputError("shaft_mm", "not stated", "the motor's shaft, for the bore")
        bore = _bore(options, how, shaft)
        figures.append(("bore", bore))
        holes.append(circle(0.0, 0.0, 0.5 * bore, hole=True))
        if root - 0.5 * bore < (5.0 if how == "print" else 2.0):
            notes.append(f"Only {root - 0.5 * bore:.1f} mm of wall stays under the teeth: take it in metal, or more teeth.")
    else:
        axle = 1e3 * (found.design.vehicle.axle_diameter.value if found.design.vehicle.axle_diameter is not None else 0.012)
        middle = _bore(options, how, axle + 1.0)
        figures.append(("middle", middle))
        holes.append(circle(0.0, 0.0, 0.5 * middle, hole=True))
        measured = found.design.vehicle.hub_bolt_circle
        if measured is not None and 500.0 * measured.value + 5.0 < root - WALL_MM:
            radius = 500.0 * measured.value
            figures.append(("bolt circle", 2.0 * radius))
            hole = _bore(options, how, SCREW_MM[5])
            holes += [circle(x, y, 0.5 * hole, hole=True) for x, y in bolt_circle(5, radius)]
            if root - radius > 22.0:  # arms leave weight out
                inner_r, outer_r, arm = radius + 9.0, root - 6.0, 12.0
                window = spoke_window(inner_r, outer_r, 5, arm, 3.0)
                turn = 2.0 * math.pi / 5
                holes += [tuple(piece.turned(k * turn) for piece in window) for k in range(5)]
            notes.append("Five screws assumed on the bolt circle: count those of the wheel.")
        elif measured is None:
            notes.append("The bolt circle of the hub is not measured: no holes for it.")
    label = "Pulley" if one.made.kind is not None else "Sprocket"
    name = f"{label}, {teeth} teeth, {family.id}"
    return Sheet(
        id=code, name=name, made=how, thickness_mm=thick, outer=outer, holes=tuple(holes), notes=tuple(notes), figures=tuple(figures)
    )


def _hull(x: float, y: float, one_r: float, other_r: float) -> Outline:
    """Two circles with the tangents between them, counter-clockwise."""
    loop = loop_around((Round(0.0, 0.0, one_r), Round(x, y, other_r)))
    if not loop.spans:
        return circle(0.0, 0.0, max(one_r, other_r + math.hypot(x, y)))
    pieces: list[Piece] = []
    for k, (cx, cy, radius) in enumerate(((0.0, 0.0, one_r), (x, y, other_r))):
        first = loop.spans[k - 1].direction - 0.5 * math.pi
        pieces.append(Arc((cx, cy), radius, first, first + loop.wraps[k]))
        pieces.append(Line(loop.spans[k].begin, loop.spans[k].end))
    return tuple(pieces)


BOLTS_OF_CAN = 0.5  # the bolt circle of a motor's face, of its can; typical


def _plate(found: LayoutStudy, options: Options) -> Sheet:
    """Between axle and motor: holes of the motor's face as slots along the line of centres, a bore for its boss, a seat for the axle."""
    motor, driven = found.shafts[0], found.shafts[1]
    x, y = 1e3 * (motor.x - driven.x), 1e3 * (motor.z - driven.z)
    angle, apart = math.atan2(y, x), math.hypot(x, y)
    part, run = found.resolved.motor_part, found.stages[0]
    travel, centre = 8.0, apart
    if run.slots is not None and math.isfinite(run.slots.shortest):
        travel, centre = 1e3 * (run.slots.longest - run.slots.shortest), 500.0 * (run.slots.longest + run.slots.shortest)
    cx, cy = centre * math.cos(angle), centre * math.sin(angle)
    bolts = 0.5 * (part.bolts_mm or BOLTS_OF_CAN * part.can_mm)
    screw = SCREW_MM[4] if part.can_mm < 100.0 else SCREW_MM[5]
    thick = options.thickness_mm or 1e3 * (found.layout.plate.value if found.layout.plate is not None else 0.008)
    around = bolts + 0.5 * screw + 6.0 + 0.5 * travel
    seat = 1e3 * found.scene.axle_m - 6.0 if found.scene.axle_m > 0.008 else 8.0
    half = math.sqrt(0.5)
    shaft = part.shaft_mm or 8.0
    # slots lie along the line of centres: those of the screws beside that of the boss, two of them one where they would run into each other
    boss = max(min(0.5 * shaft + 4.0, half * bolts - 0.5 * screw - 1.0), 0.5 * shaft + 1.0)
    moved_out = half * bolts - 0.5 * screw < boss + 0.9
    if moved_out:
        bolts = (boss + 0.5 * screw + 1.0) / half
        around = bolts + 0.5 * screw + 6.0 + 0.5 * travel
    holes: list[Outline] = [circle(0.0, 0.0, max(seat, 4.0), hole=True), slot(cx, cy, travel, 2.0 * boss, angle)]
    if 2.0 * half * bolts - travel - screw > 2.0:
        holes += [slot(cx + px, cy + py, travel, screw, angle) for px, py in bolt_circle(4, bolts, angle + 0.25 * math.pi)]
    else:
        for side in (1.0, -1.0):
            out = side * half * bolts
            x0, y0 = cx - out * math.sin(angle), cy + out * math.cos(angle)
            holes.append(slot(x0, y0, travel + 2.0 * half * bolts, screw, angle))
            around = max(around, math.hypot(half * bolts, half * bolts + 0.5 * travel) + 0.5 * screw + 6.0)
    notes = [
        f"Bolt circle of the motor's face {2.0 * bolts:.1f} mm, four screws: "
        + ("as stated." if part.bolts_mm is not None and not moved_out else "typical of its can, measure it before cutting."),
        f"Slots of {travel:.1f} mm from the belt lifted on to worn; tighten, then check the tension again after the first hours.",
        "Inside corners need a cutter of less than the slot's width.",
    ]
    figures = (("between the middles", apart), ("slots", travel), ("bolt circle", 2.0 * bolts), ("axle", 2.0 * max(seat, 4.0)))
    return Sheet(
        id="motor-plate",
        name="Motor plate",
        made="mill",
        thickness_mm=thick,
        outer=_hull(cx, cy, max(seat, 4.0) + 10.0, around),
        holes=tuple(holes),
        notes=tuple(notes),
        figures=figures,
    )


def _spacer(found: LayoutStudy, options: Options) -> Sheet:
    axle = 1e3 * (found.design.vehicle.axle_diameter.value if found.design.vehicle.axle_diameter is not None else 0.012)
    bore = _bore(options, "print", axle + 0.1)
    thick = options.thickness_mm or 5.0
    return Sheet(
        id="spacer",
        name="Spacer for the axle",
        made="print",
        thickness_mm=thick,
        outer=circle(0.0, 0.0, 0.5 * axle + 4.0),
        holes=(circle(0.0, 0.0, 0.5 * bore, hole=True),),
        notes=("Printed flat; of metal where the nut presses on it.",),
        figures=(("bore", bore), ("outside", axle + 8.0)),
    )


def _template(found: LayoutStudy, options: Options) -> Sheet:
    """A paper to prick through: bolt circle with centre marks, and a ruler to check the printer."""
    measured = found.design.vehicle.hub_bolt_circle
    if measured is None:
        raise InputError("vehicle.hub_bolt_circle", "not measured", "the bolt circle of the hub, for its template")
    radius = 500.0 * measured.value
    marks: list[Outline] = []
    for x, y in [(0.0, 0.0), *bolt_circle(5, radius)]:
        marks += [(Line((x - 5.0, y), (x + 5.0, y)),), (Line((x, y - 5.0), (x, y + 5.0)),)]
    low = -radius - 22.0
    marks.append((Line((-50.0, low), (50.0, low)),))
    marks += [(Line((float(x), low), (float(x), low + (6.0 if x % 50 == 0 else 3.0))),) for x in range(-50, 51, 10)]
    return Sheet(
        id="drill-template",
        name="Drill template for the wheel",
        made="paper",
        thickness_mm=0.0,
        outer=circle(0.0, 0.0, radius + 12.0),
        holes=(),
        marks=tuple(marks),
        notes=("Print at 1:1 and lay a ruler on its 100 mm before drilling.", "Five holes assumed: count those of the wheel."),
        figures=(("bolt circle", 2.0 * radius), ("ruler", 100.0)),
    )


COUPON_TEETH = 8


def _coupon(found: LayoutStudy, options: Options) -> Sheet:
    """Eight teeth of the driver, a ladder of holes around the shaft and one of slots: what is measured on it sets the allowances."""
    run = next(one for one in found.stages if one.made.kind is not None)
    assert run.made.kind is not None
    kind = GROOVES.get(run.made.family.id)
    if kind is None:
        raise InputError("profile", run.made.family.id, f"a family whose tooth outline is known: {', '.join(GROOVES)}")
    teeth = run.made.choice.driven_teeth
    whole = pulley(kind, run.made.family.pitch_mm, 1e3 * run.made.kind.line_m, teeth, _loose(options, "print"))
    per = len(whole) // teeth
    sector = list(whole[: per * COUPON_TEETH])
    begin, end = sector[0].begin, sector[-1].end
    depth = kind.depth + 30.0
    inner = max(math.hypot(*begin) - depth, 4.0)
    first, last = math.atan2(begin[1], begin[0]), math.atan2(end[1], end[0])
    while last < first:
        last += 2.0 * math.pi
    a, b = (inner * math.cos(last), inner * math.sin(last)), (inner * math.cos(first), inner * math.sin(first))
    outer: Outline = (*sector, Line(end, a), Arc((0.0, 0.0), inner, last, first), Line(b, begin))
    shaft = found.resolved.motor_part.shaft_mm or 8.0
    holes = []
    radius = inner + 0.5 * (math.hypot(*begin) - kind.depth - inner)
    room = 0.5 * shaft + 2.0
    span = last - first
    count = max(min(int(span * radius / (2.0 * room)), 5), 1)
    for k in range(count):
        angle = first + span * (k + 0.5) / count
        grown = shaft + 0.1 * k
        holes.append(circle(radius * math.cos(angle), radius * math.sin(angle), 0.5 * grown, hole=True))
    ladder = ", ".join(f"{shaft + 0.1 * k:.1f}" for k in range(count))
    return Sheet(
        id="fit-coupon",
        name="Fit coupon, eight teeth and a ladder of holes",
        made="print",
        thickness_mm=options.thickness_mm or 5.0,
        outer=outer,
        holes=tuple(holes),
        notes=(
            "Wrap the real belt around the eight teeth: it has to lie without climbing. Find the hole that the shaft slides into.",
            f"Holes counter-clockwise: {ladder} mm. What fits is --loose and --holes-by from then on.",
        ),
        figures=(("first hole", shaft),),
    )


def _compensated(made: Sheet, options: Options) -> Sheet:
    """Outlines moved away from the material by half of the kerf, and grown by what the print shrinks."""
    if not options.kerf_mm and not options.shrink:
        return made
    grown = 1.0 + options.shrink

    def adapted(outline: Outline) -> Outline:
        scaled = tuple(_scaled(piece, grown) for piece in outline)
        return offset(scaled, 0.5 * options.kerf_mm) if options.kerf_mm else scaled

    return replace(made, outer=adapted(made.outer), holes=tuple(adapted(hole) for hole in made.holes))


def _scaled(piece: Piece, by: float) -> Piece:
    if isinstance(piece, Line):
        return Line((piece.begin[0] * by, piece.begin[1] * by), (piece.end[0] * by, piece.end[1] * by))
    return Arc((piece.middle[0] * by, piece.middle[1] * by), piece.radius * by, piece.first, piece.last)


def offset(outline: Outline, by: float) -> Outline:
    """Moved to the right of its walk: away from the material, outside and in holes alike; arcs stay arcs.

    Convex corners get an arc about them.  Raises InputError where an arc is too small for it.
    """
    shifted: list[Piece] = []
    for piece in outline:
        if isinstance(piece, Line):
            long = piece.length or 1.0
            nx, ny = (piece.end[1] - piece.begin[1]) / long * by, -(piece.end[0] - piece.begin[0]) / long * by
            shifted.append(piece.moved(nx, ny))
        else:
            radius = piece.radius + (by if piece.last > piece.first else -by)
            if radius <= 0.0:
                raise InputError("kerf", f"{2.0 * by:g} mm", f"less than {2.0 * piece.radius:.2f} mm, twice the smallest inside radius")
            shifted.append(Arc(piece.middle, radius, piece.first, piece.last))
    made: list[Piece] = []
    for k, piece in enumerate(shifted):
        made.append(piece)
        following = shifted[(k + 1) % len(shifted)]
        if math.dist(piece.end, following.begin) > 1e-7:
            corner = outline[k].end
            first = math.atan2(piece.end[1] - corner[1], piece.end[0] - corner[0])
            last = math.atan2(following.begin[1] - corner[1], following.begin[0] - corner[0])
            while last < first:
                last += 2.0 * math.pi
            made.append(Arc(corner, abs(by), first, last))
    return tuple(made)


__all__ = ["Options", "Sheet", "moved", "offset", "refused", "sheet", "sheets"]
