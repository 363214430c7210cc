"""Simulate a run or a course."""

from __future__ import annotations

import math
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import charge_of, design_options, load, print_json, stock_catalogue, tell_case

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument(
        "--run",
        required=True,
        metavar="RUN",
        help="start, hill, full-climb, hold-grade, hold-speed, stop-go, stop; of a boat start, there-and-back, hold-speed, stop; "
        "a course of the brief, or a .gpx or .csv file",
    )
    parser.add_argument("--speed", default=None, help="instead of the goal's; a bare number is m/s")
    parser.add_argument("--grade", default=None, help="instead of the goal's; rise per run, or with %%")
    parser.add_argument("--charge", default=None, help="at the start: full, nominal, low or 0 to 1")
    parser.add_argument("--csv", type=Path, metavar="OUT", help="write the trace as CSV")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.json_data import ride_data
    from wattagon.exchange.ride_csv import write_csv
    from wattagon.exchange.track import read_track
    from wattagon.exchange.units import parse, say
    from wattagon.study.ride.study import END_WORDS, Ask, check_asked, goal_speed, ride, runs_of
    from wattagon.study.ride.words import balance_words, event_text, gear_words, limit_words

    design, stock = load(options), stock_catalogue()
    speed = parse(options.speed, "speed", field="--speed") if options.speed is not None else None
    check_asked("speed", speed, say, field="--speed", typed=options.speed)
    grade = parse(options.grade, "grade", field="--grade") if options.grade is not None else None
    check_asked("grade", grade, say, field="--grade", typed=options.grade)
    charge = charge_of(options.charge) if options.charge is not None else None
    course = None
    if options.run not in runs_of(design) and Path(options.run).suffix.lower() in (".gpx", ".csv", ".txt"):
        track = read_track(Path(options.run), speed_m_s=speed or goal_speed(design))
        course = track.course
        for note in track.notes:
            print(f"wattagon: {options.run}: {note}", file=sys.stderr)
    gears = design.variant().gears
    gear = gears.in_view if gears is not None and options.gear is not None else None
    ask = Ask(run=options.run, speed_m_s=speed, grade=grade, start_charge=charge, course=course, gear=gear)
    done = ride(design, stock, ask)
    tell_case(design, done.resolved)
    if options.csv is not None:
        write_csv(done, options.csv)
    data = ride_data(done, design)
    if options.json:
        print_json(data)
        return 0
    print(f"{design.vehicle.name}, variant {done.resolved.variant.id}: {done.name}; {END_WORDS[done.run.end]}")
    if words := balance_words(done.run):
        print(f"  {words}")
    print(
        f"  {say(done.time_s, 'time')}, {say(done.distance_m, 'distance')}, {done.energy_wh:.4g} Wh"
        + (f", range {say(done.range_m, 'distance')} like this" if math.isfinite(done.range_m) else "")
    )
    peak, hot = data["peak"], data["temperatures"]
    assert isinstance(peak, dict) and isinstance(hot, dict)
    print(
        f"  at most {say(peak['motor_a'], 'current')} motor amps each, "
        f"{say(peak['pack_a'], 'current')} pack amps, {say(peak['power_w'], 'power')}"
    )
    print("  hottest: " + ", ".join(f"{name.removesuffix('_max_c')} {value:.0f} °C" for name, value in hot.items() if value is not None))
    if words := gear_words(done):
        print(f"  {words}")
    for name, seconds in done.held_by():
        print(f"  held back by {limit_words(name)} for {say(seconds, 'time')}")
    for t, x, kind in done.run.events[:30]:
        print(f"  {t:8.1f} s {x + 0.0 if abs(x) >= 0.5 else 0.0:8.0f} m  {event_text(kind)}")
    return 0
