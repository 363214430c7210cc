"""Begin a new vehicle: its kind, and on its drawing the few things that decide most; then a plain drive, or the one that is found."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from wattagon.design.boats import BOATS
from wattagon.design.kinds import KINDS
from wattagon.design.template import FirstWishes, new_design, typical_wishes
from wattagon.design.tree import Design, Vehicle, VehicleKind
from wattagon.desk.chart.ink import pen, put_text, straight, text_width
from wattagon.desk.chart.painted import painted
from wattagon.desk.compiler import load_search
from wattagon.desk.fields import refuse
from wattagon.desk.hull_outline import Float, paint_crew, paint_hull, paint_water
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, Theme, font
from wattagon.desk.vehicle_outline import fit, paint_side, sizes
from wattagon.desk.work import Worker
from wattagon.errors import InputError, WattagonError
from wattagon.exchange import units
from wattagon.study.drive.afloat import laden_draught_m
from wattagon.study.finder.first import FirstDrive, search_first

LOOK_MS = 100
FIELD = QSize(96, 30)


class Asked(NamedTuple):
    """One thing that is asked on the drawing: where it stands, as shares of the stage, and its bounds in SI."""

    name: str
    words: str
    dimension: str
    at: tuple[float, float]
    low: float
    high: float
    on: str = ""  # wheels or water, where it is only asked there


ASKED = (
    Asked("rider_kg", "rider", "mass", (0.03, 0.08), 5.0, 400.0),
    Asked("load_kg", "load", "mass", (0.03, 0.34), 0.0, 2000.0),
    Asked("speed", "as fast as", "speed", (0.80, 0.08), 0.5, 50.0),
    Asked("grade", "steepest hill", "grade", (0.80, 0.34), 0.0, 0.5, "wheels"),
    Asked("current", "against a current", "speed", (0.80, 0.34), 0.0, 5.0, "water"),
    Asked("distance", "on a charge", "distance", (0.16, 0.89), 0.0, 1e6),
    Asked("money", "to spend", "money", (0.80, 0.89), 0.0, 1e6),
)


class Stage(QWidget):
    """The vehicle from the side, with what is asked standing where it belongs."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.design: Design | None = None
        self.setMinimumSize(QSize(560, 330))
        self.fields: dict[str, QLineEdit] = {}
        for asked in ASKED:
            field = QLineEdit(self, objectName=f"wish-{asked.name}")
            field.setAccessibleName(asked.words.capitalize())
            field.setFixedSize(FIELD)
            self.fields[asked.name] = field
        self.setAccessibleName("What decides most")

    def spoken(self) -> str:
        """Its values as text."""
        return "; ".join(f"{asked.words} {self.fields[asked.name].text()}" for asked in self.asked())

    def asked(self) -> list[Asked]:
        """What is asked of the vehicle that is shown."""
        here = "water" if self.design is not None and self.design.vehicle.kind.floats else "wheels"
        return [asked for asked in ASKED if asked.on in ("", here)]

    def resizeEvent(self, event: QResizeEvent) -> None:
        for asked in ASKED:
            x, y = self._place(asked)
            self.fields[asked.name].move(int(x), int(y))

    def _place(self, asked: Asked) -> tuple[float, float]:
        return asked.at[0] * self.width(), asked.at[1] * self.height() + (16 if asked.at[1] < 0.8 else -8)

    @painted
    def paintEvent(self, event: QPaintEvent, p: QPainter) -> None:
        theme = THEMES[self._session.theme_name]
        p.fillRect(self.rect(), theme.panel)
        if self.design is None:
            return
        v = self.design.vehicle
        if v.hull is not None:
            self._afloat(p, theme, v)
            return
        s = sizes(v, v.tyre_diameter.value)
        area = QRectF(self.rect()).adjusted(140, 18, -150, -62)
        paint_side(p, fit(s, area, s.top, s.base + s.rear_over + s.front_over), theme, v, s)
        ground = area.bottom() + 1
        straight(p, 24, ground, self.width() * 0.76, ground, pen(theme.soft, 1.2))
        p.setPen(pen(theme.mechanical, 1.8))
        p.drawLine(QPointF(self.width() * 0.76, ground), QPointF(self.width() - 12, ground - (self.width() * 0.24 - 12) * 0.45))
        self._labels(p, theme)

    def _afloat(self, p: QPainter, theme: Theme, v: Vehicle) -> None:
        """The boat at its waterline, the current that it goes against on the right."""
        assert v.hull is not None
        length, facts = v.hull.waterline_length.value, BOATS[v.kind]
        scale = min((self.width() - 300) / (1.15 * length), (self.height() - 120) / 2.2)
        surface = self.height() * 0.66
        view = Float(QPointF(self.width() / 2 - 0.54 * length * scale, surface), scale, laden_draught_m(v))
        paint_crew(p, view, theme, facts.forward * length, 0.06, v.rider_mass.value > 110.0)
        paint_hull(p, view, theme, v, length, facts.depth)
        paint_water(p, theme, QRectF(0, surface, self.width(), self.height() - 62 - surface), surface)
        p.setPen(pen(theme.mechanical, 1.8))
        y = self.height() * 0.34 + 62
        for k in range(4):
            x = self.width() * 0.80 + 22 * k
            p.drawPolyline([QPointF(x + 5, y - 5), QPointF(x, y), QPointF(x + 5, y + 5)])
        self._labels(p, theme)

    def _labels(self, p: QPainter, theme: Theme) -> None:
        face = font(12)
        for asked in self.asked():
            x, y = self._place(asked)
            p.setPen(theme.soft)
            if asked.at[1] < 0.8:
                afloat = self.design is not None and self.design.vehicle.kind.floats
                words = "crew" if afloat and asked.name == "rider_kg" else asked.words
                put_text(p, x + 2, y - 5, words, face)
            else:
                put_text(p, x - text_width(asked.words, face) - 8, y + 20, asked.words, face)


