"""The step in hand: what it needs, what holds it up, its three times, who, how; and what a maker does about it."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QInputDialog, QLabel, QLineEdit, QMenu, QPushButton, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.tree import StepState
from wattagon.design.tree.history import check_day
from wattagon.desk.build.tab import Tab
from wattagon.desk.fields import LEAST_PX, ElidedLabel, heading, lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.errors import WattagonError
from wattagon.exchange import units
from wattagon.study.build.mark import (
    add_step,
    all_back,
    build_of,
    change_step,
    leave_out,
    mark_step,
    record_rework,
    split_step,
)
from wattagon.study.build.schedule import in_order
from wattagon.study.build.step import TOOLS
from wattagon.study.build.study import BuildStudy, Task

STATE_WORDS = {StepState.OPEN: "Open", StepState.BEGUN: "Begun", StepState.DONE: "Done"}


class StepTab(Tab):
    """Fields of the chosen step."""

    title = "Step"
    bench_asked = Signal(str, str)
    row_asked = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.code = ""
        self.name = heading("")
        self.head = soft_line("", 12)
        self.states: dict[StepState, QPushButton] = {}
        row = QHBoxLayout()
        row.addWidget(self.name)
        row.addWidget(self.head, 1)
        for state, words in STATE_WORDS.items():
            button = QPushButton(words, checkable=True, objectName=f"step-{state.value}")
            button.clicked.connect(partial(self._mark, state))
            self.states[state] = button
            row.addWidget(button)
        self.more = QPushButton("More …", objectName="step-more")
        self.more.clicked.connect(self._menu)
        row.addWidget(self.more)
        self.caution = QLabel(wordWrap=True, objectName="step-caution")
        self.caution.setFont(font(12, 600))
        self.how = lines_of_text("step-how")
        self.held = QWidget()
        self._held_layout = QHBoxLayout(self.held)
        self._held_layout.setContentsMargins(0, 0, 0, 0)
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(4)
        self.fields: dict[str, QLineEdit] = {}
        for k, (key, words) in enumerate((("low", "at least"), ("likely", "most likely"), ("high", "at most"), ("spent", "took"))):
            grid.addWidget(_label(words), 0, 2 * k)
            grid.addWidget(self._field(key, words, 80), 0, 2 * k + 1)
        for k, (key, words) in enumerate((("by", "who"), ("not_before", "not before"))):
            grid.addWidget(_label(words), 1, 2 * k)
            grid.addWidget(self._field(key, words, 110), 1, 2 * k + 1)
        grid.addWidget(_label("how"), 1, 4)
        self.way = QComboBox(objectName="step-way")
        self.way.setAccessibleName("how it is done")
        self.way.activated.connect(self._way)
        grid.addWidget(self.way, 1, 5, 1, 3)
        grid.setColumnStretch(8, 1)
        page = QWidget()
        inner = QVBoxLayout(page)
        inner.setContentsMargins(8, 4, 8, 4)
        inner.setSpacing(5)
        inner.addLayout(row)
        inner.addWidget(self.caution)
        inner.addWidget(self.how)
        inner.addWidget(self.held)
        inner.addLayout(grid)
        self.week = self._week()
        inner.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(page))

    def _field(self, key: str, words: str, wide: int) -> QLineEdit:
        field = QLineEdit(objectName=f"step-{key}")
        field.setAccessibleName(f"{words} of the step")
        field.setFixedWidth(wide)
        field.editingFinished.connect(partial(self._typed, key, field))
        self.fields[key] = field
        return field

    def _week(self) -> QWidget:
        """Hours a week, printers, nights: what the whole calendar rests on."""
        corner = QWidget()
        row = QHBoxLayout(corner)
        row.setContentsMargins(0, 0, 4, 2)
        row.addWidget(_label("hours a week"))
        self.hours = QLineEdit(objectName="hours-a-week")
        self.hours.setAccessibleName("hours a week")
        self.hours.setFixedWidth(60)
        self.hours.editingFinished.connect(self._hours)
        row.addWidget(self.hours)
        row.addWidget(_label("printers"))
        self.printers = QLineEdit(objectName="printers")
        self.printers.setAccessibleName("printers")
        self.printers.setFixedWidth(44)
        self.printers.editingFinished.connect(self._printers)
        row.addWidget(self.printers)
        self.nights = QPushButton("print at night", checkable=True, objectName="nights")
        self.nights.clicked.connect(lambda on: self.session.try_apply(_build_edit(self.session, "Printing at night", nights=on)))
        row.addWidget(self.nights)
        return corner

    def choose(self, code: str) -> None:
        """Another step."""
        self.code = code
        self.show_build(self.found)

    @property
    def task(self) -> Task | None:
        """The chosen one."""
        return next((one for one in self.found.tasks if one.step.id == self.code), None) if self.found is not None else None

    def show_build(self, found: BuildStudy | None) -> None:
        super().show_build(found)
        task, theme = self.task, THEMES[self.session.theme_name]
        self.setEnabled(task is not None)
        if found is None or task is None:
            return
        self.name.setText(task.step.title)
        slack = "on the longest chain" if task.critical else f"{task.span.slack:.1f} h to spare"
        learned = f"; by what failed so far {task.learned:.1f} times its usual time" if abs(task.learned - 1.0) > 0.05 else ""
        done = f"done on {task.mark.date}" if task.mark.date else "done"
        self.head.setText(done if task.state is StepState.DONE else f"{slack}{learned}")
        for state, button in self.states.items():
            button.setChecked(task.state is state)
        self.caution.setText(f"Caution: {task.step.caution}" if task.step.caution else "")
        self.caution.setVisible(bool(task.step.caution))
        self.caution.setStyleSheet(f"color: {theme.tight.name()}")
        self.how.setText(task.step.how)
        self.how.setVisible(bool(task.step.how))
        self._show_held(task)
        for key, value in zip(("low", "likely", "high"), task.hours, strict=True):
            told = getattr(task.mark, key) is not None
            _put(self.fields[key], f"{value:.2g} h" if told else "", f"{value:.2g} h")
        _put(self.fields["spent"], "" if task.mark.spent is None else f"{task.mark.spent:.3g} h", "hours")
        _put(self.fields["by"], task.mark.by, "nobody told")
        _put(self.fields["not_before"], task.mark.not_before, "any day")
        self._show_ways(task)
        workshop = self.session.design.brief.workshop
        _put(self.hours, "" if workshop.hours_a_week is None else f"{workshop.hours_a_week:g}", f"{found.means.hours_a_week:g} ≈")
        _put(self.printers, "", f"{found.means.printers}")
        self.nights.setChecked(found.means.nights)

    def _show_ways(self, task: Task) -> None:
        self.way.clear()
        tool = TOOLS.get(task.step.tool)
        self.way.addItem(f"with the {tool.words}" if tool is not None else "by hand", "")
        if tool is not None and tool.other:
            self.way.addItem(tool.other, "other")
        for place in self.session.design.brief.workshop.places:
            days = f", {place.days} days" if place.days is not None else ""
            self.way.addItem(f"{place.name or place.id}{days}", place.id)
        self.way.setCurrentIndex(max(self.way.findData(task.mark.way), 0))

    def _show_held(self, task: Task) -> None:
        """What must be there first, each a way to it."""
        while self._held_layout.count():
            item = self._held_layout.takeAt(0)
            gone = item.widget() if item is not None else None
            if gone is not None:
                gone.hide()
                gone.setObjectName("")  # until it goes in the next turn
                gone.deleteLater()
        words: list[tuple[str, str, str]] = []
        assert self.found is not None
        for code in task.blocked:
            if code.startswith("tool:"):
                tool = TOOLS[code.split(":", 1)[1]]
                words.append((f"no {tool.words} here: choose how", "", ""))
            elif code.startswith("day:"):
                words.append((f"not before {code.split(':', 1)[1]}", "", ""))
            elif any(part.row.id == code for part in self.found.parts):
                part = self.found.part(code)
                words.append((part.row.name, "row", code))
            else:
                words.append((self.found.task(code).step.title, "step", code))
        self.held.setVisible(bool(words) or bool(task.step.bench))
        if words:
            self._held_layout.addWidget(_label("waits for"))
        for text, kind, code in words[:4]:
            if kind:
                button = QPushButton(text, flat=True)
                button.setMaximumWidth(230)
                button.clicked.connect(partial(self._go, kind, code))
                self._held_layout.addWidget(button)
            else:
                self._held_layout.addWidget(soft_line(text, 12))
        if len(words) > 4:
            self._held_layout.addWidget(soft_line(f"and {len(words) - 4} more", 12))
        self._held_layout.addStretch(1)
        if task.step.bench and task.step.bench != "build":
            go = QPushButton(f"Show on the {task.step.bench.capitalize()} bench", flat=True, objectName="step-bench")
            first = next(iter((*task.step.measures, *task.step.proofs, *task.step.commission)), "")
            what = "test" if task.step.id == "set-rehearse" else first
            go.clicked.connect(lambda: self.bench_asked.emit(task.step.bench, what))
            self._held_layout.addWidget(go)

    def _go(self, kind: str, code: str, _on: bool = False) -> None:
        if kind == "row":
            self.row_asked.emit(code)
        else:
            self.choose(code)
            self.bench_asked.emit("", code)

    # what a hand does

    def _mark(self, state: StepState, _on: bool = False) -> None:
        self.mark(state)

    def mark(self, state: StepState) -> None:
        """Open, begun or done."""
        task = self.task
        if task is None:
            return
        if state is StepState.DONE and task.step.measures:
            self.session.told.emit(f"{task.step.title}: it is done when the measure is entered as measured", True)
            self.show_build(self.found)
            return
        self.take(lambda: mark_step(self.session.design, task, state, self.today, task.mark.spent))
        self.show_build(self.found)

    def tick(self) -> None:
        """Done, or open again."""
        task = self.task
        if task is not None:
            self.mark(StepState.OPEN if task.state is StepState.DONE else StepState.DONE)

    def _typed(self, key: str, field: QLineEdit) -> None:
        task = self.task
        if task is None or not field.isModified():
            return
        text = field.text().strip()
        try:
            value: object = None
            if key in ("low", "likely", "high", "spent"):
                value = None if not text else _hours(text, key)
            elif key == "not_before":
                value = text and _day(text)
            else:
                value = text
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            refuse(field, True)
            return
        taken = self.take(lambda: change_step(self.session.design, task, **{key: value}))
        refuse(field, not taken)
        field.setModified(not taken)

    def _way(self, index: int) -> None:
        task = self.task
        if task is not None:
            self.take(lambda: change_step(self.session.design, task, way=self.way.itemData(index) or ""))

    def _hours(self) -> None:
        text = self.hours.text().strip()
        if not self.hours.isModified():
            return
        try:
            value = None if not text else _hours(text, "hours a week")
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            refuse(self.hours, True)
            return
        taken = self.session.try_apply(Edit(label=f"{text or 'usual'} hours a week", changes=(("brief.workshop.hours_a_week", value),)))
        refuse(self.hours, not taken)
        self.hours.setModified(not taken)

    def _printers(self) -> None:
        text = self.printers.text().strip()
        if not self.printers.isModified():
            return
        try:
            value = None if not text else units.whole(text, "number", "printers")
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            refuse(self.printers, True)
            return
        taken = self.session.try_apply(_build_edit(self.session, f"{text or 'usual'} printers", printers=value))
        refuse(self.printers, not taken)
        self.printers.setModified(not taken)

    def _menu(self) -> None:
        menu = QMenu(self)
        for words, act in (
            ("Split it into pieces …", self.ask_split),
            ("It failed, or was done again …", self.ask_rework),
            ("A step of your own after it …", self.ask_own),
            ("Move it behind another …", self.ask_move),
            ("Leave it out", self.leave_out),
            ("All that was left out again", self.all_back),
        ):
            menu.addAction(words, act)
        menu.exec(self.more.mapToGlobal(self.more.rect().bottomLeft()))

    def leave_out(self) -> None:
        """Not needed."""
        task = self.task
        if task is not None:
            self.take(lambda: leave_out(self.session.design, task))

    def all_back(self) -> None:
        """Every step that was left out stands again."""
        self.take(lambda: all_back(self.session.design))

    def ask_split(self) -> None:
        """Titles, one a line."""
        task = self.task
        if task is None:
            return
        text, good = QInputDialog.getMultiLineText(self, task.step.title, "Its pieces, one a line", "")
        if good:
            self.split(text)

    def split(self, text: str) -> bool:
        """Into pieces, one a line."""
        task = self.task
        return task is not None and self.take(lambda: split_step(self.session.design, task, tuple(text.splitlines())))

    def ask_rework(self) -> None:
        """What failed, hours, cost."""
        if self.task is None:
            return
        text, good = QInputDialog.getText(self, self.task.step.title, "What failed; hours; cost, such as: warped; 2 h; 1.50")
        if good:
            self.rework(text)

    def rework(self, text: str) -> bool:
        """From `what; hours; cost`."""
        task = self.task
        if task is None:
            return False

        def made():  # type: ignore[no-untyped-def]
            what, _, rest = text.partition(";")
            hours, _, cost = rest.partition(";")
            return record_rework(
                self.session.design,
                task,
                self.today,
                what,
                _hours(hours, "hours") if hours.strip() else 0.0,
                units.parse(cost, "money", field="cost") if cost.strip() else 0.0,
            )

        return self.take(made)

    def ask_own(self) -> None:
        """A title and its hours."""
        text, good = QInputDialog.getText(self, "A step of your own", "Title; hours, such as: paint the deck; 2 h")
        if good:
            self.own(text)

    def own(self, text: str) -> bool:
        """From `title; hours`, after the chosen step."""
        after = (self.code,) if self.code else ()

        def made():  # type: ignore[no-untyped-def]
            title, _, hours = text.partition(";")
            likely = _hours(hours, "hours") if hours.strip() else 1.0
            return add_step(self.session.design, title, (0.6 * likely, likely, 2.0 * likely), after)

        return self.take(made)

    def ask_move(self) -> None:
        """Which other it is to wait for."""
        task, found = self.task, self.found
        if task is None or found is None:
            return
        titles = [one.step.title for one in found.tasks if one.step.id != self.code]
        title, good = QInputDialog.getItem(self, task.step.title, "It waits for", titles, 0, False)
        if good:
            self.move_behind(next(one.step.id for one in found.tasks if one.step.title == title))

    def move_behind(self, code: str) -> bool:
        """Wait for another step besides; a ring is refused."""
        task, found = self.task, self.found
        if task is None or found is None:
            return False

        def made():  # type: ignore[no-untyped-def]
            after = {one.step.id: one.after for one in found.tasks}
            in_order({**after, self.code: (*after[self.code], code)})
            return change_step(self.session.design, task, after=(*task.mark.after, code))

        return self.take(made)


def _build_edit(session: Session, label: str, **changes):  # type: ignore[no-untyped-def]
    return Edit(label=label, changes=(("variant.build", replace(build_of(session.design), **changes)),))


def _label(words: str) -> ElidedLabel:
    label = soft_line(words, 12)
    label.setMinimumWidth(max(label.fontMetrics().horizontalAdvance(words) + 2, LEAST_PX))
    return label


def _put(field: QLineEdit, text: str, hint: str) -> None:
    if field.hasFocus() and field.isModified():
        return
    field.setText(text)
    field.setPlaceholderText(hint)
    refuse(field, False)


def _hours(text: str, name: str) -> float:
    """Hours, as a number or with a unit of time."""
    stripped = text.strip().rstrip(".")
    try:
        return float(stripped.replace(",", "."))
    except ValueError:
        return units.parse(stripped.replace("hours", "h"), "time", field=name) / 3600.0


def _day(text: str) -> str:
    """An ISO day."""
    return check_day(text, "not before").isoformat()
