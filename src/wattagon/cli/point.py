"""One operating point."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wattagon.cli.shared import charge_of, design_options, load, print_json, stock_catalogue, tell_case
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--speed", required=True, help="such as 8, '25 km/h' or '5 mph'; a bare number is m/s")
    parser.add_argument("--grade", default="0", help="rise per run, or with %%")
    parser.add_argument("--wind", default=None, help="headwind; a bare number is m/s")
    parser.add_argument("--charge", default="nominal", help="full, nominal, low or 0 to 1")
    parser.add_argument("--throttle", default=None, help="0 to 1, a share of the motor-amp limit; without it the speed is held")
    parser.add_argument(
        "--lasting", action="store_true", help="held for long: lasting currents, and the pack's resistance after minutes instead of seconds"
    )
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.json_data import point_data, prop_data
    from wattagon.exchange.units import parse, say
    from wattagon.study.drive.study import point_at
    from wattagon.study.resolve import resolve

    design = load(options)
    speed, grade = parse(options.speed, "speed", field="--speed"), parse(options.grade, "grade", field="--grade")
    if not 0.0 <= speed <= 100.0:
        raise InputError("--speed", options.speed, "0 to 100 m/s")
    if not -1.0 <= grade <= 1.0:
        raise InputError("--grade", options.grade, "-1 to 1 rise per run")
    throttle = parse(options.throttle, "share", field="--throttle") if options.throttle is not None else None
    if throttle is not None and not 0.0 <= throttle <= 1.0:
        raise InputError("--throttle", options.throttle, "0 to 1")
    floats = design.vehicle.kind.floats
    if floats and grade != 0.0:
        raise InputError("--grade", options.grade, "none: water is level")
    wind = parse(options.wind, "speed", field="--wind") if options.wind is not None else None
    resolved = resolve(design, stock_catalogue())
    tell_case(design, resolved)
    point = point_at(
        resolved,
        speed_m_s=speed,
        grade=grade,
        charge=charge_of(options.charge),
        headwind_m_s=wind,
        throttle=throttle,
        burst=not options.lasting,
    )
    if options.json:
        data = point_data(point)
        if floats:
            data["prop"] = prop_data(resolved, point.speed_m_s, point.thrust_n)
        print_json(data)
        return 0
    on = "" if floats else f" on {say(point.grade, 'grade')}"
    print(f"{say(point.speed_m_s, 'speed')}{on}: {'held' if point.held else 'not held'}, by {point.limit}")
    if floats:
        prop = prop_data(resolved, point.speed_m_s, point.thrust_n)
        print(f"  propeller at {prop['rpm']:.0f} rpm, advance {prop['advance']:.2f}, efficiency {prop['efficiency']:.0%}")
    print(
        f"  pack {say(point.bus_v, 'voltage')} {say(point.pack_a, 'current')}, motor amps "
        f"{say(point.motor_current_a, 'current')} each, duty {point.duty:.0%}"
    )
    print(f"  thrust {say(point.thrust_n, 'force')}, bus {say(point.bus_w, 'power')}, losses {say(point.losses.total, 'power')}")
    if point.rider_w:
        print(f"  the rider gives {say(point.rider_w, 'power')} at the pedals")
    why = "of the first seconds, burst currents (--lasting for long)" if point.burst else "after minutes, lasting currents"
    print(f"  pack resistance {say(point.pack_ohm, 'resistance')} with its leads, {why}")
    return 0
