"""Ends that nobody chose in the window: signals of the system and the end of the session.  The work is kept, nothing is asked."""

from __future__ import annotations

import signal
import socket
from collections.abc import Callable
from contextlib import suppress

from PySide6.QtCore import QObject, QSocketNotifier
from PySide6.QtWidgets import QApplication

SIGNALS = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class Endings(QObject):
    """Calls `end` with the number of the signal on the window's own thread, soon after it came."""

    def __init__(self, end: Callable[[int], None], parent: QObject) -> None:
        super().__init__(parent)
        self._end = end
        # the interpreter's own handlers wait until Qt hands the thread back; a byte on a socket wakes Qt
        self._hears, self._wakes = socket.socketpair()
        for end_of_pair in (self._hears, self._wakes):
            end_of_pair.setblocking(False)
        self._notifier = QSocketNotifier(self._hears.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._heard)

    def install(self, app: QApplication, keep: Callable[[], None]) -> None:
        """Take over the signals; `keep` is called when the session of the desktop ends."""
        signal.set_wakeup_fd(self._wakes.fileno(), warn_on_full_buffer=False)
        for number in SIGNALS:
            signal.signal(number, lambda *_: None)  # only a handler makes the byte come
        app.commitDataRequest.connect(lambda _manager: keep())

    def close(self) -> None:
        """Hear no more."""
        signal.set_wakeup_fd(-1)
        self._notifier.setEnabled(False)
        self._hears.close()
        self._wakes.close()

    def _heard(self) -> None:
        with suppress(BlockingIOError):
            for number in self._hears.recv(64):
                if number in SIGNALS:
                    self._end(number)
                    return
