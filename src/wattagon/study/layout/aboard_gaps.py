"""Gaps of what rides along: to each other, tyres, cans, belts, frame, ground and crest, deck; room for plugs, the way out."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from wattagon.design.quantity import Known
from wattagon.physics.clearance import break_over_rad, crest_rise_m, gap
from wattagon.physics.path import segments_apart
from wattagon.study.layout.aboard import PLUG_M, Aboard, Box
from wattagon.study.layout.boat import BILGE_M, SIDE_M, hulls_of
from wattagon.study.layout.found import Ends, Found, judged, unknown
from wattagon.study.layout.gaps import ARM_M, CRANK_GAP_M, CRANK_M, FLAT, GROUND_M, KICK_M, Scene, across, corners, crank_at, deck_under_m
from wattagon.study.layout.place import tolerance_m

BESIDE_M, MOVING_M = 0.003, 0.010  # wanted between still things, and to what turns; judged
NEAR_M = 0.10  # what stands further apart than this cannot meet
CREST_M = 3.0  # radius of a crest that is ridden over: a kerb's ramp, a dam; judged
FLEX_LANDING = 2.0  # of the give under a standing rider
INBOARD_M, HEEL_M, PEDAL_M = 0.060, 0.110, 0.055  # of a heel: beside and behind the pedal's middle; that from the arm's outside
FAR_M, WALL_M, BEYOND_M = 9.0, 0.003, 0.05  # wall of a box, typical; how much further one looks
ALONG = {"front": (0, 1), "rear": (0, -1), "left": (1, 1), "right": (1, -1), "top": (2, 1), "bottom": (2, -1)}  # axis, which way


def apart(one: Box, other: Box) -> float:
    """Distance of two boxes; below 0 the least way out of each other."""
    away = _away(one, other)
    out = [value for value in away if value > 0.0]
    return math.hypot(*out) if out else max(away)


def _away(one: Box, other: Box) -> list[float]:
    return [max(b[0] - a[1], a[0] - b[1]) for a, b in zip(one, other, strict=True)]


def _by(one: Aboard, axis: int | None = None) -> float:
    """Tolerance along an axis; without one in side view."""
    return one.wide[axis] if axis is not None else max(one.wide[0], one.wide[2])


def from_round(box: Box, x: float, z: float, radius: float, y: tuple[float, float]) -> float:
    """Distance of a box to a cylinder across the vehicle; below 0 they are in each other."""
    (x0, x1), (y0, y1), (z0, z1) = box
    dx, dz = max(x0 - x, x - x1, 0.0), max(z0 - z, z - z1, 0.0)
    in_side = math.hypot(dx, dz) - radius if dx or dz else -min(x - x0, x1 - x, z - z0, z1 - z) - radius
    beside = max(y[0] - y1, y0 - y[1])
    if beside > 0.0 and in_side > 0.0:
        return math.hypot(beside, in_side)
    return max(beside, in_side)


def _toward(one: Aboard, x: float, z: float, radius: float) -> Ends:
    (x0, x1), _, (z0, z1) = one.box
    px, pz = min(max(x, x0), x1), min(max(z, z0), z1)
    away = math.hypot(x - px, z - pz) or 1.0
    return px, pz, x - radius * (x - px) / away, z - radius * (z - pz) / away


def _between(one: Aboard, other: Aboard) -> Ends:
    (a0, a1), _, (c0, c1) = one.box
    (b0, b1), _, (d0, d1) = other.box
    x0, x1 = (a1, b0) if b0 > a1 else (a0, b1) if a0 > b1 else (0.5 * (max(a0, b0) + min(a1, b1)),) * 2
    z0, z1 = (c1, d0) if d0 > c1 else (c0, d1) if c0 > d1 else (0.5 * (max(c0, d0) + min(c1, d1)),) * 2
    return x0, z0, x1, z1


def body_gaps(scene: Scene) -> list[Found]:
    """Of all bodies that were told; one that is only proposed is told as not checked, once."""
    found = []
    for k, one in enumerate(scene.bodies):
        if (one.missing and one.index >= 0) or (one.missing and one.kind == "pack"):
            found.append(unknown(f"body.{one.name}.told", f"{one.name} in its place", f"its {one.missing} is not told"))
        if one.missing:
            continue
        ashore = (_wheels, _drive, _frame, _ground, _under_deck, _cranks)
        for source in (*(ashore if scene.berth is None else (_in_hull,)), _plugs, _way_out):
            found.extend(source(scene, one))
        found.extend(_others(scene, one, scene.bodies[k + 1 :]))
    return found


def _code(one: Aboard, to: str) -> str:
    return f"body.{one.name}.{to}"


def _others(scene: Scene, one: Aboard, others: tuple[Aboard, ...]) -> Iterator[Found]:
    for other in others:
        if other.missing:
            continue
        boxes = [both for both in ((one, other), (other, one)) if both[0].kind == "box" and inside(both[0].box, both[1])]
        if boxes:
            box, thing = boxes[0]
            left = min(min(inner - outer for inner, outer in ((t[0], b[0]), (b[1], t[1]))) for t, b in zip(thing.box, box.box, strict=True))
            yield judged(_code(thing, box.name), f"{thing.name} in {box.name}", gap(left - WALL_M, (_by(box), _by(thing))), 0.001)
            continue
        nominal, away = apart(one.box, other.box), _away(one.box, other.box)
        if nominal < NEAR_M:
            axis = away.index(max(away))
            found = gap(nominal, (_by(one, axis), _by(other, axis)))
            yield judged(_code(one, other.name), f"{one.name} to {other.name}", found, BESIDE_M, at=_between(one, other))


def inside(box: Box, thing: Aboard) -> bool:
    """Whether a thing's middle lies in a box."""
    return all(low <= at <= high for (low, high), at in zip(box, (thing.x, thing.y, thing.z), strict=True))


