"""What a bench is to the window: a picture, actions, help, and where links lead.  The window knows no bench by class."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, Protocol

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QLayout, QSplitter, QVBoxLayout, QWidget

from wattagon.desk.fields import soft_line
from wattagon.record import record


class Picture(Protocol):
    """What a bench has drawn for others to see."""

    def size(self) -> QSize:
        """Of the widget [px]."""

    def setFocus(self, /) -> None:
        """Take the keys."""

    def spoken(self) -> str:
        """Its values as text."""

    def paint_on(self, painter: QPainter, rect: QRectF, /) -> object:
        """Draw all of it into a rectangle."""


class Bench(QWidget):
    """The base of every bench; a bench overrides what it has."""

    asked = Signal(str, str)  # another bench by its code, and what of it
    side_by_side = Signal(object)  # [(name, design)] to be compared beside the variants
    other_findings = Signal(object)  # (findings, head, note) of what is chosen here, or None for those of the design
    picture: Picture

    def put_together(self, head: QLayout, drawn: QWidget, below: QWidget, sizes: tuple[int, int], hint: str) -> None:
        """A headline, a drawing over what belongs to it with a bar between that can be dragged, and a line of its keys."""
        split = QSplitter(Qt.Orientation.Vertical, childrenCollapsible=False, handleWidth=8)
        split.addWidget(drawn)
        split.addWidget(below)
        split.setStretchFactor(0, 5)
        split.setStretchFactor(1, 3)
        split.setSizes(list(sizes))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(3)
        layout.addLayout(head)
        layout.addWidget(split, 1)
        layout.addWidget(soft_line(hint, 12))

    def focus_first(self) -> None:
        """Take the keys where work begins."""
        self.picture.setFocus()

    @property
    def busy(self) -> bool:
        """Whether what it shows is still on its way."""
        return False

    def show_link(self, link: str) -> None:
        """Show what belongs to a link of the drive; the window asks for those that the bench's entry names."""

    def show_target(self, what: str) -> None:
        """Show one thing, as another bench asked for it."""

    def table(self) -> list[list[str]]:
        """What it shows as rows of text, headings first; empty where there is nothing to be copied."""
        return []

    def open_file(self, path: Path) -> None:
        """Open a file that was dropped on the window; only those with the endings that the bench's entry names."""


@record(frozen=True, slots=True, kw_only=True)
class BenchAction:
    """Something that a bench offers in a menu and the palette; the bench comes to the front before it runs."""

    words: str
    run: Callable[[Any], object]  # gets the bench
    keys: str = ""
    menu: str  # title of the menu
    line_before: bool = False
    on: str = ""  # wheels or water, where it has a meaning there alone
