"""`wattagon report`: a design as one page with its pictures, as paper, or as text for a post."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load, stock_catalogue
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse

    from wattagon.design.file import Document
    from wattagon.design.tree import Design
    from wattagon.exchange.report.model import Report
    from wattagon.study.say import Say


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    words = "NAME.html, NAME.pdf or NAME.md; NAME.zip for a bundle to share"
    parser.add_argument("-o", "--out", type=Path, required=True, metavar="OUT", help=words)
    parser.add_argument("--sections", metavar="A,B", help="which benches, such as brief,drive,parts; all that have something without it")
    words = "with NAME.pdf: cutting sheets at 1:1, wiring, settings and commissioning as one set"
    parser.add_argument("--workshop", action="store_true", help=words)
    parser.add_argument("--paper", default="A4", help="A4 or Letter, of cutting sheets")
    parser.add_argument(
        "--keep",
        metavar="A,B",
        default="",
        help="with NAME.zip: what stays in, of notes, dates, ends (of tracks), pictures, logs; nothing private without it",
    )
    parser.add_argument("--units", choices=("metric", "imperial", "nautical"), default="metric")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code."""
    ending = options.out.suffix.lower()
    if options.workshop and ending != ".pdf":
        raise InputError("--workshop", options.out.name, "it with a name that ends in .pdf")
    if options.keep and ending != ".zip":
        raise InputError("--keep", options.keep, "it with a name that ends in .zip")
    if options.workshop:
        return _workshop(options)
    return _bundle(options) if ending == ".zip" else _report(options)


def _say(design: Design, units: str) -> Say:
    from wattagon.exchange.units import say

    return lambda value, dimension: say(value, dimension, units, design.brief.currency)


def _workshop(options: argparse.Namespace) -> int:
    from wattagon import files
    from wattagon.exchange.share.workshop import workshop_set

    if options.sections is not None:
        raise InputError("--sections", options.sections, "none: a workshop set has all of its papers")
    design = load(options)
    files.write_bytes(options.out, workshop_set(design, stock_catalogue(), _say(design, options.units), options.units, options.paper))
    print(f"{options.out}: the workshop set")
    return 0


def _bundle(options: argparse.Namespace) -> int:
    """The report in it is made of the copy, so that nothing private comes back by it."""
    from dataclasses import replace

    from wattagon import files
    from wattagon.design import file
    from wattagon.exchange.share.bundle import bundle, stem_of
    from wattagon.exchange.share.private import kept_of, without_private

    keep = kept_of(options.keep)
    document = replace(file.read(options.file), design=load(options))
    shared = without_private(document, keep).document
    with tempfile.TemporaryDirectory() as folder:
        page = Path(folder) / f"{stem_of(document)}-report.html"
        _painted(shared, _codes(options), options.units, page)
        content, said = bundle(
            document,
            stock_catalogue(),
            _say(document.design, options.units),
            keep=keep,
            unit_set=options.units,
            paper=options.paper,
            beside={page.name: page.read_bytes()},
        )
    files.write_bytes(options.out, content)
    print(f"{options.out}: {len(content) / 1024:.0f} KiB")
    for line in said:
        print(f"  {line}")
    return 0


def _codes(options: argparse.Namespace) -> list[str] | None:
    codes = [one.strip().lower() for one in options.sections.split(",") if one.strip()] if options.sections is not None else None
    if codes == []:
        raise InputError("sections", repr(options.sections), "names apart by commas")
    return codes


def _report(options: argparse.Namespace) -> int:
    from wattagon.design import file
    from wattagon.desk.report.write import check_ending

    check_ending(options.out)
    document = file.Document(design=load(options), members=file.read(options.file).members)
    report = _painted(document, _codes(options), options.units, options.out)
    pictures = sum(bool(one.picture) for one in report.sections)
    print(f"{options.out}: {len(report.sections)} sections, {pictures} pictures, {len(report.assumed)} assumed values")
    return 0


def _painted(document: Document, codes: list[str] | None, units: str, out: Path) -> Report:
    """A report written; its pictures are painted offscreen: no window appears."""
    import datetime

    from wattagon.design import file
    from wattagon.desk.report.write import write
    from wattagon.exchange.report.model import Report

    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QEventLoop, qInstallMessageHandler
    from PySide6.QtWidgets import QApplication

    from wattagon.desk.app import make_window
    from wattagon.desk.report.gather import Gatherer, chosen_sections
    from wattagon.desk.settings import SettingsFile

    entries = chosen_sections(document.design, codes)
    before = qInstallMessageHandler(_told_by_qt)
    _app = QApplication.instance() or QApplication(["wattagon"])
    made: list[object] = []
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "report.wattagon"
        file.write(copy, document)
        window = make_window(SettingsFile(Path(folder) / "settings.json"), None, None)
        window.resize(1280, 800)
        window.session.set_looks(unit_set=units)
        window.session.open(copy)
        window.show()
        loop = QEventLoop()
        gatherer = Gatherer(window, entries, datetime.date.today())
        gatherer.done.connect(made.append)
        gatherer.done.connect(loop.quit)
        gatherer.start()
        loop.exec()
        report = made[0]
        assert isinstance(report, Report)
        write(report, gatherer.pictures, out)
        window.session.forget_recovery()
        window.hide()
        window.deleteLater()
        QApplication.processEvents()
    qInstallMessageHandler(before)
    return report


def _told_by_qt(_kind: object, _where: object, text: str) -> None:
    """What a window that nobody sees cannot do is no news."""
    if "This plugin does not support" not in text:
        print(f"wattagon: {text}", file=sys.stderr)
