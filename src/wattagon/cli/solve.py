"""Speeds, forces and goals of a drive."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue, tell_case
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--bands", action="store_true", help="between what each goal lies, five times of six on either side")
    parser.add_argument("--envelope", action="store_true", help="add the edge of each charge state (with --json)")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.json_data import solve_data
    from wattagon.exchange.units import say
    from wattagon.study.drive.study import study_drive
    from wattagon.study.drive.words import LIMIT_WORDS, goal_name

    if options.envelope and not options.json:
        raise InputError("--envelope", "given alone", "--envelope together with --json")
    study = study_drive(load(options), stock_catalogue())
    tell_case(study.design, study.resolved)
    bands = {}
    if options.bands:
        from wattagon.study.bands.bands import goal_bands

        bands = goal_bands(study.design, stock_catalogue())
    if options.json:
        data = solve_data(study, envelope=options.envelope)
        for item in data["goals"] if bands else ():
            found, met = bands[item["code"]]
            item |= {"band": [found.low, found.high], "met_share": met}
        print_json(data)
        return 0
    print(f"{study.design.vehicle.name}, variant {study.resolved.variant.id} {study.resolved.variant.name}")
    floats = study.design.vehicle.kind.floats
    for name, state in study.states.items():
        if floats:
            held = study.docks[name]
            print(
                f"  {name:8} {say(state.open_circuit_v, 'voltage'):>8}  top {say(state.top_speed_m_s, 'speed'):>10} by "
                f"{LIMIT_WORDS[state.top_speed_limited_by]}, pulls {say(held.pull_n, 'force')} at the dock by {LIMIT_WORDS[held.limit]}"
            )
            continue
        print(
            f"  {name:8} {say(state.open_circuit_v, 'voltage'):>8}  top {say(state.top_speed_m_s, 'speed'):>10} by "
            f"{LIMIT_WORDS[state.top_speed_limited_by]}, standstill {say(state.standstill_force_n, 'force')} by "
            f"{LIMIT_WORDS[state.standstill_limited_by]}, starts on {say(state.max_grade, 'grade')}"
        )
    for result in study.goals:
        reached = "never" if math.isinf(result.reached) else say(result.reached, result.dimension)
        sure = ""
        if result.goal.id in bands:
            found, met = bands[result.goal.id]
            low, high = ("never" if math.isinf(x) else say(x, result.dimension) for x in (found.low, found.high))
            sure = f" ({low} to {high}; met in {met:.0%} of what may be)"
        print(f"  {'met   ' if result.met else 'missed'} {goal_name(result.goal, say)}: {reached}{sure}")
    assumed = len(study.assumptions)
    print(f"  rests on {assumed} assumed values of {len(study.resolved.inputs)}")
    return 0
