"""The palette and the help, as the window offers them."""

from __future__ import annotations

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QMainWindow

from wattagon.design import catalogue
from wattagon.design.parts import PART_KINDS
from wattagon.desk.benches import BENCHES
from wattagon.desk.passing import ask

EVERYWHERE = (
    "Findings: arrows move, Return opens a finding or applies a cure.",
    "Ribbon: click a link to open its parts. Any field takes any unit: 25 mph, 8 in, 110 kg.",
    "Ctrl+K lists every action with its shortcut.",
)


class HelpActions(QMainWindow):
    """The part of the main window that explains itself."""

    commands: list[QAction]

    def show_palette(self) -> None:
        from wattagon.desk.palette import Palette

        palette = Palette(self.commands, self)
        if ask(palette) and palette.chosen is not None:
            palette.chosen.trigger()

    def _box(self, title: str, words: str) -> None:
        from PySide6.QtWidgets import QMessageBox

        box = QMessageBox(QMessageBox.Icon.NoIcon, title, words, parent=self)
        ask(box)

    def show_keys(self) -> None:
        lines = [entry.help() for entry in BENCHES]
        self._box("Keys and mouse", "\n".join((*lines, *EVERYWHERE)))

    def show_parts_folder(self) -> None:
        self._box(
            "Your own parts",
            f"Put CSV files named {', '.join(f'{kind.stock}.csv' for kind in PART_KINDS[:-1])} or "
            f"{PART_KINDS[-1].stock}.csv into\n{catalogue.own_folder()}\n"
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
