"""`wattagon bands`: between what each goal lies, how likely it is met, and what to measure next."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--findings", action="store_true", help="also which findings may turn within what is known; takes some seconds")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.bands_json import bands_data
    from wattagon.exchange.units import say
    from wattagon.exchange.why.turns import turns
    from wattagon.study.bands.weigh import weigh
    from wattagon.study.drive.words import goal_name

    design, stock = load(options), stock_catalogue()
    found = weigh(design, stock)
    turned = turns(design, stock) if options.findings else []
    if options.json:
        print_json(bands_data(found) | ({"findings": [one.row for one in turned]} if options.findings else {}))
        return 0
    print(f"{design.vehicle.name}, variant {design.active}")
    for one in found.goals:
        told = lambda value, one=one: "never" if math.isinf(value) else say(value, one.result.dimension)
        likely = f"met in {one.likely:.0%} of what may be" if one.likely == one.likely else "not known"
        if one.flip is not None:
            likely += f"; {one.flip.name} of {say(one.flip.value, one.flip.dimension)} would {'miss' if one.result.met else 'clear'} it"
        print(f"  {goal_name(one.result.goal, say)}: {told(one.band.value)} ({told(one.band.low)} to {told(one.band.high)}), {likely}")
    print("  measure next:" if found.next else "  nothing that could be measured makes the goals' bands")
    for step in found.next[:10]:
        print(
            f"    {step.share:4.0%}  {step.name}: {step.how} {step.minutes} min, {step.tool}; "
            f"leaves {step.leaves:.0%} of the band of {step.goal}"
        )
    for turn in turned:
        print(f"  {turn.code}: margin {turn.margin:.0%} ({turn.low:.0%} to {turn.high:.0%}); {turn.text(say)}")
    if options.findings and not turned:
        print("  no finding beside the goals would turn by one field alone within what is known of it")
    return 0
