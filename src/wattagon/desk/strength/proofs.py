"""The proof card of an element: what to hang, what to look for, what came of it, and the page to take to the workshop."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QFormLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QWidget

from wattagon import files
from wattagon.design.paths import Edit
from wattagon.design.tree import Proof
from wattagon.desk.fields import refuse, soft_line
from wattagon.desk.session import Session
from wattagon.desk.theme import font
from wattagon.errors import WattagonError
from wattagon.exchange.units import parse
from wattagon.study.strength.element import Element
from wattagon.study.strength.proof import ARM_KG, CAUTION, LEVER_M, look_for, proof_of, recorded
from wattagon.study.strength.study import StrengthStudy


class ProofCard(QWidget):
    """Of the element in hand."""

    def __init__(self, session: Session) -> None:
        super().__init__(objectName="proof-card")
        self._session = session
        self.found: StrengthStudy | None = None
        self.one: Element | None = None
        form = QFormLayout(self)
        form.setContentsMargins(8, 6, 8, 4)
        form.setVerticalSpacing(3)
        self.hang = QLabel(wordWrap=True)
        self.hang.setFont(font(13, 600))
        form.addRow(self.hang)
        caution = QLabel(CAUTION, wordWrap=True)
        caution.setProperty("voice", "soft")
        caution.setFont(font(12))
        form.addRow(caution)
        self.mass, self.lever = QLineEdit(objectName="proof-mass"), QLineEdit(objectName="proof-lever")
        self.mass.setAccessibleName("Mass that was hung")
        self.lever.setAccessibleName("Lever")
        self.warm = QLineEdit(objectName="proof-warm", placeholderText="cold")
        self.warm.setAccessibleName("Temperature of the part")
        line = QHBoxLayout()
        line.setSpacing(8)
        for field, words in ((self.mass, "hung"), (self.lever, "on a lever of"), (self.warm, "part at")):
            label = QLabel(words)
            label.setBuddy(field)
            line.addWidget(label)
            line.addWidget(field)
        form.addRow(line)
        row = QHBoxLayout()
        row.setSpacing(6)
        self.results: dict[str, QPushButton] = {}
        for result in ("held", "moved", "broke"):
            button = QPushButton(result, objectName=f"proof-{result}")
            button.clicked.connect(partial(self.proved, result))
            self.results[result] = button
            row.addWidget(button)
        self.fuse = QPushButton("is to go first", objectName="proof-fuse", checkable=True)
        self.fuse.setToolTip("The fuse of the drive: it is judged that it does go first")
        self.fuse.clicked.connect(self._fused)
        row.addWidget(self.fuse)
        row.addStretch(1)
        self.print_card = QPushButton("Card…", objectName="proof-print", flat=True)
        self.print_card.setToolTip("The proof card as PDF, with lines to fill in")
        self.print_card.clicked.connect(self.ask_card)
        row.addWidget(self.print_card)
        form.addRow(row)
        self.look = QLabel(wordWrap=True)
        self.look.setFont(font(12))
        form.insertRow(1, self.look)
        self.done = soft_line("", 12)
        form.addRow(self.done)

    def show_element(self, found: StrengthStudy | None, one: Element | None) -> None:
        """That element, of that study."""
        self.found, self.one, say = found, one, self._session.say
        test = proof_of(one, stock=self._session.stock) if one is not None else None
        if one is None or test is None:
            self.hang.setText("Not loaded by torque: nothing to hang on the wheel.")
        else:
            lever = say(test.lever_m, "length")
            cold = f", {say(test.cold_kg, 'mass')} cold for a part that works warm" if test.cold_kg > 1.05 * test.mass_kg else ""
            self.hang.setText(f"Hang {say(test.mass_kg, 'mass')}{cold} on a level arm of {lever}, {say(ARM_KG, 'mass')} itself.")
            for field, words in ((self.mass, say(test.mass_kg, "mass")), (self.lever, lever)):
                if not field.isModified():
                    field.setPlaceholderText(words)
        self.look.setText(look_for(one) if one is not None and test is not None else "")
        for part in (self.mass, self.lever, self.warm, self.print_card, *self.results.values()):
            part.setEnabled(test is not None)
        self.fuse.setEnabled(test is not None)
        self.fuse.setChecked(one is not None and self.found is not None and self.found.told.fuse == one.code)
        self.done.setText(one.proved if one is not None else "")

    def proved(self, result: str, _on: bool = False) -> None:
        """What a hung mass came to, with today's date; what is not typed is as it was asked."""
        one, session = self.one, self._session
        test = proof_of(one, stock=session.stock) if one is not None else None
        if one is None or test is None or self.found is None:
            return
        try:
            mass = parse(self.mass.text(), "mass", session.unit_set, field="mass") if self.mass.text().strip() else test.mass_kg
            lever = parse(self.lever.text(), "length", session.unit_set, field="lever") if self.lever.text().strip() else LEVER_M
            typed = self.warm.text().strip()
            warm = parse(typed, "temperature", session.unit_set, field="temperature of the part") if typed else None
            today = date.today().isoformat()
            proof = Proof(element=one.code, mass=round(mass, 3), lever=lever, arm_mass=ARM_KG, temperature=warm, result=result, date=today)
            session.apply(recorded(self.found, one, proof, session.say))
        except WattagonError as refusal:
            refuse(self.mass, True)
            session.told.emit(str(refusal), True)
            return
        refuse(self.mass, False)
        for field in (self.mass, self.lever, self.warm):
            field.clear()
            field.setModified(False)

    def ask_card(self) -> None:
        """Where to write the card of the element in hand."""
        if self.one is None:
            return
        name, _ = QFileDialog.getSaveFileName(self, "Save the proof card", f"proof-{self.one.code}.pdf", "PDF (*.pdf)")
        if name:
            self.save_card(Path(name))

    def save_card(self, path: Path) -> None:
        """The card into a file; a refusal is told."""
        from wattagon.exchange.proof_pdf import proof_card

        one, session = self.one, self._session
        if one is None or self.found is None:
            return
        try:
            files.write_bytes(path, proof_card(self.found, one.code, session.stock, session.unit_set))
        except WattagonError as refusal:
            session.told.emit(str(refusal), True)
            return
        session.told.emit(f"Written: {path}", False)

    def _fused(self, on: bool) -> None:
        one, found = self.one, self.found
        if one is not None and found is not None:
            label = f"{one.name} is {'' if on else 'no longer '}the fuse"
            told = replace(found.told, fuse=one.code if on else "")
            self._session.try_apply(Edit(label=label, changes=(("variant.strength", told),)))
