"""From a symptom: causes as likely as this design makes them, what speaks for each, and the test that tells them apart."""

from __future__ import annotations

import datetime
from typing import TYPE_CHECKING, Any

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.study.trouble.study import TroubleStudy

MOST_SHOWN = 8


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--symptom", metavar="NAME", help="what is seen; without it all are listed")
    parser.add_argument("--answer", action="append", default=[], metavar="TEST=ANSWER", help="what a test gave, as often as wanted")
    parser.add_argument("--at", metavar="SPEED", help="speed at which a vibration shows")
    parser.add_argument("--rides", action="store_true", help="weigh it with the findings that need a simulation too")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.units import parse
    from wattagon.study.trouble.study import study_trouble, symptoms_of

    design = load(options)
    able = symptoms_of(design)
    if options.symptom is None:
        if options.json:
            raise InputError("--symptom", "nothing", ", ".join(sorted(one.code for one in able)))
        for one in able:
            print(f"{one.code:22} {one.words} ({one.when})")
        return 0
    symptom = options.symptom.strip().casefold().replace(" ", "_").replace("-", "_")
    if symptom not in {one.code for one in able}:
        raise InputError("--symptom", options.symptom, ", ".join(sorted(one.code for one in able)))
    answers = [_pair(told) for told in options.answer]
    speed = parse(options.at, "speed", field="--at") if options.at else None
    found = study_trouble(_looked(design, rides=options.rides), symptom, answers, speed)
    if options.json:
        print_json(trouble_data(found))
    else:
        _tell(found)
    return 0


def _pair(told: str) -> tuple[str, str]:
    test, mark, answer = told.partition("=")
    if not mark or not test or not answer:
        raise InputError("--answer", told, "TEST=ANSWER")
    return test.strip(), answer.strip()


def _looked(design, *, rides: bool) -> Any:  # type: ignore[no-untyped-def]
    from wattagon.exchange.units import say
    from wattagon.study.commission.rules import commissioned
    from wattagon.study.drive.cases import strongest
    from wattagon.study.drive.study import study_drive
    from wattagon.study.findings.all import check
    from wattagon.study.findings.rule import Case
    from wattagon.study.layout.study import study_layout
    from wattagon.study.trouble.study import Looked

    stock = stock_catalogue()
    design = strongest(design)
    drive = study_drive(design, stock)
    return Looked(
        design=design,
        drive=drive,
        layout=study_layout(design, stock, drive),
        findings=tuple(check(design, stock, say, rides=rides)),
        commission=commissioned(Case(design, stock, drive, say)),
        today=datetime.date.today(),
    )


def trouble_data(found: TroubleStudy) -> dict[str, Any]:
    """`wattagon trouble --json`."""
    test = found.next
    return {
        "symptom": found.symptom.code,
        "causes": [
            {
                "name": one.cause.code,
                "words": one.cause.name,
                "weight": one.weight,
                "part": one.cause.part.value,
                "evidence": [said.words for said in one.evidence],
                "cure": one.cause.cure,
                "design_changes": [cure.text for _, cure in found.cures(one.cause)],
            }
            for one in found.causes
        ],
        "next_test": {
            "name": test.code,
            "how": test.how,
            "seconds": 60.0 * test.minutes,
            "danger": test.danger,
            "caution": test.caution or "none beside the usual",
            "answers": [{"name": code, "words": words} for code, words in test.answers.items()],
        }
        if test is not None
        else None,
        "answered": [{"test": one.code, "answer": said} for one, said in found.answered],
        "orders": [{"words": one.words, "hz": one.hertz, "cause": one.cause} for one in found.orders],
    }


def _tell(found: TroubleStudy) -> None:
    print(f"{found.symptom.words}:")
    for one in found.causes[:MOST_SHOWN]:
        print(f"  {one.weight:5.0%}  {one.cause.name}")
        for said in one.evidence[:3]:
            print(f"{'':9}{'for' if said.factor > 1.0 else 'against'}: {said.words}")
        print(f"{'':9}cure: {one.cause.cure}")
    for order in found.orders:
        print(f"  {order.hertz:7.1f} Hz  {order.words}")
    if found.next is None:
        print("no test tells more")
        return
    test = found.next
    print(f"next: {test.how} ({test.minutes:g} min)")
    if test.caution:
        print(f"      caution: {test.caution}")
    for code, words in test.answers.items():
        print(f"      --answer {test.code}={code}: {words}")
