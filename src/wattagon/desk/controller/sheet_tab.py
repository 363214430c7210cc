"""The settings sheet as lines: a value beside its bounds and the reason; what a school lacks says what to do instead."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wattagon.desk.controller.tab import Tab
from wattagon.desk.fields import ElidedLabel, refuse, scrolled, soft_line
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.errors import InputError
from wattagon.exchange import units
from wattagon.study.controller.schools import SCHOOLS
from wattagon.study.controller.setting import Setting
from wattagon.study.controller.study import ControllerStudy
from wattagon.study.findings.status import Status

GROUPS = (("current", "Amps, volts, heat"), ("machine", "Machine"), ("throttle", "Ramps"), ("modes", "Modes by place"))


class SheetTab(Tab):
    """All lines."""

    title = "Settings"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.school = QComboBox(objectName="school")
        self.school.setAccessibleName("school of controller")
        self.school.setMaximumWidth(280)
        self.school.addItem("as its part is", "")
        for code, school in SCHOOLS.items():
            self.school.addItem(school.name, code)
        self.school.activated.connect(lambda k: self.put("school of controller", school=self.school.itemData(k)))
        self.words = soft_line("", 12)
        self.lines = scrolled()
        head = QHBoxLayout()
        head.setContentsMargins(8, 2, 8, 0)
        head.addWidget(self.school)
        head.addWidget(self.words, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 2, 0, 0)
        layout.setSpacing(2)
        layout.addLayout(head)
        layout.addWidget(self.lines, 1)
        self._shown: object = None

    def show_controller(self, found: ControllerStudy | None) -> None:
        super().show_controller(found)
        self.school.setCurrentIndex(max(self.school.findData(self.control().school), 0))
        if found is None:
            return
        self.words.setText(found.school.words)
        shown = (found.settings, self.session.unit_set, self.session.theme_name)
        if shown == self._shown or self._typing():
            return
        self._shown = shown
        self._build(found)

    def _typing(self) -> bool:
        """Whether somebody is in the middle of a line."""
        held = self.focusWidget()
        return isinstance(held, QLineEdit) and held.hasFocus() and held.isModified()

    def _build(self, found: ControllerStudy) -> None:
        area = self.lines.verticalScrollBar().value()
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(8, 2, 8, 4)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(3)
        grid.setColumnStretch(3, 1)
        row = 0
        for group, words in GROUPS:
            lines = [one for one in found.settings if one.group == group]
            if not lines:
                continue
            head = QLabel(words)
            head.setFont(font(12, 600))
            grid.addWidget(head, row, 0)
            row += 1
            for one in lines:
                self._row(grid, row, one)
                row += 1
        grid.setRowStretch(row, 1)
        swap_contents(self.lines, page)
        self.lines.verticalScrollBar().setValue(area)

    def _row(self, grid: QGridLayout, row: int, one: Setting) -> None:
        theme = THEMES[self.session.theme_name]
        name = QLabel(one.name)
        name.setFont(font(13))
        name.setFixedWidth(196)
        grid.addWidget(name, row, 0)
        between = ElidedLabel(self._between(one))
        between.setFont(font(12))
        between.setToolTip(self._between(one))
        between.setFixedWidth(220)
        because = soft_line(one.cannot or one.because, 12)
        because.setToolTip(one.cannot or one.because)
        if one.status is Status.OVER:
            between.setStyleSheet(f"color: {theme.of(Status.OVER).name()}")
        if one.cannot:
            gone = soft_line(f"{self._said(one, one.value)}, fixed" if one.told and one.value is not None else "not here", 12)
            grid.addWidget(gone, row, 1)
        elif one.options:
            grid.addWidget(self._choice(one), row, 1)
        else:
            grid.addWidget(self._field(one), row, 1)
        grid.addWidget(between, row, 2)
        grid.addWidget(because, row, 3)
        if one.overridden and one.proposed is not None and not one.cannot and one.path:
            back = QPushButton(self._said(one, one.proposed), flat=True, objectName=f"back-{one.key}")
            back.setToolTip(f"Worked out: {self._said(one, one.proposed)}. Take it")
            back.setAccessibleName(f"take {self._said(one, one.proposed)} for {one.name}")
            back.clicked.connect(partial(self._back, one))
            grid.addWidget(back, row, 4)

    def _said(self, one: Setting, value: object) -> str:
        if isinstance(value, (int, float)) and not isinstance(value, bool):
            return self.session.say(float(value), one.dimension)
        return dict(one.options).get(str(value), str(value or ""))

    def _between(self, one: Setting) -> str:
        low = f"{self._said(one, one.low)} {one.low_from}" if one.low is not None else ""
        high = f"{self._said(one, one.high)} {one.high_from}" if one.high is not None else ""
        if one.low is not None and one.low == one.high:
            return f"must be {self._said(one, one.low)}"
        return f"{low} … {high}" if low and high else f"up to {high}" if high else f"from {low} on" if low else ""

    def _field(self, one: Setting) -> QLineEdit:
        field = QLineEdit(objectName=f"set-{one.key}")
        field.setAccessibleName(one.name)
        field.setFixedWidth(112)
        shown = self._said(one, one.value) if one.value is not None else ""
        if one.told:
            field.setText(shown)
        else:
            field.setPlaceholderText(shown or "not known")
        field.editingFinished.connect(partial(self._typed, one, field))
        return field

    def _choice(self, one: Setting) -> QComboBox:
        box = QComboBox(objectName=f"set-{one.key}")
        box.setAccessibleName(one.name)
        proposed = dict(one.options).get(str(one.proposed), "")
        box.addItem(f"{proposed} ≈" if proposed else "not told", "")
        for code, words in one.options:
            box.addItem(words, code)
        box.setCurrentIndex(box.findData(one.value) if one.told else 0)
        box.setFixedWidth(150)
        box.activated.connect(lambda k, one=one, box=box: self.enter(one, box.itemData(k) or None))
        return box

    def _typed(self, one: Setting, field: QLineEdit) -> None:
        """Take what was typed; a refusal is told and the typing stays."""
        if not field.isModified():
            return
        text = field.text().strip()
        if one.key == "order":
            taken = self.enter(one, text or None)
        elif one.key == "reversed":
            taken = self._reversed(one, text)
        elif not text:
            if one.path.startswith("brief.") or one.key in ("motor_a", "pack_a"):
                self.session.told.emit(f"{one.name} has to be there: type a value, such as {self._said(one, one.value)}", True)
                refuse(field, True)
                return
            taken = self.enter(one, None)
        else:
            try:
                value = units.parse(text, one.dimension, self.session.unit_set, field=one.name)
            except InputError as refusal:
                self.session.told.emit(str(refusal), True)
                refuse(field, True)
                return
            taken = self.enter(one, value)
        refuse(field, not taken)
        field.setModified(not taken)

    def _reversed(self, one: Setting, text: str) -> bool:
        words = text.replace(",", " ").split()
        if any(not word.isdigit() for word in words):
            self.session.told.emit(f"{one.name} is “{text[:40]}”; accepted: numbers of motors, such as 2, or nothing", True)
            return False
        return self.enter(one, tuple(int(word) for word in words))

    def _back(self, one: Setting, _on: bool = False) -> None:
        value = one.proposed
        self.enter(one, float(value) if isinstance(value, int) and not isinstance(value, bool) else value)

    def focus_line(self, key: str) -> None:
        """Bring one line into view."""
        field = self.findChild(QWidget, f"set-{key}")
        if field is not None:
            self.lines.ensureWidgetVisible(field)
            field.setFocus(Qt.FocusReason.OtherFocusReason)
