"""Rules on the water: propeller against motor, dock, depth, cavitation, tip speed, the hull's wall and its hump."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from wattagon.design.boats import BOATS
from wattagon.design.parts import PropellerPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import GoalKind, Place, VehicleKind
from wattagon.errors import InputError
from wattagon.physics.water.hull import WALL_FROUDE, slenderness, wall_speed_m_s
from wattagon.physics.water.limits import TIP_NOTE_M_S, TIP_WARN_M_S, Cavitation, blade_root, heel_rad, long_tail
from wattagon.physics.water.propeller import Blades, chord_ratio, open_water_of, thickness_ratio
from wattagon.study.drive.rules.rests import MASS, PULL
from wattagon.study.drive.water import Prop, boat_in, cavitates, dock_factors, held_motor_a, loaded_share, over_hump_m_s, prop_at
from wattagon.study.findings.rule import Case, Rule, Verdict, unknown
from wattagon.study.findings.status import Status
from wattagon.study.resolve import CHARGE_STATES
from wattagon.study.resolve.boat import open_water_rows, propeller_depth_m, propeller_of

OVER_PROPPED, UNDER_PROPPED = 0.70, 0.93  # turns at full throttle, of those without load
# what blades bear at the root, layers across the blade where printed; half of it for hours in the wet; typical
BEARS_PA, WET_SHARE = {"moulded": 25e6, "printed_filled": 8e6, "printed": 8e6}, 0.5
WORDS = {"moulded": "a moulding with glass", "printed_filled": "a print", "printed": "a print"}
BLADE_SHARE = 0.6  # of a propeller's mass that is blades
METACENTRE_M = {  # above the centre of mass, typical
    VehicleKind.CANOE: 0.2,
    VehicleKind.FLAT_BOTTOMED: 0.45,
    VehicleKind.INFLATABLE: 0.6,
    VehicleKind.PLANING_SKIFF: 0.45,
    VehicleKind.TWIN_HULL: 1.5,
}
HEEL_DEG, TAIL_DEG = 3.0, 15.0
SLENDER = 8.0  # hulls that pass the wall without drama
NOMINAL = CHARGE_STATES["nominal"]
SCREW = ("diameter_m", "pitch_m", "area_ratio", "wake", "deduction", "cd0")
HULL = ("waterline_length", "surface_factor", "form", "hull_factor", "appendage_area", "drag_area")


def part_of(case: Case) -> PropellerPart:
    """The propeller that is on it, with what is known better of it than stock tells."""
    return case.made("propeller", lambda: propeller_of(case.study.resolved.variant, case.stock)[1])


def _depth_m(case: Case) -> float | None:
    hull, choice = case.design.vehicle.hull, case.study.resolved.variant.propeller
    assert hull is not None and choice is not None
    return propeller_depth_m(hull, choice)


def held_fast(case: Case) -> Prop:
    """A propeller at full throttle on a full pack, held fast."""
    return case.made("held fast", lambda: prop_at(case.study.resolved, 0.0, case.study.docks["full"].pull_n))


def running_n(case: Case) -> float:
    """What the boat takes at the top speed of a full pack [N]."""
    resolved, top = case.study.resolved, case.study.states["full"].top_speed_m_s
    return case.made("running", lambda: max(float(resolved.load.resistance_n(top, 0.0, resolved.headwind_m_s)), 0.0))


def running(case: Case) -> Prop:
    """A propeller at the top speed of a full pack."""
    top = case.study.states["full"].top_speed_m_s
    return case.made("prop running", lambda: prop_at(case.study.resolved, top, running_n(case)))


def _others(case: Case, *, smaller: bool) -> tuple[Edit, ...]:
    """Propellers of stock that take less torque at a turn, or more: D^4 times pitch; the nearest first."""
    now = part_of(case)
    takes = lambda part: part.diameter_m**4 * part.pitch_m
    fit = [part for part in case.stock.all(PropellerPart) if (takes(part) < takes(now)) == smaller and part.id != now.id]
    fit.sort(key=lambda part: abs(math.log(takes(part) / takes(now))))
    choice = case.study.resolved.variant.propeller
    assert choice is not None
    return tuple(Edit(label=part.name, changes=(("variant.propeller", choice.other(part.id)),)) for part in fit[:10])


def match(case: Case) -> Verdict:
    """Turns at full throttle at the top speed against those without load, and the current against what lasts."""
    resolved, top = case.study.resolved, case.study.states["nominal"].top_speed_m_s
    share = loaded_share(resolved, top, NOMINAL)
    lasting, amps = resolved.motor_part.current_continuous_a, held_motor_a(resolved, top)
    if share < OVER_PROPPED:
        title = f"Over-propped: full throttle turns it at {share:.0%} of its free speed, 80 to 90 % is right: less pitch, diameter or kv"
        margin = share / OVER_PROPPED - 1.0
        return Verdict(status=Status.OVER, title=title, margin=margin, candidates=lambda: _others(case, smaller=True))
    if share > UNDER_PROPPED and (lasting is None or amps < 0.5 * lasting):
        title = (
            f"Under-propped: full throttle turns it at {share:.0%} of its free speed with little current; more pitch or diameter would pull"
        )
        margin = (1.0 - share) / (1.0 - UNDER_PROPPED) - 1.0
        return Verdict(status=Status.TIGHT, title=title, margin=margin, candidates=lambda: _others(case, smaller=False))
    title = f"Full throttle turns the propeller at {share:.0%} of its free speed, 80 to 90 % is best"
    return Verdict(status=Status.CLEAR, title=title, margin=min(share / OVER_PROPPED - 1.0, 0.3))


def at_dock(case: Case) -> Verdict:
    """Amps of one motor held fast at full throttle, as by weed or a rope, against what it bears for good."""
    found, lasting = case.study.docks["full"], case.study.resolved.motor_part.current_continuous_a
    if lasting is None:
        return unknown("Stuck at full throttle: the motor's lasting amps are not stated")
    margin = 1.0 - found.motor_a / lasting
    status = Status.CLEAR if margin >= 0.0 else Status.TIGHT
    title = (
        f"Stuck at full throttle it takes {case.say(found.motor_a, 'current')} motor amps, bears {case.say(lasting, 'current')} for good"
    )
    if status is Status.TIGHT:
        title += ": let go within a minute"
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: _others(case, smaller=True))


def dock_test(case: Case) -> Verdict | None:
    """What the dock test made of the propeller against what the design takes; taking the factors is a change of its own."""
    choice = case.study.resolved.variant.propeller
    assert choice is not None
    try:
        found = dock_factors(case.design, case.stock, case.study.resolved)
    except InputError as refusal:
        return unknown(f"Dock test not taken: {refusal}")
    if found is None:
        return None
    names, off, words = ("thrust_factor", "torque_factor"), 0.0, []
    for name, factor in zip(names, found, strict=True):
        given = getattr(choice, name)
        off = max(off, abs((1.0 if given is None else given.value) - factor.value) / max(factor.error, 0.01 * factor.value))
        words.append(f"{'pull' if name == 'thrust_factor' else 'torque'} {factor.value:.2f} ± {factor.error:.2f} of the forecast")
    status = Status.CLEAR if off <= 3.0 else Status.TIGHT
    taken = "as the design has it" if status is Status.CLEAR else "the design has it otherwise"
    fresh: dict[str, Any] = {
        name: Quantity(value=factor.value, known=Known.FITTED, tolerance=factor.error) for name, factor in zip(names, found, strict=True)
    }
    edit = Edit(label="Take the dock test's factors", changes=(("variant.propeller", replace(choice, **fresh)),))
    title = f"Dock test: {', '.join(words)}, {taken}"
    return Verdict(status=status, title=title, margin=1.0 - off / 3.0, candidates=lambda: (edit,))


def own_table(case: Case) -> Verdict | None:
    """Whether the propeller's own open-water table was taken, and why not."""
    choice = case.study.resolved.variant.propeller
    assert choice is not None
    rows = open_water_rows(choice)
    if not rows:
        return None
    try:
        best, share = open_water_of(rows).best()
    except InputError as refusal:
        return unknown(f"Open-water table not taken, its shape is: {refusal}")
    return Verdict(
        status=Status.CLEAR, title=f"Propeller by its own table of {len(rows)} rows: best {share:.0%} in open water, at J {best:.2f}"
    )


