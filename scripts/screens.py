"""Pictures of each main view, made from the demo fleet at 1280 x 800: the scenes that each bench has."""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QApplication

from wattagon.design.paths import Edit
from wattagon.desk.app import make_window, write_window
from wattagon.desk.benches import BENCHES
from wattagon.desk.scene import Scene
from wattagon.desk.settings import SettingsFile
from wattagon.study.studies import loaded

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def wait(done: Callable[[], bool]) -> None:
    """Let the window live until something has come."""
    end = time.monotonic() + 600.0
    while not done() and time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.01)


def take(scene: Scene, bench: str, out: Path) -> None:
    """One picture of a fresh window."""
    with tempfile.TemporaryDirectory() as folder:
        window = make_window(SettingsFile(Path(folder) / "settings.json"), None, None)
        window.open_demo()
        session = window.session
        session.activate(next(k for k, doc in enumerate(session.docs) if doc.design.vehicle.name == scene.vehicle))
        if session.design.variant().id != scene.variant:
            session.apply(Edit(label="Show variant", changes=(("active", scene.variant),)))
        session.set_looks(unit_set=scene.units, theme=scene.theme)
        window.show_bench(bench)
        window.show()
        scene.play(window, window.bench(bench), wait)
        write_window(window, out)
        session.forget_recovery()
        window.deleteLater()
        QApplication.processEvents()


def main(wanted: list[str]) -> int:
    """Write the pictures named, or all."""
    app = QApplication(sys.argv[:1])
    OUT.mkdir(parents=True, exist_ok=True)
    for entry in BENCHES:
        for scene in loaded(f"{entry.scenes}:SCENES") if entry.scenes else ():
            if not wanted or scene.name in wanted:
                take(scene, entry.code, OUT / f"{scene.name}.png")
                sys.stdout.write(f"{scene.name}.png\n")
    app.processEvents()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
