"""Pointing at a number: the next click on the window chooses one, Escape gives it up."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QGuiApplication, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QApplication, QWidget

from wattagon.desk.why.read import Read, number_at


class Pointing(QObject):
    """Takes one click from whatever it is on."""

    chosen = Signal(object)  # Read, or None where nothing was near

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self.going = False

    def begin(self) -> None:
        """From now on."""
        if not self.going:
            self.going = True
            QGuiApplication.setOverrideCursor(Qt.CursorShape.WhatsThisCursor)
            app = QApplication.instance()
            assert app is not None
            app.installEventFilter(self)

    def end(self) -> None:
        """Clicks are what they were."""
        if self.going:
            self.going = False
            QGuiApplication.restoreOverrideCursor()
            app = QApplication.instance()
            assert app is not None
            app.removeEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() == Qt.Key.Key_Escape:
            self.end()
            return True
        if not isinstance(event, QMouseEvent) or not isinstance(watched, QWidget) or watched.window() is not self._window:
            return False
        if event.type() == QEvent.Type.MouseButtonPress:
            read: Read | None = number_at(watched, event.position().toPoint())
            self.end()
            self.chosen.emit(read)
            return True
        return False