def depth(case: Case) -> Verdict:
    """How deep the propeller works: air is drawn where its tip is near the surface."""
    down, size = _depth_m(case), part_of(case).diameter_m
    if down is None:
        return unknown("Depth of the propeller is not measured: whether it draws air is not known")
    status = Status.OVER if down < 0.5 * size else Status.TIGHT if down < size else Status.CLEAR
    title = f"Propeller {case.say(down, 'length')} under the surface, one diameter is {case.say(size, 'length')}"
    if status is not Status.CLEAR:
        title += ": its blades come out of the water" if status is Status.OVER else ": hard throttle and turns draw air"
    return Verdict(status=status, title=title, margin=down / size - 1.0, candidates=lambda: _others(case, smaller=True))


def _bubbles(case: Case) -> Cavitation:
    """Loading of the blades at the top speed."""
    part, top = part_of(case), case.study.states["full"].top_speed_m_s
    down = _depth_m(case) or part.diameter_m
    return case.made("bubbles", lambda: cavitates(case.study.resolved, top, max(running_n(case), 1e-6), down, part.area_ratio, part.blades))


def cavitation(case: Case) -> Verdict:
    """Loading of the blades at the top speed against the line from where bubbles take thrust."""
    found, top = _bubbles(case), case.study.states["full"].top_speed_m_s
    share = float(found.loading) / max(float(found.most), 1e-9)
    status = Status.OVER if share > 1.0 else Status.TIGHT if share > 0.75 else Status.CLEAR
    title = f"Blades loaded to {share:.0%} of what they bear without bubbles at {case.say(top, 'speed')}; known within a quarter"
    return Verdict(status=status, title=title, margin=1.0 - share)


