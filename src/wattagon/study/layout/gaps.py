"""Every gap of a drive on its vehicle: nominal, at the worst of the measures it rests on, and whether that is enough."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

import numpy as np
from numpy.typing import NDArray

from wattagon.design.kinds import KINDS
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Layout, Obstacle, ReductionKind, VehicleKind
from wattagon.physics.clearance import (
    circles_apart,
    gap,
    inside_crank_m,
    pulley_over_ground,
    steer_rad,
    touches_at_rad,
    turned,
    under_deck,
)
from wattagon.physics.path import point_to_segment, segments_apart
from wattagon.record import record
from wattagon.study.layout.aboard import Aboard
from wattagon.study.layout.boat import Berth, boat_gaps
from wattagon.study.layout.found import Found, judged, unknown
from wattagon.study.layout.meshes import Meshed
from wattagon.study.layout.place import CRANK_AHEAD_M, CRANK_HIGH_M, PLATE_M, PULLEY_GAP_M, Shaft, tolerance_m
from wattagon.study.layout.stage import Running
from wattagon.study.layout.swing import axles

MOVING_M, STILL_M, GROUND_M, ROUGH_M = 0.005, 0.003, 0.010, 0.025  # wanted; judged
BESIDE_TYRE_M = 0.010  # of the first belt beside a single tyre, where nobody stated it; typical
CRANK_M, ARM_M, KICK_M, CRANK_GAP_M = 0.170, 0.014, 0.020, 0.004  # length and thickness of a crank, room around its circle; judged
BESIDE_M = 0.010  # between two cans in line, or a can and a wheel beside it
DECK_M = 0.020  # of a deck and what holds it, from its top
FLAT = (VehicleKind.STREET_BOARD, VehicleKind.ALL_TERRAIN_BOARD)
LEAN_RAD, AXIS_RAD = math.radians(18.0), math.radians(45.0)  # of a board's truck, where nobody stated it; typical
SPAN_SLACK = 0.005  # of a span, by which a slack strand may hang out


@record(frozen=True, slots=True, kw_only=True)
class Scene:
    """What the gaps are between; lengths in m."""

    vehicle_kind: VehicleKind
    layout: Layout
    shafts: tuple[Shaft, ...]
    stages: tuple[Running, ...]
    can_m: float  # diameter
    can_long_m: float
    motors: int
    tyre_m: float  # loaded radius
    tyre_by: float  # its tolerance
    axle_m: float  # radius of what stands around the driven axle
    axle_by: float
    clear_width: Quantity | None
    deck_height: Quantity | None
    tread_wide_m: float
    wheels_on_axle: int
    belt_m: float  # width that the belts take
    meshes: tuple[Meshed, ...]  # stages without a loop
    axles: tuple[float, float]  # rear and front, ahead of the driven one
    bodies: tuple[Aboard, ...] = ()
    berth: Berth | None = None  # of a boat

    @property
    def can_stands(self) -> bool:
        """Whether a can stands beside the wheel that it drives, instead of in it."""
        return self.berth is None and self.can_m > 0.0 and bool(self.stages or self.meshes) and self.shafts[0].name == "motor"

    @property
    def roller(self) -> bool:
        """Whether the motor turns a roller on the tyre."""
        return any(one.position == 0 and one.choice.kind is ReductionKind.FRICTION for one in self.meshes)


def all_gaps(scene: Scene) -> list[Found]:
    """In the order in which one would look."""
    if scene.berth is not None:
        return [*_wheels_of_stages(scene), *boat_gaps(scene.berth)]
    return [
        found for source in (_wheels_of_stages, _motor, _between_wheels, _ground, _deck, _cranks, _obstacles) for found in source(scene)
    ]


def _toward(x0: float, z0: float, r0: float, x1: float, z1: float, r1: float) -> tuple[float, float, float, float]:
    apart = math.hypot(x1 - x0, z1 - z0) or 1.0
    ux, uz = (x1 - x0) / apart, (z1 - z0) / apart
    return x0 + r0 * ux, z0 + r0 * uz, x1 - r1 * ux, z1 - r1 * uz


def _wheels_of_stages(scene: Scene) -> Iterator[Found]:
    for run in scene.stages:
        many = f" {run.position + 1}" if len(scene.stages) > 1 else ""
        what = ("pulleys" if run.made.kind is not None else "sprockets") + many
        driver, driven = scene.shafts[run.position], scene.shafts[run.position + 1]
        r0, r1 = 0.5 * run.made.outside_m(run.made.driver_m), 0.5 * run.made.outside_m(run.made.driven_m)
        nominal = circles_apart((driver.x, driver.z), r0, (driven.x, driven.z), r1)
        at = _toward(driver.x, driver.z, r0, driven.x, driven.z, r1)
        yield judged(f"wheels.{run.position}", f"both {what}", gap(nominal, (driver.tolerance, driven.tolerance)), STILL_M, at=at)
        for k, wheel in enumerate(run.path.wheels):
            if wheel.what != "idler":
                continue
            for shaft, radius, name in ((driver, r0, "driver"), (driven, r1, "driven wheel")):
                nominal = circles_apart((wheel.round.x, wheel.round.y), wheel.outside, (shaft.x, shaft.z), radius)
                at = _toward(wheel.round.x, wheel.round.y, wheel.outside, shaft.x, shaft.z, radius)
                code = f"idler.{run.position}.{k}.{name[:6]}"
                yield judged(code, f"idler to {name}{many}", gap(nominal, (0.001, shaft.tolerance)), STILL_M, at=at)


def _motor(scene: Scene) -> Iterator[Found]:
    """The can against the axle, the tyre beside it and other shafts' wheels in its own plane."""
    motor, axle = scene.shafts[0], scene.shafts[-1]
    if not scene.can_stands:
        return
    radius = 0.5 * scene.can_m
    nominal = circles_apart((motor.x, motor.z), radius, (axle.x, axle.z), scene.axle_m)
    at = _toward(motor.x, motor.z, radius, axle.x, axle.z, scene.axle_m)
    yield judged("can.axle", "can to axle", gap(nominal, (motor.tolerance, scene.axle_by, 0.0005)), MOVING_M, at=at)
    half = 0.5 * scene.tread_wide_m
    low, high = across(scene)[1]
    if scene.wheels_on_axle == 1 and low < half and high > -half:  # one wheel in the middle: the can stands before it
        over = list(axles(scene.layout))
        nominal, x, z = min((circles_apart((motor.x, motor.z), radius, one, scene.tyre_m * 1.01), *one) for one in over)
        at = _toward(motor.x, motor.z, radius, x, z, scene.tyre_m)
        swept = "over the travel of the suspension" if len(over) > 1 else ""
        found = gap(nominal, (motor.tolerance, scene.tyre_by, 0.0005))
        yield judged("can.tyre", "can to tyre", found, MOVING_M, swept=swept, at=at)
    below = scene.tyre_m + motor.z - radius
    wanted = ROUGH_M if KINDS[scene.vehicle_kind].rough else GROUND_M
    at = (motor.x, motor.z - radius, motor.x, -scene.tyre_m)
    yield judged("can.ground", "can to ground", gap(below, (motor.tolerance, scene.tyre_by, 0.0005)), wanted, at=at)


