"""What happened to a build: list it, search it, add to it."""

from __future__ import annotations

import datetime
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from wattagon.cli.shared import print_json
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse
    from enum import StrEnum

    from wattagon.design.tree import Design, Entry

    E = TypeVar("E", bound=StrEnum)


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    parser.add_argument("file", type=Path)
    parser.add_argument("--add", metavar="TEXT", help="add an entry and save the file")
    parser.add_argument("--kind", help="of the entry: note, measure, order, ride, incident, repair, change ... (note without it)")
    parser.add_argument("--on", action="append", default=[], metavar="PART", help="pack, wiring, controller, motor, reduction, wheel ...")
    parser.add_argument("--date", metavar="DAY", help="such as 2026-05-09; today without it")
    parser.add_argument("--incident", metavar="WHAT", help="short, jam, drop, dunking, overheating or crash")
    parser.add_argument("--clears", action="append", default=[], metavar="ID", help="incident whose suspicion this test takes off")
    parser.add_argument("--replaced", action="append", default=[], metavar="PART", help="part that was replaced")
    parser.add_argument("--hours", help="hours of use so far")
    parser.add_argument("--distance", help="distance so far, such as '350 km'")
    parser.add_argument("--again", metavar="AFTER", help="do it again after so long: '90 days', '10 h' or '300 km'")
    parser.add_argument("--search", metavar="WORDS")
    parser.add_argument("--csv", type=Path, metavar="OUT", help="write it as a table")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.design import file
    from wattagon.exchange.history_csv import write_history
    from wattagon.study.history.study import in_order, search

    document = file.read(options.file)
    if options.add is None and (options.kind or options.on or options.date or options.incident or options.clears or options.replaced):
        raise InputError("the command line", "an entry without --add", "--add TEXT with what belongs to it")
    if options.add is not None:
        entry = _entry(options, document.design)
        design = replace(document.design, history=(*document.design.history, entry))
        document = replace(document, design=design)
        file.write(options.file, document)
    entries = search(document.design.history, options.search) if options.search else in_order(document.design.history)
    if options.csv is not None:
        write_history(entries, options.csv)
    if options.json:
        print_json([entry_data(entry) for entry in entries])
        return 0
    for entry in entries:
        what = entry.kind.value.replace("_", " ") + (f", {entry.incident}" if entry.incident else "")
        print(f"{entry.date}  {entry.id:5} {what:22} {' '.join(entry.on):20} {entry.text}")
    if not entries:
        print("no entry" + (" has these words" if options.search else " yet; --add TEXT makes the first"))
    return 0


def entry_data(entry: Entry) -> dict[str, object]:
    """One entry in the manner of the terminal."""
    return {
        "id": entry.id,
        "date": entry.date,
        "kind": entry.kind.value,
        "text": entry.text,
        "on": list(entry.on),
        "variant": entry.variant or None,
        "version": entry.version or None,
        "use_h": entry.hours,
        "distance_m": entry.distance,
        "incident": entry.incident,
        "clears": list(entry.clears),
        "replaced": list(entry.replaced),
        "readings": [{"name": one.name, "value": one.value, "dimension": one.dimension} for one in entry.readings],
        "pictures": list(entry.pictures),
        "log": entry.log or None,
    }


def _entry(options: argparse.Namespace, design: Design) -> Entry:
    from wattagon.design.tree import BuildPart, Entry, EntryKind, Incident
    from wattagon.exchange.units import parse
    from wattagon.study.history.study import fresh_id, version_of

    kind = _one(options.kind, EntryKind, "--kind") if options.kind else EntryKind.INCIDENT if options.incident else EntryKind.NOTE
    known = {entry.id for entry in design.history if entry.kind is EntryKind.INCIDENT}
    for ident in options.clears:
        if ident not in known:
            raise InputError("--clears", ident, ", ".join(sorted(known)) or "none: the history has no incident")
    days, hours, metres = _again(options.again)
    variant = design.variant()
    return Entry(
        id=fresh_id(design.history),
        date=options.date or datetime.date.today().isoformat(),
        kind=kind,
        text=options.add,
        variant=variant.id,
        version=version_of(variant),
        on=tuple(_one(part, BuildPart, "--on") for part in options.on),
        hours=_hours(options.hours, "--hours") if options.hours else None,
        distance=parse(options.distance, "distance", field="--distance") if options.distance else None,
        incident=_one(options.incident, Incident, "--incident") if options.incident else None,
        clears=tuple(options.clears),
        replaced=tuple(_one(part, BuildPart, "--replaced") for part in options.replaced),
        again_days=days,
        again_hours=hours,
        again_distance=metres,
    )


def _one(text: str, kind: type[E], name: str) -> E:
    try:
        return kind(text.strip().casefold().replace("-", "_"))
    except ValueError:
        raise InputError(name, text, ", ".join(kind)) from None


def _hours(text: str, name: str) -> float:
    """Hours of use, with or without their unit.  Raises InputError naming the option."""
    from wattagon.exchange.units import parse

    bare = text.strip().casefold()
    for unit in ("hours", "hour", "h"):
        bare = bare.removesuffix(unit).strip()
    try:
        value = parse(bare, "number", field=name)
    except InputError:
        value = -1.0
    if not 0.0 <= value <= 1e6:
        raise InputError(name, text, "hours from 0 to 1,000,000, such as 2 h") from None
    return value


def _again(text: str | None) -> tuple[int | None, float | None, float | None]:
    """(days, hours, metres) of what is typed; only one of them is told."""
    from wattagon.exchange.units import parse

    if text is None:
        return None, None, None
    text = text.strip().casefold()
    for unit, scale in (("days", 1), ("day", 1), ("weeks", 7), ("week", 7), ("months", 30), ("month", 30)):
        if text.endswith(unit):
            return round(parse(text.removesuffix(unit).strip(), "number", field="--again") * scale), None, None
    if text.endswith(("h", "hours")):
        return None, _hours(text, "--again"), None
    if any(letter.isalpha() for letter in text):
        return None, None, parse(text, "distance", field="--again")
    raise InputError("--again", text, "a number with days, weeks, h or a unit of distance")
