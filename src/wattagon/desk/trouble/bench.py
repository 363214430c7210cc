"""The bench of trouble: causes around the symptom, the test that decides below, answers so far, and cures."""

from __future__ import annotations

import datetime
import random
from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QInputDialog, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wattagon.desk.bench import Bench
from wattagon.desk.fields import beside, heading, lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.following import Following
from wattagon.desk.passing import swap_contents
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.desk.trouble.picture import TroublePicture
from wattagon.desk.trouble.rehearsal import Hidden, hide
from wattagon.desk.work import Worker
from wattagon.errors import WattagonError
from wattagon.exchange import units
from wattagon.study.commission.study import study_commission
from wattagon.study.drive.cases import strongest
from wattagon.study.findings.finding import Cure
from wattagon.study.studies import findings_of
from wattagon.study.trouble.deciding import Deciding
from wattagon.study.trouble.study import (
    Looked,
    TroubleStudy,
    answer,
    ask,
    close,
    shows_at,
    study_trouble,
    symptoms_of,
    taken_as_variant,
)

HINT = "Choose what is seen, then answer the test: causes move away or come near. Change one thing at a time, the cheapest test first."
MOST_LETTERS = 34  # of a change on its button; all of it in its tip
ASK = "Choose what is seen: its likely causes for this design stand around it then."


