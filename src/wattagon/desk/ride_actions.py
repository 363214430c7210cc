"""What the menus and the palette offer of the ride bench."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QFileDialog, QMainWindow, QMenu, QWidget

if TYPE_CHECKING:
    from wattagon.desk.ride.bench import RideBench

# the runs by themselves are named here: the study that knows them loads when a ride is asked for
RUNS = (
    ("start", "Full-throttle start"), ("hill", "Start on the goal grade"), ("hold-grade", "Hold the goal grade"),
    ("full-climb", "Full throttle up the steepest grade"), ("hold-speed", "Hold a speed until empty"), ("stop-go", "Stop and go"), ("stop", "Emergency stop"),
)  # fmt: skip


class RideActions(QMainWindow):
    """The part of the main window that deals with rides."""

    _needs_doc: list[QAction]
    _act: Callable[..., QAction]
    bench: Callable[[str], QWidget]
    show_bench: Callable[[str], None]

    def _ride_menu(self, menu: QMenu) -> None:
        made = [
            self._act(menu, f"&{k + 1} {words}", lambda code=code: self._ride_bench().choose(code))
            for k, (code, words) in enumerate(RUNS)
        ]  # fmt: skip
        menu.addSeparator()
        made += [
            self._act(menu, "&Play the ride", lambda: self._ride_bench()._play(), "Ctrl+Space"),
            self._act(menu, "Along by &time or distance", lambda: self._ride_bench().time.toggle()),
            self._act(menu, "&Keep this ride under the next", lambda: self._ride_bench().book.keep()),
            self._act(menu, "Lay all &variants under it", lambda: self._ride_bench().lay_over_all()),
            self._act(menu, "&Only this ride", lambda: self._ride_bench().book.drop_kept()),
            self._act(menu, "Save the ride as &CSV …", lambda: self._ride_bench().save_csv()),
        ]
        menu.addSeparator()
        made += [
            self._act(menu, "&Draw courses", lambda: self._ride_bench().courses.toggle()),
            self._act(menu, "&New course", self._new_course),
            self._act(menu, "&Bring in a track or table …", self._bring_in),
        ]
        self._needs_doc += made

    def _ride_bench(self) -> RideBench:
        """The ride bench, brought to the front."""
        from wattagon.desk.ride.bench import RideBench

        self.show_bench("ride")
        bench = self.bench("ride")
        assert isinstance(bench, RideBench)
        return bench

    def _new_course(self) -> None:
        bench = self._ride_bench()
        bench.courses.setChecked(True)
        bench.editor.new_course()

    def _bring_in(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Bring in a course", "", "Tracks and tables (*.gpx *.csv)")
        if path:
            self._ride_bench().import_course(Path(path))
