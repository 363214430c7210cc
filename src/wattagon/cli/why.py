"""`wattagon why`: how a number comes about, back to the fields it rests on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument(
        "result",
        nargs="?",
        metavar="RESULT",
        help="a number as solve --json names it, such as states.nominal.top_speed_m_s; of another study with its name in front, such as "
        "strength.first.fails_at_wheel_nm; without it those that there are",
    )
    parser.add_argument("--of", metavar="STUDY", default="", help="without RESULT: the study whose numbers are listed; solve without it")
    parser.add_argument("--deep", type=int, default=2, metavar="N", help="levels that are opened; 2 without it")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.errors import InputError
    from wattagon.exchange.units import say
    from wattagon.exchange.why.answers import gather, subject_of, text_of, value_text, why_data
    from wattagon.exchange.why.subjects import SUBJECTS

    design = load(options)
    if not 1 <= options.deep <= 9:
        raise InputError("--deep", str(options.deep), "1 to 9")
    codes = [one.code or "solve" for one in SUBJECTS]
    of = options.of or "solve"
    if of not in codes:
        raise InputError("--of", options.of, ", ".join(codes))
    told = lambda value, dimension: say(value, dimension, currency=design.brief.currency)
    wanted = options.result.strip().removeprefix("solve.") if options.result else ""
    subject = subject_of(wanted) if wanted else SUBJECTS[codes.index(of)]
    found = gather(design, stock_catalogue(), [subject.code], told)
    if not wanted:
        if options.json:
            print_json({name: float(value) for name, value in found.results.items()})
            return 0
        for name, value in found.results.items():
            print(f"{name} = {value_text(found, float(value), name, told)}")
        return 0
    wanted = found.called(wanted)
    if options.json:
        print_json(why_data(found, wanted))
    else:
        print(text_of(found, wanted, told, options.deep))
    return 0
