"""Hall sensors: where they sit, how they are let in, whether the controller learns, and the codes as they came."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton

from wattagon.design.paths import Edit
from wattagon.desk.fields import lines_of_text
from wattagon.desk.session import Session
from wattagon.desk.winding.tab import Tab, beside_words, field_grid, put_entry, small
from wattagon.errors import InputError
from wattagon.exchange import units
from wattagon.physics.winding.halls import parse_codes
from wattagon.study.winding.enter import halls, told_of
from wattagon.study.winding.study import WindingStudy

CHOICES: tuple[tuple[str, str, tuple[tuple[object, str], ...]], ...] = (
    ("spacing", "electrical spacing", ((None, "120°, typical"), (120, "120°"), (60, "60°, middle one inverted"))),
    ("learns", "controller learns the table", (("", "not told"), ("yes", "yes"), ("no", "no, it is fixed"))),
    ("seat", "let in by", (("", "not told"), ("tape", "tape, nothing ground"), ("ground", "grinding"))),
)


def _teeth(openings: tuple[int, ...]) -> str:
    """Openings by the tooth before each, counted from 1."""
    return "-".join(str(one + 1) for one in openings)


class HallsTab(Tab):
    """Sensors."""

    title = "Sensors"

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        page, grid = field_grid()
        self.boxes: dict[str, QComboBox] = {}
        for r, (name, words, choices) in enumerate(CHOICES):
            box = QComboBox(objectName=f"halls-{name}")
            box.setAccessibleName(words)
            for value, text in choices:
                box.addItem(text, value)
            box.activated.connect(partial(self._picked, name))
            grid.addWidget(small(words), r, 0)
            grid.addWidget(box, r, 1)
            self.boxes[name] = box
        self.openings = put_entry(grid, 3, 0, session, "halls-openings", "H1 H2 H3 after teeth", self._openings, 170)
        self.offsets = put_entry(grid, 4, 0, session, "halls-offsets", "off their middle by", self._offsets, 170)
        self.codes = put_entry(grid, 5, 0, session, "halls-codes", "codes as they came", self._codes, 330)
        self.exact = QPushButton("Take the nearest exact ones", objectName="halls-exact")
        self.exact.clicked.connect(self.take_exact)
        grid.setRowStretch(6, 1)
        self.words = lines_of_text("halls-words")
        beside_words(QHBoxLayout(self), page, self.words, self.exact)

    def show_winding(self, found: WindingStudy | None) -> None:
        super().show_winding(found)
        if not self.session.docs:
            return
        told = told_of(self.session.design).halls
        for name, _, choices in CHOICES:
            box = self.boxes[name]
            with QSignalBlocker(box):
                values = [value for value, _ in choices]
                box.setCurrentIndex(values.index(getattr(told, name)))
        one = found.halls if found is not None else None
        self.openings.show_text(
            _teeth(told.openings), _teeth(one.openings) if one is not None else "", "1 is the opening between teeth 1 and 2"
        )
        self.offsets.show_text(" ".join(f"{off:g}" for off in told.offsets), "0 0 0 degrees", "mechanical degrees, later clockwise above 0")
        self.codes.show_text(told.codes, "101 100 110 010 011 001", "turned by hand through one electrical turn")
        self.exact.setEnabled(one is not None and not told.openings)
        self.words.setText("<br>".join(self._lines(found)))

    def _lines(self, found: WindingStudy | None) -> list[str]:
        if found is None:
            return []
        if found.halls is None or found.layout is None:
            return ["No openings are exactly 120 electrical degrees apart on this stator."]
        one, slots = found.halls, found.base.iron.slots
        seats = [(int(place) % slots + 1, (int(place) + 1) % slots + 1) for place in one.places]
        lines = [", ".join(f"H{k + 1} between teeth {a} and {b}" for k, (a, b) in enumerate(seats))]
        others = [f"{_teeth(exact)} at {deg}°" for deg, exact in zip((120, 60), one.exact, strict=True) if exact is not None]
        right = ", ".join(f"{angle:.4g}°" for angle in one.spacings_deg)
        lines.append(f"exact after teeth {'; '.join(others)}; mechanical angles that are right: {right}")
        order = " ".join(code for code, _ in one.ring)
        lines.append(f"codes in order: <b>{order}</b>; one degree of the rotor counts {found.base.iron.pairs}")
        if one.worst_deg > 0.5:
            lines.append(f"{one.worst_deg:.1f} electrical degrees off, 5 accepted")
        if found.told.halls.learns != "yes":
            fixed, joined = ", ".join(str(k + 1) for k in one.fixed[:6]), found.coils.connection.value
            lines.append(f"a controller that does not learn wants H1 after tooth {fixed} ({joined}); this is {one.aligned_deg:.0f}° off")
        if one.verdict is not None:
            lines.append(f"<b>{one.verdict.says}</b>")
        if one.smeared_w > 0.0:
            watts = self.session.say(one.smeared_w, "power")
            lines.append(f"ground seats smear laminations together: about {watts} at the top speed, within a factor of three")
            lines.append("cure: etch or lift the burr away with a fine stone, then varnish")
        lines.append("Supply decoupled at the sensors, pull-ups of 1 to 10 kΩ, wires twisted away from the phase leads")
        lines.append("1 to 3 mm from the magnets' edge. Of 36 ways to join three leads and three sensor wires 6 run right,")
        lines.append("3 forwards and 3 backwards; the rest run rough, hot or not at all: try with a limit of a few amps.")
        return lines

    def _picked(self, name: str, index: int) -> None:
        self.session.try_apply(halls(self.session.design, **{name: self.boxes[name].itemData(index)}))

    def _openings(self, text: str) -> Edit:
        words = text.replace("-", " ").replace(",", " ").replace(";", " ").split()
        if words and len(words) != 3:
            raise InputError("openings", units.quoted(text), "three teeth, such as 1-5-9")
        slots = self.found.base.iron.slots if self.found is not None else 120
        found = tuple(units.whole(word, "count", "openings") for word in words)
        if any(not 1 <= one <= slots for one in found):
            raise InputError("openings", units.quoted(text), f"1 to {slots} each")
        return halls(self.session.design, openings=tuple(one - 1 for one in found))

    def _offsets(self, text: str) -> Edit:
        words = text.replace(";", " ").replace("°", " ").split()
        if words and len(words) != 3:
            raise InputError("offsets", units.quoted(text), "three figures in degrees, such as 0 1.5 -1")
        return halls(self.session.design, offsets=tuple(units.parse(word, "number", field="offsets") for word in words))

    def _codes(self, text: str) -> Edit:
        return halls(self.session.design, codes=" ".join(parse_codes(text)) if text else "")

    def take_exact(self) -> None:
        """The exact openings as chosen ones."""
        if self.found is not None and self.found.halls is not None:
            self.apply(halls(self.session.design, openings=self.found.halls.openings, offsets=()))
