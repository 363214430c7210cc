"""One belt or chain as it runs: its path with idlers, teeth in mesh, tension and how to set it, what jumps or shears, the slots."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple

from wattagon.design.tree import Idler, StageLayout
from wattagon.physics import belt, chain
from wattagon.physics.path import Loop, Round, loop_around
from wattagon.record import record
from wattagon.study.layout.place import FLANGE_M, Shaft, Stock

WARM_C = 60.0  # of a belt on a hot day beside a hot motor


class Wheel(NamedTuple):
    """A wheel of a path: what it is, its place [m], radius of the pitch line, and outside or back radius that is swept."""

    what: str  # driver, driven, idler
    round: Round
    outside: float
    teeth: int


class Drawn(NamedTuple):
    """The path: its wheels in the order of the loop, and the loop."""

    wheels: tuple[Wheel, ...]
    loop: Loop


@record(frozen=True, slots=True, kw_only=True)
class Running:
    """What a stage does; lengths in m, forces in N."""

    position: int
    made: Stock
    loop: int  # teeth of the belt, links of the chain
    length_m: float  # of that loop
    off_m: float  # by which its place does not fit it: above 0 the wheels stand too far apart
    centre_m: float
    fitting_m: float  # centre distance that fits; nan with idlers
    path: Drawn
    in_mesh: int  # of the smaller wheel
    span_m: float
    width_m: float | None
    pull_n: float  # at full motor amps
    installed_n: float
    tone_hz: float
    push_n: float
    push_m: float
    rest_n: float  # shaft load of the driver
    peak_n: float
    jump: belt.Jump | None
    warm_nm: float  # torque of its driver at which it jumps when it is warm
    capacity_n: float
    speed_m_s: float
    driver_rpm: float  # at the top speed of a nominal pack
    torque_nm: float  # of its driver at full motor amps
    slots: belt.Travel | None
    in_stock: bool
    shorter: tuple[int, float] | None  # next of stock: loop, centre distance
    longer: tuple[int, float] | None

    @property
    def wraps(self) -> tuple[float, ...]:
        return self.path.loop.wraps


def draw(made: Stock, driver: Shaft, driven: Shaft, idlers: Sequence[Idler]) -> Drawn:
    """The path around both wheels and the idlers, each on the span that it is nearest to, so that the loop is real."""
    ends = (
        _wheel("driver", driver.x, driver.z, made, made.driver_m, made.choice.driver_teeth),
        _wheel("driven", driven.x, driven.z, made, made.driven_m, made.choice.driven_teeth),
    )
    base = loop_around([wheel.round for wheel in ends])
    if not idlers:
        return Drawn(ends, base)
    guides = [_idler(made, one) for one in idlers]
    best: Drawn | None = None
    for sides in itertools.product((0, 1), repeat=len(guides)):
        order = [ends[0], *_along(ends[0], ends[1], guides, sides, 0), ends[1], *_along(ends[1], ends[0], guides, sides, 1)]
        loop = loop_around([wheel.round for wheel in order])
        found = Drawn(tuple(order), loop)
        if best is None or (loop.real, -_off(loop, base)) > (best.loop.real, -_off(best.loop, base)):
            best = found
    assert best is not None
    return best


def _off(loop: Loop, base: Loop) -> float:
    return abs(loop.length - base.length) if math.isfinite(loop.length) else math.inf


def _along(one: Wheel, other: Wheel, guides: list[Wheel], sides: tuple[int, ...], side: int) -> list[Wheel]:
    dx, dy = other.round.x - one.round.x, other.round.y - one.round.y
    mine = [guide for guide, at in zip(guides, sides, strict=True) if at == side]
    return sorted(mine, key=lambda guide: (guide.round.x - one.round.x) * dx + (guide.round.y - one.round.y) * dy)


def _wheel(what: str, x: float, z: float, made: Stock, diameter: float, teeth: int) -> Wheel:
    return Wheel(what, Round(x, z, 0.5 * diameter), 0.5 * made.outside_m(diameter), teeth)


def _idler(made: Stock, one: Idler) -> Wheel:
    radius = 0.5 * one.diameter.value
    line = made.kind.idler_radius_m(radius, inside=one.inside) if made.kind is not None else radius
    teeth = max(round(math.pi / math.asin(min(made.pitch_m / (2.0 * radius), 1.0))), 3) if made.kind is None else 0
    return Wheel("idler", Round(one.x.value, one.z.value, line, 1 if one.inside else -1), radius, teeth)


def length_along(made: Stock, path: Drawn) -> float:
    """Length of the loop that the path asks for [m]; of chain by its links; nan where its wheels stand too close for one."""
    if made.kind is not None or not path.loop.wraps:
        return path.loop.length
    return chain.links_of(path.loop, [wheel.teeth for wheel in path.wheels], made.pitch_m) * made.pitch_m


class Strain(NamedTuple):
    """What a stage is asked: torque of its driver at full motor amps, for good [N m], and turns at the top speed of a nominal pack."""

    peak_nm: float
    lasting_nm: float
    rpm: float


def run(
    position: int,
    made: Stock,
    told: StageLayout,
    loop: int,
    driver: Shaft,
    driven: Shaft,
    strain: Strain,
    in_stock: bool,
    shorter: tuple[int, float] | None,
    longer: tuple[int, float] | None,
    fitting_m: float,
    mount_m_n: float,
) -> Running:
    """All of one stage from its place."""
    path = draw(made, driver, driven, told.idlers)
    length, pitch = loop * made.pitch_m, made.pitch_m
    small = 0 if made.choice.driver_teeth <= made.choice.driven_teeth else 1
    places = [k for k, wheel in enumerate(path.wheels) if wheel.what in ("driver", "driven")]
    wrap_of = {path.wheels[k].what: (path.loop.wraps[k] if path.loop.wraps else math.nan) for k in places}
    wraps = wrap_of["driver"], wrap_of["driven"]
    teeth = made.choice.driver_teeth, made.choice.driven_teeth
    mesh = belt.teeth_in_mesh(teeth[small], wraps[small]) if math.isfinite(wraps[small]) else 0
    span = path.loop.spans[0].length if path.loop.spans else math.nan
    radius = 0.5 * made.driver_m
    pull = strain.peak_nm / radius
    rad_s = strain.rpm * math.pi / 30.0
    speed = rad_s * radius
    width = made.choice.width_mm / 1e3 if made.choice.width_mm is not None and made.kind is not None else None
    installed = tone = push = rest = peak = capacity = warm = math.nan
    jumped, slots = None, None
    deflection = span / 64.0
    if made.kind is not None and width is not None and math.isfinite(span):
        kind = made.kind
        installed = belt.installation_n(pull)
        tone = belt.tone_hz(kind, width, installed, span)
        push = belt.push_n(kind, width, installed, span, length, deflection)
        tight = span + 0.5 * (radius * wraps[0] + 0.5 * made.driven_m * wraps[1])
        two = belt.strands(installed, pull, tight, max(path.loop.length - tight, 1e-6))
        rest = belt.shaft_load_n(installed, installed, wraps[0])
        peak = belt.shaft_load_n(two.tight_n, two.slack_n, wraps[0])
        small_nm = 1.0 if small == 0 else made.driver_m / made.driven_m
        jumped = belt.jump(kind, width, teeth[small], mesh, length, installed, mount_m_n)
        jumped = belt.Jump(*(value * small_nm for value in jumped))
        warm = small_nm * belt.jump(kind, width, teeth[small], mesh, length, installed, mount_m_n, WARM_C).jump_nm
        capacity = belt.capacity_n(kind, width, mesh, speed)
        flange = told.flange.value if told.flange is not None else FLANGE_M
        slots = belt.slot_travel(kind, width, teeth[0], teeth[1], length, installed, flange)
    elif made.kind is None:
        pull = chain.chain_pull_n(strain.peak_nm, pitch, teeth[0], made.family.mass_kg, speed)
        rest, peak = 0.0, pull
        capacity = (made.family.breaking_n or math.nan) / chain.SAFE_PEAK
        if math.isfinite(fitting_m):
            hung = chain.centre_of_links_m(pitch, teeth[0], teeth[1], loop * 0.996)
            worn = chain.centre_of_links_m(pitch, teeth[0], teeth[1], loop * 1.02)
            slots = belt.Travel(hung, fitting_m, worn)
    return Running(
        position=position,
        made=made,
        loop=loop,
        length_m=length,
        off_m=length_along(made, path) - length,
        centre_m=math.hypot(driven.x - driver.x, driven.z - driver.z),
        fitting_m=fitting_m if not told.idlers else math.nan,
        path=path,
        in_mesh=mesh,
        span_m=span,
        width_m=width,
        pull_n=pull,
        installed_n=installed,
        tone_hz=tone,
        push_n=push,
        push_m=deflection,
        rest_n=rest,
        peak_n=peak,
        jump=jumped,
        warm_nm=warm,
        capacity_n=capacity,
        speed_m_s=speed,
        driver_rpm=strain.rpm,
        torque_nm=strain.peak_nm,
        slots=slots,
        in_stock=in_stock,
        shorter=shorter,
        longer=longer,
    )