def tip(case: Case) -> Verdict:
    """Speed of the blade tips."""
    speed = float(_bubbles(case).tip_m_s)
    status = Status.OVER if speed > TIP_WARN_M_S else Status.TIGHT if speed > TIP_NOTE_M_S else Status.CLEAR
    title = (
        f"Blade tips run at {case.say(speed, 'speed')}, above {case.say(TIP_WARN_M_S, 'speed')} they draw air and bubbles near the surface"
    )
    return Verdict(status=status, title=title, margin=1.0 - speed / TIP_WARN_M_S, candidates=lambda: _others(case, smaller=False))


def blade(case: Case) -> Verdict | None:
    """Bending at the root of a printed or moulded blade: at the dock for a minute, at the top speed for hours in the wet."""
    part = part_of(case)
    if part.make not in BEARS_PA:
        return None
    bears = BEARS_PA[part.make]
    cases = (
        (_root_pa(part, held_fast(case)), bears, "held fast at full throttle"),
        (_root_pa(part, running(case)), WET_SHARE * bears, "for hours at full speed"),
    )
    stress, bears, when = max(cases, key=lambda one: one[0] / one[1])
    margin = 1.0 - stress / bears
    status = Status.OVER if margin < 0.0 else Status.TIGHT if margin < 0.2 else Status.CLEAR
    title = f"Blade roots see {stress / 1e6:.1f} MPa {when}, {WORDS[part.make]} bears {bears / 1e6:.1f} MPa"
    return Verdict(status=status, title=title, margin=margin, candidates=lambda: _of_metal(case))


def _root_pa(part: PropellerPart, at: Prop) -> float:
    """The worst stress at the root of a blade at work [Pa]."""
    shape = Blades(
        diameter_m=part.diameter_m, pitch_m=part.pitch_m, blades=part.blades, area_ratio=part.area_ratio, hub_ratio=part.hub_ratio
    )
    found = blade_root(
        at.thrust_n,
        at.torque_nm,
        at.rpm / 60.0,
        diameter_m=part.diameter_m,
        pitch_m=part.pitch_m,
        blades=part.blades,
        at=part.hub_ratio,
        chord_m=float(chord_ratio(shape, part.hub_ratio)) * part.diameter_m,
        thickness_m=float(thickness_ratio(shape, part.hub_ratio)) * part.diameter_m,
        blade_kg=BLADE_SHARE * part.mass_kg / part.blades,
    )
    return float(max(found.compression_pa, found.tension_pa + found.centrifugal_pa))