def stack_m(scene: Scene) -> tuple[float, float]:
    """(length of one motor's stack from the wheel inwards [m], tolerance): belt and gap, plate, can."""
    plate, free = scene.layout.plate, scene.layout.pulley_gap
    measures = [(plate, PLATE_M), (free, PULLEY_GAP_M)]
    total = sum(q.value if q is not None else usual for q, usual in measures) + scene.can_long_m + scene.belt_m
    wide = sum(tolerance_m(q) if q is not None else 0.05 * usual for q, usual in measures) + 0.0005
    return total, wide


def _between_wheels(scene: Scene) -> Iterator[Found]:
    if scene.wheels_on_axle < 2 or not scene.can_stands:
        return
    width = scene.clear_width
    long, by = stack_m(scene)
    if width is None or width.known is Known.ASSUMED:
        yield unknown("cans.between", "motors between the wheels", "the clear width between the wheels is not measured")
        return
    side_by_side = scene.motors if not scene.layout.behind else math.ceil(scene.motors / 2)
    left = width.value - side_by_side * long
    what = "the two cans" if side_by_side > 1 else "can to far wheel"
    code = "cans.between"
    yield judged(code, what, gap(left, (tolerance_m(width), *(by for _ in range(side_by_side)))), BESIDE_M)


def _ground(scene: Scene) -> Iterator[Found]:
    """The lowest pulley or sprocket on the driven axle over the ground, upright and leaning."""
    if not scene.stages or scene.shafts[-1].name != "axle":
        return
    run = scene.stages[-1]
    low = 0.5 * run.made.outside_m(run.made.driven_m)
    wanted = ROUGH_M if KINDS[scene.vehicle_kind].rough else GROUND_M
    beside = 0.0 if scene.wheels_on_axle > 1 else max(0.0, across(scene)[0][1] - 0.5 * scene.tread_wide_m)
    what = "pulley" if run.made.kind is not None else "sprocket"
    nominal = pulley_over_ground(scene.tyre_m, low, 0.0)
    at = (0.0, -low, 0.0, -scene.tyre_m)
    yield judged("wheel.ground", f"{what} to ground", gap(nominal, (scene.tyre_by, 0.0005)), wanted, at=at)
    if beside > 0.0:
        lean = math.radians(20.0)
        nominal = pulley_over_ground(scene.tyre_m, low, beside, lean)
        swept = f"leaning 20°, touches at {math.degrees(touches_at_rad(scene.tyre_m, low, beside)):.0f}°"
        yield judged("wheel.lean", f"{what} to ground in a bend", gap(nominal, (scene.tyre_by, 0.001, 0.0005)), GROUND_M, swept=swept)


