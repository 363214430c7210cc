"""The session: open documents, the moment, undo, and the studies that follow; one door in, one signal out."""

from __future__ import annotations

import itertools
import os
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, QTimer, Signal

from wattagon import files
from wattagon.design import catalogue, file
from wattagon.design.catalogue import Catalogue
from wattagon.design.paths import Edit, apply
from wattagon.design.tree import Design
from wattagon.desk.ahead import LookAhead
from wattagon.desk.document import Moment, OpenVehicle, Ridden, Step
from wattagon.desk.recovery import OpenFiles, Recovery
from wattagon.desk.schedule import Schedule
from wattagon.errors import ChangedError, FileError, InputError, PathError, WattagonError
from wattagon.exchange import units
from wattagon.physics.envelope import Edge
from wattagon.physics.point import OperatingPoint
from wattagon.study.drive.follow import Followed, follow
from wattagon.study.drive.levers import Lever, Preview
from wattagon.study.drive.study import DriveStudy, StateResult, needed_along, point_at
from wattagon.study.findings.all import Tried, find, merged
from wattagon.study.findings.finding import Finding
from wattagon.study.resolve import CHARGE_STATES
from wattagon.study.studies import FIRST, STUDIES, Task, findings_of, wakes

if TYPE_CHECKING:
    from concurrent.futures import ThreadPoolExecutor

    from wattagon.desk.settings import SettingsFile
    from wattagon.study.resolve import Resolved
    from wattagon.study.ride.study import Ride

AUTOSAVE_MS = 1200  # from the first change that is not kept yet: with the writing at most 2 s of work are at risk


