"""The bench of commissioning: the way of steps above, the figures of the step in hand below."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QWidget

from wattagon import files
from wattagon.design.paths import Edit
from wattagon.desk.bench import Bench
from wattagon.desk.commission.form import StepForm
from wattagon.desk.commission.picture import CommissionPicture
from wattagon.desk.fields import heading, soft_line
from wattagon.desk.following import Following
from wattagon.desk.session import Session
from wattagon.errors import WattagonError
from wattagon.study.commission.enter import told_of
from wattagon.study.commission.study import CommissionStudy, study_commission

HINT = (
    "Arrows go along the way; type what was read with any unit, Return takes it. A step that fails stops the way. "
    "Local rules and licensed practice come first."
)
FIRST_WORDS = "Ranges are worked out from the design."
KINDS = "Sheet with boxes (*.pdf);;Hand-over page (*.handover.pdf)"


class CommissionBench(Following, Bench):
    """Steps with acceptance numbers, readings, signatures."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("commission-bench")
        self.drawing = CommissionPicture(session)
        self.picture = self.drawing
        self.form = StepForm(session)
        self.headline = soft_line()
        head = QHBoxLayout()
        head.addWidget(heading("Commission"))
        head.addWidget(self.headline, 1)
        self.put_together(head, self.drawing, self.form, (380, 190), HINT)
        self.drawing.chosen_changed.connect(lambda code: self.form.show_step(self.found, code))
        self.form.trouble_asked.connect(lambda symptom: self.asked.emit("trouble", symptom))
        self.form.stand_asked.connect(lambda: self.asked.emit("controller", "test"))
        for signal in (session.design_changed, session.looks_changed):
            signal.connect(self.followed)
        session.schedule.arrived.connect(lambda code: self.followed() if code == "commission" else None)
        self.found: CommissionStudy | None = None
        self._behind = True

    @property
    def busy(self) -> bool:
        return self._session.schedule.busy

    def refresh(self) -> None:
        session = self._session
        session.schedule.hurry("commission")
        self.found, problem = None, FIRST_WORDS
        if not session.docs or session.study is None:
            problem = session.problem or "No vehicle is open."
        else:
            arrived = session.schedule.results.get("commission")
            study = arrived.study if arrived is not None else None
            if (
                study is not None
                and study.design.vehicle.name == session.design.vehicle.name
                and study.design.active == session.design.active
            ):
                self.found = study_commission(study.grounds, session.design)
        self.drawing.show_commission(self.found, problem)
        self.form.show_step(self.found, self.drawing.chosen)
        self.headline.setText(self._says())

    def _says(self) -> str:
        found = self.found
        if found is None:
            return ""
        held = sum(one.passed for one in found.applying)
        if found.stopped is not None:
            return f"{held} of {len(found.applying)} held; {found.stopped.item.id} failed and stops the way"
        again = sum(bool(one.reopened) for one in found.applying)
        more = f", {again} to be done again" if again else ""
        volts = found.grounds.told.of("A2").value("pack")
        at = f"ranges at {self._session.say(volts, 'voltage')}, as read" if volts is not None else "ranges at half charge until A2 is read"
        return f"{held} of {len(found.applying)} held{more}; {at}"

    # what the menus offer

    def ask_save(self, ending: str = ".pdf") -> None:
        """Where to."""
        name, chosen = QFileDialog.getSaveFileName(self, "Save the sheet", f"commissioning{ending}", KINDS)
        if name:
            self.save(Path(name), hand_over="handover" in (chosen or "") or "handover" in name)

    def save(self, path: Path, *, hand_over: bool = False) -> None:
        """The sheet with boxes, or the page that is handed over."""
        from wattagon.exchange.commission_pdf import commission_pdf, handover_pdf

        if self.found is None:
            self._session.told.emit("The sheet is still being worked out", True)
            return
        make = handover_pdf if hand_over else commission_pdf
        try:
            files.write_bytes(path, make(self.found, self._session.unit_set))
        except WattagonError as refusal:
            self._session.told.emit(str(refusal), True)
            return
        self._session.told.emit(f"Written: {path}", False)

    def ask_firmware(self) -> None:
        """Another firmware reopens what rests on it."""
        if not self._session.docs:
            return
        told = told_of(self._session.design)
        text, good = QInputDialog.getText(self, "Firmware of the controllers", "In your own words, such as 6.2 of May", text=told.firmware)
        if good:
            self.firmware(text)

    def firmware(self, text: str) -> None:
        """As it is now."""
        told = replace(told_of(self._session.design), firmware=text.strip())
        self._session.try_apply(Edit(label="Firmware", changes=(("variant.commissioning", told),)))

    # what the window asks

    def show_target(self, what: str) -> None:
        self.refresh()
        stage = next((one for one in self.found.stages if one.code == what), None) if self.found is not None else None
        if stage is not None:
            steps = [one for one in stage.steps if one.item.applies]
            self.drawing.choose(next((one for one in steps if not one.passed), steps[0]).item.id)
        elif self.found is not None and any(one.item.id == what for one in self.found.applying):
            self.drawing.choose(what)

    def table(self) -> list[list[str]]:
        if self.found is None:
            return []
        rows = [["step", "accepted", "verdict", "date", "by"]]
        for one in self.found.applying:
            rows.append([f"{one.item.id} {one.item.title}", one.item.accept, one.verdict.value, one.seen.date, one.seen.by])
        return rows
