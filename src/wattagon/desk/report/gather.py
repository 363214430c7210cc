"""What a report holds, taken from the benches as they show it: each is brought to the front, waited for, and painted."""

from __future__ import annotations

import datetime
import math
import time
from typing import Any

from PySide6.QtCore import QBuffer, QIODevice, QObject, QRectF, QTimer, Signal
from PySide6.QtGui import QPainter, QPicture
from PySide6.QtSvg import QSvgGenerator
from PySide6.QtWidgets import QWidget

from wattagon.design.tree import Design
from wattagon.desk.bands import weighed
from wattagon.desk.bench import Picture
from wattagon.desk.benches import BENCHES, Entry
from wattagon.desk.session import Session
from wattagon.errors import InputError
from wattagon.exchange.report.model import CAUTIONS, Report, Section, Table, Told
from wattagon.study.bands.taking import name_of
from wattagon.study.drive.words import goal_name
from wattagon.study.finder.words import drive_words
from wattagon.study.findings.finding import Finding
from wattagon.study.findings.status import Status

POLL_MS, PATIENCE_S = 40, 120.0
PICTURE_W, PICTURE_H = 960.0, 420.0
NEVER = ("finder", "trouble")  # what is looked for, not what is there
STATUS = {Status.OVER: "over", Status.TIGHT: "tight", Status.CLEAR: "clear", Status.NOT_CHECKED: "not checked"}


def sections_of(design: Design) -> tuple[Entry, ...]:
    """Benches that have something to report of a design."""
    variant = design.variant()
    empty = set(NEVER)
    if not design.logs:
        empty.add("log")
    if variant.winding is None:
        empty.add("winding")
    return tuple(entry for entry in BENCHES if entry.code not in empty and not entry.why_not(design))


def chosen_sections(design: Design, codes: list[str] | None) -> tuple[Entry, ...]:
    """Those that were asked for, in the order of the work.  Raises InputError with those that there are."""
    there = sections_of(design)
    if codes is None:
        return there
    for code in codes:
        if code not in [entry.code for entry in there]:
            raise InputError("sections", repr(code[:40]), ", ".join(entry.code for entry in there))
    return tuple(entry for entry in there if entry.code in codes)


class Gatherer(QObject):
    """Goes from bench to bench while the window lives; `done` hands the report over, `moved` says where it is."""

    done = Signal(object)
    moved = Signal(str)

    def __init__(self, window: Any, entries: tuple[Entry, ...], today: datetime.date) -> None:
        super().__init__(window)
        self._window, self._session = window, window.session
        self._entries, self._today = list(entries), today
        self._waiting: list[Entry] = []
        self._made: list[Section] = []
        self.pictures: dict[str, QPicture] = {}  # by section
        self._back = window.work.current
        self._timer = QTimer(self, interval=POLL_MS)
        self._timer.timeout.connect(self._poll)
        self._until = 0.0
        self._steps = 0

    def start(self) -> None:
        """Begin with the first bench."""
        self._waiting, self._made = list(self._entries), []
        self._next()
        self._timer.start()

    def give_up(self) -> None:
        """Nothing is handed over."""
        self._timer.stop()
        self._window.show_bench(self._back)

    def _next(self) -> None:
        if self._waiting:
            self.moved.emit(self._waiting[0].name)
            self._window.show_bench(self._waiting[0].code)
        self._until, self._steps = time.monotonic() + PATIENCE_S, 0

    def _poll(self) -> None:
        if not self._waiting:
            self._timer.stop()
            self._window.show_bench(self._back)
            self.done.emit(self._report())
            return
        entry = self._waiting[0]
        bench = self._window.bench(entry.code)
        self._steps += 1
        settled = self._steps > 3 and not bench.busy and not self._session.busy
        if not settled and time.monotonic() < self._until:
            return
        self._made.append(self._section(entry, bench, settled=settled))
        self._waiting.pop(0)
        self._next()

    def _section(self, entry: Entry, bench: Any, *, settled: bool) -> Section:
        found = [one for one in self._session.findings if one.bench == entry.code and one.status is not Status.CLEAR]
        self.pictures[entry.code] = strokes_of(bench.picture, self._session)
        headline = getattr(bench, "headline", None)
        rows = bench.table()
        return Section(
            code=entry.code,
            title=entry.name,
            headline=headline.text() if headline is not None else "",
            picture=svg_of(bench.picture, self._session),
            says=bench.picture.spoken()[:600],
            table=tuple(tuple(str(cell) for cell in row) for row in rows),
            findings=tuple(_told(one) for one in found),
            missing="" if settled else "This bench was still being worked out when the report was made.",
        )

    def _report(self) -> Report:
        session = self._session
        design, study = session.design, session.study
        variant = design.variant()
        inputs = study.resolved.inputs if study is not None else {}
        assumed = [
            (name_of(path), session.say(inputs[path].value, inputs[path].dimension))
            for path in (study.assumptions if study is not None else ())
            if path in inputs
        ]
        left = [entry.name for entry in sections_of(design) if entry not in self._entries]
        return Report(
            vehicle=design.vehicle.name,
            variant=f"{variant.id} {variant.name}".strip(),
            note=variant.note,
            made=self._today.isoformat(),
            drive=drive_words(variant, session.stock),
            goals=_goals(session),
            sections=tuple(self._made),
            assumed=tuple(assumed),
            inputs=len(inputs),
            not_checked=tuple(one.title for one in session.findings if one.status is Status.NOT_CHECKED),
            left_out=tuple(left),
            cautions=CAUTIONS,
        )


