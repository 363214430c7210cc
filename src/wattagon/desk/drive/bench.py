"""The drive bench: pull map and flows above, goals and levers below."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from wattagon.desk.bench import Bench
from wattagon.desk.drive.flows import Flows
from wattagon.desk.drive.goal_strip import GoalStrip
from wattagon.desk.drive.lever_panel import LeverPanel
from wattagon.desk.drive.pull_map import PullMap
from wattagon.desk.fields import beside, heading, soft_line
from wattagon.desk.session import Session
from wattagon.study.drive.words import goal_name, reached_words
from wattagon.study.resolve import CHARGE_STATES

if TYPE_CHECKING:
    from wattagon.desk.drive.parts_panel import PartsPanel

NARROW = 820  # below this width the side panel starts out closed
LOW = 540  # below this height the map needs the room of the hint


class DriveBench(Bench):
    """Charts first, then what the drive reaches, then what can be moved."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._side_wanted: str | None = None  # what the user chose; None: by the width
        self.setObjectName("drive-bench")
        self.map, self.flows = PullMap(session), Flows(session)
        self.picture = self.map
        self.goals, self.levers = GoalStrip(session), LeverPanel(session)
        self.side = QStackedWidget()
        self.side.addWidget(self.flows)
        self._parts: PartsPanel | None = None
        self.split = beside(self.map, self.side, stretch=(5, 2), widths=(620, 250))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 2, 6, 4)
        layout.setSpacing(3)
        layout.addLayout(self._head())
        layout.addWidget(self.split, 1)
        layout.addWidget(self.goals)
        self._hint = soft_line(
            "Levers: one step each way and what it would do. The small bars are the goals in their "
            "order, up is better. Click a step, drag a value, double-click to type.",
            12,
        )
        layout.addWidget(self._hint)
        layout.addWidget(self.levers)
        self.levers.pointed.connect(self.goals.point)
        self.levers.picking.connect(self._pick)
        self.goals.asked.connect(lambda goal: self.asked.emit("brief", goal))
        session.moment_changed.connect(self._show_state)
        session.design_changed.connect(self._show_state)
        self._show_state()
        self._show_side()

    @property
    def parts(self) -> PartsPanel:
        """The parts in detail, made when they are first wanted."""
        if self._parts is None:
            from wattagon.desk.drive.parts_panel import PartsPanel

            self._parts = PartsPanel(self._session)
            self.side.addWidget(self._parts)
        return self._parts

    def _head(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(heading("Pull against speed"))
        self._variant = soft_line()
        row.addWidget(self._variant, 1)
        row.addWidget(self._soft("pack"))
        self.states = QButtonGroup(self, exclusive=True)
        for name in CHARGE_STATES:
            button = QPushButton(name, checkable=True, objectName=f"charge-{name}")
            button.setToolTip(f"Show the drive with a {name} pack ({CHARGE_STATES[name]:.0%})")
            self.states.addButton(button)
            button.clicked.connect(self._charge_chosen)
            row.addWidget(button)
        row.addSpacing(10)
        self._sides = QButtonGroup(self, exclusive=False)
        for name, words in (("flows", "Flows"), ("parts", "Parts")):
            button = QPushButton(words, checkable=True, objectName=f"side-{name}")
            button.setToolTip("Duty, amps and power against speed" if name == "flows" else "The parts of this variant in detail")
            self._sides.addButton(button)
            button.clicked.connect(self._side_chosen)
            row.addWidget(button)
        return row

    def _soft(self, text: str) -> QLabel:
        label = QLabel(text)
        label.setProperty("voice", "soft")
        return label

    def _charge_chosen(self) -> None:
        name = self.sender().objectName().removeprefix("charge-")
        self._session.set_moment(charge=CHARGE_STATES[name])

    def _show_state(self) -> None:
        if not self._session.docs:
            return
        charge = self._session.moment.charge
        self.states.setExclusive(False)
        for button in self.states.buttons():
            button.setChecked(CHARGE_STATES[button.text()] == charge)
        self.states.setExclusive(True)
        variant = self._session.design.variant()
        self._variant.setText(f"  {variant.id} {variant.name}" + (f": {variant.note}" if variant.note else ""))
        self._variant.setToolTip(variant.note)

    def _side_chosen(self) -> None:
        name = self.sender().objectName().removeprefix("side-")
        self.show_side("" if self._side() == name else name)

    def _side(self) -> str:
        if self._side_wanted is not None:
            return self._side_wanted
        return "flows" if self.width() >= NARROW else ""

    def show_side(self, name: str) -> None:
        """flows, parts, or nothing beside the map."""
        self._side_wanted = name
        self._show_side()

    def table(self) -> list[list[str]]:
        """Goals with what is reached, then the three states of charge."""
        study, say = self._session.study, self._session.say
        if study is None:
            return []
        rows = [["goal", "asked", "reached", "room"]]
        for result in study.goals:
            rows.append(
                [goal_name(result.goal, say), say(result.target, result.dimension), reached_words(result, say), f"{result.margin:.0%}"]
            )
        rows.append(["pack", "top speed", "at standstill", "starts on"])
        for state in study.states.values():
            rows.append(
                [state.name, say(state.top_speed_m_s, "speed"), say(state.standstill_force_n, "force"), say(state.max_grade, "grade")]
            )
        return rows

    def show_link(self, link: str) -> None:
        """The parts of one link of the drive."""
        self.show_side("parts")
        self.parts.show_link(link)

    def show_target(self, what: str) -> None:
        """The parts of a link, as another bench asked for them."""
        if what:
            self.show_link(what)

    def _show_side(self) -> None:
        name = self._side()
        self.side.setVisible(bool(name))
        if name:
            self.side.setCurrentWidget(self.parts if name == "parts" else self.flows)
        for button in self._sides.buttons():
            button.setChecked(button.objectName() == f"side-{name}")

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._hint.setVisible(self.height() >= LOW)
        if self._side_wanted is None:
            self._show_side()

    def _pick(self, code: str) -> None:
        {"motor_size": self.parts.pick_motor, "controller": self.parts.pick_controller}[code]()