class Session(QObject):
    """Everything open, and what follows from the active vehicle.  Views listen and keep no values of their own."""

    design_changed = Signal(object)  # frozenset of edited paths; empty when another vehicle was opened
    moment_changed = Signal()
    documents_changed = Signal()  # opened, closed, saved, renamed
    previews_changed = Signal()
    findings_changed = Signal()  # cures have arrived
    ghost_changed = Signal()
    looks_changed = Signal()  # units or theme
    closing = Signal()  # the window goes: whoever works on a thread of its own stops
    told = Signal(str, bool)  # a sentence for the message line; True when it is a refusal
    _keeping_failed = Signal(str, str)  # from the thread that writes: the document's key, and why

    def __init__(
        self,
        stock: Catalogue,
        *,
        stock_folder: Path | None = None,
        recovery: Recovery | None = None,
        open_files: OpenFiles | None = None,
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self.stock = stock
        self.stock_folder = stock_folder
        self._recovery, self.open_files = recovery, open_files
        self._writer: ThreadPoolExecutor | None = None
        self.docs: list[OpenVehicle] = []
        self._active = -1
        self.person: SettingsFile | None = None  # what is kept of who sits here, not of a design
        self.unit_set = "metric"
        self.theme_name = "light"
        self.followed: Followed | None = None  # what follows at once from the design
        self.problem = ""  # why there is no study
        self.findings: list[Finding] = []
        self.broken: dict[tuple[str, int], Finding] = {}  # rating that a step of a lever (0 down, 1 up) would put over
        self.point: OperatingPoint | None = None
        self.needed: dict[str, Any] = {}  # what holding each speed takes at the moment's grade and charge
        self._needed_for: tuple[object, ...] = ()
        self.ahead = LookAhead(self._work_out, self)
        self.lever_in_hand = ""  # its steps are worked out ahead
        self.ghost: Edge | None = None  # the edge before the gesture that is going on
        self.trial: tuple[str, Edge] | None = None  # what a step that is pointed at would give
        self._gestures = itertools.count(1)
        self._drive_findings: list[Finding] = []
        self.schedule = Schedule(parent=self)
        self.schedule.arrived.connect(self._arrived)
        self._autosave_timer = QTimer(self, singleShot=True, interval=AUTOSAVE_MS)
        self._autosave_timer.timeout.connect(self._keep_soon)
        self._keeping_failed.connect(self._not_kept)

    # documents

    @property
    def doc(self) -> OpenVehicle:
        return self.docs[self._active]

    @property
    def design(self) -> Design:
        return self.doc.design

    @property
    def moment(self) -> Moment:
        return self.doc.moment

    @property
    def state(self) -> StateResult | None:
        """The edge that belongs to the moment: of its state of charge, or nominal between them."""
        if self.study is None:
            return None
        name = next((name for name, charge in CHARGE_STATES.items() if charge == self.moment.charge), "nominal")
        return self.study.states[name]

    def say(self, value: float, dimension: str) -> str:
        """A value in the user's units."""
        currency = self.design.brief.currency if self.docs else "EUR"
        return units.say(value, dimension, self.unit_set, currency)

    def open(self, path: Path) -> None:
        """Open a file as a further vehicle.  Raises FileError and leaves everything as it was."""
        for k, doc in enumerate(self.docs):
            if doc.path is not None and os.path.realpath(doc.path) == os.path.realpath(path):
                self.activate(k)
                return
        document = file.read(path)
        self.add(document, path)
        if document.aside:
            what = "1 value was" if len(document.aside) == 1 else f"{len(document.aside)} values were"
            self.told.emit(f"{what} set aside: {'; '.join(document.aside)}", True)

    def add(
        self, document: file.Document, path: Path | None, *, recovered: bool = False, stamp: files.Stamp | None = None, front: bool = True
    ) -> OpenVehicle:
        """A further open vehicle, made active unless `front` is False."""
        doc = OpenVehicle(document, path, self)
        doc.recovered = recovered
        if recovered:
            doc.stamp = stamp
        doc.undo.cleanChanged.connect(self._clean_changed)
        self.docs.append(doc)
        self._take(path)
        if front or len(self.docs) == 1:
            self.activate(len(self.docs) - 1)
        return doc

    def _take(self, path: Path | None) -> None:
        if path is not None and self.open_files is not None and not self.open_files.take(path):
            self.told.emit(f"{path.name} is open in another window too; before one overwrites the other's work you are asked", True)

    def activate(self, index: int) -> None:
        """Work on another open vehicle."""
        if index == self._active and self.study is not None and self.study.design is self.docs[index].design:
            self.documents_changed.emit()
            return
        self._active = index
        self.ghost = self.trial = None
        self._follow(frozenset())
        self.documents_changed.emit()

    def close_doc(self, index: int) -> None:
        """Close one vehicle; its unsaved work is given up on purpose."""
        doc = self.docs[index]
        if self._recovery is not None:
            self._recovery.drop(doc.key)
        if self.open_files is not None and doc.path is not None:
            self.open_files.leave(doc.path)
        del self.docs[index]
        doc.undo.deleteLater()
        if self.docs:
            self.activate(min(index, len(self.docs) - 1))
            return
        self._active = -1
        self._nothing_follows("")
        self.design_changed.emit(frozenset())
        self.documents_changed.emit()

    def save(self, path: Path | None = None, *, over: bool = False) -> None:
        """Save the active vehicle.  Raises FileError, ChangedError where someone else wrote it and not `over`; the old file stays."""
        doc = self.doc
        target = path or doc.path
        if target is None:
            raise FileError("this vehicle has no file yet; save it under a name")
        same = doc.path is not None and os.path.realpath(target) == os.path.realpath(doc.path)
        present = files.stamp_of(target)
        if same and not over and present is not None and present != doc.stamp:
            raise ChangedError(f"{target.name} was changed by someone else since it was opened; it was left as it is")
        file.write(target, file.Document(design=doc.design, members=doc.members))
        if not same:
            if self.open_files is not None and doc.path is not None:
                self.open_files.leave(doc.path)
            self._take(target)
        doc.path, doc.recovered, doc.stamp = target, False, files.stamp_of(target)
        doc.undo.setClean()
        self._drop_kept(doc)
        self.documents_changed.emit()
        self.told.emit(f"Saved {target.name}", False)

    def _to_keep(self) -> list[OpenVehicle]:
        """Documents whose work is not in a recovery file yet; those that are as saved need none."""
        for doc in self.docs:
            if not doc.unsaved and doc.kept is not None:
                self._drop_kept(doc)
        return [doc for doc in self.docs if doc.unsaved and doc.kept is not doc.design]

    def _drop_kept(self, doc: OpenVehicle) -> None:
        doc.kept = None
        if self._recovery is not None:
            self._recovery.drop(doc.key)

    def _keep_soon(self) -> None:
        """Keep unsaved work, written by a thread of its own."""
        recovery, due = self._recovery, self._to_keep()
        if recovery is None or not due:
            return
        if self._writer is None:
            from concurrent.futures import ThreadPoolExecutor

            self._writer = ThreadPoolExecutor(1, "autosave")
        for doc in due:
            doc.kept = doc.design
            work = (doc.key, file.Document(design=doc.design, members=doc.members), doc.path, doc.stamp, recovery.turn(doc.key))
            self._writer.submit(self._write_kept, recovery, *work)

    def _write_kept(self, recovery: Recovery, key: str, *what: Any) -> None:
        try:
            recovery.keep(key, *what)
        except (FileError, OSError, ValueError) as error:
            self._keeping_failed.emit(key, str(error))

    def _not_kept(self, key: str, words: str) -> None:
        for doc in self.docs:
            if doc.key == key:
                doc.kept = None  # tried again with the next change
        self.told.emit(f"Autosave failed: {words}", True)

    def autosave(self) -> None:
        """Keep unsaved work in recovery files now, and return when it is written; one bad document keeps no other from it."""
        if self._recovery is None:
            return
        if self._writer is not None:
            self._writer.shutdown()
            self._writer = None
        for doc in self._to_keep():
            try:
                self._recovery.keep(doc.key, file.Document(design=doc.design, members=doc.members), doc.path, doc.stamp)
                doc.kept = doc.design
            except (FileError, OSError, ValueError) as error:
                self._not_kept(doc.key, str(error))

    def rest(self) -> None:
        """Nothing goes on any more: the window closes."""
        self.closing.emit()
        self._autosave_timer.stop()
        self.ahead.rest()
        self.schedule.rest()
        if self._writer is not None:
            self._writer.shutdown()
            self._writer = None
        if self.open_files is not None:
            self.open_files.end()

    def forget_recovery(self) -> None:
        """On a close that the user confirmed: nothing is left to recover."""
        for doc in self.docs:
            self._drop_kept(doc)
        self.rest()
        if self._recovery is not None:
            self._recovery.end()

    # edits

    def gesture(self) -> int:
        """A number that the edits of one drag share."""
        return next(self._gestures)

    def apply(self, edit: Edit) -> None:
        """One undoable step.  Raises InputError or PathError with the design untouched."""
        after = apply(self.design, edit)
        if after == self.design:
            return
        if self.study is not None and wakes(FIRST, [path for path, _ in edit.changes]):
            # a design that worked is not changed into one that does not: here a refusal leaves nothing behind
            self.ahead.keep(self._followed(after))
        self.doc.undo.push(Step(self, self.doc, edit, after))

    def try_apply(self, edit: Edit) -> bool:
        """Like `apply`, but a refusal goes to the message line; whether it was taken."""
        try:
            self.apply(edit)
        except WattagonError as refusal:
            self.told.emit(str(refusal), True)
            return False
        return True

    def put(self, doc: OpenVehicle, design: Design, paths: frozenset[str]) -> None:
        """Only for undo steps: the design after one of them."""
        doc.design = design
        if doc is self.doc:
            self._follow(paths)
        if not self._autosave_timer.isActive():  # started anew by each edit it would wait for as long as someone works
            self._autosave_timer.start()

    def undo(self) -> None:
        self.doc.undo.undo()

    def redo(self) -> None:
        self.doc.undo.redo()

    # what follows

    def _follow(self, paths: frozenset[str]) -> None:
        self.ahead.rest()
        self.trial = None
        if self.doc.moment.ridden is not None:  # a ride of another design
            self.doc.moment = replace(self.doc.moment, ridden=None)
        try:
            if self.followed is not None and paths and not wakes(FIRST, paths):  # only told: no figure follows from it
                found = replace(self.followed, study=replace(self.followed.study, design=self.design))
            else:
                found = self._followed(self.design)
            self.ahead.keep(found)
            if not paths:  # another vehicle: the last one's rides and steps say nothing of it
                self.schedule.forget()
            self.followed, self.problem = found, ""
            self._drive_findings = self._with_old_cures(found.findings)
            self._merge()
            self._follow_moment()
        except (InputError, PathError) as refusal:
            self._nothing_follows(str(refusal))
        self.broken = {}
        self._wake(paths)
        self.design_changed.emit(paths)

    def _wake(self, paths: frozenset[str]) -> None:
        if self.followed is not None:
            self.schedule.follow(Task(design=self.design, stock=self.stock, say=self.say, results={FIRST.code: self.followed}), paths)

    def _nothing_follows(self, problem: str) -> None:
        """There is no study: none is open, or this one cannot be worked out."""
        self.followed, self.point, self.findings, self._drive_findings = None, None, [], []
        self.needed, self._needed_for, self.problem = {}, (), problem
        self.schedule.forget()

    @property
    def study(self) -> DriveStudy | None:
        return self.followed.study if self.followed is not None else None

    @property
    def levers(self) -> list[Lever]:
        return self.followed.levers if self.followed is not None else []

    @property
    def previews(self) -> dict[str, tuple[Preview | None, Preview | None]]:
        """What each lever's steps would do (down, up); of an earlier design while `previews_stale`."""
        steps = self.schedule.results.get("steps")
        return steps.previews if steps is not None else {}

    @property
    def previews_stale(self) -> bool:
        return "steps" in self.schedule.stale

    @property
    def heat_lines(self) -> list[tuple[float, Any, Any]]:
        """Minutes, speeds, thrust: until a winding is too hot."""
        steps = self.schedule.results.get("steps")
        return steps.heat_lines if steps is not None else []

    def _work_out(self, design: Design) -> Followed:
        return follow(design, self.stock, self.say)

    def _followed(self, design: Design) -> Followed:
        """What follows from a design, at hand or worked out now.  Raises InputError or PathError."""
        return self.ahead.known(design) or self._work_out(design)

    def take_in_hand(self, lever_code: str) -> None:
        """The lever that has the keys: its next steps are worked out while the window rests."""
        if lever_code != self.lever_in_hand:
            self.lever_in_hand = lever_code
            self._look_ahead()

    def _look_ahead(self) -> None:
        lever = next((lever for lever in self.levers if lever.code == self.lever_in_hand), None)
        if lever is not None and not self.previews_stale:
            self.ahead.want([apply(self.design, edit) for edit in (lever.up, lever.down) if edit is not None])

    def _with_old_cures(self, fresh: list[Finding]) -> list[Finding]:
        # cures of the last design stay in sight until the new ones arrive, unless the finding has changed its state
        old = {(f.code, f.status): f.cures for f in self._drive_findings if f.cures}
        kept = [(f, old.get((f.code, f.status), ())) for f in fresh]
        return [f if f.cures == cures else replace(f, cures=cures) for f, cures in kept]

    def resolved_now(self) -> Resolved | None:
        """The drive as it is at the moment: on a ride in the gear it was in then; None without a study."""
        if self.study is None:
            return None
        ridden = self.moment.ridden
        if ridden is None:
            return self.study.resolved
        from wattagon.study.ride.study import resolved_at

        return resolved_at(ridden.ride, ridden.row)

    def _follow_moment(self) -> None:
        if self.study is None:
            self.point = None
            return
        m = self.moment
        if m.ridden is not None:
            from wattagon.study.ride.study import point_of

            self.point = point_of(m.ridden.ride, m.ridden.row)
        else:
            self.point = point_at(self.study.resolved, speed_m_s=m.speed_m_s, grade=m.grade, charge=m.charge)
        wanted = (self.study.resolved, m.grade, m.charge)
        if (
            not self._needed_for
            or any(a is not b and a != b for a, b in zip(wanted[1:], self._needed_for[1:], strict=True))
            or (wanted[0] is not self._needed_for[0])
        ):
            speeds = self.study.states["full"].edge.speed_m_s
            self.needed = {"speed_m_s": speeds, **needed_along(self.study.resolved, speeds, m.grade, m.charge)}
            self._needed_for = wanted

    def set_moment(self, **changes: float) -> None:
        """Move the moment; values are held within what makes sense."""
        wanted = replace(self.moment, ridden=None, **changes)
        wanted = replace(
            wanted,
            speed_m_s=min(max(wanted.speed_m_s, 0.0), 60.0),
            grade=min(max(wanted.grade, -0.3), 1.0),
            charge=min(max(wanted.charge, 0.0), 1.0),
        )
        if wanted == self.moment:
            return
        self.doc.moment = wanted
        self._follow_moment()
        self.moment_changed.emit()

    def scrub(self, ride: Ride, row: int, measured: Mapping[str, float] | None = None) -> None:
        """The moment of a ride of the present design: every view shows what it had there.  A ride of another design moves nothing.

        `measured` is what a log read there, for a ride that follows one.
        """
        from wattagon.physics.ride.names import Col

        if not self.docs or ride.design is not self.design or self.study is None:
            return

        at = ride.run.trace[row]
        self.doc.moment = Moment(
            speed_m_s=float(at[Col.SPEED]), grade=float(at[Col.GRADE]), charge=float(at[Col.CHARGE]), ridden=Ridden(ride, row, measured)
        )
        self._follow_moment()
        self.moment_changed.emit()

    @property
    def busy(self) -> bool:
        """Whether studies run or wait, or steps are worked out ahead."""
        return self.schedule.busy or self.ahead.busy

    def _arrived(self, code: str) -> None:
        """A study that takes its time is done."""
        result = self.schedule.results[code]
        if code == "steps":
            self.previews_changed.emit()
            self._look_ahead()
            return
        if code == "measure_first":
            return  # whoever shows it listens to the schedule
        if isinstance(result, Tried):
            self._drive_findings = [replace(f, cures=result.cures.get(f.code, ())) for f in self._drive_findings]
            self.broken = result.broken
        self._merge()
        self.findings_changed.emit()

    def _merge(self) -> None:
        """All findings in one list; those of slow studies are of the last design that they ran for."""
        codes = [study.code for study in STUDIES[1:] if study.rules]
        slow = [finding for code in codes for finding in findings_of(self.schedule.results.get(code))]
        self.findings = merged(self._drive_findings, slow) if slow else self._drive_findings

    # what a view points at

    def hold_ghost(self) -> None:
        """Keep the present edge in sight while a lever moves."""
        if self.ghost is None and self.study is not None:
            self.ghost = self.study.states["nominal"].edge
            self.ghost_changed.emit()

    def drop_ghost(self) -> None:
        if self.ghost is not None:
            self.ghost = None
            self.ghost_changed.emit()

    def set_trial(self, edit: Edit | None) -> None:
        """Show the edge that a step would give, before it is taken; None takes it away."""
        if edit is None:
            if self.trial is not None:
                self.trial = None
                self.ghost_changed.emit()
            return
        try:
            found = self._followed(apply(self.design, edit))
        except (InputError, PathError):
            self.set_trial(None)
            return
        self.ahead.keep(found)
        self.trial = (edit.label, found.study.states["nominal"].edge)
        self.ghost_changed.emit()

    def set_looks(self, *, unit_set: str | None = None, theme: str | None = None) -> None:
        """Another unit set or colour scheme."""
        self.unit_set = unit_set or self.unit_set
        self.theme_name = theme or self.theme_name
        if self.followed is not None and unit_set is not None:
            self.ahead.forget()  # findings are worded in units
            self.followed = replace(self.followed, findings=find(self.design, self.stock, self.followed.study, self.say))
            self._drive_findings = self.followed.findings
            self.schedule.drop_findings()
            self._merge()
            self._wake(frozenset())
        self.looks_changed.emit()

    def reload_stock(self) -> None:
        """Read the catalogue again if its files changed; bad rows are told."""
        if catalogue.stamp_of(self.stock_folder) == self.stock.stamp:
            return
        self.stock = catalogue.load(self.stock_folder)
        self.ahead.forget()
        bad = self.stock.bad_rows
        self.told.emit(f"Stock read again; skipped {bad[0]}" if bad else "Stock read again", bool(bad))
        if self.docs:
            self._follow(frozenset({"stock"}))

    def _clean_changed(self, _clean: bool) -> None:
        self.documents_changed.emit()
