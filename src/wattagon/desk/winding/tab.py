"""A page under the picture of the winding."""

from __future__ import annotations

import datetime
from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.desk.fields import scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.winding.entry import Entry
from wattagon.study.winding.study import WindingStudy


class Tab(QWidget):
    """One page; `show_winding` shows another result."""

    title = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: WindingStudy | None = None

    def show_winding(self, found: WindingStudy | None) -> None:
        """Another result."""
        self.found = found

    @property
    def today(self) -> datetime.date:
        return datetime.date.today()

    def apply(self, edit: Edit | None) -> bool:
        """Whether it was taken."""
        return edit is not None and self.session.try_apply(edit)


def field_grid() -> tuple[QWidget, QGridLayout]:
    """A page of names and fields."""
    page = QWidget()
    grid = QGridLayout(page)
    grid.setContentsMargins(6, 4, 6, 4)
    grid.setVerticalSpacing(3)
    return page, grid


def beside_words(layout: QHBoxLayout, page: QWidget, words: QLabel, *below: QWidget) -> None:
    """A page of fields, and what they tell beside it, with what is done about that below."""
    side = QWidget()
    column = QVBoxLayout(side)
    column.setContentsMargins(6, 4, 6, 4)
    column.addWidget(words)
    for widget in below:
        column.addWidget(widget)
    column.addStretch(1)
    layout.setContentsMargins(0, 0, 0, 0)
    layout.addWidget(scrolled(page), 3)
    layout.addWidget(scrolled(side), 3)


def put_entry(
    grid: QGridLayout, row: int, column: int, session: Session, name: str, words: str, take: Callable[[str], Edit], width: int = 118
) -> Entry:
    """A name and its field side by side."""
    label = soft_line(words, 12)
    label.setMinimumWidth(min(label.fontMetrics().horizontalAdvance(words) + 4, 190))
    grid.addWidget(label, row, column)
    field = Entry(session, name, words, take, width)
    grid.addWidget(field, row, column + 1)
    return field


def small(words: str = "") -> QLabel:
    """A quiet line."""
    return soft_line(words, 12)
