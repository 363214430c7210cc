"""What every test of the window shares: the real window offscreen, private settings, nothing failing in silence."""

from __future__ import annotations

import faulthandler
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QPoint, QPointF, QStandardPaths, Qt, qInstallMessageHandler
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from tests.desk.remembered import remembering
from wattagon.design.paths import Edit
from wattagon.desk.app import make_window
from wattagon.desk.bench import Bench
from wattagon.desk.brief.bench import BriefBench
from wattagon.desk.drive.bench import DriveBench
from wattagon.desk.recovery import Recovery
from wattagon.desk.settings import SettingsFile
from wattagon.desk.window import MainWindow
from wattagon.study.studies import STUDIES, Pace

SLOW = frozenset(study.code for study in STUDIES if study.pace is Pace.SLOW)


def held_but(runs: frozenset[str]) -> frozenset[str]:
    """All slow studies but those that run."""
    assert runs <= SLOW, runs - SLOW
    return SLOW - runs


class DeskTestCase(unittest.TestCase):
    """Opens the demo fleet in a window of 1280 x 800 with Dunlin in front."""

    demo = True
    remembers = True  # what slow studies found for the same design in an earlier test of the file
    # slow studies that run: what the tests wait for, and what stands in every window; the others are held
    runs = frozenset({"cures"})

    @classmethod
    def setUpClass(cls) -> None:
        QStandardPaths.setTestModeEnabled(True)
        cls.app = QApplication.instance() or QApplication([])

    def setUp(self) -> None:
        if self.remembers:
            self.enterContext(mock.patch("wattagon.desk.schedule.loaded", remembering))
        self.problems: list[str] = []
        self.addCleanup(lambda: self.assertEqual(self.problems, []))
        self.addCleanup(setattr, sys, "excepthook", sys.excepthook)
        sys.excepthook = lambda kind, error, trace: self.problems.append(repr(error))
        handler = qInstallMessageHandler(
            lambda kind, where, text: None if "This plugin does not support" in text else self.problems.append(text)
        )
        self.addCleanup(qInstallMessageHandler, handler)
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.window = self.make()
        if self.demo:
            self.window.open_demo()
        self.window.resize(1280, 800)
        self.window.show()
        self.addCleanup(self.drop, self.window)
        self.app.processEvents()

    def make(self) -> MainWindow:
        parts = self.folder / "parts"
        parts.mkdir(exist_ok=True)
        window = make_window(SettingsFile(self.folder / "settings.json"), parts, Recovery(self.folder / "recovery"))
        window.session.schedule.held = held_but(self.runs)
        return window

    def drop(self, window: MainWindow) -> None:
        window.session.forget_recovery()
        window.hide()
        window.deleteLater()
        self.app.sendPostedEvents(None, 52)  # DeferredDelete
        self.app.processEvents()

    @property
    def session(self):
        return self.window.session

    @property
    def drive(self) -> DriveBench:
        bench = self.window.bench("drive")
        assert isinstance(bench, DriveBench)
        return bench

    @property
    def brief(self) -> BriefBench:
        bench = self.window.bench("brief")
        assert isinstance(bench, BriefBench)
        return bench

    def bring(self, vehicle: str, variant: str, bench: str) -> Bench:
        """A variant of a demo vehicle to the front, on a bench."""
        names = [doc.design.vehicle.name for doc in self.session.docs]
        self.session.activate(names.index(vehicle))
        if self.session.design.active != variant:
            self.session.try_apply(Edit(label="variant", changes=(("active", variant),)))
        self.window.show_bench(bench)
        self.app.processEvents()
        return self.window.bench(bench)

    def wait_until(self, condition: Callable[[], bool], timeout_s: float = 180.0) -> None:
        end = time.monotonic() + timeout_s
        while not condition() and time.monotonic() < end:
            self.app.processEvents()
            time.sleep(0.005)
        if not condition():  # what every thread waits for, to find out why
            faulthandler.dump_traceback(all_threads=True)
        self.assertTrue(condition(), f"not within {timeout_s} s")

    def all_settled(self) -> None:
        """Until every study has arrived, rides too."""
        self.wait_until(lambda: not self.session.busy)

    def settle(self) -> None:
        """Until previews and cures have arrived; rides take longer."""
        self.wait_until(lambda: not self.session.schedule.stale & {"steps", "cures"} and not self.session.ahead.busy)

    def click(self, widget: QWidget, at: QPointF | None = None) -> None:
        point = QPoint() if at is None else at.toPoint()
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, point)
        self.app.processEvents()

    def type_into(self, field: QWidget, text: str) -> None:
        field.setFocus()
        QTest.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.app.processEvents()

    def lever(self, code: str) -> int:
        return next(k for k, lever in enumerate(self.session.levers) if lever.code == code)

    def message(self) -> str:
        return self.window.status.message.text()