def deck_under_m(scene: Scene) -> float:
    """Underside of the deck above the axle [m]."""
    assert scene.deck_height is not None
    return scene.deck_height.value - DECK_M - scene.tyre_m


def truck_ends(scene: Scene) -> NDArray[np.float64]:
    """Outer and inner end of a can's axis on a truck, on both sides where there are two (n, 3): ahead, left, up [m]."""
    motor, can = scene.shafts[0], across(scene)[1]
    ahead = abs(motor.x) if scene.layout.behind else motor.x
    sides = (1.0, -1.0) if scene.motors > 1 else (1.0,)
    return np.array([[ahead, side * y, motor.z] for side in sides for y in can])


def _deck(scene: Scene) -> Iterator[Found]:
    """A board's deck over the can while its truck turns."""
    if scene.vehicle_kind not in FLAT or not scene.can_stands:
        return
    if scene.shafts[0].x <= 0.0 and not scene.layout.behind:  # beyond the truck, where the deck rises as it likes
        if not scene.layout.obstacles:
            yield unknown("can.deck", "can to deck", "the end of the deck is not drawn; add it as an obstacle")
        return
    deck = scene.deck_height
    if deck is None or deck.known is Known.ASSUMED:
        yield unknown("can.deck", "can to deck", "the height of the deck is not measured")
        return
    motor, ends = scene.shafts[0], truck_ends(scene)
    ahead = abs(motor.x)
    least, worst_at = math.inf, 0.0
    for lean in np.linspace(0.0, LEAN_RAD, 10):
        here = under_deck(ends, 0.5 * scene.can_m, AXIS_RAD, (0.0, 0.0, 0.0), deck_under_m(scene), float(lean))
        if here < least:
            least, worst_at = here, float(lean)
    swept = f"truck turned up to {math.degrees(LEAN_RAD):.0f}° of lean, least at {math.degrees(worst_at):.0f}°"
    tolerances = (motor.tolerance, tolerance_m(deck), scene.tyre_by, 0.002)  # bushings let the pivot move 2 mm
    at = (ahead, motor.z + 0.5 * scene.can_m, ahead, deck_under_m(scene))
    yield judged("can.deck", "can to deck", gap(least, tolerances), MOVING_M, swept=swept, at=at)


