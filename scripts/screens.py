"""Pictures of each main view, made from the demo fleet at 1280 x 800."""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QApplication

from wattagon.design.paths import Edit
from wattagon.desk.app import make_window, write_window
from wattagon.desk.drive.bench import DriveBench
from wattagon.desk.finder.bench import FinderBench
from wattagon.desk.ride.bench import RideBench
from wattagon.desk.settings import SettingsFile
from wattagon.desk.window import MainWindow

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
# name, bench, vehicle, variant, theme, units, moment (m/s, grade, charge), panel beside the map
SHOTS: list[tuple[str, str, str, str, str, str, tuple[float, float, float], str]] = [
    ("drive", "drive", "Dunlin", "B", "light", "metric", (6.5, 0.08, 0.5), "flows"),
    ("drive-problems", "drive", "Dunlin", "A", "light", "metric", (4.0, 0.14, 0.5), "flows"),
    ("drive-dark-imperial", "drive", "Bittern", "A", "dark", "imperial", (4.0, 0.12, 1.0), "parts"),
    ("drive-kart", "drive", "Corncrake", "A", "light", "metric", (6.0, 0.05, 0.5), "flows"),
    ("finder", "finder", "Dunlin", "B", "light", "metric", (6.0, 0.0, 0.5), "found"),
    ("finder-compare", "finder", "Dunlin", "B", "light", "metric", (6.0, 0.0, 0.5), "compare"),
    ("finder-freedom", "finder", "Bittern", "A", "light", "imperial", (6.0, 0.0, 0.5), "freedom"),
    ("finder-none-dark", "finder", "Corncrake", "A", "dark", "metric", (6.0, 0.0, 0.5), "none"),
    # of rides the last is the run, and where on it the moment is, as a share of its rows
    ("ride-course", "ride", "Dunlin", "B", "light", "metric", (0.52, 0.0, 0.0), "levee-round"),
    ("ride-hill-dark", "ride", "Dunlin", "B", "dark", "metric", (-1.0, 0.0, 0.0), "hold-grade"),
    ("ride-start", "ride", "Bittern", "A", "light", "imperial", (0.15, 0.0, 0.0), "start"),
    ("ride-kart-course", "ride", "Corncrake", "A", "light", "metric", (0.3, 0.0, 0.0), "boardwalk"),
    ("brief", "brief", "Dunlin", "B", "light", "metric", (9.0, 0.0, 0.5), ""),
    ("brief-bike-dark", "brief", "Bittern", "A", "dark", "metric", (5.5, 0.0, 0.5), ""),
    ("brief-kart", "brief", "Corncrake", "A", "light", "imperial", (6.0, 0.0, 0.5), ""),
]


def until(done: Callable[[], bool]) -> None:
    """Let the window live until something has come."""
    end = time.monotonic() + 60.0
    while not done() and time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.01)


def wait(window: MainWindow) -> None:
    """Until the ride has arrived."""
    until(lambda: not window.riding)


def show_ride(window: MainWindow, bench: RideBench, run: str, share: float) -> None:
    """A run with the moment on it; the start also after another sprocket and with another variant under it."""
    bench.choose(run)
    wait(window)
    if run == "start":
        window.session.apply(Edit(label="Sprocket", changes=(("variant.stages.0.driver_teeth", 12),)))
        wait(window)
        bench.book.lay_over("B")
        wait(window)
    if run == "boardwalk":
        bench.courses.setChecked(True)
        bench.editor.strip.choose(2)
    if share >= 0 and bench.book.current is not None:
        window.session.scrub(bench.book.current, int(share * len(bench.book.current.run.trace)))


def show_finds(window: MainWindow, bench: FinderBench, what: str) -> None:
    """A search that found much, several compared, the freedom that one leaves, or a search that found nothing."""
    if what == "none":
        window.session.apply(Edit(label="Less money", changes=(("brief.goals.budget.amount", 250.0),)))
    bench.book.search()
    until(lambda: not bench.book.running)
    bench.book.choose(1 if what == "none" else 3)
    if what == "compare":
        bench.pages[1].click()
        for k in (0, 4, 9):
            bench.book.mark(k)
    if what == "freedom":
        bench.show_view(1)
    until(lambda: bench.book.detail is not None)


def main(wanted: list[str]) -> int:
    """Write the pictures named, or all."""
    app = QApplication(sys.argv[:1])
    OUT.mkdir(parents=True, exist_ok=True)
    for name, bench, vehicle, variant, theme, units, (speed, grade, charge), side in SHOTS:
        if wanted and name not in wanted:
            continue
        with tempfile.TemporaryDirectory() as folder:
            window = make_window(SettingsFile(Path(folder) / "settings.json"), None, None)
            window.open_demo()
            session = window.session
            session.activate(next(k for k, doc in enumerate(session.docs) if doc.design.vehicle.name == vehicle))
            if session.design.variant().id != variant:
                session.apply(Edit(label="Show variant", changes=(("active", variant),)))
            session.set_looks(unit_set=units, theme=theme)
            window.show_bench(bench)
            window.show()
            shown = window.bench(bench)
            if isinstance(shown, DriveBench):
                shown.show_side(side)
                shown.levers.setFocus()
            if isinstance(shown, FinderBench):
                show_finds(window, shown, side)
            elif bench == "ride":
                show_ride(window, shown, side, speed)
            else:
                session.set_moment(speed_m_s=speed, grade=grade, charge=charge)
            write_window(window, OUT / f"{name}.png")
            session.forget_recovery()
            window.deleteLater()
            app.processEvents()
        sys.stdout.write(f"{name}.png\n")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
