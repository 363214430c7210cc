"""Whether a drive holds, what gives way first, and how to prove it."""

from __future__ import annotations

import math
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.study.strength.loads import Asked


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--ride", default=None, metavar="RUN", help="a run or course whose largest torque and hottest motor count too")
    parser.add_argument("--card", type=Path, metavar="OUT", help="write a proof card as PDF: of what gives way first, or of --element")
    parser.add_argument("--element", default="", metavar="CODE", help="whose card")
    parser.add_argument("--run-time", default=None, metavar="TIME", help="of a full start, with --run-speed: what was pulled")
    parser.add_argument("--run-speed", default=None, metavar="SPEED", help="that it reached")


def _run(options: argparse.Namespace) -> Asked | None:
    """The timed run that is asked for.  Raises InputError for half of one."""
    from wattagon.exchange.units import parse
    from wattagon.study.strength.loads import Asked

    if (options.run_time is None) != (options.run_speed is None):
        raise InputError("--run-time", options.run_time or "missing", "both --run-time and --run-speed")
    if options.run_time is None:
        return None
    time, speed = parse(options.run_time, "time", field="--run-time"), parse(options.run_speed, "speed", field="--run-speed")
    if not 0.2 <= time <= 120.0:
        raise InputError("--run-time", options.run_time, "0.2 to 120 s")
    if not 0.3 <= speed <= 60.0:
        raise InputError("--run-speed", options.run_speed, "0.3 to 60 m/s")
    return Asked(time, speed)


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.strength_json import strength_data
    from wattagon.exchange.units import say
    from wattagon.study.drive.study import study_drive
    from wattagon.study.strength.proof import proof_of
    from wattagon.study.strength.study import study_strength

    asked = _run(options)
    design, stock = load(options), stock_catalogue()
    if asked is not None and design.vehicle.kind.floats:
        raise InputError("--run-time", options.run_time, "a vehicle on wheels; a boat's propeller slips")
    if options.element and options.card is None:
        raise InputError("--element", options.element, "it with --card OUT.pdf: whose card")
    met = None
    if options.ride is not None:
        from wattagon.study.ride.study import Ask, ride, runs_of
        from wattagon.study.strength.loads import met_on

        if options.ride not in runs_of(design):
            raise InputError("--ride", options.ride, ", ".join(runs_of(design)))
        met = met_on(ride(design, stock, Ask(run=options.ride)))
    found = study_strength(design, stock, study_drive(design, stock), run=asked, met=met)
    if options.card is not None:
        from wattagon import files
        from wattagon.exchange.proof_pdf import proof_card

        code = options.element or (found.first.code if found.first is not None else "")
        files.write_bytes(options.card, proof_card(found, code, stock))
    if options.json:
        print_json(strength_data(found, stock))
        return 0
    variant = design.variant()
    print(f"{design.vehicle.name}, variant {variant.id} {variant.name}".rstrip())
    for case in found.loads:
        print(f"  {case.case:10} {say(case.wheel_nm, 'torque')} {found.where} of one drive: {case.source}")
    for one in found.elements:
        at = f"gives way at {say(one.fails_at_nm, 'torque')}" if math.isfinite(one.fails_at_nm) else "not loaded by torque"
        print(f"  {one.status.value.replace('_', ' '):12} {one.name}: factor {one.factor:.2f} of {one.bears.wanted:g}, {at}")
    if found.first is not None:
        print(f"  first to give way: {found.first.name}, at {say(found.first.fails_at_nm, 'torque')} {found.where}")
        test = proof_of(found.first, stock=stock)
        if test is not None:
            hung = f"{say(test.mass_kg, 'mass')} on a level arm of {say(test.lever_m, 'length')}"
            cold = f", {say(test.cold_kg, 'mass')} in a cold test" if test.cold_kg > 1.05 * test.mass_kg else ""
            print(f"  to prove it: hang {hung}{cold}; {found.where[7:]} blocked, load close to the floor, feet clear, eyes protected")
    if options.card is not None:
        print(f"  written: {options.card}")
    return 0