def crank_at(scene: Scene) -> tuple[float, float] | None:
    """Where the crank's axis stands; None for a vehicle without pedals."""
    if not KINDS[scene.vehicle_kind].pedals:
        return None
    spot = scene.layout.crank
    return (spot.x.value, spot.z.value) if spot is not None else (CRANK_AHEAD_M, CRANK_HIGH_M - scene.tyre_m)


def _cranks(scene: Scene) -> Iterator[Found]:
    """What stands in the circle of the cranks against their arms: the drive's outermost plane."""
    where, motor = crank_at(scene), scene.shafts[0]
    if where is None or not scene.can_stands:
        return
    x, z = where
    long = scene.layout.crank_length.value if scene.layout.crank_length is not None else CRANK_M
    reach = [(motor.x, motor.z, 0.5 * scene.can_m)]
    reach += [(wheel.round.x, wheel.round.y, wheel.outside) for run in scene.stages for wheel in run.path.wheels]
    if not any(math.hypot(a - x, b - z) < long + KICK_M + r for a, b, r in reach):
        return
    if scene.layout.tread is None:
        yield unknown("crank.drive", "drive to crank arms", "the tread between the crank arms is not measured")
        return
    out = max(abs(y) for lies in across(scene) for y in lies)
    nominal = inside_crank_m(scene.layout.tread.value, ARM_M, out)
    beside = tolerance_m(scene.layout.beside) if scene.layout.beside is not None else 0.001
    yield judged("crank.drive", "drive to crank arms", gap(nominal, (0.5 * tolerance_m(scene.layout.tread), beside, 0.001)), CRANK_GAP_M)


def across(scene: Scene) -> tuple[tuple[float, float], tuple[float, float]]:
    """(belts, can) of one drive across the vehicle, from the middle outwards [m]."""
    plate = scene.layout.plate.value if scene.layout.plate is not None else PLATE_M
    free = scene.layout.pulley_gap.value if scene.layout.pulley_gap is not None else PULLEY_GAP_M
    if scene.roller:  # in the tyre's plane, its can beside it: outwards of the one tyre, inwards of two
        several, clear = scene.wheels_on_axle > 1, scene.clear_width.value if scene.clear_width is not None else 0.2
        inner = 0.5 * clear if several else -0.5 * scene.tread_wide_m
        belts, away = (inner, inner + scene.tread_wide_m), free + plate
        can = (inner - away - scene.can_long_m, inner - away) if several else (belts[1] + away, belts[1] + away + scene.can_long_m)
    elif scene.wheels_on_axle > 1:
        out = 0.5 * (scene.clear_width.value if scene.clear_width is not None else 0.2)
        belts = out - scene.belt_m, out
        can = belts[0] - free - plate - scene.can_long_m, belts[0] - free - plate
    else:
        begin = scene.layout.beside.value if scene.layout.beside is not None else 0.5 * scene.tread_wide_m + BESIDE_TYRE_M
        belts = begin, begin + scene.belt_m
        can = begin - free - plate - scene.can_long_m, begin - free - plate
    return belts, can


def _beside(one: Obstacle, lies: tuple[float, float], *, both: bool) -> bool:
    """Whether an obstacle shares a plane with what lies between two distances from the middle, on either side where both are there."""
    sides = (lies, (-lies[1], -lies[0])) if both else (lies,)
    return any(one.right < high and low < one.left for low, high in sides)


