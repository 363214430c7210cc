"""A lever step, from key press to repainted window, beside a bare hand-painted chart of the window's size.

Run: .venv/bin/python benchmarks/lever.py [Garganey ...].  Prints medians in ms and their ratio, for a board and a boat of the demo fleet
or those that are named; all in one process, taken in turns.
"""

from __future__ import annotations

import gc
import os
import statistics
import sys
import tempfile
import time
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


def main() -> int:
    app = QApplication(sys.argv[:1])
    for name in sys.argv[1:] or ("Dunlin", "Garganey"):
        measure(app, name)
    return 0


def measure(app: QApplication, name: str) -> None:
    """Time one vehicle and print what came of it."""
    print(name)
    with tempfile.TemporaryDirectory() as folder:
        window = make_window(SettingsFile(Path(folder) / "s.json"), None, None)
        window.open_demo()
        window.session.activate(next(k for k, doc in enumerate(window.session.docs) if doc.design.vehicle.name == name))
        window.resize(1280, 800)
        window.show()
        bench = window.bench("drive")
        assert isinstance(bench, DriveBench)
        levers = bench.levers
        levers.setFocus()
        plain = Plain()
        plain.show()
        settle(app, window)
        gc.freeze()  # as the program does once its window is shown
        moved, held, tapped, bare, unforeseen = [], [], [], [], []
        codes = [
            k
            for k, lever in enumerate(window.session.levers)
            if lever.code in LEVERS.get(name, ("driver_teeth_0", "series", "motor_current"))
        ]
        for n in range(STEPS):
            while levers.focused != codes[n % len(codes)]:  # as a person goes from lever to lever
                QTest.keyClick(levers, Qt.Key.Key_Right)
            settle(app, window)
            time.sleep(0.15)
            key = Qt.Key.Key_Up if (n // len(codes)) % 2 == 0 else Qt.Key.Key_Down
            start = time.perf_counter()
            QTest.keyPress(levers, key)
            app.processEvents()  # delivers the repaint
            tapped.append(time.perf_counter() - start)
            QTest.keyRelease(levers, key)
            settle(app, window)
            # each after the same rest, so that each meets the same cold caches
            time.sleep(0.15)
            plain.shift += 0.1
            start = time.perf_counter()
            plain.update()
            app.processEvents()
            bare.append(time.perf_counter() - start)
            time.sleep(0.15)
            start = time.perf_counter()
            window.session.set_moment(speed_m_s=(1.0 if name == "Garganey" else 5.0) + 0.02 * n)
            app.processEvents()
            moved.append(time.perf_counter() - start)
            time.sleep(0.15)
            window.session.ahead.forget()  # a step that nobody could foresee, such as a typed value
            start = time.perf_counter()
            window.session.undo()
            app.processEvents()
            unforeseen.append(time.perf_counter() - start)
            window.session.redo()
            settle(app, window)
            time.sleep(0.15)
        levers.focused = codes[0]
        for n in range(STEPS):  # as while a key is held: nothing is worked out ahead
            window.session.ahead.forget()
            start = time.perf_counter()
            QTest.keyPress(levers, Qt.Key.Key_Up if n % 2 == 0 else Qt.Key.Key_Down)
            app.processEvents()
            held.append(time.perf_counter() - start)
        step, key_held, moment, chart, plain_step = (1e3 * statistics.median(x) for x in (tapped, held, moved, bare, unforeseen))
        window.session.forget_recovery()
    print(f"lever step       {step:6.1f} ms median of {STEPS}, worst {1e3 * max(tapped):.1f}")
    print(f"unforeseen edit  {plain_step:6.1f} ms (nothing worked out ahead)")
    print(f"with the key held{key_held:6.1f} ms")
    print(f"moment moved     {moment:6.1f} ms")
    print(f"hand-painted     {chart:6.1f} ms (six curves, two fills, 1280 x 800)")
    pairs = statistics.median(a / b for a, b in zip(tapped, bare, strict=True))  # neighbours in time: a busy machine slows both
    unforeseen_pairs = statistics.median(a / b for a, b in zip(unforeseen, bare, strict=True))
    print(f"ratio, unforeseen{unforeseen_pairs:6.2f}")
    print(f"ratio            {pairs:6.2f} (median of neighbours; aim: at most 2)")


if __name__ == "__main__":
    sys.exit(main())
