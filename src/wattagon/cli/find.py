"""Search every combination of stock for the goals."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from wattagon.cli.shared import design_options, load, print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.study.finder.wishes import Wishes


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("--limit", type=int, default=20, metavar="N", help="hits to print; 20 without it")
    parser.add_argument(
        "--objective",
        action="append",
        default=[],
        metavar="O",
        help="cost, mass, margin, range, speed, grade, lasting, reused; several may be given, the first two span the front",
    )
    parser.add_argument(
        "--shelf",
        default="prefer",
        metavar="HOW",
        help="what is owned: prefer (free), use (of its kinds nothing else), only (nothing is bought) or ignore",
    )
    parser.add_argument(
        "--use", action="append", default=[], metavar="PART", help="id of a part that must be used; of several of a kind, one"
    )
    parser.add_argument("--without", action="append", default=[], metavar="PART", help="id of a part to leave out")
    parser.add_argument("--school", action="append", default=[], metavar="S", help="direct, belt, chain, two (stages); all without it")
    parser.add_argument("--by", metavar="DATE", help="only parts that can arrive by a date, such as 2027-03-01, or in days, such as 14")
    parser.add_argument("--wheels", action="store_true", help="try the other wheels of the family as well")
    parser.add_argument("--teeth", metavar="LEAST:MOST", help="limits on driver and driven teeth, such as 14:72")
    parser.add_argument("--gap", metavar="LENGTH", help="from the driven pulley to the ground; 10 mm, rough ground 25 mm without it")
    parser.add_argument(
        "--climb",
        metavar="TIME",
        help="how long the first climb must last before the motor is too hot; 10 min without it, 0 for never mind",
    )
    parser.add_argument(
        "--margin",
        action="append",
        default=[],
        metavar="OF=SHARE",
        help="room on goals, volts, amps, rpm or pull, such as volts=10%%; a bare share is for all of them",
    )
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.exchange.json_data import find_data
    from wattagon.exchange.units import say
    from wattagon.study.finder.search import find_drives
    from wattagon.study.finder.words import count_words, drive_words, estimate_words, missed_words

    if options.limit < 1:
        raise InputError("--limit", options.limit, "1 or more")
    design, stock = load(options), stock_catalogue()
    objectives = tuple(options.objective) or ("cost", "mass", "margin")
    found = find_drives(design, stock, wishes=_wishes(options), objectives=objectives, limit=options.limit)
    if options.json:
        print_json(find_data(found))
        return 0
    many = estimate_words(found.feasible, found.feasible_error) if found.feasible else "very few" if found.hits else "none"
    print(f"{count_words(found.searched)} combinations in {found.seconds:.1f} s, {many} of them meet every goal and rating")
    print(f"  not searched: {', '.join(found.left_out)}")
    if found.no_middle is not None:
        print(f"  through the bike's gears none: {found.no_middle(say)}")
    if found.nothing_of:
        print(f"  nothing to combine: there are no {' and no '.join(found.nothing_of)} to choose from")
    for row in found.rows:
        hit = found.hits[row[0]]
        more = f"  and {len(row) - 1} near it" if len(row) > 1 else ""
        print(
            f"  {say(hit.cost, 'money'):>10} {say(hit.mass_kg, 'mass'):>8} margin {hit.margin:>5.0%}  "
            f"{drive_words(hit.variant, stock)}{more}"
        )
    for hit in found.near_misses:
        name, missed = missed_words(design, found, hit, say)
        print(f'  without "{name}" ({missed}): {say(hit.cost, "money")}, {drive_words(hit.variant, stock)}')
    return 0


def _wishes(options: argparse.Namespace) -> Wishes:
    """What the options of `find` ask for.  Raises InputError for one that cannot be read."""
    from wattagon.exchange.dates import days_until
    from wattagon.exchange.units import parse
    from wattagon.study.finder.wishes import SCHOOLS, Wishes

    asked: dict[str, Any] = {"shelf": options.shelf, "use": tuple(options.use), "without": tuple(options.without), "wheels": options.wheels}
    asked["schools"] = tuple(options.school) or SCHOOLS
    if options.by is not None:
        asked["within_days"] = days_until(options.by, "--by")
    if options.teeth is not None:
        ends = options.teeth.split(":")
        if len(ends) != 2 or not all(end == "" or (end.isascii() and end.isdigit() and len(end) < 6) for end in ends):
            raise InputError("--teeth", options.teeth, "two whole numbers such as 14:72, either may be left out")
        asked["least_driver"], asked["most_driven"] = (int(end) if end else None for end in ends)
    if options.gap is not None:
        asked["ground_gap"] = parse(options.gap, "length", field="--gap")
    if options.climb is not None:
        asked["climb_time"] = parse(options.climb, "time", field="--climb")
    for text in options.margin:
        name, _, share = text.rpartition("=")
        if name not in ("", "goals", "volts", "amps", "rpm", "pull"):
            raise InputError("--margin", name, "goals, volts, amps, rpm or pull, or none for all")
        value = parse(share, "share", field="--margin")
        asked.update(dict.fromkeys((name,) if name else ("goals", "volts", "amps", "rpm", "pull"), value))
    return Wishes(**asked)
