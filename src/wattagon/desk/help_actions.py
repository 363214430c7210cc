"""The palette and the help, as the window offers them."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, partial
from typing import TYPE_CHECKING, Any

from PySide6.QtGui import QAction, QCursor
from PySide6.QtWidgets import QApplication, QLabel, QMainWindow, QWidget

from wattagon.design import catalogue
from wattagon.design.parts import PART_KINDS
from wattagon.desk.benches import BENCHES
from wattagon.desk.passing import ask
from wattagon.desk.session import Session
from wattagon.desk.worklist import WorkList

if TYPE_CHECKING:
    from wattagon.desk.plain.window import WordsWindow
    from wattagon.desk.why.pointing import Pointing
    from wattagon.desk.why.read import Read
    from wattagon.desk.why.window import WhyWindow

EVERYWHERE = (
    "Findings: arrows move, Return opens a finding or applies a cure.",
    "Ribbon: click a link to open its parts. Any field takes any unit: 25 mph, 8 in, 110 kg.",
    "Ctrl+K lists every action with its shortcut.",
)


class HelpActions(QMainWindow):
    """The part of the main window that explains itself."""

    commands: list[QAction]
    session: Session
    work: WorkList
    bench: Callable[[str], Any]
    words_window: WordsWindow | None = None
    why_window: WhyWindow | None = None
    _to_target: Callable[[str, str], object]
    _word_actions: tuple[QAction, ...] = ()

    def show_palette(self) -> None:
        from wattagon.desk.palette import Palette

        palette = Palette([*self.commands, *self._words_to_find()], self)
        if ask(palette) and palette.chosen is not None:
            palette.chosen.trigger()

    def _words_to_find(self) -> tuple[QAction, ...]:
        """Every term in plain words, to be found by typing; made when they are first looked for."""
        if not self._word_actions:
            from wattagon.study.plain.terms import terms

            made = []
            for term in terms():
                spelled = f" ({', '.join(term.also)})" if term.also else ""
                action = QAction(f"What is: {term.name}{spelled}", self)
                action.triggered.connect(partial(self.show_word, term.name))
                made.append(action)
            self._word_actions = tuple(made)
        return self._word_actions

    def show_words(self) -> None:
        """Field terms in plain words, those that stand on the screen first."""
        self.show_word("")

    def show_word(self, name: str, _checked: bool = False) -> None:
        """One of them."""
        from wattagon.desk.plain.window import WordsWindow

        if self.words_window is not None:
            self.words_window.close()
            self.words_window.deleteLater()
        self.words_window = WordsWindow(self.session, self._words_seen(), self)
        if name:
            self.words_window.choose(name)
        self.words_window.show()

    def show_why(self) -> None:
        """The number under the pointer, with how it comes about; without one the next click chooses it."""
        read = self._number_under_pointer()
        if read is None:
            self.pointing.begin()
            self.session.told.emit("Click a number to see how it comes about; Escape gives it up.", False)
        else:
            self._asked_why(read)

    @cached_property
    def pointing(self) -> Pointing:
        """What takes the click."""
        from wattagon.desk.why.pointing import Pointing

        made = Pointing(self)
        made.chosen.connect(self._asked_why)
        return made

    def _asked_why(self, read: Read | None) -> None:
        self.why().ask(self.work.current, read)

    def why_number(self, name: str) -> None:
        """A number by its name."""
        self.why().ask(self.work.current, name=name)

    def why(self) -> WhyWindow:
        """The window of workings, open."""
        from wattagon.desk.why.window import WhyWindow

        if self.why_window is None:
            self.why_window = WhyWindow(self.session, self.work.current, self)
            self.why_window.asked.connect(self._to_target)
        self.why_window.show()
        self.why_window.raise_()
        return self.why_window

    def _number_under_pointer(self) -> Read | None:
        from wattagon.desk.why.read import number_at

        at = QCursor.pos()
        under = QApplication.widgetAt(at)
        if under is None or under.window() is not self:
            return None
        return number_at(under, under.mapFromGlobal(at))

    def _words_seen(self) -> list[str]:
        """Texts that can be read now."""
        made = [label.text() for label in self.findChildren(QLabel) if label.isVisible()]
        for view in self.findChildren(QWidget):
            spoken = getattr(view, "spoken", None)
            if view.isVisible() and callable(spoken):
                made.append(spoken())
        if self.session.docs:
            made += [cell for row in self.bench(self.work.current).table() for cell in row]
        return made

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
