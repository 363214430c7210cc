"""Logs of a build: bring one in, look at it, hold it against its prediction."""

from __future__ import annotations

import datetime
import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from wattagon.cli.shared import print_json, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.design.catalogue import Catalogue
    from wattagon.design.file import Document
    from wattagon.design.tree import Log
    from wattagon.study.log.data import LogData


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    parser.add_argument(
        "what", choices=("add", "show", "compare", "map"), help="add FILE LOG, show FILE [N], compare FILE N, map FILE N --map .."
    )
    parser.add_argument("file", type=Path)
    parser.add_argument("log", nargs="?", help="a table, a GPX track, or '0 to 20 km/h in 7 s'; or the number of a log that is there")
    parser.add_argument(
        "--map", action="append", default=[], metavar="CHANNEL[:UNIT]=HEAD", help="what a column is, such as speed:km/h=Geschw"
    )
    parser.add_argument("--kind", metavar="KIND", help="telemetry, track, timed, meter, phone, coast or charger; found without it")
    parser.add_argument("--variant", metavar="V", help="that was ridden; the active one without it")
    parser.add_argument("--date", metavar="DAY", help="of the ride, such as 2026-05-09; today without it")
    parser.add_argument("--aboard", metavar="MASS", help="rider and load")
    parser.add_argument("--charge", metavar="SHARE", help="of the pack at the start")
    parser.add_argument("--air", metavar="TEMPERATURE")
    parser.add_argument("--wind", metavar="SPEED", help="headwind")
    parser.add_argument("--course", metavar="ID", help="course of the brief that was ridden")
    parser.add_argument("--wall", metavar="ENERGY", help="energy from the wall for a charge, such as '520 Wh'; LOG is then a name for it")
    parser.add_argument("--beside", metavar="N", help="log that ran along with this one; the offset between them is found by speed")
    parser.add_argument("--note", default="")
    parser.add_argument("--way", default="speed", metavar="WAY", help="ride it again by its speed or by its command")
    parser.add_argument("--look", action="store_true", help="with add: only tell what the columns are taken as")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    from wattagon.design import file

    document = file.read(options.file)
    stock = stock_catalogue()
    return {"add": _add, "show": _show, "compare": _compare, "map": _map}[options.what](options, document, stock)


def _add(options: argparse.Namespace, document: Document, stock: Catalogue) -> int:
    from wattagon.design import file
    from wattagon.design.paths import apply
    from wattagon.design.tree import LogKind
    from wattagon.exchange.log.memory import remember
    from wattagon.exchange.log.read import packed
    from wattagon.exchange.log_json import columns_told, log_data
    from wattagon.study.log.enter import added, timed_log

    design = document.design
    if not options.log:
        raise InputError("the command line", "no log", "log add FILE LOG: a table, a GPX track, or '0 to 20 km/h in 7 s'")
    kind = _kind(options.kind)
    members, data = document.members, None
    proposed: Any = ()
    if options.wall is not None or kind is LogKind.CHARGER:
        from wattagon.design.tree import Log
        from wattagon.exchange.units import parse

        if options.wall is None:
            raise InputError("--wall", "missing", "energy from the wall, such as '520 Wh'")
        log = Log(
            id="new", kind=LogKind.CHARGER, source=options.log[:120], energy_wh=parse(options.wall, "energy", "metric", field="--wall")
        )
    elif kind is LogKind.TIMED or _is_timed(options.log):
        from wattagon.exchange.log.timed import read_timed

        log = timed_log(read_timed(options.log), options.log)
    else:
        brought = brought_from(options, design, stock, kind)
        proposed, data, log = brought.proposed, brought.data, brought.data.log
        members = {**members, log.member: packed(brought.raw)}
        if options.map and log.header:
            remember(log.header, log.columns)
    log = _told(options, replace(log, note=options.note), design)
    if options.beside is not None and data is not None:
        log = _aligned(options.beside, log, data, document, stock)
    if options.look:
        print("\n".join((*columns_told(proposed), *(data.told if data is not None else ()))))
        return 0
    design = apply(design, added(design, log, data, datetime.date.today()))
    file.write(options.file, replace(document, design=design, members=members))
    log = design.logs[-1]
    if options.json:
        print_json(log_data(log, data, proposed))
        return 0
    print(f"{log.id}  {log.kind.value}  {log.source}")
    for line in columns_told(proposed):
        print(f"  {line}")
    for words in data.told if data is not None else ():
        print(f"  told: {words}")
    return 0