def _in_hull(scene: Scene, one: Aboard) -> Iterator[Found]:
    """Bottom, side and motor of a boat; a pack stands over the bilge."""
    berth = scene.berth
    assert berth is not None
    (x0, x1), (y0, y1), (z0, _) = one.box
    if hulls_of(berth) == 1 and x1 > 0.0:
        floor, at = max((berth.floor_m(x), x) for x in (x0, one.x, x1))
        wanted = BILGE_M if one.kind in ("pack", "controller") else 0.0
        yield judged(_code(one, "bottom"), f"{one.name} over the bottom", gap(z0 - floor, (_by(one, 2),)), wanted, at=(at, z0, at, floor))
        room = min(berth.half_beam_m(x) for x in (max(x0, 0.0), one.x, x1))
        side = room - max(abs(y0), abs(y1))
        yield judged(_code(one, "side"), f"{one.name} to the side", gap(side, (_by(one, 1), 0.01)), SIDE_M)
    nominal = apart(one.box, berth.motor_box())
    if nominal < NEAR_M:
        yield judged(_code(one, "can"), f"{one.name} to motor", gap(nominal, (_by(one), 0.01)), MOVING_M)


def _tyres(scene: Scene) -> Iterator[tuple[str, float, float, tuple[float, float]]]:
    """(name, ahead, radius, across) of every tyre."""
    if scene.berth is not None:
        return
    half, tread = 0.5 * scene.tread_wide_m, scene.tread_wide_m
    clear = scene.clear_width.value if scene.clear_width is not None else 0.2
    driven = [(-half, half)] if scene.wheels_on_axle == 1 else [(0.5 * clear, 0.5 * clear + tread), (-0.5 * clear - tread, -0.5 * clear)]
    for name, x in zip(("rear tyre", "front tyre"), scene.axles, strict=True):
        for y in driven:
            yield name, x, scene.tyre_m * 1.01, y


def _wheels(scene: Scene, one: Aboard) -> Iterator[Found]:
    best: dict[str, tuple[float, Ends]] = {}
    for name, x, radius, y in _tyres(scene):
        nominal = from_round(one.box, x, 0.0, radius, y)
        if nominal < min(best.get(name, (NEAR_M,))[0], NEAR_M):
            best[name] = nominal, _toward(one, x, 0.0, radius)
    for name, (nominal, at) in best.items():
        yield judged(_code(one, name.replace(" ", "_")), f"{one.name} to {name}", gap(nominal, (_by(one), scene.tyre_by)), MOVING_M, at=at)


