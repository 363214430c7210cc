"""The terminal: the same studies as the window, as text or JSON in SI."""

from __future__ import annotations

import json
import math
import os
import sys
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wattagon import __version__, plain
from wattagon.errors import FileError, InputError, WattagonError

if TYPE_CHECKING:
    import argparse

    from wattagon.design.catalogue import Catalogue
    from wattagon.design.tree import Design
    from wattagon.study.finder.wishes import Wishes

COMMANDS = ("new", "solve", "point", "check", "ride", "find", "schema", "stock")


def entry() -> None:
    """Console entry point."""
    sys.exit(main(sys.argv[1:]))


def main(arguments: Sequence[str]) -> int:
    """Run one command; 0 when done, 1 when --fail-on was met, 2 when something is refused (one sentence on stderr)."""
    plain.any_terminal()
    try:
        if arguments and arguments[0] in COMMANDS:
            options = _parser().parse_args(arguments)
            return int(options.run_command(options))
        return _window(arguments)
    except WattagonError as refusal:
        print(f"wattagon: {refusal}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0


def _parser_class() -> type[argparse.ArgumentParser]:
    import argparse  # a fiftieth of the window's start, and the window seldom needs it

    class Parser(argparse.ArgumentParser):
        """One sentence instead of a usage block."""

        def error(self, message: str) -> Any:
            raise InputError("the command line", message, f"see {self.prog} --help")

    return Parser


def _window(arguments: Sequence[str]) -> int:
    if list(arguments) in ([], ["--demo"]) or (len(arguments) == 1 and not arguments[0].startswith("-")):
        return _show(Path(arguments[0]) if arguments and arguments[0] != "--demo" else None, demo=bool(arguments) and arguments[0] == "--demo")
    parser = _parser_class()(
        prog="wattagon",
        description="Design a scratch-built electric drive.",
        epilog=f"Commands: {', '.join(COMMANDS)}; each has --help.",
    )
    parser.add_argument("file", nargs="?", type=Path, help="a .wattagon file or a design.json")
    parser.add_argument("--demo", action="store_true", help="open the demo fleet")
    parser.add_argument("--picture", type=Path, metavar="PNG", help="write a picture of the window instead of showing it")
    parser.add_argument("--version", action="version", version=f"wattagon {__version__}")
    options = parser.parse_args(arguments)
    return _show(options.file, demo=options.demo, picture=options.picture)


def _show(path: Path | None, *, demo: bool, picture: Path | None = None) -> int:
    if path is not None and not os.path.isfile(path):  # said before a window is tried: it may be a command with a slip in it
        import difflib

        near = difflib.get_close_matches(str(path), COMMANDS, n=1)
        also = f"; did you mean the command {near[0]}?" if near else f", and no command: {', '.join(COMMANDS)}"
        raise FileError(f"{str(path)[:200]!r} is no file{also}")
    load_core()
    from wattagon.desk.app import run

    return run(path, demo=demo, picture=picture)


def load_core() -> None:
    """Load the core before Qt, whose binding reads the source of every module that is imported after it.

    Looking for garbage meanwhile would take a fifth of the start; the window switches that on again.
    """
    import gc

    gc.disable()
    from wattagon.study import findings, levers

    assert findings and levers


def _parser() -> argparse.ArgumentParser:
    kind = _parser_class()
    parser = kind(prog="wattagon")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=kind)

    new = commands.add_parser("new", help="write a new design of a kind")
    new.add_argument("kind")
    new.add_argument("out", type=Path)
    new.set_defaults(run_command=_new)

    solve = commands.add_parser("solve", help="speeds, forces and goals")
    _design_options(solve)
    solve.add_argument("--json", action="store_true")
    solve.add_argument("--envelope", action="store_true", help="add the edge of each charge state (with --json)")
    solve.set_defaults(run_command=_solve)

    point = commands.add_parser("point", help="one operating point")
    _design_options(point)
    point.add_argument("--speed", required=True, help="such as 8, '25 km/h' or '5 mph'; a bare number is m/s")
    point.add_argument("--grade", default="0", help="rise per run, or with %%")
    point.add_argument("--wind", default=None, help="headwind; a bare number is m/s")
    point.add_argument("--charge", default="nominal", help="full, nominal, low or 0 to 1")
    point.add_argument("--throttle", default=None, help="0 to 1, a share of the motor-amp limit; without it the speed is held")
    point.add_argument("--lasting", action="store_true", help="held for long: lasting currents, and the pack's resistance after minutes instead of seconds")
    point.add_argument("--json", action="store_true")
    point.set_defaults(run_command=_point)

    check = commands.add_parser("check", help="findings with cures")
    _design_options(check)
    check.add_argument("--json", action="store_true")
    check.add_argument("--fail-on", choices=("over", "tight"), help="exit code 1 when a finding is that bad or worse")
    check.add_argument("--no-rides", action="store_true", help="leave out the findings that need a simulation")
    check.set_defaults(run_command=_check)

    ride = commands.add_parser("ride", help="simulate a run or a course")
    _design_options(ride)
    ride.add_argument("--run", required=True, metavar="RUN", help="start, hill, full-climb, hold-grade, hold-speed, stop-go, stop, a course of the brief, or a .gpx or .csv file")
    ride.add_argument("--speed", default=None, help="instead of the goal's; a bare number is m/s")
    ride.add_argument("--grade", default=None, help="instead of the goal's; rise per run, or with %%")
    ride.add_argument("--charge", default=None, help="at the start: full, nominal, low or 0 to 1")
    ride.add_argument("--csv", type=Path, metavar="OUT", help="write the trace as CSV")
    ride.add_argument("--json", action="store_true")
    ride.set_defaults(run_command=_ride)

    find = commands.add_parser("find", help="search every combination of stock for the goals")
    _design_options(find)
    find.add_argument("--limit", type=int, default=20, metavar="N", help="hits to print; 20 without it")
    find.add_argument(
        "--objective", action="append", default=[], metavar="O",
        help="cost, mass, margin, range, speed, grade, lasting, reused; several may be given, the first two span the front",
    )  # fmt: skip
    find.add_argument("--shelf", default="prefer", metavar="HOW", help="what is owned: prefer (free), use (of its kinds nothing else), only (nothing is bought) or ignore")
    find.add_argument("--use", action="append", default=[], metavar="PART", help="id of a part that must be used; of several of a kind, one")
    find.add_argument("--without", action="append", default=[], metavar="PART", help="id of a part to leave out")
    find.add_argument("--school", action="append", default=[], metavar="S", help="direct, belt, chain, two (stages); all without it")
    find.add_argument("--by", metavar="DATE", help="only parts that can arrive by a date, such as 2027-03-01, or in days, such as 14")
    find.add_argument("--wheels", action="store_true", help="try the other wheels of the family as well")
    find.add_argument("--teeth", metavar="LEAST:MOST", help="limits on driver and driven teeth, such as 14:72")
    find.add_argument("--gap", metavar="LENGTH", help="from the driven pulley to the ground; 10 mm, rough ground 25 mm without it")
    find.add_argument("--climb", metavar="TIME", help="how long the first climb must last before the motor is too hot; 10 min without it, 0 for never mind")
    find.add_argument(
        "--margin", action="append", default=[], metavar="OF=SHARE", help="room on goals, volts, amps, rpm or pull, such as volts=10%%; a bare share is for all of them"
    )
    find.add_argument("--json", action="store_true")
    find.set_defaults(run_command=_find)

    schema = commands.add_parser("schema", help="print the JSON Schema of a design")
    schema.set_defaults(run_command=_schema)

    stock = commands.add_parser("stock", help="list the stock catalogue")
    stock.add_argument("kind", nargs="?")
    stock.add_argument("--json", action="store_true")
    stock.set_defaults(run_command=_stock)
    return parser


