"""A lever step, from key press to repainted window, beside a bare hand-painted chart of the window's size.

Run: .venv/bin/python benchmarks/lever.py [STEPS] [alone] [Garganey ...].  Prints medians in ms and their ratio, for a board and a boat of
the demo fleet or those that are named; all in one process, taken in turns.  "alone": without the slow studies, which wait on workers.
"""

from __future__ import annotations

import gc
import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from wattagon.desk.app import make_window
from wattagon.desk.chart.axes import Axes, paint_grid, ticks
from wattagon.desk.chart.ink import polygon
from wattagon.desk.drive.bench import DriveBench
from wattagon.desk.settings import SettingsFile
from wattagon.desk.theme import LIGHT, with_alpha
from wattagon.desk.window import MainWindow
from wattagon.study.studies import STUDIES, Pace

STEPS = 40


class Plain(QWidget):
    """Six curves of 400 points and two fills on a grid, 1280 x 800."""

    def __init__(self) -> None:
        super().__init__()
        self.resize(1280, 800)
        self.shift = 0.0

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), LIGHT.panel)
        axes = Axes(QRectF(60, 20, 1180, 730), 0.0, 10.0, 0.0, 10.0)
        paint_grid(p, axes, LIGHT, x_ticks=ticks(0, 10, 8), y_ticks=ticks(0, 10, 6), x_label="x", y_label="y")
        x = np.linspace(0, 10, 400)
        lines = [axes.pixels(x, 5 + 0.6 * k * np.cos(0.5 * x + self.shift + k)) for k in range(6)]
        for k in (2, 4):
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(with_alpha(QColor(LIGHT.heat), 0.12))
            p.drawPolygon(polygon(np.vstack([lines[k], lines[k - 1][::-1]])))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for line in lines:
            p.setPen(QPen(LIGHT.ink, 2.0))
            p.drawPolyline(polygon(line))
        p.end()


def settle(app: QApplication, window: MainWindow) -> None:
    """Wait until previews and cures have arrived."""
    end = time.monotonic() + 5.0
    while (window.session.previews_stale or window.session.busy) and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.002)
    for _ in range(3):  # what they repaint is not part of the next step
        app.processEvents()


LEVERS = {"Garganey": ("propeller_pitch", "series", "motor_current")}  # of others the teeth of the motor instead of the pitch


