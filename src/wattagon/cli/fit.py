"""What logs teach of the design, and how sure that is."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    parser.add_argument("file", type=Path)
    parser.add_argument("log", nargs="+", help="numbers or ids of the logs to learn from")
    parser.add_argument("--only", action="append", default=[], metavar="PATH", help="learn this alone; may be given several times")
    parser.add_argument(
        "--held-out", default=None, metavar="SHARE", help="of each log, at its end, that is not learnt from; 0.2 without it"
    )
    parser.add_argument("--take", action="store_true", help="write what is told into the file as measured values")
    parser.add_argument("--next", action="store_true", help="tell which ride would teach most of what is still loose")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.cli.log import loaded
    from wattagon.design import file
    from wattagon.design.paths import apply
    from wattagon.exchange.log_json import fit_data
    from wattagon.exchange.units import parse
    from wattagon.study.log.enter import find_log
    from wattagon.study.log.fit import HELD_OUT, fit

    document, stock = file.read(options.file), stock_catalogue()
    held = parse(options.held_out, "share", field="--held-out") if options.held_out is not None else HELD_OUT
    if not 0.0 <= held <= 0.8:
        raise InputError("--held-out", options.held_out, "0 to 0.8")
    logs = [find_log(document.design, text) for text in options.log]
    for log in logs:
        if not log.member:
            raise InputError("log", log.id, f"a log with a table; this one is {log.kind.value}")
    made = fit(document.design, stock, [loaded(document, log, stock) for log in logs], only=_only(options, document), held_out=held)
    told = [one for one in made.parameters if one.identifiable]
    if not told:
        reasons = "; ".join(dict.fromkeys(one.why for one in made.parameters if one.why))
        raise InputError("fit", "nothing that this log tells", reasons or "a log that tells more")
    if options.only and (loose := [one for one in made.parameters if not one.identifiable]):
        raise InputError("fit", loose[0].path, f"what this log tells; {loose[0].why}")
    if options.take:
        file.write(options.file, replace(document, design=apply(document.design, made.edit())))
    if options.json:
        print_json(fit_data(made))
        return 0
    _tell(made)
    if options.next:
        from wattagon.study.log.next_ride import next_rides

        proposed = next_rides(document.design, stock, made)
        if not proposed:
            print("next: no ride of ours would tell what is still loose; the reasons above say what would")
        for one in proposed[:3]:
            tells = f"would tell {', '.join(one.tells)}" if one.tells else ""
            narrows = f"would make surer {', '.join(one.narrows)}" if one.narrows else ""
            print(f"next: {one.words} ({one.minutes:.0f} min): {'; '.join(filter(None, (tells, narrows)))}; {one.how}")
    return 0


def _only(options: argparse.Namespace, document) -> list[str] | None:  # type: ignore[no-untyped-def]
    """Paths, with `variant` for the active one."""
    active = document.design.variant().id
    return [path.replace("variant.", f"variants.{active}.", 1) if path.startswith("variant.") else path for path in options.only] or None


def _tell(made) -> None:  # type: ignore[no-untyped-def]
    from wattagon.exchange.units import say, with_error

    for one in made.parameters:
        dimension = one.unknown.row.dimension
        if one.identifiable:
            after = with_error(one.after, one.error, dimension)
            print(f"  {one.unknown.row.words:32} {say(one.before, dimension):>12} -> {after:>24}  ({one.path})")
    for one in made.parameters:
        if not one.identifiable:
            print(f"  {one.unknown.row.words:32} not told: {one.why}")
    print(f"  residuals {made.residual_rms:.2f} of their noise, {made.held_out_rms:.2f} in the stretch that was held out")
    for words in made.told:
        print(f"  {words}")
