"""A picture of what a study found: says instead what is missing, and has a frame while it has the keys."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from wattagon.desk.chart.ink import frame, say_instead
from wattagon.desk.chart.painted import painted
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme


class FoundPicture(QWidget):
    """What its kinds share; each draws in `draw`, which has a result always."""

    found: Any = None  # each kind names its study

    def __init__(self, session: Session, name: str, words: str, least_height: int) -> None:
        super().__init__()
        self.session = session
        self.problem = ""
        self.setObjectName(name)
        self.setAccessibleName(words)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(520, least_height)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        self.paint_on(painter, QRectF(self.rect()))

    def paint_on(self, p: QPainter, rect: QRectF) -> None:
        """Draw into any rectangle."""
        theme = THEMES[self.session.theme_name]
        p.fillRect(rect, theme.panel)
        if self.found is None:
            self.draw_nothing(p, theme, rect)
        else:
            self.draw(p, theme, rect, self.found)
        if self.hasFocus():
            frame(p, theme, rect)

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: Any) -> None:
        """The result, on a ground that is painted."""
        raise NotImplementedError

    def draw_nothing(self, p: QPainter, theme: Theme, rect: QRectF) -> None:
        """What stands there while there is no result."""
        say_instead(p, theme, rect, self.problem)
