"""Which findings may turn: worked out by the program itself in a process of its own once the hand rests, and kept with what studies found.

It takes a core for several seconds; a thread would take that from the window.
"""

from __future__ import annotations

import contextlib
import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import QObject, QProcess, QTimer

from wattagon.design import file
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.study.bands.turn import turn_of

CODE = "turns"  # among the schedule's results
REST_MS, AGAIN_MS = 3500, 1000
NICE = 12


class TurnWatch(QObject):
    """Follows a session; what it finds stands in `schedule.results`: a `Turn` by the code of its finding."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self._folder: TemporaryDirectory[str] | None = None
        self._timer = QTimer(self, singleShot=True)
        self._timer.timeout.connect(self._begin)
        self._writer = Worker(self)  # of the copy: it takes longer than a frame
        self._writer.arrived.connect(self._written)
        self.process = QProcess(self)
        self.process.started.connect(self._give_way)
        self.process.finished.connect(self._done)
        session.design_changed.connect(self._changed)
        session.closing.connect(self.stop)
        self._changed(None)

    @property
    def busy(self) -> bool:
        """Whether it is under way or waits for the hand to rest."""
        return self._timer.isActive() or self._writer.running or self._asking

    @property
    def _asking(self) -> bool:
        return self.process.state() != QProcess.ProcessState.NotRunning

    def stop(self) -> None:
        """Give up what is under way."""
        self._timer.stop()
        self._writer.stop()
        if self._asking:
            self.process.kill()
            self.process.waitForFinished(1000)
        self._leave()

    def _changed(self, _paths: object) -> None:
        schedule = self._session.schedule
        schedule.stale.add(CODE)
        self._writer.cancel()
        if self._asking:
            self.process.kill()
        if self._session.docs and not schedule.held & {CODE, "bands"}:
            self._timer.start(REST_MS)

    def _begin(self) -> None:
        session = self._session
        if session.busy or self._asking:
            self._timer.start(AGAIN_MS)
            return
        if not session.docs or session.study is None:
            return
        self._leave()
        self._folder = TemporaryDirectory()
        copy, document = Path(self._folder.name) / "design.json", file.Document(design=session.design)

        def work(cancelled: Callable[[], bool]) -> Path:
            file.write(copy, document, keep_previous=False, sure=False)
            return copy

        self._writer.start(work)

    def _written(self, copy: object) -> None:
        self.process.start(sys.executable, ["-m", "wattagon.cli", "bands", str(copy), "--findings", "--json"])

    def _give_way(self) -> None:
        with contextlib.suppress(OSError):
            os.setpriority(os.PRIO_PROCESS, self.process.processId(), NICE)

    def _done(self, code: int, _status: object) -> None:
        out = bytes(self.process.readAllStandardOutput().data()).decode("utf-8", "replace")
        self.process.readAllStandardError()
        self._leave()
        if code == 0 and not self._timer.isActive() and self._session.study is not None:
            self._session.schedule.take(CODE, {row["code"]: turn_of(row) for row in json.loads(out)["findings"]})

    def _leave(self) -> None:
        if self._folder is not None:
            self._folder.cleanup()
            self._folder = None
