"""Water and dirt: a picture of all places against what keeps water out, fields of the chosen one, and what to do after a dunking."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PySide6.QtWidgets import QComboBox, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from wattagon.design.paths import Edit
from wattagon.design.quantity import Known, Quantity
from wattagon.design.tree import Wet, WetPlace
from wattagon.design.tree.wet import DROPPED, LEAK_TESTS, METALS, SHUT, YES_NO
from wattagon.desk.build.tab import Tab
from wattagon.desk.chart.found_picture import FoundPicture
from wattagon.desk.chart.ink import elided, pen, put_text, status_mark, text_width
from wattagon.desk.fields import heading, lines_of_text, refuse, scrolled, soft_line
from wattagon.desk.session import Session
from wattagon.desk.theme import Theme, font
from wattagon.errors import WattagonError
from wattagon.exchange import units
from wattagon.study.wet.study import Place, WetStudy, study_wet

COLUMNS = (
    ("shut", "shut"),
    ("seal", "seal"),
    ("squeeze", "squeezed"),
    ("glands", "glands"),
    ("potted", "strands"),
    ("drain", "drain, vent"),
    ("leak", "leak test"),
    ("metals", "metals"),
    ("coated", "coat"),
    ("kick_plate", "kick plate"),
    ("dropped", "dropped"),
)
NAMES = 150.0


class WetPicture(FoundPicture):
    """Places in rows, what keeps water out in columns; each mark says how it stands."""

    found: WetStudy | None = None

    chosen_changed = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session, "wet-picture", "Water and dirt, place by place", 150)
        self.chosen = "pack"
        self._rows: list[tuple[QRectF, str]] = []

    def show_wet(self, found: WetStudy | None, problem: str = "") -> None:
        """Another result."""
        self.found, self.problem = found, problem
        if found is not None and self.chosen not in {one.code for one in found.places}:
            self.chosen = found.places[0].code
        self.update()

    def spoken(self) -> str:
        """Its values as text."""
        if self.found is None:
            return self.problem
        told = (
            f"{one.name}: {'; '.join(f'{said.status.value} {said.words}' for said in one.said) or 'nothing asked'}"
            for one in self.found.places
        )
        return ". ".join(told)

    def draw(self, p: QPainter, theme: Theme, rect: QRectF, found: WetStudy) -> None:
        self._rows = []
        face = font(12)
        how = "on the water" if found.design.vehicle.kind.floats else "ridden wet" if found.wet else "ridden dry"
        dirt = ", dusty" if found.dusty else ""
        words = f"{how.capitalize()}{dirt}{', salt' if found.salt else ''}: what is not stated is not checked"
        if not found.wet and not found.dusty:
            words = "Ridden dry by the brief: nothing is asked. Say there that it is ridden wet or dusty, and this is."
        p.setPen(theme.ink)
        put_text(p, rect.left() + 14, rect.top() + 20, elided(words, font(13, 600), rect.width() - 28), font(13, 600))
        top = rect.top() + 58
        wide = (rect.width() - NAMES - 28) / len(COLUMNS)
        tall = min((rect.bottom() - top - 8) / max(len(found.places), 1), 34.0)
        p.setPen(theme.soft)
        for k, (_, name) in enumerate(COLUMNS):
            x = rect.left() + 14 + NAMES + (k + 0.5) * wide
            put_text(p, x - 0.5 * text_width(name, face), top - 8, name, face)
        for r, place in enumerate(found.places):
            row = QRectF(rect.left() + 6, top + r * tall, rect.width() - 12, tall)
            self._rows.append((row, place.code))
            if place.code == self.chosen:
                p.fillRect(row, theme.chosen)
            p.setPen(pen(theme.rule, 1.0))
            p.drawLine(QPointF(row.left(), row.bottom()), QPointF(row.right(), row.bottom()))
            p.setPen(theme.ink)
            put_text(p, rect.left() + 14, row.center().y() + 4.5, elided(place.name, face, NAMES - 10), face)
            said = {one.code: one for one in place.said}
            for k, (code, _) in enumerate(COLUMNS):
                if code in said:
                    status_mark(p, QPointF(rect.left() + 14 + NAMES + (k + 0.5) * wide, row.center().y()), said[code].status, theme, 6.0)

    def choose(self, code: str) -> None:
        """Another place in hand."""
        self.chosen = code
        self.update()
        self.chosen_changed.emit(code)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        code = next((code for box, code in self._rows if box.contains(event.position())), "")
        if code:
            self.choose(code)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        codes = [code for _, code in self._rows]
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.chosen in codes:
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.choose(codes[(codes.index(self.chosen) + step) % len(codes)])
        else:
            super().keyPressEvent(event)


CHOICES: tuple[tuple[str, str, tuple[str, ...]], ...] = (
    ("shut", "shut against", SHUT),
    ("seal", "seal", YES_NO),
    ("glands", "glands", YES_NO),
    ("potted", "strands filled", YES_NO),
    ("drain", "drain", YES_NO),
    ("vent", "vent or gel", YES_NO),
    ("metals", "metals that meet", METALS),
    ("coated", "coated", YES_NO),
    ("kick_plate", "kick plate", YES_NO),
    ("dropped", "dropped, it", DROPPED),
    ("tested", "leak test by", LEAK_TESTS),
    ("dry", "dry after", YES_NO),
)
NUMBERS: tuple[tuple[str, str, str], ...] = (
    ("squeeze", "seal squeezed by", "share"),
    ("volume", "air, litres", "number"),
    ("drop", "pressure lost", "pressure"),
    ("seconds", "in", "time"),
)


class WetTab(Tab):
    """Fields of the chosen place; the picture stands above."""

    title = "Water and dirt"

    def __init__(self, session: Session, picture: WetPicture) -> None:
        super().__init__(session)
        self.picture = picture
        picture.chosen_changed.connect(lambda _code: self._show())
        self.wet: WetStudy | None = None
        self.name = heading("")
        self.said = lines_of_text("wet-said")
        self.after = lines_of_text("wet-after")
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(3)
        self.boxes: dict[str, QComboBox] = {}
        self.fields: dict[str, QLineEdit] = {}
        for k, (key, words, options) in enumerate(CHOICES):
            grid.addWidget(soft_line(words, 12), k // 4, 2 * (k % 4))
            box = QComboBox(objectName=f"wet-{key}")
            box.setAccessibleName(words)
            for option in options:
                box.addItem(option or "not told", option)
            box.activated.connect(partial(self._chosen, key))
            self.boxes[key] = box
            grid.addWidget(box, k // 4, 2 * (k % 4) + 1)
        for k, (key, words, dimension) in enumerate(NUMBERS):
            grid.addWidget(soft_line(words, 12), 3, 2 * k)
            field = QLineEdit(objectName=f"wet-{key}")
            field.setAccessibleName(words)
            field.setFixedWidth(88)
            field.editingFinished.connect(partial(self._typed, key, dimension, field))
            self.fields[key] = field
            grid.addWidget(field, 3, 2 * k + 1)
        page = QWidget()
        inner = QVBoxLayout(page)
        inner.setContentsMargins(8, 4, 8, 4)
        inner.setSpacing(4)
        for one in (self.name, self.said):
            inner.addWidget(one)
        inner.addLayout(grid)
        inner.addWidget(heading("After a dunking"))
        inner.addWidget(self.after)
        inner.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolled(page))

    @property
    def place(self) -> Place | None:
        """The chosen one."""
        return next((one for one in self.wet.places if one.code == self.picture.chosen), None) if self.wet is not None else None

    def refresh(self) -> None:
        """Worked out at once: it is quick."""
        session = self.session
        self.wet = study_wet(session.design, session.study) if session.docs and session.study is not None else None
        self.picture.show_wet(self.wet, session.problem or "No vehicle is open.")
        self._show()

    def _show(self) -> None:
        place = self.place
        self.setEnabled(place is not None)
        if place is None or self.wet is None:
            return
        self.name.setText(place.name[0].upper() + place.name[1:])
        by: dict[str, list[str]] = {}
        for one in place.said:
            by.setdefault(one.status.value.replace("_", " "), []).append(f"{one.words} ({one.cure})" if one.cure else one.words)
        self.said.setText("\n".join(f"{status}: {'; '.join(words)}" for status, words in by.items()) or "Nothing is asked of it here.")
        for key, box in self.boxes.items():
            box.setCurrentIndex(max(box.findData(getattr(place.told, key)), 0))
        for key, _, dimension in NUMBERS:
            value = getattr(place.told, key)
            field = self.fields[key]
            if not (field.hasFocus() and field.isModified()):
                field.setText(
                    "" if value is None else f"{value.value:g}" if dimension == "number" else self.session.say(value.value, dimension)
                )
        rows = "\n".join(f"{part.capitalize()}: {words}" for part, words in self.wet.dunking)
        self.after.setText(f"{rows}\nLocal rules and those who know come first.")

    def _put(self, label: str, **changes: object) -> bool:
        design, code = self.session.design, self.picture.chosen
        told = design.variant().wet or Wet()
        place = replace(told.place(code), **changes)  # type: ignore[arg-type]
        kept = tuple(one for one in told.places if one.id != code)
        empty = place == WetPlace(id=code)
        wet = replace(told, places=kept if empty else (*kept, place))
        return self.take(lambda: Edit(label=label, changes=(("variant.wet", wet),)))

    def _chosen(self, key: str, index: int) -> None:
        words = {name: words for name, words, _ in CHOICES}[key]
        self._put(f"{self.picture.chosen}: {words}", **{key: self.boxes[key].itemData(index) or ""})
        self.refresh()

    def _typed(self, key: str, dimension: str, field: QLineEdit) -> None:
        if not field.isModified():
            return
        text, words = field.text().strip(), {name: words for name, words, _ in NUMBERS}[key]
        try:
            value = (
                None if not text else Quantity(value=units.parse(text, dimension, self.session.unit_set, field=words), known=Known.MEASURED)
            )
        except WattagonError as refusal:
            self.session.told.emit(str(refusal), True)
            refuse(field, True)
            return
        taken = self._put(f"{self.picture.chosen}: {words}", **{key: value})
        refuse(field, not taken)
        field.setModified(not taken)
        if taken:
            self.refresh()