def _drive(scene: Scene, one: Aboard) -> Iterator[Found]:
    """Cans and loops."""
    if scene.can_stands:
        motor = scene.shafts[0]
        belts, can = across(scene)
        sides = (1.0, -1.0) if scene.motors > 1 else (1.0,)
        spans = [tuple(sorted((side * can[0], side * can[1]))) for side in sides]
        nominal = min(from_round(one.box, motor.x, motor.z, 0.5 * scene.can_m, (low, high)) for low, high in spans)
        if nominal < NEAR_M:
            at = _toward(one, motor.x, motor.z, 0.5 * scene.can_m)
            yield judged(_code(one, "can"), f"{one.name} to can", gap(nominal, (_by(one), motor.tolerance)), 0.005, at=at)
        (x0, x1), (y0, y1), (z0, z1) = one.box
        edges = list(itertools.pairwise([(x0, z0), (x1, z0), (x1, z1), (x0, z1), (x0, z0)]))
        for run in scene.stages:
            out = run.made.kind.back_m() if run.made.kind is not None else 1e-3 * (run.made.family.back_mm or 4.0)
            least = math.inf
            for span in run.path.loop.spans:
                crosses = min(segments_apart(span.begin, span.end, *edge) for edge in edges)
                held = x0 < span.begin[0] < x1 and z0 < span.begin[1] < z1
                least = min(least, (-crosses if held else crosses) - out)
            aside = min(max(low - y1, y0 - high) for low, high in [tuple(sorted((side * belts[0], side * belts[1]))) for side in sides])
            nominal = math.hypot(aside, least) if aside > 0.0 and least > 0.0 else max(aside, least)
            if nominal < NEAR_M:
                what = "belt" if run.made.kind is not None else "chain"
                by = (_by(one), scene.shafts[run.position].tolerance)
                yield judged(_code(one, f"loop.{run.position}"), f"{one.name} to {what}", gap(nominal, by), MOVING_M)


def _frame(scene: Scene, one: Aboard) -> Iterator[Found]:
    (x0, x1), (y0, y1), (z0, z1) = one.box
    edges = list(itertools.pairwise([(x0, z0), (x1, z0), (x1, z1), (x0, z1), (x0, z0)]))
    for k, piece in enumerate(scene.layout.obstacles):
        aside = max(piece.right - y1, y0 - piece.left)
        if piece.shape == "circle":
            nominal = from_round(one.box, piece.x, piece.z, piece.radius, (piece.right, piece.left))
        elif piece.shape == "box":
            points = corners(piece)
            xs, zs = sorted((points[0][0], points[2][0])), sorted((points[0][1], points[2][1]))
            nominal = apart(one.box, ((xs[0], xs[1]), (piece.right, piece.left), (zs[0], zs[1])))
        else:
            ends = (piece.x, piece.z), (piece.x2, piece.z2)
            held = x0 < piece.x < x1 and z0 < piece.z < z1
            least = (0.0 if held else min(segments_apart(*ends, *edge) for edge in edges)) - piece.radius
            nominal = math.hypot(aside, least) if aside > 0.0 and least > 0.0 else max(aside, least)
        if nominal < NEAR_M:
            by = gap(nominal, (_by(one), piece.tolerance))
            yield judged(_code(one, f"frame.{k}"), f"{one.name} to {piece.name}", by, BESIDE_M)


def _ground(scene: Scene, one: Aboard) -> Iterator[Found]:
    """Over the ground between the wheels, over a crest, and the edge over which it grounds."""
    rear, front = scene.axles
    (x0, x1), _, (z0, _) = one.box
    high = z0 + scene.tyre_m
    if high > 0.3 or not x0 < front or not x1 > rear:
        return
    base = front - rear
    flex = scene.layout.flex
    give = (FLEX_LANDING * flex.value) if flex is not None and scene.vehicle_kind in FLAT else 0.0
    points = [(max(front - x1, 1e-3), high - give), (min(front - x0, base - 1e-3), high - give)]
    angle, _ = break_over_rad(base, scene.tyre_m, points)
    middle = 0.5 * (rear + front)
    near = min(max(middle, x0), x1)
    rise = crest_rise_m(CREST_M, base) * max(1.0 - (2.0 * (near - middle) / base) ** 2, 0.0)
    words = f"over a crest of {CREST_M:g} m radius; breaks over an edge of {math.degrees(angle):.0f}°"
    if give:
        words += f"; the deck gives {give * 1e3:.0f} mm landing"
    elif scene.vehicle_kind in FLAT:
        words += "; the deck's give is not measured"
    by = (_by(one, 2), scene.tyre_by, *([FLEX_LANDING * tolerance_m(flex)] if flex is not None and give else []))
    at = (near, z0, near, -scene.tyre_m + rise)
    yield judged(_code(one, "ground"), f"{one.name} to ground", gap(high - give - rise, by), GROUND_M, swept=words, at=at)


