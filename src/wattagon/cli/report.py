"""`wattagon report`: a design as one page with its pictures, as paper, or as text for a post."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING

from wattagon.cli.shared import design_options, load
from wattagon.errors import InputError

if TYPE_CHECKING:
    import argparse


def options(parser: argparse.ArgumentParser) -> None:
    """What may follow the command."""
    design_options(parser)
    parser.add_argument("-o", "--out", type=Path, required=True, metavar="OUT", help="NAME.html, NAME.pdf or NAME.md")
    parser.add_argument("--sections", metavar="A,B", help="which benches, such as brief,drive,parts; all that have something without it")
    parser.add_argument("--units", choices=("metric", "imperial", "nautical"), default="metric")


def run(options: argparse.Namespace) -> int:
    """Runs it; the exit code.  Pictures are painted offscreen: no window appears."""
    import datetime

    from wattagon.design import file
    from wattagon.desk.report.write import check_ending, write
    from wattagon.exchange.report.model import Report

    check_ending(options.out)
    design = load(options)
    codes = [one.strip().lower() for one in options.sections.split(",") if one.strip()] if options.sections is not None else None
    if codes == []:
        raise InputError("sections", repr(options.sections), "names apart by commas")
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtCore import QEventLoop, qInstallMessageHandler
    from PySide6.QtWidgets import QApplication

    from wattagon.desk.app import make_window
    from wattagon.desk.report.gather import Gatherer, chosen_sections
    from wattagon.desk.settings import SettingsFile

    entries = chosen_sections(design, codes)
    before = qInstallMessageHandler(_told_by_qt)
    _app = QApplication.instance() or QApplication(["wattagon"])
    made: list[object] = []
    with tempfile.TemporaryDirectory() as folder:
        members = file.read(options.file).members
        copy = Path(folder) / "report.wattagon"
        file.write(copy, file.Document(design=design, members=members))
        window = make_window(SettingsFile(Path(folder) / "settings.json"), None, None)
        window.resize(1280, 800)
        window.session.set_looks(unit_set=options.units)
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
        write(report, gatherer.pictures, options.out)
        window.session.forget_recovery()
        window.hide()
        window.deleteLater()
        QApplication.processEvents()
    qInstallMessageHandler(before)
    pictures = sum(bool(one.picture) for one in report.sections)
    print(f"{options.out}: {len(report.sections)} sections, {pictures} pictures, {len(report.assumed)} assumed values")
    return 0


def _told_by_qt(_kind: object, _where: object, text: str) -> None:
    """What a window that nobody sees cannot do is no news."""
    if "This plugin does not support" not in text:
        print(f"wattagon: {text}", file=sys.stderr)
