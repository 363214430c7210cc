"""Commissioning step by step: what is accepted of this design, what was read, what comes next."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue

if TYPE_CHECKING:
    import argparse

    from wattagon.study.commission.study import CommissionStudy


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--pdf", type=Path, metavar="OUT", help="a sheet with boxes to print")
    parser.add_argument("--hand-over", type=Path, metavar="OUT", help="the page that is handed over")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon import files
    from wattagon.exchange.commission_json import commission_data
    from wattagon.exchange.commission_pdf import commission_pdf, handover_pdf

    found = commissioning(load(options), stock_catalogue())
    if options.pdf is not None:
        files.write_bytes(options.pdf, commission_pdf(found))
    if options.hand_over is not None:
        files.write_bytes(options.hand_over, handover_pdf(found))
    if options.json:
        print_json(commission_data(found))
    elif options.pdf is None and options.hand_over is None:
        _tell(found)
    return 0


def commissioning(design, stock) -> CommissionStudy:  # type: ignore[no-untyped-def]
    """Of a design in its strongest mode."""
    from wattagon.exchange.units import say
    from wattagon.study.commission.rules import commissioned
    from wattagon.study.drive.cases import strongest
    from wattagon.study.drive.study import study_drive
    from wattagon.study.findings.rule import Case

    design = strongest(design)
    return commissioned(Case(design, stock, study_drive(design, stock), say))


def _tell(found: CommissionStudy) -> None:
    from wattagon.exchange.commission_pdf import between, said
    from wattagon.study.commission.item import AFLOAT, OVER
    from wattagon.study.commission.judge import values

    for stage in found.stages:
        print(f"{stage.code}  {stage.name}: {AFLOAT if stage.code == 'D' and found.grounds.floats else stage.caution}")
        for one in stage.steps:
            if not one.item.applies:
                print(f"   {'-':7} {one.item.id:4} {one.item.title}: not here, {one.item.why_not}")
                continue
            print(f"   {one.verdict.value:7} {one.item.id:4} {one.item.title}: {one.item.accept}")
            for read in one.item.reads:
                got = ", ".join(said(read, value) for value in values(read, one.seen))
                print(f"{'':16} {read.words}: {between(read)}{f'; read {got}' if got else ''}")
            for words in (*one.judged.said, *(f"again: {why}" for why in one.reopened)):
                print(f"{'':16} {words}")
        if stage.signed is not None:
            print(f"   signed by {stage.signed.name} on {stage.signed.date}{', before something changed' if stage.stale else ''}")
    print(OVER)
