"""The links of a drive from the pack to the road or the water, with their words at the moment."""

from __future__ import annotations

import math

from wattagon.design.tree import Place
from wattagon.desk.session import Session
from wattagon.exchange.units import full, number_text
from wattagon.physics.point import OperatingPoint
from wattagon.record import record
from wattagon.study.drive.water import boat_in, prop_at
from wattagon.study.resolve import Resolved

STAGES = {"belt": "Belt", "chain": "Chain", "gear": "Gears", "planetary": "Planetary", "friction": "Roller", "direct": "Direct"}
PLACES = {
    Place.POD: "pod",
    Place.LEG: "leg",
    Place.RUDDER: "behind the rudder",
    Place.SKEG: "behind a skeg",
    Place.LONG_TAIL: "long tail",
    Place.SHAFT: "through the hull",
}


@record(frozen=True, slots=True)
class Link:
    """One link of the drive: its words, and where a click on it leads."""

    code: str
    name: str
    what: str
    values: str
    electrical: bool
    tip: str


def links_of(session: Session) -> list[Link]:
    """Links from the pack to the road or the water with their present values, in the user's units."""
    point = session.point
    resolved = session.resolved_now() if session.docs else None
    if resolved is None or point is None:
        return []
    made = [*_electrical(session, resolved, point), *_stages(session, resolved, point)]
    return made + (_water(session, resolved, point) if session.design.vehicle.kind.floats else _wheels(session, resolved, point))


def _electrical(session: Session, resolved: Resolved, point: OperatingPoint) -> list[Link]:
    say, unit_set = session.say, session.unit_set
    count, variant = int(resolved.train.count), resolved.variant
    many = "" if count == 1 else f"{count} × "
    return [
        Link(
            "pack",
            "Pack",
            f"{variant.pack.series}S{variant.pack.parallel}P, {say(float(resolved.train.pack.capacity_ah), 'capacity')}",
            f"{say(point.bus_v, 'voltage')}  {say(point.pack_a, 'current')}",
            True,
            f"{full(point.bus_v, 'voltage')}, {full(point.pack_a, 'current')}, {full(point.chemical_w, 'power')} from the cells",
        ),
        Link(
            "controller",
            "Controller" if count == 1 else "Controllers",
            "" if count == 1 else f"{count}",
            f"duty {point.duty:.0%}",
            True,
            f"duty {100 * point.duty:.5g} %, {full(point.motor_v, 'voltage')} at the motor",
        ),
        Link(
            "motor",
            "Motor" if count == 1 else "Motors",
            f"{many}{float(resolved.train.motor.kv_rpm_per_v):.4g} rpm/V",
            f"{point.motor_rad_s * 60 / math.tau:,.0f} rpm  {many}{say(point.motor_current_a, 'current')}",
            True,
            f"{full(point.motor_current_a, 'current')} motor amps each ({full(point.dc_current_a, 'current')} DC-equivalent), "
            f"{full(point.shaft_nm, 'torque', unit_set)}",
        ),
    ]


def _stages(session: Session, resolved: Resolved, point: OperatingPoint) -> list[Link]:
    count, made = int(resolved.train.count), []
    for k, stage in enumerate(resolved.variant.stages):
        name = STAGES[stage.kind.value]
        if count > 1 and not stage.shared and name in ("Belt", "Chain"):
            name += "s"
        what = f"{stage.driver_teeth} : {stage.driven_teeth}" if name not in ("Direct", "Roller") else ""
        if stage.freewheel:
            what += " freewheel"
        shaft = point.shafts[min(k + 1, len(point.shafts) - 1)]
        each = " each" if count > 1 else ""
        values = f"{session.say(shaft.torque_nm, 'torque')}{each}"
        tip = (
            f"{full(shaft.torque_nm, 'torque', session.unit_set)} at {shaft.speed_rad_s * 60 / math.tau:,.1f} "
            f"rpm, loss {full(shaft.loss_w * count, 'power')}"
        )
        made.append(Link("reduction", name, what.strip(), values, False, tip))
    return made


def _wheels(session: Session, resolved: Resolved, point: OperatingPoint) -> list[Link]:
    say, unit_set, wheels = session.say, session.unit_set, resolved.variant.motor.driven_wheels
    slope = "flat" if abs(point.grade) < 5e-4 else f"{say(abs(point.grade), 'grade')} {'up' if point.grade > 0 else 'down'}"
    return [
        Link(
            "wheel",
            "Wheel" if wheels == 1 else "Wheels",
            f"{say(2 * float(resolved.road.wheel_radius_m), 'length')} rolling",
            f"{say(point.thrust_n, 'force')} at the tread",
            False,
            f"{full(point.thrust_n, 'force', unit_set)}, {wheels} driven",
        ),
        Link(
            "road",
            "Road",
            f"{slope}, {_wind(session, point)}",
            say(point.speed_m_s, "speed"),
            False,
            full(point.speed_m_s, "speed", unit_set),
        ),
    ]


def _water(session: Session, resolved: Resolved, point: OperatingPoint) -> list[Link]:
    """Shaft with its seals, propeller, and the water that the hull goes through."""
    say, unit_set, choice = session.say, session.unit_set, resolved.variant.propeller
    assert choice is not None
    hull = session.design.vehicle.hull
    at, shaft = prop_at(resolved, point.speed_m_s, max(point.thrust_n, 0.0)), point.shafts[-1]
    many, each = ("", "") if choice.count == 1 else (f"{choice.count} × ", " each")
    screw = boat_in(resolved).screw
    size = f"{number_text(float(screw.diameter_m), 'length', unit_set)} × {say(float(screw.pitch_m), 'length')}"
    slip = "" if math.isnan(at.slip) else f", slip {at.slip:.0%}"
    return [
        Link(
            "shaft",
            "Shaft",
            PLACES[choice.place],
            f"{at.rpm:,.0f} rpm  {say(shaft.torque_nm, 'torque')}{each}",
            False,
            f"{full(shaft.torque_nm, 'torque', unit_set)} at {at.rpm:,.1f} rpm behind the seals, which take {full(shaft.loss_w, 'power')}",
        ),
        Link(
            "propeller",
            "Propeller" if choice.count == 1 else "Propellers",
            f"{many}{size}",
            f"{say(point.thrust_n, 'force')}{slip}",
            False,
            f"{full(at.thrust_n, 'force', unit_set)} of each, efficiency {at.efficiency:.1%}, advance ratio {at.advance:.3f}; "
            f"{full(point.thrust_n, 'force', unit_set)} of them push the hull",
        ),
        Link(
            "water",
            "Water",
            f"{'salt' if hull is not None and hull.salt else 'fresh'}, {_wind(session, point)}",
            say(point.speed_m_s, "speed"),
            False,
            f"{full(point.speed_m_s, 'speed', unit_set)} through the water",
        ),
    ]


def _wind(session: Session, point: OperatingPoint) -> str:
    return "calm" if abs(point.headwind_m_s) < 0.05 else f"wind {session.say(point.headwind_m_s, 'speed')}"
