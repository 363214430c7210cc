"""The bench of logs: measured over predicted on the left, what it teaches on the right, what it says below."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QPushButton,
    QSplitter,
    QStackedWidget,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.tree import LogKind, LogStretch
from wattagon.desk.bench import Bench
from wattagon.desk.fields import beside, heading, soft_line
from wattagon.desk.log.book import LogBook
from wattagon.desk.log.columns import ColumnsTab
from wattagon.desk.log.conditions import ConditionsTab
from wattagon.desk.log.lanes import LogLanes
from wattagon.desk.log.says import SaysTab
from wattagon.desk.log.shakes import ShakePicture
from wattagon.desk.log.teach import TeachPanel
from wattagon.desk.log.versions import VersionsTab
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.study.log.compare import Comparison, statement


def short_of(made: Comparison) -> str:
    """The difference of energy in a word or two."""
    energy = made.figure("energy")
    if energy is None:
        return ""
    inside = {True: ", in the band", False: ", outside the band", None: ""}[energy.inside]
    return f"energy {energy.off:+.0%}{inside}".replace("-", "\N{MINUS SIGN}")


FILES = "Logs (*.csv *.txt *.tsv *.log *.gpx *.gz);;All files (*)"


class LogBench(Bench):
    """Logs of the vehicle in front."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("log-bench")
        self.book = LogBook(session, self)
        self.lanes, self.teach = LogLanes(session, self.book), TeachPanel(session, self.book)
        self.picture: LogLanes | ShakePicture = self.lanes
        self.says, self.columns = SaysTab(session, self.book), ColumnsTab(session, self.book)
        self.conditions, self.versions = ConditionsTab(session, self.book), VersionsTab(session, self.book)
        self.tabs = QTabWidget(documentMode=True, objectName="log-tabs")
        for tab in (self.says, self.columns, self.conditions, self.versions):
            self.tabs.addTab(tab, tab.title)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(3)
        layout.addLayout(self._head())
        left = self.split = QSplitter(Qt.Orientation.Vertical, childrenCollapsible=False, handleWidth=8)
        self.shakes = ShakePicture(session)
        self.drawings = QStackedWidget()
        self.drawings.addWidget(self.lanes)
        self.drawings.addWidget(self.shakes)
        left.addWidget(self.drawings)
        left.addWidget(self.tabs)
        left.setStretchFactor(0, 5)
        left.setStretchFactor(1, 1)
        left.setSizes([440, 160])
        layout.addWidget(beside(left, self.teach, stretch=(5, 2), widths=(760, 300)), 1)
        self.book.changed.connect(self._show_state)
        self.book.brought.connect(self._offered)
        self.lanes.stretch_chosen.connect(self.learn_from)
        self.lanes.offset_chosen.connect(self.move_track)
        session.design_changed.connect(self._relist)
        session.looks_changed.connect(self._show_state)
        self._relist()
        self._show_state()

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(heading("Log"))
        self.logs = QComboBox(objectName="log-choice")
        self.logs.setAccessibleName("Log")
        self.logs.setMinimumWidth(190)
        self.logs.activated.connect(lambda index: self.choose(str(self.logs.itemData(index))))
        row.addWidget(self.logs)
        self.state = soft_line()
        row.addWidget(self.state, 1)
        self.way = QComboBox(objectName="log-way")
        self.way.setAccessibleName("How it is ridden again")
        self.way.addItem("by its speed", "speed")
        self.way.addItem("by its command", "command")
        self.way.activated.connect(lambda index: self.book.go_by(str(self.way.itemData(index))))
        self.band = QPushButton("Band", checkable=True, checked=True, objectName="log-band")
        self.band.setToolTip("What the design leaves open, around the prediction")
        self.band.toggled.connect(self.book.show_band)
        self.load = QPushButton("Load pack and wiring", checkable=True, objectName="log-load")
        self.load.setToolTip("Pack and Wiring are then held against the amps of this log in place of simulated rides")
        self.load.clicked.connect(self.load_by_log)
        self.bring = QPushButton("Bring in …", objectName="log-bring")
        self.bring.setToolTip("A table of any layout, a GPX track (Ctrl+Shift+L)")
        self.bring.clicked.connect(self.ask_for_log)
        for widget in (self.way, self.band, self.load, self.bring):
            row.addWidget(widget)
        return row

    # choosing

    def _relist(self, _paths: object = None) -> None:
        logs = self.book.logs
        wanted = [(one.id, f"{one.id[1:]}  {one.source or one.kind.value}{f', {one.date}' if one.date else ''}") for one in logs]
        have = [(self.logs.itemData(k), self.logs.itemText(k)) for k in range(self.logs.count())]
        with QSignalBlocker(self.logs):
            if have != wanted:
                self.logs.clear()
                for code, words in wanted:
                    self.logs.addItem(words, code)
            self.logs.setCurrentIndex(self.logs.findData(self.book.log_id))
        self.logs.setEnabled(bool(wanted))

    def choose(self, log_id: str) -> None:
        """Another log in front."""
        self.book.choose(log_id)
        self._relist()

    def _show_state(self) -> None:
        book = self.book
        made = book.comparison
        words = long = ""
        if book.running:
            words = f"reading, {book.progress:.0%} ..." if 0.0 < book.progress < 1.0 and made is None else "ridden again ..."
        elif book.problem:
            words = book.problem
        elif book.data is not None and book.data.doubts:
            words, long = "its columns contradict each other: look at Columns", book.data.doubts[0]
        elif made is not None:
            words, long = short_of(made), statement(made, book.explains, self._session.say)
        phone = book.log is not None and book.log.kind is LogKind.PHONE
        self.shakes.show_shaking(book.shaking, book.problem or ("Working ..." if book.running else ""))
        self.drawings.setCurrentWidget(self.shakes if phone else self.lanes)
        self.picture = self.shakes if phone else self.lanes
        if phone and book.shaking is not None:
            words = "; ".join(book.shaking.told)
        self.state.setText(f"  {words}" if words else "")
        self.state.setToolTip(long or words)
        has = book.data is not None
        self.way.setVisible(has and "command" in book.data)
        self.band.setEnabled(has)
        self.load.setEnabled(has and "pack_a" in book.data)
        if self._session.docs:
            told = self._session.design.variant().measured_load
            with QSignalBlocker(self.load):
                self.load.setChecked(told is not None and told.log == book.log_id)
        self._relist()

    # bringing in

    def ask_for_log(self) -> None:
        """Which file."""
        name, _ = QFileDialog.getOpenFileName(self, "Bring in a log", "", FILES)
        if name:
            self.book.bring_in(Path(name))

    def open_file(self, path: Path) -> None:
        """A file that was dropped."""
        self.book.bring_in(path)

    def _offered(self) -> None:
        self.columns.renew()
        self.tabs.setCurrentWidget(self.columns)
        self.split.setSizes([240, 360])  # room to look over its columns
        self.columns.take.setFocus()

    def ask_for_runs(self) -> None:
        """Runs by the stopwatch, as they are told."""
        words = "As it was timed, such as: 0 to 20 km/h in 7.1, 6.9, 7.4 s, up and down"
        text, good = QInputDialog.getText(self, "Runs by the stopwatch", words)
        if good and text.strip():
            self.take_runs(text)

    def take_runs(self, text: str) -> bool:
        """Whether what was told was taken in."""
        from wattagon.exchange.log.timed import read_timed
        from wattagon.study.log.enter import timed_log

        try:
            runs = read_timed(text, self._session.unit_set)
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return False
        return self.book.take(timed_log(runs, text), None, None)

    def ask_for_charge(self) -> None:
        """What a meter at the wall read."""
        text, good = QInputDialog.getText(self, "A charge", "Energy from the wall, such as 520 Wh")
        if good and text.strip():
            self.take_charge(text)

    def take_charge(self, text: str) -> bool:
        """Whether what was told was taken in."""
        from wattagon.design.tree import Log
        from wattagon.exchange.units import parse

        try:
            energy = parse(text, "energy", self._session.unit_set, field="Energy from the wall")
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return False
        return self.book.take(Log(id="new", kind=LogKind.CHARGER, source="charge", energy_wh=energy), None, None)

    # what the hand does

    def learn_from(self, begin: float, end: float) -> None:
        """The stretch that is learnt from."""
        from wattagon.study.log.enter import changed

        log = self.book.log
        if log is None:
            return
        made = replace(log, learn=(LogStretch(begin=round(begin, 1), end=round(end, 1)),))
        if self._session.try_apply(changed(self._session.design, made, f"Stretch of log {log.id}")):
            self.book.forget_fit()

    def learn_from_all(self) -> None:
        """All of it again."""
        from wattagon.study.log.enter import changed

        log = self.book.log
        if (
            log is not None
            and log.learn
            and self._session.try_apply(changed(self._session.design, replace(log, learn=()), f"All of log {log.id}"))
        ):
            self.book.forget_fit()

    def move_track(self, seconds: float) -> None:
        """Tracks beside the log, dragged in time."""
        from wattagon.design.paths import Edit

        tracks = [one for one in self.book.logs if one.beside == self.book.log_id]
        if not tracks:
            self._session.told.emit("No track runs along with this log", False)
            return
        changes = tuple((f"logs.{one.id}.offset", round(one.offset + seconds, 2)) for one in tracks)
        self._session.try_apply(Edit(label=f"Track moved by {seconds:+.1f} s", changes=changes))

    def load_by_log(self, on: bool) -> None:
        """Pack and wiring by what was measured, or by simulated rides again."""
        from wattagon.study.log.as_load import loaded_by
        from wattagon.study.log.expect import expected

        session = self._session
        try:
            if on and self.book.data is not None:
                edit = loaded_by(session.design, self.book.data, expected(session.design, session.stock))
            else:
                edit = loaded_by(session.design, None)
        except WattagonError as refusal:
            session.told.emit(str(refusal), True)
            return
        if session.try_apply(edit):
            session.told.emit(edit.label, False)

    # what the window asks

    @property
    def busy(self) -> bool:
        """Whether a log is awaited."""
        return bool(self.book.busy)

    def show_target(self, what: str) -> None:
        """A log by its id."""
        if any(one.id == what for one in self.book.logs):
            self.choose(what)

    def table(self) -> list[list[str]]:
        """Measured and predicted side by side."""
        made, say = self.book.comparison, self._session.say
        if made is None:
            return []
        rows = [["of the log", "measured", "predicted", "difference"]]
        return rows + [[f.words, say(f.measured, f.dimension), say(f.predicted, f.dimension), f"{f.off:+.1%}"] for f in made.figures]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if Qt.Key(event.key()) == Qt.Key.Key_Escape and self.book.busy:
            self.book.cancel()
            return
        super().keyPressEvent(event)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.book.watch(True)
        self._relist()

    def hideEvent(self, event: QHideEvent) -> None:
        self.book.watch(False)
        super().hideEvent(event)