def _told(one: Finding) -> Told:
    return Told(status=STATUS[one.status], title=one.title, because=one.because, assumed=one.known.value == "assumed")


def _goals(session: Session) -> Table:
    study = session.study
    if study is None or not study.goals:
        return ()
    found = {one.result.goal.id: one for one in getattr(weighed(session), "goals", ())}
    rows = [("goal", "reached", "between", "likely", "verdict")]
    for result in study.goals:
        wide = found.get(result.goal.id)
        words = lambda value, result=result: "never" if math.isinf(value) else session.say(value, result.dimension)
        between = f"{words(wide.band.low)} to {words(wide.band.high)}" if wide is not None else "not known"
        likely = f"{wide.likely:.0%}" if wide is not None and wide.likely == wide.likely else ""
        verdict = "met" if result.met else "missed"
        rows.append((goal_name(result.goal, session.say), words(result.reached), between, likely, verdict))
    return tuple(rows)


def paint(view: Picture, session: Session, painter: QPainter, rect: QRectF) -> None:
    """A picture in the light scheme that paper asks for, without the frame of what has the keys."""
    scheme, session.theme_name = session.theme_name, "light"
    if isinstance(view, QWidget):
        view.clearFocus()
    try:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        view.paint_on(painter, rect)
    finally:
        session.theme_name = scheme


def strokes_of(view: Picture, session: Session) -> QPicture:
    """A picture as what is painted, to be painted again on paper."""
    made = QPicture()
    painter = QPainter(made)
    try:
        paint(view, session, painter, QRectF(0.0, 0.0, PICTURE_W, PICTURE_H))
    finally:
        painter.end()
    return made


def svg_of(view: Picture, session: Session) -> str:
    """A picture as an SVG file."""
    rect = QRectF(0.0, 0.0, PICTURE_W, PICTURE_H)
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator(QSvgGenerator.SvgVersion.Svg11)  # the older one knows no clipping
    generator.setOutputDevice(buffer)
    generator.setSize(rect.size().toSize())
    generator.setViewBox(rect)
    painter = QPainter(generator)
    try:
        paint(view, session, painter, rect)
    finally:
        painter.end()
    return bytes(buffer.data().data()).decode("utf-8")
