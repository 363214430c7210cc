"""What would give the wanted kv: options as rows, the ways beside them, and what is decided."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout

from wattagon.design.parts import MotorPart
from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.desk.fields import scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.winding.choices import OptionRows, WayBars
from wattagon.desk.winding.entry import Entry
from wattagon.desk.winding.tab import Tab
from wattagon.desk.work import Worker
from wattagon.errors import InputError
from wattagon.exchange import units
from wattagon.study.winding.effect import best_kv
from wattagon.study.winding.enter import drop_plan, into_drive, look_at, motors_at_hand, other_motors, put, take, told_of
from wattagon.study.winding.option import prefers
from wattagon.study.winding.study import WindingStudy, reel_words


class OptionsTab(Tab):
    """Wanted kv, options, ways."""

    title = "Options"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.rows, self.ways = OptionRows(session), WayBars(session)
        self.kv = Entry(session, "winding-kv", "wanted kv", self._kv_edit, 110)
        self.kv.setMinimumWidth(96)
        self.best = QPushButton("Which fits best?", objectName="winding-best")
        self.best.setToolTip("Tries every kv of this frame against the goals")
        self.best.clicked.connect(self.ask_best)
        self.motor = QComboBox(objectName="winding-motor")
        self.motor.setAccessibleName("motor that is looked at")
        self.motor.setMinimumContentsLength(26)
        self.motor.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.motor.activated.connect(self._motor_chosen)
        self.wind = QPushButton("Wind this", objectName="winding-take")
        self.wind.clicked.connect(self.take)
        self.drive = QPushButton("Into the drive", objectName="winding-drive")
        self.drive.setToolTip("The rewound motor drives in all benches, as computed; the old one is kept")
        self.drive.clicked.connect(self.into_drive)
        self.drop = QPushButton("No rewind", objectName="winding-drop")
        self.drop.clicked.connect(self.drop_plan)
        self.says = soft_line("", 12)
        head = QHBoxLayout()
        head.setContentsMargins(4, 3, 4, 0)
        head.addWidget(self.motor)
        head.addWidget(soft_line("wanted", 12))
        head.addWidget(self.kv)
        head.addWidget(self.best)
        head.addStretch(1)
        for one in (self.wind, self.drive, self.drop):
            head.addWidget(one)
        body = QHBoxLayout()
        body.setSpacing(6)
        body.addWidget(scrolled(self.rows), 5)
        body.addWidget(scrolled(self.ways), 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(3)
        layout.addLayout(head)
        layout.addLayout(body, 1)
        layout.addWidget(self.says)
        self.rows.chosen_changed.connect(self._show_hand)
        self.rows.wind_asked.connect(self.take)
        self._asked_early = False
        self._listed: list[str] = []
        self.worker = Worker(self)
        self.worker.arrived.connect(self._best_found)

    def show_winding(self, found: WindingStudy | None) -> None:
        super().show_winding(found)
        self.rows.show_options(found)
        self.ways.show_ways(found)
        session = self.session
        if session.docs:
            told = told_of(session.design)
            text = session.say(told.kv.value, "kv") if told.kv is not None else ""
            self.kv.show_text(text, "rpm/V", "kv that the rewound motor shall have")
            self._show_motors()
        self.drop.setEnabled(found is not None and found.chosen is not None)
        self.drive.setEnabled(found is not None and found.chosen is not None and found.told.was is None and not found.told.part)
        self._show_hand(self.rows.at)
        if self._asked_early and found is not None:
            self.ask_best()

    def _show_motors(self) -> None:
        design, stock = self.session.design, self.session.stock
        told = told_of(design)
        parts = motors_at_hand(design, stock.find)
        if parts != self._listed:
            self._list_motors(parts)
        with QSignalBlocker(self.motor):
            self.motor.setCurrentIndex(self.motor.findData(told.part) if told.part else 0)

    def _list_motors(self, parts: list[str]) -> None:
        """The variant's own, the shelf's, then those of the stock."""
        stock = self.session.stock
        with QSignalBlocker(self.motor):
            self.motor.clear()
            for k, part in enumerate(parts):
                self.motor.addItem(f"{stock.get(MotorPart, part).name}{'' if k == 0 else ', on the shelf'}", part)
            self.motor.insertSeparator(len(parts))
            for one in other_motors(stock, parts):
                self.motor.addItem(one.name, one.id)
        self._listed = parts

    def _show_hand(self, _at: int) -> None:
        one = self.rows.option
        self.wind.setEnabled(one is not None)
        if one is None:
            self.says.setText("")
            return
        assert self.found is not None
        effect = self.found.offers[self.rows.at][1]
        say = self.session.say
        words = [
            f"{say(one.kv, 'kv')}, {say(one.ohm, 'resistance')} between leads",
            reel_words(one),
            f"{say(one.copper_kg, 'mass')} of copper",
            f"lasts {say(effect.lasting_a, 'current')}",
            *one.by_hand.says,
            *effect.controller,
            prefers(one, self.found.advised),
        ]
        words = [word for word in words if word]
        self.says.setText("; ".join(words))
        self.says.setToolTip("\n".join(words))

    # what a hand does

    def _kv_edit(self, text: str) -> Edit:
        design = self.session.design
        if not text:
            return put(design, "No kv wanted", kv=None)
        value = units.parse(text, "kv", self.session.unit_set, field="wanted kv")
        if not 1.0 <= value <= 20000.0:
            raise InputError("wanted kv", units.quoted(text), "1 to 20000 rpm/V")
        return put(design, f"Wanted kv {value:.4g} rpm/V", kv=Quantity(value=value, known=Known.STATED))

    def _motor_chosen(self, index: int) -> None:
        self.look_at_part(str(self.motor.itemData(index)))

    def look_at_part(self, part: str) -> None:
        """A motor of shelf or stock instead of the variant's own."""
        self.session.try_apply(look_at(self.session.design, part, self.session.stock.get(MotorPart, part).name))

    def ask_best(self) -> None:
        """Which kv meets the goals best, on a thread of its own."""
        found, stock = self.found, self.session.stock
        self._asked_early = found is None  # answered once the winding is worked out
        if found is None:
            return
        self.best.setEnabled(False)
        name = (found.design.vehicle.name, found.design.active)
        self.worker.start(lambda cancelled: (name, best_kv(found.subject, stock, found.base, cancelled=cancelled)))

    def _best_found(self, result: object) -> None:
        self.best.setEnabled(True)
        assert isinstance(result, tuple)
        name, kv = result
        if not self.session.docs or name != (self.session.design.vehicle.name, self.session.design.active):
            return
        if kv != kv:
            self.session.told.emit("No goals: nothing tells which kv fits best", True)
            return
        rounded = float(f"{kv:.3g}")
        edit = put(self.session.design, f"Wanted kv {rounded:g} rpm/V, fits best", kv=Quantity(value=rounded, known=Known.COMPUTED))
        self.session.try_apply(edit)

    def take(self) -> None:
        """Decide on the option in hand."""
        if self.found is not None and self.rows.option is not None:
            self.apply(take(self.found, self.rows.option))

    def into_drive(self) -> None:
        """The plan into the drive."""
        if self.found is not None and self.found.chosen is not None:
            self.apply(into_drive(self.found))

    def drop_plan(self) -> None:
        """No rewind."""
        if self.found is not None:
            self.apply(drop_plan(self.found))
