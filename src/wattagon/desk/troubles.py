"""Unexpected errors: logged, the work kept, told once with details to copy; the session goes on."""

from __future__ import annotations

import sys
import threading
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QWidget

from wattagon.desk.passing import ask
from wattagon.desk.session import Session


class Troubles(QObject):
    """Catches what nothing else caught, on any thread."""

    caught = Signal(str, str)

    def __init__(self, session: Session, log_file: Path, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._window, self._shown = session, window, False
        self._log_file = log_file
        self.caught.connect(self._tell, Qt.ConnectionType.QueuedConnection)

    def install(self) -> None:
        """Take over the hooks of the main and of other threads."""
        sys.excepthook = self.hook
        threading.excepthook = lambda args: self.hook(args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback)

    def hook(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        import traceback  # with logging: not needed before something goes wrong

        details = "".join(traceback.format_exception(kind, error, trace))
        self._log(details)
        self.caught.emit(f"{kind.__name__}: {error}", details)

    def _log(self, details: str) -> None:
        import logging

        log = logging.getLogger("wattagon")
        if not log.handlers:
            try:
                self._log_file.parent.mkdir(parents=True, exist_ok=True)
                log.addHandler(logging.FileHandler(self._log_file, encoding="utf-8"))
            except OSError as error:
                log.warning("no log file: %s", error)
        log.error("%s", details)

    def _tell(self, words: str, details: str) -> None:
        self._session.autosave()
        if self._shown:
            return
        self._shown = True
        from PySide6.QtWidgets import QMessageBox

        box = QMessageBox(
            QMessageBox.Icon.Warning, "Something went wrong", f"{words}\n\nYour work was kept and the program goes on.", parent=self._window
        )
        box.setDetailedText(details)
        ask(box)
        self._shown = False