class NewVehicle(QDialog):
    """Modal; `design` is what was made after it was accepted, `found` what a search said of it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("New vehicle")
        self.setObjectName("new-vehicle")
        self.design: Design | None = None
        self.found: FirstDrive | None = None
        self.worker = Worker(self, large=True)
        self.worker.arrived.connect(self._arrived)
        self._share = 0.0
        self._timer = self.startTimer(LOOK_MS)
        self.kinds = QListWidget(objectName="kinds")
        self.kinds.setAccessibleName("Kind of vehicle")
        every = [(kind, facts.words) for kind, facts in KINDS.items()] + [(kind, facts.words) for kind, facts in BOATS.items()]
        for kind, words in every:
            item = QListWidgetItem(words.capitalize(), self.kinds)
            item.setData(Qt.ItemDataRole.UserRole, kind)
            item.setSizeHint(QSize(0, 30))
        self.kinds.setFixedWidth(220)
        self.name = QLineEdit(objectName="new-name", placeholderText="Name", text="New vehicle")
        self.name.setAccessibleName("Name")
        self.stage = Stage(session)
        self.note = QLabel(
            "What you leave as it is stays typical and is marked as assumed (≈). Any unit will do: 25 mph, 180 lb, 8 mi.", wordWrap=True
        )
        self.note.setProperty("voice", "soft")
        self.progress = QProgressBar(objectName="first-progress", textVisible=False, maximum=1000)
        self.progress.setFixedHeight(6)
        self.progress.setVisible(False)
        self.find_button = QPushButton("Find a drive", default=True, objectName="find-first")
        self.find_button.setToolTip("Search all of the stock and begin with the cheapest drive that meets these wishes")
        self.begin, cancel = QPushButton("Begin with a plain drive", objectName="begin"), QPushButton("Cancel")
        self.find_button.clicked.connect(self.find_it)
        self.begin.clicked.connect(self.accept)
        cancel.clicked.connect(self.reject)
        self.kinds.currentItemChanged.connect(self._shown)
        right = QVBoxLayout()
        right.addWidget(self.stage, 1)
        right.addWidget(self.name)
        right.addWidget(self.note)
        right.addWidget(self.progress)
        upper = QHBoxLayout()
        upper.addWidget(self.kinds)
        upper.addLayout(right, 1)
        row = QHBoxLayout()
        row.addStretch(1)
        for button in (cancel, self.begin, self.find_button):
            row.addWidget(button)
        layout = QVBoxLayout(self)
        layout.addLayout(upper, 1)
        layout.addLayout(row)
        self.kinds.setCurrentRow(1)

    def kind(self) -> VehicleKind:
        """The kind that is marked."""
        return VehicleKind(self.kinds.currentItem().data(Qt.ItemDataRole.UserRole))

    def _shown(self) -> None:
        """Another kind: its drawing, and its typical values where nothing was typed."""
        self.stage.design = new_design(self.kind())
        typical = typical_wishes(self.kind())
        here = self.stage.asked()
        for asked in ASKED:
            field = self.stage.fields[asked.name]
            field.setVisible(asked in here)
            if asked in here and not field.isModified():
                field.setText(f"≈ {self._session.say(getattr(typical, asked.name), asked.dimension)}")
                field.setCursorPosition(0)
        self.stage.update()

    def wishes(self) -> FirstWishes:
        """What was typed, in SI.  Raises InputError naming the field."""
        typed: dict[str, float] = {}
        for asked in self.stage.asked():
            field = self.stage.fields[asked.name]
            text = field.text().strip().lstrip("≈ ")
            if not field.isModified() or not text:
                continue
            words = asked.words.capitalize()
            refuse(field, True)
            value = units.parse(text, asked.dimension, self._session.unit_set, field=words)
            if not asked.low <= value <= asked.high:
                say = self._session.say
                raise InputError(words, text, f"{say(asked.low, asked.dimension)} to {say(asked.high, asked.dimension)}")
            refuse(field, False)
            typed[asked.name] = value
        return FirstWishes(**typed)

    def _made(self) -> Design | None:
        """The design of what was typed; None where a field is refused, and says so."""
        try:
            return new_design(self.kind(), self.name.text().strip() or "New vehicle", self.wishes())
        except WattagonError as refusal:
            self._say(str(refusal))
            return None

    def _say(self, words: str) -> None:
        self.note.setText(words)

    def find_it(self) -> None:
        """Search for the wishes; a second press, or Escape, gives the search up."""
        if self.worker.running:
            self._stop()
            return
        design = self._made()
        if design is None:
            return
        stock, say = self._session.stock, self._session.say
        self._share = 0.0
        self.design = design

        def told(share: float) -> None:
            self._share = share

        def work(cancelled: Callable[[], bool]) -> FirstDrive | str | None:
            load_search(afloat=design.vehicle.kind.floats)
            try:
                return search_first(design, stock, say, cancelled=cancelled, progress=told)
            except WattagonError as refusal:
                return str(refusal)

        self.worker.start(work)
        self._searching(True)
        self._say("Searching every motor, reduction or propeller, pack and controller in stock for the cheapest that meets all of this ...")

    def _searching(self, on: bool) -> None:
        self.progress.setVisible(on)
        self.find_button.setText("Stop searching" if on else "Find a drive")
        for widget in (self.kinds, self.name, self.begin, self.stage):
            widget.setEnabled(not on)

    def _stop(self) -> None:
        self.worker.cancel()
        self._searching(False)
        self._say("The search was given up; nothing was begun.")

    def _arrived(self, found: object) -> None:
        self._searching(False)
        if isinstance(found, FirstDrive):
            self.found, self.design = found, found.design
            super().accept()
            return
        self._say(
            found
            if isinstance(found, str)
            else "Nothing in stock meets these wishes, or all but one of them: ease two, or begin with a plain drive."
        )

    def timerEvent(self, event: object) -> None:
        if self.worker.running:
            self.progress.setValue(int(1000 * self._share))

    def accept(self) -> None:
        """Begin with a plain drive."""
        self.design = self._made()
        if self.design is not None:
            super().accept()

    def reject(self) -> None:
        if self.worker.running:
            self._stop()
            return
        super().reject()

    def done(self, result: int) -> None:
        self.worker.stop()
        super().done(result)
