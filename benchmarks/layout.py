"""A drag on the layout, from a moved pointer to the repainted window, beside a bare repaint of the same drawing.

Run: .venv/bin/python benchmarks/layout.py [Dunlin ...].  Prints medians in ms and their ratio; all in one process, taken in turns.
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from wattagon.desk.app import make_window
from wattagon.desk.layout.bench import LayoutBench
from wattagon.desk.settings import SettingsFile
from wattagon.study.layout.study import study_layout

STEPS = 60


def main() -> int:
    app = QApplication(sys.argv[:1])
    for name in sys.argv[1:] or ("Dunlin", "Bittern", "Corncrake"):
        measure(app, name)
    return 0


def measure(app: QApplication, name: str) -> None:
    """Time one vehicle and print what came of it."""
    with tempfile.TemporaryDirectory() as folder:
        window = make_window(SettingsFile(Path(folder) / "s.json"), None, None)
        window.open_demo()
        session = window.session
        session.activate(next(k for k, doc in enumerate(session.docs) if doc.design.vehicle.name == name))
        window.resize(1280, 800)
        window.show()
        window.show_bench("layout")
        bench = window.bench("layout")
        assert isinstance(bench, LayoutBench)
        drawing = bench.drawing
        for _ in range(40):
            app.processEvents()
            time.sleep(0.02)
        found, page = drawing.found, drawing.page
        assert found is not None and page is not None and session.study is not None
        core = []
        for _ in range(STEPS):
            start = time.perf_counter()
            study_layout(session.design, session.stock, session.study)
            core.append(time.perf_counter() - start)
        at = page.side(found.shafts[0].x, found.shafts[0].z)
        QTest.mousePress(drawing, Qt.MouseButton.LeftButton, pos=at.toPoint())
        drag, bare = [], []
        for n in range(STEPS):
            to = at + QPointF((1 if n % 2 else 3) + n // 2, n % 7)
            start = time.perf_counter()
            QTest.mouseMove(drawing, to.toPoint())
            app.processEvents()
            drag.append(time.perf_counter() - start)
            start = time.perf_counter()
            drawing.repaint()
            bare.append(time.perf_counter() - start)
        QTest.mouseRelease(drawing, Qt.MouseButton.LeftButton, pos=at.toPoint())
        session.forget_recovery()
    step, plain, geometry = (1e3 * statistics.median(x) for x in (drag, bare, core))
    print(f"{name:10} drag step {step:6.1f} ms, worst {1e3 * max(drag):6.1f}; bare repaint {plain:5.1f} ms; geometry {geometry:5.2f} ms")
    print(f"{'':10} ratio {statistics.median(a / b for a, b in zip(drag, bare, strict=True)):5.2f}")


if __name__ == "__main__":
    sys.exit(main())