class Measured:
    """One vehicle in a window of its own, and what its steps took [s]."""

    def __init__(self, app: QApplication, folder: Path, name: str, *, alone: bool = False) -> None:
        self.app, self.name = app, name
        self.window = window = make_window(SettingsFile(folder / f"{name}.json"), None, None)
        if alone:
            window.session.schedule.held = frozenset(study.code for study in STUDIES if study.pace is Pace.SLOW)
        window.open_demo()
        window.session.activate(next(k for k, doc in enumerate(window.session.docs) if doc.design.vehicle.name == name))
        window.resize(1280, 800)
        window.show()
        bench = window.bench("drive")
        assert isinstance(bench, DriveBench)
        self.levers = bench.levers
        self.levers.setFocus()
        settle(app, window)
        asked = LEVERS.get(name, ("driver_teeth_0", "series", "motor_current"))
        self.codes = [k for k, lever in enumerate(window.session.levers) if lever.code in asked]
        self.moved: list[float] = []
        self.held: list[float] = []
        self.tapped: list[float] = []
        self.bare: list[float] = []
        self.unforeseen: list[float] = []

    def timed(self, act: Callable[[], object]) -> float:
        """Seconds of something with the repaint that follows; after the same rest, so that each meets the same cold caches."""
        time.sleep(0.15)
        start = time.perf_counter()
        act()
        self.app.processEvents()  # delivers the repaint
        return time.perf_counter() - start

    def round(self, n: int, plain: Plain) -> None:
        """A step, the bare chart, a moved moment and an edit that nobody could foresee."""
        window, levers, session = self.window, self.levers, self.window.session
        window.activateWindow()
        while levers.focused != self.codes[n % len(self.codes)]:  # as a person goes from lever to lever
            QTest.keyClick(levers, Qt.Key.Key_Right)
        settle(self.app, window)
        key = Qt.Key.Key_Up if (n // len(self.codes)) % 2 == 0 else Qt.Key.Key_Down
        self.tapped.append(self.timed(lambda: QTest.keyPress(levers, key)))
        QTest.keyRelease(levers, key)
        settle(self.app, window)
        plain.shift += 0.1
        self.bare.append(self.timed(plain.update))
        self.moved.append(self.timed(lambda: session.set_moment(speed_m_s=(1.0 if self.name == "Garganey" else 5.0) + 0.02 * n)))
        session.ahead.forget()
        self.unforeseen.append(self.timed(session.undo))
        session.redo()
        settle(self.app, window)

    def hold(self) -> None:
        """As while a key is held: nothing is worked out ahead."""
        self.levers.focused = self.codes[0]
        for n in range(STEPS):
            self.window.session.ahead.forget()
            start = time.perf_counter()
            QTest.keyPress(self.levers, Qt.Key.Key_Up if n % 2 == 0 else Qt.Key.Key_Down)
            self.app.processEvents()
            self.held.append(time.perf_counter() - start)

    @property
    def ratios(self) -> list[float]:
        """Of each step to the chart after it: neighbours in time, so a busy machine slows both."""
        return [a / b for a, b in zip(self.tapped, self.bare, strict=True)]

    def told(self) -> None:
        """Print what came of it."""
        step, key_held, moment, chart, edit = (
            1e3 * statistics.median(x) for x in (self.tapped, self.held, self.moved, self.bare, self.unforeseen)
        )
        unforeseen = statistics.median(a / b for a, b in zip(self.unforeseen, self.bare, strict=True))
        print(self.name)
        print(f"lever step       {step:6.1f} ms median of {len(self.tapped)}, worst {1e3 * max(self.tapped):.1f}")
        print(f"unforeseen edit  {edit:6.1f} ms (nothing worked out ahead)")
        print(f"with the key held{key_held:6.1f} ms")
        print(f"moment moved     {moment:6.1f} ms")
        print(f"hand-painted     {chart:6.1f} ms (six curves, two fills, 1280 x 800)")
        print(f"ratio, unforeseen{unforeseen:6.2f}")
        print(f"ratio            {statistics.median(self.ratios):6.2f} (median of neighbours; aim: at most 2)")


def main() -> int:
    app = QApplication(sys.argv[:1])
    plain = Plain()
    plain.show()
    with tempfile.TemporaryDirectory() as folder:
        names = [word for word in sys.argv[1:] if not word.isdigit() and word != "alone"] or ["Dunlin", "Garganey"]
        steps = next((int(word) for word in sys.argv[1:] if word.isdigit()), STEPS)
        all_of = [Measured(app, Path(folder), name, alone="alone" in sys.argv[1:]) for name in names]
        gc.freeze()  # as the program does once its window is shown
        for n in range(steps):
            for one in all_of:
                one.round(n, plain)
        for one in all_of:
            one.hold()
            one.told()
            one.window.session.forget_recovery()
            one.window.session.closing.emit()
            one.window.session.schedule.rest()
            one.window.hide()
            one.window.deleteLater()
        plain.hide()
        app.sendPostedEvents(None, 52)  # what is deleted later; else it may outlive what it stands on
    first = all_of[0]
    for one in all_of[1:]:  # step beside step
        beside = statistics.median(a / b for a, b in zip(one.ratios, first.ratios, strict=True))
        steps = statistics.median(a / b for a, b in zip(one.tapped, first.tapped, strict=True))
        print(f"{one.name} beside {first.name}: its ratio is {beside:.2f} of the other's, its step {steps:.2f} (aim: within a tenth)")
    return 0


if __name__ == "__main__":
    sys.exit(main())