def _map(options: argparse.Namespace, document: Document, stock: Catalogue) -> int:
    """Tell again what the columns of a log are."""
    from wattagon.design import file
    from wattagon.design.paths import apply
    from wattagon.exchange.log.memory import remember
    from wattagon.exchange.log.propose import told_by
    from wattagon.study.log.enter import changed, find_log

    log = find_log(document.design, options.log)
    told = told_by(options.map, [one.head for one in log.columns])
    if not told:
        raise InputError("--map", "missing", "CHANNEL[:UNIT]=HEAD, such as speed:km/h=Geschw")
    channels = {channel for channel, _ in told.values()}
    columns = [
        replace(one, channel=told[one.head][0].replace("none", ""), unit=told[one.head][1])
        if one.head in told
        else replace(one, channel="", unit="")
        if one.channel in channels
        else one
        for one in log.columns
    ]
    made = replace(log, columns=tuple(columns))
    design = apply(document.design, changed(document.design, made, f"Columns of log {log.id}"))
    data = loaded(replace(document, design=design), made, stock)
    file.write(options.file, replace(document, design=design))
    remember(log.header, made.columns)
    for words in data.told:
        print(f"  told: {words}")
    return 0


def brought_from(options: argparse.Namespace, design: Any, stock: Catalogue, kind: Any) -> Any:
    """The log of a file, its columns as told or remembered."""
    from wattagon.exchange.log.memory import remembered
    from wattagon.exchange.log.propose import header_of
    from wattagon.exchange.log.read import bring, known_columns, read_file
    from wattagon.exchange.log.table import read_table
    from wattagon.study.log.expect import expected

    path = Path(options.log)
    raw = read_file(path)
    expect = expected(design, stock, _variant(options, design))
    table = None
    known: Any = ()
    if raw[:4096].lstrip()[:1] != b"<" and raw.strip():
        table = read_table(raw, path.name)
        known = known_columns(design, table.heads) or remembered(header_of(table.heads))
    return bring(raw, path.name, expect, known=known, maps=options.map, kind=kind, table=table)


def _is_timed(text: str) -> bool:
    from wattagon.exchange.log.timed import looks_timed

    return not Path(text).is_file() and looks_timed(text)


def _kind(text: str | None) -> Any:
    from wattagon.design.tree import LogKind

    if text is None:
        return None
    try:
        return LogKind(text.strip().lower())
    except ValueError:
        raise InputError("--kind", text, ", ".join(LogKind)) from None


def _variant(options: argparse.Namespace, design: Any) -> str | None:
    if options.variant is None:
        return None
    for variant in design.variants:
        if options.variant.casefold() in (variant.id.casefold(), variant.name.casefold()):
            return str(variant.id)
    raise InputError("--variant", options.variant, ", ".join(variant.id for variant in design.variants))


def _told(options: argparse.Namespace, log: Log, design: Any) -> Log:
    """The conditions that were told."""
    from wattagon.design.quantity import Known, Quantity
    from wattagon.exchange.units import parse
    from wattagon.study.ride.study import find_course

    measured = lambda value, by: Quantity(value=value, known=Known.MEASURED, tolerance=by)
    changes: dict[str, Any] = {"variant": _variant(options, design) or "", "date": options.date or ""}
    if options.aboard is not None:
        changes["aboard"] = parse(options.aboard, "mass", "metric", field="--aboard")
    if options.charge is not None:
        charge = parse(options.charge, "share", field="--charge")
        if not 0.0 <= charge <= 1.0:
            raise InputError("--charge", options.charge, "0 to 1, or 0 % to 100 %")
        changes["start_charge"] = measured(charge, 0.02)
    if options.air is not None:
        changes["air"] = measured(parse(options.air, "temperature", "metric", field="--air"), 1.0)
    if options.wind is not None:
        changes["headwind"] = measured(parse(options.wind, "speed", "metric", field="--wind"), 0.5)
    if options.course is not None:
        changes["course"] = find_course(design, options.course).id
    return replace(log, **changes)


def _aligned(text: str, log: Log, data: LogData, document: Document, stock: Catalogue) -> Log:
    from wattagon.study.log.align import offset_of
    from wattagon.study.log.enter import find_log

    other = find_log(document.design, text)
    offset, fits = offset_of(loaded(document, other, stock), data)
    print(f"wattagon: it lies {offset:+.1f} s against log {other.id}, speeds agree to {fits:.0%}", file=sys.stderr)
    return replace(log, beside=other.id, offset=offset)


def loaded(document: Document, log: Log, stock: Catalogue) -> LogData:
    """The data of a log, with the heights of a track beside it.  Raises FileError, InputError."""
    from wattagon.exchange.log.read import again
    from wattagon.study.log.align import with_tracks
    from wattagon.study.log.expect import expected

    expect = expected(document.design, stock, log.variant or None)
    data = again(log, document.members, expect)
    tracks = [again(one, document.members, expect) for one in document.design.logs if one.beside == log.id and one.member]
    return with_tracks(data, tracks)


