"""When a study runs: a change wakes what depends on it; idle ones when the hand rests, slow ones on a worker, the newest change wins."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from wattagon.desk.work import Worker
from wattagon.study.studies import FIRST, STUDIES, Pace, Study, Task, loaded, wakes

Cancelled = Callable[[], bool]
SEEN_MS = 150  # of rest for a study whose bench is in view


class _Slot(QObject):
    """One study that is not quick: its rest after a change, and its worker where it is slow."""

    def __init__(self, study: Study, schedule: Schedule) -> None:
        super().__init__(schedule)
        self.study, self._schedule = study, schedule
        self.timer = QTimer(self, singleShot=True, interval=study.after_ms)
        self.timer.timeout.connect(self._begin)
        self.worker = Worker(self) if study.pace is Pace.SLOW else None
        if self.worker is not None:
            self.worker.arrived.connect(self._arrived)

    @property
    def busy(self) -> bool:
        return self.timer.isActive() or (self.worker is not None and self.worker.running)

    def cancel(self) -> None:
        self.timer.stop()
        if self.worker is not None:
            self.worker.cancel()

    def _begin(self) -> None:
        task, study = self._schedule.task, self.study
        if task is None:
            return
        if self.worker is None:
            self._arrived(loaded(study.run)(task))
            return

        def work(cancelled: Cancelled) -> object:
            if study.compiled:
                from wattagon.desk.compiler import load_loop

                load_loop()
            return loaded(study.run)(Task(design=task.design, stock=task.stock, say=task.say, results=task.results, cancelled=cancelled))

        self.worker.start(work)

    def _arrived(self, result: object) -> None:
        self._schedule.take(self.study.code, result)


class Schedule(QObject):
    """Runs the studies of the table beside the first.  Results are kept until newer ones arrive; `stale` says which are old."""

    arrived = Signal(str)  # code of a study whose result is new

    def __init__(self, studies: Sequence[Study] = STUDIES, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.task: Task | None = None
        self.results: dict[str, Any] = {}
        self.stale: set[str] = set()
        self.held: frozenset[str] = frozenset()  # codes that are not run: what they found stays as it is
        self._slots = {study.code: _Slot(study, self) for study in studies if study.code != FIRST.code}

    @property
    def busy(self) -> bool:
        """Whether a study runs or waits to run."""
        return any(slot.busy for slot in self._slots.values())

    def follow(self, task: Task, paths: Iterable[str]) -> None:
        """A change of some paths (none: another design): what depends on it is woken, what it waits for is cancelled."""
        self.task = task
        for code, slot in self._slots.items():
            if code not in self.held and wakes(slot.study, paths):
                slot.cancel()
                self.stale.add(code)
                slot.timer.start(slot.study.after_ms)

    def again(self, code: str) -> None:
        """Run one study anew."""
        self.stale.add(code)
        self._slots[code].cancel()
        self._slots[code].timer.start(self._slots[code].study.after_ms)

    def hurry(self, code: str) -> None:
        """Somebody looks at it: if it waits for the hand to rest, it waits no longer than that."""
        timer = self._slots[code].timer
        if timer.isActive() and timer.remainingTime() > SEEN_MS:
            timer.start(SEEN_MS)

    def forget(self) -> None:
        """Another vehicle, or one that cannot be worked out: nothing that is kept says anything of it."""
        self.task = None
        self.results.clear()
        for slot in self._slots.values():
            slot.cancel()

    def drop_findings(self) -> None:
        """The results of studies that judge are worded in other units now."""
        for code, slot in self._slots.items():
            if slot.study.rules:
                self.results.pop(code, None)

    def take(self, code: str, result: object) -> None:
        """A result has arrived."""
        self.results[code] = result
        self.stale.discard(code)
        self.arrived.emit(code)

    def rest(self) -> None:
        """Nothing goes on any more."""
        for slot in self._slots.values():
            slot.cancel()
            if slot.worker is not None:
                slot.worker.stop()
