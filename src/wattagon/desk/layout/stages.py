"""Each belt and chain in words and figures, with what steps it: teeth, loop, slots."""

from __future__ import annotations

import math

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFormLayout, QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.study.layout.edits import fitted_to, stepped
from wattagon.study.layout.stage import Running


class StagesPanel(QScrollArea):
    """A form for each stage."""

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing = session, drawing
        self._labels: dict[str, QLabel] = {}
        self._made: tuple[object, ...] = ()
        self.setObjectName("layout-stages")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def refresh(self) -> None:
        """Figures of the drawing as it is."""
        found = self._drawing.found
        made = tuple((one.position, one.made.family.id) for one in found.stages) if found is not None else ()
        if made != self._made or not self._labels:
            self._made = made
            self._build()
        if found is not None:
            for one in found.stages:
                for name, words in self._figures(one).items():
                    self._labels[f"{one.position}.{name}"].setText(words)

    def _build(self) -> None:
        body, self._labels = QWidget(), {}
        column = QVBoxLayout(body)
        column.setContentsMargins(6, 4, 8, 6)
        found = self._drawing.found
        if found is None or not found.stages:
            empty = QLabel("No belt or chain in this drive.")
            empty.setProperty("voice", "soft")
            empty.setWordWrap(True)
            column.addWidget(empty)
        for one in found.stages if found is not None else ():
            frame = QFrame()
            form = QFormLayout(frame)
            form.setContentsMargins(0, 2, 0, 8)
            form.setVerticalSpacing(3)
            head = QLabel()
            head.setFont(font(13, 600))
            self._labels[f"{one.position}.head"] = head
            form.addRow(head)
            for role, words in (("driver", "Driver"), ("driven", "Driven"), ("loop", "Loop")):
                form.addRow(self._soft(words), self._stepper(one.position, role))
            for name, words in FIGURES:
                label = QLabel()
                label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
                label.setWordWrap(True)
                self._labels[f"{one.position}.{name}"] = label
                form.addRow(self._soft(words), label)
            column.addWidget(frame)
        column.addStretch(1)
        swap_contents(self, body)

    def _soft(self, words: str) -> QLabel:
        label = QLabel(words)
        label.setProperty("voice", "soft")
        return label

    def _stepper(self, position: int, role: str) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        value = QLabel()
        self._labels[f"{position}.{role}"] = value
        for by, words in ((-1, "−"), (1, "+")):
            button = QPushButton(words, objectName=f"{role}-{position}-{'more' if by > 0 else 'less'}")
            button.setFixedWidth(28)
            button.clicked.connect(lambda _on=False, by=by: self._step(position, role, by))
            line.addWidget(button)
        line.addWidget(value, 1)
        return row

    def _step(self, position: int, role: str, by: int) -> None:
        session, found = self._session, self._drawing.found
        one = next((run for run in found.stages if run.position == position), None) if found is not None else None
        if one is None:
            return
        if role == "loop":
            following = one.longer if by > 0 else one.shorter
            edit = fitted_to(session.design, session.stock, position, following[0]) if following is not None else None
        else:
            edit = stepped(session.design, session.stock, position, role, by)
        if edit is not None:
            session.try_apply(edit)

    def _figures(self, one: Running) -> dict[str, str]:
        say, belt = self._session.say, one.made.kind is not None
        what = "teeth" if belt else "links"
        width = f", {say(one.width_m, 'length')} wide" if one.width_m is not None else ""
        fits = (
            "" if abs(one.off_m) < 5e-4 else f"; {say(round(abs(one.off_m), 4), 'length')} {'too short' if one.off_m > 0 else 'too long'}"
        )
        stock = "" if one.in_stock else "; no shop has it"
        known = lambda value, dimension: say(value, dimension) if math.isfinite(value) else "not known"
        set_to = "—"
        if belt and math.isfinite(one.installed_n):
            set_to = f"{say(one.installed_n, 'force')}: {one.tone_hz:.0f} Hz, or {say(one.push_n, 'force')} for {say(one.push_m, 'length')}"
        elif not belt:
            set_to = f"sag {say(0.015 * one.span_m, 'length')} on the slack run" if math.isfinite(one.span_m) else "—"
        slots = one.slots
        return {
            "head": f"{one.made.family.name}{width}",
            "driver": f"{one.made.choice.driver_teeth} teeth",
            "driven": f"{one.made.choice.driven_teeth} teeth",
            "loop": f"{one.loop} {what}, {say(round(one.length_m, 4), 'length')}{fits}{stock}",
            "centre": say(round(one.centre_m, 4), "length"),
            "mesh": f"{one.in_mesh} teeth of the smaller wheel" if one.path.loop.wraps else one.path.loop.fault,
            "set": set_to,
            "pull": f"{known(one.pull_n, 'force')} at full motor amps, bears {known(one.capacity_n, 'force')} for good",
            "jump": f"{say(one.jump.jump_nm, 'torque')}, shears at {say(one.jump.shear_nm, 'torque')}" if one.jump is not None else "—",
            "shaft": f"{known(one.rest_n, 'force')} at rest, {known(one.peak_n, 'force')} at most",
            "slots": f"{say(round(slots.shortest, 4), 'length')} to {say(round(slots.longest, 4), 'length')}" if slots is not None else "—",
            "speed": f"{one.speed_m_s:.1f} m/s at top speed",
        }


FIGURES = (
    ("centre", "Between the middles"),
    ("mesh", "In mesh"),
    ("set", "Set it to"),
    ("pull", "Pull"),
    ("jump", "Jumps at"),
    ("shaft", "On the shaft"),
    ("slots", "Slots"),
    ("speed", "Belt speed"),
)
