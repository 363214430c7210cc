"""The palette and the help, as the window offers them."""

from __future__ import annotations

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMainWindow

from wattagon.design import catalogue
from wattagon.desk.passing import ask


class HelpActions(QMainWindow):
    """The part of the main window that explains itself."""

    _all: list[QAction]

    def show_palette(self) -> None:
        from wattagon.desk.palette import Palette

        palette = Palette(self._all, self)
        if ask(palette) and palette.chosen is not None:
            palette.chosen.trigger()

    def _box(self, title: str, words: str) -> None:
        from PySide6.QtWidgets import QMessageBox

        box = QMessageBox(QMessageBox.Icon.NoIcon, title, words, parent=self)
        ask(box)

    def show_keys(self) -> None:
        self._box(
            "Keys and mouse",
            "Map: press or drag to set the moment; arrows move speed and grade (Shift: five steps), 0 goes flat.\n"
            "Levers: arrows left and right choose, up and down step, Return types a value or opens the stock; drag a value to step it.\n"
            "Finder: press or arrows choose a drive, Return takes it as a variant, Escape stops a search.\n"
            "Ride: press, drag or arrows go along the ride (Shift: further), space plays, Escape gives a run up.\n"
            "Course: press a leg, drag its end for length and grade; arrows choose a leg and step its grade.\n"
            "Findings: arrows move, Return opens a finding or applies a cure.\n"
            "Ribbon: click a link to open its parts. Any field takes any unit: 25 mph, 8 in, 110 kg.\n"
            "Ctrl+K lists every action with its shortcut.",
        )

    def show_parts_folder(self) -> None:
        self._box(
            "Your own parts",
            f"Put CSV files named motors.csv, controllers.csv, cells.csv, toothed.csv, loops.csv, profiles.csv or wheels.csv into\n{catalogue.own_folder()}\n"
            "with the columns that `wattagon stock KIND --json` names. They are read when they change; a bad row is told and skipped.",
        )

    def show_about(self) -> None:
        from wattagon import __version__

        self._box(
            "About Wattagon",
            f"Wattagon {__version__}, MIT licence. Typeface: Atkinson Hyperlegible Next, SIL Open Font License.\n\n"
            "Figures are estimates from the values you give; what is not checked says so. Batteries, moving parts and traffic can hurt: "
            "local rules and licensed practice come first.",
        )