def _of_metal(case: Case) -> tuple[Edit, ...]:
    """Propellers of stock of about the same size that are cast or machined."""
    now = part_of(case)
    fit = [part for part in case.stock.all(PropellerPart) if part.make in ("cast", "machined")]
    fit.sort(key=lambda part: abs(math.log(part.diameter_m / now.diameter_m)) + abs(math.log(part.pitch_m / now.pitch_m)))
    choice = case.study.resolved.variant.propeller
    assert choice is not None
    return tuple(Edit(label=part.name, changes=(("variant.propeller", choice.other(part.id)),)) for part in fit[:4])


def heel(case: Case) -> Verdict | None:
    """Heel from the torque of the propellers at full throttle; two that turn against each other have none."""
    choice, boat = case.study.resolved.variant.propeller, boat_in(case.study.resolved)
    if choice is None or choice.count % 2 == 0:
        return None
    torque = held_fast(case).torque_nm
    stiff = METACENTRE_M[case.design.vehicle.kind]
    angle = math.degrees(float(heel_rad(torque, float(boat.mass_kg), stiff)))
    status = Status.TIGHT if angle > HEEL_DEG else Status.CLEAR
    title = f"Torque of the propeller heels it by {angle:.1f}° at full throttle, {case.say(torque, 'torque')}; its stiffness is typical"
    return Verdict(status=status, title=title, margin=1.0 - angle / HEEL_DEG)


def yaw(case: Case) -> Verdict | None:
    """Turning moment of one drive beside the centre line."""
    hull, choice = case.design.vehicle.hull, case.study.resolved.variant.propeller
    assert hull is not None and choice is not None
    if choice.count != 1:
        return None
    held, off = case.study.docks["full"], abs(hull.off_centre.value)
    if off == 0.0:
        return Verdict(status=Status.CLEAR, title="The drive pushes along the centre line", margin=0.0)
    share = off / (0.5 * hull.waterline_beam.value)
    title = f"{case.say(off, 'length')} beside the centre line the drive turns the boat with {case.say(held.pull_n * off, 'torque')}"
    return Verdict(status=Status.TIGHT if share > 0.1 else Status.CLEAR, title=title, margin=0.1 - share)


def tail(case: Case) -> Verdict | None:
    """Angle of a long tail's shaft: what it lifts, and blades that see uneven water."""
    choice = case.study.resolved.variant.propeller
    assert choice is not None
    if choice.place is not Place.LONG_TAIL:
        return None
    if choice.tilt is None:
        return unknown("Angle of the long tail is not measured: what it lifts and how its blades see the water is not known")
    angle = choice.tilt.value
    found = long_tail(1.0, angle, 0.0, case.study.docks["full"].pull_n / max(math.cos(angle), 1e-9))
    degrees = math.degrees(angle)
    status = Status.TIGHT if degrees > TAIL_DEG else Status.CLEAR
    title = f"At {degrees:.0f}° the tail lifts the stern with {case.say(float(found.lift_n), 'force')} at full throttle"
    if status is Status.TIGHT:
        title += "; above 15° its blades see uneven water and shake"
    return Verdict(status=status, title=title, margin=1.0 - degrees / TAIL_DEG)


def _asked_m_s(case: Case) -> float:
    """The fastest speed through the water that a goal asks for."""
    kinds = (GoalKind.TOP_SPEED, GoalKind.CRUISE, GoalKind.UPSTREAM)
    return max(((r.goal.speed or 0.0) + (r.goal.current or 0.0) for r in case.study.goals if r.goal.kind in kinds), default=0.0)


def wall(case: Case) -> Verdict | None:
    """A speed that is asked of a floating hull against that at which its wave is as long as it."""
    hull, facts = case.design.vehicle.hull, BOATS[case.design.vehicle.kind]
    asked = _asked_m_s(case)
    if facts.planes or hull is None or asked <= 0.0:
        return None
    length, boat = hull.waterline_length.value, boat_in(case.study.resolved)
    limit = float(wall_speed_m_s(length))
    slim = float(slenderness(length, float(boat.mass_kg) / facts.hulls / float(boat.kg_m3)))
    margin = 1.0 - asked / limit
    status = Status.CLEAR if margin >= 0.0 or slim >= SLENDER else Status.TIGHT
    title = f"{case.say(asked, 'speed')} asked, the hull's own wave holds it at about {case.say(limit, 'speed')}"
    if status is Status.TIGHT:
        title += ": twice the power would bring about 12 %"
    return Verdict(status=status, title=title, margin=margin)


