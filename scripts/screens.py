"""Pictures of each main view, made from the demo fleet at 1280 x 800."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from PySide6.QtWidgets import QApplication

from wattagon.design.paths import Edit
from wattagon.desk.app import make_window, write_window
from wattagon.desk.drive.bench import DriveBench
from wattagon.desk.settings import SettingsFile

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
# name, bench, vehicle, variant, theme, units, moment (m/s, grade, charge), panel beside the map
SHOTS: list[tuple[str, str, str, str, str, str, tuple[float, float, float], str]] = [
    ("drive", "drive", "Dunlin", "B", "light", "metric", (6.5, 0.08, 0.5), "flows"),
    ("drive-problems", "drive", "Dunlin", "A", "light", "metric", (4.0, 0.14, 0.5), "flows"),
    ("drive-dark-imperial", "drive", "Bittern", "A", "dark", "imperial", (4.0, 0.12, 1.0), "parts"),
    ("drive-kart", "drive", "Corncrake", "A", "light", "metric", (6.0, 0.05, 0.5), "flows"),
    ("brief", "brief", "Dunlin", "B", "light", "metric", (9.0, 0.0, 0.5), ""),
    ("brief-bike-dark", "brief", "Bittern", "A", "dark", "metric", (5.5, 0.0, 0.5), ""),
    ("brief-kart", "brief", "Corncrake", "A", "light", "imperial", (6.0, 0.0, 0.5), ""),
]


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
            session.set_moment(speed_m_s=speed, grade=grade, charge=charge)
            write_window(window, OUT / f"{name}.png")
            session.forget_recovery()
            window.deleteLater()
            app.processEvents()
        sys.stdout.write(f"{name}.png\n")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
