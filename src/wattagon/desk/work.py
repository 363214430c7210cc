"""Slow work on a thread of its own: newest ticket wins, older ones are cancelled, results come back by a signal."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal

from wattagon.desk.memory import give_back

Work = Callable[[Callable[[], bool]], object]


class _Job(QRunnable):
    def __init__(self, worker: Worker, ticket: int, work: Work) -> None:
        super().__init__()
        self._worker, self._ticket, self._work = worker, ticket, work

    def run(self) -> None:
        worker, ticket = self._worker, self._ticket
        if worker.ticket != ticket:
            return
        result = self._work(lambda: worker.ticket != ticket)  # an exception ends in sys.excepthook
        if worker.ticket == ticket:
            worker.finished_on_thread.emit(ticket, result)
        if worker.large:
            give_back()


class Worker(QObject):
    """Runs one piece of work at a time and hands on only the newest result."""

    arrived = Signal(object)
    finished_on_thread = Signal(int, object)

    def __init__(self, parent: QObject | None = None, *, large: bool = False) -> None:
        super().__init__(parent)
        self.large = large  # its work takes much memory for a while
        self.ticket = 0
        self.running = False  # work is under way whose result is still wanted
        self._pool = QThreadPool(self, maxThreadCount=1)
        self.finished_on_thread.connect(self._hand_on)

    def start(self, work: Work) -> None:
        """Begin; whatever ran before is cancelled."""
        self.ticket += 1
        self.running = True
        self._pool.start(_Job(self, self.ticket, work))

    def cancel(self) -> None:
        """Let go of what is under way."""
        self.ticket += 1
        self.running = False

    def stop(self) -> None:
        """Cancel and wait, before the program ends."""
        self.cancel()
        self._pool.waitForDone(5000)

    def _hand_on(self, ticket: int, result: object) -> None:
        if ticket == self.ticket:
            self.running = False
            self.arrived.emit(result)