def _under_deck(scene: Scene, one: Aboard) -> Iterator[Found]:
    """A stiff case under a deck: it has to let it give, and stays under it."""
    if scene.vehicle_kind not in FLAT or scene.deck_height is None or scene.deck_height.known is Known.ASSUMED:
        return
    under = deck_under_m(scene)
    (x0, x1), _, (z0, z1) = one.box
    if z0 > under:  # stands on the deck
        return
    rear, front = scene.axles
    middle = 0.5 * (rear + front)
    near = min(max(middle, x0), x1)
    by = [_by(one, 2), tolerance_m(scene.deck_height)]
    at = (near, z1, near, under)
    if one.length < 0.12:
        yield judged(_code(one, "deck"), f"{one.name} to deck", gap(under - z1, by), 0.0, at=at)
        return
    if scene.layout.flex is None:
        yield unknown(_code(one, "deck"), f"{one.name} to deck", "the give of the deck is not measured")
        return
    # what a case that is fixed at both its ends must leave at its middle: the deck's bow over its own length
    span = front - rear
    bow = scene.layout.flex.value * (4.0 * (0.5 * one.length) ** 2 / span**2)
    found = gap(under - z1 - bow, (*by, tolerance_m(scene.layout.flex)))
    yield judged(_code(one, "deck"), f"{one.name} to deck", found, 0.0, swept="with the deck's give over its length", at=at)


def _cranks(scene: Scene, one: Aboard) -> Iterator[Found]:
    """The arms of the cranks and the heels of who pedals."""
    where = crank_at(scene)
    if where is None:
        return
    x, z = where
    long = scene.layout.crank_length.value if scene.layout.crank_length is not None else CRANK_M
    (x0, _), (y0, y1), _ = one.box
    out = max(abs(y0), abs(y1))
    reach = from_round(one.box, x, z, 0.0, (-FAR_M, FAR_M))
    tread = scene.layout.tread
    if reach < long + KICK_M:
        if tread is None:
            yield unknown(_code(one, "crank"), f"{one.name} to crank arms", "the tread between the crank arms is not measured")
            return
        found = gap(0.5 * tread.value - ARM_M - out, (0.5 * tolerance_m(tread), _by(one, 1), 0.001))
        yield judged(_code(one, "crank"), f"{one.name} to crank arms", found, CRANK_GAP_M)
    behind = x0 < x and from_round(one.box, x - HEEL_M, z, 0.0, (-FAR_M, FAR_M)) < long
    if behind and tread is not None:
        pedal = 0.5 * tread.value + PEDAL_M
        found = gap(pedal - INBOARD_M - out, (0.5 * tolerance_m(tread), _by(one, 1), 0.005))
        yield judged(_code(one, "heel"), f"{one.name} to heels", found, 0.0, swept="a heel 110 mm behind the pedal, once around")


def moved(one: Aboard, side: str, by: float) -> Box:
    """The space before a side of a body, so deep."""
    (x, y, z) = one.box
    if side in ("front", "rear"):
        x = (x[1], x[1] + by) if side == "front" else (x[0] - by, x[0])
    elif side in ("left", "right"):
        y = (y[1], y[1] + by) if side == "left" else (y[0] - by, y[0])
    else:
        z = (z[1], z[1] + by) if side == "top" else (z[0] - by, z[0])
    return x, y, z


