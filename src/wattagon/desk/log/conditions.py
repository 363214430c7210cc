"""Under which conditions a log was ridden, and where a track lies against it."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from wattagon.design.tree import Log
from wattagon.desk.fields import ValueField, scrolled
from wattagon.desk.log.book import LogBook
from wattagon.desk.session import Session
from wattagon.desk.theme import font

FIELDS = (
    ("aboard", "Rider and load", "as in the brief"),
    ("start_charge", "Charge at the start", "by the volts at rest"),
    ("air", "Air", "as in the brief"),
    ("headwind", "Headwind", "as in the brief, ± 1 m/s"),
    ("date", "Day", ""),
    ("note", "Note", ""),
)


class ConditionsTab(QWidget):
    """Fields of the log in front, made anew for each."""

    title = "Conditions"

    def __init__(self, session: Session, book: LogBook) -> None:
        super().__init__()
        self._session, self._book = session, book
        self._of = ""
        self.fields: dict[str, ValueField] = {}
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        self._inner = QWidget()
        self._area = scrolled(self._inner)
        layout.addWidget(self._area)
        self.course = QComboBox(objectName="log-course")
        book.changed.connect(self.renew)
        self.renew()

    def renew(self) -> None:
        """Another log in front."""
        log = self._book.log
        code = (
            "" if log is None else f"{log.id} {[one.id for one in self._beside(log)]} {[c.id for c in self._session.design.brief.courses]}"
        )
        if code == self._of:
            return
        self._of = code
        self.fields.clear()
        inner = QWidget()
        grid = QGridLayout(inner)
        grid.setContentsMargins(8, 6, 8, 6)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        if log is not None:
            for k, (name, words, fallback) in enumerate(FIELDS):
                self._field(grid, k // 2, 2 * (k % 2), log, name, words, fallback)
            self._course(grid, log)
            for k, track in enumerate(self._beside(log)):
                self._field(grid, 4 + k, 0, track, "offset", f"Track {track.id} lies", "")
                hint = QLabel("Alt and drag on the lanes moves it")
                hint.setFont(font(12))
                hint.setProperty("voice", "soft")
                grid.addWidget(hint, 4 + k, 2, 1, 2)
            drop = QPushButton("Take this log out", objectName="log-drop")
            drop.clicked.connect(self.drop)
            grid.addWidget(drop, 9, 3)
        grid.setRowStretch(10, 1)
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(3, 1)
        self._area.setWidget(inner)

    def _beside(self, log: Log) -> list[Log]:
        return [one for one in self._session.design.logs if one.beside == log.id]

    def _field(self, grid: QGridLayout, row: int, column: int, log: Log, name: str, words: str, fallback: str) -> None:
        label = QLabel(words)
        label.setFont(font(12))
        field = ValueField(self._session, f"logs.{log.id}.{name}", words, fallback=fallback)
        field.setFont(font(12))
        self.fields[f"{log.id}.{name}"] = field
        grid.addWidget(label, row, column)
        grid.addWidget(field, row, column + 1)

    def _course(self, grid: QGridLayout, log: Log) -> None:
        self.course = QComboBox(objectName="log-course")
        self.course.setAccessibleName("Course that was ridden")
        self.course.setFont(font(12))
        self.course.addItem("no course: heights of the log, or level", "")
        for course in self._session.design.brief.courses:
            self.course.addItem(course.name or course.id, course.id)
        self.course.setCurrentIndex(max(self.course.findData(log.course), 0))
        self.course.activated.connect(self._chosen)
        label = QLabel("Course")
        label.setFont(font(12))
        grid.addWidget(label, 3, 0)
        grid.addWidget(self.course, 3, 1, 1, 3)

    def _chosen(self, _index: int) -> None:
        from wattagon.design.paths import Edit

        log = self._book.log
        if log is not None:
            self._session.try_apply(Edit(label=f"Course of log {log.id}", changes=((f"logs.{log.id}.course", self.course.currentData()),)))

    def drop(self) -> None:
        """Without this log."""
        from wattagon.study.log.enter import dropped

        log = self._book.log
        if log is not None:
            self._session.try_apply(dropped(self._session.design, log))
