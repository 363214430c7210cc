"""Pulleys and sprockets with real teeth, their flanges, and the coupon that tells what a printer makes of them."""

from __future__ import annotations

import math

from wattagon.errors import InputError
from wattagon.physics.outline import Arc, Line, Outline, bolt_circle, circle
from wattagon.physics.teeth import GROOVES, pulley, spoke_window, sprocket
from wattagon.study.layout.cut.sheet import BELT_ROOM_MM, WALL_MM, Options, Sheet, bore_of, loose_of, screw_of
from wattagon.study.layout.place import FLANGE_M
from wattagon.study.layout.stage import Running
from wattagon.study.layout.study import LayoutStudy

FLANGE_THICK_MM = 1.5  # of a flange; typical


def toothed(found: LayoutStudy, one: Running, role: str, code: str, options: Options) -> Sheet:
    choice, family = one.made.choice, one.made.family
    teeth = choice.driver_teeth if role == "driver" else choice.driven_teeth
    how = "print" if one.made.kind is not None else "steel"
    if one.made.kind is not None:
        kind = GROOVES.get(family.id)
        if kind is None:
            raise InputError("profile", family.id, f"a family whose tooth outline is known: {', '.join(GROOVES)}; buy this pulley")
        outer = pulley(kind, family.pitch_mm, 1e3 * one.made.kind.line_m, teeth, loose_of(options, how))
        thick = options.thickness_mm or (choice.width_mm or 9.0) + BELT_ROOM_MM
        root = family.pitch_mm * teeth / (2.0 * math.pi) - 1e3 * one.made.kind.line_m - kind.depth - loose_of(options, how)
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
        bore = bore_of(options, how, shaft)
        figures.append(("bore", bore))
        holes.append(circle(0.0, 0.0, 0.5 * bore, hole=True))
        if root - 0.5 * bore < (5.0 if how == "print" else 2.0):
            notes.append(f"Only {root - 0.5 * bore:.1f} mm of wall stays under the teeth: take it in metal, or more teeth.")
    else:
        axle = 1e3 * (found.design.vehicle.axle_diameter.value if found.design.vehicle.axle_diameter is not None else 0.012)
        middle = bore_of(options, how, axle + 1.0)
        figures.append(("middle", middle))
        holes.append(circle(0.0, 0.0, 0.5 * middle, hole=True))
        measured = found.design.vehicle.hub_bolt_circle
        if measured is not None and 500.0 * measured.value + 5.0 < root - WALL_MM:
            radius = 500.0 * measured.value
            figures.append(("bolt circle", 2.0 * radius))
            hole = screw_of(options, how, 5)
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


def flange(found: LayoutStudy, one: Running, role: str, code: str, options: Options) -> Sheet:
    """A disc beside a pulley that keeps the belt on it, with the pulley's own bore and holes."""
    wheel = toothed(found, one, role, code, options)
    told = found.layout.stages[one.position].flange if one.position < len(found.layout.stages) else None
    high = 1e3 * (told.value if told is not None else FLANGE_M)
    outside = dict(wheel.figures)["outside"]
    return Sheet(
        id=f"{code}-flange",
        name=f"Flange of the {wheel.name[0].lower()}{wheel.name[1:]}",
        made="print",
        thickness_mm=options.thickness_mm or FLANGE_THICK_MM,
        outer=circle(0.0, 0.0, 0.5 * outside + high),
        holes=tuple(hole for hole in wheel.holes if len(hole) == 1),
        notes=("Two for a pulley; glued or held by its screws, its edge broken by 8 to 15 degrees towards the belt.",),
        figures=(("outside", outside + 2.0 * high), ("over the teeth", high)),
    )


COUPON_TEETH = 8


def coupon(found: LayoutStudy, options: Options) -> Sheet:
    """Eight teeth of the driver, a ladder of holes around the shaft and one of slots: what is measured on it sets the allowances."""
    run = next(one for one in found.stages if one.made.kind is not None)
    assert run.made.kind is not None
    kind = GROOVES.get(run.made.family.id)
    if kind is None:
        raise InputError("profile", run.made.family.id, f"a family whose tooth outline is known: {', '.join(GROOVES)}")
    teeth = run.made.choice.driven_teeth
    whole = pulley(kind, run.made.family.pitch_mm, 1e3 * run.made.kind.line_m, teeth, loose_of(options, "print"))
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
