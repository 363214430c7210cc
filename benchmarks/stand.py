"""A tick of the test stand with its repaint, and a step of a setting with its repaint, beside a frame of a 60 Hz screen.

Run: .venv/bin/python benchmarks/stand.py.  Prints medians in ms and their share of a frame; all in one process.
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtWidgets import QApplication

from wattagon.desk.app import make_window
from wattagon.desk.controller.bench import ControllerBench
from wattagon.desk.settings import SettingsFile

FRAME_MS, TIMES = 1000.0 / 60.0, 150


def told(words: str, work: Callable[[int], object]) -> None:
    """Median of a piece of work, as ms and as a share of a frame."""
    took = []
    for k in range(TIMES):
        start = time.perf_counter()
        work(k)
        took.append(1000.0 * (time.perf_counter() - start))
    middle = statistics.median(took)
    print(f"{words:28} {middle:6.2f} ms  {middle / FRAME_MS:5.2f} of a frame")


def main() -> None:
    app = QApplication([])
    with tempfile.TemporaryDirectory() as folder:
        window = make_window(SettingsFile(Path(folder) / "settings.json"), None, None)
        window.open_demo()
        window.resize(1280, 800)
        window.show()
        window.show_bench("controller")
        bench = window.bench("controller")
        assert isinstance(bench, ControllerBench)
        while window.session.busy:
            app.processEvents()
        bench.show_target("test")
        app.processEvents()
        tab = bench.stand
        tab.speak()
        assert tab.stand is not None
        tab.stand.run(0.7)
        tab.arm()
        tab.push(0.5)
        tab.stand.run(12.0)
        stand = tab.stand
        told("a sixtieth of a second", lambda _k: stand.run(0.016))
        told("its repaint", lambda _k: bench.bed.repaint())
        bench.show_target("settings")
        app.processEvents()
        told("a setting's step", lambda k: bench.drawing.set_amps("motor", 40.0 + k % 20, 5))
        told("its repaint", lambda _k: bench.drawing.repaint())
        window.session.forget_recovery()


if __name__ == "__main__":
    main()