def _free(scene: Scene, one: Aboard, side: str, most: float) -> tuple[float, str]:
    """(how far it is free before a side of a body, up to a length; what stands there)."""
    axis, sign = ALONG[side]
    space = moved(one, side, most)
    free, what = most, ""

    def met(name: str, box: Box) -> None:
        nonlocal free, what
        if all(min(a[1], b[1]) - max(a[0], b[0]) > 1e-6 for a, b in zip(space, box, strict=True)):
            face = one.box[axis][1 if sign > 0 else 0]
            away = (box[axis][0] - face) if sign > 0 else (face - box[axis][1])
            if away < free:
                free, what = max(away, 0.0), name

    for other in scene.bodies:
        if other is one or other.missing:
            continue
        if other.kind == "box" and inside(other.box, one):
            if side != other.told.out:  # its lid
                inner = other.box[axis][1] - WALL_M - one.box[axis][1] if sign > 0 else one.box[axis][0] - other.box[axis][0] - WALL_M
                if inner < free:
                    free, what = max(inner, 0.0), f"the wall of the {other.name}"
            continue
        if one.kind == "box" and inside(one.box, other):
            continue
        met(other.name, other.box)
    for name, x, radius, y in _tyres(scene):
        met(name, ((x - radius, x + radius), y, (-radius, radius)))
    if scene.can_stands:
        motor, (low, high) = scene.shafts[0], across(scene)[1]
        r = 0.5 * scene.can_m
        met("the can", ((motor.x - r, motor.x + r), (min(low, high), max(low, high)), (motor.z - r, motor.z + r)))
    for piece in scene.layout.obstacles:
        r = piece.radius
        xs = sorted((piece.x, piece.x2)) if piece.shape != "circle" else [piece.x, piece.x]
        zs = sorted((piece.z, piece.z2)) if piece.shape != "circle" else [piece.z, piece.z]
        met(piece.name, ((xs[0] - r, xs[1] + r), (piece.right, piece.left), (zs[0] - r, zs[1] + r)))
    if scene.vehicle_kind in FLAT and scene.deck_height is not None:
        under = deck_under_m(scene)
        if one.z < under:
            met("the deck", ((-FAR_M, FAR_M), (-FAR_M, FAR_M), (under, under + 0.02)))
    if scene.berth is not None:
        berth = scene.berth
        met("the motor", berth.motor_box())
        floor = max(berth.floor_m(x) for x in one.box[0])
        met("the bottom", ((-FAR_M, FAR_M), (-FAR_M, FAR_M), (floor - 1.0, floor)))
        half = min(berth.half_beam_m(x) for x in one.box[0])
        for low, high in ((half, FAR_M), (-FAR_M, -half)):
            met("the side", ((-FAR_M, FAR_M), (low, high), (-FAR_M, berth.gunwale_m(one.x))))
    elif side == "bottom":
        met("the ground", ((-FAR_M, FAR_M), (-FAR_M, FAR_M), (-FAR_M, -scene.tyre_m)))
    return free, what


def _plugs(scene: Scene, one: Aboard) -> Iterator[Found]:
    if not one.told.plugs:
        return
    want = one.told.plug_room.value if one.told.plug_room is not None else PLUG_M
    free, what = _free(scene, one, one.told.plugs, want + BEYOND_M)
    axis = ALONG[one.told.plugs][0]
    words = f"{one.told.plugs}, {what} stands there" if what else one.told.plugs
    yield judged(_code(one, "plugs"), f"plugs of {one.name}", gap(free - want, (_by(one, axis), 0.002)), 0.0, swept=words)


def _way_out(scene: Scene, one: Aboard) -> Iterator[Found]:
    """The way on which it is taken out: free for its own length along it."""
    if not one.told.out:
        if one.kind == "pack":
            yield unknown(_code(one, "out"), f"{one.name} out", "it is not told on which side it comes out")
        return
    own = (one.length, one.width, one.height)[ALONG[one.told.out][0]]
    free, what = _free(scene, one, one.told.out, own + BEYOND_M)
    words = f"by its {one.told.out}, {what} is in the way" if what else f"by its {one.told.out}"
    yield judged(_code(one, "out"), f"{one.name} out", gap(free - own, (0.0,)), 0.0, swept=words)
