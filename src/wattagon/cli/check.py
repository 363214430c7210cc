"""Findings with their cures."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--fail-on", choices=("over", "tight"), help="exit code 1 when a finding is that bad or worse")
    parser.add_argument("--no-rides", action="store_true", help="leave out the findings that need a simulation")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.json_data import check_data
    from wattagon.exchange.units import say
    from wattagon.study.findings.all import check
    from wattagon.study.findings.status import Status

    design = load(options)
    currency = design.brief.currency
    found = check(design, stock_catalogue(), lambda value, dimension: say(value, dimension, currency=currency), rides=not options.no_rides)
    if options.json:
        print_json(check_data(found))
    else:
        for f in found:
            print(f"{str(f.status).replace('_', ' '):11} {f.code:26} {f.title}")
            for cure in f.cures:
                print(f"{'':11}   {cure.text}: {cure.effect}")
    bad = {"over": {Status.OVER}, "tight": {Status.OVER, Status.TIGHT}}.get(options.fail_on or "", set())
    return 1 if any(f.status in bad for f in found) else 0
