"""Drawing a course: its legs as ground to scale, dragged at their ends, with the values of the chosen leg below."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLabel, QMenu, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from wattagon.design.codec import members
from wattagon.design.paths import Edit
from wattagon.design.tree import Course, CourseLeg
from wattagon.desk.chart.ink import pen, put_right, put_text, straight, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.fields import ValueField
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font, with_alpha

GRAB = 9.0
MANY = 60  # legs that are no longer drawn one by one
_bounds = {item.name: item.spec for item in members(CourseLeg) if item.spec is not None}
LONGEST, STEEPEST, STEEPEST_DOWN = _bounds["length"].high, _bounds["grade"].high, _bounds["grade"].low
LEG_FIELDS = (
    ("length", "Length", "Length of the leg"),
    ("grade", "Grade", "Grade, uphill positive"),
    ("speed", "Speed", "Speed ridden where the drive gives it"),
    ("surface", "Surface", "Rolling resistance of the surface, times the vehicle's own"),
    ("wind", "Wind", "Headwind added to that of the day"),
    ("stop", "Stop", "Stop at the end"),
)


class CourseStrip(QWidget):
    """The ground of a course; a press chooses a leg, the end of a leg is dragged for length and grade."""

    chosen = Signal(int)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.course_id, self.leg = "", 0
        self._drag: tuple[int, QPointF, CourseLeg, int, float, float] | None = None
        self.ends: list[QPointF] = []
        self.setObjectName("course-strip")
        self.setFixedHeight(104)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Ground of the course")
        session.design_changed.connect(self._refresh)
        session.looks_changed.connect(self._refresh)

    def _refresh(self) -> None:
        self.update()

    def course(self) -> Course | None:
        """The course that is drawn, if the brief still has it."""
        if not self._session.docs:
            return None
        return next((course for course in self._session.design.brief.courses if course.id == self.course_id), None)

    def spoken(self) -> str:
        """Its values as text."""
        course, say = self.course(), self._session.say
        legs = course.legs if course is not None else ()
        return "; ".join(f"leg {k + 1}: {say(leg.length, 'distance')} at {say(leg.grade, 'grade')}" for k, leg in enumerate(legs[:40]))

    def _scale(self, course: Course) -> tuple[float, float, list[tuple[float, float]]]:
        """(pixels per metre along, pixels per metre up, ends of the legs in metres)."""
        x = y = 0.0
        ends = [(0.0, 0.0)]
        for leg in course.legs:
            slope = math.atan(leg.grade)
            x, y = x + leg.length * math.cos(slope), y + leg.length * math.sin(slope)
            ends.append((x, y))
        heights = [end[1] for end in ends]
        span = max(max(heights) - min(heights), 0.02 * x, 2.0)
        return (self.width() - 40.0) / max(x, 1.0), (self.height() - 58.0) / span, ends

    @painted
    def paintEvent(self, event: QPaintEvent, painter: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        painter.fillRect(self.rect(), theme.panel)
        course = self.course()
        self.ends = []
        if course is None:
            painter.setPen(theme.soft)
            painter.setFont(font(13))
            painter.drawText(
                self.rect(),
                Qt.AlignmentFlag.AlignCenter,
                "No course yet: draw a new one, or bring a track (.gpx) or a table (.csv).",
            )
            return
        along, up, ends = self._scale(course)
        base = min(y for _, y in ends)
        bottom = self.height() - 22.0
        points = [QPointF(20 + x * along, bottom - (y - base) * up) for x, y in ends]
        self.ends = points
        if len(course.legs) > MANY:
            self._many(painter, theme, course, points, bottom)
        else:
            for k in range(len(course.legs)):
                self._one(painter, theme, course.legs[k], points[k], points[k + 1], bottom, k)
        painter.setPen(theme.soft)
        total = sum(leg.length for leg in course.legs)
        put_text(painter, 8, 14, f"{len(course.legs)} legs, {self._session.say(total, 'distance')}", font(11))
        put_right(painter, self.width() - 8, 14, "drag the end of a leg: along for its length, up and down for its grade", font(11))
        if self.hasFocus():
            painter.setPen(pen(theme.electrical, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _many(self, painter: QPainter, theme: Theme, course: Course, points: list[QPointF], bottom: float) -> None:
        """All legs as one piece of ground, the chosen one by itself: a long track has thousands."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(with_alpha(theme.mechanical, 0.16))
        painter.drawPolygon(QPolygonF([*points, QPointF(points[-1].x(), bottom), QPointF(points[0].x(), bottom)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(theme.mechanical, 1.8))
        painter.drawPolyline(QPolygonF(points))
        for k, leg in enumerate(course.legs):
            if leg.stop > 0:
                painter.fillRect(QRectF(points[k + 1].x() - 1.5, points[k + 1].y() - 18, 3, 18), theme.tight)
        k = min(self.leg, len(course.legs) - 1)
        self._one(painter, theme, course.legs[k], points[k], points[k + 1], bottom, k)

    def _one(self, painter: QPainter, theme: Theme, leg: CourseLeg, a: QPointF, b: QPointF, bottom: float, k: int) -> None:
        shade = 0.34 if k == self.leg else 0.16 if k % 2 == 0 else 0.10
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(with_alpha(theme.mechanical, shade))
        painter.drawPolygon(QPolygonF([a, b, QPointF(b.x(), bottom), QPointF(a.x(), bottom)]))
        straight(painter, a.x(), a.y(), b.x(), b.y(), pen(theme.mechanical, 1.8))
        width = b.x() - a.x()
        middle = (a.x() + b.x()) / 2
        speed = self._session.say(leg.speed, "speed")
        if text_width(speed, font(11)) + 6 < width:
            painter.setPen(theme.ink)
            put_text(painter, middle - text_width(speed, font(11)) / 2, self.height() - 7, speed, font(11))
        grade = self._session.say(leg.grade, "grade")
        if abs(leg.grade) >= 0.004 and text_width(grade, font(11)) + 4 < width + 16:
            painter.setPen(theme.mechanical)
            put_text(painter, middle - text_width(grade, font(11)) / 2, min(a.y(), b.y()) - 6, grade, font(11))
        if leg.stop > 0:
            painter.fillRect(QRectF(b.x() - 1.5, b.y() - 18, 3, 18), theme.tight)
        painter.setPen(pen(theme.ink if k == self.leg else theme.mechanical, 1.4))
        painter.setBrush(theme.panel)
        painter.drawEllipse(b, 4.0, 4.0)

    def _at(self, at: QPointF) -> tuple[int, bool]:
        """(leg at a place, whether its end is grabbed)."""
        for k, end in enumerate(self.ends[1:]):
            if abs(end.x() - at.x()) < GRAB and abs(end.y() - at.y()) < GRAB + 4:
                return k, True
        for k in range(len(self.ends) - 1):
            if self.ends[k].x() <= at.x() <= self.ends[k + 1].x():
                return k, False
        return -1, False

    def choose(self, leg: int) -> None:
        """Show one leg's values."""
        course = self.course()
        if course is not None:
            self.leg = min(max(leg, 0), len(course.legs) - 1)
            self.chosen.emit(self.leg)
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        course = self.course()
        leg, grabbed = self._at(event.position())
        if course is None or leg < 0 or event.button() is not Qt.MouseButton.LeftButton:
            return
        self.choose(leg)
        if grabbed:
            along, up, _ = self._scale(course)
            self._drag = (leg, event.position(), course.legs[leg], self._session.gesture(), along, up)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            self.setCursor(Qt.CursorShape.SizeAllCursor if self._at(event.position())[1] else Qt.CursorShape.ArrowCursor)
            return
        k, start, leg, gesture, along, up = self._drag
        moved = event.position() - start
        slope = math.atan(leg.grade)
        run = max(leg.length * math.cos(slope) + moved.x() / along, 5.0)
        rise = leg.length * math.sin(slope) - moved.y() / up
        step = 10.0 if along < 1.0 else 1.0
        length = min(max(round(math.hypot(run, rise) / step) * step, 5.0), LONGEST)
        grade = min(max(round(rise / run * 200.0) / 200.0, STEEPEST_DOWN), STEEPEST)
        self.put_leg(k, replace(leg, length=length, grade=grade), gesture)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._drag = None

    def put_leg(self, k: int, leg: CourseLeg, gesture: int = -1) -> None:
        """Another leg in the place of one."""
        course = self.course()
        if course is None or k >= len(course.legs) or course.legs[k] == leg:
            return
        say = self._session.say
        words = f"Leg {k + 1}: {say(leg.length, 'distance')}, {say(leg.grade, 'grade')}"
        edit = Edit(label=words, changes=((f"brief.courses.{course.id}.legs.{k}", leg),), gesture=gesture)
        self._session.try_apply(edit)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        course, key = self.course(), Qt.Key(event.key())
        if course is None:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.choose(self.leg + (1 if key == Qt.Key.Key_Right else -1))
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            leg = course.legs[self.leg]
            grade = round(leg.grade + (0.005 if key == Qt.Key.Key_Up else -0.005), 4)
            self.put_leg(self.leg, replace(leg, grade=min(max(grade, STEEPEST_DOWN), STEEPEST)))
        else:
            super().keyPressEvent(event)


class CourseEditor(QWidget):
    """The strip with what can be done to a course and its legs."""

    picked = Signal(str)  # a course to ride; empty when it is gone
    file_asked = Signal(object)  # path of a track or a table to bring in

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("course-editor")
        self.strip = CourseStrip(session)
        self.strip.chosen.connect(self._show_leg)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 2)
        layout.setSpacing(3)
        layout.addWidget(self.strip)
        self._row = QHBoxLayout()
        self._row.setSpacing(4)
        layout.addLayout(self._row)
        self._leg_words = QLabel()
        self._leg_words.setFont(font(12, 600))
        self._row.addWidget(self._leg_words)
        self._fields: list[QWidget] = []
        self._room = QHBoxLayout()
        self._room.setSpacing(4)
        self._row.addLayout(self._room)
        self._row.addStretch(1)
        self.buttons: dict[str, QPushButton] = {}
        for code, words, tip, run in (
            ("add", "+ leg", "A leg like this one after it", self.add_leg),
            ("cut", "− leg", "Take this leg out", self.cut_leg),
        ):
            button = QPushButton(words, objectName=f"course-{code}")
            button.setToolTip(tip)
            button.clicked.connect(run)
            button.setFont(font(12))
            self._row.addWidget(button)
            self.buttons[code] = button
        self.menu = QMenu(self)
        more = QPushButton("Course", objectName="course-more")
        more.setFont(font(12))
        more.setMenu(self.menu)
        self._row.addWidget(more)
        self.menu.addAction("New course", self.new_course)
        self.menu.addAction("Bring in a track or table ...", self._import)
        self._drop = self.menu.addAction("Delete this course", self.drop_course)
        session.design_changed.connect(self._follow)
        self._shown: tuple[str, int] = ("", -1)

    def show_course(self, course_id: str) -> None:
        """The course to draw: the one that is ridden, else the first of the brief."""
        ids = [course.id for course in self._session.design.brief.courses]
        self.strip.course_id = course_id if course_id in ids else (ids[0] if ids else "")
        self.strip.choose(0)
        self._show_leg(self.strip.leg)
        if self.strip.course_id and self.strip.course_id != course_id:
            self.picked.emit(self.strip.course_id)

    def _follow(self, _paths: object = None) -> None:
        if self.isVisible() and self._session.docs:
            if self.strip.course() is None:
                self.show_course("")
            self._show_leg(self.strip.leg)

    def _show_leg(self, k: int) -> None:
        course = self.strip.course()
        self.buttons["add"].setEnabled(course is not None)
        self._drop.setEnabled(course is not None)
        if course is None:
            self.buttons["cut"].setEnabled(False)
        if course is None:
            self._leg_words.setText("")
            self._clear()
            return
        k = self.strip.leg = min(k, len(course.legs) - 1)
        self.buttons["cut"].setEnabled(len(course.legs) > 1)
        self._leg_words.setText(f"Leg {k + 1}")
        if self._shown == (course.id, k) and self._fields:
            return
        self._clear()
        self._shown = (course.id, k)
        for name, short, long in LEG_FIELDS:
            label = QLabel(short)
            label.setProperty("voice", "soft")
            label.setFont(font(12))
            field = ValueField(self._session, f"brief.courses.{course.id}.legs.{k}.{name}", long)
            field.setFont(font(12))
            field.setMinimumWidth(58)
            field.setMaximumWidth(70)
            for part in (label, field):
                self._room.addWidget(part)
                self._fields.append(part)

    def _clear(self) -> None:
        for part in self._fields:
            self._room.removeWidget(part)
            part.hide()
            part.deleteLater()
        self._fields, self._shown = [], ("", -1)

    # what can be done

    def _put(self, label: str, courses: tuple[Course, ...]) -> bool:
        return self._session.try_apply(Edit(label=label, changes=(("brief.courses", courses),)))

    def _legs(self, label: str, legs: tuple[CourseLeg, ...]) -> None:
        course = self.strip.course()
        if course is not None:
            self._put(label, tuple(replace(c, legs=legs) if c.id == course.id else c for c in self._session.design.brief.courses))

    def add_leg(self) -> None:
        """A leg like the chosen one, after it."""
        course, k = self.strip.course(), self.strip.leg
        if course is not None:
            fresh = replace(course.legs[k], grade=0.0, stop=0.0)
            self._legs("One more leg", (*course.legs[: k + 1], fresh, *course.legs[k + 1 :]))
            self.strip.choose(k + 1)

    def cut_leg(self) -> None:
        """The course without the chosen leg."""
        course, k = self.strip.course(), self.strip.leg
        if course is not None and len(course.legs) > 1:
            self._legs(f"Leg {k + 1} removed", (*course.legs[:k], *course.legs[k + 1 :]))
            self.strip.choose(min(k, len(course.legs) - 2))

    def new_course(self) -> None:
        """A course of one leg at the goal's pace."""
        from wattagon.study.ride.study import goal_speed

        have = self._session.design.brief.courses
        ids, n = {course.id for course in have}, 1
        while f"course-{n}" in ids:
            n += 1
        course = Course(
            id=f"course-{n}",
            name=f"Course {n}",
            legs=(CourseLeg(length=500.0, speed=round(goal_speed(self._session.design), 3)),),
        )
        if self._put(f"New course {n}", (*have, course)):
            self.strip.course_id = course.id
            self.strip.choose(0)
            self.picked.emit(course.id)

    def drop_course(self) -> None:
        """The brief without this course; undo brings it back."""
        course = self.strip.course()
        if course is not None and self._put(
            f"Course {course.name} deleted", tuple(c for c in self._session.design.brief.courses if c.id != course.id)
        ):
            self.show_course("")
            self.picked.emit(self.strip.course_id)

    def _import(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Bring in a course", "", "Tracks and tables (*.gpx *.csv)")
        if path:
            self.file_asked.emit(Path(path))
