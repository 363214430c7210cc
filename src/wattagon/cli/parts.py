"""The parts list of a design: what it is made of, what has come, what must be measured before it is ordered."""

from __future__ import annotations

import datetime
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.study.build.study import BuildStudy

MARK_HELP = "shelf, to_order, ordered, arrived or fitted; writes the file"
ALIASES = {"order": "ordered", "toorder": "to_order", "on_shelf": "shelf", "on_the_shelf": "shelf", "made": "arrived"}


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--csv", action="store_true")
    parser.add_argument("--pdf", type=Path, metavar="OUT", help="a list to print")
    parser.add_argument("--mark", action="append", default=[], metavar="ID=STATE", help=MARK_HELP)
    parser.add_argument("--reason", default="", metavar="TEXT", help="why it is ordered before what it must fit is measured")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.build_json import parts_csv, parts_data
    from wattagon.exchange.build_out import parts_pdf

    if options.mark:
        _mark(options)
    stock = stock_catalogue()
    found = built(load(options), stock)
    if options.pdf is not None:
        from wattagon import files

        files.write_bytes(options.pdf, parts_pdf(found))
    if options.csv:
        print(parts_csv(found), end="")
    elif options.json:
        print_json(parts_data(found, stock))
    elif options.pdf is None:
        _tell(found)
    return 0


def built(design, stock) -> BuildStudy:  # type: ignore[no-untyped-def]
    """The build of a design as it stands today."""
    from wattagon.exchange.units import say
    from wattagon.study.build.gathered import gather
    from wattagon.study.build.study import base_of, study_build
    from wattagon.study.drive.cases import strongest

    design = strongest(design)
    return study_build(base_of(gather(design, stock, say)), design, datetime.date.today(), stock)


def _mark(options: argparse.Namespace) -> None:
    """Into the file; nothing is written where one of them is refused."""
    from wattagon.design import file
    from wattagon.design.paths import apply
    from wattagon.design.tree import PartState
    from wattagon.study.build.mark import mark_part

    if options.set or options.case or options.mode:
        raise InputError("--mark", ", ".join(options.mark), "no --set, --case or --mode beside it: they are not written")
    document, stock = file.read(options.file), stock_catalogue()
    shown = load(options)
    design = replace(document.design, active=shown.active)
    for told in options.mark:
        row, mark, word = told.rpartition("=")
        name = "_".join(word.strip().casefold().replace("-", " ").split())
        name = ALIASES.get(name, name)
        if not mark or not row or name not in list(PartState):
            raise InputError("--mark", told, f"ID=STATE with {', '.join(PartState)}")
        part = built(design, stock).part(row.strip())
        design = apply(design, mark_part(design, part, PartState(name), datetime.date.today(), options.reason))
    file.write(options.file, replace(document, design=replace(design, active=document.design.active)))


def _tell(found: BuildStudy) -> None:
    from wattagon.exchange.units import say
    from wattagon.study.build.mark import words_of

    money = lambda value: say(value, "money", currency=found.design.brief.currency)
    for part in found.parts:
        row = part.row
        closed = f"  measure first: {', '.join(part.missing)}" if part.missing else ""
        why = f"  ({part.mark.reason})" if part.mark.reason else ""
        count = f"{row.count:g}{f' {row.unit}' if row.unit else ''}"
        print(f"{words_of(part, part.state):13} {row.id:38} {count:>6}  {money(row.count * part.price):>10}  {row.name}{closed}{why}")
        for asked in row.drags:
            print(f"{'':13} asks for {asked}")
    limit = f", the budget is {money(found.budget)}" if found.budget is not None else ""
    print(f"{money(found.spent)} spent, {money(found.to_spend)} to spend{limit}")
    mass, share = found.base.mass, ""
    if mass.front_after == mass.front_after:
        share = f"; {mass.front_after:.1%} of the weight on the front axle, {mass.front_before:.1%} without it"
    print(f"adds {say(mass.added_kg, 'mass')}{share}")