def hump(case: Case) -> Verdict | None:
    """Whether what holds a speed beyond the hump also gets there from rest."""
    if not BOATS[case.design.vehicle.kind].planes:
        return None
    reached, beyond = case.study.states["nominal"].top_speed_m_s, over_hump_m_s(case.study.resolved, NOMINAL)
    asked = _asked_m_s(case)
    if math.isnan(beyond):
        return Verdict(status=Status.CLEAR, title=f"No hump between rest and {case.say(reached, 'speed')} that it does not pass")
    status = Status.OVER if reached < asked <= beyond else Status.TIGHT
    title = f"It stays before the hump at {case.say(reached, 'speed')}; {case.say(beyond, 'speed')} would hold only if helped over it"
    return Verdict(status=status, title=title, margin=reached / beyond - 1.0)


def _rule(code: str, link: str, because: str, judge, rests: tuple[str, ...]) -> Rule:  # type: ignore[no-untyped-def]
    return Rule(code=code, bench="drive", link=link, because=because, judge=judge, rests=rests, on="water")


RULES: tuple[Rule, ...] = (
    _rule(
        "prop.match",
        "propeller",
        "A motor is near its best where its load takes a tenth to a fifth of its speed.",
        match,
        (*PULL, *SCREW, *HULL),
    ),
    _rule(
        "prop.dock",
        "motor",
        "Weed, a rope or a quay hold the boat while the motor pulls: more current than under way.",
        at_dock,
        (*PULL, *SCREW),
    ),
    _rule(
        "prop.dock_test",
        "propeller",
        "Pull goes with the square of the turns; steps off that law mean air at the blades. People clear of rope and propeller.",
        dock_test,
        SCREW,
    ),
    _rule(
        "prop.open_water",
        "propeller",
        "A table of its own takes the place of what its shape gives; too few rows, or rows that no propeller has, are not taken.",
        own_table,
        SCREW,
    ),
    _rule(
        "prop.depth",
        "propeller",
        "Typical: the shaft at least one diameter down. Reverse and swimmers: the propeller cuts, lanyard on.",
        depth,
        (*SCREW, "propeller_depth"),
    ),
    _rule(
        "prop.cavitation",
        "propeller",
        "After a common fit to trade propellers, about five per cent of the back.",
        cavitation,
        (*PULL, *SCREW, *HULL),
    ),
    _rule(
        "prop.tip",
        "propeller",
        "Direct drive of a fast motor breaks this first: a reduction or less kv helps.",
        tip,
        (*PULL, *SCREW, *HULL),
    ),
    _rule(
        "prop.blade",
        "propeller",
        "Under the pull of the dock, not of cruising; a strike is not covered at all. Never stand in the plane of a printed propeller.",
        blade,
        (*PULL, *SCREW),
    ),
    _rule(
        "boat.heel",
        "water",
        "Big slow propellers on narrow hulls want weight across, or a pair turning opposite ways.",
        heel,
        (*MASS, *PULL, *SCREW),
    ),
    _rule("boat.yaw", "water", "Thrust times its distance from the centre line; steering holds against it.", yaw, (*PULL, "off_centre")),
    _rule("prop.tail", "shaft", "Thrust forwards is its cosine; balance the tail about its pivot, guard it.", tail, (*PULL, "tilt")),
    _rule(
        "hull.wall",
        "water",
        f"At a length Froude number of {WALL_FROUDE:.2f} drag grows with the fourth to sixth power.",
        wall,
        (*MASS, *HULL),
    ),
    _rule(
        "hull.hump",
        "water",
        "Found by going up from rest in small steps; the model of the blend is known within a quarter.",
        hump,
        (*PULL, *SCREW, *HULL),
    ),
)
