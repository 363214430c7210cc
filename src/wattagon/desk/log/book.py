"""The log in front: its table read on a thread, ridden again after every edit, learnt from when asked."""

from __future__ import annotations

import datetime
from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from wattagon.design.tree import Design, Log, LogColumn, LogKind
from wattagon.desk.compiler import load_loop
from wattagon.desk.session import Session
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.record import record

WAIT_MS = 180
KEPT = 3  # tables that stay at hand


@record(frozen=True, slots=True)
class _Done:
    """What came back of riding a log again."""

    log: str
    design: Design
    data: Any
    comparison: Any
    explains: Any
    tracks: Any
    refusal: str
    shaking: Any = None


@record(frozen=True, slots=True)
class _Brought:
    """What came back of a file."""

    brought: Any
    refusal: str
    name: str
    kind: LogKind | None


class LogBook(QObject):
    """What the bench of logs shows; `watch` it while it is seen."""

    changed = Signal()
    learnt = Signal()
    brought = Signal()
    versions_changed = Signal()

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.log_id = ""
        self.way = "speed"
        self.with_band = True
        self.data: Any = None
        self.shaking: Any = None  # of a log of accelerations
        self.comparison: Any = None
        self.explains: tuple[Any, ...] = ()
        self.tracks: tuple[Any, ...] = ()  # that ran along with it
        self.problem = ""
        self.fit: Any = None
        self.fit_problem = ""
        self.next_rides: tuple[Any, ...] = ()
        self.versions: tuple[Any, ...] = ()
        self.progress = 0.0
        self.offered: Any = None  # a file that was read and is not taken yet
        self.stale = True
        self._watched = False
        self._of: Design | None = None
        self._tables: dict[str, Any] = {}
        self._reader, self._rider, self._learner, self._teller = Worker(self, large=True), Worker(self), Worker(self), Worker(self)
        self._reader.arrived.connect(self._read)
        self._rider.arrived.connect(self._ridden)
        self._learner.arrived.connect(self._learnt)
        self._teller.arrived.connect(self._told)
        self._timer = QTimer(self, singleShot=True, interval=WAIT_MS)
        self._timer.timeout.connect(self.run)
        session.design_changed.connect(self._edited)
        session.closing.connect(self.stop)

    # which log

    @property
    def logs(self) -> tuple[Log, ...]:
        return self._session.design.logs if self._session.docs else ()

    @property
    def log(self) -> Log | None:
        """The log in front."""
        logs = self.logs
        return next((one for one in logs if one.id == self.log_id), None)

    @property
    def running(self) -> bool:
        return self._rider.running or self._reader.running or self._timer.isActive()

    @property
    def learning(self) -> bool:
        return self._learner.running

    @property
    def busy(self) -> bool:
        return self.running or self.learning or self._teller.running

    @property
    def present(self) -> Any:
        """The comparison, if it is of the design as it is now: only such a one can be ridden along."""
        return self.comparison if self.comparison is not None and self._of is self._session.design else None

    def watch(self, seen: bool) -> None:
        """Ride only while somebody looks."""
        self._watched = seen
        if seen:
            self._settle()
            if self.stale:
                self._timer.start()
        else:
            self._timer.stop()

    def _settle(self) -> None:
        """A log in front where there is one."""
        ids = [one.id for one in self.logs]
        if self.log_id not in ids:
            mine = [one.id for one in self.logs if one.variant == self._session.design.variant().id and _has_table(one)] if ids else []
            self.log_id = (mine or ids or [""])[0]
            self._forget()

    def _forget(self) -> None:
        self.data = self.comparison = self.fit = self.shaking = None
        self.explains, self.next_rides, self.problem, self.fit_problem = (), (), "", ""
        self.stale = True

    def choose(self, log_id: str) -> None:
        """Another log."""
        if log_id == self.log_id and not self.stale:
            return
        self.log_id = log_id
        self._forget()
        self.run()

    def go_by(self, way: str) -> None:
        """By the measured speed or by the measured command."""
        self.way, self.stale = way, True
        self.run()

    def show_band(self, on: bool) -> None:
        """With the band of the prediction or without."""
        self.with_band, self.stale = on, True
        self.run()

    def _edited(self, paths: frozenset[str]) -> None:
        self.stale = True
        if not paths:
            self.log_id = ""
            self._tables.clear()
            self._forget()
            self.versions, self.offered = (), None
            self._learner.cancel()
        if paths and any(path == "logs" or path.startswith("logs.") for path in paths):
            self._tables.clear()
        if self._session.docs:
            self._settle()
        if self._watched:
            self._timer.start()
        self.changed.emit()

    # riding it again

    def run(self) -> None:
        """Ride the log in front again; whatever ran is given up."""
        self._timer.stop()
        if not self._session.docs:
            return
        log = self.log
        if log is None or not _has_table(log):
            self.data = self.comparison = None
            self.stale = False
            self.changed.emit()
            return
        self._rider.start(self._work(log))
        self.changed.emit()

    def _work(self, log: Log) -> Callable[[Callable[[], bool]], object]:
        session = self._session
        design, stock, say, members = session.design, session.stock, session.say, session.doc.members
        way, band, tables = self.way, self.with_band, self._tables

        def work(cancelled: Callable[[], bool]) -> _Done:
            load_loop()
            from wattagon.study.log.compare import compare, explanations
            from wattagon.study.log.replay import SAMPLES, replay

            data = None
            try:
                data = tables.get(log.id) or data_with_tracks(design, members, log, stock, say)
                tables[log.id] = data
                if log.kind is LogKind.PHONE:
                    from wattagon.study.log.phone import phone_study

                    front = [
                        data_with_tracks(design, members, one, stock, say) for one in design.logs if one.id == log.beside and one.member
                    ]
                    return _Done(log.id, design, data, None, (), (), "", phone_study(design, stock, data, front))
                made = compare(replay(design, stock, data, way=way, samples=SAMPLES if band else 0, of=design, cancelled=cancelled))
                found = () if cancelled() else tuple(explanations(design, stock, made))
                return _Done(log.id, design, data, made, found, tracks_of(design, members, log, stock, say), "")
            except WattagonError as refusal:
                return _Done(log.id, design, data, None, (), (), str(refusal))

        return work

    def _ridden(self, done: object) -> None:
        assert isinstance(done, _Done)
        if done.log != self.log_id:
            return
        self.data, self.comparison, self.explains, self.problem = done.data, done.comparison, done.explains, done.refusal
        self.tracks, self.shaking = done.tracks, done.shaking
        self._of, self.stale = done.design, done.design is not self._session.design
        self.changed.emit()

    # learning

    def learn(self) -> None:
        """What this log teaches, on a thread; Escape gives it up."""
        log = self.log
        if log is None or not _has_table(log):
            return
        session = self._session
        design, stock, say, members, tables = session.design, session.stock, session.say, session.doc.members, self._tables
        others = [one for one in self.logs if one.id in self.together and one.id != log.id and _has_table(one)]

        def work(cancelled: Callable[[], bool]) -> object:
            load_loop()
            from wattagon.study.log.fit import fit
            from wattagon.study.log.next_ride import next_rides

            try:
                datas = []
                for one in (log, *others):
                    data = tables.get(one.id) or data_with_tracks(design, members, one, stock, say)
                    tables[one.id] = data
                    datas.append(data)
                made = fit(design, stock, datas, cancelled=cancelled, progress=self._went_on)
                return made, "", tuple(next_rides(design, stock, made, cancelled)[:3])
            except WattagonError as refusal:
                return None, str(refusal), ()

        self.progress = 0.0
        self._learner.start(work)
        self.learnt.emit()

    together: frozenset[str] = frozenset()  # ids of logs that are learnt from along with the one in front

    def _went_on(self, share: float) -> None:
        self.progress = share

    def _learnt(self, done: object) -> None:
        assert isinstance(done, tuple)
        self.fit, self.fit_problem, self.next_rides = done
        self.learnt.emit()

    def forget_fit(self) -> None:
        """What was learnt belongs to another stretch."""
        self._learner.cancel()
        self.fit, self.fit_problem, self.next_rides = None, "", ()
        self.learnt.emit()

    # versions

    def tell_versions(self) -> None:
        """Work the versions out on a thread."""
        if not self._session.docs:
            return
        session = self._session
        design, stock, say, members, tables = session.design, session.stock, session.say, session.doc.members, self._tables

        def load(log: Log) -> Any:
            try:
                found = tables.get(log.id) or data_with_tracks(design, members, log, stock, say)
            except WattagonError:
                return None
            return found

        def work(cancelled: Callable[[], bool]) -> object:
            load_loop()
            from wattagon.study.log.versions import versions_of

            try:
                return versions_of(design, stock, load, cancelled)
            except WattagonError:
                return ()

        self._teller.start(work)

    def _told(self, done: object) -> None:
        assert isinstance(done, tuple)
        self.versions = done
        self.versions_changed.emit()

    # bringing in

    def bring_in(self, path: Path, kind: LogKind | None = None, columns: tuple[LogColumn, ...] = ()) -> None:
        """Read a file on a thread; what its columns are taken as is offered then."""
        session = self._session
        if not session.docs:
            return
        design, stock, say = session.design, session.stock, session.say

        def work(cancelled: Callable[[], bool]) -> _Brought:
            from wattagon.exchange.log.memory import remembered
            from wattagon.exchange.log.propose import header_of
            from wattagon.exchange.log.read import bring, known_columns, read_file
            from wattagon.exchange.log.table import Cancelled, read_table
            from wattagon.study.log.expect import expected

            try:
                raw = read_file(path)
                table, known = None, columns
                if raw.strip() and raw[:4096].lstrip()[:1] != b"<":
                    table = read_table(raw, path.name, self._went_on, cancelled)
                    known = columns or known_columns(design, table.heads) or remembered(header_of(table.heads))
                return _Brought(
                    bring(raw, path.name, expected(design, stock), known=known, kind=kind, say=say, table=table), "", path.name, kind
                )
            except Cancelled:
                return _Brought(None, "", path.name, kind)
            except WattagonError as refusal:
                return _Brought(None, str(refusal), path.name, kind)

        self.progress = 0.0
        self._reader.start(work)
        session.told.emit(f"Reading {path.name} ... Escape gives it up", False)
        self.changed.emit()

    def _read(self, done: object) -> None:
        assert isinstance(done, _Brought)
        if done.refusal:
            self._session.told.emit(done.refusal, True)
        elif done.brought is not None:
            self.offered = done.brought
            self.brought.emit()
        self.changed.emit()

    def take(self, log: Log, data: Any, raw: bytes | None) -> bool:
        """A log into the design with its file; whether it was taken."""
        from wattagon.design.file import check_room, referred
        from wattagon.exchange.log.read import packed
        from wattagon.study.log.enter import added

        session = self._session
        try:
            edit = added(session.design, log, data, datetime.date.today())
            member = {} if raw is None else {log.member: packed(raw)}
            check_room({**referred(session.design, session.doc.members), **member})
        except WattagonError as refusal:
            session.told.emit(str(refusal), True)
            return False
        session.doc.members = {**session.doc.members, **member}
        if not session.try_apply(edit):
            return False
        self.offered = None
        self.choose(session.design.logs[-1].id)
        return True

    def cancel(self) -> None:
        """Give up what is under way."""
        self._timer.stop()
        for worker in (self._reader, self._rider, self._learner, self._teller):
            worker.cancel()
        self.changed.emit()
        self.learnt.emit()

    def stop(self) -> None:
        """Before the program ends."""
        self._timer.stop()
        for worker in (self._reader, self._rider, self._learner, self._teller):
            worker.stop()


def _has_table(log: Log) -> bool:
    return bool(log.member)


def data_with_tracks(design: Design, members: Mapping[str, bytes], log: Log, stock: Any, say: Any) -> Any:
    """The data of a log with what tracks beside it bring.  Raises FileError, InputError."""
    from wattagon.exchange.log.read import again
    from wattagon.study.log.align import with_tracks
    from wattagon.study.log.expect import expected

    expect = expected(design, stock, log.variant or None)
    return with_tracks(again(log, members, expect, say), tracks_of(design, members, log, stock, say))


def tracks_of(design: Design, members: Mapping[str, bytes], log: Log, stock: Any, say: Any) -> tuple[Any, ...]:
    """Tracks that ran along with a log.  Raises FileError, InputError."""
    from wattagon.exchange.log.read import again
    from wattagon.study.log.expect import expected

    expect = expected(design, stock, log.variant or None)
    return tuple(replace(again(one, members, expect, say), log=one) for one in design.logs if one.beside == log.id and one.member)
