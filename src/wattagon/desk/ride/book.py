"""The rides of a session: the one asked for, the one before the last edit, and those that were kept to be laid over it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from wattagon.design.tree import Design
from wattagon.desk.compiler import load_loop
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.record import record
from wattagon.study.ride.around import Around, around
from wattagon.study.ride.study import Ask, Ride, ride_all, runs_of

WAIT_MS = 140  # after the last edit
MOST_KEPT = 4


@record(frozen=True, slots=True)
class Kept:
    """A ride with what tells it from the others."""

    name: str
    ride: Ride


@record(frozen=True, slots=True)
class _Done:
    """What came back from the worker."""

    rides: list[Ride]
    refusal: str
    design: Design


class RideBook(QObject):
    """Runs what is asked on a thread and again after every edit, while `watched`."""

    changed = Signal()

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.ask = Ask(run="start")
        self.current: Ride | None = None
        self.before: Ride | None = None  # of the same ask, before the last edit
        self.kept: list[Kept] = []
        self.problem = ""
        self.stale = True
        self._watched = False
        self.around: Around | None = None  # between what the present one may lie
        self._worker, self._over, self._around = Worker(self), Worker(self), Worker(self)
        self._around.arrived.connect(self._came_around)
        self._worker.arrived.connect(self._arrived)
        self._over.arrived.connect(self._laid_over)
        self._timer = QTimer(self, singleShot=True, interval=WAIT_MS)
        self._timer.timeout.connect(self.run)
        session.design_changed.connect(self._edited)
        session.closing.connect(self.stop)

    @property
    def running(self) -> bool:
        """Whether a run is under way or about to be."""
        return self._worker.running or self._over.running or self._timer.isActive()

    @property
    def present(self) -> Ride | None:
        """The ride, if it is of the design as it is now: only such a one can be ridden along."""
        ride = self.current
        return ride if ride is not None and self._session.docs and ride.design is self._session.design else None

    def watch(self, seen: bool) -> None:
        """Run only while somebody looks."""
        self._watched = seen
        if seen and self.stale:
            self._timer.start()
        if not seen:
            self._timer.stop()

    def choose(self, ask: Ask) -> None:
        """Another run, speed or grade."""
        if ask == self.ask and not self.stale:
            return
        other = ask.run != self.ask.run
        self.ask, self.stale = ask, True
        if other:
            self.before, self.kept = None, []
            self.current = None
        self.run()

    def _edited(self, paths: frozenset[str]) -> None:
        self.stale = True
        if not paths:  # another vehicle
            self.current = self.before = self.around = None
            self.kept, self.problem = [], ""
            if (
                self._session.docs
                and self.ask.run not in runs_of(self._session.design)
                and self.ask.run not in {c.id for c in self._session.design.brief.courses}
            ):
                self.ask = Ask(run="start")
        if self._watched:
            self._timer.start()
        self.changed.emit()

    def run(self) -> None:
        """Begin the run that is asked for; whatever ran is given up."""
        self._around.cancel()
        if self._session.docs:
            design = self._session.design
            self._worker.start(self._work(self.ask, design, [design.variant().id]))
            self.changed.emit()

    def cancel(self) -> None:
        """Give up what is under way; the last result stays."""
        self._timer.stop()
        self._worker.cancel()
        self._over.cancel()
        self._around.cancel()
        self.changed.emit()

    def stop(self) -> None:
        """Before the program ends."""
        self._timer.stop()
        self._worker.stop()
        self._over.stop()
        self._around.stop()

    def _work(self, ask: Ask, design: Design, variants: list[str]) -> Callable[[Callable[[], bool]], object]:
        stock = self._session.stock

        def work(_cancelled: Callable[[], bool]) -> _Done:
            load_loop()
            try:
                return _Done(ride_all(design, stock, ask, variants), "", design)
            except WattagonError as refusal:
                return _Done([], str(refusal), design)

        return work

    def _arrived(self, done: object) -> None:
        assert isinstance(done, _Done)
        self.problem = done.refusal
        if done.rides:
            fresh = done.rides[0]
            if self.current is not None and done.design is not self.current.design:
                self.before = self.current if self.current.ask == fresh.ask else None
            self.current, self.stale = fresh, done.design is not self._session.design
            self._ask_around(fresh)
        self.changed.emit()

    def _ask_around(self, fresh: Ride) -> None:
        """The band of it, once the hand rests: the ride itself does not wait for it."""
        self.around = None
        self._around.cancel()
        stock = self._session.stock
        self._around.start(lambda cancelled: (fresh, around(fresh, stock, cancelled=cancelled)))

    def _came_around(self, result: Any) -> None:
        of, found = result
        if of is self.current:
            self.around = found
            self.changed.emit()

    def keep(self) -> None:
        """Keep the present ride, to lay it under later ones."""
        if self.current is not None:
            variant = self.current.resolved.variant
            self._add(Kept(f"kept {len(self.kept) + 1}, {variant.id}", self.current))

    def lay_over(self, *variant_ids: str) -> None:
        """The same run with other variants, laid under this one."""
        self._over.start(self._work(self.ask, self._session.design, list(variant_ids)))
        self.changed.emit()

    def _laid_over(self, done: object) -> None:
        assert isinstance(done, _Done)
        if done.refusal:
            self._session.told.emit(done.refusal, True)
        for made in done.rides:
            self._add(Kept(f"variant {made.resolved.variant.id}", made))
        self.changed.emit()

    def _add(self, kept: Kept) -> None:
        self.kept = [*(item for item in self.kept if item.name != kept.name), kept][-MOST_KEPT:]
        self.changed.emit()

    def drop_kept(self) -> None:
        """Only the present ride again."""
        self.kept, self.before = [], None
        self.changed.emit()
