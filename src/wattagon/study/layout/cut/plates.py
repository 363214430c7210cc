"""Flat parts around the wheels: motor plate, spacer, hub adapter, guard, drill template."""

from __future__ import annotations

import math

from wattagon.errors import InputError
from wattagon.physics.outline import Arc, Line, Outline, Piece, bolt_circle, circle, slot
from wattagon.physics.path import Round, loop_around
from wattagon.study.layout.cut.sheet import Options, Sheet, bore_of, screw_of
from wattagon.study.layout.stage import Running
from wattagon.study.layout.study import LayoutStudy

SLIT_MM, GUARD_ROOM_MM, GUARD_MM = 2.0, 6.0, 3.0  # of a clamp; around what turns; typical
HUB_SCREWS = 5


def hull(x: float, y: float, one_r: float, other_r: float) -> Outline:
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


def plate(found: LayoutStudy, options: Options) -> Sheet:
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
    screw = screw_of(options, "mill", 4 if part.can_mm < 100.0 else 5)
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
    seat = max(seat, 4.0)
    holes: list[Outline] = [slot(cx, cy, travel, 2.0 * boss, angle)]
    if not options.clamp:
        holes.insert(0, circle(0.0, 0.0, seat, hole=True))
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
    outer = hull(cx, cy, seat + 10.0, around)
    if options.clamp:
        outer = slit(outer, seat, angle + math.pi)
        notes.append(
            f"Slit by {SLIT_MM:g} mm at the axle: an M5 pinch screw across it, drilled from the edge; a flat or a pin against turning."
        )
    figures = (("between the middles", apart), ("slots", travel), ("bolt circle", 2.0 * bolts), ("axle", 2.0 * seat))
    return Sheet(
        id="motor-plate",
        name="Motor plate",
        made="mill",
        thickness_mm=thick,
        outer=outer,
        holes=tuple(holes),
        notes=tuple(notes),
        figures=figures,
    )


def spacer(found: LayoutStudy, options: Options) -> Sheet:
    axle = 1e3 * (found.design.vehicle.axle_diameter.value if found.design.vehicle.axle_diameter is not None else 0.012)
    bore = bore_of(options, "print", axle + 0.1)
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


def template(found: LayoutStudy, options: Options) -> Sheet:
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


def hub_adapter(found: LayoutStudy, options: Options) -> Sheet:
    """A ring between the driven wheel of the last stage and the hub: one bolt circle for each, turned against each other."""
    measured = found.design.vehicle.hub_bolt_circle
    if measured is None:
        raise InputError("vehicle.hub_bolt_circle", "not measured", "the bolt circle of the hub, for its adapter")
    axle = found.design.vehicle.axle_diameter
    radius = 500.0 * measured.value
    middle = bore_of(options, "mill", (1e3 * axle.value if axle is not None else 12.0) + 1.0)
    through, cut = screw_of(options, "mill", 5), 4.2  # screws go through to the hub, those of the pulley are cut into it
    turn = math.pi / HUB_SCREWS
    if radius - 0.5 * through - 0.5 * middle < 4.0:
        raise InputError(
            "vehicle.hub_bolt_circle", f"{2.0 * radius:.1f} mm", f"{middle + through + 8.0:.0f} mm or more, so that metal stays"
        )
    if 2.0 * radius * math.sin(0.5 * turn) < through + 3.0:
        raise InputError("vehicle.hub_bolt_circle", f"{2.0 * radius:.1f} mm", "room for ten screws on it; take longer ones through both")
    holes = [circle(0.0, 0.0, 0.5 * middle, hole=True)]
    holes += [circle(x, y, 0.5 * through, hole=True) for x, y in bolt_circle(HUB_SCREWS, radius)]
    holes += [circle(x, y, 0.5 * cut, hole=True) for x, y in bolt_circle(HUB_SCREWS, radius, turn)]
    return Sheet(
        id="hub-adapter",
        name="Hub adapter",
        made="mill",
        thickness_mm=options.thickness_mm or 6.0,
        outer=circle(0.0, 0.0, radius + 10.0),
        holes=tuple(holes),
        notes=("Five screws assumed on the hub: count those of the wheel. It has to run true: turn or dowel it to the hub's own middle.",),
        figures=(("bolt circle", 2.0 * radius), ("through", through), ("for M5 threads", cut), ("middle", middle)),
    )


def guard(found: LayoutStudy, one: Running, code: str, options: Options) -> Sheet:
    """A plate over a belt or chain: what turns stays covered; open where both shafts pass."""
    driver, driven = found.shafts[one.position], found.shafts[one.position + 1]
    x, y = 1e3 * (driver.x - driven.x), 1e3 * (driver.z - driven.z)
    radii = [500.0 * one.made.outside_m(d) + GUARD_ROOM_MM for d in (one.made.driven_m, one.made.driver_m)]
    if math.hypot(x, y) <= abs(radii[0] - radii[1]):
        raise InputError("layout", f"{math.hypot(x, y):.0f} mm apart", "wheels that stand beside each other, for a guard around both")
    screw = screw_of(options, "print", 4)
    outer = hull(x, y, radii[0] + 2.0 * screw, radii[1] + 2.0 * screw)
    angle = math.atan2(y, x)
    around = [((0.0, 0.0), radii[0] + 0.6 * screw, angle + turn) for turn in (0.6 * math.pi, math.pi, 1.4 * math.pi)]
    around += [((x, y), radii[1] + 0.6 * screw, angle + turn) for turn in (-0.3 * math.pi, 0.3 * math.pi)]
    holes = [circle(cx + r * math.cos(a), cy + r * math.sin(a), 0.5 * screw, hole=True) for (cx, cy), r, a in around]
    shaft = found.resolved.motor_part.shaft_mm or 12.0
    axle = 2e3 * found.scene.axle_m
    holes += [circle(0.0, 0.0, 0.5 * axle + 3.0, hole=True), circle(x, y, 0.5 * shaft + 3.0, hole=True)]
    idlers = [wheel for wheel in one.path.wheels if wheel.what == "idler"]
    notes = ["Fingers, laces and stones stay out of what runs in: stand-offs keep it off the belt, fixed at five screws."]
    if idlers:
        notes.append("It does not reach around the idlers: widen it there.")
    return Sheet(
        id=code,
        name="Guard over the belt" if one.made.kind is not None else "Guard over the chain",
        made="print",
        thickness_mm=options.thickness_mm or GUARD_MM,
        outer=outer,
        holes=tuple(holes),
        notes=tuple(notes),
        figures=(("between the middles", math.hypot(x, y)), ("around what turns", GUARD_ROOM_MM), ("screws", screw)),
    )


def slit(outer: Outline, seat_mm: float, angle: float) -> Outline:
    """An outline whose first piece is the arc about the axle, slit from its edge to the seat, which becomes part of it."""
    arc = outer[0]
    assert isinstance(arc, Arc)
    at = arc.first + (angle - arc.first) % (2.0 * math.pi)
    outside, inside = math.asin(0.5 * SLIT_MM / arc.radius), math.asin(0.5 * SLIT_MM / seat_mm)
    point = lambda radius, turn: (radius * math.cos(turn), radius * math.sin(turn))
    return (
        Arc((0.0, 0.0), arc.radius, arc.first, at - outside),
        Line(point(arc.radius, at - outside), point(seat_mm, at - inside)),
        Arc((0.0, 0.0), seat_mm, at - inside, at + inside - 2.0 * math.pi),
        Line(point(seat_mm, at + inside), point(arc.radius, at + outside)),
        Arc((0.0, 0.0), arc.radius, at + outside, arc.last),
        *outer[1:],
    )
