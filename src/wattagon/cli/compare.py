"""`wattagon compare`: variants, versions and what-ifs side by side."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse
    from collections.abc import Sequence

    from wattagon.design.tree import Design
    from wattagon.study.compare.words import Row


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("sides", nargs="*", metavar="VARIANT", help="two to four variants, or a version as it was ridden, such as B@1a2b")
    words = "one more side: the first one with values changed, kept nowhere"
    parser.add_argument("--what-if", action="append", default=[], metavar="PATH=VALUE", help=words)
    parser.add_argument("--ride", metavar="RUN", default="", help="put all through a run: start, hill, ... or the id of a course")
    parser.add_argument("--schools", action="store_true", help="the cheapest drive of each school that the finder has, beside brief.ready")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.compare_json import compare_data
    from wattagon.exchange.set_text import set_from_text
    from wattagon.exchange.units import say
    from wattagon.study.compare.compare import compare, design_of

    design = load(options)
    if options.schools:
        if options.sides or options.what_if or options.ride:
            raise InputError("--schools", "together with sides, --what-if or --ride", "it alone")
        return _schools(design, json=options.json)
    names = options.sides or [design.variant().id]
    designs = []
    for name in names:
        found_there, (_, mark, version) = design_of(design, name), name.partition("@")
        designs.append((f"{found_there.active}{mark}{version}", found_there))
    if options.what_if:
        tried = designs[0][1]
        for assignment in options.what_if:
            tried = set_from_text(tried, assignment)
        designs.append(("what if", tried))
    if len({code for code, _ in designs}) < len(designs):
        raise InputError("variants", ", ".join(code for code, _ in designs), "each once")
    currency = design.brief.currency
    found = compare(designs, stock_catalogue(), lambda value, dimension: say(value, dimension, currency=currency), run=options.ride)
    assert found is not None
    if options.json:
        print_json(compare_data(found))
        return 0
    from wattagon.study.compare.words import rows

    told = rows(found, lambda value, dimension: say(value, dimension, currency=currency))
    _print(f"{design.vehicle.name}: {' | '.join(f'{one.code} {one.name}'.strip() for one in found.sides)}", told)
    if not any(math.isfinite(one.study.heat_s) for one in found.sides):
        print("  heat on a climb is not compared: no climb is asked for, or none gets too hot")
    return 0


def _print(head: str, told: Sequence[Row]) -> None:
    print(head)
    widths = [max(len(row.cells[k]) for row in told) for k in range(len(told[0].cells))]
    names = max(len(row.name) for row in told)
    for row in told:
        pairs = enumerate(zip(row.cells, widths, strict=True))
        cells = (f"{'*' if k == row.best else ' '}{cell:<{min(width, 46)}.46}" for k, (cell, width) in pairs)
        print(f"  {row.name:<{min(names, 44)}.44} {' '.join(cells)}".rstrip())


def _schools(design: Design, *, json: bool) -> int:
    from wattagon.exchange.compare_json import schools_data
    from wattagon.exchange.units import say
    from wattagon.study.compare.schools import schools
    from wattagon.study.compare.schools_words import ASSUMED, heads, school_rows

    stock, ready = stock_catalogue(), design.brief.ready
    told = lambda value, dimension: say(value, dimension, currency=design.brief.currency)
    found = schools(design, stock, told)
    if json:
        print_json(schools_data(found, ready))
        return 0
    _print(f"{design.vehicle.name}: {' | '.join(heads(found, ready))}", school_rows(found, ready, stock, told))
    print(f"  {ASSUMED}")
    return 0