def truck_path(scene: Scene, leans: Iterable[float]) -> list[tuple[float, float, float]]:
    """(lean [rad], ahead, up [m]) of the ends of a can on a truck that turns, either way."""
    ends, made = truck_ends(scene), []
    for lean in leans:
        _, turn = steer_rad(AXIS_RAD, lean)
        for sign in (-1.0, 1.0):
            made += [(lean, x, z) for x, _, z in turned(ends, AXIS_RAD, (0.0, 0.0, 0.0), sign * turn).tolist()]
    return made


def _obstacles(scene: Scene) -> Iterator[Found]:
    motor, radius = scene.shafts[0], 0.5 * scene.can_m
    belts, can = across(scene)
    both = scene.motors > 1
    flat = scene.vehicle_kind in FLAT and scene.can_m > 0.0 and motor.name == "motor"
    path = truck_path(scene, [LEAN_RAD * k / 9.0 for k in range(10)]) if flat and scene.layout.obstacles else []
    for k, one in enumerate(scene.layout.obstacles):
        if scene.can_m > 0.0 and motor.name == "motor" and _beside(one, can, both=both):
            nominal, swept, wide = to_obstacle(motor.x, motor.z, one) - radius, "", [motor.tolerance, one.tolerance]
            if path and one.z > 0.0:  # of the deck, under which the truck turns
                least, lean = min((to_obstacle(x, z, one) - radius, lean) for lean, x, z in path)
                if least < nominal - 1e-6:
                    nominal, wide = least, [*wide, 0.002]
                    swept = f"truck turned up to {math.degrees(LEAN_RAD):.0f}° of lean, least at {math.degrees(lean):.0f}°"
            yield judged(f"obstacle.{k}.can", f"can to {one.name}", gap(nominal, wide), STILL_M, swept=swept)
        for run in scene.stages if _beside(one, belts, both=both) else ():
            for n, span in enumerate(run.path.loop.spans):
                out = run.made.kind.back_m() if run.made.kind is not None else 1e-3 * (run.made.family.back_mm or 4.0)
                hang = math.sqrt(3.0 * span.length * SPAN_SLACK * span.length / 8.0) if n else 0.0
                nominal = _span_to_obstacle(span.begin, span.end, one) - out - hang
                many = len(run.path.loop.spans)
                side = "tight run" if n == 0 else "slack run" if many == 2 else f"run {n + 1}"
                by = (scene.shafts[run.position].tolerance, one.tolerance, 0.001)
                yield judged(f"obstacle.{k}.span.{run.position}.{n}", f"{side} to {one.name}", gap(nominal, by), MOVING_M)


def corners(one: Obstacle) -> list[tuple[float, float]]:
    """Of a box."""
    return [(one.x, one.z), (one.x2, one.z), (one.x2, one.z2), (one.x, one.z2)]


def to_obstacle(x: float, z: float, one: Obstacle) -> float:
    if one.shape == "circle":
        return math.hypot(x - one.x, z - one.z) - one.radius
    if one.shape == "line":
        return point_to_segment((x, z), (one.x, one.z), (one.x2, one.z2)) - one.radius
    inside = min(one.x, one.x2) <= x <= max(one.x, one.x2) and min(one.z, one.z2) <= z <= max(one.z, one.z2)
    points = corners(one)
    edge = min(point_to_segment((x, z), points[k], points[(k + 1) % 4]) for k in range(4))
    return -edge if inside else edge


def _span_to_obstacle(begin: tuple[float, float], end: tuple[float, float], one: Obstacle) -> float:
    if one.shape == "circle":
        return point_to_segment((one.x, one.z), begin, end) - one.radius
    if one.shape == "line":
        return segments_apart(begin, end, (one.x, one.z), (one.x2, one.z2)) - one.radius
    points = corners(one)
    return min(segments_apart(begin, end, points[k], points[(k + 1) % 4]) for k in range(4))
