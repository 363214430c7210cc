"""The stand's controls: connect, arm, detect, leads to pull, the steps with their acceptance, faults to practise on, a recording."""

from __future__ import annotations

import random
from functools import partial
from pathlib import Path
from typing import cast

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QComboBox, QFileDialog, QGridLayout, QHBoxLayout, QLabel, QMenu, QPushButton, QVBoxLayout, QWidget

from wattagon import files
from wattagon.desk.controller.tab import Tab
from wattagon.desk.fields import ElidedLabel, lines_of_text, scrolled
from wattagon.desk.session import Session
from wattagon.desk.theme import THEMES, font
from wattagon.desk.work import Worker
from wattagon.errors import InputError, WattagonError
from wattagon.standins.faults import FAULTS
from wattagon.standins.protocol import rows_csv
from wattagon.standins.stand import LEADS, Stand
from wattagon.standins.steps import CAUTION, OVER, STEPS, Result, Step
from wattagon.study.controller.study import ControllerStudy

TICK_MS = 16
MOST_ROWS = 90000  # half an hour
BY_LOT = "by lot"


class StandTab(Tab):
    """Rehearse on a simulated controller and motor of this design."""

    title = "Test stand"
    changed = Signal(object)  # the stand, or None

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.stand: Stand | None = None
        self.results: dict[str, Result] = {}
        self.hidden = ""  # a fault by lot, that is to be found
        self.coupled = False
        self.detected = ""
        self._random = random.Random()
        self._timer = QTimer(self, interval=TICK_MS)
        self._timer.timeout.connect(self._tick)
        self._worker = Worker(self)
        self._worker.arrived.connect(self._done)
        session.closing.connect(self._worker.stop)
        self.buttons: dict[str, QPushButton] = {}
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(8, 4, 4, 2)
        column.setSpacing(4)
        self.words = lines_of_text("stand-words")
        column.addWidget(self.words)
        caution = QLabel(f"Caution on the real one: {CAUTION} {OVER}", wordWrap=True)
        caution.setFont(font(11))
        caution.setProperty("voice", "soft")
        for row in (
            (
                ("setup", "Set up anew", self.set_up),
                ("connect", "Connect", self.speak),
                ("arm", "Arm", self.arm),
                ("detect", "Detect", self.detect),
            ),
            (("low", "A fifth of the limits", self.low), ("full", "Full limits", self.full), ("mode", "By duty", self.mode)),
            (("coupled", "With the wheel", self.couple), ("take", "Take the lever's readings", self.take)),
        ):
            line = QHBoxLayout()
            for code, words, run in row:
                button = QPushButton(words, objectName=f"stand-{code}")
                button.clicked.connect(partial(self._press, run))
                self.buttons[code] = button
                line.addWidget(button)
            line.addStretch(1)
            column.addLayout(line)
        column.addLayout(self._leads())
        column.addLayout(self._practice())
        column.addWidget(caution)
        column.addStretch(1)
        self.steps = QWidget()
        self.rows: dict[str, tuple[QPushButton, ElidedLabel]] = {}
        self._list()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(2, 2, 2, 2)
        area = scrolled(left)
        area.setMinimumWidth(374)
        layout.addWidget(area, 5)
        layout.addWidget(scrolled(self.steps), 6)

    def _leads(self) -> QHBoxLayout:
        line = QHBoxLayout()
        menu = QMenu(self)
        for lead in LEADS:
            menu.addAction(lead, partial(self._press, partial(self.pull, lead)))
        pull = QPushButton("Pull a lead", objectName="stand-pull")
        pull.setMenu(menu)
        line.addWidget(pull)
        for code, words, run in (
            ("radio", "Radio off", self.radio),
            ("lanyard", "Pull lanyard", self.lanyard),
            ("record", "Save …", self.ask_save),
        ):
            button = QPushButton(words, objectName=f"stand-{code}")
            button.clicked.connect(partial(self._press, run))
            self.buttons[code] = button
            line.addWidget(button)
        self.buttons["record"].setToolTip("Save what was recorded as CSV")
        line.addStretch(1)
        return line

    def _practice(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self.fault = QComboBox(objectName="stand-fault")
        self.fault.setAccessibleName("what is wrong with the stand")
        self.fault.addItem("all is sound", "")
        self.fault.addItem("something, by lot", BY_LOT)
        self.answer = QComboBox(objectName="stand-answer")
        self.answer.setAccessibleName("what you think is wrong")
        self.answer.addItem("what is it?", "")
        for code, fault in FAULTS.items():
            self.fault.addItem(fault.name, code)
            self.answer.addItem(fault.name, code)
        self.fault.activated.connect(lambda _k: self._press(self.set_up))
        self.answer.activated.connect(lambda k: self.guess(self.answer.itemData(k)))
        for box in (self.fault, self.answer):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumContentsLength(13)
            line.addWidget(box)
        line.addStretch(1)
        return line

    def _list(self) -> None:
        grid = QGridLayout(self.steps)
        grid.setContentsMargins(4, 4, 4, 4)
        grid.setVerticalSpacing(2)
        grid.setColumnStretch(1, 1)
        for row, step in enumerate(STEPS):
            button = QPushButton(f"{step.code}  {step.name}", flat=True, objectName=f"step-{step.code}")
            button.setStyleSheet("text-align: left")
            button.setToolTip(f"{step.how}; accepted: {step.accept}")
            button.clicked.connect(partial(self.play, step))
            said = ElidedLabel(step.accept)
            said.setFont(font(12))
            said.setProperty("voice", "soft")
            grid.addWidget(button, row, 0)
            grid.addWidget(said, row, 1)
            self.rows[step.code] = (button, said)
        grid.setRowStretch(len(STEPS), 1)

    # life

    @property
    def busy(self) -> bool:
        """Whether a step or a detection is under way."""
        return self._worker.running

    def show_controller(self, found: ControllerStudy | None) -> None:
        super().show_controller(found)
        if self.stand is not None and (not self.session.docs or self.stand.design is not self.session.design) and not self.busy:
            if self.isVisible() and self.session.docs and self.session.study is not None:
                self.set_up()
            else:
                self._drop()

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        if self.stand is None and self.session.docs and self.session.study is not None:
            self.set_up()
        self._timer.start()

    def hideEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().hideEvent(event)
        self._timer.stop()

    def _drop(self) -> None:
        self._worker.cancel()
        self.stand = None
        self.changed.emit(None)

    def set_up(self) -> None:
        """A fresh stand of the design, with what is wrong by the box."""
        session, code = self.session, self.fault.currentData()
        self._worker.cancel()
        self.hidden = self._random.choice(list(FAULTS)) if code == BY_LOT else ""
        self.stand = Stand(
            session.design,
            session.stock,
            fault=self.hidden or code,
            seed=self._random.randint(1, 10**6),
            drive=session.study,
            coupled=self.coupled,
        )
        self.stand.keep = True
        self.results, self.detected = {}, ""
        self.answer.setCurrentIndex(0)
        self.answer.setEnabled(bool(self.hidden))
        for step in STEPS:
            self._say(step, None)
        self._told("Something is wrong with it: find it by its readings." if self.hidden else "A stand of this design: connect first.")
        self._buttons()
        self.changed.emit(self.stand)

    def _tick(self) -> None:
        """A sixtieth of a second of the stand's time."""
        if self.stand is None or self.busy:
            self.changed.emit(self.stand)
            return
        self.stand.run(TICK_MS / 1000.0)
        if len(self.stand.rows) > MOST_ROWS:
            del self.stand.rows[: MOST_ROWS // 10]
        self.changed.emit(self.stand)

    def _told(self, words: str) -> None:
        found = self.session.person.values.practised if self.session.person is not None else ()
        note = f"<br>found so far: {len(set(found) & set(FAULTS))} of {len(FAULTS)} faults" if found or self.hidden else ""
        self.words.setText(words + note)

    def _press(self, run, _on: bool = False) -> None:  # type: ignore[no-untyped-def]
        """Something that the stand may refuse."""
        if self.busy:
            self.session.told.emit("The stand is busy with a step", True)
            return
        try:
            run()
        except WattagonError as refusal:
            self._told(f"Refused: {refusal}")
            self.session.told.emit(str(refusal), True)
        self._buttons()
        self.changed.emit(self.stand)

    def _buttons(self) -> None:
        stand = self.stand
        if stand is None:
            return
        self.buttons["arm"].setText("Disarm" if stand.armed else "Arm")
        self.buttons["mode"].setText("By amps" if stand.settings["duty_mode"] > 0.5 else "By duty")
        self.buttons["coupled"].setText("Motor alone" if self.coupled else "With the wheel")
        self.buttons["radio"].setText("Radio off" if stand.radio else "Radio on")
        self.buttons["radio"].setEnabled(stand.throttle.kind == "pulse")
        self.buttons["lanyard"].setText("Pull lanyard" if stand.lanyard else "Lanyard in")

    def _need(self) -> Stand:
        if self.stand is None:
            raise InputError("stand", "not set up", "a stand that is set up")
        return self.stand

    # what is pressed

    def speak(self) -> None:
        """Connect."""
        self._need().connect()
        self._told("Connected: the lever at rest for half a second, then arm.")

    def arm(self) -> None:
        """Arm, or take it back."""
        stand = self._need()
        if stand.armed:
            stand.armed = False
            self._told("Not armed.")
            return
        stand.arm()
        self._told("Armed: drag the lever, or arrows up and down on the picture; space lets go.")

    def low(self) -> None:
        """A fifth of the limits."""
        stand = self._need()
        stand.write_low()
        self._told(f"Motor amps {stand.settings['motor_a']:g} A, pack amps {stand.settings['pack_a']:g} A written and read back.")

    def full(self) -> None:
        """The limits of the sheet."""
        stand = self._need()
        stand.write_full()
        self._told(f"Motor amps {stand.settings['motor_a']:g} A, pack amps {stand.settings['pack_a']:g} A written and read back.")

    def mode(self) -> None:
        """The lever asks for duty or for amps."""
        stand = self._need()
        stand.write("duty_mode", 0.0 if stand.settings["duty_mode"] > 0.5 else 1.0)

    def couple(self) -> None:
        """With reduction and wheel in the air, or the bare motor: a fresh stand."""
        self.coupled = not self.coupled
        self.set_up()
        self._told("With reduction and wheel, in the air." if self.coupled else "The motor alone, bolted down.")

    def take(self) -> None:
        """The lever's readings as they were recorded, for the throttle's window: pushed to both ends and let go before."""
        stand = self._need()
        self.put_throttle("readings taken from the stand", lever=stand.lever_seen())

    def pull(self, lead: str) -> None:
        """Off, or on again."""
        stand = self._need()
        if lead in stand.pulled:
            stand.plug(lead)
        else:
            stand.pull(lead)
        self._told(f"Off: {', '.join(sorted(stand.pulled)) or 'no lead'}.")

    def radio(self) -> None:
        """Off, or on again."""
        stand = self._need()
        stand.radio = not stand.radio

    def lanyard(self) -> None:
        """Out, or in again."""
        stand = self._need()
        stand.pull_lanyard(stand.lanyard)

    def push(self, share: float) -> None:
        """The lever."""
        stand = self.stand
        if stand is None or self.busy:
            return
        try:
            stand.push(share)
        except InputError as refusal:
            self._told(f"Refused: {refusal}")

    def detect(self) -> None:
        """The controller's routine, beside the window."""
        stand = self._need()
        self._told("Detecting: amps, a pulse, a spin.")

        def work(_cancelled) -> object:  # type: ignore[no-untyped-def]
            try:
                found = stand.detect()
            except InputError as refusal:
                return f"Refused: {refusal}"
            wanted = stand.forecast()
            codes = " ".join(map(str, found.codes))
            return (
                f"Resistance {1e3 * found.resistance_ohm:.2f} mΩ (forecast {1e3 * wanted['resistance_ohm']:.2f}), inductance "
                f"{1e6 * found.inductance_h:.1f} µH ({1e6 * wanted['inductance_h']:.1f}), flux {1e3 * found.flux_v_s:.3f} mV s "
                f"({1e3 * wanted['flux_v_s']:.3f}), codes {codes}"
            )

        self._worker.start(work)

    def play(self, step: Step, _on: bool = False) -> None:
        """One step, judged from its readings."""
        if self.stand is None or self.busy:
            self.session.told.emit("The stand is busy with a step" if self.busy else "Set up the stand first", True)
            return
        stand = self.stand
        stand.connect()
        self.rows[step.code][1].setText("running …")

        def work(_cancelled) -> object:  # type: ignore[no-untyped-def]
            try:
                return step, step.do(stand)
            except InputError as refusal:
                return step, Result(False, f"refused: {refusal}")

        self._worker.start(work)

    def _done(self, result: object) -> None:
        if isinstance(result, str):
            self.detected = result
            self._told(result)
        else:
            step, read = cast("tuple[Step, Result]", result)
            self.results[step.code] = read
            self._say(step, read)
            self._told(f"{step.code} {step.name}, {'passed' if read.passed else 'not passed'}: {read.words}")
        self._buttons()
        self.changed.emit(self.stand)

    def _say(self, step: Step, read: Result | None) -> None:
        label = self.rows[step.code][1]
        theme = THEMES[self.session.theme_name]
        if read is None:
            label.setText(step.accept)
            label.setStyleSheet("")
            return
        mark, ink = ("○", theme.clear) if read.passed else ("◆", theme.over)
        label.setText(f"{mark} {read.words}")
        label.setToolTip(f"{read.words}; accepted: {step.accept}")
        label.setStyleSheet(f"color: {ink.name()}")

    def guess(self, code: str) -> None:
        """What the learner thinks it is; the answer tells which reading showed it."""
        if not code or not self.hidden:
            return
        fault = FAULTS[self.hidden]
        if code != self.hidden:
            self._told(f"Not {FAULTS[code].name}: {FAULTS[code].words} - that is not what these readings show. Look again.")
            return
        person = self.session.person
        if person is not None and fault.code not in person.values.practised:
            person.change(practised=(*person.values.practised, fault.code))
        self._told(f"Yes, {fault.name}: {fault.words}.")

    # a recording

    def ask_save(self) -> None:
        """Where to write what was recorded."""
        name, _ = QFileDialog.getSaveFileName(self, "Save the recording", "stand.csv", "CSV (*.csv)")
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """The rows so far as CSV."""
        stand = self._need()
        files.write_bytes(path, rows_csv(stand).encode())
        self.session.told.emit(f"Written: {path}, {len(stand.rows)} rows", False)