class TroubleBench(Following, Bench):
    """From a symptom to its cause."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("trouble-bench")
        self.drawing = TroublePicture(session)
        self.picture = self.drawing
        self.symptom = QComboBox(objectName="symptom")
        self.symptom.setAccessibleName("what is seen")
        self.symptom.setMinimumWidth(330)
        self.symptom.setMaxVisibleItems(40)
        self.symptom.activated.connect(self._asked_for)
        self.speed = QLineEdit(objectName="shows-at", placeholderText="at which speed")
        self.speed.setAccessibleName("speed at which it shows")
        self.speed.setFixedWidth(120)
        self.speed.editingFinished.connect(self._speed)
        self.rehearse = QPushButton("Rehearse", checkable=True, objectName="trouble-rehearse")
        self.rehearse.setToolTip("A fault hides on the test stand: find it")
        self.rehearse.clicked.connect(self.hide_fault)
        self.headline = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Trouble"))
        head.addWidget(self.symptom)
        head.addWidget(self.speed)
        head.addWidget(self.headline, 1)
        head.addWidget(self.rehearse)
        self.test_area, self.cause_area = scrolled(), scrolled()
        below = beside(self.test_area, self.cause_area, stretch=(5, 4), widths=(470, 380))
        self.put_together(head, self.drawing, below, (360, 210), HINT)
        self.drawing.chosen_changed.connect(lambda _code: self._show_cause())
        self.drawing.asked.connect(self.ask)
        for signal in (session.design_changed, session.looks_changed, session.findings_changed):
            signal.connect(self.followed)
        session.schedule.arrived.connect(lambda _code: self.followed())
        self.found: TroubleStudy | None = None
        self.hidden: Hidden | None = None
        self.rehearsed: list[tuple[str, str]] = []  # answers of the stand; the design keeps nothing of them
        self._worker = Worker(self)
        self._worker.arrived.connect(self._hidden)
        session.closing.connect(self._worker.stop)
        self._behind = True

    @property
    def busy(self) -> bool:
        return self._session.schedule.busy or self._worker.running

    @property
    def today(self) -> datetime.date:
        return datetime.date.today()

    def looked(self) -> Looked | None:
        """What causes are weighed by: everything that the studies have found so far."""
        session, results = self._session, self._session.schedule.results
        if not session.docs or session.study is None:
            return None
        design = strongest(session.design)
        commission = results.get("commission")
        same = lambda other: other is not None and (other.design.vehicle.name, other.design.active) == (design.vehicle.name, design.active)
        steps = commission.study if commission is not None and same(commission.study) else None
        return Looked(
            design=design,
            drive=session.study,
            layout=commission.layout if commission is not None and steps is not None else None,
            findings=tuple(session.findings) or tuple(one for result in results.values() for one in findings_of(result)),
            commission=study_commission(steps.grounds, session.design) if steps is not None else None,
            today=self.today,
        )

    def refresh(self) -> None:
        session = self._session
        self.found, problem = None, ASK
        looked = self.looked()
        if looked is None:
            problem = session.problem or "No vehicle is open."
        else:
            self._fill(looked)
            inquiry = session.design.variant().inquiry
            if self._worker.running:
                problem = "A fault is being hidden on the stand."
            elif self.hidden is not None:
                self.found = study_trouble(replace(looked, findings=(), commission=None), self.hidden.symptom, self.rehearsed, stand=True)
            elif inquiry is not None and inquiry.symptom:
                try:
                    told = [(one.test, one.answer) for one in inquiry.answers]
                    self.found = study_trouble(looked, inquiry.symptom, told, inquiry.speed)
                except WattagonError as refusal:
                    problem = str(refusal)
        self.drawing.show_trouble(self.found, problem, symptoms_of(looked.design) if looked is not None and problem == ASK else ())
        vibrates = self.found is not None and self.found.symptom.code == "vibration" and self.hidden is None
        self.symptom.setEnabled(not self.rehearse.isChecked())
        self.speed.setVisible(vibrates)
        inquiry = session.design.variant().inquiry if looked is not None else None
        if vibrates and inquiry is not None and not self.speed.isModified():
            self.speed.setText("" if inquiry.speed is None else session.say(inquiry.speed, "speed"))
        self.headline.setText(self._says())
        self._show_test()
        self._show_cause()

    def _fill(self, looked: Looked) -> None:
        """Symptoms by when they show."""
        able = symptoms_of(looked.design)
        if self.symptom.count() != len(able) + 1 or self.symptom.itemData(1) != able[0].code:
            self.symptom.clear()
            self.symptom.addItem("what is seen …", "")
            for one in able:
                self.symptom.addItem(f"{one.words}  ({one.when})", one.code)
        inquiry = self._session.design.variant().inquiry
        seen = self.hidden.symptom if self.hidden is not None else inquiry.symptom if inquiry is not None else ""
        self.symptom.setCurrentIndex(max(self.symptom.findData(seen), 0))

    def _says(self) -> str:
        found = self.found
        if found is None:
            return ""
        best = found.found
        if self.hidden is not None:
            return f"Rehearsal: {len(found.answered)} answered" + (f"; {best.cause.name}?" if best is not None else "")
        if best is not None:
            return f"{best.cause.name}, {best.weight:.0%}: cure it, then test again"
        many = len(found.answered)
        return f"{len(found.causes)} causes, {many or 'no'} test{'' if many == 1 else 's'} answered"

    def _show_test(self) -> None:
        """The next test large, with its caution and answers; those that were answered below."""
        found, theme = self.found, THEMES[self._session.theme_name]
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(8, 4, 8, 4)
        box.setSpacing(4)
        if found is not None:
            box.addWidget(heading("The test that decides" if found.next is not None else "No test tells more"))
            if found.next is not None:
                self._test(box, found.next, theme.tight.name())
            if found.answered:
                box.addWidget(soft_line("answered", 12))
            for test, said in found.answered:
                row = QHBoxLayout()
                words = soft_line(f"{test.how}: {test.answers[said]}", 12)
                words.setToolTip(f"{test.how}: {test.answers[said]}")
                row.addWidget(words, 1)
                if self.hidden is None:
                    back = QPushButton("take back", flat=True, objectName=f"back-{test.code}")
                    back.clicked.connect(partial(self.answer, test.code, ""))
                    row.addWidget(back)
                box.addLayout(row)
        box.addStretch(1)
        swap_contents(self.test_area, page)

    def _test(self, box: QVBoxLayout, test: Deciding, amber: str) -> None:
        how = QLabel(f"{test.how}.  {test.minutes:g} min", wordWrap=True, objectName="test-how")
        how.setFont(font(14))
        box.addWidget(how)
        if test.caution:
            caution = QLabel(f"Caution: {test.caution}", wordWrap=True)
            caution.setFont(font(12, 600))
            caution.setStyleSheet(f"color: {amber}")
            box.addWidget(caution)
        if self.hidden is not None:
            do = QPushButton("Do it on the stand", objectName="trouble-do")
            do.clicked.connect(self.do_on_stand)
            box.addWidget(do)
            return
        grid = QGridLayout()
        grid.setSpacing(4)
        for k, (code, words) in enumerate(test.answers.items()):
            button = QPushButton(words[0].upper() + words[1:], objectName=f"answer-{code}")
            button.clicked.connect(partial(self.answer, test.code, code))
            grid.addWidget(button, k // 2, k % 2)
        box.addLayout(grid)

    def _show_cause(self) -> None:
        """The chosen cause: all that speaks, its cure, changes of the design, and a way to close."""
        one = self.drawing.cause
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(8, 4, 8, 4)
        box.setSpacing(4)
        if one is not None and self.found is not None:
            box.addWidget(heading(f"{one.cause.name}, {one.weight:.0%}"))
            text = lines_of_text("cause-evidence")
            said = [f"{'for' if each.factor > 1.0 else 'against'}: {each.words}" for each in one.evidence]
            said = said or ["nothing of this design speaks"]
            text.setText("\n".join([*said, f"Cure: {one.cause.cure}"]))
            box.addWidget(text)
            for _, cure in self.found.cures(one.cause)[:3]:
                short = cure.text if len(cure.text) <= MOST_LETTERS else f"{cure.text[:MOST_LETTERS].rstrip()} …"
                button = QPushButton(f"As a variant: {short}", flat=True, objectName="take-variant")
                button.setToolTip(f"{cure.text}: {cure.effect}")
                button.clicked.connect(partial(self.take, cure))
                box.addWidget(button)
            done = QPushButton("This was it: into the history …" if self.hidden is None else "Is it this?", objectName="trouble-close")
            done.clicked.connect(self.ask_close if self.hidden is None else self.guess)
            box.addWidget(done)
        box.addStretch(1)
        swap_contents(self.cause_area, page)

    # a rehearsal on the stand

    def hide_fault(self, on: bool) -> None:
        """Hide a fault that this design can have, or end the rehearsal."""
        session = self._session
        self.hidden, self.rehearsed = None, []
        self._worker.cancel()
        if on and session.docs and session.study is not None:
            design, stock, drive = session.design, session.stock, session.study
            self._worker.start(lambda cancelled: hide(design, stock, drive, random.Random(), cancelled))
        self.rehearse.setChecked(on)
        self.refresh()

    def _hidden(self, found: object) -> None:
        if isinstance(found, Hidden) and self.rehearse.isChecked():
            self.hidden = found
        self.refresh()

    def do_on_stand(self) -> None:
        """The test that decides, done on the stand."""
        if self.hidden is not None and self.found is not None and self.found.next is not None:
            self.rehearsed.append((self.found.next.code, self.hidden.answer(self.found.next.code)))
            self.refresh()

    def guess(self) -> None:
        """Whether the chosen cause is what was hidden."""
        if self.hidden is None:
            return
        if self.drawing.chosen != self.hidden.cause.code:
            self._session.told.emit("Not that one: ask further", True)
            return
        many = len(self.rehearsed)
        told = f"Found after {many} test{'' if many == 1 else 's'}: {self.hidden.cause.name}; {self.hidden.words}"
        self.hide_fault(False)
        self._session.told.emit(told, False)

    # what a hand does

    def _asked_for(self, index: int) -> None:
        self.ask(self.symptom.itemData(index) or "")

    def ask(self, symptom: str) -> None:
        """Begin with a symptom; nothing: none is looked into."""
        session = self._session
        now = session.design.variant().inquiry
        if not symptom or (now is not None and now.symptom == symptom):
            return
        session.try_apply(ask(session.design, symptom, self.today))

    def answer(self, test: str, said: str, _on: bool = False) -> None:
        """What a test gave; an empty answer takes it back."""
        self._session.try_apply(answer(self._session.design, test, said))

    def _speed(self) -> None:
        text = self.speed.text().strip()
        if not self.speed.isModified():
            return
        try:
            value = units.parse(text, "speed", self._session.unit_set, field="speed at which it shows") if text else None
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            refuse(self.speed, True)
            return
        self.speed.setModified(False)
        refuse(self.speed, not self._session.try_apply(shows_at(self._session.design, value)))

    def take(self, cure: Cure, _on: bool = False) -> None:
        """A change of the design, as a variant beside the present one."""
        self._session.try_apply(taken_as_variant(self._session.design, cure.edit))

    def ask_close(self) -> None:
        """What was done about it."""
        one = self.drawing.cause
        if one is None:
            return
        text, good = QInputDialog.getText(self, one.cause.name, "What was done about it", text=one.cause.cure)
        if good:
            self.close_with(text)

    def close_with(self, cured: str) -> None:
        """Cause and cure into the history."""
        if self.found is not None and self.drawing.chosen:
            self._session.try_apply(close(self.found, self.drawing.chosen, cured, self.today))

    # what the window asks

    def show_target(self, what: str) -> None:
        self.refresh()
        if self.symptom.findData(what) > 0:
            self.ask(what)

    def table(self) -> list[list[str]]:
        if self.found is None:
            return (
                [["what is seen", "when"], *([one.words, one.when] for one in symptoms_of(self._session.design))]
                if self._session.docs
                else []
            )
        rows = [["cause", "weight", "what speaks", "cure"]]
        for one in self.found.causes:
            rows.append([one.cause.name, f"{one.weight:.0%}", "; ".join(each.words for each in one.evidence), one.cause.cure])
        return rows
