"""The search of a session: asked for, under way, found, and whether the brief has moved on since."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal

from wattagon.design.tree import Design
from wattagon.desk.compiler import load_loop
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.record import record
from wattagon.study.finder.search import Found, find_drives

AXES = {
    "cost": ("Cost", "money"),
    "mass": ("Mass", "mass"),
    "margin": ("Least margin", "share"),
    "range": ("Range", "distance"),
}
LIMIT = 80
LOOK_MS = 80


@record(frozen=True, slots=True)
class _Done:
    found: Found | None
    refusal: str
    design: Design


class FinderBook(QObject):
    """Searches when asked, on a thread of its own; nothing is searched by itself."""

    changed = Signal()
    moved_on = Signal()  # progress

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.found: Found | None = None
        self.problem = ""
        self.stale = False
        self.share = 0.0
        self.shelf = "prefer"
        self.axes = ("cost", "mass")
        self.chosen = -1
        self._brief: object = None  # what was searched for
        self._worker = Worker(self)
        self._worker.arrived.connect(self._arrived)
        self._look = QTimer(self, interval=LOOK_MS)
        self._look.timeout.connect(self.moved_on)
        session.design_changed.connect(self._edited)
        session.closing.connect(self._worker.stop)

    @property
    def running(self) -> bool:
        return self._worker.running

    def search(self) -> None:
        """Begin; a search under way is given up."""
        if not self._session.docs:
            return
        design, stock, shelf = self._session.design, self._session.stock, self.shelf
        objectives = (*self.axes, *(name for name in ("cost", "mass", "margin") if name not in self.axes))
        self.share, self.problem = 0.0, ""
        self._brief = self._asked()

        def told(share: float) -> None:
            self.share = share

        def work(cancelled: Callable[[], bool]) -> _Done:
            load_loop()  # with it the compiler, unfelt
            try:
                return _Done(
                    find_drives(
                        design, stock, objectives=objectives, limit=LIMIT, shelf=shelf, cancelled=cancelled, progress=told
                    ),
                    "",
                    design,
                )
            except WattagonError as refusal:
                return _Done(None, str(refusal), design)

        self._worker.start(work)
        self._look.start()
        self.changed.emit()

    def cancel(self) -> None:
        """Give the search up; what was found before stays."""
        self._worker.cancel()
        self._look.stop()
        self.changed.emit()

    def _asked(self) -> object:
        """What a search rests on: vehicle, brief, and what a found variant takes over from the present one."""
        design = self._session.design
        base = design.variant()
        return (
            design.vehicle,
            design.brief,
            base.pack.wiring_ohm,
            base.wheel,
            base.motor.count < base.motor.driven_wheels,
            self._session.doc.key,
        )

    def _edited(self, paths: frozenset[str]) -> None:
        if not paths:
            self.cancel()
            self.found, self.chosen, self.problem = None, -1, ""
        self.stale = self.found is not None and self._session.docs != [] and self._asked() != self._brief
        self.changed.emit()

    def _arrived(self, done: object) -> None:
        assert isinstance(done, _Done)
        self._look.stop()
        self.problem, self.stale = done.refusal, False
        if done.found is not None:
            self.found = done.found
            self.chosen = 0 if done.found.hits else -1
        self.changed.emit()

    def choose(self, k: int) -> None:
        """Look at one hit."""
        if self.found is not None and 0 <= k < len(self.found.hits):
            self.chosen = k
            self.changed.emit()

    def set_axes(self, x: str, y: str) -> None:
        """Other axes; the hits are those of the objectives that were searched for."""
        self.axes = (x, y)
        self.changed.emit()
