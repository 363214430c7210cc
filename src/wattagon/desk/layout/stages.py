"""Each belt and chain in words and figures, with what steps it: teeth, loop, slots."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFormLayout, QFrame, QHBoxLayout, QLabel, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Layout, ReductionKind, TakeUp
from wattagon.desk.fields import ChoiceField, ValueField, refuse
from wattagon.desk.layout.drawing import LayoutDrawing
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import WattagonError
from wattagon.exchange.units import parse, whole
from wattagon.study.layout.edits import fitted_to, stepped, with_layout, with_stage
from wattagon.study.layout.edits import told as told_of
from wattagon.study.layout.meshes import GROUNDS, Meshed
from wattagon.study.layout.place import FLANGE_M
from wattagon.study.layout.stage import Running


class StagesPanel(QScrollArea):
    """A form for each stage."""

    def __init__(self, session: Session, drawing: LayoutDrawing) -> None:
        super().__init__()
        self._session, self._drawing = session, drawing
        self._labels: dict[str, QLabel] = {}
        self._fields: dict[tuple[int, str], QLineEdit] = {}
        self._made: tuple[object, ...] = ()
        self.setObjectName("layout-stages")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def refresh(self) -> None:
        """Figures of the drawing as it is."""
        found = self._drawing.found
        made: tuple[object, ...] = ()
        if found is not None:
            idlers = [(k, len(stage.idlers)) for k, stage in enumerate(found.layout.stages)]
            runs = [(one.position, one.made.family.id) for one in found.stages]
            made = (*idlers, *runs, *((mesh.position, mesh.choice.kind) for mesh in found.meshes))
        if made != self._made or not self._labels:
            self._made = made
            self._build()
        if found is not None:
            for one in found.stages:
                for name, words in self._figures(one).items():
                    self._labels[f"{one.position}.{name}"].setText(words)
            for mesh in found.meshes:
                for name, words in self._of_mesh(mesh).items():
                    self._labels[f"{mesh.position}.{name}"].setText(words)
                told = told_of(found.layout, mesh.position)
                for (position, asked), field in self._fields.items():
                    if position == mesh.position and not field.hasFocus():
                        value = getattr(told, asked)
                        text = "" if value is None else str(value) if asked == "planets" else self._session.say(value.value, "length")
                        field.setText(text)

    def _build(self) -> None:
        body, self._labels, self._fields = QWidget(), {}, {}
        column = QVBoxLayout(body)
        column.setContentsMargins(6, 4, 8, 6)
        found = self._drawing.found
        if found is None or not (found.stages or found.meshes):
            empty = QLabel("No belt, chain, gear or roller in this drive.")
            empty.setProperty("voice", "soft")
            empty.setWordWrap(True)
            column.addWidget(empty)
        for one in found.stages if found is not None else ():
            frame, form = self._headed(one.position)
            for role, words in (("driver", "Driver"), ("driven", "Driven"), ("loop", "Loop")):
                form.addRow(self._soft(words), self._stepper(one.position, role))
            for name, words in FIGURES:
                label = QLabel()
                label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
                label.setWordWrap(True)
                self._labels[f"{one.position}.{name}"] = label
                form.addRow(self._soft(words), label)
            if found is not None and one.position < len(found.layout.stages):
                self._told_rows(form, one, len(found.layout.stages[one.position].idlers))
            column.addWidget(frame)
        for mesh in found.meshes if found is not None else ():
            column.addWidget(self._mesh_form(mesh))
        column.addStretch(1)
        swap_contents(self, body)

    def _headed(self, position: int) -> tuple[QFrame, QFormLayout]:
        """The form of one stage, its name on top."""
        frame = QFrame()
        form = QFormLayout(frame)
        form.setContentsMargins(0, 2, 0, 8)
        form.setVerticalSpacing(3)
        head = QLabel()
        head.setFont(font(13, 600))
        self._labels[f"{position}.head"] = head
        form.addRow(head)
        return frame, form

    def _mesh_form(self, mesh: Meshed) -> QFrame:
        frame, form = self._headed(mesh.position)
        roller = mesh.choice.kind is ReductionKind.FRICTION
        asked = () if roller else (("module", "Module"), ("planets", "Planets")) if mesh.planets is not None else (("module", "Module"),)
        for name, words in asked:
            field = QLineEdit(objectName=f"{name}-{mesh.position}")
            field.setAccessibleName(words)
            field.setPlaceholderText(str(mesh.planet_count) if name == "planets" else self._session.say(mesh.module_m, "length"))
            field.editingFinished.connect(partial(self._typed, mesh.position, name))
            self._fields[mesh.position, name] = field
            form.addRow(self._soft(words), field)
        rows = (
            (("grip", "Holds"), ("centre", "Between the middles")) if roller else (("centre", "Between the middles"), ("mesh", "In mesh"))
        )
        for name, words in rows:
            label = QLabel()
            label.setWordWrap(True)
            self._labels[f"{mesh.position}.{name}"] = label
            form.addRow(self._soft(words), label)
        return frame

    def _of_mesh(self, mesh: Meshed) -> dict[str, str]:
        say, choice = self._session.say, mesh.choice
        if choice.kind is ReductionKind.FRICTION:
            holds = [f"{say(grip, 'force') if math.isfinite(grip) else 'all'} {on}" for grip, on in zip(mesh.grip_n, GROUNDS, strict=True)]
            near = f"{say(round(mesh.centre_m, 4), 'length')}, {say(round(mesh.fitting_m, 4), 'length')} lie on each other"
            return {"head": "Roller on the tyre", "grip": ", ".join(holds), "centre": near}
        if mesh.planets is not None:
            fits = mesh.planets.fault or f"{mesh.planet_count} planets of {mesh.planets.teeth:.0f} teeth fit"
            turns = f"; {say(abs(mesh.planet_rpm), 'rpm')} on their pins" if math.isfinite(mesh.planet_rpm) else ""
            head = f"Planetary set, sun {choice.driver_teeth}, ring {choice.driven_teeth}"
            return {"head": head, "centre": "sun and carrier on one axis", "mesh": fits + turns}
        carries = f"{mesh.contact:.2f} teeth carry" if math.isfinite(mesh.contact) else "they jam"
        near = f"{say(round(mesh.centre_m, 5), 'length')}, {say(round(mesh.fitting_m, 5), 'length')} fit"
        return {"head": f"Gears {choice.driver_teeth}:{choice.driven_teeth}", "centre": near, "mesh": carries}

    def _typed(self, position: int, name: str) -> None:
        session, field = self._session, self._fields[position, name]
        if not field.isModified() or not session.docs:
            return
        field.setModified(False)
        text, layout = field.text().strip(), session.design.variant().layout or Layout()
        try:
            value: Any = None
            if text:
                known = lambda number: Quantity(value=number, known=Known.STATED)
                value = whole(text, "number", name) if name == "planets" else known(parse(text, "length", session.unit_set, field=name))
            stage = with_stage(layout, position, replace(told_of(layout, position), **{name: value}))
            session.apply(with_layout(session.design, stage, f"{name.capitalize()} {text or 'not told'}"))
        except WattagonError as refusal:
            refuse(field, True)
            session.told.emit(str(refusal), True)
            return
        refuse(field, False)

    def _told_rows(self, form: QFormLayout, one: Running, idlers: int) -> None:
        """What was told of a stage: take-up, slots, flange, and each idler."""
        base = f"variant.layout.stages.{one.position}"
        ways: list[tuple[object, str]] = [(TakeUp.SLOTS, "slots"), (TakeUp.ECCENTRIC, "an eccentric")]
        ways += [(TakeUp.IDLER, "an idler"), (TakeUp.NONE, "nothing")]
        form.addRow(self._soft("Taken up by"), ChoiceField(self._session, f"{base}.take_up", "taken up by", ways))
        form.addRow(self._soft("Slots of"), ValueField(self._session, f"{base}.slot", "length of the slots", fallback="as needed"))
        if one.made.kind is not None:
            form.addRow(
                self._soft("Flange"), ValueField(self._session, f"{base}.flange", "flange", fallback=self._session.say(FLANGE_M, "length"))
            )
        runs: list[tuple[object, str]] = [(False, "on its back"), (True, "inside")]
        held: list[tuple[object, str]] = [(False, "fixed"), (True, "sprung")]
        for k in range(idlers):
            path, line = f"{base}.idlers.{k}", QHBoxLayout()
            line.addWidget(ValueField(self._session, f"{path}.diameter", "diameter of the idler"), 1)
            line.addWidget(ChoiceField(self._session, f"{path}.inside", "idler runs", runs))
            line.addWidget(ChoiceField(self._session, f"{path}.sprung", "idler is", held))
            form.addRow(self._soft(f"Idler {k + 1}"), line)

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