def _design_options(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("file", type=Path)
    parser.add_argument("--variant", metavar="V", help="id of the variant; the active one without it")
    parser.add_argument(
        "--set", action="append", default=[], metavar="PATH=VALUE",
        help="override any field of the design for this run; LIST.+=ITEM adds, LIST.ITEM=none takes out, such as variant.stages.+='belt 5M 15:72'",
    )


def _stock_catalogue() -> Catalogue:
    from wattagon.design import catalogue

    stock = catalogue.load(catalogue.own_folder())
    for row in stock.bad_rows:
        print(f"wattagon: skipped {row}", file=sys.stderr)
    return stock


def _load(options: argparse.Namespace) -> Design:
    from wattagon.design import file
    from wattagon.exchange.set_text import set_from_text

    document = file.read(options.file)
    for words in document.aside:
        print(f"wattagon: {options.file}: set aside: {words}", file=sys.stderr)
    design = document.design
    if options.variant is not None:
        design = replace(design, active=design.variant(options.variant).id)
    for assignment in options.set:
        design = set_from_text(design, assignment)
    variant = design.variant()
    if variant.wheel is not None and any(item.startswith("vehicle.tyre_") for item in options.set):
        print(
            f"wattagon: vehicle.tyre_diameter is not used: variant {variant.id} takes its wheel from stock "
            "(set variant.wheel.diameter_m)",
            file=sys.stderr,
        )  # fmt: skip
    return design


def _new(options: argparse.Namespace) -> int:
    from wattagon.design import file
    from wattagon.design.template import new_design
    from wattagon.design.tree import VehicleKind

    try:
        kind = VehicleKind(options.kind.replace("-", "_"))
    except ValueError:
        raise InputError("KIND", options.kind, ", ".join(VehicleKind)) from None
    if os.path.lexists(options.out):
        raise InputError("OUT", options.out, "a file that is not there yet")
    file.write(options.out, file.Document(design=new_design(kind, options.out.stem)))
    print(f"{options.out}: a {kind.value.replace('_', ' ')} with typical values, all of them assumed; measure over them.")
    return 0


def _print_json(value: Any) -> None:
    print(json.dumps(_finite(value), indent=2, ensure_ascii=not plain.unicode_terminal(), allow_nan=False))


def _finite(value: Any) -> Any:
    """JSON has no infinity and no nan: both become null."""
    if isinstance(value, float):
        return value if math.isfinite(value) else None
    if isinstance(value, dict):
        return {key: _finite(item) for key, item in value.items()}
    if isinstance(value, (list, tuple)):
        return [_finite(item) for item in value]
    return value


def _solve(options: argparse.Namespace) -> int:
    from wattagon.exchange.json_data import solve_data
    from wattagon.exchange.units import say
    from wattagon.study.drive import study_drive
    from wattagon.study.words import LIMIT_WORDS, goal_name

    if options.envelope and not options.json:
        raise InputError("--envelope", "given alone", "--envelope together with --json")
    study = study_drive(_load(options), _stock_catalogue())
    if options.json:
        _print_json(solve_data(study, envelope=options.envelope))
        return 0
    print(f"{study.design.vehicle.name}, variant {study.resolved.variant.id} {study.resolved.variant.name}")
    for name, state in study.states.items():
        print(
            f"  {name:8} {say(state.open_circuit_v, 'voltage'):>8}  top {say(state.top_speed_m_s, 'speed'):>10} by "
            f"{LIMIT_WORDS[state.top_speed_limited_by]}, standstill {say(state.standstill_force_n, 'force')} by "
            f"{LIMIT_WORDS[state.standstill_limited_by]}, starts on {say(state.max_grade, 'grade')}"
        )
    for result in study.goals:
        reached = "never" if math.isinf(result.reached) else say(result.reached, result.dimension)
        print(f"  {'met   ' if result.met else 'missed'} {goal_name(result.goal, say)}: {reached}")
    assumed = len(study.assumptions)
    print(f"  rests on {assumed} assumed values of {len(study.resolved.inputs)}")
    return 0


def charge_of(text: str) -> float:
    """A state of charge from its name or a share."""
    from wattagon.study.resolve import CHARGE_STATES

    if text in CHARGE_STATES:
        return CHARGE_STATES[text]
    from wattagon.exchange.units import parse

    charge = parse(text, "share", field="--charge")
    if not 0.0 <= charge <= 1.0:
        raise InputError("--charge", text, "full, nominal, low or 0 to 1")
    return charge


def _point(options: argparse.Namespace) -> int:
    from wattagon.exchange.json_data import point_data
    from wattagon.exchange.units import parse, say
    from wattagon.study.drive import point_at
    from wattagon.study.resolve import resolve

    design = _load(options)
    speed, grade = parse(options.speed, "speed", field="--speed"), parse(options.grade, "grade", field="--grade")
    if not 0.0 <= speed <= 100.0:
        raise InputError("--speed", options.speed, "0 to 100 m/s")
    if not -1.0 <= grade <= 1.0:
        raise InputError("--grade", options.grade, "-1 to 1 rise per run")
    throttle = parse(options.throttle, "share", field="--throttle") if options.throttle is not None else None
    if throttle is not None and not 0.0 <= throttle <= 1.0:
        raise InputError("--throttle", options.throttle, "0 to 1")
    wind = parse(options.wind, "speed", field="--wind") if options.wind is not None else None
    resolved = resolve(design, _stock_catalogue())
    point = point_at(
        resolved, speed_m_s=speed, grade=grade, charge=charge_of(options.charge), headwind_m_s=wind, throttle=throttle, burst=not options.lasting,
    )  # fmt: skip
    if options.json:
        _print_json(point_data(point))
        return 0
    print(
        f"{say(point.speed_m_s, 'speed')} on {say(point.grade, 'grade')}: {'held' if point.held else 'not held'}, by {point.limit}"
    )
    print(
        f"  pack {say(point.bus_v, 'voltage')} {say(point.pack_a, 'current')}, motor amps {say(point.motor_current_a, 'current')} each, duty {point.duty:.0%}"
    )
    print(
        f"  thrust {say(point.thrust_n, 'force')}, bus {say(point.bus_w, 'power')}, losses {say(point.losses.total, 'power')}"
    )
    if point.rider_w:
        print(f"  the rider gives {say(point.rider_w, 'power')} at the pedals")
    why = "of the first seconds, burst currents (--lasting for long)" if point.burst else "after minutes, lasting currents"
    print(f"  pack resistance {say(point.pack_ohm, 'resistance')} with its leads, {why}")
    return 0


def _check(options: argparse.Namespace) -> int:
    from wattagon.exchange.units import say
    from wattagon.study.finding import Status
    from wattagon.study.findings import check

    design = _load(options)
    currency = design.brief.currency
    found = check(design, _stock_catalogue(), lambda value, dimension: say(value, dimension, currency=currency), rides=not options.no_rides)
    if options.json:
        _print_json(
            [
                {
                    "code": f.code, "status": str(f.status), "margin": f.margin, "title": f.title, "because": f.because,
                    "assumed": f.assumed, "cures": [{"text": cure.text, "effect": cure.effect} for cure in f.cures],
                }
                for f in found
            ]
        )  # fmt: skip
    else:
        for f in found:
            print(f"{str(f.status).replace('_', ' '):11} {f.code:26} {f.title}")
            for cure in f.cures:
                print(f"{'':11}   {cure.text}: {cure.effect}")
    bad = {"over": {Status.OVER}, "tight": {Status.OVER, Status.TIGHT}}.get(options.fail_on or "", set())
    return 1 if any(f.status in bad for f in found) else 0


def _ride(options: argparse.Namespace) -> int:
    from wattagon.exchange.ride_csv import write_csv
    from wattagon.exchange.track import read_track
    from wattagon.exchange.units import parse, say
    from wattagon.study.ride import END_WORDS, STANDARD, Ask, goal_speed, ride, ride_data
    from wattagon.study.ride_words import balance_words, event_text, limit_words

    design, stock = _load(options), _stock_catalogue()
    speed = parse(options.speed, "speed", field="--speed") if options.speed is not None else None
    if speed is not None and not 0.3 <= speed <= 60.0:
        raise InputError("--speed", options.speed, "0.3 to 60 m/s")
    grade = parse(options.grade, "grade", field="--grade") if options.grade is not None else None
    if grade is not None and not -0.4 <= grade <= 0.5:
        raise InputError("--grade", options.grade, "-40 % to 50 %")
    charge = charge_of(options.charge) if options.charge is not None else None
    course = None
    if options.run not in STANDARD and Path(options.run).suffix.lower() in (".gpx", ".csv", ".txt"):
        track = read_track(Path(options.run), speed_m_s=speed or goal_speed(design))
        course = track.course
        for note in track.notes:
            print(f"wattagon: {options.run}: {note}", file=sys.stderr)
    done = ride(design, stock, Ask(run=options.run, speed_m_s=speed, grade=grade, start_charge=charge, course=course))
    if options.csv is not None:
        write_csv(done, options.csv)
    data = ride_data(done, design)
    if options.json:
        _print_json(data)
        return 0
    print(f"{design.vehicle.name}, variant {done.resolved.variant.id}: {done.name}; {END_WORDS[done.run.end]}")
    if words := balance_words(done.run):
        print(f"  {words}")
    print(f"  {say(done.time_s, 'time')}, {say(done.distance_m, 'distance')}, {done.energy_wh:.4g} Wh" + (f", range {say(done.range_m, 'distance')} like this" if math.isfinite(done.range_m) else ""))
    peak, hot = data["peak"], data["temperatures"]
    assert isinstance(peak, dict) and isinstance(hot, dict)
    print(f"  at most {say(peak['motor_a'], 'current')} motor amps each, {say(peak['pack_a'], 'current')} pack amps, {say(peak['power_w'], 'power')}")
    print("  hottest: " + ", ".join(f"{name.removesuffix('_max_c')} {value:.0f} °C" for name, value in hot.items() if value is not None))
    for name, seconds in done.held_by():
        print(f"  held back by {limit_words(name)} for {say(seconds, 'time')}")
    for t, x, kind in done.run.events[:30]:
        print(f"  {t:8.1f} s {x:8.0f} m  {event_text(kind)}")
    return 0


def _find(options: argparse.Namespace) -> int:
    from wattagon.exchange.json_data import find_data
    from wattagon.exchange.units import say
    from wattagon.study.finder.search import find_drives
    from wattagon.study.finder.words import count_words, drive_words, estimate_words, missed_words

    if options.limit < 1:
        raise InputError("--limit", options.limit, "1 or more")
    design, stock = _load(options), _stock_catalogue()
    objectives = tuple(options.objective) or ("cost", "mass", "margin")
    found = find_drives(design, stock, wishes=_wishes(options), objectives=objectives, limit=options.limit)
    if options.json:
        _print_json(find_data(found))
        return 0
    many = estimate_words(found.feasible, found.feasible_error) if found.feasible else "very few" if found.hits else "none"
    print(f"{count_words(found.searched)} combinations in {found.seconds:.1f} s, {many} of them meet every goal and rating")
    print(f"  not searched: {', '.join(found.left_out)}")
    if found.nothing_of:
        print(f"  nothing to combine: there are no {' and no '.join(found.nothing_of)} to choose from")
    for row in found.rows:
        hit = found.hits[row[0]]
        more = f"  and {len(row) - 1} near it" if len(row) > 1 else ""
        print(f"  {say(hit.cost, 'money'):>10} {say(hit.mass_kg, 'mass'):>8} margin {hit.margin:>5.0%}  {drive_words(hit.variant, stock)}{more}")
    for hit in found.near_misses:
        name, missed = missed_words(design, found, hit, say)
        print(f"  without \"{name}\" ({missed}): {say(hit.cost, 'money')}, {drive_words(hit.variant, stock)}")
    return 0


def _wishes(options: argparse.Namespace) -> Wishes:
    """What the options of `find` ask for.  Raises InputError for one that cannot be read."""
    from wattagon.exchange.dates import days_until
    from wattagon.exchange.units import parse
    from wattagon.study.finder.wishes import SCHOOLS, Wishes

    asked: dict[str, Any] = {"shelf": options.shelf, "use": tuple(options.use), "without": tuple(options.without), "wheels": options.wheels}
    asked["schools"] = tuple(options.school) or SCHOOLS
    if options.by is not None:
        asked["within_days"] = days_until(options.by, "--by")
    if options.teeth is not None:
        ends = options.teeth.split(":")
        if len(ends) != 2 or not all(end == "" or (end.isascii() and end.isdigit() and len(end) < 6) for end in ends):
            raise InputError("--teeth", options.teeth, "two whole numbers such as 14:72, either may be left out")
        asked["least_driver"], asked["most_driven"] = (int(end) if end else None for end in ends)
    if options.gap is not None:
        asked["ground_gap"] = parse(options.gap, "length", field="--gap")
    if options.climb is not None:
        asked["climb_time"] = parse(options.climb, "time", field="--climb")
    for text in options.margin:
        name, _, share = text.rpartition("=")
        if name not in ("", "goals", "volts", "amps", "rpm", "pull"):
            raise InputError("--margin", name, "goals, volts, amps, rpm or pull, or none for all")
        value = parse(share, "share", field="--margin")
        asked.update(dict.fromkeys((name,) if name else ("goals", "volts", "amps", "rpm", "pull"), value))
    return Wishes(**asked)


def _schema(options: argparse.Namespace) -> int:
    from wattagon.design.schema import schema_of
    from wattagon.design.tree import Design

    _print_json(schema_of(Design))
    return 0


def _stock(options: argparse.Namespace) -> int:
    from wattagon.design.codec import encode
    from wattagon.design.parts import PART_KINDS

    if options.kind is not None and options.kind not in PART_KINDS:
        raise InputError("KIND", options.kind, ", ".join(PART_KINDS))
    stock = _stock_catalogue()
    kinds = [options.kind] if options.kind else list(PART_KINDS)
    if options.json:
        listed = {kind: [encode(part) for part in stock.parts[kind].values()] for kind in kinds}
        _print_json(listed[options.kind] if options.kind else listed)
        return 0
    for kind in kinds:
        print(kind)
        for part in stock.parts[kind].values():
            print(f"  {part.id:28} {part.name}")
    return 0


if __name__ == "__main__":
    entry()
