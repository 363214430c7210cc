"""The search of a session: asked for, under way, found so far, what is looked at, and whether the brief has moved on since."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QObject, QTimer, Signal

from wattagon.desk.compiler import load_search
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.record import record
from wattagon.study.drive.study import study_drive
from wattagon.study.finder.freedom import Offer, freedom_of
from wattagon.study.finder.hits import Hit, Pull, pull_of
from wattagon.study.finder.outset import Outset, outset
from wattagon.study.finder.search import Found, find_drives, without_shelf
from wattagon.study.finder.space import Row, Space, make_space
from wattagon.study.finder.water_search import outset_afloat
from wattagon.study.finder.wishes import Wishes
from wattagon.study.findings.all import find, merged
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.rule import Case
from wattagon.study.layout.rules import RULES as LAYOUT

AXES = {
    "cost": ("Cost", "money"),
    "mass": ("Mass", "mass"),
    "speed": ("Top speed", "speed"),
    "grade": ("Start on", "grade"),
    "range": ("Range", "distance"),
    "margin": ("Least margin", "share"),
    "lasting": ("Lasting current", "share"),
}
LIMIT = 60
LOOK_MS, DETAIL_MS, PREPARE_MS = 80, 120, 150
MOST_MARKED = 4


@record(frozen=True, slots=True)
class _Done:
    found: Found | None
    refusal: str


@record(frozen=True, slots=True)
class _Ready:
    asked: object
    space: Space | None  # of a boat it is made anew for each search
    outset: Outset


@record(frozen=True, slots=True)
class Detail:
    """What is worked out for the hit that is looked at."""

    row: Row
    freedom: tuple[Offer, ...]
    findings: tuple[Finding, ...]


class FinderBook(QObject):
    """Searches when asked, on a thread of its own; nothing is searched by itself."""

    changed = Signal()
    moved_on = Signal()  # progress
    detailed = Signal()  # freedom and findings of the chosen hit
    prepared = Signal()  # what a search would look at

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.found: Found | None = None
        self.problem = ""
        self.stale = False
        self.share = 0.0
        self.wishes = Wishes()
        self.axes = ("cost", "mass")
        self.chosen = -1  # of `points`
        self.marked: list[int] = []  # to be compared
        self.detail: Detail | None = None
        self._brief: object = None  # what was searched for
        self._partial: Found | None = None
        self._pulls: dict[Row, Pull] = {}
        self._worker, self._details = Worker(self, large=True), Worker(self)
        self._worker.arrived.connect(self._arrived)
        self._details.arrived.connect(self._detail_arrived)
        self.outset: Outset | None = None  # of what would be searched now; None until it is worked out
        self._space: tuple[object, Space | None] | None = None  # with what it was made for
        self._watched = False
        self._preparing = Worker(self)
        self._preparing.arrived.connect(self._prepared)
        self._prepare_soon = QTimer(self, interval=PREPARE_MS, singleShot=True)
        self._prepare_soon.timeout.connect(self._prepare)
        self._look = QTimer(self, interval=LOOK_MS)
        self._look.timeout.connect(self._look_at_it)
        self._soon = QTimer(self, interval=DETAIL_MS, singleShot=True)
        self._soon.timeout.connect(self._work_out_detail)
        session.design_changed.connect(self._edited)
        session.closing.connect(self._worker.stop)
        session.closing.connect(self._details.stop)
        session.closing.connect(self._preparing.stop)

    @property
    def running(self) -> bool:
        return self._worker.running

    @property
    def points(self) -> tuple[Hit, ...]:
        """All that is shown: hits, then near misses."""
        return (*self.found.hits, *self.found.near_misses) if self.found is not None else ()

    @property
    def hit(self) -> Hit | None:
        """The hit that is looked at."""
        return self.points[self.chosen] if 0 <= self.chosen < len(self.points) else None

    def axes_there(self) -> dict[str, tuple[str, str]]:
        """The axes that a vehicle has, with their words: no grades on water."""
        floats = bool(self._session.docs) and self._session.design.vehicle.kind.floats
        return {name: words for name, words in AXES.items() if not (floats and name == "grade")}

    def row_of(self, k: int) -> tuple[int, ...]:
        """Positions of the hits nearly equal to one, itself among them."""
        rows = self.found.rows if self.found is not None else ()
        return next((row for row in rows if k in row), (k,))

    def watch(self, on: bool) -> None:
        """The bench is seen or not: while it is, what a search would look at is kept ready, and its compiled code loaded."""
        self._watched = on
        if on:
            self._prepare_soon.start()

    def _prepare(self) -> None:
        if not self._session.docs or not self._watched or self.running:
            return
        design, stock, wishes, asked = self._session.design, self._session.stock, self.wishes, self._asked()

        def work(cancelled: Callable[[], bool]) -> _Ready | None:
            try:
                if design.vehicle.kind.floats:
                    space, places = None, outset_afloat(design, stock, wishes)
                else:
                    space = make_space(without_shelf(design, wishes), stock, wishes)
                    places = outset(design, stock, wishes, space)
            except WattagonError:
                return None  # the search says why
            if not cancelled():
                load_search(afloat=design.vehicle.kind.floats)
            return _Ready(asked, space, places)

        self._preparing.start(work)

    def _prepared(self, ready: object) -> None:
        self.outset, self._space = (ready.outset, (ready.asked, ready.space)) if isinstance(ready, _Ready) else (None, None)
        self.prepared.emit()

    def search(self) -> None:
        """Begin; a search under way is given up."""
        if not self._session.docs:
            return
        design, stock, wishes = self._session.design, self._session.stock, self.wishes
        objectives = tuple(dict.fromkeys(self.axes))
        self.share, self.problem, self._partial = 0.0, "", None
        self._brief = self._asked()
        space = self._space[1] if self._space is not None and self._space[0] == self._brief else None
        self._preparing.cancel()

        def told(share: float) -> None:
            self.share = share

        def so_far(found: Found) -> None:
            self._partial = found

        def work(cancelled: Callable[[], bool]) -> _Done:
            load_search(afloat=design.vehicle.kind.floats)
            try:
                found = find_drives(
                    design,
                    stock,
                    wishes=wishes,
                    objectives=objectives,
                    limit=LIMIT,
                    cancelled=cancelled,
                    progress=told,
                    so_far=so_far,
                    space=space,
                )
                return _Done(found, "")
            except WattagonError as refusal:
                return _Done(None, str(refusal))

        self._worker.start(work)
        self._look.start()
        self.changed.emit()

    def cancel(self) -> None:
        """Give the search up; what was found so far, or before, stays."""
        if not self.running:
            return
        self._worker.cancel()
        self._look.stop()
        self._take_partial()
        self.changed.emit()

    def ask(self, wishes: Wishes) -> None:
        """Other constraints; they count from the next search."""
        if wishes != self.wishes:
            self.wishes = wishes
            self._prepare_soon.start()
            self.stale = self.found is not None and self._asked() != self._brief
            self.changed.emit()

    def _asked(self) -> object:
        """What a search rests on: vehicle, brief, wishes, and what a found variant takes over from the present one."""
        design = self._session.design
        base = design.variant()
        return (
            design.vehicle,
            design.brief,
            base.pack.wiring_ohm,
            base.wheel,
            base.motor.count < base.motor.driven_wheels,
            any(stage.freewheel for stage in base.stages),
            self.wishes,
            self._session.doc.key,
        )

    def _edited(self, paths: frozenset[str]) -> None:
        if not paths:
            self._worker.cancel()
            self._look.stop()
            self._set_found(None)
            self.problem = ""
        self.stale = self.found is not None and self._session.docs != [] and self._asked() != self._brief
        if self._watched:
            self._prepare_soon.start()
        self.changed.emit()

    def _look_at_it(self) -> None:
        if self._take_partial():
            self.changed.emit()
        self.moved_on.emit()

    def _take_partial(self) -> bool:
        found, self._partial = self._partial, None
        if found is None:
            return False
        self._set_found(found)
        return True

    def show(self, found: Found) -> None:
        """Show what a search for the brief as it is came to."""
        self._brief, self.stale, self.problem = self._asked(), False, ""
        self._set_found(found)
        self.changed.emit()

    def _set_found(self, found: Found | None) -> None:
        """Show other results; the hit that is looked at stays if it is still there."""
        before = self.hit.row if self.hit is not None else None
        self.found, self.marked = found, []
        places = {hit.row: k for k, hit in enumerate(self.points)}
        self.chosen = places.get(before, 0 if self.points else -1) if before is not None else (0 if self.points else -1)
        self._pulls = {}
        self._want_detail()

    def _arrived(self, done: object) -> None:
        assert isinstance(done, _Done)
        self._look.stop()
        self._partial = None
        self.problem, self.stale = done.refusal, False
        if done.found is not None:
            self._set_found(done.found)
        self.changed.emit()

    # what is looked at

    def choose(self, k: int) -> None:
        """Look at one hit."""
        if 0 <= k < len(self.points) and k != self.chosen:
            self.chosen = k
            self._want_detail()
            self.changed.emit()

    def mark(self, k: int) -> None:
        """Put a hit beside the others that are compared, or take it away."""
        if not 0 <= k < len(self.points):
            return
        if k in self.marked:
            self.marked.remove(k)
        elif len(self.marked) < MOST_MARKED:
            self.marked.append(k)
        else:
            self._session.told.emit(f"{MOST_MARKED} drives are compared at most: take one away first", True)
            return
        self.changed.emit()

    def set_axes(self, x: str, y: str) -> None:
        """Other axes; the front is that of the objectives that were searched for."""
        self.axes = (x, y)
        self.changed.emit()

    def pull(self, k: int) -> Pull:
        """The edge of a hit; worked out when first asked for, in about a millisecond."""
        hit = self.points[k]
        if hit.row not in self._pulls:
            assert self.found is not None and self.found.design is not None
            self._pulls[hit.row] = pull_of(hit, self.found.design, self._session.stock)
        return self._pulls[hit.row]

    def _want_detail(self) -> None:
        self._details.cancel()
        self.detail = None
        self._soon.start()

    def _work_out_detail(self) -> None:
        hit, found = self.hit, self.found
        if hit is None or found is None or found.design is None:
            self.detailed.emit()
            return
        design, wishes, stock, say = found.design, found.wishes, self._session.stock, self._session.say

        def work(cancelled: Callable[[], bool]) -> Detail:
            one = replace(design, variants=(hit.variant,), active=hit.variant.id)
            drive = study_drive(one, stock)
            case = Case(one, stock, drive, say)
            built = [finding for rule in LAYOUT for finding in rule.findings(case)]  # whether it can be built
            findings = merged(find(one, stock, drive, say), built)
            return Detail(hit.row, freedom_of(design, stock, wishes, hit, cancelled), tuple(findings))

        self._details.start(work)

    def _detail_arrived(self, detail: object) -> None:
        assert isinstance(detail, Detail)
        self.detail = detail
        self.detailed.emit()