def _show(options: argparse.Namespace, document: Document, stock: Catalogue) -> int:
    from wattagon.exchange.log_json import log_data
    from wattagon.exchange.units import say
    from wattagon.study.log.channels import words_of
    from wattagon.study.log.data import distance_m
    from wattagon.study.log.enter import charge_words, find_log

    design = document.design
    if options.log is None and not options.json:
        for one in design.logs:
            print(f"{one.id:4} {one.date}  {one.kind.value:10} variant {one.variant}  {one.source}{f', {one.note}' if one.note else ''}")
        if not design.logs:
            print("no log yet; wattagon log add FILE LOG brings one in")
        return 0
    log = find_log(design, options.log)
    data = loaded(document, log, stock) if log.member else None
    if options.json:
        print_json(log_data(log, data))
        return 0
    print(f"{log.id}  {log.kind.value}  {log.source}  {log.date}")
    if data is not None:
        print(f"  {data.samples} rows, {say(data.seconds, 'time')}, {say(distance_m(data), 'distance')}")
        print(f"  {', '.join(words_of(name) for name in data.columns)}")
        for words in data.told:
            print(f"  told: {words}")
    if log.energy_wh is not None:
        print(f"  {charge_words(design, log, say)}")
    for run in log.runs:
        print(f"  {say(run.start, 'speed')} to {say(run.end, 'speed')} in {say(run.seconds, 'time')} {run.way}")
    return 0


def _compare(options: argparse.Namespace, document: Document, stock: Catalogue) -> int:
    from wattagon.design.tree import LogKind
    from wattagon.exchange.log_json import comparison_data
    from wattagon.exchange.units import say
    from wattagon.study.log.compare import compare, explanations, statement
    from wattagon.study.log.enter import find_log
    from wattagon.study.log.replay import replay

    log = find_log(document.design, options.log)
    if log.kind is LogKind.TIMED:
        return _timed(options, document, log, stock)
    if not log.member:
        raise InputError("log", log.id, "a log with a table: this one was typed")
    data = loaded(document, log, stock)
    if log.kind is LogKind.PHONE:
        return _shaken(options, document, data, stock)
    made = compare(replay(document.design, stock, data, way=options.way))
    found = explanations(document.design, stock, made)
    words = statement(made, found, say)
    if options.json:
        print_json(comparison_data(made, words, found))
        return 0
    for doubt in data.doubts:
        print(f"its columns contradict each other: {doubt}")
    print(words)
    for one in made.figures:
        inside = {None: "", True: "inside the band", False: "outside the band"}[one.inside]
        both = f"{say(one.measured, one.dimension):>10} measured {say(one.predicted, one.dimension):>10} predicted"
        print(f"  {one.words:26} {both} {one.off:+.1%} {inside}")
    for row in made.channels:
        within = "" if row.inside_band != row.inside_band else f", {row.inside_band:.0%} of the time inside the band"
        print(f"  {row.name:14} off by {row.rms_error:.3g} (rms), {row.bias:+.3g} on average{within}")
    for said in made.replay.told:
        print(f"  {said}")
    return 0


def _timed(options: argparse.Namespace, document: Document, log: Log, stock: Catalogue) -> int:
    from wattagon.exchange.units import say
    from wattagon.study.log.stopwatch import stopwatch

    rows = stopwatch(document.design, stock, log)
    if options.json:
        print_json(
            {
                "log": log.id,
                "channels": [],
                "energy": {"measured_wh": None, "predicted_wh": None},
                "runs": [
                    {
                        "from_m_s": r.start,
                        "to_m_s": r.end,
                        "measured_s": r.measured,
                        "predicted_s": r.predicted,
                        "wheel_torque_nm": r.torque_nm,
                    }
                    for r in rows
                ],
            }
        )
        return 0
    for r in rows:
        print(
            f"  {say(r.start, 'speed')} to {say(r.end, 'speed')}: {r.measured:.1f} s measured ({r.count} runs, {r.spread:.1f} s apart), "
            f"{r.predicted:.1f} s predicted, {r.measured / r.predicted - 1.0:+.0%}; "
            f"mean wheel torque {say(r.torque_nm, 'torque')}"
        )
    return 0


def _shaken(options: argparse.Namespace, document: Document, data: LogData, stock: Catalogue) -> int:
    from wattagon.exchange.units import say
    from wattagon.study.log.enter import find_log
    from wattagon.study.log.phone import phone_study

    beside = [loaded(document, find_log(document.design, data.log.beside), stock)] if data.log.beside else []
    found = phone_study(document.design, stock, data, beside)
    if options.json:
        print_json(
            {
                "log": data.log.id,
                "channels": [],
                "energy": {"measured_wh": None, "predicted_wh": None},
                "along_m_s2": {"measured": found.along_measured, "predicted": found.along_predicted},
                "shakes": [
                    {
                        "words": one.words,
                        "prominence": one.prominence,
                        "amplitude_m_s2": one.amplitude,
                        "at_m_s": one.at_m_s,
                        "at_hz": one.hertz,
                    }
                    for one in found.shakes
                ],
                "told": list(found.told),
            }
        )
        return 0
    push, full = say(found.along_measured, "acceleration"), say(found.along_predicted, "acceleration")
    print(f"strongest push {push}, {full} predicted at full command")
    for one in found.shakes:
        at = f"{one.amplitude:.2g} m/s2 at {say(one.at_m_s, 'speed')}, {one.hertz:.0f} Hz"
        print(f"  {one.words:32} {one.prominence:5.1f} times its surroundings, {at}")
    for words in found.told:
        print(f"  {words}")
    return 0
