"""The ride bench: which run and under which conditions above, the picture of the ride and what it came to below."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtGui import QHideEvent, QKeyEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.kinds import KINDS
from wattagon.design.paths import Edit
from wattagon.desk.bench import Bench
from wattagon.desk.fields import ChoiceField, ValueField, heading, refuse, soft_line
from wattagon.desk.in_view import InView
from wattagon.desk.ride.book import RideBook
from wattagon.desk.ride.course_editor import CourseEditor
from wattagon.desk.ride.lanes import RideLanes
from wattagon.desk.ride.story import Story
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.exchange import units
from wattagon.study.ride.study import Ask, check_asked, goal_climb, goal_speed, goal_start, goal_way, goal_with_way, runs_of

if TYPE_CHECKING:
    from wattagon.desk.document import OpenVehicle
    from wattagon.exchange.track import Track

NARROW = 800
WITH_SPEED = {"hold-grade", "hold-speed", "stop-go", "stop", "there-and-back"}
WITH_GRADE = {"hill", "hold-grade", "hold-speed", "stop", "start"}
CONDITIONS = (
    ("brief.conditions.start_charge", "Charge", "Charge at the start"),
    ("brief.conditions.air_temperature", "Air", "Air temperature"),
    ("brief.conditions.headwind", "Wind", "Headwind"),
    ("brief.conditions.current", "Current", "Current of the water, against you"),
    ("vehicle.hull.water_temperature", "Water", "Water temperature"),
    ("vehicle.load_mass", "Load", "Load beside the rider"),
    ("brief.conditions.pack_temperature", "Pack", "Pack temperature at the start"),
    ("brief.conditions.sun", "Sun", "Sun on box and pack"),
    ("brief.conditions.pedal_power", "Pedalling", "Power at the pedals"),
)


class RideBench(Bench):
    """Runs of the active variant; the picture follows every edit."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("ride-bench")
        self.book = RideBook(session, self)
        self.lanes, self.story = RideLanes(session, self.book), Story(session, self.book)
        self.editor = CourseEditor(session, self)
        self.editor.file_asked.connect(self.import_course)
        self.editor.setVisible(False)
        self.picture = self.lanes
        self._importer = Worker(self)
        self._for_doc: OpenVehicle | None = None  # whose course is being read
        self._importer.arrived.connect(self._imported)
        session.closing.connect(self._importer.stop)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(4)
        layout.addLayout(self._head())
        layout.addLayout(self._conditions())
        layout.addWidget(self.editor)
        body = QHBoxLayout()
        body.setSpacing(4)
        body.addWidget(self.lanes, 1)
        body.addWidget(self.story)
        layout.addLayout(body, 1)
        self.book.changed.connect(self._show_state)
        self.editor.picked.connect(self._course_picked)
        session.design_changed.connect(self._relist)
        session.looks_changed.connect(self._show_asked)
        self._relist()
        self._show_state()

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(heading("Ride"))
        self.runs = QComboBox(objectName="ride-run")
        self.runs.setAccessibleName("Run")
        self.runs.setMinimumWidth(150)
        self.runs.activated.connect(self._chosen)
        row.addWidget(self.runs)
        self.speed, self.grade = QLineEdit(objectName="ride-speed"), QLineEdit(objectName="ride-grade")
        for field, name, words in (
            (self.speed, "at", "Speed instead of the goal's; empty for the goal's"),
            (self.grade, "on", "Grade instead of the goal's; empty for the goal's"),
        ):
            field.setMinimumWidth(64)
            field.setMaximumWidth(78)
            field.setToolTip(words)
            field.setAccessibleName(words)
            field.editingFinished.connect(self._asked)
            label = QLabel(name)
            label.setProperty("voice", "soft")
            field.label = label
            row.addWidget(label)
            row.addWidget(field)
        self.state = soft_line()
        row.addWidget(self.state, 1)
        self.time = QPushButton("by time", checkable=True, objectName="ride-by-time")
        self.time.setToolTip("Time instead of distance along the axis")
        self.time.toggled.connect(self.lanes.show_by_time)
        self.play = QPushButton("Play", objectName="ride-play")
        self.play.setToolTip("Let the moment run along the ride (space)")
        self.play.clicked.connect(self.play_it)
        self.over = QPushButton("Lay over", objectName="ride-over")
        self.over.setMenu(QMenu(self.over))
        self.over.menu().aboutToShow.connect(self.list_over)
        self.courses = QPushButton("Courses", checkable=True, objectName="ride-courses")
        self.courses.setToolTip("Draw a course, or bring one from a track or a table")
        self.courses.toggled.connect(self._show_editor)
        for button in (self.time, self.play, self.over, self.courses):
            row.addWidget(button)
        return row

    def _conditions(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        self.fields: dict[str, ValueField] = {}
        self._labels: dict[str, QLabel] = {}
        for path, short, long in CONDITIONS:
            label = QLabel(short)
            label.setProperty("voice", "soft")
            label.setFont(font(12))
            field = ValueField(self._session, path, long)
            field.setFont(font(12))
            field.setMinimumWidth(52)
            field.setMaximumWidth(80)
            self.fields[path], self._labels[path] = field, label
            row.addWidget(label)
            row.addWidget(field)
        self.wet = ChoiceField(self._session, "brief.conditions.wet", "Surface", [(False, "dry"), (True, "wet")])
        self.wet.setFont(font(12))
        row.addWidget(self.wet)
        self.case, self.mode = InView(self._session, "case"), InView(self._session, "mode")
        for choice in (self.case, self.mode):
            choice.setFont(font(12))
            choice.setMaximumWidth(120)
            row.addWidget(choice)
        row.addStretch(1)
        return row

    # choosing

    def _relist(self, _paths: object = None) -> None:
        """The runs there are, with the courses of the brief."""
        if not self._session.docs:
            return
        alone = runs_of(self._session.design)
        wanted = list(alone.items())
        wanted += [(course.id, course.name or course.id) for course in self._session.design.brief.courses]
        have = [(self.runs.itemData(k), self.runs.itemText(k)) for k in range(self.runs.count())]
        if have != wanted:
            with QSignalBlocker(self.runs):
                self.runs.clear()
                for code, words in wanted:
                    self.runs.addItem(words, code)
                if len(wanted) > len(alone):
                    self.runs.insertSeparator(len(alone))
        if self.book.ask.run not in dict(wanted):
            self.book.choose(Ask(run="start"))
        with QSignalBlocker(self.runs):
            self.runs.setCurrentIndex(self.runs.findData(self.book.ask.run))
        kind = self._session.design.vehicle.kind
        for part in (self._labels, self.fields):
            part["brief.conditions.pedal_power"].setVisible(kind.floats or KINDS[kind].pedals)
            part["brief.conditions.current"].setVisible(kind.floats)
            part["vehicle.hull.water_temperature"].setVisible(kind.floats)
        self._fit()
        self._labels["brief.conditions.pedal_power"].setText("Paddling" if kind.floats else "Pedalling")
        for box in (self.wet, self.case, self.mode) if kind.floats else (self.wet,):
            box.setVisible(not kind.floats)
        self._show_asked()

    def _chosen(self, index: int) -> None:
        self.choose(str(self.runs.itemData(index)))

    def choose(self, run: str) -> None:
        """Another run or course."""
        self.book.choose(Ask(run=run))
        with QSignalBlocker(self.runs):
            self.runs.setCurrentIndex(self.runs.findData(run))
        self._show_asked()

    def _course_picked(self, course_id: str) -> None:
        if course_id:
            self.choose(course_id)

    def _show_asked(self) -> None:
        """Speed and grade of the run: what was typed, else the goal's as a hint."""
        if not self._session.docs:
            return
        ask, design, say = self.book.ask, self._session.design, self._session.say
        floats, current = design.vehicle.kind.floats, "brief.conditions.current"
        by_goal = ask.run == "there-and-back" and goal_with_way(design) is not None
        self.fields[current].setVisible(floats and not by_goal)
        self._labels[current].setText(f"Current {say(goal_way(design)[1], 'speed')}, by its goal" if by_goal else "Current")
        speed, grade = goal_climb(design)
        if ask.run != "hold-grade":
            grade = goal_start(design) if ask.run == "hill" else 0.0
            speed = goal_speed(design)
        for field, shown, value, hint, dimension in (
            (self.speed, ask.run in WITH_SPEED, ask.speed_m_s, speed, "speed"),
            (self.grade, ask.run in WITH_GRADE and not design.vehicle.kind.floats, ask.grade, grade, "grade"),
        ):
            field.setVisible(shown)
            field.label.setVisible(shown)
            field.setPlaceholderText(say(hint, dimension))
            if not (field.hasFocus() and field.isModified()):
                field.setText("" if value is None else say(value, dimension))
                field.setModified(False)
                refuse(field, False)

    def _asked(self) -> None:
        """Apply the typed speed and grade; a refusal is told and the typing stays."""
        ask = self.book.ask
        for field, name, dimension in ((self.speed, "speed_m_s", "speed"), (self.grade, "grade", "grade")):
            if not field.isModified():
                continue
            text = field.text().strip()
            try:
                value = units.parse(text, dimension, self._session.unit_set, field=dimension.capitalize()) if text else None
                check_asked(dimension, value, self._session.say, field=dimension.capitalize(), typed=text)
            except WattagonError as refusal:
                refuse(field, True)
                self._session.told.emit(str(refusal), True)
                return
            field.setModified(False)
            ask = replace(ask, speed_m_s=value) if name == "speed_m_s" else replace(ask, grade=value)
        self.book.choose(ask)
        self._show_asked()

    # what is under way

    def _show_state(self) -> None:
        book = self.book
        words = "riding ..." if book.running else book.problem
        if not words and book.before is not None:
            words = "dotted: before the last edit"
        self.state.setText(f"  {words}" if words else "")
        self.state.setToolTip(words)
        for button in (self.play, self.over):
            button.setEnabled(book.present is not None)

    def play_it(self) -> None:
        """Let the moment run along the ride."""
        self.lanes.setFocus()
        self.lanes.play()

    def list_over(self) -> None:
        menu = self.over.menu()
        menu.clear()
        menu.addAction("Keep this ride under the next", self.book.keep)
        active = self._session.design.variant().id
        others = [variant for variant in self._session.design.variants if variant.id != active]
        for variant in others:
            menu.addAction(f"Variant {variant.id} {variant.name}".strip(), lambda v=variant.id: self.book.lay_over(v))
        if len(others) > 1:
            menu.addAction("All variants", self.lay_over_all)
        menu.addSeparator()
        menu.addAction("Only this ride", self.book.drop_kept).setEnabled(bool(self.book.kept or self.book.before))
        menu.addAction("Save as CSV ...", self.save_csv)

    def lay_over_all(self) -> None:
        """The same run with every other variant, laid under this one."""
        active = self._session.design.variant().id
        self.book.lay_over(*(variant.id for variant in self._session.design.variants if variant.id != active))

    def save_csv(self) -> None:
        """Write the present ride as a table."""
        ride = self.book.current
        if ride is None:
            return
        name = f"{self._session.design.vehicle.name}-{ride.ask.run}.csv".replace(" ", "-").lower()
        path, _ = QFileDialog.getSaveFileName(self, "Save this ride", name, "Table (*.csv)")
        if path:
            self.write_csv(Path(path))

    def write_csv(self, path: Path) -> None:
        """The present ride as a table; a refusal is told."""
        from wattagon.exchange.ride_csv import write_csv

        assert self.book.current is not None
        try:
            write_csv(self.book.current, path, self._session.unit_set)
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return
        self._session.told.emit(f"Saved {path.name}", False)

    def _show_editor(self, on: bool) -> None:
        self.editor.setVisible(on)
        if on:
            self.editor.show_course(self.book.ask.run)

    def import_course(self, path: Path) -> None:
        """A course from a track or a table, read by a thread, put into the brief and ridden; Escape gives it up."""
        speed = goal_speed(self._session.design)

        def work(_cancelled: Callable[[], bool]) -> Track | WattagonError:
            from wattagon.exchange.track import read_track

            try:
                return read_track(path, speed_m_s=speed)
            except WattagonError as refusal:
                return refusal

        self._for_doc = self._session.doc
        self._importer.start(work)
        self._session.told.emit(f"Reading {path.name} ... Escape gives it up", False)

    @property
    def busy(self) -> bool:
        """Whether a ride is awaited."""
        return bool(self.book.running)

    def table(self) -> list[list[str]]:
        """What the present ride came to."""
        ride = self.book.current
        return [["of the ride", "value"], *([what, value] for what, value, _ in self.story.figures(ride))] if ride is not None else []

    def open_file(self, path: Path) -> None:
        """A track or a table of a course."""
        self.import_course(path)

    def new_course(self) -> None:
        """Draw a new course."""
        self.courses.setChecked(True)
        self.editor.new_course()

    def ask_for_course(self) -> None:
        """Bring in a course from a file that is chosen."""
        path, _ = QFileDialog.getOpenFileName(self, "Bring in a course", "", "Tracks and tables (*.gpx *.csv)")
        if path:
            self.import_course(Path(path))

    @property
    def importing(self) -> bool:
        """Whether a track is being read."""
        return self._importer.running

    def _imported(self, track: object) -> None:
        if isinstance(track, WattagonError):
            self._session.told.emit(str(track), True)
            return
        if not self._session.docs or self._session.doc is not self._for_doc:
            self._session.told.emit("The course was not brought in: another vehicle is in front now", True)
            return
        have = self._session.design.brief.courses
        course, k = track.course, 2  # type: ignore[attr-defined]
        while course.id in {other.id for other in have}:
            course = replace(course, id=f"{track.course.id[:36]}-{k}")  # type: ignore[attr-defined]
            k += 1
        if self._session.try_apply(Edit(label=f"Course {course.name}", changes=(("brief.courses", (*have, course)),))):
            self._session.told.emit("; ".join((f"Course {course.name} brought in", *track.notes)), False)  # type: ignore[attr-defined]
            self.choose(course.id)
            if self.editor.isVisible():
                self.editor.show_course(course.id)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()
        super().resizeEvent(event)

    def _fit(self) -> None:
        """On a narrow bench the rarer conditions stay in the brief."""
        lists = sum(choice.sizeHint().width() for choice in (self.case, self.mode) if not choice.isHidden())
        floats = bool(self._session.docs) and self._session.design.vehicle.kind.floats
        wide = self.width() >= NARROW + min(lists, 240) and not floats
        for path in ("brief.conditions.sun", "brief.conditions.pack_temperature"):
            for part in (self._labels, self.fields):
                part[path].setVisible(wide)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.book.watch(True)

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.book.watch(False)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.importing:
            self._importer.cancel()
            self._session.told.emit("The track was given up; nothing was changed", False)
            return
        if event.key() == Qt.Key.Key_Escape and self.book.running:
            self.book.cancel()
            self._session.told.emit("The run was given up; the last one is still shown", False)
            return
        super().keyPressEvent(event)
