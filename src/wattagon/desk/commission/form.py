"""What is typed of the step in hand: its figures, whether it held, who, what the design takes of it."""

from __future__ import annotations

import datetime
import math
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wattagon.desk.fields import LEAST_PX, lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import InputError, WattagonError
from wattagon.exchange import units
from wattagon.exchange.commission_pdf import between, said
from wattagon.study.commission.enter import looked, read, sign, takes
from wattagon.study.commission.item import Read
from wattagon.study.commission.judge import Verdict, values
from wattagon.study.commission.study import HANDED, CommissionStudy, Done


class StepForm(QWidget):
    """Fields of one step."""

    trouble_asked = Signal(str)  # symptom
    stand_asked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.found: CommissionStudy | None = None
        self.code = ""
        self.fields: dict[str, QLineEdit] = {}
        self.reads: dict[str, Read] = {}
        self.area = scrolled()
        self.by = QLineEdit(objectName="commission-by", placeholderText="your name")
        self.by.setAccessibleName("who reads and signs")
        self.by.setFixedWidth(120)
        self.held = QPushButton("It held", checkable=True, objectName="commission-held")
        self.failed = QPushButton("It failed", checkable=True, objectName="commission-failed")
        self.held.clicked.connect(lambda on: self.look("held" if on else ""))
        self.failed.clicked.connect(lambda on: self.look("failed" if on else ""))
        self.takes = QPushButton("Take it into the design", objectName="commission-take")
        self.takes.clicked.connect(self.take)
        self.trouble = QPushButton("Find the cause", objectName="commission-trouble")
        self.trouble.clicked.connect(self._trouble)
        self.stand = QPushButton("Rehearse on the stand", flat=True, objectName="commission-stand")
        self.stand.clicked.connect(self.stand_asked)
        self.signs = QPushButton("", objectName="commission-sign")
        self.signs.clicked.connect(self.sign)
        self.left = lines_of_text("commission-left")
        row = QHBoxLayout()
        row.setContentsMargins(8, 4, 8, 0)
        for one in (self.held, self.failed, self.takes, self.trouble, self.stand):
            row.addWidget(one)
        row.addStretch(1)
        row.addWidget(self.by)
        row.addWidget(self.signs)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row)
        layout.addWidget(self.area, 1)
        self._shown: tuple[object, ...] | None = None

    @property
    def step(self) -> Done | None:
        """The one in hand."""
        return self.found.step(self.code) if self.found is not None and self.code else None

    @property
    def today(self) -> datetime.date:
        return datetime.date.today()

    def show_step(self, found: CommissionStudy | None, code: str) -> None:
        """Another step, or what was read of it anew."""
        self.found, self.code = found, code
        one = self.step
        self.setEnabled(one is not None)
        if found is None or one is None:
            return
        way = found.may(code)
        shown = (one.item.id, one.item.reads, self.session.unit_set, self.session.theme_name)
        if shown != self._shown and not (self._shown is not None and self._shown[0] == shown[0] and self._typing()):
            self._shown = shown
            self._build(one)
        for name, field in self.fields.items():
            if not (field.hasFocus() and field.isModified()):
                field.setText(self._text(self.reads[name], one))
            field.setEnabled(way)
        self.held.setVisible(one.item.looked)
        self.failed.setVisible(one.item.looked)
        fresh = not one.reopened
        self.held.setChecked(fresh and one.seen.verdict == "held")
        self.failed.setChecked(fresh and one.seen.verdict == "failed")
        self.held.setEnabled(way)
        self.failed.setEnabled(way)
        self.takes.setVisible(takes(found, one, self.today) is not None)
        self.trouble.setVisible(one.verdict is Verdict.FAILED and bool(one.item.symptom))
        self.stand.setVisible(one.item.rehearse)
        self._show_sign(found, one)

    def _typing(self) -> bool:
        """Whether somebody is in the middle of a figure."""
        return any(field.hasFocus() and field.isModified() for field in self.fields.values())

    def _show_sign(self, found: CommissionStudy, one: Done) -> None:
        stage = next(stage for stage in found.stages if stage.code == one.item.stage)
        missing = [step.item.id for step in stage.steps if step.item.applies and not step.passed]
        all_signed = all(part.signed is not None and not part.stale for part in found.stages)
        if not found.ready:
            self.signs.setText("Hand it over" if found.handed is None else "Handed over")
        else:
            self.signs.setText(f"Sign stage {stage.code}")
        self.signs.setEnabled(not missing)
        signed = f"Stage {stage.code} signed by {stage.signed.name} on {stage.signed.date}. " if stage.signed is not None else ""
        left = f"To do before stage {stage.code} can be signed: {', '.join(missing)}." if missing else ""
        hand = f"Handed over by {found.handed.name} on {found.handed.date}." if found.handed is not None and all_signed else ""
        self.left.setText(f"{signed}{left or hand}")

    def _build(self, one: Done) -> None:
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(8, 0, 8, 4)
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(3)
        self.fields, self.reads = {}, {}
        columns = 2 if len(one.item.reads) > 3 and all(read_.many == 1 for read_ in one.item.reads) else 1
        rows = -(-len(one.item.reads) // columns)
        for k, each in enumerate(one.item.reads):
            column, row = 3 * (k // max(rows, 1)), k % max(rows, 1)
            words = soft_line(each.words, 12)
            words.setMinimumWidth(max(words.fontMetrics().horizontalAdvance(each.words) + 2, LEAST_PX) if columns == 1 else 150)
            grid.addWidget(words, row, column)
            field = QLineEdit(objectName=f"read-{each.name}")
            field.setAccessibleName(each.words)
            hint = said(each, each.expects, self.session.unit_set) if math.isfinite(each.expects) else between(each, self.session.unit_set)
            field.setPlaceholderText(hint if each.many == 1 else f"{each.many} figures, apart by blanks")
            field.setToolTip(f"{between(each, self.session.unit_set)}: {each.comes}")
            field.setMinimumWidth(120 if each.many == 1 else 420)
            field.setMaximumWidth(180 if each.many == 1 else 700)
            field.editingFinished.connect(partial(self._typed, each, field))
            grid.addWidget(field, row, column + 1)
            if columns == 1:
                grid.addWidget(soft_line(each.comes, 12), row, column + 2)
            self.fields[each.name], self.reads[each.name] = field, each
        if not one.item.reads:
            look = QLabel("Look, then say whether it held.")
            look.setFont(font(13))
            grid.addWidget(look, 0, 0)
        grid.setColumnStretch(3 * columns - 1, 1)
        self.left = lines_of_text("commission-left")
        grid.addWidget(self.left, rows + 1, 0, 1, 3 * columns)
        grid.setRowStretch(rows + 2, 1)
        swap_contents(self.area, page)

    def _text(self, each: Read, one: Done) -> str:
        found = values(each, one.seen) if not one.reopened else []
        if not found:
            return ""
        if each.many == 1:
            return said(each, found[0], self.session.unit_set)
        shown = [units.number_text(value, each.dimension, self.session.unit_set) for value in found]
        unit = each.unit or units.unit_of(each.dimension, self.session.unit_set).text
        return f"{' '.join(shown)} {unit}".strip()

    # what a hand does

    def _typed(self, each: Read, field: QLineEdit) -> None:
        if field.isModified():
            self.enter(each.name, field.text())

    def enter(self, name: str, text: str) -> bool:
        """Figures as they are typed, with or without units; nothing takes them away.  Whether they were taken."""
        one, each, field = self.step, self.reads[name], self.fields[name]
        if one is None:
            return False
        try:
            figures = figures_of(each, text, self.session.unit_set)
            taken = self.session.try_apply(read(self.session.design, one, self.today, figures, self.by.text().strip()))
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            taken = False
        refuse(field, not taken)
        field.setModified(not taken)
        return taken

    def look(self, verdict: str) -> None:
        """It held, it failed, or neither yet."""
        one = self.step
        if one is not None:
            self.session.try_apply(looked(self.session.design, one, self.today, verdict, self.by.text().strip()))

    def take(self) -> None:
        """What it teaches, into the design as measured."""
        if self.found is not None and self.step is not None:
            edit = takes(self.found, self.step, self.today)
            if edit is not None:
                self.session.try_apply(edit)

    def sign(self) -> None:
        """The stage of the step in hand, or the hand-over once all is done."""
        found, one = self.found, self.step
        if found is None or one is None:
            return
        stage = HANDED if not found.ready else one.item.stage
        try:
            self.session.try_apply(sign(found, stage, self.by.text(), self.today))
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)

    def _trouble(self) -> None:
        one = self.step
        if one is not None and one.item.symptom:
            self.trouble_asked.emit(one.item.symptom)


def figures_of(each: Read, text: str, unit_set: str) -> dict[str, float | None]:
    """Figures by the names under which they are kept.  Raises InputError for what cannot be read, or too many."""
    text = text.strip()
    if not text:
        return dict.fromkeys(each.names)

    def parse(word: str) -> float:
        if each.unit and _plain(word):
            return float(word.replace(",", "."))
        return units.parse(_bare(word, each), each.dimension, unit_set, field=each.words)

    if each.many == 1:
        return {each.names[0]: parse(text)}
    words = text.replace(";", " ").split()
    unit = words.pop() if words and not any(c.isdigit() for c in words[-1]) else ""
    if len(words) > each.many:
        raise InputError(each.words, f"{len(words)} figures", f"up to {each.many}")
    figures = {name: parse(f"{word.rstrip(',')} {unit}".strip()) for name, word in zip(each.names, words, strict=False)}
    return {**dict.fromkeys(each.names), **figures}


def _plain(word: str) -> bool:
    try:
        float(word.replace(",", "."))
    except ValueError:
        return False
    return True


def _bare(word: str, each: Read) -> str:
    """Without a unit that only the sheet knows."""
    return word.removesuffix(each.unit).strip() if each.unit else word
